package app_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/calc"
	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/internal/app"
)

// ownCard gives the demo site's card as the Library shows it.
func ownCard(t *testing.T, b *bench, code string) fastener.Lubricant {
	t.Helper()
	l, err := b.Library(ctx)
	require.NoError(t, err)
	for _, c := range l.Lubricants {
		if c.Code == code {
			return c
		}
	}
	t.Fatalf("no card %s", code)
	return fastener.Lubricant{}
}

func TestOwnValuesAreVersionedAndTellTheirPlans(t *testing.T) {
	b := newBench(t, true)
	hartwell := b.crew["J. Hartwell"]
	c := ownCard(t, b, "L-07")
	require.Equal(t, 1, c.Version)
	d, err := b.SavePlan(ctx, hartwell, "SW-112", plan.Pick(plan.GroupChoices{Lubricant: "L-07"}), "paste of the crew")
	require.NoError(t, err)
	require.Equal(t, 1, d.Plan.First().Lubricant.Version)
	told := ""
	for _, w := range d.Plan.Workings {
		for _, l := range w.Lines {
			told += l.Source + "\n"
		}
	}
	require.Contains(t, told, "L-07 moly paste, version 1, measured on site", "the working names the version")
	require.Empty(t, d.Saved.Stale)

	c.K = fastener.Band{Low: .14, Typ: .16, High: .18}
	_, err = b.PutLibraryValue(ctx, hartwell, app.ShelfLubricants, "L-07", app.LibraryValue{Lubricant: &c})
	require.Equal(t, "reason", problem(t, err, app.Invalid, "needs a reason").Field)
	h, err := b.PutLibraryValue(ctx, hartwell, app.ShelfLubricants, "L-07",
		app.LibraryValue{Lubricant: &c, Reason: "test of twelve studs"})
	require.NoError(t, err)
	require.Len(t, h.Versions, 2)
	require.Equal(t, "J. Hartwell", h.Versions[0].MadeBy)
	require.InDelta(t, .15, h.Versions[1].Value.Lubricant.K.Typ, 1e-9, "the earlier version stays")
	var tags []string
	for _, u := range h.Uses {
		tags = append(tags, u.Tag)
	}
	require.Contains(t, tags, "SW-112")

	d, err = b.Joint(ctx, "SW-112")
	require.NoError(t, err)
	require.Contains(t, d.Saved.Stale, "version 1 of L-07 in the Library; version 2 is in force")
	v, err := b.StartRun(ctx, hartwell, "SW-112", plan.Pick(plan.GroupChoices{Lubricant: "L-07"}), "paste of the crew")
	require.NoError(t, err)
	require.Equal(t, 2, v.Plan.First().Lubricant.Version, "made anew with the value in force")

	h, err = b.WithdrawLibraryValue(ctx, hartwell, app.ShelfLubricants, "L-07", "the maker changed the paste")
	require.NoError(t, err)
	require.True(t, h.Versions[0].Withdrawn)
	v, err = b.Run(ctx, v.ID)
	require.NoError(t, err)
	require.Contains(t, v.PlanStale, "withdrawn")
	_, err = b.WithdrawLibraryValue(ctx, hartwell, app.ShelfLubricants, "L-07", "again")
	problem(t, err, app.NotFound, "L-07")
}

func TestOwnMaterialAndNutComeFirst(t *testing.T) {
	b := newBench(t, true)
	hartwell := b.crew["J. Hartwell"]
	before, err := b.PreviewPlan(ctx, "SW-112", plan.Choices{})
	require.NoError(t, err)
	grade := before.Specification.Groups[0].Material
	own := fastener.Strength{System: before.First().Thread.System, Yield: before.First().Strength.Yield - 40,
		Tensile: before.First().Strength.Tensile, MaxMM: 100, Source: "certificate 4411"}
	_, err = b.PutLibraryValue(ctx, hartwell, app.ShelfMaterials, grade, app.LibraryValue{Material: &own})
	require.NoError(t, err)
	d := before.First().Thread.DiameterMM
	_, err = b.PutLibraryValue(ctx, hartwell, app.ShelfThreads, before.First().Thread.Text,
		app.LibraryValue{Nut: &fastener.Nut{BearingOut: 2 * d, Hole: d + 2, Source: "measured on ten nuts"}})
	require.NoError(t, err)
	_, err = b.PutLibraryValue(ctx, hartwell, app.ShelfGaskets, "G-3",
		app.LibraryValue{Gasket: &fastener.Gasket{Name: before.Specification.Gasket, Target: 60, Max: 120, Seating: 30,
			Operating: 20, Source: "maker's sheet"}})
	require.NoError(t, err)
	after, err := b.PreviewPlan(ctx, "SW-112", plan.Choices{})
	require.NoError(t, err)
	require.InDelta(t, before.First().Strength.Yield-40, after.First().Strength.Yield, 1e-9)
	require.Equal(t, 1, after.First().Strength.Version)
	require.NotNil(t, after.First().Nut)
	require.Equal(t, "G-3", after.Gasket.Code)
	require.Greater(t, after.First().YieldPct, before.First().YieldPct)
}

func TestOwnValuesAreChecked(t *testing.T) {
	b := newBench(t, true)
	hartwell := b.crew["J. Hartwell"]
	good := ownCard(t, b, "L-07")
	for field, v := range map[string]struct {
		shelf, code string
		value       app.LibraryValue
	}{
		"k": {app.ShelfLubricants, "L-99",
			app.LibraryValue{Lubricant: func() *fastener.Lubricant { c := good; c.K.Low = .3; return &c }()}},
		"source": {app.ShelfLubricants, "L-99",
			app.LibraryValue{Lubricant: func() *fastener.Lubricant { c := good; c.Source = fastener.KLibrary; return &c }()}},
		"suits": {app.ShelfLubricants, "L-99",
			app.LibraryValue{Lubricant: func() *fastener.Lubricant { c := good; c.Suits = []string{"space"}; return &c }()}},
		"tensileMPa": {app.ShelfMaterials, "X",
			app.LibraryValue{Material: &fastener.Strength{System: fastener.ISO, Yield: 900, Tensile: 800, MaxMM: 30,
				Source: "s"}}},
		"maxMPa": {app.ShelfGaskets, "X",
			app.LibraryValue{Gasket: &fastener.Gasket{Name: "n", Target: 90, Max: 60, Seating: 10, Operating: 10,
				Source: "s"}}},
		"bearingOuterMm": {app.ShelfThreads, "M24", app.LibraryValue{Nut: &fastener.Nut{BearingOut: 20, Source: "s"}}},
		"thread":         {app.ShelfThreads, "Mx", app.LibraryValue{Nut: &fastener.Nut{BearingOut: 20, Source: "s"}}},
		"code":           {app.ShelfGaskets, "  ", app.LibraryValue{Gasket: &fastener.Gasket{}}},
	} {
		_, err := b.PutLibraryValue(ctx, hartwell, v.shelf, v.code, v.value)
		p, ok := app.AsProblem(err)
		require.True(t, ok, "%s: %v", field, err)
		require.Equal(t, field, p.Field)
		require.NotEmpty(t, p.Remedy, field)
	}
	_, err := b.PutLibraryValue(ctx, hartwell, app.ShelfGaskets, "X", app.LibraryValue{Lubricant: &good})
	problem(t, err, app.Invalid, "no such value")
}

func TestLubricantMustBeDocumentedForTheService(t *testing.T) {
	b := newBench(t, true)
	hartwell := b.crew["J. Hartwell"]
	d, err := b.Joint(ctx, "SW-112")
	require.NoError(t, err)
	s := d.Versions[0].Specification
	s.ServiceClass = "oxygen"
	_, err = b.PutSpecification(ctx, hartwell, "SW-112", s, "the line now carries oxygen")
	require.NoError(t, err)
	p, err := b.PreviewPlan(ctx, "SW-112", plan.Choices{})
	require.NoError(t, err)
	require.False(t, p.Complete())
	var codes []string
	for _, f := range p.Findings {
		codes = append(codes, string(f.Code))
	}
	require.Contains(t, codes, "lubricant_service")
	card := ownCard(t, b, s.Groups[0].Lubricant)
	if card.Source == fastener.KLibrary { // the site's own card beside the built-in one
		card.Source = fastener.KProject
	}
	card.Suits = []string{"oxygen"}
	_, err = b.PutLibraryValue(ctx, hartwell, app.ShelfLubricants, card.Code,
		app.LibraryValue{Lubricant: &card, Reason: "the maker's oxygen certificate"})
	require.NoError(t, err)
	p, err = b.PreviewPlan(ctx, "SW-112", plan.Choices{})
	require.NoError(t, err)
	require.True(t, p.Complete(), "%v", p.Findings)
	s.ServiceClass = "outer space"
	_, err = b.PutSpecification(ctx, hartwell, "SW-112", s, "x")
	problem(t, err, app.Invalid, "not a service class")
}

func TestCalculationsKnowTheSitesCards(t *testing.T) {
	b := newBench(t, true)
	a, err := b.Calculate(ctx, "torque_from_preload_k",
		calc.Request{Values: map[string]any{"preload_kN": "148", "thread": "M27", "lubricant": "L-07"},
			Units: map[string]quantity.Unit{"torque_Nm": "ft_lbf"}, Effects: true})
	require.NoError(t, err)
	require.InDelta(t, 0.15*27*148, a.Values["torque_Nm"], 1e-6)
	require.Equal(t, quantity.FootPound, a.Shown[0].Unit)
	require.Contains(t, a.Shown[0].Also, "N·m")
	require.NotEmpty(t, a.Effects)
	_, err = b.Calculate(ctx, "torque_from_preload_k",
		calc.Request{Values: map[string]any{"preload_kN": "148", "thread": "M27", "lubricant": "butter"}})
	problem(t, err, app.Invalid, "butter")
}

func TestHouseRulesAreVersionedAndPlansGoStale(t *testing.T) {
	b := newBench(t, true)
	hartwell := b.crew["J. Hartwell"]
	_, err := b.SavePlan(ctx, hartwell, "SW-112", plan.Choices{}, "")
	require.NoError(t, err)
	h, err := b.HouseRules(ctx)
	require.NoError(t, err)
	r := h.Versions[0].Rules
	r.Scheme, r.Reasons["scheme"] = "50_80_100", "Spiral-wound gaskets with rings only; a firm first pass saves time."
	_, err = b.PutHouseRules(ctx, hartwell, app.HouseRulesInput{Rules: r})
	require.Equal(t, "reason", problem(t, err, app.Invalid, "").Field)
	h, err = b.PutHouseRules(ctx, hartwell, app.HouseRulesInput{Rules: r, Reason: "outage meeting of 20 November"})
	require.NoError(t, err)
	require.Len(t, h.Versions, 2)
	require.Equal(t, 2, h.Versions[0].Rules.Version)
	require.Equal(t, "30_70_100", h.Versions[1].Rules.Scheme, "the earlier version stays")
	d, err := b.Joint(ctx, "SW-112")
	require.NoError(t, err)
	require.Contains(t, d.Saved.Stale, "version 1 of the house rules; version 2 is in force")
	p, err := b.PreviewPlan(ctx, "SW-112", plan.Choices{})
	require.NoError(t, err)
	require.InDelta(t, 50, p.Passes[1].Percent, 1)
	_, err = b.PutHouseRules(ctx, hartwell, app.HouseRulesInput{Rules: r, Reason: "made from version 1"})
	problem(t, err, app.Conflict, "J. Hartwell has made version 2 meanwhile")

	for field, change := range map[string]func(*plan.HouseRules){
		"scheme":  func(r *plan.HouseRules) { r.Scheme = "halves" },
		"pattern": func(r *plan.HouseRules) { r.Pattern = "any" }, "sectors": func(r *plan.HouseRules) { r.Sectors = 5 },
		"minFrac":         func(r *plan.HouseRules) { r.MinFrac = 0.9 },
		"minYieldPct":     func(r *plan.HouseRules) { r.MinYieldPct = 80 },
		"limits":          func(r *plan.HouseRules) { r.Limits = map[string]float64{"proof_gap": 0} },
		"secondaryTorque": func(r *plan.HouseRules) { r.SecondaryTorque = r.PrimaryTorque },
		"primaryTorque":   func(r *plan.HouseRules) { r.PrimaryTorque = quantity.Newton },
		"reasons.policy": func(r *plan.HouseRules) {
			r.Reasons = map[string]string{"scheme": "a", "firstRoundPct": "b", "pattern": "c", "numbering": "d"}
		}, "maxCheckPasses": func(r *plan.HouseRules) { r.MaxCheckPasses = 0 },
	} {
		bad := plan.DefaultHouseRules()
		change(&bad)
		_, err := b.PutHouseRules(ctx, hartwell, app.HouseRulesInput{Rules: bad, Reason: "x"})
		p, ok := app.AsProblem(err)
		require.True(t, ok, field)
		require.Equal(t, field, p.Field)
	}
	require.NoError(t, plan.DefaultHouseRules().Check(), "what is delivered is right")
}
