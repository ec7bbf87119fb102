package app_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/due"
	"dynacor/core/pressuretest"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/app"
)

// seawater is a test of a sealed joint, and of one that is not.
func seawater(tag string) pressuretest.Spec {
	return pressuretest.Spec{Tag: tag, Title: "Seawater line of unit 2", Kind: pressuretest.Hydrostatic,
		Joints: []string{"SW-111", "SW-117"}, Procedure: "TP-12 rev. B", Medium: "fresh water", DesignBar: 16, TestBar: 24,
		MostBar: 25.5, LossBar: .2, BarPerC: 1.14, Gauge: pressuretest.Gauge{Tag: "PG-11"}, Steps: []pressuretest.Step{{Bar: 24, Min: 30, Test: true, Look: true}}}
}

// tester leads a test as the interface does.
type tester struct {
	*bench
	t   *testing.T
	tag string
}

func (r tester) do(e pressuretest.Event) app.PressureTest {
	r.t.Helper()
	e.ID = uuid.Must(uuid.NewV7()).String()
	v, err := r.RecordTest(ctx, r.crew["M. Tolley"], r.tag, e)
	require.NoError(r.t, err)
	return v
}

func (r tester) ready() {
	v, err := r.PressureTest(ctx, r.tag)
	require.NoError(r.t, err)
	for _, g := range v.State.Gates {
		r.do(pressuretest.Event{Kind: pressuretest.Confirmed, Gate: g.Code})
	}
}

func (r tester) sign(as pressuretest.Role, name string) (app.PressureTest, error) {
	return r.SignTest(ctx, r.crew["M. Tolley"], r.tag, app.TestSignature{ID: uuid.Must(uuid.NewV7()).String(), As: as,
		PersonID: r.crew[name].ID, PIN: pins[name]})
}

// A test is led over a restart of the server, sealed by two, and stands behind the record of the joint that has one.
func TestPressureTestIsSealedBehindItsRecords(t *testing.T) {
	b := newBench(t, true)
	hartwell, tolley := b.crew["J. Hartwell"], b.crew["M. Tolley"]
	_, err := b.PutPressureTest(ctx, tolley, seawater("LT-17"), 0, "")
	problem(t, err, app.Forbidden, "lay out a test")
	wrong := seawater("LT-17")
	wrong.Joints = []string{"SW-111", "SW-999"}
	_, err = b.PutPressureTest(ctx, hartwell, wrong, 0, "")
	problem(t, err, app.Invalid, "no joint \"SW-999\"")
	wrong = seawater("LT-17")
	wrong.Gauge.Tag = "W-52"
	_, err = b.PutPressureTest(ctx, hartwell, wrong, 0, "")
	problem(t, err, app.Invalid, "no pressure gauge")
	v, err := b.PutPressureTest(ctx, hartwell, seawater("LT-17"), 0, "")
	require.NoError(t, err)
	require.Equal(t, 1, v.Version)
	require.Equal(t, pressuretest.Gauge{Tag: "PG-11", Range: 40, Mark: .2, CheckBy: "2027-05-16"}, v.Spec.Gauge)
	_, err = b.PutPressureTest(ctx, hartwell, seawater("LT-17"), 0, "")
	problem(t, err, app.Conflict, "already")
	changed := seawater("LT-17")
	changed.LossBar = .3
	v, err = b.PutPressureTest(ctx, hartwell, changed, 1, "")
	require.NoError(t, err)
	require.Equal(t, 2, v.Version)
	_, err = b.PutPressureTest(ctx, hartwell, changed, 1, "")
	problem(t, err, app.Conflict, "changed this test since")

	inHand := seawater("LT-16")
	inHand.Joints = []string{"SW-114"}
	_, err = b.PutPressureTest(ctx, hartwell, inHand, 0, "")
	require.NoError(t, err)
	_, err = b.RecordTest(ctx, tolley, "LT-16", pressuretest.Event{ID: uuid.Must(uuid.NewV7()).String(),
		Kind: pressuretest.Confirmed, Gate: "isolated"})
	problem(t, err, app.Conflict, "SW-114 is being worked on and is not tightened")

	r := tester{b, t, "LT-17"}
	r.ready()
	_, err = b.PutPressureTest(ctx, hartwell, changed, 2, "")
	problem(t, err, app.Conflict, "has begun")
	first := pressuretest.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: pressuretest.Read, BarAs: "24", TempAs: "12"}
	for range 2 { // sent again because its answer was lost
		v, err = b.RecordTest(ctx, tolley, "LT-17", first)
		require.NoError(t, err)
	}
	require.Len(t, v.State.Trace, 1)
	require.Equal(t, pressuretest.Holding, v.State.Phase)
	_, err = b.RecordTest(ctx, b.crew["R. Abara"], "LT-17", pressuretest.Event{ID: uuid.Must(uuid.NewV7()).String(),
		Kind: pressuretest.Signed, As: pressuretest.Witness})
	problem(t, err, app.Invalid, "signed by PIN")

	restarted := laidOut(t, b.url) // another server on the same database
	restarted.now, restarted.crew = b.now.Add(30*time.Minute), b.crew
	r.bench = restarted
	v = r.do(pressuretest.Event{Kind: pressuretest.Read, BarAs: "23.6", TempAs: "11.7"})
	require.True(t, v.State.Judged().Over)
	for _, tag := range []string{"SW-111", "SW-117"} {
		r.do(pressuretest.Event{Kind: pressuretest.Looked, Joint: tag, Dry: true})
	}
	v = r.do(pressuretest.Event{Kind: pressuretest.LetDown, BarAs: "0"})
	require.Equal(t, []string{tolley.ID}, v.Leaders)
	require.Contains(t, v.Witnesses, r.crew["R. Abara"].ID)
	_, err = r.sign(pressuretest.Witness, "M. Tolley")
	require.Error(t, err, "a technician witnesses nothing")
	_, err = r.sign(pressuretest.Leader, "M. Tolley")
	require.NoError(t, err)
	v, err = r.sign(pressuretest.Witness, "R. Abara")
	require.NoError(t, err)
	require.Equal(t, pressuretest.Held, v.State.Verdict.Code)
	require.NotNil(t, v.Sealed)

	file, err := r.PressureTestFile(ctx, "LT-17")
	require.NoError(t, err)
	keys, err := r.Keys(ctx)
	require.NoError(t, err)
	_, mark, err := pressuretest.Verify(file, keys)
	require.NoError(t, err)
	require.Equal(t, v.Sealed.Mark, mark)

	rec, err := r.Record(ctx, sealedNumber(t, restarted, "SW-111"))
	require.NoError(t, err)
	require.True(t, rec.Report.OK, "%v", rec.Report.Problems)
	require.Len(t, rec.Additions, 1)
	x := rec.Additions[0]
	require.Equal(t, record.Tested, x.Kind)
	require.Equal(t, "LT-17", x.Test)
	require.Equal(t, mark, x.TestMark)
	require.False(t, x.Failed)
	require.Contains(t, x.What, "58 mbar of 0.3 bar lost in 30 min")
	_, err = r.Add(ctx, r.crew["R. Abara"], rec.Record.Number, app.AdditionInput{After: 1, Kind: record.Tested,
		What: "a test that nobody made", PersonID: r.crew["R. Abara"].ID, PIN: pins["R. Abara"]})
	problem(t, err, app.Invalid, "Nobody writes")

	retests := func() (out []string) {
		list, err := r.FallsDue(ctx, r.crew["R. Abara"])
		require.NoError(t, err)
		for _, i := range list.Items {
			if i.Kind == due.Retest && i.Mine {
				out = append(out, i.Says+" "+i.From.Format(time.DateOnly))
			}
		}
		return out
	}
	require.Empty(t, retests(), "the house rules ask for none")
	rules, err := r.HouseRules(ctx)
	require.NoError(t, err)
	again := rules.Versions[0].Rules
	again.RetestMonths = 1
	_, err = r.PutHouseRules(ctx, r.crew["J. Hartwell"], app.HouseRulesInput{Rules: again, Reason: "the code says so"})
	require.NoError(t, err)
	require.Equal(t, []string{"LT-17: test again, SW-111, SW-117 " +
		v.Sealed.At.AddDate(0, 1, 0).Format(time.DateOnly)}, retests())

	list, err := r.PressureTests(ctx, "SW-111")
	require.NoError(t, err)
	require.Len(t, list, 2, "LT-07 of the demo site lasts")
	require.Equal(t, "LT-17", list[1].Tag)
	require.True(t, list[1].Good)
	none, err := r.PressureTests(ctx, "SW-113")
	require.NoError(t, err)
	require.Empty(t, none)
	h, err := r.VerifyAll(ctx, nil)
	require.NoError(t, err)
	require.Empty(t, h.Problems)
	require.Equal(t, 1, h.Tests)
}

// A failed test shows the joints it covered as due again, and a withdrawn one takes nothing.
func TestFailedTestOpensItsJoints(t *testing.T) {
	b := newBench(t, true)
	hartwell := b.crew["J. Hartwell"]
	_, err := b.PutPressureTest(ctx, hartwell, seawater("LT-18"), 0, "")
	require.NoError(t, err)
	r := tester{b, t, "LT-18"}
	r.ready()
	r.do(pressuretest.Event{Kind: pressuretest.Read, BarAs: "24", TempAs: "12"})
	v := r.do(pressuretest.Event{Kind: pressuretest.Looked, Joint: "SW-111", Note: "drops below"})
	require.Equal(t, pressuretest.Weeps, v.State.Verdict.Code)
	r.do(pressuretest.Event{Kind: pressuretest.LetDown, BarAs: "0"})
	_, err = r.sign(pressuretest.Leader, "M. Tolley")
	require.NoError(t, err)
	_, err = r.sign(pressuretest.Witness, "R. Abara")
	require.NoError(t, err)
	j, err := b.Joint(ctx, "SW-111")
	require.NoError(t, err)
	require.Equal(t, string(run.GlyphDueAgain), j.Joint.Glyph)
	require.Contains(t, j.Joint.Summary, "test LT-18 failed")
	life, err := b.Life(ctx, "SW-111")
	require.NoError(t, err)
	text, err := json.Marshal(life)
	require.NoError(t, err)
	require.Contains(t, string(text), "Test LT-18")

	_, err = b.PutPressureTest(ctx, hartwell, seawater("LT-19"), 0, "")
	require.NoError(t, err)
	_, err = b.PutPressureTest(ctx, hartwell, seawater("LT-19"), 1, "done with the loop of unit 3")
	require.NoError(t, err)
	_, err = b.RecordTest(ctx, b.crew["M. Tolley"], "LT-19", pressuretest.Event{ID: uuid.Must(uuid.NewV7()).String(),
		Kind: pressuretest.Confirmed, Gate: "isolated"})
	problem(t, err, app.Conflict, "was withdrawn")
}
