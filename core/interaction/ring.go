package interaction

import "math"

// band is how far from its diagonal a row of the ring reaches, with the nodes in folded order: 0, N-1, 1, N-2, …
const band = 8

const wide = band + 1

// place is where a node of N stands in folded order.
func place(node, of int) int {
	if node < (of+1)/2 {
		return 2 * node
	}
	return 2*(of-1-node) + 1
}

// assemble lays out the ring with its hub: a symmetric band by rows, lower half, and the columns of the hub's own
// movement, which is free.
func (m *Model) assemble() {
	n, r := m.nodes, m.joint.Ring
	half := math.Pi / float64(n)
	lam := half / math.Sin(half) // arc over chord: keeps a uniform moment exact for every mesh
	ei, gj, gas := lam*r.EI, lam*r.GJ, lam*r.GAs
	l := 2 * r.R * math.Sin(half)
	c, s := math.Cos(half), math.Sin(half)
	phi := 0.0
	if gas > 0 {
		phi = 12 * ei / (gas * l * l)
	}
	// along the chord: w1, β1, w2, β2; across it γ1, γ2
	f := ei / (l * l * l * (1 + phi))
	bend := [4][4]float64{{12, 6 * l, -12, 6 * l}, {6 * l, (4 + phi) * l * l, -6 * l, (2 - phi) * l * l},
		{-12, -6 * l, 12, -6 * l}, {6 * l, (2 - phi) * l * l, -6 * l, (4 + phi) * l * l}}
	// rows of T: local from w1, ψ1, φ1, w2, ψ2, φ2
	t := [6][6]float64{{1}, {0, c, -s}, {0, 0, 0, 1}, {0, 0, 0, 0, c, s}, {0, s, c}, {0, 0, 0, 0, -s, c}}
	var local, element [6][6]float64
	for i := range 4 {
		for k := range 4 {
			local[i][k] = f * bend[i][k]
		}
	}
	local[4][4], local[5][5] = gj/l, gj/l
	local[4][5], local[5][4] = -gj/l, -gj/l
	for i := range 6 {
		for k := range 6 {
			for a := range 6 {
				for b := range 6 {
					element[i][k] += t[a][i] * local[a][b] * t[b][k]
				}
			}
		}
	}
	for i := range 3 {
		for k := range 3 {
			m.here[i][k] = element[i][k] + element[i+3][k+3]
			m.next[i][k] = element[i][k+3]
		}
	}
	for e := range n {
		at := [2]int{band + 3*place(e, n), band + 3*place((e+1)%n, n)}
		for i := range 6 {
			for k := range 6 {
				m.add(m.base, at[i/3]+i%3, at[k/3]+k%3, element[i][k])
			}
		}
	}
	m.hub()
}

// add puts a value into the lower half of a band.
func (m *Model) add(a []row, i, k int, v float64) {
	if k <= i {
		a[i][band-(i-k)] += v
	}
}

// hub joins the ring to a pipe that moves freely: springs on rotation and on waviness.
func (m *Model) hub() {
	r := m.joint.Ring
	if r.KPhi <= 0 && r.KW <= 0 {
		return
	}
	first := 0 // without springs on waviness the pipe's own shift has none
	if r.KW <= 0 {
		first = 1
	}
	m.free = 3 - first
	arm := r.RH - r.R
	dl := r.R * 2 * math.Pi / float64(m.nodes)
	m.here[0][0] += dl * r.KW
	m.here[0][2] += dl * r.KW * arm
	m.here[2][0] += dl * r.KW * arm
	m.here[2][2] += dl * (r.KPhi + r.KW*arm*arm)
	for i := range m.nodes {
		cos, sin := m.cos[i], m.sin[i]
		at, w, phi := band+3*i, 3*i, 3*i+2
		m.add(m.base, at, at, dl*r.KW)
		m.add(m.base, at+2, at, dl*r.KW*arm)
		m.add(m.base, at+2, at+2, dl*(r.KPhi+r.KW*arm*arm))
		// of w0, a, b
		turn := [3]float64{0, cos, sin}
		lift := [3]float64{1, r.RH * cos, r.RH * sin}
		for k := first; k < 3; k++ {
			m.border[k-first][w] -= dl * r.KW * lift[k]
			m.border[k-first][phi] -= dl * (r.KPhi*turn[k] + r.KW*arm*lift[k])
			for o := first; o < 3; o++ {
				m.corner[k-first][o-first] += dl * (r.KPhi*turn[k]*turn[o] + r.KW*lift[k]*lift[o])
			}
		}
	}
}

// ringForce puts what the ring with its hub answers to x, and to the pipe's own movement v, into m.r, and gives what
// the pipe feels. Every node is like the next, so that two small blocks are the whole matrix; and a ring is the same
// seen the other way round, so that ψ answers to differences where w and φ answer to sums.
func (m *Model) ringForce(x []float64, v [3]float64) (s0, s1, s2 float64) {
	d, o, size := &m.here, &m.next, m.size
	dww, dwp, dss, dpp := d[0][0], d[0][2], d[1][1], d[2][2]
	oww, ows, owp, oss, osp, opp := o[0][0], o[0][1], o[0][2], o[1][1], o[1][2], o[2][2]
	r, hubs := m.r[:size], m.hubs[:size]
	x = x[:size]
	p0, p1, p2 := x[size-3], x[size-2], x[size-1]
	c0, c1, c2 := x[0], x[1], x[2]
	for at := 0; at+2 < size; at += 3 {
		to := at + 3
		if to == size {
			to = 0
		}
		q0, q1, q2 := x[to], x[to+1], x[to+2]
		w, psi, phi := q0+p0, q1-p1, q2+p2
		h, g := &hubs[at], &hubs[at+2]
		r[at] = dww*c0 + dwp*c2 + (oww*w + ows*psi + owp*phi) + (h[0]*v[0] + h[1]*v[1] + h[2]*v[2])
		r[at+1] = dss*c1 + oss*(q1+p1) - ows*(q0-p0) + osp*(q2-p2)
		r[at+2] = dwp*c0 + dpp*c2 + (owp*w - osp*psi + opp*phi) + (g[0]*v[0] + g[1]*v[1] + g[2]*v[2])
		s0 += h[0]*c0 + g[0]*c2
		s1 += h[1]*c0 + g[1]*c2
		s2 += h[2]*c0 + g[2]*c2
		p0, p1, p2, c0, c1, c2 = c0, c1, c2, q0, q1, q2
	}
	return s0, s1, s2
}
