package measure

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

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

// StraightRun gives the straight pipe needed around a meter, and the margin. The multiples come from the meter's maker
// or standard.
func StraightRun(w *working.Working, in StraightInput) (StraightResult, error) {
	if err := quantity.Limits(in); err != nil {
		return StraightResult{}, err
	}
	r := StraightResult{UpNeed: w.Step("U", "ku · D", in.UpMultiple*in.Diameter),
		DownNeed: w.Step("V", "kd · D", in.DownMult*in.Diameter)}
	r.UpShort, r.DownShort = w.Step("su", "max( 0 , U - u )", math.Max(0, r.UpNeed-in.Up)),
		w.Step("sv", "max( 0 , V - v )", math.Max(0, r.DownNeed-in.Down))
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
		return InsertionResult{}, quantity.Refuse("probe_length_mm", "Use a longer probe.", "is %s mm too short",
			quantity.Text(quantity.Significant(-r.Visible, 3)))
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
	return SocketResult{Insert: w.Step("x", "L - g", in.Depth-in.Gap), Mark: w.Step("m", "L + o", in.Depth+in.Offset),
		ToFace: w.Step("f", "g + o", in.Gap+in.Offset)}, nil
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

// RuleOfThumb applies a rule of thumb inside the sizes it holds for and refuses it outside; the answer is labelled as
// such.
func RuleOfThumb(w *working.Working, in ThumbInput) (ThumbResult, error) {
	if err := quantity.Limits(in); err != nil {
		return ThumbResult{}, err
	}
	if in.From > in.To {
		return ThumbResult{}, quantity.Refuse("valid_to_mm", "Enter the lower end first.", "is below the lower end")
	}
	if !quantity.AtMost(in.From, in.Size) || !quantity.AtMost(in.Size, in.To) {
		return ThumbResult{}, quantity.Refuse("size_mm", "Do not use the rule here; ask.",
			"%s mm is outside %s to %s mm, where the rule holds", quantity.Text(in.Size), quantity.Text(in.From),
			quantity.Text(in.To))
	}
	w.Warn("A rule of thumb, not a specification. It holds from " + quantity.Text(in.From) + " to " +
		quantity.Text(in.To) + " mm only.")
	return ThumbResult{Value: w.Step("v", "k · x + c", in.Per*in.Size+in.Fixed)}, nil
}
