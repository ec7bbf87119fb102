package shutdown

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"dynacor/core/quantity"
)

// Check refuses constraints that cannot be meant, naming the field: what is not known or there twice, times that are
// none or out of order, joints that come after each other in a circle.
func (c Constraints) Check(k Known) error {
	for _, check := range []func(Known) error{c.checkIsolations, c.checkJoints, c.checkCircle, c.checkAreas,
		c.checkAway, c.checkPins, c.checkCrews} {
		if err := check(k); err != nil {
			return err
		}
	}
	return nil
}

func (c Constraints) checkIsolations(Known) error {
	if len(c.Isolations) > mostIsolations {
		return quantity.Refuse("isolations", "Divide the work package.", "are more than %d", mostIsolations)
	}
	for n, i := range c.Isolations {
		field := fmt.Sprintf("isolations.%d", n+1)
		if strings.TrimSpace(i.Code) == "" {
			return quantity.Refuse(field+".code", "Give the isolation a short name.", "is empty")
		}
		if slices.ContainsFunc(c.Isolations[:n], func(o Isolation) bool { return o.Code == i.Code }) {
			return quantity.Refuse(field+".code", "Give each isolation its own.", "%s is there twice", i.Code)
		}
		if err := short(field, i.Code, i.Name); err != nil {
			return err
		}
		if len(i.Windows) == 0 || len(i.Windows) > mostWindows {
			return quantity.Refuse(field+".windows", "Say when it is shut off.", "are none, or more than %d",
				mostWindows)
		}
		last := time.Time{}
		for m, w := range i.Windows {
			from, to, err := w.times(fmt.Sprintf("%s.windows.%d", field, m+1))
			if err != nil {
				return err
			}
			if from.Before(last) {
				return quantity.Refuse(fmt.Sprintf("%s.windows.%d", field, m+1), "Put them in order, none in another.",
					"begins before the one before it ends")
			}
			last = to
		}
	}
	return nil
}

func (c Constraints) checkJoints(k Known) error {
	for n, j := range c.Joints {
		field := "joints." + j.Tag
		if !slices.Contains(k.Tags, j.Tag) {
			return quantity.Refuse(field, "Give the joint this work package first.", "%q is not in the work package",
				j.Tag)
		}
		if slices.ContainsFunc(c.Joints[:n], func(o JointConstraint) bool { return o.Tag == j.Tag }) {
			return quantity.Refuse(field, "Say it once.", "%s is there twice", j.Tag)
		}
		if j.Weight < 1 || j.Weight > MostWeight {
			return quantity.Refuse(field+".weight", "1 is the usual one.", "must be 1 to %d", MostWeight)
		}
		if err := errors.Join(clock(field+".notBefore", j.NotBefore), clock(field+".due", j.Due)); err != nil {
			return err
		}
		if j.NotBefore != "" && j.Due != "" && j.Due <= j.NotBefore {
			return quantity.Refuse(field+".due", "Let it be due after that.", "is before it may be begun")
		}
		if j.Isolation != "" && !slices.ContainsFunc(c.Isolations,
			func(i Isolation) bool { return i.Code == j.Isolation }) {
			return quantity.Refuse(field+".isolation", "List it with when it is shut off, or choose another.",
				"%q is not listed", j.Isolation)
		}
		if len(j.After) > mostAfter {
			return quantity.Refuse(field+".after", "Name those that matter.", "names more than %d joints", mostAfter)
		}
		for m, o := range j.After {
			if o == j.Tag || !slices.Contains(k.Tags, o) || slices.Contains(j.After[:m], o) {
				return quantity.Refuse(field+".after", "Name other joints of this work package, each once.",
					"%q cannot come before %s", o, j.Tag)
			}
		}
		if err := j.checkSkills(field+".skills", k); err != nil {
			return err
		}
		if j.Wait < 0 || j.Wait > MostWait {
			return quantity.Refuse(field+".wait", "Give it in minutes, 0 for none.", "must be 0 to %d", MostWait)
		}
		if err := errors.Join(short(field+".access", j.Access), short(field+".waitWhy", j.WaitWhy)); err != nil {
			return err
		}
	}
	return nil
}

func (j JointConstraint) checkSkills(field string, k Known) error {
	if len(j.Skills) > mostSkills {
		return quantity.Refuse(field, "Name those that matter.", "are more than %d", mostSkills)
	}
	for n, s := range j.Skills {
		if slices.Contains(j.Skills[:n], s) {
			return quantity.Refuse(field, "Say it once.", "%q is there twice", s)
		}
		if !slices.Contains(k.Skills, s) {
			return quantity.Refuse(field, "Write it down as training of somebody, under People, first.",
				"%q is written down for nobody", s)
		}
	}
	return nil
}

// checkCircle takes away what waits for nothing that is left, again and again: what stays waits for itself.
func (c Constraints) checkCircle(Known) error {
	left := map[string][]string{}
	for _, j := range c.Joints {
		left[j.Tag] = j.After
	}
	for again := true; again; {
		again = false
		for tag, after := range left {
			if !slices.ContainsFunc(after, func(o string) bool { _, there := left[o]; return there }) {
				delete(left, tag)
				again = true
			}
		}
	}
	if len(left) == 0 {
		return nil
	}
	var tags []string
	for tag := range left {
		tags = append(tags, tag)
	}
	slices.Sort(tags)
	return quantity.Refuse("joints."+tags[0]+".after", "Let one of them wait for none of the others.",
		"%s wait for each other", strings.Join(tags, ", "))
}

func (c Constraints) checkAreas(k Known) error {
	for n, a := range c.Areas {
		field := "areas." + a.Area
		if !slices.Contains(k.Areas, a.Area) {
			return quantity.Refuse(field, "Choose an area of these joints.", "%q holds no joint of the work package",
				a.Area)
		}
		if slices.ContainsFunc(c.Areas[:n], func(o AreaConstraint) bool { return o.Area == a.Area }) {
			return quantity.Refuse(field, "Say it once.", "%s is there twice", a.Area)
		}
		if a.Crews < 1 || a.Crews > MostCrews {
			return quantity.Refuse(field+".crews", "Leave the area out where there is room enough.", "must be 1 to %d",
				MostCrews)
		}
	}
	return nil
}

func (c Constraints) checkAway(k Known) error {
	if len(c.Away) > mostAway {
		return quantity.Refuse("away", "Take out what is past.", "are more than %d", mostAway)
	}
	for n, a := range c.Away {
		field := fmt.Sprintf("away.%d", n+1)
		if !slices.Contains(k.People, a.Person) {
			return quantity.Refuse(field+".person", "Choose somebody who can sign in.", "is nobody who is known")
		}
		if _, _, err := (Span{a.From, a.To}).times(field); err != nil {
			return err
		}
		if err := short(field+".why", a.Why); err != nil {
			return err
		}
	}
	return nil
}

func (c Constraints) checkPins(k Known) error {
	if len(c.Pins) > mostPins {
		return quantity.Refuse("pins", "Take out what is past.", "are more than %d", mostPins)
	}
	for n, p := range c.Pins {
		field := fmt.Sprintf("pins.%d", n+1)
		tags := k.Tags
		if p.Kind == PressureTest {
			tags = k.Tests
		}
		if !slices.Contains(tags, p.Tag) || doing[p.Kind] == "" {
			return quantity.Refuse(field, "Pin a part of a joint of this work package.", "%s is not known",
				p.Kind.ID(p.Tag))
		}
		if slices.ContainsFunc(c.Pins[:n], func(o Pin) bool { return o.Tag == p.Tag && o.Kind == p.Kind }) {
			return quantity.Refuse(field, "Pin it once.", "%s is there twice", p.Kind.ID(p.Tag))
		}
		if p.Person == "" && p.NotBefore == "" && p.Start == "" {
			return quantity.Refuse(field, "Say who, when, or not before when.", "holds nothing")
		}
		if p.Person != "" && !slices.Contains(k.People, p.Person) {
			return quantity.Refuse(field+".person", "Choose somebody who can sign in.", "is nobody who is known")
		}
		if err := clock(field+".start", p.Start); err != nil {
			return err
		}
		if err := clock(field+".notBefore", p.NotBefore); err != nil {
			return err
		}
		if err := short(field, p.Reason, p.By); err != nil {
			return err
		}
	}
	return nil
}

func short(field string, texts ...string) error {
	for _, t := range texts {
		if utf8.RuneCountInString(t) > mostText {
			return quantity.Refuse(field, "Say it in fewer words.", "is longer than %d letters", mostText)
		}
	}
	return nil
}

func clock(field, t string) error {
	if t == "" {
		return nil
	}
	if _, err := time.Parse(Clock, t); err != nil {
		return quantity.Refuse(field, "Give it as day and time, 2026-12-01T07:00.", "is no time")
	}
	return nil
}

func (s Span) times(field string) (from, to time.Time, err error) {
	from, fromErr := time.Parse(Clock, s.From)
	to, toErr := time.Parse(Clock, s.To)
	if fromErr != nil || toErr != nil || !from.Before(to) {
		return from, to, quantity.Refuse(field, "Give both as day and time, the first one earlier.",
			"is not from one time to a later one")
	}
	return from, to, nil
}
