package numbers_test

import (
	"fmt"
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/numbers"
)

var day = time.Date(2026, 10, 1, 9, 0, 0, 0, time.UTC)

// pulls are values of one row, one a day, on joints of ±10 %.
func pulls(row string, pct ...float64) []numbers.Value {
	var out []numbers.Value
	for i, p := range pct {
		out = append(out, numbers.Value{Row: row, Pct: p, Low: -10, High: 10, At: day.AddDate(0, 0, i), Tag: "T",
			Fastener: fmt.Sprint(i + 1)})
	}
	return out
}

func repeat(n int, of func(i int) float64) []float64 {
	out := make([]float64, n)
	for i := range out {
		out[i] = of(i)
	}
	return out
}

// Rows stand by their names, whatever they came to; each is judged by its own joints' limits, at them inside.
func TestPullsAreCountedUnderTheirRows(t *testing.T) {
	a := pulls("B crew", -10, 10, 10.0001, -10.5, 0)
	b := pulls("A crew", 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11)
	none := numbers.Value{Row: "A crew", Pct: 50, At: day}
	n := numbers.Of(append(append(a, b...), none))
	require.Equal(t, []string{"A crew", "B crew"}, []string{n.Rows[0].Name, n.Rows[1].Name}, "nobody is ranked")
	require.Equal(t, 2, n.Rows[1].Outside)
	require.InDelta(t, -10.5, n.Rows[1].Worst[0].Pct, 0, "the furthest first")
	require.Equal(t, 1, n.Rows[0].Outside, "one that has no limits is outside of none")
	require.InDelta(t, 6.5, n.Rows[0].Middle, 1e-9)
	require.InDelta(t, 0, n.Rows[1].Middle, 1e-9)
	require.Equal(t, 17, n.All.N)
	require.Equal(t, []float64{-10, 10}, []float64{n.Low, n.High})
	require.Nil(t, n.Rows[0].Cpk, "too few")
	require.Empty(t, n.Chart.Points, "too few to tell of any row")

	r := numbers.Of(pulls("one", repeat(101, func(i int) float64 { return float64(i) })...)).Rows[0]
	require.InDelta(t, 50, r.Middle, 1e-9)
	require.InDelta(t, 5, r.P5, 1e-9)
	require.InDelta(t, 95, r.P95, 1e-9)
	require.Len(t, r.Worst, 6)
	require.Equal(t, 90, r.Outside)
	require.Empty(t, numbers.Of(nil).Rows)
	r = numbers.Of(pulls("one", 0.09, -0.09, 0.11, 5)).Rows[0]
	require.Equal(t, []numbers.Bin{{At: 0, N: 2}, {At: 0.2, N: 1}, {At: 5, N: 1}}, r.Bins)
}

// The spread is held against each joint's own limits, so that narrow and wide ones are counted alike.
func TestCpkCountsJointsOfDifferentLimitsAlike(t *testing.T) {
	wave := repeat(40, func(i int) float64 { return 2 + 3*math.Sin(float64(i)) })
	wide := pulls("x", wave...)
	r := numbers.Of(wide).Rows[0]
	mean, sq := 0.0, 0.0
	for _, v := range wave {
		mean += v / 40
	}
	for _, v := range wave {
		sq += (v - mean) * (v - mean) / 39
	}
	want := (10 - mean) / (3 * math.Sqrt(sq))
	require.InDelta(t, want, *r.Cpk, 1e-9)
	half := 1.96 * math.Sqrt(1.0/360+want*want/78)
	require.InDelta(t, want-half, *r.CpkLow, 1e-9)
	require.InDelta(t, want+half, *r.CpkHigh, 1e-9)
	narrow := pulls("x", wave...)
	for i := range narrow {
		narrow[i].Pct, narrow[i].Low, narrow[i].High = narrow[i].Pct/2, -5, 5
	}
	require.InDelta(t, want, *numbers.Of(narrow).Rows[0].Cpk, 1e-9)
	require.Nil(t, numbers.Of(wide[:19]).Rows[0].Cpk)
	require.NotNil(t, numbers.Of(wide[:20]).Rows[0].Cpk)
	require.Nil(t, numbers.Of(pulls("x", repeat(30, func(int) float64 { return 1 })...)).Rows[0].Cpk, "no spread")
}

// A run chart gives a signal by rules that are stated, and none for want of days.
func TestRunChartSignals(t *testing.T) {
	wave := func(i int) float64 { return math.Sin(2 * float64(i)) }
	c := numbers.Of(pulls("W-1", repeat(24, wave)...)).Chart
	require.Len(t, c.Points, 24)
	require.NotNil(t, c.Low)
	require.Contains(t, c.Says, "W-1 gives no signal")

	c = numbers.Of(pulls("W-1", repeat(24, func(i int) float64 { return wave(i) + map[bool]float64{true: 12}[i == 20] })...)).Chart
	require.Equal(t, numbers.Outer, c.Points[20].Signal)
	require.Contains(t, c.Says, "W-1 is past the outer line on 2026-10-21")

	drift := func(n int) numbers.Chart {
		return numbers.Of(pulls("W-1", repeat(24, func(i int) float64 {
			if i >= 10 && i < 10+n {
				return 1 + 0.1*wave(i)
			}
			return -1 + 1.9*float64((i+1)%2)
		})...)).Chart
	}
	seven, eight := 0, 0
	for _, p := range drift(7).Points {
		if p.Signal == numbers.OneOf {
			seven++
		}
	}
	for _, p := range drift(8).Points {
		if p.Signal == numbers.OneOf {
			eight++
		}
	}
	require.Zero(t, seven)
	require.GreaterOrEqual(t, eight, 8)
	require.Contains(t, drift(8).Says, "stays on one side of its middle for 8 days or more")

	few := numbers.Of(append(pulls("W-1", repeat(19, wave)...), pulls("W-1", wave(19))...)).Chart
	require.Len(t, few.Points, 19, "two on one day are one point")
	require.Equal(t, 2, few.Points[0].N)
	require.Nil(t, few.Low)
	require.Contains(t, few.Says, "19 days: too few to draw limits")
}

// What can lie on one side of its aim only has no Cpk, and is outside past its limit.
func TestMovementsHaveNoCpk(t *testing.T) {
	list := pulls("one", repeat(30, func(i int) float64 { return float64(4 * i) })...)
	for i := range list {
		list[i].Low, list[i].High = 0, 100
	}
	r := numbers.Of(list).Rows[0]
	require.Nil(t, r.Cpk)
	require.Equal(t, 4, r.Outside, "104, 108, 112, 116")
}

// Pulls of one place on the axis may lie inside the limits of one joint and outside those of another: each is counted
// by its own.
func TestEachPullIsCountedByItsOwnLimits(t *testing.T) {
	n := numbers.Of([]numbers.Value{{Row: "W-1", Pct: 6, Low: -10, High: 10}, {Row: "W-1", Pct: 6, Low: -5, High: 5},
		{Row: "W-1", Pct: 6, Low: -6, High: 6}, {Row: "W-1", Pct: 6}})
	require.Equal(t, []numbers.Bin{{At: 6, N: 4, Past: 1}}, n.Rows[0].Bins)
	require.Equal(t, 1, n.All.Outside)
	require.InDelta(t, 75, n.All.Inside, 1e-9)
}
