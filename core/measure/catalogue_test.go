package measure_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/measure"
	"dynacor/core/quantity"
	"dynacor/core/statistics"
)

func ptr[T any](v T) *T { return &v }

func refused(t *testing.T, err error, field string) {
	t.Helper()
	r, ok := quantity.RefusalIn(err)
	require.True(t, ok, "%v", err)
	require.Equal(t, field, r.Field, r.Error())
}

// A shaft set off by a known amount is found where it is, with or without a bracket that sags.
func TestShaftOffsetIsFoundWhereItIs(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		up, right, sag := rapid.Float64Range(-1, 1).Draw(t, "up"), rapid.Float64Range(-1, 1).Draw(t, "right"),
			rapid.Float64Range(-.3, 0).Draw(t, "sag")
		in := measure.OffsetInput{R0: up, R180: -up + sag, R90: right + sag/2, R270: -right + sag/2, Sag: sag,
			Closure: .02, Limit: ptr(math.Hypot(up, right) + 1e-6)}
		r, err := measure.AxisOffset(nil, in)
		require.NoError(t, err)
		require.InDelta(t, up, r.Up, 1e-12)
		require.InDelta(t, right, r.Right, 1e-12)
		require.True(t, r.ClosureOK)
		require.True(t, *r.Pass)
		in.R90 += .5
		r, err = measure.AxisOffset(nil, in)
		require.NoError(t, err)
		require.False(t, r.ClosureOK, "a bracket that slipped does not close")
		require.False(t, *r.Pass)
	})
}

// A pure offset e shows twice e, lies where it is, and leaves nothing out of round.
func TestRunoutSplitsOffsetFromForm(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		e, at := rapid.Float64Range(.01, 1).Draw(t, "e"), rapid.Float64Range(0, 359).Draw(t, "at")
		n := rapid.SampledFrom([]int{8, 12, 36}).Draw(t, "n")
		list := make([]float64, n)
		for i := range list {
			list[i] = e * math.Cos(quantity.Rad(360*float64(i)/float64(n)-at))
		}
		r, err := measure.Runout(nil, measure.RunoutInput{Readings: list, Limit: 2*e + 1e-9})
		require.NoError(t, err)
		require.InDelta(t, e, r.Ecc, 1e-9)
		require.InDelta(t, 0, r.Form, 1e-9)
		require.InDelta(t, 0, math.Sin(quantity.Rad(*r.High-at)), 1e-6)
		require.True(t, r.Pass)
	})
	_, err := measure.Runout(nil, measure.RunoutInput{Readings: []float64{0, 0, 0}})
	refused(t, err, "readings_mm")
}

// Gaps of a tilted plane at any number of points give back the tilt.
func TestGapAtAnyNumberOfPoints(t *testing.T) {
	for _, n := range []int{3, 5, 7, 24} {
		list := make([]float64, n)
		for i := range list {
			list[i] = 3 + .4*math.Cos(quantity.Rad(360*float64(i)/float64(n)-120))
		}
		r, err := measure.GapSpread(nil, measure.GapInput{Gaps: list, Diameter: 300, Limit: 1})
		require.NoError(t, err)
		require.InDelta(t, 3, r.Mean, 1e-9)
		require.InDelta(t, quantity.Deg(math.Atan(.8/300)), r.Tilt, 1e-9)
		require.InDelta(t, 120, *r.Widest, 1e-6)
	}
	_, err := measure.GapSpread(nil, measure.GapInput{Gaps: []float64{1, 2}, Diameter: 300})
	refused(t, err, "gaps_mm")
}

// 3.000 by 1.200 has diagonals of 3.231; the shift told squares a skewed frame.
func TestFrameIsSquaredByTheShift(t *testing.T) {
	skew := 12.0
	d1, d2 := math.Hypot(3000+skew, 1200), math.Hypot(3000-skew, 1200)
	b := math.Hypot(1200, skew)
	r, err := measure.Squareness(nil, measure.SquareInput{A: 3000, B: b, D1: d1, D2: d2, Limit: 3})
	require.NoError(t, err)
	require.InDelta(t, 3231.1, r.Required, .1)
	require.InDelta(t, skew, r.Shift, 1e-6)
	require.InDelta(t, 0, r.Closure, 1e-6, "a true parallelogram")
	require.False(t, r.Pass)
	_, err = measure.Squareness(nil, measure.SquareInput{A: 10, B: 10, D1: 30, D2: 1})
	refused(t, err, "diagonal_1_mm")
}

// A level with an error of its own reads the same slope after it is turned. 2 mm in 1 m are 0.115°.
func TestLevelTurnedEndForEnd(t *testing.T) {
	r, err := measure.LevelSlope(nil, measure.LevelInput{One: 2 + .7, Two: -2 + .7, Span: 900, Limit: 2})
	require.NoError(t, err)
	require.InDelta(t, 2, r.Slope, 1e-12)
	require.InDelta(t, .7, r.Zero, 1e-12)
	require.InDelta(t, 1.8, r.Shim, 1e-12)
	require.InDelta(t, .1146, r.Angle, 1e-4)
	require.True(t, r.Pass, "the limit itself is inside")
}

func TestStudIsWoundToTheMiddle(t *testing.T) {
	in := measure.ProjectionInput{Stud: 180, Grip: 110, Nut: 27, Washers: 4, Pitch: 3, Least: 2, End1: ptr(8.0),
		End2: ptr(4.0)}
	r, err := measure.ThreadProjection(nil, in)
	require.NoError(t, err)
	require.InDelta(t, 6, r.Each, 1e-12)
	require.True(t, r.OK)
	require.InDelta(t, 2, *r.Move, 1e-12)
	in.End2 = nil
	_, err = measure.ThreadProjection(nil, in)
	refused(t, err, "end_2_mm")
	in.End1, in.Stud = nil, 160
	_, err = measure.ThreadProjection(nil, in)
	refused(t, err, "stud_length_mm")
}

func TestOvalityByBothBases(t *testing.T) {
	in := measure.OvalityInput{Diameters: []float64{12.06, 11.94}, Basis: "nominal", Nominal: ptr(12.0), Limit: 1}
	r, err := measure.Ovality(nil, in)
	require.NoError(t, err)
	require.InDelta(t, 1, r.Ovality, 1e-9)
	require.True(t, r.Pass)
	in.Basis = "mean"
	r, err = measure.Ovality(nil, in)
	require.NoError(t, err)
	require.InDelta(t, 1, r.Ovality, 1e-9)
	in.Basis, in.Nominal = "nominal", nil
	_, err = measure.Ovality(nil, in)
	refused(t, err, "nominal_mm")
}

// Rounding a window never widens it.
func TestWindowIsRoundedInward(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := measure.WindowInput{Value: rapid.Float64Range(10, 400).Draw(t, "value"), Low: .6, High: .9,
			Graduation: rapid.SampledFrom([]float64{.5, 1, 2, 5}).Draw(t, "mark")}
		r, err := measure.AcceptanceWindow(nil, in)
		if err != nil {
			return
		}
		require.GreaterOrEqual(t, r.Low, r.ExactLow-1e-6)
		require.LessOrEqual(t, r.High, r.ExactHigh+1e-6)
	})
	_, err := measure.AcceptanceWindow(nil, measure.WindowInput{Value: 10, Low: .61, High: .62, Graduation: 5})
	refused(t, err, "graduation_Nm")
}

// The proposals lead into the window when effort goes straight with the gland nut.
func TestGlandIsLedIntoItsWindow(t *testing.T) {
	effort := func(angle float64) float64 { return 12 + .35*angle }
	in := measure.GlandInput{Nominal: 40, Low: .9, High: 1.1, Aim: 1, First: 15, Max: 45,
		History: []measure.GlandTry{{Angle: 0, Measured: effort(0)}}}
	for range 6 {
		r, err := measure.GlandStep(nil, in)
		require.NoError(t, err)
		if r.Mode == "done" {
			w, err := measure.BreakWindow(nil, measure.BreakInput{Nominal: 40, Low: .9, High: 1.1,
				Measured: in.History[len(in.History)-1].Measured})
			require.NoError(t, err)
			require.Equal(t, "none", w.Action)
			return
		}
		require.LessOrEqual(t, math.Abs(r.Step), 45.0)
		in.History = append(in.History, measure.GlandTry{Angle: r.Next, Measured: effort(r.Next)})
	}
	t.Fatal("never inside the window")
}

func TestAuditAsksWhyWhenBoltsAreHigh(t *testing.T) {
	in := measure.AuditInput{Nominal: 100, Low: .8, High: 1.2}
	for want, readings := range map[string][]float64{"accept": {80, 100, 120}, "retighten": {79, 100},
		"investigate": {121, 100}} {
		in.Readings = readings
		r, err := measure.BreakawayAudit(nil, in)
		require.NoError(t, err)
		require.Equal(t, want, r.Verdict)
	}
	in.MaxOut = 1
	r, err := measure.BreakawayAudit(nil, in)
	require.NoError(t, err)
	require.Equal(t, "accept", r.Verdict)
}

// 6 m at one degree are 105 mm.
func TestDeflectionOfAPipe(t *testing.T) {
	r, err := measure.Deflection(nil, measure.DeflectionInput{Length: 6000, Angle: 1, Measured: ptr(110.0)})
	require.NoError(t, err)
	require.InDelta(t, 104.7, r.Shift, .05)
	require.False(t, *r.Pass)
	require.Less(t, *r.Margin, 0.0)
}

func TestClockFaceAcrossTwelve(t *testing.T) {
	for hour, inside := range map[float64]bool{11: true, 12: true, 1: true, 1.5: false, 10.9: false, 6: false} {
		r, err := measure.ClockPosition(nil, measure.ClockInput{Hour: hour, From: 11, To: 1})
		require.NoError(t, err)
		require.Equal(t, inside, r.Inside, hour)
		if !inside {
			require.Positive(t, r.Off)
		}
	}
	r, err := measure.ClockPosition(nil, measure.ClockInput{Hour: 6, From: 5, To: 7})
	require.NoError(t, err)
	require.InDelta(t, 12, r.Phase, 0)
	require.InDelta(t, 180, r.Degrees, 1e-9)
}

func TestDepthsAndRuns(t *testing.T) {
	probe, err := measure.InsertionDepth(nil, measure.InsertionInput{Probe: 320, Standoff: 95, Wall: 6.3, Bore: 150,
		Position: .5})
	require.NoError(t, err)
	require.InDelta(t, 176.3, probe.Insert, 1e-9)
	require.InDelta(t, 320, probe.Insert+probe.Visible, 1e-9)
	_, err = measure.InsertionDepth(nil, measure.InsertionInput{Probe: 100, Standoff: 95, Wall: 6.3, Bore: 150,
		Position: .5})
	refused(t, err, "probe_length_mm")
	socket, err := measure.SocketInsertion(nil, measure.SocketInput{Depth: 115, Gap: 5, Offset: 100})
	require.NoError(t, err)
	require.InDelta(t, socket.Mark-socket.Insert, socket.ToFace, 1e-9,
		"what was marked outside is what is left to the face")
	run, err := measure.StraightRun(nil, measure.StraightInput{Diameter: 150, UpMultiple: 10, DownMult: 5, Up: 1600,
		Down: 700})
	require.NoError(t, err)
	require.False(t, run.OK)
	require.InDelta(t, 100, run.UpSpare, 1e-9)
	require.InDelta(t, 50, run.DownShort, 1e-9)
	drift, err := measure.PositionDrift(nil, measure.DriftInput{Before: .2, After: .55, Wanted: 0})
	require.NoError(t, err)
	require.InDelta(t, -.35, drift.Next, 1e-12)
}

// The evenly spread sample visits no bolt twice, and the chance to find one is one minus the chance to miss them all.
func TestSampleIsSpreadAndFinds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := statistics.SampleInput{Lot: rapid.IntRange(1, 300).Draw(t, "lot"),
			Frac: rapid.Float64Range(0, 1).Draw(t, "part"), Least: 2, Start: 1}
		bad := rapid.IntRange(0, in.Lot).Draw(t, "bad")
		in.Bad = &bad
		r, err := statistics.InspectionSample(nil, in)
		require.NoError(t, err)
		seen := map[int]bool{}
		for _, p := range r.Positions {
			require.False(t, seen[p])
			require.True(t, p >= 1 && p <= in.Lot)
			seen[p] = true
		}
		lg := func(n, k int) float64 {
			a, _ := math.Lgamma(float64(n + 1))
			b, _ := math.Lgamma(float64(k + 1))
			c, _ := math.Lgamma(float64(n - k + 1))
			return a - b - c
		}
		want := 1.0
		if in.Lot-bad >= r.Count {
			want = 1 - math.Exp(lg(in.Lot-bad, r.Count)-lg(in.Lot, r.Count))
		}
		require.InDelta(t, want, *r.Detect, 1e-6)
	})
}

// Printed Student t: 2.776445 for 4 degrees, 2.228139 for 10, 2.045230 for 29.
func TestConfidenceUsesPrintedStudent(t *testing.T) {
	for dof, want := range map[int]float64{4: 2.776445, 10: 2.228139, 29: 2.045230} {
		list := make([]float64, dof+1)
		for i := range list {
			list[i] = float64(i)
		}
		r, err := statistics.JointStats(nil, statistics.StatsInput{Values: list, Low: -1, High: 100, Confidence: .95})
		require.NoError(t, err)
		require.InDelta(t, want, (r.CIHigh-r.Mean)*math.Sqrt(float64(dof+1))/r.Stdev, 2e-6)
	}
	flat, err := statistics.JointStats(nil, statistics.StatsInput{Values: []float64{5, 5, 5}, Low: 0, High: 10,
		Confidence: .95})
	require.NoError(t, err)
	require.Nil(t, flat.Cpk)
}

// What varies with the operator alone is reproducibility, what varies within a cell is repeatability; the sums add up.
func TestGaugeStudyFindsItsOwnParts(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		o, p, n := rapid.IntRange(2, 4).Draw(t, "operators"), rapid.IntRange(2, 6).Draw(t, "parts"),
			rapid.IntRange(2, 3).Draw(t, "trials")
		data := make([][][]float64, o)
		for i := range data {
			data[i] = make([][]float64, p)
			for j := range data[i] {
				for range n {
					data[i][j] = append(data[i][j], 10+float64(j)+rapid.Float64Range(-.2, .2).Draw(t,
						"noise")+.1*float64(i))
				}
			}
		}
		r, err := statistics.GaugeRR(nil, statistics.RRInput{Data: data, Tolerance: ptr(6.0)})
		require.NoError(t, err)
		require.InDelta(t, r.SSTotal, r.SSOperator+r.SSPart+r.SSInteraction+r.SSError, 1e-6)
		require.InDelta(t, r.Total*r.Total, r.GRR*r.GRR+r.Part*r.Part, 1e-9)
		require.InDelta(t, 100*r.GRR, *r.TolerancePct, 1e-9)
	})
	_, err := statistics.GaugeRR(nil, statistics.RRInput{Data: [][][]float64{{{1, 1}, {1, 1}}, {{1, 1}, {1, 1}}}})
	refused(t, err, "data")
	_, err = statistics.GaugeRR(nil, statistics.RRInput{Data: [][][]float64{{{1, 2}, {1, 2}}, {{1, 2}, {1}}}})
	refused(t, err, "data")
}
