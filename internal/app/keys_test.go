package app_test

import (
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/internal/app"
	"dynacor/internal/keys"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
)

func newKey(t *testing.T) keys.Key {
	t.Helper()
	k, err := keys.Create(filepath.Join(t.TempDir(), "site.key"), []byte("a secret of some length"))
	require.NoError(t, err)
	return k
}

// Keys are the owner's: a server seals with one that is among them and in use; records sealed before a change hold as
// they did.
func TestKeysRotateAndAreRevoked(t *testing.T) {
	b := newBench(t, true)
	page, err := b.Records(ctx, app.RecordSearch{Limit: 1})
	require.NoError(t, err)
	old := page.Rows[0].Number
	first, fresh := storetest.Key(), newKey(t)
	require.ErrorContains(t, b.UseKey(ctx, fresh), "not one of this site's")
	later := b.now.Add(time.Hour)
	require.NoError(t, store.AddKey(ctx, b.url, fresh.ID(), fresh.Public(), &later, "yearly"))
	require.NoError(t, store.EndKey(ctx, b.url, first.ID(), later))
	require.ErrorContains(t, b.UseKey(ctx, first), "out of use")
	c := b.begin(t, "SC-15").work(t).closing(t)
	_, err = b.Seal(ctx, c.id) // it was started with the key that is out of use now
	problem(t, err, app.Unavailable, "is out of use")
	b.now = later
	require.NoError(t, b.UseKey(ctx, fresh))
	number := b.begin(t, "SW-112").seal(t)
	for _, n := range []string{old, number} {
		v, err := b.Record(ctx, n)
		require.NoError(t, err)
		require.True(t, v.Report.OK, v.Report.Problems)
	}
	v, err := b.Record(ctx, number)
	require.NoError(t, err)
	require.Equal(t, fresh.ID(), v.KeyID)

	require.NoError(t, store.RevokeKey(ctx, b.url, fresh.ID(), later.Add(-time.Minute), "the laptop was stolen"))
	v, err = b.Record(ctx, number)
	require.NoError(t, err)
	require.False(t, v.Report.OK)
	require.Contains(t, v.Report.Problems[0], "the laptop was stolen")
	v, err = b.Record(ctx, old)
	require.NoError(t, err)
	require.True(t, v.Report.OK)
	require.ErrorContains(t, store.RevokeKey(ctx, b.url, "none", later, "x"), "no key none")
}

// After an older backup was restored no number is given again.
func TestRecordNumberIsNeverGivenTwice(t *testing.T) {
	b := newBench(t, true)
	k := newKey(t)
	require.NoError(t, store.AddKey(ctx, b.url, k.ID(), k.Public(), nil, "test"))
	require.NoError(t, b.UseKey(ctx, k))
	first := b.begin(t, "SW-112").seal(t)
	b.owner(t, "select setval('record_numbers', 1)") // the database forgets
	second := b.begin(t, "SC-15").seal(t)
	third := b.begin(t, "TB-202").seal(t)
	require.Equal(t, []string{"TS-2026-00007", "TS-2026-00008", "TS-2026-00009"}, []string{first, second, third})
}

func TestServerWithoutKeySealsNothing(t *testing.T) {
	b := newBench(t, true)
	c := b.begin(t, "SW-112").work(t).closing(t)
	bare := b.without(t)
	_, err := bare.Seal(ctx, c.id)
	problem(t, err, app.Unavailable, "no signing key")
	_, err = b.Seal(ctx, c.id)
	require.NoError(t, err, "nothing was lost")
}
