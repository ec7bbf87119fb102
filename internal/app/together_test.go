package app_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/internal/app"
)

// openRuns are the runs of the demo site that are in hand, by the tags of their joints.
func (b *bench) openRuns(t *testing.T, tags ...string) []string {
	t.Helper()
	var out []string
	for _, tag := range tags {
		d, err := b.Joint(ctx, tag)
		require.NoError(t, err)
		require.NotEmpty(t, d.RunID)
		out = append(out, d.RunID)
	}
	return out
}

// Parcels that wait together are committed together, and what is wrong with one is not put upon another.
func TestOneParcelCannotSpoilAnother(t *testing.T) {
	b := newBench(t, true)
	ids := b.openRuns(t, "SW-114", "TB-212", "GB-02", "SW-115", "PC-02")
	lengths := map[string]int{}
	for _, id := range ids {
		v, err := b.Run(ctx, id)
		require.NoError(t, err)
		lengths[id] = len(v.Entries)
	}
	b.owner(t, "update plans set data = '{' where id = (select plan_id from runs where id = $1)", ids[4])
	b.App = b.without(t) // which remembers nothing
	held, err := pgx.Connect(ctx, b.url)
	require.NoError(t, err)
	defer held.Close(ctx)
	_, err = held.Exec(ctx, "begin")
	require.NoError(t, err)
	_, err = held.Exec(ctx, "select from runs where id = $1 for update", ids[0])
	require.NoError(t, err)

	type answer struct {
		out app.Appended
		err error
	}
	who, shared := b.crew["M. Tolley"], uuid.Must(uuid.NewV7()).String()
	send := func(id string, event string) chan answer {
		done := make(chan answer, 1)
		go func() {
			out, err := b.AppendEvents(ctx, who, id, []run.Event{{ID: event, Kind: run.Noted, At: b.now,
				Person: who.Person, Note: "at once"}})
			done <- answer{out, err}
		}()
		time.Sleep(20 * time.Millisecond) // one after another
		return done
	}
	fresh := func() string { return uuid.Must(uuid.NewV7()).String() }
	first := send(ids[0], fresh()) // waits for the one who holds the run
	good := []chan answer{send(ids[1], fresh()), send(ids[2], shared)}
	twice, broken, unknown := send(ids[3], shared), send(ids[4], fresh()), send(uuid.NewString(), fresh())
	gone, cancel := context.WithCancel(ctx)
	cancel()
	_, err = b.AppendEvents(gone, who, ids[1], []run.Event{{ID: fresh(), Kind: run.Noted, At: b.now, Person: who.Person,
		Note: "nobody waits for the answer"}})
	require.ErrorIs(t, err, context.Canceled)
	_, err = held.Exec(ctx, "commit")
	require.NoError(t, err)

	for i, c := range append([]chan answer{first}, good...) {
		a := <-c
		require.NoError(t, a.err, "parcel %d", i)
		require.Equal(t, lengths[ids[i]]+1, a.out.Acks[0].Seq, "parcel %d: %s", i, a.out.Acks[0].Refused)
	}
	a := <-twice
	require.NoError(t, a.err)
	require.Contains(t, a.out.Acks[0].Refused, "same identifier")
	require.ErrorContains(t, (<-broken).err, "stored")
	problem(t, (<-unknown).err, app.NotFound, "run")
	require.Eventually(t, func() bool {
		v, err := b.Run(ctx, ids[1])
		return err == nil && len(v.Entries) == lengths[ids[1]]+2
	}, 5*time.Second, 10*time.Millisecond, "what was handed in is taken, whoever waits")
}

// However many devices record at once, every event is kept once, in the order of its device.
func TestManyDevicesAtOnceKeepTheirOrder(t *testing.T) {
	b := newBench(t, true)
	ids := b.openRuns(t, "SW-114", "TB-212", "GB-02", "SW-115", "PC-02", "SD-21", "BV-14")
	const each = 12
	failed := make(chan error, 3*len(ids))
	for n := range cap(failed) {
		go func() {
			who := b.crew[[]string{"M. Tolley", "I. Quaye", "J. Hartwell"}[n%3]]
			var err error
			for i := range each {
				var out app.Appended
				out, err = b.AppendEvents(ctx, who, ids[n%len(ids)], []run.Event{{ID: uuid.Must(uuid.NewV7()).String(),
					Kind: run.Noted, At: b.now, Person: who.Person, Note: fmt.Sprint(n, " ", i)}})
				if err == nil && out.Acks[0].Refused != "" {
					err = fmt.Errorf("refused: %s", out.Acks[0].Refused)
				}
				if err != nil {
					break
				}
			}
			failed <- err
		}()
	}
	for range cap(failed) {
		require.NoError(t, <-failed)
	}
	b.App = b.without(t) // reads every chain and follows it
	told := map[int]int{}
	for _, id := range ids {
		v, err := b.Run(ctx, id)
		require.NoError(t, err)
		for _, e := range v.Entries {
			var n, i int
			if got, _ := fmt.Sscanf(e.Event.Note, "%d %d", &n, &i); got == 2 {
				require.Equal(t, told[n], i, "device %d", n)
				told[n]++
			}
		}
	}
	require.Len(t, told, cap(failed))
	for n, count := range told {
		require.Equal(t, each, count, "device %d", n)
	}
}

// A tool that is put aside while it is in use is told to every run that uses it, at once, whoever put it aside, and no
// device can say so by itself.
func TestToolPutAsideIsToldToTheRunsThatUseIt(t *testing.T) {
	for name, aside := range map[string]func(b *bench, who app.Actor, tag string) error{
		"by hand": func(b *bench, who app.Actor, tag string) error {
			_, err := b.Quarantine(ctx, who, tag, "fell from the scaffold")
			return err
		},
		"by a failed check": func(b *bench, who app.Actor, tag string) error {
			d, err := b.Tool(ctx, tag)
			if err != nil {
				return err
			}
			set := d.Tool.Tool.RatedMax
			_, err = b.CheckTool(ctx, who, tag, check(tool.PreUse, set, 0.7*set, 0.7*set, 0.7*set))
			return err
		},
	} {
		t.Run(name, func(t *testing.T) {
			b := newBench(t, true)
			var heard []string
			b.Tell(func(topic, kind string, data any) {
				if added, ok := data.(app.Added); ok && kind == "events" && len(added.Entries) == 1 &&
					added.Entries[0].Event.Kind == run.ToolDoubted {
					heard = append(heard, topic)
				}
			})
			ids := b.openRuns(t, "SW-114", "GB-02")
			v, err := b.Run(ctx, ids[0])
			require.NoError(t, err)
			tag, pulls := v.State.Wrench.Tag, map[int]bool{}
			for _, e := range v.Entries {
				if e.Event.Kind == run.Pulled {
					pulls[e.Event.Fastener] = true
				}
			}
			before, err := b.Run(ctx, ids[1])
			require.NoError(t, err)
			require.NoError(t, aside(b, b.crew["I. Quaye"], tag))
			require.Contains(t, heard, "run:"+ids[0])
			v, err = b.Run(ctx, ids[0])
			require.NoError(t, err)
			last := v.Entries[len(v.Entries)-1].Event
			require.Equal(t, run.ToolDoubted, last.Kind)
			require.Equal(t, "I. Quaye", last.Person.Name)
			require.Contains(t, v.State.Blocked[0], tag+" was put aside")
			open := 0
			for _, d := range v.State.Deviations {
				if d.Code == run.InDoubt && d.Unsettled() {
					open++
				}
			}
			require.Len(t, pulls, open)
			j, err := b.Joint(ctx, "SW-114")
			require.NoError(t, err)
			require.Equal(t, "stopped", j.Joint.Glyph)
			after, err := b.Run(ctx, ids[1])
			require.NoError(t, err)
			require.Len(t, after.Entries, len(before.Entries), "a run without the tool is told nothing")

			who := b.crew["M. Tolley"]
			out, err := b.AppendEvents(ctx, who, ids[1], []run.Event{{ID: uuid.Must(uuid.NewV7()).String(),
				Kind: run.ToolDoubted, At: b.now, Person: who.Person, Tool: tag, Reason: "made up"}})
			require.NoError(t, err)
			require.Contains(t, out.Acks[0].Refused, "put in doubt in the crib")
			_, err = b.Seal(ctx, ids[0])
			require.Error(t, err)
		})
	}
}

// Who lifted a stop stands in the chain; one who may not does not lift it, whatever page or program they use.
func TestStopIsNotLiftedByAnybody(t *testing.T) {
	b := newBench(t, true)
	id := b.openRuns(t, "SW-114")[0]
	for _, c := range []struct {
		name string
		kind run.Kind
		open bool
	}{{"I. Quaye", run.Held, true}, {"M. Tolley", run.Released, true}, {"R. Abara", run.Released, false},
		{"I. Quaye", run.Held, true}, {"I. Quaye", run.Released, false}} {
		who := b.crew[c.name]
		forged := who.Person
		forged.Role = authority.Engineer // the register knows better
		out, err := b.AppendEvents(ctx, who, id, []run.Event{{ID: uuid.Must(uuid.NewV7()).String(), Kind: c.kind, At: b.now,
			Person: forged, Reason: "a leak next door"}})
		require.NoError(t, err)
		require.Empty(t, out.Acks[0].Refused)
		v, err := b.Run(ctx, id)
		require.NoError(t, err)
		require.Equal(t, c.open, v.State.StoppedBy != "", "%s, %s", c.name, c.kind)
	}
}
