package report

import (
	"io"
	"net/url"

	"dynacor/core/run"
)

// Tag writes the tag to hang on the joint: number, date, target, people and a code that leads to the record.
func Tag(w io.Writer, v Sealed) error {
	s := newSheet(v, "Tag "+v.Record.Plan.Joint.Tag)
	s.AddPage()
	const x, y, tw, th = 14.0, 14.0, 120.0, 70.0
	s.SetLineWidth(0.5)
	s.Rect(x, y, tw, th, "D")
	s.Circle(x+8, y+th/2, 3.2, "D")
	s.fitted(x+16, y+15, tw-20, "mono", 34, v.Record.Plan.Joint.Tag)
	s.fitted(x+16, y+22, tw-20, "text", 11, v.Record.Plan.Joint.Name)
	s.font("cond", 24)
	s.Text(x+16, y+36, v.Record.State.Verdict.Word)
	s.fitted(x+16, y+44, tw-50, "bold", 12, v.Target)
	s.font("text", 10)
	s.Text(x+16, y+51, v.SealedAt.Format("2 January 2006"))
	s.fitted(x+16, y+57, tw-50, "text", 10, signedBy(v))
	s.font("mono", 9)
	s.Text(x+16, y+64, v.Record.Number+"  "+shortMark(v.Mark))
	if err := s.qr(x+tw-32, y+28, 27, tagCode(v)); err != nil {
		return err
	}
	s.font("text", 9)
	s.Text(x, y+th+6, "Cut on the line, punch the ring. "+plainSpaces(v.Record.Site))
	return s.Output(w)
}

// tagCode is what the code on a tag says: where the joint is opened, for any camera, when the site has said where
// Dynacor is found; else the record's number and mark.
func tagCode(v Sealed) string {
	if v.Address == "" {
		return "DYNACOR " + v.Record.Number + " " + v.Mark
	}
	return v.Address + "/joints/" + url.PathEscape(
		v.Record.Plan.Joint.Tag,
	) + "?record=" + url.QueryEscape(
		v.Record.Number,
	)
}

// signedBy says who signed for the joint.
func signedBy(v Sealed) string {
	if v.Record.State.Verdict.Code == run.TurnedDown {
		return "Turned down by " + v.ProvedBy + ". Do not use."
	}
	if v.Record.Plan.Apart() {
		return "Taken apart by " + v.TightenedBy + ". It holds nothing."
	}
	return "Tightened " + v.TightenedBy + ", proved " + v.ProvedBy
}

// fitted writes a text at its largest size up to most that fits w mm, on two lines when it is very long.
func (s *sheet) fitted(x, y, w float64, font string, most float64, text string) {
	lines, size := s.fit(font, most, 6, w, text)
	for i, l := range lines {
		s.Text(x, y+float64(i)*size*0.4, l)
	}
}
