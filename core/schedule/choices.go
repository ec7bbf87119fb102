package schedule

import "slices"

// choices are the ways of doing an activity: a mode, people and tools.
func (x *exact) choices(n *node, i int) []*node {
	var out []*node
	a := &x.acts[i]
	s := &state{model: x.model}
	for m := range a.modes {
		md := &a.modes[m]
		s.mode = make([]int, len(x.acts))
		s.mode[i] = -1
		if !s.mayMode(i, m) {
			continue
		}
		x.people(n, i, md, nil, func(people []int) {
			x.tools(n, md, nil, func(tools []int) {
				p := placed{mode: m, people: slices.Clone(people), tools: slices.Clone(tools)}
				if !s.pinsHold(i, p) {
					return
				}
				k := n.copy()
				k.has[i], k.at[i], k.open[i] = true, p, s.open(i, p)
				out = append(out, k)
			})
		})
	}
	return out
}

// people goes through the ways to fill the roles of a mode. Of several that are alike and at nothing else one is
// enough.
func (x *exact) people(n *node, i int, md *mode, have []int, give func([]int)) {
	if len(have) == len(md.roles) {
		give(have)
		return
	}
	k := len(have)
	r := &md.roles[k]
	var tried []int
	for _, w := range r.who {
		if slices.Contains(have, w) || x.sharedWithApart(n, i, w) ||
			k > 0 && md.roles[k-1].demand == r.demand && w < have[k-1] { // the same role: in one order
			continue
		}
		if x.idle(n, w) && slices.ContainsFunc(tried, func(o int) bool { return x.alike(o, w) && x.idle(n, o) }) {
			continue
		}
		tried = append(tried, w)
		x.people(n, i, md, append(slices.Clip(have), w), give)
	}
}

func (x *exact) sharedWithApart(n *node, i, w int) bool {
	for _, o := range x.acts[i].apart {
		if x.in[o] && n.has[o] && slices.Contains(n.at[o].people, w) {
			return true
		}
	}
	return false
}

func (x *exact) idle(n *node, w int) bool {
	for i := range x.acts {
		if n.has[i] && slices.Contains(n.at[i].people, w) {
			return false
		}
	}
	return true
}

// alike reports whether two people can do the same at the same times, and neither is named by a pin.
func (x *exact) alike(v, w int) bool {
	p, q := &x.model.people[v], &x.model.people[w]
	if !slices.Equal(p.open, q.open) || len(p.until) != len(q.until) {
		return false
	}
	for s, t := range p.until {
		if u, ok := q.until[s]; !ok || u != t {
			return false
		}
	}
	for _, pin := range x.model.in.Pins {
		if pin.Person == p.id || pin.Person == q.id {
			return false
		}
	}
	return true
}

func (x *exact) tools(n *node, md *mode, have []int, give func([]int)) {
	if len(have) == len(md.kinds) {
		give(have)
		return
	}
	k := len(have)
	var tried []int
	for _, t := range md.kinds[k].which {
		if slices.Contains(have, t) || k > 0 && md.kinds[k-1].demand == md.kinds[k].demand && t < have[k-1] {
			continue
		}
		if x.unused(n, t) && slices.ContainsFunc(tried, func(o int) bool { return x.same(o, t) && x.unused(n, o) }) {
			continue
		}
		tried = append(tried, t)
		x.tools(n, md, append(slices.Clip(have), t), give)
	}
}

func (x *exact) unused(n *node, t int) bool {
	for i := range x.acts {
		if n.has[i] && slices.Contains(n.at[i].tools, t) {
			return false
		}
	}
	return true
}

func (x *exact) same(v, w int) bool {
	p, q := &x.model.tools[v], &x.model.tools[w]
	for _, pin := range x.model.in.Pins {
		if pin.Tool == p.id || pin.Tool == q.id {
			return false
		}
	}
	return p.area == q.area && p.carry == q.carry && slices.Equal(p.open, q.open)
}
