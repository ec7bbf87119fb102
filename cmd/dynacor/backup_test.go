package main

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/internal/demo/demotest"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
)

// Everything goes into one file and comes back on another cluster that has never heard of Dynacor; what came back is
// looked through, and an anchor that was kept outside tells whether it is all of it.
func TestBackupComesBackOnAnotherCluster(t *testing.T) {
	ctx, dir := context.Background(), t.TempDir()
	owner := demotest.URL(t, time.Now())
	key := filepath.Join(dir, "site.key")
	secret := filepath.Join(dir, "secret")
	require.NoError(t, os.WriteFile(secret, []byte("of some length, in a file"), 0o600))
	env := []string{"DYNACOR_DATABASE_URL=" + owner, "DYNACOR_KEY=" + key, "DYNACOR_KEY_SECRET=" + secret}
	run := func(wantCode int, says string, args ...string) string {
		t.Helper()
		out, errs, code := shell(t, "", env, args...)
		require.Equal(t, wantCode, code, "%v: %s %s", args, out, errs)
		require.Contains(t, out+errs, says, "%v", args)
		return out
	}
	run(0, "up to date", "migrate")
	run(0, "Everything holds", "verify", "--database", owner)
	early, late := filepath.Join(dir, "early.backup"), filepath.Join(dir, "late.backup")
	run(0, "Written to", "backup", early)
	run(1, "never written over", "backup", early)
	noted, err := store.Open(ctx, storetest.Serving(owner), 1)
	require.NoError(t, err)
	list, err := store.New(noted).ListBackups(ctx)
	noted.Close()
	require.NoError(t, err)
	require.Len(t, list, 1, "the site sees that it was made")
	whole, err := os.ReadFile(early)
	require.NoError(t, err)
	sum := sha256.Sum256(whole)
	require.Equal(t, []any{"early.backup", int64(len(whole)), hex.EncodeToString(sum[:])},
		[]any{list[0].File, list[0].Bytes, list[0].Sha256})
	run(0, "to be kept outside", "anchor", "make")
	anchor := filepath.Join(dir, "anchor.json")
	require.NoError(t, os.WriteFile(anchor, []byte(run(0, "dynacor-anchor/1", "anchor", "export")), 0o600))
	run(0, "Everything holds", "verify", "--database", owner, "--anchor", anchor)
	run(0, "Written to", "backup", late)
	run(1, "holds", "restore", late)

	pg, _, stop, err := storetest.Cluster(ctx, false)
	require.NoError(t, err)
	t.Cleanup(stop)
	other := pg.URL("postgres")
	env[0] = "DYNACOR_DATABASE_URL=" + other
	out := run(0, "Everything holds", "restore", late, "--anchor", anchor, "--serve-as", "dynacor_there",
		"--serve-password", "long enough to be one")
	require.Contains(t, out, "1 anchors")
	pool, err := store.Open(ctx, pg.URLAs("postgres", "dynacor_there", "long enough to be one"), 1)
	require.NoError(t, err)
	require.NoError(t, store.MayServe(ctx, pool))
	_, err = pool.Exec(ctx, "delete from events")
	require.ErrorContains(t, err, "42501")
	var n int
	require.NoError(t, pool.QueryRow(ctx, "select count(*) from events").Scan(&n))
	require.Greater(t, n, 500)
	pool.Close()

	second, _, stop2, err := storetest.Cluster(ctx, false)
	require.NoError(t, err)
	t.Cleanup(stop2)
	env[0] = "DYNACOR_DATABASE_URL=" + second.URL("postgres")
	run(1, "anchor 1 was kept outside and is not here", "restore", early, "--anchor", anchor)
	bad := filepath.Join(dir, "bad.json")
	require.NoError(t, os.WriteFile(bad, []byte("{}"), 0o600))
	run(1, "is not an anchor", "verify", "--database", owner, "--anchor", bad)
}
