package httpapi

import (
	"bytes"
	"context"
	"io"
	"time"

	"dynacor/core/record"
	"dynacor/internal/app"
)

func (s *server) ListRecords(ctx context.Context, r ListRecordsRequestObject) (ListRecordsResponseObject, error) {
	p := r.Params
	q, err := search(p.Q, p.Facet, p.From, p.To)
	if err != nil {
		return nil, err
	}
	q.Limit, q.Offset = or(p.Limit, 100), or(p.Offset, 0)
	v, err := s.app.Records(ctx, q)
	return ListRecords200JSONResponse(v), err
}

func search(q *string, facets *[]string, from, to *time.Time) (app.RecordSearch, error) {
	return app.Search(app.RecordSearch{Text: or(q, ""), From: or(from, time.Time{}), To: or(to, time.Time{})},
		or(facets, nil))
}

func (s *server) ListRecordFacets(ctx context.Context, r ListRecordFacetsRequestObject) (ListRecordFacetsResponseObject,
	error) {
	v, err := s.app.RecordFacets(ctx, record.FacetKind(r.Params.Kind), or(r.Params.Q, ""))
	return ListRecordFacets200JSONResponse(v), err
}

func (s *server) ListSearches(ctx context.Context, _ ListSearchesRequestObject) (ListSearchesResponseObject, error) {
	v, err := s.app.SavedSearches(ctx, actor(ctx))
	return ListSearches200JSONResponse(v), err
}

func (s *server) SaveSearch(ctx context.Context, r SaveSearchRequestObject) (SaveSearchResponseObject, error) {
	v, err := s.app.SaveSearch(ctx, actor(ctx), *r.Body)
	return SaveSearch200JSONResponse(v), err
}

func (s *server) DropSearch(ctx context.Context, r DropSearchRequestObject) (DropSearchResponseObject, error) {
	v, err := s.app.DropSearch(ctx, actor(ctx), r.Params.Name)
	return DropSearch200JSONResponse(v), err
}

// table is an export of a record, noted in the audit log.
func (s *server) table(ctx context.Context, number string, t app.RecordTable) (*bytes.Buffer, error) {
	var b bytes.Buffer
	if err := s.app.ExportRecord(ctx, &b, number, t); err != nil {
		return nil, err
	}
	return &b, s.exported(ctx, "table of record "+number)
}

func (s *server) ExportResults(ctx context.Context, r ExportResultsRequestObject) (ExportResultsResponseObject, error) {
	b, err := s.table(ctx, r.Number, app.ResultsTable)
	if err != nil {
		return nil, err
	}
	return ExportResults200TextcsvResponse{Body: b, ContentLength: int64(b.Len())}, nil
}

func (s *server) ExportEntries(ctx context.Context, r ExportEntriesRequestObject) (ExportEntriesResponseObject, error) {
	b, err := s.table(ctx, r.Number, app.EntriesTable)
	if err != nil {
		return nil, err
	}
	return ExportEntries200TextcsvResponse{Body: b, ContentLength: int64(b.Len())}, nil
}

func (s *server) ExportResultsSheet(ctx context.Context,
	r ExportResultsSheetRequestObject) (ExportResultsSheetResponseObject, error) {
	b, err := s.table(ctx, r.Number, app.WholeSheet)
	if err != nil {
		return nil, err
	}
	return ExportResultsSheet200ApplicationvndOpenxmlformatsOfficedocumentSpreadsheetmlSheetResponse{Body: b,
		ContentLength: int64(b.Len())}, nil
}

func (s *server) ExportRecords(ctx context.Context, r ExportRecordsRequestObject) (ExportRecordsResponseObject, error) {
	b, err := s.list(ctx, r.Params.Q, r.Params.Facet, r.Params.From, r.Params.To, false)
	if err != nil {
		return nil, err
	}
	return ExportRecords200TextcsvResponse{Body: b, ContentLength: int64(b.Len())}, nil
}

func (s *server) ExportRecordsSheet(ctx context.Context,
	r ExportRecordsSheetRequestObject) (ExportRecordsSheetResponseObject, error) {
	b, err := s.list(ctx, r.Params.Q, r.Params.Facet, r.Params.From, r.Params.To, true)
	if err != nil {
		return nil, err
	}
	return ExportRecordsSheet200ApplicationvndOpenxmlformatsOfficedocumentSpreadsheetmlSheetResponse{Body: b,
		ContentLength: int64(b.Len())}, nil
}

func (s *server) list(ctx context.Context, text *string, facets *[]string, from, to *time.Time,
	sheet bool) (*bytes.Buffer, error) {
	q, err := search(text, facets, from, to)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := s.app.ExportRecords(ctx, &b, q, sheet); err != nil {
		return nil, err
	}
	return &b, s.exported(ctx, "list of records")
}

func (s *server) ExportAllResults(ctx context.Context,
	r ExportAllResultsRequestObject) (ExportAllResultsResponseObject, error) {
	q, err := search(r.Params.Q, r.Params.Facet, r.Params.From, r.Params.To)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := s.app.ExportAllResults(ctx, &b, q); err != nil {
		return nil, err
	}
	return ExportAllResults200TextcsvResponse{Body: &b, ContentLength: int64(b.Len())},
		s.exported(ctx, "results of records")
}

func (s *server) ExportAudit(ctx context.Context, r ExportAuditRequestObject) (ExportAuditResponseObject, error) {
	var b bytes.Buffer
	if err := s.app.ExportAudit(ctx, &b, or(r.Params.Q, "")); err != nil {
		return nil, err
	}
	return ExportAudit200TextcsvResponse{Body: &b, ContentLength: int64(b.Len())}, s.exported(ctx, "audit log")
}

func (s *server) GetLife(ctx context.Context, r GetLifeRequestObject) (GetLifeResponseObject, error) {
	v, err := s.app.Life(ctx, r.Tag)
	return GetLife200JSONResponse(v), err
}

func (s *server) CompareRuns(ctx context.Context, r CompareRunsRequestObject) (CompareRunsResponseObject, error) {
	v, err := s.app.CompareRuns(ctx, r.Tag, r.Params.A, r.Params.B)
	return CompareRuns200JSONResponse(v), err
}

func numbersQuery(of, by string, from, to *time.Time, families *[]string) app.NumbersQuery {
	return app.NumbersQuery{Of: record.Quantity(of), By: by, From: or(from, time.Time{}), To: or(to, time.Time{}),
		Families: or(families, nil)}
}

func (s *server) GetNumbers(ctx context.Context, r GetNumbersRequestObject) (GetNumbersResponseObject, error) {
	p := r.Params
	v, err := s.app.Numbers(ctx, numbersQuery(string(or(p.Of, "")), string(p.By), p.From, p.To, p.Family))
	return GetNumbers200JSONResponse(v), err
}

func (s *server) ExportNumbers(ctx context.Context, r ExportNumbersRequestObject) (ExportNumbersResponseObject, error) {
	p := r.Params
	var b bytes.Buffer
	in := numbersQuery(string(or(p.Of, "")), string(p.By), p.From, p.To, p.Family)
	if err := s.app.ExportNumbers(ctx, &b, in); err != nil {
		return nil, err
	}
	return ExportNumbers200TextcsvResponse{Body: &b, ContentLength: int64(b.Len())},
		s.exported(ctx, "numbers of the site")
}

func (s *server) ListElsewhere(ctx context.Context, r ListElsewhereRequestObject) (ListElsewhereResponseObject, error) {
	v, err := s.app.ElsewhereRecords(ctx, or(r.Params.Q, ""))
	return ListElsewhere200JSONResponse(v), err
}

func (s *server) TakeIn(ctx context.Context, r TakeInRequestObject) (TakeInResponseObject, error) {
	data, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	v, err := s.app.TakeIn(ctx, actor(ctx), data, r.Params.KeyId)
	return TakeIn200JSONResponse(v), err
}

func (s *server) GetElsewhereFile(ctx context.Context, r GetElsewhereFileRequestObject) (GetElsewhereFileResponseObject,
	error) {
	data, err := s.app.ElsewhereFile(ctx, r.Mark)
	if err != nil {
		return nil, err
	}
	return rawRecord(data), s.exported(ctx, "record of another site "+r.Mark)
}
