package record

import (
	"math"
	"time"

	"dynacor/core/plan"
	"dynacor/core/run"
)

// Quantity is what a pull is counted by.
type Quantity string

// The quantities.
const (
	Torque   Quantity = "torque"   // N·m, where it was read
	Angle    Quantity = "angle"    // degrees from the mark, where a turn is the aim
	Stretch  Quantity = "stretch"  // mm that the bolt became longer
	Movement Quantity = "movement" // degrees that the nut turned in its last check round, where it may turn a little
)

// Quantities are all of them.
func Quantities() []Quantity { return []Quantity{Torque, Angle, Stretch, Movement} }

// Pull is what a fastener came to at the last pull that tells a quantity.
type Pull struct {
	Of       Quantity
	Position int
	Fastener string
	At       time.Time
	Tool     string // tags from hand or pump to the nut
	Method   string // how it was worked: wrench, multiplier, hydraulics
	By       string
	Value    float64 // in the unit of its quantity
	Aim      float64
	Low      float64 // what may be; not below High: there is no limit
	High     float64
}

// Pct is how far the fastener is from its aim, in per cent to a millionth, so that equal ones are equal. Of a movement,
// whose aim is none, it is how much of what the nut may turn.
func (p Pull) Pct() float64 { return p.pct(p.Value) }

// Limits are what may be, in the same per cent; both 0: there is no limit.
func (p Pull) Limits() (low, high float64) {
	if p.Low >= p.High {
		return 0, 0
	}
	return p.pct(p.Low), p.pct(p.High)
}

func (p Pull) pct(v float64) float64 {
	whole := p.Aim
	if p.Of == Movement {
		whole = p.High
	}
	return math.Round(1e8*(v-p.Aim)/whole) / 1e6
}

// LastPulls gives, of each fastener and quantity, the last pull that counts and tells it. What was only clicked tells
// no torque: a click says that a setting was reached, not what the nut came to.
func (r Record) LastPulls() []Pull {
	last := map[Quantity]map[int]Pull{Torque: r.lastTorques(), Angle: {}, Stretch: {}, Movement: {}}
	for _, x := range r.Results() {
		i := x.Pass - 1
		if !x.Counts || x.Act != run.Pulled || i < 0 || i >= len(r.State.Passes) {
			continue
		}
		if p, ok := r.told(x, r.State.Passes[i]); ok {
			last[p.Of][x.Position] = p
		}
	}
	var out []Pull
	for _, q := range Quantities() {
		for i := range r.Plan.Count() {
			if p, ok := last[q][i+1]; ok {
				out = append(out, p)
			}
		}
	}
	return out
}

// told is what a result tells of a turn, a stretch or a movement.
func (r Record) told(x Result, pass run.PassState) (Pull, bool) {
	p := r.pull(x)
	switch {
	case pass.Kind == plan.TurnPass && x.TurnedDeg > 0:
		p.Of, p.Value, p.Aim = Angle, x.TurnedDeg, pass.TurnDeg
		p.Low, p.High = p.Aim-run.TurnSlackDeg, p.Aim+run.TurnSlackDeg
	case pass.Kind == plan.StretchPass && x.ReadingSI > 0:
		p.Of, p.Value, p.Low, p.High = Stretch, x.ReadingSI, pass.LowMM, pass.HighMM
		p.Aim = (p.Low + p.High) / 2
	case pass.MovedDeg > 0 && x.Moved != nil && (!*x.Moved || x.TurnedDeg > 0):
		p.Of, p.Value, p.High = Movement, x.TurnedDeg, pass.MovedDeg
		return p, true
	}
	return p, p.Aim > 0
}

func (r Record) lastTorques() map[int]Pull {
	out := map[int]Pull{}
	for at, x := range r.LastPulled() {
		if x.ReadingSI <= 0 || x.Unit != "N·m" {
			continue
		}
		g, p := r.Plan.GroupAt(at), r.pull(x)
		p.Of, p.Value, p.Aim, p.Low, p.High = Torque, x.ReadingSI, float64(
			g.FinalNm,
		), float64(
			g.AllowedMin,
		), float64(
			g.AllowedMax,
		)
		if x.Own {
			off := r.Plan.HouseRules.ReadingBand() / 100
			p.Aim, p.Low, p.High = x.TargetNm, x.TargetNm*(1-off), x.TargetNm*(1+off)
		}
		if p.Aim > 0 {
			out[at] = p
		}
	}
	return out
}

func (r Record) pull(x Result) Pull {
	p := Pull{Position: x.Position, Fastener: x.Fastener, At: x.At, Tool: x.Tool, By: x.By}
	if s := r.Plan.GroupAt(x.Position).InHand(); s != nil {
		p.Method = string(s.Method())
	}
	return p
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
