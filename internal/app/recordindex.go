package app

import (
	"context"
	"fmt"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/store"
)

// indexVersion says by which rules records are found and counted. It goes up when Facets, searched or LastPulls give
// more.
const indexVersion = 3

// RecordSearch says which records are wanted. Empty fields do not narrow.
type RecordSearch struct {
	Text          string // words, all of which number, tag, name, place, document or a person must have
	Facets        []record.Facet
	From, To      time.Time // sealed from the one up to, not including, the other
	Limit, Offset int
}

const mostSearchWords = 8

// Records gives a page of the sealed records, newest first.
func (a *App) Records(ctx context.Context, s RecordSearch) (RecordPage, error) {
	f := store.RecordFilter{From: s.From, To: s.To, Limit: s.Limit, Offset: s.Offset}
	words := strings.Fields(s.Text)
	for _, w := range words[:min(len(words), mostSearchWords)] {
		f.Like = append(f.Like, like(w))
	}
	for _, x := range s.Facets {
		f.Facets = append(f.Facets, x.String())
	}
	rows, total, err := a.q.RecordPage(ctx, f)
	if err != nil {
		return RecordPage{}, err
	}
	out := RecordPage{Rows: []RecordRow{}, Total: min(total, store.MostCounted), More: total > store.MostCounted}
	for _, r := range rows {
		out.Rows = append(out.Rows, rowOf(r))
	}
	old, err := a.q.OldIndex(ctx, store.OldIndexParams{Version: indexVersion, N: 1})
	out.Older = len(old) > 0
	return out, err
}

func rowOf(r store.RecordLine) RecordRow {
	return RecordRow{Number: r.Number, Tag: r.Tag, Name: r.Name, Area: r.Area, Target: r.Target,
		TightenedBy: r.TightenedBy, ProvedBy: r.ProvedBy, SealedAt: r.SealedAt, Mark: r.Mark,
		Verdict: run.VerdictCode(r.Verdict), Added: int(r.Added)}
}

// FacetCount is a value to search by, and how many records have it.
type FacetCount struct {
	Value string `json:"value"`
	Total int    `json:"total"`
}

// RecordFacets gives the values of a kind that have a text in them, those of most records first.
func (a *App) RecordFacets(ctx context.Context, kind record.FacetKind, text string) ([]FacetCount, error) {
	rows, err := a.q.FacetsLike(ctx, store.FacetsLikeParams{Kind: string(kind), Q: like(text), N: 50})
	if err != nil {
		return nil, err
	}
	out := []FacetCount{}
	for _, r := range rows {
		if f, ok := record.ParseFacet(r.Facet); ok {
			out = append(out, FacetCount{f.Value, int(r.Total)})
		}
	}
	return out, nil
}

// putIndex writes what a record is found by, anew when it is found by something else now.
func putIndex(ctx context.Context, q *store.Queries, row store.Record, rec record.Record,
	added []record.Addition) error {
	old, err := q.LockIndex(ctx, row.Number)
	if err != nil && !none(err) {
		return err
	}
	now := []string{}
	people := []string{}
	for _, f := range rec.Facets(added) {
		now = append(now, f.String())
		if f.Kind == record.FacetPerson {
			people = append(people, f.Value)
		}
	}
	text := strings.ToLower(strings.Join(append([]string{row.Number, row.Tag, row.Name, row.Area,
		rec.Plan.Joint.Equipment, rec.Plan.Joint.Service, rec.Plan.Specification.Document}, people...), " "))
	if err := q.PutIndex(ctx, store.PutIndexParams{Number: row.Number, Version: indexVersion, SealedAt: row.SealedAt,
		Search: text, Facets: now, Apart: rec.Plan.Apart(), Follows: rec.State.Follows,
		UsedAt: rec.LastPull()}); err != nil {
		return err
	}
	if err := putPulls(ctx, q, row, rec); err != nil {
		return err
	}
	gone := slices.DeleteFunc(slices.Clone(old), func(f string) bool { return slices.Contains(now, f) })
	come := slices.DeleteFunc(now, func(f string) bool { return slices.Contains(old, f) })
	if err := q.CountFacets(ctx, store.CountFacetsParams{By: -1, Facets: gone}); err != nil {
		return err
	}
	return q.CountFacets(ctx, store.CountFacetsParams{By: 1, Facets: come})
}

// IndexRecords makes up to n records that are found by rules of an earlier time be found by those of now, and says how
// many it did: 0 when there are none left.
func (a *App) IndexRecords(ctx context.Context, n int) (int, error) {
	numbers, err := a.q.OldIndex(ctx, store.OldIndexParams{Version: indexVersion, N: int32(n)})
	if err != nil {
		return 0, err
	}
	for _, number := range numbers {
		err := a.tx(ctx, func(q *store.Queries) error { return reindex(ctx, q, number) })
		if err != nil {
			return 0, fmt.Errorf("app: record %s: %w", number, err)
		}
	}
	return len(numbers), nil
}

// reindex makes a record be found by what it and everything behind it says.
func reindex(ctx context.Context, q *store.Queries, number string) error {
	if err := q.LockAdditions(ctx, number); err != nil {
		return err
	}
	row, err := q.GetRecord(ctx, number)
	if err != nil {
		return err
	}
	_, rec, err := record.Read(row.File)
	if err != nil { // a spoilt one is found by its row alone, and keeps nobody from the others; verifying tells of it
		text := strings.ToLower(strings.Join([]string{number, row.Tag, row.Name, row.Area}, " "))
		return q.PutIndex(ctx, store.PutIndexParams{Number: number, Version: indexVersion, SealedAt: row.SealedAt,
			Search: text, Facets: []string{}})
	}
	kept, err := q.AdditionsOf(ctx, number)
	if err != nil {
		return err
	}
	var added []record.Addition
	for _, k := range kept {
		x, err := decode[record.Addition](k.Body)
		if err != nil {
			return err
		}
		added = append(added, x)
	}
	return putIndex(ctx, q, row, rec, added)
}

// SavedSearch is a search that somebody keeps under a name: the query of its address.
type SavedSearch struct {
	Name  string `json:"name"`
	Query string `json:"query"`
}

const (
	mostSearches      = 50
	mostSearchLetters = 2000
)

// SavedSearches gives those of a person, by their names.
func (a *App) SavedSearches(ctx context.Context, who Actor) ([]SavedSearch, error) {
	rows, err := a.q.SavedSearches(ctx, uuid.MustParse(who.ID))
	if err != nil {
		return nil, err
	}
	out := []SavedSearch{}
	for _, r := range rows {
		out = append(out, SavedSearch(r))
	}
	return out, nil
}

// SaveSearch keeps a search under a name; one of the same name is written over. Refused: no name, what is no query,
// more than somebody needs.
func (a *App) SaveSearch(ctx context.Context, who Actor, s SavedSearch) ([]SavedSearch, error) {
	s.Name = strings.Join(strings.Fields(s.Name), " ")
	if n := len([]rune(s.Name)); n < 1 || n > 60 {
		return nil, &Problem{Kind: Invalid, Field: "name", Title: "A search needs a name of 1 to 60 letters.",
			Remedy: "Call it by what it finds."}
	}
	if _, err := url.ParseQuery(s.Query); err != nil || len(s.Query) > mostSearchLetters {
		return nil, &Problem{Kind: Invalid, Field: "query", Title: "This cannot be kept as a search.",
			Remedy: "Search anew, then keep it."}
	}
	id := uuid.MustParse(who.ID)
	n, err := a.q.CountSearches(ctx, id)
	if err != nil {
		return nil, err
	}
	if n >= mostSearches {
		return nil, &Problem{Kind: Conflict, Field: "name", Title: fmt.Sprintf("%d searches are kept already.", n),
			Remedy: "Drop one you do not use."}
	}
	if err := a.q.PutSearch(ctx, store.PutSearchParams{PersonID: id, Name: s.Name, Query: s.Query,
		MadeAt: a.now()}); err != nil {
		return nil, err
	}
	return a.SavedSearches(ctx, who)
}

// DropSearch forgets a search of a person.
func (a *App) DropSearch(ctx context.Context, who Actor, name string) ([]SavedSearch, error) {
	n, err := a.q.DropSearch(ctx, store.DropSearchParams{PersonID: uuid.MustParse(who.ID), Name: name})
	if err != nil {
		return nil, err
	}
	if n == 0 {
		return nil, notFound("search", name)
	}
	return a.SavedSearches(ctx, who)
}
