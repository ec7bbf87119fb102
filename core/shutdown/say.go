package shutdown

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"dynacor/core/schedule"
)

// Names gives the word for a person by their identifier; others are called as they are.
type Names map[string]string

func (n Names) of(id string) string {
	if name, ok := n[id]; ok {
		return name
	}
	return id
}

// Accepted is why a joint that is done is not planned.
const Accepted = "accepted"

// Why says in a sentence why an activity begins no earlier.
func Why(b *schedule.Because, names Names) string {
	if b == nil {
		return ""
	}
	what := names.of(fmt.Sprint(b.What))
	switch b.Rule + " " + b.How {
	case "now ":
		return "It begins as soon as it can."
	case "person busy", "tool busy":
		return fmt.Sprintf("%s is at %s until then.", what, told(b.Other))
	case "person closed":
		return what + " is not there earlier."
	case "tool closed", "area closed":
		return what + " cannot be had earlier."
	case "tool carry":
		return what + " is carried there until then."
	case "area full":
		return what + " has no room for another crew until then."
	case "link min":
		if tag, ok := strings.CutPrefix(what, WaitOf("")); ok {
			return "It waits, as it was asked to, after tightening " + tag + "."
		}
		first := told(linked(what))
		return strings.ToUpper(first[:1]) + first[1:] + " comes first."
	case "link max":
		return "Earlier it would be too long before what follows: " + what + "."
	}
	switch b.Rule {
	case "isolation":
		return "The isolation " + what + " begins then."
	case "release":
		return "It is not released earlier."
	case "pin":
		return "It was set so by hand."
	case "kept":
		return "It was announced so."
	}
	return ""
}

// Binds names the activity that holds another back; "" when none does.
func Binds(b *schedule.Because) string {
	switch {
	case b == nil:
		return ""
	case b.Rule == "link" && b.How == "min":
		return linked(fmt.Sprint(b.What))
	}
	return b.Other
}

// linked is the activity that a link comes from: a link without a name of its own, or a wait.
func linked(link string) string {
	if tag, ok := strings.CutPrefix(link, WaitOf("")); ok {
		return Tighten.ID(tag)
	}
	from, _, _ := strings.Cut(link, ">")
	return from
}

// doing is how a kind is told of.
var doing = map[Kind]string{Prepare: "preparing", Hold: "the hold of", Lubricate: "lubricating", Tighten: "tightening",
	Prove: "proving", Witness: "the witness of", PressureTest: "the test"}

// told is an activity in words: tightening SW-111.
func told(id string) string {
	tag, k := Of(id)
	if w := doing[k]; w != "" {
		return w + " " + tag
	}
	return id
}

// hard are the rules that nobody sets aside by hand: a part of the work that breaks one stays where it was.
var hard = []string{"now", "horizon", "calendar", "role", "isolation", "apart", "begun", "release", "deadline"}

// Hard reports whether a broken rule is one that nobody can set aside by hand. Others can give way.
func Hard(b schedule.Broken) bool {
	return slices.Contains(hard, b.Rule) || b.Rule == "tool" && len(b.Activities) == 1
}

// Breaks says in a sentence what somebody breaks who puts a part of the work where act, its activity, would stand.
func Breaks(b schedule.Broken, act string, people []string, tools []string, names Names) string {
	other := ""
	for _, id := range b.Activities {
		if id != act {
			other = told(id)
		}
	}
	switch b.Rule {
	case "now":
		return "It is later than that."
	case "horizon":
		return "It would end after the last shift."
	case "release":
		return "It is not released by then."
	case "deadline":
		return "It would end after its deadline."
	case "calendar":
		return "Somebody is not at work for all of it."
	case "role":
		return fmt.Sprintf("%s may not do %s.", names.all(people), told(act))
	case "person":
		return fmt.Sprintf("%s is at %s then.", names.all(people), other)
	case "tool":
		if other == "" {
			return "It has not the tools that it needs."
		}
		return fmt.Sprintf("%s is at %s then.", strings.Join(tools, " + "), other)
	case "carry":
		return strings.Join(tools, " + ") + " is still carried there."
	case "area":
		return "There is no room for another crew then."
	case "link":
		return linkBreaks(b, act, other)
	case "isolation":
		return "It would not lie within one window of its isolation."
	case "apart":
		return "Whoever proves has not tightened: somebody would be at both."
	case "pin":
		return "It was set so by hand."
	case "begun":
		return "It has begun."
	}
	return b.Says
}

// linkBreaks tells an order that is not kept from a time that is too long.
func linkBreaks(b schedule.Broken, act, other string) string {
	if strings.Contains(b.Says, "at most") {
		return fmt.Sprintf("It would be too long after, or before, %s.", other)
	}
	if len(b.Activities) > 0 && b.Activities[0] == act {
		return fmt.Sprintf("It comes before %s.", other)
	}
	return strings.ToUpper(other[:min(1, len(other))]) + other[min(1, len(other)):] + " comes first."
}

// all joins the names of several.
func (n Names) all(ids []string) string {
	var out []string
	for _, id := range ids {
		out = append(out, n.of(id))
	}
	return strings.Join(out, " and ")
}

// Risk says in words what does not hold in some runs of a plan.
func Risk(b schedule.BrokenShare) string {
	switch b.Rule {
	case "horizon":
		return "The work is not done by the end of the last shift"
	case "deadline":
		return "Past its deadline: " + told(b.What)
	case "isolation":
		return b.What + " is still open when its isolation ends"
	}
	return "Longer than it may take, " + b.What
}

// Fact says in words what a fact of a forbidding set demands.
func Fact(fact string, names Names) string {
	kind, rest, _ := strings.Cut(fact, ":")
	parts := strings.Split(rest, "/")
	act := told(parts[0])
	switch kind {
	case "role":
		return "somebody who may do " + act
	case "tool":
		if len(parts) > 1 {
			return "the tools of " + parts[1] + " for " + act
		}
		return "the tools for " + act
	case "min":
		if strings.HasPrefix(rest, WaitOf("")) {
			return rest
		}
		return told(linked(rest)) + " before " + told(after(rest))
	case "max":
		return rest
	case "apart":
		a, b, _ := strings.Cut(rest, "|")
		return told(a) + " and " + told(b) + " by different people"
	case "area":
		return "room for " + act
	case "pause":
		return act + " without a rest"
	case "deadline":
		return act + " in time"
	case "release":
		return act + " not earlier than released"
	case "isolation":
		return act + " under its isolation"
	case "pin":
		if n, err := strconv.Atoi(rest); err == nil {
			return fmt.Sprintf("what was set by hand, number %d", n)
		}
	}
	return names.of(fact)
}

func after(link string) string {
	_, to, _ := strings.Cut(link, ">")
	return to
}
