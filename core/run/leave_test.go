package run_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// leave lets the next pass begin, or the last one end, with open fasteners.
func leave(s *coretest.Script, who run.Person, pass int) error {
	e := run.Event{Kind: run.Signed, Purpose: run.SignStartPass, Pass: pass, Reason: "behind the column", Signer: &who}
	if err := run.MaySign(s.Plan, s.State(), e); err != nil {
		return err
	}
	s.Sign(run.SignStartPass, who, e)
	return nil
}

// A bolt that nobody can reach in the check round is no dead end: an engineer ends the round without it, and the record
// says that it was not visited.
func TestLastPassEndsWithoutABoltByLeave(t *testing.T) {
	s := ready(t)
	for s.State().Passes[s.State().Pass-1].Kind != "check" {
		s.Pull()
	}
	last := s.State().Pass
	out := s.State().Next.Fastener
	s.Add(run.Event{Kind: run.Skipped, Pass: last, Fastener: out, Reason: "behind the column"})
	for range s.Plan.Count() - 1 {
		s.Pull()
	}
	require.Equal(t, last, s.State().Pass, "the round waits for the bolt")
	require.ErrorContains(t, leave(s, coretest.Tolley, last+1), "only an engineer")
	require.ErrorContains(t, leave(s, coretest.Hartwell, last+2), "cannot begin now")
	require.ErrorContains(t, leave(s, coretest.Hartwell, last), "cannot begin now")
	require.NoError(t, leave(s, coretest.Hartwell, last+1))
	require.Zero(t, s.State().Pass)
	s.Checks(procedure.Prove)
	st := s.State()
	v := st.Verdict
	require.Equal(t, run.Accepted, v.Code, "%v", v.Reasons)
	require.Contains(t, v.Sentence, "but for those left out by leave of an engineer")
	require.Contains(t, v.Sentence, "no nut that was visited turned")
	var texts []string
	for _, r := range v.Reasons {
		texts = append(texts, r.Text+r.Value)
	}
	require.Contains(t, texts,
		"Check round: no nut turned of those visited; 1 left out by leave of an engineer.7 of 8 stayed")
	require.Contains(t, texts,
		"Pass 5, the last one, ended with open bolts: accepted (J. Hartwell, engineer: behind the "+
			"column).")
}

// An effort that never comes into its window ends by leave too.
func TestEffortOutsideItsWindowEndsByLeave(t *testing.T) {
	s := at(t, "ball_valve_multi", nil, plan.EffortPass)
	pass := s.State().Pass
	high := s.State().Passes[pass-1].HighNm
	for range 3 {
		afterPull(s, func(e *run.Event) { e.Reading = newtonMetres(high * 1.3) })
	}
	require.Equal(t, pass, s.State().Pass)
	require.ErrorContains(t, leave(s, coretest.Abara, pass+1), "only an engineer")
	require.NoError(t, leave(s, coretest.Hartwell, pass+1))
	st := s.State()
	require.NotEqual(t, pass, st.Pass)
	require.Equal(t, run.StartedOpen, st.Deviations[0].Code)
	require.Equal(t, "J. Hartwell, engineer: behind the column", st.Deviations[0].Closed)
}
