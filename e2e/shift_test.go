package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/require"
)

// The open joints of a package are planned over a day: on a board by mouse and keyboard, as a list on a phone.
func TestShiftIsPlannedAndShown(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("I. Quaye", pins["I. Quaye"])
	p.press("link", "^Shift$")
	p.pick("Work package", "WP-47 Cooler swap")
	p.find("any", "Done by ")
	p.find("any", "Not in this plan")
	p.shot("shift")
	p.press("button", "^SW-116 tighten, ")
	p.find("heading", ", no earlier$")
	p.find("any", "SW-116")
	require.Contains(t, p.MustInfo().URL, "SW-116")
	require.Empty(t, p.axe())
	p.MustEval(`() => document.querySelector('.board .bar').focus()`)
	p.key(input.Enter)
	p.eventually("the keyboard chooses too", func() bool {
		return p.MustEval(`() => document.activeElement.classList.contains('chosen')`).Bool()
	})
	p.press("button", "^List$")
	p.find("heading", "^M. Tolley$")
	require.Empty(t, p.axe())
	p.visit("/shift?package=WP-47&from=07%3A00&to=08%3A40&breakFrom=&breakTo=")
	p.find("any", "do not fit|None of the joints fits")
	p.find("any", "in the time there is, these cannot all hold")

	p.visit("/shift?package=WP-47")
	p.press("button", "^Use this plan$")
	p.find("any", "In force since .*, by I. Quaye")
	p.press("button", "^Board$")
	p.shot("shift-in-force")
	p.press("button", "^Plan again")
	p.find("any", "Nothing moves against the plan in force")
	p.press("button", "^Back to the one in force$")
	p.find("any", "In force since")
	require.NoError(t, p.Navigate(s.URL+"/"))
	p.find("any", "Yours by the plan")
	p.visit("/progress?package=WP-47")
	p.find("any", "joints accepted.*As planned")
	require.Empty(t, p.axe())
	p.shot("progress")
	require.NoError(t, p.Navigate(s.URL+"/"))
	p.find("any", "Yours by the plan")
	p.shot("today-by-plan")
	require.Empty(t, p.axe())

	small := open(t, s.URL, 390, 844)
	small.signIn("M. Tolley", "4071")
	small.visit("/shift?package=WP-47")
	small.find("heading", "^M. Tolley, you$")
	small.shot("shift-phone")
	tablet := open(t, s.URL, 1024, 768)
	tablet.signIn("M. Tolley", "4071")
	tablet.visit("/shift?package=WP-47&days=2")
	tablet.find("heading", ", no earlier$")
	tablet.shot("shift-tablet")
}
