// Package shutdown turns the plans of joints into the activities of a shutdown, for core/schedule to plan: who may do
// what, with which tools, in which order, and how long each takes.
package shutdown

import (
	"slices"
	"strings"
	"time"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/core/schedule"
	"dynacor/core/tool"
	"dynacor/core/training"
)

// The skills that activities ask for.
const (
	SkillTighten = "tighten"
	SkillProve   = "prove"
	SkillWitness = "witness"
	SkillTest    = "test"
)

// trades say whose daily work a skill is. Others may do it, too, as the table of acts says; they are not planned for
// it.
var trades = map[string][]string{SkillTighten: {authority.Technician, authority.Lead},
	SkillProve: {authority.Inspector}, SkillWitness: {authority.Lead, authority.Inspector},
	SkillTest: {authority.Technician, authority.Lead}}

// Kind says which part of a joint's work an activity is.
type Kind string

// The kinds, in the order in which they are done.
const (
	Prepare   Kind = "prepare"
	Hold      Kind = "hold" // a hold or a witness before the first pull
	Lubricate Kind = "lubricate"
	Tighten   Kind = "tighten"
	Prove     Kind = "prove"
	Witness   Kind = "witness" // a hold or a witness after the last

	PressureTest Kind = "test" // of several joints together, a job of its own
)

var kinds = []Kind{Prepare, Hold, Lubricate, Tighten, Prove, Witness}

// ID names an activity: the joint's tag, then its kind.
func (k Kind) ID(tag string) string { return tag + " " + string(k) }

// Of takes the name of an activity apart.
func Of(id string) (tag string, k Kind) {
	at := strings.LastIndexByte(id, ' ')
	if at < 0 {
		return id, ""
	}
	return id[:at], Kind(id[at+1:])
}

// Joint is a joint that is to be done, or goes on.
type Joint struct {
	Plan  *plan.Plan
	Begun *Begun // nil: it is not begun
}

// Begun says how far a joint has come: which part of its work is under way, and what of it is left.
type Begun struct {
	At      Kind
	Minutes int      // that it still takes, 1 or more
	Idle    int      // minutes since somebody did something to it
	People  []string // ids of those who are at it
	Tools   []string // tags of what they have in hand
}

// mostIdle is how long nobody may do anything to a joint that still counts as in hand, minutes. A starting value.
const mostIdle = 60

// Person is somebody who can be at work.
type Person struct {
	ID   string
	Role string // as authority reads it
	Open []schedule.Window
}

// Facts is what is known when a shutdown is laid out. Minutes count from its beginning.
type Facts struct {
	Begin       time.Time // by the site's clocks
	Now         int       // minute before which nothing begins; below 0: the plan begins later
	Horizon     int
	Joints      []Joint
	Tests       []Test
	People      []Person
	Break       int // the longest gap that preparing may rest through, minutes
	Constraints Constraints
	Training    Training
	Paces       Paces // of the site's own history; none: as estimated
}

// Training is what people have been trained for. Its subjects are skills of their own, which end with the last day of a
// training.
type Training struct {
	Asked []training.Subject // where work goes to nobody else; none: nothing is asked for but by constraints
	Held  map[string][]training.Held
	Kinds map[string]tool.Kind // of tools, by their tags
}

// skill is a subject as a skill.
func skill(about training.About, code string) string { return string(about) + ":" + code }

// Left is a joint that cannot be laid out, with what its plan lacks.
type Left struct {
	Tag string
	Why string
}

// Most set-ups that are laid out as ways of one activity: the first of the finder are the best.
const mostWays = 6

// byHand is the way of what takes no tools of the crib.
const byHand = "by hand"

// secondsOfHold is how long a hold or a witness takes by itself. A starting value.
const secondsOfHold = 300

// Lay gives the activities of every joint whose plan is complete, and the others with why.
//
// A joint is prepared, its holds are signed, it is lubricated, tightened, proved, and what is witnessed after the last
// pull is. Preparing may rest over a break; nothing else may. From the end of lubricating to the end of tightening
// passes no more than the lubricant lives. Whoever proves has not tightened. What the checks before, at and after
// lubricating and the proof take is the procedure's own time for all of them, shared out by their number.
//
// Of a joint that is begun only what is left is laid out; the part under way goes on with those who are at it, when now
// is a time at which they are at work. Constraints hold for all of a joint's work.
func Lay(f Facts) (*schedule.Instance, []Left) {
	horizon := f.Horizon
	in := &schedule.Instance{Horizon: &horizon, Now: max(0, f.Now), People: []schedule.Worker{},
		Tools: []schedule.Piece{},
		Areas: []schedule.Room{}, Isolations: []schedule.Isolation{}, Jobs: []schedule.Job{}, Links: []schedule.Link{},
		Apart: [][]string{}}
	at := frame{f.Begin, f.Horizon}
	in.People = workers(f, at)
	for _, i := range f.Constraints.Isolations {
		in.Isolations = append(in.Isolations, schedule.Isolation{ID: i.Code, Windows: at.windows(i.Windows)})
	}
	left := []Left{}
	hands := map[string]bool{}
	if f.Now >= 0 {
		hands = inHand(f.Joints)
	}
	for _, j := range f.Joints {
		if why := lacks(j.Plan); why != "" {
			left = append(left, Left{j.Plan.Joint.Tag, why})
			continue
		}
		l := layer{in: in, facts: f, frame: at, p: j.Plan, begun: j.Begun,
			inHand: hands[j.Plan.Joint.Tag], held: f.Constraints.Of(j.Plan.Joint.Tag)}
		if why := l.lacksTools(); why != "" {
			left = append(left, Left{j.Plan.Joint.Tag, why})
			continue
		}
		l.joint()
	}
	left = follow(in, f.Constraints, left)
	for _, t := range f.Tests {
		if why := t.lay(in, left); why != "" {
			left = append(left, Left{t.Tag, why})
		}
	}
	pins(in, f.Constraints, at)
	return in, left
}

// inHand tells the joints that somebody is at: nobody and no tool is at two, so that the one last touched counts.
func inHand(joints []Joint) map[string]bool {
	var begun []Joint
	for _, j := range joints {
		if j.Begun != nil && j.Begun.Idle <= mostIdle {
			begun = append(begun, j)
		}
	}
	slices.SortStableFunc(begun, func(a, b Joint) int { return a.Begun.Idle - b.Begun.Idle })
	taken, out := map[string]bool{}, map[string]bool{}
	for _, j := range begun {
		all := slices.Concat(j.Begun.People, j.Begun.Tools)
		if slices.ContainsFunc(all, func(id string) bool { return taken[id] }) {
			continue
		}
		for _, id := range all {
			taken[id] = true
		}
		out[j.Plan.Joint.Tag] = true
	}
	return out
}

// workers are the people with what their daily work lets them do, less when they are away.
func workers(f Facts, at frame) []schedule.Worker {
	out := []schedule.Worker{}
	for _, p := range f.People {
		w := schedule.Worker{ID: p.ID, Open: p.Open, Skills: []schedule.SkillHeld{}}
		for _, a := range f.Constraints.Away {
			if a.Person == p.ID {
				w.Open = without(w.Open, at.windows([]Span{{a.From, a.To}}))
			}
		}
		for _, s := range []string{SkillTighten, SkillProve, SkillWitness, SkillTest} {
			daily := func(role string) bool { return slices.Contains(trades[s], role) }
			if slices.ContainsFunc(authority.Held(p.Role), daily) {
				w.Skills = append(w.Skills, schedule.SkillHeld{Skill: s})
			}
		}
		for _, h := range f.Training.Held[p.ID] {
			k := schedule.SkillHeld{Skill: skill(h.About, h.Code)}
			if h.Until != "" {
				end := at.endOf(h.Until)
				k.Until = &end
			}
			w.Skills = append(w.Skills, k)
		}
		out = append(out, w)
	}
	return out
}

// follow links the joints that come after each other. A joint that comes after one
// that is left out is left out, too.
func follow(in *schedule.Instance, c Constraints, left []Left) []Left {
	for again := true; again; {
		again = false
		for _, j := range c.Joints {
			n := slices.IndexFunc(in.Jobs, func(x schedule.Job) bool { return x.ID == j.Tag })
			first := slices.IndexFunc(left, func(l Left) bool { return slices.Contains(j.After, l.Tag) })
			if n >= 0 && first >= 0 {
				drop(in, n)
				left = append(left, Left{j.Tag, "comes after " + left[first].Tag + ", which is not planned"})
				again = true
			}
		}
	}
	for _, j := range c.Joints {
		to := slices.IndexFunc(in.Jobs, func(x schedule.Job) bool { return x.ID == j.Tag })
		for _, o := range j.After {
			from := slices.IndexFunc(in.Jobs, func(x schedule.Job) bool { return x.ID == o })
			if to >= 0 && from >= 0 {
				acts := in.Jobs[from].Activities
				in.Links = append(in.Links, schedule.Link{From: acts[len(acts)-1].ID, To: in.Jobs[to].Activities[0].ID})
			}
		}
	}
	return left
}

// pins adds what was decided by hand about what is still to be done.
func pins(in *schedule.Instance, c Constraints, at frame) {
	for _, p := range c.Pins {
		if x, ok := pinned(in, p, at); ok {
			in.Pins = append(in.Pins, x)
		}
	}
}

// pinned is a pin on what is still to be done.
func pinned(in *schedule.Instance, p Pin, at frame) (schedule.Pin, bool) {
	id := p.Kind.ID(p.Tag)
	is := func(a schedule.Activity) bool { return a.ID == id }
	there := func(j schedule.Job) bool { return slices.ContainsFunc(j.Activities, is) }
	known := func(w schedule.Worker) bool { return w.ID == p.Person }
	if !slices.ContainsFunc(in.Jobs, there) || p.Person != "" && !slices.ContainsFunc(in.People, known) ||
		slices.ContainsFunc(in.Begun, func(b schedule.Planned) bool { return b.Activity == id }) {
		return schedule.Pin{}, false
	}
	x := schedule.Pin{Activity: id, Person: p.Person}
	if p.Start != "" {
		n := at.minute(p.Start)
		x.Start = &n
	}
	if p.NotBefore != "" {
		n := at.minute(p.NotBefore)
		x.NotBefore = &n
	}
	return x, true
}

// drop takes a job out with what names it.
func drop(in *schedule.Instance, n int) {
	of := func(id string) bool { tag, _ := Of(id); return tag == in.Jobs[n].ID }
	in.Links = slices.DeleteFunc(in.Links, func(l schedule.Link) bool { return of(l.From) || of(l.To) })
	in.Apart = slices.DeleteFunc(in.Apart, func(a []string) bool { return of(a[0]) })
	in.Begun = slices.DeleteFunc(in.Begun, func(b schedule.Planned) bool { return of(b.Activity) })
	in.Jobs = slices.Delete(in.Jobs, n, n+1)
}

// Of gives what holds for a joint.
func (c Constraints) Of(tag string) JointConstraint {
	for _, j := range c.Joints {
		if j.Tag == tag {
			return j
		}
	}
	return JointConstraint{Tag: tag, Weight: 1}
}

// lacks says why a joint cannot be laid out, "" when it can.
func lacks(p *plan.Plan) string {
	switch {
	case len(p.ToBeSupplied) > 0:
		return "to be supplied: " + strings.Join(p.ToBeSupplied, ", ")
	case !p.Complete():
		return "its plan is not complete"
	}
	return ""
}
