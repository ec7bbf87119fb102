package authority_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
)

// Who may do what, written out: a role more or fewer must be meant.
func TestWhoMayDoWhat(t *testing.T) {
	may := map[authority.Act]string{
		"sign_tightened":          "yes yes yes yes",
		"sign_proved":             "no yes yes yes",
		"accept_deviation":        "no yes yes yes",
		"start_pass_open":         "no no yes yes",
		"approve_plan":            "no no yes yes",
		"target_without_document": "no no yes yes",
		"judge_doubted_tool":      "no yes yes yes",
		"turn_down":               "no yes yes yes",
		"lift_stop":               "no yes yes yes",
		"waive_small_check":       "yes yes yes yes",
		"waive_check":             "no no yes yes",
	}
	require.Len(t, authority.Acts(), len(may))
	for _, a := range authority.Acts() {
		got := ""
		for _, r := range authority.Roles {
			got += map[bool]string{true: " yes", false: " no"}[authority.May(r, a)]
		}
		require.Equal(t, may[a], got[1:], a)
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
