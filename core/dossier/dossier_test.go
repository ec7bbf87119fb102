package dossier_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/dossier"
	"dynacor/core/run"
)

var day = time.Date(2026, 11, 20, 9, 0, 0, 0, time.UTC)

func good(number string) dossier.Record {
	return dossier.Record{Number: number, Mark: "m" + number, Verdict: run.Accepted, SealedAt: day}
}

func crew() []run.Person {
	return []run.Person{{ID: "1", Name: "M. Tolley", Role: authority.Technician},
		{ID: "2", Name: "R. Abara", Role: authority.Inspector}, {ID: "3", Name: "B. Ode", Role: authority.ToolKeeper}}
}

// keys are the entries of a chapter.
func keys(b dossier.Book, c dossier.Chapter) (out []string) {
	for _, e := range b.Entries {
		if e.Chapter == c {
			out = append(out, e.Key)
		}
	}
	return out
}

func TestBookIsBoundInOrder(t *testing.T) {
	one, two := good("TS-1"), good("TS-2")
	one.Persons, one.Lots = []string{"M. Tolley"}, []dossier.Lot{{Kind: "batch", Value: "QF-88"}}
	two.Persons, two.Lots = []string{"M. Tolley", "R. Abara"}, []dossier.Lot{{Kind: "batch", Value: "QF-88"}}
	b := dossier.Bind(dossier.Facts{Package: "WP-47", Name: "Cooler swap",
		Joints: []dossier.Joint{{Tag: "SW-112", Glyph: run.GlyphAccepted, Records: []dossier.Record{two}},
			{Tag: "SW-111", Glyph: run.GlyphAccepted, Records: []dossier.Record{one}}},
		Tests: []dossier.Test{{Tag: "LT-08", Closed: true, Good: true}, {Tag: "LT-07", Closed: true, Good: true}},
		Tools: []dossier.Tool{{Tag: "W-40", Dated: true, Certificate: "C-1", Ends: "2026-11-20", LastUsed: day}}})
	var chapters []dossier.Chapter
	for _, e := range b.Entries {
		if len(chapters) == 0 || chapters[len(chapters)-1] != e.Chapter {
			chapters = append(chapters, e.Chapter)
		}
		require.Positive(t, e.Leaves, e.Key)
		require.False(t, e.Gap, e.Key)
	}
	var want []dossier.Chapter
	for _, c := range dossier.Chapters {
		want = append(want, c.Chapter)
	}
	require.Equal(t, want, chapters)
	require.Equal(t, []string{"SW-111", "SW-112"}, keys(b, dossier.Joints))
	require.Equal(t, []string{"LT-07", "LT-08"}, keys(b, dossier.Tests))
	require.Empty(t, b.Gaps, "a certificate holds to the end of its last day")
	require.Equal(t, []dossier.Where{{Kind: "batch", Value: "QF-88", Joints: []string{"SW-111", "SW-112"}}}, b.Lots)
	require.Equal(t, []dossier.Where{{Value: "M. Tolley", Joints: []string{"SW-111", "SW-112"}},
		{Value: "R. Abara", Joints: []string{"SW-112"}}}, b.Persons)
	empty := dossier.Bind(dossier.Facts{Package: "WP-0"})
	require.Len(t, empty.Entries, 1, "a package without joints has its front")
}

// The record that speaks for a joint brings along those it follows, and no others.
func TestRecordBringsWhatItFollows(t *testing.T) {
	first, down, again := good("TS-1"), good("TS-2"), good("TS-3")
	down.Verdict = run.TurnedDown
	again.Follows = "TS-2"
	b := dossier.Bind(dossier.Facts{Joints: []dossier.Joint{{Tag: "SW-1", Glyph: run.GlyphAccepted,
		Records: []dossier.Record{first, down, again}}}})
	require.Equal(t, []dossier.Sealed{{Number: "TS-2", Mark: "mTS-2"}, {Number: "TS-3", Mark: "mTS-3"}},
		b.Entries[1].Records)
	require.Empty(t, b.Gaps, "what was turned down was made again")
}

func TestGapsSayWhoCanSupply(t *testing.T) {
	apart, down := good("TS-2"), good("TS-3")
	apart.Apart, down.Verdict = true, run.TurnedDown
	joint := func(tag string, g run.Glyph, under bool, list ...dossier.Record) dossier.Joint {
		return dossier.Joint{Tag: tag, Glyph: g, UnderWay: under, Records: list}
	}
	b := dossier.Bind(dossier.Facts{People: crew(), Joints: []dossier.Joint{
		joint("A-01", run.GlyphReady, false), joint("A-02", run.GlyphToProve, true),
		joint("A-03", run.GlyphStopped, true), joint("A-04", run.GlyphInHand, true, good("TS-1")),
		joint("A-05", run.GlyphReady, false, apart), joint("A-06", run.GlyphTurnedDown, false, down),
		joint("A-07", run.GlyphDueAgain, false, good("TS-5")), joint("A-08", run.GlyphAccepted, false, good("TS-4")),
		joint("A-09", run.GlyphAccepted, true), joint("A-10", run.GlyphAccepted, false, good("TS-6")),
	}, Tests: []dossier.Test{{Tag: "LT-1"}, {Tag: "LT-2", Closed: true, Word: "fell"}},
		Tools: []dossier.Tool{{Tag: "W-1", Dated: true, LastUsed: day},
			{Tag: "W-2", Dated: true, Certificate: "C-2", Ends: "2026-11-19", LastUsed: day}, {Tag: "SK-1"}}})
	type told struct {
		Code dossier.GapCode
		Key  string
		Who  []string
	}
	tightens, proves, keeps := []string{"M. Tolley", "R. Abara"}, []string{"R. Abara"}, []string{"B. Ode"}
	var got []told
	for _, g := range b.Gaps {
		got = append(got, told{g.Code, g.Key, g.Who})
		require.NotEmpty(t, g.What)
		require.Len(t, g.WhoIDs, len(g.Who))
	}
	require.Equal(t, []told{{dossier.NoRecord, "A-01", tightens}, {dossier.NotSealed, "A-02", proves},
		{dossier.NotSealed, "A-03", proves}, {dossier.NotSealed, "A-04", tightens},
		{dossier.TakenApart, "A-05", tightens}, {dossier.TurnedDown, "A-06", tightens},
		{dossier.DueAgain, "A-07", tightens},
		{dossier.NotSealed, "A-09", tightens}, {dossier.TestOpen, "LT-1", tightens},
		{dossier.TestFailed, "LT-2", proves}, {dossier.NoCertificate, "W-1", keeps},
		{dossier.CertificateUp, "W-2", keeps}}, got)
	for _, e := range b.Entries {
		switch e.Chapter {
		case dossier.Joints:
			require.Equal(t, e.Key != "A-10" && e.Key != "A-08", e.Gap, e.Key)
		case dossier.Tests, dossier.Tools:
			require.True(t, e.Gap, e.Key)
		}
	}
}
