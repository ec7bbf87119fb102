package shutdown

import (
	"slices"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/schedule"
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
	for _, m := range ways {
		for i := range m.People {
			for _, s := range l.held.Skills {
				m.People[i].Skills = append(m.People[i].Skills, skill(training.Skill, s))
			}
		}
	}
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

// minutes are whole ones, at least one.
func minutes(seconds float64) int { return schedule.PlannedMinutes(seconds, 1) }
