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
	cos, sin []float64
	base     []row                 // the ring with its hub, in the order of elimination
	here     [3][3]float64         // of a node, what itself does to it
	next     [3][3]float64         // and what the next one does; the one before does the transpose
	hubs     [][3]float64          // the border's columns of the pipe, by unknown
	border   [mostBorder][]float64 // of unknowns beside the ring, by unknown of it
	corner   [mostBorder][mostBorder]float64
	free     int // unknowns of the pipe
	shifts   int // unknowns of the taper: 0 or 2
	radii    []float64
	areas    []float64 // of a node, by strip

	// the state
	x      []float64 // of the ring: w, ψ, φ of node after node
	aside  [mostBorder]float64
	nu     []float64 // travel of each nut
	peak   []float64 // highest force of each bolt, for embedding
	spots  []history // by node and strip
	forces []float64

	// where an operation began, and what the last pull did
	start  move
	before move

	// for the solving
	law    []law // of each bolt
	r      []float64
	rAside [mostBorder]float64
	d      []float64
	dAside [mostBorder]float64
	trial  []float64
	tAside [mostBorder]float64
	stiff  []spring // of each node, at the closures that were looked at last
	held   []spring // as they were factored
	order  []int    // of elimination: place by place, the node
	known  bool     // mat is factored in this order
	alike  float64  // share of a stiffness that may have changed, to be taken as the same
	first  int      // place from which the last step factored anew; all of them: none
	mat    []row
	tall   []row        // mat, and eight rows of zeros
	y      []float64    // of a step, in that order, and eight zeros
	sums   [][6]float64 // what the border's columns make of each other, up to each place
	sides  [2][]four    // right-hand sides: the border's columns and what is out of balance
	small  [mostBorder][mostBorder]float64
	drawn  [8]float64
	rhs    [mostBorder]float64
	total  float64     // of the forces, without sign
	bad    float64     // largest of what is out of balance, N
	slope  float64     // of the energy along the step
	newton func() bool // makes a step with the present stiffness
}

// move is a place of the ring, or the way from one to another, and the node that was pulled; -1: none was.
type move struct {
	x     []float64
	aside [mostBorder]float64
	node  int
}

// spring is what a node feels from the gasket, the stop and its bolt, N/m and so on, by w and φ.
type spring struct{ ww, wp, pp float64 }

// like tells whether another differs by no more than a share.
func (k *spring) like(o *spring, share float64) bool {
	return math.Abs(k.ww-o.ww) <= share*o.ww && math.Abs(k.pp-o.pp) <= share*o.pp
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
	m := &Model{
		joint: j,
		nodes: n,
		size:  3 * n,
		order: make([]int, n),
		cos:   make([]float64, n),
		sin:   make([]float64, n),
	}
	for i := range n {
		m.sin[i], m.cos[i] = math.Sincos(2 * math.Pi * float64(i) / float64(n))
	}
	m.base = make([]row, m.size+band)
	for i := range band {
		m.base[i][band] = 1
	}
	for k := range mostBorder {
		m.border[k] = make([]float64, m.size)
	}
	m.assemble()
	m.hubs = make([][3]float64, m.size)
	for k := range m.free {
		for i, v := range m.border[k] {
			m.hubs[i][k] = v
		}
	}
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
	for _, v := range []*[]float64{&m.x, &m.r, &m.d, &m.trial, &m.start.x, &m.before.x} {
		*v = make([]float64, m.size)
	}
	m.stiff, m.held, m.y = make([]spring, n), make([]spring, n), make([]float64, m.size+2*band)
	m.sums = make([][6]float64, n+1)
	m.tall = make([]row, m.size+2*band)
	m.mat = m.tall[:len(m.base)]
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
	m.before.node, m.known = -1, false
	for i := range m.nodes {
		m.order[place(i, m.nodes)] = i
	}
	for i := range m.spots {
		m.joint.Gasket.remember(0, &m.spots[i])
	}
}

// closureAt is by how much the faces have approached at a radius of a node.
func (m *Model) closureAt(x []float64, node int, r float64) float64 {
	at := 3 * node
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
	m.rAside = [mostBorder]float64{}
	v := [3]float64{}
	copy(v[:m.free], aside[:m.free])
	s0, s1, s2 := m.ringForce(x, v)
	if m.free > 0 {
		sums := [3]float64{s0, s1, s2}
		for k := range m.free {
			m.rAside[k] = sums[k]
			for o := range m.free {
				m.rAside[k] += m.corner[k][o] * aside[o]
			}
		}
	}
	m.total = 0
	clear(m.stiff)
	s := float64(m.joint.Sides)
	m.bed(x, aside)
	if st := m.joint.Stop; st != nil {
		k := 2 * math.Pi * st.R / float64(m.nodes) * st.K
		arm := st.R - m.joint.Ring.R
		for node := range m.nodes {
			if over := s*(x[3*node]+arm*x[3*node+2]) - st.Gap; over > 0 {
				m.push(node, arm, k*over, s*k)
			}
		}
	}
	arm := m.joint.RBolt - m.joint.Ring.R
	for b := range m.joint.Bolts {
		node := m.boltNode(b)
		force, slope := m.pull(b, s*(x[3*node]+arm*x[3*node+2]))
		m.push(node, arm, -force, s*slope)
	}
}

// push adds a force on a node, at an arm from the ring's own radius, and the stiffness behind it.
func (m *Model) push(node int, arm, force, k float64) {
	at := 3 * node
	m.r[at] += force
	m.r[at+2] += force * arm
	m.total += math.Abs(force)
	to := &m.stiff[node]
	k1 := k * arm
	to.ww += k
	to.wp += k1
	to.pp += k1 * arm
}

// bed adds the gasket.
func (m *Model) bed(x []float64, aside *[mostBorder]float64) {
	s := float64(m.joint.Sides)
	if m.shifts > 0 {
		m.floating(aside)
	}
	for node := range m.nodes {
		at := 3 * node
		for k, r := range m.radii {
			h := &m.spots[node*len(m.radii)+k]
			arm := r - m.joint.Ring.R
			d := s*(x[at]+arm*x[at+2]) - h.creep
			if m.shifts > 0 {
				d -= aside[m.free]*m.cos[node] + aside[m.free+1]*m.sin[node]
			}
			stress, slope := m.joint.Gasket.at(d, h)
			m.push(node, arm, m.areas[k]*stress, s*m.areas[k]*slope)
			if m.shifts > 0 {
				m.drift(node, arm, m.areas[k]*stress, m.areas[k]*slope)
			}
		}
	}
}

// floating begins what the shifts on a taper are out of balance, and their columns.
func (m *Model) floating(aside *[mostBorder]float64) {
	s, ke, f := float64(m.joint.Sides), m.joint.Float.Ke, m.free
	m.rAside[f], m.rAside[f+1] = ke*aside[f]/s, ke*aside[f+1]/s
	for k := f; k < f+2; k++ {
		clear(m.border[k])
		m.corner[k][f], m.corner[k][f+1] = 0, 0
		m.corner[k][k] = ke / s
	}
}

// drift adds what a spot of a taper does to the shifts.
func (m *Model) drift(node int, arm, force, k float64) {
	s, f := float64(m.joint.Sides), m.free
	turn := [2]float64{m.cos[node], m.sin[node]}
	for a, t := range turn {
		m.rAside[f+a] -= force * t / s
		m.border[f+a][3*node] -= k * t
		m.border[f+a][3*node+2] -= k * arm * t
		for b, u := range turn {
			m.corner[f+a][f+b] += k * t * u / s
		}
	}
}

// settle lets the gasket remember, and reads the forces.
func (m *Model) settle() {
	s := float64(m.joint.Sides)
	for i := range m.nodes {
		for k, r := range m.radii {
			h := &m.spots[i*len(m.radii)+k]
			m.joint.Gasket.remember(m.closureSpot(i, s, r, h), h)
		}
	}
	for b := range m.joint.Bolts {
		m.forces[b], _ = m.pull(b, m.closureAt(m.x, m.boltNode(b), m.joint.RBolt))
	}
}

// closureSpot is the closure that the gasket feels at a spot.
func (m *Model) closureSpot(node int, s, r float64, h *history) float64 {
	at := 3 * node
	d := s*(m.x[at]+(r-m.joint.Ring.R)*m.x[at+2]) - h.creep
	if m.shifts > 0 {
		d -= m.aside[m.free]*m.cos[node] + m.aside[m.free+1]*m.sin[node]
	}
	return d
}

// Forces are those of all bolts now, N; they are lent until the next step.
func (m *Model) Forces() []float64 { return m.forces }
