package interaction

import (
	"context"
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/require"
)

// large is a flange of so many bolts with a sheet, or a spiral-wound gasket.
func large(tb testing.TB, n int, sheet bool) Joint {
	tb.Helper()
	d, err := Derive(Geometry{E: 2e11, Nu: .3, RIn: .2955, ROut: .4535, H: .075, Bolts: 24, RBolt: .41, Hole: .039,
		Bolt: .036, Pitch: .004, Grip: .165, EBolt: 2.05e11, Hub: .02, RHub: .3055})
	require.NoError(tb, err)
	j := Joint{Bolts: n, PerBolt: 4, Sides: 2, RBolt: .41, ROut: .4535, Ring: d.Ring, KBolt: d.KBolt, Pitch: .004}
	j.Gasket = Gasket{Type: Exponential, Sigma0: 15e6, Delta0: 2e-4, Ku0: 2.5e11, Cu: 15e3, RIn: .305, ROut: .36}
	if !sheet {
		j.Gasket = Gasket{Type: Table, Points: [][2]float64{{2e-4, 1e7}, {9e-4, 5.5e7}, {1.2e-3, 1e8}}, Ku0: 1.3333333e12,
			RIn: .32, ROut: .345}
	}
	return j
}

func fourPasses() Sequence {
	s := Sequence{Target: 250e3}
	for _, f := range []float64{.3, .6, 1, 1} {
		s.Passes = append(s.Passes, Pass{Fraction: f, Order: Order{Name: Cross}})
	}
	s.Passes[3].Order.Name = Circular
	return s
}

func player(tb testing.TB, j Joint, s Sequence) *Player {
	tb.Helper()
	m, err := New(j)
	require.NoError(tb, err)
	p, err := m.Prepare(s)
	require.NoError(tb, err)
	p.silent = true
	return p
}

func play(b *testing.B, p *Player) {
	b.Helper()
	b.ReportAllocs()
	for b.Loop() {
		if err := p.Play(context.Background(), nil); err != nil {
			b.Fatal(err)
		}
	}
}

// A whole history of 24 bolts in four passes, against the same with a plain dense solver.
func BenchmarkHistory(b *testing.B) {
	for _, kind := range []string{"sheet", "spiral"} {
		b.Run(kind, func(b *testing.B) { play(b, player(b, large(b, 24, kind == "sheet"), fourPasses())) })
	}
	b.Run("yardstick: a plain dense solver", func(b *testing.B) {
		p := player(b, large(b, 24, true), fourPasses())
		p.m.newton = p.m.denseStep
		play(b, p)
	})
}

// Growth with the number of bolts.
func BenchmarkHistoryOfBolts(b *testing.B) {
	for _, n := range []int{8, 24, 48, 96} {
		b.Run(fmt.Sprint(n), func(b *testing.B) { play(b, player(b, large(b, n, true), fourPasses())) })
	}
}

// denseStep is the Newton step by elimination in a full matrix: the yardstick.
func (m *Model) denseStep() bool {
	nb := m.free + m.shifts
	n := m.size + nb
	a := make([][]float64, n)
	for i := range a {
		a[i] = make([]float64, n+1)
	}
	for node := range m.nodes {
		at, next := 3*node, 3*((node+1)%m.nodes)
		for i := range 3 {
			for k := range 3 {
				a[at+i][at+k] += m.here[i][k]
				a[at+i][next+k] += m.next[i][k]
				a[next+k][at+i] += m.next[i][k]
			}
			a[at+i][n] = -m.r[at+i]
		}
		s := m.stiff[node]
		a[at][at] += s.ww
		a[at][at+2] += s.wp
		a[at+2][at] += s.wp
		a[at+2][at+2] += s.pp
	}
	for k := range nb {
		for i, v := range m.border[k] {
			a[m.size+k][i], a[i][m.size+k] = v, v
		}
		for o := range nb {
			a[m.size+k][m.size+o] = m.corner[k][o]
		}
		a[m.size+k][n] = -m.rAside[k]
	}
	for c := range n {
		for r := c + 1; r < n; r++ {
			f := a[r][c] / a[c][c]
			if f == 0 {
				continue
			}
			for k := c; k <= n; k++ {
				a[r][k] -= f * a[c][k]
			}
		}
	}
	x := make([]float64, n)
	for c := n - 1; c >= 0; c-- {
		v := a[c][n]
		for k := c + 1; k < n; k++ {
			v -= a[c][k] * x[k]
		}
		x[c] = v / a[c][c]
	}
	copy(m.d, x[:m.size])
	for k := range nb {
		m.dAside[k] = x[m.size+k]
	}
	return true
}

// The fast solver and the plain one find the same histories, whatever parts a joint has.
func TestDenseSolverFindsTheSame(t *testing.T) {
	for name, change := range map[string]func(*Joint, *Sequence){
		"as it is":            func(*Joint, *Sequence) {},
		"hub and taper":       func(j *Joint, _ *Sequence) { j.Float = &Float{Ke: 1e7} },
		"hub against turning": func(j *Joint, _ *Sequence) { j.Ring.KW = 0 },
		"that and taper":      func(j *Joint, _ *Sequence) { j.Ring.KW, j.Float = 0, &Float{Ke: 1e6} },
		"no hub":              func(j *Joint, _ *Sequence) { j.Ring.KW, j.Ring.KPhi = 0, 0 },
		"no hub, a taper": func(j *Joint, _ *Sequence) {
			j.Ring.KW, j.Ring.KPhi, j.Float = 0, 0, &Float{Ke: 1e7}
		},
		"two tools":               func(_ *Joint, s *Sequence) { s.Passes[1].Tools = 2 },
		"rounds of checking":      func(_ *Joint, s *Sequence) { s.Check = &Rounds{Threshold: 2, Most: 6} },
		"an odd number of nodes":  func(j *Joint, _ *Sequence) { j.Bolts, j.PerBolt = 7, 3 },
		"three strips":            func(j *Joint, _ *Sequence) { j.Gasket.Strips = 3 },
		"a stop":                  func(j *Joint, _ *Sequence) { j.Stop = &Stop{R: .36, K: 1e11, Gap: .0003} },
		"a rigid cover":           func(j *Joint, _ *Sequence) { j.Sides = 1 },
		"adjusted both ways":      func(_ *Joint, s *Sequence) { s.Adjust = true },
		"turns limited, creeping": func(_ *Joint, s *Sequence) { s.Passes[0].Turn, s.Passes[0].Creep = 60, .05 },
		"embedding":               func(_ *Joint, s *Sequence) { s.Embed = .05 },
	} {
		j, s := large(t, 8, true), fourPasses()
		s.Passes = s.Passes[:2]
		change(&j, &s)
		fast, plain := player(t, j, s), player(t, j, s)
		plain.m.newton = plain.m.denseStep
		require.NoError(t, fast.Play(context.Background(), nil), name)
		require.NoError(t, plain.Play(context.Background(), nil), name)
		for i, f := range fast.m.forces {
			require.InDelta(t, plain.m.forces[i], f, 1e-6*250e3, name)
		}
	}
}

// A history is the same to the last bit whatever was computed on its model before.
func TestHistoryKnowsNothingOfTheOneBefore(t *testing.T) {
	m, err := New(large(t, 12, false))
	require.NoError(t, err)
	fresh, err := m.Run(fourPasses())
	require.NoError(t, err)
	other := fourPasses()
	other.Passes[0].Order.Name, other.Target = Circular, 180e3
	_, err = m.Run(other)
	require.NoError(t, err)
	again, err := m.Run(fourPasses())
	require.NoError(t, err)
	require.Equal(t, fresh, again)
}

// Where there is nothing to hold the rings there is no equilibrium: an error, and no figure.
func TestWithoutEquilibriumThereIsNoFigure(t *testing.T) {
	j := large(t, 8, true)
	j.Ring.KW, j.Ring.KPhi, j.Float = 0, 0, &Float{Ke: 1e3}
	m, err := New(j)
	require.NoError(t, err)
	r, err := m.Run(fourPasses())
	require.ErrorIs(t, err, ErrNotConverged)
	require.Nil(t, r)
}

// Going through a sequence allocates nothing once it is laid out.
func TestHistoryAllocatesNothing(t *testing.T) {
	p := player(t, large(t, 12, true), fourPasses())
	n := testing.AllocsPerRun(3, func() { require.NoError(t, p.Play(context.Background(), nil)) })
	require.Zero(t, math.Floor(n))
}
