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

// longestNight is for how many hours at most a shift that goes on past midnight is believed; what is longer was
// mistyped.
const longestNight = 14

// spans are the one or two stretches of a shift that begins on a day. What ends by an earlier time of the clock than it
// began ends on the next day.
func (s Shift) spans(day time.Time) ([][2]time.Time, error) {
	type edge struct{ field, clock string }
	edges := []edge{{"from", s.From}, {"to", s.To}}
	if s.BreakFrom != "" || s.BreakTo != "" {
		edges = []edge{edges[0], {"breakFrom", s.BreakFrom}, {"breakTo", s.BreakTo}, edges[1]}
	}
	var at []time.Time
	next := 0
	for _, e := range edges {
		c, err := time.Parse("15:04", e.clock)
		if err != nil {
			return nil, quantity.Refuse(e.field, "Give it as hours and minutes, 07:00.", "is no time of the clock")
		}
		of := func(n int) time.Time {
			return time.Date(day.Year(), day.Month(), day.Day()+n, c.Hour(), c.Minute(), 0, 0, day.Location())
		}
		t := of(next)
		if len(at) > 0 && !t.After(at[len(at)-1]) {
			next++
			t = of(next)
		}
		at = append(at, t)
	}
	if last := at[len(at)-1]; next > 0 && last.Sub(at[0]) > longestNight*time.Hour {
		return nil, quantity.Refuse("to", "Let the shift begin, break, go on and end in this order.",
			"the times of the shift are out of order, or it is a night of more than %d hours", longestNight)
	}
	var out [][2]time.Time
	for i := 0; i < len(at); i += 2 {
		out = append(out, [2]time.Time{at[i], at[i+1]})
	}
	return out, nil
}

// Windows gives the minutes of so many days in which people are at work, counted from the beginning of the first shift;
// a day on which the clocks change is as long as it is. Refused, naming the field: times that are none, or out of
// order, and more days than MostDays.
func (s Shift) Windows(day time.Time, days int) (begin time.Time, open []schedule.Window, err error) {
	h, err := HoursOf(day, days, s, nil)
	return h.Begin, h.Usual, err
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

// frame turns times of the site's clocks into minutes from the beginning of a plan.
type frame struct {
	begin   time.Time
	horizon int
}

// minute is 0 or more. A time of the clock that was checked can be read.
func (f frame) minute(clock string) int {
	t, err := time.ParseInLocation(Clock, clock, f.begin.Location())
	if err != nil {
		return 0
	}
	return max(0, minute(f.begin, t))
}

// endOf is the minute in which a day, 2006-01-02, is over; 0 when that was before the plan.
func (f frame) endOf(day string) int {
	t, err := time.ParseInLocation(time.DateOnly, day, f.begin.Location())
	if err != nil {
		return 0
	}
	return max(0, minute(f.begin, t.AddDate(0, 0, 1)))
}

// windows are spans as far as they lie in the plan.
func (f frame) windows(list []Span) []schedule.Window {
	out := []schedule.Window{}
	for _, s := range list {
		w := schedule.Window{f.minute(s.From), min(f.horizon, f.minute(s.To))}
		if w[0] < w[1] {
			out = append(out, w)
		}
	}
	return out
}

// without takes spans out of windows.
func without(open, gone []schedule.Window) []schedule.Window {
	for _, g := range gone {
		left := []schedule.Window{}
		for _, w := range open {
			for _, part := range []schedule.Window{{w[0], min(w[1], g[0])}, {max(w[0], g[1]), w[1]}} {
				if part[0] < part[1] {
					left = append(left, part)
				}
			}
		}
		open = left
	}
	return open
}
