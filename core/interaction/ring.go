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
func (m *Model) add(a []float64, i, k int, v float64) {
	if k <= i {
		a[i*wide+band-(i-k)] += v
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

// factor makes a band into its lower Cholesky factor in place; false when it is not positive.
func factor(a []float64, n int) bool {
	for i := range n {
		ri := a[i*wide : i*wide+wide : i*wide+wide]
		lo := max(0, i-band)
		for k := lo; k < i; k++ {
			rk := a[k*wide : k*wide+wide : k*wide+wide]
			sum := ri[band-(i-k)]
			from := max(lo, k-band)
			x, y := ri[band-(i-from):band-(i-k)], rk[band-(k-from):band]
			for q := range x {
				sum -= x[q] * y[q]
			}
			ri[band-(i-k)] = sum * rk[band]
		}
		sum := ri[band]
		for q := band - (i - lo); q < band; q++ {
			sum -= ri[q] * ri[q]
		}
		if !(sum > 0) {
			return false
		}
		ri[band] = 1 / math.Sqrt(sum) // the inverse of the diagonal is what is needed
	}
	return true
}

// back solves with a factored band in place.
func back(a []float64, n int, x []float64) {
	for i := range n {
		ri := a[i*wide : i*wide+wide : i*wide+wide]
		lo := max(0, i-band)
		sum := x[i]
		for q, v := range ri[band-(i-lo) : band] {
			sum -= v * x[lo+q]
		}
		x[i] = sum * ri[band]
	}
	for i := n - 1; i >= 0; i-- {
		ri := a[i*wide : i*wide+wide : i*wide+wide]
		x[i] *= ri[band]
		v := x[i]
		lo := max(0, i-band)
		for q, w := range ri[band-(i-lo) : band] {
			x[lo+q] -= w * v
		}
	}
}

// times adds the product of a symmetric band and x to out.
func times(a []float64, n int, x, out []float64) {
	for i := range n {
		ri := a[i*wide : i*wide+wide : i*wide+wide]
		lo := max(0, i-band)
		xi := x[i]
		sum := ri[band] * xi
		for q, v := range ri[band-(i-lo) : band] {
			sum += v * x[lo+q]
			out[lo+q] += v * xi
		}
		out[i] += sum
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
