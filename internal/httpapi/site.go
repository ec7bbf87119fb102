package httpapi

import (
	"context"

	"dynacor/internal/app"
)

func (s *server) Begin(ctx context.Context, r BeginRequestObject) (BeginResponseObject, error) {
	v, err := s.app.Begin(ctx, *r.Body)
	return Begin201JSONResponse(v), err
}

func (s *server) GetSite(ctx context.Context, _ GetSiteRequestObject) (GetSiteResponseObject, error) {
	v, err := s.app.Site(ctx)
	return GetSite200JSONResponse(v), err
}

func (s *server) PutSite(ctx context.Context, r PutSiteRequestObject) (PutSiteResponseObject, error) {
	v, err := s.app.PutSite(ctx, *r.Body)
	return PutSite200JSONResponse(v), err
}

func (s *server) ListBackups(ctx context.Context, _ ListBackupsRequestObject) (ListBackupsResponseObject, error) {
	v, err := s.app.Backups(ctx)
	return ListBackups200JSONResponse(v), err
}

func (s *server) ListTablets(ctx context.Context, _ ListTabletsRequestObject) (ListTabletsResponseObject, error) {
	v, err := s.app.Devices(ctx)
	return ListTablets200JSONResponse(v), err
}

func (s *server) ChangeTablet(ctx context.Context, r ChangeTabletRequestObject) (ChangeTabletResponseObject, error) {
	v, err := s.app.ChangeDevice(ctx, r.Id, *r.Body)
	return ChangeTablet200JSONResponse(v), err
}

func (s *server) GetCrew(ctx context.Context, _ GetCrewRequestObject) (GetCrewResponseObject, error) {
	v, err := s.app.Crew(ctx, actor(ctx))
	return GetCrew200JSONResponse(v), err
}

func (s *server) AddMembers(ctx context.Context, r AddMembersRequestObject) (AddMembersResponseObject, error) {
	list := or(r.Body.Members, nil)
	if text := or(r.Body.List, ""); text != "" {
		more, err := app.ReadMembers(text)
		if err != nil {
			return nil, err
		}
		list = append(list, more...)
	}
	v, err := s.app.AddMembers(ctx, list)
	return AddMembers201JSONResponse(v), err
}

func (s *server) ChangeMember(ctx context.Context, r ChangeMemberRequestObject) (ChangeMemberResponseObject, error) {
	if err := s.app.ChangeMember(ctx, r.Id.String(), *r.Body); err != nil {
		return nil, err
	}
	v, err := s.app.Crew(ctx, actor(ctx))
	return ChangeMember200JSONResponse(v), err
}

func (s *server) NewPin(ctx context.Context, r NewPinRequestObject) (NewPinResponseObject, error) {
	v, err := s.app.NewPIN(ctx, r.Id.String())
	return NewPin201JSONResponse(v), err
}

func (s *server) SketchJoint(ctx context.Context, r SketchJointRequestObject) (SketchJointResponseObject, error) {
	v, err := s.app.SketchJoint(ctx, *r.Body)
	return SketchJoint200JSONResponse(v), err
}
