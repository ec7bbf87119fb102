package pressure_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/pressure"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

func ptr[T any](v T) *T { return &v }

func refused(t *testing.T, err error, field string) {
	t.Helper()
	r, ok := quantity.RefusalIn(err)
	require.True(t, ok, "%v", err)
	require.Equal(t, field, r.Field, r.Error())
}

// Ten metres of water are 0.0980665 MPa.
func TestTestPressureCountsTheHead(t *testing.T) {
	in := pressure.TestInput{Design: 1, Factor: 1.5, Ratio: 1, Hold: 10, MinHold: 10, Head: 10, Density: 1000}
	r, err := pressure.TestPressure(nil, in)
	require.NoError(t, err)
	require.InDelta(t, 1.5980665, r.Gauge, 1e-9)
	require.InDelta(t, 600, r.Hold, 0)
	in.Limit = ptr(1.55)
	_, err = pressure.TestPressure(nil, in)
	refused(t, err, "component_limit_MPa")
	in.Limit, in.Hold = nil, 9
	_, err = pressure.TestPressure(nil, in)
	refused(t, err, "hold_min")
}

func TestPneumaticStepsRiseToTheTest(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := pressure.StepsInput{Test: rapid.Float64Range(.05, 30).Draw(t, "test"),
			First: rapid.Float64Range(.05, 1).Draw(t, "first"), Step: rapid.Float64Range(.01, 1).Draw(t, "step"),
			Inspect: 1.1}
		if rapid.Bool().Draw(t, "capped") {
			in.Cap = ptr(.17)
		}
		r, err := pressure.PneumaticSteps(nil, in)
		require.NoError(t, err)
		for i := 1; i < len(r.Steps); i++ {
			require.Greater(t, r.Steps[i], r.Steps[i-1])
			require.LessOrEqual(t, r.Steps[i]-r.Steps[i-1], in.Step*in.Test*(1+1e-9))
		}
		require.InEpsilon(t, math.Min(in.Test, r.Steps[len(r.Steps)-1]), r.Steps[len(r.Steps)-1], 1e-9)
		if in.Cap != nil {
			require.LessOrEqual(t, r.Steps[0], .17)
		}
	})
}

// Warming alone is no leak; the four verdicts.
func TestDecayTellsWarmthFromLeak(t *testing.T) {
	in := pressure.DecayInput{P1: 600000, T1: 20, P2: (600000+101325)*(293.15+5)/293.15 - 101325, T2: 25, Volume: .25,
		Time: 3600, Atm1: 101325, Atm2: 101325, Limit: .1, RefTemp: 20}
	r, err := pressure.Decay(nil, in)
	require.NoError(t, err)
	require.InDelta(t, 0, r.Leak, 1e-9)
	require.Equal(t, "pass", r.Verdict)
	for want, change := range map[string]func(*pressure.DecayInput){
		"fail":         func(in *pressure.DecayInput) { in.P2 -= 3000 },
		"invalid":      func(in *pressure.DecayInput) { in.P2 += 3000 },
		"inconclusive": func(in *pressure.DecayInput) { in.Resolution = 2000 },
	} {
		other := in
		change(&other)
		r, err := pressure.Decay(nil, other)
		require.NoError(t, err)
		require.Equal(t, want, r.Verdict)
	}
	in.P2 = -101325
	_, err = pressure.Decay(nil, in)
	refused(t, err, "p2_Pa")
}

// 100 bar absolute at 20 °C are 106.8 bar at 40 °C.
func TestGasPressureGoesWithKelvin(t *testing.T) {
	r, err := pressure.GasPressure(nil, pressure.GasInput{Pressure: 10, From: 20, To: 40, Atm: 0, Purpose: "service"})
	require.NoError(t, err)
	require.InDelta(t, 10.682, r.Pressure, 5e-4)
	w := working.New("")
	_, err = pressure.GasPressure(w, pressure.GasInput{Pressure: 10, From: 20, To: 40, Purpose: "transport"})
	require.NoError(t, err)
	require.Contains(t, w.Warnings[0], "transport pressure")
}

func TestPrechargeIsJudgedAtItsTemperature(t *testing.T) {
	in := pressure.PrechargeInput{Precharge: 9, RefTemp: 20, Temp: 20, Atm: .101325, Tol: 5, SystemMin: 12, TempMax: 55,
		MaxFrac: .9, SystemMax: 25, MaxRatio: 4}
	for measured, want := range map[float64]string{9: "ok", 9.45: "ok", 8.55: "ok", 8.5: "low", 9.5: "high"} {
		in.Measured = ptr(measured)
		r, err := pressure.Precharge(nil, in)
		require.NoError(t, err)
		require.InDelta(t, 9, r.AtTemp, 1e-12, "at the stated temperature it is what was stated")
		require.Equal(t, want, *r.Verdict, measured)
	}
	in.SystemMax = 11
	_, err := pressure.Precharge(nil, in)
	refused(t, err, "system_max_MPa")
}

// A gas holds far more than water; the caution stands beside it.
func TestStoredEnergyCautions(t *testing.T) {
	w := working.New("")
	r, err := pressure.StoredEnergy(w, pressure.EnergyInput{Test: 1.1, Volume: .4, Gamma: 1.4, Atm: .101325,
		TNT: 4266920, Scaled: 20, Reflect: 2, Bulk: 2.2})
	require.NoError(t, err)
	p := (1.1 + .101325) * 1e6
	require.InEpsilon(t, 2.5*p*.4*(1-math.Pow(101325/p, .286)), r.Energy, 1e-3, "the printed form for air")
	require.Greater(t, r.Energy, 1000*r.Hydro)
	require.Contains(t, w.Warnings, pressure.EnergyCaution)
}

func TestEndForceIsSharedByTheBolts(t *testing.T) {
	r, err := pressure.EndForce(nil, pressure.EndForceInput{Pressure: 1, Diameter: 1000, Bolts: 20})
	require.NoError(t, err)
	require.InDelta(t, 785.398, r.Force, 1e-3)
	require.InDelta(t, r.Force, 20*r.PerBolt, 1e-9)
}
