package plan_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

func lastStage(p *plan.Plan) plan.Pass {
	i := len(p.Passes) - 1
	for p.Passes[i].Kind != plan.StagePass {
		i--
	}
	return p.Passes[i]
}

// Own targets stand in the last stage alone, each with the mark that it falls on, and an engineer must accept them.
func TestOwnTargetsOfTheLastStage(t *testing.T) {
	in := coretest.Input()
	in.Choices = plan.Pick(plan.GroupChoices{OwnTargets: []float64{100, 110, 96, 115, 100, 108, 97, 101}})
	p, err := plan.Make(in)
	require.NoError(t, err)
	require.True(t, p.Complete())
	ps := lastStage(p)
	require.Len(t, ps.Own, 8)
	for i, pct := range in.Choices.Of("", true).OwnTargets {
		o, ok := ps.Own.Of(i + 1)
		require.True(t, ok)
		require.Equal(t, pct, o.Percent)
		require.InDelta(t, 300*pct/100, o.Setting, 1, "on a mark of 2")
		require.InDelta(t, o.Setting, float64(o.TorqueNm), 1e-9)
	}
	low, high := ps.Own.Span()
	require.Equal(t, []float64{96, 115}, []float64{low, high})
	_, ok := ps.Own.Of(9)
	require.False(t, ok)
	for _, other := range p.Passes {
		if other.Number != ps.Number {
			require.Empty(t, other.Own, other.Name)
		}
	}
	require.Contains(t, p.NeedsApproval, "Own targets for each bolt, 96 to 115 % of the document's")
	require.Contains(t, ps.Why, "what its neighbours take later")
	require.True(t, slices.ContainsFunc(p.Workings, func(w *working.Working) bool { return w.Title == "Own targets on the scale of W-40" }))

	plain, err := plan.Make(coretest.Input())
	require.NoError(t, err)
	require.Empty(t, lastStage(plain).Own)
	low, high = lastStage(plain).Own.Span()
	require.Zero(t, low+high)
}

func TestOwnTargetsAreChecked(t *testing.T) {
	alike := func(pct float64) []float64 { return slices.Repeat([]float64{pct}, 8) }
	for why, own := range map[string][]float64{
		"are 7, for 8": alike(100)[:7], "have 49 %": alike(49), "have 251 %": alike(251),
		"yield bolt 8": append(alike(100)[:7], 250),
	} {
		in := coretest.Input()
		in.Choices = plan.Pick(plan.GroupChoices{OwnTargets: own})
		_, err := plan.Make(in)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, why)
		require.Equal(t, "ownTargets", r.Field)
		require.Contains(t, r.Why, why)
	}
	low := coretest.Input()
	low.Specification.Groups[0].Target.Nominal = 100
	for _, pct := range []float64{50, 250} {
		low.Choices = plan.Pick(plan.GroupChoices{OwnTargets: append(alike(100)[:7], pct)})
		_, err := plan.Make(low)
		require.NoError(t, err, "%g %%", pct)
	}
	// a wrench that the highest would be too much for does not fit
	in := coretest.Input()
	in.Choices = plan.Pick(plan.GroupChoices{OwnTargets: append(alike(100)[:7], 140)})
	require.Contains(t, problems(in), "above_range")
	in.Choices = plan.Pick(plan.GroupChoices{OwnTargets: append(alike(100)[:7], 130)})
	require.NotContains(t, problems(in), "above_range")
}

// problems of the made-up wrench for a plan.
func problems(in plan.Input) []string {
	in.Tools = []tool.Tool{coretest.Wrench()}
	p, err := plan.Make(in)
	if err != nil {
		return []string{err.Error()}
	}
	var out []string
	_, list := p.Fit(p.First(), tool.Alone(coretest.Wrench()), 0, coretest.Day)
	for _, x := range list {
		out = append(out, x.Code)
	}
	return out
}
