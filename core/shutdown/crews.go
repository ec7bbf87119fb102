package shutdown

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"dynacor/core/quantity"
	"dynacor/core/schedule"
)

// Crew are people who work in a shift of their own. Everybody else works in the shift that is planned.
type Crew struct {
	Name   string   `json:"name"`
	Shift  Shift    `json:"shift"`
	People []string `json:"people"` // ids
}

// checkCrews refuses a person in two crews: whoever changes over is away for the rest of the first.
func (c Constraints) checkCrews(k Known) error {
	if len(c.Crews) > mostShifts {
		return quantity.Refuse(
			"crews",
			"Put together those that work at the same hours.",
			"are more than %d",
			mostShifts,
		)
	}
	in := map[string]string{}
	for n, w := range c.Crews {
		field := fmt.Sprintf("crews.%d", n+1)
		if strings.TrimSpace(w.Name) == "" {
			return quantity.Refuse(field+".name", "Name it: late, night.", "is empty")
		}
		if slices.ContainsFunc(c.Crews[:n], func(o Crew) bool { return o.Name == w.Name }) {
			return quantity.Refuse(field+".name", "Give each crew its own.", "%s is there twice", w.Name)
		}
		if err := short(field, w.Name); err != nil {
			return err
		}
		if len(w.People) == 0 {
			return quantity.Refuse(field+".people", "Say who works in it, or take it out.", "are none")
		}
		for _, id := range w.People {
			if !slices.Contains(k.People, id) {
				return quantity.Refuse(
					field+".people",
					"Choose those who can sign in.",
					"has somebody who is not known",
				)
			}
			if other, twice := in[id]; twice {
				return quantity.Refuse(field+".people", "Leave each person in one crew.",
					"has somebody who is in %s already", other)
			}
			in[id] = w.Name
		}
		if _, err := w.Shift.spans(time.Date(2000, 1, 3, 0, 0, 0, 0, time.UTC)); err != nil {
			if r, ok := quantity.RefusalIn(err); ok {
				return quantity.Refuse(field+"."+r.Field, r.Remedy, "%s", r.Why)
			}
			return err
		}
	}
	return nil
}

// Hours are when people are at work, in minutes from Begin.
type Hours struct {
	Begin time.Time           // of the first shift of all
	Open  []schedule.Window   // somebody is at work
	Usual []schedule.Window   // of everybody who is in no crew
	Crews [][]schedule.Window // of each crew
	of    map[string]int      // crew by person
}

// Of gives when a person is at work.
func (h Hours) Of(person string) []schedule.Window {
	if n, ok := h.of[person]; ok {
		return h.Crews[n]
	}
	return h.Usual
}

// HoursOf lays out the shifts of so many days: the usual one, and those of crews. Refused, naming the field, as in
// Windows.
func HoursOf(day time.Time, days int, usual Shift, crews []Crew) (Hours, error) {
	h := Hours{of: map[string]int{}}
	if days < 1 || days > MostDays {
		return h, quantity.Refuse("days", "Plan a shorter time.", "must be 1 to %d", MostDays)
	}
	shifts := []Shift{usual}
	for n, c := range crews {
		shifts = append(shifts, c.Shift)
		for _, id := range c.People {
			h.of[id] = n
		}
	}
	first := make([][][2]time.Time, len(shifts))
	for i, s := range shifts {
		var err error
		if first[i], err = s.spans(day); err != nil {
			return h, err
		}
		if h.Begin.IsZero() || first[i][0][0].Before(h.Begin) {
			h.Begin = first[i][0][0]
		}
	}
	all := make([][]schedule.Window, len(shifts))
	for i, s := range shifts {
		for n := range days {
			spans, err := s.spans(day.AddDate(0, 0, n))
			if err != nil {
				return h, err
			}
			for _, x := range spans {
				all[i] = append(all[i], schedule.Window{minute(h.Begin, x[0]), minute(h.Begin, x[1])})
			}
		}
	}
	h.Usual, h.Crews = all[0], all[1:]
	h.Open = union(all...)
	return h, nil
}

// LongestBreak is that of any shift, the usual one and those of crews, minutes.
func (h Hours) LongestBreak(usual Shift, crews []Crew) int {
	longest := usual.Break(h.Usual)
	for n, c := range crews {
		longest = max(longest, c.Shift.Break(h.Crews[n]))
	}
	return longest
}

// union are the minutes that lie in any of the windows, in order; those that touch are one.
func union(lists ...[]schedule.Window) []schedule.Window {
	all := slices.Concat(lists...)
	slices.SortFunc(all, func(a, b schedule.Window) int { return a[0] - b[0] })
	var out []schedule.Window
	for _, w := range all {
		if n := len(out); n > 0 && w[0] <= out[n-1][1] {
			out[n-1][1] = max(out[n-1][1], w[1])
			continue
		}
		out = append(out, w)
	}
	return out
}
