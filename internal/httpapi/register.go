package httpapi

import (
	"context"
)

func (s *server) RetireJoint(ctx context.Context, r RetireJointRequestObject) (RetireJointResponseObject, error) {
	v, err := s.app.Retire(ctx, r.Tag, r.Body.Reason)
	return RetireJoint200JSONResponse(v), err
}

func (s *server) RestoreJoint(ctx context.Context, r RestoreJointRequestObject) (RestoreJointResponseObject, error) {
	v, err := s.app.Restore(ctx, r.Tag, r.Body.Reason)
	return RestoreJoint200JSONResponse(v), err
}

func (s *server) JointHistory(ctx context.Context, r JointHistoryRequestObject) (JointHistoryResponseObject, error) {
	v, err := s.app.JointHistory(ctx, r.Tag)
	return JointHistory200JSONResponse(v), err
}

func (s *server) ListImports(ctx context.Context, _ ListImportsRequestObject) (ListImportsResponseObject, error) {
	v, err := s.app.Imports(ctx)
	return ListImports200JSONResponse(v), err
}

func (s *server) UndoImport(ctx context.Context, r UndoImportRequestObject) (UndoImportResponseObject, error) {
	v, err := s.app.UndoImport(ctx, actor(ctx), r.Id.String(), or(r.Params.Apply, false))
	return UndoImport200JSONResponse(v), err
}
