package coretest

import (
	"math/rand/v2"
	"time"

	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
)

// Wild adds n events as hurried, careless and hostile hands would send them: often what is due, often something else,
// always something that would be accepted. What the joint has is met more often than chance would.
func Wild(s *Script, rng *rand.Rand, n int) {
	for range n {
		switch rng.IntN(10) {
		case 0, 1, 2, 3:
			due(s)
			continue
		case 4:
			s.At = s.At.Add(time.Duration(rng.IntN(7200)) * time.Second)
		}
		e := wild(s, rng)
		if e.Person = []run.Person{Tolley, Quaye, Abara, Hartwell}[rng.IntN(4)]; e.Kind == run.Signed {
			e.Signer = &e.Person
			if run.MaySign(s.Plan, s.State(), e) == nil {
				s.Add(e)
			}
			continue
		}
		e.ID, e.At = "x", s.At
		if e.Validate() == nil && e.Fits(s.Plan) == nil {
			s.Add(e)
		}
	}
}

// due adds what comes next.
func due(s *Script) {
	st := s.State()
	if st.Station == procedure.Read {
		s.Add(run.Event{Kind: run.ReadConfirmed})
		return
	}
	for _, c := range s.Plan.Checks {
		for _, cs := range st.Checks {
			if cs.Code == c.Code && c.Station == st.Station && !cs.Status.Settled() {
				s.Answer(c)
				return
			}
		}
	}
	if st.Pass > 0 {
		s.Pull()
	}
}

func wild(s *Script, rng *rand.Rand) run.Event {
	kinds := []run.Kind{run.Pulled, run.Pulled, run.Pulled, run.Pulled, run.Loosened, run.PartChanged,
		run.Skipped, run.TakenBack,
		run.CheckAnswered, run.CheckAnswered, run.WrenchTaken, run.SettingConfirmed,
		run.Paused, run.Held, run.Released, run.DeviationRaised, run.Noted, run.Signed, run.Signed}
	outcomes := []run.Outcome{run.Clicked, run.ClickedStill, run.Short, run.Over, run.Replaced, run.Stalled,
		run.RunDown, run.Reached, run.ByHand, run.Turned, run.Shaped, run.Measured, run.LeftAlone, run.Undone}
	units := []quantity.Unit{quantity.NewtonMetre, quantity.FootPound, quantity.Millimetre, quantity.Megapascal, "bar",
		""}
	st := s.State()
	e := run.Event{Kind: kinds[rng.IntN(len(kinds))], Reason: "because", Note: "seen"}
	e.Pass = max(1, st.Pass+rng.IntN(3)-1)
	e.Fastener = 1 + rng.IntN(s.Plan.Count()+1)
	if st.Next != nil && rng.IntN(2) == 0 {
		e.Fastener = st.Next.Fastener
	}
	e.Hand = rng.IntN(2)
	e.Outcome = outcomes[rng.IntN(len(outcomes))]
	e.Setting = st.Setting * []float64{1, 1, 1, 0.9, 1.1, 0.7376}[rng.IntN(6)]
	if rng.IntN(3) == 0 {
		u := units[rng.IntN(len(units))]
		v := 500 * rng.Float64()
		e.Reading = &run.Reading{Value: v, Unit: u, SI: v, Text: quantity.Text(v)}
	}
	if rng.IntN(2) == 0 {
		moved := rng.IntN(2) == 0
		e.Moved = &moved
	}
	if rng.IntN(3) == 0 {
		e.TurnedDeg = 400 * rng.Float64()
	}
	if len(s.Events) > 0 {
		e.Ref = s.Events[rng.IntN(len(s.Events))].ID
	}
	switch e.Kind {
	case run.CheckAnswered, run.DeviationRaised:
		c := s.Plan.Checks[rng.IntN(len(s.Plan.Checks))]
		if rng.IntN(2) == 0 {
			right := s.Right(c)
			e.Check, e.Answer, e.Values, e.Parts, e.Marks, e.Items, e.Method = right.Check, right.Answer, right.Values,
				right.Parts, right.Marks, right.Items, right.Method
			break
		}
		e.Check, e.Answer = c.Code, []string{"yes", "no", "na", "accept", "repair", "", "out"}[rng.IntN(7)]
		for range rng.IntN(9) {
			e.Values = append(e.Values, run.Reading{Value: 10 * rng.Float64(), Unit: units[rng.IntN(len(units))],
				SI: 10 * rng.Float64()})
		}
	case run.PartChanged:
		e.Part, e.Answer = procedure.LubricantPart, []string{run.NewPart, run.Refitted}[rng.IntN(2)]
		if n := len(s.Plan.Parts); n > 0 && rng.IntN(4) > 0 {
			e.Part = s.Plan.Parts[rng.IntN(n)].Code
		}
	case run.WrenchTaken:
		w := Wrench()
		e.Wrench = &w
	case run.Signed:
		e.Purpose = []run.Purpose{run.SignHold, run.SignDeviation, run.SignStartPass, run.SignTightened,
			run.SignProved, run.SignTurnedDown}[rng.IntN(6)]
		e.Pass = st.Pass + 1
		if e.Purpose == run.SignDeviation && len(st.Deviations) > 0 {
			e.Ref = st.Deviations[rng.IntN(len(st.Deviations))].ID
		}
		e.Check = s.Plan.Checks[rng.IntN(len(s.Plan.Checks))].Code
	}
	return e
}
