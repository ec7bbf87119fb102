package app_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/life"
	"dynacor/core/plan"
	"dynacor/internal/app"
)

// A joint that wept and was made again tells so on one ruler, and which bolt stood out both times.
func TestLifeOfAJointThatWept(t *testing.T) {
	b := newBench(t, true)
	l, err := b.Life(ctx, "TB-206")
	require.NoError(t, err)
	require.Len(t, l.Runs, 2)
	require.Equal(t, "wept at its first start: new gasket", l.Runs[1].Why)
	lanes := map[life.Lane]int{}
	for _, m := range l.Marks {
		lanes[m.Lane]++
	}
	require.Equal(t, map[life.Lane]int{life.Plans: 1, life.Runs: 2, life.Records: 2, life.Service: 1}, lanes)
	var told []string
	for _, x := range l.Tells {
		told = append(told, x.Text)
	}
	require.Contains(t, told, "A test failed, or something was found in service, after run 1.")
	require.Contains(t, told, "Bolt 6 was the low one, or moved on, in runs 1 and 2: look at the face under it.")

	c, err := b.CompareRuns(ctx, "TB-206", l.Runs[1].ID, l.Runs[0].ID)
	require.NoError(t, err)
	require.Equal(t, life.Torque, c.Kind)
	require.InDelta(t, 329, *c.Pairs[5].A, 0.5, "the earlier one first")
	require.Equal(t, []string{"bolt 6"}, c.Repeats)
	_, err = b.CompareRuns(ctx, "TB-206", l.Runs[1].ID, "another")
	problem(t, err, app.NotFound, "another")
	_, err = b.CompareRuns(ctx, "XX-1", l.Runs[1].ID, l.Runs[0].ID)
	problem(t, err, app.NotFound, "XX-1")
	_, err = b.Life(ctx, "XX-1")
	problem(t, err, app.NotFound, "XX-1")

	// a joint in hand, and a record that was changed behind the program's back
	_, err = b.WorkAgain(ctx, b.crew["M. Tolley"], "TB-206", plan.Pick(plan.GroupChoices{Wrench: "E-03+S4-30"}), "", "a second look")
	require.NoError(t, err)
	b.owner(t, `update records set file = convert_to(replace(convert_from(file, 'UTF8'), 'Tarn Skerry', 'Tarn Skerri'), 'UTF8') where number = $1`,
		l.Runs[0].Record)
	l, err = b.Life(ctx, "TB-206")
	require.NoError(t, err)
	require.Len(t, l.Runs, 3)
	require.Nil(t, l.Runs[2].SealedAt)
	broken := 0
	for _, m := range l.Marks {
		if m.Kind == "broken" {
			broken++
			require.Equal(t, l.Runs[0].Record, m.Record)
		}
	}
	require.Equal(t, 1, broken)
}
