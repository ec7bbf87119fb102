package schedule

import "slices"

// unit is activities that maximum lags tie together, and what lies between them: they are placed as one, in the order
// of their links.
type unit struct {
	acts   []int
	after  []int // units that must stand before it
	before []int // units that wait for it
}

// units divides what is to be placed.
func (m *model) units() []unit {
	group := make([]int, len(m.acts))
	for i := range group {
		group[i] = i
	}
	var root func(int) int
	root = func(i int) int {
		if group[i] != i {
			group[i] = root(group[i])
		}
		return group[i]
	}
	for i := range m.links {
		if l := &m.links[i]; l.max != never {
			group[root(l.from)] = root(l.to)
		}
	}
	m.between(group, root)
	list, at := []unit{}, map[int]int{}
	for _, i := range m.order { // in link order within each
		if m.acts[i].fixed != nil {
			continue
		}
		r := root(i)
		k, ok := at[r]
		if !ok {
			k = len(list)
			at[r] = k
			list = append(list, unit{})
		}
		list[k].acts = append(list[k].acts, i)
	}
	of := make([]int, len(m.acts))
	for i := range of {
		of[i] = -1
	}
	for k := range list {
		for _, i := range list[k].acts {
			of[i] = k
		}
	}
	for i := range m.links {
		u, v := of[m.links[i].from], of[m.links[i].to]
		if u >= 0 && v >= 0 && u != v && !slices.Contains(list[v].after, u) {
			list[v].after, list[u].before = append(list[v].after, u), append(list[u].before, v)
		}
	}
	return list
}

// between joins units that wait for each other: a path that leaves a unit and comes back belongs to it.
func (m *model) between(group []int, root func(int) int) {
	for again := true; again; {
		again = false
		next := map[int][]int{}
		for i := range m.links {
			u, v := root(m.links[i].from), root(m.links[i].to)
			if u != v {
				next[u] = append(next[u], v)
			}
		}
		state := map[int]int{}
		var stack []int
		var walk func(int) bool
		walk = func(u int) bool {
			state[u] = 1
			stack = append(stack, u)
			for _, v := range next[u] {
				if state[v] == 1 { // a circle: all of it is one unit
					for k := len(stack) - 1; stack[k] != v; k-- {
						group[root(stack[k])] = root(v)
					}
					return true
				}
				if state[v] == 0 && walk(v) {
					return true
				}
			}
			state[u] = 2
			stack = stack[:len(stack)-1]
			return false
		}
		for _, i := range m.order {
			if u := root(i); state[u] == 0 && walk(u) {
				again = true
				break
			}
		}
	}
}
