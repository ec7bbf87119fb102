// Package shutdown turns the plans of joints into the activities of a shutdown, for core/schedule to plan: who may do
// what, with which tools, in which order, and how long each takes.
package shutdown

import (
	"math"
	"slices"
	"strings"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/schedule"
)

// The skills that activities ask for.
const (
	SkillTighten = "tighten"
	SkillProve   = "prove"
	SkillWitness = "witness"
)

// trades say whose daily work a skill is. Others may do it, too, as the table of acts says; they are not planned for
// it.
var trades = map[string][]string{SkillTighten: {authority.Technician, authority.Lead},
	SkillProve: {authority.Inspector}, SkillWitness: {authority.Lead, authority.Inspector}}

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
)

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

// Joint is a joint that is to be done.
type Joint struct {
	Plan   *plan.Plan
	Due    *int // minute; nil: whenever it fits
	Weight *int // of a minute that it is late; nil: 1
}

// Person is somebody who can be at work.
type Person struct {
	ID   string
	Role string // as authority reads it
	Open []schedule.Window
}

// Facts is what is known when a shutdown is laid out. Minutes count from its beginning.
type Facts struct {
	Horizon int
	Joints  []Joint
	People  []Person
	Break   int // the longest gap that preparing may rest through, minutes
}

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
func Lay(f Facts) (*schedule.Instance, []Left) {
	horizon := f.Horizon
	in := &schedule.Instance{Horizon: &horizon, People: []schedule.Worker{}, Tools: []schedule.Piece{},
		Areas: []schedule.Room{}, Isolations: []schedule.Isolation{}, Jobs: []schedule.Job{}, Links: []schedule.Link{},
		Apart: [][]string{}}
	for _, p := range f.People {
		w := schedule.Worker{ID: p.ID, Open: p.Open, Skills: []schedule.SkillHeld{}}
		for _, s := range []string{SkillTighten, SkillProve, SkillWitness} {
			daily := func(role string) bool { return slices.Contains(trades[s], role) }
			if slices.ContainsFunc(authority.Held(p.Role), daily) {
				w.Skills = append(w.Skills, schedule.SkillHeld{Skill: s})
			}
		}
		in.People = append(in.People, w)
	}
	left := []Left{}
	for _, j := range f.Joints {
		if why := lacks(j.Plan); why != "" {
			left = append(left, Left{j.Plan.Joint.Tag, why})
			continue
		}
		l := layer{in: in, p: j.Plan, rest: f.Break}
		l.joint(j)
	}
	return in, left
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

type layer struct {
	in   *schedule.Instance
	p    *plan.Plan
	job  schedule.Job
	last string // activity that the next one follows
	rest int
}

func (l *layer) joint(j Joint) {
	tag := l.p.Joint.Tag
	l.job = schedule.Job{ID: tag, Due: j.Due, Weight: j.Weight}
	each := l.secondsOfCheck()
	before, lubricating, after := l.checks()
	l.add(Prepare, []schedule.Mode{{ID: byHand, Minutes: minutes(each * float64(before)),
		People: []schedule.Role{{Skills: []string{SkillTighten}}}}})
	l.holds(Hold, procedure.Ready)
	if lubricating > 0 {
		l.add(Lubricate, []schedule.Mode{{ID: byHand, Minutes: minutes(each * float64(lubricating)),
			People: []schedule.Role{{Skills: []string{SkillTighten}}}}})
	}
	l.add(Tighten, l.ways())
	l.add(Prove, l.proofs(each*float64(after)))
	l.holds(Witness, procedure.Prove)
	if life := l.life(); lubricating > 0 && life > 0 {
		l.in.Links = append(l.in.Links, schedule.Link{ID: "life of the lubricant of " + tag, From: Lubricate.ID(tag),
			To: Tighten.ID(tag), FromAt: "end", ToAt: "end", Max: &life})
	}
	l.in.Apart = append(l.in.Apart, []string{Tighten.ID(tag), Prove.ID(tag)})
	l.in.Jobs = append(l.in.Jobs, l.job)
}

// add puts an activity behind the one before it.
func (l *layer) add(k Kind, ways []schedule.Mode) {
	area := l.p.Joint.Area
	if !slices.ContainsFunc(l.in.Areas, func(r schedule.Room) bool { return r.ID == area }) {
		l.in.Areas = append(l.in.Areas, schedule.Room{ID: area})
	}
	a := schedule.Activity{ID: k.ID(l.p.Joint.Tag), Modes: ways, At: []schedule.At{{Area: area}}}
	if k == Prepare {
		a.Pause = l.rest
	}
	l.job.Activities = append(l.job.Activities, a)
	if l.last != "" {
		l.in.Links = append(l.in.Links, schedule.Link{From: l.last, To: a.ID})
	}
	l.last = a.ID
}

// holds adds one activity for everything that another signs or looks on at a station: who shows it, and who signs.
func (l *layer) holds(k Kind, at procedure.Station) {
	n := 0
	for _, c := range l.p.Checks {
		if c.Station == at && c.Signed() {
			n++
		}
	}
	if n > 0 {
		l.add(k, []schedule.Mode{{ID: byHand, Minutes: minutes(float64(n) * secondsOfHold),
			People: []schedule.Role{{Skills: []string{SkillWitness}}, {Skills: []string{SkillTighten}}}}})
	}
}

// checks counts what is answered before lubricating, at it, and after the last pull.
func (l *layer) checks() (before, lubricating, after int) {
	for _, c := range l.p.Checks {
		switch {
		case c.Station != procedure.Ready:
			after++
		case c.Kind == procedure.Lubricant || c.LifeMinutes > 0:
			lubricating++
		default:
			before++
		}
	}
	return before, lubricating, after
}

// secondsOfCheck is the procedure's time for all but the pulls, for each of its checks.
func (l *layer) secondsOfCheck() float64 {
	pulls := 0.0
	for _, p := range l.p.Passes {
		pulls += l.seconds(p, 1)
	}
	return math.Max(0, l.p.Minutes*60-pulls) / math.Max(1, float64(len(l.p.Checks)))
}

// seconds is how long a pass takes when so many pull at once: as the house rules say, in stops of as many.
func (l *layer) seconds(p plan.Pass, together int) float64 {
	r := l.p.HouseRules
	s := math.Ceil(float64(len(p.Order))/float64(together)) * r.SecondsPerPull
	if p.Kind.Sets() {
		s += r.SecondsPerPass
	}
	return s
}

// life is how many minutes the lubricant lives, 0 when nothing says so.
func (l *layer) life() int {
	least := 0.0
	for _, c := range l.p.Checks {
		if c.Station == procedure.Ready && c.LifeMinutes > 0 && (least == 0 || c.LifeMinutes < least) {
			least = c.LifeMinutes
		}
	}
	return int(least)
}

// ways are the ways to tighten: one for each usable set-up of the finder, with as many people as pull at once.
func (l *layer) ways() []schedule.Mode {
	total, people := 0.0, 1
	for _, p := range l.p.Passes {
		if round(p) {
			continue
		}
		total += l.seconds(p, max(1, p.Together))
		people = max(people, p.Together)
	}
	var out []schedule.Mode
	for _, tags := range l.setUps() {
		out = append(out, schedule.Mode{ID: Way(tags), Minutes: minutes(total),
			People: []schedule.Role{{Skills: []string{SkillTighten}, Count: &people}}, Tools: l.demands(tags)})
	}
	return out
}

// proofs are the ways to prove: to go round with the set-up that tightens, and to answer what is asked after it.
func (l *layer) proofs(asked float64) []schedule.Mode {
	total, pulled := asked, false
	for _, p := range l.p.Passes {
		if round(p) {
			total += l.seconds(p, 1)
			pulled = true
		}
	}
	role := []schedule.Role{{Skills: []string{SkillProve}}}
	if !pulled {
		return []schedule.Mode{{ID: byHand, Minutes: minutes(total), People: role}}
	}
	var out []schedule.Mode
	for _, tags := range l.setUps() {
		out = append(out, schedule.Mode{ID: Way(tags), Minutes: minutes(total), People: role, Tools: l.demands(tags)})
	}
	return out
}

// round reports whether a pass goes round what is tight, to prove it.
func round(p plan.Pass) bool { return p.Kind == plan.CheckPass || p.Kind == plan.VerifyPass }

// setUps are tools that together can tighten all groups, the best of the finder first: one set-up for each usable offer
// when there is one group, what is in hand for each when there are several. One without tools: all is done by hand.
func (l *layer) setUps() [][]string {
	groups := l.p.AllGroups()
	if len(groups) == 1 {
		var out [][]string
		for _, o := range groups[0].Offers {
			if o.Usable && len(out) < mostWays {
				out = append(out, strings.FieldsFunc(o.Tags, func(r rune) bool { return r == '+' }))
			}
		}
		if len(out) > 0 {
			return out
		}
	}
	var all []string
	for _, g := range groups {
		if s := g.InHand(); s != nil {
			for _, t := range s.String {
				if !slices.Contains(all, t.Tag) {
					all = append(all, t.Tag)
				}
			}
		}
	}
	return [][]string{all}
}

// Way names the way of doing something with these tools.
func Way(tags []string) string {
	if len(tags) == 0 {
		return byHand
	}
	return strings.Join(tags, " + ")
}

// demands asks for each tool by its tag. There is one of each.
func (l *layer) demands(tags []string) []schedule.Demand {
	var out []schedule.Demand
	for i, tag := range tags {
		out = append(out, schedule.Demand{Kind: tag, Pulled: i == 0})
		if !slices.ContainsFunc(l.in.Tools, func(p schedule.Piece) bool { return p.ID == tag }) {
			l.in.Tools = append(l.in.Tools, schedule.Piece{ID: tag, Kind: tag})
		}
	}
	return out
}

// minutes are whole ones, at least one.
func minutes(seconds float64) int { return schedule.PlannedMinutes(seconds, 1) }
