package schedule

import (
	"fmt"
	"maps"
	"slices"
	"sort"
)

// What the exact search may cost: branches times activities, to find a better plan of a small instance, to find out
// whether some jobs can be planned, and for all that is asked to name what forbids them.
const (
	exactWork  = 1_000_000
	decideWork = 400_000
	forbidWork = 4_000_000
	smallActs  = 26 // so many activities are looked at as a whole
)

// fact is a demand of the instance; without it the demand is not made.
type fact struct {
	name string
	drop func(m *model)
}

// facts are the demands of some jobs.
func (m *model) facts(jobs []int) []fact {
	var out []fact
	add := func(drop func(m *model), format string, args ...any) {
		out = append(out, fact{fmt.Sprintf(format, args...), drop})
	}
	in := func(i int) bool { return slices.Contains(jobs, m.acts[i].job) }
	for i := range m.acts {
		a := &m.acts[i]
		if !in(i) || a.begun != nil {
			continue
		}
		if a.release > 0 {
			add(func(m *model) { m.acts[i].release = 0 }, "release:%s", a.id)
		}
		if a.deadline != never {
			add(func(m *model) { m.acts[i].deadline = never }, "deadline:%s", a.id)
		}
		if a.iso >= 0 {
			add(func(m *model) { m.acts[i].iso = -1 }, "isolation:%s", a.id)
		}
		if len(a.at) > 0 {
			add(func(m *model) { m.acts[i].at = nil }, "area:%s", a.id)
		}
		add(func(m *model) { m.acts[i].pause = never }, "pause:%s", a.id)
		m.modeFacts(i, add)
	}
	m.linkFacts(in, add)
	return out
}

func (m *model) modeFacts(i int, add func(func(*model), string, ...any)) {
	a := &m.acts[i]
	for k := range a.modes {
		md := &a.modes[k]
		for d := range demands(md.roles, func(r role) int { return r.demand }) {
			who := md.roles[slices.IndexFunc(md.roles, func(r role) bool { return r.demand == d })].who
			add(func(m *model) {
				y := &m.acts[i].modes[k]
				y.roles = slices.DeleteFunc(y.roles, func(r role) bool { return r.demand == d })
				m.unpin(i, func(p *Pin) { p.Person = "" }, func(p *Pin) bool {
					return slices.ContainsFunc(who, func(w int) bool { return m.people[w].id == p.Person })
				})
			}, "role:%s/%s/%d", a.id, md.id, d+1)
		}
		for d := range demands(md.kinds, func(n needs) int { return n.demand }) {
			which := md.kinds[slices.IndexFunc(md.kinds, func(n needs) bool { return n.demand == d })].which
			add(func(m *model) {
				y := &m.acts[i].modes[k]
				y.kinds = slices.DeleteFunc(y.kinds, func(n needs) bool { return n.demand == d })
				m.unpin(i, func(p *Pin) { p.Tool = "" }, func(p *Pin) bool {
					return slices.ContainsFunc(which, func(t int) bool { return m.tools[t].id == p.Tool })
				})
			}, "tool:%s/%s/%d", a.id, md.id, d+1)
		}
	}
}

// demands gives the different numbers in order.
func demands[T any](list []T, of func(T) int) func(func(int) bool) {
	seen := map[int]bool{}
	for _, x := range list {
		seen[of(x)] = true
	}
	return slices.Values(slices.Sorted(maps.Keys(seen)))
}

// unpin takes what a pin asks of a role or tool that is not asked for any more.
func (m *model) unpin(i int, take func(*Pin), when func(*Pin) bool) {
	for _, k := range m.acts[i].pins {
		if p := &m.in.Pins[k]; when(p) {
			take(p)
		}
	}
}

func (m *model) linkFacts(in func(int) bool, add func(func(*model), string, ...any)) {
	for k := range m.links {
		l := &m.links[k]
		if !in(l.from) && m.acts[l.from].begun == nil || !in(l.to) && m.acts[l.to].begun == nil {
			continue
		}
		add(func(m *model) { m.links[k].min = noMin }, "min:%s", l.id)
		if l.max != never {
			add(func(m *model) { m.links[k].max = never }, "max:%s", l.id)
		}
	}
	for _, x := range m.in.Apart {
		u, v := m.byID[x[0]], m.byID[x[1]]
		if in(u) && in(v) {
			add(func(m *model) {
				m.acts[u].apart = slices.DeleteFunc(m.acts[u].apart, func(o int) bool { return o == v })
				m.acts[v].apart = slices.DeleteFunc(m.acts[v].apart, func(o int) bool { return o == u })
			}, "apart:%s|%s", x[0], x[1])
		}
	}
	for k, p := range m.in.Pins {
		if i := m.byID[p.Activity]; in(i) && m.acts[i].begun == nil {
			add(func(m *model) {
				m.acts[i].pins = slices.DeleteFunc(m.acts[i].pins, func(o int) bool { return o == k })
			}, "pin:%d", k+1)
		}
	}
}

// without gives the model as it is when some facts are dropped.
func (m *model) without(facts []fact, drop []bool) *model {
	c := *m
	in := *m.in
	in.Pins = slices.Clone(m.in.Pins)
	c.in = &in
	c.links = slices.Clone(m.links)
	c.acts = slices.Clone(m.acts)
	for i := range c.acts {
		a := &c.acts[i]
		a.apart, a.pins = slices.Clone(a.apart), slices.Clone(a.pins)
		a.modes = slices.Clone(a.modes)
		for k := range a.modes {
			a.modes[k].roles, a.modes[k].kinds = slices.Clone(a.modes[k].roles), slices.Clone(a.modes[k].kinds)
		}
	}
	for k := range facts {
		if drop[k] {
			facts[k].drop(&c)
		}
	}
	return &c
}

// forbidden finds the facts that together keep some jobs from being planned, as few as there are. ok is false when it
// is not known that they cannot.
func (m *model) forbidden(jobs []int, left *int) (f Forbids, ok bool) {
	facts := m.facts(jobs)
	most := decideWork / max(1, len(m.acts))
	// possible reports whether the jobs can be planned by the facts that hold.
	possible := func(holds []bool) verdict {
		drop := make([]bool, len(facts))
		for k := range drop {
			drop[k] = !holds[k]
		}
		x := m.without(facts, drop).newExact(jobs, min(most, *left))
		before := x.nodes
		v, _ := x.decide()
		*left -= before - max(x.nodes, 0)
		return v
	}
	all := make([]bool, len(facts))
	for k := range all {
		all[k] = true
	}
	if possible(all) != cannot {
		return f, false
	}
	set, smallest := smallestSet(len(facts), possible, func() bool { return *left > 0 })
	for _, k := range set {
		f.Facts = append(f.Facts, facts[k].name)
	}
	sort.Strings(f.Facts)
	f.Smallest = smallest
	for _, j := range jobs {
		f.Jobs = append(f.Jobs, m.jobs[j].id)
	}
	return f, true
}

// smallestSet finds the fewest of n facts that cannot hold together, by hitting sets of what must be dropped (Ignatiev,
// Previti, Liffiton, Marques-Silva 2015). When the work ends first an irreducible set is given (Chinneck, Dravnieks
// 1991).
func smallestSet(n int, possible func([]bool) verdict, goesOn func() bool) (set []int, smallest bool) {
	core := make([]bool, n) // shrunk by deletion: what must be given at least
	for k := range core {
		core[k] = true
	}
	for k := range core {
		core[k] = false
		if possible(core) != cannot {
			core[k] = true
		}
	}
	best := members(core)
	var corrections [][]int
	for goesOn() {
		hit := hittingSet(corrections, len(best))
		if hit == nil { // none is smaller
			return best, true
		}
		holds := make([]bool, n)
		for _, k := range hit {
			holds[k] = true
		}
		switch possible(holds) {
		case cannot:
			return hit, true
		case unknown:
			return best, false
		}
		for k := range holds { // as many as can hold together
			if !holds[k] {
				holds[k] = true
				if possible(holds) != can {
					holds[k] = false
				}
			}
		}
		var drop []int
		for k := range holds {
			if !holds[k] {
				drop = append(drop, k)
			}
		}
		corrections = append(corrections, drop)
	}
	return best, false
}

func members(set []bool) (out []int) {
	for k, in := range set {
		if in {
			out = append(out, k)
		}
	}
	return out
}

// hittingSet gives the smallest set with fewer than limit members that has something of every list; nil: there is none.
func hittingSet(lists [][]int, limit int) []int {
	for size := 0; size < limit; size++ {
		if set := hit(lists, []int{}, size); set != nil {
			return set
		}
	}
	return nil
}

func hit(lists [][]int, have []int, size int) []int {
	for _, l := range lists {
		if slices.ContainsFunc(l, func(k int) bool { return slices.Contains(have, k) }) {
			continue
		}
		if size == len(have) {
			return nil
		}
		for _, k := range l {
			if set := hit(lists, append(slices.Clip(have), k), size); set != nil {
				return set
			}
		}
		return nil
	}
	return have
}
