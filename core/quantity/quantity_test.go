package quantity_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/quantity"
)

var torques = []quantity.Unit{"N_m", "kN_m", "daN_m", "N_cm", "cN_m", "ft_lbf", "in_lbf", "in_ozf", "kgf_m", "kgf_cm"}

func TestConversionGoesThereAndBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.Float64Range(1e-6, 1e6).Draw(t, "value")
		from, to := rapid.SampledFrom(torques).Draw(t, "from"), rapid.SampledFrom(torques).Draw(t, "to")
		there, err := quantity.Convert(v, from, to)
		require.NoError(t, err)
		back, err := quantity.Convert(there, to, from)
		require.NoError(t, err)
		require.InEpsilon(t, v, back, 1e-12)
	})
}

func TestRoundingStaysOnTheScale(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g := rapid.SampledFrom([]float64{0.5, 1, 2, 2.5, 5, 10}).Draw(t, "graduation")
		v := rapid.Float64Range(g, 2000).Draw(t, "value")
		limit := rapid.Float64Range(g, 2000).Draw(t, "limit")
		r, err := quantity.RoundToGraduation(v, g, limit)
		require.NoError(t, err)
		require.InDelta(t, 0, math.Remainder(r.Rounded, g), 1e-9, "a mark of the scale")
		require.LessOrEqual(t, r.Rounded, limit+1e-6, "never past the maximum")
		if !r.Limited {
			require.LessOrEqual(t, math.Abs(r.Rounded-v), g/2+1e-6)
		}
	})
}

func TestBareWeightIsNotATorque(t *testing.T) {
	for _, text := range []string{"20 kg", "20kg", "15 lb", "15 lbs", "15 pounds"} {
		_, err := quantity.Parse(quantity.KindTorque, text, "")
		require.ErrorContains(t, err, "is a weight, not a torque", text)
		r, _ := quantity.RefusalIn(err)
		require.Contains(t, r.Remedy, "kgf·m", text)
	}
	_, err := quantity.Parse(quantity.KindForce, "20 kg", "")
	require.NoError(t, err, "a weight is a force")
}

func TestRefusalsSayWhatToDo(t *testing.T) {
	for _, text := range []string{"", "abc", "12", "1,250 N·m", "10-20 N·m", "3/4 N·m", "-5 N·m", "1/0 in", "5 mN·m",
		"1 2 3 N·m"} {
		_, err := quantity.Parse(quantity.KindTorque, text, "")
		require.Error(t, err, text)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, text)
		require.NotEmpty(t, r.Remedy, text)
	}
}

func TestNumbersAreWrittenForPeople(t *testing.T) {
	for v, want := range map[float64]string{0: "0", 9999: "9999", 10000: "10\u2009000", 1234567: "1\u2009234\u2009567",
		0.15: "0.15", -12345.5: "-12\u2009345.5", 62.5: "62.5"} {
		require.Equal(t, want, quantity.Text(v))
	}
	require.Equal(t, "148 kN", quantity.Shown(147.9, quantity.Kilonewton))
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"60 in-lb", "1 1/8 in", "1.234,5 N·m", "½ in", "M24", "5e3", "٣ N", "--1", "°"} {
		f.Add(s)
	}
	kinds := []quantity.Kind{quantity.KindTorque, quantity.KindPressure, quantity.KindForce, quantity.KindLength,
		quantity.KindTemperature, quantity.KindAngle}
	f.Fuzz(func(t *testing.T, s string) {
		for _, k := range kinds {
			r, err := quantity.Parse(k, s, "")
			if err == nil && (!quantity.Finite(r.Canonical) || r.Unit == "") {
				t.Fatalf("%q as %s gave %+v", s, k, r)
			}
		}
	})
}
