package jobs

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/rivertype"

	"dynacor/internal/app"
)

// mailQueue is beside the one of the books: a letter does not wait for a book.
const mailQueue = "mail"

// remind looks who is to be told this morning.
type remind struct{}

// Kind names the work.
func (remind) Kind() string { return "remind" }

// sendMail tells one person of a day.
type sendMail struct {
	Day    string `json:"day"`
	Person string `json:"person"`
	Name   string `json:"name"`
}

// Kind names the work.
func (sendMail) Kind() string { return "send_mail" }

const (
	lookForMail = 15 * time.Minute
	mostTries   = 6
)

type remindWorker struct {
	river.WorkerDefaults[remind]
	a *app.App
}

// Work asks for a letter for everybody who has an address and was not told today.
func (w *remindWorker) Work(ctx context.Context, _ *river.Job[remind]) error {
	if !w.a.Mailer().On() {
		return nil
	}
	return ask(ctx, w.a, river.ClientFromContext[pgx.Tx](ctx), false)
}

// ask puts a letter for each to the work of the background.
func ask(ctx context.Context, a *app.App, client *river.Client[pgx.Tx], now bool) error {
	day, people, err := a.ToRemind(ctx, now)
	if err != nil {
		return err
	}
	for _, p := range people {
		if _, err := client.Insert(ctx, sendMail{day, p.ID, p.Name}, &river.InsertOpts{Queue: mailQueue,
			MaxAttempts: mostTries}); err != nil {
			return err
		}
	}
	return nil
}

type mailWorker struct {
	river.WorkerDefaults[sendMail]
	a *app.App
}

// Work sends a letter; an error has it tried again, later each time.
func (w *mailWorker) Work(ctx context.Context, job *river.Job[sendMail]) error {
	l, err := w.a.LetterFor(ctx, job.Args.Person)
	if err != nil {
		return err
	}
	if l.To != "" {
		if err := w.a.Mailer().Send(ctx, l.To, l.Subject, l.Body); err != nil {
			return err
		}
	}
	return w.a.Reminded(ctx, job.Args.Day, job.Args.Person, l.To == "")
}

// desk shows the work of the background, and lets it be tried again or cancelled.
type desk struct {
	a      *app.App
	client *river.Client[pgx.Tx]
}

// mostJobs that are shown, the newest.
const mostJobs = 100

var kindWords = map[string]string{"make_book": "book", "send_mail": "mail", "remind": "look who is told today"}

// List gives the newest work first.
func (d *desk) List(ctx context.Context) ([]app.BackgroundJob, error) {
	res, err := d.client.JobList(ctx, river.NewJobListParams().First(mostJobs).OrderBy(river.JobListOrderByID,
		river.SortOrderDesc))
	if err != nil {
		return nil, err
	}
	out := []app.BackgroundJob{}
	for _, r := range res.Jobs {
		j := app.BackgroundJob{ID: r.ID, Kind: kindWords[r.Kind], State: string(r.State), Attempt: r.Attempt,
			Most: r.MaxAttempts, At: r.CreatedAt, Next: r.ScheduledAt}
		if r.FinalizedAt != nil {
			j.Next = *r.FinalizedAt
		}
		if n := len(r.Errors); n > 0 {
			j.Wrong = r.Errors[n-1].Error
		}
		var args struct{ Name string }
		if json.Unmarshal(r.EncodedArgs, &args) == nil {
			j.Of = args.Name
		}
		running := []rivertype.JobState{rivertype.JobStateAvailable, rivertype.JobStatePending,
			rivertype.JobStateRetryable,
			rivertype.JobStateRunning, rivertype.JobStateScheduled}
		j.MayCancel = slices.Contains(running, r.State)
		j.MayRetry = r.State == rivertype.JobStateRetryable || r.State == rivertype.JobStateDiscarded ||
			r.State == rivertype.JobStateCancelled
		out = append(out, j)
	}
	return out, nil
}

// Retry has work tried again at once.
func (d *desk) Retry(ctx context.Context, id int64) error {
	_, err := d.client.JobRetry(ctx, id)
	return told(err, id)
}

// Cancel has work not done; what is being done is told to end.
func (d *desk) Cancel(ctx context.Context, id int64) error {
	_, err := d.client.JobCancel(ctx, id)
	return told(err, id)
}

// RemindNow sends everybody their letter at once.
func (d *desk) RemindNow(ctx context.Context) error { return ask(ctx, d.a, d.client, true) }

func told(err error, id int64) error {
	if errors.Is(err, rivertype.ErrNotFound) {
		return &app.Problem{Kind: app.NotFound, Title: fmt.Sprintf("There is no work %d.", id),
			Remedy: "Look at the list again."}
	}
	return err
}
