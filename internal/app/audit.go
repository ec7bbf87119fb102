package app

import (
	"context"
	"fmt"
	"io"
	"time"

	"dynacor/internal/exchange"
	"dynacor/internal/store"
)

// audit writes a line of the audit log for what changes no row by itself: a sign-in, an export. Who did it stands in
// the context; changes of rows are written by the database.
func (a *App) audit(ctx context.Context, action, subject, before, after string) error {
	return a.q.Audit(ctx, store.AuditParams{Action: action, Subject: subject, Before: before, After: after})
}

// words say where a request came from.
func (f From) words() string {
	out := "from " + f.Address
	if f.Address == "" {
		out = "from within"
	}
	if f.Device != "" {
		out += ", device " + f.Device
	}
	return out
}

// Exported writes down that somebody took data out.
func (a *App) Exported(ctx context.Context, what string) error {
	return a.audit(ctx, "exported", what, "", "")
}

// AuditRow is a line of the audit log.
type AuditRow struct {
	ID      int       `json:"id"`
	At      time.Time `json:"at"`
	Who     string    `json:"who"`
	Action  string    `json:"action"`
	Subject string    `json:"subject"`
	Before  string    `json:"before"`
	After   string    `json:"after"`
}

// mostAuditRows of one page.
const mostAuditRows = 200

// AuditLog gives lines of the audit log, the newest first; below a line when one is named.
func (a *App) AuditLog(ctx context.Context, text string, below int) ([]AuditRow, error) {
	rows, err := a.q.AuditPage(ctx, store.AuditPageParams{Below: int64(below), Q: like(text), N: mostAuditRows})
	if err != nil {
		return nil, err
	}
	return auditRows(rows), nil
}

const mostAuditLines = 100_000

// ExportAudit writes the lines of the audit log that a text finds, as CSV, the newest first. Refused: more than a
// spreadsheet opens.
func (a *App) ExportAudit(ctx context.Context, w io.Writer, text string) error {
	var failed error
	err := exchange.WriteCSV(w, exchange.Sheet{Name: "Audit log", Columns: []string{"line", "at_utc", "who", "action",
		"subject", "before", "after"}, Rows: func(yield func([]any) bool) {
		n, below := 0, 0
		for {
			var rows []AuditRow
			if rows, failed = a.AuditLog(ctx, text, below); failed != nil || len(rows) == 0 {
				return
			}
			if n += len(rows); n > mostAuditLines {
				failed = &Problem{Kind: Conflict, Title: fmt.Sprintf("More than %d lines are found.", mostAuditLines),
					Remedy: "Search for less, and export part by part."}
				return
			}
			for _, r := range rows {
				if !yield([]any{r.ID, r.At, r.Who, r.Action, r.Subject, r.Before, r.After}) {
					return
				}
			}
			below = rows[len(rows)-1].ID
		}
	}})
	if failed != nil {
		return failed
	}
	return err
}

func auditRows(rows []store.AuditLog) []AuditRow {
	out := []AuditRow{}
	for _, r := range rows {
		out = append(out, AuditRow{int(r.ID), r.At, r.Who, r.Action, r.Subject, r.Before, r.After})
	}
	return out
}
