package app

import (
	"context"
	"time"

	"github.com/google/uuid"

	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/internal/store"
)

// putAside quarantines a wrench and puts every joint that it tightened since its last good evidence in doubt.
func (a *App) putAside(ctx context.Context, q *store.Queries, who Actor, w tool.Tool, reason string,
	told told) error {
	since, err := evidence(ctx, q, w)
	if err != nil {
		return err
	}
	if _, err := q.RaiseDoubts(ctx, store.RaiseDoubtsParams{Tag: w.Tag, Reason: reason, RaisedBy: who.Name,
		RaisedAt: a.now(), At: since}); err != nil {
		return err
	}
	if err := a.doubtInRuns(ctx, q, who, w.Tag, reason, told); err != nil {
		return err
	}
	w.State, w.StateReason = tool.Quarantined, reason+" ("+who.Name+", "+a.now().Format("2 Jan 2006")+")"
	return a.putTool(ctx, q, w, who.Name, w.StateReason)
}

// told are the entries that were added to runs, by their identifiers, for whoever looks on once they are kept.
type told map[string][]record.Entry

// tellAll tells them.
func (a *App) tellAll(t told) {
	for id, entries := range t {
		a.tellEntries(id, entries)
	}
}

// doubtInRuns tells every run in hand in which a tool was taken that it is in doubt: the work stops there and asks.
func (a *App) doubtInRuns(ctx context.Context, q *store.Queries, who Actor, tag, reason string, told told) error {
	runs, err := q.OpenRunsWithTool(ctx, tag)
	if err != nil {
		return err
	}
	for _, id := range runs {
		r, err := q.LockRun(ctx, id)
		if err != nil {
			return err
		}
		if r.SealedAt != nil {
			continue
		}
		added, err := a.append(ctx, q, r, run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.ToolDoubted,
			At: a.now().UTC().Truncate(time.Millisecond), Person: who.Person, Tool: tag, Reason: reason})
		if err != nil {
			return err
		}
		told[id.String()] = added
	}
	return nil
}
