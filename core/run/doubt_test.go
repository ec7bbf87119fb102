package run_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
	"dynacor/core/tool"
)

func doubted(tag string) run.Event {
	return run.Event{Kind: run.ToolDoubted, Tool: tag, Reason: "fell from the scaffold", Person: coretest.Quaye}
}

func inDoubt(st *run.State) (open []int) {
	for _, d := range st.Deviations {
		if d.Code == run.InDoubt && d.Unsettled() {
			open = append(open, d.Fastener)
		}
	}
	return open
}

// A tool that is put aside in mid-work is used no further, and of each fastener that it touched somebody says what is
// to be done.
func TestToolPutAsideInMidWork(t *testing.T) {
	s := ready(t)
	for range 3 {
		s.Pull()
	}
	touched := []int{}
	for _, e := range s.Events {
		if e.Kind == run.Pulled && e.Pass == 2 {
			touched = append(touched, e.Fastener)
		}
	}
	tag := s.State().Wrench.Tag
	s.Add(doubted(tag))
	st := s.State()
	require.Contains(t, codes(st.Findings), "tool_doubted")
	require.Contains(t, st.Blocked[0], tag+" was put aside: fell from the scaffold")
	require.Equal(t, tag+" was put aside: fell from the scaffold.", st.Doubted)
	require.ElementsMatch(t, touched, inDoubt(st))
	require.Equal(t, run.GlyphStopped, st.Glyph)
	require.Contains(t, codes(s.Judge(run.Event{Kind: run.Pulled, Pass: 2, Fastener: st.Next.Fastener,
		Outcome: run.Clicked, Setting: st.Setting}).Findings), "wrench_doubted", "the next pull with it is out")

	other := coretest.Wrench()
	other.Tag = "W-99"
	s.Add(run.Event{Kind: run.WrenchTaken, Wrench: &other})
	require.Empty(t, s.State().Blocked, "another set-up is in hand")
	require.Empty(t, s.State().Doubted)
	s.Tighten()
	s.Checks(procedure.Prove)
	st = s.State()
	require.Equal(t, run.Stopped, st.Verdict.Code, "the joint is not accepted while it is in doubt")
	require.Len(t, inDoubt(st), 3)
	for _, d := range st.Deviations {
		if d.Code == run.InDoubt {
			s.Sign(run.SignDeviation, coretest.Abara, run.Event{Ref: d.ID, Reason: "checked on the meter, in order"})
		}
	}
	st = s.State()
	require.Empty(t, inDoubt(st))
	require.Equal(t, run.Accepted, st.Verdict.Code)
	require.True(t, slices.ContainsFunc(st.Verdict.Reasons, func(r run.Reason) bool {
		return r.Text == "Bolt 1 was tightened with "+tag+", which is in doubt: fell from the scaffold: accepted "+
			"(R. Abara, inspector: checked on the meter, in order)."
	}), "%v", st.Verdict.Reasons)
}

func TestFastenerInDoubtIsPutRightByDoingItAgain(t *testing.T) {
	s := ready(t)
	s.Pull()
	tag, at := s.State().Wrench.Tag, s.Events[len(s.Events)-1].Fastener
	s.Add(doubted(tag))
	other := coretest.Wrench()
	other.Tag = "W-99"
	s.Add(run.Event{Kind: run.WrenchTaken, Wrench: &other})
	s.Add(run.Event{Kind: run.Loosened, Pass: 2, Fastener: at, Reason: "in doubt"})
	require.Equal(t, []int{at}, inDoubt(s.State()), "let go, not yet brought up")
	for range s.Plan.Count() { // the pass comes back to it
		s.Pull()
	}
	require.Equal(t, []int{at}, inDoubt(s.State()), "up one stage, not yet at its torque")
	for s.State().Passes[s.State().Pass-1].Kind == plan.StagePass {
		s.Pull()
	}
	require.Empty(t, inDoubt(s.State()))
	s.Add(doubted(tag))
	require.Empty(t, inDoubt(s.State()), "it has not touched any since")
	require.Empty(t, s.State().Blocked)
	s.Add(doubted("W-99"))
	require.Contains(t, inDoubt(s.State()), at)
}

// A doubt after both signatures takes them back: the joint is not sealed over it.
func TestDoubtComesBeforeTheSeal(t *testing.T) {
	s := script(t)
	s.Finish()
	require.Empty(t, s.State().OpenItems)
	s.Add(doubted(s.Plan.First().InHand().Driver().Tag))
	st := s.State()
	require.Equal(t, run.Stopped, st.Verdict.Code)
	require.Len(t, inDoubt(st), s.Plan.Count())
	require.Empty(t, slices.DeleteFunc(st.Signatures, func(g run.Signature) bool { return g.Purpose == run.SignHold }))
	require.NotEmpty(t, st.OpenItems)
}

func TestDoubtOfAnotherToolChangesNothing(t *testing.T) {
	s := ready(t)
	s.Pull()
	before := s.State()
	s.Add(doubted("W-00"))
	st := s.State()
	require.Empty(t, st.Findings)
	require.Equal(t, before.Deviations, st.Deviations)
	require.Equal(t, before.Blocked, st.Blocked)
	for field, e := range map[string]run.Event{"tool": {Reason: "x"}, "reason": {Tool: "W-1"}} {
		e.ID, e.At, e.Kind = "1", coretest.Day, run.ToolDoubted
		require.ErrorContains(t, e.Validate(), field)
	}
}

// Every tool of a string counts: what stood between wrench and nut may be the one in doubt.
func TestDoubtOfAToolInBetween(t *testing.T) {
	s := ready(t)
	x := tool.SetUp{String: []tool.Tool{coretest.SmallWrench(), coretest.Multiplier()}}
	s.Add(run.Event{Kind: run.WrenchTaken, Wrench: &x.String[0], SetUp: &x})
	s.Pull()
	s.Add(doubted(x.String[1].Tag))
	require.Len(t, inDoubt(s.State()), 1, fmt.Sprint(s.State().Deviations))
}
