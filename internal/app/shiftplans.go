package app

import (
	"context"
	"encoding/json"
	"slices"
	"time"

	"dynacor/core/schedule"
	"dynacor/core/shutdown"
	"dynacor/internal/store"
)

// What is near in a plan that is made anew stays as it was announced, unless that costs more than so many minutes.
// Starting values.
const (
	shiftNear = 24 * time.Hour
	shiftCost = 15
)

// ShiftInForce is the plan that holds for a work package. Version 0: none was put in force yet.
type ShiftInForce struct {
	Version int        `json:"version"`
	By      string     `json:"by"`
	At      time.Time  `json:"at"`
	Ask     ShiftQuery `json:"ask"`
	Plan    *ShiftPlan `json:"plan,omitempty"`
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
	return f, json.Unmarshal(row.Plan, f.Plan)
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
	return a.ShiftInForce(ctx, in.Package)
}

// keepShift is what of the plan in force is near and can stay as it was announced; nil when none is.
func (a *App) keepShift(ctx context.Context, code string, s *shift, in *schedule.Instance) (*schedule.Keep, error) {
	f, err := a.ShiftInForce(ctx, code)
	if err != nil || f.Plan == nil {
		return nil, err
	}
	known := map[string]schedule.Activity{}
	for _, j := range in.Jobs {
		for _, x := range j.Activities {
			known[x.ID] = x
		}
	}
	k := &schedule.Keep{Until: int(a.now().Add(shiftNear).Sub(s.Begin).Minutes()), Cost: shiftCost,
		Plan: []schedule.Planned{}}
	for _, x := range f.Plan.Activities {
		act, ok := known[x.Kind.ID(x.Tag)]
		start := int(x.Start.Sub(s.Begin).Minutes())
		m := slices.IndexFunc(act.Modes, func(m schedule.Mode) bool { return m.ID == shutdown.Way(x.Tools) })
		if !ok || start < 0 || m < 0 {
			continue
		}
		if slices.ContainsFunc(x.IDs, func(id string) bool { return s.names[id] == "" }) {
			continue // somebody has left since
		}
		k.Plan = append(k.Plan, schedule.Planned{Activity: act.ID, Start: start, Mode: act.Modes[m].ID, People: x.IDs,
			Tools: x.Tools})
	}
	if k.Until <= 0 || len(k.Plan) == 0 {
		return nil, nil
	}
	return k, nil
}

// todayShift tells somebody's next parts of the plans in force, at joints that are not accepted yet.
func (a *App) todayShift(ctx context.Context, who Actor, t *Today) error {
	rows, err := a.q.ShiftPlansRunning(ctx, a.now())
	if err != nil {
		return err
	}
	var mine []ShiftActivity
	var tags []string
	for _, r := range rows {
		var p ShiftPlan
		if err := json.Unmarshal(r.Plan, &p); err != nil {
			return err
		}
		for _, x := range p.Activities {
			if slices.Contains(x.IDs, who.ID) && x.End.After(a.now().Add(-shiftNear)) {
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
