// Package walk leads a walk-round of finished and unfinished joints: what is to be seen, in which order, what is asked at
// each, and what its answers say.
package walk

import (
	"slices"
	"strings"
	"unicode/utf8"

	"dynacor/core/quantity"
)

// Stop is a joint that is to be seen.
type Stop struct {
	Tag  string
	Area string
	Why  []string // what waits there
}

// Order puts stops in the order of the areas, those of one area by their tags. Where things stand is not known better
// than that.
func Order(stops []Stop, areas []string) []Stop {
	out := slices.Clone(stops)
	place := func(s Stop) int {
		if n := slices.Index(areas, s.Area); n >= 0 {
			return n
		}
		return len(areas)
	}
	slices.SortStableFunc(out, func(a, b Stop) int {
		if d := place(a) - place(b); d != 0 {
			return d
		}
		if d := strings.Compare(a.Area, b.Area); d != 0 {
			return d
		}
		return byTag(a.Tag, b.Tag)
	})
	return out
}

// byTag compares tags with their figures as numbers: SW-9 before SW-110.
func byTag(a, b string) int {
	for a != "" && b != "" {
		x, y := head(a), head(b)
		a, b = a[len(x):], b[len(y):]
		if d := len(strings.TrimLeft(x, "0")) - len(strings.TrimLeft(y, "0")); digit(x[0]) && digit(y[0]) && d != 0 {
			return d
		}
		if d := strings.Compare(strings.TrimLeft(x, "0"), strings.TrimLeft(y, "0")); d != 0 {
			return d
		}
	}
	return len(a) - len(b)
}

func digit(c byte) bool { return c >= '0' && c <= '9' }

// head is the figures, or what is none, at the beginning of a text that is not empty.
func head(s string) string {
	n := 1
	for n < len(s) && digit(s[n]) == digit(s[0]) {
		n++
	}
	return s[:n]
}

// Next is the tag of the nearest stop after a tag: the next one in the same area, then the first of an area further on,
// round the whole. "" when there is no other. stops are in the order of Order; the tag need not be one of them.
func Next(stops []Stop, tag, area string, areas []string) string {
	all := stops
	if !slices.ContainsFunc(stops, func(s Stop) bool { return s.Tag == tag }) && tag != "" {
		all = Order(append(slices.Clone(stops), Stop{Tag: tag, Area: area}), areas)
	}
	at := slices.IndexFunc(all, func(s Stop) bool { return s.Tag == tag })
	for n := 1; n <= len(all); n++ {
		s := all[(at+n)%len(all)]
		if s.Tag != tag {
			return s.Tag
		}
	}
	return ""
}

// Question is what is asked at a joint.
type Question struct {
	Code string `json:"code"`
	Ask  string `json:"ask"`
	Yes  string `json:"-"` // what the record says
	No   string `json:"-"`
}

// Questions are asked at every joint that was accepted, in this order.
var Questions = []Question{
	{"marks", "Every mark in line, no nut turned?", "marks in line", "a mark is out of line"},
	{"dry", "Dry, no weep, no stain?", "dry", "not dry"},
	{"sound", "No rust, no damage, no part missing?", "sound", "not sound"},
	{"tag", "Tag hung and readable, place as it should be?", "tag hung", "tag or place not as it should be"},
}

// Answer is one of somebody who has looked. Note says what was seen; a No has one.
type Answer struct {
	Code string `json:"code"`
	Yes  bool   `json:"yes"`
	Note string `json:"note"`
	// of the marks: how the drawn nuts stood
	Nuts []Nut `json:"nuts,omitempty"`
}

// Began is how what is said of a walk-round begins.
const Began = "Walk-round: "

const mostNote = 200 // letters

// Says puts answers into words. well is false when something was not as it should be. Refused, naming the field: a
// question without an answer or with two, a No without what was seen, and a nut that the joint does not have. name calls a
// fastener by its name, "" when there is none.
func Says(answers []Answer, name func(fastener int) string) (what string, well bool, err error) {
	well = true
	var parts []string
	for _, q := range Questions {
		given := 0
		for _, a := range answers {
			if a.Code != q.Code {
				continue
			}
			given++
			note := strings.TrimSpace(a.Note)
			if utf8.RuneCountInString(note) > mostNote {
				return "", false, quantity.Refuse(
					"answers."+q.Code,
					"Say it in fewer words.",
					"is longer than %d letters",
					mostNote,
				)
			}
			says := q.Yes
			seen, turned, err := stood(a, name)
			if err != nil {
				return "", false, err
			}
			if note == "" && (turned || a.Yes) {
				note = seen
			} else if turned {
				note = seen + "; " + note
			}
			if !a.Yes || turned {
				says, well = q.No, false
				if note == "" {
					return "", false, quantity.Refuse("answers."+q.Code, "Say what you saw, and where.",
						"says no, but not what was seen")
				}
			}
			if note != "" {
				says += ": " + note
			}
			parts = append(parts, says)
		}
		if given != 1 {
			return "", false, quantity.Refuse("answers."+q.Code, "Answer each question once.", "has %d answers", given)
		}
	}
	if len(answers) != len(Questions) {
		return "", false, quantity.Refuse(
			"answers",
			"Answer each question once.",
			"are to a question that is not asked",
		)
	}
	return Began + strings.Join(parts, "; ") + ".", well, nil
}
