package tool

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// AdapterInput describes an adapter or crowfoot on a wrench.
type AdapterInput struct {
	Torque   float64 `in:"torque_Nm" sym:"T" label:"Torque wanted at the nut" ok:">0" eg:"120"`
	Wrench   float64 `in:"wrench_length_m" sym:"L" label:"Wrench, square drive to middle of the hand" help:"Measure to the middle of the grip, where the hand pulls." ok:">0" eg:"0.42"`
	Adapter  float64 `in:"adapter_length_m" sym:"E" label:"Adapter, drive to nut" ok:">=0" eg:"0.06"`
	AngleDeg float64 `in:"angle_deg" sym:"θ" label:"Adapter against the wrench" help:"0: straight out in line; 90: square, no correction; 180: folded back." ok:"0..360" eg:"0"`
}

// AdapterResult is the correction of a wrench for an adapter.
type AdapterResult struct {
	Setting float64 `out:"setting_Nm" sym:"S" label:"Set on the wrench"`
	Factor  float64 `out:"factor" sym:"k" label:"Correction"`
}

// AdapterActualInput asks the other way round: what a setting gives at the nut.
type AdapterActualInput struct {
	Setting  float64 `in:"setting_Nm" sym:"S" label:"Set on the wrench" ok:">0" eg:"105"`
	Wrench   float64 `in:"wrench_length_m" sym:"L" label:"Wrench, square drive to middle of the hand" ok:">0" eg:"0.42"`
	Adapter  float64 `in:"adapter_length_m" sym:"E" label:"Adapter, drive to nut" ok:">=0" eg:"0.06"`
	AngleDeg float64 `in:"angle_deg" sym:"θ" label:"Adapter against the wrench" ok:"0..360" eg:"0"`
}

// AdapterActualResult is the torque at the nut behind an adapter.
type AdapterActualResult struct {
	Actual float64 `out:"actual_Nm" sym:"T" label:"Torque at the nut"`
	Factor float64 `out:"factor" sym:"k" label:"Correction"`
}

// factor is L/(L + E·cos θ). Refused: an adapter folded back so far that nearly no lever is left.
func factor(w *working.Working, l, e, angle float64) (float64, error) {
	lever := w.Calc("Le", "lever from hand to nut", "L + E · cos(θ)", l+e*math.Cos(quantity.Rad(angle)), "m", "statics")
	if lever <= 0.05*l {
		return 0, quantity.Refuse("adapter_length_m", "Use a longer wrench, or turn the adapter.",
			"leaves a lever of only %s m", quantity.Text(lever))
	}
	w.Take("The pull is square to the wrench, at the middle of the grip. A pipe on the handle changes L and is " +
		"not allowed.")
	return w.Step("k", "L / Le", l/lever), nil
}

// AdapterSetting gives what to set on a wrench that works through an adapter. Exact when the pull is square to the
// wrench. Source: statics.
func AdapterSetting(w *working.Working, in AdapterInput) (AdapterResult, error) {
	if err := quantity.Limits(in); err != nil {
		return AdapterResult{}, err
	}
	k, err := factor(w, in.Wrench, in.Adapter, in.AngleDeg)
	if err != nil {
		return AdapterResult{}, err
	}
	return AdapterResult{Factor: k, Setting: w.Step("S", "T · k", in.Torque*k)}, nil
}

// AdapterActual gives the torque at the nut for a setting. Source: statics.
func AdapterActual(w *working.Working, in AdapterActualInput) (AdapterActualResult, error) {
	if err := quantity.Limits(in); err != nil {
		return AdapterActualResult{}, err
	}
	k, err := factor(w, in.Wrench, in.Adapter, in.AngleDeg)
	if err != nil {
		return AdapterActualResult{}, err
	}
	return AdapterActualResult{Factor: k, Actual: w.Step("T", "S / k", in.Setting/k)}, nil
}

// ExtensionInput describes a straight extension between wrench and socket, on the same axis.
type ExtensionInput struct {
	Torque   float64 `in:"torque_Nm" sym:"T" label:"Torque wanted at the nut" ok:">0" eg:"120"`
	Length   float64 `in:"extension_length_mm" sym:"l" label:"Extension, length" ok:">=0" eg:"250"`
	Diameter float64 `in:"extension_diameter_mm" sym:"d" label:"Extension, shaft diameter" ok:">0" eg:"16"`
	G        float64 `in:"G_GPa" sym:"G" label:"Shear modulus of its steel" ok:">0" def:"80"`
}

// ExtensionResult says that a straight extension changes no torque, only the angle read at the handle.
type ExtensionResult struct {
	Setting float64 `out:"setting_Nm" sym:"S" label:"Set on the wrench, unchanged"`
	Windup  float64 `out:"windup_deg" sym:"φ" label:"Twist of the extension, to be taken off an angle read at the handle"`
}

// ExtensionSetting gives the setting (unchanged) and the twist of a straight extension. Source: torsion of a round bar.
func ExtensionSetting(w *working.Working, in ExtensionInput) (ExtensionResult, error) {
	if err := quantity.Limits(in); err != nil {
		return ExtensionResult{}, err
	}
	j := w.Calc("J", "polar second moment", "π · d ^ 4 / 32", math.Pi*math.Pow(in.Diameter, 4)/32, "mm4", "")
	twist := in.Torque * 1000 * in.Length / (in.G * 1000 * j)
	w.Take("The extension lies on the axis of the nut. A lever to the side of it is an adapter and needs its " +
		"correction.")
	return ExtensionResult{Setting: w.Step("S", "T", in.Torque), Windup: w.Step("φ", "180 / π · T · l / (G · J)",
		quantity.Deg(twist))}, nil
}

// ChainLink is one piece between hand and nut.
type ChainLink struct {
	Name    string   `in:"name" label:"Piece" eg:"wrench"`
	In      *float64 `in:"drive_in_mm" label:"Drive towards the hand" help:"1/2 in is 12.7 mm, 3/4 in 19.05 mm. Leave the wrench's empty." ok:">0" eg:""`
	Out     *float64 `in:"drive_out_mm" label:"Drive towards the nut" help:"Leave the socket's empty." ok:">0" eg:"12.7"`
	Rating  float64  `in:"rating_Nm" label:"Rated for" ok:">0" eg:"300"`
	Percent float64  `in:"torque_share" label:"Part of the nut's torque it carries" help:"1 behind a multiplier; 1/ratio before it." ok:">0,<=1" def:"1"`
}

// ChainInput is a string of tools from hand to nut.
type ChainInput struct {
	Torque float64     `in:"torque_Nm" sym:"T" label:"Torque at the nut" ok:">0" eg:"280"`
	Links  []ChainLink `in:"pieces" label:"Pieces, from the hand to the nut"`
}

// ChainResult judges a string of tools.
type ChainResult struct {
	OK       bool     `out:"ok" label:"May be used"`
	Weakest  string   `out:"weakest" label:"Weakest piece"`
	Limit    float64  `out:"limit_Nm" sym:"Tmax" label:"Most torque at the nut"`
	Problems []string `out:"problems" label:"What does not fit"`
}

// DriveChain checks that the drives fit each other and finds the lowest rating, each piece judged on the torque that it
// carries. Stacked reducers are allowed to fit; a lever on the wrench is not a piece and is never to be used. Source:
// own rule.
func DriveChain(w *working.Working, in ChainInput) (ChainResult, error) {
	if err := quantity.Limits(in); err != nil {
		return ChainResult{}, err
	}
	if len(in.Links) == 0 {
		return ChainResult{}, quantity.Refuse("pieces", "Enter the wrench, what is between, and the socket.",
			"none given")
	}
	r := ChainResult{Limit: math.Inf(1), Problems: []string{}}
	for i, l := range in.Links {
		carries := w.Calc("Tmax"+digit(i+1), l.Name+" allows at the nut", "", l.Rating/l.Percent, quantity.NewtonMetre,
			"its rating")
		if carries < r.Limit {
			r.Limit, r.Weakest = carries, l.Name
		}
		if i == 0 {
			continue
		}
		prev := in.Links[i-1]
		if prev.Out == nil || l.In == nil {
			return ChainResult{}, quantity.Refuse("pieces", "Enter both drives where two pieces meet.",
				"the drive between %s and %s is not given", prev.Name, l.Name)
		}
		if math.Abs(*prev.Out-*l.In) > 0.1 {
			r.Problems = append(r.Problems,
				prev.Name+" does not fit "+l.Name+": "+quantity.Text(*prev.Out)+" mm into "+quantity.Text(*l.In)+" mm")
		}
	}
	w.Step("Tmax", "", r.Limit)
	if !quantity.AtMost(in.Torque, r.Limit) {
		r.Problems = append(r.Problems,
			r.Weakest+" allows "+quantity.Text(r.Limit)+" N·m at the nut, "+quantity.Text(in.Torque)+" N·m are wanted")
	}
	for _, p := range r.Problems {
		w.Warn(p + ".")
	}
	r.OK = len(r.Problems) == 0
	return r, nil
}

const subDigits = "₀₁₂₃₄₅₆₇₈₉"

// digit writes a number as a lower index.
func digit(n int) string {
	s := ""
	for _, c := range quantity.Text(float64(n)) {
		s += string([]rune(subDigits)[c-'0'])
	}
	return s
}
