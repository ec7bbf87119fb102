package life

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"dynacor/core/procedure"
	"dynacor/core/record"
	"dynacor/core/run"
)

// tells says what the history supports. A joint with nothing against it is told so.
func tells(in Input) []Tell {
	out := []Tell{}
	say := func(runs []int, format string, args ...any) {
		if len(runs) > 0 {
			out = append(out, Tell{fmt.Sprintf(format, args...), runs})
		}
	}
	t := &teller{in: in}
	failed := t.runs(t.failed)
	say(failed, "A test failed, or something was found in service, after %s.", named(failed))
	if len(failed) > 1 {
		if v, ok := t.same(failed, func(r Run) string { return r.Record.Plan.Specification.Gasket }); ok {
			say(failed, "Each time the gasket was of the same kind: %s.", v)
		}
		if v, ok := t.same(failed, lubricant); ok {
			say(failed, "Each time the threads had the same lubricant: %s.", v)
		}
	}
	for _, x := range t.places() {
		say(x.runs, "%s was the low one, or moved on, in %s: look at the face under it.", first(x.name), named(x.runs))
	}
	lost, accepted := t.runs(movedPast), t.runs(byLeave)
	say(lost, "Nuts had lost load at a re-torque after %s.", named(lost))
	say(accepted, "Something was out and was accepted by leave in %s.", named(accepted))
	for _, d := range in.Doubts {
		runs := t.runs(func(r Run) bool { return used(r, d.Tool) && !began(r).After(d.At) })
		say(runs, "%s, found out later (%s), was used in %s.", d.Tool, d.Reason, named(runs))
	}
	return out
}

// teller looks through the runs of a joint.
type teller struct{ in Input }

// runs gives the numbers of those that are so.
func (t *teller) runs(is func(Run) bool) []int {
	out := []int{}
	for i, r := range t.in.Runs {
		if is(r) {
			out = append(out, i+1)
		}
	}
	return out
}

func (t *teller) failed(r Run) bool {
	for _, c := range r.Record.State.Checks {
		if def, ok := r.Record.Plan.Check(c.Code); ok && def.Kind == procedure.Test &&
			slices.ContainsFunc(c.Attempts, func(a run.Attempt) bool { return !a.OK }) {
			return true
		}
	}
	return slices.ContainsFunc(r.Additions, func(a record.Addition) bool { return a.Kind == record.Finding })
}

func movedPast(r Run) bool {
	return slices.ContainsFunc(r.Additions, func(a record.Addition) bool { return a.Verdict == record.MovedPast })
}

func byLeave(r Run) bool {
	return slices.ContainsFunc(r.Record.State.Deviations, func(d run.Deviation) bool {
		return d.Status == run.DeviationAccepted
	})
}

// same gives what all of some runs have alike.
func (t *teller) same(numbers []int, of func(Run) string) (string, bool) {
	v := of(t.in.Runs[numbers[0]-1])
	for _, n := range numbers {
		if of(t.in.Runs[n-1]) != v {
			return "", false
		}
	}
	return v, v != ""
}

func lubricant(r Run) string { return facet(r, record.FacetLubricant) }

func facet(r Run, kind record.FacetKind) string {
	var out []string
	for _, f := range r.Record.Facets(nil) {
		if f.Kind == kind {
			out = append(out, f.Value)
		}
	}
	return strings.Join(out, ", ")
}

func began(r Run) time.Time {
	from, _ := r.span()
	return from
}

func used(r Run, tag string) bool {
	return slices.ContainsFunc(r.Record.Results(), func(x record.Result) bool {
		return slices.Contains(x.Tags(), tag)
	})
}

// place is a fastener that stands out in more than one run.
type place struct {
	name string
	runs []int
}

// places are the fasteners that were clearly the lowest, or moved on in a round, in more than one run.
func (t *teller) places() []place {
	by := map[string][]int{}
	var order []string
	for i, r := range t.in.Runs {
		for _, name := range standOut(r.Record) {
			if by[name] == nil {
				order = append(order, name)
			}
			by[name] = append(by[name], i+1)
		}
	}
	var out []place
	for _, name := range order {
		if len(by[name]) > 1 {
			out = append(out, place{name, by[name]})
		}
	}
	return out
}

// standOut are the fasteners of a run that were lower than the tool's own doubt explains, or that moved on in a round.
func standOut(r record.Record) []string {
	var out []string
	m := measured(r)
	for _, v := range m.values {
		if m.kind == Torque && m.aim > 0 && m.doubt > 0 && v.value < m.aim-m.doubt && v.value <= m.least {
			out = append(out, v.name)
		}
	}
	for _, x := range r.Results() {
		if x.Counts && x.Moved != nil && *x.Moved && !slices.Contains(out, x.Fastener) {
			out = append(out, x.Fastener)
		}
	}
	return out
}

// named are runs by their numbers, as a sentence names them.
func named(numbers []int) string {
	words := make([]string, len(numbers))
	for i, n := range numbers {
		words[i] = strconv.Itoa(n)
	}
	if n := len(words); n > 1 {
		return "runs " + strings.Join(words[:n-1], ", ") + " and " + words[n-1]
	}
	return "run " + strings.Join(words, "")
}

func first(s string) string {
	if s == "" {
		return s
	}
	r := []rune(s)
	return strings.ToUpper(string(r[:1])) + string(r[1:])
}
