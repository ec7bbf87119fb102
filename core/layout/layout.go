// Package layout says where the fasteners of a group are. Angles are degrees clockwise from the top, seen from the tool's side.
package layout

import (
	"math"

	"dynacor/core/quantity"
)

// Circle is a bolt circle: Count fasteners, the first at StartDeg, clockwise. SeenFrom names the tool's side.
type Circle struct {
	Count      int     `json:"count"`
	DiameterMM float64 `json:"diameterMm,omitempty"` // of the bolt circle; 0: not known
	StartDeg   float64 `json:"startDeg"`
	SeenFrom   string  `json:"seenFrom"`
}

// NewCircle makes a bolt circle whose bolts straddle the centre lines (two-hole rule). Refused: fewer than 3 or more than 120.
func NewCircle(count int, diameterMM float64, seenFrom string) (Circle, error) {
	if count < 3 || count > 120 {
		return Circle{}, quantity.Refuse("bolts", "Enter the number of bolts on the circle.", "%d is outside 3 to 120", count)
	}
	return Circle{Count: count, DiameterMM: diameterMM, StartDeg: 180 / float64(count), SeenFrom: seenFrom}, nil
}

// AngleDeg gives the place of position p (1…Count) in [0, 360).
func (c Circle) AngleDeg(p int) float64 {
	return math.Mod(c.StartDeg+float64(p-1)*360/float64(c.Count), 360)
}

// Cradle gives the two neighbouring positions nearest the bottom: bolts put there first carry the gasket.
func (c Circle) Cradle() [2]int {
	best, low := math.Inf(1), 1
	for p := 1; p <= c.Count; p++ {
		q := p%c.Count + 1
		off := math.Abs(c.AngleDeg(p)-180) + math.Abs(c.AngleDeg(q)-180)
		if off < best-1e-9 {
			best, low = off, p
		}
	}
	return [2]int{low, low%c.Count + 1}
}

// Loading gives the order in which bolts are put in by hand: the cradle first, then upwards on both sides in turn, so that the
// gasket rests in the cradle while the rest go in.
func (c Circle) Loading() []int {
	k := c.Cradle()
	out := []int{k[0], k[1]}
	a, b := k[0], k[1]
	for len(out) < c.Count {
		a = (a+c.Count-2)%c.Count + 1
		out = append(out, a)
		if len(out) < c.Count {
			b = b%c.Count + 1
			out = append(out, b)
		}
	}
	return out
}
