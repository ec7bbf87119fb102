package report

import (
	"fmt"
	"strings"

	"dynacor/core/quantity"
	"dynacor/core/record"
)

// additions lists what was added behind the seal: nothing above is changed by it.
func (s *sheet) additions() {
	if len(s.v.Additions) == 0 {
		return
	}
	s.rule("Added since it was sealed")
	for _, a := range s.v.Additions {
		s.room(14)
		const form = "2 Jan 2006, 15:04 UTC"
		at := a.At.UTC().Format(form)
		if a.SeenAt != nil {
			at = "seen " + a.SeenAt.UTC().Format(form) + ", signed " + at
		}
		s.line(left+1, width-2, "cond", 11, fmt.Sprintf("%d. %s, %s, %s, %s", a.Seq, a.Kind.Words(), at, a.Person.Name,
			a.Person.Role))
		for _, t := range s.added(a) {
			s.line(left+4, width-6, "text", 9, t)
		}
		s.y += 1.5
		if a.Photo != "" {
			s.pictures([]pictured{{a.Photo, a.Kind.Words(), strings.Join([]string{a.Person.Name,
				a.When().UTC().Format("2 Jan 15:04")}, ", ")}})
		}
	}
}

// added says an addition, a line each.
func (s *sheet) added(a record.Addition) []string {
	out := []string{a.What}
	if a.Kind == record.Correction {
		out = append(out, fmt.Sprintf("Where: %s. In the record: %s. Right: %s.", a.Place, orDash(a.Was), a.Is))
	}
	if a.Kind == record.Retorque {
		var turned []string
		for _, v := range a.Visits {
			if v.TurnedDeg > 0 {
				turned = append(turned, fmt.Sprintf("%s %s°", s.fastener(v.Fastener), quantity.Text(v.TurnedDeg)))
			}
		}
		out = append(out, fmt.Sprintf("With %s, %s. %s", a.Tool, a.ToolIs, a.Sentence))
		if len(turned) > 0 {
			out = append(out, "Turned: "+strings.Join(turned, ", ")+".")
		}
	}
	if a.Kind == record.Audited {
		if a.Tool != "" {
			out = append(out, fmt.Sprintf("With %s, %s.", a.Tool, a.ToolIs))
		}
		out = append(out, a.Sentence)
		var moved []string
		for _, v := range a.Visits {
			if v.MovedNm > 0 {
				moved = append(moved, fmt.Sprintf("%s %s N·m", s.fastener(v.Fastener), quantity.Text(v.MovedNm)))
			}
		}
		if len(moved) > 0 {
			out = append(out, "Moved on at: "+strings.Join(moved, ", ")+".")
		}
	}
	return out
}
