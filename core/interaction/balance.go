package interaction

import "math"

const (
	mostSteps = 200
	balanced  = 1e-10 // of the sum of the forces
	rounding  = 1e-7  // of it, that is taken where no step makes it less
	nearby    = 1e-3  // of it, from where a stiffness that was factored before will do
)

// balance finds the equilibrium with the laws of the bolts as they are. Each is the minimum of a convex function: there
// is one, and semismooth Newton steps with a search along each find it. Near it the last stiffness is used again while
// that brings it nearer tenfold.
func (m *Model) balance() error {
	m.residual(m.x, &m.aside)
	factored, last := false, math.Inf(1)
	for range mostSteps {
		bad := m.unbalanced()
		if bad <= balanced*m.total || bad == 0 {
			return nil
		}
		again := factored && !m.fresh && bad <= nearby*m.total && bad <= .1*last
		last = bad
		if !again {
			m.tangent()
			if factored = m.newton(); !factored {
				return ErrNotConverged
			}
		} else if !m.repeat() {
			return ErrNotConverged
		}
		before := m.along()
		if !(before < 0) {
			if again {
				factored = false
				continue
			}
			break
		}
		m.follow(before)
	}
	if m.unbalanced() <= rounding*m.total {
		return nil // as good as the figures are
	}
	return ErrNotConverged
}

// follow goes along the step: all of it when that is downhill or flat enough, else to where it is level.
func (m *Model) follow(before float64) {
	try := func(a float64) float64 {
		for i, v := range m.d {
			m.trial[i] = m.x[i] + a*v
		}
		for k := range m.free + m.shifts {
			m.tAside[k] = m.aside[k] + a*m.dAside[k]
		}
		m.residual(m.trial, &m.tAside)
		return m.along()
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
}

// along is the slope of the energy along the step.
func (m *Model) along() float64 {
	sum := 0.0
	for i, v := range m.r {
		sum += v * m.d[i]
	}
	for k := range m.free + m.shifts {
		sum += m.rAside[k] * m.dAside[k]
	}
	return sum
}

// step puts the Newton step into m.d and m.dAside.
func (m *Model) step() bool {
	if m.free+m.shifts > 3 {
		return m.condense() && m.repeat()
	}
	return m.whole()
}

// whole is a step with a border of three columns at most, as every flange has: what is out of balance goes along with them
// as a fourth, and all four while the band is factored, whose rows wait for each other.
func (m *Model) whole() bool {
	side := m.sides[0]
	b0, b1, b2, r := m.border[0][:len(side)], m.border[1][:len(side)], m.border[2][:len(side)], m.r[:len(side)]
	for i := range side {
		side[i] = four{b0[i], b1[i], b2[i], r[i]}
	}
	if !factor(m.mat, side) {
		return false
	}
	s00, s01, s02, s11, s12, s22, t0, t1, t2 := 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
	d := m.d[:len(side)]
	for i := range side {
		a := &side[i]
		s00 += a[0] * a[0]
		s01 += a[0] * a[1]
		s02 += a[0] * a[2]
		s11 += a[1] * a[1]
		s12 += a[1] * a[2]
		s22 += a[2] * a[2]
		t0 += a[0] * a[3]
		t1 += a[1] * a[3]
		t2 += a[2] * a[3]
		d[i] = a[3]
	}
	for k, row := range [3][3]float64{{s00, s01, s02}, {s01, s11, s12}, {s02, s12, s22}} {
		for o, v := range row {
			m.small[k][o] -= v
		}
	}
	clear(m.d[len(side):])
	m.drawn = [8]float64{t0, t1, t2}
	return m.close()
}

// repeat makes a step with what is factored.
func (m *Model) repeat() bool {
	m.half(m.r)
	return m.close()
}

// close finds the border's unknowns, and goes the other half of the way.
func (m *Model) close() bool {
	nb := m.free + m.shifts
	for k := range nb {
		m.rhs[k] = m.drawn[k] - m.rAside[k]
	}
	a := m.small
	if !solveSmall(&a, &m.rhs, nb) {
		return false
	}
	copy(m.dAside[:], m.rhs[:nb])
	if nb <= 4 {
		back(m.mat, m.sides[0], [4]float64(m.rhs[:4]), m.d)
		return true
	}
	m.expand(-1)
	return true
}

// condense factors the band and goes half of the way with the border's columns: m.sides holds L⁻¹ of them, and m.small
// becomes the Schur complement of the border.
func (m *Model) condense() bool {
	nb := m.free + m.shifts
	for g, side := range m.sides {
		for i := range side {
			side[i] = four{}
			for c := 0; c < 4 && 4*g+c < nb; c++ {
				side[i][c] = m.border[4*g+c][i]
			}
		}
	}
	if !factor(m.mat, m.sides[0]) {
		return false
	}
	if nb > 4 {
		forward(m.mat, m.sides[1])
	}
	for g := 0; 4*g < nb; g++ {
		for h := g; 4*h < nb; h++ {
			m.products(g, h)
		}
	}
	return true
}

// products takes what the border's columns of two groups make of each other off the corner.
func (m *Model) products(g, h int) {
	var sum [4][4]float64
	x, y := m.sides[g], m.sides[h][:len(m.sides[g])]
	for i := range x {
		a, b := &x[i], &y[i]
		for k := range 4 {
			v := a[k]
			sum[k][0] += v * b[0]
			sum[k][1] += v * b[1]
			sum[k][2] += v * b[2]
			sum[k][3] += v * b[3]
		}
	}
	for k := range 4 {
		for o := range 4 {
			if i, j := 4*g+k, 4*h+o; i < mostBorder && j < mostBorder {
				m.small[i][j] -= sum[k][o]
				if g != h {
					m.small[j][i] -= sum[k][o]
				}
			}
		}
	}
}

// half goes half of the way with a right-hand side into m.d; m.drawn is what the border's columns make of it.
func (m *Model) half(rhs []float64) {
	copy(m.d, rhs)
	forwardOne(m.mat, m.d)
	m.drawn = [8]float64{}
	for g := 0; 4*g < m.free+m.shifts; g++ {
		s0, s1, s2, s3 := 0.0, 0.0, 0.0, 0.0
		side := m.sides[g]
		for i, v := range m.d[:len(side)] {
			a := &side[i]
			s0 += a[0] * v
			s1 += a[1] * v
			s2 += a[2] * v
			s3 += a[3] * v
		}
		m.drawn[4*g], m.drawn[4*g+1], m.drawn[4*g+2], m.drawn[4*g+3] = s0, s1, s2, s3
	}
}

// expand goes the other half: m.d becomes sign times the right-hand side's solution less what the border's unknowns in
// m.rhs make of the ring.
func (m *Model) expand(sign float64) {
	nb := m.free + m.shifts
	var v [8]float64
	copy(v[:nb], m.rhs[:nb])
	one, two := m.sides[0], m.sides[1]
	for i, d := range m.d[:len(one)] {
		a := &one[i]
		m.d[i] = sign*d - v[0]*a[0] - v[1]*a[1] - v[2]*a[2] - v[3]*a[3]
	}
	if nb > 4 {
		for i := range two {
			m.d[i] -= v[4] * two[i][0]
		}
	}
	backward(m.mat, m.d)
}
