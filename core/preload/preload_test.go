package preload_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/preload"
	"dynacor/core/quantity"
)

func ptr[T any](v T) *T { return &v }

func refused(t *testing.T, err error, field string) {
	t.Helper()
	r, ok := quantity.RefusalIn(err)
	require.True(t, ok, "%v", err)
	require.Equal(t, field, r.Field, r.Error())
}

// Printed assembly loads of VDI 2230 for class 8.8 and 90 % of yield, kN, with the bearing diameters of its bolts.
func TestAssemblyLoadsAgreeWithPrintedTables(t *testing.T) {
	for _, c := range []struct{ d, p, dm, yield, mu, want float64 }{{8, 1.25, 10.3, 640, .12, 18.6},
		{10, 1.5, 13, 640, .14, 28.8}, {16, 2, 20, 640, .10, 82.9}, {20, 2.5, 25, 660, .12, 130},
		{24, 3, 30, 660, .12, 188}} {
		r, err := preload.AssemblyPreloadYield(nil, preload.YieldPreloadInput{Diameter: c.d, Pitch: c.p, Yield: c.yield,
			MuThread: c.mu, MuHead: c.mu, Bearing: c.dm, Nu: .9})
		require.NoError(t, err)
		require.InEpsilon(t, c.want, r.Preload, .012, "M%v", c.d)
	}
	_, err := preload.AssemblyPreloadYield(nil, preload.YieldPreloadInput{Diameter: 8, Pitch: 5, Yield: 640,
		MuThread: .1, MuHead: .1, Bearing: 12, Nu: .9})
	refused(t, err, "pitch_mm")
	_, err = preload.AssemblyPreloadYield(nil, preload.YieldPreloadInput{Diameter: 8, Pitch: 1.25, Yield: 640,
		MuThread: .1, MuHead: .1, Bearing: 7, Nu: .9})
	refused(t, err, "bearing_mean_mm")
}

// Loosening takes twice the pitch part less than tightening; a steep thread with little friction runs back by itself.
func TestLooseningIsTighteningLessThePitchTwice(t *testing.T) {
	f := preload.Friction{D: 20, Pitch: 2.5, D2: 18.376, BearingMean: 25.1, MuThread: .14, MuHead: .14}
	up, err := f.TorqueAt(nil, 100)
	require.NoError(t, err)
	down, err := f.Loosening(nil, 100)
	require.NoError(t, err)
	require.InEpsilon(t, up.TorqueNm-2*up.PitchNm, down.Loosening, 1e-12)
	require.False(t, down.SelfReleasing)
	slick := preload.Friction{D: 20, Pitch: 8, D2: 17, BearingMean: 18, MuThread: .01, MuHead: .01}
	down, err = slick.Loosening(nil, 100)
	require.NoError(t, err)
	require.True(t, down.SelfReleasing)
	f.Exact = true
	exact, err := f.Loosening(nil, 100)
	require.NoError(t, err)
	require.InEpsilon(t, up.TorqueNm-2*up.PitchNm, exact.Loosening, .01, "both forms agree within one percent")
}

// With the basic profile the sheared areas are exactly 3/4·π·d1 and 7/8·π·d per mm.
func TestEngagementOfTheBasicProfile(t *testing.T) {
	for _, c := range []struct{ d, p float64 }{{10, 1.5}, {24, 3}, {64, 6}} {
		r, err := preload.EngagementLength(nil, preload.EngagementInput{Diameter: c.d, Pitch: c.p, As: 100, Bolt: 800,
			Nut: 800, Shear: .5})
		require.NoError(t, err)
		d1 := c.d - 5*math.Sqrt(3)/8*c.p
		require.InEpsilon(t, .75*math.Pi*d1, r.Ext, 1e-12)
		require.InEpsilon(t, .875*math.Pi*c.d, r.Int, 1e-12)
		require.Equal(t, "bolt_thread", r.Critical, "like on like, the bolt thread is the weaker")
		soft, err := preload.EngagementLength(nil, preload.EngagementInput{Diameter: c.d, Pitch: c.p, As: 100,
			Bolt: 800, Nut: 200, Shear: .5, Length: ptr(r.Required)})
		require.NoError(t, err)
		require.Equal(t, "nut_thread", soft.Critical)
		require.False(t, *soft.OK)
	}
	_, err := preload.EngagementLength(nil, preload.EngagementInput{Diameter: 10, Pitch: 1.5, As: 58, Bolt: 800,
		Nut: 800, Shear: .5, D1Max: ptr(9.9)})
	refused(t, err, "D1_max_mm")
}

func TestTurnOfNutByLengthAndSlope(t *testing.T) {
	for _, c := range []struct {
		length, head, nut float64
		method            string
		want              float64
	}{
		{80, 0, 0, "rcsc", 120}, {81, 0, 0, "rcsc", 180}, {160, 0, 0, "rcsc", 180}, {240, 0, 0, "rcsc", 240},
		{80, .04, 0, "rcsc", 180}, {80, .05, .05, "rcsc", 240},
		{39, 0, 0, "en1090_combined", 60}, {40, 0, 0, "en1090_combined", 90}, {119, 0, 0, "en1090_combined", 90},
		{120, 0, 0, "en1090_combined", 120}, {200, 0, 0, "en1090_combined", 120},
	} {
		r, err := preload.TurnOfNut(nil, preload.TurnOfNutInput{Method: c.method, Length: c.length, Diameter: 20,
			SlopeHead: c.head, SlopeNut: c.nut, Minus: 30, Plus: 30})
		require.NoError(t, err)
		require.InDelta(t, c.want, r.Angle, 0, "%+v", c)
		require.InDelta(t, c.want/360, r.Turns, 1e-12)
		require.InDelta(t, 60, r.Max-r.Min, 1e-12)
	}
	for field, in := range map[string]preload.TurnOfNutInput{"length_mm": {Method: "rcsc", Length: 241, Diameter: 20},
		"slope_nut_ratio": {Method: "rcsc", Length: 80, Diameter: 20, SlopeNut: .06}} {
		_, err := preload.TurnOfNut(nil, in)
		refused(t, err, field)
	}
}

// A mark at six goes to nine after a quarter, twelve after a half, and is back after a whole turn.
func TestMarksOnTheClock(t *testing.T) {
	for angle, want := range map[float64]float64{90: 9, 180: 12, 270: 3, 360: 6, 450: 9} {
		r, err := preload.TurnMarks(nil, preload.TurnMarksInput{Angle: angle, Start: 6})
		require.NoError(t, err)
		require.InDelta(t, want, r.End, 1e-9)
		require.InDelta(t, angle/60, r.Flats, 1e-12)
	}
	r, err := preload.TubeFittingTurns(nil, preload.TubeFittingInput{TubeOD: 12, Kind: "first", Start: 6,
		Pitch: ptr(1.5)})
	require.NoError(t, err)
	require.InDelta(t, 1.25, r.Turns, 0)
	require.InDelta(t, 9, r.End, 1e-9)
	require.InDelta(t, 7.5, r.Flats, 1e-12)
	require.InDelta(t, 1.875, *r.Advance, 1e-12)
	_, err = preload.TubeFittingTurns(nil, preload.TubeFittingInput{TubeOD: 12, Kind: "remake", Start: 6})
	refused(t, err, "turns")
	_, err = preload.TubeFittingTurns(nil, preload.TubeFittingInput{TubeOD: 38, Kind: "first", Start: 6})
	refused(t, err, "tube_od_mm")
}

// pull makes a curve: run-down, bend, straight line, and what the change does to it.
func pull(change func(angle float64) float64) []preload.TracePoint {
	var out []preload.TracePoint
	for a := 0.0; a <= 90; a += 2 {
		out = append(out, preload.TracePoint{Angle: a, Torque: math.Max(0, change(a))})
	}
	return out
}

func TestTraceTellsWhatThePullWas(t *testing.T) {
	straight := func(a float64) float64 { return 5 + 2*math.Max(0, a-30) }
	for want, f := range map[string]func(float64) float64{
		"normal":               straight,
		"yielded":              func(a float64) float64 { return math.Min(straight(a), 85+.2*(a-70)) },
		"not_reached":          func(a float64) float64 { return .85 * straight(a) },
		"already_tight":        func(a float64) float64 { return 120 - 20*math.Exp(-a/2) },
		"cross_thread_suspect": func(a float64) float64 { return 45 + 2*math.Max(0, a-50) },
		"bottomed_out_suspect": func(a float64) float64 {
			return 5 + .9*math.Max(0, math.Min(a, 60)-16) + 2.6*math.Max(0, a-60)
		},
	} {
		r, err := preload.TorqueAngleAnalysis(nil, preload.TraceInput{Points: pull(f), Target: 120, YieldRatio: .5,
			Rehit: 8, CrossFrac: .25, BottomRise: .15, BottomSlope: 1.6})
		require.NoError(t, err, want)
		require.Equal(t, want, r.Diagnosis)
	}
	r, err := preload.TorqueAngleAnalysis(nil, preload.TraceInput{Points: pull(straight), Target: 120, YieldRatio: .5,
		Rehit: 8, CrossFrac: .25, BottomRise: .15, BottomSlope: 1.6, Expected: ptr(1.0)})
	require.NoError(t, err)
	require.Equal(t, "bottomed_out_suspect", r.Diagnosis, "twice as stiff as it should be")
	require.InDelta(t, 2, *r.Slope, 1e-6)
	require.InDelta(t, 30, *r.Origin, .5)
	for _, bad := range [][]preload.TracePoint{pull(straight)[:8], append(pull(straight), preload.TracePoint{Angle: 3}),
		pull(func(float64) float64 { return 1 })} {
		_, err := preload.TorqueAngleAnalysis(nil, preload.TraceInput{Points: bad, Target: 120, YieldRatio: .5,
			BottomSlope: 1.6, CrossFrac: .25, BottomRise: .15})
		refused(t, err, "points")
	}
}

// Stretch there, reading back: the load is found again at any temperature.
func TestStretchReadsBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		load, k, ref := rapid.Float64Range(1e3, 4e5).Draw(t, "load"), rapid.Float64Range(3e5, 2e6).Draw(t, "k"),
			rapid.Float64Range(120, 600).Draw(t, "length")
		now := rapid.Float64Range(-10, 60).Draw(t, "warmth")
		to, err := preload.StretchTarget(nil, preload.StretchTargetInput{Load: load, K: k, Ref: ref, RefTemp: 20,
			NowTemp: now, Alpha: 1.15e-5})
		require.NoError(t, err)
		r, err := preload.StretchReading(nil, preload.StretchReadingInput{Ref: ref, RefTemp: 20, Now: to.Target,
			NowTemp: now, Alpha: 1.15e-5, K: k, Area: 353, Resolution: .01, Target: &load})
		require.NoError(t, err)
		require.InEpsilon(t, load, r.Load, 1e-6)
		require.InEpsilon(t, 100, *r.Percent, 1e-6)
	})
	_, err := preload.StretchReading(nil, preload.StretchReadingInput{Ref: 100, RefTemp: 20, Now: 103, NowTemp: 20,
		Alpha: 1e-5, K: 1e5, Area: 100, Resolution: .01})
	refused(t, err, "length_now_mm")
}

// A stud is the same as the segments it is made of.
func TestStudIsItsSegments(t *testing.T) {
	stud, err := preload.StudStretch(nil, preload.StudStretchInput{Load: 1e5, E: 205, ShankLength: 60, ShankArea: 452,
		ThreadLen: 30, ThreadArea: 353, Diameter: 24, End1: .5, End2: .5, OnShank: true})
	require.NoError(t, err)
	parts, err := preload.BoltStretch(nil,
		preload.BoltStretchInput{Load: 1e5, E: 205, Segments: []preload.Segment{{Length: 72, Area: 452},
			{Length: 42, Area: 353}}})
	require.NoError(t, err)
	require.InEpsilon(t, parts.Stretch, stud.Stretch, 1e-12)
	require.InEpsilon(t, parts.K, stud.K, 1e-12)
	require.InEpsilon(t, 1e5/353, parts.Stress, 1e-12)
	require.InDelta(t, 114, stud.Length, 1e-12)
	_, err = preload.StudStretch(nil, preload.StudStretchInput{Load: 1, E: 205, ShankArea: 1, ThreadArea: 1,
		Diameter: 1})
	refused(t, err, "thread_length_mm")
}

// At the same torque, a friction from 0.20 to 0.15 raises the load by a third.
func TestLessFrictionLoadsTheBoltMore(t *testing.T) {
	m, err := preload.LubricantMismatch(nil, 300, 20, .20, .15, 90)
	require.NoError(t, err)
	require.InDelta(t, 4.0/3, m.Ratio, 1e-12)
	require.True(t, m.OverLimit)
	require.InDelta(t, 225, m.RestoringNm, 1e-9)
	same, err := preload.FrictionMismatch(nil, preload.FrictionMismatchInput{Torque: 300, Diameter: 20, Pitch: 2.5,
		D2: 18.376, Bearing: 25, ThreadAssumed: .1, HeadAssumed: .1, ThreadActual: .1, HeadActual: .1, HalfAngle: 30,
		Method: "exact"})
	require.NoError(t, err)
	require.InDelta(t, 1, same.Ratio, 1e-12)
	require.InDelta(t, 300, same.Restoring, 1e-9)
}

func TestWindowsTellEarlyFromLate(t *testing.T) {
	in := preload.AngleWindowInput{TorqueLow: 280, TorqueHigh: 340, AngleLow: 50, AngleHigh: 80}
	for _, c := range []struct {
		torque, angle float64
		t, a          string
	}{{280, 80, "ok", "ok"}, {310, 40, "ok", "low"}, {200, 85, "low", "high"}, {341, 60, "high", "ok"}} {
		in.Torque, in.Angle = c.torque, c.angle
		r, err := preload.AngleWindow(nil, in)
		require.NoError(t, err)
		require.Equal(t, [2]string{c.t, c.a}, [2]string{r.Torque, r.Angle})
		require.Equal(t, c.t == "ok" && c.a == "ok", r.OK)
	}
	in.AngleHigh = 10
	_, err := preload.AngleWindow(nil, in)
	refused(t, err, "torque_high_Nm")
}
