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
		for _, name := range []string{"R. Abara", "P. Sorley"} {
			c.Away = append(c.Away, shutdown.Away{Person: b.crew[name].ID, From: "2026-12-01T07:00", To: "2026-12-01T11:00",
				Why: "course"})
		}
	})
	p, err := b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	nine := time.Date(2026, 12, 1, 9, 0, 0, 0, p.Begin.Location())
	require.Equal(t, 1, p.Constraints)
	require.False(t, of(p, second, shutdown.Prepare).Start.Before(nine))
	require.False(t, of(p, second, shutdown.Prove).Start.Before(nine.Add(2*time.Hour)), "the inspectors are away")
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
	methods := map[shutdown.Method]int{}
	for _, x := range p.Paces {
		require.NotEmpty(t, x.Family)
		require.Positive(t, x.N)
		methods[x.Method]++
		require.True(t, x.Median < x.Correction && x.Correction < 1 || x.Median > x.Correction && x.Correction > 1 ||
			x.Median == 1, "shrunk toward 1: %+v", x)
	}
	require.Len(t, methods, 3, "checks, pulls and rounds, each by itself")
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

// A shutdown holds work packages: their joints are planned, counted and led in lists as its own.
func TestShutdownHoldsWorkPackages(t *testing.T) {
	b := newBench(t, true)
	row := func(code string) app.PackageRow {
		list, err := b.Packages(ctx)
		require.NoError(t, err)
		n := slices.IndexFunc(list, func(p app.PackageRow) bool { return p.Code == code })
		require.GreaterOrEqual(t, n, 0)
		return list[n]
	}
	whole := row("SD-26")
	require.Equal(t, 67, whole.Joints)
	sum := 0
	list, err := b.Packages(ctx)
	require.NoError(t, err)
	for _, p := range list {
		if p.PartOf == "SD-26" {
			sum += p.Joints
		}
	}
	require.Equal(t, whole.Joints, sum)

	_, err = b.PutPackage(ctx, "WP-47", app.PackageChange{Name: "Cooler swap"})
	require.NoError(t, err)
	require.Equal(t, whole.Joints-row("WP-47").Joints, row("SD-26").Joints)
	v, err := b.Constraints(ctx, "SD-26")
	require.NoError(t, err)
	require.Len(t, v.Joints, row("SD-26").Joints)
	p, err := b.Progress(ctx, "SD-26")
	require.NoError(t, err)
	require.Equal(t, row("SD-26").Joints, p.Total)

	for in, says := range map[app.PackageChange]string{{Name: " "}: "no name",
		{Name: "Cooler swap", PartOf: "WP-47"}: "cannot hold", {Name: "Cooler swap", PartOf: "WP-00"}: "cannot hold",
		{Name: "Cooler swap", PartOf: "WP-41"}: "cannot hold"} {
		_, err := b.PutPackage(ctx, "WP-47", in)
		problem(t, err, app.Invalid, says)
	}
	_, err = b.PutPackage(ctx, "SD-26", app.PackageChange{Name: "Unit 2 shutdown", PartOf: "WP-47"})
	problem(t, err, app.Invalid, "holds WP-41")
	made, err := b.PutPackage(ctx, "WP-60", app.PackageChange{Name: "Left-overs", PartOf: "SD-26"})
	require.NoError(t, err)
	require.Equal(t, app.PackageRow{Code: "WP-60", Name: "Left-overs", PartOf: "SD-26"}, made)
}

// The demo site stands in the middle of a shutdown: nine people in two shifts, and one job has slipped since the plan
// was put in force. Planning again leaves that one out and most of the rest as it was announced.
func TestShutdownOfTheDemoIsUnderWay(t *testing.T) {
	b := newBench(t, true)
	f, err := b.ShiftInForce(ctx, "SD-26")
	require.NoError(t, err)
	require.Len(t, f.Plan.Isolations, 2)
	require.Len(t, f.Plan.Crews, 2)
	require.Len(t, append(slices.Clone(f.Plan.Crews[0].People), f.Plan.Crews[1].People...), 9)
	late := f.Plan.Crews[1]
	for _, x := range f.Plan.Activities {
		for _, who := range x.People {
			if !slices.Contains(late.People, who) {
				continue
			}
			in := slices.ContainsFunc(late.Open, func(o app.ShiftSpan) bool {
				return !x.Start.Before(o.From) && x.Start.Before(o.To)
			})
			require.True(t, in, "%s %s by %s begins in the late shift", x.Tag, x.Kind, who)
		}
	}
	require.NotEmpty(t, f.Plan.Waits)
	for _, w := range f.Plan.Waits {
		long := int(w.To.Sub(w.From).Minutes())
		require.True(t, w.Most && long <= w.Minutes || !w.Most && long >= w.Minutes, "%s %d of %d", w.Tag, long, w.Minutes)
	}
	s, err := b.ShiftStands(ctx, "SD-26")
	require.NoError(t, err)
	require.Len(t, s.Old, 1)
	require.Contains(t, s.Old[0], "SW-115 is stopped")

	ask := f.Ask
	ask.Package = "SD-26"
	anew, err := b.PlanShift(ctx, ask)
	require.NoError(t, err)
	require.Empty(t, of(anew, "SW-115", shutdown.Tighten).Tag)
	require.NotEmpty(t, of(*f.Plan, "SW-115", shutdown.Tighten).Tag)
	require.Less(t, len(anew.Moves), len(f.Plan.Activities)/3)
}
