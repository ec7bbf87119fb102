package store

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
)

// RecordFilter narrows the records. Empty fields do not narrow. Like are LIKE patterns without their outer wildcards,
// all of which must be met; Facets are kind:value, all of which a record must have.
type RecordFilter struct {
	Like, Facets  []string
	From, To      time.Time // sealed from the one up to, not including, the other
	Limit, Offset int
}

// RecordLine is a line of the records.
type RecordLine struct {
	Number, Tag, Name, Area, Target, TightenedBy, ProvedBy string
	SealedAt                                               time.Time
	Mark, Verdict                                          string
	Added                                                  int32
}

// MostCounted is how far found records are counted: further than anybody reads, and soon done.
const MostCounted = 1000

// What is rare is gathered by its index; what is frequent is found among the newest records, looked at one by one. How
// many records have a value is counted; of a word it is found out by looking at so many of the newest.
const (
	rare     = 10_000
	lookedAt = 10_000
)

// RecordPage reads a page of the records, newest first, and counts what the filter finds, up to MostCounted and a few
// more. Written by hand: the database cannot know whether a word or a value is frequent, and takes the wrong way through
// half a million of them.
func (q *Queries) RecordPage(ctx context.Context, f RecordFilter) (rows []RecordLine, total int, err error) {
	var says, when []string
	var args []any
	add := func(list *[]string, cond string, v any) {
		args = append(args, v)
		*list = append(*list, fmt.Sprintf(cond, len(args)))
	}
	for _, l := range f.Like {
		add(&says, "search like $%d", "%"+l+"%")
	}
	if len(f.Facets) > 0 {
		add(&says, "facets @> $%d", f.Facets)
	}
	if !f.From.IsZero() {
		add(&when, "sealed_at >= $%d", f.From)
	}
	if !f.To.IsZero() {
		add(&when, "sealed_at < $%d", f.To)
	}
	const order = " order by sealed_at desc, number desc"
	want := max(MostCounted+1, f.Offset+f.Limit)
	look := want
	if len(says) > 0 {
		look = max(lookedAt, want)
	}
	found := fmt.Sprintf("select number, sealed_at from (select * from record_index%s%s limit %d) n%s limit %d",
		where(when), order, look, where(says), want)
	seldom, err := q.seldom(ctx, f.Facets)
	if err != nil {
		return nil, 0, err
	}
	if !seldom {
		rows, total, err = q.recordPage(ctx, found, order, f, args)
		if err != nil || len(says) == 0 || total == want {
			return rows, total, err
		}
	}
	return q.recordPage(ctx, "select number, sealed_at from record_index"+where(append(says, when...)), order, f, args)
}

// seldom reports whether one of the values is rare.
func (q *Queries) seldom(ctx context.Context, facets []string) (bool, error) {
	if len(facets) == 0 {
		return false, nil
	}
	var least int
	err := q.db.QueryRow(ctx, `select min(coalesce(total, 0))::int from unnest($1::text[]) f
		left join record_facets on facet = f`, facets).Scan(&least)
	if err != nil {
		return false, fmt.Errorf("counting records: %w", err)
	}
	return least <= rare, nil
}

func where(conditions []string) string {
	if len(conditions) == 0 {
		return ""
	}
	return " where " + strings.Join(conditions, " and ")
}

func (q *Queries) recordPage(ctx context.Context, found, order string, f RecordFilter,
	args []any) (rows []RecordLine, total int, err error) {
	lines, err := q.db.Query(ctx, fmt.Sprintf(`with found as materialized (%s),
		page as (select * from found%s limit %d offset %d)
		select r.number, r.tag, r.name, r.area, r.target, r.tightened_by, r.proved_by, r.sealed_at, r.mark, r.verdict,
		(select count(*) from additions a where a.number = r.number)::int, (select count(*) from found)::int
		from page join records r using (number) order by page.sealed_at desc, number desc`, found, order, f.Limit,
		f.Offset), args...)
	if err != nil {
		return nil, 0, fmt.Errorf("reading records: %w", err)
	}
	type counted struct {
		RecordLine
		Total int
	}
	list, err := pgx.CollectRows(lines, pgx.RowToStructByPos[counted])
	if err != nil {
		return nil, 0, fmt.Errorf("reading records: %w", err)
	}
	for _, r := range list {
		rows, total = append(rows, r.RecordLine), r.Total
	}
	return rows, total, nil
}
