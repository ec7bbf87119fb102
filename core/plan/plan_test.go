package plan_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

func make1(t *testing.T, change func(*plan.Input)) *plan.Plan {
	t.Helper()
	in := coretest.Input()
	if change != nil {
		change(&in)
	}
	p, err := plan.Make(in)
	require.NoError(t, err)
	return p
}

func has(p *plan.Plan, code string) bool {
	for _, f := range p.Findings {
		if string(f.Code) == code {
			return true
		}
	}
	return false
}

func TestPlanOfAFlange(t *testing.T) {
	p := make1(t, nil)
	require.True(t, p.Complete())
	require.Equal(t, "W-40", p.First().Wrench.Tag)
	var set []float64
	for _, ps := range p.Passes {
		set = append(set, ps.Setting)
	}
	require.Equal(t, []float64{0, 90, 210, 300, 300}, set)
	require.Equal(t, plan.HandPass, p.Passes[0].Kind, "snug first, by hand")
	require.Contains(t, p.Passes[0].Until, "gasket just held")
	require.Equal(t, []int{1, 5, 3, 7, 2, 6, 4, 8}, p.Passes[1].Order)
	require.Equal(t, []int{1, 2, 3, 4, 5, 6, 7, 8}, p.Passes[4].Order, "the check round goes from bolt to bolt")
	require.InDelta(t, 300/(p.First().Lubricant.K.Typ*20), p.First().PreloadKN, 1e-9)
	require.Less(t, p.First().PreloadMinKN, p.First().PreloadKN)
	require.Greater(t, p.First().PreloadMaxKN, p.First().PreloadKN)
	require.ElementsMatch(t, []int{1, 2, 3, 4, 5, 6, 7, 8}, p.Loading)
	require.Equal(t, [2]int{4, 5}, p.Cradle, "the two lowest neighbours")
}

func TestEveryFigureHasItsWorking(t *testing.T) {
	p := make1(t, nil)
	titles := map[string]*working.Working{}
	for _, w := range p.Workings {
		titles[w.Title] = w
		for _, l := range w.Lines {
			require.NotEmpty(t, l.Origin, l.Name)
			require.NotEmpty(t, l.Source, l.Name)
			if l.Origin == working.Calculated {
				require.NotEmpty(t, l.Formula, l.Name)
			}
		}
	}
	load := titles["Load in each bolt"]
	require.NotNil(t, load)
	for _, l := range load.Lines {
		if l.Symbol == "F" {
			require.Equal(t, "300 N·m / (0.18 × 20 mm)", l.Numbers, "numbers put in by the code that computed")
			require.InDelta(t, p.First().PreloadKN, l.Value, 1e-9)
		}
	}
}

func TestTargetForms(t *testing.T) {
	stress := make1(t, func(in *plan.Input) {
		in.Specification.Groups[0].Target = plan.Target{Form: plan.BoltStress,
			Stress: 300}
	})
	require.InDelta(t, 0.18*20*300*stress.First().StressAreaMM2/1000, float64(stress.First().TargetNm), 1e-9)
	pct := make1(t, func(in *plan.Input) {
		in.Specification.Groups[0].Target = plan.Target{Form: plan.PercentYield,
			Percent: 50}
	})
	require.InDelta(t, 0.18*20*0.5*660*pct.First().StressAreaMM2/1000, float64(pct.First().TargetNm), 1e-9)
	for policy, want := range map[string]float64{"low": 280, "middle": 300, "high": 320} {
		r := make1(t, func(in *plan.Input) {
			in.Specification.Groups[0].Target = plan.Target{Form: plan.TorqueRange, Min: 280, Max: 320,
				Unit: quantity.NewtonMetre}
			in.Choices = plan.Pick(plan.GroupChoices{Policy: policy})
		})
		require.InDelta(t, want, float64(r.First().TargetNm), 1e-9, policy)
		require.LessOrEqual(t, r.First().FinalNm, 320.0)
	}
	none := make1(t, func(in *plan.Input) { in.Specification.Groups[0].Target = plan.Target{Form: plan.NotGiven} })
	require.False(t, none.Complete())
	require.Contains(t, none.ToBeSupplied[0], "no figure")
}

func TestSourceIsAskedFor(t *testing.T) {
	p := make1(t, func(in *plan.Input) { in.Specification.Document = "" })
	require.False(t, p.Complete())
	p = make1(t, func(in *plan.Input) {
		in.Specification.Document, in.Specification.NoSourceBy, in.Specification.NoSourceWhy = "", "J. Hartwell",
			"lost drawing"
	})
	require.True(t, p.Complete())
}

func TestUnitSlipIsFound(t *testing.T) {
	for _, c := range []struct {
		nominal float64
		code    string
	}{{300, ""}, {3600, "unit_slip"}, {25, "unit_slip"}, {30, "unit_slip"}} {
		p := make1(t, func(in *plan.Input) { in.Specification.Groups[0].Target.Nominal = c.nominal })
		require.Equal(t, c.code != "", has(p, "unit_slip"), "%v", c.nominal)
	}
}

// Every slip that would explain a torque is named, with the torque that would be meant.
func TestUnitSlipNamesWhatWouldFit(t *testing.T) {
	for nominal, want := range map[float64]string{
		25: "inch and foot pounds mixed up (300 N·m), or kilogram metres and newton metres mixed up (245 N·m), or inch " +
			"pounds and newton metres mixed up (221 N·m), or a decimal point out of place (250 N·m)",
		30:   "kilogram metres and newton metres mixed up (294 N·m), or inch pounds and newton metres mixed up (266 N·m)",
		3600: "inch and foot pounds mixed up (300 N·m)",
	} {
		p := make1(t, func(in *plan.Input) { in.Specification.Groups[0].Target.Nominal = nominal })
		i := slices.IndexFunc(p.Findings, func(f working.Finding) bool { return f.Code == "unit_slip" })
		require.GreaterOrEqual(t, i, 0)
		require.Contains(t, p.Findings[i].What+p.Findings[i].Why, want, "%v", nominal)
	}
}

// The time at the joint is that of the pulls and settings, and what the procedure says that preparation and proof take.
func TestTimeAtTheJointHasPreparationAndProof(t *testing.T) {
	p := make1(t, func(in *plan.Input) { in.HouseRules.SecondsPerPull, in.HouseRules.SecondsPerPass = 30, 120 })
	pulls, sets := 0, 0
	for _, ps := range p.Passes {
		pulls += len(ps.Order)
		if ps.Setting > 0 {
			sets++
		}
	}
	require.InDelta(t, 45+float64(30*pulls+120*sets)/60, p.Minutes, 1e-9)

	two := make1(t, func(in *plan.Input) {
		in.HouseRules.SecondsPerPull, in.HouseRules.SecondsPerPass, in.Choices.Together = 30, 120, 2
	})
	stops := 0
	for _, ps := range two.Passes {
		stops += len(ps.Order) / max(1, ps.Together)
	}
	require.Less(t, stops, pulls)
	require.InDelta(t, 45+float64(30*stops+120*sets)/60, two.Minutes, 1e-9, "two pull at each stop")
	last := two.Workings[len(two.Workings)-1]
	require.Contains(t, last.Takes[0], "2 tools")
}

func TestWrenchMustTakeEveryStage(t *testing.T) {
	small := coretest.Wrench()
	small.RatedMin, small.RatedMax = 100, 400
	p := make1(t, func(in *plan.Input) { in.Tools = []tool.Tool{small} })
	require.False(t, p.Complete(), "the first stage of 90 lies below it")
	require.Contains(t, p.First().Offers[0].Problems[0], "under the usable range")
	require.True(t, has(p, "no_wrench"))
	late := coretest.Wrench()
	late.CalibrationEnds = "2026-11-22"
	p = make1(t, func(in *plan.Input) {
		in.Tools = []tool.Tool{late}
		in.Choices = plan.Pick(plan.GroupChoices{Wrench: late.Tag})
	})
	require.True(t, has(p, "wrench_calibration"))
	aside := coretest.Wrench()
	aside.State, aside.StateReason = tool.Quarantined, "dropped"
	p = make1(t, func(in *plan.Input) {
		in.Tools = []tool.Tool{aside}
		in.Choices = plan.Pick(plan.GroupChoices{Wrench: aside.Tag})
	})
	require.True(t, has(p, "wrench_quarantined"))
}

func TestSettingsInTheScaleOfTheWrench(t *testing.T) {
	foot := coretest.Wrench()
	foot.Unit, foot.RatedMin, foot.RatedMax, foot.PrintedMin, foot.MainStep, foot.Graduation = quantity.FootPound, 50,
		250, 30, 10, 1
	p := make1(t, func(in *plan.Input) { in.Tools = []tool.Tool{foot} })
	require.InDelta(t, 221, p.Passes[3].Setting, 0, "300 N·m is 221.3 ft·lbf")
	require.InDelta(t, quantity.TorqueOf(221, quantity.FootPound).In(quantity.NewtonMetre), float64(p.First().FinalNm), 1e-9)
}

func TestNarrowToleranceIsSaid(t *testing.T) {
	p := make1(t, func(in *plan.Input) {
		in.Specification.Groups[0].Target.MinusPct, in.Specification.Groups[0].Target.PlusPct = 2, 2
	})
	require.True(t, has(p, "accuracy"))
	require.False(t, has(make1(t, nil), "accuracy"))
}

func TestOtherLubricantKeepsTheBoltLoad(t *testing.T) {
	a := make1(t, nil)
	b := make1(t, func(in *plan.Input) { in.Choices = plan.Pick(plan.GroupChoices{Lubricant: "copper_antiseize"}) })
	require.InDelta(t, a.First().PreloadKN, b.First().PreloadKN, 0.02*a.First().PreloadKN,
		"the same load but for the mark of the scale")
	require.Len(t, b.NeedsApproval, 1)
	require.True(t, has(make1(t, func(in *plan.Input) { in.Specification.Groups[0].Lubricant = "stainless_dry" }),
		"not_for_torque"))
}

func TestForbiddenPatternSaysWhy(t *testing.T) {
	in := coretest.Input()
	in.Choices = plan.Pick(plan.GroupChoices{Pattern: "clockwise"})
	_, err := plan.Make(in)
	require.ErrorContains(t, err, "opposite bolts must close the joint evenly")
}

func TestNumbersInOrderOfTightening(t *testing.T) {
	p := make1(t, func(in *plan.Input) { in.Choices = plan.Pick(plan.GroupChoices{Numbering: "order", Pattern: "group"}) })
	require.Equal(t, []int{1, 5, 3, 7, 2, 6, 4, 8}, p.Chalk)
}

func TestBadSpecificationsAreRefusedByField(t *testing.T) {
	for field, change := range map[string]func(*plan.Specification){
		"bolts":     func(s *plan.Specification) { s.Groups[0].Bolts = 2 },
		"thread":    func(s *plan.Specification) { s.Groups[0].Thread = "M19x9" },
		"material":  func(s *plan.Specification) { s.Groups[0].Material = "9.9" },
		"lubricant": func(s *plan.Specification) { s.Groups[0].Lubricant = "honey" },
		"target":    func(s *plan.Specification) { s.Groups[0].Target.Nominal = -1 },
		"tolerance": func(s *plan.Specification) { s.Groups[0].Target.PlusPct = 90 },
		"targetMax": func(s *plan.Specification) {
			s.Groups[0].Target = plan.Target{Form: plan.TorqueRange, Min: 5, Max: 4, Unit: quantity.NewtonMetre}
		},
		"lengthMm": func(s *plan.Specification) { s.Groups[0].LengthMM = -1 },
	} {
		in := coretest.Input()
		change(&in.Specification)
		_, err := plan.Make(in)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, field)
		require.Equal(t, field, r.Field)
		require.NotEmpty(t, r.Why)
	}
}

func BenchmarkMakePlanOf32Bolts(b *testing.B) {
	in := coretest.Input()
	in.Specification.Groups[0].Bolts = 32
	for b.Loop() {
		if _, err := plan.Make(in); err != nil {
			b.Fatal(err)
		}
	}
}
