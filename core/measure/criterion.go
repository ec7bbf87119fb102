package measure

import (
	"fmt"
	"math"
	"slices"

	"dynacor/core/quantity"
)

// Criterion says how the readings of a check are judged.
type Criterion string

// The criteria. All readings are in one unit; limits are inclusive.
const (
	Spread      Criterion = "spread"      // widest less narrowest at most High
	Offset      Criterion = "offset"      // shift that centres four rim readings at most High
	Maximum     Criterion = "maximum"     // no reading, taken without its sign, above High
	Minimum     Criterion = "minimum"     // no reading below Low
	Remain      Criterion = "remain"      // something must remain at every place: each above zero and not below Low
	Equal       Criterion = "equal"       // largest difference at most High
	Flush       Criterion = "flush"       // each within High of flush, either way
	Window      Criterion = "window"      // each from Low to High
	Roundness   Criterion = "roundness"   // out-of-roundness at most High percent of the mean
	Count       Criterion = "count"       // the number counted is Low
	Information Criterion = "information" // kept, not judged
)

// Criteria lists them.
func Criteria() []Criterion {
	return []Criterion{Spread, Offset, Maximum, Minimum, Remain, Equal, Flush, Window, Roundness, Count, Information}
}

// Limits of a criterion.
type Limits struct {
	Low, High float64
	FaceMM    float64 // diameter over which gaps are measured; 0: not known
}

// Judged is what readings come to.
type Judged struct {
	Result    float64  // what is held against the limit
	Limit     string   // the limit in words, without unit
	Pass      bool     //
	Direction *float64 // degrees, where the readings go round a circle
	Where     string   // what to do about it, "" when nothing can be told
	Worst     int      // index of the reading that is out, −1: none alone
}

// Judge holds readings against a criterion. Refused: no readings, a number that is not finite, an offset of other than
// four.
func Judge(c Criterion, v []float64, l Limits) (Judged, error) {
	if len(v) == 0 {
		return Judged{}, quantity.Refuse("values", "Measure first.", "no reading is given")
	}
	if slices.ContainsFunc(v, func(x float64) bool { return !quantity.Finite(x) }) {
		return Judged{}, quantity.Refuse("values", "Enter plain numbers.", "a reading is not a finite number")
	}
	judge, known := judges[c]
	if !known {
		return Judged{}, quantity.Refuse("criterion", "Choose a criterion of the list.", "%q is not a criterion",
			string(c))
	}
	j := Judged{Worst: -1, Pass: true}
	if err := judge(&j, v, l); err != nil {
		return Judged{}, err
	}
	return j, nil
}

// judges hold readings against their limits, each for one criterion.
var judges = map[Criterion]func(j *Judged, v []float64, l Limits) error{
	Offset: judgeOffset, Spread: judgeSpread, Equal: judgeEqual, Maximum: judgeMaximum, Flush: judgeFlush,
	Minimum: judgeMinimum, Remain: judgeRemain, Window: judgeWindow,
	Roundness: judgeRoundness, Count: judgeCount, Information: func(j *Judged, v []float64, _ Limits) error {
		j.Result, j.Limit = v[0], "for information"
		return nil
	},
}

func atMost(l Limits) string { return "at most " + quantity.Text(l.High) }

// each asks the same of every reading; the first that fails is the worst.
func (j *Judged) each(v []float64, pass func(x float64) bool) {
	if i := slices.IndexFunc(v, func(x float64) bool { return !pass(x) }); i >= 0 {
		j.Worst, j.Pass = i, false
	}
}

func judgeOffset(j *Judged, v []float64, l Limits) error {
	if len(v) != 4 {
		return quantity.Refuse("values", "Measure at the four quarters.", "%d readings are given", len(v))
	}
	r, err := Rim([4]float64(v), quantity.Length(l.High))
	if err != nil {
		return err
	}
	j.Result, j.Pass, j.Direction, j.Limit = r.Offset, r.Pass, r.Direction, atMost(l)
	j.Where = fmt.Sprintf("Shared step %.2f; shift the far side %.2f to centre it.", r.Common, r.Offset)
	return nil
}

func judgeSpread(j *Judged, v []float64, l Limits) error {
	j.Limit = atMost(l)
	if len(v) < 3 {
		j.Result = slices.Max(v) - slices.Min(v)
		j.Pass = quantity.AtMost(j.Result, l.High)
		return nil
	}
	face := l.FaceMM
	if face == 0 {
		face = 1000 // the tilt angle needs a circle; the spread that is judged does not
	}
	g, err := GapTilt(nil, v, quantity.Length(face), quantity.Length(l.High))
	if err != nil {
		return err
	}
	j.Result, j.Pass, j.Direction = g.MaxMin, g.Pass, g.WidestDeg
	if g.WidestStation != nil {
		j.Where = fmt.Sprintf("Widest towards station %s.", string(rune('a'+*g.WidestStation-1)))
	}
	return nil
}

func judgeEqual(j *Judged, v []float64, l Limits) error {
	j.Result, j.Limit = slices.Max(v)-slices.Min(v), atMost(l)
	j.Pass = quantity.AtMost(j.Result, l.High)
	if len(v) == 2 {
		j.Where = fmt.Sprintf("Move %s to the smaller side.", quantity.Text(quantity.Significant(j.Result/2, 3)))
	}
	return nil
}

func judgeMaximum(j *Judged, v []float64, l Limits) error {
	for _, x := range v {
		j.Result = math.Max(j.Result, math.Abs(x))
	}
	j.Limit = atMost(l)
	j.each(v, func(x float64) bool { return quantity.AtMost(math.Abs(x), l.High) })
	return nil
}

func judgeFlush(j *Judged, v []float64, l Limits) error {
	for _, x := range v {
		if math.Abs(x) > math.Abs(j.Result) {
			j.Result = x
		}
	}
	j.Limit = "flush within " + quantity.Text(l.High)
	j.each(v, func(x float64) bool { return quantity.AtMost(math.Abs(x), l.High) })
	return nil
}

func judgeMinimum(j *Judged, v []float64, l Limits) error {
	j.Result, j.Limit = slices.Min(v), "at least "+quantity.Text(l.Low)
	j.each(v, func(x float64) bool { return quantity.AtMost(l.Low, x) })
	return nil
}

func judgeRemain(j *Judged, v []float64, l Limits) error {
	j.Result, j.Limit = slices.Min(v), "more than nothing everywhere"
	if l.Low > 0 {
		j.Limit = "at least " + quantity.Text(l.Low) + " everywhere"
	}
	j.each(v, func(x float64) bool { return x > 0 && quantity.AtMost(l.Low, x) })
	return nil
}

func judgeWindow(j *Judged, v []float64, l Limits) error {
	j.Result, j.Limit = v[0], quantity.Text(l.Low)+" to "+quantity.Text(l.High)
	j.each(v, func(x float64) bool { return quantity.AtMost(l.Low, x) && quantity.AtMost(x, l.High) })
	if j.Worst >= 0 {
		j.Result = v[j.Worst]
	}
	return nil
}

func judgeRoundness(j *Judged, v []float64, l Limits) error {
	r, err := Ovality(nil, OvalityInput{Diameters: v, Basis: "mean", Limit: l.High})
	if err != nil {
		return err
	}
	j.Result, j.Pass, j.Limit = r.Ovality, r.Pass, atMost(l)+" % of the mean"
	return nil
}

func judgeCount(j *Judged, v []float64, l Limits) error {
	j.Result, j.Limit = v[0], "exactly "+quantity.Text(l.Low)
	j.Pass = v[0] == l.Low
	return nil
}
