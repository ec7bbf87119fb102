package fastener

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// StructuralPreloadInput asks for the least preload of a structural bolt.
type StructuralPreloadInput struct {
	Standard string  `in:"standard" label:"Rules" one:"en rcsc" eg:"en"`
	Grade    string  `in:"grade" label:"Grade" help:"8.8 or 10.9 (en); A325 or A490 (rcsc)." eg:"10.9"`
	As       float64 `in:"As_mm2" sym:"As" label:"Stress area" ok:">0" eg:"244.8"`
}

// StructuralPreloadResult is the preload; kips for rcsc only.
type StructuralPreloadResult struct {
	Preload float64  `out:"preload_kN" sym:"F" label:"Least preload"`
	Kip     *float64 `out:"preload_kip" sym:"Fk" label:"In kips"`
}

// StructuralPreload gives 70 % of the tensile strength on the stress area. For acceptance use the printed, rounded
// value of the ruling standard. Refused: other grades. Source: EN 1090-2, RCSC.
func StructuralPreload(w *working.Working, in StructuralPreloadInput) (StructuralPreloadResult, error) {
	if err := quantity.Limits(in); err != nil {
		return StructuralPreloadResult{}, err
	}
	strength, ok := map[string]float64{"en 8.8": 800, "en 10.9": 1000, "rcsc A325": 120 * ksi,
		"rcsc A490": 150 * ksi}[in.Standard+" "+in.Grade]
	if !ok {
		return StructuralPreloadResult{},
			quantity.Refuse("grade", "Choose 8.8 or 10.9 with en, A325 or A490 with rcsc.",
				"%q has no minimum preload there", in.Grade)
	}
	w.LookUp("Rm", "tensile strength", strength, quantity.Megapascal,
		map[string]string{"en": "EN 14399", "rcsc": "ASTM F3125"}[in.Standard])
	r := StructuralPreloadResult{Preload: w.Step("F", "0.7 · Rm · As / 1000", 0.7*strength*in.As/1000)}
	if in.Standard == "rcsc" {
		k, err := quantity.Convert(r.Preload, quantity.Kilonewton, "kip")
		if err != nil {
			return StructuralPreloadResult{}, err
		}
		r.Kip = &k
	}
	w.Take("For acceptance the printed, rounded value of the ruling standard counts.")
	return r, nil
}

// PretensionInput asks for a pretension from strength and area.
type PretensionInput struct {
	Tensile  float64  `in:"tensile_MPa" sym:"Rm" label:"Tensile strength" ok:">0" eg:"1000"`
	As       *float64 `in:"stress_area_mm2" sym:"As" label:"Stress area" help:"Or diameter and pitch." ok:">0" eg:""`
	Diameter *float64 `in:"diameter_mm" sym:"d" label:"Thread diameter" ok:">0" eg:"20"`
	Pitch    *float64 `in:"pitch_mm" sym:"P" label:"Pitch" ok:">0" eg:"2.5"`
	Frac     float64  `in:"frac" sym:"f" label:"Part of the strength" ok:">0,<=1" def:"0.7"`
}

// PretensionResult is the pretension.
type PretensionResult struct {
	Pretension float64 `out:"pretension_N" sym:"F" label:"Least pretension"`
	As         float64 `out:"stress_area_mm2" sym:"A" label:"Stress area"`
}

// MinPretension gives frac of the tensile strength on the stress area. Source: 70 % rule of EN 1090-2 and RCSC; stress
// area of ISO 898-1.
func MinPretension(w *working.Working, in PretensionInput) (PretensionResult, error) {
	if err := quantity.Limits(in); err != nil {
		return PretensionResult{}, err
	}
	var a float64
	switch {
	case in.As != nil:
		a = w.Step("A", "As", *in.As)
	case in.Diameter != nil && in.Pitch != nil:
		if *in.Pitch >= *in.Diameter/2 {
			return PretensionResult{}, quantity.Refuse("pitch_mm", "Check the thread.", "is half the diameter or more")
		}
		d := *in.Diameter - 0.938194**in.Pitch
		a = w.Step("A", "π / 4 · (d - 0.938194 · P) ^ 2", math.Pi/4*d*d)
	default:
		return PretensionResult{}, quantity.Refuse("stress_area_mm2", "Enter the stress area, or diameter and pitch.",
			"is missing")
	}
	return PretensionResult{As: a, Pretension: w.Step("F", "f · Rm · A", in.Frac*in.Tensile*a)}, nil
}

// PretensionTableInput asks a printed table.
type PretensionTableInput struct {
	Table string `in:"table" label:"Table" one:"en1090 aisc_metric" eg:"en1090"`
	Grade string `in:"grade" label:"Grade" help:"8.8 or 10.9 (en1090); A325M or A490M (aisc_metric)." eg:"10.9"`
	Size  string `in:"size" label:"Size" eg:"M20"`
}

// PretensionTableResult is the printed value.
type PretensionTableResult struct {
	Pretension float64 `out:"pretension_N" sym:"F" label:"Least pretension"`
}

var pretensionKN = map[string]map[string]float64{
	"en1090 8.8": {"M12": 47, "M16": 88, "M20": 137, "M22": 170, "M24": 198, "M27": 257, "M30": 314, "M36": 458},
	"en1090 10.9": {"M12": 59, "M16": 110, "M20": 172, "M22": 212, "M24": 247, "M27": 321, "M30": 393,
		"M36": 572},
	"aisc_metric A325M": {"M16": 91, "M20": 142, "M22": 176, "M24": 205, "M27": 267, "M30": 326, "M36": 475},
	"aisc_metric A490M": {"M16": 114, "M20": 179, "M22": 221, "M24": 257, "M27": 334, "M30": 408, "M36": 595},
}

// MinPretensionTable gives the printed minimum. Refused: anything not in the table. Source: EN 1090-2; AISC 360 metric
// table.
func MinPretensionTable(w *working.Working, in PretensionTableInput) (PretensionTableResult, error) {
	if err := quantity.Limits(in); err != nil {
		return PretensionTableResult{}, err
	}
	table, ok := pretensionKN[in.Table+" "+in.Grade]
	if !ok {
		return PretensionTableResult{}, quantity.Refuse("grade", "Choose a grade of that table.",
			"%q is not in the table", in.Grade)
	}
	v, ok := table[in.Size]
	if !ok {
		return PretensionTableResult{}, quantity.Refuse("size", "Ask the ruling standard.", "%q is not in the table",
			in.Size)
	}
	w.LookUp("Ft", "printed value", v, quantity.Kilonewton,
		map[string]string{"en1090": "EN 1090-2", "aisc_metric": "AISC 360"}[in.Table])
	return PretensionTableResult{Pretension: w.Step("F", "1000 · Ft", v*1000)}, nil
}

// IndicatorInput is a feeler check of an indicating washer.
type IndicatorInput struct {
	Gaps     int     `in:"gap_count" sym:"n" label:"Gaps of the washer" ok:">=3" eg:"5"`
	Refused  int     `in:"refused_count" sym:"r" label:"Gaps that refuse the feeler" ok:">=0" eg:"3"`
	Stage    string  `in:"stage" label:"Stage" one:"snug final" eg:"final"`
	Required float64 `in:"required_frac" sym:"f" label:"Part that must refuse" ok:">0,<=1" def:"0.5"`
}

// IndicatorResult is the verdict.
type IndicatorResult struct {
	Verdict   string `out:"verdict" label:"Verdict"`
	Required  int    `out:"required_refusals" sym:"R" label:"Must refuse"`
	AllClosed bool   `out:"all_closed" label:"All closed"`
}

// IndicatorGap judges a direct tension indicator. The feeler's thickness comes from the washer's standard (ASTM F959,
// EN 14399-9).
func IndicatorGap(w *working.Working, in IndicatorInput) (IndicatorResult, error) {
	if err := quantity.Limits(in); err != nil {
		return IndicatorResult{}, err
	}
	if in.Refused > in.Gaps {
		return IndicatorResult{}, quantity.Refuse("refused_count", "Count again.", "%d of %d gaps cannot refuse",
			in.Refused, in.Gaps)
	}
	r := IndicatorResult{Required: int(w.Step("R", "ceil( f · n )", math.Ceil(in.Required*float64(in.Gaps)-1e-9))),
		AllClosed: in.Refused == in.Gaps}
	enough := in.Refused >= r.Required
	switch {
	case in.Stage == "final" && enough:
		r.Verdict = "tight"
	case in.Stage == "final":
		r.Verdict = "not_tight"
	case enough:
		r.Verdict = "compressed_too_early"
	default:
		r.Verdict = "snug_ok"
	}
	return r, nil
}

// SlipInput is a slip-resistant connection.
type SlipInput struct {
	Method     string  `in:"method" label:"Rules" one:"en1993 aisc" eg:"en1993"`
	Pretension float64 `in:"pretension_N" sym:"Fp" label:"Pretension of each bolt" ok:">0" eg:"172000"`
	Friction   float64 `in:"friction" sym:"μ" label:"Slip factor of the faces" ok:">0,<=1" eg:"0.4"`
	Surfaces   int     `in:"surfaces" sym:"n" label:"Slip planes" ok:">=1" eg:"1"`
	Bolts      int     `in:"bolts" sym:"m" label:"Bolts" ok:">=1" def:"1"`
	Tension    float64 `in:"tension_N" sym:"Ft" label:"Tension on each bolt" ok:">=0" def:"0"`
	Ks         float64 `in:"ks" sym:"ks" label:"Hole factor (en1993)" ok:">0,<=1" def:"1.0"`
	Gamma      float64 `in:"gamma" sym:"γ" label:"Partial factor (en1993)" ok:">=1" def:"1.25"`
	Du         float64 `in:"du" sym:"Du" label:"Mean over least pretension (aisc)" ok:">0" def:"1.13"`
	Hf         float64 `in:"hf" sym:"hf" label:"Filler factor (aisc)" ok:">0" def:"1"`
	Phi        float64 `in:"phi" sym:"φ" label:"Resistance factor (aisc)" ok:">0,<=1" def:"1.0"`
}

// SlipResult is the resistance.
type SlipResult struct {
	Group   float64 `out:"group_N" sym:"R" label:"The group resists"`
	PerBolt float64 `out:"per_bolt_N" sym:"Rb" label:"Each bolt"`
}

// SlipResistance gives the slip resistance of a bolt group. Refused: no clamp left. Source: EN 1993-1-8 3.9; AISC 360
// J3.8 and J3.9.
func SlipResistance(w *working.Working, in SlipInput) (SlipResult, error) {
	if err := quantity.Limits(in); err != nil {
		return SlipResult{}, err
	}
	var r SlipResult
	if in.Method == "en1993" {
		r.PerBolt = w.Step("Rb", "ks · n · μ · (Fp - 0.8 · Ft) / γ",
			in.Ks*float64(in.Surfaces)*in.Friction*(in.Pretension-0.8*in.Tension)/in.Gamma)
	} else {
		r.PerBolt = w.Step("Rb", "φ · μ · Du · hf · Fp · n · (1 - Ft / (Du · Fp))",
			in.Phi*in.Friction*in.Du*in.Hf*in.Pretension*float64(in.Surfaces)*(1-in.Tension/(in.Du*in.Pretension)))
	}
	if r.PerBolt <= 0 {
		return SlipResult{}, quantity.Refuse("tension_N", "Use more or larger bolts.", "leaves no clamp")
	}
	r.Group = w.Step("R", "m · Rb", float64(in.Bolts)*r.PerBolt)
	return r, nil
}
