package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/run"
)

// Seconds of a practised hand on glass: one touch with finding its place, one key, and taking in a new view. Source:
// the keystroke-level model of Card, Moran and Newell (1980), its mean figures.
const (
	secondsATouch = 1.1 + 0.2
	secondsAKey   = 0.28
	secondsAView  = 1.35
)

// One flange, once: from the sign-in to the first pull in a minute, counted in what a hand does. The size is the site's
// own, which stands before the typical one of the same name, and the record says that nothing was measured.
func TestOneOffFlangeInAMinute(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	e := open(t, s.URL+"/library?shelf=flanges", 1280, 800)
	e.signIn("J. Hartwell", "2758")
	e.find("any", "typical by EN 1092-1")
	e.press("button", "Enter the site")
	e.fill("^Code$", "DN 150 PN 16")
	for label, v := range map[string]string{"^Bolts$": "8", "^Thread$": "M20", "Holes": "23", "Bolt circle": "241",
		"Drawing, standard": "drawing TS2-F-150"} {
		e.fill(label, v)
	}
	e.press("button", "Keep this version")
	e.find("any", "own, version 1")
	e.shot("library-flanges")

	p := open(t, s.URL, 1024, 768)
	views := 0
	view := func(what, text string) {
		p.find(what, text)
		views++
	}
	view("heading", "Who is at work")
	p.signIn("M. Tolley", "4071")
	view("link", "^Joints$")
	p.press("link", "^Joints$")
	p.press("link", "^New joint$")
	view("field", "Its tag")
	p.fill("Its tag", "X-1")
	p.fill("Size, as DN", "dn150pn16")
	p.find("any", "8 × M20 in holes of 23 mm on 241 mm. The site’s own, drawing TS2-F-150")
	p.fill("Torque, N·m", "210")
	p.press("field", "^Lubricant")
	p.press("option", "^L-07")
	p.fill("Document it comes from", "MM-7")
	p.fill("Revision", "A")
	p.press("button", "^as a one-off$")
	p.find("any", "its record says so")
	p.find("any", "210 N·m.* on ")
	p.shot("one-off")
	p.press("button", "Make X-1 and read its plan")
	view("button", "Read it, then Ready")
	p.press("button", "Read it, then Ready")
	view("heading", "One-off, looked over and not measured")
	p.shot("one-off-ready")
	p.press("button", "^Yes, it is so")
	view("heading", "Lubricant found")
	p.press("button", "it is$")
	view("heading", "Tools in hand")
	p.shot("one-off-tools")
	p.press("button", "^Take W-")
	view("heading", "Function check")
	p.press("button", "^Yes, it is so")
	view("button", "^Set to")
	p.press("button", "^Set to")
	p.press("button", "clicked")
	p.shot("one-off-pull")
	p.find("any", "all kept")
	seconds := float64(p.touches)*secondsATouch + float64(p.keys)*secondsAKey + float64(views)*secondsAView
	t.Logf("%d touches, %d keys, %d views: %.0f s", p.touches, p.keys, views, seconds)
	require.LessOrEqual(t, p.touches, 28)
	require.LessOrEqual(t, seconds, 60.0)
	d, err := s.app.Joint(t.Context(), "X-1")
	require.NoError(t, err)
	p.eventually("the pull is kept", func() bool {
		v, err := s.app.Run(t.Context(), d.RunID)
		require.NoError(t, err)
		require.InDelta(t, 241, v.Plan.First().Layout.DiameterMM, 0)
		pulled := 0
		for _, f := range v.State.Fasteners {
			if f.Marks[0] == run.MarkDone {
				pulled++
			}
		}
		return pulled == 1
	})
}
