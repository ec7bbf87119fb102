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

// A test of the demo site goes on in its hold, is looked at joint by joint, let down and signed by two; its result stands
// behind the record of the joint that has one.
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
