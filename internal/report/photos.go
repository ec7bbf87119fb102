package report

import (
	"bytes"
	"image"
	_ "image/jpeg" // pictures are kept as JPEG
	"strings"

	"codeberg.org/go-pdf/fpdf"
)

// photos draws the pictures taken with the answers, two beside each other, each with its check, words, person and time.
func (s *sheet) photos() {
	const gap, most = 6.0, 62.0
	w := (width - gap) / 2
	titles := map[string]string{}
	for _, c := range s.v.Record.Plan.Checks {
		titles[c.Code] = c.Title
	}
	n := 0
	for _, e := range s.v.Record.Events {
		ev := e.Event
		if ev.Photo == "" {
			continue
		}
		if n == 0 {
			s.rule("Photos")
		}
		if n%2 == 0 {
			s.room(most + 14)
		}
		x := left + float64(n%2)*(w+gap)
		s.SetLineWidth(0.25)
		s.Rect(x, s.y, w, most, "D")
		if why := s.photo(ev.Photo, x, s.y, w, most); why != "" {
			s.font("text", 9)
			s.Text(x+3, s.y+most/2, why)
		}
		s.font("bold", 8.5)
		s.Text(x, s.y+most+4, titles[ev.Check]+": "+ev.Answer)
		s.font("text", 8.5)
		for i, l := range s.SplitText(plainSpaces(strings.Join([]string{ev.Note, ev.Person.Name, ev.At.Format("2 Jan 15:04")}, ", ")), w) {
			if i < 2 {
				s.Text(x, s.y+most+7.8+float64(i)*3.6, l)
			}
		}
		if n++; n%2 == 0 {
			s.y += most + 14
		}
	}
	if n%2 == 1 {
		s.y += most + 14
	}
}

// photo fits one picture into a frame and says why when it cannot.
func (s *sheet) photo(id string, x, y, w, h float64) string {
	p, ok := s.v.Photos[id]
	if !ok {
		return "This photo has not arrived from its device."
	}
	size, _, err := image.DecodeConfig(bytes.NewReader(p.Bytes))
	if err != nil || p.MediaType != "image/jpeg" {
		return "Kept in Records; it cannot be printed in this form."
	}
	opt := fpdf.ImageOptions{ImageType: "JPEG"}
	s.RegisterImageOptionsReader(id, opt, bytes.NewReader(p.Bytes))
	by := min(w/float64(size.Width), h/float64(size.Height))
	pw, ph := by*float64(size.Width), by*float64(size.Height)
	s.ImageOptions(id, x+(w-pw)/2, y+(h-ph)/2, pw, ph, false, opt, 0, "")
	return ""
}
