package sequence_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/sequence"
)

func TestEveryOrderVisitsEachBoltOnce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		pattern := rapid.SampledFrom([]sequence.Pattern{sequence.Cross, sequence.Group, sequence.Clockwise}).Draw(t,
			"pattern")
		n := rapid.IntRange(4, 120).Draw(t, "n")
		o := sequence.Options{Start: rapid.IntRange(1, n).Draw(t, "start"), Reverse: rapid.Bool().Draw(t, "reverse"),
			Groups: 4}
		if n >= 16 && rapid.Bool().Draw(t, "eighths") {
			o.Groups = 8
		}
		got, err := sequence.Visiting(pattern, n, o)
		require.NoError(t, err)
		valid, opposite, _ := sequence.Check(n, got.Visit)
		require.True(t, valid)
		for i, p := range got.Visit {
			require.Equal(t, i+1, got.Chalk[p-1], "chalk number and order are inverse")
		}
		first := got.Visit[0]
		if o.Reverse {
			first = got.Visit[n-1]
		}
		require.Equal(t, o.Start, first)
		if n%2 == 0 && !o.Reverse && pattern != sequence.Clockwise {
			require.Equal(t, n/2, opposite, "every pair lies straight across")
		}
	})
}

func TestFoursAreSquares(t *testing.T) {
	for n := 4; n <= 120; n += 4 {
		o, err := sequence.Visiting(sequence.Cross, n, sequence.Options{})
		require.NoError(t, err)
		for i := 0; i < n; i += 4 {
			for j, turn := range []int{0, n / 2, n / 4, 3 * n / 4} {
				require.Equal(t, (o.Visit[i]-1+turn)%n+1, o.Visit[i+j], "n %d", n)
			}
		}
	}
}

func TestNeighboursInASectorDifferByTheSectors(t *testing.T) {
	for _, g := range []int{4, 8} {
		for n := 2 * g; n <= 120; n += g {
			o, err := sequence.Visiting(sequence.Group, n, sequence.Options{Groups: g})
			require.NoError(t, err)
			for p := 1; p < n; p++ {
				if p%(n/g) != 0 {
					require.Equal(t, g, o.Chalk[p]-o.Chalk[p-1], "n %d, position %d", n, p)
				}
			}
		}
	}
}

func TestOddCountsJumpAcross(t *testing.T) {
	for n := 3; n <= 119; n += 2 {
		o, err := sequence.Visiting(sequence.Cross, n, sequence.Options{})
		require.NoError(t, err)
		for i := 1; i < n-1; i += 2 {
			d := o.Visit[i] - o.Visit[i-1]
			if d < 0 {
				d = -d
			}
			require.GreaterOrEqual(t, min(d, n-d), (n-3)/2, "n %d", n)
		}
	}
}

func TestStagesRiseAndEndAtTheTarget(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := rapid.SampledFrom(sequence.Schemes()).Draw(t, "scheme")
		target := rapid.Float64Range(50, 2000).Draw(t, "target")
		g := rapid.SampledFrom([]float64{0.5, 1, 2, 5}).Draw(t, "graduation")
		st, err := sequence.Staging(nil, s.Code, target, g, target, 0)
		require.NoError(t, err)
		for i := 1; i < len(st.Nm); i++ {
			require.Greater(t, st.Nm[i], st.Nm[i-1])
		}
		require.LessOrEqual(t, st.Nm[len(st.Nm)-1], target+1e-6, "never past the maximum")
	})
}
