package httpapi

import (
	"context"

	"dynacor/core/shutdown"
	"dynacor/internal/app"
)

func (s *server) PlanShift(ctx context.Context, r PlanShiftRequestObject) (PlanShiftResponseObject, error) {
	p := r.Params
	v, err := s.app.PlanShift(ctx, app.ShiftQuery{Package: r.Code, Day: p.Day, Days: or(p.Days, 1),
		Shift:  shutdown.Shift{From: p.From, To: p.To, BreakFrom: or(p.BreakFrom, ""), BreakTo: or(p.BreakTo, "")},
		Longer: or(p.Longer, false)})
	return PlanShift200JSONResponse(v), err
}

func (s *server) GetShiftInForce(ctx context.Context, r GetShiftInForceRequestObject) (GetShiftInForceResponseObject,
	error) {
	v, err := s.app.ShiftInForce(ctx, r.Code)
	return GetShiftInForce200JSONResponse(v), err
}

func (s *server) PutShiftInForce(ctx context.Context, r PutShiftInForceRequestObject) (PutShiftInForceResponseObject,
	error) {
	in := *r.Body
	in.Package = r.Code
	v, err := s.app.PutShiftInForce(ctx, actor(ctx), in, r.Params.After)
	return PutShiftInForce200JSONResponse(v), err
}
