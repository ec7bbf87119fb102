package calc

import (
	"dynacor/core/fastener"
	"dynacor/core/gasket"
	"dynacor/core/preload"
	"dynacor/core/pressure"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

type torqueKIn struct {
	Preload  float64 `in:"preload_kN" sym:"F" label:"Load wanted" ok:">0" eg:"148"`
	K        float64 `in:"K" sym:"K" label:"Nut factor" ok:"0.05..0.6" eg:"0.15"`
	Diameter float64 `in:"diameter_mm" sym:"d" label:"Thread diameter" ok:">0" eg:"27"`
}
type torqueKOut struct {
	Torque float64 `out:"torque_Nm" sym:"T" label:"Torque at the nut"`
}
type loadKIn struct {
	Torque   float64 `in:"torque_Nm" sym:"T" label:"Torque at the nut" ok:">0" eg:"595"`
	K        float64 `in:"K" sym:"K" label:"Nut factor" ok:"0.05..0.6" eg:"0.15"`
	Diameter float64 `in:"diameter_mm" sym:"d" label:"Thread diameter" ok:">0" eg:"27"`
}
type loadKOut struct {
	Preload float64 `out:"preload_kN" sym:"F" label:"Load in the bolt"`
}

type frictionGeometry struct {
	Diameter   float64
	Pitch      float64
	D2         float64
	Bearing    float64
	MuThread   float64
	MuHead     float64
	Prevailing float64
	HalfAngle  float64
	Method     string
}

func (g frictionGeometry) friction() preload.Friction {
	return preload.Friction{D: g.Diameter, Pitch: g.Pitch, D2: g.D2, BearingMean: g.Bearing, MuThread: g.MuThread,
		MuHead: g.MuHead, PrevailingNm: g.Prevailing, HalfAngleDeg: g.HalfAngle, Exact: g.Method == "exact"}
}

type torqueIn struct {
	Preload    float64 `in:"preload_kN" sym:"F" label:"Load wanted" ok:">0" eg:"148"`
	MuThread   float64 `in:"mu_thread" sym:"μt" label:"Friction in the thread" ok:"0.01..0.6" eg:"0.11"`
	MuHead     float64 `in:"mu_head" sym:"μh" label:"Friction under the nut" ok:"0.01..0.6" eg:"0.11"`
	Diameter   float64 `in:"diameter_mm" sym:"d" label:"Thread diameter" ok:">0" eg:"27"`
	Pitch      float64 `in:"pitch_mm" sym:"P" label:"Pitch" ok:">0" eg:"3"`
	D2         float64 `in:"d2_mm" sym:"d2" label:"Mean thread diameter" ok:">0" eg:"25.051"`
	Bearing    float64 `in:"bearing_mean_mm" sym:"Dm" label:"Mean diameter of the face" ok:">0" eg:"35.5"`
	Prevailing float64 `in:"prevailing_Nm" sym:"Tp" label:"Prevailing torque" help:"Of a locking nut, felt before it seats." ok:">=0" def:"0"`
	HalfAngle  float64 `in:"half_angle_deg" sym:"α" label:"Half thread angle" ok:">=0,<60" def:"30"`
	Method     string  `in:"method" label:"Formula" one:"approx exact" def:"approx"`
}
type loadIn struct {
	Torque     float64 `in:"torque_Nm" sym:"T" label:"Torque at the nut" ok:">0" eg:"595"`
	MuThread   float64 `in:"mu_thread" sym:"μt" label:"Friction in the thread" ok:"0.01..0.6" eg:"0.11"`
	MuHead     float64 `in:"mu_head" sym:"μh" label:"Friction under the nut" ok:"0.01..0.6" eg:"0.11"`
	Diameter   float64 `in:"diameter_mm" sym:"d" label:"Thread diameter" ok:">0" eg:"27"`
	Pitch      float64 `in:"pitch_mm" sym:"P" label:"Pitch" ok:">0" eg:"3"`
	D2         float64 `in:"d2_mm" sym:"d2" label:"Mean thread diameter" ok:">0" eg:"25.051"`
	Bearing    float64 `in:"bearing_mean_mm" sym:"Dm" label:"Mean diameter of the face" ok:">0" eg:"35.5"`
	Prevailing float64 `in:"prevailing_Nm" sym:"Tp" label:"Prevailing torque" ok:">=0" def:"0"`
	HalfAngle  float64 `in:"half_angle_deg" sym:"α" label:"Half thread angle" ok:">=0,<60" def:"30"`
	Method     string  `in:"method" label:"Formula" one:"approx exact" def:"approx"`
}
type torqueOut struct {
	Torque    float64 `out:"torque_Nm" sym:"T" label:"Torque at the nut"`
	PitchNm   float64 `out:"pitch_Nm" sym:"Ta" label:"Stretches the bolt"`
	ThreadNm  float64 `out:"thread_Nm" sym:"Tb" label:"Rubs in the thread"`
	HeadNm    float64 `out:"head_Nm" sym:"Tc" label:"Rubs under the nut"`
	PitchPct  float64 `out:"pitch_pct" sym:"qa" label:"Stretches the bolt"`
	ThreadPct float64 `out:"thread_pct" sym:"qb" label:"Rubs in the thread"`
	HeadPct   float64 `out:"head_pct" sym:"qc" label:"Rubs under the nut"`
	K         float64 `out:"K" sym:"K" label:"Nut factor that this is"`
}
type loadOut struct {
	Preload   float64 `out:"preload_kN" sym:"F" label:"Load in the bolt"`
	PitchNm   float64 `out:"pitch_Nm" sym:"Ta" label:"Stretches the bolt"`
	ThreadNm  float64 `out:"thread_Nm" sym:"Tb" label:"Rubs in the thread"`
	HeadNm    float64 `out:"head_Nm" sym:"Tc" label:"Rubs under the nut"`
	PitchPct  float64 `out:"pitch_pct" sym:"qa" label:"Stretches the bolt"`
	ThreadPct float64 `out:"thread_pct" sym:"qb" label:"Rubs in the thread"`
	HeadPct   float64 `out:"head_pct" sym:"qc" label:"Rubs under the nut"`
	K         float64 `out:"K" sym:"K" label:"Nut factor that this is"`
}

type percentIn struct {
	Basis    string  `in:"basis" label:"Percent of" one:"yield proof tensile" def:"yield"`
	Percent  float64 `in:"percent" sym:"p" label:"Percent" ok:">0,<=100" eg:"60"`
	Strength float64 `in:"strength_MPa" sym:"R" label:"That strength" help:"A grade fills in its yield." ok:">0" eg:"660"`
	As       float64 `in:"As_mm2" sym:"As" label:"Stress area" ok:">0" eg:"459"`
}
type percentOut struct {
	Preload    float64 `out:"preload_kN" sym:"F" label:"Load in the bolt"`
	Stress     float64 `out:"stress_MPa" sym:"σ" label:"Stress"`
	AboveUsual bool    `out:"above_usual" label:"More than usual"`
}

type stressIn struct {
	Preload  float64  `in:"preload_kN" sym:"F" label:"Load in the bolt" ok:">0" eg:"148"`
	Torque   float64  `in:"thread_torque_Nm" sym:"M" label:"Torque in the thread" help:"Pitch and thread part only, without the nut face." ok:">=0" eg:"306"`
	Ds       float64  `in:"ds_mm" sym:"ds" label:"Stress diameter" ok:">0" eg:"24.19"`
	Modulus  string   `in:"modulus" label:"Torsion section" one:"elastic plastic" def:"elastic"`
	Residual float64  `in:"residual_torsion" sym:"r" label:"Torsion that stays" ok:"0..1" def:"0.5"`
	Yield    *float64 `in:"yield_MPa" sym:"Re" label:"Yield" ok:">0" eg:"660"`
}
type stressOut struct {
	Tightening float64  `out:"vm_tightening_MPa" sym:"σv" label:"Stress while tightening"`
	Residual   float64  `out:"vm_residual_MPa" sym:"σr" label:"Stress afterwards"`
	UtilTight  *float64 `out:"util_tightening_pct" sym:"u" label:"Of yield, while tightening"`
	UtilAfter  *float64 `out:"util_residual_pct" sym:"ur" label:"Of yield, afterwards"`
	Sigma      float64  `out:"sigma_MPa" sym:"σ" label:"Tension"`
	Tau        float64  `out:"tau_MPa" sym:"τ" label:"Torsion"`
}

const frictionSource = "ISO 16047, VDI 2230, textbooks"

func init() {
	const plausible = "Nut factors outside 0.05 to 0.6 and friction outside 0.01 to 0.6 are taken for typing errors."
	add(detail{group: gTorque, name: "torque_from_preload_k", title: "Torque from load, by nut factor",
		words: "how much torque, K factor, quick torque", source: "definition of the nut factor", room: "preload",
		limits: plausible, drawing: "bolt"},
		func(w *working.Working, in torqueKIn) (torqueKOut, error) {
			t, err := preload.TorqueFromK(w, quantity.Force(in.Preload), in.K, quantity.Length(in.Diameter))
			return torqueKOut{float64(t)}, err
		})
	add(detail{group: gTorque, name: "preload_from_torque_k", title: "Load from torque, by nut factor",
		words: "what load does this torque give, clamp load, K factor", source: "definition of the nut factor",
		room: "preload", limits: plausible, drawing: "bolt"},
		func(w *working.Working, in loadKIn) (loadKOut, error) {
			f, err := preload.FromTorqueK(w, quantity.Torque(in.Torque), in.K, quantity.Length(in.Diameter))
			return loadKOut{float64(f)}, err
		})
	add(detail{group: gTorque, name: "torque_from_preload", title: "Torque from load, by friction",
		words: "where does the torque go, friction, torque split, how much torque", source: frictionSource,
		room: "preload", limits: plausible, drawing: "bolt"},
		func(w *working.Working, in torqueIn) (torqueOut, error) {
			if err := quantity.Limits(in); err != nil {
				return torqueOut{}, err
			}
			t, err := frictionGeometry{in.Diameter, in.Pitch, in.D2, in.Bearing, in.MuThread, in.MuHead, in.Prevailing,
				in.HalfAngle, in.Method}.friction().TorqueAt(w, quantity.Force(in.Preload))
			return torqueOut{t.TorqueNm, t.PitchNm, t.ThreadNm, t.HeadNm, t.PitchPct, t.ThreadPct, t.HeadPct, t.K}, err
		})
	add(detail{group: gTorque, name: "preload_from_torque", title: "Load from torque, by friction",
		words: "clamp load, preload, what load, torque split", source: frictionSource, room: "preload",
		limits: plausible, drawing: "bolt"},
		func(w *working.Working, in loadIn) (loadOut, error) {
			if err := quantity.Limits(in); err != nil {
				return loadOut{}, err
			}
			t, err := frictionGeometry{in.Diameter, in.Pitch, in.D2, in.Bearing, in.MuThread, in.MuHead, in.Prevailing,
				in.HalfAngle, in.Method}.friction().PreloadAt(w, quantity.Torque(in.Torque))
			return loadOut{t.PreloadKN, t.PitchNm, t.ThreadNm, t.HeadNm, t.PitchPct, t.ThreadPct, t.HeadPct, t.K}, err
		})
	add(detail{group: gTorque, name: "loosening_torque", title: "Torque to loosen", words: "undo, break loose, removal",
		source: frictionSource, room: "preload", limits: "An estimate: aged and rusty joints usually take more.",
		drawing: "bolt"},
		func(w *working.Working, in torqueIn) (preload.LooseningResult, error) {
			if err := quantity.Limits(in); err != nil {
				return preload.LooseningResult{}, err
			}
			return frictionGeometry{in.Diameter, in.Pitch, in.D2, in.Bearing, in.MuThread, in.MuHead, in.Prevailing,
				in.HalfAngle, in.Method}.friction().Loosening(w, quantity.Force(in.Preload))
		})
	add(detail{group: gTorque, name: "preload_from_percent", title: "Load from a percent of yield",
		words: "60 percent of yield, proof load, bolt stress", source: "definition", room: "preload", thread: true,
		limits: "Strength at room temperature."},
		func(w *working.Working, in percentIn) (percentOut, error) {
			s, f, above, err := preload.FromPercent(w, in.Basis, in.Percent, quantity.Stress(in.Strength),
				quantity.Area(in.As))
			return percentOut{float64(f), float64(s), above}, err
		})
	add(detail{group: gTorque, name: "assembly_preload_yield", title: "Most torque for a metric bolt",
		words: "maximum torque, 90 percent of yield, table value", source: "VDI 2230; agrees with its printed tables",
		limits: "Metric threads, new bolts, room temperature.", thread: true, drawing: "bolt"},
		preload.AssemblyPreloadYield)
	add(detail{group: gTorque, name: "combined_stress", title: "Stress with twist",
		words: "von Mises, torsion, while tightening, yield", source: "VDI 2230", room: "preload",
		limits: "The torque in the thread only, without the nut face."},
		func(w *working.Working, in stressIn) (stressOut, error) {
			if err := quantity.Limits(in); err != nil {
				return stressOut{}, err
			}
			yield := 0.0
			if in.Yield != nil {
				yield = *in.Yield
			}
			s, err := preload.CombinedStress(w, quantity.Force(in.Preload), quantity.Torque(in.Torque),
				quantity.Length(in.Ds), in.Modulus == "plastic", in.Residual, quantity.Stress(yield))
			out := stressOut{Tightening: s.VMTightening, Residual: s.VMResidual, Sigma: s.Sigma, Tau: s.Tau}
			if in.Yield != nil {
				out.UtilTight, out.UtilAfter = &s.UtilTighteningPct, &s.UtilResidualPct
			}
			return out, err
		})
	add(detail{group: gTorque, name: "bearing_pressure", title: "Pressure under the nut",
		words: "crush, soft flange, washer, surface pressure", source: "definition", thread: true,
		limits: "The limit comes from the clamped material."}, preload.BearingPressure)
	add(detail{group: gTorque, name: "engagement_length", title: "Thread engagement",
		words:  "how deep, tapped hole, strip, aluminium body, thread length",
		source: "formulas of the FED-STD-H28 type, textbooks",
		limits: "Add about a pitch for chamfers. Use the highest strength of the bolt when it must break first."},
		preload.EngagementLength)
	add(detail{group: gTorque, name: "preload_scatter", title: "Scatter of a method",
		words:  "accuracy, how good is torque, spread, impact wrench",
		source: "NASA preload criteria; VDI 2230 tightening factors", room: "preload",
		limits: "A spread measured on site replaces the table."},
		func(w *working.Working, in scatterIn) (scatterOut, error) {
			spread := 0.0
			if in.Spread != nil {
				spread = *in.Spread
			}
			s, err := preload.MethodScatter(w, quantity.Force(in.Preload), in.Method, spread)
			return scatterOut{s.MinKN, s.MaxKN, s.SpreadPct, s.AlphaA}, err
		})
	add(detail{group: gTorque, name: "preload_band", title: "Load band of a torque",
		words: "worst case, friction spread, could it yield", source: "definition; worst case", room: "preload",
		limits: "A worst case: tool and friction at their ends together.", drawing: "band", thread: true},
		func(w *working.Working, in bandIn) (bandOut, error) {
			if err := quantity.Limits(in); err != nil {
				return bandOut{}, err
			}
			r, err := preload.PreloadBand(w, quantity.Torque(in.Torque), quantity.Length(in.Diameter),
				fastener.Band{Low: in.KLow, Typ: in.KTyp, High: in.KHigh}, in.Accuracy)
			out := bandOut{Typ: r.TypKN, Min: r.MinKN, Max: r.MaxKN, Alpha: r.AlphaA}
			if err == nil && in.Area != nil && in.Yield != nil {
				load, q := preload.AgainstYield(w, quantity.Force(r.MaxKN), quantity.Area(*in.Area),
					quantity.Stress(*in.Yield))
				fy := float64(load)
				out.Yield, out.Most = &fy, &q
			}
			return out, err
		})
	add(detail{group: gTorque, name: "combined_uncertainty", title: "Combine sources of scatter",
		words: "uncertainty of preload, root sum square", source: "ISO/IEC Guide 98-3",
		limits: "Independent errors, all relative to the same load.",
		example: map[string]any{"components": []any{map[string]any{"half_width_pct": "4",
			"distribution": "rectangular"}, map[string]any{"half_width_pct": "25", "distribution": "normal"}}}},
		preload.CombinedUncertainty)

	add(detail{group: gLubricant, name: "lubricant_condition", title: "Friction of a condition",
		words: "nut factor, K, moly, anti-seize, dry, friction", source: "own table: typical, confirm by test",
		room: "fastener", limits: "For orientation. Lot, finish, cleanliness, washer and re-use move it: use the " +
			"whole band."},
		func(w *working.Working, in lubricantIn) (lubricantOut, error) {
			l, err := fastener.LubricantCondition(in.Condition)
			if err != nil {
				return lubricantOut{}, err
			}
			w.LookUp("K", "nut factor", l.K.Typ, "", l.Source.Text())
			w.Take("K holds for thread and face together, lubricated the same.")
			w.Warn(l.Note)
			return lubricantOut{l.K.Typ, l.K.Low, l.K.High, l.MuThread.Low, l.MuThread.Typ, l.MuThread.High,
				l.MuHead.Low, l.MuHead.Typ, l.MuHead.High, l.NotForTorqueControl}, nil
		})
	add(detail{group: gLubricant, name: "choose_nut_factor", title: "Which nut factor counts",
		words: "maker, site value, precedence, authority", source: "order of authority, own rule", room: "fastener",
		limits: "The maker's tested value, one measured on site, one laid down by the project, then the library."},
		func(w *working.Working, in chooseIn) (chooseOut, error) {
			if err := quantity.Limits(in); in.Condition != "" && err != nil {
				return chooseOut{}, err
			}
			var given []fastener.KValue
			for _, x := range []struct {
				source    fastener.KSource
				k, spread *float64
			}{{fastener.KMaker, in.Maker, in.MakerSpread}, {fastener.KSite, in.Site, in.SiteSpread},
				{fastener.KProject, in.Project, in.ProjectSpread}} {
				if x.k != nil {
					v := fastener.KValue{Source: x.source, K: *x.k}
					if x.spread != nil {
						v.SpreadPct = *x.spread
					}
					given = append(given, v)
				}
			}
			src, b, err := fastener.ChooseNutFactor(given, in.Condition)
			if err != nil {
				return chooseOut{}, err
			}
			w.LookUp("K", "nut factor", b.Typ, "", src.Text())
			return chooseOut{b.Typ, b.Low, b.High, string(src)}, nil
		})
	add(detail{group: gLubricant, name: "lubricant_mismatch", title: "Wrong lubricant, same torque",
		words: "dry instead of lubricated, over-tightened, K changed, friction sensitivity", source: "definition",
		room: "preload", limits: "A warning, never a conversion to work by."},
		func(w *working.Working, in mismatchIn) (preload.MismatchResult, error) {
			if err := quantity.Limits(in); err != nil {
				return preload.MismatchResult{}, err
			}
			limit := 0.0
			if in.Limit != nil {
				limit = *in.Limit
			}
			m, err := preload.LubricantMismatch(w, quantity.Torque(in.Torque), quantity.Length(in.Diameter), in.Assumed,
				in.Actual, quantity.Force(limit))
			out := preload.MismatchResult{Actual: m.ActualKN, Intended: m.IntendedKN, Ratio: m.Ratio,
				Restoring: m.RestoringNm}
			if in.Limit != nil {
				out.Over = &m.OverLimit
			}
			return out, err
		})
	add(detail{group: gLubricant, name: "lubricant_mismatch_friction", title: "Wrong lubricant, by friction",
		words: "friction in thread and face, other paste", source: frictionSource,
		limits: "A warning, never a conversion to work by."}, preload.FrictionMismatch)

	add(detail{group: gGasket, name: "gasket_ring_area", title: "Gasket area", words: "ring, gasket size",
		source: "geometry", limits: "Flat rings."}, gasket.RingArea)
	add(detail{group: gGasket, name: "relaxation_allowance", title: "Allow for relaxation",
		words: "creep, load loss, embedding, how much more", source: "definition",
		limits: "Losses one after another; at least a tenth must stay."}, gasket.RelaxationAllowance)
	add(detail{group: gGasket, name: "flange_bolt_stress", title: "Bolt stress of a flange",
		words:  "flange torque, gasket stress, how tight a flange, bolt-up",
		source: "joint-component approach as in ASME PCC-1 and EN 1591-type thinking, own wording", thread: true,
		limits: "When the gasket would not seat or hold no torque may be issued without an engineer."},
		gasket.BoltStress)

	add(detail{group: gPressure, name: "pressure_end_force", title: "Force of the pressure",
		words: "end force, blow-off, hydrostatic", source: "definition of pressure",
		limits: "Acts on the diameter where the seal is."}, pressure.EndForce)
	add(detail{group: gPressure, name: "test_pressure", title: "Test pressure",
		words: "hydrotest, pressure test, gauge range", source: "form of ASME VIII-1 and B31.3",
		limits: "The code in force gives factor and hold."}, pressure.TestPressure)
	add(detail{group: gPressure, name: "pneumatic_steps", title: "Steps of a pneumatic test",
		words: "air test, raise pressure, steps", source: "scheme of UG-100 of ASME VIII-1; cap as in B31.3",
		limits: "Permission, distance and barriers follow site rules."}, pressure.PneumaticSteps)
	add(detail{group: gPressure, name: "pressure_decay", title: "Pressure decay",
		words: "leak test, pressure drop, leak rate", source: "ideal gas",
		limits: "Closed volume of even temperature."}, pressure.Decay)
	add(detail{group: gPressure, name: "gas_precharge", title: "Gas precharge",
		words: "accumulator, nitrogen, bladder, precharge temperature", source: "ideal gas; limits are habits",
		limits: "The maker's figures govern. A transport pressure is another figure."}, pressure.Precharge)
	add(detail{group: gPressure, name: "gas_pressure_temperature", title: "Gas pressure at another temperature",
		words: "nitrogen warm, cold morning, transport pressure", source: "ideal gas",
		limits: "Closed volume; tell transport from service pressure."}, pressure.GasPressure)
	add(detail{group: gPressure, name: "stored_energy", title: "Energy in a gas test",
		words:  "how dangerous, distance, barricade, stored energy",
		source: "isentropic expansion and cube-root scaling as in ASME PCC-2", limits: pressure.EnergyCaution},
		pressure.StoredEnergy)
}
