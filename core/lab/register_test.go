package lab_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/lab"
	"dynacor/core/layout"
	"dynacor/core/plan"
)

// A joint of the register brings what its plan knows; what does not stand on one circle is outside the model.
func TestJointOfTheRegister(t *testing.T) {
	p, err := plan.Make(coretest.Input())
	require.NoError(t, err)
	s, err := lab.FromPlan(p)
	require.NoError(t, err)
	require.Equal(t, p.First().Layout.Count, s.Bolts)
	require.Equal(t, p.First().Thread.Text, s.Thread)
	require.InDelta(t, p.First().PreloadKN, s.TargetKN, .01*s.TargetKN)
	require.Greater(t, s.YieldKN, s.TargetKN)
	require.Equal(t, p.HouseRules.SecondsPerPull, s.PullSeconds)
	j, err := lab.Of(s)
	require.NoError(t, err)
	_, err = j.Play(ctx, crossed)
	require.NoError(t, err)

	way, ok := lab.Planned(p)
	require.True(t, ok)
	require.Equal(t, "cross", way.School)
	require.Equal(t, 100., way.Stages[len(way.Stages)-1])
	require.Equal(t, 1, way.Rounds, "the round until no nut turns")
	_, err = j.Play(ctx, way)
	require.NoError(t, err)

	in := coretest.Input()
	in.Choices = plan.Pick(plan.GroupChoices{OwnTargets: []float64{100, 110, 96, 115, 104, 108, 98, 102}})
	compensated, err := plan.Make(in)
	require.NoError(t, err)
	own, ok := lab.Planned(compensated)
	require.True(t, ok)
	require.InDelta(t, 1.15*p.First().PreloadKN, own.Targets["4"], 1e-6)
	require.Contains(t, own.Word(), "compensated")
	c, err := lab.ChangeOf(ctx, p, compensated)
	require.NoError(t, err)
	require.Nil(t, c, "stages and order stay")
	in = coretest.Input()
	in.HouseRules.Scheme = "50_80_100"
	changed, err := plan.Make(in)
	require.NoError(t, err)
	c, err = lab.ChangeOf(ctx, p, changed)
	require.NoError(t, err)
	require.Equal(t, []float64{50, 80, 100}, c.Now.Stages)
	require.Contains(t, c.Says, "Before on the left")

	other := *p
	other.Groups = append([]plan.FastenerGroup{}, p.Groups...)
	other.Groups[0].Layout = layout.Layout{Kind: layout.Rectangle, Count: 12}
	_, err = lab.FromPlan(&other)
	require.ErrorContains(t, err, "outside the model")
	other.Groups[0].Layout = p.Groups[0].Layout
	other.Groups[0].PreloadKN = 0
	_, err = lab.FromPlan(&other)
	require.ErrorContains(t, err, "no bolt force")
}
