package record

import (
	"slices"
	"strings"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// FacetKind is one of the things that records are searched by.
type FacetKind string

// The kinds of facets.
const (
	FacetPerson    FacetKind = "person"    // who did or signed something that counts
	FacetTool      FacetKind = "tool"      // by its tag
	FacetBatch     FacetKind = "batch"     // of a lubricant, a locking compound or another product
	FacetGasket    FacetKind = "gasket"    // as the document names it
	FacetLubricant FacetKind = "lubricant" // as it was found at the joint
	FacetFinding   FacetKind = "finding"   // what was out, whatever became of it
	FacetFamily    FacetKind = "family"
	FacetVerdict   FacetKind = "verdict"
	FacetArea      FacetKind = "area"
	FacetDocument  FacetKind = "document"
	FacetAdded     FacetKind = "added" // what was added behind the seal
)

// FacetKinds are all of them.
var FacetKinds = []FacetKind{FacetPerson, FacetTool, FacetBatch, FacetGasket, FacetLubricant, FacetFinding, FacetFamily,
	FacetVerdict, FacetArea, FacetDocument, FacetAdded}

// Facet is a value of a kind.
type Facet struct {
	Kind  FacetKind
	Value string
}

// String is how a facet is kept: kind, a colon, the value.
func (f Facet) String() string { return string(f.Kind) + ":" + f.Value }

// ParseFacet reads what String gives. What has no known kind, or no value, is no facet.
func ParseFacet(text string) (Facet, bool) {
	kind, value, ok := strings.Cut(text, ":")
	f := Facet{FacetKind(kind), value}
	return f, ok && value != "" && slices.Contains(FacetKinds, f.Kind)
}

const mostFacetLetters = 120

// Facets are what a record is found by, sorted, each once. Entries that were taken back do not count; what was out
// counts whatever became of it. A value is cut after 120 letters.
func (r Record) Facets(additions []Addition) []Facet {
	var out []Facet
	put := func(kind FacetKind, value string) {
		value = strings.Join(strings.Fields(value), " ")
		if v := []rune(value); len(v) > mostFacetLetters {
			value = string(v[:mostFacetLetters])
		}
		if value != "" {
			out = append(out, Facet{kind, value})
		}
	}
	p := r.Plan
	back := map[string]bool{}
	for _, id := range r.State.TakenBack {
		back[id] = true
	}
	for _, e := range r.Events {
		if back[e.Event.ID] {
			continue
		}
		facetsOf(e.Event, put)
		if c, ok := p.Check(e.Event.Check); ok && c.Kind == procedure.Lubricant {
			put(FacetLubricant, lubricantName(p, e.Event.Answer))
		}
	}
	for _, x := range r.Results() { // as planned, when nothing was taken
		for _, tag := range x.Tags() {
			if x.Counts {
				put(FacetTool, tag)
			}
		}
	}
	for _, d := range r.State.Deviations {
		put(FacetFinding, words(string(d.Code)))
	}
	put(FacetGasket, p.Specification.Gasket)
	if p.Gasket != nil {
		put(FacetGasket, p.Gasket.Name)
	}
	put(FacetFamily, words(p.Joint.Family))
	put(FacetArea, p.Joint.Area)
	put(FacetDocument, p.Specification.Document)
	put(FacetVerdict, words(string(r.State.Verdict.Code)))
	for _, a := range additions {
		put(FacetAdded, a.Kind.Words())
		put(FacetPerson, a.Person.Name)
		if a.Kind == Retorque {
			put(FacetTool, a.Tool)
		}
		if a.Verdict == MovedPast {
			put(FacetFinding, "moved at a re-torque")
		}
	}
	slices.SortFunc(out, func(a, b Facet) int { return strings.Compare(a.String(), b.String()) })
	return slices.Compact(out)
}

// facetsOf gives what an entry tells of who, with what and of which batch.
func facetsOf(e run.Event, put func(FacetKind, string)) {
	put(FacetPerson, e.Person.Name)
	if e.Signer != nil {
		put(FacetPerson, e.Signer.Name)
	}
	put(FacetBatch, e.Batch)
	put(FacetTool, e.Device)
	if e.Wrench != nil {
		put(FacetTool, e.Wrench.Tag)
	}
	if e.SetUp != nil {
		for _, t := range e.SetUp.String {
			put(FacetTool, t.Tag)
		}
	}
}

// lubricantName is what a card is called, or its code in words when the plan does not have it.
func lubricantName(p *plan.Plan, code string) string {
	if card, ok := p.Card(code); ok {
		return card.Name
	}
	return words(code)
}

// words are a code as it is read.
func words(code string) string {
	return strings.NewReplacer("_", " ", ":", " ").Replace(strings.Trim(code, "_:"))
}
