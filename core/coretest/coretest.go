// Package coretest makes a made-up flanged joint and carries it through a run, for tests of the rooms above and beside core.
package coretest

import (
	"fmt"
	"time"

	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/tool"
)

// Day is the day the made-up work is done on.
var Day = time.Date(2026, 11, 23, 8, 0, 0, 0, time.UTC)

// The made-up people.
var (
	Tolley   = run.Person{ID: "p-tolley", Name: "M. Tolley", Role: run.Technician}
	Quaye    = run.Person{ID: "p-quaye", Name: "I. Quaye", Role: run.Technician}
	Abara    = run.Person{ID: "p-abara", Name: "R. Abara", Role: run.Inspector}
	Hartwell = run.Person{ID: "p-hartwell", Name: "J. Hartwell", Role: run.Engineer}
)

// Wrench is a click wrench of 80 to 400 N·m in date on Day.
func Wrench() tool.Tool {
	return tool.Tool{Tag: "W-40", Maker: "Brae & Holm", Serial: "BH-4410", Kind: tool.Click, Unit: quantity.NewtonMetre, RatedMin: 80, RatedMax: 400, PrintedMin: 60, MainStep: 20,
		Graduation: 2, AccuracyPct: 4, Drive: "3/4 in", Lock: "end knob", StorageRule: "lowest mark", Place: "crib", State: tool.InService, Certificate: "C-2209",
		CalibratedOn: "2026-03-03", CalibrationEnds: "2027-03-03"}
}

// Input is a joint of eight M20 class 8.8 bolts at 300 N·m with light oil, planned for Wrench.
func Input() plan.Input {
	return plan.Input{
		Joint: plan.Joint{Tag: "SW-111", Name: "Cooler drain header", Area: "Cooling house", Equipment: "Cooler 2", Service: "seawater", Family: "gasketed_flange"},
		Specification: plan.Specification{Version: 1, Document: "TS2-SW-031", Revision: "C", Page: "table 4", Bolts: 8, BoltCircleMM: 240, SeenFrom: "the cooler side", Thread: "M20", Material: "8.8",
			LengthMM: 90, Lubricant: "light_oil", Gasket: "G-03 aramid 2 mm", FlangeSize: "DN 150 PN 16",
			Target: plan.Target{Form: plan.TorqueNominal, Nominal: 300, MinusPct: 10, PlusPct: 10, Unit: quantity.NewtonMetre}},
		HouseRules: plan.DefaultHouseRules(), Lubricants: fastener.Lubricants(), Tools: []tool.Tool{Wrench()}, On: Day}
}

// Script collects events, one every 20 seconds.
type Script struct {
	Plan   *plan.Plan
	Events []run.Event
	At     time.Time
	Person run.Person
	n      int
}

// NewScript begins an empty run on a plan.
func NewScript(p *plan.Plan) *Script { return &Script{Plan: p, At: Day, Person: Tolley} }

// Add appends an event with the script's person and clock, and gives it back.
func (s *Script) Add(e run.Event) run.Event {
	s.n++
	s.At = s.At.Add(20 * time.Second)
	e.ID = fmt.Sprintf("0199aaaa-0000-7000-8000-%012d", s.n)
	e.At = s.At
	if e.Person.ID == "" {
		e.Person = s.Person
	}
	s.Events = append(s.Events, e)
	return e
}

// State folds what was added so far.
func (s *Script) State() *run.State { return run.Fold(s.Plan, s.Events, s.At) }

// Judge gives the findings of an event that is not added.
func (s *Script) Judge(e run.Event) *run.State {
	e.At = s.At.Add(time.Second)
	if e.Person.ID == "" {
		e.Person = s.Person
	}
	return run.Fold(s.Plan, append(append([]run.Event{}, s.Events...), e), e.At)
}

// Sign adds a signature by who.
func (s *Script) Sign(purpose string, who run.Person, e run.Event) run.Event {
	e.Kind, e.Purpose, e.Signer = run.Signed, purpose, &who
	return s.Add(e)
}

// Answer gives the right answer to a check.
func (s *Script) Answer(c procedure.Check) {
	e := run.Event{Kind: run.CheckAnswered, Check: c.Code, Answer: "yes"}
	switch c.Kind {
	case procedure.Condition:
		e.Answer = "accept"
	case procedure.Lubricant:
		e.Answer, e.Product, e.Batch = s.Plan.Lubricant.Code, "tin 0418", "B7"
	case procedure.Parts:
		for _, p := range s.Plan.Parts {
			e.Parts = append(e.Parts, run.PartFound{Code: p.Code, State: "present"})
		}
	case procedure.Measure:
		e.Values = Readings(3.10, 3.12, 3.08, 3.11)
		if c.Criterion != procedure.Spread {
			e.Values = Readings(0.2, 0.1, 0, 0.1)
		}
	case procedure.Wrench:
		e = run.Event{Kind: run.WrenchTaken, Wrench: s.Plan.Wrench, SetUp: s.Plan.SetUp}
	}
	s.Add(e)
	if c.Hold {
		s.Sign(run.SignHold, Quaye, run.Event{Check: c.Code})
	}
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
func (s *Script) Checks(stop procedure.Stop) {
	for _, c := range s.Plan.Checks {
		if c.Stop == stop {
			s.Answer(c)
		}
	}
}

// Confirm confirms the setting, where it is asked for; a pressure is read twice.
func (s *Script) Confirm() {
	st := s.State()
	if st.Confirm == "" {
		return
	}
	e := run.Event{Kind: run.SettingConfirmed, Setting: st.Setting}
	if u := quantity.Unit(st.Passes[st.Pass-1].Unit); u.Kind() == quantity.KindPressure {
		e.Reading = &run.Reading{Value: st.Setting, Unit: u, Text: quantity.Text(st.Setting) + " " + u.Symbol()}
	}
	s.Add(e)
}

// Pull records the end of a pull on the next bolt as the set-up gives it, confirming the setting first where it is asked for.
func (s *Script) Pull() {
	s.Confirm()
	st := s.State()
	e := run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener, Outcome: st.Done, Setting: st.Setting, Clear: s.Plan.Clear != ""}
	if st.Done == run.Reached {
		u := quantity.Unit(st.Passes[st.Pass-1].Unit)
		e.Reading = &run.Reading{Value: st.Setting, Unit: u, Text: quantity.Text(st.Setting) + " " + u.Symbol()}
	}
	if st.Passes[st.Pass-1].Kind == string(plan.CheckPass) {
		moved := false
		e.Moved = &moved
	}
	s.Add(e)
}

// Tighten pulls until every pass is complete.
func (s *Script) Tighten() {
	for s.State().Pass > 0 {
		s.Pull()
	}
}

// Finish carries the joint from nothing to both signatures.
func (s *Script) Finish() {
	s.Ready()
	s.Tighten()
	s.Checks(procedure.Prove)
	s.Checks(procedure.HandOver)
	s.Sign(run.SignTightened, Tolley, run.Event{})
	s.Sign(run.SignProved, Abara, run.Event{})
}
