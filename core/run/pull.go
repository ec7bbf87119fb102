package run

import (
	"fmt"
	"math"
	"slices"

	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// pull judges one pull against the plan and then takes it as the fact it is.
func (f *folder) pull(e Event) {
	i := f.current()
	if e.Fastener < 1 || e.Fastener > len(f.torque) {
		f.find(working.Stop, "no_such_fastener", fmt.Sprintf("There is no bolt %d on this joint.", e.Fastener), "", "Take it back.")
		return
	}
	if i == len(f.s.Passes) {
		f.find(working.Caution, "after_last_pass", fmt.Sprintf("Bolt %d was pulled after the last pass.", f.number(e.Fastener)), "The work was complete.", "Go to Prove, or go round once more.")
		f.deviate(e, "after_last_pass", fmt.Sprintf("Bolt %d pulled after the last pass", f.number(e.Fastener)), "", "", "noted")
		return
	}
	if e.Pass < i+1 {
		n := f.number(e.Fastener)
		f.find(working.Caution, "wrong_stage", fmt.Sprintf("Bolt %d was pulled at pass %d; the joint is in pass %d.", n, e.Pass, i+1), "A lower setting clicks without adding anything.", "Set the wrench for this pass and pull it again.")
		f.deviate(e, "wrong_stage", fmt.Sprintf("Bolt %d pulled once more at pass %d during pass %d", n, e.Pass, i+1), "", "", "noted")
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
	f.note(ps, e, h)
	pos := e.Fastener - 1
	f.marks[i][pos] = mark
	f.measured[pos] = e.Reading != nil
	f.torque[pos] = f.atNut(h, e)
	f.degrees[pos] = e.TurnedDeg
	if mark.closed() {
		f.rework(e.Fastener, e.Outcome == Replaced)
	}
	if e.Outcome == Replaced {
		f.deviate(e, "replaced", fmt.Sprintf("Bolt %d replaced and brought up again in pass %d", f.number(e.Fastener), i+1), e.Reason, "", "noted")
	}
	f.pulled, h.prev = true, e.Fastener
	h.person, h.personID = e.Person.Name, e.Person.ID
	h.kept = &Kept{EventID: e.ID, Fastener: e.Fastener, Number: f.number(e.Fastener), At: e.At, Text: outcomeText(mark, e, f.driver(h).Unit)}
	f.lastKept = h.kept
	f.s.Announce = fmt.Sprintf("Bolt %d kept.", f.number(e.Fastener))
	if f.complete(i) {
		f.freshPass()
		if i == len(f.s.Passes)-1 && slices.Contains(f.marks[i], MarkMoved) {
			f.again()
			if rounds := len(f.s.Passes) - len(f.p.Passes); rounds >= f.p.HouseRules.MaxCheckPasses {
				f.find(working.Stop, "check_escalate", fmt.Sprintf("Nuts still turn after %d rounds.", rounds), "The gasket may be yielding, or the lubricant is not what was assumed.", "Stop and ask the engineer.")
				f.deviate(e, "check_escalate", fmt.Sprintf("Nuts still turn after %d check rounds", rounds), "", "An engineer decides how to go on.", "open")
			}
		}
	}
}

func outcomeText(m Mark, e Event, u quantity.Unit) string {
	at := quantity.Text(e.Setting) + " " + u.Symbol()
	if e.Reading != nil {
		at = e.Reading.Text
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
	ps, n, d := f.s.Passes[i], f.number(e.Fastener), f.driver(h)
	if !f.ready() {
		f.find(working.Stop, "not_ready", "The joint was not ready.", "Checks or holds before the first pull are open.", "Stop. Clear what is open in Ready.")
		f.deviate(e, "not_ready", fmt.Sprintf("Bolt %d pulled in pass %d before everything in Ready was cleared", n, i+1), "", "An engineer or inspector decides.", "open")
	}
	if f.s.HeldBy != "" {
		f.find(working.Stop, "held", "The joint is stopped.", f.s.HeldBy, "Lift the stop first.")
		f.deviate(e, "held", fmt.Sprintf("Bolt %d pulled in pass %d while the joint was stopped", n, i+1), f.s.HeldBy, "An engineer or inspector decides.", "open")
	}
	if why := f.mustConfirm(h, i+1, e.Person.ID, e.At); why != "" {
		f.find(working.Caution, "not_confirmed", "The setting was not confirmed.", why, "Confirm the setting; pull the bolt again if it was wrong.")
		f.deviate(e, "not_confirmed", fmt.Sprintf("Bolt %d pulled in pass %d without a confirmed setting", n, i+1), why, "", "noted")
	}
	for _, pr := range h.problems {
		f.find(working.Stop, "wrench_"+pr.Code, pr.What+".", "", pr.Remedy)
		f.deviate(e, "wrench_"+pr.Code, fmt.Sprintf("Bolt %d, pass %d: %s", n, i+1, pr.What), "", "Check the bolt with a wrench that is fit, or have it accepted.", "open")
	}
	if e.Pass > i+1 {
		f.find(working.Stop, "wrong_stage", fmt.Sprintf("Bolt %d was pulled at pass %d; the joint is in pass %d.", n, e.Pass, i+1), "One bolt ahead of its stage cocks the faces and crushes the gasket there.", "Loosen it and bring it up with the others.")
		f.deviate(e, "wrong_stage", fmt.Sprintf("Bolt %d pulled at the setting of pass %d during pass %d", n, e.Pass, i+1), "", "Loosen it and bring it up with the others, or have it accepted.", "open")
		return MarkOver
	}
	if want := f.expected(i, h); want != 0 && want != e.Fastener {
		if f.marks[i][e.Fastener-1].closed() {
			f.find(working.Caution, "repeated", fmt.Sprintf("Bolt %d was done already in this pass.", n), "A second click without movement only tells that it is at the setting or above.", fmt.Sprintf("Next is bolt %d.", f.number(want)))
			f.deviate(e, "repeated", fmt.Sprintf("Bolt %d pulled twice in pass %d", n, i+1), "", "", "noted")
		} else {
			f.find(working.Caution, "out_of_order", fmt.Sprintf("%d is next. You are on %d.", f.number(want), n), ps.orderWhy(), fmt.Sprintf("Go back to %d, or carry on from %d: the bolts passed over come at the end of this pass.", f.number(want), n))
			f.deviate(e, "out_of_order", fmt.Sprintf("Bolt %d pulled before %d in pass %d", n, f.number(want), i+1), "", "", "noted")
		}
	}
	if wait := f.wait(i, h, e.Fastener); wait != "" {
		f.find(working.Caution, "ahead", wait+".", "Tools that pull at once keep the faces parallel only when they go from step to step together.", "Start together; the next step begins when all have ended theirs.")
		f.deviate(e, "ahead", fmt.Sprintf("Bolt %d pulled ahead of the others in pass %d", n, i+1), "", "", "noted")
	}
	f.reaction(e, h, n, i)
	if want := h.setting(i); math.Abs(e.Setting-want) > d.Graduation/2+1e-9 {
		f.findWrongSetting(e.Setting, want, d, "The tool was set to")
		if e.Setting > want {
			f.deviate(e, "wrong_setting", fmt.Sprintf("Bolt %d pulled at %s instead of %s %s in pass %d", n, quantity.Text(e.Setting), quantity.Text(want), d.Unit.Symbol(), i+1), "", "Loosen and repeat, replace, or have it accepted.", "open")
			return MarkOver
		}
		return MarkShort
	}
	switch e.Outcome {
	case Short:
		f.find(working.Caution, "short", fmt.Sprintf("Bolt %d stopped short.", n), "It holds less than its neighbours.", "Pull it again before the pass ends.")
		return MarkShort
	case Over:
		f.find(working.Stop, "over", fmt.Sprintf("Bolt %d was pulled past the click.", n), "It may hold more than the plan, or be stretched.", "Loosen it and bring it up again, replace it, or have it accepted by an engineer.")
		f.deviate(e, "over", fmt.Sprintf("Bolt %d pulled past the click in pass %d", n, i+1), "", "Loosen and repeat, replace, or have it accepted.", "open")
		return MarkOver
	case ClickedStill:
		if ps.Kind == string(plan.StagePass) && i == 0 {
			f.suspect[e.Fastener-1] = true
			f.find(working.Caution, "clicked_still", fmt.Sprintf("Bolt %d clicked without turning in its first pass.", n), "It may be seized, cross-threaded or already tight: the click says only 'at the setting or above'.", "Loosen it, run the nut by hand, and pull it again.")
			f.deviate(e, "clicked_still", fmt.Sprintf("Bolt %d clicked without turning in its first pass", n), "", "Loosen it, run the nut by hand, and pull it again, or have it accepted.", "open")
			return MarkDone
		}
	case Clicked, Stalled, RunDown, Reached:
		f.suspect[e.Fastener-1] = false
	}
	if m := f.judgeReading(e, i, h); m != MarkNone {
		return m
	}
	f.judgeTrace(e, i)
	if ps.Kind == string(plan.CheckPass) && e.Moved != nil && *e.Moved {
		limit := f.movedLimit()
		if e.TurnedDeg > 0 && e.TurnedDeg <= limit {
			return MarkMovedOK
		}
		may := "It may not turn at all"
		if limit > 0 {
			may = "It may turn " + quantity.Text(limit) + "°"
		}
		f.find(working.Info, "moved", fmt.Sprintf("Nut %d still turned.", n), may+": its neighbours took load from it.", "Finish the round; then go round again until none turns.")
		return MarkMoved
	}
	return MarkDone
}

func (f *folder) movedLimit() float64 {
	if f.p.Specification.MovedLimitDeg > 0 {
		return f.p.Specification.MovedLimitDeg
	}
	return f.p.HouseRules.MovedLimitDeg
}

func (ps PassState) orderWhy() string {
	if ps.Kind == string(plan.CheckPass) {
		return "A check round goes from bolt to bolt, so that none is forgotten."
	}
	return "Opposite bolts in turn keep the faces parallel."
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
	for j := range f.s.Passes {
		if f.marks[j][e.Fastener-1] == MarkOver {
			i = j
		}
	}
	f.marks[i][e.Fastener-1] = MarkNone
	f.torque[e.Fastener-1], f.suspect[e.Fastener-1] = 0, false
	text := fmt.Sprintf("bolt %d loosened: %s", f.number(e.Fastener), e.Reason)
	if e.Method != "" {
		text += ", with " + e.Method
	}
	if e.Reading != nil { // the pressure, or torque, at which it let go
		text += ", let go at " + quantity.Text(e.Reading.Value) + " " + e.Reading.Unit.Symbol()
	}
	f.s.Passes[i].NotRight = append(f.s.Passes[i].NotRight, text)
	if d := f.driver(f.hand(e)); e.Method == d.Tag && !d.MayLoosen && d.Kind.Sets() == tool.ByTorque {
		f.find(working.Stop, "not_for_loosening", d.Tag+" was used for loosening.", "A torque wrench used so is strained and drifts; its register entry forbids it.", "Put it aside and have it checked; take a bar or a spanner.")
		f.deviate(e, "not_for_loosening", fmt.Sprintf("Bolt %d loosened with %s, which is never used so", f.number(e.Fastener), d.Tag), "", "Have the wrench checked on the torque meter.", "noted")
	}
	for j := range f.s.Deviations {
		if d := &f.s.Deviations[j]; d.Status == "open" && d.Fastener == e.Fastener {
			d.Status = "loosened"
		}
	}
}

func (f *folder) skip(e Event) {
	i := f.current()
	if i == len(f.s.Passes) || e.Fastener < 1 || e.Fastener > len(f.torque) || f.marks[i][e.Fastener-1].closed() {
		return
	}
	f.marks[i][e.Fastener-1] = MarkSkipped
	f.hand(e).prev = e.Fastener
	f.s.Passes[i].NotRight = append(f.s.Passes[i].NotRight, fmt.Sprintf("bolt %d left for later: %s", f.number(e.Fastener), e.Reason))
	f.find(working.Caution, "skipped", fmt.Sprintf("Bolt %d is left for later in this pass.", f.number(e.Fastener)), "The pass does not end while a bolt is open.", "Come back to it before the pass ends; an engineer may let the next pass begin without it.")
	f.s.Announce = fmt.Sprintf("Bolt %d left for later.", f.number(e.Fastener))
}

func (f *folder) note(ps *PassState, e Event, h *hand) {
	at := e.At
	if ps.From == nil {
		ps.From = &at
	}
	ps.To = &at
	if !slices.Contains(ps.People, e.Person.Name) {
		ps.People = append(ps.People, e.Person.Name)
	}
	if h.setUp != nil && !slices.Contains(ps.Wrenches, h.setUp.Name()) {
		ps.Wrenches = append(ps.Wrenches, h.setUp.Name())
	}
}

// void drops the closing signatures: the work went on after them.
func (f *folder) void() {
	f.s.Signatures = slices.DeleteFunc(f.s.Signatures, func(s Signature) bool { return s.Purpose == SignTightened || s.Purpose == SignProved })
}
