package schedule

// objective says how good the plan is as it stands. A job counts as left out when something of it is not placed.
func (s *state) objective() Objective {
	var o Objective
	for j := range s.jobs {
		end, whole := 0, true
		for _, i := range s.jobs[j].acts {
			if !s.is[i] {
				whole = false
				continue
			}
			end = max(end, s.at[i].end)
		}
		o.Finish = max(o.Finish, end)
		if !whole || s.skip[j] {
			o.Unplaced++
			continue
		}
		if due := s.jobs[j].due; due != never && end > due {
			o.Tardiness += s.jobs[j].weight * (end - due)
		}
	}
	for t := range s.tools {
		place := s.model.tools[t].area
		for _, x := range s.tools[t] {
			if x.place >= 0 {
				if place >= 0 && x.place != place {
					o.Carries++
				}
				place = x.place
			}
		}
	}
	for _, n := range s.load {
		o.Load += n * n
	}
	return o
}
