package report

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/run"
)

// joint draws every group of fasteners with what each was left at.
func (s *sheet) joint() {
	p := s.v.Record.Plan
	groups := p.AllGroups()
	size := 96.0
	if len(groups) > 1 {
		size = 58
	}
	for _, g := range groups {
		list := s.v.Record.State.Fasteners[g.Offset : g.Offset+g.Layout.Count]
		if len(groups) > 1 {
			s.room(size + 8)
			s.font("cond", 10.5)
			s.Text(left, s.y+4, g.GroupName+": "+groupMake(p.Specification, g)+", "+aimOf(g))
			s.y += 6
		}
		s.room(size)
		s.rosette(g, list, left+size/2, s.y+size/2, size/2)
		s.values(g, list, left+size+6, size)
		s.y += size + 1
	}
	s.font("text", 8)
	seen := p.Layout.SeenFrom
	if seen == "" {
		seen = "the tool's side"
	}
	s.Text(left, s.y+2, "Seen from "+seen+". Flat cap: clicked, nothing measured. Round end: measured. Rings inside: passes, outermost first.")
	s.y += 5
}

// values lists the fasteners of a group in as many columns as they need beside a drawing of that height.
func (s *sheet) values(g *plan.FastenerGroup, list []run.FastenerState, x, height float64) {
	y := s.y + 6
	n := len(list)
	cols := int(math.Ceil(float64(n) * 4 / (height - 10)))
	if height > 90 && n <= 16 {
		cols = 1
	}
	colW := (right - x) / float64(cols)
	per := (n + cols - 1) / cols
	rowH := math.Min(5.2, (height-10)/float64(per))
	torque := g.FinalNm > 0
	noun := g.Noun
	if noun == "" {
		noun = "bolt"
	}
	for c := range cols {
		s.font("cond", 8.5)
		s.Text(x+float64(c)*colW, y, strings.ToUpper(noun[:1])+noun[1:])
		if torque {
			s.Text(x+float64(c)*colW+colW*0.34, y, "N·m, last")
		}
		s.Text(x+float64(c)*colW+colW*0.7, y, "left")
		s.Line(x+float64(c)*colW, y+1.2, x+float64(c+1)*colW-2, y+1.2)
	}
	checked := slices.ContainsFunc(s.v.Record.State.Passes, func(p run.PassState) bool {
		return p.Kind == string(plan.CheckPass) && p.Group == g.Code
	})
	for i, f := range list {
		cx, cy := x+float64(i/per)*colW, y+4.6+float64(i%per)*rowH
		s.font("mono", math.Min(8.5, rowH*1.75))
		s.Text(cx, cy, g.Face+fmt.Sprint(f.Number))
		if torque {
			s.Text(cx+colW*0.34, cy, quantity.Text(quantity.Significant(f.TorqueNm, 4)))
		}
		s.font("text", math.Min(8.5, rowH*1.75))
		s.Text(cx+colW*0.7, cy, leftAt(f, checked))
	}
}

// leftAt says how a fastener was left.
func leftAt(f run.FastenerState, checked bool) string {
	if len(f.Marks) > 0 && (f.Marks[len(f.Marks)-1] == run.MarkMoved || f.Marks[len(f.Marks)-1] == run.MarkMovedOK) {
		if f.Degrees > 0 {
			return "turned " + quantity.Text(f.Degrees) + "°"
		}
		return "turned"
	}
	if checked && f.State == "done" {
		return "stayed"
	}
	return strings.ReplaceAll(f.State, "_", " ")
}

// aimOf says what a group ends at.
func aimOf(g *plan.FastenerGroup) string {
	if g.FinalNm > 0 {
		return quantity.Text(quantity.Significant(g.FinalNm, 4)) + " N·m at the nut"
	}
	return map[string]string{"turns": "by turns", "snug": "snug", "hand": "hand-tight", "shape": "until the shape is reached", "effort": "until the effort lies in its window",
		"stretch": "by stretch", "none": "not torqued"}[string(g.EndsAt)]
}

func groupMake(sp plan.Specification, g *plan.FastenerGroup) string {
	f, ok := sp.Of(g.Code, sp.Group == "" && g.Offset == 0)
	noun := g.Noun
	if noun == "" {
		noun = "bolt"
	}
	if !ok || f.Thread == "" {
		return fmt.Sprintf("%d × %s", g.Layout.Count, noun)
	}
	return strings.TrimSpace(fmt.Sprintf("%d × %s %s", g.Layout.Count, f.Thread, f.Material))
}
