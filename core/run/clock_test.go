package run_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/run"
)

// drying is a joint whose lubricant lasts half an hour, ready to be tightened.
func drying(t *testing.T) *coretest.Script {
	p, err := plan.Make(coretest.Input())
	require.NoError(t, err)
	for i := range p.Checks {
		if p.Checks[i].Code == "lubricated" {
			p.Checks[i].LifeMinutes = 30
		}
	}
	s := coretest.NewScript(p)
	s.Ready()
	return s
}

// A pull after the lubricant has dried is told, whatever anybody looked at before; a clock that is put back does not
// wet it again.
func TestNoClockShortensAWait(t *testing.T) {
	s := drying(t)
	s.Pull()
	require.Equal(t, run.CheckCleared, s.State().Check("lubricated").Status)

	s.At = s.At.Add(25 * time.Minute)
	s.Pull()
	require.Empty(t, s.State().Deviations)
	late := s.At.Add(6 * time.Minute)

	pull := func(at time.Time) *run.State {
		e := pulled(s, s.State().Next.Fastener, nil)
		e.ID, e.At, e.Person = "x", at, s.Person
		return s.Judge(e)
	}
	require.False(t, found(s.Judge(pulled(s, s.State().Next.Fastener, nil)), "not_ready"))
	s.At = late
	require.True(t, found(pull(late), "not_ready"), "it has dried")

	s = drying(t)
	s.Pull()
	wet := s.At
	s.Add(run.Event{Kind: run.Noted, Note: "back from the tool room", Person: coretest.Quaye})
	s.Events[len(s.Events)-1].At = wet.Add(40 * time.Minute) // another device says so
	s.At = wet                                               // this one's clock was put back
	e := pulled(s, s.State().Next.Fastener, nil)
	require.True(t, found(s.Judge(e), "not_ready"), "what was recorded before is no earlier")
	require.Equal(t, run.CheckOpen, s.State().Check("lubricated").Status)
}

// An entry that came in long after its time is told: what was waited before it rests on that device's clock.
func TestWhatWasHeardOfLateIsTold(t *testing.T) {
	s := ready(t)
	s.Pull()
	require.Empty(t, s.State().Remarks)
	s.Add(run.Event{Kind: run.Noted, Note: "in the shaft", LateMin: 25})
	s.Add(run.Event{Kind: run.Noted, Note: "still there", LateMin: 150})
	st := s.State()
	require.Equal(t, 2, st.Late)
	require.Equal(t, []string{"Heard later: 2 entries came in up to 2 h after the time that their device told; what " +
		"was waited between them rests on that clock."}, st.Remarks)
}
