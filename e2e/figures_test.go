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
	h.ready("TB-204", plan.Pick(plan.GroupChoices{Wrench: "E-03+S4-36"}))
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
	p.eventually("it has reached the server", func() bool { return p.lastEntry("TB-204").Reading != nil })
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

// A bush that was fitted is to be pushed off: its specification is saved so with nothing in the way, and what fitting
// asks for is still there afterwards.
func TestBushIsPushedOffAndFittedAgain(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL+"/joints/TP-07", 1280, 800)
	p.signIn("J. Hartwell", "2758")
	save := func(way, why string) {
		t.Helper()
		p.press("button", "^New version$")
		p.find("heading", "New version of the specification, TP-07")
		p.press("button", "^"+way+"$")
		p.fill("What changed, and why", why)
		p.press("button", "^Keep")
		p.gone("heading", "New version of the specification, TP-07")
	}
	save("pushing off", "bearing to be changed")
	d, err := s.app.Joint(t.Context(), "TP-07")
	require.NoError(t, err)
	spec := d.Versions[0].Specification
	require.Equal(t, "push_off", spec.Variant["way"])
	require.InDelta(t, 0.2, spec.Figures["runout"], 0, "kept aside")
	require.Empty(t, d.PlanError)
	p.shot("push-off")
	save("fitting", "new bearing in")
	d, err = s.app.Joint(t.Context(), "TP-07")
	require.NoError(t, err)
	spec = d.Versions[0].Specification
	require.Equal(t, []any{"fit", "M10", 32.0}, []any{spec.Variant["way"], spec.Groups[0].Thread, spec.Groups[0].Target.Nominal})
}
