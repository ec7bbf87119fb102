package run

import (
	"fmt"
	"math"
	"slices"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// pull judges one pull against the plan and then takes it as the fact it is.
func (f *folder) pull(e Event) {
	i := f.current()
	if e.Fastener < 1 || e.Fastener > len(f.torque) {
		f.find(working.Stop, "no_such_fastener", fmt.Sprintf("There is no %s %d on this joint.", f.p.Word(), e.Fastener), "", "Take it back.")
		return
	}
	if i == len(f.s.Passes) {
		f.find(working.Caution, "after_last_pass", f.Name(e.Fastener)+" was pulled after the last pass.", "The work was complete.", "Go to Prove, or go round once more.")
		f.deviate(e, "after_last_pass", f.Name(e.Fastener)+" pulled after the last pass", "", "", "noted")
		return
	}
	if e.Pass < i+1 {
		n := f.Name(e.Fastener)
		f.find(working.Caution, "wrong_stage", fmt.Sprintf("%s was pulled at pass %d; the joint is in pass %d.", n, e.Pass, i+1), "A lower setting clicks without adding anything.", "Set the wrench for this pass and pull it again.")
		f.deviate(e, "wrong_stage", fmt.Sprintf("%s pulled once more at pass %d during pass %d", n, e.Pass, i+1), "", "", "noted")
		return
	}
	h := f.hand(e)
	if key := fmt.Sprintf("%s %d", e.Device, e.DeviceSeq); e.Device != "" && e.DeviceSeq > 0 {
		if h.device[key] {
			f.find(working.Info, "same_result", fmt.Sprintf("%s sent this result twice; it counts once.", e.Device), "", "")
			return
		}
		h.device[key] = true
	}
	f.void()
	mark := f.judgePull(e, i, h)
	ps := &f.s.Passes[i]
	f.note(ps, e, h, i)
	pos := e.Fastener - 1
	if f.has(i, e.Fastener) {
		f.marks[i][pos] = mark
	}
	if plan.PassKind(ps.Kind).Sets() {
		f.measured[pos] = e.Reading != nil
		f.torque[pos] = f.atNut(h, e, i)
	}
	f.degrees[pos] = e.TurnedDeg
	if mark.closed() {
		f.rework(e.Fastener, e.Outcome == Replaced)
	}
	if e.Outcome == Replaced {
		f.deviate(e, "replaced", fmt.Sprintf("%s replaced and brought up again in pass %d", f.Name(e.Fastener), i+1), e.Reason, "", "noted")
	}
	f.pulled, h.prev = true, e.Fastener
	h.person, h.personID = e.Person.Name, e.Person.ID
	h.kept = &Kept{EventID: e.ID, Fastener: e.Fastener, Number: f.number(e.Fastener), Name: f.name(e.Fastener), At: e.When(), Text: outcomeText(mark, e, f.driver(h, i).Unit)}
	f.lastKept = h.kept
	f.s.Announce = f.Name(e.Fastener) + " kept."
	if f.complete(i) {
		f.freshPass()
		f.roundAgain(e, i)
	}
}

// roundAgain adds a round when the one that has just ended was not still, and asks the engineer when there have been too many.
func (f *folder) roundAgain(e Event, i int) {
	kind := plan.PassKind(f.s.Passes[i].Kind)
	restless := kind == plan.CheckPass && slices.Contains(f.marks[i], MarkMoved) || kind == plan.TurnsPass && slices.Contains(f.marks[i], MarkPart)
	if !restless {
		return
	}
	f.again(i)
	rounds := f.repeats(f.planned[i]) - 1
	if rounds < f.p.HouseRules.MaxCheckPasses || kind != plan.CheckPass {
		return
	}
	f.find(working.Stop, "check_escalate", fmt.Sprintf("Nuts still turn after %d rounds.", rounds), "The gasket may be yielding, or the lubricant is not what was assumed.", "Stop and ask the engineer.")
	f.deviate(e, "check_escalate", fmt.Sprintf("Nuts still turn after %d check rounds", rounds), "", "An engineer decides how to go on.", "open")
}

func outcomeText(m Mark, e Event, u quantity.Unit) string {
	at := quantity.Text(e.Setting) + " " + u.Symbol()
	if e.Reading != nil {
		at = e.Reading.Words()
	}
	if !e.Outcome.byTool() && m == MarkShort {
		if e.Reading != nil {
			return "measured " + at + ", not in its window"
		}
		return "not far enough"
	}
	if e.Setting == 0 && e.Reading == nil && (m == MarkShort || m == MarkOver) {
		return map[Mark]string{MarkShort: "not far enough", MarkOver: "too far"}[m]
	}
	switch m {
	case MarkShort:
		return "short at " + at
	case MarkOver:
		return "over at " + at
	case MarkMoved, MarkMovedOK:
		if e.TurnedDeg > 0 {
			return "turned " + quantity.Text(e.TurnedDeg) + "°"
		}
		return "turned"
	}
	if e.Moved != nil && !*e.Moved {
		return "stayed at " + at
	}
	switch e.Outcome {
	case ByHand:
		return "run by hand"
	case Turned:
		return "turned " + quantity.Text(quantity.Significant(e.TurnedDeg, 4)) + "°"
	case Shaped:
		return "brought to shape"
	case Measured:
		return "measured " + at
	case LeftAlone:
		return "left as it is"
	case Undone:
		return "undone"
	case Stalled:
		return "stalled at " + at
	case RunDown:
		return "run down at " + at
	case Reached:
		if e.AngleDeg > 0 {
			return "read " + at + ", " + quantity.Text(quantity.Significant(e.AngleDeg, 3)) + "°"
		}
		return "read " + at
	}
	return "clicked at " + at
}

// judgePull finds what is out with a pull and gives the mark it leaves.
func (f *folder) judgePull(e Event, i int, h *hand) Mark {
	ps, n, d := f.s.Passes[i], f.Name(e.Fastener), f.driver(h, i)
	if !f.ready() {
		f.find(working.Stop, "not_ready", "The joint was not ready.", "Checks or holds before the first pull are open.", "Stop. Clear what is open in Ready.")
		f.deviate(e, "not_ready", fmt.Sprintf("%s pulled in pass %d before everything in Ready was cleared", n, i+1), "", "An engineer or inspector decides.", "open")
	}
	if f.s.HeldBy != "" {
		f.find(working.Stop, "held", "The joint is stopped.", f.s.HeldBy, "Lift the stop first.")
		f.deviate(e, "held", fmt.Sprintf("%s pulled in pass %d while the joint was stopped", n, i+1), f.s.HeldBy, "An engineer or inspector decides.", "open")
	}
	if why := f.mustConfirm(h, i, e.Person.ID, e.When()); why != "" {
		f.find(working.Caution, "not_confirmed", "The setting was not confirmed.", why, "Confirm the setting; pull the bolt again if it was wrong.")
		f.deviate(e, "not_confirmed", fmt.Sprintf("%s pulled in pass %d without a confirmed setting", n, i+1), why, "", "noted")
	}
	for _, pr := range f.problems(h, i) {
		f.find(working.Stop, "wrench_"+pr.Code, pr.What+".", "", pr.Remedy)
		f.deviate(e, "wrench_"+pr.Code, fmt.Sprintf("%s, pass %d: %s", n, i+1, pr.What), "", "Check the bolt with a wrench that is fit, or have it accepted.", "open")
	}
	if g := f.gates(i); len(g) > 0 {
		f.find(working.Stop, "gate", g[0].Title+" comes first.", g[0].Why, "Answer it; then go on.")
		f.deviate(e, "gate", fmt.Sprintf("%s worked on in pass %d before %q was cleared", n, i+1, g[0].Title), "", "An engineer or inspector decides.", "open")
	}
	if e.Pass > i+1 {
		f.find(working.Stop, "wrong_stage", fmt.Sprintf("%s was pulled at pass %d; the joint is in pass %d.", n, e.Pass, i+1), "One bolt ahead of its stage cocks the faces and crushes the gasket there.", "Loosen it and bring it up with the others.")
		f.deviate(e, "wrong_stage", fmt.Sprintf("%s pulled at the setting of pass %d during pass %d", n, e.Pass, i+1), "", "Loosen it and bring it up with the others, or have it accepted.", "open")
		return MarkOver
	}
	if !f.has(i, e.Fastener) {
		what := fmt.Sprintf("%s does not belong to this pass", n)
		if g := f.p.GroupAt(e.Fastener); g.EndsAt == procedure.NoTorque {
			f.find(working.Stop, "no_torque", n+" must not be torqued.", g.EndsWhy, "Look at it; take the record back if it was not touched.")
			f.deviate(e, "no_torque", n+" was torqued; it must not be", g.EndsWhy, "Look at the part; an engineer decides.", "open")
		} else {
			f.find(working.Caution, "other_group", what+".", "Groups are done one after another, in the order of the procedure.", fmt.Sprintf("Next is %s.", f.name(max(1, f.expected(i, h)))))
			f.deviate(e, "other_group", fmt.Sprintf("%s worked on during pass %d, which is not its own", n, i+1), "", "", "noted")
		}
		return MarkNone
	}
	if want := f.expected(i, h); want != 0 && want != e.Fastener {
		if f.marks[i][e.Fastener-1].closed() {
			f.find(working.Caution, "repeated", fmt.Sprintf("%s was done already in this pass.", n), "A second click without movement only tells that it is at the setting or above.", fmt.Sprintf("Next is %s.", f.name(want)))
			f.deviate(e, "repeated", fmt.Sprintf("%s pulled twice in pass %d", n, i+1), "", "", "noted")
		} else {
			f.find(working.Caution, "out_of_order", fmt.Sprintf("%s is next. You are on %s.", f.label(want), f.label(e.Fastener)), ps.orderWhy(), fmt.Sprintf("Go back to %s, or carry on from %s: those passed over come at the end of this pass.", f.label(want), f.label(e.Fastener)))
			f.deviate(e, "out_of_order", fmt.Sprintf("%s pulled before %s in pass %d", n, f.label(want), i+1), "", "", "noted")
		}
	}
	if wait := f.wait(i, h, e.Fastener); wait != "" {
		f.find(working.Caution, "ahead", wait+".", "Tools that pull at once keep the faces parallel only when they go from step to step together.", "Start together; the next step begins when all have ended theirs.")
		f.deviate(e, "ahead", fmt.Sprintf("%s pulled ahead of the others in pass %d", n, i+1), "", "", "noted")
	}
	if m, own := f.judgeHand(e, i); own {
		return m
	}
	f.reaction(e, h, i)
	if want := f.setting(h, i); math.Abs(e.Setting-want) > d.Graduation/2+1e-9 {
		f.findWrongSetting(e.Setting, want, d, "The tool was set to")
		if e.Setting > want {
			f.deviate(e, "wrong_setting", fmt.Sprintf("%s pulled at %s instead of %s %s in pass %d", n, quantity.Text(e.Setting), quantity.Text(want), d.Unit.Symbol(), i+1), "", "Loosen and repeat, replace, or have it accepted.", "open")
			return MarkOver
		}
		return MarkShort
	}
	switch e.Outcome {
	case Short:
		f.find(working.Caution, "short", fmt.Sprintf("%s stopped short.", n), "It holds less than its neighbours.", "Pull it again before the pass ends.")
		return MarkShort
	case Over:
		f.find(working.Stop, "over", fmt.Sprintf("%s was pulled past the click.", n), "It may hold more than the plan, or be stretched.", "Loosen it and bring it up again, replace it, or have it accepted by an engineer.")
		f.deviate(e, "over", fmt.Sprintf("%s pulled past the click in pass %d", n, i+1), "", "Loosen and repeat, replace, or have it accepted.", "open")
		return MarkOver
	case ClickedStill:
		if ps.Kind == string(plan.StagePass) && i == 0 {
			f.suspect[e.Fastener-1] = true
			f.find(working.Caution, "clicked_still", fmt.Sprintf("%s clicked without turning in its first pass.", n), "It may be seized, cross-threaded or already tight: the click says only 'at the setting or above'.", "Loosen it, run the nut by hand, and pull it again.")
			f.deviate(e, "clicked_still", fmt.Sprintf("%s clicked without turning in its first pass", n), "", "Loosen it, run the nut by hand, and pull it again, or have it accepted.", "open")
			return MarkDone
		}
	case Turned:
		if ps.Kind == string(plan.TurnsPass) {
			return MarkPart
		}
	case Clicked, Stalled, RunDown, Reached:
		f.suspect[e.Fastener-1] = false
	}
	if m := f.judgeReading(e, i, h); m != MarkNone {
		return m
	}
	f.judgeTrace(e, i)
	if ps.Kind == string(plan.CheckPass) && e.Moved != nil && *e.Moved {
		limit := ps.MovedDeg
		if e.TurnedDeg > 0 && quantity.AtMost(e.TurnedDeg, limit) {
			return MarkMovedOK
		}
		may := "It may not turn at all"
		if limit > 0 {
			may = "It may turn " + quantity.Text(limit) + "°"
		}
		f.find(working.Info, "moved", fmt.Sprintf("Nut %s still turned.", f.label(e.Fastener)), may+": its neighbours took load from it.", "Finish the round; then go round again until none turns.")
		return MarkMoved
	}
	return MarkDone
}

// movedLimit is how far a nut may turn in a check round, degrees: what the plan says of its group. Plans from before it stood there had the document's
// figure for a single group, and the house rule for several.
func (f *folder) movedLimit(ps plan.Pass) float64 {
	if ps.MovedLimitDeg != nil {
		return *ps.MovedLimitDeg
	}
	if f.p.Specification.MovedLimitDeg > 0 && len(f.p.Others) == 0 {
		return f.p.Specification.MovedLimitDeg
	}
	return f.p.HouseRules.MovedLimitDeg
}

func (ps PassState) orderWhy() string {
	if ps.Kind == string(plan.CheckPass) {
		return "A check round goes from bolt to bolt, so that none is forgotten."
	}
	return ps.Why
}

// rework closes the deviations of a bolt that was put right by pulling it properly.
func (f *folder) rework(position int, replaced bool) {
	needs := map[string]bool{"over": true, "wrong_setting": true, "wrong_stage": true, "clicked_still": true}
	for shape := range traceWords {
		needs["trace_"+shape] = true
	}
	for i := range f.s.Deviations {
		d := &f.s.Deviations[i]
		if d.Status == "loosened" && needs[d.Code] && d.Fastener == position || replaced && d.Status == "open" && needs[d.Code] && d.Fastener == position {
			d.Status, d.Closed = "reworked", "loosened and brought up again"
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
	i := min(f.current(), len(f.s.Passes)-1)
	if !f.has(i, e.Fastener) { // the last pass it belonged to
		for j := range f.s.Passes[:i+1] {
			if f.has(j, e.Fastener) {
				i = j
			}
		}
	}
	for j := range f.s.Passes {
		if f.marks[j][e.Fastener-1] == MarkOver && f.has(j, e.Fastener) {
			i = j
		}
	}
	f.marks[i][e.Fastener-1] = MarkNone
	f.torque[e.Fastener-1], f.suspect[e.Fastener-1] = 0, false
	text := f.name(e.Fastener) + " loosened: " + e.Reason
	if e.Method != "" {
		text += ", with " + e.Method
	}
	if e.Reading != nil { // the pressure, or torque, at which it let go
		text += ", let go at " + e.Reading.Words()
	}
	f.s.Passes[i].NotRight = append(f.s.Passes[i].NotRight, text)
	if d := f.driver(f.hand(e), i); e.Method == d.Tag && !d.MayLoosen && d.Kind.Sets() == tool.ByTorque {
		f.find(working.Stop, "not_for_loosening", d.Tag+" was used for loosening.", "A torque wrench used so is strained and drifts; its register entry forbids it.", "Put it aside and have it checked; take a bar or a spanner.")
		f.deviate(e, "not_for_loosening", fmt.Sprintf("%s loosened with %s, which is never used so", f.Name(e.Fastener), d.Tag), "", "Have the wrench checked on the torque meter.", "noted")
	}
	for j := range f.s.Deviations {
		if d := &f.s.Deviations[j]; d.Status == "open" && d.Fastener == e.Fastener {
			d.Status = "loosened"
		}
	}
}

func (f *folder) skip(e Event) {
	i := f.current()
	if i == len(f.s.Passes) || e.Fastener < 1 || e.Fastener > len(f.torque) || !f.has(i, e.Fastener) || f.marks[i][e.Fastener-1].closed() {
		return
	}
	f.marks[i][e.Fastener-1] = MarkSkipped
	f.hand(e).prev = e.Fastener
	f.s.Passes[i].NotRight = append(f.s.Passes[i].NotRight, f.name(e.Fastener)+" left for later: "+e.Reason)
	f.find(working.Caution, "skipped", f.Name(e.Fastener)+" is left for later in this pass.", "The pass does not end while a bolt is open.", "Come back to it before the pass ends; an engineer may let the next pass begin without it.")
	f.s.Announce = f.Name(e.Fastener) + " left for later."
}

// problems are why the tools in hand may not be used in pass i.
func (f *folder) problems(h *hand, i int) []tool.Problem {
	if !plan.PassKind(f.s.Passes[i].Kind).Sets() {
		return nil
	}
	return f.held(h, i).problems
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
	if s := f.held(h, i).setUp; s != nil && plan.PassKind(ps.Kind).Sets() && !slices.Contains(ps.Wrenches, s.Name()) {
		ps.Wrenches = append(ps.Wrenches, s.Name())
	}
}

// void drops the closing signatures: the work went on after them.
func (f *folder) void() {
	f.s.Signatures = slices.DeleteFunc(f.s.Signatures, func(s Signature) bool { return s.Purpose == SignTightened || s.Purpose == SignProved })
}
