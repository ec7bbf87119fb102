package schedule

import (
	"slices"
	"sort"
	"strings"
)

// heads are the earliest start and end that each activity can have in any plan that places all, and tails the least
// time from its end to the end of the plan.
type heads struct{ start, end, tail []int }

const rounds = 6 // of lifting by maximum lags

// heads goes forward along the links, each activity alone against the calendars of those who could do it.
func (m *model) heads() heads {
	h := heads{make([]int, len(m.acts)), make([]int, len(m.acts)), make([]int, len(m.acts))}
	for range rounds {
		moved := false
		for _, i := range m.order {
			start, end := m.head(i, &h)
			moved = moved || start > h.start[i] || end > h.end[i]
			h.start[i], h.end[i] = max(h.start[i], start), max(h.end[i], end)
		}
		if !moved {
			break
		}
	}
	for n := len(m.order) - 1; n >= 0; n-- {
		i := m.order[n]
		for _, k := range m.acts[i].out {
			l := &m.links[k]
			if !l.fromE || m.acts[l.to].begun != nil {
				continue
			}
			t := l.min + h.tail[l.to]
			if !l.toE {
				t += m.shortest(l.to)
			}
			h.tail[i] = max(h.tail[i], t)
		}
	}
	return h
}

func (m *model) shortest(i int) int {
	n := never
	for k := range m.acts[i].modes {
		n = min(n, m.acts[i].modes[k].minutes)
	}
	return n
}

func (m *model) head(i int, h *heads) (start, end int) {
	a := &m.acts[i]
	if a.begun != nil {
		return a.fixed.start, a.fixed.end
	}
	start = max(m.now, a.release)
	if a.iso >= 0 && len(m.windows[a.iso]) > 0 {
		start = max(start, m.windows[a.iso][0][0])
	}
	for _, k := range a.pins {
		if p := m.in.Pins[k]; p.NotBefore != nil {
			start = max(start, *p.NotBefore)
		} else if p.Start != nil {
			start = max(start, *p.Start)
		}
	}
	moment := func(i int, e bool) int {
		if e {
			return h.end[i]
		}
		return h.start[i]
	}
	for _, k := range a.in {
		l := &m.links[k]
		if t := moment(l.from, l.fromE) + l.min; l.toE {
			end = max(end, t)
		} else {
			start = max(start, t)
		}
	}
	for _, k := range a.out {
		l := &m.links[k]
		if l.max == never {
			continue
		}
		if t := moment(l.to, l.toE) - l.max; l.fromE {
			end = max(end, t)
		} else {
			start = max(start, t)
		}
	}
	s, e := m.alone(i, start)
	return max(start, s), max(end, e)
}

// alone gives the earliest start and end of an activity from a minute on, over its modes.
func (m *model) alone(i, from int) (start, end int) {
	a := &m.acts[i]
	start, end = never, never
	for k := range a.modes {
		md := &a.modes[k]
		s, e := from, from+md.minutes
		need := func(open []Window, until int) (int, int) {
			x, y, ok := advance(open, from, md.minutes, a.pause)
			if !ok || y > until {
				return never, never
			}
			return x, y
		}
		for r := range md.roles {
			bs, be := never, never
			for n, w := range md.roles[r].who {
				x, y := need(m.people[w].open, md.roles[r].until[n])
				bs, be = min(bs, x), min(be, y)
			}
			s, e = max(s, bs), max(e, be)
		}
		for r := range md.kinds {
			bs, be := never, never
			for _, t := range md.kinds[r].which {
				x, y := need(m.tools[t].open, never)
				bs, be = min(bs, x), min(be, y)
			}
			s, e = max(s, bs), max(e, be)
		}
		for _, u := range a.at {
			x, y := need(m.areas[u.area].open, never)
			s, e = max(s, x), max(e, y)
		}
		start, end = min(start, s), min(end, e)
	}
	return start, end
}

// bound gives what no plan of all jobs can be better than: the largest of the bounds, with its name.
func (m *model) bound() Bound {
	h := m.heads()
	b := Bound{By: "critical path through the calendars"}
	for i := range m.acts {
		b.Finish = max(b.Finish, h.end[i]+h.tail[i])
	}
	if b.Finish >= never { // some activity cannot be done at all
		b.Finish = m.horizon
		return b
	}
	for j := range m.jobs {
		end := 0
		for _, i := range m.jobs[j].acts {
			end = max(end, h.end[i])
		}
		if due := m.jobs[j].due; due != never && end > due {
			b.Tardiness += m.jobs[j].weight * (end - due)
		}
	}
	for _, g := range m.groups() {
		if t := m.energy(g, &h); t > b.Finish {
			b.Finish, b.By = t, g.name
		}
	}
	return b
}

// group is a set of people, tools of a kind or an area, and how many of its minutes each activity takes at least.
type group struct {
	name string
	rate []step // how many at once, from each minute on
	need []int
}

type step struct{ at, n int }

// groups are the sets whose minutes are counted: each set of people that some role can be filled from, all people, each
// kind of tool, each area with a limit.
func (m *model) groups() []group {
	var out []group
	seen := map[string]bool{}
	add := func(who []int) {
		sorted := slices.Clone(who)
		slices.Sort(sorted)
		var ids []string
		for _, w := range sorted {
			ids = append(ids, m.people[w].id)
		}
		name := "energy of people: " + strings.Join(ids, ", ")
		if len(who) == 0 || seen[name] {
			return
		}
		seen[name] = true
		open := make([][]Window, len(sorted))
		for k, w := range sorted {
			open[k] = m.people[w].open
		}
		out = append(out, group{name, rates(open, 1), m.needOf(func(md *mode, _ *act) int {
			n := 0
			for r := range md.roles {
				if !slices.ContainsFunc(md.roles[r].who, func(w int) bool { return !slices.Contains(sorted, w) }) {
					n++
				}
			}
			return n
		})})
	}
	all := make([]int, len(m.people))
	for i := range all {
		all[i] = i
	}
	add(all)
	for i := range m.acts {
		for k := range m.acts[i].modes {
			for _, r := range m.acts[i].modes[k].roles {
				add(r.who)
			}
		}
	}
	return append(append(out, m.kindGroups()...), m.areaGroups()...)
}

func (m *model) kindGroups() []group {
	var out []group
	seen := map[string]bool{}
	for _, t := range m.tools {
		if seen[t.kind] {
			continue
		}
		seen[t.kind] = true
		var open [][]Window
		for _, o := range m.tools {
			if o.kind == t.kind {
				open = append(open, o.open)
			}
		}
		out = append(out, group{"energy of tools: " + t.kind, rates(open, 1), m.needOf(func(md *mode, _ *act) int {
			n := 0
			for r := range md.kinds {
				if m.tools[md.kinds[r].which[0]].kind == t.kind {
					n++
				}
			}
			return n
		})})
	}
	return out
}

func (m *model) areaGroups() []group {
	var out []group
	for n, a := range m.areas {
		if a.places == never {
			continue
		}
		need := m.needOf(func(_ *mode, x *act) int {
			places := 0
			for _, u := range x.at {
				if u.area == n {
					places += u.places
				}
			}
			return places
		})
		out = append(out, group{"energy of the area: " + a.id, rates([][]Window{a.open}, a.places), need})
	}
	return out
}

// needOf gives, of each activity, the least minutes over its modes times what it takes of them.
func (m *model) needOf(of func(*mode, *act) int) []int {
	need := make([]int, len(m.acts))
	for i := range m.acts {
		if m.acts[i].begun != nil {
			continue
		}
		least := never
		for k := range m.acts[i].modes {
			md := &m.acts[i].modes[k]
			least = min(least, md.minutes*of(md, &m.acts[i]))
		}
		need[i] = least
	}
	return need
}

// rates gives how many calendars are open from each minute on, each so many times.
func rates(open [][]Window, times int) []step {
	change := map[int]int{}
	for _, o := range open {
		for _, w := range o {
			change[w[0]] += times
			change[w[1]] -= times
		}
	}
	at := make([]int, 0, len(change))
	for t := range change {
		at = append(at, t)
	}
	sort.Ints(at)
	out, n := []step{{0, 0}}, 0
	for _, t := range at {
		n += change[t]
		out = append(out, step{t, n})
	}
	return out
}

// fullAfter gives when so many minutes of a group are over, counted from a minute on; never: they are not there.
func fullAfter(rate []step, from, minutes int) int {
	for k := range rate {
		end := never
		if k+1 < len(rate) {
			end = rate[k+1].at
		}
		a := max(from, rate[k].at)
		if end <= a || rate[k].n == 0 {
			continue
		}
		if end == never || (end-a)*rate[k].n >= minutes {
			return a + (minutes+rate[k].n-1)/rate[k].n
		}
		minutes -= (end - a) * rate[k].n
	}
	return never
}

const mostHeads, mostTails = 24, 8

// energy bounds the finish by the minutes of a group: what begins at or after h and has a tail of q or more takes its
// minutes after h, and q follows.
func (m *model) energy(g group, h *heads) int {
	best := 0
	for _, q := range some(h.tail, g.need, mostTails) {
		for _, from := range some(h.start, g.need, mostHeads) {
			n := 0
			for i, need := range g.need {
				if need > 0 && h.start[i] >= from && h.tail[i] >= q {
					n += need
				}
			}
			if n == 0 {
				continue
			}
			if t := fullAfter(g.rate, max(from, m.now), n); t < never {
				best = max(best, t+q)
			}
		}
	}
	return best
}

// some gives up to n different values of those that need anything, the least and the greatest among them.
func some(values, need []int, n int) []int {
	var list []int
	for i, v := range values {
		if need[i] > 0 {
			list = append(list, v)
		}
	}
	slices.Sort(list)
	list = slices.Compact(list)
	if len(list) <= n {
		return list
	}
	out := make([]int, n)
	for k := range out {
		out[k] = list[k*(len(list)-1)/(n-1)]
	}
	return out
}
