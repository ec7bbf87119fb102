package lab

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"dynacor/core/interaction"
	"dynacor/core/quantity"
	"dynacor/core/statistics"
)

// What can be measured on the bolts of a finished joint.
const (
	MeasuredForce   = "force"   // kN in each bolt
	MeasuredStretch = "stretch" // mm by which each bolt became longer
	MeasuredAngle   = "angle"   // degrees by which each nut turned in the first round at the full target
)

var measuredUnits = map[string]string{MeasuredForce: "kN", MeasuredStretch: "mm", MeasuredAngle: "°"}

// Measured is what was measured on the bolts of a joint that was tightened in a known way.
type Measured struct {
	Of     string             `json:"of"`
	Values map[string]float64 `json:"values"` // by bolt number
	From   string             `json:"from"`   // number of the record; "" when it was typed
	Way    Procedure          `json:"way"`
	Setup  *Setup             `json:"setup,omitempty"` // as the joint was then; nil: as it is now
}

// then is the joint as it was when something was measured on it, with the gasket that is taken now.
func (j *Joint) then(m Measured) (*Joint, error) {
	if m.Setup == nil {
		return j, nil
	}
	s := *m.Setup
	s.CurveBy = j.Setup.CurveBy
	return Of(s)
}

// Laid is a bolt with what was measured and what was expected, in the unit of what was measured.
type Laid struct {
	Bolt     int     `json:"bolt"`
	Measured float64 `json:"measured"`
	Expected float64 `json:"expected"`
	Misfit   bool    `json:"misfit"` // lies further from the others than they from each other
}

// Overlay is a measurement laid over what was expected.
type Overlay struct {
	Of          string   `json:"of"`
	Unit        string   `json:"unit"`
	Bolts       []Laid   `json:"bolts"`
	LevelPct    float64  `json:"levelPct"`              // mean measured, percent of mean expected
	Correlation *float64 `json:"correlation,omitempty"` // missing when one of them hardly differs from bolt to bolt
	Sentence    string   `json:"sentence"`
}

// Bounds of an overlay.
const (
	fewestMeasured = 4    // below that a correlation says nothing
	misfitSpread   = 3    // times the spread of the others
	misfitShare    = .1   // of the mean, and no less
	misfitDeg      = 5    // of an angle, and no less
	flat           = .002 // spread over mean, that counts as none
)

// check refuses, by field, what cannot be a measurement of a joint.
func (m Measured) check(bolts int) error {
	if measuredUnits[m.Of] == "" {
		return quantity.Refuse("of", "Choose force, stretch or angle.", "%q is not measured on a bolt", m.Of)
	}
	if len(m.Values) < fewestMeasured {
		return quantity.Refuse("values", "Measure more bolts.", "has %d bolts, %d at least", len(m.Values),
			fewestMeasured)
	}
	for b, v := range m.Values {
		if n, err := strconv.Atoi(b); err != nil || n < 1 || n > bolts {
			return quantity.Refuse("values", "Number the bolts from 1.", "names bolt %s, there are %d", b, bolts)
		}
		if !(v >= 0) || v > 1e6 {
			return quantity.Refuse("values", "Measure it again.", "bolt %s has no figure that can be", b)
		}
	}
	if m.Of == MeasuredAngle && m.Way.Rounds < 1 {
		return quantity.Refuse("way", "Angles are those of the first round at the full target.", "has no round")
	}
	return nil
}

// Overlay lays a measurement over what its way of tightening is expected to leave. Refused as Measured cannot be, and as
// in Play.
func (j *Joint) Overlay(ctx context.Context, m Measured) (*Overlay, error) {
	j, err := j.then(m)
	if err != nil {
		return nil, err
	}
	if err := m.check(j.Setup.Bolts); err != nil {
		return nil, err
	}
	expected, err := j.expected(ctx, j.Model, m)
	if err != nil {
		return nil, err
	}
	out := &Overlay{Of: m.Of, Unit: measuredUnits[m.Of], Bolts: pairs(m, expected)}
	measured, model := split(out.Bolts)
	if mean := statistics.Mean(model); mean > 0 {
		out.LevelPct = 100 * statistics.Mean(measured) / mean
	}
	if varies(measured) && varies(model) {
		r := statistics.Correlation(measured, model)
		out.Correlation = &r
	}
	out.misfits()
	out.Sentence = out.says()
	return out, nil
}

// expected is what the model gives for each bolt, in the unit of what was measured.
func (j *Joint) expected(ctx context.Context, of interaction.Joint, m Measured) ([]float64, error) {
	o, err := j.play(ctx, of, m.Way)
	if err != nil {
		return nil, err
	}
	out := slices.Clone(o.Forces)
	switch m.Of {
	case MeasuredStretch:
		for i := range out {
			out[i] *= 1e6 / of.KBolt // kN over N/m, in mm
		}
	case MeasuredAngle:
		clear(out)
		for _, s := range o.Steps {
			if s.Pass != len(m.Way.Stages) {
				continue
			}
			for k, b := range s.Bolts {
				out[b-1] = s.Angle[k]
			}
		}
	}
	return out, nil
}

func pairs(m Measured, expected []float64) []Laid {
	var out []Laid
	for i, e := range expected {
		if v, ok := m.Values[number(i+1)]; ok {
			out = append(out, Laid{Bolt: i + 1, Measured: v, Expected: e})
		}
	}
	return out
}

func split(list []Laid) (measured, expected []float64) {
	for _, l := range list {
		measured, expected = append(measured, l.Measured), append(expected, l.Expected)
	}
	return measured, expected
}

func varies(v []float64) bool {
	lo, hi, mean := slices.Min(v), slices.Max(v), statistics.Mean(v)
	return hi-lo > flat*math.Abs(mean)
}

// misfits marks the bolts that lie further from what was expected, at the level of them all, than most others do.
func (o *Overlay) misfits() {
	level := 1.
	if o.Of != MeasuredAngle && o.LevelPct > 0 {
		level = o.LevelPct / 100
	}
	off := make([]float64, len(o.Bolts))
	sum := 0.0
	for i, l := range o.Bolts {
		off[i] = l.Measured - level*l.Expected
		sum += l.Measured
	}
	middle := statistics.Median(off)
	away := make([]float64, len(off))
	for i, v := range off {
		away[i] = math.Abs(v - middle)
	}
	least := misfitShare * sum / float64(len(off))
	if o.Of == MeasuredAngle {
		least = misfitDeg
	}
	const normal = 1.4826 // of a middle deviation to a standard one
	limit := max(least, misfitSpread*normal*statistics.Median(away))
	for i := range o.Bolts {
		o.Bolts[i].Misfit = away[i] > limit
	}
}

func (o *Overlay) says() string {
	var odd []string
	for _, l := range o.Bolts {
		if l.Misfit {
			odd = append(odd, number(l.Bolt))
		}
	}
	follows := "The measured bolts hardly differ from each other, or the expected do: there is nothing to compare but " +
		"their level."
	if o.Correlation != nil {
		how := "does not follow"
		switch r := *o.Correlation; {
		case r >= .8:
			how = "follows"
		case r >= .5:
			how = "half follows"
		}
		follows = fmt.Sprintf("What was measured %s what was expected: correlation %.2f.", how, *o.Correlation)
	}
	switch len(odd) {
	case 0:
		return follows + " No bolt stands out."
	case 1:
		return follows + " Bolt " + odd[0] + " does not fit: look at it first."
	}
	return follows + " Bolts " + strings.Join(odd, ", ") + " do not fit: look at them first."
}

// Typed reads figures as people write them one after another: in the order of the bolts, or each behind its bolt's number
// and a colon. Refused: what is no figure, a bolt that is named twice, and as Measured cannot be.
func Typed(text, of string, bolts int, way Procedure) (Measured, error) {
	m := Measured{Of: of, Values: map[string]float64{}, Way: way}
	// a number behind its bolt may stand apart from it
	words := strings.FieldsFunc(strings.ReplaceAll(text, ":", ": "), func(r rune) bool {
		return r == ' ' || r == '\n' || r == '\t' || r == ';' || r == '\r'
	})
	next, named := 1, false
	for _, w := range words {
		if bolt, ok := strings.CutSuffix(w, ":"); ok {
			v, _, err := quantity.Number("values", bolt)
			if err != nil || v != math.Trunc(v) {
				return m, quantity.Refuse("values", "Write 3: 141.", "has %q for a bolt", bolt)
			}
			next, named = int(v), true
			continue
		}
		v, _, err := quantity.Number("values", w)
		if err != nil {
			return m, err
		}
		key := number(next)
		if _, twice := m.Values[key]; twice {
			return m, quantity.Refuse("values", "Give one figure a bolt.", "names bolt %d twice", next)
		}
		m.Values[key] = v
		next++
	}
	if named && strings.HasSuffix(words[len(words)-1], ":") {
		return m, quantity.Refuse("values", "Write 3: 141.", "ends with a bolt and no figure")
	}
	return m, m.check(bolts)
}
