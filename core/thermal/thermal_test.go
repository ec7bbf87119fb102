package thermal_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/quantity"
	"dynacor/core/thermal"
)

func ptr[T any](v T) *T { return &v }

func refused(t *testing.T, err error, field string) {
	t.Helper()
	r, ok := quantity.RefusalIn(err)
	require.True(t, ok, "%v", err)
	require.Equal(t, field, r.Field, r.Error())
}

// At the temperature given, the growth is interference and play together.
func TestShrinkFitGrowsByWhatIsNeeded(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := thermal.ShrinkInput{Diameter: rapid.Float64Range(20, 500).Draw(t, "d"),
			Interference: rapid.Float64Range(0, .3).Draw(t, "i"), Clearance: rapid.Float64Range(.02, .2).Draw(t, "c"),
			Ambient:  18,
			AlphaHub: 1.15e-5, HubLimit: 250, AlphaShaft: ptr(1.15e-5), ShaftMin: ptr(-190.0)}
		r, err := thermal.ShrinkFit(nil, in)
		if err != nil {
			return
		}
		growth := in.AlphaHub*in.Diameter*(r.Hub-in.Ambient) + *in.AlphaShaft*in.Diameter*(in.Ambient-r.Shaft)
		require.InDelta(t, in.Interference+in.Clearance, growth, 1e-12)
		require.LessOrEqual(t, r.Hub, 250+1e-9)
		require.Equal(t, r.Shaft < in.Ambient-1e-9, r.Mode == "heat_and_cool")
	})
	hot := thermal.ShrinkInput{Diameter: 50, Interference: .2, Clearance: .2, Ambient: 20, AlphaHub: 1.15e-5,
		HubLimit: 250}
	_, err := thermal.ShrinkFit(nil, hot)
	refused(t, err, "hub_limit_C")
	hot.AlphaShaft, hot.ShaftMin = ptr(1.15e-5), ptr(-20.0)
	_, err = thermal.ShrinkFit(nil, hot)
	refused(t, err, "shaft_min_C")
}

func TestBearingPlayIsNilAtTheBareFit(t *testing.T) {
	in := thermal.BearingInput{Bore: 90, Interference: .05, Clearance: 0, Ambient: 20, Alpha: 1.2e-5, Limit: 110}
	r, err := thermal.BearingHeating(nil, in)
	require.NoError(t, err)
	in.Limit = r.Temp
	at, err := thermal.BearingHeating(nil, in)
	require.NoError(t, err)
	require.InDelta(t, 0, at.AtLimit, 1e-12, "at that very temperature it just slips on")
	require.True(t, at.Within)
	in.Limit = 20
	_, err = thermal.BearingHeating(nil, in)
	refused(t, err, "limit_C")
}

// The closed formulas agree with small steps of the heat balance.
func TestWarmupAgreesWithSmallSteps(t *testing.T) {
	step := func(rate func(temp float64) float64, from, to float64) float64 {
		temp, dt, s := from, 0.05, 0.0
		for math.Abs(temp-from) < math.Abs(to-from) {
			temp += rate(temp) * dt
			s += dt
		}
		return s
	}
	mc := 12.0 * 480
	power, err := thermal.WarmupTime(nil, thermal.WarmupInput{Mode: "power", Mass: 12, C: 480, Start: 20, End: 120,
		Power: ptr(1500.0), Loss: 5, Ambient: ptr(20.0)})
	require.NoError(t, err)
	require.InEpsilon(t, step(func(x float64) float64 { return (1500 - 5*(x-20)) / mc }, 20, 120), power.Time, 1e-3)
	oven, err := thermal.WarmupTime(nil, thermal.WarmupInput{Mode: "ambient", Mass: 12, C: 480, Start: 20, End: 120,
		H: ptr(15.0), Area: ptr(.2), Ambient: ptr(180.0)})
	require.NoError(t, err)
	require.InEpsilon(t, step(func(x float64) float64 { return 15 * .2 * (180 - x) / mc }, 20, 120), oven.Time, 1e-3)
	cooling, err := thermal.WarmupTime(nil, thermal.WarmupInput{Mode: "ambient", Mass: 12, C: 480, Start: 120, End: 40,
		H: ptr(15.0), Area: ptr(.2), Ambient: ptr(20.0), Volume: ptr(.0015), Conductivity: ptr(45.0)})
	require.NoError(t, err)
	require.InEpsilon(t, step(func(x float64) float64 { return 15 * .2 * (20 - x) / mc }, 120, 40), cooling.Time, 1e-3)
	require.True(t, *cooling.Lumped)
	none, err := thermal.WarmupTime(nil, thermal.WarmupInput{Mode: "ambient", Mass: 12, C: 480, Start: 60, End: 60,
		H: ptr(15.0), Area: ptr(.2), Ambient: ptr(20.0)})
	require.NoError(t, err)
	require.Zero(t, none.Time)
	for field, in := range map[string]thermal.WarmupInput{
		"end_C": {Mode: "ambient", Mass: 12, C: 480, Start: 20, End: 200, H: ptr(15.0), Area: ptr(.2),
			Ambient: ptr(180.0)},
		"power_W": {Mode: "power", Mass: 12, C: 480, Start: 20, End: 200},
		"area_m2": {Mode: "ambient", Mass: 12, C: 480, Start: 20, End: 100, H: ptr(15.0), Ambient: ptr(180.0)},
	} {
		_, err := thermal.WarmupTime(nil, in)
		refused(t, err, field)
	}
}

// The load at temperature is where what the bolt gains is what the parts lose: found again by halving.
func TestHotPreloadIsInBalance(t *testing.T) {
	in := thermal.PreloadInput{Preload: 120000, KBolt: 5e5, KMember: 2e6, Assembly: 20, Bolt: 150, BoltLength: 100,
		AlphaBolt:  1.2e-5,
		Members:    []thermal.Member{{Length: 60, Alpha: 1.2e-5, Temp: 150}, {Length: 40, Alpha: 2.3e-5, Temp: 180}},
		ERatioBolt: .95, ERatioParts: .9}
	r, err := thermal.PreloadTemperature(nil, in)
	require.NoError(t, err)
	cold := in.Preload * (1/in.KBolt + 1/in.KMember)
	gap := func(f float64) float64 { return f/(in.KBolt*.95) + f/(in.KMember*.9) - cold - r.Mismatch }
	lo, hi := 0.0, 1e6
	for range 80 {
		if mid := (lo + hi) / 2; gap(mid) < 0 {
			lo = mid
		} else {
			hi = mid
		}
	}
	require.InEpsilon(t, lo, r.Hot, 1e-9)
	in.Members = []thermal.Member{{Length: 100, Alpha: 0, Temp: 20}}
	in.Bolt = 700
	open, err := thermal.PreloadTemperature(nil, in)
	require.NoError(t, err)
	require.True(t, open.Separated)
	require.Zero(t, open.Hot)
}
