package app_test

import (
	"bytes"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/core/working"
	"dynacor/internal/app"
	"dynacor/internal/device"
)

func TestCribSpansAndServes(t *testing.T) {
	b := newBench(t, true)
	c, err := b.Crib(ctx)
	require.NoError(t, err)
	names := map[string]tool.Span{}
	for _, s := range c.Spans {
		names[s.Name] = s
		require.Less(t, s.MinNm, s.MaxNm, s.Name)
	}
	require.InDelta(t, 645, float64(names["H-2"].MinNm), 1e-9, "a chart is not drawn on")
	require.Equal(t, "overdue", names["W-61"].Condition)
	require.Contains(t, names, "W-36 × X-04")
	require.IsNonDecreasing(t, func() (nm []float64) {
		for _, j := range c.Joints {
			nm = append(nm, j.Nm)
		}
		return nm
	}())
	d, err := b.Tool(ctx, "X-04")
	require.NoError(t, err)
	how := map[string]app.Serve{}
	for _, s := range d.Serves {
		how[s.Tag] = s
	}
	require.True(t, how["SW-114"].Usable)
	require.Contains(t, how["SW-114"].How, "with W-")
	require.False(t, how["TB-212"].Usable)
	require.Contains(t, how["TB-212"].How, "is past W-23")
	e, err := b.Tool(ctx, "E-03")
	require.NoError(t, err)
	require.Equal(t, "I. Quaye", e.Tool.Holder)
	require.True(t, e.Tool.Device)
	require.False(t, e.Tool.Linked)
}

func TestFindingRefusesWhatCannotBeMeant(t *testing.T) {
	b := newBench(t, true)
	for field, in := range map[string]app.FindInput{"torque": {Torque: ""}, "low": {Torque: "100", Low: "9 kg"},
		"high": {Torque: "100", Low: "90", High: "95"}, "acrossFlats": {Torque: "100", AcrossFlats: -3},
		"thread": {Torque: "100", Thread: "Q9"}} {
		_, err := b.FindSetUps(ctx, in)
		p, ok := app.AsProblem(err)
		require.True(t, ok, field)
		require.Equal(t, field, p.Field)
		require.NotEmpty(t, p.Remedy, field)
	}
	f, err := b.FindSetUps(ctx, app.FindInput{Torque: "250 ft-lb", Thread: "3/4-10 UNC"})
	require.NoError(t, err)
	require.InDelta(t, 338.95, f.Nm, 0.01)
	require.InDelta(t, 31.75, f.AcrossFlats, 0.01)
	require.True(t, f.Offers[0].Usable)
	require.Equal(t, "E-03 is out with I. Quaye, at TB-204", func() string {
		for _, o := range f.Offers {
			if strings.HasPrefix(o.Tags, "E-03") {
				return o.Busy
			}
		}
		return ""
	}(), "what is out goes behind what is to hand")
	off, err := b.FindSetUps(ctx, app.FindInput{Torque: "150", AcrossFlats: 30, Offset: true, AdapterDeg: 90})
	require.NoError(t, err)
	require.Contains(t, off.Offers[0].Tags, "+A-30")
	require.InDelta(t, 150, off.Offers[0].Settings[0], 1, "square: nothing is corrected")
}

func TestToolPlannedForTwoJointsIsAConflict(t *testing.T) {
	b := newBench(t, true)
	p, err := b.PreviewPlan(ctx, "SW-123", plan.Pick(plan.GroupChoices{Wrench: "W-52+S4-41"}))
	require.NoError(t, err)
	var what []string
	for _, f := range p.Findings {
		if f.Code == "tool_conflict" {
			what = append(what, f.What)
		}
	}
	require.Len(t, what, 1)
	require.Contains(t, what[0], "W-52 is planned for work in hand: ")
	require.Contains(t, what[0], "SW-114")
	require.True(t, p.Complete(), "people may agree")
	_, err = b.CheckOut(ctx, b.crew["M. Tolley"], "W-52", "yard")
	require.NoError(t, err)
	p, err = b.PreviewPlan(ctx, "SW-123", plan.Choices{})
	require.NoError(t, err)
	require.NotContains(t, p.ChoicesOf(p.First()).Wrench, "W-52", "the best of what is to hand")
}

// A tool that many joints in hand count on is told with the first few of them.
func TestConflictNamesAFewJoints(t *testing.T) {
	b := newBench(t, true)
	wrench := plan.Pick(plan.GroupChoices{Wrench: "W-52+S4-41"})
	conflict := func() string {
		p, err := b.PreviewPlan(ctx, "SW-123", wrench)
		require.NoError(t, err)
		i := slices.IndexFunc(p.Findings, func(f working.Finding) bool { return f.Code == "tool_conflict" })
		require.GreaterOrEqual(t, i, 0)
		return p.Findings[i].What
	}
	add := func(tags ...string) {
		for _, tag := range tags {
			_, err := b.CopyJoint(ctx, b.crew["J. Hartwell"], "SW-123", tag)
			require.NoError(t, err)
			_, err = b.StartRun(ctx, b.crew["M. Tolley"], tag, wrench, "")
			require.NoError(t, err)
		}
	}
	add("A-0", "A-1")
	require.Contains(t, conflict(), ": A-0, A-1, SW-113, SW-114.")
	add("A-2", "A-3", "A-4")
	require.Contains(t, conflict(), ": A-0, A-1, A-2, A-3 and 3 more.")
}

func TestPullsAreCountedAgainstTheCertificate(t *testing.T) {
	b := newBench(t, true)
	d, err := b.Tool(ctx, "W-52")
	require.NoError(t, err)
	w := d.Tool.Tool
	w.CycleLimit = 20
	d, err = b.PutTool(ctx, b.crew["J. Hartwell"], w, "calibrated anew")
	require.NoError(t, err)
	require.Greater(t, d.Tool.Tool.Cycles, 20, "the demo joints were pulled with it")
	require.Equal(t, "overdue", d.Tool.Condition)
	_, err = b.CheckOut(ctx, b.crew["M. Tolley"], "W-52", "yard")
	problem(t, err, app.Conflict, "of 20 pulls since its calibration")
	w.CalibratedOn = tool.Date(time.Now().AddDate(0, 0, 1).Format(time.DateOnly))
	d, err = b.PutTool(ctx, b.crew["J. Hartwell"], w, "calibrated anew")
	require.NoError(t, err)
	require.Zero(t, d.Tool.Tool.Cycles, "a new certificate begins anew")
}

func TestMultiplierAndPumpAreTracedToo(t *testing.T) {
	b := newBench(t, true)
	for _, tag := range []string{"P-2", "H-2", "S8-55", "N-1"} {
		d, err := b.Tool(ctx, tag)
		require.NoError(t, err)
		require.Equal(t, "TB-212", d.Used[0].Tag, tag)
	}
	d, err := b.Quarantine(ctx, b.crew["M. Tolley"], "H-2", "dropped")
	require.NoError(t, err)
	require.Equal(t, "TB-212", d.Doubts[0].Joint)
	list, err := b.Doubts(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1)
	_, err = b.PlanDoubt(ctx, b.crew["R. Abara"], list[0].ID, "soon", "R. Abara")
	problem(t, err, app.Invalid, "day")
	_, err = b.PlanDoubt(ctx, b.crew["R. Abara"], list[0].ID, "2026-12-01", " ")
	problem(t, err, app.Invalid, "Nobody")
	d, err = b.PlanDoubt(ctx, b.crew["R. Abara"], list[0].ID, "2026-12-01", "R. Abara")
	require.NoError(t, err)
	require.Equal(t, "2026-12-01", d.Doubts[0].DueOn)
	_, err = b.CloseDoubt(ctx, b.crew["R. Abara"], list[0].ID, "restart torque of all bolts within the window")
	require.NoError(t, err)
	list, err = b.Doubts(ctx)
	require.NoError(t, err)
	require.Empty(t, list)
	_, err = b.PlanDoubt(ctx, b.crew["R. Abara"], d.Doubts[0].ID, "2026-12-01", "R. Abara")
	problem(t, err, app.Conflict, "closed already")
}

func TestListOfToolsGoesThereAndBack(t *testing.T) {
	b := newBench(t, true)
	engineer := b.crew["J. Hartwell"]
	for _, sheet := range []bool{false, true} {
		var out bytes.Buffer
		require.NoError(t, b.ExportTools(ctx, &out, sheet))
		res, err := b.ImportTools(ctx, engineer, out.Bytes(), false)
		require.NoError(t, err)
		require.Empty(t, res.Errors)
		require.Zero(t, res.New+res.Changed, "sheet %v: %+v", sheet, changedRows(res))
		require.Greater(t, res.Same, 40)
	}
	res, err := b.ImportTools(ctx, engineer,
		[]byte("tag;kind;unit;ratedMin;ratedMax;mainStep;graduation;accuracyPct;drive;calibratedOn;calibrationEnds\nW-90;click;N_m;20;100;5;1;4;1/2 in;2026-01-01;2027-01-01\nW-90;click;N_m;20;100;5;1;4;1/2 in;2026-01-01;2027-01-01\nW-91;click;N_m;20;10;5;1;4;1/2 in;2026-01-01;2027-01-01\nW-92;spoon\n"), true)
	require.NoError(t, err)
	require.False(t, res.Applied)
	require.Equal(t, 3, res.ErrorRows, "%+v", res.Errors)
	require.Equal(t, "ratedMax", res.Errors[1].Column)
	_, err = b.Tool(ctx, "W-90")
	problem(t, err, app.NotFound, "W-90")
	for text, want := range map[string]string{"tag,colour\nW-1,red\n": "colour", "kind\nclick\n": "tag", "": "empty",
		"PK\x03\x04nothing": "spreadsheet"} {
		_, err := b.ImportTools(ctx, engineer, []byte(text), true)
		problem(t, err, app.Invalid, want)
	}
}

func changedRows(r app.ImportResult) (out []string) {
	for _, x := range r.Rows {
		if x.Does != "same" {
			out = append(out, x.Tag)
		}
	}
	return out
}

func TestPapersOfATool(t *testing.T) {
	b := newBench(t, true)
	keeper := b.crew["R. Abara"]
	pdf := []byte("%PDF-1.4 made up")
	id := uuid.Must(uuid.NewV7()).String()
	for range 2 { // sent twice is one
		d, err := b.PutToolFile(ctx, keeper, "W-31", id, "certificate", "C-2209.pdf", pdf)
		require.NoError(t, err)
		require.Len(t, d.Files, 1)
	}
	f, err := b.ToolFile(ctx, id)
	require.NoError(t, err)
	require.Equal(t, pdf, f.Bytes)
	require.Equal(t, "application/pdf", f.MediaType)
	_, err = b.PutToolFile(ctx, keeper, "W-31", uuid.Must(uuid.NewV7()).String(), "photo", "x", pdf)
	problem(t, err, app.Invalid, "not a picture")
	_, err = b.PutToolFile(ctx, keeper, "W-31", uuid.Must(uuid.NewV7()).String(), "certificate", "x",
		[]byte("<script>"))
	problem(t, err, app.Invalid, "neither a picture nor a PDF")
	_, err = b.PutToolFile(ctx, keeper, "W-99", uuid.Must(uuid.NewV7()).String(), "certificate", "x", pdf)
	problem(t, err, app.NotFound, "W-99")
}

func TestResultsOfADeviceAreTakenInOrderAndOnce(t *testing.T) {
	b := newBench(t, true)
	token, err := b.IssueDeviceToken(ctx, b.crew["J. Hartwell"], "W-31")
	require.NoError(t, err)
	hello := device.Message{Type: device.Hello, Protocol: device.Protocol, Tag: "W-31", Token: token}
	last, err := b.LinkDevice(ctx, hello)
	require.NoError(t, err)
	require.Zero(t, last)
	send := func(seq int) (device.Message, bool) {
		answer, fresh, err := b.TakeResult(ctx, "W-31", device.Message{Type: device.Result, Seq: seq,
			Reading: &device.Reading{At: time.Now(), Value: float64(100 + seq), Unit: "N_m"}})
		require.NoError(t, err)
		return answer, fresh
	}
	a, fresh := send(2)
	require.Equal(t, device.Message{Type: device.Resend, Seq: 1}, a, "the one in front is missing")
	require.False(t, fresh)
	_, fresh = send(1)
	require.True(t, fresh)
	_, fresh = send(2)
	require.True(t, fresh)
	a, fresh = send(1)
	require.Equal(t, device.Message{Type: device.Ack, Seq: 2}, a)
	require.False(t, fresh, "twice is once")
	list, last, err := b.DeviceResults(ctx, "W-31", 0)
	require.NoError(t, err)
	require.Equal(t, 2, last)
	require.Len(t, list, 2)
	require.InDelta(t, 102, list[1].Reading.Value, 0)
	list, last, err = b.DeviceResults(ctx, "W-31", -1)
	require.NoError(t, err)
	require.Empty(t, list)
	require.Equal(t, 2, last)
	again, err := b.IssueDeviceToken(ctx, b.crew["J. Hartwell"], "W-31")
	require.NoError(t, err)
	_, err = b.LinkDevice(ctx, hello)
	problem(t, err, app.Forbidden, "may not send")
	hello.Token = again
	last, err = b.LinkDevice(ctx, hello)
	require.NoError(t, err)
	require.Equal(t, 2, last, "a new token, the same row of results")
}

// What a device says of its tools counts for nothing: the crib's data are put in.
func TestSetUpTakenIsThatOfTheCrib(t *testing.T) {
	b := newBench(t, true)
	who := b.crew["I. Quaye"]
	j, err := b.Joint(ctx, "TB-212")
	require.NoError(t, err)
	x := coretest.Pump()
	x.RatedMax, x.AccuracyPct = 9000, 0.1
	h := coretest.HydraulicWrench()
	h.Chart[0].Torque = 1
	e := run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.WrenchTaken, At: time.Now(), Person: who.Person,
		Wrench: &x, SetUp: &tool.SetUp{String: []tool.Tool{x, h}}}
	res, err := b.AppendEvents(ctx, who, j.RunID, []run.Event{e})
	require.NoError(t, err)
	require.Empty(t, res.Acks[0].Refused)
	v, err := b.Run(ctx, j.RunID)
	require.NoError(t, err)
	last := v.Entries[len(v.Entries)-1].Event
	require.InDelta(t, 700, last.SetUp.String[0].RatedMax, 0)
	require.InDelta(t, 645, last.SetUp.String[1].Chart[0].Torque, 0)
	e.ID, e.SetUp = uuid.Must(uuid.NewV7()).String(), &tool.SetUp{String: []tool.Tool{h, x}}
	res, err = b.AppendEvents(ctx, who, j.RunID, []run.Event{e})
	require.NoError(t, err)
	require.Contains(t, res.Acks[0].Refused, "does not begin with the tool that is set")
}
