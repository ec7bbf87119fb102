package pressuretest

import (
	"fmt"
	"slices"
	"strings"

	"dynacor/core/quantity"
	"dynacor/core/run"
)

// MostEvents is how many events a test may have.
const MostEvents = 2000

// Admit refuses, by field, an event that a test cannot take as it stands.
func Admit(s Spec, events []Event, e Event) error {
	st := Fold(s, events)
	switch {
	case st.Phase == Closed:
		return quantity.Refuse("kind", "Begin another test; this one can be copied.", "the test is closed")
	case len(events) >= MostEvents:
		return quantity.Refuse("kind", "Let it down and begin another.", "the test has %d events", MostEvents)
	case !e.Person.May(Leader.Takes()) && e.Kind != Signed && e.Gate != witnessGate:
		return quantity.Refuse("person", "Ask somebody who may.", "%s may not lead a test", e.Person.Name)
	}
	switch e.Kind {
	case Confirmed, Opened:
		return st.admitGate(e)
	case Read:
		return st.admitRead(e)
	case Looked:
		return st.admitLook(e)
	case Driven:
		if st.Phase != Driving || e.Way != st.act().Way {
			return quantity.Refuse("way", "Do what is asked for.", "it is not to be driven %s now", e.Way)
		}
		return nil
	case LetDown:
		return st.admitLetDown(e)
	case TakenBack:
		return st.admitTakeBack(events, e)
	case Noted:
		return words("note", e.Note, 3, 500, "Write a sentence.")
	case Signed:
		return st.admitSignature(e)
	}
	return quantity.Refuse("kind", "Send one that is known.", "%q is no event of a test", e.Kind)
}

func (st *State) admitGate(e Event) error {
	i := slices.IndexFunc(st.Gates, func(g GateState) bool { return g.Code == e.Gate })
	if i < 0 {
		return quantity.Refuse("gate", "Name one of this test.", "%q is none of its conditions", e.Gate)
	}
	g := st.Gates[i]
	switch {
	case e.Kind == Confirmed && st.spec.Kind != Purge && st.spec.Gauge.CheckBy.Before(e.At):
		return quantity.Refuse("gate", "Take one whose certificate holds: change the test, or copy it.",
			"the certificate of %s ended on %s", st.spec.Gauge.Tag, st.spec.Gauge.CheckBy)
	case e.Kind == Opened && (!g.Barrier || g.At == nil):
		return quantity.Refuse("gate", "Only a closed barrier can be opened.", "it is no closed barrier")
	case e.Kind == Confirmed && g.At != nil:
		return quantity.Refuse("gate", "Go on with the next.", "was confirmed by %s", g.By)
	case e.Kind == Confirmed && g.Code == witnessGate:
		return st.admitWitness(e.Person)
	}
	return nil
}

func (st *State) admitWitness(p run.Person) error {
	if !p.May(Witness.Takes()) {
		return quantity.Refuse("personId", "Ask an inspector or an engineer.", "%s may not witness a test", p.Name)
	}
	if st.Led(p.ID) {
		return quantity.Refuse("personId", "Ask somebody who has no hand in it.", "%s has a hand in this test", p.Name)
	}
	return nil
}

func (st *State) admitRead(e Event) error {
	if e.Bar == nil {
		return quantity.Refuse("barAs", "Read the gauge and enter its pressure in bar.", "no pressure was entered")
	}
	if err := quantity.Between("barAs", *e.Bar, 0, 2*st.spec.Gauge.Range); err != nil {
		return err
	}
	if e.TempC != nil {
		if err := quantity.Between("tempAs", *e.TempC, -80, 300); err != nil {
			return err
		}
	}
	switch st.Phase {
	case Before:
		if st.spec.Kind == Vacuum || *e.Bar <= st.spec.Gauge.Mark {
			return nil // no pressure yet
		}
		return quantity.Refuse("barAs", "Confirm what must be so first. If there is pressure, let it down.",
			"there must be no pressure yet")
	case Going:
		if !st.closed() && *e.Bar > st.lastBar()+st.spec.Gauge.Mark {
			return quantity.Refuse("barAs", "Close the barrier, or let it down.",
				"the pressure rose with a barrier open")
		}
	case Filling:
		if e.TempC == nil {
			return quantity.Refuse("tempAs", "Measure the temperature of the shell.",
				"a gas says nothing without its temperature")
		}
	case Driving, Looking, Signing:
		return quantity.Refuse("kind", "Do what is asked for.", "no reading is wanted now")
	}
	return nil
}

func (st *State) lastBar() float64 {
	if n := len(st.Trace); n > 0 {
		return st.Trace[n-1].Bar
	}
	return 0
}

func (st *State) admitLook(e Event) error {
	at := st.Phase == Looking || st.Phase == Holding && st.spec.Steps[st.Step-1].Look
	if !at {
		return quantity.Refuse("joint", "Look when the sheet asks for it.", "nobody goes near as the test stands")
	}
	if !slices.Contains(st.toLook(), e.Joint) {
		return quantity.Refuse("joint", "Name a joint that is still to be looked at.", "%q is none of them", e.Joint)
	}
	if !e.Dry {
		return words("note", e.Note, 3, 500, "Say where it weeps, and how much.")
	}
	return nil
}

func (st *State) admitLetDown(e Event) error {
	if st.Phase == Before || st.Phase == Signing {
		return quantity.Refuse("kind", "There is nothing to let down.", "the test has no pressure")
	}
	if st.spec.Kind == Purge {
		return nil
	}
	if e.Bar == nil {
		return quantity.Refuse("barAs", "Enter what the gauge shows with the vent open.", "no pressure was entered")
	}
	empty := quantity.AtMost(*e.Bar, st.spec.Gauge.Mark)
	if st.spec.Kind == Vacuum {
		empty = *e.Bar >= .9 && *e.Bar <= 1.1
	}
	if st.spec.Kind == Precharge {
		empty = true // what was filled so far stays in
	}
	if !empty {
		return quantity.Refuse("barAs", "Go on until the gauge shows no pressure.", "%s is still in it", bar(*e.Bar))
	}
	return nil
}

func (st *State) admitTakeBack(events []Event, e Event) error {
	if err := words("note", e.Note, 3, 200, "Say why: typed wrong, another gauge read."); err != nil {
		return err
	}
	for i := len(events) - 1; i >= 0; i-- {
		switch x := events[i]; {
		case x.Kind == Noted:
			continue
		case x.ID == e.Ref && (x.Kind == Read || x.Kind == Looked || x.Kind == LetDown):
			return nil
		}
		break
	}
	return quantity.Refuse("ref", "Only the last reading or look can be taken back, before anything follows it.",
		"it is not the last")
}

func (st *State) admitSignature(e Event) error {
	if st.Phase != Signing {
		return quantity.Refuse("as", "First do what is asked for.", "there is nothing to sign yet")
	}
	if slices.ContainsFunc(st.Signatures, func(s Signature) bool { return s.As == e.As }) {
		return quantity.Refuse("as", "The other signature is missing.", "was signed as %s", e.As)
	}
	switch e.As {
	case Leader:
		if !e.Person.May(Leader.Takes()) || !st.Led(e.Person.ID) {
			return quantity.Refuse("personId", "One of those who led it signs.", "%s did not lead it", e.Person.Name)
		}
		if st.witness() == e.Person.ID || slices.ContainsFunc(st.Signatures, func(s Signature) bool {
			return s.ID == e.Person.ID
		}) {
			return quantity.Refuse("personId", "One of those who led it signs.", "%s was its witness", e.Person.Name)
		}
		return nil
	case Witness:
		if g := st.witness(); g != "" {
			if g != e.Person.ID {
				return quantity.Refuse("personId", "The witness who was here signs.", "%s was not its witness",
					e.Person.Name)
			}
			return nil
		}
		return st.admitWitness(e.Person)
	}
	return quantity.Refuse("as", fmt.Sprintf("Sign as %s or %s.", Leader, Witness), "%q is neither",
		strings.TrimSpace(string(e.As)))
}

// MayWitness reports whether somebody may be, or is, the witness of a test.
func (st *State) MayWitness(p run.Person) bool {
	if w := st.witness(); w != "" {
		return w == p.ID
	}
	return st.admitWitness(p) == nil
}

// witness is the identifier of whoever confirmed to be the witness, "" when nobody was to.
func (st *State) witness() string {
	for _, g := range st.Gates {
		if g.Code == witnessGate {
			return g.ID
		}
	}
	return ""
}
