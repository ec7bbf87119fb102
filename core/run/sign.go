package run

import (
	"fmt"
	"slices"
	"strings"

	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

// MaySign refuses a signature that the rules do not allow. s is the state before it.
func MaySign(p *plan.Plan, s *State, e Event) error {
	refuse := func(remedy, why string, args ...any) error { return quantity.Refuse("signature", remedy, why, args...) }
	who := *e.Signer
	senior := who.May(Engineer) || who.May(Inspector)
	worked := slices.ContainsFunc(s.Workers, func(p Person) bool { return p.ID == who.ID })
	switch e.Purpose {
	case SignHold:
		f := folder{p: p, s: s}
		c, ok := f.check(e.Check)
		i := f.checkIndex(e.Check)
		if !ok || i < 0 || !c.Hold {
			return refuse("", "%q is not a hold of this plan", e.Check)
		}
		if s.Checks[i].Status != CheckToSign {
			return refuse("Answer the check first.", "%s is not waiting for a signature", c.Title)
		}
		last := s.Checks[i].Attempts[len(s.Checks[i].Attempts)-1]
		if c.TwoPerson && last.ByID == who.ID {
			return refuse("Let a second person look and sign.", "%s answered %s; it takes two people", who.Name, c.Title)
		}
	case SignDeviation:
		i := slices.IndexFunc(s.Deviations, func(d Deviation) bool { return d.ID == e.Ref })
		if i < 0 {
			return refuse("", "there is no such deviation")
		}
		if d := s.Deviations[i]; !d.Unsettled() {
			return refuse("Look at the run again.", "the deviation is %s already", d.Status)
		}
		if !senior {
			return refuse("Ask an engineer or inspector.", "a %s may not accept a deviation", who.Role)
		}
		if strings.TrimSpace(e.Reason) == "" {
			return quantity.Refuse("reason", "Say why it may stay.", "is empty")
		}
		if d := s.Deviations[i]; strings.HasPrefix(string(d.Code), string(Raised)) {
			if c, ok := (&folder{p: p, s: s}).check(strings.TrimPrefix(string(d.Code), string(Raised))); ok && c.Hold {
				return refuse(c.Remedy, "%s is a hold and cannot be accepted as a deviation", c.Title)
			}
		}
	case SignStartPass:
		if !who.May(Engineer) {
			return refuse("Ask an engineer.", "only an engineer may let a pass begin with open bolts")
		}
		if strings.TrimSpace(e.Reason) == "" {
			return quantity.Refuse("reason", "Say why the pass may begin.", "is empty")
		}
		if s.Pass == 0 || e.Pass != s.Pass+1 || e.Pass > len(s.Passes) {
			return refuse("", "pass %d cannot begin now", e.Pass)
		}
	case SignTightened:
		if s.Verdict.Code != "accepted" {
			return refuse("See Prove for what is open.", "the joint is not accepted: %s", s.Verdict.Sentence)
		}
		if !worked {
			return refuse("Let one of those who tightened it sign.", "%s did not tighten this joint", who.Name)
		}
	case SignProved:
		if !senior {
			return refuse("Ask an inspector.", "a %s may not prove a joint", who.Role)
		}
		if s.Verdict.Code != "accepted" {
			return refuse("See Prove for what is open.", "the joint is not accepted: %s", s.Verdict.Sentence)
		}
		i := slices.IndexFunc(s.Signatures, func(g Signature) bool { return g.Purpose == SignTightened })
		if i < 0 {
			return refuse("Let the one who tightened sign first.", "nobody has signed for the tightening")
		}
		if worked {
			return refuse("Let a different inspector prove it.", "%s pulled bolts of this joint", who.Name)
		}
		if s.Signatures[i].ID == who.ID {
			return refuse("Let a different inspector prove it.", "%s signed for the tightening", who.Name)
		}
	default:
		return refuse("", "%q is not something to sign", e.Purpose)
	}
	return nil
}

func (f *folder) sign(e Event) {
	g := Signature{Purpose: e.Purpose, Check: e.Check, Ref: e.Ref, Name: e.Signer.Name, Role: e.Signer.Role, ID: e.Signer.ID, At: e.When(), Reason: e.Reason}
	switch e.Purpose {
	case SignHold:
		if i := f.checkIndex(e.Check); i >= 0 && f.s.Checks[i].Status == CheckToSign {
			f.s.Checks[i].Status, f.s.Checks[i].SignedBy = CheckCleared, e.Signer.Name
		}
	case SignDeviation:
		for i := range f.s.Deviations {
			d := &f.s.Deviations[i]
			ofEvent, _, _ := strings.Cut(d.ID, deviationMark)
			whole := e.Ref == ofEvent // in older chains a signature names the event and accepts all that it left
			if d.ID != e.Ref && !whole {
				continue
			}
			d.Status, d.Closed = DeviationAccepted, fmt.Sprintf("%s, %s: %s", e.Signer.Name, e.Signer.Role, e.Reason)
			if code, ok := strings.CutPrefix(string(d.Code), string(Raised)); ok {
				if i := f.checkIndex(code); i >= 0 && f.s.Checks[i].Status == CheckStopped {
					f.s.Checks[i].Status = CheckByLeave
				}
			}
			if whole || !f.openOn(d.Fastener) {
				f.acceptMark(d)
			}
		}
	case SignStartPass:
		f.byLeave[e.Pass-1] = true
		f.freshPass()
		f.raise(&startedOpenRule, e, working.Facts{"said": fmt.Sprint(e.Pass), "reason": e.Reason})
	}
	f.s.Signatures = append(f.s.Signatures, g)
}

// openOn reports whether a fastener has a departure that nobody has accepted or put right.
func (f *folder) openOn(position int) bool {
	return slices.ContainsFunc(f.s.Deviations, func(d Deviation) bool {
		return d.Fastener == position && d.Unsettled()
	})
}

// acceptMark lets a bolt stay as it is once its departures are accepted.
func (f *folder) acceptMark(d *Deviation) {
	for i := range f.marks {
		for pos, m := range f.marks[i] {
			if m == MarkOver && d.Fastener == pos+1 {
				f.marks[i][pos] = MarkDone
			}
		}
	}
}
