package fastener_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/fastener"
	"dynacor/core/quantity"
)

// Printed stress areas of ISO 898-1 (mm²) and ASME B1.1 (in²).
func TestStressAreasAgreeWithPrintedTables(t *testing.T) {
	for text, want := range map[string]float64{"M10": 58.0, "M12": 84.3, "M16": 157, "M20": 245, "M24": 353, "M30": 561,
		"M36": 817, "M64": 2676} {
		th, err := fastener.ParseThread(text)
		require.NoError(t, err)
		g, err := th.Geometry(nil)
		require.NoError(t, err)
		require.InEpsilon(t, want, g.As, 0.0035, text) // printed to three figures
	}
	for text, want := range map[string]float64{"1/2-13": .1419, "3/4-10": .334, "7/8-9": .462, "1-8": .606,
		"1 1/8-8": .790, "2 1/2-8": 4.44} {
		th, err := fastener.ParseThread(text)
		require.NoError(t, err)
		g, err := th.Geometry(nil)
		require.NoError(t, err)
		require.InEpsilon(t, want, g.As/645.16, 0.003, text)
	}
}

func TestEveryListedThreadReadsBack(t *testing.T) {
	list := fastener.Threads()
	require.Greater(t, len(list), 90)
	for _, th := range list {
		again, err := fastener.ParseThread(th.Text)
		require.NoError(t, err, th.Text)
		require.InDelta(t, th.DiameterMM, again.DiameterMM, 1e-9, th.Text)
		require.InDelta(t, th.PitchMM, again.PitchMM, 1e-9, th.Text)
		require.Equal(t, th.Series, again.Series, th.Text)
		g, err := th.Geometry(nil)
		require.NoError(t, err, th.Text)
		require.Greater(t, g.D, g.D2, th.Text)
		require.Greater(t, g.D2, g.D1, th.Text)
		require.Greater(t, g.D1, g.D3, th.Text)
	}
}

func TestMaterialsAreOrderedAndSourced(t *testing.T) {
	for _, m := range fastener.Materials() {
		require.Less(t, m.Yield, m.Tensile, m.Grade)
		if m.Proof > 0 {
			require.Less(t, m.Proof, m.Yield, m.Grade)
		}
		require.NotEmpty(t, m.Source, m.Grade)
	}
}

func TestLubricantBandsRise(t *testing.T) {
	for _, l := range fastener.Lubricants() {
		require.Less(t, l.K.Low, l.K.Typ, l.Code)
		require.Less(t, l.K.Typ, l.K.High, l.Code)
		require.Equal(t, fastener.KLibrary, l.Source)
	}
}

func FuzzParseThread(f *testing.F) {
	for _, s := range []string{"M24", "M20x1.5-6g LH", "1 1/8-8 UN", "#10-32", "3/4", "No. 8 UNC", "M", "0/0-1"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		th, err := fastener.ParseThread(s)
		if err != nil {
			if _, ok := quantity.RefusalIn(err); !ok {
				t.Fatalf("%q: not a refusal: %v", s, err)
			}
			return
		}
		if g, err := th.Geometry(nil); err == nil && !(g.As > 0 && quantity.Finite(g.As)) {
			t.Fatalf("%q gives an area of %v", s, g.As)
		}
	})
}
