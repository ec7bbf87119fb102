package calc

import (
	"strings"

	"dynacor/core/hub"
	"dynacor/core/measure"
	"dynacor/core/quantity"
	"dynacor/core/schedule"
	"dynacor/core/sequence"
	"dynacor/core/statistics"
	"dynacor/core/thermal"
	"dynacor/core/working"
)

type stagingIn struct {
	Scheme     string   `in:"scheme" label:"Stages" one:"20_60_100 30_70_100 50_80_100 thirds snug_final two_bolt" eg:"30_70_100"`
	Target     float64  `in:"target_Nm" sym:"T" label:"Final torque" ok:">0" eg:"410"`
	Graduation float64  `in:"graduation_Nm" sym:"g" label:"One mark on the tool" ok:">0" eg:"5"`
	Max        *float64 `in:"max_Nm" label:"Never past" ok:">0" eg:""`
	Snug       float64  `in:"snug_pct" label:"Snug at (snug, then final)" ok:"5..50" def:"20"`
}
type stagingOut struct {
	Stages  []float64 `out:"stages_Nm" label:"Set, one after another"`
	Percent []float64 `out:"stage_pct" label:"Percent of the final"`
	Pre     string    `out:"pre_pass" label:"Before"`
	Check   int       `out:"check_passes" label:"Check rounds at least"`
}

type visitingIn struct {
	Pattern string `in:"pattern" label:"Pattern" one:"cross group clockwise alternate_two" eg:"cross"`
	N       int    `in:"n" sym:"n" label:"Bolts" ok:"2..120" eg:"16"`
	Start   int    `in:"start" label:"Start at bolt" ok:">=1" def:"1"`
	Reverse bool   `in:"reverse" label:"Backwards, for loosening" def:"false"`
	Groups  int    `in:"groups" label:"Quarters or eighths" help:"4 or 8, for group." def:"4"`
	Moves   *int   `in:"moves" label:"Moves, for two bolts" eg:""`
}
type visitingOut struct {
	Order []int `out:"order" label:"Order"`
	Chalk []int `out:"chalk" label:"Chalk on bolt 1, 2, 3 …"`
}

type orderCheckIn struct {
	N     int   `in:"n" label:"Bolts" ok:"1..1000" eg:"8"`
	Order []int `in:"order" label:"Order as written" eg:"1 5 3 7 2 6 4 8"`
}
type orderCheckOut struct {
	Valid    bool `out:"valid" label:"Each bolt once"`
	Opposite int  `out:"opposite_pairs" label:"Pairs straight across"`
	MinJump  int  `out:"min_jump" label:"Smallest jump"`
}

type checkPassIn struct {
	Passes [][]float64 `in:"passes" label:"Turn of each nut, a row for each round, degrees"`
	Limit  float64     `in:"limit_deg" label:"A nut has moved above" ok:">=0" def:"0"`
	Max    int         `in:"max_passes" label:"Rounds at most" ok:">=1" eg:"4"`
}
type checkPassOut struct {
	Verdict  string `out:"verdict" label:"Verdict"`
	Counts   []int  `out:"moved_counts" label:"Nuts that moved, each round"`
	Complete *int   `out:"complete_pass" label:"First quiet round"`
	Last     []int  `out:"moved_last" label:"Moved in the last round"`
}

type gapIn struct {
	Gaps     []float64 `in:"gaps_mm" label:"Gaps, clockwise from the top" help:"4, 8, 12 or 16 stations." ok:">=0" eg:"3.0 3.2 3.5 3.2"`
	Diameter float64   `in:"face_diameter_mm" sym:"D" label:"Measured on a circle of" ok:">0" eg:"300"`
	Limit    float64   `in:"limit_mm" sym:"L" label:"Allowed spread" ok:">=0" eg:"0.4"`
}
type gapOut struct {
	Spread   float64  `out:"max_min_mm" sym:"s" label:"Widest less narrowest"`
	Pass     bool     `out:"pass" label:"Within the limit"`
	Mean     float64  `out:"mean_mm" sym:"m" label:"Mean gap"`
	Tilt     float64  `out:"tilt_amplitude_mm" sym:"a" label:"Half the swing of the tilt"`
	Angle    float64  `out:"tilt_angle_deg" sym:"τ" label:"Tilt"`
	Widest   *float64 `out:"widest_direction_deg" label:"Widest towards"`
	Station  *int     `out:"widest_station" label:"Nearest station"`
	Residual float64  `out:"residual_rms_mm" label:"Not flat by"`
}

func init() {
	add(detail{group: gOrder, name: "staging", title: "Stages of a torque", words: "stages, passes, 30 70 100, rounds",
		source: "own rule; schools of practice", room: "sequence",
		limits: "Each stage on a mark of the tool; two stages on one mark are refused."},
		func(w *working.Working, in stagingIn) (stagingOut, error) {
			if err := quantity.Limits(in); err != nil {
				return stagingOut{}, err
			}
			limit := 0.0
			if in.Max != nil {
				limit = *in.Max
			}
			s, err := sequence.Staging(w, in.Scheme, in.Target, in.Graduation, limit, in.Snug)
			w.Take(s.Scheme.Why)
			return stagingOut{s.Nm, s.Percents, s.Scheme.PrePass, s.Scheme.CheckPasses}, err
		})
	add(detail{group: gOrder, name: "visiting_order", title: "Order of the bolts",
		words:  "star pattern, criss-cross, which bolt next, numbering, quarters, chalk",
		source: "ASME PCC-1 legacy pattern for multiples of four; own spread rule otherwise", room: "sequence",
		drawing: "order", limits: "Holes numbered clockwise seen from the nuts."},
		func(w *working.Working, in visitingIn) (visitingOut, error) {
			if err := quantity.Limits(in); err != nil {
				return visitingOut{}, err
			}
			if in.Groups == 0 {
				return visitingOut{}, quantity.Refuse("groups", "Choose 4 or 8.", "is 0")
			}
			o := sequence.Options{Start: in.Start, Reverse: in.Reverse, Groups: in.Groups}
			if in.Moves != nil {
				o.Moves = *in.Moves
			}
			r, err := sequence.Visiting(sequence.Pattern(in.Pattern), in.N, o)
			if err != nil {
				return visitingOut{}, err
			}
			w.Take(sequence.Explain(sequence.Pattern(in.Pattern), in.N, in.Groups))
			return visitingOut{r.Visit, r.Chalk}, nil
		})
	add(detail{group: gOrder, name: "splice_order", title: "Order of a splice",
		words: "plate, rows and columns, stiffest part, structural", source: "rule of RCSC and EN 1090-2",
		limits: "Holes numbered row by row, left to right."}, sequence.SpliceOrder)
	add(detail{group: gOrder, name: "spiral_order", title: "Order from the middle",
		words: "spiral, cover, cylinder head, rectangle, grid", source: "own rule",
		limits: "A grid, or the places of up to 200 bolts."}, sequence.SpiralOrder)
	add(detail{group: gOrder, name: "simultaneous_order", title: "Several tools at once",
		words: "two wrenches, four tensioners, together", source: "own rule on the cross order",
		limits: "The tools must divide the bolts."}, sequence.SimultaneousOrder)
	add(detail{group: gOrder, name: "faces_rounds", title: "Several faces in rounds",
		words: "multi-port valve, faces, round robin", source: "trade practice",
		limits: "Up to 12 faces; a round is one stage on every face."}, sequence.FacesRounds)
	add(detail{group: gOrder, name: "cardinal_order", title: "Four quarters first",
		words: "provisional bolts, right angles, heavy part, cardinal", source: "trade practice", drawing: "order",
		limits: "For bolts that carry a part while the others go in."}, sequence.CardinalOrder)
	add(detail{group: gOrder, name: "order_check", title: "Check a written order",
		words: "hand-chosen order, drawing order, is it complete", source: "own rule", room: "sequence",
		limits: "Judges completeness and spread, not the reason for an order."},
		func(_ *working.Working, in orderCheckIn) (orderCheckOut, error) {
			if err := quantity.Limits(in); err != nil {
				return orderCheckOut{}, err
			}
			v, o, m := sequence.Check(in.N, in.Order)
			return orderCheckOut{v, o, m}, nil
		})

	add(detail{group: gCheck, name: "check_pass", title: "Check rounds",
		words: "nut still turns, until no nut moves, final round", source: "ASME PCC-1", room: "measure",
		limits:  "Full torque, bolt to bolt.",
		example: map[string]any{"passes": "5 0 3 0 0 8 0 0\n0 0 2 0 0 0 0 0\n0 0 0 0 0 0 0 0"}},
		func(w *working.Working, in checkPassIn) (checkPassOut, error) {
			if err := quantity.Limits(in); err != nil {
				return checkPassOut{}, err
			}
			r, err := measure.CheckPass(in.Passes, quantity.Angle(in.Limit), in.Max)
			w.Take("A round counts only when every nut was tried and none turned.")
			return checkPassOut{r.Verdict, r.MovedCounts, r.CompletePass, r.MovedLast}, err
		})
	add(detail{group: gCheck, name: "breakaway_audit", title: "Restart torque audit",
		words: "audit, check torque, breakaway, inspection", source: "own rule",
		limits: "A restart torque is not the load; it shows what stands out."}, measure.BreakawayAudit)
	add(detail{group: gCheck, name: "acceptance_window", title: "Acceptance window",
		words: "from 60 to 90 percent, window, break torque", source: "own rule",
		limits: "Rounded inward: rounding never widens it."}, measure.AcceptanceWindow)
	add(detail{group: gCheck, name: "break_torque_window", title: "Effort window",
		words: "valve stem, turning effort, break torque, gland", source: "own rule",
		limits: "Says which way, not how far."}, measure.BreakWindow)
	add(detail{group: gCheck, name: "gland_step", title: "Next turn of a gland nut",
		words: "adjust and re-check, packing, stem", source: "own rule: straight line through the last two tries",
		limits: "A proposal; feel governs.",
		example: map[string]any{"history": []any{map[string]any{"gland_angle_deg": "0", "measured_Nm": "22"},
			map[string]any{"gland_angle_deg": "15", "measured_Nm": "28"}}}}, measure.GlandStep)
	add(detail{group: gCheck, name: "rule_of_thumb", title: "Rule of thumb", words: "thumb, loops, count from size",
		source: "the site's own", limits: "Only inside the sizes it was made for; labelled as a rule of thumb."},
		measure.RuleOfThumb)

	add(detail{group: gAlign, name: "gap_tilt", title: "Gap and tilt",
		words: "flange gap, parallel, feeler, which way does it lean", source: "first harmonic by least squares",
		room: "measure", drawing: "gap", limits: "4, 8, 12 or 16 stations, evenly spread."},
		func(w *working.Working, in gapIn) (gapOut, error) {
			g, err := measure.GapTilt(w, in.Gaps, quantity.Length(in.Diameter), quantity.Length(in.Limit))
			return gapOut{g.MaxMin, g.Pass, g.Mean, g.TiltAmplitude, g.TiltAngleDeg, g.WidestDeg, g.WidestStation,
				g.ResidualRMS}, err
		})
	add(detail{group: gAlign, name: "gap_spread", title: "Gap at any number of points",
		words: "parallel, five points, gap readings", source: "first harmonic by least squares", drawing: "gap",
		limits: "Three points or more, evenly spread."}, measure.GapSpread)
	add(detail{group: gAlign, name: "axis_offset", title: "Offset of two shafts",
		words: "coupling alignment, rim dial, shafts, sag", source: "rim alignment geometry",
		limits: "One plane of rim readings: offset, not angle."}, measure.AxisOffset)
	add(detail{group: gAlign, name: "rim_shift", title: "Step at a flange rim",
		words: "offset of flanges, high low, shift the pipe", source: "geometry",
		limits: "Four readings a quarter apart. A common step cannot be shifted away."}, measure.RimShift)
	add(detail{group: gAlign, name: "runout", title: "Runout", words: "TIR, dial, wobble, eccentric",
		source: "first harmonic by least squares", limits: "Evenly spread readings of one turn."}, measure.Runout)
	add(detail{group: gAlign, name: "equality", title: "Two sides equal",
		words: "equal gap, thread length, overhang, same on both sides", source: "definition",
		limits: "Two measures of the same thing."}, measure.Equality)
	add(detail{group: gAlign, name: "thread_projection", title: "Stud past the nuts",
		words: "threads showing, stud length, projection", source: "geometry", limits: "Full nuts on both ends."},
		measure.ThreadProjection)
	add(detail{group: gAlign, name: "ovality", title: "Out of round", words: "tube end, oval, roundness, diameters",
		source: "definition", limits: "Several angles in one plane. Look at squareness and burrs as well."},
		measure.Ovality)
	add(detail{group: gAlign, name: "squareness_diagonals", title: "Square by diagonals",
		words: "frame, 3 4 5, diagonal, anchors, layout", source: "geometry",
		limits: "Opposite sides equal: see the closing error."}, measure.Squareness)
	add(detail{group: gAlign, name: "level_slope", title: "Level", words: "spirit level, slope, shim, reversal",
		source: "reversal", limits: "Read, turn the level end for end, read again."}, measure.LevelSlope)
	add(detail{group: gAlign, name: "deflection", title: "Deflection of a push-on joint",
		words: "pipe angle, sideways shift, restrained joint", source: "geometry",
		limits: "The maker states the permitted angle."}, measure.Deflection)
	add(detail{group: gAlign, name: "straight_run", title: "Straight pipe at a meter",
		words: "upstream, downstream, diameters, flow meter", source: "multiples of the meter's maker or standard",
		limits: "Without bends or valves in between."}, measure.StraightRun)
	add(detail{group: gAlign, name: "insertion_depth", title: "Depth of a probe",
		words: "insertion meter, saddle, how deep", source: "geometry", limits: "Square to the pipe."},
		measure.InsertionDepth)
	add(detail{group: gAlign, name: "socket_insertion", title: "Depth of a push-on joint",
		words: "spigot, mark the pipe, socket", source: "geometry", limits: "The maker states the gap."},
		measure.SocketInsertion)
	add(detail{group: gAlign, name: "clock_position", title: "Place on the clock face",
		words: "hole position, slot, six o'clock, half a turn apart, phase", source: "definition", drawing: "clock",
		limits: "Seen from the tool's side."}, measure.ClockPosition)
	add(detail{group: gAlign, name: "position_drift", title: "Drift while tightening",
		words: "part moves, axial position, allow for", source: "own rule",
		limits: "The same parts, tightened the same way."}, measure.PositionDrift)

	add(detail{group: gHeat, name: "shrink_fit", title: "Shrink fit",
		words: "how hot for the coupling, heat the hub, dry ice", source: "linear expansion", drawing: "shrink",
		limits: "The limit temperature comes from the material and what is near."}, thermal.ShrinkFit)
	add(detail{group: gHeat, name: "bearing_heating", title: "Heat a bearing",
		words: "how hot for the bearing, induction heater, bearing ring", source: "linear expansion", drawing: "shrink",
		limits: "110 °C is a usual caution; cage, seals and grease may allow less."}, thermal.BearingHeating)
	add(detail{group: gHeat, name: "warmup_time", title: "Time to warm up", words: "oven, heater, cooling, how long",
		source: "lumped heat balance", limits: "Even temperature inside (Biot number below 0.1)."}, thermal.WarmupTime)
	add(detail{group: gHeat, name: "preload_temperature", title: "Load when hot",
		words:  "hot joint, expansion, loses load, aluminium",
		source: "VDI 2230 thermal change, as compatibility of deformations",
		limits: "Elastic only; no creep, no gasket.",
		example: map[string]any{"members": []any{map[string]any{"length_mm": "60", "alpha_per_K": "0.000012",
			"temp_C": "150"}, map[string]any{"length_mm": "40", "alpha_per_K": "0.000023", "temp_C": "150"}}}},
		thermal.PreloadTemperature)

	add(detail{group: gHub, name: "shaft_lock", title: "Shaft lock",
		words:  "shrink disc, taper ring, locking assembly, transmitted torque",
		source: "wedge statics (cone clutch theory), machine-element textbooks",
		limits: "The maker's catalogue governs. Clean and dry or oiled as it says."}, hub.ShaftLock)
	add(detail{group: gHub, name: "hub_check", title: "Will the hub take it", words: "hub stress, hoop, bore pressure",
		source: "Lamé thick cylinder", limits: "Plain round hub; the shape factor comes from the lock's maker."},
		hub.Check)
	add(detail{group: gHub, name: "lock_plan", title: "Tightening a shaft lock",
		words: "around, increments, shrink disc order", source: "trade practice",
		limits: "Around the circle, never across."}, hub.Plan)
	add(detail{group: gHub, name: "taper_bush_drift", title: "Drive-on of a taper",
		words: "taper bush, sleeve, drive up, push-off", source: "geometry", limits: "Clean, seated taper."},
		hub.TaperBushDrift)

	add(detail{group: gTime, name: "joint_duration", title: "Time for a joint",
		words: "how long, duration, plan a shift", source: "sum of the site's own times",
		limits: "As good as the times put in.",
		example: map[string]any{"methods": []any{map[string]any{"name": "wrench", "seconds_per_fastener": "25",
			"setup_s": "120", "move_s": "10"}, map[string]any{"name": "check", "seconds_per_fastener": "12",
			"setup_s": "30", "move_s": "8"}},
			"passes": []any{map[string]any{"method": "wrench"}, map[string]any{"method": "wrench"},
				map[string]any{"method": "wrench"}, map[string]any{"method": "check"}}}}, schedule.JointDuration)
	add(detail{group: gTime, name: "crew_schedule", title: "Who does what when",
		words: "crews, tools shared, plan, outage", source: "list scheduling (Graham)",
		limits: "A good plan, not a proved best.",
		example: map[string]any{"tasks": []any{map[string]any{"id": "open", "duration_min": "40"},
			map[string]any{"id": "clean", "duration_min": "30", "after": "open"},
			map[string]any{"id": "close", "duration_min": "55", "after": "clean", "tools": "pump"},
			map[string]any{"id": "other", "duration_min": "60", "tools": "pump"}},
			"tools": []any{map[string]any{"name": "pump", "count": "1"}}}}, schedule.CrewSchedule)
	add(detail{group: gTime, name: "layer_count", title: "Parts of a stacked frame",
		words: "profiles, layers, posts, pins, count", source: "counting", limits: "Every layer alike."},
		schedule.LayerCount)

	add(detail{group: gStats, name: "joint_stats", title: "Statistics of readings",
		words: "mean, standard deviation, cpk, scatter", source: "form of ISO 22514; ISO 2602",
		limits: "Readings of like joints; few readings say little."}, statistics.JointStats)
	add(detail{group: gStats, name: "gauge_rr", title: "Gauge study",
		words:  "repeatability, reproducibility, msa, operators",
		source: "ANOVA method of measurement-system analysis textbooks; ISO 5725-2 ideas",
		limits: "A full crossed study.",
		example: map[string]any{"data": strings.Join([]string{"10.1 10.2\n12.0 12.1\n11.1 11.0",
			"10.3 10.2\n12.2 12.1\n11.2 11.3"}, "\n\n")}}, statistics.GaugeRR)
}
