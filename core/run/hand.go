package run

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// kit is a set-up in a hand for one group of fasteners.
type kit struct {
	setUp     *tool.SetUp     // as taken; nil: as planned
	settings  map[int]float64 // by pass of the plan, on its own scale
	problems  []tool.Problem
	confirmed struct {
		pass         int
		tags, person string
		setting      float64
	}
}

// hand is who works with tools. With one tool there is one; when several pull at once there is one for each. For each
// group of fasteners it holds a set-up of its own.
type hand struct {
	tools            map[string]*kit
	person, personID string
	lastAt           time.Time
	stopped          string // why the setting must be looked at again, "" while it stands
	prev             int    // fastener last visited in this pass, 0 none
	kept             *Kept
	device           map[string]bool // results of devices already taken in
}

// hands gives a hand for every tool that pulls at once, each with the planned set-ups.
func hands(p *plan.Plan) []*hand {
	list := make([]*hand, max(1, p.Choices.Together))
	for i := range list {
		list[i] = &hand{device: map[string]bool{}, tools: map[string]*kit{}}
		for _, g := range p.AllGroups() {
			t := &kit{}
			if s := g.InHand(); s != nil {
				t.settings, _ = p.Settings(g, *s)
			}
			list[i].tools[g.Code] = t
		}
	}
	return list
}

// hand is whose event it is; an event of no hand of this plan belongs to the first.
func (f *folder) hand(e Event) *hand {
	if e.Hand < 0 || e.Hand >= len(f.hands) {
		return f.hands[0]
	}
	return f.hands[e.Hand]
}

// kit is what a hand holds for the group of pass i.
func (f *folder) kit(h *hand, i int) *kit { return h.tools[f.group(i).Code] }

// inHand is the set-up of a hand in pass i, nil when neither plan nor person has one.
func (f *folder) inHand(h *hand, i int) *tool.SetUp {
	if t := f.kit(h, i); t.setUp != nil {
		return t.setUp
	}
	return f.group(i).InHand()
}

func (f *folder) driver(h *hand, i int) tool.Tool {
	if s := f.inHand(h, i); s != nil {
		return s.Driver()
	}
	return plain()
}

func (t *kit) tags() string {
	if t.setUp != nil {
		return t.setUp.Tags()
	}
	return ""
}

// setting is what a hand sets in pass i; rounds past the planned one repeat its value.
func (f *folder) setting(h *hand, i int) float64 {
	if i >= len(f.planned) {
		return 0
	}
	return f.kit(h, i).settings[f.planned[i]]
}

// settingAt is what a hand sets in pass i for one fastener, which may have a target of its own. Position 0: for none yet.
func (f *folder) settingAt(h *hand, i, position int) float64 {
	base := f.setting(h, i)
	if i >= len(f.planned) {
		return base
	}
	own, ok := f.p.Passes[f.planned[i]].Own.Of(position)
	s := f.inHand(h, i)
	if !ok || s == nil {
		return base
	}
	v, err := f.p.OwnSetting(f.group(i), *s, own.Percent)
	if err != nil {
		return base // the set-up was told not to fit when it was taken
	}
	return v
}

// take puts a set-up in hand for a group and judges it for the passes to come.
func (f *folder) take(e Event) {
	h := f.hand(e)
	g := f.p.GroupOf(f.takenFor(e))
	s := tool.Alone(*e.Wrench)
	if e.SetUp != nil {
		s = *e.SetUp
	}
	s = f.p.OnJoint(g, s)
	from := len(f.p.Passes) - 1
	if i := f.current(); i < len(f.s.Passes) {
		from = f.planned[i]
	}
	settings, problems := f.p.Fit(g, s, from, e.When())
	if was := g.InHand(); was != nil && was.Method() != s.Method() {
		problems = append(problems,
			tool.Problem{Code: "other_method",
				What: "The plan is made for work by " + methodWords[was.Method()] + ", not by " +
					methodWords[s.Method()],
				Remedy: "Have the joint planned again for this set-up: checks and cautions are others."})
	}
	problems = append(problems, s.Driver().Turns(g.Thread.LeftHand)...)
	if why := g.ToolsNever[string(s.Method())]; why != "" {
		problems = append(problems,
			tool.Problem{Code: "forbidden",
				What:   "The procedure forbids work by " + methodWords[s.Method()] + " here: " + why,
				Remedy: "Take another set-up."})
	}
	t := h.tools[g.Code]
	t.setUp, t.problems = &s, problems
	if settings != nil {
		t.settings = settings
		if h == f.hands[0] {
			for i := f.current(); i < len(f.s.Passes); i++ {
				if f.group(i) == g {
					f.set(i)
				}
			}
		}
	}
	for _, pr := range problems {
		f.raise(&takenUnfitRule, e, working.Facts{"code": pr.Code, "what": pr.What, "remedy": pr.Remedy})
	}
	f.answerTools(e, g, s, len(problems) == 0)
}

// answerTools answers the checks of tools in hand for a group; a tool that was changed in mid-work is to be tried.
func (f *folder) answerTools(e Event, g *plan.FastenerGroup, s tool.SetUp, fit bool) {
	for i := range f.s.Checks {
		c, ok := f.check(f.s.Checks[i].Code)
		if ok && c.Kind == procedure.Wrench && f.p.GroupOf(c.Fasteners) == g {
			d := s.Driver()
			text := fmt.Sprintf("%s, %s to %s %s, calibrated to %s", s.Name(), quantity.Text(d.RatedMin),
				quantity.Text(d.RatedMax), d.Unit.Symbol(), d.CalibrationEnds)
			f.attempt(i, e, text, fit)
		}
		if ok && c.Code == "function_check" && f.pulled {
			f.raise(&tryWrenchRule, e, working.Facts{"tool": s.Name()})
		}
	}
}

// takenFor is the group that tools are taken for: as said, that of the check answered, else that of the present pass.
func (f *folder) takenFor(e Event) string {
	if e.Group != "" {
		return e.Group
	}
	if c, ok := f.check(e.Check); ok && c.Fasteners != "" {
		return c.Fasteners
	}
	if i := f.current(); i < len(f.s.Passes) && f.pulled {
		return f.s.Passes[i].Group
	}
	return f.p.First().Code
}

var methodWords = map[tool.Method]string{tool.ByWrench: "a wrench", tool.ByMultiplier: "a multiplier",
	tool.ByHydraulics: "a hydraulic wrench", tool.ByTension: "a tensioner"}

// confirm takes a setting as set. Under pressure the gauge is read a second time after another stroke.
func (f *folder) confirm(e Event) {
	i := f.current()
	if i == len(f.s.Passes) {
		return
	}
	h := f.hand(e)
	if !f.s.Passes[i].Kind.Sets() {
		return
	}
	a := &act{folder: f, e: e, i: i, h: h}
	if a.ask(confirmRules) != nil {
		return
	}
	t := f.kit(h, i)
	t.confirmed.pass, t.confirmed.person, t.confirmed.tags = i+1, e.Person.ID, t.tags()
	t.confirmed.setting = f.settingAt(h, i, f.expected(i, h))
	h.person, h.personID, h.stopped = e.Person.Name, e.Person.ID, ""
}

// mustConfirm says why the setting is to be confirmed before the next pull in pass i, "" when it stands or nothing is
// set. person "" leaves the person out.
func (f *folder) mustConfirm(h *hand, i int, person string, at time.Time) string {
	if !f.s.Passes[i].Kind.Sets() {
		return ""
	}
	t := f.kit(h, i)
	c := t.confirmed
	name := "the wrench"
	if s := f.inHand(h, i); s != nil && s.Driver().Kind.Sets() == tool.ByPressure {
		name = "the pressure, with the tool off the nut"
	}
	switch {
	case c.pass == 0 && i > 0 && f.p.Several():
		return fmt.Sprintf("Pass %d begins, %s: set %s.", i+1, strings.ToLower(f.group(i).GroupName), name)
	case c.pass == 0:
		return "Set " + name + " for the first pass."
	case c.tags != t.tags():
		return t.setUp.Name() + " is another " + t.noun() + ": set it and try it."
	case c.pass != i+1:
		return fmt.Sprintf("Pass %d begins: set %s.", i+1, name)
	case h.stopped != "":
		return h.stopped
	case f.ownNext(h, i, c.setting):
		return f.Name(f.expected(i, h)) + " has a target of its own: set " + name + "."
	case person != "" && c.person != person:
		return f.otherHands(h, i)
	case !h.lastAt.IsZero() && at.Sub(h.lastAt) > time.Duration(f.p.HouseRules.PauseMinutes*float64(time.Minute)):
		return fmt.Sprintf("Nothing was recorded for %s. Look at the joint and the lubricant, then confirm "+
			"the setting.", span(at.Sub(h.lastAt)))
	}
	return ""
}

// ownNext reports whether the next fastener asks for another setting than the confirmed one.
func (f *folder) ownNext(h *hand, i int, confirmed float64) bool {
	if len(f.s.Passes[i].Own) == 0 {
		return false
	}
	next := f.expected(i, h)
	return next > 0 && f.settingAt(h, i, next) != confirmed
}

// noun is what a kit is called: a wrench alone, or a set-up.
func (t *kit) noun() string {
	if strings.Contains(t.setUp.Name(), " × ") {
		return "set-up"
	}
	return "wrench"
}

// otherHands says that somebody else goes on, and where the one before stopped.
func (f *folder) otherHands(h *hand, i int) string {
	last := ""
	if h.kept != nil {
		last = fmt.Sprintf(" Last done: %s in pass %d.", h.kept.Name, i+1)
	}
	return "Other hands than " + h.person + "'s:" + last + " Look at the joint and confirm the setting."
}

func span(d time.Duration) string {
	switch {
	case d < 2*time.Hour:
		return fmt.Sprintf("%d min", int(d.Minutes()))
	case d < 48*time.Hour:
		return fmt.Sprintf("%d h", int(d.Hours()))
	}
	return fmt.Sprintf("%d days", int(d.Hours()/24))
}

// together is how many pull at once in a pass.
func (f *folder) together(i int) int {
	return max(1, f.p.Passes[f.planned[min(i, len(f.planned)-1)]].Together)
}

// order is the visiting order of a hand in a pass: its own share when several pull at once.
func (f *folder) order(i int, h *hand) []int {
	all, n := f.s.Passes[i].Order, f.together(i)
	if n == 1 {
		return all
	}
	k := slices.Index(f.hands, h)
	var out []int
	for at := k; at < len(all); at += n {
		out = append(out, all[at])
	}
	return out
}

// expected is the position whose turn it is for a hand in pass i: the first untouched one after the last visited in its
// order, then those left for later, then those that came out short or over. 0: nothing left for it.
func (f *folder) expected(i int, h *hand) int {
	order := f.order(i, h)
	at := slices.Index(order, h.prev)
	turned := append(slices.Clone(order[at+1:]), order[:at+1]...)
	for _, want := range [][]Mark{{MarkNone}, {MarkSkipped}, {MarkShort, MarkOver}} {
		for _, pos := range turned {
			if slices.Contains(want, f.marks[i][pos-1]) {
				return pos
			}
		}
	}
	return 0
}

// wait says for whom a hand waits before its next fastener: tools that pull at once go from step to step together.
func (f *folder) wait(i int, h *hand, pos int) string {
	if f.together(i) == 1 || pos == 0 {
		return ""
	}
	step := slices.Index(f.order(i, h), pos)
	for k, other := range f.hands {
		order := f.order(i, other)
		for j := 0; j < min(step, len(order)); j++ {
			if other != h && f.marks[i][order[j]-1] == MarkNone {
				return fmt.Sprintf("Wait for %s at %s", letter(k), f.name(order[j]))
			}
		}
	}
	return ""
}

// letter names the hands: A, B, C, D.
func letter(k int) string { return string(rune('A' + k)) }

// handStates gives every hand as it stands, when there is more than one.
func (f *folder) handStates(i int) {
	if len(f.hands) == 1 {
		return
	}
	for k, h := range f.hands {
		hs := HandState{Letter: letter(k), Person: h.person, Prev: h.prev, LastKept: h.kept}
		if s := f.inHand(h, i); s != nil {
			d := s.Driver()
			hs.SetUp, hs.Unit = s, string(d.Unit)
		}
		if i < len(f.s.Passes) {
			hs.Setting, hs.Confirm = f.settingAt(h, i, f.expected(i, h)), f.mustConfirm(h, i, "", f.now)
			hs.Next = f.next(i, h)
			if hs.Next != nil {
				hs.Wait = f.wait(i, h, hs.Next.Fastener)
			}
			for _, pos := range f.order(i, h) {
				if !f.marks[i][pos-1].closed() {
					hs.Left++
				}
			}
		}
		f.s.Hands = append(f.s.Hands, hs)
	}
}
