package plan

import "time"

// RetorqueDue is when the nuts of a joint are tried again that was sealed at a time; false: they are not.
func (r HouseRules) RetorqueDue(sealed time.Time) (time.Time, bool) {
	return sealed.Add(time.Duration(r.RetorqueHours * float64(time.Hour))), r.RetorqueHours > 0
}

// HeatCheckDue is until when a joint is looked at again that went through a heat cycle at a time; false: it is not.
func (r HouseRules) HeatCheckDue(at time.Time) (time.Time, bool) {
	return at.Add(time.Duration(r.HeatCheckHours * float64(time.Hour))), r.HeatCheckHours > 0
}

// RetestDue is when a test under pressure that was sealed at a time is done again; false: it holds for good.
func (r HouseRules) RetestDue(sealed time.Time) (time.Time, bool) {
	return sealed.AddDate(0, int(r.RetestMonths), 0), r.RetestMonths > 0
}

// ReadingBand is what a reading may be off in percent where the document gives no tolerance; rules made before it was
// asked for have 5.
func (r HouseRules) ReadingBand() float64 {
	if r.ReadingBandPct == 0 {
		return 5
	}
	return r.ReadingBandPct
}

// DefaultHouseRules are the more cautious choices; a site makes its own version.
func DefaultHouseRules() HouseRules {
	h := HouseRules{Version: 1, Limits: map[string]float64{}, Reasons: map[string]string{}}
	for _, r := range houseRules() {
		r.deliver(&h)
		if r.Why != "" {
			h.Reasons[r.Why] = r.reason
		}
	}
	return h
}
