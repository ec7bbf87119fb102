package app_test

import (
	"compress/gzip"
	"crypto/ed25519"
	"io"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"dynacor/core/plan"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/identity"
	"dynacor/internal/keys"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
)

// A database as the version before devices had keys left it: with joints in every state, a sealed record, and its
// signing key inside. It is brought up to date, the key is moved out, its runs and its record hold, and work goes on.
func TestDatabaseOfAnEarlierVersionGoesOn(t *testing.T) {
	f, err := os.Open("testdata/site-of-schema-6.sql.gz")
	require.NoError(t, err)
	defer f.Close()
	z, err := gzip.NewReader(f)
	require.NoError(t, err)
	sql, err := io.ReadAll(z)
	require.NoError(t, err)
	owner := storetest.Empty(t, "site_of_schema_6")
	c, err := pgx.Connect(ctx, owner)
	require.NoError(t, err)
	_, err = c.PgConn().Exec(ctx, string(sql)).ReadAll()
	require.NoError(t, err)
	require.NoError(t, c.Close(ctx))

	require.ErrorContains(t, store.Migrate(ctx, owner), "the signing key lies in the database")
	path, secret := filepath.Join(t.TempDir(), "site.key"), []byte("a secret of some length")
	require.NoError(t, store.MigrateMoving(ctx, owner, func(private []byte) error {
		_, err := keys.Write(path, secret, ed25519.PrivateKey(private))
		return err
	}))
	key, err := keys.Open(path, secret)
	require.NoError(t, err)

	b := &bench{now: time.Date(2026, 11, 29, 9, 0, 0, 0, time.UTC), crew: map[string]app.Actor{}, url: owner}
	pool, err := store.Open(ctx, storetest.Serving(owner), 1)
	require.NoError(t, err)
	t.Cleanup(pool.Close)
	b.App = app.New(pool, identity.NewTestHasher(), func() time.Time { return b.now })
	require.NoError(t, b.Prepare(ctx))
	require.NoError(t, b.UseKey(ctx, key))
	people, err := b.People(ctx)
	require.NoError(t, err)
	for _, p := range people {
		b.crew[p.Name] = app.Actor{Person: p}
	}
	page, err := b.Records(ctx, app.RecordSearch{Limit: 10})
	require.NoError(t, err)
	require.Equal(t, 4, page.Total)
	v, err := b.Record(ctx, page.Rows[0].Number)
	require.NoError(t, err)
	require.True(t, v.Report.OK, v.Report.Problems)
	require.Equal(t, record.FormatFirst, v.Report.Format)
	file, err := b.RecordFile(ctx, page.Rows[0].Number)
	require.NoError(t, err)
	held, err := b.Verify(ctx, file)
	require.NoError(t, err)
	require.True(t, held.Report.OK)

	open := 0
	list, err := b.Joints(ctx, app.JointQuery{Limit: 500})
	require.NoError(t, err)
	for _, j := range list.Rows {
		d, err := b.Joint(ctx, j.Tag)
		require.NoError(t, err, j.Tag)
		if d.RunID == "" {
			continue
		}
		open++
		_, err = b.Run(ctx, d.RunID)
		require.NoError(t, err, "%s: the chain of a run made then holds", j.Tag)
	}
	require.Greater(t, open, 3)
	d, err := b.Joint(ctx, "SW-114")
	require.NoError(t, err)
	res, err := b.AppendEvents(ctx, b.crew["M. Tolley"], d.RunID,
		[]run.Event{{ID: "01a22392-5f70-7f0a-84cd-eae4e2d4510b", Kind: run.Noted, Note: "goes on", At: b.now,
			Person: b.crew["M. Tolley"].Person}})
	require.NoError(t, err)
	require.Empty(t, res.Acks[0].Refused)
	_, err = b.Run(ctx, d.RunID)
	require.NoError(t, err)

	rules, err := b.HouseRules(ctx)
	require.NoError(t, err)
	next := rules.Versions[0].Rules
	next.MaxCheckPasses = 4
	rules, err = b.PutHouseRules(ctx, b.crew["J. Hartwell"],
		app.HouseRulesInput{Rules: next, Reason: "four rounds are enough here"})
	require.NoError(t, err, "rules from before some of them were asked for can be changed")
	require.Equal(t, 4, rules.Versions[0].Rules.MaxCheckPasses)
	require.InDelta(t, plan.DefaultHouseRules().SessionHours, rules.Versions[0].Rules.SessionHours, 0)
}
