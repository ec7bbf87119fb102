package schedule

import "slices"

// conflict gives the orders of which one must hold because of a person, a tool or an area that is wanted by more than
// it has room for; nil: there is none.
func (x *exact) conflict(n *node) []order {
	var list []int
	for i := range x.acts {
		if x.in[i] && n.has[i] {
			list = append(list, i)
		}
	}
	for a, i := range list {
		for _, j := range list[:a] {
			if x.acts[i].begun != nil && x.acts[j].begun != nil || x.ordered(n, i, j) {
				continue
			}
			gap, share := x.gap(n, i, j)
			if share && n.start[i] < n.end[j]+gap && n.start[j] < n.end[i]+gap {
				return []order{{i, j, gap}, {j, i, gap}}
			}
		}
	}
	for r := range x.model.areas {
		if set := x.overfull(n, list, r); set != nil {
			var out []order
			for _, i := range set {
				for _, j := range set {
					if i != j && !x.ordered(n, i, j) {
						out = append(out, order{i, j, 0})
					}
				}
			}
			return out
		}
	}
	return nil
}

func (x *exact) ordered(n *node, i, j int) bool {
	return slices.ContainsFunc(n.orders, func(o order) bool {
		return o.first == i && o.then == j || o.first == j && o.then == i
	})
}

// gap reports whether two activities share somebody or something, and how many minutes must lie between them for
// carrying it.
func (x *exact) gap(n *node, i, j int) (gap int, share bool) {
	for _, w := range n.at[i].people {
		share = share || slices.Contains(n.at[j].people, w)
	}
	for _, t := range n.at[i].tools {
		if slices.Contains(n.at[j].tools, t) {
			share = true
			if p, q := x.acts[i].place(), x.acts[j].place(); p >= 0 && q >= 0 && p != q {
				gap = max(gap, x.model.tools[t].carry)
			}
		}
	}
	return gap, share
}

// overfull gives activities that together take more places than an area has at some minute, none of them too many.
func (x *exact) overfull(n *node, list []int, r int) []int {
	limit := x.model.areas[r].places
	if limit == never {
		return nil
	}
	takes := func(i int) int {
		k := 0
		for _, u := range x.acts[i].at {
			if u.area == r {
				k += u.places
			}
		}
		return k
	}
	for _, i := range list {
		if takes(i) == 0 {
			continue
		}
		at, used := n.start[i], takes(i)
		set := []int{i}
		for _, j := range list {
			if used > limit {
				break
			}
			if j != i && takes(j) > 0 && n.start[j] <= at && at < n.end[j] {
				set, used = append(set, j), used+takes(j)
			}
		}
		if used > limit && slices.ContainsFunc(set, func(k int) bool { return x.acts[k].begun == nil }) {
			return set
		}
	}
	return nil
}
