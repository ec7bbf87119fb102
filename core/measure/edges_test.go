package measure_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/measure"
	"dynacor/core/quantity"
)

// Rim readings share into a common step and a shift towards where the other rim stands low, whichever side that is.
func TestRimShiftFromEverySide(t *testing.T) {
	for name, c := range map[string]struct {
		r                         [4]float64
		common, up, side, towards float64
	}{
		"up":    {[4]float64{3, 0, -1, 0}, 0.5, 2, 0, 0},
		"right": {[4]float64{1, 4, 1, 2}, 2, 0, 1, 90},
		"down":  {[4]float64{-1, 0, 3, 2}, 1, -2, -1, 180 + 180/math.Pi*math.Atan(0.5)},
		"left":  {[4]float64{0, -3, 0, 5}, 0.5, 0, -4, 270},
	} {
		o, err := measure.Rim(c.r, 1)
		require.NoError(t, err, name)
		require.InDelta(t, c.common, o.Common, 1e-12, name)
		require.InDelta(t, c.up, o.ShiftUp, 1e-12, name)
		require.InDelta(t, c.side, o.ShiftSide, 1e-12, name)
		require.InDelta(t, c.towards, *o.Direction, 1e-9, name)
	}
	_, err := measure.Rim([4]float64{0, 0, math.NaN()}, 1)
	require.ErrorContains(t, err, "reading 3 is not a number")
	_, err = measure.RimShift(nil, measure.RimInput{Top: math.Inf(1)})
	refused(t, err, "top_mm")
	_, err = measure.AxisOffset(nil, measure.OffsetInput{R0: math.NaN()})
	refused(t, err, "r0_mm")
}

// A wave without a tilt leaves all of itself as residual; a limit of nothing is a limit, less than nothing is none.
func TestGapResidual(t *testing.T) {
	g, err := measure.GapTilt(nil, []float64{1, 3, 1, 3}, 300, 0)
	require.NoError(t, err)
	require.InDelta(t, 1, g.ResidualRMS, 1e-12)
	require.InDelta(t, 0, g.TiltAmplitude, 1e-12)
	require.False(t, g.Pass)
	_, err = measure.GapTilt(nil, []float64{1, 3, 1, 3}, 300, -0.01)
	refused(t, err, "limit")
	_, err = measure.GapTilt(nil, []float64{1, 3, -1, 3}, 300, 0)
	require.ErrorContains(t, err, "reading 3 is not a gap")
}

// Check passes end with the first in which no bolt moved, and go to the engineer when the last allowed did not.
func TestCheckPassesEndOrGoUp(t *testing.T) {
	still, moved, both := []float64{0, 5, 0}, []float64{0, 5.1, 0}, []float64{-6, 0, 7}
	for name, c := range map[string]struct {
		passes  [][]float64
		most    int
		verdict string
		at      int
		last    []int
	}{
		"still":                 {[][]float64{still}, 1, "complete", 1, []int{}},
		"still in the second":   {[][]float64{moved, still, moved}, 5, "complete", 2, []int{2}},
		"one of two":            {[][]float64{both}, 2, "repeat", 0, []int{1, 3}},
		"the last of two":       {[][]float64{both, moved}, 2, "escalate", 0, []int{2}},
		"past the last of them": {[][]float64{both, moved, moved}, 2, "escalate", 0, []int{2}},
	} {
		r, err := measure.CheckPass(c.passes, 5, c.most)
		require.NoError(t, err, name)
		require.Equal(t, c.verdict, r.Verdict, name)
		require.Equal(t, c.last, r.MovedLast, name)
		if c.at == 0 {
			require.Nil(t, r.CompletePass, name)
		} else {
			require.Equal(t, c.at, *r.CompletePass, name)
		}
	}
	_, err := measure.CheckPass([][]float64{still, {0, 1}}, 5, 3)
	require.ErrorContains(t, err, "pass 2 has 2 bolts, the first 3")
	_, err = measure.CheckPass([][]float64{still, {0, 1, math.NaN()}}, 5, 3)
	require.ErrorContains(t, err, "bolt 3 of pass 2 is not a number")
	_, err = measure.CheckPass([][]float64{still}, 5, 0)
	require.Error(t, err)
	_, err = measure.CheckPass([][]float64{still}, -1, 1)
	require.Error(t, err)
	r, err := measure.CheckPass([][]float64{still}, 0, 2)
	require.NoError(t, err, "a site may allow no movement at all")
	require.Equal(t, []int{2}, r.MovedLast)
}

// A window has its lower end first, in every calculation that asks for one.
func TestWindowHasItsLowerEndFirst(t *testing.T) {
	for _, c := range []struct {
		low, high float64
		right     bool
	}{{0.8, 1.2, true}, {1.2, 1.2, false}, {1.2, 0.8, false}} {
		_, broke := measure.BreakWindow(nil, measure.BreakInput{Nominal: 40, Low: c.low, High: c.high, Measured: 34})
		_, gland := measure.GlandStep(
			nil,
			measure.GlandInput{Nominal: 40, Low: c.low, High: c.high, Aim: min(c.low, 1), First: 15,
				Max: 45, History: []measure.GlandTry{{Measured: 30}}},
		)
		_, window := measure.AcceptanceWindow(
			nil,
			measure.WindowInput{Value: 40, Low: c.low, High: c.high, Graduation: 1},
		)
		_, audit := measure.BreakawayAudit(nil, measure.AuditInput{Nominal: 40, Low: c.low, High: c.high,
			Readings: []float64{40}})
		for name, err := range map[string]error{"break": broke, "gland": gland, "window": window, "audit": audit} {
			if c.right {
				require.NoError(t, err, name)
			} else {
				refused(t, err, "high_frac")
			}
		}
	}
	// rounded inward, a window on its marks keeps both; with one mark in it, that is all of it
	r, err := measure.AcceptanceWindow(nil, measure.WindowInput{Value: 100, Low: 0.3, High: 0.7, Graduation: 0.1})
	require.NoError(t, err)
	require.InDelta(t, 30, r.Low, 1e-9)
	require.InDelta(t, 70, r.High, 1e-9)
	r, err = measure.AcceptanceWindow(nil, measure.WindowInput{Value: 100, Low: 0.37, High: 0.42, Graduation: 40})
	require.NoError(t, err)
	require.InDelta(t, 40, r.Low, 0)
	require.InDelta(t, 40, r.High, 0)
	_, err = measure.AcceptanceWindow(nil, measure.WindowInput{Value: 100, Low: 0.41, High: 0.42, Graduation: 40})
	refused(t, err, "graduation_Nm")
}

// The gland nut goes by its first step until two tries tell a slope, then straight to the aim, by the largest step at
// the most.
func TestGlandNutGoesByItsTries(t *testing.T) {
	tries := func(v ...float64) (list []measure.GlandTry) { // angle and effort in turn
		for i := 0; i < len(v); i += 2 {
			list = append(list, measure.GlandTry{Angle: v[i], Measured: v[i+1]})
		}
		return list
	}
	step := func(tries ...measure.GlandTry) measure.GlandResult {
		r, err := measure.GlandStep(
			nil,
			measure.GlandInput{Nominal: 40, Low: 0.8, High: 1.2, Aim: 1, First: 15, Max: 45,
				History: tries},
		)
		require.NoError(t, err)
		return r
	}
	for name, c := range map[string]struct {
		tries []measure.GlandTry
		step  float64
		mode  string
	}{
		"low at first":           {tries(0, 20), 15, "first_step"},
		"high at first":          {tries(0, 60), -15, "first_step"},
		"inside":                 {tries(0, 40), 0, "done"},
		"low, rising":            {tries(0, 20, 10, 25), 30, "secant"},
		"as far as the largest":  {tries(0, 12.5, 10, 17.5), 45, "secant"},
		"low, further":           {tries(0, 20, 20, 25), 45, "secant_limited"},
		"high, rising":           {tries(0, 50, 10, 60), -20, "secant"},
		"low, no better":         {tries(0, 20, 10, 20), 15, "first_step"},
		"low, falling":           {tries(0, 20, 10, 18), 15, "first_step"},
		"high, no worse":         {tries(0, 60, 10, 60), -15, "first_step"},
		"tried again, not moved": {tries(10, 20, 10, 25), 15, "first_step"},
	} {
		got := step(c.tries...)
		require.InDelta(t, c.step, got.Step, 1e-9, name)
		require.Equal(t, c.mode, got.Mode, name)
		require.InDelta(t, c.tries[len(c.tries)-1].Angle+c.step, got.Next, 1e-9, name)
	}
}

// An audit names the bolts that are out, tells mean and scatter as parts of the torque, and asks why when more are high
// than low.
func TestAuditTellsMeanAndScatter(t *testing.T) {
	audit := func(readings ...float64) measure.AuditResult {
		r, err := measure.BreakawayAudit(nil, measure.AuditInput{Nominal: 100, Low: 0.8, High: 1.2, Readings: readings})
		require.NoError(t, err)
		return r
	}
	r := audit(100, 70, 130, 100)
	require.Equal(t, []int{2}, r.Low)
	require.Equal(t, []int{3}, r.High)
	require.Equal(t, "retighten", r.Verdict, "as many high as low")
	require.InDelta(t, 1, r.Mean, 1e-12)
	require.InDelta(t, math.Sqrt(0.18/3), *r.Stdev, 1e-12)
	r = audit(100, 130, 130, 70)
	require.Equal(t, "investigate", r.Verdict)
	require.InDelta(t, 1.075, r.Mean, 1e-12)
	one := audit(100)
	require.Nil(t, one.Stdev, "one reading has no scatter")
	require.InDelta(t, 1, one.Mean, 0)
	two := audit(90, 110)
	require.InDelta(t, math.Sqrt(0.02), *two.Stdev, 1e-12)
}

// A probe that just ends with its nozzle will do, and by how much another is too short is said.
func TestProbeReaches(t *testing.T) {
	in := measure.InsertionInput{Probe: 200, Standoff: 95, Wall: 5, Bore: 200, Position: 0.5}
	r, err := measure.InsertionDepth(nil, in)
	require.NoError(t, err)
	require.InDelta(t, 200, r.Insert, 0)
	require.Zero(t, r.Visible)
	in.Probe = 187
	_, err = measure.InsertionDepth(nil, in)
	require.ErrorContains(t, err, "is 13 mm too short")
	_, err = measure.SocketInsertion(nil, measure.SocketInput{Depth: 5, Gap: 5})
	refused(t, err, "gap_mm")
	_, err = measure.SocketInsertion(nil, measure.SocketInput{Depth: -1})
	refused(t, err, "socket_depth_mm")
	s, err := measure.SocketInsertion(nil, measure.SocketInput{Depth: 115, Gap: 5, Offset: 10})
	require.NoError(t, err)
	require.Equal(t, measure.SocketResult{Insert: 110, Mark: 125, ToFace: 15}, s)
	d, err := measure.Deflection(nil, measure.DeflectionInput{Length: 2000, Angle: 2, Measured: ptr(20.0)})
	require.NoError(t, err)
	require.InDelta(t, quantity.Deg(math.Atan(0.01)), *d.Angle, 1e-12)
}

// A place outside its sector is off by the way to the nearer end of it; a rule of thumb may hold for one size.
func TestClockTellsHowFarOff(t *testing.T) {
	for hour, off := range map[float64]float64{5: 0, 7: 0, 8: 30, 9: 60, 4: 30, 1: 120, 12: 150} {
		r, err := measure.ClockPosition(nil, measure.ClockInput{Hour: hour, From: 5, To: 7})
		require.NoError(t, err)
		require.InDelta(t, off, r.Off, 1e-9, "%g", hour)
		require.Equal(t, off == 0, r.Inside, "%g", hour)
		opposite := hour + 6
		if opposite > 12 {
			opposite -= 12
		}
		require.InDelta(t, opposite, r.Phase, 1e-9, "%g", hour)
	}
	v, err := measure.RuleOfThumb(nil, measure.ThumbInput{Size: 100, From: 100, To: 100, Per: 0.01, Fixed: 1})
	require.NoError(t, err)
	require.InDelta(t, 2, v.Value, 1e-12)
	_, err = measure.RuleOfThumb(nil, measure.ThumbInput{Size: 100, From: 101, To: 100})
	refused(t, err, "valid_to_mm")
}

// What closes, what tilts, what is missing: figures worked out by hand.
func TestFiguresWorkedOutByHand(t *testing.T) {
	o, err := measure.AxisOffset(nil, measure.OffsetInput{R0: 0.1, R90: 0.2, R180: 0.3, R270: 0.15, Sag: -0.02,
		Closure: 0.1})
	require.NoError(t, err)
	require.InDelta(t, 0.1+0.32-(0.21+0.16), o.Closure, 1e-12)
	require.True(t, o.ClosureOK)
	g, err := measure.GapTilt(nil, []float64{5, 3, 1, 3}, 200, 2)
	require.NoError(t, err)
	require.InDelta(t, 2, g.TiltAmplitude, 1e-12)
	require.InDelta(t, quantity.Deg(math.Atan(0.02)), g.TiltAngleDeg, 1e-12)
	p, err := measure.ThreadProjection(nil, measure.ProjectionInput{Stud: 150, Grip: 80, Nut: 24, Washers: 6, Pitch: 4,
		Least: 2})
	require.NoError(t, err)
	require.InDelta(t, 8, p.Each, 1e-12)
	require.InDelta(t, 2, p.Threads, 1e-12)
	require.True(t, p.OK)
	q, err := measure.Squareness(nil, measure.SquareInput{A: 300, B: 400, D1: 501, D2: 499, Limit: 2})
	require.NoError(t, err)
	require.InDelta(t, 2, q.Difference, 1e-12)
	require.True(t, q.Pass)
	e, err := measure.Equality(nil, measure.EqualInput{A: 40.5, B: 41.5, Tol: 1})
	require.NoError(t, err)
	require.Equal(t, measure.EqualResult{Difference: 1, Pass: true, Each: 0.5}, e)
	_, err = measure.Equality(nil, measure.EqualInput{A: math.NaN(), B: 41.5, Tol: 1})
	refused(t, err, "a_mm")
	s, err := measure.StraightRun(nil, measure.StraightInput{Diameter: 150, UpMultiple: 10, DownMult: 5, Up: 1400,
		Down: 800})
	require.NoError(t, err)
	require.Equal(t, measure.StraightResult{UpNeed: 1500, DownNeed: 750, UpShort: 100, UpSpare: -100, DownSpare: 50}, s)
	j, err := measure.Judge(measure.Window, []float64{9, 5, 12}, measure.Limits{Low: 4, High: 8})
	require.NoError(t, err)
	require.InDelta(t, 9, j.Result, 0, "the first that is out")
	j, err = measure.Judge(measure.Flush, []float64{0, 1, -1}, measure.Limits{High: 2})
	require.NoError(t, err)
	require.InDelta(t, 1, j.Result, 0, "the first of those as far out")
	j, err = measure.Judge(measure.Window, []float64{5, 9}, measure.Limits{Low: 4, High: 8})
	require.NoError(t, err)
	require.InDelta(t, 9, j.Result, 0)
}

// The gland nut is aimed at a part of the torque stated.
func TestGlandNutIsAimed(t *testing.T) {
	r, err := measure.GlandStep(nil, measure.GlandInput{Nominal: 40, Low: 0.8, High: 1.2, Aim: 0.9, First: 15, Max: 45,
		History: []measure.GlandTry{{Angle: 0, Measured: 20}, {Angle: 10, Measured: 26}}})
	require.NoError(t, err)
	require.InDelta(t, 10/0.6, r.Step, 1e-9)
}
