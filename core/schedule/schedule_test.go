package schedule_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/quantity"
	"dynacor/core/schedule"
)

// Any plan keeps the rules: nobody does two things at once, no tool is in two hands, nothing begins before what it
// waits for, and the whole is not faster than can be.
func TestScheduleKeepsItsRules(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := schedule.CrewInput{Crews: rapid.IntRange(1, 4).Draw(t, "crews"),
			Tools: []schedule.ToolCount{{Name: "pump", Count: 1}, {Name: "wrench", Count: 2}}}
		for i := range rapid.IntRange(1, 12).Draw(t, "tasks") {
			task := schedule.Task{ID: fmt.Sprint(i), Duration: float64(rapid.IntRange(1, 30).Draw(t, "minutes"))}
			if i > 0 && rapid.Bool().Draw(t, "waits") {
				task.After = []string{fmt.Sprint(rapid.IntRange(0, i-1).Draw(t, "for"))}
			}
			if rapid.Bool().Draw(t, "holds") {
				task.Tools = []string{rapid.SampledFrom([]string{"pump", "wrench"}).Draw(t, "tool")}
			}
			in.Tasks = append(in.Tasks, task)
		}
		r, err := schedule.CrewSchedule(nil, in)
		require.NoError(t, err)
		end := func(i int) float64 { return r.Start[i] + in.Tasks[i].Duration }
		for i, a := range in.Tasks {
			require.LessOrEqual(t, end(i), r.Makespan+1e-9)
			for _, p := range a.After {
				for j, b := range in.Tasks {
					if b.ID == p {
						require.GreaterOrEqual(t, r.Start[i], end(j)-1e-9)
					}
				}
			}
			pumps := 0
			for j, b := range in.Tasks {
				together := r.Start[j] <= r.Start[i]+1e-9 && end(j) > r.Start[i]+1e-9
				if i != j && together {
					require.NotEqual(t, r.Crew[i], r.Crew[j])
				}
				if together && len(b.Tools) > 0 && b.Tools[0] == "pump" {
					pumps++
				}
			}
			require.LessOrEqual(t, pumps, 1)
		}
		require.GreaterOrEqual(t, r.Makespan, r.Bound-1e-9)
		require.LessOrEqual(t, r.Makespan, sum(in.Tasks)+1e-9)
	})
}

func sum(list []schedule.Task) (s float64) {
	for _, t := range list {
		s += t.Duration
	}
	return s
}

func TestScheduleRefusesWhatCannotBe(t *testing.T) {
	task := func(id string, after ...string) schedule.Task {
		return schedule.Task{ID: id, Duration: 5, After: after}
	}
	for name, in := range map[string]schedule.CrewInput{
		"circle":       {Crews: 1, Tasks: []schedule.Task{task("a", "b"), task("b", "a")}},
		"double":       {Crews: 1, Tasks: []schedule.Task{task("a"), task("a")}},
		"unknown task": {Crews: 1, Tasks: []schedule.Task{task("a", "x")}},
		"unknown tool": {Crews: 1, Tasks: []schedule.Task{{ID: "a", Duration: 5, Tools: []string{"pump"}}}},
		"no tasks":     {Crews: 1},
		"no time":      {Crews: 1, Tasks: []schedule.Task{{ID: "a"}}},
	} {
		_, err := schedule.CrewSchedule(nil, in)
		_, ok := quantity.RefusalIn(err)
		require.True(t, ok, "%s: %v", name, err)
	}
}

// Eight bolts, one tool, three passes of 25 s and 10 s to the next, and setting up.
func TestDurationAddsUp(t *testing.T) {
	in := schedule.DurationInput{Fasteners: 8, Tools: 1, Crew: 2, Fixed: 600,
		Methods: []schedule.Method{{Name: "wrench", Seconds: 25, Setup: 120, Move: 10}, {Name: "check", Seconds: 10}},
		Passes:  []schedule.Pass{{Method: "wrench"}, {Method: "wrench"}, {Method: "check"}}}
	r, err := schedule.JointDuration(nil, in)
	require.NoError(t, err)
	require.Equal(t, []float64{400, 400, 80}, r.Pass)
	require.InDelta(t, 1480, r.Duration, 1e-9)
	require.InDelta(t, 1480*2/3600.0, r.Effort, 1e-12)
	in.Tools = 3
	r, err = schedule.JointDuration(nil, in)
	require.NoError(t, err)
	require.InDelta(t, 120+3*35, r.Pass[0], 1e-9, "three stops of up to three bolts")
	some := 4
	in.Passes[2].Fasteners = &some
	r, err = schedule.JointDuration(nil, in)
	require.NoError(t, err)
	require.InDelta(t, 20, r.Pass[2], 1e-9)
	in.Tools = 9
	_, err = schedule.JointDuration(nil, in)
	require.ErrorContains(t, err, "9 tools for 8 bolts")
}

func TestLayersAreCounted(t *testing.T) {
	r, err := schedule.LayerCount(nil, schedule.LayersInput{Profiles: 6, Bolts: 2, Layers: 4, Posts: 4, Pins: 1})
	require.NoError(t, err)
	require.Equal(t, schedule.LayersResult{Bolts: 48, Profiles: 24, Posts: 12, Pins: 12}, r)
}
