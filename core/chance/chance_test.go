package chance_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/chance"
)

// The numbers are those that others draw from the same seed.
func TestNumbersOfASeed(t *testing.T) {
	s := chance.Source(12345)
	for _, want := range []uint64{2454886589211414944, 3778200017661327597, 2205171434679333405} {
		require.Equal(t, want, s.Next())
	}
	s = 12345
	for _, want := range []float64{0.5625435185875695, 0.9228021975298095, -0.6061905461687912, -1.8615540099169032} {
		require.InDelta(t, want, s.Normal(), 1e-15)
	}
}

func TestNormalNumbersLieAroundZero(t *testing.T) {
	s := chance.Source(7)
	sum, squares, n := 0.0, 0.0, 20000
	for range n {
		z := s.Normal()
		sum += z
		squares += z * z
	}
	require.InDelta(t, 0, sum/float64(n), .02)
	require.InDelta(t, 1, squares/float64(n), .03)
}
