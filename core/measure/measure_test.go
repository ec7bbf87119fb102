package measure_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/measure"
)

// +3, 0, −1, 0: a step of 0.5 that stays, and a shift of 2 upwards.
func TestRimOffsetIsShared(t *testing.T) {
	o, err := measure.Rim([4]float64{3, 0, -1, 0}, 1.5)
	require.NoError(t, err)
	require.InDelta(t, 0.5, o.Common, 1e-12)
	require.InDelta(t, 2, o.ShiftUp, 1e-12)
	require.InDelta(t, 2, o.Offset, 1e-12)
	require.InDelta(t, 0, *o.Direction, 1e-9)
	require.False(t, o.Pass)
	even, err := measure.Rim([4]float64{1, 1, 1, 1}, 0)
	require.NoError(t, err)
	require.True(t, even.Pass, "an even step needs no shift")
	require.Nil(t, even.Direction)
	_, err = measure.Rim([4]float64{math.NaN()}, 1)
	require.Error(t, err)
}

func TestGapTurnsWithTheJoint(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g := make([]float64, 8)
		for i := range g {
			g[i] = rapid.Float64Range(0, 5).Draw(t, "gap")
		}
		a, err := measure.GapTilt(nil, g, 300, 1)
		require.NoError(t, err)
		b, err := measure.GapTilt(nil, append(append([]float64{}, g[1:]...), g[0]), 300, 1)
		require.NoError(t, err)
		require.InDelta(t, a.MaxMin, b.MaxMin, 1e-12)
		require.InDelta(t, a.TiltAmplitude, b.TiltAmplitude, 1e-9)
		require.Equal(t, a.Pass, b.Pass)
	})
}

func TestLimitIsInclusive(t *testing.T) {
	g, err := measure.GapTilt(nil, []float64{1.0, 1.1, 1.2, 1.3}, 300, 0.3)
	require.NoError(t, err)
	require.True(t, g.Pass, "0.3 on paper is not 0.30000000000000004")
}
