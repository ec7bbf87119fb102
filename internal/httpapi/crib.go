package httpapi

import (
	"context"
	"io"
	"net/http"

	"dynacor/core/tool"
	"dynacor/internal/app"
)

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

func (s *server) IssueDeviceToken(ctx context.Context, r IssueDeviceTokenRequestObject) (IssueDeviceTokenResponseObject,
	error) {
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

func (s *server) QuarantineTool(ctx context.Context, r QuarantineToolRequestObject) (QuarantineToolResponseObject,
	error) {
	v, err := s.app.Quarantine(ctx, actor(ctx), r.Tag, r.Body.Reason)
	return QuarantineTool200JSONResponse(v), err
}

func (s *server) ReleaseTool(ctx context.Context, r ReleaseToolRequestObject) (ReleaseToolResponseObject, error) {
	v, err := s.app.Release(ctx, actor(ctx), r.Tag, r.Body.Reason)
	return ReleaseTool200JSONResponse(v), err
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

func (s *server) AimDevice(ctx context.Context, r AimDeviceRequestObject) (AimDeviceResponseObject, error) {
	return AimDevice204Response{}, s.app.AimDevice(ctx, actor(ctx), r.Tag, *r.Body)
}

func (s *server) ListDeviceResults(ctx context.Context,
	r ListDeviceResultsRequestObject) (ListDeviceResultsResponseObject, error) {
	list, last, err := s.app.DeviceResults(ctx, r.Tag, or(r.Params.After, -1))
	return ListDeviceResults200JSONResponse{Last: last, Results: list}, err
}
