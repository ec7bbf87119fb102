package httpapi

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"

	"dynacor/core/calc"
	"dynacor/core/tool"
	"dynacor/internal/app"
	"dynacor/internal/procedures"
	"dynacor/internal/report"
	"dynacor/internal/store"
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
	return Session{Person: who, Site: site, Demo: demo}, err
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
	v, err := s.app.AuditLog(ctx, actor(ctx), or(r.Params.Q, ""), or(r.Params.Below, 0))
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
	v, err := s.app.Joints(ctx, app.JointQuery{Text: or(p.Q, ""), Area: or(p.Area, ""), Glyph: or(p.Glyph, ""), Package: or(p.Package, ""), Sort: string(or(p.Sort, "tag")), Limit: or(p.Limit, 100), Offset: or(p.Offset, 0)})
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

func (s *server) PutSpecification(ctx context.Context, r PutSpecificationRequestObject) (PutSpecificationResponseObject, error) {
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
	v, err := s.app.StartRun(ctx, actor(ctx), r.Tag, r.Body.Choices, r.Body.Reason)
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

func (s *server) PutPhoto(ctx context.Context, r PutPhotoRequestObject) (PutPhotoResponseObject, error) {
	data, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	return PutPhoto200JSONResponse{Id: r.Photo.String()}, s.app.PutPhoto(ctx, actor(ctx), r.Id.String(), r.Photo.String(), data)
}

func (s *server) GetPhoto(ctx context.Context, r GetPhotoRequestObject) (GetPhotoResponseObject, error) {
	p, err := s.app.GetPhoto(ctx, r.Id.String())
	return GetPhoto200ImageResponse{Body: bytes.NewReader(p.Bytes), ContentType: p.MediaType, ContentLength: int64(len(p.Bytes))}, err
}

func (s *server) ListRecords(ctx context.Context, r ListRecordsRequestObject) (ListRecordsResponseObject, error) {
	v, err := s.app.Records(ctx, or(r.Params.Q, ""), or(r.Params.Limit, 100), or(r.Params.Offset, 0))
	return ListRecords200JSONResponse(v), err
}

func (s *server) GetRecord(ctx context.Context, r GetRecordRequestObject) (GetRecordResponseObject, error) {
	v, err := s.app.Record(ctx, r.Number)
	return GetRecord200JSONResponse(v), err
}

func (s *server) GetRecordFile(ctx context.Context, r GetRecordFileRequestObject) (GetRecordFileResponseObject, error) {
	data, err := s.app.RecordFile(ctx, r.Number)
	if err != nil {
		return nil, err
	}
	return rawRecord(data), s.exported(ctx, "record "+r.Number)
}

// exported writes down what is taken out of the house, by whom.
func (s *server) exported(ctx context.Context, what string) error {
	return s.app.Exported(store.WithActor(ctx, actor(ctx).Name), what)
}

func (s *server) document(ctx context.Context, kind, number string, write func(io.Writer, app.RecordView) error) (*bytes.Buffer, error) {
	v, err := s.app.Record(ctx, number)
	if err != nil {
		return nil, err
	}
	if err := s.exported(ctx, kind+" of record "+number); err != nil {
		return nil, err
	}
	if v, err = s.app.WithPhotos(ctx, v); err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := write(&b, v); err != nil {
		return nil, fmt.Errorf("printing record %s: %w", number, err)
	}
	return &b, nil
}

func (s *server) GetCertificate(ctx context.Context, r GetCertificateRequestObject) (GetCertificateResponseObject, error) {
	b, err := s.document(ctx, "certificate", r.Number, report.Certificate)
	if err != nil {
		return nil, err
	}
	return GetCertificate200ApplicationpdfResponse{Body: b, ContentLength: int64(b.Len())}, nil
}

func (s *server) GetTagSheet(ctx context.Context, r GetTagSheetRequestObject) (GetTagSheetResponseObject, error) {
	b, err := s.document(ctx, "tag", r.Number, report.Tag)
	if err != nil {
		return nil, err
	}
	return GetTagSheet200ApplicationpdfResponse{Body: b, ContentLength: int64(b.Len())}, nil
}

func (s *server) VerifyFile(ctx context.Context, r VerifyFileRequestObject) (VerifyFileResponseObject, error) {
	data, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	v, err := s.app.Verify(ctx, data)
	return VerifyFile200JSONResponse(v), err
}

func (s *server) GetCrib(ctx context.Context, _ GetCribRequestObject) (GetCribResponseObject, error) {
	v, err := s.app.Crib(ctx)
	return GetCrib200JSONResponse(v), err
}

func (s *server) FindSetUps(ctx context.Context, r FindSetUpsRequestObject) (FindSetUpsResponseObject, error) {
	v, err := s.app.FindSetUps(ctx, *r.Body)
	return FindSetUps200JSONResponse(v), err
}

func (s *server) ListToolKinds(context.Context, ListToolKindsRequestObject) (ListToolKindsResponseObject, error) {
	return ListToolKinds200JSONResponse(tool.Kinds()), nil
}

func (s *server) GetToolLabels(ctx context.Context, r GetToolLabelsRequestObject) (GetToolLabelsResponseObject, error) {
	var tags []string
	if t := or(r.Params.Tags, ""); t != "" {
		tags = strings.Split(t, ",")
	}
	list, site, err := s.app.ToolsForLabels(ctx, tags)
	if err != nil {
		return nil, err
	}
	if err := s.exported(ctx, "labels of tools"); err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := report.ToolLabels(&b, site, list); err != nil {
		return nil, fmt.Errorf("labels: %w", err)
	}
	return GetToolLabels200ApplicationpdfResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

func (s *server) ExportTools(ctx context.Context, _ ExportToolsRequestObject) (ExportToolsResponseObject, error) {
	if err := s.exported(ctx, "list of tools, CSV"); err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := s.app.ExportTools(ctx, &b, false); err != nil {
		return nil, err
	}
	return ExportTools200TextcsvResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

func (s *server) ExportToolsSheet(ctx context.Context, _ ExportToolsSheetRequestObject) (ExportToolsSheetResponseObject, error) {
	if err := s.exported(ctx, "list of tools, spreadsheet"); err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := s.app.ExportTools(ctx, &b, true); err != nil {
		return nil, err
	}
	return ExportToolsSheet200ApplicationvndOpenxmlformatsOfficedocumentSpreadsheetmlSheetResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

func (s *server) ImportTools(ctx context.Context, r ImportToolsRequestObject) (ImportToolsResponseObject, error) {
	data, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	v, err := s.app.ImportTools(ctx, actor(ctx), data, or(r.Params.Apply, false))
	return ImportTools200JSONResponse(v), err
}

func (s *server) PutToolFile(ctx context.Context, r PutToolFileRequestObject) (PutToolFileResponseObject, error) {
	data, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	v, err := s.app.PutToolFile(ctx, actor(ctx), r.Tag, r.Id.String(), string(r.Params.Kind), r.Params.Name, data)
	return PutToolFile200JSONResponse(v), err
}

func (s *server) GetToolFile(ctx context.Context, r GetToolFileRequestObject) (GetToolFileResponseObject, error) {
	p, err := s.app.ToolFile(ctx, r.Id.String())
	return toolFile{p}, err
}

// toolFile answers with the file's own media type, to be shown and never run: nothing but pictures and PDF is taken in.
type toolFile struct{ app.Photo }

func (f toolFile) VisitGetToolFileResponse(w http.ResponseWriter) error {
	w.Header().Set("Content-Type", f.MediaType)
	w.Header().Set("Content-Disposition", "inline")
	_, err := w.Write(f.Bytes)
	return err
}

func (s *server) IssueDeviceToken(ctx context.Context, r IssueDeviceTokenRequestObject) (IssueDeviceTokenResponseObject, error) {
	token, err := s.app.IssueDeviceToken(ctx, actor(ctx), r.Tag)
	return IssueDeviceToken200JSONResponse{Tag: r.Tag, Token: token}, err
}

func (s *server) ListDoubts(ctx context.Context, _ ListDoubtsRequestObject) (ListDoubtsResponseObject, error) {
	v, err := s.app.Doubts(ctx)
	return ListDoubts200JSONResponse(v), err
}

func (s *server) PlanDoubt(ctx context.Context, r PlanDoubtRequestObject) (PlanDoubtResponseObject, error) {
	v, err := s.app.PlanDoubt(ctx, actor(ctx), r.Id.String(), r.Body.DueOn, r.Body.AssignedTo)
	return PlanDoubt200JSONResponse(v), err
}

func (s *server) GetTool(ctx context.Context, r GetToolRequestObject) (GetToolResponseObject, error) {
	v, err := s.app.Tool(ctx, r.Tag)
	return GetTool200JSONResponse(v), err
}

func (s *server) PutTool(ctx context.Context, r PutToolRequestObject) (PutToolResponseObject, error) {
	w := *r.Body
	w.Tag = r.Tag
	v, err := s.app.PutTool(ctx, actor(ctx), w, or(r.Params.Reason, ""))
	return PutTool200JSONResponse(v), err
}

func (s *server) QuarantineTool(ctx context.Context, r QuarantineToolRequestObject) (QuarantineToolResponseObject, error) {
	v, err := s.app.Quarantine(ctx, actor(ctx), r.Tag, r.Body.Reason)
	return QuarantineTool200JSONResponse(v), err
}

func (s *server) ReleaseTool(ctx context.Context, r ReleaseToolRequestObject) (ReleaseToolResponseObject, error) {
	v, err := s.app.Release(ctx, actor(ctx), r.Tag, r.Body.Reason)
	return ReleaseTool200JSONResponse(v), err
}

func (s *server) ListCalculations(_ context.Context, r ListCalculationsRequestObject) (ListCalculationsResponseObject, error) {
	return ListCalculations200JSONResponse(calc.Describe(or(r.Params.Q, ""))), nil
}

func (s *server) Calculate(ctx context.Context, r CalculateRequestObject) (CalculateResponseObject, error) {
	v, err := s.app.Calculate(ctx, r.Name, *r.Body)
	if err != nil {
		return nil, err
	}
	return Calculate200JSONResponse(*v), nil
}

func (s *server) CheckTool(ctx context.Context, r CheckToolRequestObject) (CheckToolResponseObject, error) {
	v, err := s.app.CheckTool(ctx, actor(ctx), r.Tag, *r.Body)
	return CheckTool200JSONResponse(v), err
}

func (s *server) CheckOutTool(ctx context.Context, r CheckOutToolRequestObject) (CheckOutToolResponseObject, error) {
	v, err := s.app.CheckOut(ctx, actor(ctx), r.Tag, r.Body.Place)
	return CheckOutTool200JSONResponse(v), err
}

func (s *server) ReturnTool(ctx context.Context, r ReturnToolRequestObject) (ReturnToolResponseObject, error) {
	v, err := s.app.ReturnTool(ctx, actor(ctx), r.Tag, *r.Body)
	return ReturnTool200JSONResponse(v), err
}

func (s *server) CloseDoubt(ctx context.Context, r CloseDoubtRequestObject) (CloseDoubtResponseObject, error) {
	v, err := s.app.CloseDoubt(ctx, actor(ctx), r.Id.String(), r.Body.Reason)
	return CloseDoubt200JSONResponse(v), err
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

func (s *server) GetProcedureSchema(context.Context, GetProcedureSchemaRequestObject) (GetProcedureSchemaResponseObject, error) {
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

func (s *server) ApproveProcedure(ctx context.Context, r ApproveProcedureRequestObject) (ApproveProcedureResponseObject, error) {
	v, err := s.app.ApproveProcedure(ctx, actor(ctx), r.Code, r.Version)
	return ApproveProcedure200JSONResponse(v), err
}

func (s *server) GetLibraryValue(ctx context.Context, r GetLibraryValueRequestObject) (GetLibraryValueResponseObject, error) {
	v, err := s.app.LibraryValueHistory(ctx, string(r.Shelf), r.Code)
	return GetLibraryValue200JSONResponse(v), err
}

func (s *server) PutLibraryValue(ctx context.Context, r PutLibraryValueRequestObject) (PutLibraryValueResponseObject, error) {
	v, err := s.app.PutLibraryValue(ctx, actor(ctx), string(r.Shelf), r.Code, *r.Body)
	return PutLibraryValue200JSONResponse(v), err
}

func (s *server) WithdrawLibraryValue(ctx context.Context, r WithdrawLibraryValueRequestObject) (WithdrawLibraryValueResponseObject, error) {
	v, err := s.app.WithdrawLibraryValue(ctx, actor(ctx), string(r.Shelf), r.Code, r.Body.Reason)
	return WithdrawLibraryValue200JSONResponse(v), err
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

func (s *server) ExportJoints(ctx context.Context, _ ExportJointsRequestObject) (ExportJointsResponseObject, error) {
	if err := s.exported(ctx, "register of joints, CSV"); err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := s.app.Export(ctx, &b); err != nil {
		return nil, err
	}
	return ExportJoints200TextcsvResponse{Body: &b, ContentLength: int64(b.Len())}, nil
}

func (s *server) AimDevice(ctx context.Context, r AimDeviceRequestObject) (AimDeviceResponseObject, error) {
	return AimDevice204Response{}, s.app.AimDevice(ctx, actor(ctx), r.Tag, *r.Body)
}

func (s *server) ListDeviceResults(ctx context.Context, r ListDeviceResultsRequestObject) (ListDeviceResultsResponseObject, error) {
	list, last, err := s.app.DeviceResults(ctx, r.Tag, or(r.Params.After, -1))
	return ListDeviceResults200JSONResponse{Last: last, Results: list}, err
}
