package e2e

import (
	"context"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/tool"
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
	p.press("summary", "To hand: 0 of")
	p.press("button", "All of it is here")
	p.press("button", "^Yes, it is so")
	p.eventually("what was brought is kept", func() bool {
		return strings.Contains(h.state().Check("start_card").Text, "things to hand")
	})
}

// codes are those of everything that was not as planned.
func (h *hand) codes() (out []string) {
	h.t.Helper()
	for _, d := range h.state().Deviations {
		out = append(out, string(d.Code))
	}
	return out
}

// undone leads what is left of a pass without a page, all of it right.
func (h *hand) undone(pass string) {
	h.t.Helper()
	for range 300 {
		st := h.state()
		if st.Pass == 0 || len(st.Gates) > 0 || st.Passes[st.Pass-1].Name != pass {
			return
		}
		h.step((*coretest.Script).Pull)
	}
	h.t.Fatal(pass + " does not end")
}

// closeApart signs and seals a joint that was taken apart.
func (p *page) closeApart(by string) {
	p.t.Helper()
	p.press("button", "Sign as the one who took it apart")
	p.press("radio", by)
	p.fill("PIN of", pins[by])
	p.press("button", "^Sign$")
	p.press("button", "^Seal the record")
	p.find("heading", "Sealed as ")
}

// A bush that was fitted is pushed off on a phone, by touch: screws eased and out, then in the push-off holes, by hand
// first and by turns after.
func TestBushIsPushedOffOnAPhone(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	h := s.hand(t, "M. Tolley", "phone")
	p := open(t, s.URL+"/joints/TP-07", 390, 844)
	p.signIn("M. Tolley", "4071")
	p.tap("button", "More about this joint")
	p.tap("menuitem", "Take it apart")
	p.tap("button", "A part is changed")
	p.find("heading", "Start card")
	h.goOn("TP-07")
	require.Equal(t, []string{"screws", "push_off"}, []string{h.plan.Groups[0].Code, h.plan.Groups[1].Code})
	h.clear(procedure.Ready, "")
	p.MustReload()
	p.find("button", "let go( Space)?$")
	p.shot("apart-phone")
	require.Empty(t, p.axe())
	for range h.plan.Groups[0].Layout.Count {
		was := h.state().Left
		p.tap("button", "let go( Space)?$")
		p.eventually("it is kept", func() bool { return h.state().Left != was || h.state().Pass > 1 })
	}
	h.undone("ease, until loose")
	h.undone("screws out")
	require.Equal(t, []string{"push_holes"}, h.state().Gates, "into the right holes, before one is turned")
	p.MustReload()
	p.find("heading", "Which holes")
	p.tap("button", "I looked: it is so")
	p.eventually("the push-off screws come next", func() bool { return len(h.state().Gates) == 0 })
	h.undone("push-off screws by finger")
	p.MustReload()
	p.find("any", "the bush leaves the hub")
	p.shot("apart-push-phone")
	h.undone("push off")
	h.clear(procedure.Prove, "")
	h.clear(procedure.HandOver, "")
	p.MustReload()
	p.closeApart("M. Tolley")
	d, err := s.app.Joint(context.Background(), "TP-07")
	require.NoError(t, err)
	require.Equal(t, "ready", d.Joint.Glyph)
}

// Bolts that went on with a hydraulic wrench are undone with it: square and arm changed over and signed, the pressure for
// loosening shown beside the one they went on at, and what each let go at read off the gauge; then they go on again.
func TestBoltsAreUndoneAndDoneUpWithTheHydraulicWrench(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	h := s.hand(t, "M. Tolley", "tablet")
	planned, err := s.app.PreviewPlan(context.Background(), "HB-16", plan.Choices{})
	require.NoError(t, err)
	at := slices.IndexFunc(planned.First().Offers, func(o tool.Offer) bool { return strings.Contains(o.Tags, "H-2") && o.Usable })
	require.GreaterOrEqual(t, at, 0)
	_, err = s.app.SavePlan(context.Background(), s.hand(t, "J. Hartwell", "desk").who, "HB-16",
		plan.Pick(plan.GroupChoices{Wrench: planned.First().Offers[at].Tags}), "")
	require.NoError(t, err)
	p := open(t, s.URL+"/joints/HB-16", 1024, 768)
	p.signIn("M. Tolley", "4071")
	p.press("button", "More about this joint")
	p.press("menuitem", "Take it apart")
	p.press("button", "To be looked at inside")
	p.find("heading", "Start card")
	h.goOn("HB-16")
	l := h.plan.First().Loosening
	require.NotNil(t, l)
	require.Greater(t, l.Pressure, l.WentOn)
	h.clear(procedure.Ready, "undo_side")
	p.MustReload()
	p.find("heading", "Square and arm for loosening")
	p.press("button", "I looked: it is so")
	p.press("button", "^Sign the hold")
	name, pin := p.second()
	p.press("radio", name)
	p.fill("PIN of", pin)
	p.press("button", "^Sign$")
	h.clear(procedure.Ready, "")
	p.MustReload()
	p.find("any", quantity.Text(l.Pressure))
	p.find("any", "bar at most")
	p.find("any", "Went on at "+quantity.Text(l.WentOn))
	p.shot("apart-hydraulic-tablet")
	p.press("button", "let go")
	p.eventually("the missing reading is told", func() bool { return slices.Contains(h.codes(), "no_break_out") })
	p.fill("Let go at, bar", quantity.Text(l.Pressure+20))
	p.press("button", "let go")
	p.eventually("one that let go hard is told", func() bool { return slices.Contains(h.codes(), "break_out_high") })
	h.step((*coretest.Script).Tighten)
	h.clear(procedure.Prove, "")
	h.clear(procedure.HandOver, "")
	p.MustReload()
	p.find("any", "let go hard")
	p.closeApart("M. Tolley")
	p.press("button", "Fit it again")
	p.press("button", "Fitted again")
	p.find("any", "To be there anew since")
	h.goOn("HB-16")
	require.False(t, h.plan.Apart())
	h.clear(procedure.Ready, "")
	h.clear(procedure.Tighten, "turned_round")
	h.pullTo("by hand", "turned_round")
	h.clear(procedure.Tighten, "")
	h.step((*coretest.Script).Tighten)
	h.clear(procedure.Prove, "")
	require.Equal(t, run.Accepted, h.state().Verdict.Code)
}

// A closure is bled under two people's eyes before the first door bolt moves, eased, cracked open, and taken out.
func TestClosureComesApartFromBleedToBolts(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	_, err := s.app.CopyJoint(context.Background(), s.hand(t, "J. Hartwell", "desk").who, "PC-02", "PC-04")
	require.NoError(t, err)
	h := s.hand(t, "M. Tolley", "tablet")
	p := open(t, s.URL+"/joints/PC-04", 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.press("button", "More about this joint")
	p.press("menuitem", "Take it apart")
	p.press("button", "A part is changed")
	p.find("heading", "Start card")
	h.goOn("PC-04")
	h.clear(procedure.Ready, "bled")
	p.MustReload()
	p.find("heading", "Bled")
	require.False(t, p.has("button", "let go( Space)?$"), "no bolt before it is bled")
	p.press("button", "^No")
	p.find("any", "What to do")
	p.press("button", "^Yes, it is so")
	p.press("button", "^Sign the hold")
	name, pin := p.second()
	p.press("radio", name)
	p.fill("PIN of", pin)
	p.press("button", "^Sign$")
	h.clear(procedure.Ready, "")
	p.MustReload()
	p.find("button", "let go( Space)?$")
	p.find("any", "if anything hisses or drips, stop")
	for _, pass := range h.plan.Passes {
		if pass.Step == "ease" {
			h.undone(pass.Name)
		}
	}
	require.Equal(t, []string{"cracked"}, h.state().Gates)
	p.MustReload()
	p.find("heading", "Door cracked open")
	p.press("button", "^Yes, it is so")
	p.eventually("the door bolts come out", func() bool { return len(h.state().Gates) == 0 })
	h.step((*coretest.Script).Tighten)
	h.clear(procedure.Prove, "")
	h.clear(procedure.HandOver, "")
	p.MustReload()
	p.closeApart("M. Tolley")
}
