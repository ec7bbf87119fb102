package httpapi

import (
	"bytes"
	"context"
	"io"
)

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

func (s *server) ListPlantNotes(ctx context.Context, _ ListPlantNotesRequestObject) (ListPlantNotesResponseObject,
	error) {
	v, err := s.app.PlantNotes(ctx)
	return ListPlantNotes200JSONResponse(v), err
}

func (s *server) ClosePlantNote(ctx context.Context, r ClosePlantNoteRequestObject) (ClosePlantNoteResponseObject,
	error) {
	v, err := s.app.ClosePlantNote(ctx, actor(ctx), r.Id.String(), r.Body.Became)
	return ClosePlantNote200JSONResponse(v), err
}

func (s *server) PutNotePhoto(ctx context.Context, r PutNotePhotoRequestObject) (PutNotePhotoResponseObject, error) {
	data, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	return PutNotePhoto200JSONResponse{Id: r.Id.String()}, s.app.PutNotePhoto(ctx, actor(ctx), r.Id.String(), data)
}

func (s *server) GetNotePhoto(ctx context.Context, r GetNotePhotoRequestObject) (GetNotePhotoResponseObject, error) {
	p, err := s.app.NotePhoto(ctx, r.Id.String())
	return GetNotePhoto200ImageResponse{Body: bytes.NewReader(p.Bytes), ContentType: p.MediaType,
		ContentLength: int64(len(p.Bytes))}, err
}
