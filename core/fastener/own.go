package fastener

import (
	"slices"
	"strings"

	"dynacor/core/quantity"
)

// Gasket is a card of a gasket's stresses, MPa. Its maker states them; the built-in ones are ranges for orientation.
type Gasket struct {
	Code      string  `json:"code"`
	Name      string  `json:"name"`
	Target    float64 `json:"targetMPa"`    // wanted when tightened
	Max       float64 `json:"maxMPa"`       // takes at most
	Seating   float64 `json:"seatingMPa"`   // needs to seat
	Operating float64 `json:"operatingMPa"` // needs in service
	Source    string  `json:"source"`
	Note      string  `json:"note,omitempty"`
	Version   int     `json:"version,omitempty"` // of the site's own card; 0: built in
}

// Nut is what the site measured on the nuts and holes of a thread, mm; 0: not measured.
type Nut struct {
	Thread      string  `json:"thread"`
	AcrossFlats float64 `json:"acrossFlatsMm"`
	BearingOut  float64 `json:"bearingOuterMm"`
	Hole        float64 `json:"holeMm"`
	Source      string  `json:"source"`
	Version     int     `json:"version,omitempty"`
}

// Own are the site's own values. They come before the built-in ones.
type Own struct {
	Lubricants []Lubricant
	Materials  []Strength
	Gaskets    []Gasket
	Nuts       []Nut
	Tables     []Table
	Flanges    []FlangeSize
}

// Typical ranges, to be confirmed by the maker's figures.
var gaskets = []Gasket{
	{Code: "spiral_graphite", Name: "Spiral wound, graphite filled, with rings", Target: 110, Max: 200, Seating: 70,
		Operating: 40},
	{Code: "graphite_sheet", Name: "Graphite sheet with steel inlay, 2 mm", Target: 70, Max: 140, Seating: 40,
		Operating: 25},
	{Code: "fibre_sheet", Name: "Fibre sheet, 2 mm", Target: 40, Max: 80, Seating: 25, Operating: 15,
		Note: "Older sheet takes less."},
	{Code: "ptfe_filled", Name: "Filled PTFE sheet, 2 mm", Target: 30, Max: 60, Seating: 18, Operating: 12,
		Note: "Creeps: tighten again after the joint has rested, when the maker says so."},
	{Code: "rubber_steel", Name: "Rubber with steel inlay", Target: 8, Max: 15, Seating: 4, Operating: 3},
	{Code: "kammprofile", Name: "Grooved metal with graphite faces", Target: 90, Max: 350, Seating: 40, Operating: 25},
}

// Gaskets lists the built-in gasket cards.
func Gaskets() []Gasket {
	out := slices.Clone(gaskets)
	for i := range out {
		out[i].Source = "built-in typical value, confirm with the maker"
	}
	return out
}

// Gasket finds a card by code or name, the site's own first.
func (o Own) Gasket(text string) (Gasket, bool) {
	for _, g := range append(slices.Clone(o.Gaskets), Gaskets()...) {
		if strings.EqualFold(g.Code, strings.TrimSpace(text)) || strings.EqualFold(g.Name, strings.TrimSpace(text)) {
			return g, true
		}
	}
	return Gasket{}, false
}

// Strength is MaterialStrength with the site's own grades first.
func (o Own) Strength(system System, grade string, diameter quantity.Length) (Strength, error) {
	for _, s := range o.Materials {
		if s.Grade == grade && s.System == system && quantity.AtMost(diameter, quantity.Length(s.MaxMM)) {
			return s, nil
		}
	}
	return MaterialStrength(system, grade, diameter)
}

// Nut finds what the site measured for a thread.
func (o Own) Nut(t Thread) (Nut, bool) {
	for _, n := range o.Nuts {
		if own, err := ParseThread(n.Thread); err == nil && own.System == t.System && own.DiameterMM == t.DiameterMM &&
			own.PitchMM == t.PitchMM {
			return n, true
		}
	}
	return Nut{}, false
}

// Bearing is the ring under the nut of a thread: as measured on site, else as the standards have it.
func (o Own) Bearing(t Thread) (Bearing, error) {
	if n, ok := o.Nut(t); ok && n.BearingOut > 0 && n.Hole > 0 {
		return BearingGeometry(nil, quantity.Length(n.BearingOut), quantity.Length(n.Hole))
	}
	return t.Bearing()
}

// Service classes a lubricant can be documented for. General needs no document.
var services = []string{"general", "food", "drinking_water", "oxygen", "hydraulic_fluid"}

// Services lists the service classes.
func Services() []string { return slices.Clone(services) }

// Suit reports whether the lubricant is documented for a service class; "" and general suit all.
func (l Lubricant) Suit(class string) bool {
	return class == "" || class == "general" || slices.Contains(l.Suits, class)
}

// Provenance names the card with its version and where its figures come from.
func (l Lubricant) Provenance() string { return l.Name + version(l.Version) + ", " + l.Source.Text() }

func version(v int) string {
	if v == 0 {
		return ""
	}
	return ", version " + quantity.Text(float64(v))
}

// Provenance names where the strength comes from.
func (s Strength) Provenance() string { return s.Source + version(s.Version) }

// Check refuses a card that cannot be right, field by field.
func (l Lubricant) Check() error {
	if err := named("name", l.Name); err != nil {
		return err
	}
	if _, err := LubricantCondition(l.Condition); err != nil {
		return &quantity.Refusal{Field: "condition", Why: "is not a known condition",
			Remedy: "Choose the built-in condition that it is a case of."}
	}
	if !slices.Contains([]KSource{KMaker, KSite, KProject}, l.Source) {
		return quantity.Refuse("source", "Say who stands for the value: its maker, a test on site, or the project.",
			"%q is nobody", string(l.Source))
	}
	for _, b := range []struct {
		field  string
		b      Band
		lo, hi float64
	}{{"k", l.K, 0.05, 0.6}, {"muThread", l.MuThread, 0.01, 0.6}, {"muHead", l.MuHead, 0.01, 0.6}} {
		for _, v := range []float64{b.b.Low, b.b.Typ, b.b.High} {
			if err := quantity.Between(b.field, v, b.lo, b.hi); err != nil {
				return err
			}
		}
		if b.b.Low > b.b.Typ || b.b.Typ > b.b.High {
			return quantity.Refuse(b.field, "Enter low, typical and high in rising order.", "is not in rising order")
		}
	}
	for _, s := range l.Suits {
		if !slices.Contains(services, s) {
			return quantity.Refuse("suits", "Choose "+strings.Join(services, ", ")+".", "%q is not a service class", s)
		}
	}
	return nil
}

// Check refuses a strength that cannot be right.
func (s Strength) Check() error {
	if s.System != ISO && s.System != UN {
		return quantity.Refuse("system", "Choose iso or un.", "%q is not a thread system", string(s.System))
	}
	if err := quantity.Positive("yieldMPa", s.Yield, "tensileMPa", s.Tensile, "maxMm", s.MaxMM); err != nil {
		return err
	}
	if s.Yield >= s.Tensile {
		return quantity.Refuse("tensileMPa", "Check both values.", "is not above the yield")
	}
	if s.Tensile > 2500 || s.MaxMM > 200 {
		return quantity.Refuse("tensileMPa", "Enter MPa and mm.", "is past any bolt")
	}
	if s.Proof < 0 || s.Proof > s.Yield {
		return quantity.Refuse("proofMPa", "Leave it empty when none is stated.", "is not between 0 and the yield")
	}
	return named("source", s.Source)
}

// Check refuses a gasket card that cannot be right.
func (g Gasket) Check() error {
	if err := named("name", g.Name); err != nil {
		return err
	}
	if err := quantity.Positive("targetMPa", g.Target, "maxMPa", g.Max, "seatingMPa", g.Seating, "operatingMPa",
		g.Operating); err != nil {
		return err
	}
	if g.Target > g.Max {
		return quantity.Refuse("maxMPa", "Check both values.", "is below the stress wanted")
	}
	if g.Seating > g.Max {
		return quantity.Refuse("seatingMPa", "Check both values.", "is above what the gasket takes")
	}
	return named("source", g.Source)
}

// Check refuses measures that cannot be right.
func (n Nut) Check() error {
	t, err := ParseThread(n.Thread)
	if err != nil {
		return err
	}
	for _, v := range []struct {
		field string
		v     float64
	}{{"acrossFlatsMm", n.AcrossFlats}, {"bearingOuterMm", n.BearingOut}, {"holeMm", n.Hole}} {
		if v.v != 0 && (v.v <= t.DiameterMM || v.v > 5*t.DiameterMM || !quantity.Finite(v.v)) {
			return quantity.Refuse(v.field, "Measure again; leave empty what was not measured.",
				"%s mm does not go with %s", quantity.Text(v.v), t.Text)
		}
	}
	if n.BearingOut > 0 && n.Hole > 0 && n.BearingOut <= n.Hole {
		return quantity.Refuse("bearingOuterMm", "Check both diameters.", "is not above the hole")
	}
	if n.AcrossFlats == 0 && n.BearingOut == 0 && n.Hole == 0 {
		return quantity.Refuse("bearingOuterMm", "Enter at least one measure.", "nothing was measured")
	}
	return named("source", n.Source)
}

func named(field, text string) error {
	if strings.TrimSpace(text) == "" {
		return quantity.Refuse(field, "Enter it: later nobody will remember.", "is empty")
	}
	return nil
}
