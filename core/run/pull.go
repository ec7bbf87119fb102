package run

import (
	"fmt"
	"slices"

	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// pull judges one pull against the plan and then takes it as the fact it is.
func (f *folder) pull(e Event) {
	i, h := f.current(), f.hand(e)
	a := &act{folder: f, e: e, i: i, h: h}
	if a.ask(countRules) != nil {
		return
	}
	if key := e.deviceResult(); key != "" {
		h.device[key] = true
	}
	f.void()
	if f.reopens() && e.Outcome == Replaced && f.has(i, e.Fastener) {
		f.replaceFastener(i, e)
		return
	}
	mark := a.judge()
	ps := &f.s.Passes[i]
	f.note(ps, e, h, i)
	pos := e.Fastener - 1
	if f.has(i, e.Fastener) {
		f.marks[i][pos] = mark
	}
	if ps.Kind.Sets() {
		f.measured[pos] = e.Reading != nil
		f.torque[pos] = f.atNut(h, e, i)
		if e.Outcome == Replaced {
			f.touched[pos] = nil
		}
		f.touch(e.Fastener, f.kit(h, i).setUp)
	}
	f.degrees[pos] = e.TurnedDeg
	if mark.closed() && (!f.reopens() || f.broughtUp(e.Fastener)) {
		f.rework(e.Fastener, e.Outcome == Replaced)
	}
	if e.Outcome == Replaced {
		f.raise(&replacedRule, e, working.Facts{"pass": fmt.Sprint(i + 1), "reason": e.Reason})
	}
	f.pulled, h.prev = true, e.Fastener
	h.person, h.personID = e.Person.Name, e.Person.ID
	h.kept = &Kept{EventID: e.ID, Fastener: e.Fastener, Number: f.number(e.Fastener), Name: f.name(e.Fastener),
		At: e.When(), Text: outcomeText(mark, e, f.driver(h, i).Unit)}
	f.lastKept = h.kept
	f.s.Announce = f.Name(e.Fastener) + " kept."
	if f.complete(i) {
		f.freshPass()
		f.roundAgain(e, i)
	}
}

// judge asks the rules of a pull that counts and gives the mark it leaves.
func (a *act) judge() Mark {
	if r := a.ask(placeRules); r != nil {
		return r.Mark
	}
	if a.kind() == plan.EasePass {
		return a.judgeEased()
	}
	if !a.kind().Sets() {
		a.effortTried()
		r := a.ask(handRules)
		if r == nil {
			return MarkDone
		}
		if r.Code == EffortLow || r.Code == EffortHigh {
			a.effortMissed()
		}
		return r.Mark
	}
	if r := a.ask(settingRules); r != nil {
		return r.Mark
	}
	switch a.e.Outcome {
	case Turned:
		if a.kind() == plan.TurnsPass {
			return MarkPart
		}
	case Clicked, Stalled, RunDown, Reached:
		a.suspect[a.e.Fastener-1] = false
	}
	if r := a.ask(readingRules); r != nil {
		return r.Mark
	}
	if a.movedOn() {
		return MarkMovedOK
	}
	return MarkDone
}

// effortTried keeps every attempt at an effort.
func (a *act) effortTried() {
	if a.kind() != plan.EffortPass || a.e.Reading == nil {
		return
	}
	if got, err := a.effort(); err == nil {
		ps := &a.s.Passes[a.i]
		ps.Tries = append(ps.Tries, got)
	}
}

// effortMissed writes an effort outside its window into what was not right in the pass.
func (a *act) effortMissed() {
	x := a.effortOff(func(float64) bool { return true })[0]
	ps := &a.s.Passes[a.i]
	ps.NotRight = append(ps.NotRight, fmt.Sprintf("%s: %s, window %s", a.name(a.e.Fastener), x["read"], ps.window()))
}

// roundAgain adds a round when the one that has just ended was not still, and asks the engineer when there have been
// too many.
func (f *folder) roundAgain(e Event, i int) {
	kind := f.s.Passes[i].Kind
	restless := kind == plan.CheckPass && slices.Contains(f.marks[i], MarkMoved) || kind == plan.TurnsPass &&
		slices.Contains(f.marks[i], MarkPart)
	if !restless {
		return
	}
	f.again(i)
	rounds := f.repeats(f.planned[i]) - 1
	if rounds < f.p.HouseRules.MaxCheckPasses || kind != plan.CheckPass {
		return
	}
	f.raise(&escalateRule, e, working.Facts{"rounds": fmt.Sprint(rounds)})
}

// outcomeWords say how a visit ended that left a good mark; {at} is what was read, or else set.
var outcomeWords = map[Outcome]working.Text{
	ByHand: "run by hand", Shaped: "brought to shape", LeftAlone: "left as it is", Undone: "undone{broke}",
	Measured: "measured {at}", Stalled: "stalled at {at}", RunDown: "run down at {at}",
	Reached: "read {at}", Turned: "turned {turned}",
}

func outcomeText(m Mark, e Event, u quantity.Unit) string {
	at := quantity.Text(e.Setting) + " " + u.Symbol()
	if e.Reading != nil {
		at = e.Reading.Words()
	}
	switch m {
	case MarkShort, MarkOver:
		return outText(m, e, at)
	case MarkMoved, MarkMovedOK:
		if e.TurnedDeg > 0 {
			return "turned " + quantity.Text(e.TurnedDeg) + "°"
		}
		return "turned"
	}
	if e.Moved != nil && !*e.Moved {
		return "stayed at " + at
	}
	w, known := outcomeWords[e.Outcome]
	if !known {
		return "clicked at " + at
	}
	broke := ""
	if e.Outcome == Undone && e.Reading != nil {
		broke = ", let go at " + at
	}
	text := w.With(
		working.Facts{"at": at, "broke": broke, "turned": quantity.Text(quantity.Significant(e.TurnedDeg, 4)) + "°"},
	)
	if e.Outcome == Reached && e.AngleDeg > 0 {
		text += ", " + quantity.Text(quantity.Significant(e.AngleDeg, 3)) + "°"
	}
	return text
}

// outText says how a visit ended that is short or over.
func outText(m Mark, e Event, at string) string {
	switch {
	case m == MarkShort && !e.Outcome.byTool() && e.Reading != nil:
		return "measured " + at + ", not in its window"
	case m == MarkShort && !e.Outcome.byTool(), m == MarkShort && e.Setting == 0 && e.Reading == nil:
		return "not far enough"
	case m == MarkShort:
		return "short at " + at
	case e.Setting == 0 && e.Reading == nil:
		return "too far"
	}
	return "over at " + at
}

// movedLimit is how far a nut may turn in a check round, degrees: what the plan says of its group. Plans from before it
// stood there had the document's figure for a single group, and the house rule for several.
func (f *folder) movedLimit(ps plan.Pass) float64 {
	if ps.MovedLimitDeg != nil {
		return *ps.MovedLimitDeg
	}
	if f.p.Specification.First().MovedLimitDeg > 0 && !f.p.Several() {
		return f.p.Specification.First().MovedLimitDeg
	}
	return f.p.HouseRules.MovedLimitDeg
}

// rework closes the deviations of a bolt that was put right by pulling it properly.
func (f *folder) rework(position int, replaced bool) {
	for i := range f.s.Deviations {
		d := &f.s.Deviations[i]
		if d.Fastener != position || !reworked[d.Code] {
			continue
		}
		if d.Status == DeviationLoosened || replaced && d.Status == DeviationOpen {
			d.Status, d.Closed = DeviationReworked, "loosened and brought up again"
			if replaced {
				d.Closed = "replaced and brought up again"
			}
		}
	}
}

// loosen lets a bolt go: its mark in this pass is open again.
func (f *folder) loosen(e Event) {
	if e.Fastener < 1 || e.Fastener > len(f.torque) {
		return
	}
	f.void()
	i := f.loosenedIn(e.Fastener)
	if f.reopens() {
		f.letGo(e)
		affected := f.p.LoosenedIn(f.p.GroupAt(e.Fastener).Code)
		f.bringUpAgain(e.Fastener, affected)
		f.lookAgain(affected.Checks, f.Name(e.Fastener)+" was loosened: look at it again.")
	} else {
		f.marks[i][e.Fastener-1] = MarkNone
		f.torque[e.Fastener-1], f.suspect[e.Fastener-1], f.touched[e.Fastener-1] = 0, false, nil
	}
	text := f.name(e.Fastener) + " loosened: " + e.Reason
	if e.Method != "" {
		text += ", with " + e.Method
	}
	if e.Reading != nil { // the pressure, or torque, at which it let go
		text += ", let go at " + e.Reading.Words()
	}
	f.s.Passes[i].NotRight = append(f.s.Passes[i].NotRight, text)
	if d := f.driver(f.hand(e), i); e.Method == d.Tag && !d.MayLoosen && d.Kind.Sets() == tool.ByTorque {
		f.raise(&notForLooseningRule, e, working.Facts{"tool": d.Tag})
	}
	for j := range f.s.Deviations {
		if d := &f.s.Deviations[j]; d.Status == DeviationOpen && d.Fastener == e.Fastener {
			d.Status = DeviationLoosened
		}
	}
}

// loosenedIn is the pass that is open again when a fastener is let go: the last in which it came out over, else the
// present one or the last before that it belonged to.
func (f *folder) loosenedIn(position int) int {
	i := min(f.current(), len(f.s.Passes)-1)
	if !f.has(i, position) {
		for j := range f.s.Passes[:i+1] {
			if f.has(j, position) {
				i = j
			}
		}
	}
	for j := range f.s.Passes {
		if f.marks[j][position-1] == MarkOver && f.has(j, position) {
			i = j
		}
	}
	return i
}

func (f *folder) skip(e Event) {
	i := f.current()
	if i == len(f.s.Passes) || e.Fastener < 1 || e.Fastener > len(f.torque) || !f.has(i, e.Fastener) ||
		f.marks[i][e.Fastener-1].closed() {
		return
	}
	f.marks[i][e.Fastener-1] = MarkSkipped
	f.hand(e).prev = e.Fastener
	f.s.Passes[i].NotRight = append(f.s.Passes[i].NotRight, f.name(e.Fastener)+" left for later: "+e.Reason)
	f.raise(&skippedRule, e, nil)
	f.s.Announce = f.Name(e.Fastener) + " left for later."
}

// problems are why the tools in hand may not be used in pass i.
func (f *folder) problems(h *hand, i int) []tool.Problem {
	if !f.s.Passes[i].Kind.Sets() {
		return nil
	}
	return f.kit(h, i).problems
}

func (f *folder) note(ps *PassState, e Event, h *hand, i int) {
	at := e.When()
	if ps.From == nil {
		ps.From = &at
	}
	ps.To = &at
	if !slices.Contains(ps.People, e.Person.Name) {
		ps.People = append(ps.People, e.Person.Name)
	}
	if !slices.ContainsFunc(f.s.Workers, func(p Person) bool { return p.ID == e.Person.ID }) {
		f.s.Workers = append(f.s.Workers, e.Person)
	}
	if with := f.ranDown(e); with != "" && !slices.Contains(ps.Wrenches, with) {
		ps.Wrenches = append(ps.Wrenches, with)
	}
	if s := f.kit(h, i).setUp; s != nil && ps.Kind.Sets() && !slices.Contains(ps.Wrenches, s.Name()) {
		ps.Wrenches = append(ps.Wrenches, s.Name())
	}
}

// ranDown names what a nut was run down with, "" for the hand or a tool that was set.
func (f *folder) ranDown(e Event) string {
	for _, r := range f.p.GroupAt(e.Fastener).RunDown {
		if string(r.Kind) != e.Method {
			continue
		}
		if e.Tool != "" {
			return r.Word + " " + e.Tool
		}
		return r.Word
	}
	return ""
}

// void drops the closing signatures: the work went on after them.
func (f *folder) void() {
	f.s.Signatures = slices.DeleteFunc(f.s.Signatures, func(s Signature) bool {
		return s.Purpose == SignTightened || s.Purpose == SignProved || s.Purpose == SignTurnedDown
	})
}

// firstTorque reports whether the fastener is brought to a torque for the first time: passes by hand before it, and
// torque passes of other fasteners, do not count. Plans from before the rules of number since know the first pass only.
func (a *act) firstTorque(since int) bool {
	if a.p.Rules < since {
		return a.i == 0
	}
	for j := range a.i {
		if a.s.Passes[j].Kind == plan.StagePass && a.has(j, a.e.Fastener) && a.s.Passes[j].Void == "" {
			return false
		}
	}
	return true
}
