package schedule

import "slices"

// moments are what a link counts from and to.
var moments = []string{"", "start", "end"}

// follow reads the links and puts the activities in an order in which each stands after those it follows.
func (b *builder) follow() error {
	seen := names{}
	for _, l := range b.in.Links {
		from, ok := b.byID[l.From]
		to, ok2 := b.byID[l.To]
		name := l.ID
		if name == "" {
			name = l.From + ">" + l.To
		}
		switch {
		case !ok || !ok2:
			return bad("links", "%s>%s: one of them is no activity", l.From, l.To)
		case seen.add(name, "link") != nil:
			return bad("links", "the link %s is there twice", name)
		case !slices.Contains(moments, l.FromAt) || !slices.Contains(moments, l.ToAt):
			return bad("links", "the link %s: at is start or end", name)
		case l.Min < 0 || l.Max != nil && (*l.Max < 0 || *l.Max < l.Min):
			return bad("links", "the link %s: min and max must not be below 0, nor max below min", name)
		}
		x := link{
			id:    name,
			from:  from,
			to:    to,
			min:   l.Min,
			max:   never,
			fromE: l.FromAt != "start",
			toE:   l.ToAt == "end",
		}
		if l.Max != nil {
			x.max = *l.Max
		}
		n := len(b.links)
		b.links = append(b.links, x)
		b.acts[from].out, b.acts[to].in = append(b.acts[from].out, n), append(b.acts[to].in, n)
	}
	return b.sort()
}

// sort puts the activities in the order of their links. Refused: a circle.
func (b *builder) sort() error {
	open := make([]int, len(b.acts))
	var free []int
	for i := range b.acts {
		if open[i] = len(b.acts[i].in); open[i] == 0 {
			free = append(free, i)
		}
	}
	for len(free) > 0 {
		i := free[0]
		free = free[1:]
		b.order = append(b.order, i)
		for _, l := range b.acts[i].out {
			to := b.links[l].to
			if open[to]--; open[to] == 0 {
				free = append(free, to)
			}
		}
	}
	if len(b.order) < len(b.acts) {
		return bad("links", "links run in a circle")
	}
	return nil
}

// rest reads what is apart, then what is pinned.
func (b *builder) rest() error {
	for _, x := range b.in.Apart {
		if len(x) != 2 {
			return bad("apart", "%v are not two activities", x)
		}
		u, ok := b.byID[x[0]]
		v, ok2 := b.byID[x[1]]
		if !ok || !ok2 || u == v {
			return bad("apart", "%v are not two activities", x)
		}
		b.acts[u].apart, b.acts[v].apart = append(b.acts[u].apart, v), append(b.acts[v].apart, u)
	}
	return b.pinned()
}

// pinned reads the pins.
func (b *builder) pinned() error {
	for k, p := range b.in.Pins {
		i, ok := b.byID[p.Activity]
		if !ok {
			return bad("pins", "pin %d: there is no such activity", k+1)
		}
		if _, ok := b.people[p.Person]; !ok && p.Person != "" {
			return bad("pins", "pin %d: there is no such person", k+1)
		}
		if _, ok := b.tools[p.Tool]; !ok && p.Tool != "" {
			return bad("pins", "pin %d: there is no such tool", k+1)
		}
		if b.modeOf(i, p.Mode) < 0 && p.Mode != "" {
			return bad("pins", "pin %d: there is no such mode", k+1)
		}
		if p.NotBefore != nil && *p.NotBefore < 0 || p.Start != nil && *p.Start < 0 {
			return bad("pins", "pin %d: a minute must not be below 0", k+1)
		}
		b.acts[i].pins = append(b.acts[i].pins, k)
	}
	return nil
}

// modeOf gives the number of a mode, -1 when the activity has none of that name.
func (m *model) modeOf(i int, id string) int {
	return slices.IndexFunc(m.acts[i].modes, func(x mode) bool { return x.id == id })
}

// started reads what has begun.
func (b *builder) started() error {
	for k := range b.in.Begun {
		x := &b.in.Begun[k]
		i, ok := b.byID[x.Activity]
		if !ok || b.acts[i].begun != nil {
			return bad("begun", "%q is unknown or there twice", x.Activity)
		}
		p, err := b.placedAs(i, *x)
		if err != nil {
			return err
		}
		if x.Start < 0 || x.End <= x.Start {
			return bad("begun", "the end of %s is not after its start", x.Activity)
		}
		p.end = x.End
		b.acts[i].begun, b.acts[i].fixed = x, &p
	}
	return nil
}

// placedAs reads where an activity stands; its end is left out.
func (b *builder) placedAs(i int, x Planned) (placed, error) {
	p := placed{start: x.Start, mode: b.modeOf(i, x.Mode)}
	if p.mode < 0 {
		return p, bad("begun", "%s has no mode %q", x.Activity, x.Mode)
	}
	for _, id := range x.People {
		n, ok := b.people[id]
		if !ok {
			return p, bad("begun", "%s: there is no person %q", x.Activity, id)
		}
		p.people = append(p.people, n)
	}
	for _, id := range x.Tools {
		n, ok := b.tools[id]
		if !ok {
			return p, bad("begun", "%s: there is no tool %q", x.Activity, id)
		}
		p.tools = append(p.tools, n)
	}
	return p, nil
}

// force reads the plan in force.
func (b *builder) force() error {
	k := b.in.Keep
	if k == nil {
		return nil
	}
	if k.Until < 0 || k.Cost < 0 {
		return bad("keep", "until and cost must not be below 0")
	}
	for _, x := range k.Plan {
		if _, ok := b.byID[x.Activity]; !ok {
			return bad("keep", "there is no activity %q", x.Activity)
		}
	}
	return nil
}
