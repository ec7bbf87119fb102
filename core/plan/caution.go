package plan

import (
	"slices"
	"strings"

	"dynacor/core/procedure"
)

// caution takes up a caution with the places where it is told.
func (p *Plan) caution(text string) {
	says, at := procedure.Caution(text)
	if p.CautionsAt == nil {
		p.CautionsAt = map[string][]string{}
	}
	if !slices.Contains(p.Cautions, says) {
		p.Cautions = append(p.Cautions, says)
	}
	for _, place := range at {
		p.CautionsAt[place] = append(p.CautionsAt[place], says)
	}
}

// tell puts the cautions that belong to a check beside it; the start card tells them all.
func (p *Plan) tell() {
	for i := range p.Checks {
		c := &p.Checks[i]
		for place, list := range p.CautionsAt {
			code, bound := strings.CutPrefix(place, "check/")
			// a check that is asked at each pass has a number behind its code
			if bound && (c.Code == code || c.Each && strings.HasPrefix(c.Code, code+"_")) {
				c.Cautions = slices.Clone(list)
			}
		}
		if c.Code == "start_card" {
			c.Cautions = slices.Clone(p.Cautions)
		}
	}
	for place := range p.CautionsAt {
		if strings.HasPrefix(place, "check/") {
			delete(p.CautionsAt, place)
		}
	}
}
