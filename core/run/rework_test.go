package run_test

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// touches finds in a remedy that fasteners are let go, or brought up again.
var touches = regexp.MustCompile(`(?i)loosen|\bease\b|\bundo\b|tighten|torqued? |let the bolts go|take (it|the \w+) (off|out|apart)|` +
	`push it off|make it up|begin again|round (again|once more)|go round|in turn again|turn a little further|close again`)

// lastPasses are the last passes of the plan in which each fastener of the groups is brought to what it must end at.
func lastPasses(p *plan.Plan, passes []int) map[string]int {
	last := map[string]int{}
	for i := range p.Passes {
		ps := p.Passes[i]
		if ps.Kind == plan.UndoPass || ps.Kind == plan.LeavePass {
			continue
		}
		for _, a := range passes {
			if p.Passes[a].Group == ps.Group {
				last[ps.Group] = i
			}
		}
	}
	return last
}

// Every check of every family fails once, after all is tightened. Where its remedy touches fasteners, the work that it
// promises is led: each of them is brought up again, to what its group must end at, by recorded acts.
func TestReworkIsLedAndEndsAtTheTarget(t *testing.T) {
	led := 0
	for _, f := range procedure.Builtin() {
		for _, v := range coretest.Variants(f) {
			p, err := plan.Make(sampleOf(f, v))
			require.NoError(t, err)
			for _, c := range p.Checks {
				bad := wrong(p, c)
				if bad.Kind == "" || c.Station != procedure.Prove || !touches.MatchString(c.Remedy) {
					continue
				}
				name := f.Code + " " + c.Code
				affected := p.Reopened(c)
				require.NotEmpty(t, affected.Passes, "%s: its remedy touches fasteners, and no pass is asked again: %s", name,
					c.Remedy)
				s := coretest.NewScript(p)
				s.Ready()
				s.Tighten()
				require.Zero(t, s.State().Pass, name)
				for _, x := range p.Checks { // those that come before it
					if x.Code == c.Code {
						break
					}
					if x.Station == procedure.Prove && !s.State().Check(x.Code).Status.Settled() {
						s.Answer(x)
					}
				}
				s.Add(bad)
				from := len(s.Events)
				require.NotZero(t, s.State().Pass, "%s fails and nothing is to be done", name)
				for range 2000 {
					if !s.Due() {
						break
					}
				}
				require.Equal(t, run.Accepted, s.State().Verdict.Code, "%s is put right and accepted", name)
				led++
				pulled := map[string][]int{}
				for _, e := range s.Events[from:] {
					if e.Kind == run.Pulled {
						st := s.State().Passes[e.Pass-1]
						pulled[st.Group] = append(pulled[st.Group], e.Fastener)
					}
				}
				for group, i := range lastPasses(p, affected.Passes) {
					for _, position := range p.Passes[i].Order {
						require.Contains(t, pulled[group], position, "%s: %s of %s is not brought up again", name,
							p.Passes[i].Name, group)
					}
				}
			}
		}
	}
	require.Greater(t, led, 40)
}

// A click without movement says that the fastener stood at or above the setting already: in the first torque pass of
// every family, whatever passes stand before it; in a later one it is as it should be.
func TestClickWithoutMovementIsSuspectInTheFirstTorquePass(t *testing.T) {
	seen := 0
	for _, f := range procedure.Builtin() {
		for _, v := range coretest.Variants(f) {
			p, err := plan.Make(sampleOf(f, v))
			require.NoError(t, err)
			s := coretest.NewScript(p)
			s.Ready()
			for range 2000 {
				s.Gates()
				st := s.State()
				if st.Pass == 0 {
					break
				}
				now := st.Passes[st.Pass-1]
				if now.Kind == plan.StagePass && st.Next != nil && st.Done == run.Clicked && len(st.Gates) == 0 {
					s.Confirm()
					at := s.Judge(run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener,
						Outcome: run.ClickedStill, Setting: st.Setting})
					want := true
					for _, e := range s.Events {
						want = want && !(e.Kind == run.Pulled && e.Fastener == st.Next.Fastener &&
							st.Passes[e.Pass-1].Kind == plan.StagePass)
					}
					require.Equal(t, want, at.Fasteners[st.Next.Fastener-1].Suspect, "%s: %s, %s", f.Code, now.Name,
						now.Group)
					if want && st.Pass > 1 {
						seen++
					}
				}
				s.Pull()
			}
		}
	}
	require.Greater(t, seen, 30, "passes by hand stand before the first torque")
}

// The verdict of a record from before a rule does not change by it.
func TestRulesOfAnEarlierTimeJudgeItsRecords(t *testing.T) {
	for rules, suspect := range map[int]bool{0: false, 1: true} {
		f, err := procedure.ByCode("wheel_nuts")
		require.NoError(t, err)
		p, err := plan.Make(sampleOf(f, nil))
		require.NoError(t, err)
		require.Equal(t, plan.RulesNow, p.Rules)
		p.Rules = rules
		s := coretest.NewScript(p)
		s.Ready()
		for s.State().Passes[s.State().Pass-1].Kind != plan.StagePass {
			s.Pull()
		}
		s.Gates()
		s.Confirm()
		st := s.State()
		at := s.Judge(run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener, Outcome: run.ClickedStill,
			Setting: st.Setting})
		require.Equal(t, suspect, at.Fasteners[st.Next.Fastener-1].Suspect, "rules %d", rules)
	}
}

// A test without a reading, at no pressure, or without a duration is no test, in any family; a record by earlier rules
// keeps its verdict.
func TestTestOfNothingIsNoTest(t *testing.T) {
	tried := 0
	for _, f := range procedure.Builtin() {
		for _, v := range coretest.Variants(f) {
			p, err := plan.Make(sampleOf(f, v))
			require.NoError(t, err)
			for _, c := range p.Checks {
				if c.Kind != procedure.Test {
					continue
				}
				require.NotEmpty(t, c.Unit, "%s %s asks for a reading", f.Code, c.Code)
				tried++
				for name, change := range map[string]func(*run.Event){
					"reading":  func(e *run.Event) { e.Values = nil },
					"pressure": func(e *run.Event) { e.Values[0].Value, e.Values[0].SI = 0, 0 },
					"duration": func(e *run.Event) { e.Minutes = 0 },
				} {
					s := coretest.NewScript(p)
					e := s.Right(c)
					change(&e)
					require.NotEqual(t, run.CheckCleared, s.Judge(e).Check(c.Code).Status, "%s %s without %s", f.Code, c.Code,
						name)
				}
				s := coretest.NewScript(p)
				require.Contains(t, []run.CheckStatus{run.CheckCleared, run.CheckToSign}, s.Judge(s.Right(c)).Check(c.Code).Status,
					"%s %s", f.Code, c.Code)
				p.Rules = 1
				e := s.Right(c)
				e.Minutes = 0
				require.NotEqual(t, run.CheckStopped, s.Judge(e).Check(c.Code).Status, "as it was judged before")
				p.Rules = plan.RulesNow
			}
		}
	}
	require.Greater(t, tried, 8)
}
