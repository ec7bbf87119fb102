package lab_test

import (
	"context"
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/fastener"
	"dynacor/core/lab"
	"dynacor/core/quantity"
)

func sixteen() lab.Setup {
	return lab.Setup{
		Bolts:        16,
		Thread:       "M27",
		Gasket:       "sheet",
		GasketMM:     2,
		TargetKN:     148,
		YieldKN:      290,
		NeedMPa:      5,
		BoltCircleMM: 525,
		BoreMM:       400,
		OutsideMM:    580,
		ThicknessMM:  38,
		HubMM:        10,
		FrictionPct:  10,
		ToolPct:      3,
		PullSeconds:  45,
		PassSeconds:  120,
	}
}

func joint(t testing.TB, change func(*lab.Setup)) *lab.Joint {
	t.Helper()
	s := sixteen()
	if change != nil {
		change(&s)
	}
	j, err := lab.Of(s)
	require.NoError(t, err)
	return j
}

var (
	ctx       = context.Background()
	crossed   = lab.Procedure{School: "cross", Stages: []float64{30, 60, 100}, Rounds: 1}
	clockwise = lab.Procedure{School: "clockwise", Stages: []float64{50, 100}}
)

// A round gives back most of what the cross passes took; two passes clockwise leave the first bolts slack.
func TestSchoolsDiffer(t *testing.T) {
	j := joint(t, nil)
	a, err := j.Play(ctx, crossed)
	require.NoError(t, err)
	b, err := j.Play(ctx, clockwise)
	require.NoError(t, err)
	require.Equal(t, "Cross, 30, 60, 100, then round", a.Word)
	require.Equal(t, 64, a.Pulls)
	require.Equal(t, 32, b.Pulls)
	require.InDelta(t, (64*45+4*120)/60., a.Minutes, 1e-9)
	require.Greater(t, a.Even, b.Even+10)
	require.Equal(t, slices.Min(a.Forces), a.Min)
	require.Equal(t, a.Forces[a.Lowest-1], a.Min)
	require.Len(t, a.History, 64)
	require.Equal(
		t,
		[]lab.PassEnd{{"pass 1, 30 %", 16}, {"pass 2, 60 %", 32}, {"pass 3, 100 %", 48}, {"round, 100 %", 64}},
		a.Passes,
	)
	require.Contains(t, b.Sentence, "Uneven")
	require.True(t, b.Uneven)
	require.InDelta(t, 90, b.Enough, 0)
	require.Len(t, a.Gasket, 64)
	require.Len(t, a.Gap[0], 32)
	for _, x := range []*lab.Outcome{a, b} { // one figure, wherever it is shown
		require.InDelta(t, x.TiltMM, x.TiltMMs[len(x.TiltMMs)-1], 1e-4)
	}
	c, err := j.Compare(ctx, crossed, clockwise)
	require.NoError(t, err)
	require.Contains(t, c.Sentence, "Left is more even")
	require.Contains(t, c.Sentence, "64 pulls against 32")
	require.Contains(t, c.Sure, "The same holds")
	c, err = j.Compare(ctx, clockwise, crossed)
	require.NoError(t, err)
	require.Contains(t, c.Sentence, "Right is more even")
	c, err = j.Compare(ctx, crossed, crossed)
	require.NoError(t, err)
	require.Contains(t, c.Sentence, "alike")
}

func TestWhatToThinkOfIt(t *testing.T) {
	all := lab.Procedure{School: "together", Stages: []float64{100}}
	o, err := joint(t, nil).Play(ctx, all)
	require.NoError(t, err)
	require.InDelta(t, 100, o.Even, 1e-6)
	require.Contains(t, o.Sentence, "Even")
	require.False(t, o.Uneven)
	o, err = joint(t, func(s *lab.Setup) { s.NeedMPa = 500 }).Play(ctx, all)
	require.NoError(t, err)
	require.False(t, o.Holds)
	require.Contains(t, o.Sentence, "needs 500")
	four, err := lab.Of(lab.Setup{Bolts: 4, Thread: "M16", Gasket: "sheet", TargetKN: 40, YieldKN: 41})
	require.NoError(t, err)
	o, err = four.Play(ctx, lab.Procedure{School: "clockwise", Stages: []float64{100}})
	require.NoError(t, err)
	require.True(t, o.Yields, "neighbours lift a bolt above its own target")
	require.Contains(t, o.Sentence, "yields")
}

// What is not given is estimated, and said so.
func TestEstimatesAreSaid(t *testing.T) {
	j, err := lab.Of(lab.Setup{Bolts: 8, Thread: "M20", Gasket: "spiral", TargetKN: 80})
	require.NoError(t, err)
	require.Contains(t, j.Estimated, "bolt circle")
	require.Contains(t, j.Estimated, "thickness of the gasket")
	require.InDelta(t, 26, j.Setup.ThicknessMM, .1)
	require.Equal(t, "8 bolts M20 with spiral-wound gasket, 4.5 mm, aiming at 80 kN", j.Sentence())
	require.NotContains(t, joint(t, nil).Estimated, "bolt circle")
	for _, law := range lab.Laws {
		_, err := joint(t, func(s *lab.Setup) { s.Gasket, s.GasketMM = law.Code, law.MM }).Play(ctx, crossed)
		require.NoError(t, err, law.Code)
	}
}

func TestWhatCannotBeIsRefused(t *testing.T) {
	for field, change := range map[string]func(*lab.Setup){"thread": func(s *lab.Setup) { s.Thread = "M" },
		"bolts": func(s *lab.Setup) { s.Bolts = 2 }, "gasket": func(s *lab.Setup) { s.Gasket = "rope" },
		"targetKn": func(s *lab.Setup) { s.TargetKN = 300 }, "boltCircleMm": func(s *lab.Setup) { s.BoltCircleMM = 900 },
		"boreMm": func(s *lab.Setup) { s.BoreMM = 500 }} {
		s := sixteen()
		change(&s)
		_, err := lab.Of(s)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, "%s: %v", field, err)
		require.Equal(t, field, r.Field)
	}
	for field, p := range map[string]lab.Procedure{"stages": {School: "cross"}, "school": {School: "star", Stages: []float64{100}},
		"tools": {School: "cross", Stages: []float64{100}, Tools: 3}, "rounds": {School: "cross", Stages: []float64{100}, Rounds: 21},
		"own": {School: "own", Stages: []float64{100}, Own: []int{1, 2, 2}}} {
		_, err := joint(t, nil).Play(ctx, p)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, "%s: %v", field, err)
		require.Equal(t, field, r.Field)
	}
	_, err := joint(t, nil).Play(ctx, lab.Procedure{School: "cross", Stages: []float64{60, 60}})
	require.ErrorContains(t, err, "must rise")
}

// Draws are the same however they are dealt out; with less spread more joints end inside.
func TestDrawsSayHowLikely(t *testing.T) {
	j := joint(t, func(s *lab.Setup) { s.CurvePct = 10 })
	all, err := j.Draw(ctx, crossed, 7, 0, 12)
	require.NoError(t, err)
	first, err := j.Draw(ctx, crossed, 7, 0, 5)
	require.NoError(t, err)
	rest, err := j.Draw(ctx, crossed, 7, 5, 7)
	require.NoError(t, err)
	require.Equal(t, j.Sum([]*lab.Draws{all}, 20), j.Sum([]*lab.Draws{first, rest}, 20))
	c := j.Sum([]*lab.Draws{all}, 20)
	require.Equal(t, 12, c.N)
	for _, b := range c.Band {
		require.LessOrEqual(t, b[0], b[1])
		require.LessOrEqual(t, b[1], b[2])
	}
	calm := joint(t, func(s *lab.Setup) { s.FrictionPct, s.ToolPct = 0, 0 })
	none, err := calm.Draw(ctx, crossed, 7, 0, 3)
	require.NoError(t, err)
	require.Equal(t, none.Forces[0], none.Forces[2])
	require.GreaterOrEqual(t, calm.Sum([]*lab.Draws{none}, 60).Inside, c.Inside)
	stopped, cancel := context.WithCancel(ctx)
	cancel()
	_, err = j.Draw(stopped, crossed, 7, 0, 3)
	require.ErrorIs(t, err, context.Canceled)
}

// What would make it better is told with its cost; tensioning all at once leaves all bolts alike.
func TestWhatBuysMost(t *testing.T) {
	j := joint(t, func(s *lab.Setup) { s.Bolts, s.BoltCircleMM, s.BoreMM, s.OutsideMM = 8, 300, 190, 360 })
	list, err := j.Buys(ctx, crossed, 3, 6, 15)
	require.NoError(t, err)
	require.Equal(t, "as it is", list[0].What)
	require.Len(t, list, 6)
	for i := 2; i < len(list); i++ {
		require.LessOrEqual(t, list[i].Inside, list[i-1].Inside)
	}
	at := slices.IndexFunc(list, func(b lab.Buy) bool { return b.What == "one more round" })
	require.Equal(t, 8, list[at].Pulls)
	require.Positive(t, list[at].Minutes)
}

// The advice is even enough with the least work, or says that nothing was.
func TestAdvice(t *testing.T) {
	j := joint(t, func(s *lab.Setup) { s.Bolts, s.BoltCircleMM, s.BoreMM, s.OutsideMM = 8, 300, 190, 360 })
	a, err := j.Advise(ctx, 90, 1)
	require.NoError(t, err)
	require.True(t, a.Enough)
	require.GreaterOrEqual(t, a.Even, 90.)
	o, err := j.Play(ctx, a.Procedure)
	require.NoError(t, err)
	require.Equal(t, a.Pulls, o.Pulls)
	a, err = j.Advise(ctx, 101, 1)
	require.NoError(t, err)
	require.False(t, a.Enough)
}

// Compensated targets leave all bolts alike with the gasket as it is, and not with another.
func TestCompensatedTargetsAreSensitive(t *testing.T) {
	j := joint(t, func(s *lab.Setup) { s.Bolts, s.BoltCircleMM, s.BoreMM, s.OutsideMM = 8, 300, 190, 360 })
	c, err := j.Compensate(ctx, lab.Procedure{School: "cross", Stages: []float64{50, 100}}, nil)
	require.NoError(t, err)
	require.Greater(t, c.Even, 99.)
	require.Less(t, min(c.Softer, c.Stiffer), c.Even-1)
	require.Greater(t, c.Ratio, 1.)
	require.Len(t, c.Procedure.Targets, 8)
	require.Contains(t, c.Procedure.Word(), "compensated")
}

func locked(t testing.TB) *lab.Joint {
	return joint(t, func(s *lab.Setup) {
		*s = lab.Setup{
			Bolts:        10,
			Thread:       "M8",
			Gasket:       "taper",
			TargetKN:     20,
			BoltCircleMM: 144,
			BoreMM:       112,
			OutsideMM:    175,
			ThicknessMM:  14,
			Taper:        &lab.Taper{Deg: 5, Friction: .24, MM: 116, ContactMM: 14},
		}
	})
}

// The taper's stiffness is Lamé's, and two rings want many small turns: that is what leaves them parallel.
func TestShaftLockWantsSmallTurns(t *testing.T) {
	j := locked(t)
	g := j.Model.Gasket
	require.InEpsilon(t, 1.98e8, g.Points[0][1]/g.Points[0][0]*(g.ROut-g.RIn), .005)
	require.InDelta(t, .058, (g.RIn+g.ROut)/2, 1e-9)
	require.InEpsilon(t, 50*g.Points[0][1]/g.Points[0][0], g.Ku0, 1e-9)
	once, err := j.Play(ctx, lab.Procedure{School: "clockwise", Stages: []float64{100}, Rounds: 1})
	require.NoError(t, err)
	turns, err := j.Play(ctx, lab.Procedure{School: "clockwise", Stages: []float64{100}, Rounds: 7, TurnDeg: 90})
	require.NoError(t, err)
	require.Greater(t, once.TiltMM, 1.)
	require.Less(t, turns.TiltMM, once.TiltMM/5)
	require.Equal(t, "Clockwise, 100, then 7 rounds, 90° a pull", turns.Word)
	require.Contains(t, turns.Sentence, "not computed")
	require.InDelta(t, turns.TiltMM, turns.TiltMMs[len(turns.TiltMMs)-1], 2e-4)
	for i, s := range turns.Steps {
		require.LessOrEqual(t, s.Angle[0], 90.0001, "pull %d", i+1)
	}
}

// A hollow shaft gives way, and a taper that cannot be is refused by its field.
func TestTaperIsChecked(t *testing.T) {
	hollow := locked(t)
	s := hollow.Setup
	s.Taper.InnerMM = 90
	soft, err := lab.Of(s)
	require.NoError(t, err)
	require.Less(t, soft.Model.Gasket.Points[0][1], locked(t).Model.Gasket.Points[0][1])
	for field, change := range map[string]func(*lab.Taper){
		"taper.deg":       func(x *lab.Taper) { x.Deg = 31 },
		"taper.friction":  func(x *lab.Taper) { x.Friction = 1.1 },
		"taper.mm":        func(x *lab.Taper) { x.MM = 150 },
		"taper.contactMm": func(x *lab.Taper) { x.ContactMM = -1 },
		"taper.innerMm":   func(x *lab.Taper) { x.InnerMM = 116 },
	} {
		s := locked(t).Setup
		change(s.Taper)
		_, err := lab.Of(s)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, field)
		require.Equal(t, field, r.Field)
	}
	plain, err := lab.Of(lab.Setup{Bolts: 10, Thread: "M8", Gasket: "taper", TargetKN: 20})
	require.NoError(t, err)
	require.Contains(t, plain.Estimated, "slope of the taper")
	require.Positive(t, plain.Setup.Taper.MM)
}

// Compensated targets come as percents in the order of the bolts, and tell whether the joint is planned that way.
func TestCompensatedTargetsForAPlan(t *testing.T) {
	j := joint(t, func(s *lab.Setup) { s.Bolts, s.Thread, s.BoltCircleMM, s.BoreMM, s.OutsideMM = 8, "M20", 240, 150, 285 })
	planned := lab.Procedure{School: "cross", Stages: []float64{30, 70, 100}, Rounds: 1}
	c, err := j.Compensate(ctx, planned, &planned)
	require.NoError(t, err)
	require.True(t, c.AsPlanned)
	require.Len(t, c.Percents, 8)
	for i, pct := range c.Percents {
		require.InDelta(t, c.Procedure.Targets[fmt.Sprint(i+1)], pct*j.Setup.TargetKN/100, .1)
	}
	require.InDelta(t, 100*c.Ratio, slices.Max(c.Percents), .1)
	require.Greater(t, c.Even, 99.)
	other := planned
	other.Stages = []float64{50, 100}
	c, err = j.Compensate(ctx, planned, &other)
	require.NoError(t, err)
	require.False(t, c.AsPlanned)
	c, err = j.Compensate(ctx, planned, nil)
	require.NoError(t, err)
	require.False(t, c.AsPlanned)
}

// A raised face bounds the gasket, and bare faces are stiffer than any gasket.
func TestFacesBoundTheContact(t *testing.T) {
	whole := joint(t, nil).Model.Gasket
	faced := joint(t, func(s *lab.Setup) { s.FaceMM = 460 }).Model.Gasket
	require.InDelta(t, .23, faced.ROut, 1e-9)
	require.Greater(t, whole.ROut, faced.ROut)
	bare := joint(t, func(s *lab.Setup) { s.Gasket = "face" })
	require.Zero(t, bare.Setup.GasketMM)
	require.InDelta(t, 1e13, bare.Model.Gasket.K, 0)
	a, err := bare.Play(ctx, crossed)
	require.NoError(t, err)
	b, err := joint(t, nil).Play(ctx, crossed)
	require.NoError(t, err)
	require.Greater(t, a.Even, b.Even)
}

// A size of the table brings what it is drilled for; what the table does not hold is estimated anew.
func TestFlangeBySize(t *testing.T) {
	for text, bore := range map[string]float64{"DN 400 PN 16": 400, "6 in class 300": 152, "1 1/2 in class 150": 38,
		"1/2 in class 300": 13} {
		size, ok := fastener.ReadFlangeSize(text)
		require.True(t, ok, text)
		s := sixteen()
		s.Tag = "SW-101"
		s = s.Sized(size)
		require.Equal(t, []any{"", size.Text, size.Bolts, size.Thread, size.BoltCircleMM, size.RaisedFaceMM, bore},
			[]any{s.Tag, s.Flange, s.Bolts, s.Thread, s.BoltCircleMM, s.FaceMM, s.BoreMM}, text)
		require.Zero(t, s.YieldKN, "of another bolt")
		s.TargetKN = 10
		j, err := lab.Of(s)
		require.NoError(t, err, text)
		require.Contains(t, j.Estimated, "thickness")
		require.NotContains(t, j.Estimated, "bolt circle")
	}
	for _, f := range fastener.FlangeSizes() {
		s := sixteen().Sized(f)
		s.TargetKN = 10
		_, err := lab.Of(s)
		require.NoError(t, err, f.Text)
	}
}
