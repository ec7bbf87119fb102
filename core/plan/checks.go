package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"dynacor/core/authority"
	"dynacor/core/measure"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

// limits takes over the checks of the family with their limits filled in, each with where it comes from.
func (p *Plan) limits(fam procedure.Family, makers []*maker) {
	p.Checks = slices.Clone(fam.Checks)
	wet := slices.IndexFunc(makers, func(m *maker) bool { return m.Lubricant.Code != "" })
	p.Checks = slices.DeleteFunc(p.Checks,
		func(c procedure.Check) bool { return c.Kind == procedure.Lubricant && wet < 0 })
	for i := range p.Checks {
		c := &p.Checks[i]
		// said in the plan: older ones, which say nothing, were cleared by anyone's word
		c.Waive = c.WaivedBy()
		if c.Signed() && len(c.Signers) == 0 { // in older plans anybody signed
			c.Signers = authority.RolesFor(authority.SignHold)
		}
		if c.Kind == procedure.Lubricant && c.Fasteners == "" && wet > 0 {
			c.Fasteners = makers[wet].Code
		}
		if c.Kind == procedure.Measure && c.LimitKey == "" && c.HighFigure == "" && c.LowFigure == "" &&
			c.TimesCount == "" && (c.Limit != 0 || c.Low != 0) {
			c.LimitFrom = fmt.Sprintf("procedure, version %d", fam.Version)
		}
		if k := c.LimitKey; k != "" {
			c.Limit, c.LimitFrom = p.HouseRules.Limits[k], fmt.Sprintf("house rules version %d", p.HouseRules.Version)
			if k == "proof_gap" && p.Specification.ProofGapMM > 0 {
				c.Limit, c.LimitFrom = p.Specification.ProofGapMM, p.Specification.Source()
			}
		}
		p.byFigures(fam, c)
		if order := p.Specification.Orders[c.Code]; c.Kind == procedure.Sequence && len(order) > 0 {
			c.Items, c.LimitFrom = order, p.Specification.Source()
		}
		if c.TimesCount != "" {
			for _, m := range makers {
				if m.Code == c.TimesCount {
					c.Low, c.LimitFrom = float64(m.Layout.Count)*max(c.LowFactor, 1), "layout"
				}
			}
		}
	}
}

// byFigures puts figures of the document in place of the limits that a check of the family has of its own.
func (p *Plan) byFigures(fam procedure.Family, c *procedure.Check) {
	if v, from, ok := p.figure(fam, c.HighFigure, c.HighFactor); ok {
		c.Limit, c.LimitFrom = v, from
	}
	if v, from, ok := p.figure(fam, c.LowFigure, c.LowFactor); ok {
		c.Low, c.LimitFrom = v, from
	}
	for _, x := range []struct {
		figure string
		limit  *float64
	}{{c.LifeFigure, &c.LifeMinutes}, {c.FromFigure, &c.FromHour}, {c.ToFigure, &c.ToHour}} {
		if v, _, ok := p.figure(fam, x.figure, 0); ok {
			*x.limit = v
		}
	}
}

// figure gives a figure of the procedure times a factor, 0 for once, and where it comes from.
func (p *Plan) figure(fam procedure.Family, code string, factor float64) (v float64, from string, ok bool) {
	for _, x := range fam.Figures {
		if x.Code != code {
			continue
		}
		from = p.Specification.Source()
		_, given := p.Specification.Figures[code]
		if !given && x.Usual != 0 {
			from = fmt.Sprintf("usual by the procedure, version %d; the document gives none", fam.Version)
		}
		if !given && x.Derive != nil {
			names := fam.FigureNames(x.Derive.Of)
			for i, n := range names {
				names[i] = strings.ToLower(n[:1]) + n[1:] // units in them keep their letters
			}
			from += ", worked out of " + strings.Join(names, " and ")
		}
		v, ok = x.Known(p.all)
	}
	if factor != 0 {
		v *= factor
	}
	return v, from, ok
}

// differsBy is how far a figure of the document may lie from what follows of its others, as a share: rounding.
const differsBy = 0.02

// workedOut shows a figure that follows from others, and holds one that the document gives against it.
func (p *Plan) workedOut(fam procedure.Family, x procedure.Figure) {
	v, ok := x.Worked(p.all)
	if !ok {
		return
	}
	a, b := p.all[x.Derive.Of[0]], p.all[x.Derive.Of[1]]
	w := working.New(x.Name)
	names := fam.FigureNames(x.Derive.Of)
	source := func(code string) string {
		if _, given := p.Specification.Figures[code]; !given {
			return fmt.Sprintf("usual by the procedure, version %d; the document gives none", fam.Version)
		}
		return p.Specification.Source()
	}
	w.Supply("a", names[0], a, "", source(x.Derive.Of[0]))
	w.Supply("b", names[1], b, "", source(x.Derive.Of[1]))
	formula := map[string]string{procedure.ByMultiple: "a · b", procedure.ByShift: "a · tan(b · π / 180)",
		procedure.ByLess: "a - b", procedure.ByPlus: "a + b"}[x.Derive.By]
	w.Calc("x", x.Name, formula, v, "", "own rule")
	p.Workings = append(p.Workings, w)
	if given, ok := p.Specification.Figures[x.Code]; ok && math.Abs(given-v) > differsBy*math.Abs(v) {
		p.Findings = append(p.Findings, working.Finding{
			Severity: working.Caution,
			Code:     "figure_differs",
			What: fmt.Sprintf(
				"%s: the document gives %s, of its other figures follows %s.",
				x.Name,
				quantity.Text(given),
				quantity.Text(quantity.Significant(v, 4)),
			),
			Why:    "One of them is not what was meant.",
			Remedy: "Look at the document again.",
		})
	}
}

// supply lists what the document leaves open, and what is doubtful about it.
func (p *Plan) supply(fam procedure.Family) {
	s := p.Specification
	if s.Document == "" && s.NoSourceWhy == "" {
		p.ToBeSupplied = append(p.ToBeSupplied,
			"Document: the target has no source. An engineer may allow it with a reason")
	}
	for _, f := range fam.Figures {
		if _, ok := f.Known(p.all); !ok && f.Must {
			p.ToBeSupplied = append(p.ToBeSupplied, f.Name+": the document's figure is missing")
		}
		p.workedOut(fam, f)
	}
	if s.Document != "" && s.Revision == "" {
		p.Findings = append(p.Findings, working.Finding{Severity: working.Caution, Code: "no_revision",
			What: s.Document + " has no revision.", Why: "Nobody can say later which issue was followed.",
			Remedy: "Enter the revision."})
	}
	if s.Gasket == "" && slices.ContainsFunc(fam.Parts, func(x procedure.Part) bool { return x.Code == "gasket" }) {
		p.Findings = append(p.Findings, working.Finding{Severity: working.Caution, Code: "no_gasket",
			What: "The specification names no gasket.", Why: "The target holds for one gasket only.",
			Remedy: "Enter the gasket from the drawing."})
	}
}

// service holds the lubricants against what the service asks of them.
func (p *Plan) service(makers []*maker) {
	for _, m := range makers {
		if c := p.Specification.ServiceClass; m.Lubricant.Code != "" && !m.Lubricant.Suit(c) {
			m.find(LubricantService, "lubricant", m.Lubricant.Name, "service", strings.ReplaceAll(c, "_", " "))
		}
	}
}

// toolChecks asks for the tools of every group that needs some, where the procedure does not.
func (p *Plan) toolChecks() {
	groups := p.AllGroups()
	first := slices.IndexFunc(groups, func(g *FastenerGroup) bool { return p.needsTool(g.Code) })
	p.Checks = slices.DeleteFunc(p.Checks,
		func(c procedure.Check) bool { return c.Kind == procedure.Wrench && first < 0 })
	for i := range p.Checks {
		if c := &p.Checks[i]; c.Kind == procedure.Wrench && c.Fasteners == "" && first > 0 {
			c.Fasteners = groups[first].Code
		}
	}
	for i, g := range groups {
		if !p.needsTool(g.Code) {
			continue
		}
		asked := slices.ContainsFunc(p.Checks, func(c procedure.Check) bool {
			return c.Kind == procedure.Wrench && (c.Fasteners == g.Code || c.Fasteners == "" && i == 0)
		})
		if asked {
			continue
		}
		c := procedure.Check{Code: "wrench", Station: procedure.Ready, Row: "tools", Kind: procedure.Wrench,
			Title: "Tools in hand", Ask: "Take the tools: in date, in range for every stage, function tried.",
			Fasteners: g.Code,
			Why:       "Every stage, the lowest too, must lie where the wrench is guaranteed.",
			Remedy:    "Take another wrench from the crib.",
			Cause:     "Calibration run out, or scale too coarse or too small."}
		if i > 0 {
			c.Code += "_" + g.Code
		}
		if len(groups) > 1 {
			c.Title += ", " + strings.ToLower(g.GroupName)
		}
		p.Checks = append(p.Checks, c)
		if !slices.ContainsFunc(p.Rows, func(r procedure.Row) bool { return r.Code == "tools" }) {
			p.Rows = append(slices.Clone(p.Rows), procedure.Row{Code: "tools", Title: "Tools and marks",
				Station: procedure.Ready})
		}
	}
}

// gates ties the checks between steps to the pass that waits for them. One that is asked at each pass becomes a check
// of its own for every pass of its step.
func (p *Plan) gates() {
	var out []procedure.Check
	for _, c := range p.Checks {
		if c.Before == "" && c.After == "" {
			out = append(out, c)
			continue
		}
		c.Station = procedure.Tighten
		step := c.Before + c.After
		var at []int
		for _, ps := range p.Passes {
			if ps.Step == step && (c.Fasteners == "" || ps.Group == c.Fasteners) {
				at = append(at, ps.Number)
			}
		}
		if len(at) == 0 {
			continue
		}
		gate := func(c procedure.Check, n int) procedure.Check {
			if c.Pass = n; c.After != "" {
				c.Pass = n + 1
			}
			return c
		}
		switch {
		case c.Each:
			for k, n := range at {
				one := gate(c, n)
				if k > 0 {
					one.Code = fmt.Sprintf("%s_%d", c.Code, k+1)
				}
				if len(at) > 1 {
					one.Title = fmt.Sprintf("%s, pass %d", c.Title, n)
				}
				out = append(out, one)
			}
		case c.Before != "":
			out = append(out, gate(c, at[min(max(c.Stage, 1), len(at))-1]))
		default:
			out = append(out, gate(c, at[len(at)-1]))
		}
	}
	p.Checks = out
	rows := map[string]bool{}
	for i := range p.Checks {
		if p.Checks[i].Station == procedure.Tighten {
			rows[p.Checks[i].Row] = true
		}
	}
	p.Rows = slices.Clone(p.Rows)
	for i := range p.Rows {
		if rows[p.Rows[i].Code] {
			p.Rows[i].Station = procedure.Tighten
		}
	}
	p.sortChecks()
}

var stationOrder = map[procedure.Station]int{procedure.Read: 0, procedure.Ready: 1, procedure.Tighten: 2,
	procedure.Prove: 3, procedure.HandOver: 4}

// sortChecks puts the checks of each stop together: what a routine asks before the first pull comes before what is
// asked after the last.
func (p *Plan) sortChecks() {
	slices.SortStableFunc(p.Checks,
		func(a, b procedure.Check) int { return stationOrder[a.Station] - stationOrder[b.Station] })
	slices.SortStableFunc(p.Rows,
		func(a, b procedure.Row) int { return stationOrder[a.Station] - stationOrder[b.Station] })
}

// LimitText says a limit in words, with its unit.
func LimitText(c procedure.Check) string {
	u := quantity.Unit(c.Unit).Symbol()
	if u == "" {
		u = c.Unit
	}
	switch c.Criterion {
	case measure.Window:
		if c.Temperature != "" {
			u += " at 20 °C"
		}
		return quantity.Text(c.Low) + " to " + quantity.Text(c.Limit) + " " + u
	case measure.Minimum:
		return "at least " + quantity.Text(c.Low) + " " + u
	case measure.Remain:
		if c.Low > 0 {
			return "at least " + quantity.Text(c.Low) + " " + u + " everywhere"
		}
		return "something must remain everywhere"
	case measure.Count:
		return "exactly " + quantity.Text(c.Low)
	case measure.Information:
		return "for information"
	case measure.Roundness:
		return "at most " + quantity.Text(c.Limit) + " % of the mean"
	case measure.Flush:
		return "flush within " + quantity.Text(c.Limit) + " " + u
	}
	return "at most " + quantity.Text(c.Limit) + " " + u
}

// Check gives the check of a code, ok telling whether the plan asks it.
func (p *Plan) Check(code string) (c procedure.Check, ok bool) {
	return procedure.FindCheck(p.Checks, code)
}
