package handover_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/handover"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/tool"
)

// An open run tells bolt, setting and condition.
func TestOpenRunTellsBoltSettingAndCondition(t *testing.T) {
	wrench := tool.Tool{Tag: "W-40", Kind: tool.Click, Unit: quantity.NewtonMetre}
	s := &run.State{Station: procedure.Tighten, Pass: 2, Prev: 5, Passes: make([]run.PassState, 4), Left: 3, Setting: 120,
		Next: &run.Next{Number: 7}, Wrench: &wrench}
	o := handover.OpenRun("r1", "SW-114", "Cooler inlet", s)
	require.Equal(t, handover.Open{RunID: "r1", Tag: "SW-114", Name: "Cooler inlet", Last: "bolt 5 in pass 2 of 4",
		Setting: "120 N·m", Tools: "W-40", Condition: "3 bolts left in this pass, next is bolt 7."}, o)
	s.Prev = 0
	require.Equal(t, "none yet in pass 2 of 4", handover.OpenRun("r1", "SW-114", "", s).Last)
	s.SetUp = &tool.SetUp{String: []tool.Tool{wrench, {Tag: "S4-36", Kind: tool.Socket}}}
	s.Exceptions, s.Confirm = []string{"x"}, "another hand"
	o = handover.OpenRun("r1", "SW-114", "", s)
	require.Equal(t, "W-40+S4-36", o.Tools)
	require.Contains(t, o.Condition, "exceptions: 1, the setting is to be confirmed.")
	s.Blocked = []string{"The paste is the wrong one."}
	o = handover.OpenRun("r1", "SW-114", "", s)
	require.True(t, o.Held)
	require.Equal(t, "Stopped: The paste is the wrong one.", o.Condition)

	ready := handover.OpenRun("r", "A", "", &run.State{Station: procedure.Ready, Checks: []run.CheckState{{Status: run.CheckOpen},
		{Status: run.CheckCleared}}})
	require.Equal(t, "Being made ready, 1 checks open.", ready.Condition)
	require.Equal(t, "no bolt yet", ready.Last)
	require.Empty(t, ready.Setting)
	require.Equal(t, "To prove.", handover.OpenRun("r", "A", "", &run.State{Station: procedure.Prove}).Condition)
	require.Equal(t, "all passes are done", handover.OpenRun("r", "A", "", &run.State{Station: procedure.HandOver}).Last)
}

// Another one takes over, and has looked at every open run.
func TestWhoTakesOverHasLookedAtEveryRun(t *testing.T) {
	n := handover.Note{Open: []handover.Open{{RunID: "r1", Tag: "SW-114"}, {RunID: "r2", Tag: "TB-212"}}}
	require.NoError(t, n.Takes("tolley", "quaye", []string{"r2", "r1"}))
	require.NoError(t, handover.Note{}.Takes("tolley", "quaye", nil))
	for field, err := range map[string]error{"personId": n.Takes("tolley", "tolley", []string{"r1", "r2"}),
		"confirmed": n.Takes("tolley", "quaye", []string{"r1"})} {
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok)
		require.Equal(t, field, r.Field)
	}
	require.ErrorContains(t, n.Takes("tolley", "quaye", []string{"r1"}), "TB-212")
}
