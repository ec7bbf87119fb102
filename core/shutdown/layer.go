package shutdown

import (
	"slices"
	"strings"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/schedule"
	"dynacor/core/tool"
	"dynacor/core/training"
)

// layer lays out one joint.
type layer struct {
	in     *schedule.Instance
	facts  Facts
	frame  frame
	p      *plan.Plan
	begun  *Begun
	inHand bool // somebody is at it now
	held   JointConstraint
	job    schedule.Job
	last   string // activity that the next one follows
}

func (l *layer) joint() {
	tag := l.p.Joint.Tag
	l.job = schedule.Job{ID: tag, Weight: &l.held.Weight}
	if l.held.Due != "" {
		due := l.frame.minute(l.held.Due)
		l.job.Due = &due
	}
	each := SecondsOf(l.p, Checks) * l.facts.Paces.Of(l.p.Family, Checks)
	before, lubricating, after := l.checks()
	l.add(Prepare, []schedule.Mode{{ID: byHand, Minutes: minutes(each * float64(before)),
		People: []schedule.Role{{Skills: l.asks(SkillTighten, nil)}}}})
	l.holds(Hold, procedure.Ready)
	if lubricating > 0 {
		l.add(Lubricate, []schedule.Mode{{ID: byHand, Minutes: minutes(each * float64(lubricating)),
			People: []schedule.Role{{Skills: l.asks(SkillTighten, nil)}}}})
	}
	l.add(Tighten, l.ways())
	l.add(Prove, l.proofs(each*float64(after)))
	l.holds(Witness, procedure.Prove)
	if life := l.life(); l.has(Lubricate) && l.has(Tighten) && life > 0 {
		l.in.Links = append(l.in.Links, schedule.Link{ID: LifeOf(tag), From: Lubricate.ID(tag),
			To: Tighten.ID(tag), FromAt: "end", ToAt: "end", Max: &life})
	}
	if wait := l.held.Wait; wait > 0 && l.has(Tighten) && l.has(Prove) {
		l.in.Links = append(
			l.in.Links,
			schedule.Link{ID: WaitOf(tag), From: Tighten.ID(tag), To: Prove.ID(tag), Min: wait},
		)
	}
	if l.has(Tighten) && l.has(Prove) {
		l.in.Apart = append(l.in.Apart, []string{Tighten.ID(tag), Prove.ID(tag)})
	}
	l.in.Jobs = append(l.in.Jobs, l.job)
}

// LifeOf names the link that keeps tightening within the life of a joint's lubricant, WaitOf the one between the last
// pull and the proof.
func LifeOf(tag string) string { return "life of the lubricant of " + tag }

// WaitOf names the wait of a joint between its last pull and its proof.
func WaitOf(tag string) string { return "wait before the proof of " + tag }

func (l *layer) has(k Kind) bool {
	is := func(a schedule.Activity) bool { return a.ID == k.ID(l.p.Joint.Tag) }
	return slices.ContainsFunc(l.job.Activities, is)
}

// add puts an activity behind the one before it; one that is done is left out.
func (l *layer) add(k Kind, ways []schedule.Mode) {
	if l.begun != nil && slices.Index(kinds, k) < slices.Index(kinds, l.begun.At) {
		return
	}
	area := l.p.Joint.Area
	if !slices.ContainsFunc(l.in.Areas, func(r schedule.Room) bool { return r.ID == area }) {
		l.in.Areas = append(l.in.Areas, schedule.Room{ID: area, Places: l.facts.Constraints.crews(area)})
	}
	a := schedule.Activity{ID: k.ID(l.p.Joint.Tag), Modes: ways, At: []schedule.At{{Area: area}},
		Isolation: l.held.Isolation}
	if k == Prepare {
		a.Pause = l.facts.Break
	}
	if l.held.NotBefore != "" && len(l.job.Activities) == 0 {
		a.Release = l.frame.minute(l.held.NotBefore)
	}
	if l.begun != nil && k == Prove && l.begun.At == Prove && l.held.Wait > 0 {
		a.Release = max(a.Release, l.facts.Now-l.begun.Idle+l.held.Wait) // since the last pull, or what came after it
	}
	if l.begun != nil && k == l.begun.At {
		l.goesOn(&a)
	}
	l.job.Activities = append(l.job.Activities, a)
	if l.last != "" {
		l.in.Links = append(l.in.Links, schedule.Link{From: l.last, To: a.ID})
	}
	l.last = a.ID
}

// goesOn makes an activity the rest of one that is under way. When those who are at it are at work now, it ends when
// they have done what is left; otherwise the rest is planned like any other work.
func (l *layer) goesOn(a *schedule.Activity) {
	for i := range a.Modes {
		a.Modes[i].Minutes = max(1, l.begun.Minutes)
	}
	open := []schedule.Window{{l.facts.Now, l.facts.Horizon}}
	var people []string
	for _, id := range l.begun.People {
		n := slices.IndexFunc(l.in.People, func(w schedule.Worker) bool { return w.ID == id })
		if n < 0 {
			continue
		}
		people, open = append(people, id), both(open, l.in.People[n].Open)
	}
	if !l.inHand || len(people) == 0 || len(open) == 0 || open[0][0] > l.facts.Now {
		return
	}
	end, left := l.facts.Now, max(1, l.begun.Minutes)
	for _, w := range open {
		n := min(left, w[1]-w[0])
		end, left = w[0]+n, left-n
		if left == 0 {
			break
		}
	}
	way := schedule.Mode{ID: "under way", Minutes: max(1, l.begun.Minutes), Tools: l.demands(l.begun.Tools)}
	for i := range way.Tools {
		way.Tools[i].Pulled = false // whoever has begun may have more in hand than hands
	}
	for range people {
		way.People = append(way.People, schedule.Role{Skills: []string{}})
	}
	a.Modes = []schedule.Mode{way}
	l.in.Begun = append(l.in.Begun, schedule.Planned{Activity: a.ID, Start: l.facts.Now, End: end + left, Mode: way.ID,
		People: people, Tools: append([]string{}, l.begun.Tools...)})
}

// both are the minutes that lie in windows of each.
func both(a, b []schedule.Window) []schedule.Window {
	out := []schedule.Window{}
	for _, x := range a {
		for _, y := range b {
			if w := (schedule.Window{max(x[0], y[0]), min(x[1], y[1])}); w[0] < w[1] {
				out = append(out, w)
			}
		}
	}
	return out
}

// crews is for how many an area has room; nil: no limit.
func (c Constraints) crews(area string) *int {
	for _, a := range c.Areas {
		if a.Area == area {
			return &a.Crews
		}
	}
	return nil
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
	long, people := l.tightening()
	var out []schedule.Mode
	for _, tags := range l.setUps() {
		out = append(out, schedule.Mode{ID: Way(tags), Minutes: long,
			People: []schedule.Role{{Skills: l.asks(SkillTighten, tags), Count: &people}}, Tools: l.demands(tags)})
	}
	return out
}

// tightening is how many minutes all passes but the rounds that prove take, and how many people pull at once.
func (l *layer) tightening() (long, people int) {
	total := 0.0
	people = 1
	for _, p := range l.p.Passes {
		if round(p) {
			continue
		}
		total += seconds(l.p, p, max(1, p.Together))
		people = max(people, p.Together)
	}
	return schedule.PlannedMinutes(total, l.facts.Paces.Of(l.p.Family, Pulls)), people
}

// proofs are the ways to prove: to go round with the set-up that tightens, and to answer what is asked after it.
func (l *layer) proofs(asked float64) []schedule.Mode {
	total, pulled := asked, false
	for _, p := range l.p.Passes {
		if round(p) {
			total += seconds(l.p, p, 1) * l.facts.Paces.Of(l.p.Family, Rounds)
			pulled = true
		}
	}
	if !pulled {
		return []schedule.Mode{{ID: byHand, Minutes: minutes(total),
			People: []schedule.Role{{Skills: l.asks(SkillProve, nil)}}}}
	}
	var out []schedule.Mode
	for _, tags := range l.setUps() {
		out = append(out, schedule.Mode{ID: Way(tags), Minutes: minutes(total),
			People: []schedule.Role{{Skills: l.asks(SkillProve, tags)}}, Tools: l.demands(tags)})
	}
	return out
}

// asks are the skills of who does a part of the work with these tools.
func (l *layer) asks(what string, tags []string) []string {
	out := []string{what}
	var tools []tool.Tool
	for _, tag := range tags {
		tools = append(tools, tool.Tool{Tag: tag, Kind: l.facts.Training.Kinds[tag]})
	}
	family := training.Subject{About: training.Family, Code: l.p.Family}
	for _, s := range training.Needs(family, tools, l.facts.Training.Asked) {
		out = append(out, skill(s.About, s.Code))
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
