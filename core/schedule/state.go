package schedule

import (
	"slices"
	"sort"
)

// slot is a stretch in which something is taken. place is the area of the activity, -1: none.
type slot struct{ start, end, act, place, n int }

// state is a plan in the making.
type state struct {
	*model
	at      []placed
	is      []bool
	people  [][]slot // by person, in order of start, not overlapping
	tools   [][]slot
	areas   [][]slot // by area, in order of start; n places each
	load    []int    // minutes of each person
	lift    []int    // earliest start that the placing of a unit gives
	window  []int    // by job and isolation: which window, index job*len(windows)+iso
	mode    []int    // mode that is to be taken, -1: the one that ends first
	shun    []int    // somebody who is to be taken last, with the number of people added: not at all; -1: nobody
	all     bool     // nobody is left out for now
	work    int
	scratch scratch
	skip    []bool // jobs that are left out
	still   *still // nil: not known yet
	stands  int    // activities that stand from the start
}

type scratch struct {
	free, ahead []freeAt
}

// freeAt is somebody and when they are free next.
type freeAt struct{ who, start, end, score int }

func (m *model) newState() *state {
	s := &state{model: m, at: make([]placed, len(m.acts)), is: make([]bool, len(m.acts)),
		people: make([][]slot, len(m.people)), tools: make([][]slot, len(m.tools)), areas: make([][]slot, len(m.areas)),
		load: make([]int, len(m.people)), lift: make([]int, len(m.acts)), mode: make([]int, len(m.acts)),
		shun: make([]int, len(m.acts)), window: make([]int, len(m.jobs)*max(1, len(m.windows))),
		skip: make([]bool, len(m.jobs))}
	for i := range s.mode {
		s.mode[i], s.shun[i] = -1, -1
	}
	s.clear()
	return s
}

// empty takes everything out.
func (s *state) empty() {
	for i := range s.people {
		s.people[i] = s.people[i][:0]
	}
	for i := range s.tools {
		s.tools[i] = s.tools[i][:0]
	}
	for i := range s.areas {
		s.areas[i] = s.areas[i][:0]
	}
	clear(s.load)
	clear(s.is)
	clear(s.lift)
}

// clear takes everything out but what stands already. How that stands is kept: a search clears many thousand times.
func (s *state) clear() {
	if s.still == nil {
		s.empty()
		for i := range s.acts {
			if p := s.acts[i].fixed; p != nil {
				s.put(i, *p)
				s.stands++
			}
		}
		s.still = &still{copies(s.people), copies(s.tools), copies(s.areas), slices.Clone(s.load), slices.Clone(s.is)}
		return
	}
	s.empty()
	restore(s.people, s.still.people)
	restore(s.tools, s.still.tools)
	restore(s.areas, s.still.areas)
	copy(s.load, s.still.load)
	copy(s.is, s.still.is)
	for i, is := range s.is {
		if is {
			s.at[i] = *s.acts[i].fixed
		}
	}
}

// still is a plan of which only that stands which stood from the start.
type still struct {
	people, tools, areas [][]slot
	load                 []int
	is                   []bool
}

func copies(lists [][]slot) [][]slot {
	out := make([][]slot, len(lists))
	for i, l := range lists {
		out[i] = slices.Clone(l)
	}
	return out
}

func restore(to, from [][]slot) {
	for i, l := range from {
		to[i] = append(to[i][:0], l...)
	}
}

func insert(list []slot, x slot) []slot {
	i := sort.Search(len(list), func(i int) bool { return list[i].start > x.start })
	return slices.Insert(list, i, x)
}

func remove(list []slot, act int) []slot {
	i := slices.IndexFunc(list, func(x slot) bool { return x.act == act })
	if i < 0 {
		return list
	}
	return slices.Delete(list, i, i+1)
}

func (s *state) minutes(i int, p placed) int {
	if s.acts[i].begun != nil {
		return p.end - p.start
	}
	return s.acts[i].modes[p.mode].minutes
}

// put takes an activity into the plan.
func (s *state) put(i int, p placed) {
	s.at[i], s.is[i] = p, true
	x := slot{p.start, p.end, i, s.acts[i].place(), 0}
	n := s.minutes(i, p)
	for _, w := range p.people {
		s.people[w] = insert(s.people[w], x)
		s.load[w] += n
	}
	for _, t := range p.tools {
		s.tools[t] = insert(s.tools[t], x)
	}
	for _, u := range s.acts[i].at {
		x.n = u.places
		s.areas[u.area] = insert(s.areas[u.area], x)
	}
}

// out takes an activity out of the plan.
func (s *state) out(i int) {
	p := s.at[i]
	s.is[i] = false
	n := s.minutes(i, p)
	for _, w := range p.people {
		s.people[w] = remove(s.people[w], i)
		s.load[w] -= n
	}
	for _, t := range p.tools {
		s.tools[t] = remove(s.tools[t], i)
	}
	for _, u := range s.acts[i].at {
		s.areas[u.area] = remove(s.areas[u.area], i)
	}
}

// time is the start or the end of an activity.
func (s *state) time(i int, end bool) int {
	if end {
		return s.at[i].end
	}
	return s.at[i].start
}

// bounds are what the activities that stand already ask of one: from when it may start, from when it may end, until
// when it may start and end.
type bounds struct{ start, end, lastStart, lastEnd int }

// bounds gives what links, release, deadline, isolation and pins ask of an activity; with lags false no maximum lag to
// it counts. ok is false when that cannot be.
func (s *state) bounds(i int, lags bool) (b bounds, ok bool) {
	a := &s.acts[i]
	b = bounds{start: max(s.now, a.release, s.lift[i]), lastStart: s.horizon, lastEnd: min(s.horizon, a.deadline)}
	if a.iso >= 0 {
		w := s.windows[a.iso]
		k := s.window[a.job*len(s.windows)+a.iso]
		if k >= len(w) {
			return b, false
		}
		b.start, b.lastEnd = max(b.start, w[k][0]), min(b.lastEnd, w[k][1])
	}
	for _, k := range a.pins {
		p := &s.in.Pins[k]
		if p.NotBefore != nil {
			b.start = max(b.start, *p.NotBefore)
		}
		if p.Start != nil {
			b.start, b.lastStart = max(b.start, *p.Start), min(b.lastStart, *p.Start)
		}
	}
	for _, k := range a.in {
		if l := &s.links[k]; s.is[l.from] {
			t := s.time(l.from, l.fromE)
			b.from(t+l.min, l.toE)
			if l.max != never && lags {
				b.until(t+l.max, l.toE)
			}
		}
	}
	for _, k := range a.out {
		if l := &s.links[k]; s.is[l.to] {
			t := s.time(l.to, l.toE)
			b.until(t-l.min, l.fromE)
			if l.max != never {
				b.from(t-l.max, l.fromE)
			}
		}
	}
	return b, b.start <= b.lastStart && b.end <= b.lastEnd
}

func (b *bounds) from(t int, end bool) {
	if end {
		b.end = max(b.end, t)
	} else {
		b.start = max(b.start, t)
	}
}

func (b *bounds) until(t int, end bool) {
	if end {
		b.lastEnd = min(b.lastEnd, t)
	} else {
		b.lastStart = min(b.lastStart, t)
	}
}
