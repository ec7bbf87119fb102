package walk_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/quantity"
	"dynacor/core/walk"
)

func tags(list []walk.Stop) (out []string) {
	for _, s := range list {
		out = append(out, s.Tag)
	}
	return out
}

var areas = []string{"Sea", "Hall", "Gate"}

// The walk goes along the plant, in each area by the tags with their figures as numbers.
func TestWalkGoesAlongThePlant(t *testing.T) {
	list := walk.Order([]walk.Stop{{Tag: "GA-2", Area: "Gate"}, {Tag: "SW-110", Area: "Hall"}, {Tag: "SW-9", Area: "Hall"},
		{Tag: "X-1", Area: "Yard"}, {Tag: "A-7", Area: "Attic"}, {Tag: "SC-01", Area: "Sea"}, {Tag: "SW-009B", Area: "Hall"},
		{Tag: "AB-200", Area: "Hall"}}, areas)
	require.Equal(t, []string{"SC-01", "AB-200", "SW-9", "SW-009B", "SW-110", "GA-2", "A-7", "X-1"}, tags(list))
}

// The nearest is the next one of the same area, then of the area after it, round the whole.
func TestNearestIsTheNextOnTheWay(t *testing.T) {
	list := walk.Order([]walk.Stop{{Tag: "SC-1", Area: "Sea"}, {Tag: "SW-1", Area: "Hall"}, {Tag: "SW-5", Area: "Hall"}}, areas)
	for from, want := range map[string]string{"SC-1": "SW-1", "SW-1": "SW-5", "SW-5": "SC-1", "": "SC-1"} {
		require.Equal(t, want, walk.Next(list, from, "", areas), from)
	}
	require.Equal(t, "SW-5", walk.Next(list, "SW-3", "Hall", areas), "it is not one of them, and lies between")
	require.Equal(t, "SC-1", walk.Next(list, "GA-1", "Gate", areas))
	require.Empty(t, walk.Next(list[:1], "SC-1", "", areas))
	require.Empty(t, walk.Next(nil, "", "", areas))
}

func answered(change func(map[string]*walk.Answer)) []walk.Answer {
	by := map[string]*walk.Answer{}
	list := make([]walk.Answer, len(walk.Questions))
	for i, q := range walk.Questions {
		list[i] = walk.Answer{Code: q.Code, Yes: true}
		by[q.Code] = &list[i]
	}
	if change != nil {
		change(by)
	}
	return list
}

func TestAnswersAreSaidInWords(t *testing.T) {
	what, well, err := walk.Says(answered(nil), bolt)
	require.NoError(t, err)
	require.True(t, well)
	require.Equal(t, "Walk-round: marks in line; dry; sound; tag hung.", what)
	what, well, err = walk.Says(answered(func(a map[string]*walk.Answer) {
		a["marks"].Yes, a["marks"].Note = false, " bolt 7 by a quarter flat "
		a["dry"].Note = "washed down before"
	}), bolt)
	require.NoError(t, err)
	require.False(t, well)
	require.Equal(t, "Walk-round: a mark is out of line: bolt 7 by a quarter flat; dry: washed down before; sound; tag hung.",
		what)
}

func TestAnswersThatSayNothingAreRefused(t *testing.T) {
	long := strings.Repeat("é", 201)
	for field, list := range map[string][]walk.Answer{
		"answers.dry":   answered(func(a map[string]*walk.Answer) { a["dry"].Yes = false }),
		"answers.sound": answered(func(a map[string]*walk.Answer) { a["sound"].Note = long }),
		"answers.marks": answered(nil)[1:], "answers.tag": append(answered(nil), walk.Answer{Code: "tag"}),
		"answers": append(answered(nil), walk.Answer{Code: "colour", Yes: true})} {
		_, _, err := walk.Says(list, bolt)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, field)
		require.Equal(t, field, r.Field)
	}
	_, _, err := walk.Says(answered(func(a map[string]*walk.Answer) { a["sound"].Note = long[2:] }), bolt)
	require.NoError(t, err, "as long as it may be")
}
