package lab_test

import (
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/lab"
)

// A hundred histories of 24 bolts in four passes as they fall, on two cores.
func BenchmarkHundredDrawsOnTwoCores(b *testing.B) {
	s := lab.Setup{
		Bolts:        24,
		Thread:       "M36",
		Gasket:       "sheet",
		GasketMM:     2,
		TargetKN:     250,
		BoltCircleMM: 820,
		BoreMM:       591,
		OutsideMM:    907,
		ThicknessMM:  75,
		HubMM:        20,
		FrictionPct:  8,
		ToolPct:      2,
	}
	j, err := lab.Of(s)
	require.NoError(b, err)
	for b.Loop() {
		var wait sync.WaitGroup
		for half := range 2 {
			wait.Go(func() {
				_, err := j.Draw(ctx, crossed, 1, 50*half, 50)
				if err != nil {
					b.Error(err)
				}
			})
		}
		wait.Wait()
	}
}
