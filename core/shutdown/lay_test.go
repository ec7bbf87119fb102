package shutdown_test

import (
	"fmt"
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
	ways := tightening(t, in).Modes
	require.Len(t, ways, 3)
	require.Equal(t, []string{"W-40", "W-41", "W-40, at once with W-41"}, []string{ways[0].ID, ways[1].ID, ways[2].ID})
	require.Len(t, in.Tools, 2)
}

// tightening is that part of the first joint.
func tightening(t *testing.T, in *schedule.Instance) schedule.Activity {
	t.Helper()
	for _, a := range in.Jobs[0].Activities {
		if _, k := shutdown.Of(a.ID); k == shutdown.Tighten {
			return a
		}
	}
	require.Fail(t, "nothing is tightened")
	return schedule.Activity{}
}

// wrenches puts so many more of the wrench into the crib.
func wrenches(more int) func(*plan.Input) {
	return func(in *plan.Input) {
		for i := range more {
			w := coretest.Wrench()
			w.Tag, w.Serial = fmt.Sprintf("W-4%d", i+1), fmt.Sprintf("BH-441%d", i+1)
			in.Tools = append(in.Tools, w)
		}
	}
}

// Two wrenches on a joint are a way of their own, with a person at each and nearly half the time: the stages go in
// stops of two bolts, what is done once a pass stays. It is taken when it lets the joint be done in time.
func TestSeveralToolsAtOnceAreAWay(t *testing.T) {
	p := made(t, "SW-111", wrenches(1))
	in, left := shutdown.Lay(shutdown.Facts{Horizon: 600, Joints: []shutdown.Joint{{Plan: p}}, People: crew()})
	require.Empty(t, left)
	one, two := tightening(t, in).Modes[0], tightening(t, in).Modes[2]
	require.Equal(t, 2, *two.People[0].Count)
	require.Equal(t, 1, *one.People[0].Count)
	pulled := 0
	for _, d := range two.Tools {
		if d.Pulled {
			pulled++
		}
	}
	require.Equal(t, 2, pulled)
	alone, both := 0.0, 0.0
	for _, x := range p.Passes {
		if x.Kind == plan.StagePass {
			alone += float64(len(x.Order))*p.HouseRules.SecondsPerPull + p.HouseRules.SecondsPerPass
			both += float64(len(x.Order)/2)*p.HouseRules.SecondsPerPull + p.HouseRules.SecondsPerPass
		}
	}
	require.InDelta(t, (alone-both)/60, float64(one.Minutes-two.Minutes), 1)

	a := solved(t, in)
	for _, x := range a.Activities {
		if _, k := shutdown.Of(x.Activity); k == shutdown.Tighten {
			require.Equal(t, two.ID, x.Mode, "the joint is done sooner")
			require.ElementsMatch(t, []string{"Tolley", "Quaye"}, x.People)
			require.Equal(t, 2, shutdown.ModeOf(tightening(t, in).Modes, len(x.People), x.Tools))
		}
	}
	require.Equal(t, -1, shutdown.ModeOf(tightening(t, in).Modes, 3, []string{"W-40", "W-41"}))

	begun := shutdown.Facts{Horizon: 600, People: crew(), Joints: []shutdown.Joint{{Plan: p,
		Begun: &shutdown.Begun{At: shutdown.Lubricate, Minutes: 5}}}}
	in, _ = shutdown.Lay(begun)
	require.Len(t, tightening(t, in).Modes, 2, "a joint that is begun goes on as its plan says")
}

// A plan for two tools takes two set-ups, and cannot be done with one.
func TestPlanForTwoToolsTakesTwo(t *testing.T) {
	both := func(more int) func(*plan.Input) {
		return func(in *plan.Input) {
			wrenches(more)(in)
			in.Choices.Together = 2
		}
	}
	facts := shutdown.Facts{Horizon: 600, People: crew()}
	facts.Joints = []shutdown.Joint{{Plan: made(t, "SW-111", both(0))}}
	_, left := shutdown.Lay(facts)
	require.Equal(t, []shutdown.Left{{Tag: "SW-111",
		Why: "its plan has 2 tools pull at once, and the crib has not so many set-ups for it"}}, left)

	facts.Joints[0].Begun = &shutdown.Begun{At: shutdown.Tighten, Minutes: 20, Idle: 500}
	in, left := shutdown.Lay(facts)
	require.Empty(t, left, "it is under way, whatever has become of its second wrench")
	require.Equal(t, "W-40", tightening(t, in).Modes[0].ID)
	require.Empty(t, solved(t, in).Unplaced)

	facts.Joints = []shutdown.Joint{{Plan: made(t, "SW-111", both(2))}}
	in, left = shutdown.Lay(facts)
	require.Empty(t, left)
	var ids []string
	for _, m := range tightening(t, in).Modes {
		ids = append(ids, m.ID)
		require.Equal(t, 2, *m.People[0].Count)
	}
	require.Equal(t, []string{"W-40, at once with W-41", "W-41, at once with W-42"}, ids)
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
