package shutdown

import (
	"time"

	"dynacor/core/quantity"
	"dynacor/core/schedule"
)

// Shift is when people are at work on each day: times of the clock, "07:00". Without a break both are empty.
type Shift struct {
	From      string `json:"from"`
	To        string `json:"to"`
	BreakFrom string `json:"breakFrom"`
	BreakTo   string `json:"breakTo"`
}

// MostDays is how many days are planned at most.
const MostDays = 14

// Windows gives the minutes of so many days in which people are at work, counted from the beginning of the first shift;
// a day on which the clocks change is as long as it is. Refused, naming the field: times that are none, or out of
// order, and more days than MostDays.
func (s Shift) Windows(day time.Time, days int) (begin time.Time, open []schedule.Window, err error) {
	if days < 1 || days > MostDays {
		return begin, nil, quantity.Refuse("days", "Plan a shorter time.", "must be 1 to %d", MostDays)
	}
	at := func(field, clock string, n int) time.Time {
		t, parseErr := time.Parse("15:04", clock)
		if parseErr != nil && err == nil {
			err = quantity.Refuse(field, "Give it as hours and minutes, 07:00.", "is no time of the clock")
		}
		return time.Date(day.Year(), day.Month(), day.Day()+n, t.Hour(), t.Minute(), 0, 0, day.Location())
	}
	for n := range days {
		edges := []time.Time{at("from", s.From, n), at("to", s.To, n)}
		if s.BreakFrom != "" || s.BreakTo != "" {
			edges = []time.Time{edges[0], at("breakFrom", s.BreakFrom, n), at("breakTo", s.BreakTo, n), edges[1]}
		}
		if err != nil {
			return begin, nil, err
		}
		if n == 0 {
			begin = edges[0]
		}
		for i := 0; i < len(edges); i += 2 {
			w := schedule.Window{minute(begin, edges[i]), minute(begin, edges[i+1])}
			if w[0] >= w[1] || len(open) > 0 && w[0] < open[len(open)-1][1] {
				return begin, nil, quantity.Refuse("to", "Let the shift begin, break, go on and end in this order.",
					"the times of the shift are out of order")
			}
			open = append(open, w)
		}
	}
	return begin, open, nil
}

func minute(begin, t time.Time) int { return int(t.Sub(begin).Minutes()) }

// Break is the longest gap of a shift, minutes: what preparing may rest through.
func (s Shift) Break(open []schedule.Window) int {
	if s.BreakFrom == "" || len(open) < 2 {
		return 0
	}
	return open[1][0] - open[0][1]
}

// Worked gives how long people are at work between two times.
func Worked(begin time.Time, open []schedule.Window) func(from, to time.Time) time.Duration {
	return func(from, to time.Time) time.Duration {
		sum := 0
		for _, w := range open {
			sum += max(0, min(w[1], minute(begin, to))-max(w[0], minute(begin, from)))
		}
		return time.Duration(sum) * time.Minute
	}
}

// After gives when so much work is done that begins at a time; past the last window as if its day went on for ever.
func After(begin time.Time, open []schedule.Window) func(from time.Time, work time.Duration) time.Time {
	return func(from time.Time, work time.Duration) time.Time {
		left := int(work.Minutes())
		at := minute(begin, from)
		for _, w := range open {
			start := max(at, w[0])
			if n := w[1] - start; n > 0 {
				if left <= n {
					return begin.Add(time.Duration(start+left) * time.Minute)
				}
				left, at = left-n, w[1]
			}
		}
		return begin.Add(time.Duration(at+left) * time.Minute)
	}
}
