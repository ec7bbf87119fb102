package httpapi

import (
	"context"
	"encoding/json"

	"dynacor/core/calc"
	"dynacor/internal/procedures"
)

func (s *server) ListCalculations(_ context.Context, r ListCalculationsRequestObject) (ListCalculationsResponseObject,
	error) {
	return ListCalculations200JSONResponse(calc.Describe(or(r.Params.Q, ""))), nil
}

func (s *server) Calculate(ctx context.Context, r CalculateRequestObject) (CalculateResponseObject, error) {
	v, err := s.app.Calculate(ctx, r.Name, *r.Body)
	if err != nil {
		return nil, err
	}
	return Calculate200JSONResponse(*v), nil
}

func (s *server) GetHouseRules(ctx context.Context, _ GetHouseRulesRequestObject) (GetHouseRulesResponseObject, error) {
	v, err := s.app.HouseRules(ctx)
	return GetHouseRules200JSONResponse(v), err
}

func (s *server) PutHouseRules(ctx context.Context, r PutHouseRulesRequestObject) (PutHouseRulesResponseObject, error) {
	v, err := s.app.PutHouseRules(ctx, actor(ctx), *r.Body)
	return PutHouseRules200JSONResponse(v), err
}

func (s *server) GetLibrary(ctx context.Context, _ GetLibraryRequestObject) (GetLibraryResponseObject, error) {
	v, err := s.app.Library(ctx)
	return GetLibrary200JSONResponse(v), err
}

func (s *server) ListFamilies(ctx context.Context, _ ListFamiliesRequestObject) (ListFamiliesResponseObject, error) {
	v, err := s.app.Families(ctx)
	return ListFamilies200JSONResponse(v), err
}

func (s *server) GetProcedureSchema(context.Context, GetProcedureSchemaRequestObject) (GetProcedureSchemaResponseObject,
	error) {
	v := GetProcedureSchema200JSONResponse{}
	err := json.Unmarshal(procedures.Schema(), &v)
	return v, err
}

func (s *server) GetProcedure(ctx context.Context, r GetProcedureRequestObject) (GetProcedureResponseObject, error) {
	version := 0
	if r.Params.Version != nil {
		version = *r.Params.Version
	}
	v, err := s.app.Procedure(ctx, r.Code, version)
	return GetProcedure200JSONResponse(v), err
}

func (s *server) PutProcedure(ctx context.Context, r PutProcedureRequestObject) (PutProcedureResponseObject, error) {
	v, err := s.app.PutProcedure(ctx, actor(ctx), r.Code, *r.Body)
	return PutProcedure200JSONResponse(v), err
}

func (s *server) TryProcedure(ctx context.Context, r TryProcedureRequestObject) (TryProcedureResponseObject, error) {
	v, err := s.app.TryProcedure(ctx, r.Code, *r.Body)
	return TryProcedure200JSONResponse(v), err
}

func (s *server) ApproveProcedure(ctx context.Context, r ApproveProcedureRequestObject) (ApproveProcedureResponseObject,
	error) {
	v, err := s.app.ApproveProcedure(ctx, actor(ctx), r.Code, r.Version)
	return ApproveProcedure200JSONResponse(v), err
}

func (s *server) GetLibraryValue(ctx context.Context, r GetLibraryValueRequestObject) (GetLibraryValueResponseObject,
	error) {
	v, err := s.app.LibraryValueHistory(ctx, string(r.Shelf), r.Code)
	return GetLibraryValue200JSONResponse(v), err
}

func (s *server) PutLibraryValue(ctx context.Context, r PutLibraryValueRequestObject) (PutLibraryValueResponseObject,
	error) {
	v, err := s.app.PutLibraryValue(ctx, actor(ctx), string(r.Shelf), r.Code, *r.Body)
	return PutLibraryValue200JSONResponse(v), err
}

func (s *server) WithdrawLibraryValue(ctx context.Context,
	r WithdrawLibraryValueRequestObject) (WithdrawLibraryValueResponseObject, error) {
	v, err := s.app.WithdrawLibraryValue(ctx, actor(ctx), string(r.Shelf), r.Code, r.Body.Reason)
	return WithdrawLibraryValue200JSONResponse(v), err
}
