package pressuretest

import (
	"fmt"
	"slices"
	"time"

	"dynacor/core/quantity"
)

// Act is what is to be done next.
type Act struct {
	Kind  EventKind  `json:"kind"`
	Text  string     `json:"text"`
	Gate  string     `json:"gate,omitempty"`
	Joint string     `json:"joint,omitempty"`
	Way   string     `json:"way,omitempty"`
	Bar   *float64   `json:"bar,omitempty"`
	Until *time.Time `json:"until,omitempty"` // a hold lasts so long
}

// Cautions are what is said at all times of a test of this kind, beside what its site demands.
func (s Spec) Cautions() []string {
	site := "Site rules, the code in force and the responsible person decide. This sheet never says that it is safe."
	switch s.Kind {
	case Hydrostatic:
		return []string{"Stay to the side of blinds, plugs and bolts. Nothing is tightened under pressure.", site}
	case Pneumatic:
		return []string{"Gas stores far more energy than water: where water can be used, it is. Nobody is in the " +
			"zone while pressure is raised or held, and nothing is tightened under pressure.", site}
	case Vacuum:
		return []string{"Thin walls and glass can fall in. Let air in slowly.", site}
	case Precharge:
		return []string{"Nitrogen only. Fill slowly, with the fluid side open and empty. A room of nitrogen has no " +
			"air to breathe.", site}
	}
	return []string{"Oil under pressure goes through skin: no hand feels for a leak.", site}
}

func (st *State) act() Act {
	switch st.Phase {
	case Before, Closed:
		for _, g := range st.Gates {
			if g.At == nil && st.Phase == Before {
				return Act{Kind: Confirmed, Text: g.What, Gate: g.Code}
			}
		}
		return Act{Text: "Closed. It stands in the records of the joints that are sealed."}
	case Going:
		return st.going()
	case Holding:
		return st.holding()
	case Filling:
		return st.filling()
	case Driving:
		if st.Out <= st.Back {
			return Act{Kind: Driven, Way: "out", Text: fmt.Sprintf("Drive it out: %d of %d.", st.Out+1, st.spec.Cycles)}
		}
		return Act{Kind: Driven, Way: "back", Text: fmt.Sprintf("Drive it back: %d of %d.", st.Back+1, st.spec.Cycles)}
	case Looking:
		j := st.toLook()[0]
		return Act{Kind: Looked, Joint: j, Text: "Look at " + j +
			", all the way round, with a card and not with a hand."}
	case Down:
		return Act{Kind: LetDown, Text: "Let the pressure down slowly, to nothing at the gauge, and open the vent."}
	}
	if len(st.Signatures) == 0 {
		return Act{Kind: Signed, Text: "Sign for having led it."}
	}
	return Act{Kind: Signed, Text: "Sign for having seen it."}
}

func (st *State) going() Act {
	step := st.spec.Steps[st.Step-1]
	for _, g := range st.Gates {
		if g.At == nil {
			return Act{Kind: Confirmed, Gate: g.Code, Text: "Open: the next step waits. " + g.What}
		}
	}
	way := "Raise it to"
	if step.Bar < st.from() {
		way = "Let it down to"
	}
	if st.spec.Kind == Vacuum {
		way = "Pump down to"
	}
	return Act{Kind: Read, Bar: &step.Bar, Text: fmt.Sprintf("%s %s and read the gauge.", way, bar(step.Bar))}
}

func (st *State) holding() Act {
	h, step := st.present(), st.spec.Steps[st.Step-1]
	until := h.First.At.Add(minutes(h.Min))
	if step.Look {
		if list := st.toLook(); len(list) > 0 {
			return Act{Kind: Looked, Joint: list[0], Bar: &h.Bar, Until: &until,
				Text: "Look at " + list[0] + " all the way round, underneath too. Stand to the side of the blinds."}
		}
	}
	return Act{Kind: Read, Bar: &h.Bar, Until: &until, Text: fmt.Sprintf("Hold %s for %s min, then read gauge and "+
		"temperature.", bar(h.Bar), quantity.Text(h.Min))}
}

func (st *State) filling() Act {
	switch {
	case st.Aim == nil:
		return Act{Kind: Read, Text: "Read pressure and temperature of the gas."}
	case st.low:
		return Act{Kind: Read, Bar: st.Aim, Text: fmt.Sprintf("Fill to %s, wait until the gas has its temperature "+
			"again, and read.", bar(*st.Aim))}
	}
	return Act{Kind: Read, Bar: st.Aim, Text: fmt.Sprintf("Let out to %s, wait, and read.", bar(*st.Aim))}
}

// Led reports whether somebody recorded anything of the test.
func (st *State) Led(personID string) bool { return slices.Contains(st.people, personID) }
