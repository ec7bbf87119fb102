package jobs_test

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"regexp"
	"runtime/debug"
	"strconv"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/record"
	"dynacor/internal/app"
	"dynacor/internal/report"
)

// peakMB is the most memory that this program has held since the last time this was asked for.
func peakMB(b *testing.B) float64 {
	b.Helper()
	status, err := os.ReadFile("/proc/self/status")
	require.NoError(b, err)
	m := regexp.MustCompile(`VmHWM:\s+(\d+) kB`).FindSubmatch(status)
	require.NotNil(b, m)
	kB, err := strconv.Atoi(string(m[1]))
	require.NoError(b, err)
	debug.FreeOSMemory()
	require.NoError(b, os.WriteFile("/proc/self/clear_refs", []byte("5"), 0o600))
	return float64(kB) / 1024
}

// The aim is 30 s for the book of 1,000 joints on two cores, in no more than 300 MB. The yardstick is one certificate.
func BenchmarkBook(b *testing.B) {
	const joints = 1000
	a, pool, _ := site(b, joints)
	work(b, a, pool)
	who := engineer(b, a)
	b.Run(fmt.Sprintf("of %d joints", joints), func(b *testing.B) {
		peakMB(b)
		for b.Loop() {
			_, err := a.MakeDossier(context.Background(), who, "WP-90", true)
			require.NoError(b, err)
			v := ends(b, a, "WP-90")
			require.Equal(b, app.DossierBound, v.Last.State, v.Last.Failed)
			n := 0
			for _, l := range v.Last.Leaves {
				n += l
			}
			b.ReportMetric(float64(n), "leaves")
			b.ReportMetric(float64(v.Last.Bytes)/1e6, "MB-book")
		}
		b.ReportMetric(peakMB(b), "MB-peak")
	})
	b.Run("yardstick: one certificate", func(b *testing.B) {
		rec, err := coretest.Finished((*coretest.Script).Finish)
		require.NoError(b, err)
		for b.Loop() {
			var out bytes.Buffer
			require.NoError(b, report.Certificate(&out, report.Sealed{Record: rec}))
		}
	})
}

// The aim is 60 s for 100 000 records on two cores. The yardstick is the file of each record read and summed.
func BenchmarkVerifyDatabase(b *testing.B) {
	const joints = 2000
	a, _, url := site(b, joints)
	b.Run(fmt.Sprintf("%d records", joints), func(b *testing.B) {
		for b.Loop() {
			h, err := a.VerifyAll(context.Background(), nil)
			require.NoError(b, err)
			require.GreaterOrEqual(b, h.Records, joints)
		}
		b.ReportMetric(b.Elapsed().Seconds()/float64(b.N)/joints*100_000, "s-for-100000")
	})
	b.Run("yardstick: the file of each read and summed", func(b *testing.B) {
		c, err := pgx.Connect(context.Background(), url)
		require.NoError(b, err)
		defer c.Close(context.Background())
		for b.Loop() {
			rows, err := c.Query(context.Background(), "select file from records")
			require.NoError(b, err)
			files, err := pgx.CollectRows(rows, pgx.RowTo[[]byte])
			require.NoError(b, err)
			for _, f := range files {
				record.Sum(f)
			}
		}
	})
}
