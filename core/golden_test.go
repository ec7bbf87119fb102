package core_test

import (
	"encoding/json"
	"math"
	"os"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/fastener"
	"dynacor/core/measure"
	"dynacor/core/preload"
	"dynacor/core/quantity"
	"dynacor/core/sequence"
	"dynacor/core/tool"
)

type in map[string]any

func (i in) f(k string) float64 { v, _ := i[k].(float64); return v }
func (i in) fd(k string, d float64) float64 {
	if v, ok := i[k].(float64); ok {
		return v
	}
	return d
}
func (i in) s(k string) string { v, _ := i[k].(string); return v }
func (i in) b(k string) bool   { v, _ := i[k].(bool); return v }
func floats(v any) []float64 {
	list, _ := v.([]any)
	var out []float64
	for _, x := range list {
		f, _ := x.(float64)
		out = append(out, f)
	}
	return out
}
func ints(v any) []int {
	var out []int
	for _, f := range floats(v) {
		out = append(out, int(f))
	}
	return out
}
func (i in) friction() preload.Friction {
	return preload.Friction{D: i.f("diameter_mm"), Pitch: i.f("pitch_mm"), D2: i.f("d2_mm"), BearingMean: i.f("bearing_mean_mm"), MuThread: i.f("mu_thread"),
		MuHead: i.f("mu_head"), PrevailingNm: i.f("prevailing_Nm"), HalfAngleDeg: i.f("half_angle_deg"), Exact: i.s("method") == "exact"}
}
func (i in) thread() (fastener.Thread, error) {
	if i.s("system") == "un" {
		return fastener.Thread{System: fastener.UN, DiameterMM: i.f("diameter_in") * 25.4, PitchMM: 25.4 / i.f("tpi")}, nil
	}
	p := i.f("pitch_mm")
	if _, given := i["pitch_mm"]; !given {
		var ok bool
		if p, ok = fastener.CoarsePitch(i.f("diameter_mm")); !ok {
			return fastener.Thread{}, quantity.Refuse("pitch", "", "no coarse pitch")
		}
	}
	return fastener.Thread{System: fastener.ISO, DiameterMM: i.f("diameter_mm"), PitchMM: p}, nil
}
func (i in) diameter() float64 {
	if v, ok := i["diameter_in"].(float64); ok {
		return v * 25.4
	}
	return i.f("diameter_mm")
}
func torqueOut(t preload.Torque) map[string]any {
	return map[string]any{"torque_Nm": t.TorqueNm, "preload_kN": t.PreloadKN, "pitch_Nm": t.PitchNm, "thread_Nm": t.ThreadNm, "head_Nm": t.HeadNm,
		"pitch_pct": t.PitchPct, "thread_pct": t.ThreadPct, "head_pct": t.HeadPct, "K": t.K}
}

var calcs = map[string]func(in) (map[string]any, error){
	"unit_convert": func(i in) (map[string]any, error) {
		v, err := quantity.Convert(i.f("value"), quantity.Unit(i.s("from")), quantity.Unit(i.s("to")))
		return map[string]any{"value": v}, err
	},
	"round_to_graduation": func(i in) (map[string]any, error) {
		if v, ok := i["max"]; ok && v == 0.0 {
			return nil, quantity.Refuse("max", "", "zero")
		}
		r, err := quantity.RoundToGraduation(i.f("value"), i.f("graduation"), i.f("max"))
		return map[string]any{"rounded": r.Rounded, "deviation_pct": r.DeviationPct, "limited": r.Limited}, err
	},
	"parse_quantity": func(i in) (map[string]any, error) {
		r, err := quantity.Parse(quantity.Kind(i.s("quantity")), i.s("text"), quantity.Unit(i.s("default_unit")))
		return map[string]any{"value": r.Value, "unit": string(r.Unit), "canonical": r.Canonical, "canonical_unit": string(r.CanonUnit)}, err
	},
	"parse_thread": func(i in) (map[string]any, error) {
		t, err := fastener.ParseThread(i.s("text"))
		return map[string]any{"system": string(t.System), "diameter_mm": t.DiameterMM, "pitch_mm": t.PitchMM, "tpi": t.TPI, "series": t.Series, "listed": t.Listed, "left_hand": t.LeftHand}, err
	},
	"thread_geometry": func(i in) (map[string]any, error) {
		t, err := i.thread()
		if err != nil {
			return nil, err
		}
		g, err := t.Geometry()
		return map[string]any{"d_mm": g.D, "pitch_mm": g.Pitch, "d2_mm": g.D2, "d1_mm": g.D1, "d3_mm": g.D3, "ds_mm": g.Ds, "H_mm": g.H, "As_mm2": g.As, "A3_mm2": g.A3,
			"lead_angle_deg": g.LeadAngleDeg, "As_in2": g.As / 645.16}, err
	},
	"hex_size": func(i in) (map[string]any, error) {
		h, err := fastener.HexSize(fastener.HexFamily(i.s("family")), i.diameter())
		src := "estimate"
		if h.FromTable {
			src = "table"
		}
		return map[string]any{"across_flats_mm": h.AcrossFlatsMM, "across_flats_in": h.AcrossFlatsMM / 25.4, "bearing_outer_mm": h.BearingOuterMM, "bearing_source": src}, err
	},
	"clearance_hole": func(i in) (map[string]any, error) {
		h, err := fastener.ClearanceHole(i.s("series"), i.diameter())
		return map[string]any{"hole_mm": h}, err
	},
	"bearing_geometry": func(i in) (map[string]any, error) {
		b, err := fastener.BearingGeometry(i.f("outer_mm"), i.f("hole_mm"))
		return map[string]any{"mean_mm": b.Mean, "effective_mm": b.Effective, "area_mm2": b.Area}, err
	},
	"material_strength": func(i in) (map[string]any, error) {
		s, err := fastener.MaterialStrength(fastener.System(i.s("system")), i.s("grade"), i.diameter())
		return map[string]any{"yield_MPa": s.Yield, "tensile_MPa": s.Tensile, "proof_MPa": s.Proof}, err
	},
	"preload_from_percent": func(i in) (map[string]any, error) {
		s, f, above, err := preload.FromPercent(i.s("basis"), i.f("percent"), i.f("strength_MPa"), i.f("As_mm2"))
		return map[string]any{"stress_MPa": s, "preload_kN": f, "above_usual": above}, err
	},
	"torque_from_preload_k": func(i in) (map[string]any, error) {
		t, err := preload.TorqueFromK(i.f("preload_kN"), i.f("K"), i.f("diameter_mm"))
		return map[string]any{"torque_Nm": t}, err
	},
	"preload_from_torque_k": func(i in) (map[string]any, error) {
		f, err := preload.FromTorqueK(i.f("torque_Nm"), i.f("K"), i.f("diameter_mm"))
		return map[string]any{"preload_kN": f}, err
	},
	"torque_from_preload": func(i in) (map[string]any, error) {
		t, err := i.friction().TorqueAt(i.f("preload_kN"))
		return torqueOut(t), err
	},
	"preload_from_torque": func(i in) (map[string]any, error) {
		t, err := i.friction().PreloadAt(i.f("torque_Nm"))
		return torqueOut(t), err
	},
	"combined_stress": func(i in) (map[string]any, error) {
		s, err := preload.CombinedStress(i.f("preload_kN"), i.f("thread_torque_Nm"), i.f("ds_mm"), i.s("modulus") == "plastic", i.fd("residual_torsion", .5), i.f("yield_MPa"))
		return map[string]any{"sigma_MPa": s.Sigma, "tau_MPa": s.Tau, "vm_tightening_MPa": s.VMTightening, "vm_residual_MPa": s.VMResidual,
			"util_tightening_pct": s.UtilTighteningPct, "util_residual_pct": s.UtilResidualPct}, err
	},
	"lubricant_mismatch": func(i in) (map[string]any, error) {
		m, err := preload.LubricantMismatch(i.f("torque_Nm"), i.f("diameter_mm"), i.f("K_assumed"), i.f("K_actual"), i.f("limit_kN"))
		return map[string]any{"preload_intended_kN": m.IntendedKN, "preload_actual_kN": m.ActualKN, "preload_ratio": m.Ratio, "torque_restoring_Nm": m.RestoringNm, "over_limit": m.OverLimit}, err
	},
	"preload_scatter": func(i in) (map[string]any, error) {
		s, err := preload.MethodScatter(i.f("preload_kN"), i.s("method"), i.f("spread_pct"))
		return map[string]any{"spread_pct": s.SpreadPct, "preload_min_kN": s.MinKN, "preload_max_kN": s.MaxKN, "alpha_A": s.AlphaA}, err
	},
	"preload_band": func(i in) (map[string]any, error) {
		r, err := preload.PreloadBand(i.f("torque_Nm"), i.f("diameter_mm"), fastener.Band{Low: i.f("K_low"), Typ: i.f("K_typ"), High: i.f("K_high")}, i.f("torque_accuracy_pct"))
		return map[string]any{"preload_min_kN": r.MinKN, "preload_typ_kN": r.TypKN, "preload_max_kN": r.MaxKN, "alpha_A": r.AlphaA}, err
	},
	"lubricant_condition": func(i in) (map[string]any, error) {
		l, err := fastener.LubricantCondition(i.s("condition"))
		return map[string]any{"mu_thread_low": l.MuThread.Low, "mu_thread_typ": l.MuThread.Typ, "mu_thread_high": l.MuThread.High, "mu_head_low": l.MuHead.Low,
			"mu_head_typ": l.MuHead.Typ, "mu_head_high": l.MuHead.High, "K_low": l.K.Low, "K_typ": l.K.Typ, "K_high": l.K.High, "not_for_torque_control": l.NotForTorqueControl}, err
	},
	"choose_nut_factor": func(i in) (map[string]any, error) {
		var given []fastener.KValue
		for _, s := range []fastener.KSource{fastener.KMaker, fastener.KSite, fastener.KProject} {
			if v, ok := i[string(s)+"_K"].(float64); ok {
				given = append(given, fastener.KValue{Source: s, K: v, SpreadPct: i.f(string(s) + "_spread_pct")})
			}
		}
		src, b, err := fastener.ChooseNutFactor(given, i.s("condition"))
		return map[string]any{"source": string(src), "K": b.Typ, "K_low": b.Low, "K_high": b.High}, err
	},
	"staging": func(i in) (map[string]any, error) {
		s, err := sequence.Staging(i.s("scheme"), i.f("target_Nm"), i.f("graduation_Nm"), i.f("max_Nm"), i.f("snug_pct"))
		return map[string]any{"stages_Nm": s.Nm, "stage_pct": s.Percents, "pre_pass": s.Scheme.PrePass, "check_passes": float64(s.Scheme.CheckPasses)}, err
	},
	"visiting_order": func(i in) (map[string]any, error) {
		n := i.f("n")
		if n != math.Trunc(n) {
			return nil, quantity.Refuse("n", "", "not whole")
		}
		o := sequence.Options{Start: int(i.fd("start", 1)), Reverse: i.b("reverse"), Groups: int(i.fd("groups", 4)), Moves: int(i.f("moves"))}
		if o.Start == 0 || o.Groups == 0 {
			return nil, quantity.Refuse("start", "", "zero")
		}
		r, err := sequence.Visiting(sequence.Pattern(i.s("pattern")), int(n), o)
		return map[string]any{"order": r.Visit, "chalk": r.Chalk}, err
	},
	"order_check": func(i in) (map[string]any, error) {
		v, o, m := sequence.Check(int(i.f("n")), ints(i["order"]))
		return map[string]any{"valid": v, "opposite_pairs": float64(o), "min_jump": float64(m)}, nil
	},
	"wrench_range": func(i in) (map[string]any, error) {
		r, err := tool.WrenchRange(i.f("full_scale_Nm"), i.f("target_torque_Nm"), i.fd("min_frac", .2), i.fd("max_frac", 1))
		return map[string]any{"min_Nm": r.Min, "max_Nm": r.Max, "target_frac": r.TargetFrac, "usable": r.Usable}, err
	},
	"wrench_rank": func(i in) (map[string]any, error) {
		var list []tool.Candidate
		ws, _ := i["wrenches"].([]any)
		for _, w := range ws {
			m := in(w.(map[string]any))
			list = append(list, tool.Candidate{Name: m.s("name"), FullScale: m.f("full_scale_Nm"), TolPct: m.f("tol_pct"), ScaleMin: m.f("scale_min_Nm")})
		}
		order, excluded, err := tool.Rank(i.f("target_torque_Nm"), list, i.fd("min_frac", .2), i.fd("max_frac", 1), i.fd("preferred_frac", .6))
		var best any
		if len(order) > 0 {
			best = order[0]
		}
		return map[string]any{"order": order, "excluded": excluded, "best": best}, err
	},
	"tolerance_band": func(i in) (map[string]any, error) {
		lo, hi, err := tool.ToleranceBand(i.f("setting_Nm"), i.f("tol_pct"), i.s("basis") == "of_true")
		return map[string]any{"low_Nm": lo, "high_Nm": hi}, err
	},
	"micrometer_setting": func(i in) (map[string]any, error) {
		c, err := tool.MicrometerSetting(i.f("target_Nm"), i.f("main_min_Nm"), i.f("main_max_Nm"), i.f("main_step_Nm"), i.f("thimble_turn_Nm"), int(i.f("thimble_divisions")))
		return map[string]any{"visible_line_Nm": c.VisibleLine, "turns_past_line": float64(c.TurnsPast), "thimble_division": float64(c.Mark), "set_Nm": c.Set, "error_Nm": c.Error, "on_line": c.OnLine}, err
	},
	"check_pass": func(i in) (map[string]any, error) {
		var passes [][]float64
		ps, _ := i["passes"].([]any)
		for _, p := range ps {
			passes = append(passes, floats(p))
		}
		r, err := measure.CheckPass(passes, i.f("limit_deg"), int(i.f("max_passes")))
		var first any
		if r.CompletePass != nil {
			first = float64(*r.CompletePass)
		}
		return map[string]any{"moved_counts": r.MovedCounts, "complete_pass": first, "moved_last": r.MovedLast, "verdict": r.Verdict}, err
	},
	"gap_tilt": func(i in) (map[string]any, error) {
		g, err := measure.GapTilt(floats(i["gaps_mm"]), i.f("face_diameter_mm"), i.f("limit_mm"))
		var dir, st any
		if g.WidestDeg != nil {
			dir, st = *g.WidestDeg, float64(*g.WidestStation)
		}
		return map[string]any{"mean_mm": g.Mean, "max_min_mm": g.MaxMin, "tilt_amplitude_mm": g.TiltAmplitude, "widest_direction_deg": dir, "tilt_angle_deg": g.TiltAngleDeg,
			"widest_station": st, "residual_rms_mm": g.ResidualRMS, "pass": g.Pass}, err
	},
}

// The cases and their sources are in testdata; a number passes within abs_tol + rel_tol·|expected|, everything else exactly.
func TestGolden(t *testing.T) {
	raw, err := os.ReadFile("testdata/golden_calc.json")
	require.NoError(t, err)
	var cases []struct {
		ID, Calc string
		Inputs   in
		Expect   map[string]any
		Rel      float64 `json:"rel_tol"`
		Abs      float64 `json:"abs_tol"`
		Source   string
	}
	require.NoError(t, json.Unmarshal(raw, &cases))
	require.Greater(t, len(cases), 150)
	for _, c := range cases {
		t.Run(c.ID, func(t *testing.T) {
			require.NotEmpty(t, c.Source)
			calc := calcs[c.Calc]
			require.NotNil(t, calc, "no calculation %s", c.Calc)
			got, err := calc(c.Inputs)
			if c.Expect["error"] == true {
				require.Error(t, err)
				_, ok := quantity.RefusalIn(err)
				require.True(t, ok, "not a refusal: %v", err)
				return
			}
			require.NoError(t, err)
			for k, want := range c.Expect {
				require.Contains(t, got, k)
				same(t, k, want, got[k], c.Rel, c.Abs)
			}
		})
	}
}

func same(t *testing.T, key string, want, got any, rel, abs float64) {
	t.Helper()
	switch w := want.(type) {
	case float64:
		g, ok := got.(float64)
		require.True(t, ok, "%s is %T", key, got)
		require.LessOrEqual(t, math.Abs(g-w), abs+rel*math.Abs(w), "%s: got %v, want %v", key, g, w)
	case []any:
		raw, _ := json.Marshal(got)
		var list []any
		require.NoError(t, json.Unmarshal(raw, &list))
		require.Len(t, list, len(w), key)
		for i := range w {
			same(t, key, w[i], list[i], rel, abs)
		}
	default:
		require.Equal(t, want, got, key)
	}
}
