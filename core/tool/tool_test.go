package tool_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/coretest"
	"dynacor/core/quantity"
	"dynacor/core/tool"
)

func TestConditionByTheDay(t *testing.T) {
	w := coretest.Wrench()
	w.CalibrationEnds = "2026-12-10"
	for on, want := range map[string]string{"2026-11-01": "fit", "2026-11-23": "due_soon", "2026-12-10": "due_soon",
		"2026-12-11": "overdue"} {
		day, err := time.Parse(time.DateOnly, on)
		require.NoError(t, err)
		require.Equal(t, want, w.Condition(day, 30), on)
	}
	w.State = tool.Quarantined
	require.Equal(t, "quarantined", w.Condition(coretest.Day, 30))
}

func TestFitNamesTheProblem(t *testing.T) {
	w := coretest.Wrench()
	require.Empty(t, w.Fit([]float64{80, 400}, 0.2, coretest.Day), "both ends are in")
	p := w.Fit([]float64{78, 402}, 0.2, coretest.Day)
	require.Len(t, p, 2)
	require.Equal(t, "below_range", p[0].Code)
	require.Equal(t, "above_range", p[1].Code)
	require.Contains(t, p[1].What, "It goes to 400")
	lo, hi := w.Usable(0.3)
	require.InDelta(t, 120, lo, 1e-9)
	require.InDelta(t, 400, hi, 1e-9)
}

// Whatever can be set reads back on the scale: main line plus marks of the grip.
func TestCoachReadsBack(t *testing.T) {
	w := coretest.Wrench()
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(int(w.PrintedMin/w.Graduation), int(w.RatedMax/w.Graduation)).Draw(t, "marks")
		set := float64(n) * w.Graduation
		c, err := w.Coach(set)
		require.NoError(t, err)
		require.InDelta(t, set, c.VisibleLine+float64(c.Mark)*w.Graduation, 1e-9)
		require.Less(t, float64(c.Mark)*w.Graduation, w.MainStep)
	})
	_, err := w.Coach(500)
	require.Error(t, err)
}

func TestWrenchDataIsChecked(t *testing.T) {
	require.NoError(t, coretest.Wrench().Check())
	for field, change := range map[string]func(*tool.Tool){
		"tag": func(w *tool.Tool) { w.Tag = "" }, "unit": func(w *tool.Tool) { w.Unit = quantity.Newton },
		"ratedMax":   func(w *tool.Tool) { w.RatedMax = 10 },
		"printedMin": func(w *tool.Tool) { w.PrintedMin = 200 }, "graduation": func(w *tool.Tool) { w.Graduation = 3 },
		"accuracyPct":     func(w *tool.Tool) { w.AccuracyPct = 60 },
		"calibrationEnds": func(w *tool.Tool) { w.CalibrationEnds = "soon" },
	} {
		w := coretest.Wrench()
		change(&w)
		r, ok := quantity.RefusalIn(w.Check())
		require.True(t, ok, field)
		require.Equal(t, field, r.Field)
		require.NotEmpty(t, r.Remedy, field)
	}
}
