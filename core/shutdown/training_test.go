package shutdown_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/schedule"
	"dynacor/core/shutdown"
	"dynacor/core/tool"
	"dynacor/core/training"
)

// Where only the trained may work, the others are not planned for it, and a training that ends is heeded.
func TestOnlyTheTrainedArePlanned(t *testing.T) {
	p := made(t, "SW-111", nil)
	way := p.First().InHand()
	kinds := map[string]tool.Kind{}
	for _, x := range way.String {
		kinds[x.Tag] = x.Kind
	}
	wrench := training.Subject{About: training.Tool, Code: string(way.String[0].Kind)}
	lay := func(held map[string][]training.Held) []schedule.Planned {
		in, left := shutdown.Lay(shutdown.Facts{Begin: seven, Horizon: 600, People: crew(), Joints: []shutdown.Joint{{Plan: p}},
			Training: shutdown.Training{Asked: []training.Subject{wrench}, Held: held, Kinds: kinds}})
		require.Empty(t, left)
		a, err := schedule.Solve(t.Context(), in, schedule.Options{Seed: 1})
		require.NoError(t, err)
		return a.Activities
	}
	require.Empty(t, lay(nil), "nobody may take the wrench")
	has := func(until string) []training.Held {
		return []training.Held{{About: training.Tool, Code: wrench.Code, Until: until}}
	}
	for _, x := range lay(map[string][]training.Held{"Quaye": has(""), "Abara": has("2026-12-01")}) {
		if _, k := shutdown.Of(x.Activity); k == shutdown.Tighten {
			require.Equal(t, []string{"Quaye"}, x.People)
		}
	}
	require.Empty(t, lay(map[string][]training.Held{"Quaye": has(""), "Abara": has("2026-11-30")}), "it ended the day before")
}

// A skill that work at a joint asks for is had by everybody who goes there; a joint without one asks for nothing.
func TestSkillsOfAJoint(t *testing.T) {
	lay := func(holders map[string]string, skills ...string) *schedule.Answer {
		held := map[string][]training.Held{}
		for who, until := range holders {
			held[who] = []training.Held{{About: training.Skill, Code: "confined spaces", Until: until}}
		}
		in, left := shutdown.Lay(shutdown.Facts{Begin: seven, Horizon: 600, People: crew(),
			Joints: []shutdown.Joint{{Plan: made(t, "SW-111", nil)}}, Training: shutdown.Training{Held: held},
			Constraints: shutdown.Constraints{Joints: []shutdown.JointConstraint{
				joint("SW-111", func(j *shutdown.JointConstraint) { j.Skills = skills })}}})
		require.Empty(t, left)
		return solved(t, in)
	}
	people := func(a *schedule.Answer) map[string]bool {
		out := map[string]bool{}
		for _, x := range a.Activities {
			for _, p := range x.People {
				out[p] = true
			}
		}
		return out
	}
	require.Equal(t, map[string]bool{"Tolley": true, "Abara": true},
		people(lay(map[string]string{"Tolley": "", "Abara": "2026-12-01"}, "confined spaces")))
	require.Equal(t, []string{"SW-111"}, lay(map[string]string{"Tolley": ""}, "confined spaces").Unplaced,
		"nobody who proves may go there")
	require.Equal(t, []string{"SW-111"},
		lay(map[string]string{"Tolley": "", "Abara": "2026-11-30"}, "confined spaces").Unplaced, "it ended the day before")
	require.Empty(t, lay(nil).Unplaced)
}
