package report

import (
	"dynacor/core/run"
)

// verdict writes the verdict and every reason for it.
func (s *sheet) verdict() {
	v := s.v.Record.State.Verdict
	s.font("cond", 20)
	x := left + 17 + s.GetStringWidth(v.Word)
	s.font("text", 9.2)
	lines := s.split(v.Sentence, right-x-3)
	h := max(14, 6+float64(len(lines))*4)
	s.room(h + 2)
	s.SetLineWidth(0.6)
	s.Rect(left, s.y, width, h, "D")
	s.SetLineWidth(0.3)
	s.hexSign(left+8, s.y+7, 4.6, v.Code == run.Accepted)
	s.font("cond", 20)
	s.Text(left+15, s.y+9.4, v.Word)
	s.font("text", 9.2)
	for i, l := range lines {
		s.Text(x+1, s.y+5.6+float64(i)*4, l)
	}
	s.y += h + 2
	for _, r := range v.Reasons {
		s.reason(map[run.ReasonStatus]string{run.ReasonOK: "met", run.ReasonWaits: "open",
			run.ReasonWaived: "waived", run.ReasonWrong: "not met"}[r.Status], r.Text, r.Value)
	}
	for _, r := range s.v.Record.State.Remarks {
		s.reason("note", r, "")
	}
}

// reason writes one, its mark before it and its value behind it.
func (s *sheet) reason(mark, text, value string) {
	const size, lead = 8.8, 4.1
	s.font("mono", 8.2)
	w := max(30, s.GetStringWidth(value)+3)
	values := s.split(value, min(w, 60))
	w = min(w, 60)
	s.font("text", size)
	lines := s.split(text, width-20-w)
	for i := range max(len(lines), len(values)) {
		s.room(lead)
		if i == 0 {
			s.font("bold", size)
			s.Text(left+1, s.y+3.3, mark)
		}
		if i < len(values) {
			s.font("mono", 8.2)
			s.Text(right-1-s.GetStringWidth(values[i]), s.y+3.3, values[i])
		}
		if i < len(lines) {
			s.font("text", size)
			s.Text(left+17, s.y+3.3, lines[i])
		}
		s.y += lead
	}
}

func (s *sheet) signatures() {
	s.room(30)
	s.y += 3
	w := width / 2
	s.Rect(left, s.y, width, 22, "D")
	s.Line(left+w, s.y, left+w, s.y+22)
	list := []struct {
		purpose run.Purpose
		label   string
	}{{run.SignTightened, "Tightened"}, {run.SignProved, "Proved"}, {run.SignTurnedDown, "Turned down"}}
	apart := s.v.Record.Plan.Apart()
	if apart {
		list[0].label = "Taken apart"
	}
	for i, q := range list {
		if apart && q.purpose == run.SignProved {
			continue
		}
		down := s.v.Record.State.Verdict.Code == run.TurnedDown
		if down != (q.purpose == run.SignTurnedDown) && (down || i == 2) {
			continue
		}
		i %= 2
		x := left + float64(i)*w
		s.font("text", 8)
		s.Text(x+3, s.y+5, q.label+", signed with name and PIN")
		for _, g := range s.v.Record.State.Signatures {
			if g.Purpose == q.purpose {
				lines, size := s.fit("cond", 17, 8, w-6, g.Name)
				for j, l := range lines {
					s.Text(x+3, s.y+13.5+float64(j)*size*0.4, l)
				}
				s.font("text", 8.6)
				s.Text(x+3, s.y+18.8, g.Role+", "+g.At.Format("2 Jan 2006, 15:04")+" UTC")
			}
		}
	}
	s.y += 24
}
