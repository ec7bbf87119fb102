package interaction

import "slices"

// begin turns the order in which nodes are eliminated so that the pulled bolt comes last, unless it is among the last
// quarter: near it the stiffness changes from step to step, and what comes before is factored once.
func (m *Model) begin(pulled int) {
	if pulled >= 0 && !slices.Contains(m.order[m.nodes*3/4:], pulled) {
		m.turn(pulled)
	}
}

// turn makes a node the last one.
func (m *Model) turn(last int) {
	by := last - m.order[m.nodes-1] + m.nodes
	for p, node := range m.order {
		m.order[p] = (node + by) % m.nodes
	}
	m.known = false
}

// step puts the Newton step into m.d and m.dAside. Places whose stiffness is what was factored, up to the first that is
// not, keep their rows.
func (m *Model) step() bool {
	m.first = 0
	if m.known {
		for m.first < m.nodes && m.stiff[m.order[m.first]].like(&m.held[m.order[m.first]], m.alike) {
			m.first++
		}
	}
	switch {
	case m.first == m.nodes:
		m.half(m.r)
	case m.shifts > 0: // their columns are others each time
		m.first = 0
		m.lay()
		if !m.condense() {
			return false
		}
		m.half(m.r)
	default:
		m.lay()
		if !m.whole() {
			return false
		}
	}
	return m.close()
}

// lay puts the stiffness of all places from m.first on into the rows.
func (m *Model) lay() {
	copy(m.mat[band+3*m.first:], m.base[band+3*m.first:])
	for p := m.first; p < m.nodes; p++ {
		node := m.order[p]
		k, rows := &m.stiff[node], m.mat[band+3*p:band+3*p+3]
		rows[0][band] += k.ww
		rows[2][band-2] += k.wp
		rows[2][band] += k.pp
		m.held[node] = *k
	}
	m.known = true
}

// whole is a step with the pipe as the only border, as every flange has: what is out of balance goes along with its
// three columns as a fourth, and all four while the band is factored, whose rows wait for each other.
func (m *Model) whole() bool {
	side := m.sides[0]
	rows := band + 3*m.first
	for p, node := range m.order {
		r, to := m.r[3*node:3*node+3], side[band+3*p:band+3*p+3]
		if p < m.first {
			to[0][3], to[1][3], to[2][3] = r[0], r[1], r[2]
			continue
		}
		w, phi := &m.hubs[3*node], &m.hubs[3*node+2]
		to[0] = four{w[0], w[1], w[2], r[0]}
		to[1] = four{3: r[1]}
		to[2] = four{phi[0], phi[1], phi[2], r[2]}
	}
	forwardFourth(m.mat[:rows], side[:rows])
	if !factor(m.mat[rows-band:], side[rows-band:]) {
		m.known = false
		return false
	}
	for p := m.first; p < m.nodes; p++ {
		m.sums[p+1] = m.sums[p]
		s := &m.sums[p+1]
		for i := band + 3*p; i < band+3*p+3; i++ {
			a := &side[i]
			s[0] += a[0] * a[0]
			s[1] += a[0] * a[1]
			s[2] += a[0] * a[2]
			s[3] += a[1] * a[1]
			s[4] += a[1] * a[2]
			s[5] += a[2] * a[2]
		}
	}
	t0, t1, t2 := 0.0, 0.0, 0.0
	y := m.y[:len(side)]
	for i := range side {
		a := &side[i]
		t0 += a[0] * a[3]
		t1 += a[1] * a[3]
		t2 += a[2] * a[3]
		y[i] = a[3]
	}
	m.small = m.corner
	s := &m.sums[m.nodes]
	for k, row := range [3][3]float64{{s[0], s[1], s[2]}, {s[1], s[3], s[4]}, {s[2], s[4], s[5]}} {
		for o, v := range row {
			m.small[k][o] -= v
		}
	}
	m.drawn = [8]float64{t0, t1, t2}
	return true
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
		back(m.tall, m.sides[0], [4]float64(m.rhs[:4]), m.y)
	} else {
		m.expand(-1)
	}
	m.spread()
	return true
}

// spread puts what was solved, in the order of elimination, into m.d.
func (m *Model) spread() {
	for p, node := range m.order {
		d, y := m.d[3*node:3*node+3], m.y[band+3*p:band+3*p+3]
		d[0], d[1], d[2] = y[0], y[1], y[2]
	}
}

// condense factors the band and goes half of the way with the border's columns: m.sides holds L⁻¹ of them, and m.small
// becomes the Schur complement of the border.
func (m *Model) condense() bool {
	nb := m.free + m.shifts
	for g, side := range m.sides {
		for p, node := range m.order {
			for k := range 3 {
				side[band+3*p+k] = four{}
				for c := 0; c < 4 && 4*g+c < nb; c++ {
					side[band+3*p+k][c] = m.border[4*g+c][3*node+k]
				}
			}
		}
	}
	if !factor(m.mat, m.sides[0]) {
		m.known = false
		return false
	}
	if nb > 4 {
		forward(m.mat, m.sides[1])
	}
	m.small = m.corner
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

// half goes half of the way with a right-hand side; m.drawn is what the border's columns make of it.
func (m *Model) half(rhs []float64) {
	for p, node := range m.order {
		r, y := rhs[3*node:3*node+3], m.y[band+3*p:band+3*p+3]
		y[0], y[1], y[2] = r[0], r[1], r[2]
	}
	forwardOne(m.mat, m.y)
	m.drawn = [8]float64{}
	for g := 0; 4*g < m.free+m.shifts; g++ {
		s0, s1, s2, s3 := 0.0, 0.0, 0.0, 0.0
		side := m.sides[g]
		for i, v := range m.y[:len(side)] {
			a := &side[i]
			s0 += a[0] * v
			s1 += a[1] * v
			s2 += a[2] * v
			s3 += a[3] * v
		}
		m.drawn[4*g], m.drawn[4*g+1], m.drawn[4*g+2], m.drawn[4*g+3] = s0, s1, s2, s3
	}
}

// expand goes the other half: m.y becomes sign times the right-hand side's solution less what the border's unknowns in
// m.rhs make of the ring.
func (m *Model) expand(sign float64) {
	nb := m.free + m.shifts
	var v [8]float64
	copy(v[:nb], m.rhs[:nb])
	one, two := m.sides[0], m.sides[1]
	for i, d := range m.y[:len(one)] {
		a := &one[i]
		m.y[i] = sign*d - v[0]*a[0] - v[1]*a[1] - v[2]*a[2] - v[3]*a[3]
	}
	if nb > 4 {
		for i := range two {
			m.y[i] -= v[4] * two[i][0]
		}
	}
	backward(m.mat, m.y)
}
