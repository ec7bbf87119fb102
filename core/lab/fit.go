package lab

import (
	"context"
	"fmt"
	"maps"
	"math"
	"slices"

	"dynacor/core/interaction"
	"dynacor/core/quantity"
	"dynacor/core/statistics"
)

// Fitted is the gasket that makes the model agree best with what a site measured: how many times as stiff as its typical
// curve, and what a bolt then loses of each kN that its neighbour gains.
type Fitted struct {
	CurveBy        float64  `json:"curveBy"`
	LossPct        float64  `json:"lossPct"`
	TypicalLossPct float64  `json:"typicalLossPct"`
	BeforePct      float64  `json:"beforePct"` // root mean square of what does not fit, typical curve, percent of the mean
	AfterPct       float64  `json:"afterPct"`  // with the fitted one
	Bolts          int      `json:"bolts"`
	From           []string `json:"from"` // numbers of the records
	Sentence       string   `json:"sentence"`
}

// Bounds of a fit.
const (
	fewestFitted = 6
	mostRuns     = 10
	softest      = .2
	stiffest     = 5.
	fitGrid      = 13
	fitSteps     = 10
)

// Fit finds the gasket's stiffness by which several finished runs of a joint are expected as they were measured. Forces
// and stretches count by how they differ from bolt to bolt, not by their level, which friction sets; bolts that do not fit
// are left out. Refused: too few bolts, measurements that hardly differ or that no gasket explains, and as in Overlay.
func (j *Joint) Fit(ctx context.Context, runs []Measured) (*Fitted, error) {
	if len(runs) == 0 || len(runs) > mostRuns {
		return nil, quantity.Refuse("runs", "Choose finished runs that were measured.", "must be 1 to %d", mostRuns)
	}
	typical := j.Setup
	typical.CurveBy = 0
	base, err := Of(typical)
	if err != nil {
		return nil, err
	}
	out := &Fitted{From: []string{}}
	if runs, err = base.telling(ctx, runs, out); err != nil {
		return nil, err
	}
	miss := func(by float64) (float64, error) { return base.miss(ctx, by, runs) }
	best, err := lowest(miss)
	if err != nil {
		return nil, err
	}
	if best < 1.05*softest || best > stiffest/1.05 {
		return nil, quantity.Refuse("runs", "Look at the bolts that do not fit, and at how they were tightened.",
			"differ for another reason than the gasket: no stiffness from %g to %g times the typical one explains them",
			softest, stiffest)
	}
	out.CurveBy = quantity.Significant(best, 3)
	if out.BeforePct, err = miss(1); err != nil {
		return nil, err
	}
	if out.AfterPct, err = miss(out.CurveBy); err != nil {
		return nil, err
	}
	then, err := base.then(runs[0])
	if err != nil {
		return nil, err
	}
	if out.LossPct, err = then.loss(ctx, out.CurveBy, runs[0].Way); err != nil {
		return nil, err
	}
	if out.TypicalLossPct, err = then.loss(ctx, 1, runs[0].Way); err != nil {
		return nil, err
	}
	out.BeforePct, out.AfterPct = 100*out.BeforePct, 100*out.AfterPct
	out.Sentence = out.says()
	return out, nil
}

// telling are the runs without the bolts that do not fit, counted into out. Refused: what tells nothing of the gasket.
func (j *Joint) telling(ctx context.Context, runs []Measured, out *Fitted) ([]Measured, error) {
	differ := false
	runs = slices.Clone(runs)
	for i := range runs {
		m, err := j.fitting(ctx, runs[i])
		if err != nil {
			return nil, err
		}
		runs[i] = m
		out.Bolts += len(m.Values)
		if m.From != "" {
			out.From = append(out.From, m.From)
		}
		differ = differ || varies(slices.Collect(maps.Values(m.Values)))
	}
	const uneven = "Choose runs whose bolts ended unevenly: only those tell of the gasket."
	if out.Bolts < fewestFitted {
		return nil, quantity.Refuse("runs", uneven, "have %d bolts that fit, %d at least", out.Bolts, fewestFitted)
	}
	if !differ {
		return nil, quantity.Refuse("runs", uneven, "have bolts that hardly differ")
	}
	return runs, nil
}

// fitting is a measurement without the bolts that do not fit: they tell of something else than the gasket.
func (j *Joint) fitting(ctx context.Context, m Measured) (Measured, error) {
	o, err := j.Overlay(ctx, m)
	if err != nil {
		return m, err
	}
	m.Values = maps.Clone(m.Values)
	for _, l := range o.Bolts {
		if l.Misfit {
			delete(m.Values, number(l.Bolt))
		}
	}
	return m, nil
}

// lowest looks for the least of a function of a stiffness: on a grid first, then by golden section about its best place.
func lowest(of func(by float64) (float64, error)) (float64, error) {
	lo, hi := math.Log(softest), math.Log(stiffest)
	wide := (hi - lo) / (fitGrid - 1)
	at, least := 0., math.Inf(1)
	for i := range fitGrid {
		x := lo + float64(i)*wide
		v, err := of(math.Exp(x))
		if err != nil {
			return 0, err
		}
		if v < least {
			at, least = x, v
		}
	}
	const golden = .6180339887498949
	a, b := max(lo, at-wide), min(hi, at+wide)
	for range fitSteps {
		c, d := b-golden*(b-a), a+golden*(b-a)
		u, err := of(math.Exp(c))
		if err != nil {
			return 0, err
		}
		v, err := of(math.Exp(d))
		if err != nil {
			return 0, err
		}
		if u < v {
			b = d
		} else {
			a = c
		}
	}
	return math.Exp((a + b) / 2), nil
}

// miss is the root mean square of what does not fit with a gasket so many times as stiff, as a share of the mean.
func (j *Joint) miss(ctx context.Context, by float64, runs []Measured) (float64, error) {
	sum, n := 0.0, 0
	for _, m := range runs {
		then, err := j.then(m)
		if err != nil {
			return 0, err
		}
		expected, err := then.expected(ctx, then.stiffer(by), m)
		if err != nil {
			return 0, err
		}
		measured, model := split(pairs(m, expected))
		mean, other := statistics.Mean(measured), statistics.Mean(model)
		if m.Of == MeasuredAngle {
			other = mean // an angle needs no level
		}
		for i := range measured {
			d := 0.
			if mean > 0 && other > 0 {
				d = measured[i]/mean - model[i]/other
			}
			sum += d * d
			n++
		}
	}
	return math.Sqrt(sum / float64(n)), nil
}

// loss is what a bolt loses of each kN that the next one gains, percent, when all hold after a way of tightening.
func (j *Joint) loss(ctx context.Context, by float64, p Procedure) (float64, error) {
	seq, err := p.sequence(j.Setup)
	if err != nil {
		return 0, err
	}
	m, err := interaction.New(j.stiffer(by))
	if err != nil {
		return 0, err
	}
	if _, err := m.RunContext(ctx, seq, nil); err != nil {
		return 0, err
	}
	b, err := m.Matrix()
	if err != nil {
		return 0, err
	}
	return -100 * b[1][0] / b[0][0], nil
}

func (f *Fitted) says() string {
	if f.AfterPct > .95*f.BeforePct {
		return fmt.Sprintf("The typical curve fits as well: %.0f %% of the mean are left over either way.", f.BeforePct)
	}
	out := fmt.Sprintf(
		"With a gasket %.2g times as stiff as its typical curve %.0f %% of the mean are left over instead of "+
			"%.0f %%",
		f.CurveBy,
		f.AfterPct,
		f.BeforePct,
	)
	if math.Round(f.LossPct) == math.Round(f.TypicalLossPct) {
		return out + fmt.Sprintf("; a bolt loses %.0f %% of what its neighbour gains either way.", f.LossPct)
	}
	return out + fmt.Sprintf(": a bolt then loses %.0f %% of what its neighbour gains, instead of %.0f %%.", f.LossPct,
		f.TypicalLossPct)
}
