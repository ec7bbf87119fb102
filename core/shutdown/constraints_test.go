package shutdown_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/schedule"
	"dynacor/core/shutdown"
)

var seven = time.Date(2026, 12, 1, 7, 0, 0, 0, time.UTC)

func known() shutdown.Known {
	return shutdown.Known{Tags: []string{"SW-111", "SW-112", "SW-113"}, Areas: []string{"Hall"},
		People: []string{"Tolley", "Abara"}, Skills: []string{"confined spaces"}}
}

// joint is what holds for a joint, with the usual weight.
func joint(tag string, change func(*shutdown.JointConstraint)) shutdown.JointConstraint {
	j := shutdown.JointConstraint{Tag: tag, Weight: 1}
	change(&j)
	return j
}

func loop(windows ...shutdown.Span) shutdown.Isolation {
	return shutdown.Isolation{Code: "I-2", Name: "loop 2", Windows: windows}
}

// What cannot be meant is refused, naming the field.
func TestConstraintsThatCannotBeMeantAreRefused(t *testing.T) {
	whole := shutdown.Span{From: "2026-12-01T07:00", To: "2026-12-01T12:00"}
	good := func() shutdown.Constraints {
		return shutdown.Constraints{
			Joints: []shutdown.JointConstraint{joint("SW-111", func(*shutdown.JointConstraint) {}),
				joint("SW-112", func(j *shutdown.JointConstraint) { j.After, j.Isolation = []string{"SW-111"}, "I-2" })},
			Isolations: []shutdown.Isolation{loop(whole)},
			Areas:      []shutdown.AreaConstraint{{Area: "Hall", Crews: 2}},
			Away:       []shutdown.Away{{Person: "Tolley", From: whole.From, To: whole.To, Why: "course"}},
			Pins:       []shutdown.Pin{{Tag: "SW-111", Kind: shutdown.Tighten, Person: "Tolley"}},
			Crews: []shutdown.Crew{{Name: "late", Shift: shutdown.Shift{From: "14:00", To: "22:00"}, People: []string{"Tolley"}},
				{Name: "night", Shift: shutdown.Shift{From: "22:00", To: "06:00"}, People: []string{"Abara"}}},
		}
	}
	require.NoError(t, good().Check(known()))
	require.NoError(t, shutdown.Empty().Check(known()))
	for field, change := range map[string]func(*shutdown.Constraints){
		"joints.SW-9":          func(c *shutdown.Constraints) { c.Joints[0].Tag = "SW-9" },
		"joints.SW-112":        func(c *shutdown.Constraints) { c.Joints[0].Tag = "SW-112" },
		"joints.SW-111.weight": func(c *shutdown.Constraints) { c.Joints[0].Weight = 0 },
		"joints.SW-112.weight": func(c *shutdown.Constraints) { c.Joints[1].Weight = shutdown.MostWeight + 1 },
		"joints.SW-111.wait":   func(c *shutdown.Constraints) { c.Joints[0].Wait = -1 },
		"joints.SW-112.wait":   func(c *shutdown.Constraints) { c.Joints[1].Wait = shutdown.MostWait + 1 },
		"crews.1.name":         func(c *shutdown.Constraints) { c.Crews[0].Name = " " },
		"crews.2.name":         func(c *shutdown.Constraints) { c.Crews[1].Name = "late" },
		"crews.1.people":       func(c *shutdown.Constraints) { c.Crews[0].People = nil },
		"crews.2.people":       func(c *shutdown.Constraints) { c.Crews[1].People = []string{"Tolley"} },
		"crews.2.from":         func(c *shutdown.Constraints) { c.Crews[1].Shift.From = "ten" },
		"crews.2.to":           func(c *shutdown.Constraints) { c.Crews[1].Shift.From = "15:00" },
		"joints.SW-111.due":    func(c *shutdown.Constraints) { c.Joints[0].Due = "noon" },
		"joints.SW-112.due":    func(c *shutdown.Constraints) { c.Joints[1].Due, c.Joints[1].NotBefore = whole.From, whole.From },
		"joints.SW-111.after":  func(c *shutdown.Constraints) { c.Joints[0].After = []string{"SW-112"} },
		"joints.SW-112.after":  func(c *shutdown.Constraints) { c.Joints[1].After = []string{"SW-112"} },
		"joints.SW-111.skills": func(c *shutdown.Constraints) { c.Joints[0].Skills = []string{"flying"} },
		"joints.SW-112.skills": func(c *shutdown.Constraints) {
			c.Joints[1].Skills = []string{"confined spaces", "confined spaces"}
		},
		"joints.SW-112.access":    func(c *shutdown.Constraints) { c.Joints[1].Access = string(make([]rune, 301)) },
		"isolations.1.code":       func(c *shutdown.Constraints) { c.Isolations[0].Code = " " },
		"isolations.2.code":       func(c *shutdown.Constraints) { c.Isolations = append(c.Isolations, loop(whole)) },
		"isolations.1.windows":    func(c *shutdown.Constraints) { c.Isolations[0].Windows = nil },
		"areas.Attic":             func(c *shutdown.Constraints) { c.Areas[0].Area = "Attic" },
		"areas.Hall.crews":        func(c *shutdown.Constraints) { c.Areas[0].Crews = 0 },
		"areas.Hall":              func(c *shutdown.Constraints) { c.Areas = append(c.Areas, c.Areas[0]) },
		"away.1.person":           func(c *shutdown.Constraints) { c.Away[0].Person = "Nobody" },
		"away.1":                  func(c *shutdown.Constraints) { c.Away[0].To = c.Away[0].From },
		"pins.1":                  func(c *shutdown.Constraints) { c.Pins[0].Kind = "paint" },
		"pins.2":                  func(c *shutdown.Constraints) { c.Pins = append(c.Pins, c.Pins[0]) },
		"pins.1.person":           func(c *shutdown.Constraints) { c.Pins[0].Person = "Nobody" },
		"pins.1.start":            func(c *shutdown.Constraints) { c.Pins[0].Start = "early" },
		"joints.SW-112.isolation": func(c *shutdown.Constraints) { c.Joints[1].Isolation = "I-9" },
		"isolations.1.windows.2": func(c *shutdown.Constraints) {
			c.Isolations[0].Windows = append(c.Isolations[0].Windows, shutdown.Span{From: whole.From, To: whole.To})
		},
	} {
		c := good()
		change(&c)
		r, ok := quantity.RefusalIn(c.Check(known()))
		require.True(t, ok, field)
		require.Equal(t, field, r.Field)
	}
	c := good()
	c.Pins[0].Person = ""
	require.ErrorContains(t, c.Check(known()), "holds nothing")
}

// laid plans two joints under constraints.
func laid(t *testing.T, c shutdown.Constraints, begun *shutdown.Begun, now int) (*schedule.Answer, *schedule.Instance,
	map[string]schedule.Planned) {
	t.Helper()
	in, left := shutdown.Lay(shutdown.Facts{Begin: seven, Now: now, Horizon: 600, Joints: []shutdown.Joint{
		{Plan: made(t, "SW-111", nil), Begun: begun}, {Plan: made(t, "SW-112", nil)}}, People: crew(), Constraints: c})
	require.Empty(t, left)
	a := solved(t, in)
	by := map[string]schedule.Planned{}
	for _, x := range a.Activities {
		by[x.Activity] = x
	}
	return a, in, by
}

func TestConstraintsHoldInThePlan(t *testing.T) {
	at := func(clock string) shutdown.Span {
		return shutdown.Span{From: "2026-12-01T" + clock, To: "2026-12-01T17:00"}
	}
	c := shutdown.Empty()
	c.Joints = []shutdown.JointConstraint{
		joint("SW-111", func(j *shutdown.JointConstraint) { j.After, j.NotBefore = []string{"SW-112"}, "2026-12-01T07:20" }),
		joint("SW-112", func(j *shutdown.JointConstraint) { j.Isolation, j.Due, j.Weight = "I-2", "2026-12-01T09:00", 3 })}
	c.Isolations = []shutdown.Isolation{loop(at("08:00"))}
	c.Away = []shutdown.Away{{Person: "Abara", From: "2026-12-01T07:00", To: "2026-12-01T10:00"}}
	c.Areas = []shutdown.AreaConstraint{{Area: made(t, "SW-111", nil).Joint.Area, Crews: 1}}
	c.Pins = []shutdown.Pin{{Tag: "SW-112", Kind: shutdown.Tighten, Person: "Quaye"},
		{Tag: "SW-111", Kind: shutdown.Prepare, NotBefore: "2026-12-01T12:00"},
		{Tag: "SW-999", Kind: shutdown.Prepare, Start: "2026-12-01T12:00"}}
	a, in, by := laid(t, c, nil, 0)
	require.Empty(t, a.Unplaced)
	require.Equal(t, 60, by["SW-112 prepare"].Start, "when the isolation begins")
	require.GreaterOrEqual(t, by["SW-112 prove"].Start, 180, "the inspector is away until then")
	require.Contains(t, by["SW-112 tighten"].People, "Quaye")
	require.GreaterOrEqual(t, by["SW-111 prepare"].Start, max(300, by["SW-112 prove"].End))
	require.Len(t, in.Pins, 2, "a pin on what is not planned asks nothing")
	require.Equal(t, 1, *in.Areas[0].Places)
	require.Equal(t, 20, in.Jobs[0].Activities[0].Release)
	require.Equal(t, 3*(by["SW-112 prove"].End-120), a.Objective.Tardiness, "late since nine, each minute three times")
}

// Between the last pull and the proof passes as long as was asked for, by the clock, begun or not.
func TestProofWaits(t *testing.T) {
	c := shutdown.Empty()
	c.Joints = []shutdown.JointConstraint{joint("SW-111", func(j *shutdown.JointConstraint) { j.Wait = 95 })}
	lay := func(j shutdown.Joint) map[string]schedule.Planned {
		in, left := shutdown.Lay(shutdown.Facts{Begin: seven, Now: 30, Horizon: 600, People: crew(), Constraints: c,
			Joints: []shutdown.Joint{j}})
		require.Empty(t, left)
		by := map[string]schedule.Planned{}
		for _, x := range solved(t, in).Activities {
			by[x.Activity] = x
		}
		return by
	}
	p := made(t, "SW-111", nil)
	by := lay(shutdown.Joint{Plan: p})
	require.Equal(t, by["SW-111 tighten"].End+95, by["SW-111 prove"].Start)
	by = lay(shutdown.Joint{Plan: p, Begun: &shutdown.Begun{At: shutdown.Prove, Minutes: 10, Idle: 40}})
	require.Equal(t, 30-40+95, by["SW-111 prove"].Start)
}

// A joint that comes after one that is not planned is not planned, and says after which.
func TestWhatComesAfterWhatIsLeftOutIsLeftOut(t *testing.T) {
	c := shutdown.Empty()
	c.Joints = []shutdown.JointConstraint{
		joint("SW-112", func(j *shutdown.JointConstraint) { j.After = []string{"SW-111"} }),
		joint("SW-113", func(j *shutdown.JointConstraint) { j.After = []string{"SW-112"} })}
	lacking := made(t, "SW-111", func(in *plan.Input) { in.Specification.Gasket = "" })
	lacking.ToBeSupplied = []string{"gasket"}
	in, left := shutdown.Lay(shutdown.Facts{Begin: seven, Horizon: 600, People: crew(), Constraints: c,
		Joints: []shutdown.Joint{{Plan: lacking}, {Plan: made(t, "SW-112", nil)}, {Plan: made(t, "SW-113", nil)}}})
	require.Empty(t, in.Jobs)
	require.Empty(t, in.Links)
	require.Empty(t, in.Apart)
	require.Equal(t, []shutdown.Left{{"SW-111", "to be supplied: gasket"},
		{"SW-112", "comes after SW-111, which is not planned"},
		{"SW-113", "comes after SW-112, which is not planned"}}, left)
}

// Of a joint under way only what is left is planned; who is at it goes on, and holds the tool until then.
func TestWhatIsBegunGoesOn(t *testing.T) {
	begun := &shutdown.Begun{At: shutdown.Tighten, Minutes: 40, People: []string{"Tolley"}, Tools: []string{"W-40", "S4-30"}}
	a, in, by := laid(t, shutdown.Empty(), begun, 90)
	require.Empty(t, a.Unplaced)
	require.NotContains(t, by, "SW-111 prepare")
	require.Equal(t, 90, by["SW-111 tighten"].Start)
	require.Equal(t, 130, by["SW-111 tighten"].End)
	require.Equal(t, []string{"Tolley"}, by["SW-111 tighten"].People)
	require.GreaterOrEqual(t, by["SW-111 prove"].Start, 130)
	for id, x := range by {
		require.GreaterOrEqual(t, x.Start, 90, id)
		if id != "SW-111 tighten" && x.Start < 130 {
			require.NotContains(t, x.People, "Tolley", id)
			require.NotContains(t, x.Tools, "W-40", id)
		}
	}
	require.Len(t, in.Begun, 1)

	// nobody who is at it is at work now: the rest is planned like any other work
	away := shutdown.Empty()
	away.Away = []shutdown.Away{{Person: "Tolley", From: "2026-12-01T08:00", To: "2026-12-01T12:00"}}
	_, in, by = laid(t, away, begun, 90)
	require.Empty(t, in.Begun)
	require.Equal(t, 40, by["SW-111 tighten"].End-by["SW-111 tighten"].Start)

	// the plan begins later: what is left by now is planned like any other work
	_, in, _ = laid(t, shutdown.Empty(), begun, -1)
	require.Empty(t, in.Begun)
	require.Zero(t, in.Now)

	// over a time when they are away the rest waits
	gone := shutdown.Empty()
	gone.Away = []shutdown.Away{{Person: "Tolley", From: "2026-12-01T08:50", To: "2026-12-01T09:20"}}
	_, _, by = laid(t, gone, begun, 90)
	require.Equal(t, 160, by["SW-111 tighten"].End)
}

// Nobody and no tool goes on at two joints: the one that was touched last is in hand, the rest of the other is planned.
func TestOneJointIsInHand(t *testing.T) {
	lay := func(first, second shutdown.Begun) []string {
		in, left := shutdown.Lay(shutdown.Facts{Begin: seven, Now: 90, Horizon: 600, People: crew(),
			Joints: []shutdown.Joint{{Plan: made(t, "SW-111", nil), Begun: &first}, {Plan: made(t, "SW-112", nil), Begun: &second}}})
		require.Empty(t, left)
		require.Empty(t, solved(t, in).Unplaced)
		var out []string
		for _, b := range in.Begun {
			out = append(out, b.Activity)
		}
		return out
	}
	begun := func(idle int, who, tool string) shutdown.Begun {
		return shutdown.Begun{At: shutdown.Tighten, Minutes: 40, Idle: idle, People: []string{who}, Tools: []string{tool}}
	}
	require.Equal(t, []string{"SW-112 tighten"}, lay(begun(9, "Tolley", "W-40"), begun(8, "Tolley", "W-41")))
	require.Equal(t, []string{"SW-111 tighten"}, lay(begun(3, "Tolley", "W-40"), begun(8, "Quaye", "W-40")))
	require.Equal(t, []string{"SW-111 tighten", "SW-112 tighten"}, lay(begun(3, "Tolley", "W-40"), begun(60, "Quaye", "W-41")))
	require.Equal(t, []string{"SW-111 tighten"}, lay(begun(3, "Tolley", "W-40"), begun(61, "Quaye", "W-41")))
}

func TestStandOfARun(t *testing.T) {
	p := made(t, "SW-111", nil)
	workers := []run.Person{{ID: "Tolley"}}
	s := &run.State{Station: procedure.Tighten, TotalMin: 12.2, Workers: workers, Wrench: &p.First().InHand().String[0]}
	b, why := shutdown.Stands(p, s, "Quaye")
	require.Empty(t, why)
	require.Equal(t, &shutdown.Begun{At: shutdown.Tighten, Minutes: 13, People: []string{"Tolley"}, Tools: []string{"W-40"}}, b)

	s.Blocked = []string{"The paste is the wrong one."}
	b, why = shutdown.Stands(p, s, "Quaye")
	require.Nil(t, b)
	require.Equal(t, "stopped: The paste is the wrong one.", why)

	s = &run.State{Station: procedure.Ready}
	b, _ = shutdown.Stands(p, s, "Quaye")
	require.Equal(t, shutdown.Prepare, b.At)
	require.Equal(t, []string{"Quaye"}, b.People)
	all := b.Minutes
	lubricate := 0
	for _, c := range p.Checks {
		if c.Station == procedure.Ready && c.Kind != procedure.Lubricant && c.LifeMinutes == 0 {
			s.Checks = append(s.Checks, run.CheckState{Code: c.Code, Status: run.CheckCleared})
			if len(s.Checks) == 1 {
				one, _ := shutdown.Stands(p, s, "Quaye")
				require.Less(t, one.Minutes, all)
			}
		} else if c.Station == procedure.Ready {
			lubricate++
		}
	}
	require.Positive(t, lubricate)
	b, _ = shutdown.Stands(p, s, "Quaye")
	require.Equal(t, shutdown.Lubricate, b.At)
	for _, c := range p.Checks {
		s.Checks = append(s.Checks, run.CheckState{Code: c.Code, Status: run.CheckCleared})
	}
	b, _ = shutdown.Stands(p, s, "Quaye")
	require.Equal(t, shutdown.Tighten, b.At)

	b, _ = shutdown.Stands(p, &run.State{Station: procedure.Prove, Workers: workers}, "Quaye")
	require.Equal(t, shutdown.Prove, b.At)
	require.Empty(t, b.People, "who tightened does not prove")
	_, why = shutdown.Stands(p, &run.State{Station: "hand_over"}, "")
	require.Equal(t, "to be handed over", why)
}

// A test comes after all of its joints; one with gas has its area to itself.
func TestTestComesAfterItsJoints(t *testing.T) {
	area := made(t, "SW-111", nil).Joint.Area
	lay := func(clears bool) (map[string]schedule.Planned, *schedule.Instance) {
		in, left := shutdown.Lay(shutdown.Facts{Begin: seven, Horizon: 600, People: crew(),
			Joints: []shutdown.Joint{{Plan: made(t, "SW-111", nil)}, {Plan: made(t, "SW-112", nil)}},
			Tests:  []shutdown.Test{{Tag: "T-1", Joints: []string{"SW-111"}, Areas: []string{area}, Minutes: 45, Clears: clears}}})
		require.Empty(t, left)
		by := map[string]schedule.Planned{}
		for _, x := range solved(t, in).Activities {
			by[x.Activity] = x
		}
		return by, in
	}
	by, in := lay(true)
	require.GreaterOrEqual(t, by["T-1 test"].Start, by["SW-111 prove"].End)
	require.Equal(t, 45, by["T-1 test"].End-by["T-1 test"].Start)
	require.Equal(t, shutdown.MostCrews, *in.Areas[0].Places)
	for id, x := range by {
		if id != "T-1 test" {
			require.True(t, x.End <= by["T-1 test"].Start || x.Start >= by["T-1 test"].End, "%s is in its zone", id)
		}
	}
	_, in = lay(false)
	require.Nil(t, in.Areas[0].Places)
	require.Nil(t, in.Jobs[2].Activities[0].At[0].Places)

	lacking := made(t, "SW-111", nil)
	lacking.ToBeSupplied = []string{"gasket"}
	in, left := shutdown.Lay(shutdown.Facts{Begin: seven, Horizon: 600, People: crew(),
		Joints: []shutdown.Joint{{Plan: lacking}}, Tests: []shutdown.Test{{Tag: "T-1", Joints: []string{"SW-111"}}}})
	require.Empty(t, in.Jobs)
	require.Equal(t, shutdown.Left{"T-1", "comes after SW-111, which is not planned"}, left[1])
}

// Where a method takes longer at a site than was estimated, what is done by it is planned longer; the rest is not.
func TestPaceOfTheSiteIsPlanned(t *testing.T) {
	lay := func(paces shutdown.Paces) map[shutdown.Kind]int {
		in, _ := shutdown.Lay(shutdown.Facts{Begin: seven, Horizon: 600, People: crew(), Paces: paces,
			Joints: []shutdown.Joint{{Plan: made(t, "SW-111", nil)}}})
		out := map[shutdown.Kind]int{}
		for _, a := range in.Jobs[0].Activities {
			_, k := shutdown.Of(a.ID)
			out[k] = a.Modes[0].Minutes
		}
		return out
	}
	family := made(t, "SW-111", nil).Family
	slow := func(m shutdown.Method) shutdown.Paces { return shutdown.Paces{family: {m: {C: 2}}} }
	plain := lay(nil)
	for m, longer := range map[shutdown.Method][]shutdown.Kind{shutdown.Pulls: {shutdown.Tighten},
		shutdown.Rounds: {shutdown.Prove}, shutdown.Checks: {shutdown.Prepare, shutdown.Lubricate, shutdown.Prove}} {
		for k, n := range lay(slow(m)) {
			switch {
			case !slices.Contains(longer, k):
				require.Equal(t, plain[k], n, "%s %s", m, k)
			case k == shutdown.Prove:
				require.Greater(t, n, plain[k], "%s %s", m, k)
			default:
				require.InDelta(t, 2*plain[k], n, 1, "%s %s", m, k)
			}
		}
	}
	require.Equal(t, plain, lay(shutdown.Paces{"another": {shutdown.Pulls: {C: 2}}}))
	for k, m := range map[shutdown.Kind]shutdown.Method{shutdown.Prepare: shutdown.Checks, shutdown.Tighten: shutdown.Pulls,
		shutdown.Prove: shutdown.Rounds} {
		got, ok := shutdown.MethodOf(k)
		require.True(t, ok)
		require.Equal(t, m, got)
		require.NotEmpty(t, m.Word())
	}
	_, ok := shutdown.MethodOf(shutdown.Witness)
	require.False(t, ok)
}
