package procedure_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/procedure"
)

// A procedure from before rows and stations had their names reads as if it were written today; one of today, and what
// is no procedure, stay as they are.
func TestOlderProceduresAreRead(t *testing.T) {
	old := `{"code":"x","groups":[{"code":"r","title":"R","stop":"ready"}],"work":[{"code":"w","groups":["bolts"]}],"checks":[{"code":"c","stop":"prove","group":"r"}]}`
	var f procedure.Family
	require.NoError(t, json.Unmarshal(procedure.Upgraded([]byte(old)), &f))
	require.Equal(t, []procedure.Row{{Code: "r", Title: "R", Station: procedure.Ready}}, f.Rows)
	require.Equal(t, procedure.Prove, f.Checks[0].Station)
	require.Equal(t, "r", f.Checks[0].Row)
	require.Equal(t, []string{"bolts"}, f.Work[0].Groups, "the groups of a step are fasteners")
	for _, same := range []string{`{"rows":[],"checks":[]}`, `{"groups":7}x`, `[]`, `{"code":"x"}`} {
		require.Equal(t, same, string(procedure.Upgraded([]byte(same))))
	}
	require.JSONEq(t, `{"rows":7,"checks":"y"}`, string(procedure.Upgraded([]byte(`{"groups":7,"checks":"y"}`))),
		"what is wrong is refused where it is judged")
}

// A check that older texts called optional is left to whoever does the work, unless the verdict rests on it.
func TestOptionalChecksOfOlderProcedures(t *testing.T) {
	old := `{"rows":[],"checks":[{"code":"a","kind":"confirm","optional":true},` +
		`{"code":"b","kind":"measure","optional":true},{"code":"c","kind":"confirm","optional":false},` +
		`{"code":"d","kind":"confirm","optional":true,"hold":true},{"code":"e","kind":"confirm","optional":true,` +
		`"waive":"nobody"},{"code":"f","kind":"confirm"}]}`
	var f procedure.Family
	require.NoError(t, json.Unmarshal(procedure.Upgraded([]byte(old)), &f))
	want := []procedure.Waive{procedure.ByTechnician, procedure.ByEngineer, procedure.ByEngineer, procedure.ByNobody,
		procedure.ByNobody, procedure.ByEngineer}
	for i, c := range f.Checks {
		require.Equal(t, want[i], c.WaivedBy(), c.Code)
	}
	require.NotContains(t, string(procedure.Upgraded([]byte(old))), "optional")
}

func TestVerdictsAreNotWaivedBelowAnEngineer(t *testing.T) {
	f := procedure.Builtin()[0]
	i := 0
	for k, c := range f.Checks {
		if c.Kind == procedure.Measure && !c.Hold {
			i = k
		}
	}
	fault := func(w procedure.Waive, hold bool) string {
		c := f
		c.Checks = append([]procedure.Check{}, f.Checks...)
		c.Checks[i].Waive, c.Checks[i].Hold = w, hold
		for _, x := range c.Faults() {
			if x.Path == "checks."+c.Checks[i].Code+".waive" {
				return x.What
			}
		}
		return ""
	}
	require.Contains(t, fault(procedure.ByTechnician, false), "the verdict rests on this check")
	require.Empty(t, fault(procedure.ByEngineer, false))
	require.Empty(t, fault("", false))
	require.Contains(t, fault("anybody", false), "anybody")
	require.Contains(t, fault(procedure.ByEngineer, true), "a hold is never waived")
	require.Empty(t, fault(procedure.ByNobody, true))
	for kind, carries := range map[procedure.CheckKind]bool{procedure.Lubricant: true, procedure.Wrench: true,
		procedure.Measure: true, procedure.Confirm: false} {
		require.Equal(t, carries, procedure.Check{Kind: kind, Station: procedure.Ready}.CarriesVerdict(), kind)
	}
	require.True(t, procedure.Check{Kind: procedure.Confirm, Station: procedure.Prove}.CarriesVerdict())
	require.True(t, procedure.Check{Kind: procedure.Confirm, Photo: true}.CarriesVerdict())
}
