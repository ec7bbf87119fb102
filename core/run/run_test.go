package run_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/rehearsal"
	"dynacor/core/run"
	"dynacor/core/working"
)

func script(t *testing.T) *coretest.Script {
	t.Helper()
	p, err := plan.Make(coretest.Input())
	require.NoError(t, err)
	require.True(t, p.Complete(), "%v %v", p.ToBeSupplied, p.Findings)
	return coretest.NewScript(p)
}

func codes(list []working.Finding) []string {
	var out []string
	for _, f := range list {
		out = append(out, string(f.Code))
	}
	return out
}

// upByHand goes through the passes by hand with which a joint begins; tests of torque begin behind them.
func upByHand(s *coretest.Script) {
	for st := s.State(); st.Pass > 0 && st.Passes[st.Pass-1].Kind == plan.HandPass; st = s.State() {
		s.Pull()
	}
}

func ready(t *testing.T) *coretest.Script {
	s := script(t)
	s.Ready()
	st := s.State()
	require.Equal(t, procedure.Tighten, st.Station, "%v", st.Rows)
	upByHand(s)
	return s
}

func TestWholeRunIsAccepted(t *testing.T) {
	s := script(t)
	require.Equal(t, procedure.Read, s.State().Station)
	s.Finish()
	st := s.State()
	require.Equal(t, procedure.HandOver, st.Station)
	require.Equal(t, run.Accepted, st.Verdict.Code, "%v", st.Verdict)
	require.Empty(t, st.OpenItems)
	require.Empty(t, st.Deviations)
	require.Len(t, st.Passes, 5)
	for _, ps := range st.Passes {
		require.Equal(t, 8, ps.Done)
		require.Equal(t, []string{"M. Tolley"}, ps.People)
	}
	require.Equal(t, run.StandingAccepted, st.Fasteners[0].State)
	require.InDelta(t, 1, st.Fasteners[7].Fraction, 1e-9)
}

func TestOrderIsFollowedAndExplained(t *testing.T) {
	s := ready(t)
	var visited []int
	for range 8 {
		visited = append(visited, s.State().Next.Fastener)
		s.Pull()
	}
	require.Equal(t, []int{1, 5, 3, 7, 2, 6, 4, 8}, visited)
	require.Equal(t, 3, s.State().Pass)
	require.Contains(t, s.State().Confirm, "Pass 3 begins")
}

func TestNextSaysWhyHere(t *testing.T) {
	s := ready(t)
	s.Pull()
	require.Equal(t, "straight across from 1", s.State().Next.Why)
	require.Equal(t, []string{"3", "7", "2"}, s.State().Next.Then)
	require.Equal(t, "Bolt 1 kept. Next, bolt 5.", s.State().Announce)
}

func pulled(s *coretest.Script, fastener int, change func(*run.Event)) run.Event {
	st := s.State()
	e := run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: fastener, Outcome: run.Clicked, Setting: st.Setting}
	if change != nil {
		change(&e)
	}
	return e
}

func TestPullsAreJudgedAsTheyHappen(t *testing.T) {
	for _, c := range []struct {
		name     string
		fastener int
		change   func(*run.Event)
		code     string
		mark     run.Mark
		open     bool // leaves an open deviation
	}{
		{"out of order", 2, nil, "out_of_order", run.MarkDone, false},
		{"repeated", 1, nil, "repeated", run.MarkDone, false},
		{"later stage", 5, func(e *run.Event) { e.Pass = 3 }, "wrong_stage", run.MarkOver, true},
		{"set too high", 5, func(e *run.Event) { e.Setting += 20 }, "wrong_setting", run.MarkOver, true},
		{"set too low", 5, func(e *run.Event) { e.Setting -= 20 }, "wrong_setting", run.MarkShort, false},
		{"short", 5, func(e *run.Event) { e.Outcome = run.Short }, "short", run.MarkShort, false},
		{"over", 5, func(e *run.Event) { e.Outcome = run.Over }, "over", run.MarkOver, true},
		{"did not turn", 5, func(e *run.Event) { e.Outcome = run.ClickedStill }, "clicked_still", run.MarkDone, true},
		{"other hands", 5, func(e *run.Event) { e.Person = coretest.Quaye }, "not_confirmed", run.MarkDone, false},
	} {
		t.Run(c.name, func(t *testing.T) {
			s := ready(t)
			s.Pull()
			before := len(s.Events)
			st := s.Judge(pulled(s, c.fastener, c.change))
			require.Contains(t, codes(st.Findings), c.code)
			for _, f := range st.Findings {
				require.NotEmpty(t, f.What)
				require.NotEmpty(t, f.Remedy)
			}
			require.Equal(t, c.mark, st.Fasteners[c.fastener-1].Marks[1])
			open := 0
			for _, d := range st.Deviations {
				if d.Status == run.DeviationOpen {
					open++
				}
			}
			require.Equal(t, c.open, open > 0)
			require.Len(t, s.Events, before, "judging adds nothing")
		})
	}
}

func TestCarryOnFromABoltOutOfOrder(t *testing.T) {
	s := ready(t)
	s.Pull() // 1
	s.Add(pulled(s, 2, nil))
	require.Equal(t, 6, s.State().Next.Fastener, "the order goes on from 2")
	s.Tighten()
	require.Equal(t, "Bolt 2 pulled before 5 in pass 2", s.State().Deviations[0].What)
	require.Equal(t, run.DeviationNoted, s.State().Deviations[0].Status)
}

func TestPassDoesNotEndWithAnOpenBolt(t *testing.T) {
	s := ready(t)
	s.Pull()
	s.Add(run.Event{Kind: run.Skipped, Pass: 2, Fastener: 5, Reason: "scaffold in the way"})
	for range 6 {
		s.Pull()
	}
	st := s.State()
	require.Equal(t, 2, st.Pass)
	require.Equal(t, 5, st.Next.Fastener)
	require.Equal(t, "left for later: now its turn", st.Next.Why)
	e := run.Event{Kind: run.Signed, Purpose: run.SignStartPass, Pass: 3, Signer: &coretest.Quaye, Reason: "hurry"}
	require.ErrorContains(t, run.MaySign(s.Plan, st, e), "only an engineer")
	e.Signer, e.Reason = &coretest.Hartwell, ""
	require.Error(t, run.MaySign(s.Plan, st, e), "a reason is needed")
	e.Reason = "scaffold moves tonight"
	require.NoError(t, run.MaySign(s.Plan, st, e))
	s.Sign(run.SignStartPass, coretest.Hartwell, e)
	require.Equal(t, 3, s.State().Pass)
}

func TestTakeBackKeepsBoth(t *testing.T) {
	s := ready(t)
	s.Pull()
	last := s.Events[len(s.Events)-1]
	s.Add(run.Event{Kind: run.TakenBack, Ref: last.ID, Reason: "pressed by mistake"})
	st := s.State()
	require.Equal(t, 1, st.Next.Fastener)
	require.Equal(t, []string{last.ID}, st.TakenBack)
	require.Contains(t, s.Events, last)
}

func TestLubricantFoundIsCompared(t *testing.T) {
	s := script(t)
	s.Add(run.Event{Kind: run.ReadConfirmed})
	s.Add(run.Event{Kind: run.CheckAnswered, Check: "lubricant", Answer: "moly_paste", Product: "tin 0418"})
	st := s.State()
	var c run.CheckState
	for _, x := range st.Checks {
		if x.Code == "lubricant" {
			c = x
		}
	}
	require.Equal(t, run.CheckStopped, c.Status)
	oil, _ := fastener.LubricantCondition("light_oil")
	moly, _ := fastener.LubricantCondition("moly_paste")
	require.InDelta(t, 300*moly.K.Typ/oil.K.Typ, c.Mismatch.RestoringNm, 1e-9)
	require.InDelta(t, 300/(moly.K.Typ*20), c.Mismatch.FoundKN, 1e-9)
	require.Contains(t, c.Mismatch.Sentence, "over")
	require.Equal(t, c.Mismatch.FoundKN > s.Plan.First().Strength.Yield*s.Plan.First().StressAreaMM2/1000,
		c.Mismatch.OverYield)
	require.Equal(t, run.GlyphStopped, st.Glyph)
	s.Add(run.Event{Kind: run.CheckAnswered, Check: "lubricant", Answer: "light_oil", Expiry: "2025-01-31"})
	require.Contains(t, s.State().Findings[0].What, "past its use-by")
	s.Add(run.Event{Kind: run.CheckAnswered, Check: "lubricant", Answer: "light_oil", Expiry: "2027-01-31"})
	for _, x := range s.State().Checks {
		if x.Code == "lubricant" {
			require.Equal(t, run.CheckCleared, x.Status)
			require.Len(t, x.Attempts, 3, "the first failing answers stay")
			require.False(t, x.Attempts[0].OK)
		}
	}
}

// A reading is told with all the digits that were typed.
func TestReadingsKeepTheirDigits(t *testing.T) {
	s := ready(t)
	s.Add(run.Event{Kind: run.CheckAnswered, Check: "gap", Values: rehearsal.Readings(3.125, 3.1, 3.105, 3.12)})
	for _, c := range s.State().Checks {
		if c.Code == "gap" {
			require.Equal(t, "3.100 to 3.125 mm, 0.025 of 0.500 mm", c.Text)
		}
	}
	for want, r := range map[string]run.Reading{
		"90,5 N·m":  {Value: 90.5, Unit: quantity.NewtonMetre, Text: "90,5"},
		"66 ft·lbf": {Value: 66, Unit: quantity.FootPound, Text: "66 ft·lbf"},
		"1 1/8 in":  {Value: 1.125, Unit: "in", Text: "1 1/8"}, "12.5 mm": {Value: 12.5, Unit: quantity.Millimetre},
		"7": {Value: 7, Text: "7"},
	} {
		require.Equal(t, want, r.Words())
	}
}

func TestUnevenGapSendsRoundAgain(t *testing.T) {
	s := ready(t)
	s.Tighten()
	s.Add(run.Event{Kind: run.CheckAnswered, Check: "gap_after", Values: rehearsal.Readings(1.7, 1.6, 1.4, 1.5)})
	st := s.State()
	require.Equal(t, run.GoRoundAgain, st.Verdict.Code)
	require.Equal(t, procedure.Tighten, st.Station)
	require.Len(t, st.Passes, 6)
	s.Tighten()
	require.Equal(t, procedure.Prove, s.State().Station)
	s.Checks(procedure.Prove)
	require.Equal(t, run.Accepted, s.State().Verdict.Code)
}

func TestSilenceAsksForTheSettingAgain(t *testing.T) {
	s := ready(t)
	s.Pull()
	require.Empty(t, s.State().Confirm)
	require.Contains(t, run.Fold(s.Plan, s.Events, s.At.Add(3*time.Hour)).Confirm, "Nothing was recorded for 3 h")
	s.Add(run.Event{Kind: run.Paused})
	require.Contains(t, s.State().Confirm, "Work was stopped")
}

func TestAnotherWrenchIsJudgedAndSetAnew(t *testing.T) {
	s := ready(t)
	s.Pull()
	w := coretest.Wrench()
	w.Tag, w.Graduation, w.MainStep = "W-41", 5, 20
	s.Add(run.Event{Kind: run.WrenchTaken, Wrench: &w})
	st := s.State()
	require.Contains(t, st.Confirm, "another wrench")
	require.Zero(t, int(st.Setting)%5, "set on its own marks")
	for first := st.Pass; s.State().Pass == first; {
		s.Pull()
	}
	w.RatedMin = s.State().Setting - 1
	require.Greater(t, w.RatedMin, st.Setting)
	s.Add(run.Event{Kind: run.WrenchTaken, Wrench: &w})
	require.Equal(t, procedure.Tighten, s.State().Station, "only the passes still to come are judged")
	w.CalibrationEnds = "2026-11-22"
	s.Add(run.Event{Kind: run.WrenchTaken, Wrench: &w})
	require.Equal(t, procedure.Ready, s.State().Station, "the wrench check stops the line")
	require.Contains(t, s.State().Blocked[0], "ran out")
}

func TestEventsAreValidated(t *testing.T) {
	ok := run.Event{ID: "x", At: coretest.Day, Kind: run.Pulled, Pass: 2, Fastener: 1, Outcome: run.Clicked,
		Setting: 90}
	require.NoError(t, ok.Validate())
	for name, change := range map[string]func(*run.Event){
		"id": func(e *run.Event) { e.ID = "" }, "at": func(e *run.Event) { e.At = time.Time{} },
		"kind":    func(e *run.Event) { e.Kind = "other" },
		"outcome": func(e *run.Event) { e.Outcome = "maybe" }, "setting": func(e *run.Event) { e.Setting = -1 },
		"fastener": func(e *run.Event) { e.Fastener = 0 },
		"reason":   func(e *run.Event) { e.Kind = run.Skipped }, "ref": func(e *run.Event) { e.Kind = run.TakenBack },
	} {
		e := ok
		change(&e)
		require.ErrorContains(t, e.Validate(), name, name)
	}
}
