package plan

import (
	"fmt"
	"math"
	"slices"
	"time"

	"dynacor/core/fastener"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// InHand is the set-up of the plan, nil while there is none.
func (p *Plan) InHand() *tool.SetUp {
	if p.SetUp != nil {
		return p.SetUp
	}
	if p.Wrench != nil {
		s := tool.Alone(*p.Wrench)
		return &s
	}
	return nil
}

// Settings gives what to set on a set-up for every pass, the check pass at the last setting, on the marks of its scale.
func (p *Plan) Settings(s tool.SetUp) ([]float64, error) {
	list, err := s.Settings(p.Choices.Scheme, p.TargetNm, p.AllowedMin, p.AllowedMax)
	if err != nil {
		return nil, err
	}
	return append(list, list[len(list)-1]), nil
}

// Fit judges a set-up for the passes of this plan still to come, from pass number from (0 the first), on a day; settings, for every
// pass, is nil when the stages cannot be set on it.
func (p *Plan) Fit(s tool.SetUp, from int, on time.Time) (settings []float64, problems []tool.Problem) {
	settings, err := p.Settings(s)
	if err == nil {
		return settings, s.Problems(p.TargetNm, settings[min(from, len(settings)-1):], p.HouseRules.MinFrac, on)
	}
	if v, off := s.Exact(p.TargetNm); off == nil && v > s.Driver().RatedMax {
		return nil, s.Problems(p.TargetNm, []float64{quantity.Significant(v, 3)}, p.HouseRules.MinFrac, on)
	}
	why, remedy := err.Error(), "Take another wrench."
	if r, ok := quantity.RefusalIn(err); ok {
		why, remedy = r.Why, r.Remedy
	}
	return nil, append(s.Problems(p.TargetNm, nil, p.HouseRules.MinFrac, on), tool.Problem{Code: "scale", What: why, Remedy: remedy})
}

// Need is what the plan looks for in the crib.
func (p *Plan) Need(on time.Time, busy map[string]string) tool.Need {
	n := tool.Need{Nm: p.TargetNm, LowNm: p.AllowedMin, HighNm: p.AllowedMax, Scheme: p.Choices.Scheme, AcrossFlats: p.AcrossFlatsMM, AdapterDeg: p.Choices.AdapterDeg,
		MinFrac: p.HouseRules.MinFrac, PreferredFrac: p.HouseRules.PreferredFrac, On: on, Busy: busy}
	if load := p.targetKN(); load > 0 {
		n.Bolt = &tool.Bolt{LoadKN: load, DiameterMM: p.Thread.DiameterMM, StressAreaMM2: p.StressAreaMM2, ClampMM: p.Specification.ClampMM, YieldMPa: p.Strength.Yield}
	}
	return n
}

// targetKN is the load that the whole target gives with the typical friction.
func (p *Plan) targetKN() float64 {
	if k := p.Lubricant.K.Typ * p.Thread.DiameterMM; k > 0 {
		return p.TargetNm / k
	}
	return 0
}

// OnJoint completes a set-up with what it gives on this joint: a tensioner pulls load, and the torque it stands for depends on the bolt.
func (p *Plan) OnJoint(s tool.SetUp) tool.SetUp {
	return s.OnJoint(p.Need(time.Time{}, nil))
}

// Hexagon is the size over the flats of the nut: as measured on site, else of the standard; 0 when it is not listed.
func Hexagon(t fastener.Thread, own fastener.Own) float64 {
	if n, ok := own.Nut(t); ok && n.AcrossFlats > 0 {
		return n.AcrossFlats
	}
	family := fastener.HexISO
	if t.System == fastener.UN {
		family = fastener.HexUNHeavy
	}
	h, err := fastener.HexSize(family, t.DiameterMM)
	if err != nil {
		return 0
	}
	return h.AcrossFlatsMM
}

// chooseSetUp judges every set-up of the crib and takes the chosen one, else the best that has no problem.
func (p *Plan) chooseSetUp(in Input) {
	need := p.Need(in.On, in.Busy)
	p.Offers = tool.Find(need, in.Tools)
	tags := p.Choices.Wrench
	if tags == "" && len(p.Offers) > 0 && p.Offers[0].Usable {
		tags = p.Offers[0].Tags
	}
	if tags == "" {
		p.Findings = append(p.Findings, working.Finding{Severity: working.Stop, Code: "no_wrench", What: "No wrench in the crib can take every stage.", Why: "Each stage from the lowest to the last must lie in a wrench's guaranteed range.", Remedy: "See the list of set-ups for what each lacks; add a tool, or choose another stage scheme."})
		return
	}
	s, err := tool.Pick(need, tags, in.Tools)
	if err != nil {
		what := tags + " cannot be used."
		if r, ok := quantity.RefusalIn(err); ok {
			what = r.Why + "."
		}
		p.Findings = append(p.Findings, working.Finding{Severity: working.Stop, Code: "no_wrench", What: what, Remedy: "Choose a set-up from the list."})
		return
	}
	p.Choices.Wrench = tags
	settings, problems := p.Fit(s, 0, in.On)
	for _, pr := range problems {
		p.Findings = append(p.Findings, working.Finding{Severity: working.Stop, Code: "wrench_" + pr.Code, What: pr.What + ".", Remedy: pr.Remedy})
	}
	for _, t := range s.String {
		if t.Kind == tool.Socket || t.Kind == tool.Hose {
			continue // there are others of the kind
		}
		for _, why := range []string{in.Busy[t.Tag], in.Wanted[t.Tag]} {
			if why != "" {
				p.Findings = append(p.Findings, working.Finding{Severity: working.Caution, Code: "tool_conflict", What: t.Tag + " " + why + ".", Why: "One tool cannot be at two joints.", Remedy: "Agree when it comes here, or choose another set-up."})
			}
		}
	}
	d := s.Driver()
	p.Wrench = &d
	if len(s.String) > 1 {
		p.SetUp = &s
	}
	if settings != nil {
		p.stages(s, settings)
	}
}

// stages writes the settings into the passes, with their working.
func (p *Plan) stages(s tool.SetUp, settings []float64) {
	d := s.Driver()
	if len(s.String) > 1 {
		p.Workings = append(p.Workings, s.Working(p.TargetNm))
	}
	ws := working.New("Stages on the scale of " + d.Tag)
	ws.Supply("g", "one mark of the scale", d.Graduation, d.Unit, d.Tag)
	exact, err := s.Exact(p.TargetNm)
	if err != nil {
		return
	}
	t := ws.Calc("T", "full value before rounding", "Tnut on this scale", exact, d.Unit, "torque at the nut, in the unit of the scale")
	last := settings[len(settings)-1]
	rounding, source := "T rounded to g", "own rule: half a mark goes up, never past the maximum"
	if d.Kind.Sets() == tool.ByPressure {
		rounding, source = "T rounded down to g", "own rule: a pressure never goes up to the next mark"
	}
	ws.Calc("full", "last setting", rounding, last, d.Unit, source)
	for i := range p.Passes {
		p.Passes[i].Setting = settings[i]
		p.Passes[i].TorqueNm = s.NmAt(settings[i])
		if p.Passes[i].Kind == StagePass && i < len(p.Passes)-2 {
			ws.Calc("S"+quantity.Text(float64(i+1)), "stage "+p.Passes[i].Name, quantity.Text(quantity.Significant(p.Passes[i].Percent, 4))+" % of full rounded to g", settings[i], d.Unit, "own rule")
		}
	}
	p.FinalNm = s.NmAt(last)
	ws.Take(fmt.Sprintf("Rounding changes the value by %s %%.", quantity.Text(quantity.Significant(100*(last-t)/t, 2))))
	p.Workings = append(p.Workings, ws)
	p.accuracy(s)
}

// accuracy compares what the set-up may really give at the nut with what the document allows.
func (p *Plan) accuracy(s tool.SetUp) {
	acc := s.AccuracyPct()
	lo, hi, err := tool.ToleranceBand(nil, p.FinalNm, acc, false)
	if err != nil {
		return
	}
	a := working.New("What the tools can promise")
	a.Supply("T", "torque at the nut", p.FinalNm, quantity.NewtonMetre, "last setting of the plan")
	a.Supply("a", "accuracy of "+s.Name(), acc/100, "", "certificate "+s.Driver().Certificate)
	a.Calc("low", "lowest true torque", "T × (1 − a)", lo, quantity.NewtonMetre, "ISO 6789-1")
	a.Calc("high", "highest true torque", "T × (1 + a)", hi, quantity.NewtonMetre, "ISO 6789-1")
	if len(s.String) > 1 {
		a.Take("The parts of the set-up are added: a worst case.")
	}
	if c, ok := s.Driver().CorrectionAt(p.Passes[len(p.Passes)-1].Setting); ok {
		a.Take(fmt.Sprintf("By its certificate %s gives %s %s more than it shows at this setting; the setting is not changed for it.", s.Driver().Tag, quantity.Text(quantity.Significant(c, 2)), s.Driver().Unit.Symbol()))
	}
	if p.AllowedMax > 0 {
		a.Supply("min", "least allowed", p.AllowedMin, quantity.NewtonMetre, p.Specification.Source())
		a.Supply("max", "most allowed", p.AllowedMax, quantity.NewtonMetre, p.Specification.Source())
		if !quantity.AtMost(p.AllowedMin, lo) || !quantity.AtMost(hi, p.AllowedMax) {
			share := 100 * (math.Min(hi, p.AllowedMax) - math.Max(lo, p.AllowedMin)) / (hi - lo)
			text := fmt.Sprintf("%s may really give %s to %s; the document allows %s to %s N·m. %s %% of its error band lies inside.", s.Name(), sig4(lo), sig4(hi), sig4(p.AllowedMin), sig4(p.AllowedMax), quantity.Text(math.Round(math.Max(0, share))))
			a.Warn(text)
			p.Findings = append(p.Findings, working.Finding{Severity: working.Caution, Code: "accuracy", What: text, Why: "The tolerance of the document is narrower than the error of the tools.", Remedy: "Use a more accurate set-up, or ask the engineer whether the tolerance must be held."})
		}
	}
	p.Workings = append(p.Workings, a)
}

func sig4(v float64) string { return quantity.Text(quantity.Significant(v, 4)) }

// Usable lists the tags of the set-ups that may be used, the best first.
func (p *Plan) Usable() []string {
	var out []string
	for _, o := range p.Offers {
		if o.Usable && !slices.Contains(out, o.Tags) {
			out = append(out, o.Tags)
		}
	}
	return out
}
