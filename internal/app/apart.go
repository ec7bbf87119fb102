package app

import (
	"context"
	"fmt"
	"strings"

	"github.com/google/uuid"

	"dynacor/core/plan"
	"dynacor/core/record"
	"dynacor/internal/store"
)

// TakeApart begins to take a joint apart, from whatever state it is in, and says why. Refused: one whose work is under
// way; that is turned down first, and its record sealed.
func (a *App) TakeApart(ctx context.Context, who Actor, tag, why string) (RunView, error) {
	if strings.TrimSpace(why) == "" {
		return RunView{}, &Problem{Kind: Invalid, Field: "again", Title: "Nobody says why " + tag + " is taken apart.",
			Remedy: "Say why in a few words: leaks, gasket changed, part inspected."}
	}
	return a.begin(ctx, who, tag, why, func(q *store.Queries, j store.Joint) (uuid.UUID, error) {
		p, err := a.apartPlan(ctx, q, j)
		if err != nil {
			return uuid.Nil, err
		}
		row, _, err := a.keepPlan(ctx, q, who, j, p, "", strings.TrimSpace(why))
		return row.ID, err
	})
}

// apartPlan lays out how a joint is taken apart, by what it was tightened by last.
func (a *App) apartPlan(ctx context.Context, q *store.Queries, j store.Joint) (*plan.Plan, error) {
	spec, err := specificationOf(ctx, q, j)
	if err != nil {
		return nil, err
	}
	in, err := a.planInput(ctx, q, j, spec, plan.Choices{})
	if err != nil {
		return nil, err
	}
	in.Apart = true
	last, err := q.LatestPlan(ctx, j.ID)
	if err != nil && !none(err) {
		return nil, err
	}
	if err == nil {
		if in.Was, err = decode[*plan.Plan](last.Data); err != nil {
			return nil, err
		}
	}
	return plan.Make(in)
}

// freshParts says what must be there anew after a joint was taken apart, by the record of that; "" for nothing.
func freshParts(ctx context.Context, q *store.Queries, number string) (string, error) {
	row, err := q.GetRecord(ctx, number)
	if err != nil || row.Target != plan.TakenApartWords {
		return "", err
	}
	_, rec, err := record.Read(row.File)
	if err != nil {
		return "", fmt.Errorf("app: record %s: %w", number, err)
	}
	var out []string
	for _, r := range rec.State.Replace {
		out = append(out, r.What+" ("+r.Why+")")
	}
	return strings.Join(out, "; "), nil
}

// sealedSummary is the line under a joint in a list once its record is sealed.
func sealedSummary(p *plan.Plan, number string) string {
	if p.Apart() {
		return "taken apart, record " + number
	}
	return "record " + number
}
