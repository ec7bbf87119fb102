package exchange

import (
	"bytes"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"dynacor/core/coretest"
	"dynacor/core/record"
)

// A cell goes out as what it is: a figure as a figure, a moment as a moment, nothing as nothing, and no text as a formula.
func TestSheetsSayWhatTheyAreGiven(t *testing.T) {
	at := time.Date(2026, 11, 29, 18, 5, 7, 0, time.FixedZone("here", 3600))
	s := Sheet{Name: "One", Columns: []string{"a", "b", "c", "d", "e", "f", "g"}, Rows: slices.Values([][]any{
		{"=1+1", 1.5, 7, true, at, nil, time.Minute}, {"@x", 0.0, 0, false, at, "", "bolt, 7"}})}
	var b bytes.Buffer
	require.NoError(t, WriteCSV(&b, s))
	require.Equal(t, "a,b,c,d,e,f,g\n'=1+1,1.5,7,yes,2026-11-29T17:05:07Z,,1m0s\n'@x,0,0,no,2026-11-29T17:05:07Z,,\"bolt, 7\"\n",
		b.String())

	b.Reset()
	require.NoError(t, WriteSpreadsheet(&b, s, Sheet{Name: "Two", Columns: []string{"z"}, Rows: slices.Values([][]any{})}))
	f, err := excelize.OpenReader(&b)
	require.NoError(t, err)
	require.Equal(t, []string{"One", "Two"}, f.GetSheetList())
	rows, err := f.GetRows("One")
	require.NoError(t, err)
	require.Equal(t, []string{"=1+1", "1.5", "7", "yes", "2026-11-29 17:05:07", "", "1m0s"}, rows[1])
	formula, err := f.GetCellFormula("One", "A2")
	require.NoError(t, err)
	require.Empty(t, formula, "a text")
	kind, err := f.GetCellType("One", "B2")
	require.NoError(t, err)
	require.NotEqual(t, excelize.CellTypeInlineString, kind)
	rows, err = f.GetRows("Two")
	require.NoError(t, err)
	require.Equal(t, [][]string{{"z"}}, rows)
}

// Every column has its cell, and an entry that names no fastener of the joint is written all the same.
func TestRecordTablesAreFull(t *testing.T) {
	rec, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	rec.Events[3].Event.Fastener = 99
	one := slices.Values([]record.Record{rec})
	for _, s := range []Sheet{ResultSheet(one), EntrySheet(one)} {
		n := 0
		for row := range s.Rows {
			require.Len(t, row, len(s.Columns), s.Name)
			n++
		}
		require.GreaterOrEqual(t, n, 40, s.Name)
		for range s.Rows {
			break // whoever reads may stop
		}
	}
	var b bytes.Buffer
	require.NoError(t, WriteCSV(&b, EntrySheet(one)))
	require.Equal(t, 1+len(rec.Events), strings.Count(b.String(), "\n"))
	require.Contains(t, b.String(), ",pulled,M. Tolley,technician,")
}
