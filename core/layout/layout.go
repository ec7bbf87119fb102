// Package layout says where the fasteners of a group are. Angles are degrees clockwise from the top, seen from the
// tool's side.
package layout

import (
	"math"

	"dynacor/core/quantity"
)

// Kind is the shape that a group of fasteners has.
type Kind string

// The shapes. The empty kind is a circle, as in plans made before there were others.
const (
	Circle    Kind = "circle"
	Pair      Kind = "pair"      // two bolts, one each side
	Rectangle Kind = "rectangle" // around the edge of a cover: Columns along the top, Rows down the side
	Rows      Kind = "rows"      // a plate bolted in Rows of Columns
	Single    Kind = "single"    // one nut
	Stack     Kind = "stack"     // Rows nuts one above the other on each of Columns studs
	Layers    Kind = "layers"    // Columns bolts in each of Rows layers, the lowest first
	Free      Kind = "free"      // at Points
)

// Kinds lists the shapes.
func Kinds() []Kind { return []Kind{Circle, Pair, Rectangle, Rows, Single, Stack, Layers, Free} }

// Point is a place in the frame of the drawing: x to the right, y down, from −1 to 1.
type Point struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
}

// Offset moves one fastener from where its shape puts it, in the frame of the drawing.
type Offset struct {
	Position int     `json:"position"`
	X        float64 `json:"x"`
	Y        float64 `json:"y"`
}

// Layout is a group of Count fasteners. A circle has its first at StartDeg and goes clockwise, or the other way.
// SeenFrom names the tool's side.
type Layout struct {
	Kind          Kind     `json:"kind,omitempty"`
	Count         int      `json:"count"`
	DiameterMM    float64  `json:"diameterMm,omitempty"` // of the bolt circle; 0: not known
	StartDeg      float64  `json:"startDeg"`
	SeenFrom      string   `json:"seenFrom"`
	Anticlockwise bool     `json:"anticlockwise,omitempty"`
	Rows          int      `json:"rows,omitempty"`
	Columns       int      `json:"columns,omitempty"`
	Offsets       []Offset `json:"offsets,omitempty"`
	Points        []Point  `json:"points,omitempty"`
}

// Place is where a fastener stands in the frame of the drawing and which way its bar grows: away from the joint.
type Place struct {
	Point
	NormalDeg float64 `json:"normalDeg"`
}

// Shape is the kind, a circle when none is said.
func (l Layout) Shape() Kind {
	if l.Kind == "" {
		return Circle
	}
	return l.Kind
}

// NewCircle makes a bolt circle whose bolts straddle the centre lines (two-hole rule). Refused: fewer than 3 or more
// than 120.
func NewCircle(count int, diameter quantity.Length, seenFrom string) (Layout, error) {
	l := Layout{
		Count:      count,
		DiameterMM: float64(diameter),
		StartDeg:   180 / math.Max(1, float64(count)),
		SeenFrom:   seenFrom,
	}
	return l, l.Check()
}

// Settle fills in what follows from the rest: the count of a grid, the start of a circle that straddles its centre
// lines.
func (l Layout) Settle() Layout {
	switch l.Shape() {
	case Single:
		l.Count = 1
	case Pair:
		l.Count = 2
	case Rectangle:
		if l.Columns > 1 && l.Rows > 1 {
			l.Count = 2*(l.Columns+l.Rows) - 4
		}
	case Rows, Stack, Layers:
		if l.Rows > 0 && l.Columns > 0 {
			l.Count = l.Rows * l.Columns
		}
	case Free:
		l.Count = len(l.Points)
	}
	return l
}

// Check refuses a layout that cannot be drawn, naming the field.
func (l Layout) Check() error {
	if math.Abs(l.StartDeg) > 360 || !quantity.Finite(l.StartDeg) {
		return quantity.Refuse("startDeg", "Enter degrees clockwise from the top, 0 to 360.", "is %s",
			quantity.Text(l.StartDeg))
	}
	check, known := shapes[l.Shape()]
	if !known {
		return quantity.Refuse("layout", "Choose circle, pair, rectangle, rows, single, stack, layers or free.",
			"%q is not a layout", string(l.Kind))
	}
	if err := check(l); err != nil {
		return err
	}
	if want := l.Settle().Count; l.Count != want {
		return quantity.Refuse("bolts", "Make them agree.", "%d bolts are named, the layout has %d", l.Count, want)
	}
	for _, o := range l.Offsets {
		if o.Position < 1 || o.Position > l.Count || !(math.Abs(o.X) <= 0.5 && math.Abs(o.Y) <= 0.5) {
			return quantity.Refuse("offsets", "Name a fastener of the group and move it by half the drawing at most.",
				"fastener %d cannot be moved so", o.Position)
		}
	}
	return nil
}

// shapes refuse, each for its shape, counts that cannot be drawn.
var shapes = map[Kind]func(Layout) error{
	Circle: func(l Layout) error {
		if l.Count < 3 || l.Count > 120 {
			return quantity.Refuse("bolts", "Enter the number of bolts on the circle.", "%d is outside 3 to 120",
				l.Count)
		}
		return nil
	},
	Rectangle: func(l Layout) error {
		if l.Columns < 2 || l.Rows < 2 || l.Columns > 30 || l.Rows > 30 {
			return quantity.Refuse("columns",
				"Enter bolts along the top and down the side, corners counted in both: 2 to 30.",
				"%d by %d is not a rectangle of bolts", l.Columns, l.Rows)
		}
		return nil
	},
	Rows: inRows, Stack: inRows, Layers: inRows,
	Free: func(l Layout) error {
		if len(l.Points) < 1 || len(l.Points) > 120 {
			return quantity.Refuse("points", "Enter 1 to 120 places.", "there are %d places", len(l.Points))
		}
		for i, p := range l.Points {
			if !(math.Abs(p.X) <= 1 && math.Abs(p.Y) <= 1) {
				return quantity.Refuse("points", "Keep x and y between −1 and 1.", "place %d lies outside the drawing",
					i+1)
			}
		}
		return nil
	},
	Pair: always, Single: always,
}

func always(Layout) error { return nil }

func inRows(l Layout) error {
	if l.Rows < 1 || l.Columns < 1 || l.Rows > 30 || l.Columns > 60 || l.Rows*l.Columns > 120 {
		return quantity.Refuse("rows", "Enter rows and bolts in each: 120 bolts at most.",
			"%d rows of %d cannot be drawn", l.Rows, l.Columns)
	}
	return nil
}

func (l Layout) turn(steps float64) float64 {
	if l.Anticlockwise {
		return -steps
	}
	return steps
}

// AngleDeg gives the place of position p (1…Count) round the middle in [0, 360): of a circle exactly, else of where it
// is drawn.
func (l Layout) AngleDeg(p int) float64 {
	if l.Shape() == Circle {
		return quantity.Turned(l.StartDeg + l.turn(float64(p-1)*360/float64(l.Count)))
	}
	at := l.Places()[p-1]
	if at.X == 0 && at.Y == 0 {
		return 0
	}
	return quantity.Turned(quantity.Deg(math.Atan2(at.X, -at.Y)))
}

// Places gives where every fastener is drawn, position 1 first. A circle and a pair have radius 1.
func (l Layout) Places() []Place {
	out := make([]Place, 0, l.Count)
	put := func(x, y, normal float64) { out = append(out, Place{Point{x, y}, quantity.Turned(normal)}) }
	switch l.Shape() {
	case Circle, Pair:
		for p := range l.Count {
			start := l.StartDeg
			if l.Shape() == Pair && start == 0 {
				start = 90 // one each side, unless said otherwise
			}
			deg := start + l.turn(float64(p)*360/float64(l.Count))
			put(math.Sin(quantity.Rad(deg)), -math.Cos(quantity.Rad(deg)), deg)
		}
	case Rectangle:
		out = l.edge()
	case Rows, Layers:
		out = l.rows()
	case Stack:
		for c := range l.Columns {
			for r := range l.Rows {
				put(spread(c, l.Columns, 0.7), -spread(r, l.Rows, 0.7), side(c, l.Columns))
			}
		}
	case Single:
		put(0, 0, 0)
	case Free:
		for _, p := range l.Points {
			deg := 0.0
			if p.X != 0 || p.Y != 0 {
				deg = quantity.Deg(math.Atan2(p.X, -p.Y))
			}
			put(p.X, p.Y, deg)
		}
	}
	for _, o := range l.Offsets {
		if o.Position >= 1 && o.Position <= len(out) {
			out[o.Position-1].X += o.X
			out[o.Position-1].Y += o.Y
		}
	}
	return out
}

// spread lays n places evenly from −most to most; one alone stands in the middle.
func spread(i, n int, most float64) float64 {
	if n < 2 {
		return 0
	}
	return most * (2*float64(i)/float64(n-1) - 1)
}

func side(c, n int) float64 {
	if 2*c < n {
		return 270
	}
	return 90
}

// edge goes round a rectangle from its top left corner. The longer side spans the drawing.
func (l Layout) edge() []Place {
	w, h := 1.0, math.Max(0.5, float64(l.Rows-1)/float64(l.Columns-1))
	if h > 1 {
		w, h = math.Max(0.5, 1/h), 1
	}
	var out []Place
	add := func(x, y, normal float64) { out = append(out, Place{Point{x, y}, normal}) }
	for c := range l.Columns {
		normal := 0.0
		if c == 0 {
			normal = 315
		} else if c == l.Columns-1 {
			normal = 45
		}
		add(spread(c, l.Columns, w), -h, normal)
	}
	for r := 1; r < l.Rows-1; r++ {
		add(w, spread(r, l.Rows, h), 90)
	}
	for c := l.Columns - 1; c >= 0; c-- {
		normal := 180.0
		if c == 0 {
			normal = 225
		} else if c == l.Columns-1 {
			normal = 135
		}
		add(spread(c, l.Columns, w), h, normal)
	}
	for r := l.Rows - 2; r > 0; r-- {
		add(-w, spread(r, l.Rows, h), 270)
	}
	return out
}

// rows goes row by row from the top, or layer by layer from the ground. Of two rows the bars grow apart; of more they
// all grow up.
func (l Layout) rows() []Place {
	var out []Place
	for r := range l.Rows {
		y := spread(r, l.Rows, 0.8)
		if l.Rows == 2 {
			y = spread(r, 2, 0.36)
		}
		if l.Shape() == Layers {
			y = -y
		}
		normal := 0.0
		if l.Rows == 2 && y > 0 {
			normal = 180
		}
		for c := range l.Columns {
			out = append(out, Place{Point{spread(c, l.Columns, 1), y}, normal})
		}
	}
	return out
}

// Cradle gives the two neighbouring positions nearest the bottom: bolts put there first carry the gasket.
func (l Layout) Cradle() [2]int {
	if l.Count < 2 {
		return [2]int{1, 1}
	}
	best, low := math.Inf(1), 1
	for p := 1; p <= l.Count; p++ {
		q := p%l.Count + 1
		off := math.Abs(l.AngleDeg(p)-180) + math.Abs(l.AngleDeg(q)-180)
		if off < best-1e-9 {
			best, low = off, p
		}
	}
	return [2]int{low, low%l.Count + 1}
}

// Loading gives the order in which bolts are put in by hand: the cradle first, then upwards on both sides in turn, so
// that the gasket rests in the cradle while the rest go in.
func (l Layout) Loading() []int {
	if l.Count < 2 {
		return []int{1}
	}
	k := l.Cradle()
	out := []int{k[0], k[1]}
	a, b := k[0], k[1]
	for len(out) < l.Count {
		a = (a+l.Count-2)%l.Count + 1
		out = append(out, a)
		if len(out) < l.Count {
			b = b%l.Count + 1
			out = append(out, b)
		}
	}
	return out
}
