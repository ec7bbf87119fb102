package run_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/run"
)

// The fold stands behind every press of the record button; its yardstick is writing the same events as JSON.
func BenchmarkFold(b *testing.B) {
	in := coretest.Input()
	in.Specification.Bolts = 32
	p, err := plan.Make(in)
	require.NoError(b, err)
	s := coretest.NewScript(p)
	s.Finish()
	b.Run("whole run of 32 bolts", func(b *testing.B) {
		for b.Loop() {
			run.Fold(p, s.Events, s.At)
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
