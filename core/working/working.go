// Package working is the ledger of a calculation: what went in, from where, by which formula, what came out. The code
// that computes a figure writes its line, so that the working shown can never be another calculation than the one done.
package working

import (
	"strings"
	"unicode"

	"dynacor/core/quantity"
)

// Origin says where a figure comes from; the interface labels each kind differently.
type Origin string

// The origins of a figure.
const (
	Supplied   Origin = "supplied"   // stated by a document or a person
	LookedUp   Origin = "looked-up"  // from a table
	Calculated Origin = "calculated" // worked out here
	Assumed    Origin = "assumed"    // the usual value, taken because nothing was given
)

// Line is one figure.
type Line struct {
	Symbol  string  `json:"symbol"`
	Name    string  `json:"name"`
	Formula string  `json:"formula,omitempty"` // in symbols
	Numbers string  `json:"numbers,omitempty"` // the same with numbers put in
	Value   float64 `json:"value"`
	Unit    string  `json:"unit"`
	Text    string  `json:"text"` // value and unit as shown
	Origin  Origin  `json:"origin"`
	Source  string  `json:"source,omitempty"`
}

// Working is the ledger of one result. A nil Working keeps no lines and costs nothing: a caller that only needs the
// figure passes nil.
type Working struct {
	Title    string   `json:"title"`
	Lines    []Line   `json:"lines"`
	Takes    []string `json:"takes"`    // what is taken for granted
	Warnings []string `json:"warnings"` // what to mind

	names map[string]named
}

// New begins a working.
func New(title string) *Working {
	return &Working{Title: title, Lines: []Line{}, Takes: []string{}, Warnings: []string{}}
}

type named struct {
	name string
	unit quantity.Unit
}

// Name says what a symbol stands for and in which unit, for the Steps that follow.
func (w *Working) Name(symbol, name string, unit quantity.Unit) {
	if w.names == nil {
		w.names = map[string]named{}
	}
	w.names[symbol] = named{name, unit}
}

// Step notes a computed figure whose name and unit were given by Name, and returns it. A symbol that nobody named is
// not noted.
func (w *Working) Step(symbol, formula string, v float64) float64 {
	if w == nil {
		return v
	}
	n, ok := w.names[symbol]
	if !ok {
		return v
	}
	return w.Calc(symbol, n.name, formula, v, n.unit, "")
}

// Put notes a figure of the given origin and returns it.
func (w *Working) Put(symbol, name string, v float64, unit quantity.Unit, origin Origin, source string) float64 {
	return w.add(Line{Symbol: symbol, Name: name, Value: v, Origin: origin, Source: source}, unit)
}

// Supply notes a figure that a document or person states and returns it.
func (w *Working) Supply(symbol, name string, v float64, unit quantity.Unit, source string) float64 {
	return w.add(Line{Symbol: symbol, Name: name, Value: v, Origin: Supplied, Source: source}, unit)
}

// LookUp notes a figure from a table and returns it.
func (w *Working) LookUp(symbol, name string, v float64, unit quantity.Unit, source string) float64 {
	return w.add(Line{Symbol: symbol, Name: name, Value: v, Origin: LookedUp, Source: source}, unit)
}

// Calc notes a computed figure and returns it. Symbols in the formula that have a line already are replaced by their
// numbers.
func (w *Working) Calc(symbol, name, formula string, v float64, unit quantity.Unit, source string) float64 {
	if w == nil {
		return v
	}
	return w.add(Line{Symbol: symbol, Name: name, Formula: formula, Numbers: w.substitute(formula), Value: v,
		Origin: Calculated, Source: source}, unit)
}

// Take notes what is taken for granted; Warn what to mind. An empty text is not noted.
func (w *Working) Take(text string) {
	if w != nil {
		w.Takes = appendText(w.Takes, text)
	}
}

// Warn notes what to mind.
func (w *Working) Warn(text string) {
	if w != nil {
		w.Warnings = appendText(w.Warnings, text)
	}
}

func appendText(list []string, text string) []string {
	if text == "" {
		return list
	}
	return append(list, text)
}

func (w *Working) add(l Line, unit quantity.Unit) float64 {
	if w == nil {
		return l.Value
	}
	l.Unit = string(unit)
	l.Text = quantity.Text(quantity.Significant(l.Value, 4))
	if unit != "" {
		l.Text += " " + unit.Symbol()
	}
	w.Lines = append(w.Lines, l)
	return l.Value
}

// substitute puts numbers in the place of symbols. A symbol is a run of letters and digits.
func (w *Working) substitute(formula string) string {
	if !strings.ContainsAny(formula, "·×/÷^+√(") && !strings.Contains(formula, " - ") && strings.Contains(formula,
		" ") {
		return formula // told in words
	}
	var out strings.Builder
	word := ""
	flush := func() {
		text := word
		for j := len(w.Lines) - 1; j >= 0; j-- {
			if w.Lines[j].Symbol == word && word != "" {
				text = w.Lines[j].Text
				break
			}
		}
		out.WriteString(text)
		word = ""
	}
	for _, r := range formula {
		if unicode.IsLetter(r) || unicode.IsDigit(r) || unicode.Is(unicode.No, r) && r != '²' || r == '.' {
			word += string(r)
			continue
		}
		flush()
		out.WriteRune(r)
	}
	flush()
	return out.String()
}
