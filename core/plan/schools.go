package plan

import (
	"fmt"
	"math"
	"slices"

	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/tool"
)

// A straight extension between wrench and socket: used without a correction where it is in line, or not at all.
const (
	ExtensionInLine = "in_line"
	ExtensionNone   = "none"
)

// A powered wrench: never, or to run nuts down well under the torque.
const (
	PoweredNever   = "never"
	PoweredRunDown = "run_down"
)

// Before stages or order of a joint are changed: nothing, or a comparison in the lab.
const (
	LabNone  = "none"
	LabAsked = "compare"
)

// LubricantAsked: nothing is put in where the document names no lubricant; the plan waits for it. Any other value is
// the code of a card.
const LubricantAsked = "ask"

// NotNamed stands for the lubricant of a document that names none. The house rule decides then.
const NotNamed = "not_named"

// How finished joints are audited.
const (
	AuditMovingOn   = "moving_on"
	AuditNoMovement = "no_movement"
	AuditMarks      = "marks"
)

var auditWords = map[string]string{
	AuditMovingOn: "If this joint is audited, read the torque at which each nut just moves on, in the tightening " +
		"direction. It is not the bolt load; a nut that stands out is looked into, not retightened.",
	AuditNoMovement: "If this joint is audited, pull with the wrench at the last setting: no nut may turn. That " +
		"finds loose nuts, not tight ones.",
	AuditMarks: "If this joint is audited, compare the marks across nut and face; no tool is put on.",
}

// lubricantOf puts in the site's lubricant where the document names none and the site has chosen one. Threads that must
// stay dry or get a locking compound are left to be asked about.
func (m *maker) lubricantOf() {
	if m.spec.Lubricant != NotNamed || !m.HouseRules.puts(m.fam) {
		return
	}
	code := m.HouseRules.Lubricant
	m.spec.Lubricant = code
	m.find(HouseLubricant, "lubricant", code, "reason", m.HouseRules.Reasons["lubricant"])
	m.NeedsApproval = append(m.NeedsApproval, "Lubricant by house rule; the document names none")
}

// puts reports whether the site's lubricant goes on these threads where the document names none.
func (r HouseRules) puts(g procedure.Fasteners) bool {
	return r.Lubricant != "" && r.Lubricant != LubricantAsked &&
		!slices.Contains([]string{"dry", "dry_or_maker", "degreased", "locker"}, g.Condition)
}

// firstRound asks an engineer where the first round on a gasket goes further than the house rule lets it.
func (p *Plan) firstRound(makers []*maker) {
	limit := p.HouseRules.FirstRoundPct
	gasket := slices.ContainsFunc(p.Parts, func(x procedure.Part) bool { return x.Code == "gasket" })
	if limit == 0 || !gasket {
		return
	}
	for _, m := range makers {
		i := slices.IndexFunc(p.Passes, func(ps Pass) bool { return ps.Kind == StagePass && ps.Group == m.Code })
		if i < 0 || m.Layout.Count < 3 || quantity.AtMost(p.Passes[i].Percent, limit) {
			continue
		}
		pct := quantity.Text(math.Round(p.Passes[i].Percent))
		m.find(FirstRound, "pct", pct, "limit", quantity.Text(limit), "reason", p.HouseRules.Reasons["firstRoundPct"])
		p.NeedsApproval = append(p.NeedsApproval, "First round on the gasket at "+pct+" %")
	}
}

// schools adds what the site's choices ask of this joint: cautions before the work, and what is due after it.
func (p *Plan) schools(makers []*maker) {
	r := p.HouseRules
	tools, torque := false, false
	for _, m := range makers {
		torque = torque || m.ByTorque()
		s := m.InHand()
		if s == nil {
			continue
		}
		tools = true
		if _, ok := s.Of(tool.Extension); ok && r.Extensions == ExtensionNone {
			m.find(HouseExtension, "reason", r.Reasons["extensions"])
			p.NeedsApproval = append(p.NeedsApproval, "A straight extension, house rule none")
		}
	}
	if tools {
		switch r.Powered {
		case PoweredNever:
			p.caution(
				"No powered or impact wrench on these threads, not even to run nuts down. " + r.Reasons["powered"],
			)
		case PoweredRunDown:
			p.caution(
				"A powered wrench only runs nuts down, and never where the procedure forbids it; every pull that " +
					"counts is by the planned tool.",
			)
		}
	}
	if !torque {
		return
	}
	p.firstRound(makers)
	if r.RetorqueHours > 0 {
		p.After = append(p.After,
			fmt.Sprintf("Re-torque once, %s hours after the last pull, cold and out of service, at the last setting "+
				"and only where the document does not forbid it.", quantity.Text(r.RetorqueHours)))
	}
	if w := auditWords[r.Audit]; w != "" {
		p.After = append(p.After, w)
	}
}
