// Package statistics says what many readings tell: of one joint, of a gauge and those who read it, of a lot from a
// sample. It stands apart from the room that judges single readings, which must be small enough for the browser.
package statistics

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// StatsInput are readings of one joint or of many like it.
type StatsInput struct {
	Values     []float64 `in:"values" label:"Readings" eg:"118 121 119 124 120 117"`
	Low        float64   `in:"low" sym:"l" label:"Window from" eg:"110"`
	High       float64   `in:"high" sym:"h" label:"Window to" eg:"130"`
	Confidence float64   `in:"confidence" sym:"γ" label:"Confidence" ok:">0,<1" def:"0.95"`
}

// StatsResult describes the readings.
type StatsResult struct {
	Mean   float64  `out:"mean" sym:"x" label:"Mean"`
	Stdev  float64  `out:"stdev" sym:"s" label:"Standard deviation"`
	Count  int      `out:"count" sym:"n" label:"Readings"`
	Min    float64  `out:"min" label:"Lowest"`
	Max    float64  `out:"max" label:"Highest"`
	Cp     *float64 `out:"cp" sym:"Cp" label:"Cp"`
	Cpk    *float64 `out:"cpk" sym:"Cpk" label:"Cpk"`
	CILow  float64  `out:"ci_low" sym:"ml" label:"Mean, confidence from"`
	CIHigh float64  `out:"ci_high" sym:"mh" label:"Mean, confidence to"`
	Out    int      `out:"out_of_window" label:"Outside the window"`
}

// JointStats describes readings against a window. Refused: fewer than two, an empty window. Source: form of ISO 22514;
// ISO 2602.
func JointStats(w *working.Working, in StatsInput) (StatsResult, error) {
	if err := quantity.Limits(in); err != nil {
		return StatsResult{}, err
	}
	if len(in.Values) < 2 {
		return StatsResult{}, quantity.Refuse("values", "Enter two readings or more.", "%d given", len(in.Values))
	}
	if in.High <= in.Low {
		return StatsResult{}, quantity.Refuse("high", "Enter the lower end first.", "is not above the lower end")
	}
	r := StatsResult{Count: len(in.Values), Min: slices.Min(in.Values), Max: slices.Max(in.Values)}
	n := w.Step("n", "", float64(r.Count))
	m, s := stat.MeanStdDev(in.Values, nil)
	r.Mean, r.Stdev = w.Step("x", "mean", m), w.Step("s", "standard deviation with n - 1", s)
	for _, v := range in.Values {
		if !quantity.AtMost(in.Low, v) || !quantity.AtMost(v, in.High) {
			r.Out++
		}
	}
	if s >= 1e-12*math.Max(1, math.Abs(m)) {
		cp := w.Step("Cp", "(h - l) / (6 · s)", (in.High-in.Low)/(6*s))
		cpk := w.Step("Cpk", "min( h - x , x - l ) / (3 · s)", math.Min(in.High-m, m-in.Low)/(3*s))
		r.Cp, r.Cpk = &cp, &cpk
	}
	t := w.Calc("t", "Student t", "both sides, n - 1 degrees",
		distuv.StudentsT{Mu: 0, Sigma: 1, Nu: n - 1}.Quantile((1+in.Confidence)/2), "", "")
	r.CILow, r.CIHigh = w.Step("ml", "x - t · s / √(n)", m-t*s/math.Sqrt(n)),
		w.Step("mh", "x + t · s / √(n)", m+t*s/math.Sqrt(n))
	return r, nil
}

// RRInput is a gauge study.
type RRInput struct {
	Data      [][][]float64 `in:"data" label:"Readings by operator, part and trial"`
	Pool      bool          `in:"pool_interaction" label:"Pool the interaction" def:"false"`
	Tolerance *float64      `in:"tolerance" label:"Tolerance to judge against" ok:">0" eg:""`
}

// RRResult is how much of the spread is the gauge.
type RRResult struct {
	GRRPct        float64  `out:"grr_pct" sym:"q" label:"Gauge, of the total spread"`
	GRR           float64  `out:"grr_sd" sym:"sg" label:"Gauge, standard deviation"`
	Repeat        float64  `out:"repeatability_sd" sym:"se" label:"Repeatability"`
	Reproduce     float64  `out:"reproducibility_sd" sym:"so" label:"Reproducibility"`
	Part          float64  `out:"part_sd" sym:"sp" label:"Parts"`
	Total         float64  `out:"total_sd" sym:"st" label:"Total"`
	NDC           *int     `out:"ndc" label:"Groups it can tell apart"`
	TolerancePct  *float64 `out:"tolerance_pct" label:"Of the tolerance"`
	SSOperator    float64  `out:"ss_operator" label:"Sum of squares, operators"`
	SSPart        float64  `out:"ss_part" label:"Sum of squares, parts"`
	SSInteraction float64  `out:"ss_interaction" label:"Sum of squares, interaction"`
	SSError       float64  `out:"ss_error" label:"Sum of squares, error"`
	SSTotal       float64  `out:"ss_total" label:"Sum of squares, total"`
}

// GaugeRR is a crossed two-way analysis of variance of a gauge study. Refused: a study that is not full, no variance at
// all. Source: ANOVA method of measurement-system analysis textbooks; ISO 5725-2 ideas.
func GaugeRR(w *working.Working, in RRInput) (RRResult, error) {
	if err := quantity.Limits(in); err != nil {
		return RRResult{}, err
	}
	no := len(in.Data)
	if no < 2 || len(in.Data[0]) < 2 || len(in.Data[0][0]) < 2 {
		return RRResult{}, quantity.Refuse("data", "Have two operators measure two parts twice, or more.",
			"is too small")
	}
	np, nr := len(in.Data[0]), len(in.Data[0][0])
	o, p, r := float64(no), float64(np), float64(nr)
	mean := 0.0
	byOp, byPart, cell := make([]float64, no), make([]float64, np), make([][]float64, no)
	for i, parts := range in.Data {
		if len(parts) != np {
			return RRResult{}, quantity.Refuse("data", "Measure every part by every operator equally often.",
				"operator %d has %d parts, the first %d", i+1, len(parts), np)
		}
		cell[i] = make([]float64, np)
		for j, trials := range parts {
			if len(trials) != nr {
				return RRResult{}, quantity.Refuse("data", "Measure every part by every operator equally often.",
					"operator %d, part %d has %d trials, the first %d", i+1, j+1, len(trials), nr)
			}
			for _, v := range trials {
				if !quantity.Finite(v) {
					return RRResult{}, quantity.Refuse("data", "Enter plain numbers.",
						"operator %d, part %d has a reading that is not a number", i+1, j+1)
				}
				mean, byOp[i], byPart[j], cell[i][j] = mean+v/(o*p*r), byOp[i]+v/(p*r), byPart[j]+v/(o*r),
					cell[i][j]+v/r
			}
		}
	}
	var out RRResult
	for i := range no {
		out.SSOperator += p * r * sq(byOp[i]-mean)
	}
	for j := range np {
		out.SSPart += o * r * sq(byPart[j]-mean)
	}
	for i, parts := range in.Data {
		for j, trials := range parts {
			out.SSInteraction += r * sq(cell[i][j]-byOp[i]-byPart[j]+mean)
			for _, v := range trials {
				out.SSError += sq(v - cell[i][j])
				out.SSTotal += sq(v - mean)
			}
		}
	}
	mso, msp := out.SSOperator/(o-1), out.SSPart/(p-1)
	msi, mse := out.SSInteraction/((o-1)*(p-1)), out.SSError/(o*p*(r-1))
	if in.Pool {
		mse = (out.SSInteraction + out.SSError) / ((o-1)*(p-1) + o*p*(r-1))
		msi = mse
	}
	inter, op, part := math.Max(0, (msi-mse)/r), math.Max(0, (mso-msi)/(p*r)), math.Max(0, (msp-msi)/(o*r))
	out.Repeat, out.Reproduce, out.Part = w.Step("se", "root of the mean square of error", math.Sqrt(mse)),
		w.Step("so", "root of operators and interaction", math.Sqrt(op+inter)),
		w.Step("sp", "root of the variance of parts", math.Sqrt(part))
	out.GRR = w.Step("sg", "√(se ^ 2 + so ^ 2)", math.Sqrt(mse+op+inter))
	out.Total = w.Step("st", "√(sg ^ 2 + sp ^ 2)", math.Sqrt(mse+op+inter+part))
	if out.Total == 0 {
		return RRResult{}, quantity.Refuse("data", "Measure parts that differ, with a gauge that shows it.",
			"has no variance at all")
	}
	out.GRRPct = w.Step("q", "100 · sg / st", 100*out.GRR/out.Total)
	if out.GRR > 0 {
		if k := math.Floor(1.41 * out.Part / out.GRR); k < 1e9 {
			n := int(k)
			out.NDC = &n
		}
	}
	if in.Tolerance != nil {
		t := 600 * out.GRR / *in.Tolerance
		out.TolerancePct = &t
	}
	return out, nil
}

func sq(v float64) float64 { return v * v }

// SampleInput is a lot to be inspected.
type SampleInput struct {
	Lot    int     `in:"lot_count" sym:"N" label:"Bolts in the lot" ok:"1..1000000" eg:"48"`
	Frac   float64 `in:"sample_frac" sym:"f" label:"Part to inspect" ok:"0..1" eg:"0.1"`
	Least  int     `in:"min_count" sym:"m" label:"At least" ok:">=0" eg:"2"`
	Start  int     `in:"start_index" sym:"s" label:"Begin at bolt" ok:">=1" def:"1"`
	Fail   *int    `in:"fail_count" sym:"F" label:"Found bad" ok:">=0" eg:""`
	Accept int     `in:"accept_count" sym:"A" label:"Accept with so many bad" ok:">=0" def:"0"`
	Bad    *int    `in:"assumed_bad" sym:"D" label:"If so many were bad" ok:">=0" eg:"5"`
}

// SampleResult says which bolts to inspect.
type SampleResult struct {
	Count     int      `out:"sample_count" sym:"n" label:"Inspect"`
	Positions []int    `out:"positions" label:"Bolts"`
	Verdict   *string  `out:"verdict" label:"Verdict"`
	Detect    *float64 `out:"detect_probability" sym:"P" label:"Chance to find one of them"`
}

// InspectionSample spreads a sample evenly over a lot and gives the chance of finding bad bolts. 10 % with at least 2
// is the arbitration habit of RCSC; the project specification governs.
func InspectionSample(w *working.Working, in SampleInput) (SampleResult, error) {
	if err := quantity.Limits(in); err != nil {
		return SampleResult{}, err
	}
	if in.Start > in.Lot {
		return SampleResult{}, quantity.Refuse("start_index", "Choose a bolt of the lot.", "%d is past the last bolt",
			in.Start)
	}
	n := min(in.Lot, max(in.Least, int(math.Ceil(in.Frac*float64(in.Lot)-1e-9)), 1))
	if n > 10000 {
		return SampleResult{}, quantity.Refuse("sample_frac", "Split the lot.",
			"a sample of %d bolts is too long a list", n)
	}
	r := SampleResult{Count: n}
	w.Step("n", "min( N , max( m , ceil( f · N ) , 1 ) )", float64(n))
	for k := range n {
		r.Positions = append(r.Positions, (in.Start-1+k*in.Lot/n)%in.Lot+1)
	}
	if in.Fail != nil {
		if *in.Fail > n {
			return SampleResult{}, quantity.Refuse("fail_count", "Check the count.", "%d of %d inspected cannot be bad",
				*in.Fail, n)
		}
		v := "inspect_all"
		if *in.Fail <= in.Accept {
			v = "accept"
		}
		r.Verdict = &v
	}
	if in.Bad != nil {
		if *in.Bad > in.Lot {
			return SampleResult{}, quantity.Refuse("assumed_bad", "Check the count.", "is more than the lot")
		}
		miss := 1.0 // none of the bad ones drawn: C(N−D,n)/C(N,n)
		for i := range n {
			miss *= math.Max(0, float64(in.Lot-*in.Bad-i)) / float64(in.Lot-i)
		}
		p := w.Step("P", "1 - chance that none of them is drawn", 1-miss)
		r.Detect = &p
	}
	return r, nil
}
