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
