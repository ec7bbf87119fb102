package preload

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// Segment is a length of bolt with one cross-section.
type Segment struct {
	Length float64 `in:"length_mm" label:"Length" ok:">0"`
	Area   float64 `in:"area_mm2" label:"Area" ok:">0"`
}

// BoltStretchInput is a bolt of several cross-sections under load.
type BoltStretchInput struct {
	Load     float64   `in:"load_N" sym:"F" label:"Load" ok:">0" eg:"150000"`
	E        float64   `in:"E_GPa" sym:"E" label:"Young's modulus" ok:">0" eg:"205"`
	Segments []Segment `in:"segments" label:"Lengths under load" help:"Add half a nut, or half a diameter of engaged thread, at each end."`
}

// BoltStretchResult is what the load does.
type BoltStretchResult struct {
	Stretch float64 `out:"stretch_mm" sym:"f" label:"Stretch"`
	K       float64 `out:"k_N_per_mm" sym:"k" label:"Stiffness"`
	Stress  float64 `out:"stress_max_MPa" sym:"σ" label:"Highest stress"`
}

// BoltStretch gives stretch and stiffness of a stepped bolt. Source: VDI 2230 segment compliance.
func BoltStretch(w *working.Working, in BoltStretchInput) (BoltStretchResult, error) {
	if err := quantity.Limits(in); err != nil {
		return BoltStretchResult{}, err
	}
	if len(in.Segments) == 0 {
		return BoltStretchResult{}, quantity.Refuse("segments", "Enter the lengths of the bolt.", "none given")
	}
	sum, least := 0.0, math.Inf(1)
	for _, s := range in.Segments {
		sum += s.Length / s.Area
		least = math.Min(least, s.Area)
	}
	w.Calc("Σ", "lengths over areas, 1/mm", "sum of length / area", sum, "", "")
	w.Calc("A", "smallest area", "", least, "mm2", "")
	return BoltStretchResult{Stretch: w.Step("f", "F / (E · 1000) · Σ", in.Load/(in.E*1000)*sum),
		K: w.Step("k", "E · 1000 / Σ", in.E*1000/sum), Stress: w.Step("σ", "F / A", in.Load/least)}, nil
}

// StudStretchInput is a stud with shank, free thread and engaged ends.
type StudStretchInput struct {
	Load        float64 `in:"load_N" sym:"F" label:"Load" ok:">0" eg:"150000"`
	E           float64 `in:"E_GPa" sym:"E" label:"Young's modulus" ok:">0" eg:"205"`
	ShankLength float64 `in:"shank_length_mm" sym:"ls" label:"Shank in the grip, length" ok:">=0" eg:"60"`
	ShankArea   float64 `in:"shank_area_mm2" sym:"As" label:"Shank, area" ok:">0" eg:"452"`
	ThreadLen   float64 `in:"thread_length_mm" sym:"lt" label:"Free thread in the grip, length" ok:">=0" eg:"30"`
	ThreadArea  float64 `in:"thread_area_mm2" sym:"At" label:"Thread, area" ok:">0" eg:"353"`
	Diameter    float64 `in:"diameter_mm" sym:"d" label:"Diameter" ok:">0" eg:"24"`
	End1        float64 `in:"end_frac_1" sym:"e1" label:"First end, part of a diameter" ok:">=0" def:"0.5"`
	End2        float64 `in:"end_frac_2" sym:"e2" label:"Second end, part of a diameter" ok:">=0" def:"0.5"`
	OnShank     bool    `in:"end_1_on_shank" label:"The first end is a head" def:"false"`
}

// StudStretchResult is stretch and stiffness over the effective length.
type StudStretchResult struct {
	Stretch float64 `out:"stretch_mm" sym:"f" label:"Stretch"`
	Length  float64 `out:"effective_length_mm" sym:"L" label:"Effective length"`
	K       float64 `out:"k_N_per_mm" sym:"k" label:"Stiffness"`
}

// StudStretch gives stretch and stiffness with the engaged ends counted in part. Refused: neither shank nor free
// thread. Source: VDI 2230 segment compliance; ASME PCC-1 bolt elongation (mid-nut to mid-nut).
func StudStretch(w *working.Working, in StudStretchInput) (StudStretchResult, error) {
	if err := quantity.Limits(in); err != nil {
		return StudStretchResult{}, err
	}
	if in.ShankLength+in.ThreadLen <= 0 {
		return StudStretchResult{}, quantity.Refuse("thread_length_mm", "Enter the grip.",
			"shank and free thread are both zero")
	}
	onShank, onThread := in.ShankLength, in.ThreadLen+in.End2*in.Diameter
	formula := "ls / As + (lt + (e1 + e2) · d) / At"
	if in.OnShank {
		onShank += in.End1 * in.Diameter
		formula = "(ls + e1 · d) / As + (lt + e2 · d) / At"
	} else {
		onThread += in.End1 * in.Diameter
	}
	sum := w.Calc("Σ", "lengths over areas, 1/mm", formula, onShank/in.ShankArea+onThread/in.ThreadArea, "", "")
	return StudStretchResult{Length: w.Step("L", "ls + lt + (e1 + e2) · d", onShank+onThread),
		Stretch: w.Step("f", "F / (E · 1000) · Σ", in.Load/(in.E*1000)*sum),
		K:       w.Step("k", "E · 1000 / Σ", in.E*1000/sum)}, nil
}

// StretchReadingInput is a length measured before and after tightening.
type StretchReadingInput struct {
	Ref        float64  `in:"length_ref_mm" sym:"L0" label:"Length before" ok:">0" eg:"150"`
	RefTemp    float64  `in:"temp_ref_C" sym:"t0" label:"Temperature then" ok:">-273.15" eg:"20"`
	Now        float64  `in:"length_now_mm" sym:"L1" label:"Length now" ok:">0" eg:"150.22"`
	NowTemp    float64  `in:"temp_now_C" sym:"t1" label:"Temperature now" ok:">-273.15" eg:"24"`
	Alpha      float64  `in:"alpha_per_K" sym:"α" label:"Thermal expansion" ok:">=0" eg:"0.0000115"`
	K          float64  `in:"k_N_per_mm" sym:"k" label:"Stiffness of the bolt" ok:">0" eg:"650000"`
	Area       float64  `in:"stress_area_mm2" sym:"As" label:"Stress area" ok:">0" eg:"353"`
	Target     *float64 `in:"target_load_N" sym:"Ft" label:"Load wanted" ok:">0" eg:"140000"`
	Resolution float64  `in:"resolution_mm" sym:"r" label:"One step of the gauge" ok:">0" def:"0.01"`
}

// StretchReadingResult is the load that the reading means.
type StretchReadingResult struct {
	Load       float64  `out:"load_N" sym:"F" label:"Load in the bolt"`
	Stretch    float64  `out:"stretch_mm" sym:"f" label:"Stretch by load"`
	Thermal    float64  `out:"thermal_mm" sym:"ft" label:"Of it by warmth"`
	Stress     float64  `out:"stress_MPa" sym:"σ" label:"Stress"`
	Percent    *float64 `out:"percent_of_target" sym:"q" label:"Percent of the load wanted"`
	Resolution float64  `out:"load_resolution_N" sym:"Fr" label:"One step of the gauge means"`
}

// StretchReading turns a measured length into load; a shorter bolt gives a negative load. Refused: a stretch over 2 %
// of the length.
func StretchReading(w *working.Working, in StretchReadingInput) (StretchReadingResult, error) {
	if err := quantity.Limits(in); err != nil {
		return StretchReadingResult{}, err
	}
	r := StretchReadingResult{Thermal: w.Step("ft", "α · L0 · (t1 - t0)", in.Alpha*in.Ref*(in.NowTemp-in.RefTemp))}
	r.Stretch = w.Step("f", "L1 - L0 - ft", in.Now-in.Ref-r.Thermal)
	if math.Abs(r.Stretch) > 0.02*in.Ref {
		return StretchReadingResult{},
			quantity.Refuse("length_now_mm", "Measure again; check that both lengths are of the same bolt.",
				"differs by more than 2 %%")
	}
	r.Load = w.Step("F", "k · f", in.K*r.Stretch)
	r.Stress = w.Step("σ", "F / As", r.Load/in.Area)
	if in.Target != nil {
		q := w.Step("q", "100 · F / Ft", 100*r.Load / *in.Target)
		r.Percent = &q
	}
	r.Resolution = w.Step("Fr", "k · r", in.K*in.Resolution)
	return r, nil
}

// StretchTargetInput asks for the reading to pull to.
type StretchTargetInput struct {
	Load    float64 `in:"load_N" sym:"F" label:"Load wanted" ok:">0" eg:"140000"`
	K       float64 `in:"k_N_per_mm" sym:"k" label:"Stiffness of the bolt" ok:">0" eg:"650000"`
	Ref     float64 `in:"length_ref_mm" sym:"L0" label:"Length before" ok:">0" eg:"150"`
	RefTemp float64 `in:"temp_ref_C" sym:"t0" label:"Temperature then" ok:">-273.15" eg:"20"`
	NowTemp float64 `in:"temp_now_C" sym:"t1" label:"Temperature now" ok:">-273.15" eg:"20"`
	Alpha   float64 `in:"alpha_per_K" sym:"α" label:"Thermal expansion" ok:">=0" eg:"0.0000115"`
}

// StretchTargetResult is the reading to pull to.
type StretchTargetResult struct {
	Target  float64 `out:"length_target_mm" sym:"L1" label:"Pull until the gauge reads"`
	Stretch float64 `out:"stretch_mm" sym:"f" label:"Stretch by load"`
	Thermal float64 `out:"thermal_mm" sym:"ft" label:"Growth by warmth"`
}

// StretchTarget gives the length at which the load is reached. Refused: a stretch over 2 % of the length.
func StretchTarget(w *working.Working, in StretchTargetInput) (StretchTargetResult, error) {
	if err := quantity.Limits(in); err != nil {
		return StretchTargetResult{}, err
	}
	r := StretchTargetResult{Stretch: w.Step("f", "F / k", in.Load/in.K)}
	if r.Stretch > 0.02*in.Ref {
		return StretchTargetResult{}, quantity.Refuse("load_N", "Check load and stiffness.",
			"would stretch the bolt by more than 2 %%")
	}
	r.Thermal = w.Step("ft", "α · L0 · (t1 - t0)", in.Alpha*in.Ref*(in.NowTemp-in.RefTemp))
	r.Target = w.Step("L1", "L0 + f + ft", in.Ref+r.Stretch+r.Thermal)
	return r, nil
}
