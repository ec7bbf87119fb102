package run

import (
	"fmt"
	"slices"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
)

// Fits refuses an event about something that the plan does not have: a fastener, a check, a group or a tool too many. Nobody can have done
// that, and nothing of it could be shown.
func (e Event) Fits(p *plan.Plan) error {
	if most := max(1, p.Choices.Together); e.Hand >= most {
		remedy := "One tool pulls here."
		if most > 1 {
			remedy = fmt.Sprintf("%d tools pull here; the first is 0.", most)
		}
		return quantity.Refuse("hand", remedy, "is %d", e.Hand)
	}
	switch e.Kind {
	case Pulled, Loosened, Skipped:
		if n := p.Count(); e.Fastener > n {
			return quantity.Refuse("fastener", fmt.Sprintf("Name one of the %d by its position.", n), "is %d, and the joint has %d", e.Fastener, n)
		}
	case CheckAnswered, DeviationRaised:
		if e.Check != "" && !slices.ContainsFunc(p.Checks, func(c procedure.Check) bool { return c.Code == e.Check }) {
			return quantity.Refuse("check", "Open the joint again; its plan may have changed.", "is %q, which the plan does not ask", e.Check)
		}
	case WrenchTaken:
		if e.Group != "" && !slices.ContainsFunc(p.AllGroups(), func(g *plan.FastenerGroup) bool { return g.Code == e.Group }) {
			return quantity.Refuse("group", "Open the joint again; its plan may have changed.", "is %q, which the joint does not have", e.Group)
		}
	}
	return nil
}
