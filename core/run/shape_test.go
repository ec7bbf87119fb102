package run_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
)

// at carries a family, in a variant, to the first pass of a kind, with everything before it right.
func at(t *testing.T, family string, variant map[string]string, kind plan.PassKind) *coretest.Script {
	t.Helper()
	f, err := procedure.ByCode(family)
	require.NoError(t, err)
	p, err := plan.Make(sampleOf(f, variant))
	require.NoError(t, err)
	s := coretest.NewScript(p)
	s.Ready()
	for range 500 {
		s.Gates()
		st := s.State()
		require.NotZero(t, st.Pass, "%s has no pass of kind %s", family, kind)
		if st.Passes[st.Pass-1].Kind == kind {
			return s
		}
		s.Pull()
	}
	t.Fatal("never there")
	return nil
}

// afterPull adds what was done to the next fastener and gives the state after it.
func afterPull(s *coretest.Script, change func(*run.Event)) *run.State {
	st := s.State()
	e := run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener, Outcome: st.Done, Setting: st.Setting}
	change(&e)
	s.Add(e)
	return s.State()
}

func found(st *run.State, code string) bool {
	for _, f := range st.Findings {
		if string(f.Code) == code {
			return true
		}
	}
	return false
}

func newtonMetres(v float64) *run.Reading {
	return &run.Reading{Value: v, Unit: quantity.NewtonMetre, SI: v, Text: quantity.Text(v) + " N·m"}
}

func TestEffortIsAdjustedUntilItLiesInItsWindow(t *testing.T) {
	s := at(t, "ball_valve_multi", nil, plan.EffortPass)
	pass := s.State().Pass
	low, high := s.State().Passes[pass-1].LowNm, s.State().Passes[pass-1].HighNm
	require.Less(t, low, high)
	st := afterPull(s, func(e *run.Event) { e.Reading = newtonMetres(high * 1.3) })
	require.True(t, found(st, "effort_high"))
	require.Equal(t, pass, st.Pass)
	require.Contains(t, st.Next.Why, "adjust and measure again")
	require.Contains(t, st.Exceptions[0], "outside its window")
	st = afterPull(s, func(e *run.Event) { e.Reading = newtonMetres(low * 0.7) })
	require.True(t, found(st, "effort_low"))
	require.Len(t, st.Passes[pass-1].Tries, 2, "every try stays")
	st = afterPull(s, func(e *run.Event) { e.Reading = nil })
	require.True(t, found(st, "no_reading"))
	st = afterPull(s, func(e *run.Event) {
		e.Reading = &run.Reading{Value: (low + high) / 2 / 1.3558179483314004, Unit: quantity.FootPound,
			Text: "in the other unit"}
	})
	require.Zero(t, st.Pass, "a reading in another unit is held against the same window")
	require.Len(t, st.Passes[pass-1].NotRight, 2)
	require.Empty(t, st.Deviations, "adjusting is the way of the work and no deviation")
}

func TestEffortAtTheEndsOfItsWindowIsInside(t *testing.T) {
	for _, end := range []func(run.PassState) float64{func(p run.PassState) float64 { return p.LowNm },
		func(p run.PassState) float64 { return p.HighNm }} {
		s := at(t, "ball_valve_multi", nil, plan.EffortPass)
		st := s.State()
		v := end(st.Passes[st.Pass-1])
		require.Zero(t, afterPull(s, func(e *run.Event) { e.Reading = newtonMetres(v) }).Pass)
	}
}

func TestTurnIsHeldAgainstItsMark(t *testing.T) {
	first := map[string]string{"make": "first"}
	for _, c := range []struct {
		off  float64
		mark run.Mark
		code string
	}{{0, run.MarkDone, ""}, {15, run.MarkDone, ""}, {-15, run.MarkDone, ""}, {-15.5, run.MarkShort, "short"},
		{15.5, run.MarkOver, "over"}, {-40, run.MarkShort, "short"}, {40, run.MarkOver, "over"}} {
		s := at(t, "tube_fitting", first, plan.TurnPass)
		was := s.State()
		asked := was.Passes[was.Pass-1].TurnDeg
		require.Positive(t, asked)
		st := afterPull(s, func(e *run.Event) { e.TurnedDeg = asked + c.off })
		marks := st.Fasteners[0].Marks
		require.Equal(t, c.mark, marks[len(marks)-1], "%+v", c)
		if c.code != "" {
			require.True(t, found(st, c.code), "%+v", c)
		}
		require.Equal(t, c.mark == run.MarkOver, len(st.Deviations) > 0,
			"only what is turned too far departs from the plan: %+v", c)
		if c.mark == run.MarkShort {
			require.Contains(t, st.Next.Why, "turn it on")
			require.Zero(t, afterPull(s, func(e *run.Event) { e.TurnedDeg = asked }).Pass, "turned on to its mark")
		}
	}
}

func TestMarkIsLookedAtBeforeTheTurn(t *testing.T) {
	f, err := procedure.ByCode("tube_fitting")
	require.NoError(t, err)
	p, err := plan.Make(sampleOf(f, map[string]string{"make": "first"}))
	require.NoError(t, err)
	s := coretest.NewScript(p)
	s.Ready()
	s.Pull()
	st := s.State()
	require.Equal(t, []string{"marked_six"}, st.Gates)
	s.Add(run.Event{Kind: run.Pulled, Pass: 2, Fastener: 1, Outcome: run.Turned, TurnedDeg: p.Passes[1].TurnDeg})
	st = s.State()
	require.True(t, found(st, "gate"), "a turn before the mark was looked at is a stop")
	require.Len(t, st.Deviations, 1)
	require.Contains(t, st.Deviations[0].What, "before \"Mark at six o'clock\" was cleared")
	require.Equal(t, run.DeviationOpen, st.Deviations[0].Status)
}

// What must not be torqued stays so: a torque there is a stop that an engineer decides on.
func TestTorqueWhereThereMustBeNoneIsAStop(t *testing.T) {
	s := at(t, "pressure_closure", map[string]string{"seals": "old"}, plan.LeavePass)
	st := afterPull(s, func(e *run.Event) { e.Outcome, e.Reading = run.Reached, newtonMetres(40) })
	require.True(t, found(st, "no_torque"))
	require.Len(t, st.Deviations, 1)
	require.Equal(t, run.DeviationOpen, st.Deviations[0].Status)
	require.Contains(t, st.Deviations[0].What, "must not be")
}

func TestTurnsGoOnUntilBothHaveReachedTheTorque(t *testing.T) {
	s := at(t, "hose_clamp", nil, plan.TurnsPass)
	s.Confirm()
	round := func(outcomes ...run.Outcome) *run.State {
		var st *run.State
		for _, o := range outcomes {
			st = afterPull(s, func(e *run.Event) {
				if e.Outcome = o; o == run.Turned {
					e.TurnedDeg = 360
				}
			})
		}
		return st
	}
	kind := func(st *run.State) plan.PassKind { return st.Passes[st.Pass-1].Kind }
	require.Equal(t, plan.TurnsPass, kind(round(run.Turned, run.Turned)), "nobody has clicked: another turn on each")
	require.Equal(t, plan.TurnsPass, kind(round(run.Clicked, run.Turned)), "one has clicked, the other not")
	require.NotEqual(t, plan.TurnsPass, kind(round(run.Clicked, run.Clicked)), "both have")
}

func TestWhatIsTakenOffAgainIsShownAsOff(t *testing.T) {
	s := at(t, "gearbox", nil, plan.UndoPass)
	before := s.State().Next.Fastener
	require.Positive(t, s.State().Fasteners[before-1].Fraction)
	st := afterPull(s, func(*run.Event) {})
	require.Zero(t, st.Fasteners[before-1].Fraction)
}

func TestHandAndShapeCanFallShort(t *testing.T) {
	s := at(t, "ball_valve_multi", nil, plan.ShapePass)
	st := afterPull(s, func(e *run.Event) { e.Outcome = run.Short })
	require.True(t, found(st, "short"))
	require.Contains(t, st.Next.Why, "once more")
	st = afterPull(s, func(e *run.Event) { e.Outcome = run.Over })
	require.True(t, found(st, "over"))
	require.Len(t, st.Deviations, 1)
}

// A wrong measurement between two passes keeps the next one shut until it is right; the first reading stays.
func TestGateBetweenPassesKeepsTheNextOneShut(t *testing.T) {
	f, err := procedure.ByCode("shrink_disc")
	require.NoError(t, err)
	p, err := plan.Make(sampleOf(f, map[string]string{"shoulder": "with"}))
	require.NoError(t, err)
	s := coretest.NewScript(p)
	s.Ready()
	for range 200 {
		if len(s.State().Gates) > 0 {
			break
		}
		s.Pull()
	}
	require.Equal(t, []string{"halves_first"}, s.State().Gates)
	var gate procedure.Check
	for _, c := range p.Checks {
		if c.Code == "halves_first" {
			gate = c
		}
	}
	wide := s.Right(gate)
	for i := range wide.Values {
		wide.Values[i].Value += float64(i) * 2
		wide.Values[i].SI = wide.Values[i].Value
	}
	s.Add(wide)
	st := s.State()
	require.Empty(t, st.Gates, "measuring again is not enough: it is begun again from where the heads touch")
	require.Equal(t, "touch", st.Passes[st.Pass-1].Step)
	require.Empty(t, st.Blocked)
	for st.Passes[st.Pass-1].Step != "first_round" {
		s.Pull()
		st = s.State()
	}
	require.Equal(t, "first round, 100 %, again", st.Passes[st.Pass-1].Name)
	for len(s.State().Gates) == 0 {
		s.Pull()
	}
	require.Equal(t, []string{"halves_first"}, s.State().Gates)
	s.Add(s.Right(gate))
	st = s.State()
	require.Empty(t, st.Gates)
	for _, c := range st.Checks {
		if c.Code == "halves_first" {
			require.Len(t, c.Attempts, 2)
			require.False(t, c.Attempts[0].OK)
			require.True(t, c.Attempts[1].OK)
			require.NotEmpty(t, c.History, "the trend is kept")
		}
	}
}

func TestWhoAnswersForAnOpenChoiceIsKept(t *testing.T) {
	f, err := procedure.ByCode("stair_platform")
	require.NoError(t, err)
	p, err := plan.Make(sampleOf(f, coretest.Variants(f)[0]))
	require.NoError(t, err)
	s := coretest.NewScript(p)
	for _, c := range p.Checks {
		if c.Kind != procedure.Responsible {
			continue
		}
		e := s.Right(c)
		e.Note = "ETA 21/0417"
		s.Add(e)
		for _, cs := range s.State().Checks {
			if cs.Code == c.Code {
				require.Contains(t, cs.Text, "ETA 21/0417")
				require.Contains(t, cs.Text, "answers for it")
			}
		}
		return
	}
	t.Fatal("no such check")
}
