package app_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/lab"
	"dynacor/core/plan"
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

// Where the house rules ask for it, other stages are taken over only by whoever names what the Lab says of them; own
// targets only with an engineer's reason, which stays in the plan.
func TestSchoolIsComparedAndOwnTargetsAccepted(t *testing.T) {
	b := newBench(t, true)
	ctx := context.Background()
	const tag = "SW-116"
	other := plan.Pick(plan.GroupChoices{Scheme: "50_80_100", Pattern: "group"})
	technician, engineer := b.crew["M. Tolley"], b.crew["J. Hartwell"]
	c, err := b.CompareChange(ctx, tag, other)
	require.NoError(t, err)
	require.Nil(t, c, "the house rules ask for nothing")

	forged := other
	forged.Compared = "Both are even."
	_, err = b.SavePlan(ctx, technician, tag, forged, "")
	problem(t, err, app.Invalid, "is not what the Lab says")

	lib, err := b.Library(ctx)
	require.NoError(t, err)
	rules := lib.HouseRules
	rules.LabCompare = plan.LabAsked
	rules.Reasons["labCompare"] = "Habit is no figure."
	_, err = b.PutHouseRules(ctx, engineer, app.HouseRulesInput{Rules: rules, Reason: "figures instead of habit"})
	require.NoError(t, err)
	_, err = b.SavePlan(ctx, technician, tag, other, "")
	problem(t, err, app.Invalid, "compare both in the Lab first")
	c, err = b.CompareChange(ctx, tag, other)
	require.NoError(t, err)
	require.Equal(t, []float64{50, 80, 100}, c.Now.Stages)
	require.Equal(t, []float64{30, 70, 100}, c.Was.Stages)
	require.Contains(t, c.Says, "Before on the left, now on the right. ")
	other.Compared = "they are alike"
	_, err = b.SavePlan(ctx, technician, tag, other, "")
	problem(t, err, app.Invalid, c.Says)
	other.Compared = c.Says
	d, err := b.SavePlan(ctx, technician, tag, other, "")
	require.NoError(t, err)
	require.Equal(t, c.Says, d.Plan.Choices.Compared)
	same, err := b.CompareChange(ctx, tag, other)
	require.NoError(t, err)
	require.Nil(t, same, "it is the plan already")

	first := other.Of("", true)
	first.OwnTargets = []float64{100, 104, 98, 103, 100, 104, 98, 103, 100, 104, 98, 103}
	own := plan.Choices{Compared: other.Compared, Groups: []plan.GroupChoices{first}}
	_, err = b.SavePlan(ctx, technician, tag, own, "evens out")
	problem(t, err, app.Forbidden, "Own targets for each bolt, 98 to 104 %")
	_, err = b.SavePlan(ctx, engineer, tag, own, " ")
	problem(t, err, app.Invalid, "needs a reason")
	d, err = b.SavePlan(ctx, engineer, tag, own, "evens out what the neighbours take")
	require.NoError(t, err)
	require.Equal(t, &plan.Approval{By: "J. Hartwell", Why: "evens out what the neighbours take"}, d.Plan.Approved)
	require.Equal(t, first.OwnTargets, d.Plan.ChoicesOf(d.Plan.First()).OwnTargets)
}
