// Package training says what a piece of work asks its people to have been trained for, and who has not.
package training

import (
	"fmt"
	"slices"
	"strings"

	"dynacor/core/tool"
)

// About says what a training is about.
type About string

// A kind of tool, a family of joints, or another skill by its name, as work at some joints asks for: confined spaces,
// rope access.
const (
	Tool   About = "tool"
	Family About = "family"
	Skill  About = "skill"
)

// MostSkill is how many letters the name of a skill has at the most.
const MostSkill = 60

// Policy is what a site does about somebody who has not been trained.
type Policy string

// Nothing, say so, or refuse.
const (
	Off   Policy = "off"
	Warn  Policy = "warn"
	Block Policy = "block"
)

// Subject is what can be trained for: a kind of tool or a family of joints by its code, another skill by its name.
type Subject struct {
	About About
	Code  string
	Word  string // in words, for people
}

func (s Subject) same(o Subject) bool { return s.About == o.About && s.Code == o.Code }

// Held is a training of somebody.
type Held struct {
	About About
	Code  string
	Until string // the last day it is good for, 2006-01-02; "": for good
}

// Lack is a training that somebody does not have, or no longer.
type Lack struct {
	Subject
	Ended string // the day on which it ended; "": there never was one
}

// asksSkill are the groups of tools that nobody takes without having been shown how; a multiplier is one of those, too.
var asksSkill = []string{"wrenches", "hydraulic"}

// Kinds are the kinds of tool that can be trained for.
func Kinds() []Subject {
	var out []Subject
	for _, k := range tool.Kinds() {
		if slices.Contains(asksSkill, k.Group) || k.Kind == tool.MultiplierKind {
			out = append(out, Subject{Tool, string(k.Kind), k.Word})
		}
	}
	return out
}

// Needs are what working at a joint of a family with these tools asks for, of the subjects that the site asks for at
// all: those in which somebody's training has been written down.
func Needs(family Subject, tools []tool.Tool, asked []Subject) []Subject {
	var out []Subject
	add := func(s Subject) {
		is := func(o Subject) bool { return o.same(s) }
		if slices.ContainsFunc(asked, is) && !slices.ContainsFunc(out, is) {
			out = append(out, s)
		}
	}
	add(family)
	kinds := Kinds()
	for _, t := range tools {
		n := slices.IndexFunc(kinds, func(k Subject) bool { return k.Code == string(t.Kind) })
		if n >= 0 {
			add(kinds[n])
		}
	}
	return out
}

// Lacks gives which of the needs somebody does not hold on a day, 2006-01-02.
func Lacks(held []Held, needs []Subject, day string) []Lack {
	var out []Lack
	for _, s := range needs {
		l, good := Lack{Subject: s}, false
		for _, h := range held {
			if h.About != s.About || h.Code != s.Code {
				continue
			}
			if good = good || h.Until == "" || h.Until >= day; !good {
				l.Ended = max(l.Ended, h.Until)
			}
		}
		if !good {
			out = append(out, l)
		}
	}
	return out
}

// Says tells in a sentence what somebody lacks.
func Says(name string, lacks []Lack) string {
	var what []string
	for _, l := range lacks {
		w := l.Word
		if l.Ended != "" {
			w += " (ended " + l.Ended + ")"
		}
		what = append(what, w)
	}
	return fmt.Sprintf("%s has no training written down for: %s.", name, strings.Join(what, ", "))
}
