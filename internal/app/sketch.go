package app

import (
	"context"

	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/internal/store"
)

// JointSketch is a joint that is being drawn: what has been typed so far.
type JointSketch struct {
	Family        string             `json:"family"`
	FlangeSize    string             `json:"flangeSize"` // as typed, "" for none
	Specification plan.Specification `json:"specification"`
}

// Sketched is what can be said of it: the size, when a table holds it, and the plan, or why there is none yet.
type Sketched struct {
	Size *fastener.FlangeSize `json:"size,omitempty"`
	Plan *plan.Plan           `json:"plan,omitempty"`
	// what is missing or wrong, and the field that it is about
	Field string `json:"field"`
	What  string `json:"what"`
}

// SketchJoint says what a joint would be and how it would be planned, while it is being typed. Nothing is kept.
func (a *App) SketchJoint(ctx context.Context, in JointSketch) (Sketched, error) {
	var out Sketched
	own, err := ownValues(ctx, a.q)
	if err != nil {
		return out, err
	}
	if s, ok := own.FlangeSize(in.FlangeSize); ok {
		out.Size = &s
	}
	if in.Family == "" {
		in.Family = "gasketed_flange"
	}
	p, err := a.planFor(ctx, a.q, store.Joint{Tag: "–", Name: "–", Family: in.Family}, in.Specification, plan.Choices{})
	if pr, ok := AsProblem(err); ok {
		out.Field, out.What = pr.Field, pr.Error()
		return out, nil
	}
	out.Plan = p
	return out, err
}
