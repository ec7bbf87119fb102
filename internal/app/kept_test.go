package app

import (
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/record"
	"dynacor/core/run"
)

// What is remembered is bounded by bytes, whatever it consists of; what was just used stays.
func TestMemoryIsBoundedByBytes(t *testing.T) {
	k := newKept()
	var last uuid.UUID
	for i := range 60 {
		last = uuid.New()
		entries := make([]record.Entry, 1000)
		for j := range entries {
			entries[j].Event = run.Event{Note: strings.Repeat("x", 1000+i)}
		}
		k.putChain(last, newChain(entries), bytesOf(entries))
		k.putPlan(uuid.New(), &plan.Plan{}, 100_000)
		require.LessOrEqual(t, k.bytes, mostRemembered)
	}
	require.NotEmpty(t, k.chains[last].what.entries)
	require.Less(t, len(k.chains), 40)
	sum := 0
	for _, c := range k.chains {
		sum += c.bytes
	}
	for _, p := range k.plans {
		sum += p.bytes
	}
	require.Equal(t, sum, k.bytes, "counted rightly")
	k.putChain(last, newChain(nil), 0)
	require.Less(t, k.bytes, sum, "a chain put in again is counted once")
}

// The chain that follows has the work of the one before and its own entries; the one before still tells how things
// stood, also when what followed was not kept.
func TestChainHandsItsWorkOn(t *testing.T) {
	p, err := plan.Make(coretest.Input())
	require.NoError(t, err)
	s := coretest.NewScript(p)
	s.Finish()
	entries := make([]record.Entry, len(s.Events))
	for i, e := range s.Events {
		entries[i] = record.Entry{Seq: i + 1, Event: e}
	}
	state := func(n int) *run.State { return run.Fold(p, s.Events[:n], s.At) }
	c := newChain(entries[:1:1])
	for n := 1; n < len(entries); n += 3 {
		to := min(n+3, len(entries))
		lost := c.follow(p, []record.Entry{{Seq: n + 1,
			Event: run.Event{ID: "x", Kind: run.Held, Reason: "was rolled back"}}})
		require.NotEmpty(t, lost.state(p, s.At).StoppedBy)
		next := c.follow(p, entries[n:to])
		require.Equal(t, state(n), c.state(p, s.At))
		require.Equal(t, state(to), next.state(p, s.At))
		require.Len(t, c.entries, n)
		c = next
	}
	require.Equal(t, s.Events[len(s.Events)-1].ID, c.entries[len(c.entries)-1].Event.ID)
	require.Equal(t, newChain(entries).tools, c.tools)
	other, err := plan.Make(coretest.Input())
	require.NoError(t, err)
	other.Passes = other.Passes[:2]
	require.Len(t, c.state(other, s.At).Passes, 2, "another plan is gone through anew")
}
