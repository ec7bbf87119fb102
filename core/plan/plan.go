package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"dynacor/core/fastener"
	"dynacor/core/layout"
	"dynacor/core/preload"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/sequence"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// Choices are what the planner or technician picks; empty fields follow the house rules, the specification and the best wrench.
type Choices struct {
	Scheme     string  `json:"scheme,omitempty"`
	Pattern    string  `json:"pattern,omitempty"`
	Groups     int     `json:"groups,omitempty"`
	Numbering  string  `json:"numbering,omitempty"`
	Policy     string  `json:"policy,omitempty"`
	Lubricant  string  `json:"lubricant,omitempty"`
	Wrench     string  `json:"wrench,omitempty"`     // tags of the set-up from hand or pump to the nut, joined with a plus
	AdapterDeg float64 `json:"adapterDeg,omitempty"` // crowfoot against the wrench
	Together   int     `json:"together,omitempty"`   // tools pulling at once on opposite fasteners; 0, 1: one
}

// Joint is what a plan needs to know of where it is.
type Joint struct {
	Tag       string `json:"tag"`
	Name      string `json:"name"`
	Area      string `json:"area"`
	Equipment string `json:"equipment"`
	Service   string `json:"service"`
	Family    string `json:"family"`
}

// Input is everything a plan is made from.
type Input struct {
	Joint         Joint
	Specification Specification
	HouseRules    HouseRules
	Lubricants    []fastener.Lubricant
	Own           fastener.Own // the site's own materials, gaskets and nuts
	Tools         []tool.Tool
	Busy          map[string]string // by tag: why a tool is not to hand
	Wanted        map[string]string // by tag: which other work counts on it
	Choices       Choices
	On            time.Time // the day the tools are judged for
}

// PassKind tells a stage from a check pass.
type PassKind string

// The kinds of pass.
const (
	StagePass PassKind = "stage"
	CheckPass PassKind = "check"
)

// Pass is one visit of the group.
type Pass struct {
	Number   int      `json:"number"`
	Kind     PassKind `json:"kind"`
	Name     string   `json:"name"`
	Percent  float64  `json:"percent"`
	TorqueNm float64  `json:"torqueNm"`
	Setting  float64  `json:"setting"` // on the wrench's scale
	Order    []int    `json:"order"`
	Pattern  string   `json:"pattern"`
	Why      string   `json:"why"`
	Together int      `json:"together,omitempty"` // so many at once: fastener i of the order belongs to tool i modulo this
}

// Plan is the work laid out. Torques N·m, forces kN, stresses MPa, lengths mm.
type Plan struct {
	Joint             Joint                `json:"joint"`
	Family            string               `json:"family"`
	ProcedureVersion  int                  `json:"procedureVersion"`
	Specification     Specification        `json:"specification"`
	HouseRulesVersion int                  `json:"houseRulesVersion"`
	HouseRules        HouseRules           `json:"houseRules"`
	Choices           Choices              `json:"choices"`
	Layout            layout.Circle        `json:"layout"`
	Thread            fastener.Thread      `json:"thread"`
	StressAreaMM2     float64              `json:"stressAreaMm2"`
	Strength          fastener.Strength    `json:"strength"`
	Lubricant         fastener.Lubricant   `json:"lubricant"`
	Nut               *fastener.Nut        `json:"nut,omitempty"`    // as measured on site
	Gasket            *fastener.Gasket     `json:"gasket,omitempty"` // its card, when the specification names one
	Wrench            *tool.Tool           `json:"wrench,omitempty"` // the tool that is set
	SetUp             *tool.SetUp          `json:"setUp,omitempty"`  // with what goes between; nil: the wrench alone
	Offers            []tool.Offer         `json:"offers,omitempty"` // every set-up of the crib, the best first
	TargetNm          float64              `json:"targetNm"`         // at the nut, before the scale rounds it
	FinalNm           float64              `json:"finalNm"`          // what the last setting gives
	AllowedMin        float64              `json:"allowedMin"`       // N·m; 0 when the target is not a torque
	AllowedMax        float64              `json:"allowedMax"`
	PreloadKN         float64              `json:"preloadKN"`
	PreloadMinKN      float64              `json:"preloadMinKN"`
	PreloadMaxKN      float64              `json:"preloadMaxKN"`
	StressMPa         float64              `json:"stressMPa"`
	StressMinMPa      float64              `json:"stressMinMPa"`
	StressMaxMPa      float64              `json:"stressMaxMPa"`
	YieldPct          float64              `json:"yieldPct"`
	Passes            []Pass               `json:"passes"`
	Chalk             []int                `json:"chalk"` // number shown at positions 1…n
	Loading           []int                `json:"loading"`
	Cradle            [2]int               `json:"cradle"`
	Checks            []procedure.Check    `json:"checks"`
	Groups            []procedure.Group    `json:"groups"`
	Parts             []procedure.Part     `json:"parts"`
	Cautions          []string             `json:"cautions"`
	Snug              string               `json:"snug"`
	Workings          []*working.Working   `json:"workings"` // target, preload, stages, accuracy, time
	Findings          []working.Finding    `json:"findings"`
	ToBeSupplied      []string             `json:"toBeSupplied"`
	NeedsApproval     []string             `json:"needsApproval"` // departures an engineer must approve
	Minutes           float64              `json:"minutes"`
	LubricantCards    []fastener.Lubricant `json:"lubricantCards"`    // to compare what is found on the bench
	Setting           []string             `json:"setting,omitempty"` // steps to set the value on these tools
	Pull              []string             `json:"pull,omitempty"`    // steps of each pull
	Clear             string               `json:"clear,omitempty"`   // to be said before each pull
	Loosening         *Loosening           `json:"loosening,omitempty"`
	AcrossFlatsMM     float64              `json:"acrossFlatsMm,omitempty"` // hexagon of the nut; 0: not known
}

// Complete reports whether the plan can be carried out: a wrench, a target and nothing left to be supplied.
func (p *Plan) Complete() bool {
	if p.Wrench == nil || len(p.ToBeSupplied) > 0 || len(p.Passes) == 0 {
		return false
	}
	return !slices.ContainsFunc(p.Findings, func(f working.Finding) bool { return f.Severity == working.Stop })
}

// Card finds a lubricant card of the plan.
func (p *Plan) Card(code string) (fastener.Lubricant, bool) {
	for _, l := range p.LubricantCards {
		if l.Code == code {
			return l, true
		}
	}
	return fastener.Lubricant{}, false
}

// Make lays out the work. A specification that cannot be right is refused; what is only missing is listed in ToBeSupplied, what
// is doubtful in Findings, so that the planner sees everything at once.
func Make(in Input) (*Plan, error) {
	if err := in.Specification.Check(in.Own); err != nil {
		return nil, err
	}
	fam, err := procedure.ByCode(in.Joint.Family)
	if err != nil {
		return nil, err
	}
	s, rules := in.Specification, in.HouseRules
	c := withDefaults(in.Choices, s, rules)
	if !slices.Contains(fam.Patterns, c.Pattern) {
		return nil, quantity.Refuse("pattern", "Choose "+join(fam.Patterns)+".", "%q is not used on a %s: opposite bolts must close the joint evenly", c.Pattern, fam.Name)
	}
	p := &Plan{Joint: in.Joint, Family: fam.Code, ProcedureVersion: fam.Version, Specification: s, HouseRulesVersion: rules.Version, HouseRules: rules, Choices: c,
		Parts: fam.Parts, Groups: fam.Groups, Cautions: fam.Cautions, Snug: fam.Snug, LubricantCards: in.Lubricants,
		Findings: []working.Finding{}, ToBeSupplied: []string{}, NeedsApproval: []string{}, Workings: []*working.Working{}, Passes: []Pass{}, Chalk: []int{}}
	if p.Layout, err = layout.NewCircle(s.Bolts, s.BoltCircleMM, s.SeenFrom); err != nil {
		return nil, err
	}
	p.Cradle, p.Loading = p.Layout.Cradle(), p.Layout.Loading()
	if p.Thread, err = fastener.ParseThread(s.Thread); err != nil {
		return nil, err
	}
	geo, err := p.Thread.Geometry(nil)
	if err != nil {
		return nil, err
	}
	p.StressAreaMM2 = geo.As
	if p.Strength, err = in.Own.Strength(p.Thread.System, s.Material, p.Thread.DiameterMM); err != nil {
		return nil, err
	}
	specLub, err := card(in.Lubricants, s.Lubricant)
	if err != nil {
		return nil, err
	}
	if p.Lubricant, err = card(in.Lubricants, c.Lubricant); err != nil {
		return nil, err
	}
	if n, ok := in.Own.Nut(p.Thread); ok {
		p.Nut = &n
	}
	if g, ok := in.Own.Gasket(s.Gasket); ok {
		p.Gasket = &g
	}
	p.AcrossFlatsMM = Hexagon(p.Thread, in.Own)
	p.limits(fam.Checks)
	p.supply()
	p.service()
	if s.Target.Form == NotGiven {
		return p, nil
	}
	if err := p.target(specLub, geo); err != nil {
		return nil, err
	}
	if err := p.order(); err != nil {
		return nil, err
	}
	p.chooseSetUp(in)
	if err := p.routine(fam.Loosen); err != nil {
		return nil, err
	}
	if err := p.loads(geo, in.Own); err != nil {
		return nil, err
	}
	p.time()
	return p, nil
}

func withDefaults(c Choices, s Specification, r HouseRules) Choices {
	def := func(v *string, d string) {
		if *v == "" {
			*v = d
		}
	}
	def(&c.Scheme, r.Scheme)
	def(&c.Pattern, r.Pattern)
	def(&c.Numbering, r.Numbering)
	def(&c.Policy, r.Policy)
	def(&c.Lubricant, s.Lubricant)
	if c.Groups == 0 {
		c.Groups = r.Groups
	}
	return c
}

func card(list []fastener.Lubricant, code string) (fastener.Lubricant, error) {
	for _, l := range list {
		if l.Code == code {
			return l, nil
		}
	}
	return fastener.Lubricant{}, quantity.Refuse("lubricant", "Choose a card from the lubricant library.", "%q is not a lubricant card", code)
}

func join(list []string) string {
	out := ""
	for i, s := range list {
		if i > 0 {
			out += " or "
		}
		out += s
	}
	return out
}

// limits takes over the checks of the family with their limits filled in, each with where it comes from.
func (p *Plan) limits(checks []procedure.Check) {
	p.Checks = slices.Clone(checks)
	for i := range p.Checks {
		k := p.Checks[i].LimitKey
		if k == "" {
			continue
		}
		p.Checks[i].Limit, p.Checks[i].LimitFrom = p.HouseRules.Limits[k], fmt.Sprintf("house rules version %d", p.HouseRules.Version)
		if k == "proof_gap" && p.Specification.ProofGapMM > 0 {
			p.Checks[i].Limit, p.Checks[i].LimitFrom = p.Specification.ProofGapMM, p.Specification.Source()
		}
	}
}

func (p *Plan) supply() {
	s := p.Specification
	if s.Target.Form == NotGiven {
		p.ToBeSupplied = append(p.ToBeSupplied, "Target: the document gives no figure")
	}
	if s.Document == "" && s.NoSourceWhy == "" {
		p.ToBeSupplied = append(p.ToBeSupplied, "Document: the target has no source. An engineer may allow it with a reason")
	}
	if s.Document != "" && s.Revision == "" {
		p.Findings = append(p.Findings, working.Finding{Severity: working.Caution, Code: "no_revision", What: s.Document + " has no revision.", Why: "Nobody can say later which issue was followed.", Remedy: "Enter the revision."})
	}
	if s.Gasket == "" {
		p.Findings = append(p.Findings, working.Finding{Severity: working.Caution, Code: "no_gasket", What: "The specification names no gasket.", Why: "The target holds for one gasket only.", Remedy: "Enter the gasket from the drawing."})
	}
	if p.Lubricant.NotForTorqueControl {
		p.Findings = append(p.Findings, working.Finding{Severity: working.Stop, Code: "not_for_torque", What: p.Lubricant.Name + " is not fit for control by torque.", Why: "Its friction varies too much for a torque to say anything about bolt load.", Remedy: "Lubricate, or use another method."})
	}
}

// service holds the lubricant against what the service asks of it.
func (p *Plan) service() {
	if c := p.Specification.ServiceClass; !p.Lubricant.Suit(c) {
		p.Findings = append(p.Findings, working.Finding{Severity: working.Stop, Code: "lubricant_service",
			What: p.Lubricant.Name + " is not documented for " + strings.ReplaceAll(c, "_", " ") + " service.", Why: "A paste that is wrong for the service can poison, burn or spoil what it meets.", Remedy: "Choose a card that is documented for it, or have the maker's document entered on the card."})
	}
}

// Use is a value of the library that a plan was made with.
type Use struct {
	Shelf, Code string
	Version     int
}

// Uses lists the site's own values that the plan was made with.
func (p *Plan) Uses() []Use {
	var out []Use
	for _, u := range []Use{{"lubricants", p.Lubricant.Code, p.Lubricant.Version}, {"materials", p.Strength.Grade, p.Strength.Version}} {
		if u.Version > 0 {
			out = append(out, u)
		}
	}
	if l, ok := p.Card(p.Specification.Lubricant); ok && l.Version > 0 && l.Code != p.Lubricant.Code {
		out = append(out, Use{"lubricants", l.Code, l.Version})
	}
	if p.Gasket != nil && p.Gasket.Version > 0 {
		out = append(out, Use{"gaskets", p.Gasket.Code, p.Gasket.Version})
	}
	if p.Nut != nil {
		out = append(out, Use{"threads", p.Nut.Thread, p.Nut.Version})
	}
	return out
}

// target works out the torque at the nut for the lubricant that will be used.
func (p *Plan) target(specLub fastener.Lubricant, geo fastener.Geometry) error {
	s := p.Specification
	d := geo.D
	w := working.New("Torque at the nut")
	w.Supply("d", "nominal diameter", d, quantity.Millimetre, "thread "+p.Thread.Text)
	k := p.Lubricant.K.Typ
	nominal, lo, hi, isTorque := s.Target.Torques(p.Choices.Policy)
	if isTorque {
		p.AllowedMin, p.AllowedMax = float64(lo), float64(hi)
		w.Supply("Tspec", "torque of the document", float64(nominal), quantity.NewtonMetre, s.Source())
		if s.Target.Form == TorqueRange {
			w.Take("The document gives " + quantity.Text(s.Target.Min) + " to " + quantity.Text(s.Target.Max) + " " + s.Target.Unit.Symbol() + "; the " + p.Choices.Policy + " of the range is used by the house rules.")
		}
		p.TargetNm = float64(nominal)
		if specLub.Code != p.Lubricant.Code {
			w.LookUp("Kspec", "nut factor the document holds for", specLub.K.Typ, "", specLub.Provenance())
			w.LookUp("K", "nut factor of the lubricant used", k, "", p.Lubricant.Provenance())
			p.TargetNm = w.Calc("T", "torque that restores the same bolt load", "Tspec × K / Kspec", float64(nominal)*k/specLub.K.Typ, quantity.NewtonMetre, "same load at another friction")
			f := p.TargetNm / float64(nominal)
			p.AllowedMin, p.AllowedMax = p.AllowedMin*f, p.AllowedMax*f
			p.NeedsApproval = append(p.NeedsApproval, fmt.Sprintf("Lubricant %s instead of %s: torque changed from %s to %s N·m", p.Lubricant.Name, specLub.Name, quantity.Text(quantity.Significant(float64(nominal), 4)), quantity.Text(quantity.Significant(p.TargetNm, 4))))
			p.Findings = append(p.Findings, working.Finding{Severity: working.Caution, Code: "other_lubricant",
				What: "The document holds for " + specLub.Name + ", this plan for " + p.Lubricant.Name + ".", Why: "The torque is changed so that the bolt load stays the same; the document does not say so.", Remedy: "An engineer approves the plan."})
		} else {
			w.Calc("T", "torque at the nut", "Tspec", p.TargetNm, quantity.NewtonMetre, "as the document states")
		}
	} else {
		w.LookUp("K", "nut factor", k, "", p.Lubricant.Provenance())
		w.LookUp("As", "tensile stress area", geo.As, "mm2", "ISO 898-1 / ASME B1.1")
		stress := s.Target.Stress
		if s.Target.Form == PercentYield {
			w.LookUp("Re", "minimum yield of "+p.Strength.Grade, p.Strength.Yield, quantity.Megapascal, p.Strength.Provenance())
			w.Supply("q", "share of yield", s.Target.Percent/100, "", s.Source())
			v, _, above, err := preload.FromPercent(nil, "yield", s.Target.Percent, p.Strength.Yield, geo.As)
			if err != nil {
				return err
			}
			stress = v
			w.Calc("S", "bolt stress", "q × Re", stress, quantity.Megapascal, "definition")
			if above {
				w.Warn("More than 90 % of yield is asked for.")
			}
		} else {
			w.Supply("S", "bolt stress", stress, quantity.Megapascal, s.Source())
		}
		f := w.Calc("F", "load in each bolt", "S × As", stress*geo.As/1000, quantity.Kilonewton, "definition")
		t, err := preload.TorqueFromK(nil, f, k, d)
		if err != nil {
			return err
		}
		p.TargetNm = w.Calc("T", "torque at the nut", "K × d × F", t, quantity.NewtonMetre, "nut factor definition")
	}
	w.Take("Lubricant: " + p.Lubricant.Name + " on thread and nut face, turning the nut.")
	w.Take("New, clean bolts; strength at room temperature.")
	if p.Lubricant.Source == fastener.KLibrary {
		w.Warn("The nut factor is a typical value. Confirm it by test when the load matters.")
	}
	p.Workings = append(p.Workings, w)
	usual := func(q float64) float64 { return k * d * q * p.Strength.Yield * geo.As / 1000 }
	if f := unitSlip(p.TargetNm, usual(0.3), usual(0.8)); f != nil {
		p.Findings = append(p.Findings, *f)
	}
	return nil
}

// order settles the visiting order and the numbers chalked on the flange.
func (p *Plan) order() error {
	o, err := sequence.Visiting(sequence.Pattern(p.Choices.Pattern), p.Specification.Bolts, sequence.Options{Groups: p.Choices.Groups})
	if err != nil {
		return err
	}
	p.Chalk = o.Chalk
	if p.Choices.Numbering == "place" {
		p.Chalk = make([]int, p.Specification.Bolts)
		for i := range p.Chalk {
			p.Chalk[i] = i + 1
		}
	} else if p.Choices.Numbering != "order" {
		return quantity.Refuse("numbering", "Choose place or order.", "%q is not a way of numbering", p.Choices.Numbering)
	}
	scheme, err := sequence.SchemeByCode(p.Choices.Scheme)
	if err != nil {
		return err
	}
	why := "Opposite bolts in turn keep the faces parallel."
	if p.Choices.Pattern == string(sequence.Group) {
		why = "The ring is cut in sectors; each round takes one bolt of every sector, so chalk numbers rise by the number of sectors along the ring."
	}
	visit, together := o.Visit, 0
	if n := p.Choices.Together; n > 1 {
		steps, err := sequence.SimultaneousOrder(nil, sequence.SimultaneousInput{N: p.Specification.Bolts, Tools: n})
		if err != nil {
			return err
		}
		visit, together, why = slices.Concat(steps.Steps...), n, fmt.Sprintf("%d tools pull at once, evenly spaced, so the faces stay parallel; they start together and go on together.", n)
	}
	for i, pct := range scheme.Percents {
		p.Passes = append(p.Passes, Pass{Number: i + 1, Kind: StagePass, Name: quantity.Text(math.Round(pct)) + " %", Percent: pct, Order: visit, Pattern: p.Choices.Pattern, Why: why, Together: together})
	}
	round, err := sequence.Visiting(sequence.Clockwise, p.Specification.Bolts, sequence.Options{})
	if err != nil {
		return err
	}
	if together > 1 { // each goes round its own share of the circle
		share := p.Specification.Bolts / together
		for i := range round.Visit {
			round.Visit[i] = i%together*share + i/together + 1
		}
	}
	p.Passes = append(p.Passes, Pass{Number: len(p.Passes) + 1, Kind: CheckPass, Name: "round, 100 %", Percent: 100, Order: round.Visit, Pattern: string(sequence.Clockwise), Together: together,
		Why: "Each bolt takes load from its neighbours when it is tightened; going round at full torque until no nut turns puts it back."})
	return nil
}
