// Package interaction computes what each bolt of a round gasketed joint does while its neighbours are tightened: two
// elastic rings, bolts as springs with a nut that stays where it was turned to, and a gasket that remembers the highest
// stress it had. All quantities are SI: m, N, Pa, rad; bolts are numbered from 1.
//
// Source: the ring as a curved beam out of plane (Timoshenko, Strength of Materials), the hub as a long cylinder (beam
// on elastic foundation), the bolt by VDI 2230-1, and elastic interaction by stored nut travel (Nassar, Alkelani 2006).
package interaction

import (
	"math"

	"dynacor/core/quantity"
)

// Ring is one flange as an elastic ring.
type Ring struct {
	R    float64 `json:"R"`     // m, of its centroid
	EI   float64 `json:"EI"`    // N·m², bending out of plane
	GJ   float64 `json:"GJ"`    // N·m², torsion
	GAs  float64 `json:"GAs"`   // N, shear; 0 or less: none
	KPhi float64 `json:"k_phi"` // N/rad, that the hub holds against rotation, for each m of the circle
	KW   float64 `json:"k_w"`   // N/m², that the hub holds against waviness
	RH   float64 `json:"r_h"`   // m, of the hub
}

// GasketKind is the law of a gasket.
type GasketKind string

// The laws. A table or an exponential one unloads along another line than it was loaded along.
const (
	Linear          GasketKind = "linear"           // no tension
	LinearBilateral GasketKind = "linear_bilateral" // tension, too: to superpose
	Table           GasketKind = "table"            // points of closure and stress
	Exponential     GasketKind = "exponential"      // Sigma0 (exp(δ/Delta0) - 1)
	Metal           GasketKind = "metal"            // linear, very stiff
)

// Gasket is a bed of springs between two radii.
type Gasket struct {
	Type   GasketKind   `json:"type"`
	K      float64      `json:"k,omitempty"`      // Pa/m, of linear laws
	Points [][2]float64 `json:"table,omitempty"`  // closure m, stress Pa, rising
	Sigma0 float64      `json:"sigma0,omitempty"` // Pa
	Delta0 float64      `json:"delta0,omitempty"` // m
	Ku0    float64      `json:"ku0,omitempty"`    // Pa/m, of unloading
	Cu     float64      `json:"cu,omitempty"`     // 1/m, by which unloading stiffens with the stress it had
	RIn    float64      `json:"r_gi"`             // m
	ROut   float64      `json:"r_go"`             // m
	Strips int          `json:"ns,omitempty"`     // 0: 1
}

// Stop is a rigid ring that takes over once the gap is closed.
type Stop struct {
	R   float64 `json:"r"`   // m
	K   float64 `json:"k"`   // N/m², of a m of the circle
	Gap float64 `json:"gap"` // m
}

// Float lets the rings shift sideways on a taper.
type Float struct {
	Ke float64 `json:"k_e"` // N/m
}

// Joint is what is tightened.
type Joint struct {
	Bolts     int     `json:"n"`
	PerBolt   int     `json:"m"`     // elements of the ring for each bolt; 0: 4
	Sides     int     `json:"sides"` // 2: two flanges alike, 1: one on a rigid cover
	RBolt     float64 `json:"r_b"`   // m, of the bolt circle
	ROut      float64 `json:"r_out"` // m, of the flange
	Ring      Ring    `json:"ring"`
	KBolt     float64 `json:"k_b"`   // N/m
	Pitch     float64 `json:"pitch"` // m, of the thread
	Gasket    Gasket  `json:"gasket"`
	Stop      *Stop   `json:"stop"`
	Float     *Float  `json:"float,omitempty"`
	Bilateral bool    `json:"bolts_bilateral,omitempty"` // bolts push, too: to superpose
	Yield     float64 `json:"yield,omitempty"`           // N, force at which a bolt yields; 0: not said
}

// The most that is computed.
const (
	MostBolts   = 200
	mostPerBolt = 16
	mostStrips  = 16
	mostPoints  = 50
)

func (j *Joint) perBolt() int {
	if j.PerBolt == 0 {
		return 4
	}
	return j.PerBolt
}

func (g *Gasket) strips() int { return max(1, g.Strips) }

// Check refuses a joint that cannot be, naming the field: no bolts, a stiffness or a radius that is not above zero, radii
// out of order, a gasket that unloads more softly than it is loaded.
func (j *Joint) Check() error {
	if j.Bolts < 2 || j.Bolts > MostBolts {
		return quantity.Refuse("n", "Give the number of bolts.", "must be 2 to %d bolts, and is %d", MostBolts, j.Bolts)
	}
	if p := j.perBolt(); p < 2 || p > mostPerBolt {
		return quantity.Refuse("m", "4 is the usual one.", "must be 2 to %d elements for each bolt", mostPerBolt)
	}
	if j.Sides != 1 && j.Sides != 2 {
		return quantity.Refuse("sides", "2 for two flanges alike, 1 for one on a rigid cover.", "must be 1 or 2")
	}
	if err := quantity.Positive("r_b", j.RBolt, "r_out", j.ROut, "ring.R", j.Ring.R, "ring.EI", j.Ring.EI, "ring.GJ",
		j.Ring.GJ, "k_b", j.KBolt, "pitch", j.Pitch); err != nil {
		return err
	}
	for _, x := range []struct {
		field string
		v     float64
	}{{"ring.k_phi", j.Ring.KPhi}, {"ring.k_w", j.Ring.KW}, {"ring.r_h", j.Ring.RH}, {"yield", j.Yield}} {
		if !(x.v >= 0) || math.IsInf(x.v, 0) {
			return quantity.Refuse(x.field, "Give 0 for none.", "must be 0 or more")
		}
	}
	if math.IsNaN(j.Ring.GAs) || math.IsInf(j.Ring.GAs, 0) {
		return quantity.Refuse("ring.GAs", "Give 0 for no shear.", "is not a number")
	}
	if j.Stop != nil {
		if err := quantity.Positive("stop.r", j.Stop.R, "stop.k", j.Stop.K); err != nil {
			return err
		}
		if !(j.Stop.Gap >= 0) || math.IsInf(j.Stop.Gap, 0) {
			return quantity.Refuse("stop.gap", "Give the closure at which it begins to carry.", "must be 0 or more")
		}
	}
	if j.Float != nil {
		if err := quantity.Positive("float.k_e", j.Float.Ke); err != nil {
			return err
		}
	}
	return j.Gasket.check()
}

func (g *Gasket) check() error {
	if err := quantity.Positive("gasket.r_gi", g.RIn, "gasket.r_go", g.ROut); err != nil {
		return err
	}
	if g.ROut <= g.RIn {
		return quantity.Refuse("gasket.r_go", "Give the outer contact radius.", "must be above the inner one")
	}
	if g.Strips < 0 || g.Strips > mostStrips {
		return quantity.Refuse("gasket.ns", "1 is the usual one.", "must be 1 to %d strips", mostStrips)
	}
	steepest := 0.0
	switch g.Type {
	case Linear, LinearBilateral, Metal:
		return quantity.Positive("gasket.k", g.K)
	case Table:
		if len(g.Points) == 0 || len(g.Points) > mostPoints {
			return quantity.Refuse(
				"gasket.table",
				"Give closure and stress, rising.",
				"must have 1 to %d points",
				mostPoints,
			)
		}
		last := [2]float64{}
		for _, p := range g.Points {
			if !(p[0] > last[0]) || !(p[1] > last[1]) || math.IsInf(p[0]+p[1], 0) {
				return quantity.Refuse("gasket.table", "Give closure and stress, each above the one before.",
					"must rise from point to point")
			}
			steepest = max(steepest, (p[1]-last[1])/(p[0]-last[0]))
			last = p
		}
	case Exponential:
		if err := quantity.Positive("gasket.sigma0", g.Sigma0, "gasket.delta0", g.Delta0); err != nil {
			return err
		}
		steepest = g.Sigma0 / g.Delta0
	default:
		return quantity.Refuse("gasket.type", "Choose linear, metal, table or exponential.", "%q is not known", g.Type)
	}
	if err := quantity.Positive("gasket.ku0", g.Ku0); err != nil {
		return err
	}
	if !(g.Cu >= 0) || math.IsInf(g.Cu, 0) {
		return quantity.Refuse("gasket.cu", "Give 0 for none.", "must be 0 or more")
	}
	if g.Ku0 < steepest*(1-1e-9) {
		return quantity.Refuse("gasket.ku0", "Give the slope of unloading: it is steeper than that of loading.",
			"is less than the slope of loading, %.3g Pa/m", steepest)
	}
	return nil
}

// virgin is the stress of a gasket that was never closed further, and its slope.
func (g *Gasket) virgin(d float64) (stress, slope float64) {
	if d < 0 {
		return 0, 0
	}
	if g.Type == Exponential {
		e := math.Exp(d / g.Delta0)
		return g.Sigma0 * (e - 1), g.Sigma0 / g.Delta0 * e
	}
	var a [2]float64
	for i, b := range g.Points {
		slope = (b[1] - a[1]) / (b[0] - a[0])
		if d < b[0] || i == len(g.Points)-1 {
			return a[1] + slope*(d-a[0]), slope
		}
		a = b
	}
	return 0, 0
}

// at is the stress at a closure, and its slope. most is the highest closure it had, with the stress and the slope of
// unloading that belong to it.
func (g *Gasket) at(d float64, h *history) (stress, slope float64) {
	switch g.Type {
	case LinearBilateral:
		return g.K * d, g.K
	case Linear, Metal:
		if d < 0 {
			return 0, 0
		}
		return g.K * d, g.K
	}
	if d >= h.most {
		return g.virgin(d)
	}
	if s := h.stress - h.slope*(h.most-d); s > 0 {
		return s, h.slope
	}
	return 0, 0
}

// history is what a spot of the gasket remembers.
type history struct {
	most   float64 // closure
	stress float64 // at it
	slope  float64 // of unloading from it
	creep  float64 // by which it has given way
}

// remember takes the present closure into account.
func (g *Gasket) remember(d float64, h *history) {
	if g.Type != Table && g.Type != Exponential || d <= h.most && h.slope > 0 {
		return
	}
	h.most = max(h.most, d)
	h.stress, _ = g.virgin(h.most)
	h.slope = g.Ku0 + g.Cu*h.stress
}

// unloading is the slope along which a spot lets go.
func (g *Gasket) unloading(h *history) float64 {
	if g.Type == Table || g.Type == Exponential {
		return h.slope
	}
	return g.K
}
