package app_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/shutdown"
	"dynacor/internal/app"
)

// constrain says something about WP-47 after what was said before.
func constrain(t *testing.T, b *bench, change func(*shutdown.Constraints)) app.ConstraintsView {
	t.Helper()
	v, err := b.Constraints(ctx, "WP-47")
	require.NoError(t, err)
	change(&v.Constraints)
	v, err = b.PutConstraints(ctx, b.crew["I. Quaye"], "WP-47", v.Constraints, v.Version)
	require.NoError(t, err)
	return v
}

func of(p app.ShiftPlan, tag string, k shutdown.Kind) app.ShiftActivity {
	n := slices.IndexFunc(p.Activities, func(x app.ShiftActivity) bool { return x.Tag == tag && x.Kind == k })
	if n < 0 {
		return app.ShiftActivity{}
	}
	return p.Activities[n]
}

// waiting gives two joints of the plan that nobody has begun.
func waiting(t *testing.T, p app.ShiftPlan) (string, string) {
	t.Helper()
	var tags []string
	for _, j := range p.Joints {
		if j.RunID == "" && j.Left == "" && !j.Test {
			tags = append(tags, j.Tag)
		}
	}
	require.GreaterOrEqual(t, len(tags), 2)
	return tags[0], tags[1]
}

// What is said of a work package is a version each; undoing walks back, and a change after that goes on from there.
func TestConstraintsAreVersions(t *testing.T) {
	b := newBench(t, true)
	quaye := b.crew["I. Quaye"]
	v, err := b.Constraints(ctx, "WP-47")
	require.NoError(t, err)
	require.Zero(t, v.Version)
	require.False(t, v.Undoes)
	require.NotEmpty(t, v.Joints)
	require.NotEmpty(t, v.People)
	_, err = b.UndoConstraints(ctx, quaye, "WP-47", 0)
	problem(t, err, app.Conflict, "nothing to undo")

	crews := func(v app.ConstraintsView) int {
		if len(v.Constraints.Areas) == 0 {
			return 0
		}
		return v.Constraints.Areas[0].Crews
	}
	set := func(n int) app.ConstraintsView {
		return constrain(t, b, func(c *shutdown.Constraints) {
			c.Areas = []shutdown.AreaConstraint{{Area: v.Joints[0].Area, Crews: n}}
		})
	}
	undo := func(after int) app.ConstraintsView {
		v, err := b.UndoConstraints(ctx, quaye, "WP-47", after)
		require.NoError(t, err)
		return v
	}
	require.Equal(t, 1, crews(set(1)))
	require.Equal(t, 2, crews(set(2)))
	require.Equal(t, 1, crews(undo(2)))
	require.Equal(t, 5, crews(set(5)))
	require.Equal(t, 1, crews(undo(4)))
	last := undo(5)
	require.Equal(t, 0, crews(last))
	require.Equal(t, 6, last.Version)
	require.False(t, last.Undoes)

	_, err = b.PutConstraints(ctx, quaye, "WP-47", shutdown.Empty(), 3)
	problem(t, err, app.Conflict, "changed these constraints meanwhile")
	bad := shutdown.Empty()
	bad.Areas = []shutdown.AreaConstraint{{Area: "Moon", Crews: 1}}
	_, err = b.PutConstraints(ctx, quaye, "WP-47", bad, 6)
	r, ok := quantity.RefusalIn(err)
	require.True(t, ok)
	require.Equal(t, "areas.Moon", r.Field)
	_, err = b.Constraints(ctx, "WP-0")
	problem(t, err, app.NotFound, "no work package")
}

// A plan is held to what was said, and tells it.
func TestShiftIsHeldToItsConstraints(t *testing.T) {
	b := newBench(t, true)
	b.now = time.Date(2026, 12, 1, 6, 0, 0, 0, time.UTC)
	free, err := b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	first, second := waiting(t, free)
	constrain(t, b, func(c *shutdown.Constraints) {
		c.Isolations = []shutdown.Isolation{{Code: "I-2", Name: "loop 2",
			Windows: []shutdown.Span{{From: "2026-12-01T09:00", To: "2026-12-02T15:00"}}}}
		c.Joints = []shutdown.JointConstraint{
			{Tag: first, Weight: 1, After: []string{second}, Access: "by the north ladder"},
			{Tag: second, Weight: 2, Isolation: "I-2", Due: "2026-12-01T09:30"}}
		c.Away = []shutdown.Away{{Person: b.crew["R. Abara"].ID, From: "2026-12-01T07:00", To: "2026-12-01T11:00", Why: "course"}}
	})
	p, err := b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	nine := time.Date(2026, 12, 1, 9, 0, 0, 0, p.Begin.Location())
	require.Equal(t, 1, p.Constraints)
	require.False(t, of(p, second, shutdown.Prepare).Start.Before(nine))
	require.False(t, of(p, second, shutdown.Prove).Start.Before(nine.Add(2*time.Hour)), "the inspector is away")
	require.False(t, of(p, first, shutdown.Prepare).Start.Before(of(p, second, shutdown.Prove).End))
	require.Equal(t, "loop 2", p.Isolations[0].Name)
	require.Equal(t, nine, p.Isolations[0].Windows[0].From)
	require.Equal(t, "R. Abara", p.Away[0].Name)
	for _, j := range p.Joints {
		switch j.Tag {
		case first:
			require.Equal(t, []string{second}, j.After)
			require.Equal(t, "by the north ladder", j.Access)
			require.Zero(t, j.Late)
		case second:
			require.Equal(t, int(of(p, second, shutdown.Prove).End.Sub(nine.Add(30*time.Minute)).Minutes()), j.Late)
			require.Equal(t, nine.Add(30*time.Minute), *j.Due)
		}
	}
	require.False(t, p.P50.After(p.P80))
	require.False(t, p.P80.IsZero())
}

// A bar in the hand is told what it breaks and where it would fit; put down as a pin it stands there in the next plan.
func TestPartOfTheWorkIsMovedByHand(t *testing.T) {
	b := newBench(t, true)
	b.now = time.Date(2026, 12, 1, 6, 0, 0, 0, time.UTC)
	quaye := b.crew["I. Quaye"]
	f, err := b.PutShiftInForce(ctx, quaye, shiftOf("WP-47"), 0)
	require.NoError(t, err)
	tag, _ := waiting(t, *f.Plan)
	prepare := of(*f.Plan, tag, shutdown.Prepare)
	move := func(x app.ShiftActivity, start time.Time, to string) app.ShiftVerdict {
		v, err := b.MoveShift(ctx, app.ShiftMove{Ask: shiftOf("WP-47"), InForce: true, Tag: x.Tag, Kind: x.Kind, Start: start,
			From: x.IDs[0], To: to})
		require.NoError(t, err)
		return v
	}
	still := move(prepare, prepare.Start, prepare.IDs[0])
	require.Empty(t, still.Breaks)
	require.Nil(t, still.Nearest)
	require.True(t, prepare.End.Equal(still.End))

	prove := of(*f.Plan, tag, shutdown.Prove)
	early := move(prove, f.Plan.Begin, prove.IDs[0])
	require.Contains(t, early.Breaks, "Tightening "+tag+" comes first.")
	require.False(t, early.Hard)
	wrong := move(prove, prove.Start, b.crew["M. Tolley"].ID)
	require.Contains(t, wrong.Breaks, "M. Tolley may not do proving "+tag+".")
	require.True(t, wrong.Hard)
	night := move(prepare, f.Plan.Begin.Add(14*time.Hour), prepare.IDs[0])
	require.True(t, night.Hard)
	require.Contains(t, night.Breaks, "Somebody is not at work for all of it.")
	require.NotNil(t, night.Nearest)
	require.Equal(t, "2026-12-01T21:00", night.Clock)
	require.Equal(t, night.Nearest.Format(shutdown.Clock), night.NearestClock)
	_, err = b.MoveShift(ctx, app.ShiftMove{Ask: shiftOf("WP-47"), InForce: true, Tag: "SW-0", Kind: "tighten", Start: b.now})
	problem(t, err, app.NotFound, "no part of this plan")

	eleven := time.Date(2026, 12, 1, 11, 0, 0, 0, f.Plan.Begin.Location())
	constrain(t, b, func(c *shutdown.Constraints) {
		c.Pins = []shutdown.Pin{{Tag: tag, Kind: shutdown.Prepare, Start: eleven.Format(shutdown.Clock), Reason: "crane"}}
	})
	p, err := b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	got := of(p, tag, shutdown.Prepare)
	require.True(t, eleven.Equal(got.Start), got.Start)
	require.Equal(t, "I. Quaye: crane", got.Pinned)
	n := slices.IndexFunc(p.Moves, func(m app.ShiftMoved) bool { return m.Tag == tag && m.Kind == shutdown.Prepare })
	require.GreaterOrEqual(t, n, 0, "the difference is told before it is taken")
	require.True(t, prepare.Start.Equal(p.Moves[n].Start))
	s, err := b.ShiftStands(ctx, "WP-47")
	require.NoError(t, err)
	require.Contains(t, s.Old, "The constraints have changed since.")
}

// What happens at the joints is followed: a part that should have begun is behind, and is planned anew from now on.
func TestPlanInForceIsFollowed(t *testing.T) {
	b := newBench(t, true)
	b.now = time.Date(2026, 12, 1, 6, 0, 0, 0, time.UTC)
	none, err := b.ShiftStands(ctx, "WP-47")
	require.NoError(t, err)
	require.Empty(t, none.Parts)
	f, err := b.PutShiftInForce(ctx, b.crew["I. Quaye"], shiftOf("WP-47"), 0)
	require.NoError(t, err)
	s, err := b.ShiftStands(ctx, "WP-47")
	require.NoError(t, err)
	require.NotEmpty(t, s.Parts)
	for _, p := range s.Parts {
		require.Zero(t, p.Behind, "%+v", p)
	}
	for _, j := range s.Joints {
		require.True(t, j.RunID == "" || j.Glyph != run.GlyphAccepted)
	}
	tag, _ := waiting(t, *f.Plan)
	start := of(*f.Plan, tag, shutdown.Prepare).Start
	b.now = start.Add(45 * time.Minute)
	s, err = b.ShiftStands(ctx, "WP-47")
	require.NoError(t, err)
	require.Contains(t, s.Old, tag+" is 45 min behind.")
	again, err := b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	require.False(t, of(again, tag, shutdown.Prepare).Start.Before(b.now), "nothing is planned into the past")
	require.NotEmpty(t, again.Moves)
}

// How long pulls took at finished joints of the site corrects the time of the next ones, and is told with how many
// there were.
func TestHistoryOfTheSiteCorrectsTheTimes(t *testing.T) {
	b := newBench(t, true)
	p, err := b.PlanShift(ctx, shiftOf("WP-41"))
	require.NoError(t, err)
	require.NotEmpty(t, p.Paces, "two of the package are finished")
	for _, x := range p.Paces {
		require.NotEmpty(t, x.Family)
		require.Positive(t, x.N)
		require.True(t, x.Median < x.Correction && x.Correction < 1 || x.Median > x.Correction && x.Correction > 1 ||
			x.Median == 1, "shrunk toward 1: %+v", x)
	}
}

// A part that was pinned a moment ago is judged in the plan that came of it, not in the one before.
func TestMoveIsJudgedInThePlanThatIsShown(t *testing.T) {
	b := newBench(t, true)
	b.now = time.Date(2026, 12, 1, 6, 0, 0, 0, time.UTC)
	before, err := b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	tag, _ := waiting(t, before)
	still := func(x app.ShiftActivity) app.ShiftVerdict {
		v, err := b.MoveShift(ctx, app.ShiftMove{Ask: shiftOf("WP-47"), Tag: x.Tag, Kind: x.Kind, Start: x.Start,
			From: x.IDs[0], To: x.IDs[0]})
		require.NoError(t, err)
		return v
	}
	require.Empty(t, still(of(before, tag, shutdown.Prepare)).Breaks)
	constrain(t, b, func(c *shutdown.Constraints) {
		c.Pins = []shutdown.Pin{{Tag: tag, Kind: shutdown.Prepare, Start: "2026-12-01T11:00", Reason: "crane"}}
	})
	after, err := b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	require.Empty(t, still(of(after, tag, shutdown.Prepare)).Breaks, "as it is shown nothing breaks")
}
