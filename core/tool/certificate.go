package tool

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// CertificatePoint is one line of a calibration certificate.
type CertificatePoint struct {
	Indicated float64 `in:"indicated_Nm" label:"Indicated" ok:">0"`
	True      float64 `in:"true_Nm" label:"True" ok:">0"`
}

// CertificateInput asks a certificate, one way or the other.
type CertificateInput struct {
	Points    []CertificatePoint `in:"points" label:"Points of the certificate"`
	Target    *float64           `in:"target_true_Nm" sym:"T" label:"Torque that shall be true" help:"Give this or the indicated value." ok:">0" eg:"120"`
	Indicated *float64           `in:"indicated_Nm" sym:"S" label:"Indicated value" ok:">0" eg:""`
}

// CertificateResult is a value corrected by the certificate.
type CertificateResult struct {
	Indicated  float64 `out:"indicated_Nm" sym:"Si" label:"Shown on the tool"`
	True       float64 `out:"true_Nm" sym:"Tt" label:"True torque"`
	Correction float64 `out:"correction_Nm" sym:"c" label:"True less shown"`
}

// CertificateCorrection interpolates on a certificate's points; outside them it refuses. Exactly one of true target and
// indicated value is given.
func CertificateCorrection(w *working.Working, in CertificateInput) (CertificateResult, error) {
	if err := quantity.Limits(in); err != nil {
		return CertificateResult{}, err
	}
	if (in.Target == nil) == (in.Indicated == nil) {
		return CertificateResult{}, quantity.Refuse("target_true_Nm", "Give the true torque or the indicated one.",
			"one of target_true_Nm and indicated_Nm is needed, not both")
	}
	if len(in.Points) < 2 {
		return CertificateResult{}, quantity.Refuse("points", "Enter at least two points of the certificate.",
			"has fewer than two")
	}
	for i := 1; i < len(in.Points); i++ {
		if in.Points[i].Indicated <= in.Points[i-1].Indicated || in.Points[i].True <= in.Points[i-1].True {
			return CertificateResult{}, quantity.Refuse("points", "Enter the points from the lowest up.",
				"point %d does not rise above the one before", i+1)
		}
	}
	first, last := in.Points[0], in.Points[len(in.Points)-1]
	var r CertificateResult
	if in.Target != nil {
		if !quantity.AtMost(first.True, *in.Target) || !quantity.AtMost(*in.Target, last.True) {
			return CertificateResult{}, quantity.Refuse("target_true_Nm", "Use a tool whose certificate covers it.",
				"%s N·m is outside the certificate", quantity.Text(*in.Target))
		}
		r.True = *in.Target
		r.Indicated = between(r.True, in.Points, func(p CertificatePoint) (x, y float64) { return p.True, p.Indicated })
	} else {
		if !quantity.AtMost(first.Indicated, *in.Indicated) || !quantity.AtMost(*in.Indicated, last.Indicated) {
			return CertificateResult{}, quantity.Refuse("indicated_Nm", "Use a tool whose certificate covers it.",
				"%s N·m is outside the certificate", quantity.Text(*in.Indicated))
		}
		r.Indicated = *in.Indicated
		r.True = between(r.Indicated, in.Points, func(p CertificatePoint) (x, y float64) { return p.Indicated, p.True })
	}
	w.Step("Si", "straight between the points of the certificate", r.Indicated)
	w.Step("Tt", "straight between the points of the certificate", r.True)
	r.Correction = w.Step("c", "Tt - Si", r.True-r.Indicated)
	return r, nil
}

// RepeatStep is one setting and what was read at it.
type RepeatStep struct {
	Set      float64   `in:"set_Nm" label:"Set" ok:">0"`
	Readings []float64 `in:"readings_Nm" label:"Readings" ok:">0"`
}

// RepeatInput is a series of readings of a setting-type tool.
type RepeatInput struct {
	Steps []RepeatStep `in:"steps" label:"Settings and readings"`
	Limit float64      `in:"max_deviation_pct" sym:"x" label:"Allowed deviation" ok:">0" eg:"4"`
	Least int          `in:"min_readings" sym:"n" label:"Readings at each setting, at least" ok:">=1" def:"5"`
}

// RepeatResult judges the readings.
type RepeatResult struct {
	Pass       bool        `out:"pass" label:"Within the limit"`
	Worst      float64     `out:"worst_deviation_pct" sym:"aw" label:"Worst deviation"`
	Deviations [][]float64 `out:"deviations_pct" label:"Deviations, a row for each setting"`
	Mean       []float64   `out:"mean_deviation_pct" label:"Mean deviation"`
	Range      []float64   `out:"range_pct" label:"Range"`
	Stdev      []float64   `out:"stdev_pct" label:"Scatter"`
}

// RepeatReadings gives the deviations 100·(set − reading)/reading and judges each against the limit. Source: deviation
// formula of ISO 6789-1; range and scatter are plain statistics, not the complete procedure of ISO 6789-2.
func RepeatReadings(w *working.Working, in RepeatInput) (RepeatResult, error) {
	if err := quantity.Limits(in); err != nil {
		return RepeatResult{}, err
	}
	if len(in.Steps) == 0 {
		return RepeatResult{}, quantity.Refuse("steps", "Enter a setting and its readings.", "none given")
	}
	r := RepeatResult{Pass: true}
	for i, s := range in.Steps {
		n := float64(len(s.Readings))
		if len(s.Readings) < in.Least || n == 0 {
			return RepeatResult{}, quantity.Refuse("steps", "Read again.", "setting %d has %d readings, %d are needed",
				i+1, len(s.Readings), in.Least)
		}
		var dev []float64
		var sum, sumDev float64
		lo, hi := math.Inf(1), math.Inf(-1)
		for _, v := range s.Readings {
			a := 100 * (s.Set - v) / v
			dev = append(dev, a)
			if math.Abs(a) > math.Abs(r.Worst) {
				r.Worst = a
			}
			r.Pass = r.Pass && quantity.AtMost(math.Abs(a), in.Limit)
			sum, sumDev, lo, hi = sum+v, sumDev+a, math.Min(lo, v), math.Max(hi, v)
		}
		mean := sum / n
		var squares float64
		for _, v := range s.Readings {
			squares += (v - mean) * (v - mean)
		}
		sd := 0.0
		if n > 1 {
			sd = math.Sqrt(squares / (n - 1))
		}
		r.Deviations, r.Mean = append(r.Deviations, dev),
			append(r.Mean, w.Calc("ā"+digit(i+1), "mean deviation at "+quantity.Text(s.Set)+" N·m",
				"mean of 100 · (set - reading) / reading", sumDev/n, "pct", ""))
		r.Range, r.Stdev = append(r.Range, 100*(hi-lo)/mean), append(r.Stdev, 100*sd/mean)
	}
	w.Step("aw", "the largest of all, with its sign", r.Worst)
	return r, nil
}

// UncertaintyPart is one source of error.
type UncertaintyPart struct {
	Value       float64  `in:"value" label:"Value" ok:">=0"`
	Kind        string   `in:"kind" label:"Kind" one:"standard expanded rect triangle ushape resolution"`
	K           float64  `in:"k" label:"k, when expanded" ok:">0" def:"2"`
	Sensitivity float64  `in:"sensitivity" label:"Sensitivity" def:"1"`
	Dof         *float64 `in:"dof" label:"Degrees of freedom" help:"Empty: infinitely many." ok:">=1"`
}

// UncertaintyInput are the parts of an uncertainty budget, all in one unit.
type UncertaintyInput struct {
	Parts []UncertaintyPart `in:"components" label:"Sources of error"`
	KOut  float64           `in:"k_out" sym:"k" label:"Coverage of the result" ok:">0" def:"2"`
}

// UncertaintyResult is the combined uncertainty.
type UncertaintyResult struct {
	Expanded float64  `out:"expanded" sym:"U" label:"Expanded uncertainty"`
	Combined float64  `out:"combined" sym:"uc" label:"Combined standard uncertainty"`
	Dof      *float64 `out:"dof_effective" sym:"νe" label:"Effective degrees of freedom"`
}

var uncertaintyDivisor = map[string]float64{"standard": 1, "rect": math.Sqrt(3), "triangle": math.Sqrt(6),
	"ushape": math.Sqrt2, "resolution": 2 * math.Sqrt(3)}

// UncertaintyCombine adds independent uncertainties in quadrature, with effective degrees of freedom. Source: JCGM 100
// (GUM).
func UncertaintyCombine(w *working.Working, in UncertaintyInput) (UncertaintyResult, error) {
	if err := quantity.Limits(in); err != nil {
		return UncertaintyResult{}, err
	}
	if len(in.Parts) == 0 {
		return UncertaintyResult{}, quantity.Refuse("components", "Enter at least one source of error.", "none given")
	}
	var sum, welch float64
	for i, p := range in.Parts {
		div := p.K
		if p.Kind != "expanded" {
			div = uncertaintyDivisor[p.Kind]
		}
		cu := w.Calc("u"+digit(i+1), p.Kind+", as standard uncertainty", "", p.Value/div*p.Sensitivity, "", "")
		sum += cu * cu
		if p.Dof != nil {
			welch += math.Pow(cu, 4) / *p.Dof
		}
	}
	if sum == 0 {
		return UncertaintyResult{}, quantity.Refuse("components", "Enter a value above zero.", "are all zero")
	}
	r := UncertaintyResult{Combined: w.Step("uc", "root of the sum of squares", math.Sqrt(sum))}
	r.Expanded = w.Step("U", "k · uc", in.KOut*r.Combined)
	if welch > 0 {
		v := math.Pow(r.Combined, 4) / welch
		r.Dof = &v
	}
	return r, nil
}
