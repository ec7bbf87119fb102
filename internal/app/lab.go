package app

import (
	"context"

	"dynacor/core/lab"
)

// LabSetup is a joint of the register as the lab sets it. Refused: one that the model does not know, or whose plan has no
// bolt force yet.
func (a *App) LabSetup(ctx context.Context, tag string) (lab.Setup, error) {
	j, err := a.q.GetJoint(ctx, tag)
	if none(err) {
		return lab.Setup{}, notFound("joint", tag)
	}
	if err != nil {
		return lab.Setup{}, err
	}
	var d JointDetail
	if err := a.jointPlan(ctx, j, &d); err != nil {
		return lab.Setup{}, err
	}
	if d.Plan == nil {
		return lab.Setup{}, newProblem(
			Conflict,
			"%s has no plan: %s",
			"Complete its specification first.",
			tag,
			d.PlanError,
		)
	}
	return lab.FromPlan(d.Plan)
}
