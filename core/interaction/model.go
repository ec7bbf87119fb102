package interaction

import (
	"errors"
	"math"
)

// mostBorder is how many unknowns stand beside the ring: the pipe's shift and tilts, and two shifts on a taper.
const mostBorder = 5

// ErrNotConverged says that no equilibrium was found; there is no figure then.
var ErrNotConverged = errors.New("no equilibrium was found: look at the stiffnesses and the target")

// Model is a joint laid out to be computed, with its state. It is not safe for use by several at once; Clone gives
// another.
type Model struct {
	joint    Joint
	nodes    int
	size     int   // unknowns of the ring: w, ψ, φ of each node
	row      []int // of each node, its first unknown, in folded order and behind the eight
	cos, sin []float64
	base     []row // the ring with its hub
	border   [mostBorder][]float64
	corner   [mostBorder][mostBorder]float64
	free     int // unknowns of the pipe
	shifts   int // unknowns of the taper: 0 or 2
	radii    []float64
	areas    []float64 // of a node, by strip

	// the state
	x      []float64 // of the ring, behind eight places to spare
	aside  [mostBorder]float64
	nu     []float64 // travel of each nut
	peak   []float64 // highest force of each bolt, for embedding
	spots  []history // by node and strip
	forces []float64

	// for the solving
	law    []law // of each bolt
	r      []float64
	rAside [mostBorder]float64
	d      []float64
	dAside [mostBorder]float64
	trial  []float64
	tAside [mostBorder]float64
	mat    []row
	sides  [2][]four // right-hand sides: the border's columns and what is out of balance
	small  [mostBorder][mostBorder]float64
	drawn  [8]float64
	rhs    [mostBorder]float64
	total  float64     // of the forces, without sign
	newton func() bool // makes a step with the present stiffness
	fresh  bool        // each step has its own
}

// law is how a bolt answers while others are solved.
type law struct {
	kind   lawKind
	target float64 // N
	limit  float64 // m, of travel
}

type lawKind uint8

const (
	stays    lawKind = iota // its nut stays
	pulled                  // to the target, never back
	adjusted                // to exactly the target
)

// New lays a joint out. Refused as in Joint.Check.
func New(j Joint) (*Model, error) {
	if err := j.Check(); err != nil {
		return nil, err
	}
	n := j.Bolts * j.perBolt()
	m := &Model{joint: j, nodes: n, size: 3 * n, row: make([]int, n), cos: make([]float64, n), sin: make([]float64, n)}
	for i := range n {
		m.row[i] = band + 3*place(i, n)
		m.sin[i], m.cos[i] = math.Sincos(2 * math.Pi * float64(i) / float64(n))
	}
	m.base = make([]row, m.size+band)
	for i := range band {
		m.base[i][band] = 1
	}
	for k := range mostBorder {
		m.border[k] = make([]float64, m.size+band)
	}
	m.assemble()
	if j.Float != nil {
		m.shifts = 2
	}
	ns := j.Gasket.strips()
	wide := j.Gasket.ROut - j.Gasket.RIn
	for k := range ns {
		r := j.Gasket.RIn + (float64(k)+.5)*wide/float64(ns)
		m.radii = append(m.radii, r)
		m.areas = append(m.areas, wide/float64(ns)*2*math.Pi*r/float64(n))
	}
	for _, v := range []*[]float64{&m.x, &m.r, &m.d, &m.trial} {
		*v = make([]float64, m.size+band)
	}
	m.mat = make([]row, len(m.base))
	m.sides = [2][]four{make([]four, len(m.base)), make([]four, len(m.base))}
	m.nu, m.peak, m.forces = make([]float64, j.Bolts), make([]float64, j.Bolts), make([]float64, j.Bolts)
	m.law = make([]law, j.Bolts)
	m.spots = make([]history, n*ns)
	m.newton = m.step
	m.Reset()
	return m, nil
}

// Clone gives a model of the same joint with a state of its own, fresh.
func (m *Model) Clone() *Model {
	c, err := New(m.joint)
	if err != nil {
		panic(err) // it was checked when m was made
	}
	return c
}

// Reset takes the joint apart: faces just touch the gasket, which was never pressed, and nuts are finger-tight.
func (m *Model) Reset() {
	clear(m.x)
	clear(m.nu)
	clear(m.peak)
	clear(m.forces)
	clear(m.spots)
	m.aside = [mostBorder]float64{}
	for i := range m.spots {
		m.joint.Gasket.remember(0, &m.spots[i])
	}
}

// closureAt is by how much the faces have approached at a radius of a node.
func (m *Model) closureAt(x []float64, node int, r float64) float64 {
	at := m.row[node]
	return float64(m.joint.Sides) * (x[at] + (r-m.joint.Ring.R)*x[at+2])
}

func (m *Model) boltNode(b int) int { return b * m.joint.perBolt() }

// pull is the force of a bolt at a closure, and by how much it falls for each m of it.
func (m *Model) pull(b int, c float64) (force, slope float64) {
	k, l := m.joint.KBolt, &m.law[b]
	if l.kind == adjusted {
		return l.target, 0
	}
	if m.joint.Bilateral && l.kind == stays {
		return k * (m.nu[b] - c), k
	}
	if f := k * (m.nu[b] - c); f > 0 {
		force, slope = f, k
	}
	if l.kind == stays {
		return force, slope
	}
	reach, by := l.target, 0.0
	if f := k * max(0, m.nu[b]+l.limit-c); f < reach {
		if reach = f; f > 0 {
			by = k
		}
	}
	if reach > force {
		return reach, by
	}
	return force, slope
}

// residual puts what is out of balance into m.r and m.rAside.
func (m *Model) residual(x []float64, aside *[mostBorder]float64) {
	clear(m.r)
	m.rAside = [mostBorder]float64{}
	times(m.base, x, m.r)
	for k := range m.free {
		v := aside[k]
		sum := 0.0
		for i, b := range m.border[k] {
			m.r[i] += b * v
			sum += b * x[i]
		}
		m.rAside[k] = sum
		for o := range m.free {
			m.rAside[k] += m.corner[k][o] * aside[o]
		}
	}
	m.total = 0
	s := float64(m.joint.Sides)
	m.bed(x, aside)
	if st := m.joint.Stop; st != nil {
		k := 2 * math.Pi * st.R / float64(m.nodes) * st.K
		arm := st.R - m.joint.Ring.R
		for _, at := range m.row {
			if over := s*(x[at]+arm*x[at+2]) - st.Gap; over > 0 {
				m.push(at, arm, k*over)
			}
		}
	}
	arm := m.joint.RBolt - m.joint.Ring.R
	for b := range m.joint.Bolts {
		at := m.row[m.boltNode(b)]
		force, _ := m.pull(b, s*(x[at]+arm*x[at+2]))
		m.push(at, arm, -force)
	}
}

// push adds a force on a node, at an arm from the ring's own radius.
func (m *Model) push(at int, arm, force float64) {
	m.r[at] += force
	m.r[at+2] += force * arm
	m.total += math.Abs(force)
}

// bed adds the gasket.
func (m *Model) bed(x []float64, aside *[mostBorder]float64) {
	s := float64(m.joint.Sides)
	f := m.free
	if m.shifts > 0 {
		ke := m.joint.Float.Ke
		m.rAside[f], m.rAside[f+1] = ke*aside[f]/s, ke*aside[f+1]/s
	}
	for i, at := range m.row {
		for k, r := range m.radii {
			h := &m.spots[i*len(m.radii)+k]
			arm := r - m.joint.Ring.R
			d := s*(x[at]+arm*x[at+2]) - h.creep
			if m.shifts > 0 {
				d -= aside[f]*m.cos[i] + aside[f+1]*m.sin[i]
			}
			stress, slope := m.joint.Gasket.at(d, h)
			h.tangent = slope
			force := m.areas[k] * stress
			m.push(at, arm, force)
			if m.shifts > 0 {
				m.rAside[f] -= force * m.cos[i] / s
				m.rAside[f+1] -= force * m.sin[i] / s
			}
		}
	}
}

// tangent lays the stiffness out at m.x, where the residual was taken last.
func (m *Model) tangent() {
	copy(m.mat, m.base)
	m.small = m.corner
	s := float64(m.joint.Sides)
	f := m.free
	for k := f; k < f+m.shifts; k++ {
		clear(m.border[k])
		m.small[k][k] = m.joint.Float.Ke / s
	}
	for i, at := range m.row {
		for k, r := range m.radii {
			t := m.areas[k] * m.spots[i*len(m.radii)+k].tangent
			arm := r - m.joint.Ring.R
			m.stiffen(at, arm, s*t)
			if m.shifts == 0 {
				continue
			}
			turn := [2]float64{m.cos[i], m.sin[i]}
			for a := range 2 {
				m.border[f+a][at] -= t * turn[a]
				m.border[f+a][at+2] -= t * arm * turn[a]
				for b := range 2 {
					m.small[f+a][f+b] += t * turn[a] * turn[b] / s
				}
			}
		}
	}
	if st := m.joint.Stop; st != nil {
		k := 2 * math.Pi * st.R / float64(m.nodes) * st.K
		arm := st.R - m.joint.Ring.R
		for _, at := range m.row {
			if s*(m.x[at]+arm*m.x[at+2]) > st.Gap {
				m.stiffen(at, arm, s*k)
			}
		}
	}
	arm := m.joint.RBolt - m.joint.Ring.R
	for b := range m.joint.Bolts {
		at := m.row[m.boltNode(b)]
		_, slope := m.pull(b, s*(m.x[at]+arm*m.x[at+2]))
		m.stiffen(at, arm, s*slope)
	}
}

// stiffen adds a spring on a node, at an arm from the ring's own radius.
func (m *Model) stiffen(at int, arm, k float64) {
	m.mat[at][band] += k
	m.mat[at+2][band-2] += k * arm
	m.mat[at+2][band] += k * arm * arm
}

// unbalanced is the largest of what is out of balance, moments over the radius of the ring.
func (m *Model) unbalanced() float64 {
	force, moment := 0.0, 0.0
	for i := band; i < len(m.r); i += 3 {
		r := m.r[i : i+3 : i+3]
		force = max(force, math.Abs(r[0]))
		moment = max(moment, math.Abs(r[1]), math.Abs(r[2]))
	}
	for k := range m.free + m.shifts {
		if v := math.Abs(m.rAside[k]); k < m.free && (m.free == 2 || k > 0) {
			moment = max(moment, v)
		} else {
			force = max(force, v)
		}
	}
	return max(force, moment/m.joint.Ring.R)
}

const (
	mostSteps = 200
	balanced  = 1e-10 // of the sum of the forces
	rounding  = 1e-7  // of it, that is taken where no step makes it less
	close     = 1e-3  // of it, from where a stiffness that was factored before will do
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
		again := factored && !m.fresh && bad <= close*m.total && bad <= .1*last
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
func (m *Model) step() bool { return m.condense() && m.repeat() }

// repeat makes a step with what is factored.
func (m *Model) repeat() bool {
	nb := m.free + m.shifts
	m.half(m.r)
	for k := range nb {
		m.rhs[k] = m.drawn[k] - m.rAside[k]
	}
	a := m.small
	if !solveSmall(&a, &m.rhs, nb) {
		return false
	}
	copy(m.dAside[:], m.rhs[:nb])
	m.expand(-1)
	return true
}

// condense factors the band and goes half of the way with the border's columns: m.sides holds L⁻¹ of them, and m.small
// becomes the Schur complement of the border.
func (m *Model) condense() bool {
	if !factor(m.mat) {
		return false
	}
	nb := m.free + m.shifts
	for g := 0; 4*g < nb; g++ {
		side := m.sides[g]
		for c := 0; c < 4 && 4*g+c < nb; c++ {
			for i, v := range m.border[4*g+c] {
				side[i][c] = v
			}
		}
		forward(m.mat, side)
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
		side := m.sides[g][:len(m.d)]
		for i, v := range m.d {
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
	one, two := m.sides[0][:len(m.d)], m.sides[1][:len(m.d)]
	for i, d := range m.d {
		a := &one[i]
		m.d[i] = sign*d - v[0]*a[0] - v[1]*a[1] - v[2]*a[2] - v[3]*a[3]
	}
	if nb > 4 {
		for i := range m.d {
			m.d[i] -= v[4] * two[i][0]
		}
	}
	backward(m.mat, m.d)
}

// settle lets the gasket remember, and reads the forces.
func (m *Model) settle() {
	s := float64(m.joint.Sides)
	for i := range m.nodes {
		at := m.row[i]
		for k, r := range m.radii {
			h := &m.spots[i*len(m.radii)+k]
			m.joint.Gasket.remember(m.closureSpot(i, at, s, r, h), h)
		}
	}
	for b := range m.joint.Bolts {
		m.forces[b], _ = m.pull(b, m.closureAt(m.x, m.boltNode(b), m.joint.RBolt))
	}
}

// closureSpot is the closure that the gasket feels at a spot.
func (m *Model) closureSpot(node, at int, s, r float64, h *history) float64 {
	d := s*(m.x[at]+(r-m.joint.Ring.R)*m.x[at+2]) - h.creep
	if m.shifts > 0 {
		d -= m.aside[m.free]*m.cos[node] + m.aside[m.free+1]*m.sin[node]
	}
	return d
}

// Forces are those of all bolts now, N; they are lent until the next step.
func (m *Model) Forces() []float64 { return m.forces }
