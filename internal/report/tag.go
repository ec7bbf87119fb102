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
	if err := s.label(x, y, tw, th, true, TagLabel(v)); err != nil {
		return err
	}
	s.font("text", 9)
	s.Text(x, y+th+6, "Cut on the line, punch the ring. "+plainSpaces(v.Record.Site))
	return s.Output(w)
}

// TagLabel is what the tag of a record says.
func TagLabel(v Sealed) Label {
	return Label{Head: v.Record.Plan.Joint.Tag, Name: v.Record.Plan.Joint.Name, Big: v.Record.State.Verdict.Word,
		Lines: []string{v.Target, v.SealedAt.Format("2 January 2006"), signedBy(v),
			v.Record.Number + "  " + shortMark(v.Mark)}, Code: tagCode(v)}
}

// tagCode is what the code on a tag says: where the joint is opened, for any camera, when the site has said where
// Dynacor is found; else the record's number and mark.
func tagCode(v Sealed) string {
	if v.Address == "" {
		return "DYNACOR " + v.Record.Number + " " + v.Mark
	}
	joint, number := url.PathEscape(v.Record.Plan.Joint.Tag), url.QueryEscape(v.Record.Number)
	return v.Address + "/joints/" + joint + "?record=" + number
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
