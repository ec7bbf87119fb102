package e2e

import (
	"context"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/tool"
	"dynacor/internal/demo"
	"dynacor/internal/standin"
)

// A test of the demo site goes on in its hold, is looked at joint by joint, let down and signed by two; its result
// stands behind the record of the joint that has one.
func TestWaterIsHeldOverAReload(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.visit("/joints/tests")
	p.press("link", "^LT-07$")
	p.find("any", "Hold at 24 bar")
	p.find("any", "32 mbar of 0.2 bar lost so far")
	p.shot("test")
	p.fill("Gauge PG-11", "23 point 6")
	p.press("button", "Keep the reading")
	p.find("any", "Enter what stands at the gauge|is no number|not a number")
	p.fill("Gauge PG-11", "23.6")
	p.fill("Water", "11.7")
	p.press("button", "Keep the reading")
	p.find("any", "58 mbar of 0.2 bar lost so far")
	require.NoError(t, p.Navigate(s.URL+"/joints/tests/LT-07"))
	p.find("any", "58 mbar of 0.2 bar lost so far")
	p.press("button", "Show the working")
	p.find("any", "explained by temperature")
	p.press("button", "Take back the last")
	p.press("button", "^Typed wrong$")
	p.find("any", "32 mbar of 0.2 bar lost so far")
	tl := standin.New(standin.Config{Tag: "PG-11", Kind: tool.PressureGauge, Token: demo.Tokens["PG-11"], Seed: 5})
	until, cancel := context.WithCancel(context.Background())
	done := make(chan struct{})
	go func() { defer close(done); _ = tl.Run(until, s.URL) }()
	defer func() { cancel(); <-done }()
	require.Eventually(t, func() bool { return tl.State().Linked }, 5*time.Second, 20*time.Millisecond)
	tl.Measure(time.Now(), 23.9)
	tl.SetFaults(tl.State().Faults) // wakes the link
	p.find("any", "sent by the gauge")
	p.fill("Water", "11.9")
	p.press("button", "Keep the reading")
	p.gone("any", "sent by the gauge")
	p.press("button", "^Let down$")
	p.find("any", "no pressure was entered|Enter what the gauge shows")
	p.fill("Gauge PG-11", "0")
	p.press("button", "^Let down$")
	p.find("any", "Let down before the hold was over")
	p.press("button", "Sign as leader")
	p.press("radio", "M. Tolley")
	p.fill("PIN of", pins["M. Tolley"])
	p.press("button", "^Sign$")
	p.press("button", "Sign as witness")
	p.press("radio", "R. Abara")
	p.fill("PIN of", pins["R. Abara"])
	p.press("button", "^Sign$")
	p.find("heading", "Broken off")
	p.shot("test-closed")
	p.visit("/joints/SW-111/life")
	p.find("any", "Test LT-07|Tests")
}

// A test with air is laid out by an engineer, wants its zone, and its witness before there is pressure; on a phone.
func TestAirIsLaidOutAndWantsItsWitness(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 390, 844)
	p.signIn("J. Hartwell", "2758")
	p.visit("/joints/tests/new?from=LT-08")
	p.fill("Tag of the test", "LT-21")
	p.fill("Nobody nearer", "2")
	p.press("button", "^Lay it out$")
	p.find("any", "The energy stored asks for")
	p.fill("Nobody nearer", "14")
	p.press("button", "Take out step 7")
	p.press("button", "^Lay it out$")
	p.find("any", "no joint is looked at once it has had the test pressure")
	p.shot("test-steps-phone")
	p.press("button", "The usual ones")
	p.press("button", "^Lay it out$")
	p.find("any", "Before there is pressure")
	p.shot("test-air-phone")
	for i, word := range []string{"It is so", "It is so", "It is so", "It is closed", "It is closed", "It is so"} {
		p.find("any", fmt.Sprintf("Before there is pressure, %d of 7", i))
		p.press("button", "^"+word+"$")
	}
	p.press("button", "The witness signs")
	require.False(t, p.has("radio", "J. Hartwell"), "who leads it does not witness it")
	p.press("radio", "R. Abara")
	p.fill("PIN of", pins["R. Abara"])
	p.press("button", "^Sign$")
	p.find("any", "Raise it to 2.2 bar")
	p.fill("Gauge PG-4", "2.2")
	p.press("button", "Keep the reading")
	p.find("any", "Hold at 2.2 bar")
	p.press("button", "Barrier 2 was opened")
	p.shot("test-air-hold-phone")
}

// The gas of an accumulator and the strokes of a circuit are laid out in the form and led to their sheets, by touch on
// a tablet.
func TestGasAndStrokesAreLedToTheirSheets(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1024, 768)
	p.signIn("I. Quaye", "5826")
	layOut := func(kind, tag, title string, more map[string]string) {
		p.visit("/joints/tests/new?joint=AC-03")
		p.find("heading", "Lay out a test")
		p.tap("radio", kind)
		p.fill("Tag of the test", tag)
		p.fill("What is tested", title)
		p.fill("Document it follows", "TP-30 rev. A")
		for field, text := range more {
			p.fill(field, text)
		}
		p.tap("button", "^Lay it out$")
		p.find("any", "Before there is pressure, 0 of")
	}
	sign := func(verdict string) {
		for as, name := range map[string]string{"leader": "I. Quaye", "witness": "R. Abara"} {
			p.tap("button", "Sign as "+as)
			p.tap("radio", name)
			p.fill("PIN of", pins[name])
			p.tap("button", "^Sign$")
			p.gone("button", "Sign as "+as)
		}
		p.find("heading", verdict)
	}
	layOut("^Gas pre-charge", "LT-31", "Accumulator 3", map[string]string{"Service pre-charge": "9",
		"Or another, by its label": "PG-4"})
	for range 3 {
		p.tap("button", "^It is so$")
	}
	p.find("any", "Read pressure and temperature of the gas")
	p.fill("Gauge PG-4", "7.9")
	p.tap("button", "Keep the reading")
	p.find("any", "says nothing without its temperature")
	p.fill("Gas, °C", "10")
	p.tap("button", "Keep the reading")
	p.find("any", "Fill to 8.658 bar")
	p.shot("test-gas")
	p.fill("Gauge PG-4", "8.7")
	p.fill("Gas, °C", "10")
	p.tap("button", "Keep the reading")
	sign("^Filled$")

	layOut("^Purge cycles", "LT-32", "Gate cylinder", map[string]string{"Cycles each way": "2"})
	for range 2 {
		p.tap("button", "^It is so$")
	}
	for _, way := range []string{"out", "back", "out", "back"} {
		p.tap("button", "^Driven "+way+"$")
	}
	p.tap("button", "AC-03 is dry")
	p.shot("test-purge")
	sign("^Purged$")
}
