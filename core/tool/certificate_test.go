package tool_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/tool"
)

// What a certificate says one way it says the other way round.
func TestCertificateThereAndBack(t *testing.T) {
	points := []tool.CertificatePoint{{Indicated: 40, True: 40.6}, {Indicated: 120, True: 121.1},
		{Indicated: 200, True: 200.9}}
	rapid.Check(t, func(t *rapid.T) {
		want := rapid.Float64Range(40.6, 200.9).Draw(t, "true")
		r, err := tool.CertificateCorrection(nil, tool.CertificateInput{Points: points, Target: &want})
		require.NoError(t, err)
		back, err := tool.CertificateCorrection(nil,
			tool.CertificateInput{Points: points, Indicated: ptr(math.Max(40, math.Min(200, r.Indicated)))})
		require.NoError(t, err)
		require.InDelta(t, want, back.True, 1e-9)
		require.InDelta(t, r.True-r.Indicated, r.Correction, 1e-12)
	})
	_, err := tool.CertificateCorrection(nil, tool.CertificateInput{Points: points, Target: ptr(210.0)})
	refused(t, err, "target_true_Nm")
	_, err = tool.CertificateCorrection(nil, tool.CertificateInput{Points: points, Indicated: ptr(20.0)})
	refused(t, err, "indicated_Nm")
	_, err = tool.CertificateCorrection(nil, tool.CertificateInput{Points: points})
	refused(t, err, "target_true_Nm")
}

// Two points make a certificate; of more, each lies above the one before, in what is shown and in what is true.
func TestCertificateRises(t *testing.T) {
	at := func(points ...float64) error {
		var list []tool.CertificatePoint
		for i := 0; i < len(points); i += 2 {
			list = append(list, tool.CertificatePoint{Indicated: points[i], True: points[i+1]})
		}
		_, err := tool.CertificateCorrection(nil, tool.CertificateInput{Points: list, Target: ptr(50.0)})
		return err
	}
	require.NoError(t, at(40, 41, 60, 61))
	refused(t, at(40, 41), "points")
	require.ErrorContains(t, at(40, 41, 60, 61, 60, 62), "point 3 does not rise")
	require.ErrorContains(t, at(40, 41, 60, 41, 70, 62), "point 2 does not rise")
	require.ErrorContains(t, at(60, 61, 40, 41), "point 2 does not rise")
}

// Scatter is the standard deviation of the readings as a share of their mean, nothing for one reading; of two that are
// off as much, the first is the worst. Which setting has too few readings is said.
func TestRepeatReadingsTellScatter(t *testing.T) {
	r, err := tool.RepeatReadings(nil, tool.RepeatInput{Limit: 30, Least: 1, Steps: []tool.RepeatStep{
		{Set: 60, Readings: []float64{48, 80, 64}}, {Set: 60, Readings: []float64{75}}}})
	require.NoError(t, err)
	require.InDelta(t, 25, r.Worst, 1e-12)
	require.InDelta(t, 100*16.0/64, r.Stdev[0], 1e-9)
	require.InDelta(t, 50, r.Range[0], 1e-9)
	require.InDelta(t, -6.25/3, r.Mean[0], 1e-9)
	require.Zero(t, r.Stdev[1])
	require.InDelta(t, -20, r.Mean[1], 1e-9)
	_, err = tool.RepeatReadings(nil, tool.RepeatInput{Limit: 30, Least: 2, Steps: []tool.RepeatStep{
		{Set: 60, Readings: []float64{48, 80}}, {Set: 60, Readings: []float64{75}}}})
	require.ErrorContains(t, err, "setting 2 has 1 readings, 2 are needed")
}

func TestRepeatReadingsFindTheWorst(t *testing.T) {
	in := tool.RepeatInput{Limit: 4, Least: 5,
		Steps: []tool.RepeatStep{{Set: 40, Readings: []float64{40, 40, 40, 40, 40}},
			{Set: 100, Readings: []float64{101, 99, 104, 100, 98}}}}
	r, err := tool.RepeatReadings(nil, in)
	require.NoError(t, err)
	require.True(t, r.Pass)
	require.InDelta(t, 100*(100-104.0)/104, r.Worst, 1e-12, "the sign tells that it gave too much")
	require.Zero(t, r.Stdev[0])
	in.Limit = 3.8
	r, err = tool.RepeatReadings(nil, in)
	require.NoError(t, err)
	require.False(t, r.Pass)
	in.Steps[1].Readings = in.Steps[1].Readings[:4]
	_, err = tool.RepeatReadings(nil, in)
	refused(t, err, "steps")
}

// Published example of the guide: an end standard of 50 mm, uc about 32 nm with 16 effective degrees of freedom.
func TestUncertaintyBudgetOfTheGuide(t *testing.T) {
	part := func(v, dof float64) tool.UncertaintyPart {
		return tool.UncertaintyPart{Value: v, Kind: "standard", K: 2, Sensitivity: 1, Dof: &dof}
	}
	r, err := tool.UncertaintyCombine(nil,
		tool.UncertaintyInput{KOut: 2.92, Parts: []tool.UncertaintyPart{part(25, 18), part(9.7, 25.6), part(2.9, 50),
			part(16.6, 2)}})
	require.NoError(t, err)
	require.InDelta(t, 31.7, r.Combined, 0.1)
	require.InDelta(t, 16.7, *r.Dof, 0.5)
	require.InDelta(t, 93, r.Expanded, 1)
	_, err = tool.UncertaintyCombine(nil,
		tool.UncertaintyInput{KOut: 2, Parts: []tool.UncertaintyPart{{Kind: "rect", K: 2, Sensitivity: 1}}})
	refused(t, err, "components")
}

// A part counts with its sensitivity, which is a number.
func TestUncertaintyCountsSensitivity(t *testing.T) {
	of := func(sensitivity float64) (tool.UncertaintyResult, error) {
		return tool.UncertaintyCombine(nil, tool.UncertaintyInput{KOut: 2, Parts: []tool.UncertaintyPart{
			{
				Value:       3,
				Kind:        "standard",
				K:           2,
				Sensitivity: 1,
			},
			{Value: 8, Kind: "expanded", K: 2, Sensitivity: sensitivity},
		}})
	}
	r, err := of(10)
	require.NoError(t, err)
	require.InDelta(t, math.Hypot(3, 40), r.Combined, 1e-9)
	for kind, div := range map[string]float64{"standard": 1, "rect": math.Sqrt(3), "triangle": math.Sqrt(6),
		"ushape": math.Sqrt(2), "resolution": math.Sqrt(12)} {
		r, err := tool.UncertaintyCombine(nil, tool.UncertaintyInput{KOut: 2, Parts: []tool.UncertaintyPart{
			{Value: 6, Kind: kind, K: 2, Sensitivity: 1}}})
		require.NoError(t, err, kind)
		require.InDelta(t, 6/div, r.Combined, 1e-12, kind)
		require.InDelta(t, 12/div, r.Expanded, 1e-12, kind)
		require.Nil(t, r.Dof, "infinitely many")
	}
	_, err = of(math.NaN())
	refused(t, err, "components")
	require.ErrorContains(t, err, "entry 2 (sensitivity) is not a finite number")
}
