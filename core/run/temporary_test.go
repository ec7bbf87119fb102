package run_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// What is in or out for a while is told with the check by which it must change back, from the one to the other; at the
// end of the work of any family nothing is left part-way.
func TestWhatIsPartWayIsTold(t *testing.T) {
	seen := map[string]bool{}
	for _, f := range procedure.Builtin() {
		for _, v := range coretest.Variants(f) {
			p, err := plan.Make(sampleOf(f, v))
			require.NoError(t, err)
			s := coretest.NewScript(p)
			s.Add(run.Event{Kind: run.ReadConfirmed})
			for range 3000 {
				if !s.Due() {
					break
				}
				for _, x := range s.State().Temporary {
					seen[x.Item+" "+x.Is] = true
					require.NotEmpty(t, x.Until)
				}
			}
			st := s.State()
			require.Equal(t, run.Accepted, st.Verdict.Code, f.Code)
			for _, x := range st.Temporary { // what only the hand-over takes away
				c, ok := titled(p, x.Until)
				require.True(t, ok)
				require.Equal(t, procedure.HandOver, c.Station, "%s: %s is %s and nobody asks for it", f.Code, x.Item, x.Is)
			}
			s.Checks(procedure.HandOver)
			require.Empty(t, s.State().Temporary, f.Code)
		}
	}
	for _, want := range []string{"alignment plug of face A in", "meter sleeve out", "guide tool in",
		"spreading bolt in", "assembly jig in", "temporary supports in"} {
		require.True(t, seen[want], "%s is never told", want)
	}
}

func titled(p *plan.Plan, title string) (procedure.Check, bool) {
	for _, c := range p.Checks {
		if c.Title == title {
			return c, true
		}
	}
	return procedure.Check{}, false
}
