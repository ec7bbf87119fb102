package sequence_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/sequence"
)

func TestOnceVisitsEachFastenerOnce(t *testing.T) {
	for _, p := range []sequence.Pattern{sequence.Cross, sequence.Clockwise, sequence.Group, sequence.AlternateTwo,
		sequence.Cardinal, sequence.Pairs, sequence.Outward, sequence.FromStiff} {
		for n := 1; n <= 40; n++ {
			got, err := sequence.Once(p, n, sequence.GroupOptions{StartDeg: 15})
			require.NoError(t, err, "%s %d", p, n)
			sorted := slices.Sorted(slices.Values(got))
			require.Len(t, sorted, n, "%s %d", p, n)
			for i, v := range sorted {
				require.Equal(t, i+1, v, "%s %d", p, n)
			}
		}
	}
}

func TestOutwardBeginsInTheMiddleOfAPlate(t *testing.T) {
	got, err := sequence.Once(sequence.Outward, 15, sequence.GroupOptions{Rows: 3, Columns: 5})
	require.NoError(t, err)
	require.Equal(t, 8, got[0], "the middle of three rows of five")
	require.ElementsMatch(t, []int{2, 3, 4, 7, 8, 9, 12, 13, 14}, got[:9], "on all sides of it next, not along its row")
	require.ElementsMatch(t, []int{1, 5, 6, 10, 11, 15}, got[9:], "and both ends are the last")
}

func TestFromTheStiffEdgeToTheFreeEnd(t *testing.T) {
	got, err := sequence.Once(sequence.FromStiff, 8, sequence.GroupOptions{Rows: 4, Columns: 2})
	require.NoError(t, err)
	require.Equal(t, []int{1, 2, 3, 4, 5, 6, 7, 8}, got, "row after row")
	got, err = sequence.Once(sequence.FromStiff, 6, sequence.GroupOptions{Rows: 2, Columns: 3})
	require.NoError(t, err)
	require.Equal(t, []int{2, 1, 3, 5, 4, 6}, got, "in a row from the middle")
}

func TestCardinalTakesFourAtRightAnglesFirst(t *testing.T) {
	got, err := sequence.Once(sequence.Cardinal, 8, sequence.GroupOptions{})
	require.NoError(t, err)
	require.ElementsMatch(t, []int{1, 3, 5, 7}, got[:4])
}

func TestPairsTakeOppositesTogether(t *testing.T) {
	got, err := sequence.Once(sequence.Pairs, 6, sequence.GroupOptions{})
	require.NoError(t, err)
	require.Equal(t, []int{1, 4, 2, 5, 3, 6}, got)
}

func TestChosenOrderIsTakenAsItIsOrRefused(t *testing.T) {
	got, err := sequence.Once(sequence.Chosen, 3, sequence.GroupOptions{Order: []int{3, 1, 2}})
	require.NoError(t, err)
	require.Equal(t, []int{3, 1, 2}, got)
	for _, bad := range [][]int{{1, 2}, {1, 1, 2}, {1, 2, 4}, nil} {
		_, err := sequence.Once(sequence.Chosen, 3, sequence.GroupOptions{Order: bad})
		require.ErrorContains(t, err, "once", "%v", bad)
	}
	_, err = sequence.Once("spiral", 5, sequence.GroupOptions{})
	require.Error(t, err)
	_, err = sequence.Once(sequence.Cross, 0, sequence.GroupOptions{})
	require.Error(t, err)
}
