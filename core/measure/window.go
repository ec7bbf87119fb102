package measure

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// BreakInput is a measured effort against a window around a nominal.
type BreakInput struct {
	Nominal  float64 `in:"nominal_Nm" sym:"T" label:"Torque stated" ok:">0" eg:"40"`
	Low      float64 `in:"low_frac" sym:"f1" label:"Window from" ok:">0" eg:"0.8"`
	High     float64 `in:"high_frac" sym:"f2" label:"Window to" ok:">0" eg:"1.2"`
	Measured float64 `in:"measured_Nm" sym:"M" label:"Measured" ok:">0" eg:"34"`
}

// BreakResult is the verdict and what to do.
type BreakResult struct {
	Action  string  `out:"action" label:"Do"`
	Verdict string  `out:"verdict" label:"Verdict"`
	Low     float64 `out:"low_Nm" sym:"Tl" label:"Window from"`
	High    float64 `out:"high_Nm" sym:"Th" label:"Window to"`
}

// BreakWindow judges an effort against a window: tighten when low, loosen when high.
func BreakWindow(w *working.Working, in BreakInput) (BreakResult, error) {
	if err := quantity.Limits(in); err != nil {
		return BreakResult{}, err
	}
	if in.Low >= in.High {
		return BreakResult{}, quantity.Refuse("high_frac", "Enter the lower end first.", "is not above the lower end")
	}
	r := BreakResult{Low: w.Step("Tl", "T · f1", in.Nominal*in.Low), High: w.Step("Th", "T · f2", in.Nominal*in.High)}
	r.Verdict, r.Action = judge(in.Measured, r.Low, r.High)
	return r, nil
}

func judge(v, lo, hi float64) (verdict, action string) {
	switch {
	case !quantity.AtMost(lo, v):
		return "low", "tighten"
	case !quantity.AtMost(v, hi):
		return "high", "loosen"
	}
	return "ok", "none"
}

// GlandTry is one setting of a gland nut and the effort it gave.
type GlandTry struct {
	Angle    float64 `in:"gland_angle_deg" label:"Gland nut at"`
	Measured float64 `in:"measured_Nm" label:"Effort" ok:">0"`
}

// GlandInput is a window and what was tried, oldest first.
type GlandInput struct {
	Nominal float64    `in:"nominal_Nm" sym:"T" label:"Torque stated" ok:">0" eg:"40"`
	Low     float64    `in:"low_frac" sym:"f1" label:"Window from" ok:">0" eg:"0.8"`
	High    float64    `in:"high_frac" sym:"f2" label:"Window to" ok:">0" eg:"1.2"`
	History []GlandTry `in:"history" label:"Tries, oldest first"`
	Aim     float64    `in:"aim_frac" sym:"fa" label:"Aim at" ok:">0" def:"1.0"`
	First   float64    `in:"first_step_deg" sym:"s1" label:"First step" ok:">0" eg:"15"`
	Max     float64    `in:"max_step_deg" sym:"sx" label:"Largest step" ok:">0" eg:"45"`
}

// GlandResult is the next step.
type GlandResult struct {
	Step    float64 `out:"step_deg" sym:"s" label:"Turn the gland nut by"`
	Next    float64 `out:"next_angle_deg" sym:"x" label:"To"`
	Mode    string  `out:"mode" label:"How it was found"`
	Verdict string  `out:"verdict" label:"Last effort"`
}

// GlandStep proposes the next turn of a gland nut from the tries so far: a first step, then straight-line through the
// last two.
func GlandStep(w *working.Working, in GlandInput) (GlandResult, error) {
	if err := quantity.Limits(in); err != nil {
		return GlandResult{}, err
	}
	if in.Low >= in.High {
		return GlandResult{}, quantity.Refuse("high_frac", "Enter the lower end first.", "is not above the lower end")
	}
	if !quantity.AtMost(in.Low, in.Aim) || !quantity.AtMost(in.Aim, in.High) {
		return GlandResult{}, quantity.Refuse("aim_frac", "Aim inside the window.", "%s is outside the window",
			quantity.Text(in.Aim))
	}
	n := len(in.History)
	if n == 0 {
		return GlandResult{}, quantity.Refuse("history", "Measure the effort first.", "none given")
	}
	last := in.History[n-1]
	aim := w.Calc("A", "effort aimed at", "T · fa", in.Nominal*in.Aim, quantity.NewtonMetre, "")
	verdict, _ := judge(last.Measured, in.Nominal*in.Low, in.Nominal*in.High)
	r := GlandResult{Verdict: verdict, Mode: "first_step"}
	slope := 0.0
	if n > 1 && last.Angle != in.History[n-2].Angle {
		slope = (last.Measured - in.History[n-2].Measured) / (last.Angle - in.History[n-2].Angle)
	}
	switch {
	case verdict == "ok":
		r.Mode = "done"
	case slope <= 0 && verdict == "low":
		r.Step = in.First
	case slope <= 0:
		r.Step = -in.First
	default:
		w.Calc("k", "effort for each degree, last two tries", "", slope, "Nm_per_deg", "")
		r.Step, r.Mode = (aim-last.Measured)/slope, "secant"
		if math.Abs(r.Step) > in.Max {
			r.Step, r.Mode = math.Copysign(in.Max, r.Step), "secant_limited"
		}
	}
	w.Step("s", "", r.Step)
	r.Next = w.Step("x", "", last.Angle+r.Step)
	return r, nil
}

// WindowInput is a window to be put on a scale.
type WindowInput struct {
	Value      float64 `in:"value_Nm" sym:"T" label:"Measured or stated" ok:">0" eg:"42"`
	Low        float64 `in:"low_frac" sym:"f1" label:"From this part of it" ok:">0" eg:"0.6"`
	High       float64 `in:"high_frac" sym:"f2" label:"To this part of it" ok:">0" eg:"0.9"`
	Graduation float64 `in:"graduation_Nm" sym:"g" label:"One mark on the tool" ok:">0" eg:"1"`
}

// WindowResult is the window on the scale.
type WindowResult struct {
	Low       float64 `out:"low_Nm" sym:"Wl" label:"Accept from"`
	High      float64 `out:"high_Nm" sym:"Wh" label:"Accept to"`
	ExactLow  float64 `out:"exact_low_Nm" sym:"Tl" label:"Exactly from"`
	ExactHigh float64 `out:"exact_high_Nm" sym:"Th" label:"Exactly to"`
}

// AcceptanceWindow gives the window between two parts of a value, rounded inward to the scale so that rounding never
// widens it. Refused: a window without a mark in it.
func AcceptanceWindow(w *working.Working, in WindowInput) (WindowResult, error) {
	if err := quantity.Limits(in); err != nil {
		return WindowResult{}, err
	}
	if in.Low >= in.High {
		return WindowResult{}, quantity.Refuse("high_frac", "Enter the lower end first.", "is not above the lower end")
	}
	r := WindowResult{ExactLow: w.Step("Tl", "T · f1", in.Value*in.Low),
		ExactHigh: w.Step("Th", "T · f2", in.Value*in.High)}
	r.Low = w.Step("Wl", "ceil( Tl / g ) · g", math.Ceil(r.ExactLow/in.Graduation-1e-9)*in.Graduation)
	r.High = w.Step("Wh", "floor( Th / g ) · g", math.Floor(r.ExactHigh/in.Graduation+1e-9)*in.Graduation)
	if r.Low > r.High {
		return WindowResult{}, quantity.Refuse("graduation_Nm", "Use a tool with a finer scale.",
			"no mark lies inside the window")
	}
	return r, nil
}

// AuditInput are restart torques of a finished joint.
type AuditInput struct {
	Nominal  float64   `in:"nominal_Nm" sym:"T" label:"Tightened to" ok:">0" eg:"120"`
	Low      float64   `in:"low_frac" sym:"f1" label:"Accept from" ok:">0" eg:"0.8"`
	High     float64   `in:"high_frac" sym:"f2" label:"Accept to" ok:">0" eg:"1.2"`
	Readings []float64 `in:"readings_Nm" label:"Restart torques, bolt 1 first" ok:">0" eg:"118 124 96 131"`
	MaxOut   int       `in:"max_out" sym:"m" label:"Outside, at most" ok:">=0" def:"0"`
}

// AuditResult is the verdict of an audit.
type AuditResult struct {
	Verdict string   `out:"verdict" label:"Verdict"`
	Mean    float64  `out:"mean_frac" sym:"x" label:"Mean, part of nominal"`
	Stdev   *float64 `out:"stdev_frac" sym:"s" label:"Scatter, part of nominal"`
	Low     []int    `out:"low_bolts" label:"Low"`
	High    []int    `out:"high_bolts" label:"High"`
	Out     int      `out:"out_count" label:"Outside"`
}

// BreakawayAudit judges restart torques. More high than low bolts means something else is wrong: investigate, do not
// retighten.
func BreakawayAudit(w *working.Working, in AuditInput) (AuditResult, error) {
	if err := quantity.Limits(in); err != nil {
		return AuditResult{}, err
	}
	if in.Low >= in.High {
		return AuditResult{}, quantity.Refuse("high_frac", "Enter the lower end first.", "is not above the lower end")
	}
	if len(in.Readings) == 0 {
		return AuditResult{}, quantity.Refuse("readings_Nm", "Enter the readings.", "none given")
	}
	r := AuditResult{Low: []int{}, High: []int{}}
	var parts []float64
	for i, v := range in.Readings {
		parts = append(parts, v/in.Nominal)
		switch verdict, _ := judge(v, in.Nominal*in.Low, in.Nominal*in.High); verdict {
		case "low":
			r.Low = append(r.Low, i+1)
		case "high":
			r.High = append(r.High, i+1)
		}
	}
	m, s := spreadOf(parts)
	r.Mean = w.Step("x", "mean of readings over T", m)
	if len(parts) > 1 {
		w.Step("s", "standard deviation over T", s)
		r.Stdev = &s
	}
	r.Out = len(r.Low) + len(r.High)
	switch {
	case r.Out <= in.MaxOut:
		r.Verdict = "accept"
	case len(r.High) > len(r.Low):
		r.Verdict = "investigate"
	default:
		r.Verdict = "retighten"
	}
	w.Take("A restart torque is not the load: friction at rest differs. It shows what stands out.")
	return r, nil
}

// spreadOf gives mean and sample standard deviation (n − 1).
func spreadOf(list []float64) (mean, sd float64) {
	n := float64(len(list))
	for _, v := range list {
		mean += v / n
	}
	for _, v := range list {
		sd += (v - mean) * (v - mean)
	}
	if n > 1 {
		return mean, math.Sqrt(sd / (n - 1))
	}
	return mean, 0
}
