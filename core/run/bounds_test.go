package run_test

import (
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/tool"
)

// What an event says is taken at its bounds and refused past them, by the field, whatever the event is.
func TestWhatAnEventSaysHasBounds(t *testing.T) {
	endless, absurd := []run.Reading{{}, {Value: math.Inf(1)}}, &tool.SetUp{String: []tool.Tool{{MaxNm: 2e9}}}
	for name, c := range map[string]struct {
		change func(e *run.Event)
		field  string
	}{
		"lines and tabs":             {func(e *run.Event) { e.Note = "a\tb\r\nc" }, ""},
		"a bell":                     {func(e *run.Event) { e.Note = "a\ab" }, "note"},
		"a note of 2000 letters":     {func(e *run.Event) { e.Note = strings.Repeat("ä", 2000) }, ""},
		"a longer note":              {func(e *run.Event) { e.Note = strings.Repeat("ä", 2001) }, "note"},
		"a name of 200 letters":      {func(e *run.Event) { e.Product = strings.Repeat("ä", 200) }, ""},
		"a longer name":              {func(e *run.Event) { e.Product = strings.Repeat("ä", 201) }, "product"},
		"a figure":                   {func(e *run.Event) { e.AngleDeg = 1e9 }, ""},
		"a figure below nothing":     {func(e *run.Event) { e.AngleDeg = -1e9 }, ""},
		"an absurd figure":           {func(e *run.Event) { e.AngleDeg = 1.001e9 }, "angleDeg"},
		"no figure":                  {func(e *run.Event) { e.AngleDeg = math.NaN() }, "angleDeg"},
		"a thousand readings":        {func(e *run.Event) { e.Values = make([]run.Reading, 1000) }, ""},
		"more readings":              {func(e *run.Event) { e.Values = make([]run.Reading, 1001) }, "values"},
		"a reading that is not one":  {func(e *run.Event) { e.Values = endless }, "values.value"},
		"a unit with a bell":         {func(e *run.Event) { e.Reading = &run.Reading{Unit: "bar\a"} }, "reading.unit"},
		"a tool of the set-up at it": {func(e *run.Event) { e.SetUp = absurd }, "setUp.string.maxNm"},
	} {
		e := run.Event{ID: "x", At: coretest.Day, Kind: run.Noted, Note: "seen"}
		c.change(&e)
		if c.field == "" {
			require.NoError(t, e.Validate(), name)
		} else {
			refused(t, e.Validate(), c.field)
		}
	}
}

// A pull turns a nut by ten turns at most and is of one of four hands; tools taken are named; a signature has a signer
// and says what it is for.
func TestEventsOfAKindHaveBounds(t *testing.T) {
	w := coretest.Wrench()
	alone := tool.Alone(w)
	for name, c := range map[string]struct {
		e     run.Event
		field string
	}{
		"ten turns":              {run.Event{Kind: run.Pulled, Outcome: run.Turned, TurnedDeg: 3600}, ""},
		"more":                   {run.Event{Kind: run.Pulled, Outcome: run.Turned, TurnedDeg: 3600.1}, "turnedDeg"},
		"back":                   {run.Event{Kind: run.Pulled, Outcome: run.Turned, TurnedDeg: -0.1}, "turnedDeg"},
		"the fourth hand":        {run.Event{Kind: run.Pulled, Outcome: run.ByHand, Hand: 3}, ""},
		"a fifth":                {run.Event{Kind: run.Pulled, Outcome: run.ByHand, Hand: 4}, "hand"},
		"a wrench":               {run.Event{Kind: run.WrenchTaken, Wrench: &w}, ""},
		"a set-up":               {run.Event{Kind: run.WrenchTaken, Wrench: &w, SetUp: &alone}, ""},
		"a set-up of nothing":    {run.Event{Kind: run.WrenchTaken, Wrench: &w, SetUp: &tool.SetUp{}}, "setUp"},
		"no wrench":              {run.Event{Kind: run.WrenchTaken}, "wrench"},
		"signed":                 {run.Event{Kind: run.Signed, Signer: &coretest.Abara, Purpose: run.SignProved}, ""},
		"signed by nobody":       {run.Event{Kind: run.Signed, Purpose: run.SignProved}, "signer"},
		"signed for nothing":     {run.Event{Kind: run.Signed, Signer: &coretest.Abara}, "signer"},
		"a tool in doubt, named": {run.Event{Kind: run.ToolDoubted, Tool: "W-40", Reason: "dropped"}, ""},
		"a tool in doubt":        {run.Event{Kind: run.ToolDoubted, Reason: "dropped"}, "tool"},
	} {
		e := c.e
		e.ID, e.At = "x", coretest.Day
		if e.Kind == run.Pulled {
			e.Pass, e.Fastener = 1, 1
		}
		if c.field == "" {
			require.NoError(t, e.Validate(), name)
		} else {
			refused(t, e.Validate(), c.field)
		}
	}
}

// A gauge may be off by one mark, up or down, when it is set and when it is pulled; further off it has moved.
func TestGaugeMayBeAMarkOff(t *testing.T) {
	s := hydraulics(t)
	st := s.State()
	mark := s.Plan.First().InHand().Driver().Graduation
	for off, moved := range map[float64]bool{0: false, mark: false, -mark: false, mark + 0.1: true, -mark - 0.1: true} {
		set := s.Judge(run.Event{Kind: run.SettingConfirmed, Setting: st.Setting,
			Reading: &run.Reading{Value: st.Setting + off, Unit: quantity.Bar}})
		require.Equal(t, moved, found(set, "pressure_drift"), "set, %g off", off)
	}
	s.Confirm()
	for off, want := range map[float64]run.Mark{0: run.MarkDone, mark: run.MarkDone, -mark: run.MarkDone,
		mark + 0.1: run.MarkOver, -mark - 0.1: run.MarkShort} {
		n := st.Next.Fastener
		out := s.Judge(run.Event{Kind: run.Pulled, Pass: 2, Fastener: n, Outcome: run.Stalled, Setting: st.Setting,
			Clear: true, Reading: &run.Reading{Value: st.Setting + off, Unit: quantity.Bar}})
		require.Equal(t, want, out.Fasteners[n-1].Marks[1], "pulled, %g off", off)
		require.Equal(t, want != run.MarkDone, found(out, "pressure_drift"), "pulled, %g off", off)
	}
}

// A result that a device sent counts once; what came without its number is nobody's second copy.
func TestResultWithoutItsNumberCounts(t *testing.T) {
	s := with(t, func(in *plan.Input) { in.Tools = []tool.Tool{coretest.Electronic()} })
	s.Confirm()
	for range 2 {
		st := s.State()
		s.Add(run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener, Outcome: run.Reached,
			Setting: st.Setting, Reading: newtonMetres(st.Setting), Device: "E-03", AngleDeg: 31})
	}
	st := s.State()
	require.Equal(t, 2, st.Passes[1].Done)
	require.Contains(t, st.LastKept.Text, ", 31°", "the angle is told with it")
	s.Add(run.Event{Kind: run.Pulled, Pass: st.Pass, Fastener: st.Next.Fastener, Outcome: run.Reached,
		Setting: st.Setting, Reading: newtonMetres(st.Setting)})
	require.NotContains(t, s.State().LastKept.Text, "°", "no angle, no word of it")
}

// What a wrong lubricant would do is worked out for the torque that the nut gets, not for the one before it was rounded
// to a mark; one that is used by its last day is not past it.
func TestWrongLubricantIsWorkedOutAtTheNut(t *testing.T) {
	in := coretest.Input()
	in.Specification.Groups[0].Target.Nominal = 301
	p, err := plan.Make(in)
	require.NoError(t, err)
	require.NotEqual(t, p.First().TargetNm, p.First().FinalNm)
	s := coretest.NewScript(p)
	s.Add(run.Event{Kind: run.ReadConfirmed})
	found := func(card string) *run.Mismatch {
		st := s.Judge(run.Event{Kind: run.CheckAnswered, Check: "lubricant", Answer: card, Product: "tin 0418"})
		return checkOf(t, st, "lubricant").Mismatch
	}
	k := func(code string) float64 {
		c, ok := p.Card(code)
		require.True(t, ok, code)
		return c.K.Typ
	}
	m := found("moly_paste")
	require.InDelta(t, float64(p.First().FinalNm), float64(m.TorqueNm), 1e-9)
	require.InDelta(t, 100*(k("light_oil")/k("moly_paste")-1), m.ChangePct, 1e-9)
	require.Contains(t, m.Sentence, "% over of the")
	m = found("dry_zinc_plated")
	require.Negative(t, m.ChangePct)
	require.Contains(t, m.Sentence, "% short of the")
	for expiry, past := range map[string]bool{s.At.AddDate(0, 0, -1).Format(time.DateOnly): true,
		s.At.Format(time.DateOnly): false} {
		st := s.Judge(run.Event{Kind: run.CheckAnswered, Check: "lubricant", Answer: "light_oil", Expiry: expiry})
		require.Equal(t, past, checkOf(t, st, "lubricant").Status != run.CheckCleared, expiry)
	}
}

// What a check says must not be used is told when it was.
func TestForbiddenMeansOfACheckIsTold(t *testing.T) {
	tried := 0
	for _, f := range procedure.Builtin() {
		p, err := plan.Make(sampleOf(f, nil))
		require.NoError(t, err)
		for _, c := range p.Checks {
			if len(c.Dont) == 0 || c.Kind != procedure.Confirm {
				continue
			}
			tried++
			s := coretest.NewScript(p)
			s.Add(run.Event{Kind: run.ReadConfirmed})
			e := s.Right(c)
			e.Method = ""
			was := codes(s.Judge(e).Findings)
			e.Method = c.Dont[0]
			require.NotEqual(t, was, codes(s.Judge(e).Findings), "%s %s", f.Code, c.Code)
		}
	}
	require.Positive(t, tried)
}

// What the present person may sign is offered: a hold that waits to the inspector, not to the hand.
func TestHoldThatWaitsIsOfferedToWhoMaySignIt(t *testing.T) {
	tried := 0
	for _, f := range procedure.Builtin() {
		p, err := plan.Make(sampleOf(f, nil))
		require.NoError(t, err)
		for _, c := range p.Checks {
			if !c.Hold || c.Station != procedure.Ready || !slices.Contains(c.Signers, coretest.Abara.Role) {
				continue
			}
			s := coretest.NewScript(p)
			s.Add(run.Event{Kind: run.ReadConfirmed})
			s.Add(s.Right(c))
			st := s.State()
			if checkOf(t, st, c.Code).Status != run.CheckToSign {
				continue
			}
			tried++
			hold := run.Signable{Purpose: run.SignHold, Check: c.Code}
			require.Contains(t, st.May(p, coretest.Abara), hold, "%s %s", f.Code, c.Code)
			require.NotContains(t, st.May(p, coretest.Tolley), hold, "%s %s", f.Code, c.Code)
		}
	}
	require.Positive(t, tried)
}

// Leave to go on with several fasteners open holds for each of them: one that is let go again does not withdraw it, one
// that was done does.
func TestLeaveHoldsForEveryFastenerLeftOut(t *testing.T) {
	for at, want := range []int{3, 3, 2} { // the first two of the order are left out of pass 2, the third is done
		s := ready(t)
		require.Equal(t, 2, s.State().Pass)
		order := s.State().Passes[1].Order
		s.Confirm()
		for _, n := range order[:2] {
			s.Add(run.Event{Kind: run.Skipped, Pass: 2, Fastener: n, Reason: "behind the column"})
		}
		for range s.Plan.Count() - 2 {
			s.Pull()
		}
		require.NoError(t, leave(s, coretest.Hartwell, 3))
		require.Equal(t, 3, s.State().Pass)
		s.Add(run.Event{Kind: run.Loosened, Pass: 2, Fastener: order[at], Reason: "wrong washer", Method: "a bar"})
		require.Equal(t, 1, s.State().Pass, "it is brought up from the hand")
		s.Pull()
		require.Equal(t, want, s.State().Pass, "bolt %d", order[at])
	}
}

// Of the torque wrenches only those that may loosen let a bolt go; a spanner is no torque wrench.
func TestWrenchThatMayNotLoosenIsTold(t *testing.T) {
	f, err := procedure.ByCode("gasketed_flange")
	require.NoError(t, err)
	in := sampleOf(f, nil)
	may := coretest.Wrench()
	may.Tag, may.MayLoosen, may.Directions = "W-1", true, "both"
	in.Apart, in.Tools = true, []tool.Tool{coretest.Wrench(), may}
	p, err := plan.Make(in)
	require.NoError(t, err)
	s := coretest.NewScript(p)
	s.Ready()
	s.Gates()
	for name, c := range map[string]struct {
		method, tag string
		told        bool
	}{
		"the one that may":      {"click", "W-1", false},
		"the one that may not":  {"click", "W-40", true},
		"one that is not named": {"click", "", false},
		"a spanner":             {"spanner", "W-40", false},
	} {
		st := s.Judge(letGo(s, run.Event{Method: c.method, Tool: c.tag}))
		require.Equal(t, c.told, slices.Contains(kept(st), "not_for_loosening"), "%s: %v", name, kept(st))
	}
}
