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
	size     int // unknowns of the ring: w, ψ, φ of each node
	row      []int
	cos, sin []float64
	base     []float64 // the ring with its hub, by rows of its band
	border   [mostBorder][]float64
	corner   [mostBorder][mostBorder]float64
	free     int // unknowns of the pipe
	shifts   int // unknowns of the taper: 0 or 2
	radii    []float64
	areas    []float64 // of a node, by strip

	// the state
	x      []float64 // of the ring
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
	mat    []float64
	z      [mostBorder][]float64
	small  [mostBorder][mostBorder]float64
	rhs    [mostBorder]float64
	total  float64 // of the forces, without sign
	newton func() bool
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
		m.row[i] = 3 * place(i, n)
		m.sin[i], m.cos[i] = math.Sincos(2 * math.Pi * float64(i) / float64(n))
	}
	m.base = make([]float64, m.size*wide)
	for k := range mostBorder {
		m.border[k], m.z[k] = make([]float64, m.size), make([]float64, m.size)
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
	m.x, m.r, m.d, m.trial = make([]float64, m.size), make([]float64, m.size), make([]float64, m.size), make([]float64, m.size)
	m.mat = make([]float64, len(m.base))
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

// residual puts what is out of balance into m.r and m.rAside; with a matrix it puts the tangent there, too.
func (m *Model) residual(x []float64, aside *[mostBorder]float64, tangent bool) {
	clear(m.r)
	m.rAside = [mostBorder]float64{}
	times(m.base, m.size, x, m.r)
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
	if tangent {
		copy(m.mat, m.base)
		m.small = m.corner
		for k := m.free; k < m.free+m.shifts; k++ {
			clear(m.border[k])
			for o := range mostBorder {
				m.small[k][o], m.small[o][k] = 0, 0
			}
		}
	}
	m.total = 0
	m.bed(x, aside, tangent)
	m.stop(x, tangent)
	m.bolts(x, tangent)
}

// bed adds the gasket.
func (m *Model) bed(x []float64, aside *[mostBorder]float64, tangent bool) {
	s := float64(m.joint.Sides)
	f := m.free
	ke := 0.0
	if m.shifts > 0 {
		ke = m.joint.Float.Ke
		m.rAside[f], m.rAside[f+1] = ke*aside[f]/s, ke*aside[f+1]/s
		if tangent {
			m.small[f][f], m.small[f+1][f+1] = ke/s, ke/s
		}
	}
	for i := range m.nodes {
		at := m.row[i]
		for k, r := range m.radii {
			h := &m.spots[i*len(m.radii)+k]
			arm := r - m.joint.Ring.R
			d := s*(x[at]+arm*x[at+2]) - h.creep
			if m.shifts > 0 {
				d -= aside[f]*m.cos[i] + aside[f+1]*m.sin[i]
			}
			stress, slope := m.joint.Gasket.at(d, h)
			force := m.areas[k] * stress
			m.r[at] += force
			m.r[at+2] += force * arm
			m.total += math.Abs(force)
			if m.shifts > 0 {
				m.rAside[f] -= force * m.cos[i] / s
				m.rAside[f+1] -= force * m.sin[i] / s
			}
			if !tangent {
				continue
			}
			t := m.areas[k] * slope
			m.mat[at*wide+band] += s * t
			m.mat[(at+2)*wide+band-2] += s * t * arm
			m.mat[(at+2)*wide+band] += s * t * arm * arm
			if m.shifts > 0 {
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
	}
}

// stop adds the rigid ring.
func (m *Model) stop(x []float64, tangent bool) {
	st := m.joint.Stop
	if st == nil {
		return
	}
	s := float64(m.joint.Sides)
	k := 2 * math.Pi * st.R / float64(m.nodes) * st.K
	arm := st.R - m.joint.Ring.R
	for i := range m.nodes {
		at := m.row[i]
		over := s*(x[at]+arm*x[at+2]) - st.Gap
		if over <= 0 {
			continue
		}
		m.r[at] += k * over
		m.r[at+2] += k * over * arm
		m.total += k * over
		if tangent {
			m.mat[at*wide+band] += s * k
			m.mat[(at+2)*wide+band-2] += s * k * arm
			m.mat[(at+2)*wide+band] += s * k * arm * arm
		}
	}
}

// bolts adds the pull of the bolts.
func (m *Model) bolts(x []float64, tangent bool) {
	s := float64(m.joint.Sides)
	arm := m.joint.RBolt - m.joint.Ring.R
	for b := range m.joint.Bolts {
		at := m.row[m.boltNode(b)]
		force, slope := m.pull(b, s*(x[at]+arm*x[at+2]))
		m.r[at] -= force
		m.r[at+2] -= force * arm
		m.total += math.Abs(force)
		if tangent {
			m.mat[at*wide+band] += s * slope
			m.mat[(at+2)*wide+band-2] += s * slope * arm
			m.mat[(at+2)*wide+band] += s * slope * arm * arm
		}
	}
}

// unbalanced is the largest of what is out of balance, moments over the radius of the ring.
func (m *Model) unbalanced() float64 {
	worst, r := 0.0, m.joint.Ring.R
	for i, v := range m.r {
		if i%3 != 0 {
			v /= r
		}
		worst = max(worst, math.Abs(v))
	}
	for k := range m.free + m.shifts {
		v := m.rAside[k]
		if k < m.free && (m.free == 2 || k > 0) {
			v /= r
		}
		worst = max(worst, math.Abs(v))
	}
	return worst
}

const (
	mostSteps = 200
	balanced  = 1e-10 // of the sum of the forces
)

// balance finds the equilibrium with the laws of the bolts as they are. Each is the minimum of a convex function: there
// is one, and a semismooth Newton step with a search along it finds it.
func (m *Model) balance() error {
	m.residual(m.x, &m.aside, true)
	for range mostSteps {
		if bad := m.unbalanced(); bad <= balanced*m.total || m.total == 0 && bad == 0 {
			return nil
		}
		if !m.newton() {
			return ErrNotConverged
		}
		before := m.along()
		if !(before < 0) {
			if m.unbalanced() <= 1e3*balanced*m.total {
				return nil // as good as the figures are
			}
			return ErrNotConverged
		}
		m.follow(before)
	}
	if m.unbalanced() <= 1e3*balanced*m.total {
		return nil
	}
	return ErrNotConverged
}

// follow goes along the step: all of it when that is downhill or flat enough, else to where it is level.
func (m *Model) follow(before float64) {
	try := func(a float64, tangent bool) float64 {
		for i, v := range m.d {
			m.trial[i] = m.x[i] + a*v
		}
		for k := range m.free + m.shifts {
			m.tAside[k] = m.aside[k] + a*m.dAside[k]
		}
		m.residual(m.trial, &m.tAside, tangent)
		return m.along()
	}
	a := 1.0
	g := try(a, true)
	if g > 0 && g > .5*math.Abs(before) || math.IsNaN(g) {
		lo, hi, glo, ghi := 0.0, 1.0, before, g
		for range 40 {
			if math.IsNaN(ghi) || math.IsInf(ghi, 0) {
				a = (lo + hi) / 2
			} else if a = lo - glo*(hi-lo)/(ghi-glo); !(a > lo && a < hi) {
				a = (lo + hi) / 2
			}
			g = try(a, false)
			if math.Abs(g) <= .5*math.Abs(before) {
				break
			}
			if g < 0 {
				lo, glo, ghi = a, g, ghi/2
			} else {
				hi, ghi, glo = a, g, glo/2
			}
		}
		try(a, true)
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
	if !m.condense() {
		return false
	}
	nb := m.free + m.shifts
	for i, v := range m.r {
		m.d[i] = -v
	}
	back(m.mat, m.size, m.d)
	// S dh = -q - Cᵀ d0, with d0 the step without the border
	for k := range nb {
		sum := -m.rAside[k]
		for i, b := range m.border[k] {
			sum -= b * m.d[i]
		}
		m.rhs[k] = sum
	}
	a := m.small
	if !solveSmall(&a, &m.rhs, nb) {
		return false
	}
	for k := range nb {
		m.dAside[k] = m.rhs[k]
		for i, z := range m.z[k] {
			m.d[i] -= z * m.rhs[k]
		}
	}
	return true
}

// condense factors the band, and takes it out of the corner: m.z holds what the border's columns make of the ring, and
// m.small the Schur complement.
func (m *Model) condense() bool {
	if !factor(m.mat, m.size) {
		return false
	}
	nb := m.free + m.shifts
	for k := range nb {
		copy(m.z[k], m.border[k])
		back(m.mat, m.size, m.z[k])
	}
	for k := range nb {
		for o := range nb {
			sum := 0.0
			for i, b := range m.border[k] {
				sum += b * m.z[o][i]
			}
			m.small[k][o] -= sum
		}
	}
	return true
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
