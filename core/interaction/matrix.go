package interaction

import (
	"context"
	"fmt"
	"math"

	"dynacor/core/quantity"
)

// Matrix gives how the force of each bolt changes with the travel of each nut, N/m, with all bolts holding and the gasket
// at the slope that it has now: B in the model. It is symmetric.
func (m *Model) Matrix() ([][]float64, error) {
	n := m.joint.Bolts
	all := m.joint.Bilateral
	m.joint.Bilateral = true // all hold
	for i := range m.law {
		m.law[i] = law{}
	}
	m.residual(m.x, &m.aside)
	m.joint.Bilateral = all
	m.first = 0
	m.lay()
	load := make([]float64, m.size)
	if !m.condense() {
		return nil, ErrNotConverged
	}
	s, k := float64(m.joint.Sides), m.joint.KBolt
	arm := m.joint.RBolt - m.joint.Ring.R
	nb := m.free + m.shifts
	out := make([][]float64, n)
	for b := range n {
		clear(load)
		at := 3 * m.boltNode(b)
		load[at], load[at+2] = 1, arm
		m.half(load)
		for i := range nb {
			m.rhs[i] = -m.drawn[i]
		}
		a := m.small
		if !solveSmall(&a, &m.rhs, nb) {
			return nil, ErrNotConverged
		}
		m.expand(1)
		m.spread()
		out[b] = make([]float64, n)
		for o := range n {
			r := 3 * m.boltNode(o)
			out[b][o] = -k * k * s * (m.d[r] + arm*m.d[r+2])
		}
		out[b][b] += k
	}
	return out, nil
}

// Compensation asks for targets of a single pass after which all bolts have the same force.
type Compensation struct {
	Order  Order   `json:"order"`
	Tools  int     `json:"tools"`
	Target float64 `json:"target"` // N, in the end
	Pre    []Pass  `json:"pre"`    // passes before it
	Embed  float64 `json:"embed"`
}

// Compensated is what it takes, and what comes without.
type Compensated struct {
	Targets     []float64 `json:"targets"` // N, by bolt
	Forces      []float64 `json:"final_forces"`
	Uncorrected []float64 `json:"uncompensated_final_forces"`
	Scatter     float64   `json:"uncompensated_scatter"`
	Ratio       float64   `json:"max_target_ratio"` // highest target over the force in the end
}

const (
	mostSweeps  = 400
	compensated = 1e-6
)

// Compensate finds the targets: each is moved by what its bolt lacks in the end, again and again. Refused: as in Run, and
// targets that yield the bolt. They hold for these stiffnesses alone.
func (m *Model) Compensate(c Compensation) (*Compensated, error) {
	n := m.joint.Bolts
	targets := make([]float64, n)
	for i := range targets {
		targets[i] = c.Target
	}
	last := Pass{Fraction: 1, Order: c.Order, Tools: c.Tools, Targets: map[string]float64{}}
	s := Sequence{Target: c.Target, Passes: append(append([]Pass{}, c.Pre...), last), Embed: c.Embed}
	out := &Compensated{}
	for sweep := range mostSweeps {
		for i, t := range targets {
			last.Targets[fmt.Sprint(i+1)] = max(t, 1e-6*c.Target)
		}
		p, err := m.Prepare(s)
		if err != nil {
			return nil, err
		}
		p.silent = true
		if err := p.Play(context.Background(), nil); err != nil {
			return nil, err
		}
		if sweep == 0 {
			out.Uncorrected = append(out.Uncorrected, m.forces...)
			out.Scatter = StatsOf(m.forces).Scatter
		}
		worst := 0.0
		for i, f := range m.forces {
			worst = max(worst, math.Abs(f-c.Target))
			targets[i] += c.Target - f
		}
		if worst <= compensated*c.Target {
			for i := range targets {
				targets[i] -= c.Target - m.forces[i]
				out.Ratio = max(out.Ratio, targets[i]/c.Target)
			}
			out.Targets, out.Forces = targets, append(out.Forces, m.forces...)
			return out, nil
		}
	}
	return nil, quantity.Refuse("order", "Take more passes, or rounds of checking.",
		"has no targets in one pass after which all bolts are alike")
}
