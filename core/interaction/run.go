package interaction

import (
	"context"
	"fmt"
	"math"

	"dynacor/core/chance"
)

// Stats are how the forces of all bolts lie.
type Stats struct {
	Mean    float64 `json:"mean"`
	Min     float64 `json:"min"`
	Max     float64 `json:"max"`
	Scatter float64 `json:"scatter"` // (max - min) / mean
	Std     float64 `json:"std"`     // of all of them
}

// StatsOf sums forces up.
func StatsOf(f []float64) Stats {
	s := Stats{Min: math.Inf(1), Max: math.Inf(-1)}
	for _, v := range f {
		s.Mean += v / float64(len(f))
		s.Min, s.Max = min(s.Min, v), max(s.Max, v)
	}
	for _, v := range f {
		s.Std += (v - s.Mean) * (v - s.Mean) / float64(len(f))
	}
	s.Std = math.Sqrt(s.Std)
	if s.Mean > 0 {
		s.Scatter = (s.Max - s.Min) / s.Mean
	}
	return s
}

// PassStats are those at the end of a pass.
type PassStats struct {
	Stats
	Pass     string  `json:"pass"` // P1, P2, … as planned; C1, C2, … of checking
	MaxAngle float64 `json:"max_angle"`
}

// Step is one pull, or the giving way of the gasket after a pass.
type Step struct {
	Step   int       `json:"step"` // from 1
	Pass   int       `json:"-"`    // from 0
	Bolts  []int     `json:"bolts"`
	Angle  []float64 `json:"angle_deg"` // by which each nut was turned
	Forces []float64 `json:"forces"`    // of all bolts, after it
}

// Stress is how the gasket is pressed.
type Stress struct {
	Min  float64 `json:"min"`
	Max  float64 `json:"max"`
	Mean float64 `json:"mean"` // by area
}

// Shape is how the faces lie.
type Shape struct {
	Closure     []float64 `json:"closure"` // m, at the edge, every 45°
	Parallelism float64   `json:"parallelism"`
	RangeAll    float64   `json:"range_all"` // m, of all nodes
	Tilt        float64   `json:"tilt"`      // rad
	TiltDir     float64   `json:"tilt_dir_deg"`
	PhiMean     float64   `json:"phi_mean"`
	PhiMin      float64   `json:"phi_min"`
	PhiMax      float64   `json:"phi_max"`
}

// Result is what becomes of a joint in a sequence.
type Result struct {
	Steps   []Step
	Forces  []float64
	Stats   Stats
	Passes  []PassStats
	Rounds  int   // of checking that were done
	Quiet   *bool // no nut turned in the last of them; nil: none was asked for
	ToGoal  *int  // passes after which the scatter is no more than the goal; nil: none
	Stress  Stress
	Shape   Shape
	Pulls   int
	Highest float64 // force of any bolt at any time, N
}

// Watch is told each step of a history as it comes; the forces are only lent.
type Watch func(pass int, bolts []int, angle []float64, forces []float64)

// Run tightens the joint from the start. Refused as the sequence cannot be done; ErrNotConverged when no equilibrium is
// found: then there is no result.
func (m *Model) Run(s Sequence) (*Result, error) { return m.RunContext(context.Background(), s, nil) }

// RunContext is Run that stops between steps; told, which may be nil, is called after each of them, while the model
// stands as the step left it.
func (m *Model) RunContext(ctx context.Context, s Sequence, told func()) (*Result, error) {
	r := &Result{}
	p, err := m.Prepare(s)
	if err != nil {
		return nil, err
	}
	err = p.Play(ctx, func(pass int, bolts []int, angle, forces []float64) {
		r.Steps = append(r.Steps, Step{Step: len(r.Steps) + 1, Pass: pass, Bolts: append([]int{}, bolts...),
			Angle: append([]float64{}, angle...), Forces: append([]float64{}, forces...)})
		if told != nil {
			told()
		}
	})
	if err != nil {
		return nil, err
	}
	r.Forces = append(r.Forces, m.forces...)
	r.Stats, r.Stress, r.Shape = StatsOf(m.forces), m.Stress(), m.Shape()
	r.Passes, r.Rounds, r.Quiet, r.ToGoal = p.passes, p.rounds, p.quiet, p.toGoal()
	r.Pulls, r.Highest = p.pulls, p.highest
	return r, nil
}

// Player goes through a sequence on a model, without allocating once it is made.
type Player struct {
	m       *Model
	s       Sequence
	groups  [][][]int // of each planned pass
	again   [][]int   // of a round of checking
	draws   draws
	targets []float64
	before  []float64 // travel of the nuts
	angle   []float64
	passes  []PassStats
	rounds  int
	quiet   *bool
	pulls   int
	highest float64
	silent  bool
}

// Prepare lays a sequence out for a model.
func (m *Model) Prepare(s Sequence) (*Player, error) {
	if err := s.check(&m.joint); err != nil {
		return nil, err
	}
	p := &Player{m: m, s: s, targets: make([]float64, m.joint.Bolts), before: make([]float64, m.joint.Bolts),
		angle: make([]float64, m.joint.Bolts)}
	rounds := 0
	if s.Check != nil {
		rounds = s.Check.Most
		p.again, _ = groups(m.joint.Bolts, Order{Name: Circular}, s.Check.Tools)
	}
	p.passes = make([]PassStats, 0, len(s.Passes)+rounds)
	for _, pass := range s.Passes {
		g, err := groups(m.joint.Bolts, pass.Order, pass.Tools)
		if err != nil {
			return nil, err // it was checked
		}
		p.groups = append(p.groups, g)
	}
	return p, nil
}

// Play goes through it from the start; told may be nil.
func (p *Player) Play(ctx context.Context, told Watch) error {
	m := p.m
	m.Reset()
	p.passes, p.rounds, p.quiet, p.pulls, p.highest = p.passes[:0], 0, nil, 0, 0
	p.draws = draws{control: p.s.Torque}
	if p.s.Torque != nil {
		p.draws.source = chance.Source(p.s.Torque.Seed)
	}
	for n := range p.s.Passes {
		if err := p.pass(ctx, n, &p.s.Passes[n], p.groups[n], told); err != nil {
			return err
		}
	}
	if p.s.Check == nil {
		return nil
	}
	quiet := false
	round := Pass{Fraction: 1}
	for !quiet && p.rounds < p.s.Check.Most {
		if err := p.pass(ctx, len(p.passes), &round, p.again, told); err != nil {
			return err
		}
		p.rounds++
		quiet = p.passes[len(p.passes)-1].MaxAngle <= p.s.Check.Threshold
	}
	p.quiet = &quiet
	return nil
}

// pass goes round once.
func (p *Player) pass(ctx context.Context, n int, pass *Pass, order [][]int, told Watch) error {
	m := p.m
	for b := range p.targets {
		p.targets[b] = p.s.Target * pass.Fraction
	}
	if len(pass.Targets) > 0 {
		for b := range p.targets {
			if t, ok := pass.Targets[fmt.Sprint(b+1)]; ok {
				p.targets[b] = t
			}
		}
	}
	limit := math.Inf(1)
	if pass.Turn > 0 {
		limit = pass.Turn / 360 * m.joint.Pitch
	}
	worst := 0.0
	for _, group := range order {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if err := p.pull(group, limit); err != nil {
			return err
		}
		for _, a := range p.angle[:len(group)] {
			worst = max(worst, math.Abs(a))
		}
		if told != nil {
			told(n, group, p.angle[:len(group)], m.forces)
		}
	}
	if pass.Creep > 0 {
		if err := m.creep(pass.Creep); err != nil {
			return err
		}
		if told != nil {
			told(n, nil, nil, m.forces)
		}
	}
	name := ""
	if !p.silent {
		if name = fmt.Sprintf("P%d", n+1); n >= len(p.s.Passes) {
			name = fmt.Sprintf("C%d", n-len(p.s.Passes)+1)
		}
	}
	p.passes = append(p.passes, PassStats{Stats: StatsOf(m.forces), Pass: name, MaxAngle: worst})
	return nil
}

// pull tightens the bolts of a group together.
func (p *Player) pull(group []int, limit float64) error {
	m := p.m
	kind := pulled
	if p.s.Adjust {
		kind = adjusted
	}
	for i := range m.law {
		m.law[i] = law{}
	}
	for _, b := range group {
		m.law[b-1] = law{kind, p.targets[b-1] * p.draws.share(), limit}
		p.before[b-1] = m.nu[b-1]
	}
	if err := m.balance(); err != nil {
		return err
	}
	k := m.joint.KBolt
	sunk := false
	for n, b := range group {
		c := m.closureAt(m.x, m.boltNode(b-1), m.joint.RBolt)
		l := &m.law[b-1]
		if l.kind == adjusted {
			m.nu[b-1] = c + l.target/k
		} else {
			m.nu[b-1] = max(m.nu[b-1], min(m.nu[b-1]+l.limit, c+l.target/k))
		}
		p.angle[n] = 360 * (m.nu[b-1] - p.before[b-1]) / m.joint.Pitch
		p.pulls++
	}
	for i := range m.law {
		m.law[i] = law{}
	}
	m.settle()
	for _, b := range group {
		if f := m.forces[b-1]; p.s.Embed > 0 && f > m.peak[b-1] {
			m.nu[b-1] -= p.s.Embed * (f - m.peak[b-1]) / k
			m.peak[b-1] = f
			sunk = true
		}
	}
	for _, f := range m.forces {
		p.highest = max(p.highest, f)
	}
	if sunk {
		if err := m.balance(); err != nil {
			return err
		}
		m.settle()
	}
	return nil
}

// creep lets the gasket give way by a share of its stress, with the nuts as they are.
func (m *Model) creep(share float64) error {
	s := float64(m.joint.Sides)
	for i := range m.nodes {
		for k, r := range m.radii {
			h := &m.spots[i*len(m.radii)+k]
			stress, _ := m.joint.Gasket.at(m.closureSpot(i, s, r, h), h)
			h.creep += share * stress / m.joint.Gasket.unloading(h)
		}
	}
	for i := range m.law {
		m.law[i] = law{}
	}
	if err := m.balance(); err != nil {
		return err
	}
	m.settle()
	return nil
}

func (p *Player) toGoal() *int {
	if p.s.Goal == nil {
		return nil
	}
	for n := len(p.s.Passes); n <= len(p.passes); n++ {
		if p.passes[n-1].Scatter <= *p.s.Goal {
			return &n
		}
	}
	return nil
}

// Stress is how the gasket is pressed now.
func (m *Model) Stress() Stress {
	out := Stress{Min: math.Inf(1), Max: math.Inf(-1)}
	area := 0.0
	s := float64(m.joint.Sides)
	for i := range m.nodes {
		for k, r := range m.radii {
			h := &m.spots[i*len(m.radii)+k]
			v, _ := m.joint.Gasket.at(m.closureSpot(i, s, r, h), h)
			out.Min, out.Max = min(out.Min, v), max(out.Max, v)
			out.Mean += v * m.areas[k]
			area += m.areas[k]
		}
	}
	out.Mean /= area
	return out
}

// Round gives the mean stress of the gasket and the closure at the edge, at each bolt and halfway to the next, for
// drawing.
func (m *Model) Round() (stress, closure []float64) {
	s := float64(m.joint.Sides)
	for i := 0; i < m.nodes; i += max(1, m.joint.perBolt()/2) {
		sum, area := 0.0, 0.0
		for k, r := range m.radii {
			h := &m.spots[i*len(m.radii)+k]
			v, _ := m.joint.Gasket.at(m.closureSpot(i, s, r, h), h)
			sum += v * m.areas[k]
			area += m.areas[k]
		}
		stress = append(stress, sum/area)
		closure = append(closure, m.closureAt(m.x, i, m.joint.ROut))
	}
	return stress, closure
}

// Shape is how the faces lie now.
func (m *Model) Shape() Shape {
	n := m.nodes
	out := Shape{PhiMin: math.Inf(1), PhiMax: math.Inf(-1)}
	edge := func(i int) float64 { return m.closureAt(m.x, i%n, m.joint.ROut) }
	lo, hi, a, b := math.Inf(1), math.Inf(-1), 0.0, 0.0
	for i := range n {
		c := edge(i)
		lo, hi = min(lo, c), max(hi, c)
		a += 2 / float64(n) * c * m.cos[i]
		b += 2 / float64(n) * c * m.sin[i]
		phi := m.x[3*i+2]
		out.PhiMean += phi / float64(n)
		out.PhiMin, out.PhiMax = min(out.PhiMin, phi), max(out.PhiMax, phi)
	}
	out.RangeAll = hi - lo
	out.Tilt = math.Hypot(a, b) / m.joint.ROut
	out.TiltDir = math.Mod(math.Atan2(b, a)*180/math.Pi+360, 360)
	lo, hi = math.Inf(1), math.Inf(-1)
	for k := range 8 {
		at := float64(k) / 8 * float64(n)
		i := int(at)
		c := edge(i)
		if f := at - float64(i); f > 0 {
			c += f * (edge(i+1) - c)
		}
		out.Closure = append(out.Closure, c)
		lo, hi = min(lo, c), max(hi, c)
	}
	out.Parallelism = hi - lo
	return out
}
