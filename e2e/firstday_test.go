package e2e

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/require"
)

// day types a day into a field for one, figure by figure.
func (p *page) day(field string, day time.Time) {
	p.t.Helper()
	require.NoError(p.t, p.find("field", field).Focus())
	for _, c := range day.Format("01022006") {
		require.NoError(p.t, p.Keyboard.Type(input.Key(c)))
	}
}

// An empty database: the code that the server printed, the first administrator, a second person, a wrench, a joint, and
// its sealed record, all in the browser and in less than ten minutes of the program's time.
func TestFromAnEmptyDatabaseToASealedRecord(t *testing.T) {
	t.Parallel()
	s := newSite(t, false)
	code, err := s.app.FirstCode(context.Background())
	require.NoError(t, err)
	began := time.Now()
	p := open(t, s.URL, 1280, 800)
	p.find("heading", "A new installation")
	p.fill("Code that the server printed", strings.ToLower(code))
	p.fill("Your name", "H. Doyle")
	p.fill("Your PIN", "7304")
	p.fill("Name of the site", "Skarn Paper Mill")
	p.fill("Record numbers begin with", "skm")
	require.Empty(t, p.axe())
	p.shot("first-day-code")
	p.press("button", "^Begin$")
	p.find("heading", "Nothing waits here yet")
	require.False(t, p.has("any", "sea to land"), "nothing of another site")
	p.shot("first-day")

	p.press("link", "Let more people in")
	p.fill("Name, as it is to stand", "K. Moss")
	p.press("button", "^inspector$")
	p.press("button", "^technician$")
	p.press("button", "^Add$")
	p.find("any", "Pass these on")
	pin := strings.TrimSpace(p.text(".pin-shown"))
	require.Len(t, pin, 6)
	p.shot("people")
	require.Empty(t, p.axe())
	p.press("button", "I have passed them on")
	p.press("link", "Site and plant line")
	p.press("button", "Add an area")
	p.fill("Name of the area", "Steam house")
	p.press("button", "^boiler")
	p.press("button", "^Keep it$")
	p.find("any", "Kept. Today shows it")
	p.shot("site")

	p.press("link", "^Crib$")
	p.press("button", "^All tools$")
	p.press("button", "Enter a tool")
	for _, f := range [][2]string{{"^Tag$", "W-1"}, {"Rated from", "40"}, {"Rated to", "300"}, {"Lowest mark", "40"},
		{"Main line every", "20"}, {"One mark on the grip", "2"}, {"Accuracy", "4"}, {"^Maker", "Brae & Holm"},
		{"^Serial", "BH-1"}, {"Square towards the nut", "1/2 in"}, {"^Certificate", "C-1"}} {
		p.fill(f[0], f[1])
	}
	p.day("Calibrated on", time.Now().AddDate(0, -1, 0))
	p.day("Calibration ends", time.Now().AddDate(1, 0, 0))
	p.shot("first-tool")
	p.press("button", "^Keep the tool$")
	p.find("any", "W-1")

	p.visit("/joints/new")
	p.fill("Its tag", "ST-1")
	p.fill("Size, as DN", "DN 150 PN 16")
	p.find("any", "8 × M20 in holes of 22")
	p.fill("Torque, N·m", "210")
	p.press("field", "^Lubricant")
	p.press("option", "light oil")
	p.fill("Document it comes from", "SK-STEAM-7")
	p.fill("Revision", "A")
	p.find("any", "210 N·m.* on W-1")
	p.shot("one-flange")
	require.Empty(t, p.axe())
	p.press("button", "Make ST-1 and read its plan")
	p.find("button", "Read it, then Ready")
	p.press("button", "Read it, then Ready")
	p.find("heading", "Start card")

	// The second person chooses a PIN of their own, and hands back.
	p.press("button", "Change hands")
	p.press("radio", "K. Moss")
	p.fill("PIN of", pin)
	p.press("button", "^Go on$")
	p.fill("Your own PIN", pins["K. Moss"])
	p.press("button", "^Go on$")
	p.find("button", "K. Moss.*Change hands")
	p.press("button", "Change hands")
	p.press("radio", "H. Doyle")
	p.fill("PIN of", pins["H. Doyle"])
	p.press("button", "^Go on$")
	p.find("button", "H. Doyle.*Change hands")

	p.other = "K. Moss"
	p.ready(p.press)
	p.press("button", "All 8 by hand")
	for pass := range 4 {
		p.press("button", "^Set to")
		verb := "clicked"
		if pass == 3 {
			verb = "stayed"
		}
		for range 8 {
			p.press("button", verb)
		}
	}
	p.find("heading", "Gap after tightening")
	p.press("button", "4 stations")
	p.measure("1.64", "1.66", "1.65", "1.63")
	p.press("button", "Keep the readings")
	p.find("heading", "Nuts fully engaged")
	p.press("button", "^Yes, it is so")
	p.closing(p.press, "H. Doyle")
	require.Regexp(t, "Sealed as SKM-[0-9]{4}-00001", p.text("h2"))
	require.Less(t, time.Since(began), 10*time.Minute)
	t.Logf("from nothing to a sealed record in %s", time.Since(began).Round(time.Second))
	require.NoError(t, p.Navigate(s.URL))
	p.find("any", "The plant")
	require.False(t, p.has("any", "No record is sealed yet"), "it says so no more")
	p.shot("first-day-after")
}
