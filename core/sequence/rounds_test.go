package sequence_test

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/sequence"
)

// all says that order holds 1…n once each.
func all(order []int, n int) bool {
	s := slices.Sorted(slices.Values(order))
	for i := range s {
		if s[i] != i+1 {
			return false
		}
	}
	return len(s) == n
}

func TestSpliceAndSpiralVisitEachOnceAndFromTheMiddle(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		rows, cols := rapid.IntRange(1, 12).Draw(t, "rows"), rapid.IntRange(2, 12).Draw(t, "cols")
		s, err := sequence.SpliceOrder(nil, sequence.SpliceInput{Rows: rows, Cols: cols})
		require.NoError(t, err)
		require.True(t, all(s.Order, rows*cols))
		off := func(hole int) float64 { return math.Abs(float64((hole-1)/cols+1) - float64(rows+1)/2) }
		require.True(t, slices.IsSortedFunc(s.Order, func(a, b int) int {
			return int(math.Round(2 * (off(a) - off(b))))
		}), "rows go outward")
		g, err := sequence.SpiralOrder(nil, sequence.SpiralInput{Rows: &rows, Cols: &cols})
		require.NoError(t, err)
		require.True(t, all(g.Order, rows*cols))
	})
	stiff := 1.0
	s, err := sequence.SpliceOrder(nil, sequence.SpliceInput{Rows: 3, Cols: 2, StiffRow: &stiff})
	require.NoError(t, err)
	require.Equal(t, []int{1, 2, 3, 4, 5, 6}, s.Order, "from the rigid member on")
	for _, in := range []sequence.SpliceInput{{Rows: 1, Cols: 1}, {Rows: 0, Cols: 4},
		{Rows: 2, Cols: 2, StiffCol: ptr(5.0)}} {
		_, err := sequence.SpliceOrder(nil, in)
		require.Error(t, err)
	}
}

func ptr[T any](v T) *T { return &v }

// A ring of points is one ring: clockwise from the top, wherever the list begins.
func TestSpiralOfPointsGoesClockwise(t *testing.T) {
	var points [][]float64
	for _, deg := range []float64{90, 0, 270, 180} {
		points = append(points, []float64{100 + 50*math.Sin(deg*math.Pi/180), 50 * math.Cos(deg*math.Pi/180)})
	}
	points = append(points, []float64{100, 0})
	r, err := sequence.SpiralOrder(nil, sequence.SpiralInput{Points: points})
	require.NoError(t, err)
	require.Equal(t, []int{5, 2, 1, 4, 3}, r.Order)
	for _, bad := range []sequence.SpiralInput{{Points: points[:2]}, {Points: append(slices.Clone(points), points[0])},
		{Points: append(slices.Clone(points), []float64{1})}, {}, {Rows: ptr(2), Cols: ptr(2), Points: points}} {
		_, err := sequence.SpiralOrder(nil, bad)
		require.Error(t, err)
	}
}

// Each set is evenly spaced, and together they are the whole ring.
func TestToolsAtOnceAreEvenlySpaced(t *testing.T) {
	for _, k := range []int{2, 3, 4} {
		for n := k; n <= 120; n += k {
			r, err := sequence.SimultaneousOrder(nil, sequence.SimultaneousInput{N: n, Tools: k})
			require.NoError(t, err, "%d bolts, %d tools", n, k)
			var union []int
			for _, set := range r.Steps {
				require.Len(t, set, k)
				for i := 1; i < k; i++ {
					require.Equal(t, n/k, set[i]-set[i-1], "%d bolts, %d tools: %v", n, k, set)
				}
				union = append(union, set...)
			}
			require.True(t, all(union, n))
		}
	}
	_, err := sequence.SimultaneousOrder(nil, sequence.SimultaneousInput{N: 10, Tools: 4})
	require.ErrorContains(t, err, "shared evenly")
}

func TestFacesKeepToTheirRound(t *testing.T) {
	r, err := sequence.FacesRounds(nil, sequence.FacesInput{Faces: []int{4, 2, 6}, Rounds: 3})
	require.NoError(t, err)
	require.Equal(t, 3*12, r.Total)
	require.True(t, slices.IsSortedFunc(r.Visits, func(a, b string) int { return int(a[0]) - int(b[0]) }),
		"no face runs ahead")
	require.True(t, all(r.Faces, 3))
	_, err = sequence.FacesRounds(nil, sequence.FacesInput{Rounds: 3})
	require.Error(t, err)
}

// Top, bottom, right, left, and then all others once.
func TestCardinalBoltsComeFirst(t *testing.T) {
	r, err := sequence.CardinalOrder(nil, sequence.CardinalInput{N: 20})
	require.NoError(t, err)
	require.Equal(t, []int{1, 11, 6, 16}, r.Order[:4])
	for n := 4; n <= 60; n++ {
		r, err := sequence.CardinalOrder(nil, sequence.CardinalInput{N: n, StartDeg: 180 / float64(n)})
		require.NoError(t, err)
		require.True(t, all(r.Order, n), n)
	}
}

func TestEveryPatternIsExplained(t *testing.T) {
	for _, p := range []sequence.Pattern{sequence.Cross, sequence.Group, sequence.Clockwise, sequence.AlternateTwo} {
		for _, n := range []int{5, 6, 8} {
			require.NotEmpty(t, sequence.Explain(p, n, 4))
		}
	}
	require.Contains(t, sequence.Explain(sequence.Group, 32, 8), "rise by eight")
}
