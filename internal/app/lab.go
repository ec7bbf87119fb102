package app

import (
	"context"
	"io"
	"slices"
	"strings"

	"github.com/google/uuid"

	"dynacor/core/lab"
	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/internal/exchange"
	"dynacor/internal/store"
)

// mostMeasured is how many records of a joint are looked through for what was measured on it, the newest.
const mostMeasured = 10

// LabSetup is a joint of the register as the lab sets it, with the way in which it is planned to be tightened and what
// was measured on it. Refused: one that the model does not know, or whose plan has no bolt force yet.
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
			j.Tag,
			d.PlanError,
		)
	}
	out := lab.Bench{Measured: []lab.Measured{}}
	if out.Setup, err = lab.FromPlan(d.Plan); err != nil {
		return out, err
	}
	if p, ok := lab.Planned(d.Plan); ok {
		out.Planned = &p
	}
	if out.Kept, err = labFit(ctx, a.q, j); err != nil {
		return out, err
	}
	if out.Kept != nil {
		out.Setup.CurveBy = out.Kept.Fitted.CurveBy
	}
	rows, err := a.q.RecordsOfJoint(ctx, j.ID)
	if err != nil {
		return out, err
	}
	var numbers []string
	for _, r := range rows[:min(len(rows), mostMeasured)] {
		numbers = append(numbers, r.Number)
	}
	var failed error
	for rec := range a.opened(ctx, numbers, &failed) {
		out.Measured = append(out.Measured, lab.MeasuredIn(rec)...)
	}
	return out, failed
}

// labFit is the gasket that was kept for a joint last, nil when it is its typical one.
func labFit(ctx context.Context, q *store.Queries, j store.Joint) (*lab.Kept, error) {
	row, err := q.LastLabFit(ctx, j.ID)
	if none(err) || err == nil && row.Fitted == nil {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	f, err := decode[lab.Fitted](string(row.Fitted))
	return &lab.Kept{Fitted: f, Reason: row.Reason, By: row.MadeBy, At: row.MadeAt}, err
}

// KeepLabFit fits the gasket of a joint to what some of its records measured, and keeps it with the joint; without
// records it goes back to the typical curve. Refused: no reason, a record that measured nothing, and as in lab.Fit.
func (a *App) KeepLabFit(
	ctx context.Context,
	who Actor,
	tag string,
	records []string,
	reason string,
) (lab.Bench, error) {
	reason = strings.TrimSpace(reason)
	if reason == "" {
		return lab.Bench{}, &Problem{Kind: Invalid, Field: "reason", Title: "A value of the site needs a reason.",
			Remedy: "Say why it is right for this joint."}
	}
	b, err := a.LabSetup(ctx, tag)
	if err != nil {
		return b, err
	}
	var data []byte
	if len(records) > 0 {
		if data, err = fitted(ctx, b, records); err != nil {
			return b, err
		}
	}
	err = a.tx(ctx, func(q *store.Queries) error {
		j, err := lockInService(ctx, q, tag)
		if err != nil {
			return err
		}
		return q.InsertLabFit(ctx, store.InsertLabFitParams{ID: uuid.Must(uuid.NewV7()), JointID: j.ID, Fitted: data,
			Reason: reason, MadeBy: who.Name, MadeAt: a.now().UTC()})
	})
	if err != nil {
		return b, err
	}
	return a.LabSetup(ctx, tag)
}

func fitted(ctx context.Context, b lab.Bench, records []string) ([]byte, error) {
	var runs []lab.Measured
	for _, number := range records {
		i := slices.IndexFunc(b.Measured, func(m lab.Measured) bool { return m.From == number })
		if i < 0 {
			return nil, quantity.Refuse("records", "Choose records with measured bolts.", "%s measured nothing", number)
		}
		runs = append(runs, b.Measured[i])
	}
	j, err := lab.Of(b.Setup)
	if err != nil {
		return nil, err
	}
	f, err := j.Fit(ctx, runs)
	if err != nil {
		return nil, err
	}
	data, err := encode(f)
	return []byte(data), err
}

// CompareChange is what the lab says of the plan that choices would give against the one before, nil when the house
// rules ask for no comparison or there is nothing to compare.
func (a *App) CompareChange(ctx context.Context, tag string, c plan.Choices) (*lab.Change, error) {
	j, err := a.q.GetJoint(ctx, tag)
	if none(err) {
		return nil, notFound("joint", tag)
	}
	if err != nil {
		return nil, err
	}
	p, err := a.makePlan(ctx, a.q, j, c)
	if err != nil {
		return nil, err
	}
	return a.change(ctx, a.q, j, p)
}

func (a *App) change(ctx context.Context, q *store.Queries, j store.Joint, p *plan.Plan) (*lab.Change, error) {
	if p.HouseRules.LabCompare != plan.LabAsked {
		return nil, nil
	}
	was, err := a.planBefore(ctx, q, j)
	if err != nil {
		return nil, err
	}
	return lab.ChangeOf(ctx, was, p)
}

// planBefore is the plan of a joint that was kept last, else the one that the house rules alone give.
func (a *App) planBefore(ctx context.Context, q *store.Queries, j store.Joint) (*plan.Plan, error) {
	row, err := q.LatestPlan(ctx, j.ID)
	if none(err) {
		return a.makePlan(ctx, q, j, plan.Choices{})
	}
	if err != nil {
		return nil, err
	}
	return decode[*plan.Plan](row.Data)
}

// compared refuses a plan with other stages or another order that was not compared in the lab, where the house rules
// ask for it: whoever changes them names what the lab says. Nor does a plan name a comparison that the lab did not
// make; one that the plan before names stays.
func (a *App) compared(ctx context.Context, q *store.Queries, j store.Joint, p *plan.Plan) error {
	c, err := a.change(ctx, q, j, p)
	if err != nil {
		return err
	}
	if c != nil && p.Choices.Compared != c.Says {
		return &Problem{Kind: Invalid, Field: "compared",
			Title:  "Stages or order of " + j.Tag + " change: the house rules ask to compare both in the Lab first.",
			Remedy: "It says: " + c.Says}
	}
	if c != nil || p.Choices.Compared == "" {
		return nil
	}
	was, err := a.planBefore(ctx, q, j)
	if err != nil || was.Choices.Compared == p.Choices.Compared {
		return err
	}
	return &Problem{
		Kind:   Invalid,
		Field:  "compared",
		Title:  "What the plan is to name as compared is not what the Lab says.",
		Remedy: "Leave it out.",
	}
}

// LabHistory writes what each bolt has after each pull of a way of tightening as a spreadsheet. Refused as in lab.Of
// and Joint.Play.
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
