// Package pressure holds what pressure does to a joint and how a joint is tried with it. Pressures are gauge, in MPa
// (Pa for leak rates), unless a name says abs. It must never say that a test is safe: it shows figures, site rules and
// the responsible person decide.
package pressure

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

const (
	kelvin     = 273.15
	gravity    = 9.80665
	atmosphere = 101325.0 // Pa
)

// EndForceInput is a pressure inside a seal.
type EndForceInput struct {
	Pressure float64 `in:"pressure_MPa" sym:"p" label:"Pressure" ok:">=0" eg:"1.6"`
	Diameter float64 `in:"diameter_mm" sym:"G" label:"Diameter where the seal acts" ok:">0" eg:"193"`
	Bolts    int     `in:"bolt_count" sym:"n" label:"Bolts" ok:">=1" eg:"8"`
}

// EndForceResult is what the pressure pushes with.
type EndForceResult struct {
	Force   float64 `out:"end_force_kN" sym:"Fe" label:"Force of the pressure"`
	PerBolt float64 `out:"per_bolt_kN" sym:"Fb" label:"On each bolt"`
}

// EndForce gives the hydrostatic end force. Source: definition of pressure.
func EndForce(w *working.Working, in EndForceInput) (EndForceResult, error) {
	if err := quantity.Limits(in); err != nil {
		return EndForceResult{}, err
	}
	f := w.Step("Fe", "π / 4 · p · G ^ 2 / 1000", math.Pi/4*in.Pressure*in.Diameter*in.Diameter/1000)
	return EndForceResult{Force: f, PerBolt: w.Step("Fb", "Fe / n", f/float64(in.Bolts))}, nil
}

// TestInput asks for a test pressure.
type TestInput struct {
	Design  float64  `in:"design_MPa" sym:"pd" label:"Design pressure" ok:">0" eg:"1.6"`
	Factor  float64  `in:"factor" sym:"f" label:"Factor of the code" help:"The code in force gives it." ok:">=1" eg:"1.5"`
	Ratio   float64  `in:"stress_ratio" sym:"s" label:"Allowable stress cold over hot" ok:">=1" def:"1.0"`
	Hold    float64  `in:"hold_min" sym:"t" label:"Hold for" ok:">0" eg:"15"`
	MinHold float64  `in:"min_hold_min" sym:"tn" label:"The code asks for at least" ok:">0" eg:"10"`
	Head    float64  `in:"head_m" sym:"h" label:"Top of the system above the gauge" ok:">=0" def:"0"`
	Density float64  `in:"density_kg_m3" sym:"ρ" label:"Density of the test fluid" ok:">0" def:"1000"`
	Limit   *float64 `in:"component_limit_MPa" sym:"pl" label:"Weakest part takes" ok:">0" eg:""`
}

// TestResult is the pressure at the gauge and the gauge to use.
type TestResult struct {
	Gauge float64 `out:"gauge_MPa" sym:"pg" label:"Pressure at the gauge"`
	Test  float64 `out:"test_MPa" sym:"pt" label:"Test pressure at the top"`
	Low   float64 `out:"range_low_MPa" sym:"gl" label:"Gauge scale, at least"`
	High  float64 `out:"range_high_MPa" sym:"gh" label:"Gauge scale, at most"`
	Hold  float64 `out:"hold_s" sym:"th" label:"Hold"`
}

// TestPressure gives the hydrostatic test pressure with the head of liquid and the gauge range. Refused: a hold under
// the least, a gauge pressure over the weakest part. Source: form of ASME VIII-1 and B31.3; gauge range of ASME VIII-1.
func TestPressure(w *working.Working, in TestInput) (TestResult, error) {
	if err := quantity.Limits(in); err != nil {
		return TestResult{}, err
	}
	if !quantity.AtMost(in.MinHold, in.Hold) {
		return TestResult{}, quantity.Refuse("hold_min", "Hold longer.", "%s min is under the least of %s min",
			quantity.Text(in.Hold), quantity.Text(in.MinHold))
	}
	r := TestResult{Test: w.Step("pt", "pd · f · s", in.Design*in.Factor*in.Ratio)}
	r.Gauge = w.Step("pg", "pt + ρ · 9.80665 · h / 1000000", r.Test+in.Density*gravity*in.Head/1e6)
	if in.Limit != nil && !quantity.AtMost(r.Gauge, *in.Limit) {
		return TestResult{}, quantity.Refuse("component_limit_MPa",
			"Blank off or remove the weak part, or ask the engineer.", "%s MPa at the gauge is more than it takes",
			quantity.Text(r.Gauge))
	}
	r.Low, r.High = w.Step("gl", "1.5 · pg", 1.5*r.Gauge), w.Step("gh", "4 · pg", 4*r.Gauge)
	r.Hold = w.Step("th", "60 · t", 60*in.Hold)
	w.Warn("Stay out of the line of fire while pressure is raised. The code in force and the responsible " +
		"person decide.")
	return r, nil
}

// StepsInput is a pneumatic test.
type StepsInput struct {
	Test    float64  `in:"test_MPa" sym:"pt" label:"Test pressure" ok:">0" eg:"1.1"`
	First   float64  `in:"first_frac" sym:"f1" label:"First step, part of it" ok:">0,<=1" def:"0.5"`
	Step    float64  `in:"step_frac" sym:"fs" label:"Each further step, part of it" ok:"0.001..1" def:"0.1"`
	Cap     *float64 `in:"first_cap_MPa" sym:"pc" label:"First step at most" ok:">0" eg:"0.17"`
	Inspect float64  `in:"inspect_divisor" sym:"m" label:"Inspect at test pressure over" ok:">=1" def:"1.1"`
}

// StepsResult are the pressures to stop at.
type StepsResult struct {
	Steps   []float64 `out:"steps_MPa" label:"Raise to, one after another"`
	Inspect float64   `out:"inspect_MPa" sym:"pi" label:"Lower to, and inspect"`
}

// PneumaticSteps gives the steps of a pneumatic test. Source: scheme of UG-100 of ASME VIII-1; cap as in B31.3.
func PneumaticSteps(w *working.Working, in StepsInput) (StepsResult, error) {
	if err := quantity.Limits(in); err != nil {
		return StepsResult{}, err
	}
	p := in.First * in.Test
	if in.Cap != nil {
		p = math.Min(p, *in.Cap)
	}
	r := StepsResult{Steps: []float64{p}}
	w.Calc("p1", "first step", "", p, quantity.Megapascal, "")
	for in.Test-p > 1e-9*in.Test {
		if p += in.Step * in.Test; in.Test-p < 1e-9*in.Test {
			p = in.Test
		}
		r.Steps = append(r.Steps, p)
	}
	r.Inspect = w.Step("pi", "pt / m", in.Test/in.Inspect)
	w.Warn("Gas under pressure stores far more energy than water. Distance, barriers and permission follow site rules.")
	return r, nil
}

// DecayInput is a pressure watched over time in a closed volume.
type DecayInput struct {
	P1         float64 `in:"p1_Pa" sym:"p1" label:"Pressure at the start" eg:"600000"`
	T1         float64 `in:"t1_C" sym:"t1" label:"Temperature at the start" ok:">-273.15" eg:"20"`
	P2         float64 `in:"p2_Pa" sym:"p2" label:"Pressure at the end" eg:"598000"`
	T2         float64 `in:"t2_C" sym:"t2" label:"Temperature at the end" ok:">-273.15" eg:"19.5"`
	Volume     float64 `in:"volume_m3" sym:"V" label:"Closed volume" ok:">0" eg:"0.25"`
	Time       float64 `in:"time_s" sym:"t" label:"Time between" ok:">0" eg:"3600"`
	Atm1       float64 `in:"atm1_Pa" sym:"a1" label:"Air pressure at the start" ok:">=0" def:"101325"`
	Atm2       float64 `in:"atm2_Pa" sym:"a2" label:"Air pressure at the end" ok:">=0" def:"101325"`
	Limit      float64 `in:"limit_Pa_m3_s" sym:"QL" label:"Allowed leak rate" ok:">0" eg:"0.1"`
	Resolution float64 `in:"resolution_Pa" sym:"r" label:"One step of the gauge" ok:">=0" def:"0"`
	RefTemp    float64 `in:"ref_temp_C" sym:"tr" label:"Gas volume told at" ok:">-273.15" def:"20"`
}

// DecayResult is the leak rate and its verdict.
type DecayResult struct {
	Leak      float64 `out:"leak_Pa_m3_s" sym:"Q" label:"Leak rate"`
	Verdict   string  `out:"verdict" label:"Verdict"`
	Volume    float64 `out:"leak_mL_min" sym:"q" label:"As gas volume"`
	Corrected float64 `out:"p2_corrected_abs_Pa" sym:"Pc" label:"End pressure at the first temperature, absolute"`
	Floor     float64 `out:"floor_Pa_m3_s" sym:"Qf" label:"Least leak this test can show"`
}

// Decay judges a pressure-decay test with temperature correction (ideal gas): pass, fail, inconclusive (the gauge is
// too coarse) or invalid (pressure rose).
func Decay(w *working.Working, in DecayInput) (DecayResult, error) {
	if err := quantity.Limits(in); err != nil {
		return DecayResult{}, err
	}
	a, b := in.P1+in.Atm1, in.P2+in.Atm2
	if !(a > 0) || !(b > 0) {
		return DecayResult{}, quantity.Refuse("p2_Pa", "Check the pressures.", "an absolute pressure is not above zero")
	}
	k1, k2 := in.T1+kelvin, in.T2+kelvin
	r := DecayResult{Corrected: w.Step("Pc", "(p2 + a2) · (t1 + 273.15) / (t2 + 273.15)", b*k1/k2)}
	r.Leak = w.Step("Q", "V / t · (p1 + a1 - Pc)", in.Volume/in.Time*(a-r.Corrected))
	r.Volume = w.Step("q", "Q / 101325 · (tr + 273.15) / (t1 + 273.15) · 60000000",
		r.Leak/atmosphere*((in.RefTemp+kelvin)/k1)*6e7)
	r.Floor = w.Step("Qf", "V · r / t", in.Volume*in.Resolution/in.Time)
	switch {
	case !quantity.AtMost(r.Floor, in.Limit):
		r.Verdict = "inconclusive"
	case r.Leak < -math.Max(in.Limit, r.Floor):
		r.Verdict = "invalid"
	case quantity.AtMost(r.Leak, in.Limit):
		r.Verdict = "pass"
	default:
		r.Verdict = "fail"
	}
	return r, nil
}

// PrechargeInput is the gas side of an accumulator or dome.
type PrechargeInput struct {
	Precharge float64  `in:"precharge_MPa" sym:"p0" label:"Service precharge stated" help:"Not the low transport pressure it was delivered with." ok:">0" eg:"9"`
	RefTemp   float64  `in:"temp_ref_C" sym:"t0" label:"It is stated at" ok:">-273.15" eg:"20"`
	Temp      float64  `in:"temp_C" sym:"t" label:"Gas temperature now" ok:">-273.15" eg:"12"`
	Atm       float64  `in:"atm_MPa" sym:"pa" label:"Air pressure" ok:">0" def:"0.101325"`
	Measured  *float64 `in:"measured_MPa" sym:"pm" label:"Measured" ok:">=0" eg:""`
	Tol       float64  `in:"tol_pct" sym:"x" label:"Allowed difference" ok:">=0" def:"5"`
	SystemMin float64  `in:"system_min_MPa" sym:"pn" label:"System pressure, least" ok:">0" eg:"12"`
	TempMax   float64  `in:"temp_max_C" sym:"tx" label:"Hottest in service" ok:">-273.15" eg:"55"`
	MaxFrac   float64  `in:"max_frac" sym:"f" label:"Precharge at most this part of the least system pressure" ok:">0,<=1" def:"0.9"`
	SystemMax float64  `in:"system_max_MPa" sym:"px" label:"System pressure, most" ok:">0" eg:"25"`
	MaxRatio  float64  `in:"max_ratio" sym:"R" label:"Compression at most" ok:">0" def:"4"`
}

// PrechargeResult is what to fill to and whether the limits hold.
type PrechargeResult struct {
	AtTemp  float64 `out:"precharge_at_temp_MPa" sym:"p" label:"Fill to, at this temperature"`
	Verdict *string `out:"verdict" label:"Measured against that"`
	AtMax   float64 `out:"precharge_at_max_MPa" sym:"ph" label:"When hottest"`
	MaxOK   bool    `out:"max_ok" label:"Low enough when hottest"`
	Ratio   float64 `out:"ratio" sym:"k" label:"Compression"`
	RatioOK bool    `out:"ratio_ok" label:"Compression allowed"`
}

// Precharge corrects a gas precharge for temperature at constant volume and holds it to the usual limits, which are
// habits: the maker's figures govern. Transport pressure is another, lower figure and is not judged here. Source: ideal
// gas.
func Precharge(w *working.Working, in PrechargeInput) (PrechargeResult, error) {
	if err := quantity.Limits(in); err != nil {
		return PrechargeResult{}, err
	}
	if in.SystemMax < in.SystemMin {
		return PrechargeResult{}, quantity.Refuse("system_max_MPa", "Enter the least pressure first.",
			"is below the least")
	}
	at := func(sym, t string, temp float64) float64 {
		return w.Step(sym, "(p0 + pa) · ("+t+" + 273.15) / (t0 + 273.15) - pa",
			(in.Precharge+in.Atm)*(temp+kelvin)/(in.RefTemp+kelvin)-in.Atm)
	}
	r := PrechargeResult{AtTemp: at("p", "t", in.Temp), AtMax: at("ph", "tx", in.TempMax)}
	if !(r.AtTemp+in.Atm > 0) {
		return PrechargeResult{}, quantity.Refuse("temp_C", "Check the temperature.", "leaves no pressure")
	}
	r.MaxOK = quantity.AtMost(r.AtMax, in.MaxFrac*in.SystemMin)
	r.Ratio = w.Step("k", "(px + pa) / (p + pa)", (in.SystemMax+in.Atm)/(r.AtTemp+in.Atm))
	r.RatioOK = quantity.AtMost(r.Ratio, in.MaxRatio)
	if in.Measured != nil {
		v := "ok"
		if !quantity.AtMost(r.AtTemp*(1-in.Tol/100), *in.Measured) {
			v = "low"
		} else if !quantity.AtMost(*in.Measured, r.AtTemp*(1+in.Tol/100)) {
			v = "high"
		}
		r.Verdict = &v
	}
	w.Warn("Nitrogen only. The bladder is filled slowly, with the fluid side open and empty.")
	return r, nil
}

// EnergyInput is a volume of gas at test pressure.
type EnergyInput struct {
	Test        float64 `in:"test_MPa" sym:"pt" label:"Test pressure" ok:">0" eg:"1.1"`
	Volume      float64 `in:"volume_m3" sym:"V" label:"Volume" ok:">0" eg:"0.4"`
	Gamma       float64 `in:"gamma" sym:"γ" label:"Ratio of heats of the gas" ok:">1" def:"1.4"`
	Atm         float64 `in:"atm_MPa" sym:"pa" label:"Air pressure" ok:">0" def:"0.101325"`
	TNT         float64 `in:"tnt_J_per_kg" sym:"e" label:"Energy of TNT" ok:">0" def:"4266920"`
	Scaled      float64 `in:"scaled_distance" sym:"Z" label:"Scaled distance, m/kg^(1/3)" ok:">0" def:"20"`
	Reflect     float64 `in:"reflect_factor" sym:"f" label:"Reflection" ok:">0" def:"2"`
	MinDistance float64 `in:"min_distance_m" sym:"Dn" label:"Never nearer than" ok:">=0" def:"0"`
	Bulk        float64 `in:"bulk_GPa" sym:"B" label:"Bulk modulus of water" ok:">0" def:"2.2"`
}

// EnergyResult is the energy stored, for comparison with water.
type EnergyResult struct {
	Energy   float64 `out:"energy_J" sym:"E" label:"Energy in the gas"`
	TNT      float64 `out:"tnt_kg" sym:"m" label:"As TNT"`
	Distance float64 `out:"distance_m" sym:"D" label:"Distance, caution only"`
	Hydro    float64 `out:"hydro_energy_J" sym:"Ew" label:"The same with water"`
}

// EnergyCaution is shown wherever a stored energy is.
const EnergyCaution = "Caution only. Distance, barriers and permission follow local rules and the responsible person."

// StoredEnergy gives the energy of a pneumatic test and a scaled distance, as a caution only. Source: isentropic
// expansion and cube-root scaling as in ASME PCC-2 (article on pressure testing).
func StoredEnergy(w *working.Working, in EnergyInput) (EnergyResult, error) {
	if err := quantity.Limits(in); err != nil {
		return EnergyResult{}, err
	}
	p := w.Calc("P", "absolute pressure", "pt + pa", in.Test+in.Atm, quantity.Megapascal, "")
	r := EnergyResult{Energy: w.Step("E", "P · 1000000 · V / (γ - 1) · (1 - (pa / P) ^ ((γ - 1) / γ))",
		p*1e6*in.Volume/(in.Gamma-1)*(1-math.Pow(in.Atm/p, (in.Gamma-1)/in.Gamma)))}
	r.TNT = w.Step("m", "E / e", r.Energy/in.TNT)
	r.Distance = w.Step("D", "max( Dn , Z · (f · m) ^ (1 / 3) )",
		math.Max(in.MinDistance, in.Scaled*math.Cbrt(in.Reflect*r.TNT)))
	r.Hydro = w.Step("Ew", "pt ^ 2 · V / (2 · B) · 1000", in.Test*1e6*in.Test*1e6*in.Volume/(2*in.Bulk*1e9))
	w.Warn(EnergyCaution)
	return r, nil
}

// AtmosphereMPa is the standard atmosphere (ISO 2533).
const AtmosphereMPa = 0.101325

// GasReferenceC is the temperature at which the pressure of a gas is stated, °C (ISO 1).
const GasReferenceC = 20.0

// GasInput is a closed gas at two temperatures.
type GasInput struct {
	Pressure float64 `in:"pressure_MPa" sym:"p1" label:"Pressure read" ok:">=0" eg:"9"`
	From     float64 `in:"temp_from_C" sym:"t1" label:"At" ok:">-273.15" eg:"20"`
	To       float64 `in:"temp_to_C" sym:"t2" label:"What is it at" ok:">-273.15" eg:"40"`
	Atm      float64 `in:"atm_MPa" sym:"pa" label:"Air pressure" help:"0 when the pressure read is absolute." ok:">=0" def:"0.101325"`
	Purpose  string  `in:"purpose" label:"Which pressure this is" one:"service transport" def:"service"`
}

// GasResult is the pressure at the other temperature.
type GasResult struct {
	Pressure float64 `out:"pressure_MPa" sym:"p2" label:"Pressure then"`
}

// GasPressure gives the pressure of a closed gas at another temperature (ideal gas, constant volume). A transport
// pressure is told apart from the service pressure: it must never be left in for service.
func GasPressure(w *working.Working, in GasInput) (GasResult, error) {
	if err := quantity.Limits(in); err != nil {
		return GasResult{}, err
	}
	r := GasResult{Pressure: w.Step("p2", "(p1 + pa) · (t2 + 273.15) / (t1 + 273.15) - pa",
		(in.Pressure+in.Atm)*(in.To+kelvin)/(in.From+kelvin)-in.Atm)}
	if in.Purpose == "transport" {
		w.Warn("This is the transport pressure. Fill to the service pressure before the accumulator goes to work.")
	}
	return r, nil
}
