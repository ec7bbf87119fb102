package app_test

import (
	"bytes"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/shutdown"
	"dynacor/internal/app"
)

// A list makes a work package: its joints of the register, and what holds for them. It is looked at first, and comes
// back as it was written.
func TestListMakesAWorkPackage(t *testing.T) {
	b := newBench(t, true)
	quaye := b.crew["I. Quaye"]
	list := []byte("tag,due,weight,isolation,isolation_windows,after,access\n" +
		"SW-111,2026-12-02 15:00,3,I-2,2026-12-01 07:00/2026-12-01 15:00,,north ladder\nSW-112,,,I-2,,SW-111,\n")
	seen, err := b.ImportJobs(ctx, quaye, "WP-90", "Loop 2", list, false)
	require.NoError(t, err)
	require.False(t, seen.Applied)
	require.Equal(t, 2, seen.New)
	require.Contains(t, seen.Rows[0].What, "joins WP-90, leaves WP-47")
	_, err = b.Constraints(ctx, "WP-90")
	problem(t, err, app.NotFound, "no work package")

	done, err := b.ImportJobs(ctx, quaye, "WP-90", "Loop 2", list, true)
	require.NoError(t, err)
	require.True(t, done.Applied)
	v, err := b.Constraints(ctx, "WP-90")
	require.NoError(t, err)
	require.Equal(t, []string{"SW-111"}, v.Constraints.Of("SW-112").After)
	require.Equal(t, 3, v.Constraints.Of("SW-111").Weight)
	require.Equal(t, "2026-12-01T07:00", v.Constraints.Isolations[0].Windows[0].From)
	j, err := b.Joint(ctx, "SW-111")
	require.NoError(t, err)
	require.Equal(t, "WP-90", j.Joint.Package)

	for _, sheet := range []bool{false, true} {
		var out bytes.Buffer
		require.NoError(t, b.ExportJobs(ctx, &out, "WP-90", sheet))
		again, err := b.ImportJobs(ctx, quaye, "WP-90", "", out.Bytes(), false)
		require.NoError(t, err)
		require.Equal(t, 2, again.Same, "%+v", again)
	}
	// what was said of others stays
	more, err := b.ImportJobs(ctx, quaye, "WP-90", "", []byte("tag,weight\nSW-113,2\n"), true)
	require.NoError(t, err)
	require.Equal(t, 1, more.New)
	v, err = b.Constraints(ctx, "WP-90")
	require.NoError(t, err)
	require.Len(t, v.Constraints.Joints, 3)
	require.Len(t, v.Constraints.Isolations, 1)
}

// A line that cannot be taken over is named, and then nothing is.
func TestListOfAWorkPackageThatIsWrong(t *testing.T) {
	b := newBench(t, true)
	for text, want := range map[string][2]string{
		"tag\nSW-999\n":                                                  {"tag", "is not in the register"},
		"tag,due\nSW-111,noon\n":                                         {"due", "is no day and time"},
		"tag,isolation\nSW-111,I-9\n":                                    {"isolation", "is not listed"},
		"tag,after\nSW-111,SW-112\nSW-112,SW-111\n":                      {"after", "wait for each other"},
		"tag,after\nSW-111,BV-14\n":                                      {"after", "cannot come before"},
		"tag,due,not_before\nSW-111,2026-12-01T07:00,2026-12-01T08:00\n": {"due", "is before it may be begun"},
	} {
		r, err := b.ImportJobs(ctx, b.crew["I. Quaye"], "WP-91", "", []byte(text), true)
		require.NoError(t, err, text)
		require.False(t, r.Applied)
		require.Empty(t, r.Rows)
		require.NotEmpty(t, r.Errors, text)
		require.Equal(t, want[0], r.Errors[0].Column, text)
		require.Contains(t, r.Errors[0].What, want[1], text)
	}
	_, err := b.ImportJobs(ctx, b.crew["I. Quaye"], "WP-91", "", []byte("tag\n"), true)
	problem(t, err, app.Invalid, "has no joints")
	_, err = b.ImportJobs(ctx, b.crew["I. Quaye"], "WP-91", "", []byte("colour\nred\n"), true)
	problem(t, err, app.Invalid, "was not read")
	list, err := b.Packages(ctx)
	require.NoError(t, err)
	require.False(t, slices.ContainsFunc(list, func(p app.PackageRow) bool { return p.Code == "WP-91" }))
}

// A test over joints of a package is planned after them, and a pin on it outlives a list.
func TestTestOverJointsIsPlanned(t *testing.T) {
	b := newBench(t, true)
	p, err := b.PlanShift(ctx, shiftOf("WP-47"))
	require.NoError(t, err)
	n := slices.IndexFunc(p.Joints, func(j app.ShiftJoint) bool { return j.Test })
	require.GreaterOrEqual(t, n, 0, "the demo has a test over joints of it")
	test := p.Joints[n]
	require.NotEmpty(t, test.Name)
	for _, tag := range test.After {
		for _, x := range p.Activities {
			if x.Tag == tag && test.Left == "" {
				require.False(t, of(p, test.Tag, shutdown.PressureTest).Start.Before(x.End), "%s before %s", test.Tag, tag)
			}
		}
	}
	constrain(t, b, func(c *shutdown.Constraints) {
		c.Pins = []shutdown.Pin{{Tag: test.Tag, Kind: shutdown.PressureTest, NotBefore: "2026-12-01T13:00"}}
	})
	_, err = b.ImportJobs(ctx, b.crew["I. Quaye"], "WP-47", "", []byte("tag,weight\nSW-113,2\n"), true)
	require.NoError(t, err)
	v, err := b.Constraints(ctx, "WP-47")
	require.NoError(t, err)
	require.Len(t, v.Constraints.Pins, 1)
}
