package plan_test

import (
	"bytes"
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
)

// older writes a plan as it was written before its groups were a list and its stations and rows had their names.
func older(t *testing.T, p *plan.Plan) []byte {
	t.Helper()
	raw, err := json.Marshal(p)
	require.NoError(t, err)
	var m map[string]any
	require.NoError(t, json.Unmarshal(raw, &m))
	flat(m)
	flat(m["specification"].(map[string]any))
	flatChoices(m["choices"].(map[string]any))
	rules := m["houseRules"].(map[string]any)
	rules["groups"] = rules["sectors"]
	delete(rules, "sectors")
	m["groups"] = m["rows"]
	delete(m, "rows")
	for _, list := range []string{"groups", "checks"} {
		for _, o := range m[list].([]any) {
			o := o.(map[string]any)
			o["stop"] = o["station"]
			delete(o, "station")
			if row, check := o["row"]; check {
				o["group"] = row
				delete(o, "row")
			}
		}
	}
	out, err := json.Marshal(m)
	require.NoError(t, err)
	return out
}

// flat puts the fields of the first group among those of what has groups, and the others beside them.
func flat(m map[string]any) {
	groups := m["groups"].([]any)
	delete(m, "groups")
	for k, v := range groups[0].(map[string]any) {
		m[k] = v
	}
	if len(groups) > 1 {
		m["others"] = groups[1:]
	}
}

// flatChoices puts what was picked for the first group among the choices of the joint, the others beside them by their
// codes.
func flatChoices(m map[string]any) {
	groups := m["groups"].([]any)
	delete(m, "groups")
	others := map[string]any{}
	for i, g := range groups {
		g := g.(map[string]any)
		code := g["group"]
		delete(g, "group")
		if n, have := g["sectors"]; have {
			g["groups"] = n
			delete(g, "sectors")
		}
		if i > 0 {
			others[code.(string)] = g
			continue
		}
		for k, v := range g {
			m[k] = v
		}
	}
	if len(others) > 0 {
		m["others"] = others
	}
}

// byGroup gives a written plan's choices in the order of its groups, each with its code.
func byGroup(t *testing.T, raw []byte) []plan.GroupChoices {
	t.Helper()
	var p plan.Plan
	require.NoError(t, json.Unmarshal(raw, &p))
	var out []plan.GroupChoices
	for _, g := range p.AllGroups() {
		c := p.ChoicesOf(g)
		c.Group = g.Code
		out = append(out, c)
	}
	return out
}

// Choices from before their groups were a list, in all their forms; those of now as they are.
func TestOlderChoicesAreRead(t *testing.T) {
	for raw, want := range map[string]plan.Choices{
		`{}`:                           {},
		`null`:                         {},
		`{"together":2}`:               {Together: 2},
		`{"wrench":"W-1","groups":8}`:  plan.Pick(plan.GroupChoices{Wrench: "W-1", Sectors: 8}),
		`{"groups": [{"sectors": 4}]}`: plan.Pick(plan.GroupChoices{Sectors: 4}),
		`{"compared":"so","others":{"b":{"groups":4},"a":{"pattern":"cross"}}}`: {Compared: "so",
			Groups: []plan.GroupChoices{{Group: "a", Pattern: "cross"}, {Group: "b", Sectors: 4}}},
	} {
		var c plan.Choices
		require.NoError(t, json.Unmarshal([]byte(raw), &c), raw)
		require.Equal(t, want, c, raw)
		again, err := json.Marshal(c)
		require.NoError(t, err)
		var back plan.Choices
		require.NoError(t, json.Unmarshal(again, &back))
		require.Equal(t, want, back, raw)
	}
	for _, bad := range []string{`[]`, `{"groups":"four"}`, `{"groups":[1]}`, `{"others":[]}`, `7`} {
		require.Error(t, json.Unmarshal([]byte(bad), &plan.Choices{}), bad)
	}
}

// A group that is named twice is refused; one that the procedure does not have is passed over.
func TestChoicesNameEachGroupOnce(t *testing.T) {
	in := coretest.Input()
	in.Choices = plan.Pick(plan.GroupChoices{Pattern: "pairs"}, plan.GroupChoices{Group: "gone", Pattern: "cross"})
	p, err := plan.Make(in)
	require.NoError(t, err)
	require.Len(t, p.Choices.Groups, 1)
	require.Equal(t, "pairs", p.ChoicesOf(p.First()).Pattern)
	in.Choices = plan.Pick(plan.GroupChoices{Wrench: "W-1"}, plan.GroupChoices{Pattern: "cross"})
	_, err = plan.Make(in)
	r, ok := quantity.RefusalIn(err)
	require.True(t, ok)
	require.Equal(t, "groups", r.Field)
}

// What is picked for one group stays with it, and does not change what was given.
func TestChoicesAreSettledForEachGroup(t *testing.T) {
	picked := plan.Pick(plan.GroupChoices{Numbering: "order"})
	p := planned(t, "stair_platform", nil, func(in *plan.Input) {
		picked.Groups = append(picked.Groups, plan.GroupChoices{Group: "large", Pattern: "clockwise"})
		in.Choices = picked
	})
	require.Len(t, p.Choices.Groups, len(p.Groups))
	for i, g := range p.AllGroups() {
		c := p.ChoicesOf(g)
		require.Equal(t, g.Code, p.Choices.Groups[i].Group)
		require.Equal(t, i == 0, c.Numbering == "order", g.Code)
		require.Equal(t, 4, c.Sectors)
	}
	require.Equal(t, "clockwise", p.Choices.Of("large", false).Pattern)
	require.Empty(t, picked.Groups[0].Scheme)
}

// House rules from before called the sectors of an order groups.
func TestOlderHouseRulesAreRead(t *testing.T) {
	now := plan.DefaultHouseRules()
	now.Sectors = 8
	raw, err := json.Marshal(now)
	require.NoError(t, err)
	old := bytes.Replace(raw, []byte(`"sectors":8`), []byte(`"groups":8`), 1)
	require.NotEqual(t, raw, old)
	h, err := plan.ReadHouseRules(old)
	require.NoError(t, err)
	require.Equal(t, now, h)
	h, err = plan.ReadHouseRules(bytes.Replace(raw, []byte(`"sectors":8,`), nil, 1))
	require.NoError(t, err)
	require.Equal(t, 4, h.Sectors, "as delivered where nothing was asked")
	require.Error(t, json.Unmarshal([]byte(`{"groups":"eight"}`), &plan.HouseRules{}))
}

// A specification from before its groups were a list reads as the same one; one of now as it is.
func TestOlderSpecificationsAreRead(t *testing.T) {
	for _, f := range procedure.Builtin() {
		s := plan.Sample(f, nil)
		now, err := json.Marshal(s)
		require.NoError(t, err)
		var m map[string]any
		require.NoError(t, json.Unmarshal(now, &m))
		flat(m)
		old, err := json.Marshal(m)
		require.NoError(t, err)
		for _, raw := range [][]byte{now, old} {
			var back plan.Specification
			require.NoError(t, json.Unmarshal(raw, &back), f.Code)
			again, err := json.Marshal(back)
			require.NoError(t, err)
			require.Equal(t, string(now), string(again), f.Code)
		}
	}
	var s plan.Specification
	require.NoError(t, json.Unmarshal([]byte(`null`), &s))
	require.Zero(t, s.First())
	require.NoError(t, json.Unmarshal([]byte(`{"document":"says \"groups\": none","bolts":8}`), &s))
	require.Equal(t, 8, s.First().Bolts)
	for _, bad := range []string{`[]`, `{"bolts":"eight"}`, `{"groups":1}`, `{"others":1}`} {
		require.Error(t, json.Unmarshal([]byte(bad), &s), bad)
	}
}

// A plan from before reads as the same plan, in every family.
func TestOlderPlansAreRead(t *testing.T) {
	for _, f := range procedure.Builtin() {
		p := planned(t, f.Code, nil, nil)
		now, err := json.Marshal(p)
		require.NoError(t, err)
		var back plan.Plan
		require.NoError(t, json.Unmarshal(older(t, p), &back), f.Code)
		again, err := json.Marshal(&back)
		require.NoError(t, err)
		require.Equal(t, byGroup(t, now), byGroup(t, again), f.Code)
		back.Choices.Groups = p.Choices.Groups // the first had no name, and the others no order
		again, err = json.Marshal(&back)
		require.NoError(t, err)
		require.JSONEq(t, string(now), string(again), f.Code)
		require.NoError(t, json.Unmarshal(now, &back))
		again, err = json.Marshal(&back)
		require.NoError(t, err)
		require.Equal(t, string(now), string(again), f.Code)
	}
	var p plan.Plan
	require.Error(t, json.Unmarshal([]byte(`{"groups": 1}`), &p))
	require.NoError(t, json.Unmarshal([]byte(`{"groups": []}`), &p))
	require.Equal(t, 0, p.First().Layout.Count, "asking for its first group is safe")
}
