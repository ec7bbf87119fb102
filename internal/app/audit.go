package app

import (
	"context"
	"time"

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

func auditRows(rows []store.AuditLog) []AuditRow {
	out := []AuditRow{}
	for _, r := range rows {
		out = append(out, AuditRow{int(r.ID), r.At, r.Who, r.Action, r.Subject, r.Before, r.After})
	}
	return out
}
