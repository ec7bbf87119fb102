package measure

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// OffsetInput are four rim readings of a dial carried by one shaft on the other's rim; plunger pushed in counts
// positive.
type OffsetInput struct {
	R0      float64  `in:"r0_mm" sym:"r0" label:"Reading at the top" eg:"0"`
	R90     float64  `in:"r90_mm" sym:"r1" label:"Reading at the right" eg:"0.05"`
	R180    float64  `in:"r180_mm" sym:"r2" label:"Reading at the bottom" eg:"0.14"`
	R270    float64  `in:"r270_mm" sym:"r3" label:"Reading at the left" eg:"0.09"`
	Sag     float64  `in:"sag_mm" sym:"s" label:"Sag of the bracket, read at the bottom" help:"Turn the bracket on a stiff bar; usually negative." def:"0"`
	Closure float64  `in:"closure_tol_mm" sym:"ct" label:"Readings must close within" ok:">=0" def:"0.02"`
	Limit   *float64 `in:"limit_mm" sym:"L" label:"Allowed offset" ok:">=0" eg:"0.05"`
}

// OffsetResult is where the other axis lies.
type OffsetResult struct {
	Offset    float64  `out:"offset_mm" sym:"e" label:"Offset of the axes"`
	Direction *float64 `out:"direction_deg" sym:"φ" label:"The other axis lies towards"`
	Up        float64  `out:"up_mm" sym:"u" label:"Up"`
	Right     float64  `out:"right_mm" sym:"v" label:"To the right"`
	Closure   float64  `out:"closure_mm" sym:"c" label:"Closing error"`
	ClosureOK bool     `out:"closure_ok" label:"Readings close"`
	Pass      *bool    `out:"pass" label:"Within the limit"`
}

// AxisOffset gives the offset of two axes from four rim readings, sag taken off. Source: rim alignment geometry.
func AxisOffset(w *working.Working, in OffsetInput) (OffsetResult, error) {
	if err := quantity.Limits(in); err != nil {
		return OffsetResult{}, err
	}
	b, right, left := in.R180-in.Sag, in.R90-in.Sag/2, in.R270-in.Sag/2
	r := OffsetResult{Up: w.Step("u", "(r0 - (r2 - s)) / 2", (in.R0-b)/2),
		Right: w.Step("v", "(r1 - r3) / 2", (right-left)/2)}
	r.Offset = w.Step("e", "√(u ^ 2 + v ^ 2)", math.Hypot(r.Up, r.Right))
	if r.Offset >= 1e-9 {
		d := w.Step("φ", "clockwise from the top", quantity.Turned(quantity.Deg(math.Atan2(r.Right, r.Up))))
		r.Direction = &d
	}
	r.Closure = w.Step("c", "r0 + (r2 - s) - (r1 + r3 - s)", in.R0+b-(right+left))
	if r.ClosureOK = quantity.AtMost(math.Abs(r.Closure), in.Closure); !r.ClosureOK {
		w.Warn("Top and bottom do not add up to right and left: the bracket slipped or the rim is not round. " +
			"Read again.")
	}
	if in.Limit != nil {
		p := quantity.AtMost(r.Offset, *in.Limit) && r.ClosureOK
		r.Pass = &p
	}
	return r, nil
}

// RimInput are four steps read at a flange rim.
type RimInput struct {
	Top    float64 `in:"top_mm" sym:"r0" label:"Step at the top" eg:"3"`
	Right  float64 `in:"right_mm" sym:"r1" label:"At the right" eg:"0"`
	Bottom float64 `in:"bottom_mm" sym:"r2" label:"At the bottom" eg:"-1"`
	Left   float64 `in:"left_mm" sym:"r3" label:"At the left" eg:"0"`
	Limit  float64 `in:"limit_mm" sym:"L" label:"Allowed offset" ok:">=0" eg:"1.5"`
}

// RimResult is what a shift can and cannot mend.
type RimResult struct {
	Offset    float64  `out:"offset_mm" sym:"e" label:"Move the other rim by"`
	Direction *float64 `out:"direction_deg" sym:"φ" label:"Away from"`
	Common    float64  `out:"common_mm" sym:"m" label:"Step that no shift removes"`
	Up        float64  `out:"shift_up_mm" sym:"u" label:"Shift in height"`
	Side      float64  `out:"shift_side_mm" sym:"v" label:"Shift sideways"`
	Pass      bool     `out:"pass" label:"Within the limit"`
}

// RimShift splits four rim steps into the common step and the shift that centres the rest. Source: geometry.
func RimShift(w *working.Working, in RimInput) (RimResult, error) {
	if err := quantity.Limits(in); err != nil {
		return RimResult{}, err
	}
	o, err := Rim([4]float64{in.Top, in.Right, in.Bottom, in.Left}, quantity.Length(in.Limit))
	if err != nil {
		return RimResult{}, err
	}
	w.Step("m", "(r0 + r1 + r2 + r3) / 4", o.Common)
	w.Step("u", "(r0 - r2) / 2", o.ShiftUp)
	w.Step("v", "(r1 - r3) / 2", o.ShiftSide)
	w.Step("e", "√(u ^ 2 + v ^ 2)", o.Offset)
	return RimResult{o.Offset, o.Direction, o.Common, o.ShiftUp, o.ShiftSide, o.Pass}, nil
}

// GapInput are gaps at any number of points around a joint.
type GapInput struct {
	Gaps     []float64 `in:"gaps_mm" label:"Gaps, clockwise from the top" help:"At least three, evenly spread." ok:">=0" eg:"3.1 3.2 3.4 3.3 3.0"`
	Diameter float64   `in:"face_diameter_mm" sym:"D" label:"Measured on a circle of" ok:">0" eg:"300"`
	Limit    float64   `in:"limit_mm" sym:"L" label:"Allowed spread" ok:">=0" eg:"0.5"`
}

// GapResult is spread and tilt.
type GapResult struct {
	Spread float64  `out:"spread_mm" sym:"s" label:"Widest less narrowest"`
	Pass   bool     `out:"pass" label:"Within the limit"`
	Mean   float64  `out:"mean_mm" sym:"m" label:"Mean gap"`
	Tilt   float64  `out:"tilt_deg" sym:"τ" label:"Tilt"`
	Widest *float64 `out:"widest_direction_deg" sym:"φ" label:"Widest towards"`
}

// GapSpread gives spread and tilt of gaps at any number of evenly spread points, three or more. Source: first harmonic
// by least squares; the spread over the diameter is the tilt a straight edge would show.
func GapSpread(w *working.Working, in GapInput) (GapResult, error) {
	if err := quantity.Limits(in); err != nil {
		return GapResult{}, err
	}
	if len(in.Gaps) < 3 || len(in.Gaps) > 360 {
		return GapResult{}, quantity.Refuse("gaps_mm", "Measure at three points or more, evenly spread.",
			"%d readings given", len(in.Gaps))
	}
	h := harmonic(in.Gaps)
	r := GapResult{Spread: w.Step("s", "widest less narrowest", h.hi-h.lo), Mean: w.Step("m", "mean of all", h.mean)}
	amp := w.Calc("a", "half the swing of the fitted plane", "first harmonic by least squares", h.amplitude(),
		quantity.Millimetre, "")
	r.Tilt = w.Step("τ", "atan(2 · a / D)", quantity.Deg(math.Atan(2*amp/in.Diameter)))
	r.Widest = h.direction()
	if r.Widest != nil {
		w.Step("φ", "clockwise from the top", *r.Widest)
	}
	r.Pass = quantity.AtMost(r.Spread, in.Limit)
	return r, nil
}

// wave is the first harmonic of readings evenly spread around a circle.
type wave struct{ mean, a, b, lo, hi float64 }

func harmonic(list []float64) wave {
	n := float64(len(list))
	h := wave{lo: math.Inf(1), hi: math.Inf(-1)}
	for i, v := range list {
		phi := 2 * math.Pi * float64(i) / n
		h.mean, h.a, h.b = h.mean+v/n, h.a+2/n*v*math.Cos(phi), h.b+2/n*v*math.Sin(phi)
		h.lo, h.hi = math.Min(h.lo, v), math.Max(h.hi, v)
	}
	return h
}

func (h wave) amplitude() float64 { return math.Hypot(h.a, h.b) }

func (h wave) at(i, n int) float64 {
	phi := 2 * math.Pi * float64(i) / float64(n)
	return h.mean + h.a*math.Cos(phi) + h.b*math.Sin(phi)
}

// direction of the highest point in degrees clockwise from the first reading; nil when there is none.
func (h wave) direction() *float64 {
	if h.amplitude() < 1e-9 {
		return nil
	}
	d := quantity.Turned(quantity.Deg(math.Atan2(h.b, h.a)))
	return &d
}

// RunoutInput are dial readings around a turning part.
type RunoutInput struct {
	Readings []float64 `in:"readings_mm" label:"Readings, evenly spread, clockwise" eg:"0 0.02 0.04 0.03 0.01 -0.01"`
	Limit    float64   `in:"limit_mm" sym:"L" label:"Allowed runout" ok:">=0" eg:"0.05"`
}

// RunoutResult splits runout into offset and form.
type RunoutResult struct {
	TIR  float64  `out:"tir_mm" sym:"t" label:"Runout, total"`
	Pass bool     `out:"pass" label:"Within the limit"`
	Ecc  float64  `out:"eccentricity_mm" sym:"e" label:"Of it eccentricity"`
	High *float64 `out:"high_direction_deg" sym:"φ" label:"High spot at"`
	Form float64  `out:"form_mm" sym:"f" label:"Out of round"`
}

// Runout judges total runout and splits off the first harmonic; a pure offset e shows 2·e. Refused: fewer than four
// readings.
func Runout(w *working.Working, in RunoutInput) (RunoutResult, error) {
	if err := quantity.Limits(in); err != nil {
		return RunoutResult{}, err
	}
	n := len(in.Readings)
	if n < 4 {
		return RunoutResult{}, quantity.Refuse("readings_mm", "Read at four points or more.", "%d readings given", n)
	}
	h := harmonic(in.Readings)
	lo, hi := math.Inf(1), math.Inf(-1)
	for i, v := range in.Readings {
		d := v - h.at(i, n)
		lo, hi = math.Min(lo, d), math.Max(hi, d)
	}
	r := RunoutResult{TIR: w.Step("t", "highest less lowest", h.hi-h.lo),
		Ecc: w.Step("e", "first harmonic by least squares", h.amplitude()), High: h.direction(),
		Form: w.Step("f", "what is left, highest less lowest", hi-lo)}
	r.Pass = quantity.AtMost(r.TIR, in.Limit)
	return r, nil
}

// ProjectionInput is a stud through a joint.
type ProjectionInput struct {
	Stud    float64  `in:"stud_length_mm" sym:"L" label:"Stud length" ok:">0" eg:"180"`
	Grip    float64  `in:"grip_mm" sym:"g" label:"Grip, without nuts and washers" ok:">0" eg:"110"`
	Nut     float64  `in:"nut_height_mm" sym:"h" label:"Height of one nut" ok:">0" eg:"27"`
	Washers float64  `in:"washers_mm" sym:"s" label:"Washers, all together" ok:">=0" def:"0"`
	Pitch   float64  `in:"pitch_mm" sym:"P" label:"Pitch" ok:">0" eg:"3"`
	Least   float64  `in:"min_threads" sym:"n" label:"Threads past each nut, at least" ok:">=0" def:"1"`
	End1    *float64 `in:"end_1_mm" sym:"e1" label:"Measured at end 1" ok:">=0" eg:""`
	End2    *float64 `in:"end_2_mm" sym:"e2" label:"Measured at end 2" ok:">=0" eg:""`
}

// ProjectionResult is what stands past each nut.
type ProjectionResult struct {
	Each    float64  `out:"each_mm" sym:"x" label:"Past each nut"`
	Threads float64  `out:"each_threads" sym:"z" label:"In threads"`
	OK      bool     `out:"ok" label:"Enough"`
	Move    *float64 `out:"move_mm" sym:"m" label:"Wind the stud towards end 2 by"`
}

// ThreadProjection gives the equal projection of a stud, and how far to wind it when its ends differ. Refused: a stud
// too short, one measured end without the other.
func ThreadProjection(w *working.Working, in ProjectionInput) (ProjectionResult, error) {
	if err := quantity.Limits(in); err != nil {
		return ProjectionResult{}, err
	}
	if (in.End1 == nil) != (in.End2 == nil) {
		return ProjectionResult{}, quantity.Refuse("end_2_mm", "Measure both ends.",
			"one end is given without the other")
	}
	r := ProjectionResult{Each: w.Step("x", "(L - g - 2 · h - s) / 2", (in.Stud-in.Grip-2*in.Nut-in.Washers)/2)}
	if r.Each < 0 {
		return ProjectionResult{}, quantity.Refuse("stud_length_mm", "Use a longer stud.",
			"does not reach through both nuts")
	}
	r.Threads = w.Step("z", "x / P", r.Each/in.Pitch)
	r.OK = quantity.AtMost(in.Least, r.Threads)
	if in.End1 != nil {
		m := w.Step("m", "(e1 - e2) / 2", (*in.End1-*in.End2)/2)
		r.Move = &m
	}
	return r, nil
}

// OvalityInput are diameters at several angles.
type OvalityInput struct {
	Diameters []float64 `in:"diameters_mm" label:"Diameters at several angles" ok:">0" eg:"12.01 12.04 11.98"`
	Basis     string    `in:"basis" label:"Against" one:"nominal mean" def:"mean"`
	Nominal   *float64  `in:"nominal_mm" sym:"D" label:"Nominal diameter" ok:">0" eg:"12"`
	Limit     float64   `in:"limit_pct" sym:"L" label:"Allowed" ok:">=0" eg:"1"`
}

// OvalityResult is the out-of-roundness.
type OvalityResult struct {
	Ovality float64 `out:"ovality_pct" sym:"o" label:"Out of round"`
	Pass    bool    `out:"pass" label:"Within the limit"`
}

// Ovality judges out-of-roundness in percent of the nominal or of the mean of the extremes.
func Ovality(w *working.Working, in OvalityInput) (OvalityResult, error) {
	if err := quantity.Limits(in); err != nil {
		return OvalityResult{}, err
	}
	if len(in.Diameters) < 2 {
		return OvalityResult{}, quantity.Refuse("diameters_mm", "Measure at two angles or more.", "%d given",
			len(in.Diameters))
	}
	h := harmonic(in.Diameters)
	w.Calc("Dx", "largest", "", h.hi, quantity.Millimetre, "")
	w.Calc("Dn", "smallest", "", h.lo, quantity.Millimetre, "")
	var r OvalityResult
	if in.Basis == "nominal" {
		if in.Nominal == nil {
			return OvalityResult{}, quantity.Refuse("nominal_mm", "Enter the nominal diameter.", "is missing")
		}
		r.Ovality = w.Step("o", "100 · (Dx - Dn) / D", 100*(h.hi-h.lo) / *in.Nominal)
	} else {
		r.Ovality = w.Step("o", "200 · (Dx - Dn) / (Dx + Dn)", 200*(h.hi-h.lo)/(h.hi+h.lo))
	}
	r.Pass = quantity.AtMost(r.Ovality, in.Limit)
	return r, nil
}

// SquareInput is a rectangle with its diagonals.
type SquareInput struct {
	A     float64 `in:"side_a_mm" sym:"a" label:"Long side" ok:">0" eg:"3000"`
	B     float64 `in:"side_b_mm" sym:"b" label:"Short side" ok:">0" eg:"1200"`
	D1    float64 `in:"diagonal_1_mm" sym:"d1" label:"First diagonal" ok:">0" eg:"3234"`
	D2    float64 `in:"diagonal_2_mm" sym:"d2" label:"Second diagonal" ok:">0" eg:"3228"`
	Limit float64 `in:"limit_mm" sym:"L" label:"Allowed difference" ok:">=0" eg:"3"`
}

// SquareResult is how far from square.
type SquareResult struct {
	Difference float64 `out:"difference_mm" sym:"Δ" label:"Difference of the diagonals"`
	Pass       bool    `out:"pass" label:"Within the limit"`
	Required   float64 `out:"required_mm" sym:"d" label:"Diagonals should be"`
	Shift      float64 `out:"corner_shift_mm" sym:"s" label:"Push the opposite side along by"`
	Angle      float64 `out:"angle_error_deg" sym:"φ" label:"Out of square by"`
	Closure    float64 `out:"closure_mm2" sym:"c" label:"Closing error of the four measures"`
}

// Squareness gives required diagonals and the sideways shift that squares a frame. Refused: diagonals no frame of these
// sides has.
func Squareness(w *working.Working, in SquareInput) (SquareResult, error) {
	if err := quantity.Limits(in); err != nil {
		return SquareResult{}, err
	}
	q := in.D1*in.D1 - in.D2*in.D2
	sine := q / (4 * in.A * in.B)
	if math.Abs(sine) >= 1 {
		return SquareResult{}, quantity.Refuse("diagonal_1_mm", "Measure again.",
			"no frame with these sides has such diagonals")
	}
	r := SquareResult{Required: w.Step("d", "√(a ^ 2 + b ^ 2)", math.Hypot(in.A, in.B)),
		Difference: w.Step("Δ", "d1 - d2", in.D1-in.D2)}
	r.Shift = w.Step("s", "(d1 ^ 2 - d2 ^ 2) / (4 · a)", q/(4*in.A))
	r.Angle = w.Step("φ", "asin((d1 ^ 2 - d2 ^ 2) / (4 · a · b))", quantity.Deg(math.Asin(sine)))
	r.Closure = w.Step("c", "d1 ^ 2 + d2 ^ 2 - 2 · (a ^ 2 + b ^ 2)", in.D1*in.D1+in.D2*in.D2-2*(in.A*in.A+in.B*in.B))
	r.Pass = quantity.AtMost(math.Abs(r.Difference), in.Limit)
	return r, nil
}

// LevelInput is a level read twice, turned end for end between.
type LevelInput struct {
	One   float64 `in:"reading_1_mm_per_m" sym:"r1" label:"First reading" eg:"1.2"`
	Two   float64 `in:"reading_2_mm_per_m" sym:"r2" label:"Turned end for end" help:"Same sign as seen on the level." eg:"-0.8"`
	Span  float64 `in:"span_mm" sym:"l" label:"Between the feet" ok:">0" eg:"900"`
	Limit float64 `in:"limit_mm_per_m" sym:"L" label:"Allowed slope" ok:">=0" eg:"0.5"`
}

// LevelResult is the slope without the level's own error.
type LevelResult struct {
	Slope float64 `out:"slope_mm_per_m" sym:"s" label:"Slope"`
	Pass  bool    `out:"pass" label:"Within the limit"`
	Shim  float64 `out:"shim_mm" sym:"x" label:"Shim under the low end"`
	Zero  float64 `out:"level_zero_mm_per_m" sym:"z" label:"Error of the level itself"`
	Angle float64 `out:"angle_deg" sym:"φ" label:"As an angle"`
}

// LevelSlope gives the true slope from two readings, and the shim. Source: reversal.
func LevelSlope(w *working.Working, in LevelInput) (LevelResult, error) {
	if err := quantity.Limits(in); err != nil {
		return LevelResult{}, err
	}
	r := LevelResult{Slope: w.Step("s", "(r1 - r2) / 2", (in.One-in.Two)/2),
		Zero: w.Step("z", "(r1 + r2) / 2", (in.One+in.Two)/2)}
	r.Shim = w.Step("x", "abs(s) · l / 1000", math.Abs(r.Slope)*in.Span/1000)
	r.Angle = w.Step("φ", "atan(s / 1000)", quantity.Deg(math.Atan(r.Slope/1000)))
	r.Pass = quantity.AtMost(math.Abs(r.Slope), in.Limit)
	return r, nil
}
