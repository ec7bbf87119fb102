package app_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/internal/app"
)

// Each hand is told what waits for it: the inspector what to look at along the plant, the keeper of the crib what goes
// out and comes back, the lead what is behind, who is free and which tools are asked for twice.
func TestTodayForEachHand(t *testing.T) {
	b := newBench(t, true)
	quaye, abara, tolley := b.crew["I. Quaye"], b.crew["R. Abara"], b.crew["M. Tolley"]
	lists := func(who app.Actor) map[string][]app.HandLine {
		v, err := b.Today(ctx, who)
		require.NoError(t, err)
		out := map[string][]app.HandLine{}
		for _, l := range v.Hands {
			require.NotEmpty(t, l.Lines, l.Title)
			require.LessOrEqual(t, len(l.Lines), 6)
			out[l.Title] = l.Lines
		}
		return out
	}
	require.Empty(t, lists(tolley))
	eyes := lists(abara)["Waits for your eyes, along the plant"]
	require.NotEmpty(t, eyes)
	proves := 0
	for _, l := range eyes {
		require.NotEmpty(t, l.Joint)
		if l.Joint == "SW-117" {
			proves++
		}
	}
	require.Equal(t, 1, proves, "SW-117 is to prove")

	require.NoError(t, b.ChangeMember(ctx, tolley.ID, app.MemberChange{Roles: []string{authority.Technician, authority.ToolKeeper}}))
	keeper := tolley
	keeper.Role = authority.Technician + ", " + authority.ToolKeeper
	back := lists(keeper)["To come back"]
	require.Equal(t, "E-03", back[0].Tool)
	b.now = time.Date(2026, 12, 1, 6, 0, 0, 0, time.UTC)
	require.Empty(t, lists(keeper)["Going out next"], "no plan is in force that still runs")
	f, err := b.PutShiftInForce(ctx, quaye, shiftOf("WP-47"), 0)
	require.NoError(t, err)
	out := lists(keeper)["Going out next"]
	require.NotEmpty(t, out)
	require.True(t, out[0].At.After(b.now))
	require.Contains(t, lists(quaye)["Free hands by the plan, now"][0].Text, "M. Tolley", "it has not begun")
	b.now = f.Plan.Begin.Add(5 * time.Hour)
	require.NotEmpty(t, lists(quaye)["Behind the plan"])
}
