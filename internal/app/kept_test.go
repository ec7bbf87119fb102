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

// What is remembered is bounded by bytes, whatever it consists of; what was not used for longest goes first.
func TestMemoryIsBoundedByBytes(t *testing.T) {
	k := newKept()
	used, last := uuid.New(), uuid.UUID{}
	k.put(used, &plan.Plan{}, 300_000)
	unused := uuid.New()
	k.put(unused, &plan.Plan{}, 300_000)
	for i := range 60 {
		last = uuid.New()
		entries := make([]record.Entry, 1000)
		for j := range entries {
			entries[j].Event = run.Event{Note: strings.Repeat("x", 1000+i)}
		}
		k.put(last, newChain(entries), bytesOf(entries))
		k.put(uuid.New(), &plan.Plan{}, 100_000)
		require.LessOrEqual(t, k.bytes, mostRemembered)
		p, _ := recall[plan.Plan](k, used)
		require.NotNil(t, p)
	}
	c, _ := recall[chain](k, last)
	require.NotEmpty(t, c.entries)
	p, _ := recall[plan.Plan](k, unused)
	require.Nil(t, p)
	require.Less(t, k.order.Len(), 70)
	require.Len(t, k.at, k.order.Len())
	sum := 0
	for _, e := range k.at {
		sum += e.Value.(remembered).bytes
	}
	require.Equal(t, sum, k.bytes, "counted rightly")
	k.put(last, newChain(nil), 0)
	require.Less(t, k.bytes, sum, "a chain put in again is counted once")
	k.put(uuid.New(), &plan.Plan{}, mostRemembered+1)
	require.Equal(t, 1, k.order.Len(), "one thing over the bound is remembered alone")
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
