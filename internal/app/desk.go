package app

import (
	"context"
	"fmt"
	"math"
	"slices"
	"time"

	"github.com/google/uuid"

	"dynacor/core/plan"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/internal/device"
	"dynacor/internal/identity"
	"dynacor/internal/store"
)

// desk judges the events of one parcel: who may say what, of which time.
type desk struct {
	q        *store.Queries
	who      Actor
	found    store.Desk // what was looked up beforehand
	run      store.Run
	plan     *plan.Plan
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

// openDesk makes ready to judge a parcel from what was looked up. Refused: a run that is not there.
func (a *App) openDesk(ctx context.Context, q *store.Queries, h *handedIn, found store.Desk) (*desk, error) {
	row, ok := found.Runs[h.run]
	if !ok {
		return nil, notFound("run", h.run.String())
	}
	d := &desk{q: q, who: h.who, found: found, run: row, now: a.now().UTC().Truncate(time.Millisecond),
		unproved: a.unprovedDevices}
	var err error
	if d.plan, err = a.plan(ctx, q, d.run.PlanID); err != nil {
		return nil, err
	}
	return d, d.open(h.parcel)
}

// open finds the device and the times that can be true.
func (d *desk) open(p *Parcel) error {
	d.size, d.count = int(d.run.Size), int(d.run.LastSeq)
	if p == nil {
		d.inside = true
		return nil
	}
	if off := p.Clock.Sub(d.now); off.Abs() > clockSlack {
		d.clockOff, d.shift = off, -off
	}
	d.lower = d.run.StartedAt
	d.since, _ = time.Parse(time.RFC3339, d.found.Since) // an installation without it takes no unsigned events
	if d.who.Device == "" {
		return nil
	}
	row, ok := d.found.Devices[d.who.Device]
	if !ok {
		return fmt.Errorf("app: there is no device %s", d.who.Device)
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

// spoke is that the device has spoken, if one did. What it says it still has to send may be older than this moment;
// such a backlog can only shrink.
func (d *desk) spoke(p *Parcel, n int) (store.DeviceKey, bool) {
	if d.key == nil {
		return store.DeviceKey{}, false
	}
	left := int32(max(p.Left, 0))
	from := &d.row.SpokeAt
	if d.row.Backlog > 0 {
		left, from = min(left, max(d.row.Backlog-int32(n), 0)), d.row.BacklogFrom
	}
	if left == 0 {
		from = nil
	}
	return store.DeviceKey{ID: d.row.ID, SpokeAt: d.now, Backlog: left, BacklogFrom: from}, true
}

// judge acknowledges what is known, refuses what may not be, and gives what is to be appended. err is a fault of the
// program.
func (d *desk) judge(ctx context.Context, s sent, known map[string]knownEvent) (Ack, *admitted, error) {
	if s.err != nil {
		return Ack{ID: s.event.ID, Refused: s.err.Error()}, nil, nil
	}
	if old, ok := known[s.event.ID]; ok {
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
		return Ack{ID: e.ID, Refused: "The run is full. Finish it, or go on in new work on the joint; traces with " +
			"fewer samples and shorter notes take less room."}, nil, nil
	}
	d.size, d.count = d.size+len(body), d.count+1
	return Ack{ID: e.ID}, &admitted{e, body, s.digest, s.proof}, nil
}

// admit checks that an event may come from this device and completes it: the person as the register knows them, the
// tools with the certificates of the crib.
func (d *desk) admit(ctx context.Context, s sent) (run.Event, error) {
	e := s.event.AsSent()
	if id, err := uuid.Parse(e.ID); err != nil || id.String() != e.ID {
		return e, &Problem{Kind: Invalid, Title: "The event has no proper identifier.", Field: "id",
			Remedy: "Record it anew."}
	}
	if d.run.SealedAt != nil {
		return e, &Problem{Kind: Conflict, Title: "The record is sealed.",
			Remedy: "Nothing can be added. Start new work on the joint."}
	}
	if e.Kind == run.ToolDoubted {
		return e, &Problem{Kind: Forbidden, Title: "A tool is put in doubt in the crib.", Field: "kind",
			Remedy: "Put it aside there; every run it is used in is told."}
	}
	if e.Kind == run.Signed {
		return e, &Problem{Kind: Forbidden, Title: "A signature needs the PIN.", Remedy: "Sign at the joint."}
	}
	if err := e.Validate(); err != nil {
		return e, err
	}
	if err := e.Fits(d.plan); err != nil {
		return e, err
	}
	e.At = e.At.UTC().Truncate(time.Millisecond)
	d.bound(&e)
	if err := d.person(&e, s); err != nil {
		return e, err
	}
	if err := d.measured(ctx, e); err != nil {
		return e, err
	}
	if err := d.asInCrib(ctx, &e); err != nil {
		return e, err
	}
	if err := d.trained(ctx, e); err != nil {
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

// bound sets BoundedAt when the device's time cannot be true: earlier than the device last spoke or the run began, or
// later than now. A clock that is off by a known amount is set right first.
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
	if late := d.now.Sub(e.When()); late > lateAfter {
		e.LateMin = math.Floor(late.Minutes())
	}
}

// person finds out who made an event. A device that has a key signs it, and the person must have been at work on that
// device then.
func (d *desk) person(e *run.Event, s sent) error {
	u, err := uuid.Parse(e.Person.ID)
	if err != nil {
		return &Problem{Kind: Invalid, Title: "The event names nobody.", Field: "person",
			Remedy: "Sign in and record it anew."}
	}
	row, ok := d.found.People[u]
	if !ok {
		return &Problem{Kind: Invalid, Title: "The event names nobody known here.", Field: "person",
			Remedy: "Sign in and record it anew."}
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
		return &Problem{Kind: Forbidden, Title: "This session was begun without the device's key.", Field: "proof",
			Remedy: "Sign in again on this device; what is kept on it is sent then."}
	}
	if err := d.key.Holds(identity.EventText(d.run.ID.String(), s.text), s.proof); err != nil {
		return &Problem{Kind: Forbidden, Title: "The event was not signed by this device.", Field: "proof",
			Remedy: "Let the one who did the work sign in and record it."}
	}
	if !d.onShift(u, e.When()) {
		return &Problem{Kind: Forbidden, Title: e.Person.Name + " was not signed in on this device when this was done.",
			Field: "person", Remedy: "Let the one who did the work sign in and record it."}
	}
	e.DeviceKey = d.row.ID
	return nil
}

// longestShift is how long a person counts as being at work on a device that they never signed out of.
const longestShift = 30 * 24 * time.Hour

// onShift reports whether a person was at work on the device at a time, give or take the slack of clocks.
func (d *desk) onShift(person uuid.UUID, at time.Time) bool {
	return slices.ContainsFunc(d.found.Shifts, func(s store.ShiftsForRow) bool {
		return s.KeyID == d.row.ID && s.PersonID == person && !at.Before(s.BeganAt.Add(-clockSlack)) &&
			!at.After(s.BeganAt.Add(longestShift)) && (s.EndedAt == nil || !at.After(s.EndedAt.Add(clockSlack)))
	})
}

// graceOfOldPages is how long after the upgrade a device may still come with what an older program recorded on it.
const graceOfOldPages = 60 * 24 * time.Hour

// unsigned says what becomes of an event that no device has signed: it is only ever taken from whom it names, and
// marked. One from before devices had keys here, or from before this device made its own, is what an older program kept
// on it.
func (d *desk) unsigned(e *run.Event, own bool) error {
	old := e.At.Before(d.since) || d.key != nil && e.At.Before(d.row.MadeAt) &&
		d.now.Before(d.since.Add(graceOfOldPages))
	open := d.unproved && d.who.Device == ""
	switch {
	case !old && !open:
		return &Problem{Kind: Forbidden, Title: "The event was not signed by the device it was made on.",
			Field: "proof", Remedy: "Open Dynacor anew on that device and sign in: what is kept on it is sent then."}
	case !own:
		return &Problem{Kind: Forbidden,
			Title: "Without a key of its own a device can only send what you did yourself.", Field: "person",
			Remedy: "Let " + e.Person.Name + " sign in on it and send it."}
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
	never := &Problem{Kind: Invalid, Title: fmt.Sprintf("Tool %s never sent result %d as it stands here.", e.Device,
		e.DeviceSeq), Field: "deviceSeq", Remedy: "Enter what you read yourself, or pull again."}
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
func (d *desk) asInCrib(ctx context.Context, e *run.Event) error {
	if e.Wrench == nil {
		return nil
	}
	get := func(tag string) (tool.Tool, error) {
		row, ok := d.found.Tools[tag]
		if !ok {
			return tool.Tool{}, notFound("tool", tag)
		}
		return present(ctx, d.q, row.Data)
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
		return &Problem{Kind: Invalid, Title: "The set-up does not begin with the tool that is set.", Field: "setUp",
			Remedy: "Name wrench or pump first."}
	}
	e.SetUp = &s
	return nil
}
