package plan_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/fastener"
	"dynacor/core/layout"
	"dynacor/core/measure"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
)

// A target is said as a document writes it.
func TestTargetInWords(t *testing.T) {
	for want, target := range map[string]plan.Target{
		"300 N·m ±10 %": {Form: plan.TorqueNominal, Nominal: 300, MinusPct: 10, PlusPct: 10,
			Unit: quantity.NewtonMetre},
		"300 N·m −5 +10 %": {Form: plan.TorqueNominal, Nominal: 300, MinusPct: 5, PlusPct: 10,
			Unit: quantity.NewtonMetre},
		"270 to 330 ft·lbf":     {Form: plan.TorqueRange, Min: 270, Max: 330, Unit: quantity.FootPound},
		"400 MPa in the bolt":   {Form: plan.BoltStress, Stress: 400},
		"70 % of yield":         {Form: plan.PercentYield, Percent: 70},
		"table T-3, M20, 8.8":   {Form: plan.LookUp, Table: "T-3", Keys: []string{"M20", "8.8"}},
		"450° from its mark":    {Form: plan.Turns, TurnDeg: 450},
		"0.2 mm longer":         {Form: plan.Stretch, StretchMM: 0.2},
		"as the procedure says": {Form: plan.Stated},
		"to be supplied":        {Form: plan.NotGiven},
	} {
		require.Equal(t, want, target.Words())
	}
}

// The targets of a joint are told with the groups that have them; a specification of an earlier time, whose only group
// has no code, speaks of the first.
func TestTargetsOfSeveralGroupsInWords(t *testing.T) {
	p := planned(t, "ball_valve_multi", nil, nil)
	require.True(t, p.Several())
	words := p.TargetWords()
	require.Contains(t, words, p.First().GroupName)
	p.Specification.Groups[0].Group = ""
	require.Equal(t, words, p.TargetWords())
	p.Specification.Groups = p.Specification.Groups[:1]
	require.Equal(t, p.First().GroupName+" "+p.Specification.Groups[0].Target.Words(), p.TargetWords())
}

// A limit is said with the sign of its unit, or with the unit as the procedure writes it.
func TestLimitInWords(t *testing.T) {
	for want, c := range map[string]procedure.Check{
		"45 to 55 N·m": {Criterion: measure.Window, Low: 45, Limit: 55, Unit: "N_m"},
		"45 to 55 N·m at 20 °C": {Criterion: measure.Window, Low: 45, Limit: 55, Unit: "N_m",
			Temperature: "gas"},
		"at least 3 threads":               {Criterion: measure.Minimum, Low: 3, Unit: "threads"},
		"at least 0.5 mm everywhere":       {Criterion: measure.Remain, Low: 0.5, Unit: "mm"},
		"something must remain everywhere": {Criterion: measure.Remain, Unit: "mm"},
		"exactly 4":                        {Criterion: measure.Count, Low: 4},
		"at most 0.2 mm":                   {Limit: 0.2, Unit: "mm"},
	} {
		require.Equal(t, want, plan.LimitText(c))
	}
}

// A fastener is called by what is chalked beside it, with its face where the joint has faces; the only one of a group
// by its name alone, where there are other groups.
func TestFastenerHasAName(t *testing.T) {
	group := func(noun, face string, n, offset int) plan.FastenerGroup {
		return plan.FastenerGroup{Noun: noun, Face: face, Offset: offset, Layout: layout.Layout{Count: n}}
	}
	p := plan.Plan{
		Chalk: []int{2, 1, 1, 7},
		Groups: []plan.FastenerGroup{group("", "A", 2, 0), group("gland nut", "", 1, 2),
			group("screw", "", 1, 3)},
	}
	for position, want := range map[int]string{1: "bolt A2", 2: "bolt A1", 3: "gland nut", 4: "screw"} {
		require.Equal(t, want, p.NameOf(position))
	}
	p = plan.Plan{Chalk: []int{3}, Groups: []plan.FastenerGroup{group("nut", "", 1, 0)}}
	require.Equal(t, "nut 3", p.NameOf(1), "where there is no other group it has a number")
	p = plan.Plan{Chalk: []int{3, 4, 1}, Groups: []plan.FastenerGroup{group("", "", 2, 0), group("", "", 1, 2)}}
	require.Equal(t, "bolt 4", p.NameOf(2))
}

// A plan names the site's own values that it was made with, each once, and none that is built in.
func TestPlanNamesWhatItUses(t *testing.T) {
	p := make1(t, nil)
	require.Empty(t, p.Uses())
	g := p.First()
	g.Lubricant.Version, g.Strength.Version = 3, 2
	p.LubricantCards = []fastener.Lubricant{{Code: g.Lubricant.Code, Version: 3}}
	g.Nut, g.Table, p.Gasket = &fastener.Nut{Thread: "M20", Version: 1}, &plan.TableUse{Code: "T-3", Version: 4},
		&fastener.Gasket{Code: "G-03", Version: 5}
	require.Equal(t, []plan.Use{{Shelf: "lubricants", Code: "light_oil", Version: 3},
		{Shelf: "materials", Code: "8.8", Version: 2}, {Shelf: "threads", Code: "M20", Version: 1},
		{Shelf: "tables", Code: "T-3", Version: 4}, {Shelf: "gaskets", Code: "G-03", Version: 5}}, p.Uses())
	_, ok := p.Card("light_oil")
	require.True(t, ok)
	_, ok = p.Card("copper")
	require.False(t, ok)
}

// A part that can be changed is one of the list, or the lubricant.
func TestPartsThatCanBeChanged(t *testing.T) {
	p := make1(t, nil)
	lubricant, ok := p.Part(procedure.LubricantPart)
	require.True(t, ok)
	require.Equal(t, "Lubricant", lubricant.Name)
	gasket, ok := p.Part("gasket")
	require.True(t, ok)
	require.Equal(t, "gasket", gasket.Code)
	_, ok = p.Part("keel")
	require.False(t, ok)
}

// What a reading may be off, and when nuts are tried again, where the site says nothing and where it does.
func TestFiguresOfTheRules(t *testing.T) {
	var r plan.HouseRules
	require.InDelta(t, 5, r.ReadingBand(), 0)
	r.ReadingBandPct = 3
	require.InDelta(t, 3, r.ReadingBand(), 0)
	at := time.Date(2026, 11, 30, 10, 0, 0, 0, time.UTC)
	_, asked := r.RetorqueDue(at)
	require.False(t, asked)
	r.RetorqueHours = 36
	until, asked := r.RetorqueDue(at)
	require.True(t, asked)
	require.Equal(t, at.Add(36*time.Hour), until)
	r = plan.DefaultHouseRules()
	r.MinFrac = 0.9
	err := r.Check()
	require.ErrorContains(t, err, "90 % is outside 0 to 50 %")
	r = plan.DefaultHouseRules()
	r.Limits["proof_gap"] = -1
	require.ErrorContains(t, r.Check(), "proof gap is -1 mm")
	r = plan.DefaultHouseRules()
	r.MinYieldPct = r.MaxYieldPct
	refused(t, r.Check(), "minYieldPct")
}

func refused(t *testing.T, err error, field string) {
	t.Helper()
	r, ok := quantity.RefusalIn(err)
	require.True(t, ok, "%s: %v", field, err)
	require.Equal(t, field, r.Field)
}

// What a document lacks is cautioned, where it matters.
func TestWhatADocumentLacksIsSaid(t *testing.T) {
	spec := func(change func(s *plan.Specification)) *plan.Plan {
		return make1(t, func(in *plan.Input) { change(&in.Specification) })
	}
	require.False(t, has(make1(t, nil), "no_revision"))
	require.True(t, has(spec(func(s *plan.Specification) { s.Revision = "" }), "no_revision"))
	require.False(t, has(spec(func(s *plan.Specification) { s.Document, s.Revision, s.NoSourceWhy = "", "", "lost" }),
		"no_revision"), "without a document nobody misses its revision")
	require.False(t, has(make1(t, nil), "no_gasket"))
	require.True(t, has(spec(func(s *plan.Specification) { s.Gasket = "" }), "no_gasket"))
	require.False(
		t,
		has(planned(t, "structural", nil, func(in *plan.Input) { in.Specification.Gasket = "" }), "no_gasket"),
	)
	for service, stopped := range map[string]bool{"": false, "general": false, "drinking_water": true} {
		p := spec(func(s *plan.Specification) { s.ServiceClass = service })
		require.Equal(t, stopped, has(p, "lubricant_service"), service)
		require.Equal(t, !stopped, p.Complete(), service)
	}
}

// A limit that a procedure has of its own is said to be the procedure's, and one that goes by the number of fasteners
// the layout's.
func TestLimitTellsWhereItIsFrom(t *testing.T) {
	f, err := procedure.ByCode("gasketed_flange")
	require.NoError(t, err)
	of := func(change func(c *procedure.Check)) procedure.Check {
		fam := f
		c := procedure.Check{
			Code:    "play",
			Station: procedure.Ready,
			Row:     f.Rows[0].Code,
			Kind:    procedure.Measure,
			Unit:    "mm",
			Title:   "Play",
			Ask:     "Measure the play.",
		}
		change(&c)
		fam.Checks = append(append([]procedure.Check{}, f.Checks...), c)
		p := make1(t, func(in *plan.Input) { in.Family = fam })
		got, ok := p.Check("play")
		require.True(t, ok)
		return got
	}
	for name, c := range map[string]struct {
		change func(c *procedure.Check)
		from   string
	}{
		"its own":       {func(c *procedure.Check) { c.Limit = 0.5 }, "procedure, version"},
		"its own, from": {func(c *procedure.Check) { c.Low = 0.5 }, "procedure, version"},
		"none":          {func(c *procedure.Check) {}, ""},
		"the house's": {
			func(c *procedure.Check) { c.LimitKey, c.Limit = "proof_gap", 0.5 }, "house rules version",
		},
		"the document's":     {func(c *procedure.Check) { c.HighFigure, c.Limit = "not_given", 0.5 }, ""},
		"the document's low": {func(c *procedure.Check) { c.LowFigure, c.Limit = "not_given", 0.5 }, ""},
		"an answer's":        {func(c *procedure.Check) { c.Kind, c.Limit = procedure.Confirm, 0.5 }, ""},
	} {
		got := of(c.change)
		require.True(
			t,
			strings.HasPrefix(got.LimitFrom, c.from) && (got.LimitFrom == "") == (c.from == ""),
			"%s: %q",
			name,
			got.LimitFrom,
		)
	}
	group := f.Fasteners[0].Code
	got := of(func(c *procedure.Check) { c.TimesCount, c.LowFactor, c.Limit = group, 3, 1 })
	require.Equal(t, "layout", got.LimitFrom)
	require.InDelta(t, 24, got.Low, 0)
}
