package app

import (
	"context"
	"slices"
	"strings"
	"time"

	"dynacor/core/plan"
	"dynacor/core/pressuretest"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/schedule"
	"dynacor/core/shutdown"
	"dynacor/core/tool"
	"dynacor/core/training"
	"dynacor/internal/store"
)

// mostShiftJoints is how many joints are planned at once.
const mostShiftJoints = 500

// jointsInPackage gives the joints of a work package that are in service.
func jointsInPackage(ctx context.Context, q *store.Queries, code string) ([]store.PackageJointsRow, error) {
	if _, err := q.GetPackage(ctx, code); none(err) {
		return nil, notFound("work package", code)
	} else if err != nil {
		return nil, err
	}
	rows, err := q.PackageJoints(ctx, store.PackageJointsParams{Package: code, N: mostShiftJoints + 1})
	if err == nil && len(rows) > mostShiftJoints {
		return nil, newProblem(Conflict, "%s has more than %d joints.", "Divide it into smaller work packages.", code,
			mostShiftJoints)
	}
	return rows, err
}

// shiftFacts reads everything that a shift is planned from.
func (a *App) shiftFacts(ctx context.Context, q ShiftQuery) (*shift, *schedule.Instance, error) {
	zone, err := a.zone(ctx)
	if err != nil {
		return nil, nil, err
	}
	day, err := time.ParseInLocation(time.DateOnly, q.Day, zone)
	if err != nil {
		return nil, nil, quantity.Refuse("day", "Give it as year-month-day.", "is no day")
	}
	rows, err := jointsInPackage(ctx, a.q, q.Package)
	if err != nil {
		return nil, nil, err
	}
	row, err := constraintsInForce(ctx, a.q, q.Package)
	if err != nil {
		return nil, nil, err
	}
	held, err := constraintsOf(row)
	if err != nil {
		return nil, nil, err
	}
	hours, err := shutdown.HoursOf(day, q.Days, q.Shift, held.Crews)
	if err != nil {
		return nil, nil, err
	}
	s := &shift{ShiftPlan: ShiftPlan{Begin: hours.Begin, Constraints: int(row.Version)}, names: shutdown.Names{},
		held: held}
	f := shutdown.Facts{Begin: hours.Begin, Horizon: hours.Open[len(hours.Open)-1][1],
		Break: hours.LongestBreak(q.Shift, held.Crews), Constraints: held}
	s.whole()
	s.Open = s.spans(hours.Open)
	s.End, f.Now = s.at(f.Horizon), min(f.Horizon, s.minute(a.now()))
	people, err := a.People(ctx)
	if err != nil {
		return nil, nil, err
	}
	for _, p := range people {
		s.names[p.ID] = p.Name
		f.People = append(f.People, shutdown.Person{ID: p.ID, Role: p.Role, Open: hours.Of(p.ID)})
	}
	s.crews(hours)
	if f.Joints, err = a.shiftJoints(ctx, rows, s); err != nil {
		return nil, nil, err
	}
	if f.Tests, err = a.shiftTests(ctx, rows, s); err != nil {
		return nil, nil, err
	}
	if f.Training, err = a.shiftTraining(ctx); err != nil {
		return nil, nil, err
	}
	if f.Paces, err = a.paces(ctx, f.Joints, s); err != nil {
		return nil, nil, err
	}
	in, left := shutdown.Lay(f)
	for _, l := range left {
		s.leave(l.Tag, l.Why)
	}
	s.constrained(f.Constraints, zone)
	return s, in, nil
}

func (s *shift) spans(open []schedule.Window) []ShiftSpan {
	out := []ShiftSpan{}
	for _, w := range open {
		out = append(out, ShiftSpan{s.at(w[0]), s.at(w[1])})
	}
	return out
}

// crews tells who works when, where not everybody works in one shift.
func (s *shift) crews(h shutdown.Hours) {
	if len(s.held.Crews) == 0 {
		return
	}
	usual := ShiftCrew{Open: s.spans(h.Usual), People: []string{}}
	for id, name := range s.names {
		if !slices.ContainsFunc(s.held.Crews, func(c shutdown.Crew) bool { return slices.Contains(c.People, id) }) {
			usual.People = append(usual.People, name)
		}
	}
	s.Crews = append(s.Crews, usual)
	for n, c := range s.held.Crews {
		x := ShiftCrew{Name: c.Name, Open: s.spans(h.Crews[n]), People: []string{}}
		for _, id := range c.People {
			if name, ok := s.names[id]; ok {
				x.People = append(x.People, name)
			}
		}
		s.Crews = append(s.Crews, x)
	}
	for i := range s.Crews {
		slices.Sort(s.Crews[i].People)
	}
}

// shiftJoints reads the joints of a package with their plans, and how far those under way have come.
func (a *App) shiftJoints(ctx context.Context, rows []store.PackageJointsRow, s *shift) ([]shutdown.Joint, error) {
	var out []shutdown.Joint
	for _, r := range rows {
		j := ShiftJoint{Tag: r.Tag, Name: r.Name, Family: r.Family, Bolts: int(r.Bolts), Glyph: run.Glyph(r.Glyph),
			Area: r.Area, After: []string{}, Skills: []string{}}
		if r.UnderWay {
			j.RunID = r.PresentRun.String()
		}
		var x shutdown.Joint
		var err error
		switch {
		case r.UnderWay:
			x.Plan, x.Begun, j.Left, err = a.shiftUnderWay(ctx, r)
			j.Begun = x.Begun
		case j.Glyph == run.GlyphAccepted:
			j.Left = shutdown.Accepted
		case j.Glyph == run.GlyphDueAgain:
			j.Left = "to be looked at again"
		default:
			x.Plan, j.Left, err = a.shiftPlan(ctx, r.Tag)
		}
		if err != nil {
			return nil, err
		}
		if j.Left == "" {
			out = append(out, x)
		}
		s.Joints = append(s.Joints, j)
	}
	return out, nil
}

// shiftTraining is what people have been trained for: where the house rules let nobody else work all of it, else the
// skills that work at single joints may ask for.
func (a *App) shiftTraining(ctx context.Context) (shutdown.Training, error) {
	rules, err := houseRules(ctx, a.q)
	if err != nil {
		return shutdown.Training{}, err
	}
	t, err := readTrainings(ctx, a.q)
	if err != nil {
		return shutdown.Training{}, err
	}
	if training.Policy(rules.Training) != training.Block {
		for id, held := range t.of {
			t.of[id] = slices.DeleteFunc(held, func(h training.Held) bool { return h.About != training.Skill })
		}
		return shutdown.Training{Held: t.of}, nil
	}
	tools, err := crib(ctx, a.q)
	out := shutdown.Training{Asked: t.asked, Held: t.of, Kinds: map[string]tool.Kind{}}
	for _, x := range tools {
		out.Kinds[x.Tag] = x.Kind
	}
	return out, err
}

// shiftPlan is the plan of a joint that is not begun, or why it has none.
func (a *App) shiftPlan(ctx context.Context, tag string) (*plan.Plan, string, error) {
	j, err := a.q.GetJoint(ctx, tag)
	if err != nil {
		return nil, "", err
	}
	var d JointDetail
	err = a.jointPlan(ctx, j, &d)
	return d.Plan, strings.TrimSuffix(d.PlanError, "."), err
}

// shiftUnderWay is the plan of a run under way with what of its work is in hand, or why none of it is planned.
func (a *App) shiftUnderWay(ctx context.Context, r store.PackageJointsRow) (*plan.Plan, *shutdown.Begun, string,
	error) {
	row, err := a.q.GetRun(ctx, *r.PresentRun)
	if err != nil {
		return nil, nil, "", err
	}
	p, err := a.plan(ctx, a.q, row.PlanID)
	if err != nil {
		return nil, nil, "", err
	}
	known, err := a.chain(ctx, a.q, row.ID, int(row.LastSeq), row.LastHash)
	if err != nil {
		return nil, nil, "", err
	}
	began := ""
	if len(known.entries) > 0 {
		began = known.entries[0].Event.Person.ID
	}
	b, why := shutdown.Stands(p, known.state(p, a.now()), began)
	if n := len(known.entries); b != nil && n > 0 {
		last := known.entries[n-1]
		since := last.ReceivedAt // or when it was done, where it was told later
		if last.Event.At.Before(since) {
			since = last.Event.At
		}
		b.Idle = max(0, int(a.now().Sub(since).Minutes()))
	}
	return p, b, why, nil
}

// testsOver gives the tests over joints of a package that are not begun.
func testsOver(ctx context.Context, q *store.Queries, rows []store.PackageJointsRow) ([]shutdown.Test, error) {
	list, err := q.PressureTests(ctx, "")
	if err != nil {
		return nil, err
	}
	var out []shutdown.Test
	for _, r := range list {
		if r.Events > 0 || r.Withdrawn != "" || r.Verdict != "" {
			continue
		}
		spec, err := decode[pressuretest.Spec](r.Spec)
		if err != nil {
			return nil, err
		}
		t, of := shutdown.TestOf(spec), false
		for _, tag := range spec.Joints {
			n := slices.IndexFunc(rows, func(j store.PackageJointsRow) bool { return j.Tag == tag })
			if n < 0 {
				continue
			}
			of = true
			if !slices.Contains(t.Areas, rows[n].Area) {
				t.Areas = append(t.Areas, rows[n].Area)
			}
			if rows[n].Glyph != string(run.GlyphAccepted) {
				t.Joints = append(t.Joints, tag)
			}
		}
		if of {
			out = append(out, t)
		}
	}
	return out, nil
}

// shiftTests tells the tests of a package as jobs of their own.
func (a *App) shiftTests(ctx context.Context, rows []store.PackageJointsRow, s *shift) ([]shutdown.Test, error) {
	list, err := testsOver(ctx, a.q, rows)
	for _, t := range list {
		s.Joints = append(s.Joints, ShiftJoint{Tag: t.Tag, Name: t.Title, Glyph: run.GlyphWaiting, Area: t.Areas[0],
			After: append([]string{}, t.Joints...), Test: true})
	}
	return list, err
}

// constrained tells what the plan was held to.
func (s *shift) constrained(c shutdown.Constraints, zone *time.Location) {
	at := func(clock string) time.Time {
		t, err := time.ParseInLocation(shutdown.Clock, clock, zone)
		if err != nil {
			return time.Time{} // it was checked when it was put down
		}
		return t
	}
	spans := func(list []shutdown.Span) []ShiftSpan {
		out := []ShiftSpan{}
		for _, x := range list {
			out = append(out, ShiftSpan{at(x.From), at(x.To)})
		}
		return out
	}
	for _, i := range c.Isolations {
		s.Isolations = append(s.Isolations, ShiftIsolation{i.Code, i.Name, spans(i.Windows)})
	}
	for _, w := range c.Away {
		x := spans([]shutdown.Span{{From: w.From, To: w.To}})
		s.Away = append(s.Away, ShiftAway{s.names[w.Person], x[0].From, x[0].To, w.Why})
	}
	for _, x := range c.Joints {
		n := slices.IndexFunc(s.Joints, func(j ShiftJoint) bool { return j.Tag == x.Tag })
		if n < 0 {
			continue // it has left the work package since
		}
		j := &s.Joints[n]
		j.Isolation, j.Access = x.Isolation, x.Access
		j.After, j.Skills = append(j.After, x.After...), append(j.Skills, x.Skills...)
		if x.Due != "" {
			due := at(x.Due)
			j.Due = &due
		}
	}
}
