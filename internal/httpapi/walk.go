package httpapi

import "context"

func (s *server) GetWalkRound(ctx context.Context, _ GetWalkRoundRequestObject) (GetWalkRoundResponseObject, error) {
	v, err := s.app.WalkRound(ctx)
	return GetWalkRound200JSONResponse(v), err
}

func (s *server) GetWalkJoint(ctx context.Context, r GetWalkJointRequestObject) (GetWalkJointResponseObject, error) {
	v, err := s.app.WalkJoint(ctx, r.Tag)
	return GetWalkJoint200JSONResponse(v), err
}

func (s *server) TakeWalkAlong(ctx context.Context, _ TakeWalkAlongRequestObject) (TakeWalkAlongResponseObject, error) {
	v, err := s.app.WalkAlong(ctx)
	return TakeWalkAlong200JSONResponse(v), err
}

func (s *server) PutWalk(ctx context.Context, r PutWalkRequestObject) (PutWalkResponseObject, error) {
	v, err := s.app.PutLooks(ctx, actor(ctx), *r.Body)
	return PutWalk200JSONResponse(v), err
}
