package report

import (
	"bytes"
	"image"
	_ "image/jpeg" // pictures are kept as JPEG
	"strings"

	"codeberg.org/go-pdf/fpdf"
)

// pictured is a picture, with its title, and what was said of it by whom, when.
type pictured struct{ photo, title, said string }

// photos draws the pictures taken with the answers, each with its check, words, person and time.
func (s *sheet) photos() {
	titles := map[string]string{}
	for _, c := range s.v.Record.Plan.Checks {
		titles[c.Code] = c.Title
	}
	var list []pictured
	for _, e := range s.v.Record.Events {
		if ev := e.Event; ev.Photo != "" {
			list = append(list, pictured{ev.Photo, titles[ev.Check] + ": " + ev.Answer,
				strings.Join([]string{ev.Note, ev.Person.Name, ev.At.Format("2 Jan 15:04")}, ", ")})
		}
	}
	if len(list) > 0 {
		s.rule("Photos")
	}
	s.pictures(list)
}

// pictures draws pictures, two beside each other.
func (s *sheet) pictures(list []pictured) {
	const gap, most = 6.0, 62.0
	w := (width - gap) / 2
	for len(list) > 0 {
		pair := list[:min(2, len(list))]
		list = list[len(pair):]
		captions, under := make([][][2]string, len(pair)), 0
		for i, p := range pair {
			captions[i] = append(s.captionLines("bold", p.title, w), s.captionLines("text", p.said, w)...)
			under = max(under, len(captions[i]))
		}
		h := most + 6 + float64(under)*captionLead
		s.room(h)
		for i, p := range pair {
			x := left + float64(i)*(w+gap)
			s.SetLineWidth(0.25)
			s.Rect(x, s.y, w, most, "D")
			if why := s.photo(p.photo, x, s.y, w, most); why != "" {
				s.font("text", 9)
				s.Text(x+3, s.y+most/2, why)
			}
			for j, l := range captions[i] {
				s.font(l[0], 8.5)
				s.Text(x, s.y+most+4+float64(j)*captionLead, l[1])
			}
		}
		s.y += h
	}
}

const captionLead = 3.6

// captionLines breaks what stands under a photo over lines, each with its font.
func (s *sheet) captionLines(font, text string, w float64) (out [][2]string) {
	s.font(font, 8.5)
	for _, l := range s.split(text, w) {
		out = append(out, [2]string{font, l})
	}
	return out
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
