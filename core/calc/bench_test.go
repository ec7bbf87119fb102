package calc_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/calc"
	"dynacor/core/preload"
)

// What happens while somebody types: the result with its working, what matters most, and a curve. The yardstick is the
// bare formula and writing the answer as JSON.
func BenchmarkSheet(b *testing.B) {
	c, err := calc.ByName("torque_from_preload")
	require.NoError(b, err)
	values := c.Example()
	for name, q := range map[string]calc.Request{
		"result":                  {Values: values},
		"result and what matters": {Values: values, Effects: true},
		"result and 49 points":    {Values: values, Sweep: &calc.SweepRequest{Key: "mu_head", Points: 49}},
	} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				if _, err := calc.Ask(c.Name, q, nil); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
	b.Run("yardstick: the formula alone", func(b *testing.B) {
		f := preload.Friction{D: 27, Pitch: 3, D2: 25.051, BearingMean: 35.5, MuThread: .11, MuHead: .11}
		for b.Loop() {
			if _, err := f.TorqueAt(nil, 148); err != nil {
				b.Fatal(err)
			}
		}
	})
	a, err := calc.Ask(c.Name, calc.Request{Values: values}, nil)
	require.NoError(b, err)
	b.Run("yardstick: the answer as JSON", func(b *testing.B) {
		for b.Loop() {
			if _, err := json.Marshal(a); err != nil {
				b.Fatal(err)
			}
		}
	})
}

// All cases of the catalogue, as the command line works them.
func BenchmarkCatalogue(b *testing.B) {
	cases := goldenCases(b)
	b.Run("all cases", func(b *testing.B) {
		for b.Loop() {
			for _, c := range cases {
				_, _ = calc.Run(c.Calc, c.Inputs, calc.Options{}) // refusals are part of it
			}
		}
	})
	b.Run("yardstick: their inputs as JSON", func(b *testing.B) {
		for b.Loop() {
			if _, err := json.Marshal(cases); err != nil {
				b.Fatal(err)
			}
		}
	})
	for _, n := range []string{"crew_schedule", "torque_angle_analysis", "gauge_rr", "visiting_order"} {
		c, err := calc.ByName(n)
		require.NoError(b, err)
		v := c.Example()
		b.Run(n, func(b *testing.B) {
			for b.Loop() {
				if _, err := calc.Run(n, v, calc.Options{Typed: true}); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
