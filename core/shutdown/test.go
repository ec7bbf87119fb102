package shutdown

import (
	"math"
	"slices"

	"dynacor/core/pressuretest"
	"dynacor/core/schedule"
)

// Test is a test over joints that are done before it.
type Test struct {
	Tag     string
	Title   string
	Joints  []string // those that are not accepted yet
	Areas   []string // in which it is made
	Minutes int
	Clears  bool // nobody else works in its areas: a test with gas
}

// shortestTest is what a test takes at least, minutes: blinds, filling, going round, letting down. A starting value.
const shortestTest = 30

// TestOf gives a test with the time that its steps take.
func TestOf(s pressuretest.Spec) Test {
	t := Test{Tag: s.Tag, Title: s.Title, Minutes: shortestTest, Clears: s.Kind == pressuretest.Pneumatic}
	if points := s.Planned(); len(points) > 0 {
		t.Minutes = max(t.Minutes, int(math.Ceil(points[len(points)-1].Min)))
	}
	return t
}

// lay adds a test behind the last work of each of its joints; it gives back why it cannot be planned.
func (t Test) lay(in *schedule.Instance, left []Left) string {
	for _, l := range left {
		if slices.Contains(t.Joints, l.Tag) {
			return "comes after " + l.Tag + ", which is not planned"
		}
	}
	a := schedule.Activity{ID: PressureTest.ID(t.Tag), Modes: []schedule.Mode{{ID: byHand, Minutes: max(1, t.Minutes),
		People: []schedule.Role{{Skills: []string{SkillTest}}}}}}
	for _, area := range t.Areas {
		n := slices.IndexFunc(in.Areas, func(r schedule.Room) bool { return r.ID == area })
		if n < 0 {
			n = len(in.Areas)
			in.Areas = append(in.Areas, schedule.Room{ID: area})
		}
		at := schedule.At{Area: area}
		if t.Clears {
			if in.Areas[n].Places == nil {
				most := MostCrews
				in.Areas[n].Places = &most
			}
			at.Places = in.Areas[n].Places
		}
		a.At = append(a.At, at)
	}
	for _, tag := range t.Joints {
		if n := slices.IndexFunc(in.Jobs, func(j schedule.Job) bool { return j.ID == tag }); n >= 0 {
			acts := in.Jobs[n].Activities
			in.Links = append(in.Links, schedule.Link{From: acts[len(acts)-1].ID, To: a.ID})
		}
	}
	in.Jobs = append(in.Jobs, schedule.Job{ID: t.Tag, Activities: []schedule.Activity{a}})
	return ""
}
