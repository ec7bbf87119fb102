package run

import (
	"fmt"
	"slices"
	"strings"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/working"
)

// A check that does not apply at a joint is waived: a deviation with a reason, by the word of somebody whom the
// procedure trusts with it. Plans of older programs do not say who that is; by them anybody's word cleared the check,
// and their records are judged as they were.

// sayNoNeed takes the word that a check does not apply. Where whoever does the work may say so, that settles it; else
// it waits for the signature of somebody who may.
func (f *folder) sayNoNeed(i int, c procedure.Check, e Event) {
	text := "does not apply: " + e.Reason
	switch c.Waive {
	case "":
		f.attempt(i, e, "not applicable: "+e.Reason, !c.Hold)
		if c.Hold {
			f.raiseCheck(&holdNeededRule, c, e)
			f.s.Checks[i].Findings = slices.Clone(f.s.Findings)
		}
	case procedure.ByTechnician:
		f.attempt(i, e, text, true)
		f.raiseCheck(&waivedRule, c, e, "code", c.Code, "reason", e.Reason)
		f.s.Deviations[len(f.s.Deviations)-1].Closed = fmt.Sprintf("%s, %s: %s", e.Person.Name, e.Person.Role, e.Reason)
		f.s.Checks[i].Status = CheckWaived
	case procedure.ByEngineer:
		f.raiseCheck(&toWaiveRule, c, e, "code", c.Code, "reason", e.Reason)
		f.attempt(i, e, text, true)
		f.s.Checks[i].Status = CheckToWaive
	default:
		f.raiseCheck(&holdNeededRule, c, e)
		f.attempt(i, e, text, false)
	}
}

// waiver reports whether it is a check that was said not to apply.
func (d Deviation) waiver() bool { return strings.HasPrefix(string(d.Code), string(Waived)) }

// answered withdraws what was said before about a check that is answered after all.
func (f *folder) answered(c procedure.Check, e Event) {
	for i := range f.s.Deviations {
		d := &f.s.Deviations[i]
		if d.Code == Waived+working.Code(c.Code) && d.Status == DeviationOpen {
			d.Status, d.Closed = DeviationReworked, "answered after all by "+e.Person.Name
		}
	}
}

// waiver refuses the signature under a waiver of somebody whose word is not enough.
func (g signer) waiver(d Deviation) error {
	code, is := strings.CutPrefix(string(d.Code), string(Waived))
	if !is {
		return nil
	}
	c, ok := g.p.Check(code)
	if !ok || c.Waive == procedure.ByNobody {
		return refuseSignature("Answer it.", "%s cannot be waived", c.Title)
	}
	if !g.who.May(actOf(c.Waive)) {
		return refuseSignature("Ask an engineer.", "a %s may not say that %s does not apply", g.who.Role, c.Title)
	}
	return nil
}

// actOf is the act that it takes.
func actOf(w procedure.Waive) authority.Act {
	if w == procedure.ByTechnician {
		return authority.WaiveSmallCheck
	}
	return authority.WaiveCheck
}

// waivers counts the checks that were met and lists those that were waived.
func (f *folder) waivers(v *Verdict) {
	for k := range f.p.Checks {
		c := &f.p.Checks[k]
		status := f.s.Checks[f.checkIndex(c.Code)].Status
		if c.Station != procedure.HandOver || status != CheckOpen { // it comes after the verdict
			v.Of++
		}
		switch status {
		case CheckCleared:
			v.Met++
		case CheckWaived:
			w := Waiver{Check: c.Code, Title: c.Title}
			for _, d := range f.s.Deviations {
				if d.Code == Waived+working.Code(c.Code) && d.Status == DeviationAccepted {
					w.By, w.Reason, _ = strings.Cut(d.Closed, ": ")
				}
			}
			v.Waived = append(v.Waived, w)
		}
	}
}

// acceptance says what an accepted joint rests on, and claims no more than was done.
func (f *folder) acceptance(v Verdict) string {
	word, but := "fastener", ""
	round := slices.ContainsFunc(f.p.Passes, func(ps plan.Pass) bool { return ps.Kind == plan.CheckPass })
	if round {
		word = "bolt"
	}
	left := slices.ContainsFunc(f.s.Passes, func(ps PassState) bool { return ps.Open > 0 })
	if left {
		but = ", but for those left out by leave of an engineer,"
	}
	said := []string{"Every " + word + but + " was recorded in every pass"}
	switch {
	case round && left:
		said = append(said, "no nut that was visited turned in the last round")
	case round:
		said = append(said, "no nut turned in the last round")
	}
	if slices.ContainsFunc(f.s.Checks, func(c CheckState) bool { return c.Status == CheckCleared && c.Result != nil }) {
		said = append(said, "what was measured lies inside its limits")
	}
	text := strings.Join(said[:len(said)-1], ", ")
	if text != "" {
		text += ", and "
	}
	text += said[len(said)-1] + "."
	switch n := len(v.Waived); {
	case n == 1:
		text += fmt.Sprintf(" %d of %d checks were met; 1 was waived.", v.Met, v.Of)
	case n > 1:
		text += fmt.Sprintf(" %d of %d checks were met; %d were waived.", v.Met, v.Of, n)
	case v.Of > 0 && v.Met == v.Of:
		text += fmt.Sprintf(" All %d checks were met.", v.Of)
	}
	return text
}

// toolReason tells of a pass that was pulled to a torque with no tool on record: nobody can say what the torque was.
func (f *folder) toolReason(i int, t *tally) {
	ps := &f.s.Passes[i]
	if !f.saysWhoMay() || ps.Void != "" || !ps.Kind.Sets() || ps.Done == 0 {
		return
	}
	bare := len(ps.Wrenches) == 0
	if f.reopens() { // plans since know of each fastener what it was brought up with
		bare = slices.ContainsFunc(ps.Order, func(pos int) bool {
			return f.marks[i][pos-1].closed() && len(f.touched[pos-1]) == 0
		})
	}
	if bare {
		if t.add(ReasonWrong) {
			t.say(fmt.Sprintf("Pass %d, %s: no tool is on record, so no torque is accepted. Take the tools, loosen "+
				"what was pulled without, and bring it up again.", ps.Number, ps.Name), "")
		}
	}
}
