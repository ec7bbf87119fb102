package app_test

import (
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/core/walk"
	"dynacor/internal/app"
)

func seen(change func([]walk.Answer)) []walk.Answer {
	var out []walk.Answer
	for _, q := range walk.Questions {
		out = append(out, walk.Answer{Code: q.Code, Yes: true})
	}
	if change != nil {
		change(out)
	}
	return out
}

// look is a look of now at a joint as it stands.
func (b *bench) look(t *testing.T, tag string, answers []walk.Answer) app.Look {
	t.Helper()
	j, err := b.WalkJoint(ctx, tag)
	require.NoError(t, err)
	return app.Look{ID: uuid.NewString(), Tag: tag, Record: j.Record, After: j.Additions, At: b.now, Answers: answers}
}

// signed signs looks by the PIN of R. Abara and gives what became of them.
func (b *bench) signed(t *testing.T, looks ...app.Look) []app.LookResult {
	t.Helper()
	out, err := b.PutLooks(ctx, b.crew["R. Abara"], app.LooksInput{Looks: looks, Clock: b.now, PIN: "9340"})
	require.NoError(t, err)
	require.Len(t, out, len(looks))
	return out
}

// A walk-round leads from one joint to the nearest that waits for somebody's eyes; what is seen stands behind the
// record, signed, and a No makes the joint due again.
func TestWalkRoundLeadsAndKeeps(t *testing.T) {
	b := newBench(t, true)
	round, err := b.WalkRound(ctx)
	require.NoError(t, err)
	require.Zero(t, round.Seen)
	at := slices.IndexFunc(round.Stops, func(s app.WalkStop) bool { return s.Tag == "SW-117" })
	require.GreaterOrEqual(t, at, 0)
	require.Contains(t, round.Stops[at].Why, "to prove")

	j, err := b.WalkJoint(ctx, "SW-117")
	require.NoError(t, err)
	require.Empty(t, j.Record, "it is not sealed")
	require.Contains(t, b.signed(t, b.look(t, "SW-117", seen(nil)))[0].Refused, "no record of its present state")

	j, err = b.WalkJoint(ctx, "TB-206")
	require.NoError(t, err)
	require.Equal(t, run.GlyphAccepted, j.Glyph)
	require.True(t, j.Holds)
	require.Equal(t, "bolt 6 stood out twice", j.Watch)
	require.Nil(t, j.WalkedAt)
	_, err = b.PutLooks(ctx, b.crew["R. Abara"], app.LooksInput{Looks: []app.Look{b.look(t, "TB-206", seen(nil))},
		Clock: b.now, PIN: "0000"})
	require.Error(t, err, "another PIN")
	j = *b.signed(t, b.look(t, "TB-206", seen(nil)))[0].Joint
	require.Equal(t, "R. Abara", j.WalkedBy)
	require.Equal(t, b.now, *j.WalkedAt)
	require.Equal(t, run.GlyphAccepted, j.Glyph)
	require.Equal(t, 1, j.Additions)

	j = *b.signed(t, b.look(t, "TB-206", seen(func(a []walk.Answer) {
		a[1].Yes, a[1].Note = false, "weeps between 5 and 6"
	})))[0].Joint
	require.Equal(t, run.GlyphDueAgain, j.Glyph)
	v, err := b.Record(ctx, j.Record)
	require.NoError(t, err)
	require.Equal(t, record.Finding, v.Additions[1].Kind)
	require.Contains(t, v.Additions[1].What, "not dry: weeps between 5 and 6")
	require.Nil(t, v.Additions[1].SeenAt, "signed where it was seen")
	round, err = b.WalkRound(ctx)
	require.NoError(t, err)
	require.Equal(t, 1, round.Seen)
	require.True(t, slices.ContainsFunc(round.Stops, func(s app.WalkStop) bool { return s.Tag == "TB-206" }),
		"seen, and to be looked at again")
	j, err = b.WalkJoint(ctx, "SW-117")
	require.NoError(t, err)
	require.Equal(t, "TB-206", j.Next)
}

// A tag that is not there is refused with those that may be meant.
func TestTagOfAWalkThatIsNotThere(t *testing.T) {
	b := newBench(t, true)
	_, err := b.WalkJoint(ctx, "SW-171")
	problem(t, err, app.NotFound, "There is no joint SW-171")
	p, ok := app.AsProblem(err)
	require.True(t, ok)
	require.Equal(t, "SW-117", p.Choices[0])
	_, err = b.WalkJoint(ctx, "QQ-999")
	p, ok = app.AsProblem(err)
	require.True(t, ok)
	require.Empty(t, p.Choices)
}

// Who walks where there is no network takes along what is to be seen, and each joint as it stands; the rest of the
// plant comes after.
func TestWalkIsTakenAlong(t *testing.T) {
	b := newBench(t, true)
	along, err := b.WalkAlong(ctx)
	require.NoError(t, err)
	round, err := b.WalkRound(ctx)
	require.NoError(t, err)
	require.Equal(t, round, along.Round)
	require.Greater(t, len(along.Joints), len(round.Stops))
	tags := map[string]app.WalkJoint{}
	for i, j := range along.Joints {
		require.NotContains(t, tags, j.Tag)
		tags[j.Tag] = j
		isStop := slices.ContainsFunc(round.Stops, func(s app.WalkStop) bool { return s.Tag == j.Tag })
		require.Equal(t, i < len(round.Stops), isStop, "%s: stops first", j.Tag)
	}
	for _, tag := range []string{"TB-206", round.Stops[0].Tag} {
		j, err := b.WalkJoint(ctx, tag)
		require.NoError(t, err)
		require.Equal(t, j, tags[tag])
	}
}

// Looks without network are signed together by one PIN. Each keeps its time, stands by itself, and is added once however
// often it is sent; the day counts from when a joint was seen.
func TestLooksAreSignedTogetherLater(t *testing.T) {
	b := newBench(t, true)
	b.now = b.now.Add(24 * time.Hour) // 9:00 of the day after they were sealed
	old := b.look(t, "TB-206", seen(nil))
	old.At = b.now.Add(-10 * time.Hour) // 23:00 of the day before
	found := b.look(t, "SW-111", seen(func(a []walk.Answer) { a[3].Yes, a[3].Note = false, "tag lost" }))
	found.At = b.now.Add(-3 * time.Hour)
	mute := b.look(t, "SC-11", seen(func(a []walk.Answer) { a[0].Yes = false }))
	other := b.look(t, "SC-11", seen(nil))
	other.Record = old.Record
	nobody := b.look(t, "SC-11", seen(nil))
	nobody.ID = "7"
	early := b.look(t, "SW-111", seen(nil))
	early.At = b.now.Add(-8 * 24 * time.Hour)
	none := b.look(t, "SW-111", seen(nil))
	none.Record = "TS-0000-00000"
	out := b.signed(t, old, found, mute, other, nobody, early, none)
	for i, want := range []struct{ refused, field string }{{}, {}, {"not what was seen", "answers.marks"},
		{"is of TB-206, not of SC-11", "record"}, {"no identifier", "id"}, {"This look is before the record was sealed. Set", "at"},
		{"no record TS-0000-00000", ""}} {
		require.Equal(t, want.field, out[i].Field, i)
		if want.refused == "" {
			require.Empty(t, out[i].Refused)
			require.NotNil(t, out[i].Joint)
			continue
		}
		require.Contains(t, out[i].Refused, want.refused)
		require.Nil(t, out[i].Joint)
	}
	require.Equal(t, old.At, *out[0].Joint.WalkedAt)
	require.Equal(t, run.GlyphDueAgain, out[1].Joint.Glyph)
	round, err := b.WalkRound(ctx)
	require.NoError(t, err)
	require.Equal(t, 1, round.Seen, "TB-206 was seen yesterday")

	b.now = b.now.Add(time.Minute)
	out = b.signed(t, old, found)
	require.Empty(t, out[0].Refused+out[1].Refused, "sent again")
	require.Equal(t, 1, out[0].Joint.Additions)
	again := old
	again.ID = uuid.NewString()
	out = b.signed(t, again)
	require.Contains(t, out[0].Refused, "One addition stands behind")
	require.Equal(t, "after", out[0].Field)
	v, err := b.Record(ctx, old.Record)
	require.NoError(t, err)
	require.True(t, v.Report.OK, v.Report.Problems)
	require.Equal(t, old.At, *v.Additions[0].SeenAt)
	require.Equal(t, old.ID, v.Additions[0].Look)
}
