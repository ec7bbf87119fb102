package app

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"dynacor/core/calc"
	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/internal/store"
)

// The shelves on which a site keeps values of its own beside the built-in ones.
const (
	ShelfLubricants = "lubricants"
	ShelfMaterials  = "materials"
	ShelfGaskets    = "gaskets"
	ShelfThreads    = "threads"
	ShelfTables     = "tables"
	ShelfFlanges    = "flanges"
)

// Library is the engineering data, the site's own first, and the house rules in force.
type Library struct {
	Lubricants []fastener.Lubricant  `json:"lubricants"`
	Materials  []fastener.Strength   `json:"materials"`
	Gaskets    []fastener.Gasket     `json:"gaskets"`
	Threads    []ThreadRow           `json:"threads"`
	Nuts       []fastener.Nut        `json:"nuts"` // measured on site
	Services   []string              `json:"services"`
	Tables     []fastener.Table      `json:"tables"`  // of torques by type and size
	Flanges    []fastener.FlangeSize `json:"flanges"` // sizes, as drilled
	Families   []FamilyRow           `json:"families"`
	HouseRules plan.HouseRules       `json:"houseRules"`
	Rules      []plan.HouseRule      `json:"rules"` // what each house rule is
}

// ThreadRow is a thread with the measures people look up.
type ThreadRow struct {
	Text        string  `json:"text"`
	Series      string  `json:"series"`
	DiameterMM  float64 `json:"diameterMm"`
	PitchMM     float64 `json:"pitchMm"`
	StressArea  float64 `json:"stressAreaMm2"`
	D2MM        float64 `json:"d2Mm"`
	D3MM        float64 `json:"d3Mm"`
	AcrossFlats float64 `json:"acrossFlatsMm"` // 0: not listed
}

// LibraryValue is a site's own value as entered: one of the six is given, as the shelf asks.
type LibraryValue struct {
	Lubricant *fastener.Lubricant  `json:"lubricant,omitempty"`
	Material  *fastener.Strength   `json:"material,omitempty"`
	Gasket    *fastener.Gasket     `json:"gasket,omitempty"`
	Nut       *fastener.Nut        `json:"nut,omitempty"`
	Table     *fastener.Table      `json:"table,omitempty"`
	Flange    *fastener.FlangeSize `json:"flange,omitempty"`
	Reason    string               `json:"reason"`
}

// LibraryVersion is one version of a site's own value.
type LibraryVersion struct {
	Version   int          `json:"version"`
	Value     LibraryValue `json:"value"`
	Withdrawn bool         `json:"withdrawn"`
	MadeBy    string       `json:"madeBy"`
	MadeAt    time.Time    `json:"madeAt"`
}

// LibraryUse is a joint whose plan was made with a value.
type LibraryUse struct {
	Tag         string `json:"tag"`
	Name        string `json:"name"`
	PlanVersion int    `json:"planVersion"`
	Version     int    `json:"version"` // of the value
	Begun       bool   `json:"begun"`
}

// LibraryHistory is everything about a site's own value, the newest version first.
type LibraryHistory struct {
	Shelf    string           `json:"shelf"`
	Code     string           `json:"code"`
	Versions []LibraryVersion `json:"versions"`
	Uses     []LibraryUse     `json:"uses"`
}

// ownValues reads the site's own values in force.
func ownValues(ctx context.Context, q *store.Queries) (fastener.Own, error) {
	var own fastener.Own
	rows, err := q.LibraryInForce(ctx)
	if err != nil {
		return own, err
	}
	for _, r := range rows {
		if r.Withdrawn {
			continue
		}
		v, err := shelved(r)
		if err != nil {
			return own, err
		}
		switch {
		case v.Lubricant != nil:
			own.Lubricants = append(own.Lubricants, *v.Lubricant)
		case v.Material != nil:
			own.Materials = append(own.Materials, *v.Material)
		case v.Gasket != nil:
			own.Gaskets = append(own.Gaskets, *v.Gasket)
		case v.Nut != nil:
			own.Nuts = append(own.Nuts, *v.Nut)
		case v.Table != nil:
			own.Tables = append(own.Tables, *v.Table)
		case v.Flange != nil:
			own.Flanges = append(own.Flanges, *v.Flange)
		}
	}
	return own, nil
}

// shelved reads a kept value and gives it its version.
func shelved(r store.LibraryValue) (LibraryValue, error) {
	v := LibraryValue{Reason: r.Reason}
	var err error
	switch r.Shelf {
	case ShelfLubricants:
		v.Lubricant = &fastener.Lubricant{}
		err = json.Unmarshal([]byte(r.Data), v.Lubricant)
		v.Lubricant.Version = int(r.Version)
	case ShelfMaterials:
		v.Material = &fastener.Strength{}
		err = json.Unmarshal([]byte(r.Data), v.Material)
		v.Material.Version = int(r.Version)
	case ShelfGaskets:
		v.Gasket = &fastener.Gasket{}
		err = json.Unmarshal([]byte(r.Data), v.Gasket)
		v.Gasket.Version = int(r.Version)
	case ShelfThreads:
		v.Nut = &fastener.Nut{}
		err = json.Unmarshal([]byte(r.Data), v.Nut)
		v.Nut.Version = int(r.Version)
	case ShelfTables:
		v.Table = &fastener.Table{}
		err = json.Unmarshal([]byte(r.Data), v.Table)
		v.Table.Version = int(r.Version)
	case ShelfFlanges:
		v.Flange = &fastener.FlangeSize{}
		err = json.Unmarshal([]byte(r.Data), v.Flange)
		v.Flange.Version = int(r.Version)
	}
	if err != nil {
		return v, fmt.Errorf("reading %s %s version %d of the library: %w", r.Shelf, r.Code, r.Version, err)
	}
	return v, nil
}

// allLubricants are the site's own cards, then the built-in ones that none of them replaces.
func allLubricants(own fastener.Own) []fastener.Lubricant {
	out := append([]fastener.Lubricant{}, own.Lubricants...)
	for _, l := range fastener.Lubricants() {
		if !hasCard(out, l.Code) {
			out = append(out, l)
		}
	}
	return out
}

// Calculate works out a calculation of the catalogue, with the site's own lubricant cards before the built-in ones.
func (a *App) Calculate(ctx context.Context, name string, q calc.Request) (*calc.Answer, error) {
	own, err := ownValues(ctx, a.q)
	if err != nil {
		return nil, err
	}
	return calc.Ask(name, q, own.Lubricants)
}

// Library gives the engineering data.
func (a *App) Library(ctx context.Context) (Library, error) {
	l := Library{Rules: plan.HouseRuleList(), Services: fastener.Services(), Threads: []ThreadRow{},
		Families: []FamilyRow{}}
	own, err := ownValues(ctx, a.q)
	if err != nil {
		return l, err
	}
	l.Lubricants, l.Materials = append(append([]fastener.Lubricant{}, own.Lubricants...), fastener.Lubricants()...),
		append(append([]fastener.Strength{}, own.Materials...), fastener.Materials()...)
	l.Gaskets, l.Nuts = append(append([]fastener.Gasket{}, own.Gaskets...), fastener.Gaskets()...),
		append([]fastener.Nut{}, own.Nuts...)
	if l.HouseRules, err = houseRules(ctx, a.q); err != nil {
		return l, err
	}
	for _, t := range fastener.Threads() {
		g, err := t.Geometry(nil)
		if err != nil {
			return l, err
		}
		row := ThreadRow{Text: t.Text, Series: t.Series, DiameterMM: t.DiameterMM, PitchMM: t.PitchMM, StressArea: g.As,
			D2MM: g.D2, D3MM: g.D3}
		family := fastener.HexISO
		if t.System == fastener.UN {
			family = fastener.HexUNHeavy
		}
		if h, err := fastener.HexSize(family, quantity.Length(t.DiameterMM)); err == nil {
			row.AcrossFlats = h.AcrossFlatsMM
		}
		l.Threads = append(l.Threads, row)
	}
	l.Tables = append([]fastener.Table{}, own.Tables...)
	l.Flanges = append(append([]fastener.FlangeSize{}, own.Flanges...), fastener.FlangeSizes()...)
	l.Families, err = a.families(ctx)
	return l, err
}

// checked gives the value that the shelf asks for, with its code, after its own check.
func (v LibraryValue) checked(shelf, code string) (any, error) {
	var value any
	var err error
	switch {
	case shelf == ShelfLubricants && v.Lubricant != nil:
		c := *v.Lubricant
		c.Code, c.Version = code, 0
		value, err = c, c.Check()
	case shelf == ShelfMaterials && v.Material != nil:
		c := *v.Material
		c.Grade, c.Version = code, 0
		value, err = c, c.Check()
	case shelf == ShelfGaskets && v.Gasket != nil:
		c := *v.Gasket
		c.Code, c.Version = code, 0
		value, err = c, c.Check()
	case shelf == ShelfThreads && v.Nut != nil:
		c := *v.Nut
		c.Thread, c.Version = code, 0
		value, err = c, c.Check()
	case shelf == ShelfTables && v.Table != nil:
		c := *v.Table
		c.Code, c.Version = code, 0
		value, err = c, c.Check()
	case shelf == ShelfFlanges && v.Flange != nil:
		c := *v.Flange
		c.Text, c.Version = code, 0
		value, err = c, c.Check()
	default:
		return nil, newProblem(Invalid, "There is no such value on the shelf %s.",
			"Choose lubricants, materials, gaskets, threads, tables or flanges, and enter what belongs there.", shelf)
	}
	return value, err
}

// PutLibraryValue keeps a new version of a site's own value. Plans made with the one before are then told to be old.
func (a *App) PutLibraryValue(ctx context.Context, who Actor, shelf, code string, v LibraryValue) (LibraryHistory,
	error) {
	code = strings.TrimSpace(code)
	if code == "" || len(code) > 40 {
		return LibraryHistory{}, &Problem{Kind: Invalid, Title: "The value needs a short name.", Field: "code",
			Remedy: "Give it the code that is written on the tin, the drawing or the card."}
	}
	value, err := v.checked(shelf, code)
	if err != nil {
		return LibraryHistory{}, err
	}
	return a.addVersion(ctx, who, shelf, code, value, v.Reason, false)
}

// WithdrawLibraryValue takes a site's own value out of force; its versions stay.
func (a *App) WithdrawLibraryValue(ctx context.Context, who Actor, shelf, code, why string) (LibraryHistory, error) {
	return a.addVersion(ctx, who, shelf, code, nil, why, true)
}

// addVersion adds a version; nil data repeats what the last one held.
func (a *App) addVersion(ctx context.Context, who Actor, shelf, code string, value any, why string,
	withdrawn bool) (LibraryHistory, error) {
	err := a.tx(ctx, func(q *store.Queries) error {
		past, err := q.LibraryHistory(ctx, store.LibraryHistoryParams{Shelf: shelf, Code: code})
		if err != nil {
			return err
		}
		if len(past) > 0 && strings.TrimSpace(why) == "" {
			return &Problem{Kind: Invalid, Title: "A change of the Library needs a reason.", Field: "reason",
				Remedy: "Say what changed and on what evidence."}
		}
		if withdrawn && (len(past) == 0 || past[0].Withdrawn) {
			return notFound("value of the site's own", code)
		}
		row := store.InsertLibraryValueParams{Shelf: shelf, Code: code, Version: 1, Withdrawn: withdrawn,
			MadeBy: who.Name, Reason: strings.TrimSpace(why)}
		if len(past) > 0 {
			row.Version, row.Data = past[0].Version+1, past[0].Data
		}
		if value != nil {
			if row.Data, err = encode(value); err != nil {
				return err
			}
		}
		return q.InsertLibraryValue(ctx, row)
	})
	if err != nil {
		return LibraryHistory{}, err
	}
	return a.LibraryValueHistory(ctx, shelf, code)
}

// LibraryValueHistory gives the versions of a site's own value and the joints whose plans were made with it.
func (a *App) LibraryValueHistory(ctx context.Context, shelf, code string) (LibraryHistory, error) {
	h := LibraryHistory{Shelf: shelf, Code: code, Versions: []LibraryVersion{}, Uses: []LibraryUse{}}
	rows, err := a.q.LibraryHistory(ctx, store.LibraryHistoryParams{Shelf: shelf, Code: code})
	if err != nil {
		return h, err
	}
	for _, r := range rows {
		v, err := shelved(r)
		if err != nil {
			return h, err
		}
		h.Versions = append(h.Versions, LibraryVersion{Version: int(r.Version), Value: v, Withdrawn: r.Withdrawn,
			MadeBy: r.MadeBy, MadeAt: r.MadeAt})
	}
	uses, err := a.q.PlansUsing(ctx, store.PlansUsingParams{Shelf: shelf, Code: code})
	if err != nil {
		return h, err
	}
	for _, u := range uses {
		h.Uses = append(h.Uses, LibraryUse{Tag: u.Tag, Name: u.Name, PlanVersion: int(u.PlanVersion),
			Version: int(u.Version), Begun: u.Begun})
	}
	return h, nil
}
