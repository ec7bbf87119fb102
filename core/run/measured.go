package run

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"dynacor/core/layout"
	"dynacor/core/measure"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
)

// measure holds readings against their criterion. The first reading that is out stays in the attempts whatever is
// measured later.
func (f *folder) measure(i int, c procedure.Check, e Event) {
	cs := &f.s.Checks[i]
	values := make([]float64, len(e.Values))
	for j, v := range e.Values {
		values[j] = inUnitOf(c, v)
	}
	cs.Values, cs.Result, cs.Direction, cs.Worst, cs.Working = values, nil, nil, 0, nil
	if len(c.Stations) > 0 && !slices.Contains(c.Stations, len(values)) || len(c.Names) > 0 &&
		len(values) != len(c.Names) {
		want := c.Stations
		if len(c.Names) > 0 {
			want = []int{len(c.Names)}
		}
		f.raiseCheck(&stationsMissing, c, e, "given", fmt.Sprint(len(values)), "stations", fmt.Sprint(want))
		f.attempt(i, e, "not complete", false)
		return
	}
	face := 0.0
	if f.p.GroupOf(c.Fasteners).Layout.Shape() == layout.Circle {
		face = f.p.GroupOf(c.Fasteners).Layout.DiameterMM
	}
	judged := values
	if c.Temperature != "" {
		var err error
		if judged, err = f.atReference(i, c, values); err != nil {
			f.unusable(i, c, e, err)
			return
		}
	}
	j, err := measure.Judge(c.Criterion, judged, measure.Limits{Low: c.Low, High: c.Limit, FaceMM: face})
	if err != nil {
		f.unusable(i, c, e, err)
		return
	}
	cs.Result, cs.Direction, cs.Worst = &j.Result, j.Direction, j.Worst+1
	cs.History = append(cs.History, j.Result)
	if !j.Pass {
		f.overLimit(c, e, j)
	}
	text := measuredText(c, e, values, j.Result)
	if c.Temperature != "" {
		text = fmt.Sprintf("%s, %s at 20 °C; %s", measured(c, values[0]),
			quantity.Text(math.Round(j.Result*100)/100)+" "+unitWord(c.Unit), plan.LimitText(c))
	}
	f.attempt(i, e, text, j.Pass)
	f.temperatures(c)
}

// againstMost are the criteria whose readings are told with what they may be at most.
var againstMost = []measure.Criterion{measure.Spread, measure.Offset, measure.Maximum}

// measuredText tells the readings and what they come to.
func measuredText(c procedure.Check, e Event, values []float64, result float64) string {
	switch {
	case slices.Contains(againstMost, c.Criterion):
		mm := func(v float64) string { return fixed(v, places(e.Values)) }
		unit := unitWord(c.Unit)
		return fmt.Sprintf("%s to %s %s, %s of %s %s", mm(slices.Min(values)), mm(slices.Max(values)), unit, mm(result),
			mm(c.Limit), unit)
	case c.Criterion == measure.Information:
		return measured(c, result) + ", for information"
	}
	return measured(c, result) + ", " + plan.LimitText(c)
}

// overLimit says what is out, and where.
func (f *folder) overLimit(c procedure.Check, e Event, j measure.Judged) {
	where := j.Where
	if j.Worst >= 0 && j.Worst < len(c.Names) {
		where = strings.TrimSpace(c.Names[j.Worst] + " is out. " + where)
	}
	if slices.Contains(againstMost, c.Criterion) {
		mm := func(v float64) string { return fixed(v, places(e.Values)) }
		f.raiseCheck(&overLimitOf, c, e, "read", mm(j.Result), "limit", mm(c.Limit), "unit", unitWord(c.Unit), "from",
			c.LimitFrom, "where", where)
		return
	}
	f.raiseCheck(&overLimit, c, e, "read", measured(c, j.Result), "limit", plan.LimitText(c), "from", c.LimitFrom,
		"where", where)
}

// inUnitOf gives a reading in the unit in which the limits of a check stand.
func inUnitOf(c procedure.Check, v Reading) float64 {
	if v.Unit == quantity.Unit(c.Unit) || c.Unit == "" {
		return v.Value
	}
	if x, err := quantity.Convert(v.Value, v.Unit, quantity.Unit(c.Unit)); err == nil {
		return x
	}
	return v.SI
}

// measured says a result with its unit, to what the unit deserves.
func measured(c procedure.Check, v float64) string {
	unit := unitWord(c.Unit)
	switch {
	case c.Criterion == measure.Roundness:
		return fmt.Sprintf("%.2f %%", v)
	case c.Criterion == measure.Count:
		return quantity.Text(v)
	case unit == "mm":
		return mm(v) + " mm"
	case unit == "":
		return quantity.Text(quantity.Significant(v, 4))
	}
	return quantity.Text(quantity.Significant(v, 4)) + " " + unit
}

func unitWord(u string) string {
	if s := quantity.Unit(u).Symbol(); s != "" {
		return s
	}
	return u
}

func mm(v float64) string { return fixed(v, 2) }

// fixed writes a figure with so many decimals; one that is nothing has no sign.
func fixed(v float64, places int) string {
	if s := strconv.FormatFloat(v, 'f', places, 64); strings.Trim(s, "-0.") != "" {
		return s
	}
	return strconv.FormatFloat(0, 'f', places, 64)
}

// places are the decimals that readings in a unit of length are written with: two, or as many as were typed.
func places(values []Reading) int {
	most := 2
	for _, v := range values {
		_, frac, _ := strings.Cut(quantity.Text(v.Value), ".")
		most = max(most, len(frac))
	}
	return min(most, 4)
}
