package sequence

import (
	"slices"

	"dynacor/core/quantity"
)

// GroupOptions say what a pattern needs to know of the group it goes through.
type GroupOptions struct {
	Groups        int     // sectors of Group, 4 or 8; 0: 4
	StartDeg      float64 // where fastener 1 stands, for Cardinal
	Rows, Columns int     // of a plate, for Outward; 0: fasteners in one row
	Order         []int   // for Chosen
}

// Once gives the order in which a pattern visits each of n fasteners once, n from 1 to 120. One fastener needs no
// pattern, two are taken in turn whatever is asked. Refused: a pattern that is not known or does not fit the group.
func Once(p Pattern, n int, o GroupOptions) ([]int, error) {
	if n < 1 || n > 120 {
		return nil, quantity.Refuse("fasteners", "Enter 1 to 120.", "%d is outside 1 to 120", n)
	}
	if p == Chosen {
		if ok, _, _ := Check(n, o.Order); !ok {
			return nil, quantity.Refuse("order", "Name each fastener once.",
				"does not visit each of the %d fasteners once", n)
		}
		return slices.Clone(o.Order), nil
	}
	if n < 3 {
		return []int{1, 2}[:n], nil
	}
	switch p {
	case Cross, Clockwise, Group:
		if p == Group && n < 4 {
			p = Cross
		}
		r, err := Visiting(p, n, Options{Groups: o.Groups})
		return r.Visit, err
	case AlternateTwo:
		return Once(Pairs, n, o)
	case Cardinal:
		if n < 4 {
			return cross(n), nil
		}
		r, err := CardinalOrder(nil, CardinalInput{N: n, StartDeg: quantity.Turned(o.StartDeg)})
		return r.Order, err
	case Pairs:
		if n%2 == 1 {
			return cross(n), nil
		}
		var out []int
		for i := range n / 2 {
			out = append(out, i+1, i+1+n/2)
		}
		return out, nil
	case Outward, FromStiff:
		rows, cols := o.Rows, o.Columns
		if rows*cols != n {
			rows, cols = 1, n
		}
		if p == Outward {
			r, err := SpiralOrder(nil, SpiralInput{Rows: &rows, Cols: &cols})
			return r.Order, err
		}
		edge := 1.0
		r, err := SpliceOrder(nil, SpliceInput{Rows: rows, Cols: cols, StiffRow: &edge})
		return r.Order, err
	}
	return nil, quantity.Refuse(
		"pattern",
		"Choose cross, group, clockwise, alternate_two, cardinal, pairs, outward, from_stiff or chosen.",
		"%q is not a pattern",
		string(p),
	)
}
