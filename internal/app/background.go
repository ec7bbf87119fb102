package app

import (
	"context"
	"time"

	"dynacor/internal/notify"
)

// BackgroundJob is work that is done without anybody waiting for it.
type BackgroundJob struct {
	ID        int64     `json:"id"`
	Kind      string    `json:"kind"`
	Of        string    `json:"of"`    // whom or what it is about
	State     string    `json:"state"` // as the queue has it
	Attempt   int       `json:"attempt"`
	Most      int       `json:"most"`  // attempts
	Wrong     string    `json:"wrong"` // what went wrong last, "" when nothing did
	At        time.Time `json:"at"`
	Next      time.Time `json:"next"` // when it is tried, or ended
	MayRetry  bool      `json:"mayRetry"`
	MayCancel bool      `json:"mayCancel"`
}

// Background is the work of the background as far as people look at it.
type Background interface {
	List(ctx context.Context) ([]BackgroundJob, error)
	Retry(ctx context.Context, id int64) error
	Cancel(ctx context.Context, id int64) error
	RemindNow(ctx context.Context) error
}

// SetBackground says what does the work.
func (a *App) SetBackground(b Background) { a.background = b }

// SetMailer says how mail is sent; without one none is.
func (a *App) SetMailer(m notify.Mailer) { a.mailer = m }

// Mailer is how mail is sent.
func (a *App) Mailer() notify.Mailer { return a.mailer }

// BackgroundJobs lists the work of the background, the newest first.
func (a *App) BackgroundJobs(ctx context.Context) ([]BackgroundJob, error) {
	if a.background == nil {
		return []BackgroundJob{}, nil
	}
	return a.background.List(ctx)
}

// inBackground does something with the work of the background, where there is any.
func (a *App) inBackground(do func(Background) error) error {
	if a.background == nil {
		return newProblem(Unavailable, "No work is done in the background here.",
			"Start the server as its handbook says.")
	}
	return do(a.background)
}

// RetryJob has work tried again at once.
func (a *App) RetryJob(ctx context.Context, id int64) error {
	return a.inBackground(func(b Background) error { return b.Retry(ctx, id) })
}

// CancelJob has work not done.
func (a *App) CancelJob(ctx context.Context, id int64) error {
	return a.inBackground(func(b Background) error { return b.Cancel(ctx, id) })
}

// RemindNow sends everybody who has an address what falls due for them, at once.
func (a *App) RemindNow(ctx context.Context) error {
	if !a.mailer.On() {
		return newProblem(Conflict, "No mail is sent from here.", "Name the mail server when the server is started.")
	}
	return a.inBackground(func(b Background) error { return b.RemindNow(ctx) })
}
