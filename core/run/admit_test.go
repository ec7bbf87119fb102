package run_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/run"
)

// What a plan does not have cannot have been done: such an event is refused, and the field named.
func TestEventFitsItsPlan(t *testing.T) {
	p, err := plan.Make(coretest.Input())
	require.NoError(t, err)
	n := p.Count()
	for _, c := range []struct {
		name, field string
		e           run.Event
	}{
		{"first bolt", "", run.Event{Kind: run.Pulled, Pass: 1, Fastener: 1}},
		{"last bolt", "", run.Event{Kind: run.Pulled, Pass: 1, Fastener: n}},
		{"a bolt past the last", "fastener", run.Event{Kind: run.Pulled, Pass: 1, Fastener: n + 1}},
		{"far past it", "fastener", run.Event{Kind: run.Pulled, Pass: 1, Fastener: 99}},
		{"loosened", "fastener", run.Event{Kind: run.Loosened, Pass: 1, Fastener: n + 1}},
		{"skipped", "fastener", run.Event{Kind: run.Skipped, Pass: 1, Fastener: n + 1}},
		{"a check of the plan", "", run.Event{Kind: run.CheckAnswered, Check: p.Checks[0].Code}},
		{"a check it has not", "check", run.Event{Kind: run.CheckAnswered, Check: "weather"}},
		{"raised on a check", "", run.Event{Kind: run.DeviationRaised, Check: p.Checks[0].Code}},
		{"raised on none", "", run.Event{Kind: run.DeviationRaised}},
		{"raised on a check it has not", "check", run.Event{Kind: run.DeviationRaised, Check: "weather"}},
		{"for the only group", "", run.Event{Kind: run.WrenchTaken, Group: p.First().Code}},
		{"for another", "group", run.Event{Kind: run.WrenchTaken, Group: "lid"}},
		{"the only tool", "", run.Event{Kind: run.SettingConfirmed}},
		{"a second tool where one pulls", "hand", run.Event{Kind: run.Pulled, Pass: 1, Fastener: 1, Hand: 1}},
	} {
		err := c.e.Fits(p)
		if c.field == "" {
			require.NoError(t, err, c.name)
			continue
		}
		var refused *quantity.Refusal
		require.ErrorAs(t, err, &refused, c.name)
		require.Equal(t, c.field, refused.Field, c.name)
		require.NotEmpty(t, refused.Remedy, c.name)
	}
	in := coretest.Input()
	in.Choices.Together = 2
	p, err = plan.Make(in)
	require.NoError(t, err)
	require.NoError(t, run.Event{Kind: run.Pulled, Pass: 1, Fastener: 1, Hand: 1}.Fits(p))
	require.Error(t, run.Event{Kind: run.Pulled, Pass: 1, Fastener: 1, Hand: 2}.Fits(p))
}
