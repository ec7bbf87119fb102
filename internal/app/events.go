package app

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"reflect"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/internal/device"
	"dynacor/internal/identity"
	"dynacor/internal/store"
)

// Parcel is what a device sends of a run: events, each as the exact text that it signed.
type Parcel struct {
	Clock  time.Time   `json:"clock"` // of the device, as it sends
	Left   int         `json:"left"`  // events that still wait on the device after these
	Events []SentEvent `json:"events"`
}

// SentEvent is one event as it was made and signed on a device.
type SentEvent struct {
	Text  string `json:"text"`            // JSON of the event
	Proof string `json:"proof,omitempty"` // the device's signature, see identity.EventText
}

// Ack says what became of one event sent; acks stand in the order of the events.
type Ack struct {
	ID      string `json:"id"`
	Seq     int    `json:"seq"`     // 0 when refused
	Refused string `json:"refused"` // why, and what to do
}

// Appended is the answer to events sent.
type Appended struct {
	Acks       []Ack `json:"acks"`
	ClockOffMs int   `json:"clockOffMs"` // by how much the device's clock is ahead, when that is more than a moment; else 0
}

// Bounds of a run: past them it could not be sealed.
const (
	mostRunBytes  = 8 << 20
	mostRunEvents = 20_000
)

// clockSlack is how far two clocks may be apart before one of them is not believed.
const clockSlack = 2 * time.Minute

// admitted is an event that may be appended, with what is kept of how it came.
type admitted struct {
	event  run.Event
	digest string // of the text as sent
	proof  string
}

// here is an event that the server makes itself, after it has found out who asks.
func here(e run.Event) []admitted { return []admitted{{event: e}} }

// sent is one event as it arrived.
type sent struct {
	event  run.Event
	digest string
	text   string
	proof  string
	err    error // why it cannot be read
}

// TakeParcel takes events from a device. The same event sent twice is one event; another event under the same identifier is refused. Each is
// acknowledged or refused by itself; an acknowledged one is kept for good.
func (a *App) TakeParcel(ctx context.Context, who Actor, id string, p Parcel) (Appended, error) {
	list := make([]sent, len(p.Events))
	for i, s := range p.Events {
		list[i] = sent{digest: identity.Digest(s.Text), text: s.Text, proof: s.Proof}
		list[i].event, list[i].err = readEvent(s.Text)
	}
	return a.take(ctx, who, id, list, &p)
}

// AppendEvents takes events from within this program, which knows who made them: those of the made-up site.
func (a *App) AppendEvents(ctx context.Context, who Actor, id string, events []run.Event) (Appended, error) {
	list := make([]sent, len(events))
	for i, e := range events {
		text, err := record.Canonical(e.AsSent())
		list[i] = sent{event: e, digest: identity.Digest(string(text)), err: err}
	}
	return a.take(ctx, who, id, list, nil)
}

// take judges events one by one and appends what may be. parcel is nil when they come from within.
func (a *App) take(ctx context.Context, who Actor, id string, list []sent, parcel *Parcel) (Appended, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return Appended{}, notFound("run", id)
	}
	out := Appended{Acks: []Ack{}}
	var added []record.Entry
	err = a.tx(ctx, func(q *store.Queries) error {
		r, err := q.LockRun(ctx, u)
		if none(err) {
			return notFound("run", id)
		}
		if err != nil {
			return err
		}
		known, err := a.known(ctx, q, list)
		if err != nil {
			return err
		}
		d := desk{q: q, who: who, run: r, now: a.now().UTC().Truncate(time.Millisecond), unproved: a.unprovedDevices}
		if err := d.open(ctx, parcel); err != nil {
			return err
		}
		out.ClockOffMs = int(d.clockOff.Milliseconds())
		var add []admitted
		place := map[string]knownEvent{}
		for _, s := range list {
			ack, in, err := d.judge(ctx, s, known, place)
			if err != nil {
				return err
			}
			if in != nil {
				add = append(add, *in)
				ack.Seq = int(r.LastSeq) + len(add)
				place[in.event.ID] = knownEvent{run: u, seq: ack.Seq, digest: in.digest}
			}
			out.Acks = append(out.Acks, ack)
		}
		if err := d.close(ctx, parcel, len(list)); err != nil || len(add) == 0 {
			return err
		}
		added, err = a.append(ctx, q, r, add)
		return err
	})
	if err == nil && len(added) > 0 {
		a.tellEntries(id, added)
	}
	return out, err
}

// readEvent reads an event's text without mercy: what two readers could read differently is refused.
func readEvent(text string) (run.Event, error) {
	var e run.Event
	unread := func(why string) error {
		return &Problem{Status: http.StatusUnprocessableEntity, Title: "The event cannot be read: " + why + ".", Field: "event", Remedy: "Record it anew."}
	}
	plain, err := record.CanonicalText([]byte(text))
	if err != nil {
		return e, unread(err.Error())
	}
	dec := json.NewDecoder(bytes.NewReader(plain))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&e); err != nil {
		return e, unread(strings.TrimPrefix(err.Error(), "json: "))
	}
	var keys map[string]json.RawMessage
	if err := json.Unmarshal(plain, &keys); err != nil {
		return e, unread(err.Error())
	}
	for k := range keys {
		if !eventKeys[k] { // Go reads Note as note
			return e, unread("unknown field " + k)
		}
	}
	return e, nil
}

// eventKeys are the names of an event's fields, letter by letter.
var eventKeys = func() map[string]bool {
	out := map[string]bool{}
	for _, f := range reflect.VisibleFields(reflect.TypeFor[run.Event]()) {
		name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		out[name] = true
	}
	return out
}()

// knownEvent is an event that is kept already.
type knownEvent struct {
	run    uuid.UUID
	seq    int
	body   string
	digest string // of the text as sent; "": kept before that was
}

// ack answers an event that was sent before: the same one is acknowledged again, another one under its identifier is not.
func (k knownEvent) ack(s sent, runID uuid.UUID) Ack {
	same := k.digest == s.digest
	if k.digest == "" {
		var old run.Event
		same = json.Unmarshal([]byte(k.body), &old) == nil && reflect.DeepEqual(said(old), said(s.event))
	}
	if k.run != runID || !same {
		return Ack{ID: s.event.ID, Refused: "Another event is kept under the same identifier. This one stays on the device: look at both, and record it anew if it happened."}
	}
	return Ack{ID: s.event.ID, Seq: k.seq}
}

// said is what a device says in an event, without what the server fills in.
func said(e run.Event) run.Event {
	e = e.AsSent()
	e.At = e.At.UTC().Truncate(time.Millisecond)
	e.Person = run.Person{ID: e.Person.ID}
	e.Wrench, e.SetUp = nil, nil
	e.Values = slices.Clone(e.Values)
	for i := range e.Values {
		e.Values[i].SI = 0
	}
	if e.Reading != nil {
		r := *e.Reading
		r.SI = 0
		e.Reading = &r
	}
	return e
}

func (a *App) known(ctx context.Context, q *store.Queries, list []sent) (map[string]knownEvent, error) {
	ids := []uuid.UUID{}
	for _, s := range list {
		if u, err := uuid.Parse(s.event.ID); err == nil {
			ids = append(ids, u)
		}
	}
	rows, err := q.EventsByID(ctx, ids)
	if err != nil {
		return nil, err
	}
	out := map[string]knownEvent{}
	for _, r := range rows {
		out[r.ID.String()] = knownEvent{r.RunID, int(r.Seq), r.Body, r.SentSha256}
	}
	return out, nil
}

// desk judges the events of one parcel: who may say what, of which time.
type desk struct {
	q        *store.Queries
	who      Actor
	run      store.Run
	now      time.Time
	unproved bool // devices without keys are let in here

	inside   bool // from within this program
	key      *identity.DeviceKey
	row      store.DeviceKey
	since    time.Time // unsigned events made before then are taken
	lower    time.Time // nothing in the parcel was done before
	shift    time.Duration
	clockOff time.Duration // how far the device's clock is ahead, when that is more than the slack
	size     int
	count    int
}

// open looks up the device and the times that can be true.
func (d *desk) open(ctx context.Context, p *Parcel) error {
	d.size, d.count = int(d.run.Size), int(d.run.LastSeq)
	if p == nil {
		d.inside = true
		return nil
	}
	if off := p.Clock.Sub(d.now); off.Abs() > clockSlack {
		d.clockOff, d.shift = off, -off
	}
	d.lower = d.run.StartedAt
	since, err := setting(ctx, d.q, settingKeysSince, "")
	if err != nil {
		return err
	}
	d.since, _ = time.Parse(time.RFC3339, since) // an installation without it takes no unsigned events
	if d.who.Device == "" {
		return nil
	}
	row, err := d.q.LockDeviceKey(ctx, d.who.Device)
	if err != nil {
		return fmt.Errorf("app: device %s: %w", d.who.Device, err)
	}
	key, err := identity.ParseDeviceKey(row.PublicKey)
	if err != nil {
		return fmt.Errorf("app: device %s: %w", row.ID, err)
	}
	d.key, d.row = &key, row
	lower := row.SpokeAt
	if row.Backlog > 0 && row.BacklogFrom != nil {
		lower = *row.BacklogFrom
	}
	if lower.After(d.lower) {
		d.lower = lower
	}
	return nil
}

// close notes that the device has spoken. What it says it still has to send may be older than this moment; such a backlog can only shrink.
func (d *desk) close(ctx context.Context, p *Parcel, n int) error {
	if d.key == nil {
		return nil
	}
	left := int32(max(p.Left, 0))
	from := &d.row.SpokeAt
	if d.row.Backlog > 0 {
		left, from = min(left, max(d.row.Backlog-int32(n), 0)), d.row.BacklogFrom
	}
	if left == 0 {
		from = nil
	}
	return d.q.DeviceSpoke(ctx, store.DeviceSpokeParams{ID: d.row.ID, SpokeAt: d.now, Backlog: left, BacklogFrom: from})
}

// judge acknowledges what is known, refuses what may not be, and gives what is to be appended. err is a fault of the program.
func (d *desk) judge(ctx context.Context, s sent, known, place map[string]knownEvent) (Ack, *admitted, error) {
	if s.err != nil {
		return Ack{ID: s.event.ID, Refused: s.err.Error()}, nil, nil
	}
	if old, ok := known[s.event.ID]; ok {
		return old.ack(s, d.run.ID), nil, nil
	}
	if old, ok := place[s.event.ID]; ok { // twice in one parcel
		return old.ack(s, d.run.ID), nil, nil
	}
	e, err := d.admit(ctx, s)
	if pr, ok := AsProblem(err); ok {
		return Ack{ID: s.event.ID, Refused: pr.Error()}, nil, nil
	}
	if err != nil {
		return Ack{}, nil, err
	}
	body, err := record.Canonical(e)
	if err != nil {
		return Ack{}, nil, err
	}
	if d.size+len(body) > mostRunBytes || d.count >= mostRunEvents {
		return Ack{ID: e.ID, Refused: "The run is full. Finish it, or go on in new work on the joint; traces with fewer samples and shorter notes take less room."}, nil, nil
	}
	d.size, d.count = d.size+len(body), d.count+1
	return Ack{ID: e.ID}, &admitted{e, s.digest, s.proof}, nil
}

// admit checks that an event may come from this device and completes it: the person as the register knows them, the tools with
// the certificates of the crib.
func (d *desk) admit(ctx context.Context, s sent) (run.Event, error) {
	e := s.event.AsSent()
	if id, err := uuid.Parse(e.ID); err != nil || id.String() != e.ID {
		return e, &Problem{Status: http.StatusUnprocessableEntity, Title: "The event has no proper identifier.", Field: "id", Remedy: "Record it anew."}
	}
	if d.run.SealedAt != nil {
		return e, &Problem{Status: http.StatusConflict, Title: "The record is sealed.", Remedy: "Nothing can be added. Start new work on the joint."}
	}
	if e.Kind == run.Signed {
		return e, &Problem{Status: http.StatusForbidden, Title: "A signature needs the PIN.", Remedy: "Sign at the joint."}
	}
	if err := e.Validate(); err != nil {
		return e, err
	}
	e.At = e.At.UTC().Truncate(time.Millisecond)
	d.bound(&e)
	if err := d.person(ctx, &e, s); err != nil {
		return e, err
	}
	if err := d.measured(ctx, e); err != nil {
		return e, err
	}
	if err := asInCrib(ctx, d.q, &e); err != nil {
		return e, err
	}
	e.Values = slices.Clone(e.Values)
	var err error
	for i, v := range e.Values {
		if e.Values[i].SI, err = canonical(v); err != nil {
			return e, err
		}
	}
	if e.Reading != nil {
		r := *e.Reading
		if r.SI, err = canonical(r); err != nil {
			return e, err
		}
		e.Reading = &r
	}
	return e, nil
}

// bound sets BoundedAt when the device's time cannot be true: earlier than the device last spoke or the run began, or later than now. A clock
// that is off by a known amount is set right first.
func (d *desk) bound(e *run.Event) {
	if d.inside {
		return
	}
	at := e.At.Add(d.shift)
	switch {
	case at.Before(d.lower.Add(-clockSlack)):
		at = d.lower
	case at.After(d.now.Add(clockSlack)):
		at = d.now
	}
	if !at.Equal(e.At) {
		at = at.UTC().Truncate(time.Millisecond)
		e.BoundedAt = &at
	}
}

// person finds out who made an event. A device that has a key signs it, and the person must have been at work on that device then.
func (d *desk) person(ctx context.Context, e *run.Event, s sent) error {
	u, err := uuid.Parse(e.Person.ID)
	if err != nil {
		return &Problem{Status: http.StatusUnprocessableEntity, Title: "The event names nobody.", Field: "person", Remedy: "Sign in and record it anew."}
	}
	row, err := d.q.GetPerson(ctx, u)
	if none(err) {
		return &Problem{Status: http.StatusUnprocessableEntity, Title: "The event names nobody known here.", Field: "person", Remedy: "Sign in and record it anew."}
	}
	if err != nil {
		return err
	}
	e.Person = run.Person{ID: row.ID.String(), Name: row.Name, Role: row.Role}
	if d.inside {
		return nil
	}
	own := e.Person.ID == d.who.ID
	if s.proof == "" {
		return d.unsigned(e, own)
	}
	if d.key == nil {
		return &Problem{Status: http.StatusForbidden, Title: "This session was begun without the device's key.", Field: "proof", Remedy: "Sign in again on this device; what is kept on it is sent then."}
	}
	if err := d.key.Holds(identity.EventText(d.run.ID.String(), s.text), s.proof); err != nil {
		return &Problem{Status: http.StatusForbidden, Title: "The event was not signed by this device.", Field: "proof", Remedy: "Let the one who did the work sign in and record it."}
	}
	ok, err := d.q.OnShift(ctx, store.OnShiftParams{KeyID: d.row.ID, PersonID: u, Slack: clockSlack, At: e.When()})
	if err != nil {
		return err
	}
	if !ok {
		return &Problem{Status: http.StatusForbidden, Title: e.Person.Name + " was not signed in on this device when this was done.", Field: "person", Remedy: "Let the one who did the work sign in and record it."}
	}
	e.DeviceKey = d.row.ID
	return nil
}

// graceOfOldPages is how long after the upgrade a device may still come with what an older program recorded on it.
const graceOfOldPages = 60 * 24 * time.Hour

// unsigned says what becomes of an event that no device has signed: it is only ever taken from whom it names, and marked. One from before devices had keys here,
// or from before this device made its own, is what an older program kept on it.
func (d *desk) unsigned(e *run.Event, own bool) error {
	old := e.At.Before(d.since) || d.key != nil && e.At.Before(d.row.MadeAt) && d.now.Before(d.since.Add(graceOfOldPages))
	open := d.unproved && d.who.Device == ""
	switch {
	case !old && !open:
		return &Problem{Status: http.StatusForbidden, Title: "The event was not signed by the device it was made on.", Field: "proof", Remedy: "Open Dynacor anew on that device and sign in: what is kept on it is sent then."}
	case !own:
		return &Problem{Status: http.StatusForbidden, Title: "Without a key of its own a device can only send what you did yourself.", Field: "person", Remedy: "Let " + e.Person.Name + " sign in on it and send it."}
	case old:
		e.Unproved = run.UnprovedBefore
	default:
		e.Unproved = run.UnprovedNoTLS
	}
	return nil
}

// measured checks that a reading of a tool that sends is one that the tool did send.
func (d *desk) measured(ctx context.Context, e run.Event) error {
	if d.inside || e.Device == "" && e.DeviceSeq == 0 {
		return nil
	}
	never := &Problem{Status: http.StatusUnprocessableEntity, Title: fmt.Sprintf("Tool %s never sent result %d as it stands here.", e.Device, e.DeviceSeq), Field: "deviceSeq", Remedy: "Enter what you read yourself, or pull again."}
	body, err := d.q.GetDeviceResult(ctx, store.GetDeviceResultParams{Tag: e.Device, Seq: int32(e.DeviceSeq)})
	if none(err) {
		return never
	}
	if err != nil {
		return err
	}
	was, err := decode[device.Reading](body)
	if err != nil {
		return err
	}
	if e.Reading == nil || e.Reading.Value != was.Value || e.Reading.Unit != was.Unit || e.AngleDeg != was.AngleDeg {
		return never
	}
	return nil
}

// asInCrib puts the tools of the crib, as they stand there, in place of what the device says of them.
func asInCrib(ctx context.Context, q *store.Queries, e *run.Event) error {
	if e.Wrench == nil {
		return nil
	}
	get := func(tag string) (tool.Tool, error) {
		row, err := q.GetTool(ctx, tag)
		if none(err) {
			return tool.Tool{}, notFound("tool", tag)
		}
		if err != nil {
			return tool.Tool{}, err
		}
		return present(ctx, q, row.Data)
	}
	w, err := get(e.Wrench.Tag)
	if err != nil {
		return err
	}
	e.Wrench = &w
	if e.SetUp == nil {
		return nil
	}
	s := *e.SetUp
	s.String = slices.Clone(s.String)
	for i := range s.String {
		if s.String[i], err = get(s.String[i].Tag); err != nil {
			return err
		}
	}
	if len(s.String) == 0 || s.String[0].Tag != w.Tag {
		return &Problem{Status: http.StatusUnprocessableEntity, Title: "The set-up does not begin with the tool that is set.", Field: "setUp", Remedy: "Name wrench or pump first."}
	}
	e.SetUp = &s
	return nil
}

// EntriesAfter gives the entries of a run after a number: what a page missed.
func (a *App) EntriesAfter(ctx context.Context, id string, after int) ([]record.Entry, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return nil, notFound("run", id)
	}
	r, err := a.q.GetRun(ctx, u)
	if none(err) {
		return nil, notFound("run", id)
	}
	if err != nil {
		return nil, err
	}
	entries, err := a.chain(ctx, a.q, u, int(r.LastSeq), r.LastHash)
	if err != nil {
		return nil, err
	}
	return entries[min(max(after, 0), len(entries)):], nil
}

// Added is what a page is told of a run: the entries that were added, when they are few enough to travel with the note.
type Added struct {
	Seq     int            `json:"seq"` // of the last one; 0: not an entry, look again
	Entries []record.Entry `json:"entries,omitempty"`
}

// mostTold is how many bytes of entries travel with a note; more are fetched.
const mostTold = 6_000

// tellEntries says what was added to a run.
func (a *App) tellEntries(id string, added []record.Entry) {
	n := Added{Seq: added[len(added)-1].Seq}
	if text, err := json.Marshal(added); err == nil && len(text) <= mostTold {
		n.Entries = added
	}
	a.tell("run:"+id, "events", n)
}

// tellRun says that a run is to be looked at again: it was sealed, or something was added that only the server makes.
func (a *App) tellRun(id string) { a.tell("run:"+id, "events", Added{}) }
