package jobs_test

import (
	"archive/zip"
	"bytes"
	"context"
	"io"
	"log/slog"
	"os"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/stretchr/testify/require"

	"dynacor/core/dossier"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/demo/demotest"
	"dynacor/internal/identity"
	"dynacor/internal/jobs"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
)

func TestMain(m *testing.M) { os.Exit(storetest.Main(m)) }

// site is the made-up site with a package of n sealed joints beside it.
func site(t testing.TB, n int) (*app.App, *pgxpool.Pool, string) {
	t.Helper()
	ctx := context.Background()
	url := demotest.URL(t, time.Now())
	if n > 0 {
		demotest.SealedPackage(t, url, "WP-90", n)
	}
	pool, err := store.Open(ctx, storetest.Serving(url), 8)
	require.NoError(t, err)
	t.Cleanup(pool.Close)
	a := app.New(pool, identity.NewTestHasher(), nil)
	require.NoError(t, a.UseKey(ctx, storetest.Key()))
	return a, pool, url
}

// work lets the background work until the test ends, or until it is told to end.
func work(t testing.TB, a *app.App, pool *pgxpool.Pool) (end func()) {
	t.Helper()
	ctx, cancel := context.WithCancel(context.Background())
	wait, err := jobs.Start(ctx, a, pool, slog.New(slog.NewTextHandler(os.Stderr, nil)), true)
	require.NoError(t, err)
	end = func() { cancel(); wait() }
	t.Cleanup(end)
	return end
}

func engineer(t testing.TB, a *app.App) app.Actor {
	t.Helper()
	people, err := a.People(context.Background())
	require.NoError(t, err)
	for _, p := range people {
		if p.Is("engineer") {
			return app.Actor{Person: p}
		}
	}
	require.Fail(t, "the site has no engineer")
	return app.Actor{}
}

// ends waits until the last book of a package is made, or is not made any more.
func ends(t testing.TB, a *app.App, code string) app.DossierView {
	t.Helper()
	for range 600 {
		v, err := a.Dossier(context.Background(), code)
		require.NoError(t, err)
		if v.Last != nil && v.Last.State != app.DossierMaking {
			return v
		}
		time.Sleep(100 * time.Millisecond)
	}
	require.Fail(t, "the book is not made")
	return app.DossierView{}
}

// files reads the archive of a bound book.
func files(t testing.TB, a *app.App, id string) map[string][]byte {
	t.Helper()
	_, write, err := a.DossierFiles(context.Background(), id)
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, write(&b))
	z, err := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len()))
	require.NoError(t, err)
	out := map[string][]byte{}
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		out[f.Name], err = io.ReadAll(r)
		require.NoError(t, err)
	}
	return out
}

func TestBookOfTheDemoIsMadeInTheBackground(t *testing.T) {
	ctx := context.Background()
	a, pool, _ := site(t, 0)
	_, err := a.MakeDossier(ctx, engineer(t, a), "WP-47", true)
	require.ErrorContains(t, err, "No books are made here")
	work(t, a, pool)
	before, err := a.Dossier(ctx, "WP-47")
	require.NoError(t, err)
	require.NotEmpty(t, before.Book.Gaps, "the demo is in the middle of its work")
	require.Nil(t, before.Last)
	_, err = a.MakeDossier(ctx, engineer(t, a), "WP-47", false)
	require.ErrorContains(t, err, "missing")
	_, err = a.MakeDossier(ctx, engineer(t, a), "WP-47", true)
	require.NoError(t, err)
	v := ends(t, a, "WP-47")
	require.Equal(t, app.DossierBound, v.Last.State, v.Last.Failed)
	require.Len(t, v.Last.Leaves, len(v.Book.Entries))
	require.Empty(t, v.Newer)
	all := files(t, a, v.Last.ID)
	keys, err := a.Keys(ctx)
	require.NoError(t, err)
	x, err := dossier.ReadIndex(all[dossier.IndexName], keys)
	require.NoError(t, err)
	sums := map[string]string{}
	for name, data := range all {
		sums[name] = record.Sum(data)
	}
	require.Empty(t, x.Check(sums))
	require.Len(t, x.Gaps, len(before.Book.Gaps))
	require.Equal(t, v.Last.Mark, sums["book.pdf"])
	for _, f := range x.Files {
		if f.Kind == "record" {
			require.True(t, record.Verify(all[f.Name], keys).OK, f.Name)
		}
	}
	making, err := a.DossiersMaking(ctx)
	require.NoError(t, err)
	require.Empty(t, making)
}

// What was drawn before a book was stopped is bound into the next one; nothing of it is drawn again.
func TestBookIsStoppedAndMadeAgain(t *testing.T) {
	ctx := context.Background()
	a, pool, url := site(t, 80)
	work(t, a, pool)
	who := engineer(t, a)
	v, err := a.MakeDossier(ctx, who, "WP-90", true)
	require.NoError(t, err)
	_, err = a.MakeDossier(ctx, who, "WP-90", true)
	require.ErrorContains(t, err, "being made already")
	for len(v.Last.Leaves) < 20 {
		require.Equal(t, app.DossierMaking, v.Last.State)
		time.Sleep(20 * time.Millisecond)
		v, err = a.Dossier(ctx, "WP-90")
		require.NoError(t, err)
	}
	v, err = a.StopDossier(ctx, v.Last.ID)
	require.NoError(t, err)
	require.Equal(t, app.DossierStopped, v.Last.State)
	_, err = a.StopDossier(ctx, v.Last.ID)
	require.ErrorContains(t, err, "nothing to stop")
	_, _, err = a.DossierBook(ctx, v.Last.ID)
	require.ErrorContains(t, err, "not bound")
	time.Sleep(500 * time.Millisecond) // a gathering that was being drawn when it was stopped
	// the records of what is drawn cannot be read any more: the next making must not ask for them
	c, err := pgx.Connect(ctx, url)
	require.NoError(t, err)
	defer c.Close(ctx)
	_, err = c.Exec(ctx, "set session_replication_role = replica")
	require.NoError(t, err)
	_, err = c.Exec(ctx, "update records set file = convert_to('gone', 'UTF8') where tag between 'WP-90-0001' and "+
		"'WP-90-0020'")
	require.NoError(t, err)
	_, err = a.MakeDossier(ctx, who, "WP-90", true)
	require.NoError(t, err)
	v = ends(t, a, "WP-90")
	require.Equal(t, app.DossierBound, v.Last.State, v.Last.Failed)
	require.Len(t, v.Last.Leaves, len(v.Book.Entries))
}

// A server that is killed leaves its book half made; the next one goes on with it.
func TestHalfMadeBookIsGoneOnWith(t *testing.T) {
	ctx := context.Background()
	a, pool, _ := site(t, 25)
	a.SetQueue(func(context.Context, pgx.Tx, uuid.UUID) error { return nil }) // the work goes with the server
	_, err := a.MakeDossier(ctx, engineer(t, a), "WP-90", true)
	require.NoError(t, err)
	work(t, a, pool)
	v := ends(t, a, "WP-90")
	require.Equal(t, app.DossierBound, v.Last.State, v.Last.Failed)
	require.Equal(t, 1, v.Last.Sheet)
}

// A server that ends while a book is made leaves it to the next one.
func TestBookOutlivesTheServerThatBeganIt(t *testing.T) {
	ctx := context.Background()
	a, pool, _ := site(t, 80)
	end := work(t, a, pool)
	v, err := a.MakeDossier(ctx, engineer(t, a), "WP-90", true)
	require.NoError(t, err)
	for len(v.Last.Leaves) < 20 {
		time.Sleep(20 * time.Millisecond)
		v, err = a.Dossier(ctx, "WP-90")
		require.NoError(t, err)
	}
	end()
	v, err = a.Dossier(ctx, "WP-90")
	require.NoError(t, err)
	require.Equal(t, app.DossierMaking, v.Last.State)
	work(t, a, pool)
	v = ends(t, a, "WP-90")
	require.Equal(t, app.DossierBound, v.Last.State, v.Last.Failed)
}

// A record that does not hold is bound into no book.
func TestRecordThatDoesNotHoldIsNotBound(t *testing.T) {
	ctx := context.Background()
	a, pool, url := site(t, 3)
	c, err := pgx.Connect(ctx, url)
	require.NoError(t, err)
	defer c.Close(ctx)
	_, err = c.Exec(ctx, "set session_replication_role = replica")
	require.NoError(t, err)
	_, err = c.Exec(ctx, "update records set file = convert_to(replace(convert_from(file, 'UTF8'), 'M. Tolley', "+
		"'M. Trolley'), 'UTF8') where tag = 'WP-90-0002'")
	require.NoError(t, err)
	work(t, a, pool)
	_, err = a.MakeDossier(ctx, engineer(t, a), "WP-90", true)
	require.NoError(t, err)
	v := ends(t, a, "WP-90")
	require.Equal(t, app.DossierFailed, v.Last.State)
	require.Contains(t, v.Last.Failed, "does not hold")
	require.Empty(t, v.Bound)
}

// A bound book that is not the one that was bound is found when everything is looked through.
func TestAlteredBookIsFound(t *testing.T) {
	ctx := context.Background()
	a, pool, url := site(t, 0)
	work(t, a, pool)
	_, err := a.MakeDossier(ctx, engineer(t, a), "WP-47", true)
	require.NoError(t, err)
	require.Equal(t, app.DossierBound, ends(t, a, "WP-47").Last.State)
	h, err := a.VerifyAll(ctx, nil)
	require.NoError(t, err)
	require.Equal(t, 1, h.Books)
	require.Empty(t, h.Problems)
	c, err := pgx.Connect(ctx, url)
	require.NoError(t, err)
	defer c.Close(ctx)
	_, err = c.Exec(ctx, "update dossiers set mark = 'x'")
	require.ErrorContains(t, err, "stays as it is")
	_, err = c.Exec(ctx, "set session_replication_role = replica")
	require.NoError(t, err)
	_, err = c.Exec(ctx, "update dossiers set file = file || 'x'")
	require.NoError(t, err)
	h, err = a.VerifyAll(ctx, nil)
	require.NoError(t, err)
	require.Len(t, h.Problems, 1)
	require.Contains(t, h.Problems[0], "book of WP-47, sheet 1: it is not the one that was bound")
	_, err = c.Exec(ctx, "update dossiers set files_index = replace(files_index, 'WP-47', 'WP-48')")
	require.NoError(t, err)
	h, err = a.VerifyAll(ctx, nil)
	require.NoError(t, err)
	require.Contains(t, h.Problems[0], "the signature does not fit")
}

// What changed since a book was bound is told, and the next sheet has it.
func TestBookTellsWhatIsNewer(t *testing.T) {
	ctx := context.Background()
	a, pool, url := site(t, 3)
	work(t, a, pool)
	who := engineer(t, a)
	_, err := a.MakeDossier(ctx, who, "WP-90", true)
	require.NoError(t, err)
	v := ends(t, a, "WP-90")
	require.Equal(t, app.DossierBound, v.Last.State, v.Last.Failed)
	first := v.Last.ID
	c, err := pgx.Connect(ctx, url)
	require.NoError(t, err)
	defer c.Close(ctx)
	_, err = c.Exec(ctx, "update joints set glyph = $1, summary = 'look again' where tag = 'WP-90-0002'", run.GlyphDueAgain)
	require.NoError(t, err)
	demotest.SealedPackage(t, url, "WP-91", 0)
	_, err = c.Exec(ctx, "update joints set package = 'WP-91' where tag = 'WP-90-0003'")
	require.NoError(t, err)
	other, err := a.Dossier(ctx, "WP-91")
	require.NoError(t, err)
	require.Empty(t, other.Newer, "nothing was bound of it")
	_, err = c.Exec(ctx, "update joints set package = 'WP-90' where tag = 'SW-111'")
	require.NoError(t, err)
	v, err = a.Dossier(ctx, "WP-90")
	require.NoError(t, err)
	require.Equal(t, []string{"SW-111", "LT-07"}, v.Newer, "a joint that came in, and the test that covers it")
	_, err = a.MakeDossier(ctx, who, "WP-90", true)
	require.NoError(t, err)
	v = ends(t, a, "WP-90")
	require.Equal(t, app.DossierBound, v.Last.State, v.Last.Failed)
	require.Equal(t, 2, v.Last.Sheet)
	require.Len(t, v.Bound, 2)
	require.Empty(t, v.Newer)
	require.NotEmpty(t, files(t, a, first)["book.pdf"], "the first one stays")
}
