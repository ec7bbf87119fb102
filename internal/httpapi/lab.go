package httpapi

import (
	"bytes"
	"context"
)

func (s *server) GetLabSetup(ctx context.Context, r GetLabSetupRequestObject) (GetLabSetupResponseObject, error) {
	v, err := s.app.LabSetup(ctx, r.Tag)
	return GetLabSetup200JSONResponse(v), err
}

func (s *server) CompareChange(ctx context.Context, r CompareChangeRequestObject) (CompareChangeResponseObject, error) {
	v, err := s.app.CompareChange(ctx, r.Tag, *r.Body)
	return CompareChange200JSONResponse{Change: v}, err
}

func (s *server) KeepLabFit(ctx context.Context, r KeepLabFitRequestObject) (KeepLabFitResponseObject, error) {
	v, err := s.app.KeepLabFit(ctx, actor(ctx), r.Tag, r.Body.Records, r.Body.Reason)
	return KeepLabFit200JSONResponse(v), err
}

func (s *server) LabHistorySheet(ctx context.Context, r LabHistorySheetRequestObject) (LabHistorySheetResponseObject,
	error) {
	var b bytes.Buffer
	if err := s.app.LabHistory(ctx, &b, r.Body.Setup, r.Body.Procedure); err != nil {
		return nil, err
	}
	return LabHistorySheet200ApplicationvndOpenxmlformatsOfficedocumentSpreadsheetmlSheetResponse{Body: &b,
		ContentLength: int64(b.Len())}, nil
}
