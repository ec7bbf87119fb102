package docs

import (
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
	"dynacor/internal/procedures"
)

// The worked example is a procedure without a fault. Joints planned by it, in every variant, are led to both
// signatures; its leak test fails once, and the work that the remedy promises is led before it is tight.
func TestWorkedExampleOfAProcedureRuns(t *testing.T) {
	page, err := os.ReadFile("procedures.md")
	require.NoError(t, err)
	_, text, ok := strings.Cut(string(page), "```yaml\n")
	require.True(t, ok)
	text, _, ok = strings.Cut(text, "```")
	require.True(t, ok)
	fam, faults := procedures.Read([]byte(text))
	require.Empty(t, faults)
	for _, inside := range []string{"closed", "entered"} {
		in := coretest.Input()
		in.Joint.Family, in.Family = fam.Code, fam
		in.Specification = plan.Sample(fam, map[string]string{"inside": inside})
		p, err := plan.Make(in)
		require.NoError(t, err)
		require.Empty(t, p.ToBeSupplied)
		_, asked := p.Check("nobody_inside")
		require.Equal(t, inside == "entered", asked)

		s := coretest.NewScript(p)
		s.Finish()
		require.Empty(t, s.State().OpenItems, inside)
		require.Equal(t, run.Accepted, s.State().Verdict.Code)

		s = coretest.NewScript(p)
		s.Ready()
		s.Tighten()
		rim, _ := p.Check("rim")
		s.Answer(rim)
		leak, _ := p.Check("leak")
		bad := s.Right(leak)
		bad.Answer = "no"
		s.Add(bad)
		st := s.State()
		require.NotEqual(t, run.CheckCleared, st.Check("cord").Status, "a new cord is looked at")
		require.NotZero(t, st.Pass, "and the cover is tightened again")
		for s.State().Verdict.Code != run.Accepted && s.Due() {
		}
		require.Equal(t, run.Accepted, s.State().Verdict.Code)
		pulls := 0
		for _, e := range s.Events {
			if e.Kind == run.Pulled {
				pulls++
			}
		}
		require.Equal(t, 2*4*8, pulls, "by hand, half, full and the round, for eight bolts, twice")
	}
	require.NotNil(t, fam.Apart)
	for _, whole := range []bool{true, false} { // and without its own way, by what it says
		if !whole {
			fam.Apart = nil
		}
		in := coretest.Input()
		in.Joint.Family, in.Family, in.Apart = fam.Code, fam, true
		in.Specification = plan.Sample(fam, map[string]string{"inside": "closed"})
		p, err := plan.Make(in)
		require.NoError(t, err)
		_, asked := p.Check("cracked")
		require.Equal(t, whole, asked)
		s := coretest.NewScript(p)
		s.Finish()
		require.Equal(t, "Taken apart", s.State().Verdict.Word)
		require.Empty(t, s.State().OpenItems)
	}
	require.NotContains(t, names(procedure.Builtin()), fam.Code, "it is the site's own")
}

func names(list []procedure.Family) (out []string) {
	for _, f := range list {
		out = append(out, f.Code)
	}
	return out
}
