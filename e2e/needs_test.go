package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// What a package takes is held against the stock: a shortage names the joints that it stops, and stock that is entered
// lifts it.
func TestNeedsAreHeldAgainstTheStock(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("I. Quaye", pins["I. Quaye"])
	p.visit("/joints?package=WP-41")
	p.press("link", "^What WP-41 takes$")
	p.find("any", "are short by the stock list")
	p.press("button", "^Enter stock of Nut M16$")
	p.fill("How many, or how much", "minus")
	require.NoError(t, p.find("field", "How many, or how much").SelectAllText())
	p.fill("How many, or how much", "40")
	p.fill("Where it lies", "rack 4")
	p.press("button", "^Keep it$")
	p.find("any", "40 in rack 4")
	p.eventually("the nuts are there", func() bool {
		return p.MustEval(`() => [...document.querySelectorAll('tr.short')].every(r => !r.innerText.includes('Nut M16'))`).Bool()
	})
	p.shot("needs")
	require.Empty(t, p.axe())
	p.press("button", "^Take out Nut M16$")
	p.eventually("they are short again", func() bool {
		return p.MustEval(`() => [...document.querySelectorAll('tr.short')].some(r => r.innerText.includes('Nut M16'))`).Bool()
	})
	small := open(t, s.URL, 390, 844)
	small.signIn("M. Tolley", "4071")
	small.visit("/needs?package=WP-41")
	small.find("any", "are short by the stock list")
	require.False(t, small.has("button", "^Enter stock of Nut M16$"), "a technician reads it")
	small.shot("needs-phone")
}
