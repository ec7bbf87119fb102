package gasket_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/gasket"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

func ptr[T any](v T) *T { return &v }

func flange() gasket.BoltStressInput {
	return gasket.BoltStressInput{Area: 14890, Target: 70, Max: 140, Seating: 50, Operating: 30, Bolts: 8,
		BoltArea: 245, Yield: 720, MinPct: 40, MaxPct: 70, Retained: .7, Diameter: 20, K: .16}
}

// Caps win over floors, a stop is a stop, and the torque follows the stress.
func TestFlangeStressIsSettledByTheRightThing(t *testing.T) {
	for want, change := range map[string]func(*gasket.BoltStressInput){
		"bolt_max":      func(in *gasket.BoltStressInput) {},
		"gasket_target": func(in *gasket.BoltStressInput) { in.Target, in.Seating = 50, 40 },
		"bolt_min":      func(in *gasket.BoltStressInput) { in.Target, in.Seating, in.Operating = 20, 10, 5 },
		"seating":       func(in *gasket.BoltStressInput) { in.Target, in.Seating = 40, 45 },
		"flange":        func(in *gasket.BoltStressInput) { in.FlangeLimit = ptr(350.0) },
		"gasket_max": func(in *gasket.BoltStressInput) {
			in.Target, in.Max, in.Seating, in.Operating, in.MinPct = 20, 30, 10, 5, 40
		},
	} {
		in := flange()
		change(&in)
		r, err := gasket.BoltStress(nil, in)
		require.NoError(t, err, want)
		require.Equal(t, want, r.Governing)
		require.InEpsilon(t, in.K*r.Stress*in.BoltArea/1000*in.Diameter, r.Torque, 1e-12)
	}
	in := flange()
	in.FlangeLimit = ptr(300.0)
	w := working.New("")
	r, err := gasket.BoltStress(w, in)
	require.NoError(t, err)
	require.False(t, r.OK)
	require.Contains(t, r.Warnings, "below_seating")
	require.Contains(t, w.Warnings[0], "No torque may be issued without an engineer")
}

func TestFlangeStressStaysUnderItsCaps(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := flange()
		in.Target = rapid.Float64Range(5, 140).Draw(t, "target")
		in.Pressure, in.PressureCircle = rapid.Float64Range(0, 10).Draw(t, "pressure"), ptr(193.0)
		in.FlangeLimit = ptr(rapid.Float64Range(50, 700).Draw(t, "flange"))
		r, err := gasket.BoltStress(nil, in)
		require.NoError(t, err)
		require.LessOrEqual(t, r.Stress, *in.FlangeLimit*(1+1e-9))
		require.LessOrEqual(t, r.PctYield, in.MaxPct*(1+1e-9))
		require.LessOrEqual(t, r.GasketNow, in.Max*(1+1e-9))
		if r.OK {
			require.GreaterOrEqual(t, r.GasketLater, in.Operating*(1-1e-6), "it holds in service")
			require.GreaterOrEqual(t, r.GasketNow, in.Seating*(1-1e-6))
		}
	})
	for field, change := range map[string]func(*gasket.BoltStressInput){
		"gasket_max_MPa":         func(in *gasket.BoltStressInput) { in.Max = 60 },
		"gasket_min_seating_MPa": func(in *gasket.BoltStressInput) { in.Seating = 150 },
		"bolt_min_pct":           func(in *gasket.BoltStressInput) { in.MinPct = 70 },
		"pressure_diameter_mm":   func(in *gasket.BoltStressInput) { in.Pressure = 1 },
		"retained_fraction":      func(in *gasket.BoltStressInput) { in.Retained = .2 },
	} {
		in := flange()
		change(&in)
		_, err := gasket.BoltStress(nil, in)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok)
		require.Equal(t, field, r.Field)
	}
}

func TestRelaxationIsPutOnBefore(t *testing.T) {
	r, err := gasket.RelaxationAllowance(nil, gasket.RelaxationInput{Required: 90, Losses: []float64{10, 20}})
	require.NoError(t, err)
	require.InDelta(t, .72, r.Retained, 1e-12)
	require.InDelta(t, 125, r.Assembly, 1e-9)
	_, err = gasket.RelaxationAllowance(nil, gasket.RelaxationInput{Required: 90, Losses: []float64{80, 80}})
	require.Error(t, err)
	ring, err := gasket.RingArea(nil, gasket.RingInput{Outer: 20, Inner: 10})
	require.NoError(t, err)
	require.InDelta(t, 235.619, ring.Area, 1e-3)
	_, err = gasket.RingArea(nil, gasket.RingInput{Outer: 10, Inner: 10})
	require.Error(t, err)
}
