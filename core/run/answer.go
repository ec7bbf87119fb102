package run

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"dynacor/core/layout"
	"dynacor/core/measure"
	"dynacor/core/plan"
	"dynacor/core/preload"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

func (f *folder) check(code string) (procedure.Check, bool) {
	for _, c := range f.p.Checks {
		if c.Code == code {
			return c, true
		}
	}
	return procedure.Check{}, false
}

func (f *folder) checkIndex(code string) int {
	return slices.IndexFunc(f.s.Checks, func(c CheckState) bool { return c.Code == code })
}

// attempt keeps an answer and sets the check's status by it.
func (f *folder) attempt(i int, e Event, text string, ok bool) {
	cs := &f.s.Checks[i]
	at := e.When()
	cs.Attempts = append(cs.Attempts, Attempt{EventID: e.ID, At: e.When(), By: e.Person.Name, ByID: e.Person.ID, Text: text, OK: ok})
	cs.Text, cs.By, cs.At, cs.SignedBy = text, e.Person.Name, &at, ""
	cs.Findings = slices.Clone(f.s.Findings)
	c, _ := f.check(cs.Code)
	switch {
	case !ok:
		cs.Status = CheckStopped
	case c.Hold:
		cs.Status = CheckToSign
	default:
		cs.Status = CheckCleared
	}
	if !ok {
		f.reopen(c)
	}
}

// answer judges one answer to a check. A value outside its limit never passes; the first failing one stays in the attempts.
func (f *folder) answer(e Event) {
	i := f.checkIndex(e.Check)
	if i < 0 {
		return
	}
	c, _ := f.check(e.Check)
	if c.Stop == procedure.Prove {
		f.void()
	}
	f.s.Checks[i].Mismatch = nil
	if e.Answer == "na" {
		if c.Hold {
			f.find(working.Stop, "hold_needed", c.Title+" cannot be left out.", c.Why, c.Remedy)
			f.attempt(i, e, "not applicable: "+e.Reason, false)
			return
		}
		f.attempt(i, e, "not applicable: "+e.Reason, true)
		return
	}
	if c.Photo && e.Photo == "" && e.Answer != "no" {
		f.find(working.Stop, "photo_needed", c.Title+" needs a photo.", "Whoever looks later must see what you saw.", "Take one, then answer.")
		f.attempt(i, e, "no photo", false)
		return
	}
	switch c.Kind {
	case procedure.Measure:
		f.measure(i, c, e)
	case procedure.Match:
		f.match(i, c, e)
	case procedure.Sequence:
		f.sequence(i, c, e)
	case procedure.Clock:
		f.clock(i, c, e)
	case procedure.Temporary:
		f.temporary(i, c, e)
	case procedure.Test:
		f.test(i, c, e)
	case procedure.Responsible:
		f.responsible(i, c, e)
	case procedure.Lubricant:
		f.lubricant(i, c, e)
	case procedure.Parts:
		f.parts(i, c, e)
	case procedure.Wrench:
		// The wrench check is answered by taking a wrench.
	case procedure.Condition:
		ok := e.Answer == "accept"
		if !ok {
			f.find(working.Stop, c.Code, c.Title+": "+e.Answer+".", c.Cause, c.Remedy)
		}
		f.attempt(i, e, words(e.Answer, e), ok)
	default:
		ok := e.Answer == "yes"
		if m := f.forbidden(c, e.Method); ok && m != "" {
			ok = false
			f.find(working.Stop, "forbidden_method", m+" is not permitted here.", c.Why, "Use "+strings.Join(c.Do, " or ")+".")
		} else if !ok {
			f.find(working.Stop, c.Code, c.Title+": not so.", c.Cause, c.Remedy)
		}
		f.attempt(i, e, words(e.Answer, e), ok)
	}
}

func (f *folder) forbidden(c procedure.Check, method string) string {
	if method != "" && slices.Contains(c.Dont, method) {
		return method
	}
	return ""
}

func words(answer string, e Event) string {
	parts := []string{answer}
	for _, v := range []string{e.Method, e.Note} {
		if v != "" {
			parts = append(parts, v)
		}
	}
	return strings.Join(parts, ", ")
}

// measure holds readings against their criterion. The first reading that is out stays in the attempts whatever is measured later.
func (f *folder) measure(i int, c procedure.Check, e Event) {
	cs := &f.s.Checks[i]
	values := make([]float64, len(e.Values))
	for j, v := range e.Values {
		values[j] = inUnitOf(c, v)
	}
	cs.Values, cs.Result, cs.Direction, cs.Worst = values, nil, nil, 0
	if len(c.Stations) > 0 && !slices.Contains(c.Stations, len(values)) || len(c.Names) > 0 && len(values) != len(c.Names) {
		want := c.Stations
		if len(c.Names) > 0 {
			want = []int{len(c.Names)}
		}
		f.find(working.Stop, c.Code, fmt.Sprintf("%s: %d readings given.", c.Title, len(values)), "", fmt.Sprintf("Measure at %v stations.", want))
		f.attempt(i, e, "not complete", false)
		return
	}
	face := 0.0
	if f.p.GroupOf(c.Fasteners).Layout.Shape() == layout.Circle {
		face = f.p.GroupOf(c.Fasteners).Layout.DiameterMM
	}
	j, err := measure.Judge(c.Criterion, values, measure.Limits{Low: c.Low, High: c.Limit, FaceMM: face})
	if err != nil {
		f.refused(i, e, err)
		return
	}
	cs.Result, cs.Direction, cs.Worst = &j.Result, j.Direction, j.Worst+1
	cs.History = append(cs.History, j.Result)
	lo, hi := slices.Min(values), slices.Max(values)
	unit := unitWord(c.Unit)
	mm := func(v float64) string { return fixed(v, places(e.Values)) }
	text := measured(c, j.Result)
	switch c.Criterion {
	case measure.Spread, measure.Offset, measure.Maximum:
		text = fmt.Sprintf("%s to %s %s, %s of %s %s", mm(lo), mm(hi), unit, mm(j.Result), mm(c.Limit), unit)
	case measure.Information:
		text += ", for information"
	default:
		text += ", " + plan.LimitText(c)
	}
	if !j.Pass {
		what := fmt.Sprintf("%s: %s, the limit is %s (%s).", c.Title, measured(c, j.Result), plan.LimitText(c), c.LimitFrom)
		if c.Criterion == measure.Spread || c.Criterion == measure.Offset || c.Criterion == measure.Maximum {
			what = fmt.Sprintf("%s: %s %s, the limit is %s %s (%s).", c.Title, mm(j.Result), unit, mm(c.Limit), unit, c.LimitFrom)
		}
		where := j.Where
		if j.Worst >= 0 && j.Worst < len(c.Names) {
			where = strings.TrimSpace(c.Names[j.Worst] + " is out. " + where)
		}
		f.find(working.Stop, c.Code, what, strings.TrimSpace(where+" "+c.Cause), c.Remedy)
	}
	f.attempt(i, e, text, j.Pass)
}

// inUnitOf gives a reading in the unit in which the limits of a check stand.
func inUnitOf(c procedure.Check, v Reading) float64 {
	if v.Unit == quantity.Unit(c.Unit) || c.Unit == "" {
		return v.Value
	}
	if x, err := quantity.Convert(v.Value, v.Unit, quantity.Unit(c.Unit)); err == nil {
		return x
	}
	return v.SI
}

// reopen asks again for what a failed check calls into question: other checks at once, steps of the work once they have been done.
func (f *folder) reopen(c procedure.Check) {
	done := f.current() == len(f.s.Passes)
	for _, code := range c.Reopens {
		if i := f.checkIndex(code); i >= 0 && code != c.Code {
			if cs := &f.s.Checks[i]; cs.Status == CheckCleared || cs.Status == CheckByLeave {
				cs.Status, cs.Waiting = CheckOpen, c.Title+" was not met: look at it again."
			}
			continue
		}
		if done {
			f.redo(code)
		}
	}
}

// measured says a result with its unit, to what the unit deserves.
func measured(c procedure.Check, v float64) string {
	unit := unitWord(c.Unit)
	switch {
	case c.Criterion == measure.Roundness:
		return fmt.Sprintf("%.2f %%", v)
	case c.Criterion == measure.Count:
		return quantity.Text(v)
	case unit == "mm":
		return mm(v) + " mm"
	case unit == "":
		return quantity.Text(quantity.Significant(v, 4))
	}
	return quantity.Text(quantity.Significant(v, 4)) + " " + unit
}

func unitWord(u string) string {
	if s := quantity.Unit(u).Symbol(); s != "" {
		return s
	}
	return u
}

func mm(v float64) string { return fixed(v, 2) }

// fixed writes a figure with so many decimals; one that is nothing has no sign.
func fixed(v float64, places int) string {
	if s := strconv.FormatFloat(v, 'f', places, 64); strings.Trim(s, "-0.") != "" {
		return s
	}
	return strconv.FormatFloat(0, 'f', places, 64)
}

// places are the decimals that readings in a unit of length are written with: two, or as many as were typed.
func places(values []Reading) int {
	most := 2
	for _, v := range values {
		_, frac, _ := strings.Cut(quantity.Text(v.Value), ".")
		most = max(most, len(frac))
	}
	return min(most, 4)
}

func (f *folder) refused(i int, e Event, err error) {
	f.find(working.Stop, "reading", err.Error(), "", "Measure again.")
	f.attempt(i, e, "not usable", false)
}

// lubricant compares what is on the bench with what the plan holds for and says what the difference does to the bolt.
func (f *folder) lubricant(i int, c procedure.Check, e Event) {
	found, ok := f.p.Card(e.Answer)
	if !ok {
		f.find(working.Stop, "lubricant_unknown", "There is no card for this lubricant.", "Its friction is not known.", "Stop and ask; use the planned one.")
		f.attempt(i, e, "unknown lubricant", false)
		return
	}
	text := found.Name
	for _, v := range []string{e.Product, e.Batch} {
		if v != "" {
			text += ", " + v
		}
	}
	g := f.p.GroupOf(f.p.Checks[i].Fasteners)
	same := found.Code == g.Lubricant.Code
	if !same {
		m := f.mismatch(g, found.Code)
		f.find(working.Stop, "wrong_lubricant", "Wrong lubricant for this plan: "+found.Name+" instead of "+g.Lubricant.Name+".", m.Sentence, fmt.Sprintf("Clean off and use %s, or ask for a plan with %s (about %s N·m).", g.Lubricant.Name, found.Name, quantity.Text(quantity.Significant(m.RestoringNm, 3))))
		defer func() { f.s.Checks[i].Mismatch = m }()
	}
	if c := f.p.Specification.ServiceClass; !found.Suit(c) {
		f.find(working.Stop, "lubricant_service", found.Name+" is not documented for "+strings.ReplaceAll(c, "_", " ")+" service.", "A paste that is wrong for the service can poison, burn or spoil what it meets.", "Clean it off. Use a lubricant documented for it.")
	}
	expired := e.Expiry != "" && e.Expiry < e.When().Format("2006-01-02")
	if expired {
		f.find(working.Stop, "lubricant_expired", "The tin is past its use-by of "+e.Expiry+".", "An aged paste does not have the friction of its card.", "Take a tin in date.")
	}
	suits := found.Suit(f.p.Specification.ServiceClass)
	f.attempt(i, e, text, same && suits && !expired)
}

func (f *folder) mismatch(g *plan.FastenerGroup, code string) *Mismatch {
	found, _ := f.p.Card(code)
	planned := g.Lubricant
	t := g.FinalNm
	if t == 0 {
		t = g.TargetNm
	}
	m := &Mismatch{PlannedCode: planned.Code, PlannedName: planned.Name, PlannedK: planned.K.Typ, FoundCode: found.Code, FoundName: found.Name, FoundK: found.K.Typ, TorqueNm: t}
	r, err := preload.LubricantMismatch(nil, t, g.Thread.DiameterMM, planned.K.Typ, found.K.Typ, g.Strength.Yield*g.StressAreaMM2/1000)
	if err != nil {
		m.Sentence = err.Error()
		return m
	}
	m.PlannedKN, m.FoundKN, m.RestoringNm, m.OverYield, m.ChangePct = r.IntendedKN, r.ActualKN, r.RestoringNm, r.OverLimit, 100*(r.Ratio-1)
	word := "short"
	if m.ChangePct > 0 {
		word = "over"
	}
	m.Sentence = fmt.Sprintf("At %s N·m each bolt would hold %.0f kN, %.0f %% %s of the %.0f kN planned.", quantity.Text(quantity.Significant(t, 4)), m.FoundKN, math.Abs(m.ChangePct), word, m.PlannedKN)
	if m.OverYield {
		m.Sentence += " That is past the bolt's yield."
	}
	return m
}

func (f *folder) parts(i int, c procedure.Check, e Event) {
	state, mark := map[string]string{}, map[string]string{}
	for _, p := range e.Parts {
		state[p.Code], mark[p.Code] = p.State, strings.TrimSpace(p.Mark)
	}
	var bad []string
	for _, p := range f.p.OtherParts {
		if state[p.Code] == "present" {
			bad = append(bad, p.Name+" belongs to another variant")
		}
	}
	for _, p := range f.p.Parts {
		switch state[p.Code] {
		case "present":
			if p.Mark && mark[p.Code] == "" {
				bad = append(bad, p.Name+": its number is not written down")
			}
		case "substituted":
			bad = append(bad, p.Name+" substituted")
		case "missing", "rejected":
			bad = append(bad, p.Name+" "+state[p.Code])
		default:
			bad = append(bad, p.Name+" not answered")
		}
	}
	if len(bad) > 0 {
		f.find(working.Stop, c.Code, strings.Join(bad, "; ")+".", c.Cause, c.Remedy)
		f.attempt(i, e, strings.Join(bad, "; "), false)
		return
	}
	f.attempt(i, e, fmt.Sprintf("all %d kinds present", len(f.p.Parts)), true)
}

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
		if d := s.Deviations[i]; d.Status != "open" && d.Status != "loosened" {
			return refuse("Look at the run again.", "the departure is %s already", d.Status)
		}
		if !senior {
			return refuse("Ask an engineer or inspector.", "a %s may not accept a deviation", who.Role)
		}
		if strings.TrimSpace(e.Reason) == "" {
			return quantity.Refuse("reason", "Say why it may stay.", "is empty")
		}
		if d := s.Deviations[i]; strings.HasPrefix(d.Code, "raised:") {
			if c, ok := (&folder{p: p, s: s}).check(strings.TrimPrefix(d.Code, "raised:")); ok && c.Hold {
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
			ofEvent, _, _ := strings.Cut(d.ID, departureMark)
			whole := e.Ref == ofEvent // in older chains a signature names the event and accepts all that it left
			if d.ID != e.Ref && !whole {
				continue
			}
			d.Status, d.Closed = "accepted", fmt.Sprintf("%s, %s: %s", e.Signer.Name, e.Signer.Role, e.Reason)
			if code, ok := strings.CutPrefix(d.Code, "raised:"); ok {
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
		f.deviate(e, "start_pass", fmt.Sprintf("Pass %d begun with open bolts", e.Pass), e.Reason, "", "accepted")
	}
	f.s.Signatures = append(f.s.Signatures, g)
}

// openOn reports whether a fastener has a departure that nobody has accepted or put right.
func (f *folder) openOn(position int) bool {
	return slices.ContainsFunc(f.s.Deviations, func(d Deviation) bool {
		return d.Fastener == position && (d.Status == "open" || d.Status == "loosened")
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
