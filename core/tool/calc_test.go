package tool_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

func ptr[T any](v T) *T { return &v }

// Straight out the levers add, square to it nothing changes, folded back they subtract.
func TestAdapterAtItsPlainAngles(t *testing.T) {
	for angle, want := range map[float64]float64{0: 400.0 / 500, 90: 1, 180: 400.0 / 300, 270: 1, 360: 400.0 / 500} {
		r, err := tool.AdapterSetting(nil, tool.AdapterInput{Torque: 100, Wrench: 0.4, Adapter: 0.1, AngleDeg: angle})
		require.NoError(t, err)
		require.InDelta(t, 100*want, r.Setting, 1e-9, "%v degrees", angle)
	}
	_, err := tool.AdapterSetting(nil, tool.AdapterInput{Torque: 100, Wrench: 0.4, Adapter: 0.395, AngleDeg: 180})
	refused(t, err, "adapter_length_m")
}

func refused(t *testing.T, err error, field string) {
	t.Helper()
	r, ok := quantity.RefusalIn(err)
	require.True(t, ok, "%v", err)
	require.Equal(t, field, r.Field, r.Error())
	require.NotEmpty(t, r.Remedy, r.Error())
}

// A straight extension takes no torque, and twists as a bar does: twice as long, twice the angle; half as thick,
// sixteen times.
func TestExtensionTwistsLikeABar(t *testing.T) {
	in := tool.ExtensionInput{Torque: 200, Length: 250, Diameter: 20, G: 80}
	one, err := tool.ExtensionSetting(nil, in)
	require.NoError(t, err)
	require.InDelta(t, 200, one.Setting, 0)
	in.Length *= 2
	two, err := tool.ExtensionSetting(nil, in)
	require.NoError(t, err)
	require.InEpsilon(t, 2*one.Windup, two.Windup, 1e-12)
	in.Diameter /= 2
	thin, err := tool.ExtensionSetting(nil, in)
	require.NoError(t, err)
	require.InEpsilon(t, 16*two.Windup, thin.Windup, 1e-12)
}

// The housing is in balance: what goes in and what the arm holds make what comes out. Without losses the work is the
// same.
func TestMultiplierIsInBalance(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := tool.MultiplierInput{Output: rapid.Float64Range(10, 8000).Draw(t, "output"),
			Nominal: rapid.Float64Range(1.5, 60).Draw(t, "ratio"), Arm: rapid.Float64Range(.1, 2).Draw(t, "arm"),
			AngleDeg: 90, SameDirection: rapid.Bool().Draw(t, "same")}
		in.Efficiency = ptr(rapid.Float64Range(.3, 1).Draw(t, "efficiency"))
		r, err := tool.Multiplier(nil, in)
		require.NoError(t, err)
		sign := 1.0
		if !in.SameDirection {
			sign = -1
		}
		require.InEpsilon(t, in.Output, r.Reaction+sign*r.Input, 1e-9)
		require.InEpsilon(t, r.Reaction, r.ReactionForce*in.Arm, 1e-9)
		work := in.Output * in.AngleDeg / 360 / (r.Input * r.InputTurns)
		require.InEpsilon(t, *in.Efficiency, work, 1e-9, "what is lost is lost in torque, not in turns")
	})
}

// 600 N·m through a measured 4.6 on a wrench with marks of 10: 130 is set, 598 comes out.
func TestMultiplierSettingTellsItsError(t *testing.T) {
	r, err := tool.MultiplierSetting(nil, tool.MultiplierSettingInput{Output: 600, Ratio: 4.6, Graduation: 10})
	require.NoError(t, err)
	require.InDelta(t, 130, r.Set, 1e-9)
	require.InDelta(t, 598, r.Output, 1e-9)
	require.InDelta(t, -1.0/3, r.Error, 1e-9)
	_, err = tool.MultiplierSetting(nil, tool.MultiplierSettingInput{Output: 6, Ratio: 4.6, Graduation: 10})
	refused(t, err, "graduation")
}

// 100 to 105 with a wrench of 4 % set to 102.5: 98.4 to 106.6, which cannot be guaranteed.
func TestNarrowRangeCannotBeGuaranteed(t *testing.T) {
	r, err := tool.RangeGuarantee(nil, tool.GuaranteeInput{Low: 100, High: 105, Setting: 102.5, Tol: 4})
	require.NoError(t, err)
	require.False(t, r.Guaranteed)
	require.InDelta(t, 98.4, r.Low, 1e-9)
	require.InDelta(t, 106.6, r.High, 1e-9)
	require.InDelta(t, 1.6, r.Under, 1e-9)
	require.InDelta(t, 1.6, r.Over, 1e-9)
	require.InDelta(t, 100*5/8.2, r.Share, 1e-9)
	fine, err := tool.RangeGuarantee(nil, tool.GuaranteeInput{Low: 100, High: 105, Setting: r.Best, Tol: r.NeedTol})
	require.NoError(t, err)
	require.True(t, fine.Guaranteed, "the accuracy said to do, does")
	exact, err := tool.RangeGuarantee(nil, tool.GuaranteeInput{Low: 100, High: 105, Setting: 99, Tol: 0})
	require.NoError(t, err)
	require.Zero(t, exact.Share)
}

// Without an error of the wrench a setting is sure to be inside or sure to be outside, and a range may be one value.
func TestRangeIsKeptOrMissedByARightWrench(t *testing.T) {
	for setting, share := range map[float64]float64{99.9: 0, 100: 100, 102: 100, 105: 100, 105.1: 0} {
		r, err := tool.RangeGuarantee(nil, tool.GuaranteeInput{Low: 100, High: 105, Setting: setting})
		require.NoError(t, err)
		require.InDelta(t, share, r.Share, 0, "%g", setting)
		require.Equal(t, share > 0, r.Guaranteed, "%g", setting)
		require.InDelta(t, 100*5.0/205, r.NeedTol, 1e-9)
	}
	r, err := tool.RangeGuarantee(nil, tool.GuaranteeInput{Low: 100, High: 100, Setting: 100})
	require.NoError(t, err)
	require.True(t, r.Guaranteed)
	_, err = tool.RangeGuarantee(nil, tool.GuaranteeInput{Low: 100, High: 99, Setting: 100})
	refused(t, err, "high_Nm")
}

// The setting is the mark nearest to the end or the middle that is wanted, half a mark going up, and never past an end.
func TestPolicyTakesTheNearestMark(t *testing.T) {
	for _, c := range []struct {
		policy          string
		low, high, mark float64
		target, set     float64
	}{
		{"low", 80, 105, 5, 80, 80}, {"middle", 80, 105, 5, 92.5, 95}, {"high", 80, 105, 5, 105, 105},
		{"low", 81, 104, 5, 81, 85}, {"middle", 80, 104, 5, 92, 90}, {"high", 81, 104, 5, 104, 100},
		{"middle", 80, 80, 5, 80, 80},
	} {
		r, err := tool.RangePolicy(
			nil,
			tool.PolicyInput{Low: c.low, High: c.high, Policy: c.policy, Graduation: c.mark},
		)
		require.NoError(t, err, "%+v", c)
		require.InDelta(t, c.target, r.Target, 1e-9, "%+v", c)
		require.InDelta(t, c.set, r.Set, 1e-9, "%+v", c)
	}
	_, err := tool.RangePolicy(nil, tool.PolicyInput{Low: 81, High: 84, Policy: "low", Graduation: 5})
	refused(t, err, "graduation_Nm")
}

func TestPolicyStaysInsideTheRange(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		lo := rapid.Float64Range(5, 500).Draw(t, "low")
		in := tool.PolicyInput{Low: lo, High: lo * rapid.Float64Range(1, 1.5).Draw(t, "width"),
			Policy:     rapid.SampledFrom([]string{"low", "middle", "high"}).Draw(t, "policy"),
			Graduation: rapid.SampledFrom([]float64{.5, 1, 2.5, 5, 10}).Draw(t, "mark")}
		r, err := tool.RangePolicy(nil, in)
		if err != nil {
			refused2(t, err, "graduation_Nm")
			return
		}
		require.GreaterOrEqual(t, r.Set, in.Low-1e-6)
		require.LessOrEqual(t, r.Set, in.High+1e-6)
		require.InDelta(t, 0, math.Remainder(r.Set, in.Graduation), 1e-6)
	})
}

func refused2(t *rapid.T, err error, field string) {
	r, ok := quantity.RefusalIn(err)
	if !ok || r.Field != field {
		t.Fatalf("%v", err)
	}
}

func TestChainNamesItsWeakestPiece(t *testing.T) {
	half, three := ptr(12.7), ptr(19.05)
	links := []tool.ChainLink{{Name: "wrench", Out: half, Rating: 300, Percent: 0.25},
		{Name: "multiplier", In: half, Out: three, Rating: 1500, Percent: 1},
		{Name: "socket", In: three, Rating: 900, Percent: 1}}
	r, err := tool.DriveChain(nil, tool.ChainInput{Torque: 850, Links: links})
	require.NoError(t, err)
	require.True(t, r.OK)
	require.Equal(t, "socket", r.Weakest)
	require.InDelta(t, 900, r.Limit, 1e-9)
	r, err = tool.DriveChain(nil, tool.ChainInput{Torque: 1000, Links: links})
	require.NoError(t, err)
	require.False(t, r.OK)
	require.Contains(t, r.Problems[0], "socket allows 900")
	links[2].In = half
	r, err = tool.DriveChain(nil, tool.ChainInput{Torque: 850, Links: links})
	require.NoError(t, err)
	require.Contains(t, r.Problems[0], "multiplier does not fit socket")
	links[2].In = nil
	_, err = tool.DriveChain(nil, tool.ChainInput{Torque: 850, Links: links})
	refused(t, err, "pieces")
	_, err = tool.DriveChain(nil, tool.ChainInput{Torque: 850})
	refused(t, err, "pieces")
}

// The pressure set never gives more than was asked, and the torque read back from it is what the chart says.
func TestPumpPressureRoundsDownOnTheChart(t *testing.T) {
	chart := []tool.ChartPoint{{Pressure: 10, Torque: 640}, {Pressure: 30, Torque: 1930}, {Pressure: 50, Torque: 3210},
		{Pressure: 70, Torque: 4480}}
	rapid.Check(t, func(t *rapid.T) {
		want := rapid.Float64Range(700, 4480).Draw(t, "torque")
		r, err := tool.HydraulicPressure(nil, tool.HydraulicInput{Torque: want, Chart: chart,
			Graduation: rapid.SampledFrom([]float64{.5, 1, 2}).Draw(t, "mark"), PumpLimit: 70, ToolMax: 4500})
		require.NoError(t, err)
		require.LessOrEqual(t, r.Set, r.Exact+1e-9)
		require.LessOrEqual(t, r.At, want+1e-6)
		require.GreaterOrEqual(t, r.Shortfall, -1e-9)
	})
	base := tool.HydraulicInput{Torque: 3200, Chart: chart, Graduation: 1, PumpLimit: 70, ToolMax: 4500}
	for field, change := range map[string]func(*tool.HydraulicInput){
		"torque_Nm":      func(in *tool.HydraulicInput) { in.Torque = 600 },
		"pump_limit_MPa": func(in *tool.HydraulicInput) { in.PumpLimit = 40 },
		"chart":          func(in *tool.HydraulicInput) { in.Factor = ptr(64.0) },
		"graduation_MPa": func(in *tool.HydraulicInput) { in.Torque, in.Graduation = 700, 50 },
	} {
		in := base
		change(&in)
		_, err := tool.HydraulicPressure(nil, in)
		refused(t, err, field)
	}
	for _, broken := range [][]tool.ChartPoint{chart[:1], {chart[1], chart[0]},
		{chart[0], {Pressure: 20, Torque: 640}}} {
		in := base
		in.Chart = broken
		_, err := tool.HydraulicPressure(nil, in)
		refused(t, err, "chart")
	}
}

// A chart has two points or more, each above the one before in pressure and in torque; a factor stands for it.
func TestChartOfAToolRises(t *testing.T) {
	read := func(torque float64, factor *float64, points ...float64) (tool.HydraulicResult, *working.Working, error) {
		var chart []tool.ChartPoint
		for i := 0; i < len(points); i += 2 {
			chart = append(chart, tool.ChartPoint{Pressure: points[i], Torque: points[i+1]})
		}
		w := working.New("")
		w.Name("p", "pressure", quantity.Megapascal)
		w.Name("Ts", "torque", quantity.NewtonMetre)
		r, err := tool.HydraulicPressure(w, tool.HydraulicInput{Torque: torque, Chart: chart, Factor: factor,
			PumpLimit: 70, ToolMax: 5000, Graduation: 1})
		return r, w, err
	}
	r, w, err := read(1000, nil, 10, 500, 40, 2000)
	require.NoError(t, err)
	require.InDelta(t, 20, r.Set, 1e-9)
	require.Contains(t, w.Lines[0].Formula, "read off the chart")
	require.Contains(t, w.Lines[1].Formula, "read off the chart")
	require.Contains(t, w.Warnings, "Name the tool: a chart holds for one model and serial.")
	r, _, err = read(2000*(1+1e-10), nil, 10, 500, 40, 2000)
	require.NoError(t, err, "the last point, but for rounding")
	require.InDelta(t, 40, r.Exact, 1e-6)
	r, w, err = read(1025, ptr(50.0))
	require.NoError(t, err)
	require.InDelta(t, 20, r.Set, 1e-9)
	require.InDelta(t, 20.5, r.Exact, 1e-9)
	require.InDelta(t, 1000, r.At, 1e-9)
	require.InDelta(t, 100*25.0/1025, r.Shortfall, 1e-9)
	require.Equal(t, "T / c", w.Lines[0].Formula)
	require.Equal(t, "ps · c", w.Lines[1].Formula)
	_, _, err = read(49, ptr(50.0))
	refused(t, err, "graduation_MPa")
	_, _, err = read(1000, nil, 10, 500)
	refused(t, err, "chart")
	_, _, err = read(1000, nil, 10, 500, 40, 2000, 40, 2100)
	require.ErrorContains(t, err, "point 3 does not rise")
	_, _, err = read(1000, nil, 10, 500, 30, 500, 40, 2000)
	require.ErrorContains(t, err, "point 2 does not rise")
}

// A clamp length of one diameter will do, a transfer of one too; the first half of two settings is pulled further.
func TestTensionerAtItsBounds(t *testing.T) {
	in := tool.TensionerInput{Residual: 100_000, Area: 1000, Clamp: 24, Diameter: 24, StressArea: 353, Limit: 600,
		Graduation: 1, Max: 200, A: 0.5, B: 0.5, Pass: 1.1}
	r, err := tool.TensionerPressure(nil, in)
	require.NoError(t, err)
	require.InDelta(t, 1, r.Transfer, 0)
	require.InDelta(t, 110_000, r.Load, 1e-6)
	in.A = 0.49
	_, err = tool.TensionerPressure(nil, in)
	refused(t, err, "loss_a")
	in.Clamp = 23.9
	_, err = tool.TensionerPressure(nil, in)
	refused(t, err, "clamp_length_mm")
}

func TestLooseningTestsTheToolThenThePump(t *testing.T) {
	in := tool.HydraulicLooseningInput{Tightening: 2000, Factor: 1.5, ToolFactor: ptr(64.0), PumpLimit: 70,
		ToolMax: 4500}
	r, err := tool.HydraulicLoosening(nil, in)
	require.NoError(t, err)
	require.True(t, r.Feasible)
	require.InDelta(t, 3000.0/64, *r.Pressure, 1e-9)
	in.PumpLimit = 40
	r, err = tool.HydraulicLoosening(nil, in)
	require.NoError(t, err)
	require.Equal(t, "pump_limit", r.Reason)
	require.Nil(t, r.Pressure)
	in.ToolMax = 2900
	r, err = tool.HydraulicLoosening(nil, in)
	require.NoError(t, err)
	require.Equal(t, "tool_max", r.Reason, "the tool is tested first")
}

func TestTensionerLeavesTheLoad(t *testing.T) {
	in := tool.TensionerInput{Residual: 250000, Area: 3500, Clamp: 180, Diameter: 36, StressArea: 817, Limit: 600,
		Graduation: 1, Max: 150, A: 1.01, B: 1, Pass: 1}
	r, err := tool.TensionerPressure(nil, in)
	require.NoError(t, err)
	require.InDelta(t, 250000, r.Load/r.Transfer, 1e-6)
	require.LessOrEqual(t, r.Set, r.Pressure)
	long := in
	long.Clamp = 720
	more, err := tool.TensionerPressure(nil, long)
	require.NoError(t, err)
	require.Less(t, more.Transfer, r.Transfer, "a longer bolt loses less")
	for field, change := range map[string]func(*tool.TensionerInput){
		"clamp_length_mm":  func(in *tool.TensionerInput) { in.Clamp = 30 },
		"max_pressure_MPa": func(in *tool.TensionerInput) { in.Max = 60 },
		"stress_limit_MPa": func(in *tool.TensionerInput) { in.Limit = 300 },
		"loss_a":           func(in *tool.TensionerInput) { in.A, in.B = 0.5, 0 },
		"pass_factor":      func(in *tool.TensionerInput) { in.Pass = 0.9 },
	} {
		bad := in
		change(&bad)
		_, err := tool.TensionerPressure(nil, bad)
		refused(t, err, field)
	}
}

// An adapter folded back so far that a twentieth of the lever is left is refused; with a little more it is not.
func TestAdapterLeavesALever(t *testing.T) {
	_, err := tool.AdapterSetting(nil, tool.AdapterInput{Torque: 100, Wrench: 20, Adapter: 19, AngleDeg: 180})
	refused(t, err, "adapter_length_m")
	got, err := tool.AdapterSetting(nil, tool.AdapterInput{Torque: 100, Wrench: 20, Adapter: 18.9, AngleDeg: 180})
	require.NoError(t, err)
	require.InDelta(t, 100*20/1.1, got.Setting, 1e-6)
}

// A bar of 16 mm, a quarter of a metre long, twists by a little over three degrees at 120 N·m.
func TestExtensionTwists(t *testing.T) {
	r, err := tool.ExtensionSetting(nil, tool.ExtensionInput{Torque: 120, Length: 250, Diameter: 16, G: 80})
	require.NoError(t, err)
	require.InDelta(t, 120, r.Setting, 0)
	require.InDelta(t, 3.3394, r.Windup, 1e-4)
}

// Of pieces that allow as much, the one towards the hand is named.
func TestWeakestPieceIsTheFirstOfEquals(t *testing.T) {
	r, err := tool.DriveChain(nil, tool.ChainInput{Torque: 100, Links: []tool.ChainLink{
		{Name: "wrench", Out: ptr(12.7), Rating: 300, Percent: 1},
		{Name: "socket", In: ptr(12.7), Rating: 300, Percent: 1}}})
	require.NoError(t, err)
	require.Equal(t, "wrench", r.Weakest)
	require.InDelta(t, 300, r.Limit, 1e-12)
}
