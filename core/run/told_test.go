package run_test

import (
	"fmt"
	"math/rand/v2"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// saying is what somebody at the joint is told after an event, in a line.
func saying(t *testing.T, n int, e run.Event, s *run.State) string {
	t.Helper()
	var b strings.Builder
	fmt.Fprintf(&b, "%d %s", n, e.Kind)
	if e.Fastener > 0 {
		fmt.Fprintf(&b, " %d/%d %s", e.Pass, e.Fastener, e.Outcome)
	}
	fmt.Fprint(&b, strings.TrimRight(" "+e.Check+" "+e.Answer, " "))
	fmt.Fprintf(&b, " | %s, %s, %s", s.Station, s.Glyph, s.Verdict.Code)
	if s.Pass > 0 {
		p := s.Passes[s.Pass-1]
		fmt.Fprintf(&b, " | pass %d of %d: %d done, %d open", s.Pass, len(s.Passes), p.Done, p.Open)
	}
	if s.Next != nil {
		fmt.Fprintf(&b, " | next %d, %s", s.Next.Fastener, s.Next.Why)
	}
	for _, f := range s.Findings {
		fmt.Fprintf(&b, " | %s %s", f.Severity, f.Code)
	}
	fmt.Fprintf(&b, " | %s", coretest.Mark(t, s))
	return b.String()
}

// Work is told as it was told before: a rule that comes to another judgement, a word or a count that changes, shows here
// at the event where it does. What is told of a state is written out in part; the mark at the end of a line stands for
// all of it. When a change is meant, DYNACOR_WRITE=1 writes it, and the lines that differ are what it changed.
func TestWorkIsToldAsBefore(t *testing.T) {
	for _, f := range procedure.Builtin() {
		t.Run(f.Code, func(t *testing.T) {
			t.Parallel()
			var lines []string
			work := func(p *plan.Plan, what string, last int, do func(s *coretest.Script)) {
				s, g := coretest.NewScript(p), run.NewProgress(p)
				do(s)
				lines = append(lines, what)
				for i, e := range s.Events {
					g.Apply(e)
					if i >= len(s.Events)-last {
						lines = append(lines, saying(t, i+1, e, g.State(e.At)))
					}
				}
			}
			careless := func(ready bool, seed uint64) func(s *coretest.Script) {
				return func(s *coretest.Script) {
					if ready {
						s.Ready()
					}
					coretest.Wild(s, rand.New(rand.NewPCG(seed, 11)), 60)
				}
			}
			in := sampleOf(f, nil)
			p, err := plan.Make(in)
			require.NoError(t, err)
			work(p, "as it should be", 3, func(s *coretest.Script) { s.Finish() })
			work(p, "by careless hands", 99, careless(false, 1))
			work(p, "by careless hands at the fasteners", 60, careless(true, 2))
			work(apartPlan(t, f, nil), "taken apart by careless hands", 50, careless(true, 3))
			older := *p
			older.Rules, older.Needs, older.Checks = 0, nil, slices.Clone(p.Checks)
			for k := range older.Checks {
				older.Checks[k].Waive = ""
			}
			work(&older, "on a plan of an earlier program by careless hands", 40, careless(true, 5))
			in.Choices.Together = 2
			if two, err := plan.Make(in); err == nil {
				work(two, "with two tools by careless hands", 40, careless(true, 4))
			}
			coretest.AsBefore(t, filepath.Join("testdata", "told", f.Code+".txt"), " | ", lines)
		})
	}
}
