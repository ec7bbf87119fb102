package run_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

func na(check string) run.Event {
	return run.Event{Kind: run.CheckAnswered, Check: check, Answer: "na", Reason: "the flange has no rim to measure"}
}

func status(s *coretest.Script, check string) run.CheckStatus {
	st := s.State()
	return st.Checks[slices.IndexFunc(st.Checks, func(c run.CheckState) bool { return c.Code == check })].Status
}

// waive signs that a check does not apply, when the rules let this person.
func waive(s *coretest.Script, check string, who run.Person) error {
	st := s.State()
	i := slices.IndexFunc(st.Deviations, func(d run.Deviation) bool {
		return string(d.Code) == "waived:"+check && d.Unsettled()
	})
	e := run.Event{Kind: run.Signed, Purpose: run.SignDeviation, Ref: st.Deviations[i].ID, Reason: "seen on site",
		Signer: &who}
	if err := run.MaySign(s.Plan, st, e); err != nil {
		return err
	}
	s.Sign(run.SignDeviation, who, e)
	return nil
}

// Nobody clears a check by saying that it does not apply: an engineer signs for it, and the verdict tells.
func TestCheckIsWaivedByAnEngineerAndTheVerdictTells(t *testing.T) {
	s := ready(t)
	s.Tighten()
	s.Checks(procedure.Prove)
	require.Equal(t, run.Accepted, s.State().Verdict.Code)
	require.Contains(t, s.State().Verdict.Sentence, "what was measured lies inside its limits")
	s.Add(na("gap_after"))
	st := s.State()
	require.Equal(t, run.CheckToWaive, status(s, "gap_after"))
	require.Equal(t, "waived:gap_after", string(st.Findings[0].Code))
	require.Equal(t, run.Stopped, st.Verdict.Code)
	require.Equal(t, procedure.Prove, st.Station)
	require.ErrorContains(t, waive(s, "gap_after", coretest.Tolley), "may not accept")
	require.ErrorContains(t, waive(s, "gap_after", coretest.Abara), "inspector may not say that")
	require.NoError(t, waive(s, "gap_after", coretest.Hartwell))
	st = s.State()
	require.Equal(t, run.CheckWaived, status(s, "gap_after"))
	v := st.Verdict
	require.Equal(t, run.Accepted, v.Code)
	require.Equal(t, []run.Waiver{{Check: "gap_after", Title: "Gap after tightening", By: "J. Hartwell, engineer",
		Reason: "seen on site"}}, v.Waived)
	require.Equal(t, v.Of, v.Met+1)
	require.Contains(t, v.Sentence, "were met; 1 was waived.")
	require.Contains(t, v.Sentence, "what was measured", "the gap before was")
	require.True(t, slices.ContainsFunc(v.Reasons, func(r run.Reason) bool {
		return r == run.Reason{Status: run.ReasonWaived, Text: "Gap after tightening does not apply: seen on site.",
			Value: "J. Hartwell, engineer"}
	}), "%v", v.Reasons)
	require.False(t, slices.ContainsFunc(v.Reasons, func(r run.Reason) bool {
		return r.Status == run.ReasonOK &&
			strings.Contains(r.Text, "does not apply")
	}), "it is told once, with the checks: %v", v.Reasons)
	require.Equal(t, procedure.HandOver, st.Station)
}

func TestWorkWaitsForAWaiverAndAnAnswerEndsIt(t *testing.T) {
	s := script(t)
	s.Ready()
	s.Add(na("offset"))
	require.Equal(t, procedure.Ready, s.State().Station)
	require.Contains(t, codes(s.Judge(run.Event{Kind: run.Pulled, Pass: 2, Fastener: 1, Outcome: run.Clicked,
		Setting: 90}).Findings), "not_ready")
	c, _ := s.Plan.Check("offset")
	s.Add(na("offset"))
	s.Answer(c)
	st := s.State()
	require.Equal(t, procedure.Tighten, st.Station)
	require.Len(t, st.Deviations, 2)
	for _, d := range st.Deviations {
		require.Equal(t, run.DeviationReworked, d.Status)
		require.Equal(t, "answered after all by M. Tolley", d.Closed)
		require.True(t, slices.ContainsFunc(st.Verdict.Reasons, func(r run.Reason) bool {
			return strings.Contains(r.Text, string(d.Status)+" ("+d.Closed+")")
		}), "%v", st.Verdict.Reasons)
	}
}

// What the procedure leaves to whoever does the work needs no signature, and is a deviation all the same.
func TestSmallCheckIsWaivedByWhoeverDoesTheWork(t *testing.T) {
	s := ready(t)
	i := slices.IndexFunc(s.Plan.Checks, func(c procedure.Check) bool { return c.Code == "marked" })
	s.Plan.Checks[i].Waive = procedure.ByTechnician
	s.Add(na("marked"))
	st := s.State()
	require.Equal(t, run.CheckWaived, status(s, "marked"))
	require.Equal(t, procedure.Tighten, st.Station)
	require.Equal(t, run.DeviationAccepted, st.Deviations[0].Status)
	require.Equal(t, "M. Tolley, technician: the flange has no rim to measure", st.Deviations[0].Closed)
	require.Equal(t, "M. Tolley, technician", st.Verdict.Waived[0].By)
}

func TestHoldIsWaivedByNobody(t *testing.T) {
	s := ready(t)
	c, _ := s.Plan.Check("isolation")
	require.Equal(t, procedure.ByNobody, c.Waive)
	s.Add(na("isolation"))
	require.Equal(t, run.CheckStopped, status(s, "isolation"))
	require.Contains(t, codes(s.State().Findings), "hold_needed")
	require.Empty(t, s.State().Deviations)
}

// A plan of an older program does not say who may waive: its records are judged as they were.
func TestOlderPlansAreJudgedAsTheyWere(t *testing.T) {
	s := ready(t)
	for i := range s.Plan.Checks {
		s.Plan.Checks[i].Waive = ""
	}
	s.Tighten()
	s.Add(na("gap_after"))
	s.Add(na("engagement"))
	require.Equal(t, run.CheckCleared, status(s, "gap_after"))
	require.Equal(t, run.Accepted, s.State().Verdict.Code)
	s.Add(na("isolation"))
	require.Equal(t, run.CheckStopped, status(s, "isolation"))
}

func TestNoTorqueIsAcceptedWithoutATool(t *testing.T) {
	s := script(t)
	s.Add(run.Event{Kind: run.ReadConfirmed})
	for _, c := range s.Plan.Checks {
		switch {
		case c.Station != procedure.Ready:
		case c.Kind == procedure.Wrench:
			s.Add(na(c.Code))
			require.NoError(t, waive(s, c.Code, coretest.Hartwell))
		default:
			s.Answer(c)
		}
	}
	s.Tighten()
	s.Checks(procedure.Prove)
	st := s.State()
	require.Zero(t, st.Pass, "every pass is pulled")
	require.Equal(t, run.Stopped, st.Verdict.Code)
	require.Contains(t, st.Verdict.Reasons[0].Text, "no tool is on record, so no torque is accepted")
}

func TestMeasuredIsSaidOnlyWhenItWas(t *testing.T) {
	s := ready(t)
	s.Tighten()
	for _, code := range []string{"gap", "offset", "overlap", "gap_after"} {
		if _, asked := s.Plan.Check(code); asked {
			s.Add(na(code))
			require.NoError(t, waive(s, code, coretest.Hartwell))
		}
	}
	s.Answer(mustCheck(t, s.Plan, "engagement"))
	v := s.State().Verdict
	require.Equal(t, run.Accepted, v.Code, "%v", v.Reasons)
	require.NotContains(t, v.Sentence, "measured")
	require.Contains(t, v.Sentence, "Every bolt was recorded in every pass, and no nut turned in the last round.")
	require.Regexp(t, `\d+ of \d+ checks were met; \d were waived\.`, v.Sentence)
}

func mustCheck(t *testing.T, p *plan.Plan, code string) procedure.Check {
	t.Helper()
	c, ok := p.Check(code)
	require.True(t, ok)
	return c
}

func TestReasonOfAWaiverSaysSomething(t *testing.T) {
	for reason, ok := range map[string]bool{"": false, "x": false, "  no need  ": false, "notapplicable": false,
		"no rim here": true, "on rollers": true} {
		e := na("gap")
		e.ID, e.At, e.Reason = "1", coretest.Day, reason
		if err := e.Validate(); ok {
			require.NoError(t, err, "%q", reason)
		} else {
			require.ErrorContains(t, err, "says too little", "%q", reason)
		}
	}
}
