package app_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/quantity"
	"dynacor/core/shutdown"
	"dynacor/internal/app"
)

func shiftOf(code string) app.ShiftQuery {
	return app.ShiftQuery{Package: code, Day: "2026-12-01", Days: 2,
		Shift: shutdown.Shift{From: "07:00", To: "15:30", BreakFrom: "12:00", BreakTo: "12:30"}}
}

// The open joints of a package are planned: nobody and no tool is in two places, whoever proves has not tightened, and
// what is not planned says why.
func TestShiftOfAPackage(t *testing.T) {
	b := newBench(t, true)
	v, err := b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	require.Len(t, v.Open, 4)
	require.NotEmpty(t, v.Activities)
	planned := map[string]bool{}
	tightened := map[string][]string{}
	for i, x := range v.Activities {
		planned[x.Tag] = true
		require.NotEmpty(t, x.Why, "%s %s", x.Tag, x.Kind)
		require.False(t, x.Start.Before(v.Begin))
		require.False(t, x.End.After(v.Finish))
		for _, y := range v.Activities[:i] {
			if !x.Start.Before(y.End) || !y.Start.Before(x.End) {
				continue
			}
			for _, who := range x.People {
				require.NotContains(t, y.People, who, "%s is at %s and %s", who, x.Tag, y.Tag)
			}
			for _, tag := range x.Tools {
				require.NotContains(t, y.Tools, tag)
			}
		}
		switch x.Kind {
		case shutdown.Tighten:
			tightened[x.Tag] = x.People
		case shutdown.Prove:
			require.NotSubset(t, tightened[x.Tag], x.People)
		}
	}
	left := 0
	for _, j := range v.Joints {
		require.NotEqual(t, planned[j.Tag], j.Left != "", "%s: %q", j.Tag, j.Left)
		if j.Left != "" {
			left++
		}
	}
	require.Positive(t, left)
	require.False(t, v.Finish.Before(v.Bound))
	require.Contains(t, v.People, "M. Tolley")

	again, err := b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	require.Equal(t, v, again, "the same is planned for the same")
}

// A day that is too short plans what fits and says of the rest that it does not.
func TestShiftThatIsTooShort(t *testing.T) {
	b := newBench(t, true)
	q := shiftOf("WP-47")
	q.Days, q.Shift = 1, shutdown.Shift{From: "07:00", To: "08:30"}
	v, err := b.PlanShift(ctx, q)
	require.NoError(t, err)
	without := 0
	for _, j := range v.Joints {
		if j.Left == "does not fit" {
			without++
		}
	}
	require.Positive(t, without)
	require.False(t, v.Best)
	require.Equal(t, time.Date(2026, 12, 1, 8, 30, 0, 0, v.End.Location()), v.End)
}

func TestShiftsThatCannotBeMeantAreRefused(t *testing.T) {
	b := newBench(t, true)
	for field, change := range map[string]func(*app.ShiftQuery){"day": func(q *app.ShiftQuery) { q.Day = "tomorrow" },
		"days": func(q *app.ShiftQuery) { q.Days = 99 }, "from": func(q *app.ShiftQuery) { q.Shift.From = "seven" }} {
		q := shiftOf("WP-47")
		change(&q)
		_, err := b.PlanShift(ctx, q)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, field)
		require.Equal(t, field, r.Field)
	}
	_, err := b.PlanShift(ctx, shiftOf("WP-0"))
	problem(t, err, app.NotFound, "no work package")
}
