package httpapi

import (
	"bytes"
	"context"
	"io"

	"dynacor/internal/report"
)

func (s *server) GetDossier(ctx context.Context, r GetDossierRequestObject) (GetDossierResponseObject, error) {
	v, err := s.app.Dossier(ctx, r.Code)
	return GetDossier200JSONResponse(v), err
}

func (s *server) MakeDossier(ctx context.Context, r MakeDossierRequestObject) (MakeDossierResponseObject, error) {
	v, err := s.app.MakeDossier(ctx, actor(ctx), r.Code, r.Body.WithGaps)
	return MakeDossier202JSONResponse(v), err
}

func (s *server) AskForGaps(ctx context.Context, r AskForGapsRequestObject) (AskForGapsResponseObject, error) {
	v, err := s.app.AskForGaps(ctx, actor(ctx), r.Code)
	return AskForGaps200JSONResponse(v), err
}

func (s *server) PutAskAside(ctx context.Context, r PutAskAsideRequestObject) (PutAskAsideResponseObject, error) {
	return PutAskAside204Response{}, s.app.PutAskAside(ctx, actor(ctx), r.Id)
}

func (s *server) ListDossiersMaking(ctx context.Context,
	_ ListDossiersMakingRequestObject) (ListDossiersMakingResponseObject, error) {
	v, err := s.app.DossiersMaking(ctx)
	return ListDossiersMaking200JSONResponse(v), err
}

func (s *server) StopDossier(ctx context.Context, r StopDossierRequestObject) (StopDossierResponseObject, error) {
	v, err := s.app.StopDossier(ctx, r.Id.String())
	return StopDossier200JSONResponse(v), err
}

// attached names a file that is saved rather than shown.
func attached(name string) *string {
	v := `attachment; filename="` + name + `"`
	return &v
}

func (s *server) GetDossierBook(ctx context.Context, r GetDossierBookRequestObject) (GetDossierBookResponseObject,
	error) {
	name, pdf, err := s.app.DossierBook(ctx, r.Id.String())
	if err != nil {
		return nil, err
	}
	return GetDossierBook200ApplicationpdfResponse{Body: bytes.NewReader(pdf), ContentLength: int64(len(pdf)),
		Headers: GetDossierBook200ResponseHeaders{attached(name)}}, s.exported(ctx, name)
}

func (s *server) GetDossierFiles(ctx context.Context, r GetDossierFilesRequestObject) (GetDossierFilesResponseObject,
	error) {
	name, write, err := s.app.DossierFiles(ctx, r.Id.String())
	if err != nil {
		return nil, err
	}
	if err := s.exported(ctx, name); err != nil {
		return nil, err
	}
	out, in := io.Pipe()
	go func() { in.CloseWithError(write(in)) }() // ends with the request: whoever reads closes the pipe
	return GetDossierFiles200ApplicationzipResponse{Body: out, Headers: GetDossierFiles200ResponseHeaders{
		attached(name)}}, nil
}

func (s *server) GetPressureTestSheet(ctx context.Context,
	r GetPressureTestSheetRequestObject) (GetPressureTestSheetResponseObject, error) {
	t, err := s.app.PressureTest(ctx, r.Tag)
	if err != nil {
		return nil, err
	}
	site, err := s.app.Site(ctx)
	if err != nil {
		return nil, err
	}
	p := report.PressureTest{Spec: t.Spec, Events: t.Events, State: t.State, Site: site.Name, At: t.Now}
	if t.Sealed != nil {
		p.Mark, p.KeyID, p.At = t.Sealed.Mark, t.Sealed.Key, t.Sealed.At
	}
	var b bytes.Buffer
	if err := report.TestSheet(&b, p); err != nil {
		return nil, err
	}
	return GetPressureTestSheet200ApplicationpdfResponse{Body: &b, ContentLength: int64(b.Len())},
		s.exported(ctx, "sheet of test "+r.Tag+", to print")
}
