package quantity

import (
	"math"
	"strings"
)

// ReadAs reads what somebody typed into a field with its unit beside it. A unit that is typed too wins, when it
// measures the same. In a unit of no kind, and without one, it must be a plain number. A length may be below zero: an
// offset has a side.
func ReadAs(text string, unit Unit) (Reading, error) {
	kind := unit.Kind()
	if kind == "" || canonical[kind] == "" {
		v, _, err := Number("reading", strings.TrimSuffix(Plain(text), unit.Symbol()))
		return Reading{Value: v, Unit: unit, Canonical: v, CanonUnit: unit}, err
	}
	s := Plain(text)
	below := kind == KindLength && strings.HasPrefix(s, "-")
	if below {
		s = strings.TrimPrefix(s, "-")
	}
	r, err := Parse(kind, s, unit)
	if below {
		r.Value, r.Canonical = -r.Value, -r.Canonical
	}
	return r, err
}

// Typed is what somebody typed into a field, read: the figure for the field, or why there is none.
type Typed struct {
	Value     float64  `json:"value"` // as typed
	Unit      Unit     `json:"unit"`  // as typed, or the field's
	Canonical float64  `json:"si"`
	InField   float64  `json:"inField"` // in the unit of the field
	Wrong     string   `json:"wrong,omitempty"`
	Choices   []string `json:"choices,omitempty"` // to choose from, when it may mean one of a few
}

// TypedAs reads like ReadAs, for whoever draws the field.
func TypedAs(text string, unit Unit) Typed {
	r, err := ReadAs(text, unit)
	out := Typed{Value: r.Value, Unit: r.Unit, Canonical: r.Canonical, InField: r.Value}
	if err == nil && r.Unit != unit {
		out.InField, err = Convert(r.Value, r.Unit, unit)
	}
	if refused, ok := RefusalIn(err); ok {
		return Typed{Wrong: upper(refused.Why) + ". " + refused.Remedy, Choices: refused.Choices}
	}
	return out
}

func upper(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}

// Says refuses a text that says another quantity than value in unit, to the digits that the text shows.
func Says(text string, value float64, unit Unit) error {
	r, err := ReadAs(text, unit)
	if err != nil {
		return err
	}
	if r.Unit != unit {
		if r.Value, err = Convert(r.Value, r.Unit, unit); err != nil {
			return err
		}
	}
	if slack := max(1e-9*math.Abs(value), 0.5*math.Pow10(-decimals(text))); math.Abs(r.Value-value) > slack*(1+1e-9) {
		return Refuse("text", "Type it anew.", "says %q, the value is %s %s", text, Text(value), unit.Symbol())
	}
	return nil
}

// decimals counts the digits behind the decimal point of what was typed; a fraction is exact.
func decimals(text string) int {
	number := head(Plain(text))
	if strings.Contains(number, "/") {
		return 12
	}
	i := strings.LastIndexAny(number, ".,")
	if i < 0 {
		return 0
	}
	return len(number) - i - 1
}
