package plan

import (
	"fmt"
	"slices"
	"strings"

	"dynacor/core/quantity"
)

// Words say a target as a document writes it.
func (t Target) Words() string {
	u := t.Unit.Symbol()
	switch t.Form {
	case TorqueNominal:
		if t.MinusPct == t.PlusPct {
			return fmt.Sprintf("%s %s ±%s %%", quantity.Text(t.Nominal), u, quantity.Text(t.PlusPct))
		}
		return fmt.Sprintf("%s %s −%s +%s %%", quantity.Text(t.Nominal), u, quantity.Text(t.MinusPct),
			quantity.Text(t.PlusPct))
	case TorqueRange:
		return fmt.Sprintf("%s to %s %s", quantity.Text(t.Min), quantity.Text(t.Max), u)
	case BoltStress:
		return quantity.Text(t.Stress) + " MPa in the bolt"
	case PercentYield:
		return quantity.Text(t.Percent) + " % of yield"
	case LookUp:
		return "table " + t.Table + ", " + strings.Join(t.Keys, ", ")
	case Turns:
		return quantity.Text(t.TurnDeg) + "° from its mark"
	case Stretch:
		return quantity.Text(t.StretchMM) + " mm longer"
	case Stated:
		return "as the procedure says"
	}
	return "to be supplied"
}

// TakenApartWords stand for a target where a joint is taken apart.
const TakenApartWords = "taken apart"

// TargetWords says what the fasteners of a joint are brought to: of each group its own, those alike together.
func (p *Plan) TargetWords() string {
	if p.Apart() {
		return TakenApartWords
	}
	if !p.Several() {
		return p.Specification.First().Target.Words()
	}
	var words []string
	names := map[string][]string{}
	for i := range p.Groups {
		g := &p.Groups[i]
		f, said := p.Specification.Of(g.Code, i == 0)
		if !said {
			continue // as another group, or as the procedure says
		}
		w := f.Target.Words()
		if !slices.Contains(words, w) {
			words = append(words, w)
		}
		names[w] = append(names[w], g.GroupName)
	}
	out := make([]string, len(words))
	for i, w := range words {
		out[i] = strings.Join(names[w], ", ") + " " + w
	}
	return strings.Join(out, "; ")
}
