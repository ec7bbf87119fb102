package calc_test

import (
	"encoding/json"
	"fmt"
	"math"
	"os"
	"strconv"
	"strings"
	"testing"
	"unicode"

	"github.com/stretchr/testify/require"

	"dynacor/core/calc"
	"dynacor/core/working"
)

// A formula shown must give the figure shown: every formula in symbols is worked out again from the lines before it.
func TestShownFormulasGiveTheShownFigures(t *testing.T) {
	checked, said := 0, 0
	see := func(t *testing.T, name string, values map[string]any, o calc.Options) {
		r, err := calc.Run(name, values, o)
		if err != nil {
			return // a refused case has no working
		}
		known := map[string]float64{"π": math.Pi}
		for _, l := range r.Working.Lines {
			if l.Formula != "" {
				got, err := evaluate(l.Formula, known)
				if err != nil { // told in words, such as "nearest mark"
					require.NotContains(t, l.Formula, "/ (", "%s: %s = %s: %v", name, l.Symbol, l.Formula, err)
					said++
				} else {
					require.InDelta(t, l.Value, got, 1e-9*math.Max(1, math.Abs(l.Value)), "%s: %s = %s", name, l.Symbol,
						l.Formula)
					checked++
				}
			}
			if l.Symbol != "" {
				known[l.Symbol] = l.Value
			}
			require.NotEmpty(t, l.Text)
			if l.Origin == working.Calculated {
				require.NotEmpty(t, l.Name, "%s: %s has no name", name, l.Symbol)
			}
		}
	}
	for _, c := range goldenCases(t) {
		t.Run(c.ID, func(t *testing.T) { see(t, c.Calc, c.Inputs, calc.Options{}) })
	}
	for _, c := range calc.All() {
		t.Run(c.Name, func(t *testing.T) { see(t, c.Name, c.Example(), calc.Options{Typed: true}) })
	}
	require.Greater(t, checked, 600)
	require.Less(t, said, checked/2, "most formulas are formulas")
}

type goldenCase struct {
	ID, Calc string
	Inputs   map[string]any
	Expect   map[string]any
}

func goldenCases(t testing.TB) []goldenCase {
	raw, err := os.ReadFile("../testdata/golden_calc.json")
	require.NoError(t, err)
	var list []goldenCase
	require.NoError(t, json.Unmarshal(raw, &list))
	return list
}

// evaluate works out a formula as it is shown: + - · / ^, brackets, √( ), and functions of angles in degrees.
func evaluate(formula string, known map[string]float64) (v float64, err error) {
	p := &parser{tokens: tokens(formula), known: known}
	defer func() {
		if r := recover(); r != nil {
			err = fmt.Errorf("%v", r)
		}
	}()
	v = p.sum()
	if p.at < len(p.tokens) {
		return 0, fmt.Errorf("%q is left over", p.tokens[p.at])
	}
	return v, nil
}

func tokens(s string) []string {
	var out []string
	word := ""
	flush := func() {
		if word != "" {
			out, word = append(out, word), ""
		}
	}
	for _, r := range s {
		switch {
		case unicode.IsLetter(r) || unicode.IsDigit(r) || r == '.' || unicode.Is(unicode.No, r):
			word += string(r)
		case r == ' ':
			flush()
		default:
			flush()
			out = append(out, string(r))
		}
	}
	flush()
	return out
}

type parser struct {
	tokens []string
	at     int
	known  map[string]float64
}

func (p *parser) peek() string {
	if p.at < len(p.tokens) {
		return p.tokens[p.at]
	}
	return ""
}

func (p *parser) take(want string) bool {
	if p.peek() == want {
		p.at++
		return true
	}
	return false
}

func (p *parser) sum() float64 {
	v := p.product()
	for {
		switch {
		case p.take("+"):
			v += p.product()
		case p.take("-"):
			v -= p.product()
		default:
			return v
		}
	}
}

func (p *parser) product() float64 {
	v := p.power()
	for {
		switch {
		case p.take("·"):
			v *= p.power()
		case p.take("/"):
			v /= p.power()
		default:
			return v
		}
	}
}

func (p *parser) power() float64 {
	v := p.atom()
	if p.take("^") {
		return math.Pow(v, p.atom())
	}
	return v
}

func (p *parser) list() []float64 {
	if !p.take("(") {
		panic("no bracket")
	}
	args := []float64{p.sum()}
	for p.take(",") {
		args = append(args, p.sum())
	}
	if !p.take(")") {
		panic("bracket left open")
	}
	return args
}

var rad = math.Pi / 180
var functions = map[string]func(float64) float64{
	"√": math.Sqrt, "sin": func(x float64) float64 { return math.Sin(x * rad) },
	"cos":  func(x float64) float64 { return math.Cos(x * rad) },
	"tan":  func(x float64) float64 { return math.Tan(x * rad) },
	"atan": func(x float64) float64 { return math.Atan(x) / rad },
	"asin": func(x float64) float64 { return math.Asin(x) / rad }, "ln": math.Log, "abs": math.Abs,
	"floor": func(x float64) float64 { return math.Floor(x + 1e-9) },
	"ceil":  func(x float64) float64 { return math.Ceil(x - 1e-9) },
}

func (p *parser) atom() float64 {
	t := p.peek()
	if t == "(" {
		return p.list()[0]
	}
	if t == "-" { // a number's own sign
		p.at++
		return -p.atom()
	}
	p.at++
	if f := functions[t]; f != nil {
		return f(p.list()[0])
	}
	if t == "min" || t == "max" {
		args := p.list()
		v := args[0]
		for _, a := range args[1:] {
			if t == "min" {
				v = math.Min(v, a)
			} else {
				v = math.Max(v, a)
			}
		}
		return v
	}
	if v, ok := p.known[t]; ok {
		return v
	}
	v, err := strconv.ParseFloat(t, 64)
	if err != nil {
		panic(strings.TrimSpace(t) + " is not known")
	}
	return v
}
