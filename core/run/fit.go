package run

import (
	"fmt"
	"strings"

	"dynacor/core/measure"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
)

// match compares the marks read off parts that belong together, capitals and blanks aside.
func (f *folder) match(i int, c procedure.Check, e Event) {
	same := func(a, b string) bool {
		return strings.EqualFold(strings.ReplaceAll(a, " ", ""), strings.ReplaceAll(b, " ", ""))
	}
	f.s.Checks[i].Marks = e.Marks
	var text, bad []string
	for _, p := range c.Pairs {
		var m MarkFound
		for _, x := range e.Marks {
			if x.Code == p.Code {
				m = x
			}
		}
		switch {
		case strings.TrimSpace(m.A) == "" || strings.TrimSpace(m.B) == "" && p.B != "":
			bad = append(bad, p.A+": not read")
		case p.B != "" && !same(m.A, m.B):
			bad = append(bad, fmt.Sprintf("%s reads %s, %s reads %s", p.A, m.A, p.B, m.B))
		case p.Expect != "" && !same(m.A, p.Expect):
			bad = append(bad, fmt.Sprintf("%s reads %s, it must be %s", p.A, m.A, p.Expect))
		default:
			t := p.A + " " + m.A
			if p.PhaseDeg > 0 {
				t += ", " + turnText(p.PhaseDeg) + " apart"
			}
			text = append(text, t)
		}
	}
	if len(bad) > 0 {
		f.raiseCheck(&checkMarks, c, e, "list", strings.Join(bad, "; "))
		f.attempt(i, e, strings.Join(bad, "; "), false)
		return
	}
	f.attempt(i, e, strings.Join(text, "; "), true)
}

// sequence takes parts that go in one after another: a tick out of order is refused, and all must be ticked.
func (f *folder) sequence(i int, c procedure.Check, e Event) {
	for k, want := range c.Items {
		if k >= len(e.Items) {
			f.raiseCheck(&sequenceMissing, c, e, "item", want)
			f.attempt(i, e, fmt.Sprintf("%d of %d", k, len(c.Items)), false)
			return
		}
		if e.Items[k] != want {
			f.raiseCheck(&sequenceOrder, c, e, "ticked", e.Items[k], "item", want)
			f.attempt(i, e, "out of order at "+want, false)
			return
		}
	}
	f.attempt(i, e, fmt.Sprintf("all %d in their order", len(c.Items)), true)
}

// clock holds an hour on the clock face against the sector that is allowed.
func (f *folder) clock(i int, c procedure.Check, e Event) {
	if len(e.Values) != 1 || e.Values[0].Value < 0 || e.Values[0].Value > 12 {
		f.unusable(i, c, e, quantity.Refuse("values", "Enter the hour, 1 to 12.", "the hour is missing"))
		return
	}
	hour := e.Values[0].Value
	f.s.Checks[i].Values = []float64{hour}
	r, err := measure.ClockPosition(nil, measure.ClockInput{Hour: hour, From: c.FromHour, To: c.ToHour})
	if err != nil {
		f.unusable(i, c, e, err)
		return
	}
	text := fmt.Sprintf("at %s o’clock, allowed %s to %s", quantity.Text(hour), quantity.Text(c.FromHour),
		quantity.Text(c.ToHour))
	if !r.Inside {
		f.raiseCheck(&checkClock, c, e, "found", text)
	}
	f.attempt(i, e, text, r.Inside)
}

// temporary tells whether a thing that must come out again is in or out.
func (f *folder) temporary(i int, c procedure.Check, e Event) {
	ok := e.Answer == c.Want
	if !ok {
		f.raiseCheck(&checkTemporary, c, e, "item", c.Item, "want", c.Want)
	}
	f.attempt(i, e, c.Item+" "+e.Answer, ok)
}

// test keeps a test: to which procedure, how long, what was read, and whether it was passed.
func (f *folder) test(i int, c procedure.Check, e Event) {
	if strings.TrimSpace(e.Method) == "" {
		f.raiseCheck(&testUnnamed, c, e)
		f.attempt(i, e, "no procedure named", false)
		return
	}
	text := e.Method
	for _, v := range e.Values {
		text += ", " + v.Words()
	}
	if e.Minutes > 0 {
		text += ", " + quantity.Text(e.Minutes) + " min"
	}
	ok := f.proves(c, e)
	word := ": passed"
	if !ok {
		word = ": not passed"
	}
	f.attempt(i, e, text+word, ok)
}

// proves reports whether a test was one, was strong enough and was passed, and says what it was not.
func (f *folder) proves(c procedure.Check, e Event) bool {
	now, none := f.p.Rules >= 2, len(e.Values) == 0
	switch {
	case now && (none || !(e.Values[0].Value > 0)) || none && c.Low > 0:
		f.raiseCheck(&testNoReading, c, e)
	case now && !(e.Minutes > 0):
		f.raiseCheck(&testNoDuration, c, e)
	case !none && c.Low > 0 && !quantity.AtMost(c.Low, e.Values[0].Value):
		f.raiseCheck(&testLow, c, e, "read", quantity.Text(e.Values[0].Value), "unit", unitWord(c.Unit), "limit",
			quantity.Text(c.Low))
	case e.Answer != "yes":
		f.raiseCheck(&testFailed, c, e)
	default:
		return true
	}
	return false
}

// responsible keeps a choice that the instructions leave open, and who answers for it.
func (f *folder) responsible(i int, c procedure.Check, e Event) {
	if strings.TrimSpace(e.Answer) == "" || strings.TrimSpace(e.Who) == "" {
		f.raiseCheck(&responsibleMissing, c, e)
		f.attempt(i, e, "not complete", false)
		return
	}
	text := e.Answer
	if e.Note != "" {
		text += ", " + e.Note
	}
	f.attempt(i, e, text+"; "+e.Who+" answers for it", true)
}
