package run_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/tool"
)

// Half a mark of the scale is what an eye can set; what is further off is another setting, for the setting and for the
// pull.
func TestSettingMayBeHalfAMarkOff(t *testing.T) {
	s := ready(t)
	d := s.Plan.First().InHand().Driver()
	require.Positive(t, d.Graduation)
	st := s.State()
	for off, same := range map[float64]bool{0: true, d.Graduation / 2: true, -d.Graduation / 2: true,
		0.51 * d.Graduation: false, -0.51 * d.Graduation: false} {
		set := s.Judge(run.Event{Kind: run.SettingConfirmed, Setting: st.Setting + off})
		require.Equal(t, same, set.Confirm == "", "set %g off", off)
		require.Equal(t, !same, found(set, "wrong_setting"), "set %g off", off)
	}
	s.Confirm()
	for off, mark := range map[float64]run.Mark{0: run.MarkDone, d.Graduation / 2: run.MarkDone,
		-d.Graduation / 2: run.MarkDone, 0.51 * d.Graduation: run.MarkOver, -0.51 * d.Graduation: run.MarkShort} {
		n := st.Next.Fastener
		out := s.Judge(run.Event{Kind: run.Pulled, Pass: 2, Fastener: n, Outcome: run.Clicked,
			Setting: st.Setting + off})
		require.Equal(t, mark, out.Fasteners[n-1].Marks[1], "pulled %g off", off)
	}
}

// Whoever signed for the tightening does not prove it, whatever else is true of them.
func TestWhoSignedForTheTighteningDoesNotProveIt(t *testing.T) {
	s := ready(t)
	s.Tighten()
	s.Checks(procedure.Prove)
	s.Checks(procedure.HandOver)
	st := s.State()
	require.Equal(t, run.Accepted, st.Verdict.Code)
	st.Signatures = []run.Signature{{Purpose: run.SignTightened, ID: coretest.Abara.ID, Name: "R. Abara"}}
	e := run.Event{Kind: run.Signed, Purpose: run.SignProved, Signer: &coretest.Abara}
	require.ErrorContains(t, run.MaySign(s.Plan, st, e), "signed for the tightening")
	e.Signer = &coretest.Hartwell
	require.NoError(t, run.MaySign(s.Plan, st, e))
	e.Signer = &coretest.Tolley
	require.Error(t, run.MaySign(s.Plan, st, e), "a technician")
}

// A hold is signed or it is not; no deviation takes its place.
func TestHoldIsNoDeparture(t *testing.T) {
	s := script(t)
	s.Add(run.Event{Kind: run.ReadConfirmed})
	s.Add(run.Event{Kind: run.CheckAnswered, Check: "isolation", Answer: "no"})
	s.Add(run.Event{Kind: run.DeviationRaised, Check: "isolation", Reason: "the valve leaks a little"})
	e := run.Event{Kind: run.Signed, Purpose: run.SignDeviation, Ref: s.State().Deviations[0].ID, Reason: "it will do",
		Signer: &coretest.Hartwell}
	require.ErrorContains(t, run.MaySign(s.Plan, s.State(), e), "is a hold")
}

// A stretch is right at both ends of its band and wrong past either. No delivered family ends at one; a site's own may.
func TestStretchAtTheEndsOfItsBand(t *testing.T) {
	f := coretest.Stretched()
	in := sampleOf(f, nil)
	in.Specification.Groups[0].Target = plan.Target{Form: plan.Stretch, StretchMM: 0.4, MinusPct: 10, PlusPct: 5}
	p, err := plan.Make(in)
	require.NoError(t, err)
	for _, c := range []struct {
		mm   float64
		mark run.Mark
	}{{0.36, run.MarkDone}, {0.42, run.MarkDone}, {0.3599, run.MarkShort}, {0.4201, run.MarkOver},
		{0.4, run.MarkDone}} {
		s := coretest.NewScript(p)
		s.Ready()
		n := s.State().Next.Fastener
		st := afterPull(s, func(e *run.Event) {
			e.Reading = &run.Reading{Value: c.mm, Unit: quantity.Millimetre,
				SI: c.mm}
		})
		require.Equal(t, c.mark, st.Fasteners[n-1].Marks[0], "%g mm", c.mm)
		s = coretest.NewScript(p)
		s.Ready()
		st = afterPull(s, func(e *run.Event) { e.Reading = &run.Reading{Value: c.mm / 25.4, Unit: "in", SI: c.mm} })
		require.Equal(t, c.mark, st.Fasteners[n-1].Marks[0], "%g mm read in inches", c.mm)
	}
}

// A curve is yielding when its slope falls below half of the elastic one, and not before.
func TestYieldBeginsAtHalfTheSlope(t *testing.T) {
	s := with(t, func(in *plan.Input) { in.Tools = []tool.Tool{coretest.Electronic()} })
	s.Add(run.Event{Kind: run.SettingConfirmed, Setting: s.State().Setting})
	st := s.State()
	for part, yields := range map[float64]bool{0.56: false, 0.44: true} {
		trace := pullTrace(func(a float64) float64 {
			switch {
			case a < 20:
				return 3
			case a < 50:
				return 3 + (a-20)*2.5
			}
			return 78 + (a-50)*2.5*part
		}, 64)
		out := s.Judge(run.Event{Kind: run.Pulled, Pass: 2, Fastener: st.Next.Fastener, Outcome: run.Reached,
			Setting: st.Setting, Reading: &run.Reading{Value: 90, Unit: quantity.NewtonMetre}, Trace: trace,
			Device: "E-03", DeviceSeq: 1})
		require.Equal(t, yields, found(out, "trace_yielded"), "slope falls to %g of it", part)
	}
}

// What the page offers is what the rules allow: each signature in its time, to the people whose it is, and to nobody
// else.
func TestMayListsTheSignaturesOfEachPerson(t *testing.T) {
	may := func(s *coretest.Script, who run.Person) []run.Purpose {
		out := []run.Purpose{}
		for _, g := range s.State().May(s.Plan, who) {
			out = append(out, g.Purpose)
		}
		return out
	}
	s := ready(t)
	require.Equal(t, []run.Purpose{}, may(s, coretest.Tolley))
	require.Equal(t, []run.Purpose{run.SignStartPass, run.SignTurnedDown}, may(s, coretest.Hartwell))
	s.Add(run.Event{Kind: run.SettingConfirmed, Setting: s.State().Setting})
	s.Add(pulled(s, 1, func(e *run.Event) { e.Outcome = run.Over }))
	d := s.State().Deviations[0].ID
	require.Equal(t, []run.Purpose{}, may(s, coretest.Tolley))
	require.Equal(
		t,
		[]run.Signable{{Purpose: run.SignDeviation, Ref: d}, {Purpose: run.SignTurnedDown}},
		s.State().May(s.Plan, coretest.Abara),
	)
	require.Equal(t, []run.Purpose{run.SignDeviation, run.SignStartPass, run.SignTurnedDown}, may(s, coretest.Hartwell))

	s = ready(t)
	s.Tighten()
	s.Checks(procedure.Prove)
	require.Equal(t, []run.Purpose{run.SignTightened}, may(s, coretest.Tolley))
	require.Equal(
		t,
		[]run.Purpose{run.SignTurnedDown},
		may(s, coretest.Abara),
		"nobody proves before the tightening is signed for",
	)
	s.Sign(run.SignTightened, coretest.Tolley, run.Event{})
	require.Equal(t, []run.Purpose{run.SignTightened}, may(s, coretest.Tolley), "never what they tightened themselves")
	require.Equal(t, []run.Purpose{run.SignProved, run.SignTurnedDown}, may(s, coretest.Abara))
}
