package app

import (
	"context"
	"fmt"
	"strings"

	"github.com/google/uuid"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/internal/store"
)

func (a *App) jointPlan(ctx context.Context, j store.Joint, d *JointDetail) error {
	row, err := a.q.LatestPlan(ctx, j.ID)
	if err != nil && !none(err) {
		return err
	}
	if err == nil {
		p, err := decode[*plan.Plan](row.Data)
		if err != nil {
			return err
		}
		rules, err := houseRules(ctx, a.q)
		if err != nil {
			return err
		}
		old, err := stale(ctx, a.q, row, j, rules)
		if err != nil {
			return err
		}
		d.Saved = &SavedPlan{ID: row.ID.String(), Version: int(row.Version), MadeBy: row.MadeBy,
			ApprovedBy: row.ApprovedBy, Reason: row.Reason, MadeAt: row.MadeAt, Stale: old}
		d.Plan = p
		return nil
	}
	p, err := a.makePlan(ctx, a.q, j, plan.Choices{})
	if pr, ok := AsProblem(err); ok {
		d.PlanError = pr.Error()
		return nil
	}
	d.Plan = p
	return err
}

// stale says why a plan no longer fits.
func stale(ctx context.Context, q *store.Queries, row store.Plan, j store.Joint, rules plan.HouseRules) (string,
	error) {
	switch {
	case row.SpecificationVersion != j.SpecificationVersion:
		return fmt.Sprintf("The plan was made from version %d of the specification; version %d is in force.",
			row.SpecificationVersion, j.SpecificationVersion), nil
	case int(row.HouseRulesVersion) != rules.Version:
		return fmt.Sprintf("The plan was made with version %d of the house rules; version %d is in force.",
			row.HouseRulesVersion, rules.Version), nil
	}
	fam, err := family(ctx, q, j.Family)
	if err != nil {
		return "", err
	}
	if row.ProcedureVersion > 0 && int(row.ProcedureVersion) != fam.Version {
		return fmt.Sprintf("The plan was made by version %d of the procedure; version %d is in force.",
			row.ProcedureVersion, fam.Version), nil
	}
	changed, err := q.ChangedSince(ctx, row.ID)
	if err != nil || len(changed) == 0 {
		return "", err
	}
	c := changed[0]
	if c.Withdrawn {
		return fmt.Sprintf("The plan was made with version %d of %s in the Library, which has been withdrawn.",
			c.Version, c.Code), nil
	}
	return fmt.Sprintf("The plan was made with version %d of %s in the Library; version %d is in force.", c.Version,
		c.Code, c.Now), nil
}

func (a *App) makePlan(ctx context.Context, q *store.Queries, j store.Joint, c plan.Choices) (*plan.Plan, error) {
	spec, err := specificationOf(ctx, q, j)
	if err != nil {
		return nil, err
	}
	in, err := a.planInput(ctx, q, j, spec, c)
	if err != nil {
		return nil, err
	}
	return plan.Make(in)
}

// specificationOf is the specification of a joint that is in force.
func specificationOf(ctx context.Context, q *store.Queries, j store.Joint) (plan.Specification, error) {
	row, err := q.GetSpecification(ctx, store.GetSpecificationParams{JointID: j.ID, Version: j.SpecificationVersion})
	if none(err) {
		return plan.Specification{}, newProblem(Invalid, "%s has no specification.", "Enter one in Read.", j.Tag)
	}
	if err != nil {
		return plan.Specification{}, err
	}
	return decode[plan.Specification](row.Data)
}

// planFor makes the plan of a joint by a specification, with the crib and house rules as they are.
func (a *App) planFor(ctx context.Context, q *store.Queries, j store.Joint, s plan.Specification,
	c plan.Choices) (*plan.Plan, error) {
	in, err := a.planInput(ctx, q, j, s, c)
	if err != nil {
		return nil, err
	}
	return plan.Make(in)
}

// planInput is what a plan of a joint is made from, with the crib and house rules as they are.
func (a *App) planInput(ctx context.Context, q *store.Queries, j store.Joint, s plan.Specification,
	c plan.Choices) (plan.Input, error) {
	var err error
	in := plan.Input{Joint: planJoint(j), Choices: c, On: a.now(), Specification: s}
	if in.Family, err = family(ctx, q, j.Family); err != nil {
		return in, err
	}
	if in.HouseRules, err = houseRules(ctx, q); err != nil {
		return in, err
	}
	if in.Own, err = ownValues(ctx, q); err != nil {
		return in, err
	}
	in.Lubricants = allLubricants(in.Own)
	if in.Tools, err = crib(ctx, q); err != nil {
		return in, err
	}
	if in.Busy, in.Wanted, err = toolsAway(ctx, q, j.Tag); err != nil {
		return in, err
	}
	return in, nil
}

// PreviewPlan makes the plan that choices would give, without keeping it.
func (a *App) PreviewPlan(ctx context.Context, tag string, c plan.Choices) (*plan.Plan, error) {
	j, err := a.q.GetJoint(ctx, tag)
	if none(err) {
		return nil, notFound("joint", tag)
	}
	if err != nil {
		return nil, err
	}
	return a.makePlan(ctx, a.q, j, c)
}

// SavePlan keeps a plan. What needs approval takes an engineer and a reason. With an open run the new plan is taken
// over when no bolt has been pulled yet; after the first pull it is refused.
func (a *App) SavePlan(ctx context.Context, who Actor, tag string, c plan.Choices, reason string) (JointDetail, error) {
	err := a.tx(ctx, func(q *store.Queries) error {
		j, err := lockInService(ctx, q, tag)
		if err != nil {
			return err
		}
		row, _, err := a.savePlan(ctx, q, who, j, c, reason)
		if err != nil {
			return err
		}
		if j.PresentRun == nil {
			return nil
		}
		return a.adoptPlan(ctx, q, who, *j.PresentRun, row, reason)
	})
	if err != nil {
		return JointDetail{}, err
	}
	return a.Joint(ctx, tag)
}

func (a *App) savePlan(ctx context.Context, q *store.Queries, who Actor, j store.Joint, c plan.Choices,
	reason string) (store.InsertPlanParams, *plan.Plan, error) {
	p, err := a.makePlan(ctx, q, j, c)
	if err != nil {
		return store.InsertPlanParams{}, nil, err
	}
	if !p.Complete() {
		why := append([]string{}, p.ToBeSupplied...)
		for _, f := range p.Findings {
			if f.Severity == "stop" {
				why = append(why, f.What)
			}
		}
		return store.InsertPlanParams{}, nil, newProblem(Invalid, "The plan cannot be kept: %s",
			"Put that right in Read first.", strings.Join(why, "; "))
	}
	if err := a.compared(ctx, q, j, p); err != nil {
		return store.InsertPlanParams{}, nil, err
	}
	approved := ""
	if len(p.NeedsApproval) > 0 {
		by, err := who.leave("approve a plan that is not as document and house rules say ("+
			strings.Join(p.NeedsApproval, "; ")+")", authority.ApprovePlan)
		if err != nil {
			return store.InsertPlanParams{}, nil, err
		}
		if strings.TrimSpace(reason) == "" {
			return store.InsertPlanParams{}, nil,
				&Problem{Kind: Invalid, Title: "A plan that is not as document and house rules say needs a reason.",
					Field: "reason", Remedy: "Say why it is right for this joint."}
		}
		approved = by.Name
		p.Approved = &plan.Approval{By: by.Name, Why: strings.TrimSpace(reason)}
	}
	return a.keepPlan(ctx, q, who, j, p, approved, reason)
}

// keepPlan writes a plan down, with the tools and the values of the library that it counts on.
func (a *App) keepPlan(ctx context.Context, q *store.Queries, who Actor, j store.Joint, p *plan.Plan, approved,
	reason string) (store.InsertPlanParams, *plan.Plan, error) {
	last, err := q.LastPlanVersion(ctx, j.ID)
	if err != nil {
		return store.InsertPlanParams{}, nil, err
	}
	version := last + 1
	data, err := encode(p)
	if err != nil {
		return store.InsertPlanParams{}, nil, err
	}
	row := store.InsertPlanParams{ID: uuid.Must(uuid.NewV7()), JointID: j.ID, Version: version,
		SpecificationVersion: j.SpecificationVersion, HouseRulesVersion: int32(p.HouseRulesVersion),
		Data: data, MadeBy: who.Name, ApprovedBy: approved, Reason: reason, ProcedureVersion: int32(p.ProcedureVersion),
		Way: string(p.Way)}
	if err := q.InsertPlan(ctx, row); err != nil {
		return store.InsertPlanParams{}, nil, err
	}
	tags := map[string]bool{}
	for _, g := range p.AllGroups() {
		su := g.InHand()
		if su == nil {
			continue
		}
		for _, t := range su.String {
			if tags[t.Tag] {
				continue
			}
			tags[t.Tag] = true
			if err := q.InsertPlanTool(ctx, store.InsertPlanToolParams{PlanID: row.ID, Tag: t.Tag}); err != nil {
				return store.InsertPlanParams{}, nil, err
			}
		}
	}
	for _, u := range p.Uses() {
		if err := q.InsertPlanUse(ctx, store.InsertPlanUseParams{PlanID: row.ID, Shelf: u.Shelf, Code: u.Code,
			Version: int32(u.Version)}); err != nil {
			return store.InsertPlanParams{}, nil, err
		}
	}
	return row, p, nil
}

// toolsAway says which tools are out of the crib, and which other joints in hand count on them.
func toolsAway(ctx context.Context, q *store.Queries, joint string) (busy, wanted map[string]string, err error) {
	busy, wanted = map[string]string{}, map[string]string{}
	loans, err := q.OpenLoans(ctx)
	if err != nil {
		return nil, nil, err
	}
	for _, l := range loans {
		if l.Place != joint {
			busy[l.Tag] = "is out with " + l.Person + ", at " + l.Place
		}
	}
	work, err := q.ToolsInWork(ctx)
	if err != nil {
		return nil, nil, err
	}
	at := map[string][]string{}
	for _, w := range work {
		if w.Joint != joint {
			at[w.Tag] = append(at[w.Tag], w.Joint)
		}
	}
	for tag, joints := range at {
		wanted[tag] = "is planned for work in hand: " + fewOf(joints)
	}
	return busy, wanted, nil
}

// fewOf names a few of many, and how many more there are.
func fewOf(names []string) string {
	const most = 4
	if len(names) <= most {
		return strings.Join(names, ", ")
	}
	return fmt.Sprintf("%s and %d more", strings.Join(names[:most], ", "), len(names)-most)
}
