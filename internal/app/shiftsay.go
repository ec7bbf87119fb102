package app

import (
	"fmt"
	"math"
	"slices"
	"time"

	"dynacor/core/schedule"
	"dynacor/core/shutdown"
)

// Forecasts run through a plan as often as there is time for: so many parts of the work in all.
const (
	forecastParts = 400_000
	forecastSeed  = 1
	fewestRuns    = 100
)

// foresee says when the plan ends if work takes as long as it does, and what does not hold then.
func (s *shift) foresee(in *schedule.Instance, a *schedule.Answer) {
	s.P50, s.P80 = s.Finish, s.Finish
	if len(a.Activities) == 0 {
		return
	}
	runs := min(schedule.ForecastRuns, max(fewestRuns, forecastParts/len(a.Activities)))
	f, err := schedule.Foresee(in, a.Activities, s.spreads(in), runs, forecastSeed)
	if err != nil {
		return // the plan stands without it
	}
	s.P50, s.P80 = s.at(f.P50), s.at(f.P80)
	for _, b := range f.Broken {
		if pct := int(math.Round(100 * b.Share)); pct > 0 {
			s.Risks = append(s.Risks, fmt.Sprintf("%s: in %d of 100 runs.", shutdown.Risk(b), pct))
		}
	}
}

// pinned says who set a part of the work by hand, and why; "" when nobody did.
func (s *shift) pinned(act string, in *schedule.Instance) string {
	if !slices.ContainsFunc(in.Pins, func(p schedule.Pin) bool { return p.Activity == act }) {
		return ""
	}
	tag, kind := shutdown.Of(act)
	for _, p := range s.held.Pins {
		if p.Tag == tag && p.Kind == kind {
			if p.Reason == "" {
				return p.By
			}
			return p.By + ": " + p.Reason
		}
	}
	return ""
}

// against tells what stands elsewhere than in the plan in force.
func (s *shift) against(force *ShiftPlan) {
	for _, was := range force.Activities {
		n := slices.IndexFunc(s.Activities, func(x ShiftActivity) bool {
			return x.Tag == was.Tag &&
				x.Kind == was.Kind
		})
		if n < 0 || s.Activities[n].Begun {
			continue
		}
		now := s.Activities[n]
		if by := now.Start.Sub(was.Start).Abs(); by >= shutdown.SlipSeen*time.Minute || !sameSet(now.IDs, was.IDs) {
			s.Moves = append(s.Moves, ShiftMoved{was.Tag, was.Kind, was.Start, was.End, was.People})
		}
	}
}

func sameSet(a, b []string) bool {
	return len(a) == len(b) && !slices.ContainsFunc(a, func(x string) bool { return !slices.Contains(b, x) })
}
