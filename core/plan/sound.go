package plan

import (
	"errors"
	"fmt"
	"slices"
)

// Bounds of a plan that is followed without having been made here.
const (
	mostFasteners = 2_000
	mostVisits    = 100_000 // fasteners times passes
	mostChecks    = 2_000
)

// Sound refuses a plan that no plan of this program can be: a number of fasteners or passes out of all proportion, a
// group that does not begin where the one before it ended, a pass of no group, an order that visits a fastener the joint does not have. It
// is asked before a plan from outside is followed.
func (p *Plan) Sound() error {
	if len(p.Groups) == 0 {
		return errors.New("it has no fasteners")
	}
	n := 0
	for _, g := range p.AllGroups() {
		if g.Layout.Count < 0 || g.Layout.Count > mostFasteners || n+g.Layout.Count > mostFasteners {
			return fmt.Errorf("it has more than %d fasteners", mostFasteners)
		}
		if g.Offset != n {
			return fmt.Errorf("group %q begins behind fastener %d, not behind %d", g.Code, g.Offset, n)
		}
		n += g.Layout.Count
	}
	if len(p.Passes)*max(n, 1) > mostVisits {
		return fmt.Errorf("it has %d passes of %d fasteners", len(p.Passes), n)
	}
	if len(p.Checks) > mostChecks || len(p.Rows) > mostChecks {
		return fmt.Errorf("it has more than %d checks", mostChecks)
	}
	if len(p.Chalk) < n {
		return fmt.Errorf("%d fasteners have %d numbers", n, len(p.Chalk))
	}
	return p.soundPasses(n)
}

// soundPasses refuses a pass that visits what the joint of n fasteners does not have.
func (p *Plan) soundPasses(n int) error {
	for _, ps := range p.Passes {
		if ps.Group != "" &&
			!slices.ContainsFunc(p.AllGroups(), func(g *FastenerGroup) bool { return g.Code == ps.Group }) {
			return fmt.Errorf("pass %d is of group %q, which it has not", ps.Number, ps.Group)
		}
		if len(ps.Order) > n {
			return fmt.Errorf("pass %d visits %d of %d fasteners", ps.Number, len(ps.Order), n)
		}
		for _, at := range ps.Order {
			if at < 1 || at > n {
				return fmt.Errorf("pass %d visits fastener %d of %d", ps.Number, at, n)
			}
		}
	}
	return nil
}
