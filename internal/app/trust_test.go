package app_test

import (
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/tool"
)

func check(purpose tool.Purpose, set float64, readings ...float64) tool.BenchCheck {
	return tool.BenchCheck{Purpose: purpose, Meter: "TM-1", Steps: []tool.CheckStep{{Set: set, Readings: readings}}}
}

func TestFailedCheckPutsJointsInDoubt(t *testing.T) {
	b := newBench(t, true)
	tolley := b.crew["M. Tolley"]
	before, err := b.Tool(ctx, "W-52")
	require.NoError(t, err)
	require.NotEmpty(t, before.Used)

	d, err := b.CheckTool(ctx, tolley, "W-52", check(tool.PreUse, 400, 402, 399, 401))
	require.NoError(t, err)
	require.True(t, d.Checks[0].Verdict.Pass)
	require.Equal(t, b.now.Format(time.DateOnly), d.Since, "a passed check is the last good evidence")
	require.Empty(t, d.Used, "nothing was tightened since")

	b2 := newBench(t, true) // without the good check the whole time since the calibration is in doubt
	tolley = b2.crew["M. Tolley"]
	abara := b2.crew["R. Abara"]
	d, err = b2.CheckTool(ctx, tolley, "W-52", check(tool.PreUse, 400, 380, 384, 379))
	require.NoError(t, err)
	require.False(t, d.Checks[0].Verdict.Pass)
	require.Contains(t, d.Checks[0].Verdict.Sentence, "it gives less than it shows")
	require.Equal(t, tool.Quarantined, d.Tool.Tool.State)
	require.Contains(t, d.Tool.Tool.StateReason, "failed on the torque meter")
	require.Len(t, d.Doubts, len(before.Used))
	tag := d.Doubts[0].Joint
	j, err := b2.Joint(ctx, tag)
	require.NoError(t, err)
	require.Equal(t, "W-52", j.Doubts[0].Tool)
	_, err = b2.Quarantine(ctx, tolley, "W-52", "dropped as well")
	require.NoError(t, err)
	d, err = b2.Tool(ctx, "W-52")
	require.NoError(t, err)
	require.Len(t, d.Doubts, len(before.Used), "in doubt once")

	_, err = b2.CloseDoubt(ctx, tolley, d.Doubts[0].ID, "looked at it")
	problem(t, err, http.StatusForbidden, "out of doubt")
	_, err = b2.CloseDoubt(ctx, abara, d.Doubts[0].ID, " ")
	problem(t, err, http.StatusUnprocessableEntity, "Say what was looked at")
	d, err = b2.CloseDoubt(ctx, abara, d.Doubts[0].ID, "restart torque of all bolts within the window")
	require.NoError(t, err)
	last := d.Doubts[len(d.Doubts)-1]
	require.Equal(t, "R. Abara", last.ClosedBy, "closed ones stand at the end")
	_, err = b2.CloseDoubt(ctx, abara, last.ID, "again")
	problem(t, err, http.StatusConflict, "closed already")
	j, err = b2.Joint(ctx, tag)
	require.NoError(t, err)
	require.Empty(t, j.Doubts)

	// Found right after all, as it was found: what it tightened, it tightened rightly.
	five := check(tool.AsFound, 400, 401, 402, 400, 399, 401)
	_, err = b2.CheckTool(ctx, tolley, "W-52", five)
	problem(t, err, http.StatusForbidden, "in doubt")
	d, err = b2.CheckTool(ctx, abara, "W-52", five)
	require.NoError(t, err)
	for _, x := range d.Doubts {
		require.NotEmpty(t, x.ClosedBy)
	}
	require.Equal(t, tool.Quarantined, d.Tool.Tool.State, "a check does not release: that is said by a person")
}

func TestImpossibleChecksAreRefused(t *testing.T) {
	b := newBench(t, true)
	tolley := b.crew["M. Tolley"]
	for field, c := range map[string]tool.BenchCheck{
		"meter":   {Purpose: tool.PreUse, Steps: []tool.CheckStep{{Set: 400, Readings: []float64{400, 400, 400}}}},
		"purpose": {Purpose: "fun", Meter: "TM-1"},
	} {
		_, err := b.CheckTool(ctx, tolley, "W-52", c)
		require.Equal(t, field, problem(t, err, http.StatusUnprocessableEntity, "").Field)
	}
	for why, c := range map[string]tool.BenchCheck{"readings": check(tool.PreUse, 400, 400, 401), "is outside": check(tool.PreUse, 100, 100, 100, 100), "between two marks": check(tool.PreUse, 401, 400, 400, 400), "half as much": check(tool.PreUse, 400, 400, 295*0.6, 400), "none given": {Purpose: tool.PreUse, Meter: "TM-1"}} {
		_, err := b.CheckTool(ctx, tolley, "W-52", c)
		require.Equal(t, "steps", problem(t, err, http.StatusUnprocessableEntity, why).Field)
	}
	d, err := b.Tool(ctx, "W-52")
	require.NoError(t, err)
	require.Empty(t, d.Checks)
	_, err = b.CheckTool(ctx, tolley, "W-99", check(tool.PreUse, 400, 400, 400, 400))
	problem(t, err, http.StatusNotFound, "W-99")
}

func TestWrenchIsTakenOutAndBroughtBack(t *testing.T) {
	b := newBench(t, true)
	tolley, quaye := b.crew["M. Tolley"], b.crew["I. Quaye"]
	d, err := b.CheckOut(ctx, tolley, "W-40", "cooler, unit 2")
	require.NoError(t, err)
	require.Equal(t, "M. Tolley", d.Tool.Holder)
	_, err = b.CheckOut(ctx, quaye, "W-40", "strainer")
	problem(t, err, http.StatusConflict, "out with M. Tolley, at cooler, unit 2")
	list, err := b.Crib(ctx)
	require.NoError(t, err)
	out := 0
	for _, v := range list.Tools {
		if v.Holder != "" {
			out++
		}
	}
	require.Equal(t, 2, out, "the electronic wrench of the demo is out as well")
	_, err = b.CheckOut(ctx, quaye, "W-61", "strainer")
	problem(t, err, http.StatusConflict, "Calibration of W-61 ran out")
	_, err = b.CheckOut(ctx, quaye, "W-31", "")
	problem(t, err, http.StatusUnprocessableEntity, "where it goes")
	d, err = b.ReturnTool(ctx, quaye, "W-40", tool.Care{Unwound: true, Complete: true})
	require.NoError(t, err)
	require.Equal(t, "in order", d.Loans[0].Care)
	require.Empty(t, d.Tool.Holder)
	_, err = b.ReturnTool(ctx, quaye, "W-40", tool.Care{})
	problem(t, err, http.StatusConflict, "is not out")
	_, err = b.CheckOut(ctx, tolley, "W-52", "cooler")
	require.NoError(t, err)
	d, err = b.ReturnTool(ctx, tolley, "W-52", tool.Care{Dropped: true, Complete: true, Note: "from the ladder"})
	require.NoError(t, err)
	require.Equal(t, tool.Quarantined, d.Tool.Tool.State)
	require.Contains(t, d.Loans[0].Care, "not put away as it should be")
	require.Contains(t, d.Loans[0].Care, "from the ladder")
	require.NotEmpty(t, d.Doubts)
}
