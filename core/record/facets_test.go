package record_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/record"
	"dynacor/core/run"
)

func facets(r record.Record, added ...record.Addition) []string {
	var out []string
	for _, f := range r.Facets(added) {
		out = append(out, f.String())
	}
	return out
}

// A record is found by who, with what, of which batch and what was out; what was taken back does not count.
func TestFacetsOfARecord(t *testing.T) {
	rec, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	list := facets(rec)
	for _, want := range []string{"person:M. Tolley", "person:R. Abara", "tool:W-40", "batch:B7", "lubricant:Light oil",
		"gasket:G-03 aramid 2 mm", "family:gasketed flange", "verdict:accepted", "area:Cooling house", "document:TS2-SW-031"} {
		require.Contains(t, list, want)
	}
	for _, f := range list {
		require.False(t, strings.HasPrefix(f, "finding:"), f)
		require.False(t, strings.HasPrefix(f, "added:"), f)
		parsed, ok := record.ParseFacet(f)
		require.True(t, ok)
		require.Equal(t, f, parsed.String())
	}
	require.IsIncreasing(t, list, "sorted, each once")
	for _, none := range []string{"", "tool", "tool:", "other:x"} {
		_, ok := record.ParseFacet(none)
		require.False(t, ok, none)
	}

	for i := range rec.Events {
		if e := rec.Events[i].Event; e.Batch != "" {
			rec.State.TakenBack = append(rec.State.TakenBack, e.ID)
		}
	}
	require.NotContains(t, facets(rec), "batch:B7", "taken back")

	rec.State.Deviations = []run.Deviation{{Code: "out_of_order"}, {Code: "wrench_"}}
	rec.Plan.Specification.Document = strings.Repeat("ü", 200)
	list = facets(rec, record.Addition{Kind: record.Retorque, Person: run.Person{Name: "B. Ode"}, Tool: "W-52",
		Verdict: record.MovedPast}, record.Addition{Kind: record.Finding, Person: run.Person{Name: "B. Ode"}})
	for _, want := range []string{"finding:out of order", "finding:wrench", "finding:moved at a re-torque", "added:Re-torque",
		"added:Finding in service", "person:B. Ode", "tool:W-52", "document:" + strings.Repeat("ü", 120)} {
		require.Contains(t, list, want)
	}
}
