// Package thermal works out fits made with heat or cold, and what temperature does to a preload. Lengths in mm,
// temperatures in °C. It must never know of tempering limits by itself: the limit temperature is an input.
package thermal

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

const absoluteZero = -273.15

// ShrinkInput is a hub to go over a shaft.
type ShrinkInput struct {
	Diameter     float64  `in:"diameter_mm" sym:"d" label:"Diameter of the fit" ok:">0" eg:"120"`
	Interference float64  `in:"interference_mm" sym:"i" label:"Largest interference, on diameter" ok:">=0" eg:"0.14"`
	Clearance    float64  `in:"clearance_mm" sym:"c" label:"Play wanted while it goes on" ok:">0" eg:"0.12"`
	Ambient      float64  `in:"ambient_C" sym:"t0" label:"Temperature of the parts" ok:">-273.15" eg:"18"`
	AlphaHub     float64  `in:"alpha_hub_per_K" sym:"αh" label:"Expansion of the hub" ok:">0" eg:"0.0000115"`
	HubLimit     float64  `in:"hub_limit_C" sym:"tl" label:"Hub no hotter than" ok:">-273.15" eg:"250"`
	AlphaShaft   *float64 `in:"alpha_shaft_per_K" sym:"αs" label:"Expansion of the shaft, if it may be cooled" ok:">0" eg:"0.0000115"`
	ShaftMin     *float64 `in:"shaft_min_C" sym:"ts" label:"Shaft no colder than" ok:">-273.15" eg:"-70"`
}

// ShrinkResult is how hot and how cold.
type ShrinkResult struct {
	Hub    float64 `out:"hub_C" sym:"th" label:"Heat the hub to"`
	Shaft  float64 `out:"shaft_C" sym:"tc" label:"Shaft at"`
	Mode   string  `out:"mode" label:"Way"`
	Growth float64 `out:"growth_mm" sym:"g" label:"Growth needed"`
}

// ShrinkFit gives the temperature at which a hub goes on, with the shaft cooled when heat alone would pass the hub's
// limit. Refused: cooling needed but not given, or past its limit. Source: linear expansion.
func ShrinkFit(w *working.Working, in ShrinkInput) (ShrinkResult, error) {
	if err := quantity.Limits(in); err != nil {
		return ShrinkResult{}, err
	}
	g := w.Step("g", "i + c", in.Interference+in.Clearance)
	hub := in.Ambient + g/(in.AlphaHub*in.Diameter)
	w.Warn("Hot and very cold metal burns. Wear gloves, keep flame from grease and lines, and know when the part " +
		"seizes: do not stop half way.")
	if quantity.AtMost(hub, in.HubLimit) {
		return ShrinkResult{Hub: w.Step("th", "t0 + g / (αh · d)", hub), Shaft: w.Step("tc", "t0", in.Ambient),
			Mode: "heat", Growth: g}, nil
	}
	if in.AlphaShaft == nil || in.ShaftMin == nil {
		return ShrinkResult{},
			quantity.Refuse("hub_limit_C", "Enter how far the shaft may be cooled, or accept less play.",
				"heat alone would need %s °C", quantity.Text(quantity.Significant(hub, 4)))
	}
	if in.HubLimit < in.Ambient {
		return ShrinkResult{}, quantity.Refuse("hub_limit_C", "Check both temperatures.",
			"is below the temperature of the parts")
	}
	r := ShrinkResult{Hub: w.Step("th", "tl", in.HubLimit), Mode: "heat_and_cool", Growth: g}
	r.Shaft = w.Step("tc", "t0 - (g - αh · d · (tl - t0)) / (αs · d)",
		in.Ambient-(g-in.AlphaHub*in.Diameter*(in.HubLimit-in.Ambient))/(*in.AlphaShaft*in.Diameter))
	if r.Shaft < *in.ShaftMin-1e-9 || r.Shaft < absoluteZero {
		return ShrinkResult{}, quantity.Refuse("shaft_min_C", "Accept less play, or ask the engineer.",
			"the shaft would have to be at %s °C", quantity.Text(quantity.Significant(r.Shaft, 4)))
	}
	return r, nil
}

// BearingInput is a bearing ring to be warmed.
type BearingInput struct {
	Bore         float64 `in:"bore_mm" sym:"d" label:"Bore" ok:">0" eg:"90"`
	Interference float64 `in:"interference_mm" sym:"i" label:"Largest interference, on diameter" ok:">=0" eg:"0.035"`
	Clearance    float64 `in:"clearance_mm" sym:"c" label:"Play wanted while it goes on" ok:">=0" eg:"0.03"`
	Ambient      float64 `in:"ambient_C" sym:"t0" label:"Temperature of the shaft" ok:">-273.15" eg:"18"`
	Alpha        float64 `in:"alpha_per_K" sym:"α" label:"Expansion of the ring" ok:">0" def:"0.000012"`
	Limit        float64 `in:"limit_C" sym:"tl" label:"Ring no hotter than" help:"110 is a usual caution; cage, seals and grease may allow less." ok:">-273.15" def:"110"`
}

// BearingResult is how hot.
type BearingResult struct {
	Temp    float64 `out:"temp_C" sym:"t" label:"Heat the ring to"`
	Within  bool    `out:"within_limit" label:"Within its limit"`
	AtLimit float64 `out:"clearance_at_limit_mm" sym:"cl" label:"Play at the limit"`
}

// BearingHeating gives the temperature at which a bearing ring goes on. Refused: a limit not above the shaft's
// temperature. Source: linear expansion.
func BearingHeating(w *working.Working, in BearingInput) (BearingResult, error) {
	if err := quantity.Limits(in); err != nil {
		return BearingResult{}, err
	}
	if in.Limit <= in.Ambient {
		return BearingResult{}, quantity.Refuse("limit_C", "Check both temperatures.",
			"is not above the temperature of the shaft")
	}
	r := BearingResult{Temp: w.Step("t", "t0 + (i + c) / (α · d)",
		in.Ambient+(in.Interference+in.Clearance)/(in.Alpha*in.Bore))}
	r.AtLimit = w.Step("cl", "α · d · (tl - t0) - i", in.Alpha*in.Bore*(in.Limit-in.Ambient)-in.Interference)
	if r.Within = quantity.AtMost(r.Temp, in.Limit); !r.Within {
		w.Warn("Hotter than the ring may get. Take less play, cool the shaft, or use oil injection.")
	}
	return r, nil
}

// WarmupInput is a body being heated or cooled.
type WarmupInput struct {
	Mode         string   `in:"mode" label:"Heated by" one:"power ambient" eg:"power"`
	Mass         float64  `in:"mass_kg" sym:"m" label:"Mass" ok:">0" eg:"38"`
	C            float64  `in:"c_J_per_kgK" sym:"cp" label:"Specific heat" ok:">0" eg:"480"`
	Start        float64  `in:"start_C" sym:"t1" label:"From" ok:">-273.15" eg:"18"`
	End          float64  `in:"end_C" sym:"t2" label:"To" ok:">-273.15" eg:"180"`
	Power        *float64 `in:"power_W" sym:"P" label:"Power of the heater" ok:">0" eg:"3500"`
	Loss         float64  `in:"loss_W_per_K" sym:"G" label:"Lost to the air" ok:">=0" def:"0"`
	Ambient      *float64 `in:"ambient_C" sym:"ta" label:"Air or oven at" ok:">-273.15" eg:"18"`
	H            *float64 `in:"h_W_m2K" sym:"h" label:"Heat transfer (oven, air)" ok:">0" eg:""`
	Area         *float64 `in:"area_m2" sym:"A" label:"Surface" ok:">0" eg:""`
	Volume       *float64 `in:"volume_m3" sym:"V" label:"Volume, for the check below" ok:">0" eg:""`
	Conductivity *float64 `in:"conductivity_W_mK" sym:"λ" label:"Conductivity, for the check below" ok:">0" eg:""`
}

// WarmupResult is how long.
type WarmupResult struct {
	Time   float64  `out:"time_s" sym:"t" label:"Time"`
	Tau    *float64 `out:"tau_s" sym:"τ" label:"Time constant"`
	Biot   *float64 `out:"biot" sym:"Bi" label:"Biot number"`
	Lumped *bool    `out:"lumped_ok" label:"Even temperature inside may be taken"`
}

// WarmupTime gives the time for a body of even temperature. Refused: an end that is never reached. Source: lumped heat
// balance.
func WarmupTime(w *working.Working, in WarmupInput) (WarmupResult, error) {
	if err := quantity.Limits(in); err != nil {
		return WarmupResult{}, err
	}
	need := func(key string, p *float64) error {
		if p == nil {
			return quantity.Refuse(key, "Enter it for this way of heating.", "is missing")
		}
		return nil
	}
	heat := in.Mass * in.C
	never := quantity.Refuse("end_C", "Check power, losses and temperatures.", "%s °C is never reached",
		quantity.Text(in.End))
	var r WarmupResult
	if in.Mode == "power" {
		if err := need("power_W", in.Power); err != nil {
			return r, err
		}
		if in.Loss == 0 {
			if r.Time = heat * (in.End - in.Start) / *in.Power; r.Time < 0 {
				return WarmupResult{}, never
			}
			w.Step("t", "m · cp · (t2 - t1) / P", r.Time)
			return r, nil
		}
		if err := need("ambient_C", in.Ambient); err != nil {
			return r, err
		}
		tau := w.Step("τ", "m · cp / G", heat/in.Loss)
		t, ok := logTime(tau, *in.Power/in.Loss-(in.End-*in.Ambient), *in.Power/in.Loss-(in.Start-*in.Ambient),
			in.End == in.Start)
		if !ok {
			return WarmupResult{}, never
		}
		r.Time, r.Tau = w.Step("t", "-1 · τ · ln((P / G - (t2 - ta)) / (P / G - (t1 - ta)))", t), &tau
		return r, nil
	}
	for _, x := range []struct {
		key string
		p   *float64
	}{{"h_W_m2K", in.H}, {"area_m2", in.Area}, {"ambient_C", in.Ambient}} {
		if err := need(x.key, x.p); err != nil {
			return r, err
		}
	}
	tau := w.Step("τ", "m · cp / (h · A)", heat/(*in.H**in.Area))
	t, ok := logTime(tau, in.End-*in.Ambient, in.Start-*in.Ambient, in.End == in.Start)
	if !ok {
		return WarmupResult{}, never
	}
	r.Time, r.Tau = w.Step("t", "τ · ln((t1 - ta) / (t2 - ta))", t), &tau
	if in.Volume != nil && in.Conductivity != nil {
		bi := w.Step("Bi", "h · V / A / λ", *in.H*(*in.Volume / *in.Area) / *in.Conductivity)
		ok := bi < 0.1
		r.Biot, r.Lumped = &bi, &ok
	}
	return r, nil
}

// logTime is −τ·ln(end/start) for distances from the final temperature; ok is false when the end is never reached.
func logTime(tau, end, start float64, same bool) (float64, bool) {
	if same {
		return 0, true
	}
	if start == 0 || end/start <= 0 {
		return 0, false
	}
	t := -tau * math.Log(end/start)
	return t, t >= 0 && quantity.Finite(t)
}

// Member is one clamped layer.
type Member struct {
	Length float64 `in:"length_mm" label:"Length" ok:">0"`
	Alpha  float64 `in:"alpha_per_K" label:"Expansion" ok:">=0"`
	Temp   float64 `in:"temp_C" label:"Temperature" ok:">-273.15"`
}

// PreloadInput is a tightened joint at another temperature.
type PreloadInput struct {
	Preload     float64  `in:"preload_N" sym:"F0" label:"Load when tightened" ok:">0" eg:"120000"`
	KBolt       float64  `in:"k_bolt_N_per_mm" sym:"kb" label:"Stiffness of the bolt" ok:">0" eg:"500000"`
	KMember     float64  `in:"k_member_N_per_mm" sym:"km" label:"Stiffness of the parts" ok:">0" eg:"2000000"`
	Assembly    float64  `in:"assembly_C" sym:"t0" label:"Tightened at" ok:">-273.15" eg:"20"`
	Bolt        float64  `in:"bolt_C" sym:"tb" label:"Bolt now at" ok:">-273.15" eg:"150"`
	BoltLength  float64  `in:"bolt_length_mm" sym:"Lb" label:"Bolt length in the grip" ok:">0" eg:"100"`
	AlphaBolt   float64  `in:"alpha_bolt_per_K" sym:"αb" label:"Expansion of the bolt" ok:">=0" eg:"0.000012"`
	Members     []Member `in:"members" label:"Clamped parts"`
	ERatioBolt  float64  `in:"e_ratio_bolt" sym:"eb" label:"Modulus hot over cold, bolt" ok:">0,<=1.5" def:"1"`
	ERatioParts float64  `in:"e_ratio_member" sym:"em" label:"Modulus hot over cold, parts" ok:">0,<=1.5" def:"1"`
}

// PreloadResult is the load at temperature.
type PreloadResult struct {
	Hot       float64 `out:"preload_hot_N" sym:"F" label:"Load at temperature"`
	Change    float64 `out:"change_N" sym:"ΔF" label:"Change"`
	Separated bool    `out:"separated" label:"The joint opens"`
	Mismatch  float64 `out:"mismatch_mm" sym:"u" label:"Parts grow more than the bolt by"`
}

// PreloadTemperature gives the preload after bolt and parts changed temperature; elastic only, no creep. Source:
// thermal change of preload of VDI 2230, written as compatibility of deformations.
func PreloadTemperature(w *working.Working, in PreloadInput) (PreloadResult, error) {
	if err := quantity.Limits(in); err != nil {
		return PreloadResult{}, err
	}
	if len(in.Members) == 0 {
		return PreloadResult{}, quantity.Refuse("members", "Enter the clamped parts.", "none given")
	}
	grow := 0.0
	for _, m := range in.Members {
		grow += m.Alpha * m.Length * (m.Temp - in.Assembly)
	}
	w.Calc("gm", "growth of the parts", "sum of expansion · length · warming", grow, quantity.Millimetre, "")
	r := PreloadResult{Mismatch: w.Step("u", "gm - αb · Lb · (tb - t0)",
		grow-in.AlphaBolt*in.BoltLength*(in.Bolt-in.Assembly))}
	raw := (in.Preload*(1/in.KBolt+1/in.KMember) + r.Mismatch) / (1/(in.KBolt*in.ERatioBolt) +
		1/(in.KMember*in.ERatioParts))
	r.Separated = raw <= 0
	r.Hot = w.Step("F", "max( 0 , (F0 · (1 / kb + 1 / km) + u) / (1 / (kb · eb) + 1 / (km · em)) )", math.Max(0, raw))
	r.Change = w.Step("ΔF", "F - F0", r.Hot-in.Preload)
	w.Take("Elastic only: no creep, no gasket that relaxes.")
	return r, nil
}
