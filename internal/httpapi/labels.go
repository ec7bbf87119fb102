package httpapi

import (
	"bytes"
	"context"
	"fmt"
	"strings"

	"dynacor/core/quantity"
	"dynacor/internal/app"
	"dynacor/internal/report"
)

// mostTags is how many records are opened to print their tags at once.
const mostTags = 100

// labelsOf are the labels that are asked for. Tags of records are drawn from the sealed records themselves.
func (s *server) labelsOf(ctx context.Context, q app.LabelQuery) (Labels, error) {
	out := Labels{Labels: []report.Label{}, Stocks: report.Stocks}
	if q.Of == string(GetLabelsParamsOfTags) {
		return s.tagsOf(ctx, q, out)
	}
	list, site, err := s.app.Labels(ctx, q)
	if err != nil {
		return out, err
	}
	out.Site = site
	for _, l := range list {
		out.Labels = append(out.Labels, report.Label(l))
	}
	return out, nil
}

func (s *server) tagsOf(ctx context.Context, q app.LabelQuery, out Labels) (Labels, error) {
	site, err := s.app.Site(ctx)
	if err != nil {
		return out, err
	}
	out.Site = site.Name
	numbers := q.IDs
	if len(numbers) == 0 {
		if numbers, err = s.app.RecordsThatSpeak(ctx, q.Package); err != nil {
			return out, err
		}
	}
	if len(numbers) > mostTags {
		return out, quantity.Refuse("ids", fmt.Sprintf("Choose %d or fewer.", mostTags),
			"%d tags are too many at once.", len(numbers))
	}
	for _, n := range numbers {
		v, err := s.app.Record(ctx, n)
		if err != nil {
			return out, err
		}
		p := printed(v)
		p.Address = site.Address
		out.Labels = append(out.Labels, report.TagLabel(p))
	}
	return out, nil
}

func (s *server) GetLabels(ctx context.Context, r GetLabelsRequestObject) (GetLabelsResponseObject, error) {
	v, err := s.labelsOf(ctx, labelQuery(r.Params))
	return GetLabels200JSONResponse(v), err
}

func labelQuery(p GetLabelsParams) app.LabelQuery {
	q := app.LabelQuery{Of: string(p.Of), Package: or(p.Package, ""), Lubricant: or(p.Lubricant, ""),
		Batch: or(p.Batch, ""), UseBy: or(p.UseBy, ""), Count: or(p.Count, 1)}
	if ids := or(p.Ids, ""); ids != "" {
		q.IDs = strings.Split(ids, ",")
	}
	return q
}

func (s *server) PrintLabels(ctx context.Context, r PrintLabelsRequestObject) (PrintLabelsResponseObject, error) {
	p := r.Params
	stock, err := report.StockOf(or(p.Stock, ""))
	if err != nil {
		return nil, err
	}
	v, err := s.labelsOf(ctx, labelQuery(GetLabelsParams{Of: GetLabelsParamsOf(p.Of), Ids: p.Ids, Package: p.Package,
		Lubricant: p.Lubricant, Batch: p.Batch, UseBy: p.UseBy, Count: p.Count}))
	if err != nil {
		return nil, err
	}
	if len(v.Labels) == 0 {
		return nil, quantity.Refuse("of", "Choose others.", "There is nothing to print a label for.")
	}
	var b bytes.Buffer
	if err := report.Labels(&b, "Labels of "+string(p.Of), v.Site, stock, or(p.From, 1), v.Labels); err != nil {
		return nil, err
	}
	return PrintLabels200ApplicationpdfResponse{Body: &b, ContentLength: int64(b.Len())},
		s.exported(ctx, "labels of "+string(p.Of))
}
