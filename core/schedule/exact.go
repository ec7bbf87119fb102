package schedule

import (
	"math"
	"slices"
)

// exact decides whether some jobs can all be planned. It branches on modes, people and tools of an activity, and on
// which of two that want the same goes first; what follows from a choice is the earliest start of everything, which is
// least for all of them at once because every rule only ever asks for a later start.
type exact struct {
	*model
	in    []bool // activities of the jobs that are looked at
	nodes int    // branches that may still be tried
	// when a plan is wanted that is better than one that is known: that one, then the best found
	better *Objective
	found  *node
}

// no link asks for an order
const noMin = math.MinInt32

// node is a partial choice.
type node struct {
	has        []bool // chosen
	at         []placed
	open       [][]Window
	start, end []int
	window     []int // by job and isolation
	orders     []order
}

// order lets one activity begin only when another has ended, and so many minutes are over.
type order struct{ first, then, gap int }

func (m *model) newExact(jobs []int, nodes int) *exact {
	x := &exact{model: m, in: make([]bool, len(m.acts)), nodes: nodes}
	for i := range m.acts {
		x.in[i] = slices.Contains(jobs, m.acts[i].job) || m.acts[i].begun != nil
	}
	return x
}

func (x *exact) root() *node {
	n := &node{has: make([]bool, len(x.acts)), at: make([]placed, len(x.acts)), open: make([][]Window, len(x.acts)),
		start: make([]int, len(x.acts)), end: make([]int, len(x.acts)),
		window: make([]int, len(x.jobs)*max(1, len(x.windows)))}
	for i := range x.acts {
		if p := x.acts[i].fixed; p != nil {
			n.has[i], n.at[i], n.start[i], n.end[i] = true, *p, p.start, p.end
		}
	}
	return n
}

func (n *node) copy() *node {
	return &node{
		slices.Clone(n.has),
		slices.Clone(n.at),
		slices.Clone(n.open),
		slices.Clone(n.start),
		slices.Clone(n.end),
		slices.Clone(n.window),
		slices.Clip(n.orders),
	}
}

// verdict of the exact search.
type verdict int

const (
	cannot verdict = iota
	can
	unknown // the work is done and it is not known
)

// decide looks for a plan of everything; it is given when there is one.
func (x *exact) decide() (verdict, *node) { return x.branch(x.root()) }

func (x *exact) branch(n *node) (verdict, *node) {
	if x.nodes--; x.nodes < 0 {
		return unknown, nil
	}
	if !x.settle(n) || x.better != nil && !x.worth(n).Before(*x.better) {
		return cannot, nil
	}
	var kids []*node
	if pairs := x.conflict(n); pairs != nil {
		slices.SortStableFunc(pairs, func(a, b order) int { return n.end[a.first] - n.end[b.first] })
		for _, o := range pairs {
			k := n.copy()
			k.orders = append(k.orders, o)
			kids = append(kids, k)
		}
	} else {
		i := x.next(n)
		if i < 0 {
			if x.better == nil {
				return can, n
			}
			o := x.worth(n) // and on with the search for a better one still
			x.better, x.found = &o, n
			return cannot, nil
		}
		kids = x.choices(n, i)
	}
	out := cannot
	for _, k := range kids {
		switch v, plan := x.branch(k); v {
		case can:
			return can, plan
		case unknown:
			out = unknown
		}
	}
	return out, nil
}

// improve looks for the best plan of everything that is late less, or ends earlier, than one that is known. proved is
// true when there is none better than the one given; nil: none better than the known one.
func (x *exact) improve(known Objective) (plan *node, proved bool) {
	o := Objective{Tardiness: known.Tardiness, Finish: known.Finish}
	x.better = &o
	v, _ := x.branch(x.root())
	return x.found, v == cannot
}

// worth is what the plan cannot be better than by the earliest ends so far.
func (x *exact) worth(n *node) (o Objective) {
	for j := range x.jobs {
		end := 0
		for _, i := range x.jobs[j].acts {
			if x.in[i] {
				end = max(end, n.end[i])
			}
		}
		o.Finish = max(o.Finish, end)
		if due := x.jobs[j].due; due != never && end > due && x.in[x.jobs[j].acts[0]] {
			o.Tardiness += x.jobs[j].weight * (end - due)
		}
	}
	return o
}

// next is the activity that is chosen for next: the one that can begin first.
func (x *exact) next(n *node) int {
	best := -1
	for i := range x.acts {
		if x.in[i] && !n.has[i] && (best < 0 || n.start[i] < n.start[best]) {
			best = i
		}
	}
	return best
}

// settle gives everything its earliest start. It reports false when that is too late for something.
func (x *exact) settle(n *node) bool {
	for again := true; again; {
		again = false
		for _, i := range x.model.order {
			if !x.in[i] {
				continue
			}
			start, end, ok := x.earliest(n, i)
			if !ok {
				return false
			}
			if start > n.start[i] || end > n.end[i] {
				n.start[i], n.end[i], again = max(start, n.start[i]), max(end, n.end[i]), true
			}
		}
	}
	return true
}

// own gives from when an activity may begin by its own facts: now, release, carrying, the window of its isolation and
// pins. Nothing is asked of one that has begun.
func (x *exact) own(n *node, i int) int {
	a := &x.acts[i]
	if a.begun != nil {
		return n.start[i]
	}
	start := max(n.start[i], x.now, a.release)
	if n.has[i] {
		for _, t := range n.at[i].tools { // carried there from where it stands at minute 0
			if p := &x.model.tools[t]; p.carry > 0 && p.area >= 0 && a.site >= 0 && p.area != a.site {
				start = max(start, p.carry)
			}
		}
	}
	if a.iso >= 0 {
		w := x.windows[a.iso]
		if k := n.window[a.job*len(x.windows)+a.iso]; k < len(w) {
			start = max(start, w[k][0])
		}
	}
	for _, k := range a.pins {
		p := &x.model.in.Pins[k]
		if p.NotBefore != nil {
			start = max(start, *p.NotBefore)
		}
		if p.Start != nil {
			start = max(start, *p.Start)
		}
	}
	return start
}

// floor gives from when an activity may begin and end by its facts, by links and by orders.
func (x *exact) floor(n *node, i int) (start, end int) {
	a := &x.acts[i]
	start, end = x.own(n, i), n.end[i]
	lift := func(t int, e bool) {
		if e {
			end = max(end, t)
		} else {
			start = max(start, t)
		}
	}
	moment := func(j int, e bool) int {
		if e {
			return n.end[j]
		}
		return n.start[j]
	}
	for _, k := range a.in {
		if l := &x.links[k]; x.in[l.from] && l.min != noMin {
			lift(moment(l.from, l.fromE)+l.min, l.toE)
		}
	}
	for _, k := range a.out {
		if l := &x.links[k]; x.in[l.to] && l.max != never {
			lift(moment(l.to, l.toE)-l.max, l.fromE)
		}
	}
	for _, o := range n.orders {
		if o.then == i {
			start = max(start, n.end[o.first]+o.gap)
		}
	}
	return start, end
}

func (x *exact) earliest(n *node, i int) (start, end int, ok bool) {
	a := &x.acts[i]
	from, le := x.floor(n, i)
	if a.begun != nil {
		return a.fixed.start, a.fixed.end, from <= a.fixed.start && le <= a.fixed.end && x.begunInTime(n, i)
	}
	if n.has[i] {
		md := &a.modes[n.at[i].mode]
		for {
			if start, end, ok = advance(n.open[i], from, md.minutes, a.pause); !ok {
				return 0, 0, false
			}
			if end >= le {
				break
			}
			from = max(start+1, le-md.minutes-a.pause*len(n.open[i]))
		}
		for k, w := range n.at[i].people {
			if !md.roles[k].may(w, end) {
				return 0, 0, false
			}
		}
	} else {
		start, end = x.alone(i, from)
		start, end = max(start, from), max(end, le)
	}
	for _, k := range a.pins {
		if p := &x.model.in.Pins[k]; p.Start != nil && start > *p.Start {
			return 0, 0, false
		}
	}
	if end > min(x.horizon, a.deadline) {
		return 0, 0, false
	}
	if a.iso >= 0 {
		w, k := x.windows[a.iso], a.job*len(x.windows)+a.iso
		for n.window[k] < len(w) && end > w[n.window[k]][1] {
			n.window[k]++
		}
		if n.window[k] >= len(w) {
			return 0, 0, false
		}
		start = max(start, w[n.window[k]][0])
	}
	return start, end, true
}

// begunInTime reports whether what must end or begin before something that has begun did: links between two that have
// begun are not judged.
func (x *exact) begunInTime(n *node, i int) bool {
	for _, k := range x.acts[i].in {
		l := &x.links[k]
		if !x.in[l.from] || x.acts[l.from].begun != nil || l.min == noMin {
			continue
		}
		t, at := n.start[i], n.start[l.from]
		if l.toE {
			t = n.end[i]
		}
		if l.fromE {
			at = n.end[l.from]
		}
		if at+l.min > t {
			return false
		}
	}
	return true
}
