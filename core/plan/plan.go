package plan

import (
	"math"
	"slices"
	"strings"
	"time"

	"dynacor/core/fastener"
	"dynacor/core/layout"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// Approval is who answers for a plan that is not as document and house rules say, and why it is right.
type Approval struct {
	By  string `json:"by"`
	Why string `json:"why"`
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
	Joint Joint
	// with its version; the zero family is looked up among the built-in ones by Joint.Family
	Family        procedure.Family
	Specification Specification
	HouseRules    HouseRules
	Lubricants    []fastener.Lubricant
	Own           fastener.Own // the site's own materials, gaskets, nuts and tables
	Tools         []tool.Tool
	Busy          map[string]string // by tag: why a tool is not to hand
	Wanted        map[string]string // by tag: which other work counts on it
	Choices       Choices
	On            time.Time // the day the tools are judged for
	Apart         bool      // lay out how the joint is taken apart
	Was           *Plan     // with Apart: the plan it was tightened by; nil: as it would be planned now
}

// PassKind says what is done to each fastener of a pass.
type PassKind string

// The kinds of pass. A stage goes to a torque; a check pass goes round at full torque until nothing turns; the others
// are as the steps of a procedure.
const (
	StagePass   PassKind = "stage"
	CheckPass   PassKind = "check"
	VerifyPass  PassKind = "verify"
	HandPass    PassKind = "hand"
	TurnPass    PassKind = "turn"
	TurnsPass   PassKind = "turns"
	ShapePass   PassKind = "shape"
	EffortPass  PassKind = "effort"
	StretchPass PassKind = "stretch"
	LeavePass   PassKind = "leave"
	UndoPass    PassKind = "undo"
	EasePass    PassKind = "ease" // let go in rounds; Percent is about what is left of its load
)

// Sets reports whether a tool is set for the pass.
func (k PassKind) Sets() bool {
	return k == StagePass || k == CheckPass || k == VerifyPass || k == TurnsPass
}

// LetsGo reports whether fasteners are let go in the pass.
func (k PassKind) LetsGo() bool { return k == UndoPass || k == EasePass }

// Repeats reports whether another round follows as long as something was not still.
func (k PassKind) Repeats() bool { return k == CheckPass || k == TurnsPass }

// Pass is one visit of a group, or of a part of it. Order holds positions of the joint.
type Pass struct {
	Number   int             `json:"number"`
	Kind     PassKind        `json:"kind"`
	Name     string          `json:"name"`
	Group    string          `json:"group,omitempty"` // "": the only one
	Step     string          `json:"step,omitempty"`  // of the procedure
	Stage    int             `json:"stage,omitempty"` // which of the stages of its group, from 0
	Percent  float64         `json:"percent"`
	TorqueNm quantity.Torque `json:"torqueNm"`
	Setting  float64         `json:"setting"` // on the wrench's scale
	Order    []int           `json:"order"`
	Pattern  string          `json:"pattern"`
	Why      string          `json:"why"`
	// so many at once: fastener i of the order belongs to tool i modulo this
	Together int     `json:"together,omitempty"`
	Until    string  `json:"until,omitempty"` // what ends it, in words
	Caution  string  `json:"caution,omitempty"`
	Opens    string  `json:"opens,omitempty"`
	TurnDeg  float64 `json:"turnDeg,omitempty"`
	Datum    string  `json:"datum,omitempty"`
	LowNm    float64 `json:"lowNm,omitempty"`  // window of an effort
	HighNm   float64 `json:"highNm,omitempty"` //
	LowMM    float64 `json:"lowMm,omitempty"`  // of a stretch
	HighMM   float64 `json:"highMm,omitempty"`

	// of a check round: so far may a nut turn; missing in plans from before groups had their own
	MovedLimitDeg *float64 `json:"movedLimitDeg,omitempty"`
	// where each fastener has a target of its own
	Own OwnTargets `json:"own,omitempty"`
}

// Stops is how many times whoever pulls goes on to the next fasteners: tools that pull at once go on together.
func (ps Pass) Stops() float64 {
	return math.Ceil(float64(len(ps.Order)) / float64(max(1, ps.Together)))
}

// RulesNow is the number of the present rules. 0: those before they had a number. 1: a click without movement is suspect
// in the first torque pass of a fastener, whatever passes stand before it; before, only in the first pass of all. 2: a test
// without a reading above nothing, or without a duration, is no test. 3: the shape of a curve, too, tells of the nut in the
// first torque pass of a fastener, whatever passes stand before it.
const RulesNow = 3

// Plan is the work laid out. The positions of fasteners run through all of its groups.
// Torques N·m, forces kN, stresses MPa, lengths mm.
type Plan struct {
	Joint             Joint             `json:"joint"`
	Way               Way               `json:"way,omitempty"`
	Holds             string            `json:"holds,omitempty"` // apart: what the fasteners hold together, in words
	Lead              string            `json:"lead,omitempty"`  // group that the document's own fields are about; "": the first
	Family            string            `json:"family"`
	FamilyName        string            `json:"familyName,omitempty"`
	ProcedureVersion  int               `json:"procedureVersion"`
	ProcedureFrom     string            `json:"procedureFrom,omitempty"`
	Variant           map[string]string `json:"variant,omitempty"` // answers, with those that a figure decided
	VariantWords      []string          `json:"variantWords,omitempty"`
	Specification     Specification     `json:"specification"`
	HouseRulesVersion int               `json:"houseRulesVersion"`
	HouseRules        HouseRules        `json:"houseRules"`
	Approved          *Approval         `json:"approved,omitempty"` // of what is not as document and house rules say
	Choices           Choices           `json:"choices"`
	// in the order of the procedure; there is always one
	Groups  []FastenerGroup   `json:"groups"`
	Gasket  *fastener.Gasket  `json:"gasket,omitempty"` // its card, when the specification names one
	Passes  []Pass            `json:"passes"`
	Chalk   []int             `json:"chalk"` // number shown at each position
	Loading []int             `json:"loading"`
	Cradle  [2]int            `json:"cradle"`
	Checks  []procedure.Check `json:"checks"`
	Rows    []procedure.Row   `json:"rows"` // of checks
	Parts   []procedure.Part  `json:"parts"`
	// of another variant: found on the table they tell of a wrong kit
	OtherParts []procedure.Part `json:"otherParts,omitempty"`
	Supplies   []procedure.Part `json:"supplies,omitempty"`
	OtherTools []string         `json:"otherTools,omitempty"`
	Cautions   []string         `json:"cautions"`
	// what of them is told at each stop, step/… and when something is let go (loosen)
	CautionsAt   map[string][]string `json:"cautionsAt,omitempty"`
	After        []string            `json:"after,omitempty"` // what the house rules ask for after the work
	LoosenGate   []string            `json:"loosenGate,omitempty"`
	Workings     []*working.Working  `json:"workings"` // target, preload, stages, accuracy, time
	Findings     []working.Finding   `json:"findings"`
	ToBeSupplied []string            `json:"toBeSupplied"`
	// what is not as document and house rules say, for an engineer to approve
	NeedsApproval  []string             `json:"needsApproval"`
	Minutes        float64              `json:"minutes"`
	LubricantCards []fastener.Lubricant `json:"lubricantCards"` // to compare what is found on the bench
	// what each check and step rests on, directly; see Dependants. Plans of older programs have none
	Needs map[string][]string `json:"needs,omitempty"`
	// Rules is the number of the rules that a run on this plan is judged by, so that a later rule leaves the verdict of
	// an earlier record as it was; see RulesNow.
	Rules int `json:"rules,omitempty"`

	all map[string]float64 // figures of the document, with the usual ones where it gives none; while it is made
}

// Complete reports whether the plan can be carried out: tools where they are needed, targets, and nothing left to be
// supplied.
func (p *Plan) Complete() bool {
	if len(p.ToBeSupplied) > 0 || len(p.Passes) == 0 {
		return false
	}
	for _, g := range p.AllGroups() {
		if g.Wrench == nil && p.needsTool(g.Code) {
			return false
		}
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

// Make lays out the work. A specification that cannot be right is refused; what is only missing is listed in
// ToBeSupplied, what is doubtful in Findings, so that the planner sees everything at once.
func Make(in Input) (*Plan, error) {
	fam := in.Family
	if fam.Code == "" {
		var err error
		if fam, err = procedure.ByCode(in.Joint.Family); err != nil {
			return nil, err
		}
	}
	s := in.Specification
	if err := s.Check(fam, in.Own); err != nil {
		return nil, err
	}
	if err := in.Choices.check(); err != nil {
		return nil, err
	}
	answers, err := fam.Answer(s.Variant, s.Figures)
	if err != nil {
		return nil, err
	}
	other, words := fam.Other(answers), variantWords(fam, answers)
	whole := fam
	fam = fam.For(answers)
	lead := fam.Fasteners[0].Code
	if in.Apart {
		fam, answers = whole.TakenApart(answers)
		other = nil
	}
	p := &Plan{
		Joint:             in.Joint,
		Family:            fam.Code,
		FamilyName:        fam.Name,
		ProcedureVersion:  fam.Version,
		ProcedureFrom:     fam.From,
		Variant:           answers,
		VariantWords:      words,
		Specification:     s,
		HouseRulesVersion: in.HouseRules.Version,
		HouseRules:        in.HouseRules,
		Choices:           Choices{Together: in.Choices.Together, Compared: in.Choices.Compared},
		Parts:             fam.Parts,
		OtherParts:        other,
		Supplies:          fam.Supplies,
		OtherTools:        fam.Tools,
		Rows:              fam.Rows,
		LoosenGate:        fam.LoosenGate,
		LubricantCards:    in.Lubricants,
		Groups:            make([]FastenerGroup, len(fam.Fasteners)),
		Cautions:          []string{},
		Findings:          []working.Finding{},
		ToBeSupplied:      []string{},
		NeedsApproval:     []string{},
		Workings:          []*working.Working{},
		Passes:            []Pass{},
		Chalk:             []int{},
		Loading:           []int{},
	}
	p.all = fam.Filled(s.Figures)
	if g, ok := in.Own.Gasket(s.Gasket); ok {
		p.Gasket = &g
	}
	for _, text := range fam.Cautions {
		p.caution(text)
	}
	if in.Apart {
		p.Way, p.Lead = TakeDown, lead
	}
	p.supply(fam)
	var makers []*maker
	offset := 0
	for i, g := range fam.Fasteners {
		m, err := p.begin(in, fam, i, offset, lead)
		if err != nil {
			return nil, inGroup(g, i, err)
		}
		m.runDown(in.Tools)
		makers = append(makers, m)
		offset += m.Layout.Count
	}
	if in.Apart {
		return p, p.takeDown(in, fam, makers)
	}
	if l := p.First().Layout; l.Shape() == layout.Circle {
		p.Cradle, p.Loading = l.Cradle(), l.Loading()
	}
	p.limits(fam, makers)
	p.service(makers)
	if slices.ContainsFunc(makers, (*maker).unknown) {
		return p, nil
	}
	for i, m := range makers {
		if err := m.target(); err != nil {
			return nil, inGroup(m.fam, i, err)
		}
	}
	if err := p.order(fam, makers); err != nil {
		return nil, err
	}
	for i, m := range makers {
		if err := m.ownTargets(); err != nil {
			return nil, inGroup(m.fam, i, err)
		}
		if err := m.settle(in); err != nil {
			return nil, inGroup(m.fam, i, err)
		}
	}
	p.routines(fam, makers)
	p.schools(makers)
	p.gates()
	p.tell()
	p.needs(fam)
	p.Rules = RulesNow
	p.time(fam)
	return p, nil
}

// inGroup says which group a refusal is about.
func inGroup(g procedure.Fasteners, i int, err error) error {
	if r, ok := quantity.RefusalIn(err); ok && i > 0 && !strings.HasPrefix(r.Field, g.Code+".") {
		r.Field = g.Code + "." + r.Field
	}
	return err
}

func variantWords(f procedure.Family, answers map[string]string) []string {
	var out []string
	for _, q := range f.Questions {
		for _, o := range q.Options {
			if answers[q.Code] == o.Code {
				out = append(out, o.Name)
			}
		}
	}
	return out
}

func card(list []fastener.Lubricant, code string) (fastener.Lubricant, error) {
	for _, l := range list {
		if l.Code == code {
			return l, nil
		}
	}
	return fastener.Lubricant{}, quantity.Refuse("lubricant", "Choose a card from the lubricant library.",
		"%q is not a lubricant card", code)
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

// Use is a value of the library that a plan was made with.
type Use struct {
	Shelf, Code string
	Version     int
}

// Uses lists the site's own values that the plan was made with, each once.
func (p *Plan) Uses() []Use {
	var out []Use
	add := func(shelf, code string, version int) {
		if u := (Use{shelf, code, version}); version > 0 && !slices.Contains(out, u) {
			out = append(out, u)
		}
	}
	for _, g := range p.AllGroups() {
		add("lubricants", g.Lubricant.Code, g.Lubricant.Version)
		add("materials", g.Strength.Grade, g.Strength.Version)
		if s, ok := p.Demand(g); ok {
			if l, ok := p.Card(s.Lubricant); ok {
				add("lubricants", l.Code, l.Version)
			}
		}
		if g.Nut != nil {
			add("threads", g.Nut.Thread, g.Nut.Version)
		}
		if g.Table != nil {
			add("tables", g.Table.Code, g.Table.Version)
		}
	}
	if p.Gasket != nil {
		add("gaskets", p.Gasket.Code, p.Gasket.Version)
	}
	return out
}
