package app_test

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"image"
	"image/png"
	"os"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/demo/demotest"
	"dynacor/internal/identity"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
)

func TestMain(m *testing.M) { os.Exit(storetest.Main(m)) }

// bench is an installation with the demo site and a clock of its own.
type bench struct {
	*app.App
	pool *pgxpool.Pool
	now  time.Time
	crew map[string]app.Actor
	url  string
}

var ctx = context.Background()

// newEmpty is an installation in which nobody can sign in yet.
func newEmpty(t *testing.T) *bench { return laidOut(t, storetest.URL(t)) }

func newBench(t *testing.T, withDemo bool) *bench {
	t.Helper()
	day := time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC)
	url := ""
	if withDemo {
		url = demotest.URL(t, day)
	} else {
		url = storetest.URL(t)
	}
	b := laidOut(t, url)
	if !withDemo {
		for name, role := range map[string]string{"M. Tolley": authority.Technician, "R. Abara": authority.Inspector,
			"J. Hartwell": authority.Engineer} {
			_, err := b.AddPerson(ctx, name, role, "7049")
			require.NoError(t, err)
		}
	}
	people, err := b.People(ctx)
	require.NoError(t, err)
	for _, p := range people {
		b.crew[p.Name] = app.Actor{Person: p, Device: "tablet 1"}
	}
	return b
}

func laidOut(t *testing.T, url string) *bench {
	t.Helper()
	b := &bench{now: time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC), crew: map[string]app.Actor{}, url: url}
	// whoever asks for a second connection while holding one waits for ever
	pool, err := store.Open(ctx, storetest.Serving(b.url), 1)
	require.NoError(t, err)
	t.Cleanup(pool.Close)
	b.pool = pool
	b.App = app.New(pool, identity.NewTestHasher(), func() time.Time { return b.now })
	require.NoError(t, b.Prepare(ctx))
	require.NoError(t, b.UseKey(ctx, storetest.Key()))
	return b
}

// pins of the people of the demo site.
var pins = map[string]string{"M. Tolley": "4071", "I. Quaye": "5826", "R. Abara": "9340", "J. Hartwell": "2758",
	"B. Ode": "6193"}

// signature is one as a person gives it who has just looked at the run.
func (b *bench) signature(t *testing.T, name, runID string, purpose run.Purpose, check string) app.SignatureInput {
	t.Helper()
	head, err := b.Head(ctx, runID)
	require.NoError(t, err)
	return app.SignatureInput{ID: uuid.Must(uuid.NewV7()).String(), Head: head, PersonID: b.crew[name].ID,
		PIN: pins[name], Purpose: purpose, Check: check}
}

func problem(t *testing.T, err error, kind app.ProblemKind, part string) *app.Problem {
	t.Helper()
	require.Error(t, err)
	p, ok := app.AsProblem(err)
	require.True(t, ok, "not a problem: %v", err)
	require.Equal(t, kind, p.Kind, p.Error())
	require.Contains(t, p.Error(), part)
	return p
}

// owner does something to the database behind the program's back, as whoever owns it can.
func (b *bench) owner(t *testing.T, sql string, args ...any) {
	t.Helper()
	c, err := pgx.Connect(ctx, b.url)
	require.NoError(t, err)
	defer c.Close(ctx)
	_, err = c.Exec(ctx, "set session_replication_role = replica") // no triggers
	require.NoError(t, err)
	_, err = c.Exec(ctx, sql, args...)
	require.NoError(t, err)
}

// without is the same installation served by a program that was given no key.
func (b *bench) without(t *testing.T) *app.App {
	t.Helper()
	return app.New(b.pool, identity.NewTestHasher(), func() time.Time { return b.now })
}

// drawn is a small picture of one shade.
func drawn(t *testing.T, shade uint8) []byte {
	t.Helper()
	p := image.NewGray(image.Rect(0, 0, 40, 30))
	for i := range p.Pix {
		p.Pix[i] = shade
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, p))
	return b.Bytes()
}

func sum(data []byte) string {
	s := sha256.Sum256(data)
	return hex.EncodeToString(s[:])
}

// Two devices record at once; nothing is lost, doubled or torn, and the chain holds.
func TestTwoDevicesAtOnce(t *testing.T) {
	b := newBench(t, true)
	d, err := b.Joint(ctx, "SW-114")
	require.NoError(t, err)
	before, err := b.Run(ctx, d.RunID)
	require.NoError(t, err)
	const each = 15
	failed := make(chan error, 2)
	for _, name := range []string{"M. Tolley", "I. Quaye"} {
		who := b.crew[name]
		go func() {
			for range each {
				e := run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.Noted, At: b.now, Person: who.Person,
					Note: "at once"}
				if _, err := b.AppendEvents(ctx, who, d.RunID, []run.Event{e}); err != nil {
					failed <- err
					return
				}
			}
			failed <- nil
		}()
	}
	require.NoError(t, <-failed)
	require.NoError(t, <-failed)
	after, err := b.Run(ctx, d.RunID)
	require.NoError(t, err)
	require.Len(t, after.Entries, len(before.Entries)+2*each)
	prev := ""
	for i, e := range after.Entries {
		require.Equal(t, i+1, e.Seq)
		require.Equal(t, prev, e.PrevHash)
		prev = e.Hash
	}
}
