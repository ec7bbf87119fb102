package tool

import (
	"cmp"
	"math"
	"slices"
	"time"

	"dynacor/core/quantity"
)

// Span is what a wrench, or a set-up of the crib, covers in torque at the nut, N·m: a bar on the crib's scale.
type Span struct {
	Tags      string          `json:"tags"`
	Name      string          `json:"name"`
	Word      string          `json:"word"`
	MinNm     quantity.Torque `json:"minNm"`
	MaxNm     quantity.Torque `json:"maxNm"`
	Condition string          `json:"condition"` // the worst of its tools
	Ends      Date            `json:"ends"`      // the first certificate to end
}

// worse orders conditions.
var worse = map[string]int{"fit": 0, "due_soon": 1, "overdue": 2, "quarantined": 3}

// Spans gives a bar for every torque wrench alone, for every multiplier with the wrench that reaches highest through it
// and is the most accurate of those, and for every hydraulic wrench with the first pump. Tensioners are left out: what
// they give is no torque.
func Spans(crib []Tool, minFrac float64, dueSoonDays int, on time.Time) []Span {
	out := []Span{}
	var pumps []Tool
	for _, t := range crib {
		if t.Kind.Sets() == ByTorque {
			out = append(out, span(Alone(t), minFrac, dueSoonDays, on))
		}
		if t.Kind == Pump {
			pumps = append(pumps, t)
		}
	}
	for _, m := range crib {
		if m.Kind != MultiplierKind || m.Gear == nil {
			continue
		}
		var best *Tool
		for i, w := range crib {
			in, errIn := DriveSize(m.DriveIn)
			square, errOut := DriveSize(w.Drive)
			if w.Kind.Sets() != ByTorque || w.Kind == Preset || errIn != nil || errOut != nil ||
				math.Abs(float64(in-square)) > 0.1 {
				continue
			}
			reach := func(w Tool) quantity.Torque {
				return min(quantity.Torque(m.MaxNm), w.Torque(w.RatedMax)*quantity.Torque(m.Gear.Measured))
			}
			if best == nil || cmp.Or(cmp.Compare(worse[w.Condition(on, dueSoonDays)],
				worse[best.Condition(on, dueSoonDays)]), cmp.Compare(reach(*best), reach(w)),
				cmp.Compare(w.AccuracyPct, best.AccuracyPct)) < 0 {
				best = &crib[i]
			}
		}
		if best != nil {
			out = append(out, span(SetUp{String: []Tool{*best, m}}, minFrac, dueSoonDays, on))
		}
	}
	for _, h := range crib {
		if h.Kind == HydraulicWrench && len(pumps) > 0 && len(h.Chart) > 1 {
			out = append(out, span(SetUp{String: []Tool{pumps[0], h}}, minFrac, dueSoonDays, on))
		}
	}
	slices.SortStableFunc(out, func(a, b Span) int { return cmp.Compare(a.MinNm, b.MinNm) })
	return out
}

func span(s SetUp, minFrac float64, dueSoonDays int, on time.Time) Span {
	d := s.Driver()
	lo, hi := d.Usable(minFrac)
	sp := Span{Tags: s.Tags(), Name: s.Name(), Word: d.Kind.Word(), MinNm: s.TorqueAt(lo), MaxNm: s.TorqueAt(hi),
		Condition: "fit"}
	if m, ok := s.Of(MultiplierKind); ok {
		sp.Word, sp.MaxNm = m.Name(), min(sp.MaxNm, quantity.Torque(m.MaxNm))
	}
	if h, ok := s.Of(HydraulicWrench); ok {
		top := math.Min(d.mpaMax(), h.Chart[len(h.Chart)-1].Pressure)
		sp.Word, sp.MinNm, sp.MaxNm = "pump "+d.Tag, quantity.Torque(h.Chart[0].Torque),
			quantity.Torque(math.Min(h.MaxNm, line{chart: h.Chart}.torque(top)))
		sp.Name = h.Tag
	}
	for _, t := range s.String {
		if c := t.Condition(on, dueSoonDays); worse[c] > worse[sp.Condition] {
			sp.Condition = c
		}
		if t.CalibrationEnds != "" && (sp.Ends == "" || t.CalibrationEnds < sp.Ends) {
			sp.Ends = t.CalibrationEnds
		}
	}
	return sp
}
