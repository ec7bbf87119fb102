package run_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

func TestCheckRoundsRepeatUntilNothingMoves(t *testing.T) {
	s := ready(t)
	for s.State().Pass < 5 {
		s.Pull()
	}
	s.Add(run.Event{Kind: run.SettingConfirmed, Setting: s.State().Setting})
	for range 8 {
		f := s.State().Next.Fastener
		moved := f == 3
		s.Add(pulled(s, f, func(e *run.Event) { e.Moved = &moved }))
	}
	st := s.State()
	require.Len(t, st.Passes, 6, "a nut turned: one more round")
	require.Equal(t, run.GoRoundAgain, st.Verdict.Code)
	require.Equal(t, 6, st.Pass)
	s.Tighten()
	require.Len(t, s.State().Passes, 6)
	require.Equal(t, procedure.Prove, s.State().Station)
}

// atTheRound leads a flange to its check round; its document lets a nut turn so far, degrees.
func atTheRound(t *testing.T, movedDeg float64) *coretest.Script {
	t.Helper()
	in := coretest.Input()
	in.Specification.Groups[0].MovedLimitDeg = movedDeg
	p, err := plan.Make(in)
	require.NoError(t, err)
	s := coretest.NewScript(p)
	s.Ready()
	for s.State().Pass < 5 {
		s.Pull()
	}
	return s
}

func TestMovementInsideItsLimitIsItsOwnState(t *testing.T) {
	s := atTheRound(t, 5)
	yes := true
	st := s.Judge(pulled(s, 1, func(e *run.Event) { e.Moved = &yes; e.TurnedDeg = 3 }))
	require.Equal(t, run.MarkMovedOK, st.Fasteners[0].Marks[4])
	st = s.Judge(pulled(s, 1, func(e *run.Event) { e.Moved = &yes; e.TurnedDeg = 11 }))
	require.Equal(t, run.MarkMoved, st.Fasteners[0].Marks[4])
}

// The limit that is shown is the one that is judged, at the limit and past it, for each group its own.
func TestMovementIsHeldAgainstTheLimitOfItsGroup(t *testing.T) {
	f, err := procedure.ByCode("fluid_coupling")
	require.NoError(t, err)
	f.Work = slices.Clone(f.Work)
	last := &f.Work[len(f.Work)-1]
	require.Equal(t, procedure.DoStill, last.Do)
	last.Groups = []string{"rim", "plugs"} // a site that goes round the plugs too
	in := sampleOf(f, nil)
	in.HouseRules.MovedLimitDeg, in.Specification.Groups[0].MovedLimitDeg = 2, 5
	for i := range in.Specification.Groups[1:] {
		in.Specification.Groups[i+1].MovedLimitDeg = 7
	}
	p, err := plan.Make(in)
	require.NoError(t, err)
	s := coretest.NewScript(p)
	s.Ready()
	judged := map[string]bool{}
	for range 2000 {
		st := s.State()
		if st.Pass == 0 {
			break
		}
		if ps := st.Passes[st.Pass-1]; ps.Kind == plan.CheckPass && st.Confirm == "" && len(st.Gates) == 0 {
			yes := true
			at := func(deg float64) run.Mark {
				e := run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener, Outcome: st.Done,
					Setting: st.Setting, Clear: true, Moved: &yes, TurnedDeg: deg}
				marks := s.Judge(e).Fasteners[e.Fastener-1].Marks
				return marks[len(marks)-1]
			}
			want := map[string]float64{"rim": 5, "plugs": 7}[ps.Group]
			require.InDelta(t, want, ps.MovedDeg, 0)
			require.Equal(t, run.MarkMovedOK, at(want))
			require.NotEqual(t, run.MarkMovedOK, at(want+0.1))
			judged[ps.Group] = true
		}
		s.Pull()
	}
	require.Equal(t, map[string]bool{"rim": true, "plugs": true}, judged)

	for i := range p.Passes {
		p.Passes[i].MovedLimitDeg = nil // a plan from before limits stood in it
	}
	for _, ps := range run.Fold(p, s.Events, s.At).Passes {
		if ps.Kind == plan.CheckPass {
			require.InDelta(t, 2, ps.MovedDeg, 0, "the house rule, as it was")
		}
	}
}

func TestEndlessRoundsEscalate(t *testing.T) {
	s := ready(t)
	for s.State().Pass < 5 {
		s.Pull()
	}
	yes, first := true, 0
	for n := range 6 * 8 {
		if st := s.State(); st.Confirm != "" {
			s.Add(run.Event{Kind: run.SettingConfirmed, Setting: st.Setting})
		}
		s.Add(pulled(s, s.State().Next.Fastener, func(e *run.Event) { e.Moved = &yes }))
		if first == 0 && slices.Contains(codes(s.State().Findings), "check_escalate") {
			first = n + 1
		}
	}
	require.Contains(t, codes(s.State().Findings), "check_escalate")
	require.Contains(t, s.State().Blocked[0], "Nuts still turn")
	var names []string
	for _, ps := range s.State().Passes[5:] {
		names = append(names, ps.Name)
	}
	require.Equal(t, []string{"round 2, 100 %", "round 3, 100 %", "round 4, 100 %", "round 5, 100 %", "round 6, 100 %",
		"round 7, 100 %"}[:len(names)], names)
	require.Greater(t, len(names), 2)
	require.Equal(t, 8*s.Plan.HouseRules.MaxCheckPasses, first, "as soon as the last of the rounds allowed has ended")
}

// Plans from before the limit of movement stood in their passes have the document's for a single group, else the house
// rule.
func TestMovementOfOlderPlans(t *testing.T) {
	for document, want := range map[float64]float64{5: 5, 0: 2} {
		in := coretest.Input()
		in.HouseRules.MovedLimitDeg, in.Specification.Groups[0].MovedLimitDeg = 2, document
		p, err := plan.Make(in)
		require.NoError(t, err)
		for i := range p.Passes {
			p.Passes[i].MovedLimitDeg = nil
		}
		s := coretest.NewScript(p)
		s.Ready()
		for s.State().Passes[s.State().Pass-1].Kind != plan.CheckPass {
			s.Pull()
		}
		require.InDelta(t, want, s.State().Passes[s.State().Pass-1].MovedDeg, 0)
	}
}

// A round with movement inside its limit ends the rounds; one with more tells how many nuts turned, and in which round.
func TestRoundsAreToldByTheirMovement(t *testing.T) {
	round := func(deg float64) *coretest.Script {
		s := atTheRound(t, 5)
		s.Confirm()
		for range 8 {
			n := s.State().Next.Fastener
			moved := n == 3 || n == 4
			s.Add(pulled(s, n, func(e *run.Event) {
				if e.Moved = &moved; moved {
					e.TurnedDeg = deg
				}
			}))
		}
		return s
	}
	reasons := func(s *coretest.Script) []string {
		var out []string
		for _, r := range s.State().Verdict.Reasons {
			out = append(out, strings.TrimSpace(r.Text+" "+r.Value))
		}
		return out
	}
	s := round(3)
	require.Zero(t, s.State().Pass)
	s.Checks(procedure.Prove)
	require.Equal(t, run.Accepted, s.State().Verdict.Code)
	require.True(
		t,
		slices.ContainsFunc(reasons(s), func(r string) bool { return strings.Contains(r, "6 of 8 stayed") }),
		"%v",
		reasons(s),
	)
	s = round(8)
	require.Equal(t, 6, s.State().Pass)
	require.Contains(t, reasons(s),
		"Check round 1: 2 nuts turned. One full round without movement clears it. 6 of 8 stayed")
}
