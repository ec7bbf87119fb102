package schedule_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/schedule"
	"dynacor/core/working"
)

func correct(t *testing.T, ratios ...float64) schedule.Correction {
	t.Helper()
	c, err := schedule.Correct(working.New("x"), schedule.CorrectionInput{Ratios: ratios})
	require.NoError(t, err)
	return c
}

func TestCorrectionFromTheSitesOwnHistory(t *testing.T) {
	c := correct(t, .9, 1.1, 1.2, 1.3, 1.3, 1.5, 2.4)
	require.Equal(t, 7, c.N)
	require.InDelta(t, 1.3, c.Median, 1e-12)
	require.InDelta(t, 1.16538, c.C, 5e-6)
	require.InDelta(t, .22869, c.Sigma, 5e-6)
	require.Equal(t, 63, schedule.PlannedMinutes(54*60, c.C))
	none := correct(t)
	require.Equal(t, schedule.Correction{Median: 1, C: 1, Sigma: .25}, none)
	require.Equal(t, 2, correct(t, .0999, .1, 10, 10.001).N, "what is no estimate of that work is left out")
	long := make([]float64, 60)
	for i := range long {
		long[i] = 2
		if i >= 10 {
			long[i] = 3
		}
	}
	require.Equal(t, 50, correct(t, long...).N)
	require.InDelta(t, 3, correct(t, long...).Median, 1e-12, "the last fifty count")
	require.InDelta(t, 1.5, correct(t, 1, 2).Median, 1e-12)
	_, err := schedule.Correct(working.New("x"), schedule.CorrectionInput{Ratios: []float64{1, 0}})
	require.ErrorContains(t, err, "ratio 2")
	require.Equal(t, 1, schedule.PlannedMinutes(0, 1))
	require.Equal(t, 2, schedule.PlannedMinutes(120, 1))
	require.Equal(t, 3, schedule.PlannedMinutes(120.1, 1))
}

func TestPaceOfWorkUnderWay(t *testing.T) {
	pace, left := schedule.Remaining(40, 52, 60)
	require.InDelta(t, 1.17143, pace, 5e-6)
	require.Equal(t, 71, left)
	pace, left = schedule.Remaining(0, 0, 60)
	require.InDelta(t, 1, pace, 1e-12)
	require.Equal(t, 60, left)
	_, left = schedule.Remaining(40, 40, 0)
	require.Equal(t, 1, left)
}

func foresee(t *testing.T, in *schedule.Instance, s schedule.Spreads) schedule.Forecast {
	t.Helper()
	f, err := schedule.Foresee(in, solve(t, in).Activities, s, schedule.ForecastRuns, 7)
	require.NoError(t, err)
	return f
}

func TestForecastOfOneActivity(t *testing.T) {
	in := made(t, `{"horizon":900,"people":[`+bo+`],"jobs":[{"id":"J","due":110,"activities":[`+
		one("a", 100, `,"deadline":120`)+`]}]}`)
	f := foresee(t, in, schedule.Spreads{Of: map[string]float64{"a": .3}})
	require.InDelta(t, 100, f.P50, 3)
	require.InDelta(t, 128.7, f.P80, 5)
	require.Equal(t, f.P50, f.Jobs[0].P50)
	require.InDelta(t, .625, *f.Jobs[0].Met, .05, "ln 1.1 over 0.3 is 0.318 of a spread")
	require.Len(t, f.Broken, 1)
	require.Equal(t, "deadline", f.Broken[0].Rule)
	require.InDelta(t, .272, f.Broken[0].Share, .05)
	again := foresee(t, in, schedule.Spreads{Of: map[string]float64{"a": .3}})
	require.Equal(t, f, again)
	sure := foresee(t, in, schedule.Spreads{Of: map[string]float64{"a": 0}})
	require.Equal(t, 100, sure.P80)
	require.Empty(t, sure.Broken)
	both := foresee(t, in, schedule.Spreads{Of: map[string]float64{"a": 0}, Common: .3})
	require.InDelta(t, 128.7, both.P80, 5, "a slow day is slow for all")
}

// The order of everybody stays, what is later waits, and what breaks is counted: the break of a crew, the life of a
// lubricant, the end of a shift.
func TestForecastKeepsTheOrderOfThePlan(t *testing.T) {
	in := made(t, `{"horizon":700,"people":[{"id":"Bo","skills":[{"skill":"fit"}],"open":[[0,200],[260,700]]}],
		"jobs":[{"id":"J","activities":[`+one("lube", 20, "")+`,`+one("pass", 100, "")+`,`+one("last", 60, "")+`]}],
		"links":[{"from":"lube","to":"pass"},{"id":"life","from":"lube","to":"pass","to_at":"end","max":130},
		{"from":"pass","to":"last"}]}`)
	f := foresee(t, in, schedule.Spreads{Of: map[string]float64{"lube": 0, "pass": .25, "last": 0}})
	require.InDelta(t, 180, f.P50, 3, "over in time for the break")
	require.Equal(t, 320, f.P80, "or after it")
	require.Len(t, f.Broken, 1)
	require.Equal(t, "life", f.Broken[0].What)
	require.InDelta(t, .147, f.Broken[0].Share, .04, "ln 1.3 over 0.25")
}

func TestForecastGoesOnWhereCalendarsEnd(t *testing.T) {
	in := made(t, `{"horizon":1500,"people":[{"id":"Bo","skills":[{"skill":"fit"}],"open":[[0,100]]}],"jobs":[{"id":"J",
		"activities":[`+one("a", 60, "")+`,`+one("b", 40, "")+`]}],"links":[{"from":"a","to":"b"}]}`)
	f := foresee(t, in, schedule.Spreads{Of: map[string]float64{"a": .2, "b": 0}})
	require.Equal(t, 1480, f.P80, "the next day is as the last one")
	begun := made(t, `{"horizon":900,"now":50,"people":[`+bo+`],"jobs":[{"id":"J","activities":[`+one("a", 100, "")+`]}],
		"begun":[{"activity":"a","mode":"m","start":0,"end":150,"people":["Bo"],"tools":[]}]}`)
	f = foresee(t, begun, schedule.Spreads{Of: map[string]float64{"a": .3}})
	require.InDelta(t, 150, f.P50, 3, "only what is left of it varies")
	require.InDelta(t, 178.7, f.P80, 5)
	large := shutdown(30, 5)
	f, err := schedule.Foresee(large, solve(t, large).Activities, schedule.UsualSpreads(), 100, 1)
	require.NoError(t, err)
	require.Len(t, f.Jobs, 30)
	require.Less(t, f.P50, f.P80)
	_, err = schedule.Foresee(large, []schedule.Planned{{Activity: "nobody"}}, schedule.UsualSpreads(), 10, 1)
	require.ErrorContains(t, err, "unknown")
}
