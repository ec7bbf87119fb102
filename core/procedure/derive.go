package procedure

import (
	"maps"
	"math"
	"slices"
)

// Derive says how a figure follows from others.
type Derive struct {
	// multiple: the first times the second; shift: the first, a length, at an angle of the second; less and plus: the
	// second taken from the first, or added to it
	By string   `json:"by"`
	Of []string `json:"of"` // their codes
}

// The ways in which a figure follows from two others.
const (
	ByMultiple = "multiple"
	ByShift    = "shift"
	ByLess     = "less"
	ByPlus     = "plus"
)

// Worked gives a figure as it follows from others; false: it does not, or one of them is not known.
func (x Figure) Worked(figures map[string]float64) (v float64, ok bool) {
	if x.Derive == nil || len(x.Derive.Of) != 2 {
		return 0, false
	}
	a, known := figures[x.Derive.Of[0]]
	b, also := figures[x.Derive.Of[1]]
	if !known || !also {
		return 0, false
	}
	switch x.Derive.By {
	case ByMultiple:
		return a * b, true
	case ByShift:
		return a * math.Tan(b*math.Pi/180), true
	case ByLess:
		return a - b, true
	case ByPlus:
		return a + b, true
	}
	return 0, false
}

// Known gives a figure as the document gives it, else as it follows from others.
func (x Figure) Known(figures map[string]float64) (v float64, ok bool) {
	if v, ok = figures[x.Code]; ok {
		return v, true
	}
	return x.Worked(figures)
}

// Filled gives the figures of a document, with the usual ones of the procedure where it gives none.
func (f Family) Filled(figures map[string]float64) map[string]float64 {
	out := map[string]float64{}
	for _, x := range f.Figures {
		if x.Usual != 0 {
			out[x.Code] = x.Usual
		}
	}
	maps.Copy(out, figures)
	return out
}

// FigureNames gives the names of figures by their codes.
func (f Family) FigureNames(codes []string) []string {
	out := slices.Clone(codes)
	for i, code := range codes {
		for _, x := range f.Figures {
			if x.Code == code {
				out[i] = x.Name
			}
		}
	}
	return out
}

// derives refuses a figure that follows from nothing.
func (v *validator) derives(path string, x Figure) {
	if x.Derive == nil {
		return
	}
	oneOf(v, path+".derive.by", x.Derive.By, []string{ByMultiple, ByShift, ByLess, ByPlus})
	if len(x.Derive.Of) != 2 || slices.Contains(x.Derive.Of, x.Code) {
		v.add(path+".derive.of", "Name two other figures.", "does not name two others")
	}
	for _, code := range x.Derive.Of {
		v.figure(path+".derive.of", code)
	}
}
