package app_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/tool"
	"dynacor/internal/app"
)

func check(purpose tool.Purpose, set float64, readings ...float64) tool.BenchCheck {
	return tool.BenchCheck{Purpose: purpose, Meter: "M-1", Steps: []tool.CheckStep{{Set: set, Readings: readings}}}
}

func TestFailedCheckPutsJointsInDoubt(t *testing.T) {
	b := newBench(t, true)
	before, err := b.Tool(ctx, "W-52")
	require.NoError(t, err)
	require.NotEmpty(t, before.Used)

	d, err := b.CheckTool(ctx, b.crew["R. Abara"], "W-52", check(tool.PreUse, 400, 402, 399, 401))
	require.NoError(t, err)
	require.True(t, d.Checks[0].Verdict.Pass)
	require.Equal(t, b.now.Format(time.DateOnly), d.Since, "a passed check is the last good evidence")
	require.Empty(t, d.Used, "nothing was tightened since")

	b2 := newBench(t, true) // without the good check the whole time since the calibration is in doubt
	tolley := b2.crew["M. Tolley"]
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

	_, err = b2.CloseDoubt(ctx, abara, d.Doubts[0].ID, " ")
	problem(t, err, app.Invalid, "Say what was looked at")
	d, err = b2.CloseDoubt(ctx, abara, d.Doubts[0].ID, "restart torque of all bolts within the window")
	require.NoError(t, err)
	last := d.Doubts[len(d.Doubts)-1]
	require.Equal(t, "R. Abara", last.ClosedBy, "closed ones stand at the end")
	_, err = b2.CloseDoubt(ctx, abara, last.ID, "again")
	problem(t, err, app.Conflict, "closed already")
	j, err = b2.Joint(ctx, tag)
	require.NoError(t, err)
	require.Empty(t, j.Doubts)

	// Found right after all, as it was found: what it tightened, it tightened rightly.
	five := check(tool.AsFound, 400, 401, 402, 400, 399, 401)
	_, err = b2.CheckTool(ctx, tolley, "W-52", five)
	problem(t, err, app.Forbidden, "in doubt")
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
		"purpose": {Purpose: "fun", Meter: "M-1"},
	} {
		_, err := b.CheckTool(ctx, tolley, "W-52", c)
		require.Equal(t, field, problem(t, err, app.Invalid, "").Field)
	}
	for why, c := range map[string]tool.BenchCheck{"readings": check(tool.PreUse, 400, 400, 401),
		"is outside": check(tool.PreUse, 100, 100, 100, 100), "between two marks": check(tool.PreUse, 401, 400, 400,
			400), "half as much": check(tool.PreUse, 400, 400, 295*0.6, 400),
		"none given": {Purpose: tool.PreUse, Meter: "M-1"}} {
		_, err := b.CheckTool(ctx, tolley, "W-52", c)
		require.Equal(t, "steps", problem(t, err, app.Invalid, why).Field)
	}
	d, err := b.Tool(ctx, "W-52")
	require.NoError(t, err)
	require.Empty(t, d.Checks)
	_, err = b.CheckTool(ctx, tolley, "W-99", check(tool.PreUse, 400, 400, 400, 400))
	problem(t, err, app.NotFound, "W-99")
}

func TestWrenchIsTakenOutAndBroughtBack(t *testing.T) {
	b := newBench(t, true)
	tolley, quaye := b.crew["M. Tolley"], b.crew["I. Quaye"]
	d, err := b.CheckOut(ctx, tolley, "W-40", "cooler, unit 2")
	require.NoError(t, err)
	require.Equal(t, "M. Tolley", d.Tool.Holder)
	_, err = b.CheckOut(ctx, quaye, "W-40", "strainer")
	problem(t, err, app.Conflict, "out with M. Tolley, at cooler, unit 2")
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
	problem(t, err, app.Conflict, "Calibration of W-61 ran out")
	_, err = b.CheckOut(ctx, quaye, "W-31", "")
	problem(t, err, app.Invalid, "where it goes")
	d, err = b.ReturnTool(ctx, quaye, "W-40", tool.Care{Unwound: true, Complete: true})
	require.NoError(t, err)
	require.Equal(t, "in order", d.Loans[0].Care)
	require.Empty(t, d.Tool.Holder)
	_, err = b.ReturnTool(ctx, quaye, "W-40", tool.Care{})
	problem(t, err, app.Conflict, "is not out")
	_, err = b.CheckOut(ctx, tolley, "W-52", "cooler")
	require.NoError(t, err)
	d, err = b.ReturnTool(ctx, tolley, "W-52", tool.Care{Dropped: true, Complete: true, Note: "from the ladder"})
	require.NoError(t, err)
	require.Equal(t, tool.Quarantined, d.Tool.Tool.State)
	require.Contains(t, d.Loans[0].Care, "not put away as it should be")
	require.Contains(t, d.Loans[0].Care, "from the ladder")
	require.NotEmpty(t, d.Doubts)
}

// What a tool shows is evidence only on a meter that is itself in date; what moves the last good evidence needs a
// checker who may.
func TestMeterAndCheckerMustBeBelieved(t *testing.T) {
	b := newBench(t, true)
	tolley, abara := b.crew["M. Tolley"], b.crew["R. Abara"]
	good := check(tool.PreUse, 400, 400, 401, 399)
	for name, c := range map[string]struct{ meter, says string }{"not there": {"M-99", "is not in the Crib"},
		"a wrench": {"W-40", "is no torque meter"}} {
		bad := good
		bad.Meter = c.meter
		_, err := b.CheckTool(ctx, tolley, "W-52", bad)
		problem(t, err, app.Invalid, c.says)
		require.NotEmpty(t, name)
	}
	since := func(d app.ToolDetail) string { return d.Since }
	before, err := b.Tool(ctx, "W-52")
	require.NoError(t, err)
	after, err := b.CheckTool(ctx, tolley, "W-52", good)
	require.NoError(t, err)
	require.Len(t, after.Checks, len(before.Checks)+1, "kept")
	require.Equal(t, since(before), since(after), "a technician's check is no new evidence")
	after, err = b.CheckTool(ctx, abara, "W-52", good)
	require.NoError(t, err)
	require.Equal(t, b.now.Format(time.DateOnly), since(after))

	_, err = b.Quarantine(ctx, tolley, "M-1", "fell")
	require.NoError(t, err)
	_, err = b.CheckTool(ctx, abara, "W-52", good)
	problem(t, err, app.Invalid, "is put aside")
	_, err = b.Release(ctx, abara, "M-1", "looked at")
	require.NoError(t, err)
	b.now = b.now.AddDate(1, 0, 0)
	_, err = b.CheckTool(ctx, abara, "W-52", good)
	problem(t, err, app.Invalid, "M-1 is out of date")
}

// A certificate is not written over: every version stays, with who and why.
func TestVersionsOfAToolStay(t *testing.T) {
	b := newBench(t, true)
	d, err := b.Tool(ctx, "W-52")
	require.NoError(t, err)
	n := len(d.Versions)
	w := d.Tool.Tool
	was := w.Certificate
	w.Certificate, w.CalibratedOn, w.CalibrationEnds = "C-9001", "2026-11-20", "2027-11-20"
	_, err = b.PutTool(ctx, b.crew["R. Abara"], w, " ")
	require.Equal(t, "reason", problem(t, err, app.Invalid, "Certificate or range of W-52 changes").Field)
	d, err = b.PutTool(ctx, b.crew["R. Abara"], w, "calibrated anew")
	require.NoError(t, err)
	require.Len(t, d.Versions, n+1)
	require.Equal(t, "calibrated anew", d.Versions[0].Reason)
	require.Equal(t, "R. Abara", d.Versions[0].By)
	require.Equal(t, "C-9001", d.Versions[0].Tool.Certificate)
	require.Equal(t, was, d.Versions[1].Tool.Certificate)
	w.Place = "rack 7"
	d, err = b.PutTool(ctx, b.crew["R. Abara"], w, "")
	require.NoError(t, err, "where it hangs needs no reason")
	require.Len(t, d.Versions, n+2)
	d, err = b.Quarantine(ctx, b.crew["M. Tolley"], "W-52", "sticks")
	require.NoError(t, err)
	require.Contains(t, d.Versions[0].Reason, "sticks")
}
