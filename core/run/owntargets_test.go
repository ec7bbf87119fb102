package run_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/tool"
)

var eightOwn = []float64{100, 110, 96, 115, 104, 108, 98, 102}

// inLastStage is the made-up joint with a target of its own for each bolt, before the first of them.
func inLastStage(t *testing.T, change func(*plan.Input)) *coretest.Script {
	s := with(t, func(in *plan.Input) {
		in.Choices = plan.Pick(plan.GroupChoices{OwnTargets: eightOwn})
		change(in)
	})
	for len(s.State().Passes[s.State().Pass-1].Own) == 0 {
		s.Pull()
	}
	return s
}

// Each bolt is set for by itself: another one's setting counts for nothing, and the setting is confirmed wherever it
// changes.
func TestOwnTargetsAreSetOneByOne(t *testing.T) {
	s := inLastStage(t, func(*plan.Input) {})
	for range eightOwn {
		st := s.State()
		own, ok := st.Passes[st.Pass-1].Own.Of(st.Next.Fastener)
		require.True(t, ok)
		require.Equal(t, own.Setting, st.Setting)
		require.InDelta(t, float64(own.TorqueNm), float64(st.Passes[st.Pass-1].TorqueNm), 1e-9, "what is shown at the nut")
		require.NotEmpty(t, st.Confirm, st.Next.Name)
		s.Add(run.Event{Kind: run.SettingConfirmed, Setting: 300})
		if own.Setting != 300 {
			require.NotEmpty(t, s.State().Confirm, "%g was confirmed, %g is asked", 300., own.Setting)
			require.Contains(t, codes(s.State().Findings), string(run.WrongSetting))
		}
		s.Pull()
		require.Equal(t, run.MarkDone, s.State().Fasteners[own.Fastener-1].Marks[st.Pass-1])
	}
	st := s.State()
	require.Equal(t, 300., st.Setting, "the check round is at the document's target")
	require.Contains(t, st.Confirm, "begins")
	require.InDelta(t, 300, float64(st.Passes[st.Pass-2].TorqueNm), 1e-9, "the pass that is done shows the document's target")
	s.Tighten()
	s.Checks(procedure.Prove)
	s.Checks(procedure.HandOver)
	v := s.State().Verdict
	found := false
	for _, r := range v.Reasons {
		found = found || r.Text == "Pass 4, 100 %: all 8 bolts, each at a target of its own, 96 to 115 % of the document's."
	}
	require.True(t, found, "%+v", v.Reasons)
}

func TestOwnTargetIsNotTheNeighbours(t *testing.T) {
	s := inLastStage(t, func(*plan.Input) {})
	s.Confirm()
	st := s.State()
	s.Add(run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener, Outcome: run.Clicked, Setting: st.Setting + 20})
	require.Equal(t, run.MarkOver, s.State().Fasteners[st.Next.Fastener-1].Marks[st.Pass-1])
	s = inLastStage(t, func(*plan.Input) {})
	s.Pull() // bolt 1, at 300
	st = s.State()
	require.Contains(t, st.Confirm, "has a target of its own: set the wrench")
	s.Add(run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener, Outcome: run.Clicked, Setting: st.Setting})
	require.Contains(t, codes(s.State().Findings), string(run.NotConfirmed))
}

// What an electronic wrench reads is held against the bolt's own target, not against the document's band.
func TestOwnTargetIsWhatAReadingIsHeldAgainst(t *testing.T) {
	electronic := func(in *plan.Input) {
		e := coretest.Wrench()
		e.Tag, e.Kind, e.Graduation, e.PrintedMin, e.MainStep = "E-03", tool.Electronic, 1, 0, 0
		in.Tools = []tool.Tool{e}
	}
	for off, mark := range map[float64]run.Mark{0: run.MarkDone, -30: run.MarkShort, 30: run.MarkOver} {
		s := inLastStage(t, electronic)
		for {
			own, _ := s.State().Passes[s.State().Pass-1].Own.Of(s.State().Next.Fastener)
			if own.Percent == 115 {
				break
			}
			s.Pull()
		}
		s.Confirm()
		st := s.State()
		require.Equal(t, 345., st.Setting)
		v := st.Setting + off
		s.Add(run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener, Outcome: run.Reached, Setting: st.Setting,
			Reading: &run.Reading{Value: v, Unit: quantity.NewtonMetre, Text: quantity.Text(v) + " N·m", SI: v}})
		require.Equal(t, mark, s.State().Fasteners[st.Next.Fastener-1].Marks[st.Pass-1], off)
	}
}
