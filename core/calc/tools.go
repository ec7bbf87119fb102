package calc

import (
	"dynacor/core/fastener"
	"dynacor/core/preload"
	"dynacor/core/quantity"
	"dynacor/core/statistics"
	"dynacor/core/tool"
	"dynacor/core/working"
)

type rangeIn struct {
	FullScale float64 `in:"full_scale_Nm" sym:"FS" label:"Full scale" ok:">0" eg:"200"`
	Target    float64 `in:"target_torque_Nm" sym:"T" label:"Torque wanted" ok:">0" eg:"120"`
	MinFrac   float64 `in:"min_frac" sym:"f1" label:"Usable from this part" help:"A fifth by most; some sites ask for more." ok:"0..1" def:"0.2"`
	MaxFrac   float64 `in:"max_frac" sym:"f2" label:"to this part of full scale" ok:"0..1" def:"1.0"`
}
type rangeOut struct {
	Usable bool    `out:"usable" label:"May be used"`
	Frac   float64 `out:"target_frac" sym:"q" label:"Part of full scale"`
	Min    float64 `out:"min_Nm" sym:"Tmin" label:"Usable from"`
	Max    float64 `out:"max_Nm" sym:"Tmax" label:"Usable to"`
}

type rankRow struct {
	Name      string   `in:"name" label:"Wrench"`
	FullScale float64  `in:"full_scale_Nm" label:"Full scale" ok:">0"`
	Tol       float64  `in:"tol_pct" label:"Accuracy" ok:">=0,<100"`
	ScaleMin  *float64 `in:"scale_min_Nm" label:"Lowest mark" ok:">0"`
}
type rankIn struct {
	Target    float64   `in:"target_torque_Nm" sym:"T" label:"Torque wanted" ok:">0" eg:"120"`
	Wrenches  []rankRow `in:"wrenches" label:"Wrenches"`
	MinFrac   float64   `in:"min_frac" sym:"f1" label:"Usable from this part" ok:"0..1" def:"0.2"`
	MaxFrac   float64   `in:"max_frac" sym:"f2" label:"to this part of full scale" ok:"0..1" def:"1.0"`
	Preferred float64   `in:"preferred_frac" sym:"fp" label:"Best at this part" ok:">0,<=1" def:"0.6"`
}
type rankOut struct {
	Best     *string  `out:"best" label:"Take"`
	Order    []string `out:"order" label:"In this order"`
	Excluded []string `out:"excluded" label:"Not usable"`
}

type toleranceIn struct {
	Setting float64 `in:"setting_Nm" sym:"S" label:"Set" ok:">0" eg:"120"`
	Tol     float64 `in:"tol_pct" sym:"x" label:"Accuracy" ok:">=0,<100" eg:"4"`
	Basis   string  `in:"basis" label:"Percent of" one:"of_setting of_true" def:"of_setting"`
}
type toleranceOut struct {
	Low  float64 `out:"low_Nm" sym:"tl" label:"True torque, lowest"`
	High float64 `out:"high_Nm" sym:"th" label:"True torque, highest"`
}

type micrometerIn struct {
	Target    float64 `in:"target_Nm" sym:"T" label:"Torque wanted" ok:">0" eg:"87"`
	Min       float64 `in:"main_min_Nm" sym:"s1" label:"Lowest line of the main scale" ok:">=0" eg:"40"`
	Max       float64 `in:"main_max_Nm" sym:"s2" label:"Highest line" ok:">0" eg:"200"`
	Step      float64 `in:"main_step_Nm" sym:"step" label:"Between two lines" ok:">0" eg:"10"`
	Turn      float64 `in:"thimble_turn_Nm" sym:"turn" label:"One turn of the grip" ok:">0" eg:"10"`
	Divisions int     `in:"thimble_divisions" sym:"marks" label:"Marks around the grip" ok:">=1" eg:"10"`
}
type micrometerOut struct {
	Set     float64 `out:"set_Nm" sym:"S" label:"Setting"`
	Visible float64 `out:"visible_line_Nm" sym:"V" label:"Main line last uncovered"`
	Mark    int     `out:"thimble_division" label:"Mark of the grip on the line"`
	Turns   int     `out:"turns_past_line" label:"Full turns past the line"`
	Error   float64 `out:"error_Nm" sym:"e" label:"Off by"`
	OnLine  bool    `out:"on_line" label:"Exactly on a main line"`
}

func init() {
	add(detail{group: gTools, name: "multiplier", title: "Torque multiplier",
		words:  "planetary, gearbox, torque booster, reaction arm",
		source: "statics of the gear housing, machine-element textbooks", drawing: "multiplier",
		limits: "The measured ratio of the very tool counts; losses take torque, not turns."}, tool.Multiplier)
	add(detail{group: gTools, name: "multiplier_setting", title: "Wrench setting for a multiplier",
		words: "ratio, set the wrench, planetary", source: "definition of the ratio", drawing: "multiplier",
		limits: "Measured ratio, not the gear ratio on the plate."}, tool.MultiplierSetting)
	add(detail{group: gTools, name: "adapter_setting", title: "Extension or crowfoot on a wrench",
		words: "crowfoot, open-end adapter, lever, offset, dog bone, cranked", source: "statics", drawing: "adapter",
		limits: "Square to the wrench and pulled at the middle of the grip; no pipe on the handle, no " +
			"stacked adapters."}, tool.AdapterSetting)
	add(detail{group: gTools, name: "adapter_actual", title: "Torque behind a crowfoot",
		words: "crowfoot, what did I really pull, adapter", source: "statics", drawing: "adapter",
		limits: "Square to the wrench and pulled at the middle of the grip."}, tool.AdapterActual)
	add(detail{group: gTools, name: "extension_setting", title: "Straight extension",
		words: "extension bar, long socket, twist, wind-up", source: "torsion of a round bar",
		limits: "On the axis of the nut: no change of torque, only of an angle read at the handle."},
		tool.ExtensionSetting)
	add(detail{group: gTools, name: "drive_chain", title: "Do the pieces fit",
		words: "drive size, adapter, socket, weakest, rating, 3/4 inch square", source: "own rule",
		limits: "Ratings from the pieces themselves; a pipe on the handle is not a piece.",
		example: map[string]any{"pieces": []any{map[string]any{"name": "wrench", "drive_out_mm": "12.7",
			"rating_Nm": "300", "torque_share": "1"}, map[string]any{"name": "reducer", "drive_in_mm": "12.7",
			"drive_out_mm": "19.05", "rating_Nm": "500", "torque_share": "1"},
			map[string]any{"name": "socket 46", "drive_in_mm": "19.05", "rating_Nm": "900", "torque_share": "1"}}}},
		tool.DriveChain)
	add(detail{group: gTools, name: "micrometer_setting", title: "Set the scale",
		words: "main line, ring, grip scale, thimble, how to set", source: "own rule", room: "tool",
		limits: "Main lines must be whole turns of the grip apart.", drawing: "scale"},
		func(w *working.Working, in micrometerIn) (micrometerOut, error) {
			if err := quantity.Limits(in); err != nil {
				return micrometerOut{}, err
			}
			c, err := tool.MicrometerSetting(w, in.Target, in.Min, in.Max, in.Step, in.Turn, in.Divisions)
			return micrometerOut{c.Set, c.VisibleLine, c.Mark, c.TurnsPast, c.Error, c.OnLine}, err
		})
	add(detail{group: gTools, name: "wrench_range", title: "Is the wrench in range",
		words: "20 percent, full scale, too small, usable", source: "ISO 6789-1 (20 % as practice)", room: "tool",
		limits: "Never below the lowest mark of the maker."},
		func(w *working.Working, in rangeIn) (rangeOut, error) {
			r, err := tool.WrenchRange(w, in.FullScale, in.Target, in.MinFrac, in.MaxFrac)
			return rangeOut{r.Usable, r.TargetFrac, r.Min, r.Max}, err
		})
	add(detail{group: gTools, name: "wrench_rank", title: "Which wrench", words: "choose a wrench, best tool, rank",
		source: "own rule", room: "tool", limits: "Accuracy first, then the middle of the range, then the smaller.",
		example: map[string]any{"wrenches": []any{map[string]any{"name": "W-12", "full_scale_Nm": "60", "tol_pct": "4"},
			map[string]any{"name": "W-20", "full_scale_Nm": "200", "tol_pct": "3"},
			map[string]any{"name": "W-31", "full_scale_Nm": "400", "tol_pct": "4", "scale_min_Nm": "80"}}}},
		func(w *working.Working, in rankIn) (rankOut, error) {
			if err := quantity.Limits(in); err != nil {
				return rankOut{}, err
			}
			var list []tool.Candidate
			for _, r := range in.Wrenches {
				c := tool.Candidate{Name: r.Name, FullScale: r.FullScale, TolPct: r.Tol}
				if r.ScaleMin != nil {
					c.ScaleMin = *r.ScaleMin
				}
				list = append(list, c)
			}
			order, excluded, err := tool.Rank(in.Target, list, in.MinFrac, in.MaxFrac, in.Preferred)
			out := rankOut{Order: order, Excluded: excluded}
			if len(order) > 0 {
				out.Best = &order[0]
			}
			w.Take("Finer accuracy first, then nearer to the preferred part of full scale, then the smaller wrench.")
			return out, err
		})
	add(detail{group: gTools, name: "range_policy", title: "Where in the range",
		words: "range 80 to 105, low middle high, policy", source: "own rule",
		limits: "Always on a mark that lies inside the range."}, tool.RangePolicy)

	example := []any{map[string]any{"pressure_MPa": "10", "torque_Nm": "640"},
		map[string]any{"pressure_MPa": "30", "torque_Nm": "1930"},
		map[string]any{"pressure_MPa": "50", "torque_Nm": "3210"},
		map[string]any{"pressure_MPa": "70", "torque_Nm": "4480"}}
	chart := map[string]any{"chart": example}
	add(detail{group: gHydraulic, name: "hydraulic_pressure", title: "Pump pressure",
		words:  "pump pressure, hydraulic wrench, bar for torque, chart",
		source: "linear interpolation on the tool's own chart", drawing: "pump", example: chart,
		limits: "The chart of the very tool; never outside it, past the pump or the tool. Rounded down."},
		tool.HydraulicPressure)
	add(detail{group: gHydraulic, name: "hydraulic_loosening", title: "Can it loosen",
		words: "break loose, hydraulic, undo, seized", source: "own rule", drawing: "pump", example: chart,
		limits: "The factor is experience; a seized nut may need more than any tool gives."}, tool.HydraulicLoosening)
	add(detail{group: gHydraulic, name: "tensioner_pressure", title: "Tensioner pressure",
		words:  "bolt tensioner, stretch with oil, transfer loss",
		source: "definition; default losses are a rule of thumb of the trade",
		limits: "The maker's loss curve governs. Clamp length at least one diameter.", thread: true},
		tool.TensionerPressure)

	add(detail{group: gTrust, name: "tolerance_band", title: "What a setting may mean",
		words: "accuracy, plus minus 4 percent, true torque", source: "ISO 6789-1", room: "tool",
		limits: "As good as the certificate."},
		func(w *working.Working, in toleranceIn) (toleranceOut, error) {
			if err := quantity.Limits(in); err != nil {
				return toleranceOut{}, err
			}
			lo, hi, err := tool.ToleranceBand(w, in.Setting, in.Tol, in.Basis == "of_true")
			return toleranceOut{lo, hi}, err
		})
	add(detail{group: gTrust, name: "range_guarantee", title: "Can the range be kept",
		words: "accuracy against range, narrow tolerance, guarantee", source: "own rule on ISO 6789-1 accuracy",
		limits: "The share takes the error as spread evenly."}, tool.RangeGuarantee)
	add(detail{group: gTrust, name: "certificate_correction", title: "Correct by the certificate",
		words: "calibration, indicated, true value", source: "linear interpolation",
		limits: "Between the points of the certificate only.",
		example: map[string]any{"points": []any{map[string]any{"indicated_Nm": "40", "true_Nm": "40.6"},
			map[string]any{"indicated_Nm": "120", "true_Nm": "121.1"},
			map[string]any{"indicated_Nm": "200", "true_Nm": "200.9"}}}}, tool.CertificateCorrection)
	add(detail{group: gTrust, name: "repeat_readings", title: "Judge repeat readings",
		words: "check the wrench, five pulls, calibration check", source: "deviation formula of ISO 6789-1",
		limits: "Not the complete procedure of ISO 6789-2.",
		example: map[string]any{"steps": []any{map[string]any{"set_Nm": "40",
			"readings_Nm": "40.4 40.8 41.1 40.2 40.9"},
			map[string]any{"set_Nm": "120", "readings_Nm": "119.1 120.3 121.8 118.9 120.6"}}}}, tool.RepeatReadings)
	add(detail{group: gTrust, name: "uncertainty_combine", title: "Uncertainty budget",
		words: "GUM, expanded uncertainty, coverage", source: "JCGM 100 (GUM)",
		limits: "Independent contributions in one unit.",
		example: map[string]any{"components": []any{map[string]any{"value": "0.8", "kind": "expanded", "k": "2"},
			map[string]any{"value": "0.5", "kind": "resolution"}, map[string]any{"value": "0.4", "kind": "rect"}}}},
		tool.UncertaintyCombine)

	add(detail{group: gAngle, name: "turn_of_nut", title: "Turn of the nut",
		words:  "turn of nut, half a turn, structural, angle after snug",
		source: "RCSC specification; EN 1090-2 combined method", thread: true,
		limits: "After snug in firm contact. Tolerances differ between editions: they are inputs."}, preload.TurnOfNut)
	add(detail{group: gAngle, name: "tube_fitting_turns", title: "Tube fitting",
		words: "twin ferrule, finger tight, one and a quarter turns, compression fitting", source: "trade practice",
		drawing: "clock", limits: "The maker's instruction governs; other kinds of fitting only with the " +
			"maker's turns."}, preload.TubeFittingTurns)
	add(detail{group: gAngle, name: "turn_marks", title: "Degrees, turns, flats",
		words: "flats, quarter turn, clock, mark the nut", source: "definition", drawing: "clock",
		limits: "Flats of a hexagon."}, preload.TurnMarks)
	add(detail{group: gAngle, name: "angle_from_load", title: "Angle for a load",
		words: "how far to turn, after snug, degrees", source: "VDI 2230 compliances",
		limits: "Elastic, fully snug before the angle is counted."}, preload.AngleFromLoad)
	add(detail{group: gAngle, name: "load_from_angle", title: "Load from an angle",
		words: "what load after so many degrees", source: "VDI 2230 compliances",
		limits: "Elastic: no yield, no gasket."}, preload.LoadFromAngle)
	add(detail{group: gAngle, name: "angle_window", title: "Torque and angle window",
		words: "torque angle check, green window", source: "own rule", limits: "Limits included."}, preload.AngleWindow)
	add(detail{group: gAngle, name: "torque_angle_analysis", title: "Read a torque–angle curve",
		words:  "trace, cross thread, bottomed out, yield, already tight, curve",
		source: "own rule: local slopes by least squares", drawing: "trace",
		limits:  "A suspicion is a reason to look, not a proof.",
		example: map[string]any{"points": sampleTrace()}}, preload.TorqueAngleAnalysis)

	add(detail{group: gStretch, name: "bolt_stretch", title: "Stretch of a stepped bolt",
		words: "elongation, stiffness, segments", source: "VDI 2230 segment compliance",
		limits: "Elastic; add the engaged ends.",
		example: map[string]any{"segments": []any{map[string]any{"length_mm": "72", "area_mm2": "452"},
			map[string]any{"length_mm": "42", "area_mm2": "353"}}}}, preload.BoltStretch)
	add(detail{group: gStretch, name: "stud_stretch", title: "Stretch of a stud", words: "elongation, grip, stud bolt",
		source: "VDI 2230 segment compliance; ASME PCC-1", limits: "Elastic; mid-nut to mid-nut.", thread: true},
		preload.StudStretch)
	add(detail{group: gStretch, name: "stretch_reading", title: "Load from a length",
		words: "micrometer, measured elongation, bolt load", source: "definition",
		limits: "Both lengths of the same bolt; a stretch over 2 % is refused."}, preload.StretchReading)
	add(detail{group: gStretch, name: "stretch_target_reading", title: "Length to pull to",
		words: "target length, elongation gauge", source: "definition",
		limits: "Elastic; a stretch over 2 % is refused."}, preload.StretchTarget)

	add(detail{group: gSteel, name: "structural_preload", title: "Preload of a structural bolt",
		words: "70 percent, A325, A490, 10.9, preloaded", source: "EN 1090-2, RCSC",
		limits: "For acceptance the printed, rounded value of the ruling standard."}, fastener.StructuralPreload)
	add(detail{group: gSteel, name: "min_pretension", title: "Least pretension", words: "pretension, 0.7 of tensile",
		source: "70 % rule of EN 1090-2 and RCSC", limits: "New bolts of the stated strength."}, fastener.MinPretension)
	add(detail{group: gSteel, name: "min_pretension_table", title: "Printed pretension",
		words: "table, minimum pretension", source: "EN 1090-2; AISC 360", limits: "Listed sizes and grades only."},
		fastener.MinPretensionTable)
	add(detail{group: gSteel, name: "indicator_gap", title: "Indicating washer",
		words: "feeler, squirt washer, DTI, direct tension", source: "ASTM F959, EN 14399-9",
		limits: "The feeler's thickness comes from the washer's standard."}, fastener.IndicatorGap)
	add(detail{group: gSteel, name: "inspection_sample", title: "Which bolts to inspect",
		words: "sample, 10 percent, arbitration", source: "own spread; 10 % with at least 2 is the habit of RCSC",
		limits: "The project specification governs."}, statistics.InspectionSample)
	add(detail{group: gSteel, name: "slip_resistance", title: "Slip resistance",
		words: "friction grip, shear, slip critical", source: "EN 1993-1-8 3.9; AISC 360 J3.8, J3.9",
		limits: "For the engineer; faces prepared as assumed."}, fastener.SlipResistance)
}

// sampleTrace is an even pull for the first sheet: run-down, a bend, a straight line.
func sampleTrace() []any {
	var out []any
	for i := range 31 {
		a := float64(i) * 3
		t := 6.0
		if a > 30 {
			t = 6 + (a-30)*2
		}
		out = append(out, map[string]any{"angle_deg": a, "torque_Nm": t})
	}
	return out
}
