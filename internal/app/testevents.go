package app

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"dynacor/core/pressuretest"
	"dynacor/core/procedure"
	"dynacor/core/record"
	"dynacor/internal/store"
)

// RecordTest adds an event to a test; its time is that of this server when it names none, or one to come. The same one
// sent again is the one that is kept. Refused: what Admit refuses, and pressure on a joint that is not tightened.
func (a *App) RecordTest(ctx context.Context, who Actor, tag string, e pressuretest.Event) (PressureTest, error) {
	if e.Kind == pressuretest.Signed || e.Kind == pressuretest.Confirmed && e.Gate == "witness" {
		return PressureTest{}, &Problem{Kind: Invalid, Field: "kind", Title: "This is signed by PIN.",
			Remedy: "Let them enter their PIN."}
	}
	e.Person = who.Person
	return a.addToTest(ctx, tag, e)
}

// TestSignature is a signature under a test, or the word of its witness.
type TestSignature struct {
	ID       string            `json:"id"`
	As       pressuretest.Role `json:"as"`
	PersonID string            `json:"personId"`
	PIN      string            `json:"pin"`
}

// SignTest takes a signature by PIN. The word of a witness is asked for before there is pressure, and once more at the
// end. With the second signature the sheet is sealed, and added behind the records of the joints that it covered.
func (a *App) SignTest(ctx context.Context, who Actor, tag string, in TestSignature) (PressureTest, error) {
	signer, _, err := a.CheckPIN(ctx, in.PersonID, in.PIN, From{Address: who.Address, Device: who.Device})
	if err != nil {
		return PressureTest{}, err
	}
	e := pressuretest.Event{ID: in.ID, Person: signer, Kind: pressuretest.Signed, As: in.As}
	v, err := a.PressureTest(ctx, tag)
	if err != nil {
		return v, err
	}
	if in.As == pressuretest.Witness && v.State.Phase == pressuretest.Before {
		e.Kind, e.As, e.Gate = pressuretest.Confirmed, "", "witness"
	}
	return a.addToTest(ctx, tag, e)
}

func (a *App) addToTest(ctx context.Context, tag string, e pressuretest.Event) (PressureTest, error) {
	id, err := uuid.Parse(e.ID)
	if err != nil {
		return PressureTest{}, &Problem{Kind: Invalid, Field: "id", Title: "The event has no identifier.",
			Remedy: "Send it with one, and the same one when it is sent again."}
	}
	if err := e.Typed(); err != nil {
		return PressureTest{}, err
	}
	err = a.tx(ctx, func(q *store.Queries) error {
		if err := q.LockPressureTest(ctx, tag); err != nil {
			return err
		}
		row, s, err := pressureTestSpec(ctx, q, tag)
		if err != nil {
			return err
		}
		if row.Withdrawn != "" {
			return &Problem{Kind: Conflict, Title: "This test was withdrawn: " + row.Withdrawn + ".",
				Remedy: "Lay out another."}
		}
		events, err := pressureTestEvents(ctx, q, tag)
		if err != nil {
			return err
		}
		if len(events) == 0 {
			if err := tightened(ctx, q, s.Joints); err != nil {
				return err
			}
		}
		if slices.ContainsFunc(events, func(x pressuretest.Event) bool { return x.ID == e.ID }) {
			return nil
		}
		e.At = a.timeOf(e, events)
		if err := pressuretest.Admit(s, events, e); err != nil {
			return err
		}
		text, err := encode(e)
		if err != nil {
			return err
		}
		err = q.InsertPressureTestEvent(ctx, store.InsertPressureTestEventParams{Tag: tag, ID: id, At: e.At,
			Seq: int32(len(events) + 1), PersonID: uuid.MustParse(e.Person.ID), Body: text})
		if err != nil {
			return err
		}
		events = append(events, e)
		if st := pressuretest.Fold(s, events); st.Phase == pressuretest.Closed {
			return a.closeTest(ctx, q, s, events, e)
		}
		return nil
	})
	if err != nil {
		return PressureTest{}, err
	}
	return a.PressureTest(ctx, tag)
}

// timeOf is when an event happened: as it says, but not in time to come, and not before the one before it.
func (a *App) timeOf(e pressuretest.Event, events []pressuretest.Event) time.Time {
	at := e.At
	if now := a.now(); at.IsZero() || at.After(now) {
		at = now
	}
	at = at.UTC().Truncate(time.Millisecond)
	if n := len(events); n > 0 && at.Before(events[n-1].At) { // a clock that was put back
		at = events[n-1].At
	}
	return at
}

// tightened refuses to put pressure on a joint that is being worked on and is not tightened yet.
func tightened(ctx context.Context, q *store.Queries, joints []string) error {
	for _, tag := range joints {
		j, err := q.GetJoint(ctx, tag)
		if err != nil {
			return err
		}
		at := procedure.Station(j.Station)
		if j.PresentRun != nil && at != procedure.Prove && at != procedure.HandOver &&
			at != procedure.Sealed {
			return &Problem{Kind: Conflict, Field: "joints", Title: tag + " is being worked on and is not tightened.",
				Remedy: "Finish its passes first, or leave it out of the test behind a blind."}
		}
	}
	return nil
}

// closeTest seals the sheet of a test and adds it behind the last record of every joint that it covered.
func (a *App) closeTest(ctx context.Context, q *store.Queries, s pressuretest.Spec, events []pressuretest.Event,
	last pressuretest.Event) error {
	key, err := a.signing(ctx, q)
	if err != nil {
		return err
	}
	site, err := setting(ctx, q, SettingSite, "Site not named")
	if err != nil {
		return err
	}
	f, mark, err := pressuretest.Seal(site, s, events, last.At, key.Private)
	if err != nil {
		return err
	}
	file, err := record.Canonical(f)
	if err != nil {
		return err
	}
	x, _, err := pressuretest.Verify(file, nil) // what is sealed must verify
	if err != nil {
		return err
	}
	err = q.InsertPressureTestSheet(ctx, store.InsertPressureTestSheetParams{Tag: s.Tag, Mark: mark, File: file,
		Verdict: string(x.Verdict.Code), Says: x.Says(), SealedAt: x.SealedAt, KeyID: x.KeyID})
	if err != nil {
		return err
	}
	for _, tag := range slices.Sorted(slices.Values(s.Joints)) { // in one order: two tests may close at once
		j, err := q.GetJoint(ctx, tag)
		if err != nil {
			return err
		}
		number, err := q.LastRecordOf(ctx, j.ID)
		if none(err) {
			continue // nothing of it is sealed yet
		}
		if err != nil {
			return err
		}
		if err := a.putBehind(ctx, q, number, record.Addition{Kind: record.Tested, Person: last.Person, What: x.Says(),
			Test: s.Tag, TestMark: mark, Failed: x.Verdict.Code.Bad()},
			func([]store.AdditionsOfRow) (bool, error) { return false, nil }); err != nil {
			return err
		}
	}
	return nil
}

// PressureTestFile gives the sealed sheet of a test as it is verified elsewhere.
func (a *App) PressureTestFile(ctx context.Context, tag string) ([]byte, error) {
	row, err := a.q.PressureTestSheet(ctx, tag)
	if none(err) {
		return nil, notFound("closed test", tag)
	}
	return row.File, err
}
