package layout_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/layout"
	"dynacor/core/quantity"
)

func all() []layout.Layout {
	return []layout.Layout{
		{Kind: layout.Circle, Count: 12, StartDeg: 15}, {Kind: layout.Pair, Count: 2},
		{Kind: layout.Rectangle, Rows: 3, Columns: 5, Count: 12}, {Kind: layout.Rows, Rows: 2, Columns: 4, Count: 8},
		{Kind: layout.Single, Count: 1}, {Kind: layout.Stack, Rows: 3, Columns: 2, Count: 6},
		{Kind: layout.Layers, Rows: 2, Columns: 4, Count: 8},
		{Kind: layout.Free, Count: 3, Points: []layout.Point{{X: -0.5, Y: 0}, {X: 0.5, Y: 0.25}, {X: 0, Y: -1}}},
	}
}

func TestEveryShapePlacesEachFastenerOnceInsideTheDrawing(t *testing.T) {
	require.Len(t, all(), len(layout.Kinds()))
	for _, l := range all() {
		require.NoError(t, l.Check(), l.Kind)
		places := l.Places()
		require.Len(t, places, l.Count, l.Kind)
		for i, p := range places {
			require.LessOrEqual(t, math.Abs(p.X), 1.0+1e-9, l.Kind)
			require.LessOrEqual(t, math.Abs(p.Y), 1.0+1e-9, l.Kind)
			require.True(t, p.NormalDeg >= 0 && p.NormalDeg < 360, l.Kind)
			for _, q := range places[i+1:] {
				require.Greater(t, math.Hypot(p.X-q.X, p.Y-q.Y), 0.05, "%s: two fasteners in one place", l.Kind)
			}
		}
	}
}

func TestCircleGoesClockwiseFromItsStartOrTheOtherWay(t *testing.T) {
	l := layout.Layout{Kind: layout.Circle, Count: 4, StartDeg: 0}
	p := l.Places()
	require.InDelta(t, -1, p[0].Y, 1e-9, "the first is at the top")
	require.InDelta(t, 1, p[1].X, 1e-9, "the second to the right of it")
	l.Anticlockwise = true
	p = l.Places()
	require.InDelta(t, -1, p[1].X, 1e-9)
	require.InDelta(t, 90, l.AngleDeg(4), 1e-9)
	l.StartDeg = 45
	require.InDelta(t, math.Sqrt2/2, l.Places()[0].X, 1e-9)
}

func TestRectangleStandsOnTheEdgeAndFacesOutward(t *testing.T) {
	l := layout.Layout{Kind: layout.Rectangle, Rows: 3, Columns: 4, Count: 10}
	for _, p := range l.Places() {
		a := quantity.Rad(p.NormalDeg)
		require.Positive(t, p.X*math.Sin(a)-p.Y*math.Cos(a), "the bar of a bolt on the edge grows away from the middle")
	}
}

func TestOffsetMovesOneFastenerOnly(t *testing.T) {
	l := layout.Layout{Kind: layout.Rows, Rows: 1, Columns: 3, Count: 3}
	was := l.Places()
	l.Offsets = []layout.Offset{{Position: 2, X: 0.1, Y: -0.2}}
	is := l.Places()
	require.Equal(t, was[0].Point, is[0].Point)
	require.InDelta(t, was[1].X+0.1, is[1].X, 1e-9)
	require.InDelta(t, was[1].Y-0.2, is[1].Y, 1e-9)
}

func TestSettleCountsWhatTheShapeHas(t *testing.T) {
	for _, l := range all() {
		want := l.Count
		if l.Kind != layout.Circle {
			l.Count = 0
		}
		require.Equal(t, want, l.Settle().Count, l.Kind)
	}
}

func TestLayoutThatCannotBeDrawnIsRefusedByField(t *testing.T) {
	for _, c := range []struct {
		field string
		l     layout.Layout
	}{
		{"bolts", layout.Layout{Count: 2}}, {"bolts", layout.Layout{Count: 121}},
		{"startDeg", layout.Layout{Count: 8, StartDeg: 400}},
		{"columns", layout.Layout{Kind: layout.Rectangle, Rows: 1, Columns: 4, Count: 4}},
		{"rows", layout.Layout{Kind: layout.Rows, Rows: 0, Columns: 4, Count: 4}},
		{"rows", layout.Layout{Kind: layout.Layers, Rows: 20, Columns: 20, Count: 400}},
		{"points", layout.Layout{Kind: layout.Free}},
		{"points", layout.Layout{Kind: layout.Free, Count: 1, Points: []layout.Point{{X: 2}}}},
		{"layout", layout.Layout{Kind: "spiral", Count: 4}}, {"bolts", layout.Layout{Kind: layout.Pair, Count: 3}},
		{"offsets", layout.Layout{Count: 8, Offsets: []layout.Offset{{Position: 9}}}},
		{"offsets", layout.Layout{Count: 8, Offsets: []layout.Offset{{Position: 1, X: 0.9}}}},
	} {
		r, ok := quantity.RefusalIn(c.l.Check())
		require.True(t, ok, "%+v", c.l)
		require.Equal(t, c.field, r.Field, "%+v", c.l)
		require.NotEmpty(t, r.Remedy)
	}
}
