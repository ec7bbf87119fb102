package plan_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/layout"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/sequence"
	"dynacor/core/tool"
)

// fields are those of a plan that say something, each with a mark that stands for what it says; what is short is
// written out.
func fields(t *testing.T, p *plan.Plan) string {
	t.Helper()
	raw, err := json.Marshal(p)
	require.NoError(t, err)
	var all map[string]json.RawMessage
	require.NoError(t, json.Unmarshal(raw, &all))
	var list []string
	for _, name := range slices.Sorted(maps.Keys(all)) {
		text := string(coretest.Plain(t, all[name]))
		if len(text) > 40 {
			text = coretest.Mark(t, all[name])
		}
		list = append(list, name+" "+text)
	}
	return strings.Join(list, ", ")
}

// madeOf is a plan in a line, or why there is none.
func madeOf(t *testing.T, in plan.Input) string {
	t.Helper()
	p, err := plan.Make(in)
	if err != nil {
		return "refused: " + err.Error()
	}
	return fields(t, p)
}

// Plans are made as they were made before, in every variant of every family, put together and taken apart. A field that
// comes out otherwise is named. When that is meant, DYNACOR_WRITE=1 writes it.
func TestPlansAreMadeAsBefore(t *testing.T) {
	for _, f := range procedure.Builtin() {
		t.Run(f.Code, func(t *testing.T) {
			t.Parallel()
			var lines []string
			for _, answers := range coretest.Variants(f) {
				in := coretest.Input()
				in.Joint.Family, in.Family, in.Specification = f.Code, f, plan.Sample(f, answers)
				name := fmt.Sprint(answers)
				lines = append(lines, name+": "+madeOf(t, in))
				in.Apart = true
				lines = append(lines, name+" apart: "+madeOf(t, in))
			}
			coretest.AsBefore(t, filepath.Join("testdata", "made", f.Code+".txt"), ", ", lines)
		})
	}
}

// What the document says otherwise, what is chosen otherwise and what the house rules say otherwise each make another
// plan, as they did before.
func TestEachDemandMakesItsPlanAsBefore(t *testing.T) {
	first := func(change func(g *plan.Fasteners)) func(in *plan.Input) {
		return func(in *plan.Input) { change(&in.Specification.Groups[0]) }
	}
	target := func(to plan.Target) func(in *plan.Input) {
		return first(func(g *plan.Fasteners) { g.Target = to })
	}
	pick := func(c plan.GroupChoices) func(in *plan.Input) {
		return func(in *plan.Input) { in.Choices = plan.Pick(c) }
	}
	rule := func(change func(h *plan.HouseRules)) func(in *plan.Input) {
		return func(in *plan.Input) { change(&in.HouseRules) }
	}
	cases := map[string]func(in *plan.Input){
		"range": target(plan.Target{Form: plan.TorqueRange, Min: 270, Max: 330, Unit: quantity.NewtonMetre}),
		"range turned round": target(plan.Target{Form: plan.TorqueRange, Min: 330, Max: 270,
			Unit: quantity.NewtonMetre}),
		"range of nothing": target(plan.Target{Form: plan.TorqueRange, Min: 300, Max: 300, Unit: quantity.NewtonMetre}),
		"in foot-pounds": target(plan.Target{Form: plan.TorqueNominal, Nominal: 220, MinusPct: 5, PlusPct: 5,
			Unit: quantity.FootPound}),
		"no tolerance":   target(plan.Target{Form: plan.TorqueNominal, Nominal: 300, Unit: quantity.NewtonMetre}),
		"nothing":        target(plan.Target{Form: plan.TorqueNominal, Unit: quantity.NewtonMetre}),
		"stress":         target(plan.Target{Form: plan.BoltStress, Stress: 300}),
		"no stress":      target(plan.Target{Form: plan.BoltStress}),
		"of yield":       target(plan.Target{Form: plan.PercentYield, Percent: 50}),
		"at yield":       target(plan.Target{Form: plan.PercentYield, Percent: 100}),
		"past yield":     target(plan.Target{Form: plan.PercentYield, Percent: 101}),
		"not given":      target(plan.Target{Form: plan.NotGiven}),
		"too much":       target(plan.Target{Form: plan.TorqueNominal, Nominal: 900, Unit: quantity.NewtonMetre}),
		"very little":    target(plan.Target{Form: plan.TorqueNominal, Nominal: 40, Unit: quantity.NewtonMetre}),
		"below its mark": target(plan.Target{Form: plan.TorqueNominal, Nominal: 20, Unit: quantity.NewtonMetre}),
		"four bolts":     first(func(g *plan.Fasteners) { g.Bolts = 4 }),
		"five bolts":     first(func(g *plan.Fasteners) { g.Bolts = 5 }),
		"sixteen bolts":  first(func(g *plan.Fasteners) { g.Bolts = 16 }),
		"forty bolts":    first(func(g *plan.Fasteners) { g.Bolts = 40 }),
		"one bolt":       first(func(g *plan.Fasteners) { g.Bolts = 1 }),
		"no bolt":        first(func(g *plan.Fasteners) { g.Bolts = 0 }),
		"no lubricant":   first(func(g *plan.Fasteners) { g.Lubricant = "" }),
		"inch thread":    first(func(g *plan.Fasteners) { g.Thread, g.Material = "3/4-10 UNC", "B7" }),
		"no thread":      first(func(g *plan.Fasteners) { g.Thread = "" }),
		"other material": first(func(g *plan.Fasteners) { g.Material = "B7" }),
		"a circle drawn": first(func(g *plan.Fasteners) { g.Layout = &layout.Layout{Count: 8} }),
		"two at once":    func(in *plan.Input) { in.Choices.Together = 2 },
		"four at once":   func(in *plan.Input) { in.Choices.Together = 4 },
		"three at once":  func(in *plan.Input) { in.Choices.Together = 3 },
		"no tool":        func(in *plan.Input) { in.Tools = nil },
		"no gasket":      func(in *plan.Input) { in.Specification.Gasket = "" },
		"no size":        func(in *plan.Input) { in.Specification.FlangeSize = "" },
		"low in range": func(in *plan.Input) {
			in.HouseRules.Policy = "low"
			in.Specification.Groups[0].Target = plan.Target{Form: plan.TorqueRange, Min: 270, Max: 330,
				Unit: quantity.NewtonMetre}
		},
		"high in range": func(in *plan.Input) {
			in.HouseRules.Policy = "high"
			in.Specification.Groups[0].Target = plan.Target{Form: plan.TorqueRange, Min: 270, Max: 330,
				Unit: quantity.NewtonMetre}
		},
		"numbered by order":  pick(plan.GroupChoices{Numbering: "order"}),
		"another lubricant":  pick(plan.GroupChoices{Lubricant: "moly_paste"}),
		"own targets":        pick(plan.GroupChoices{OwnTargets: []float64{100, 105, 100, 95, 100, 105, 100, 95}}),
		"own targets of few": pick(plan.GroupChoices{OwnTargets: []float64{100, 105}}),
		"own targets too far": pick(plan.GroupChoices{
			OwnTargets: []float64{100, 160, 100, 95, 100, 105, 100, 40}}),
		"crowfoot askew":      pick(plan.GroupChoices{AdapterDeg: 45}),
		"early first round":   rule(func(h *plan.HouseRules) { h.FirstRoundPct = 20 }),
		"narrow yield":        rule(func(h *plan.HouseRules) { h.MaxYieldPct = 30 }),
		"wide yield":          rule(func(h *plan.HouseRules) { h.MinYieldPct = 60 }),
		"slow":                rule(func(h *plan.HouseRules) { h.SecondsPerPull, h.SecondsPerPass = 60, 300 }),
		"no re-torque":        rule(func(h *plan.HouseRules) { h.RetorqueHours = 0 }),
		"re-torque":           rule(func(h *plan.HouseRules) { h.RetorqueHours = 24 }),
		"heat":                rule(func(h *plan.HouseRules) { h.HeatCheckHours = 24 }),
		"tests hold":          rule(func(h *plan.HouseRules) { h.RetestMonths = 12 }),
		"a lubricant of ours": rule(func(h *plan.HouseRules) { h.Lubricant = "light_oil" }),
		"small moves":         rule(func(h *plan.HouseRules) { h.MovedLimitDeg = 1 }),
		"upper wrench range":  rule(func(h *plan.HouseRules) { h.MinFrac = 0.9 }),
		"not so low a range":  rule(func(h *plan.HouseRules) { h.PreferredFrac = 0.8 }),
	}
	hose, pump := coretest.Hose(), coretest.Pump()
	hose.MaxMPa, pump.RatedMax, pump.Unit, pump.Graduation, pump.MainStep = 150, 150, quantity.Megapascal, 1, 10
	crib := map[string][]tool.Tool{
		"a multiplier": {coretest.SmallWrench(), coretest.Multiplier(), coretest.Socket("S-30", 30, "1 in", 2000)},
		"hydraulics": {coretest.HydraulicWrench(), coretest.Pump(), coretest.Hose(),
			coretest.Socket("S-55", 55, "1 in", 6000)},
		"a tensioner":         {coretest.Tensioner(), hose, pump},
		"what tells a torque": {coretest.Electronic()},
		"two wrenches":        {coretest.Wrench(), coretest.SmallWrench()},
		"everything": {coretest.Wrench(), coretest.SmallWrench(), coretest.Multiplier(), coretest.HydraulicWrench(),
			coretest.Pump(), coretest.Hose(), coretest.Tensioner(), coretest.Electronic(),
			coretest.Socket("S-30", 30, "1 in", 2000), coretest.Socket("S-55", 55, "1 in", 6000)},
	}
	for name, tools := range crib {
		cases["with "+name] = func(in *plan.Input) { in.Tools, in.Specification.Groups[0].ClampMM = tools, 100 }
		for size, nm := range map[string]float64{"M24": 600, "M36": 3000} {
			large := func(in *plan.Input) {
				in.Tools, in.Specification.Groups[0].Thread = tools, size
				in.Specification.Groups[0].ClampMM = 80
				in.Specification.Groups[0].Target = plan.Target{Form: plan.TorqueNominal, Nominal: nm, MinusPct: 10,
					PlusPct: 10, Unit: quantity.NewtonMetre}
			}
			cases["with "+name+" on "+size] = large
			cases["two at once with "+name+" on "+size] = func(in *plan.Input) { large(in); in.Choices.Together = 2 }
			cases["of yield with "+name+" on "+size] = func(in *plan.Input) {
				large(in)
				in.Specification.Groups[0].Target = plan.Target{Form: plan.PercentYield, Percent: 50, PlusPct: 10, MinusPct: 10}
			}
		}
	}
	for code, to := range map[string]plan.Target{
		"stretch": {Form: plan.Stretch, StretchMM: 0.2, MinusPct: 10, PlusPct: 10},
		"turns":   {Form: plan.Turns, TurnDeg: 90, MinusPct: 10, PlusPct: 10},
	} {
		for _, f := range procedure.Builtin() {
			cases[code+" of "+f.Code] = func(in *plan.Input) {
				in.Joint.Family, in.Family, in.Specification = f.Code, f, plan.Sample(f, nil)
				in.Specification.Groups[0].Target = to
			}
		}
	}
	for _, s := range sequence.Schemes() {
		cases["scheme "+s.Code] = pick(plan.GroupChoices{Scheme: s.Code})
	}
	for _, p := range []sequence.Pattern{sequence.Cross, sequence.Group, sequence.Clockwise, sequence.AlternateTwo,
		sequence.Cardinal, sequence.Pairs, sequence.Outward, sequence.FromStiff, sequence.Chosen} {
		cases["order "+string(p)] = pick(plan.GroupChoices{Pattern: string(p), Sectors: 4})
		cases["order of eight "+string(p)] = func(in *plan.Input) {
			in.Specification.Groups[0].Bolts = 24
			in.Choices = plan.Pick(plan.GroupChoices{Pattern: string(p), Sectors: 8})
		}
	}
	var lines []string
	for _, name := range slices.Sorted(maps.Keys(cases)) {
		for _, apart := range []bool{false, true} {
			in := coretest.Input()
			cases[name](&in)
			in.Apart = apart
			lines = append(lines, fmt.Sprintf("%s, apart %t: %s", name, apart, madeOf(t, in)))
		}
	}
	coretest.AsBefore(t, filepath.Join("testdata", "made", "demands.txt"), ", ", lines)
}
