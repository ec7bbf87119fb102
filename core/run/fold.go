package run

import (
	"fmt"
	"math"
	"slices"
	"time"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// folder carries what Fold needs between events; State is what it leaves.
type folder struct {
	p         *plan.Plan
	s         *State
	now       time.Time
	marks     [][]Mark // by pass, by position
	byLeave   map[int]bool
	degrees   []float64
	torque    []float64
	measured  []bool
	suspect   []bool
	settings  []float64
	problems  []tool.Problem
	confirmed struct {
		pass           int
		wrench, person string
	}
	lastPerson   string
	lastPersonID string
	lastAt       time.Time
	pulled       bool
	paused       bool
}

// Fold gives the state after the events, in their order. now is the time of looking: a long silence asks for the setting again.
func Fold(p *plan.Plan, events []Event, now time.Time) *State {
	n := p.Specification.Bolts
	f := &folder{p: p, now: now, byLeave: map[int]bool{}, degrees: make([]float64, n), torque: make([]float64, n), measured: make([]bool, n), suspect: make([]bool, n),
		s: &State{Checks: []CheckState{}, Groups: []GroupState{}, Passes: []PassState{}, Fasteners: []FastenerState{}, Exceptions: []string{}, Blocked: []string{},
			Deviations: []Deviation{}, Findings: []working.Finding{}, Signatures: []Signature{}, OpenItems: []string{}, TakenBack: []string{}}}
	for _, c := range p.Checks {
		f.s.Checks = append(f.s.Checks, CheckState{Code: c.Code, Status: CheckOpen, Findings: []working.Finding{}, Attempts: []Attempt{}})
	}
	for _, ps := range p.Passes {
		f.addPass(ps)
	}
	if p.Wrench != nil {
		f.settings, _ = p.Settings(*p.Wrench)
	}
	dropped := takenBack(events)
	for _, e := range events {
		if dropped[e.ID] {
			f.s.TakenBack = append(f.s.TakenBack, e.ID)
			continue
		}
		f.s.Findings = []working.Finding{}
		f.s.Announce = ""
		f.apply(e)
		f.lastAt = e.At
	}
	f.finish()
	return f.s
}

// takenBack finds the events that do not count. Signatures and take-backs themselves stand.
func takenBack(events []Event) map[string]bool {
	kinds := map[string]Kind{}
	dropped := map[string]bool{}
	for _, e := range events {
		kinds[e.ID] = e.Kind
		if e.Kind == TakenBack && kinds[e.Ref] != Signed && kinds[e.Ref] != TakenBack {
			dropped[e.Ref] = true
		}
	}
	return dropped
}

func (f *folder) addPass(ps plan.Pass) {
	f.s.Passes = append(f.s.Passes, PassState{Number: len(f.s.Passes) + 1, Kind: string(ps.Kind), Name: ps.Name, Percent: ps.Percent, TorqueNm: ps.TorqueNm, Setting: ps.Setting,
		Unit: f.unit(), Order: ps.Order, People: []string{}, Wrenches: []string{}, NotRight: []string{}})
	f.marks = append(f.marks, make([]Mark, f.p.Specification.Bolts))
}

func (f *folder) unit() string {
	if f.s.Wrench != nil {
		return string(f.s.Wrench.Unit)
	}
	if f.p.Wrench != nil {
		return string(f.p.Wrench.Unit)
	}
	return string(quantity.NewtonMetre)
}

// again adds a check round after the last one.
func (f *folder) again() {
	last := f.p.Passes[len(f.p.Passes)-1]
	last.Name = fmt.Sprintf("round %d, 100 %%", len(f.s.Passes)-len(f.p.Passes)+2)
	f.addPass(last)
	if f.settings != nil {
		f.set(len(f.s.Passes) - 1)
	}
}

// set puts the present wrench's setting on a pass that has not ended.
func (f *folder) set(i int) {
	ps := &f.s.Passes[i]
	ps.Setting = f.settings[min(i, len(f.settings)-1)]
	ps.Unit = f.unit()
	ps.TorqueNm = float64(quantity.TorqueOf(ps.Setting, quantity.Unit(ps.Unit)))
}

// current is the index of the first pass that is not complete, or len(passes).
func (f *folder) current() int {
	for i := range f.s.Passes {
		if !f.complete(i) {
			return i
		}
	}
	return len(f.s.Passes)
}

func (f *folder) complete(i int) bool {
	return f.byLeave[i+1] || !slices.ContainsFunc(f.marks[i], func(m Mark) bool { return !m.closed() })
}

func (f *folder) find(sev working.Severity, code, what, why, remedy string) {
	f.s.Findings = append(f.s.Findings, working.Finding{Severity: sev, Code: code, What: what, Why: why, Remedy: remedy})
}

func (f *folder) deviate(e Event, code, what, why, remedy, status string) {
	f.s.Deviations = append(f.s.Deviations, Deviation{ID: e.ID, Code: code, What: what, Why: why, Remedy: remedy, At: e.At, By: e.Person.Name, Status: status, Fastener: e.Fastener, Pass: min(f.current(), len(f.s.Passes)-1) + 1})
}

func (f *folder) number(position int) int { return f.p.Chalk[position-1] }

func (f *folder) apply(e Event) {
	switch e.Kind {
	case ReadConfirmed:
		if f.s.ReadAt == nil {
			at := e.At
			f.s.ReadAt, f.s.ReadBy = &at, e.Person.Name
		}
	case CheckAnswered:
		f.answer(e)
	case WrenchTaken:
		f.take(e)
	case SettingConfirmed:
		f.confirm(e)
	case Pulled:
		f.pull(e)
	case Skipped:
		f.skip(e)
	case Loosened:
		f.loosen(e)
	case Paused:
		f.paused = true
	case Held:
		f.s.HeldBy = fmt.Sprintf("Stopped by %s, %s: %s", e.Person.Name, e.At.Format("15:04"), e.Reason)
	case Released:
		f.s.HeldBy = ""
	case DeviationRaised:
		what := e.Reason
		if c, ok := f.check(e.Check); ok {
			what = c.Title + ": " + e.Reason
		}
		f.s.Deviations = append(f.s.Deviations, Deviation{ID: e.ID, Code: "raised:" + e.Check, What: what, At: e.At, By: e.Person.Name, Status: "open", Remedy: "Put it right, or have it accepted by an engineer or inspector."})
	case Signed:
		f.sign(e)
	}
}

// take puts a wrench in hand and judges it for the passes to come.
func (f *folder) take(e Event) {
	w := *e.Wrench
	settings, problems := f.p.Fit(w, f.current(), e.At)
	f.s.Wrench, f.problems = &w, problems
	if settings != nil {
		f.settings = settings
		for i := f.current(); i < len(f.s.Passes); i++ {
			f.set(i)
		}
	}
	for _, pr := range problems {
		f.find(working.Stop, "wrench_"+pr.Code, pr.What+".", "", pr.Remedy)
	}
	for i := range f.s.Checks {
		if c, ok := f.check(f.s.Checks[i].Code); ok && c.Kind == procedure.Wrench {
			text := w.Tag + ", " + quantity.Text(w.RatedMin) + " to " + quantity.Text(w.RatedMax) + " " + w.Unit.Symbol() + ", calibrated to " + string(w.CalibrationEnds)
			f.attempt(i, e, text, len(problems) == 0)
		}
		if c, ok := f.check(f.s.Checks[i].Code); ok && c.Code == "function_check" && f.pulled {
			f.find(working.Caution, "try_wrench", "Try "+w.Tag+" five times at a low setting before it is used.", "The mechanism sticks after lying.", "")
		}
	}
}

func (f *folder) confirm(e Event) {
	i := f.current()
	if i == len(f.s.Passes) {
		return
	}
	want := f.s.Passes[i].Setting
	if off := e.Setting - want; math.Abs(off) > f.graduation()/2+1e-9 {
		f.find(working.Stop, "wrong_setting", fmt.Sprintf("Set %s, the plan says %s.", quantity.Text(e.Setting), quantity.Text(want)), "The number on the wrench is the torque at the nut.", "Set it again, lock, and try the grip.")
		return
	}
	f.confirmed.pass, f.confirmed.person, f.confirmed.wrench = i+1, e.Person.ID, f.wrenchTag()
	f.lastPerson, f.lastPersonID, f.paused = e.Person.Name, e.Person.ID, false
}

func (f *folder) wrenchTag() string {
	if f.s.Wrench != nil {
		return f.s.Wrench.Tag
	}
	return ""
}

func (f *folder) graduation() float64 {
	if f.s.Wrench != nil {
		return f.s.Wrench.Graduation
	}
	if f.p.Wrench != nil {
		return f.p.Wrench.Graduation
	}
	return 1
}

// mustConfirm says why the setting is to be confirmed before the next pull, "" when it stands. person "" leaves the person out.
func (f *folder) mustConfirm(pass int, person string, at time.Time) string {
	c := f.confirmed
	switch {
	case c.pass == 0:
		return "Set the wrench for the first pass."
	case c.wrench != f.wrenchTag():
		return f.wrenchTag() + " is another wrench: set it and try it."
	case c.pass != pass:
		return fmt.Sprintf("Pass %d begins: set the wrench.", pass)
	case f.paused:
		return "Work was stopped. Look at the joint and the lubricant, then set the wrench again."
	case person != "" && c.person != person:
		last := ""
		if f.s.LastKept != nil {
			last = fmt.Sprintf(" Last done: bolt %d in pass %d.", f.s.LastKept.Number, pass)
		}
		return "Other hands than " + f.lastPerson + "'s:" + last + " Look at the joint and confirm the setting."
	case !f.lastAt.IsZero() && at.Sub(f.lastAt) > time.Duration(f.p.HouseRules.PauseMinutes*float64(time.Minute)):
		return fmt.Sprintf("Nothing was recorded for %s. Look at the joint and the lubricant, then confirm the setting.", span(at.Sub(f.lastAt)))
	}
	return ""
}

func span(d time.Duration) string {
	switch {
	case d < 2*time.Hour:
		return fmt.Sprintf("%d min", int(d.Minutes()))
	case d < 48*time.Hour:
		return fmt.Sprintf("%d h", int(d.Hours()))
	}
	return fmt.Sprintf("%d days", int(d.Hours()/24))
}

// pull judges one pull against the plan and then takes it as the fact it is.
func (f *folder) pull(e Event) {
	i := f.current()
	if e.Fastener < 1 || e.Fastener > len(f.torque) {
		f.find(working.Stop, "no_such_fastener", fmt.Sprintf("There is no bolt %d on this joint.", e.Fastener), "", "Take it back.")
		return
	}
	if i == len(f.s.Passes) {
		f.find(working.Caution, "after_last_pass", fmt.Sprintf("Bolt %d was pulled after the last pass.", f.number(e.Fastener)), "The work was complete.", "Go to Prove, or go round once more.")
		f.deviate(e, "after_last_pass", fmt.Sprintf("Bolt %d pulled after the last pass", f.number(e.Fastener)), "", "", "noted")
		return
	}
	if e.Pass < i+1 {
		n := f.number(e.Fastener)
		f.find(working.Caution, "wrong_stage", fmt.Sprintf("Bolt %d was pulled at pass %d; the joint is in pass %d.", n, e.Pass, i+1), "A lower setting clicks without adding anything.", "Set the wrench for this pass and pull it again.")
		f.deviate(e, "wrong_stage", fmt.Sprintf("Bolt %d pulled once more at pass %d during pass %d", n, e.Pass, i+1), "", "", "noted")
		return
	}
	f.void()
	mark := f.judgePull(e, i)
	ps := &f.s.Passes[i]
	note(ps, e, f.wrenchTag())
	pos := e.Fastener - 1
	f.marks[i][pos] = mark
	f.measured[pos] = e.Reading != nil
	f.torque[pos] = float64(quantity.TorqueOf(e.Setting, quantity.Unit(ps.Unit)))
	if e.Reading != nil {
		f.torque[pos] = e.Reading.SI
	}
	f.degrees[pos] = e.TurnedDeg
	if mark.closed() {
		f.rework(e.Fastener, e.Outcome == Replaced)
	}
	if e.Outcome == Replaced {
		f.deviate(e, "replaced", fmt.Sprintf("Bolt %d replaced and brought up again in pass %d", f.number(e.Fastener), i+1), e.Reason, "", "noted")
	}
	f.pulled, f.s.Prev = true, e.Fastener
	f.lastPerson, f.lastPersonID = e.Person.Name, e.Person.ID
	f.s.LastKept = &Kept{EventID: e.ID, Fastener: e.Fastener, Number: f.number(e.Fastener), At: e.At, Text: outcomeText(mark, e, quantity.Unit(ps.Unit))}
	f.s.Announce = fmt.Sprintf("Bolt %d kept.", f.number(e.Fastener))
	if f.complete(i) {
		f.s.Prev = 0
		if i == len(f.s.Passes)-1 && slices.Contains(f.marks[i], MarkMoved) {
			f.again()
			if rounds := len(f.s.Passes) - len(f.p.Passes); rounds >= f.p.HouseRules.MaxCheckPasses {
				f.find(working.Stop, "check_escalate", fmt.Sprintf("Nuts still turn after %d rounds.", rounds), "The gasket may be yielding, or the lubricant is not what was assumed.", "Stop and ask the engineer.")
				f.deviate(e, "check_escalate", fmt.Sprintf("Nuts still turn after %d check rounds", rounds), "", "An engineer decides how to go on.", "open")
			}
		}
	}
}

func outcomeText(m Mark, e Event, u quantity.Unit) string {
	at := quantity.Text(e.Setting) + " " + u.Symbol()
	if e.Reading != nil {
		at = e.Reading.Text
	}
	switch m {
	case MarkShort:
		return "short at " + at
	case MarkOver:
		return "over at " + at
	case MarkMoved, MarkMovedOK:
		if e.TurnedDeg > 0 {
			return "turned " + quantity.Text(e.TurnedDeg) + "°"
		}
		return "turned"
	}
	if e.Moved != nil && !*e.Moved {
		return "stayed at " + at
	}
	return "clicked at " + at
}

// judgePull finds what is out with a pull and gives the mark it leaves.
func (f *folder) judgePull(e Event, i int) Mark {
	ps, n := f.s.Passes[i], f.number(e.Fastener)
	if !f.ready() {
		f.find(working.Stop, "not_ready", "The joint was not ready.", "Checks or holds before the first pull are open.", "Stop. Clear what is open in Ready.")
		f.deviate(e, "not_ready", fmt.Sprintf("Bolt %d pulled in pass %d before everything in Ready was cleared", n, i+1), "", "An engineer or inspector decides.", "open")
	}
	if f.s.HeldBy != "" {
		f.find(working.Stop, "held", "The joint is stopped.", f.s.HeldBy, "Lift the stop first.")
		f.deviate(e, "held", fmt.Sprintf("Bolt %d pulled in pass %d while the joint was stopped", n, i+1), f.s.HeldBy, "An engineer or inspector decides.", "open")
	}
	if why := f.mustConfirm(i+1, e.Person.ID, e.At); why != "" {
		f.find(working.Caution, "not_confirmed", "The setting was not confirmed.", why, "Confirm the setting; pull the bolt again if it was wrong.")
		f.deviate(e, "not_confirmed", fmt.Sprintf("Bolt %d pulled in pass %d without a confirmed setting", n, i+1), why, "", "noted")
	}
	for _, pr := range f.problems {
		f.find(working.Stop, "wrench_"+pr.Code, pr.What+".", "", pr.Remedy)
		f.deviate(e, "wrench_"+pr.Code, fmt.Sprintf("Bolt %d, pass %d: %s", n, i+1, pr.What), "", "Check the bolt with a wrench that is fit, or have it accepted.", "open")
	}
	if e.Pass > i+1 {
		f.find(working.Stop, "wrong_stage", fmt.Sprintf("Bolt %d was pulled at pass %d; the joint is in pass %d.", n, e.Pass, i+1), "One bolt ahead of its stage cocks the faces and crushes the gasket there.", "Loosen it and bring it up with the others.")
		f.deviate(e, "wrong_stage", fmt.Sprintf("Bolt %d pulled at the setting of pass %d during pass %d", n, e.Pass, i+1), "", "Loosen it and bring it up with the others, or have it accepted.", "open")
		return MarkOver
	}
	if want := f.expected(i); want != 0 && want != e.Fastener {
		if f.marks[i][e.Fastener-1].closed() {
			f.find(working.Caution, "repeated", fmt.Sprintf("Bolt %d was done already in this pass.", n), "A second click without movement only tells that it is at the setting or above.", fmt.Sprintf("Next is bolt %d.", f.number(want)))
			f.deviate(e, "repeated", fmt.Sprintf("Bolt %d pulled twice in pass %d", n, i+1), "", "", "noted")
		} else {
			f.find(working.Caution, "out_of_order", fmt.Sprintf("%d is next. You are on %d.", f.number(want), n), ps.orderWhy(), fmt.Sprintf("Go back to %d, or carry on from %d: the bolts passed over come at the end of this pass.", f.number(want), n))
			f.deviate(e, "out_of_order", fmt.Sprintf("Bolt %d pulled before %d in pass %d", n, f.number(want), i+1), "", "", "noted")
		}
	}
	if off := e.Setting - ps.Setting; math.Abs(off) > f.graduation()/2+1e-9 {
		u := quantity.Unit(ps.Unit).Symbol()
		f.find(working.Stop, "wrong_setting", fmt.Sprintf("The wrench was set to %s, the plan says %s %s.", quantity.Text(e.Setting), quantity.Text(ps.Setting), u), "The setting is the torque at the nut.", "Set it right. A bolt that is over is loosened and brought up again; one that is short is pulled again.")
		if off > 0 {
			f.deviate(e, "wrong_setting", fmt.Sprintf("Bolt %d pulled at %s instead of %s %s in pass %d", n, quantity.Text(e.Setting), quantity.Text(ps.Setting), u, i+1), "", "Loosen and repeat, replace, or have it accepted.", "open")
			return MarkOver
		}
		return MarkShort
	}
	switch e.Outcome {
	case Short:
		f.find(working.Caution, "short", fmt.Sprintf("Bolt %d stopped short.", n), "It holds less than its neighbours.", "Pull it again before the pass ends.")
		return MarkShort
	case Over:
		f.find(working.Stop, "over", fmt.Sprintf("Bolt %d was pulled past the click.", n), "It may hold more than the plan, or be stretched.", "Loosen it and bring it up again, replace it, or have it accepted by an engineer.")
		f.deviate(e, "over", fmt.Sprintf("Bolt %d pulled past the click in pass %d", n, i+1), "", "Loosen and repeat, replace, or have it accepted.", "open")
		return MarkOver
	case ClickedStill:
		if ps.Kind == string(plan.StagePass) && i == 0 {
			f.suspect[e.Fastener-1] = true
			f.find(working.Caution, "clicked_still", fmt.Sprintf("Bolt %d clicked without turning in its first pass.", n), "It may be seized, cross-threaded or already tight: the click says only 'at the setting or above'.", "Loosen it, run the nut by hand, and pull it again.")
			f.deviate(e, "clicked_still", fmt.Sprintf("Bolt %d clicked without turning in its first pass", n), "", "Loosen it, run the nut by hand, and pull it again, or have it accepted.", "open")
			return MarkDone
		}
	case Clicked:
		f.suspect[e.Fastener-1] = false
	}
	if ps.Kind == string(plan.CheckPass) && e.Moved != nil && *e.Moved {
		limit := f.movedLimit()
		if e.TurnedDeg > 0 && e.TurnedDeg <= limit {
			return MarkMovedOK
		}
		may := "It may not turn at all"
		if limit > 0 {
			may = "It may turn " + quantity.Text(limit) + "°"
		}
		f.find(working.Info, "moved", fmt.Sprintf("Nut %d still turned.", n), may+": its neighbours took load from it.", "Finish the round; then go round again until none turns.")
		return MarkMoved
	}
	return MarkDone
}

func (f *folder) movedLimit() float64 {
	if f.p.Specification.MovedLimitDeg > 0 {
		return f.p.Specification.MovedLimitDeg
	}
	return f.p.HouseRules.MovedLimitDeg
}

func (ps PassState) orderWhy() string {
	if ps.Kind == string(plan.CheckPass) {
		return "A check round goes from bolt to bolt, so that none is forgotten."
	}
	return "Opposite bolts in turn keep the faces parallel."
}

// rework closes the deviations of a bolt that was put right by pulling it properly.
func (f *folder) rework(position int, replaced bool) {
	needs := map[string]bool{"over": true, "wrong_setting": true, "wrong_stage": true, "clicked_still": true}
	for i := range f.s.Deviations {
		d := &f.s.Deviations[i]
		if d.Status == "loosened" && needs[d.Code] && d.Fastener == position || replaced && d.Status == "open" && needs[d.Code] && d.Fastener == position {
			d.Status, d.Closed = "reworked", "loosened and brought up again"
			if replaced {
				d.Closed = "replaced and brought up again"
			}
		}
	}
}

// loosen lets a bolt go: its mark in this pass is open again.
func (f *folder) loosen(e Event) {
	if e.Fastener < 1 || e.Fastener > len(f.torque) {
		return
	}
	f.void()
	i := min(f.current(), len(f.s.Passes)-1)
	for j := range f.s.Passes {
		if f.marks[j][e.Fastener-1] == MarkOver {
			i = j
		}
	}
	f.marks[i][e.Fastener-1] = MarkNone
	f.torque[e.Fastener-1], f.suspect[e.Fastener-1] = 0, false
	f.s.Passes[i].NotRight = append(f.s.Passes[i].NotRight, fmt.Sprintf("bolt %d loosened: %s", f.number(e.Fastener), e.Reason))
	for j := range f.s.Deviations {
		if d := &f.s.Deviations[j]; d.Status == "open" && d.Fastener == e.Fastener {
			d.Status = "loosened"
		}
	}
}

func (f *folder) skip(e Event) {
	i := f.current()
	if i == len(f.s.Passes) || e.Fastener < 1 || e.Fastener > len(f.torque) || f.marks[i][e.Fastener-1].closed() {
		return
	}
	f.marks[i][e.Fastener-1] = MarkSkipped
	f.s.Prev = e.Fastener
	f.s.Passes[i].NotRight = append(f.s.Passes[i].NotRight, fmt.Sprintf("bolt %d left for later: %s", f.number(e.Fastener), e.Reason))
	f.find(working.Caution, "skipped", fmt.Sprintf("Bolt %d is left for later in this pass.", f.number(e.Fastener)), "The pass does not end while a bolt is open.", "Come back to it before the pass ends; an engineer may let the next pass begin without it.")
	f.s.Announce = fmt.Sprintf("Bolt %d left for later.", f.number(e.Fastener))
}

func note(ps *PassState, e Event, wrench string) {
	at := e.At
	if ps.From == nil {
		ps.From = &at
	}
	ps.To = &at
	if !slices.Contains(ps.People, e.Person.Name) {
		ps.People = append(ps.People, e.Person.Name)
	}
	if wrench != "" && !slices.Contains(ps.Wrenches, wrench) {
		ps.Wrenches = append(ps.Wrenches, wrench)
	}
}

// void drops the closing signatures: the work went on after them.
func (f *folder) void() {
	f.s.Signatures = slices.DeleteFunc(f.s.Signatures, func(s Signature) bool { return s.Purpose == SignTightened || s.Purpose == SignProved })
}

// expected is the position whose turn it is in pass i: the first untouched one after the last visited in this pass's order, then
// those left for later, then those that came out short or over.
func (f *folder) expected(i int) int {
	order := f.s.Passes[i].Order
	at := slices.Index(order, f.s.Prev)
	turned := append(slices.Clone(order[at+1:]), order[:at+1]...)
	for _, want := range [][]Mark{{MarkNone}, {MarkSkipped}, {MarkShort, MarkOver}} {
		for _, pos := range turned {
			if slices.Contains(want, f.marks[i][pos-1]) {
				return pos
			}
		}
	}
	return 0
}

func (f *folder) presentWrench() *tool.Wrench {
	if f.s.Wrench != nil {
		return f.s.Wrench
	}
	return f.p.Wrench
}
