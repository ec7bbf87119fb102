package shutdown_test

import (
	"testing"
	"time"
	_ "time/tzdata"

	"github.com/stretchr/testify/require"

	"dynacor/core/quantity"
	"dynacor/core/schedule"
	"dynacor/core/shutdown"
)

func TestShiftsBecomeMinutes(t *testing.T) {
	s := shutdown.Shift{From: "07:00", To: "15:30", BreakFrom: "12:00", BreakTo: "12:30"}
	day := time.Date(2026, 11, 30, 13, 0, 0, 0, time.UTC)
	begin, open, err := s.Windows(day, 2)
	require.NoError(t, err)
	require.Equal(t, time.Date(2026, 11, 30, 7, 0, 0, 0, time.UTC), begin)
	require.Equal(t, []schedule.Window{{0, 300}, {330, 510}, {1440, 1740}, {1770, 1950}}, open)
	require.Equal(t, 30, s.Break(open))
	_, open, err = shutdown.Shift{From: "22:00", To: "23:00"}.Windows(day, 1)
	require.NoError(t, err)
	require.Equal(t, []schedule.Window{{0, 60}}, open)
	require.Zero(t, shutdown.Shift{From: "22:00", To: "23:00"}.Break(open))

	zone, err := time.LoadLocation("Europe/London")
	require.NoError(t, err)
	_, open, err = shutdown.Shift{From: "07:00", To: "15:00"}.Windows(time.Date(2026, 10, 24, 0, 0, 0, 0, zone), 2)
	require.NoError(t, err)
	require.Equal(t, 1500, open[1][0], "the clocks go back that night")
}

func TestShiftsThatCannotBeAreRefused(t *testing.T) {
	day := time.Date(2026, 11, 30, 0, 0, 0, 0, time.UTC)
	for field, s := range map[string]shutdown.Shift{"from": {From: "7", To: "15:00"}, "to": {From: "15:00", To: "07:00"},
		"breakFrom": {From: "07:00", To: "15:00", BreakTo: "12:30"}} {
		_, _, err := s.Windows(day, 1)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok)
		require.Equal(t, field, r.Field)
	}
	_, _, err := shutdown.Shift{From: "07:00", To: "15:00", BreakFrom: "14:50", BreakTo: "15:10"}.Windows(day, 1)
	require.ErrorContains(t, err, "out of order")
	for _, days := range []int{0, shutdown.MostDays + 1} {
		_, _, err := shutdown.Shift{From: "07:00", To: "15:00"}.Windows(day, days)
		require.ErrorContains(t, err, "days")
	}
}

// A shift that ends by an earlier time of the clock than it began ends on the next day, its break as well.
func TestNightShiftEndsOnTheNextDay(t *testing.T) {
	s := shutdown.Shift{From: "22:00", To: "06:00", BreakFrom: "01:30", BreakTo: "02:00"}
	begin, open, err := s.Windows(seven, 2)
	require.NoError(t, err)
	require.Equal(t, 22, begin.Hour())
	require.Equal(t, []schedule.Window{{0, 210}, {240, 480}, {1440, 1650}, {1680, 1920}}, open)
}

// Each crew has its own hours; minutes count from the first of all, and whoever is in no crew works in the usual shift.
func TestCrewsHaveTheirOwnHours(t *testing.T) {
	usual := shutdown.Shift{From: "07:00", To: "15:00", BreakFrom: "12:00", BreakTo: "12:30"}
	h, err := shutdown.HoursOf(seven, 2, usual, []shutdown.Crew{
		{Name: "early", Shift: shutdown.Shift{From: "05:00", To: "08:00"}, People: []string{"Quaye"}},
		{Name: "late", Shift: shutdown.Shift{From: "14:00", To: "22:00", BreakFrom: "18:00", BreakTo: "18:45"},
			People: []string{"Tolley"}}})
	require.NoError(t, err)
	require.Equal(t, 5, h.Begin.Hour())
	require.Equal(t, []schedule.Window{{0, 180}, {1440, 1620}}, h.Of("Quaye"))
	require.Equal(t, []schedule.Window{{540, 780}, {825, 1020}, {1980, 2220}, {2265, 2460}}, h.Of("Tolley"))
	require.Equal(t, []schedule.Window{{120, 420}, {450, 600}, {1560, 1860}, {1890, 2040}}, h.Of("Abara"))
	require.Equal(t, []schedule.Window{{0, 420}, {450, 780}, {825, 1020}, {1440, 1860}, {1890, 2220}, {2265, 2460}}, h.Open)
	require.Equal(t, 45, h.LongestBreak(usual, []shutdown.Crew{{}, {Shift: shutdown.Shift{BreakFrom: "18:00"}}}))
}
