package store_test

import (
	"context"
	"net/url"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/stretchr/testify/require"

	"dynacor/internal/demo/demotest"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
)

// mayChange are the columns that whoever serves may change; in every other table, and in every other column, what is
// there stays.
var mayChange = map[string][]string{
	"people":    {"role", "pin_hash", "pin_version", "pin_set_at", "pin_once_until", "active", "retired_at", "email"},
	"feeds":     {"read_at", "withdrawn_at"},
	"reminders": {"sent_at", "nothing"},
	"stock":     {"kind", "what", "quantity", "place", "use_by", "changed_by", "changed_at"},
	// a trigger keeps the picture once it is there
	"plant_notes": {"picture", "shown", "closed_words", "closed_by", "closed_at"},
	"handovers":   {"taken_by", "taken_by_id", "taken_at", "confirmed"},
	"packages":    {"name", "part_of"},
	"joints": {"name", "area", "equipment", "service", "family", "package", "nameplate", "specification_version",
		"bolts", "make", "glyph", "station", "summary", "present_run", "updated_at", "retired_why", "retired_from"},
	"runs":          {"plan_id", "last_seq", "last_hash", "size", "sealed_at"},
	"settings":      {"value"},
	"tools":         {"data", "updated_at"},
	"devices":       {"token_hash", "last_seq", "linked_at", "about", "made_by", "made_at"},
	"device_keys":   {"spoke_at", "backlog", "backlog_from", "name", "shut_at"},
	"device_shifts": {"ended_at"},
	"logins":        {"seen_at", "ended_at", "ended_why"},
	"doubts":        {"closed_by", "closed_at", "how", "due_on", "assigned_to"},
	"tool_loans":    {"back_by", "back_at", "care"},
	"procedures":    {"approved_by", "approved_by_id", "approved_at"},
	"training":      {"until", "note"},
	"areas":         {"place", "drawing"},
	"imports":       {"undone_by", "undone_at"},
	"sessions":      {"token", "data", "expiry"},
	// what records are searched by follows from them; it is no evidence, and is looked through with them
	"record_index":   {"version", "search", "facets", "apart", "follows", "used_at"},
	"record_facets":  {"total"},
	"saved_searches": {"query", "made_at"},
	"asks":           {"seen_at"},
	// a book until it is bound; a trigger keeps it from then on
	"dossiers": {"sheet", "state", "leaves", "failed", "bound_at", "size", "mark", "file", "files_index"},
}

// mayDelete are the tables that whoever serves may take rows out of: none of them holds evidence.
var mayDelete = []string{"sessions", "pin_failures", "training", "areas", "saved_searches", "record_pulls", "stock",
	"dossier_gatherings"}

// Whoever serves logs in as an account that owns nothing. It can neither change what was recorded, nor become one that
// could, nor read a key.
func TestWhoeverServesCannotChangeWhatWasRecorded(t *testing.T) {
	ctx := context.Background()
	owner := demotest.URL(t, time.Now())
	c, err := pgx.Connect(ctx, storetest.Serving(owner))
	require.NoError(t, err)
	defer c.Close(ctx)
	refused := func(sql string) {
		t.Helper()
		_, err := c.Exec(ctx, sql)
		require.ErrorContains(t, err, "SQLSTATE 42501", sql) // insufficient privilege
	}
	rows, err := c.Query(ctx, "select table_name::text, column_name::text from information_schema.columns "+
		"join information_schema.tables using (table_schema, table_name) where table_type = 'BASE TABLE' and "+ // no views
		"table_schema = 'public' and is_generated = 'NEVER' and is_identity = 'NO' order by 1, 2")
	require.NoError(t, err)
	type column struct{ Table, Name string }
	list, err := pgx.CollectRows(rows, pgx.RowToStructByPos[column])
	require.NoError(t, err)
	require.Greater(t, len(list), 150)
	seen := map[string]bool{}
	for _, col := range list {
		if !slices.Contains(mayChange[col.Table], col.Name) {
			refused("update " + col.Table + " set " + col.Name + " = " + col.Name)
		}
		if seen[col.Table] {
			continue
		}
		seen[col.Table] = true
		if !slices.Contains(mayDelete, col.Table) {
			refused("delete from " + col.Table)
		}
		refused("truncate " + col.Table + " cascade")
		refused("drop table " + col.Table + " cascade")
		refused("alter table " + col.Table + " disable trigger all")
		refused("alter table " + col.Table + " add column x text")
		refused("create trigger x before insert on " + col.Table + " for each row execute function refuse_change()")
	}
	refused("set session_replication_role = replica")
	refused("set role postgres")
	refused("set session authorization postgres")
	refused("create table mine (x text)")
	refused("create or replace function refuse_change() returns trigger language plpgsql as $$ begin return " +
		"new; end $$")
	refused("insert into signing_keys (id, public_key) values ('x', 'x')")
	refused("alter role dynacor_app superuser")
	refused("grant dynacor_app to postgres")
	refused("copy events to program 'cat'")
	_, err = c.Exec(ctx, "reset role")
	require.NoError(t, err)
	refused("delete from events")
	var secret bool
	require.NoError(t, c.QueryRow(ctx,
		"select exists (select from information_schema.columns where column_name like 'private%')").Scan(&secret))
	require.False(t, secret, "no private key is in the database")
}

func TestOwnerMayNotServe(t *testing.T) {
	ctx := context.Background()
	owner := storetest.URL(t)
	asOwner, err := store.Open(ctx, owner, 1)
	require.NoError(t, err)
	defer asOwner.Close()
	require.ErrorContains(t, store.MayServe(ctx, asOwner), "the account postgres owns the database")
	serving, err := store.Open(ctx, storetest.Serving(owner), 1)
	require.NoError(t, err)
	defer serving.Close()
	require.NoError(t, store.MayServe(ctx, serving))
	odd := `odd"name'`
	require.NoError(t, store.LetServe(ctx, owner, odd, `a'b\c"d`))
	require.NoError(t, store.LetServe(ctx, owner, odd, `e'f\g"h`), "once more: another password")
	u, err := url.Parse(owner)
	require.NoError(t, err)
	u.User = url.UserPassword(odd, `e'f\g"h`)
	another, err := store.Open(ctx, u.String(), 1)
	require.NoError(t, err)
	another.Close()
}

// Two that start on one empty database both come up.
func TestTwoMigrateAtOnce(t *testing.T) {
	ctx := context.Background()
	owner := storetest.Empty(t, "empty_for_two")
	var wg sync.WaitGroup
	errs := make([]error, 4)
	for i := range errs {
		wg.Go(func() { errs[i] = store.Migrate(ctx, owner) })
	}
	wg.Wait()
	for _, err := range errs {
		require.NoError(t, err)
	}
	pool, err := pgxpool.New(ctx, owner)
	require.NoError(t, err)
	defer pool.Close()
	require.NoError(t, store.Current(ctx, pool))
	_, err = pool.Exec(ctx, "insert into goose_db_version (version_id, is_applied) values (999, true)")
	require.NoError(t, err)
	require.ErrorContains(t, store.Current(ctx, pool), "has version 999")
}

func TestUnavailable(t *testing.T) {
	ctx := context.Background()
	pool, err := store.Open(ctx, storetest.Serving(storetest.URL(t)), 1)
	require.NoError(t, err)
	_, err = pool.Exec(ctx, "set statement_timeout = 10")
	require.NoError(t, err)
	_, err = pool.Exec(ctx, "select pg_sleep(1)")
	require.True(t, store.Unavailable(err), err)
	_, err = pool.Exec(ctx, "select nonsense")
	require.False(t, store.Unavailable(err), err)
	short, cancel := context.WithTimeout(ctx, time.Millisecond)
	defer cancel()
	_, err = pool.Exec(short, "select pg_sleep(1)")
	require.True(t, store.Unavailable(err), err)
	pool.Close()
	_, err = pool.Exec(ctx, "select 1")
	require.True(t, store.Unavailable(err), err)
	_, err = pgx.Connect(ctx, "postgres://nobody:x@127.0.0.1:1/none")
	require.True(t, store.Unavailable(err), err)
}
