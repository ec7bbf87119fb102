package quantity

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestReadAs(t *testing.T) {
	for _, c := range []struct {
		text  string
		unit  Unit
		value float64
		in    Unit
		canon float64
		wrong string // part of the refusal
	}{
		{"90", NewtonMetre, 90, NewtonMetre, 90, ""},
		{"90,5", NewtonMetre, 90.5, NewtonMetre, 90.5, ""},
		{"66 ft-lb", NewtonMetre, 66, FootPound, 66 * 1.3558179483314, ""},
		{"1,250", NewtonMetre, 0, "", 0, "thousands or a decimal"},
		{"1,250", "", 0, "", 0, "thousands or a decimal"},
		{"0,250", Millimetre, 0.25, Millimetre, 0.25, ""},
		{"1 1/8 in", Millimetre, 1.125, "in", 28.575, ""},
		{"−0.15", Millimetre, -0.15, Millimetre, -0.15, ""},
		{"-5", NewtonMetre, 0, "", 0, "negative"},
		{"-5", "bar", 0, "", 0, "negative"},
		{"70 bar", NewtonMetre, 0, "", 0, "not known"},
		{"12", "mm_per_m", 12, "mm_per_m", 12, ""},
		{"12 %", "pct", 12, "pct", 12, ""},
		{"7", "", 7, "", 7, ""},
		{"7 pieces", "", 0, "", 0, "not a number"},
		{"", NewtonMetre, 0, "", 0, "empty"},
		{"abc", Millimetre, 0, "", 0, "does not begin with a number"},
	} {
		r, err := ReadAs(c.text, c.unit)
		if c.wrong != "" {
			require.ErrorContains(t, err, c.wrong, "%q as %s", c.text, c.unit)
			continue
		}
		require.NoError(t, err, "%q as %s", c.text, c.unit)
		require.InDelta(t, c.value, r.Value, 1e-12, c.text)
		require.Equal(t, c.in, r.Unit, c.text)
		require.InDelta(t, c.canon, r.Canonical, 1e-9, c.text)
	}
}

func TestTypedAs(t *testing.T) {
	got := TypedAs("66 ft-lb", NewtonMetre)
	require.Equal(t, FootPound, got.Unit)
	require.InDelta(t, 66, got.Value, 0)
	require.InDelta(t, 89.484, got.InField, 1e-3)
	require.Empty(t, got.Wrong)
	got = TypedAs("1,250", NewtonMetre)
	require.Equal(t, []string{"1250", "1.250"}, got.Choices)
	require.Contains(t, got.Wrong, "thousands or a decimal")
	got = TypedAs("", Millimetre)
	require.Equal(t, "Is empty. Enter a number with its unit.", got.Wrong)
}

func TestTextSaysItsValue(t *testing.T) {
	for _, c := range []struct {
		text  string
		value float64
		unit  Unit
		same  bool
	}{
		{"90 N·m", 90, NewtonMetre, true},
		{"90", 90, NewtonMetre, true},
		{"300 N·m", 30, NewtonMetre, false},
		{"90.13 N·m", 90.125, NewtonMetre, true}, // as an older program rounded it
		{"90.13 N·m", 90.136, NewtonMetre, false},
		{"0.85 mm", 0.8504, Millimetre, true},
		{"0.85 mm", 0.8551, Millimetre, false},
		{"1 1/8 in", 1.125, "in", true},
		{"1 1/8 in", 1.126, "in", false},
		{"66 ft·lbf", 66, FootPound, true},
		{"66 ft·lbf", 66, NewtonMetre, false},
		{"1,250 N·m", 1250, NewtonMetre, false}, // could be either
		{"700 bar", 700, "bar", true},
		{"12,5", 12.5, "", true},
	} {
		if err := Says(c.text, c.value, c.unit); c.same {
			require.NoError(t, err, c.text)
		} else {
			require.Error(t, err, "%s is not %g", c.text, c.value)
		}
	}
}
