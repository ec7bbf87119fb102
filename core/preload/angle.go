package preload

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// TurnOfNutInput asks for the angle of a structural bolt after snug (or after the torque step).
type TurnOfNutInput struct {
	Method    string  `in:"method" label:"Method" one:"rcsc en1090_combined" eg:"rcsc"`
	Length    float64 `in:"length_mm" sym:"L" label:"Length" help:"rcsc: bolt from under the head to its end. en1090_combined: thickness of all parts with washers." ok:">0" eg:"90"`
	Diameter  float64 `in:"diameter_mm" sym:"d" label:"Bolt diameter" ok:">0" eg:"20"`
	SlopeHead float64 `in:"slope_head_ratio" sym:"s1" label:"Slope under the head" help:"Rise over run against square; over 1/20 a tapered washer is needed." ok:"0..1" def:"0"`
	SlopeNut  float64 `in:"slope_nut_ratio" sym:"s2" label:"Slope under the nut" ok:"0..1" def:"0"`
	Normal    float64 `in:"normal_limit_ratio" label:"A face counts as sloped above" ok:">=0" def:"0"`
	Minus     float64 `in:"tolerance_minus_deg" sym:"tm" label:"Tolerance down" ok:">=0" def:"30"`
	Plus      float64 `in:"tolerance_plus_deg" sym:"tp" label:"Tolerance up" ok:">=0" def:"30"`
}

// TurnOfNutResult is the angle with its window.
type TurnOfNutResult struct {
	Angle  float64 `out:"angle_deg" sym:"θ" label:"Turn the nut by"`
	Turns  float64 `out:"turns" sym:"n" label:"Turns"`
	Min    float64 `out:"min_angle_deg" sym:"θl" label:"At least"`
	Max    float64 `out:"max_angle_deg" sym:"θh" label:"At most"`
	Sloped int     `out:"sloped_faces" label:"Sloped faces"`
}

// TurnOfNut gives the angle after snug by length over diameter and sloped faces. Refused: slopes over 1/20, lengths
// that need a test. Source: turn-of-nut table of the RCSC specification; combined method of EN 1090-2. Tolerances
// differ between editions.
func TurnOfNut(w *working.Working, in TurnOfNutInput) (TurnOfNutResult, error) {
	if err := quantity.Limits(in); err != nil {
		return TurnOfNutResult{}, err
	}
	var r TurnOfNutResult
	for _, s := range []struct {
		key string
		v   float64
	}{{"slope_head_ratio", in.SlopeHead}, {"slope_nut_ratio", in.SlopeNut}} {
		if !quantity.AtMost(s.v, 0.05) {
			return TurnOfNutResult{}, quantity.Refuse(s.key, "Use a tapered washer.", "%s is steeper than 1 in 20",
				quantity.Text(s.v))
		}
		if s.v > in.Normal+1e-9 {
			r.Sloped++
		}
	}
	ratio := w.Calc("r", "length over diameter", "L / d", in.Length/in.Diameter, "", "")
	switch {
	case in.Method == "rcsc" && ratio <= 4+1e-9:
		r.Angle = 120
	case in.Method == "rcsc" && ratio <= 8+1e-9:
		r.Angle = 180
	case in.Method == "rcsc" && ratio <= 12+1e-9:
		r.Angle = 240
	case in.Method == "rcsc":
		return TurnOfNutResult{}, quantity.Refuse("length_mm", "Find the angle by a test in a bolt tension meter.",
			"is more than 12 diameters")
	case r.Sloped > 0:
		return TurnOfNutResult{}, quantity.Refuse("slope_nut_ratio", "Use a tapered washer, or find the angle by test.",
			"the combined method knows no sloped faces")
	case ratio < 2-1e-9:
		r.Angle = 60
	case ratio < 6-1e-9:
		r.Angle = 90
	case ratio <= 10+1e-9:
		r.Angle = 120
	default:
		return TurnOfNutResult{}, quantity.Refuse("length_mm", "Find the angle by test.", "is more than 10 diameters")
	}
	if in.Method == "rcsc" {
		r.Angle += 60 * float64(r.Sloped)
	}
	w.Step("θ", "table by r and sloped faces", r.Angle)
	r.Turns = w.Step("n", "θ / 360", r.Angle/360)
	r.Min, r.Max = w.Step("θl", "θ - tm", r.Angle-in.Minus), w.Step("θh", "θ + tp", r.Angle+in.Plus)
	w.Take("All plies are in firm contact before the turn is counted, and nut and bolt are marked.")
	return r, nil
}

// TubeFittingInput asks for the turns of a twin-ferrule tube fitting.
type TubeFittingInput struct {
	TubeOD float64  `in:"tube_od_mm" sym:"D" label:"Tube outside diameter" ok:">0" eg:"12"`
	Kind   string   `in:"kind" label:"Make-up" one:"first remake" eg:"first"`
	Turns  *float64 `in:"turns" sym:"n" label:"Turns from finger-tight, if the maker states them" help:"For a re-make: turns to the old mark plus the extra." ok:">0,<=3" eg:""`
	Start  float64  `in:"start_clock_h" sym:"h1" label:"Mark starts at" help:"Hour on the clock face, looking at the nut." ok:">0,<=12" def:"6"`
	Pitch  *float64 `in:"pitch_mm" sym:"P" label:"Pitch of the nut's thread" ok:">0" eg:""`
}

// TubeFittingResult is the turn in every form a person counts it.
type TubeFittingResult struct {
	Turns   float64  `out:"turns" sym:"nt" label:"Turns"`
	Angle   float64  `out:"angle_deg" sym:"θ" label:"Angle"`
	Flats   float64  `out:"flats" sym:"f" label:"Flats"`
	End     float64  `out:"end_clock_h" sym:"h2" label:"Mark ends at"`
	Advance *float64 `out:"advance_mm" sym:"x" label:"Nut moves by"`
}

// TubeFittingTurns gives the turns from finger-tight. First make-up: 3/4 turn to 4.8 mm tube, 1 1/4 to 25.4 mm; larger
// tube is refused (powered setting tool), and so is a re-make without the turns found. The maker's instruction governs.
func TubeFittingTurns(w *working.Working, in TubeFittingInput) (TubeFittingResult, error) {
	if err := quantity.Limits(in); err != nil {
		return TubeFittingResult{}, err
	}
	var r TubeFittingResult
	switch {
	case in.Turns != nil:
		r.Turns = *in.Turns
	case in.Kind == "remake":
		return TubeFittingResult{}, quantity.Refuse("turns", "Enter the turns to the old mark plus the extra.",
			"is needed for a re-make")
	case quantity.AtMost(in.TubeOD, 4.8):
		r.Turns = 0.75
	case quantity.AtMost(in.TubeOD, 25.4):
		r.Turns = 1.25
	default:
		return TubeFittingResult{}, quantity.Refuse("tube_od_mm", "Use the maker's powered setting tool.",
			"%s mm is too large to make up by hand", quantity.Text(in.TubeOD))
	}
	w.Step("nt", "", r.Turns)
	r.Angle, r.Flats = w.Step("θ", "360 · nt", 360*r.Turns), w.Step("f", "6 · nt", 6*r.Turns)
	r.End = w.Step("h2", "h1 + 12 · nt , on the clock face", clock(in.Start+12*r.Turns))
	if in.Pitch != nil {
		x := w.Step("x", "nt · P", r.Turns**in.Pitch)
		r.Advance = &x
	}
	w.Take("Counted from finger-tight, with the body held still. The maker's instruction governs.")
	return r, nil
}

// clock brings hours into (0, 12].
func clock(h float64) float64 {
	h = math.Mod(h, 12)
	if h < 1e-9 {
		return 12
	}
	return h
}

// TurnMarksInput is a turn in degrees.
type TurnMarksInput struct {
	Angle float64 `in:"angle_deg" sym:"θ" label:"Turn by" ok:">0,<=3600" eg:"90"`
	Start float64 `in:"start_clock_h" sym:"h1" label:"Mark starts at" ok:">0,<=12" def:"6"`
}

// TurnMarksResult is the same turn in the forms a person counts.
type TurnMarksResult struct {
	Quarters float64 `out:"quarter_turns" sym:"q" label:"Quarter turns"`
	Turns    float64 `out:"turns" sym:"n" label:"Turns"`
	Flats    float64 `out:"flats" sym:"f" label:"Flats"`
	End      float64 `out:"end_clock_h" sym:"h2" label:"Mark ends at"`
}

// TurnMarks writes a turn as quarter turns, flats of a hexagon and the hour at which a mark ends, seen from the nut.
// Definition.
func TurnMarks(w *working.Working, in TurnMarksInput) (TurnMarksResult, error) {
	if err := quantity.Limits(in); err != nil {
		return TurnMarksResult{}, err
	}
	return TurnMarksResult{Turns: w.Step("n", "θ / 360", in.Angle/360), Quarters: w.Step("q", "θ / 90", in.Angle/90),
		Flats: w.Step("f", "θ / 60", in.Angle/60),
		End:   w.Step("h2", "h1 + θ / 30 , on the clock face", clock(in.Start+in.Angle/30))}, nil
}

// AngleFromLoadInput asks for the angle that brings a load after snug.
type AngleFromLoadInput struct {
	Load   float64 `in:"load_change_N" sym:"F" label:"Load to add" ok:">0" eg:"100000"`
	Pitch  float64 `in:"pitch_mm" sym:"P" label:"Pitch" ok:">0" eg:"2.5"`
	Bolt   float64 `in:"k_bolt_N_per_mm" sym:"kb" label:"Stiffness of the bolt" ok:">0" eg:"500000"`
	Member float64 `in:"k_member_N_per_mm" sym:"km" label:"Stiffness of the parts" ok:">0" eg:"2000000"`
}

// AngleFromLoadResult is the angle and where it goes.
type AngleFromLoadResult struct {
	Angle  float64 `out:"angle_deg" sym:"θ" label:"Turn by"`
	Bolt   float64 `out:"bolt_stretch_mm" sym:"fb" label:"The bolt stretches"`
	Member float64 `out:"member_compression_mm" sym:"fm" label:"The parts give"`
}

// AngleFromLoad gives the turn after snug for a rise in load. Source: VDI 2230 compliances.
func AngleFromLoad(w *working.Working, in AngleFromLoadInput) (AngleFromLoadResult, error) {
	if err := quantity.Limits(in); err != nil {
		return AngleFromLoadResult{}, err
	}
	r := AngleFromLoadResult{Bolt: w.Step("fb", "F / kb", in.Load/in.Bolt),
		Member: w.Step("fm", "F / km", in.Load/in.Member)}
	r.Angle = w.Step("θ", "360 / P · (fb + fm)", 360/in.Pitch*(r.Bolt+r.Member))
	w.Take("Everything stays elastic and the joint is fully snug before the angle is counted.")
	return r, nil
}

// LoadFromAngleInput asks for the load after a turn.
type LoadFromAngleInput struct {
	Snug   float64 `in:"snug_load_N" sym:"F0" label:"Load at snug" ok:">=0" eg:"20000"`
	Angle  float64 `in:"angle_deg" sym:"θ" label:"Turn after snug" ok:">=0" eg:"45"`
	Pitch  float64 `in:"pitch_mm" sym:"P" label:"Pitch" ok:">0" eg:"2.5"`
	Bolt   float64 `in:"k_bolt_N_per_mm" sym:"kb" label:"Stiffness of the bolt" ok:">0" eg:"500000"`
	Member float64 `in:"k_member_N_per_mm" sym:"km" label:"Stiffness of the parts" ok:">0" eg:"2000000"`
}

// LoadFromAngleResult is the load after the turn.
type LoadFromAngleResult struct {
	Load float64 `out:"load_N" sym:"F" label:"Load in the bolt"`
	Rate float64 `out:"joint_rate_N_per_deg" sym:"c" label:"Load for each degree"`
}

// LoadFromAngle gives the load after a turn from snug. Source: VDI 2230 compliances.
func LoadFromAngle(w *working.Working, in LoadFromAngleInput) (LoadFromAngleResult, error) {
	if err := quantity.Limits(in); err != nil {
		return LoadFromAngleResult{}, err
	}
	rate := w.Step("c", "P / 360 / (1 / kb + 1 / km)", in.Pitch/360/(1/in.Bolt+1/in.Member))
	w.Take("Everything stays elastic: no yield, no gasket.")
	return LoadFromAngleResult{Load: w.Step("F", "F0 + θ · c", in.Snug+in.Angle*rate), Rate: rate}, nil
}

// AngleWindowInput is a reading of torque and angle with both windows.
type AngleWindowInput struct {
	Torque     float64 `in:"torque_Nm" label:"Torque read" ok:">=0" eg:"310"`
	Angle      float64 `in:"angle_deg" label:"Angle read" ok:">=0" eg:"62"`
	TorqueLow  float64 `in:"torque_low_Nm" label:"Torque, from" ok:">=0" eg:"280"`
	TorqueHigh float64 `in:"torque_high_Nm" label:"Torque, to" ok:">=0" eg:"340"`
	AngleLow   float64 `in:"angle_low_deg" label:"Angle, from" ok:">=0" eg:"50"`
	AngleHigh  float64 `in:"angle_high_deg" label:"Angle, to" ok:">=0" eg:"80"`
}

// AngleWindowResult is the verdict over both.
type AngleWindowResult struct {
	OK     bool   `out:"ok" label:"Both inside"`
	Torque string `out:"torque_state" label:"Torque"`
	Angle  string `out:"angle_state" label:"Angle"`
}

// AngleWindow judges a torque and an angle, each against its window, limits included.
func AngleWindow(w *working.Working, in AngleWindowInput) (AngleWindowResult, error) {
	if err := quantity.Limits(in); err != nil {
		return AngleWindowResult{}, err
	}
	if in.TorqueLow > in.TorqueHigh || in.AngleLow > in.AngleHigh {
		return AngleWindowResult{}, quantity.Refuse("torque_high_Nm", "Enter the lower end first.",
			"a window ends below its start")
	}
	state := func(v, lo, hi float64) string {
		switch {
		case !quantity.AtMost(lo, v):
			return "low"
		case !quantity.AtMost(v, hi):
			return "high"
		}
		return "ok"
	}
	r := AngleWindowResult{Torque: state(in.Torque, in.TorqueLow, in.TorqueHigh),
		Angle: state(in.Angle, in.AngleLow, in.AngleHigh)}
	r.OK = r.Torque == "ok" && r.Angle == "ok"
	if r.Torque != "low" && r.Angle == "low" {
		w.Warn("Torque came early: more friction than usual, a damaged thread, or a bolt already tight.")
	}
	if r.Torque == "low" && r.Angle != "low" {
		w.Warn("Torque came late: the bolt yields, the thread strips, or something soft lies between.")
	}
	return r, nil
}
