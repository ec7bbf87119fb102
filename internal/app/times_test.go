package app_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/run"
)

// A device's clock is believed only within what can be true: not before it last spoke, not after it is heard. Both
// times are kept, the rules go by the bounded one, and the device is told.
func TestTimesThatCannotBeTrueAreBounded(t *testing.T) {
	b := newBench(t, true)
	d := b.tablet(t).signIn(t, "M. Tolley")
	b.now = b.now.Add(time.Hour)
	require.Equal(t, []string{""}, d.send(t, d.note("spoke")))
	spoke := b.now
	b.now = b.now.Add(3 * time.Hour)
	at := func(when time.Time) run.Event {
		e := d.note("x")
		e.At = when
		return e
	}
	for name, c := range map[string]struct{ at, want time.Time }{
		"year 1":                   {time.Date(1, 1, 2, 0, 0, 0, 0, time.UTC), time.Time{}},
		"year 9998":                {time.Date(9998, 1, 1, 0, 0, 0, 0, time.UTC), time.Time{}},
		"before the device spoke":  {spoke.Add(-10 * time.Minute), time.Time{}},
		"in ten minutes":           {b.now.Add(10 * time.Minute), time.Time{}},
		"between speaking and now": {spoke.Add(time.Hour), spoke.Add(time.Hour)},
		"a moment ahead":           {b.now.Add(time.Minute), b.now.Add(time.Minute)},
	} {
		e := at(c.at)
		out := d.post(t, 99, d.signed(t, e)) // the backlog is not sent yet: the bound stays
		require.Empty(t, out.Acks[0].Refused, name)
		require.Zero(t, out.ClockOffMs)
		got := d.last(t)
		require.True(t, got.At.Equal(c.at), "%s: what the device said is kept", name)
		if !c.want.IsZero() {
			require.Nil(t, got.BoundedAt, name)
			continue
		}
		require.NotNil(t, got.BoundedAt, name)
		require.False(t, got.When().Before(spoke), name)
		require.False(t, got.When().After(b.now), name)
	}
	v, err := b.Run(ctx, d.run)
	require.NoError(t, err)
	require.Equal(t, 4, v.State.ClockOff)
}

// A clock that is hours off is told at once, and the times are set right by what it is off.
func TestClockThatIsOffIsToldAndSetRight(t *testing.T) {
	b := newBench(t, true)
	d := b.tablet(t).signIn(t, "M. Tolley")
	d.clock = -5 * time.Hour
	b.now = b.now.Add(2 * time.Hour)
	e := d.note("done half an hour ago")
	e.At = e.At.Add(-30 * time.Minute)
	out := d.post(t, 0, d.signed(t, e))
	require.Empty(t, out.Acks[0].Refused)
	require.EqualValues(t, -5*time.Hour/time.Millisecond, out.ClockOffMs)
	got := d.last(t)
	require.True(t, got.At.Equal(e.At))
	require.WithinDuration(t, b.now.Add(-30*time.Minute), got.When(), time.Second)
}

// A backlog may be older than the last word of the device, but it can only shrink: a device cannot keep the door to the
// past open.
func TestBacklogCanOnlyShrink(t *testing.T) {
	b := newBench(t, true)
	d := b.tablet(t).signIn(t, "M. Tolley")
	b.now = b.now.Add(time.Hour)
	require.Equal(t, []string{""}, d.send(t, d.note("spoke")))
	b.now = b.now.Add(time.Hour)
	old := []run.Event{d.note("1"), d.note("2"), d.note("3")}
	b.now = b.now.Add(time.Hour)
	d.post(t, 2, d.signed(t, old[0]))
	b.now = b.now.Add(time.Hour)
	d.post(t, 50, d.signed(t, old[1]))
	require.Nil(t, d.last(t).BoundedAt, "told of beforehand")
	d.post(t, 50, d.signed(t, old[2]))
	require.Nil(t, d.last(t).BoundedAt)
	b.now = b.now.Add(time.Hour)
	late := d.note("back-dated")
	late.At = old[0].At
	d.post(t, 50, d.signed(t, late))
	require.NotNil(t, d.last(t).BoundedAt, "nothing was left to be sent")
}

// A wrench that was out of date when the work was done is out of date, whatever the device's clock says.
func TestCalibrationFollowsTheBoundedTime(t *testing.T) {
	b := newBench(t, true)
	d := b.tablet(t).signIn(t, "M. Tolley")
	b.now = b.now.AddDate(3, 0, 0)
	d.signIn(t, "M. Tolley")
	v, err := b.Run(ctx, d.run)
	require.NoError(t, err)
	w := v.State.Wrench
	e := d.note("")
	e.Kind, e.Note, e.Wrench, e.At = run.WrenchTaken, "", w, time.Date(2026, 11, 23, 10, 0, 0, 0, time.UTC)
	require.Equal(t, []string{""}, d.send(t, e))
	v, err = b.Run(ctx, d.run)
	require.NoError(t, err)
	text := fmt.Sprint(v.State.Findings, v.State.Blocked, v.State.Checks)
	require.Contains(t, text, "calibrat")
}

// What is heard of more than ten minutes after its time says so, by the server's clock.
func TestWhatIsHeardOfLateSaysSo(t *testing.T) {
	b := newBench(t, true)
	d := b.tablet(t).signIn(t, "M. Tolley")
	for _, x := range []struct {
		ago  time.Duration
		late float64
	}{{10 * time.Minute, 0}, {11 * time.Minute, 11}, {95 * time.Minute, 95}} {
		b.now = b.now.Add(2 * time.Hour) // since it last spoke
		e := d.note("in the culvert")
		e.At, e.LateMin = b.now.Add(-x.ago), 3 // only the server says so
		require.Equal(t, []string{""}, d.send(t, e))
		require.InDelta(t, x.late, d.last(t).LateMin, 0, x.ago.String())
	}
}
