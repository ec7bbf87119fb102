package httpapi_test

import (
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/internal/app"
)

// Procedures over the interface: read, tried, kept as a draft, approved; every answer is held against the contract.
func TestProceduresByTheInterface(t *testing.T) {
	s := newServer(t)
	engineer, inspector, tech := s.client("J. Hartwell"), s.client("R. Abara"), s.client("M. Tolley")
	var families []app.FamilyRow
	tech.ok("GET", "/families", nil, &families)
	require.Len(t, families, 20)
	tech.ok("GET", "/procedure-schema", nil, nil)
	for _, f := range families {
		require.NotEmpty(t, f.Silhouette, f.Code)
		require.NotEmpty(t, f.Layouts, f.Code)
		var d app.ProcedureDetail
		tech.ok("GET", "/procedures/"+f.Code, nil, &d)
		require.Equal(t, f.Code, d.Family.Code)
		require.NotEmpty(t, d.YAML)
		require.NotEmpty(t, d.Joints, "the demo site has a joint of %s", f.Code)
		var trial app.ProcedureTrial
		inspector.ok("POST", "/procedures/"+f.Code+"/try", map[string]any{"yaml": d.YAML, "reason": ""}, &trial)
		require.Empty(t, trial.Faults, f.Code)
		require.Empty(t, trial.Changes, f.Code)
		require.NotNil(t, trial.Plan, f.Code)
	}
	tech.refused("GET", "/procedures/nothing", nil, http.StatusNotFound)
	tech.refused("GET", "/procedures/tube_fitting?version=9", nil, http.StatusNotFound)

	var d app.ProcedureDetail
	tech.ok("GET", "/procedures/tube_fitting", nil, &d)
	own := strings.Replace(d.YAML, "Leak test", "Leak test with soap", 1)
	body := map[string]any{"yaml": own, "reason": "soap shows it better"}
	tech.refused("PUT", "/procedures/tube_fitting", body, http.StatusForbidden)
	p := inspector.refused("PUT", "/procedures/tube_fitting", map[string]any{"yaml": own, "reason": ""},
		http.StatusUnprocessableEntity)
	require.Equal(t, "reason", *p.Field)
	inspector.refused("PUT", "/procedures/tube_fitting", map[string]any{"yaml": "code: [", "reason": "x"},
		http.StatusUnprocessableEntity)
	inspector.ok("PUT", "/procedures/tube_fitting", body, &d)
	require.Equal(t, 5, d.Family.Version)
	require.NotEmpty(t, d.Changes)
	inspector.refused("POST", "/procedures/tube_fitting/versions/5/approve", nil, http.StatusForbidden)
	p = engineer.refused("POST", "/procedures/tube_fitting/versions/5/approve", nil, http.StatusForbidden)
	require.Equal(t, "consent", *p.Field, "a sign-in alone is no leave")
	p = engineer.with("J. Hartwell", "0000").refused("POST", "/procedures/tube_fitting/versions/5/approve", nil,
		http.StatusForbidden)
	require.Contains(t, p.Title, "do not go together")
	p = engineer.with("R. Abara", "9340").refused("POST", "/procedures/tube_fitting/versions/5/approve", nil,
		http.StatusForbidden)
	require.Contains(t, p.Title, "R. Abara, inspector, may not")
	engineer.with("J. Hartwell", "2758").ok("POST", "/procedures/tube_fitting/versions/5/approve", nil, &d)
	engineer = engineer.with("J. Hartwell", "2758")
	engineer.refused("POST", "/procedures/tube_fitting/versions/5/approve", nil, http.StatusConflict)
	engineer.refused("POST", "/procedures/tube_fitting/versions/7/approve", nil, http.StatusConflict)
	var again app.ProcedureTrial
	engineer.ok("POST", "/procedures/tube_fitting/try",
		map[string]any{"yaml": strings.Replace(own, "kind: test", "kind: guess", 1), "reason": ""}, &again)
	require.NotEmpty(t, again.Faults)
	require.Positive(t, again.Faults[0].Line)
	require.Nil(t, again.Plan)
}

// The joint of every family, its run and what a package needs answer within the contract.
func TestJointsOfEveryFamilyAnswerWithinTheContract(t *testing.T) {
	s := newServer(t)
	d := s.client("J. Hartwell")
	var page app.JointPage
	d.ok("GET", "/joints?limit=200", nil, &page)
	seen := map[string]bool{}
	for _, j := range page.Rows {
		if seen[j.Family] && j.Family == "gasketed_flange" {
			continue
		}
		seen[j.Family] = true
		var v app.JointDetail
		d.ok("GET", "/joints/"+url.PathEscape(j.Tag), nil, &v)
		if v.RunID != "" {
			d.ok("GET", "/runs/"+v.RunID, nil, nil)
		}
		d.ok("POST", "/joints/"+url.PathEscape(j.Tag)+"/plan-preview", map[string]any{}, nil)
	}
	require.Len(t, seen, 20)
	var needs []app.Need
	d.ok("GET", "/packages/WP-51/needs", nil, &needs)
	kinds := map[string]int{}
	for _, n := range needs {
		kinds[n.Kind]++
		require.NotEmpty(t, n.What)
	}
	for _, k := range []string{"part", "supply", "tool", "lubricant"} {
		require.Positive(t, kinds[k], "%s of the families: %v", k, kinds)
	}
	var today app.Today
	d.ok("GET", "/today", nil, &today)
	for _, h := range today.InHand {
		require.NotEmpty(t, h.Family)
		require.Positive(t, h.Group.Layout.Count, h.Tag)
		require.NotEmpty(t, h.Chalk)
	}
}

// A joint of several groups is refused by the group and field that is wrong, and nothing is kept.
func TestWrongGroupIsNamed(t *testing.T) {
	s := newServer(t)
	d := s.client("J. Hartwell")
	var v app.JointDetail
	d.ok("GET", "/joints/BV-14", nil, &v)
	spec := v.Versions[0].Specification
	joint := func(change func()) map[string]any {
		change()
		return map[string]any{"tag": "BV-99", "name": "", "area": "2 Turbine 2", "equipment": "", "service": "",
			"family": "ball_valve_multi", "package": "", "nameplate": "", "specification": spec}
	}
	was := spec.Groups[0].Thread
	p := d.refused("POST", "/joints", joint(func() { spec.Groups[0].Thread = "M19x9" }), http.StatusUnprocessableEntity)
	require.Equal(t, "thread", *p.Field)
	p = d.refused("POST", "/joints",
		joint(func() { spec.Groups[0].Thread = was; spec.Variant = map[string]string{"ports": "seven"} }),
		http.StatusUnprocessableEntity)
	require.Equal(t, "variant.ports", *p.Field)
	p = d.refused("POST", "/joints",
		joint(func() { spec.Variant = map[string]string{"ports": "three"}; spec.Figures["break_torque"] = -4 }),
		http.StatusUnprocessableEntity)
	require.Equal(t, "figures.break_torque", *p.Field)
	d.refused("GET", "/joints/BV-99", nil, http.StatusNotFound)
	d.ok("POST", "/joints", joint(func() { spec.Figures["break_torque"] = 40 }), nil)
}
