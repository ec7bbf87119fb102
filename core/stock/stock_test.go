package stock_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/stock"
)

// Who comes first gets what they take; a joint that would get less than it takes is stopped, and a smaller one after it
// is not.
func TestShortageStopsJoints(t *testing.T) {
	takes := []stock.Take{{"A", 8}, {"B", 8}, {"C", 4}}
	for _, c := range []struct {
		have  float64
		short float64
		stops []string
	}{{20, 0, nil}, {25, 0, nil}, {19.9, 0.1, []string{"C"}}, {12, 8, []string{"B"}}, {8, 12, []string{"B", "C"}},
		{7, 13, []string{"A", "B"}}, {0, 20, []string{"A", "B", "C"}}} {
		got := stock.Covers(takes, []stock.Line{{Quantity: c.have}}, "2026-12-01")
		require.InDelta(t, c.short, got.Short, 1e-9, "%v", c.have)
		require.Equal(t, c.stops, got.Stops, "%v", c.have)
		require.InDelta(t, c.have, got.Have, 1e-9)
	}
	got := stock.Covers([]stock.Take{{"A", .1}, {"A", .2}}, []stock.Line{{Quantity: .3}}, "2026-12-01")
	require.Zero(t, got.Short, "tenths add up")
	require.Empty(t, got.Stops)
}

// What has gone off counts for nothing; on its last day it still does.
func TestWhatHasGoneOffIsNotThere(t *testing.T) {
	lines := []stock.Line{{Quantity: 3, UseBy: "2026-12-01"}, {Quantity: 5, UseBy: "2026-11-30"}, {Quantity: 1}}
	require.InDelta(t, 4, stock.Covers(nil, lines, "2026-12-01").Have, 0)
	require.InDelta(t, 1, stock.Covers(nil, lines, "2026-12-02").Have, 0)
}
