package run

import (
	"fmt"
	"slices"

	"dynacor/core/procedure"
	"dynacor/core/working"
)

// Closing says what a deviation needs before the joint can be accepted.
type Closing string

// The closings. A rule without one leaves a finding and no deviation.
const (
	ByNote  Closing = "note"  // kept for the reader; nobody need do anything
	ByLeave Closing = "leave" // open until an engineer or inspector accepts it
	// open until the fastener is let go, or changed, and brought up again; or until it is accepted
	ByRework  Closing = "rework"
	BySigning Closing = "signing" // accepted by the signature that brought it about
)

// Rule is one thing that may be out with an act. Rules are values: Rules lists them all, the wording of each stands in
// one place beside them, and what is shown, kept and asked for follows from the two.
type Rule struct {
	Code     working.Code
	Case     string           // tells apart several wordings of a code, "" when there is one
	On       Kind             // the event it judges
	Severity working.Severity // of its finding, "" when it leaves a deviation only
	Closing  Closing          // "": no deviation
	As       working.Code     // the code of its deviation when that is another
	Mark     Mark             // what it leaves at the fastener, when it is the last word
	Last     bool             // no later rule is asked
	Suspect  bool             // the fastener is to be looked at whatever comes later
	SetAgain bool             // the setting must be made again before the next pull

	// applies gives the facts of each time it is broken by an act, nil when it is kept. Rules without it are raised
	// where the work is counted.
	applies func(*act) []working.Facts
}

// Key names the rule's wording.
func (r *Rule) Key() string {
	if r.Case == "" {
		return string(r.Code)
	}
	return string(r.Code) + "/" + r.Case
}

// Wording is what the rule says, in English.
func (r *Rule) Wording() Wording { return english[r.Key()] }

// broken are the facts of a rule that is broken once, names and values in turn. "code" ends the code of a rule that
// stands for a family of codes.
func broken(pairs ...string) []working.Facts { return []working.Facts{working.FactsOf(pairs...)} }

// when gives the facts of a rule that needs none, nil when it is kept.
func when(yes bool) []working.Facts {
	if yes {
		return broken()
	}
	return nil
}

// ask holds an act against rules in their order. It gives the one that had the last word, nil when none had.
func (a *act) ask(rules []Rule) *Rule {
	for k := range rules {
		r := &rules[k]
		list := r.applies(a)
		for _, x := range list {
			a.raise(r, a.e, x)
		}
		if len(list) > 0 && r.Last {
			return r
		}
	}
	return nil
}

// raise projects a broken rule onto the state: its finding, its deviation, and what it leaves behind.
func (f *folder) raise(r *Rule, e Event, x working.Facts) {
	if x == nil {
		x = working.Facts{}
	}
	if e.Fastener >= 1 && e.Fastener <= len(f.torque) {
		x["fastener"], x["Fastener"] = f.name(e.Fastener), f.Name(e.Fastener)
	}
	if _, said := x["pass"]; !said {
		x["pass"] = fmt.Sprint(f.current() + 1)
	}
	w := r.Wording()
	if r.Severity != "" {
		code := r.Code + working.Code(x["code"])
		if x["own"] != "" {
			code = working.Code(x["own"])
		}
		f.s.Findings = append(f.s.Findings, working.Finding{Severity: r.Severity, Code: code, What: w.What.With(x),
			Why: w.Why.With(x), Remedy: w.Remedy.With(x)})
	}
	if r.Closing != "" {
		d := Deviation{Code: r.Code, What: w.Deviation.With(x), Why: w.DeviationWhy.With(x),
			Remedy: w.DeviationRemedy.With(x), Status: r.Closing.begins()}
		if r.On != DeviationRaised { // what a person raises is about the joint or a check
			d.Fastener, d.Pass = e.Fastener, min(f.current(), len(f.s.Passes)-1)+1
		}
		if r.As != "" {
			d.Code = r.As
		}
		d.Code += working.Code(x["code"])
		f.keep(e, d)
	}
	if r.Suspect {
		f.suspect[e.Fastener-1] = true
	}
	if r.SetAgain {
		f.hand(e).stopped = w.SetAgain.With(x)
	}
}

// begins is the status of a deviation when it is kept.
func (c Closing) begins() DeviationStatus {
	switch c {
	case ByNote:
		return DeviationNoted
	case BySigning:
		return DeviationAccepted
	}
	return DeviationOpen
}

// keep keeps a deviation under an identifier of its own: that of its event and its code, with a number when the event
// leaves several of a kind.
func (f *folder) keep(e Event, d Deviation) {
	base := e.ID + deviationMark + string(d.Code)
	d.ID, d.At, d.By = base, e.When(), e.Person.Name
	for n := 2; slices.ContainsFunc(f.s.Deviations, func(o Deviation) bool { return o.ID == d.ID }); n++ {
		d.ID = fmt.Sprintf("%s:%d", base, n)
	}
	f.s.Deviations = append(f.s.Deviations, d)
}

// raiseCheck raises a rule about the answer to a check.
func (f *folder) raiseCheck(r *Rule, c procedure.Check, e Event, pairs ...string) {
	x := broken(pairs...)[0]
	for k, v := range map[string]string{"title": c.Title, "why": c.Why, "cause": c.Cause, "remedy": c.Remedy} {
		if _, said := x[k]; !said {
			x[k] = v
		}
	}
	if r.Code == CheckNotMet {
		x["own"] = c.Code
	}
	f.raise(r, e, x)
}

// reworked are the codes of deviations that are put right by bringing the fastener up again.
var reworked = func() map[working.Code]bool {
	m := map[working.Code]bool{}
	for _, r := range Rules() {
		if r.Closing != ByRework {
			continue
		}
		m[r.Code] = true
		if r.As != "" {
			m[r.As] = true
		}
	}
	for s := range traceWords {
		m[TraceShape+working.Code(s)] = true
	}
	return m
}()
