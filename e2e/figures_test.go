package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/plan"
)

// What could be thousands or a decimal is asked, not guessed; what was typed is what is kept, with its own unit.
func TestFigureThatMeansTwoThingsIsAsked(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	h := s.hand(t, "I. Quaye", "tablet")
	h.ready("TB-204", plan.Choices{Wrench: "E-03+S4-36"})
	p := open(t, s.URL+"/joints/TB-204", 1280, 800)
	p.signIn("I. Quaye", "5826")
	p.find("any", "Key in 108")
	p.eventually("the rules are loaded", func() bool { return p.MustEval(`() => !!globalThis.dynacorCore`).Bool() })
	p.press("button", "Another number")
	p.fill("It stands at", "1,080")
	p.find("any", "Which is meant")
	p.press("button", "^1.080$")
	p.gone("any", "Which is meant")
	p.fill("It stands at", "108")
	p.press("button", "^Keep it$")
	first := h.state().Next.Name
	p.fill("read, N", "1,075")
	p.find("any", "Which is meant")
	require.True(t, p.find("button", " read$").MustProperty("disabled").Bool(), "an open question is no reading")
	p.fill("read, N", "80,5 ft-lb")
	p.press("button", " read$")
	p.find("any", first+" read 80,5 ft-lb")
	e := p.lastEntry("TB-204")
	require.Equal(t, "80,5 ft-lb", e.Reading.Text)
	require.Equal(t, "ft_lbf", string(e.Reading.Unit))
	require.InDelta(t, 109.14, e.Reading.SI, 0.01)
}

// The same in a form of the register: the field asks, and nothing is kept meanwhile.
func TestFigureOfASpecificationIsAsked(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL+"/joints/SW-112", 1280, 800)
	p.signIn("J. Hartwell", "2758")
	p.press("button", "New version")
	p.fill("^Torque$", "1,250")
	p.find("any", "Which is meant")
	p.press("button", "^1250$")
	p.gone("any", "Which is meant")
	p.fill("^Length", "3 1/2 in")
	require.Equal(t, "1250", p.MustEval(`() => [...document.querySelectorAll('input')].find(i => i.labels?.[0]?.textContent.startsWith('Torque')).value`).String())
}
