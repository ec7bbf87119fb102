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
