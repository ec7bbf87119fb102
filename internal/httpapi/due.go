package httpapi

import (
	"bytes"
	"context"

	"dynacor/internal/app"
)

func (s *server) ListDue(ctx context.Context, _ ListDueRequestObject) (ListDueResponseObject, error) {
	v, err := s.app.FallsDue(ctx, actor(ctx))
	return ListDue200JSONResponse(v), err
}

func (s *server) PutEmail(ctx context.Context, r PutEmailRequestObject) (PutEmailResponseObject, error) {
	return PutEmail204Response{}, s.app.SetEmail(ctx, actor(ctx), r.Body.Email)
}

func (s *server) RemindNow(ctx context.Context, _ RemindNowRequestObject) (RemindNowResponseObject, error) {
	return RemindNow204Response{}, s.app.RemindNow(ctx)
}

func (s *server) ListFeeds(ctx context.Context, _ ListFeedsRequestObject) (ListFeedsResponseObject, error) {
	v, err := s.app.Feeds(ctx, actor(ctx))
	return ListFeeds200JSONResponse(v), err
}

func (s *server) MakeFeed(ctx context.Context, r MakeFeedRequestObject) (MakeFeedResponseObject, error) {
	v, err := s.app.MakeFeed(ctx, actor(ctx), r.Body.Site)
	return MakeFeed200JSONResponse(v), err
}

func (s *server) WithdrawFeed(ctx context.Context, r WithdrawFeedRequestObject) (WithdrawFeedResponseObject, error) {
	return WithdrawFeed204Response{}, s.app.WithdrawFeed(ctx, actor(ctx), r.Id.String())
}

func (s *server) GetCalendar(ctx context.Context, r GetCalendarRequestObject) (GetCalendarResponseObject, error) {
	data, err := s.app.Calendar(ctx, r.Token)
	if err != nil {
		return nil, err
	}
	return GetCalendar200TextcalendarResponse{Body: bytes.NewReader(data), ContentLength: int64(len(data))}, nil
}

func (s *server) ListBackground(ctx context.Context, _ ListBackgroundRequestObject) (ListBackgroundResponseObject,
	error) {
	v, err := s.app.BackgroundJobs(ctx)
	return ListBackground200JSONResponse(v), err
}

func (s *server) RetryBackground(ctx context.Context, r RetryBackgroundRequestObject) (RetryBackgroundResponseObject,
	error) {
	return RetryBackground204Response{}, s.app.RetryJob(ctx, r.Id)
}

func (s *server) CancelBackground(ctx context.Context, r CancelBackgroundRequestObject) (CancelBackgroundResponseObject,
	error) {
	return CancelBackground204Response{}, s.app.CancelJob(ctx, r.Id)
}

func (s *server) ListHandovers(ctx context.Context, _ ListHandoversRequestObject) (ListHandoversResponseObject, error) {
	v, err := s.app.Handovers(ctx)
	return ListHandovers200JSONResponse(v), err
}

func (s *server) DraftHandover(ctx context.Context, _ DraftHandoverRequestObject) (DraftHandoverResponseObject, error) {
	v, err := s.app.DraftHandover(ctx, actor(ctx))
	return DraftHandover200JSONResponse(v), err
}

func (s *server) WriteHandover(ctx context.Context, r WriteHandoverRequestObject) (WriteHandoverResponseObject, error) {
	v, err := s.app.WriteHandover(ctx, actor(ctx), r.Body.Words)
	return WriteHandover201JSONResponse(v), err
}

func (s *server) TakeHandover(ctx context.Context, r TakeHandoverRequestObject) (TakeHandoverResponseObject, error) {
	v, err := s.app.TakeHandover(ctx, actor(ctx), r.Id.String(), *r.Body)
	return TakeHandover200JSONResponse(v), err
}

func (s *server) ListStock(ctx context.Context, _ ListStockRequestObject) (ListStockResponseObject, error) {
	v, err := s.app.Stock(ctx)
	return ListStock200JSONResponse(v), err
}

func (s *server) PutStock(ctx context.Context, r PutStockRequestObject) (PutStockResponseObject, error) {
	in := *r.Body
	v, err := s.app.PutStock(ctx, actor(ctx), app.StockLine{ID: r.Id.String(), Kind: string(in.Kind), What: in.What,
		Quantity: in.Quantity, Place: in.Place, UseBy: in.UseBy})
	return PutStock200JSONResponse(v), err
}

func (s *server) DropStock(ctx context.Context, r DropStockRequestObject) (DropStockResponseObject, error) {
	v, err := s.app.DropStock(ctx, r.Id.String())
	return DropStock200JSONResponse(v), err
}
