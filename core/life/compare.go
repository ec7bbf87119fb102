package life

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"dynacor/core/quantity"
	"dynacor/core/record"
)

// Kind is what two runs are held against each other by.
type Kind string

// The kinds, the most telling first.
const (
	Torque Kind = "torque" // read at the last pull, N·m
	Angle  Kind = "angle"  // turned in the last stage, degrees
	Set    Kind = "set"    // what the tool was set to: a click tells no more, N·m
)

// units of the kinds.
var units = map[Kind]string{Torque: "N·m", Angle: "°", Set: "N·m"}

// value is what one fastener came to.
type value struct {
	name  string
	value float64
}

// measures are what the fasteners of a run came to.
type measures struct {
	kind   Kind
	values []value
	aim    float64 // torque only; of the first group
	doubt  float64 // how far a reading may be out, N·m: the tool's guaranteed accuracy at the aim
	least  float64
}

// measured takes, of each fastener, the last pull that counts in a pass that sets a torque.
func measured(r record.Record) measures { return measuredBy(r, "") }

// measuredBy is measured by a kind, or by the most telling that all fasteners have.
func measuredBy(r record.Record, kind Kind) measures {
	last := r.LastPulled()
	of := map[Kind]func(record.Result) float64{
		Torque: func(x record.Result) float64 { return x.ReadingSI },
		Angle:  func(x record.Result) float64 { return x.TurnedDeg },
		Set:    func(x record.Result) float64 { return x.TargetNm },
	}
	for _, k := range []Kind{Torque, Angle, Set} {
		if kind != "" && k != kind {
			continue
		}
		m := measures{kind: k, least: math.Inf(1), aim: float64(r.Plan.First().FinalNm)}
		for i := range r.Plan.Count() {
			if x, ok := last[i+1]; ok && of[k](x) > 0 {
				m.values = append(m.values, value{x.Fastener, of[k](x)})
				m.least = min(m.least, of[k](x))
				m.doubt = max(m.doubt, accuracy(r, x.Tags()[0])/100*x.TargetNm)
			}
		}
		if len(m.values) > 0 && (len(m.values) == len(last) || kind != "") {
			return m
		}
	}
	return measures{kind: Set}
}

// accuracy is the guaranteed accuracy of the driver of a set-up that was planned or taken, in per cent; 0: not known.
func accuracy(r record.Record, driver string) float64 {
	for _, e := range r.Events {
		if w := e.Event.Wrench; w != nil && w.Tag == driver {
			return w.AccuracyPct
		}
	}
	for _, g := range r.Plan.AllGroups() {
		if s := g.InHand(); s != nil && s.Driver().Tag == driver {
			return s.Driver().AccuracyPct
		}
	}
	return 0
}

// Pair is one fastener in both runs; a nil was not measured there.
type Pair struct {
	Fastener string   `json:"fastener"`
	A        *float64 `json:"a,omitempty"`
	B        *float64 `json:"b,omitempty"`
}

// Difference is a line of what was the same and what was not.
type Difference struct {
	What string `json:"what"`
	A    string `json:"a"`
	B    string `json:"b"`
	Same bool   `json:"same"`
}

// Comparison holds two runs against each other, fastener by fastener.
type Comparison struct {
	Kind        Kind         `json:"kind"`
	Unit        string       `json:"unit"`
	Aim         float64      `json:"aim"` // of the later run; 0: none
	Doubt       float64      `json:"doubt"`
	Pairs       []Pair       `json:"pairs"`
	Repeats     []string     `json:"repeats"` // fasteners that stand out in both
	Differences []Difference `json:"differences"`
	Says        string       `json:"says"`
}

// Compare holds two runs against each other, the one that began first as a, by the most telling thing that both have.
func Compare(a, b Run) Comparison {
	if began(b).Before(began(a)) {
		a, b = b, a
	}
	x, y := measured(a.Record), measured(b.Record)
	if x.kind != y.kind {
		x, y = measuredBy(a.Record, Set), measuredBy(b.Record, Set)
	}
	c := Comparison{Kind: x.kind, Unit: units[x.kind], Aim: y.aim, Doubt: max(x.doubt, y.doubt), Pairs: []Pair{},
		Repeats: []string{}, Differences: differences(a, b, x, y)}
	if x.kind == Angle {
		c.Aim, c.Doubt = 0, 0
	}
	at := map[string]int{}
	for _, v := range x.values {
		at[v.name] = len(c.Pairs)
		c.Pairs = append(c.Pairs, Pair{Fastener: v.name, A: &v.value})
	}
	for _, v := range y.values {
		if i, ok := at[v.name]; ok {
			c.Pairs[i].B = &v.value
			continue
		}
		c.Pairs = append(c.Pairs, Pair{Fastener: v.name, B: &v.value})
	}
	both := standOut(b.Record)
	for _, name := range standOut(a.Record) {
		if slices.Contains(both, name) {
			c.Repeats = append(c.Repeats, name)
		}
	}
	c.Says = c.says()
	return c
}

// says is the sentence under the comparison. It claims no difference that the tool cannot tell.
func (c Comparison) says() string {
	var out []string
	if len(c.Repeats) > 0 {
		out = append(out, fmt.Sprintf("%s stood out both times: look at the face under it.",
			first(strings.Join(c.Repeats, ", "))))
	} else {
		out = append(out, "No place stood out both times.")
	}
	most, name, n := 0.0, "", 0
	for _, p := range c.Pairs {
		if p.A != nil && p.B != nil {
			n++
			if d := math.Abs(*p.A - *p.B); d > most {
				most, name = d, p.Fastener
			}
		}
	}
	figure := func(v float64) string { return quantity.Text(quantity.Significant(v, 3)) }
	switch {
	case n == 0:
		out = append(out, "The two have no fastener that was measured in both.")
	case c.Kind == Set:
		out = append(out, "A click tells that a setting was reached, and no more: nothing was read to compare.")
	case c.Kind == Torque && c.Doubt > 0 && quantity.AtMost(most, 2*c.Doubt):
		out = append(out, fmt.Sprintf("The most they differ is %s %s: no more than the tools can tell, ±%s %s each.",
			figure(most), c.Unit, figure(c.Doubt), c.Unit))
	default:
		out = append(out, fmt.Sprintf("The most they differ is %s %s, at %s.", figure(most), c.Unit, name))
	}
	return strings.Join(out, " ")
}

// differences are the lines of the table beside it.
func differences(a, b Run, x, y measures) []Difference {
	out := []Difference{}
	put := func(what, va, vb string) {
		if va == "" && vb == "" {
			return
		}
		out = append(out, Difference{what, va, vb, va == vb})
	}
	document := func(r Run) string {
		s := r.Record.Plan.Specification
		return strings.TrimSpace(s.Document + " " + s.Revision)
	}
	put("Document", document(a), document(b))
	put("Target", a.Record.Plan.TargetWords(), b.Record.Plan.TargetWords())
	put("Gasket", a.Record.Plan.Specification.Gasket, b.Record.Plan.Specification.Gasket)
	put("Lubricant", lubricant(a), lubricant(b))
	put("Batch", facet(a, record.FacetBatch), facet(b, record.FacetBatch))
	put("Tools", facet(a, record.FacetTool), facet(b, record.FacetTool))
	put("Crew", crew(a), crew(b))
	put("Mean", mean(x), mean(y))
	put("Spread", spread(x), spread(y))
	put("Out", outs(a), outs(b))
	put("Verdict", a.Record.State.Verdict.Word, b.Record.State.Verdict.Word)
	return out
}

func crew(r Run) string {
	var names []string
	for _, w := range r.Record.State.Workers {
		names = append(names, w.Name)
	}
	return strings.Join(names, ", ")
}

func mean(m measures) string {
	if len(m.values) == 0 || m.kind == Set {
		return ""
	}
	sum := 0.0
	for _, v := range m.values {
		sum += v.value
	}
	return quantity.Text(quantity.Significant(sum/float64(len(m.values)), 3)) + " " + units[m.kind]
}

// spread is from the lowest to the highest.
func spread(m measures) string {
	if len(m.values) == 0 || m.kind == Set {
		return ""
	}
	most := 0.0
	for _, v := range m.values {
		most = max(most, v.value)
	}
	return quantity.Text(quantity.Significant(most-m.least, 3)) + " " + units[m.kind]
}

func outs(r Run) string {
	if n := len(r.Record.State.Deviations); n > 0 {
		return fmt.Sprintf("%d deviations", n)
	}
	return "nothing"
}
