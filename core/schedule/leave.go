package schedule

import "slices"

// refine looks, in a small instance, for the best plan by the exact search: with fewer jobs left out, or others, or
// with the same in less time. It reports whether it went through all.
func (m *model) refine(s *search) (proved bool) {
	if len(m.acts) > smallActs || s.cancelled {
		return false
	}
	nodes := exactWork / max(1, len(m.acts))
	most := s.bestIs.Unplaced
	for k := 0; k <= most; k++ {
		done := true
		choose(len(m.jobs), k, func(out []int) bool {
			in := m.staying(out)
			if len(in) != len(m.jobs)-k {
				return true
			}
			known := Objective{Tardiness: never, Finish: never}
			if k == most {
				known = s.objective()
			}
			x := m.newExact(in, nodes)
			plan, all := x.improve(known)
			nodes = max(x.nodes, 100)
			done = done && all
			if plan != nil {
				s.take(plan)
				s.bestIs = s.objective()
				most = k
			}
			return true
		})
		if proved = done; most == k {
			break
		}
	}
	return proved
}

// staying are the jobs that can be planned when some are left out.
func (m *model) staying(out []int) (in []int) {
	gone := m.withFollowers(out)
	for j := range m.jobs {
		if !slices.Contains(gone, j) {
			in = append(in, j)
		}
	}
	return in
}

// leftOut names what forbids the jobs that are left out.
func (m *model) leftOut(s *search) []Forbids {
	var gone []int
	for j := range m.jobs {
		if s.skip[j] {
			gone = append(gone, j)
		}
	}
	var out []Forbids
	left := forbidWork / max(1, len(m.acts))
	for _, j := range gone {
		f, ok := m.why(j, gone, &left)
		if ok && !slices.ContainsFunc(out, func(o Forbids) bool { return slices.Equal(o.Facts, f.Facts) }) {
			out = append(out, f)
		}
	}
	return out
}

// withFollowers adds the jobs that a link leads to from one that is left out.
func (m *model) withFollowers(out []int) []int {
	list := slices.Clone(out)
	for n := 0; n < len(list); n++ {
		for _, i := range m.jobs[list[n]].acts {
			for _, k := range m.acts[i].out {
				if j := m.acts[m.links[k].to].job; m.acts[i].begun == nil && !slices.Contains(list, j) {
					list = append(list, j)
				}
			}
		}
	}
	return list
}

// choose goes through the ways to take k of n; give says whether to go on.
func choose(n, k int, give func([]int) bool) {
	var walk func(from int, have []int) bool
	walk = func(from int, have []int) bool {
		if len(have) == k {
			return give(have)
		}
		for j := from; j < n; j++ {
			if !walk(j+1, append(slices.Clip(have), j)) {
				return false
			}
		}
		return true
	}
	walk(0, nil)
}

// take puts a plan of the exact search in the place of the one found.
func (s *search) take(plan *node) {
	s.clear()
	for j := range s.jobs {
		s.skip[j] = false
		for _, i := range s.jobs[j].acts {
			if !plan.has[i] {
				s.skip[j] = true
			}
		}
	}
	for _, i := range s.order {
		if plan.has[i] && s.acts[i].begun == nil && !s.skip[s.acts[i].job] {
			p := plan.at[i]
			p.start, p.end = plan.start[i], plan.end[i]
			s.put(i, p)
			if a := &s.acts[i]; a.iso >= 0 {
				k := a.job*len(s.windows) + a.iso
				s.window[k] = plan.window[k]
			}
		}
	}
}

// before are the jobs that links lead from to a job, and itself.
func (m *model) before(j int) []int {
	list := []int{j}
	for n := 0; n < len(list); n++ {
		for _, i := range m.jobs[list[n]].acts {
			for _, k := range m.acts[i].in {
				if f := m.acts[m.links[k].from].job; !slices.Contains(list, f) {
					list = append(list, f)
				}
			}
		}
	}
	slices.Sort(list)
	return list
}

// why names what forbids a job: of everything when that is little; else of the job with what it follows, then together
// with another one.
func (m *model) why(j int, gone []int, left *int) (f Forbids, ok bool) {
	if len(m.acts) <= smallActs {
		var all []int
		for k := range m.jobs {
			if k == j || !slices.Contains(gone, k) {
				all = append(all, k)
			}
		}
		if f, ok = m.forbidden(all, left); ok {
			f.Jobs = m.concerned(f, all)
			return f, true
		}
	}
	alone := m.before(j)
	if f, ok = m.forbidden(alone, left); ok {
		f.Jobs = m.concerned(f, alone)
		return f, true
	}
	for k := range m.jobs {
		if slices.Contains(alone, k) || *left <= 0 {
			continue
		}
		set := append(slices.Clone(alone), m.before(k)...)
		slices.Sort(set)
		set = slices.Compact(set)
		if f, ok = m.forbidden(set, left); ok {
			f.Jobs = m.concerned(f, set)
			return f, true
		}
	}
	return f, false
}

// concerned are the jobs that the facts of a set speak of.
func (m *model) concerned(f Forbids, jobs []int) []string {
	var out []string
	for _, j := range jobs {
		if slices.ContainsFunc(m.facts([]int{j}), func(x fact) bool { return slices.Contains(f.Facts, x.name) }) {
			out = append(out, m.jobs[j].id)
		}
	}
	return out
}
