// Package calc offers every calculation of core by name: one door for the command line, the interface, the browser and
// the tests. It reads inputs by their keys, from numbers or from what people type, and gives results with their
// working. It must never hold a formula itself: those live in the rooms, and each is used here by the function that
// computes it.
package calc

import (
	"maps"
	"reflect"
	"slices"
	"strings"
	"sync"

	"dynacor/core/fastener"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

// Calculation describes one calculation completely enough that an interface can build itself from it.
type Calculation struct {
	Name    string `json:"name"`
	Title   string `json:"title"`
	Group   string `json:"group"`
	Words   string `json:"words"`   // what people call it, for finding
	Source  string `json:"source"`  // standard, textbook or own rule
	Limits  string `json:"limits"`  // what it is not for
	Room    string `json:"room"`    // package of core that computes it
	Drawing string `json:"drawing"` // the picture that explains it, "" for none
	// look-ups that can fill inputs: thread, grade, lubricant, lubricant_found
	Fill    []string         `json:"fill"`
	Inputs  []quantity.Field `json:"inputs"`
	Outputs []quantity.Field `json:"outputs"`

	example map[string]any // beyond the examples of the fields: tables and look-ups
	run     func(values map[string]any, w *working.Working) (map[string]any, error)
}

// Output is one result as shown.
type Output struct {
	Key    string `json:"key"`
	Label  string `json:"label"`
	Symbol string `json:"symbol,omitempty"`
	// in the key's own unit: number, text, true or false, list, or null
	Value   any             `json:"value"`
	Text    string          `json:"text"`             // in the unit asked for
	Number  string          `json:"number,omitempty"` // the same without its unit
	Symbols string          `json:"unitText,omitempty"`
	Also    string          `json:"also,omitempty"` // a torque in the second unit
	Unit    quantity.Unit   `json:"unit,omitempty"`
	Units   []quantity.Unit `json:"units,omitempty"` // it can be told in
}

// Looked is an input that came from a table.
type Looked struct {
	Key    string  `json:"key"`
	Value  float64 `json:"value"`
	Source string  `json:"source"`
}

// Result of a calculation.
type Result struct {
	Calc    string           `json:"calc"`
	Shown   []Output         `json:"outputs"`
	Looked  []Looked         `json:"lookedUp"`
	Working *working.Working `json:"working"`

	Values map[string]any `json:"-"` // outputs by key
}

// Options of a run.
type Options struct {
	// texts are read as people write them, and look-ups are allowed; otherwise numbers must be numbers
	Typed bool
	Units map[string]quantity.Unit // by key: what a number without a unit is in, and what a result is told in
	Also  quantity.Unit            // the second unit of torque, "" for ft·lbf
	Cards []fastener.Lubricant     // the site's own lubricant cards, before the built-in ones
}

var (
	list  []*Calculation
	names = map[string]*Calculation{}
)

type detail struct {
	group, name, title, words, source, limits, drawing string
	thread                                             bool // a bare diameter is a bolt's
	room                                               string
	example                                            map[string]any
}

// add puts a calculation into the catalogue; its form is read from the types of its function.
func add[I, O any](d detail, fn func(*working.Working, I) (O, error)) {
	var in I
	it, ot := reflect.TypeFor[I](), reflect.TypeFor[O]()
	c := &Calculation{Name: d.name, Title: d.title, Group: d.group, Words: d.words, Source: d.source, Limits: d.limits,
		Drawing: d.drawing, example: d.example,
		Room: strings.TrimPrefix(it.PkgPath(), "dynacor/"), Inputs: quantity.Fields(it, "in"),
		Outputs: quantity.Fields(ot, "out")}
	if d.room != "" { // its form stands here, its computing there
		c.Room = "core/" + d.room
	}
	c.Fill = fills(c.Inputs, d.thread)
	c.run = func(values map[string]any, w *working.Working) (map[string]any, error) {
		v := reflect.New(it).Elem()
		v.Set(reflect.ValueOf(in))
		if err := fill(v, c.Inputs, values); err != nil {
			return nil, err
		}
		out, err := fn(w, v.Interface().(I))
		if err != nil {
			return nil, err
		}
		return outputs(reflect.ValueOf(out), c.Outputs)
	}
	if names[d.name] != nil {
		panic("calculation twice: " + d.name)
	}
	list, names[d.name] = append(list, c), c
}

// groups in the order in which people look for them.
var groups = []string{gTorque, gTools, gHydraulic, gOrder, gParts, gUnits, gLubricant, gAlign, gCheck, gAngle, gStretch,
	gTrust, gHeat, gHub, gGasket, gPressure, gSteel, gTime, gStats}

var sorted = sync.OnceValue(func() []*Calculation {
	out := slices.Clone(list)
	slices.SortStableFunc(out, func(a, b *Calculation) int {
		return slices.Index(groups, a.Group) - slices.Index(groups,
			b.Group)
	})
	return out
})

// All gives the catalogue in its order.
func All() []*Calculation { return sorted() }

// ByName finds a calculation; an unknown name is refused with those that sound like it.
func ByName(name string) (*Calculation, error) {
	if c := names[name]; c != nil {
		return c, nil
	}
	var near []string
	for _, c := range Find(name) {
		near = append(near, c.Name)
	}
	remedy := "Look through the catalogue."
	if len(near) > 0 {
		remedy = "Did you mean " + strings.Join(near[:min(3, len(near))], ", ") + "?"
	}
	return nil, quantity.Refuse("calculation", remedy, "%q is not in the catalogue", name)
}

// Find looks for calculations by trade words; the best match first. Nothing typed gives all.
func Find(text string) []*Calculation {
	text = strings.ReplaceAll(text, "_", " ")
	words := strings.Fields(strings.ToLower(text))
	type hit struct {
		c     *Calculation
		score int
	}
	var hits []hit
	for _, c := range All() {
		title, rest := strings.ToLower(c.Title+" "+strings.ReplaceAll(c.Name, "_", " ")),
			strings.ToLower(c.Words+" "+c.Group)
		score := 0
		for _, w := range words {
			switch {
			case strings.Contains(title, w):
				score += 3
			case strings.Contains(rest, w):
				score += 2
			default:
				score -= 3
			}
		}
		if strings.Contains(strings.ToLower(c.Words), strings.ToLower(strings.TrimSpace(text))) && len(words) > 0 {
			score += 4
		}
		if score > 0 || len(words) == 0 {
			hits = append(hits, hit{c, score})
		}
	}
	slices.SortStableFunc(hits, func(a, b hit) int { return b.score - a.score })
	out := make([]*Calculation, 0, len(hits))
	for _, h := range hits {
		out = append(out, h.c)
	}
	return out
}

// Run computes a calculation. Values are by key: numbers in the key's unit, or with Typed what a person wrote. Refused:
// a missing or unknown key, a value outside its limits, an answer that is not a finite number.
func Run(name string, values map[string]any, o Options) (*Result, error) {
	c, err := ByName(name)
	if err != nil {
		return nil, err
	}
	w := working.New(c.Title)
	r := &Result{Calc: name, Working: w, Looked: []Looked{}}
	given := maps.Clone(values)
	if given == nil {
		given = map[string]any{}
	}
	if o.Typed {
		if given, err = c.typed(given, o, r); err != nil {
			return nil, c.own(err)
		}
	}
	for key := range given {
		if !slices.ContainsFunc(c.Inputs, func(f quantity.Field) bool { return f.Key == key }) {
			return nil, quantity.Refuse(key, "The inputs are "+strings.Join(c.keys(), ", ")+".",
				"is not an input of %s", name)
		}
	}
	c.note(given, r, w)
	for _, f := range c.Outputs {
		w.Name(f.Symbol, f.Label, f.Unit)
	}
	if r.Values, err = c.run(given, w); err != nil {
		return nil, c.own(err)
	}
	r.Shown = c.show(r.Values, o)
	return r, nil
}

func (c *Calculation) keys() []string {
	var out []string
	for _, f := range c.Inputs {
		out = append(out, f.Key)
	}
	return out
}

// own names the input by the key of this calculation where a room named it by its own word ("torque" for "torque_Nm").
func (c *Calculation) own(err error) error {
	r, ok := quantity.RefusalIn(err)
	if !ok {
		return err
	}
	for _, f := range c.Inputs {
		if f.Key == r.Field {
			return err
		}
	}
	for _, f := range c.Inputs {
		if bare(f.Key) == r.Field {
			return &quantity.Refusal{Field: f.Key, Why: r.Why, Remedy: r.Remedy}
		}
	}
	for _, f := range c.Inputs {
		if strings.HasPrefix(f.Key, r.Field) {
			return &quantity.Refusal{Field: f.Key, Why: r.Why, Remedy: r.Remedy}
		}
	}
	return err
}

// bare is a key without the unit at its end.
func bare(key string) string {
	u := quantity.KeyUnit(key)
	if u == "" {
		return key
	}
	for i := len(key) - 1; i > 0; i-- {
		if key[i] == '_' && quantity.KeyUnit(key[i:]) == u {
			return key[:i]
		}
	}
	return key
}

// note writes what was put in into the working: supplied, looked up, or assumed.
func (c *Calculation) note(given map[string]any, r *Result, w *working.Working) {
	for _, f := range c.Inputs {
		if f.Kind != "number" && f.Kind != "whole" {
			continue
		}
		v, has := given[f.Key]
		number, isNumber := asNumber(v)
		origin, source := working.Supplied, ""
		switch {
		case has && isNumber:
			for _, l := range r.Looked {
				if l.Key == f.Key {
					origin, source = working.LookedUp, l.Source
				}
			}
		case (!has || v == nil) && f.Default != "":
			number, _, _ = quantity.Number(f.Key, f.Default)
			origin, source = working.Assumed, "usual value, nothing was given"
		default:
			continue
		}
		w.Put(f.Symbol, f.Label, number, f.Unit, origin, source)
	}
}

// Example gives values that make a sensible first sheet.
func (c *Calculation) Example() map[string]any {
	out := map[string]any{}
	for _, f := range c.Inputs {
		if f.Example != "" {
			out[f.Key] = f.Example
		}
	}
	maps.Copy(out, c.example)
	return out
}
