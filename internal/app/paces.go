package app

import (
	"context"

	"dynacor/core/schedule"
	"dynacor/core/shutdown"
	"dynacor/core/working"
	"dynacor/internal/store"
)

// ShiftPace is how a site's own history corrects the time of a method of a family.
type ShiftPace struct {
	Family     string          `json:"family"` // its name
	Method     shutdown.Method `json:"method"`
	Word       string          `json:"word"`   // what the method is called
	N          int             `json:"n"`      // finished joints counted
	Median     float64         `json:"median"` // of the times they took over what was estimated
	Correction float64         `json:"correction"`
}

// mostPaced are how many finished joints of a family count.
const mostPaced = 50

// paces holds how long checks, pulls and check rounds took in the latest records of each family against what its plans
// estimate. Pauses longer than the house rules allow are rests, and do not count.
func (a *App) paces(ctx context.Context, joints []shutdown.Joint, s *shift) (shutdown.Paces, error) {
	out := shutdown.Paces{}
	for _, j := range joints {
		if _, done := out[j.Plan.Family]; done {
			continue
		}
		rows, err := a.q.PacesOfFamily(ctx, store.PacesOfFamilyParams{Family: j.Plan.Family, N: mostPaced,
			Pause: j.Plan.HouseRules.PauseMinutes * 60})
		if err != nil {
			return nil, err
		}
		of := map[shutdown.Method]schedule.Correction{}
		for _, m := range shutdown.Methods {
			var in schedule.CorrectionInput
			for _, r := range rows {
				if each := shutdown.SecondsOf(j.Plan, m); r.Method == string(m) && each > 0 {
					in.Ratios = append(in.Ratios, r.Gap/each)
				}
			}
			if of[m], err = schedule.Correct(&working.Working{}, in); err != nil {
				return nil, err
			}
			if c := of[m]; c.N > 0 {
				s.Paces = append(s.Paces, ShiftPace{j.Plan.FamilyName, m, m.Word(), c.N, c.Median, c.C})
			}
		}
		out[j.Plan.Family] = of
	}
	s.paces = out
	return out, nil
}

// spreads says how far the time of each part of the work lies apart: as in the site's own history of its method.
func (s *shift) spreads(in *schedule.Instance) schedule.Spreads {
	out := schedule.UsualSpreads()
	out.Of = map[string]float64{}
	families := map[string]string{}
	for _, j := range s.Joints {
		families[j.Tag] = j.Family
	}
	for _, j := range in.Jobs {
		for _, x := range j.Activities {
			tag, k := shutdown.Of(x.ID)
			m, ok := shutdown.MethodOf(k)
			if c := s.paces[families[tag]][m]; ok && c.Sigma > 0 {
				out.Of[x.ID] = c.Sigma
			}
		}
	}
	return out
}
