package fastener_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/fastener"
	"dynacor/core/quantity"
)

func TestOwnValuesComeFirstAndOnlyForTheirSizes(t *testing.T) {
	m24, err := fastener.ParseThread("M24")
	require.NoError(t, err)
	own := fastener.Own{
		Materials: []fastener.Strength{{Grade: "8.8", System: fastener.ISO, Yield: 600, Tensile: 800, MaxMM: 20,
			Source: "certificate", Version: 3}},
		Gaskets: []fastener.Gasket{{Code: "fibre_sheet", Name: "Fibre of ours", Target: 30, Max: 60, Seating: 20,
			Operating: 10, Source: "sheet", Version: 1}},
		Nuts: []fastener.Nut{{Thread: "M24", BearingOut: 34, Hole: 26, Source: "measured", Version: 1}},
	}
	small, err := own.Strength(fastener.ISO, "8.8", 20)
	require.NoError(t, err)
	require.InDelta(t, 600, small.Yield, 0)
	require.Contains(t, small.Provenance(), "version 3")
	large, err := own.Strength(fastener.ISO, "8.8", 24)
	require.NoError(t, err)
	require.InDelta(t, 660, large.Yield, 0, "past its sizes the standard holds")
	g, ok := own.Gasket(" FIBRE_sheet ")
	require.True(t, ok)
	require.Equal(t, "Fibre of ours", g.Name)
	_, ok = own.Gasket("cheese")
	require.False(t, ok)
	b, err := own.Bearing(m24)
	require.NoError(t, err)
	require.InDelta(t, 30, b.Mean, 1e-12)
	fine, err := fastener.ParseThread("M24x2")
	require.NoError(t, err)
	_, ok = own.Nut(fine)
	require.False(t, ok, "another pitch is another thread")
	standard, err := fastener.Own{}.Bearing(m24)
	require.NoError(t, err)
	require.NotEqual(t, b.Mean, standard.Mean)
}

func TestBuiltInGasketsAreTypicalAndRight(t *testing.T) {
	for _, g := range fastener.Gaskets() {
		require.NoError(t, g.Check(), g.Code)
		require.Contains(t, g.Source, "confirm")
		require.Less(t, g.Operating, g.Seating+1, g.Code)
		require.Less(t, g.Seating, g.Target, g.Code)
	}
}

func TestLubricantSuitsOnlyWhatItIsDocumentedFor(t *testing.T) {
	l := fastener.Lubricant{Name: "white paste", Suits: []string{"food"}, Source: fastener.KMaker}
	for class, want := range map[string]bool{"": true, "general": true, "food": true, "oxygen": false} {
		require.Equal(t, want, l.Suit(class), class)
	}
	require.Contains(t, fastener.Services(), "oxygen")
}

// Printed minima of both metric tables are 70 % of the tensile strength on the stress area, within their rounding.
func TestPrintedPretensionsAreSeventyPercent(t *testing.T) {
	for _, c := range []struct {
		table, grade string
		tensile      float64
		sizes        []string
	}{
		{"en1090", "8.8", 800, []string{"M12", "M16", "M20", "M22", "M24", "M27", "M30", "M36"}},
		{"en1090", "10.9", 1000, []string{"M12", "M16", "M20", "M22", "M24", "M27", "M30", "M36"}},
		{"aisc_metric", "A325M", 830, []string{"M16", "M20", "M22", "M24", "M27", "M30", "M36"}},
		{"aisc_metric", "A490M", 1040, []string{"M16", "M20", "M22", "M24", "M27", "M30", "M36"}},
	} {
		for _, size := range c.sizes {
			printed, err := fastener.MinPretensionTable(nil, fastener.PretensionTableInput{Table: c.table,
				Grade: c.grade, Size: size})
			require.NoError(t, err)
			th, err := fastener.ParseThread(size)
			require.NoError(t, err)
			worked, err := fastener.MinPretension(nil, fastener.PretensionInput{Tensile: c.tensile,
				Diameter: &th.DiameterMM, Pitch: &th.PitchMM, Frac: .7})
			require.NoError(t, err)
			require.InDelta(t, printed.Pretension, worked.Pretension, 1100, "%s %s %s", c.table, c.grade, size)
		}
	}
	for _, in := range []fastener.PretensionTableInput{{Table: "en1090", Grade: "A325M", Size: "M20"},
		{Table: "en1090", Grade: "8.8", Size: "M18"}, {Table: "other", Grade: "8.8", Size: "M20"}} {
		_, err := fastener.MinPretensionTable(nil, in)
		_, ok := quantity.RefusalIn(err)
		require.True(t, ok)
	}
}

func TestIndicatorIsJudgedByStage(t *testing.T) {
	for _, c := range []struct {
		refused int
		stage   string
		want    string
	}{{3, "final", "tight"}, {2, "final", "not_tight"}, {2, "snug", "snug_ok"}, {3, "snug", "compressed_too_early"}} {
		r, err := fastener.IndicatorGap(nil, fastener.IndicatorInput{Gaps: 5, Refused: c.refused, Stage: c.stage,
			Required: .5})
		require.NoError(t, err)
		require.Equal(t, c.want, r.Verdict)
		require.Equal(t, 3, r.Required)
	}
	_, err := fastener.IndicatorGap(nil, fastener.IndicatorInput{Gaps: 5, Refused: 6, Stage: "final", Required: .5})
	require.Error(t, err)
}

// M20 10.9 at a slip factor of 0.5 resists 68.6 kN by EN; a 3/4 in bolt of 28 kip at 0.30 resists 9.49 kip by AISC.
func TestSlipResistanceAgreesWithWorkedExamples(t *testing.T) {
	en, err := fastener.SlipResistance(nil, fastener.SlipInput{Method: "en1993", Pretension: 171500, Friction: .5,
		Surfaces: 1, Bolts: 4, Ks: 1, Gamma: 1.25, Du: 1, Hf: 1, Phi: 1})
	require.NoError(t, err)
	require.InDelta(t, 68600, en.PerBolt, 1)
	require.InDelta(t, 4*en.PerBolt, en.Group, 1e-6)
	us, err := fastener.SlipResistance(nil, fastener.SlipInput{Method: "aisc", Pretension: 28, Friction: .3,
		Surfaces: 1, Bolts: 1, Du: 1.13, Hf: 1, Phi: 1, Ks: 1, Gamma: 1})
	require.NoError(t, err)
	require.InDelta(t, 9.49, us.PerBolt, .005)
	_, err = fastener.SlipResistance(nil, fastener.SlipInput{Method: "en1993", Pretension: 100, Friction: .5,
		Surfaces: 1, Bolts: 1, Ks: 1, Gamma: 1.25, Du: 1, Hf: 1, Phi: 1, Tension: 200})
	require.ErrorContains(t, err, "leaves no clamp")
}
