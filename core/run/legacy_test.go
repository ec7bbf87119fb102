package run_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/procedure"
	"dynacor/core/run"
)

// A state from before its station, rows and the one who stopped it had their names reads as the same state.
func TestOlderStatesAreRead(t *testing.T) {
	var s run.State
	require.NoError(t, json.Unmarshal([]byte(`{"stop":"ready","heldBy":"Stopped by M. Tolley","glyph":"in_hand","groups":[{"code":"hazards","title":"Hazards","stop":"ready","status":"cleared","cleared":2,"total":2,"text":"In order."}]}`), &s))
	require.Equal(t, procedure.Ready, s.Station)
	require.Equal(t, "Stopped by M. Tolley", s.StoppedBy)
	require.Equal(t, []run.RowState{{Code: "hazards", Title: "Hazards", Station: procedure.Ready,
		Status: run.CheckCleared, Cleared: 2, Total: 2, Text: "In order."}}, s.Rows)
	now := text(t, &s)
	var again run.State
	require.NoError(t, json.Unmarshal([]byte(now), &again))
	require.Equal(t, now, text(t, &again))
}
