package report

import (
	"bytes"
	"image"
	_ "image/jpeg" // pictures are kept as JPEG
	"strings"

	"codeberg.org/go-pdf/fpdf"

	"dynacor/core/run"
)

// photos draws the pictures taken with the answers, two beside each other, each with its check, words, person and time.
func (s *sheet) photos() {
	const gap, most = 6.0, 62.0
	w := (width - gap) / 2
	titles := map[string]string{}
	for _, c := range s.v.Record.Plan.Checks {
		titles[c.Code] = c.Title
	}
	var list []run.Event
	for _, e := range s.v.Record.Events {
		if e.Event.Photo != "" {
			list = append(list, e.Event)
		}
	}
	if len(list) > 0 {
		s.rule("Photos")
	}
	for len(list) > 0 {
		pair := list[:min(2, len(list))]
		list = list[len(pair):]
		captions, under := make([][][2]string, len(pair)), 0
		for i, ev := range pair {
			captions[i] = append(s.captionLines("bold", titles[ev.Check]+": "+ev.Answer, w),
				s.captionLines("text", strings.Join([]string{ev.Note, ev.Person.Name, ev.At.Format("2 Jan 15:04")},
					", "), w)...)
			under = max(under, len(captions[i]))
		}
		h := most + 6 + float64(under)*captionLead
		s.room(h)
		for i, ev := range pair {
			x := left + float64(i)*(w+gap)
			s.SetLineWidth(0.25)
			s.Rect(x, s.y, w, most, "D")
			if why := s.photo(ev.Photo, x, s.y, w, most); why != "" {
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
