package report

import (
	"io"

	"dynacor/internal/app"
)

// Tag writes the tag to hang on the joint: number, date, target, people and a code that leads to the record.
func Tag(w io.Writer, v app.RecordView) error {
	s := newSheet(v, "Tag "+v.Row.Tag)
	s.AddPage()
	const x, y, tw, th = 14.0, 14.0, 120.0, 70.0
	s.SetLineWidth(0.5)
	s.Rect(x, y, tw, th, "D")
	s.Circle(x+8, y+th/2, 3.2, "D")
	s.fitted(x+16, y+15, tw-20, "mono", 34, v.Row.Tag)
	s.fitted(x+16, y+22, tw-20, "text", 11, v.Row.Name)
	s.font("cond", 24)
	s.Text(x+16, y+36, v.Record.State.Verdict.Word)
	s.fitted(x+16, y+44, tw-50, "bold", 12, v.Row.Target)
	s.font("text", 10)
	s.Text(x+16, y+51, v.Row.SealedAt.Format("2 January 2006"))
	s.fitted(x+16, y+57, tw-50, "text", 10, "Tightened "+v.Row.TightenedBy+", proved "+v.Row.ProvedBy)
	s.font("mono", 9)
	s.Text(x+16, y+64, v.Row.Number+"  "+shortMark(v.Row.Mark))
	if err := s.qr(x+tw-32, y+28, 27, "DYNACOR "+v.Row.Number+" "+v.Row.Mark); err != nil {
		return err
	}
	s.font("text", 9)
	s.Text(x, y+th+6, "Cut on the line, punch the ring. "+plainSpaces(v.Record.Site))
	return s.Output(w)
}

// fitted writes a text at its largest size up to most that fits w mm, on two lines when it is very long.
func (s *sheet) fitted(x, y, w float64, font string, most float64, text string) {
	lines, size := s.fit(font, most, 6, w, text)
	for i, l := range lines {
		s.Text(x, y+float64(i)*size*0.4, l)
	}
}
