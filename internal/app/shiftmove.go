package app

import (
	"context"
	"fmt"
	"slices"
	"sync"
	"time"

	"dynacor/core/schedule"
	"dynacor/core/shutdown"
)

// What somebody drags is judged by what was read when they took it in the hand, for so long at most: a plan that they
// then ask for is made from what is true by then.
const (
	heldInHand = 30 * time.Second
	mostInHand = 8

	moveStep = 5       // minutes
	moveFar  = 24 * 60 // minutes each way that a place without a breach is looked for
)

// ShiftMove asks what is broken when a part of the work is put elsewhere.
type ShiftMove struct {
	Ask     ShiftQuery    `json:"ask"`
	InForce bool          `json:"inForce"` // of the plan in force, not of the one that is planned now
	Tag     string        `json:"tag"`
	Kind    shutdown.Kind `json:"kind"`
	Start   time.Time     `json:"start"`
	From    string        `json:"from"` // id of who gives it away, "" when nobody does
	To      string        `json:"to"`   // id of who takes it
}

// ShiftVerdict says what a move breaks. Hard: nobody can set that aside by hand.
type ShiftVerdict struct {
	Breaks  []string   `json:"breaks"`
	Hard    bool       `json:"hard"`
	Start   time.Time  `json:"start"`
	End     time.Time  `json:"end"`
	Clock   string     `json:"clock"`             // the start by the site's clocks, as a pin tells it
	Nearest *time.Time `json:"nearest,omitempty"` // start at which nothing breaks; nil: none near, or nothing breaks
	// the same by the site's clocks, "" when there is none
	NearestClock string `json:"nearestClock"`
}

// moving is a plan that somebody has in the hand.
type moving struct {
	s    *shift
	v    *schedule.Mover
	plan []schedule.Planned
	till time.Time
}

// movesHeld keeps what is being moved, by what was asked.
type movesHeld struct {
	sync.Mutex
	of map[string]*moving
}

// MoveShift judges a move with all else unchanged.
func (a *App) MoveShift(ctx context.Context, in ShiftMove) (ShiftVerdict, error) {
	m, err := a.takenInHand(ctx, in)
	if err != nil {
		return ShiftVerdict{}, err
	}
	id := in.Kind.ID(in.Tag)
	n := slices.IndexFunc(m.plan, func(p schedule.Planned) bool { return p.Activity == id })
	if n < 0 {
		return ShiftVerdict{}, notFound("part of this plan", id)
	}
	p := m.plan[n]
	p.Start, p.People = m.s.minute(in.Start), slices.Clone(p.People)
	if k := slices.Index(p.People, in.From); k >= 0 && in.To != "" {
		p.People[k] = in.To
	}
	broken, end, err := m.v.Try(p)
	if err != nil {
		return ShiftVerdict{}, err
	}
	out := ShiftVerdict{Breaks: []string{}, Start: m.s.at(p.Start), End: m.s.at(end),
		Clock: m.s.at(p.Start).Format(shutdown.Clock)}
	for _, b := range broken {
		if says := shutdown.Breaks(b, id, p.People, p.Tools, m.s.names); !slices.Contains(out.Breaks, says) {
			out.Breaks = append(out.Breaks, says)
		}
		out.Hard = out.Hard || shutdown.Hard(b)
	}
	if len(broken) > 0 {
		if start, found := m.v.Nearest(p, moveStep, moveFar); found {
			t := m.s.at(start)
			out.Nearest, out.NearestClock = &t, t.Format(shutdown.Clock)
		}
	}
	return out, nil
}

// takenInHand gives the plan that somebody looks at, as it was a moment ago: that of these constraints, and of this
// plan in force.
func (a *App) takenInHand(ctx context.Context, in ShiftMove) (*moving, error) {
	held, err := constraintsInForce(ctx, a.q, in.Ask.Package)
	if err != nil {
		return nil, err
	}
	force, err := a.ShiftInForce(ctx, in.Ask.Package)
	if err != nil {
		return nil, err
	}
	id := in.Kind.ID(in.Tag)
	key := fmt.Sprintf("%+v %t %s %d %d", in.Ask, in.InForce, id, held.Version, force.Version)
	a.hand.Lock()
	m := a.hand.of[key]
	a.hand.Unlock()
	if m != nil && a.now().Before(m.till) {
		return m, nil
	}
	s, instance, err := a.shiftFacts(ctx, in.Ask)
	if err != nil {
		return nil, err
	}
	plan, err := a.planInHand(ctx, in, force, s, instance)
	if err != nil {
		return nil, err
	}
	// a pin of its own does not stand in the way of the part that is moved
	instance.Pins = slices.DeleteFunc(instance.Pins, func(p schedule.Pin) bool { return p.Activity == id })
	var gone []string
	for _, j := range instance.Jobs {
		of := func(p schedule.Planned) bool { tag, _ := shutdown.Of(p.Activity); return tag == j.ID }
		if !slices.ContainsFunc(plan, of) {
			gone = append(gone, j.ID)
		}
	}
	m = &moving{s: s, plan: plan, till: a.now().Add(heldInHand)}
	if m.v, err = schedule.NewMover(instance, plan, gone); err != nil {
		return nil, err
	}
	a.hand.Lock()
	defer a.hand.Unlock()
	if len(a.hand.of) >= mostInHand {
		clear(a.hand.of)
	}
	a.hand.of[key] = m
	return m, nil
}

// planInHand is the plan in force, or the one that is planned now.
func (a *App) planInHand(ctx context.Context, in ShiftMove, f ShiftInForce, s *shift,
	instance *schedule.Instance) ([]schedule.Planned, error) {
	if in.InForce {
		return s.planned(f.Plan, instance), nil
	}
	answer, err := a.solveShift(ctx, f, s, instance, in.Ask.work(instance))
	if err != nil {
		return nil, err
	}
	return answer.Activities, nil
}

// planned gives a plan that was put in force as far as it is still to be done.
func (s *shift) planned(p *ShiftPlan, in *schedule.Instance) []schedule.Planned {
	out := slices.Clone(in.Begun)
	for _, x := range s.announced(p, in) {
		is := func(b schedule.Planned) bool { return b.Activity == x.Activity }
		if x.Mode != "" && !slices.ContainsFunc(in.Begun, is) {
			out = append(out, x)
		}
	}
	return out
}

// announced gives the parts of the work as a plan in force has them: without a mode when they cannot be done so any
// more.
func (s *shift) announced(p *ShiftPlan, in *schedule.Instance) []schedule.Planned {
	var out []schedule.Planned
	if p == nil {
		return out
	}
	at := map[string]ShiftActivity{}
	for _, x := range p.Activities {
		at[x.Kind.ID(x.Tag)] = x
	}
	for _, j := range in.Jobs {
		for _, act := range j.Activities {
			x, ok := at[act.ID]
			if !ok {
				continue
			}
			was := schedule.Planned{Activity: act.ID, Start: s.minute(x.Start), End: s.minute(x.End), People: x.IDs,
				Tools: x.Tools}
			m := shutdown.ModeOf(act.Modes, len(x.IDs), x.Tools)
			if m >= 0 && !slices.ContainsFunc(x.IDs, func(id string) bool { return s.names[id] == "" }) {
				was.Mode = act.Modes[m].ID
			}
			out = append(out, was)
		}
	}
	return out
}
