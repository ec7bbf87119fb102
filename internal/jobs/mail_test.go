package jobs_test

import (
	"context"
	"net"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/notify"
	"dynacor/internal/standin"
)

func named(t *testing.T, a *app.App, name string) app.Actor {
	t.Helper()
	people, err := a.People(context.Background())
	require.NoError(t, err)
	n := slices.IndexFunc(people, func(p run.Person) bool { return p.Name == name })
	require.GreaterOrEqual(t, n, 0)
	return app.Actor{Person: people[n]}
}

// Who has an address is sent what falls due for them, once a day; what fails is seen, tried again, and can be
// cancelled.
func TestWhatFallsDueIsMailed(t *testing.T) {
	ctx := context.Background()
	a, pool, _ := site(t, 0)
	quaye, tolley := named(t, a, "I. Quaye"), named(t, a, "M. Tolley")
	require.NoError(t, a.SetEmail(ctx, quaye, "quaye@tarn-skerry.example"))
	require.Error(t, a.SetEmail(ctx, quaye, "Quaye <quaye@tarn-skerry.example>"))
	require.Error(t, a.SetEmail(ctx, quaye, "nobody"))
	require.ErrorContains(t, a.RemindNow(ctx), "No mail is sent")
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	a.SetMailer(notify.Mailer{Address: ln.Addr().String(), From: "dynacor@tarn-skerry.example", Plain: true})
	require.ErrorContains(t, a.RemindNow(ctx), "No work is done")
	work(t, a, pool)

	// nobody takes mail yet: it is tried, and tried again
	require.NoError(t, ln.Close())
	require.NoError(t, a.RemindNow(ctx))
	var failed app.BackgroundJob
	require.Eventually(t, func() bool {
		list, err := a.BackgroundJobs(ctx)
		require.NoError(t, err)
		n := slices.IndexFunc(list, func(j app.BackgroundJob) bool { return j.Kind == "mail" && j.Wrong != "" })
		if n >= 0 {
			failed = list[n]
		}
		return n >= 0 && failed.MayRetry
	}, 20*time.Second, 50*time.Millisecond)
	require.Equal(t, "I. Quaye", failed.Of)
	require.Positive(t, failed.Attempt)

	again, err := net.Listen("tcp", ln.Addr().String())
	require.NoError(t, err)
	box := standin.NewMailbox(nil)
	go func() { _ = box.Serve(again) }()
	t.Cleanup(func() { _ = box.Close() })
	require.NoError(t, a.RetryJob(ctx, failed.ID))
	require.Eventually(t, func() bool { return len(box.Mails()) == 1 }, 20*time.Second, 50*time.Millisecond)
	m := box.Mails()[0]
	require.Equal(t, []string{"quaye@tarn-skerry.example"}, m.To)
	require.Contains(t, m.Text, "fall")
	require.Contains(t, m.Text, "calibration certificate ends")
	require.Eventually(t, func() bool {
		list, err := a.BackgroundJobs(ctx)
		require.NoError(t, err)
		n := slices.IndexFunc(list, func(j app.BackgroundJob) bool { return j.ID == failed.ID })
		return list[n].State == "completed" && !list[n].MayRetry && !list[n].MayCancel
	}, 20*time.Second, 50*time.Millisecond)

	_, people, err := a.ToRemind(ctx, false)
	require.NoError(t, err)
	require.Empty(t, people, "told today already")
	require.Error(t, a.RetryJob(ctx, 999_999))
	require.Error(t, a.CancelJob(ctx, 999_999))
	l, err := a.LetterFor(ctx, tolley.ID)
	require.NoError(t, err)
	require.Empty(t, l.To, "who has no address is sent nothing")
}

// Mail that is not to be sent any more is cancelled.
func TestMailIsCancelled(t *testing.T) {
	ctx := context.Background()
	a, pool, _ := site(t, 0)
	require.NoError(t, a.SetEmail(ctx, named(t, a, "I. Quaye"), "quaye@tarn-skerry.example"))
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	require.NoError(t, ln.Close())
	a.SetMailer(notify.Mailer{Address: ln.Addr().String(), From: "dynacor@tarn-skerry.example", Plain: true})
	work(t, a, pool)
	require.NoError(t, a.RemindNow(ctx))
	find := func(ok func(app.BackgroundJob) bool) app.BackgroundJob {
		var found app.BackgroundJob
		require.Eventually(t, func() bool {
			list, err := a.BackgroundJobs(ctx)
			require.NoError(t, err)
			n := slices.IndexFunc(list, ok)
			if n >= 0 {
				found = list[n]
			}
			return n >= 0
		}, 20*time.Second, 50*time.Millisecond)
		return found
	}
	waits := find(func(j app.BackgroundJob) bool { return j.Kind == "mail" && j.Wrong != "" && j.MayCancel })
	require.NoError(t, a.CancelJob(ctx, waits.ID))
	find(func(j app.BackgroundJob) bool { return j.ID == waits.ID && j.State == "cancelled" && j.MayRetry })
}
