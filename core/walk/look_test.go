package walk_test

import (
	"testing"
	"time"
	"unicode/utf8"

	"github.com/stretchr/testify/require"

	"dynacor/core/walk"
)

// A look that is signed later keeps its time, put right by how far the device's clock is off; what that clock cannot mean
// is refused.
func TestTimeOfALookSignedLater(t *testing.T) {
	const slack = 2 * time.Minute
	now := time.Date(2026, 3, 4, 14, 0, 0, 0, time.UTC)
	sealed := now.Add(-72 * time.Hour)
	moment := time.Millisecond
	for _, c := range []struct {
		name  string
		at    time.Time
		off   time.Duration // by which the device's clock is ahead
		want  time.Time     // zero: at the time of signing
		wrong string
	}{
		{"just now", now, 0, time.Time{}, ""},
		{"inside the slack", now.Add(-slack), 0, time.Time{}, ""},
		{"past the slack", now.Add(-slack - moment), 0, now.Add(-slack - moment), ""},
		{"in the morning", now.Add(-8 * time.Hour), 0, now.Add(-8 * time.Hour), ""},
		{"a clock that is little off is believed", now.Add(-8 * time.Hour), slack, now.Add(-8 * time.Hour), ""},
		{"a fast clock is put right", now.Add(-7 * time.Hour), time.Hour, now.Add(-8 * time.Hour), ""},
		{"a slow one too", now.Add(-9 * time.Hour), -time.Hour, now.Add(-8 * time.Hour), ""},
		{"a little ahead", now.Add(slack), 0, time.Time{}, ""},
		{"to come", now.Add(slack + moment), 0, time.Time{}, "is to come"},
		{"with the seal", sealed.Add(-slack), 0, sealed, ""},
		{"before the seal", sealed.Add(-slack - moment), 0, time.Time{}, "is before the record was sealed"},
		{"a year ago", now.Add(-365 * 24 * time.Hour), 0, time.Time{}, "is before the record was sealed"},
	} {
		t.Run(c.name, func(t *testing.T) {
			got, err := walk.LookedAt(c.at, now.Add(c.off), now, sealed, slack)
			if c.wrong != "" {
				require.ErrorContains(t, err, c.wrong)
				require.ErrorContains(t, err, "at")
				return
			}
			require.NoError(t, err)
			if c.want.IsZero() {
				require.Nil(t, got)
			} else {
				require.Equal(t, c.want, *got)
			}
		})
	}
	old := now.Add(-30 * 24 * time.Hour)
	week := now.Add(-7 * 24 * time.Hour)
	got, err := walk.LookedAt(week, now, now, old, slack)
	require.NoError(t, err)
	require.Equal(t, week, *got)
	_, err = walk.LookedAt(week.Add(-moment), now, now, old, slack)
	require.ErrorContains(t, err, "is more than 7 days ago")
}

// A tag read or typed wrongly is found again among those that there are, the likeliest first.
func TestTagThatMayBeMeant(t *testing.T) {
	tags := []string{"SW-117", "SW-111", "SW-17", "SW-1171", "GB-01", "TB-206"}
	for typed, want := range map[string][]string{
		"SW-171": {"SW-117", "SW-111", "SW-17"}, // swapped, one wrong, one too many
		"SW-11":  {"SW-17", "SW-111", "SW-117"}, // one wrong, then one missing
		"SW117":  {"SW-117", "SW-17"},           // the dash left out, then one wrong
		"5W-117": {"SW-117"},
		"GB-10":  {"GB-01"},
		"XX-999": nil,
		"":       nil,
		"SW-117": nil, // it is there
	} {
		require.Equal(t, want, walk.Like(typed, tags), typed)
	}
	require.Empty(t, walk.Misread("A TAG OF MORE LETTERS THAN ANY HAS"), "no thousands of guesses")
	require.NotContains(t, walk.Misread("SW-117"), "SW-117")
	for _, guess := range walk.Misread("Ä-1") {
		require.True(t, utf8.ValidString(guess), "letters are not torn apart")
	}
	require.NotContains(t, walk.Misread("AA"), "AA", "two alike, swapped")
	require.NotContains(t, walk.Misread("A"), "", "nothing left is no tag")
}
