package run_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/run"
)

// A stop is lifted by the one who called it, or by somebody who may lift another's; persons are compared, not names.
func TestStopIsLiftedByWhoMay(t *testing.T) {
	namesake := run.Person{ID: "p-other", Name: coretest.Tolley.Name, Role: coretest.Tolley.Role}
	mate := run.Person{ID: "p-mate", Name: "O. Strand", Role: coretest.Tolley.Role}
	for _, c := range []struct {
		who   run.Person
		lifts bool
	}{{coretest.Tolley, true}, {mate, false}, {coretest.Quaye, true}, {namesake, false}, {coretest.Abara, true},
		{coretest.Hartwell, true}} {
		s := ready(t)
		s.Add(run.Event{Kind: run.Held, Reason: "a leak next door"})
		require.Equal(t, coretest.Tolley.ID, s.State().StoppedID)
		s.Add(run.Event{Kind: run.Released, Person: c.who})
		st := s.State()
		require.Equal(t, c.lifts, st.StoppedBy == "", "%s, %s", c.who.Name, c.who.Role)
		require.Equal(t, c.lifts, st.StoppedID == "")
		require.Equal(t, !c.lifts, len(st.Findings) == 1)
		if !c.lifts {
			require.Equal(t, run.NotLifted, st.Findings[0].Code)
			require.Contains(t, st.Findings[0].Why, "a leak next door")
			s.Add(run.Event{Kind: run.Released, Person: coretest.Tolley})
			require.Empty(t, s.State().StoppedBy)
		}
	}
	s := ready(t)
	s.Add(run.Event{Kind: run.Released, Person: mate})
	require.Empty(t, s.State().Findings, "there is nothing to lift")
	for i := range s.Plan.Checks {
		s.Plan.Checks[i].Waive = ""
	}
	s.Add(run.Event{Kind: run.Held, Reason: "a leak next door"})
	s.Add(run.Event{Kind: run.Released, Person: mate})
	require.Empty(t, s.State().StoppedBy, "as it was by the plans of older programs")
}

// What stops the work is not undone by taking back the entry that says so.
func TestStopAndDoubtAreNotTakenBack(t *testing.T) {
	s := ready(t)
	s.Pull()
	held := s.Add(run.Event{Kind: run.Held, Reason: "a leak next door"})
	s.Add(run.Event{Kind: run.TakenBack, Ref: held.ID, Reason: "not wanted", Person: coretest.Quaye})
	require.NotEmpty(t, s.State().StoppedBy)
	doubt := s.Add(doubted(s.State().Wrench.Tag))
	s.Add(run.Event{Kind: run.TakenBack, Ref: doubt.ID, Reason: "not wanted"})
	require.Len(t, inDoubt(s.State()), 1)
	require.NotEmpty(t, s.State().Doubted)
	require.Empty(t, s.State().TakenBack)
	for i := range s.Plan.Checks {
		s.Plan.Checks[i].Waive = ""
	}
	require.Empty(t, run.Fold(s.Plan, s.Events, s.At).StoppedBy, "as it was by the plans of older programs")
}
