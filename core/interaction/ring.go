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
		at := [2]int{m.row[e], m.row[(e+1)%n]}
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
		w, phi := m.row[i], m.row[i]+2
		m.add(m.base, w, w, dl*r.KW)
		m.add(m.base, phi, w, dl*r.KW*arm)
		m.add(m.base, phi, phi, dl*(r.KPhi+r.KW*arm*arm))
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

// row is one of a symmetric band: the eight before the diagonal, and the diagonal itself. Bands begin with eight rows of
// the identity, so that the first rows are like all others.
type row [wide]float64

// four are four right-hand sides beside each other.
type four [4]float64

// factor makes a band into its lower Cholesky factor in place, with the inverse on the diagonal; false when it is not
// positive. Rows of this band are so short that it is written out: most of the time of a history is spent here. Each waits
// for its own figures, and meanwhile four right-hand sides go half of the way, as in forward.
func factor(a []row, x []four) bool {
	for i := 0; i+band < len(a); i++ {
		w := (*[wide]row)(a[i : i+wide])
		r := &w[band]
		r[0] = (r[0]) * w[0][8]
		r[1] = (r[1] - r[0]*w[1][7]) * w[1][8]
		r[2] = (r[2] - r[0]*w[2][6] - r[1]*w[2][7]) * w[2][8]
		r[3] = (r[3] - r[0]*w[3][5] - r[1]*w[3][6] - r[2]*w[3][7]) * w[3][8]
		r[4] = (r[4] - r[0]*w[4][4] - r[1]*w[4][5] - r[2]*w[4][6] - r[3]*w[4][7]) * w[4][8]
		r[5] = (r[5] - r[0]*w[5][3] - r[1]*w[5][4] - r[2]*w[5][5] - r[3]*w[5][6] - r[4]*w[5][7]) * w[5][8]
		r[6] = (r[6] - r[0]*w[6][2] - r[1]*w[6][3] - r[2]*w[6][4] - r[3]*w[6][5] - r[4]*w[6][6] - r[5]*w[6][7]) * w[6][8]
		r[7] = (r[7] - r[0]*w[7][1] - r[1]*w[7][2] - r[2]*w[7][3] - r[3]*w[7][4] - r[4]*w[7][5] - r[5]*w[7][6] - r[6]*w[7][7]) * w[7][8]
		d := r[8] - r[0]*r[0] - r[1]*r[1] - r[2]*r[2] - r[3]*r[3] - r[4]*r[4] - r[5]*r[5] - r[6]*r[6] - r[7]*r[7]
		if !(d > 0) {
			return false
		}
		e := 1 / math.Sqrt(d)
		r[8] = e
		v := (*[wide]four)(x[i : i+wide])
		s0, s1, s2, s3 := v[band][0], v[band][1], v[band][2], v[band][3]
		for q := range band {
			c, y := r[q], &v[q]
			s0 -= c * y[0]
			s1 -= c * y[1]
			s2 -= c * y[2]
			s3 -= c * y[3]
		}
		v[band] = four{s0 * e, s1 * e, s2 * e, s3 * e}
	}
	return true
}

// forward solves with a factor of a band for four right-hand sides at once, in place; they begin with eight zeros.
func forward(a []row, x []four) {
	for i := 0; i+band < len(a); i++ {
		r := &a[i+band]
		w := (*[wide]four)(x[i : i+wide])
		s0, s1, s2, s3 := w[band][0], w[band][1], w[band][2], w[band][3]
		for q := range band {
			v, y := r[q], &w[q]
			s0 -= v * y[0]
			s1 -= v * y[1]
			s2 -= v * y[2]
			s3 -= v * y[3]
		}
		d := r[band]
		w[band] = four{s0 * d, s1 * d, s2 * d, s3 * d}
	}
}

// forwardOne is forward for one right-hand side; it begins with eight zeros.
func forwardOne(a []row, x []float64) {
	for i := 0; i+band < len(a); i++ {
		r := &a[i+band]
		w := (*[wide]float64)(x[i : i+wide])
		s := r[0]*w[0] + r[1]*w[1] + r[2]*w[2] + r[3]*w[3]
		t := r[4]*w[4] + r[5]*w[5] + r[6]*w[6]
		w[band] = (w[band] - s - t - r[7]*w[7]) * r[band]
	}
}

// backward solves with the transpose of a factor of a band, in place; x begins with eight places to spare.
func backward(a []row, x []float64) {
	for i := len(a) - wide; i >= 0; i-- {
		r := &a[i+band]
		w := (*[wide]float64)(x[i : i+wide])
		v := w[band] * r[band]
		w[band] = v
		w[0] -= r[0] * v
		w[1] -= r[1] * v
		w[2] -= r[2] * v
		w[3] -= r[3] * v
		w[4] -= r[4] * v
		w[5] -= r[5] * v
		w[6] -= r[6] * v
		w[7] -= r[7] * v
	}
}

// back is the other half of a step: what the border's unknowns v make of the columns in side goes onto x, the sign is
// turned, and the transpose of the factor is solved with, row by row from the end.
func back(a []row, side []four, v [4]float64, x []float64) {
	for i := len(a) - wide; i >= 0; i-- {
		r, b := &a[i+band], &side[i+band]
		w := (*[wide]float64)(x[i : i+wide])
		y := (-w[band] - (b[0]*v[0] + b[1]*v[1]) - (b[2]*v[2] + b[3]*v[3])) * r[band]
		w[band] = y
		w[0] += r[0] * y
		w[1] += r[1] * y
		w[2] += r[2] * y
		w[3] += r[3] * y
		w[4] += r[4] * y
		w[5] += r[5] * y
		w[6] += r[6] * y
		w[7] += r[7] * y
	}
	clear(x[:band])
}

// ringForce puts what the ring with its hub answers to x, and to the pipe's own movement v, into m.r, and gives what the
// pipe feels. Every node is like the next, so that two small blocks are the whole matrix.
func (m *Model) ringForce(x []float64, v [3]float64) (s0, s1, s2 float64) {
	d, o, n := &m.here, &m.next, m.nodes
	r, hubs := m.r[:len(x)], m.hubs[:len(x)]
	last, first := m.row[n-1], m.row[0]
	p0, p1, p2 := x[last], x[last+1], x[last+2]
	c0, c1, c2 := x[first], x[first+1], x[first+2]
	for i, at := range m.row {
		to := first
		if i+1 < n {
			to = m.row[i+1]
		}
		q0, q1, q2 := x[to], x[to+1], x[to+2]
		w := d[0][0]*c0 + d[0][1]*c1 + d[0][2]*c2 + (o[0][0]*q0 + o[0][1]*q1 + o[0][2]*q2) +
			(o[0][0]*p0 + o[1][0]*p1 + o[2][0]*p2)
		psi := d[1][0]*c0 + d[1][1]*c1 + d[1][2]*c2 + (o[1][0]*q0 + o[1][1]*q1 + o[1][2]*q2) +
			(o[0][1]*p0 + o[1][1]*p1 + o[2][1]*p2)
		phi := d[2][0]*c0 + d[2][1]*c1 + d[2][2]*c2 + (o[2][0]*q0 + o[2][1]*q1 + o[2][2]*q2) +
			(o[0][2]*p0 + o[1][2]*p1 + o[2][2]*p2)
		h, g := &hubs[at], &hubs[at+2]
		r[at] = w + (h[0]*v[0] + h[1]*v[1] + h[2]*v[2])
		r[at+1] = psi
		r[at+2] = phi + (g[0]*v[0] + g[1]*v[1] + g[2]*v[2])
		s0 += h[0]*c0 + g[0]*c2
		s1 += h[1]*c0 + g[1]*c2
		s2 += h[2]*c0 + g[2]*c2
		p0, p1, p2, c0, c1, c2 = c0, c1, c2, q0, q1, q2
	}
	return s0, s1, s2
}

// solveSmall solves a full symmetric system of up to mostBorder unknowns in place by elimination with the largest pivot.
func solveSmall(a *[mostBorder][mostBorder]float64, x *[mostBorder]float64, n int) bool {
	for c := range n {
		p := c
		for r := c + 1; r < n; r++ {
			if math.Abs(a[r][c]) > math.Abs(a[p][c]) {
				p = r
			}
		}
		if a[p][c] == 0 || math.IsNaN(a[p][c]) {
			return false
		}
		a[p], a[c] = a[c], a[p]
		x[p], x[c] = x[c], x[p]
		for r := c + 1; r < n; r++ {
			f := a[r][c] / a[c][c]
			for k := c; k < n; k++ {
				a[r][k] -= f * a[c][k]
			}
			x[r] -= f * x[c]
		}
	}
	for c := n - 1; c >= 0; c-- {
		for k := c + 1; k < n; k++ {
			x[c] -= a[c][k] * x[k]
		}
		x[c] /= a[c][c]
	}
	return true
}
