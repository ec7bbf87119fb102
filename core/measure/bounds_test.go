package measure_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/measure"
	"dynacor/core/working"
)

// What is said of readings beside their verdict: how far, where, and which way.
func TestWhatReadingsCameToIsSaid(t *testing.T) {
	for name, c := range map[string]struct {
		by     measure.Criterion
		v      []float64
		l      measure.Limits
		result float64
		limit  string
		where  string
	}{
		"gap widest at a station": {measure.Spread, []float64{3, 3.5, 4, 3.5}, measure.Limits{High: 2}, 1, "at most 2",
			"Widest towards station c."},
		"gap even all round":     {measure.Spread, []float64{3, 3, 3, 3}, measure.Limits{High: 2}, 0, "at most 2", ""},
		"two gaps":               {measure.Spread, []float64{3, 4}, measure.Limits{High: 2}, 1, "at most 2", ""},
		"two that should be one": {measure.Equal, []float64{10, 7}, measure.Limits{High: 2}, 3, "at most 2", "Move 1.5 to the smaller side."},
		"three that should":      {measure.Equal, []float64{10, 7, 9}, measure.Limits{High: 2}, 3, "at most 2", ""},
		"flush, below the most":  {measure.Flush, []float64{0.2, -0.6, 0.4}, measure.Limits{High: 1}, -0.6, "flush within 1", ""},
		"something remains":      {measure.Remain, []float64{4, 2}, measure.Limits{}, 2, "more than nothing everywhere", ""},
		"so much remains":        {measure.Remain, []float64{4, 2}, measure.Limits{Low: 1}, 2, "at least 1 everywhere", ""},
		"the one that is out":    {measure.Window, []float64{5, 9, 11}, measure.Limits{Low: 4, High: 8}, 9, "4 to 8", ""},
		"the first, when none":   {measure.Window, []float64{5, 6}, measure.Limits{Low: 4, High: 8}, 5, "4 to 8", ""},
	} {
		j, err := measure.Judge(c.by, c.v, c.l)
		require.NoError(t, err, name)
		require.InDelta(t, c.result, j.Result, 1e-12, name)
		require.Equal(t, c.limit, j.Limit, name)
		require.Equal(t, c.where, j.Where, name)
	}
	_, err := measure.Judge(measure.Spread, []float64{3, 3, 3}, measure.Limits{High: 1})
	refused(t, err, "gaps")
}

// The fewest and the most readings of each way of measuring, and what one more or fewer is told.
func TestNumbersOfReadingsAtTheirBounds(t *testing.T) {
	w := working.New("gaps")
	w.Name("φ", "widest towards", "deg")
	g, err := measure.GapSpread(w, measure.GapInput{Gaps: append(slices.Repeat([]float64{2}, 359), 2.5), Diameter: 300, Limit: 1})
	require.NoError(t, err)
	require.InDelta(t, 0.5, g.Spread, 1e-12)
	require.True(t, slices.ContainsFunc(w.Lines, func(l working.Line) bool { return l.Symbol == "φ" }), "where it is widest is shown")
	_, err = measure.GapSpread(nil, measure.GapInput{Gaps: slices.Repeat([]float64{2}, 361), Diameter: 300, Limit: 1})
	refused(t, err, "gaps_mm")
	g, err = measure.GapSpread(nil, measure.GapInput{Gaps: []float64{2, 2, 2}, Diameter: 300, Limit: 1})
	require.NoError(t, err)
	require.Nil(t, g.Widest, "even gaps are widest nowhere")

	r, err := measure.Runout(nil, measure.RunoutInput{Readings: []float64{0.3, -0.1, -0.3, 0.1}, Limit: 1})
	require.NoError(t, err)
	require.InDelta(t, 0.6, r.TIR, 1e-12)
	require.InDelta(t, 0, r.Form, 1e-12, "a pure offset is round")
	r, err = measure.Runout(nil, measure.RunoutInput{Readings: []float64{0.2, -0.2, 0.2, -0.2}, Limit: 1})
	require.NoError(t, err)
	require.InDelta(t, 0.4, r.Form, 1e-12, "an oval shaft has no offset")
	_, err = measure.Runout(nil, measure.RunoutInput{Readings: []float64{0, 0, 0}, Limit: 1})
	refused(t, err, "readings_mm")

	p, err := measure.ThreadProjection(nil, measure.ProjectionInput{Stud: 164, Grip: 110, Nut: 27, Pitch: 3})
	require.NoError(t, err, "flush with both nuts")
	require.Zero(t, p.Each)
	_, err = measure.ThreadProjection(nil, measure.ProjectionInput{Stud: 163, Grip: 110, Nut: 27, Pitch: 3})
	refused(t, err, "stud_length_mm")

	_, err = measure.Squareness(nil, measure.SquareInput{A: 3, B: 4, D1: 7, D2: 1, Limit: 1})
	refused(t, err, "diagonal_1_mm") // a frame that has fallen flat
	_, err = measure.Squareness(nil, measure.SquareInput{A: 3, B: 4, D1: 6.9, D2: 1.5, Limit: 9})
	require.NoError(t, err)

	o, err := measure.AxisOffset(nil, measure.OffsetInput{R0: 0.1, R90: 0.1, R180: 0.1, R270: 0.1, Closure: 1})
	require.NoError(t, err)
	require.Nil(t, o.Direction, "shafts in line lie off nowhere")
}

// What is left of the permitted angle is the shift that it gives, less what was measured.
func TestMarginOfADeflectedJoint(t *testing.T) {
	measured := 4.0
	d, err := measure.Deflection(nil, measure.DeflectionInput{Length: 100, Angle: 3, Measured: &measured})
	require.NoError(t, err)
	require.InDelta(t, 5.2408-4, *d.Margin, 1e-4)
}
