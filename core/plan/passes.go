package plan

import (
	"fmt"
	"math"
	"slices"

	"dynacor/core/layout"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/sequence"
)

// order lays out the passes: the steps of the procedure one after another, each in the order of its group.
func (p *Plan) order(fam procedure.Family, makers []*maker) error {
	taken := map[string][]int{} // by group: visited by a step that takes a part only
	for _, m := range makers {
		if err := m.number(); err != nil {
			return err
		}
	}
	for _, step := range fam.Work {
		var list []*maker
		for _, code := range step.Groups {
			i := slices.IndexFunc(makers, func(m *maker) bool { return m.Code == code })
			list = append(list, makers[i])
		}
		if step.Do == procedure.DoTorque {
			if err := p.torqueStep(step, list, taken); err != nil {
				return err
			}
			continue
		}
		for _, m := range list {
			if err := m.step(step, taken); err != nil {
				return err
			}
		}
	}
	for i := range p.Passes {
		p.Passes[i].Number = i + 1
	}
	return nil
}

// torqueStep goes through the stages of a scheme; with several groups each stage goes through all of them before the
// next begins.
func (p *Plan) torqueStep(step procedure.Step, list []*maker, taken map[string][]int) error {
	most := 0
	schemes := make([]sequence.Scheme, len(list))
	visits := make([][]int, len(list))
	for i, m := range list {
		if step.Scheme != "" {
			m.Scheme, m.c.Scheme = step.Scheme, step.Scheme
			m.keep()
		}
		var err error
		if schemes[i], err = sequence.SchemeByCode(m.c.Scheme); err != nil {
			return err
		}
		if visits[i], err = m.visit(step, taken, sequence.Pattern(m.c.Pattern)); err != nil {
			return err
		}
		most = max(most, len(schemes[i].Percents))
	}
	for _, at := range inTurn(step, most, len(list)) {
		m, percents := list[at.group], schemes[at.group].Percents
		if at.stage >= len(percents) {
			continue
		}
		pct := percents[at.stage]
		ps := m.pass(step, StagePass, quantity.Text(math.Round(pct))+" %", visits[at.group])
		ps.Stage, ps.Percent = at.stage, pct
		if err := m.atOnce(&ps); err != nil {
			return err
		}
		p.Passes = append(p.Passes, ps)
	}
	return nil
}

// turn is a stage of one of the groups of a step, both from 0.
type turn struct{ stage, group int }

// inTurn gives the order in which the stages of several groups follow each other.
func inTurn(step procedure.Step, stages, groups int) []turn {
	var out []turn
	if step.Across == procedure.AcrossGroups {
		for g := range groups {
			for k := range stages {
				out = append(out, turn{k, g})
			}
		}
		return out
	}
	for k := range stages {
		for g := range groups {
			out = append(out, turn{k, g})
		}
	}
	return out
}

// kinds of pass for the steps other than torque, with a short name.
var stepPasses = map[procedure.Do]struct {
	kind PassKind
	name string
}{
	procedure.DoHand: {HandPass, "by hand"}, procedure.DoStill: {CheckPass, "round, 100 %"},
	procedure.DoVerify: {VerifyPass, "once more"}, procedure.DoTurn: {TurnPass, "turn"},
	procedure.DoTurns: {TurnsPass, "turns in turn"}, procedure.DoShape: {ShapePass, "to shape"},
	procedure.DoEffort: {EffortPass, "effort"}, procedure.DoStretch: {StretchPass, "stretch"},
	procedure.DoLeave: {LeavePass, "leave"}, procedure.DoUndo: {UndoPass, "undo"},
}

// step lays out a step of one group that is no stage.
func (m *maker) step(step procedure.Step, taken map[string][]int) error {
	k := stepPasses[step.Do]
	pattern := sequence.Pattern(m.c.Pattern)
	if k.kind.Repeats() && k.kind != TurnsPass || k.kind == VerifyPass {
		pattern = sequence.Clockwise
	}
	visit, err := m.visit(step, taken, pattern)
	if err != nil {
		return err
	}
	ps := m.pass(step, k.kind, k.name, visit)
	switch k.kind {
	case CheckPass:
		ps.Percent, ps.Pattern = 100, string(sequence.Clockwise)
		limit := m.HouseRules.MovedLimitDeg
		if m.spec.MovedLimitDeg > 0 {
			limit = m.spec.MovedLimitDeg
		}
		ps.MovedLimitDeg = &limit
		ps.Why = "Each bolt takes load from its neighbours when it is tightened; going round at full torque until " +
			"no nut turns puts it back."
		if step.Why != "" {
			ps.Why = step.Why
		}
		if m.first && m.Choices.Together > 1 { // each goes round its own share of the circle
			ps.Together = m.Choices.Together
			share := m.Layout.Count / ps.Together
			order := slices.Clone(visit)
			for i := range order {
				order[i] = visit[i%ps.Together*share+i/ps.Together]
			}
			ps.Order = order
		}
	case VerifyPass, TurnsPass:
		ps.Percent = 100
	}
	if err := m.figures(step, &ps); err != nil {
		return err
	}
	m.Passes = append(m.Passes, ps)
	return nil
}

// figures fills in how far a turn goes, the window of an effort, the band of a stretch.
func (m *maker) figures(step procedure.Step, ps *Pass) error {
	figure := func(code string) (float64, bool) {
		v, ok := m.all[code]
		return v, ok
	}
	ps.TurnDeg, ps.Datum = step.TurnDeg, step.Datum
	if v, ok := figure(step.TurnFigure); ok {
		ps.TurnDeg = v
	}
	if ps.Kind == TurnPass && m.spec.Target.Form == Turns && step.TurnDeg == 0 && step.TurnFigure == "" {
		ps.TurnDeg = m.spec.Target.TurnDeg
	}
	if ps.Kind == TurnPass && ps.TurnDeg == 0 {
		m.ToBeSupplied = append(m.ToBeSupplied, m.GroupName+": how far it is turned")
	}
	switch ps.Kind {
	case EffortPass:
		v, ok := figure(m.fam.Effort)
		if !ok {
			break // listed as a figure to be supplied
		}
		low, high := m.fam.EffortLow, m.fam.EffortHigh
		if part, known := figure(m.fam.EffortLowFigure); known {
			low = part
		}
		if part, known := figure(m.fam.EffortHighFigure); known {
			high = part
		}
		ps.LowNm, ps.HighNm = v*low, v*high
	case StretchPass:
		t := m.spec.Target
		ps.LowMM, ps.HighMM = t.StretchMM*(1-t.MinusPct/100), t.StretchMM*(1+t.PlusPct/100)
	}
	return nil
}

// pass begins a pass of this group.
func (m *maker) pass(step procedure.Step, kind PassKind, name string, visit []int) Pass {
	ps := Pass{Kind: kind, Name: name, Group: m.Code, Step: step.Code, Order: visit, Pattern: m.c.Pattern,
		Why: step.Why, Until: step.Until, Caution: step.Caution, Opens: step.Opens}
	if step.Name != "" {
		ps.Name = step.Name
		if kind == StagePass {
			ps.Name += ", " + name
		}
	}
	if step.Pattern != "" {
		ps.Pattern = step.Pattern
	}
	if ps.Until == "" && kind == HandPass {
		ps.Until = m.Snug
	}
	if ps.Why == "" && kind == StagePass {
		ps.Why = m.why(sequence.Pattern(ps.Pattern))
	}
	return ps
}

func (m *maker) why(pattern sequence.Pattern) string {
	switch {
	case pattern == sequence.Cross && m.Layout.Count > 2:
		return "Opposite bolts in turn keep the faces parallel."
	case pattern == sequence.Group:
		return "The ring is cut in sectors; each round takes one bolt of every sector, so chalk numbers rise by the " +
			"number of sectors along the ring."
	case m.Layout.Count == 2:
		return "The two in turn, so that the parts stay parallel."
	case m.Layout.Count == 1:
		return ""
	}
	return sequence.Explain(pattern, m.Layout.Count, m.c.Sectors)
}

// visit is the order in which a step goes through its group, in positions of the joint.
func (m *maker) visit(step procedure.Step, taken map[string][]int, pattern sequence.Pattern) ([]int, error) {
	if step.Pattern != "" {
		pattern = sequence.Pattern(step.Pattern)
	}
	o := sequence.GroupOptions{Groups: m.c.Sectors, StartDeg: m.Layout.StartDeg, Rows: m.Layout.Rows,
		Columns: m.Layout.Columns, Order: m.spec.Order}
	list, err := sequence.Once(pattern, m.Layout.Count, o)
	if err != nil {
		return nil, err
	}
	switch step.Only {
	case "cardinal":
		if m.Layout.Shape() == layout.Circle && m.Layout.Count > 4 {
			all, err := sequence.Once(sequence.Cardinal, m.Layout.Count, o)
			if err != nil {
				return nil, err
			}
			list = all[:4]
		}
		taken[m.Code] = append(taken[m.Code], list...)
	case "rest":
		list = slices.DeleteFunc(list, func(p int) bool { return slices.Contains(taken[m.Code], p) })
	}
	out := make([]int, len(list))
	for i, p := range list {
		out[i] = m.Offset + p
	}
	return out, nil
}

// atOnce shares a stage among several tools that pull together.
func (m *maker) atOnce(ps *Pass) error {
	n := m.Choices.Together
	if n < 2 || !m.first {
		return nil
	}
	steps, err := sequence.SimultaneousOrder(nil, sequence.SimultaneousInput{N: m.Layout.Count, Tools: n})
	if err != nil {
		return err
	}
	ps.Order, ps.Together, ps.Why = slices.Concat(steps.Steps...), n,
		fmt.Sprintf("%d tools pull at once, evenly spaced, so the faces stay parallel; they start together and go "+
			"on together.", n)
	return nil
}

// number settles what is chalked beside each fastener of a group, and refuses an order that the family forbids.
func (m *maker) number() error {
	if !slices.Contains(m.fam.Patterns, m.c.Pattern) && m.Layout.Count > 2 {
		why := m.fam.Refused[m.c.Pattern]
		if why == "" {
			why = "the procedure does not allow it"
		}
		return quantity.Refuse("pattern", "Choose "+join(m.fam.Patterns)+".", "%q is not used on %s: %s", m.c.Pattern,
			m.GroupName, why)
	}
	switch m.c.Numbering {
	case "place":
		for i := range m.Layout.Count {
			m.Chalk[m.Offset+i] = i + 1
		}
	case "order":
		visit, err := m.visit(procedure.Step{}, map[string][]int{}, sequence.Pattern(m.c.Pattern))
		if err != nil {
			return err
		}
		for i, p := range visit {
			m.Chalk[p-1] = i + 1
		}
	default:
		return quantity.Refuse("numbering", "Choose place or order.", "%q is not a way of numbering", m.c.Numbering)
	}
	return nil
}
