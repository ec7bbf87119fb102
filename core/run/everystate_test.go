package run_test

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// eachPlan gives the plan of every family in every variant, putting together and taking apart.
func eachPlan(t *testing.T, do func(name string, p *plan.Plan)) {
	t.Helper()
	for _, f := range procedure.Builtin() {
		for i, v := range coretest.Variants(f) {
			for _, apart := range []bool{false, true} {
				in := sampleOf(f, v)
				in.Apart = apart
				p, err := plan.Make(in)
				require.NoError(t, err)
				do(fmt.Sprintf("%s %d apart %v", f.Code, i, apart), p)
			}
		}
	}
}

// states leads a run and calls at each of its states: before the first pull, at the end of each pass, at Prove, when
// all is proved and when it waits for signatures. at tells whether to go on with the run.
func states(p *plan.Plan, at func(s *coretest.Script, state string) (goOn bool)) {
	s := coretest.NewScript(p)
	s.Ready()
	if !at(s, "ready") {
		return
	}
	last := 0
	for range 5000 {
		pass := s.State().Pass
		if pass == 0 {
			break
		}
		if pass != last && last > 0 && !at(s, fmt.Sprintf("pass %d", pass)) {
			return
		}
		last = pass
		s.Pull()
	}
	s.Gates()
	if !at(s, "tightened") {
		return
	}
	s.Checks(procedure.Prove)
	if !at(s, "proved") {
		return
	}
	s.Checks(procedure.HandOver)
	at(s, "handed over")
}

// fork is the same work so far, to go on with in another way.
func fork(s *coretest.Script) *coretest.Script {
	c := coretest.NewScript(s.Plan)
	for _, e := range s.Events {
		c.At = e.At.Add(-20 * time.Second)
		c.Add(e)
	}
	return c
}

// goOn leads a run to its end and tells, by position, through which pass of the plan each fastener went last.
func goOn(s *coretest.Script) map[int]int {
	out := map[int]int{}
	for range 3000 {
		before, n := s.State(), len(s.Events)
		if !s.Due() {
			break
		}
		for _, e := range s.Events[n:] {
			if e.Kind == run.Pulled {
				now := before.Passes[e.Pass-1]
				out[e.Fastener] = slices.IndexFunc(s.Plan.Passes, func(ps plan.Pass) bool {
					return ps.Step == now.Step && ps.Group == now.Group && ps.Percent == now.Percent
				})
			}
		}
	}
	return out
}

// A fastener that is let go in any state of any family is brought up again by recorded acts before the joint is
// accepted: it goes once more through the last pass that brings its group to what it ends at.
func TestFastenerLetGoInAnyStateEndsAtItsTarget(t *testing.T) {
	tried := 0
	eachPlan(t, func(name string, p *plan.Plan) {
		if p.Apart() {
			return
		}
		states(p, func(whole *coretest.Script, state string) bool {
			st := whole.State()
			for _, position := range []int{1, p.Count()} {
				g := p.GroupAt(position)
				if g.EndsAt == procedure.NoTorque || st.Fasteners[position-1].Fraction == 0 {
					continue
				}
				s := fork(whole)
				s.Add(run.Event{Kind: run.Loosened, Pass: max(1, st.Pass), Fastener: position, Reason: "to look at it"})
				through := goOn(s)
				after := s.State()
				require.Equal(t, run.Accepted, after.Verdict.Code, "%s, let go at %s: %s", name, state,
					after.Verdict.Sentence)
				final := -1
				for i, ps := range p.Passes {
					if ps.Group == g.Code && slices.Contains(ps.Order, position) {
						final = i
					}
				}
				require.Equal(t, final, through[position], "%s, %s let go at %s", name,
					st.Fasteners[position-1].Name, state)
				tried++
			}
			return true
		})
	})
	require.Greater(t, tried, 200)
}

// When another pair of hands takes over, in any state of any family, the tool is confirmed anew by them and the record
// names both; the joint still ends accepted, and the one who proves it is neither.
func TestHandsChangeInAnyState(t *testing.T) {
	tried := 0
	eachPlan(t, func(name string, p *plan.Plan) {
		states(p, func(whole *coretest.Script, state string) bool {
			s := fork(whole)
			s.Person = coretest.Quaye
			st := s.State()
			if st.Pass > 0 && st.Passes[st.Pass-1].Kind.Sets() && len(st.Gates) == 0 && len(st.Workers) > 0 &&
				st.Confirm == "" {
				e := run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener, Outcome: st.Done,
					Setting: st.Setting, Clear: true}
				require.Contains(t, kept(s.Judge(e)), "not_confirmed", "%s at %s", name, state)
			}
			if st.Pass > 0 && st.Passes[st.Pass-1].Kind.Sets() && len(st.Gates) == 0 {
				e := run.Event{Kind: run.SettingConfirmed, Setting: st.Setting}
				if st.Confirm == "" && st.Passes[st.Pass-1].Unit.Kind() == "torque" {
					s.Add(e)
				}
			}
			goOn(s)
			after := s.State()
			require.Equal(t, run.Accepted, after.Verdict.Code, "%s, hands change at %s: %s", name, state,
				after.Verdict.Sentence)
			worked := slices.ContainsFunc(after.Workers, func(w run.Person) bool { return w.ID == coretest.Quaye.ID })
			if worked {
				require.NoError(t, run.MaySign(p, after, run.Event{Kind: run.Signed, Purpose: run.SignTightened,
					Signer: &coretest.Quaye}), name)
				s.Sign(run.SignTightened, coretest.Quaye, run.Event{})
				require.Error(t, run.MaySign(p, s.State(), run.Event{Kind: run.Signed, Purpose: run.SignProved,
					Signer: &coretest.Quaye}), name)
			}
			tried++
			return true
		})
	})
	require.Greater(t, tried, 300)
}

// A check that is said not to apply, in any family, is waived by the word of whom its procedure trusts and shows in the
// verdict, or never: a hold never, one that carries the verdict never by whoever does the work.
func TestEachCheckIsWaivedOrNever(t *testing.T) {
	waivedBy := map[procedure.Waive]int{}
	eachPlan(t, func(name string, p *plan.Plan) {
		for _, c := range p.Checks {
			if c.Kind == procedure.Wrench || c.Each {
				continue
			}
			s := coretest.NewScript(p)
			s.Add(run.Event{Kind: run.ReadConfirmed})
			s.Add(na(c.Code))
			where := name + " " + c.Code
			waivedBy[c.Waive]++
			switch c.Waive {
			case procedure.ByTechnician:
				require.Equal(t, run.CheckWaived, status(s, c.Code), where)
				require.False(t, c.CarriesVerdict(), where)
			case procedure.ByEngineer:
				require.Equal(t, run.CheckToWaive, status(s, c.Code), where)
				require.Error(t, waive(s, c.Code, coretest.Tolley), where)
				require.NoError(t, waive(s, c.Code, coretest.Hartwell), where)
				require.Equal(t, run.CheckWaived, status(s, c.Code), where)
			default:
				require.Equal(t, run.CheckStopped, status(s, c.Code), where)
			}
			if c.Hold {
				require.Equal(t, procedure.ByNobody, c.Waive, where)
			}
		}
	})
	for _, w := range []procedure.Waive{procedure.ByTechnician, procedure.ByEngineer, procedure.ByNobody} {
		require.Greater(t, waivedBy[w], 10, w)
	}
}
