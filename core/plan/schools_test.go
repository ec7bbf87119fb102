package plan_test

import (
	"encoding/json"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

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
			in.Tools = append(in.Tools, tool.Tool{Tag: "E-34", Kind: tool.Extension, Drive: "3/4 in", DriveIn: "3/4 in",
				LengthMM: 150, MaxNm: 800, State: tool.InService}, coretest.Socket("S-30", 30, "3/4 in", 800))
			in.Choices = plan.Pick(plan.GroupChoices{Wrench: "W-40+E-34+S-30"})
		})
	}
	p := with(plan.ExtensionNone)
	require.NotNil(t, p.First().InHand(), "%v", p.First().Offers)
	_, ok := p.First().InHand().Of(tool.Extension)
	require.True(t, ok)
	require.True(t, has(p, "extension"))
	require.True(t, said(p.NeedsApproval, "extension"))
	require.False(t, has(with(plan.ExtensionInLine), "extension"))
}

func TestLubricantOfADocumentThatNamesNone(t *testing.T) {
	none := func(rule string) *plan.Plan {
		return make1(t, func(in *plan.Input) {
			in.HouseRules.Lubricant = rule
			in.Specification.Groups[0].Lubricant = plan.NotNamed
		})
	}
	asked := none(plan.LubricantAsked)
	require.False(t, asked.Complete())
	require.True(t, said(asked.ToBeSupplied, "the document names none"))
	require.Empty(t, asked.Passes, "no torque without it")
	put := none("light_oil")
	require.True(t, put.Complete())
	require.Equal(t, "light_oil", put.First().Lubricant.Code)
	require.True(t, has(put, "house_lubricant"))
	require.True(t, said(put.NeedsApproval, "Lubricant by house rule"))
	require.False(t, has(make1(t, func(in *plan.Input) { in.HouseRules.Lubricant = "light_oil" }), "house_lubricant"),
		"the document goes first")
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
		"extensions":       func(r *plan.HouseRules) { r.Extensions = "long" },
		"powered":          func(r *plan.HouseRules) { r.Powered = "always" },
		"audit":            func(r *plan.HouseRules) { r.Audit = "" },
		"lubricant":        func(r *plan.HouseRules) { r.Lubricant = "two words" },
		"reasons.audit":    func(r *plan.HouseRules) { r.Reasons["audit"] = " " },
		"retorqueHours":    func(r *plan.HouseRules) { r.RetorqueHours = -1 },
		"retorqueLimitDeg": func(r *plan.HouseRules) { r.RetorqueLimitDeg = 90.1 },
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
	old.Reasons["scheme"], old.MovedLimitDeg, old.Storage = "our own reason", 0, plan.StorageMaker
	data, err := json.Marshal(old)
	require.NoError(t, err)
	for _, rule := range plan.HouseRuleList() { // as it would be had the rule come later
		var keys map[string]any
		require.NoError(t, json.Unmarshal(data, &keys))
		limits, reasons := keys["limits"].(map[string]any), keys["reasons"].(map[string]any)
		delete(keys, rule.Key)
		delete(limits, strings.TrimPrefix(rule.Key, "limits."))
		delete(reasons, rule.Why)
		without, err := json.Marshal(keys)
		require.NoError(t, err)
		is, err := plan.ReadHouseRules(without)
		require.NoError(t, err)
		require.NoError(t, is.Check(), rule.Key)
		want := old
		want.Reasons = maps.Clone(old.Reasons)
		switch rule.Key {
		case "storage":
			want.Storage = plan.StorageLowestMark
		case "scheme":
			want.Reasons["scheme"] = plan.DefaultHouseRules().Reasons["scheme"]
		}
		require.Equal(t, want, is, "%s: what was there stays, what was not is as delivered", rule.Key)
	}

	var keys map[string]any
	require.NoError(t, json.Unmarshal(data, &keys))
	delete(keys["reasons"].(map[string]any), "storage")
	without, err := json.Marshal(keys)
	require.NoError(t, err)
	is, err := plan.ReadHouseRules(without)
	require.NoError(t, err)
	require.Equal(t, plan.StorageMaker, is.Storage)
	require.Equal(t, "Chosen before reasons were asked for.", is.Reasons["storage"],
		"no reason is put into the site's mouth")
	_, err = plan.ReadHouseRules([]byte("{"))
	require.Error(t, err)
}

// Threads that stay dry or get a locking compound are asked about, whatever lubricant the house has.
func TestHouseLubricantStaysOffLockedThreads(t *testing.T) {
	for condition, put := range map[string]bool{"": true, "lubricated": true, "locker": false, "dry": false,
		"degreased": false} {
		f, err := procedure.ByCode("wheel_nuts")
		require.NoError(t, err)
		f.Fasteners = slices.Clone(f.Fasteners)
		f.Fasteners[0].Condition = condition
		in := coretest.Input()
		in.Joint.Family, in.Family, in.Specification = f.Code, f, plan.Sample(f, nil)
		in.HouseRules.Lubricant, in.Specification.Groups[0].Lubricant = "light_oil", plan.NotNamed
		p, err := plan.Make(in)
		if err != nil {
			require.False(t, put, "%s: %v", condition, err)
			continue
		}
		require.Equal(t, put, has(p, "house_lubricant"), condition)
	}
}

// The document's own limit of the gap goes before the house rule.
func TestGapOfTheDocumentGoesFirst(t *testing.T) {
	limit := func(change func(*plan.Input)) (float64, string) {
		for _, c := range make1(t, change).Checks {
			if c.Code == "gap_after" {
				return c.Limit, c.LimitFrom
			}
		}
		return 0, ""
	}
	v, from := limit(func(in *plan.Input) { in.HouseRules.Limits["proof_gap"] = 0.15 })
	require.InDelta(t, 0.15, v, 0)
	require.Contains(t, from, "house rules")
	v, from = limit(func(in *plan.Input) { in.HouseRules.Limits["proof_gap"], in.Specification.ProofGapMM = 0.15, 0.3 })
	require.InDelta(t, 0.3, v, 0)
	require.Contains(t, from, "TS2-SW-031")
}

// Every figure is allowed at both ends of its range, and past neither; every choice is one of the listed.
func TestHouseRulesAtTheirEnds(t *testing.T) {
	for _, rule := range plan.HouseRuleList() {
		with := func(v any) error {
			data, err := json.Marshal(plan.DefaultHouseRules())
			require.NoError(t, err)
			var keys map[string]any
			require.NoError(t, json.Unmarshal(data, &keys))
			at, key := keys, rule.Key
			if k, ok := strings.CutPrefix(rule.Key, "limits."); ok {
				at, key = keys["limits"].(map[string]any), k
			}
			at[key] = v
			switch rule.Key {
			case "maxYieldPct":
				keys["minYieldPct"] = 0
			case "minYieldPct":
				keys["maxYieldPct"] = 95
			case "primaryTorque":
				keys["secondaryTorque"] = map[any]string{"ft_lbf": "N_m"}[v]
				if v != "ft_lbf" {
					keys["secondaryTorque"] = "ft_lbf"
				}
			case "secondaryTorque":
				keys["primaryTorque"] = "N_m"
				if v == "N_m" {
					keys["primaryTorque"] = "ft_lbf"
				}
			}
			if data, err = json.Marshal(keys); err != nil {
				return err
			}
			r, err := plan.ReadHouseRules(data)
			if err != nil {
				return err
			}
			return r.Check()
		}
		field, _, _ := strings.Cut(rule.Key, ".")
		refused := func(v any) {
			t.Helper()
			ref, ok := quantity.RefusalIn(with(v))
			require.True(t, ok, "%s %v", rule.Key, v)
			require.Equal(t, field, ref.Field)
		}
		switch rule.Kind {
		case plan.RuleFigure:
			require.NoError(t, with(rule.Low), rule.Key)
			require.NoError(t, with(rule.High), rule.Key)
			step := 0.0001
			if rule.Whole {
				step = 1
			}
			refused(rule.Low - step)
			refused(rule.High + step)
		case plan.RuleChoice:
			for _, c := range rule.Choices {
				if rule.Key == "sectors" {
					continue // a number: below
				}
				require.NoError(t, with(c.Value), rule.Key)
			}
			if rule.Key == "sectors" {
				require.NoError(t, with(8))
				refused(6)
				continue
			}
			refused("something else")
		case plan.RuleLubricant:
			require.NoError(t, with("L-07"))
			refused("two words")
		case plan.RuleWords:
			require.NoError(t, with("Helmet"))
		}
		require.NotEmpty(t, rule.Label)
	}
}

// The picture beside a choice shows the order that it makes.
func TestChoicesAreDrawnAsTheyAre(t *testing.T) {
	for _, r := range plan.HouseRuleList() {
		if r.Key != "numbering" {
			continue
		}
		for _, c := range r.Choices {
			require.Equal(t, c.Value == "place", slices.IsSorted(c.Order), c.Value)
			require.Len(t, c.Order, 12)
		}
		return
	}
	t.Fatal("there is no rule of numbering")
}

func TestJointWaitsForWhatItsPlanWouldMiss(t *testing.T) {
	for _, f := range procedure.Builtin() {
		answers, err := f.Answer(plan.Sample(f, nil).Variant, plan.Sample(f, nil).Figures)
		require.NoError(t, err)
		asked := f.For(answers)
		for name, change := range map[string]func(*plan.Specification){
			"whole":        func(*plan.Specification) {},
			"no target":    func(s *plan.Specification) { s.Groups[0].Target = plan.Target{Form: plan.NotGiven} },
			"no document":  func(s *plan.Specification) { s.Document = "" },
			"no figures":   func(s *plan.Specification) { s.Figures = nil },
			"no lubricant": func(s *plan.Specification) { s.Groups[0].Lubricant = plan.NotNamed },
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
			require.Equal(t, len(p.ToBeSupplied) == 0, lacks == "", "%s, %s: %q but %v", f.Code, name, lacks,
				p.ToBeSupplied)
		}
	}
}

// A first round that goes further than the house rule lets it is an engineer's to approve, on a gasket only.
func TestFirstRoundOnAGasketIsCapped(t *testing.T) {
	in := coretest.Input()
	approvals := func(scheme string, limit float64) []string {
		in.Choices, in.HouseRules.FirstRoundPct = plan.Pick(plan.GroupChoices{Scheme: scheme}), limit
		p, err := plan.Make(in)
		require.NoError(t, err)
		return p.NeedsApproval
	}
	require.Empty(t, approvals("half_full", 50), "at the limit")
	require.Len(t, approvals("single", 50), 1)
	require.Contains(t, approvals("single", 50)[0], "First round on the gasket at 100 %")
	require.Len(t, approvals("half_full", 49), 1)
	require.Empty(t, approvals("single", 0), "a site that has no such rule")
	f, err := procedure.ByCode("structural")
	require.NoError(t, err)
	in.Joint.Family, in.Family, in.Specification = f.Code, f, plan.Sample(f, nil)
	require.Empty(t, approvals("single", 50), "there is no gasket")
}

func TestWhatFallsDueByRules(t *testing.T) {
	at := time.Date(2026, 11, 30, 10, 0, 0, 0, time.UTC)
	r := plan.DefaultHouseRules()
	until, asked := r.HeatCheckDue(at)
	require.True(t, asked)
	require.Equal(t, at.Add(24*time.Hour), until)
	_, asked = r.RetestDue(at)
	require.False(t, asked)
	r.RetestMonths, r.HeatCheckHours = 18, 0
	until, asked = r.RetestDue(at)
	require.True(t, asked)
	require.Equal(t, time.Date(2028, 5, 30, 10, 0, 0, 0, time.UTC), until)
	_, asked = r.HeatCheckDue(at)
	require.False(t, asked)
}
