package app

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"dynacor/core/run"
	"dynacor/core/schedule"
	"dynacor/core/shutdown"
)

// placements of a plan that somebody waits for: so many for each part of the work, between the least and the most.
const (
	quickEach  = 1500
	quickLeast = 20_000
	quickMost  = 400_000
)

// work is how many placements a plan may take; 0: as many as its size asks for.
func (q ShiftQuery) work(in *schedule.Instance) int {
	switch {
	case q.Longer:
		return 0
	case q.Quick:
		return 8 * quickLeast
	}
	parts := 0
	for _, j := range in.Jobs {
		parts += len(j.Activities)
	}
	return min(quickMost, max(quickLeast, quickEach*parts))
}

// ShiftQuery says what is to be planned, and when people are at work.
type ShiftQuery struct {
	Package string         `json:"-"`
	Day     string         `json:"day"` // the first, 2006-01-02
	Days    int            `json:"days"`
	Shift   shutdown.Shift `json:"shift"`
	Longer  bool           `json:"longer"` // look longer for a better plan
	Quick   bool           `json:"-"`      // a fair plan will do
}

// ShiftActivity is a part of a joint's work in a plan.
type ShiftActivity struct {
	Tag      string        `json:"tag"`
	Kind     shutdown.Kind `json:"kind"`
	Start    time.Time     `json:"start"`
	End      time.Time     `json:"end"`
	People   []string      `json:"people"` // names
	IDs      []string      `json:"ids"`    // of the same persons: two may have one name
	Tools    []string      `json:"tools"`
	With     string        `json:"with"`     // the same in words; "" in plans that were put in force before it was
	Together int           `json:"together"` // tools at once; 0 in such a plan
	Why      string        `json:"why"`      // it begins no earlier
	Begun    bool          `json:"begun"`
	Binds    string        `json:"binds"`  // the part that holds it back, tag and kind; "" when none does
	Pinned   string        `json:"pinned"` // who set it so by hand, and why; "" when nobody did
}

// ShiftJoint is a joint of the package, or a test over some of them, as far as the plan knows it.
type ShiftJoint struct {
	Tag       string          `json:"tag"`
	Name      string          `json:"name"`
	Family    string          `json:"family"`
	Bolts     int             `json:"bolts"`
	Glyph     run.Glyph       `json:"glyph"`
	Area      string          `json:"area"`
	Left      string          `json:"left"` // why it is not planned, "" when it is
	Test      bool            `json:"test"`
	RunID     string          `json:"runId"` // of the run under way, "" without
	Due       *time.Time      `json:"due,omitempty"`
	Late      int             `json:"late"` // minutes that its work ends after it is due
	Isolation string          `json:"isolation"`
	After     []string        `json:"after"`
	Access    string          `json:"access"`
	Skills    []string        `json:"skills"` // that everybody who works at it has
	Begun     *shutdown.Begun `json:"-"`      // how far the run under way has come
}

// ShiftIsolation is what is shut off, and when.
type ShiftIsolation struct {
	Code    string      `json:"code"`
	Name    string      `json:"name"`
	Windows []ShiftSpan `json:"windows"`
}

// ShiftAway is when somebody is not there.
type ShiftAway struct {
	Name string    `json:"name"`
	From time.Time `json:"from"`
	To   time.Time `json:"to"`
	Why  string    `json:"why"`
}

// ShiftCrew is who works when. Without a name it is everybody who is in no crew.
type ShiftCrew struct {
	Name   string      `json:"name"`
	Open   []ShiftSpan `json:"open"`
	People []string    `json:"people"` // names
}

// ShiftWait is a time that passes between two parts of a joint's work: at least as long, or at most.
type ShiftWait struct {
	Tag     string        `json:"tag"`
	Kind    shutdown.Kind `json:"kind"` // from the end of this part
	From    time.Time     `json:"from"`
	To      time.Time     `json:"to"`
	Minutes int           `json:"minutes"` // that are asked for
	Most    bool          `json:"most"`    // no longer than them: a lubricant lives
	What    string        `json:"what"`
}

// ShiftMoved is a part of the work that stands elsewhere than in the plan in force.
type ShiftMoved struct {
	Tag    string        `json:"tag"`
	Kind   shutdown.Kind `json:"kind"`
	Start  time.Time     `json:"start"` // as it was announced
	End    time.Time     `json:"end"`
	People []string      `json:"people"`
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
	// how long it takes when work takes as long as it does: 50 and 80 of 100 runs of it are done by then
	P50   time.Time `json:"p50"`
	P80   time.Time `json:"p80"`
	Risks []string  `json:"risks"` // what does not hold in some of the runs, in words, the likeliest first
	// against the plan in force: the parts of what is near that move, and by how many minutes the end would come
	// earlier if they moved freely; then every part that stands elsewhere
	Moved []string     `json:"moved"`
	Costs int          `json:"costs"`
	Moves []ShiftMoved `json:"moves"`
	// what it was held to
	Constraints int              `json:"constraints"` // their version
	Isolations  []ShiftIsolation `json:"isolations"`
	Away        []ShiftAway      `json:"away"`
	Crews       []ShiftCrew      `json:"crews"` // none: all work in one shift
	Waits       []ShiftWait      `json:"waits"`
	Paces       []ShiftPace      `json:"paces"` // how the site's own history corrects the time of pulls
}

// whole leaves no list out, as plans of earlier versions do.
func (p *ShiftPlan) whole() {
	some(&p.Open)
	some(&p.People)
	some(&p.Tools)
	some(&p.Joints)
	some(&p.Activities)
	some(&p.Forbids)
	some(&p.Risks)
	some(&p.Moved)
	some(&p.Moves)
	some(&p.Isolations)
	some(&p.Away)
	some(&p.Crews)
	some(&p.Waits)
	some(&p.Paces)
	for i := range p.Joints {
		some(&p.Joints[i].After)
		some(&p.Joints[i].Skills)
	}
	for i := range p.Activities {
		some(&p.Activities[i].IDs)
	}
	if p.P50.IsZero() {
		p.P50, p.P80 = p.Finish, p.Finish
	}
}

func some[T any](l *[]T) {
	if *l == nil {
		*l = []T{}
	}
}

// PlanShift plans the joints of a work package that are not finished, and the tests over them.
func (a *App) PlanShift(ctx context.Context, q ShiftQuery) (ShiftPlan, error) {
	s, in, err := a.shiftFacts(ctx, q)
	if err != nil {
		return ShiftPlan{}, err
	}
	force, err := a.ShiftInForce(ctx, q.Package)
	if err != nil {
		return ShiftPlan{}, err
	}
	answer, err := a.solveShift(ctx, force, s, in, q.work(in))
	if err != nil {
		return ShiftPlan{}, err
	}
	s.tell(answer, in)
	s.foresee(in, answer)
	if force.Plan != nil {
		s.against(force.Plan)
	}
	return s.ShiftPlan, ctx.Err()
}

// solveShift plans, with what is near in the plan in force as it was announced: as much of it as can stay at what that
// may cost.
func (a *App) solveShift(ctx context.Context, force ShiftInForce, s *shift, in *schedule.Instance,
	work int) (*schedule.Answer, error) {
	announced := s.announced(force.Plan, in)
	shutdown.OnTime(in, announced)
	now := s.minute(a.now())
	for i, near := range shutdown.Near {
		in.Keep = shutdown.Keep(in, announced, now+near)
		answer, err := schedule.Solve(ctx, in, schedule.Options{Seed: 1, Work: work})
		if err != nil || in.Keep == nil || answer.Keep.Kept || i == len(shutdown.Near)-1 {
			return answer, err
		}
	}
	return nil, errors.New("no answer") // there is a last one
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
	held  shutdown.Constraints
	paces shutdown.Paces
}

func (s *shift) at(minute int) time.Time { return s.Begin.Add(time.Duration(minute) * time.Minute) }

func (s *shift) minute(t time.Time) int { return int(t.Sub(s.Begin).Minutes()) }

func (s *shift) leave(tag, why string) {
	i := slices.IndexFunc(s.Joints, func(j ShiftJoint) bool { return j.Tag == tag })
	s.Joints[i].Left = why
}

// modes are those of all activities, by activity and name.
func modes(in *schedule.Instance) map[[2]string]schedule.Mode {
	out := map[[2]string]schedule.Mode{}
	for _, j := range in.Jobs {
		for _, act := range j.Activities {
			for _, m := range act.Modes {
				out[[2]string{act.ID, m.ID}] = m
			}
		}
	}
	return out
}

// tell puts an answer into words and times of the clock.
func (s *shift) tell(a *schedule.Answer, in *schedule.Instance) {
	busy, used := map[string]int{}, map[string]int{}
	ways := modes(in)
	for _, p := range a.Activities {
		tag, kind := shutdown.Of(p.Activity)
		x := ShiftActivity{Tag: tag, Kind: kind, Start: s.at(p.Start), End: s.at(p.End), People: []string{},
			IDs: append([]string{}, p.People...), Tools: append([]string{}, p.Tools...),
			Why: shutdown.Why(p.Because, s.names), Binds: shutdown.Binds(p.Because), Pinned: s.pinned(p.Activity, in)}
		x.With, x.Together = shutdown.Said(ways[[2]string{p.Activity, p.Mode}])
		x.Begun = slices.ContainsFunc(in.Begun, func(b schedule.Planned) bool { return b.Activity == p.Activity })
		if x.Begun {
			x.Why = "It is under way."
		}
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
	for i := range s.Joints {
		s.Joints[i].late(s.Activities)
	}
	for _, tag := range a.Unplaced {
		s.leave(tag, "does not fit")
	}
	s.waits(in)
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

// waits tells what passes between parts of a joint's work, where the plan is held to it.
func (s *shift) waits(in *schedule.Instance) {
	part := func(id string) *ShiftActivity {
		tag, kind := shutdown.Of(id)
		n := slices.IndexFunc(s.Activities, func(x ShiftActivity) bool { return x.Tag == tag && x.Kind == kind })
		if n < 0 {
			return nil
		}
		return &s.Activities[n]
	}
	for _, l := range in.Links {
		from, to := part(l.From), part(l.To)
		if from == nil || to == nil || l.Min == 0 && l.Max == nil {
			continue
		}
		w := ShiftWait{Tag: from.Tag, Kind: from.Kind, From: from.End, To: to.Start, Minutes: l.Min,
			What: s.held.Of(from.Tag).WaitWhy}
		if l.Max != nil {
			w.To, w.Minutes, w.Most, w.What = to.End, *l.Max, true, "lubricant"
		} else if w.What == "" {
			w.What = "wait"
		}
		s.Waits = append(s.Waits, w)
	}
}

// late says how long after it is due the last part of a joint's work ends.
func (j *ShiftJoint) late(acts []ShiftActivity) {
	for _, x := range acts {
		if j.Due != nil && x.Tag == j.Tag {
			j.Late = max(j.Late, int(x.End.Sub(*j.Due).Minutes()))
		}
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
