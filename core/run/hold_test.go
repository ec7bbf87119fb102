package run_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// planned is the flange with something about one of its checks changed in the plan.
func planned(t *testing.T, code string, change func(*procedure.Check)) *coretest.Script {
	p, err := plan.Make(coretest.Input())
	require.NoError(t, err)
	for i := range p.Checks {
		if p.Checks[i].Code == code {
			change(&p.Checks[i])
		}
	}
	return coretest.NewScript(p)
}

// maySign says whether somebody may sign a hold, "" when they may, else why not.
func maySign(s *coretest.Script, purpose run.Purpose, who run.Person, code, reason string) string {
	err := run.MaySign(s.Plan, s.State(), run.Event{Kind: run.Signed, Purpose: purpose, Check: code, Signer: &who,
		Reason: reason})
	if err == nil {
		return ""
	}
	return err.Error()
}

// A hold is signed by somebody whom the table or the procedure names, and never by the one who answered it.
func TestHoldIsSignedByWhoMay(t *testing.T) {
	s := planned(t, "isolation", func(c *procedure.Check) {})
	c, _ := s.Plan.Check("isolation")
	require.Equal(t, []string{"lead", "inspector", "engineer"}, c.Signers)
	s.Add(run.Event{Kind: run.ReadConfirmed})
	s.Add(s.Right(c))
	mate := run.Person{ID: "p-mate", Name: "O. Strand", Role: "technician"}
	require.Contains(t, maySign(s, run.SignHold, mate, c.Code, ""), "O. Strand, technician, may not sign Isolation")
	require.Contains(t, maySign(s, run.SignHold, coretest.Tolley, c.Code, ""), "it takes two people")
	for _, who := range []run.Person{coretest.Quaye, coretest.Abara, coretest.Hartwell} {
		require.Empty(t, maySign(s, run.SignHold, who, c.Code, ""), who.Name)
	}
	require.NotEmpty(
		t,
		maySign(s, run.SignNoWitness, coretest.Hartwell, c.Code, "nobody came"),
		"a hold is no witness point",
	)

	lead := run.Person{ID: "p-lead", Name: "K. Moss", Role: "lead"}
	s = planned(t, "isolation", func(c *procedure.Check) { c.Signers = []string{"engineer"} })
	s.Person = lead
	s.Add(run.Event{Kind: run.ReadConfirmed})
	s.Add(s.Right(c))
	require.Contains(t, maySign(s, run.SignHold, coretest.Abara, c.Code, ""), "R. Abara, inspector, may not sign")
	require.Empty(t, maySign(s, run.SignHold, coretest.Hartwell, c.Code, ""))

	s = planned(t, "isolation", func(c *procedure.Check) { c.Signers, c.TwoPerson = nil, false })
	s.Add(run.Event{Kind: run.ReadConfirmed})
	s.Add(s.Right(c))
	require.Empty(t, maySign(s, run.SignHold, coretest.Tolley, c.Code, ""), "as it was by the plans of older programs")
}

// A hold of Prove is not signed by one who pulled.
func TestHoldOfProveIsSignedByAnother(t *testing.T) {
	s := planned(t, "engagement", func(c *procedure.Check) { c.Hold, c.Signers = true, []string{"lead", "inspector"} })
	s.Ready()
	s.Person = coretest.Quaye
	s.Pull()
	s.Person = coretest.Tolley
	s.Tighten()
	c, _ := s.Plan.Check("engagement")
	s.Add(s.Right(c))
	require.Contains(t, maySign(s, run.SignHold, coretest.Quaye, c.Code, ""), "pulled bolts of this joint")
	require.Empty(t, maySign(s, run.SignHold, coretest.Abara, c.Code, ""))
}

// A witness point waits for somebody who looks on; one who may can go on without, and the record says so.
func TestWitnessPoint(t *testing.T) {
	witness := func() *coretest.Script {
		s := planned(
			t,
			"engagement",
			func(c *procedure.Check) { c.Witness, c.Signers = true, []string{"lead", "inspector"} },
		)
		s.Ready()
		s.Tighten()
		for _, c := range s.Plan.Checks {
			if c.Station == procedure.Prove {
				s.Add(s.Right(c))
			}
		}
		require.Equal(t, run.CheckToSign, s.State().Check("engagement").Status)
		require.Equal(t, run.NotFinished, s.State().Verdict.Code)
		return s
	}
	s := witness()
	s.Sign(run.SignHold, coretest.Abara, run.Event{Check: "engagement"})
	require.Equal(t, "R. Abara", s.State().Check("engagement").SignedBy)
	require.Equal(t, run.Accepted, s.State().Verdict.Code)
	require.Empty(t, s.State().Deviations)

	s = witness()
	require.Contains(t, maySign(s, run.SignNoWitness, coretest.Quaye, "engagement", "nobody came"), "may not go on")
	require.Contains(t, maySign(s, run.SignNoWitness, coretest.Abara, "engagement", " "), "reason")
	require.Contains(t, maySign(s, run.SignNoWitness, coretest.Abara, "gap_after", "nobody came"), "no")
	require.Empty(t, maySign(s, run.SignNoWitness, coretest.Abara, "engagement", "nobody came"))
	s.Sign(run.SignNoWitness, coretest.Abara, run.Event{Check: "engagement", Reason: "nobody came by noon"})
	st := s.State()
	require.Equal(t, run.Accepted, st.Verdict.Code)
	require.Len(t, st.Deviations, 1)
	require.Equal(t, "Nuts fully engaged: no witness came", st.Deviations[0].What)
	require.Equal(t, run.DeviationAccepted, st.Deviations[0].Status)
	require.Contains(t, st.Deviations[0].Closed, "R. Abara, inspector: nobody came by noon")
	require.NotEmpty(t, maySign(s, run.SignNoWitness, coretest.Abara, "engagement", "again"), "once is enough")
}
