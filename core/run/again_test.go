package run_test

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
)

// inPass leads a ready joint until a pass is the present one.
func inPass(t *testing.T, s *coretest.Script, n int) {
	t.Helper()
	for range 400 {
		if s.State().Pass >= n || s.State().Pass == 0 {
			break
		}
		s.Pull()
	}
	require.Equal(t, n, s.State().Pass)
}

// all leads a joint to its verdict.
func all(t *testing.T, s *coretest.Script) *run.State {
	t.Helper()
	for range 2000 {
		st := s.State()
		if st.Verdict.Code == run.Accepted {
			return st
		}
		if !s.Due() {
			t.Fatalf("nothing is due, and the joint is %s: %s", st.Verdict.Code, st.Verdict.Sentence)
		}
	}
	t.Fatal("it never ends")
	return nil
}

// A bolt that is loosened in the check round comes up through every stage, the round is gone through as a whole, and
// what was measured before is measured again.
func TestLoosenedBoltComesUpThroughEveryStage(t *testing.T) {
	s := script(t)
	s.Ready()
	round := len(s.Plan.Passes)
	inPass(t, s, round)
	s.Pull()
	s.Pull()
	s.Add(run.Event{Kind: run.Loosened, Pass: round, Fastener: 3, Reason: "it turned with its stud"})
	st := s.State()
	require.Equal(t, 1, st.Pass, "it begins at the first stage")
	require.Equal(t, 3, st.Next.Fastener)
	require.Equal(t, plan.HandPass, st.Passes[0].Kind, "which is by hand")
	for i, ps := range st.Passes[:round-1] {
		require.Equal(t, 1, ps.Open, "pass %d", i+1)
	}
	require.Equal(t, s.Plan.Count(), st.Passes[round-1].Open, "the round is anew")
	require.Zero(t, st.Fasteners[2].TorqueNm)
	st = all(t, s)
	require.InDelta(t, float64(s.Plan.First().FinalNm), float64(st.Fasteners[2].TorqueNm), 1)

	require.Equal(t, run.CheckCleared, st.Check("gap_after").Status)
	s.Add(run.Event{Kind: run.Loosened, Pass: round, Fastener: 1, Reason: "to look at the washer"})
	st = s.State()
	require.Equal(t, run.CheckOpen, st.Check("gap_after").Status)
	require.Equal(t, run.CheckCleared, st.Check("faces").Status, "what does not rest on it stands")
	require.Contains(t, st.Check("gap_after").Waiting, "was loosened")
	require.NotEqual(t, run.Accepted, st.Verdict.Code)
	all(t, s)
}

// A gasket changed in the third pass: nothing of what was tightened counts any more, and what lies round the gasket is
// looked at again. What does not rest on it stands.
func TestChangedGasketBeginsTheTighteningAnew(t *testing.T) {
	s := script(t)
	s.Ready()
	inPass(t, s, 3)
	s.Pull()
	change := run.Event{Kind: run.PartChanged, Part: "gasket", Answer: run.NewPart, Reason: "it had slipped"}
	before := s.State()
	s.Add(change)
	st := s.State()
	require.Equal(t, procedure.Ready, st.Station)
	for _, code := range []string{"gasket", "gasket_seated", "faces", "gap", "lubricated", "parts"} {
		require.Equal(t, run.CheckOpen, st.Check(code).Status, code)
	}
	for _, code := range []string{"isolation", "marked", "overlap", "wrench", "bolt_threads", "lubricant"} {
		require.Equal(t, run.CheckCleared, st.Check(code).Status, code)
	}
	require.Equal(t, []string{"Gasket changed", "Gasket changed", "Gasket changed"},
		[]string{st.Passes[0].Void, st.Passes[1].Void, st.Passes[2].Void})
	require.Equal(t, 4, st.Pass)
	require.Equal(t, st.Passes[0].Name+", again", st.Passes[3].Name)
	require.Len(t, st.Passes, len(s.Plan.Passes)+3)
	for _, f := range st.Fasteners {
		require.Zero(t, f.TorqueNm)
	}
	again := run.AsksAgain(s.Plan, before, st)
	require.Contains(t, again.Checks, "Gasket type and state")
	require.Len(t, again.Passes, 3)
	require.Contains(t, again.Passes[0], "Pass 4, ")

	st = all(t, s)
	require.True(t, slices.ContainsFunc(st.Deviations, func(d run.Deviation) bool {
		return d.Code == run.ChangedPart && d.What == "Gasket changed, in pass 3" && d.Why == "it had slipped"
	}), "%v", st.Deviations)
	require.True(t, slices.ContainsFunc(st.Verdict.Reasons, func(r run.Reason) bool {
		return r.Text == "Pass 1, "+st.Passes[0].Name+": set aside (Gasket changed), done again since."
	}), "%v", st.Verdict.Reasons)
	require.NotContains(t, st.Verdict.Sentence, "left out")
}

// A bolt of its own is changed: the others stand.
func TestChangedBoltComesUpAlone(t *testing.T) {
	s := script(t)
	s.Ready()
	inPass(t, s, 3)
	change := run.Event{Kind: run.PartChanged, Part: "bolt", Answer: run.NewPart, Fastener: 2, Reason: "bent"}
	s.Add(change)
	st := s.State()
	require.Equal(t, run.CheckOpen, st.Check("bolt_threads").Status)
	require.Equal(t, run.CheckCleared, st.Check("gasket").Status)
	require.Equal(t, []int{1, 1}, []int{st.Passes[0].Open, st.Passes[1].Open})
	require.Empty(t, st.Passes[0].Void)
	st = all(t, s)
	require.InDelta(t, float64(s.Plan.First().FinalNm), float64(st.Fasteners[1].TorqueNm), 1)
}

func TestChangedPartMustBeOneOfTheJoint(t *testing.T) {
	s := script(t)
	for _, x := range []struct {
		field string
		e     run.Event
	}{
		{"part", run.Event{Answer: run.NewPart, Reason: "worn"}},
		{"part", run.Event{Part: "bearing", Answer: run.NewPart, Reason: "worn"}},
		{"answer", run.Event{Part: "gasket", Answer: "yes", Reason: "worn"}},
		{"answer", run.Event{Part: "gasket", Answer: run.Refitted, Reason: "looked at it"}}, // it is used once
		{"fastener", run.Event{Part: "bolt", Answer: run.NewPart, Reason: "worn"}},
		{"fastener", run.Event{Part: "bolt", Fastener: 99, Answer: run.NewPart, Reason: "worn"}},
		{"reason", run.Event{Part: "gasket", Answer: run.NewPart}},
	} {
		x.e.ID, x.e.At, x.e.Kind = "x", s.At, run.PartChanged
		err := x.e.Validate()
		if err == nil {
			err = x.e.Fits(s.Plan)
		}
		refused(t, err, x.field)
	}
	e := run.Event{ID: "x", At: s.At, Kind: run.PartChanged, Part: "gasket", Answer: run.NewPart, Reason: "worn"}
	require.NoError(t, e.Validate())
	require.NoError(t, e.Fits(s.Plan))
	old := *s.Plan
	old.Needs = nil
	refused(t, e.Fits(&old), "part")
}

// refused requires a refusal of a field.
func refused(t *testing.T, err error, field string) {
	t.Helper()
	r, is := quantity.RefusalIn(err)
	require.True(t, is, "%v", err)
	require.Equal(t, field, r.Field, r.Error())
	require.NotEmpty(t, r.Remedy)
}

// reached gives everything that rests on the roots, by following the arrows one after another.
func reached(p *plan.Plan, root string) map[string]bool {
	on := map[string]bool{}
	var follow func(string)
	follow = func(n string) {
		for node, needs := range p.Needs {
			if !on[node] && slices.Contains(needs, n) {
				on[node] = true
				follow(node)
			}
		}
	}
	follow(root)
	return on
}

// Whatever was done before, in every family: after a part is changed nothing stands that rests on it.
func TestNothingStandsThatRestsOnAChangedPart(t *testing.T) {
	for _, f := range procedure.Builtin() {
		t.Run(f.Code, func(t *testing.T) {
			t.Parallel()
			for seed, variant := range coretest.Variants(f) {
				p, err := plan.Make(sampleOf(f, variant))
				require.NoError(t, err)
				rng := rand.New(rand.NewPCG(uint64(seed), 12))
				s := coretest.NewScript(p)
				s.Ready()
				for range 2 + rng.IntN(3*p.Count()) {
					if s.State().Pass == 0 {
						break
					}
					s.Pull()
				}
				x := p.Parts[rng.IntN(len(p.Parts))]
				e := run.Event{Kind: run.PartChanged, Part: x.Code, Answer: run.NewPart, Reason: "worn"}
				if x.PerBolt {
					continue
				}
				require.NoError(t, e.Fits(p))
				s.Add(e)
				st := s.State()
				on := reached(p, "part/"+x.Code)
				for _, c := range st.Checks {
					if on["check/"+c.Code] {
						require.NotEqual(t, run.CheckCleared, c.Status, "%s rests on %s", c.Code, x.Code)
					}
				}
				for _, ps := range st.Passes {
					if on["step/"+ps.Step+":"+p.GroupOf(ps.Group).Code] {
						require.True(t, ps.Void != "" || ps.Done == 0, "pass %d rests on %s", ps.Number, x.Code)
					}
				}
				for node := range on { // what rests on what is asked again is asked again
					for next := range reached(p, node) {
						require.True(t, on[next], "%s rests on %s", next, node)
					}
				}
			}
		})
	}
}
