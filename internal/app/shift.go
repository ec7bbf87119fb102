package app

import (
	"context"
	"slices"
	"strings"
	"time"

	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/schedule"
	"dynacor/core/shutdown"
	"dynacor/internal/store"
)

// mostShiftJoints is how many joints are planned at once.
const mostShiftJoints = 300

// placements of a plan that somebody waits for, and of one for which they take the time.
const (
	quickWork  = 150_000
	longerWork = 0 // as many as the number of joints asks for
)

// ShiftQuery says what is to be planned, and when people are at work.
type ShiftQuery struct {
	Package string         `json:"-"`
	Day     string         `json:"day"` // the first, 2006-01-02
	Days    int            `json:"days"`
	Shift   shutdown.Shift `json:"shift"`
	Longer  bool           `json:"longer"` // look longer for a better plan
}

// ShiftActivity is a part of a joint's work in a plan.
type ShiftActivity struct {
	Tag    string        `json:"tag"`
	Kind   shutdown.Kind `json:"kind"`
	Start  time.Time     `json:"start"`
	End    time.Time     `json:"end"`
	People []string      `json:"people"` // names
	IDs    []string      `json:"ids"`    // of the same persons: two may have one name
	Tools  []string      `json:"tools"`
	Why    string        `json:"why"` // it begins no earlier
}

// ShiftJoint is a joint of the package, as far as the plan knows it.
type ShiftJoint struct {
	Tag    string    `json:"tag"`
	Name   string    `json:"name"`
	Family string    `json:"family"`
	Bolts  int       `json:"bolts"`
	Glyph  run.Glyph `json:"glyph"`
	Area   string    `json:"area"`
	Left   string    `json:"left"` // why it is not planned, "" when it is
}

// ShiftSpan is a stretch of time.
type ShiftSpan struct {
	From time.Time `json:"from"`
	To   time.Time `json:"to"`
}

// ShiftPlan says who does what at which joint, with which tool, by when.
type ShiftPlan struct {
	Begin      time.Time       `json:"begin"`
	End        time.Time       `json:"end"` // of the last shift
	Open       []ShiftSpan     `json:"open"`
	People     []string        `json:"people"` // names, those who are at something first
	Tools      []string        `json:"tools"`  // those that are used, the busiest first
	Joints     []ShiftJoint    `json:"joints"`
	Activities []ShiftActivity `json:"activities"` // by their start
	Finish     time.Time       `json:"finish"`
	Bound      time.Time       `json:"bound"` // no plan of all its joints ends earlier
	BoundBy    string          `json:"boundBy"`
	Best       bool            `json:"best"`    // no plan ends earlier
	Forbids    []string        `json:"forbids"` // what cannot all hold, in words, a sentence each
	// against the plan in force: the parts of what is near that move, and by how many minutes the end would come earlier
	// if they moved freely
	Moved []string `json:"moved"`
	Costs int      `json:"costs"`
}

// PlanShift plans the joints of a work package that are not begun and not finished.
func (a *App) PlanShift(ctx context.Context, q ShiftQuery) (ShiftPlan, error) {
	zone, err := a.zone(ctx)
	if err != nil {
		return ShiftPlan{}, err
	}
	day, err := time.ParseInLocation(time.DateOnly, q.Day, zone)
	if err != nil {
		return ShiftPlan{}, quantity.Refuse("day", "Give it as year-month-day.", "is no day")
	}
	begin, open, err := q.Shift.Windows(day, q.Days)
	if err != nil {
		return ShiftPlan{}, err
	}
	people, err := a.People(ctx)
	if err != nil {
		return ShiftPlan{}, err
	}
	s := shift{ShiftPlan: ShiftPlan{Begin: begin, Open: []ShiftSpan{}, Joints: []ShiftJoint{},
		Activities: []ShiftActivity{}, Forbids: []string{}, Moved: []string{}}, names: shutdown.Names{}}
	for _, w := range open {
		s.Open = append(s.Open, ShiftSpan{s.at(w[0]), s.at(w[1])})
	}
	f := shutdown.Facts{Horizon: open[len(open)-1][1], Break: q.Shift.Break(open)}
	s.End = s.at(f.Horizon)
	for _, p := range people {
		s.names[p.ID] = p.Name
		f.People = append(f.People, shutdown.Person{ID: p.ID, Role: p.Role, Open: open})
	}
	if f.Joints, err = a.shiftJoints(ctx, q.Package, &s); err != nil {
		return ShiftPlan{}, err
	}
	in, left := shutdown.Lay(f)
	for _, l := range left {
		s.leave(l.Tag, l.Why)
	}
	if in.Keep, err = a.keepShift(ctx, q.Package, &s, in); err != nil {
		return ShiftPlan{}, err
	}
	work := quickWork
	if q.Longer {
		work = longerWork
	}
	answer, err := schedule.Solve(ctx, in, schedule.Options{Seed: 1, Work: work})
	if err != nil {
		return ShiftPlan{}, err
	}
	s.tell(answer)
	return s.ShiftPlan, ctx.Err()
}

// zone is where the site's clocks are set.
func (a *App) zone(ctx context.Context) (*time.Location, error) {
	name, err := a.Setting(ctx, settingZone, "UTC")
	if err != nil {
		return nil, err
	}
	return time.LoadLocation(name)
}

// shift is a plan that is being told.
type shift struct {
	ShiftPlan
	names shutdown.Names
}

func (s *shift) at(minute int) time.Time { return s.Begin.Add(time.Duration(minute) * time.Minute) }

func (s *shift) leave(tag, why string) {
	i := slices.IndexFunc(s.Joints, func(j ShiftJoint) bool { return j.Tag == tag })
	s.Joints[i].Left = why
}

// shiftJoints reads the joints of a package with their plans. One that is begun or finished is told, not planned.
func (a *App) shiftJoints(ctx context.Context, code string, s *shift) ([]shutdown.Joint, error) {
	if _, err := a.q.GetPackage(ctx, code); none(err) {
		return nil, notFound("work package", code)
	} else if err != nil {
		return nil, err
	}
	rows, err := a.q.PackageJoints(ctx, store.PackageJointsParams{Package: code, N: mostShiftJoints + 1})
	if err != nil {
		return nil, err
	}
	if len(rows) > mostShiftJoints {
		return nil, newProblem(Conflict, "%s has more than %d joints.", "Divide it into smaller work packages.", code,
			mostShiftJoints)
	}
	var out []shutdown.Joint
	for _, r := range rows {
		d, err := a.Joint(ctx, r.Tag)
		if err != nil {
			return nil, err
		}
		j := ShiftJoint{Tag: r.Tag, Name: r.Name, Family: r.Family, Bolts: int(r.Bolts), Glyph: run.Glyph(r.Glyph),
			Area: d.Joint.Area}
		switch {
		case r.UnderWay:
			j.Left = "under way"
		case j.Glyph == run.GlyphAccepted:
			j.Left = "accepted"
		case j.Glyph == run.GlyphDueAgain:
			j.Left = "to be looked at again"
		case d.Plan == nil:
			j.Left = strings.TrimSuffix(d.PlanError, ".")
		default:
			out = append(out, shutdown.Joint{Plan: d.Plan})
		}
		s.Joints = append(s.Joints, j)
	}
	return out, nil
}

// tell puts an answer into words and times of the clock.
func (s *shift) tell(a *schedule.Answer) {
	busy, used := map[string]int{}, map[string]int{}
	for _, p := range a.Activities {
		tag, kind := shutdown.Of(p.Activity)
		x := ShiftActivity{Tag: tag, Kind: kind, Start: s.at(p.Start), End: s.at(p.End), People: []string{},
			IDs: append([]string{}, p.People...), Tools: append([]string{}, p.Tools...),
			Why: shutdown.Why(p.Because, s.names)}
		for _, id := range p.People {
			x.People = append(x.People, s.names[id])
			busy[s.names[id]] += p.End - p.Start
		}
		for _, t := range p.Tools {
			used[t] += p.End - p.Start
		}
		s.Activities = append(s.Activities, x)
	}
	slices.SortStableFunc(s.Activities, func(x, y ShiftActivity) int { return x.Start.Compare(y.Start) })
	for _, name := range s.names {
		busy[name] += 0 // those with nothing to do are told, too
	}
	s.People, s.Tools = most(busy), most(used)
	for _, tag := range a.Unplaced {
		s.leave(tag, "does not fit")
	}
	s.Finish, s.Bound, s.BoundBy = s.at(a.Objective.Finish), s.at(a.Bound.Finish), a.Bound.By
	for id, name := range s.names {
		s.BoundBy = strings.ReplaceAll(s.BoundBy, id, name)
	}
	if a.Keep != nil {
		s.Moved, s.Costs = append([]string{}, a.Keep.Changed...), max(0, a.Keep.Costs.Finish)
	}
	s.Best = len(a.Unplaced) == 0 && (a.Stopped == "proved" || a.Objective.Finish <= a.Bound.Finish)
	for _, f := range a.Forbids {
		var facts []string
		for _, x := range f.Facts {
			facts = append(facts, shutdown.Fact(x, s.names))
		}
		s.Forbids = append(s.Forbids, strings.Join(f.Jobs, ", ")+": in the time there is, these cannot all hold: "+
			strings.Join(facts, "; ")+".")
	}
}

// most gives names by how many minutes each has, the most first.
func most(minutes map[string]int) []string {
	out := []string{}
	for name := range minutes {
		out = append(out, name)
	}
	slices.SortFunc(out, func(a, b string) int {
		if d := minutes[b] - minutes[a]; d != 0 {
			return d
		}
		return strings.Compare(a, b)
	})
	return out
}
