package app

import (
	"context"
	"encoding/json"
	"slices"
	"time"

	"dynacor/core/run"
	"dynacor/core/shutdown"
	"dynacor/core/training"
	"dynacor/internal/store"
)

// ConstraintsView is what a planner knows of a work package beside the plans of its joints. Version 0: nothing was said
// yet.
type ConstraintsView struct {
	Version     int                  `json:"version"`
	By          string               `json:"by"`
	At          time.Time            `json:"at"`
	Undoes      bool                 `json:"undoes"` // there is a version before it to go back to
	Constraints shutdown.Constraints `json:"constraints"`
	Joints      []ConstrainedJoint   `json:"joints"` // of the work package
	People      []PersonName         `json:"people"`
	Skills      []string             `json:"skills"` // that work at a joint may ask for
}

// ConstrainedJoint is a joint of the work package by its name.
type ConstrainedJoint struct {
	Tag  string `json:"tag"`
	Name string `json:"name"`
	Area string `json:"area"`
}

// PersonName is who an id means.
type PersonName struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// Constraints gives what holds for a work package.
func (a *App) Constraints(ctx context.Context, code string) (ConstraintsView, error) {
	v := ConstraintsView{Joints: []ConstrainedJoint{}, People: []PersonName{}}
	rows, err := jointsInPackage(ctx, a.q, code)
	if err != nil {
		return v, err
	}
	for _, r := range rows {
		v.Joints = append(v.Joints, ConstrainedJoint{r.Tag, r.Name, r.Area})
	}
	people, err := a.People(ctx)
	if err != nil {
		return v, err
	}
	for _, p := range people {
		v.People = append(v.People, PersonName{p.ID, p.Name})
	}
	if v.Skills, err = skills(ctx, a.q); err != nil {
		return v, err
	}
	row, err := constraintsInForce(ctx, a.q, code)
	if err != nil {
		return v, err
	}
	v.Version, v.By, v.At, v.Undoes = int(row.Version), row.MadeBy, row.MadeAt, row.Alike > 0
	v.Constraints, err = constraintsOf(row)
	return v, err
}

// constraintsInForce gives version 0, with nothing in it, before anything was said.
func constraintsInForce(ctx context.Context, q *store.Queries, code string) (store.PackageConstraint, error) {
	row, err := q.ConstraintsInForce(ctx, code)
	if none(err) {
		return store.PackageConstraint{}, nil
	}
	return row, err
}

func constraintsOf(row store.PackageConstraint) (shutdown.Constraints, error) {
	c := shutdown.Empty()
	if len(row.Data) == 0 {
		return c, nil
	}
	err := json.Unmarshal(row.Data, &c)
	for i := range c.Joints {
		if c.Joints[i].Skills == nil { // kept before there were any
			c.Joints[i].Skills = []string{}
		}
	}
	return c, err
}

// skills are those by a name of their own that are written down for somebody, by their names.
func skills(ctx context.Context, q *store.Queries) ([]string, error) {
	t, err := readTrainings(ctx, q)
	out := []string{}
	for _, s := range t.asked {
		if s.About == training.Skill {
			out = append(out, s.Code)
		}
	}
	slices.Sort(out)
	return slices.Compact(out), err
}

// known is what constraints of a work package may name.
func (a *App) known(ctx context.Context, code string) (shutdown.Known, error) {
	people, err := a.People(ctx)
	if err != nil {
		return shutdown.Known{}, err
	}
	return knownIn(ctx, a.q, code, people)
}

func knownIn(ctx context.Context, q *store.Queries, code string, people []run.Person) (shutdown.Known, error) {
	var k shutdown.Known
	for _, p := range people {
		k.People = append(k.People, p.ID)
	}
	rows, err := jointsInPackage(ctx, q, code)
	if err != nil {
		return k, err
	}
	for _, r := range rows {
		k.Tags, k.Areas = append(k.Tags, r.Tag), append(k.Areas, r.Area)
	}
	if k.Skills, err = skills(ctx, q); err != nil {
		return k, err
	}
	tests, err := testsOver(ctx, q, rows)
	for _, t := range tests {
		k.Tests = append(k.Tests, t.Tag)
	}
	return k, err
}

// PutConstraints lets constraints hold for a work package from now on; after is the version that was looked at.
// Refused: what cannot be meant, by field, and a version that somebody else has changed meanwhile.
func (a *App) PutConstraints(ctx context.Context, who Actor, code string, in shutdown.Constraints,
	after int) (ConstraintsView, error) {
	k, err := a.known(ctx, code)
	if err != nil {
		return ConstraintsView{}, err
	}
	before, err := constraintsInForce(ctx, a.q, code)
	if err != nil {
		return ConstraintsView{}, err
	}
	old, err := constraintsOf(before)
	if err != nil {
		return ConstraintsView{}, err
	}
	for _, j := range old.Joints {
		k.Skills = append(k.Skills, j.Skills...) // nobody may have one any more; it was asked for when somebody had
	}
	in = in.SignedBy(who.Name, old)
	if err := in.Check(k); err != nil {
		return ConstraintsView{}, err
	}
	return a.insertConstraints(ctx, who, code, in, after, after+1)
}

// UndoConstraints goes back to what held before the latest change that is not undone; after is the version that was
// looked at.
func (a *App) UndoConstraints(ctx context.Context, who Actor, code string, after int) (ConstraintsView, error) {
	row, err := constraintsInForce(ctx, a.q, code)
	if err != nil {
		return ConstraintsView{}, err
	}
	if row.Alike == 0 {
		return ConstraintsView{}, newProblem(Conflict, "There is nothing to undo.", "Change something first.")
	}
	var before store.PackageConstraint
	if row.Alike > 1 {
		if before, err = a.q.ConstraintsAt(ctx, store.ConstraintsAtParams{Package: code,
			Version: row.Alike - 1}); err != nil {
			return ConstraintsView{}, err
		}
	}
	c, err := constraintsOf(before)
	if err != nil {
		return ConstraintsView{}, err
	}
	return a.insertConstraints(ctx, who, code, c, after, int(before.Alike))
}

func (a *App) insertConstraints(ctx context.Context, who Actor, code string, c shutdown.Constraints, after,
	alike int) (ConstraintsView, error) {
	data, err := json.Marshal(c)
	if err != nil {
		return ConstraintsView{}, err
	}
	err = a.q.InsertConstraints(ctx, store.InsertConstraintsParams{Package: code, Version: int32(after) + 1,
		Alike: int32(alike), MadeBy: who.Name, MadeAt: a.now(), Data: data})
	if store.Unique(err) {
		return ConstraintsView{}, newProblem(Conflict, "Somebody else has changed these constraints meanwhile.",
			"Look at theirs, then change them again.")
	}
	if err != nil {
		return ConstraintsView{}, err
	}
	a.tellShift(ctx, code)
	return a.Constraints(ctx, code)
}

// tellShift has open pages look again at the shift of a work package, and of the one that it is part of.
func (a *App) tellShift(ctx context.Context, code string) {
	a.tell("shift:"+code, "changed", nil)
	if p, err := a.q.GetPackage(ctx, code); err == nil && p.PartOf != nil {
		a.tell("shift:"+*p.PartOf, "changed", nil)
	}
}
