package run

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"dynacor/core/authority"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// folder carries what is needed between events; State is what it leaves.
type folder struct {
	p        *plan.Plan
	places   map[string]int // of the checks in the state, by code
	states   []int          // by check of the plan: its place in the state
	s        *State
	now      time.Time
	silent   bool          // only how it stands is asked for, not in words
	planned  []int         // by pass: which pass of the plan it is, or repeats
	marks    [][]Mark      // by pass, by position
	byLeave  map[int]bool  // passes ended by leave, by number
	left     map[int][]int // the positions that were open when they were
	degrees  []float64
	torque   []quantity.Torque
	measured []bool
	suspect  []bool
	cut      []int      // by position: number of the pass in which it was cut off, 0 for none
	letGoAt  []string   // by position: what it took to let it go, as it was read
	touched  [][]string // by position: the tags of the tools that brought it up
	hands    []*hand
	lastKept *Kept
	pulled   bool
	latest   time.Time // latest time that an event told: none after it was earlier
}

// newFolder begins with every pass of the plan and no mark in it.
func newFolder(p *plan.Plan) *folder {
	n := p.Count()
	f := &folder{
		p:        p,
		places:   make(map[string]int, len(p.Checks)),
		byLeave:  map[int]bool{},
		left:     map[int][]int{},
		degrees:  make([]float64, n),
		torque:   make([]quantity.Torque, n),
		measured: make([]bool, n),
		suspect:  make([]bool, n),
		cut:      make([]int, n),
		letGoAt:  make([]string, n),
		touched:  make([][]string, n),
		hands:    hands(p),
		s: &State{Checks: []CheckState{}, Rows: []RowState{}, Passes: []PassState{}, Fasteners: []FastenerState{},
			Exceptions: []string{}, Blocked: []string{}, Gates: []string{},
			Deviations: []Deviation{}, Findings: []working.Finding{}, Signatures: []Signature{}, OpenItems: []string{},
			TakenBack: []string{}},
	}
	for _, c := range p.Checks {
		if _, twice := f.places[c.Code]; !twice {
			f.places[c.Code] = len(f.s.Checks)
		}
		f.states = append(f.states, f.places[c.Code])
		f.s.Checks = append(f.s.Checks, CheckState{Code: c.Code, Status: CheckOpen, Findings: []working.Finding{},
			Attempts: []Attempt{}})
	}
	if f.reopens() {
		f.s.LoosenGate = slices.Clone(p.LoosenGate)
	}
	for i := range p.Passes {
		f.addPass(i, len(f.s.Passes), "")
	}
	return f
}

// at notes when a hand was last heard of; what belongs to no hand keeps them all awake.
func (f *folder) at(e Event) {
	for _, h := range f.hands {
		if h == f.hand(e) || e.Kind != Pulled && e.Kind != SettingConfirmed {
			h.lastAt = f.time(e)
		}
	}
}

// time is when an event came about in the order of the run. Where clocks disagree, a later event is no earlier than the
// ones before it, so that no clock shortens a wait.
func (f *folder) time(e Event) time.Time {
	if f.reopens() && f.latest.After(e.When()) {
		return f.latest
	}
	return e.When()
}

// addPass puts a pass of the plan into the work at a place, under another name when it is a repetition.
func (f *folder) addPass(planned, at int, name string) {
	ps := f.p.Passes[planned]
	if name == "" {
		name = ps.Name
	}
	g := f.p.GroupOf(ps.Group)
	st := PassState{Kind: ps.Kind, Name: name, Group: ps.Group, Step: ps.Step, Percent: ps.Percent,
		TorqueNm: ps.TorqueNm, Setting: ps.Setting, Order: ps.Order, Why: ps.Why, Until: ps.Until,
		Caution: ps.Caution, Opens: ps.Opens, TurnDeg: ps.TurnDeg, Datum: ps.Datum, LowNm: ps.LowNm, HighNm: ps.HighNm,
		LowMM: ps.LowMM, HighMM: ps.HighMM, Own: ps.Own, Of: len(ps.Order),
		People: []string{}, Wrenches: []string{}, NotRight: []string{}}
	if f.p.Several() {
		st.GroupName = g.GroupName
	}
	if ps.Kind == plan.CheckPass {
		st.MovedDeg = f.movedLimit(ps)
	}
	f.planned = slices.Insert(f.planned, at, planned)
	f.s.Passes = slices.Insert(f.s.Passes, at, st)
	f.marks = slices.Insert(f.marks, at, make([]Mark, f.p.Count()))
	for i := range f.s.Passes {
		f.s.Passes[i].Number = i + 1
	}
	if ps.Kind.Sets() {
		f.s.Passes[at].Unit = f.driver(f.hands[0], at).Unit
	}
}

// again adds a round of pass i behind it.
func (f *folder) again(i int) {
	first := slices.Index(f.planned, f.planned[i])
	round := 2
	for j := first + 1; j <= i; j++ {
		if f.planned[j] == f.planned[i] {
			round++
		}
	}
	name := fmt.Sprintf("round %d, 100 %%", round)
	if f.p.Passes[f.planned[i]].Kind != plan.CheckPass {
		name = fmt.Sprintf("%s, round %d", f.p.Passes[f.planned[i]].Name, round)
	}
	f.addPass(f.planned[i], i+1, name)
	f.set(i + 1)
}

// redo asks for a step, or the last round of check_pass, once more after what has been done: a check found it wanting.
func (f *folder) redo(step string) {
	at := len(f.s.Passes)
	var list []int
	for i := range f.p.Passes {
		if f.p.Passes[i].Step == step && step != "" || step == "check_pass" && f.p.Passes[i].Kind == plan.CheckPass {
			list = append(list, i)
		}
	}
	if step == "check_pass" && len(list) > 0 && !f.p.Several() {
		f.again(slices.Index(f.planned, list[len(list)-1]) + f.repeats(list[len(list)-1]) - 1)
		return
	}
	for _, i := range list {
		f.addPass(i, at, fmt.Sprintf("%s, again", f.p.Passes[i].Name))
		f.set(at)
		at++
	}
}

// repeats counts the rounds of a pass of the plan.
func (f *folder) repeats(planned int) int {
	n := 0
	for _, p := range f.planned {
		if p == planned {
			n++
		}
	}
	return n
}

// set puts the present setting of the first tool on a pass that has not ended.
func (f *folder) set(i int) {
	ps := &f.s.Passes[i]
	if !ps.Kind.Sets() {
		return
	}
	h := f.hands[0]
	s := f.inHand(h, i)
	if s == nil {
		return
	}
	ps.Setting = f.setting(h, i)
	ps.Unit = s.Driver().Unit
	ps.TorqueNm = s.TorqueAt(ps.Setting)
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
	if f.byLeave[i+1] || f.s.Passes[i].Void != "" {
		return true
	}
	for _, pos := range f.s.Passes[i].Order {
		if !f.marks[i][pos-1].closed() {
			return false
		}
	}
	return true
}

// has reports whether a position belongs to a pass.
func (f *folder) has(i, position int) bool { return slices.Contains(f.s.Passes[i].Order, position) }

// group of a pass; past the last one that of the last.
func (f *folder) group(i int) *plan.FastenerGroup {
	if len(f.s.Passes) == 0 {
		return f.p.First()
	}
	return f.p.GroupOf(f.s.Passes[min(i, len(f.s.Passes)-1)].Group)
}

func (f *folder) number(position int) int { return f.p.Chalk[position-1] }

func (f *folder) name(position int) string { return f.p.NameOf(position) }

// Name begins a sentence with it.
func (f *folder) Name(position int) string {
	n := f.name(position)
	return strings.ToUpper(n[:1]) + n[1:]
}

// label is the short form beside a drawing.
func (f *folder) label(position int) string {
	return f.p.GroupAt(position).Face + fmt.Sprint(f.number(position))
}

func (f *folder) apply(e Event) {
	if take := kinds[e.Kind].take; take != nil {
		take(f, e)
	}
}

func (f *folder) read(e Event) {
	if f.s.ReadAt == nil {
		at := e.When()
		f.s.ReadAt, f.s.ReadBy = &at, e.Person.Name
		f.s.Follows, f.s.FollowsWhy, f.s.Fresh = e.Ref, e.Reason, e.Note
	}
}

func (f *folder) pause(Event) {
	for _, h := range f.hands {
		h.stopped = "Work was stopped. Look at the joint and the lubricant, then set the wrench again."
	}
}

func (f *folder) stopBy(e Event) {
	f.s.StoppedBy = fmt.Sprintf("Stopped by %s, %s: %s", e.Person.Name, e.When().Format("15:04"), e.Reason)
	f.s.StoppedID = e.Person.ID
}

// lift ends a stop: by the one who called it, or by somebody who may lift another's. Plans of older programs let
// anybody.
func (f *folder) lift(e Event) {
	if f.s.StoppedBy != "" && f.saysWhoMay() && e.Person.ID != f.s.StoppedID && !e.Person.May(authority.LiftStop) {
		f.raise(&notLiftedRule, e, working.Facts{"by": f.s.StoppedBy})
		return
	}
	f.s.StoppedBy, f.s.StoppedID = "", ""
}

// saysWhoMay reports whether the plan is of a program that asks whose word something takes.
func (f *folder) saysWhoMay() bool {
	return slices.ContainsFunc(f.p.Checks, func(c procedure.Check) bool { return c.Waive != "" })
}

func (f *folder) raiseByHand(e Event) {
	what := e.Reason
	if c, ok := f.check(e.Check); ok {
		what = c.Title + ": " + e.Reason
	}
	f.raise(&raisedRule, e, working.Facts{"code": e.Check, "what": what})
	if c, ok := f.check(e.Check); ok && c.Signed() && f.reopens() {
		f.lookAgain([]string{e.Check}, "Something was raised about it: answer it and have it signed again.")
	}
}

// signedSince closes what was raised about a hold once it has been answered and signed again: nobody may accept that in
// its place.
func (f *folder) signedSince(e Event) {
	for i := range f.s.Deviations {
		d := &f.s.Deviations[i]
		if f.reopens() && d.Status == DeviationOpen && d.Code == Raised+working.Code(e.Check) {
			d.Status, d.Closed = DeviationReworked, "answered and signed again by "+e.Signer.Name
		}
	}
}

// gates are the checks that pass i waits for; past the last pass, those that Prove waits for.
func (f *folder) gates(i int) []procedure.Check {
	now := len(f.p.Passes) + 1
	if i < len(f.s.Passes) {
		now = f.planned[i] + 1
	}
	var out []procedure.Check
	for k := range f.p.Checks {
		c := &f.p.Checks[k]
		if c.Pass == 0 || c.Pass > now {
			continue
		}
		if !f.s.Checks[f.checkIndex(c.Code)].Status.Settled() {
			out = append(out, *c)
		}
	}
	return out
}

// handOutcome is what ends a visit that no tool is set for, "" for one with a tool.
func handOutcome(k plan.PassKind) Outcome {
	return map[plan.PassKind]Outcome{plan.HandPass: ByHand, plan.TurnPass: Turned, plan.ShapePass: Shaped,
		plan.EffortPass: Measured, plan.StretchPass: Measured, plan.LeavePass: LeftAlone, plan.UndoPass: Undone,
		plan.EasePass: Undone}[k]
}

// doneAt is the outcome that ends a visit in pass i.
func (f *folder) doneAt(h *hand, i int) Outcome {
	if o := handOutcome(f.s.Passes[i].Kind); o != "" {
		return o
	}
	if s := f.inHand(h, i); s != nil {
		return doneBy(*s)
	}
	return Clicked
}

// plain stands for a tool where there is none, so that words and units do not fail.
func plain() tool.Tool { return tool.Tool{Unit: "N_m", Graduation: 1} }
