package run

import (
	"fmt"
	"math"
	"slices"
	"strings"

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
	at := e.At
	cs.Attempts = append(cs.Attempts, Attempt{EventID: e.ID, At: e.At, By: e.Person.Name, Text: text, OK: ok})
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
	switch c.Kind {
	case procedure.Measure:
		f.measured4(i, c, e)
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

func (f *folder) measured4(i int, c procedure.Check, e Event) {
	cs := &f.s.Checks[i]
	values := make([]float64, len(e.Values))
	for j, v := range e.Values {
		values[j] = v.SI
	}
	cs.Values, cs.Result, cs.Direction = values, nil, nil
	if !slices.Contains(c.Stations, len(values)) {
		f.find(working.Stop, c.Code, fmt.Sprintf("%s: %d readings given.", c.Title, len(values)), "", fmt.Sprintf("Measure at %v stations.", c.Stations))
		f.attempt(i, e, "not complete", false)
		return
	}
	lo, hi := slices.Min(values), slices.Max(values)
	text, result, where, ok := fmt.Sprintf("%s to %s mm", mm(lo), mm(hi)), 0.0, "", false
	switch c.Criterion {
	case procedure.Offset:
		r, err := measure.Rim([4]float64(values), c.Limit)
		if err != nil {
			f.refused(i, e, err)
			return
		}
		result, ok, cs.Direction = r.Offset, r.Pass, r.Direction
		where = fmt.Sprintf("Shared step %s mm; shift the far side %s mm to centre it.", mm(r.Common), mm(r.Offset))
	case procedure.Maximum:
		for _, v := range values {
			result = math.Max(result, math.Abs(v))
		}
		ok = quantity.AtMost(result, c.Limit)
	default:
		d := f.p.Layout.DiameterMM
		if d == 0 {
			d = 1000 // the tilt angle needs a circle; the spread that is judged does not
		}
		g, err := measure.GapTilt(nil, values, d, c.Limit)
		if err != nil {
			f.refused(i, e, err)
			return
		}
		result, ok, cs.Direction = g.MaxMin, g.Pass, g.WidestDeg
		if g.WidestStation != nil {
			where = fmt.Sprintf("Widest towards station %s.", station(*g.WidestStation))
		}
	}
	cs.Result = &result
	text += fmt.Sprintf(", %s of %s mm", mm(result), mm(c.Limit))
	if !ok {
		f.find(working.Stop, c.Code, fmt.Sprintf("%s: %s mm, the limit is %s mm (%s).", c.Title, mm(result), mm(c.Limit), c.LimitFrom), strings.TrimSpace(where+" "+c.Cause), c.Remedy)
	}
	f.attempt(i, e, text, ok)
	if !ok && slices.Contains(c.Reopens, "check_pass") && f.current() == len(f.s.Passes) {
		f.again()
	}
}

func mm(v float64) string { return fmt.Sprintf("%.2f", v) }

func station(n int) string { return string(rune('a' + n - 1)) }

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
	same := found.Code == f.p.Lubricant.Code
	if !same {
		m := f.mismatch(found.Code)
		f.find(working.Stop, "wrong_lubricant", "Wrong lubricant for this plan: "+found.Name+" instead of "+f.p.Lubricant.Name+".", m.Sentence, fmt.Sprintf("Clean off and use %s, or ask for a plan with %s (about %s N·m).", f.p.Lubricant.Name, found.Name, quantity.Text(quantity.Significant(m.RestoringNm, 3))))
		defer func() { f.s.Checks[i].Mismatch = m }()
	}
	if c := f.p.Specification.ServiceClass; !found.Suit(c) {
		f.find(working.Stop, "lubricant_service", found.Name+" is not documented for "+strings.ReplaceAll(c, "_", " ")+" service.", "A paste that is wrong for the service can poison, burn or spoil what it meets.", "Clean it off. Use a lubricant documented for it.")
	}
	expired := e.Expiry != "" && e.Expiry < e.At.Format("2006-01-02")
	if expired {
		f.find(working.Stop, "lubricant_expired", "The tin is past its use-by of "+e.Expiry+".", "An aged paste does not have the friction of its card.", "Take a tin in date.")
	}
	f.attempt(i, e, text, same && !expired)
}

func (f *folder) mismatch(code string) *Mismatch {
	found, _ := f.p.Card(code)
	planned := f.p.Lubricant
	t := f.p.FinalNm
	if t == 0 {
		t = f.p.TargetNm
	}
	m := &Mismatch{PlannedCode: planned.Code, PlannedName: planned.Name, PlannedK: planned.K.Typ, FoundCode: found.Code, FoundName: found.Name, FoundK: found.K.Typ, TorqueNm: t}
	r, err := preload.LubricantMismatch(nil, t, f.p.Thread.DiameterMM, planned.K.Typ, found.K.Typ, f.p.Strength.Yield*f.p.StressAreaMM2/1000)
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
	state := map[string]string{}
	for _, p := range e.Parts {
		state[p.Code] = p.State
	}
	var bad []string
	for _, p := range f.p.Parts {
		switch state[p.Code] {
		case "present":
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
	senior := who.Role == Engineer || who.Role == Inspector
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
		if c.TwoPerson && last.By == who.Name {
			return refuse("Let a second person look and sign.", "%s answered %s; it takes two people", who.Name, c.Title)
		}
	case SignDeviation:
		i := slices.IndexFunc(s.Deviations, func(d Deviation) bool { return d.ID == e.Ref })
		if i < 0 {
			return refuse("", "there is no such deviation")
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
		if who.Role != Engineer {
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
		for _, ps := range s.Passes {
			if slices.Contains(ps.People, who.Name) {
				return refuse("Let a different inspector prove it.", "%s pulled bolts of this joint", who.Name)
			}
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
	g := Signature{Purpose: e.Purpose, Check: e.Check, Ref: e.Ref, Name: e.Signer.Name, Role: e.Signer.Role, ID: e.Signer.ID, At: e.At, Reason: e.Reason}
	switch e.Purpose {
	case SignHold:
		if i := f.checkIndex(e.Check); i >= 0 && f.s.Checks[i].Status == CheckToSign {
			f.s.Checks[i].Status, f.s.Checks[i].SignedBy = CheckCleared, e.Signer.Name
		}
	case SignDeviation:
		for i := range f.s.Deviations {
			d := &f.s.Deviations[i]
			if d.ID != e.Ref {
				continue
			}
			d.Status, d.Closed = "accepted", fmt.Sprintf("%s, %s: %s", e.Signer.Name, e.Signer.Role, e.Reason)
			if code, ok := strings.CutPrefix(d.Code, "raised:"); ok {
				if i := f.checkIndex(code); i >= 0 && f.s.Checks[i].Status == CheckStopped {
					f.s.Checks[i].Status = CheckByLeave
				}
			}
			f.acceptMark(d)
		}
	case SignStartPass:
		f.byLeave[e.Pass-1] = true
		f.freshPass()
		f.deviate(e, "start_pass", fmt.Sprintf("Pass %d begun with open bolts", e.Pass), e.Reason, "", "accepted")
	}
	f.s.Signatures = append(f.s.Signatures, g)
}

// acceptMark lets a bolt stay as it is once its deviation is accepted.
func (f *folder) acceptMark(d *Deviation) {
	for i := range f.marks {
		for pos, m := range f.marks[i] {
			if m == MarkOver && d.Fastener == pos+1 {
				f.marks[i][pos] = MarkDone
			}
		}
	}
}
