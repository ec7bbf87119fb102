package report

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
)

// A joint that was led as a one-off says on its certificate that it was looked over and not measured, and claims no gap.
func TestCertificateOfAOneOffSaysSo(t *testing.T) {
	v := view(t, (*coretest.Script).Finish)
	in := coretest.Input()
	in.Specification.Variant = map[string]string{"led": "one_off"}
	p, err := plan.Make(in)
	require.NoError(t, err)
	s := coretest.NewScript(p)
	s.Finish()
	require.Empty(t, s.State().OpenItems)
	v.Record.Plan, v.Record.State, v.Record.Events = p, s.State(), nil
	text := words(t, certificate(t, v))
	require.Contains(t, text, "Gasketed pipe flange, as a one-off")
	require.Contains(t, text, "One-off, looked over and not")
	require.NotContains(t, text, "Gap before bolting")
	require.NotContains(t, text, "Isolation")
}
