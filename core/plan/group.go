package plan

import (
	"fmt"
	"slices"

	"dynacor/core/fastener"
	"dynacor/core/layout"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/tool"
)

// TableUse is the line of a table that a target was looked up in.
type TableUse struct {
	Code    string   `json:"code"`
	Name    string   `json:"name"`
	Version int      `json:"version"`
	Keys    []string `json:"keys"`
	Source  string   `json:"source"`
}

// FastenerGroup is a group of fasteners with everything worked out for it. Torques N·m, forces kN, stresses MPa,
// lengths mm. What does not apply to the group is zero.
type FastenerGroup struct {
	Code          string               `json:"group,omitempty"`
	GroupName     string               `json:"groupName,omitempty"`
	Noun          string               `json:"noun,omitempty"` // what one is called; "": bolt
	Face          string               `json:"face,omitempty"`
	FaceDeg       float64              `json:"faceDeg,omitempty"`
	Offset        int                  `json:"offset,omitempty"` // positions before its first
	Layout        layout.Layout        `json:"layout"`
	Places        []layout.Place       `json:"places,omitempty"`
	EndsAt        procedure.TargetKind `json:"endsAt,omitempty"` // "": torque
	EndsWhy       string               `json:"endsWhy,omitempty"`
	Condition     string               `json:"condition,omitempty"`
	Where         string               `json:"where,omitempty"`
	ToolsNever    map[string]string    `json:"toolsNever,omitempty"`
	RunDown       []RunDown            `json:"runDown,omitempty"` // what a nut may be run down with, beside the hand
	Scheme        string               `json:"scheme,omitempty"`
	Thread        fastener.Thread      `json:"thread"`
	StressAreaMM2 float64              `json:"stressAreaMm2"`
	Strength      fastener.Strength    `json:"strength"`
	Lubricant     fastener.Lubricant   `json:"lubricant"`
	Nut           *fastener.Nut        `json:"nut,omitempty"` // as measured on site
	Table         *TableUse            `json:"table,omitempty"`
	Wrench        *tool.Tool           `json:"wrench,omitempty"` // the tool that is set
	SetUp         *tool.SetUp          `json:"setUp,omitempty"`  // with what goes between; nil: the wrench alone
	Offers        []tool.Offer         `json:"offers,omitempty"` // every set-up of the crib, the best first
	TargetNm      quantity.Torque      `json:"targetNm"`         // at the nut, before the scale rounds it
	FinalNm       quantity.Torque      `json:"finalNm"`          // what the last setting gives
	AllowedMin    quantity.Torque      `json:"allowedMin"`       // N·m; 0 when the target is not a torque
	AllowedMax    quantity.Torque      `json:"allowedMax"`
	PreloadKN     float64              `json:"preloadKN"`
	PreloadMinKN  float64              `json:"preloadMinKN"`
	PreloadMaxKN  float64              `json:"preloadMaxKN"`
	StressMPa     float64              `json:"stressMPa"`
	StressMinMPa  float64              `json:"stressMinMPa"`
	StressMaxMPa  float64              `json:"stressMaxMPa"`
	YieldPct      float64              `json:"yieldPct"`
	Snug          string               `json:"snug"`
	Setting       []string             `json:"setting,omitempty"` // steps to set the value on these tools
	Pull          []string             `json:"pull,omitempty"`    // steps of each pull
	Clear         string               `json:"clear,omitempty"`   // to be said before each pull
	Loosening     *Loosening           `json:"loosening,omitempty"`
	AcrossFlatsMM float64              `json:"acrossFlatsMm,omitempty"` // hexagon of the nut; 0: not known
}

// Word is what one fastener of the group is called.
func (g *FastenerGroup) Word() string {
	if g.Noun == "" {
		return "bolt"
	}
	return g.Noun
}

// ByTorque reports whether the group ends at a torque.
func (g *FastenerGroup) ByTorque() bool { return g.EndsAt == "" || g.EndsAt == procedure.ByTorque }

// AllGroups gives every group, the first of the procedure first.
func (p *Plan) AllGroups() []*FastenerGroup {
	out := make([]*FastenerGroup, len(p.Groups))
	for i := range p.Groups {
		out[i] = &p.Groups[i]
	}
	return out
}

// First gives the group that the procedure begins with.
func (p *Plan) First() *FastenerGroup { return &p.Groups[0] }

// Demand is what the document says of a group.
func (p *Plan) Demand(g *FastenerGroup) (Fasteners, bool) {
	return p.Specification.Of(g.Code, p.leads(g))
}

// ChoicesOf gives what was picked for a group.
func (p *Plan) ChoicesOf(g *FastenerGroup) GroupChoices { return p.Choices.Of(g.Code, p.leads(g)) }

// leads reports whether a group is the first of the whole procedure.
func (p *Plan) leads(g *FastenerGroup) bool {
	if p.Lead != "" {
		return g.Code == p.Lead
	}
	return g.Code == p.First().Code
}

// Several reports whether the joint has more than one group.
func (p *Plan) Several() bool { return len(p.Groups) > 1 }

// GroupOf finds a group by its code; the first for one that is not known.
func (p *Plan) GroupOf(code string) *FastenerGroup {
	for i := range p.Groups {
		if p.Groups[i].Code == code {
			return &p.Groups[i]
		}
	}
	return p.First()
}

// GroupAt finds the group of a position (1…Count).
func (p *Plan) GroupAt(position int) *FastenerGroup {
	for i := range p.Groups {
		if g := &p.Groups[i]; position <= g.Offset+g.Layout.Count {
			return g
		}
	}
	return p.First()
}

// Count is the number of fasteners of the joint.
func (p *Plan) Count() int {
	n := 0
	for i := range p.Groups {
		n += p.Groups[i].Layout.Count
	}
	return n
}

// needsTool reports whether some pass of a group is done with a tool that is set.
func (p *Plan) needsTool(group string) bool {
	return slices.ContainsFunc(p.Passes,
		func(ps Pass) bool { return ps.Kind.Sets() && (ps.Group == group || ps.Group == "") })
}

// RunDown is a kind of tool that turns a nut and tells no torque.
type RunDown struct {
	Kind  tool.Kind `json:"kind"`
	Word  string    `json:"word"`
	Tags  []string  `json:"tags"`            // those in the crib that may be used
	Never string    `json:"never,omitempty"` // why the procedure forbids it here
}

// runDown lists what a nut of the group may be run down with. One never belongs on a nut: a pipe wrench.
func (m *maker) runDown(tools []tool.Tool) {
	for _, k := range tool.RunsDown() {
		r := RunDown{Kind: k, Word: k.Word(), Tags: []string{}, Never: m.ToolsNever[string(k)]}
		if k == tool.PipeWrench && r.Never == "" {
			r.Never = "its teeth cut the corners of a nut and tell nothing"
		}
		if k == tool.Impact && r.Never == "" && m.HouseRules.Powered == PoweredNever {
			r.Never = "the house rules allow no powered wrench on these threads"
		}
		for i := range tools {
			if tools[i].Kind == k && tools[i].State == tool.InService {
				r.Tags = append(r.Tags, tools[i].Tag)
			}
		}
		m.RunDown = append(m.RunDown, r)
	}
}

// NameOf is what a fastener is called, by its position from 1: bolt 7; bolt A3 on face A; the gland nut when there is
// one.
func (p *Plan) NameOf(position int) string {
	g := p.GroupAt(position)
	switch {
	case g.Face != "":
		return fmt.Sprintf("%s %s%d", g.Word(), g.Face, p.Chalk[position-1])
	case g.Layout.Count == 1 && p.Several():
		return g.Word()
	}
	return fmt.Sprintf("%s %d", g.Word(), p.Chalk[position-1])
}
