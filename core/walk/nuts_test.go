package walk_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/quantity"
	"dynacor/core/walk"
)

// bolt names those of a joint of twelve.
func bolt(fastener int) string {
	if fastener < 1 || fastener > 12 {
		return ""
	}
	return fmt.Sprintf("bolt %d", fastener)
}

func twelve() (names []string) {
	for i := range 12 {
		names = append(names, bolt(i+1))
	}
	return names
}

// Three nuts are drawn, what stood out before among them, and others at the next visit.
func TestNutsAreDrawn(t *testing.T) {
	at := func(list []walk.Drawn) (out []int) {
		seen := map[int]bool{}
		for _, d := range list {
			require.False(t, seen[d.Fastener])
			seen[d.Fastener] = true
			require.Equal(t, bolt(d.Fastener), d.Name)
			out = append(out, d.Fastener)
		}
		return out
	}
	require.Equal(t, []int{1, 5, 9}, at(walk.Draw(twelve(), nil, 0)))
	require.Equal(t, []int{2, 6, 10}, at(walk.Draw(twelve(), nil, 1)))
	watched := walk.Draw(twelve(), []string{"bolt 7"}, 0)
	require.Equal(t, []int{7, 1, 5}, at(watched))
	require.True(t, watched[0].Watch)
	require.False(t, watched[1].Watch)
	require.Len(t, walk.Draw(twelve()[:2], nil, 5), 2)
	require.Len(t, walk.Draw(twelve()[:4], nil, 3), 3)
	require.Empty(t, walk.Draw(nil, nil, 0))
}

// A drawn nut that was turned says No by itself, at which bolt and by how much; in line it says where it was looked at.
func TestDrawnNutsSpeak(t *testing.T) {
	answers := func(yes bool, note string, nuts ...walk.Nut) []walk.Answer {
		out := []walk.Answer{{Code: "marks", Yes: yes, Note: note, Nuts: nuts}}
		for _, q := range walk.Questions[1:] {
			out = append(out, walk.Answer{Code: q.Code, Yes: true})
		}
		return out
	}
	what, well, err := walk.Says(answers(true, "", walk.Nut{Fastener: 3}, walk.Nut{Fastener: 7, Deg: -4.9}), bolt)
	require.NoError(t, err)
	require.True(t, well)
	require.Contains(t, what, "marks in line: as drawn at bolt 3, bolt 7;")
	what, well, err = walk.Says(answers(true, "", walk.Nut{Fastener: 3}, walk.Nut{Fastener: 7, Deg: -30}, walk.Nut{Fastener: 9, Deg: 5}), bolt)
	require.NoError(t, err)
	require.False(t, well, "whatever the button says")
	require.Contains(t, what, "a mark is out of line: bolt 7 by 30° loose, bolt 9 by 5° the way it is tightened;")
	what, _, err = walk.Says(answers(false, "grease on it", walk.Nut{Fastener: 7, Deg: -30}), bolt)
	require.NoError(t, err)
	require.Contains(t, what, "bolt 7 by 30° loose; grease on it;")
	for why, nut := range map[string]walk.Nut{"not there": {Fastener: 13}, "no angle": {Fastener: 1, Deg: 181}} {
		_, _, err := walk.Says(answers(true, "", nut), bolt)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, why)
		require.Equal(t, "answers.marks", r.Field)
		require.Contains(t, r.Why, why)
	}
	_, _, err = walk.Says(answers(false, "", walk.Nut{Fastener: 3}), bolt)
	require.ErrorContains(t, err, "not what was seen")
}
