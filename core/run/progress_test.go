package run_test

import (
	"encoding/json"
	"math/rand/v2"
	"regexp"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

func text(t *testing.T, v any) string {
	t.Helper()
	b, err := json.Marshal(v)
	require.NoError(t, err)
	return string(b)
}

// openFact is a fact that a wording names and nobody gave.
var openFact = regexp.MustCompile(`\{[A-Za-z]+\}`)

// glance is what a glance tells of a state.
func glance(s *run.State) run.Glance {
	g := run.Glance{Station: s.Station, Glyph: s.Glyph, Verdict: s.Verdict.Code, Blocked: slices.Clone(s.Blocked),
		Pass: s.Pass, Passes: len(s.Passes)}
	for _, r := range s.Rows {
		if r.Station == procedure.Ready {
			g.Cleared, g.Checks = g.Cleared+r.Cleared, g.Checks+r.Total
		}
	}
	if len(g.Blocked) == 0 {
		g.Blocked = nil
	}
	if s.Next != nil {
		g.Next = s.Next.Fastener
	}
	return g
}

// Applying events one by one gives at every step what going through all of them gives, however the work goes, in every
// family; looking at it, and asking what one more event would do, changes nothing.
func TestProgressIsWhatFoldingEverythingGives(t *testing.T) {
	for _, f := range procedure.Builtin() {
		t.Run(f.Code, func(t *testing.T) {
			t.Parallel()
			for seed := range uint64(1) {
				p, err := plan.Make(sampleOf(f, nil))
				require.NoError(t, err)
				s := coretest.NewScript(p)
				coretest.Wild(s, rand.New(rand.NewPCG(seed, 5)), 90)
				g := run.NewProgress(p)
				for i, e := range s.Events {
					now := e.At.Add(time.Duration(i%3) * time.Hour)
					if i%4 == 0 {
						require.Equal(t, text(t, run.Fold(p, s.Events[:i+1], now)), text(t, g.With(e, now)),
							"with event %d, %s", i, e.Kind)
					}
					g.Apply(e)
					state := text(t, g.State(now))
					require.Equal(t, text(t, run.Fold(p, s.Events[:i+1], now)), state, "after event %d, %s", i, e.Kind)
					require.Equal(t, glance(g.State(now)), g.Glance(now), "at a glance after event %d", i)
					require.NotRegexp(t, openFact, state, "a fact of some wording was not given")
				}
			}
		})
	}
}

// A take-back may name an event that has not come yet, another take-back, or a signature.
func TestProgressTakesBackInAnyOrder(t *testing.T) {
	s := ready(t)
	s.Pull()
	s.Pull()
	pulls := s.Events[len(s.Events)-2:]
	back := s.Add(run.Event{Kind: run.TakenBack, Ref: pulls[0].ID, Reason: "wrong bolt"})
	s.Add(run.Event{Kind: run.TakenBack, Ref: back.ID, Reason: "no"})
	s.Add(run.Event{Kind: run.TakenBack, Ref: pulls[0].ID, Reason: "twice"})
	s.Add(run.Event{Kind: run.TakenBack, Ref: "0199aaaa-0000-7000-8000-000000000099", Reason: "not here yet"})
	late := s.Add(run.Event{Kind: run.Noted, Note: "late"})
	s.Events[len(s.Events)-1].ID = "0199aaaa-0000-7000-8000-000000000099"
	g := run.NewProgress(s.Plan)
	for i, e := range s.Events {
		g.Apply(e)
		require.Equal(t, text(t, run.Fold(s.Plan, s.Events[:i+1], late.At)), text(t, g.State(late.At)), "event %d", i)
	}
	require.ElementsMatch(t, []string{pulls[0].ID, "0199aaaa-0000-7000-8000-000000000099"}, g.State(late.At).TakenBack)
}

// What was given away is the caller's: changing it changes nothing in the progress.
func TestStateOfAProgressBelongsToTheCaller(t *testing.T) {
	s := ready(t)
	s.Tighten()
	g := run.NewProgress(s.Plan)
	for _, e := range s.Events {
		g.Apply(e)
	}
	want := text(t, g.State(s.At))
	mine := g.State(s.At)
	mine.Passes[0].NotRight = append(mine.Passes[0].NotRight, "x")
	mine.Checks[0].Status, mine.Fasteners[0].State = run.CheckStopped, "over"
	mine.Deviations = append(mine.Deviations, run.Deviation{})
	require.Equal(t, want, text(t, g.State(s.At)))
}
