package plan

import (
	"reflect"
	"slices"

	"dynacor/core/quantity"
)

// Choices are what the planner or technician picks: of the joint, and of each of its groups; empty fields follow the
// house rules, the specification and the best wrench. Those of a plan are settled: they have every group of it, in
// order.
type Choices struct {
	Together int `json:"together,omitempty"` // tools pulling at once on opposite fasteners; 0, 1: one
	// what the lab said of these stages and this order against those before, where the house rules ask for it
	Compared string         `json:"compared,omitempty"`
	Groups   []GroupChoices `json:"groups,omitempty"`
}

// GroupChoices are what is picked for a group of the procedure.
type GroupChoices struct {
	Group     string `json:"group,omitempty"` // its code; empty: the first of the procedure
	Scheme    string `json:"scheme,omitempty"`
	Pattern   string `json:"pattern,omitempty"`
	Sectors   int    `json:"sectors,omitempty"` // of the order by groups of bolts: 4 or 8
	Numbering string `json:"numbering,omitempty"`
	Policy    string `json:"policy,omitempty"`
	Lubricant string `json:"lubricant,omitempty"`
	// tags of the set-up from hand or pump to the nut, joined with a plus
	Wrench     string  `json:"wrench,omitempty"`
	AdapterDeg float64 `json:"adapterDeg,omitempty"` // crowfoot against the wrench
	// of each fastener of the first group in the last stage, percent of the document's, in the order of their numbers
	OwnTargets []float64 `json:"ownTargets,omitempty"`
}

// Pick gives the choices of a joint by those of its groups.
func Pick(groups ...GroupChoices) Choices { return Choices{Groups: groups} }

// Empty reports whether nothing was picked.
func (c Choices) Empty() bool { return reflect.DeepEqual(c, Choices{}) }

// Of gives what was picked for a group by its code; first tells whether it is the first of the procedure.
func (c Choices) Of(code string, first bool) GroupChoices {
	for _, g := range c.Groups {
		if g.Group == code || first && g.Group == "" {
			return g
		}
	}
	return GroupChoices{}
}

// check refuses a group that is named twice. One that the procedure does not have is passed over: choices are taken
// along to the next work at a joint, of which the document may have changed meanwhile.
func (c Choices) check() error {
	for i, g := range c.Groups {
		if slices.ContainsFunc(c.Groups[:i], func(o GroupChoices) bool { return o.Group == g.Group }) {
			return quantity.Refuse("groups", "Leave one of the two out.", "%q is named twice", g.Group)
		}
	}
	return nil
}
