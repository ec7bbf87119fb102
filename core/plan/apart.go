package plan

import (
	"fmt"
	"slices"
	"strings"

	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/sequence"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// Way is which way a plan goes.
type Way string

// The ways. A plan that says nothing puts the joint together.
const (
	Together Way = ""
	TakeDown Way = "apart" // the joint is taken apart
)

// LooseShare is the share of its tightening torque below which a fastener that is let go was loose already: a sound one
// takes more than half. Source: own rule, far below the spread of sound ones.
const LooseShare = 0.3

// Apart reports whether the plan takes the joint apart.
func (p *Plan) Apart() bool { return p.Way == TakeDown }

// takeDown lays out how a joint is taken apart: made safe, eased in rounds in the reverse of the order in which it was
// tightened, parted, and what came out sorted. What each fastener holds, and which tools it went on with, is taken from
// the plan that it was tightened by; a target that nobody knows is no hindrance.
func (p *Plan) takeDown(in Input, fam procedure.Family, makers []*maker) error {
	was := in.Was
	if was == nil {
		fit := in
		fit.Apart = false
		if made, err := Make(fit); err == nil {
			was = made
		}
	}
	p.limits(fam, makers)
	for i, m := range makers {
		m.holds(was)
		if err := m.chalk(was); err != nil {
			return inGroup(m.fam, i, err)
		}
	}
	if err := p.easing(fam, makers); err != nil {
		return err
	}
	for i := range p.Passes {
		p.Passes[i].Number = i + 1
	}
	p.Findings, p.ToBeSupplied, p.NeedsApproval = []working.Finding{}, []string{}, []string{}
	p.Workings = []*working.Working{}
	for _, m := range makers {
		m.lettingGo(in.Tools)
	}
	p.undoChecks(makers)
	p.Holds = p.holdsWords()
	p.gates()
	p.tell()
	p.needs(fam)
	p.Rules = RulesNow
	p.time(fam)
	return nil
}

// holds takes over what the fasteners were brought to, and with which tools.
func (m *maker) holds(was *Plan) {
	if was == nil {
		return
	}
	i := slices.IndexFunc(was.Groups, func(g FastenerGroup) bool { return g.Code == m.Code })
	if i < 0 {
		return
	}
	offset := m.Offset
	*m.FastenerGroup = was.Groups[i]
	m.Offset = offset
	m.Setting, m.Pull, m.Clear, m.RunDown = nil, nil, "", nil
}

// chalk numbers the fasteners as they are chalked already, else as the choices say.
func (m *maker) chalk(was *Plan) error {
	if was != nil {
		if i := slices.IndexFunc(was.Groups, func(g FastenerGroup) bool { return g.Code == m.Code }); i >= 0 {
			from := was.Groups[i].Offset
			for k := range m.Layout.Count {
				if from+k < len(was.Chalk) {
					m.Chalk[m.Offset+k] = was.Chalk[from+k]
				}
			}
			return nil
		}
	}
	return m.number()
}

// easing lays out the passes. Several groups that are eased in one step go down together, round by round.
func (p *Plan) easing(fam procedure.Family, makers []*maker) error {
	taken := map[string][]int{}
	for _, step := range fam.Work {
		var list []*maker
		for _, code := range step.Groups {
			i := slices.IndexFunc(makers, func(m *maker) bool { return m.Code == code })
			list = append(list, makers[i])
		}
		if step.Do != procedure.DoEase {
			for _, m := range list {
				if err := m.step(step, taken); err != nil {
					return err
				}
			}
			continue
		}
		rounds := step.Easing()
		for _, at := range inTurn(step, len(rounds), len(list)) {
			ps, err := list[at.group].easePass(step, at.stage, rounds[at.stage])
			if err != nil {
				return err
			}
			p.Passes = append(p.Passes, ps)
		}
	}
	return nil
}

// easePass is one round of easing, backwards unless the step names its own order.
func (m *maker) easePass(step procedure.Step, k int, r procedure.Round) (Pass, error) {
	visit, err := m.visit(step, map[string][]int{}, sequence.Pattern(m.c.Pattern))
	if err != nil {
		return Pass{}, err
	}
	ps := m.pass(step, EasePass, r.Name(), visit)
	if step.Name != "" {
		ps.Name += ", " + r.Name()
	}
	ps.Stage, ps.Percent, ps.TurnDeg = k, r.LeftPct, r.TurnDeg
	if step.Pattern == "" {
		slices.Reverse(ps.Order)
		if ps.Why == "" && m.Layout.Count > 2 {
			ps.Why = "The reverse of the order it was tightened in, a little all round: none is left to hold everything."
		}
	}
	if k > 0 {
		ps.Caution = ""
	}
	return ps, nil
}

// lettingGo works out what a group is let go with, and how much that may take.
func (m *maker) lettingGo(tools []tool.Tool) {
	m.RunDown = nil
	m.runDown(tools)
	if slices.ContainsFunc(m.Passes, func(ps Pass) bool { return ps.Kind == EasePass && ps.Group == m.Code }) {
		m.RunDown = append(m.tellTales(tools), m.RunDown...)
	}
	m.Offers = nil // they are about tightening
	held := m.FinalNm
	if held == 0 {
		held = m.TargetNm
	}
	if held == 0 || !m.ByTorque() {
		return
	}
	m.FinalNm = held
	l := m.loosening()
	m.Loosening = l
	l.WentOn, l.WentOnUnit = float64(quantity.Significant(held, 3)), quantity.NewtonMetre
	if s := m.InHand(); s != nil && l.Pressure > 0 {
		if v, err := s.Exact(held); err == nil {
			l.WentOn, l.WentOnUnit = quantity.Significant(v, 3), l.Unit
		}
	}
	w := working.New(m.title("What it takes to let go"))
	w.Supply("T", "went on at", float64(held), quantity.NewtonMetre, m.Specification.Source())
	w.Supply("f", "loosening torque as a multiple of the tightening torque", l.Factor, "", "house rules")
	w.Calc("Tl", "reckon with", "T × f", float64(l.TorqueNm), quantity.NewtonMetre, "own rule")
	w.Take("Seized, corroded or painted threads take more. A fastener that lets go far below was loose already.")
	if !l.Feasible {
		w.Warn(l.Why)
	}
	m.Workings = append(m.Workings, w)
}

// fits reports whether a tool belongs to a set-up that would tighten the group: the others are too large or too small.
func (m *maker) fits(t tool.Tool) bool {
	if s := m.InHand(); s != nil {
		if _, in := s.Of(t.Kind); in && strings.Contains(s.Tags(), t.Tag) {
			return true
		}
	}
	return slices.ContainsFunc(m.Offers, func(o tool.Offer) bool {
		return o.Usable && slices.Contains(strings.Split(o.Tags, "+"), t.Tag)
	})
}

// tellTales are the tools of the crib that bear letting a nut go and tell what it took: hydraulic wrenches and
// multipliers that fit, and torque wrenches whose entry in the register allows it.
func (m *maker) tellTales(tools []tool.Tool) []RunDown {
	var out []RunDown
	for _, k := range []tool.Kind{tool.HydraulicWrench, tool.MultiplierKind, tool.Click, tool.Dial, tool.Electronic} {
		r := RunDown{Kind: k, Word: k.Word(), Tags: []string{}}
		known := false
		for i := range tools {
			if tools[i].Kind != k || tools[i].State != tool.InService {
				continue
			}
			known = known || k.Sets() == tool.ByTorque || m.fits(tools[i])
			if k.Sets() == tool.ByTorque && tools[i].MayLoosen || k.Sets() != tool.ByTorque && m.fits(tools[i]) {
				r.Tags = append(r.Tags, tools[i].Tag)
			}
		}
		if !known {
			continue
		}
		if k.Sets() == tool.ByTorque && len(r.Tags) == 0 {
			r.Never = "it is never used for loosening: take a bar or a spanner"
		}
		out = append(out, r)
	}
	return out
}

// undoChecks asks what the way of loosening asks: the side of the square, the arm, the pressure.
func (p *Plan) undoChecks(makers []*maker) {
	var done []tool.Method
	for _, m := range makers {
		s := m.InHand()
		if s == nil || slices.Contains(done, s.Method()) {
			continue
		}
		r, err := procedure.RoutineFor(string(s.Method()))
		if err != nil || len(r.Apart) == 0 {
			continue
		}
		done = append(done, s.Method())
		p.Checks = append(p.Checks, r.Apart...)
		p.Rows = append(slices.Clone(p.Rows), r.Rows...)
		for _, text := range r.Cautions {
			p.caution(text)
		}
	}
	p.sortChecks()
}

// holdsWords say what load the fasteners hold together, "" when nobody knows.
func (p *Plan) holdsWords() string {
	var out []string
	for i := range p.Groups {
		g := &p.Groups[i]
		if g.PreloadKN <= 0 {
			continue
		}
		kn := func(v float64) string {
			if v >= 1000 {
				return quantity.Text(quantity.Significant(v/1000, 2)) + " MN"
			}
			return quantity.Text(quantity.Significant(v, 2)) + " kN"
		}
		if g.Layout.Count == 1 {
			out = append(out, fmt.Sprintf("The %s holds about %s", strings.ToLower(g.GroupName), kn(g.PreloadKN)))
			continue
		}
		out = append(out, fmt.Sprintf("These %d %ss hold about %s together, %s each", g.Layout.Count, g.Word(),
			kn(g.PreloadKN*float64(g.Layout.Count)), kn(g.PreloadKN)))
	}
	if len(out) == 0 {
		return ""
	}
	return strings.Join(out, ". ") + "."
}
