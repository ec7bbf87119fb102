package run

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/working"
)

// Every rule says what is out, and no wording belongs to no rule.
func TestEveryRuleHasItsWording(t *testing.T) {
	used := map[string]bool{}
	for _, r := range Rules() {
		used[r.Key()] = true
		w, ok := english[r.Key()]
		require.True(t, ok, r.Key())
		require.Equal(t, r.Severity != "", w.What != "", "%s: a finding says what", r.Key())
		require.Equal(t, r.Closing != "", w.Deviation != "", "%s: a deviation says what", r.Key())
		require.Equal(t, r.SetAgain, w.SetAgain != "", "%s: why the setting is made again", r.Key())
		require.True(t, r.Severity != "" || r.Closing != "", "%s leaves something", r.Key())
		if r.Mark != MarkNone {
			require.True(t, r.Last, "%s leaves a mark only with the last word", r.Key())
		}
	}
	for key := range english {
		require.True(t, used[key], "%s is the wording of no rule", key)
	}
}

// A deviation that bringing the fastener up again puts right is one that a rule closes so, whatever code it is kept
// under.
func TestWhatReworkPutsRight(t *testing.T) {
	for _, code := range []string{"over", "wrong_setting", "wrong_stage", "clicked_still", "trace_yielded",
		"trace_already_tight"} {
		require.True(t, reworked[working.Code(code)], code)
	}
	for _, code := range []string{"held", "not_ready", "no_torque", "gate", "repeated", "check_escalate", "raised:gap",
		"wrench_calibration"} {
		require.False(t, reworked[working.Code(code)], code)
	}
}
