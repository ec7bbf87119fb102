package interaction

import (
	"math"

	"dynacor/core/quantity"
)

// Geometry is a flange by its dimensions, from which its stiffness follows.
type Geometry struct {
	E     float64 `json:"E"`               // Pa, of the flange
	Nu    float64 `json:"nu"`              // Poisson's ratio
	RIn   float64 `json:"r_i"`             // m, bore
	ROut  float64 `json:"r_o"`             // m
	H     float64 `json:"h"`               // m, thickness of the ring
	Bolts int     `json:"n"`               //
	RBolt float64 `json:"r_b"`             // m, bolt circle
	Hole  float64 `json:"d_hole"`          // m
	Bolt  float64 `json:"d_bolt"`          // m
	Pitch float64 `json:"pitch"`           // m
	Grip  float64 `json:"grip"`            // m, between the nut faces
	EBolt float64 `json:"E_bolt"`          // Pa
	Hub   float64 `json:"t_hub"`           // m, wall of the pipe or hub; 0: none
	RHub  float64 `json:"r_hub"`           // m, its mean radius
	Seats float64 `json:"seat_compliance"` // m/N, of seats and washers below both nuts
}

// Derived is the stiffness that follows from dimensions.
type Derived struct {
	Ring  Ring
	KBolt float64
	As    float64 // m², stress area of the thread
}

// Derive gives ring and bolt stiffness. Refused: dimensions that are not above zero, radii out of order, holes that leave
// no ring.
//
// Ring: a rectangle of effective width, the holes taken off by their share of the spacing, as a curved beam; its torsion
// by the usual approximation for a rectangle. Hub: the edge of a long cylinder for rotation, a strip of the wall in its
// own plane at wave number 1.5 for waviness. Bolt: a stud with two nuts, ISO thread, 0.5 d of thread and 0.4 d of nut at
// each end, after VDI 2230-1.
func Derive(g Geometry) (Derived, error) {
	if err := quantity.Positive("E", g.E, "r_i", g.RIn, "r_o", g.ROut, "h", g.H, "r_b", g.RBolt, "d_hole", g.Hole,
		"d_bolt", g.Bolt, "pitch", g.Pitch, "grip", g.Grip, "E_bolt", g.EBolt); err != nil {
		return Derived{}, err
	}
	if g.Bolts < 2 || g.Bolts > MostBolts {
		return Derived{}, quantity.Refuse("n", "Give the number of bolts.", "must be 2 to %d bolts", MostBolts)
	}
	if !(g.Nu >= 0 && g.Nu < .5) {
		return Derived{}, quantity.Refuse("nu", "0.3 for steel.", "must be 0 to 0.5")
	}
	if !(g.Hub >= 0) || g.Hub > 0 && !(g.RHub > 0) {
		return Derived{}, quantity.Refuse(
			"t_hub",
			"Give wall and mean radius of the hub, or 0 for none.",
			"must be 0 or more",
		)
	}
	if !(g.Seats >= 0) {
		return Derived{}, quantity.Refuse("seat_compliance", "Give 0 for none.", "must be 0 or more")
	}
	if g.RIn >= g.ROut || g.RBolt <= g.RIn || g.RBolt >= g.ROut {
		return Derived{}, quantity.Refuse(
			"r_b",
			"Give bore, bolt circle and outer radius.",
			"must lie between bore and edge",
		)
	}
	spacing := 2 * math.Pi * g.RBolt / float64(g.Bolts)
	b := g.ROut - g.RIn - g.Hole*math.Sqrt(g.Hole/spacing)
	r := (g.ROut + g.RIn) / 2
	if b <= 0 || b >= 2*r {
		return Derived{}, quantity.Refuse("d_hole", "Look at holes, bore and edge.", "leaves no ring")
	}
	shear := g.E / (2 * (1 + g.Nu))
	i := r * g.H * g.H * g.H / 12 * math.Log((r+b/2)/(r-b/2))
	a, c := max(b, g.H), min(b, g.H)
	j := a * c * c * c * (1./3 - .21*(c/a)*(1-math.Pow(c, 4)/(12*math.Pow(a, 4))))
	out := Derived{Ring: Ring{R: r, EI: g.E * i, GJ: shear * j, GAs: 5. / 6 * shear * b * g.H, RH: g.RHub}}
	if g.Hub > 0 {
		n := 1 - g.Nu*g.Nu
		d := g.E * g.Hub * g.Hub * g.Hub / (12 * n)
		beta := math.Pow(3*n, .25) / math.Sqrt(g.RHub*g.Hub)
		out.Ring.KPhi = 2 * beta * d * (1 + beta*g.H + beta*beta*g.H*g.H/2) * g.RHub / r
		out.Ring.KW = 3 / ((1 + g.Nu) * (3 - g.Nu)) * g.E * g.Hub / r
	}
	d2, d3 := g.Bolt-.649519*g.Pitch, g.Bolt-1.226869*g.Pitch
	out.As = math.Pi / 4 * (d2 + d3) * (d2 + d3) / 4
	a3, an := math.Pi*d3*d3/4, math.Pi*g.Bolt*g.Bolt/4
	out.KBolt = 1 / (g.Grip/(g.EBolt*out.As) + 2*(.5*g.Bolt/(g.EBolt*a3)+.4*g.Bolt/(g.EBolt*an)) + g.Seats)
	return out, nil
}
