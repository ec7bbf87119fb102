package app

import (
	"context"
	"encoding/json"
	"slices"
	"time"

	"github.com/google/uuid"

	"dynacor/core/dossier"
	"dynacor/internal/store"
)

// AskForMe is what somebody is asked to supply for the book of a work package.
type AskForMe struct {
	ID      string    `json:"id"`
	Package string    `json:"package"`
	By      string    `json:"by"`
	At      time.Time `json:"at"`
	What    []string  `json:"what"`
}

// asksOf gives who was asked for what a package lacks, the newest first.
func asksOf(ctx context.Context, q *store.Queries, code string) ([]dossier.Ask, error) {
	rows, err := q.PackageAsks(ctx, code)
	if err != nil {
		return nil, err
	}
	out := make([]dossier.Ask, 0, len(rows))
	for _, r := range rows {
		a := dossier.Ask{PersonID: r.PersonID.String(), Person: r.PersonName, By: r.ByName, At: r.At}
		if err := json.Unmarshal(r.Gaps, &a.Gaps); err != nil {
			return nil, err
		}
		out = append(out, a)
	}
	return out, nil
}

// AskForGaps asks everybody who can supply what the book of a package lacks: one message each, nobody twice in a shift.
func (a *App) AskForGaps(ctx context.Context, who Actor, code string) (DossierView, error) {
	book, err := a.layOutBook(ctx, code)
	if err != nil {
		return DossierView{}, err
	}
	if len(book.Gaps) == 0 {
		return DossierView{}, newProblem(Conflict, "Nothing is missing from the book of %s.", "Have it made.", code)
	}
	err = a.tx(ctx, func(q *store.Queries) error {
		if err := q.LockPackage(ctx, code); err != nil { // two who ask at once ask nobody twice
			return err
		}
		asked, err := asksOf(ctx, q, code)
		if err != nil {
			return err
		}
		asks := book.ToAsk(who.ID, who.Name, asked, a.now())
		if len(asks) == 0 {
			return newProblem(Conflict, "Everybody else who can supply it was asked in this shift.",
				"Go and see them, or bind the book with its gaps.")
		}
		for _, x := range asks {
			gaps, err := json.Marshal(x.Gaps)
			if err != nil {
				return err
			}
			person, err := uuid.Parse(x.PersonID)
			if err != nil {
				return err
			}
			if err := q.InsertAsk(ctx, store.InsertAskParams{ID: uuid.Must(uuid.NewV7()), Package: code,
				PersonID: person, PersonName: x.Person, ByName: x.By, At: x.At, Gaps: gaps}); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return DossierView{}, err
	}
	return a.Dossier(ctx, code)
}

// todayAsks tells what somebody is asked for, as far as it is missing still.
func (a *App) todayAsks(ctx context.Context, who Actor, t *Today) error {
	id, err := uuid.Parse(who.ID)
	if err != nil {
		return err
	}
	rows, err := a.q.AsksOf(ctx, id)
	if err != nil {
		return err
	}
	for _, r := range rows {
		var gaps []dossier.GapName
		if err := json.Unmarshal(r.Gaps, &gaps); err != nil {
			return err
		}
		x := AskForMe{ID: r.ID.String(), Package: r.Package, By: r.ByName, At: r.At, What: []string{}}
		for _, g := range gaps {
			if !slices.Contains(r.Done, g.Key) {
				x.What = append(x.What, g.What)
			}
		}
		if len(x.What) > 0 {
			t.Asks = append(t.Asks, x)
		}
	}
	return nil
}

// PutAskAside takes what somebody was asked off their day.
func (a *App) PutAskAside(ctx context.Context, who Actor, id uuid.UUID) error {
	person, err := uuid.Parse(who.ID)
	if err != nil {
		return err
	}
	n, err := a.q.SeenAsk(ctx, store.SeenAskParams{At: a.now(), ID: id, Person: person})
	if err == nil && n == 0 {
		return notFound("request of yours", id.String())
	}
	return err
}
