package preload

import (
	"math"
	"slices"

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

// TurnOfNut gives the angle after snug by length over diameter and sloped faces. Refused: slopes over 1/20, lengths that need a
// test. Source: turn-of-nut table of the RCSC specification; combined method of EN 1090-2. Tolerances differ between editions.
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
			return TurnOfNutResult{}, quantity.Refuse(s.key, "Use a tapered washer.", "%s is steeper than 1 in 20", quantity.Text(s.v))
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
		return TurnOfNutResult{}, quantity.Refuse("length_mm", "Find the angle by a test in a bolt tension meter.", "is more than 12 diameters")
	case r.Sloped > 0:
		return TurnOfNutResult{}, quantity.Refuse("slope_nut_ratio", "Use a tapered washer, or find the angle by test.", "the combined method knows no sloped faces")
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

// TubeFittingTurns gives the turns from finger-tight. First make-up: 3/4 turn to 4.8 mm tube, 1 1/4 to 25.4 mm; larger tube is
// refused (powered setting tool), and so is a re-make without the turns found. The maker's instruction governs.
func TubeFittingTurns(w *working.Working, in TubeFittingInput) (TubeFittingResult, error) {
	if err := quantity.Limits(in); err != nil {
		return TubeFittingResult{}, err
	}
	var r TubeFittingResult
	switch {
	case in.Turns != nil:
		r.Turns = *in.Turns
	case in.Kind == "remake":
		return TubeFittingResult{}, quantity.Refuse("turns", "Enter the turns to the old mark plus the extra.", "is needed for a re-make")
	case quantity.AtMost(in.TubeOD, 4.8):
		r.Turns = 0.75
	case quantity.AtMost(in.TubeOD, 25.4):
		r.Turns = 1.25
	default:
		return TubeFittingResult{}, quantity.Refuse("tube_od_mm", "Use the maker's powered setting tool.", "%s mm is too large to make up by hand", quantity.Text(in.TubeOD))
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

// TurnMarks writes a turn as quarter turns, flats of a hexagon and the hour at which a mark ends, seen from the nut. Definition.
func TurnMarks(w *working.Working, in TurnMarksInput) (TurnMarksResult, error) {
	if err := quantity.Limits(in); err != nil {
		return TurnMarksResult{}, err
	}
	return TurnMarksResult{Turns: w.Step("n", "θ / 360", in.Angle/360), Quarters: w.Step("q", "θ / 90", in.Angle/90), Flats: w.Step("f", "θ / 60", in.Angle/60),
		End: w.Step("h2", "h1 + θ / 30 , on the clock face", clock(in.Start+in.Angle/30))}, nil
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
	r := AngleFromLoadResult{Bolt: w.Step("fb", "F / kb", in.Load/in.Bolt), Member: w.Step("fm", "F / km", in.Load/in.Member)}
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
		return AngleWindowResult{}, quantity.Refuse("torque_high_Nm", "Enter the lower end first.", "a window ends below its start")
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
	r := AngleWindowResult{Torque: state(in.Torque, in.TorqueLow, in.TorqueHigh), Angle: state(in.Angle, in.AngleLow, in.AngleHigh)}
	r.OK = r.Torque == "ok" && r.Angle == "ok"
	if r.Torque != "low" && r.Angle == "low" {
		w.Warn("Torque came early: more friction than usual, a damaged thread, or a bolt already tight.")
	}
	if r.Torque == "low" && r.Angle != "low" {
		w.Warn("Torque came late: the bolt yields, the thread strips, or something soft lies between.")
	}
	return r, nil
}

// TracePoint is one sample of a pull.
type TracePoint struct {
	Angle  float64 `in:"angle_deg" label:"Angle" json:"angleDeg"`
	Torque float64 `in:"torque_Nm" label:"Torque" ok:">=0" json:"torqueNm"`
}

// TraceInput is a recorded pull.
type TraceInput struct {
	Points      []TracePoint `in:"points" label:"Samples of the pull"`
	Target      float64      `in:"target_Nm" sym:"T" label:"Target torque" ok:">0" eg:"120"`
	YieldRatio  float64      `in:"yield_ratio" label:"Yield: slope falls under this part of the elastic one" ok:">0,<1" def:"0.5"`
	Rehit       float64      `in:"rehit_deg" label:"Already tight: target comes within" ok:">=0" def:"8"`
	CrossFrac   float64      `in:"cross_frac" label:"Cross-thread: torque of running down above this part of the target" ok:">0" def:"0.25"`
	BottomRise  float64      `in:"bottom_rise_frac" label:"Bottomed out: torque of the early line above this part of the target" ok:">0" def:"0.15"`
	Expected    *float64     `in:"expected_slope_Nm_per_deg" label:"Slope expected" ok:">0" eg:""`
	BottomSlope float64      `in:"bottom_slope_ratio" label:"Bottomed out: slope above so many times the expected" ok:">0" def:"1.6"`
}

// TraceResult says what the curve looks like. All but the diagnosis are nil when there is no elastic line.
type TraceResult struct {
	Diagnosis   string   `out:"diagnosis" label:"What the curve says"`
	Slope       *float64 `out:"elastic_slope_Nm_per_deg" label:"Slope of the elastic line"`
	Origin      *float64 `out:"origin_angle_deg" label:"Elastic line starts at"`
	Prevailing  *float64 `out:"prevailing_Nm" label:"Torque of running down"`
	SnugAngle   *float64 `out:"snug_angle_deg" label:"Snug at"`
	SnugTorque  *float64 `out:"snug_torque_Nm" label:"Torque at snug"`
	YieldAngle  *float64 `out:"yield_angle_deg" label:"Yield begins at"`
	YieldTorque *float64 `out:"yield_torque_Nm" label:"Torque there"`
	FinalAngle  *float64 `out:"final_angle_from_origin_deg" label:"Angle from the origin"`
}

// TorqueAngleAnalysis finds the elastic line of a pull and names what is unusual: already tight, cross-threaded, bottomed out,
// yielded, not reached. A suspicion is a reason to look, not a proof. Refused: fewer than 12 samples, angles that do not rise, a
// pull that stayed under a fifth of the target. Source: own rule (local slopes by least squares over five samples).
func TorqueAngleAnalysis(w *working.Working, in TraceInput) (TraceResult, error) {
	if err := quantity.Limits(in); err != nil {
		return TraceResult{}, err
	}
	t, err := newTrace(in)
	if err != nil {
		return TraceResult{}, err
	}
	var r TraceResult
	a, b := t.elastic()
	var k, start float64
	if b-a >= 2 {
		var intercept float64
		k, intercept = t.fit(a, b)
		zone := t.lowZone(a)
		prevailing := median(zone)
		start = (prevailing - intercept) / k
		final := in.Points[t.n-1].Angle - start
		snugA, snugT := in.Points[a].Angle, in.Points[a].Torque
		r.Slope, r.Origin, r.Prevailing, r.SnugAngle, r.SnugTorque, r.FinalAngle = &k, &start, &prevailing, &snugA, &snugT, &final
		w.Calc("K", "slope of the elastic line", "least squares over the straight part", k, "Nm_per_deg", "")
		w.Calc("Tp", "torque of running down", "middle of the flat start", prevailing, quantity.NewtonMetre, "")
		w.Calc("θ0", "origin of the elastic line", "where the line meets Tp", start, "deg", "")
		if y := t.yield(b, k); y >= 0 {
			ya, yt := in.Points[y].Angle, in.Points[y].Torque
			r.YieldAngle, r.YieldTorque = &ya, &yt
		}
	}
	r.Diagnosis = t.diagnose(r, a)
	w.Take("The curve is a hint. Look at the joint before a bolt is condemned or accepted by it.")
	return r, nil
}

type trace struct {
	in      TraceInput
	n       int
	slope   []float64 // local slope, valid from 2 to n-3
	steep   float64   // its largest
	highest float64
	at      int // first sample of the highest torque
}

func newTrace(in TraceInput) (trace, error) {
	t := trace{in: in, n: len(in.Points)}
	if t.n < 12 {
		return t, quantity.Refuse("points", "Record more samples.", "has %d samples, 12 are needed", t.n)
	}
	for i, p := range in.Points {
		if !quantity.Finite(p.Angle) || i > 0 && p.Angle <= in.Points[i-1].Angle {
			return t, quantity.Refuse("points", "Enter the samples by rising angle.", "sample %d does not turn further than the one before", i+1)
		}
		if p.Torque > t.highest {
			t.highest, t.at = p.Torque, i
		}
	}
	if t.highest <= 0 || t.highest < 0.2*in.Target {
		return t, quantity.Refuse("points", "Check the target and the unit.", "stays under a fifth of the target")
	}
	t.slope = make([]float64, t.n)
	for i := 2; i <= t.n-3; i++ {
		t.slope[i], _ = t.fit(i-2, i+2)
		t.steep = math.Max(t.steep, t.slope[i])
	}
	if t.steep <= 0 {
		return t, quantity.Refuse("points", "Check the samples.", "never rises")
	}
	return t, nil
}

// fit is the least-squares line through samples a…b.
func (t trace) fit(a, b int) (slope, intercept float64) {
	var sx, sy float64
	n := float64(b - a + 1)
	for _, p := range t.in.Points[a : b+1] {
		sx, sy = sx+p.Angle/n, sy+p.Torque/n
	}
	var sxx, sxy float64
	for _, p := range t.in.Points[a : b+1] {
		sxx += (p.Angle - sx) * (p.Angle - sx)
		sxy += (p.Angle - sx) * (p.Torque - sy)
	}
	return sxy / sxx, sy - sxy/sxx*sx
}

// longest finds the longest run of samples from…to for which in holds, the first one on a tie.
func longest(from, to int, in func(int) bool) (a, b int) {
	a, b = 0, -1
	start := -1
	for i := from; i <= to+1; i++ {
		if i <= to && in(i) {
			if start < 0 {
				start = i
			}
			continue
		}
		if start >= 0 && i-1-start > b-a {
			a, b = start, i-1
		}
		start = -1
	}
	return a, b
}

func (t trace) elastic() (a, b int) {
	return longest(2, t.n-3, func(i int) bool { return t.slope[i] >= 0.8*t.steep })
}

func (t trace) lowZone(a int) []float64 {
	var out []float64
	for i := 2; i < a; i++ {
		if t.slope[i] < 0.2*t.steep {
			out = append(out, t.in.Points[i].Torque)
		}
	}
	return out
}

func (t trace) yield(b int, k float64) int {
	for i := b + 1; i <= t.n-3; i++ {
		if t.slope[i] <= t.in.YieldRatio*k && (i == t.n-3 || t.slope[i+1] <= t.in.YieldRatio*k) {
			return i
		}
	}
	return -1
}

func (t trace) diagnose(r TraceResult, a int) string {
	reached := t.at
	for i, p := range t.in.Points {
		if p.Torque >= 0.9*t.in.Target {
			reached = i
			break
		}
	}
	if t.in.Points[reached].Angle-t.in.Points[0].Angle < t.in.Rehit {
		return "already_tight"
	}
	if r.Slope == nil {
		return "no_elastic"
	}
	if zone := t.lowZone(a); len(zone) > 0 && slices.Max(zone) > t.in.CrossFrac*t.in.Target {
		return "cross_thread_suspect"
	}
	if t.in.Expected != nil && *r.Slope > t.in.BottomSlope**t.in.Expected {
		return "bottomed_out_suspect"
	}
	ra, rb := longest(2, a-1, func(i int) bool { return t.slope[i] >= 0.2*t.steep && t.slope[i] <= 0.6*t.steep })
	if rb-ra+1 >= 5 && t.in.Points[rb].Torque-t.in.Points[ra].Torque > t.in.BottomRise*t.in.Target {
		return "bottomed_out_suspect"
	}
	if r.YieldAngle != nil {
		return "yielded"
	}
	if t.highest < 0.95*t.in.Target {
		return "not_reached"
	}
	return "normal"
}

// median of a list, 0 when it is empty; the mean of the middle two for an even count.
func median(list []float64) float64 {
	if len(list) == 0 {
		return 0
	}
	s := slices.Sorted(slices.Values(list))
	m := len(s) / 2
	if len(s)%2 == 1 {
		return s[m]
	}
	return (s[m-1] + s[m]) / 2
}
