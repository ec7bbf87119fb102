package run_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/run"
)

// largeRun is a flange of 32 bolts from the first event to both signatures.
func largeRun(b *testing.B) *coretest.Script {
	b.Helper()
	in := coretest.Input()
	in.Specification.Groups[0].Bolts = 32
	p, err := plan.Make(in)
	require.NoError(b, err)
	s := coretest.NewScript(p)
	s.Finish()
	return s
}

// The fold stands behind every press of the record button; its yardstick is writing the same events as JSON.
func BenchmarkFold(b *testing.B) {
	s := largeRun(b)
	b.Run("whole run of 32 bolts", func(b *testing.B) {
		for b.Loop() {
			run.Fold(s.Plan, s.Events, s.At)
		}
	})
	b.Run("yardstick: the events as JSON", func(b *testing.B) {
		for b.Loop() {
			if _, err := json.Marshal(s.Events); err != nil {
				b.Fatal(err)
			}
		}
	})
}

// One event applied must not cost more the more came before. The yardstick is writing that event as JSON.
func BenchmarkApply(b *testing.B) {
	s := largeRun(b)
	b.Run("one event of a run of 32 bolts", func(b *testing.B) {
		for i := 0; b.Loop(); i++ {
			if i%len(s.Events) == 0 {
				b.StopTimer()
				fresh = run.NewProgress(s.Plan)
				b.StartTimer()
			}
			fresh.Apply(s.Events[i%len(s.Events)])
		}
	})
	for _, part := range []int{4, 2, 1} {
		g, n := run.NewProgress(s.Plan), len(s.Events)/part
		for _, e := range s.Events[:n] {
			g.Apply(e)
		}
		b.Run(fmt.Sprintf("state after %d events", n), func(b *testing.B) {
			for b.Loop() {
				g.State(s.At)
			}
		})
		b.Run(fmt.Sprintf("glance after %d events", n), func(b *testing.B) {
			for b.Loop() {
				g.Glance(s.At)
			}
		})
	}
	b.Run("yardstick: the event as JSON", func(b *testing.B) {
		for b.Loop() {
			if _, err := json.Marshal(s.Events[len(s.Events)-20]); err != nil {
				b.Fatal(err)
			}
		}
	})
}

var fresh *run.Progress
