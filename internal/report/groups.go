package report

import (
	"fmt"
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
			s.line(left, width, "cond", 10.5, g.GroupName+": "+groupMake(p, g)+", "+aimOf(g))
			s.y++
		}
		s.room(size)
		s.rosette(g, list, left+size/2, s.y+size/2, size/2)
		beside := s.values(g, list, left+size+6, size)
		s.y += size + 1
		if !beside {
			s.valuesBelow(g, list)
		}
	}
	s.font("text", 8)
	seen := p.First().Layout.SeenFrom
	if seen == "" {
		seen = "the tool's side"
	}
	says := ". Flat cap: clicked, nothing measured. Round end: measured. Rings inside: passes, outermost first."
	if p.Apart() {
		says = ". A bar is what is left of its load, about; none: let go. Rings inside: passes, outermost first."
	}
	s.Text(left, s.y+2, "Seen from "+seen+says)
	s.y += 5
}

// value is a fastener in the list beside its drawing.
type value struct{ number, torque, left string }

func (s *sheet) valuesOf(g *plan.FastenerGroup, list []run.FastenerState) (out []value, need float64) {
	checked := slices.ContainsFunc(s.v.Record.State.Passes, func(p run.PassState) bool {
		return p.Kind == plan.CheckPass && p.Group == g.Code
	})
	s.font("text", 8.5)
	for _, f := range list {
		v := value{number: g.Face + fmt.Sprint(f.Number), left: leftAt(f, checked)}
		switch {
		case s.v.Record.Plan.Apart():
			v.torque = f.LetGoAt
			if f.State == run.StandingLetGo {
				v.left = ""
			}
		case g.FinalNm > 0:
			v.torque = quantity.Text(quantity.Significant(f.TorqueNm, 4))
		}
		out, need = append(out, v), max(need, s.GetStringWidth(v.left))
	}
	return out, need + 31
}

// values lists the fasteners of a group in columns beside a drawing of that height; false when they do not fit there.
func (s *sheet) values(g *plan.FastenerGroup, list []run.FastenerState, x, height float64) bool {
	vals, need := s.valuesOf(g, list)
	const row = 4.1
	most := int((right - x) / need)
	per := int((height - 10) / row)
	cols := (len(vals) + per - 1) / per
	if cols > most {
		return false
	}
	per = (len(vals) + cols - 1) / cols
	w := (right - x) / float64(cols)
	for c := range cols {
		s.valueHead(g, x+float64(c)*w, s.y+6, w)
	}
	for i, v := range vals {
		s.value(v, x+float64(i/per)*w, s.y+10.6+float64(i%per)*min(5.2, (height-10)/float64(per)))
	}
	return true
}

// valuesBelow lists them over the whole width, row by row, under the drawing.
func (s *sheet) valuesBelow(g *plan.FastenerGroup, list []run.FastenerState) {
	vals, need := s.valuesOf(g, list)
	cols := max(1, int(width/need))
	w := width / float64(cols)
	head := func() {
		for c := range min(cols, len(vals)) {
			s.valueHead(g, left+float64(c)*w, s.y+3, w)
		}
		s.y += 5
	}
	s.room(12)
	head()
	for i := 0; i < len(vals); i += cols {
		if s.y+4.1 > bottom {
			s.page()
			head()
		}
		for k, v := range vals[i:min(i+cols, len(vals))] {
			s.value(v, left+float64(k)*w, s.y+3)
		}
		s.y += 4.1
	}
	s.y += 2
}

func (s *sheet) valueHead(g *plan.FastenerGroup, x, y, w float64) {
	noun := g.Noun
	if noun == "" {
		noun = "bolt"
	}
	lines, _ := s.fit("cond", 8.5, 5, 12, strings.ToUpper(noun[:1])+noun[1:])
	s.Text(x, y, lines[0])
	s.font("cond", 8.5)
	switch {
	case s.v.Record.Plan.Apart():
		s.Text(x+13, y, "let go at")
	case g.FinalNm > 0:
		s.Text(x+13, y, "N·m, last")
	}
	s.Text(x+27, y, "left")
	s.Line(x, y+1.2, x+w-2, y+1.2)
}

func (s *sheet) value(v value, x, y float64) {
	s.font("mono", 8.2)
	s.Text(x, y, v.number)
	s.Text(x+13, y, v.torque)
	s.font("text", 8.5)
	s.Text(x+27, y, v.left)
}

// leftAt says how a fastener was left.
func leftAt(f run.FastenerState, checked bool) string {
	if len(f.Marks) > 0 && (f.Marks[len(f.Marks)-1] == run.MarkMoved || f.Marks[len(f.Marks)-1] == run.MarkMovedOK) {
		if f.Degrees > 0 {
			return "turned " + quantity.Text(f.Degrees) + "°"
		}
		return "turned"
	}
	if checked && f.State == run.Standing(run.MarkDone) {
		return "stayed"
	}
	return strings.ReplaceAll(string(f.State), "_", " ")
}

// aimOf says what a group ends at.
func aimOf(g *plan.FastenerGroup) string {
	if g.FinalNm > 0 {
		return quantity.Text(quantity.Significant(g.FinalNm, 4)) + " N·m at the nut"
	}
	return map[string]string{"turns": "by turns", "snug": "snug", "hand": "hand-tight",
		"shape": "until the shape is reached", "effort": "until the effort lies in its window",
		"stretch": "by stretch", "none": "not torqued"}[string(g.EndsAt)]
}

func groupMake(p *plan.Plan, g *plan.FastenerGroup) string {
	f, ok := p.Demand(g)
	noun := g.Noun
	if noun == "" {
		noun = "bolt"
	}
	if !ok || f.Thread == "" {
		return fmt.Sprintf("%d × %s", g.Layout.Count, noun)
	}
	return strings.TrimSpace(fmt.Sprintf("%d × %s %s", g.Layout.Count, f.Thread, f.Material))
}
