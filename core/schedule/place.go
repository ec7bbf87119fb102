package schedule

import (
	"sort"
)

// taken gives the first slot that ends after minute s.
func taken(list []slot, s int) int {
	n := len(list)
	if n == 0 || list[n-1].end <= s {
		return n
	}
	return sort.Search(n, func(i int) bool { return list[i].end > s })
}

// personFrom gives when a person could do so many minutes alone, at a minute or as soon after it as possible.
func (s *state) personFrom(w, at, minutes, pause int) (start, end int, ok bool) {
	open, list := s.model.people[w].open, s.people[w]
	k := taken(list, at)
	if pause > 0 {
		for i := first(open, at); ; {
			start, end, i, ok = advanceFrom(open, i, at, minutes, pause)
			if !ok {
				return 0, 0, false
			}
			for k < len(list) && list[k].end <= start {
				k++
			}
			if k == len(list) || list[k].start >= end {
				return start, end, true
			}
			at = list[k].end
		}
	}
	for i := first(open, at); i < len(open); {
		start = max(at, open[i][0])
		for k < len(list) && list[k].end <= start {
			k++
		}
		if end = start + minutes; end > open[i][1] {
			i++
			continue
		}
		if k == len(list) || list[k].start >= end {
			return start, end, true
		}
		at = list[k].end
		for i < len(open) && open[i][1] <= at {
			i++
		}
	}
	return 0, 0, false
}

// toolFrom gives when a tool could be used alone in an area, with the minutes that carrying it takes.
func (s *state) toolFrom(t, at, minutes, pause, area int) (start, end int, ok bool) {
	x := &s.model.tools[t]
	list := s.tools[t]
	for {
		start, end, ok = advance(x.open, at, minutes, pause)
		if !ok {
			return 0, 0, false
		}
		k := taken(list, start)
		if k < len(list) && list[k].start < end {
			at = list[k].end
			continue
		}
		if x.carry == 0 {
			return start, end, true
		}
		if came := s.carriedBy(x, list, k, area); came > start {
			at = came
			continue
		}
		if k < len(list) && area >= 0 && list[k].place >= 0 && list[k].place != area && end+x.carry > list[k].start {
			at = list[k].end
			continue
		}
		return start, end, true
	}
}

// carriedBy is when a tool can be in an area after the first k of its uses.
func (s *state) carriedBy(x *piece, list []slot, k, area int) int {
	place, end := x.area, 0
	if k > 0 {
		end = list[k-1].end
		for i := k - 1; i >= 0; i-- {
			if list[i].place >= 0 {
				place = list[i].place
				break
			}
		}
	}
	if area < 0 || place < 0 || place == area {
		return 0
	}
	return end + x.carry
}

// roomFrom gives s when an area has room for an activity in [s, e), else when it may have at the earliest.
func (s *state) roomFrom(u use, start, end int) int {
	limit := s.model.areas[u.area].places
	if limit == never {
		return start
	}
	list := s.areas[u.area]
	stop := sort.Search(len(list), func(i int) bool { return list[i].start >= end })
	used := 0
	for _, x := range list[:stop] {
		if x.end > start {
			used += x.n
		}
	}
	if used+u.places <= limit {
		return start
	}
	// by the minute: how much is taken at each moment at which something begins
	for i := -1; i < stop; i++ {
		at := start
		if i >= 0 {
			if at = list[i].start; at <= start {
				continue
			}
		}
		n, ends := u.places, never
		for _, y := range list[:stop] {
			if y.start <= at && y.end > at {
				n += y.n
				ends = min(ends, y.end)
			}
		}
		if n > limit {
			return ends
		}
	}
	return start
}

// find gives the earliest place for an activity in a mode. ok is false when there is none.
func (s *state) find(i, m int, b bounds) (p placed, ok bool) {
	a, md := &s.acts[i], &s.acts[i].modes[m]
	area := a.place()
	ahead := s.ahead(i, md)
	for at := b.start; at <= b.lastStart && at+md.minutes <= b.lastEnd; {
		next := at
		for _, u := range a.at {
			start, _, ok := advance(s.model.areas[u.area].open, at, md.minutes, a.pause)
			if !ok {
				return p, false
			}
			next = max(next, start)
		}
		if next > at {
			at = next
			continue
		}
		people, next := s.persons(i, md, at, b.lastEnd, ahead)
		if people == nil {
			if next == never {
				return p, false
			}
			at = next
			continue
		}
		tools, next := s.pieces(i, md, at, area)
		if tools == nil {
			if next == never {
				return p, false
			}
			at = next
			continue
		}
		p = placed{start: at, mode: m, people: people, tools: tools}
		if next = s.together(i, &p, b); next == at {
			return p, true
		}
		at = next
	}
	return p, false
}

// together gives the start when people, tools and areas can be together, else the next one to try.
func (s *state) together(i int, p *placed, b bounds) int {
	a, md := &s.acts[i], &s.acts[i].modes[p.mode]
	p.end = p.start + md.minutes
	if a.pause > 0 {
		start, end, ok := advance(s.open(i, *p), p.start, md.minutes, a.pause)
		if !ok {
			return never
		}
		if start > p.start {
			return start
		}
		if next := s.freeFrom(i, *p, end); next > p.start {
			return next
		}
		p.end = end
	}
	for _, u := range a.at {
		if next := s.roomFrom(u, p.start, p.end); next > p.start {
			return next
		}
	}
	for k, w := range p.people {
		if !md.roles[k].may(w, p.end) { // a rest that only the others take
			return p.start + 1
		}
	}
	if p.end < b.end && a.pause == 0 {
		return p.start + b.end - p.end
	}
	if p.end < b.end {
		return p.start + 1
	}
	if p.end > b.lastEnd {
		return never
	}
	return p.start
}

// open are the minutes in which everyone and everything that an activity has is there.
func (s *state) open(i int, p placed) []Window {
	w := []Window{{0, never}}
	for _, x := range p.people {
		w = meet(w, s.model.people[x].open)
	}
	for _, x := range p.tools {
		w = meet(w, s.model.tools[x].open)
	}
	for _, u := range s.acts[i].at {
		w = meet(w, s.model.areas[u.area].open)
	}
	return w
}

// freeFrom gives the start when nobody and nothing that an activity has is taken from there until a minute, else when
// the first that is taken is free again.
func (s *state) freeFrom(i int, p placed, end int) int {
	for _, w := range p.people {
		if list := s.people[w]; len(list) > 0 {
			if k := taken(list, p.start); k < len(list) && list[k].start < end {
				return list[k].end
			}
		}
	}
	for _, t := range p.tools {
		x, list := &s.model.tools[t], s.tools[t]
		k := taken(list, p.start)
		if k == len(list) {
			continue
		}
		need := end
		if area := s.acts[i].place(); area >= 0 && list[k].place >= 0 && list[k].place != area {
			need += x.carry
		}
		if list[k].start < need {
			return list[k].end
		}
	}
	return p.start
}
