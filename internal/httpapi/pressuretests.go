package httpapi

import (
	"context"

	"dynacor/core/pressuretest"
)

func (s *server) ListPressureTests(ctx context.Context,
	r ListPressureTestsRequestObject) (ListPressureTestsResponseObject, error) {
	v, err := s.app.PressureTests(ctx, or(r.Params.Joint, ""))
	return ListPressureTests200JSONResponse(v), err
}

func (s *server) ListUsualSteps(_ context.Context, r ListUsualStepsRequestObject) (ListUsualStepsResponseObject,
	error) {
	p := r.Params
	v, err := s.app.UsualSteps(p.Kind, p.DesignBar, p.TestBar, p.HoldMin)
	return ListUsualSteps200JSONResponse(v), err
}

func (s *server) GetPressureTest(ctx context.Context, r GetPressureTestRequestObject) (GetPressureTestResponseObject,
	error) {
	v, err := s.app.PressureTest(ctx, r.Tag)
	return GetPressureTest200JSONResponse(v), err
}

func (s *server) PutPressureTest(ctx context.Context, r PutPressureTestRequestObject) (PutPressureTestResponseObject,
	error) {
	v, err := s.app.PutPressureTest(ctx, actor(ctx), r.Body.Spec, r.Body.Version, or(r.Body.Withdrawn, ""))
	return PutPressureTest200JSONResponse(v), err
}

func (s *server) RecordPressureTest(ctx context.Context,
	r RecordPressureTestRequestObject) (RecordPressureTestResponseObject, error) {
	b := r.Body
	v, err := s.app.RecordTest(ctx, actor(ctx), r.Tag, pressuretest.Event{ID: b.Id,
		Kind: pressuretest.EventKind(b.Kind), Gate: or(b.Gate, ""), BarAs: or(b.BarAs, ""),
		TempAs: or(b.TempAs, ""), Joint: or(b.Joint, ""),
		Dry: or(b.Dry, false), Way: or(b.Way, ""), Note: or(b.Note, ""), Ref: or(b.Ref, "")})
	return RecordPressureTest200JSONResponse(v), err
}

func (s *server) SignPressureTest(ctx context.Context, r SignPressureTestRequestObject) (SignPressureTestResponseObject,
	error) {
	v, err := s.app.SignTest(ctx, actor(ctx), r.Tag, *r.Body)
	return SignPressureTest200JSONResponse(v), err
}

func (s *server) GetPressureTestFile(ctx context.Context,
	r GetPressureTestFileRequestObject) (GetPressureTestFileResponseObject, error) {
	file, err := s.app.PressureTestFile(ctx, r.Tag)
	if err != nil {
		return nil, err
	}
	return rawRecord(file), s.exported(ctx, "sheet of test "+r.Tag)
}
