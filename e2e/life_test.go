package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/require"
)

// A joint that wept and was made again: its life on one ruler, what its history tells, and the two runs laid over each
// other, by mouse, keys and on a phone.
func TestLifeOfAJointIsShown(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("J. Hartwell", "2758")
	p.visit("/joints/TB-206")
	p.press("button", "More about this joint")
	p.press("menuitem", "Its life")
	p.find("heading", "What its own history tells")
	p.find("any", "Bolt 6 was the low one, or moved on, in runs 1 and 2")
	p.find("any", "Bolt 6 stood out both times")
	p.shot("life")
	require.Empty(t, p.axe())
	p.press("button", "In service, .*Wept")
	p.find("any", "Wept between bolts 5 and 6 at the first start")
	p.press("button", "Records, .*TS-")
	p.press("link", "Open TS-")
	p.find("heading", "Record TS-")
	p.press("link", "Its life")
	p.find("heading", "What its own history tells")

	p.press("button", "Runs, .*Run 1")
	p.find("any", "Press two runs on the ruler")
	p.key(input.ArrowRight)
	p.key(input.Space)
	p.eventually("the arrow led to the next run", func() bool {
		return p.MustEval(`() => document.querySelector('.life-ruler [aria-pressed=true]').title`).String() == "Run 2"
	})
	p.press("button", "Runs, .*Run 1")
	p.press("button", "Runs, .*Run 2")
	p.find("any", "Bolt 6 stood out both times")

	small := open(t, s.URL, 390, 844)
	small.signIn("M. Tolley", "4071")
	small.visit("/joints/TB-206/life")
	small.find("any", "Bolt 6 was the low one")
	small.find("any", "Everything, from now back")
	small.shot("life-phone")
	small.visit("/joints/SC-17/life")
	small.find("any", "One run. The next will be laid over it|Nothing speaks against it")
	small.visit("/joints/XX-1/life")
	small.find("any", "XX-1")
}
