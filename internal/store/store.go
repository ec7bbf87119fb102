// Package store holds the SQL: migrations, generated queries and the pool. It must never decide anything about the work.
package store

import (
	"context"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"fmt"
	"io/fs"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
)

//go:embed migrations/*.sql
var migrations embed.FS

// AppRole is the role every connection of the application works as: it may add events and records, never change them.
const AppRole = "dynacor_app"

// Migrate brings the schema of the database up to date. The account needs the right to create tables, and the role AppRole once.
func Migrate(ctx context.Context, url string) error {
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
	p, err := goose.NewProvider(goose.DialectPostgres, db, sub)
	if err != nil {
		return err
	}
	if _, err := p.Up(ctx); err != nil {
		return fmt.Errorf("bringing the database up to date: %w", err)
	}
	var member bool
	if err := pool.QueryRow(ctx, "select pg_has_role(current_user, $1, 'member')", AppRole).Scan(&member); err != nil {
		return fmt.Errorf("looking for the role %s: %w", AppRole, err)
	}
	if !member {
		return fmt.Errorf("this account may not work as %s. Run as the database's owner: grant %s to current account", AppRole, AppRole)
	}
	return nil
}

// Bounds of every connection: past them the database gives up by itself, whatever became of whoever asked.
var bounds = map[string]string{
	"application_name":                    "dynacor",
	"statement_timeout":                   "60s",
	"lock_timeout":                        "10s",
	"idle_in_transaction_session_timeout": "30s",
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
		_, err := c.Exec(ctx, "set role "+AppRole)
		return err
	}
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
	if err := pool.QueryRow(ctx, "select coalesce(max(version_id), 0) from goose_db_version where is_applied").Scan(&have); err != nil {
		return fmt.Errorf("reading the version of the schema: %w", err)
	}
	if want := newest(); have != want {
		return fmt.Errorf("the schema has version %d, this program needs %d: run dynacor migrate", have, want)
	}
	return nil
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
