package plan

import (
	"fmt"
	"math"
	"strings"

	"dynacor/core/preload"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// loads works out what the bolts then hold, with the spread.
func (m *maker) loads() error {
	p, geo := m, m.geo
	if m.Strength.Yield == 0 || m.Lubricant.K.Typ == 0 {
		return nil // nothing is known of the bolt but its torque
	}
	t, acc := p.FinalNm, 0.0
	if t == 0 {
		t = p.TargetNm
	}
	if s := p.InHand(); s != nil {
		acc = s.AccuracyPct()
	}
	if s := p.InHand(); s != nil && s.Method() == tool.ByTension {
		return m.tensioned(s)
	}
	r, err := preload.PreloadBand(nil, quantity.Torque(t), quantity.Length(geo.D), p.Lubricant.K, acc)
	if err != nil {
		return err
	}
	p.PreloadKN, p.PreloadMinKN, p.PreloadMaxKN = r.TypKN, r.MinKN, r.MaxKN
	w := working.New(m.title("Load in each bolt"))
	w.Calc("T", "torque at the nut", "setting", float64(t), quantity.NewtonMetre, "last setting of the plan")
	w.Supply("d", "nominal diameter", geo.D, quantity.Millimetre, "thread "+p.Thread.Text)
	w.LookUp("K", "nut factor, typical", p.Lubricant.K.Typ, "", p.Lubricant.Provenance())
	w.LookUp("Klow", "nut factor, low", p.Lubricant.K.Low, "", p.Lubricant.Name)
	w.LookUp("Khigh", "nut factor, high", p.Lubricant.K.High, "", p.Lubricant.Name)
	w.Supply("a", "accuracy of the tools", acc/100, "", "certificate")
	w.Calc("F", "load in each bolt", "T / (K × d)", r.TypKN, quantity.Kilonewton, "nut factor definition")
	w.Calc("Fmin", "least load", "T × (1 − a) / (Khigh × d)", r.MinKN, quantity.Kilonewton, "worst case")
	w.Calc("Fmax", "greatest load", "T × (1 + a) / (Klow × d)", r.MaxKN, quantity.Kilonewton, "worst case")
	w.LookUp("As", "tensile stress area", geo.As, "mm2", "ISO 898-1 / ASME B1.1")
	p.StressMPa = w.Calc("S", "stress in the bolt", "F / As", r.TypKN*1000/geo.As, quantity.Megapascal, "definition")
	p.StressMinMPa, p.StressMaxMPa = r.MinKN*1000/geo.As, r.MaxKN*1000/geo.As
	w.LookUp("Re", "minimum yield of "+p.Strength.Grade, p.Strength.Yield, quantity.Megapascal, p.Strength.Provenance())
	p.YieldPct = 100 * w.Calc("q", "share of yield", "S / Re", p.StressMPa/p.Strength.Yield, "", "definition")
	w.Take("The band is a worst case: friction and wrench error at their ends together.")
	if b, err := m.own.Bearing(p.Thread); err == nil {
		fr := preload.Friction{D: geo.D, Pitch: geo.Pitch, D2: geo.D2, BearingMean: b.Mean,
			MuThread: p.Lubricant.MuThread.Typ, MuHead: p.Lubricant.MuHead.Typ}
		if tq, err := fr.TorqueAt(nil, quantity.Force(r.TypKN)); err == nil {
			if st, err := preload.CombinedStress(nil, quantity.Force(r.TypKN), quantity.Torque(tq.PitchNm+tq.ThreadNm),
				quantity.Length(geo.Ds), false, 0.5, quantity.Stress(p.Strength.Yield)); err == nil {
				w.Calc("tau", "twist in the thread while the nut turns", "thread part of T over the section", st.Tau,
					quantity.Megapascal, "VDI 2230")
				w.Calc("Svm", "stress while tightening, with twist", "√( S² + 3 × tau² )", st.VMTightening,
					quantity.Megapascal, "VDI 2230")
				w.Take(fmt.Sprintf("Of the torque about %.0f %% stretches the bolt, %.0f %% is lost in the thread, "+
					"%.0f %% under the nut.", tq.PitchPct, tq.ThreadPct, tq.HeadPct))
				if st.UtilTighteningPct > 90 {
					m.find(NearYield, "pct", fmt.Sprintf("%.0f", st.UtilTighteningPct))
				}
			}
		}
	}
	p.Workings = append(p.Workings, w)
	if p.StressMaxMPa > p.Strength.Yield {
		m.find(SpreadOverYield, "stress", fmt.Sprintf("%.0f", p.StressMaxMPa), "yield",
			fmt.Sprintf("%.0f", p.Strength.Yield))
	}
	if p.YieldPct > p.HouseRules.MaxYieldPct {
		m.find(AboveHouseYield, "pct", fmt.Sprintf("%.0f", p.YieldPct), "limit",
			fmt.Sprintf("%.0f", p.HouseRules.MaxYieldPct), "reason", p.HouseRules.Reasons["maxYieldPct"])
		p.NeedsApproval = append(p.NeedsApproval, fmt.Sprintf("%.0f %% of yield, house rule %.0f %%", p.YieldPct,
			p.HouseRules.MaxYieldPct))
	}
	return nil
}

// tensioned works out what a tensioner leaves in the bolts: friction has no part in it, the transfer loss has.
func (m *maker) tensioned(s *tool.SetUp) error {
	p, geo := m, m.geo
	t, _ := s.Of(tool.Tensioner)
	last := 0.0
	for _, ps := range p.Passes {
		if ps.Group == p.Code {
			last = math.Max(last, ps.Setting)
		}
	}
	share := float64(s.TorqueAt(last) / p.TargetNm)
	acc := s.AccuracyPct() / 100
	w := working.New(m.title("Load in each bolt"))
	w.Supply("ps", "pressure set", last, s.Driver().Unit, "last setting of the plan")
	w.LookUp("A", "piston area", t.AreaMM2, "mm2", t.Tag)
	w.LookUp("la", "transfer loss, constant part", t.LossA, "", t.Tag+", maker's curve")
	w.LookUp("lb", "transfer loss, part with d over L", t.LossB, "", t.Tag+", maker's curve")
	w.Supply("L", "clamp length", m.spec.ClampMM, quantity.Millimetre, m.source)
	p.PreloadKN = w.Calc("F", "load that stays in each bolt", "ps × A / ( la + lb × d / L )", share*p.targetKN(),
		quantity.Kilonewton, "piston force less the transfer loss")
	p.PreloadMinKN, p.PreloadMaxKN = p.PreloadKN*(1-acc), p.PreloadKN*(1+acc)
	p.StressMPa = w.Calc("S", "stress in the bolt", "F / As", p.PreloadKN*1000/geo.As, quantity.Megapascal,
		"definition")
	p.StressMinMPa, p.StressMaxMPa = p.PreloadMinKN*1000/geo.As, p.PreloadMaxKN*1000/geo.As
	w.LookUp("Re", "minimum yield of "+p.Strength.Grade, p.Strength.Yield, quantity.Megapascal, p.Strength.Provenance())
	p.YieldPct = 100 * w.Calc("q", "share of yield", "S / Re", p.StressMPa/p.Strength.Yield, "", "definition")
	w.Take(fmt.Sprintf("Gauge and curve may be off by %s %% together. Friction has no part in it.",
		quantity.Text(s.AccuracyPct())))
	p.Workings = append(p.Workings, w)
	return nil
}

// time estimates the work: every fastener in every pass, setting the tools, and what the procedure says that
// preparation, waiting and proof take.
func (p *Plan) time(fam procedure.Family) {
	pulls, sets := total(p.Passes)
	w := working.New("Time at the joint")
	bolts, tools := "bolts of every pass", "One wrench"
	if n := p.Choices.Together; n > 1 {
		bolts += ", those pulled at once as one"
		tools = fmt.Sprintf("%d tools with somebody at each", n)
	}
	w.Calc("N", "pulls in all passes", bolts, pulls, "", "plan")
	w.Supply("P", "settings of a tool", sets, "", "plan")
	w.Supply("t", "seconds a pull, with moving on", p.HouseRules.SecondsPerPull, "", "house rules")
	w.Supply("s", "seconds to set the wrench", p.HouseRules.SecondsPerPass, "", "house rules")
	w.Supply("M", "minutes of preparation, waiting and proof", fam.Minutes, "",
		fmt.Sprintf("procedure, version %d", fam.Version))
	p.Minutes = w.Calc("D", "minutes", "M + ( N × t + P × s ) / 60",
		fam.Minutes+(pulls*p.HouseRules.SecondsPerPull+sets*p.HouseRules.SecondsPerPass)/60, "", "definition")
	w.Take(fmt.Sprintf("%s. Preparation and proof take as long as they usually do at a %s.", tools,
		strings.ToLower(fam.Name)))
	p.Workings = append(p.Workings, w)
}
