package app

import (
	"context"
	"io"

	"dynacor/core/lab"
	"dynacor/internal/exchange"
)

// LabSetup is a joint of the register as the lab sets it, with the way in which it is planned to be tightened. Refused: one that the model does not know, or whose plan has no
// bolt force yet.
func (a *App) LabSetup(ctx context.Context, tag string) (lab.Bench, error) {
	j, err := a.q.GetJoint(ctx, tag)
	if none(err) {
		return lab.Bench{}, notFound("joint", tag)
	}
	if err != nil {
		return lab.Bench{}, err
	}
	var d JointDetail
	if err := a.jointPlan(ctx, j, &d); err != nil {
		return lab.Bench{}, err
	}
	if d.Plan == nil {
		return lab.Bench{}, newProblem(
			Conflict,
			"%s has no plan: %s",
			"Complete its specification first.",
			tag,
			d.PlanError,
		)
	}
	out := lab.Bench{}
	if out.Setup, err = lab.FromPlan(d.Plan); err != nil {
		return out, err
	}
	if p, ok := lab.Planned(d.Plan); ok {
		out.Planned = &p
	}
	return out, nil
}

// LabHistory writes what each bolt has after each pull of a way of tightening as a spreadsheet. Refused as in lab.Of and
// Joint.Play.
func (a *App) LabHistory(ctx context.Context, w io.Writer, s lab.Setup, p lab.Procedure) error {
	j, err := lab.Of(s)
	if err != nil {
		return err
	}
	o, err := j.Play(ctx, p)
	if err != nil {
		return err
	}
	return exchange.WriteSpreadsheet(w, exchange.HistorySheet(o))
}
