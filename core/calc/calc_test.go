package calc_test

import (
	"encoding/json"
	"maps"
	"math"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/calc"
	"dynacor/core/fastener"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

var typed = calc.Options{Typed: true}

func run(t require.TestingT, name string, values map[string]any) *calc.Result {
	r, err := calc.Run(name, values, typed)
	require.NoError(t, err)
	return r
}

func number(r *calc.Result, key string) float64 {
	v, _ := r.Values[key].(float64)
	return v
}

func TestEverySheetOpensWithAWorkedExample(t *testing.T) {
	require.Greater(t, len(calc.All()), 110)
	symbolsOf := func(fields []quantity.Field) []string {
		var out []string
		for _, f := range fields {
			if f.Symbol != "" {
				out = append(out, f.Symbol)
			}
		}
		return out
	}
	for _, c := range calc.All() {
		r, err := calc.Run(c.Name, c.Example(), typed)
		require.NoError(t, err, c.Name)
		require.Equal(t, len(c.Outputs), len(r.Shown), c.Name)
		for _, s := range []string{c.Title, c.Group, c.Words, c.Source, c.Limits, c.Room} {
			require.NotEmpty(t, s, c.Name)
		}
		require.NotEqual(t, "core/calc", c.Room, "%s is computed in a room of its own", c.Name)
		for _, f := range append(slices.Clone(c.Inputs), c.Outputs...) {
			require.NotEmpty(t, f.Label, "%s: %s", c.Name, f.Key)
		}
		in := symbolsOf(c.Inputs)
		slices.Sort(in)
		require.Len(t, slices.Compact(slices.Clone(in)), len(in), "%s uses a symbol twice: %v", c.Name, in)
		for _, s := range append(in, symbolsOf(c.Outputs)...) {
			require.NotContains(t, s, " ", c.Name)
		}
	}
}

func TestTradeWordsFindTheSheet(t *testing.T) {
	for text, want := range map[string]string{
		"pump pressure": "hydraulic_pressure", "crowfoot": "adapter_setting",
		"how hot for the bearing": "bearing_heating", "turn of nut": "turn_of_nut", "dry ice": "shrink_fit",
		"star pattern": "visiting_order", "across flats": "hex_size", "leak test": "pressure_decay",
		"shrink disc": "shaft_lock", "gauge_rr": "gauge_rr", "feeler": "gap_tilt",
	} {
		found := calc.Find(text)
		require.NotEmpty(t, found, text)
		require.Contains(t, []string{found[0].Name, found[min(1, len(found)-1)].Name}, want, text)
	}
	require.Empty(t, calc.Find("marmalade"))
	require.Len(t, calc.Find(""), len(calc.All()))
	_, err := calc.ByName("torque_from_load")
	require.ErrorContains(t, err, "Did you mean")
}

func TestWhatPeopleWriteIsRead(t *testing.T) {
	base := map[string]any{"wrench_length_m": "420 mm", "adapter_length_m": "60 mm", "angle_deg": "0"}
	for text, want := range map[string]float64{"120": 120, "120 N·m": 120, "88.5 ft-lb": 119.98988, "1,5 kNm": 1500,
		"60 in-lb": 6.77909} {
		v := maps.Clone(base)
		v["torque"] = text
		require.InEpsilon(t, want*0.42/0.48, number(run(t, "adapter_setting", v), "setting_Nm"), 1e-5, text)
	}
	r := run(t, "torque_from_preload", map[string]any{"preload": "148 kN", "thread": "M27", "mu_thread": 0.11,
		"mu_head": "0,11"})
	require.Len(t, r.Looked, 4, "diameter, pitch, pitch diameter, bearing face")
	require.Greater(t, number(r, "torque_Nm"), 500.0)
	inch := run(t, "torque_from_preload_k", map[string]any{"preload": "50 kip", "K": "0.16", "diameter_mm": "1 1/8-8"})
	require.InEpsilon(t, 0.16*28.575*222.41108, number(inch, "torque_Nm"), 1e-6, "a thread in the diameter's place")
	require.InEpsilon(t, 4.7625, number(run(t, "equality", map[string]any{"a": "3/16", "b": "0", "limit": "1"}),
		"difference_mm"), 1e-9, "a bare fraction of a length is inches")
	require.InDelta(t, 660, number(run(t, "preload_from_percent", map[string]any{"percent": "100", "thread": "M20",
		"grade": "8.8"}), "stress_MPa"), 1e-9)
	lub := run(t, "lubricant_mismatch", map[string]any{"torque": "410", "thread": "M27", "lubricant": "light_oil",
		"lubricant_found": "moly_paste"})
	require.InEpsilon(t, 0.18/0.12, number(lub, "preload_ratio"), 1e-9)
	require.Equal(t, []any{1.0, 5.0, 3.0, 7.0, 2.0, 6.0, 4.0, 8.0},
		run(t, "visiting_order", map[string]any{"pattern": "group", "n": "8"}).Values["order"])
	chart := map[string]any{"torque": "2000", "chart": "10 640\n30 1930\n50 3210", "graduation": "10 bar",
		"pump_limit": "700 bar", "tool_max": "4500"}
	require.InDelta(t, 31, number(run(t, "hydraulic_pressure", chart), "set_pressure_MPa"), 1e-9)
	require.InDelta(t, 1800, number(run(t, "test_pressure", map[string]any{"design": "16 bar", "factor": "1.5",
		"hold_min": "0.5 h", "min_hold": "600 s"}), "hold_s"), 1e-6)
}

func TestTheSitesCardComesBeforeTheLibrary(t *testing.T) {
	own := fastener.Lubricant{Code: "L-07", Name: "Paste from the red tin",
		K: fastener.Band{Low: .13, Typ: .14, High: .15}, Source: fastener.KSite}
	r, err := calc.Run("torque_from_preload_k", map[string]any{"preload_kN": "100", "diameter_mm": "20",
		"lubricant": "l-07"}, calc.Options{Typed: true, Cards: []fastener.Lubricant{own}})
	require.NoError(t, err)
	require.InDelta(t, 280, number(r, "torque_Nm"), 1e-9)
	i := slices.IndexFunc(r.Working.Lines, func(l working.Line) bool { return l.Symbol == "K" })
	require.Equal(t, working.LookedUp, r.Working.Lines[i].Origin)
	require.Contains(t, r.Working.Lines[i].Source, "measured on site")
}

// A look-up is offered where the input is a bolt's, and nowhere else.
func TestLookUpsAreOfferedForBoltsOnly(t *testing.T) {
	for name, want := range map[string][]string{
		"torque_from_preload": {"thread", "lubricant"}, "preload_from_percent": {"thread", "grade"},
		"preload_band": {"thread", "grade", "lubricant"}, "combined_stress": {"grade", "thread"},
		"lubricant_mismatch": {"thread", "lubricant", "lubricant_found"}, "hub_check": {}, "shrink_fit": {},
		"bearing_heating": {}, "tube_fitting_turns": {}, "gasket_ring_area": {}, "pressure_end_force": {},
		"straight_run": {}, "hydraulic_pressure": {},
	} {
		c, err := calc.ByName(name)
		require.NoError(t, err)
		require.ElementsMatch(t, want, c.Fill, name)
	}
}

func TestRefusalsNameTheInput(t *testing.T) {
	for _, c := range []struct {
		name, field, why string
		values           map[string]any
	}{
		{"torque_from_preload_k", "preload_kN", "missing", map[string]any{"K": "0.2", "diameter_mm": "20"}},
		{"torque_from_preload_k", "K", "outside", map[string]any{"preload_kN": "100", "K": "2", "diameter_mm": "20"}},
		{"torque_from_preload_k", "prelaod", "not an input", map[string]any{"prelaod": "100", "K": "0.2",
			"diameter_mm": "20"}},
		{"adapter_setting", "torque_Nm", "weight", map[string]any{"torque": "20 kg", "wrench_length_m": "0.4",
			"adapter_length_m": "0.1", "angle_deg": "0"}},
		{"adapter_setting", "torque_Nm", "not known", map[string]any{"torque": "20 mm", "wrench_length_m": "0.4",
			"adapter_length_m": "0.1", "angle_deg": "0"}},
		{"hydraulic_pressure", "torque_Nm", "outside the chart",
			map[string]any{"torque": "9000", "chart": "10 640; 30 1930", "graduation": "1", "pump_limit": "70",
				"tool_max": "10000"}},
		{"hydraulic_pressure", "chart", "entry 2", map[string]any{"torque": "900", "chart": "10 640; 30 -5",
			"graduation": "1", "pump_limit": "70", "tool_max": "10000"}},
		{"material_strength", "diameter_mm", "outside", map[string]any{"grade": "8.8", "diameter_mm": "64"}},
		{"preload_from_percent", "thread", "needed", map[string]any{"percent": "60", "grade": "8.8", "As_mm2": "100"}},
		{"torque_from_preload", "thread", "outside M3", map[string]any{"preload_kN": "100", "thread": "M999"}},
		{"multiplier", "ratio_measured", "not both", map[string]any{"output_torque_Nm": "600", "ratio_nominal": "5",
			"arm_m": "0.3"}},
		{"visiting_order", "n", "whole", map[string]any{"pattern": "cross", "n": "7.5"}},
		{"rule_of_thumb", "size_mm", "where the rule holds", map[string]any{"rule": "loops", "size": "900",
			"valid_from": "80", "valid_to": "400"}},
	} {
		_, err := calc.Run(c.name, c.values, typed)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, "%s: %v", c.name, err)
		require.Equal(t, c.field, r.Field, c.name)
		require.Contains(t, r.Why, c.why, c.name)
		require.NotEmpty(t, r.Remedy, c.name)
	}
	_, err := calc.Run("torque_from_preload_k", map[string]any{"preload_kN": "100", "K": 0.2, "diameter_mm": 20.0},
		calc.Options{})
	require.ErrorContains(t, err, "not a number", "without Typed a text is no number")
}

func TestAssumedValuesAreNamed(t *testing.T) {
	r := run(t, "wrench_range", map[string]any{"full_scale_Nm": "200", "target_torque_Nm": "30"})
	i := slices.IndexFunc(r.Working.Lines, func(l working.Line) bool { return l.Symbol == "f1" })
	require.Equal(t, working.Assumed, r.Working.Lines[i].Origin)
	require.Equal(t, false, r.Values["usable"])
}

// A result told in other units is the same result.
func TestUnitsDoNotChangeTheAnswer(t *testing.T) {
	for _, c := range calc.All() {
		base, err := calc.Run(c.Name, c.Example(), typed)
		require.NoError(t, err, c.Name)
		other := c.Example()
		switched := 0
		for _, f := range c.Inputs {
			v, _, err := quantity.Number(f.Key, asText(other[f.Key]))
			units := quantity.Units(f.Measures)
			if err != nil || f.Kind != "number" || len(units) < 2 || f.Measures == quantity.KindArea {
				continue
			}
			to := units[len(units)-1]
			there, err := quantity.Convert(v, f.Unit, to)
			require.NoError(t, err)
			other[f.Key] = strconv.FormatFloat(there, 'f', -1, 64) + " " + string(to)
			switched++
		}
		got, err := calc.Run(c.Name, other, typed)
		require.NoError(t, err, "%s: %v", c.Name, other)
		for key, v := range base.Values {
			if want, ok := v.(float64); ok && switched > 0 && c.Name != "unit_convert" {
				g, _ := got.Values[key].(float64)
				require.InDelta(t, want, g, 1e-6*math.Max(1, math.Abs(want)), "%s: %s", c.Name, key)
			}
		}
	}
}

func asText(v any) string { s, _ := v.(string); return s }

func TestThereAndBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(lo, hi float64, name string) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		mu, load := f(.05, .3, "mu"), f(1, 900, "load")
		geo := map[string]any{"diameter_mm": 24.0, "pitch_mm": 3.0, "d2_mm": 22.051, "bearing_mean_mm": 30.0,
			"mu_thread": mu, "mu_head": mu, "prevailing_Nm": f(0, 5, "prevailing"),
			"method": rapid.SampledFrom([]string{"approx", "exact"}).Draw(t, "method"), "preload_kN": load}
		there := run(t, "torque_from_preload", geo)
		delete(geo, "preload_kN")
		geo["torque_Nm"] = number(there, "torque_Nm")
		require.InEpsilon(t, load, number(run(t, "preload_from_torque", geo), "preload_kN"), 1e-9)

		a := map[string]any{"torque_Nm": f(1, 3000, "torque"), "wrench_length_m": f(.2, 2, "L"),
			"adapter_length_m": f(0, .1, "E"), "angle_deg": f(0, 360, "angle")}
		set := run(t, "adapter_setting", a)
		want := a["torque_Nm"].(float64)
		delete(a, "torque_Nm")
		a["setting_Nm"] = number(set, "setting_Nm")
		require.InEpsilon(t, want, number(run(t, "adapter_actual", a), "actual_Nm"), 1e-9)

		j := map[string]any{"load_change_N": load * 1000, "pitch_mm": 3.0, "k_bolt_N_per_mm": f(1e5, 1e6, "kb"),
			"k_member_N_per_mm": f(1e5, 1e7, "km")}
		angle := number(run(t, "angle_from_load", j), "angle_deg")
		delete(j, "load_change_N")
		j["angle_deg"], j["snug_load_N"] = angle, 0.0
		require.InEpsilon(t, load*1000, number(run(t, "load_from_angle", j), "load_N"), 1e-9)
	})
}

// More of this must give more (or less) of that.
func TestMonotone(t *testing.T) {
	for _, c := range []struct {
		name, in, out string
		rises         bool
	}{
		{"torque_from_preload", "mu_thread", "torque_Nm", true}, {"torque_from_preload", "mu_head", "K", true},
		{"preload_from_torque", "mu_head", "preload_kN", false},
		{"loosening_torque", "pitch_mm", "loosening_Nm", false}, {"preload_band", "torque_accuracy_pct", "alpha_A",
			true}, {"adapter_setting", "adapter_length_m", "setting_Nm", false},
		{"shrink_fit", "interference_mm", "hub_C", true}, {"bearing_heating", "bore_mm", "temp_C", false},
		{"shaft_lock", "mu_taper", "torque_only_Nm", false}, {"hub_check", "outer_mm", "hoop_MPa", false},
		{"hydraulic_pressure", "torque_Nm", "pressure_MPa", true}, {"stored_energy", "volume_m3", "energy_J", true},
		{"pressure_end_force", "diameter_mm", "end_force_kN", true},
		{"angle_from_load", "k_bolt_N_per_mm", "angle_deg", false}, {"stud_stretch", "shank_length_mm", "stretch_mm",
			true}, {"engagement_length", "nut_tensile_MPa", "length_required_mm", false},
		{"flange_bolt_stress", "gasket_target_MPa", "torque_Nm", true}, {"slip_resistance", "tension_N", "group_N",
			false}, {"preload_temperature", "bolt_C", "preload_hot_N", false},
		{"joint_duration", "tools_at_once", "duration_s", false}, {"gas_precharge", "temp_C", "precharge_at_temp_MPa",
			true}, {"range_guarantee", "tol_pct", "inside_pct", false},
	} {
		points, err := calc.Sweep(c.name, exampleOf(t, c.name), c.in, 0, 0, 15, typed)
		require.NoError(t, err, c.name)
		last, seen := math.NaN(), 0
		for _, p := range points {
			y, ok := p.Values[c.out].(float64)
			if !ok {
				continue
			}
			if seen++; seen > 1 {
				if c.rises {
					require.GreaterOrEqual(t, y, last-1e-9, "%s: %s over %s", c.name, c.out, c.in)
				} else {
					require.LessOrEqual(t, y, last+1e-9, "%s: %s over %s", c.name, c.out, c.in)
				}
			}
			last = y
		}
		require.Greater(t, seen, 5, c.name)
	}
}

func exampleOf(t *testing.T, name string) map[string]any {
	c, err := calc.ByName(name)
	require.NoError(t, err)
	return c.Example()
}

func TestWhatMattersMost(t *testing.T) {
	list, err := calc.Sensitivity("torque_from_preload", exampleOf(t, "torque_from_preload"), typed)
	require.NoError(t, err)
	require.Equal(t, "preload_kN", list[0].Key, "torque goes with load")
	require.InDelta(t, 1, list[0].Percent, 1e-6)
	i := slices.IndexFunc(list, func(e calc.Effect) bool { return e.Key == "mu_head" })
	require.InDelta(t, 0.486, list[i].Percent, 0.01, "half of the torque rubs under the nut")
	none, err := calc.Sensitivity("visiting_order", exampleOf(t, "visiting_order"), typed)
	require.NoError(t, err)
	require.Empty(t, none)
}

func TestAShortListIsNotAPanic(t *testing.T) {
	for _, c := range calc.All() {
		for _, f := range c.Inputs {
			for _, bad := range []any{"", []any{}, "1", -1.0, 0.0, math.Inf(1), math.NaN(), 1e308, "abc", true,
				[]any{[]any{}}, []any{map[string]any{}}, []any{-1.0}, []any{"x"}, nil, []any{nil}} {
				v := c.Example()
				v[f.Key] = bad
				// the untyped way is FuzzRun's and the golden cases'
				if _, err := calc.Run(c.Name, v, typed); err != nil {
					_, ok := quantity.RefusalIn(err)
					require.True(t, ok, "%s, %s = %v: %v", c.Name, f.Key, bad, err)
				}
			}
		}
	}
}

// FuzzRun puts anything into any calculation: it must refuse or answer with finite numbers.
func FuzzRun(f *testing.F) {
	for i, c := range goldenCases(f) {
		raw, err := json.Marshal(c.Inputs)
		require.NoError(f, err)
		f.Add(slices.IndexFunc(calc.All(), func(x *calc.Calculation) bool { return x.Name == c.Calc }), string(raw),
			i%2 == 0)
	}
	f.Add(0, `{"value":"1e309","from":"N_m","to":"N_m"}`, true)
	f.Fuzz(func(t *testing.T, which int, raw string, asTyped bool) {
		var v map[string]any
		if which < 0 || json.Unmarshal([]byte(raw), &v) != nil {
			return
		}
		name := calc.All()[which%len(calc.All())].Name
		r, err := calc.Run(name, v, calc.Options{Typed: asTyped})
		if err != nil {
			if _, ok := quantity.RefusalIn(err); !ok {
				t.Fatalf("%s: not a refusal: %v", name, err)
			}
			return
		}
		if _, err := json.Marshal(r); err != nil { // NaN and infinity cannot be written
			t.Fatalf("%s: %v", name, err)
		}
	})
}
