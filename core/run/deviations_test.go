package run_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/coretest"
	"dynacor/core/procedure"
	"dynacor/core/rehearsal"
	"dynacor/core/run"
	"dynacor/core/working"
)

func TestHoldTakesTwoPeopleAndBlocks(t *testing.T) {
	s := script(t)
	s.Ready()
	s.Events = s.Events[:0]
	s.Add(run.Event{Kind: run.ReadConfirmed})
	for _, c := range s.Plan.Checks {
		if c.Station == procedure.Ready && c.Code != "isolation" {
			s.Answer(c)
		}
	}
	require.Equal(t, procedure.Ready, s.State().Station)
	s.Add(run.Event{Kind: run.CheckAnswered, Check: "isolation", Answer: "yes"})
	require.Equal(t, procedure.Ready, s.State().Station, "answered is not signed")
	e := run.Event{Kind: run.Signed, Purpose: run.SignHold, Check: "isolation", Signer: &coretest.Tolley}
	require.ErrorContains(t, run.MaySign(s.Plan, s.State(), e), "two people")
	renamed := run.Person{ID: coretest.Tolley.ID, Name: "M. Tolley-Brook", Role: authority.Technician}
	e.Signer = &renamed
	require.ErrorContains(t, run.MaySign(s.Plan, s.State(), e), "two people", "one person under two names")
	namesake := run.Person{ID: coretest.Abara.ID, Name: coretest.Tolley.Name, Role: authority.Inspector}
	e.Signer = &namesake
	require.NoError(t, run.MaySign(s.Plan, s.State(), e), "two persons of one name")
	st := s.Judge(run.Event{Kind: run.Pulled, Pass: 2, Fastener: 1, Outcome: run.Clicked, Setting: 90})
	require.Contains(t, codes(st.Findings), "not_ready")
	s.Sign(run.SignHold, coretest.Abara, run.Event{Check: "isolation"})
	require.Equal(t, procedure.Tighten, s.State().Station)
	s.Add(run.Event{Kind: run.CheckAnswered, Check: "isolation", Answer: "na", Reason: "no pressure here"})
	require.Equal(t, procedure.Ready, s.State().Station, "a hold cannot be left out")
}

func TestFailedCheckByLeave(t *testing.T) {
	s := ready(t)
	s.Add(run.Event{Kind: run.CheckAnswered, Check: "gap", Values: rehearsal.Readings(3.9, 3.3, 3.0, 3.2)})
	require.Equal(t, procedure.Ready, s.State().Station)
	require.Contains(t, s.State().Findings[0].What, "0.90 mm, the limit is 0.50 mm")
	s.Add(run.Event{Kind: run.DeviationRaised, Check: "gap", Reason: "spool cannot be moved"})
	e := run.Event{Kind: run.Signed, Purpose: run.SignDeviation, Ref: s.State().Deviations[0].ID,
		Reason: "flexible side, stress checked"}
	e.Signer = &coretest.Quaye
	require.ErrorContains(t, run.MaySign(s.Plan, s.State(), e), "may not accept")
	e.Signer = &coretest.Hartwell
	require.NoError(t, run.MaySign(s.Plan, s.State(), e))
	s.Sign(run.SignDeviation, coretest.Hartwell, e)
	require.Equal(t, procedure.Tighten, s.State().Station)
	require.Equal(t, run.DeviationAccepted, s.State().Deviations[0].Status)
}

// A pull that departs from the plan in two ways leaves two deviations; whoever accepts one has not accepted the other.
func TestEachDeviationIsSignedByItself(t *testing.T) {
	s := ready(t)
	s.Confirm()
	s.Add(run.Event{Kind: run.Held, Reason: "alarm"})
	pull := s.Add(run.Event{Kind: run.Pulled, Pass: 2, Fastener: s.State().Next.Fastener, Outcome: run.Over,
		Setting: s.State().Setting})
	s.Add(run.Event{Kind: run.Released})
	devs := s.State().Deviations
	require.Equal(t, []working.Code{"held", "over"}, []working.Code{devs[0].Code, devs[1].Code})
	require.NotEqual(t, devs[0].ID, devs[1].ID)

	e := run.Event{Kind: run.Signed, Purpose: run.SignDeviation, Ref: pull.ID, Reason: "looked at",
		Signer: &coretest.Hartwell}
	require.ErrorContains(t, run.MaySign(s.Plan, s.State(), e), "no such deviation", "an event is not a deviation")
	e.Ref = devs[0].ID
	require.NoError(t, run.MaySign(s.Plan, s.State(), e))
	s.Sign(run.SignDeviation, coretest.Hartwell, e)
	devs = s.State().Deviations
	require.Equal(t, []run.DeviationStatus{run.DeviationAccepted, run.DeviationOpen},
		[]run.DeviationStatus{devs[0].Status, devs[1].Status})
	require.Equal(t, run.Stopped, s.State().Verdict.Code)
	require.Equal(t, run.MarkOver, s.State().Fasteners[pull.Fastener-1].Marks[1],
		"what was accepted is not that the bolt went over")
	require.ErrorContains(t, run.MaySign(s.Plan, s.State(), e), "accepted already")

	e.Ref = devs[1].ID
	s.Sign(run.SignDeviation, coretest.Hartwell, e)
	require.Equal(t, run.DeviationAccepted, s.State().Deviations[1].Status)
	require.Equal(t, run.MarkDone, s.State().Fasteners[pull.Fastener-1].Marks[1])
}

// Chains from before deviations had identifiers of their own name the event; such a signature accepted all that the
// event left.
func TestSignatureOfAnOlderChainNamesTheEvent(t *testing.T) {
	s := ready(t)
	s.Confirm()
	s.Add(run.Event{Kind: run.Held, Reason: "alarm"})
	pull := s.Add(run.Event{Kind: run.Pulled, Pass: 2, Fastener: s.State().Next.Fastener, Outcome: run.Over,
		Setting: s.State().Setting})
	s.Sign(run.SignDeviation, coretest.Hartwell, run.Event{Ref: pull.ID, Reason: "looked at"})
	for _, d := range s.State().Deviations {
		require.Equal(t, run.DeviationAccepted, d.Status)
	}
}

func TestClosingSignatures(t *testing.T) {
	s := ready(t)
	s.Tighten()
	tightened := run.Event{Kind: run.Signed, Purpose: run.SignTightened, Signer: &coretest.Tolley}
	require.ErrorContains(t, run.MaySign(s.Plan, s.State(), tightened), "not accepted")
	s.Checks(procedure.Prove)
	require.NoError(t, run.MaySign(s.Plan, s.State(), tightened))
	proved := run.Event{Kind: run.Signed, Purpose: run.SignProved, Signer: &coretest.Abara}
	require.ErrorContains(t, run.MaySign(s.Plan, s.State(), proved), "nobody has signed")
	s.Sign(run.SignTightened, coretest.Tolley, run.Event{})
	require.NoError(t, run.MaySign(s.Plan, s.State(), proved))
	proved.Signer = &coretest.Quaye
	require.ErrorContains(t, run.MaySign(s.Plan, s.State(), proved), "may not prove")
	own := coretest.Tolley
	own.Role = authority.Inspector
	proved.Signer = &own
	require.ErrorContains(t, run.MaySign(s.Plan, s.State(), proved), "pulled bolts")
	s.Sign(run.SignProved, coretest.Abara, run.Event{})
	s.Add(run.Event{Kind: run.Loosened, Pass: 5, Fastener: 2, Reason: "leak"})
	require.Contains(t, s.State().OpenItems, "Signature of a different inspector", "work after a signature voids it")
}

// The tightening is signed for by somebody who tightened, the proof by somebody who did not; persons count, not names.
func TestWhoTightenedSignsForIt(t *testing.T) {
	s := script(t)
	for _, c := range s.Plan.Checks {
		if c.Station == procedure.Ready {
			s.Answer(c)
		}
	}
	s.Tighten()
	for _, c := range s.Plan.Checks {
		if c.Station == procedure.Prove {
			s.Answer(c)
		}
	}
	st := s.State()
	require.Equal(t, []run.Person{coretest.Tolley}, st.Workers)
	may := func(purpose run.Purpose, who run.Person) error {
		return run.MaySign(s.Plan, s.State(), run.Event{Kind: run.Signed, Purpose: purpose, Signer: &who})
	}
	namesake := coretest.Tolley
	namesake.ID = "p-another-tolley"
	require.ErrorContains(t, may(run.SignTightened, coretest.Quaye), "I. Quaye did not tighten this joint")
	require.ErrorContains(t, may(run.SignTightened, namesake), "did not tighten")
	require.NoError(t, may(run.SignTightened, coretest.Tolley))
	s.Sign(run.SignTightened, coretest.Tolley, run.Event{})
	require.NoError(t, may(run.SignProved, coretest.Abara))
	senior := coretest.Tolley
	senior.Role = authority.Inspector
	require.ErrorContains(t, may(run.SignProved, senior), "pulled bolts of this joint")
}

func TestOverIsLoosenedAndRepeated(t *testing.T) {
	s := ready(t)
	s.Add(run.Event{Kind: run.SettingConfirmed, Setting: s.State().Setting})
	s.Add(pulled(s, 1, func(e *run.Event) { e.Outcome = run.Over }))
	require.Equal(t, run.Stopped, s.State().Verdict.Code)
	s.Add(run.Event{Kind: run.Loosened, Pass: 2, Fastener: 1, Reason: "pulled past the click"})
	require.Equal(t, run.MarkNone, s.State().Fasteners[0].Marks[1])
	s.Tighten()
	require.Equal(t, run.DeviationReworked, s.State().Deviations[0].Status)
}

// What no device proved, and what a clock said that cannot be, stands in the state and so on record and certificate.
func TestDoubtfulEntriesAreRemarkedOn(t *testing.T) {
	s := script(t)
	s.Add(run.Event{Kind: run.Noted, Note: "x", Unproved: run.UnprovedNoTLS})
	require.Equal(t, []string{"Device not proved: 1 entry came without the signature of a device."}, s.State().Remarks)
	early := coretest.Day
	s.Add(run.Event{Kind: run.Noted, Note: "y", Unproved: run.UnprovedBefore, BoundedAt: &early})
	st := s.State()
	require.Equal(t, 2, st.NotProved)
	require.Equal(t, 1, st.ClockOff)
	require.Contains(t, st.Remarks[0], "2 entries")
	require.Contains(t, st.Remarks[1], "Clock not believed: of 1 entry")
}
