package store_test

import (
	"context"
	"encoding/json"
	"os"
	"testing"

	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/require"

	"dynacor/core/tool"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
)

func TestMain(m *testing.M) { os.Exit(storetest.Main(m)) }

// A database of the first release keeps its lubricant cards, and knows which plans were made with them; the way back
// keeps them too.
func TestDatabaseOfTheFirstReleaseIsBroughtUpToDate(t *testing.T) {
	ctx := context.Background()
	url := storetest.URL(t)
	pool, err := pgxpool.New(ctx, url)
	require.NoError(t, err)
	defer pool.Close()
	db := stdlib.OpenDBFromPool(pool)
	defer db.Close()
	p, err := goose.NewProvider(goose.DialectPostgres, db, os.DirFS("migrations"))
	require.NoError(t, err)
	_, err = p.DownTo(ctx, 1)
	require.NoError(t, err)
	for _, sql := range []string{
		`insert into lubricant_cards (code, data) values ('L-1', '{"code":"L-1","k":{"low":0.1,"typ":0.12,"high":0.14}}'), ('L-2', '{"code":"L-2"}')`,
		`insert into joints (id, tag, name, area, equipment, service, family) values ('0199aaaa-0000-7000-8000-000000000001', 'J-1', 'one', 'north', '', '', 'gasketed_flange')`,
		`insert into plans (id, joint_id, version, specification_version, house_rules_version, data, made_by) values
		 ('0199aaaa-0000-7000-8000-000000000002', '0199aaaa-0000-7000-8000-000000000001', 1, 1, 1, '{"lubricant":{"code":"L-1"}}', 'E. Marsh'),
		 ('0199aaaa-0000-7000-8000-000000000003', '0199aaaa-0000-7000-8000-000000000001', 2, 1, 1, '{"lubricant":{"code":"light_oil"}}', 'E. Marsh')`,
		`insert into house_rules (version, data, made_by) values (1, '{}', 'as delivered')`,
		`insert into wrenches (tag, data) values ('W-1', '{"tag":"W-1","kind":"click","unit":"N_m","ratedMin":20,"ratedMax":100}')`,
	} {
		_, err := pool.Exec(ctx, sql)
		require.NoError(t, err, sql)
	}
	require.NoError(t, store.Migrate(ctx, url))
	require.NoError(t, store.Migrate(ctx, url), "once more changes nothing")

	app, err := store.Open(ctx, url, 2)
	require.NoError(t, err)
	defer app.Close()
	q := store.New(app)
	cards, err := q.LibraryInForce(ctx)
	require.NoError(t, err)
	require.Len(t, cards, 2)
	require.Equal(t, "L-1", cards[0].Code)
	require.EqualValues(t, 1, cards[0].Version)
	row, err := q.GetTool(ctx, "W-1")
	require.NoError(t, err)
	var w tool.Tool
	require.NoError(t, json.Unmarshal([]byte(row.Data), &w))
	require.Equal(t, tool.Click, w.Kind, "a wrench of the first release is a tool of the crib")
	require.InDelta(t, 100, w.RatedMax, 0)
	uses, err := q.PlansUsing(ctx, store.PlansUsingParams{Shelf: "lubricants", Code: "L-1"})
	require.NoError(t, err)
	require.Empty(t, uses, "the latest plan of the joint was made with another")
	var made int
	require.NoError(t, app.QueryRow(ctx, "select count(*) from plan_uses").Scan(&made))
	require.Equal(t, 1, made)

	_, err = app.Exec(ctx, "update library_values set data = '{}'")
	require.Error(t, err, "a version is never changed")
	_, err = pool.Exec(ctx, "delete from library_values")
	require.Error(t, err, "not even by the owner")
	require.NoError(t, q.InsertLibraryValue(ctx, store.InsertLibraryValueParams{Shelf: "lubricants", Code: "L-2",
		Version: 2, Data: `{"code":"L-2","name":"new"}`, MadeBy: "E. Marsh", Reason: "test"}))

	_, err = p.DownTo(ctx, 1)
	require.NoError(t, err)
	var data string
	require.NoError(t, pool.QueryRow(ctx, "select data from lubricant_cards where code = 'L-2'").Scan(&data))
	require.Contains(t, data, "new", "the way back keeps the version in force")
}
