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
	r, err = sequence.CardinalOrder(nil, sequence.CardinalInput{N: 8, StartDeg: 22.5})
	require.NoError(t, err)
	require.Equal(t, []int{1, 5, 3, 7}, r.Order[:4], "bolts that straddle the centre line")
}

// leastAngle is the smallest angle between neighbours of some bolts, in steps of the ring.
func leastAngle(list []int, n int) int {
	s := slices.Sorted(slices.Values(list))
	least := s[0] + n - s[len(s)-1]
	for i := range s[1:] {
		least = min(least, s[i+1]-s[i])
	}
	return least
}

// widest is the largest least angle that any four bolts of a ring can have, by trying all.
func widest(n int) (best int) {
	for b := 2; b < n-1; b++ {
		for c := b + 1; c < n; c++ {
			for d := c + 1; d <= n; d++ {
				best = max(best, leastAngle([]int{1, b, c, d}, n))
			}
		}
	}
	return best
}

// However many bolts and wherever the first stands, no four could stand further apart than those that go first, and
// each is one of the nearest to its quarter.
func TestFourAtRightAnglesStandAsFarApartAsTheyCan(t *testing.T) {
	for n := 4; n <= 64; n++ {
		want := widest(n)
		for k := range 73 {
			start := 5*float64(k) + float64(k%3)/7
			switch k { // exact ties
			case 0:
				start = 0
			case 1:
				start = 180 / float64(n)
			case 2:
				start = 90 / float64(n)
			}
			r, err := sequence.CardinalOrder(nil, sequence.CardinalInput{N: n, StartDeg: min(start, 360)})
			require.NoError(t, err)
			require.True(t, all(r.Order, n), n)
			require.Equal(t, want, leastAngle(r.Order[:4], n), "%d bolts, the first at %v: %v", n, start, r.Order[:4])
			for i, quarter := range []float64{0, 180, 90, 270} {
				off := math.Mod(min(start, 360)+360*float64(r.Order[i]-1)/float64(n)-quarter+720, 360)
				require.LessOrEqual(t, min(off, 360-off), 180/float64(n)+1e-6, "%d bolts, the first at %v", n, start)
			}
		}
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
