package app_test

import (
	"bytes"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/report"
)

// apart begins to take a joint of the made-up site apart.
func (b *bench) apart(t *testing.T, tag string) *crewman {
	t.Helper()
	who := b.crew["M. Tolley"]
	v, err := b.TakeApart(ctx, who, tag, "gasket changed")
	require.NoError(t, err, tag)
	require.True(t, v.Plan.Apart())
	c := &crewman{b: b, who: who, id: v.ID, s: coretest.NewScript(v.Plan), sent: 1}
	c.s.Person, c.s.At = who.Person, b.now.Add(-20*time.Hour)
	c.s.Events = append(c.s.Events, v.Entries[0].Event)
	return c
}

// turnDown gives up what is under way and seals its record.
func (b *bench) turnDown(t *testing.T, id string) {
	t.Helper()
	in := b.signature(t, "R. Abara", id, run.SignTurnedDown, "")
	in.Reason = "gasket crushed"
	_, err := b.Sign(ctx, b.crew["M. Tolley"], id, in)
	require.NoError(t, err)
	_, err = b.Seal(ctx, id)
	require.NoError(t, err)
}

// A joint of every family comes apart at the made-up site, from new and from sealed, with a record of its own; then it
// stands ready to be fitted, by the plan for fitting.
func TestEveryFamilyComesApartAtTheDemoSite(t *testing.T) {
	b := newBench(t, true)
	page, err := b.Joints(ctx, app.JointQuery{Limit: 500})
	require.NoError(t, err)
	seen := map[string]bool{}
	for _, j := range page.Rows {
		d, err := b.Joint(ctx, j.Tag)
		require.NoError(t, err)
		if seen[j.Family] || d.Plan == nil {
			continue
		}
		seen[j.Family] = true
		t.Run(j.Tag+" "+j.Family, func(t *testing.T) {
			if d.RunID != "" && j.Station != string(procedure.Sealed) {
				b.turnDown(t, d.RunID)
			}
			c := b.apart(t, j.Tag).work(t)
			c.sign(t, "M. Tolley", run.SignTightened, "")
			row, err := b.Seal(ctx, c.id)
			require.NoError(t, err)
			require.Equal(t, "taken apart", row.Target)
			raw, err := b.RecordFile(ctx, row.Number)
			require.NoError(t, err)
			require.Empty(t, record.Verify(raw, nil).Problems)
			view, err := b.Record(ctx, row.Number)
			require.NoError(t, err)
			var pdf bytes.Buffer
			require.NoError(t, report.Certificate(&pdf, report.Sealed{Record: view.Record, Mark: view.Row.Mark,
				KeyID: view.KeyID, SealedAt: view.Row.SealedAt}))
			text := printed(t, pdf.Bytes())
			require.Contains(t, text, "Taken apart")
			require.NotContains(t, text, "Proved, signed")
			require.NotContains(t, text, "Aim at the nut")
			require.Contains(t, text, "Left, about")
			after, err := b.Joint(ctx, j.Tag)
			require.NoError(t, err)
			require.Equal(t, "ready", after.Joint.Glyph, "it is not accepted any more")
			require.Equal(t, "taken apart, record "+row.Number, after.Joint.Summary)
			if d.Saved != nil {
				require.Equal(t, d.Saved.Version, after.Saved.Version, "the plan for fitting stays the one in force")
			}
			again, err := b.WorkAgain(ctx, b.crew["M. Tolley"], j.Tag, plan.Choices{}, "", "fitted again")
			require.NoError(t, err)
			require.False(t, again.Plan.Apart())
			require.Equal(t, row.Number, again.State.Follows)
			for _, r := range view.Record.State.Replace {
				require.Contains(t, again.State.Fresh, r.What, "what was thrown away must be there anew")
			}
		})
	}
	require.Len(t, seen, len(procedure.Builtin()))
}

// What is under way is ended first, and nobody takes a joint apart without saying why.
func TestTakingApartBegins(t *testing.T) {
	b := newBench(t, true)
	tolley := b.crew["M. Tolley"]
	_, err := b.TakeApart(ctx, tolley, "SW-111", " ")
	require.Equal(t, "again", problem(t, err, app.Invalid, "why").Field)
	_, err = b.TakeApart(ctx, tolley, "XX-1", "leaks")
	problem(t, err, app.NotFound, "XX-1")
	c := b.begin(t, "SW-112")
	_, err = b.TakeApart(ctx, tolley, "SW-112", "leaks")
	problem(t, err, app.Conflict, "in hand already")
	b.turnDown(t, c.id)
	v, err := b.TakeApart(ctx, tolley, "SW-112", "gasket crushed")
	require.NoError(t, err)
	require.Equal(t, "gasket crushed", v.State.FollowsWhy)
	// a plan kept meanwhile is for the next fitting
	d, err := b.SavePlan(ctx, b.crew["J. Hartwell"], "SW-112", plan.Pick(plan.GroupChoices{Scheme: "thirds"}), "softer gasket")
	require.NoError(t, err)
	require.NotNil(t, d.Saved)
	v, err = b.Run(ctx, v.ID)
	require.NoError(t, err)
	require.True(t, v.Plan.Apart())
}
