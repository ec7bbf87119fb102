package sequence

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// Scheme is a school of stages.
type Scheme struct {
	Code        string    `json:"code"`
	Name        string    `json:"name"`
	Percents    []float64 `json:"percents"`
	PrePass     string    `json:"prePass"` // "none" or "alternate_one_turn"
	CheckPasses int       `json:"checkPasses"`
	Why         string    `json:"why"`
}

var schemes = []Scheme{
	{"20_60_100", "20, 60, 100 %", []float64{20, 60, 100}, "none", 1,
		"The gentlest first pass: kindest to soft and spiral-wound gaskets."},
	{"30_70_100", "30, 70, 100 %", []float64{30, 70, 100}, "none", 1, "The common middle way."},
	{"50_80_100", "50, 80, 100 %", []float64{50, 80, 100}, "none", 1,
		"Fewer turns of the nut late in the work; a firm first pass."},
	{"thirds", "One third, two thirds, full", []float64{100.0 / 3, 200.0 / 3, 100}, "none", 1, "Equal steps."},
	{"snug_final", "Snug, then full", []float64{20, 100}, "none", 1, "For metal-to-metal joints without a gasket."},
	{"half_full", "Half, then full", []float64{50, 100}, "none", 1,
		"Two steps, for joints whose parts must close together."},
	{"single", "At once", []float64{100}, "none", 1, "One visit at the full value, where the maker asks for it."},
	{"two_bolt", "Two bolts: half, then full", []float64{50, 100}, "alternate_one_turn", 1,
		"Both nuts alternately, one turn each, until the gap is even."},
}

// Schemes lists the stage schemes.
func Schemes() []Scheme { return append([]Scheme(nil), schemes...) }

// SchemeByCode finds a scheme; unknown codes are refused.
func SchemeByCode(code string) (Scheme, error) {
	for _, s := range schemes {
		if s.Code == code {
			return s, nil
		}
	}
	return Scheme{}, quantity.Refuse("scheme", "Choose a listed stage scheme.", "%q is not a stage scheme", code)
}

// Stages are the torques of a scheme on a scale, N·m (or the unit of the graduation).
type Stages struct {
	Scheme   Scheme
	Nm       []float64 // strictly rising, the last is the target on the scale
	Percents []float64 // what each really is, percent of the last
}

// Staging rounds the target and each stage to the graduation; the last never passes limit (0: none). snugPct (0: 20) is
// for snug_final. Refused: two stages falling on the same mark or a stage on zero, because the scale is too coarse.
// Source: own rule.
func Staging(w *working.Working, code string, target, graduation, limit, snugPct float64) (Stages, error) {
	s, err := SchemeByCode(code)
	if err != nil {
		return Stages{}, err
	}
	if code == "snug_final" && snugPct != 0 {
		if err := quantity.Between("snug_pct", snugPct, 5, 50); err != nil {
			return Stages{}, err
		}
		s.Percents = []float64{snugPct, 100}
	}
	last, err := quantity.RoundToGraduation(target, graduation, limit)
	if err != nil {
		return Stages{}, err
	}
	out := Stages{Scheme: s}
	prev := 0.0
	for i, p := range s.Percents {
		v := last.Rounded
		if i < len(s.Percents)-1 {
			v = math.Floor(p/100*last.Rounded/graduation+0.5+1e-9) * graduation
		}
		if v <= prev+1e-9 {
			return Stages{}, quantity.Refuse("graduation", "Use a tool with a finer scale or another stage scheme.",
				"stages %s %% fall on the same mark of a scale in steps of %s", quantity.Text(p),
				quantity.Text(graduation))
		}
		w.Calc("T"+quantity.Text(float64(i+1)), quantity.Text(quantity.Significant(p, 3))+" %", "nearest mark", v,
			quantity.NewtonMetre, "")
		out.Nm, prev = append(out.Nm, v), v
	}
	for _, v := range out.Nm {
		out.Percents = append(out.Percents, 100*v/last.Rounded)
	}
	return out, nil
}
