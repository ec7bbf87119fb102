// Package gasket relates bolt load to gasket stress. Stresses in MPa, areas in mm², lengths in mm, loads in kN. It must
// never choose a gasket's figures: its maker states them.
package gasket

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// RingInput is a gasket ring.
type RingInput struct {
	Outer float64 `in:"outer_mm" sym:"o" label:"Outside diameter" ok:">0" eg:"218"`
	Inner float64 `in:"inner_mm" sym:"i" label:"Inside diameter" ok:">0" eg:"169"`
}

// RingResult is the loaded area.
type RingResult struct {
	Area  float64 `out:"area_mm2" sym:"Ag" label:"Area"`
	Mean  float64 `out:"mean_diameter_mm" sym:"Gm" label:"Mean diameter"`
	Width float64 `out:"width_mm" sym:"b" label:"Width"`
}

// RingArea gives the area of a gasket ring. Refused: inside not below outside.
func RingArea(w *working.Working, in RingInput) (RingResult, error) {
	if err := quantity.Limits(in); err != nil {
		return RingResult{}, err
	}
	if in.Inner >= in.Outer {
		return RingResult{}, quantity.Refuse("inner_mm", "Check both diameters.", "is not below the outside diameter")
	}
	return RingResult{Area: w.Step("Ag", "π / 4 · (o ^ 2 - i ^ 2)", math.Pi/4*(in.Outer*in.Outer-in.Inner*in.Inner)),
		Mean:  w.Step("Gm", "(o + i) / 2", (in.Outer+in.Inner)/2),
		Width: w.Step("b", "(o - i) / 2", (in.Outer-in.Inner)/2)}, nil
}

// RelaxationInput is a load that must still be there after losses.
type RelaxationInput struct {
	Required float64   `in:"required_kN" sym:"F" label:"Load needed in service" ok:">0" eg:"90"`
	Losses   []float64 `in:"losses_pct" label:"Losses, one after another" help:"Embedding, gasket creep, elastic interaction, each in percent." ok:">=0,<90" eg:"10 15"`
}

// RelaxationResult is the load to assemble with.
type RelaxationResult struct {
	Assembly float64 `out:"assembly_kN" sym:"Fa" label:"Load to tighten to"`
	Retained float64 `out:"retained_fraction" sym:"r" label:"Part that stays"`
}

// RelaxationAllowance gives the assembly load that leaves the required load after losses. Refused: less than a tenth
// staying.
func RelaxationAllowance(w *working.Working, in RelaxationInput) (RelaxationResult, error) {
	if err := quantity.Limits(in); err != nil {
		return RelaxationResult{}, err
	}
	r := 1.0
	for _, l := range in.Losses {
		r *= 1 - l/100
	}
	if r < 0.1 {
		return RelaxationResult{}, quantity.Refuse("losses_pct", "Check the losses.",
			"leave less than a tenth of the load")
	}
	w.Step("r", "product of 1 - loss", r)
	return RelaxationResult{Retained: r, Assembly: w.Step("Fa", "F / r", in.Required/r)}, nil
}

// BoltStressInput is everything a flange's bolt stress depends on.
type BoltStressInput struct {
	Area           float64  `in:"gasket_area_mm2" sym:"Ag" label:"Gasket, loaded area" ok:">0" eg:"14890"`
	Target         float64  `in:"gasket_target_MPa" sym:"qt" label:"Gasket stress wanted" ok:">0" eg:"70"`
	Max            float64  `in:"gasket_max_MPa" sym:"qx" label:"Gasket takes at most" ok:">0" eg:"140"`
	Seating        float64  `in:"gasket_min_seating_MPa" sym:"qs" label:"Gasket needs to seat" ok:">0" eg:"50"`
	Operating      float64  `in:"gasket_min_operating_MPa" sym:"qo" label:"Gasket needs in service" ok:">0" eg:"30"`
	Bolts          int      `in:"bolt_count" sym:"n" label:"Bolts" ok:">=2" eg:"8"`
	BoltArea       float64  `in:"bolt_area_mm2" sym:"Ab" label:"Area of one bolt" help:"Stress area, or root area if the procedure says so; keep to one." ok:">0" eg:"245"`
	Yield          float64  `in:"bolt_yield_MPa" sym:"Sy" label:"Yield of the bolts" ok:">0" eg:"720"`
	MinPct         float64  `in:"bolt_min_pct" sym:"pn" label:"Bolts at least at" ok:">0" def:"40"`
	MaxPct         float64  `in:"bolt_max_pct" sym:"px" label:"Highest bolt stress, % of yield" ok:">0,<=100" def:"70"`
	FlangeLimit    *float64 `in:"flange_limit_MPa" sym:"Sf" label:"Bolt stress the flange takes" ok:">0" eg:""`
	Pressure       float64  `in:"pressure_MPa" sym:"p" label:"Pressure in service" ok:">=0" def:"0" eg:"1.6"`
	PressureCircle *float64 `in:"pressure_diameter_mm" sym:"G" label:"Diameter where the seal acts" ok:">0" eg:"193"`
	Retained       float64  `in:"retained_fraction" sym:"r" label:"Load that stays in service" ok:"0.3..1" def:"0.7"`
	Diameter       float64  `in:"diameter_mm" sym:"d" label:"Bolt diameter" ok:">0" eg:"20"`
	K              float64  `in:"K" sym:"K" label:"Nut factor" ok:"0.05..0.6" eg:"0.16"`
}

// BoltStressResult is the bolt stress and what settled it.
type BoltStressResult struct {
	Torque      float64  `out:"torque_Nm" sym:"T" label:"Torque at the nut"`
	Stress      float64  `out:"bolt_stress_MPa" sym:"S" label:"Bolt stress"`
	Governing   string   `out:"governing" label:"Settled by"`
	OK          bool     `out:"ok" label:"May be issued"`
	Warnings    []string `out:"warnings" label:"To mind"`
	PctYield    float64  `out:"bolt_pct_yield" sym:"q" label:"Percent of yield"`
	Preload     float64  `out:"preload_kN" sym:"F" label:"Load in each bolt"`
	GasketNow   float64  `out:"gasket_stress_assembly_MPa" sym:"qa" label:"Gasket stress when tightened"`
	GasketLater float64  `out:"gasket_stress_operating_MPa" sym:"qw" label:"Gasket stress in service"`
	EndForce    float64  `out:"end_force_kN" sym:"Fe" label:"Force of the pressure"`
}

// BoltStress picks the bolt stress of a gasketed flange: the gasket's wanted stress, raised to the floors (bolt
// minimum, seating, operation), then held to the caps (bolt maximum, flange, gasket); caps win. OK is false when the
// gasket would not seat or hold: then no torque is issued without an engineer. Source: joint-component approach as in
// ASME PCC-1 and EN 1591-type thinking.
func BoltStress(w *working.Working, in BoltStressInput) (BoltStressResult, error) {
	if err := quantity.Limits(in); err != nil {
		return BoltStressResult{}, err
	}
	switch {
	case in.Max < in.Target:
		return BoltStressResult{}, quantity.Refuse("gasket_max_MPa", "Check the gasket's data.",
			"is below the stress wanted")
	case in.Seating > in.Max:
		return BoltStressResult{}, quantity.Refuse("gasket_min_seating_MPa", "Check the gasket's data.",
			"is above what the gasket takes")
	case in.MinPct >= in.MaxPct:
		return BoltStressResult{}, quantity.Refuse("bolt_min_pct", "Enter the lower share first.",
			"is not below the upper share")
	case in.Pressure > 0 && in.PressureCircle == nil:
		return BoltStressResult{}, quantity.Refuse("pressure_diameter_mm", "Enter the diameter where the seal acts.",
			"is needed with a pressure")
	}
	bolts := float64(in.Bolts) * in.BoltArea
	c := w.Calc("c", "gasket area over bolt area", "Ag / (n · Ab)", in.Area/bolts, "", "")
	end := 0.0
	if in.PressureCircle != nil {
		end = math.Pi / 4 * in.Pressure * *in.PressureCircle * *in.PressureCircle
		w.Step("Fe", "π / 4 · p · G ^ 2 / 1000", end/1000)
	} else {
		w.Step("Fe", "", 0)
	}
	wanted := w.Calc("Sw", "bolt stress for the gasket stress wanted", "qt · c", in.Target*c, quantity.Megapascal, "")
	floors := []bound{
		{"bolt_min", w.Calc("S1", "floor: bolts", "pn / 100 · Sy", in.MinPct/100*in.Yield, quantity.Megapascal, "")},
		{"seating", w.Calc("S2", "floor: seating", "qs · c", in.Seating*c, quantity.Megapascal, "")},
		{"operating", w.Calc("S3", "floor: in service", "(qo · Ag + Fe · 1000) / (r · n · Ab)",
			(in.Operating*in.Area+end)/(in.Retained*bolts), quantity.Megapascal, "")},
	}
	caps := []bound{{"bolt_max", w.Calc("S4", "cap: bolts", "px / 100 · Sy", in.MaxPct/100*in.Yield,
		quantity.Megapascal, "")}}
	if in.FlangeLimit != nil {
		caps = append(caps, bound{"flange", *in.FlangeLimit})
	}
	caps = append(caps, bound{"gasket_max", w.Calc("S5", "cap: gasket", "qx · c", in.Max*c, quantity.Megapascal, "")})
	r := BoltStressResult{Stress: wanted, Governing: "gasket_target", EndForce: end / 1000, Warnings: []string{}}
	for _, b := range floors {
		if below(r.Stress, b.stress) {
			r.Stress, r.Governing = b.stress, b.name
		}
	}
	for _, b := range caps {
		if below(b.stress, r.Stress) {
			r.Stress, r.Governing = b.stress, b.name
		}
	}
	w.Step("S", "raised to the floors, then held to the caps", r.Stress)
	for _, x := range []struct {
		name string
		is   bool
	}{{"below_seating", below(r.Stress, floors[1].stress)}, {"below_operating", below(r.Stress, floors[2].stress)},
		{"below_bolt_min", below(r.Stress, floors[0].stress)},
		{"gasket_target_not_reached", below(r.Stress, wanted)}, {"above_gasket_target", below(wanted, r.Stress)}} {
		if x.is {
			r.Warnings = append(r.Warnings, x.name)
			w.Warn(sentence[x.name])
		}
	}
	r.OK = !below(r.Stress, floors[1].stress) && !below(r.Stress, floors[2].stress)
	r.PctYield = w.Step("q", "100 · S / Sy", 100*r.Stress/in.Yield)
	r.Preload = w.Step("F", "S · Ab / 1000", r.Stress*in.BoltArea/1000)
	r.Torque = w.Step("T", "K · F · d", in.K*r.Preload*in.Diameter)
	r.GasketNow = w.Step("qa", "S / c", r.Stress/c)
	r.GasketLater = w.Step("qw", "(r · S · n · Ab - Fe · 1000) / Ag", (in.Retained*r.Stress*bolts-end)/in.Area)
	return r, nil
}

type bound struct {
	name   string
	stress float64
}

var sentence = map[string]string{
	"below_seating":             "The gasket would not seat. No torque may be issued without an engineer.",
	"below_operating":           "The gasket would not hold in service. No torque may be issued without an engineer.",
	"below_bolt_min":            "The bolts are loaded less than usual: they may lose their load.",
	"gasket_target_not_reached": "The gasket stress wanted is not reached.",
	"above_gasket_target":       "The gasket is pressed harder than wanted.",
}

// below compares with a slack of 1e-9 of the larger.
func below(a, b float64) bool { return a < b-1e-9*math.Max(math.Abs(a), math.Abs(b)) }
