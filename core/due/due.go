// Package due says what falls due when, and whose it is.
package due

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"dynacor/core/authority"
)

// Kind is what falls due.
type Kind string

// The kinds.
const (
	Work        Kind = "work"        // a part of somebody's work by a plan in force
	Retorque    Kind = "retorque"    // the nuts of a sealed joint are tried again
	HeatCheck   Kind = "heat_check"  // a joint that went warm and cold again is looked at
	Retest      Kind = "retest"      // of a test under pressure: it is done again
	LookAgain   Kind = "look_again"  // a joint that a tool in doubt was used at
	Calibration Kind = "calibration" // of a tool: its certificate ends
	Training    Kind = "training"    // of a person: it ends
	UseBy       Kind = "use_by"      // of something in stock
)

// words are what a kind is called.
var words = map[Kind]string{Work: "work", Retorque: "re-torque", LookAgain: "look again",
	HeatCheck: "check after heat", Retest: "test again",
	Calibration: "calibration ends",
	Training:    "training ends", UseBy: "use by"}

// Word is what the kind is called on a page.
func (k Kind) Word() string { return words[k] }

// whose are the roles to whom a kind falls that is nobody's own.
var whose = map[Kind][]string{
	Work:        {authority.Lead},
	Retorque:    {authority.Technician, authority.Lead},
	HeatCheck:   {authority.Technician, authority.Lead},
	Retest:      {authority.Inspector, authority.Engineer},
	LookAgain:   {authority.Inspector, authority.Engineer},
	Calibration: {authority.ToolKeeper, authority.Lead, authority.Engineer},
	Training:    {authority.Lead, authority.Engineer},
	UseBy:       {authority.ToolKeeper, authority.Lead},
}

// Item is something that falls due.
type Item struct {
	Kind   Kind
	Key    string // what it is about, the same from day to day: a record, a tool, a training
	Says   string
	Tag    string // joint or tool, "" when it is about neither
	From   time.Time
	To     time.Time // of something that takes a time; else as From
	AllDay bool      // From is a day
	Person string    // id of whose it is; "": of whoever has the role
}

// ID names an item for good: a calendar knows it again by it.
func (i Item) ID() string { return string(i.Kind) + "-" + strings.ReplaceAll(i.Key, " ", "-") }

// Is reports whether an item is somebody's: their own, or nobody's own that falls to one of their roles.
func (i Item) Is(person, role string) bool {
	if i.Person != "" {
		return i.Person == person
	}
	return authority.Covers(role, whose[i.Kind]...)
}

// Mine gives what is somebody's, in order of time.
func Mine(list []Item, person, role string) []Item {
	var out []Item
	for _, i := range list {
		if i.Is(person, role) {
			out = append(out, i)
		}
	}
	Sort(out)
	return out
}

// Sort puts what is due first first.
func Sort(list []Item) {
	slices.SortStableFunc(list, func(a, b Item) int {
		if d := a.From.Compare(b.From); d != 0 {
			return d
		}
		return strings.Compare(a.ID(), b.ID())
	})
}

// Within gives what falls due before a time: what is overdue, too.
func Within(list []Item, end time.Time) []Item {
	var out []Item
	for _, i := range list {
		if i.From.Before(end) {
			out = append(out, i)
		}
	}
	return out
}

// Letter is what somebody is told of in a morning: what is overdue, what is of today, what comes in the days after. ok
// is false when there is nothing to tell.
func Letter(name, site string, now time.Time, list []Item) (subject, body string, ok bool) {
	day := time.Date(now.Year(), now.Month(), now.Day(), 0, 0, 0, 0, now.Location())
	tomorrow, week := day.AddDate(0, 0, 1), day.AddDate(0, 0, 8)
	parts := []struct {
		head string
		from time.Time
		to   time.Time
		list []string
	}{{"Overdue", time.Time{}, day, nil}, {"Today", day, tomorrow, nil}, {"In the next seven days", tomorrow, week,
		nil}}
	n := 0
	for _, i := range list {
		for p := range parts {
			if !i.From.Before(parts[p].from) && i.From.Before(parts[p].to) {
				parts[p].list = append(parts[p].list, i.line(now.Location()))
				n++
			}
		}
	}
	if n == 0 {
		return "", "", false
	}
	var b strings.Builder
	fmt.Fprintf(&b, "%s,\n\nthis falls due for you at %s.\n", name, site)
	for _, p := range parts {
		if len(p.list) > 0 {
			fmt.Fprintf(&b, "\n%s\n%s\n", p.head, strings.Join(p.list, "\n"))
		}
	}
	b.WriteString("\nThe pages of Dynacor have the whole list. Nobody reads answers to this message.\n")
	what := "1 thing falls"
	if n > 1 {
		what = fmt.Sprintf("%d things fall", n)
	}
	return what + " due, " + site, b.String(), true
}

func (i Item) line(zone *time.Location) string {
	at := i.From.In(zone)
	when := at.Format("Mon 2 Jan 15:04")
	if i.AllDay {
		when = at.Format("Mon 2 Jan")
	}
	return "- " + when + ": " + i.Says
}
