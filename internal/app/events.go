package app

import (
	"bytes"
	"context"
	"encoding/json"
	"reflect"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"dynacor/core/record"
	"dynacor/core/run"
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
	Acks []Ack `json:"acks"`
	// by how much the device's clock is ahead, when that is more than a moment; else 0
	ClockOffMs int `json:"clockOffMs"`
}

// Bounds of a run: past them it could not be sealed.
const (
	mostRunBytes  = 8 << 20
	mostRunEvents = 20_000
)

// clockSlack is how far two clocks may be apart before one of them is not believed.
const clockSlack = 2 * time.Minute

// lateAfter is how long after its time an event may be heard of before it is told: ten minutes is what a dead spot in a
// plant takes.
const lateAfter = 10 * time.Minute

// admitted is an event that may be appended, with what is kept of how it came.
type admitted struct {
	event  run.Event
	body   []byte // its canonical text; nil: not written yet
	digest string // of the text as sent
	proof  string
}

// sent is one event as it arrived.
type sent struct {
	event  run.Event
	digest string
	text   string
	proof  string
	err    error // why it cannot be read
}

// TakeParcel takes events from a device. The same event sent twice is one event; another event under the same
// identifier is refused. Each is acknowledged or refused by itself; an acknowledged one is kept for good.
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
	h := &handedIn{who: who, run: u, list: list, parcel: parcel}
	if err := a.record(ctx, h); err != nil {
		return Appended{}, err
	}
	if len(h.added) > 0 {
		a.tellEntries(id, h.added)
	}
	return h.out, nil
}

// readEvent reads an event's text without mercy: what two readers could read differently is refused.
func readEvent(text string) (run.Event, error) {
	var e run.Event
	unread := func(why string) error {
		return &Problem{Kind: Invalid, Title: "The event cannot be read: " + why + ".", Field: "event",
			Remedy: "Record it anew."}
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

// ack answers an event that was sent before: the same one is acknowledged again, another one under its identifier is
// not.
func (k knownEvent) ack(s sent, runID uuid.UUID) Ack {
	same := k.digest == s.digest
	if k.digest == "" {
		var old run.Event
		same = json.Unmarshal([]byte(k.body), &old) == nil && reflect.DeepEqual(said(old), said(s.event))
	}
	if k.run != runID || !same {
		return Ack{ID: s.event.ID,
			Refused: "Another event is kept under the same identifier. This one stays on the device: look at both, " +
				"and record it anew if it happened."}
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

// knownEvents are kept events by their identifiers.
func knownEvents(rows []store.EventsByIDRow) map[string]knownEvent {
	out := map[string]knownEvent{}
	for _, r := range rows {
		out[r.ID.String()] = knownEvent{r.RunID, int(r.Seq), r.Body, r.SentSha256}
	}
	return out
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
	known, err := a.chain(ctx, a.q, u, int(r.LastSeq), r.LastHash)
	if err != nil {
		return nil, err
	}
	return known.entries[min(max(after, 0), len(known.entries)):], nil
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
	if a.told == nil {
		return
	}
	n := Added{Seq: added[len(added)-1].Seq}
	if text, err := json.Marshal(added); err == nil && len(text) <= mostTold {
		n.Entries = added
	}
	a.tell("run:"+id, "events", n)
}

// tellRun says that a run is to be looked at again: it was sealed, or something was added that only the server makes.
func (a *App) tellRun(id string) { a.tell("run:"+id, "events", Added{}) }
