package run

import (
	"fmt"
	"slices"
	"strings"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

// signing is a purpose that can be signed for.
type signing struct {
	purpose  Purpose
	by       authority.Act // whose role is needed, "" for anyone
	ask, bar string        // the remedy, and what is refused, for one whose role is not
	refuse   func(s signer) error
}

// signer is somebody about to sign, and the work as it stands before.
type signer struct {
	p   *plan.Plan
	s   *State
	e   Event
	who Person
}

// signings lists every purpose, with what must be so before it can be signed.
var signings = []signing{
	{purpose: SignHold, refuse: signer.hold},
	{SignDeviation, authority.AcceptDeviation, "Ask an engineer or inspector.", "a %s may not accept a deviation",
		signer.deviation},
	{SignStartPass, authority.StartPassOpen, "Ask an engineer.",
		"only an engineer may let a pass begin with open bolts, not a %s", signer.startPass},
	{SignTightened, authority.SignTightened, "Let one of those who tightened it sign.",
		"a %s may not sign for the tightening", signer.tightened},
	{SignProved, authority.SignProved, "Ask an inspector.", "a %s may not prove a joint", signer.proved},
	{SignNoWitness, authority.WaiveWitness, "Ask an inspector or engineer.", "a %s may not go on without the witness",
		signer.noWitness},
	{SignTurnedDown, authority.TurnDown, "Ask an inspector or engineer.", "a %s may not turn a joint down",
		signer.turnedDown},
}

// MaySign refuses a signature that the rules do not allow, by the field "signature", or "reason" when only that is
// missing; s is the state before it. A hold is signed once its check is answered right, by another person where it
// takes two. A deviation is accepted while it is open, with a reason, and never when it stands for a hold. A pass is
// begun with open fasteners only when it is the next one, and the last is ended with some by the number behind it, with
// a reason. For the tightening one of those who worked on the joint signs, once it is accepted; for the proof somebody
// who did neither, after that. A joint can be turned down at any time, with a reason.
func MaySign(p *plan.Plan, s *State, e Event) error {
	who := signer{p, s, e, *e.Signer}
	for _, x := range signings {
		if x.purpose != e.Purpose {
			continue
		}
		if x.by != "" && !who.who.May(x.by) {
			return refuseSignature(x.ask, x.bar, who.who.Role)
		}
		return x.refuse(who)
	}
	return refuseSignature("", "%q is not something to sign", string(e.Purpose))
}

func refuseSignature(remedy, why string, args ...any) error {
	return quantity.Refuse("signature", remedy, why, args...)
}

// Signable is a signature that somebody may give now.
type Signable struct {
	Purpose Purpose `json:"purpose"`
	Check   string  `json:"check,omitempty"`
	Ref     string  `json:"ref,omitempty"`
	Pass    int     `json:"pass,omitempty"`
}

// May lists what a person may sign as the work stands, a reason given where one is needed.
func (s *State) May(p *plan.Plan, who Person) []Signable {
	out := []Signable{}
	try := func(g Signable) {
		e := Event{Kind: Signed, Purpose: g.Purpose, Check: g.Check, Ref: g.Ref, Pass: g.Pass, Signer: &who,
			Reason: "."}
		if MaySign(p, s, e) == nil {
			out = append(out, g)
		}
	}
	for _, c := range s.Checks {
		if c.Status == CheckToSign {
			try(Signable{Purpose: SignHold, Check: c.Code})
			try(Signable{Purpose: SignNoWitness, Check: c.Code})
		}
	}
	for _, d := range s.Deviations {
		if d.Unsettled() {
			try(Signable{Purpose: SignDeviation, Ref: d.ID})
		}
	}
	if s.Pass > 0 {
		try(Signable{Purpose: SignStartPass, Pass: s.Pass + 1})
	}
	try(Signable{Purpose: SignTightened})
	try(Signable{Purpose: SignProved})
	try(Signable{Purpose: SignTurnedDown})
	return out
}

func (g signer) hold() error {
	f := folder{p: g.p, s: g.s}
	c, ok := f.check(g.e.Check)
	i := f.checkIndex(g.e.Check)
	if !ok || i < 0 || !c.Signed() {
		return refuseSignature("", "%q is not a hold of this plan", g.e.Check)
	}
	if g.s.Checks[i].Status != CheckToSign {
		return refuseSignature("Answer the check first.", "%s is not waiting for a signature", c.Title)
	}
	last := g.s.Checks[i].Attempts[len(g.s.Checks[i].Attempts)-1]
	named := len(c.Signers) > 0 // older plans name nobody: anyone signed, and two people only where it says so
	if (c.TwoPerson || named) && last.ByID == g.who.ID {
		return refuseSignature("Let a second person look and sign.", "%s answered %s; it takes two people", g.who.Name,
			c.Title)
	}
	if named && !authority.Covers(g.who.Role, c.Signers...) {
		return refuseSignature(
			"Ask someone who is "+authority.AnyOf(c.Signers)+".",
			"%s, %s, may not sign %s",
			g.who.Name,
			g.who.Role,
			c.Title,
		)
	}
	if named && c.Station == procedure.Prove && g.worked() {
		return refuseSignature("Let somebody sign who did not tighten it.", "%s pulled bolts of this joint", g.who.Name)
	}
	return nil
}

// noWitness lets the work go on where somebody was to look on and did not come.
func (g signer) noWitness() error {
	f := folder{p: g.p, s: g.s}
	c, ok := f.check(g.e.Check)
	i := f.checkIndex(g.e.Check)
	switch {
	case !ok || i < 0 || !c.Witness || c.Hold:
		return refuseSignature("", "%q is not a witness point of this plan", g.e.Check)
	case g.s.Checks[i].Status != CheckToSign:
		return refuseSignature("Answer the check first.", "%s is not waiting for a witness", c.Title)
	case strings.TrimSpace(g.e.Reason) == "":
		return quantity.Refuse("reason", "Say why it went on without a witness.", "is empty")
	}
	return nil
}

func (g signer) deviation() error {
	i := slices.IndexFunc(g.s.Deviations, func(d Deviation) bool { return d.ID == g.e.Ref })
	if i < 0 {
		return refuseSignature("", "there is no such deviation")
	}
	d := g.s.Deviations[i]
	if !d.Unsettled() {
		return refuseSignature("Look at the run again.", "the deviation is %s already", d.Status)
	}
	if strings.TrimSpace(g.e.Reason) == "" {
		return quantity.Refuse("reason", "Say why it may stay.", "is empty")
	}
	if err := g.waiver(d); err != nil {
		return err
	}
	if code, ok := strings.CutPrefix(string(d.Code), string(Raised)); ok {
		if c, ok := g.p.Check(code); ok && c.Signed() {
			return refuseSignature(c.Remedy, "%s is a hold and cannot be accepted as a deviation", c.Title)
		}
	}
	return nil
}

func (g signer) startPass() error {
	if strings.TrimSpace(g.e.Reason) == "" {
		return quantity.Refuse("reason", "Say why the pass may begin.", "is empty")
	}
	if g.s.Pass == 0 || g.e.Pass != g.s.Pass+1 { // behind the last one: that it ends
		return refuseSignature("", "pass %d cannot begin now", g.e.Pass)
	}
	return nil
}

// worked reports whether the signer worked on a fastener of the joint.
func (g signer) worked() bool {
	return slices.ContainsFunc(g.s.Workers, func(p Person) bool { return p.ID == g.who.ID })
}

func (g signer) accepted() error {
	if g.s.Verdict.Code != Accepted {
		return refuseSignature("See Prove for what is open.", "the joint is not accepted: %s", g.s.Verdict.Sentence)
	}
	return nil
}

func (g signer) tightened() error {
	if err := g.accepted(); err != nil {
		return err
	}
	if !g.worked() {
		return refuseSignature("Let one of those who tightened it sign.", "%s did not tighten this joint", g.who.Name)
	}
	return nil
}

func (g signer) proved() error {
	if err := g.accepted(); err != nil {
		return err
	}
	i := slices.IndexFunc(g.s.Signatures, func(x Signature) bool { return x.Purpose == SignTightened })
	if i < 0 {
		return refuseSignature("Let the one who tightened sign first.", "nobody has signed for the tightening")
	}
	if g.worked() {
		return refuseSignature("Let a different inspector prove it.", "%s pulled bolts of this joint", g.who.Name)
	}
	if g.s.Signatures[i].ID == g.who.ID {
		return refuseSignature("Let a different inspector prove it.", "%s signed for the tightening", g.who.Name)
	}
	return nil
}

func (g signer) turnedDown() error {
	if strings.TrimSpace(g.e.Reason) == "" {
		return quantity.Refuse("reason", "Say why the joint is given up as it is.", "is empty")
	}
	if g.s.Verdict.Code == TurnedDown {
		return refuseSignature("Seal the record.", "the joint is turned down already")
	}
	return nil
}

func (f *folder) sign(e Event) {
	g := Signature{Purpose: e.Purpose, Check: e.Check, Ref: e.Ref, Name: e.Signer.Name, Role: e.Signer.Role,
		ID: e.Signer.ID, At: e.When(), Reason: e.Reason}
	switch e.Purpose {
	case SignHold:
		if i := f.checkIndex(e.Check); i >= 0 && f.s.Checks[i].Status == CheckToSign {
			f.s.Checks[i].Status, f.s.Checks[i].SignedBy = CheckCleared, e.Signer.Name
			f.signedSince(e)
		}
	case SignNoWitness:
		f.goOnWithout(e)
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
			if code, ok := strings.CutPrefix(string(d.Code), string(Waived)); ok {
				if i := f.checkIndex(code); i >= 0 && f.s.Checks[i].Status == CheckToWaive {
					f.s.Checks[i].Status, f.s.Checks[i].SignedBy = CheckWaived, e.Signer.Name
				}
			}
			if whole || !f.openOn(d.Fastener) {
				f.acceptMark(d)
			}
		}
	case SignStartPass:
		f.byLeave[e.Pass-1] = true
		for _, position := range f.s.Passes[e.Pass-2].Order {
			if !f.marks[e.Pass-2][position-1].closed() {
				f.left[e.Pass-1] = append(f.left[e.Pass-1], position)
			}
		}
		f.freshPass()
		rule := &startedOpenRule
		if e.Pass > len(f.s.Passes) {
			rule = &endedOpenRule
		}
		f.raise(rule, e, working.Facts{"said": fmt.Sprint(e.Pass), "last": fmt.Sprint(e.Pass - 1), "reason": e.Reason})
		d := &f.s.Deviations[len(f.s.Deviations)-1]
		d.Closed = fmt.Sprintf("%s, %s: %s", e.Signer.Name, e.Signer.Role, e.Reason)
	}
	f.s.Signatures = append(f.s.Signatures, g)
}

// goOnWithout clears a witness point that nobody came to, and says so.
func (f *folder) goOnWithout(e Event) {
	if i := f.checkIndex(e.Check); i >= 0 && f.s.Checks[i].Status == CheckToSign {
		c, _ := f.check(e.Check)
		f.s.Checks[i].Status, f.s.Checks[i].SignedBy = CheckCleared, ""
		f.raise(&noWitnessRule, e, working.Facts{"code": e.Check, "title": c.Title, "reason": e.Reason})
		d := &f.s.Deviations[len(f.s.Deviations)-1]
		d.Closed = fmt.Sprintf("%s, %s: %s", e.Signer.Name, e.Signer.Role, e.Reason)
	}
}

// openOn reports whether a fastener has a deviation that nobody has accepted or put right.
func (f *folder) openOn(position int) bool {
	return slices.ContainsFunc(f.s.Deviations, func(d Deviation) bool {
		return d.Fastener == position && d.Unsettled()
	})
}

// acceptMark lets a bolt stay as it is once its deviations are accepted.
func (f *folder) acceptMark(d *Deviation) {
	for i := range f.marks {
		for pos, m := range f.marks[i] {
			if m == MarkOver && d.Fastener == pos+1 {
				f.marks[i][pos] = MarkDone
			}
		}
	}
}
