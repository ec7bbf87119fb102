// Package measure judges what is measured on a joint: gaps, offsets, windows, nuts that moved. Lengths in mm, angles in
// degrees clockwise from the top as the technician sees it. Limits are inclusive, with a slack for binary rounding.
package measure

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// Gap is the result of gaps measured at equal stations around a joint. Directions are nil when the tilt is nil.
type Gap struct {
	Mean, MaxMin, TiltAmplitude float64
	WidestDeg                   *float64
	TiltAngleDeg                float64
	WidestStation               *int
	ResidualRMS                 float64
	Pass                        bool
}

// GapTilt fits a tilted plane to gaps at 4, 8, 12 or 16 stations (clockwise, the first at the top) measured on a circle
// of faceDiameter mm; pass: widest less narrowest within limit. Source: first harmonic by least squares.
func GapTilt(w *working.Working, gaps []float64, face, most quantity.Length) (Gap, error) {
	faceDiameter, limit := float64(face), float64(most)
	n := len(gaps)
	if n != 4 && n != 8 && n != 12 && n != 16 {
		return Gap{}, quantity.Refuse("gaps", "Measure at 4, 8, 12 or 16 stations.", "%d readings given", n)
	}
	if err := quantity.Positive("face_diameter", faceDiameter); err != nil {
		return Gap{}, err
	}
	if limit < 0 || !quantity.Finite(limit) {
		return Gap{}, quantity.Refuse("limit", "Enter zero or more.", "is negative")
	}
	for i, v := range gaps {
		if v < 0 || !quantity.Finite(v) {
			return Gap{}, quantity.Refuse("gaps", "Enter zero or more.", "reading %d is not a gap", i+1)
		}
	}
	h := harmonic(gaps)
	g := Gap{Mean: h.mean}
	w.Step("m", "mean of all", g.Mean)
	g.MaxMin, g.TiltAmplitude = w.Step("s", "widest less narrowest", h.hi-h.lo),
		w.Step("a", "first harmonic by least squares", h.amplitude())
	g.TiltAngleDeg = w.Step("τ", "atan(2 · a / D)", math.Atan(2*g.TiltAmplitude/faceDiameter)*180/math.Pi)
	if g.WidestDeg = h.direction(); g.WidestDeg != nil {
		station := int(math.Round(*g.WidestDeg/360*float64(n)))%n + 1
		g.WidestStation = &station
	}
	for i, v := range gaps {
		g.ResidualRMS += math.Pow(v-h.at(i, n), 2) / float64(n)
	}
	g.ResidualRMS = math.Sqrt(g.ResidualRMS)
	g.Pass = quantity.AtMost(g.MaxMin, limit)
	return g, nil
}

// RimOffset is what four rim readings a quarter apart say: the step that stays, and the shift that centres the rest.
type RimOffset struct {
	Common    float64 // mean of the four: a step in diameter that no shift removes
	ShiftUp   float64 // half the difference top less bottom
	ShiftSide float64 // half the difference right less left
	Offset    float64 // length of the shift
	Direction *float64
	Pass      bool
}

// Rim works out rim offsets read at top, right, bottom and left (mm, positive: the far rim stands proud). Pass: offset
// within limit.
func Rim(r [4]float64, limit quantity.Length) (RimOffset, error) {
	for i, v := range r {
		if !quantity.Finite(v) {
			return RimOffset{}, quantity.Refuse("offset", "Enter a plain number.", "reading %d is not a number", i+1)
		}
	}
	o := RimOffset{Common: (r[0] + r[1] + r[2] + r[3]) / 4, ShiftUp: (r[0] - r[2]) / 2, ShiftSide: (r[1] - r[3]) / 2}
	o.Offset = math.Hypot(o.ShiftUp, o.ShiftSide)
	if o.Offset >= 1e-9 {
		d := math.Mod(math.Atan2(o.ShiftSide, o.ShiftUp)*180/math.Pi+360, 360)
		o.Direction = &d
	}
	o.Pass = quantity.AtMost(quantity.Length(o.Offset), limit)
	return o, nil
}

// CheckPasses is the verdict over passes at full torque.
type CheckPasses struct {
	MovedCounts  []int
	CompletePass *int  // first pass in which none moved
	MovedLast    []int // positions that moved in the last pass
	Verdict      string
}

// CheckPass judges full-torque circular passes: rotation in degrees per bolt and pass; a bolt moved when its rotation
// is above limit. Verdict complete, repeat, or escalate when maxPasses did not settle it. Source: full-torque check
// pass of ASME PCC-1.
func CheckPass(passes [][]float64, limit quantity.Angle, maxPasses int) (CheckPasses, error) {
	limitDeg := float64(limit)
	if len(passes) == 0 || len(passes[0]) == 0 {
		return CheckPasses{}, quantity.Refuse("passes", "Record a check pass.", "none given")
	}
	if limitDeg < 0 || maxPasses < 1 {
		return CheckPasses{}, quantity.Refuse("limit", "Enter a limit of zero or more and at least one pass.",
			"is not usable")
	}
	var out CheckPasses
	for i, p := range passes {
		if len(p) != len(passes[0]) {
			return CheckPasses{}, quantity.Refuse("passes", "Record every bolt in every pass.",
				"pass %d has %d bolts, the first %d", i+1, len(p), len(passes[0]))
		}
		moved := []int{}
		for b, deg := range p {
			if !quantity.Finite(deg) {
				return CheckPasses{}, quantity.Refuse("passes", "Enter a plain number.",
					"bolt %d of pass %d is not a number", b+1, i+1)
			}
			if !quantity.AtMost(math.Abs(deg), limitDeg) {
				moved = append(moved, b+1)
			}
		}
		out.MovedCounts = append(out.MovedCounts, len(moved))
		if len(moved) == 0 && out.CompletePass == nil {
			n := i + 1
			out.CompletePass = &n
		}
		out.MovedLast = moved
	}
	switch {
	case out.CompletePass != nil:
		out.Verdict = "complete"
	case len(passes) >= maxPasses:
		out.Verdict = "escalate"
	default:
		out.Verdict = "repeat"
	}
	return out, nil
}
