package fastener

import (
	"slices"
	"strings"

	"dynacor/core/quantity"
)

// TableRow is a line of a look-up table: what it is looked up by, and what it gives.
type TableRow struct {
	Keys    []string `json:"keys"`
	Thread  string   `json:"thread,omitempty"`
	Nominal float64  `json:"nominal,omitempty"`
	Min     float64  `json:"min,omitempty"`
	Max     float64  `json:"max,omitempty"`
}

// Table is a chart of torques by type and size, entered once by the site from a maker's document.
type Table struct {
	Code         string        `json:"code"`
	Name         string        `json:"name"`
	Document     string        `json:"document"`
	Revision     string        `json:"revision"`
	Page         string        `json:"page,omitempty"`
	KeyNames     []string      `json:"keyNames"` // what the keys are called: type, size, colour
	Unit         quantity.Unit `json:"unit"`
	TolerancePct float64       `json:"tolerancePct,omitempty"` // of a nominal value
	Rows         []TableRow    `json:"rows"`
	Version      int           `json:"version,omitempty"`
}

// Source names the document for a working.
func (t Table) Source() string {
	s := t.Document + " rev " + t.Revision
	if t.Page != "" {
		s += ", " + t.Page
	}
	return s
}

// Row finds the line of exactly these keys, capitals and blanks aside. Nothing is ever read between two lines or past
// the last. Refused: no such line, with the values that the first key that misses could have.
func (t Table) Row(keys []string) (TableRow, error) {
	same := func(a, b string) bool {
		return strings.EqualFold(strings.ReplaceAll(a, " ", ""), strings.ReplaceAll(b, " ", ""))
	}
	rows := t.Rows
	for i, name := range t.KeyNames {
		key := ""
		if i < len(keys) {
			key = keys[i]
		}
		var left []TableRow
		var could []string
		for _, r := range rows {
			if same(r.Keys[i], key) {
				left = append(left, r)
			} else if !slices.Contains(could, r.Keys[i]) {
				could = append(could, r.Keys[i])
			}
		}
		if len(left) == 0 {
			return TableRow{},
				quantity.Refuse("keys",
					"Choose "+strings.Join(could, ", ")+". A table is never read between its lines.",
					"%s has no line for %s %q", t.Name, name, key)
		}
		rows = left
	}
	if len(rows) == 0 {
		return TableRow{}, quantity.Refuse("keys", "Enter its lines in the Library.", "%s is empty", t.Name)
	}
	return rows[0], nil
}

// Check refuses a table that cannot be right, field by field.
func (t Table) Check() error {
	for _, v := range []struct{ field, text string }{{"code", t.Code}, {"name", t.Name}, {"document", t.Document},
		{"revision", t.Revision}} {
		if strings.TrimSpace(v.text) == "" {
			return quantity.Refuse(v.field, "Fill it in: the record names where a value came from.", "is empty")
		}
	}
	if t.Unit.Kind() != quantity.KindTorque {
		return quantity.Refuse("unit", "Choose a unit of torque.", "%q is not a unit of torque", string(t.Unit))
	}
	if len(t.KeyNames) < 1 || len(t.KeyNames) > 4 {
		return quantity.Refuse("keyNames", "Name one to four columns that a line is looked up by.", "has %d",
			len(t.KeyNames))
	}
	if len(t.Rows) == 0 {
		return quantity.Refuse("rows", "Enter at least one line.", "has no lines")
	}
	if err := quantity.Between("tolerancePct", t.TolerancePct, 0, 50); err != nil {
		return err
	}
	seen := map[string]int{}
	for i, r := range t.Rows {
		line := i + 1
		if len(r.Keys) != len(t.KeyNames) || slices.ContainsFunc(r.Keys,
			func(k string) bool { return strings.TrimSpace(k) == "" }) {
			return quantity.Refuse("rows", "Fill in "+strings.Join(t.KeyNames, ", ")+".", "line %d lacks a key", line)
		}
		id := strings.ToLower(strings.Join(r.Keys, "\x00"))
		if first := seen[id]; first > 0 {
			return quantity.Refuse("rows", "Leave one of them out.", "lines %d and %d have the same keys", first, line)
		}
		seen[id] = line
		if r.Thread != "" {
			if _, err := ParseThread(r.Thread); err != nil {
				return quantity.Refuse("rows", "Write it as M12 or 1/2-13.", "line %d: %q is not a thread", line,
					r.Thread)
			}
		}
		one, two := r.Nominal > 0, r.Min > 0 || r.Max > 0
		switch {
		case !quantity.Finite(r.Nominal) || !quantity.Finite(r.Min) || !quantity.Finite(r.Max) || r.Nominal < 0 ||
			r.Min < 0 || r.Max < 0:
			return quantity.Refuse("rows", "Enter torques above zero.", "line %d has a number that cannot be a torque",
				line)
		case one == two:
			return quantity.Refuse("rows", "Give a nominal value, or the least and the most.",
				"line %d gives neither, or both", line)
		case two && r.Min >= r.Max:
			return quantity.Refuse("rows", "Enter the least before the most.", "line %d: %s is not below %s", line,
				quantity.Text(r.Min), quantity.Text(r.Max))
		}
	}
	return nil
}

// Table finds a site's table by its code.
func (o Own) Table(code string) (Table, bool) {
	i := slices.IndexFunc(o.Tables, func(t Table) bool { return t.Code == code })
	if i < 0 {
		return Table{}, false
	}
	return o.Tables[i], true
}

// Wet tells whether a card is a lubricant: neither dry nor a locking compound.
func (l Lubricant) Wet() bool { return !l.Dry() && !l.Locks() }

// Dry tells whether a card stands for parts without lubricant.
func (l Lubricant) Dry() bool { return strings.Contains(l.Condition, "dry") }

// Locks tells whether a card is a thread-locking compound.
func (l Lubricant) Locks() bool { return strings.HasPrefix(l.Condition, "threadlocker") }
