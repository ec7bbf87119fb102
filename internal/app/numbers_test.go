package app_test

import (
	"bytes"
	"encoding/csv"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/record"
	"dynacor/internal/app"
)

// The joint of the demo that was read with an electronic wrench is counted under its tool, its crew and its family; the
// clicked ones are not.
func TestNumbersOfTheSite(t *testing.T) {
	b := newBench(t, true)
	for by, name := range map[string]string{"tool": "E-03 + S4-30", "crew": "I. Quaye", "family": "gasketed flange",
		"area": "2 Turbine 2", "lubricant": "Light oil", "method": "wrench"} {
		n, err := b.Numbers(ctx, app.NumbersQuery{By: by})
		require.NoError(t, err)
		require.Len(t, n.Rows, 1, by)
		require.Equal(t, name, n.Rows[0].Name)
		require.Equal(t, 16, n.Rows[0].N, "eight bolts, twice")
		require.Equal(t, []float64{-8, 8}, []float64{n.Low, n.High}, "as the document allows")
		require.InDelta(t, -3.2, n.Rows[0].Bins[0].At, 0.15, "bolt 6")
	}
	n, err := b.Numbers(ctx, app.NumbersQuery{By: "tool", From: b.now.Add(-60 * time.Hour)})
	require.NoError(t, err)
	require.Equal(t, 8, n.All.N, "the second time only")
	n, err = b.Numbers(ctx, app.NumbersQuery{By: "tool", To: b.now.Add(-60 * time.Hour)})
	require.NoError(t, err)
	require.Equal(t, 8, n.All.N)
	n, err = b.Numbers(ctx, app.NumbersQuery{By: "tool", Families: []string{"shrink disc"}})
	require.NoError(t, err)
	require.Zero(t, n.All.N)
	_, err = b.Numbers(ctx, app.NumbersQuery{By: "person"})
	problem(t, err, app.Invalid, "not counted by that")

	_, err = b.Numbers(ctx, app.NumbersQuery{By: "tool", Of: "weight"})
	problem(t, err, app.Invalid, "not counted")
	for of, want := range map[record.Quantity]int{record.Movement: 0, record.Angle: 0, record.Stretch: 0} {
		n, err = b.Numbers(ctx, app.NumbersQuery{By: "tool", Of: of})
		require.NoError(t, err)
		require.Equal(t, want, n.All.N, of)
	}

	var out bytes.Buffer
	require.NoError(t, b.ExportNumbers(ctx, &out, app.NumbersQuery{By: "tool"}))
	rows, err := csv.NewReader(&out).ReadAll()
	require.NoError(t, err)
	require.Equal(t, []string{"E-03 + S4-30", "16"}, rows[1][:2])
	require.Equal(t, "all", rows[2][0])

	b.owner(t, "truncate record_pulls")
	b.owner(t, "update record_index set version = 0")
	_, err = b.IndexRecords(ctx, 100)
	require.NoError(t, err)
	n, err = b.Numbers(ctx, app.NumbersQuery{By: "tool"})
	require.NoError(t, err)
	require.Equal(t, 16, n.All.N, "made anew from the records")
}
