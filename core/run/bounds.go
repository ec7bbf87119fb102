package run

import (
	"math"
	"reflect"
	"strings"
	"unicode"
	"unicode/utf8"

	"dynacor/core/quantity"
)

// Bounds of what an event may say. They keep out what nobody at a joint means; what is right for the work is judged
// later.
const (
	mostWords   = 2_000 // characters of a note or a reason
	mostName    = 200   // characters of any other text
	mostList    = 1_000 // entries of a list
	mostFigure  = 1e9   // of a figure in any unit
	mostCounted = 1_000_000
)

// longTexts are the fields that people write sentences in.
var longTexts = map[string]bool{"note": true, "reason": true}

// within refuses, by field, a text with control characters or without end, a figure that is not finite or absurd, and a
// list without end, wherever they stand in the event.
func (e Event) within() error { return within(reflect.ValueOf(e), "") }

func within(v reflect.Value, field string) error {
	switch v.Kind() {
	case reflect.Pointer:
		if !v.IsNil() {
			return within(v.Elem(), field)
		}
	case reflect.Struct:
		return fieldsWithin(v, field)
	case reflect.Slice, reflect.Array, reflect.Map:
		return listWithin(v, field)
	case reflect.String:
		return textWithin(v.String(), field)
	case reflect.Float64:
		if f := v.Float(); !quantity.Finite(f) || math.Abs(f) > mostFigure {
			return quantity.Refuse(field, "Enter the figure as it was read.", "is not a figure that can be meant")
		}
	case reflect.Int:
		if n := v.Int(); n > mostCounted || n < -mostCounted {
			return quantity.Refuse(field, "Enter the number as it was counted.", "is not a number that can be meant")
		}
	}
	return nil
}

func fieldsWithin(v reflect.Value, field string) error {
	t := v.Type()
	if t.PkgPath() == "time" {
		return nil
	}
	for i := range t.NumField() {
		f := t.Field(i)
		if !f.IsExported() || v.Field(i).IsZero() { // what was not said is within every bound
			continue
		}
		name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		if field != "" {
			name = field + "." + name
		}
		if f.Anonymous {
			name = field
		}
		if err := within(v.Field(i), name); err != nil {
			return err
		}
	}
	return nil
}

func listWithin(v reflect.Value, field string) error {
	if v.Len() > mostList {
		return quantity.Refuse(field, "Send fewer.", "has %d entries, %d at most", v.Len(), mostList)
	}
	if v.Kind() != reflect.Map {
		for i := range v.Len() {
			if err := within(v.Index(i), field); err != nil {
				return err
			}
		}
		return nil
	}
	for _, k := range v.MapKeys() {
		if err := within(k, field); err != nil {
			return err
		}
		if err := within(v.MapIndex(k), field); err != nil {
			return err
		}
	}
	return nil
}

func textWithin(s, field string) error {
	most := mostName
	if longTexts[field] {
		most = mostWords
	}
	if !utf8.ValidString(s) {
		return quantity.Refuse(field, "Type it anew.", "is not text")
	}
	if n := utf8.RuneCountInString(s); n > most {
		return quantity.Refuse(field, "Say it shorter.", "has %d characters, %d at most", n, most)
	}
	for _, r := range s {
		if unicode.IsControl(r) && r != '\n' && r != '\t' && r != '\r' {
			return quantity.Refuse(field, "Type it anew.", "has a control character (U+%04X)", r)
		}
	}
	return nil
}
