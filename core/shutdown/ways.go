package shutdown

import (
	"fmt"
	"slices"
	"strings"

	"dynacor/core/plan"
	"dynacor/core/schedule"
	"dynacor/core/tool"
	"dynacor/core/training"
)

// ways are the ways to tighten: one for each usable set-up of the finder when one pulls alone, one for each handful of
// them when several pull at once, with a person at each.
func (l *layer) ways() []schedule.Mode {
	var out []schedule.Mode
	for _, n := range l.numbers() {
		people := n
		long := l.tightening(n)
		for _, sets := range l.handfuls(n) {
			m := schedule.Mode{ID: way(sets), Minutes: long}
			all := slices.Concat(sets...)
			m.People = []schedule.Role{{Skills: l.asks(SkillTighten, all), Count: &people}}
			for _, tags := range sets {
				m.Tools = append(m.Tools, l.demands(tags)...)
			}
			out = append(out, m)
		}
	}
	return out
}

// fastenersEach is how many fasteners each tool has to itself, at the least, when a plan for one tool is laid out for
// several. A starting value.
const fastenersEach = 4

// numbers are how many tools may pull at once: as the plan has it; and of a ring of fasteners that nobody has begun
// also two and four, where they share it evenly.
func (l *layer) numbers() []int {
	own := max(1, l.p.Choices.Together)
	out := []int{own}
	groups := l.p.AllGroups()
	if l.begun != nil || len(groups) != 1 || groups[0].Layout.Kind != "" || len(groups[0].Usable()) == 0 {
		return out
	}
	for _, n := range []int{2, 4} {
		if count := groups[0].Layout.Count; n != own && count%n == 0 && count >= n*fastenersEach {
			out = append(out, n)
		}
	}
	return out
}

// handfuls are the set-ups of those who pull at once. Work that is under way, and work with several groups, whose
// plans say how many pull in the first of them, goes on with what there is.
func (l *layer) handfuls(n int) [][][]string {
	sets := l.setUps()
	out := atOnce(sets, n)
	if len(out) == 0 && n == max(1, l.p.Choices.Together) {
		for _, s := range sets {
			out = append(out, [][]string{s.tags})
		}
	}
	return out
}

// atOnce are handfuls of n set-ups that work alike and share no tool, the best first: each set-up with those after it.
// What is done by hand takes no tools.
func atOnce(sets []setUp, n int) [][][]string {
	if len(sets) == 1 && len(sets[0].tags) == 0 {
		return [][][]string{{nil}}
	}
	var out [][][]string
	for i := range sets {
		hand, taken := [][]string{}, map[string]bool{}
		for _, s := range sets[i:] {
			if len(hand) < n && s.method == sets[i].method &&
				!slices.ContainsFunc(s.tags, func(t string) bool { return taken[t] }) {
				hand = append(hand, s.tags)
				for _, t := range s.tags {
					taken[t] = true
				}
			}
		}
		if len(hand) == n {
			out = append(out, hand)
		}
	}
	return out
}

// lacksTools says that there are fewer set-ups than pull at once, "" when there are enough.
func (l *layer) lacksTools() string {
	n := max(1, l.p.Choices.Together)
	if l.begun != nil || len(l.p.AllGroups()) > 1 || len(atOnce(l.setUps(), n)) > 0 {
		return ""
	}
	return fmt.Sprintf("its plan has %d tools pull at once, and the crib has not so many set-ups for it", n)
}

// tightening is how many minutes all passes but the rounds that prove take when so many pull at once in the stages.
func (l *layer) tightening(n int) int {
	total := 0.0
	for _, p := range l.p.Passes {
		switch {
		case round(p):
		case p.Kind == plan.StagePass && len(l.p.AllGroups()) == 1:
			total += seconds(l.p, p, n)
		default:
			total += seconds(l.p, p, p.Together)
		}
	}
	return schedule.PlannedMinutes(total, l.facts.Paces.Of(l.p.Family, Pulls))
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
	for _, s := range l.setUps() {
		out = append(out, schedule.Mode{ID: way([][]string{s.tags}), Minutes: minutes(total),
			People: []schedule.Role{{Skills: l.asks(SkillProve, s.tags)}}, Tools: l.demands(s.tags)})
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

// setUp is what is taken to a joint to tighten it with.
type setUp struct {
	tags   []string
	method tool.Method
}

// setUps are tools that together can tighten all groups, the best of the finder first: one set-up for each usable offer
// when there is one group, what is in hand for each when there are several. One without tools: all is done by hand.
func (l *layer) setUps() []setUp {
	groups := l.p.AllGroups()
	if len(groups) == 1 {
		var out []setUp
		for _, o := range groups[0].Offers {
			if o.Usable && len(out) < mostWays {
				out = append(out, setUp{strings.FieldsFunc(o.Tags, func(r rune) bool { return r == '+' }), o.Method})
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
	return []setUp{{tags: all}}
}

// way names the way of doing something with set-ups that pull at once.
func way(sets [][]string) string {
	var out []string
	for _, tags := range sets {
		if len(tags) == 0 {
			return byHand
		}
		out = append(out, strings.Join(tags, " + "))
	}
	return strings.Join(out, ", at once with ")
}

// Said tells with what a part of the work is done as a mode has it, and how many tools pull at once there: 1 at the
// least.
func Said(m schedule.Mode) (with string, together int) {
	var tags []string
	for _, d := range m.Tools {
		tags = append(tags, d.Kind)
		if d.Pulled {
			together++
		}
	}
	if with = strings.Join(tags, " + "); together > 1 {
		with = m.ID
	}
	return with, max(1, together)
}

// ModeOf finds the mode in which so many people do something with these tools, in the order of their demands; -1: none.
func ModeOf(modes []schedule.Mode, people int, tools []string) int {
	return slices.IndexFunc(modes, func(m schedule.Mode) bool {
		n := 0
		for _, r := range m.People {
			if r.Count == nil {
				n++
			} else {
				n += *r.Count
			}
		}
		return n == people &&
			slices.EqualFunc(m.Tools, tools, func(d schedule.Demand, t string) bool { return d.Kind == t })
	})
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
