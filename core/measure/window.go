package measure

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// BreakInput is a measured effort against a window around a nominal.
type BreakInput struct {
	Nominal  float64 `in:"nominal_Nm" sym:"T" label:"Torque stated" ok:">0" eg:"40"`
	Low      float64 `in:"low_frac" sym:"f1" label:"Window from" ok:">0" eg:"0.8"`
	High     float64 `in:"high_frac" sym:"f2" label:"Window to" ok:">0" eg:"1.2"`
	Measured float64 `in:"measured_Nm" sym:"M" label:"Measured" ok:">0" eg:"34"`
}

// BreakResult is the verdict and what to do.
type BreakResult struct {
	Action  string  `out:"action" label:"Do"`
	Verdict string  `out:"verdict" label:"Verdict"`
	Low     float64 `out:"low_Nm" sym:"Tl" label:"Window from"`
	High    float64 `out:"high_Nm" sym:"Th" label:"Window to"`
}

// BreakWindow judges an effort against a window: tighten when low, loosen when high.
func BreakWindow(w *working.Working, in BreakInput) (BreakResult, error) {
	if err := quantity.Limits(in); err != nil {
		return BreakResult{}, err
	}
	if in.Low >= in.High {
		return BreakResult{}, quantity.Refuse("high_frac", "Enter the lower end first.", "is not above the lower end")
	}
	r := BreakResult{Low: w.Step("Tl", "T · f1", in.Nominal*in.Low), High: w.Step("Th", "T · f2", in.Nominal*in.High)}
	r.Verdict, r.Action = judge(in.Measured, r.Low, r.High)
	return r, nil
}

func judge(v, lo, hi float64) (verdict, action string) {
	switch {
	case !quantity.AtMost(lo, v):
		return "low", "tighten"
	case !quantity.AtMost(v, hi):
		return "high", "loosen"
	}
	return "ok", "none"
}

// GlandTry is one setting of a gland nut and the effort it gave.
type GlandTry struct {
	Angle    float64 `in:"gland_angle_deg" label:"Gland nut at"`
	Measured float64 `in:"measured_Nm" label:"Effort" ok:">0"`
}

// GlandInput is a window and what was tried, oldest first.
type GlandInput struct {
	Nominal float64    `in:"nominal_Nm" sym:"T" label:"Torque stated" ok:">0" eg:"40"`
	Low     float64    `in:"low_frac" sym:"f1" label:"Window from" ok:">0" eg:"0.8"`
	High    float64    `in:"high_frac" sym:"f2" label:"Window to" ok:">0" eg:"1.2"`
	History []GlandTry `in:"history" label:"Tries, oldest first"`
	Aim     float64    `in:"aim_frac" sym:"fa" label:"Aim at" ok:">0" def:"1.0"`
	First   float64    `in:"first_step_deg" sym:"s1" label:"First step" ok:">0" eg:"15"`
	Max     float64    `in:"max_step_deg" sym:"sx" label:"Largest step" ok:">0" eg:"45"`
}

// GlandResult is the next step.
type GlandResult struct {
	Step    float64 `out:"step_deg" sym:"s" label:"Turn the gland nut by"`
	Next    float64 `out:"next_angle_deg" sym:"x" label:"To"`
	Mode    string  `out:"mode" label:"How it was found"`
	Verdict string  `out:"verdict" label:"Last effort"`
}

// GlandStep proposes the next turn of a gland nut from the tries so far: a first step, then straight-line through the last two.
func GlandStep(w *working.Working, in GlandInput) (GlandResult, error) {
	if err := quantity.Limits(in); err != nil {
		return GlandResult{}, err
	}
	if in.Low >= in.High {
		return GlandResult{}, quantity.Refuse("high_frac", "Enter the lower end first.", "is not above the lower end")
	}
	if !quantity.AtMost(in.Low, in.Aim) || !quantity.AtMost(in.Aim, in.High) {
		return GlandResult{}, quantity.Refuse("aim_frac", "Aim inside the window.", "%s is outside the window", quantity.Text(in.Aim))
	}
	n := len(in.History)
	if n == 0 {
		return GlandResult{}, quantity.Refuse("history", "Measure the effort first.", "none given")
	}
	last := in.History[n-1]
	aim := w.Calc("A", "effort aimed at", "T · fa", in.Nominal*in.Aim, quantity.NewtonMetre, "")
	verdict, _ := judge(last.Measured, in.Nominal*in.Low, in.Nominal*in.High)
	r := GlandResult{Verdict: verdict, Mode: "first_step"}
	slope := 0.0
	if n > 1 && last.Angle != in.History[n-2].Angle {
		slope = (last.Measured - in.History[n-2].Measured) / (last.Angle - in.History[n-2].Angle)
	}
	switch {
	case verdict == "ok":
		r.Mode = "done"
	case slope <= 0 && verdict == "low":
		r.Step = in.First
	case slope <= 0:
		r.Step = -in.First
	default:
		w.Calc("k", "effort for each degree, last two tries", "", slope, "Nm_per_deg", "")
		r.Step, r.Mode = (aim-last.Measured)/slope, "secant"
		if math.Abs(r.Step) > in.Max {
			r.Step, r.Mode = math.Copysign(in.Max, r.Step), "secant_limited"
		}
	}
	w.Step("s", "", r.Step)
	r.Next = w.Step("x", "", last.Angle+r.Step)
	return r, nil
}

// WindowInput is a window to be put on a scale.
type WindowInput struct {
	Value      float64 `in:"value_Nm" sym:"T" label:"Measured or stated" ok:">0" eg:"42"`
	Low        float64 `in:"low_frac" sym:"f1" label:"From this part of it" ok:">0" eg:"0.6"`
	High       float64 `in:"high_frac" sym:"f2" label:"To this part of it" ok:">0" eg:"0.9"`
	Graduation float64 `in:"graduation_Nm" sym:"g" label:"One mark on the tool" ok:">0" eg:"1"`
}

// WindowResult is the window on the scale.
type WindowResult struct {
	Low       float64 `out:"low_Nm" sym:"Wl" label:"Accept from"`
	High      float64 `out:"high_Nm" sym:"Wh" label:"Accept to"`
	ExactLow  float64 `out:"exact_low_Nm" sym:"Tl" label:"Exactly from"`
	ExactHigh float64 `out:"exact_high_Nm" sym:"Th" label:"Exactly to"`
}

// AcceptanceWindow gives the window between two parts of a value, rounded inward to the scale so that rounding never widens it.
// Refused: a window without a mark in it.
func AcceptanceWindow(w *working.Working, in WindowInput) (WindowResult, error) {
	if err := quantity.Limits(in); err != nil {
		return WindowResult{}, err
	}
	if in.Low >= in.High {
		return WindowResult{}, quantity.Refuse("high_frac", "Enter the lower end first.", "is not above the lower end")
	}
	r := WindowResult{ExactLow: w.Step("Tl", "T · f1", in.Value*in.Low), ExactHigh: w.Step("Th", "T · f2", in.Value*in.High)}
	r.Low = w.Step("Wl", "ceil( Tl / g ) · g", math.Ceil(r.ExactLow/in.Graduation-1e-9)*in.Graduation)
	r.High = w.Step("Wh", "floor( Th / g ) · g", math.Floor(r.ExactHigh/in.Graduation+1e-9)*in.Graduation)
	if r.Low > r.High {
		return WindowResult{}, quantity.Refuse("graduation_Nm", "Use a tool with a finer scale.", "no mark lies inside the window")
	}
	return r, nil
}

// AuditInput are restart torques of a finished joint.
type AuditInput struct {
	Nominal  float64   `in:"nominal_Nm" sym:"T" label:"Tightened to" ok:">0" eg:"120"`
	Low      float64   `in:"low_frac" sym:"f1" label:"Accept from" ok:">0" eg:"0.8"`
	High     float64   `in:"high_frac" sym:"f2" label:"Accept to" ok:">0" eg:"1.2"`
	Readings []float64 `in:"readings_Nm" label:"Restart torques, bolt 1 first" ok:">0" eg:"118 124 96 131"`
	MaxOut   int       `in:"max_out" sym:"m" label:"Outside, at most" ok:">=0" def:"0"`
}

// AuditResult is the verdict of an audit.
type AuditResult struct {
	Verdict string   `out:"verdict" label:"Verdict"`
	Mean    float64  `out:"mean_frac" sym:"x" label:"Mean, part of nominal"`
	Stdev   *float64 `out:"stdev_frac" sym:"s" label:"Scatter, part of nominal"`
	Low     []int    `out:"low_bolts" label:"Low"`
	High    []int    `out:"high_bolts" label:"High"`
	Out     int      `out:"out_count" label:"Outside"`
}

// BreakawayAudit judges restart torques. More high than low bolts means something else is wrong: investigate, do not retighten.
func BreakawayAudit(w *working.Working, in AuditInput) (AuditResult, error) {
	if err := quantity.Limits(in); err != nil {
		return AuditResult{}, err
	}
	if in.Low >= in.High {
		return AuditResult{}, quantity.Refuse("high_frac", "Enter the lower end first.", "is not above the lower end")
	}
	if len(in.Readings) == 0 {
		return AuditResult{}, quantity.Refuse("readings_Nm", "Enter the readings.", "none given")
	}
	r := AuditResult{Low: []int{}, High: []int{}}
	var parts []float64
	for i, v := range in.Readings {
		parts = append(parts, v/in.Nominal)
		switch verdict, _ := judge(v, in.Nominal*in.Low, in.Nominal*in.High); verdict {
		case "low":
			r.Low = append(r.Low, i+1)
		case "high":
			r.High = append(r.High, i+1)
		}
	}
	m, s := spreadOf(parts)
	r.Mean = w.Step("x", "mean of readings over T", m)
	if len(parts) > 1 {
		w.Step("s", "standard deviation over T", s)
		r.Stdev = &s
	}
	r.Out = len(r.Low) + len(r.High)
	switch {
	case r.Out <= in.MaxOut:
		r.Verdict = "accept"
	case len(r.High) > len(r.Low):
		r.Verdict = "investigate"
	default:
		r.Verdict = "retighten"
	}
	w.Take("A restart torque is not the load: friction at rest differs. It shows what stands out.")
	return r, nil
}

// spreadOf gives mean and sample standard deviation (n − 1).
func spreadOf(list []float64) (mean, sd float64) {
	n := float64(len(list))
	for _, v := range list {
		mean += v / n
	}
	for _, v := range list {
		sd += (v - mean) * (v - mean)
	}
	if n > 1 {
		return mean, math.Sqrt(sd / (n - 1))
	}
	return mean, 0
}

// EqualInput are two measures that must be equal.
type EqualInput struct {
	A   float64 `in:"a_mm" sym:"a" label:"One side" eg:"41.2"`
	B   float64 `in:"b_mm" sym:"b" label:"Other side" eg:"40.6"`
	Tol float64 `in:"limit_mm" sym:"L" label:"Allowed difference" ok:">=0" eg:"1"`
}

// EqualResult is their difference.
type EqualResult struct {
	Difference float64 `out:"difference_mm" sym:"Δ" label:"Difference"`
	Pass       bool    `out:"pass" label:"Equal enough"`
	Each       float64 `out:"move_mm" sym:"m" label:"Move to the smaller side by"`
}

// Equality judges two gaps, thread lengths or overhangs that must be equal.
func Equality(w *working.Working, in EqualInput) (EqualResult, error) {
	if err := quantity.Limits(in); err != nil {
		return EqualResult{}, err
	}
	r := EqualResult{Difference: w.Step("Δ", "abs(a - b)", math.Abs(in.A-in.B))}
	r.Each = w.Step("m", "Δ / 2", r.Difference/2)
	r.Pass = quantity.AtMost(r.Difference, in.Tol)
	return r, nil
}

// DeflectionInput is a pipe length set off at an angle in its joint.
type DeflectionInput struct {
	Length   float64  `in:"length_mm" sym:"l" label:"Length of the pipe" ok:">0" eg:"6000"`
	Angle    float64  `in:"permitted_deg" sym:"φ" label:"Deflection the joint permits" ok:">=0,<45" eg:"1"`
	Measured *float64 `in:"measured_mm" sym:"x" label:"Sideways shift measured" ok:">=0" eg:""`
}

// DeflectionResult is the permitted shift.
type DeflectionResult struct {
	Shift  float64  `out:"permitted_mm" sym:"s" label:"Sideways shift permitted"`
	Pass   *bool    `out:"pass" label:"Within it"`
	Angle  *float64 `out:"measured_deg" sym:"φm" label:"Deflection measured"`
	Margin *float64 `out:"margin_mm" sym:"m" label:"Margin"`
}

// Deflection gives the sideways shift of a joint's permitted angle and judges the measured one.
func Deflection(w *working.Working, in DeflectionInput) (DeflectionResult, error) {
	if err := quantity.Limits(in); err != nil {
		return DeflectionResult{}, err
	}
	r := DeflectionResult{Shift: w.Step("s", "l · tan(φ)", in.Length*math.Tan(quantity.Rad(in.Angle)))}
	if in.Measured != nil {
		ok := quantity.AtMost(*in.Measured, r.Shift)
		a := w.Step("φm", "atan(x / l)", quantity.Deg(math.Atan(*in.Measured/in.Length)))
		m := w.Step("m", "s - x", r.Shift-*in.Measured)
		r.Pass, r.Angle, r.Margin = &ok, &a, &m
		if !ok {
			w.Warn("The pipe is set off further than its joint permits.")
		}
	}
	return r, nil
}

// StraightInput is the pipe around a meter.
type StraightInput struct {
	Diameter   float64 `in:"diameter_mm" sym:"D" label:"Inside diameter" ok:">0" eg:"150"`
	UpMultiple float64 `in:"up_multiple" sym:"ku" label:"Diameters needed upstream" ok:">=0" eg:"10"`
	DownMult   float64 `in:"down_multiple" sym:"kd" label:"Diameters needed downstream" ok:">=0" eg:"5"`
	Up         float64 `in:"up_mm" sym:"u" label:"There is upstream" ok:">=0" eg:"1600"`
	Down       float64 `in:"down_mm" sym:"v" label:"There is downstream" ok:">=0" eg:"700"`
}

// StraightResult is what is missing.
type StraightResult struct {
	OK        bool    `out:"ok" label:"Enough on both sides"`
	UpNeed    float64 `out:"up_required_mm" sym:"U" label:"Needed upstream"`
	DownNeed  float64 `out:"down_required_mm" sym:"V" label:"Needed downstream"`
	UpShort   float64 `out:"up_short_mm" sym:"su" label:"Missing upstream"`
	DownShort float64 `out:"down_short_mm" sym:"sv" label:"Missing downstream"`
	UpSpare   float64 `out:"up_margin_mm" sym:"mu" label:"Margin upstream"`
	DownSpare float64 `out:"down_margin_mm" sym:"mv" label:"Margin downstream"`
}

// StraightRun gives the straight pipe needed around a meter, and the margin. The multiples come from the meter's maker or standard.
func StraightRun(w *working.Working, in StraightInput) (StraightResult, error) {
	if err := quantity.Limits(in); err != nil {
		return StraightResult{}, err
	}
	r := StraightResult{UpNeed: w.Step("U", "ku · D", in.UpMultiple*in.Diameter), DownNeed: w.Step("V", "kd · D", in.DownMult*in.Diameter)}
	r.UpShort, r.DownShort = w.Step("su", "max( 0 , U - u )", math.Max(0, r.UpNeed-in.Up)), w.Step("sv", "max( 0 , V - v )", math.Max(0, r.DownNeed-in.Down))
	r.UpSpare, r.DownSpare = w.Step("mu", "u - U", in.Up-r.UpNeed), w.Step("mv", "v - V", in.Down-r.DownNeed)
	r.OK = quantity.AtMost(r.UpNeed, in.Up) && quantity.AtMost(r.DownNeed, in.Down)
	return r, nil
}

// InsertionInput is a probe through a nozzle.
type InsertionInput struct {
	Probe    float64 `in:"probe_length_mm" sym:"L" label:"Length of the probe" ok:">0" eg:"320"`
	Standoff float64 `in:"standoff_mm" sym:"s" label:"Nozzle, outside of the pipe" ok:">=0" eg:"95"`
	Wall     float64 `in:"wall_mm" sym:"t" label:"Pipe wall" ok:">0" eg:"6.3"`
	Bore     float64 `in:"pipe_id_mm" sym:"D" label:"Pipe, inside" ok:">0" eg:"150"`
	Position float64 `in:"position_frac" sym:"f" label:"Tip at this part of the bore" ok:">0,<1" eg:"0.5"`
}

// InsertionResult is what goes in and what stays out.
type InsertionResult struct {
	Insert  float64 `out:"insert_mm" sym:"x" label:"Push in by"`
	Visible float64 `out:"visible_mm" sym:"v" label:"Stays out"`
}

// InsertionDepth gives how far a probe goes in. Refused: a probe that is too short.
func InsertionDepth(w *working.Working, in InsertionInput) (InsertionResult, error) {
	if err := quantity.Limits(in); err != nil {
		return InsertionResult{}, err
	}
	r := InsertionResult{Insert: w.Step("x", "s + t + f · D", in.Standoff+in.Wall+in.Position*in.Bore)}
	if r.Visible = w.Step("v", "L - x", in.Probe-r.Insert); r.Visible < 0 {
		return InsertionResult{}, quantity.Refuse("probe_length_mm", "Use a longer probe.", "is %s mm too short", quantity.Text(quantity.Significant(-r.Visible, 3)))
	}
	w.Take("Mark the depth on the probe before it goes in, and look at the mark when it is in.")
	return r, nil
}

// SocketInput is a spigot in a socket.
type SocketInput struct {
	Depth  float64 `in:"socket_depth_mm" sym:"L" label:"Depth of the socket" ok:">0" eg:"115"`
	Gap    float64 `in:"gap_mm" sym:"g" label:"Gap to leave at the end" ok:">=0" eg:"5"`
	Offset float64 `in:"mark_offset_mm" sym:"o" label:"Mark set back from the depth line" ok:">=0" def:"0"`
}

// SocketResult is where to mark.
type SocketResult struct {
	Mark   float64 `out:"mark_from_end_mm" sym:"m" label:"Mark the pipe at, from its end"`
	Insert float64 `out:"insert_mm" sym:"x" label:"Push in by"`
	ToFace float64 `out:"mark_to_face_mm" sym:"f" label:"Then mark to socket face"`
}

// SocketInsertion gives the mark and the insertion of a push-on joint. Refused: a gap as deep as the socket.
func SocketInsertion(w *working.Working, in SocketInput) (SocketResult, error) {
	if err := quantity.Limits(in); err != nil {
		return SocketResult{}, err
	}
	if in.Gap >= in.Depth {
		return SocketResult{}, quantity.Refuse("gap_mm", "Check gap and depth.", "is as deep as the socket")
	}
	return SocketResult{Insert: w.Step("x", "L - g", in.Depth-in.Gap), Mark: w.Step("m", "L + o", in.Depth+in.Offset), ToFace: w.Step("f", "g + o", in.Gap+in.Offset)}, nil
}

// ClockInput is a place on the clock face.
type ClockInput struct {
	Hour float64 `in:"clock_h" sym:"h" label:"Hole, slot or mark stands at" help:"Hour on the clock face, seen from the tool's side." ok:">0,<=12" eg:"6"`
	From float64 `in:"from_h" sym:"h1" label:"Allowed from" ok:">0,<=12" eg:"5"`
	To   float64 `in:"to_h" sym:"h2" label:"Allowed to, clockwise" ok:">0,<=12" eg:"7"`
}

// ClockResult is the verdict.
type ClockResult struct {
	Inside  bool    `out:"inside" label:"In the allowed sector"`
	Degrees float64 `out:"angle_deg" sym:"φ" label:"Clockwise from the top"`
	Off     float64 `out:"off_deg" sym:"o" label:"Outside by"`
	Phase   float64 `out:"opposite_h" sym:"ho" label:"A second part half a turn on stands at"`
}

// ClockPosition judges a place on the clock face against a sector, and gives the place half a turn on.
func ClockPosition(w *working.Working, in ClockInput) (ClockResult, error) {
	if err := quantity.Limits(in); err != nil {
		return ClockResult{}, err
	}
	r := ClockResult{Degrees: w.Step("φ", "30 · h , on the circle", quantity.Turned(30*in.Hour))}
	span := quantity.Turned(30 * (in.To - in.From))
	at := quantity.Turned(30 * (in.Hour - in.From))
	if r.Inside = quantity.AtMost(at, span); !r.Inside {
		r.Off = math.Min(at-span, 360-at)
		w.Warn("Outside the allowed sector.")
	}
	w.Step("o", "to the nearer end of the sector", r.Off)
	r.Phase = math.Mod(in.Hour+6, 12)
	if r.Phase == 0 {
		r.Phase = 12
	}
	w.Step("ho", "half a turn on", r.Phase)
	return r, nil
}

// DriftInput is a position before and after tightening.
type DriftInput struct {
	Before float64 `in:"before_mm" sym:"a" label:"Before tightening" eg:"0"`
	After  float64 `in:"after_mm" sym:"b" label:"After tightening" eg:"0.35"`
	Wanted float64 `in:"wanted_mm" sym:"c" label:"Wanted in the end" eg:"0"`
}

// DriftResult is what to allow for.
type DriftResult struct {
	Next  float64 `out:"start_next_mm" sym:"s" label:"Next time start at"`
	Drift float64 `out:"drift_mm" sym:"d" label:"Moved while tightened"`
}

// PositionDrift gives the start that ends where it shall when the part moves by the same again.
func PositionDrift(w *working.Working, in DriftInput) (DriftResult, error) {
	if err := quantity.Limits(in); err != nil {
		return DriftResult{}, err
	}
	d := w.Step("d", "b - a", in.After-in.Before)
	w.Take("The part moves by the same next time.")
	return DriftResult{Drift: d, Next: w.Step("s", "c - d", in.Wanted-d)}, nil
}

// ThumbInput is a site's rule of thumb with the sizes it holds for.
type ThumbInput struct {
	Rule  string  `in:"rule" label:"Rule, in words" eg:"loops of the gasket"`
	Size  float64 `in:"size_mm" sym:"x" label:"Size at hand" ok:">0" eg:"200"`
	From  float64 `in:"valid_from_mm" sym:"a" label:"Holds from" ok:">=0" eg:"80"`
	To    float64 `in:"valid_to_mm" sym:"b" label:"Holds to" ok:">0" eg:"400"`
	Per   float64 `in:"per_size" sym:"k" label:"So much for each mm" def:"0" eg:"0.01"`
	Fixed float64 `in:"fixed" sym:"c" label:"And always" def:"0" eg:"1"`
}

// ThumbResult is the rule's value.
type ThumbResult struct {
	Value float64 `out:"value" sym:"v" label:"Rule of thumb"`
}

// RuleOfThumb applies a rule of thumb inside the sizes it holds for and refuses it outside; the answer is labelled as such.
func RuleOfThumb(w *working.Working, in ThumbInput) (ThumbResult, error) {
	if err := quantity.Limits(in); err != nil {
		return ThumbResult{}, err
	}
	if in.From > in.To {
		return ThumbResult{}, quantity.Refuse("valid_to_mm", "Enter the lower end first.", "is below the lower end")
	}
	if !quantity.AtMost(in.From, in.Size) || !quantity.AtMost(in.Size, in.To) {
		return ThumbResult{}, quantity.Refuse("size_mm", "Do not use the rule here; ask.", "%s mm is outside %s to %s mm, where the rule holds", quantity.Text(in.Size), quantity.Text(in.From), quantity.Text(in.To))
	}
	w.Warn("A rule of thumb, not a specification. It holds from " + quantity.Text(in.From) + " to " + quantity.Text(in.To) + " mm only.")
	return ThumbResult{Value: w.Step("v", "k · x + c", in.Per*in.Size+in.Fixed)}, nil
}
