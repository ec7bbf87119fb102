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

// factor makes a band into its lower Cholesky factor in place, with the inverse on the diagonal; false when it is not
// positive. Rows of this band are so short that it is written out: most of the time of a history is spent here.
func factor(a []row) bool {
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
		r[8] = 1 / math.Sqrt(d)
	}
	return true
}

// four are four right-hand sides beside each other.
type four [4]float64

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

// wholeRow is a row of a symmetric band with both of its sides.
type wholeRow [2*band + 1]float64

// whole lays a band out with both sides of each row: a product with it waits for nothing that it has just written.
func whole(a []row) []wholeRow {
	out := make([]wholeRow, len(a)-band)
	for i := range out {
		for q := range wide {
			out[i][q] = a[i+band][q]
			if k := i - band + q; k >= 0 {
				out[k][2*band-q] = a[i+band][q]
			}
		}
	}
	return out
}

// times puts the product of a symmetric band and x into out; both have eight places to spare before and behind.
func times(a []wholeRow, x, out []float64) {
	for i := range a {
		r := &a[i]
		w := (*[2*band + 1]float64)(x[i : i+2*band+1])
		s := r[0]*w[0] + r[1]*w[1] + r[2]*w[2] + r[3]*w[3]
		t := r[4]*w[4] + r[5]*w[5] + r[6]*w[6] + r[7]*w[7]
		u := r[8]*w[8] + r[9]*w[9] + r[10]*w[10] + r[11]*w[11] + r[16]*w[16]
		v := r[12]*w[12] + r[13]*w[13] + r[14]*w[14] + r[15]*w[15]
		out[i+band] = s + t + u + v
	}
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
