package app_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/lab"
	"dynacor/internal/app"
)

// What the records of a joint measured is brought to the Lab, and the gasket that explains it stays with the joint until it
// is taken back.
func TestMeasuredGasketStaysWithTheJoint(t *testing.T) {
	b := newBench(t, true)
	ctx := context.Background()
	engineer := b.crew["J. Hartwell"]
	bare, err := b.LabSetup(ctx, "SC-12")
	require.NoError(t, err)
	require.Len(t, bare.Measured, 1)
	require.Equal(t, lab.MeasuredAngle, bare.Measured[0].Of)
	require.Equal(t, sealedNumber(t, b, "SC-12"), bare.Measured[0].From)
	require.InDelta(t, 32, bare.Measured[0].Values["7"], 0)
	require.InDelta(t, 0, bare.Measured[0].Values["2"], 0)
	require.Nil(t, bare.Kept)
	j, err := lab.Of(bare.Setup)
	require.NoError(t, err)
	o, err := j.Overlay(ctx, bare.Measured[0])
	require.NoError(t, err)
	require.Contains(t, o.Sentence, "Bolt 7 does not fit")

	records := []string{bare.Measured[0].From}
	_, err = b.KeepLabFit(ctx, engineer, "SC-12", records, " ")
	problem(t, err, app.Invalid, "needs a reason")
	_, err = b.KeepLabFit(ctx, engineer, "SC-12", []string{"TS-2020-00001"}, "measured")
	require.ErrorContains(t, err, "measured nothing")
	kept, err := b.KeepLabFit(ctx, engineer, "SC-12", records, "the first round told it")
	require.NoError(t, err)
	require.Equal(t, "J. Hartwell", kept.Kept.By)
	require.Equal(t, "the first round told it", kept.Kept.Reason)
	require.Equal(t, records, kept.Kept.Fitted.From)
	require.InDelta(t, .6, kept.Setup.CurveBy, .05)
	again, err := b.LabSetup(ctx, "SC-12")
	require.NoError(t, err)
	require.Equal(t, kept.Setup, again.Setup)

	back, err := b.KeepLabFit(ctx, engineer, "SC-12", nil, "another gasket now")
	require.NoError(t, err)
	require.Nil(t, back.Kept)
	require.Zero(t, back.Setup.CurveBy)
	_, err = b.KeepLabFit(ctx, engineer, "SC-99", records, "measured")
	problem(t, err, app.NotFound, "SC-99")
}
