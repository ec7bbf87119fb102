package calc

import (
	"dynacor/core/fastener"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

const (
	gUnits     = "Units and scales"
	gParts     = "Threads and parts"
	gTorque    = "Torque and load"
	gLubricant = "Lubricant"
	gGasket    = "Gasket"
	gOrder     = "Stages and orders"
	gTools     = "Wrench and adapter"
	gHydraulic = "Hydraulic"
	gTrust     = "Tool accuracy"
	gAngle     = "Angle and turns"
	gStretch   = "Stretch"
	gSteel     = "Structural bolts"
	gCheck     = "Checks and audits"
	gAlign     = "Alignment and fit-up"
	gPressure  = "Pressure and tests"
	gHeat      = "Heat and fits"
	gHub       = "Shaft locks"
	gTime      = "Time and crews"
	gStats     = "Statistics"
)

type convertIn struct {
	Value float64 `in:"value" sym:"v" label:"Value" eg:"320"`
	From  string  `in:"from" label:"From" help:"A unit code such as N_m, ft_lbf, bar, psi, kN." eg:"ft_lbf"`
	To    string  `in:"to" label:"To" eg:"N_m"`
}
type convertOut struct {
	Value float64 `out:"value" sym:"w" label:"Value"`
}

type roundIn struct {
	Value      float64  `in:"value" sym:"v" label:"Value" ok:">0" eg:"87.3"`
	Graduation float64  `in:"graduation" sym:"g" label:"One mark" ok:">0" eg:"2.5"`
	Max        *float64 `in:"max" sym:"m" label:"Never past" ok:">0" eg:""`
}
type roundOut struct {
	Rounded   float64 `out:"rounded" sym:"r" label:"On the scale"`
	Deviation float64 `out:"deviation_pct" sym:"e" label:"Off by"`
	Limited   bool    `out:"limited" label:"Held back by the maximum"`
}

type parseIn struct {
	Quantity string `in:"quantity" label:"Quantity" one:"torque pressure force length temperature angle" eg:"torque"`
	Text     string `in:"text" label:"As written" eg:"60 in-lb"`
	Default  string `in:"default_unit" label:"Unit when none is written" opt:"true"`
}
type parseOut struct {
	Canonical     float64 `out:"canonical" sym:"c" label:"Means"`
	CanonicalUnit string  `out:"canonical_unit" label:"In"`
	Value         float64 `out:"value" label:"Number as written"`
	Unit          string  `out:"unit" label:"Unit as written"`
}

type threadIn struct {
	Text string `in:"text" label:"Thread as written" eg:"1 1/8-8"`
}
type threadOut struct {
	Diameter float64  `out:"diameter_mm" sym:"d" label:"Diameter"`
	Pitch    float64  `out:"pitch_mm" sym:"P" label:"Pitch"`
	TPI      *float64 `out:"tpi" label:"Threads per inch"`
	System   string   `out:"system" label:"System"`
	Series   string   `out:"series" label:"Series"`
	Listed   bool     `out:"listed" label:"A listed pair"`
	LeftHand bool     `out:"left_hand" label:"Left-hand"`
}

type geometryIn struct {
	System     string   `in:"system" label:"System" one:"iso un" def:"iso"`
	DiameterMM *float64 `in:"diameter_mm" sym:"d" label:"Diameter (metric)" ok:">0" eg:"20"`
	PitchMM    *float64 `in:"pitch_mm" sym:"P" label:"Pitch (metric)" help:"Empty: coarse." ok:">0" eg:""`
	DiameterIn *float64 `in:"diameter_in" label:"Diameter (inch)" ok:">0" eg:""`
	TPI        *float64 `in:"tpi" label:"Threads per inch" ok:">0" eg:""`
}
type geometryOut struct {
	As       float64  `out:"As_mm2" sym:"As" label:"Stress area"`
	D        float64  `out:"d_mm" sym:"d" label:"Diameter"`
	Pitch    float64  `out:"pitch_mm" sym:"P" label:"Pitch"`
	D2       float64  `out:"d2_mm" sym:"d2" label:"Pitch diameter"`
	D1       float64  `out:"d1_mm" sym:"d1" label:"Minor diameter, nut"`
	D3       float64  `out:"d3_mm" sym:"d3" label:"Root diameter, bolt"`
	Ds       float64  `out:"ds_mm" sym:"ds" label:"Stress diameter"`
	H        float64  `out:"H_mm" sym:"H" label:"Height of the triangle"`
	A3       float64  `out:"A3_mm2" sym:"A3" label:"Root area"`
	Lead     float64  `out:"lead_angle_deg" sym:"φ" label:"Lead angle"`
	AsInches *float64 `out:"As_in2" sym:"Ai" label:"Stress area"`
}

type hexIn struct {
	Family     string   `in:"family" label:"Family" one:"iso iso_structural old_metric un_regular un_heavy" eg:"iso"`
	DiameterMM *float64 `in:"diameter_mm" sym:"d" label:"Thread diameter (metric)" ok:">0" eg:"24"`
	DiameterIn *float64 `in:"diameter_in" sym:"di" label:"Thread diameter (inch)" ok:">0" eg:""`
}
type hexOut struct {
	Flats   float64  `out:"across_flats_mm" sym:"s" label:"Across flats"`
	Bearing float64  `out:"bearing_outer_mm" sym:"dw" label:"Bearing face, outside"`
	Source  string   `out:"bearing_source" label:"Bearing face from"`
	FlatsIn *float64 `out:"across_flats_in" sym:"si" label:"Across flats"`
}

type holeIn struct {
	Series     string   `in:"series" label:"Series" one:"fine medium coarse inch_flange inch_structural" eg:"medium"`
	DiameterMM *float64 `in:"diameter_mm" sym:"d" label:"Thread diameter (metric)" ok:">0" eg:"24"`
	DiameterIn *float64 `in:"diameter_in" sym:"di" label:"Thread diameter (inch)" ok:">0" eg:""`
}
type holeOut struct {
	Hole float64 `out:"hole_mm" sym:"D" label:"Hole"`
}

type bearingIn struct {
	Outer float64 `in:"outer_mm" sym:"o" label:"Face, outside" help:"With a washer: the smaller of face and washer." ok:">0" eg:"33.61"`
	Hole  float64 `in:"hole_mm" sym:"h" label:"Hole" help:"With a washer: the larger of the two holes." ok:">0" eg:"26"`
}
type bearingOut struct {
	Mean      float64 `out:"mean_mm" sym:"Dm" label:"Mean diameter"`
	Effective float64 `out:"effective_mm" sym:"De" label:"For even pressure, for information"`
	Area      float64 `out:"area_mm2" sym:"A" label:"Area"`
}

type strengthIn struct {
	System     string   `in:"system" label:"System" one:"iso un" def:"iso"`
	Grade      string   `in:"grade" label:"Grade" eg:"8.8"`
	DiameterMM *float64 `in:"diameter_mm" label:"Diameter (metric)" ok:">0" eg:"20"`
	DiameterIn *float64 `in:"diameter_in" label:"Diameter (inch)" ok:">0" eg:""`
}
type strengthOut struct {
	Yield   float64  `out:"yield_MPa" sym:"Re" label:"Yield"`
	Tensile float64  `out:"tensile_MPa" sym:"Rm" label:"Tensile strength"`
	Proof   *float64 `out:"proof_MPa" sym:"Sp" label:"Proof stress"`
}

// millimetres takes the diameter from the key that the system or family asks for.
func millimetres(inch bool, mm, in *float64) (float64, error) {
	if inch {
		if in == nil {
			return 0, quantity.Refuse("diameter_in", "Enter the diameter in inches.", "is missing")
		}
		return *in * 25.4, nil
	}
	if mm == nil {
		return 0, quantity.Refuse("diameter_mm", "Enter the diameter.", "is missing")
	}
	return *mm, nil
}

func optional(v float64) *float64 {
	if v == 0 {
		return nil
	}
	return &v
}

func init() {
	add(detail{group: gUnits, name: "unit_convert", title: "Convert a unit",
		words: "N·m to ft·lbf, bar to psi, kilos, units, conversion", source: "ISO 80000, IEEE/ASTM SI 10",
		room:   "quantity",
		limits: "A temperature is not a temperature difference; units of two kinds are refused."},
		func(w *working.Working, in convertIn) (convertOut, error) {
			v, err := quantity.Convert(in.Value, quantity.Unit(in.From), quantity.Unit(in.To))
			return convertOut{w.Step("w", "exact definitions of inch, pound and standard gravity", v)}, err
		})
	add(detail{group: gUnits, name: "round_to_graduation", title: "Round to the scale",
		words: "nearest mark, settable, graduation, rounding", source: "own rule", room: "quantity",
		limits: "Half a step goes up unless the maximum forbids."},
		func(w *working.Working, in roundIn) (roundOut, error) {
			limit := 0.0
			if in.Max != nil {
				limit = *in.Max
			}
			if err := quantity.Limits(in); err != nil {
				return roundOut{}, err
			}
			r, err := quantity.RoundToGraduation(in.Value, in.Graduation, limit)
			if err != nil {
				return roundOut{}, err
			}
			return roundOut{w.Step("r", "nearest mark, never past the maximum", r.Rounded),
				w.Step("e", "100 · (r - v) / v", r.DeviationPct), r.Limited}, nil
		})
	add(detail{group: gUnits, name: "parse_quantity", title: "Read what is written",
		words: "60 in-lb, what does it mean, kg as torque", source: "own rule", room: "quantity",
		limits: "Bare kg or lb is not a torque; one comma with three digits is ambiguous and refused."},
		func(w *working.Working, in parseIn) (parseOut, error) {
			if err := quantity.Limits(in); err != nil {
				return parseOut{}, err
			}
			r, err := quantity.Parse(quantity.Kind(in.Quantity), in.Text, quantity.Unit(in.Default))
			return parseOut{w.Step("c", "as written, in the base unit", r.Canonical), string(r.CanonUnit), r.Value,
				string(r.Unit)}, err
		})
	add(detail{group: gParts, name: "parse_thread", title: "Read a thread",
		words: "M24, 3/4-10 UNC, designation, thread size", source: "ISO 261/262, ASME B1.1", room: "fastener",
		limits: "Metric M3 to M100, inch 1/4 to 4 in and number sizes; pitches past the standards' are taken for " +
			"typing errors."},
		func(w *working.Working, in threadIn) (threadOut, error) {
			t, err := fastener.ParseThread(in.Text)
			if err != nil {
				return threadOut{}, &quantity.Refusal{Field: "text", Why: reason(err), Remedy: remedy(err)}
			}
			w.LookUp("d", "diameter", t.DiameterMM, quantity.Millimetre, "designation")
			w.LookUp("P", "pitch", t.PitchMM, quantity.Millimetre,
				map[fastener.System]string{fastener.ISO: "ISO 261/262", fastener.UN: "ASME B1.1"}[t.System])
			return threadOut{t.DiameterMM, t.PitchMM, optional(t.TPI), string(t.System), t.Series, t.Listed,
				t.LeftHand}, nil
		})
	add(detail{group: gParts, name: "thread_geometry", title: "Thread measures and stress area",
		words: "pitch diameter, root, stress area, tensile area, As", source: "ISO 724, ISO 898-1, ASME B1.1",
		room: "fastener", thread: true, drawing: "thread",
		limits: "60° profile, one start. For inch bolts above about 690 MPa and over 1 in the standard knows " +
			"another area, which is not used."}, geometry)
	add(detail{group: gParts, name: "hex_size", title: "Wrench size",
		words:  "across flats, spanner, socket size, hexagon, which socket",
		source: "ISO 272, ISO 4014, EN 14399-4, ASME B18.2.1/B18.2.2", room: "fastener", thread: true,
		limits: "Listed sizes only; an estimated bearing face is flagged: measure the real part when it matters."},
		func(w *working.Working, in hexIn) (hexOut, error) {
			if err := quantity.Limits(in); err != nil {
				return hexOut{}, err
			}
			inch := in.Family == "un_regular" || in.Family == "un_heavy"
			d, err := millimetres(inch, in.DiameterMM, in.DiameterIn)
			if err != nil {
				return hexOut{}, err
			}
			h, err := fastener.HexSize(fastener.HexFamily(in.Family), quantity.Length(d))
			if err != nil {
				return hexOut{}, err
			}
			out := hexOut{Flats: w.Put("s", "across flats", h.AcrossFlatsMM, quantity.Millimetre, working.LookedUp,
				"ISO 272, EN 14399-4, ASME B18.2"), Bearing: h.BearingOuterMM, Source: "estimate"}
			if h.FromTable {
				out.Source = "table"
			} else {
				w.Warn("The bearing face is an estimate. Measure the part when it matters.")
			}
			w.Put("dw", "bearing face", h.BearingOuterMM, quantity.Millimetre, working.LookedUp, out.Source)
			if inch {
				s := h.AcrossFlatsMM / 25.4
				out.FlatsIn = &s
			}
			return out, nil
		})
	add(detail{group: gParts, name: "clearance_hole", title: "Clearance hole", words: "bolt hole, drill, through hole",
		source: "ISO 273; ASME B16.5 practice; RCSC", room: "fastener", thread: true, limits: "Listed sizes only."},
		func(w *working.Working, in holeIn) (holeOut, error) {
			if err := quantity.Limits(in); err != nil {
				return holeOut{}, err
			}
			d, err := millimetres(in.Series == "inch_flange" || in.Series == "inch_structural", in.DiameterMM,
				in.DiameterIn)
			if err != nil {
				return holeOut{}, err
			}
			v, err := fastener.ClearanceHole(in.Series, quantity.Length(d))
			return holeOut{w.Put("D", "hole", float64(v), quantity.Millimetre, working.LookedUp, "ISO 273")}, err
		})
	add(detail{group: gParts, name: "bearing_geometry", title: "Bearing face",
		words: "under the nut, washer, friction diameter, Dm", source: "ISO 16047", room: "fastener", thread: true,
		limits: "The mean diameter is used for torque throughout."},
		func(w *working.Working, in bearingIn) (bearingOut, error) {
			b, err := fastener.BearingGeometry(w, quantity.Length(in.Outer), quantity.Length(in.Hole))
			return bearingOut{b.Mean, b.Effective, b.Area}, err
		})
	add(detail{group: gParts, name: "material_strength", title: "Bolt strength",
		words:  "grade, 8.8, 10.9, B7, yield, tensile, proof, property class",
		source: "ISO 898-1, ISO 3506-1, ASTM A193/A320/F3125, SAE J429", room: "fastener", thread: true,
		limits: "Least values at room temperature. Not to be used hot; past the listed sizes ask for the certificate."},
		func(w *working.Working, in strengthIn) (strengthOut, error) {
			if err := quantity.Limits(in); err != nil {
				return strengthOut{}, err
			}
			d, err := millimetres(in.System == "un", in.DiameterMM, in.DiameterIn)
			if err != nil {
				return strengthOut{}, err
			}
			s, err := fastener.MaterialStrength(fastener.System(in.System), in.Grade, quantity.Length(d))
			if err != nil {
				return strengthOut{}, err
			}
			w.LookUp("Re", "yield", s.Yield, quantity.Megapascal, s.Source)
			w.LookUp("Rm", "tensile strength", s.Tensile, quantity.Megapascal, s.Source)
			w.Take("Room temperature.")
			return strengthOut{s.Yield, s.Tensile, optional(s.Proof)}, nil
		})
}

func geometry(w *working.Working, in geometryIn) (geometryOut, error) {
	if err := quantity.Limits(in); err != nil {
		return geometryOut{}, err
	}
	d, err := millimetres(in.System == "un", in.DiameterMM, in.DiameterIn)
	if err != nil {
		return geometryOut{}, err
	}
	t := fastener.Thread{System: fastener.System(in.System), DiameterMM: d}
	switch {
	case in.System == "un" && in.TPI == nil:
		return geometryOut{}, quantity.Refuse("tpi", "Enter the threads per inch.", "is missing")
	case in.System == "un":
		t.PitchMM = 25.4 / *in.TPI
	case in.PitchMM != nil:
		t.PitchMM = *in.PitchMM
	default:
		pitch, ok := fastener.CoarsePitch(quantity.Length(d))
		if !ok {
			return geometryOut{}, quantity.Refuse("pitch_mm", "Enter the pitch.",
				"is missing, and %s mm has no coarse pitch in the table", quantity.Text(d))
		}
		t.PitchMM = float64(pitch)
	}
	if in.System == "un" || in.PitchMM == nil {
		w.LookUp("d", "diameter", d, quantity.Millimetre, "")
		w.LookUp("P", "pitch", t.PitchMM, quantity.Millimetre, "ISO 261, ASME B1.1")
	}
	g, err := t.Geometry(w)
	if err != nil {
		return geometryOut{}, err
	}
	out := geometryOut{As: g.As, D: g.D, Pitch: g.Pitch, D2: g.D2, D1: g.D1, D3: g.D3, Ds: g.Ds, H: g.H, A3: g.A3,
		Lead: g.LeadAngleDeg}
	if in.System == "un" {
		a := w.Step("Ai", "As / 645.16", g.As/645.16)
		out.AsInches = &a
	}
	return out, nil
}

func reason(err error) string {
	if r, ok := quantity.RefusalIn(err); ok {
		return r.Why
	}
	return err.Error()
}

func remedy(err error) string {
	if r, ok := quantity.RefusalIn(err); ok {
		return r.Remedy
	}
	return ""
}
