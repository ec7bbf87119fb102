// Package jobs does the work of the background on the same database: it makes hand-over books, and sends in the
// morning what falls due. What is asked for is
// never lost with the program that does it: whoever runs next goes on.
package jobs

import (
	"context"
	"log/slog"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"

	"dynacor/internal/app"
	"dynacor/internal/store"
)

// makeBook is the work of making one book.
type makeBook struct {
	ID uuid.UUID `json:"id"`
}

// Kind names the work.
func (makeBook) Kind() string { return "make_book" }

const (
	bookTimeout = 30 * time.Minute
	lookAgain   = 15 * time.Second // for books that nobody is at any more
)

type bookWorker struct {
	river.WorkerDefaults[makeBook]
	binder binder
}

// Timeout is how long the making of a book may take.
func (w *bookWorker) Timeout(*river.Job[makeBook]) time.Duration { return bookTimeout }

// Work makes a book.
func (w *bookWorker) Work(ctx context.Context, job *river.Job[makeBook]) error {
	return w.binder.make(ctx, job.Args.ID)
}

// Start lets the background work until the context ends; it gives back what waits for the end of it.
func Start(
	ctx context.Context,
	a *app.App,
	pool *pgxpool.Pool,
	log *slog.Logger,
	testOnly bool,
) (wait func(), err error) {
	workers := river.NewWorkers()
	river.AddWorker(workers, &bookWorker{binder: binder{a: a, log: log}})
	river.AddWorker(workers, &remindWorker{a: a})
	river.AddWorker(workers, &mailWorker{a: a})
	client, err := river.NewClient(riverpgxv5.New(pool), &river.Config{
		Schema: store.QueueSchema,
		// one at a time: what bounds the memory that books take
		Queues: map[string]river.QueueConfig{river.QueueDefault: {MaxWorkers: 1}, mailQueue: {MaxWorkers: 1}},
		PeriodicJobs: []*river.PeriodicJob{river.NewPeriodicJob(river.PeriodicInterval(lookForMail),
			func() (river.JobArgs, *river.InsertOpts) { return remind{}, &river.InsertOpts{Queue: mailQueue} }, nil)},
		Workers:           workers,
		FetchCooldown:     50 * time.Millisecond,
		FetchPollInterval: time.Second,
		TestOnly:          testOnly,
		Logger:            slog.New(slog.DiscardHandler),
	})
	if err != nil {
		return nil, err
	}
	a.SetQueue(func(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
		_, err := client.InsertTx(ctx, tx, makeBook{id}, nil)
		return err
	})
	a.SetBackground(&desk{a, client})
	if err := client.Start(ctx); err != nil {
		return nil, err
	}
	go goOn(ctx, a, client, log)
	return func() { <-client.Stopped() }, nil
}

// goOn takes up books whose making ended with the program that made them.
func goOn(ctx context.Context, a *app.App, client *river.Client[pgx.Tx], log *slog.Logger) {
	for {
		if err := takeUp(ctx, a, client); err != nil && ctx.Err() == nil {
			log.Warn("books that are half made were not taken up, trying again", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(lookAgain):
		}
	}
}

func takeUp(ctx context.Context, a *app.App, client *river.Client[pgx.Tx]) error {
	list, err := a.BeingMade(ctx)
	if err != nil {
		return err
	}
	for _, id := range list {
		letGo, free, err := a.HoldDossier(ctx, id)
		if err != nil {
			return err
		}
		if !free {
			continue // somebody is at it
		}
		letGo()
		if _, err := client.Insert(ctx, makeBook{id}, nil); err != nil {
			return err
		}
	}
	return nil
}
