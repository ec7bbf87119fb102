package lab

import (
	"context"
	"fmt"
	"math"
	"slices"

	"dynacor/core/interaction"
)

// Outcome is what becomes of a joint.
type Outcome struct {
	Word      string      `json:"word"`
	Forces    []float64   `json:"forces"`   // kN in the end
	Lowest    int         `json:"lowest"`   // bolt with the least
	Min       float64     `json:"min"`      // kN
	Max       float64     `json:"max"`      // kN
	Even      float64     `json:"even"`     // lowest of highest, percent
	Spread    float64     `json:"spread"`   // (max - min) / mean, percent
	Stress    float64     `json:"stress"`   // MPa, lowest of the gasket
	Highest   float64     `json:"highest"`  // kN, of any bolt at any time
	YieldPct  float64     `json:"yieldPct"` // that, of yield; 0: yield is not known
	Pulls     int         `json:"pulls"`
	Minutes   float64     `json:"minutes"`
	TiltMM    float64     `json:"tiltMm"`   // out of parallel at the edge
	Steps     []Pull      `json:"steps"`    // each pull
	Passes    []PassEnd   `json:"passes"`   // where each pass ends
	History   [][]float64 `json:"history"`  // kN of each bolt after each pull
	Gasket    [][]float64 `json:"gasket"`   // MPa at each bolt and halfway to the next, after each pull
	Gap       [][]float64 `json:"gap"`      // there, mm by which the faces stand further apart at the edge than on average
	TiltMMs   []float64   `json:"tiltMms"`  // out of parallel at the edge, after each pull
	Holds     bool        `json:"holds"`    // the gasket has what it needs
	Sentence  string      `json:"sentence"` // what to think of it
	Yields    bool        `json:"yields"`
	NeedKnown bool        `json:"needKnown"`
	Uneven    bool        `json:"uneven"` // the lowest has less than Enough of the highest
	Enough    float64     `json:"enough"` // percent from where on bolts are told to be even
}

// Pull is one step of the history.
type Pull struct {
	Bolts []int     `json:"bolts"`
	Angle []float64 `json:"angle"` // degrees by which each nut turned
	Pass  int       `json:"pass"`
}

// PassEnd is where a pass ends in the history.
type PassEnd struct {
	Word string `json:"word"` // pass 1, 30 %
	Step int    `json:"step"` // steps done by then
}

// evenEnough is from where on bolts are told to be even, percent of the highest. A starting value.
const evenEnough = 90

// Play goes through a procedure. Refused as the setup or the procedure cannot be.
func (j *Joint) Play(ctx context.Context, p Procedure) (*Outcome, error) {
	return j.play(ctx, j.Model, p)
}

func (j *Joint) play(ctx context.Context, of interaction.Joint, p Procedure) (*Outcome, error) {
	seq, err := p.sequence(j.Setup)
	if err != nil {
		return nil, err
	}
	m, err := interaction.New(of)
	if err != nil {
		return nil, err
	}
	o := &Outcome{}
	r, err := m.RunContext(ctx, seq, func() { o.lies(m) })
	if err != nil {
		return nil, err
	}
	*o = Outcome{
		Gasket:  o.Gasket,
		Gap:     o.Gap,
		TiltMMs: o.TiltMMs,
		Word:    p.Word(),
		Pulls:   r.Pulls,
		Stress:  r.Stress.Min / 1e6,
		Highest: r.Highest / 1e3,
		TiltMM:  r.Shape.RangeAll * 1e3,
		Steps:   []Pull{},
		History: [][]float64{},
		Passes:  []PassEnd{},
	}
	o.Forces = kilo(r.Forces)
	o.Min, o.Max = math.Inf(1), 0
	for i, f := range o.Forces {
		if f < o.Min {
			o.Min, o.Lowest = f, i+1
		}
		o.Max = max(o.Max, f)
	}
	if o.Max > 0 {
		o.Even = 100 * o.Min / o.Max
	}
	o.Spread = 100 * r.Stats.Scatter
	for i, s := range r.Steps {
		o.Steps = append(o.Steps, Pull{s.Bolts, s.Angle, s.Pass})
		o.History = append(o.History, kilo(s.Forces))
		if i == len(r.Steps)-1 || r.Steps[i+1].Pass != s.Pass {
			o.Passes = append(o.Passes, PassEnd{passWord(p, s.Pass), i + 1})
		}
	}
	o.Minutes = (float64(len(r.Steps))*j.Setup.PullSeconds + float64(len(o.Passes))*j.Setup.PassSeconds) / 60
	if j.Setup.YieldKN > 0 {
		o.YieldPct = 100 * o.Highest / j.Setup.YieldKN
	}
	o.NeedKnown = j.Setup.NeedMPa > 0
	o.Holds = o.Stress >= j.Setup.NeedMPa
	o.Yields = o.YieldPct > 100
	o.Enough, o.Uneven = evenEnough, o.Even < evenEnough
	o.Sentence = o.says(j.Setup)
	return o, nil
}

// lies keeps how the faces lie on the gasket after a pull: to 0.01 MPa and a tenth of a thousandth of a mm.
func (o *Outcome) lies(m *interaction.Model) {
	stress, closure := m.Round()
	mean := 0.0
	for i, c := range closure {
		stress[i] = math.Round(stress[i]/1e4) / 100
		mean += c / float64(len(closure))
	}
	for i, c := range closure {
		closure[i] = math.Round((mean-c)*1e7) / 1e4
	}
	o.Gasket, o.Gap = append(o.Gasket, stress), append(o.Gap, closure)
	o.TiltMMs = append(o.TiltMMs, math.Round(m.Shape().RangeAll*1e7)/1e4)
}

func kilo(newton []float64) []float64 {
	out := make([]float64, len(newton))
	for i, f := range newton {
		out[i] = f / 1e3
	}
	return out
}

func passWord(p Procedure, n int) string {
	if n < len(p.Stages) {
		return fmt.Sprintf("pass %d, %g %%", n+1, p.Stages[n])
	}
	return "round, 100 %"
}

func (o *Outcome) says(s Setup) string {
	switch {
	case o.Yields:
		return fmt.Sprintf("A bolt yields: %.0f kN of %.0f on the way.", o.Highest, s.YieldKN)
	case o.NeedKnown && !o.Holds:
		return fmt.Sprintf("The gasket has %.0f MPa where it has least, and needs %.0f.", o.Stress, s.NeedMPa)
	case s.Taper != nil:
		return fmt.Sprintf(
			"The rings end %.2f mm out of parallel, %.2f at most on the way; bolt %d has %.0f %% of the "+
				"highest. What the lock then carries is not computed.",
			o.TiltMM,
			slices.Max(o.TiltMMs),
			o.Lowest,
			o.Even,
		)
	case o.Uneven:
		return fmt.Sprintf("Uneven: each nut loses load when the next is pulled; bolt %d keeps %.0f %% of the highest.",
			o.Lowest, o.Even)
	}
	return fmt.Sprintf("Even: every bolt ends within %.0f %% of the highest.", 100-o.Even)
}

// Comparison says what two procedures differ in.
type Comparison struct {
	Sentence string `json:"sentence"`
	Sure     string `json:"sure"`
}

// curves are how much stiffer or softer the gasket may be than its typical curve: what is said must hold for both.
var curves = []float64{.8, 1.2}

// Compare holds two procedures against each other, with the gasket as it is and a fifth softer and stiffer.
func (j *Joint) Compare(ctx context.Context, a, b Procedure) (*Comparison, error) {
	better := func(of interaction.Joint) (x, y *Outcome, err error) {
		if x, err = j.play(ctx, of, a); err == nil {
			y, err = j.play(ctx, of, b)
		}
		return x, y, err
	}
	x, y, err := better(j.Model)
	if err != nil {
		return nil, err
	}
	c := &Comparison{}
	left, right := fmt.Sprintf("%.0f %%", x.Even), fmt.Sprintf("%.0f %%", y.Even)
	pulls := "for as many pulls"
	if x.Pulls != y.Pulls {
		pulls = fmt.Sprintf("for %d pulls against %d", x.Pulls, y.Pulls)
	}
	const alike = 2 // percent points that say nothing
	if math.Abs(x.Even-y.Even) < alike {
		c.Sentence = fmt.Sprintf(
			"Left and right are alike: the lowest bolt has %s and %s of the highest, %s.",
			left,
			right,
			pulls,
		)
	} else {
		side := map[bool]string{true: "Left", false: "Right"}[x.Even > y.Even]
		c.Sentence = fmt.Sprintf(
			"%s is more even: the lowest bolt has %s of the highest on the left, %s on the right, %s.",
			side,
			left,
			right,
			pulls,
		)
	}
	sure := true
	for _, by := range curves {
		u, v, err := better(j.stiffer(by))
		if err != nil {
			return nil, err
		}
		d, e := x.Even-y.Even, u.Even-v.Even
		sure = sure && (math.Abs(d) < alike && math.Abs(e) < 2*alike || d*e > 0 && math.Abs(d) >= alike)
	}
	c.Sure = "The same holds with a gasket a fifth softer or stiffer."
	if !sure {
		c.Sure = "It depends on the gasket: a fifth softer or stiffer changes it."
	}
	return c, nil
}
