package record

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/statistics"
)

// Verdicts of an audit, beside Unfinished.
const (
	Inside   AdditionVerdict = "inside"    // not more outside than the rule lets pass
	WholeLot AdditionVerdict = "whole_lot" // more of the sample: every fastener is audited next
	Outside  AdditionVerdict = "outside"   // more of the whole lot
)

// Audit is how a joint was audited by somebody who did not tighten it.
type Audit struct {
	By      string  `json:"by"`                // how it is read: plan.AuditMovingOn and those beside it
	Sample  []int   `json:"sample"`            // positions drawn from the fasteners of the joint, or all of them
	Low     float64 `json:"low,omitempty"`     // parts of the target between which the torque is to lie
	High    float64 `json:"high,omitempty"`    // at which a nut moves on
	MostOut int     `json:"mostOut,omitempty"` // so many may lie outside
	Chance  float64 `json:"chance,omitempty"`  // to draw one of them, if a tenth of the fasteners lay outside
}

// NextAudit draws the fasteners of a record that are audited next, by the house rules: a part of them, at least so
// many, spread evenly from a place that follows from the mark of the seal and from what was added, so that nobody
// chooses them; every one after a sample of which too many lay outside. Source: statistics.InspectionSample.
func NextAudit(rules plan.HouseRules, p *plan.Plan, mark string, old []Addition) (Audit, error) {
	n := p.Count()
	a := Audit{By: rules.Audit, MostOut: rules.AuditMostOut}
	if a.By == "" {
		a.By = plan.AuditMovingOn
	}
	for i := range n {
		if a.By == plan.AuditMovingOn && p.GroupAt(i+1).FinalNm <= 0 {
			a.By = plan.AuditMarks // no torque was aimed at: there is none to read
		}
	}
	if a.By == plan.AuditMovingOn {
		a.Low, a.High = rules.AuditLow, rules.AuditHigh
	}
	share := rules.AuditShare
	for i := len(old) - 1; i >= 0; i-- {
		if old[i].Kind == Audited {
			if old[i].Verdict == WholeLot || old[i].Verdict == Outside {
				share = 1
			}
			break
		}
	}
	place, err := strconv.ParseUint(mark[:min(8, len(mark))], 16, 64)
	if err != nil {
		return a, fmt.Errorf("record: the mark %.20q is no digest", mark)
	}
	bad := max(1, n/10)
	r, err := statistics.InspectionSample(nil, statistics.SampleInput{Lot: n, Frac: share, Least: rules.AuditLeast,
		Start: int((place+uint64(len(old)))%uint64(n)) + 1, Bad: &bad})
	if err != nil {
		return a, err
	}
	a.Sample, a.Chance = r.Positions, quantity.Significant(*r.Detect, 3)
	slices.Sort(a.Sample)
	return a, nil
}

// checkAudit refuses an audit that cannot be meant, by field.
func (a Addition) checkAudit(p *plan.Plan) error {
	if a.Audit == nil || len(a.Audit.Sample) == 0 || a.Audit.MostOut < 0 {
		return quantity.Refuse("audit", "Let the sample be drawn.", "has no sample")
	}
	if !slices.Contains([]string{plan.AuditMovingOn, plan.AuditNoMovement, plan.AuditMarks}, a.Audit.By) {
		return quantity.Refuse("audit", "Choose one of the house rules.", "%q is no way to audit", a.Audit.By)
	}
	moves := a.Audit.By == plan.AuditMovingOn
	if moves && !(a.Audit.Low > 0 && a.Audit.High > a.Audit.Low) {
		return quantity.Refuse("audit", "Put the house rule right.", "the window has no upper end above its lower one")
	}
	if n := len([]rune(strings.TrimSpace(a.Tool))); a.Audit.By != plan.AuditMarks && (n < 1 || n > 80) {
		return quantity.Refuse("tool", "Enter the label of the tool.", "has %d letters", n)
	}
	if err := a.checkVisitList(p); err != nil {
		return err
	}
	return a.checkReadings(p, moves)
}

// checkReadings refuses a reading of a fastener that was not drawn, or one that was read another way.
func (a Addition) checkReadings(p *plan.Plan, moves bool) error {
	for i, v := range a.Visits {
		field := fmt.Sprintf("visits[%d]", i)
		if !slices.Contains(a.Audit.Sample, v.Fastener) {
			return quantity.Refuse(field, "Audit those that were drawn.", "%s was not drawn", p.NameOf(v.Fastener))
		}
		if moves {
			if err := quantity.Between(field+".movedNm", v.MovedNm, 0.1, 1e6); err != nil {
				return err
			}
		}
		if moves && v.TurnedDeg != 0 || !moves && v.MovedNm != 0 {
			return quantity.Refuse(field, "Enter what the way of the audit asks for.", "is read another way")
		}
	}
	return nil
}

// outside names the fasteners that lay outside: below the window, above it, or turned.
func (a Addition) outside(p *plan.Plan) (low, high, turned []string) {
	for _, v := range a.Visits {
		name := p.NameOf(v.Fastener)
		aim := float64(p.GroupAt(v.Fastener).FinalNm)
		switch {
		case a.Audit.By != plan.AuditMovingOn:
			if v.TurnedDeg > 0 {
				turned = append(turned, name)
			}
		case !quantity.AtMost(aim*a.Audit.Low, v.MovedNm):
			low = append(low, name)
		case !quantity.AtMost(v.MovedNm, aim*a.Audit.High):
			high = append(high, name)
		}
	}
	return low, high, turned
}

// judgeAudit says how an audit came out: whether every fastener of the sample was read, and how many lay outside.
func (a Addition) judgeAudit(p *plan.Plan) (AdditionVerdict, string) {
	low, high, turned := a.outside(p)
	out, n, of := len(low)+len(high)+len(turned), len(a.Visits), len(a.Audit.Sample)
	said := fmt.Sprintf("%d of %d audited of %d drawn", n, p.Count(), of)
	if a.Audit.By == plan.AuditMovingOn {
		said += fmt.Sprintf(", to move on at %s to %s %% of the target", quantity.Text(100*a.Audit.Low),
			quantity.Text(100*a.Audit.High))
	}
	for _, x := range []struct {
		what string
		list []string
	}{{"low", low}, {"high", high}, {"turned", turned}} {
		if len(x.list) > 0 {
			said += fmt.Sprintf("; %s: %s", x.what, strings.Join(x.list, ", "))
		}
	}
	all := of == p.Count()
	switch {
	case out > a.Audit.MostOut && !all:
		return WholeLot, said + ". More than the rule lets pass: every fastener is audited."
	case out > a.Audit.MostOut && len(high) > len(low):
		return Outside, said + ". More high than low: something else is wrong. Find out what before anything is " +
			"tightened."
	case out > a.Audit.MostOut:
		return Outside, said + "."
	case n < of:
		return Unfinished, said + ": not all."
	case out > 0:
		return Inside, said + ". The rule lets so many pass."
	}
	return Inside, said + ": none outside."
}

// MayAudit says why somebody may not audit a record, "" when they may: whoever had a hand in the tightening does not.
func (r Record) MayAudit(p run.Person) string {
	if r.State != nil && slices.ContainsFunc(r.State.Workers, func(w run.Person) bool { return w.ID == p.ID }) {
		return p.Name + " had a hand in the tightening"
	}
	return ""
}
