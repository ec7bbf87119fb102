package schedule

import (
	"math"
	"slices"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// What a site's own history counts for, and how far a forecast lies apart before it has any. Starting values, to be
// held against the site's own forecasts.
const (
	historyMost  = 50   // finished activities that are looked at
	historyHalf  = 5.0  // so many count as much as the catalogue
	usualSpread  = 0.25 // in natural logarithms
	ratioLeast   = 0.1  // what is outside was no estimate of that work
	ratioMost    = 10.0
	paceHalf     = 30.0 // minutes of work under way that count as much as the estimate
	commonSpread = 0.10 // of a day on which everything is slow together
)

// CorrectionInput is how long finished activities of a family and method took, over their estimates before correction,
// both in minutes at work; the last ones count.
type CorrectionInput struct {
	Ratios []float64 `in:"ratios" label:"Took over estimated, the oldest first"`
}

// Correction is what an estimate of the catalogue is multiplied by, and how far what is so estimated lies apart.
type Correction struct {
	N      int     `out:"n" label:"Finished activities counted"`
	Median float64 `out:"median" sym:"m" label:"Median of their ratios"`
	C      float64 `out:"correction" sym:"c" label:"Correction"`
	Sigma  float64 `out:"sigma" sym:"σ" label:"Spread, logarithmic"`
}

// Correct shrinks the median of a site's ratios toward 1, by how few there are; none gives 1. Ratios outside 0.1 to 10
// are left out. Spread from the median absolute deviation in logarithms, in which twice as long and half as long are
// equally far. Refused: a ratio that is not above 0.
func Correct(w *working.Working, in CorrectionInput) (Correction, error) {
	r := Correction{Median: 1, C: 1, Sigma: usualSpread}
	var logs []float64
	for i := len(in.Ratios) - 1; i >= 0 && len(logs) < historyMost; i-- {
		x := in.Ratios[i]
		if !(x > 0) || math.IsInf(x, 0) {
			return r, quantity.Refuse("ratios", "Enter how long each took over what was estimated.",
				"ratio %d is %g", i+1, x)
		}
		if x >= ratioLeast && x <= ratioMost {
			logs = append(logs, math.Log(x))
		}
	}
	if r.N = len(logs); r.N == 0 {
		return r, nil
	}
	ratios := make([]float64, r.N)
	for i, l := range logs {
		ratios[i] = math.Exp(l)
	}
	n := float64(r.N)
	r.Median = w.Step("m", "median of the ratios", median(ratios))
	r.C = w.Step("c", "exp( n / (n + 5) · ln m )", math.Exp(n/(n+historyHalf)*math.Log(r.Median)))
	far := make([]float64, r.N)
	for i, l := range logs {
		far[i] = math.Abs(l - math.Log(r.Median))
	}
	s := w.Calc("s", "scaled median deviation", "1.4826 · median |ln r - ln m|", 1.4826*median(far), "", "")
	r.Sigma = w.Step("σ", "√( (n·s² + 5·0.25²) / (n + 5) )",
		math.Sqrt((n*s*s+historyHalf*usualSpread*usualSpread)/(n+historyHalf)))
	return r, nil
}

// median is the middle one, or the mean of the two middle ones.
func median(list []float64) float64 {
	x := slices.Clone(list)
	slices.Sort(x)
	k := len(x) / 2
	if len(x)%2 == 1 {
		return x[k]
	}
	return (x[k-1] + x[k]) / 2
}

// PlannedMinutes is an estimate of so many seconds as it is planned: corrected, and rounded up once, at the end.
func PlannedMinutes(seconds, correction float64) int {
	return max(1, int(math.Ceil(seconds/60*correction-1e-9)))
}

// Remaining says how long work that is under way still takes, in minutes: done and left are corrected estimates, took
// is the time at work so far.
func Remaining(done, took, left float64) (pace float64, minutes int) {
	pace = (took + paceHalf) / (done + paceHalf)
	return pace, max(1, int(math.Ceil(pace*left-1e-9)))
}
