package httpapi

import (
	"bytes"
	"context"
	"io"
	"time"

	"dynacor/core/shutdown"
	"dynacor/internal/app"
	"dynacor/internal/report"
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

func (s *server) GetShiftStands(ctx context.Context, r GetShiftStandsRequestObject) (GetShiftStandsResponseObject,
	error) {
	v, err := s.app.ShiftStands(ctx, r.Code)
	return GetShiftStands200JSONResponse(v), err
}

func (s *server) GetPlanned(ctx context.Context, r GetPlannedRequestObject) (GetPlannedResponseObject, error) {
	v, err := s.app.PlannedOf(ctx, r.Tag)
	return GetPlanned200JSONResponse(v), err
}

func (s *server) MoveShift(ctx context.Context, r MoveShiftRequestObject) (MoveShiftResponseObject, error) {
	in := *r.Body
	in.Ask.Package = r.Code
	v, err := s.app.MoveShift(ctx, in)
	return MoveShift200JSONResponse(v), err
}

func (s *server) GetConstraints(ctx context.Context, r GetConstraintsRequestObject) (GetConstraintsResponseObject,
	error) {
	v, err := s.app.Constraints(ctx, r.Code)
	return GetConstraints200JSONResponse(v), err
}

func (s *server) PutConstraints(ctx context.Context, r PutConstraintsRequestObject) (PutConstraintsResponseObject,
	error) {
	v, err := s.app.PutConstraints(ctx, actor(ctx), r.Code, *r.Body, r.Params.After)
	return PutConstraints200JSONResponse(v), err
}

func (s *server) UndoConstraints(ctx context.Context, r UndoConstraintsRequestObject) (UndoConstraintsResponseObject,
	error) {
	v, err := s.app.UndoConstraints(ctx, actor(ctx), r.Code, r.Params.After)
	return UndoConstraints200JSONResponse(v), err
}

func (s *server) ImportJobs(ctx context.Context, r ImportJobsRequestObject) (ImportJobsResponseObject, error) {
	data, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	v, err := s.app.ImportJobs(ctx, actor(ctx), r.Code, or(r.Params.Name, ""), data, or(r.Params.Apply, false))
	return ImportJobs200JSONResponse(v), err
}

// jobs writes the list of a work package.
func (s *server) jobs(ctx context.Context, code string, sheet bool) (*bytes.Buffer, error) {
	if err := s.exported(ctx, "joints of "+code); err != nil {
		return nil, err
	}
	var b bytes.Buffer
	err := s.app.ExportJobs(ctx, &b, code, sheet)
	return &b, err
}

func (s *server) ExportJobs(ctx context.Context, r ExportJobsRequestObject) (ExportJobsResponseObject, error) {
	b, err := s.jobs(ctx, r.Code, false)
	if err != nil {
		return nil, err
	}
	return ExportJobs200TextcsvResponse{Body: b, ContentLength: int64(b.Len())}, nil
}

func (s *server) ExportJobsSheet(ctx context.Context, r ExportJobsSheetRequestObject) (ExportJobsSheetResponseObject,
	error) {
	b, err := s.jobs(ctx, r.Code, true)
	if err != nil {
		return nil, err
	}
	return ExportJobsSheet200ApplicationvndOpenxmlformatsOfficedocumentSpreadsheetmlSheetResponse{Body: b,
		ContentLength: int64(b.Len())}, nil
}

func (s *server) GetProgress(ctx context.Context, r GetProgressRequestObject) (GetProgressResponseObject, error) {
	v, err := s.app.Progress(ctx, r.Code)
	return GetProgress200JSONResponse(v), err
}

func (s *server) GetProgressSheet(ctx context.Context, r GetProgressSheetRequestObject) (GetProgressSheetResponseObject,
	error) {
	v, err := s.app.Progress(ctx, r.Code)
	if err != nil {
		return nil, err
	}
	site, zone, err := s.app.SiteClock(ctx)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := report.ProgressSheet(&b, progressPage(v, site, zone)); err != nil {
		return nil, err
	}
	return GetProgressSheet200ApplicationpdfResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

// progressPage is a view as it is printed, by the site's clocks.
func progressPage(v app.ProgressView, site string, zone *time.Location) report.Progress {
	at := func(t *time.Time) time.Time {
		if t == nil {
			return time.Time{}
		}
		return t.In(zone)
	}
	p := report.Progress{Code: v.Code, Name: v.Name, Site: site, At: v.Now.In(zone), Total: v.Total, Done: v.Done,
		Planned: v.Planned, Behind: v.Behind, Finish: at(v.Finish), P80: at(v.P80), Forecast: at(v.Forecast),
		Says:    v.Says,
		Stopped: v.Stopped}
	for _, a := range v.Areas {
		p.Areas = append(p.Areas, report.ProgressArea(a))
	}
	return p
}

func (s *server) PutPackage(ctx context.Context, r PutPackageRequestObject) (PutPackageResponseObject, error) {
	v, err := s.app.PutPackage(ctx, r.Code, *r.Body)
	return PutPackage200JSONResponse(v), err
}
