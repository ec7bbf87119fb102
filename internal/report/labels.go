package report

import (
	"io"
	"math"

	"codeberg.org/go-pdf/fpdf"

	"dynacor/core/quantity"
)

// Stock is what labels are printed on: a sheet of them, or a roll with one after the other. All in mm from the top
// left.
type Stock struct {
	Code   string  `json:"code"`
	Name   string  `json:"name"`
	Across int     `json:"across"`
	Down   int     `json:"down"`
	PageW  float64 `json:"pageW"`
	PageH  float64 `json:"pageH"`
	Left   float64 `json:"left"`  // to the first label
	Top    float64 `json:"top"`   // to the first label
	W      float64 `json:"w"`     // of a label
	H      float64 `json:"h"`     // of a label
	StepX  float64 `json:"stepX"` // from one label to the next
	StepY  float64 `json:"stepY"`
	Cut    bool    `json:"cut"`  // plain paper: the outline is drawn to cut along
	Ring   bool    `json:"ring"` // with a hole to punch, for a tag that is hung on the joint
}

func a4(code, name string, across, down int, w, h, left, top, gap float64) Stock {
	return Stock{Code: code, Name: name, Across: across, Down: down, PageW: 210, PageH: 297, Left: left, Top: top, W: w,
		H: h, StepX: w + gap, StepY: h}
}

func toCut(s Stock, ring bool) Stock {
	s.Cut, s.Ring = true, ring
	return s
}

func roll(code, name string, w, h float64) Stock {
	return Stock{Code: code, Name: name, Across: 1, Down: 1, PageW: w, PageH: h, W: w, H: h, StepX: w, StepY: h}
}

// Stocks are the common sheets and rolls.
var Stocks = []Stock{
	toCut(a4("cut", "Plain A4 to cut, 3 across, 8 down", 3, 8, 62, 34, 12, 12, 0), false),
	a4("a4-24", "A4, 24 labels of 70 × 37 mm", 3, 8, 70, 37, 0, .5, 0),
	a4("a4-21", "A4, 21 labels of 63.5 × 38.1 mm", 3, 7, 63.5, 38.1, 7.25, 15.15, 2.5),
	a4("a4-14", "A4, 14 labels of 99.1 × 38.1 mm", 2, 7, 99.1, 38.1, 4.65, 15.15, 2.5),
	a4("a4-8", "A4, 8 labels of 99.1 × 67.7 mm", 2, 4, 99.1, 67.7, 4.65, 13.1, 2.5),
	a4("a4-40", "A4, 40 labels of 48.5 × 25.4 mm", 4, 10, 48.5, 25.4, 8, 21.5, 0),
	a4("a4-65", "A4, 65 labels of 38.1 × 21.2 mm", 5, 13, 38.1, 21.2, 4.75, 10.7, 2.5),
	toCut(a4("ring-8", "Plain A4 to cut, 8 tags with a punch ring", 2, 4, 92, 66, 13, 16, 0), true),
	toCut(a4("cards", "Plain A4 to cut, 10 cards of 85.6 × 54 mm", 2, 5, 85.6, 54, 19.4, 13.5, 0), false),
	roll("roll-100", "Single label, 100 × 50 mm", 100, 50),
	roll("roll-62", "Single label, 62 × 29 mm", 62, 29),
	roll("roll-50", "Single label, 50 × 25 mm", 50, 25),
}

// StockOf finds a stock by its code, the first without one.
func StockOf(code string) (Stock, error) {
	if code == "" {
		return Stocks[0], nil
	}
	for _, s := range Stocks {
		if s.Code == code {
			return s, nil
		}
	}
	return Stock{}, quantity.Refuse("stock", "Choose one of the list.", "There are no labels %q.", code)
}

// Label is what stands on one: a heading, what it is, a word in large letters, lines, and a code to scan.
type Label struct {
	Head  string   `json:"head"`
	Name  string   `json:"name"`
	Big   string   `json:"big"`
	Lines []string `json:"lines"`
	Code  string   `json:"code"`
}

// Labels prints labels on a stock, from the label with number from (1: the first) of the first sheet on, so that a
// sheet of which some are gone can be used up. The site stands small on each.
func Labels(w io.Writer, title, site string, st Stock, from int, list []Label) error {
	per := st.Across * st.Down
	if from < 1 || from > per {
		return quantity.Refuse(
			"from",
			"Count from the top left, line by line.",
			"The first label must be 1 to %d.",
			per,
		)
	}
	s := newPlainSheet(title)
	for i, l := range list {
		n := i + from - 1
		if i == 0 || n%per == 0 {
			s.AddPageFormat("P", fpdf.SizeType{Wd: st.PageW, Ht: st.PageH})
		}
		n %= per
		x, y := st.Left+float64(n%st.Across)*st.StepX, st.Top+float64(n/st.Across)*st.StepY
		if st.Cut {
			s.SetLineWidth(0.2)
			s.Rect(x, y, st.W, st.H, "D")
		}
		l.Lines = append(append([]string{}, l.Lines...), site)
		if err := s.label(x, y, st.W, st.H, st.Ring, l); err != nil {
			return err
		}
	}
	return s.Output(w)
}

// row is a line of a label at its size.
type row struct {
	font, text string
	size       float64
}

// label draws one into its place. The code takes the right of a low label, the lower right of a high one; the text is
// made smaller until all of it has room.
func (s *sheet) label(x, y, w, h float64, ring bool, l Label) error {
	const mmOfPoint = 0.44 // of a line, with what is between it and the next
	pad := math.Max(1.5, math.Min(4, h*0.07))
	left := x + pad
	if ring {
		s.SetLineWidth(0.4)
		s.Circle(x+pad+3.2, y+h/2, 3.2, "D")
		left += 9
	}
	high := h > 45
	side := math.Min(h-2*pad, math.Min(0.4*w, 30))
	qx, qy := x+w-pad-side, y+(h-side)/2
	if high {
		qy = y + h - pad - side
	}
	if err := s.qr(qx, qy, side, l.Code); err != nil {
		return err
	}
	wide, narrow := x+w-pad-left, qx-pad-left
	for base := math.Max(0.55, math.Min(2, h/34)); ; base *= 0.93 {
		rows := s.rows(l, base, wide, narrow, high)
		tall := 0.0
		for _, r := range rows {
			tall += r.size * mmOfPoint
		}
		if tall > h-2*pad && base > 0.2 {
			continue
		}
		at := y + pad
		for _, r := range rows {
			s.font(r.font, r.size)
			s.Text(left, at+r.size*0.33, r.text)
			at += r.size * mmOfPoint
		}
		return nil
	}
}

// rows are the lines of a label with their sizes, each narrow enough for its place.
func (s *sheet) rows(l Label, base, wide, narrow float64, high bool) []row {
	var out []row
	add := func(font, text string, most, least float64, beside bool) {
		if text == "" {
			return
		}
		width := wide
		if beside {
			width = narrow
		}
		lines, size := s.fit(font, most, least*most, width, text)
		for _, t := range lines {
			out = append(out, row{font, t, size})
		}
	}
	add("mono", l.Head, 17*base, 0.5, !high)
	add("text", l.Name, math.Min(8*base, 13), 0.85, !high)
	add("cond", l.Big, 12*base, 0.7, true)
	for _, t := range l.Lines {
		add("text", t, math.Min(6.5*base, 11), 0.85, true)
	}
	return out
}
