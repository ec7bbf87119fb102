package app

import (
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

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
		k.putChain(last, entries)
		k.putPlan(uuid.New(), &plan.Plan{}, 100_000)
		require.LessOrEqual(t, k.bytes, mostRemembered)
	}
	require.NotEmpty(t, k.chains[last].what)
	require.Less(t, len(k.chains), 40)
	sum := 0
	for _, c := range k.chains {
		sum += c.bytes
	}
	for _, p := range k.plans {
		sum += p.bytes
	}
	require.Equal(t, sum, k.bytes, "counted rightly")
	k.putChain(last, nil)
	require.Less(t, k.bytes, sum, "a chain put in again is counted once")
}
