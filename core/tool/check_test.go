package tool_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/quantity"
	"dynacor/core/tool"
)

// clicker is a wrench of 40 to 200 N·m with a mark at every newton metre, of class 4 %.
func clicker() tool.Tool {
	return tool.Tool{Tag: "W-1", Kind: tool.Click, Unit: quantity.NewtonMetre, RatedMin: 40, RatedMax: 200,
		Graduation: 1, AccuracyPct: 4}
}

func checked(set float64, readings ...float64) tool.BenchCheck {
	return tool.BenchCheck{Purpose: tool.PreUse, Meter: "TM-1",
		Steps: []tool.CheckStep{{Set: set, Readings: readings}}}
}

func refusedBy(t *testing.T, err error, field string, msg ...any) {
	t.Helper()
	var r *quantity.Refusal
	require.ErrorAs(t, err, &r, msg...)
	require.Equal(t, field, r.Field, msg...)
	require.NotEmpty(t, r.Remedy, msg...)
}

// A check on the torque meter is refused by what is wrong with it: its kind, the tool, the meter, a setting that the
// scale does not have, a reading that nobody believes, too few of them.
func TestCheckOnTheMeterRefusesWhatCannotBeOne(t *testing.T) {
	w := clicker()
	three := func(set float64) tool.BenchCheck { return checked(set, set, set, set) }
	other, nobody := three(100), three(100)
	other.Purpose, nobody.Meter = "a glance", ""
	_, err := other.Judge(w)
	refusedBy(t, err, "purpose")
	_, err = nobody.Judge(w)
	refusedBy(t, err, "meter")
	pump := w
	pump.Kind = tool.Pump
	_, err = three(100).Judge(pump)
	refusedBy(t, err, "tag")
	for set, right := range map[float64]bool{39: false, 40: true, 41: true, 199: true, 200: true, 201: false, 100.5: false} {
		_, err := three(set).Judge(w)
		if right {
			require.NoError(t, err, "%g", set)
		} else {
			refusedBy(t, err, "steps", "%g", set)
		}
	}
	for read, believed := range map[float64]bool{49.9: false, 50: true, 150: true, 150.1: false} {
		_, err := checked(100, 100, read, 100).Judge(w)
		if believed {
			require.NoError(t, err, "%g", read)
		} else {
			refusedBy(t, err, "steps", "%g", read)
		}
	}
	for purpose, least := range map[tool.Purpose]int{tool.PreUse: 3, tool.AsFound: 5} {
		for n := 1; n < 7; n++ {
			c := checked(100)
			c.Purpose = purpose
			for range n {
				c.Steps[0].Readings = append(c.Steps[0].Readings, 100)
			}
			_, err := c.Judge(w)
			require.Equal(t, n >= least, err == nil, "%s with %d readings: %v", purpose, n, err)
		}
	}
}

// A wrench is within its class up to its last tenth of a per cent, and it is said which way it is off:
// 100 · (set − reading) / reading.
func TestCheckOnTheMeterHoldsTheClass(t *testing.T) {
	for _, c := range []struct {
		set, read, worst float64
		pass             bool
		says             string
	}{
		{100, 100, 0, true, "less"},
		{104, 100, 4, true, "it gives less than it shows), within its class of ±4 %"},
		{104, 99.9, 4.1041, false, "it gives less than it shows), outside its class"},
		{96, 100, -4, true, "it gives more than it shows), within"},
		{96, 100.2, -4.1916, false, "it gives more than it shows), outside"},
	} {
		v, err := checked(c.set, c.set, c.read, c.set).Judge(clicker())
		require.NoError(t, err)
		require.InDelta(t, c.worst, v.WorstPct, 1e-4)
		require.Equal(t, c.pass, v.Pass, v.Sentence)
		require.Contains(t, v.Sentence, c.says)
		require.InDelta(t, 4, v.AllowedPct, 0)
		require.Len(t, v.Deviations, 1)
		require.Len(t, v.Deviations[0], 3)
	}
	two := checked(60, 60, 60, 60)
	two.Steps = append(two.Steps, tool.CheckStep{Set: 201, Readings: []float64{200, 200, 200}})
	_, err := two.Judge(clicker())
	require.ErrorContains(t, err, "setting 2, 201, is outside 40 to 200")
	two.Steps[1].Set = 100.5
	_, err = two.Judge(clicker())
	require.ErrorContains(t, err, "setting 2, 100.5, is between two marks of 1")
	coarse := clicker()
	coarse.Graduation = 10
	_, err = checked(105, 105, 105, 105).Judge(coarse)
	require.ErrorContains(t, err, "setting 1, 105, is between two marks of 10")
}

// What comes back is put aside when it was dropped; the rest is only written down.
func TestWhatIsSaidWhenAToolComesBack(t *testing.T) {
	w := clicker()
	aside, notes := tool.Care{Unwound: true, Complete: true}.Faults(w)
	require.False(t, aside)
	require.Empty(t, notes)
	aside, notes = tool.Care{Dropped: true, Unwound: true, Complete: true}.Faults(w)
	require.True(t, aside)
	require.Equal(t, []string{"dropped or overloaded while it was out"}, notes)
	w.StorageRule = "Wind to the lowest mark."
	aside, notes = tool.Care{Note: "handle bent"}.Faults(w)
	require.False(t, aside)
	require.Equal(t, []string{"not put away as it should be: Wind to the lowest mark.", "not clean or not complete",
		"handle bent"}, notes)
	w.StorageRule = ""
	_, notes = tool.Care{Complete: true}.Faults(w)
	require.Equal(t, []string{"not put away as it should be"}, notes)
}

// A preset wrench is taken where one value is wanted, and that one is its own: to a hundredth of it where the document
// allows nothing, else inside what it allows.
func TestPresetWrenchGivesItsOneValue(t *testing.T) {
	preset := clicker()
	preset.Kind = tool.Preset
	s := tool.Alone(preset) // 200 N·m
	for _, c := range []struct {
		scheme            string
		target, low, high quantity.Torque
		right             bool
		field             string
	}{
		{"", 200, 0, 0, true, ""},
		{"single", 200, 0, 0, true, ""},
		{"20_60_100", 200, 0, 0, false, "scheme"},
		{"single", 198.1, 0, 0, true, ""},
		{"single", 198, 0, 0, false, "wrench"},
		{"single", 202, 0, 0, true, ""},
		{"single", 202.1, 0, 0, false, "wrench"},
		{"single", 190, 180, 200, true, ""},
		{"single", 190, 180, 199, false, "wrench"},
		{"single", 190, 200, 220, true, ""},
		{"single", 190, 201, 220, false, "wrench"},
		{"single", 200, 0, 199, false, "wrench"},
	} {
		got, err := s.Settings(c.scheme, c.target, c.low, c.high)
		if c.right {
			require.NoError(t, err, "%+v", c)
			require.Equal(t, []float64{200}, got)
		} else {
			refusedBy(t, err, c.field, "%+v", c)
		}
	}
}
