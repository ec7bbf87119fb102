package procedure_test

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/measure"
	"dynacor/core/procedure"
)

// family gives a copy of a built-in procedure that a test may change.
func family(t *testing.T, code string) procedure.Family {
	t.Helper()
	f, err := procedure.ByCode(code)
	require.NoError(t, err)
	raw, err := json.Marshal(f)
	require.NoError(t, err)
	var out procedure.Family
	require.NoError(t, json.Unmarshal(raw, &out))
	return out
}

func TestBuiltInProceduresHaveNoFaults(t *testing.T) {
	require.Len(t, procedure.Builtin(), 20)
	seen := map[string]bool{}
	for _, f := range procedure.Builtin() {
		require.Empty(t, f.Faults(), f.Code)
		require.False(t, seen[f.Code], f.Code)
		seen[f.Code] = true
		require.NotEmpty(t, f.Looks, f.Code)
		require.Positive(t, f.Minutes, f.Code)
	}
}

// Every group that ends at no torque says why, and no built-in procedure asks for a torque where it would do harm.
func TestGroupsWithoutTorqueAreNeverTightenedToOne(t *testing.T) {
	for _, f := range procedure.Builtin() {
		for _, s := range f.Work {
			for _, code := range s.Groups {
				g, ok := f.Group(code)
				require.True(t, ok)
				if g.Target == procedure.NoTorque {
					require.Contains(t, []procedure.Do{procedure.DoLeave, procedure.DoHand, procedure.DoUndo}, s.Do,
						"%s %s", f.Code, s.Code)
					require.NotEmpty(t, g.TargetWhy, "%s %s", f.Code, g.Code)
				}
			}
		}
	}
}

func TestWhatGoesInComesOut(t *testing.T) {
	for _, f := range procedure.Builtin() {
		in, out := map[string]int{}, map[string]int{}
		for _, c := range f.Checks {
			if c.Kind == procedure.Temporary {
				if c.Want == "in" {
					in[c.Item]++
				} else {
					out[c.Item]++
				}
			}
		}
		for item := range in {
			require.Positive(t, out[item], "%s: %s stays in", f.Code, item)
		}
	}
}

func TestFaultsNameTheirPlaceAndTheRemedy(t *testing.T) {
	for path, change := range map[string]func(*procedure.Family){
		"code":                           func(f *procedure.Family) { f.Code = "Two Words" },
		"version":                        func(f *procedure.Family) { f.Version = 0 },
		"name":                           func(f *procedure.Family) { f.Name = "" },
		"looks":                          func(f *procedure.Family) { f.Looks = "" },
		"questions.ports.options":        func(f *procedure.Family) { f.Questions[0].Options = f.Questions[0].Options[:1] },
		"questions.ports.default":        func(f *procedure.Family) { f.Questions[0].Default = "five" },
		"questions.ports.figure":         func(f *procedure.Family) { f.Questions[0].Figure = "nothing" },
		"fasteners":                      func(f *procedure.Family) { f.Fasteners = nil },
		"fasteners.face_a.layout":        func(f *procedure.Family) { f.Fasteners[0].Layout.Count = 1 },
		"fasteners.face_a.target":        func(f *procedure.Family) { f.Fasteners[0].Target = "strongly" },
		"fasteners.face_a.patterns":      func(f *procedure.Family) { f.Fasteners[0].Patterns = nil },
		"fasteners.face_a.scheme":        func(f *procedure.Family) { f.Fasteners[0].Scheme = "in one go" },
		"fasteners.face_a.condition":     func(f *procedure.Family) { f.Fasteners[0].Condition = "wet" },
		"fasteners.face_a.refused.cross": func(f *procedure.Family) { f.Fasteners[0].Refused = map[string]string{"cross": "tilts"} },
		"fasteners.gland.effort":         func(f *procedure.Family) { last(f.Fasteners).EffortHighFigure = "" },
		"work":                           func(f *procedure.Family) { f.Work = nil },
		"work.faces.do":                  func(f *procedure.Family) { f.Work[1].Do = "hit" },
		"work.faces.groups":              func(f *procedure.Family) { f.Work[1].Groups = nil },
		"work.faces.groups[0]":           func(f *procedure.Family) { f.Work[1].Groups[0] = "lid" },
		"work.faces.scheme":              func(f *procedure.Family) { f.Work[1].Scheme = "x" },
		"work.gland_run.until":           func(f *procedure.Family) { f.Work[2].Until = "" },
		"work.gland_effort.groups[0]":    func(f *procedure.Family) { last(f.Fasteners).Target = procedure.ByShape },
		"checks.start_card.title":        func(f *procedure.Family) { f.Checks[0].Title = "" },
		"checks.start_card.row":          func(f *procedure.Family) { f.Checks[0].Row = "elsewhere" },
		"checks.start_card.kind":         func(f *procedure.Family) { f.Checks[0].Kind = "guess" },
		"checks.plug_in_a.before":        func(f *procedure.Family) { check(f, "plug_in_a").Before = "never" },
		"checks.tab.sketch":              func(f *procedure.Family) { check(f, "tab").Sketch = "" },
		"checks.tab.expect":              func(f *procedure.Family) { check(f, "tab").Expect = "" },
		"checks.packing_order.items":     func(f *procedure.Family) { check(f, "packing_order").Items = nil },
		"checks": func(f *procedure.Family) {
			check(f,
				"plug_out_a").Item = "another thing"
		},
		"parts." + "x.quantity": func(f *procedure.Family) {
			f.Parts = append(f.Parts,
				procedure.Part{Code: "x", Name: "part"})
		},
		"cautions":               func(f *procedure.Family) { f.Cautions = nil },
		"loosen":                 func(f *procedure.Family) { f.Loosen = nil },
		"checks.start_card.when": func(f *procedure.Family) { f.Checks[0].When = procedure.Answers{"colour": {"red"}} },
		"checks.effort_words.temperature": func(f *procedure.Family) {
			f.Checks = append(f.Checks, procedure.Check{Code: "effort_words", Kind: procedure.Measure,
				Station: procedure.Ready, Row: f.Rows[0].Code, Title: "x", Ask: "x", Why: "x", Unit: "bar",
				Criterion: measure.Information, Names: []string{"x"}, Temperature: "start_card"})
		},
		"figures.break_torque.max":     func(f *procedure.Family) { f.Figures[0].Min, f.Figures[0].Max = 5, 4 },
		"checks.start_card.criterion":  func(f *procedure.Family) { measured(f, "taste") },
		"checks.start_card.limit":      func(f *procedure.Family) { measured(f, measure.Maximum) },
		"checks.start_card.low":        func(f *procedure.Family) { measured(f, measure.Minimum) },
		"checks.start_card.stations":   func(f *procedure.Family) { measured(f, measure.Maximum) },
		"checks.start_card.fasteners":  func(f *procedure.Family) { f.Checks[0].Fasteners = "lid" },
		"checks.start_card.reopens[0]": func(f *procedure.Family) { f.Checks[0].Reopens = []string{"nothing"} },
		"fasteners.gland":              func(f *procedure.Family) { f.Work = f.Work[:3] },
		"questions.ports.options." + "x.name": func(f *procedure.Family) {
			f.Questions[0].Options[0].Code,
				f.Questions[0].Options[0].Name = "x", ""
		},
	} {
		f := family(t, "ball_valve_multi")
		change(&f)
		found := false
		for _, x := range f.Faults() {
			if x.Path == path {
				found = true
				require.NotEmpty(t, x.What, path)
			}
		}
		require.True(t, found, "%s is not among %v", path, f.Faults())
	}
}

func last[T any](list []T) *T { return &list[len(list)-1] }

func check(f *procedure.Family, code string) *procedure.Check {
	for i := range f.Checks {
		if f.Checks[i].Code == code {
			return &f.Checks[i]
		}
	}
	return &procedure.Check{}
}

func measured(f *procedure.Family, c measure.Criterion) {
	f.Checks[0].Kind, f.Checks[0].Criterion, f.Checks[0].Unit = procedure.Measure, c, "mm"
}

func TestDifferenceIsToldByWhatThingsAreCalled(t *testing.T) {
	was := family(t, "tube_fitting")
	is := family(t, "tube_fitting")
	is.Version = 2
	require.Empty(t, procedure.Diff(was, is), "a new number is no difference")
	is.Name = "Tube fitting, two ferrules"
	check(&is, "leak").Ask = "No bubble in one minute?"
	gone := is.Checks[len(is.Checks)-1]
	is.Checks = append(is.Checks[:len(is.Checks)-1], procedure.Check{Code: "photo", Title: "Photo taken"})
	is.Checks[0], is.Checks[1] = is.Checks[1], is.Checks[0]
	changes := map[string]procedure.Change{}
	for _, c := range procedure.Diff(was, is) {
		changes[c.Path] = c
	}
	require.Equal(t, "Tube fitting, two ferrules", changes["name"].Is)
	require.Equal(t, "No bubble in one minute?", changes["checks.leak.ask"].Is)
	require.Equal(t, procedure.Change{Path: "checks.photo", Is: "Photo taken"}, changes["checks.photo"])
	require.Equal(t, procedure.Change{Path: "checks." + gone.Code, Was: gone.Title}, changes["checks."+gone.Code])
	require.Len(t, changes, 4, "a check that only moved is no difference")
}

func TestVariantChangesPartsAndSteps(t *testing.T) {
	f := family(t, "tube_fitting")
	first, err := f.Answer(map[string]string{"make": "first"}, nil)
	require.NoError(t, err)
	again, err := f.Answer(map[string]string{"make": "again"}, nil)
	require.NoError(t, err)
	require.NotEqual(t, f.For(first), f.For(again))
	_, err = f.Answer(map[string]string{"make": "third"}, nil)
	require.Error(t, err)
}

func TestFamiliesAreKnownByTheirOutline(t *testing.T) {
	for code, want := range map[string]string{"gasketed_flange": "circle", "ball_valve_multi": "body",
		"hose_clamp": "clamp", "tube_fitting": "nut", "structural": "strip", "foundation_anchors": "rectangle"} {
		f, err := procedure.ByCode(code)
		if err != nil {
			t.Errorf("%s: %v", code, err)
			continue
		}
		require.Equal(t, want, f.Silhouette(), code)
	}
}

// Every check says what to do when it is not met, and every one that only the eye can judge has a drawing of its part.
func TestEveryCheckHasItsRemedyAndItsDrawing(t *testing.T) {
	drawn := map[procedure.CheckKind]bool{procedure.Orientation: true, procedure.Match: true, procedure.Temporary: true,
		procedure.Clock: true, procedure.Sequence: true}
	for _, f := range procedure.Builtin() {
		for _, c := range f.Checks {
			require.NotEmpty(t, c.Remedy, "%s, %s", f.Code, c.Code)
			if drawn[c.Kind] {
				require.NotEmpty(t, c.Sketch, "%s, %s", f.Code, c.Code)
			}
		}
		ways := map[string]string{}
		for _, c := range f.Checks {
			if c.Kind == procedure.Temporary { // in is not drawn like out
				require.Contains(t, []string{"", c.Want}, ways[c.Sketch], "%s, %s", f.Code, c.Code)
				ways[c.Sketch] = c.Want
			}
		}
	}
}

// A code is small letters, digits and underscores behind a letter.
func TestCodesOfFamilies(t *testing.T) {
	faulty := func(code string) bool {
		f := family(t, "gearbox")
		f.Code = code
		return slices.ContainsFunc(f.Faults(), func(x procedure.Fault) bool { return x.Path == "code" })
	}
	for _, good := range []string{"ab", "a1", "a_b", "gear_box_2", "a" + strings.Repeat("b", 40)} {
		require.False(t, faulty(good), good)
	}
	for _, bad := range []string{"", "a", "1a", "_a", "aB", "a-b", "a b", "aé", "Aa", "ab{", "a`",
		"a" + strings.Repeat("b", 41)} {
		require.True(t, faulty(bad), bad)
	}
}
