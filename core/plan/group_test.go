package plan_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/fastener"
	"dynacor/core/layout"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
)

// sample plans a family as its sample specification says, changed by a test.
func sample(t *testing.T, family string, variant map[string]string, change func(*plan.Input)) (*plan.Plan, error) {
	t.Helper()
	f, err := procedure.ByCode(family)
	require.NoError(t, err)
	in := coretest.Input()
	in.Joint.Family, in.Family, in.Specification = family, f, plan.Sample(f, variant)
	if change != nil {
		change(&in)
	}
	return plan.Make(in)
}

func planned(t *testing.T, family string, variant map[string]string, change func(*plan.Input)) *plan.Plan {
	t.Helper()
	p, err := sample(t, family, variant, change)
	require.NoError(t, err)
	return p
}

func refusedAt(t *testing.T, family string, variant map[string]string, field string, change func(*plan.Input)) {
	t.Helper()
	_, err := sample(t, family, variant, change)
	r, ok := quantity.RefusalIn(err)
	require.True(t, ok, "%s: %v", field, err)
	require.Equal(t, field, r.Field)
	require.NotEmpty(t, r.Remedy)
}

// Positions run through all groups of a joint without a gap, and every pass goes through positions of its own group
// only.
func TestPositionsRunThroughAllGroups(t *testing.T) {
	for _, f := range procedure.Builtin() {
		p := planned(t, f.Code, nil, nil)
		next := 0
		for _, g := range p.AllGroups() {
			require.Equal(t, next, g.Offset, "%s %s", f.Code, g.Code)
			require.Len(t, g.Places, g.Layout.Count, "%s %s", f.Code, g.Code)
			next += g.Layout.Count
		}
		require.Len(t, p.Chalk, next, f.Code)
		for i, ps := range p.Passes {
			require.Equal(t, i+1, ps.Number)
			g := p.GroupOf(ps.Group)
			require.Equal(t, ps.Group, g.Code, "%s pass %d", f.Code, ps.Number)
			for _, pos := range ps.Order {
				require.Same(t, g, p.GroupAt(pos), "%s pass %d", f.Code, ps.Number)
			}
			sorted := slices.Sorted(slices.Values(ps.Order))
			require.Len(t, slices.Compact(sorted), len(ps.Order), "%s pass %d visits one twice", f.Code, ps.Number)
		}
	}
}

// Every gate stands before a pass that exists, and its step is done after it.
func TestGatesStandBeforeTheirPasses(t *testing.T) {
	gates := 0
	for _, f := range procedure.Builtin() {
		p := planned(t, f.Code, nil, nil)
		for _, c := range p.Checks {
			if c.Pass == 0 {
				require.NotEqual(t, procedure.Tighten, c.Station, "%s %s", f.Code, c.Code)
				continue
			}
			gates++
			require.LessOrEqual(t, c.Pass, len(p.Passes)+1, "%s %s", f.Code, c.Code)
		}
	}
	require.Greater(t, gates, 10)
}

// Face after face, or stage after stage through every face: the procedure chooses.
func TestFacesAreDoneOneByOneOrInRounds(t *testing.T) {
	groups := func(across string) (out []string) {
		f, err := procedure.ByCode("ball_valve_multi")
		require.NoError(t, err)
		f.Work = append([]procedure.Step{}, f.Work...)
		for i := range f.Work {
			if f.Work[i].Code == "faces" {
				f.Work[i].Across = across
			}
		}
		in := coretest.Input()
		in.Joint.Family, in.Family = f.Code, f
		in.Specification = plan.Sample(f, map[string]string{"ports": "three"})
		p, err := plan.Make(in)
		require.NoError(t, err)
		for _, ps := range p.Passes {
			if ps.Kind == plan.StagePass {
				out = append(out, ps.Group)
			}
		}
		return out
	}
	require.Equal(t, []string{"face_a", "face_a", "face_b", "face_b", "face_c", "face_c"},
		groups(procedure.AcrossGroups), "as the valve is closed, its plug moved from face to face")
	require.Equal(t, []string{"face_a", "face_b", "face_c", "face_a", "face_b", "face_c"}, groups(""))
}

func TestGroupThatIsLikeAnotherTakesItsFigures(t *testing.T) {
	p := planned(t, "ball_valve_multi", map[string]string{"ports": "three"},
		func(in *plan.Input) { in.Specification.Groups = in.Specification.Groups[:1] })
	for _, g := range p.Groups[1:] {
		if g.Face != "" {
			require.InDelta(t, float64(p.First().TargetNm), float64(g.TargetNm), 0, g.Code)
			require.Equal(t, p.First().Thread, g.Thread, g.Code)
		}
	}
}

func TestVariantDecidesTheTurn(t *testing.T) {
	turn := func(make string) float64 {
		p := planned(t, "tube_fitting", map[string]string{"make": make}, func(in *plan.Input) {
			in.Specification.Figures["first_turn"], in.Specification.Figures["again_turn"] = 450, 30
		})
		for _, ps := range p.Passes {
			if ps.Kind == plan.TurnPass {
				return ps.TurnDeg
			}
		}
		return 0
	}
	require.InDelta(t, 450, turn("first"), 0)
	require.InDelta(t, 30, turn("again"), 0)
}

func TestTargetMustSuitWhatTheGroupEndsAt(t *testing.T) {
	refusedAt(t, "tube_fitting", nil, "target", func(in *plan.Input) {
		in.Specification.Groups[0].Target = plan.Target{Form: plan.TorqueNominal, Nominal: 40, Unit: quantity.NewtonMetre}
	})
	refusedAt(t, "pressure_closure", map[string]string{"seals": "old"}, "packing.target", func(in *plan.Input) {
		for i := range in.Specification.Groups {
			if in.Specification.Groups[i].Group == "packing" {
				in.Specification.Groups[i].Target = plan.Target{Form: plan.TorqueNominal, Nominal: 40,
					Unit: quantity.NewtonMetre}
			}
		}
	})
}

func TestWrongFieldOfAnotherGroupIsNamedWithTheGroup(t *testing.T) {
	change := func(f func(*plan.Fasteners)) func(*plan.Input) {
		return func(in *plan.Input) { f(&in.Specification.Groups[1]) }
	}
	code := planned(t, "stair_platform", nil, nil).Groups[1].Code
	refusedAt(t, "stair_platform", nil, code+".thread", change(func(f *plan.Fasteners) { f.Thread = "M19x9" }))
	refusedAt(t, "stair_platform", nil, code+".material", change(func(f *plan.Fasteners) { f.Material = "9.9" }))
	refusedAt(t, "stair_platform", nil, "groups", change(func(f *plan.Fasteners) { f.Group = "roof" }))
	refusedAt(t, "stair_platform", nil, "groups", func(in *plan.Input) {
		in.Specification.Groups = append(in.Specification.Groups, in.Specification.Groups[1])
	})
}

func TestQuestionsAndFiguresAreAskedFor(t *testing.T) {
	refusedAt(t, "tube_fitting", nil, "variant.make",
		func(in *plan.Input) { in.Specification.Variant = map[string]string{"make": "third"} })
	refusedAt(t, "tube_fitting", nil, "figures.tube", func(in *plan.Input) { in.Specification.Figures["tube"] = 900 })
	p := planned(t, "tube_fitting", nil, func(in *plan.Input) { delete(in.Specification.Figures, "ovality") })
	require.False(t, p.Complete())
	require.True(t, said(p.ToBeSupplied, "Tube out of round"), "%v", p.ToBeSupplied)
}

func TestDryThreadsStayDry(t *testing.T) {
	p := planned(t, "hose_clamp", nil, func(in *plan.Input) { in.Specification.Groups[0].Lubricant = "light_oil" })
	require.True(t, has(p, "wrong_condition"))
	require.False(t, p.Complete())
}

func TestLayoutOfTheSpecificationGoesBeforeTheProceduresOwn(t *testing.T) {
	own := &layout.Layout{Kind: layout.Rows, Rows: 3, Columns: 5, SeenFrom: "the web side"}
	p := planned(t, "structural", nil, func(in *plan.Input) {
		in.Specification.Groups[0].Layout, in.Specification.Groups[0].Bolts = own,
			0
	})
	require.Equal(t, 15, p.First().Layout.Count)
	require.Len(t, p.First().Places, 15)
	require.Equal(t, 8, p.Passes[0].Order[0], "from the middle of the plate outward")
	refusedAt(t, "structural", nil, "layout", func(in *plan.Input) {
		in.Specification.Groups[0].Layout = &layout.Layout{Kind: "spiral", Count: 4}
	})
}

func TestTargetFromATable(t *testing.T) {
	table := fastener.Table{Code: "SDX", Name: "Shrink discs", Document: "Ostrey SDX sheet", Revision: "4",
		KeyNames: []string{"type", "size"}, Unit: quantity.NewtonMetre, TolerancePct: 5,
		Rows: []fastener.TableRow{{Keys: []string{"SDX", "65"}, Thread: "M10", Nominal: 58}}}
	with := func(keys ...string) func(*plan.Input) {
		return func(in *plan.Input) {
			in.Own.Tables = []fastener.Table{table}
			in.Specification.Groups[0].Thread = ""
			in.Specification.Groups[0].Target = plan.Target{Form: plan.LookUp, Table: "SDX", Keys: keys}
		}
	}
	p := planned(t, "shrink_disc", nil, with("SDX", "65"))
	require.InDelta(t, 58, float64(p.First().TargetNm), 1e-9)
	require.InDelta(t, 58*0.95, float64(p.First().AllowedMin), 1e-9)
	require.Equal(t, "M10", p.First().Thread.Text, "the table gives the thread too")
	require.Contains(t, p.First().Table.Source, "Ostrey SDX sheet rev 4")
	refusedAt(t, "shrink_disc", nil, "keys", with("SDX", "66"))
	refusedAt(t, "shrink_disc", nil, "table", func(in *plan.Input) {
		with("SDX", "65")(in)
		in.Specification.Groups[0].Target.Table = "OTHER"
	})
}

func TestForbiddenOrderIsRefusedWithItsReason(t *testing.T) {
	for _, f := range procedure.Builtin() {
		for i, g := range f.Fasteners {
			if i > 0 {
				continue // the first group's order is chosen by the plan's own choices
			}
			for pattern, why := range g.Refused {
				_, err := sample(t, f.Code, nil, func(in *plan.Input) { in.Choices = plan.Pick(plan.GroupChoices{Pattern: pattern}) })
				require.ErrorContains(t, err, why, "%s %s", f.Code, pattern)
			}
		}
	}
}

// What another variant was given stands beside under the name of its group, is no fault, and is not planned.
func TestOtherVariantIsKeptAside(t *testing.T) {
	f, err := procedure.ByCode("taper_bush")
	require.NoError(t, err)
	fit := plan.Sample(f, map[string]string{"way": "fit"})
	off := plan.Sample(f, map[string]string{"way": "push_off"})
	off.Groups[0].Group, off.Figures = "jack", fit.Figures
	aside := fit.First()
	aside.Group = "screws"
	off.Groups = append(off.Groups, aside)
	require.NoError(t, off.Check(f, fastener.Own{}))
	in := coretest.Input()
	in.Joint.Family, in.Family, in.Specification = f.Code, f, off
	p, err := plan.Make(in)
	require.NoError(t, err)
	require.Len(t, p.Groups, 1)
	require.Equal(t, "jack", p.First().Code)
}
