package httpapi

import (
	"bytes"
	"context"
	"io"

	"dynacor/internal/app"
)

func or[T any](p *T, def T) T {
	if p == nil {
		return def
	}
	return *p
}

func (s *server) ListPeople(ctx context.Context, _ ListPeopleRequestObject) (ListPeopleResponseObject, error) {
	list, err := s.app.People(ctx)
	return ListPeople200JSONResponse(list), err
}

func (s *server) session(ctx context.Context, who *Person) (Session, error) {
	site, err := s.app.Setting(ctx, app.SettingSite, "Site not named")
	if err != nil {
		return Session{}, err
	}
	demo, err := s.app.Setting(ctx, app.SettingDemo, "")
	role := ""
	if who != nil {
		role = who.Role
	}
	if err != nil {
		return Session{}, err
	}
	first := false
	if who == nil {
		first, err = s.app.IsFirstDay(ctx)
	}
	return Session{Person: who, May: s.may(role), Site: site, Demo: demo, FirstDay: first}, err
}

func (s *server) GetSession(ctx context.Context, _ GetSessionRequestObject) (GetSessionResponseObject, error) {
	var who *Person
	if a := actor(ctx); a.ID != "" {
		who = &a.Person
	}
	v, err := s.session(ctx, who)
	return GetSession200JSONResponse(v), err
}

func (s *server) SignIn(ctx context.Context, r SignInRequestObject) (SignInResponseObject, error) {
	from := asked(ctx)
	from.Login = actor(ctx).Login // hands are changed: the one before is not signed in here any more
	p, login, err := s.app.SignIn(ctx, *r.Body, from)
	if err != nil {
		return nil, err
	}
	if err := s.sm.RenewToken(ctx); err != nil { // a token seen before the sign-in is worth nothing after it
		return nil, err
	}
	s.sm.Put(ctx, sessionLogin, login)
	v, err := s.session(ctx, &p)
	return SignIn200JSONResponse(v), err
}

func (s *server) SignOut(ctx context.Context, _ SignOutRequestObject) (SignOutResponseObject, error) {
	if err := s.app.SignOut(ctx, actor(ctx)); err != nil {
		return nil, err
	}
	if err := s.sm.Destroy(ctx); err != nil {
		return nil, err
	}
	v, err := s.session(ctx, nil)
	return SignOut200JSONResponse(v), err
}

func (s *server) GetTrust(ctx context.Context, _ GetTrustRequestObject) (GetTrustResponseObject, error) {
	v, err := s.app.Trust(ctx)
	return GetTrust200JSONResponse(v), err
}

func (s *server) MakeAnchor(ctx context.Context, _ MakeAnchorRequestObject) (MakeAnchorResponseObject, error) {
	v, err := s.app.Anchor(ctx)
	return MakeAnchor201JSONResponse(v), err
}

func (s *server) GetAnchor(ctx context.Context, r GetAnchorRequestObject) (GetAnchorResponseObject, error) {
	v, err := s.app.AnchorFile(ctx, r.Number)
	return GetAnchor200JSONResponse(v), err
}

func (s *server) ListAudit(ctx context.Context, r ListAuditRequestObject) (ListAuditResponseObject, error) {
	v, err := s.app.AuditLog(ctx, or(r.Params.Q, ""), or(r.Params.Below, 0))
	return ListAudit200JSONResponse(v), err
}

func (s *server) ListLogins(ctx context.Context, _ ListLoginsRequestObject) (ListLoginsResponseObject, error) {
	v, err := s.app.Logins(ctx, actor(ctx))
	return ListLogins200JSONResponse(v), err
}

func (s *server) EndLogin(ctx context.Context, r EndLoginRequestObject) (EndLoginResponseObject, error) {
	v, err := s.app.EndLogin(ctx, actor(ctx), r.Id.String())
	return EndLogin200JSONResponse(v), err
}

func (s *server) GetToday(ctx context.Context, _ GetTodayRequestObject) (GetTodayResponseObject, error) {
	v, err := s.app.Today(ctx, actor(ctx))
	return GetToday200JSONResponse(v), err
}

func (s *server) ListJoints(ctx context.Context, r ListJointsRequestObject) (ListJointsResponseObject, error) {
	p := r.Params
	v, err := s.app.Joints(ctx, app.JointQuery{Text: or(p.Q, ""), Area: or(p.Area, ""), Glyph: or(p.Glyph, ""),
		Package: or(p.Package, ""), Sort: string(or(p.Sort, "tag")), Limit: or(p.Limit, 100), Offset: or(p.Offset, 0)})
	return ListJoints200JSONResponse(v), err
}

func (s *server) CreateJoint(ctx context.Context, r CreateJointRequestObject) (CreateJointResponseObject, error) {
	v, err := s.app.CreateJoint(ctx, actor(ctx), *r.Body)
	return CreateJoint201JSONResponse(v), err
}

func (s *server) GetJoint(ctx context.Context, r GetJointRequestObject) (GetJointResponseObject, error) {
	v, err := s.app.Joint(ctx, r.Tag)
	return GetJoint200JSONResponse(v), err
}

func (s *server) EditJoint(ctx context.Context, r EditJointRequestObject) (EditJointResponseObject, error) {
	v, err := s.app.EditJoint(ctx, r.Tag, *r.Body)
	return EditJoint200JSONResponse(v), err
}

func (s *server) CopyJoint(ctx context.Context, r CopyJointRequestObject) (CopyJointResponseObject, error) {
	v, err := s.app.CopyJoint(ctx, actor(ctx), r.Tag, r.Body.Tag)
	return CopyJoint201JSONResponse(v), err
}

func (s *server) PutSpecification(ctx context.Context, r PutSpecificationRequestObject) (PutSpecificationResponseObject,
	error) {
	v, err := s.app.PutSpecification(ctx, actor(ctx), r.Tag, r.Body.Specification, r.Body.Reason)
	return PutSpecification200JSONResponse(v), err
}

func (s *server) PreviewPlan(ctx context.Context, r PreviewPlanRequestObject) (PreviewPlanResponseObject, error) {
	p, err := s.app.PreviewPlan(ctx, r.Tag, *r.Body)
	if err != nil {
		return nil, err
	}
	return PreviewPlan200JSONResponse(*p), nil
}

func (s *server) SavePlan(ctx context.Context, r SavePlanRequestObject) (SavePlanResponseObject, error) {
	v, err := s.app.SavePlan(ctx, actor(ctx), r.Tag, r.Body.Choices, r.Body.Reason)
	return SavePlan200JSONResponse(v), err
}

func (s *server) StartRun(ctx context.Context, r StartRunRequestObject) (StartRunResponseObject, error) {
	if or(r.Body.Way, "") == PlanInputWayApart {
		v, err := s.app.TakeApart(ctx, actor(ctx), r.Tag, or(r.Body.Again, ""))
		return StartRun201JSONResponse(v), err
	}
	v, err := s.app.WorkAgain(ctx, actor(ctx), r.Tag, r.Body.Choices, r.Body.Reason, or(r.Body.Again, ""))
	return StartRun201JSONResponse(v), err
}

func (s *server) GetRun(ctx context.Context, r GetRunRequestObject) (GetRunResponseObject, error) {
	v, err := s.app.Run(ctx, r.Id.String())
	return GetRun200JSONResponse(v), err
}

func (s *server) AppendEvents(ctx context.Context, r AppendEventsRequestObject) (AppendEventsResponseObject, error) {
	v, err := s.app.TakeParcel(ctx, actor(ctx), r.Id.String(), *r.Body)
	return AppendEvents200JSONResponse(v), err
}

func (s *server) EntriesAfter(ctx context.Context, r EntriesAfterRequestObject) (EntriesAfterResponseObject, error) {
	v, err := s.app.EntriesAfter(ctx, r.Id.String(), or(r.Params.After, 0))
	return EntriesAfter200JSONResponse(v), err
}

func (s *server) SignRun(ctx context.Context, r SignRunRequestObject) (SignRunResponseObject, error) {
	v, err := s.app.Sign(ctx, actor(ctx), r.Id.String(), *r.Body)
	return SignRun200JSONResponse(v), err
}

func (s *server) SealRun(ctx context.Context, r SealRunRequestObject) (SealRunResponseObject, error) {
	v, err := s.app.Seal(ctx, r.Id.String())
	return SealRun200JSONResponse(v), err
}

func (s *server) AddToRecord(ctx context.Context, r AddToRecordRequestObject) (AddToRecordResponseObject, error) {
	v, err := s.app.Add(ctx, actor(ctx), r.Number, *r.Body)
	return AddToRecord201JSONResponse(v), err
}

func (s *server) PutPhoto(ctx context.Context, r PutPhotoRequestObject) (PutPhotoResponseObject, error) {
	data, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	return PutPhoto200JSONResponse{Id: r.Photo.String()}, s.app.PutPhoto(ctx, actor(ctx), r.Id.String(),
		r.Photo.String(), data)
}

func (s *server) GetPhoto(ctx context.Context, r GetPhotoRequestObject) (GetPhotoResponseObject, error) {
	p, err := s.app.GetPhoto(ctx, r.Id.String())
	return GetPhoto200ImageResponse{Body: bytes.NewReader(p.Bytes), ContentType: p.MediaType,
		ContentLength: int64(len(p.Bytes))}, err
}

func (s *server) GetRecord(ctx context.Context, r GetRecordRequestObject) (GetRecordResponseObject, error) {
	v, err := s.app.Record(ctx, r.Number)
	return GetRecord200JSONResponse(v), err
}

func (s *server) VerifyFile(ctx context.Context, r VerifyFileRequestObject) (VerifyFileResponseObject, error) {
	data, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	v, err := s.app.Verify(ctx, data)
	return VerifyFile200JSONResponse(v), err
}

func (s *server) ListPackages(ctx context.Context, _ ListPackagesRequestObject) (ListPackagesResponseObject, error) {
	v, err := s.app.Packages(ctx)
	return ListPackages200JSONResponse(v), err
}

func (s *server) PackageNeeds(ctx context.Context, r PackageNeedsRequestObject) (PackageNeedsResponseObject, error) {
	v, err := s.app.PackageNeeds(ctx, r.Code)
	return PackageNeeds200JSONResponse(v), err
}

func (s *server) ImportJoints(ctx context.Context, r ImportJointsRequestObject) (ImportJointsResponseObject, error) {
	data, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	v, err := s.app.Import(ctx, actor(ctx), data, or(r.Params.Apply, false))
	return ImportJoints200JSONResponse(v), err
}
