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
	}
}

func TestBrokenFolderSaysTheWayOut(t *testing.T) {
	dir := folder(t)
	require.NoError(t, os.MkdirAll(dir, 0o755))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "something"), []byte("x"), 0o600))
	_, err := pgcluster.Start(context.Background(), pgcluster.Config{DataDir: dir})
	require.ErrorContains(t, err, "make demo-reset")
}
