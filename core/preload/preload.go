// Package preload relates the torque at a nut to the load in its bolt, both ways, with the spread that friction brings.
// Units: torque N·m, preload kN, lengths mm, stresses MPa (kN·mm = N·m, so no factor appears). It must never choose a
// friction or a target; it is given them.
package preload

import (
	"math"

	"dynacor/core/fastener"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

// CheckK refuses a nut factor outside 0.05…0.6, which is a typing error.
func CheckK(name string, k float64) error { return quantity.Between(name, k, 0.05, 0.6) }

// TorqueFromK gives T = K·d·F. Source: definition of the nut factor.
func TorqueFromK(w *working.Working, preload quantity.Force, k float64, d quantity.Length) (quantity.Torque, error) {
	if err := quantity.Positive("preload", preload, "diameter", d); err != nil {
		return 0, err
	}
	if err := CheckK("K", k); err != nil {
		return 0, err
	}
	return quantity.Torque(w.Step("T", "K · F · d", k*float64(d)*float64(preload))), nil
}

// FromTorqueK gives F = T/(K·d).
func FromTorqueK(w *working.Working, torque quantity.Torque, k float64, d quantity.Length) (quantity.Force, error) {
	if err := quantity.Positive("torque", torque, "diameter", d); err != nil {
		return 0, err
	}
	if err := CheckK("K", k); err != nil {
		return 0, err
	}
	return quantity.Force(w.Step("F", "T / (K · d)", float64(torque)/(k*float64(d)))), nil
}

// Friction is the input of the friction formula. HalfAngleDeg 0 means 30° (ISO and UN threads).
type Friction struct {
	D, Pitch, D2, BearingMean float64 // mm
	MuThread, MuHead          float64
	PrevailingNm              float64
	HalfAngleDeg              float64
	Exact                     bool // with the lead angle instead of the usual short form
}

// Levers are the lever arms in mm: stretching the bolt, thread friction, bearing friction; torque = force × their sum.
type Levers struct{ Pitch, Thread, Head float64 }

// Sum of the lever arms in mm.
func (l Levers) Sum() float64 { return l.Pitch + l.Thread + l.Head }

func (f Friction) halfAngle() float64 {
	if f.HalfAngleDeg == 0 {
		return 30
	}
	return f.HalfAngleDeg
}

// Levers works out the lever arms. Source: ISO 16047, VDI 2230; textbooks. Refused: friction outside 0.01…0.6, a pitch
// of half the pitch diameter or more, a bearing not wider than the thread, a negative prevailing torque.
func (f Friction) Levers(w *working.Working) (Levers, error) {
	if err := quantity.Positive("diameter", f.D, "pitch", f.Pitch, "d2", f.D2, "bearing", f.BearingMean); err != nil {
		return Levers{}, err
	}
	if err := quantity.Between("mu_thread", f.MuThread, 0.01, 0.6); err != nil {
		return Levers{}, err
	}
	if err := quantity.Between("mu_head", f.MuHead, 0.01, 0.6); err != nil {
		return Levers{}, err
	}
	alpha := f.halfAngle()
	switch {
	case f.Pitch >= f.D2/2:
		return Levers{}, quantity.Refuse("pitch", "Check the thread.", "%s mm is half the pitch diameter or more",
			quantity.Text(f.Pitch))
	case f.D2 >= f.D:
		return Levers{}, quantity.Refuse("d2", "Check the thread.", "is not below the nominal diameter")
	case f.BearingMean <= f.D2:
		return Levers{}, quantity.Refuse("bearing", "Check nut and hole.", "is not wider than the thread")
	case alpha < 0 || alpha >= 60:
		return Levers{}, quantity.Refuse("half_angle", "Check the thread form.", "is outside 0 to 60 degrees")
	case f.PrevailingNm < 0 || !quantity.Finite(f.PrevailingNm):
		return Levers{}, quantity.Refuse("prevailing", "Enter zero or more.", "is negative")
	}
	cos := math.Cos(alpha * math.Pi / 180)
	const source = "ISO 16047, VDI 2230"
	l := Levers{Pitch: w.Calc("a", "lever that stretches the bolt", "P / (2 · π)", f.Pitch/(2*math.Pi),
		quantity.Millimetre, source)}
	if f.Exact {
		phi, rho := math.Atan(f.Pitch/(math.Pi*f.D2)), math.Atan(f.MuThread/cos)
		w.Calc("φ", "lead angle", "atan(P / (π · d2))", quantity.Deg(phi), "deg", "")
		w.Calc("ρ", "friction angle", "atan(μt / cos(α))", quantity.Deg(rho), "deg", "")
		l.Thread = w.Calc("b", "lever of friction in the thread", "d2 / 2 · tan(φ + ρ) - a",
			f.D2/2*math.Tan(phi+rho)-l.Pitch, quantity.Millimetre, source)
	} else {
		l.Thread = w.Calc("b", "lever of friction in the thread", "μt · d2 / (2 · cos(α))", f.MuThread*f.D2/(2*cos),
			quantity.Millimetre, source)
	}
	l.Head = w.Calc("c", "lever of friction under the nut", "μh · Dm / 2", f.MuHead*f.BearingMean/2,
		quantity.Millimetre, source)
	return l, nil
}

// Torque is a tightening torque taken apart.
type Torque struct {
	TorqueNm, PitchNm, ThreadNm, HeadNm float64
	PitchPct, ThreadPct, HeadPct        float64 // shares without prevailing torque
	K                                   float64 // lever sum over d
	PreloadKN                           float64
}

// TorqueAt gives the torque for a preload by the friction formula.
func (f Friction) TorqueAt(w *working.Working, preload quantity.Force) (Torque, error) {
	l, err := f.Levers(w)
	if err != nil {
		return Torque{}, err
	}
	if err := quantity.Positive("preload", preload); err != nil {
		return Torque{}, err
	}
	return f.split(w, l, float64(preload)), nil
}

// split takes the torque that holds preloadKN apart.
func (f Friction) split(w *working.Working, l Levers, preloadKN float64) Torque {
	s := l.Sum()
	return Torque{PreloadKN: preloadKN, PitchNm: w.Step("Ta", "F · a", preloadKN*l.Pitch),
		ThreadNm: w.Step("Tb", "F · b", preloadKN*l.Thread), HeadNm: w.Step("Tc", "F · c", preloadKN*l.Head),
		TorqueNm: w.Step("T", "F · (a + b + c) + Tp", preloadKN*s+f.PrevailingNm),
		K:        w.Step("K", "(a + b + c) / d", s/f.D),
		PitchPct: w.Step("qa", "100 · a / (a + b + c)", 100*l.Pitch/s), ThreadPct: w.Step("qb", "100 · b / (a + b + c)",
			100*l.Thread/s), HeadPct: w.Step("qc", "100 · c / (a + b + c)", 100*l.Head/s)}
}

// PreloadAt gives the preload for a torque. Refused also: prevailing torque not below the torque.
func (f Friction) PreloadAt(w *working.Working, torque quantity.Torque) (Torque, error) {
	l, err := f.Levers(w)
	if err != nil {
		return Torque{}, err
	}
	if err := quantity.Positive("torque", torque); err != nil {
		return Torque{}, err
	}
	if f.PrevailingNm >= float64(torque) {
		return Torque{}, quantity.Refuse("prevailing", "Check both torques.", "is not below the tightening torque")
	}
	return f.split(w, l, w.Step("F", "(T - Tp) / (a + b + c)", (float64(torque)-f.PrevailingNm)/l.Sum())), nil
}

// Stress in the bolt while and after tightening, MPa; utilisation in percent of yield (0 when no yield is given).
type Stress struct {
	Sigma, Tau, VMTightening, VMResidual float64
	UtilTighteningPct, UtilResidualPct   float64
}

// CombinedStress gives tension, torsion and von Mises stress on the stress diameter ds for a preload and the torque
// in the thread (pitch and thread part only). plastic uses the fully plastic torsion section; residual
// (0…1) is the share of torsion that stays. Source: VDI 2230.
func CombinedStress(
	w *working.Working,
	preload quantity.Force,
	thread quantity.Torque,
	ds quantity.Length,
	plastic bool,
	residual float64,
	yield quantity.Stress,
) (Stress, error) {
	if err := quantity.Positive("preload", preload, "ds", ds); err != nil {
		return Stress{}, err
	}
	preloadKN, threadTorqueNm, d, re := float64(preload), float64(thread), float64(ds), float64(yield)
	if threadTorqueNm < 0 || !quantity.Finite(threadTorqueNm) {
		return Stress{}, quantity.Refuse("torque", "Enter zero or more.", "is negative")
	}
	if err := quantity.Between("residual_torsion", residual, 0, 1); err != nil {
		return Stress{}, err
	}
	div, section := 16.0, "M · 1000 / (π · ds ^ 3 / 16)"
	if plastic {
		div, section = 12, "M · 1000 / (π · ds ^ 3 / 12)"
	}
	s := Stress{Sigma: w.Step("σ", "F · 1000 / (π / 4 · ds ^ 2)", preloadKN*1000/(math.Pi/4*d*d)),
		Tau: w.Step("τ", section, threadTorqueNm*1000/(math.Pi*d*d*d/div))}
	vm := func(t float64) float64 { return math.Sqrt(s.Sigma*s.Sigma + 3*t*t) }
	s.VMTightening, s.VMResidual = w.Step("σv", "√(σ ^ 2 + 3 · τ ^ 2)", vm(s.Tau)),
		w.Step("σr", "√(σ ^ 2 + 3 · (r · τ) ^ 2)", vm(residual*s.Tau))
	if re > 0 {
		s.UtilTighteningPct, s.UtilResidualPct = w.Step("u", "100 · σv / Re", 100*s.VMTightening/re),
			w.Step("ur", "100 · σr / Re", 100*s.VMResidual/re)
	}
	return s, nil
}

// FromPercent gives stress and preload for a percent of a strength; aboveUsual is true above 90 % of yield,
// 100 % of proof, 75 % of tensile strength.
func FromPercent(w *working.Working, basis string, percent float64, strength quantity.Stress,
	as quantity.Area) (stress quantity.Stress, preload quantity.Force, aboveUsual bool, err error) {
	usual, ok := map[string]float64{"yield": 90, "proof": 100, "tensile": 75}[basis]
	if !ok {
		return 0, 0, false, quantity.Refuse("basis", "Choose yield, proof or tensile.", "%q is not a basis", basis)
	}
	if err := quantity.Positive("percent", percent, "strength", strength, "As", as); err != nil {
		return 0, 0, false, err
	}
	if percent > 100 {
		return 0, 0, false, quantity.Refuse("percent", "Enter 100 or less.", "is %s", quantity.Text(percent))
	}
	stress = quantity.Stress(w.Step("σ", "p / 100 · R", percent/100*float64(strength)))
	if percent > usual {
		w.Warn(quantity.Text(percent) + " % is above the usual " + quantity.Text(usual) + " % of " + basis + ".")
	}
	preload = quantity.Force(w.Step("F", "σ · As / 1000", float64(stress)*float64(as)/1000))
	return stress, preload, percent > usual, nil
}

// Mismatch says what one torque does with a friction other than the planned one.
type Mismatch struct {
	IntendedKN, ActualKN float64
	Ratio                float64 // actual over intended
	RestoringNm          float64 // torque that gives the intended preload
	OverLimit            bool
}

// LubricantMismatch compares nut factors at one torque; limit 0 means no limit.
func LubricantMismatch(w *working.Working, torque quantity.Torque, d quantity.Length, kAssumed, kActual float64,
	limit quantity.Force) (Mismatch, error) {
	want, err := FromTorqueK(nil, torque, kAssumed, d)
	if err != nil {
		return Mismatch{}, err
	}
	if err := CheckK("K_actual", kActual); err != nil {
		return Mismatch{}, err
	}
	torqueNm := float64(torque)
	m := Mismatch{
		IntendedKN:  w.Step("Fi", "T / (K1 · d)", float64(want)),
		ActualKN:    w.Step("Fa", "T / (K2 · d)", torqueNm/(kActual*float64(d))),
		Ratio:       w.Step("q", "K1 / K2", kAssumed/kActual),
		RestoringNm: w.Step("Tr", "T · K2 / K1", torqueNm*kActual/kAssumed),
	}
	w.Warn("A warning, not a conversion: clean off and use what the plan says, or ask for another plan.")
	m.OverLimit = limit > 0 && m.ActualKN > float64(limit)
	return m, nil
}

// Scatter is the range of preloads of a tightening method.
type Scatter struct{ SpreadPct, MinKN, MaxKN, AlphaA float64 }

// Half-widths in percent as in NASA preload criteria; the last two from VDI 2230 tightening factors 1.4 and 4.
var scatter = map[string]float64{"torque_unlubricated": 35, "torque_plated": 30, "torque_lubricated": 25,
	"hydraulic_tension": 15, "load_indicating_washer": 10,
	"ultrasonic": 10, "elongation": 5, "instrumented_bolt": 1, "angle_or_yield": 17, "impact_uncontrolled": 60}

// MethodScatter gives the preload range of a method; spreadPct above 0 replaces the table.
func MethodScatter(w *working.Working, preload quantity.Force, method string, spreadPct float64) (Scatter, error) {
	if err := quantity.Positive("preload", preload); err != nil {
		return Scatter{}, err
	}
	s, source := spreadPct, "measured on site"
	if s == 0 {
		v, ok := scatter[method]
		if !ok {
			return Scatter{}, quantity.Refuse("method", "Choose a listed method or enter the measured spread.",
				"%q is not known", method)
		}
		s, source = v, "NASA preload criteria; VDI 2230 for angle and impact"
	}
	if s < 0 || s >= 100 || !quantity.Finite(s) {
		return Scatter{}, quantity.Refuse("spread", "Enter a spread from 0 to below 100 %.", "is %s %%",
			quantity.Text(s))
	}
	f, preloadKN := s/100, float64(preload)
	w.LookUp("s", "half-width of the spread", s, "pct", source)
	return Scatter{s, w.Step("Fmin", "F · (1 - s / 100)", preloadKN*(1-f)),
		w.Step("Fmax", "F · (1 + s / 100)", preloadKN*(1+f)), w.Step("αA", "Fmax / Fmin", (1+f)/(1-f))}, nil
}

// AgainstYield gives the load at which a bolt of stress area as yields in pure tension, and how much of it most is, in
// percent. Twist while tightening brings yield sooner: see CombinedStress.
func AgainstYield(w *working.Working, most quantity.Force, as quantity.Area,
	yield quantity.Stress) (atYield quantity.Force, percent float64) {
	atYield = quantity.Force(w.Step("Fy", "As · Re / 1000", float64(as)*float64(yield)/1000))
	percent = w.Step("qy", "100 · Fmax / Fy", 100*float64(most)/float64(atYield))
	if percent > 100 {
		w.Warn("With the lowest friction the bolt could yield.")
	}
	return atYield, percent
}

// Range is the worst-case preload band of a torque, kN.
type Range struct{ MinKN, TypKN, MaxKN, AlphaA float64 }

// PreloadBand gives the preload range of a torque for a band of nut factors and a torque accuracy in percent.
func PreloadBand(w *working.Working, torque quantity.Torque, diameter quantity.Length, k fastener.Band,
	accuracyPct float64) (Range, error) {
	for _, v := range []float64{k.Low, k.Typ, k.High} {
		if err := CheckK("K", v); err != nil {
			return Range{}, err
		}
	}
	if k.Low > k.Typ || k.Typ > k.High {
		return Range{}, quantity.Refuse("K", "Enter low, typical and high in rising order.", "is not in rising order")
	}
	if accuracyPct < 0 || accuracyPct >= 100 || !quantity.Finite(accuracyPct) {
		return Range{}, quantity.Refuse("torque_accuracy", "Enter the tool's accuracy in percent.", "is %s %%",
			quantity.Text(accuracyPct))
	}
	typ, err := FromTorqueK(nil, torque, k.Typ, diameter)
	if err != nil {
		return Range{}, err
	}
	a, torqueNm, d := accuracyPct/100, float64(torque), float64(diameter)
	r := Range{MinKN: w.Step("Fmin", "T · (1 - x / 100) / (Kh · d)", torqueNm*(1-a)/(k.High*d)),
		TypKN: w.Step("F", "T / (Kt · d)", float64(typ)),
		MaxKN: w.Step("Fmax", "T · (1 + x / 100) / (Kl · d)", torqueNm*(1+a)/(k.Low*d))}
	r.AlphaA = w.Step("αA", "Fmax / Fmin", r.MaxKN/r.MinKN)
	w.Take("The worst case: tool error and friction at their ends together.")
	return r, nil
}
