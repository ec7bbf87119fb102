package app_test

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"image"
	"image/png"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/internal/app"
	"dynacor/internal/demo/demotest"
	"dynacor/internal/identity"
	"dynacor/internal/picture"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
)

func TestMain(m *testing.M) { os.Exit(storetest.Main(m)) }

// bench is an installation with the demo site and a clock of its own.
type bench struct {
	*app.App
	pool *pgxpool.Pool
	now  time.Time
	crew map[string]app.Actor
	url  string
}

var ctx = context.Background()

func newBench(t *testing.T, withDemo bool) *bench {
	t.Helper()
	b := &bench{now: time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC), crew: map[string]app.Actor{}}
	if withDemo {
		b.url = demotest.URL(t, b.now)
	} else {
		b.url = storetest.URL(t)
	}
	// whoever asks for a second connection while holding one waits for ever
	pool, err := store.Open(ctx, storetest.Serving(b.url), 1)
	require.NoError(t, err)
	t.Cleanup(pool.Close)
	b.pool = pool
	b.App = app.New(pool, identity.NewTestHasher(), func() time.Time { return b.now })
	require.NoError(t, b.Prepare(ctx))
	require.NoError(t, b.UseKey(ctx, storetest.Key()))
	if !withDemo {
		for name, role := range map[string]string{"M. Tolley": authority.Technician, "R. Abara": authority.Inspector,
			"J. Hartwell": authority.Engineer} {
			_, err := b.AddPerson(ctx, name, role, "7049")
			require.NoError(t, err)
		}
	}
	people, err := b.People(ctx)
	require.NoError(t, err)
	for _, p := range people {
		b.crew[p.Name] = app.Actor{Person: p, Device: "tablet 1"}
	}
	return b
}

// pins of the people of the demo site.
var pins = map[string]string{"M. Tolley": "4071", "I. Quaye": "5826", "R. Abara": "9340", "J. Hartwell": "2758",
	"B. Ode": "6193"}

// signature is one as a person gives it who has just looked at the run.
func (b *bench) signature(t *testing.T, name, runID string, purpose run.Purpose, check string) app.SignatureInput {
	t.Helper()
	head, err := b.Head(ctx, runID)
	require.NoError(t, err)
	return app.SignatureInput{ID: uuid.Must(uuid.NewV7()).String(), Head: head, PersonID: b.crew[name].ID,
		PIN: pins[name], Purpose: purpose, Check: check}
}

func problem(t *testing.T, err error, kind app.ProblemKind, part string) *app.Problem {
	t.Helper()
	require.Error(t, err)
	p, ok := app.AsProblem(err)
	require.True(t, ok, "not a problem: %v", err)
	require.Equal(t, kind, p.Kind, p.Error())
	require.Contains(t, p.Error(), part)
	return p
}

func TestDatabaseRefusesToChangeWhatWasRecorded(t *testing.T) {
	b := newBench(t, true)
	owner, err := pgxpool.New(ctx, b.url)
	require.NoError(t, err)
	t.Cleanup(owner.Close)
	for _, table := range []string{"events", "records", "specifications", "plans", "house_rules"} {
		for who, pool := range map[string]*pgxpool.Pool{"application": b.pool, "owner": owner} {
			for _, sql := range []string{"delete from " + table,
				"update " + table + " set " + map[string]string{"events": "body", "records": "tag",
					"specifications": "data", "plans": "data", "house_rules": "data"}[table] + " = 'x'"} {
				_, err := pool.Exec(ctx, sql)
				require.Error(t, err, "%s: %s", who, sql)
			}
		}
	}
	_, err = owner.Exec(ctx, "truncate events cascade")
	require.Error(t, err)
	var n int
	require.NoError(t, b.pool.QueryRow(ctx, "select count(*) from events").Scan(&n))
	require.Positive(t, n)
}

func TestSameEventTwiceIsOneEvent(t *testing.T) {
	b := newBench(t, true)
	d, err := b.Joint(ctx, "SW-114")
	require.NoError(t, err)
	tolley := b.crew["M. Tolley"]
	before, err := b.Run(ctx, d.RunID)
	require.NoError(t, err)
	e := run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.Noted, At: b.now, Person: tolley.Person,
		Note: "wind picks up"}
	first, err := b.AppendEvents(ctx, tolley, d.RunID, []run.Event{e, e})
	require.NoError(t, err)
	require.Equal(t, first.Acks[0].Seq, first.Acks[1].Seq)
	again, err := b.AppendEvents(ctx, tolley, d.RunID, []run.Event{e})
	require.NoError(t, err)
	require.Equal(t, first.Acks[0].Seq, again.Acks[0].Seq)
	after, err := b.Run(ctx, d.RunID)
	require.NoError(t, err)
	require.Len(t, after.Entries, len(before.Entries)+1)
	other := e
	other.Kind, other.Reason = run.Held, "stolen identifier"
	res, err := b.AppendEvents(ctx, tolley, d.RunID, []run.Event{other})
	require.NoError(t, err)
	require.Contains(t, res.Acks[0].Refused, "same identifier")
}

func TestEventsAreAdmittedOneByOne(t *testing.T) {
	b := newBench(t, true)
	d, err := b.Joint(ctx, "SW-114")
	require.NoError(t, err)
	tolley := b.crew["M. Tolley"]
	ev := func(change func(*run.Event)) run.Event {
		e := run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.Noted, At: b.now, Person: tolley.Person,
			Note: "x"}
		if change != nil {
			change(&e)
		}
		return e
	}
	faked := tolley.Person
	faked.Name, faked.Role = "Somebody", authority.Engineer
	send := func(e run.Event) string {
		res, err := b.AppendEvents(ctx, tolley, d.RunID, []run.Event{e})
		require.NoError(t, err)
		return res.Acks[0].Refused
	}
	require.Empty(t, send(ev(nil)))
	require.Contains(t, send(ev(func(e *run.Event) { e.Kind = run.Signed; e.Purpose = run.SignProved; e.Signer = &faked })), "PIN")
	require.Contains(t, send(ev(func(e *run.Event) { e.ID = "not-an-id" })), "identifier")
	require.Contains(t, send(ev(func(e *run.Event) {
		e.Kind = run.WrenchTaken
		e.Wrench = &tool.Tool{Tag: "W-99", Kind: tool.Click, Drive: "1/2 in", Unit: "N_m", RatedMin: 1, RatedMax: 2,
			MainStep: 1, Graduation: 1, AccuracyPct: 4, CalibratedOn: "2026-01-01", CalibrationEnds: "2027-01-01"}
	})), "no tool W-99")
	require.Contains(t, send(ev(func(e *run.Event) {
		e.Kind = run.Pulled
		e.Pass, e.Fastener, e.Outcome, e.Setting = 1, 99, run.Clicked, 90
	})), "fastener is 99, and the joint has")
	require.Contains(t, send(ev(func(e *run.Event) {
		e.Kind = run.CheckAnswered
		e.Check, e.Answer = "weather",
			"yes"
	})), "check is \"weather\"")
	reading := func(text string) run.Event {
		return ev(func(e *run.Event) {
			e.Kind, e.Pass, e.Fastener, e.Outcome, e.Setting = run.Pulled, 2, 1, run.Reached, 420
			e.Reading = &run.Reading{Value: 30, Unit: "N_m", Text: text}
		})
	}
	require.Contains(t, send(reading("420 N·m")), "says \"420 N·m\", the value is 30 N·m")
	require.Empty(t, send(reading("30 N·m")))
	require.Empty(t, send(ev(func(e *run.Event) { e.Person = faked })))
	v, err := b.Run(ctx, d.RunID)
	require.NoError(t, err)
	require.Equal(t, "M. Tolley", v.Entries[len(v.Entries)-1].Event.Person.Name,
		"the name is the register's, not the device's")
	w, err := b.Tool(ctx, "W-52")
	require.NoError(t, err)
	forged := w.Tool.Tool
	forged.CalibrationEnds = "2099-01-01"
	require.Empty(t, send(ev(func(e *run.Event) { e.Kind = run.WrenchTaken; e.Wrench = &forged })))
	v, err = b.Run(ctx, d.RunID)
	require.NoError(t, err)
	require.NotEqual(t, tool.Date("2099-01-01"), v.State.Wrench.CalibrationEnds, "the certificate is the crib's")
}

func TestSealedRecordTakesNothingMore(t *testing.T) {
	b := newBench(t, true)
	d, err := b.Joint(ctx, "SW-111")
	require.NoError(t, err)
	require.Len(t, d.Records, 1)
	tolley := b.crew["M. Tolley"]
	res, err := b.AppendEvents(ctx, tolley, d.RunID,
		[]run.Event{{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.Noted, At: b.now, Person: tolley.Person,
			Note: "late"}})
	require.NoError(t, err)
	require.Contains(t, res.Acks[0].Refused, "sealed")
	_, err = b.Seal(ctx, d.RunID)
	problem(t, err, app.Conflict, "The record is sealed")
	_, err = b.Sign(ctx, tolley, d.RunID, b.signature(t, "M. Tolley", d.RunID, run.SignTightened, ""))
	problem(t, err, app.Conflict, "sealed")

	rec, err := b.Record(ctx, d.Records[0].Number)
	require.NoError(t, err)
	require.True(t, rec.Report.OK, rec.Report.Problems)
	require.True(t, rec.Report.KeyKnown)
	v, err := b.StartRun(ctx, tolley, "SW-111", plan.Choices{}, "")
	require.NoError(t, err, "new work on a sealed joint is a new run")
	require.NotEqual(t, d.RunID, v.ID)
	_, err = b.StartRun(ctx, tolley, "SW-111", plan.Choices{}, "")
	problem(t, err, app.Conflict, "in hand already")
}

// An administrator may sign what an engineer may; the chain tells which of the two it was.
func TestSignerStandsInTheChainWithTheRoleTheyHave(t *testing.T) {
	b := newBench(t, true)
	d, err := b.Joint(ctx, "SW-114")
	require.NoError(t, err)
	tolley := b.crew["M. Tolley"]
	_, err = b.AppendEvents(ctx, tolley, d.RunID,
		[]run.Event{{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.DeviationRaised, At: b.now, Person: tolley.Person,
			Reason: "a stud is marked twice"}})
	require.NoError(t, err)
	v, err := b.Run(ctx, d.RunID)
	require.NoError(t, err)
	in := b.signature(t, "B. Ode", d.RunID, run.SignDeviation, "")
	in.Ref, in.Reason = v.State.Deviations[len(v.State.Deviations)-1].ID, "looked at"
	v, err = b.Sign(ctx, tolley, d.RunID, in)
	require.NoError(t, err)
	require.Equal(t, authority.Administrator, v.Entries[len(v.Entries)-1].Event.Signer.Role)
	require.Equal(t, "B. Ode, administrator: looked at", v.State.Deviations[len(v.State.Deviations)-1].Closed)
}

func TestSealWaitsForEverything(t *testing.T) {
	b := newBench(t, true)
	d, err := b.Joint(ctx, "SW-117")
	require.NoError(t, err)
	_, err = b.Seal(ctx, d.RunID)
	problem(t, err, app.Conflict, "Signature of a different inspector")
}

func TestVerifyNamesWhatDiffersFromTheKeptRecord(t *testing.T) {
	b := newBench(t, true)
	page, err := b.Records(ctx, "sw-111", 10, 0)
	require.NoError(t, err)
	require.Equal(t, 1, page.Total)
	file, err := b.RecordFile(ctx, page.Rows[0].Number)
	require.NoError(t, err)
	ok, err := b.Verify(ctx, file)
	require.NoError(t, err)
	require.True(t, ok.Report.OK)
	require.True(t, ok.Kept)
	require.Empty(t, ok.Differences)
	bad := bytes.Replace(file, []byte("Cooler drain header"), []byte("Cooler drain headet"), 1)
	v, err := b.Verify(ctx, bad)
	require.NoError(t, err)
	require.False(t, v.Report.OK)
	require.Equal(t, "record.plan.joint.name", v.Differences[0].Path)
	require.Equal(t, `"Cooler drain header"`, v.Differences[0].Kept)
	none, err := b.Verify(ctx, []byte("{}"))
	require.NoError(t, err)
	require.False(t, none.Report.OK)
}

func TestSpecificationsAreVersionedAndPlansGoStale(t *testing.T) {
	b := newBench(t, true)
	hartwell, tolley := b.crew["J. Hartwell"], b.crew["M. Tolley"]
	d, err := b.SavePlan(ctx, hartwell, "SW-112", plan.Choices{}, "")
	require.NoError(t, err)
	require.Equal(t, 1, d.Saved.Version)
	require.Empty(t, d.Saved.Stale)
	s := d.Versions[0].Specification
	s.Target.Nominal = 220
	_, err = b.PutSpecification(ctx, hartwell, "SW-112", s, " ")
	problem(t, err, app.Invalid, "needs a reason")
	d, err = b.PutSpecification(ctx, hartwell, "SW-112", s, "drawing revised")
	require.NoError(t, err)
	require.Len(t, d.Versions, 2)
	require.InDelta(t, 210, d.Versions[1].Specification.Target.Nominal, 0, "the earlier version stays")
	require.Contains(t, d.Saved.Stale, "version 2 is in force")
	v, err := b.StartRun(ctx, tolley, "SW-112", plan.Choices{}, "")
	require.NoError(t, err)
	require.Equal(t, 2, v.PlanVersion, "a stale plan is made anew when work begins")
	require.InDelta(t, 220, v.Plan.First().TargetNm, 1e-9)
	s.NoSourceWhy = "lost"
	_, err = b.PutSpecification(ctx, tolley, "SW-112", s, "x")
	problem(t, err, app.Forbidden, "may not allow a target without a document")
}

func TestOtherLubricantNeedsAnEngineer(t *testing.T) {
	b := newBench(t, true)
	c := plan.Choices{Lubricant: "L-12"}
	p, err := b.PreviewPlan(ctx, "SW-115", c)
	require.NoError(t, err)
	require.InDelta(t, 410*0.17/0.15, p.First().TargetNm, 1e-6)
	_, err = b.SavePlan(ctx, b.crew["M. Tolley"], "SW-115", c, "only tin here")
	problem(t, err, app.Forbidden, "approve a plan")
	_, err = b.SavePlan(ctx, b.crew["J. Hartwell"], "SW-115", c, "")
	problem(t, err, app.Invalid, "reason")
	d, err := b.SavePlan(ctx, b.crew["J. Hartwell"], "SW-115", c, "L-07 not to be had")
	require.NoError(t, err)
	require.Equal(t, "J. Hartwell", d.Saved.ApprovedBy)
	v, err := b.Run(ctx, d.RunID)
	require.NoError(t, err)
	require.Equal(t, "L-12", v.Plan.First().Lubricant.Code, "the open run works on the new plan")
	require.Empty(t, v.State.Blocked, "what was found is now what is planned")
	_, err = b.SavePlan(ctx, b.crew["J. Hartwell"], "SW-114", c, "too late")
	problem(t, err, app.Conflict, "Bolts have been pulled")
}

func TestWorkDoesNotBeginWithoutTargetOrDocument(t *testing.T) {
	b := newBench(t, true)
	_, err := b.StartRun(ctx, b.crew["M. Tolley"], "SC-16", plan.Choices{}, "")
	problem(t, err, app.Invalid, "no figure")
	_, err = b.StartRun(ctx, b.crew["M. Tolley"], "SC-17", plan.Choices{}, "")
	problem(t, err, app.Invalid, "no source")
	d, err := b.Joint(ctx, "SC-17")
	require.NoError(t, err)
	s := d.Versions[0].Specification
	s.NoSourceWhy = "urgent; value from the sister pump"
	_, err = b.PutSpecification(ctx, b.crew["J. Hartwell"], "SC-17", s, "allowed for tonight")
	require.NoError(t, err)
	v, err := b.StartRun(ctx, b.crew["M. Tolley"], "SC-17", plan.Choices{}, "")
	require.NoError(t, err)
	require.Equal(t, "J. Hartwell", v.Plan.Specification.NoSourceBy)
}

func TestImportPreviewsThenDoesAllOrNothing(t *testing.T) {
	b := newBench(t, false)
	hartwell := b.crew["J. Hartwell"]
	csv := "tag,area,bolts,thread,material,lubricant,target_Nm,document,revision\nA-1,North,8,M20,8.8,light_oil,300,D-1,A\nA-2,North,12,M24,8.8,light_oil,350 ft-lb,D-1,A\n"
	res, err := b.Import(ctx, hartwell, []byte(csv), false)
	require.NoError(t, err)
	require.Equal(t, 2, res.New)
	page, err := b.Joints(ctx, app.JointQuery{Limit: 10, Sort: "tag"})
	require.NoError(t, err)
	require.Zero(t, page.Total, "a preview writes nothing")
	bad := csv + "A-3,North,2,M20,8.8,light_oil,300 kg,D-1,A\n"
	res, err = b.Import(ctx, hartwell, []byte(bad), true)
	require.NoError(t, err)
	require.False(t, res.Applied)
	require.Equal(t, 1, res.ErrorRows)
	page, err = b.Joints(ctx, app.JointQuery{Limit: 10, Sort: "tag"})
	require.NoError(t, err)
	require.Zero(t, page.Total, "nothing is half imported")
	res, err = b.Import(ctx, hartwell, []byte(csv), true)
	require.NoError(t, err)
	require.True(t, res.Applied)
	changed := strings.Replace(csv, "8.8,light_oil,300,", "8.8,light_oil,310,", 1)
	res, err = b.Import(ctx, hartwell, []byte(changed), true)
	require.NoError(t, err)
	require.Equal(t, []int{0, 1, 1}, []int{res.New, res.Changed, res.Same})
	d, err := b.Joint(ctx, "A-1")
	require.NoError(t, err)
	require.Len(t, d.Versions, 2, "a changed figure is a new version")

	var out bytes.Buffer
	require.NoError(t, b.Export(ctx, &out))
	res, err = b.Import(ctx, hartwell, out.Bytes(), true)
	require.NoError(t, err)
	require.Empty(t, res.Errors)
	require.Equal(t, 2, res.Same, "what was exported comes back unchanged: %+v", res.Rows)
}

func TestDemoRegisterRoundTrip(t *testing.T) {
	b := newBench(t, true)
	var out bytes.Buffer
	require.NoError(t, b.Export(ctx, &out))
	res, err := b.Import(ctx, b.crew["J. Hartwell"], out.Bytes(), false)
	require.NoError(t, err)
	require.Equal(t, 67, res.Same, "%+v", res)
}

func TestJointsAreFoundAndSorted(t *testing.T) {
	b := newBench(t, true)
	tags := func(q app.JointQuery) []string {
		q.Limit = 100
		p, err := b.Joints(ctx, q)
		require.NoError(t, err)
		var out []string
		for _, r := range p.Rows {
			out = append(out, r.Tag)
		}
		return out
	}
	require.Equal(t, []string{"SW-111"}, tags(app.JointQuery{Text: "cooler DRAIN", Sort: "tag"}))
	require.Equal(t, []string{"SW-115"}, tags(app.JointQuery{Glyph: "stopped", Sort: "tag"}))
	require.Len(t, tags(app.JointQuery{Package: "WP-45", Sort: "tag"}), 7)
	require.Empty(t, tags(app.JointQuery{Text: "100%_", Sort: "tag"}), "wildcards are letters here")
	up, down := tags(app.JointQuery{Sort: "tag"}), tags(app.JointQuery{Sort: "-tag"})
	require.Equal(t, up[0], down[len(down)-1])

	require.Empty(t, tags(app.JointQuery{Text: "lowther q-40", Sort: "tag"}))
	_, err := b.EditJoint(ctx, "SW-116", app.JointInput{Tag: "SW-116", Name: "Strainer", Area: "4 Cooling house",
		Nameplate: "Lowther Q-40 DN 300"})
	require.NoError(t, err)
	require.Equal(t, []string{"SW-116"}, tags(app.JointQuery{Text: "lowther q-40", Sort: "tag"}),
		"the nameplate is a key too")
}

func TestCopyBringsNoReadings(t *testing.T) {
	b := newBench(t, true)
	d, err := b.CopyJoint(ctx, b.crew["M. Tolley"], "SW-111", "SW-911")
	require.NoError(t, err)
	require.Empty(t, d.RunID)
	require.Empty(t, d.Records)
	require.Equal(t, "ready", d.Joint.Glyph)
	require.Equal(t, "M20", d.Versions[0].Specification.Thread)
	_, err = b.CopyJoint(ctx, b.crew["M. Tolley"], "SW-111", "SW-112")
	problem(t, err, app.Conflict, "already")
}

func TestDroppedWrenchIsPutAsideAndTraced(t *testing.T) {
	b := newBench(t, true)
	tolley, abara := b.crew["M. Tolley"], b.crew["R. Abara"]
	d, err := b.Quarantine(ctx, tolley, "W-52", "dropped")
	require.NoError(t, err)
	require.Equal(t, "quarantined", d.Tool.Condition)
	require.Contains(t, d.Tool.Tool.StateReason, "M. Tolley")
	tags := []string{}
	for _, u := range d.Used {
		tags = append(tags, u.Tag)
	}
	require.ElementsMatch(t, []string{"SW-113", "SW-114"}, tags, "every joint it pulled since its calibration")
	p, err := b.PreviewPlan(ctx, "SW-123", plan.Choices{Wrench: "W-52"})
	require.NoError(t, err)
	require.False(t, p.Complete())
	d, err = b.Release(ctx, abara, "W-52", "checked on the bench")
	require.NoError(t, err)
	require.Equal(t, "fit", d.Tool.Condition)
	_, err = b.Quarantine(ctx, tolley, "W-52", "  ")
	problem(t, err, app.Invalid, "Say why")
	w := d.Tool.Tool
	w.Unit = quantity.Millimetre
	_, err = b.PutTool(ctx, abara, w, "calibrated anew")
	problem(t, err, app.Invalid, "unit")
}

func TestTodayPutsOwnWorkFirst(t *testing.T) {
	b := newBench(t, true)
	day, err := b.Today(ctx, b.crew["M. Tolley"])
	require.NoError(t, err)
	require.Equal(t, "SW-114", day.InHand[0].Tag)
	require.Len(t, day.Areas, 5)
	require.Equal(t, "SW-115", day.Stopped[0].Tag)
	require.NotEmpty(t, day.Stopped[0].Why)
	due := map[string]string{}
	for _, d := range day.Due {
		due[d.Tag] = d.Condition
	}
	require.Equal(t, map[string]string{"P-3": "overdue", "X-02": "due_soon", "W-18": "due_soon", "W-25": "quarantined",
		"W-61": "overdue"}, due)
	other, err := b.Today(ctx, b.crew["I. Quaye"])
	require.NoError(t, err)
	require.Equal(t, "TB-212", other.InHand[0].Tag)
}

func TestPackageNeedsAddUp(t *testing.T) {
	b := newBench(t, true)
	needs, err := b.PackageNeeds(ctx, "WP-41")
	require.NoError(t, err)
	for _, n := range needs {
		if n.What == "Nut M16" {
			require.InDelta(t, 36, n.Quantity, 0, "four joints of eight and one of four")
			require.Len(t, n.Joints, 5)
			return
		}
	}
	t.Fatalf("no nuts in %+v", needs)
}

// drawn is a small picture of one shade.
func drawn(t *testing.T, shade uint8) []byte {
	t.Helper()
	p := image.NewGray(image.Rect(0, 0, 40, 30))
	for i := range p.Pix {
		p.Pix[i] = shade
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, p))
	return b.Bytes()
}

func sum(data []byte) string {
	s := sha256.Sum256(data)
	return hex.EncodeToString(s[:])
}

// A picture is taken once, from whom its entry names, with the bytes its entry names, and never into a sealed run.
func TestPictureBelongsToItsEntry(t *testing.T) {
	b := newBench(t, true)
	d, err := b.Joint(ctx, "SW-114")
	require.NoError(t, err)
	tolley, quaye := b.crew["M. Tolley"], b.crew["I. Quaye"]
	data, id := drawn(t, 90), uuid.Must(uuid.NewV7()).String()
	problem(t, b.PutPhoto(ctx, tolley, d.RunID, id, data), app.Conflict, "No entry of this run names the picture")
	entry := run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.CheckAnswered, Check: "faces", Answer: "repair",
		Note: "scratch", At: b.now, Person: tolley.Person, Photo: id, PhotoSHA256: sum(data)}
	res, err := b.AppendEvents(ctx, tolley, d.RunID, []run.Event{entry})
	require.NoError(t, err)
	require.Empty(t, res.Acks[0].Refused)
	_, err = b.Seal(ctx, d.RunID)
	require.Error(t, err)

	problem(t, b.PutPhoto(ctx, quaye, d.RunID, id, data), app.Forbidden, "belongs to an entry of M. Tolley")
	problem(t, b.PutPhoto(ctx, tolley, d.RunID, id, drawn(t, 91)), app.Invalid, "not the picture that the entry names")
	problem(t, b.PutPhoto(ctx, tolley, d.RunID, id, []byte("<html>")), app.Invalid, "not a picture")
	problem(t, b.PutPhoto(ctx, tolley, d.RunID, id, make([]byte, picture.MostBytes+1)), app.TooLarge,
		"larger than 4 MB")
	other, err := b.Joint(ctx, "SW-115")
	require.NoError(t, err)
	problem(t, b.PutPhoto(ctx, tolley, other.RunID, id, data), app.Conflict, "No entry of this run")
	require.NoError(t, b.PutPhoto(ctx, tolley, d.RunID, id, data))
	require.NoError(t, b.PutPhoto(ctx, tolley, d.RunID, id, data), "sent again")
	problem(t, b.PutPhoto(ctx, tolley, d.RunID, id, drawn(t, 92)), app.Invalid, "Another picture is kept")
	p, err := b.GetPhoto(ctx, id)
	require.NoError(t, err)
	require.Equal(t, "image/jpeg", p.MediaType, "drawn anew")

	sealed, err := b.Joint(ctx, "SW-111")
	require.NoError(t, err)
	problem(t, b.PutPhoto(ctx, tolley, sealed.RunID, uuid.NewString(), data), app.Closed, "The record is sealed")
}

// A run is not sealed while a picture that an entry names is still on its device.
func TestSealWaitsForPictures(t *testing.T) {
	b := newBench(t, true)
	c := b.begin(t, "SW-112").work(t)
	data, id := drawn(t, 90), uuid.Must(uuid.NewV7()).String()
	entry := run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.Noted, Note: "see the picture", At: b.now,
		Person: c.who.Person, Photo: id, PhotoSHA256: sum(data)}
	_, err := b.AppendEvents(ctx, c.who, c.id, []run.Event{entry})
	require.NoError(t, err)
	c.closing(t)
	_, err = b.Seal(ctx, c.id)
	problem(t, err, app.Conflict, "1 pictures of this run have not arrived")
	require.NoError(t, b.PutPhoto(ctx, c.who, c.id, id, data))
	_, err = b.Seal(ctx, c.id)
	require.NoError(t, err)
}

// Two devices record at once; nothing is lost, doubled or torn, and the chain holds.
func TestTwoDevicesAtOnce(t *testing.T) {
	b := newBench(t, true)
	d, err := b.Joint(ctx, "SW-114")
	require.NoError(t, err)
	before, err := b.Run(ctx, d.RunID)
	require.NoError(t, err)
	const each = 15
	failed := make(chan error, 2)
	for _, name := range []string{"M. Tolley", "I. Quaye"} {
		who := b.crew[name]
		go func() {
			for range each {
				e := run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.Noted, At: b.now, Person: who.Person,
					Note: "at once"}
				if _, err := b.AppendEvents(ctx, who, d.RunID, []run.Event{e}); err != nil {
					failed <- err
					return
				}
			}
			failed <- nil
		}()
	}
	require.NoError(t, <-failed)
	require.NoError(t, <-failed)
	after, err := b.Run(ctx, d.RunID)
	require.NoError(t, err)
	require.Len(t, after.Entries, len(before.Entries)+2*each)
	prev := ""
	for i, e := range after.Entries {
		require.Equal(t, i+1, e.Seq)
		require.Equal(t, prev, e.PrevHash)
		prev = e.Hash
	}
}

// owner does something to the database behind the program's back, as whoever owns it can.
func (b *bench) owner(t *testing.T, sql string, args ...any) {
	t.Helper()
	c, err := pgx.Connect(ctx, b.url)
	require.NoError(t, err)
	defer c.Close(ctx)
	_, err = c.Exec(ctx, "set session_replication_role = replica") // no triggers
	require.NoError(t, err)
	_, err = c.Exec(ctx, sql, args...)
	require.NoError(t, err)
}

// An event changed in the database is found when the run is next read, and such a run is neither added to nor sealed.
func TestRunChangedPastTheProgramIsFound(t *testing.T) {
	for name, sql := range map[string]string{
		"another reading":   `update events set body = replace(body, '"outcome":"clicked"', '"outcome":"over"') where run_id = $1 and seq = 60`,
		"a hidden field":    `update events set body = replace(body, '{"at"', '{"Note":"x","at"') where run_id = $1 and seq = 60`,
		"another time":      `update events set received_at = received_at + interval '1 minute' where run_id = $1 and seq = 60`,
		"an event removed":  `delete from events where run_id = $1 and seq = 60`,
		"the last one gone": `delete from events where run_id = $1 and seq = (select last_seq from runs where id = $1)`,
		"a head put back":   `update runs set last_seq = last_seq - 1 where id = $1`,
		"not JSON":          `update events set body = 'x' where run_id = $1 and seq = 60`,
	} {
		t.Run(name, func(t *testing.T) {
			b := newBench(t, true)
			d, err := b.Joint(ctx, "SW-117")
			require.NoError(t, err)
			tolley := b.crew["M. Tolley"]
			b.owner(t, sql, d.RunID)
			const says = "changed past Dynacor"
			_, err = b.Run(ctx, d.RunID)
			problem(t, err, app.Conflict, says)
			_, err = b.Seal(ctx, d.RunID)
			problem(t, err, app.Conflict, says)
			_, err = b.AppendEvents(ctx, tolley, d.RunID,
				[]run.Event{{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.Noted, At: b.now, Person: tolley.Person,
					Note: "late"}})
			problem(t, err, app.Conflict, says)
			_, err = b.Sign(ctx, tolley, d.RunID, b.signature(t, "M. Tolley", d.RunID, run.SignTightened, ""))
			problem(t, err, app.Conflict, says)
		})
	}
}

// A file that the site's key signed and that still is not the record kept here does not hold.
func TestFileThatIsNotTheKeptRecordDoesNotHold(t *testing.T) {
	b := newBench(t, true)
	page, err := b.Records(ctx, "sw-111", 10, 0)
	require.NoError(t, err)
	number := page.Rows[0].Number
	file, err := b.RecordFile(ctx, number)
	require.NoError(t, err)
	b.owner(t, `update records set file = convert_to(replace(convert_from(file, 'UTF8'), 'Cooler drain header', 'Cooler drain headet'), 'UTF8') where number = $1`, number)
	v, err := b.Verify(ctx, file)
	require.NoError(t, err)
	require.True(t, v.Kept)
	require.False(t, v.Report.OK, "one of the two was changed")
	require.Contains(t, v.Report.Problems, "It is not the record "+number+" that is kept here.")
	require.Equal(t, "record.plan.joint.name", v.Differences[0].Path)
}

// without is the same installation served by a program that was given no key.
func (b *bench) without(t *testing.T) *app.App {
	t.Helper()
	return app.New(b.pool, identity.NewTestHasher(), func() time.Time { return b.now })
}
