// Package dossier says what the hand-over book of a work package holds, in which order it is bound, and what is missing
// from it with who can supply it. It draws nothing.
package dossier

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"dynacor/core/authority"
	"dynacor/core/run"
)

// Chapter is a part of a book.
type Chapter string

// The chapters, in the order in which they are bound.
const (
	Front      Chapter = "front" // title, contents, gaps
	Joints     Chapter = "joints"
	Tests      Chapter = "tests"
	Tools      Chapter = "tools"
	Lots       Chapter = "lots"
	People     Chapter = "people"
	Deviations Chapter = "deviations"
	Numbers    Chapter = "numbers"
)

// Chapters are all of them in that order, with the word for each.
var Chapters = []struct {
	Chapter Chapter
	Word    string
}{{Front, "Front"}, {Joints, "Joints"}, {Tests, "Tests"}, {Tools, "Tools, gauges"}, {Lots, "Parts, lots"},
	{People, "People"}, {Deviations, "Deviations"}, {Numbers, "Numbers"}}

// Word names a chapter as a page does.
func (c Chapter) Word() string {
	for _, x := range Chapters {
		if x.Chapter == c {
			return x.Word
		}
	}
	return string(c)
}

// Record is a sealed record of a joint as far as a book asks for it.
type Record struct {
	Number   string
	Mark     string
	Verdict  run.VerdictCode
	Apart    bool   // the joint was taken apart
	Follows  string // the record after which it was worked on again
	SealedAt time.Time
	Added    int       // additions behind the seal
	UsedAt   time.Time // when a tool was last used for it
	Persons  []string
	Tools    []string
	Lots     []Lot
}

// Lot is a batch or a part that a record names.
type Lot struct{ Kind, Value string }

// Joint is a joint of the package as it stands.
type Joint struct {
	Tag, Name, Family string
	Bolts             int
	Glyph             run.Glyph
	Summary           string
	UnderWay          bool     // a run is open
	Records           []Record // in order of sealing
}

// Test is a test under pressure that covers a joint of the package.
type Test struct {
	Tag, Title string
	Joints     []string
	Closed     bool
	Good       bool
	Word       string // of its verdict
	Mark       string
	Gauge      string // its tag
}

// Tool is a tool as the crib knows it now.
type Tool struct {
	Tag, Name   string
	Dated       bool // it needs a certificate
	Certificate string
	Ends        string // the last day of it, "2006-01-02"
	LastUsed    time.Time
}

// Facts is what is known of a work package.
type Facts struct {
	Package, Name string
	Joints        []Joint
	Tests         []Test
	Tools         []Tool // those that records or tests of the package name
	People        []run.Person
	Asked         []Ask // who was asked for something before
}

// Entry is what stands in a book under one heading. Leaves is how many it will take about.
type Entry struct {
	Chapter Chapter   `json:"chapter"`
	Key     string    `json:"key"` // tag, or the chapter's name
	Title   string    `json:"title"`
	Note    string    `json:"note"`
	Glyph   run.Glyph `json:"glyph,omitempty"` // of a joint
	Family  string    `json:"family,omitempty"`
	Bolts   int       `json:"bolts,omitempty"`
	Records []Sealed  `json:"records,omitempty"` // the last one speaks for the joint; those before it are what it follows
	Mark    string    `json:"mark,omitempty"`    // of a test's sheet
	Gap     bool      `json:"gap"`
	Leaves  int       `json:"leaves"`
}

// Sealed names a record, and how much behind it belongs to the book.
type Sealed struct {
	Number string `json:"number"`
	Mark   string `json:"mark"`
	Added  int    `json:"added"`
}

// GapCode says what is missing.
type GapCode string

// The codes.
const (
	NoRecord      GapCode = "no_record"
	NotSealed     GapCode = "not_sealed"
	TurnedDown    GapCode = "turned_down"
	TakenApart    GapCode = "taken_apart"
	DueAgain      GapCode = "due_again"
	TestOpen      GapCode = "test_open"
	TestFailed    GapCode = "test_failed"
	NoCertificate GapCode = "no_certificate"
	CertificateUp GapCode = "certificate_over"
)

// Gap is something that a book should have and nobody has yet.
type Gap struct {
	Code    GapCode  `json:"code"`
	Chapter Chapter  `json:"chapter"`
	Key     string   `json:"key"` // of its entry
	What    string   `json:"what"`
	Note    string   `json:"note"`
	Roles   []string `json:"roles"`  // whose it is to supply
	Who     []string `json:"who"`    // names of those who have such a role
	WhoIDs  []string `json:"whoIds"` // and their identifiers, in the same order

	Asked []AskedOf `json:"asked,omitempty"` // who was asked for it
}

// Book is what is to be bound.
type Book struct {
	Package string   `json:"package"`
	Name    string   `json:"name"`
	Entries []Entry  `json:"entries"`
	Gaps    []Gap    `json:"gaps"`
	Tools   []string `json:"tools"` // tags
	Lots    []Where  `json:"lots"`
	Persons []Where  `json:"persons"`
}

// Used gives the tags of the tools that records which speak for a joint, and tests, name, with when each was last used;
// of a gauge that is the zero time.
func (f Facts) Used() map[string]time.Time {
	used := map[string]time.Time{}
	put := func(tag string, at time.Time) {
		if was, ok := used[tag]; tag != "" && (!ok || at.After(was)) {
			used[tag] = at
		}
	}
	for _, j := range f.Joints {
		for _, r := range speaks(j.Records) {
			for _, tag := range r.Tools {
				put(tag, r.UsedAt)
			}
		}
	}
	for _, t := range f.Tests {
		put(t.Gauge, time.Time{})
	}
	return used
}

// Newer gives the joints and tests of a later book that are not as they stand in this one: other records, additions
// behind one, another sheet.
func (b Book) Newer(now Book) []string {
	was := map[string]Entry{}
	for _, e := range b.Entries {
		was[string(e.Chapter)+e.Key] = e
	}
	out := []string{}
	for _, e := range now.Entries {
		if o := was[string(e.Chapter)+e.Key]; (e.Chapter == Joints || e.Chapter == Tests) &&
			(o.Key == "" || o.Mark != e.Mark || !slices.Equal(o.Records, e.Records)) {
			out = append(out, e.Key)
		}
	}
	return out
}

// Where is a value and the joints it was used at.
type Where struct {
	Kind   string   `json:"kind"`
	Value  string   `json:"value"`
	Joints []string `json:"joints"`
}

// About how many leaves an entry takes before it is drawn.
const (
	leavesOfRecord = 4
	rowsOfLeaf     = 50
)

// Bind lays out the book of a package: its joints in order of their tags, each with the record that speaks for it and
// what that one follows; tests that cover one of them; the tools, lots and people that the records name.
func Bind(f Facts) Book {
	b := Book{Package: f.Package, Name: f.Name, Gaps: []Gap{}, Tools: []string{}, Lots: []Where{}, Persons: []Where{}}
	binder := binder{Book: &b, people: f.People}
	joints := slices.Clone(f.Joints)
	slices.SortFunc(joints, func(x, y Joint) int { return strings.Compare(x.Tag, y.Tag) })
	tests := slices.Clone(f.Tests)
	slices.SortFunc(tests, func(x, y Test) int { return strings.Compare(x.Tag, y.Tag) })
	tools := slices.Clone(f.Tools)
	slices.SortFunc(tools, func(x, y Tool) int { return strings.Compare(x.Tag, y.Tag) })
	front := b.add(Entry{Chapter: Front, Key: string(Front), Title: "Contents and gaps"})
	for _, j := range joints {
		binder.joint(j)
	}
	for _, t := range tests {
		binder.test(t)
	}
	for _, t := range tools {
		b.Tools = append(b.Tools, t.Tag)
		binder.tool(t)
	}
	if n := len(tools); n > 0 {
		b.list(Tools, "Certificates of the tools", n)
	}
	if n := len(b.Lots); n > 0 {
		b.list(Lots, "Lots and parts that were used", n)
	}
	if n := len(b.Persons); n > 0 {
		b.list(People, "Who took part", n)
	}
	if binder.records > 0 {
		b.list(Deviations, "What departed from the plan", 1)
		b.add(Entry{Chapter: Numbers, Key: string(Numbers), Title: "How the pulls lie about their aims", Leaves: 1})
	}
	for _, list := range [][]Where{b.Lots, b.Persons} {
		slices.SortFunc(list, func(x, y Where) int {
			return cmp.Or(strings.Compare(x.Kind, y.Kind), strings.Compare(x.Value, y.Value))
		})
	}
	b.tell(f.Asked)
	b.Entries[front].Leaves = 1 + (len(b.Entries)+len(b.Gaps))/rowsOfLeaf
	return b
}

func (b *Book) add(e Entry) int {
	e.Leaves = max(e.Leaves, 1)
	b.Entries = append(b.Entries, e)
	return len(b.Entries) - 1
}

// list adds a chapter that is one list. It is in doubt when something of it is a gap.
func (b *Book) list(c Chapter, title string, rows int) {
	gap := slices.ContainsFunc(b.Gaps, func(g Gap) bool { return g.Chapter == c })
	b.add(Entry{Chapter: c, Key: string(c), Title: title, Leaves: 1 + rows/rowsOfLeaf, Gap: gap})
}

type binder struct {
	*Book
	people  []run.Person
	records int
}

func (b *binder) gap(code GapCode, c Chapter, key, what, note string, roles []string) {
	g := Gap{Code: code, Chapter: c, Key: key, What: what, Note: note, Roles: roles, Who: []string{},
		WhoIDs: []string{}}
	for _, p := range b.people {
		if authority.Covers(p.Role, roles...) {
			g.Who, g.WhoIDs = append(g.Who, p.Name), append(g.WhoIDs, p.ID)
		}
	}
	b.Gaps = append(b.Gaps, g)
}

// joint adds a joint with its records, and what of it is missing.
func (b *binder) joint(j Joint) {
	e := Entry{Chapter: Joints, Key: j.Tag, Title: j.Name, Note: j.Summary, Glyph: j.Glyph, Family: j.Family,
		Bolts: j.Bolts}
	before := len(b.Gaps)
	list := speaks(j.Records)
	for _, r := range list {
		b.records++
		e.Records = append(e.Records, Sealed{r.Number, r.Mark, r.Added})
		b.used(j.Tag, r)
	}
	b.missing(j, list)
	e.Gap = len(b.Gaps) > before
	e.Leaves = leavesOfRecord * len(list)
	if e.Gap {
		e.Leaves++ // what is missing stands in its place
	}
	b.add(e)
}

// speaks gives the last record of a joint and the ones it follows, in order of sealing.
func speaks(records []Record) []Record {
	if len(records) == 0 {
		return nil
	}
	last := records[len(records)-1]
	list := []Record{last}
	for i := len(records) - 2; i >= 0 && last.Follows != ""; i-- {
		if records[i].Number == last.Follows {
			last = records[i]
			list = append(list, last)
		}
	}
	slices.Reverse(list)
	return list
}

// missing says why a joint has no record that can be handed over.
func (b *binder) missing(j Joint, list []Record) {
	gap := func(code GapCode, what string, act authority.Act) {
		b.gap(code, Joints, j.Tag, j.Tag+", "+what, j.Summary, authority.RolesFor(act))
	}
	switch {
	case j.Glyph == run.GlyphDueAgain:
		gap(DueAgain, "to be looked at again", authority.AddToRecord)
	case j.UnderWay && j.Glyph == run.GlyphToProve:
		gap(NotSealed, "proof and second signature", authority.SignProved)
	case j.UnderWay && j.Glyph == run.GlyphStopped:
		gap(NotSealed, "stopped, nothing decided", authority.AcceptDeviation)
	case j.UnderWay && j.Glyph == run.GlyphAccepted:
		gap(NotSealed, "accepted, not sealed", authority.SignTightened)
	case j.UnderWay:
		gap(NotSealed, "under way, not sealed", authority.SignTightened)
	case len(list) == 0:
		gap(NoRecord, "no record: work has not begun", authority.SignTightened)
	case list[len(list)-1].Apart:
		gap(TakenApart, "taken apart, not fitted again", authority.SignTightened)
	case list[len(list)-1].Verdict != run.Accepted:
		gap(TurnedDown, "turned down, not made again", authority.SignTightened)
	}
}

// used notes the lots and the people of a record.
func (b *binder) used(tag string, r Record) {
	put := func(list *[]Where, kind, value string) {
		i := slices.IndexFunc(*list, func(w Where) bool { return w.Kind == kind && w.Value == value })
		if i < 0 {
			*list = append(*list, Where{Kind: kind, Value: value})
			i = len(*list) - 1
		}
		if w := &(*list)[i]; !slices.Contains(w.Joints, tag) {
			w.Joints = append(w.Joints, tag)
		}
	}
	for _, l := range r.Lots {
		put(&b.Lots, l.Kind, l.Value)
	}
	for _, p := range r.Persons {
		put(&b.Persons, "", p)
	}
}

func (b *binder) test(t Test) {
	e := Entry{Chapter: Tests, Key: t.Tag, Title: t.Title, Note: strings.Join(t.Joints, ", "), Mark: t.Mark}
	switch {
	case !t.Closed:
		b.gap(TestOpen, Tests, t.Tag, "Test "+t.Tag+", not closed", t.Title, authority.RolesFor(authority.LeadTest))
	case !t.Good:
		b.gap(TestFailed, Tests, t.Tag, "Test "+t.Tag+", "+t.Word, t.Title, authority.RolesFor(authority.PlanTest))
	}
	e.Gap = !t.Closed || !t.Good
	b.add(e)
}

// tool says when the crib has no certificate for a tool, or one that ended before the tool was last used.
func (b *binder) tool(t Tool) {
	keeper := []string{authority.ToolKeeper}
	switch {
	case !t.Dated:
	case t.Certificate == "" || t.Ends == "":
		b.gap(NoCertificate, Tools, t.Tag, t.Name+" "+t.Tag+", certificate", "none stands in the crib", keeper)
	case t.Ends < t.LastUsed.Format(time.DateOnly):
		b.gap(CertificateUp, Tools, t.Tag, t.Name+" "+t.Tag+", certificate "+t.Certificate,
			fmt.Sprintf("ran to %s, used on %s", t.Ends, t.LastUsed.Format(time.DateOnly)), keeper)
	}
}
