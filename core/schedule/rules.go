package schedule

import "sort"

// ranked gives keys by what comes first.
func (s *search) ranked(less func(u, v int) bool) []int {
	order := make([]int, len(s.units))
	for i := range order {
		order[i] = i
	}
	sort.SliceStable(order, func(a, b int) bool { return less(order[a], order[b]) })
	key := make([]int, len(order))
	for n, u := range order {
		key[u] = (n + 1) * keyGap
	}
	return key
}

// dueOf is by when a unit's work should be done: the due time of its job less what comes after it.
func (s *search) dueOf(u int) int {
	due := never
	for _, i := range s.units[u].acts {
		if d := s.jobs[s.acts[i].job].due; d != never {
			due = min(due, d-s.tail[u])
		}
	}
	return due
}

// rules are the first plans: the order of the jobs, longest tail, least time to the due one, most work.
func (s *search) rules() [][]int {
	job := func(u int) int { return s.acts[s.units[u].acts[0]].job }
	work := func(u int) int {
		n := 0
		for _, i := range s.units[u].acts {
			n += s.shortest(i)
		}
		return n
	}
	due := make([]int, len(s.units))
	for u := range due {
		due[u] = s.dueOf(u)
	}
	for again := true; again; { // what others wait for is wanted before them
		again = false
		for u := range due {
			for _, v := range s.units[u].before {
				if d := due[v] - 1; due[v] < never && d < due[u] {
					due[u], again = d, true
				}
			}
		}
	}
	list := [][]int{
		s.ranked(func(u, v int) bool { return job(u) < job(v) }),
		s.ranked(func(u, v int) bool { return s.tail[u] > s.tail[v] }),
		s.ranked(func(u, v int) bool {
			if due[u] != due[v] {
				return due[u] < due[v]
			}
			return s.tail[u] > s.tail[v]
		}),
		s.ranked(func(u, v int) bool { return work(u) > work(v) }),
		s.ranked(func(u, v int) bool {
			if due[u] != due[v] {
				return due[u] < due[v]
			}
			return job(u) < job(v)
		}),
	}
	// as if every job were due, one after the other over the time that all take at least
	for _, f := range []int{0, 25, 50, 100, 150} {
		by := make([]int, len(s.units))
		for u := range by {
			if by[u] = due[u]; due[u] == never || f == 0 {
				by[u] = s.bound.Finish*(job(u)+1)/len(s.jobs) - s.tail[u]*f/100
			}
		}
		list = append(list, s.ranked(func(u, v int) bool { return by[u] < by[v] }))
	}
	return list
}

// least gives, of each activity, the mode that takes the fewest person-minutes.
func (s *search) least() []int {
	out := make([]int, len(s.acts))
	for i := range out {
		for k := range s.acts[i].modes {
			if s.personMinutes(i, k) < s.personMinutes(i, out[i]) {
				out[i] = k
			}
		}
	}
	return out
}
