package run_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

func familyScript(t *testing.T, family string, variant map[string]string) *coretest.Script {
	t.Helper()
	f, err := procedure.ByCode(family)
	require.NoError(t, err)
	p, err := plan.Make(sampleOf(f, variant))
	require.NoError(t, err)
	return coretest.NewScript(p)
}

// Provisional fasteners come first: four at right angles to their full torque, then all the rest, each once.
func TestFourAtRightAnglesComeFirst(t *testing.T) {
	s := familyScript(t, "fluid_coupling", nil)
	var four, rest []int
	for _, ps := range s.Plan.Passes {
		switch ps.Step {
		case "rim_four":
			four = ps.Order
			require.Empty(t, rest, "the rest comes after")
		case "rim_rest":
			rest = ps.Order
		}
	}
	n := s.Plan.GroupAt(four[0]).Layout.Count
	require.Len(t, four, 4)
	require.Len(t, rest, n-4)
	g := s.Plan.GroupAt(four[0])
	var at []float64
	for _, p := range four {
		require.NotContains(t, rest, p)
		at = append(at, g.Places[p-1-g.Offset].NormalDeg)
	}
	slices.Sort(at)
	for i := 1; i < 4; i++ {
		require.InDelta(t, 90, at[i]-at[i-1], 360/float64(n), "about a quarter of the circle apart")
	}
}

// Groups come in the order of the steps: nobody goes on to the next group while one of the first is open.
func TestNextGroupWaitsForTheOneBefore(t *testing.T) {
	s := familyScript(t, "stair_platform", nil)
	s.Ready()
	for range 2000 {
		st := s.State()
		if st.Pass == 0 {
			break
		}
		if st.Next != nil {
			own := s.Plan.GroupOf(st.Passes[st.Pass-1].Group)
			require.Same(t, own, s.Plan.GroupAt(st.Next.Fastener), "pass %d", st.Pass)
		}
		s.Pull()
	}
	require.Zero(t, s.State().Pass)
}

// A fastener of another group is no fastener of this pass.
func TestFastenerOfAnotherGroupIsNotOfThisPass(t *testing.T) {
	s := at(t, "stair_platform", nil, plan.StagePass)
	s.Confirm()
	st := s.State()
	here := st.Passes[st.Pass-1]
	other := 0
	for _, f := range st.Fasteners {
		if f.Group != here.Group {
			other = f.Position
		}
	}
	require.NotZero(t, other)
	before := st.Passes[st.Pass-1].Done
	s.Add(run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: other, Outcome: st.Done, Setting: st.Setting})
	after := s.State()
	require.Equal(t, before, after.Passes[after.Pass-1].Done, "it does not count here")
	require.NotEmpty(t, after.Findings)
}

// Each group has its own tools; what is set for one is not taken over by another.
func TestSettingBelongsToTheGroupInHand(t *testing.T) {
	s := familyScript(t, "stair_platform", nil)
	s.Ready()
	asked := map[string]int{}
	last := ""
	for range 2000 {
		s.Gates()
		st := s.State()
		if st.Pass == 0 {
			break
		}
		ps := st.Passes[st.Pass-1]
		if ps.Kind.Sets() && ps.Group != last {
			require.NotEmpty(t, st.Confirm, "pass %d: another group, the setting is asked for", ps.Number)
			asked[ps.Group]++
		}
		last = ps.Group
		s.Pull()
	}
	require.GreaterOrEqual(t, len(asked), 2)
}

// What dries must be renewed when it has stood too long before the work is done.
func TestLubricantThatDriesIsAskedForAgain(t *testing.T) {
	s := familyScript(t, "push_on_joint", nil)
	i := slices.IndexFunc(s.Plan.Checks, func(c procedure.Check) bool { return c.LifeMinutes > 0 })
	require.GreaterOrEqual(t, i, 0)
	c := s.Plan.Checks[i]
	s.Ready()
	status := func(now time.Time) run.CheckState {
		st := run.Fold(s.Plan, s.Events, now)
		return st.Checks[slices.IndexFunc(st.Checks, func(x run.CheckState) bool { return x.Code == c.Code })]
	}
	done := status(s.At)
	require.Equal(t, run.CheckCleared, done.Status)
	life := time.Duration(c.LifeMinutes * float64(time.Minute))
	require.Equal(t, run.CheckCleared, status(done.At.Add(life)).Status, "to the minute it lasts")
	late := status(done.At.Add(life + time.Minute))
	require.Equal(t, run.CheckOpen, late.Status)
	require.Contains(t, late.Waiting, "renew it")
}

// A check that fails late opens again what it was built on, and the work goes back there.
func TestFailedCheckOpensAgainWhatItNames(t *testing.T) {
	found := 0
	for _, f := range procedure.Builtin() {
		p, err := plan.Make(sampleOf(f, coretest.Variants(f)[0]))
		require.NoError(t, err)
		for _, c := range p.Checks {
			if len(c.Reopens) == 0 || c.Station != procedure.Prove {
				continue
			}
			bad := wrong(p, c)
			if bad.Kind == "" {
				continue
			}
			found++
			s := coretest.NewScript(p)
			s.Ready()
			s.Tighten()
			require.Zero(t, s.State().Pass, f.Code)
			s.Add(bad)
			st := s.State()
			open := st.Pass > 0 || len(st.Gates) > 0
			for _, code := range c.Reopens {
				for _, x := range st.Checks {
					open = open || x.Code == code && x.Status != run.CheckCleared
				}
			}
			require.True(t, open, "%s %s fails and nothing is opened again", f.Code, c.Code)
			require.NotEqual(t, run.Accepted, st.Verdict.Code)
		}
	}
	require.Positive(t, found)
}

// A record taken back is as if it had not been, in every kind of pass.
func TestTakenBackInEveryKindOfPass(t *testing.T) {
	for _, c := range []struct {
		family  string
		variant map[string]string
		kind    plan.PassKind
	}{{"tube_fitting", map[string]string{"make": "first"}, plan.TurnPass}, {"ball_valve_multi", nil, plan.EffortPass},
		{"ball_valve_multi", nil, plan.ShapePass}, {"hose_clamp", nil, plan.TurnsPass},
		{"gearbox", nil, plan.UndoPass}, {"stair_platform", nil, plan.HandPass},
		{"stair_platform", nil, plan.VerifyPass}} {
		s := at(t, c.family, c.variant, c.kind)
		s.Confirm()
		before := s.State()
		s.Pull()
		last := s.Events[len(s.Events)-1]
		require.Equal(t, run.Pulled, last.Kind)
		s.Add(run.Event{Kind: run.TakenBack, Ref: last.ID, Reason: "it was another one"})
		after := s.State()
		require.Equal(t, before.Pass, after.Pass, "%s %s", c.family, c.kind)
		require.Equal(t, before.Next.Fastener, after.Next.Fastener, "%s %s", c.family, c.kind)
		require.Equal(t, before.Passes[before.Pass-1].Done, after.Passes[after.Pass-1].Done, "%s %s", c.family, c.kind)
	}
}
