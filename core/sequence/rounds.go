package sequence

import (
	"fmt"
	"math"
	"slices"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// SpliceInput is a bolted plate in rows and columns.
type SpliceInput struct {
	Rows     int      `in:"rows" sym:"r" label:"Rows" ok:"1..60" eg:"4"`
	Cols     int      `in:"cols" sym:"c" label:"Columns" ok:"1..60" eg:"6"`
	StiffRow *float64 `in:"stiff_row" sym:"sr" label:"Stiffest at row" help:"The row next to the rigid member, when it is not the middle." eg:""`
	StiffCol *float64 `in:"stiff_col" sym:"sc" label:"Stiffest at column" eg:""`
}

// OrderResult is an order of holes.
type OrderResult struct {
	Order []int `out:"order" label:"Order"`
}

// SpliceOrder visits the rows from the stiffest outward, and in a row the columns likewise. Holes are numbered row by
// row. Source: rule of RCSC and EN 1090-2 of working from the stiffest part outward.
func SpliceOrder(w *working.Working, in SpliceInput) (OrderResult, error) {
	if err := quantity.Limits(in); err != nil {
		return OrderResult{}, err
	}
	if in.Rows*in.Cols < 2 {
		return OrderResult{}, quantity.Refuse("cols", "A single bolt needs no order.", "the plate has one bolt")
	}
	at := func(key string, given *float64, n int) (float64, error) {
		if given == nil {
			return float64(n+1) / 2, nil
		}
		if *given < 1 || *given > float64(n) {
			return 0, quantity.Refuse(key, "Choose a place on the plate.", "%s is outside 1 to %d",
				quantity.Text(*given), n)
		}
		return *given, nil
	}
	sr, err := at("stiff_row", in.StiffRow, in.Rows)
	if err != nil {
		return OrderResult{}, err
	}
	sc, err := at("stiff_col", in.StiffCol, in.Cols)
	if err != nil {
		return OrderResult{}, err
	}
	var r OrderResult
	for _, row := range outward(in.Rows, sr) {
		for _, col := range outward(in.Cols, sc) {
			r.Order = append(r.Order, (row-1)*in.Cols+col)
		}
	}
	w.Take("From the stiffest part outward, so that the plies close before the edges hold them apart.")
	return r, nil
}

// outward lists 1…n by distance from a point, the lower number first.
func outward(n int, from float64) []int {
	list := make([]int, n)
	for i := range n {
		list[i] = i + 1
	}
	slices.SortStableFunc(list, func(a, b int) int {
		da, db := math.Abs(float64(a)-from), math.Abs(float64(b)-from)
		switch {
		case da < db-1e-9:
			return -1
		case da > db+1e-9:
			return 1
		}
		return a - b
	})
	return list
}

// SpiralInput is a group of bolts as a grid or as points.
type SpiralInput struct {
	Rows   *int        `in:"rows" sym:"r" label:"Rows" ok:"1..60" eg:"4"`
	Cols   *int        `in:"cols" sym:"c" label:"Columns" ok:"1..60" eg:"4"`
	Points [][]float64 `in:"points_mm" label:"Or the places of the bolts" help:"x to the right and y up, in mm, one bolt a line." opt:"true"`
}

// SpiralOrder visits from the middle outward, each ring clockwise from the top. Refused: both or neither form, one
// bolt, two bolts at one place. Source: own rule.
func SpiralOrder(w *working.Working, in SpiralInput) (OrderResult, error) {
	if err := quantity.Limits(in); err != nil {
		return OrderResult{}, err
	}
	var list []spot
	var err error
	switch {
	case len(in.Points) > 0 && (in.Rows != nil || in.Cols != nil):
		err = quantity.Refuse("points_mm", "Give a grid or points, not both.", "is given beside rows and columns")
	case len(in.Points) > 0:
		list, err = ringsOfPoints(in.Points)
	case in.Rows != nil && in.Cols != nil:
		list, err = ringsOfGrid(*in.Rows, *in.Cols)
	default:
		err = quantity.Refuse("rows", "Give rows and columns, or the places.", "is missing")
	}
	if err != nil {
		return OrderResult{}, err
	}
	slices.SortStableFunc(list, func(a, b spot) int {
		switch {
		case a.ring != b.ring:
			return int(max(-1, min(1, a.ring-b.ring)))
		case math.Abs(a.clock-b.clock) > 1e-9 && a.clock < b.clock:
			return -1
		case math.Abs(a.clock-b.clock) > 1e-9:
			return 1
		}
		return a.n - b.n
	})
	var r OrderResult
	for _, p := range list {
		r.Order = append(r.Order, p.n)
	}
	w.Take("From the middle outward, each ring clockwise from the top.")
	return r, nil
}

// spot is a bolt by its distance from the middle and its place on the clock.
type spot struct {
	ring  int64
	clock float64
	n     int
}

func ringsOfPoints(points [][]float64) ([]spot, error) {
	if len(points) < 3 || len(points) > 200 {
		return nil, quantity.Refuse("points_mm", "Enter 3 to 200 bolts.", "has %d bolts", len(points))
	}
	lo, hi := [2]float64{math.Inf(1), math.Inf(1)}, [2]float64{math.Inf(-1), math.Inf(-1)}
	for i, p := range points {
		if len(p) != 2 || !quantity.Finite(p[0]) || !quantity.Finite(p[1]) {
			return nil, quantity.Refuse("points_mm", "Write x and y of one bolt a line.",
				"bolt %d is not a pair of numbers", i+1)
		}
		for k := range 2 {
			lo[k], hi[k] = math.Min(lo[k], p[k]), math.Max(hi[k], p[k])
		}
		for j := range i {
			if math.Hypot(p[0]-points[j][0], p[1]-points[j][1]) < 1e-9 {
				return nil, quantity.Refuse("points_mm", "Remove one of them.", "bolts %d and %d are at one place", j+1,
					i+1)
			}
		}
	}
	var list []spot
	for i, p := range points {
		x, y := p[0]-(lo[0]+hi[0])/2, p[1]-(lo[1]+hi[1])/2
		if r := math.Hypot(x, y); r > 1e9 {
			return nil, quantity.Refuse("points_mm", "Enter millimetres.", "bolt %d lies farther out than any joint",
				i+1)
		}
		list = append(list, spot{int64(math.Floor(math.Hypot(x, y)*1000 + 0.5)),
			quantity.Turned(quantity.Deg(math.Atan2(x, y))), i + 1})
	}
	return list, nil
}

func ringsOfGrid(rows, columns int) ([]spot, error) {
	if rows*columns < 2 {
		return nil, quantity.Refuse("cols", "A single bolt needs no order.", "the group has one bolt")
	}
	var list []spot
	for r := 1; r <= rows; r++ {
		for c := 1; c <= columns; c++ {
			u, v := 2*c-(columns+1), rows+1-2*r
			list = append(list,
				spot{int64(max(u, -u, v, -v)), quantity.Turned(quantity.Deg(math.Atan2(float64(u), float64(v)))),
					(r-1)*columns + c})
		}
	}
	return list, nil
}

// SimultaneousInput is a ring tightened with several tools at once.
type SimultaneousInput struct {
	N     int `in:"n" sym:"n" label:"Bolts" ok:"2..120" eg:"16"`
	Tools int `in:"tools" sym:"k" label:"Tools pulling at once" ok:"2..4" eg:"4"`
}

// StepsResult are sets of holes tightened together.
type StepsResult struct {
	Steps [][]int `out:"steps" label:"Together, one set after another"`
}

// SimultaneousOrder gives sets of bolts evenly spaced around the ring. Refused: a number of bolts the tools do not
// divide. Source: own rule on the cross order.
func SimultaneousOrder(w *working.Working, in SimultaneousInput) (StepsResult, error) {
	if err := quantity.Limits(in); err != nil {
		return StepsResult{}, err
	}
	if in.N%in.Tools != 0 {
		return StepsResult{}, quantity.Refuse("tools", "Use another number of tools.",
			"%d bolts cannot be shared evenly by %d tools", in.N, in.Tools)
	}
	var r StepsResult
	add := func(set []int) {
		slices.Sort(set)
		r.Steps = append(r.Steps, set)
	}
	switch {
	case in.Tools == 3:
		t := in.N / 3
		for _, a := range spread(t) {
			add([]int{a + 1, a + 1 + t, a + 1 + 2*t})
		}
	case in.N == 2:
		add([]int{1, 2})
	default:
		order := cross(in.N)
		for i := 0; i < in.N; i += in.Tools {
			add(slices.Clone(order[i : i+in.Tools]))
		}
	}
	w.Take("Every set is evenly spaced around the ring; all tools of a set are set alike and start together.")
	return r, nil
}

// FacesInput are the faces around one body.
type FacesInput struct {
	Faces  []int `in:"faces" label:"Bolts of each face, clockwise around the body" ok:"2..120" eg:"4 4 4"`
	Rounds int   `in:"rounds" sym:"m" label:"Rounds" ok:"1..10" eg:"3"`
}

// FacesResult is the walk over all faces.
type FacesResult struct {
	Faces  []int    `out:"face_order" label:"Order of the faces"`
	Visits []string `out:"visits" label:"Round-face-bolt"`
	Total  int      `out:"total" sym:"N" label:"Pulls"`
}

// FacesRounds takes every face through its own cross order in each round; a new round begins when all faces are done.
func FacesRounds(w *working.Working, in FacesInput) (FacesResult, error) {
	if err := quantity.Limits(in); err != nil {
		return FacesResult{}, err
	}
	if len(in.Faces) < 1 || len(in.Faces) > 12 {
		return FacesResult{}, quantity.Refuse("faces", "Enter 1 to 12 faces.", "has %d faces", len(in.Faces))
	}
	around := func(n int) []int {
		if n < 3 {
			return []int{1, 2}[:n]
		}
		return cross(n)
	}
	r := FacesResult{Faces: around(len(in.Faces))}
	for round := 1; round <= in.Rounds; round++ {
		for _, f := range r.Faces {
			for _, hole := range around(in.Faces[f-1]) {
				r.Visits = append(r.Visits, fmt.Sprintf("%d-%d-%d", round, f, hole))
			}
		}
	}
	r.Total = len(r.Visits)
	w.Step("N", "", float64(r.Total))
	w.Take("One round is one stage on every face; no face runs ahead.")
	return r, nil
}

// CardinalInput is a ring whose bolts nearest to the four quarters go first.
type CardinalInput struct {
	N        int     `in:"n" sym:"n" label:"Bolts" ok:"4..120" eg:"20"`
	StartDeg float64 `in:"start_deg" sym:"φ" label:"Bolt 1 stands at" help:"Degrees clockwise from the top." ok:"0..360" def:"0"`
}

// CardinalOrder takes the bolts nearest to 0, 180, 90 and 270 degrees first, then the rest in cross order. Between two
// that are as near, all four quarters take the one clockwise of them: turned one way round, the four stand as far apart
// as the ring lets them, and never side by side when bolts straddle the centre line. For provisional bolts that carry a
// heavy part while the others go in. Source: trade practice.
func CardinalOrder(w *working.Working, in CardinalInput) (OrderResult, error) {
	if err := quantity.Limits(in); err != nil {
		return OrderResult{}, err
	}
	var r OrderResult
	for _, want := range []float64{0, 180, 90, 270} {
		steps := quantity.Turned(want-in.StartDeg) / 360 * float64(in.N)
		r.Order = append(r.Order, int(math.Floor(steps+0.5+1e-9))%in.N+1)
	}
	for _, p := range cross(in.N) {
		if !slices.Contains(r.Order, p) {
			r.Order = append(r.Order, p)
		}
	}
	w.Take("Top and bottom first, then the sides, then all others across.")
	return r, nil
}
