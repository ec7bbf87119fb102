package plan_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/tool"
)

// Tools fit on a day when there are some for every group that needs them, in date and in range.
func TestToolsFitOnADay(t *testing.T) {
	p := make1(t, nil)
	require.True(t, p.ToolsFit(coretest.Day))
	require.False(t, p.ToolsFit(coretest.Day.AddDate(2, 0, 0)), "past its calibration")
	p.First().Wrench, p.First().SetUp = nil, nil
	require.False(t, p.ToolsFit(coretest.Day), "no tool")
	strong := make1(t, func(in *plan.Input) { in.Specification.Groups[0].Target.Nominal = 700 })
	_, problems := strong.Fit(strong.First(), tool.Alone(coretest.Wrench()), 0, coretest.Day)
	require.True(t, slices.ContainsFunc(problems, func(x tool.Problem) bool { return x.Code == "above_range" }),
		"it is said how far the wrench goes: %v", problems)
	full := make1(t, func(in *plan.Input) { in.Specification.Groups[0].Target.Nominal = 400 })
	_, problems = full.Fit(full.First(), tool.Alone(coretest.Wrench()), 0, coretest.Day)
	require.Empty(t, problems, "the end of the scale is on it")
}

// A tool that is wanted elsewhere is told, a socket is not: there are others of its kind.
func TestToolWantedElsewhereIsTold(t *testing.T) {
	for tag, told := range map[string]bool{"W-40": true, "S-30": false} {
		p := make1(t, func(in *plan.Input) {
			in.Tools = append(in.Tools, coretest.Socket("S-30", 30, "3/4 in", 800))
			in.Choices = plan.Pick(plan.GroupChoices{Wrench: "W-40+S-30"})
			in.Busy = map[string]string{tag: "is out with P. Lund"}
		})
		require.NotNil(t, p.First().InHand())
		require.Equal(t, told, has(p, string(plan.ToolConflict)), tag)
	}
}

// The size over the flats is what was measured on site, where that is known.
func TestHexagonIsTheOneOnSite(t *testing.T) {
	m20, err := fastener.ParseThread("M20")
	require.NoError(t, err)
	for flats, want := range map[float64]float64{0: 30, 32: 32} {
		own := fastener.Own{Nuts: []fastener.Nut{{Thread: "M20", AcrossFlats: flats}}}
		require.InDelta(t, want, float64(plan.Hexagon(m20, own)), 1e-9)
	}
}

// The share of the yield that the house allows is allowed.
func TestHouseYieldIsAllowedAtItsLimit(t *testing.T) {
	pct := make1(t, nil).First().YieldPct
	for limit, above := range map[float64]bool{pct: false, pct - 0.01: true} {
		p := make1(t, ruled(func(r *plan.HouseRules) { r.MaxYieldPct = limit }))
		require.Equal(t, above, has(p, string(plan.AboveHouseYield)), "%g", limit)
		require.Equal(t, above, said(p.NeedsApproval, "house rule"), "%g", limit)
	}
}

// Three bolts on a gasket are the fewest that the rule of the first round and the cross are for.
func TestFewBolts(t *testing.T) {
	for _, bolts := range []int{3, 4} {
		p := make1(t, func(in *plan.Input) {
			in.Specification.Groups[0].Bolts = bolts
			in.HouseRules.FirstRoundPct, in.Choices = 50, plan.Pick(plan.GroupChoices{Scheme: "single"})
		})
		require.True(t, said(p.NeedsApproval, "First round on the gasket"), "%d", bolts)
		require.Equal(t, bolts, p.First().Layout.Count)
		require.True(t, slices.ContainsFunc(p.Passes, func(ps plan.Pass) bool {
			return ps.Why == "Opposite bolts in turn keep the faces parallel."
		}), "%d", bolts)
	}
}

// What a multiplier puts out must do for loosening too.
func TestMultiplierIsStrongEnoughToLoosen(t *testing.T) {
	for nm, enough := range map[float64]bool{700: true, 800: true, 920: false} {
		p := make1(t, func(in *plan.Input) {
			in.Specification.Groups[0].Thread, in.Specification.Groups[0].Target.Nominal = "M30", nm
			in.Tools = []tool.Tool{coretest.SmallWrench(), multiplierTo(1300)}
			in.Choices = plan.Pick(plan.GroupChoices{Wrench: "W-31+X-04"})
		})
		l := p.First().Loosening
		require.NotNil(t, l)
		require.Equal(t, "X-04 with a bar", l.With)
		require.Equal(t, enough, l.Feasible, "%g: %s", nm, l.Why)
	}
}

func multiplierTo(nm float64) tool.Tool {
	m := coretest.Multiplier()
	m.MaxNm = nm
	return m
}

// The sample of a procedure has figures inside their limits: between them, or a little above the least.
func TestSampleLiesInsideItsLimits(t *testing.T) {
	both, one := 0, 0
	for _, f := range procedure.Builtin() {
		s := plan.Sample(f, nil)
		for _, x := range f.Figures {
			v, is := s.Figures[x.Code]
			switch {
			case !is:
			case x.Max > 0:
				both++
				require.InDelta(t, (x.Min+x.Max)/2, v, 1e-9, "%s %s", f.Code, x.Code)
			default:
				one++
				require.InDelta(t, x.Min+1, v, 1e-9, "%s %s", f.Code, x.Code)
			}
		}
	}
	require.Positive(t, both+one)
}

// A document is named as the source; where there is none, who allowed the work without.
func TestSourceIsNamed(t *testing.T) {
	for want, s := range map[string]plan.Specification{
		"no document": {}, "no document; allowed by J. Hartwell": {NoSourceWhy: "lost", NoSourceBy: "J. Hartwell"},
	} {
		require.Equal(t, want, s.Source())
	}
	refusedAt(t, "gasketed_flange", nil, "tolerance", func(in *plan.Input) {
		in.Specification.Groups[0].Target = plan.Target{Form: plan.Stretch, StretchMM: 0.2, PlusPct: 51}
	})
	refusedAt(t, "gasketed_flange", nil, "stretchMm", func(in *plan.Input) {
		in.Specification.Groups[0].Target = plan.Target{Form: plan.Stretch, PlusPct: 5}
	})
	p := make1(t, func(in *plan.Input) { in.Specification.Groups[0].BoltCircleMM = 0 })
	require.Zero(t, p.First().Layout.DiameterMM)
	require.InDelta(t, 240, make1(t, nil).First().Layout.DiameterMM, 0)
}

// Winding down is asked as the maker says, where the site goes by the maker and the maker says something.
func TestWindingDownIsAskedByTheSchool(t *testing.T) {
	ask := func(school, rule string) string {
		w := coretest.Wrench()
		w.StorageRule = rule
		p := make1(t, func(in *plan.Input) { in.HouseRules.Storage, in.Tools = school, []tool.Tool{w} })
		c, ok := p.Check("wound_down")
		require.True(t, ok)
		return c.Ask
	}
	require.Equal(t, "As the maker of W-40 says: Wind to a fifth?", ask(plan.StorageMaker, "Wind to a fifth."))
	require.NotContains(t, ask(plan.StorageMaker, ""), "As the maker")
	require.NotContains(t, ask(plan.DefaultHouseRules().Storage, "Wind to a fifth."), "As the maker")
}

// Letting go takes the house's factor more than tightening, half as much again where it says nothing; a torque wrench
// does it when its entry allows it, a hydraulic one when it fits, and one that is put aside does nothing.
func TestWhatLetsGo(t *testing.T) {
	for house, want := range map[float64]float64{0: 1.5, 2: 2} {
		p := make1(t, ruled(func(r *plan.HouseRules) { r.LooseningFactor = house }))
		require.InDelta(t, want, p.First().Loosening.Factor, 0)
		require.InDelta(t, want*300, float64(p.First().Loosening.TorqueNm), 1e-9)
	}
	may, aside := coretest.Wrench(), coretest.Wrench()
	may.Tag, may.MayLoosen = "W-1", true
	aside.Tag, aside.MayLoosen, aside.State = "W-2", true, tool.Quarantined
	tags := func(p *plan.Plan, kind tool.Kind) []string {
		i := slices.IndexFunc(p.First().RunDown, func(r plan.RunDown) bool { return r.Kind == kind })
		require.GreaterOrEqual(t, i, 0, kind)
		return p.First().RunDown[i].Tags
	}
	p := make1(t, func(in *plan.Input) {
		in.Apart, in.Tools = true, []tool.Tool{
			coretest.Wrench(),
			may,
			aside,
			coretest.HydraulicWrench(),
			coretest.Pump(),
			coretest.Hose(),
		}
	})
	require.Equal(t, []string{"W-1"}, tags(p, tool.Click))
	spanner := func(tag string, state tool.State) tool.Tool {
		return tool.Tool{Tag: tag, Kind: tool.Spanner, State: state, AcrossFlatsMM: 30}
	}
	p = make1(t, func(in *plan.Input) {
		in.Tools = append(in.Tools, spanner("P-1", tool.InService), spanner("P-3", tool.Quarantined))
	})
	require.Equal(t, []string{"P-1"}, tags(p, tool.Spanner))
}

// A bolt that is stretched ends in a band about the stretch of the document; no delivered procedure ends at one.
func TestStretchHasABand(t *testing.T) {
	f := coretest.Stretched()
	p := make1(t, func(in *plan.Input) {
		in.Joint.Family, in.Family, in.Specification = f.Code, f, plan.Sample(f, nil)
		in.Specification.Groups[0].Target = plan.Target{Form: plan.Stretch, StretchMM: 0.4, MinusPct: 10, PlusPct: 5}
	})
	require.Equal(t, plan.StretchPass, p.Passes[0].Kind)
	require.InDelta(t, 0.36, p.Passes[0].LowMM, 1e-12)
	require.InDelta(t, 0.42, p.Passes[0].HighMM, 1e-12)
}

// A check that was not met opens the check rounds again, or the steps that it names, and nothing else.
func TestCheckOpensAgainWhatItNames(t *testing.T) {
	p := make1(t, nil)
	opened := func(names ...string) []int { return p.Reopened(procedure.Check{Code: "x", Reopens: names}).Passes }
	last := len(p.Passes) - 1
	require.Equal(t, plan.CheckPass, p.Passes[last].Kind)
	require.Contains(t, opened("check_pass"), last)
	require.NotContains(t, opened("check_pass"), 0)
	require.Contains(t, opened(p.Passes[0].Step), 0)
	require.Empty(t, opened("keel"))
}
