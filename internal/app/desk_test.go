package app

import (
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/internal/store"
)

// A shift counts from its beginning to its end, give or take what two clocks may differ, and for no more than thirty
// days; it is one person's.
func TestShiftCountsForItsPersonAndTime(t *testing.T) {
	who, other := uuid.New(), uuid.New()
	began := time.Date(2026, 11, 1, 6, 0, 0, 0, time.UTC)
	ended := began.Add(8 * time.Hour)
	closed := &desk{found: store.Desk{Shifts: []store.ShiftsForRow{{PersonID: who, BeganAt: began, EndedAt: &ended}}}}
	open := &desk{found: store.Desk{Shifts: []store.ShiftsForRow{{PersonID: who, BeganAt: began}}}}
	moment := time.Millisecond
	for _, c := range []struct {
		d    *desk
		at   time.Time
		want bool
	}{
		{closed, began.Add(-clockSlack), true}, {closed, began.Add(-clockSlack - moment), false},
		{closed, ended.Add(clockSlack), true}, {closed, ended.Add(clockSlack + moment), false},
		{open, ended.Add(24 * time.Hour), true}, {open, began.Add(longestShift), true},
		{open, began.Add(longestShift + moment), false},
	} {
		require.Equal(t, c.want, c.d.onShift(who, c.at), c.at)
		require.False(t, c.d.onShift(other, c.at))
	}
}
