package lab

import (
	"context"
	"slices"

	"dynacor/core/plan"
)

// Change is what the lab says of tightening a joint in another way than it was planned before.
type Change struct {
	Setup Setup     `json:"setup"`
	Was   Procedure `json:"was"`
	Now   Procedure `json:"now"`
	Says  string    `json:"says"`
}

// ChangeOf compares two plans of a joint: the one before on the left, the new one on the right. nil: stages, order, tools
// and rounds stay as they were, or one of the plans is outside the model.
func ChangeOf(ctx context.Context, was, now *plan.Plan) (*Change, error) {
	a, known := Planned(was)
	b, knows := Planned(now)
	setup, err := FromPlan(now)
	if err != nil || !known || !knows || a.same(b) {
		return nil, nil
	}
	j, err := Of(setup)
	if err != nil {
		return nil, nil // the model has no figure for it
	}
	c, err := j.Compare(ctx, a, b)
	if err != nil {
		return nil, err
	}
	return &Change{
			Setup: setup,
			Was:   a,
			Now:   b,
			Says:  "Before on the left, now on the right. " + c.Sentence + " " + c.Sure,
		},
		nil
}

// same reports whether two ways pull the same bolts to the same stages in the same order. The targets are left out.
func (p Procedure) same(q Procedure) bool {
	return p.School == q.School && slices.Equal(p.Own, q.Own) && slices.Equal(p.Stages, q.Stages) &&
		max(1, p.Tools) == max(1, q.Tools) && p.Rounds == q.Rounds && p.TurnDeg == q.TurnDeg
}
