package app_test

import (
	"os"
	"slices"
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

// A plan that is put in force stands on everybody's day and is kept near; a second one by somebody who has not seen it
// is refused.
func TestPlanIsPutInForce(t *testing.T) {
	b := newBench(t, true)
	quaye, tolley := b.crew["I. Quaye"], b.crew["M. Tolley"]
	b.now = time.Date(2026, 12, 1, 6, 0, 0, 0, time.UTC)
	none, err := b.ShiftInForce(ctx, "WP-47")
	require.NoError(t, err)
	require.Zero(t, none.Version)
	before, err := b.Today(ctx, tolley)
	require.NoError(t, err)
	require.Empty(t, before.Shift)

	f, err := b.PutShiftInForce(ctx, quaye, shiftOf("WP-47"), 0)
	require.NoError(t, err)
	require.Equal(t, 1, f.Version)
	require.Equal(t, "I. Quaye", f.By)
	require.Equal(t, "2026-12-01", f.Ask.Day)
	today, err := b.Today(ctx, tolley)
	require.NoError(t, err)
	require.NotEmpty(t, today.Shift)
	require.LessOrEqual(t, len(today.Shift), 5)
	for i, x := range today.Shift {
		require.Contains(t, x.IDs, tolley.ID)
		if i > 0 {
			require.False(t, x.Start.Before(today.Shift[i-1].Start))
		}
	}
	namesake := tolley
	namesake.ID = quaye.ID
	theirs, err := b.Today(ctx, namesake)
	require.NoError(t, err)
	for _, x := range theirs.Shift {
		require.Contains(t, x.IDs, quaye.ID, "persons count, not names")
	}
	_, err = b.PutShiftInForce(ctx, quaye, shiftOf("WP-47"), 0)
	problem(t, err, app.Conflict, "another plan in force")

	again, err := b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	require.Empty(t, again.Moved, "nothing has changed")
	at := func(p app.ShiftPlan) map[string]time.Time {
		out := map[string]time.Time{}
		for _, x := range p.Activities {
			out[x.Kind.ID(x.Tag)] = x.Start
		}
		return out
	}
	was := at(*f.Plan)
	for id, start := range at(again) {
		require.True(t, was[id].Equal(start), id)
	}
	begun := map[string]bool{}
	for _, j := range f.Plan.Joints {
		begun[j.Tag] = j.RunID != ""
	}
	first := f.Plan.Activities[slices.IndexFunc(f.Plan.Activities,
		func(x app.ShiftActivity) bool { return !begun[x.Tag] && x.Kind == shutdown.Prepare })].Tag
	j, err := b.Joint(ctx, first)
	require.NoError(t, err)
	_, err = b.StartRun(ctx, tolley, first, j.Plan.Choices, "")
	require.NoError(t, err)
	_, err = b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err, "a joint that has begun is not in the new plan")
	f, err = b.PutShiftInForce(ctx, quaye, shiftOf("WP-47"), 1)
	require.NoError(t, err)
	require.Equal(t, 2, f.Version)
	for _, tag := range []string{first, f.Plan.Activities[0].Tag} {
		var want []string
		for _, x := range f.Plan.Activities {
			if x.Tag == tag {
				want = append(want, x.Kind.ID(tag)+x.Start.String())
			}
		}
		told, err := b.PlannedOf(ctx, tag)
		require.NoError(t, err)
		var got []string
		for _, x := range told {
			got = append(got, x.Kind.ID(tag)+x.Start.UTC().String())
		}
		require.ElementsMatch(t, want, got, "%s by the plan that was put in force last", tag)
	}

	short := shiftOf("WP-47")
	short.Days, short.Shift = 1, shutdown.Shift{From: "07:00", To: "07:10"}
	_, err = b.PutShiftInForce(ctx, quaye, short, 2)
	problem(t, err, app.Conflict, "nothing in this plan")
}

// A plan that was put in force by the first version of the shift is read, followed and planned anew.
func TestPlanOfTheFirstVersionIsRead(t *testing.T) {
	b := newBench(t, true)
	b.now = time.Date(2026, 12, 1, 7, 50, 0, 0, time.UTC)
	data, err := os.ReadFile("testdata/shiftplan_first.json")
	require.NoError(t, err)
	ask := `{"day":"2026-12-01","days":1,"shift":{"from":"07:00","to":"15:30","breakFrom":"12:00","breakTo":"12:30"},"longer":false}`
	_, err = b.pool.Exec(ctx, `insert into shift_plans (package, version, made_by, made_at, ends_at, ask, plan)
		values ('WP-47', 1, 'I. Quaye', $1, $2, $3, $4)`, b.now, b.now.Add(8*time.Hour), ask, string(data))
	require.NoError(t, err)
	f, err := b.ShiftInForce(ctx, "WP-47")
	require.NoError(t, err)
	require.NotNil(t, f.Plan.Moves)
	require.NotNil(t, f.Plan.Isolations)
	require.NotNil(t, f.Plan.Joints[0].After)
	require.Equal(t, f.Plan.Finish, f.Plan.P80, "it tells no spread")
	s, err := b.ShiftStands(ctx, "WP-47")
	require.NoError(t, err)
	require.Equal(t, []string{"SW-116 is 50 min behind."}, s.Old)
	_, err = b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	_, err = b.Progress(ctx, "WP-47")
	require.NoError(t, err)
}
