package run_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
)

// A reading is told as it was typed; its unit is added where what was typed names none.
func TestReadingInWords(t *testing.T) {
	for want, r := range map[string]run.Reading{
		"96 N·m":    {Value: 96, Unit: quantity.NewtonMetre},
		"96.0 N·m":  {Value: 96, Unit: quantity.NewtonMetre, Text: " 96.0 "},
		"71 ft lbf": {Value: 71, Unit: quantity.FootPound, Text: "71 ft lbf"},
		"ca 96":     {Value: 96, Unit: quantity.NewtonMetre, Text: "ca 96"},
		"+12°":      {Value: 12, Unit: "deg", Text: "+12°"},
		"3":         {Value: 3, Text: "3"},
	} {
		require.Equal(t, want, r.Words())
	}
}

// How long nothing was recorded is told in minutes up to two hours, in hours up to two days, then in days.
func TestSilenceIsToldInFittingUnits(t *testing.T) {
	s := ready(t)
	s.Pull()
	last := s.Events[len(s.Events)-1].When()
	pause := time.Duration(s.Plan.HouseRules.PauseMinutes * float64(time.Minute))
	require.Positive(t, pause)
	require.Empty(t, run.Fold(s.Plan, s.Events, last.Add(pause)).Confirm)
	require.NotEmpty(t, run.Fold(s.Plan, s.Events, last.Add(pause+time.Second)).Confirm)
	for after, want := range map[time.Duration]string{119 * time.Minute: "for 119 min.", 2 * time.Hour: "for 2 h.",
		47*time.Hour + 59*time.Minute: "for 47 h.", 48 * time.Hour: "for 2 days.", 80 * time.Hour: "for 3 days."} {
		require.Contains(t, run.Fold(s.Plan, s.Events, last.Add(after)).Confirm, want)
	}
}

// An effort outside its window is told with what was read; a turn that stops short, as what it is.
func TestWhatIsNotFarEnoughIsTold(t *testing.T) {
	s := at(t, "ball_valve_multi", nil, plan.EffortPass)
	low := s.State().Passes[s.State().Pass-1].LowNm
	st := afterPull(s, func(e *run.Event) { e.Reading = newtonMetres(low * 0.5) })
	require.Contains(t, st.LastKept.Text, "not in its window")
	require.Contains(t, st.LastKept.Text, "measured ")
	s = at(t, "tube_fitting", nil, plan.TurnPass)
	st = afterPull(s, func(e *run.Event) { e.TurnedDeg = 1 })
	require.Equal(t, "not far enough", st.LastKept.Text)
}

// A reading on another scale than that of the window is told on both; of stations with names, the one that is out is
// named, the first too.
func TestWhatIsOutIsNamed(t *testing.T) {
	s := at(t, "ball_valve_multi", nil, plan.EffortPass)
	high := s.State().Passes[s.State().Pass-1].HighNm
	said := func(r *run.Reading) string {
		st := afterPull(at(t, "ball_valve_multi", nil, plan.EffortPass), func(e *run.Event) { e.Reading = r })
		return st.Findings[0].What + st.Findings[0].Why
	}
	require.NotContains(t, said(newtonMetres(2*high)), "(")
	ft, err := quantity.Convert(2*high, quantity.NewtonMetre, quantity.FootPound)
	require.NoError(t, err)
	require.Contains(t, said(&run.Reading{Value: ft, Unit: quantity.FootPound, SI: 2 * high}),
		"("+quantity.Text(quantity.Significant(2*high, 4))+" N·m)")
	tried := 0
	for _, f := range procedure.Builtin() {
		p, err := plan.Make(sampleOf(f, nil))
		require.NoError(t, err)
		for _, c := range p.Checks {
			if c.Kind != procedure.Measure || len(c.Names) < 2 || c.Limit == 0 {
				continue
			}
			s := coretest.NewScript(p)
			good := s.Good(c)
			s.Add(run.Event{Kind: run.ReadConfirmed})
			for i := range c.Names {
				out := slices.Clone(good)
				out[i].Value += 10 * c.Limit
				out[i].SI, out[i].Text = out[i].Value, ""
				st := s.Judge(run.Event{Kind: run.CheckAnswered, Check: c.Code, Values: out})
				if cs := checkOf(t, st, c.Code); cs.Status != run.CheckStopped || cs.Worst != i+1 {
					continue
				}
				tried++
				require.Contains(
					t,
					st.Findings[0].What+st.Findings[0].Why,
					c.Names[i]+" is out",
					"%s %s",
					f.Code,
					c.Code,
				)
			}
		}
	}
	require.Positive(t, tried)
}

// What is to be done again is told by pass, whatever was put in between, with the group where there are several.
func TestPassesAskedAgainAreNamed(t *testing.T) {
	ps := func(number int, name, step, group string, open int) run.PassState {
		return run.PassState{Number: number, Name: name, Step: step, Group: group, Open: open, Of: 4}
	}
	list := func(p ...run.PassState) []run.PassState { return p }
	for name, c := range map[string]struct {
		before, after []run.PassState
		want          []string
	}{
		"nothing": {list(ps(1, "a", "s", "g", 0)), list(ps(1, "a", "s", "g", 0)), []string{}},
		"opened":  {list(ps(1, "a", "s", "g", 0)), list(ps(1, "a", "s", "g", 3)), []string{"Pass 1, a: 3 of 4"}},
		"of one group": {list(ps(1, "a", "s", "g", 0), ps(2, "a", "s", "h", 0)),
			list(ps(1, "a", "s", "g", 1), ps(2, "a", "s", "h", 0)), []string{"Pass 1, a: 1 of 4"}},
		"of one step": {list(ps(1, "a", "s", "g", 0), ps(2, "a", "r", "g", 0)),
			list(ps(1, "a", "s", "g", 1), ps(2, "a", "r", "g", 0)), []string{"Pass 1, a: 1 of 4"}},
		"the later of two alike": {list(ps(1, "a", "s", "g", 0), ps(2, "a", "s", "g", 0)),
			list(ps(1, "a", "s", "g", 0), ps(2, "a", "s", "g", 2)), []string{"Pass 2, a: 2 of 4"}},
		"behind one put in": {list(ps(1, "a", "s", "g", 0), ps(2, "b", "s", "g", 0), ps(3, "b", "s", "g", 0)),
			list(ps(1, "n", "s", "g", 4), ps(2, "a", "s", "g", 0), ps(3, "b", "s", "g", 0), ps(4, "b", "s", "g", 2)),
			[]string{"Pass 4, b: 2 of 4", "Pass 1, n: 4 of 4"}},
		"one is gone": {list(ps(1, "a", "s", "g", 0), ps(2, "b", "s", "g", 0)),
			list(ps(1, "b", "s", "g", 0)), []string{}},
	} {
		got := run.AsksAgain(&plan.Plan{}, &run.State{Passes: c.before}, &run.State{Passes: c.after})
		require.Equal(t, c.want, got.Passes, name)
	}
	named := ps(1, "a", "s", "g", 1)
	named.GroupName = "Rim bolts"
	got := run.AsksAgain(&plan.Plan{}, &run.State{}, &run.State{Passes: []run.PassState{named}})
	require.Equal(t, []string{"Pass 1, a (rim bolts): 1 of 4"}, got.Passes)
}
