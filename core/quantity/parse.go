package quantity

import (
	"fmt"
	"strconv"
	"strings"
)

// Reading is a quantity as a person wrote it and as it is computed with.
type Reading struct {
	Value     float64 // as typed
	Unit      Unit    // as typed, or the default
	Canonical float64 // in the kind's canonical unit
	CanonUnit Unit    // N_m, MPa, N, mm, C, deg
}

var canonical = map[Kind]Unit{KindTorque: "N_m", KindPressure: "MPa", KindForce: "N", KindLength: "mm",
	KindTemperature: "C", KindAngle: "deg"}

var aliases = map[Kind]map[string]Unit{
	KindTorque: names("N_m nm|kN_m knm|N_cm ncm|cN_m cnm|daN_m danm|ft_lbf ftlb ftlbs ftlbf lbft lbsft lbfft " +
		"footpound footpounds|" +
		"in_lbf inlb inlbs inlbf lbin lbsin lbfin inchpound inchpounds|in_ozf inoz inozf ozin ozfin|kgf_m kgm kgfm " +
		"mkg mkgf kpm mkp|kgf_cm kgcm kgfcm cmkg"),
	KindPressure:    names("Pa pa|kPa kpa|MPa mpa|N_mm2 nmm2|bar bar barg|psi psi psig|ksi ksi|kgf_cm2 kgcm2 kgfcm2"),
	KindForce:       names("N n|kN kn|lbf lbf lb lbs|kip kip kips|kgf kgf kg kp"),
	KindLength:      names("mm mm|cm cm|m m|in in inch inches \" ''|ft ft foot feet '"),
	KindTemperature: names("C c degc|F f degf|K k"),
	KindAngle:       names("deg deg degrees|rad rad|turn turn turns rev revs|flat flat flats"),
}

func names(list string) map[string]Unit {
	m := map[string]Unit{}
	for _, group := range strings.Split(list, "|") {
		f := strings.Fields(group)
		for _, n := range f[1:] {
			m[n] = Unit(f[0])
		}
	}
	return m
}

var (
	plainer = strings.NewReplacer("“", `"`, "”", `"`, "″", `"`, "‘", "'", "’", "'", "′", "'", "−", "-", "–", "-", "×",
		"x",
		"\u00a0", " ", "\u202f", " ", "\u2009", " ", "²", "2", "½", " 1/2", "¼", " 1/4", "¾", " 3/4", "⅛", " 1/8", "⅜",
		" 3/8", "⅝", " 5/8", "⅞", " 7/8")
	tailDrop = strings.NewReplacer(" ", "", ".", "", "·", "", "*", "", "/", "", "(", "", ")", "", "_", "", "-", "")
)

// Plain turns typographic quotes, dashes, spaces and fractions into their keyboard forms.
func Plain(s string) string { return strings.TrimSpace(plainer.Replace(s)) }

// Parse reads text as a quantity of the given kind, e.g. "60 in-lb", "1 1/8 in", "1,5 kN". def is the unit meant when
// none is written ("" for none). It refuses a missing or unknown unit, a range, an ambiguous thousands comma, a
// fraction in a decimal unit and negative torque, pressure, force or length. Bare "kg" or "lb" is not a torque.
func Parse(kind Kind, text string, def Unit) (Reading, error) {
	field := string(kind)
	s := Plain(text)
	if s == "" {
		return Reading{}, Refuse(field, "Enter a number with its unit.", "is empty")
	}
	number := head(s)
	if number == "" {
		return Reading{}, Refuse(field, "Enter a number with its unit, for example "+example(kind)+".",
			"%q does not begin with a number", text)
	}
	tail := strings.ToLower(s[len(number):])
	if kind == KindAngle {
		tail = strings.ReplaceAll(tail, "°", "deg")
	} else {
		tail = strings.ReplaceAll(tail, "°", "")
	}
	tail = tailDrop.Replace(tail)
	unit := def
	if tail != "" {
		u, ok := aliases[kind][tail]
		if !ok {
			if kind == KindTorque && (tail == "kg" || tail == "lb" || tail == "lbs" || tail == "kgs" ||
				tail == "pounds") {
				return Reading{}, Refuse(field, "Say which is meant: kgf·m, ft·lbf or in·lbf.",
					"%q is a weight, not a torque", text)
			}
			return Reading{}, Refuse(field, "Use for example "+example(kind)+".", "the unit in %q is not known", text)
		}
		unit = u
	}
	if unit == "" {
		return Reading{}, Refuse(field, "Write the unit, for example "+example(kind)+".", "%q has no unit", text)
	}
	v, frac, err := read(field, strings.TrimSpace(number), text)
	if err != nil {
		return Reading{}, err
	}
	if frac && unit != "in" && unit != "ft" && unit != "turn" && unit != "flat" {
		return Reading{}, Refuse(field, "Write a decimal number.", "%q is a fraction of %s", text, unit.Symbol())
	}
	if v < 0 && (kind == KindTorque || kind == KindPressure || kind == KindForce || kind == KindLength) {
		return Reading{}, Refuse(field, "Enter a value of zero or more.", "%q is negative", text)
	}
	c, err := Convert(v, unit, canonical[kind])
	if err != nil {
		return Reading{}, err
	}
	return Reading{Value: v, Unit: unit, Canonical: c, CanonUnit: canonical[kind]}, nil
}

func example(kind Kind) string {
	switch kind {
	case KindTorque:
		return `"320 N·m" or "60 in-lb"`
	case KindPressure:
		return `"70 bar"`
	case KindForce:
		return `"148 kN"`
	case KindLength:
		return `"24 mm" or "1 1/8 in"`
	case KindTemperature:
		return `"20 °C"`
	}
	return `"90 deg"`
}

// Number reads a plain number without a unit as people write it: point or comma, thousands, a fraction, an exponent.
// frac says that it was a fraction.
func Number(field, text string) (v float64, frac bool, err error) {
	s := Plain(text)
	if plain(s) {
		if v, err = strconv.ParseFloat(s, 64); err != nil || !Finite(v) {
			return 0, false, Refuse(field, "Enter a plain number.", "%q is too large", text)
		}
		return v, false, nil
	}
	if head(s) != s || s == "" {
		return 0, false, Refuse(field, "Enter a plain number.", "%q is not a number", text)
	}
	return read(field, s, text)
}

// read reads the head of a quantity; frac says that it was written as a fraction.
func read(field, h, text string) (v float64, frac bool, err error) {
	bad := func(remedy, why string) (float64, bool, error) {
		return 0, false, Refuse(field, remedy, "%q %s", text, why)
	}
	neg := strings.HasPrefix(h, "-")
	h = strings.TrimSpace(strings.TrimLeft(h, "+-"))
	if whole, num, den, ok := fraction(h); ok {
		w, _ := strconv.ParseFloat("0"+whole, 64)
		a, _ := strconv.ParseFloat(num, 64)
		b, _ := strconv.ParseFloat(den, 64)
		if b == 0 {
			return bad("Check the fraction.", "divides by zero")
		}
		if whole != "" && a >= b {
			return bad("Write the whole part and a fraction below one.", "is not a mixed number")
		}
		v, frac = w+a/b, true
	} else {
		if spanned(h) {
			return bad("Enter one value; a range has its own two fields.", "is a range")
		}
		if strings.Contains(h, " ") {
			if !grouped(h) {
				return bad("Write the number without blanks.", "is not one number")
			}
			h = strings.ReplaceAll(h, " ", "")
		}
		if h, err = decimal(field, h, text); err != nil {
			return 0, false, err
		}
		if v, err = strconv.ParseFloat(h, 64); err != nil || !Finite(v) {
			return bad("Enter a plain number.", "is not a number")
		}
	}
	if neg {
		v = -v
	}
	return v, frac, nil
}

// decimal settles which separator is the decimal one.
func decimal(field, h, text string) (string, error) {
	dots, commas := strings.Count(h, "."), strings.Count(h, ",")
	switch {
	case dots > 0 && commas > 0:
		if strings.LastIndex(h, ".") > strings.LastIndex(h, ",") {
			if dots > 1 {
				return "", Refuse(field, "Enter a plain number.", "%q is not a number", text)
			}
			return strings.ReplaceAll(h, ",", ""), nil
		}
		if commas > 1 {
			return "", Refuse(field, "Enter a plain number.", "%q is not a number", text)
		}
		return strings.Replace(strings.ReplaceAll(h, ".", ""), ",", ".", 1), nil
	case commas > 1:
		return strings.ReplaceAll(h, ",", ""), nil
	case dots > 1:
		return strings.ReplaceAll(h, ".", ""), nil
	case commas == 1:
		lead, rest, _ := strings.Cut(h, ",")
		if len(rest) == 3 && lead != "" && strings.Trim(lead, "0") != "" {
			return "", &Refusal{Field: field, Why: fmt.Sprintf("%q could be thousands or a decimal", text),
				Remedy:  "Write " + lead + rest + " or " + lead + "." + rest + ".",
				Choices: []string{lead + rest, lead + "." + rest}}
		}
		return lead + "." + rest, nil
	}
	return h, nil
}
