package exchange

import (
	"slices"
	"strconv"
	"strings"

	"dynacor/core/fastener"
	"dynacor/core/layout"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
)

// fasteners reads what a line says of one group.
func (p *parser) fasteners(fam procedure.Family, group string) plan.Fasteners {
	f := plan.Fasteners{Group: group, SeenFrom: p.text("seen_from"), Thread: p.text("thread"),
		Material: p.text("material"), Lubricant: p.text("lubricant")}
	g := fam.Fasteners[0]
	if group != "" {
		var ok bool
		if g, ok = fam.Group(group); !ok {
			var codes []string
			for _, x := range fam.Fasteners {
				codes = append(codes, x.Code)
			}
			p.wrong("group", "Use "+strings.Join(codes, ", ")+".", "%q is not a group of a %s", group, fam.Name)
		}
	}
	if g.Target == procedure.ByTorque && p.text("table") == "" {
		need := []string{"thread", "material", "lubricant"}
		if g.Layout.Shape() == layout.Circle {
			need = append([]string{"bolts"}, need...)
		}
		for _, c := range need {
			if p.text(c) == "" {
				p.wrong(c, "Fill it in, or leave the line out.", "is empty")
			}
		}
	}
	if t := p.text("bolts"); t != "" {
		n, err := strconv.Atoi(t)
		if err != nil || n < 1 || n > 120 || g.Layout.Shape() == layout.Circle && n < 3 {
			p.wrong("bolts", "Enter the number of bolts on the circle, 3 to 120.", "is not a number of bolts")
		}
		f.Bolts = n
	}
	for _, l := range []struct {
		col string
		to  *float64
	}{{"bolt_circle_mm", &f.BoltCircleMM}, {"length_mm", &f.LengthMM}} {
		if v, ok := p.number(l.col, quantity.KindLength, quantity.Millimetre); ok {
			*l.to = v.Canonical
		}
	}
	p.bolt(&f)
	p.target(&f, g)
	return f
}

// addGroup takes a line that adds fasteners to a joint above it.
func (p *parser) addGroup(r *Row) {
	group := p.text("group")
	if slices.ContainsFunc(r.Specification.Groups, func(o plan.Fasteners) bool { return o.Group == group }) {
		p.wrong("group", "Leave one of the lines out.", "%s of %s stands twice", group, r.Tag)
		return
	}
	fam, err := p.families(r.Family)
	if err != nil {
		return // said where the joint stands
	}
	r.Specification.Groups = append(r.Specification.Groups, p.fasteners(fam, group))
}

// whole holds a joint with all its groups against its procedure, when none of its cells is wrong.
func (p *parser) whole(r *Row) {
	if slices.ContainsFunc(p.errors, func(e CellError) bool { return e.Line == r.Line }) {
		return
	}
	fam, err := p.families(r.Family)
	if err != nil {
		return
	}
	if err := r.Specification.Check(fam, p.own); err != nil {
		p.line, p.cells = r.Line, nil
		col, of := "tag", ""
		if ref, ok := quantity.RefusalIn(err); ok {
			// variant.make and figures.tube name what is inside a cell; face_b.thread names the group before its
			// column.
			switch before, after, dotted := strings.Cut(ref.Field, "."); {
			case dotted && slices.Contains(Columns, before):
				col, of = before, after
			case dotted && slices.Contains(Columns, after):
				col, of = after, before
			case slices.Contains(Columns, before):
				col = before
			}
		}
		p.refusal(col, err)
		if last := &p.errors[len(p.errors)-1]; of != "" {
			last.What = of + " " + last.What
		}
	}
}

func (p *parser) bolt(s *plan.Fasteners) {
	if s.Lubricant != "" && s.Lubricant != plan.NotNamed && !p.cards[s.Lubricant] {
		p.wrong("lubricant", "Use the code of a card in the Library, for example light_oil.",
			"%q is not a lubricant card", s.Lubricant)
	}
	if s.Thread == "" {
		return
	}
	t, err := fastener.ParseThread(s.Thread)
	if err != nil {
		p.refusal("thread", err)
		return
	}
	if s.Material != "" {
		if _, err := p.own.Strength(t.System, s.Material, quantity.Length(t.DiameterMM)); err != nil {
			p.refusal("material", err)
		}
	}
}

// target settles which form the row uses; more than one is refused, none means to be supplied.
func (p *parser) target(s *plan.Fasteners, g procedure.Fasteners) {
	var forms []string
	t := plan.Target{Form: plan.NotGiven}
	if g.Target != procedure.ByTorque && g.Target != procedure.ByTurns {
		t.Form = plan.Stated
	}
	if v, ok := p.number("target_Nm", quantity.KindTorque, quantity.NewtonMetre); ok {
		forms = append(forms, "target_Nm")
		t = plan.Target{Form: plan.TorqueNominal, Nominal: v.Value, Unit: v.Unit, MinusPct: 5, PlusPct: 5,
			AsTyped: p.text("target_Nm")}
		if tol, ok := p.plain("tolerance_pct", 0, 50); ok {
			t.MinusPct, t.PlusPct = tol, tol
		}
	}
	lo, okLo := p.number("target_min_Nm", quantity.KindTorque, quantity.NewtonMetre)
	hi, okHi := p.number("target_max_Nm", quantity.KindTorque, quantity.NewtonMetre)
	if okLo || okHi {
		forms = append(forms, "target_min_Nm and target_max_Nm")
		switch {
		case !okLo || !okHi:
			p.wrong("target_min_Nm", "Fill in both ends of the range.", "minimum and maximum belong together")
		case lo.Unit != hi.Unit:
			p.wrong("target_max_Nm", "Write both ends in one unit.", "minimum and maximum are in different units")
		default:
			t = plan.Target{Form: plan.TorqueRange, Min: lo.Value, Max: hi.Value, Unit: lo.Unit,
				AsTyped: p.text("target_min_Nm") + " to " + p.text("target_max_Nm")}
		}
	}
	if v, ok := p.number("stress_MPa", quantity.KindPressure, quantity.Megapascal); ok {
		forms = append(forms, "stress_MPa")
		t = plan.Target{Form: plan.BoltStress, Stress: v.Canonical, AsTyped: p.text("stress_MPa")}
	}
	if v, ok := p.plain("percent_yield", 1, 100); ok {
		forms = append(forms, "percent_yield")
		t = plan.Target{Form: plan.PercentYield, Percent: v, AsTyped: p.text("percent_yield")}
	}
	if v, ok := p.plain("turn_deg", 1, 3600); ok {
		forms = append(forms, "turn_deg")
		t = plan.Target{Form: plan.Turns, TurnDeg: v, AsTyped: p.text("turn_deg")}
	}
	if name := p.text("table"); name != "" {
		forms = append(forms, "table")
		t = plan.Target{Form: plan.LookUp, Table: name, AsTyped: p.text("keys")}
		for _, k := range strings.Split(p.text("keys"), ";") {
			t.Keys = append(t.Keys, strings.TrimSpace(k))
		}
	}
	if len(forms) > 1 {
		p.wrong(strings.Fields(forms[0])[0], "Leave one of them empty.", "the target is given twice: %s",
			strings.Join(forms, ", "))
	}
	s.Target = t
}
