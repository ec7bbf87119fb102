package run

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"dynacor/core/plan"
	"dynacor/core/preload"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
)

func (f *folder) check(code string) (procedure.Check, bool) {
	return f.p.Check(code)
}

func (f *folder) checkIndex(code string) int {
	if f.places != nil {
		if i, ok := f.places[code]; ok {
			return i
		}
		return -1
	}
	return slices.IndexFunc(f.s.Checks, func(c CheckState) bool { return c.Code == code })
}

// checkOf is how a check of the plan stands, by its place there.
func (f *folder) checkOf(k int) *CheckState {
	if f.states != nil {
		return &f.s.Checks[f.states[k]]
	}
	return &f.s.Checks[f.checkIndex(f.p.Checks[k].Code)]
}

// attempt keeps an answer and sets the check's status by it.
func (f *folder) attempt(i int, e Event, text string, ok bool) {
	cs := &f.s.Checks[i]
	at := f.time(e)
	cs.Attempts = append(cs.Attempts, Attempt{EventID: e.ID, At: e.When(), By: e.Person.Name, ByID: e.Person.ID,
		Text: text, OK: ok})
	cs.Text, cs.By, cs.At, cs.SignedBy = text, e.Person.Name, &at, ""
	cs.Findings = slices.Clone(f.s.Findings)
	c, _ := f.check(cs.Code)
	switch {
	case !ok:
		cs.Status = CheckStopped
	case c.Signed():
		cs.Status = CheckToSign
	default:
		cs.Status = CheckCleared
	}
	if !ok {
		f.reopen(c)
	}
}

// answer judges one answer to a check. A value outside its limit never passes; the first failing one stays in the
// attempts.
func (f *folder) answer(e Event) {
	i := f.checkIndex(e.Check)
	if i < 0 {
		return
	}
	c, _ := f.check(e.Check)
	if c.Station == procedure.Prove {
		f.void()
	}
	f.s.Checks[i].Mismatch = nil
	f.answered(c, e)
	if e.Answer == "na" {
		f.sayNoNeed(i, c, e)
		return
	}
	if c.Photo && e.Photo == "" && e.Answer != "no" {
		f.raiseCheck(&photoNeededRule, c, e)
		f.attempt(i, e, "no photo", false)
		return
	}
	if judge := answers[c.Kind]; judge != nil {
		judge(f, i, c, e)
	}
}

// answers judge the answer to a check, each for one kind. The check of tools in hand is answered by taking them.
var answers map[procedure.CheckKind]func(f *folder, i int, c procedure.Check, e Event)

func init() { // an answer can ask again for checks that have answers of their own
	answers = map[procedure.CheckKind]func(f *folder, i int, c procedure.Check, e Event){
		procedure.Measure:     (*folder).measure,
		procedure.Match:       (*folder).match,
		procedure.Sequence:    (*folder).sequence,
		procedure.Clock:       (*folder).clock,
		procedure.Temporary:   (*folder).temporary,
		procedure.Test:        (*folder).test,
		procedure.Responsible: (*folder).responsible,
		procedure.Lubricant:   (*folder).lubricant,
		procedure.Parts:       (*folder).parts,
		procedure.Condition:   (*folder).condition,
		procedure.Fates:       (*folder).fates,
		procedure.Confirm:     (*folder).confirmed,
		procedure.Orientation: (*folder).confirmed,
	}
}

func (f *folder) condition(i int, c procedure.Check, e Event) {
	ok := e.Answer == "accept"
	if !ok {
		f.raiseCheck(&checkCondition, c, e, "answer", e.Answer)
	}
	f.attempt(i, e, words(e.Answer, e), ok)
}

func (f *folder) confirmed(i int, c procedure.Check, e Event) {
	ok := e.Answer == "yes"
	if m := f.forbidden(c, e.Method); ok && m != "" {
		ok = false
		f.raiseCheck(&forbiddenRule, c, e, "method", m, "permitted", strings.Join(c.Do, " or "))
	} else if !ok {
		f.raiseCheck(&checkNo, c, e)
	}
	text := words(e.Answer, e)
	if n := len(e.Items); n > 0 {
		text += fmt.Sprintf(", %d things to hand", n)
	}
	f.attempt(i, e, text, ok)
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

// reopen asks again for what a failed check calls into question: other checks at once, steps of the work once they have
// been done.
func (f *folder) reopen(c procedure.Check) {
	if f.reopens() {
		f.notMet(c)
		return
	}
	done := f.current() == len(f.s.Passes)
	for _, code := range c.Reopens {
		if i := f.checkIndex(code); i >= 0 && code != c.Code {
			if cs := &f.s.Checks[i]; cs.Status.Settled() {
				cs.Status, cs.Waiting = CheckOpen, c.Title+" was not met: look at it again."
			}
			continue
		}
		if done {
			f.redo(code)
		}
	}
}

func (f *folder) unusable(i int, c procedure.Check, e Event, err error) {
	f.raiseCheck(&checkUnusableRule, c, e, "what", err.Error())
	f.attempt(i, e, "not usable", false)
}

// lubricant compares what is on the bench with what the plan holds for and says what the difference does to the bolt.
func (f *folder) lubricant(i int, c procedure.Check, e Event) {
	found, ok := f.p.Card(e.Answer)
	if !ok {
		f.raiseCheck(&lubricantUnknownRule, c, e)
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
		f.raiseCheck(&wrongLubricantRule, c, e, "found", found.Name, "planned", g.Lubricant.Name, "change", m.Sentence,
			"restoring", sig(m.RestoringNm))
		defer func() { f.s.Checks[i].Mismatch = m }()
	}
	service := f.p.Specification.ServiceClass
	suits := found.Suit(service)
	if !suits {
		f.raiseCheck(&lubricantServiceRule, c, e, "found", found.Name, "service", strings.ReplaceAll(service, "_", " "))
	}
	expired := e.Expiry != "" && e.Expiry < e.When().Format("2006-01-02")
	if expired {
		f.raiseCheck(&lubricantExpiredRule, c, e, "date", e.Expiry)
	}
	f.attempt(i, e, text, same && suits && !expired)
}

func (f *folder) mismatch(g *plan.FastenerGroup, code string) *Mismatch {
	found, _ := f.p.Card(code)
	planned := g.Lubricant
	t := g.FinalNm
	if t == 0 {
		t = g.TargetNm
	}
	m := &Mismatch{PlannedCode: planned.Code, PlannedName: planned.Name, PlannedK: planned.K.Typ, FoundCode: found.Code,
		FoundName: found.Name, FoundK: found.K.Typ, TorqueNm: t}
	r, err := preload.LubricantMismatch(nil, quantity.Torque(t), quantity.Length(g.Thread.DiameterMM), planned.K.Typ,
		found.K.Typ, quantity.Force(g.Strength.Yield*g.StressAreaMM2/1000))
	if err != nil {
		m.Sentence = err.Error()
		return m
	}
	m.PlannedKN, m.FoundKN, m.RestoringNm, m.OverYield, m.ChangePct = r.IntendedKN, r.ActualKN, r.RestoringNm,
		r.OverLimit, 100*(r.Ratio-1)
	word := "short"
	if m.ChangePct > 0 {
		word = "over"
	}
	m.Sentence = fmt.Sprintf("At %s N·m each bolt would hold %.0f kN, %.0f %% %s of the %.0f kN planned.",
		quantity.Text(quantity.Significant(t, 4)), m.FoundKN, math.Abs(m.ChangePct), word, m.PlannedKN)
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
		f.raiseCheck(&checkList, c, e, "list", strings.Join(bad, "; "))
		f.attempt(i, e, strings.Join(bad, "; "), false)
		return
	}
	f.attempt(i, e, fmt.Sprintf("all %d kinds present", len(f.p.Parts)), true)
}
