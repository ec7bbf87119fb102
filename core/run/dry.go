package run

import (
	"fmt"
	"time"

	"dynacor/core/procedure"
	"dynacor/core/quantity"
)

// dry asks again for what does not last: a lubricant that has dried before the work is done.
func (f *folder) dry(current int, now time.Time) {
	if current == len(f.s.Passes) {
		return
	}
	for k := range f.p.Checks {
		c := &f.p.Checks[k]
		cs := f.checkOf(k)
		if !cs.dried(c, now) {
			continue
		}
		cs.Status, cs.Waiting = CheckOpen, fmt.Sprintf("Done %s ago; it lasts %s min. Look at it and renew it.",
			span(now.Sub(*cs.At)), quantity.Text(c.LifeMinutes))
	}
}

// dries reports whether something has dried by then.
func (f *folder) dries(current int, now time.Time) bool {
	if current == len(f.s.Passes) {
		return false
	}
	for k := range f.p.Checks {
		if f.checkOf(k).dried(&f.p.Checks[k], now) {
			return true
		}
	}
	return false
}

// dried reports whether what was answered lasts no longer.
func (cs *CheckState) dried(c *procedure.Check, now time.Time) bool {
	return c.LifeMinutes > 0 && cs.At != nil && cs.Status == CheckCleared &&
		now.Sub(*cs.At) > time.Duration(c.LifeMinutes*float64(time.Minute))
}
