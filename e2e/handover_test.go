package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// A shift is handed over: the program writes what happened, a person adds what only they know, and who goes on looks at
// each open run and signs, on a phone.
func TestShiftIsHandedOverAndTaken(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.visit("/handover")
	p.find("any", "No shift has handed over yet")
	p.press("button", "^Write the note of this shift$")
	p.find("any", "bolts left in this pass, next is bolt")
	p.fill("What only you know", "The crane is back at nine.")
	require.Empty(t, p.axe())
	p.shot("handover-draft")
	p.press("button", "^Hand the shift over$")
	p.find("heading", "M. Tolley hands over since")

	next := open(t, s.URL, 390, 844)
	next.signIn("I. Quaye", pins["I. Quaye"])
	next.visit("/handover")
	next.find("any", "The crane is back at nine.")
	next.find("any", "Look at bolt, setting and condition at the joint first")
	next.shot("handover-phone")
	require.Empty(t, next.axe())
	runs := next.MustEval(`() => [...document.querySelectorAll('.open-runs li .m')].map(e => e.innerText)`).Arr()
	require.NotEmpty(t, runs)
	for i, r := range runs {
		if i == len(runs)-1 { // the last one is left out first
			next.press("button", "^I. Quaye")
			next.fill("PIN of", pins["I. Quaye"])
			next.press("button", "^I take it over$")
			next.find("any", "leaves out "+r.Str())
		}
		next.press("button", "^"+r.Str()+": it is so$")
	}
	next.fill("PIN of", pins["I. Quaye"])
	next.press("button", "^I take it over$")
	next.find("any", "taken over by I. Quaye")
}
