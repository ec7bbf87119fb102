package app_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/plan"
	"dynacor/internal/app"
)

// A joint with a sealed record is worked on again with a reason; the new run and its record name the one before, which
// stays as it is.
func TestSealedJointIsWorkedOnAgain(t *testing.T) {
	b := newBench(t, true)
	d, err := b.Joint(ctx, "SW-111")
	require.NoError(t, err)
	number := d.Records[0].Number
	before, err := b.RecordFile(ctx, number)
	require.NoError(t, err)
	_, err = b.StartRun(ctx, b.crew["M. Tolley"], "SW-111", plan.Choices{}, "")
	require.Equal(t, "again", problem(t, err, app.Invalid, number).Field)
	v, err := b.WorkAgain(ctx, b.crew["M. Tolley"], "SW-111", plan.Choices{}, "", " re-torque after a day ")
	require.NoError(t, err)
	require.Equal(t, number, v.State.Follows)
	require.Equal(t, "re-torque after a day", v.State.FollowsWhy)
	require.Empty(t, v.Record)
	after, err := b.RecordFile(ctx, number)
	require.NoError(t, err)
	require.Equal(t, before, after)
	_, err = b.WorkAgain(ctx, b.crew["M. Tolley"], "SW-111", plan.Choices{}, "", "twice")
	problem(t, err, app.Conflict, "in hand already")
	v, err = b.WorkAgain(ctx, b.crew["M. Tolley"], "SW-112", plan.Choices{}, "", "no record yet")
	require.NoError(t, err)
	require.Empty(t, v.State.Follows, "it follows nothing")
}
