package plan_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/tool"
)

func ruled(change func(*plan.HouseRules)) func(*plan.Input) {
	return func(in *plan.Input) {
		in.HouseRules = plan.DefaultHouseRules()
		change(&in.HouseRules)
	}
}

func said(list []string, part string) bool {
	return slices.ContainsFunc(list, func(s string) bool { return strings.Contains(s, part) })
}

func TestPoweredWrenchIsRuledByTheSite(t *testing.T) {
	require.True(t, said(make1(t, nil).Cautions, "not even to run nuts down"), "delivered: never")
	p := make1(t, ruled(func(r *plan.HouseRules) { r.Powered = plan.PoweredRunDown }))
	require.True(t, said(p.Cautions, "only runs nuts down"))
	require.False(t, said(p.Cautions, "not even"))
}

func TestExtensionIsRuledByTheSite(t *testing.T) {
	with := func(rule string) *plan.Plan {
		return make1(t, func(in *plan.Input) {
			in.HouseRules.Extensions = rule
			in.Tools = append(in.Tools, tool.Tool{Tag: "E-34", Kind: tool.Extension, Drive: "3/4 in", DriveIn: "3/4 in", LengthMM: 150, MaxNm: 800, State: tool.InService}, coretest.Socket("S-30", 30, "3/4 in", 800))
			in.Choices.Wrench = "W-40+E-34+S-30"
		})
	}
	p := with(plan.ExtensionNone)
	require.NotNil(t, p.InHand(), "%v", p.Offers)
	_, ok := p.InHand().Of(tool.Extension)
	require.True(t, ok)
	require.True(t, has(p, "extension"))
	require.True(t, said(p.NeedsApproval, "extension"))
	require.False(t, has(with(plan.ExtensionInLine), "extension"))
}

func TestLubricantOfADocumentThatNamesNone(t *testing.T) {
	none := func(rule string) *plan.Plan {
		return make1(t, func(in *plan.Input) {
			in.HouseRules.Lubricant = rule
			in.Specification.Lubricant = plan.NotNamed
		})
	}
	asked := none(plan.LubricantAsked)
	require.False(t, asked.Complete())
	require.True(t, said(asked.ToBeSupplied, "the document names none"))
	require.Empty(t, asked.Passes, "no torque without it")
	put := none("light_oil")
	require.True(t, put.Complete())
	require.Equal(t, "light_oil", put.Lubricant.Code)
	require.True(t, has(put, "house_lubricant"))
	require.True(t, said(put.NeedsApproval, "Lubricant by house rule"))
	require.False(t, has(make1(t, func(in *plan.Input) { in.HouseRules.Lubricant = "light_oil" }), "house_lubricant"), "the document goes first")
}

func TestWhatIsDueAfterTheWork(t *testing.T) {
	require.False(t, said(make1(t, nil).After, "Re-torque"), "delivered: none")
	require.True(t, said(make1(t, nil).After, "just moves on"))
	p := make1(t, ruled(func(r *plan.HouseRules) { r.RetorqueHours, r.Audit = 24, plan.AuditMarks }))
	require.True(t, said(p.After, "Re-torque once, 24 hours"))
	require.True(t, said(p.After, "compare the marks"))
	p = make1(t, ruled(func(r *plan.HouseRules) { r.Audit = plan.AuditNoMovement }))
	require.True(t, said(p.After, "no nut may turn"))
}

func TestSchoolsAreRefusedByField(t *testing.T) {
	for field, change := range map[string]func(*plan.HouseRules){
		"extensions": func(r *plan.HouseRules) { r.Extensions = "long" }, "powered": func(r *plan.HouseRules) { r.Powered = "always" }, "audit": func(r *plan.HouseRules) { r.Audit = "" },
		"lubricant": func(r *plan.HouseRules) { r.Lubricant = "two words" }, "reasons.audit": func(r *plan.HouseRules) { r.Reasons["audit"] = " " }, "retorqueHours": func(r *plan.HouseRules) { r.RetorqueHours = -1 },
	} {
		r := plan.DefaultHouseRules()
		change(&r)
		ref, ok := quantity.RefusalIn(r.Check())
		require.True(t, ok, field)
		require.Equal(t, field, ref.Field)
	}
}

func TestRulesOfAnEarlierTimeAreMadeWhole(t *testing.T) {
	old := plan.DefaultHouseRules()
	old.Extensions, old.Powered, old.Lubricant, old.Audit, old.LooseningFactor, old.ReadingBandPct = "", "", "", "", 0, 0
	for _, k := range []string{"extensions", "powered", "lubricant", "audit", "retorqueHours"} {
		delete(old.Reasons, k)
	}
	require.Error(t, old.Check())
	old.Reasons["scheme"] = "our own reason"
	is := old.Complete()
	require.NoError(t, is.Check())
	require.Equal(t, "our own reason", is.Reasons["scheme"])
	require.NotContains(t, old.Reasons, "audit", "the old version itself stays as it was")
}

func TestJointWaitsForWhatItsPlanWouldMiss(t *testing.T) {
	for _, f := range procedure.Builtin() {
		answers, err := f.Answer(plan.Sample(f, nil).Variant, plan.Sample(f, nil).Figures)
		require.NoError(t, err)
		asked := f.For(answers)
		for name, change := range map[string]func(*plan.Specification){
			"whole":        func(*plan.Specification) {},
			"no target":    func(s *plan.Specification) { s.Target = plan.Target{Form: plan.NotGiven} },
			"no document":  func(s *plan.Specification) { s.Document = "" },
			"no figures":   func(s *plan.Specification) { s.Figures = nil },
			"no lubricant": func(s *plan.Specification) { s.Lubricant = plan.NotNamed },
		} {
			var spec plan.Specification
			p, err := sample(t, f.Code, nil, func(in *plan.Input) {
				change(&in.Specification)
				spec = in.Specification
			})
			if err != nil {
				continue // refused before it could wait
			}
			lacks := spec.Lacks(asked, plan.DefaultHouseRules())
			require.Equal(t, len(p.ToBeSupplied) == 0, lacks == "", "%s, %s: %q but %v", f.Code, name, lacks, p.ToBeSupplied)
		}
	}
}
