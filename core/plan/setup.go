package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"dynacor/core/fastener"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// InHand is the set-up of the group, nil while there is none.
func (g *FastenerGroup) InHand() *tool.SetUp {
	if g.SetUp != nil {
		return g.SetUp
	}
	if g.Wrench != nil {
		s := tool.Alone(*g.Wrench)
		return &s
	}
	return nil
}

// Settings gives what to set on a set-up for every pass of a group, by the index of the pass: stages by the scheme,
// rounds at the last setting, on the marks of its scale.
func (p *Plan) Settings(g *FastenerGroup, s tool.SetUp) (map[int]float64, error) {
	list, err := s.Settings(p.scheme(g), g.TargetNm, g.AllowedMin, g.AllowedMax)
	if err != nil {
		return nil, err
	}
	out := map[int]float64{}
	for i, ps := range p.Passes {
		switch {
		case ps.Group != g.Code && ps.Group != "" || !ps.Kind.Sets():
		case ps.Kind != StagePass:
			out[i] = list[len(list)-1]
		case ps.Group == "": // a plan made before there were several groups
			out[i] = list[min(i, len(list)-1)]
		default:
			out[i] = list[min(ps.Stage, len(list)-1)]
		}
	}
	return out, nil
}

// scheme of the stages of a group.
func (p *Plan) scheme(g *FastenerGroup) string {
	if g.Scheme == "" {
		return p.ChoicesOf(p.First()).Scheme
	}
	return g.Scheme
}

// Fit judges a set-up for the passes of a group still to come, from pass number from (0 the first), on a day; settings,
// by the index of the pass, is nil when the stages cannot be set on it.
func (p *Plan) Fit(g *FastenerGroup, s tool.SetUp, from int, on time.Time) (settings map[int]float64,
	problems []tool.Problem) {
	settings, err := p.Settings(g, s)
	var left []float64
	if err == nil {
		left, err = p.ownSettings(g, s, from)
	}
	if err == nil {
		last := 0.0
		for i := range p.Passes {
			if v, ok := settings[i]; ok {
				last = v
				if i >= from {
					left = append(left, v)
				}
			}
		}
		if len(left) == 0 {
			left = []float64{last}
		}
		return settings, s.Problems(g.TargetNm, left, p.HouseRules.MinFrac, on)
	}
	if v, off := s.Exact(g.TargetNm); off == nil && v > s.Driver().RatedMax {
		return nil, s.Problems(g.TargetNm, []float64{quantity.Significant(v, 3)}, p.HouseRules.MinFrac, on)
	}
	why, remedy := err.Error(), "Take another wrench."
	if r, ok := quantity.RefusalIn(err); ok {
		why, remedy = r.Why, r.Remedy
	}
	return nil, append(s.Problems(g.TargetNm, nil, p.HouseRules.MinFrac, on),
		tool.Problem{Code: "scale", What: why, Remedy: remedy})
}

// ToolsFit reports whether the tools of every group that needs some may be used on a day.
func (p *Plan) ToolsFit(on time.Time) bool {
	for _, g := range p.AllGroups() {
		if !p.needsTool(g.Code) {
			continue
		}
		s := g.InHand()
		if s == nil {
			return false
		}
		if _, problems := p.Fit(g, *s, 0, on); len(problems) > 0 {
			return false
		}
	}
	return true
}

// Need is what a group looks for in the crib.
func (p *Plan) Need(g *FastenerGroup, on time.Time, busy map[string]string) tool.Need {
	c := p.ChoicesOf(g)
	n := tool.Need{Nm: g.TargetNm, LowNm: g.AllowedMin, HighNm: g.AllowedMax, Scheme: p.scheme(g),
		AcrossFlats: g.AcrossFlatsMM, AdapterDeg: c.AdapterDeg,
		MinFrac: p.HouseRules.MinFrac, PreferredFrac: p.HouseRules.PreferredFrac, On: on, Busy: busy}
	if load := g.targetKN(); load > 0 {
		clamp := 0.0
		if s, ok := p.Demand(g); ok {
			clamp = s.ClampMM
		}
		n.Bolt = &tool.Bolt{LoadKN: load, DiameterMM: g.Thread.DiameterMM, StressAreaMM2: g.StressAreaMM2,
			ClampMM: clamp, YieldMPa: g.Strength.Yield}
	}
	return n
}

// targetKN is the load that the whole target gives with the typical friction.
func (g *FastenerGroup) targetKN() float64 {
	if k := g.Lubricant.K.Typ * g.Thread.DiameterMM; k > 0 {
		return float64(g.TargetNm) / k
	}
	return 0
}

// OnJoint completes a set-up with what it gives on a group: a tensioner pulls load, and the torque it stands for
// depends on the bolt.
func (p *Plan) OnJoint(g *FastenerGroup, s tool.SetUp) tool.SetUp {
	return s.OnJoint(p.Need(g, time.Time{}, nil))
}

// Hexagon is the size over the flats of the nut: as measured on site, else of the standard; 0 when it is not listed.
func Hexagon(t fastener.Thread, own fastener.Own) quantity.Length {
	if n, ok := own.Nut(t); ok && n.AcrossFlats > 0 {
		return quantity.Length(n.AcrossFlats)
	}
	family := fastener.HexISO
	if t.System == fastener.UN {
		family = fastener.HexUNHeavy
	}
	h, err := fastener.HexSize(family, quantity.Length(t.DiameterMM))
	if err != nil {
		return 0
	}
	return quantity.Length(h.AcrossFlatsMM)
}

// chooseSetUp judges every set-up of the crib and takes the chosen one, else the best that has no problem.
func (m *maker) chooseSetUp(in Input) {
	need := m.Need(m.FastenerGroup, in.On, in.Busy)
	m.Offers = tool.Find(need, in.Tools)
	for i := range m.Offers {
		if why := m.never(m.Offers[i].Method); why != "" {
			m.Offers[i].Usable, m.Offers[i].Problems = false, append(m.Offers[i].Problems, why)
		}
	}
	slices.SortStableFunc(m.Offers, func(a, b tool.Offer) int { // what the procedure forbids goes behind what it allows
		switch {
		case a.Usable == b.Usable:
			return 0
		case a.Usable:
			return -1
		}
		return 1
	})
	tags := m.c.Wrench
	if tags == "" && len(m.Offers) > 0 && m.Offers[0].Usable {
		tags = m.Offers[0].Tags
	}
	if tags == "" {
		m.find(NoWrench)
		return
	}
	s, err := tool.Pick(need, tags, in.Tools)
	if err != nil {
		what := tags + " cannot be used"
		if r, ok := quantity.RefusalIn(err); ok {
			what = r.Why
		}
		m.find(NoWrench, "case", "chosen", "what", what)
		return
	}
	m.c.Wrench = tags
	m.keep()
	settings, problems := m.Fit(m.FastenerGroup, s, 0, in.On)
	if why := m.never(s.Method()); why != "" {
		problems = append(problems, tool.Problem{Code: "forbidden", What: why, Remedy: "Take another set-up."})
	}
	problems = append(problems, s.Driver().Turns(m.Thread.LeftHand)...)
	for _, pr := range problems {
		m.find(ToolUnfit, "code", pr.Code, "what", pr.What, "remedy", pr.Remedy)
	}
	for _, t := range s.String {
		if t.Kind == tool.Socket || t.Kind == tool.Hose {
			continue // there are others of the kind
		}
		for _, why := range []string{in.Busy[t.Tag], in.Wanted[t.Tag]} {
			if why != "" {
				m.find(ToolConflict, "tool", t.Tag, "where", why)
			}
		}
	}
	d := s.Driver()
	m.Wrench = &d
	if len(s.String) > 1 {
		m.SetUp = &s
	}
	if settings != nil {
		m.stages(s, settings)
	}
}

// never says why a way of tightening is forbidden on this group, "" when it is not.
func (m *maker) never(method tool.Method) string {
	why := m.ToolsNever[string(method)]
	if why == "" {
		return ""
	}
	return "the procedure forbids a " + strings.ReplaceAll(string(method), "_", " ") + " here: " + why
}

// stages writes the settings into the passes, with their working.
func (m *maker) stages(s tool.SetUp, settings map[int]float64) {
	d := s.Driver()
	if len(s.String) > 1 {
		w := s.Working(m.TargetNm)
		w.Title = m.title(w.Title)
		m.Workings = append(m.Workings, w)
	}
	ws := working.New(m.title("Stages on the scale of " + d.Tag))
	ws.Supply("g", "one mark of the scale", d.Graduation, d.Unit, d.Tag)
	exact, err := s.Exact(m.TargetNm)
	if err != nil {
		return
	}
	t := ws.Calc("T", "full value before rounding", "Tnut on this scale", exact, d.Unit,
		"torque at the nut, in the unit of the scale")
	last := 0.0
	for i := range m.Passes {
		if v, ok := settings[i]; ok {
			m.Passes[i].Setting, m.Passes[i].TorqueNm = v, s.TorqueAt(v)
			last = math.Max(last, v)
		}
	}
	rounding, source := "T rounded to g", "own rule: half a mark goes up, never past the maximum"
	if d.Kind.Sets() == tool.ByPressure {
		rounding, source = "T rounded down to g", "own rule: a pressure never goes up to the next mark"
	}
	ws.Calc("full", "last setting", rounding, last, d.Unit, source)
	said := map[int]bool{}
	for i, ps := range m.Passes {
		v, ok := settings[i]
		if !ok || ps.Kind != StagePass || ps.Percent > 99.9 || said[ps.Stage] {
			continue
		}
		said[ps.Stage] = true
		ws.Calc("S"+quantity.Text(float64(ps.Stage+1)), "stage "+quantity.Text(math.Round(ps.Percent))+" %",
			quantity.Text(quantity.Significant(ps.Percent, 4))+" % of full rounded to g", v, d.Unit, "own rule")
	}
	m.FinalNm = s.TorqueAt(last)
	m.ownStages(s)
	ws.Take(fmt.Sprintf("Rounding changes the value by %s %%.", quantity.Text(quantity.Significant(100*(last-t)/t, 2))))
	m.Workings = append(m.Workings, ws)
	m.accuracy(s, last)
}

// accuracy compares what the set-up may really give at the nut with what the document allows.
func (m *maker) accuracy(s tool.SetUp, last float64) {
	acc := s.AccuracyPct()
	lo, hi, err := tool.ToleranceBand(nil, float64(m.FinalNm), acc, false)
	if err != nil {
		return
	}
	a := working.New(m.title("What the tools can promise"))
	a.Supply("T", "torque at the nut", float64(m.FinalNm), quantity.NewtonMetre, "last setting of the plan")
	a.Supply("a", "accuracy of "+s.Name(), acc/100, "", "certificate "+s.Driver().Certificate)
	a.Calc("low", "lowest true torque", "T × (1 − a)", lo, quantity.NewtonMetre, "ISO 6789-1")
	a.Calc("high", "highest true torque", "T × (1 + a)", hi, quantity.NewtonMetre, "ISO 6789-1")
	if len(s.String) > 1 {
		a.Take("The parts of the set-up are added: a worst case.")
	}
	if c, ok := s.Driver().CorrectionAt(last); ok {
		a.Take(fmt.Sprintf("By its certificate %s gives %s %s more than it shows at this setting; the setting is "+
			"not changed for it.", s.Driver().Tag, quantity.Text(quantity.Significant(c, 2)), s.Driver().Unit.Symbol()))
	}
	if m.AllowedMax > 0 {
		a.Supply("min", "least allowed", float64(m.AllowedMin), quantity.NewtonMetre, m.source)
		a.Supply("max", "most allowed", float64(m.AllowedMax), quantity.NewtonMetre, m.source)
		if !quantity.AtMost(m.AllowedMin, quantity.Torque(lo)) || !quantity.AtMost(quantity.Torque(hi), m.AllowedMax) {
			share := 100 * (math.Min(hi, float64(m.AllowedMax)) - math.Max(lo, float64(m.AllowedMin))) / (hi - lo)
			text := fmt.Sprintf("%s may really give %s to %s; the document allows %s to %s N·m. %s %% of its error "+
				"band lies inside.", s.Name(), sig4(lo), sig4(hi), sig4(m.AllowedMin), sig4(m.AllowedMax),
				quantity.Text(math.Round(math.Max(0, share))))
			a.Warn(text)
			m.find(Accuracy, "what", text)
		}
	}
	m.Workings = append(m.Workings, a)
}

func sig4[F ~float64](v F) string { return quantity.Text(quantity.Significant(v, 4)) }

// Usable lists the tags of the set-ups that may be used, the best first.
func (g *FastenerGroup) Usable() []string {
	var out []string
	for _, o := range g.Offers {
		if o.Usable && !slices.Contains(out, o.Tags) {
			out = append(out, o.Tags)
		}
	}
	return out
}
