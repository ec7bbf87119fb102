package schedule

import (
	"slices"
	"sort"
)

// fits gives where an activity that is out of the plan ends when it begins at exactly p.start with the mode, people and
// tools of p. ok is false when a rule forbids it.
func (s *state) fits(i int, p placed) (out placed, ok bool) {
	a := &s.acts[i]
	b, ok := s.bounds(i, true)
	if !ok || p.start < b.start || p.start > b.lastStart {
		return p, false
	}
	md := &a.modes[p.mode]
	end, ok := runsFrom(s.open(i, p), p.start, md.minutes, a.pause)
	if !ok || end < b.end || end > b.lastEnd || s.freeFrom(i, p, end) > p.start {
		return p, false
	}
	p.end = end
	for k, w := range p.people {
		if !md.roles[k].may(w, end) || s.apartFrom(i, w) {
			return p, false
		}
	}
	area := a.place()
	for _, t := range p.tools {
		x := &s.model.tools[t]
		if x.carry > 0 && s.carriedBy(x, s.tools[t], taken(s.tools[t], p.start), area) > p.start {
			return p, false
		}
	}
	for _, u := range a.at {
		if s.roomFrom(u, p.start, end) > p.start {
			return p, false
		}
	}
	return p, s.pinsHold(i, p)
}

// pinsHold reports whether the pins on an activity are kept.
func (s *state) pinsHold(i int, p placed) bool {
	for _, k := range s.acts[i].pins {
		x := &s.in.Pins[k]
		if x.Mode != "" && s.acts[i].modes[p.mode].id != x.Mode ||
			x.Person != "" && !slices.Contains(p.people, s.pinnedPerson(i)) ||
			x.Tool != "" && !slices.Contains(p.tools, s.pinnedTool(i)) {
			return false
		}
	}
	return true
}

// justify lets every activity begin as early as it can with all else unchanged, until nothing moves.
func (s *state) justify(stay []bool) {
	clear(s.lift)
	for moved := true; moved; {
		moved = false
		for _, i := range s.byStart() {
			if s.acts[i].begun != nil || stay != nil && stay[i] {
				continue
			}
			was := s.at[i]
			s.out(i)
			now := was
			for {
				p := now
				p.start--
				p, ok := s.fits(i, p)
				if !ok {
					break
				}
				now = p
			}
			s.put(i, now)
			moved = moved || now.start < was.start
		}
	}
}

// byStart gives the activities that are placed, in order of their starts.
func (s *state) byStart() []int {
	var list []int
	for i := range s.acts {
		if s.is[i] {
			list = append(list, i)
		}
	}
	sort.SliceStable(list, func(a, b int) bool {
		x, y := s.at[list[a]], s.at[list[b]]
		if x.start != y.start {
			return x.start < y.start
		}
		return x.end < y.end
	})
	return list
}

// because gives the first rule that starting a minute earlier would break. kept are the activities that stay as they
// were announced.
func (s *state) because(i int, kept bool) *Because {
	a, p := &s.acts[i], s.at[i]
	at := p.start - 1
	switch {
	case p.start == max(0, s.now):
		return &Because{Rule: "now"}
	case at < a.release:
		return &Because{Rule: "release", What: a.id}
	}
	for _, k := range a.pins {
		x := &s.in.Pins[k]
		if x.Start != nil {
			return &Because{Rule: "pin", What: k + 1, How: "start"}
		}
		if x.NotBefore != nil && at < *x.NotBefore {
			return &Because{Rule: "pin", What: k + 1, How: "not_before"}
		}
	}
	if kept {
		return &Because{Rule: "kept", What: a.id}
	}
	if a.iso >= 0 && at < s.windowHeld(a.job, a.iso) {
		return &Because{Rule: "isolation", What: s.in.Isolations[a.iso].ID}
	}
	s.out(i)
	defer s.put(i, p)
	end, runs := runsFrom(s.open(i, p), at, a.modes[p.mode].minutes, a.pause)
	if !runs {
		if b := s.closed(i, p); b != nil {
			return b
		}
	}
	if b := s.linked(i, at, end, runs); b != nil {
		return b
	}
	if !runs {
		end = at + 1
	}
	return s.busy(i, p, at, end)
}

// windowHeld is when the window of an isolation begins that all of a job's work under it lies in.
func (s *state) windowHeld(j, iso int) int {
	for _, w := range s.windows[iso] {
		if s.holds(j, iso, w) {
			return w[0]
		}
	}
	return 0
}

func (s *state) holds(j, iso int, w Window) bool {
	for _, i := range s.jobs[j].acts {
		if a := &s.acts[i]; a.iso == iso && s.is[i] && a.begun == nil && (s.at[i].start < w[0] || s.at[i].end > w[1]) {
			return false
		}
	}
	return true
}

func (s *state) closed(i int, p placed) *Because {
	for _, w := range p.people {
		if closedIn(s.model.people[w].open, p.start-1, p.end) {
			return &Because{Rule: "person", What: s.model.people[w].id, How: "closed"}
		}
	}
	for _, t := range p.tools {
		if closedIn(s.model.tools[t].open, p.start-1, p.end) {
			return &Because{Rule: "tool", What: s.model.tools[t].id, How: "closed"}
		}
	}
	for _, u := range s.acts[i].at {
		if closedIn(s.model.areas[u.area].open, p.start-1, p.end) {
			return &Because{Rule: "area", What: s.model.areas[u.area].id, How: "closed"}
		}
	}
	return nil
}

// linked finds the link that forbids a start; end is when it would end, known when runs.
func (s *state) linked(i, at, end int, runs bool) *Because {
	moment := func(e bool) (int, bool) {
		if e {
			return end, runs
		}
		return at, true
	}
	for _, k := range s.acts[i].in {
		l := &s.links[k]
		if t, ok := moment(l.toE); ok && s.is[l.from] && t-s.time(l.from, l.fromE) < l.min {
			return &Because{Rule: "link", What: l.id, How: "min"}
		}
	}
	for _, k := range s.acts[i].out {
		l := &s.links[k]
		if t, ok := moment(l.fromE); ok && l.max != never && s.is[l.to] && s.time(l.to, l.toE)-t > l.max {
			return &Because{Rule: "link", What: l.id, How: "max"}
		}
	}
	return nil
}

func (s *state) busy(i int, p placed, at, end int) *Because {
	for _, w := range p.people {
		if list, k := s.people[w], taken(s.people[w], at); k < len(list) && list[k].start < end {
			return &Because{Rule: "person", What: s.model.people[w].id, How: "busy", Other: s.acts[list[k].act].id}
		}
	}
	area := s.acts[i].place()
	for _, t := range p.tools {
		x := &s.model.tools[t]
		list, k := s.tools[t], taken(s.tools[t], at)
		if k < len(list) && list[k].start < end {
			return &Because{Rule: "tool", What: x.id, How: "busy", Other: s.acts[list[k].act].id}
		}
		if s.carriedBy(x, list, k, area) > at {
			b := &Because{Rule: "tool", What: x.id, How: "carry"}
			if k > 0 {
				b.Other = s.acts[list[k-1].act].id
			}
			return b
		}
	}
	for _, u := range s.acts[i].at {
		if s.roomFrom(u, at, at+1) > at {
			return &Because{Rule: "area", What: s.model.areas[u.area].id, How: "full"}
		}
	}
	return nil
}
