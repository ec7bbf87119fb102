package run_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/run"
)

func TestRolesThatMayWhatOthersMay(t *testing.T) {
	for role, may := range map[string][]string{
		run.Technician:    {run.Technician},
		run.Inspector:     {run.Inspector},
		run.Engineer:      {run.Engineer},
		run.Administrator: {run.Engineer, run.Administrator},
	} {
		for _, r := range []string{run.Technician, run.Inspector, run.Engineer, run.Administrator} {
			want := false
			for _, m := range may {
				want = want || m == r
			}
			require.Equal(t, want, run.Person{Role: role}.May(r), "%s as %s", role, r)
		}
	}
}
