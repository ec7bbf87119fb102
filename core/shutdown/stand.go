package shutdown

import (
	"math"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// Stopped begins why nothing of a joint that is stopped can be planned.
const Stopped = "stopped: "

// Stands says of a run under way which part of the work is in hand and what of it is left, or why nothing of it can be
// planned. Whoever began it is at it until somebody has done something to a fastener.
func Stands(p *plan.Plan, s *run.State, began string) (*Begun, string) {
	if len(s.Blocked) > 0 {
		return nil, Stopped + s.Blocked[0]
	}
	b := &Begun{At: Tighten, Minutes: max(1, int(math.Ceil(s.TotalMin)))}
	for _, w := range s.Workers {
		b.People = append(b.People, w.ID)
	}
	if len(b.People) == 0 && began != "" {
		b.People = []string{began}
	}
	if s.SetUp != nil {
		for _, t := range s.SetUp.String {
			b.Tools = append(b.Tools, t.Tag)
		}
	} else if s.Wrench != nil {
		b.Tools = []string{s.Wrench.Tag}
	}
	l := layer{p: p}
	each := SecondsOf(p, Checks)
	switch s.Station {
	case procedure.Tighten:
	case procedure.Read, procedure.Ready:
		before, lubricating := open(p, s)
		b.Tools = nil
		switch {
		case before > 0 || s.Station == procedure.Read:
			b.At, b.Minutes = Prepare, minutes(each*float64(before))
		case lubricating > 0:
			b.At, b.Minutes = Lubricate, minutes(each*float64(lubricating))
		default:
			b.Minutes = l.tightening(max(1, p.Choices.Together))
		}
	case procedure.Prove:
		_, _, after := l.checks()
		b.At, b.Minutes, b.People, b.Tools = Prove, minutes(each*float64(after)), nil, nil
	default:
		return nil, "to be handed over"
	}
	return b, ""
}

// open counts what is not answered yet before lubricating, and at it.
func open(p *plan.Plan, s *run.State) (before, lubricating int) {
	cleared := map[string]bool{}
	for _, c := range s.Checks {
		cleared[c.Code] = c.Status.Settled()
	}
	for _, c := range p.Checks {
		switch {
		case c.Station != procedure.Ready || cleared[c.Code]:
		case c.Kind == procedure.Lubricant || c.LifeMinutes > 0:
			lubricating++
		case !c.Signed():
			before++
		}
	}
	return before, lubricating
}
