package schedule

import (
	"context"
	"slices"
)

// near are the activities of the plan in force that begin before it may be changed freely, by activity.
func (m *model) near() map[int]placed {
	out := map[int]placed{}
	if m.in.Keep == nil {
		return out
	}
	for _, x := range m.in.Keep.Plan {
		i := m.byID[x.Activity]
		if x.Start >= m.in.Keep.Until || m.acts[i].begun != nil {
			continue
		}
		p := placed{start: x.Start, mode: m.modeOf(i, x.Mode)}
		for _, id := range x.People {
			p.people = append(p.people, slices.IndexFunc(m.people, func(w person) bool { return w.id == id }))
		}
		for _, id := range x.Tools {
			p.tools = append(p.tools, slices.IndexFunc(m.tools, func(t piece) bool { return t.id == id }))
		}
		out[i] = p
	}
	return out
}

// standing finds which of the near activities can stay as they were announced: each fits with those before it.
func (m *model) standing(near map[int]placed, drop map[int]bool) map[int]placed {
	s := m.newState()
	var list []int
	for i := range near {
		list = append(list, i)
	}
	slices.SortFunc(list, func(a, b int) int {
		if near[a].start != near[b].start {
			return near[a].start - near[b].start
		}
		return a - b
	})
	out := map[int]placed{}
	for _, i := range list {
		p := near[i]
		if drop[i] || !m.filled(i, p) {
			continue
		}
		if a := &m.acts[i]; a.iso >= 0 { // the window that it lies in
			k := a.job*len(m.windows) + a.iso
			for n, w := range m.windows[a.iso] {
				if w[0] <= p.start && p.start < w[1] {
					s.window[k] = n
				}
			}
		}
		if q, ok := s.fits(i, p); ok {
			s.put(i, q)
			out[i] = q
		}
	}
	return out
}

// filled reports whether people and tools are as many and as able as the mode asks.
func (m *model) filled(i int, p placed) bool {
	if p.mode < 0 || slices.Contains(p.people, -1) || slices.Contains(p.tools, -1) {
		return false
	}
	md := &m.acts[i].modes[p.mode]
	if len(p.people) != len(md.roles) || len(p.tools) != len(md.kinds) {
		return false
	}
	for k, t := range p.tools {
		if !slices.Contains(md.kinds[k].which, t) {
			return false
		}
	}
	for k, w := range p.people {
		if !slices.Contains(md.roles[k].who, w) || slices.Contains(p.people[:k], w) {
			return false
		}
	}
	return true
}

// holding is the model in which some activities stand as they were announced.
func (m *model) holding(stay map[int]placed) *model {
	c := *m
	c.acts = slices.Clone(m.acts)
	for i, p := range stay {
		c.acts[i].fixed = &p
	}
	return &c
}

// changed are the near activities that are not as they were announced, by name.
func (m *model) changed(s *state, near map[int]placed) []string {
	out := []string{}
	for i := range m.acts {
		p, ok := near[i]
		if !ok {
			continue
		}
		q := s.at[i]
		if !s.is[i] || q.start != p.start || q.mode != p.mode || !alikeSet(q.people, p.people) ||
			!alikeSet(q.tools, p.tools) {
			out = append(out, m.acts[i].id)
		}
	}
	slices.Sort(out)
	return out
}

func alikeSet(a, b []int) bool {
	x, y := slices.Clone(a), slices.Clone(b)
	slices.Sort(x)
	slices.Sort(y)
	return slices.Equal(x, y)
}

// mostDropped is how many of the near activities are tried one by one when all of them cannot stay. Where more than
// fewNear are near, what stands in the way is let go instead, a round after another.
const (
	mostDropped = 24
	fewNear     = 12
	letGoRounds = 10
)

// again plans with the near activities as they were announced: as many of them as can be with no more jobs left out.
func (m *model) again(ctx context.Context, o Options, free *search, near map[int]placed) *search {
	plan := func(drop map[int]bool, work int) *search {
		s := m.holding(m.standing(near, drop)).newSearch(ctx, o.Seed, free.bound, work)
		s.run()
		return s
	}
	if len(near) > fewNear {
		return m.letGo(
			free,
			near,
			func(drop map[int]bool, share int) *search { return plan(drop, max(1, o.Work/share)) },
		)
	}
	all := plan(nil, o.Work)
	if all.bestIs.Unplaced <= free.bestIs.Unplaced {
		return all
	}
	var best *search
	tried := 0
	for i := range m.acts {
		if _, ok := near[i]; !ok || tried >= mostDropped {
			continue
		}
		tried++
		s := plan(map[int]bool{i: true}, o.Work)
		if s.bestIs.Unplaced <= free.bestIs.Unplaced && (best == nil || s.bestIs.Before(best.bestIs)) {
			best = s
		}
	}
	if best == nil { // more than one must go
		return free
	}
	return best
}

// letGo lets what was announced of the jobs go that cannot be planned beside it; when that is not enough, what others
// do with the same people and tools at about that time, further about in each round.
func (m *model) letGo(free *search, near map[int]placed, plan func(drop map[int]bool, share int) *search) *search {
	drop := map[int]bool{}
	for round := 1; round <= letGoRounds; round++ {
		s := plan(drop, letGoRounds)
		if s.bestIs.Unplaced <= free.bestIs.Unplaced {
			return plan(drop, 1)
		}
		left := s.skip
		had := len(drop)
		for i := range near {
			if left[m.acts[i].job] {
				drop[i] = true
			}
		}
		if len(drop) > had {
			continue
		}
		about := 60 * round // minutes
		for i, p := range near {
			if !left[m.acts[i].job] {
				continue
			}
			for k, q := range near {
				apart := max(q.start-p.start, p.start-q.start)
				if apart <= about && (shared(p.people, q.people) || shared(p.tools, q.tools)) {
					drop[k] = true
				}
			}
		}
	}
	return free // all of it may go
}

func shared(a, b []int) bool {
	return slices.ContainsFunc(a, func(x int) bool { return slices.Contains(b, x) })
}
