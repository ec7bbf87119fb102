package run

import (
	"fmt"
	"slices"
	"strings"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/working"
)

// What was done stays done only while what it rests on stays as it was. The plan says what rests on what; plans of
// older programs do not, and their records are judged as they were.

// reopens reports whether the plan says what rests on what.
func (f *folder) reopens() bool { return f.p.Needs != nil }

// lookAgain asks again for checks that rest on what was changed. One that does not apply still does not.
func (f *folder) lookAgain(codes []string, why string) {
	for _, code := range codes {
		cs := &f.s.Checks[f.checkIndex(code)]
		switch cs.Status {
		case CheckCleared, CheckByLeave, CheckToSign, CheckStopped:
			cs.Status, cs.Waiting = CheckOpen, why
		}
	}
}

// bringUpAgain opens every pass in which a fastener that was let go is brought up, and the check rounds behind them as
// a whole. Of a pass that was gone through more than once the last time is opened.
func (f *folder) bringUpAgain(position int, affected plan.Affected) {
	undone := f.undoneIn(position)
	for _, planned := range affected.Passes {
		i := f.lastOf(planned)
		if f.s.Passes[i].Void != "" || i < undone {
			continue
		}
		if f.s.Passes[i].Kind == plan.CheckPass {
			clear(f.marks[i])
			delete(f.byLeave, i+1)
			continue
		}
		if f.has(i, position) {
			f.marks[i][position-1] = MarkNone
			f.leaveAsked(i, position)
		}
	}
	f.forget(position)
}

// undoneIn is the last pass in which a fastener was let go on purpose, −1 for none: what came before it is past.
func (f *folder) undoneIn(position int) int {
	for i := len(f.s.Passes) - 1; i >= 0; i-- {
		if f.s.Passes[i].Kind == plan.UndoPass && f.has(i, position) && f.marks[i][position-1].closed() {
			return i
		}
	}
	return -1
}

// leaveAsked withdraws the leave to end a pass with fasteners open when one more has come open since.
func (f *folder) leaveAsked(i, position int) {
	if left, by := f.left[i+1], f.byLeave[i+1]; by && !slices.Contains(left, position) {
		delete(f.byLeave, i+1)
	}
}

// forget takes back what a fastener had come to.
func (f *folder) forget(position int) {
	pos := position - 1
	f.torque[pos], f.degrees[pos], f.measured[pos], f.suspect[pos], f.touched[pos] = 0, 0, false, false, nil
	for j := range f.s.Deviations {
		if d := &f.s.Deviations[j]; d.Status == DeviationOpen && d.Fastener == position {
			d.Status = DeviationLoosened
		}
	}
}

// lastOf is the last time that a pass of the plan was or is gone through.
func (f *folder) lastOf(planned int) int {
	for i := len(f.planned) - 1; i >= 0; i-- {
		if f.planned[i] == planned {
			return i
		}
	}
	return 0
}

// goAgain asks for passes of the plan once more, in their order, before the work goes on. Those that were begun and
// not ended are set aside; undone, all that were begun are, for nothing of them holds any more.
func (f *folder) goAgain(passes []int, undone bool, why string) {
	cur := f.current()
	at := cur
	var list []int
	for _, planned := range passes {
		begun := false
		for i := range f.planned {
			if f.planned[i] != planned || !f.begun(i) || f.s.Passes[i].Void != "" {
				continue
			}
			begun = begun || i == f.lastOf(planned)
			if undone || !f.complete(i) {
				f.s.Passes[i].Void = why
				if i == cur {
					at = cur + 1
				}
			}
		}
		if begun {
			list = append(list, planned)
		}
	}
	for _, planned := range list {
		f.insertPass(planned, at)
		at++
	}
	if len(list) > 0 {
		f.freshPass()
	}
}

// begun reports whether something was done in a pass.
func (f *folder) begun(i int) bool {
	return f.byLeave[i+1] || slices.ContainsFunc(f.marks[i], func(m Mark) bool { return m != MarkNone })
}

// insertPass puts a pass of the plan into the work once more, and lets what is kept by number follow.
func (f *folder) insertPass(planned, at int) {
	name := f.p.Passes[planned].Name + ", again"
	if f.p.Passes[planned].Kind == plan.CheckPass {
		name = fmt.Sprintf("round %d, 100 %%", f.repeats(planned)+1)
	}
	byLeave, left := map[int]bool{}, map[int][]int{}
	for n := range f.byLeave {
		to := n
		if n > at {
			to++
		}
		byLeave[to], left[to] = true, f.left[n]
	}
	f.byLeave, f.left = byLeave, left
	for j := range f.s.Deviations {
		if d := &f.s.Deviations[j]; d.Pass > at {
			d.Pass++
		}
	}
	for _, h := range f.hands {
		for _, k := range h.tools {
			if k.confirmed.pass > at {
				k.confirmed.pass = -1 // set for another pass
			}
		}
	}
	f.addPass(planned, at, name)
	f.set(at)
}

// changePart takes it that a part was taken out or changed: what rests on it is asked again. A part that each fastener
// has of its own concerns that one.
func (f *folder) changePart(e Event) {
	x, known := f.p.Part(e.Part)
	if !known {
		return
	}
	f.void()
	affected, _ := f.p.ChangedPart(e.Part)
	what := x.Name + " changed"
	if e.Answer == Refitted {
		what = x.Name + " taken out and put back"
	}
	if x.PerBolt {
		what = f.Name(e.Fastener) + ": " + strings.ToLower(what)
	}
	f.letGo(e)
	f.raise(&partChangedRule, e, working.Facts{"what": what, "reason": e.Reason})
	if x.PerBolt {
		loosened := f.p.LoosenedIn(f.p.GroupAt(e.Fastener).Code)
		f.bringUpAgain(e.Fastener, loosened)
		affected.Checks = append(affected.Checks, loosened.Checks...)
	} else {
		for _, planned := range affected.Passes {
			for _, position := range f.p.Passes[planned].Order {
				f.forget(position)
			}
		}
		f.goAgain(affected.Passes, true, what)
	}
	f.lookAgain(affected.Checks, what+": look at it again.")
}

// letGo takes what is said to be so before a fastener is let go, and tells what was not said.
func (f *folder) letGo(e Event) {
	f.s.LoosenGate = slices.DeleteFunc(slices.Clone(f.s.LoosenGate), func(g string) bool {
		return slices.Contains(e.Items, g)
	})
	if len(f.s.LoosenGate) > 0 {
		x := working.Facts{"gates": strings.ToLower(strings.Join(f.s.LoosenGate, "; "))}
		if e.Fastener == 0 {
			x["fastener"], x["Fastener"] = "the joint", "The joint"
		}
		f.raise(&letGoTooSoonRule, e, x)
		f.s.LoosenGate = nil // told once
	}
}

// replaceFastener takes it that a fastener was changed: the new one comes up through every pass.
func (f *folder) replaceFastener(i int, e Event) {
	affected := f.p.LoosenedIn(f.p.GroupAt(e.Fastener).Code)
	for j := range f.s.Deviations { // what was wrong went with the old one
		if d := &f.s.Deviations[j]; d.Fastener == e.Fastener && d.Status == DeviationOpen && reworked[d.Code] {
			d.Status = DeviationLoosened
		}
	}
	f.bringUpAgain(e.Fastener, affected)
	f.lookAgain(affected.Checks, f.Name(e.Fastener)+" was changed: look at it again.")
	f.raise(&replacedRule, e, working.Facts{"pass": fmt.Sprint(i + 1), "reason": e.Reason})
	f.pulled = true
	f.s.Announce = f.Name(e.Fastener) + " changed: bring it up again."
}

// broughtUp reports whether a fastener has been through every pass that it belongs to, check rounds aside.
func (f *folder) broughtUp(position int) bool {
	for i := range f.s.Passes {
		ps := &f.s.Passes[i]
		if ps.Void == "" && ps.Kind != plan.CheckPass && f.has(i, position) && !f.marks[i][position-1].closed() &&
			!slices.Contains(f.left[i+1], position) {
			return false
		}
	}
	return true
}

// notMet asks again for what a check that was not met calls into question, and for what rests on that.
func (f *folder) notMet(c procedure.Check) {
	affected := f.p.Reopened(c)
	affected.Checks = slices.DeleteFunc(affected.Checks, func(code string) bool { return code == c.Code })
	f.lookAgain(affected.Checks, c.Title+" was not met: look at it again.")
	f.goAgain(affected.Passes, false, c.Title+" was not met")
}

// later reports whether a check that was not met waits for work that it asked again.
func (f *folder) later(code string) bool {
	c, _ := f.check(code)
	if !f.reopens() || len(c.Reopens) == 0 || f.s.Pass == 0 {
		return false
	}
	return c.Station == procedure.Prove || c.Station == procedure.Tighten && !slices.Contains(f.s.Gates, code)
}

// Again is what the next event would ask for again, in words.
type Again struct {
	Passes []string `json:"passes"`
	Checks []string `json:"checks"`
}

// AsksAgain tells what was done before an event and is to be done again after it.
func AsksAgain(p *plan.Plan, before, after *State) Again {
	a := Again{Passes: []string{}, Checks: []string{}}
	for i, c := range before.Checks {
		if c.Status.Settled() && !after.Checks[i].Status.Settled() {
			x, _ := p.Check(c.Code)
			a.Checks = append(a.Checks, x.Title)
		}
	}
	shift := 0 // passes put in before the present one move the later ones
	for _, ps := range before.Passes {
		for i := ps.Number - 1 + shift; i < len(after.Passes); i++ {
			if now := after.Passes[i]; now.Name == ps.Name && now.Step == ps.Step && now.Group == ps.Group {
				shift = i - ps.Number + 1
				if now.Open > ps.Open {
					a.Passes = append(a.Passes, openWords(now))
				}
				break
			}
		}
	}
	for _, now := range after.Passes {
		if !slices.ContainsFunc(before.Passes, func(ps PassState) bool {
			return ps.Name == now.Name && ps.Step == now.Step && ps.Group == now.Group
		}) {
			a.Passes = append(a.Passes, openWords(now))
		}
	}
	return a
}

// openWords names a pass with what is open in it.
func openWords(ps PassState) string {
	text := fmt.Sprintf("Pass %d, %s", ps.Number, ps.Name)
	if ps.GroupName != "" {
		text += " (" + strings.ToLower(ps.GroupName) + ")"
	}
	return fmt.Sprintf("%s: %d of %d", text, ps.Open, ps.Of)
}
