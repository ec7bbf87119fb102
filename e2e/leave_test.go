package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// A bolt that nobody can reach in the last round is left out by leave of an engineer, and the verdict says so.
func TestBoltOutOfReachInTheLastRound(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	h := s.hand(t, "M. Tolley", "tablet")
	h.ready("SW-112", plan.Choices{})
	for h.state().Passes[h.state().Pass-1].Kind != plan.CheckPass {
		h.step(func(sc *coretest.Script) { sc.Pull() })
	}
	h.step(func(sc *coretest.Script) {
		st := sc.State()
		sc.Add(run.Event{Kind: run.Skipped, Pass: st.Pass, Fastener: st.Next.Fastener, Reason: "behind the column"})
	})
	for range h.plan.Count() - 1 {
		h.step(func(sc *coretest.Script) { sc.Pull() })
	}
	p := open(t, s.URL+"/joints/SW-112", 1024, 768)
	p.signIn("M. Tolley", "4071")
	p.press("button", "end the last pass")
	p.find("heading", "End the last pass")
	require.False(t, p.has("radio", "R. Abara"), "an engineer only")
	p.fill("Why it may end", "cannot be reached with the cooler in place")
	p.press("radio", "J. Hartwell")
	p.fill("PIN of", "2758")
	p.shot("leave")
	p.press("button", "^Sign$")
	p.find("heading", "Gap after tightening")
	p.find("any", "no nut turned of those visited; 1 left out by leave of an engineer")
	p.find("any", "Pass 5, the last one, ended with open bolts")
	h.clear(procedure.Prove, "")
	v := h.state().Verdict
	require.Equal(t, run.Accepted, v.Code)
	require.Contains(t, v.Sentence, "but for those left out by leave of an engineer")
}
