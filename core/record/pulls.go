package record

import (
	"math"
	"time"
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

// Pct is how far the fastener is from its aim, in per cent to a millionth, so that equal ones are equal.
func (p Pull) Pct() float64 { return p.pct(p.Nm) }

// Limits are what the document allows, in per cent from the aim; both 0: it gives no limit.
func (p Pull) Limits() (low, high float64) {
	if p.LowNm >= p.HighNm {
		return 0, 0
	}
	return p.pct(p.LowNm), p.pct(p.HighNm)
}

func (p Pull) pct(nm float64) float64 { return math.Round(1e8*(nm-p.AimNm)/p.AimNm) / 1e6 }

// LastPulls gives, of each fastener whose torque was read, the last pull that counts. What was only clicked is not
// there: a click tells that a setting was reached, not what the nut came to.
func (r Record) LastPulls() []Pull {
	last := r.LastPulled()
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

// LastPull says when a tool was last used for the record: the zero time when none was.
func (r Record) LastPull() time.Time {
	var last time.Time
	for _, x := range r.LastPulled() {
		if x.At.After(last) {
			last = x.At
		}
	}
	return last
}
