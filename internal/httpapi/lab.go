package httpapi

import "context"

func (s *server) GetLabSetup(ctx context.Context, r GetLabSetupRequestObject) (GetLabSetupResponseObject, error) {
	v, err := s.app.LabSetup(ctx, r.Tag)
	return GetLabSetup200JSONResponse(v), err
}
