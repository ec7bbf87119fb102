package app

import (
	"context"
	"slices"
	"strings"
	"time"

	"dynacor/core/due"
	"dynacor/core/plan"
	"dynacor/core/pressuretest"
	"dynacor/internal/store"
)

// How far ahead what falls due is told, and how far back what nobody did.
const (
	dueAhead = 60 * 24 * time.Hour
	dueBack  = 60 * 24 * time.Hour
	mostDue  = 500
)

// DueItem is something that falls due, as a page shows it.
type DueItem struct {
	Kind   due.Kind  `json:"kind"`
	Word   string    `json:"word"`
	Says   string    `json:"says"`
	Tag    string    `json:"tag"`
	From   time.Time `json:"from"`
	To     time.Time `json:"to"`
	AllDay bool      `json:"allDay"`
	Mine   bool      `json:"mine"`
	Late   bool      `json:"late"`
}

// DueList is what falls due at the site.
type DueList struct {
	Now   time.Time `json:"now"`
	Items []DueItem `json:"items"`
	Mail  bool      `json:"mail"` // mail is sent from here
	Email string    `json:"email"`
}

// FallsDue lists what falls due, what is overdue first.
func (a *App) FallsDue(ctx context.Context, who Actor) (DueList, error) {
	out := DueList{Now: a.now(), Items: []DueItem{}, Mail: a.mailer.On()}
	list, err := a.due(ctx)
	if err != nil {
		return out, err
	}
	for _, i := range list[:min(len(list), mostDue)] {
		end := i.To
		if i.AllDay {
			end = i.From.AddDate(0, 0, 1)
		}
		out.Items = append(out.Items, DueItem{i.Kind, i.Kind.Word(), i.Says, i.Tag, i.From, i.To, i.AllDay,
			i.Is(who.ID, who.Role), end.Before(out.Now)})
	}
	p, err := a.q.PersonByName(ctx, who.Name)
	out.Email = p.Email
	return out, err
}

// due gathers what falls due by the rules, from records and the crib.
func (a *App) due(ctx context.Context) ([]due.Item, error) {
	zone, err := a.zone(ctx)
	if err != nil {
		return nil, err
	}
	g := dueGather{a: a, now: a.now(), zone: zone}
	if g.rules, err = houseRules(ctx, a.q); err != nil {
		return nil, err
	}
	for _, gather := range []func(context.Context) error{g.retorques, g.heat, g.retests, g.doubts, g.tools, g.trainings, g.stock,
		g.work} {
		if err := gather(ctx); err != nil {
			return nil, err
		}
	}
	due.Sort(g.list)
	return g.list, nil
}

type dueGather struct {
	a     *App
	now   time.Time
	zone  *time.Location
	rules plan.HouseRules
	list  []due.Item
}

// day adds something that is due on a day, as far as it is told at all.
func (g *dueGather) day(i due.Item, day string) {
	t, err := time.ParseInLocation(time.DateOnly, day, g.zone)
	if err != nil || t.After(g.now.Add(dueAhead)) || t.Before(g.now.Add(-dueBack)) {
		return
	}
	i.From, i.To, i.AllDay = t, t, true
	g.list = append(g.list, i)
}

func (g *dueGather) retorques(ctx context.Context) error {
	wait, asked := g.rules.RetorqueDue(time.Time{})
	if !asked {
		return nil
	}
	after := wait.Sub(time.Time{})
	rows, err := g.a.q.RetorquesDue(ctx, store.RetorquesDueParams{Earliest: g.now.Add(-after - dueBack),
		Latest: g.now.Add(dueAhead - after), N: mostDue})
	if err != nil {
		return err
	}
	for _, r := range rows {
		at, _ := g.rules.RetorqueDue(r.SealedAt)
		g.list = append(g.list, due.Item{Kind: due.Retorque, Key: r.Number, Tag: r.Tag, From: at, To: at.Add(time.Hour),
			Says: r.Tag + ", " + r.Name + ": re-torque, behind " + r.Number})
	}
	return nil
}

// heat are the joints that went warm and cold again and were not looked at since.
func (g *dueGather) heat(ctx context.Context) error {
	if g.rules.HeatCheckHours <= 0 {
		return nil
	}
	rows, err := g.a.q.HeatChecksDue(ctx, store.HeatChecksDueParams{Earliest: g.now.Add(-dueBack), N: mostDue})
	if err != nil {
		return err
	}
	for _, r := range rows {
		until, _ := g.rules.HeatCheckDue(r.At)
		g.list = append(
			g.list,
			due.Item{Kind: due.HeatCheck, Key: r.Number, Tag: r.Tag, From: until, To: until.Add(time.Hour),
				Says: r.Tag + ", " + r.Name + ": look at it cold, after its heat cycle; behind " + r.Number},
		)
	}
	return nil
}

// retests are the tests under pressure that are to be done again.
func (g *dueGather) retests(ctx context.Context) error {
	if g.rules.RetestMonths <= 0 {
		return nil
	}
	rows, err := g.a.q.RetestsDue(ctx, store.RetestsDueParams{N: mostDue,
		Earliest: g.now.Add(-dueBack).AddDate(0, -int(g.rules.RetestMonths), 0),
		Latest:   g.now.Add(dueAhead).AddDate(0, -int(g.rules.RetestMonths), 0)})
	if err != nil {
		return err
	}
	for _, r := range rows {
		spec, err := decode[pressuretest.Spec](r.Spec)
		if err != nil {
			return err
		}
		at, _ := g.rules.RetestDue(r.SealedAt)
		g.day(due.Item{Kind: due.Retest, Key: r.Tag, Says: r.Tag + ": test again, " + strings.Join(spec.Joints, ", ")},
			at.In(g.zone).Format(time.DateOnly))
	}
	return nil
}

func (g *dueGather) doubts(ctx context.Context) error {
	rows, err := g.a.q.OpenDoubts(ctx)
	if err != nil {
		return err
	}
	people, err := g.a.People(ctx)
	if err != nil {
		return err
	}
	for _, r := range rows {
		if !r.DueOn.Valid {
			continue
		}
		i := due.Item{Kind: due.LookAgain, Key: r.ID.String(), Tag: r.JointTag,
			Says: r.JointTag + ", " + r.JointName + ": look again, a tool was in doubt"}
		for _, p := range people {
			if p.Name == r.AssignedTo {
				i.Person = p.ID
			}
		}
		g.day(i, r.DueOn.Time.Format(time.DateOnly))
	}
	return nil
}

func (g *dueGather) tools(ctx context.Context) error {
	list, err := crib(ctx, g.a.q)
	if err != nil {
		return err
	}
	for _, t := range list {
		if t.CalibrationEnds != "" {
			g.day(due.Item{Kind: due.Calibration, Key: t.Tag, Tag: t.Tag,
				Says: t.Tag + ": its calibration certificate ends"}, string(t.CalibrationEnds))
		}
	}
	return nil
}

func (g *dueGather) trainings(ctx context.Context) error {
	rows, err := g.a.q.ListTraining(ctx)
	if err != nil {
		return err
	}
	people, err := g.a.People(ctx)
	if err != nil {
		return err
	}
	names, said := map[string]string{}, map[string]string{}
	for _, p := range people {
		names[p.ID] = p.Name
	}
	for _, s := range subjects() {
		said[s.About+" "+s.Code] = s.Word
	}
	for _, r := range rows {
		id := r.PersonID.String()
		if !r.Until.Valid || names[id] == "" {
			continue
		}
		i := due.Item{Kind: due.Training, Key: strings.Join([]string{id, r.About, r.Code}, " "),
			Says: names[id] + ": training for " + said[r.About+" "+r.Code] + " ends"}
		own := i
		own.Person, own.Key = id, i.Key+" own"
		own.Says = "Your training for " + said[r.About+" "+r.Code] + " ends"
		for _, x := range []due.Item{i, own} {
			g.day(x, r.Until.Time.Format(time.DateOnly))
		}
	}
	return nil
}

// work are the parts of the plans in force, for each who does them, as far as their joints are not accepted.
func (g *dueGather) work(ctx context.Context) error {
	plans, err := g.a.running(ctx)
	if err != nil {
		return err
	}
	for _, code := range sortedKeys(plans) {
		p := plans[code]
		var tags []string
		for _, x := range p.Activities {
			tags = append(tags, x.Tag)
		}
		done, err := g.a.q.AcceptedOf(ctx, tags)
		if err != nil {
			return err
		}
		for _, x := range p.Activities {
			if slices.Contains(done, x.Tag) {
				continue
			}
			for _, id := range x.IDs {
				i := due.Item{Kind: due.Work, Key: strings.Join([]string{code, x.Kind.ID(x.Tag), id}, " "),
					Tag:  x.Tag,
					From: x.Start, To: x.End, Person: id, Says: x.Tag + " " + string(x.Kind)}
				if len(x.Tools) > 0 {
					i.Says += "; bring " + strings.Join(x.Tools, ", ")
				}
				g.list = append(g.list, i)
			}
		}
	}
	return nil
}
