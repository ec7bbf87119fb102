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
	var v Verdict
	t := tally{silent: f.silent}
	if !t.silent {
		t.reasons = make([]Reason, 0, len(f.s.Passes)+len(f.p.Checks))
	}
	for i := range f.s.Passes {
		f.passReason(i, &t)
		f.toolReason(i, &t)
	}
	moved, open := f.roundReasons(&t), 0
	for k := range f.p.Checks {
		if f.checkReason(&f.p.Checks[k], &t) {
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
			if t.add(ReasonWrong) {
				t.say(d.What+": still open.", "")
			}
		case DeviationAccepted, DeviationReworked:
			if d.waiver() && d.Status == DeviationAccepted {
				continue // told with the checks
			}
			if t.add(ReasonOK) {
				t.say(d.What+": "+string(d.Status)+" ("+d.Closed+").", "")
			}
		}
	}
	f.waivers(&v)
	for _, w := range v.Waived {
		if t.add(ReasonWaived) {
			t.say(w.Title+" does not apply: "+w.Reason+".", w.By)
		}
	}
	slices.SortStableFunc(t.reasons, func(a, b Reason) int { return a.Status.rank() - b.Status.rank() })
	v.Reasons = t.reasons
	v.Code = f.verdictCode(&t, open, moved)
	if !f.silent {
		v.Word, v.Sentence = f.verdictWords(v, open)
	}
	if v.Code == Accepted && !f.p.Apart() {
		for i := range f.s.Fasteners {
			if f.s.Fasteners[i].State == Standing(MarkDone) {
				f.s.Fasteners[i].State = StandingAccepted
			}
		}
	}
	f.s.Verdict = v
}

// tally counts the reasons of a verdict. Their words are put together only for somebody who reads them.
type tally struct {
	silent       bool
	reasons      []Reason // none while it is silent
	wrong, waits int
	latest       ReasonStatus
}

// add counts a reason and reports whether it is to be said.
func (t *tally) add(status ReasonStatus) bool {
	switch status {
	case ReasonWrong:
		t.wrong++
	case ReasonWaits:
		t.waits++
	}
	t.latest = status
	return !t.silent
}

// say puts the reason that was counted last into words; a value may stand beside them.
func (t *tally) say(text, value string) {
	t.reasons = append(t.reasons, Reason{t.latest, text, value})
}

// rank puts what is wrong first and what is in order last.
func (s ReasonStatus) rank() int {
	return slices.Index([]ReasonStatus{ReasonWrong, ReasonWaits, ReasonWaived, ReasonOK}, s)
}

// verdictCode is what the reasons come to; open is how many deviations are, moved that a group must go round again.
func (f *folder) verdictCode(t *tally, open int, moved bool) VerdictCode {
	switch {
	case f.turnedDown() != nil:
		return TurnedDown
	case f.s.StoppedBy != "" || open > 0:
		return Stopped
	case moved:
		return GoRoundAgain
	case t.wrong > 0:
		return Stopped
	case t.waits > 0:
		return NotFinished
	}
	return Accepted
}

// verdictWords says in a word and a sentence what the reasons come to.
func (f *folder) verdictWords(v Verdict, open int) (word, sentence string) {
	switch v.Code {
	case TurnedDown:
		g := f.turnedDown()
		return "Turned down", fmt.Sprintf("By %s, %s: %s", g.Name, g.Role, g.Reason)
	case Stopped:
		return "Stopped", f.whyStopped(v, open)
	case GoRoundAgain:
		return "Go round again", "One full round at full torque without movement, and an even gap, clear it."
	case NotFinished:
		return "Not finished", v.Reasons[0].Text
	}
	if f.p.Apart() {
		return "Taken apart", "Every fastener was let go in its rounds, and what came out is sorted."
	}
	return "Accepted", f.acceptance(v)
}

func (f *folder) whyStopped(v Verdict, open int) string {
	switch {
	case f.s.StoppedBy != "":
		return f.s.StoppedBy
	case open == 1:
		return "One deviation is open. Put it right, or have it accepted by an engineer or inspector."
	case open > 0:
		return fmt.Sprintf("%d deviations are open. Put them right, or have them accepted by an engineer or inspector.",
			open)
	}
	return v.Reasons[0].Text
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
func (f *folder) checkReason(c *procedure.Check, t *tally) (again bool) {
	if c.Station != procedure.Tighten && c.Station != procedure.Prove {
		return false
	}
	cs := &f.s.Checks[f.checkIndex(c.Code)]
	proof := c.Station == procedure.Prove
	said := func(text string) {
		value := ""
		if proof && cs.Result != nil {
			value = measured(*c, *cs.Result)
		}
		t.say(text, value)
	}
	switch cs.Status {
	case CheckCleared, CheckByLeave:
		if proof && t.add(ReasonOK) {
			said(c.Title + ": " + cs.Text + ".")
		}
	case CheckWaived: // told among the deviations
	case CheckToWaive:
		if t.add(ReasonWaits) {
			t.say(c.Title+" is said not to apply; an engineer must sign for it.", "")
		}
	case CheckStopped:
		if f.later(c.Code) {
			if t.add(ReasonWaits) {
				said(c.Title + " is looked at again once that is done.")
			}
			return false
		}
		switch {
		case !t.add(ReasonWrong):
		case proof && len(cs.Findings) > 0:
			said(cs.Findings[0].What)
		default:
			said(c.Title + ": " + cs.Text + ".")
		}
		return proof && c.Reopens != nil
	default:
		if t.add(ReasonWaits) {
			t.say(c.Title+" is still to be answered.", "")
		}
	}
	return false
}

// passReason tells how a pass that is no check round stands.
func (f *folder) passReason(i int, t *tally) {
	ps := &f.s.Passes[i]
	if ps.Kind == plan.CheckPass {
		return
	}
	status := ReasonWaits
	if ps.Void != "" || ps.Complete {
		status = ReasonOK
	}
	if t.add(status) {
		t.say(f.passWords(ps), fmt.Sprintf("%d of %d", ps.Done, ps.Of))
	}
}

// passWords say how a pass that is no check round stands.
func (f *folder) passWords(ps *PassState) string {
	what := fmt.Sprintf("Pass %d, %s", ps.Number, ps.Name)
	if ps.GroupName != "" {
		what += " (" + strings.ToLower(ps.GroupName) + ")"
	}
	word := f.p.GroupOf(ps.Group).Word()
	if ps.Of > 1 {
		word += "s"
	}
	switch {
	case ps.Void != "":
		return fmt.Sprintf("%s: set aside (%s), done again since.", what, ps.Void)
	case !ps.Complete:
		return fmt.Sprintf("%s: %d %s still open.", what, ps.Open, word)
	case ps.Open > 0:
		return fmt.Sprintf("%s: ended with %d %s open, by leave of an engineer.", what, ps.Open, word)
	case len(ps.Own) > 0:
		low, high := ps.Own.Span()
		return fmt.Sprintf("%s: all %d %s, each at a target of its own, %.0f to %.0f %% of the document's.", what,
			ps.Of, word, low, high)
	case ps.Kind.Sets():
		return fmt.Sprintf("%s: all %d %s at %s %s.", what, ps.Of, word, quantity.Text(ps.Setting), ps.Unit.Symbol())
	case len(ps.Tries) > 0:
		return fmt.Sprintf("%s: %s N·m after %d tries, window %s to %s.", what, sig(ps.Tries[len(ps.Tries)-1]),
			len(ps.Tries), sig(ps.LowNm), sig(ps.HighNm))
	}
	return fmt.Sprintf("%s: all %d %s.", what, ps.Of, word)
}

// roundReasons tells how the check rounds of each group ended, and whether some group must go round again.
func (f *folder) roundReasons(t *tally) (moved bool) {
	for planned := range f.p.Passes {
		pl := &f.p.Passes[planned]
		if pl.Kind != plan.CheckPass {
			continue
		}
		rounds := 0
		var prev, last *PassState
		for i, p := range f.planned {
			if p == planned && f.s.Passes[i].Void == "" {
				rounds, prev, last = rounds+1, last, &f.s.Passes[i]
			}
		}
		switch {
		case last.Complete && last.Moved == f.movedOK(last.Number-1):
			if t.add(ReasonOK) {
				t.say(f.stayed(last, rounds), fmt.Sprintf("%d of %d stayed", last.Done-last.Moved, last.Of))
			}
		case rounds > 1:
			moved = true
			if t.add(ReasonWrong) {
				t.say(fmt.Sprintf("Check round %d%s: %d nuts turned. One full round without movement clears it.",
					rounds-1, f.whose(pl), prev.Moved), fmt.Sprintf("%d of %d stayed", prev.Of-prev.Moved, prev.Of))
			}
		default:
			if t.add(ReasonWaits) {
				t.say("Check round at full torque"+f.whose(pl)+": until no nut turns.", "")
			}
		}
	}
	return moved
}

// whose names the group of a pass where there are several.
func (f *folder) whose(pl *plan.Pass) string {
	if !f.p.Several() {
		return ""
	}
	return ", " + strings.ToLower(f.p.GroupOf(pl.Group).GroupName)
}

// stayed tells of a check round in which no nut turned.
func (f *folder) stayed(last *PassState, rounds int) string {
	text := "Check round"
	if rounds > 1 {
		text = fmt.Sprintf("Check round %d", rounds)
	}
	text += f.whose(&f.p.Passes[f.planned[last.Number-1]]) + ": no nut turned"
	if last.Open > 0 {
		text += fmt.Sprintf(" of those visited; %d left out by leave of an engineer", last.Open)
	}
	return text + "."
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
