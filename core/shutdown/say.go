package shutdown

import (
	"fmt"
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

// linked is the activity that a link without a name of its own comes from.
func linked(link string) string {
	from, _, _ := strings.Cut(link, ">")
	return from
}

// doing is how a kind is told of.
var doing = map[Kind]string{Prepare: "preparing", Hold: "the hold of", Lubricate: "lubricating", Tighten: "tightening",
	Prove: "proving", Witness: "the witness of"}

// told is an activity in words: tightening SW-111.
func told(id string) string {
	tag, k := Of(id)
	if w := doing[k]; w != "" {
		return w + " " + tag
	}
	return id
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
