package calc

import (
	"maps"
	"math"
	"slices"

	"dynacor/core/quantity"
)

// Point is the answer at one value of a swept input; Values is nil where the calculation refuses it.
type Point struct {
	X      float64        `json:"x"` // in the input's own unit
	Values map[string]any `json:"values"`
}

// mostPoints keeps a sweep short enough to run while somebody types.
const mostPoints = 400

// Sweep works a calculation out over n values of one numeric input, from…to in its own unit (equal ends: half to one
// and a half times the present value). Refused: an unknown or not numeric input, no value to sweep around.
func Sweep(name string, values map[string]any, key string, from, to float64, n int, o Options) ([]Point, error) {
	c, err := ByName(name)
	if err != nil {
		return nil, err
	}
	f, ok := c.field(key)
	if !ok || f.Kind != "number" && f.Kind != "whole" {
		return nil, quantity.Refuse(key, "Choose a numeric input.", "cannot be swept")
	}
	if n < 2 || n > mostPoints {
		return nil, quantity.Refuse("n", "Ask for 2 to 400 points.", "%d points", n)
	}
	base, err := c.numbers(values, o)
	if err != nil {
		return nil, err
	}
	if from == to {
		x, ok := asNumber(base[f.Key])
		if !ok {
			return nil, quantity.Refuse(key, "Enter it first.", "has no value to sweep around")
		}
		from, to = x/2, x*1.5
		if f.Measures == quantity.KindTemperature {
			from, to = x-20, x+20
		}
	}
	out := make([]Point, 0, n)
	for i := range n {
		x := from + (to-from)*float64(i)/float64(n-1)
		if f.Kind == "whole" {
			x = math.Round(x)
		}
		v := maps.Clone(base)
		v[f.Key] = x
		p := Point{X: x}
		if out, err := c.run(v, nil); err == nil { // without a working, which nobody reads here
			p.Values = out
		}
		out = append(out, p)
	}
	return out, nil
}

// numbers gives the values as they will be computed with, look-ups and defaults included.
func (c *Calculation) numbers(values map[string]any, o Options) (map[string]any, error) {
	given := maps.Clone(values)
	var err error
	if o.Typed {
		if given, err = c.typed(given, o, &Result{}); err != nil {
			return nil, c.own(err)
		}
	}
	for _, f := range c.Inputs {
		if v, has := given[f.Key]; (!has || v == nil) && f.Default != "" && (f.Kind == "number" || f.Kind == "whole") {
			if given[f.Key], _, err = quantity.Number(f.Key, f.Default); err != nil {
				return nil, err
			}
		}
	}
	return given, nil
}

// Effect is how much the main result changes with one input.
type Effect struct {
	Key   string `json:"key"`
	Label string `json:"label"`
	// change of the main result, in percent, for one percent more of the input (one kelvin more of a temperature)
	Percent float64 `json:"percent"`
	Kelvin  bool    `json:"kelvin"` // the input is a temperature
}

// Sensitivity tells which input moves the main result (the first numeric one) most, the strongest first. Calculations
// without a numeric result, and inputs that change nothing, are left out.
func Sensitivity(name string, values map[string]any, o Options) ([]Effect, error) {
	c, err := ByName(name)
	if err != nil {
		return nil, err
	}
	out := []Effect{}
	i := slices.IndexFunc(c.Outputs, func(f quantity.Field) bool { return f.Kind == "number" })
	if i < 0 {
		return out, nil
	}
	main := c.Outputs[i].Key
	base, err := c.numbers(values, o)
	if err != nil {
		return nil, err
	}
	at := func(v map[string]any) (float64, bool) {
		out, err := c.run(v, nil)
		if err != nil {
			return 0, false
		}
		return asNumber(out[main])
	}
	y, ok := at(base)
	if !ok || y == 0 {
		return out, nil
	}
	for _, f := range c.Inputs {
		x, has := asNumber(base[f.Key])
		kelvin := f.Measures == quantity.KindTemperature
		if !has || f.Kind != "number" || x == 0 && !kelvin {
			continue
		}
		// a difference both ways, so that a straight dependence shows as straight; one way where a limit stands in the
		// way
		step := 0.001 * x
		if kelvin {
			step = 0.1
		}
		up, down := maps.Clone(base), maps.Clone(base)
		up[f.Key], down[f.Key] = x+step, x-step
		hi, okHi := at(up)
		lo, okLo := at(down)
		span := 0.2
		switch {
		case okHi && !okLo:
			lo, span = y, 0.1
		case okLo && !okHi:
			hi, span = y, 0.1
		case !okHi && !okLo:
			continue
		}
		if e := (hi - lo) / y * 100 / span; math.Abs(e) > 1e-6 {
			out = append(out, Effect{f.Key, f.Label, e, kelvin})
		}
	}
	slices.SortStableFunc(out, func(a, b Effect) int {
		switch d := math.Abs(b.Percent) - math.Abs(a.Percent); {
		case d > 0:
			return 1
		case d < 0:
			return -1
		}
		return 0
	})
	return out, nil
}
