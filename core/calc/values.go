package calc

import (
	"encoding/json"
	"math"
	"reflect"
	"regexp"
	"strconv"
	"strings"

	"dynacor/core/quantity"
)

func asNumber(v any) (float64, bool) {
	switch n := v.(type) {
	case float64:
		return n, true
	case int:
		return float64(n), true
	case json.Number:
		f, err := n.Float64()
		return f, err == nil
	}
	return 0, false
}

// fill puts values into a struct by the keys of its fields.
func fill(v reflect.Value, fields []quantity.Field, values map[string]any) error {
	for _, f := range fields {
		raw, has := values[f.Key]
		if !has || raw == nil {
			if f.Default != "" {
				if err := setText(v.Field(f.Index), f, f.Default); err != nil {
					return err
				}
				continue
			}
			if f.Optional {
				continue
			}
			return quantity.Refuse(f.Key, "Enter it.", "is missing")
		}
		if err := set(v.Field(f.Index), f, raw); err != nil {
			return err
		}
	}
	return nil
}

// setText sets a field from the text of a default tag.
func setText(v reflect.Value, f quantity.Field, text string) error {
	switch v.Kind() {
	case reflect.Bool:
		v.SetBool(text == "true")
		return nil
	case reflect.String:
		v.SetString(text)
		return nil
	}
	n, _, err := quantity.Number(f.Key, text)
	if err != nil {
		return err
	}
	return set(v, f, n)
}

func set(v reflect.Value, f quantity.Field, raw any) error {
	switch v.Kind() {
	case reflect.Pointer:
		p := reflect.New(v.Type().Elem())
		if err := set(p.Elem(), f, raw); err != nil {
			return err
		}
		v.Set(p)
		return nil
	case reflect.Float64, reflect.Int:
		n, ok := asNumber(raw)
		if !ok || !quantity.Finite(n) {
			return quantity.Refuse(f.Key, "Enter a number.", "%v is not a number", raw)
		}
		if v.Kind() == reflect.Float64 {
			v.SetFloat(n)
			return nil
		}
		if n != math.Trunc(n) || math.Abs(n) > 1e9 {
			return quantity.Refuse(f.Key, "Enter a whole number.", "%s is not a whole number", quantity.Text(n))
		}
		v.SetInt(int64(n))
		return nil
	case reflect.Bool:
		b, ok := raw.(bool)
		if !ok {
			return quantity.Refuse(f.Key, "Say yes or no.", "%v is neither yes nor no", raw)
		}
		v.SetBool(b)
		return nil
	case reflect.String:
		s, ok := raw.(string)
		if !ok {
			return quantity.Refuse(f.Key, "Enter a text.", "%v is not a text", raw)
		}
		v.SetString(s)
		return nil
	}
	return setList(v, f, raw)
}

// mostEntries keeps lists within what a joint can have; a longer one is a mistake.
const mostEntries = 20000

func setList(v reflect.Value, f quantity.Field, raw any) error {
	items, ok := raw.([]any)
	if !ok {
		return quantity.Refuse(f.Key, "Enter a list.", "is not a list")
	}
	if len(items) > mostEntries {
		return quantity.Refuse(f.Key, "Enter fewer.", "has %d entries, %d are the most", len(items), mostEntries)
	}
	s := reflect.MakeSlice(v.Type(), len(items), len(items))
	for i, item := range items {
		e := s.Index(i)
		if e.Kind() != reflect.Struct {
			if err := set(e, f, item); err != nil {
				return err
			}
			continue
		}
		row, ok := item.(map[string]any)
		if !ok {
			return quantity.Refuse(f.Key, "Enter a row with its columns.", "entry %d is not a row", i+1)
		}
		for key := range row {
			if !hasKey(f.Columns, key) {
				return quantity.Refuse(f.Key, "The columns are "+strings.Join(keysOf(f.Columns), ", ")+".",
					"entry %d has a column %q, which is not known", i+1, key)
			}
		}
		if err := fill(e, f.Columns, row); err != nil {
			if r, ok := quantity.RefusalIn(err); ok {
				return &quantity.Refusal{Field: f.Key,
					Why: "entry " + strconv.Itoa(i+1) + ", " + r.Field + ": " + r.Why, Remedy: r.Remedy}
			}
			return err
		}
	}
	v.Set(s)
	return nil
}

func hasKey(fields []quantity.Field, key string) bool {
	for _, f := range fields {
		if f.Key == key {
			return true
		}
	}
	return false
}

func keysOf(fields []quantity.Field) []string {
	var out []string
	for _, f := range fields {
		out = append(out, f.Key)
	}
	return out
}

// outputs reads a result struct into values by key and refuses an answer that is not finite.
func outputs(v reflect.Value, fields []quantity.Field) (map[string]any, error) {
	out := map[string]any{}
	for _, f := range fields {
		x, err := output(v.Field(f.Index))
		if err != nil {
			return nil, quantity.Refuse(f.Key, "Check the inputs for a typing error.", "comes to no finite number")
		}
		out[f.Key] = x
	}
	return out, nil
}

var errNotFinite = quantity.Refuse("", "", "is not finite")

func output(v reflect.Value) (any, error) {
	switch v.Kind() {
	case reflect.Pointer:
		if v.IsNil() {
			return nil, nil
		}
		return output(v.Elem())
	case reflect.Float64:
		if !quantity.Finite(v.Float()) {
			return nil, errNotFinite
		}
		return v.Float(), nil
	case reflect.Int:
		return float64(v.Int()), nil
	case reflect.Slice:
		list := make([]any, 0, v.Len())
		for i := range v.Len() {
			x, err := output(v.Index(i))
			if err != nil {
				return nil, err
			}
			list = append(list, x)
		}
		return list, nil
	}
	return v.Interface(), nil
}

// show writes the outputs as a person reads them.
func (c *Calculation) show(values map[string]any, o Options) []Output {
	out := make([]Output, 0, len(c.Outputs))
	for _, f := range c.Outputs {
		x := Output{Key: f.Key, Label: f.Label, Symbol: f.Symbol, Value: values[f.Key], Unit: f.Unit}
		if f.Measures != "" {
			x.Units = quantity.Units(f.Measures)
		}
		v := x.Value
		if u := o.Units[f.Key]; u != "" && u.Kind() == f.Measures && f.Measures != "" {
			v, x.Unit = converted(v, f.Unit, u), u
		}
		x.Text, x.Number, x.Symbols = text(v, x.Unit), text(v, ""), x.Unit.Symbol()
		if f.Measures == quantity.KindTorque && v != nil {
			second := o.Also
			if second == "" || second.Kind() != quantity.KindTorque {
				second = quantity.FootPound
			}
			if second == x.Unit {
				second = quantity.NewtonMetre
			}
			x.Also = text(converted(x.Value, f.Unit, second), second)
		}
		out = append(out, x)
	}
	return out
}

// converted tells a number, or a list of them, in another unit.
func converted(v any, from, to quantity.Unit) any {
	switch x := v.(type) {
	case float64:
		c, err := quantity.Convert(x, from, to)
		if err != nil {
			return nil
		}
		return c
	case []any:
		out := make([]any, len(x))
		for i, e := range x {
			out[i] = converted(e, from, to)
		}
		return out
	}
	return v
}

func text(v any, unit quantity.Unit) string {
	switch x := v.(type) {
	case nil:
		return "not asked"
	case float64:
		s := quantity.Text(quantity.Significant(x, 4))
		if unit != "" {
			s += " " + unit.Symbol()
		}
		return s
	case bool:
		if x {
			return "yes"
		}
		return "no"
	case string:
		return strings.ReplaceAll(x, "_", " ")
	case []any:
		parts := make([]string, len(x))
		sep := " "
		for i, e := range x {
			parts[i] = text(e, "")
			if _, nested := e.([]any); nested {
				sep = "; "
			}
			if s, ok := e.(string); ok && strings.Contains(s, " ") {
				sep = "; "
			}
		}
		if len(parts) == 0 {
			return "none"
		}
		s := strings.Join(parts, sep)
		if unit != "" {
			s += " " + unit.Symbol()
		}
		return s
	}
	return ""
}

// tails are units people write after numbers that the quantity room does not read: code by folded text.
var tails = map[quantity.Unit]map[string]float64{
	"s": {"s": 1, "sec": 1, "min": 60, "h": 3600}, "min": {"min": 1, "s": 1.0 / 60, "h": 60},
	"h":  {"h": 1, "min": 1.0 / 60, "s": 1.0 / 3600},
	"kg": {"kg": 1, "g": 0.001, "t": 1000, "lb": 0.45359237}, "pct": {"%": 1, "percent": 1},
	"mm2": {"mm2": 1, "cm2": 100, "in2": 645.16}, "m2": {"m2": 1, "cm2": 1e-4, "mm2": 1e-6},
	"m3": {"m3": 1, "l": 0.001, "litre": 0.001}, "W": {"w": 1, "kw": 1000}, "J": {"j": 1, "kj": 1000},
	"GPa": {"gpa": 1, "mpa": 0.001},
}

var tailRe = regexp.MustCompile(`^(.*?[\d.,])\s*([^\d\s.,][^\s]*(?:\s.*)?)$`)

// number reads what a person typed for a field.
func number(f quantity.Field, typed string, meant quantity.Unit) (float64, error) {
	if meant == "" || meant.Kind() != f.Unit.Kind() {
		meant = f.Unit
	}
	s := quantity.Plain(typed)
	if s == "" {
		return 0, quantity.Refuse(f.Key, "Enter it.", "is empty")
	}
	v, frac, err := quantity.Number(f.Key, s)
	if err == nil && (!frac || f.Measures != quantity.KindLength) {
		if meant != f.Unit {
			return quantity.Convert(v, meant, f.Unit)
		}
		return v, nil
	}
	if err == nil { // a bare fraction of a length can only be inches
		return quantity.Convert(v, "in", f.Unit)
	}
	m := tailRe.FindStringSubmatch(s)
	if m == nil {
		return 0, err
	}
	switch f.Measures {
	case quantity.KindTorque, quantity.KindPressure, quantity.KindForce, quantity.KindLength, quantity.KindTemperature,
		quantity.KindAngle:
		r, err := quantity.Parse(f.Measures, strings.TrimPrefix(s, "-"), meant)
		if err != nil {
			if re, ok := quantity.RefusalIn(err); ok {
				return 0, &quantity.Refusal{Field: f.Key, Why: re.Why, Remedy: re.Remedy}
			}
			return 0, err
		}
		v := r.Value
		if strings.HasPrefix(s, "-") {
			v = -v
		}
		return quantity.Convert(v, r.Unit, f.Unit)
	}
	factor, known := tails[f.Unit][strings.ToLower(strings.ReplaceAll(m[2], " ", ""))]
	if !known && strings.ReplaceAll(m[2], " ", "") == f.Unit.Symbol() {
		factor, known = 1, true
	}
	if !known {
		remedy := "Enter a plain number."
		if f.Unit != "" {
			remedy = "Enter it in " + f.Unit.Symbol() + "."
		}
		return 0, quantity.Refuse(f.Key, remedy, "the unit in %q is not known here", typed)
	}
	v, _, err = quantity.Number(f.Key, m[1])
	return v * factor, err
}
