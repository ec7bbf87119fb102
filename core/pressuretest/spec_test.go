package pressuretest_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/pressuretest"
)

// Every rule of the layout, at its limit and past it.
func TestSpecIsRefusedByField(t *testing.T) {
	type change func(*pressuretest.Spec)
	for field, c := range map[string]struct{ good, bad change }{
		"title":         {func(s *pressuretest.Spec) { s.Title = "abc" }, func(s *pressuretest.Spec) { s.Title = "ab" }},
		"procedure":     {func(s *pressuretest.Spec) { s.Procedure = "T1" }, func(s *pressuretest.Spec) { s.Procedure = "1" }},
		"joints":        {func(*pressuretest.Spec) {}, func(s *pressuretest.Spec) { s.Joints = []string{"A", "A"} }},
		"testBar":       {func(s *pressuretest.Spec) { s.DesignBar = 24 }, func(s *pressuretest.Spec) { s.DesignBar = 24.1 }},
		"mostBar":       {func(s *pressuretest.Spec) { s.MostBar = 24 }, func(s *pressuretest.Spec) { s.MostBar = 23.9 }},
		"lossBar":       {func(s *pressuretest.Spec) { s.LossBar = 12 }, func(s *pressuretest.Spec) { s.LossBar = 0 }},
		"gauge.tag":     {func(*pressuretest.Spec) {}, func(s *pressuretest.Spec) { s.Gauge.Tag = "" }},
		"gauge.markBar": {func(*pressuretest.Spec) {}, func(s *pressuretest.Spec) { s.Gauge.Mark = 0 }},
		"gauge.checkBy": {func(*pressuretest.Spec) {}, func(s *pressuretest.Spec) { s.Gauge.CheckBy = "soon" }},
		"barPerC":       {func(s *pressuretest.Spec) { s.BarPerC = 0 }, func(s *pressuretest.Spec) { s.BarPerC = 21 }},
		"kind":          {func(*pressuretest.Spec) {}, func(s *pressuretest.Spec) { s.Kind = "steam" }},
		"steps": {func(s *pressuretest.Spec) { s.Steps = s.Steps[1:] }, func(s *pressuretest.Spec) {
			s.Steps = s.Steps[:1]
		}},
		"steps[1].bar": {func(*pressuretest.Spec) {}, func(s *pressuretest.Spec) { s.Steps[1].Bar = 23 }},
		"steps[2].bar": {func(*pressuretest.Spec) {}, func(s *pressuretest.Spec) { s.Steps[2].Bar = 24 }},
		"steps[0].min": {func(s *pressuretest.Spec) { s.Steps[0].Min = 0 }, func(s *pressuretest.Spec) {
			s.Steps[0].Min = -1
		}},
	} {
		s := water()
		c.good(&s)
		require.NoError(t, s.Check(), field)
		c.bad(&s)
		refused(t, s.Check(), field)
	}
	for end, ok := range map[float64]bool{35.9: false, 36: true, 96: true, 96.1: false} {
		s := water()
		s.Gauge.Range = end
		require.Equal(t, ok, s.Check() == nil, end)
	}
	s := air()
	s.Steps[len(s.Steps)-2].Look = true
	refused(t, s.Check(), fmt.Sprintf("steps[%d].look", len(s.Steps)-2))
	s = air()
	s.Barriers = nil
	refused(t, s.Check(), "barriers")
	s = air()
	s.VolumeM3 = 0
	refused(t, s.Check(), "volumeM3")
}

func TestUsualStepsAreOnesThatAreTaken(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := water()
		s.DesignBar = float64(rapid.IntRange(1, 300).Draw(t, "design"))
		s.TestBar = s.DesignBar * rapid.SampledFrom([]float64{1, 1.1, 1.25, 1.5}).Draw(t, "factor")
		s.MostBar, s.LossBar, s.Gauge.Range = s.TestBar*1.1, .01, 2*s.TestBar
		s.Gauge.Mark = .01
		if rapid.Bool().Draw(t, "gas") {
			s.Kind, s.VolumeM3, s.ZoneM, s.Barriers = pressuretest.Pneumatic, .1, 1e4, []string{"rope"}
		}
		var err error
		s.Steps, err = pressuretest.Usual(s.Kind, s.DesignBar, s.TestBar, 15)
		require.NoError(t, err)
		require.NoError(t, s.Check())
	})
}

func TestPlanIsDrawnFromNothingToNothing(t *testing.T) {
	require.Equal(t, []pressuretest.PlanPoint{{Min: 0, Bar: 0}, {Min: 5, Bar: 12}, {Min: 15, Bar: 12}, {Min: 20, Bar: 24},
		{Min: 50, Bar: 24}, {Min: 55, Bar: 16}, {Min: 75, Bar: 16}, {Min: 80, Bar: 0}}, water().Planned())
	require.Empty(t, pressuretest.Spec{}.Planned())
	list := pressuretest.Spec{Kind: pressuretest.Vacuum, Steps: []pressuretest.Step{{Bar: .1, Min: 1}}}.Planned()
	require.InDelta(t, 1.01325, list[0].Bar, 0)
}
