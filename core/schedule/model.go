package schedule

import (
	"slices"

	"dynacor/core/quantity"
)

const never = 1 << 30

// model is an instance with numbers for names, checked.
type model struct {
	in           *Instance
	horizon, now int
	people       []person
	tools        []piece
	areas        []room
	windows      [][]Window // of isolations
	jobs         []job
	acts         []act
	links        []link
	order        []int // activities, each after those it follows
	byID         map[string]int
}

type person struct {
	id    string
	open  []Window
	until map[string]int
}

type piece struct {
	id    string
	kind  string
	open  []Window
	area  int // -1: none told
	carry int
}

type room struct {
	id     string
	open   []Window
	places int // never: no limit
}

type job struct {
	id          string
	due, weight int // due never: none
	acts        []int
}

type use struct{ area, places int }

type act struct {
	id                string
	job               int
	site              int // area in which its tools stand, -1: none
	at                []use
	iso               int // -1: none
	release, deadline int
	pause             int
	modes             []mode
	in, out           []int // links to it and from it
	apart             []int
	pins              []int
	begun             *Planned
	fixed             *placed // where it stands already, when it has begun
}

// place is the area in which the tools of an activity stand, -1: none.
func (a *act) place() int { return a.site }

type mode struct {
	id      string
	minutes int
	roles   []role
	anyone  []int // who could fill one of them
	kinds   []needs
}

// role is a place for one person; who could fill it and to which minute.
type role struct {
	demand int // which role of the mode, from 0
	who    []int
	until  []int
}

// may reports whether somebody can fill the role until a minute.
func (r *role) may(w, end int) bool {
	i := slices.Index(r.who, w)
	return i >= 0 && end <= r.until[i]
}

// needs is a tool that is needed; which could be it.
type needs struct {
	demand int
	which  []int
}

type link struct {
	id         string
	from, to   int
	min, max   int // max never: none
	fromE, toE bool
}

// placed is where an activity stands in a plan.
type placed struct {
	start, end, mode int
	people, tools    []int
}

func bad(field, format string, args ...any) error {
	return quantity.Refuse(field, "Check what was put in.", format, args...)
}

// mostCount is how many of a kind, or places in a role, anything has.
const mostCount = 1000

// several is a count, 1 when none is told.
func several(n *int, field string) (int, error) {
	v, err := count(n, field)
	if err == nil && v > mostCount {
		return 0, bad(field, "must be at most %d", mostCount)
	}
	return v, err
}

func count(n *int, field string) (int, error) {
	if n == nil {
		return 1, nil
	}
	if *n < 1 {
		return 0, bad(field, "must be 1 or more")
	}
	return *n, nil
}

// joined checks windows and makes those that touch one.
func joined(list []Window, field string) ([]Window, error) {
	if list == nil {
		return []Window{{0, never}}, nil
	}
	out := []Window{}
	for _, w := range list {
		n := len(out)
		switch {
		case w[0] < 0 || w[1] <= w[0]:
			return nil, bad(field, "the window %v is empty", w)
		case n > 0 && w[0] < out[n-1][1]:
			return nil, bad(field, "windows are out of order or overlap at %v", w)
		case n > 0 && w[0] == out[n-1][1]:
			out[n-1][1] = w[1]
		default:
			out = append(out, w)
		}
	}
	return out, nil
}

// names gives each name a number and refuses one that is empty or there twice.
type names map[string]int

func (n names) add(id, what string) error {
	if _, ok := n[id]; ok || id == "" {
		return bad(what+".id", "the %s %q is empty or there twice", what, id)
	}
	n[id] = len(n)
	return nil
}

type builder struct {
	*model
	people, tools, areas, isolations names
	kinds, carried                   map[string]bool
}

// compile checks an instance. Refused: what is not whole, unknown, double, out of order or in a circle.
func compile(in *Instance) (*model, error) {
	if in.Horizon == nil || *in.Horizon < 1 {
		return nil, bad("horizon", "must be a whole number of 1 or more")
	}
	if *in.Horizon >= never {
		return nil, bad("horizon", "is too long a time to plan: at most %d minutes", never-1)
	}
	if in.Now < 0 {
		return nil, bad("now", "must not be below 0")
	}
	b := &builder{model: &model{in: in, horizon: *in.Horizon, now: in.Now, byID: map[string]int{}}, people: names{},
		tools: names{}, areas: names{}, isolations: names{}, kinds: map[string]bool{}, carried: map[string]bool{}}
	for _, step := range []func() error{b.workers, b.rooms, b.pieces, b.shut, b.work, b.follow, b.rest, b.started,
		b.force} {
		if err := step(); err != nil {
			return nil, err
		}
	}
	return b.model, nil
}

func (b *builder) workers() error {
	for _, p := range b.in.People {
		if err := b.people.add(p.ID, "person"); err != nil {
			return err
		}
		open, err := joined(p.Open, p.ID+".open")
		if err != nil {
			return err
		}
		x := person{id: p.ID, open: open, until: map[string]int{}}
		for _, s := range p.Skills {
			x.until[s.Skill] = never
			if s.Until != nil {
				if *s.Until < 0 {
					return bad(p.ID+".until", "must not be below 0")
				}
				x.until[s.Skill] = *s.Until
			}
		}
		b.model.people = append(b.model.people, x)
	}
	return nil
}

func (b *builder) rooms() error {
	for _, a := range b.in.Areas {
		if err := b.areas.add(a.ID, "area"); err != nil {
			return err
		}
		open, err := joined(a.Open, a.ID+".open")
		if err != nil {
			return err
		}
		x := room{a.ID, open, never}
		if a.Places != nil {
			if x.places, err = count(a.Places, a.ID+".places"); err != nil {
				return err
			}
		}
		b.model.areas = append(b.model.areas, x)
	}
	return nil
}

func (b *builder) pieces() error {
	for _, t := range b.in.Tools {
		if err := b.tools.add(t.ID, "tool"); err != nil {
			return err
		}
		open, err := joined(t.Open, t.ID+".open")
		if err != nil {
			return err
		}
		x := piece{id: t.ID, kind: t.Kind, open: open, area: -1, carry: t.Carry}
		if t.Carry < 0 {
			return bad(t.ID+".carry", "must not be below 0")
		}
		if t.Area != "" {
			n, ok := b.areas[t.Area]
			if !ok {
				return bad(t.ID+".area", "the area %q is not listed", t.Area)
			}
			x.area = n
		}
		b.kinds[t.Kind] = true
		if t.Carry > 0 {
			b.carried[t.Kind] = true
		}
		b.model.tools = append(b.model.tools, x)
	}
	return nil
}

func (b *builder) shut() error {
	for _, i := range b.in.Isolations {
		if err := b.isolations.add(i.ID, "isolation"); err != nil {
			return err
		}
		list := i.Windows
		if list == nil {
			list = []Window{}
		}
		open, err := joined(list, i.ID+".windows")
		if err != nil {
			return err
		}
		b.windows = append(b.windows, open)
	}
	return nil
}
