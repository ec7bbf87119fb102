package statistics_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/statistics"
)

func TestSummaries(t *testing.T) {
	require.InDelta(t, 2.5, statistics.Mean([]float64{1, 2, 3, 4}), 1e-12)
	require.Zero(t, statistics.Mean(nil))
	v := []float64{9, 1, 4}
	require.InDelta(t, 4, statistics.Median(v), 0)
	require.Equal(t, []float64{9, 1, 4}, v, "the order stays")
	require.InDelta(t, 3, statistics.Median([]float64{9, 1, 4, 2}), 0)
	require.Zero(t, statistics.Median(nil))
	require.InDelta(t, 1, statistics.Correlation([]float64{1, 2, 3}, []float64{10, 20, 30}), 1e-12)
	require.InDelta(t, -1, statistics.Correlation([]float64{1, 2, 3}, []float64{3, 2, 1}), 1e-12)
	require.InDelta(t, .8660, statistics.Correlation([]float64{1, 2, 3}, []float64{1, 3, 3}), 1e-4)
	require.Zero(t, statistics.Correlation([]float64{1, 1}, []float64{1, 2}))
}
