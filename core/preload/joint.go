package preload

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// LooseningResult is the torque that opens a bolt.
type LooseningResult struct {
	Loosening     float64 `out:"loosening_Nm" sym:"Tl" label:"Torque to loosen"`
	Ratio         float64 `out:"ratio_to_tightening" sym:"q" label:"Part of the tightening torque"`
	SelfReleasing bool    `out:"self_releasing" label:"Would come loose by itself"`
}

// Loosening estimates the torque that loosens a bolt holding a preload. An aged joint usually takes more. Source:
// friction formula with the sign of the pitch part turned.
func (f Friction) Loosening(w *working.Working, preload quantity.Force) (LooseningResult, error) {
	l, err := f.Levers(w)
	if err != nil {
		return LooseningResult{}, err
	}
	if err := quantity.Positive("preload", preload); err != nil {
		return LooseningResult{}, err
	}
	preloadKN := float64(preload)
	back := l.Thread - l.Pitch
	formula := "F · (b + c - a) + Tp"
	if f.Exact {
		friction := math.Atan(f.MuThread / math.Cos(quantity.Rad(f.halfAngle())))
		lead := math.Atan(f.Pitch / (math.Pi * f.D2))
		back = f.D2 / 2 * math.Tan(friction-lead)
		formula = "F · (d2 / 2 · tan(ρ - φ) + c) + Tp"
	}
	r := LooseningResult{Loosening: w.Step("Tl", formula, preloadKN*(back+l.Head)+f.PrevailingNm)}
	tight := w.Calc("T", "tightening torque", "F · (a + b + c) + Tp", preloadKN*l.Sum()+f.PrevailingNm,
		quantity.NewtonMetre, "")
	r.Ratio = w.Step("q", "Tl / T", r.Loosening/tight)
	r.SelfReleasing = r.Loosening <= 0
	w.Take("An estimate: an aged or rusty joint usually takes more.")
	return r, nil
}

// YieldPreloadInput asks for the load and torque that bring a metric bolt to part of its yield, torsion included.
type YieldPreloadInput struct {
	Diameter float64 `in:"diameter_mm" sym:"d" label:"Thread diameter" ok:">0" eg:"16"`
	Pitch    float64 `in:"pitch_mm" sym:"P" label:"Pitch" ok:">0" eg:"2"`
	Yield    float64 `in:"yield_MPa" sym:"Re" label:"Yield strength" ok:">0" eg:"640"`
	MuThread float64 `in:"mu_thread" sym:"μt" label:"Friction in the thread" ok:"0.01..0.6" eg:"0.12"`
	MuHead   float64 `in:"mu_head" sym:"μh" label:"Friction under the nut" ok:"0.01..0.6" eg:"0.12"`
	Bearing  float64 `in:"bearing_mean_mm" sym:"Dm" label:"Mean diameter of the bearing face" ok:">0" eg:"20"`
	Nu       float64 `in:"nu" sym:"ν" label:"Part of the yield that is used" ok:">0,<=1" def:"0.9"`
}

// YieldPreloadResult is the assembly load and torque.
type YieldPreloadResult struct {
	Torque  float64 `out:"torque_Nm" sym:"T" label:"Torque at the nut"`
	Preload float64 `out:"preload_kN" sym:"F" label:"Load in the bolt"`
}

// AssemblyPreloadYield gives load and torque for a share of yield with torsion while tightening (fully plastic torsion
// section). Source: VDI 2230; agrees with its printed tables.
func AssemblyPreloadYield(w *working.Working, in YieldPreloadInput) (YieldPreloadResult, error) {
	if err := quantity.Limits(in); err != nil {
		return YieldPreloadResult{}, err
	}
	r3 := math.Sqrt(3)
	d2 := w.Calc("d2", "pitch diameter", "d - 3 · √(3) / 8 · P", in.Diameter-3*r3/8*in.Pitch, quantity.Millimetre,
		"ISO 724")
	d3 := w.Calc("d3", "root diameter", "d - 17 · √(3) / 24 · P", in.Diameter-17*r3/24*in.Pitch, quantity.Millimetre,
		"ISO 724")
	if in.Pitch >= in.Diameter/2 || d3 <= 0 {
		return YieldPreloadResult{}, quantity.Refuse("pitch_mm", "Check the thread.",
			"%s mm is half the diameter or more", quantity.Text(in.Pitch))
	}
	if in.Bearing <= d2 {
		return YieldPreloadResult{}, quantity.Refuse("bearing_mean_mm", "Check nut and hole.",
			"is not wider than the thread")
	}
	ds := w.Calc("ds", "stress diameter", "(d2 + d3) / 2", (d2+d3)/2, quantity.Millimetre, "")
	as := w.Calc("As", "stress area", "π / 4 · ds ^ 2", math.Pi/4*ds*ds, "mm2", "ISO 898-1")
	x := w.Calc("x", "lever of the thread", "P / (π · d2) + μt / cos(30)",
		in.Pitch/(math.Pi*d2)+in.MuThread/math.Cos(math.Pi/6), "", "VDI 2230")
	f := w.Step("F", "As · ν · Re / √(1 + 3 · (3 / 2 · d2 / ds · x) ^ 2) / 1000",
		as*in.Nu*in.Yield/math.Sqrt(1+3*math.Pow(1.5*d2/ds*x, 2))/1000)
	return YieldPreloadResult{Preload: f, Torque: w.Step("T", "F · (d2 / 2 · x + μh · Dm / 2)",
		f*(d2/2*x+in.MuHead*in.Bearing/2))}, nil
}

// BearingPressureInput is a load on the ring under a nut or head.
type BearingPressureInput struct {
	Force float64  `in:"force_kN" sym:"F" label:"Load" ok:">0" eg:"80"`
	Outer float64  `in:"outer_mm" sym:"o" label:"Bearing face, outside" ok:">0" eg:"22.49"`
	Hole  float64  `in:"hole_mm" sym:"h" label:"Hole" ok:">0" eg:"17.5"`
	Limit *float64 `in:"limit_MPa" sym:"pG" label:"Clamped material takes" ok:">0" eg:"490"`
}

// BearingPressureResult is the pressure under the face.
type BearingPressureResult struct {
	Pressure float64  `out:"pressure_MPa" sym:"p" label:"Pressure under the face"`
	Util     *float64 `out:"util_pct" sym:"u" label:"Of the limit"`
	OK       *bool    `out:"ok" label:"Within the limit"`
}

// BearingPressure gives the pressure under nut or head; the limit comes from the clamped material. Refused: outside not
// above hole.
func BearingPressure(w *working.Working, in BearingPressureInput) (BearingPressureResult, error) {
	if err := quantity.Limits(in); err != nil {
		return BearingPressureResult{}, err
	}
	if in.Outer <= in.Hole {
		return BearingPressureResult{}, quantity.Refuse("outer_mm", "Check both diameters.",
			"%s mm is not above the hole", quantity.Text(in.Outer))
	}
	r := BearingPressureResult{Pressure: w.Step("p", "F · 1000 / (π / 4 · (o ^ 2 - h ^ 2))",
		in.Force*1000/(math.Pi/4*(in.Outer*in.Outer-in.Hole*in.Hole)))}
	if in.Limit != nil {
		u, ok := w.Step("u", "100 · p / pG", 100*r.Pressure / *in.Limit), quantity.AtMost(r.Pressure, *in.Limit)
		r.Util, r.OK = &u, &ok
	}
	return r, nil
}

// EngagementInput asks how much thread must be engaged.
type EngagementInput struct {
	Diameter float64  `in:"diameter_mm" sym:"d" label:"Thread diameter" ok:">0" eg:"16"`
	Pitch    float64  `in:"pitch_mm" sym:"P" label:"Pitch" ok:">0" eg:"2"`
	As       float64  `in:"As_mm2" sym:"As" label:"Stress area" ok:">0" eg:"156.7"`
	Bolt     float64  `in:"bolt_tensile_MPa" sym:"Rb" label:"Tensile strength, bolt" ok:">0" eg:"800"`
	Nut      float64  `in:"nut_tensile_MPa" sym:"Rn" label:"Tensile strength, nut or body" ok:">0" eg:"400"`
	Shear    float64  `in:"shear_ratio" sym:"s" label:"Shear over tensile strength" ok:"0.3..0.8" def:"0.5"`
	Length   *float64 `in:"length_mm" sym:"L" label:"Engaged length" ok:">0" eg:""`
	DMin     *float64 `in:"d_min_mm" sym:"dn" label:"Bolt, least outside diameter" ok:">0" eg:""`
	D2Min    *float64 `in:"d2_min_mm" sym:"d2n" label:"Bolt, least pitch diameter" ok:">0" eg:""`
	D1Max    *float64 `in:"D1_max_mm" sym:"D1x" label:"Nut, largest minor diameter" ok:">0" eg:""`
	D2Max    *float64 `in:"D2_max_mm" sym:"D2x" label:"Nut, largest pitch diameter" ok:">0" eg:""`
}

// EngagementResult is the engagement at which the bolt breaks before a thread strips.
type EngagementResult struct {
	Required   float64 `out:"length_required_mm" sym:"Lr" label:"Engagement needed"`
	Ext        float64 `out:"ext_area_per_mm" sym:"Ae" label:"Sheared area of the bolt thread, mm² per mm"`
	Int        float64 `out:"int_area_per_mm" sym:"Ai" label:"Sheared area of the nut thread, mm² per mm"`
	BoltThread float64 `out:"length_bolt_thread_mm" sym:"Lb" label:"For the bolt thread"`
	NutThread  float64 `out:"length_nut_thread_mm" sym:"Ln" label:"For the nut thread"`
	Critical   string  `out:"critical" label:"Weaker thread"`
	OK         *bool   `out:"ok" label:"Enough"`
}

// EngagementLength gives the thread engagement needed so that the bolt breaks before a thread strips; basic profile
// where no tolerance diameters are given. Add about a pitch for chamfers. Refused: threads that do not overlap. Source:
// formulas of the FED-STD-H28 type; textbooks.
func EngagementLength(w *working.Working, in EngagementInput) (EngagementResult, error) {
	if err := quantity.Limits(in); err != nil {
		return EngagementResult{}, err
	}
	r3 := math.Sqrt(3)
	or := func(sym, name, formula string, p *float64, basic float64) float64 {
		if p != nil {
			return *p
		}
		return w.Calc(sym, name, formula, basic, quantity.Millimetre, "basic profile")
	}
	dn := or("dn", "bolt outside diameter", "d", in.DMin, in.Diameter)
	d2n := or("d2n", "bolt pitch diameter", "d - 3 · √(3) / 8 · P", in.D2Min, in.Diameter-3*r3/8*in.Pitch)
	d1x := or("D1x", "nut minor diameter", "d - 5 · √(3) / 8 · P", in.D1Max, in.Diameter-5*r3/8*in.Pitch)
	d2x := or("D2x", "nut pitch diameter", "d - 3 · √(3) / 8 · P", in.D2Max, in.Diameter-3*r3/8*in.Pitch)
	if d1x <= 0 {
		return EngagementResult{}, quantity.Refuse("pitch_mm", "Check the thread.", "is too coarse for the diameter")
	}
	if d2n <= d1x || dn <= d2x {
		return EngagementResult{}, quantity.Refuse("D1_max_mm", "Check the tolerance diameters.",
			"the threads do not overlap")
	}
	var r EngagementResult
	r.Ext = w.Step("Ae", "π · D1x · (1 / 2 + (d2n - D1x) / (√(3) · P))", math.Pi*d1x*(0.5+(d2n-d1x)/(r3*in.Pitch)))
	r.Int = w.Step("Ai", "π · dn · (1 / 2 + (dn - D2x) / (√(3) · P))", math.Pi*dn*(0.5+(dn-d2x)/(r3*in.Pitch)))
	r.BoltThread = w.Step("Lb", "As / (s · Ae)", in.As/(in.Shear*r.Ext))
	r.NutThread = w.Step("Ln", "As · Rb / (s · Rn · Ai)", in.As*in.Bolt/(in.Shear*in.Nut*r.Int))
	r.Critical = "nut_thread"
	if r.BoltThread >= r.NutThread {
		r.Critical = "bolt_thread"
	}
	r.Required = w.Step("Lr", "max( Lb , Ln )", math.Max(r.BoltThread, r.NutThread))
	if in.Length != nil {
		ok := quantity.AtMost(r.Required, *in.Length)
		r.OK = &ok
	}
	w.Take("Add about one pitch for the chamfered ends.")
	return r, nil
}

// ErrorPart is one source of scatter of a preload.
type ErrorPart struct {
	Half         float64 `in:"half_width_pct" label:"± percent" ok:">=0"`
	Distribution string  `in:"distribution" label:"Shape" one:"normal rectangular triangular"`
}

// CombinedUncertaintyInput are the parts, all relative to the same preload.
type CombinedUncertaintyInput struct {
	Parts    []ErrorPart `in:"components" label:"Sources of scatter"`
	Coverage float64     `in:"coverage_k" sym:"k" label:"Coverage" ok:"1..3" def:"2"`
}

// CombinedUncertaintyResult is the combined scatter.
type CombinedUncertaintyResult struct {
	Expanded float64 `out:"expanded_pct" sym:"U" label:"Expanded"`
	Standard float64 `out:"standard_pct" sym:"u" label:"Standard"`
}

// CombinedUncertainty adds independent relative errors (tool, reading, friction, geometry) in quadrature. Source:
// ISO/IEC Guide 98-3.
func CombinedUncertainty(w *working.Working, in CombinedUncertaintyInput) (CombinedUncertaintyResult, error) {
	if err := quantity.Limits(in); err != nil {
		return CombinedUncertaintyResult{}, err
	}
	if len(in.Parts) == 0 {
		return CombinedUncertaintyResult{}, quantity.Refuse("components", "Enter at least one source of scatter.",
			"none given")
	}
	sum := 0.0
	for _, p := range in.Parts {
		u := p.Half / map[string]float64{"normal": 2, "rectangular": math.Sqrt(3),
			"triangular": math.Sqrt(6)}[p.Distribution]
		sum += u * u
	}
	r := CombinedUncertaintyResult{Standard: w.Step("u", "root of the sum of squares", math.Sqrt(sum))}
	r.Expanded = w.Step("U", "k · u", in.Coverage*r.Standard)
	return r, nil
}

// FrictionMismatchInput compares two frictions at one torque.
type FrictionMismatchInput struct {
	Torque        float64  `in:"torque_Nm" sym:"T" label:"Torque at the nut" ok:">0" eg:"595"`
	Diameter      float64  `in:"diameter_mm" sym:"d" label:"Thread diameter" ok:">0" eg:"27"`
	Pitch         float64  `in:"pitch_mm" sym:"P" label:"Pitch" ok:">0" eg:"3"`
	D2            float64  `in:"d2_mm" sym:"d2" label:"Pitch diameter" ok:">0" eg:"25.051"`
	Bearing       float64  `in:"bearing_mean_mm" sym:"Dm" label:"Mean diameter of the bearing face" ok:">0" eg:"35.5"`
	ThreadAssumed float64  `in:"mu_thread_assumed" label:"Friction in the thread, planned" ok:"0.01..0.6" eg:"0.11"`
	HeadAssumed   float64  `in:"mu_head_assumed" label:"Friction under the nut, planned" ok:"0.01..0.6" eg:"0.11"`
	ThreadActual  float64  `in:"mu_thread_actual" label:"Friction in the thread, found" ok:"0.01..0.6" eg:"0.16"`
	HeadActual    float64  `in:"mu_head_actual" label:"Friction under the nut, found" ok:"0.01..0.6" eg:"0.17"`
	Prevailing    float64  `in:"prevailing_Nm" sym:"Tp" label:"Prevailing torque" ok:">=0" def:"0"`
	HalfAngle     float64  `in:"half_angle_deg" label:"Half thread angle" ok:">=0,<60" def:"30"`
	Method        string   `in:"method" label:"Formula" one:"approx exact" def:"approx"`
	Limit         *float64 `in:"limit_kN" label:"Bolt takes" ok:">0" eg:""`
}

// MismatchResult says what one torque does with a friction other than the planned one.
type MismatchResult struct {
	Actual    float64 `out:"preload_actual_kN" sym:"Fa" label:"Load with what was found"`
	Intended  float64 `out:"preload_intended_kN" sym:"Fi" label:"Load as planned"`
	Ratio     float64 `out:"preload_ratio" sym:"q" label:"Found over planned"`
	Restoring float64 `out:"torque_restoring_Nm" sym:"Tr" label:"Torque that would give the planned load"`
	Over      *bool   `out:"over_limit" label:"Over what the bolt takes"`
}

// FrictionMismatch compares two friction pairs at one torque by their lever sums. A warning, never a conversion to work
// by.
func FrictionMismatch(w *working.Working, in FrictionMismatchInput) (MismatchResult, error) {
	if err := quantity.Limits(in); err != nil {
		return MismatchResult{}, err
	}
	sum := func(t, h float64) (float64, error) {
		l, err := Friction{D: in.Diameter, Pitch: in.Pitch, D2: in.D2, BearingMean: in.Bearing, MuThread: t, MuHead: h,
			PrevailingNm: in.Prevailing, HalfAngleDeg: in.HalfAngle, Exact: in.Method == "exact"}.Levers(nil)
		return l.Sum(), err
	}
	planned, err := sum(in.ThreadAssumed, in.HeadAssumed)
	if err != nil {
		return MismatchResult{}, err
	}
	found, err := sum(in.ThreadActual, in.HeadActual)
	if err != nil {
		return MismatchResult{}, err
	}
	if in.Prevailing >= in.Torque {
		return MismatchResult{}, quantity.Refuse("prevailing_Nm", "Check both torques.",
			"is not below the tightening torque")
	}
	w.Calc("s1", "lever sum as planned", "as in torque_from_preload", planned, quantity.Millimetre, "ISO 16047")
	w.Calc("s2", "lever sum as found", "as in torque_from_preload", found, quantity.Millimetre, "ISO 16047")
	r := MismatchResult{Intended: w.Step("Fi", "(T - Tp) / s1", (in.Torque-in.Prevailing)/planned),
		Actual: w.Step("Fa", "(T - Tp) / s2", (in.Torque-in.Prevailing)/found)}
	r.Ratio = w.Step("q", "s1 / s2", planned/found)
	r.Restoring = w.Step("Tr", "(T - Tp) · s2 / s1 + Tp", (in.Torque-in.Prevailing)*found/planned+in.Prevailing)
	if in.Limit != nil {
		over := r.Actual > *in.Limit
		r.Over = &over
	}
	w.Warn("A warning, not a conversion: clean off and use what the plan says, or ask for another plan.")
	return r, nil
}
