package lab

import (
	"math"

	"dynacor/core/interaction"
	"dynacor/core/quantity"
)

// Laws of contact without a gasket.
const (
	faces     = "face"  // bare faces on each other
	taperCode = "taper" // two clamping rings that screws pull together on a double taper
)

// Taper is what two clamping rings on a double taper need beside their dimensions. What is 0 is estimated.
type Taper struct {
	Deg       float64 `json:"deg"`       // slope of the taper against the shaft
	Friction  float64 `json:"friction"`  // on the taper
	MM        float64 `json:"mm"`        // mean diameter of the taper
	ContactMM float64 `json:"contactMm"` // length of contact of each ring
	InnerMM   float64 `json:"innerMm"`   // bore of a hollow shaft; 0: solid
}

// sideways is how stiffly a ring is held against shifting sideways, N/m. Source: typical, own assumption.
const sideways = 1e7

// nominalWidth is what the taper's line force is spread over in the model, m: any will do.
const nominalWidth = 2e-3

// sticking is how many times stiffer a ring is on its way back, which friction holds. Source: own assumption.
const sticking = 50

// estimate fills in what was not given, by the bore of the rings.
func (t *Taper) estimate(s Setup, guess func(v *float64, name string, usual float64)) {
	guess(&t.Deg, "slope of the taper", 5)
	guess(&t.MM, "diameter of the taper", s.BoreMM+4)
	guess(&t.ContactMM, "length of the taper", s.ThicknessMM)
	guess(&t.Friction, "friction on the taper", .1)
}

// check refuses a taper that cannot be, by its field.
func (t *Taper) check(s Setup) error {
	switch {
	case !(t.Deg > 0) || t.Deg > 30:
		return quantity.Refuse("taper.deg", "Measure it on the ring, or leave it empty.", "must be above 0 to 30")
	case !(t.Friction > 0) || t.Friction > 1:
		return quantity.Refuse("taper.friction", "0.05 to 0.2 is usual for greased steel.", "must be above 0 to 1")
	case !(t.MM >= s.BoreMM) || t.MM >= s.BoltCircleMM:
		return quantity.Refuse("taper.mm", "Look at bore and bolt circle.", "must lie between bore and bolts")
	case !(t.ContactMM > 0) || t.ContactMM > 10*s.ThicknessMM:
		return quantity.Refuse("taper.contactMm", "Measure the ring.", "must be above 0")
	case !(t.InnerMM >= 0) || t.InnerMM >= t.MM:
		return quantity.Refuse("taper.innerMm", "0 for a solid shaft.", "must lie within the taper")
	case math.Tan(t.Deg*math.Pi/180)*t.Friction >= 1:
		return quantity.Refuse("taper.friction", "Look at slope and friction.", "lets nothing slide")
	}
	return nil
}

// gasket is the taper's contact as the model takes it: a closure of the pair squeezes the rings by the slope, their
// pressure by Lamé's thick ring on a shaft, the axial force by that with friction against it.
func (t *Taper) gasket(e, nu, rOut float64) interaction.Gasket {
	rt, in, long := t.MM/2e3, t.InnerMM/2e3, t.ContactMM/1e3
	slope := math.Tan(t.Deg * math.Pi / 180)
	ring := (rOut*rOut+rt*rt)/(rOut*rOut-rt*rt) + nu
	shaft := (rt*rt+in*in)/(rt*rt-in*in) - nu
	pressure := e / (rt * (ring + shaft)) // Pa for each m of squeezing
	line := .5 * pressure * slope * long * (slope + t.Friction) / (1 - t.Friction*slope)
	k := line / nominalWidth
	return interaction.Gasket{Type: interaction.Table, Points: [][2]float64{{1e-3, k * 1e-3}}, Ku0: sticking * k,
		RIn: rt - nominalWidth/2, ROut: rt + nominalWidth/2}
}

// holdsItself reports whether the rings stay when the screws are let go.
func (t *Taper) holdsItself() bool { return t.Friction > math.Tan(t.Deg*math.Pi/180) }
