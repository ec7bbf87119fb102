// Package store holds the SQL: migrations, generated queries and the pool. It must never decide anything about the
// work.
package store

import (
	"context"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivermigrate"
	pgxuuid "github.com/vgarvardt/pgx-google-uuid/v5"
)

//go:embed migrations/*.sql
var migrations embed.FS

// AppRole is the role every connection of the application works as: it may add events and records, never change them.
const AppRole = "dynacor_app"

// lastWithKey is the last version of the schema that held a signing key.
const lastWithKey = 9

// Migrate brings the schema of the database up to date. The account needs the right to create tables, and the role
// AppRole once. A database that still holds its signing key is refused: see MigrateMoving.
func Migrate(ctx context.Context, url string) error {
	return MigrateMoving(ctx, url, func([]byte) error {
		return errors.New("the signing key lies in the database: name the file it is to be kept in (--key), " +
			"and its secret")
	})
}

// MigrateMoving is Migrate for a database that may hold its signing key, as databases of earlier versions did: move is
// given the key in force to keep it elsewhere, and then it is gone from here.
func MigrateMoving(ctx context.Context, url string, move func(private []byte) error) error {
	pool, err := pgxpool.New(ctx, url)
	if err != nil {
		return fmt.Errorf("the database address cannot be used: %w", err)
	}
	defer pool.Close()
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	db := stdlib.OpenDBFromPool(pool)
	defer db.Close()
	// One at a time: two that start on an empty database both come up.
	lock, err := pool.Acquire(ctx)
	if err != nil {
		return fmt.Errorf("the database does not answer: %w", err)
	}
	defer lock.Release()
	if _, err := lock.Exec(ctx, "select pg_advisory_lock($1)", migrationLock); err != nil {
		return err
	}
	defer func() { _, _ = lock.Exec(context.WithoutCancel(ctx), "select pg_advisory_unlock($1)", migrationLock) }()
	p, err := goose.NewProvider(goose.DialectPostgres, db, sub)
	if err != nil {
		return err
	}
	if _, err := p.UpTo(ctx, lastWithKey); err != nil {
		return fmt.Errorf("bringing the database up to date: %w", err)
	}
	if err := moveKey(ctx, pool, move); err != nil {
		return err
	}
	if _, err := p.Up(ctx); err != nil {
		return fmt.Errorf("bringing the database up to date: %w", err)
	}
	if err := migrateQueue(ctx, pool); err != nil {
		return err
	}
	var member bool
	if err := pool.QueryRow(ctx, "select pg_has_role(current_user, $1, 'member')", AppRole).Scan(&member); err != nil {
		return fmt.Errorf("looking for the role %s: %w", AppRole, err)
	}
	if !member {
		return fmt.Errorf("this account may not work as %s. Run as the database's owner: grant %s to current account",
			AppRole, AppRole)
	}
	return nil
}

// QueueSchema is where the work of the background stands in the database, apart from everything that is kept.
const QueueSchema = "river"

// migrateQueue brings the tables of the background's work up to date, and lets the application use them.
func migrateQueue(ctx context.Context, pool *pgxpool.Pool) error {
	m, err := rivermigrate.New(riverpgxv5.New(pool), &rivermigrate.Config{Schema: QueueSchema,
		Logger: slog.New(slog.DiscardHandler)})
	if err != nil {
		return err
	}
	if _, err := m.Migrate(ctx, rivermigrate.DirectionUp, nil); err != nil {
		return fmt.Errorf("bringing the queue of the background up to date: %w", err)
	}
	_, err = pool.Exec(ctx, "grant select, insert, update, delete on all tables in schema "+QueueSchema+" to "+AppRole+
		"; grant usage, select on all sequences in schema "+QueueSchema+" to "+AppRole)
	return err
}

// migrationLock is held while the schema changes.
const migrationLock = 7_314_159

// moveKey hands over the newest key that lies in the database, and takes all of them out.
func moveKey(ctx context.Context, pool *pgxpool.Pool, move func([]byte) error) error {
	var there bool
	if err := pool.QueryRow(ctx,
		"select exists (select from information_schema.columns where table_name = 'signing_keys' and column_name = "+
			"'private_key')").Scan(&there); err != nil || !there {
		return err
	}
	var private []byte
	err := pool.QueryRow(ctx, "select private_key from signing_keys where length(private_key) > 0 order by made_at "+
		"desc, id desc limit 1").Scan(&private)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil
	}
	if err != nil {
		return err
	}
	if err := move(private); err != nil {
		return err
	}
	_, err = pool.Exec(ctx, "update signing_keys set private_key = ''")
	return err
}

// AddKey makes a public key one of the site's, from a time on; nil: for all time before. As the owner of the database.
// A key that is there already stays as it is.
func AddKey(ctx context.Context, url, id string, public []byte, from *time.Time, by string) error {
	return asOwner(ctx, url, "insert into signing_keys (id, public_key, valid_from, made_by) values ($1, $2, $3, "+
		"$4) on conflict (id) do nothing", id, public, from, by)
}

// EndKey says that a key signs nothing after a time: another took its place.
func EndKey(ctx context.Context, url, id string, at time.Time) error {
	return asOwner(ctx, url, "update signing_keys set valid_until = $2 where id = $1 and valid_until is null", id, at)
}

// RevokeKey says that nothing a key signed from a time on is believed, and why.
func RevokeKey(ctx context.Context, url, id string, from time.Time, reason string) error {
	c, err := pgx.Connect(ctx, url)
	if err != nil {
		return fmt.Errorf("the database does not answer: %w", err)
	}
	defer func() { _ = c.Close(context.WithoutCancel(ctx)) }()
	tag, err := c.Exec(ctx, "update signing_keys set revoked_from = $2, revoke_reason = $3 where id = $1", id, from,
		reason)
	if err == nil && tag.RowsAffected() == 0 {
		return fmt.Errorf("there is no key %s", id)
	}
	return err
}

func asOwner(ctx context.Context, url, sql string, args ...any) error {
	c, err := pgx.Connect(ctx, url)
	if err != nil {
		return fmt.Errorf("the database does not answer: %w", err)
	}
	defer func() { _ = c.Close(context.WithoutCancel(ctx)) }()
	_, err = c.Exec(ctx, sql, args...)
	return err
}

// NoteBackup writes down that a backup was written, as the owner of the database.
func NoteBackup(ctx context.Context, url, file string, bytes int64, sha256 string) error {
	return asOwner(ctx, url, "insert into backups (file, bytes, sha256) values ($1, $2, $3)", file, bytes, sha256)
}

// Empty refuses a database that has tables of its own: a backup is restored into an empty one.
func Empty(ctx context.Context, url string) error {
	c, err := pgx.Connect(ctx, url)
	if err != nil {
		return fmt.Errorf("the database does not answer: %w", err)
	}
	defer func() { _ = c.Close(context.WithoutCancel(ctx)) }()
	var n int
	if err := c.QueryRow(ctx, "select count(*) from information_schema.tables where "+
		"table_schema = 'public'").Scan(&n); err != nil {
		return err
	}
	if n > 0 {
		return fmt.Errorf("the database holds %d tables: make an empty one and name that", n)
	}
	return nil
}

// MakeAppRole makes the role AppRole when the server does not know it yet: a backup grants rights to it.
func MakeAppRole(ctx context.Context, url string) error {
	return asOwner(ctx, url, "do $do$ begin create role "+AppRole+
		" nologin; exception when duplicate_object or unique_violation then null; end $do$")
}

// LetServe makes an account that serves: it logs in, may do what AppRole may, and owns nothing. An account of that name
// that is there already gets the password.
func LetServe(ctx context.Context, url, name, password string) error {
	id := pgx.Identifier{name}.Sanitize()
	c, err := pgx.Connect(ctx, url)
	if err != nil {
		return fmt.Errorf("the database does not answer: %w", err)
	}
	defer func() { _ = c.Close(context.WithoutCancel(ctx)) }() // the lock goes with it
	if _, err := c.Exec(ctx, "select pg_advisory_lock($1)", migrationLock); err != nil {
		return err
	}
	for _, sql := range []string{
		"do $do$ begin create role " + id +
			" login; exception when duplicate_object or unique_violation then null; end $do$",
		"alter role " + id + " with login inherit nosuperuser nocreatedb nocreaterole noreplication " +
			"nobypassrls password " + literal(password),
		"grant " + AppRole + " to " + id,
	} {
		if _, err := c.Exec(ctx, sql); err != nil {
			return fmt.Errorf("making the account %s that serves: %w", name, err)
		}
	}
	return nil
}

// literal writes a text for SQL that takes no parameters.
func literal(s string) string {
	return "E'" + strings.NewReplacer(`\`, `\\`, `'`, `''`).Replace(s) + "'"
}

// MayServe refuses a pool whose account owns the database or could become the owner: whoever serves must not be able to
// change what was recorded.
func MayServe(ctx context.Context, pool *pgxpool.Pool) error {
	var name string
	var could bool
	err := pool.QueryRow(ctx, `select session_user, r.rolsuper or r.rolcreaterole or r.rolbypassrls or r.rolreplication
		or exists (select from pg_class c join pg_namespace n on n.oid = c.relnamespace where n.nspname = 'public' and c.relkind in ('r', 'S') and pg_has_role(session_user, c.relowner, 'member'))
		from pg_roles r where r.rolname = session_user`).Scan(&name, &could)
	if err != nil {
		return fmt.Errorf("looking at the account: %w", err)
	}
	if could {
		return fmt.Errorf("the account %s owns the database or could: records would only be as safe as this server. "+
			"Serve as another one: dynacor migrate --serve-as makes it", name)
	}
	return nil
}

// Bounds of every connection: past them the database gives up by itself, whatever became of whoever asked.
var bounds = map[string]string{
	"application_name":                    "dynacor",
	"statement_timeout":                   "60s",
	"lock_timeout":                        "10s",
	"idle_in_transaction_session_timeout": "30s",
	"random_page_cost":                    "1.1", // disks have no arms any more; without it a search reads every joint
}

// DefaultConnections of a pool, when nothing else is asked for.
const DefaultConnections = 16

// Open gives a pool whose connections work as AppRole, within bounds of time. maxConns 0: DefaultConnections.
func Open(ctx context.Context, url string, maxConns int32) (*pgxpool.Pool, error) {
	cfg, err := pgxpool.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("the database address cannot be used: %w", err)
	}
	cfg.MaxConns = DefaultConnections
	if maxConns > 0 {
		cfg.MaxConns = maxConns
	}
	for k, v := range bounds {
		if _, given := cfg.ConnConfig.RuntimeParams[k]; !given { // the address may say otherwise
			cfg.ConnConfig.RuntimeParams[k] = v
		}
	}
	cfg.AfterConnect = func(ctx context.Context, c *pgx.Conn) error {
		pgxuuid.Register(c.TypeMap()) // as they are, not by way of text
		_, err := c.Exec(ctx, "set role "+AppRole)
		return err
	}
	cfg.PrepareConn = nameActor
	pool, err := pgxpool.NewWithConfig(ctx, cfg)
	if err != nil {
		return nil, err
	}
	if err := pool.Ping(ctx); err != nil {
		pool.Close()
		return nil, fmt.Errorf("the database does not answer: %w", err)
	}
	return pool, nil
}

// Current refuses a database whose schema is older or newer than this program.
func Current(ctx context.Context, pool *pgxpool.Pool) error {
	var have int64
	if err := pool.QueryRow(ctx,
		"select coalesce(max(version_id), 0) from goose_db_version where is_applied").Scan(&have); err != nil {
		var pg *pgconn.PgError
		// no such table, or not one that may be read yet
		if errors.As(err, &pg) && (pg.Code == "42P01" || pg.Code == "42501") {
			return errors.New("the database is empty or of an earlier version: run dynacor migrate")
		}
		return fmt.Errorf("reading the version of the schema: %w", err)
	}
	if want := newest(); have != want {
		return fmt.Errorf("the schema has version %d, this program needs %d: run dynacor migrate", have, want)
	}
	return nil
}

// Room refuses a database whose disk has no room for a little more: half a megabyte is laid out and dropped again.
func Room(ctx context.Context, pool *pgxpool.Pool) error {
	return pgx.BeginFunc(ctx, pool, func(t pgx.Tx) error {
		_, err := t.Exec(ctx, `create temporary table dynacor_room on commit drop as
			select (select string_agg(md5(random()::text || n || i), '') from generate_series(1, 55) i) as x from generate_series(1, 300) n`)
		return err
	})
}

// newest is the number of the last migration.
func newest() int64 {
	list, _ := fs.Glob(migrations, "migrations/*.sql")
	var n int64
	for _, name := range list {
		v, err := goose.NumericComponent(name)
		if err == nil {
			n = max(n, v)
		}
	}
	return n
}

// Fingerprint names the state of the migrations.
func Fingerprint() string {
	h := sha256.New()
	_ = fs.WalkDir(migrations, ".", func(p string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		b, err := fs.ReadFile(migrations, p)
		h.Write([]byte(p))
		h.Write(b)
		return err
	})
	return hex.EncodeToString(h.Sum(nil))[:12]
}
