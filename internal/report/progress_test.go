package report_test

import (
	"bytes"
	"fmt"
	"testing"
	"time"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/stretchr/testify/require"

	"dynacor/internal/report"
)

// The page for the morning meeting is one page, however much is behind, and the same twice.
func TestProgressIsOnePage(t *testing.T) {
	at := time.Date(2026, 12, 1, 7, 0, 0, 0, time.UTC)
	p := report.Progress{Code: "WP-47", Name: "Cooler swap", Site: "Tarn Skerry Tidal Station", At: at.Add(9 * time.Hour), Total: 40,
		Behind: 3, Finish: at.Add(30 * time.Hour), P80: at.Add(33 * time.Hour)}
	for i := range 30 {
		p.Planned = append(p.Planned, at.Add(time.Duration(i)*time.Hour))
		p.Done = append(p.Done, at.Add(time.Duration(i)*50*time.Minute))
		p.Areas = append(p.Areas, report.ProgressArea{Area: fmt.Sprintf("%d A hall with quite a long name to it", i), Total: 5, Done: 2,
			InHand: 1, Stopped: 1})
	}
	for i := range 60 {
		p.Says = append(p.Says, fmt.Sprintf("SW-%d is 40 min behind.", i))
		p.Stopped = append(p.Stopped, fmt.Sprintf("SW-%d, Cooler: wrong paste", i))
	}
	print := func(p report.Progress) []byte {
		var out bytes.Buffer
		require.NoError(t, report.ProgressSheet(&out, p))
		return out.Bytes()
	}
	first := print(p)
	require.Equal(t, first, print(p))
	n, err := api.PageCount(bytes.NewReader(first), nil)
	require.NoError(t, err)
	require.Equal(t, 1, n)
	n, err = api.PageCount(bytes.NewReader(print(report.Progress{Code: "WP-1", At: at})), nil)
	require.NoError(t, err)
	require.Equal(t, 1, n, "a package with nothing in it")
}
