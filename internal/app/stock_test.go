package app_test

import (
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/due"
	"dynacor/internal/app"
)

// Needs are held against stock: what is there, what is missing, and which joints that stops; what goes off falls due.
func TestNeedsAreHeldAgainstStock(t *testing.T) {
	b := newBench(t, true)
	quaye := b.crew["I. Quaye"]
	nuts := func() app.Need {
		list, err := b.PackageNeeds(ctx, "WP-41")
		require.NoError(t, err)
		n := slices.IndexFunc(list, func(n app.Need) bool { return n.Kind == "part" && n.What == "Nut M16" })
		require.GreaterOrEqual(t, n, 0)
		return list[n]
	}
	before := nuts()
	require.Positive(t, before.Open)
	require.LessOrEqual(t, before.Open, before.Quantity)
	require.InDelta(t, before.Open, before.Short, 0)
	require.NotEmpty(t, before.Stops)
	put := func(id string, quantity float64, useBy string) {
		_, err := b.PutStock(ctx, quaye, app.StockLine{ID: id, Kind: "part", What: "Nut M16", Quantity: quantity, Place: "rack 4",
			UseBy: useBy})
		require.NoError(t, err)
	}
	first, second := uuid.NewString(), uuid.NewString()
	put(first, 8, "")
	some := nuts()
	require.InDelta(t, before.Open-8, some.Short, 0)
	require.Equal(t, []string{"8 in rack 4"}, some.Places)
	require.Less(t, len(some.Stops), len(before.Stops))
	put(second, 100, b.now.AddDate(0, 0, -1).Format(time.DateOnly))
	require.InDelta(t, some.Short, nuts().Short, 0, "it has gone off")
	put(second, 100, b.now.AddDate(0, 0, 9).Format(time.DateOnly))
	require.Zero(t, nuts().Short)
	require.Empty(t, nuts().Stops)
	v, err := b.FallsDue(ctx, quaye)
	require.NoError(t, err)
	require.True(t, slices.ContainsFunc(v.Items, func(i app.DueItem) bool { return i.Kind == due.UseBy && i.Mine }))

	left, err := b.DropStock(ctx, second)
	require.NoError(t, err)
	require.Len(t, left, 1)
	require.Equal(t, "I. Quaye", left[0].By)
	_, err = b.DropStock(ctx, second)
	problem(t, err, app.NotFound, "no line of stock")
	for field, l := range map[string]app.StockLine{"id": {Kind: "part", What: "x"}, "kind": {ID: first, Kind: "tool", What: "x"},
		"what": {ID: first, Kind: "part", What: " "}, "quantity": {ID: first, Kind: "part", What: "x", Quantity: -1},
		"useBy": {ID: first, Kind: "part", What: "x", UseBy: "soon"}} {
		_, err := b.PutStock(ctx, quaye, l)
		require.Equal(t, field, problem(t, err, app.Invalid, "").Field)
	}
}
