package app

import (
	"context"
	"io"
	"slices"
	"strings"
	"time"

	"dynacor/core/numbers"
	"dynacor/core/record"
	"dynacor/internal/exchange"
	"dynacor/internal/store"
)

// putPulls writes what each fastener of a record came to, in per cent of its own aim.
func putPulls(ctx context.Context, q *store.Queries, row store.Record, rec record.Record) error {
	if err := q.DropPulls(ctx, row.Number); err != nil {
		return err
	}
	var crew, lubricants []string
	for _, w := range rec.State.Workers {
		crew = append(crew, w.Name)
	}
	slices.Sort(crew)
	family := ""
	for _, f := range rec.Facets(nil) {
		switch f.Kind {
		case record.FacetLubricant:
			lubricants = append(lubricants, f.Value)
		case record.FacetFamily:
			family = f.Value
		}
	}
	var list []store.AddPullsParams
	for _, p := range rec.LastPulls() {
		low, high := p.Limits()
		list = append(list, store.AddPullsParams{Number: row.Number, Quantity: string(p.Of),
			Position: int32(p.Position), Fastener: p.Fastener, Tag: row.Tag, At: p.At, Tool: p.Tool, Method: p.Method,
			Crew: strings.Join(crew, ", "), Lubricant: strings.Join(lubricants, ", "), Family: family, Area: row.Area,
			Pct: p.Pct(), Low: low, High: high})
	}
	if len(list) == 0 {
		return nil
	}
	_, err := q.AddPulls(ctx, list)
	return err
}

// NumbersQuery says which pulls are counted, and under what. Empty fields do not narrow.
type NumbersQuery struct {
	Of       record.Quantity // torque when none is said
	By       string          // a key of countedBy
	From, To time.Time
	Families []string
}

// countedBy are the rows that pulls can be counted under.
var countedBy = map[string]func(store.RecordPull) string{
	"tool":      func(p store.RecordPull) string { return p.Tool },
	"crew":      func(p store.RecordPull) string { return p.Crew },
	"method":    func(p store.RecordPull) string { return p.Method },
	"lubricant": func(p store.RecordPull) string { return p.Lubricant },
	"family":    func(p store.RecordPull) string { return p.Family },
	"area":      func(p store.RecordPull) string { return p.Area },
}

const mostPulls = 300_000

// Numbers counts the last pulls of the sealed records.
func (a *App) Numbers(ctx context.Context, in NumbersQuery) (numbers.Numbers, error) {
	of, ok := countedBy[in.By]
	if !ok {
		return numbers.Numbers{}, &Problem{Kind: Invalid, Field: "by", Title: "Pulls are not counted by that.",
			Remedy: "Choose tool, crew, method, lubricant, family or area."}
	}
	if in.Of == "" {
		in.Of = record.Torque
	}
	if !slices.Contains(record.Quantities(), in.Of) {
		return numbers.Numbers{}, &Problem{Kind: Invalid, Field: "of", Title: "That is not counted.",
			Remedy: "Choose torque, angle, stretch or movement."}
	}
	if in.To.IsZero() {
		in.To = a.now().AddDate(1, 0, 0)
	}
	rows, err := a.q.PullsBetween(ctx, store.PullsBetweenParams{Quantity: string(in.Of), Since: in.From,
		Before: in.To, Families: append([]string{}, in.Families...), N: mostPulls})
	if err != nil {
		return numbers.Numbers{}, err
	}
	if len(rows) == mostPulls {
		return numbers.Numbers{}, newProblem(Conflict, "More than %d pulls are found.",
			"Choose a shorter time or a family.", mostPulls-1)
	}
	return counted(rows, of), nil
}

// counted counts pulls under what they are counted by.
func counted(rows []store.RecordPull, of func(store.RecordPull) string) numbers.Numbers {
	values := make([]numbers.Value, len(rows))
	for i, r := range rows {
		name := of(r)
		if name == "" {
			name = "not told"
		}
		values[i] = numbers.Value{Row: name, Pct: r.Pct, Low: r.Low, High: r.High, At: r.At, Record: r.Number,
			Tag: r.Tag, Fastener: r.Fastener, Tool: r.Tool}
	}
	return numbers.Of(values)
}

// NumbersOf counts the torques of the last pulls of records by their tools.
func (a *App) NumbersOf(ctx context.Context, records []string) (numbers.Numbers, error) {
	rows, err := a.q.PullsOfRecords(ctx, store.PullsOfRecordsParams{Numbers: append([]string{}, records...),
		Quantity: string(record.Torque)})
	return counted(rows, countedBy["tool"]), err
}

// ExportNumbers writes the rows as CSV.
func (a *App) ExportNumbers(ctx context.Context, w io.Writer, in NumbersQuery) error {
	n, err := a.Numbers(ctx, in)
	if err != nil {
		return err
	}
	maybe := func(v *float64) any {
		if v == nil {
			return nil
		}
		return *v
	}
	return exchange.WriteCSV(w, exchange.Sheet{Name: "Numbers", Columns: []string{in.By, "pulls", "middle_pct",
		"from_pct", "to_pct", "outside", "cpk", "cpk_low", "cpk_high"}, Rows: func(yield func([]any) bool) {
		for _, r := range append(n.Rows, n.All) {
			if !yield([]any{r.Name, r.N, r.Middle, r.P5, r.P95, r.Outside, maybe(r.Cpk), maybe(r.CpkLow),
				maybe(r.CpkHigh)}) {
				return
			}
		}
	}})
}
