package authority_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
)

// Who may do what, written out: a role more or fewer must be meant.
func TestWhoMayDoWhat(t *testing.T) {
	may := map[authority.Act]string{ // technician, tool keeper, lead, inspector, engineer, administrator
		"sign_tightened":          "yes no yes yes yes yes",
		"sign_proved":             "no no no yes yes yes",
		"sign_hold":               "no no yes yes yes yes",
		"waive_witness":           "no no no yes yes yes",
		"accept_deviation":        "no no no yes yes yes",
		"start_pass_open":         "no no no no yes yes",
		"approve_plan":            "no no no no yes yes",
		"approve_procedure":       "no no no no yes yes",
		"target_without_document": "no no no no yes yes",
		"judge_doubted_tool":      "no no no yes yes yes",
		"turn_down":               "no no no yes yes yes",
		"lift_stop":               "no no yes yes yes yes",
		"waive_small_check":       "yes no yes yes yes yes",
		"waive_check":             "no no no no yes yes",
		"add_to_record":           "yes no yes yes yes yes",
		"correct_record":          "no no no yes yes yes",
		"plan_test":               "no no yes yes yes yes",
		"lead_test":               "yes no yes yes yes yes",
		"witness_test":            "no no no yes yes yes",
	}
	require.Len(t, authority.Acts(), len(may))
	for _, a := range authority.Acts() {
		got := ""
		for _, r := range authority.Roles {
			got += map[bool]string{true: " yes", false: " no"}[authority.May(r, a)]
		}
		require.Equal(t, may[a], got[1:], a)
		require.NotEmpty(t, a.Words(), a)
	}
	require.False(t, authority.May(authority.Administrator, "something else"))
	require.False(t, authority.May("", authority.SignTightened))
}

func TestAnAdministratorMayWhatAnEngineerMay(t *testing.T) {
	for _, role := range authority.Roles {
		for _, needed := range authority.Roles {
			want := role == needed || role == authority.Administrator && needed == authority.Engineer
			require.Equal(t, want, authority.Covers(role, needed), "%s as %s", role, needed)
		}
		require.False(t, authority.Covers(role))
	}
}

// Somebody with several roles may what each of them may, and no more.
func TestSeveralRoles(t *testing.T) {
	for _, one := range authority.Roles {
		for _, two := range authority.Roles {
			both, ok := authority.Written([]string{two, one})
			require.True(t, ok)
			for _, a := range authority.Acts() {
				require.Equal(t, authority.May(one, a) || authority.May(two, a), authority.May(both, a), "%s: %s", both, a)
			}
		}
	}
	line, ok := authority.Written([]string{authority.Lead, authority.Technician, authority.Lead})
	require.True(t, ok)
	require.Equal(t, "technician, lead", line)
	require.Equal(t, []string{"technician", "lead"}, authority.Held(line))
	for _, bad := range [][]string{nil, {"boss"}, {authority.Lead, ""}} {
		_, ok := authority.Written(bad)
		require.False(t, ok, "%v", bad)
	}
}
