// Package rehearsal leads a run as its plan asks, one event after another, the way careful hands would: for the demo
// site, and for tests. It judges nothing.
package rehearsal

import (
	"crypto/sha256"
	"fmt"
	"slices"
	"time"

	"dynacor/core/measure"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/tool"
)

// Script collects events, one every 20 seconds.
type Script struct {
	Plan   *plan.Plan
	Events []run.Event
	At     time.Time
	Person run.Person
	Turns  map[int]float64 // degrees by which a nut turns in the first check round, by its place
	crew   Crew
	n      int

	work    *run.Progress // of the events applied, on this plan
	on      *plan.Plan
	applied []string
	state   *run.State // as it was looked at last, nil when something was applied since
	looked  time.Time
}

// Crew are those who appear in a script.
type Crew struct {
	Hand      run.Person // does the work and signs for it
	Second    run.Person // signs holds
	Inspector run.Person // proves the joint
}

// New begins an empty run on a plan, with work from a time on.
func New(p *plan.Plan, at time.Time, crew Crew) *Script {
	return &Script{Plan: p, At: at, Person: crew.Hand, crew: crew}
}

// Add appends an event with the script's person and clock, and gives it back.
func (s *Script) Add(e run.Event) run.Event {
	s.n++
	s.At = s.At.Add(20 * time.Second)
	e.ID = fmt.Sprintf("0199aaaa-0000-7000-8000-%012d", s.n)
	e.At = s.At
	if e.Person.ID == "" {
		e.Person = s.Person
	}
	e.Items = s.madeSure(e)
	s.Events = append(s.Events, e)
	return e
}

// State is how the work stands after what was added so far. Events and plan must not be changed in place once they were
// looked at; identifiers may. What it gives is the same as long as nothing is added: it must not be changed either.
func (s *Script) State() *run.State {
	work := s.progress()
	if s.state == nil || !s.looked.Equal(s.At) {
		s.state, s.looked = work.State(s.At), s.At
	}
	return s.state
}

// progress goes on from what was applied before, unless another plan or other events have taken its place.
func (s *Script) progress() *run.Progress {
	same := s.work != nil && s.on == s.Plan && len(s.applied) <= len(s.Events)
	for i := 0; same && i < len(s.applied); i++ {
		same = s.applied[i] == s.Events[i].ID
	}
	if !same {
		s.work, s.on, s.applied, s.state = run.NewProgress(s.Plan), s.Plan, nil, nil
	}
	for _, e := range s.Events[len(s.applied):] {
		s.state = nil
		s.work.Apply(e)
		s.applied = append(s.applied, e.ID)
	}
	return s.work
}

// Judge gives the findings of an event that is not added.
func (s *Script) Judge(e run.Event) *run.State {
	e.At = s.At.Add(time.Second)
	if e.Person.ID == "" {
		e.Person = s.Person
	}
	e.Items = s.madeSure(e)
	return s.progress().With(e, e.At)
}

// Sign adds a signature by who.
func (s *Script) Sign(purpose run.Purpose, who run.Person, e run.Event) run.Event {
	e.Kind, e.Purpose, e.Signer = run.Signed, purpose, &who
	return s.Add(e)
}

// Answer gives the right answer to a check.
func (s *Script) Answer(c procedure.Check) {
	s.Add(s.Right(c))
	if c.Signed() {
		s.Sign(run.SignHold, s.crew.Second, run.Event{Check: c.Code})
	}
}

// Right is the event that answers a check as it should be.
func (s *Script) Right(c procedure.Check) run.Event {
	e := run.Event{Kind: run.CheckAnswered, Check: c.Code, Answer: "yes"}
	g := s.Plan.GroupOf(c.Fasteners)
	switch c.Kind {
	case procedure.Condition:
		e.Answer = "accept"
	case procedure.Lubricant:
		e.Answer, e.Product, e.Batch = g.Lubricant.Code, "tin 0418", "B7"
	case procedure.Parts:
		e.Parts = s.allParts()
	case procedure.Measure:
		e.Values = s.Good(c)
	case procedure.Match:
		e.Marks = alike(c)
	case procedure.Sequence:
		e.Items = c.Items
	case procedure.Clock:
		e.Values = []run.Reading{{Value: c.FromHour, SI: c.FromHour}}
	case procedure.Temporary:
		e.Answer = c.Want
	case procedure.Test:
		e.Method, e.Minutes = "TS-PT-07", 10
		v := 1.0
		if c.Low > 0 {
			v = c.Low * 1.01
		}
		e.Values = []run.Reading{{Value: v, Unit: quantity.Unit(c.Unit), SI: v}}
	case procedure.Fates:
		e.Parts = s.Sorted()
	case procedure.Responsible:
		e.Answer, e.Who = c.Ways[0], "J. Hartwell"
	case procedure.Wrench:
		e = run.Event{Kind: run.WrenchTaken, Check: c.Code, Group: g.Code, Wrench: g.Wrench, SetUp: g.SetUp}
	}
	if c.Photo {
		e.Photo, e.PhotoSHA256 = "0199bbbb-0000-7000-8000-000000000001", fmt.Sprintf("%x", sha256.Sum256(Picture()))
	}
	return e
}

// allParts is every part of the list, there and with its number.
func (s *Script) allParts() (list []run.PartFound) {
	for _, p := range s.Plan.Parts {
		f := run.PartFound{Code: p.Code, State: "present"}
		if p.Mark {
			f.Mark = "no. 7"
		}
		list = append(list, f)
	}
	return list
}

// Sorted is what becomes of every part that came out, as it should.
func (s *Script) Sorted() (list []run.PartFound) {
	for _, p := range s.Plan.Parts {
		f := run.PartFound{Code: p.Code, State: run.FateKept}
		switch p.Then {
		case procedure.ThenScrap:
			f.State = run.FateScrapped
		case procedure.ThenStays:
			f.State = run.FateStays
		case procedure.ThenMatch:
			f.Mark = "bag 7"
		}
		list = append(list, f)
	}
	return list
}

// letGo says with what a fastener is let go, and at what it did in the first round.
func (s *Script) letGo(e *run.Event) {
	e.Method = string(tool.Spanner)
	g := s.Plan.GroupAt(e.Fastener)
	if g.Loosening == nil || s.Plan.Passes[e.Pass-1].Stage > 0 {
		return
	}
	v, u := 0.8*float64(g.FinalNm), quantity.NewtonMetre
	if g.Loosening.Pressure > 0 {
		h, _ := g.SetUp.Of(tool.HydraulicWrench)
		e.Method, e.Tool = string(tool.HydraulicWrench), h.Tag
		v, u = 0.8*g.Loosening.WentOn, g.Loosening.Unit
	}
	v = quantity.Significant(v, 3)
	e.Reading = &run.Reading{Value: v, Unit: u, SI: v, Text: quantity.Text(v) + " " + u.Symbol()}
}

// alike are marks that agree.
func alike(c procedure.Check) (list []run.MarkFound) {
	for _, p := range c.Pairs {
		mark := p.Expect
		if mark == "" {
			mark = "K4"
		}
		list = append(list, run.MarkFound{Code: p.Code, A: mark, B: mark})
	}
	return list
}

// Good are readings inside the limits of a check.
func (s *Script) Good(c procedure.Check) []run.Reading {
	n := len(c.Names)
	if n == 0 {
		n = c.Stations[0]
	}
	v := make([]float64, n)
	for i := range v {
		switch c.Criterion {
		case measure.Spread:
			v[i] = []float64{3.10, 3.12, 3.08, 3.11}[i%4]
		case measure.Offset:
			v[i] = []float64{0.2, 0.1, 0, 0.1}[i%4]
		case measure.Maximum:
			v[i] = []float64{0.2, 0.1, 0, 0.1}[i%4] * min(1, c.Limit)
		case measure.Minimum, measure.Remain:
			v[i] = max(c.Low*1.1, 1)
		case measure.Window:
			v[i] = (c.Low + c.Limit) / 2
		case measure.Count:
			v[i] = c.Low
		case measure.Roundness, measure.Equal, measure.Information:
			v[i] = 12
		}
	}
	out := Readings(v...)
	for i := range out {
		out[i].Unit = quantity.Unit(c.Unit)
	}
	return out
}

// Readings makes lengths in mm.
func Readings(mm ...float64) []run.Reading {
	var out []run.Reading
	for _, v := range mm {
		out = append(out, run.Reading{Value: v, Unit: quantity.Millimetre, SI: v})
	}
	return out
}

// Ready confirms the reading and clears every check before the first pull.
func (s *Script) Ready() {
	s.Add(run.Event{Kind: run.ReadConfirmed})
	s.Checks(procedure.Ready)
}

// Checks answers every check of a stop.
func (s *Script) Checks(stop procedure.Station) {
	for _, c := range s.Plan.Checks {
		if c.Station == stop {
			s.Answer(c)
		}
	}
}

// Confirm confirms the setting, where it is asked for; a pressure is read twice.
func (s *Script) Confirm() {
	st := s.State()
	if st.Confirm == "" || st.Pass == 0 {
		return
	}
	e := run.Event{Kind: run.SettingConfirmed, Setting: st.Setting}
	if u := st.Passes[st.Pass-1].Unit; u.Kind() == quantity.KindPressure {
		e.Reading = &run.Reading{Value: st.Setting, Unit: u, Text: quantity.Text(st.Setting) + " " + u.Symbol()}
	}
	s.Add(e)
}

// Pull records the end of a pull on the next fastener as its pass asks for, clearing what the pass waits for and
// confirming the setting first.
func (s *Script) Pull() {
	s.Gates()
	s.Confirm()
	st := s.State()
	if st.Next == nil {
		return
	}
	ps := st.Passes[st.Pass-1]
	e := run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener, Outcome: st.Done}
	kind := ps.Kind
	if kind == plan.EasePass {
		s.letGo(&e)
	}
	if kind.Sets() {
		e.Setting, e.Clear = st.Setting, s.Plan.GroupAt(e.Fastener).Clear != ""
	}
	switch {
	case st.Done == run.Reached:
		u := ps.Unit
		e.Reading = &run.Reading{Value: st.Setting, Unit: u, Text: quantity.Text(st.Setting) + " " + u.Symbol()}
	case st.Done == run.Turned:
		e.TurnedDeg = ps.TurnDeg
	case kind == plan.EffortPass:
		v := (ps.LowNm + ps.HighNm) / 2
		e.Reading = &run.Reading{Value: v, Unit: quantity.NewtonMetre, SI: v, Text: quantity.Text(v) + " N·m"}
	case kind == plan.StretchPass:
		v := (ps.LowMM + ps.HighMM) / 2
		e.Reading = &run.Reading{Value: v, Unit: quantity.Millimetre, SI: v, Text: quantity.Text(v) + " mm"}
	}
	if kind == plan.CheckPass || kind == plan.VerifyPass {
		e.TurnedDeg = s.turns(st, e.Fastener)
		moved := e.TurnedDeg > 0
		e.Moved = &moved
	}
	s.Add(e)
}

// turns is by how much a nut turns in a check round: in the first one only.
func (s *Script) turns(st *run.State, fastener int) float64 {
	first := slices.IndexFunc(st.Passes, func(p run.PassState) bool { return p.Kind == plan.CheckPass })
	if first != st.Pass-1 {
		return 0
	}
	return s.Turns[fastener]
}

// Gates answers what the present pass waits for.
func (s *Script) Gates() {
	for _, code := range s.State().Gates {
		for _, c := range s.Plan.Checks {
			if c.Code == code {
				s.Answer(c)
			}
		}
	}
}

// Tighten pulls until every pass is complete.
func (s *Script) Tighten() {
	for range 5000 {
		if s.State().Pass == 0 {
			break
		}
		s.Pull()
	}
	s.Gates()
}

// Finish carries the joint from nothing to both signatures.
func (s *Script) Finish() {
	s.Ready()
	s.Tighten()
	s.Checks(procedure.Prove)
	s.Checks(procedure.HandOver)
	s.Sign(run.SignTightened, s.crew.Hand, run.Event{})
	if s.Plan.Apart() {
		return
	}
	s.Sign(run.SignProved, s.crew.Inspector, run.Event{})
}

// Due adds what comes next as the work stands: a check that is open where the joint is, what the present pass waits
// for, or the next fastener. false: nothing is due.
func (s *Script) Due() bool {
	st := s.State()
	if st.Station == procedure.Read {
		s.Add(run.Event{Kind: run.ReadConfirmed})
		return true
	}
	if st.Station == procedure.Ready || st.Pass == 0 {
		for _, c := range s.Plan.Checks {
			if st.Station != c.Station || st.Check(c.Code).Status.Settled() {
				continue
			}
			s.Answer(c)
			return true
		}
	}
	if st.Pass == 0 && len(st.Gates) == 0 {
		return false
	}
	s.Pull()
	return true
}
