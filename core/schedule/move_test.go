package schedule_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/schedule"
)

// yard is two jobs of two persons with one wrench: A is lubricated, then tightened; B is tightened.
func yard() *schedule.Instance {
	horizon, one := 600, 1
	work := func(id string, minutes int, tools ...schedule.Demand) schedule.Activity {
		return schedule.Activity{ID: id, At: []schedule.At{{Area: "hall"}}, Modes: []schedule.Mode{{ID: "m", Minutes: minutes,
			People: []schedule.Role{{Skills: []string{"fit"}}}, Tools: tools}}}
	}
	wrench := schedule.Demand{Kind: "wrench", Pulled: true}
	fit := []schedule.SkillHeld{{Skill: "fit"}}
	return &schedule.Instance{Horizon: &horizon, Now: 10,
		People: []schedule.Worker{{ID: "Ama", Skills: fit, Open: []schedule.Window{{0, 240}, {270, 480}}},
			{ID: "Bo", Skills: fit}, {ID: "Cy"}},
		Tools: []schedule.Piece{{ID: "W", Kind: "wrench"}}, Areas: []schedule.Room{{ID: "hall", Places: &one}},
		Isolations: []schedule.Isolation{},
		Jobs: []schedule.Job{{ID: "A", Activities: []schedule.Activity{work("A lubricate", 20), work("A tighten", 60, wrench)}},
			{ID: "B", Activities: []schedule.Activity{work("B tighten", 50, wrench)}}},
		Links: []schedule.Link{{From: "A lubricate", To: "A tighten"}}, Apart: [][]string{}}
}

func at(id string, start, end int, who string, tools ...string) schedule.Planned {
	return schedule.Planned{Activity: id, Start: start, End: end, Mode: "m", People: []string{who}, Tools: tools}
}

// A bar in the hand is judged against all others, which stay; what it has nothing to do with is not told.
func TestMoveIsJudgedWithAllElseUnchanged(t *testing.T) {
	in := yard()
	plan := []schedule.Planned{at("A lubricate", 10, 30, "Ama"), at("A tighten", 30, 90, "Ama", "W"),
		at("B tighten", 90, 140, "Bo", "W")}
	v, err := schedule.NewMover(in, plan, nil)
	require.NoError(t, err)
	rules := func(p schedule.Planned) (out []string) {
		broken, _, err := v.Try(p)
		require.NoError(t, err)
		for _, b := range broken {
			out = append(out, b.Rule)
		}
		return out
	}
	require.Empty(t, rules(plan[2]), "as it stands nothing breaks")
	require.Equal(t, []string{"tool", "area"}, rules(at("B tighten", 60, 0, "Bo", "W")))
	require.Equal(t, []string{"person", "tool", "area"}, rules(at("B tighten", 60, 0, "Ama", "W")))
	require.Contains(t, rules(at("B tighten", 5, 0, "Bo", "W")), "now")
	require.Equal(t, []string{"role"}, rules(at("B tighten", 100, 0, "Cy", "W")))
	require.Equal(t, []string{"calendar"}, rules(at("B tighten", 220, 0, "Ama", "W")), "it would run into the break")
	require.Equal(t, []string{"horizon"}, rules(at("B tighten", 560, 0, "Bo", "W")))
	require.Contains(t, rules(at("A lubricate", 40, 0, "Ama")), "link")

	_, end, err := v.Try(at("B tighten", 300, 0, "Ama", "W"))
	require.NoError(t, err)
	require.Equal(t, 350, end)
	start, found := v.Nearest(at("B tighten", 60, 0, "Bo", "W"), 5, 500)
	require.True(t, found)
	require.Equal(t, 90, start)
	start, found = v.Nearest(at("B tighten", 230, 0, "Ama", "W"), 5, 500)
	require.True(t, found)
	require.Equal(t, 190, start, "before the break")
	start, found = v.Nearest(at("B tighten", 61, 0, "Bo", "W"), 50, 500)
	require.True(t, found)
	require.Equal(t, 90, start, "where it stood, and where the other one ends")
	_, found = v.Nearest(at("B tighten", 60, 0, "Bo", "W"), 7, 29)
	require.False(t, found, "not so far")
	_, _, err = v.Try(at("C tighten", 60, 0, "Bo", "W"))
	require.Error(t, err)
	_, _, err = v.Try(at("B tighten", 60, 0, "Nobody", "W"))
	require.Error(t, err)
}

// What has begun is not moved.
func TestWhatHasBegunIsNotMoved(t *testing.T) {
	in := yard()
	begun := at("A lubricate", 0, 30, "Ama")
	in.Begun = []schedule.Planned{begun}
	v, err := schedule.NewMover(in, []schedule.Planned{begun, at("A tighten", 30, 90, "Ama", "W"),
		at("B tighten", 90, 140, "Bo", "W")}, nil)
	require.NoError(t, err)
	broken, _, err := v.Try(at("A lubricate", 50, 0, "Ama"))
	require.NoError(t, err)
	require.Equal(t, "begun", broken[0].Rule)
}

// The judge of one move finds what the check of the whole plan finds of that activity, wherever it is put.
func TestMoveIsJudgedAsByTheWholeCheck(t *testing.T) {
	in := yard()
	plan := []schedule.Planned{at("A lubricate", 10, 30, "Ama"), at("A tighten", 30, 90, "Ama", "W"),
		at("B tighten", 90, 140, "Bo", "W")}
	v, err := schedule.NewMover(in, plan, nil)
	require.NoError(t, err)
	for _, moved := range plan {
		for _, who := range []string{"Ama", "Bo", "Cy"} {
			for start := 0; start < 580; start += 7 {
				x := moved
				x.Start, x.People = start, []string{who}
				got, end, err := v.Try(x)
				require.NoError(t, err)
				x.End = end
				whole := []schedule.Planned{x}
				for _, o := range plan {
					if o.Activity != x.Activity {
						whole = append(whole, o)
					}
				}
				all, err := schedule.Check(in, whole, nil)
				require.NoError(t, err)
				want := []schedule.Broken{}
				for _, b := range all {
					if slices.Contains(b.Activities, x.Activity) {
						want = append(want, b)
					}
				}
				require.ElementsMatch(t, want, got, "%s with %s at %d", x.Activity, who, start)
			}
		}
	}
}
