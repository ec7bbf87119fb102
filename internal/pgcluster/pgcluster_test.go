package pgcluster_test

import (
	"context"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"dynacor/internal/pgcluster"
)

func folder(t *testing.T) string {
	dir := filepath.Join(os.TempDir(), "dynacor-cluster-test-"+time.Now().Format("150405.000000"), "data")
	t.Cleanup(func() { _ = os.RemoveAll(filepath.Dir(dir)) })
	return dir
}

func TestClusterKeepsItsData(t *testing.T) {
	ctx, dir := context.Background(), folder(t)
	for i, sql := range []string{"create table t as select 42 as n", "select n from t"} {
		s, err := pgcluster.Start(ctx, pgcluster.Config{DataDir: dir})
		require.NoError(t, err)
		c, err := pgx.Connect(ctx, s.URL("postgres"))
		require.NoError(t, err)
		url, err := pgcluster.Running(dir, "postgres")
		require.NoError(t, err)
		require.Equal(t, s.URL("postgres"), url)
		if i == 0 {
			_, err = c.Exec(ctx, sql)
			require.NoError(t, err)
		} else {
			var n int
			require.NoError(t, c.QueryRow(ctx, sql).Scan(&n))
			require.Equal(t, 42, n)
		}
		require.NoError(t, c.Close(ctx))
		require.NoError(t, s.Stop())
		_, err = pgcluster.Running(dir, "postgres")
		require.ErrorContains(t, err, "no demo runs on")
	}
}

func TestBrokenFolderSaysTheWayOut(t *testing.T) {
	dir := folder(t)
	require.NoError(t, os.MkdirAll(dir, 0o755))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "something"), []byte("x"), 0o600))
	_, err := pgcluster.Start(context.Background(), pgcluster.Config{DataDir: dir})
	require.ErrorContains(t, err, "make demo-reset")
}

// A server that is still shutting down on the folder is waited for: nobody is advised to throw data away.
func TestServerThatIsShuttingDownIsWaitedFor(t *testing.T) {
	ctx, dir := context.Background(), folder(t)
	old, err := pgcluster.Start(ctx, pgcluster.Config{DataDir: dir})
	require.NoError(t, err)
	begun := make(chan struct{})
	go func() {
		<-begun
		time.Sleep(700 * time.Millisecond) // it takes a while to write what it holds
		_ = old.Stop()
	}()
	close(begun)
	s, err := pgcluster.Start(ctx, pgcluster.Config{DataDir: dir})
	require.NoError(t, err)
	require.NoError(t, s.Stop())
	short, cancel := context.WithTimeout(ctx, 300*time.Millisecond)
	defer cancel()
	again, err := pgcluster.Start(ctx, pgcluster.Config{DataDir: dir})
	require.NoError(t, err)
	_, err = pgcluster.Start(short, pgcluster.Config{DataDir: dir})
	require.ErrorIs(t, err, context.DeadlineExceeded, "one that goes on is not taken for one that ends")
	require.NoError(t, again.Kill())
	s, err = pgcluster.Start(ctx, pgcluster.Config{DataDir: dir})
	require.NoError(t, err, "one that was killed leaves a file that names nobody")
	require.NoError(t, s.Stop())
}
