package run

import (
	"fmt"
	"slices"
	"strings"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
)

// verdict is worked out from the facts alone; each reason is shown.
func (f *folder) verdict() {
	v := Verdict{Reasons: make([]Reason, 0, len(f.s.Passes)+len(f.p.Checks))}
	wrong, waits, moved, open := 0, 0, false, 0
	add := func(status ReasonStatus, text, value string) {
		switch status {
		case ReasonWrong:
			wrong++
		case ReasonWaits:
			waits++
		}
		v.Reasons = append(v.Reasons, Reason{status, text, value})
	}
	for i := range f.s.Passes {
		f.passReason(i, add)
		f.toolReason(i, add)
	}
	moved = f.roundReasons(add)
	for k := range f.p.Checks {
		if f.checkReason(&f.p.Checks[k], add) {
			moved = true
		}
	}
	for _, d := range f.s.Deviations {
		switch d.Status {
		case DeviationOpen, DeviationLoosened:
			if f.beforeHandOver(d) {
				continue // told among what is open before the hand-over
			}
			open++
			add(ReasonWrong, d.What+": still open.", "")
		case DeviationAccepted, DeviationReworked:
			if d.waiver() && d.Status == DeviationAccepted {
				continue // told with the checks
			}
			add(ReasonOK, d.What+": "+string(d.Status)+" ("+d.Closed+").", "")
		}
	}
	f.waivers(&v)
	for _, w := range v.Waived {
		add(ReasonWaived, w.Title+" does not apply: "+w.Reason+".", w.By)
	}
	slices.SortStableFunc(v.Reasons, func(a, b Reason) int { return a.Status.rank() - b.Status.rank() })
	v.Code, v.Word, v.Sentence = f.verdictOf(v, open, moved, wrong, waits)
	if v.Code == Accepted && !f.p.Apart() {
		for i := range f.s.Fasteners {
			if f.s.Fasteners[i].State == Standing(MarkDone) {
				f.s.Fasteners[i].State = StandingAccepted
			}
		}
	}
	f.s.Verdict = v
}

// rank puts what is wrong first and what is in order last.
func (s ReasonStatus) rank() int {
	return slices.Index([]ReasonStatus{ReasonWrong, ReasonWaits, ReasonWaived, ReasonOK}, s)
}

// verdictOf says in code, word and sentence what the reasons come to.
func (f *folder) verdictOf(v Verdict, open int, moved bool, wrong, waits int) (code VerdictCode, word,
	sentence string) {
	reasons := v.Reasons
	switch {
	case f.turnedDown() != nil:
		g := f.turnedDown()
		return TurnedDown, "Turned down", fmt.Sprintf("By %s, %s: %s", g.Name, g.Role, g.Reason)
	case f.s.StoppedBy != "":
		return Stopped, "Stopped", f.s.StoppedBy
	case open == 1:
		return Stopped, "Stopped",
			"One deviation is open. Put it right, or have it accepted by an engineer or inspector."
	case open > 0:
		return Stopped, "Stopped",
			fmt.Sprintf("%d deviations are open. Put them right, or have them accepted by an engineer or inspector.",
				open)
	case moved:
		return GoRoundAgain, "Go round again",
			"One full round at full torque without movement, and an even gap, clear it."
	case wrong > 0:
		return Stopped, "Stopped", reasons[0].Text
	case waits > 0:
		return NotFinished, "Not finished", reasons[0].Text
	}
	if f.p.Apart() {
		return Accepted, "Taken apart", "Every fastener was let go in its rounds, and what came out is sorted."
	}
	return Accepted, "Accepted", f.acceptance(v)
}

// beforeHandOver reports whether a deviation was raised about a hold of Hand over: only signing that hold closes it,
// and that comes after the verdict.
func (f *folder) beforeHandOver(d Deviation) bool {
	code, raised := strings.CutPrefix(string(d.Code), string(Raised))
	c, ok := f.check(code)
	return f.reopens() && raised && ok && c.Signed() && c.Station == procedure.HandOver
}

// turnedDown is the signature by which the joint was given up, nil when it was not.
func (f *folder) turnedDown() *Signature {
	i := slices.IndexFunc(f.s.Signatures, func(g Signature) bool { return g.Purpose == SignTurnedDown })
	if i < 0 {
		return nil
	}
	return &f.s.Signatures[i]
}

// checkReason tells how a check of Tighten or Prove stands; again tells that the joint must be gone round again for it.
func (f *folder) checkReason(c *procedure.Check, add func(status ReasonStatus, text, value string)) (again bool) {
	if c.Station != procedure.Tighten && c.Station != procedure.Prove {
		return false
	}
	cs := &f.s.Checks[f.checkIndex(c.Code)]
	proof := c.Station == procedure.Prove
	text, value := c.Title+": "+cs.Text+".", ""
	if proof && cs.Result != nil {
		value = measured(*c, *cs.Result)
	}
	switch cs.Status {
	case CheckCleared, CheckByLeave:
		if proof {
			add(ReasonOK, text, value)
		}
	case CheckWaived: // told among the deviations
	case CheckToWaive:
		add(ReasonWaits, c.Title+" is said not to apply; an engineer must sign for it.", "")
	case CheckStopped:
		if f.later(c.Code) {
			add(ReasonWaits, c.Title+" is looked at again once that is done.", value)
			return false
		}
		if proof && len(cs.Findings) > 0 {
			text = cs.Findings[0].What
		}
		add(ReasonWrong, text, value)
		return proof && c.Reopens != nil
	default:
		add(ReasonWaits, c.Title+" is still to be answered.", "")
	}
	return false
}

// passReason tells how a pass that is no check round stands.
func (f *folder) passReason(i int, add func(status ReasonStatus, text, value string)) {
	ps := f.s.Passes[i]
	kind := ps.Kind
	if kind == plan.CheckPass {
		return
	}
	what := fmt.Sprintf("Pass %d, %s", ps.Number, ps.Name)
	if ps.GroupName != "" {
		what += " (" + strings.ToLower(ps.GroupName) + ")"
	}
	word := f.p.GroupOf(ps.Group).Word()
	if ps.Of > 1 {
		word += "s"
	}
	share := fmt.Sprintf("%d of %d", ps.Done, ps.Of)
	switch {
	case ps.Void != "":
		add(ReasonOK, fmt.Sprintf("%s: set aside (%s), done again since.", what, ps.Void), share)
	case ps.Complete && ps.Open == 0 && len(ps.Own) > 0:
		low, high := ps.Own.Span()
		add(
			ReasonOK,
			fmt.Sprintf("%s: all %d %s, each at a target of its own, %.0f to %.0f %% of the document's.", what,
				ps.Of, word, low, high),
			share,
		)
	case ps.Complete && ps.Open == 0 && kind.Sets():
		add(ReasonOK, fmt.Sprintf("%s: all %d %s at %s %s.", what, ps.Of, word, quantity.Text(ps.Setting),
			ps.Unit.Symbol()), share)
	case ps.Complete && ps.Open == 0 && len(ps.Tries) > 0:
		add(ReasonOK, fmt.Sprintf("%s: %s N·m after %d tries, window %s to %s.", what, sig(ps.Tries[len(ps.Tries)-1]),
			len(ps.Tries), sig(ps.LowNm), sig(ps.HighNm)), share)
	case ps.Complete && ps.Open == 0:
		add(ReasonOK, fmt.Sprintf("%s: all %d %s.", what, ps.Of, word), share)
	case ps.Complete:
		add(ReasonOK, fmt.Sprintf("%s: ended with %d %s open, by leave of an engineer.", what, ps.Open, word), share)
	default:
		add(ReasonWaits, fmt.Sprintf("%s: %d %s still open.", what, ps.Open, word), share)
	}
}

// roundReasons tells how the check rounds of each group ended, and whether some group must go round again.
func (f *folder) roundReasons(add func(status ReasonStatus, text, value string)) (moved bool) {
	for planned, pl := range f.p.Passes {
		if pl.Kind != plan.CheckPass {
			continue
		}
		var list []PassState
		for i, p := range f.planned {
			if p == planned && f.s.Passes[i].Void == "" {
				list = append(list, f.s.Passes[i])
			}
		}
		who := ""
		if f.p.Several() {
			who = ", " + strings.ToLower(f.p.GroupOf(pl.Group).GroupName)
		}
		rounds, last := len(list), list[len(list)-1]
		turned := last.Moved - f.movedOK(last.Number-1)
		switch {
		case last.Complete && turned == 0:
			text := "Check round" + who + ": no nut turned"
			if rounds > 1 {
				text = fmt.Sprintf("Check round %d%s: no nut turned", rounds, who)
			}
			if last.Open > 0 {
				text += fmt.Sprintf(" of those visited; %d left out by leave of an engineer", last.Open)
			}
			text += "."
			add(ReasonOK, text, fmt.Sprintf("%d of %d stayed", last.Done-last.Moved, last.Of))
		case rounds > 1:
			moved = true
			prev := list[rounds-2]
			add(ReasonWrong, fmt.Sprintf("Check round %d%s: %d nuts turned. One full round without movement clears it.",
				rounds-1, who, prev.Moved), fmt.Sprintf("%d of %d stayed", prev.Of-prev.Moved, prev.Of))
		default:
			add(ReasonWaits, "Check round at full torque"+who+": until no nut turns.", "")
		}
	}
	return moved
}

func (f *folder) movedOK(i int) int {
	n := 0
	for _, m := range f.marks[i] {
		if m == MarkMovedOK {
			n++
		}
	}
	return n
}
