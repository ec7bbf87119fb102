package run

import (
	"maps"
	"slices"
	"time"

	"dynacor/core/plan"
	"dynacor/core/working"
)

// Progress is the work on a joint so far, ready to take the next event. Applying an event costs the same however many
// came before; only one that takes an earlier event back goes through all of them again. It is not safe for use by
// several at once.
type Progress struct {
	f       *folder
	events  []*Event
	kinds   map[string]Kind
	dropped map[string]bool // identifiers that do not count
	look    glancing
}

// NewProgress begins the work of a plan.
func NewProgress(p *plan.Plan) *Progress {
	return &Progress{f: newFolder(p), kinds: map[string]Kind{}, dropped: map[string]bool{}}
}

// Apply takes the next event.
func (g *Progress) Apply(e Event) {
	g.events = append(g.events, &e)
	g.kinds[e.ID] = e.Kind
	if e.Kind == TakenBack && g.mayGo(e.Ref) && !g.dropped[e.Ref] {
		g.dropped[e.Ref] = true
		if _, was := g.kinds[e.Ref]; was {
			g.again()
			return
		}
	}
	g.f.step(e, g.dropped[e.ID])
}

// mayGo reports whether an event may be taken back: signatures, take-backs themselves and what the crib says of a tool
// stand. A stop is lifted by who may, never taken back; plans of older programs let that be.
func (g *Progress) mayGo(id string) bool {
	switch g.kinds[id] {
	case Signed, TakenBack, ToolDoubted:
		return false
	case Held:
		return !g.f.saysWhoMay()
	}
	return true
}

// again goes through everything from the beginning.
func (g *Progress) again() {
	g.f = newFolder(g.f.p)
	for _, e := range g.events {
		g.f.step(*e, g.dropped[e.ID])
	}
}

// State is how the work stands at a time of looking: a long silence asks for the setting again. It belongs to the
// caller.
func (g *Progress) State(now time.Time) *State {
	f := g.f.clone()
	f.now = now
	f.finish()
	return f.s
}

// With is how it would stand with one more event, which is not taken.
func (g *Progress) With(e Event, now time.Time) *State {
	if e.Kind == TakenBack {
		events := make([]Event, 0, len(g.events)+1)
		for _, before := range g.events {
			events = append(events, *before)
		}
		return Fold(g.f.p, append(events, e), now)
	}
	f := g.f.clone()
	f.step(e, g.dropped[e.ID])
	f.now = now
	f.finish()
	return f.s
}

// Fold gives the state after events in their order: every one applied, and what is taken back later left out from the
// beginning.
func Fold(p *plan.Plan, events []Event, now time.Time) *State {
	g := NewProgress(p)
	for _, e := range events {
		g.kinds[e.ID] = e.Kind
		if e.Kind == TakenBack && g.mayGo(e.Ref) {
			g.dropped[e.Ref] = true
		}
	}
	for _, e := range events {
		g.f.step(e, g.dropped[e.ID])
	}
	g.f.now = now
	g.f.finish()
	return g.f.s
}

// step takes an event; dropped, it is only counted.
func (f *folder) step(e Event, dropped bool) {
	if e.Unproved != "" {
		f.s.NotProved++
	}
	if e.BoundedAt != nil {
		f.s.ClockOff++
	}
	if e.LateMin > 0 {
		f.s.Late++
		f.s.LateMin = max(f.s.LateMin, e.LateMin)
	}
	if dropped {
		f.s.TakenBack = append(f.s.TakenBack, e.ID)
		return
	}
	f.s.Findings = []working.Finding{}
	f.s.Announce = ""
	if f.reopens() {
		f.latest = f.time(e)
		f.dry(f.current(), f.latest)
	}
	f.apply(e)
	f.at(e)
}

// clone is a folder that can go its own way: what the work changes in place is copied, what only grows is clipped.
func (f *folder) clone() *folder {
	c := *f
	s := *f.s
	c.s = &s
	s.Checks = slices.Clone(f.s.Checks)
	for i := range s.Checks {
		k := &s.Checks[i]
		k.Findings, k.Attempts, k.History = slices.Clip(k.Findings), slices.Clip(k.Attempts), slices.Clip(k.History)
	}
	s.Passes = slices.Clone(f.s.Passes)
	for i := range s.Passes {
		ps := &s.Passes[i]
		ps.People, ps.Wrenches, ps.NotRight, ps.Tries = slices.Clip(ps.People), slices.Clip(ps.Wrenches),
			slices.Clip(ps.NotRight), slices.Clip(ps.Tries)
	}
	s.Deviations = slices.Clone(f.s.Deviations)
	s.Signatures = slices.Clone(f.s.Signatures)
	s.Rows, s.Fasteners, s.Exceptions, s.Blocked = slices.Clip(f.s.Rows), slices.Clip(f.s.Fasteners),
		slices.Clip(f.s.Exceptions), slices.Clip(f.s.Blocked)
	s.Gates, s.Findings, s.OpenItems, s.TakenBack = slices.Clip(f.s.Gates), slices.Clip(f.s.Findings),
		slices.Clip(f.s.OpenItems), slices.Clip(f.s.TakenBack)
	s.Workers, s.Remarks, s.Hands = slices.Clip(f.s.Workers), slices.Clip(f.s.Remarks), slices.Clip(f.s.Hands)
	c.planned = slices.Clone(f.planned)
	c.marks = slices.Clone(f.marks)
	for i := range c.marks {
		c.marks[i] = slices.Clone(c.marks[i])
	}
	c.byLeave, c.left = maps.Clone(f.byLeave), maps.Clone(f.left)
	c.degrees, c.torque, c.measured, c.suspect = slices.Clone(f.degrees), slices.Clone(f.torque),
		slices.Clone(f.measured), slices.Clone(f.suspect)
	c.cut, c.letGoAt = slices.Clone(f.cut), slices.Clone(f.letGoAt)
	c.touched = slices.Clone(f.touched)
	for i := range c.touched {
		c.touched[i] = slices.Clip(c.touched[i])
	}
	c.hands = slices.Clone(f.hands)
	for i, h := range c.hands {
		one := *h
		one.device = maps.Clone(h.device)
		one.tools = maps.Clone(h.tools)
		for code, t := range one.tools {
			mine := *t
			one.tools[code] = &mine
		}
		c.hands[i] = &one
	}
	return &c
}
