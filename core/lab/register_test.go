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
