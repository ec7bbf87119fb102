package pressuretest

import (
	"strings"
	"time"

	"dynacor/core/authority"
	"dynacor/core/quantity"
	"dynacor/core/run"
)

// EventKind is what was done.
type EventKind string

// The kinds of events.
const (
	Confirmed EventKind = "confirmed"  // what must be so before there is pressure
	Opened    EventKind = "opened"     // it is so no longer: a barrier was opened
	Read      EventKind = "read"       // pressure and temperature
	Looked    EventKind = "looked"     // at one joint
	Driven    EventKind = "driven"     // once out, or once back
	LetDown   EventKind = "let_down"   // no pressure is left
	TakenBack EventKind = "taken_back" // the last reading or look, with the reason: it stays in the record
	Noted     EventKind = "noted"      // in words
	Signed    EventKind = "signed"     // by PIN: for having led it, or for having seen it
)

// Role is what somebody signs as.
type Role string

// The roles of a signature. They are given by two persons.
const (
	Leader  Role = "leader"
	Witness Role = "witness"
)

// Takes is what signing takes of a person.
func (r Role) Takes() authority.Act {
	if r == Witness {
		return authority.WitnessTest
	}
	return authority.LeadTest
}

// Event is something that happened. Only what its kind says is filled in.
type Event struct {
	ID     string     `json:"id"`
	At     time.Time  `json:"at"`
	Person run.Person `json:"person"`
	Kind   EventKind  `json:"kind"`

	Gate   string   `json:"gate,omitempty"`   // confirmed, opened
	Bar    *float64 `json:"bar,omitempty"`    // read, let down
	BarAs  string   `json:"barAs,omitempty"`  // as it was typed
	TempC  *float64 `json:"tempC,omitempty"`  // of the medium
	TempAs string   `json:"tempAs,omitempty"` // as it was typed
	Joint  string   `json:"joint,omitempty"`  // looked
	Dry    bool     `json:"dry,omitempty"`    // looked
	Way    string   `json:"way,omitempty"`    // driven: out or back
	Note   string   `json:"note,omitempty"`
	Ref    string   `json:"ref,omitempty"` // taken back: which event
	As     Role     `json:"as,omitempty"`  // signed
}

// Typed reads the figures of an event as they were typed. Refused: what is no pressure, or no temperature.
func (e *Event) Typed() error {
	read := func(field, text string, unit quantity.Unit, into **float64) error {
		if strings.TrimSpace(text) == "" {
			return nil
		}
		r, err := quantity.ReadAs(text, unit)
		if err != nil {
			return quantity.Refuse(field, "Enter what stands at the gauge, as 23.6.", "%s", err)
		}
		v, err := quantity.Convert(r.Value, r.Unit, unit)
		if err != nil {
			return quantity.Refuse(field, "Enter it in "+unit.Symbol()+".", "%s", err)
		}
		*into = &v
		return nil
	}
	return firstOf(read("barAs", e.BarAs, quantity.Bar, &e.Bar), read("tempAs", e.TempAs, quantity.Celsius, &e.TempC))
}
