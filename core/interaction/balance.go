package interaction

import "math"

const (
	mostSteps = 200
	patience  = 10    // steps after which a part of the stiffness is used again only if it is quite the same
	alike     = 5e-3  // share of a node's stiffness that may have changed since it was factored, to be taken for it
	balanced  = 1e-10 // of the sum of the forces
	rounding  = 1e-7  // of it, that is taken where no step makes it less
)

// balance finds the equilibrium with the laws of the bolts as they are. Each is the minimum of a convex function:
// there is one, and semismooth Newton steps with a search along each find it. Two steps that cost little come first,
// and tell which spots of the gasket will load and which will let go: what the pull before did, turned to where this
// one is; and one with the last stiffness of that.
func (m *Model) balance() error {
	copy(m.start.x, m.x)
	m.start.aside = m.aside
	m.residual(m.x, &m.aside)
	m.look()
	pulled := m.pulledNode()
	if pulled >= 0 && m.before.node >= 0 {
		m.likeBefore(pulled)
		m.follow()
	}
	if m.known {
		if m.half(m.r); m.close() {
			m.follow()
		}
	}
	if err := m.find(pulled); err != nil {
		return err
	}
	if pulled >= 0 {
		m.before.node = pulled
		for i, v := range m.x {
			m.before.x[i] = v - m.start.x[i]
		}
		for i, v := range m.aside {
			m.before.aside[i] = v - m.start.aside[i]
		}
	}
	return nil
}

// find takes Newton steps until there is balance.
func (m *Model) find(pulled int) error {
	m.begin(pulled)
	for n := range mostSteps {
		if m.bad <= balanced*m.total || m.bad == 0 {
			return nil
		}
		m.alike = alike
		if n >= patience {
			m.alike = 0
		}
		if !m.newton() {
			return ErrNotConverged
		}
		if !m.follow() {
			if m.first == 0 {
				break
			}
			m.known = false // the stiffness was not quite this one's
		}
	}
	if m.bad <= rounding*m.total {
		return nil // as good as the figures are
	}
	return ErrNotConverged
}

// pulledNode is that of the first bolt whose nut is turned; -1: none is.
func (m *Model) pulledNode() int {
	for b := range m.law {
		if m.law[b].kind != stays {
			return m.boltNode(b)
		}
	}
	return -1
}

// likeBefore puts what the pull before did to the ring into m.d and m.dAside, turned to another node: pipe and taper
// turn with it. Joints are alike all round, their gasket nearly so.
func (m *Model) likeBefore(node int) {
	by := (node - m.before.node + m.nodes) % m.nodes
	copy(m.d[3*by:], m.before.x[:m.size-3*by])
	copy(m.d[:3*by], m.before.x[m.size-3*by:])
	m.dAside = m.before.aside
	c, s := m.cos[by], m.sin[by]
	for _, at := range [2]int{m.free - 2, m.free} { // the pipe's tilts, and the shifts
		if at >= 0 && at+2 <= m.free+m.shifts {
			a, b := m.before.aside[at], m.before.aside[at+1]
			m.dAside[at], m.dAside[at+1] = a*c-b*s, a*s+b*c
		}
	}
}

// follow goes along the step: all of it when that is downhill or flat enough, else to where it is level. False, and
// nothing is done, when the step does not go downhill.
func (m *Model) follow() bool {
	before := 0.0
	for i, v := range m.r {
		before += v * m.d[i]
	}
	for k := range m.free + m.shifts {
		before += m.rAside[k] * m.dAside[k]
	}
	if !(before < 0) {
		return false
	}
	try := func(a float64) float64 {
		for i, v := range m.d {
			m.trial[i] = m.x[i] + a*v
		}
		for k := range m.free + m.shifts {
			m.tAside[k] = m.aside[k] + a*m.dAside[k]
		}
		m.residual(m.trial, &m.tAside)
		m.look()
		return m.slope
	}
	g := try(1)
	if g > 0 && g > .5*math.Abs(before) || math.IsNaN(g) {
		lo, hi, glo, ghi := 0.0, 1.0, before, g
		for range 40 {
			a := (lo + hi) / 2
			if b := lo - glo*(hi-lo)/(ghi-glo); !math.IsInf(ghi, 0) && b > lo && b < hi {
				a = b
			}
			g = try(a)
			if math.Abs(g) <= .5*math.Abs(before) {
				break
			}
			if g < 0 {
				lo, glo, ghi = a, g, ghi/2
			} else {
				hi, ghi, glo = a, g, glo/2
			}
		}
	}
	m.x, m.trial = m.trial, m.x
	m.aside = m.tAside
	return true
}

// look puts the slope of the energy along the step into m.slope, and the largest of what is out of balance, moments
// over the radius of the ring, into m.bad. The bits of numbers without sign are in the order of the numbers, with
// those that are none behind all others.
func (m *Model) look() {
	const sign = 1 << 63
	sum, force, moment := 0.0, uint64(0), uint64(0)
	r, d := m.r, m.d[:len(m.r)]
	for i := 0; i+2 < len(r); i += 3 {
		a, b, c := r[i], r[i+1], r[i+2]
		sum += a*d[i] + b*d[i+1] + c*d[i+2]
		force = max(force, math.Float64bits(a)&^sign)
		moment = max(moment, math.Float64bits(b)&^sign, math.Float64bits(c)&^sign)
	}
	for k := range m.free + m.shifts {
		v := m.rAside[k]
		sum += v * m.dAside[k]
		if k < m.free && (m.free == 2 || k > 0) {
			moment = max(moment, math.Float64bits(v)&^sign)
		} else {
			force = max(force, math.Float64bits(v)&^sign)
		}
	}
	m.slope, m.bad = sum, max(math.Float64frombits(force), math.Float64frombits(moment)/m.joint.Ring.R)
}
