package schedule

import "slices"

// persons fills the roles of a mode with people who are free at a minute. nil: it cannot be, next is when to try again.
// What is known of everybody's next free time is kept over the tries of one find.
func (s *state) persons(i int, md *mode, at, lastEnd int, ahead []freeAt) (out []int, next int) {
	n := len(md.roles)
	if n == 0 {
		return []int{}, at
	}
	next = never
	free := s.scratch.free[:0]
	pinned := s.pinnedPerson(i)
	for k := range ahead {
		f := &ahead[k]
		if f.start < at {
			start, end, ok := s.personFrom(f.who, at, md.minutes, s.acts[i].pause)
			if !ok || end > lastEnd {
				start = never
			}
			f.start, f.end = start, end
		}
		if f.start > at {
			next = min(next, f.start)
			continue
		}
		f.score = s.score(i, f.who, pinned)
		free = append(free, *f)
	}
	s.scratch.free = free
	if len(free) < n {
		return nil, next
	}
	for a := 1; a < len(free); a++ { // there are few
		for b := a; b > 0 && free[b].score < free[b-1].score; b-- {
			free[b], free[b-1] = free[b-1], free[b]
		}
	}
	out = make([]int, n)
	if !s.match(md, free, out, pinned) {
		return nil, next
	}
	return out, at
}

// ahead are those who could fill a role of a mode, none of whose next free time is known yet.
func (s *state) ahead(i int, md *mode) []freeAt {
	list := s.scratch.ahead[:0]
	for _, w := range md.anyone {
		if !s.apartFrom(i, w) && (s.shun[i] != w+len(s.model.people) || s.all) {
			list = append(list, freeAt{who: w, start: -1})
		}
	}
	s.scratch.ahead = list
	return list
}

// score says who is taken last: those who are shunned, then those who can do most, then those who have done most.
func (s *state) score(i, w, pinned int) int {
	v := len(s.model.people[w].until)<<16 + s.load[w]
	if s.shun[i] == w {
		v += 1 << 24
	}
	if w == pinned {
		v = -1
	}
	return v
}

func (s *state) pinnedPerson(i int) int {
	for _, k := range s.acts[i].pins {
		if id := s.in.Pins[k].Person; id != "" {
			return slices.IndexFunc(s.model.people, func(p person) bool { return p.id == id })
		}
	}
	return -1
}

func (s *state) apartFrom(i, w int) bool {
	for _, o := range s.acts[i].apart {
		if s.is[o] && slices.Contains(s.at[o].people, w) {
			return true
		}
	}
	return false
}

// match gives each role somebody of its own by augmenting paths (Kuhn 1955). Whoever is pinned must have one.
func (s *state) match(md *mode, free []freeAt, out []int, pinned int) bool {
	if len(out) == 1 && pinned < 0 {
		for _, f := range free {
			if md.roles[0].may(f.who, f.end) {
				out[0] = f.who
				return true
			}
		}
		return false
	}
	for i := range out {
		out[i] = -1
	}
	found := 0
	for f := range free {
		if found == len(out) {
			break
		}
		seen := make([]bool, len(out))
		if s.augment(md, free, out, seen, f) {
			found++
		}
	}
	if found < len(out) {
		return false
	}
	return pinned < 0 || slices.Contains(out, pinned)
}

// augment finds a role for the f-th of those who are free, moving others if need be; nobody loses theirs.
func (s *state) augment(md *mode, free []freeAt, out []int, seen []bool, f int) bool {
	for k := range md.roles {
		if seen[k] || !md.roles[k].may(free[f].who, free[f].end) {
			continue
		}
		seen[k] = true
		holder := -1
		if out[k] >= 0 {
			holder = slices.IndexFunc(free, func(x freeAt) bool { return x.who == out[k] })
		}
		if holder < 0 || s.augment(md, free, out, seen, holder) {
			out[k] = free[f].who
			return true
		}
	}
	return false
}

// pieces finds tools that are free at a minute. nil: it cannot be, next is when to try again.
func (s *state) pieces(i int, md *mode, at, area int) (out []int, next int) {
	n := len(md.kinds)
	out = make([]int, 0, n)
	next = never
	pinned := s.pinnedTool(i)
	for k := range md.kinds {
		best, bestScore := -1, 0
		for _, t := range md.kinds[k].which {
			if slices.Contains(out, t) {
				continue
			}
			start, _, ok := s.toolFrom(t, at, md.minutes, s.acts[i].pause, area)
			if !ok {
				continue
			}
			if start > at {
				next = min(next, start)
				continue
			}
			score := s.carryScore(t, at, area)
			if t == pinned {
				score = -1
			}
			if best < 0 || score < bestScore {
				best, bestScore = t, score
			}
		}
		if best < 0 {
			return nil, next
		}
		out = append(out, best)
	}
	if pinned >= 0 && !slices.Contains(out, pinned) {
		start, _, ok := s.toolFrom(pinned, at+1, md.minutes, s.acts[i].pause, area)
		if !ok || !slices.ContainsFunc(md.kinds, func(n needs) bool { return slices.Contains(n.which, pinned) }) {
			return nil, never
		}
		return nil, start
	}
	return out, at
}

func (s *state) pinnedTool(i int) int {
	for _, k := range s.acts[i].pins {
		if id := s.in.Pins[k].Tool; id != "" {
			return slices.IndexFunc(s.model.tools, func(t piece) bool { return t.id == id })
		}
	}
	return -1
}

// carryScore prefers a tool that is in the area already, then one that nobody wants elsewhere.
func (s *state) carryScore(t, at, area int) int {
	x := &s.model.tools[t]
	if area < 0 {
		return 0
	}
	list := s.tools[t]
	place := x.area
	for k := taken(list, at) - 1; k >= 0; k-- {
		if list[k].place >= 0 {
			place = list[k].place
			break
		}
	}
	if place >= 0 && place != area {
		return 1 + x.carry
	}
	return 0
}
