package app

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"dynacor/core/authority"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/store"
)

// Elsewhere is a sealed record of another site. It was verified and its key compared when it was taken in.
type Elsewhere struct {
	Mark     string          `json:"mark"`
	Site     string          `json:"site"`
	Number   string          `json:"number"`
	Tag      string          `json:"tag"`
	Name     string          `json:"name"`
	Target   string          `json:"target"`
	Verdict  run.VerdictCode `json:"verdict"`
	SealedAt time.Time       `json:"sealedAt"`
	KeyID    string          `json:"keyId"`
	TakenBy  string          `json:"takenBy"`
	TakenAt  time.Time       `json:"takenAt"`
}

// ElsewhereRecords lists the records of other sites that have a text in them, the last taken in first.
func (a *App) ElsewhereRecords(ctx context.Context, text string) ([]Elsewhere, error) {
	rows, err := a.q.ListElsewhere(ctx, like(text))
	if err != nil {
		return nil, err
	}
	out := []Elsewhere{}
	for _, r := range rows {
		out = append(out, Elsewhere{r.Mark, r.Site, r.Number, r.Tag, r.Name, r.Target, run.VerdictCode(r.Verdict),
			r.SealedAt, r.KeyID, r.TakenBy, r.TakenAt})
	}
	return out, nil
}

// ElsewhereFile gives the sealed file of a record of another site as it was brought.
func (a *App) ElsewhereFile(ctx context.Context, mark string) ([]byte, error) {
	file, err := a.q.ElsewhereFile(ctx, mark)
	if none(err) {
		return nil, notFound("record of another site", mark)
	}
	return file, err
}

// TakeIn keeps a sealed record of another site, apart from this site's own. Whoever does so has compared keyID with what
// that site has made known. The same file brought again is the one that is kept. Refused: a file that does not hold, a
// key that is another, a record of this site, and another record of a number that is kept.
func (a *App) TakeIn(ctx context.Context, who Actor, data []byte, keyID string) ([]Elsewhere, error) {
	if err := who.needs("take in a record of another site", authority.SignProved); err != nil {
		return nil, err
	}
	r := record.Verify(data, nil)
	if !r.OK {
		return nil, &Problem{Kind: Invalid, Field: "file", Remedy: "Ask for the file as it was exported.",
			Title: "The record does not hold: " + strings.Join(r.Problems, " ")}
	}
	if typed := strings.ToLower(strings.Join(strings.Fields(keyID), "")); typed != r.KeyID {
		return nil, &Problem{Kind: Invalid, Field: "keyId", Title: "The record was not signed with the key you name.",
			Remedy: "Compare the key in the file, " + r.KeyID + ", with the one the other site has made known."}
	}
	own, err := a.Keys(ctx)
	if err != nil {
		return nil, err
	}
	if slices.ContainsFunc(own, func(k record.Key) bool { return record.KeyID(k.Public) == r.KeyID }) {
		return nil, &Problem{Kind: Conflict, Field: "file", Title: "This is a record of this site.",
			Remedy: "Look for " + r.Number + " in Records, or verify the file."}
	}
	sealed, err := record.SealedIn(data)
	if err != nil {
		return nil, err
	}
	_, rec, err := record.Read(sealed)
	if err != nil {
		return nil, err
	}
	p := rec.Plan
	err = a.tx(ctx, func(q *store.Queries) error {
		kept, err := q.ElsewhereMark(ctx, store.ElsewhereMarkParams{Site: rec.Site, Number: rec.Number})
		if err == nil && kept == r.Mark {
			return nil
		}
		if err == nil {
			return &Problem{Kind: Conflict, Field: "file", Title: fmt.Sprintf("Another record %s of %s is kept here.",
				rec.Number, rec.Site), Remedy: "Ask that site which of the two is theirs."}
		}
		if !none(err) {
			return err
		}
		if err := q.Audit(ctx, store.AuditParams{Action: "took in", Subject: "record " + rec.Number + " of " + rec.Site,
			After: "signed with " + r.KeyID + ", digest " + r.Mark}); err != nil {
			return err
		}
		return q.InsertElsewhere(ctx, store.InsertElsewhereParams{Mark: r.Mark, Site: rec.Site, Number: rec.Number,
			Tag: p.Joint.Tag, Name: p.Joint.Name, Target: p.TargetWords(), Verdict: string(rec.State.Verdict.Code),
			SealedAt: r.SealedAt, KeyID: r.KeyID, TakenBy: who.Name, TakenAt: a.now(), File: data})
	})
	if err != nil {
		return nil, err
	}
	return a.ElsewhereRecords(ctx, "")
}
