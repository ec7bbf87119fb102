package plan

import (
	"dynacor/core/layout"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
)

// Sample is a made-up specification by which a procedure can be tried: for the answers given, else the first to each
// question; figures inside their limits, middling fasteners. Its values are for looking at the steps only.
func Sample(f procedure.Family, given map[string]string) Specification {
	s := Specification{Version: 1, Document: "sample", Revision: "0", Gasket: "sample", Variant: map[string]string{},
		Figures: map[string]float64{}}
	for _, x := range f.Figures {
		if x.Derive != nil || x.Usual != 0 {
			continue // it follows, or is as usual
		}
		v := x.Min + 1
		if x.Max > 0 {
			v = (x.Min + x.Max) / 2
		}
		s.Figures[x.Code] = v
	}
	for _, q := range f.Questions {
		if q.Figure != "" {
			continue
		}
		if s.Variant[q.Code] = given[q.Code]; given[q.Code] == "" {
			s.Variant[q.Code] = q.Options[0].Code
		}
	}
	answers, err := f.Answer(s.Variant, s.Figures)
	if err != nil {
		return s
	}
	for i, g := range f.For(answers).Fasteners {
		o := sampleGroup(g)
		if i == 0 {
			o.Group = ""
		}
		s.Groups = append(s.Groups, o)
	}
	return s
}

func sampleGroup(g procedure.Fasteners) Fasteners {
	o := Fasteners{Group: g.Code, Target: Target{Form: Stated}, SeenFrom: "the tool’s side"}
	if g.Layout.Shape() == layout.Circle {
		o.Bolts = max(3, g.Layout.Count)
	}
	switch g.Target {
	case procedure.ByTorque, procedure.ByStretch:
		o.Thread, o.Material, o.Lubricant = "M20", "8.8", "light_oil"
		switch g.Condition {
		case "dry", "dry_or_maker", "degreased":
			o.Lubricant = "dry_as_received"
		case "locker":
			o.Lubricant = "threadlocker_wet"
		}
		o.Target = Target{Form: TorqueNominal, Nominal: 300, MinusPct: 10, PlusPct: 10, Unit: quantity.NewtonMetre}
		if g.Target == procedure.ByStretch {
			o.Target = Target{Form: Stretch, StretchMM: 0.2, MinusPct: 10, PlusPct: 10}
		}
	case procedure.ByTurns:
		o.Target = Target{Form: Turns, TurnDeg: 360}
	}
	return o
}
