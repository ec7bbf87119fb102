package run_test

import (
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// apartPlan is how a made-up joint of a family comes apart.
func apartPlan(t *testing.T, f procedure.Family, answers map[string]string) *plan.Plan {
	t.Helper()
	in := sampleOf(f, answers)
	in.Apart = true
	p, err := plan.Make(in)
	require.NoError(t, err, f.Code)
	require.True(t, p.Apart())
	require.True(t, p.Complete(), "%s: %v %v", f.Code, p.ToBeSupplied, p.Findings)
	return p
}

// Every family comes apart, in every variant: made safe under a second person's eyes before the first fastener is let
// go, eased in rounds that end loose, and what came out told from what stays.
func TestEveryFamilyComesApart(t *testing.T) {
	for _, f := range procedure.Builtin() {
		require.NotNil(t, f.Apart, "%s has no way of its own to come apart", f.Code)
		for _, v := range coretest.Variants(f) {
			t.Run(f.Code, func(t *testing.T) {
				p := apartPlan(t, f, v)
				safe := slices.ContainsFunc(p.Checks, func(c procedure.Check) bool {
					return c.Station == procedure.Ready && c.Hold
				})
				require.True(t, safe, "nothing is made safe before it is let go")
				require.True(t, slices.ContainsFunc(p.Checks, func(c procedure.Check) bool {
					return c.Kind == procedure.Fates
				}), "nothing says what becomes of the parts")
				s := coretest.NewScript(p)
				s.Finish()
				st := s.State()
				require.Equal(t, run.Accepted, st.Verdict.Code, "%s\n%v\n%v", st.Verdict.Sentence, st.Verdict.Reasons,
					st.Findings)
				require.Equal(t, "Taken apart", st.Verdict.Word)
				require.Equal(t, run.GlyphReady, st.Glyph, "it can be fitted again")
				require.Empty(t, st.OpenItems)
				require.Empty(t, st.Deviations)
				for _, c := range st.Checks {
					require.Equal(t, run.CheckCleared, c.Status, c.Code)
				}
				for _, fs := range st.Fasteners {
					if slices.ContainsFunc(p.Passes, func(ps plan.Pass) bool {
						return ps.Kind == plan.EasePass && slices.Contains(ps.Order, fs.Position)
					}) {
						require.Zero(t, fs.Fraction, "%s still holds", fs.Name)
						require.Equal(t, run.StandingLetGo, fs.State, fs.Name)
					}
				}
			})
		}
	}
}

// Rounds of easing leave less from one to the next, and go backwards through the order of tightening.
func TestEasingIsTheReverseOfTightening(t *testing.T) {
	f, err := procedure.ByCode("gasketed_flange")
	require.NoError(t, err)
	fit, err := plan.Make(sampleOf(f, nil))
	require.NoError(t, err)
	p := apartPlan(t, f, nil)
	last := 100.0
	for _, ps := range p.Passes {
		if ps.Kind != plan.EasePass {
			continue
		}
		require.Less(t, ps.Percent, last, ps.Name)
		last = ps.Percent
		back := slices.Clone(fit.Passes[0].Order)
		slices.Reverse(back)
		require.Equal(t, back, ps.Order, ps.Name)
	}
	require.Zero(t, last)
	require.Equal(t, fit.Chalk, p.Chalk, "numbered as it is chalked")
	require.Contains(t, p.Holds, "together", "what they hold is told")
	require.InDelta(t, float64(fit.First().FinalNm)*p.HouseRules.LooseningFactor,
		float64(p.First().Loosening.TorqueNm), 1e-9)
}

// A joint whose target nobody knows comes apart all the same.
func TestUnknownTargetIsNoHindranceToComingApart(t *testing.T) {
	f, err := procedure.ByCode("gasketed_flange")
	require.NoError(t, err)
	in := sampleOf(f, nil)
	in.Apart, in.Specification.Groups[0].Target = true, plan.Target{Form: plan.NotGiven}
	p, err := plan.Make(in)
	require.NoError(t, err)
	require.True(t, p.Complete())
	require.Nil(t, p.First().Loosening, "nothing is guessed")
	s := coretest.NewScript(p)
	s.Finish()
	require.Equal(t, run.Accepted, s.State().Verdict.Code)
}

// A procedure that a site copied before joints could be taken apart has a way too, out of what it says.
func TestProcedureWithoutItsOwnWayComesApart(t *testing.T) {
	f, err := procedure.ByCode("shrink_disc")
	require.NoError(t, err)
	f.Apart = nil
	p := apartPlan(t, f, coretest.Variants(f)[0])
	for _, gate := range f.LoosenGate {
		require.True(
			t,
			slices.ContainsFunc(p.Checks, func(c procedure.Check) bool { return c.Title == gate && c.Hold }),
			gate,
		)
	}
	s := coretest.NewScript(p)
	s.Finish()
	require.Equal(t, run.Accepted, s.State().Verdict.Code)
}

// easing leads a flange to its first fastener that is let go.
func easing(t *testing.T) *coretest.Script {
	t.Helper()
	f, err := procedure.ByCode("gasketed_flange")
	require.NoError(t, err)
	s := coretest.NewScript(apartPlan(t, f, nil))
	s.Ready()
	s.Gates()
	require.NotNil(t, s.State().Next)
	return s
}

func letGo(s *coretest.Script, more run.Event) run.Event {
	st := s.State()
	more.Kind, more.Pass = run.Pulled, max(more.Pass, st.Pass)
	if more.Fastener == 0 {
		more.Fastener = st.Next.Fastener
	}
	if more.Outcome == "" {
		more.Outcome = run.Undone
	}
	return more
}

func nm(v float64) *run.Reading { return &run.Reading{Value: v, Unit: "N_m", SI: v} }

func kept(st *run.State) (out []string) {
	for _, d := range st.Deviations {
		out = append(out, string(d.Code))
	}
	return out
}

// Nothing is let go before the joint is safe, and what it took is held against what it went on at.
func TestWhatItTakesToLetGo(t *testing.T) {
	s := easing(t)
	g := s.Plan.First()
	for name, c := range map[string]struct {
		e    run.Event
		code string
	}{
		"as usual":            {run.Event{Reading: nm(float64(0.7 * g.FinalNm))}, ""},
		"at the limit":        {run.Event{Reading: nm(float64(g.Loosening.TorqueNm))}, ""},
		"harder than that":    {run.Event{Reading: nm(float64(1.01 * g.Loosening.TorqueNm))}, "break_out_high"},
		"just tight":          {run.Event{Reading: nm(float64(plan.LooseShare * g.FinalNm))}, ""},
		"loose already":       {run.Event{Reading: nm(float64(0.99 * plan.LooseShare * g.FinalNm))}, "loose_before"},
		"whole":               {run.Event{Outcome: run.Over}, "out_first"},
		"a round ahead":       {run.Event{Pass: 3}, "out_first"},
		"with a click":        {run.Event{Method: "click", Tool: "W-40"}, "forbidden_tool"},
		"with a bar":          {run.Event{Method: "spanner"}, ""},
		"cut with no leave":   {run.Event{Method: "cut"}, "forced"},
		"stuck":               {run.Event{Outcome: run.StuckFast, Method: "heat"}, "stuck"},
		"hydraulic, unread":   {run.Event{Method: "hydraulic_wrench"}, "no_break_out"},
		"not free yet":        {run.Event{Outcome: run.Short}, ""},
		"another comes first": {run.Event{Fastener: s.Plan.Passes[0].Order[3]}, "out_of_order"},
	} {
		st := s.Judge(letGo(s, c.e))
		var want []string
		if c.code != "" {
			want = []string{c.code}
		}
		got := kept(st)
		if c.code == "forbidden_tool" {
			require.Contains(t, got, c.code, name)
			continue
		}
		require.Equal(t, want, got, name)
	}
	unsafe := coretest.NewScript(s.Plan)
	unsafe.Add(run.Event{Kind: run.ReadConfirmed})
	require.Contains(
		t,
		kept(unsafe.Judge(run.Event{Kind: run.Pulled, Pass: 1, Fastener: 1, Outcome: run.Undone})),
		"not_ready",
	)
}

// A fastener that will not move waits for leave; with it it is forced, and what was cut off stands among what must be
// there anew.
func TestStuckFastenerWaitsForLeave(t *testing.T) {
	s := easing(t)
	first := s.State().Next.Fastener
	s.Add(letGo(s, run.Event{Outcome: run.StuckFast, Method: "cut"}))
	st := s.State()
	require.Equal(t, run.Standing(run.MarkShort), st.Fasteners[first-1].State)
	require.NotEqual(t, first, st.Next.Fastener, "the others of the round go on")
	d := st.Deviations[0]
	require.Error(t, run.MaySign(s.Plan, st, run.Event{Kind: run.Signed, Purpose: run.SignDeviation, Ref: d.ID,
		Signer: &coretest.Tolley, Reason: "go on"}), "a technician gives no leave")
	s.Sign(run.SignDeviation, coretest.Hartwell, run.Event{Ref: d.ID, Reason: "split the nut, cold"})
	s.Add(letGo(s, run.Event{Fastener: first, Method: "cut"}))
	require.NotContains(t, kept(s.State()), "forced")
	s.Tighten()
	s.Checks(procedure.Prove)
	st = s.State()
	require.Equal(t, run.Accepted, st.Verdict.Code, st.Verdict.Sentence)
	require.True(t, slices.ContainsFunc(st.Replace, func(r run.Replacement) bool {
		return r.Fastener == first && r.Why == "cut off" && r.What == fmt.Sprintf("Bolt %d", s.Plan.Chalk[first-1])
	}), "%v", st.Replace)
}

// A fastener that went hard is looked at before it goes in again. Below which share of its torque a fastener was loose
// before, a site may say itself.
func TestFastenerThatWentHardIsLookedAt(t *testing.T) {
	s := easing(t)
	n := s.State().Next.Fastener
	hard := 1.01 * float64(s.Plan.First().Loosening.TorqueNm)
	s.Add(letGo(s, run.Event{Reading: nm(hard)}))
	s.Tighten()
	s.Answer(checkByCode(t, s, "came_out"))
	st := s.State()
	require.True(t, slices.ContainsFunc(st.Replace, func(r run.Replacement) bool {
		return r.Fastener == n && r.What == fmt.Sprintf("Bolt %d", s.Plan.Chalk[n-1]) &&
			strings.HasPrefix(r.Why, "let go hard")
	}), "%v", st.Replace)
	for name, c := range map[string]struct {
		house, of float64
		loose     bool
	}{"as delivered, tight": {0, 0.4, false}, "as delivered, loose": {0, 0.2, true}, "the house's": {0.5, 0.4, true}} {
		s := easing(t)
		s.Plan.HouseRules.LooseShare = c.house
		got := kept(s.Judge(letGo(s, run.Event{Reading: nm(c.of * float64(s.Plan.First().FinalNm))})))
		require.Equal(t, c.loose, slices.Contains(got, "loose_before"), name)
	}
}

func checkByCode(t *testing.T, s *coretest.Script, code string) procedure.Check {
	t.Helper()
	c, ok := s.Plan.Check(code)
	require.True(t, ok, code)
	return c
}

// A gasket that was in never goes in again, and matched parts are marked.
func TestUsedOncePartIsThrownAway(t *testing.T) {
	s := easing(t)
	s.Tighten()
	c, ok := s.Plan.Check("came_out")
	require.True(t, ok)
	e := s.Right(c)
	at := slices.IndexFunc(e.Parts, func(p run.PartFound) bool { return p.Code == "gasket" })
	e.Parts[at].State = run.FateKept
	s.Add(e)
	st := s.State()
	require.Equal(t, run.CheckStopped, st.Check("came_out").Status)
	require.Contains(t, st.Check("came_out").Text, "never goes in again")
	s.Add(s.Right(c))
	st = s.State()
	require.Equal(t, run.CheckCleared, st.Check("came_out").Status)
	require.True(t, slices.ContainsFunc(st.Replace, func(r run.Replacement) bool {
		return strings.HasPrefix(r.What, "Gasket")
	}), "%v", st.Replace)
	f, err := procedure.ByCode("accumulator")
	require.NoError(t, err)
	for _, f = range procedure.Builtin() {
		p := apartPlan(t, f, coretest.Variants(f)[0])
		m := slices.IndexFunc(p.Parts, func(x procedure.Part) bool { return x.Then == procedure.ThenMatch })
		if m < 0 {
			continue
		}
		s := coretest.NewScript(p)
		s.Ready()
		s.Tighten()
		e := s.Right(c)
		e.Parts[m].Mark = " "
		s.Add(e)
		require.Equal(t, run.CheckStopped, s.State().Check("came_out").Status, "%s: %s kept without its mark", f.Code,
			p.Parts[m].Name)
	}
}

// The events of tightening are refused on a plan that takes a joint apart.
func TestTakingApartRefusesWhatBelongsToTightening(t *testing.T) {
	s := easing(t)
	for _, e := range []run.Event{{Kind: run.Loosened, Pass: 1, Fastener: 1, Reason: "x"},
		{Kind: run.PartChanged, Part: "gasket", Answer: run.NewPart, Reason: "x"}} {
		require.Error(t, e.Fits(s.Plan))
	}
	e := letGo(s, run.Event{Outcome: run.StuckFast})
	e.ID, e.At = "0199aaaa-0000-7000-8000-000000000999", coretest.Day
	require.Error(t, e.Validate(), "it must say what it is to be got off with")
	e.Method = "heat"
	require.NoError(t, e.Validate())
}

// A technician alone closes it: nobody proves what holds nothing.
func TestTakenApartTakesOneSignature(t *testing.T) {
	s := easing(t)
	s.Tighten()
	s.Checks(procedure.Prove)
	s.Checks(procedure.HandOver)
	require.Equal(t, []string{"Signature of the one who took it apart"}, s.State().OpenItems)
	s.Sign(run.SignTightened, coretest.Tolley, run.Event{})
	require.Empty(t, s.State().OpenItems)
}

// toldApart is everything that is said while a joint comes apart by a procedure.
func toldApart(f procedure.Family, in plan.Input) string {
	in.Family, in.Apart = f, true
	p, err := plan.Make(in)
	if err != nil {
		return "refused: " + err.Error()
	}
	s := coretest.NewScript(p)
	s.Finish()
	st := s.State()
	out, _ := json.Marshal([]any{p, st})
	return string(out)
}

// Every field of how a joint comes apart does something: what is led, asked, told or shown differs with it.
func TestEveryFieldOfTakingApartDoesSomething(t *testing.T) {
	alive, tried := map[string]bool{}, map[string]int{}
	for _, builtin := range procedure.Builtin() {
		raw, err := json.Marshal(builtin)
		require.NoError(t, err)
		for _, v := range coretest.Variants(builtin) {
			var f procedure.Family
			require.NoError(t, json.Unmarshal(raw, &f))
			in := sampleOf(builtin, v)
			was := toldApart(f, in)
			leaves(reflect.ValueOf(f.Apart).Elem(), func(name string, empty bool, set, back func()) {
				ours := strings.HasPrefix(name, "Apart.") || strings.HasPrefix(name, "Fate.") ||
					strings.HasPrefix(name, "Round.") || name == "Step.Rounds"
				if !ours || alive[name] || tried[name] > 40 || empty && name == "Apart.Answers" {
					return
				}
				tried[name]++
				set()
				defer back()
				defer func() { _ = recover() }() // a procedure that is not sound need not be led
				alive[name] = toldApart(f, in) != was
			})
		}
	}
	require.Greater(t, len(tried), 7)
	for name := range tried {
		require.True(t, alive[name], name)
	}
}
