package schedule

import "slices"

func (b *builder) work() error {
	ids := names{}
	for n, j := range b.in.Jobs {
		if err := ids.add(j.ID, "job"); err != nil {
			return err
		}
		x := job{id: j.ID, due: never, weight: 1}
		if j.Due != nil {
			x.due = *j.Due
		}
		if j.Weight != nil {
			x.weight = *j.Weight
		}
		if x.due < 0 || x.weight < 0 || len(j.Activities) == 0 {
			return bad(j.ID, "due and weight must not be below 0, and a job has activities")
		}
		for _, a := range j.Activities {
			if _, ok := b.byID[a.ID]; ok || a.ID == "" {
				return bad("activity.id", "the activity %q is empty or there twice", a.ID)
			}
			y, err := b.activity(a)
			if err != nil {
				return err
			}
			y.job = n
			b.byID[a.ID] = len(b.acts)
			x.acts = append(x.acts, len(b.acts))
			b.acts = append(b.acts, y)
		}
		b.jobs = append(b.jobs, x)
	}
	return nil
}

func (b *builder) activity(a Activity) (act, error) {
	x := act{id: a.ID, site: -1, iso: -1, release: a.Release, deadline: never, pause: a.Pause}
	if a.Deadline != nil {
		x.deadline = *a.Deadline
	}
	if x.release < 0 || x.deadline < 0 || x.pause < 0 {
		return x, bad(a.ID, "release, deadline and pause must not be below 0")
	}
	if a.Isolation != "" {
		n, ok := b.isolations[a.Isolation]
		if !ok {
			return x, bad(a.ID+".isolation", "the isolation %q is not listed", a.Isolation)
		}
		x.iso = n
	}
	for _, at := range a.At {
		n, ok := b.areas[at.Area]
		if !ok {
			return x, bad(a.ID+".at", "the area %q is not listed", at.Area)
		}
		places, err := count(at.Places, a.ID+".at.places")
		if err != nil {
			return x, err
		}
		if places > b.model.areas[n].places {
			return x, bad(a.ID+".at.places", "it needs more places than the area %s has", at.Area)
		}
		x.at = append(x.at, use{n, places})
	}
	if len(x.at) > 0 {
		x.site = x.at[0].area
	}
	if len(a.Modes) == 0 {
		return x, bad(a.ID+".modes", "it has no mode")
	}
	for _, m := range a.Modes {
		if m.ID == "" || slices.ContainsFunc(x.modes, func(o mode) bool { return o.id == m.ID }) {
			return x, bad(a.ID+".modes", "the mode %q is empty or there twice", m.ID)
		}
		y, err := b.mode(a, m)
		if err != nil {
			return x, err
		}
		x.modes = append(x.modes, y)
	}
	return x, nil
}

func (b *builder) mode(a Activity, m Mode) (mode, error) {
	field := a.ID + "/" + m.ID
	x := mode{id: m.ID, minutes: m.Minutes}
	if m.Minutes < 1 {
		return x, bad(field+".minutes", "must be 1 or more")
	}
	if err := b.roles(&x, m, field); err != nil {
		return x, err
	}
	pulled := 0
	for k, d := range m.Tools {
		n, err := several(d.Count, field+".tools.count")
		if err != nil {
			return x, err
		}
		if !b.kinds[d.Kind] {
			return x, bad(field+".tools.kind", "no tool of the kind %q is listed", d.Kind)
		}
		if b.carried[d.Kind] && len(a.At) == 0 {
			return x, bad(a.ID+".at", "a tool that takes minutes to carry needs an area")
		}
		if d.Pulled {
			pulled += n
		}
		y := needs{demand: k}
		for i, t := range b.model.tools {
			if t.kind == d.Kind {
				y.which = append(y.which, i)
			}
		}
		for range n {
			x.kinds = append(x.kinds, y)
		}
	}
	if len(x.roles) < pulled {
		return x, bad(field+".people", "%d pulled tools take as many people", pulled)
	}
	return x, nil
}

// roles reads who can fill each role of a mode, and to which minute.
func (b *builder) roles(x *mode, m Mode, field string) error {
	for k, r := range m.People {
		n, err := several(r.Count, field+".people.count")
		if err != nil {
			return err
		}
		y := role{demand: k}
		for i, p := range b.model.people {
			until := never
			for _, s := range r.Skills {
				u, ok := p.until[s]
				if !ok {
					u = -1
				}
				until = min(until, u)
			}
			if until >= 0 {
				y.who, y.until = append(y.who, i), append(y.until, until)
			}
		}
		for range n {
			x.roles = append(x.roles, y)
		}
		for _, w := range y.who {
			if !slices.Contains(x.anyone, w) {
				x.anyone = append(x.anyone, w)
			}
		}
	}
	return nil
}
