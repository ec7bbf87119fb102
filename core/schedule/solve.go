package schedule

import (
	"context"
	"math"
	"slices"
)

// Options say how long to look for a better plan. The same instance, seed and work give the same answer.
type Options struct {
	Seed     uint64
	Work     int                                // placements; 0: as many as the size of the instance asks for
	Progress func(best Objective, done, of int) // called between moves; may be nil
}

// budget is how many placements are made when nobody says: enough to be good in a few seconds.
func (m *model) budget() int {
	n := len(m.acts)
	switch {
	case n <= 20:
		return 200_000
	case n <= 120:
		return 2_400_000
	case n <= 600:
		return 180_000
	}
	return 115_000
}

// Solve plans an instance: no job is left out that need not be, then least late, then the earliest finish, then the
// fewest carries and the evenest load. A context that ends gives the best plan so far. Refused: an instance that says
// what cannot be meant, naming the field.
func Solve(ctx context.Context, in *Instance, o Options) (*Answer, error) {
	m, err := compile(in)
	if err != nil {
		return nil, err
	}
	if o.Work <= 0 {
		o.Work = m.budget()
	}
	s := m.newSearch(ctx, o.Seed, m.bound(), o.Work)
	s.progress = o.Progress
	s.run()
	if m.in.Keep != nil {
		return m.replan(ctx, o, s), nil
	}
	proved := m.refine(s)
	s.justify(nil)
	a := m.answer(s, nil)
	if proved && !s.cancelled {
		a.Stopped = "proved"
	}
	a.Forbids = m.leftOut(s)
	return a, nil
}

// replan holds the plan in which what was announced stays against the best one, and takes it when that costs little.
func (m *model) replan(ctx context.Context, o Options, free *search) *Answer {
	near := m.near()
	kept := m.again(ctx, o, free, near)
	if kept != free && kept.objective().Before(free.objective()) { // then the best one is no better than that
		free = kept
	}
	a, b := kept.objective(), free.objective()
	k := &Kept{}
	k.Costs.Tardiness, k.Costs.Finish = a.Tardiness-b.Tardiness, a.Finish-b.Finish
	k.Kept = max(k.Costs.Tardiness, k.Costs.Finish) <= m.in.Keep.Cost && a.Unplaced <= b.Unplaced
	s, stay := free, make([]bool, len(m.acts))
	if k.Kept {
		s = kept
		changed := m.changed(s.state, near)
		for i := range near {
			stay[i] = !slices.Contains(changed, m.acts[i].id)
		}
	}
	for i := range s.acts { // from here on nothing is fixed that has not begun
		if s.acts[i].begun == nil {
			s.acts[i].fixed = nil
		}
	}
	s.justify(stay)
	if !k.Kept {
		stay = nil
	}
	out := m.answer(s, stay)
	k.Changed = m.changed(s.state, near)
	out.Keep, out.Forbids = k, m.leftOut(s)
	return out
}

// answer tells the plan as it stands.
func (m *model) answer(s *search, kept []bool) *Answer {
	a := &Answer{
		Activities: []Planned{},
		Unplaced:   []string{},
		Objective:  s.objective(),
		Bound:      s.bound,
		Stopped:    "budget",
		Work:       s.work,
	}
	for _, i := range s.byStart() {
		p := m.told(i, s.at[i])
		if m.acts[i].begun == nil {
			p.Because = s.because(i, kept != nil && kept[i])
		}
		a.Activities = append(a.Activities, p)
	}
	for j := range m.jobs {
		if s.skip[j] {
			a.Unplaced = append(a.Unplaced, m.jobs[j].id)
		}
	}
	switch {
	case s.cancelled:
		a.Stopped = "cancelled"
	case len(a.Unplaced) == 0 && a.Objective.Finish == s.bound.Finish && a.Objective.Tardiness == s.bound.Tardiness:
		a.Stopped = "proved"
	}
	if b := a.Bound.Finish; b > 0 {
		a.Gap = math.Round(1e4*float64(a.Objective.Finish-b)/float64(b)) / 1e4
	}
	return a
}

// told writes where an activity stands with the names of the instance.
func (m *model) told(i int, p placed) Planned {
	x := Planned{
		Activity: m.acts[i].id,
		Start:    p.start,
		End:      p.end,
		Mode:     m.acts[i].modes[p.mode].id,
		People:   []string{},
		Tools:    []string{},
	}
	for _, w := range p.people {
		x.People = append(x.People, m.people[w].id)
	}
	for _, t := range p.tools {
		x.Tools = append(x.Tools, m.tools[t].id)
	}
	return x
}
