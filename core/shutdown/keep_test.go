package shutdown_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/schedule"
	"dynacor/core/shutdown"
)

func inTheMiddle() *schedule.Instance {
	horizon := 4000
	act := func(id string) schedule.Activity {
		return schedule.Activity{ID: id, Modes: []schedule.Mode{{ID: "W-40", Minutes: 60}, {ID: "W-41", Minutes: 5}}}
	}
	return &schedule.Instance{Now: 100, Horizon: &horizon,
		Jobs: []schedule.Job{{ID: "SW-111", Activities: []schedule.Activity{act("SW-111 tighten"), act("SW-111 prove")}},
			{ID: "SW-112", Activities: []schedule.Activity{act("SW-112 tighten")}}},
		Begun: []schedule.Planned{{Activity: "SW-112 tighten", Start: 100, End: 150}}}
}

// What is a little late ends as it was announced: what should have begun is shortened by as much, what is under way
// ends when it was to.
func TestLittleLateEndsAsAnnounced(t *testing.T) {
	for _, c := range []struct {
		start, end, minutes, other, until int
	}{
		{91, 141, 51, 1, 141}, // nine minutes late: one part is shorter, the other ends as announced
		{90, 140, 60, 5, 150}, // ten are seen
		{100, 150, 60, 5, 150},
		{98, 149, 58, 3, 149},
	} {
		in := inTheMiddle()
		shutdown.OnTime(in, []schedule.Planned{{Activity: "SW-111 tighten", Start: c.start, End: c.start + 60, Mode: "W-40"},
			{Activity: "SW-112 tighten", Start: 40, End: c.end, Mode: "W-40"}})
		modes := in.Jobs[0].Activities[0].Modes
		require.Equal(t, c.minutes, modes[0].Minutes, "%+v", c)
		require.Equal(t, c.other, modes[1].Minutes, "%+v", c)
		require.Equal(t, c.until, in.Begun[0].End, "%+v", c)
		require.Equal(t, 60, in.Jobs[0].Activities[1].Modes[0].Minutes)
	}
	in := inTheMiddle()
	shutdown.OnTime(in, []schedule.Planned{{Activity: "SW-111 tighten", Start: 95, End: 155},
		{Activity: "SW-112 tighten", Start: 40, End: 99, Mode: "W-40"}})
	require.Equal(t, 60, in.Jobs[0].Activities[0].Modes[0].Minutes, "it cannot be done so any more")
	require.Equal(t, 150, in.Begun[0].End, "it was to end before now")
}

// What is near and can still be done so is kept, at a cost that grows with the time left.
func TestWhatIsNearIsKept(t *testing.T) {
	in := inTheMiddle()
	announced := []schedule.Planned{{Activity: "SW-111 tighten", Start: 95, End: 155, Mode: "W-40", People: []string{"Tolley"}},
		{Activity: "SW-111 prove", Start: 60, End: 90, Mode: "W-40"}, {Activity: "SW-112 tighten", Start: 40, End: 90, Mode: "W-40"}}
	k := shutdown.Keep(in, announced, 100+shutdown.Near[0])
	require.Equal(t, 100+48*60, k.Until)
	require.Equal(t, (4000-100)/40, k.Cost)
	require.Equal(t, []schedule.Planned{{Activity: "SW-111 tighten", Start: 100, Mode: "W-40", People: []string{"Tolley"}},
		{Activity: "SW-111 prove", Start: 60, Mode: "W-40"}}, k.Plan, "what is under way is not announced any more")
	short := 600
	in.Horizon = &short
	require.Equal(t, 30, shutdown.Keep(in, announced, 200).Cost)
	require.Nil(t, shutdown.Keep(in, announced, 0), "the plan begins later than that")
	announced[0].Mode, announced[1].Start = "", -1
	require.Nil(t, shutdown.Keep(in, announced, 200), "nothing can stay")
}
