package statistics

import (
	"math"
	"slices"
)

// Mean is the sum over the number; 0 of none.
func Mean(v []float64) float64 {
	sum := 0.0
	for _, x := range v {
		sum += x
	}
	return sum / float64(max(1, len(v)))
}

// Median is the middle one, between the middle two of an even number; 0 of none.
func Median(v []float64) float64 {
	if len(v) == 0 {
		return 0
	}
	s := slices.Sorted(slices.Values(v))
	return (s[(len(s)-1)/2] + s[len(s)/2]) / 2
}

// Correlation is Pearson's, -1 to 1, of as many values of each; 0 when one of them does not vary.
func Correlation(a, b []float64) float64 {
	x, y := Mean(a), Mean(b)
	var ab, aa, bb float64
	for i := range a {
		ab += (a[i] - x) * (b[i] - y)
		aa += (a[i] - x) * (a[i] - x)
		bb += (b[i] - y) * (b[i] - y)
	}
	if aa == 0 || bb == 0 {
		return 0
	}
	return ab / math.Sqrt(aa*bb)
}
