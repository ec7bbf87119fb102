package app

import (
	"context"
	"encoding/json"
	"strings"
	"time"

	"github.com/google/uuid"

	"dynacor/core/run"
	"dynacor/internal/store"
)

// SignatureInput is a signature as it is given at the joint.
type SignatureInput struct {
	ID string `json:"id"` // made by the device: the same signature sent twice is one
	// hash of the last entry that the signer saw: what is signed is the run up to there
	Head     string      `json:"head"`
	PersonID string      `json:"personId"`
	PIN      string      `json:"pin"`
	Purpose  run.Purpose `json:"purpose"`
	Check    string      `json:"check"`
	Ref      string      `json:"ref"`
	Pass     int         `json:"pass"`
	Reason   string      `json:"reason"`
}

// event is the signature as it enters the chain.
func (in SignatureInput) event(who run.Person, signer run.Person, pinVersion int, at time.Time) run.Event {
	return run.Event{ID: in.ID, Kind: run.Signed, At: at.UTC().Truncate(time.Millisecond), Person: who,
		Purpose: in.Purpose, Check: in.Check, Ref: in.Ref, Pass: in.Pass,
		Reason: strings.TrimSpace(in.Reason), Signer: &signer, Head: in.Head, PINVersion: pinVersion}
}

// Sign adds a signature by PIN, bound to the run as the signer saw it. Anybody may sign on anybody's device; the rules
// of the run say who may sign what. The same signature sent again, because its answer was lost, is the one that is
// kept. Refused: a run to which something was added since.
func (a *App) Sign(ctx context.Context, who Actor, id string, in SignatureInput) (RunView, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return RunView{}, notFound("run", id)
	}
	if sid, err := uuid.Parse(in.ID); err != nil || sid.String() != in.ID {
		return RunView{}, &Problem{Kind: Invalid, Title: "The signature has no proper identifier.", Field: "id",
			Remedy: "Sign anew."}
	}
	signer, version, err := a.CheckPIN(ctx, in.PersonID, in.PIN, From{Address: who.Address, Device: who.Device})
	if err != nil {
		return RunView{}, err
	}
	e := in.event(who.Person, signer, version, a.now())
	if err := e.Validate(); err != nil {
		return RunView{}, err
	}
	err = a.tx(ctx, func(q *store.Queries) error {
		r, p, err := a.openRun(ctx, q, u)
		if err != nil {
			return err
		}
		soFar, err := a.chain(ctx, q, u, int(r.LastSeq), r.LastHash)
		if err != nil {
			return err
		}
		rows, err := q.EventsByID(ctx, []uuid.UUID{uuid.MustParse(e.ID)})
		if err != nil {
			return err
		}
		if old, ok := knownEvents(rows)[e.ID]; ok {
			return old.signature(e, u)
		}
		if in.Head != r.LastHash {
			return &Problem{Kind: Conflict, Title: "Something was added to the run since it was looked at.",
				Field: "head", Remedy: "Look at it again, then sign."}
		}
		if err := run.MaySign(p, soFar.state(p, a.now()), e); err != nil {
			return err
		}
		_, err = a.append(ctx, q, r, e)
		return err
	})
	if err != nil {
		return RunView{}, err
	}
	a.tellRun(id)
	return a.Run(ctx, id)
}

// Head gives the hash of the last entry of a run: what a signature is bound to.
func (a *App) Head(ctx context.Context, id string) (string, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return "", notFound("run", id)
	}
	r, err := a.q.GetRun(ctx, u)
	if none(err) {
		return "", notFound("run", id)
	}
	return r.LastHash, err
}

// signature answers one that was given before: the same is the one that is kept, another under its identifier is
// refused.
func (k knownEvent) signature(e run.Event, runID uuid.UUID) error {
	var old run.Event
	if k.run == runID && json.Unmarshal([]byte(k.body), &old) == nil && old.Kind == run.Signed && old.Signer != nil &&
		old.Signer.ID == e.Signer.ID && old.Head == e.Head &&
		old.Purpose == e.Purpose && old.Check == e.Check && old.Ref == e.Ref && old.Pass == e.Pass &&
		old.Reason == e.Reason {
		return nil
	}
	return &Problem{Kind: Conflict, Title: "Another event is kept under the identifier of this signature.", Field: "id",
		Remedy: "Sign anew."}
}
