package schedule

import (
	"context"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// tiny draws an instance so small that every plan of it can be gone through.
func tiny(t *rapid.T) *Instance {
	horizon := rapid.IntRange(6, 16).Draw(t, "horizon")
	in := &Instance{Horizon: &horizon}
	window := func(name string) []Window {
		if rapid.Bool().Draw(t, name+" always") {
			return nil
		}
		a := rapid.IntRange(0, 5).Draw(t, name+" from")
		b := rapid.IntRange(a+1, horizon).Draw(t, name+" to")
		if c := b + rapid.IntRange(1, 3).Draw(t, name+" break"); c < horizon && rapid.Bool().Draw(t, name+" two") {
			return []Window{{a, b}, {c, horizon}}
		}
		return []Window{{a, b}}
	}
	for _, id := range []string{"P1", "P2"} {
		p := Worker{ID: id, Open: window(id)}
		for _, s := range []string{"fit", "prove"} {
			if rapid.IntRange(0, 3).Draw(t, id+s) > 0 {
				h := SkillHeld{Skill: s}
				if rapid.IntRange(0, 5).Draw(t, id+s+" ends") == 0 {
					until := rapid.IntRange(2, horizon).Draw(t, id+s+" until")
					h.Until = &until
				}
				p.Skills = append(p.Skills, h)
			}
		}
		in.People = append(in.People, p)
	}
	one := 1
	in.Areas = []Room{{ID: "A", Places: &one, Open: window("A")}, {ID: "B"}}
	in.Tools = []Piece{{ID: "T", Kind: "big", Area: "A", Carry: rapid.IntRange(0, 2).Draw(t, "carry")}}
	in.Isolations = []Isolation{{ID: "I", Windows: []Window{{0, horizon / 2}, {horizon/2 + 1, horizon}}}}
	ids := work(t, in, horizon)
	if rapid.IntRange(0, 3).Draw(t, "pinned") == 0 {
		p := Pin{Activity: rapid.SampledFrom(ids).Draw(t, "pin on")}
		switch rapid.IntRange(0, 3).Draw(t, "pin") {
		case 0:
			p.Person = "P2"
		case 1:
			at := rapid.IntRange(0, 6).Draw(t, "not before")
			p.NotBefore = &at
		case 2:
			at := rapid.IntRange(0, 6).Draw(t, "start")
			p.Start = &at
		case 3:
			p.Mode = "one"
		}
		in.Pins = []Pin{p}
	}
	return in
}

// work draws one to three activities with their jobs and links.
func work(t *rapid.T, in *Instance, horizon int) (ids []string) {
	n := rapid.IntRange(1, 3).Draw(t, "activities")
	for k := range n {
		id := string(rune('a' + k))
		a := Activity{ID: id, At: []At{{Area: rapid.SampledFrom([]string{"A", "B"}).Draw(t, id+" at")}},
			Pause: rapid.IntRange(0, 2).Draw(t, id+" pause"), Release: rapid.IntRange(0, 3).Draw(t, id+" release")}
		if rapid.IntRange(0, 4).Draw(t, id+" has deadline") == 0 {
			d := rapid.IntRange(3, horizon).Draw(t, id+" deadline")
			a.Deadline = &d
		}
		if rapid.IntRange(0, 3).Draw(t, id+" isolated") == 0 {
			a.Isolation = "I"
		}
		skill := []string{rapid.SampledFrom([]string{"fit", "prove"}).Draw(t, id+" skill")}
		m := Mode{ID: "one", Minutes: rapid.IntRange(1, 5).Draw(t, id+" minutes"), People: []Role{{Skills: skill}}}
		if rapid.Bool().Draw(t, id+" tool") {
			m.Tools = []Demand{{Kind: "big", Pulled: true}}
		}
		a.Modes = []Mode{m}
		if rapid.IntRange(0, 2).Draw(t, id+" two") == 0 {
			two := 2
			a.Modes = append(
				a.Modes,
				Mode{ID: "two", Minutes: max(1, m.Minutes-2), People: []Role{{Skills: skill, Count: &two}}},
			)
		}
		if k > 0 && rapid.Bool().Draw(t, id+" linked") {
			l := Link{
				From: ids[k-1],
				To:   id,
				Min:  rapid.IntRange(0, 3).Draw(t, id+" min"),
				ToAt: rapid.SampledFrom([]string{"", "end"}).
					Draw(t, id+" to"),
				FromAt: rapid.SampledFrom([]string{"", "start"}).Draw(t, id+" from"),
			}
			if rapid.Bool().Draw(t, id+" lives") {
				most := l.Min + rapid.IntRange(0, 5).Draw(t, id+" max")
				l.Max = &most
			}
			in.Links = append(in.Links, l)
		}
		if k > 0 && rapid.IntRange(0, 2).Draw(t, id+" apart") == 0 {
			in.Apart = append(in.Apart, []string{ids[k-1], id})
		}
		j := Job{ID: "J" + id, Activities: []Activity{a}}
		if rapid.Bool().Draw(t, id+" due") {
			due := rapid.IntRange(2, horizon).Draw(t, id+" by")
			j.Due = &due
		}
		if k > 0 && rapid.Bool().Draw(t, id+" same job") {
			last := &in.Jobs[len(in.Jobs)-1]
			last.Activities = append(last.Activities, a)
		} else {
			in.Jobs = append(in.Jobs, j)
		}
		ids = append(ids, id)
	}
	return ids
}

// brute goes through every plan that leaves out up to so many jobs and gives the best, by what counts most.
func brute(t *rapid.T, m *model, most int) Objective {
	best := Objective{Unplaced: most + 1}
	for set := range 1 << len(m.jobs) { // the jobs that are left out
		var out []string
		for j := range m.jobs {
			if set>>j&1 == 1 {
				out = append(out, m.jobs[j].id)
			}
		}
		if len(out) > min(best.Unplaced, most) {
			continue
		}
		var plan []Planned
		var walk func(n int)
		walk = func(n int) {
			if n == len(m.order) {
				o := worth(m, plan, len(out))
				if !o.Before(best) {
					return
				}
				broken, err := m.check(plan, out)
				require.NoError(t, err)
				if len(broken) == 0 {
					best = o
				}
				return
			}
			i := m.order[n]
			if set>>m.acts[i].job&1 == 1 {
				walk(n + 1)
				return
			}
			for _, x := range ways(m, i) {
				plan = append(plan, x)
				walk(n + 1)
				plan = plan[:len(plan)-1]
			}
		}
		walk(0)
	}
	return best
}

// ways are the places of an activity by itself that keep its own rules.
func ways(m *model, i int) (out []Planned) {
	s := m.newState()
	for start := range m.horizon {
		for k := range m.acts[i].modes {
			md := &m.acts[i].modes[k]
			var people func(have []int)
			people = func(have []int) {
				if len(have) < len(md.roles) {
					for w := range m.people {
						people(append(have[:len(have):len(have)], w))
					}
					return
				}
				p := placed{start: start, mode: k, people: have}
				for range md.kinds {
					p.tools = []int{0}
				}
				end, ok := runsFrom(s.open(i, p), start, md.minutes, m.acts[i].pause)
				if ok && end <= m.horizon {
					p.end = end
					out = append(out, m.told(i, p))
				}
			}
			people(nil)
		}
	}
	return out
}

func worth(m *model, plan []Planned, unplaced int) Objective {
	o := Objective{Unplaced: unplaced}
	for j := range m.jobs {
		end, whole := 0, true
		for _, i := range m.jobs[j].acts {
			here := false
			for _, x := range plan {
				if x.Activity == m.acts[i].id {
					end, here = max(end, x.End), true
				}
			}
			whole = whole && here
		}
		o.Finish = max(o.Finish, end)
		if due := m.jobs[j].due; whole && due != never {
			o.Tardiness += m.jobs[j].weight * max(0, end-due)
		}
	}
	return o
}

// The planner finds what going through every plan finds, its plans break no rule, and its bound is above none.
func TestSmallestInstancesAreSolvedAsByGoingThroughAll(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := tiny(t)
		m, err := compile(in)
		require.NoError(t, err)
		want := brute(t, m, len(m.jobs))
		a, err := Solve(context.Background(), in, Options{Work: 3000})
		require.NoError(t, err)
		broken, err := Check(in, a.Activities, a.Unplaced)
		require.NoError(t, err)
		require.Empty(t, broken)
		got := a.Objective
		got.Carries, got.Load = 0, 0
		require.Equal(t, want, got)
		if a.Objective.Unplaced == 0 {
			require.LessOrEqual(t, a.Bound.Finish, want.Finish)
			require.LessOrEqual(t, a.Bound.Tardiness, want.Tardiness)
			require.Empty(t, a.Forbids)
		} else {
			require.NotEmpty(t, a.Forbids)
			forbids(t, m, a)
		}
		for _, x := range a.Activities {
			require.NotNil(t, x.Because, x.Activity)
		}
	})
}

// An instance whose people, tools, jobs and links stand in another order has an equally good plan.
func TestOrderOfTheInputMakesNoDifference(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := tiny(t)
		one, err := Solve(context.Background(), in, Options{Work: 2000})
		require.NoError(t, err)
		slices.Reverse(in.People)
		slices.Reverse(in.Areas)
		slices.Reverse(in.Jobs)
		slices.Reverse(in.Links)
		two, err := Solve(context.Background(), in, Options{Work: 2000})
		require.NoError(t, err)
		for _, o := range []*Objective{&one.Objective, &two.Objective} {
			o.Carries, o.Load = 0, 0
		}
		require.Equal(t, one.Objective, two.Objective)
	})
}

// forbids holds the facts that are said to forbid a job against going through every plan: they do, without any of them
// there is a plan, and no set with one fewer does.
func forbids(t *rapid.T, m *model, a *Answer) {
	f := a.Forbids[0]
	require.True(t, f.Smallest)
	if len(a.Unplaced) > 1 || len(f.Facts) > 3 {
		return
	}
	all := make([]int, len(m.jobs))
	for j := range all {
		all[j] = j
	}
	facts := m.facts(all)
	possible := func(holds func(name string) bool) bool {
		drop := make([]bool, len(facts))
		for k := range facts {
			drop[k] = !holds(facts[k].name)
		}
		return brute(t, m.without(facts, drop), 0).Unplaced == 0
	}
	in := func(set []string) func(string) bool {
		return func(name string) bool { return slices.Contains(set, name) }
	}
	require.False(t, possible(in(f.Facts)), "%v hold in no plan", f.Facts)
	for k := range f.Facts {
		require.True(
			t,
			possible(in(slices.Delete(slices.Clone(f.Facts), k, k+1))),
			"%v without the %d-th",
			f.Facts,
			k+1,
		)
	}
	choose(len(facts), len(f.Facts)-1, func(set []int) bool {
		var names []string
		for _, k := range set {
			names = append(names, facts[k].name)
		}
		require.True(t, possible(in(names)), "%v forbid as well", names)
		return true
	})
}
