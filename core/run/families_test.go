package run_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

func sampleOf(f procedure.Family, answers map[string]string) plan.Input {
	in := coretest.Input()
	in.Joint.Family, in.Family = f.Code, f
	s := plan.Sample(f, answers)
	in.Specification = s
	return in
}

// Every family, in every variant, is led from nothing to both signatures, and nothing departs from the plan.
func TestEveryFamilyIsLedToItsEnd(t *testing.T) {
	require.Len(t, procedure.Builtin(), 20)
	for _, f := range procedure.Builtin() {
		require.Empty(t, f.Faults(), f.Code)
		for _, answers := range coretest.Variants(f) {
			name := f.Code
			for _, q := range f.Questions {
				name += " " + answers[q.Code]
			}
			t.Run(strings.TrimSpace(name), func(t *testing.T) {
				p, err := plan.Make(sampleOf(f, answers))
				require.NoError(t, err)
				require.True(t, p.Complete(), "%v %v", p.ToBeSupplied, p.Findings)
				require.NotEmpty(t, p.Passes)
				s := coretest.NewScript(p)
				s.Finish()
				st := s.State()
				require.Equal(t, run.Accepted, st.Verdict.Code, "%s\n%v\n%v", st.Verdict.Sentence, st.Verdict.Reasons,
					st.Findings)
				require.Empty(t, st.OpenItems)
				require.Empty(t, st.Deviations)
				require.Equal(t, procedure.HandOver, st.Station)
				for _, fs := range st.Fasteners {
					require.Equal(t, run.StandingAccepted, fs.State, fs.Name)
				}
				for _, c := range st.Checks {
					require.Equal(t, run.CheckCleared, c.Status, c.Code)
				}
			})
		}
	}
}

// Whatever is answered wrongly stops the line with a reason, and the first wrong answer stays.
func TestEveryCheckOfEveryFamilyCanFail(t *testing.T) {
	for _, f := range procedure.Builtin() {
		p, err := plan.Make(sampleOf(f, coretest.Variants(f)[0]))
		require.NoError(t, err)
		for _, c := range p.Checks {
			e := wrong(p, c)
			if e.Kind == "" {
				continue
			}
			s := coretest.NewScript(p)
			s.Add(run.Event{Kind: run.ReadConfirmed})
			s.Add(e)
			st := s.State()
			cs := st.Checks[slices.IndexFunc(st.Checks, func(x run.CheckState) bool { return x.Code == c.Code })]
			require.Equal(t, run.CheckStopped, cs.Status, "%s %s", f.Code, c.Code)
			require.NotEmpty(t, cs.Findings, "%s %s", f.Code, c.Code)
			require.False(t, cs.Attempts[0].OK)
		}
	}
}

// wrong answers a check as it must not be.
func wrong(p *plan.Plan, c procedure.Check) run.Event {
	s := coretest.NewScript(p)
	e := s.Right(c)
	switch c.Kind {
	case procedure.Condition:
		e.Answer = "repair"
	case procedure.Lubricant:
		e.Answer = "honey"
	case procedure.Parts:
		e.Parts[0].State = "missing"
	case procedure.Measure:
		if c.Criterion == "information" {
			return run.Event{}
		}
		for i := range e.Values {
			e.Values[i].SI, e.Values[i].Value = -9000+float64(i)*4000, -9000+float64(i)*4000
		}
	case procedure.Match:
		e.Marks[0].A = "Z9"
		if c.Pairs[0].B == "" {
			e.Marks[0].A = ""
		}
	case procedure.Sequence:
		e.Items = []string{c.Items[1], c.Items[0]}
	case procedure.Clock:
		e.Values[0].Value = c.ToHour - 6
		if e.Values[0].Value <= 0 {
			e.Values[0].Value += 12
		}
	case procedure.Temporary:
		e.Answer = map[string]string{"in": "out", "out": "in"}[c.Want]
	case procedure.Responsible:
		e.Who = ""
	case procedure.Wrench:
		return run.Event{}
	default:
		e.Answer = "no"
	}
	return e
}
