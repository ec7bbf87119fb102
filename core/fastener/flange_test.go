package fastener_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/fastener"
	"dynacor/core/quantity"
)

func TestFlangeSizesAreReadAsPeopleWriteThem(t *testing.T) {
	for text, want := range map[string]fastener.FlangeSize{
		"DN 150 PN 16":       {Text: "DN 150 PN 16", Standard: "EN 1092-1", Bolts: 8, Thread: "M20", HoleMM: 22, BoltCircleMM: 240, RaisedFaceMM: 212},
		"dn150/pn16":         {Text: "DN 150 PN 16", Standard: "EN 1092-1", Bolts: 8, Thread: "M20", HoleMM: 22, BoltCircleMM: 240, RaisedFaceMM: 212},
		"DN 50 PN 40":        {Text: "DN 50 PN 40", Standard: "EN 1092-1", Bolts: 4, Thread: "M16", HoleMM: 18, BoltCircleMM: 125, RaisedFaceMM: 102},
		"DN 400 PN 16":       {Text: "DN 400 PN 16", Standard: "EN 1092-1", Bolts: 16, Thread: "M27", HoleMM: 30, BoltCircleMM: 525, RaisedFaceMM: 490},
		"6 in class 300":     {Text: "6 in class 300", Standard: "ASME B16.5", Bolts: 12, Thread: "3/4-10", HoleMM: 22.2, BoltCircleMM: 269.9, RaisedFaceMM: 215.9},
		`NPS 1-1/2" CL 150`:  {Text: "1 1/2 in class 150", Standard: "ASME B16.5", Bolts: 4, Thread: "1/2-13", HoleMM: 15.9, BoltCircleMM: 98.4, RaisedFaceMM: 73},
		"24 inch, class 300": {Text: "24 in class 300", Standard: "ASME B16.5", Bolts: 24, Thread: "1 1/2-8", HoleMM: 41.3, BoltCircleMM: 812.8, RaisedFaceMM: 692.2},
	} {
		s, ok := fastener.ReadFlangeSize(text)
		require.True(t, ok, text)
		require.Equal(t, want, s, text)
	}
	for _, text := range []string{"", "DN 150", "DN 155 PN 16", "DN 150 PN 15", "DN 450 PN 25", "6 in class 900", "7 in class 150",
		"big", "DN 150 PN 16 and more", "DN 99999999999999999999 PN 16"} {
		_, ok := fastener.ReadFlangeSize(text)
		require.False(t, ok, text)
	}
}

// What holds for every drilling: bolts by fours, holes larger than the bolt, room for the nuts outside the raised face,
// and no flange smaller than the one of a lower pressure.
func TestDrillingsAreInProportion(t *testing.T) {
	n := 0
	for _, dn := range []int{15, 20, 25, 32, 40, 50, 65, 80, 100, 125, 150, 200, 250, 300, 350, 400, 450, 500, 600} {
		last := 0.0
		for _, pn := range []int{10, 16, 25, 40} {
			s, ok := fastener.ReadFlangeSize(fmt.Sprintf("DN %d PN %d", dn, pn))
			if !ok {
				continue
			}
			n++
			inProportion(t, s)
			require.GreaterOrEqual(t, s.BoltCircleMM, last, s.Text)
			last = s.BoltCircleMM
		}
	}
	for _, nps := range []string{"1/2", "3/4", "1", "1 1/4", "1 1/2", "2", "2 1/2", "3", "4", "5", "6", "8", "10", "12", "14", "16",
		"18", "20", "24"} {
		low, ok := fastener.ReadFlangeSize(nps + " in class 150")
		require.True(t, ok, nps)
		high, ok := fastener.ReadFlangeSize(nps + " in class 300")
		require.True(t, ok, nps)
		inProportion(t, low)
		inProportion(t, high)
		require.Greater(t, high.BoltCircleMM, low.BoltCircleMM, nps)
		n += 2
	}
	require.Equal(t, 73+38, n)
}

func inProportion(t *testing.T, s fastener.FlangeSize) {
	t.Helper()
	th, err := fastener.ParseThread(s.Thread)
	require.NoError(t, err, s.Text)
	require.Zero(t, s.Bolts%4, s.Text)
	require.Greater(t, s.HoleMM, th.DiameterMM, s.Text)
	require.Less(t, s.HoleMM, th.DiameterMM+4, s.Text)
	require.Greater(t, s.BoltCircleMM-s.HoleMM, s.RaisedFaceMM, "%s: the holes lie outside the raised face", s.Text)
}

// A site's own size comes before the typical one of the same name, however either is written.
func TestOwnFlangeSizeComesFirst(t *testing.T) {
	own := fastener.Own{Flanges: []fastener.FlangeSize{
		{Text: "dn150 PN16", Standard: "drawing 7", Bolts: 12, Thread: "M16", BoltCircleMM: 230, Version: 2},
		{Text: "Mill door", Standard: "measured", Bolts: 10, Thread: "M20", BoltCircleMM: 700, Version: 1}}}
	for text, bolts := range map[string]int{"DN 150 PN 16": 12, "DN150/PN16": 12, "mill  DOOR": 10, "DN 200 PN 16": 12,
		"6 in class 150": 8} {
		s, ok := own.FlangeSize(text)
		require.True(t, ok, text)
		require.Equal(t, bolts, s.Bolts, text)
	}
	_, ok := own.FlangeSize("mill")
	require.False(t, ok)
}

func TestOwnFlangeSizeIsChecked(t *testing.T) {
	good := fastener.FlangeSize{Text: "x", Standard: "drawing 7", Bolts: 8, Thread: "M20", HoleMM: 22, BoltCircleMM: 240,
		RaisedFaceMM: 212}
	require.NoError(t, good.Check())
	bare := good
	bare.HoleMM, bare.RaisedFaceMM = 0, 0
	require.NoError(t, bare.Check(), "what was not measured")
	for field, change := range map[string]func(*fastener.FlangeSize){
		"bolts":        func(s *fastener.FlangeSize) { s.Bolts = 2 },
		"thread":       func(s *fastener.FlangeSize) { s.Thread = "20" },
		"boltCircleMm": func(s *fastener.FlangeSize) { s.Bolts = 26 }, // 28.9 mm apart, 30 are wanted
		"holeMm":       func(s *fastener.FlangeSize) { s.HoleMM = 20 },
		"raisedFaceMm": func(s *fastener.FlangeSize) { s.RaisedFaceMM = 240 },
		"standard":     func(s *fastener.FlangeSize) { s.Standard = " " },
	} {
		s := good
		change(&s)
		var r *quantity.Refusal
		require.ErrorAs(t, s.Check(), &r, field)
		require.Equal(t, field, r.Field)
	}
	good.Bolts = 25 // 30.08 mm apart
	require.NoError(t, good.Check())
}

// Every typical size passes the check of a site's own and reads back from its name.
func TestTypicalSizesAreListed(t *testing.T) {
	list := fastener.FlangeSizes()
	require.Greater(t, len(list), 100)
	seen := map[string]bool{}
	for _, s := range list {
		require.NoError(t, s.Check(), s.Text)
		read, ok := fastener.ReadFlangeSize(s.Text)
		require.True(t, ok, s.Text)
		require.Equal(t, s, read)
		require.False(t, seen[s.Text], s.Text)
		seen[s.Text] = true
	}
}
