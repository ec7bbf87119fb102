package schedule

import (
	"cmp"
	"slices"
)

// Mover judges what becomes of a plan when one of its activities is put elsewhere and all others stay: what is asked
// while a bar is dragged by hand.
type Mover struct {
	m    *model
	plan []Planned
	base *checker // all where they stand
}

// NewMover takes an instance and a plan of it. Refused: an instance that says what cannot be meant, and a plan that
// names what it does not have.
func NewMover(in *Instance, plan []Planned, unplaced []string) (*Mover, error) {
	m, err := compile(in)
	if err != nil {
		return nil, err
	}
	v := &Mover{m: m, base: &checker{model: m, is: make([]bool, len(m.acts)), at: make([]placed, len(m.acts)),
		gone: make([]bool, len(m.jobs)), only: -1}}
	for _, p := range plan {
		if _, ok := m.byID[p.Activity]; ok {
			v.plan = append(v.plan, p)
		}
	}
	return v, v.base.read(v.plan, unplaced)
}

// Try gives the rules that an activity breaks with others, or by itself, when it stands as told; its end follows from
// its start where somebody is there, and is given back. Refused: what the instance does not have.
func (v *Mover) Try(p Planned) ([]Broken, int, error) {
	i, ok := v.m.byID[p.Activity]
	if !ok {
		return nil, 0, bad("activity", "there is no activity %q", p.Activity)
	}
	if v.m.acts[i].begun != nil {
		return []Broken{{Rule: "begun", Activities: []string{p.Activity}}}, p.End, nil
	}
	c := &checker{model: v.m, is: make([]bool, len(v.m.acts)), at: slices.Clone(v.base.at), gone: v.base.gone,
		out: []Broken{}, only: i}
	if err := c.read([]Planned{p}, nil); err != nil {
		return nil, 0, err
	}
	copy(c.is, v.base.is)
	c.is[i] = true
	return v.judge(c)
}

// judge looks for what the one activity that is asked for breaks.
func (v *Mover) judge(c *checker) ([]Broken, int, error) {
	i := c.only
	c.at[i].end = v.endOf(i, c.at[i])
	c.alone(i)
	for _, check := range []func(){c.together, c.rooms, c.linked, c.isolated} {
		check()
	}
	out := []Broken{}
	for _, b := range c.out {
		if slices.Contains(b.Activities, c.acts[i].id) {
			out = append(out, b)
		}
	}
	return out, c.at[i].end, nil
}

// fits reports whether an activity, read already, breaks nothing when it begins at a time.
func (v *Mover) fits(c *checker, start int) bool {
	i := c.only
	c.out = c.out[:0]
	c.at[i].start = start
	c.at[i].end = v.endOf(i, c.at[i])
	if c.alone(i); len(c.out) > 0 { // what is cheap to find first
		return false
	}
	broken, _, _ := v.judge(c)
	return len(broken) == 0
}

// endOf is where an activity ends that begins as told; when it cannot begin there, as if everybody were there.
func (v *Mover) endOf(i int, p placed) int {
	w := []Window{{0, never}}
	for _, x := range p.people {
		w = meet(w, v.m.people[x].open)
	}
	for _, x := range p.tools {
		w = meet(w, v.m.tools[x].open)
	}
	for _, u := range v.m.acts[i].at {
		w = meet(w, v.m.areas[u.area].open)
	}
	minutes := v.m.acts[i].modes[p.mode].minutes
	if end, ok := runsFrom(w, p.start, minutes, v.m.acts[i].pause); ok {
		return end
	}
	return p.start + minutes
}

// Nearest looks for the start nearest to the one told at which nothing breaks, no farther than so many minutes from it:
// every step minutes, and wherever it would touch another activity, the beginning of somebody's time, or its own place
// in the plan. The earlier of two that are as near.
func (v *Mover) Nearest(p Planned, step, far int) (start int, found bool) {
	away := func(at int) int { return max(at-p.Start, p.Start-at) }
	near := v.touching(p)
	for n := step; n <= far; n += step {
		near = append(near, p.Start-n, p.Start+n)
	}
	near = slices.DeleteFunc(near, func(at int) bool { return at < 0 || at == p.Start || away(at) > far })
	slices.SortFunc(near, func(a, b int) int { return cmp.Or(away(a)-away(b), a-b) })
	i, ok := v.m.byID[p.Activity]
	if !ok || v.m.acts[i].begun != nil {
		return 0, false
	}
	c := &checker{model: v.m, is: make([]bool, len(v.m.acts)), at: slices.Clone(v.base.at), gone: v.base.gone, only: i}
	if err := c.read([]Planned{p}, nil); err != nil {
		return 0, false
	}
	copy(c.is, v.base.is)
	c.is[i] = true
	for _, at := range slices.Compact(near) {
		if v.fits(c, at) {
			return at, true
		}
	}
	return 0, false
}

// touching are starts at which an activity touches what is in the plan already.
func (v *Mover) touching(p Planned) []int {
	i, ok := v.m.byID[p.Activity]
	if !ok {
		return nil
	}
	out := []int{v.m.now, v.m.acts[i].release}
	minutes := 0
	for _, m := range v.m.acts[i].modes {
		if m.id == p.Mode {
			minutes = m.minutes
		}
	}
	for _, x := range v.plan {
		if x.Activity == p.Activity {
			out = append(out, x.Start)
			continue
		}
		out = append(out, x.End, x.Start-minutes)
	}
	for _, w := range v.m.people {
		for _, o := range w.open {
			out = append(out, o[0], o[1]-minutes)
		}
	}
	return out
}
