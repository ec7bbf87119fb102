package schedule

import (
	"cmp"
	"fmt"
	"slices"
)

// Broken is a rule that a plan breaks, by which activities, and by how many minutes where it is one of minutes.
type Broken struct {
	Rule       string   `json:"rule"` // the field or the rule: role, person, tool, area, link, …
	Activities []string `json:"activities"`
	Minutes    int      `json:"minutes"`
	Says       string   `json:"says"`
}

// Check holds a plan against every rule of its instance and gives those that it breaks, none of a plan that is good. It
// is also asked while a bar is dragged by hand. Refused: an instance that says what cannot be meant, and a plan that
// names what the instance does not have.
func Check(in *Instance, plan []Planned, unplaced []string) ([]Broken, error) {
	m, err := compile(in)
	if err != nil {
		return nil, err
	}
	return m.check(plan, unplaced)
}

func (m *model) check(plan []Planned, unplaced []string) ([]Broken, error) {
	c := &checker{
		model: m,
		is:    make([]bool, len(m.acts)),
		at:    make([]placed, len(m.acts)),
		gone:  make([]bool, len(m.jobs)),
		out:   []Broken{},
		only:  -1,
	}
	if err := c.read(plan, unplaced); err != nil {
		return nil, err
	}
	c.whole()
	for i := range m.acts {
		if c.is[i] && m.acts[i].begun == nil {
			c.alone(i)
		}
	}
	c.together()
	c.rooms()
	c.linked()
	c.isolated()
	return c.out, nil
}

type checker struct {
	*model
	is   []bool
	at   []placed
	gone []bool
	out  []Broken
	only int // -1, or the activity whose breaches alone are looked for
}

// asked reports whether breaches of an activity are looked for.
func (c *checker) asked(i int) bool { return c.only < 0 || c.only == i }

// with reports whether breaches of somebody or something that such activities have are looked for.
func (c *checker) with(has func(p placed) bool) bool { return c.only < 0 || has(c.at[c.only]) }

func (c *checker) say(rule string, minutes int, acts []int, format string, args ...any) {
	b := Broken{Rule: rule, Minutes: minutes, Says: fmt.Sprintf(format, args...)}
	for _, i := range acts {
		b.Activities = append(b.Activities, c.acts[i].id)
	}
	c.out = append(c.out, b)
}

func (c *checker) read(plan []Planned, unplaced []string) error {
	b := &builder{model: c.model, people: names{}, tools: names{}}
	for _, p := range c.model.people {
		b.people[p.id] = len(b.people)
	}
	for _, t := range c.model.tools {
		b.tools[t.id] = len(b.tools)
	}
	for _, x := range plan {
		i, ok := c.byID[x.Activity]
		if !ok || c.is[i] {
			return bad("plan", "the activity %q is unknown or there twice", x.Activity)
		}
		p, err := b.placedAs(i, x)
		if err != nil {
			return err
		}
		p.end = x.End
		c.is[i], c.at[i] = true, p
	}
	for _, id := range unplaced {
		j := slices.IndexFunc(c.jobs, func(x job) bool { return x.id == id })
		if j < 0 {
			return bad("unplaced", "there is no job %q", id)
		}
		c.gone[j] = true
	}
	return nil
}

// whole: a job is planned whole or not at all, and none that follows one that is left out.
func (c *checker) whole() {
	for i := range c.acts {
		a := &c.acts[i]
		switch {
		case a.begun == nil && c.gone[a.job] && c.is[i]:
			c.say("whole", 0, []int{i}, "%s is planned although its job is left out", a.id)
		case !c.is[i] && (!c.gone[a.job] || a.begun != nil):
			c.say("whole", 0, []int{i}, "%s is missing", a.id)
		case a.begun != nil && (c.at[i].start != a.begun.Start || c.at[i].end != a.begun.End ||
			!alikeSet(c.at[i].people, a.fixed.people) || !alikeSet(c.at[i].tools, a.fixed.tools) ||
			c.at[i].mode != a.fixed.mode):
			c.say("begun", 0, []int{i}, "%s has begun and is not as it was", a.id)
		}
	}
	for k := range c.links {
		l := &c.links[k]
		if f := &c.acts[l.from]; c.gone[f.job] && f.begun == nil && c.is[l.to] && c.acts[l.to].begun == nil {
			c.say("whole", 0, []int{l.from, l.to}, "%s is planned although %s before it is not", c.acts[l.to].id, f.id)
		}
	}
}

// alone holds an activity against its own facts.
func (c *checker) alone(i int) {
	a, p := &c.acts[i], c.at[i]
	one := []int{i}
	if n := max(0, c.now) - p.start; n > 0 {
		c.say("now", n, one, "%s begins before now", a.id)
	}
	if n := p.end - c.horizon; n > 0 {
		c.say("horizon", n, one, "%s ends after the horizon", a.id)
	}
	if n := a.release - p.start; n > 0 {
		c.say("release", n, one, "%s begins before its release", a.id)
	}
	if n := p.end - a.deadline; a.deadline != never && n > 0 {
		c.say("deadline", n, one, "%s ends after its deadline", a.id)
	}
	md := &a.modes[p.mode]
	c.staffed(i)
	w := []Window{{0, never}}
	for _, x := range p.people {
		w = meet(w, c.model.people[x].open)
	}
	for _, x := range p.tools {
		w = meet(w, c.model.tools[x].open)
	}
	for _, u := range a.at {
		w = meet(w, c.model.areas[u.area].open)
	}
	switch end, ok := runsFrom(w, p.start, md.minutes, a.pause); {
	case !ok:
		c.say(
			"calendar",
			0,
			one,
			"%s cannot begin at %d: somebody or something is not there, or it would rest too long",
			a.id,
			p.start,
		)
	case end != p.end:
		c.say("calendar", p.end-end, one, "%s begun at %d ends at %d", a.id, p.start, end)
	}
	c.pinned(i)
}

// staffed: each role has somebody of its own who can fill it to the end, each demand its tool.
func (c *checker) staffed(i int) {
	a, p := &c.acts[i], c.at[i]
	one := []int{i}
	md := &a.modes[p.mode]
	if len(p.people) != len(md.roles) || double(p.people) {
		c.say("role", 0, one, "%s needs %d different people", a.id, len(md.roles))
	} else {
		for k, w := range p.people {
			if !md.roles[k].may(w, p.end) {
				c.say("role", 0, one, "%s cannot fill role %d of %s until %d", c.model.people[w].id, k+1, a.id, p.end)
			}
		}
	}
	if len(p.tools) != len(md.kinds) || double(p.tools) || slices.ContainsFunc(p.tools, func(t int) bool {
		return !slices.Contains(md.kinds[slices.Index(p.tools, t)].which, t)
	}) {
		c.say("tool", 0, one, "%s has not the tools that it needs", a.id)
	}
}

func double(list []int) bool {
	for k, x := range list {
		if slices.Contains(list[:k], x) {
			return true
		}
	}
	return false
}

func (c *checker) pinned(i int) {
	p := c.at[i]
	for _, k := range c.acts[i].pins {
		x := &c.in.Pins[k]
		broken := x.Mode != "" && c.acts[i].modes[p.mode].id != x.Mode ||
			x.NotBefore != nil && p.start < *x.NotBefore || x.Start != nil && p.start != *x.Start ||
			x.Person != "" &&
				!slices.ContainsFunc(p.people, func(w int) bool { return c.model.people[w].id == x.Person }) ||
			x.Tool != "" && !slices.ContainsFunc(p.tools, func(t int) bool { return c.model.tools[t].id == x.Tool })
		if broken {
			c.say("pin", 0, []int{i}, "pin %d on %s is not kept", k+1, c.acts[i].id)
		}
	}
}

// uses gives the activities that have somebody or something, in order of their starts.
func (c *checker) uses(has func(p placed) bool) []int {
	var list []int
	for i := range c.acts {
		if c.is[i] && has(c.at[i]) {
			list = append(list, i)
		}
	}
	slices.SortStableFunc(list, func(a, b int) int {
		return cmp.Or(c.at[a].start-c.at[b].start, c.at[a].end-c.at[b].end)
	})
	return list
}

// together: nobody and nothing is in two activities at once, and a tool is carried between areas.
func (c *checker) together() {
	overlap := func(list []int, id, rule string) {
		for k := 1; k < len(list); k++ {
			u, v := list[k-1], list[k]
			if n := c.at[u].end - c.at[v].start; n > 0 && (c.acts[u].begun == nil || c.acts[v].begun == nil) {
				c.say(rule, n, []int{u, v}, "%s is in %s and %s at once", id, c.acts[u].id, c.acts[v].id)
			}
		}
	}
	for w, p := range c.model.people {
		if has := func(x placed) bool { return slices.Contains(x.people, w) }; c.with(has) {
			overlap(c.uses(has), p.id, "person")
		}
	}
	for t, p := range c.model.tools {
		has := func(x placed) bool { return slices.Contains(x.tools, t) }
		if !c.with(has) {
			continue
		}
		list := c.uses(has)
		overlap(list, p.id, "tool")
		c.carried(p, list)
	}
	c.apart()
}

// carried: a tool takes its minutes from one area to the next.
func (c *checker) carried(p piece, list []int) {
	place, end := p.area, 0
	for _, i := range list {
		here := c.acts[i].place()
		if n := end + p.carry - c.at[i].start; here >= 0 && place >= 0 && here != place && n > 0 &&
			c.acts[i].begun == nil {
			c.say("carry", n, []int{i}, "%s is carried until %d", p.id, end+p.carry)
		}
		if here >= 0 {
			place = here
		}
		end = c.at[i].end
	}
}

// apart: nobody is in both of two activities that are.
func (c *checker) apart() {
	for i := range c.acts {
		for _, o := range c.acts[i].apart {
			if i < o && (c.asked(i) || c.asked(o)) && c.is[i] && c.is[o] &&
				(c.acts[i].begun == nil || c.acts[o].begun == nil) &&
				slices.ContainsFunc(c.at[i].people, func(w int) bool { return slices.Contains(c.at[o].people, w) }) {
				c.say("apart", 0, []int{i, o}, "somebody works on both %s and %s", c.acts[i].id, c.acts[o].id)
			}
		}
	}
}

// rooms: no more places of an area are taken than it has.
func (c *checker) rooms() {
	for r, a := range c.model.areas {
		if a.places == never {
			continue
		}
		takes := func(i int) int {
			n := 0
			for _, u := range c.acts[i].at {
				if u.area == r {
					n += u.places
				}
			}
			return n
		}
		for i := range c.acts {
			if !c.is[i] || takes(i) == 0 || c.acts[i].begun != nil || !c.near(i) {
				continue
			}
			at, n := c.at[i].start, 0
			var those []int
			for o := range c.acts {
				if c.is[o] && takes(o) > 0 && c.at[o].start <= at && at < c.at[o].end {
					n, those = n+takes(o), append(those, o)
				}
			}
			if n > a.places {
				c.say("area", 0, those, "%d places of %s are taken at %d, it has %d", n, a.id, at, a.places)
			}
		}
	}
}

// near reports whether an activity begins while the one that is asked for goes on, or the other way about.
func (c *checker) near(i int) bool {
	if c.asked(i) {
		return true
	}
	a, b := c.at[i], c.at[c.only]
	return a.start < b.end && b.start < a.end
}

func (c *checker) linked() {
	for k := range c.links {
		l := &c.links[k]
		if !c.asked(l.from) && !c.asked(l.to) {
			continue
		}
		if !c.is[l.from] || !c.is[l.to] || c.acts[l.from].begun != nil && c.acts[l.to].begun != nil {
			continue
		}
		from, to := c.at[l.from].start, c.at[l.to].start
		if l.fromE {
			from = c.at[l.from].end
		}
		if l.toE {
			to = c.at[l.to].end
		}
		if n := l.min - (to - from); n > 0 {
			c.say("link", n, []int{l.from, l.to}, "the lag of %s is %d, at least %d", l.id, to-from, l.min)
		}
		if n := to - from - l.max; l.max != never && n > 0 {
			c.say("link", n, []int{l.from, l.to}, "the lag of %s is %d, at most %d", l.id, to-from, l.max)
		}
	}
}

// isolated: all of a job's work under an isolation lies in one of its windows.
func (c *checker) isolated() {
	for j := range c.jobs {
		if c.gone[j] || c.only >= 0 && c.acts[c.only].job != j {
			continue
		}
		for iso := range c.windows {
			var list []int
			for _, i := range c.jobs[j].acts {
				if c.acts[i].iso == iso && c.is[i] && c.acts[i].begun == nil {
					list = append(list, i)
				}
			}
			if len(list) > 0 && !slices.ContainsFunc(c.windows[iso], func(w Window) bool {
				return !slices.ContainsFunc(
					list,
					func(i int) bool { return c.at[i].start < w[0] || c.at[i].end > w[1] },
				)
			}) {
				c.say("isolation", 0, list, "the work of %s under %s does not lie in one window", c.jobs[j].id,
					c.in.Isolations[iso].ID)
			}
		}
	}
}
