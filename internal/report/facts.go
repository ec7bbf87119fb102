package report

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"dynacor/core/quantity"
)

func (s *sheet) facts() {
	p := s.v.Record.Plan
	sp := p.Specification
	found := func(code string) string {
		for _, c := range s.v.Record.State.Checks {
			if c.Code == code && c.Text != "" {
				return c.Text
			}
		}
		return "not written down"
	}
	wr := s.workedWith()
	gasket, preload, family := "none in this joint", "not by torque", p.FamilyName
	if sp.Gasket != "" || p.Family == "gasketed_flange" {
		gasket = orDash(sp.Gasket)
	}
	if p.First().PreloadKN > 0 {
		preload = fmt.Sprintf("%s kN each, %s to %s", sig(p.First().PreloadKN), sig(p.First().PreloadMinKN),
			sig(p.First().PreloadMaxKN))
	}
	aim := s.v.Target
	if p.Several() {
		aim, preload = "by group, below", "by group, in the workings"
	}
	if family == "" {
		family = "gasketed flange"
	}
	if len(p.VariantWords) > 0 {
		family += ", " + strings.Join(p.VariantWords, ", ")
	}
	cells := [][2]string{
		{"Joint", p.Joint.Name},
		{"Make", makeOf(s.v)},
		{"Gasket", gasket},
		{"Lubricant found", found("lubricant")},
		{
			"Document",
			sp.Source(),
		},
		{"Target", orDash(s.v.Target)},
		{"Aim at the nut", aim},
		{"Preload", preload},
		{"Tools", strings.Join(wr, ", ")},
		{"Service", orDash(p.Joint.Service)},
		{"Equipment", orDash(p.Joint.Equipment)},
		{"Procedure", fmt.Sprintf("%s, version %d", family, p.ProcedureVersion)},
		{"House rules", fmt.Sprintf("version %d", p.HouseRulesVersion)},
	}
	if p.Approved != nil {
		cells = append(cells, [2]string{"Plan accepted", p.Approved.By + ": " + p.Approved.Why})
	}
	if p.Choices.Compared != "" {
		cells = append(cells, [2]string{"Compared in the Lab", p.Choices.Compared})
	}
	if st := s.v.Record.State; st.Follows != "" {
		cells = append(cells, [2]string{"Follows record", st.Follows + ", " + st.FollowsWhy})
	}
	if p.Apart() {
		cells = s.apartFacts(cells, wr)
	}
	const cols = 4
	for len(cells) > 0 {
		s.factRow(cells[:min(cols, len(cells))], width/cols)
		cells = cells[min(cols, len(cells)):]
	}
	s.y += 3
}

// workedWith lists the tools of the passes, each once.
func (s *sheet) workedWith() []string {
	out := []string{}
	for _, ps := range s.v.Record.State.Passes {
		for _, t := range ps.Wrenches {
			if !slices.Contains(out, t) {
				out = append(out, t)
			}
		}
	}
	return out
}

// apartFacts are the facts of a joint that was taken apart: what it held, and what must be there anew.
func (s *sheet) apartFacts(cells [][2]string, tools []string) [][2]string {
	p, st := s.v.Record.Plan, s.v.Record.State
	drop := []string{"Lubricant found", "Target", "Aim at the nut", "Preload", "Tools"}
	cells = slices.DeleteFunc(cells, func(c [2]string) bool { return slices.Contains(drop, c[0]) })
	var went, fresh []string
	for _, g := range p.AllGroups() {
		if l := g.Loosening; l != nil {
			w := sig(l.WentOn) + " " + l.WentOnUnit.Symbol()
			if p.Several() {
				w = strings.ToLower(g.GroupName) + " " + w
			}
			went = append(went, w)
		}
	}
	for _, r := range st.Replace {
		fresh = append(fresh, r.What+" ("+r.Why+")")
	}
	return append(
		cells,
		[2]string{"Went on at", orDash(strings.Join(went, ", "))},
		[2]string{"It held", orDash(p.Holds)},
		[2]string{"Let go with", orDash(strings.Join(tools, ", "))},
		[2]string{"To be there anew", cmp.Or(strings.Join(fresh, "; "), "nothing")},
	)
}

// factRow draws cells of a heading and a value beside each other, as high as the longest value asks for.
func (s *sheet) factRow(cells [][2]string, w float64) {
	lines, sizes, most := make([][]string, len(cells)), make([]float64, len(cells)), 12.0
	for i, c := range cells {
		lines[i], sizes[i] = s.fit("bold", 9.5, 7.6, w-3, c[1])
		most = max(most, 6+float64(len(lines[i]))*sizes[i]*0.42)
	}
	s.room(most)
	s.SetLineWidth(0.3)
	s.Rect(left, s.y, width, most, "D")
	for i, c := range cells {
		x := left + float64(i)*w
		if i > 0 {
			s.SetDrawColor(150, 150, 150)
			s.Line(x, s.y, x, s.y+most)
			s.SetDrawColor(0, 0, 0)
		}
		s.font("text", 8)
		s.SetTextColor(70, 70, 70)
		s.Text(x+2, s.y+3.9, c[0])
		s.SetTextColor(0, 0, 0)
		s.font("bold", sizes[i])
		for j, l := range lines[i] {
			s.Text(x+2, s.y+4.8+float64(j+1)*sizes[i]*0.36, l)
		}
	}
	s.y += most
}

func sig(v float64) string { return quantity.Text(quantity.Significant(v, 3)) }

func makeOf(v Sealed) string {
	p := v.Record.Plan
	list := []string{}
	if p.Specification.FlangeSize != "" {
		list = append(list, p.Specification.FlangeSize)
	}
	for _, g := range p.AllGroups() {
		list = append(list, groupMake(p, g))
	}
	return strings.Join(list, ", ")
}

func orDash(s string) string {
	if s == "" {
		return "not written down"
	}
	return s
}
