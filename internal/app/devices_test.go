package app_test

import (
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/device"
	"dynacor/internal/identity"
	"dynacor/internal/identity/identitytest"
)

// tablet is a device with a key of its own and somebody signed in on it.
type tablet struct {
	b     *bench
	key   identitytest.Device
	who   app.Actor
	run   string
	clock time.Duration // how far its clock is ahead
}

// tablet gives a device on which nobody has signed in yet, at work on SW-114. Unsigned events are long past here.
func (b *bench) tablet(t *testing.T) *tablet {
	t.Helper()
	require.NoError(t, b.PutSetting(ctx, "device_keys_since", "2026-01-01T00:00:00Z"))
	d, err := b.Joint(ctx, "SW-114")
	require.NoError(t, err)
	return &tablet{b: b, key: identitytest.NewDevice(), run: d.RunID}
}

func (d *tablet) signIn(t *testing.T, name string) *tablet {
	t.Helper()
	id := d.b.crew[name].ID
	_, login, err := d.b.SignIn(ctx, app.SignInInput{PersonID: id, PIN: pins[name], DeviceKey: d.key.Public(),
		DeviceProof: d.key.Sign(identity.SignInText(id, d.key.Key.ID))}, app.From{})
	require.NoError(t, err)
	d.who, err = d.b.Who(ctx, login)
	require.NoError(t, err)
	return d
}

// note is an event made now by the device's clock.
func (d *tablet) note(text string) run.Event {
	return run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.Noted, At: d.b.now.Add(d.clock),
		Person: d.who.Person, Note: text}
}

func (d *tablet) signed(t *testing.T, e run.Event) app.SentEvent {
	t.Helper()
	text, err := record.Canonical(e)
	require.NoError(t, err)
	return app.SentEvent{Text: string(text), Proof: d.key.Sign(identity.EventText(d.run, string(text)))}
}

func (d *tablet) post(t *testing.T, left int, list ...app.SentEvent) app.Appended {
	t.Helper()
	out, err := d.b.TakeParcel(ctx, d.who, d.run, app.Parcel{Clock: d.b.now.Add(d.clock), Left: left, Events: list})
	require.NoError(t, err)
	require.Len(t, out.Acks, len(list))
	return out
}

// send signs and posts events, and gives why each was refused.
func (d *tablet) send(t *testing.T, events ...run.Event) []string {
	t.Helper()
	var list []app.SentEvent
	for _, e := range events {
		list = append(list, d.signed(t, e))
	}
	var out []string
	for _, a := range d.post(t, 0, list...).Acks {
		require.Equal(t, a.Refused == "", a.Seq > 0)
		out = append(out, a.Refused)
	}
	return out
}

func (d *tablet) last(t *testing.T) run.Event {
	t.Helper()
	v, err := d.b.Run(ctx, d.run)
	require.NoError(t, err)
	return v.Entries[len(v.Entries)-1].Event
}

// Nobody records in another's name: an event counts for a person when the device that signed it had them signed in
// then.
func TestEventIsProvedByItsDevice(t *testing.T) {
	b := newBench(t, true)
	d := b.tablet(t).signIn(t, "M. Tolley")
	require.Equal(t, []string{""}, d.send(t, d.note("mine")))
	e := d.last(t)
	require.Equal(t, d.key.Key.ID, e.DeviceKey)
	require.Empty(t, e.Unproved)
	require.Nil(t, e.BoundedAt)

	other := d.note("in another's name")
	other.Person = b.crew["I. Quaye"].Person
	require.Contains(t, d.send(t, other)[0], "I. Quaye was not signed in on this device")

	mine := d.signed(t, d.note("unsigned"))
	unsigned := mine
	unsigned.Proof = ""
	require.Contains(t, d.post(t, 0, unsigned).Acks[0].Refused, "not signed by the device it was made on")
	foreign := mine
	foreign.Proof = identitytest.NewDevice().Sign(identity.EventText(d.run, mine.Text))
	require.Contains(t, d.post(t, 0, foreign).Acks[0].Refused, "not signed by this device")
	elsewhere := mine
	elsewhere.Proof = d.key.Sign(identity.EventText(uuid.NewString(), mine.Text))
	require.Contains(t, d.post(t, 0, elsewhere).Acks[0].Refused, "not signed by this device", "signed for another run")
	require.Empty(t, d.post(t, 0, mine).Acks[0].Refused)

	for _, set := range []func(*run.Event){func(e *run.Event) { e.DeviceKey = "0123456789abcdef" },
		func(e *run.Event) { at := b.now.Add(-time.Hour); e.BoundedAt = &at },
		func(e *run.Event) { e.Unproved = run.UnprovedBefore },
		func(e *run.Event) { e.PINVersion, e.Head = 7, "x" }} {
		e := d.note("what only the server says")
		set(&e)
		require.Equal(t, []string{""}, d.send(t, e))
		e = d.last(t)
		require.Equal(t, d.key.Key.ID, e.DeviceKey)
		require.Nil(t, e.BoundedAt)
		require.Empty(t, e.Unproved)
		require.Empty(t, e.Head)
		require.Zero(t, e.PINVersion)
	}
}

// Hands change on a shared device: what each did while at work counts for them, whoever is signed in when it is sent.
func TestShiftsOnASharedDevice(t *testing.T) {
	b := newBench(t, true)
	d := b.tablet(t).signIn(t, "M. Tolley")
	b.now = b.now.Add(time.Hour)
	kept := d.note("kept without network")
	b.now = b.now.Add(time.Hour)
	d.signIn(t, "I. Quaye")
	require.Equal(t, []string{""}, d.send(t, kept), "made while M. Tolley was at work")
	require.Equal(t, "M. Tolley", d.last(t).Person.Name)
	b.now = b.now.Add(time.Hour)
	late := d.note("after the hands changed")
	late.Person = b.crew["M. Tolley"].Person
	require.Contains(t, d.send(t, late)[0], "M. Tolley was not signed in on this device")
	require.NoError(t, b.SignOut(ctx, d.who))
	b.now = b.now.Add(time.Hour)
	require.Contains(t, d.send(t, d.note("after signing out"))[0], "I. Quaye was not signed in")
}

// A sign-in with a key that the device cannot prove, or with none, begins no shift.
func TestDeviceProvesItsKeyAtSignIn(t *testing.T) {
	b := newBench(t, true)
	d, id := b.tablet(t), b.crew["M. Tolley"].ID
	sign := func(in app.SignInInput) error {
		in.PersonID, in.PIN = id, pins["M. Tolley"]
		_, login, err := b.SignIn(ctx, in, app.From{})
		if err == nil {
			d.who, err = b.Who(ctx, login)
		}
		return err
	}
	problem(t, sign(app.SignInInput{DeviceKey: "no key"}), app.Invalid, "P-256")
	problem(t, sign(app.SignInInput{DeviceKey: d.key.Public(), DeviceProof: d.key.Sign("something else")}),
		app.Forbidden, "did not prove")
	require.NoError(t, sign(app.SignInInput{}))
	require.Empty(t, d.who.Device)
	require.Contains(t, d.send(t, d.note("x"))[0], "begun without the device's key")

	b.LetInUnprovedDevices()
	plain := d.signed(t, d.note("over a plain connection"))
	plain.Proof = ""
	require.Empty(t, d.post(t, 0, plain).Acks[0].Refused)
	require.Equal(t, run.UnprovedNoTLS, d.last(t).Unproved)
	v, err := b.Run(ctx, d.run)
	require.NoError(t, err)
	require.Equal(t, 1, v.State.NotProved)
	other := d.note("in another's name")
	other.Person = b.crew["I. Quaye"].Person
	sent := d.signed(t, other)
	sent.Proof = ""
	require.Contains(t, d.post(t, 0, sent).Acks[0].Refused, "can only send what you did yourself")
}

// What an older program kept on the device before devices had keys is taken once, and marked.
func TestEventsFromBeforeKeysAreTakenOnce(t *testing.T) {
	b := newBench(t, true)
	d := b.tablet(t).signIn(t, "M. Tolley")
	require.NoError(t, b.PutSetting(ctx, "device_keys_since", b.now.Add(-time.Hour).UTC().Format(time.RFC3339)))
	old := d.note("kept before the upgrade")
	old.At = b.now.Add(-2 * time.Hour)
	sent := d.signed(t, old)
	sent.Proof = ""
	first := d.post(t, 0, sent)
	require.Empty(t, first.Acks[0].Refused)
	require.Equal(t, run.UnprovedBefore, d.last(t).Unproved)
	require.Equal(t, first.Acks, d.post(t, 0, sent).Acks, "once")
	other := old
	other.ID, other.Person = uuid.Must(uuid.NewV7()).String(), b.crew["R. Abara"].Person
	sent = d.signed(t, other)
	sent.Proof = ""
	require.Contains(t, d.post(t, 0, sent).Acks[0].Refused, "can only send what you did yourself")
	between := d.note("kept by an old page after the upgrade")
	between.At = b.now.Add(-time.Minute)
	sent = d.signed(t, between)
	sent.Proof = ""
	require.Empty(t, d.post(t, 0, sent).Acks[0].Refused, "made before this device had its key")
	require.Equal(t, run.UnprovedBefore, d.last(t).Unproved)
	b.now = b.now.Add(61 * 24 * time.Hour)
	d.signIn(t, "M. Tolley")
	late := between
	late.ID = uuid.Must(uuid.NewV7()).String()
	sent = d.signed(t, late)
	sent.Proof = ""
	require.Contains(t, d.post(t, 0, sent).Acks[0].Refused, "not signed by the device", "not for ever")
	fresh := d.signed(t, d.note("made after it"))
	fresh.Proof = ""
	require.Contains(t, d.post(t, 0, fresh).Acks[0].Refused, "not signed by the device")
}

// The same bytes under an identifier are acknowledged again; other bytes, in whatever field, are refused and told.
func TestOtherEventUnderTheSameIdentifierIsRefused(t *testing.T) {
	b := newBench(t, true)
	d := b.tablet(t).signIn(t, "M. Tolley")
	e := d.note("first")
	sent := d.signed(t, e)
	first := d.post(t, 0, sent, sent)
	require.Equal(t, first.Acks[0], first.Acks[1], "twice in one parcel")
	require.Equal(t, first.Acks[0], d.post(t, 0, sent).Acks[0])
	for name, change := range map[string]func(*run.Event){
		"note": func(e *run.Event) { e.Note = "second" }, "time": func(e *run.Event) { e.At = e.At.Add(time.Second) },
		"outcome": func(e *run.Event) { e.Outcome = run.Over },
		"setting": func(e *run.Event) { e.Setting = 1 }, "person": func(e *run.Event) { e.Person.Name = "M. Tolly" },
		"kind": func(e *run.Event) { e.Kind, e.Reason = run.Held, "x" },
	} {
		other := e
		change(&other)
		require.Contains(t, d.send(t, other)[0], "Another event is kept under the same identifier", name)
	}
	both := d.note("one")
	again := both
	again.Note = "two"
	out := d.send(t, both, again)
	require.Empty(t, out[0])
	require.Contains(t, out[1], "same identifier")
}

// Of a parcel each event is judged by itself: what nobody can mean is refused by field, the rest is kept.
func TestBadEventHoldsUpNoOther(t *testing.T) {
	b := newBench(t, true)
	d := b.tablet(t).signIn(t, "M. Tolley")
	good := func(text string) app.SentEvent { return d.signed(t, d.note(text)) }
	raw := func(text string) app.SentEvent {
		return app.SentEvent{Text: text, Proof: d.key.Sign(identity.EventText(d.run, text))}
	}
	with := func(change func(*run.Event)) app.SentEvent {
		e := d.note("x")
		change(&e)
		return d.signed(t, e)
	}
	text := good("y").Text
	bad := map[string]app.SentEvent{
		"control character (U+0000)": with(func(e *run.Event) { e.Note = "a\x00b" }),
		"control character (U+001B)": with(func(e *run.Event) { e.Reason = "\x1b[2J" }),
		"proper identifier":          with(func(e *run.Event) { e.ID = strings.ToUpper(e.ID) }),
		"figure that can be meant": with(func(e *run.Event) {
			e.Values = []run.Reading{{Value: 1e308,
				Unit: quantity.Unit("in")}}
		}),
		"number that can be meant":  with(func(e *run.Event) { e.Fastener = 2_000_000 }),
		"2001 characters":           with(func(e *run.Event) { e.Note = strings.Repeat("ü", 2001) }),
		"201 characters":            with(func(e *run.Event) { e.Product = strings.Repeat("p", 201) }),
		"1001 entries":              with(func(e *run.Event) { e.Items = make([]string, 1001) }),
		"not a kind of event":       with(func(e *run.Event) { e.Kind = "invented" }),
		"cannot be read":            raw("{"),
		"stands twice":              raw(strings.Replace(text, `{`, `{"note":"z",`, 1)),
		"unknown field Note":        raw(strings.Replace(text, `"note"`, `"Note"`, 1)),
		"unknown field":             raw(strings.Replace(text, `"note"`, `"nota"`, 1)),
		"follows the end":           raw(text + "{}"),
		"names nobody":              with(func(e *run.Event) { e.Person.ID = "" }),
		"nobody known":              with(func(e *run.Event) { e.Person.ID = uuid.NewString() }),
		"is empty":                  with(func(e *run.Event) { e.Note = "" }),
		"A signature needs the PIN": with(func(e *run.Event) { e.Kind = run.Signed }),
		"nested deeper":             raw(strings.Repeat("[", 100)),
		"text has half a character": raw(strings.Replace(text, `"y"`, `"\ud800"`, 1)),
	}
	list, says := []app.SentEvent{good("before")}, []string{""}
	for why, s := range bad {
		list, says = append(list, s), append(says, why)
	}
	list, says = append(list, good("after")), append(says, "")
	out := d.post(t, 0, list...)
	for i, a := range out.Acks {
		if says[i] == "" {
			require.Empty(t, a.Refused)
			continue
		}
		require.Contains(t, a.Refused, says[i])
	}
	require.Equal(t, "after", d.last(t).Note)
}

// A reading that names a tool and a number counts only when that tool sent that reading under that number.
func TestReadingNobodySentIsRefused(t *testing.T) {
	b := newBench(t, true)
	d := b.tablet(t).signIn(t, "M. Tolley")
	require.NoError(t, b.SetDeviceToken(ctx, b.crew["J. Hartwell"], "E-03", "a token of the test"))
	_, fresh, err := b.TakeResult(ctx, "E-03", device.Message{Type: device.Result, Seq: 1,
		Reading: &device.Reading{At: b.now, Value: 212.4, Unit: quantity.NewtonMetre, AngleDeg: 31}})
	require.NoError(t, err)
	require.True(t, fresh)
	pull := func(change func(*run.Event)) string {
		e := d.note("")
		e.Kind, e.Note, e.Pass, e.Fastener, e.Outcome, e.Setting = run.Pulled, "", 1, 1, run.Reached, 212
		e.Reading, e.AngleDeg, e.Device, e.DeviceSeq = &run.Reading{Value: 212.4, Unit: quantity.NewtonMetre}, 31,
			"E-03", 1
		change(&e)
		return d.send(t, e)[0]
	}
	for name, change := range map[string]func(*run.Event){
		"another number": func(e *run.Event) { e.DeviceSeq = 2 }, "no number": func(e *run.Event) { e.DeviceSeq = 0 },
		"another tool": func(e *run.Event) { e.Device = "E-04" }, "no tool": func(e *run.Event) { e.Device = "" },
		"another value": func(e *run.Event) { e.Reading.Value = 252 },
		"another unit":  func(e *run.Event) { e.Reading.Unit = quantity.FootPound },
		"no value":      func(e *run.Event) { e.Outcome, e.Reading = run.Clicked, nil },
		"another angle": func(e *run.Event) { e.AngleDeg = 90 },
	} {
		require.Contains(t, pull(change), "never sent result", name)
	}
	require.Empty(t, pull(func(*run.Event) {}))
}

func TestRunThatIsFullTakesNothingMore(t *testing.T) {
	b := newBench(t, true)
	d := b.tablet(t).signIn(t, "M. Tolley")
	b.owner(t, "update runs set size = 8 * 1024 * 1024 - 100 where id = $1", d.run)
	require.Contains(t, d.send(t, d.note("one too many"))[0], "The run is full")
}

// Signatures are bound to what was seen, to the PIN, and given once.
func TestSignatureIsGivenOnceAndBoundToWhatWasSeen(t *testing.T) {
	b := newBench(t, true)
	v, err := b.StartRun(ctx, b.crew["M. Tolley"], "SW-112", plan.Choices{}, "")
	require.NoError(t, err)
	id := v.ID
	for _, c := range []string{"start_card", "isolation"} {
		_, err := b.AppendEvents(ctx, b.crew["M. Tolley"], id,
			[]run.Event{{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.CheckAnswered, Check: c, Answer: "yes",
				At: b.now, Person: b.crew["M. Tolley"].Person}})
		require.NoError(t, err)
	}
	in := b.signature(t, "R. Abara", id, run.SignHold, "isolation")
	stale := in
	stale.Head = strings.Repeat("0", 64)
	_, err = b.Sign(ctx, b.crew["M. Tolley"], id, stale)
	problem(t, err, app.Conflict, "Something was added")
	upper := in
	upper.ID = strings.ToUpper(in.ID)
	_, err = b.Sign(ctx, b.crew["M. Tolley"], id, upper)
	problem(t, err, app.Invalid, "no proper identifier")
	nul := in
	nul.Reason = "a\x00"
	_, err = b.Sign(ctx, b.crew["M. Tolley"], id, nul)
	problem(t, err, app.Invalid, "control character")
	first, err := b.Sign(ctx, b.crew["M. Tolley"], id, in)
	require.NoError(t, err)
	again, err := b.Sign(ctx, b.crew["M. Tolley"], id, in)
	require.NoError(t, err, "its answer was lost, it is sent again")
	require.Len(t, again.Entries, len(first.Entries))
	e := again.Entries[len(again.Entries)-1].Event
	require.Equal(t, in.Head, e.Head)
	require.Equal(t, 1, e.PINVersion)
	require.Equal(t, again.Entries[len(again.Entries)-2].Hash, e.Head)
	other := in
	other.Reason = "another"
	_, err = b.Sign(ctx, b.crew["M. Tolley"], id, other)
	problem(t, err, app.Conflict, "Another event is kept")
	wrong := in
	wrong.PIN = "0000"
	_, err = b.Sign(ctx, b.crew["M. Tolley"], id, wrong)
	problem(t, err, app.NotSignedIn, "do not go together")
}

// ---- PINs ----

// ---- sign-ins ----
