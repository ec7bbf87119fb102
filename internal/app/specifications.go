package app

import (
	"context"
	"fmt"
	"strings"

	"dynacor/core/authority"
	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/internal/store"
)

// PutSpecification enters a new version; earlier ones stay. Work without a document takes an engineer's PIN.
func (a *App) PutSpecification(ctx context.Context, who Actor, tag string, s plan.Specification,
	reason string) (JointDetail, error) {
	err := a.tx(ctx, func(q *store.Queries) error {
		j, err := lockInService(ctx, q, tag)
		if err != nil {
			return err
		}
		return a.putSpecification(ctx, q, who, j, s, reason)
	})
	if err != nil {
		return JointDetail{}, err
	}
	return a.Joint(ctx, tag)
}

func (a *App) putSpecification(ctx context.Context, q *store.Queries, who Actor, j store.Joint,
	s plan.Specification, reason string) error {
	s.NoSourceBy = ""
	if s.NoSourceWhy != "" {
		by, err := who.leave("allow a target without a document", authority.TargetWithoutDocument)
		if err != nil {
			return err
		}
		s.NoSourceBy = by.Name
	}
	own, err := ownValues(ctx, q)
	if err != nil {
		return err
	}
	fam, err := family(ctx, q, j.Family)
	if err != nil {
		return err
	}
	if err := s.Check(fam, own); err != nil {
		return err
	}
	if j.SpecificationVersion > 0 && strings.TrimSpace(reason) == "" {
		return &Problem{Kind: Invalid, Title: "A new version of the specification needs a reason.", Field: "reason",
			Remedy: "Say what changed and why."}
	}
	for i, f := range s.Groups {
		if f.Lubricant == "" || f.Lubricant == plan.NotNamed || hasCard(allLubricants(own), f.Lubricant) {
			continue
		}
		field := "lubricant"
		if i > 0 {
			field = f.Group + "." + field
		}
		return &Problem{Kind: Invalid, Title: fmt.Sprintf("%q is not a lubricant card.", f.Lubricant), Field: field,
			Remedy: "Choose a card from the Library."}
	}
	return keepSpecification(ctx, q, who, j, fam, s, reason)
}

// keepSpecification enters the next version of a specification and marks the joint by it.
func keepSpecification(ctx context.Context, q *store.Queries, who Actor, j store.Joint, fam procedure.Family,
	s plan.Specification, reason string) error {
	s.Version = int(j.SpecificationVersion) + 1
	data, err := encode(s)
	if err != nil {
		return err
	}
	if err := q.InsertSpecification(ctx, store.InsertSpecificationParams{JointID: j.ID, Version: int32(s.Version),
		Data: data, MadeBy: who.Name, Reason: reason}); err != nil {
		return err
	}
	rules, err := houseRules(ctx, q)
	if err != nil {
		return err
	}
	glyph, summary := specState(fam, s, rules)
	if j.PresentRun != nil {
		glyph, summary = j.Glyph, j.Summary
	}
	return q.SetJointSpecification(ctx,
		store.SetJointSpecificationParams{ID: j.ID, SpecificationVersion: int32(s.Version), Bolts: int32(count(fam, s)),
			Make: makeText(fam, s), Glyph: glyph, Summary: summary})
}

func hasCard(cards []fastener.Lubricant, code string) bool {
	for _, l := range cards {
		if l.Code == code {
			return true
		}
	}
	return false
}

// specState is the mark of a joint that nobody has begun.
func specState(fam procedure.Family, s plan.Specification, rules plan.HouseRules) (glyph, summary string) {
	if lacks := s.Lacks(answered(fam, s), rules); lacks != "" {
		return "waiting", lacks + " to be supplied"
	}
	return "ready", ""
}

// answered is a family for the answers of a specification.
func answered(fam procedure.Family, s plan.Specification) procedure.Family {
	answers, err := fam.Answer(s.Variant, s.Figures)
	if err != nil {
		return fam
	}
	return fam.Outline(answers)
}

// count is the number of fasteners of the largest group: what the small mark of the joint shows.
func count(fam procedure.Family, s plan.Specification) int {
	most := s.First().Bolts
	for i, g := range answered(fam, s).Fasteners {
		f, _ := s.Of(g.Code, i == 0)
		most = max(most, f.Bolts, g.Layout.Settle().Count)
		if i == 0 && f.Bolts > 0 {
			return f.Bolts
		}
	}
	return most
}

// makeText is how a joint is named by its make: "DN 400 PN 16 · 16 × M27 8.8".
func makeText(fam procedure.Family, s plan.Specification) string {
	var parts []string
	if s.FlangeSize != "" {
		parts = append(parts, s.FlangeSize)
	}
	for i, g := range answered(fam, s).Fasteners {
		f, given := s.Of(g.Code, i == 0)
		if !given || f.Thread == "" && f.Target.Form != plan.LookUp && len(parts) > 0 {
			continue
		}
		n := f.Bolts
		if n == 0 {
			n = g.Layout.Settle().Count
		}
		what := strings.TrimSpace(f.Thread + " " + f.Material)
		if what == "" {
			what = strings.ToLower(g.Name)
		}
		if parts = append(parts, fmt.Sprintf("%d × %s", n, what)); len(parts) > 2 {
			break
		}
	}
	if len(parts) == 0 {
		return fam.Name
	}
	return strings.Join(parts, " · ")
}
