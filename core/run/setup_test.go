package run_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/preload"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/tool"
)

// with plans the made-up joint for other tools and clears everything before the first pull.
func with(t *testing.T, change func(*plan.Input)) *coretest.Script {
	t.Helper()
	in := coretest.Input()
	change(&in)
	p, err := plan.Make(in)
	require.NoError(t, err)
	require.True(t, p.Complete(), "%v", p.Findings)
	s := coretest.NewScript(p)
	s.Ready()
	upByHand(s)
	return s
}

func hydraulics(t *testing.T) *coretest.Script { return hydraulicsWith(t, func(*plan.Input) {}) }

func hydraulicsWith(t *testing.T, change func(*plan.Input)) *coretest.Script {
	return with(t, func(in *plan.Input) {
		change(in)
		in.Specification.Groups[0].Thread, in.Specification.Groups[0].Target = "M36", plan.Target{Form: plan.TorqueNominal, Nominal: 3000,
			MinusPct: 10, PlusPct: 10, Unit: quantity.NewtonMetre}
		in.Tools = []tool.Tool{coretest.HydraulicWrench(), coretest.Pump(), coretest.Hose(),
			coretest.Socket("S-55", 55, "1 in", 6000)}
	})
}

func TestMultiplierFromPlanToRecord(t *testing.T) {
	s := with(t, func(in *plan.Input) {
		in.Tools = []tool.Tool{coretest.SmallWrench(), coretest.Multiplier(), coretest.Socket("S-30", 30, "1 in", 2000)}
		in.Specification.Groups[0].Target.Nominal = 600
		in.Specification.Groups[0].Thread = "M20"
		in.HouseRules.Scheme = "50_80_100"
	})
	st := s.State()
	require.Equal(t, run.Clicked, st.Done)
	require.Equal(t, 65.0, st.Setting, "half of 600 through 4.6")
	require.InDelta(t, 65*4.6, float64(st.Passes[1].TorqueNm), 1e-9)
	require.Equal(t, "W-31+X-04+S-30", st.SetUp.Tags())
	require.InDelta(t, (65*4.6-65)/0.3, st.Reaction.ForceN, 1e-6)
	require.Equal(t, "Arm bears, hands clear", s.Plan.First().Clear)
	s.Pull()
	require.NotContains(t, codes(s.State().Findings), "not_clear")
	st = s.State()
	out := s.Judge(run.Event{Kind: run.Pulled, Pass: 2, Fastener: st.Next.Fastener, Outcome: run.Clicked, Setting: 65})
	require.Contains(t, codes(out.Findings), "not_clear", "the clear is said before each pull")
	s.Tighten()
	require.InDelta(t, 130*4.6, float64(s.State().Fasteners[0].TorqueNm), 1e-9)
	require.Contains(t, s.State().Passes[1].Wrenches, "W-31 × X-04")
}

func TestHydraulicRoutine(t *testing.T) {
	s := hydraulics(t)
	var asked []string
	for _, c := range s.Plan.Checks {
		if c.Row == "power" {
			asked = append(asked, c.Code)
		}
	}
	require.Equal(t, []string{"couplings", "hoses", "regulator_down", "dry_cycle", "drive_side", "reaction_arm"}, asked)
	for _, c := range s.Plan.Checks {
		require.NotEqual(t, "function_check", c.Code, "a click is not asked of a tool that has none")
	}
	st := s.State()
	require.Equal(t, run.Stalled, st.Done)
	require.Contains(t, st.Confirm, "tool off the nut")
	once := s.Judge(run.Event{Kind: run.SettingConfirmed, Setting: st.Setting})
	require.Contains(t, codes(once.Findings), "second_reading")
	require.NotEmpty(t, once.Confirm)
	drift := s.Judge(run.Event{Kind: run.SettingConfirmed, Setting: st.Setting,
		Reading: &run.Reading{Value: st.Setting + 30, Unit: "bar"}})
	require.Contains(t, codes(drift.Findings), "pressure_drift")
	psi, err := quantity.Convert(st.Setting, "bar", "psi")
	require.NoError(t, err)
	require.Empty(t, s.Judge(run.Event{Kind: run.SettingConfirmed, Setting: st.Setting,
		Reading: &run.Reading{Value: psi, Unit: "psi"}}).Findings, "the same pressure on the other scale")
	mpa := s.Judge(run.Event{Kind: run.SettingConfirmed, Setting: st.Setting / 10,
		Reading: &run.Reading{Value: st.Setting / 10, Unit: "bar"}})
	require.Contains(t, codes(mpa.Findings), "other_scale", "MPa read for bar")
	s.Pull()
	st = s.State()
	require.Equal(t, "stalled at 130 bar", st.LastKept.Text)
	require.Empty(t, st.Confirm)
	// the gauge creeps while a nut is turned
	s.Add(run.Event{Kind: run.Pulled, Pass: 2, Fastener: st.Next.Fastener, Outcome: run.Stalled, Setting: st.Setting,
		Clear: true, Reading: &run.Reading{Value: 100, Unit: "bar"}})
	st = s.State()
	require.Contains(t, codes(st.Findings), "pressure_drift")
	require.Contains(t, st.Confirm, "read twice")
	require.Equal(t, 1, st.Passes[1].Short)
	s.Tighten()
	st = s.State()
	require.Zero(t, st.Passes[1].Open)
	require.InDelta(t, float64(s.Plan.First().FinalNm), float64(st.Fasteners[2].TorqueNm), 1e-9)
	require.Less(t, s.Plan.First().FinalNm, 3000.0, "a pressure rounds down")
	l := s.Plan.First().Loosening
	require.InDelta(t, 1.5*float64(s.Plan.First().FinalNm), float64(l.TorqueNm), 1e-9)
	require.True(t, l.Feasible)
	require.Greater(t, l.Pressure, s.State().Setting)
	require.LessOrEqual(t, l.Pressure, 700.0)
	seized := hydraulicsWith(t, func(in *plan.Input) { in.HouseRules.LooseningFactor = 2 }).Plan.First().Loosening
	require.False(t, seized.Feasible, "twice the torque is past this tool")
	require.Contains(t, seized.Why, "larger tool")
}

func TestAnotherMethodIsAnotherPlan(t *testing.T) {
	s := hydraulics(t)
	w := coretest.Wrench()
	out := s.Judge(run.Event{Kind: run.WrenchTaken, Wrench: &w})
	require.Contains(t, codes(out.Findings), "wrench_other_method")
}

func TestTensionerLeavesWhatTheTorqueWould(t *testing.T) {
	s := with(t, func(in *plan.Input) {
		in.Specification.Groups[0].ClampMM = 100
		hose, pump := coretest.Hose(), coretest.Pump()
		hose.MaxMPa, pump.RatedMax, pump.Unit, pump.Graduation, pump.MainStep = 150, 150, quantity.Megapascal, 1, 10
		in.Tools = []tool.Tool{coretest.Tensioner(), hose, pump}
	})
	p := s.Plan
	require.Equal(t, run.RunDown, s.State().Done)
	k := p.First().Lubricant.K.Typ
	full := 300 / (k * 20)
	exact := full * 1000 * (1.01 + 0.2) / 1500
	require.InDelta(t, full*p.Passes[3].Setting/exact, p.First().PreloadKN, 1e-6, "the mark below the exact pressure")
	require.InDelta(t, 0.046, (p.First().PreloadMaxKN-p.First().PreloadKN)/p.First().PreloadKN, 1e-9,
		"gauge 1.6 % and curve 3 %, no friction")
	s.Tighten()
	require.Equal(t, "run_down", string(s.Events[len(s.Events)-1].Outcome))
}

func TestReadingOfAnElectronicWrenchIsJudged(t *testing.T) {
	s := with(t, func(in *plan.Input) { in.Tools = []tool.Tool{coretest.Electronic()} })
	st := s.State()
	require.Equal(t, run.Reached, st.Done)
	s.Pull()
	st = s.State()
	read := func(v float64, u quantity.Unit, change func(*run.Event)) *run.State {
		e := run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener, Outcome: run.Reached,
			Setting: st.Setting, Reading: &run.Reading{Value: v, Unit: u, Text: quantity.Text(v)}}
		if change != nil {
			change(&e)
		}
		return s.Judge(e)
	}
	require.Empty(t, read(90, quantity.NewtonMetre, nil).Findings)
	require.Empty(t, read(66.4, quantity.FootPound, nil).Findings, "another unit is turned into the scale's")
	require.Equal(t, []string{"over"}, codes(read(96, quantity.NewtonMetre, nil).Findings), "past 5 % in a stage")
	require.Equal(t, []string{"short"}, codes(read(84, quantity.NewtonMetre, nil).Findings))
	other := read(66.4, quantity.NewtonMetre, nil)
	require.Contains(t, other.Findings[0].What, "right on the ft·lbf scale")
	require.InDelta(t, 90, float64(read(90, quantity.NewtonMetre, nil).Fasteners[st.Next.Fastener-1].TorqueNm), 1e-9)
}

func pullTrace(torque func(angle float64) float64, upTo float64) []preload.TracePoint {
	var out []preload.TracePoint
	for a := 0.0; a <= upTo; a += 2 {
		out = append(out, preload.TracePoint{Angle: a, Torque: torque(a)})
	}
	return out
}

func TestShapeOfThePullIsJudged(t *testing.T) {
	s := with(t, func(in *plan.Input) { in.Tools = []tool.Tool{coretest.Electronic()} })
	s.Add(run.Event{Kind: run.SettingConfirmed, Setting: s.State().Setting})
	st := s.State()
	for want, trace := range map[string][]preload.TracePoint{
		"": pullTrace(func(a float64) float64 {
			if a < 30 {
				return 3
			}
			return 3 + (a-30)*2.5
		}, 64),
		"trace_cross_thread_suspect": pullTrace(func(a float64) float64 {
			if a < 40 {
				return 28
			}
			return 28 + (a-40)*2.5
		}, 64),
		"trace_yielded": pullTrace(func(a float64) float64 {
			switch {
			case a < 20:
				return 3
			case a < 54:
				return 3 + (a-20)*2.5
			}
			return 88 + (a-54)*0.1
		}, 80),
	} {
		out := s.Judge(run.Event{Kind: run.Pulled, Pass: 2, Fastener: st.Next.Fastener, Outcome: run.Reached,
			Setting: st.Setting, Reading: &run.Reading{Value: 90, Unit: quantity.NewtonMetre}, Trace: trace,
			Device: "E-03", DeviceSeq: 1})
		if want == "" {
			require.Empty(t, out.Findings)
			continue
		}
		require.Equal(t, []string{want}, codes(out.Findings))
		require.Equal(t, run.DeviationOpen, out.Deviations[len(out.Deviations)-1].Status)
	}
}

// A curve that tells of the nut is read in the first torque pass, whatever passes by hand stand before it; a record by
// earlier rules keeps its verdict.
func TestShapeIsReadInTheFirstTorquePass(t *testing.T) {
	for rules, read := range map[int]bool{2: false, 3: true} {
		s := with(t, func(in *plan.Input) { in.Tools = []tool.Tool{coretest.Electronic()} })
		s.Plan.Rules = rules
		s.Confirm()
		st := s.State()
		require.Equal(t, plan.HandPass, st.Passes[0].Kind)
		require.Equal(t, 2, st.Pass)
		trace := pullTrace(func(a float64) float64 { return 28 + max(0, a-40)*2.5 }, 64)
		pull := run.Event{Kind: run.Pulled, Pass: 2, Fastener: 1, Outcome: run.Reached, Setting: st.Setting,
			Reading: &run.Reading{Value: 90, Unit: quantity.NewtonMetre}, Trace: trace, Device: "E-03", DeviceSeq: 1}
		require.Equal(t, read, found(s.Judge(pull), "trace_cross_thread_suspect"), "rules %d", rules)
	}
}

func TestResultOfADeviceCountsOnce(t *testing.T) {
	s := with(t, func(in *plan.Input) { in.Tools = []tool.Tool{coretest.Electronic()} })
	s.Add(run.Event{Kind: run.SettingConfirmed, Setting: s.State().Setting})
	e := run.Event{Kind: run.Pulled, Pass: 2, Fastener: s.State().Next.Fastener, Outcome: run.Reached, Setting: 90,
		Reading: &run.Reading{Value: 90, Unit: quantity.NewtonMetre}, Device: "E-03", DeviceSeq: 7}
	s.Add(e)
	s.Add(e)
	st := s.State()
	require.Equal(t, []string{"same_result"}, codes(st.Findings))
	require.Equal(t, 1, st.Passes[1].Done)
}

func two(t *testing.T) *coretest.Script {
	other := coretest.Wrench()
	other.Tag = "W-41"
	s := with(t, func(in *plan.Input) { in.Choices.Together = 2; in.Tools = []tool.Tool{coretest.Wrench(), other} })
	s.Add(run.Event{Kind: run.WrenchTaken, Wrench: &other, Hand: 1, Person: coretest.Quaye})
	return s
}

func TestTwoWrenchesPullOppositeBoltsTogether(t *testing.T) {
	s := two(t)
	st := s.State()
	require.Len(t, st.Hands, 2)
	require.Equal(t, []int{1, 5, 3, 7, 2, 6, 4, 8}, st.Passes[1].Order)
	require.Equal(t, 1, st.Hands[0].Next.Fastener)
	require.Equal(t, 5, st.Hands[1].Next.Fastener)
	require.NotEmpty(t, st.Hands[1].Confirm, "each sets its own")
	each := s.Plan.HouseRules.SecondsPerPull / 60
	require.InDelta(t, 4*each, st.Minutes, 1e-9, "8 bolts in stops of two")
	require.Less(t, st.TotalMin, with(t, func(*plan.Input) {}).State().TotalMin)
	a := func(e run.Event) { e.Person = coretest.Tolley; s.Add(e) }
	b := func(e run.Event) { e.Person, e.Hand = coretest.Quaye, 1; s.Add(e) }
	a(run.Event{Kind: run.SettingConfirmed, Setting: 90})
	require.Empty(t, s.State().Hands[0].Confirm)
	require.NotEmpty(t, s.State().Hands[1].Confirm, "one's setting is not the other's")
	b(run.Event{Kind: run.SettingConfirmed, Setting: 90})
	a(run.Event{Kind: run.Pulled, Pass: 2, Fastener: 1, Outcome: run.Clicked, Setting: 90})
	st = s.State()
	require.Equal(t, 3, st.Hands[0].Next.Fastener)
	require.Equal(t, "Wait for B at bolt 5", st.Hands[0].Wait)
	ahead := s.Judge(run.Event{Kind: run.Pulled, Pass: 2, Fastener: 3, Outcome: run.Clicked, Setting: 90,
		Person: coretest.Tolley})
	require.Contains(t, codes(ahead.Findings), "ahead")
	b(run.Event{Kind: run.Pulled, Pass: 2, Fastener: 5, Outcome: run.Clicked, Setting: 90})
	st = s.State()
	require.Empty(t, st.Hands[0].Wait)
	require.Empty(t, st.Findings)
	require.Equal(t, 7, st.Hands[1].Next.Fastener)
	require.Equal(t, 2, st.Passes[1].Done)
	wrong := s.Judge(run.Event{Kind: run.Pulled, Pass: 2, Fastener: 7, Outcome: run.Clicked, Setting: 90,
		Person: coretest.Tolley})
	require.Contains(t, codes(wrong.Findings), "out_of_order", "7 is the other's")
	for s.State().Pass > 0 {
		st = s.State()
		for k, who := range []run.Person{coretest.Tolley, coretest.Quaye} {
			h := s.State().Hands[k]
			if h.Confirm != "" {
				s.Add(run.Event{Kind: run.SettingConfirmed, Setting: h.Setting, Hand: k, Person: who})
			}
			if h.Next != nil && s.State().Pass == st.Pass {
				still := false
				e := run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: h.Next.Fastener, Outcome: run.Clicked,
					Setting: h.Setting, Hand: k, Person: who}
				if st.Passes[st.Pass-1].Kind == "check" {
					e.Moved = &still
				}
				s.Add(e)
				require.Empty(t, s.State().Findings, "bolt %d of %d", e.Fastener, k)
			}
		}
	}
	st = s.State()
	require.ElementsMatch(t, []string{"M. Tolley", "I. Quaye"}, st.Passes[1].People)
	require.ElementsMatch(t, []string{"W-40", "W-41"}, st.Passes[1].Wrenches)
	for _, d := range st.Deviations {
		require.NotEqual(t, run.DeviationOpen, d.Status)
	}
}

func TestBoltsThatDoNotShareOutAreRefused(t *testing.T) {
	in := coretest.Input()
	in.Choices.Together = 3
	_, err := plan.Make(in)
	require.ErrorContains(t, err, "cannot be shared evenly")
}

func TestGapBetweenEventsOfOneHandOnly(t *testing.T) {
	s := two(t)
	s.Add(run.Event{Kind: run.SettingConfirmed, Setting: 90})
	s.Add(run.Event{Kind: run.SettingConfirmed, Setting: 90, Hand: 1, Person: coretest.Quaye})
	s.At = s.At.Add(50 * time.Minute)
	s.Add(run.Event{Kind: run.SettingConfirmed, Setting: 90})
	st := s.State()
	require.Empty(t, st.Hands[0].Confirm)
	require.Contains(t, st.Hands[1].Confirm, "Nothing was recorded for 50 min")
}

func TestStorageSchoolIsAsked(t *testing.T) {
	ask := func(school string) string {
		s := with(t, func(in *plan.Input) {
			in.HouseRules.Storage = school
			w := coretest.Wrench()
			w.StorageRule = "Wind to a fifth of full scale, then lock."
			in.Tools = []tool.Tool{w}
		})
		for _, c := range s.Plan.Checks {
			if c.Code == "wound_down" {
				require.Equal(t, procedure.HandOver, c.Station)
				return c.Ask
			}
		}
		return ""
	}
	require.Contains(t, ask(plan.StorageLowestMark), "lowest mark (not below it)")
	require.Contains(t, ask(plan.StorageMaker), "a fifth of full scale")
}

func TestWhatANutIsLoosenedWithIsKeptAndJudged(t *testing.T) {
	s := with(t, func(*plan.Input) {})
	s.Pull()
	w := s.Plan.First().Wrench.Tag
	bad := s.Judge(run.Event{Kind: run.Loosened, Pass: 2, Fastener: 1, Reason: "set too high", Method: w})
	require.Equal(t, []string{"not_for_loosening"}, codes(bad.Findings))
	good := s.Judge(run.Event{Kind: run.Loosened, Pass: 2, Fastener: 1, Reason: "set too high", Method: "a bar"})
	require.Empty(t, good.Findings)
	h := hydraulics(t)
	h.Pull()
	out := h.Judge(run.Event{Kind: run.Loosened, Pass: 2, Fastener: h.State().LastKept.Fastener, Reason: "wrong paste",
		Method: "H-2", Reading: &run.Reading{Value: 210, Unit: "bar"}})
	require.Contains(t, out.Passes[1].NotRight[0], "with H-2, let go at 210 bar")
	require.Empty(t, out.Findings)
}
