// Package coretest makes a made-up flanged joint and carries it through a run, for tests of the rooms above and beside
// core.
package coretest

import (
	"maps"
	"slices"
	"time"

	"dynacor/core/authority"
	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/rehearsal"
	"dynacor/core/run"
	"dynacor/core/tool"
)

// Day is the day the made-up work is done on.
var Day = time.Date(2026, 11, 23, 8, 0, 0, 0, time.UTC)

// The made-up people.
var (
	Tolley   = run.Person{ID: "p-tolley", Name: "M. Tolley", Role: authority.Technician}
	Quaye    = run.Person{ID: "p-quaye", Name: "I. Quaye", Role: authority.Technician + ", " + authority.Lead}
	Abara    = run.Person{ID: "p-abara", Name: "R. Abara", Role: authority.Inspector}
	Hartwell = run.Person{ID: "p-hartwell", Name: "J. Hartwell", Role: authority.Engineer}
)

// Wrench is a click wrench of 80 to 400 N·m in date on Day.
func Wrench() tool.Tool {
	return tool.Tool{Tag: "W-40", Maker: "Brae & Holm", Serial: "BH-4410", Kind: tool.Click, Unit: quantity.NewtonMetre,
		RatedMin: 80, RatedMax: 400, PrintedMin: 60, MainStep: 20,
		Graduation: 2, AccuracyPct: 4, Drive: "3/4 in", Lock: "end knob", StorageRule: "lowest mark", Place: "crib",
		State: tool.InService, Certificate: "C-2209",
		CalibratedOn: "2026-03-03", CalibrationEnds: "2027-03-03"}
}

// Input is a joint of eight M20 class 8.8 bolts at 300 N·m with light oil, planned for Wrench.
func Input() plan.Input {
	return plan.Input{
		Joint: plan.Joint{Tag: "SW-111", Name: "Cooler drain header", Area: "Cooling house", Equipment: "Cooler 2",
			Service: "seawater", Family: "gasketed_flange"},
		Specification: plan.Specification{Version: 1, Document: "TS2-SW-031", Revision: "C", Page: "table 4",
			Gasket: "G-03 aramid 2 mm", FlangeSize: "DN 150 PN 16",
			Groups: []plan.Fasteners{{Bolts: 8, BoltCircleMM: 240, SeenFrom: "the cooler side", Thread: "M20",
				Material: "8.8", LengthMM: 90, Lubricant: "light_oil",
				Target: plan.Target{Form: plan.TorqueNominal, Nominal: 300, MinusPct: 10, PlusPct: 10,
					Unit: quantity.NewtonMetre}}}},
		HouseRules: plan.DefaultHouseRules(), Lubricants: fastener.Lubricants(), Tools: []tool.Tool{Wrench()}, On: Day}
}

// Variants gives every combination of answers to a family's questions; those that a figure decides are left out.
func Variants(f procedure.Family) []map[string]string {
	out := []map[string]string{{}}
	for _, q := range f.Questions {
		if q.Figure != "" {
			continue
		}
		var next []map[string]string
		for _, have := range out {
			for _, o := range q.Options {
				m := maps.Clone(have)
				m[q.Code] = o.Code
				next = append(next, m)
			}
		}
		out = next
	}
	return out
}

// Stretched is a procedure that ends at a stretch, as a site's own may; no delivered one does.
func Stretched() procedure.Family {
	f, err := procedure.ByCode("wheel_nuts")
	if err != nil {
		panic(err)
	}
	f.Fasteners = slices.Clone(f.Fasteners[:1])
	f.Fasteners[0].Target = procedure.ByStretch
	f.Work = []procedure.Step{{Code: "stretch", Do: procedure.DoStretch, Groups: []string{f.Fasteners[0].Code},
		Name: "stretch"}}
	return f
}

// NewScript begins an empty run on a plan, by M. Tolley on Day.
func NewScript(p *plan.Plan) *Script {
	return rehearsal.New(p, Day, rehearsal.Crew{Hand: Tolley, Second: Quaye, Inspector: Abara})
}

// Script is how tests write a run.
type Script = rehearsal.Script
