package shutdown_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/schedule"
	"dynacor/core/shutdown"
)

// What was done is held against what was planned, and the pace of the last hours says when the rest is done.
func TestProgressAgainstThePlan(t *testing.T) {
	at := func(h float64) time.Time { return seven.Add(time.Duration(h * float64(time.Hour))) }
	p := shutdown.NewProgress([]time.Time{at(3), at(1), at(2), at(4)}, []time.Time{at(2.5), at(1.5)}, 5)
	require.Equal(t, 0, p.Planned.At(at(0.5)))
	require.Equal(t, 1, p.Planned.At(at(1)))
	require.Equal(t, 1, p.Behind(at(3)))
	require.Equal(t, 0, p.Behind(at(2.5)))
	all := func(from, to time.Time) time.Duration { return to.Sub(from) }
	after := func(from time.Time, work time.Duration) time.Time { return from.Add(work) }
	end, ok := p.Forecast(at(4), 4*time.Hour, all, after)
	require.True(t, ok)
	require.Equal(t, at(10), end, "two in four hours, three are left")
	_, ok = p.Forecast(at(4), time.Hour, all, after)
	require.False(t, ok, "nothing was done in the last hour")
	_, ok = shutdown.NewProgress(nil, []time.Time{at(1)}, 1).Forecast(at(2), 4*time.Hour, all, after)
	require.False(t, ok, "nothing is left")
	_, ok = p.Forecast(at(4), 4*time.Hour, func(_, _ time.Time) time.Duration { return 0 }, after)
	require.False(t, ok, "nobody was at work")
}

// Work goes on in shifts.
func TestWorkGoesOnInShifts(t *testing.T) {
	open := []schedule.Window{{0, 240}, {270, 480}, {1440, 1680}}
	worked, after := shutdown.Worked(seven, open), shutdown.After(seven, open)
	at := func(m int) time.Time { return seven.Add(time.Duration(m) * time.Minute) }
	require.Equal(t, 60*time.Minute, worked(at(210), at(300)))
	require.Zero(t, worked(at(500), at(1000)))
	require.Equal(t, at(240), after(at(200), 40*time.Minute))
	require.Equal(t, at(271), after(at(200), 41*time.Minute))
	require.Equal(t, at(1450), after(at(470), 20*time.Minute))
	require.Equal(t, at(1700), after(at(1670), 30*time.Minute), "past the last shift as if it went on")
}
