package app_test

import (
	"context"
	"fmt"
	"sort"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/demo"
	"dynacor/internal/identity"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
)

// durable makes an installation on a cluster that writes to disk before it answers.
func durable(b *testing.B) (*app.App, app.Actor, func(sql string, args ...any) error) {
	b.Helper()
	pg, _, stop, err := storetest.Cluster(ctx, true)
	require.NoError(b, err)
	b.Cleanup(stop)
	require.NoError(b, storetest.Prepare(ctx, pg.URL("postgres")))
	pool, err := store.Open(ctx, storetest.Serving(pg.URL("postgres")), 16)
	require.NoError(b, err)
	b.Cleanup(pool.Close)
	a := app.New(pool, identity.NewTestHasher(), nil)
	require.NoError(b, a.Prepare(ctx))
	require.NoError(b, a.UseKey(ctx, storetest.Key()))
	require.NoError(b, demo.Load(ctx, a, time.Now()))
	people, err := a.People(ctx)
	require.NoError(b, err)
	var who app.Actor
	for _, p := range people {
		if p.Role == authority.Engineer {
			who = app.Actor{Person: p, Device: "bench"}
		}
	}
	return a, who, func(sql string, args ...any) error { _, err := pool.Exec(ctx, sql, args...); return err }
}

// clients lets 50 of them act for the time of the benchmark and reports rate and the slowest hundredth.
func clients(b *testing.B, act func(client int) error) {
	b.Helper()
	const n = 50
	var next atomic.Int64
	var mu sync.Mutex
	var took []time.Duration
	var wg sync.WaitGroup
	b.ResetTimer()
	start := time.Now()
	for c := range n {
		wg.Add(1)
		go func() {
			defer wg.Done()
			for next.Add(1) <= int64(b.N) {
				t := time.Now()
				if err := act(c); err != nil {
					b.Error(err)
					return
				}
				mu.Lock()
				took = append(took, time.Since(t))
				mu.Unlock()
			}
		}()
	}
	wg.Wait()
	b.StopTimer()
	sort.Slice(took, func(i, j int) bool { return took[i] < took[j] })
	b.ReportMetric(float64(len(took))/time.Since(start).Seconds(), "per_s")
	b.ReportMetric(float64(took[len(took)*99/100].Microseconds())/1000, "p99_ms")
}

// Fifty clients, each on a joint of its own, append durable events; the yardstick is the same clients inserting one row
// each.
func BenchmarkAppendEvent(b *testing.B) {
	a, who, exec := durable(b)
	runs := make([]string, 50)
	for i := range runs {
		tag := fmt.Sprintf("B-%02d", i)
		_, err := a.CopyJoint(ctx, who, "SW-112", tag)
		require.NoError(b, err)
		v, err := a.StartRun(ctx, who, tag, plan.Choices{}, "")
		require.NoError(b, err)
		runs[i] = v.ID
	}
	b.Run("50 clients", func(b *testing.B) {
		clients(b, func(c int) error {
			e := run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.Pulled, At: time.Now(), Person: who.Person,
				Pass: 1, Fastener: 1 + c%8, Outcome: run.Clicked, Setting: 63}
			_, err := a.AppendEvents(context.Background(), who, runs[c], []run.Event{e})
			return err
		})
	})
	require.NoError(b, exec("insert into settings (key, value) values ('bench', '') on conflict do nothing"))
	b.Run("yardstick: 50 clients, one row each", func(b *testing.B) {
		clients(b, func(int) error {
			return exec("insert into settings (key, value) values ($1, $2)", uuid.NewString(), strings.Repeat("x", 400))
		})
	})
}

func register(n int) []byte {
	var s strings.Builder
	s.WriteString("tag,name,area,equipment,service,bolts,thread,material,lubricant,gasket,target_Nm,document,revision\n")
	for i := range n {
		fmt.Fprintf(&s, "Z-%05d,Joint %d,Area %d,Pump %d,seawater,%d,M20,8.8,light_oil,G-03,%d,D-%d,A\n", i, i, i%40,
			i%700, 4+4*(i%8), 200+i%150, i%90)
	}
	return []byte(s.String())
}

func BenchmarkRegister(b *testing.B) {
	a, who, _ := durable(b)
	start := time.Now()
	res, err := a.Import(ctx, who, register(20000), true)
	require.NoError(b, err)
	require.Equal(b, 20000, res.New)
	b.Logf("import of 20 000 joints: %v", time.Since(start))
	big := []byte(strings.ReplaceAll(string(register(30000)), "Z-", "Y-"))
	_, err = a.Import(ctx, who, big, true)
	require.NoError(b, err)
	for _, q := range []app.JointQuery{{Text: "joint 1234", Sort: "tag", Limit: 100},
		{Area: "Area 7", Sort: "make", Limit: 100}, {Sort: "-updated", Limit: 100, Offset: 20000}} {
		b.Run(fmt.Sprintf("50 000 joints %s%s%s", q.Text, q.Area, q.Sort), func(b *testing.B) {
			for b.Loop() {
				if _, err := a.Joints(ctx, q); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
	b.Run("yardstick: a row by its key", func(b *testing.B) {
		for b.Loop() {
			if _, err := a.Setting(ctx, app.SettingSite, ""); err != nil {
				b.Fatal(err)
			}
		}
	})
	b.Run("today with 50 000 joints", func(b *testing.B) {
		for b.Loop() {
			if _, err := a.Today(ctx, who); err != nil {
				b.Fatal(err)
			}
		}
	})
}
