// Package tool judges hand tools: what they can be set to, how well, and whether they may be used today. Torques N·m
// unless the scale's unit is named.
package tool

import (
	"math"
	"slices"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// Range is the judged part of a wrench's scale in its own unit.
type Range struct {
	Min, Max   float64
	TargetFrac float64 // of full scale
	Usable     bool
}

// WrenchRange gives the usable range minFrac…maxFrac of a full scale and whether the target lies in it, limits
// included. Source: ISO 6789-1 (20 % lower limit as practice).
func WrenchRange(w *working.Working, fullScale, target, minFrac, maxFrac float64) (Range, error) {
	if err := quantity.Positive("full_scale", fullScale, "target_torque", target); err != nil {
		return Range{}, err
	}
	if !(minFrac >= 0 && maxFrac <= 1 && minFrac < maxFrac) {
		return Range{}, quantity.Refuse("min_frac", "Enter fractions of full scale between 0 and 1, the lower first.",
			"%s to %s is not a range", quantity.Text(minFrac), quantity.Text(maxFrac))
	}
	r := Range{Min: w.Step("Tmin", "f1 · FS", minFrac*fullScale), Max: w.Step("Tmax", "f2 · FS", maxFrac*fullScale),
		TargetFrac: w.Step("q", "T / FS", target/fullScale)}
	r.Usable = quantity.AtMost(r.Min, target) && quantity.AtMost(target, r.Max)
	return r, nil
}

// Candidate is a wrench to rank. ScaleMin 0: the lower usable end is minFrac of full scale.
type Candidate struct {
	Name                        string
	FullScale, TolPct, ScaleMin float64
}

// Rank orders the wrenches that can take the target: finer accuracy first, then nearer to preferred (a fraction of full
// scale), then smaller, then as given. excluded names the others with the reason. Source: own rule.
func Rank(target float64, list []Candidate, minFrac, maxFrac, preferred float64) (order, excluded []string, err error) {
	if len(list) == 0 {
		return nil, nil, quantity.Refuse("wrenches", "Add a wrench to the crib.", "none given")
	}
	type ranked struct {
		Candidate
		off float64
	}
	var fit []ranked
	for _, c := range list {
		r, err := WrenchRange(nil, c.FullScale, target, minFrac, maxFrac)
		if err != nil {
			return nil, nil, err
		}
		low := r.Min
		if c.ScaleMin > 0 {
			low = c.ScaleMin
		}
		switch {
		case !quantity.AtMost(low, target):
			excluded = append(excluded, c.Name+":below_range")
		case !quantity.AtMost(target, r.Max):
			excluded = append(excluded, c.Name+":above_range")
		default:
			fit = append(fit, ranked{c, math.Abs(target/c.FullScale - preferred)})
		}
	}
	slices.SortStableFunc(fit, func(a, b ranked) int {
		for _, d := range []float64{a.TolPct - b.TolPct, a.off - b.off, a.FullScale - b.FullScale} {
			if d < 0 {
				return -1
			}
			if d > 0 {
				return 1
			}
		}
		return 0
	})
	for _, f := range fit {
		order = append(order, f.Name)
	}
	return order, excluded, nil
}

// ToleranceBand gives the true torques that a setting may mean. ofTrue refers the deviation to the true value, as ISO
// 6789-1 does.
func ToleranceBand(w *working.Working, setting, tolPct float64, ofTrue bool) (low, high float64, err error) {
	if err := quantity.Positive("setting", setting); err != nil {
		return 0, 0, err
	}
	if tolPct < 0 || tolPct >= 100 || !quantity.Finite(tolPct) {
		return 0, 0, quantity.Refuse("tol_pct", "Enter the accuracy in percent.", "is %s", quantity.Text(tolPct))
	}
	x := tolPct / 100
	if ofTrue {
		return w.Step("tl", "S / (1 + x / 100)", setting/(1+x)), w.Step("th", "S / (1 - x / 100)", setting/(1-x)), nil
	}
	return w.Step("tl", "S · (1 - x / 100)", setting*(1-x)), w.Step("th", "S · (1 + x / 100)", setting*(1+x)), nil
}

// Coach says how a value reads on a micrometer scale: the last main line uncovered by the edge of the grip, then turns
// and the mark on the grip.
type Coach struct {
	VisibleLine float64 `json:"visibleLine"`
	TurnsPast   int     `json:"turnsPast"`
	Mark        int     `json:"mark"` // division on the grip
	Set         float64 `json:"set"`
	Error       float64 `json:"error"`
	OnLine      bool    `json:"onLine"`
}

// MicrometerSetting reads the target on a scale from mainMin to mainMax with lines every mainStep, a grip changing turn
// per turn in so many divisions. Refused: target outside the scale; lines that are not whole turns apart.
func MicrometerSetting(w *working.Working, target, mainMin, mainMax, mainStep, turn float64, divisions int) (Coach,
	error) {
	if err := quantity.Positive("target", target, "main_step", mainStep, "thimble_turn", turn); err != nil {
		return Coach{}, err
	}
	if mainMin < 0 || mainMax <= mainMin {
		return Coach{}, quantity.Refuse("main_max", "Check the ends of the scale.", "is not above the lowest mark")
	}
	if divisions < 1 || divisions > 1000 {
		return Coach{}, quantity.Refuse("thimble_divisions", "Count the marks on the grip.", "is %d", divisions)
	}
	m := mainStep / turn
	if m < 1-1e-9 || m > 1000 || math.Abs(m-math.Round(m)) > 1e-9 {
		return Coach{}, quantity.Refuse("thimble_turn", "Check the scale of the wrench.",
			"main lines are not whole turns of the grip apart")
	}
	if !quantity.AtMost(mainMin, target) || !quantity.AtMost(target, mainMax) {
		return Coach{}, quantity.Refuse("target", "Use another wrench.", "%s is outside the scale %s to %s",
			quantity.Text(target), quantity.Text(mainMin), quantity.Text(mainMax))
	}
	r := w.Calc("r", "one mark of the grip", "turn / marks", turn/float64(divisions), quantity.NewtonMetre, "")
	n := int(math.Floor((target-mainMin)/r + 0.5 + 1e-9))
	per := int(math.Round(m)) * divisions
	rem := n % per
	c := Coach{VisibleLine: mainMin + mainStep*float64(n/per), TurnsPast: rem / divisions, Mark: rem % divisions,
		Set: mainMin + float64(n)*r, OnLine: rem == 0}
	w.Step("V", "", c.VisibleLine)
	w.Step("S", "", c.Set)
	c.Error = w.Step("e", "S - T", c.Set-target)
	return c, nil
}

// Coach reads a setting on this wrench's scale; one turn of the grip is one main step.
func (w Tool) Coach(setting float64) (Coach, error) {
	return MicrometerSetting(nil, setting, w.PrintedMin, w.RatedMax, w.MainStep, w.MainStep,
		int(math.Round(w.MainStep/w.Graduation)))
}
