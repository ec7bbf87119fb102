package app_test

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/core/rehearsal"
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
	app.CollectSeldom()
	pg, _, stop, err := storetest.Cluster(ctx, true)
	require.NoError(b, err)
	b.Cleanup(stop)
	require.NoError(b, storetest.Prepare(ctx, pg.URL("postgres")))
	pool, err := store.Open(ctx, storetest.Serving(pg.URL("postgres")), 16)
	require.NoError(b, err)
	cfg := pool.Config()
	pool.Close()
	cfg.ConnConfig.Tracer = &asked
	pool, err = pgxpool.NewWithConfig(ctx, cfg)
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
	asOwner = func(statements ...string) {
		c, err := pgx.Connect(ctx, pg.URL("postgres"))
		require.NoError(b, err)
		for _, sql := range statements {
			_, err = c.Exec(ctx, sql)
			require.NoError(b, err)
		}
		require.NoError(b, c.Close(ctx))
	}
	return a, who, func(sql string, args ...any) error { _, err := pool.Exec(ctx, sql, args...); return err }
}

// asOwner does something to the database of the benchmark behind the program's back.
var asOwner func(statements ...string)

// settle does for the database what it would do by itself in a quiet hour, so that it does not do so while it is timed.
func settle() { asOwner("vacuum analyze", "checkpoint") }

// statements counts what the database is asked.
type statements struct{ atomic.Int64 }

var asked statements

func (s *statements) TraceQueryStart(c context.Context, _ *pgx.Conn, _ pgx.TraceQueryStartData) context.Context {
	s.Add(1)
	return c
}
func (*statements) TraceQueryEnd(context.Context, *pgx.Conn, pgx.TraceQueryEndData) {}
func (s *statements) TraceBatchStart(c context.Context, _ *pgx.Conn, _ pgx.TraceBatchStartData) context.Context {
	return c
}
func (s *statements) TraceBatchQuery(context.Context, *pgx.Conn, pgx.TraceBatchQueryData) { s.Add(1) }
func (*statements) TraceBatchEnd(context.Context, *pgx.Conn, pgx.TraceBatchEndData)       {}

// clients is what 50 of them did for the time of a benchmark.
type clients struct {
	mu         sync.Mutex
	took       []time.Duration
	time       time.Duration
	statements int64
}

const howMany = 50

// act lets them act n times altogether.
func (m *clients) act(b *testing.B, n int, act func(client int) error) {
	b.Helper()
	var next atomic.Int64
	var wg sync.WaitGroup
	settle()
	before := asked.Load()
	b.StartTimer()
	start := time.Now()
	for c := range howMany {
		wg.Add(1)
		go func() {
			defer wg.Done()
			for next.Add(1) <= int64(n) {
				t := time.Now()
				if err := act(c); err != nil {
					b.Error(err)
					return
				}
				m.mu.Lock()
				m.took = append(m.took, time.Since(t))
				m.mu.Unlock()
			}
		}()
	}
	wg.Wait()
	b.StopTimer()
	m.time += time.Since(start)
	m.statements += asked.Load() - before
}

// tell reports rate, statements and the slowest hundredth.
func (m *clients) tell(b *testing.B) {
	b.Helper()
	n := len(m.took)
	slices.Sort(m.took)
	b.ReportMetric(float64(m.statements)/float64(n), "statements_each")
	b.ReportMetric(float64(n)/m.time.Seconds(), "a_second")
	b.ReportMetric(float64(m.took[n*99/100].Microseconds())/1000, "ms_in_99_of_100")
}

// mostBegun is how many runs each client begins before its work at them is timed. A run is begun shortly before it is
// worked at, and a site has no more in hand than the server remembers.
const mostBegun = 3

// press is one event that a client is to record.
type press struct {
	run   string
	event run.Event
}

// workToRecord begins as many runs as n events take, mostBegun of each client at the most, and gives for each client
// what it is to record, every press of a run from the first check to the last bolt, one run after another, and how many
// events that is.
func workToRecord(b *testing.B, a *app.App, who app.Actor, n int) (next func(client int) (string, run.Event),
	events int) {
	b.Helper()
	work := make([][]press, howMany)
	var script []run.Event // the same for every copy of the joint
	for c := 0; c < howMany || events < n && c < howMany*mostBegun; c++ {
		tag := "B-" + uuid.NewString()
		_, err := a.CopyJoint(ctx, who, "SW-112", tag)
		require.NoError(b, err)
		v, err := a.StartRun(ctx, who, tag, plan.Choices{}, "")
		require.NoError(b, err)
		if script == nil {
			s := rehearsal.New(v.Plan, time.Now(), rehearsal.Crew{Hand: who.Person, Second: who.Person})
			s.Ready()
			s.Tighten()
			script = slices.DeleteFunc(s.Events, func(e run.Event) bool { return e.Kind == run.Signed })
		}
		for _, e := range script {
			work[c%howMany] = append(work[c%howMany], press{v.ID, e})
		}
		events += len(script)
	}
	done := make([]int, howMany)
	return func(c int) (string, run.Event) {
		p := work[c][done[c]%len(work[c])] // some clients are faster than others
		done[c]++
		p.event.ID, p.event.At = uuid.Must(uuid.NewV7()).String(), time.Now()
		return p.run, p.event
	}, min(n, events)
}

// Fifty clients, each on a joint of its own, append durable events; the yardstick is the same clients inserting one row
// each.
func BenchmarkAppendEvent(b *testing.B) {
	a, who, exec := durable(b)
	b.Run("50 clients", func(b *testing.B) {
		var m clients
		b.StopTimer()
		b.ResetTimer()
		for left := b.N; left > 0; {
			next, n := workToRecord(b, a, who, left)
			m.act(b, n, func(c int) error {
				id, e := next(c)
				done, err := a.AppendEvents(context.Background(), who, id, []run.Event{e})
				if err == nil && done.Acks[0].Refused != "" {
					err = errors.New(done.Acks[0].Refused)
				}
				return err
			})
			left -= n
		}
		m.tell(b)
	})
	require.NoError(b, exec("insert into settings (key, value) values ('bench', '') on conflict do nothing"))
	b.Run("yardstick: 50 clients, one row each", func(b *testing.B) {
		var m clients
		b.StopTimer()
		b.ResetTimer()
		m.act(b, b.N, func(int) error {
			return exec("insert into settings (key, value) values ($1, $2)", uuid.NewString(), strings.Repeat("x", 400))
		})
		m.tell(b)
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
	imported := 0
	take := func(b *testing.B, n int, apply bool) {
		b.Helper()
		list := []byte(strings.ReplaceAll(string(register(n)), "Z-", fmt.Sprintf("Z%d-", imported)))
		res, err := a.Import(ctx, who, list, apply)
		require.NoError(b, err)
		require.Equal(b, n, res.New)
		if apply {
			imported += n
		}
	}
	b.Run("20 000 joints previewed", func(b *testing.B) {
		for b.Loop() {
			take(b, 20_000, false)
		}
	})
	b.Run("20 000 joints imported", func(b *testing.B) {
		for range b.N {
			take(b, 20_000, true)
		}
	})
	if imported < 50_000 {
		take(b, 50_000-imported, true)
	}
	settle()
	for _, q := range []app.JointQuery{{Text: "joint 1234", Sort: "tag", Limit: 100},
		{Area: "Area 7", Sort: "make", Limit: 100}, {Sort: "-updated", Limit: 100, Offset: 20000}} {
		b.Run(fmt.Sprintf("50 000 joints, find %s%s, sort %s", q.Text, q.Area, q.Sort), func(b *testing.B) {
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
	b.Run("Today with 50 000 joints", func(b *testing.B) {
		for b.Loop() {
			if _, err := a.Today(ctx, who); err != nil {
				b.Fatal(err)
			}
		}
	})
}
