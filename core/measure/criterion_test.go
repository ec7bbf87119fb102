package measure_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/measure"
)

// Each criterion once inside its limit and once outside; limits themselves belong to the inside.
func TestEveryCriterionPassesAndFails(t *testing.T) {
	seen := map[measure.Criterion]bool{measure.Information: true}
	for _, c := range []struct {
		c         measure.Criterion
		good, bad []float64
		l         measure.Limits
		worst     int
	}{
		{measure.Spread, []float64{3.1, 3.2, 3.1, 3.3}, []float64{3.1, 3.2, 3.1, 3.4}, measure.Limits{High: 0.2}, -1},
		{measure.Spread, []float64{3.1, 3.3}, []float64{3.1, 3.4}, measure.Limits{High: 0.2}, -1},
		{measure.Offset, []float64{0.2, 0.1, 0, 0.1}, []float64{4, 0, 0, 0}, measure.Limits{High: 1}, -1},
		{measure.Maximum, []float64{-0.5, 0.5}, []float64{0.1, -0.6}, measure.Limits{High: 0.5}, 1},
		{measure.Minimum, []float64{2, 3}, []float64{3, 1.99}, measure.Limits{Low: 2}, 1},
		{measure.Remain, []float64{0.1, 0.2}, []float64{0.2, 0, 0.1}, measure.Limits{}, 1},
		{measure.Remain, []float64{1, 2}, []float64{0.9, 2}, measure.Limits{Low: 1}, 0},
		{measure.Equal, []float64{10, 10.5}, []float64{10, 10.6}, measure.Limits{High: 0.5}, -1},
		{measure.Flush, []float64{-0.2, 0.2}, []float64{0, -0.3}, measure.Limits{High: 0.2}, 1},
		{measure.Window, []float64{20, 32}, []float64{25, 33}, measure.Limits{Low: 20, High: 32}, 1},
		{measure.Roundness, []float64{12, 12.05}, []float64{12, 12.6}, measure.Limits{High: 1.5}, -1},
		{measure.Count, []float64{8}, []float64{7}, measure.Limits{Low: 8}, -1},
	} {
		seen[c.c] = true
		j, err := measure.Judge(c.c, c.good, c.l)
		require.NoError(t, err, c.c)
		require.True(t, j.Pass, "%s %v", c.c, c.good)
		require.NotEmpty(t, j.Limit)
		j, err = measure.Judge(c.c, c.bad, c.l)
		require.NoError(t, err, c.c)
		require.False(t, j.Pass, "%s %v", c.c, c.bad)
		require.Equal(t, c.worst, j.Worst, "%s %v", c.c, c.bad)
	}
	require.Len(t, seen, len(measure.Criteria()))
	j, err := measure.Judge(measure.Information, []float64{99}, measure.Limits{})
	require.NoError(t, err)
	require.True(t, j.Pass)
}

func TestReadingsThatCannotBeJudgedAreRefused(t *testing.T) {
	for _, c := range []struct {
		c measure.Criterion
		v []float64
	}{{measure.Maximum, nil}, {measure.Maximum, []float64{math.NaN()}}, {measure.Offset, []float64{1, 2, 3}},
		{"taste", []float64{1}}} {
		_, err := measure.Judge(c.c, c.v, measure.Limits{High: 1})
		require.Error(t, err, "%s %v", c.c, c.v)
	}
}
