package app_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/internal/app"
)

// A package is held against its plan: by area, over time, with what is behind and what is stopped.
func TestProgressOfAPackage(t *testing.T) {
	b := newBench(t, true)
	v, err := b.Progress(ctx, "WP-47")
	require.NoError(t, err)
	require.Nil(t, v.InForce)
	require.Empty(t, v.Planned)
	total, done := 0, 0
	for _, a := range v.Areas {
		total, done = total+a.Total, done+a.Done
	}
	require.Equal(t, v.Total, total)
	require.Len(t, v.Done, done)
	require.Positive(t, done)
	require.NotEmpty(t, v.Stopped, "SW-115 has the wrong paste")

	b.now = time.Date(2026, 12, 1, 6, 0, 0, 0, time.UTC)
	f, err := b.PutShiftInForce(ctx, b.crew["I. Quaye"], shiftOf("WP-47"), 0)
	require.NoError(t, err)
	v, err = b.Progress(ctx, "WP-47")
	require.NoError(t, err)
	require.Zero(t, v.Behind, "what was done before the plan is no news")
	require.True(t, f.Plan.Finish.Equal(*v.Finish))
	tags := map[string]bool{}
	for _, x := range f.Plan.Activities {
		tags[x.Tag] = true
	}
	tests := 0
	for _, j := range f.Plan.Joints {
		if j.Test && tags[j.Tag] {
			tests++
		}
	}
	require.Len(t, v.Planned, done+len(tags)-tests)
	require.True(t, slices.IsSortedFunc(v.Planned, time.Time.Compare))
	b.now = f.Plan.Finish.Add(time.Minute)
	v, err = b.Progress(ctx, "WP-47")
	require.NoError(t, err)
	require.Equal(t, len(tags)-tests, v.Behind)
	require.NotEmpty(t, v.Says)
	_, err = b.Progress(ctx, "WP-0")
	problem(t, err, app.NotFound, "no work package")
}
