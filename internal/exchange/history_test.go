package exchange_test

import (
	"bytes"
	"context"
	"encoding/csv"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/lab"
	"dynacor/internal/exchange"
)

// A history goes out a pull a line, with the pass it belongs to.
func TestHistoryIsASheet(t *testing.T) {
	j, err := lab.Of(lab.Setup{Bolts: 4, Thread: "M16", Gasket: "sheet", TargetKN: 40})
	require.NoError(t, err)
	o, err := j.Play(context.Background(), lab.Procedure{School: "cross", Stages: []float64{50, 100}, Tools: 2})
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, exchange.WriteCSV(&b, exchange.HistorySheet(o)))
	rows, err := csv.NewReader(&b).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 5)
	require.Equal(t, []string{"pull", "pass", "bolts", "angle_deg", "bolt_1_kN", "bolt_2_kN", "bolt_3_kN", "bolt_4_kN"}, rows[0])
	require.Equal(t, []string{"1", "pass 1, 50 %", "1 3"}, rows[1][:3])
	require.Equal(t, []string{"3", "pass 2, 100 %", "1 3"}, rows[3][:3])
	require.Equal(t, "40", rows[4][5], "what was pulled last has its target")
}
