package app

import (
	"context"

	"dynacor/core/calc"
	"dynacor/core/fastener"
	"dynacor/core/procedure"
	"dynacor/core/sequence"
)

// SchemeRow is a stage scheme with the reason for it.
type SchemeRow = sequence.Scheme

// Calculate works out a calculation of the catalogue, with the site's own lubricant cards before the built-in ones.
func (a *App) Calculate(ctx context.Context, name string, q calc.Request) (*calc.Answer, error) {
	cards, err := lubricants(ctx, a.q)
	if err != nil {
		return nil, err
	}
	return calc.Ask(name, q, cards)
}

// Library gives the engineering data.
func (a *App) Library(ctx context.Context) (Library, error) {
	l := Library{Materials: fastener.Materials(), Schemes: sequence.Schemes(), Threads: []ThreadRow{}, Families: []procedure.Family{}}
	var err error
	if l.Lubricants, err = lubricants(ctx, a.q); err != nil {
		return l, err
	}
	if l.HouseRules, err = houseRules(ctx, a.q); err != nil {
		return l, err
	}
	for _, t := range fastener.Threads() {
		g, err := t.Geometry(nil)
		if err != nil {
			return l, err
		}
		row := ThreadRow{Text: t.Text, Series: t.Series, DiameterMM: t.DiameterMM, PitchMM: t.PitchMM, StressArea: g.As, D2MM: g.D2, D3MM: g.D3}
		family := fastener.HexISO
		if t.System == fastener.UN {
			family = fastener.HexUNHeavy
		}
		if h, err := fastener.HexSize(family, t.DiameterMM); err == nil {
			row.AcrossFlats = h.AcrossFlatsMM
		}
		l.Threads = append(l.Threads, row)
	}
	f, err := procedure.ByCode("gasketed_flange")
	if err != nil {
		return l, err
	}
	l.Families = append(l.Families, f)
	return l, nil
}
