package tool_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/quantity"
	"dynacor/core/tool"
)

// What is written down of a tool is taken at its bounds and refused past them, by the field that is wrong.
func TestToolIsTakenAtItsBounds(t *testing.T) {
	for name, c := range map[string]struct {
		change func(w *tool.Tool)
		field  string
	}{
		"as it is":                     {func(*tool.Tool) {}, ""},
		"from nothing":                 {func(w *tool.Tool) { w.RatedMin, w.PrintedMin = 0, 0 }, "ratedMax"},
		"from below nothing":           {func(w *tool.Tool) { w.RatedMin = -1 }, "ratedMax"},
		"one value, click":             {func(w *tool.Tool) { w.RatedMin = w.RatedMax }, "ratedMax"},
		"turned round":                 {func(w *tool.Tool) { w.RatedMin = w.RatedMax + 1 }, "ratedMax"},
		"printed from nothing":         {func(w *tool.Tool) { w.PrintedMin = 0 }, ""},
		"printed from the lowest":      {func(w *tool.Tool) { w.PrintedMin = w.RatedMin }, ""},
		"printed from above it":        {func(w *tool.Tool) { w.PrintedMin = w.RatedMin + 1 }, "printedMin"},
		"printed below nothing":        {func(w *tool.Tool) { w.PrintedMin = -1 }, "printedMin"},
		"no accuracy":                  {func(w *tool.Tool) { w.AccuracyPct = 0 }, "accuracyPct"},
		"an accuracy of 20 %":          {func(w *tool.Tool) { w.AccuracyPct = 20 }, ""},
		"an accuracy of more":          {func(w *tool.Tool) { w.AccuracyPct = 20.1 }, "accuracyPct"},
		"a line at every mark":         {func(w *tool.Tool) { w.MainStep = w.Graduation }, ""},
		"lines between marks":          {func(w *tool.Tool) { w.MainStep = 1.5 * w.Graduation }, "graduation"},
		"lines nearer than marks":      {func(w *tool.Tool) { w.MainStep = w.Graduation / 2 }, "graduation"},
		"unit of something else":       {func(w *tool.Tool) { w.Unit = quantity.Bar }, "unit"},
		"second scale":                 {func(w *tool.Tool) { w.SecondUnit = quantity.FootPound }, ""},
		"second scale of another kind": {func(w *tool.Tool) { w.SecondUnit = quantity.Bar }, "secondUnit"},
		"second scale of the same":     {func(w *tool.Tool) { w.SecondUnit = w.Unit }, "secondUnit"},
		"one way, never loosens":       {func(w *tool.Tool) { w.Directions = "clockwise" }, ""},
		"one way, may loosen": {func(w *tool.Tool) {
			w.Directions, w.MayLoosen = "clockwise", true
		}, "mayLoosen"},
		"both ways, may loosen":        {func(w *tool.Tool) { w.Directions, w.MayLoosen = "both", true }, ""},
		"one value, preset":            {func(w *tool.Tool) { w.Kind, w.RatedMin = tool.Preset, w.RatedMax }, ""},
		"ended the day it was checked": {func(w *tool.Tool) { w.CalibrationEnds = w.CalibratedOn }, ""},
		"ended before": {func(w *tool.Tool) {
			w.CalibratedOn, w.CalibrationEnds = "2026-03-02", "2026-03-01"
		}, "calibrationEnds"},
	} {
		w := coretest.SmallWrench()
		require.NotEmpty(t, w.CalibratedOn)
		c.change(&w)
		if err := w.Check(); c.field == "" {
			require.NoError(t, err, name)
		} else {
			refusedBy(t, err, c.field, name)
		}
	}
	h := coretest.HydraulicWrench()
	require.NoError(t, h.Check())
	h.Chart[2].Torque = h.Chart[1].Torque
	refusedBy(t, h.Check(), "chart")
	h = coretest.HydraulicWrench()
	h.CalibrationEnds = "soon"
	refusedBy(t, h.Check(), "calibrationEnds", "what stands behind the chart is looked at too")
	foot := tool.Tool{Tag: "A-24", Kind: tool.Adapter, DriveIn: "1/2 in", AcrossFlatsMM: 24}
	refusedBy(t, foot.Check(), "lengthMm")
	foot.LengthMM = 45
	require.NoError(t, foot.Check())
}

// A tool that works clockwise only is no good on a left-hand thread.
func TestLeftHandThreadWantsAToolForBothWays(t *testing.T) {
	w := coretest.SmallWrench()
	for _, c := range []struct {
		directions string
		leftHand   bool
		problems   int
	}{{"clockwise", true, 1}, {"clockwise", false, 0}, {"both", true, 0}, {"", true, 0}} {
		w.Directions = c.directions
		require.Len(t, w.Turns(c.leftHand), c.problems, "%+v", c)
	}
}

// What shows a torque while it is pulled wants a reading for each pull.
func TestKindsThatRead(t *testing.T) {
	var reads []tool.Kind
	for _, k := range tool.Kinds() {
		if k.Kind.Reads() {
			reads = append(reads, k.Kind)
		}
	}
	require.ElementsMatch(t, []tool.Kind{tool.Dial, tool.Electronic, tool.ElectronicAngle}, reads)
}

// The correction of a reading lies straight between the means of what was measured clockwise at each setting, and is
// not told outside of them.
func TestCorrectionOfAReading(t *testing.T) {
	w := coretest.SmallWrench()
	w.Points = []tool.ErrorPoint{{Set: 100, True: 101}, {Set: 100, True: 103}, {Set: 40, True: 40},
		{Set: 40, True: 30, Anticlockwise: true}}
	for shown, want := range map[float64]float64{40: 0, 70: 1, 100: 2} {
		got, ok := w.CorrectionAt(shown)
		require.True(t, ok)
		require.InDelta(t, want, got, 1e-9, "%g", shown)
	}
	_, ok := w.CorrectionAt(101)
	require.False(t, ok)
	w.Points = w.Points[:2]
	_, ok = w.CorrectionAt(100)
	require.False(t, ok, "one setting is no line")
}

// The share of its scale that a wrench is used over lies between nothing and all of it.
func TestShareOfAScaleHasBounds(t *testing.T) {
	for _, c := range []struct {
		low, high float64
		right     bool
	}{{0, 1, true}, {0.2, 1, true}, {-0.01, 1, false}, {0.2, 1.01, false}, {0.5, 0.5, false}, {0.6, 0.5, false}} {
		r, err := tool.WrenchRange(nil, 200, 100, c.low, c.high)
		require.Equal(t, c.right, err == nil, "%+v", c)
		if c.right {
			require.InDelta(t, 200*c.low, r.Min, 1e-9)
			require.InDelta(t, 200*c.high, r.Max, 1e-9)
			require.True(t, r.Usable)
			require.InDelta(t, 0.5, r.TargetFrac, 1e-12)
		}
	}
}

// An accuracy is from nothing to below all of it.
func TestAccuracyHasBounds(t *testing.T) {
	for pct, right := range map[float64]bool{-0.1: false, 0: true, 4: true, 99.9: true, 100: false} {
		low, high, err := tool.ToleranceBand(nil, 100, pct, true)
		require.Equal(t, right, err == nil, "%g", pct)
		if right {
			require.InDelta(t, 100/(1+pct/100), low, 1e-9)
			require.InDelta(t, 100/(1-pct/100), high, 1e-6)
			low, high, err = tool.ToleranceBand(nil, 200, pct, false)
			require.NoError(t, err)
			require.InDelta(t, 200-2*pct, low, 1e-9)
			require.InDelta(t, 200+2*pct, high, 1e-9)
		}
	}
}

// A micrometer scale has from 1 to 1000 marks on its grip, lines that are from 1 to 1000 whole turns apart, and begins
// at nothing or above.
func TestMicrometerScaleHasBounds(t *testing.T) {
	for _, c := range []struct {
		target, low, high, step, turn float64
		marks                         int
		field                         string
	}{
		{100, 40, 200, 20, 10, 10, ""},
		{40, 40, 200, 20, 10, 10, ""},
		{200, 40, 200, 20, 10, 10, ""},
		{39, 40, 200, 20, 10, 10, "target"},
		{201, 40, 200, 20, 10, 10, "target"},
		{100, 0, 200, 20, 10, 10, ""},
		{100, -1, 200, 20, 10, 10, "main_max"},
		{100, 200, 200, 20, 10, 10, "main_max"},
		{100, 40, 200, 20, 10, 1, ""},
		{100, 40, 200, 20, 10, 1000, ""},
		{100, 40, 200, 20, 10, 0, "thimble_divisions"},
		{100, 40, 200, 20, 10, 1001, "thimble_divisions"},
		{100, 40, 200, 20, 20, 10, ""},
		{100, 40, 200, 20, 30, 10, "thimble_turn"},
		{100, 0, 2000, 1000, 1, 10, ""},
		{100, 0, 2000, 1001, 1, 10, "thimble_turn"},
		{100, 40, 200, 20, 8, 10, "thimble_turn"},
	} {
		got, err := tool.MicrometerSetting(nil, c.target, c.low, c.high, c.step, c.turn, c.marks)
		if c.field != "" {
			refusedBy(t, err, c.field, "%+v", c)
			continue
		}
		require.NoError(t, err, "%+v", c)
		require.InDelta(t, c.target, got.Set, c.turn/float64(c.marks)/2+1e-9, "%+v", c)
	}
}

// Between two marks the upper one is set.
func TestMicrometerSettingGoesToTheNearestMark(t *testing.T) {
	for target, set := range map[float64]float64{100: 100, 100.4: 100, 100.5: 101, 100.6: 101} {
		got, err := tool.MicrometerSetting(nil, target, 40, 200, 20, 10, 10)
		require.NoError(t, err)
		require.InDelta(t, set, got.Set, 1e-9, "%g", target)
	}
}

// A setting is read as the last line that the grip uncovers, the turns past it and the mark on the grip.
func TestMicrometerSettingIsReadOffTheScale(t *testing.T) {
	for target, want := range map[float64]tool.Coach{
		80:  {VisibleLine: 80, OnLine: true},
		93:  {VisibleLine: 80, TurnsPast: 1, Mark: 3},
		87:  {VisibleLine: 80, Mark: 7},
		110: {VisibleLine: 100, TurnsPast: 1},
	} {
		got, err := tool.MicrometerSetting(nil, target, 40, 200, 20, 10, 10)
		require.NoError(t, err)
		want.Set = target
		require.Equal(t, want, got, "%g", target)
	}
}

// The wrench of the finest accuracy goes first, then the one whose share of its scale is nearest to what is preferred,
// then the smaller one.
func TestWrenchesAreRanked(t *testing.T) {
	of := func(name string, fullScale, tol float64) tool.Candidate {
		return tool.Candidate{Name: name, FullScale: fullScale, TolPct: tol}
	}
	order, out, err := tool.Rank(100, []tool.Candidate{of("large", 400, 4), of("small", 200, 4), of("far", 110, 4),
		of("fine", 300, 1), of("weak", 99, 1), of("huge", 1000, 1)}, 0.2, 1, 0.375)
	require.NoError(t, err)
	require.Equal(
		t,
		[]string{"fine", "small", "large", "far"},
		order,
		"a half and a quarter are as far from three eighths",
	)
	require.Equal(t, []string{"weak:above_range", "huge:below_range"}, out)
}
