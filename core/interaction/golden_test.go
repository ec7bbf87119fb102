package interaction_test

import (
	"encoding/json"
	"math"
	"os"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/interaction"
)

type golden struct {
	interaction.Case
	Tolerance struct {
		Force   float64 `json:"force_rel_target"`
		Scatter float64 `json:"scatter_abs"`
		Stress  float64 `json:"stress_rel"`
		Angle   float64 `json:"angle_abs_deg"`
		AngleBy float64 `json:"angle_rel"`
		Closure float64 `json:"closure_rel"`
		Tilt    float64 `json:"tilt_abs_rad"`
	} `json:"tolerance"`
}

func cases(t testing.TB) (list []golden, patterns map[string][]int) {
	t.Helper()
	data, err := os.ReadFile("testdata/cases.json")
	require.NoError(t, err)
	var f struct {
		Cases    []golden         `json:"cases"`
		Patterns map[string][]int `json:"patterns"`
	}
	require.NoError(t, json.Unmarshal(data, &f))
	return f.Cases, f.Patterns
}

func caseOf(t testing.TB, id string) golden {
	t.Helper()
	list, _ := cases(t)
	for _, c := range list {
		if c.ID == id {
			return c
		}
	}
	t.Fatalf("no case %s", id)
	return golden{}
}

// Histories that another program computed from the same description: forces, turns, gasket and faces.
func TestHistoriesOfAnotherProgram(t *testing.T) {
	list, _ := cases(t)
	require.Len(t, list, 9)
	for _, c := range list {
		got, err := c.Outputs()
		require.NoError(t, err, c.ID)
		data, err := json.Marshal(got)
		require.NoError(t, err)
		var have, want map[string]any
		require.NoError(t, json.Unmarshal(data, &have))
		data, err = json.Marshal(c.Expected)
		require.NoError(t, err)
		require.NoError(t, json.Unmarshal(data, &want))
		c.compare(t, c.ID, want, have)
	}
}

func (c golden) compare(t *testing.T, at string, want, have any) {
	t.Helper()
	switch w := want.(type) {
	case map[string]any:
		h, ok := have.(map[string]any)
		require.True(t, ok, at)
		for k, v := range w {
			c.compare(t, at+"."+k, v, h[k])
		}
	case []any:
		h, ok := have.([]any)
		require.True(t, ok, at)
		require.Len(t, h, len(w), at)
		for i, v := range w {
			c.compare(t, at+"["+strconv.Itoa(i)+"]", v, h[i])
		}
	case float64:
		h, ok := have.(float64)
		require.True(t, ok, at)
		require.InDelta(t, w, h, c.within(at, w), at)
	default:
		require.Equal(t, want, have, at)
	}
}

// within is how far a figure may lie off.
func (c golden) within(at string, want float64) float64 {
	parts := strings.Split(at, ".")
	leaf, _, _ := strings.Cut(parts[len(parts)-1], "[")
	target := 1.0
	if c.Sequence != nil {
		target = c.Sequence.Target
	} else if c.Compensate != nil {
		target = c.Compensate.Target
	}
	switch {
	case leaf == "n_steps" || leaf == "n_check" || leaf == "passes_to_goal" || leaf == "step" || leaf == "bolts":
		return 0
	case leaf == "angle_deg" || leaf == "max_angle":
		return max(c.Tolerance.Angle, c.Tolerance.AngleBy*math.Abs(want))
	case leaf == "scatter" || leaf == "uncompensated_scatter":
		return c.Tolerance.Scatter
	case leaf == "max_target_ratio":
		return 2e-3 * want
	case strings.Contains(at, "gasket_stress"):
		return max(1e3, c.Tolerance.Stress*math.Abs(want))
	case leaf == "closure" || leaf == "parallelism" || leaf == "range_all":
		return c.Tolerance.Closure * 3e-3
	case leaf == "tilt":
		return max(c.Tolerance.Tilt, c.Tolerance.Closure*want)
	case leaf == "tilt_dir_deg":
		var shape struct{ Tilt float64 }
		if json.Unmarshal(c.Expected["shape"], &shape) != nil || shape.Tilt <= 10*c.Tolerance.Tilt {
			return 360
		}
		return 3
	case strings.HasPrefix(leaf, "phi_"):
		return max(5*c.Tolerance.Tilt, 5e-3*math.Abs(want))
	case leaf == "B_first_row":
		return 1e-3 * 1.5e8
	case leaf == "A_first_column":
		return 1e-3
	}
	return c.Tolerance.Force * target
}

// What follows from the dimensions is what the joints of the cases have.
func TestStiffnessFollowsFromDimensions(t *testing.T) {
	list, _ := cases(t)
	for _, c := range list {
		d, err := interaction.Derive(*c.Geometry)
		require.NoError(t, err, c.ID)
		for name, pair := range map[string][2]float64{"R": {c.Joint.Ring.R, d.Ring.R}, "EI": {c.Joint.Ring.EI, d.Ring.EI},
			"GJ": {c.Joint.Ring.GJ, d.Ring.GJ}, "GAs": {c.Joint.Ring.GAs, d.Ring.GAs}, "k_phi": {c.Joint.Ring.KPhi, d.Ring.KPhi},
			"k_w": {c.Joint.Ring.KW, d.Ring.KW}, "k_b": {c.Joint.KBolt, d.KBolt}} {
			require.InDelta(t, pair[0], pair[1], 1e-6*math.Abs(pair[0]), "%s %s", c.ID, name)
		}
	}
}

func TestOrdersByName(t *testing.T) {
	_, patterns := cases(t)
	require.NotEmpty(t, patterns)
	for name, want := range patterns {
		school, count, _ := strings.Cut(name, "_")
		n, err := strconv.Atoi(count)
		require.NoError(t, err)
		got, err := interaction.Bolts(n, interaction.Order{Name: school})
		require.NoError(t, err)
		require.Equal(t, want, got, name)
	}
}
