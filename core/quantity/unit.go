package quantity

import (
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"
	"sync"
)

// What is measured, each in the unit that core computes in, so that kilonewtons times millimetres are newton metres and
// no factor appears: Torque in N·m, Force in kN, Stress in MPa (N/mm²), Length in mm, Area in mm², Angle in degrees.
// Functions that take several figures take them as these, so that two cannot change places unseen.
type (
	Torque float64
	Force  float64
	Stress float64
	Length float64
	Area   float64
	Angle  float64
)

// Known reports whether a torque could be told at all.
func (t Torque) Known() bool { return !math.IsNaN(float64(t)) }

// Kind is what a unit measures.
type Kind string

// The kinds of quantity. A temperature is not a temperature difference.
const (
	KindTorque          Kind = "torque"
	KindPressure        Kind = "pressure"
	KindForce           Kind = "force"
	KindLength          Kind = "length"
	KindArea            Kind = "area"
	KindAngle           Kind = "angle"
	KindTemperature     Kind = "temperature"
	KindTemperatureDiff Kind = "temperature_difference"
)

// Unit is a unit code as stored, e.g. "N_m" or "ft_lbf".
type Unit string

// The units most used in code.
const (
	NewtonMetre   Unit = "N_m"
	FootPound     Unit = "ft_lbf"
	InchPound     Unit = "in_lbf"
	KilogramMetre Unit = "kgf_m"
	Megapascal    Unit = "MPa"
	Bar           Unit = "bar"
	Celsius       Unit = "C"
	Millimetre    Unit = "mm"
	Newton        Unit = "N"
	Kilonewton    Unit = "kN"
)

// Exact definitions: inch 0.0254 m, pound 0.45359237 kg, standard gravity 9.80665 m/s² (ISO 80000, IEEE/ASTM SI 10).
const (
	inch    = 0.0254
	pound   = 0.45359237
	gravity = 9.80665
	lbf     = pound * gravity
	psi     = lbf / (inch * inch)
)

type unitDef struct {
	kind   Kind
	factor float64 // to the kind's base unit: N·m, Pa, N, m, mm², deg, K
	offset float64 // temperatures only: kelvin = value·factor + offset
	symbol string
}

var units = map[Unit]unitDef{
	"N_m": {KindTorque, 1, 0, "N·m"}, "kN_m": {KindTorque, 1000, 0, "kN·m"}, "daN_m": {KindTorque, 10, 0, "daN·m"},
	"N_cm": {KindTorque, 0.01, 0, "N·cm"}, "cN_m": {KindTorque, 0.01, 0, "cN·m"},
	"ft_lbf": {KindTorque, 12 * inch * lbf, 0, "ft·lbf"}, "in_lbf": {KindTorque, inch * lbf, 0, "in·lbf"},
	"in_ozf": {KindTorque, inch * lbf / 16, 0, "in·ozf"}, "kgf_m": {KindTorque, gravity, 0, "kgf·m"},
	"kgf_cm": {KindTorque, gravity / 100, 0, "kgf·cm"},
	"Pa":     {KindPressure, 1, 0, "Pa"}, "kPa": {KindPressure, 1e3, 0, "kPa"}, "MPa": {KindPressure, 1e6, 0, "MPa"},
	"N_mm2": {KindPressure, 1e6, 0, "N/mm²"}, "bar": {KindPressure, 1e5, 0, "bar"},
	"kgf_cm2": {KindPressure, gravity * 1e4, 0, "kgf/cm²"}, "psi": {KindPressure, psi, 0, "psi"},
	"ksi": {KindPressure, 1000 * psi, 0, "ksi"},
	"N":   {KindForce, 1, 0, "N"}, "kN": {KindForce, 1000, 0, "kN"}, "kgf": {KindForce, gravity, 0, "kgf"},
	"lbf": {KindForce, lbf, 0, "lbf"}, "kip": {KindForce, 1000 * lbf, 0, "kip"},
	"mm": {KindLength, 0.001, 0, "mm"}, "cm": {KindLength, 0.01, 0, "cm"}, "m": {KindLength, 1, 0, "m"},
	"in": {KindLength, inch, 0, "in"}, "ft": {KindLength, 12 * inch, 0, "ft"},
	"mm2": {KindArea, 1, 0, "mm²"}, "cm2": {KindArea, 100, 0, "cm²"}, "in2": {KindArea, 645.16, 0, "in²"},
	"deg": {KindAngle, 1, 0, "°"}, "rad": {KindAngle, 180 / math.Pi, 0, "rad"}, "turn": {KindAngle, 360, 0, "turn"},
	"flat": {KindAngle, 60, 0, "flat"},
	"C":    {KindTemperature, 1, 273.15, "°C"}, "K": {KindTemperature, 1, 0, "K"},
	"F":      {KindTemperature, 5.0 / 9, 273.15 - 32*5.0/9, "°F"},
	"C_diff": {KindTemperatureDiff, 1, 0, "K"}, "K_diff": {KindTemperatureDiff, 1, 0, "K"},
	"F_diff": {KindTemperatureDiff, 5.0 / 9, 0, "°F"},
}

// symbols of units that stand in keys and workings but are not switched: rates, counts and the like.
var symbols = map[Unit]string{"Nm_per_MPa": "N·m/MPa", "Nm_per_deg": "N·m/°", "N_per_deg": "N/°", "N_per_mm": "N/mm",
	"mm_per_m": "mm/m", "J_per_kgK": "J/(kg·K)",
	"J_per_kg": "J/kg", "W_per_K": "W/K", "W_m2K": "W/(m²·K)", "W_mK": "W/(m·K)", "Pa_m3_s": "Pa·m³/s",
	"mL_min": "mL/min", "kg_m3": "kg/m³", "per_K": "1/K",
	"GPa": "GPa", "m3": "m³", "m2": "m²", "pct": "%", "kg": "kg", "min": "min", "s": "s", "h": "h", "W": "W", "J": "J"}

// Kind gives what the unit measures, "" for an unknown unit.
func (u Unit) Kind() Kind { return units[u].kind }

// Symbol gives the unit as printed after a number, e.g. "N·m".
func (u Unit) Symbol() string {
	if d, ok := units[u]; ok {
		return d.symbol
	}
	if s := symbols[u]; s != "" {
		return s
	}
	return string(u)
}

// Convert turns value from one unit into another of the same kind. It refuses unknown units, units of different kinds
// and temperatures below absolute zero.
func Convert(value float64, from, to Unit) (float64, error) {
	f, ok := units[from]
	if !ok {
		return 0, Refuse("from", "Choose a listed unit.", "%q is not a known unit", string(from))
	}
	t, ok := units[to]
	if !ok {
		return 0, Refuse("to", "Choose a listed unit.", "%q is not a known unit", string(to))
	}
	if f.kind != t.kind {
		return 0, Refuse("to", "Choose a unit of "+string(f.kind)+".", "%s measures %s, %s measures %s", from, f.kind,
			to, t.kind)
	}
	if !Finite(value) {
		return 0, Refuse("value", "Enter a plain number.", "is not a finite number")
	}
	base := value*f.factor + f.offset
	if f.kind == KindTemperature && base < -1e-9 {
		return 0, Refuse("value", "Check sign and unit.", "%s %s is below absolute zero", Text(value), f.symbol)
	}
	if from == to {
		return value, nil
	}
	return (base - t.offset) / t.factor, nil
}

// Written gives the symbol of every unit whose code is not its symbol.
func Written() map[Unit]string {
	out := map[Unit]string{}
	for u, d := range units {
		out[u] = d.symbol
	}
	maps.Copy(out, symbols)
	maps.DeleteFunc(out, func(u Unit, symbol string) bool { return string(u) == symbol })
	return out
}

// Units lists the units of a kind, the canonical one first, then by name. The list is shared: do not change it.
func Units(k Kind) []Unit { return unitsOf()[k] }

var unitsOf = sync.OnceValue(func() map[Kind][]Unit {
	out := map[Kind][]Unit{}
	for u, d := range units {
		out[d.kind] = append(out[d.kind], u)
	}
	for k, list := range out {
		slices.SortFunc(list, func(a, b Unit) int {
			if first := canonical[k]; (a == first) != (b == first) {
				if a == first {
					return -1
				}
				return 1
			}
			return strings.Compare(string(a), string(b))
		})
	}
	return out
})

// In gives the torque in u; u must be a unit of torque.
func (t Torque) In(u Unit) float64 { return float64(t) / units[u].factor }

// TorqueOf makes a torque from a value in u; u must be a unit of torque.
func TorqueOf(v float64, u Unit) Torque { return Torque(v * units[u].factor) }

// Text prints v with up to six significant figures and no exponent: no separator up to 9999, a thin space above.
func Text[F ~float64](figure F) string {
	v := float64(figure)
	if v == 0 {
		return "0"
	}
	dec := 5 - int(math.Floor(math.Log10(math.Abs(v))))
	dec = max(0, min(dec, 9))
	s := strconv.FormatFloat(v, 'f', dec, 64)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	if math.Abs(v) < 10000 {
		return s
	}
	whole, frac, _ := strings.Cut(s, ".")
	neg := strings.HasPrefix(whole, "-")
	whole = strings.TrimPrefix(whole, "-")
	for i := len(whole) - 3; i > 0; i -= 3 {
		whole = whole[:i] + "\u2009" + whole[i:]
	}
	if frac != "" {
		whole += "." + frac
	}
	if neg {
		whole = "-" + whole
	}
	return whole
}

// Shown prints v with a fitting number of figures (three) and its unit: "148 kN".
func Shown(v float64, u Unit) string { return Text(Significant(v, 3)) + " " + u.Symbol() }

// Significant rounds v to n significant figures; whole numbers above 10^n keep all their figures.
func Significant[F ~float64](figure F, n int) F {
	v := float64(figure)
	if v == 0 || !Finite(v) {
		return figure
	}
	p := n - 1 - int(math.Floor(math.Log10(math.Abs(v))))
	if p < 0 {
		p = 0
	}
	f := math.Pow(10, float64(p))
	return F(math.Round(v*f) / f)
}

// Rounding is the result of putting a value on a scale.
type Rounding struct {
	Rounded      float64 // a multiple of the graduation
	DeviationPct float64 // 100·(rounded−value)/value
	Limited      bool    // the maximum forbade rounding up
}

// RoundToGraduation gives the nearest multiple of graduation, a half step going up, and never past limit (0: none). The
// 1e-9 only absorbs binary noise. It refuses inputs that are not above zero and values that cannot be set at all.
// Source: own rule.
func RoundToGraduation(value, graduation, limit float64) (Rounding, error) {
	if err := Positive("value", value, "graduation", graduation); err != nil {
		return Rounding{}, err
	}
	if limit != 0 {
		if err := Positive("max", limit); err != nil {
			return Rounding{}, err
		}
	}
	n := math.Floor(value/graduation + 0.5 + 1e-9)
	var r Rounding
	if limit != 0 {
		if top := math.Floor(limit/graduation + 1e-9); n > top {
			n, r.Limited = top, true
		}
	}
	if n < 1 {
		return Rounding{}, Refuse("graduation", "Use a tool with a finer scale.",
			"nothing near %s can be set on steps of %s", Text(value), Text(graduation))
	}
	r.Rounded = n * graduation
	r.DeviationPct = 100 * (r.Rounded - value) / value
	return r, nil
}
