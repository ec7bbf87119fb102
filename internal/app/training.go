package app

import (
	"context"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/core/training"
	"dynacor/internal/store"
)

// Untrained is somebody who has no training for what a joint is tightened with.
type Untrained struct {
	PersonID string `json:"personId"`
	Says     string `json:"says"`
	Blocks   bool   `json:"blocks"` // they can take no tool
}

// trainings are what everybody has been trained for, and what the site asks for at all.
type trainings struct {
	of    map[string][]training.Held // by person
	asked []training.Subject
}

func readTrainings(ctx context.Context, q *store.Queries) (trainings, error) {
	rows, err := q.ListTraining(ctx)
	t := trainings{of: map[string][]training.Held{}}
	for _, r := range rows {
		h := training.Held{About: training.About(r.About), Code: r.Code}
		if r.Until.Valid {
			h.Until = r.Until.Time.Format(time.DateOnly)
		}
		t.of[r.PersonID.String()] = append(t.of[r.PersonID.String()], h)
		t.asked = append(t.asked, training.Subject{About: h.About, Code: h.Code})
	}
	return t, err
}

// familyOf is the family of a plan as a subject of training.
func familyOf(p *plan.Plan) training.Subject {
	return training.Subject{About: training.Family, Code: p.Family, Word: strings.ToLower(p.FamilyName)}
}

// toolsOf are the tools that a joint is tightened with: what is in hand, or what its plan has for every group.
func toolsOf(p *plan.Plan, s *run.State) []tool.Tool {
	if s != nil && s.SetUp != nil {
		return s.SetUp.String
	}
	if s != nil && s.Wrench != nil {
		return []tool.Tool{*s.Wrench}
	}
	var out []tool.Tool
	for _, g := range p.AllGroups() {
		if set := g.InHand(); set != nil {
			out = append(out, set.String...)
		}
	}
	return out
}

// untrained tells who of those who tighten has no training for a joint.
func (a *App) untrained(ctx context.Context, p *plan.Plan, s *run.State) ([]Untrained, error) {
	out := []Untrained{}
	policy := training.Policy(p.HouseRules.Training)
	if policy != training.Warn && policy != training.Block {
		return out, nil
	}
	t, err := readTrainings(ctx, a.q)
	if err != nil {
		return out, err
	}
	needs := training.Needs(familyOf(p), toolsOf(p, s), t.asked)
	if len(needs) == 0 {
		return out, nil
	}
	people, err := a.People(ctx)
	if err != nil {
		return out, err
	}
	day, err := a.siteDay(ctx)
	for _, who := range people {
		if !slices.ContainsFunc(authority.Held(who.Role), func(r string) bool {
			return r == authority.Technician || r == authority.Lead
		}) {
			continue
		}
		if lacks := training.Lacks(t.of[who.ID], needs, day); len(lacks) > 0 {
			out = append(out, Untrained{who.ID, training.Says(who.Name, lacks), policy == training.Block})
		}
	}
	return out, err
}

// siteDay is today where the site's clocks are set.
func (a *App) siteDay(ctx context.Context) (string, error) {
	zone, err := a.zone(ctx)
	if err != nil {
		return "", err
	}
	return a.now().In(zone).Format(time.DateOnly), nil
}

// trained refuses a tool to somebody who has not been trained, where the house rules that the plan was made with say
// so.
func (d *desk) trained(ctx context.Context, e run.Event) error {
	if e.Kind != run.WrenchTaken || training.Policy(d.plan.HouseRules.Training) != training.Block || e.Wrench == nil {
		return nil
	}
	id, err := uuid.Parse(e.Person.ID)
	if err != nil {
		return err
	}
	t, err := readTrainings(ctx, d.q)
	if err != nil {
		return err
	}
	tools := []tool.Tool{*e.Wrench}
	if e.SetUp != nil {
		tools = e.SetUp.String
	}
	lacks := training.Lacks(t.of[id.String()], training.Needs(familyOf(d.plan), tools, t.asked),
		e.When().Format(time.DateOnly))
	if len(lacks) == 0 {
		return nil
	}
	return &Problem{Kind: Forbidden, Title: training.Says(e.Person.Name, lacks), Field: "person",
		Remedy: "Let somebody who is trained take it, or have the training written down under People."}
}
