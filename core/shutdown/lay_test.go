package shutdown_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/schedule"
	"dynacor/core/shutdown"
	"dynacor/core/tool"
)

func made(t *testing.T, tag string, change func(*plan.Input)) *plan.Plan {
	t.Helper()
	in := coretest.Input()
	in.Joint.Tag = tag
	if change != nil {
		change(&in)
	}
	p, err := plan.Make(in)
	require.NoError(t, err)
	return p
}

func crew() []shutdown.Person {
	return []shutdown.Person{{ID: "Tolley", Role: authority.Technician, Open: []schedule.Window{{0, 600}}},
		{ID: "Quaye", Role: authority.Technician + ", " + authority.Lead, Open: []schedule.Window{{0, 600}}},
		{ID: "Abara", Role: authority.Inspector, Open: []schedule.Window{{0, 600}}},
		{ID: "Hartwell", Role: authority.Engineer, Open: []schedule.Window{{0, 600}}},
		{ID: "Ode", Role: authority.ToolKeeper, Open: []schedule.Window{{0, 600}}}}
}

func solved(t *testing.T, in *schedule.Instance) *schedule.Answer {
	t.Helper()
	a, err := schedule.Solve(t.Context(), in, schedule.Options{Seed: 1})
	require.NoError(t, err)
	broken, err := schedule.Check(in, a.Activities, a.Unplaced)
	require.NoError(t, err)
	require.Empty(t, broken)
	return a
}

// A joint is laid out in the order in which it is done: who tightens does not prove, nor sign their own hold.
func TestJointIsLaidOutInItsOrder(t *testing.T) {
	p := made(t, "SW-111", nil)
	in, left := shutdown.Lay(shutdown.Facts{Horizon: 600, Joints: []shutdown.Joint{{Plan: p}}, People: crew(), Break: 30})
	require.Empty(t, left)
	var kinds []shutdown.Kind
	sum := 0
	for _, a := range in.Jobs[0].Activities {
		tag, k := shutdown.Of(a.ID)
		require.Equal(t, "SW-111", tag)
		kinds = append(kinds, k)
		sum += a.Modes[0].Minutes
		require.Equal(t, map[bool]int{true: 30}[k == shutdown.Prepare], a.Pause, "%s rests", k)
	}
	require.Equal(t, []shutdown.Kind{shutdown.Prepare, shutdown.Hold, shutdown.Lubricate, shutdown.Tighten, shutdown.Prove}, kinds)
	require.InDelta(t, p.Minutes, float64(sum), 12, "the time of its plan, the hold, and what rounding adds")

	a := solved(t, in)
	require.Empty(t, a.Unplaced)
	by := map[shutdown.Kind]schedule.Planned{}
	for _, x := range a.Activities {
		_, k := shutdown.Of(x.Activity)
		by[k] = x
	}
	require.Equal(t, []string{"Abara"}, by[shutdown.Prove].People)
	require.Contains(t, by[shutdown.Hold].People, "Abara")
	require.Equal(t, []string{"W-40"}, by[shutdown.Tighten].Tools[:1])
	require.NotContains(t, by[shutdown.Tighten].People, "Ode", "a tool keeper tightens nothing")
	for _, x := range a.Activities {
		require.NotContains(t, x.People, "Hartwell", "an engineer may, and is not planned for it")
	}
	for i := 1; i < len(kinds); i++ {
		require.LessOrEqual(t, by[kinds[i-1]].End, by[kinds[i]].Start)
	}
}

// Two joints that need the same wrench are not tightened at once, and each wrench that will do is a way of its own.
func TestToolsAreInOnePlaceAtOnce(t *testing.T) {
	two := []shutdown.Joint{{Plan: made(t, "SW-111", nil)}, {Plan: made(t, "SW-112", nil)}}
	in, _ := shutdown.Lay(shutdown.Facts{Horizon: 600, Joints: two, People: crew()})
	a := solved(t, in)
	var at [][2]int
	for _, x := range a.Activities {
		if _, k := shutdown.Of(x.Activity); k == shutdown.Tighten {
			at = append(at, [2]int{x.Start, x.End})
		}
	}
	require.Len(t, at, 2)
	require.True(t, at[0][1] <= at[1][0] || at[1][1] <= at[0][0], "%v", at)

	spare := func(in *plan.Input) {
		w := coretest.Wrench()
		w.Tag, w.Serial = "W-41", "BH-4411"
		in.Tools = append(in.Tools, w)
	}
	in, _ = shutdown.Lay(shutdown.Facts{Horizon: 600, People: crew(), Joints: []shutdown.Joint{{Plan: made(t, "SW-111", spare)}}})
	for _, a := range in.Jobs[0].Activities {
		if _, k := shutdown.Of(a.ID); k == shutdown.Tighten {
			require.Len(t, a.Modes, 2)
		}
	}
	require.Len(t, in.Tools, 2)
}

// A lubricant is on no longer than it lives when the last pull is done.
func TestLubricantLives(t *testing.T) {
	p := made(t, "SW-111", nil)
	for i := range p.Checks {
		if p.Checks[i].Kind == procedure.Lubricant {
			p.Checks[i].LifeMinutes = 45
		}
	}
	in, _ := shutdown.Lay(shutdown.Facts{Horizon: 600, Joints: []shutdown.Joint{{Plan: p}}, People: crew()})
	var life *schedule.Link
	for i, l := range in.Links {
		if l.Max != nil {
			life = &in.Links[i]
		}
	}
	require.NotNil(t, life)
	require.Equal(t, 45, *life.Max)
	require.Equal(t, "SW-111 lubricate", life.From)
	require.Equal(t, "SW-111 tighten", life.To)
	require.Equal(t, []string{"end", "end"}, []string{life.FromAt, life.ToAt})
	solved(t, in)
}

// A joint whose plan lacks something is left, with what it lacks.
func TestIncompletePlanIsLeft(t *testing.T) {
	none := func(in *plan.Input) { in.Tools = []tool.Tool{} }
	in, left := shutdown.Lay(shutdown.Facts{Horizon: 600, People: crew(),
		Joints: []shutdown.Joint{{Plan: made(t, "SW-111", none)}, {Plan: made(t, "SW-112", nil)}}})
	require.Len(t, in.Jobs, 1)
	require.Len(t, left, 1)
	require.Equal(t, "SW-111", left[0].Tag)
	require.NotEmpty(t, left[0].Why)
}
