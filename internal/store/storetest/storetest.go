// Package storetest gives each test its own database on a real PostgreSQL.
package storetest

import (
	"context"
	"fmt"
	"net/url"
	"os"
	"path/filepath"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/internal/keys"
	"dynacor/internal/pgcluster"
	"dynacor/internal/store"
)

// Env names the cluster that cmd/withpg started for a whole test run; without it a package starts its own.
const Env = "DYNACOR_TEST_PG"

var (
	once    sync.Once
	base    string
	baseErr error
	stopOwn = func() {}
	seq     atomic.Int64
)

// Cluster starts a fast throw-away cluster in a folder that the server's account can reach; stop removes it.
func Cluster(ctx context.Context, durable bool) (s *pgcluster.Server, dir string, stop func(), err error) {
	// Not t.TempDir: its parent belongs to one account alone.
	dir = filepath.Join(os.TempDir(), fmt.Sprintf("dynacor-pg-%d-%d", os.Getpid(), time.Now().UnixNano()), "data")
	remove := func() { _ = os.RemoveAll(filepath.Dir(dir)) }
	s, err = pgcluster.Start(ctx, pgcluster.Config{DataDir: dir, Durable: durable})
	if err != nil {
		remove()
		return nil, "", nil, err
	}
	return s, dir, func() { _ = s.Stop(); remove() }, nil
}

// Main runs a package's tests and stops the cluster it started, if it did.
func Main(m *testing.M) int {
	defer func() { stopOwn() }()
	return m.Run()
}

func template() string { return "template_" + store.Fingerprint() }

func setup(ctx context.Context) error {
	base = os.Getenv(Env)
	if base == "" {
		s, _, stop, err := Cluster(ctx, false)
		if err != nil {
			return err
		}
		base, stopOwn = s.URL("postgres"), stop
	}
	c, err := pgx.Connect(ctx, base)
	if err != nil {
		return err
	}
	defer c.Close(ctx)
	if _, err := c.Exec(ctx, "select pg_advisory_lock(4711)"); err != nil {
		return err
	}
	defer func() { _, _ = c.Exec(ctx, "select pg_advisory_unlock(4711)") }()
	var made bool
	if err := c.QueryRow(ctx, "select exists (select from pg_database where datname = $1 and datistemplate)",
		template()).Scan(&made); err != nil || made {
		return err
	}
	if _, err := c.Exec(ctx, "create database "+template()); err != nil {
		return err
	}
	if err := Prepare(ctx, at(template())); err != nil {
		return err
	}
	_, err = c.Exec(ctx, "alter database "+template()+" with is_template true allow_connections false")
	return err
}

// Key is the signing key of every test's site.
func Key() keys.Key { return keys.Key{Private: coretest.Key('d')} }

// The account that serves in tests.
const (
	server   = "dynacor_test_server"
	password = "serves in tests"
)

// Prepare makes a database ready: schema, signing key, an account that serves.
func Prepare(ctx context.Context, url string) error {
	if err := store.Migrate(ctx, url); err != nil {
		return err
	}
	k := Key()
	if err := store.AddKey(ctx, url, k.ID(), k.Public(), nil, "tests"); err != nil {
		return err
	}
	return store.LetServe(ctx, url, server, password)
}

// Serving gives the address of a database for the account that serves.
func Serving(owner string) string {
	u, _ := url.Parse(owner)
	u.User = url.UserPassword(server, password)
	return u.String()
}

func at(db string) string {
	u, _ := url.Parse(base)
	u.Path = "/" + db
	return u.String()
}

// URL makes an empty migrated database for one test and gives its address, as the owner of everything in it.
func URL(t testing.TB) string {
	t.Helper()
	ctx := context.Background()
	once.Do(func() { baseErr = setup(ctx) })
	require.NoError(t, baseErr)
	name := fmt.Sprintf("t_%d_%d", os.Getpid(), seq.Add(1))
	c, err := pgx.Connect(ctx, base)
	require.NoError(t, err)
	defer c.Close(ctx)
	_, err = c.Exec(ctx, "create database "+name+" template "+template()+" strategy file_copy")
	require.NoError(t, err)
	return at(name) // not dropped: the whole cluster is thrown away
}

var (
	filledMu sync.Mutex
	filled   = map[string]string{} // database by what it was filled with
)

// Filled makes a database for one test that begins with what fill put in, and gives its address. For one key fill runs
// once a package; it must leave no connection behind.
func Filled(t testing.TB, key string, fill func(url string) error) string {
	t.Helper()
	filledMu.Lock()
	defer filledMu.Unlock()
	from := filled[key]
	if from == "" {
		u, err := url.Parse(URL(t))
		require.NoError(t, err)
		require.NoError(t, fill(u.String()))
		from = u.Path[1:]
		filled[key] = from
	}
	name := fmt.Sprintf("t_%d_%d", os.Getpid(), seq.Add(1))
	c, err := pgx.Connect(context.Background(), base)
	require.NoError(t, err)
	defer c.Close(context.Background())
	_, err = c.Exec(context.Background(), "create database "+name+" template "+from+" strategy file_copy")
	require.NoError(t, err)
	return at(name)
}

// New gives a pool on an empty migrated database, working as the application does.
func New(t testing.TB) *pgxpool.Pool {
	t.Helper()
	pool, err := store.Open(context.Background(), Serving(URL(t)), 8)
	require.NoError(t, err)
	t.Cleanup(pool.Close)
	return pool
}

// Empty makes a database of a name with nothing in it, not even a schema, and gives its address as owner.
func Empty(t testing.TB, name string) string {
	t.Helper()
	ctx := context.Background()
	u, err := url.Parse(URL(t))
	require.NoError(t, err)
	c, err := pgx.Connect(ctx, u.String())
	require.NoError(t, err)
	defer c.Close(ctx)
	_, err = c.Exec(ctx, "create database "+name)
	require.NoError(t, err)
	u.Path = "/" + name
	return u.String()
}
