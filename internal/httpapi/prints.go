package httpapi

import (
	"bytes"
	"context"
	"fmt"
	"io"

	"dynacor/internal/app"
	"dynacor/internal/report"
	"dynacor/internal/store"
)

func (s *server) GetRecordFile(ctx context.Context, r GetRecordFileRequestObject) (GetRecordFileResponseObject, error) {
	data, err := s.app.RecordFile(ctx, r.Number)
	if err != nil {
		return nil, err
	}
	return rawRecord(data), s.exported(ctx, "record "+r.Number)
}

// exported writes down what is taken out of the house, by whom.
func (s *server) exported(ctx context.Context, what string) error {
	return s.app.Exported(store.WithActor(ctx, actor(ctx).Name), what)
}

func (s *server) document(ctx context.Context, kind, number string,
	write func(io.Writer, report.Sealed) error) (*bytes.Buffer, error) {
	v, err := s.app.Record(ctx, number)
	if err != nil {
		return nil, err
	}
	if err := s.exported(ctx, kind+" of record "+number); err != nil {
		return nil, err
	}
	if v, err = s.app.WithPhotos(ctx, v); err != nil {
		return nil, err
	}
	var b bytes.Buffer
	site, err := s.app.Site(ctx)
	if err != nil {
		return nil, err
	}
	p := printed(v)
	p.Address = site.Address
	if err := write(&b, p); err != nil {
		return nil, fmt.Errorf("printing record %s: %w", number, err)
	}
	return &b, nil
}

// printed is a record as it goes to print.
func printed(v app.RecordView) report.Sealed {
	p := report.Sealed{Record: v.Record, Mark: v.Row.Mark, KeyID: v.KeyID, Target: v.Row.Target,
		TightenedBy: v.Row.TightenedBy, ProvedBy: v.Row.ProvedBy, SealedAt: v.Row.SealedAt,
		Photos: map[string]report.Photo{}, Additions: v.Additions}
	for id, photo := range v.Photos {
		p.Photos[id] = report.Photo(photo)
	}
	return p
}

func (s *server) GetCertificate(ctx context.Context, r GetCertificateRequestObject) (GetCertificateResponseObject,
	error) {
	b, err := s.document(ctx, "certificate", r.Number, report.Certificate)
	if err != nil {
		return nil, err
	}
	return GetCertificate200ApplicationpdfResponse{Body: b, ContentLength: int64(b.Len())}, nil
}

func (s *server) GetTagSheet(ctx context.Context, r GetTagSheetRequestObject) (GetTagSheetResponseObject, error) {
	b, err := s.document(ctx, "tag", r.Number, report.Tag)
	if err != nil {
		return nil, err
	}
	return GetTagSheet200ApplicationpdfResponse{Body: b, ContentLength: int64(b.Len())}, nil
}

func (s *server) ExportTools(ctx context.Context, _ ExportToolsRequestObject) (ExportToolsResponseObject, error) {
	if err := s.exported(ctx, "list of tools, CSV"); err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := s.app.ExportTools(ctx, &b, false); err != nil {
		return nil, err
	}
	return ExportTools200TextcsvResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

func (s *server) ExportToolsSheet(ctx context.Context, _ ExportToolsSheetRequestObject) (ExportToolsSheetResponseObject,
	error) {
	if err := s.exported(ctx, "list of tools, spreadsheet"); err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := s.app.ExportTools(ctx, &b, true); err != nil {
		return nil, err
	}
	return ExportToolsSheet200ApplicationvndOpenxmlformatsOfficedocumentSpreadsheetmlSheetResponse{Body: &b,
		ContentLength: int64(b.Len())}, nil
}

func (s *server) ExportJoints(ctx context.Context, _ ExportJointsRequestObject) (ExportJointsResponseObject, error) {
	if err := s.exported(ctx, "register of joints, CSV"); err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := s.app.Export(ctx, &b); err != nil {
		return nil, err
	}
	return ExportJoints200TextcsvResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

func (s *server) GetWholeRecord(ctx context.Context, r GetWholeRecordRequestObject) (GetWholeRecordResponseObject,
	error) {
	data, err := s.app.WholeRecord(ctx, r.Number)
	if err != nil {
		return nil, err
	}
	return rawRecord(data), s.exported(ctx, "record "+r.Number+" with its additions")
}
