package run

import (
	"fmt"
	"slices"
	"time"

	"dynacor/core/plan"
	"dynacor/core/working"
)

// folder carries what Fold needs between events; State is what it leaves.
type folder struct {
	p        *plan.Plan
	s        *State
	now      time.Time
	marks    [][]Mark // by pass, by position
	byLeave  map[int]bool
	degrees  []float64
	torque   []float64
	measured []bool
	suspect  []bool
	hands    []*hand
	lastKept *Kept
	pulled   bool
}

// Fold gives the state after the events, in their order. now is the time of looking: a long silence asks for the setting again.
func Fold(p *plan.Plan, events []Event, now time.Time) *State {
	n := p.Specification.Bolts
	f := &folder{p: p, now: now, byLeave: map[int]bool{}, degrees: make([]float64, n), torque: make([]float64, n), measured: make([]bool, n), suspect: make([]bool, n), hands: hands(p),
		s: &State{Checks: []CheckState{}, Groups: []GroupState{}, Passes: []PassState{}, Fasteners: []FastenerState{}, Exceptions: []string{}, Blocked: []string{},
			Deviations: []Deviation{}, Findings: []working.Finding{}, Signatures: []Signature{}, OpenItems: []string{}, TakenBack: []string{}}}
	for _, c := range p.Checks {
		f.s.Checks = append(f.s.Checks, CheckState{Code: c.Code, Status: CheckOpen, Findings: []working.Finding{}, Attempts: []Attempt{}})
	}
	for _, ps := range p.Passes {
		f.addPass(ps)
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
		f.at(e)
	}
	f.finish()
	return f.s
}

// at notes when a hand was last heard of; what belongs to no hand keeps them all awake.
func (f *folder) at(e Event) {
	for _, h := range f.hands {
		if h == f.hand(e) || e.Kind != Pulled && e.Kind != SettingConfirmed {
			h.lastAt = e.At
		}
	}
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

func (f *folder) unit() string { return string(f.driver(f.hands[0]).Unit) }

// again adds a check round after the last one.
func (f *folder) again() {
	last := f.p.Passes[len(f.p.Passes)-1]
	last.Name = fmt.Sprintf("round %d, 100 %%", len(f.s.Passes)-len(f.p.Passes)+2)
	f.addPass(last)
	if f.hands[0].settings != nil {
		f.set(len(f.s.Passes) - 1)
	}
}

// set puts the present wrench's setting on a pass that has not ended.
func (f *folder) set(i int) {
	ps := &f.s.Passes[i]
	ps.Setting = f.hands[0].setting(i)
	ps.Unit = f.unit()
	ps.TorqueNm = f.inHand(f.hands[0]).NmAt(ps.Setting)
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

// freshPass lets every hand begin at the start of its order.
func (f *folder) freshPass() {
	for _, h := range f.hands {
		h.prev = 0
	}
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
		for _, h := range f.hands {
			h.stopped = "Work was stopped. Look at the joint and the lubricant, then set the wrench again."
		}
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
