package practice_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/practice"
	"dynacor/core/preload"
	"dynacor/core/quantity"
)

func rng(seed uint64) *rand.Rand { return rand.New(rand.NewPCG(seed, 7)) }

func trace(b *practice.Bolt, until float64) []preload.TracePoint {
	out := []preload.TracePoint{}
	for a := 0.0; a < 400; a++ {
		t := float64(b.Turn(1))
		out = append(out, preload.TracePoint{Angle: a, Torque: t})
		if t >= until || b.Yielded && len(out) > 20 && t-out[len(out)-12].Torque < 0.02*until {
			break
		}
	}
	return out
}

// What the stand-in does is what the judge of curves calls it: the two were written apart.
func TestConditionsAreRecognisedByTheirCurves(t *testing.T) {
	j := practice.Flange(27, 3, 0.15, 600)
	require.NoError(t, j.Check())
	for c, want := range map[practice.Condition]string{practice.Sound: "normal",
		practice.CrossThread: "cross_thread_suspect", practice.Bottomed: "bottomed_out_suspect",
		practice.AlreadyTight: "already_tight", practice.Soft: "yielded"} {
		for seed := range uint64(20) {
			r, err := preload.TorqueAngleAnalysis(nil,
				preload.TraceInput{Points: pad(trace(practice.New(j, c, rng(seed)), 600)), Target: 600, YieldRatio: 0.5,
					Rehit: 8, CrossFrac: 0.25, BottomRise: 0.15, BottomSlope: 1.6})
			require.NoError(t, err, c)
			require.Equal(t, want, r.Diagnosis, "%s, seed %d", c, seed)
		}
	}
}

// pad gives a short curve the samples that the analysis needs at least.
func pad(p []preload.TracePoint) []preload.TracePoint {
	for len(p) < 12 {
		first := p[0]
		p = append([]preload.TracePoint{{Angle: first.Angle - 0.1, Torque: first.Torque * 0.98}}, p...)
	}
	return p
}

func TestBoltObeysTheNutFactor(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		j := practice.Flange(20, 2.5, 0.18, 300)
		j.StickSlipPct, j.PrevailingNm = 0, 0
		b := practice.New(j, practice.Sound, rng(rapid.Uint64().Draw(t, "seed")))
		b.Turn(quantity.Angle(rapid.Float64Range(0, 120).Draw(t, "turn")))
		require.InDelta(t, b.K*20*b.LoadKN, float64(b.Torque()), 1e-9)
		require.GreaterOrEqual(t, b.K, j.KLow)
		require.LessOrEqual(t, b.K, j.KHigh)
		load := b.LoadKN
		b.Turn(5)
		require.GreaterOrEqual(t, b.LoadKN, load, "turning on never lets load off")
		b.Turn(-400)
		require.Zero(t, b.LoadKN)
	})
}

func TestSameSeedSameBolt(t *testing.T) {
	j := practice.Flange(24, 3, 0.15, 400)
	require.Equal(t, trace(practice.New(j, practice.Sound, rng(3)), 400), trace(practice.New(j, practice.Sound, rng(3)),
		400))
	b := practice.New(j, practice.Sound, rng(3))
	trace(b, 400)
	before := b.LoadKN
	b.Relax()
	require.InDelta(t, 0.97*before, b.LoadKN, 1e-9)
	j.KHigh = 0
	require.Error(t, j.Check())
}
