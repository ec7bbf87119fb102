package plan_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
)

// planOf plans a sample of a family with figures of its document; one that is NaN is left out.
func planOf(t *testing.T, code string, figures map[string]float64) *plan.Plan {
	t.Helper()
	f, err := procedure.ByCode(code)
	require.NoError(t, err)
	in := coretest.Input()
	in.Joint.Family, in.Family = code, f
	in.Specification = plan.Sample(f, nil)
	in.Specification.Figures = figures
	p, err := plan.Make(in)
	require.NoError(t, err)
	return p
}

func limitOf(t *testing.T, p *plan.Plan, code string) procedure.Check {
	t.Helper()
	c, ok := p.Check(code)
	require.True(t, ok)
	return c
}

// The straight run before a meter follows of bore and multiple, the shift of a pipe of its length and angle: nobody
// types them, and a document that gives them is held against what follows.
func TestFigureThatFollowsIsNotTyped(t *testing.T) {
	p := planOf(t, "saddle_meter", map[string]float64{"pipe_bore": 150, "up": 10, "down": 5, "depth": 42})
	require.Empty(t, p.ToBeSupplied)
	up, down := limitOf(t, p, "run_up"), limitOf(t, p, "run_down")
	require.InDelta(t, 1500, up.Low, 1e-9)
	require.InDelta(t, 750, down.Low, 1e-9)
	require.Contains(t, up.LimitFrom, "worked out of pipe bore and straight run upstream")
	shown := false
	for _, w := range p.Workings {
		shown = shown || w.Title == "Straight run needed upstream"
	}
	require.True(t, shown, "with its working")

	p = planOf(
		t,
		"push_on_joint",
		map[string]float64{"flush": 1, "length": 6000, "deflection_deg": 2, "gasket_temp": 5},
	)
	require.InDelta(t, 209.525, limitOf(t, p, "deflected").Limit, 1e-3) // 6000 · tan 2°
	require.Empty(t, p.ToBeSupplied)

	p = planOf(t, "push_on_joint", map[string]float64{"flush": 1, "length": 6000, "deflection": 105, "gasket_temp": 5})
	require.InDelta(t, 105, limitOf(t, p, "deflected").Limit, 0, "as documents from before give it")
	require.Empty(t, p.ToBeSupplied)
	p = planOf(t, "push_on_joint", map[string]float64{"flush": 1, "length": 6000, "gasket_temp": 5})
	require.Equal(t, []string{"Sideways shift permitted: the document's figure is missing"}, p.ToBeSupplied)
}

func TestGivenFigureIsHeldAgainstWhatFollows(t *testing.T) {
	for given, differs := range map[float64]bool{1500: false, 1530: false, 1531: true, 1470: false, 1469: true, 150: true} {
		p := planOf(
			t,
			"saddle_meter",
			map[string]float64{"pipe_bore": 150, "up": 10, "down": 5, "depth": 42, "up_mm": given},
		)
		found := false
		for _, f := range p.Findings {
			found = found || f.Code == "figure_differs"
		}
		require.Equal(t, differs, found, "%g", given)
		require.InDelta(t, given, limitOf(t, p, "run_up").Low, 0, "the document decides")
	}
}

func TestFigureThatFollowsFromNothingIsRefused(t *testing.T) {
	f, err := procedure.ByCode("push_on_joint")
	require.NoError(t, err)
	for _, d := range []procedure.Derive{{By: "guess", Of: []string{"length", "flush"}}, {By: "shift", Of: []string{"length"}},
		{By: "shift", Of: []string{"length", "hope"}}, {By: "shift", Of: []string{"length", "deflection"}}} {
		x := f
		x.Figures = append([]procedure.Figure{}, f.Figures...)
		for i := range x.Figures {
			if x.Figures[i].Code == "deflection" {
				x.Figures[i].Derive = &d
			}
		}
		require.NotEmpty(t, x.Faults(), "%v", d)
	}
}

// The window of a pre-charge is what the document allows about its figure, unless it gives a range.
func TestWindowAboutAFigure(t *testing.T) {
	f, err := procedure.ByCode("accumulator")
	require.NoError(t, err)
	in := coretest.Input()
	in.Joint.Family, in.Family = f.Code, f
	in.Specification = plan.Sample(f, map[string]string{"gas": "service"})
	window := func(figures map[string]float64) procedure.Check {
		t.Helper()
		in.Specification.Figures = figures
		p, err := plan.Make(in)
		require.NoError(t, err)
		require.Empty(t, p.ToBeSupplied)
		return limitOf(t, p, "precharge")
	}
	c := window(map[string]float64{"transport": 2, "precharge": 90, "precharge_tol": 3})
	require.Equal(t, []float64{87, 93}, []float64{c.Low, c.Limit})
	require.Equal(t, "87 to 93 bar at 20 °C", plan.LimitText(c))
	c = window(map[string]float64{"transport": 2, "precharge": 90, "precharge_low": 85, "precharge_high": 91})
	require.Equal(t, []float64{85, 91}, []float64{c.Low, c.Limit})
	in.Specification.Figures = map[string]float64{"transport": 2, "precharge": 90}
	p, err := plan.Make(in)
	require.NoError(t, err)
	require.Len(t, p.ToBeSupplied, 2, "neither end is known")
	in.Specification = plan.Sample(f, map[string]string{"gas": "transport"})
	in.Specification.Figures, in.Specification.Variant = map[string]float64{"transport": 2}, nil
	p, err = plan.Make(in)
	require.NoError(t, err)
	require.Empty(t, p.ToBeSupplied, "what is not filled here need not be known here; it is what a specification of before means")
}

// What a document leaves open is as usual in the trade, and the plan says that it is no word of the document; what it
// gives goes first.
func TestUsualFigureHoldsUntilTheDocumentGivesOne(t *testing.T) {
	given := map[string]float64{"pipe_bore": 150, "up": 10, "down": 5, "depth": 42}
	p := planOf(t, "saddle_meter", given)
	require.Empty(t, p.ToBeSupplied)
	hour, depth := limitOf(t, p, "hour"), limitOf(t, p, "depth_moved")
	require.InDelta(t, 2, hour.FromHour, 0)
	require.InDelta(t, 4, hour.ToHour, 0)
	require.InDelta(t, 41, depth.Low, 1e-9)
	require.InDelta(t, 43, depth.Limit, 1e-9)
	said := false
	for _, w := range p.Workings {
		for _, step := range w.Lines {
			said = said || w.Title == "Depth at least" && strings.Contains(step.Source, "the document gives none")
		}
	}
	require.True(t, said, "the working says that the tolerance is the usual one")
	given["hour_from"], given["hour_to"], given["depth_tol"] = 1, 3, 0.25
	p = planOf(t, "saddle_meter", given)
	hour, depth = limitOf(t, p, "hour"), limitOf(t, p, "depth_moved")
	require.InDelta(t, 1, hour.FromHour, 0)
	require.InDelta(t, 3, hour.ToHour, 0)
	require.InDelta(t, 41.75, depth.Low, 1e-9)
	require.Equal(t, p.Specification.Source(), depth.LimitFrom[:len(p.Specification.Source())])

	gap := limitOf(t, planOf(t, "branch_tee", map[string]float64{"hole": 60, "clean_band": 20}), "gap_equal")
	require.InDelta(t, 1, gap.Limit, 0)
	require.Contains(t, gap.LimitFrom, "the document gives none")
}

// The window of an effort is made of parts that the document may give.
func TestEffortPartsAreFiguresOfTheDocument(t *testing.T) {
	window := func(figures map[string]float64) (low, high float64) {
		p := planOf(t, "ball_valve_multi", figures)
		for _, ps := range p.Passes {
			if ps.Kind == plan.EffortPass {
				return ps.LowNm, ps.HighNm
			}
		}
		return 0, 0
	}
	low, high := window(map[string]float64{"break_torque": 100, "test_pressure": 10})
	require.InDelta(t, 50, low, 1e-9)
	require.InDelta(t, 80, high, 1e-9)
	low, high = window(map[string]float64{"break_torque": 100, "test_pressure": 10, "effort_low": 0.3, "effort_high": 0.6})
	require.InDelta(t, 30, low, 1e-9)
	require.InDelta(t, 60, high, 1e-9)
}

// A site's own procedure of before says its windows as factors of a figure; they still hold.
func TestFactorsOfEarlierProceduresStillHold(t *testing.T) {
	f, err := procedure.ByCode("saddle_meter")
	require.NoError(t, err)
	f.Checks = append([]procedure.Check{}, f.Checks...)
	for i := range f.Checks {
		if c := &f.Checks[i]; c.Code == "depth_moved" {
			c.LowFigure, c.HighFigure, c.LowFactor, c.HighFactor = "depth", "depth", 0.9, 1.2
		}
	}
	require.Empty(t, f.Faults())
	in := coretest.Input()
	in.Joint.Family, in.Family, in.Specification = f.Code, f, plan.Sample(f, nil)
	in.Specification.Figures = map[string]float64{"pipe_bore": 150, "up": 10, "down": 5, "depth": 40}
	p, err := plan.Make(in)
	require.NoError(t, err)
	c := limitOf(t, p, "depth_moved")
	require.InDelta(t, 36, c.Low, 1e-9)
	require.InDelta(t, 48, c.Limit, 1e-9)
	v, err := procedure.ByCode("ball_valve_multi")
	require.NoError(t, err)
	v.Fasteners = append([]procedure.Fasteners{}, v.Fasteners...)
	g := &v.Fasteners[len(v.Fasteners)-1]
	g.EffortLowFigure, g.EffortHighFigure, g.EffortLow, g.EffortHigh = "", "", 0.2, 0.4
	require.Empty(t, v.Faults())
	in.Joint.Family, in.Family, in.Specification = v.Code, v, plan.Sample(v, nil)
	in.Specification.Figures = map[string]float64{"break_torque": 100, "test_pressure": 10}
	p, err = plan.Make(in)
	require.NoError(t, err)
	for _, ps := range p.Passes {
		if ps.Kind == plan.EffortPass {
			require.InDelta(t, 20, ps.LowNm, 1e-9)
			require.InDelta(t, 40, ps.HighNm, 1e-9)
		}
	}
}

// Wheel studs are dry as a rule; a vehicle maker's own word goes before it, and an engineer looks at that.
func TestMakersWordGoesBeforeTheDryRule(t *testing.T) {
	f, err := procedure.ByCode("wheel_nuts")
	require.NoError(t, err)
	in := coretest.Input()
	in.Joint.Family, in.Family, in.Specification = f.Code, f, plan.Sample(f, nil)
	p, err := plan.Make(in)
	require.NoError(t, err)
	require.Empty(t, p.NeedsApproval)
	in.Specification.Groups[0].Lubricant = "light_oil"
	p, err = plan.Make(in)
	require.NoError(t, err)
	require.True(t, p.Complete(), "it is no stop")
	require.Len(t, p.NeedsApproval, 1)
	require.Contains(t, p.NeedsApproval[0], "on the word of")
	found := false
	for _, x := range p.Findings {
		found = found || x.Code == plan.MakersWord
	}
	require.True(t, found)
}

// A film stays wet for as long as the sheet of its lubricant says, the usual time when the document gives none.
func TestLifeOfAFilmIsTheDocuments(t *testing.T) {
	figures := map[string]float64{"flush": 1, "length": 6000, "deflection_deg": 2, "gasket_temp": 5}
	require.InDelta(t, 60, limitOf(t, planOf(t, "push_on_joint", figures), "film").LifeMinutes, 0)
	figures["wet_minutes"] = 25
	require.InDelta(t, 25, limitOf(t, planOf(t, "push_on_joint", figures), "film").LifeMinutes, 0)
}
