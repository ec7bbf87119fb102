// Package plan puts specification, layout, tools and house rules together into a plan: ordered passes with the number
// to set on the tool, what each bolt then holds, and the checks before and after. Making a plan is a pure function of
// its inputs.
package plan

import (
	"slices"
	"strings"

	"dynacor/core/fastener"
	"dynacor/core/layout"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/sequence"
)

// TargetForm is how a document states what a fastener must end at.
type TargetForm string

// The forms of a target.
const (
	TorqueNominal TargetForm = "torque"        // nominal with tolerance
	TorqueRange   TargetForm = "range"         // minimum and maximum torque
	BoltStress    TargetForm = "stress"        // stress in the bolt
	PercentYield  TargetForm = "percent_yield" // share of the bolt's yield
	LookUp        TargetForm = "lookup"        // a line of a table of the Library
	Turns         TargetForm = "turns"         // turned so far from a datum
	Stretch       TargetForm = "stretch"       // the bolt so much longer
	// no figure of its own: snug, by hand, to a shape, an effort, or never torqued, as the procedure says
	Stated   TargetForm = "stated"
	NotGiven TargetForm = "not_given" // the document is silent: to be supplied
)

// Target is what the specification demands. Torque figures are in Unit as the document writes them.
type Target struct {
	Form      TargetForm    `json:"form"`
	Nominal   float64       `json:"nominal,omitempty"`
	MinusPct  float64       `json:"minusPct,omitempty"`
	PlusPct   float64       `json:"plusPct,omitempty"`
	Min       float64       `json:"min,omitempty"`
	Max       float64       `json:"max,omitempty"`
	Unit      quantity.Unit `json:"unit,omitempty"`
	Stress    float64       `json:"stressMPa,omitempty"`
	Percent   float64       `json:"percent,omitempty"`
	TurnDeg   float64       `json:"turnDeg,omitempty"`
	StretchMM float64       `json:"stretchMm,omitempty"`
	Table     string        `json:"table,omitempty"` // code of the table looked up
	Keys      []string      `json:"keys,omitempty"`
	AsTyped   string        `json:"asTyped,omitempty"`
}

// Fasteners are what the document demands of one group. Group names it as the procedure does; "" is the procedure's
// first.
type Fasteners struct {
	Group        string         `json:"group,omitempty"`
	Bolts        int            `json:"bolts"`
	BoltCircleMM float64        `json:"boltCircleMm,omitempty"`
	SeenFrom     string         `json:"seenFrom,omitempty"`
	Layout       *layout.Layout `json:"layout,omitempty"` // as an engineer drew it, instead of the procedure's
	Order        []int          `json:"order,omitempty"`  // written down by the engineer, for the chosen pattern
	Thread       string         `json:"thread"`
	Material     string         `json:"material"`
	LengthMM     float64        `json:"lengthMm,omitempty"`
	ClampMM      float64        `json:"clampMm,omitempty"` // between the nuts' faces; what a tensioner needs to know
	Lubricant    string         `json:"lubricant"`
	Target       Target         `json:"target"`
	// document's own limit of nut movement in a check pass
	MovedLimitDeg float64 `json:"movedLimitDeg,omitempty"`
}

// Specification is what the document demands of a joint, with the condition it holds for. Versions are never edited.
type Specification struct {
	Version     int    `json:"version"`
	Document    string `json:"document"`
	Revision    string `json:"revision"`
	Page        string `json:"page,omitempty"`
	NoSourceBy  string `json:"noSourceBy,omitempty"` // who allowed work without a document, and why
	NoSourceWhy string `json:"noSourceWhy,omitempty"`
	// what the lubricant must be documented for; "": general
	ServiceClass string `json:"serviceClass,omitempty"`
	Gasket       string `json:"gasket,omitempty"`
	FlangeSize   string `json:"flangeSize,omitempty"`
	// document's own limit of gap spread after tightening; 0: house rule
	ProofGapMM float64            `json:"proofGapMm,omitempty"`
	Variant    map[string]string  `json:"variant,omitempty"` // answers to the questions of the procedure
	Figures    map[string]float64 `json:"figures,omitempty"` // numbers that the procedure asks of the document
	// order in which parts go in by the document, for sequence checks of the procedure by their codes
	Orders map[string][]string `json:"orders,omitempty"`
	// of the groups of the procedure that the document names, its first one first
	Groups []Fasteners `json:"groups"`
}

// First gives what is demanded of the group that the document names first; nothing of a document without one.
func (s Specification) First() Fasteners {
	if len(s.Groups) == 0 {
		return Fasteners{}
	}
	return s.Groups[0]
}

// Of gives what is demanded of a group of the procedure, first telling whether it is the procedure's first.
func (s Specification) Of(code string, first bool) (Fasteners, bool) {
	i := slices.IndexFunc(s.Groups, func(f Fasteners) bool {
		return f.Group == code || first && f.Group == ""
	})
	if i < 0 {
		return Fasteners{}, false
	}
	return s.Groups[i], true
}

// Lacks says in a word what must be supplied before a joint can be planned, "" when nothing is missing. fam is the
// procedure for the answers of the specification.
func (s Specification) Lacks(fam procedure.Family, r HouseRules) string {
	for i, g := range fam.Fasteners {
		f, given := s.Of(g.Code, i == 0)
		if g.Target != procedure.ByTorque || g.Same != "" && !given {
			continue
		}
		switch {
		case !given || f.Target.Form == NotGiven:
			return "target"
		case f.Lubricant == NotNamed && !r.puts(g):
			return "lubricant"
		}
	}
	filled := fam.Filled(s.Figures)
	for _, x := range fam.Figures {
		if _, ok := x.Known(filled); x.Must && !ok {
			return strings.ToLower(x.Name)
		}
	}
	if s.Document == "" && s.NoSourceWhy == "" {
		return "document"
	}
	return ""
}

// Source names the document for a working.
func (s Specification) Source() string {
	if s.Document == "" {
		if s.NoSourceWhy != "" {
			return "no document; allowed by " + s.NoSourceBy
		}
		return "no document"
	}
	t := s.Document
	if s.Revision != "" {
		t += " rev " + s.Revision
	}
	if s.Page != "" {
		t += ", " + s.Page
	}
	return t
}

// Torques gives the target in N·m as nominal, minimum and maximum. ok is false when the target is not a torque.
func (t Target) Torques(policy string) (nominal, lo, hi quantity.Torque, ok bool) {
	switch t.Form {
	case TorqueNominal:
		n := t.Nominal
		return quantity.TorqueOf(n, t.Unit), quantity.TorqueOf(n*(1-t.MinusPct/100), t.Unit),
			quantity.TorqueOf(n*(1+t.PlusPct/100), t.Unit), true
	case TorqueRange:
		n := (t.Min + t.Max) / 2
		switch policy {
		case "low":
			n = t.Min
		case "high":
			n = t.Max
		}
		return quantity.TorqueOf(n, t.Unit), quantity.TorqueOf(t.Min, t.Unit), quantity.TorqueOf(t.Max, t.Unit), true
	}
	return 0, 0, 0, false
}

// Check refuses a specification that cannot be right for a family, field by field; own are the site's own values. What
// is only missing is no error here.
func (s Specification) Check(fam procedure.Family, own fastener.Own) error {
	if s.ServiceClass != "" && !slices.Contains(fastener.Services(), s.ServiceClass) {
		return quantity.Refuse("serviceClass", "Choose "+strings.Join(fastener.Services(), ", ")+".",
			"%q is not a service class", s.ServiceClass)
	}
	answers, err := fam.Answer(s.Variant, s.Figures)
	if err != nil {
		return err
	}
	for code, v := range s.Figures {
		i := slices.IndexFunc(fam.Figures, func(f procedure.Figure) bool { return f.Code == code })
		if i < 0 {
			return quantity.Refuse("figures."+code, "Leave it out.", "is not a figure of a %s", fam.Name)
		}
		f := fam.Figures[i]
		most := f.Max
		if most == 0 {
			most = 1e6
		}
		if err := quantity.Between("figures."+code, v, f.Min, most); err != nil {
			return err
		}
	}
	if err := quantity.Between("proofGapMm", s.ProofGapMM, 0, 100); err != nil {
		return err
	}
	if err := s.checkOrders(fam); err != nil {
		return err
	}
	known := fam.Outline(answers)
	for i, g := range known.Fasteners {
		sp, given := s.Of(g.Code, i == 0)
		if !given && g.Same == "" {
			continue // to be supplied
		}
		if !given {
			continue
		}
		if err := sp.check(g, own); err != nil {
			if r, ok := quantity.RefusalIn(err); ok && i > 0 {
				r.Field = g.Code + "." + r.Field
			}
			return err
		}
	}
	return s.checkGroups(fam)
}

// checkGroups refuses a group that the procedure does not have, and one that is named twice.
func (s Specification) checkGroups(fam procedure.Family) error {
	for i, f := range s.Groups {
		if f.Group == "" && i == 0 {
			continue
		}
		if _, ok := fam.Group(f.Group); !ok {
			return quantity.Refuse("groups", "Leave it out.", "%q is not a group of a %s", f.Group, fam.Name)
		}
		if slices.ContainsFunc(s.Groups[:i], func(o Fasteners) bool { return o.Group == f.Group }) {
			return quantity.Refuse("groups", "Leave one of the two out.", "%q is named twice", f.Group)
		}
	}
	return nil
}

// laid is the layout of a group: the engineer's, else the procedure's with the number and circle of the document.
func (f Fasteners) laid(g procedure.Fasteners) layout.Layout {
	l := g.Layout
	if f.Layout != nil {
		l = *f.Layout
	}
	if f.Bolts > 0 && l.Shape() == layout.Circle {
		l.Count = f.Bolts
	}
	if l.Shape() == layout.Circle && f.Layout == nil && l.StartDeg == 0 && l.Count > 0 {
		l.StartDeg = 180 / float64(l.Count)
	}
	if f.BoltCircleMM > 0 {
		l.DiameterMM = f.BoltCircleMM
	}
	if f.SeenFrom != "" {
		l.SeenFrom = f.SeenFrom
	}
	return l.Settle()
}

func (f Fasteners) check(g procedure.Fasteners, own fastener.Own) error {
	l := f.laid(g)
	if err := l.Check(); err != nil {
		return err
	}
	if f.Bolts > 0 && f.Bolts != l.Count {
		return quantity.Refuse("bolts", "Change the layout, or enter its number.", "%d are named, the layout has %d",
			f.Bolts, l.Count)
	}
	if len(f.Order) > 0 {
		if ok, _, _ := sequence.Check(l.Count, f.Order); !ok {
			return quantity.Refuse("order", "Name each fastener once.", "does not visit each of the %d fasteners once",
				l.Count)
		}
	}
	torque := g.Target == procedure.ByTorque || g.Target == procedure.ByStretch
	if f.Thread != "" || torque && f.Target.Form != LookUp {
		thread, err := fastener.ParseThread(f.Thread)
		if err != nil {
			return err
		}
		if f.Material == "" && torque {
			return quantity.Refuse("material", "Enter the class or grade, for example 8.8 or B7.", "is empty")
		}
		if f.Material != "" {
			if _, err := own.Strength(thread.System, f.Material, quantity.Length(thread.DiameterMM)); err != nil {
				if r, ok := quantity.RefusalIn(err); ok {
					r.Field = "material"
				}
				return err
			}
		}
	}
	if f.Lubricant == "" && torque {
		return quantity.Refuse("lubricant",
			"Choose the lubricant the figure holds for; where the document names none, choose that.", "is empty")
	}
	for _, v := range []struct {
		n string
		v float64
	}{{"boltCircleMm", f.BoltCircleMM}, {"lengthMm", f.LengthMM}, {"clampMm", f.ClampMM},
		{"movedLimitDeg", f.MovedLimitDeg}} {
		if v.v < 0 || !quantity.Finite(v.v) {
			return quantity.Refuse(v.n, "Enter zero or more.", "is %s", quantity.Text(v.v))
		}
	}
	if err := f.Target.Check(); err != nil {
		return err
	}
	return f.Target.suits(g)
}

// suits refuses a target that the group of the procedure cannot end at: a torque on what must have none, a turn where
// torque is asked for.
func (t Target) suits(g procedure.Fasteners) error {
	if t.Form == NotGiven {
		return nil
	}
	allowed := map[procedure.TargetKind][]TargetForm{
		procedure.ByTorque: {TorqueNominal, TorqueRange, BoltStress, PercentYield, LookUp}, procedure.ByTurns: {Turns},
		procedure.ByStretch: {Stretch},
	}[g.Target]
	if allowed == nil {
		allowed = []TargetForm{Stated}
	}
	if slices.Contains(allowed, t.Form) {
		return nil
	}
	if g.Target == procedure.NoTorque {
		return quantity.Refuse("target", "Leave it without a figure.", "%s must not be torqued: %s", g.Name,
			g.TargetWhy)
	}
	words := map[procedure.TargetKind]string{procedure.ByTorque: "a torque", procedure.ByTurns: "turns",
		procedure.ByStretch: "a stretch", procedure.ByEffort: "an effort", procedure.BySnug: "snug",
		procedure.ByHand: "hand-tight", procedure.ByShape: "a shape"}
	return quantity.Refuse("target", "Choose another form.", "%s end at %s", g.Name, words[g.Target])
}

// Check refuses a target that cannot be right.
func (t Target) Check() error {
	torque := t.Form == TorqueNominal || t.Form == TorqueRange
	if torque && t.Unit.Kind() != quantity.KindTorque {
		return quantity.Refuse("target", "Write the torque unit, for example N·m or ft·lbf.", "has no torque unit")
	}
	switch t.Form {
	case TorqueNominal:
		if err := quantity.Positive("target", t.Nominal); err != nil {
			return err
		}
		for _, p := range []float64{t.MinusPct, t.PlusPct} {
			if err := quantity.Between("tolerance", p, 0, 50); err != nil {
				return err
			}
		}
	case TorqueRange:
		if err := quantity.Positive("targetMin", t.Min, "targetMax", t.Max); err != nil {
			return err
		}
		if t.Max <= t.Min {
			return quantity.Refuse("targetMax", "Enter the higher figure as maximum.", "%s is not above the minimum %s",
				quantity.Text(t.Max), quantity.Text(t.Min))
		}
	case BoltStress:
		return quantity.Positive("stress", t.Stress)
	case PercentYield:
		return quantity.Between("percent", t.Percent, 1, 100)
	case Turns:
		return quantity.Between("turnDeg", t.TurnDeg, 1, 3600)
	case Stretch:
		if err := quantity.Positive("stretchMm", t.StretchMM); err != nil {
			return err
		}
		return quantity.Between("tolerance", t.PlusPct, 0, 50)
	case LookUp:
		if t.Table == "" {
			return quantity.Refuse("table", "Choose a table of the Library.", "is empty")
		}
	case Stated, NotGiven:
	default:
		return quantity.Refuse("target",
			"Choose torque, range, stress, percent of yield, look-up, turns, stretch or not given.",
			"%q is not a form of target", string(t.Form))
	}
	return nil
}
