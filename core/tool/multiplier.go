package tool

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// MultiplierInput describes a torque multiplier. Either the efficiency or the measured torque ratio is given.
type MultiplierInput struct {
	Output        float64  `in:"output_torque_Nm" sym:"T" label:"Torque wanted at the nut" ok:">0" eg:"600"`
	Nominal       float64  `in:"ratio_nominal" sym:"i" label:"Gear ratio on its plate" ok:">1" eg:"5"`
	Efficiency    *float64 `in:"efficiency" sym:"η" label:"Efficiency" help:"Give this or the measured ratio, not both." ok:">0,<=1" eg:""`
	Measured      *float64 `in:"ratio_measured" sym:"R" label:"Measured torque ratio" help:"From its test certificate: torque out over torque in." ok:">0" eg:"4.6"`
	Arm           float64  `in:"arm_m" sym:"a" label:"Reaction arm, drive to support" ok:">0" eg:"0.3"`
	AngleDeg      float64  `in:"output_angle_deg" sym:"θ" label:"Angle the nut turns" ok:">=0" def:"0"`
	MaxOutput     *float64 `in:"max_output_Nm" sym:"Tmax" label:"Most it may put out" ok:">0" eg:""`
	SameDirection bool     `in:"same_direction" label:"Input and output turn the same way" def:"true"`
}

// MultiplierResult is what a multiplier needs and pushes with.
type MultiplierResult struct {
	Input         float64 `out:"input_torque_Nm" sym:"S" label:"Set on the wrench"`
	Reaction      float64 `out:"reaction_torque_Nm" sym:"Tr" label:"Torque held by the reaction arm"`
	ReactionForce float64 `out:"reaction_force_N" sym:"Fr" label:"Force at the end of the arm"`
	InputTurns    float64 `out:"input_turns" sym:"n" label:"Turns of the wrench"`
}

// Multiplier gives the wrench setting for an output torque, the reaction to hold and the turns to make. Losses take
// torque, not turns. Source: statics of the gear housing; machine-element textbooks.
func Multiplier(w *working.Working, in MultiplierInput) (MultiplierResult, error) {
	if err := quantity.Limits(in); err != nil {
		return MultiplierResult{}, err
	}
	var ratio float64
	switch {
	case (in.Efficiency == nil) == (in.Measured == nil):
		return MultiplierResult{},
			quantity.Refuse("ratio_measured", "Give the measured ratio or the efficiency, one of the two.",
				"one of ratio_measured and efficiency is needed, not both")
	case in.Measured != nil:
		if ratio = *in.Measured; !quantity.AtMost(ratio, in.Nominal) {
			return MultiplierResult{}, quantity.Refuse("ratio_measured", "Check both ratios.",
				"%s is above the gear ratio %s", quantity.Text(ratio), quantity.Text(in.Nominal))
		}
	default:
		ratio = w.Calc("R", "torque ratio", "i · η", in.Nominal**in.Efficiency, "", "")
	}
	if in.MaxOutput != nil && !quantity.AtMost(in.Output, *in.MaxOutput) {
		return MultiplierResult{}, quantity.Refuse("output_torque_Nm", "Use a larger multiplier.",
			"%s N·m is past what it may put out, %s N·m", quantity.Text(in.Output), quantity.Text(*in.MaxOutput))
	}
	r := MultiplierResult{Input: w.Step("S", "T / R", in.Output/ratio)}
	if in.SameDirection {
		r.Reaction = w.Step("Tr", "T - S", in.Output-r.Input)
	} else {
		r.Reaction = w.Step("Tr", "T + S", in.Output+r.Input)
	}
	r.ReactionForce = w.Step("Fr", "Tr / a", r.Reaction/in.Arm)
	r.InputTurns = w.Step("n", "i · θ / 360", in.Nominal*in.AngleDeg/360)
	w.Warn("The reaction arm presses with this force. Rest it against a sound point, and keep hands out from between.")
	return r, nil
}

// MultiplierSettingInput asks for a setting on a wrench's own marks.
type MultiplierSettingInput struct {
	Output     float64 `in:"output_torque_Nm" sym:"T" label:"Torque wanted at the nut" ok:">0" eg:"600"`
	Ratio      float64 `in:"ratio_measured" sym:"R" label:"Measured torque ratio" help:"From its test certificate; not the gear ratio on the plate." ok:">=1" eg:"4.6"`
	Graduation float64 `in:"graduation_Nm" sym:"g" label:"One mark on the wrench" ok:">0" eg:"5"`
}

// MultiplierSettingResult is a setting that the scale can show and what it gives.
type MultiplierSettingResult struct {
	Set    float64 `out:"set_Nm" sym:"S" label:"Set on the wrench"`
	Exact  float64 `out:"exact_Nm" sym:"s" label:"Exact value"`
	Output float64 `out:"torque_at_set_Nm" sym:"Ts" label:"Torque at the nut then"`
	Error  float64 `out:"error_pct" sym:"e" label:"Off the target by"`
}

// MultiplierSetting rounds the wrench setting for a multiplier to the wrench's marks and tells what comes out. Source:
// definition of the ratio; rounding as everywhere.
func MultiplierSetting(w *working.Working, in MultiplierSettingInput) (MultiplierSettingResult, error) {
	if err := quantity.Limits(in); err != nil {
		return MultiplierSettingResult{}, err
	}
	s := w.Step("s", "T / R", in.Output/in.Ratio)
	set, err := quantity.RoundToGraduation(s, in.Graduation, 0)
	if err != nil {
		return MultiplierSettingResult{}, err
	}
	r := MultiplierSettingResult{Exact: s, Set: w.Step("S", "g · floor( s / g + 1 / 2 )", set.Rounded)}
	r.Output = w.Step("Ts", "S · R", r.Set*in.Ratio)
	r.Error = w.Step("e", "100 · (Ts - T) / T", 100*(r.Output-in.Output)/in.Output)
	return r, nil
}

// GuaranteeInput holds a tool's accuracy against a specified range.
type GuaranteeInput struct {
	Low     float64 `in:"low_Nm" sym:"Tl" label:"Specified, from" ok:">0" eg:"100"`
	High    float64 `in:"high_Nm" sym:"Th" label:"Specified, to" ok:">0" eg:"105"`
	Setting float64 `in:"setting_Nm" sym:"S" label:"Set on the wrench" ok:">0" eg:"102.5"`
	Tol     float64 `in:"tol_pct" sym:"x" label:"Accuracy of the wrench" ok:">=0,<100" eg:"4"`
}

// GuaranteeResult says whether the range is sure to be met.
type GuaranteeResult struct {
	Guaranteed bool    `out:"guaranteed" label:"Sure to be inside"`
	Low        float64 `out:"true_low_Nm" sym:"tl" label:"True torque, lowest"`
	High       float64 `out:"true_high_Nm" sym:"th" label:"True torque, highest"`
	Share      float64 `out:"inside_pct" sym:"q" label:"Part of the spread that is inside"`
	Under      float64 `out:"under_Nm" sym:"u" label:"Could be short by"`
	Over       float64 `out:"over_Nm" sym:"o" label:"Could be over by"`
	Best       float64 `out:"setting_middle_Nm" sym:"Sm" label:"Middle of the range"`
	NeedTol    float64 `out:"tol_needed_pct" sym:"xn" label:"Accuracy that would do, set to the middle"`
}

// RangeGuarantee tells whether a tool's accuracy at a setting can keep a specified range, by how much it may miss, and
// the accuracy that would do. The share takes the error as spread evenly. Source: own rule on ISO 6789-1 accuracy.
func RangeGuarantee(w *working.Working, in GuaranteeInput) (GuaranteeResult, error) {
	if err := quantity.Limits(in); err != nil {
		return GuaranteeResult{}, err
	}
	if in.High < in.Low {
		return GuaranteeResult{}, quantity.Refuse("high_Nm", "Enter the lower end first.", "is below the lower end")
	}
	r := GuaranteeResult{Low: w.Step("tl", "S · (1 - x / 100)", in.Setting*(1-in.Tol/100)),
		High: w.Step("th", "S · (1 + x / 100)", in.Setting*(1+in.Tol/100))}
	r.Under = w.Step("u", "max( 0 , Tl - tl )", math.Max(0, in.Low-r.Low))
	r.Over = w.Step("o", "max( 0 , th - Th )", math.Max(0, r.High-in.High))
	inside := math.Max(0, math.Min(r.High, in.High)-math.Max(r.Low, in.Low))
	r.Share = 100
	if r.High > r.Low {
		r.Share = 100 * inside / (r.High - r.Low)
	} else if in.Setting < in.Low || in.Setting > in.High {
		r.Share = 0
	}
	w.Step("q", "", r.Share)
	r.Best = w.Step("Sm", "(Tl + Th) / 2", (in.Low+in.High)/2)
	r.NeedTol = w.Step("xn", "100 · (Th - Tl) / (Th + Tl)", 100*(in.High-in.Low)/(in.High+in.Low))
	r.Guaranteed = quantity.AtMost(in.Low, r.Low) && quantity.AtMost(r.High, in.High)
	if !r.Guaranteed {
		w.Warn("This wrench cannot guarantee the range: the torque may be out although the wrench is right.")
	}
	return r, nil
}

// PolicyInput picks a target inside a range.
type PolicyInput struct {
	Low        float64 `in:"low_Nm" sym:"Tl" label:"Specified, from" ok:">0" eg:"80"`
	High       float64 `in:"high_Nm" sym:"Th" label:"Specified, to" ok:">0" eg:"105"`
	Policy     string  `in:"policy" label:"Where in the range" one:"low middle high" def:"middle"`
	Graduation float64 `in:"graduation_Nm" sym:"g" label:"One mark on the wrench" ok:">0" eg:"5"`
}

// PolicyResult is the target and what to set.
type PolicyResult struct {
	Set    float64 `out:"set_Nm" sym:"S" label:"Set on the wrench"`
	Target float64 `out:"target_Nm" sym:"T" label:"Target"`
}

// RangePolicy gives the setting for a range: its low, middle or high end, on the wrench's marks and never outside the
// range. Refused: a range in which no mark lies. Source: own rule.
func RangePolicy(w *working.Working, in PolicyInput) (PolicyResult, error) {
	if err := quantity.Limits(in); err != nil {
		return PolicyResult{}, err
	}
	if in.High < in.Low {
		return PolicyResult{}, quantity.Refuse("high_Nm", "Enter the lower end first.", "is below the lower end")
	}
	first, last := math.Ceil(in.Low/in.Graduation-1e-9), math.Floor(in.High/in.Graduation+1e-9)
	if first > last {
		return PolicyResult{}, quantity.Refuse("graduation_Nm", "Use a wrench with a finer scale.",
			"no mark of %s N·m lies inside the range", quantity.Text(in.Graduation))
	}
	var r PolicyResult
	switch in.Policy {
	case "low":
		r.Target = w.Step("T", "Tl", in.Low)
	case "high":
		r.Target = w.Step("T", "Th", in.High)
	default:
		r.Target = w.Step("T", "(Tl + Th) / 2", (in.Low+in.High)/2)
	}
	n := math.Max(first, math.Min(last, math.Floor(r.Target/in.Graduation+0.5+1e-9)))
	r.Set = w.Step("S", "", n*in.Graduation)
	w.Take("The mark nearest to the target that lies inside the range.")
	return r, nil
}
