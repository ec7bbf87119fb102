package app_test

import (
	"slices"
	"testing"

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

// A walk-round leads from one joint to the nearest that waits for somebody's eyes; what is seen stands behind the
// record, signed, and a No makes the joint due again.
func TestWalkRoundLeadsAndKeeps(t *testing.T) {
	b := newBench(t, true)
	abara := b.crew["R. Abara"]
	round, err := b.WalkRound(ctx)
	require.NoError(t, err)
	require.Zero(t, round.Seen)
	at := slices.IndexFunc(round.Stops, func(s app.WalkStop) bool { return s.Tag == "SW-117" })
	require.GreaterOrEqual(t, at, 0)
	require.Contains(t, round.Stops[at].Why, "to prove")

	j, err := b.WalkJoint(ctx, "SW-117")
	require.NoError(t, err)
	require.Empty(t, j.Record, "it is not sealed")
	_, err = b.PutWalk(ctx, abara, "SW-117", app.WalkInput{Answers: seen(nil), PIN: "9340"})
	problem(t, err, app.Conflict, "no record of its present state")
	_, err = b.WalkJoint(ctx, "SW-999")
	problem(t, err, app.NotFound, "SW-999")

	j, err = b.WalkJoint(ctx, "TB-206")
	require.NoError(t, err)
	require.Equal(t, run.GlyphAccepted, j.Glyph)
	require.True(t, j.Holds)
	require.Equal(t, "bolt 6 stood out twice", j.Watch)
	require.Nil(t, j.WalkedAt)
	_, err = b.PutWalk(ctx, abara, "TB-206", app.WalkInput{Answers: seen(nil), PIN: "0000"})
	require.Error(t, err, "another PIN")
	j, err = b.PutWalk(ctx, abara, "TB-206", app.WalkInput{Answers: seen(nil), PIN: "9340"})
	require.NoError(t, err)
	require.Equal(t, "R. Abara", j.WalkedBy)
	require.Equal(t, run.GlyphAccepted, j.Glyph)
	require.Equal(t, 1, j.Additions)

	j, err = b.PutWalk(ctx, abara, "TB-206", app.WalkInput{After: 1, PIN: "9340", Answers: seen(func(a []walk.Answer) {
		a[1].Yes, a[1].Note = false, "weeps between 5 and 6"
	})})
	require.NoError(t, err)
	require.Equal(t, run.GlyphDueAgain, j.Glyph)
	v, err := b.Record(ctx, j.Record)
	require.NoError(t, err)
	require.Equal(t, record.Finding, v.Additions[1].Kind)
	require.Contains(t, v.Additions[1].What, "not dry: weeps between 5 and 6")
	round, err = b.WalkRound(ctx)
	require.NoError(t, err)
	require.Equal(t, 1, round.Seen)
	require.True(t, slices.ContainsFunc(round.Stops, func(s app.WalkStop) bool { return s.Tag == "TB-206" }),
		"seen, and to be looked at again")
	j, err = b.WalkJoint(ctx, "SW-117")
	require.NoError(t, err)
	require.Equal(t, "TB-206", j.Next)
}
