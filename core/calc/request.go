package calc

import (
	"dynacor/core/fastener"
	"dynacor/core/quantity"
)

// Request asks for a calculation as the interface does: with what was typed, and what else is wanted beside the result.
type Request struct {
	Values  map[string]any           `json:"values"`          // by key: as typed, or numbers in the key's unit
	Units   map[string]quantity.Unit `json:"units,omitempty"` // by key: of numbers without a unit, and of results
	Also    quantity.Unit            `json:"also,omitempty"`  // second unit of torque
	Sweep   *SweepRequest            `json:"sweep,omitempty"`
	Effects bool                     `json:"effects,omitempty"` // which input matters most
}

// SweepRequest asks for the answers over a range of one input; equal ends mean around its present value.
type SweepRequest struct {
	Key    string  `json:"key"`
	From   float64 `json:"from"`
	To     float64 `json:"to"`
	Points int     `json:"points"`
}

// Answer to a Request.
type Answer struct {
	Result
	Sweep   []Point  `json:"sweep,omitempty"`
	Effects []Effect `json:"effects,omitempty"`
}

// Ask answers a request. What is asked beside the result and cannot be given is left out; only the result itself
// refuses.
func Ask(name string, q Request, cards []fastener.Lubricant) (*Answer, error) {
	o := Options{Typed: true, Cards: cards, Units: q.Units, Also: q.Also}
	r, err := Run(name, q.Values, o)
	if err != nil {
		return nil, err
	}
	a := &Answer{Result: *r}
	if s := q.Sweep; s != nil {
		if a.Sweep, err = Sweep(name, q.Values, s.Key, s.From, s.To, s.Points, o); err != nil {
			return nil, err
		}
	}
	if q.Effects {
		if a.Effects, err = Sensitivity(name, q.Values, o); err != nil {
			return nil, err
		}
	}
	return a, nil
}

// Described is a calculation as the interface gets it, with the values of its first sheet.
type Described struct {
	Calculation
	Example map[string]any `json:"example"`
}

// Describe gives the catalogue for an interface: those that words find, all when there are none.
func Describe(words string) []Described {
	found := Find(words)
	out := make([]Described, 0, len(found))
	for _, c := range found {
		out = append(out, Described{*c, c.Example()})
	}
	return out
}
