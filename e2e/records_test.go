package e2e

import (
	"net/http"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/require"

	"dynacor/core/record"
	"dynacor/internal/app"
)

// Records are found by words and by what they say; a search is kept under a name, found again by one touch, sent as a
// link, exported and dropped.
func TestRecordsAreSearched(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.visit("/records")
	all, err := s.app.Records(t.Context(), app.RecordSearch{Limit: 10})
	require.NoError(t, err)
	p.find("any", "SW-111")
	p.shot("records-all")
	p.fill("Search records", "sw-111 tolley")
	p.find("any", "^1 record$")
	p.fill("Search records", "sw-111 nobody")
	p.find("any", "No record is like that")
	p.press("button", "All records")
	p.find("any", "SW-111")

	p.pick("One more thing they must have", "with tool")
	p.fill("Which one", "W-3")
	p.press(`[role="option"]`, "^W-36")
	p.find("button", "with tool W-36")
	list, err := s.app.Records(t.Context(), app.RecordSearch{Limit: 10,
		Facets: []record.Facet{{Kind: record.FacetTool, Value: "W-36"}}})
	require.NoError(t, err)
	require.Less(t, list.Total, all.Total)
	p.press("button", "Keep this search")
	p.fill("Called", "With W-36")
	p.key(input.Enter)
	p.find("button", "^With W-36")
	p.shot("records-search")
	address := p.MustInfo().URL

	p.press("button", "All records")
	p.press("button", "^With W-36")
	p.eventually("the search is in the address", func() bool { return p.MustInfo().URL == address })
	require.NoError(t, p.Navigate(address))
	p.find("button", "with tool W-36")
	for _, path := range []string{"export/records.csv", "export/records.xlsx", "export/results.csv"} {
		code := p.MustEval(`(path) => fetch('/api/' + path + '?facet=tool:W-36').then((r) => r.status)`, path).Int()
		require.Equal(t, http.StatusOK, code, path)
	}
	p.press("button", "Drop “With W-36”")
	p.gone("button", "^With W-36")
	p.press("button", "with tool W-36") // taken out
	p.find("any", "SW-111")

	small := open(t, s.URL, 390, 844)
	small.signIn("R. Abara", "9340")
	small.visit("/records")
	small.find("any", "SW-111")
	small.shot("records-phone")
	small.tap("any", all.Rows[0].Number)
	small.find("heading", "Record "+all.Rows[0].Number)
}
