package app_test

import (
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/plan"
	"dynacor/core/run"
	"dynacor/core/shutdown"
	"dynacor/core/training"
	"dynacor/internal/app"
)

// ruled makes the site's rule about training what is given.
func ruled(t *testing.T, b *bench, policy training.Policy) {
	t.Helper()
	lib, err := b.HouseRules(ctx)
	require.NoError(t, err)
	r := lib.Versions[0].Rules
	r.Training = string(policy)
	_, err = b.PutHouseRules(ctx, b.crew["J. Hartwell"], app.HouseRulesInput{Rules: r, Reason: "training"})
	require.NoError(t, err)
}

// Somebody without training is told of at Ready, or can take no tool and is not planned, as the house rules say; a kind
// of tool that nobody was ever trained for is not asked for.
func TestTrainingIsAskedForAsTheRulesSay(t *testing.T) {
	b := newBench(t, true)
	tolley, quaye := b.crew["M. Tolley"], b.crew["I. Quaye"]
	open := func(tag string) app.RunView {
		d, err := b.Joint(ctx, tag)
		require.NoError(t, err)
		v, err := b.StartRun(ctx, tolley, tag, plan.Pick(plan.GroupChoices{Wrench: d.Plan.ChoicesOf(d.Plan.First()).Wrench}), "")
		require.NoError(t, err)
		return v
	}
	told := func(v app.RunView, who app.Actor) string {
		n := slices.IndexFunc(v.Untrained, func(u app.Untrained) bool { return u.PersonID == who.ID })
		if n < 0 {
			return ""
		}
		return v.Untrained[n].Says
	}
	first := open("SW-116")
	require.Empty(t, first.Untrained, "nothing was written down for anybody")

	kind := string(first.Plan.First().InHand().String[0].Kind)
	err := b.ChangeMember(ctx, quaye.ID, app.MemberChange{Training: &app.Training{About: "tool", Code: kind,
		Until: b.now.AddDate(0, 1, 0).Format(time.DateOnly), Note: "certificate 41"}})
	require.NoError(t, err)
	warned, err := b.Run(ctx, first.ID)
	require.NoError(t, err)
	require.Contains(t, told(warned, tolley), "M. Tolley has no training written down for")
	require.Empty(t, told(warned, quaye))
	require.False(t, warned.Untrained[0].Blocks)
	require.Empty(t, takes(t, b, warned, tolley), "only said")

	ruled(t, b, training.Block)
	second := open("SW-119")
	require.Contains(t, told(second, tolley), "M. Tolley")
	require.True(t, second.Untrained[0].Blocks)
	require.Contains(t, takes(t, b, second, tolley), "M. Tolley has no training written down for")
	require.Empty(t, takes(t, b, second, quaye))
	p, err := b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	kinds := map[string]string{}
	tools, err := b.Crib(ctx)
	require.NoError(t, err)
	for _, x := range tools.Tools {
		kinds[x.Tool.Tag] = string(x.Tool.Kind)
	}
	for _, x := range p.Activities {
		if x.Kind == shutdown.Tighten && !x.Begun && slices.ContainsFunc(x.Tools, func(tag string) bool { return kinds[tag] == kind }) {
			require.NotContains(t, x.People, "M. Tolley", x.Tag)
		}
	}

	ruled(t, b, training.Off)
	third := open("SW-120")
	require.Empty(t, third.Untrained)
	require.Empty(t, takes(t, b, third, tolley))
}

// takes lets somebody take the tools of a run, and gives back why not.
func takes(t *testing.T, b *bench, v app.RunView, who app.Actor) string {
	t.Helper()
	set := *v.Plan.First().InHand()
	e := run.Event{ID: uuid.Must(uuid.NewV7()).String(), Kind: run.WrenchTaken, At: b.now, Person: who.Person, Wrench: &set.String[0], SetUp: &set}
	out, err := b.AppendEvents(ctx, who, v.ID, []run.Event{e})
	require.NoError(t, err)
	return out.Acks[0].Refused
}
