package interaction

import "math"

// row is one of a symmetric band: the eight before the diagonal, and the diagonal itself. Bands begin with eight rows
// of the identity, so that the first rows are like all others.
type row [wide]float64

// four are four right-hand sides beside each other.
type four [4]float64

// factor makes a band into its lower Cholesky factor in place, with the inverse on the diagonal; false when it is not
// positive. Rows of this band are so short that it is written out, the three of a node after each other: a node
// reaches back to two others, so that the first row has six places before the diagonal, the second seven. Each waits
// for its own figures, and meanwhile four right-hand sides go half of the way, as in forward.
func factor(a []row, x []four) bool {
	for i := 0; i+band+2 < len(a); i += 3 {
		w := (*[wide + 2]row)(a[i : i+wide+2])
		v := (*[wide + 2]four)(x[i : i+wide+2])
		r, y := &w[8], &v[8]
		r[2] = r[2] * w[2][8]
		r[3] = (r[3] - r[2]*w[3][7]) * w[3][8]
		r[4] = (r[4] - r[2]*w[4][6] - r[3]*w[4][7]) * w[4][8]
		r[5] = (r[5] - r[2]*w[5][5] - r[3]*w[5][6] - r[4]*w[5][7]) * w[5][8]
		r[6] = (r[6] - r[2]*w[6][4] - r[3]*w[6][5] - r[4]*w[6][6] - r[5]*w[6][7]) * w[6][8]
		r[7] = (r[7] - r[2]*w[7][3] - r[3]*w[7][4] - r[4]*w[7][5] - r[5]*w[7][6] - r[6]*w[7][7]) * w[7][8]
		d := r[8] - r[2]*r[2] - r[3]*r[3] - r[4]*r[4] - r[5]*r[5] - r[6]*r[6] - r[7]*r[7]
		if !(d > 0) {
			return false
		}
		e := 1 / math.Sqrt(d)
		r[8] = e
		s0, s1, s2, s3 := y[0], y[1], y[2], y[3]
		for q := 2; q < band; q++ {
			c, z := r[q], &v[q]
			s0 -= c * z[0]
			s1 -= c * z[1]
			s2 -= c * z[2]
			s3 -= c * z[3]
		}
		*y = four{s0 * e, s1 * e, s2 * e, s3 * e}
		r, y = &w[9], &v[9]
		r[1] = r[1] * w[2][8]
		r[2] = (r[2] - r[1]*w[3][7]) * w[3][8]
		r[3] = (r[3] - r[1]*w[4][6] - r[2]*w[4][7]) * w[4][8]
		r[4] = (r[4] - r[1]*w[5][5] - r[2]*w[5][6] - r[3]*w[5][7]) * w[5][8]
		r[5] = (r[5] - r[1]*w[6][4] - r[2]*w[6][5] - r[3]*w[6][6] - r[4]*w[6][7]) * w[6][8]
		r[6] = (r[6] - r[1]*w[7][3] - r[2]*w[7][4] - r[3]*w[7][5] - r[4]*w[7][6] - r[5]*w[7][7]) * w[7][8]
		r[7] = (r[7] - r[1]*w[8][2] - r[2]*w[8][3] - r[3]*w[8][4] - r[4]*w[8][5] - r[5]*w[8][6] -
			r[6]*w[8][7]) * w[8][8]
		d = r[8] - r[1]*r[1] - r[2]*r[2] - r[3]*r[3] - r[4]*r[4] - r[5]*r[5] - r[6]*r[6] - r[7]*r[7]
		if !(d > 0) {
			return false
		}
		e = 1 / math.Sqrt(d)
		r[8] = e
		s0, s1, s2, s3 = y[0], y[1], y[2], y[3]
		for q := 1; q < band; q++ {
			c, z := r[q], &v[1+q]
			s0 -= c * z[0]
			s1 -= c * z[1]
			s2 -= c * z[2]
			s3 -= c * z[3]
		}
		*y = four{s0 * e, s1 * e, s2 * e, s3 * e}
		r, y = &w[10], &v[10]
		r[0] = r[0] * w[2][8]
		r[1] = (r[1] - r[0]*w[3][7]) * w[3][8]
		r[2] = (r[2] - r[0]*w[4][6] - r[1]*w[4][7]) * w[4][8]
		r[3] = (r[3] - r[0]*w[5][5] - r[1]*w[5][6] - r[2]*w[5][7]) * w[5][8]
		r[4] = (r[4] - r[0]*w[6][4] - r[1]*w[6][5] - r[2]*w[6][6] - r[3]*w[6][7]) * w[6][8]
		r[5] = (r[5] - r[0]*w[7][3] - r[1]*w[7][4] - r[2]*w[7][5] - r[3]*w[7][6] - r[4]*w[7][7]) * w[7][8]
		r[6] = (r[6] - r[0]*w[8][2] - r[1]*w[8][3] - r[2]*w[8][4] - r[3]*w[8][5] - r[4]*w[8][6] -
			r[5]*w[8][7]) * w[8][8]
		r[7] = (r[7] - r[0]*w[9][1] - r[1]*w[9][2] - r[2]*w[9][3] - r[3]*w[9][4] - r[4]*w[9][5] - r[5]*w[9][6] -
			r[6]*w[9][7]) * w[9][8]
		d = r[8] - r[0]*r[0] - r[1]*r[1] - r[2]*r[2] - r[3]*r[3] - r[4]*r[4] - r[5]*r[5] - r[6]*r[6] - r[7]*r[7]
		if !(d > 0) {
			return false
		}
		e = 1 / math.Sqrt(d)
		r[8] = e
		s0, s1, s2, s3 = y[0], y[1], y[2], y[3]
		for q := 0; q < band; q++ {
			c, z := r[q], &v[2+q]
			s0 -= c * z[0]
			s1 -= c * z[1]
			s2 -= c * z[2]
			s3 -= c * z[3]
		}
		*y = four{s0 * e, s1 * e, s2 * e, s3 * e}
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

// forwardFourth is forward for the last of four alone.
func forwardFourth(a []row, x []four) {
	for i := 0; i+band < len(a); i++ {
		r := &a[i+band]
		w := (*[wide]four)(x[i : i+wide])
		s := r[0]*w[0][3] + r[1]*w[1][3] + r[2]*w[2][3] + r[3]*w[3][3]
		t := r[4]*w[4][3] + r[5]*w[5][3] + r[6]*w[6][3]
		w[band][3] = (w[band][3] - s - t - r[7]*w[7][3]) * r[band]
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
// turned, and the transpose of the factor is solved with, node by node from the end. a and x end with eight rows of
// zeros.
func back(a []row, side []four, v [4]float64, x []float64) {
	for i := len(side) - 3; i >= band; i -= 3 {
		l := (*[wide + 2]row)(a[i : i+wide+2])
		y := (*[wide + 2]float64)(x[i : i+wide+2])
		b := (*[3]four)(side[i : i+3])
		s := -y[2] - (b[2][0]*v[0] + b[2][1]*v[1]) - (b[2][2]*v[2] + b[2][3]*v[3])
		s -= l[8][2]*y[8] + l[7][3]*y[7] + (l[6][4]*y[6] + l[5][5]*y[5])
		phi := (s - l[4][6]*y[4] - l[3][7]*y[3]) * l[2][8]
		s = -y[1] - (b[1][0]*v[0] + b[1][1]*v[1]) - (b[1][2]*v[2] + b[1][3]*v[3])
		s -= l[8][1]*y[8] + l[7][2]*y[7] + (l[6][3]*y[6] + l[5][4]*y[5])
		psi := (s - l[4][5]*y[4] - l[3][6]*y[3] - l[2][7]*phi) * l[1][8]
		s = -y[0] - (b[0][0]*v[0] + b[0][1]*v[1]) - (b[0][2]*v[2] + b[0][3]*v[3])
		s -= l[8][0]*y[8] + l[7][1]*y[7] + (l[6][2]*y[6] + l[5][3]*y[5])
		y[0] = (s - l[4][4]*y[4] - l[3][5]*y[3] - l[2][6]*phi - l[1][7]*psi) * l[0][8]
		y[1], y[2] = psi, phi
	}
}

// solveSmall solves a full symmetric system of up to mostBorder unknowns in place by elimination with the largest
// pivot.
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
