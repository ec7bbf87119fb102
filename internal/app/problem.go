package app

import (
	"errors"
	"fmt"

	"dynacor/core/quantity"
)

// ProblemKind says what sort of refusal a Problem is. Whoever tells it on, by HTTP or on the command line, chooses the
// form.
type ProblemKind string

// The kinds.
const (
	Invalid     ProblemKind = "invalid"       // what was entered cannot be taken; Field says where
	NotFound    ProblemKind = "not_found"     // what was named is not there
	Conflict    ProblemKind = "conflict"      // it cannot be done as things stand
	Closed      ProblemKind = "closed"        // it cannot be done any more
	NotSignedIn ProblemKind = "not_signed_in" // nobody is, or name and PIN do not go together
	Forbidden   ProblemKind = "forbidden"     // this person, or this device, may not
	TooOften    ProblemKind = "too_often"     // it was tried too often; wait
	TooLarge    ProblemKind = "too_large"
	Outdated    ProblemKind = "outdated"    // the page is of an older program
	Unavailable ProblemKind = "unavailable" // this server cannot do it as it is set up
)

// Problem is a refusal for a person: what is wrong, where, and what to do.
type Problem struct {
	Kind    ProblemKind
	Title   string
	Field   string
	Remedy  string
	Choices []string // what may have been meant
}

func (p *Problem) Error() string {
	s := p.Title
	if p.Remedy != "" {
		s += " " + p.Remedy
	}
	return s
}

func newProblem(kind ProblemKind, title, remedy string, args ...any) error {
	return &Problem{Kind: kind, Title: fmt.Sprintf(title, args...), Remedy: remedy}
}

func notFound(what, name string) error {
	return newProblem(NotFound, "There is no %s %s.", "Check the spelling, or look in the list.", what, name)
}

// AsProblem turns any error into a Problem; a core refusal keeps its field. ok is false for a fault of the program.
func AsProblem(err error) (*Problem, bool) {
	var p *Problem
	if errors.As(err, &p) {
		return p, true
	}
	if r, ok := quantity.RefusalIn(err); ok {
		return &Problem{Kind: Invalid, Title: r.Field + " " + r.Why + ".", Field: r.Field, Remedy: r.Remedy}, true
	}
	return nil, false
}
