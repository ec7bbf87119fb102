package schedule_test

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/schedule"
)

// shutdown is a made-up stop of a plant: joints in areas of twelve, a crew of people in one shift a day with a break,
// one big wrench for three of them. The same numbers give the same stop.
func shutdown(joints, people int) *schedule.Instance {
	s := uint32(joints*31 + people)
	draw := func(lo, hi int) int {
		s = s*1664525 + 1013904223
		return lo + int(s>>16)%(hi-lo+1)/5*5
	}
	days := 3 + joints/people
	horizon := days * 1440
	in := &schedule.Instance{Horizon: &horizon}
	var shift []schedule.Window
	for d := range days {
		shift = append(shift, schedule.Window{d*1440 + 60, d*1440 + 360}, schedule.Window{d*1440 + 390, d*1440 + 720})
	}
	for k := range people {
		p := schedule.Worker{ID: fmt.Sprintf("P%d", k+1), Open: shift, Skills: []schedule.SkillHeld{{Skill: "fit"}}}
		if k%2 == 0 {
			p.Skills = append(p.Skills, schedule.SkillHeld{Skill: "hydraulic"})
		}
		if k%3 < 2 {
			p.Skills = append(p.Skills, schedule.SkillHeld{Skill: "prove"})
		}
		in.People = append(in.People, p)
	}
	three := 3
	for k := range 1 + joints/12 {
		in.Areas = append(in.Areas, schedule.Room{ID: fmt.Sprintf("A%d", k+1), Places: &three})
	}
	for k := range max(1, people/3) {
		in.Tools = append(
			in.Tools,
			schedule.Piece{ID: fmt.Sprintf("B%d", k+1), Kind: "hydraulic", Area: "A1", Carry: 15},
		)
	}
	for k := range people {
		in.Tools = append(in.Tools, schedule.Piece{ID: fmt.Sprintf("C%d", k+1), Kind: "click"})
	}
	for k := range joints {
		id := fmt.Sprintf("F-%03d", k+1)
		at := []schedule.At{{Area: in.Areas[k/12].ID}}
		act := func(name string, minutes int, skill, kind string, pause int) schedule.Activity {
			m := schedule.Mode{ID: "one", Minutes: minutes, People: []schedule.Role{{Skills: []string{skill}}}}
			if kind != "" {
				m.Tools = []schedule.Demand{{Kind: kind, Pulled: true}}
			}
			return schedule.Activity{ID: id + " " + name, At: at, Pause: pause, Modes: []schedule.Mode{m}}
		}
		skill, kind := "fit", "click"
		if k%3 == 0 {
			skill, kind = "hydraulic", "hydraulic"
		}
		j := schedule.Job{ID: id, Activities: []schedule.Activity{act("prepare", draw(20, 60), "fit", "", 30),
			act("lubricate", draw(15, 40), "fit", "", 0), act("tighten", draw(40, 110), skill, kind, 0),
			act("prove", draw(10, 30), "prove", "click", 0)}}
		if k%4 == 0 {
			due := (1 + k*days/joints) * 1440
			j.Due = &due
		}
		life := 300
		in.Links = append(in.Links, schedule.Link{From: id + " prepare", To: id + " lubricate"},
			schedule.Link{From: id + " lubricate", To: id + " tighten"},
			schedule.Link{ID: id + " life", From: id + " lubricate", To: id + " tighten", ToAt: "end", Max: &life},
			schedule.Link{From: id + " tighten", To: id + " prove", Min: draw(0, 120)})
		in.Apart = append(in.Apart, []string{id + " tighten", id + " prove"})
		in.Jobs = append(in.Jobs, j)
	}
	return in
}

// The aims are 10 s for what has up to 90 activities, 2 s for 500 joints. The yardstick is plain serial generation in
// the order of the jobs: what somebody does with a list and a whiteboard.
func BenchmarkPlan(b *testing.B) {
	for _, c := range []struct{ joints, people int }{{20, 5}, {120, 8}, {500, 12}} {
		in := shutdown(c.joints, c.people)
		for name, work := range map[string]int{"": 0, "yardstick of %d joints: first come, first served": 1} {
			label := fmt.Sprintf("%d joints", c.joints)
			if work > 0 {
				label = fmt.Sprintf(name, c.joints)
			}
			b.Run(label, func(b *testing.B) {
				for b.Loop() {
					a, err := schedule.Solve(context.Background(), in, schedule.Options{Seed: 1, Work: work})
					require.NoError(b, err)
					require.Empty(b, a.Unplaced)
					b.ReportMetric(float64(a.Objective.Finish), "min-finish")
					b.ReportMetric(float64(a.Objective.Tardiness), "min-late")
				}
			})
		}
	}
}
