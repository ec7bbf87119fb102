package coretest

import (
	"dynacor/core/authority"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// Lindqvist is a second engineer, who has done nothing yet and so may prove what any other did.
var Lindqvist = run.Person{ID: "p-lindqvist", Name: "E. Lindqvist", Role: authority.Engineer}

// Accept leads a run from wherever it stands to an accepted joint with both signatures, with nothing but what somebody
// with authority may do: stops are lifted, what is left over is accepted with a reason, and what is due is done as it
// should be. false: there is no such way from here.
func Accept(s *Script) bool {
	for range 40 * (len(s.Plan.Passes)*s.Plan.Count() + len(s.Plan.Checks)) {
		st := s.State()
		if st.Verdict.Code == run.Accepted && len(st.OpenItems) <= 2 && st.Station == procedure.HandOver {
			break
		}
		if lift(s, st) || leave(s, st) || next(s) || anew(s, st) {
			continue
		}
		return false
	}
	st := s.State()
	who := st.Workers
	if len(who) == 0 || st.Verdict.Code != run.Accepted {
		return false
	}
	return sign(s, run.SignTightened, who[len(who)-1], run.Event{}) &&
		sign(s, run.SignProved, Lindqvist, run.Event{}) &&
		len(s.State().OpenItems) == 0
}

func sign(s *Script, purpose run.Purpose, who run.Person, e run.Event) bool {
	e.Kind, e.Purpose, e.Signer = run.Signed, purpose, &who
	if run.MaySign(s.Plan, s.State(), e) != nil {
		return false
	}
	s.Add(e)
	return true
}

// lift ends a stop.
func lift(s *Script, st *run.State) bool {
	if st.StoppedBy == "" {
		return false
	}
	s.Add(run.Event{Kind: run.Released, Person: Hartwell})
	return true
}

// leave accepts what stands in the way.
func leave(s *Script, st *run.State) bool {
	for _, d := range st.Deviations {
		if d.Unsettled() && sign(s, run.SignDeviation, Hartwell, run.Event{Ref: d.ID, Reason: "looked at, may stay"}) {
			return true
		}
	}
	return false
}

// next does what is due.
func next(s *Script) bool {
	n := len(s.Events)
	return s.Due() && len(s.Events) > n
}

// anew lets go what was pulled with no tool on record, with the tools taken since.
func anew(s *Script, st *run.State) bool {
	if st.Verdict.Code != run.Stopped {
		return false
	}
	n := len(s.Events)
	for _, c := range s.Plan.Checks {
		if c.Kind == procedure.Wrench {
			s.Answer(c)
		}
	}
	for _, f := range st.Fasteners {
		if f.TorqueNm > 0 {
			s.Add(run.Event{Kind: run.Loosened, Pass: 1, Fastener: f.Position, Reason: "pulled with no tool on record"})
		}
	}
	return len(s.Events) > n
}
