package app_test

import (
	"bytes"
	"testing"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/internal/app"
	"dynacor/internal/picture"
)

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
	v, err := b.WorkAgain(ctx, tolley, "SW-111", plan.Choices{}, "", "re-torque")
	require.NoError(t, err, "new work on a sealed joint is a new run")
	require.NotEqual(t, d.RunID, v.ID)
	_, err = b.WorkAgain(ctx, tolley, "SW-111", plan.Choices{}, "", "re-torque")
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
	page, err := b.Records(ctx, app.RecordSearch{Text: "sw-111", Limit: 10})
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
	p, err := b.PreviewPlan(ctx, "SW-123", plan.Pick(plan.GroupChoices{Wrench: "W-52"}))
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
	page, err := b.Records(ctx, app.RecordSearch{Text: "sw-111", Limit: 10})
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
