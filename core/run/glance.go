package run

import (
	"slices"
	"time"

	"dynacor/core/procedure"
)

// Glance is how a joint stands, as far as a line of a list tells it.
type Glance struct {
	Station procedure.Station
	Glyph   Glyph
	Verdict VerdictCode
	Blocked []string // what holds it up, in words
	Cleared int      // checks of Ready that are settled, of Checks
	Checks  int
	Pass    int // at hand, 0 when all are done
	Passes  int
	Next    int // position of the fastener that is at hand, 0 when there is none
}

// glancing is what a glance writes to, used again by the next one.
type glancing struct {
	f folder
	s State
}

// Glance is what State tells of these at a time of looking, in a twentieth of the time: no words are put together.
func (g *Progress) Glance(now time.Time) Glance {
	i := g.f.current()
	f := g.look.at(g.f, i, now)
	f.standing(i)
	s := f.s
	out := Glance{Station: s.Station, Glyph: s.Glyph, Verdict: s.Verdict.Code, Blocked: s.Blocked, Pass: s.Pass,
		Passes: len(s.Passes)}
	for _, r := range s.Rows {
		if r.Station == procedure.Ready {
			out.Cleared, out.Checks = out.Cleared+r.Cleared, out.Checks+r.Total
		}
	}
	if s.Next != nil {
		out.Next = s.Next.Fastener
	}
	return out
}

// at is a folder from which the standing can be derived at a time of looking: what that writes is copied, the rest is
// the work's own and only looked at.
func (l *glancing) at(of *folder, current int, now time.Time) *folder {
	c, s := &l.f, &l.s
	passes, rows, gates := s.Passes[:0], s.Rows[:0], s.Gates[:0]
	*c, *s = *of, *of.s
	c.s, c.now, c.silent = s, now, true
	s.Passes, s.Rows, s.Gates, s.Blocked, s.Fasteners = append(passes, s.Passes...), rows, gates, nil, nil
	if of.dries(current, now) {
		s.Checks = slices.Clone(s.Checks)
		c.dry(current, now)
	}
	return c
}
