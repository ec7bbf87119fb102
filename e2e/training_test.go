package e2e

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// A training is written down with its evidence, and who has none is told at Ready before they take the tool.
func TestTrainingIsSaidAtReady(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("B. Ode", "6193")
	p.visit("/site?view=people")
	p.press("button", "^I. Quaye$")
	p.pick("Trained for", "click wrench")
	p.fill("Until, as 2027-03-31", time.Now().AddDate(0, 6, 0).Format(time.DateOnly))
	p.fill("^Evidence$", "course of 12 May, assessed by J. Hartwell")
	p.press("button", "^Write it down$")
	p.find("any", "course of 12 May")
	require.Empty(t, p.axe())
	p.shot("training")
	p.fill("Or another skill", "rope access")
	p.press("button", "^Write it down$")
	p.find("any", "^rope access")

	tolley := open(t, s.URL, 390, 844)
	tolley.signIn("M. Tolley", "4071")
	tolley.visit("/joints/SW-116")
	tolley.press("button", "^Read it, then Ready")
	tolley.find("any", "M. Tolley has no training written down for: click wrench")
	tolley.shot("not-trained-phone")
	require.Empty(t, tolley.axe())
}
