package dossier_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/dossier"
	"dynacor/core/run"
)

func withGaps(asked ...dossier.Ask) dossier.Book {
	return dossier.Bind(dossier.Facts{Package: "WP-47", People: crew(), Asked: asked,
		Joints: []dossier.Joint{{Tag: "SW-111", Glyph: run.GlyphReady}, {Tag: "SW-112", UnderWay: true,
			Glyph: run.GlyphToProve}},
		Tools: []dossier.Tool{{Tag: "W-40", Name: "click wrench", Dated: true}}})
}

// Each person gets one message with all that they can supply; nobody asks themselves.
func TestEachIsAskedOnceForAllTheyHave(t *testing.T) {
	b := withGaps()
	require.Len(t, b.Gaps, 3)
	asks := b.ToAsk("9", "J. Hartwell", nil, day)
	for of, want := range map[string][]string{"M. Tolley": {"SW-111"}, "R. Abara": {"SW-112"}, "B. Ode": {"W-40"}} {
		var keys []string
		for _, a := range asks {
			if a.Person == of {
				require.Equal(t, "J. Hartwell", a.By)
				require.Equal(t, day, a.At)
				for _, g := range a.Gaps {
					keys = append(keys, g.Key)
					require.NotEmpty(t, g.What)
				}
			}
		}
		require.Subset(t, keys, want, of)
	}
	require.Len(t, asks, 3, "one message each")
	for _, a := range b.ToAsk("2", "R. Abara", nil, day) {
		require.NotEqual(t, "2", a.PersonID)
	}
	require.Empty(t, dossier.Bind(dossier.Facts{Package: "WP-0", People: crew()}).ToAsk("9", "x", nil, day))
}

func TestNobodyIsAskedTwiceInAShift(t *testing.T) {
	b := withGaps()
	first := b.ToAsk("9", "J. Hartwell", nil, day)
	require.Empty(t, b.ToAsk("8", "somebody else", first, day.Add(dossier.AskAgainAfter-time.Second)))
	require.Len(t, b.ToAsk("8", "somebody else", first, day.Add(dossier.AskAgainAfter)), len(first))
	require.Len(t, b.ToAsk("8", "x", first[:1], day), len(first)-1, "only who was asked is left out")
}

// A gap tells who was asked for it and when last; one that was not asked for tells nothing.
func TestGapTellsWhoWasAsked(t *testing.T) {
	gap := dossier.GapName{Code: dossier.NoRecord, Key: "SW-111"}
	b := withGaps(dossier.Ask{PersonID: "1", Person: "M. Tolley", By: "x", At: day, Gaps: []dossier.GapName{gap}},
		dossier.Ask{PersonID: "1", Person: "M. Tolley", By: "y", At: day.Add(9 * time.Hour), Gaps: []dossier.GapName{gap}},
		dossier.Ask{PersonID: "1", Person: "M. Tolley", By: "z", At: day.Add(time.Hour), Gaps: []dossier.GapName{gap}},
		dossier.Ask{PersonID: "3", Person: "B. Ode", By: "y", At: day, Gaps: []dossier.GapName{{Code: dossier.NotSealed,
			Key: "SW-111"}}})
	for _, g := range b.Gaps {
		if g.Key == "SW-111" {
			require.Equal(t, []dossier.AskedOf{{Who: "M. Tolley", By: "y", At: day.Add(9 * time.Hour)}}, g.Asked)
		} else {
			require.Empty(t, g.Asked)
		}
	}
}
