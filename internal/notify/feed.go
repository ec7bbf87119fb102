// Package notify carries what falls due out of the house: as a calendar that programs subscribe to, and as mail.
package notify

import (
	"io"
	"time"

	ics "github.com/arran4/golang-ical"

	"dynacor/core/due"
)

// WriteFeed writes items as a calendar (RFC 5545); host makes their names unique in the world. A day is a day, whatever
// clock the reader has.
func WriteFeed(w io.Writer, name, host string, at time.Time, list []due.Item) error {
	c := ics.NewCalendarFor("Dynacor")
	c.SetMethod(ics.MethodPublish)
	c.SetName(name)
	c.SetXWRCalName(name)
	c.SetRefreshInterval("PT1H")
	for _, i := range list {
		e := c.AddEvent(i.ID() + "@" + host)
		e.SetDtStampTime(at.UTC())
		e.SetSummary(i.Says)
		e.AddCategory(i.Kind.Word())
		if i.AllDay {
			e.SetAllDayStartAt(i.From)
			e.SetAllDayEndAt(i.From.AddDate(0, 0, 1))
			continue
		}
		e.SetStartAt(i.From.UTC())
		e.SetEndAt(i.To.UTC())
	}
	return c.SerializeTo(w, ics.WithNewLineWindows)
}
