package app

import (
	"context"

	"dynacor/core/schedule"
	"dynacor/core/shutdown"
	"dynacor/core/working"
	"dynacor/internal/store"
)

// ShiftPace is how a site's own history corrects the time of pulls of a family.
type ShiftPace struct {
	Family     string  `json:"family"` // its name
	N          int     `json:"n"`      // finished joints counted
	Median     float64 `json:"median"` // of the times they took over what was estimated
	Correction float64 `json:"correction"`
}

// mostPaced are how many finished joints of a family count.
const mostPaced = 50

// paces holds how long pulls took in the latest records of each family against what its plans estimate. Pauses longer
// than the house rules allow are rests, and do not count.
func (a *App) paces(ctx context.Context, joints []shutdown.Joint, s *shift) (map[string]schedule.Correction, error) {
	out := map[string]schedule.Correction{}
	for _, j := range joints {
		if _, done := out[j.Plan.Family]; done {
			continue
		}
		rules := j.Plan.HouseRules
		rows, err := a.q.PaceOfFamily(ctx, store.PaceOfFamilyParams{Family: j.Plan.Family, N: mostPaced,
			Pause: rules.PauseMinutes * 60})
		if err != nil {
			return nil, err
		}
		var in schedule.CorrectionInput
		for _, r := range rows {
			if rules.SecondsPerPull > 0 {
				in.Ratios = append(in.Ratios, r.Gap/rules.SecondsPerPull)
			}
		}
		c, err := schedule.Correct(&working.Working{}, in)
		if err != nil {
			return nil, err
		}
		out[j.Plan.Family] = c
		if c.N > 0 {
			s.Paces = append(s.Paces, ShiftPace{j.Plan.FamilyName, c.N, c.Median, c.C})
		}
	}
	s.paces = out
	return out, nil
}

// spreads says how far the time of each part of the work lies apart: that of a pull as in the site's own history.
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
			if c, ok := s.paces[families[tag]]; ok && k == shutdown.Tighten {
				out.Of[x.ID] = c.Sigma
			}
		}
	}
	return out
}
