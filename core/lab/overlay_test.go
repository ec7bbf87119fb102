package lab_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/lab"
	"dynacor/core/quantity"
)

// measured makes a measurement out of what another gasket leaves, at another level.
func measured(t *testing.T, by, level float64, of string, p lab.Procedure) lab.Measured {
	t.Helper()
	j := joint(t, func(s *lab.Setup) { s.CurveBy = by })
	o, err := j.Play(ctx, p)
	require.NoError(t, err)
	m := lab.Measured{Of: of, Values: map[string]float64{}, From: "R-0001", Way: p}
	for i, f := range o.Forces {
		switch of {
		case lab.MeasuredForce:
			m.Values[fmt.Sprint(i+1)] = level * f
		case lab.MeasuredStretch:
			m.Values[fmt.Sprint(i+1)] = level * f * 1e6 / j.Model.KBolt
		case lab.MeasuredAngle:
			for _, s := range o.Steps {
				if s.Pass == len(p.Stages) && s.Bolts[0] == i+1 {
					m.Values[fmt.Sprint(i+1)] = s.Angle[0]
				}
			}
		}
	}
	return m
}

// What was measured as expected follows it at any level, and the one bolt that does not is named.
func TestMeasuredIsLaidOverExpected(t *testing.T) {
	j := joint(t, nil)
	for _, of := range []string{lab.MeasuredForce, lab.MeasuredStretch, lab.MeasuredAngle} {
		m := measured(t, 1, 1, of, crossed)
		o, err := j.Overlay(ctx, m)
		require.NoError(t, err)
		require.Len(t, o.Bolts, 16)
		require.InDelta(t, 1, *o.Correlation, 1e-9)
		require.InDelta(t, 100, o.LevelPct, 1e-6)
		require.Contains(t, o.Sentence, "No bolt stands out")
		for _, l := range o.Bolts {
			require.InDelta(t, l.Expected, l.Measured, 1e-9)
		}
	}
	m := measured(t, 1, .8, lab.MeasuredForce, crossed)
	m.Values["5"] *= .6
	o, err := j.Overlay(ctx, m)
	require.NoError(t, err)
	require.Equal(t, "kN", o.Unit)
	require.InDelta(t, 78, o.LevelPct, 1)
	require.Contains(t, o.Sentence, "Bolt 5 does not fit")
	for _, l := range o.Bolts {
		require.Equal(t, l.Bolt == 5, l.Misfit, l.Bolt)
	}
	m.Values["12"] *= 1.5
	o, err = j.Overlay(ctx, m)
	require.NoError(t, err)
	require.Contains(t, o.Sentence, "Bolts 5, 12 do not fit")

	alike := lab.Measured{
		Of:     lab.MeasuredForce,
		Values: map[string]float64{"1": 100, "2": 100, "3": 100, "4": 100},
		Way:    crossed,
	}
	o, err = j.Overlay(ctx, alike)
	require.NoError(t, err)
	require.Nil(t, o.Correlation)
	require.Contains(t, o.Sentence, "nothing to compare")
}

// A joint that was another one when it was measured is held against what it was then.
func TestMeasuredIsHeldAgainstTheJointOfThen(t *testing.T) {
	m := measured(t, 1, 1, lab.MeasuredForce, crossed)
	s := sixteen()
	m.Setup = &s
	now := joint(t, func(s *lab.Setup) { s.TargetKN, s.Gasket, s.GasketMM = 100, "spiral", 4.5 })
	o, err := now.Overlay(ctx, m)
	require.NoError(t, err)
	require.InDelta(t, 100, o.LevelPct, 1e-6)
	require.InDelta(t, 1, *o.Correlation, 1e-9)
	f, err := now.Fit(ctx, []lab.Measured{m})
	require.NoError(t, err)
	require.InEpsilon(t, 1, f.CurveBy, .03)
	s.Bolts = 2
	_, err = now.Overlay(ctx, m)
	require.Error(t, err)
}

func TestMeasurementsAreChecked(t *testing.T) {
	j := joint(t, nil)
	for field, change := range map[string]func(*lab.Measured){
		"of":     func(m *lab.Measured) { m.Of = "weight" },
		"values": func(m *lab.Measured) { m.Values = map[string]float64{"1": 1, "2": 1, "3": 1} },
		"way":    func(m *lab.Measured) { m.Of, m.Way.Rounds = lab.MeasuredAngle, 0 },
		"stages": func(m *lab.Measured) { m.Way.Stages = nil },
	} {
		m := measured(t, 1, 1, lab.MeasuredForce, crossed)
		change(&m)
		_, err := j.Overlay(ctx, m)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, field)
		require.Equal(t, field, r.Field)
	}
	for bolt, v := range map[string]float64{"17": 1, "0": 1, "one": 1, "2": -1, "3": 1e7} {
		m := measured(t, 1, 1, lab.MeasuredForce, crossed)
		m.Values[bolt] = v
		_, err := j.Overlay(ctx, m)
		require.ErrorContains(t, err, bolt)
	}
}

// The gasket that made the measurement is found again, from forces at another level, from stretches and from angles.
func TestGasketIsFittedToWhatWasMeasured(t *testing.T) {
	j := joint(t, nil)
	for _, x := range []struct {
		of    string
		by    float64
		level float64
	}{{lab.MeasuredForce, .6, .85}, {lab.MeasuredStretch, 1.7, 1.1}, {lab.MeasuredAngle, .6, 1}} {
		f, err := j.Fit(ctx, []lab.Measured{measured(t, x.by, x.level, x.of, crossed)})
		require.NoError(t, err)
		require.InEpsilon(t, x.by, f.CurveBy, .03, x.of)
		require.Less(t, f.AfterPct, .2*f.BeforePct)
		require.Equal(t, []string{"R-0001"}, f.From)
		require.Equal(t, 16, f.Bolts)
		require.Contains(t, f.Sentence, "times as stiff")
		require.Greater(t, f.LossPct, 5.)
		require.NotEqual(t, f.LossPct, f.TypicalLossPct)
	}
	same, err := j.Fit(
		ctx,
		[]lab.Measured{measured(t, 1, 1, lab.MeasuredForce, crossed), measured(t, 1, 1, lab.MeasuredAngle, crossed)},
	)
	require.NoError(t, err)
	require.InEpsilon(t, 1, same.CurveBy, .02)
	require.Equal(t, 32, same.Bolts)
	// a joint that was fitted before is fitted anew from the typical curve
	again, err := joint(
		t,
		func(s *lab.Setup) { s.CurveBy = 3 },
	).Fit(ctx, []lab.Measured{measured(t, .6, 1, lab.MeasuredForce, crossed)})
	require.NoError(t, err)
	require.InEpsilon(t, .6, again.CurveBy, .03)

	_, err = j.Fit(ctx, nil)
	require.ErrorContains(t, err, "runs")
	few := lab.Measured{
		Of:     lab.MeasuredForce,
		Values: map[string]float64{"1": 100, "2": 120, "3": 100, "4": 130, "5": 100},
		Way:    crossed,
	}
	_, err = j.Fit(ctx, []lab.Measured{few})
	require.ErrorContains(t, err, "5 bolts that fit, 6 at least")
	alike := measured(t, 1, 1, lab.MeasuredForce, crossed)
	for b := range alike.Values {
		alike.Values[b] = 100
	}
	_, err = j.Fit(ctx, []lab.Measured{alike})
	require.Error(t, err)
	bent := measured(t, .6, 1, lab.MeasuredForce, crossed)
	bent.Values["3"] *= .5
	without, err := j.Fit(ctx, []lab.Measured{bent})
	require.NoError(t, err)
	require.InEpsilon(t, .6, without.CurveBy, .05, "the bolt that does not fit is left out")
	require.Equal(t, 15, without.Bolts)
	odd := measured(t, 1, 1, lab.MeasuredForce, crossed)
	for i := range 16 { // one after another, whatever the neighbours do
		odd.Values[fmt.Sprint(i+1)] = 60 + 5*float64(i)
	}
	_, err = j.Fit(ctx, []lab.Measured{odd})
	require.ErrorContains(t, err, "another reason than the gasket")
	_, err = lab.Of(lab.Setup{Bolts: 8, Thread: "M20", Gasket: "sheet", TargetKN: 100, CurveBy: 11})
	require.ErrorContains(t, err, "0.1 to 10")
}

func TestTypedFiguresAreRead(t *testing.T) {
	m, err := lab.Typed("148 141,5\n139; 150", lab.MeasuredForce, 8, crossed)
	require.NoError(t, err)
	require.Equal(t, map[string]float64{"1": 148, "2": 141.5, "3": 139, "4": 150}, m.Values)
	require.Equal(t, crossed, m.Way)
	m, err = lab.Typed("3: 141 7:150 8 : 2 1:100", lab.MeasuredForce, 8, crossed)
	require.Error(t, err, "a bolt stands without its figure")
	m, err = lab.Typed("3: 141 7:150 152 1:100", lab.MeasuredForce, 8, crossed)
	require.NoError(t, err)
	require.Equal(t, map[string]float64{"1": 100, "3": 141, "7": 150, "8": 152}, m.Values, "the next one follows")
	for text, why := range map[string]string{"1 2 3": "3 bolts", "1 2 3 x": "x", "1 2 3 4 1: 5": "bolt 1 twice",
		"1 2 3 4 9: 5": "bolt 9", "1 2 3 4 5:": "no figure", "a: 5 1 2 3": "for a bolt", "1 2 3 1,250": "1,250"} {
		_, err := lab.Typed(text, lab.MeasuredForce, 8, crossed)
		require.ErrorContains(t, err, why, text)
	}
}
