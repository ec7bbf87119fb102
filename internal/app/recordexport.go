package app

import (
	"context"
	"fmt"
	"io"
	"iter"
	"slices"

	"dynacor/core/record"
	"dynacor/internal/exchange"
)

// How many records go out at once: lines of a list, and whole ones.
const (
	mostListed = 50_000
	mostOpened = 2_000
)

// found gives the lines that a search finds, of up to so many; refused when it finds more.
func (a *App) found(ctx context.Context, s RecordSearch, most int) ([]RecordRow, error) {
	s.Limit, s.Offset = most+1, 0
	page, err := a.Records(ctx, s)
	if err != nil {
		return nil, err
	}
	if len(page.Rows) > most {
		return nil, &Problem{Kind: Conflict, Title: fmt.Sprintf("More than %d records are found.", most),
			Remedy: "Narrow the search, by date for example, and export part by part."}
	}
	return page.Rows, nil
}

// ExportRecords writes the lines that a search finds, as CSV or as a spreadsheet.
func (a *App) ExportRecords(ctx context.Context, w io.Writer, s RecordSearch, sheet bool) error {
	rows, err := a.found(ctx, s, mostListed)
	if err != nil {
		return err
	}
	out := exchange.Sheet{Name: "Records", Columns: []string{"record", "tag", "name", "area", "verdict", "target",
		"tightened_by", "proved_by", "sealed_utc", "additions", "digest"}, Rows: func(yield func([]any) bool) {
		for _, r := range rows {
			if !yield([]any{r.Number, r.Tag, r.Name, r.Area, string(r.Verdict), r.Target, r.TightenedBy, r.ProvedBy,
				r.SealedAt, r.Added, r.Mark}) {
				return
			}
		}
	}}
	if sheet {
		return exchange.WriteSpreadsheet(w, out)
	}
	return exchange.WriteCSV(w, out)
}

// opened reads records one after the other; err tells what kept it from going on.
func (a *App) opened(ctx context.Context, numbers []string, err *error) iter.Seq[record.Record] {
	return func(yield func(record.Record) bool) {
		for _, n := range numbers {
			var data []byte
			if data, *err = a.RecordFile(ctx, n); *err != nil {
				return
			}
			var rec record.Record
			if _, rec, *err = record.Read(data); *err != nil || !yield(rec) {
				return
			}
		}
	}
}

// ExportAllResults writes what was done to each fastener of the records that a search finds, as CSV.
func (a *App) ExportAllResults(ctx context.Context, w io.Writer, s RecordSearch) error {
	rows, err := a.found(ctx, s, mostOpened)
	if err != nil {
		return err
	}
	var numbers []string
	for _, r := range rows {
		numbers = append(numbers, r.Number)
	}
	var failed error
	if err := exchange.WriteCSV(w, exchange.ResultSheet(a.opened(ctx, numbers, &failed))); err != nil {
		return err
	}
	return failed
}

// RecordTable is what of a record goes out as a table.
type RecordTable string

// The tables of a record.
const (
	ResultsTable RecordTable = "results" // what was done to each fastener
	EntriesTable RecordTable = "entries" // every entry
	WholeSheet   RecordTable = "sheet"   // both, as a spreadsheet
)

// ExportRecord writes a table of a record.
func (a *App) ExportRecord(ctx context.Context, w io.Writer, number string, table RecordTable) error {
	var failed error
	// read once: a spreadsheet goes over it twice
	records := slices.Collect(a.opened(ctx, []string{number}, &failed))
	if failed != nil {
		return failed
	}
	results, entries := exchange.ResultSheet(slices.Values(records)), exchange.EntrySheet(slices.Values(records))
	switch table {
	case ResultsTable:
		return exchange.WriteCSV(w, results)
	case EntriesTable:
		return exchange.WriteCSV(w, entries)
	}
	return exchange.WriteSpreadsheet(w, results, entries)
}

// Search makes a search of what an address says. Refused: a facet of no known kind, a time that ends before it begins.
func Search(s RecordSearch, facets []string) (RecordSearch, error) {
	for _, text := range facets {
		f, ok := record.ParseFacet(text)
		if !ok {
			title := fmt.Sprintf("%q is nothing records are searched by.", text)
			return s, &Problem{Kind: Invalid, Field: "facet", Title: title,
				Remedy: fmt.Sprintf("Give a kind and a value, as in tool:W-40. Kinds: %v.", record.FacetKinds)}
		}
		s.Facets = append(s.Facets, f)
	}
	if !s.From.IsZero() && !s.To.IsZero() && !s.From.Before(s.To) {
		return s, &Problem{Kind: Invalid, Field: "to", Title: "The time searched ends before it begins.",
			Remedy: "Change the one with the other."}
	}
	return s, nil
}
