package interaction_test

import (
	"context"
	"encoding/json"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/interaction"
	"dynacor/core/quantity"
)

func model(t testing.TB, j interaction.Joint) *interaction.Model {
	t.Helper()
	m, err := interaction.New(j)
	require.NoError(t, err)
	return m
}

func run(t testing.TB, j interaction.Joint, s interaction.Sequence) *interaction.Result {
	t.Helper()
	r, err := model(t, j).Run(s)
	require.NoError(t, err)
	return r
}

func once(order interaction.Order, target float64) interaction.Sequence {
	return interaction.Sequence{Target: target, Passes: []interaction.Pass{{Fraction: 1, Order: order}}}
}

func listed(bolts ...int) interaction.Order {
	o := interaction.Order{}
	for _, b := range bolts {
		o.Groups = append(o.Groups, []int{b})
	}
	return o
}

// Beginning at another bolt turns the picture, going the other way round mirrors it; the last bolt has its target.
func TestPictureTurnsWithTheOrder(t *testing.T) {
	c := caseOf(t, "J-2")
	j := *c.Joint
	j.Bolts, j.Ring = 8, caseOf(t, "J-1").Joint.Ring
	j.RBolt, j.ROut, j.KBolt, j.Gasket = .125, .15, 6.75e8, caseOf(t, "J-7").Joint.Gasket
	order := []int{1, 5, 3, 7, 2, 6, 4, 8}
	first := run(t, j, once(listed(order...), 80e3)).Forces
	require.InDelta(t, 80e3, first[7], 1e-3)
	for by := range 8 {
		turned, mirrored := slices.Clone(order), slices.Clone(order)
		for i, b := range order {
			turned[i], mirrored[i] = (b-1+by)%8+1, (8-(b-1)+by)%8+1
		}
		a, b := run(t, j, once(listed(turned...), 80e3)).Forces, run(t, j, once(listed(mirrored...), 80e3)).Forces
		for i := range first {
			require.InDelta(t, first[i], a[(i+by)%8], 1e-4)
			require.InDelta(t, first[i], b[(8-i+by)%8], 1e-4)
		}
	}
}

// All bolts together: each has the target, the faces are parallel, and the gasket carries what the bolts pull.
func TestAllBoltsTogetherAreAlike(t *testing.T) {
	for _, id := range []string{"J-1", "J-3", "J-4", "J-6", "J-9"} {
		j := *caseOf(t, id).Joint
		j.Stop = nil
		all := make([]int, j.Bolts)
		for i := range all {
			all[i] = i + 1
		}
		m := model(t, j)
		r, err := m.Run(once(interaction.Order{Groups: [][]int{all}}, 20e3))
		require.NoError(t, err)
		require.InDelta(t, 0, r.Stats.Scatter, 1e-9, id)
		require.InDelta(t, 0, r.Shape.Tilt, 1e-12, id)
		area := math.Pi * (j.Gasket.ROut*j.Gasket.ROut - j.Gasket.RIn*j.Gasket.RIn)
		require.InDelta(t, 20e3*float64(j.Bolts), r.Stress.Mean*area, 1e-6*20e3*float64(j.Bolts), id)
	}
}

// Without tension lost anywhere forces add up: they are what the matrix makes of the travels. It is symmetric and the
// same round the circle.
func TestForcesAddUpWhereAllIsLinear(t *testing.T) {
	j := *caseOf(t, "J-1").Joint
	j.Bilateral = true
	m := model(t, j)
	b, err := m.Matrix()
	require.NoError(t, err)
	for i := range b {
		for k := range b {
			require.InDelta(t, b[i][k], b[k][i], 1e-6*b[0][0])
			require.InDelta(t, b[0][(k-i+8)%8], b[i][k], 1e-6*b[0][0])
		}
	}
	r, err := m.Run(once(interaction.Order{Name: interaction.Circular}, 90e3))
	require.NoError(t, err)
	want := make([]float64, 8)
	for _, s := range r.Steps {
		for i := range want {
			want[i] += b[i][s.Bolts[0]-1] * s.Angle[0] / 360 * j.Pitch
		}
	}
	for i := range want {
		require.InDelta(t, want[i], r.Forces[i], 1e-6*90e3)
	}
}

// A rigid ring on a linear bed has the interaction of a textbook.
func TestRigidRing(t *testing.T) {
	j := *caseOf(t, "J-1").Joint
	j.Ring.EI, j.Ring.GJ, j.Ring.GAs, j.Ring.KPhi, j.Ring.KW = 1e12, 1e12, 0, 0, 0
	j.Gasket.RIn, j.Gasket.ROut = j.Ring.R-1e-4, j.Ring.R+1e-4
	j.PerBolt = 8
	b, err := model(t, j).Matrix()
	require.NoError(t, err)
	kg := j.Gasket.K * 2 * math.Pi * j.Ring.R * 2e-4
	k, n, rb, rg := j.KBolt, float64(j.Bolts), j.RBolt, j.Ring.R
	for i := range b {
		c := 1/(kg+n*k) + 2*rb*rb*math.Cos(2*math.Pi*float64(i)/n)/(kg*rg*rg+n*k*rb*rb)
		want := -k * k * c
		if i == 0 {
			want += k
		}
		require.InDelta(t, want, b[0][i], 2e-4*b[0][0], "bolt %d", i+1)
	}
}

// More elements change little; a target that is made up for what comes after leaves all bolts alike.
func TestFinerRingChangesLittle(t *testing.T) {
	c := caseOf(t, "J-3")
	coarse, fine := *c.Joint, *c.Joint
	fine.PerBolt = 8
	a, b := run(t, coarse, *c.Sequence), run(t, fine, *c.Sequence)
	require.Equal(t, a.Rounds, b.Rounds)
	for i := range a.Forces {
		require.InDelta(t, a.Forces[i], b.Forces[i], 3e-3*c.Sequence.Target)
	}
}

// Exactly to the target, again and again, evens a joint out however it was begun; tightened alone, a bolt that was
// lifted above its target stays there.
func TestAdjustingEvensOut(t *testing.T) {
	j := *caseOf(t, "J-1").Joint
	s := once(interaction.Order{Name: interaction.Circular}, 90e3)
	for range 11 {
		s.Passes = append(s.Passes, s.Passes[0])
	}
	s.Adjust = true
	require.Less(t, run(t, j, s).Stats.Scatter, 1e-6)
	four := caseOf(t, "J-2")
	require.Greater(t, run(t, *four.Joint, once(interaction.Order{Name: interaction.Circular}, 40e3)).Stats.Max, 41e3)
}

// Draws of the nut factor are the same for the same seed, and their spread is the one asked for.
func TestDrawsOfTorque(t *testing.T) {
	c := caseOf(t, "J-2")
	s := *c.Sequence
	s.Torque = &interaction.Control{Mean: .16, CoV: .1, Seed: 5}
	a, b := run(t, *c.Joint, s), run(t, *c.Joint, s)
	require.Equal(t, a.Forces, b.Forces)
	s.Torque = &interaction.Control{Mean: .16, CoV: .1, Seed: 6}
	require.NotEqual(t, a.Forces, run(t, *c.Joint, s).Forces)
	s.Torque = &interaction.Control{Mean: .16}
	require.Equal(t, run(t, *c.Joint, *c.Sequence).Forces, run(t, *c.Joint, s).Forces, "without spread it is the force itself")
	s.Check, s.Passes = nil, []interaction.Pass{{Fraction: 1, Order: interaction.Order{Name: interaction.Circular}}}
	s.Torque = &interaction.Control{Mean: .16, List: []float64{.16, .16, .16, .32}}
	require.InDelta(t, s.Target/2, run(t, *c.Joint, s).Forces[3], 1, "twice the friction, half the force")
}

func TestWhatCannotBeIsRefused(t *testing.T) {
	for field, change := range map[string]func(*interaction.Joint, *interaction.Sequence){
		"n":              func(j *interaction.Joint, _ *interaction.Sequence) { j.Bolts = 0 },
		"k_b":            func(j *interaction.Joint, _ *interaction.Sequence) { j.KBolt = -1 },
		"ring.EI":        func(j *interaction.Joint, _ *interaction.Sequence) { j.Ring.EI = math.NaN() },
		"ring.k_w":       func(j *interaction.Joint, _ *interaction.Sequence) { j.Ring.KW = -1 },
		"sides":          func(j *interaction.Joint, _ *interaction.Sequence) { j.Sides = 3 },
		"m":              func(j *interaction.Joint, _ *interaction.Sequence) { j.PerBolt = 1 },
		"gasket.r_go":    func(j *interaction.Joint, _ *interaction.Sequence) { j.Gasket.ROut = j.Gasket.RIn },
		"gasket.ku0":     func(j *interaction.Joint, _ *interaction.Sequence) { j.Gasket.Ku0 = 1e10 },
		"gasket.type":    func(j *interaction.Joint, _ *interaction.Sequence) { j.Gasket.Type = "rope" },
		"gasket.sigma0":  func(j *interaction.Joint, _ *interaction.Sequence) { j.Gasket.Sigma0 = 0 },
		"stop.k":         func(j *interaction.Joint, _ *interaction.Sequence) { j.Stop = &interaction.Stop{R: .1} },
		"float.k_e":      func(j *interaction.Joint, _ *interaction.Sequence) { j.Float = &interaction.Float{} },
		"target":         func(j *interaction.Joint, s *interaction.Sequence) { j.Yield = s.Target - 1 },
		"passes":         func(_ *interaction.Joint, s *interaction.Sequence) { s.Passes = nil },
		"passes.1.order": func(_ *interaction.Joint, s *interaction.Sequence) { s.Passes[0].Order = listed(1, 2, 3, 3) },
		"passes.2.order": func(_ *interaction.Joint, s *interaction.Sequence) { s.Passes[1].Order = listed(1, 2, 3) },
		"passes.3.order": func(_ *interaction.Joint, s *interaction.Sequence) { s.Passes[2].Order.Name = "star" },
		"check":          func(_ *interaction.Joint, s *interaction.Sequence) { s.Check.Most = 0 },
		"check.tools":    func(_ *interaction.Joint, s *interaction.Sequence) { s.Check.Tools = 3 },
		"embed":          func(_ *interaction.Joint, s *interaction.Sequence) { s.Embed = 1 },
		"torque.K_mean":  func(_ *interaction.Joint, s *interaction.Sequence) { s.Torque = &interaction.Control{} },
		"torque.cov": func(_ *interaction.Joint, s *interaction.Sequence) {
			s.Torque = &interaction.Control{Mean: .1, CoV: .5}
		},
		"scatter_goal": func(_ *interaction.Joint, s *interaction.Sequence) { zero := 0.0; s.Goal = &zero },
		"passes.1.targets": func(_ *interaction.Joint, s *interaction.Sequence) {
			s.Passes[0].Targets = map[string]float64{"5": 1}
		},
		"passes.1.fraction": func(_ *interaction.Joint, s *interaction.Sequence) { s.Passes[0].Fraction = 0 },
	} {
		c := caseOf(t, "J-2")
		change(c.Joint, c.Sequence)
		m, err := interaction.New(*c.Joint)
		if err == nil {
			_, err = m.Run(*c.Sequence)
		}
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, "%s: %v", field, err)
		require.Equal(t, field, r.Field)
		require.NotEmpty(t, r.Remedy)
	}
	for field, change := range map[string]func(*interaction.Geometry){"E": func(g *interaction.Geometry) { g.E = 0 },
		"n": func(g *interaction.Geometry) { g.Bolts = 1 }, "nu": func(g *interaction.Geometry) { g.Nu = .5 },
		"r_b": func(g *interaction.Geometry) { g.RBolt = g.ROut }, "t_hub": func(g *interaction.Geometry) { g.Hub = -1 },
		"d_hole": func(g *interaction.Geometry) { g.Hole = .08 }, "seat_compliance": func(g *interaction.Geometry) { g.Seats = -1 }} {
		g := *caseOf(t, "J-2").Geometry
		change(&g)
		_, err := interaction.Derive(g)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, field)
		require.Equal(t, field, r.Field)
	}
}

// Whatever the stiffnesses, there is an equilibrium or an error, never a figure that is none; a history can be stopped.
func TestRandomJointsBalance(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 9))
	list, _ := cases(t)
	for range 60 {
		c := list[rng.IntN(len(list))]
		if c.Sequence == nil {
			continue
		}
		j := *c.Joint
		by := func() float64 { return math.Exp(2 * (rng.Float64() - .5)) }
		j.Ring.EI, j.Ring.GJ, j.KBolt = j.Ring.EI*by(), j.Ring.GJ*by(), j.KBolt*by()
		if j.Ring.KPhi > 0 {
			j.Ring.KPhi, j.Ring.KW = j.Ring.KPhi*by(), j.Ring.KW*by()
		}
		r := run(t, j, *c.Sequence)
		for _, f := range r.Forces {
			require.False(t, math.IsNaN(f) || f < 0)
		}
		require.LessOrEqual(t, r.Stats.Max, r.Highest+1e-6)
	}
	c := caseOf(t, "J-4")
	stopped, cancel := context.WithCancel(context.Background())
	cancel()
	_, err := model(t, *c.Joint).RunContext(stopped, *c.Sequence, nil)
	require.ErrorIs(t, err, context.Canceled)
}

func TestOrdersAreReadAndWritten(t *testing.T) {
	for _, text := range []string{`"cross"`, `[[1],[3],[2]]`, `[[1,3],[2,4]]`} {
		var o interaction.Order
		require.NoError(t, json.Unmarshal([]byte(text), &o))
		data, err := json.Marshal(o)
		require.NoError(t, err)
		require.JSONEq(t, text, string(data))
	}
	var o interaction.Order
	require.NoError(t, json.Unmarshal([]byte(`[1,3,2]`), &o))
	require.Equal(t, listed(1, 3, 2), o)
	require.Error(t, json.Unmarshal([]byte(`{}`), &o))
}
