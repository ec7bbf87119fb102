package app_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"dynacor/core/record"
	"dynacor/internal/app"
)

func facet(t *testing.T, kind record.FacetKind, value string) app.RecordSearch {
	t.Helper()
	s, err := app.Search(app.RecordSearch{Limit: 10}, []string{string(kind) + ":" + value})
	require.NoError(t, err)
	return s
}

func (b *bench) found(t *testing.T, s app.RecordSearch) []string {
	t.Helper()
	if s.Limit == 0 {
		s.Limit = 10
	}
	page, err := b.Records(ctx, s)
	require.NoError(t, err)
	out := []string{}
	for _, r := range page.Rows {
		out = append(out, r.Tag)
	}
	require.Equal(t, len(out), page.Total)
	require.False(t, page.More)
	return out
}

// Records are found by every word in any order, by who, with what, of which batch, what was out, and when.
func TestRecordsAreFound(t *testing.T) {
	b := newBench(t, true)
	all := b.found(t, app.RecordSearch{})
	require.NotEmpty(t, all)
	number := sealedNumber(t, b, "SW-111")
	v, err := b.Record(ctx, number)
	require.NoError(t, err)
	sealed := v.Row.SealedAt
	for name, c := range map[string]struct {
		s    app.RecordSearch
		want bool
	}{
		"words in any order":       {app.RecordSearch{Text: "tolley  SW-111 cooling"}, true},
		"a word that is not there": {app.RecordSearch{Text: "SW-111 nowhere"}, false},
		"a sign of the language":   {app.RecordSearch{Text: "SW-111 %"}, false},
		"person":                   {facet(t, record.FacetPerson, "R. Abara"), true},
		"part of a person":         {facet(t, record.FacetPerson, "Abara"), false},
		"tool":                     {facet(t, record.FacetTool, "W-36"), true},
		"another tool":             {facet(t, record.FacetTool, "W-99"), false},
		"batch":                    {facet(t, record.FacetBatch, "B7"), true},
		"gasket":                   {facet(t, record.FacetGasket, v.Record.Plan.Specification.Gasket), true},
		"family":                   {facet(t, record.FacetFamily, "gasketed flange"), true},
		"verdict":                  {facet(t, record.FacetVerdict, "accepted"), true},
		"from its moment on":       {app.RecordSearch{From: sealed}, true},
		"after it":                 {app.RecordSearch{From: sealed.Add(time.Millisecond)}, false},
		"up to its moment":         {app.RecordSearch{To: sealed}, false},
		"up to a moment later":     {app.RecordSearch{To: sealed.Add(time.Millisecond)}, true},
		"nothing added":            {facet(t, record.FacetAdded, "Re-torque"), false},
	} {
		t.Run(name, func(t *testing.T) {
			c.s.Text += " SW-111"
			require.Equal(t, map[bool][]string{true: {"SW-111"}, false: {}}[c.want], b.found(t, c.s))
		})
	}

	_, err = b.Add(ctx, b.crew["M. Tolley"], number, retorqued(t, b, number, 0, 40))
	require.NoError(t, err)
	require.Equal(t, []string{"SW-111"}, b.found(t, facet(t, record.FacetAdded, "Re-torque")))
	require.Equal(t, []string{"SW-111"}, b.found(t, facet(t, record.FacetFinding, "moved at a re-torque")))
	require.Equal(t, []string{"SW-111"}, b.found(t, facet(t, record.FacetTool, "W-52")))
	page, err := b.Records(ctx, facet(t, record.FacetTool, "W-52"))
	require.NoError(t, err)
	require.Equal(t, 1, page.Rows[0].Added)

	for _, bad := range []string{"W-52", "colour:red", "tool:"} {
		_, err = app.Search(app.RecordSearch{}, []string{bad})
		problem(t, err, app.Invalid, "nothing records are searched by")
	}
	_, err = app.Search(app.RecordSearch{From: sealed, To: sealed}, nil)
	problem(t, err, app.Invalid, "ends before it begins")
}

// What is offered to search by counts the records that have it, each once, and follows what is added.
func TestFacetsAreCounted(t *testing.T) {
	b := newBench(t, true)
	count := func(kind record.FacetKind, value string) int {
		list, err := b.RecordFacets(ctx, kind, value)
		require.NoError(t, err)
		for _, f := range list {
			if f.Value == value {
				return f.Total
			}
		}
		return 0
	}
	all := len(b.found(t, app.RecordSearch{}))
	accepted := count(record.FacetVerdict, "accepted")
	require.Equal(t, all, accepted)
	require.Zero(t, count(record.FacetAdded, "Re-torque"))
	number := sealedNumber(t, b, "SW-111")
	for i := range 2 {
		_, err := b.Add(ctx, b.crew["M. Tolley"], number, retorqued(t, b, number, i, 1))
		require.NoError(t, err)
	}
	require.Equal(t, 1, count(record.FacetAdded, "Re-torque"), "one record")
	require.Equal(t, accepted, count(record.FacetVerdict, "accepted"), "not counted twice")

	b.owner(t, "update record_index set version = 0, facets = '{}', search = ''")
	b.owner(t, "truncate record_facets")
	require.Empty(t, b.found(t, facet(t, record.FacetTool, "W-52")))
	page, err := b.Records(ctx, app.RecordSearch{Limit: 1})
	require.NoError(t, err)
	require.True(t, page.Older, "told as long as some are not found by everything")
	for n := 1; n > 0; {
		n, err = b.IndexRecords(ctx, 1)
		require.NoError(t, err)
	}
	require.Contains(t, b.found(t, facet(t, record.FacetTool, "W-52")), "SW-111")
	require.Equal(t, accepted, count(record.FacetVerdict, "accepted"))
	page, err = b.Records(ctx, app.RecordSearch{Limit: 1})
	require.NoError(t, err)
	require.False(t, page.Older)

	b.owner(t, "delete from record_index where number = $1", number)
	h, err := b.VerifyAll(ctx, nil)
	require.NoError(t, err)
	require.Equal(t, []string{"record " + number + " is kept, and is not among those that are searched"}, h.Problems)
}

// A record whose file was spoilt is found by its row, and the others are found by everything all the same.
func TestSpoiltRecordKeepsNobodyFromTheOthers(t *testing.T) {
	b := newBench(t, true)
	number := sealedNumber(t, b, "SW-111")
	b.owner(t, "update records set file = '{' where number = $1", number)
	b.owner(t, "update record_index set version = 0, facets = '{}', search = ''")
	for n := 1; n > 0; {
		var err error
		n, err = b.IndexRecords(ctx, 2)
		require.NoError(t, err)
	}
	require.Equal(t, []string{"SW-111"}, b.found(t, app.RecordSearch{Text: "sw-111"}))
	require.NotEmpty(t, b.found(t, facet(t, record.FacetPerson, "R. Abara")))
	h, err := b.VerifyAll(ctx, nil)
	require.NoError(t, err)
	require.NotEmpty(t, h.Problems)
}

// A search is kept under a name by whom it is, written over, and dropped.
func TestSearchesAreKept(t *testing.T) {
	b := newBench(t, true)
	tolley, abara := b.crew["M. Tolley"], b.crew["R. Abara"]
	list, err := b.SaveSearch(ctx, tolley, app.SavedSearch{Name: "  my   pulls ", Query: "q=tolley"})
	require.NoError(t, err)
	require.Equal(t, []app.SavedSearch{{Name: "my pulls", Query: "q=tolley"}}, list)
	list, err = b.SaveSearch(ctx, tolley, app.SavedSearch{Name: "my pulls", Query: "facet=tool%3AW-40"})
	require.NoError(t, err)
	require.Equal(t, []app.SavedSearch{{Name: "my pulls", Query: "facet=tool%3AW-40"}}, list)
	list, err = b.SavedSearches(ctx, abara)
	require.NoError(t, err)
	require.Empty(t, list, "of others")
	_, err = b.DropSearch(ctx, abara, "my pulls")
	problem(t, err, app.NotFound, "my pulls")
	list, err = b.DropSearch(ctx, tolley, "my pulls")
	require.NoError(t, err)
	require.Empty(t, list)
	for name, s := range map[string]app.SavedSearch{"a name": {Name: " "}, "cannot be kept": {Name: "x", Query: "q=%zz"}} {
		_, err = b.SaveSearch(ctx, tolley, s)
		problem(t, err, app.Invalid, name)
	}
	for i := range 50 {
		_, err = b.SaveSearch(ctx, tolley, app.SavedSearch{Name: fmt.Sprint(i)})
		require.NoError(t, err)
	}
	_, err = b.SaveSearch(ctx, tolley, app.SavedSearch{Name: "one more"})
	problem(t, err, app.Conflict, "50 searches")
}

// Lists, results and entries go out as tables that hold what the record says.
func TestRecordsGoOutAsTables(t *testing.T) {
	b := newBench(t, true)
	number := sealedNumber(t, b, "SW-111")
	v, err := b.Record(ctx, number)
	require.NoError(t, err)
	table := func(write func(*bytes.Buffer) error) [][]string {
		t.Helper()
		var buf bytes.Buffer
		require.NoError(t, write(&buf))
		rows, err := csv.NewReader(&buf).ReadAll()
		require.NoError(t, err)
		return rows
	}
	results := table(func(w *bytes.Buffer) error { return b.ExportRecord(ctx, w, number, app.ResultsTable) })
	require.Len(t, results, 1+len(v.Record.Results()))
	require.Equal(t, []string{number, "SW-111"}, results[1][:2])
	entries := table(func(w *bytes.Buffer) error { return b.ExportRecord(ctx, w, number, app.EntriesTable) })
	require.Len(t, entries, 1+len(v.Record.Events))
	require.Equal(t, v.Record.Events[4].Hash, entries[5][len(entries[5])-1])
	s := app.RecordSearch{Text: "sw-111"}
	list := table(func(w *bytes.Buffer) error { return b.ExportRecords(ctx, w, s, false) })
	require.Len(t, list, 2)
	require.Equal(t, v.Row.Mark, list[1][len(list[1])-1])
	all := table(func(w *bytes.Buffer) error { return b.ExportAllResults(ctx, w, s) })
	require.Equal(t, results, all)

	var buf bytes.Buffer
	require.NoError(t, b.ExportRecord(ctx, &buf, number, app.WholeSheet))
	f, err := excelize.OpenReader(&buf)
	require.NoError(t, err)
	require.Equal(t, []string{"Results", "Entries"}, f.GetSheetList())
	for i, want := range [][][]string{results, entries} {
		rows, err := f.GetRows(f.GetSheetList()[i])
		require.NoError(t, err)
		require.Len(t, rows, len(want))
		require.Equal(t, want[0], rows[0])
	}
	require.Error(t, b.ExportRecord(ctx, &buf, "TS-2000-00001", app.ResultsTable))
}
