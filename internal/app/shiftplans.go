package app

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"dynacor/core/run"
	"dynacor/core/shutdown"
	"dynacor/internal/store"
)

// shiftPast is how long what nobody has done stays on somebody's day. A starting value.
const shiftPast = 24 * time.Hour

// ShiftInForce is the plan that holds for a work package. Version 0: none was put in force yet.
type ShiftInForce struct {
	Version int        `json:"version"`
	By      string     `json:"by"`
	At      time.Time  `json:"at"`
	Ask     ShiftQuery `json:"ask"`
	Plan    *ShiftPlan `json:"plan,omitempty"`
}

// ShiftPart says how far a part of the plan in force has come.
type ShiftPart struct {
	Tag    string        `json:"tag"`
	Kind   shutdown.Kind `json:"kind"`
	Step   shutdown.Step `json:"step"`
	Behind int           `json:"behind"` // minutes
}

// ShiftStands is how far a plan in force has come. Old: what was planned from has changed, or something is behind.
type ShiftStands struct {
	Now    time.Time    `json:"now"`
	Parts  []ShiftPart  `json:"parts"`
	Joints []ShiftJoint `json:"joints"`
	Old    []string     `json:"old"` // in sentences, the gravest first
}

// ShiftStands follows the plan in force of a work package.
func (a *App) ShiftStands(ctx context.Context, code string) (ShiftStands, error) {
	out := ShiftStands{Now: a.now(), Parts: []ShiftPart{}, Joints: []ShiftJoint{}, Old: []string{}}
	f, err := a.ShiftInForce(ctx, code)
	if err != nil || f.Plan == nil {
		return out, err
	}
	rows, err := jointsInPackage(ctx, a.q, code)
	if err != nil {
		return out, err
	}
	s := &shift{ShiftPlan: ShiftPlan{Begin: f.Plan.Begin}}
	for _, r := range rows {
		j := ShiftJoint{Tag: r.Tag, Name: r.Name, Family: r.Family, Bolts: int(r.Bolts), Glyph: run.Glyph(r.Glyph),
			Area: r.Area, After: []string{}, Skills: []string{}}
		if r.UnderWay {
			j.RunID = r.PresentRun.String()
			if _, j.Begun, j.Left, err = a.shiftUnderWay(ctx, r); err != nil {
				return out, err
			}
		}
		s.Joints = append(s.Joints, j)
	}
	now := s.minute(out.Now)
	late, planned := map[string]int{}, map[string]bool{}
	for _, x := range f.Plan.Activities {
		n := slices.IndexFunc(s.Joints, func(j ShiftJoint) bool { return j.Tag == x.Tag })
		if n < 0 {
			continue // a test, or one that has left the work package
		}
		j := s.Joints[n]
		p := ShiftPart{Tag: x.Tag, Kind: x.Kind}
		p.Step, p.Behind = shutdown.Follow(x.Kind, s.minute(x.Start), s.minute(x.End), now, j.Begun,
			j.Glyph == run.GlyphAccepted)
		out.Parts = append(out.Parts, p)
		late[x.Tag] = max(late[x.Tag], p.Behind)
		planned[x.Tag] = planned[x.Tag] || p.Step != shutdown.Done
	}
	out.Joints = append(out.Joints, s.Joints...)
	row, err := constraintsInForce(ctx, a.q, code)
	if err != nil {
		return out, err
	}
	if int(row.Version) != f.Plan.Constraints {
		out.Old = append(out.Old, "The constraints have changed since.")
	}
	for _, j := range s.Joints {
		switch {
		case planned[j.Tag] && strings.HasPrefix(j.Left, shutdown.Stopped):
			out.Old = append(out.Old, j.Tag+" is "+j.Left)
		case late[j.Tag] > 0:
			out.Old = append(out.Old, fmt.Sprintf("%s is %d min behind.", j.Tag, late[j.Tag]))
		}
	}
	return out, nil
}

// ShiftInForce gives the plan that holds for a work package.
func (a *App) ShiftInForce(ctx context.Context, code string) (ShiftInForce, error) {
	return shiftInForce(ctx, a.q, code)
}

func shiftInForce(ctx context.Context, q *store.Queries, code string) (ShiftInForce, error) {
	row, err := q.ShiftPlanInForce(ctx, code)
	if none(err) {
		return ShiftInForce{}, nil
	}
	if err != nil {
		return ShiftInForce{}, err
	}
	f := ShiftInForce{Version: int(row.Version), By: row.MadeBy, At: row.MadeAt, Plan: &ShiftPlan{}}
	if err := json.Unmarshal(row.Ask, &f.Ask); err != nil {
		return f, err
	}
	err = json.Unmarshal(row.Plan, f.Plan)
	f.Plan.whole()
	return f, err
}

// PutShiftInForce plans as asked and lets the plan hold from now on; after is the version that was looked at.
func (a *App) PutShiftInForce(ctx context.Context, who Actor, in ShiftQuery, after int) (ShiftInForce, error) {
	p, err := a.PlanShift(ctx, in)
	if err != nil {
		return ShiftInForce{}, err
	}
	if len(p.Activities) == 0 {
		return ShiftInForce{}, newProblem(Conflict, "There is nothing in this plan to put in force.",
			"Give it more time, or choose another work package.")
	}
	ask, err := json.Marshal(in)
	if err != nil {
		return ShiftInForce{}, err
	}
	plan, err := json.Marshal(p)
	if err != nil {
		return ShiftInForce{}, err
	}
	err = a.q.InsertShiftPlan(ctx, store.InsertShiftPlanParams{Package: in.Package, Version: int32(after) + 1,
		MadeBy: who.Name, MadeAt: a.now(), EndsAt: p.End, Ask: ask, Plan: plan})
	if store.Unique(err) {
		return ShiftInForce{}, newProblem(Conflict, "Somebody else has put another plan in force meanwhile.",
			"Look at that one, then plan again.")
	}
	if err != nil {
		return ShiftInForce{}, err
	}
	a.tellShift(ctx, in.Package)
	return a.ShiftInForce(ctx, in.Package)
}

// todayShift tells somebody's next parts of the plans in force, at joints that are not accepted yet.
func (a *App) todayShift(ctx context.Context, who Actor, t *Today) error {
	plans, err := a.running(ctx)
	if err != nil {
		return err
	}
	var mine []ShiftActivity
	var tags []string
	for _, code := range sortedKeys(plans) {
		for _, x := range plans[code].Activities {
			if slices.Contains(x.IDs, who.ID) && x.End.After(a.now().Add(-shiftPast)) {
				mine, tags = append(mine, x), append(tags, x.Tag)
			}
		}
	}
	if len(mine) == 0 {
		return nil
	}
	done, err := a.q.AcceptedOf(ctx, tags)
	if err != nil {
		return err
	}
	mine = slices.DeleteFunc(mine, func(x ShiftActivity) bool { return slices.Contains(done, x.Tag) })
	slices.SortStableFunc(mine, func(x, y ShiftActivity) int { return x.Start.Compare(y.Start) })
	t.Shift = append(t.Shift, mine[:min(len(mine), 5)]...)
	return nil
}

// PlannedOf gives the parts of a joint's work in the plan in force of its work package, by their start; without one in
// that of the shutdown that the package is a part of.
func (a *App) PlannedOf(ctx context.Context, tag string) ([]ShiftActivity, error) {
	j, err := a.q.GetJoint(ctx, tag)
	if none(err) {
		return nil, notFound("joint", tag)
	}
	if err != nil {
		return nil, err
	}
	out := []ShiftActivity{}
	plans, err := a.running(ctx)
	if err != nil || j.Package == nil {
		return out, err
	}
	p, ok := plans[*j.Package]
	if !ok {
		whole, err := a.q.GetPackage(ctx, *j.Package)
		if err != nil {
			return nil, err
		}
		p = plans[deref(whole.PartOf)]
	}
	for _, x := range p.Activities {
		if x.Tag == tag {
			out = append(out, x)
		}
	}
	slices.SortStableFunc(out, func(x, y ShiftActivity) int { return x.Start.Compare(y.Start) })
	return out, nil
}
