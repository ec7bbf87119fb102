package quantity

import (
	"math"
	"reflect"
	"strconv"
	"strings"
	"sync"
)

// Field describes one input or result of a calculation. It is read from the tags of a Go struct, so that a
// calculation's Go type, its limits and its form on a screen are one thing:
//
//	in:"torque_Nm" or out:"torque_Nm"  the key; its ending names the unit
//	sym:"T"                            the symbol in formulas
//	label:"Torque at the nut"          the name on a screen
//	help:"…"                           what to enter, or what the range is for
//	ok:">0,<=1" or ok:"0..1"           the limits of each number (also inside lists)
//	def:"0.2"                          what is taken when nothing is given
//	eg:"120"                           a sensible number to start with
//	one:"approx exact"                 the words to choose from
//
// A pointer is optional without a default; a list is optional when it is tagged opt:"true".
type Field struct {
	Key      string   `json:"key"`
	Symbol   string   `json:"symbol,omitempty"`
	Label    string   `json:"label"`
	Help     string   `json:"help,omitempty"`
	Kind     string   `json:"kind"` // number, whole, text, choice, flag, list, wholes, texts, grid, cube, table, free
	Unit     Unit     `json:"unit,omitempty"`
	Units    []Unit   `json:"units,omitempty"` // it can be written in
	Choices  []string `json:"choices,omitempty"`
	Limits   string   `json:"limits,omitempty"` // in words, e.g. "above 0, up to 1"
	Optional bool     `json:"optional"`
	Default  string   `json:"default,omitempty"`
	Example  string   `json:"example,omitempty"`
	Columns  []Field  `json:"columns,omitempty"` // of a table

	Measures Kind    `json:"-"` // what Unit measures, "" when it cannot be switched
	Index    int     `json:"-"` // in the struct
	limits   []limit // as tagged
}

type limit struct {
	op string
	v  float64
}

// keyUnits are the endings of keys, longest first, and the units they stand for.
var keyUnits = []struct {
	end  string
	unit Unit
}{
	{"_Nm_per_MPa", "Nm_per_MPa"}, {"_Nm_per_deg", "Nm_per_deg"}, {"_N_per_deg", "N_per_deg"},
	{"_N_per_mm", "N_per_mm"}, {"_mm_per_m", "mm_per_m"},
	{"_J_per_kgK", "J_per_kgK"}, {"_J_per_kg", "J_per_kg"}, {"_W_per_K", "W_per_K"}, {"_W_m2K", "W_m2K"},
	{"_W_mK", "W_mK"}, {"_Pa_m3_s", "Pa_m3_s"},
	{"_mL_min", "mL_min"}, {"_kg_m3", "kg_m3"}, {"_per_K", "per_K"}, {"_person_h", "h"}, {"_N_mm2", "N_mm2"},
	{"_kip", "kip"}, {"_in2", "in2"}, {"_Nm", "N_m"},
	{"_kN", "kN"}, {"_MPa", "MPa"}, {"_GPa", "GPa"}, {"_Pa", "Pa"}, {"_mm2", "mm2"}, {"_mm", "mm"}, {"_m3", "m3"},
	{"_m2", "m2"}, {"_in", "in"}, {"_deg", "deg"},
	{"_pct", "pct"}, {"_kg", "kg"}, {"_min", "min"}, {"_N", "N"}, {"_m", "m"}, {"_C", "C"}, {"_s", "s"}, {"_h", "h"},
	{"_W", "W"}, {"_J", "J"},
}

// namedUnits are keys that do not end in their unit.
var namedUnits = map[string]Unit{"bolt_pct_yield": "pct", "max_pct_yield": "pct", "percent_of_target": "pct",
	"percent": "pct"}

// KeyUnit gives the unit that a key's ending names, "" for a plain number.
func KeyUnit(key string) Unit {
	if u, ok := namedUnits[key]; ok {
		return u
	}
	for _, k := range keyUnits {
		if strings.HasSuffix(key, k.end) {
			return k.unit
		}
	}
	return ""
}

var fieldsOf sync.Map // reflect.Type to []Field

// Fields reads the tagged fields of a struct type; tag is "in" or "out".
func Fields(t reflect.Type, tag string) []Field {
	type id struct {
		t   reflect.Type
		tag string
	}
	if v, ok := fieldsOf.Load(id{t, tag}); ok {
		return v.([]Field)
	}
	out := []Field{}
	for i := range t.NumField() {
		sf := t.Field(i)
		key := sf.Tag.Get(tag)
		if key == "" {
			continue
		}
		f := Field{Key: key, Symbol: sf.Tag.Get("sym"), Label: sf.Tag.Get("label"), Help: sf.Tag.Get("help"),
			Default: sf.Tag.Get("def"), Example: sf.Tag.Get("eg"),
			Choices: strings.Fields(sf.Tag.Get("one")), Unit: KeyUnit(key), Index: i,
			limits: parseLimits(sf.Tag.Get("ok"))}
		if f.Measures = f.Unit.Kind(); f.Measures != "" {
			f.Units = Units(f.Measures)
		}
		f.Limits = limitText(f.limits)
		ft := sf.Type
		f.Optional = f.Default != "" || sf.Tag.Get("opt") == "true"
		if ft.Kind() == reflect.Pointer {
			ft, f.Optional = ft.Elem(), true
		}
		f.Kind, f.Columns = kindOf(ft, tag)
		if len(f.Choices) > 0 {
			f.Kind = "choice"
		}
		out = append(out, f)
	}
	fieldsOf.Store(id{t, tag}, out)
	return out
}

func kindOf(t reflect.Type, tag string) (string, []Field) {
	switch t.Kind() {
	case reflect.Float64:
		return "number", nil
	case reflect.Int:
		return "whole", nil
	case reflect.Bool:
		return "flag", nil
	case reflect.String:
		return "text", nil
	case reflect.Slice:
		switch e := t.Elem(); e.Kind() {
		case reflect.Struct:
			return "table", Fields(e, tag)
		case reflect.Slice:
			if e.Elem().Kind() == reflect.Slice {
				return "cube", nil
			}
			return "grid", nil
		case reflect.String:
			return "texts", nil
		case reflect.Int:
			return "wholes", nil
		default:
			return "list", nil
		}
	}
	return "free", nil
}

func parseLimits(tag string) []limit {
	var out []limit
	for part := range strings.SplitSeq(tag, ",") {
		switch {
		case part == "":
		case strings.Contains(part, ".."):
			lo, hi, _ := strings.Cut(part, "..")
			out = append(out, limit{">=", mustNumber(lo)}, limit{"<=", mustNumber(hi)})
		case strings.HasPrefix(part, ">=") || strings.HasPrefix(part, "<="):
			out = append(out, limit{part[:2], mustNumber(part[2:])})
		default:
			out = append(out, limit{part[:1], mustNumber(part[1:])})
		}
	}
	return out
}

func mustNumber(s string) float64 {
	v, err := strconv.ParseFloat(s, 64)
	if err != nil {
		panic("limit tag: " + s) // a fault of the program, found by every test
	}
	return v
}

var limitWords = map[string]string{">": "above ", ">=": "from ", "<": "below ", "<=": "up to "}

func limitText(list []limit) string {
	var words []string
	for _, l := range list {
		words = append(words, limitWords[l.op]+Text(l.v))
	}
	return strings.Join(words, ", ")
}

// Allows says whether v is finite and within the field's limits; the answer names the fault and the remedy.
func (f Field) Allows(v float64) error {
	if !Finite(v) {
		return Refuse(f.Key, "Enter a plain number.", "is not a finite number")
	}
	for _, l := range f.limits {
		bad := false
		switch l.op {
		case ">":
			bad = v <= l.v
		case ">=":
			bad = v < l.v-1e-9*math.Max(1, math.Abs(l.v))
		case "<":
			bad = v >= l.v
		case "<=":
			bad = v > l.v+1e-9*math.Max(1, math.Abs(l.v))
		}
		if bad {
			return Refuse(f.Key, "Enter a value "+f.Limits+".", "is %s, which is not %s%s", Text(v), limitWords[l.op],
				Text(l.v))
		}
	}
	return nil
}

// Limits holds a tagged input struct to its limits and choices, lists and rows of tables included. Every calculation
// that takes such a struct begins with it.
func Limits(in any) error { return checkStruct(reflect.ValueOf(in), "") }

func checkStruct(v reflect.Value, where string) error {
	for _, f := range Fields(v.Type(), "in") {
		if err := f.check(v.Field(f.Index), where); err != nil {
			return err
		}
	}
	return nil
}

func (f Field) check(v reflect.Value, where string) error {
	named := func(err error) error {
		if r, ok := RefusalIn(err); ok && where != "" {
			return &Refusal{Field: f.Key, Why: where + r.Why, Remedy: r.Remedy}
		}
		return err
	}
	switch v.Kind() {
	case reflect.Pointer:
		if v.IsNil() {
			return nil
		}
		return f.check(v.Elem(), where)
	case reflect.Float64:
		return named(f.Allows(v.Float()))
	case reflect.Int:
		return named(f.Allows(float64(v.Int())))
	case reflect.String:
		if len(f.Choices) == 0 {
			return nil
		}
		for _, c := range f.Choices {
			if c == v.String() {
				return nil
			}
		}
		return Refuse(f.Key, "Choose "+strings.Join(f.Choices, ", ")+".", "%s%q is not one of the choices", where,
			v.String())
	case reflect.Slice:
		for i := range v.Len() {
			at := where + "entry " + strconv.Itoa(i+1) + " "
			if e := v.Index(i); e.Kind() == reflect.Struct {
				if err := checkStruct(e, ""); err != nil {
					if r, ok := RefusalIn(err); ok {
						return &Refusal{Field: f.Key, Why: at + "(" + r.Field + ") " + r.Why, Remedy: r.Remedy}
					}
					return err
				}
			} else if err := f.check(e, at); err != nil {
				return err
			}
		}
	}
	return nil
}

// AtMost reports v ≤ limit with the slack that a value equal on paper never fails for binary rounding.
func AtMost[F ~float64](v, limit F) bool { return v <= limit+1e-9*max(1, limit, -limit) }

// Rad turns degrees into radians, Deg radians into degrees.
func Rad(deg float64) float64 { return deg * math.Pi / 180 }

// Deg turns radians into degrees.
func Deg(rad float64) float64 { return rad * 180 / math.Pi }

// Turned brings an angle in degrees into [0, 360).
func Turned(deg float64) float64 {
	d := math.Mod(deg, 360)
	if d < 0 {
		d += 360
	}
	if d >= 360-1e-12 {
		d = 0
	}
	return d
}
