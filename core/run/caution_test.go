package run_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
)

// Every caution of every family is told before the act that it is about, in some variant; all of them on the start
// card.
func TestEveryCautionIsToldBeforeTheAct(t *testing.T) {
	for _, f := range procedure.Builtin() {
		t.Run(f.Code, func(t *testing.T) {
			t.Parallel()
			told, where := map[string]bool{}, map[string]bool{}
			for _, v := range coretest.Variants(f) {
				p, err := plan.Make(sampleOf(f, v))
				require.NoError(t, err)
				s := coretest.NewScript(p)
				for range 3000 {
					st := s.State()
					for _, text := range st.Cautions {
						told[text], where[string(st.Station)] = true, true
						if st.Pass > 0 && st.Station == procedure.Tighten {
							require.Zero(t, st.Passes[st.Pass-1].Done, "told when the step has begun: %s", text)
						}
					}
					if !s.Due() {
						break
					}
				}
				for _, c := range p.Checks {
					for _, text := range c.Cautions {
						told[text] = told[text] || c.Code != "start_card"
					}
					if c.Code == "start_card" {
						require.Equal(t, p.Cautions, c.Cautions)
					}
				}
				for _, text := range p.CautionsAt[procedure.Loosening] {
					told[text] = true
				}
			}
			for _, text := range f.Cautions {
				says, at := procedure.Caution(text)
				require.True(t, told[says], "never told: %s", says)
				require.NotEmpty(t, at)
				require.Contains(t, text, " @ ", "bound to its place")
			}
		})
	}
}

func TestCautionIsToldOnceAtItsStep(t *testing.T) {
	s := script(t)
	s.Ready()
	st := s.State()
	require.Equal(t, procedure.Tighten, st.Station)
	require.True(t, slices.ContainsFunc(st.Cautions, func(c string) bool {
		return c == "One person turns, the other keeps clear."
	}), "%v", st.Cautions)
	require.NotContains(t, st.Cautions, "Keep hands out of the gap while bolts go in.", "that is past")
	s.Pull()
	require.Empty(t, s.State().Cautions)
	c, _ := s.Plan.Check("gasket_seated")
	require.Equal(t, []string{"Keep hands out of the gap while bolts go in."}, c.Cautions)
	require.Equal(t, []string{"Keep hands out of the gap while bolts go in."}, s.Plan.CautionsAt[procedure.Loosening])

	f, err := procedure.ByCode("gasketed_flange")
	require.NoError(t, err)
	f.Cautions = []string{"Mind the step @ step/stairs", "Mind it @ lunch", " @ tighten", "Mind it"}
	var paths []string
	for _, x := range f.Faults() {
		paths = append(paths, x.Path)
	}
	require.Equal(t, []string{"cautions[0].needs[0]", "cautions[1]", "cautions[2]"}, paths)
	says, at := procedure.Caution("Mind it")
	require.Equal(t, "Mind it", says)
	require.Equal(t, []string{"tighten"}, at, "one that names no place")
}
