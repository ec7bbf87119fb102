package report

import (
	_ "embed"
	"fmt"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	qrcode "github.com/skip2/go-qrcode"
)

//go:embed fonts/condensed-bold.ttf
var condensedBold []byte

//go:embed fonts/text.ttf
var textFont []byte

//go:embed fonts/text-bold.ttf
var textBold []byte

//go:embed fonts/mono.ttf
var mono []byte

const (
	left, right, top, bottom = 14.0, 196.0, 14.0, 283.0
	width                    = right - left
)

// sheet is a page being drawn, in mm from the top left.
type sheet struct {
	*fpdf.Fpdf
	v    Sealed
	y    float64
	n    int    // sheet of this record
	of   string // what the sheets belong to when it is no record
	leaf int    // of the book that they are bound in; 0: they stand alone
}

func newSheet(v Sealed, title string) *sheet {
	s := newPlainSheet(title)
	s.SetCreationDate(v.SealedAt)
	s.SetModificationDate(v.SealedAt)
	s.v = v
	return s
}

// newPlainSheet is a document with the fonts of the house and nothing on it.
func newPlainSheet(title string) *sheet {
	p := fpdf.New("P", "mm", "A4", "")
	p.SetCatalogSort(true)
	p.SetTitle(title, true)
	p.SetAutoPageBreak(false, 0)
	p.AddUTF8FontFromBytes("cond", "", condensedBold)
	p.AddUTF8FontFromBytes("text", "", textFont)
	p.AddUTF8FontFromBytes("bold", "", textBold)
	p.AddUTF8FontFromBytes("mono", "", mono)
	return &sheet{Fpdf: p}
}

func (s *sheet) page() {
	s.AddPage()
	s.n++
	s.SetDrawColor(0, 0, 0)
	s.SetTextColor(0, 0, 0)
	s.SetLineWidth(0.35)
	s.Rect(8, 8, 194, 281, "D")
	s.font("text", 8)
	foot, end := s.of, ""
	if s.v.Record.Number != "" {
		foot = "Record " + s.v.Record.Number + ", kept in Records under " + s.v.Record.Plan.Joint.Tag + "."
	}
	if s.v.Mark != "" {
		end = fmt.Sprintf("sheet %d   mark %s", s.n, shortMark(s.v.Mark))
	}
	if s.leaf > 0 {
		end = strings.TrimPrefix(fmt.Sprintf("%s   leaf %d", end, s.leaf), "   ")
		s.leaf++
	}
	s.Text(left, 286.5, foot)
	s.font("mono", 8)
	s.Text(right-s.GetStringWidth(end), 286.5, end)
	s.y = top
}

// room starts a new sheet when h mm do not fit.
func (s *sheet) room(h float64) {
	if s.y+h > bottom {
		s.page()
	}
}

func (s *sheet) font(name string, size float64) { s.SetFont(name, "", size) }

func (s *sheet) rule(title string) {
	s.room(12)
	s.y += 3
	s.font("cond", 11.5)
	s.Text(left, s.y+4, title)
	x := left + s.GetStringWidth(title) + 2.5
	s.SetLineWidth(0.25)
	s.Line(x, s.y+2.7, right, s.y+2.7)
	s.y += 6.5
}

// split breaks a text over lines of w mm in the present font. Whatever is written goes through it or through fit:
// nothing on a certificate is cut.
func (s *sheet) split(text string, w float64) []string { return s.SplitText(plainSpaces(text), w) }

// fit chooses the largest size, from most down to least, at which a text stands on one line of w mm, and gives its
// lines: more than one when even the least is too large.
func (s *sheet) fit(font string, most, least, w float64, text string) (lines []string, size float64) {
	for size = most; ; size -= 0.5 {
		s.font(font, max(size, least))
		if lines = s.split(text, w); len(lines) <= 1 || size <= least {
			return lines, max(size, least)
		}
	}
}

// line writes text, wrapped to w, and moves on.
func (s *sheet) line(x, w float64, font string, size float64, text string) {
	s.font(font, size)
	for _, l := range s.split(text, w) {
		s.room(size * 0.42)
		s.font(font, size) // a new page has its own
		s.Text(x, s.y+size*0.33, l)
		s.y += size * 0.44
	}
}

// plainSpaces: the fonts have no thin space.
func plainSpaces(t string) string {
	return strings.NewReplacer("\u2009", " ", "\u00a0", " ").Replace(t)
}

func shortMark(m string) string {
	m = strings.ToUpper(m)
	if len(m) < 8 {
		return m
	}
	return m[:4] + "-" + m[4:8]
}

// table writes rows under headings; shares are column widths of the whole. A row that is higher than what is left of a
// sheet goes on on the next one, under the headings again.
func (s *sheet) table(shares []float64, head []string, rows [][]string) {
	const lead, size = 4.0, 8.6
	split := func(font string, cells []string) (lines [][]string, most int) {
		s.font(font, size)
		most = 1
		for i, c := range cells {
			lines = append(lines, s.split(c, width*shares[i]-2))
			most = max(most, len(lines[i]))
		}
		return lines, most
	}
	rule := func() {
		s.y += 0.8
		s.SetDrawColor(180, 180, 180)
		s.SetLineWidth(0.15)
		s.Line(left, s.y, right, s.y)
		s.SetDrawColor(0, 0, 0)
	}
	put := func(lines [][]string, k int) {
		x := left
		for i, l := range lines {
			if k < len(l) {
				s.Text(x+1, s.y+3.4, l[k])
			}
			x += width * shares[i]
		}
		s.y += lead
	}
	headings := func() {
		lines, most := split("bold", head)
		for k := range most {
			put(lines, k)
		}
		rule()
	}
	s.room(3 * lead)
	headings()
	for _, r := range rows {
		r, below := s.narrow(shares, head, r, size)
		lines, most := split("text", r)
		if h := float64(most)*lead + 1; s.y+h > bottom && h < (bottom-top)/3 {
			s.page()
			headings()
		}
		for k := range most {
			if s.y+lead+1 > bottom {
				s.page()
				headings()
			}
			s.font("text", size)
			put(lines, k)
		}
		for _, t := range below {
			s.line(left+1, width-2, "text", size, t)
		}
		rule()
	}
}

// narrow takes the cells out of a row that are too long for their column; they are written under the row over the whole
// width.
func (s *sheet) narrow(shares []float64, head, row []string, size float64) (short, below []string) {
	const most = 10
	s.font("text", size)
	for i, c := range row {
		if len(s.split(c, width*shares[i]-2)) > most {
			below = append(below, head[i]+": "+c)
			c = "see below"
		}
		short = append(short, c)
	}
	return short, below
}

// plateWidth is how wide the plate of a tag is at a size of its letters.
func (s *sheet) plateWidth(tag string, size float64) float64 {
	s.font("mono", size)
	return s.GetStringWidth(tag) + size*0.62
}

// plateSize is the size, up to most, at which the plate of a tag is no wider than w.
func (s *sheet) plateSize(tag string, most, w float64) float64 {
	return min(most, most*w/s.plateWidth(tag, most))
}

// plate draws the tag of a joint, its right edge at x.
func (s *sheet) plate(tag string, x, y, size float64) {
	w := s.plateWidth(tag, size)
	h := size * 0.6
	s.SetFillColor(0, 0, 0)
	s.Polygon([]fpdf.PointType{{X: x - w, Y: y + h*0.3}, {X: x - w + h*0.3, Y: y}, {X: x, Y: y}, {X: x, Y: y + h},
		{X: x - w + h*0.3, Y: y + h}, {X: x - w, Y: y + h*0.7}}, "F")
	s.SetFillColor(255, 255, 255)
	s.Circle(x-w+size*0.16, y+h/2, size*0.055, "F")
	s.SetTextColor(255, 255, 255)
	s.Text(x-w+size*0.36, y+h*0.74, tag)
	s.SetTextColor(0, 0, 0)
}

// qr draws the code as vector squares.
func (s *sheet) qr(x, y, size float64, text string) error {
	q, err := qrcode.New(text, qrcode.Medium)
	if err != nil {
		return fmt.Errorf("report: %w", err)
	}
	q.DisableBorder = true
	bits := q.Bitmap()
	m := size / float64(len(bits))
	s.SetFillColor(0, 0, 0)
	for j, row := range bits {
		for i, on := range row {
			if on {
				s.Rect(x+float64(i)*m, y+float64(j)*m, m*1.02, m*1.02, "F")
			}
		}
	}
	return nil
}
