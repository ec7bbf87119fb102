package plan

import (
	"fmt"
	"slices"
	"strings"

	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/tool"
)

// Loosening is how the joint is taken apart with the tools of the plan.
type Loosening struct {
	Factor   float64         `json:"factor"`
	TorqueNm quantity.Torque `json:"torqueNm"` // to be reckoned with
	// what it went on at, on the scale that loosening is read on; 0: not told
	WentOn     float64       `json:"wentOn,omitempty"`
	WentOnUnit quantity.Unit `json:"wentOnUnit,omitempty"`
	With       string        `json:"with"` // what to take, in words
	Pressure   float64       `json:"pressure,omitempty"`
	Unit       quantity.Unit `json:"unit,omitempty"`
	Feasible   bool          `json:"feasible"`
	Why        string        `json:"why,omitempty"` // why these tools cannot
	Steps      []string      `json:"steps"`
}

// routines add what the ways of tightening ask for: their checks, steps and cautions, and how each group is loosened.
// Checks for tools that are in no set-up are left out.
func (p *Plan) routines(fam procedure.Family, makers []*maker) {
	p.toolChecks()
	var kinds []string
	var done []tool.Method
	for _, m := range makers {
		s := m.InHand()
		if s == nil {
			continue
		}
		r, err := procedure.RoutineFor(string(s.Method()))
		if err != nil {
			continue // every method has its routine; a test reads them all
		}
		for _, t := range s.String {
			kinds = append(kinds, string(t.Kind))
		}
		m.Setting, m.Pull, m.Clear = r.Setting, r.Pull, r.Clear
		m.Loosening = m.loosening()
		m.Loosening.Steps = slices.Concat(fam.Loosen, r.Loosen, m.Loosening.Steps)
		if !slices.Contains(done, s.Method()) {
			done = append(done, s.Method())
			p.Rows = append(slices.Clone(p.Rows), r.Rows...)
			for _, text := range r.Cautions {
				p.caution(text)
			}
			p.Checks = append(p.Checks, r.Checks...)
		}
		p.storage(s.Driver())
	}
	p.Checks = slices.DeleteFunc(p.Checks, func(c procedure.Check) bool {
		return len(c.Tools) > 0 && !slices.ContainsFunc(c.Tools,
			func(k string) bool { return slices.Contains(kinds, k) })
	})
	p.sortChecks()
}

// storage puts the site's school of winding down into the question.
func (p *Plan) storage(d tool.Tool) {
	if p.HouseRules.Storage != StorageMaker || d.StorageRule == "" {
		return
	}
	for i := range p.Checks {
		if p.Checks[i].Code == "wound_down" {
			p.Checks[i].Ask = "As the maker of " + d.Tag + " says: " + strings.TrimSuffix(d.StorageRule, ".") + "?"
			p.Checks[i].Why = p.HouseRules.Reasons["storage"]
		}
	}
}

// loosening works out what the group is let go with, and what that may take.
func (m *maker) loosening() *Loosening {
	f := m.HouseRules.LooseningFactor
	if f == 0 {
		f = 1.5
	}
	l := &Loosening{Factor: f, TorqueNm: m.FinalNm * quantity.Torque(f), Steps: []string{}, Feasible: true}
	l.With = "a bar or a spanner that bears " + sig4(l.TorqueNm) + " N·m"
	s := m.InHand()
	if s == nil {
		return l
	}
	d := s.Driver()
	switch s.Method() {
	case tool.ByHydraulics:
		h, _ := s.Of(tool.HydraulicWrench)
		limit, err := quantity.Convert(d.RatedMax, d.Unit, quantity.Megapascal)
		if err != nil {
			return l
		}
		l.With = h.Tag + " with " + d.Tag
		r, err := tool.HydraulicLoosening(nil, tool.HydraulicLooseningInput{Tightening: float64(m.FinalNm), Factor: f,
			Chart: h.Chart, PumpLimit: min(limit, h.MaxMPa), ToolMax: h.MaxNm})
		switch {
		case err != nil || !r.Feasible:
			l.Feasible, l.Why = false, fmt.Sprintf("Loosening may take %s N·m; %s goes to %s. Take a larger tool.",
				sig4(l.TorqueNm), h.Tag, quantity.Text(h.MaxNm))
		default:
			if l.Pressure, err = quantity.Convert(*r.Pressure, quantity.Megapascal, d.Unit); err != nil {
				return l
			}
			l.Pressure, l.Unit = quantity.Significant(l.Pressure, 3), d.Unit
		}
	case tool.ByTension:
		l.With = s.Name()
	default:
		if x, ok := s.Of(tool.MultiplierKind); ok {
			l.With = x.Tag + " with a bar"
			if quantity.Torque(x.MaxNm) < l.TorqueNm {
				l.Feasible, l.Why = false, fmt.Sprintf("Loosening may take %s N·m; %s puts out %s at most.",
					sig4(l.TorqueNm), x.Tag, quantity.Text(x.MaxNm))
			}
		}
		if !d.MayLoosen {
			l.Steps = append(l.Steps, d.Tag+" is never used for loosening.")
		}
	}
	return l
}
