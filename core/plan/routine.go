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
	Factor   float64       `json:"factor"`
	TorqueNm float64       `json:"torqueNm"` // to be reckoned with
	With     string        `json:"with"`     // what to take, in words
	Pressure float64       `json:"pressure,omitempty"`
	Unit     quantity.Unit `json:"unit,omitempty"`
	Feasible bool          `json:"feasible"`
	Why      string        `json:"why,omitempty"` // why these tools cannot
	Steps    []string      `json:"steps"`
}

// routine adds what the way of tightening asks for: its checks, its steps, its cautions, and how the joint is loosened. Checks for tools that
// are not in the set-up are left out.
func (p *Plan) routine(loosen []string) error {
	s := p.InHand()
	if s == nil {
		return nil
	}
	r, err := procedure.RoutineFor(string(s.Method()))
	if err != nil {
		return err
	}
	p.Groups = append(slices.Clone(p.Groups), r.Groups...)
	p.Cautions = append(slices.Clone(p.Cautions), r.Cautions...)
	p.Setting, p.Pull, p.Clear = r.Setting, r.Pull, r.Clear
	p.Checks = slices.DeleteFunc(append(p.Checks, r.Checks...), func(c procedure.Check) bool {
		return len(c.Tools) > 0 && !slices.Contains(c.Tools, string(s.Driver().Kind))
	})
	// The checks of the stops stand together: what the routine asks before the first pull comes before what is asked after the last.
	slices.SortStableFunc(p.Checks, func(a, b procedure.Check) int { return stopOrder[a.Stop] - stopOrder[b.Stop] })
	slices.SortStableFunc(p.Groups, func(a, b procedure.Group) int { return stopOrder[a.Stop] - stopOrder[b.Stop] })
	p.storage(s.Driver())
	p.Loosening = p.loosening(*s, append(slices.Clone(loosen), r.Loosen...))
	return nil
}

var stopOrder = map[procedure.Stop]int{procedure.Read: 0, procedure.Ready: 1, procedure.Tighten: 2, procedure.Prove: 3, procedure.HandOver: 4}

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

func (p *Plan) loosening(s tool.SetUp, steps []string) *Loosening {
	f := p.HouseRules.LooseningFactor
	if f == 0 {
		f = 1.5
	}
	l := &Loosening{Factor: f, TorqueNm: p.FinalNm * f, Steps: steps, Feasible: true}
	d := s.Driver()
	switch s.Method() {
	case tool.ByHydraulics:
		h, _ := s.Of(tool.HydraulicWrench)
		limit, err := quantity.Convert(d.RatedMax, d.Unit, quantity.Megapascal)
		if err != nil {
			return l
		}
		l.With = h.Tag + " with " + d.Tag
		r, err := tool.HydraulicLoosening(nil, tool.HydraulicLooseningInput{Tightening: p.FinalNm, Factor: f, Chart: h.Chart, PumpLimit: min(limit, h.MaxMPa), ToolMax: h.MaxNm})
		switch {
		case err != nil || !r.Feasible:
			l.Feasible, l.Why = false, fmt.Sprintf("Loosening may take %s N·m; %s goes to %s. Take a larger tool.", sig4(l.TorqueNm), h.Tag, quantity.Text(h.MaxNm))
		default:
			if l.Pressure, err = quantity.Convert(*r.Pressure, quantity.Megapascal, d.Unit); err != nil {
				return l
			}
			l.Pressure, l.Unit = quantity.Significant(l.Pressure, 3), d.Unit
		}
	case tool.ByTension:
		l.With = s.Name()
	default:
		l.With = "a bar or a spanner that bears " + sig4(l.TorqueNm) + " N·m"
		if m, ok := s.Of(tool.MultiplierKind); ok {
			l.With = m.Tag + " with a bar"
			if m.MaxNm < l.TorqueNm {
				l.Feasible, l.Why = false, fmt.Sprintf("Loosening may take %s N·m; %s puts out %s at most.", sig4(l.TorqueNm), m.Tag, quantity.Text(m.MaxNm))
			}
		}
		if !d.MayLoosen {
			l.Steps = append(l.Steps, d.Tag+" is never used for loosening.")
		}
	}
	return l
}
