package record

import (
	"time"

	"dynacor/core/run"
)

// Pull is what a fastener came to at the last pull that was read.
type Pull struct {
	Position int
	Fastener string
	At       time.Time
	Tool     string // tags from hand or pump to the nut
	Method   string // how it was worked: wrench, multiplier, hydraulics
	By       string
	Nm       float64
	AimNm    float64
	LowNm    float64 // what the document allows; 0: it gives no limit
	HighNm   float64
}

// LastPulls gives, of each fastener whose torque was read, the last pull that counts. What was only clicked is not
// there: a click tells that a setting was reached, not what the nut came to.
func (r Record) LastPulls() []Pull {
	last := map[int]Result{}
	for _, x := range r.Results() {
		if x.Counts && x.Act == run.Pulled && x.TargetNm > 0 && x.Tool != "" {
			last[x.Position] = x
		}
	}
	var out []Pull
	for i := range r.Plan.Count() {
		x, ok := last[i+1]
		if !ok || x.ReadingSI <= 0 || x.Unit != "N·m" {
			continue
		}
		g := r.Plan.GroupAt(i + 1)
		p := Pull{Position: i + 1, Fastener: x.Fastener, At: x.At, Tool: x.Tool, By: x.By, Nm: x.ReadingSI,
			AimNm: g.FinalNm, LowNm: g.AllowedMin, HighNm: g.AllowedMax}
		if s := g.InHand(); s != nil {
			p.Method = string(s.Method())
		}
		if p.AimNm > 0 {
			out = append(out, p)
		}
	}
	return out
}
