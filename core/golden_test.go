package core_test

import (
	"encoding/json"
	"math"
	"os"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/calc"
	"dynacor/core/quantity"
)

// The cases and their sources are in testdata; a number passes within abs_tol + rel_tol·|expected|, everything else
// exactly.
func TestGolden(t *testing.T) {
	raw, err := os.ReadFile("testdata/golden_calc.json")
	require.NoError(t, err)
	var cases []struct {
		ID, Calc string
		Inputs   map[string]any
		Expect   map[string]any
		Rel      float64 `json:"rel_tol"`
		Abs      float64 `json:"abs_tol"`
		Source   string
	}
	require.NoError(t, json.Unmarshal(raw, &cases))
	require.Greater(t, len(cases), 350)
	for _, c := range cases {
		t.Run(c.ID, func(t *testing.T) {
			require.NotEmpty(t, c.Source)
			got, err := calc.Run(c.Calc, c.Inputs, calc.Options{})
			if c.Expect["error"] == true {
				require.Error(t, err)
				_, ok := quantity.RefusalIn(err)
				require.True(t, ok, "not a refusal: %v", err)
				return
			}
			require.NoError(t, err)
			for k, want := range c.Expect {
				require.Contains(t, got.Values, k)
				same(t, k, want, got.Values[k], c.Rel, c.Abs)
			}
		})
	}
}

func same(t *testing.T, key string, want, got any, rel, abs float64) {
	t.Helper()
	switch w := want.(type) {
	case float64:
		g, ok := got.(float64)
		require.True(t, ok, "%s is %T", key, got)
		require.LessOrEqual(t, math.Abs(g-w), abs+rel*math.Abs(w), "%s: got %v, want %v", key, g, w)
	case []any:
		list, ok := got.([]any)
		require.True(t, ok, "%s is %T", key, got)
		require.Len(t, list, len(w), key)
		for i := range w {
			same(t, key, w[i], list[i], rel, abs)
		}
	default:
		require.Equal(t, want, got, key)
	}
}
