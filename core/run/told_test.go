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
	"dynacor/core/tool"
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

// careless are 60 events by careless hands, from the beginning or from where everything is ready.
func careless(ready bool, seed uint64) func(s *coretest.Script) {
	return func(s *coretest.Script) {
		if ready {
			s.Ready()
		}
		coretest.Wild(s, rand.New(rand.NewPCG(seed, 11)), 60)
	}
}

// work is what is told after each of the last events of what is done on a plan.
func work(t *testing.T, p *plan.Plan, what string, last int, do func(s *coretest.Script)) []string {
	t.Helper()
	s, g, lines := coretest.NewScript(p), run.NewProgress(p), []string{what}
	do(s)
	for i, e := range s.Events {
		g.Apply(e)
		if i >= len(s.Events)-last {
			lines = append(lines, saying(t, i+1, e, g.State(e.At)))
		}
	}
	return lines
}

// Work is told as it was told before: a rule that comes to another judgement, a word or a count that changes, shows
// here at the event where it does. What is told of a state is written out in part; the mark at the end of a line stands
// for all of it. When a change is meant, DYNACOR_WRITE=1 writes it, and the lines that differ are what it changed.
func TestWorkIsToldAsBefore(t *testing.T) {
	for _, f := range procedure.Builtin() {
		t.Run(f.Code, func(t *testing.T) {
			t.Parallel()
			in := sampleOf(f, nil)
			p, err := plan.Make(in)
			require.NoError(t, err)
			lines := work(t, p, "as it should be", 3, func(s *coretest.Script) { s.Finish() })
			lines = append(lines, work(t, p, "by careless hands", 99, careless(false, 1))...)
			lines = append(lines, work(t, p, "by careless hands at the fasteners", 60, careless(true, 2))...)
			lines = append(
				lines,
				work(t, apartPlan(t, f, nil), "taken apart by careless hands", 50, careless(true, 3))...)
			older := *p
			older.Rules, older.Needs, older.Checks = 0, nil, slices.Clone(p.Checks)
			for k := range older.Checks {
				older.Checks[k].Waive = ""
			}
			lines = append(lines, work(t, &older, "on a plan of an earlier program by careless hands", 40,
				careless(true, 5))...)
			in.Choices.Together = 2
			if two, err := plan.Make(in); err == nil {
				lines = append(lines, work(t, two, "with two tools by careless hands", 40, careless(true, 4))...)
			}
			coretest.AsBefore(t, filepath.Join("testdata", "told", f.Code+".txt"), " | ", lines)
		})
	}
}

// The same for tools that are more than a wrench.
func TestWorkWithEveryToolIsToldAsBefore(t *testing.T) {
	multiplied := with(t, func(in *plan.Input) {
		in.Tools = []tool.Tool{coretest.SmallWrench(), coretest.Multiplier(), coretest.Socket("S-30", 30, "1 in", 2000)}
		in.Specification.Groups[0].Target.Nominal = 600
		in.HouseRules.Scheme = "50_80_100"
	})
	var lines []string
	for seed := range uint64(3) {
		lines = append(lines, work(t, hydraulics(t).Plan, "hydraulics by careless hands", 60, careless(true, seed))...)
		lines = append(lines, work(t, multiplied.Plan, "a multiplier by careless hands", 60, careless(true, seed))...)
	}
	coretest.AsBefore(t, filepath.Join("testdata", "told", "tools.txt"), " | ", lines)
}

// What a pump may be off is a mark of its gauge, either way; past it the fastener is short, or over.
func TestPressureMayBeOffByAMarkOfItsGauge(t *testing.T) {
	s := hydraulics(t)
	s.Pull() // the setting is confirmed
	st := s.State()
	mark := st.Wrench.Graduation
	require.Positive(t, mark)
	for _, c := range []struct {
		off  float64
		code string
		as   run.Mark
	}{{0, "", run.MarkDone}, {mark, "", run.MarkDone}, {-mark, "", run.MarkDone}, {1.1 * mark, "pressure_drift", run.MarkOver},
		{-1.1 * mark, "pressure_drift", run.MarkShort}} {
		v := st.Setting + c.off
		after := s.Judge(run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener, Outcome: st.Done,
			Setting: st.Setting, Clear: true, Reading: &run.Reading{Value: v, Unit: st.Wrench.Unit, SI: v}})
		if c.code == "" {
			require.NotContains(t, codes(after.Findings), "pressure_drift", "%g", c.off)
		} else {
			require.Contains(t, codes(after.Findings), c.code, "%g", c.off)
		}
		require.Equal(t, run.Standing(c.as), after.Fasteners[st.Next.Fastener-1].State, "%g %v", c.off, after.Findings)
	}
}

// While nuts still turn in the check round, a list shows that the joint must be gone round again.
func TestNutsThatTurnShowInAList(t *testing.T) {
	s := ready(t)
	for s.State().Pass < 5 {
		s.Pull()
	}
	require.Equal(t, run.GlyphInHand, s.State().Glyph)
	moved := true
	for range s.Plan.Count() {
		if st := s.State(); st.Confirm != "" {
			s.Add(run.Event{Kind: run.SettingConfirmed, Setting: st.Setting})
		}
		s.Add(pulled(s, s.State().Next.Fastener, func(e *run.Event) { e.Moved = &moved }))
	}
	st := s.State()
	require.Equal(t, run.GoRoundAgain, st.Verdict.Code)
	require.Equal(t, procedure.Tighten, st.Station)
	require.Equal(t, run.GlyphTurnedDown, st.Glyph)
}
