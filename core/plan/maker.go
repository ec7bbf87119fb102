package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"dynacor/core/fastener"
	"dynacor/core/preload"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

// maker lays out one group of a plan.
type maker struct {
	*Plan
	*FastenerGroup
	fam      procedure.Fasteners
	spec     Fasteners
	asked    Choices
	c        GroupChoices // settled
	first    bool
	geo      fastener.Geometry
	specLub  fastener.Lubricant
	source   string
	notFound bool // the document says nothing of the group yet
	own      fastener.Own
}

// title names a working or finding after the group, when there are several.
func (m *maker) title(s string) string {
	if !m.Several() {
		return s
	}
	return s + " · " + m.GroupName
}

// unknown reports whether a torque is wanted and not given.
func (m *maker) unknown() bool {
	return m.ByTorque() && (m.notFound || m.spec.Target.Form == NotGiven || m.spec.Lubricant == NotNamed)
}

// begin takes a group over from procedure and document; lead is the one that the document's own fields are about.
func (p *Plan) begin(in Input, fam procedure.Family, i, offset int, lead string) (*maker, error) {
	g := fam.Fasteners[i]
	group := &p.Groups[i]
	m := &maker{
		Plan:          p,
		FastenerGroup: group,
		fam:           g,
		first:         g.Code == lead,
		own:           in.Own,
		asked:         in.Choices,
		source:        p.Specification.Source(),
	}
	var given bool
	if m.spec, given = p.Specification.Of(g.Code, m.first); !given {
		m.spec = Fasteners{Group: g.Code, Target: Target{Form: Stated}}
		if g.Same != "" {
			like, ok := p.Specification.Of(g.Same, g.Same == lead)
			like.Group, like.Bolts, like.Layout, like.Order = g.Code, 0, nil, nil
			m.spec, given = like, ok
		}
		m.notFound = !given
	}
	m.lubricantOf()
	*group = FastenerGroup{Code: g.Code, GroupName: g.Name, Noun: g.Noun, Face: g.Face, FaceDeg: g.FaceDeg,
		Offset: offset, EndsAt: g.Target, EndsWhy: g.TargetWhy, Condition: g.Condition, Where: g.Where,
		ToolsNever: g.ToolsNever, Snug: g.Snug}
	group.Layout = m.spec.laid(g)
	if err := group.Layout.Check(); err != nil {
		return nil, err
	}
	group.Places = group.Layout.Places()
	for range group.Layout.Count {
		p.Chalk = append(p.Chalk, 0)
	}
	m.choices()
	if m.unknown() {
		p.ToBeSupplied = append(p.ToBeSupplied, m.missing())
	}
	if err := m.lookUp(); err != nil {
		return nil, err
	}
	return m, m.condition(in)
}

func (m *maker) missing() string {
	if m.spec.Lubricant == NotNamed && m.spec.Target.Form != NotGiven {
		return strings.TrimPrefix(m.GroupName+": lubricant; the document names none, and a torque holds for one only",
			": ")
	}
	if !m.Several() {
		return "Target: the document gives no figure"
	}
	if m.notFound {
		return m.GroupName + ": thread, lubricant and target"
	}
	return m.GroupName + ": the document gives no target"
}

// choices settles what the planner picked, the procedure asks and the house rules say, in this order.
func (m *maker) choices() {
	r := m.HouseRules
	m.c = m.asked.Of(m.Code, m.first)
	m.c.Group = m.Code
	def := func(v *string, choices ...string) {
		for _, d := range choices {
			if *v == "" {
				*v = d
			}
		}
	}
	pattern := r.Pattern
	if !slices.Contains(m.fam.Patterns, pattern) && len(m.fam.Patterns) > 0 {
		pattern = m.fam.Patterns[0]
	}
	def(&m.c.Scheme, m.fam.Scheme, r.Scheme)
	def(&m.c.Pattern, pattern)
	def(&m.c.Numbering, r.Numbering)
	def(&m.c.Policy, m.fam.Policy, r.Policy)
	if m.spec.Lubricant != NotNamed {
		def(&m.c.Lubricant, m.spec.Lubricant)
	}
	if m.c.Sectors == 0 {
		m.c.Sectors = r.Sectors
	}
	m.Scheme = m.c.Scheme
	m.keep()
}

// keep writes the settled choices into the plan.
func (m *maker) keep() {
	if i := slices.IndexFunc(m.Choices.Groups, func(g GroupChoices) bool { return g.Group == m.Code }); i >= 0 {
		m.Choices.Groups[i] = m.c
		return
	}
	m.Choices.Groups = append(m.Choices.Groups, m.c)
}

// lookUp takes target, and thread where none is given, from the line of a table.
func (m *maker) lookUp() error {
	if m.spec.Target.Form != LookUp {
		return nil
	}
	t, ok := m.own.Table(m.spec.Target.Table)
	if !ok {
		return quantity.Refuse("table", "Enter it in the Library, or give the value itself.",
			"%q is not a table of the Library", m.spec.Target.Table)
	}
	row, err := t.Row(m.spec.Target.Keys)
	if err != nil {
		return err
	}
	if m.spec.Thread == "" {
		m.spec.Thread = row.Thread
	}
	m.spec.Target = Target{Form: TorqueNominal, Nominal: row.Nominal, MinusPct: t.TolerancePct, PlusPct: t.TolerancePct,
		Unit: t.Unit}
	if row.Max > 0 {
		m.spec.Target = Target{Form: TorqueRange, Min: row.Min, Max: row.Max, Unit: t.Unit}
	}
	m.Table = &TableUse{t.Code, t.Name, t.Version, row.Keys, t.Source()}
	m.source = t.Source() + ", line " + strings.Join(row.Keys, ", ")
	return nil
}

// condition takes over thread, strength, lubricant, and holds the state of the threads against what the procedure asks.
func (m *maker) condition(in Input) error {
	var err error
	if m.spec.Thread != "" {
		if m.Thread, err = fastener.ParseThread(m.spec.Thread); err != nil {
			return err
		}
		if m.geo, err = m.Thread.Geometry(nil); err != nil {
			return err
		}
		m.StressAreaMM2 = m.geo.As
		m.AcrossFlatsMM = float64(Hexagon(m.Thread, m.own))
		if n, ok := m.own.Nut(m.Thread); ok {
			m.Nut = &n
		}
		if m.spec.Material != "" {
			d := quantity.Length(m.Thread.DiameterMM)
			if m.Strength, err = m.own.Strength(m.Thread.System, m.spec.Material, d); err != nil {
				return err
			}
		}
	} else if m.ByTorque() && !m.notFound {
		return quantity.Refuse("thread", "Enter the thread, or a table that gives it.", "is empty")
	}
	if m.spec.Lubricant == "" || m.spec.Lubricant == NotNamed {
		return nil
	}
	if m.specLub, err = card(in.Lubricants, m.spec.Lubricant); err != nil {
		return err
	}
	if m.Lubricant, err = card(in.Lubricants, m.c.Lubricant); err != nil {
		return err
	}
	if m.Lubricant.NotForTorqueControl && m.ByTorque() {
		m.find(NotForTorque, "lubricant", m.Lubricant.Name)
	}
	wrong := ""
	switch m.fam.Condition {
	case "dry", "degreased":
		if !m.Lubricant.Dry() {
			wrong = "stay " + m.fam.Condition
		}
	case "dry_or_maker":
		if !m.Lubricant.Dry() {
			m.find(MakersWord, "word", m.Word(), "lubricant", m.Lubricant.Name, "source", m.source)
			m.NeedsApproval = append(m.NeedsApproval,
				fmt.Sprintf("%s threads with %s: usually dry, on the word of %s", m.Word(), m.Lubricant.Name, m.source))
		}
	case "lubricated":
		if !m.Lubricant.Wet() {
			wrong = "are lubricated"
		}
	case "locker":
		if !m.Lubricant.Locks() {
			wrong = "get a locking compound, and nothing else"
		}
	}
	if wrong != "" {
		m.find(WrongCondition, "word", m.Word(), "wrong", wrong, "lubricant", m.Lubricant.Name, "where", m.fam.Where)
	}
	return nil
}

// target works out the torque at the nut for the lubricant that will be used.
func (m *maker) target() error {
	if !m.ByTorque() {
		return nil
	}
	s := m.spec
	d := m.geo.D
	w := working.New(m.title("Torque at the nut"))
	w.Supply("d", "nominal diameter", d, quantity.Millimetre, "thread "+m.Thread.Text)
	k := m.Lubricant.K.Typ
	nominal, lo, hi, isTorque := s.Target.Torques(m.c.Policy)
	switch {
	case isTorque:
		m.AllowedMin, m.AllowedMax = lo, hi
		w.Supply("Tspec", "torque of the document", float64(nominal), quantity.NewtonMetre, m.source)
		if s.Target.Form == TorqueRange {
			w.Take("The document gives " + quantity.Text(s.Target.Min) + " to " + quantity.Text(s.Target.Max) + " " +
				s.Target.Unit.Symbol() + "; the " + m.c.Policy + " of the range is used by the house rules.")
		}
		m.TargetNm = nominal
		if m.specLub.Code == m.Lubricant.Code {
			w.Calc("T", "torque at the nut", "Tspec", float64(nominal), quantity.NewtonMetre, "as the document states")
			break
		}
		w.LookUp("Kspec", "nut factor the document holds for", m.specLub.K.Typ, "", m.specLub.Provenance())
		w.LookUp("K", "nut factor of the lubricant used", k, "", m.Lubricant.Provenance())
		m.TargetNm = quantity.Torque(w.Calc("T", "torque that restores the same bolt load", "Tspec × K / Kspec",
			float64(nominal)*k/m.specLub.K.Typ, quantity.NewtonMetre, "same load at another friction"))
		f := m.TargetNm / nominal
		m.AllowedMin, m.AllowedMax = m.AllowedMin*f, m.AllowedMax*f
		m.NeedsApproval = append(m.NeedsApproval,
			fmt.Sprintf("Lubricant %s instead of %s: torque changed from %s to %s N·m", m.Lubricant.Name,
				m.specLub.Name, quantity.Text(quantity.Significant(float64(nominal), 4)),
				quantity.Text(quantity.Significant(m.TargetNm, 4))))
		m.find(OtherLubricant, "document", m.specLub.Name, "lubricant", m.Lubricant.Name)
	default:
		if err := m.fromStress(w, k); err != nil {
			return err
		}
	}
	w.Take("Lubricant: " + m.Lubricant.Name + " on thread and nut face, turning the nut.")
	w.Take("New, clean bolts; strength at room temperature.")
	if m.Lubricant.Source == fastener.KLibrary {
		w.Warn("The nut factor is a typical value. Confirm it by test when the load matters.")
	}
	m.Workings = append(m.Workings, w)
	if m.Strength.Yield == 0 {
		return nil
	}
	usual := func(q float64) quantity.Torque {
		return quantity.Torque(k * d * q * m.Strength.Yield * m.geo.As / 1000)
	}
	m.unitSlip(usual(0.3), usual(0.8))
	return nil
}

// fromStress works out the torque for a stress in the bolt.
func (m *maker) fromStress(w *working.Working, k float64) error {
	s := m.spec
	w.LookUp("K", "nut factor", k, "", m.Lubricant.Provenance())
	w.LookUp("As", "tensile stress area", m.geo.As, "mm2", "ISO 898-1 / ASME B1.1")
	stress := s.Target.Stress
	if s.Target.Form == PercentYield {
		w.LookUp("Re", "minimum yield of "+m.Strength.Grade, m.Strength.Yield, quantity.Megapascal,
			m.Strength.Provenance())
		w.Supply("q", "share of yield", s.Target.Percent/100, "", m.source)
		v, _, above, err := preload.FromPercent(nil, "yield", s.Target.Percent, quantity.Stress(m.Strength.Yield),
			quantity.Area(m.geo.As))
		if err != nil {
			return err
		}
		stress = float64(v)
		w.Calc("S", "bolt stress", "q × Re", stress, quantity.Megapascal, "definition")
		if above {
			w.Warn("More than 90 % of yield is asked for.")
		}
	} else {
		w.Supply("S", "bolt stress", stress, quantity.Megapascal, m.source)
	}
	f := w.Calc("F", "load in each bolt", "S × As", stress*m.geo.As/1000, quantity.Kilonewton, "definition")
	t, err := preload.TorqueFromK(nil, quantity.Force(f), k, quantity.Length(m.geo.D))
	if err != nil {
		return err
	}
	w.Calc("T", "torque at the nut", "K × d × F", float64(t), quantity.NewtonMetre, "nut factor definition")
	m.TargetNm = t
	return nil
}

// settle chooses the tools of a group and works out what its bolts then hold.
func (m *maker) settle(in Input) error {
	if !m.needsTool(m.Code) {
		return nil
	}
	m.chooseSetUp(in)
	if err := m.loads(); err != nil {
		return err
	}
	return m.ownWithinYield()
}

// total sums what a pass takes in time.
func total(passes []Pass) (pulls, sets float64) {
	for _, p := range passes {
		pulls += p.Stops()
		if p.Kind.Sets() {
			sets++
		}
	}
	return pulls, math.Max(1, sets)
}

// unitSlip warns when the torque lies far from what bolts of this size usually get, and names every slip that would
// make it so, each with the torque that would be meant: the factors lie too close together to guess one.
func (m *maker) unitSlip(usualLow, usualHigh quantity.Torque) {
	t := m.TargetNm
	if t >= usualLow && t <= usualHigh {
		return
	}
	round := func(t quantity.Torque) string { return quantity.Text(math.Round(float64(t))) }
	facts := []string{"torque", quantity.Text(quantity.Significant(t, 3)), "low", round(usualLow), "high",
		round(usualHigh)}
	var slips []string
	for _, f := range []struct {
		factor quantity.Torque
		what   string
	}{{12, "inch and foot pounds mixed up"}, {quantity.TorqueOf(1, quantity.FootPound),
		"foot pounds and newton metres mixed up"},
		{quantity.TorqueOf(1, quantity.KilogramMetre),
			"kilogram metres and newton metres mixed up"},
		{1 / quantity.TorqueOf(1, quantity.InchPound),
			"inch pounds and newton metres mixed up"}, {10, "a decimal point out of place"}} {
		for _, v := range []quantity.Torque{t / f.factor, t * f.factor} {
			if v >= usualLow && v <= usualHigh {
				slips = append(slips, fmt.Sprintf("%s (%s N·m)", f.what, quantity.Text(quantity.Significant(v, 3))))
			}
		}
	}
	if len(slips) == 0 {
		m.find(UnusualTarget, facts...)
		return
	}
	m.find(UnitSlip, append(facts, "slip", strings.Join(slips, ", or "))...)
}
