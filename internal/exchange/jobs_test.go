package exchange_test

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/shutdown"
	"dynacor/internal/exchange"
)

// What is written is read back the same, from CSV and from a spreadsheet.
func TestJobsAreReadAsWritten(t *testing.T) {
	rows := []exchange.JobRow{
		{Line: 2, Name: "Cooler A inlet", IsolationName: "loop 2", Windows: []shutdown.Span{
			{From: "2026-12-01T07:00", To: "2026-12-01T12:00"}, {From: "2026-12-02T07:00", To: "2026-12-02T12:00"}},
			Joint: shutdown.JointConstraint{Tag: "SW-111", NotBefore: "2026-12-01T07:30", Due: "2026-12-02T10:00", Weight: 5,
				Skills:    []string{"confined spaces", "rope access"},
				Isolation: "I-2", After: []string{"SW-112", "SW-113"}, Access: "=by the north ladder, \"gate 2\""}},
		{Line: 3, Name: "Cooler A outlet", Joint: shutdown.JointConstraint{Tag: "SW-112", Weight: 1, After: []string{},
			Skills: []string{}}},
	}
	var csv, sheet bytes.Buffer
	require.NoError(t, exchange.WriteCSV(&csv, exchange.JobSheet(rows)))
	require.NoError(t, exchange.WriteSpreadsheet(&sheet, exchange.JobSheet(rows)))
	for _, data := range [][]byte{csv.Bytes(), sheet.Bytes()} {
		got, bad, err := exchange.ReadJobs(data)
		require.NoError(t, err)
		require.Empty(t, bad)
		require.Equal(t, rows, got)
	}
}

// What is wrong is named by line and column, and nothing is read then.
func TestWrongCellsOfJobsAreNamed(t *testing.T) {
	for text, want := range map[string][2]string{
		"tag,due\nSW-111,noon\n":       {"due", "noon"},
		"tag,weight\nSW-111,0\n":       {"weight", "0"},
		"tag,weight\nSW-111,101\n":     {"weight", "101"},
		"tag,weight\nSW-111,two\n":     {"weight", "two"},
		"tag,due\n,2026-12-01 07:00\n": {"tag", ""},
		"tag,due\nSW-111,\nSW-111,\n":  {"tag", "SW-111"},
		"tag,isolation_windows\nSW-111,2026-12-01 07:00/2026-12-01 08:00\n": {"isolation", ""},
		"tag,isolation,isolation_windows\nSW-111,I-2,2026-12-01 07:00\n":    {"isolation_windows", "2026-12-01 07:00"},
		"tag;not_before\nSW-111;1 December\n":                               {"not_before", "1 December"},
	} {
		rows, bad, err := exchange.ReadJobs([]byte(text))
		require.NoError(t, err, text)
		require.Empty(t, rows, text)
		require.Len(t, bad, 1, text)
		require.Equal(t, want, [2]string{bad[0].Column, bad[0].Value}, text)
		require.NotEmpty(t, bad[0].Remedy)
	}
	for _, text := range []string{"", "due\n\n", "tag,colour\nSW-111,red\n", "tag,tag\nSW-111,SW-111\n"} {
		_, _, err := exchange.ReadJobs([]byte(text))
		require.Error(t, err, text)
	}
	rows, bad, err := exchange.ReadJobs([]byte("tag,due\nSW-111,2026-12-01 07:00:00\n\n"))
	require.NoError(t, err)
	require.Empty(t, bad)
	require.Equal(t, "2026-12-01T07:00", rows[0].Joint.Due)
	require.Equal(t, 1, rows[0].Joint.Weight)
}
