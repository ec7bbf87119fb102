package preload

import (
	"math"
	"slices"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

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

// TorqueAngleAnalysis finds the elastic line of a pull and names what is unusual: already tight, cross-threaded,
// bottomed out, yielded, not reached. A suspicion is a reason to look, not a proof. Refused: fewer than 12 samples,
// angles that do not rise, a pull that stayed under a fifth of the target. Source: own rule (local slopes by least
// squares over five samples).
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
		r.Slope, r.Origin, r.Prevailing, r.SnugAngle, r.SnugTorque, r.FinalAngle = &k, &start, &prevailing, &snugA,
			&snugT, &final
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
			return t, quantity.Refuse("points", "Enter the samples by rising angle.",
				"sample %d does not turn further than the one before", i+1)
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
