// Package report draws what is printed: the certificate of a sealed record and the tag for the joint. The same record
// always gives the same bytes.
package report

import (
	"fmt"
	"io"
	"slices"
)

// Certificate writes the certificate of a record.
func Certificate(w io.Writer, v Sealed) error {
	s := newSheet(v, "Bolted joint record "+v.Record.Number)
	if err := s.certificate(); err != nil {
		return err
	}
	return s.Output(w)
}

// certificate writes the sheets of one record.
func (s *sheet) certificate() error {
	s.page()
	s.head("Bolted joint record", s.v.Record.Site+", "+s.v.Record.Plan.Joint.Area)
	s.facts()
	s.joint()
	s.verdict()
	s.passes()
	s.signatures()
	s.checks()
	s.photos()
	s.deviations()
	s.readings()
	s.tools()
	s.workings()
	s.additions()
	return s.closing()
}

// head writes the title and, beside it or under it, the plate with the tag of the joint.
func (s *sheet) head(title, under string) { s.titled(title, under, s.v.Record.Plan.Joint.Tag) }

// titled writes a title and, beside it or under it, a plate.
func (s *sheet) titled(title, under, tag string) {
	const size, least = 22.0, 8.0
	s.font("cond", 26)
	s.Text(left, s.y+9, title)
	beside := right - left - s.GetStringWidth(title) - 6
	plate := s.plateSize(tag, size, beside)
	if plate < least { // a tag as long as a sentence: under the title, over the whole width
		s.y += 12
		plate = max(s.plateSize(tag, size, width), 3)
		beside = 0
	}
	w := width
	if beside > 0 && plate*0.6 > 10 {
		w -= s.plateWidth(tag, plate) + 4
	}
	s.plate(tag, right, s.y, plate)
	s.y += 11.5
	if beside == 0 {
		s.y += plate*0.6 - 9
	}
	s.line(left, w, "text", 10.5, under)
	s.y += 4
}

func (s *sheet) closing() error {
	s.room(46)
	s.rule("Caution and proof")
	y := s.y
	text := append(slices.Clone(s.v.Record.Plan.Cautions), s.v.Record.Plan.After...)
	text = append(text, s.v.Record.Statement)
	if n := len(s.v.Additions); n > 0 {
		text = append(text, fmt.Sprintf("Behind the seal when this was printed: %d added since.", n))
	}
	text = append(text,
		fmt.Sprintf("Sealed %s UTC with key %s over %d events. Check the file with the Verify page or: dynacor "+
			"verify FILE.", s.v.SealedAt.Format("2 Jan 2006, 15:04:05"), s.v.KeyID, len(s.v.Record.Events)),
		"Digest: "+s.v.Mark)
	if err := s.qr(right-34, y, 34, "DYNACOR "+s.v.Record.Number+" "+s.v.Mark); err != nil {
		return err
	}
	for _, t := range text {
		s.line(left+1, width-42, "text", 8.8, t)
		s.y += 0.8
	}
	return nil
}
