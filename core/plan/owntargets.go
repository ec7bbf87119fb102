package plan

import (
	"fmt"
	"math"
	"slices"

	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// OwnTarget is what one fastener is tightened to in the last stage, where each has a target of its own that makes up for
// what later pulls take from it.
type OwnTarget struct {
	Fastener int             `json:"fastener"` // position
	Percent  float64         `json:"percent"`  // of the document's target
	TorqueNm quantity.Torque `json:"torqueNm"`
	Setting  float64         `json:"setting"` // on the scale of the planned tool
}

// Bounds of an own target, percent of the document's.
const (
	leastOwn = 50
	mostOwn  = 250
)

// OwnTargets are those of a pass; none where all have the same.
type OwnTargets []OwnTarget

// Of is the target that a fastener has of its own.
func (list OwnTargets) Of(position int) (OwnTarget, bool) {
	i := slices.IndexFunc(list, func(o OwnTarget) bool { return o.Fastener == position })
	if i < 0 {
		return OwnTarget{}, false
	}
	return list[i], true
}

// Span is from which to which percent they go; both 0 when there are none.
func (list OwnTargets) Span() (low, high float64) {
	for i, o := range list {
		if i == 0 {
			low, high = o.Percent, o.Percent
		}
		low, high = math.Min(low, o.Percent), math.Max(high, o.Percent)
	}
	return low, high
}

// ownTargets puts the targets of the choices into the last stage of the first group. Refused: too few or too many, one
// that nobody can mean, a group that does not end at a torque.
func (m *maker) ownTargets() error {
	own := m.c.OwnTargets
	if !m.first || len(own) == 0 {
		return nil
	}
	const field = "ownTargets"
	last := -1
	for i, ps := range m.Passes {
		if ps.Kind == StagePass && (ps.Group == m.Code || ps.Group == "") {
			last = i
		}
	}
	if last < 0 {
		return quantity.Refuse(field, "Leave them out.", "%s are not tightened in stages to a torque", m.GroupName)
	}
	if len(own) != m.Layout.Count {
		return quantity.Refuse(field, "Give one for each, in the order of their numbers.", "are %d, for %d fasteners",
			len(own), m.Layout.Count)
	}
	for i, pct := range own {
		if !(pct >= leastOwn && pct <= mostOwn) {
			return quantity.Refuse(field, fmt.Sprintf("Give %d to %d %% of the target.", leastOwn, mostOwn),
				"have %s %% for %s", quantity.Text(pct), m.NameOf(m.Offset+i+1))
		}
	}
	ps := &m.Passes[last]
	for _, at := range ps.Order {
		ps.Own = append(ps.Own, OwnTarget{Fastener: at, Percent: own[at-m.Offset-1]})
	}
	ps.Why += " Each has a target of its own, which makes up for what its neighbours take later."
	m.NeedsApproval = append(m.NeedsApproval, fmt.Sprintf("Own targets for each %s, %.0f to %.0f %% of the document's",
		m.Word(), slices.Min(own), slices.Max(own)))
	return nil
}

// ownWithinYield refuses own targets of which one yields its fastener.
func (m *maker) ownWithinYield() error {
	own := m.c.OwnTargets
	if !m.first || len(own) == 0 {
		return nil
	}
	most := slices.Max(own)
	if pct := m.YieldPct * most / 100; pct > 100 {
		return quantity.Refuse("ownTargets", "Tighten in another way, or ask for more even targets.",
			"yield %s: %.0f %% of yield", m.NameOf(m.Offset+slices.Index(own, most)+1), pct)
	}
	return nil
}

// OwnSetting is what to set on a set-up for a target of its own. Refused as in tool.SetUp.Settings.
func (p *Plan) OwnSetting(g *FastenerGroup, s tool.SetUp, percent float64) (float64, error) {
	list, err := s.Settings("", g.TargetNm*quantity.Torque(percent)/100, 0, 0)
	if err != nil {
		return 0, err
	}
	return list[len(list)-1], nil
}

// ownSettings are those of every own target of a group still to come, from pass number from on.
func (p *Plan) ownSettings(g *FastenerGroup, s tool.SetUp, from int) ([]float64, error) {
	var out []float64
	for i, ps := range p.Passes {
		if i < from || ps.Group != g.Code && ps.Group != "" {
			continue
		}
		for _, o := range ps.Own {
			v, err := p.OwnSetting(g, s, o.Percent)
			if err != nil {
				return nil, err
			}
			out = append(out, v)
		}
	}
	return out, nil
}

// ownStages writes the settings of own targets into the passes, with their working.
func (m *maker) ownStages(s tool.SetUp) {
	for i := range m.Passes {
		ps := &m.Passes[i]
		if len(ps.Own) == 0 || ps.Group != m.Code && ps.Group != "" {
			continue
		}
		w := working.New(m.title("Own targets on the scale of " + s.Driver().Tag))
		w.Supply("T", "target of the document", float64(m.TargetNm), quantity.NewtonMetre, m.source)
		for k := range ps.Own {
			o := &ps.Own[k]
			v, err := m.OwnSetting(m.FastenerGroup, s, o.Percent)
			if err != nil {
				continue // it was told where the set-up was judged
			}
			o.Setting, o.TorqueNm = v, s.TorqueAt(v)
			w.Calc("S"+quantity.Text(float64(o.Fastener)), m.NameOf(o.Fastener),
				quantity.Text(quantity.Significant(o.Percent, 4))+" % of T on this scale, rounded to a mark", v,
				s.Driver().Unit, "accepted by an engineer")
		}
		w.Take("What makes up for the neighbours depends on the gasket: with another one the loads end unevenly.")
		m.Workings = append(m.Workings, w)
	}
}
