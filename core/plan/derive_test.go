package plan_test

import (
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
