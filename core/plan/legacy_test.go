package plan_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/plan"
	"dynacor/core/procedure"
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
