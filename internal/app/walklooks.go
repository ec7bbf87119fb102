package app

import (
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"dynacor/core/quantity"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/core/walk"
	"dynacor/internal/store"
)

// mostAlong is how many joints are taken along on a walk: those that are to be seen first, then others of their areas.
const mostAlong = 300

// WalkAlong is what is taken along on a walk to places without network: what is to be seen, and each joint as it stands.
type WalkAlong struct {
	Round  WalkRound   `json:"round"`
	Joints []WalkJoint `json:"joints"`
}

// WalkAlong gives what to take along.
func (a *App) WalkAlong(ctx context.Context) (WalkAlong, error) {
	v := WalkAlong{Joints: []WalkJoint{}}
	f, err := a.walkFacts(ctx)
	if err != nil {
		return v, err
	}
	v.Round = f.round
	ask := store.JointsToTakeAlongParams{Tags: []string{}, Areas: []string{}, N: mostAlong}
	for _, s := range f.round.Stops {
		ask.Tags, ask.Areas = append(ask.Tags, s.Tag), append(ask.Areas, s.Area)
	}
	rows, err := a.q.JointsToTakeAlong(ctx, ask)
	if err != nil {
		return v, err
	}
	for _, j := range rows {
		one, err := a.walkJoint(ctx, f, j)
		if err != nil {
			return v, err
		}
		v.Joints = append(v.Joints, one)
	}
	return v, nil
}

// Look is what somebody saw at a joint. A look without network is signed later, with the others of its walk.
type Look struct {
	ID      string        `json:"id"` // as the device calls it: sent twice, it is kept once
	Tag     string        `json:"tag"`
	Record  string        `json:"record"` // that it stands behind
	After   int           `json:"after"`  // additions there were behind the record when it was signed
	At      time.Time     `json:"at"`     // by the clock of the device
	Answers []walk.Answer `json:"answers"`
	Note    string        `json:"note,omitempty"` // in place of record and answers: of what is at no joint of the register
	// a picture of it, named as in an addition; its bytes follow
	Photo       string `json:"photo,omitempty"`
	PhotoSHA256 string `json:"photoSha256,omitempty"`
}

// LooksInput is what somebody saw on a walk, signed by PIN.
type LooksInput struct {
	Looks []Look    `json:"looks"`
	Clock time.Time `json:"clock"` // of the device, as it sends
	PIN   string    `json:"pin"`
}

// LookResult is what became of a look: the joint as it stands now, or why the look was refused.
type LookResult struct {
	ID      string     `json:"id"`
	Tag     string     `json:"tag"`
	Joint   *WalkJoint `json:"joint,omitempty"`
	Refused string     `json:"refused"`
	Field   string     `json:"field"`
}

// PutLooks puts what somebody saw at accepted joints behind their records: as looked at again when all was well, else as
// a finding, which makes a joint due again. Each look stands by itself: what is refused of one does not touch the others.
// Refused as a whole: a PIN that is not theirs, and somebody who may not add to records. Refused of a look: a joint
// without that record, additions that were not seen when it was signed, and as in walk.Says and walk.LookedAt.
func (a *App) PutLooks(ctx context.Context, who Actor, in LooksInput) ([]LookResult, error) {
	signer, _, err := a.CheckPIN(ctx, who.ID, in.PIN, From{Address: who.Address, Device: who.Device})
	if err != nil {
		return nil, err
	}
	act := record.Recheck.Takes()
	if err := (Actor{Person: signer}).needs(act.Words(), act); err != nil {
		return nil, err
	}
	out := []LookResult{}
	for _, l := range in.Looks {
		r := LookResult{ID: l.ID, Tag: l.Tag}
		err := a.putSeen(ctx, signer, l, in.Clock)
		if why, ok := quantity.RefusalIn(err); ok {
			r.Refused, r.Field = "This look "+why.Why+". "+why.Remedy, why.Field
		} else if p, ok := AsProblem(err); ok {
			r.Refused, r.Field = p.Error(), p.Field
		} else if err != nil {
			return nil, err
		}
		out = append(out, r)
	}
	f, err := a.walkFacts(ctx)
	if err != nil {
		return nil, err
	}
	for i := range out {
		if out[i].Refused != "" || in.Looks[i].Note != "" {
			continue
		}
		j, err := a.q.GetJoint(ctx, out[i].Tag)
		if err != nil {
			return nil, err
		}
		v, err := a.walkJoint(ctx, f, j)
		if err != nil {
			return nil, err
		}
		out[i].Joint = &v
	}
	return out, nil
}

// putSeen puts a look behind its record, or keeps it as a note.
func (a *App) putSeen(ctx context.Context, signer run.Person, l Look, clock time.Time) error {
	if l.Note != "" {
		return a.putNote(ctx, signer, l, clock)
	}
	x, err := a.addition(ctx, l, clock)
	if err != nil {
		return err
	}
	x.Person = signer
	return a.putLook(ctx, l, x)
}

func noIdentifier() error {
	return &Problem{Kind: Invalid, Field: "id", Title: "The look has no identifier.", Remedy: "Look again."}
}

// addition is what a look puts behind its record.
func (a *App) addition(ctx context.Context, l Look, clock time.Time) (x record.Addition, err error) {
	if _, err := uuid.Parse(l.ID); err != nil {
		return x, noIdentifier()
	}
	names, sealed, err := a.lookedAt(ctx, l)
	if err != nil {
		return x, err
	}
	what, well, err := walk.Says(l.Answers, func(fastener int) string {
		if fastener < 1 || fastener > len(names) {
			return ""
		}
		return names[fastener-1]
	})
	if err != nil {
		return x, err
	}
	x.Kind, x.What, x.Look, x.Photo, x.PhotoSHA256 = record.Finding, what, l.ID, l.Photo, l.PhotoSHA256
	if well {
		x.Kind = record.Recheck
	}
	x.SeenAt, err = walk.LookedAt(l.At, clock, a.now(), sealed, clockSlack)
	return x, err
}

// lookedAt gives the names of the fasteners in the record of a look, and when it was sealed. Refused: no record, and
// another joint's.
func (a *App) lookedAt(ctx context.Context, l Look) (names []string, sealed time.Time, err error) {
	if l.Record == "" {
		return nil, sealed, newProblem(Conflict, "%s has no record of its present state.",
			"Open the joint and see what is left to do there.", l.Tag)
	}
	row, err := a.q.GetRecord(ctx, l.Record)
	if none(err) {
		return nil, sealed, notFound("record", l.Record)
	}
	if err != nil {
		return nil, sealed, err
	}
	if row.Tag != l.Tag {
		return nil, sealed, &Problem{Kind: Invalid, Field: "record",
			Title:  fmt.Sprintf("Record %s is of %s, not of %s.", l.Record, row.Tag, l.Tag),
			Remedy: "Look again."}
	}
	_, rec, err := record.Read(row.File)
	if err != nil {
		return nil, sealed, fmt.Errorf("app: record %s: %w", l.Record, err)
	}
	return fastenerNames(rec), row.SealedAt, nil
}

func fastenerNames(rec record.Record) []string {
	var out []string
	for _, f := range rec.State.Fasteners {
		out = append(out, f.Name)
	}
	return out
}

// putLook puts a look behind its record, unless it is there.
func (a *App) putLook(ctx context.Context, l Look, x record.Addition) error {
	return a.tx(ctx, func(q *store.Queries) error {
		return a.putBehind(ctx, q, l.Record, x, func(rows []store.AdditionsOfRow) (done bool, err error) {
			old, err := additionsIn(rows)
			if err != nil {
				return false, err
			}
			if slices.ContainsFunc(old, func(o record.Addition) bool { return o.Look == l.ID }) {
				return true, nil
			}
			return false, unseen(l.After, len(old), l.Record)
		})
	})
}
