package e2e

import (
	"context"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// goOn takes up the run that is at a joint now.
func (h *hand) goOn(tag string) {
	h.t.Helper()
	d, err := h.s.app.Joint(context.Background(), tag)
	require.NoError(h.t, err)
	v, err := h.s.app.Run(context.Background(), d.RunID)
	require.NoError(h.t, err)
	h.id, h.plan = v.ID, v.Plan
}

// A flange in the middle of its passes is given up, taken apart in rounds that the drawing counts down, and fitted
// again: a stud that will not move waits for leave, the gasket is never kept, and the next run says what must be new.
func TestFlangeIsTakenApartAndFittedAgain(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	h := s.hand(t, "M. Tolley", "tablet")
	h.begin("SW-112")
	h.clear(procedure.Ready, "")
	for range 12 {
		h.step((*coretest.Script).Pull)
	}
	p := open(t, s.URL+"/joints/SW-112", 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.press("button", "More about this joint")
	p.press("menuitem", "Take it apart")
	p.find("heading", "SW-112 is under way")
	p.fill("Why it is given up", "gasket crushed on one side")
	p.press("button", "Let them sign")
	p.press("radio", "R. Abara")
	p.fill("PIN of", pins["R. Abara"])
	p.press("button", "^Sign$")
	p.find("heading", "Take SW-112 apart")
	p.press("button", "It leaks")
	p.find("button", "Make safe")
	p.find("heading", "Start card")
	p.press("button", "Read")
	p.find("any", "hold about")
	p.find("any", "What becomes of the parts")
	require.Empty(t, p.axe())
	p.shot("apart-read")
	h.goOn("SW-112")
	require.True(t, h.plan.Apart())
	h.clear(procedure.Ready, "")
	p.MustReload()
	p.press("button", "Let go.*pass 1")
	p.find("any", "Went on at")
	p.find("any", "still tight")
	p.fill("Let go at", "1e9x")
	p.find("any", "is not known")
	p.fill("Let go at", "210")
	p.press("button", "let go")
	p.find("any", "let go at 210")
	p.shot("apart-ease")
	p.press("button", "Will not move")
	p.press("button", "Ask leave: heat")
	p.eventually("it is kept as stuck", func() bool { return slices.Contains(h.codes(), "stuck") })
	for range 6 {
		h.step((*coretest.Script).Pull)
	}
	stuck := h.state()
	require.Equal(t, 1, stuck.Passes[0].Short, "it waits at the end of its round")
	p.MustReload()
	p.find("any", "waits for leave")
	p.shot("apart-stuck")
	p.press("button", "Give leave by PIN")
	p.fill("What may be done", "warm the nut, no flame")
	p.press("radio", "J. Hartwell")
	p.fill("PIN of", pins["J. Hartwell"])
	p.press("button", "^Sign$")
	p.press("button", "^Heat")
	p.key(' ')
	p.find("any", "half a turn back")
	require.NotContains(t, h.codes(), "forced")
	h.pullTo("nuts off", "spread")
	p.MustReload()
	p.find("heading", "Seal broken")
	p.press("button", "^Yes, it is so")
	h.step((*coretest.Script).Tighten)
	p.MustReload()
	p.find("heading", "What came out")
	p.press("button", "The rest as the procedure says")
	p.find("any", "never goes in again")
	p.press("button", "Keep it so")
	p.shot("apart-sort")
	h.clear(procedure.Prove, "")
	h.clear(procedure.HandOver, "")
	p.MustReload()
	p.find("heading", "Taken apart")
	p.find("any", "To be there anew")
	p.press("button", "Sign as the one who took it apart")
	p.press("radio", "M. Tolley")
	p.fill("PIN of", pins["M. Tolley"])
	p.press("button", "^Sign$")
	p.press("button", "^Seal the record")
	p.find("heading", "Sealed as ")
	p.shot("apart-sealed")
	p.press("button", "Fit it again")
	p.press("button", "Fitted again")
	p.find("any", "To be there anew since it was taken apart")
	p.find("any", "Gasket \\(used once\\)")
	p.find("heading", "Start card")
	h.goOn("SW-112")
	require.False(t, h.plan.Apart())
	require.Equal(t, run.GlyphInHand, h.state().Glyph)
}

// codes are those of everything that was not as planned.
func (h *hand) codes() (out []string) {
	h.t.Helper()
	for _, d := range h.state().Deviations {
		out = append(out, string(d.Code))
	}
	return out
}
