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
	Scheme    string `json:"scheme,omitempty"`
	Pattern   string `json:"pattern,omitempty"`
	Groups    int    `json:"groups,omitempty"`
	Numbering string `json:"numbering,omitempty"`
	Policy    string `json:"policy,omitempty"`
	Lubricant string `json:"lubricant,omitempty"`
	Wrench    string `json:"wrench,omitempty"`
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
	Wrenches      []tool.Wrench
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
}

// WrenchChoice is a wrench of the crib judged for this plan.
type WrenchChoice struct {
	Tag      string   `json:"tag"`
	Text     string   `json:"text"`
	Usable   bool     `json:"usable"`
	Problems []string `json:"problems"`
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
	Wrench            *tool.Wrench         `json:"wrench,omitempty"`
	Wrenches          []WrenchChoice       `json:"wrenches"`
	TargetNm          float64              `json:"targetNm"`   // at the nut, before the scale rounds it
	FinalNm           float64              `json:"finalNm"`    // what the last setting gives
	AllowedMin        float64              `json:"allowedMin"` // N·m; 0 when the target is not a torque
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
	LubricantCards    []fastener.Lubricant `json:"lubricantCards"` // to compare what is found on the bench
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
		Findings: []working.Finding{}, ToBeSupplied: []string{}, NeedsApproval: []string{}, Workings: []*working.Working{}, Passes: []Pass{}, Wrenches: []WrenchChoice{}, Chalk: []int{}}
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
	p.checks(fam, rules)
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
	p.chooseWrench(in)
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

// checks fills in the limits, each with where it comes from.
func (p *Plan) checks(fam procedure.Family, rules HouseRules) {
	p.Checks = slices.Clone(fam.Checks)
	for i := range p.Checks {
		k := p.Checks[i].LimitKey
		if k == "" {
			continue
		}
		p.Checks[i].Limit, p.Checks[i].LimitFrom = rules.Limits[k], fmt.Sprintf("house rules version %d", rules.Version)
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
	for i, pct := range scheme.Percents {
		p.Passes = append(p.Passes, Pass{Number: i + 1, Kind: StagePass, Name: quantity.Text(math.Round(pct)) + " %", Percent: pct, Order: o.Visit, Pattern: p.Choices.Pattern, Why: why})
	}
	round, err := sequence.Visiting(sequence.Clockwise, p.Specification.Bolts, sequence.Options{})
	if err != nil {
		return err
	}
	p.Passes = append(p.Passes, Pass{Number: len(p.Passes) + 1, Kind: CheckPass, Name: "round, 100 %", Percent: 100, Order: round.Visit, Pattern: string(sequence.Clockwise),
		Why: "Each bolt takes load from its neighbours when it is tightened; going round at full torque until no nut turns puts it back."})
	return nil
}

// Settings gives what to set on a wrench for each stage, in its own unit, the last never past the allowed maximum.
func (p *Plan) Settings(w tool.Wrench) ([]float64, error) {
	limit := 0.0
	if p.AllowedMax > 0 {
		limit = quantity.Torque(p.AllowedMax).In(w.Unit)
	}
	st, err := sequence.Staging(nil, p.Choices.Scheme, quantity.Torque(p.TargetNm).In(w.Unit), w.Graduation, limit, 0)
	if err != nil {
		return nil, err
	}
	last := st.Nm[len(st.Nm)-1]
	if lo := quantity.Torque(p.AllowedMin).In(w.Unit); last < lo-1e-9*lo {
		return nil, quantity.Refuse("wrench", "Use a wrench with finer marks.", "no mark of %s lies inside %s to %s %s", w.Tag, quantity.Text(quantity.Significant(lo, 4)), quantity.Text(quantity.Significant(limit, 4)), w.Unit.Symbol())
	}
	return append(st.Nm, last), nil // the check pass is at the last setting
}

// Fit judges a wrench for the passes of this plan still to come, from pass number from (0 the first), on a day;
// settings, for every pass, is nil when the stages cannot be set on it.
func (p *Plan) Fit(w tool.Wrench, from int, on time.Time) (settings []float64, problems []tool.Problem) {
	settings, err := p.Settings(w)
	if err != nil {
		why, remedy := err.Error(), "Take another wrench."
		if r, ok := quantity.RefusalIn(err); ok {
			why, remedy = r.Why, r.Remedy
		}
		if top := quantity.Torque(p.TargetNm).In(w.Unit); top > w.RatedMax {
			return nil, w.Fit([]float64{quantity.Significant(top, 3)}, p.HouseRules.MinFrac, on)
		}
		return nil, append(w.Fit(nil, p.HouseRules.MinFrac, on), tool.Problem{Code: "scale", What: why, Remedy: remedy})
	}
	return settings, w.Fit(settings[min(from, len(settings)-1):], p.HouseRules.MinFrac, on)
}

// chooseWrench judges every wrench of the crib and takes the chosen one, else the best that has no problem.
func (p *Plan) chooseWrench(in Input) {
	var list []tool.Candidate
	byTag := map[string]tool.Wrench{}
	for _, w := range in.Wrenches {
		byTag[w.Tag] = w
		_, problems := p.Fit(w, 0, in.On)
		choice := WrenchChoice{Tag: w.Tag, Usable: len(problems) == 0, Problems: []string{},
			Text: fmt.Sprintf("%s to %s %s in steps of %s, ±%s %%", quantity.Text(w.RatedMin), quantity.Text(w.RatedMax), w.Unit.Symbol(), quantity.Text(w.Graduation), quantity.Text(w.AccuracyPct))}
		for _, pr := range problems {
			choice.Problems = append(choice.Problems, pr.What)
		}
		if choice.Usable {
			list = append(list, tool.Candidate{Name: w.Tag, FullScale: float64(quantity.TorqueOf(w.RatedMax, w.Unit)), TolPct: w.AccuracyPct})
		}
		p.Wrenches = append(p.Wrenches, choice)
	}
	tag := p.Choices.Wrench
	if tag == "" && len(list) > 0 {
		if order, _, err := tool.Rank(p.TargetNm, list, p.HouseRules.MinFrac, 1, p.HouseRules.PreferredFrac); err == nil && len(order) > 0 {
			tag = order[0]
		}
	}
	w, ok := byTag[tag]
	if !ok {
		what := "No wrench in the crib can take every stage."
		if p.Choices.Wrench != "" {
			what = p.Choices.Wrench + " is not in the crib."
		}
		p.Findings = append(p.Findings, working.Finding{Severity: working.Stop, Code: "no_wrench", What: what, Why: "Each stage from the lowest to the last must lie in a wrench's guaranteed range.", Remedy: "See the list of wrenches for what each lacks; add one, or choose another stage scheme."})
		return
	}
	p.Choices.Wrench = w.Tag
	settings, problems := p.Fit(w, 0, in.On)
	for _, pr := range problems {
		p.Findings = append(p.Findings, working.Finding{Severity: working.Stop, Code: "wrench_" + pr.Code, What: pr.What + ".", Remedy: pr.Remedy})
	}
	p.Wrench = &w
	if settings == nil {
		return
	}
	ws := working.New("Stages on the scale of " + w.Tag)
	ws.Supply("g", "one mark of the scale", w.Graduation, w.Unit, w.Tag)
	t := ws.Calc("T", "torque at the nut", "Tnut", quantity.Torque(p.TargetNm).In(w.Unit), w.Unit, "from the target, in the unit of the scale")
	last := settings[len(settings)-1]
	ws.Calc("full", "last setting, nearest mark", "T rounded to g", last, w.Unit, "own rule: half a mark goes up, never past the maximum")
	for i := range p.Passes {
		p.Passes[i].Setting = settings[i]
		p.Passes[i].TorqueNm = float64(quantity.TorqueOf(settings[i], w.Unit))
		if p.Passes[i].Kind == StagePass && i < len(p.Passes)-2 {
			ws.Calc("S"+quantity.Text(float64(i+1)), "stage "+p.Passes[i].Name, quantity.Text(quantity.Significant(p.Passes[i].Percent, 4))+" % of full rounded to g", settings[i], w.Unit, "own rule")
		}
	}
	p.FinalNm = float64(quantity.TorqueOf(last, w.Unit))
	ws.Take(fmt.Sprintf("Rounding changes the torque by %s %%.", quantity.Text(quantity.Significant(100*(last-t)/t, 2))))
	p.Workings = append(p.Workings, ws)
	p.accuracy(w, last)
}

// accuracy compares what the wrench may really give with what the document allows.
func (p *Plan) accuracy(w tool.Wrench, setting float64) {
	lo, hi, err := tool.ToleranceBand(nil, setting, w.AccuracyPct, false)
	if err != nil {
		return
	}
	a := working.New("What the wrench can promise")
	a.Supply("set", "setting", setting, w.Unit, w.Tag)
	a.Supply("a", "accuracy", w.AccuracyPct/100, "", "certificate "+w.Certificate)
	a.Calc("low", "lowest true torque", "set × (1 − a)", lo, w.Unit, "ISO 6789-1")
	a.Calc("high", "highest true torque", "set × (1 + a)", hi, w.Unit, "ISO 6789-1")
	if p.AllowedMax > 0 {
		minU, maxU := quantity.Torque(p.AllowedMin).In(w.Unit), quantity.Torque(p.AllowedMax).In(w.Unit)
		a.Supply("min", "least allowed", minU, w.Unit, p.Specification.Source())
		a.Supply("max", "most allowed", maxU, w.Unit, p.Specification.Source())
		if lo < minU-1e-9*minU || hi > maxU+1e-9*maxU {
			share := 100 * (math.Min(hi, maxU) - math.Max(lo, minU)) / (hi - lo)
			text := fmt.Sprintf("%s may really give %s to %s; the document allows %s to %s %s. %s %% of its error band lies inside.", w.Tag, sig4(lo), sig4(hi), sig4(minU), sig4(maxU), w.Unit.Symbol(), quantity.Text(math.Round(math.Max(0, share))))
			a.Warn(text)
			p.Findings = append(p.Findings, working.Finding{Severity: working.Caution, Code: "accuracy", What: text, Why: "The tolerance of the document is narrower than the wrench's.", Remedy: "Use a more accurate wrench, or ask the engineer whether the tolerance must be held."})
		}
	}
	p.Workings = append(p.Workings, a)
}

func sig4(v float64) string { return quantity.Text(quantity.Significant(v, 4)) }

// loads works out what the bolts then hold, with the spread.
func (p *Plan) loads(geo fastener.Geometry, own fastener.Own) error {
	t, acc := p.FinalNm, 0.0
	if t == 0 {
		t = p.TargetNm
	}
	if p.Wrench != nil {
		acc = p.Wrench.AccuracyPct
	}
	r, err := preload.PreloadBand(nil, t, geo.D, p.Lubricant.K, acc)
	if err != nil {
		return err
	}
	p.PreloadKN, p.PreloadMinKN, p.PreloadMaxKN = r.TypKN, r.MinKN, r.MaxKN
	w := working.New("Load in each bolt")
	w.Calc("T", "torque at the nut", "setting", t, quantity.NewtonMetre, "last setting of the plan")
	w.Supply("d", "nominal diameter", geo.D, quantity.Millimetre, "thread "+p.Thread.Text)
	w.LookUp("K", "nut factor, typical", p.Lubricant.K.Typ, "", p.Lubricant.Provenance())
	w.LookUp("Klow", "nut factor, low", p.Lubricant.K.Low, "", p.Lubricant.Name)
	w.LookUp("Khigh", "nut factor, high", p.Lubricant.K.High, "", p.Lubricant.Name)
	w.Supply("a", "accuracy of the wrench", acc/100, "", "certificate")
	w.Calc("F", "load in each bolt", "T / (K × d)", r.TypKN, quantity.Kilonewton, "nut factor definition")
	w.Calc("Fmin", "least load", "T × (1 − a) / (Khigh × d)", r.MinKN, quantity.Kilonewton, "worst case")
	w.Calc("Fmax", "greatest load", "T × (1 + a) / (Klow × d)", r.MaxKN, quantity.Kilonewton, "worst case")
	w.LookUp("As", "tensile stress area", geo.As, "mm2", "ISO 898-1 / ASME B1.1")
	p.StressMPa = w.Calc("S", "stress in the bolt", "F / As", r.TypKN*1000/geo.As, quantity.Megapascal, "definition")
	p.StressMinMPa, p.StressMaxMPa = r.MinKN*1000/geo.As, r.MaxKN*1000/geo.As
	w.LookUp("Re", "minimum yield of "+p.Strength.Grade, p.Strength.Yield, quantity.Megapascal, p.Strength.Provenance())
	p.YieldPct = 100 * w.Calc("q", "share of yield", "S / Re", p.StressMPa/p.Strength.Yield, "", "definition")
	w.Take("The band is a worst case: friction and wrench error at their ends together.")
	if b, err := own.Bearing(p.Thread); err == nil {
		fr := preload.Friction{D: geo.D, Pitch: geo.Pitch, D2: geo.D2, BearingMean: b.Mean, MuThread: p.Lubricant.MuThread.Typ, MuHead: p.Lubricant.MuHead.Typ}
		if tq, err := fr.TorqueAt(nil, r.TypKN); err == nil {
			if st, err := preload.CombinedStress(nil, r.TypKN, tq.PitchNm+tq.ThreadNm, geo.Ds, false, 0.5, p.Strength.Yield); err == nil {
				w.Calc("tau", "twist in the thread while the nut turns", "thread part of T over the section", st.Tau, quantity.Megapascal, "VDI 2230")
				w.Calc("Svm", "stress while tightening, with twist", "√( S² + 3 × tau² )", st.VMTightening, quantity.Megapascal, "VDI 2230")
				w.Take(fmt.Sprintf("Of the torque about %.0f %% stretches the bolt, %.0f %% is lost in the thread, %.0f %% under the nut.", tq.PitchPct, tq.ThreadPct, tq.HeadPct))
				if st.UtilTighteningPct > 90 {
					p.Findings = append(p.Findings, working.Finding{Severity: working.Caution, Code: "near_yield", What: fmt.Sprintf("While tightening the bolt reaches %.0f %% of yield.", st.UtilTighteningPct), Why: "Twist adds to tension while the nut turns.", Remedy: "Ask the engineer before the first pull."})
				}
			}
		}
	}
	p.Workings = append(p.Workings, w)
	if p.StressMaxMPa > p.Strength.Yield {
		p.Findings = append(p.Findings, working.Finding{Severity: working.Caution, Code: "spread_over_yield", What: fmt.Sprintf("With the lowest friction the bolt could reach %.0f MPa, past its yield of %.0f MPa.", p.StressMaxMPa, p.Strength.Yield), Why: "The spread of friction is wide.", Remedy: "Use a tested lubricant value, or ask the engineer."})
	}
	if p.YieldPct > p.HouseRules.MaxYieldPct {
		p.Findings = append(p.Findings, working.Finding{Severity: working.Caution, Code: "above_house_yield", What: fmt.Sprintf("The bolts come to %.0f %% of yield; the house rule stops at %.0f %%.", p.YieldPct, p.HouseRules.MaxYieldPct), Why: p.HouseRules.Reasons["maxYieldPct"], Remedy: "An engineer approves the plan."})
		p.NeedsApproval = append(p.NeedsApproval, fmt.Sprintf("%.0f %% of yield, house rule %.0f %%", p.YieldPct, p.HouseRules.MaxYieldPct))
	}
	return nil
}

// time estimates the work: every bolt in every pass, plus setting the wrench.
func (p *Plan) time() {
	n, passes := float64(p.Specification.Bolts), float64(len(p.Passes))
	w := working.New("Time at the joint")
	w.Supply("n", "bolts", n, "", "specification")
	w.Supply("P", "passes", passes, "", "plan")
	w.Supply("t", "seconds a pull, with moving on", p.HouseRules.SecondsPerPull, "", "house rules")
	w.Supply("s", "seconds to set the wrench", p.HouseRules.SecondsPerPass, "", "house rules")
	p.Minutes = w.Calc("D", "minutes", "P × ( n × t + s ) / 60", passes*(n*p.HouseRules.SecondsPerPull+p.HouseRules.SecondsPerPass)/60, "", "definition")
	w.Take("One wrench, without preparation and proof.")
	p.Workings = append(p.Workings, w)
}
