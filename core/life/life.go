// Package life lays everything that happened to a joint on one ruler, and says what its history tells.
package life

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/record"
	"dynacor/core/run"
)

// Lane is a row of the ruler.
type Lane string

// The lanes, from top to bottom.
const (
	Plans      Lane = "plan"
	Runs       Lane = "run"
	Records    Lane = "record"
	Retorques  Lane = "retorque"
	Tests      Lane = "test"
	Deviations Lane = "deviation"
	Tools      Lane = "tool"
	Service    Lane = "service"
)

// Lanes are all of them with what stands beside each.
var Lanes = []struct {
	Lane Lane
	Name string
}{{Plans, "Document"}, {Runs, "Runs"}, {Records, "Records"}, {Retorques, "Re-torques"}, {Tests, "Tests"},
	{Deviations, "Deviations"}, {Tools, "Tools found out"}, {Service, "In service"}}

// Mark is something that happened to the joint.
type Mark struct {
	Lane   Lane       `json:"lane"`
	At     time.Time  `json:"at"`
	Until  *time.Time `json:"until,omitempty"` // of what lasts
	Kind   string     `json:"kind"`            // what it is drawn as
	Title  string     `json:"title"`
	Text   string     `json:"text"`
	Bad    bool       `json:"bad"`              // it speaks against the joint
	Run    string     `json:"run,omitempty"`    // the run it belongs to
	Record string     `json:"record,omitempty"` // and its record, once sealed
}

// Specification is a version of what the document demands.
type Specification struct {
	Version  int
	At       time.Time
	Reason   string
	Document string
	Target   string
}

// Run is a piece of work on the joint: a sealed record, or what is in hand as if it were one.
type Run struct {
	ID        string
	StartedAt time.Time
	SealedAt  *time.Time
	Record    record.Record // Number is empty as long as it is not sealed
	Additions []record.Addition
	Holds     bool // the sealed file was verified; true of one that is not sealed
}

// span is from the first moment that an entry tells of to the last; of a run that is not sealed it has no end.
func (r Run) span() (from time.Time, to *time.Time) {
	from, last := r.StartedAt, time.Time{}
	for _, e := range r.Record.Events {
		at := e.Event.When()
		if at.Before(from) {
			from = at
		}
		if at.After(last) {
			last = at
		}
	}
	if r.SealedAt != nil && !last.IsZero() {
		to = &last
	}
	return from, to
}

// ToolDoubt is a tool that was found out after the joint had been tightened with it.
type ToolDoubt struct {
	Tool, Reason, How string
	At                time.Time
	Closed            *time.Time
}

// Input is everything that is known of a joint.
type Input struct {
	Specifications []Specification
	Runs           []Run
	Doubts         []ToolDoubt
}

// RunLine is a run in a few words, to be chosen and compared.
type RunLine struct {
	ID        string     `json:"id"`
	Number    int        `json:"number"` // from 1, in the order of their beginnings
	StartedAt time.Time  `json:"startedAt"`
	SealedAt  *time.Time `json:"sealedAt,omitempty"`
	Record    string     `json:"record,omitempty"`
	Glyph     run.Glyph  `json:"glyph"`
	Word      string     `json:"word"`
	Apart     bool       `json:"apart"` // it was taken apart
	Document  string     `json:"document"`
	Why       string     `json:"why,omitempty"` // why the joint was worked on again
}

// Life is a joint on one ruler.
type Life struct {
	Lanes []LaneName `json:"lanes"` // those that have something
	Marks []Mark     `json:"marks"` // by lane and time
	Runs  []RunLine  `json:"runs"`
	Tells []Tell     `json:"tells"` // what its own history says of it
}

// LaneName is a lane and what stands beside it.
type LaneName struct {
	Lane Lane   `json:"lane"`
	Name string `json:"name"`
}

// Tell is a sentence that the history of the joint supports, and the runs it comes from, by their numbers.
type Tell struct {
	Text string `json:"text"`
	Runs []int  `json:"runs"`
}

// Of lays a joint's history out.
func Of(in Input) Life {
	in.Runs = slices.Clone(in.Runs)
	slices.SortStableFunc(in.Runs, func(a, b Run) int { return began(a).Compare(began(b)) })
	l := Life{Lanes: []LaneName{}, Marks: []Mark{}, Runs: []RunLine{}}
	l.documents(in.Specifications)
	for i, r := range in.Runs {
		l.run(i+1, r)
	}
	for _, d := range in.Doubts {
		m := Mark{Lane: Tools, At: d.At, Until: d.Closed, Kind: "doubted", Title: d.Tool + " found out", Text: d.Reason,
			Bad: d.Closed == nil}
		if d.How != "" {
			m.Text += ". Closed: " + d.How
		}
		l.Marks = append(l.Marks, m)
	}
	place := func(lane Lane) int {
		return slices.IndexFunc(Lanes, func(x struct {
			Lane Lane
			Name string
		}) bool {
			return x.Lane == lane
		})
	}
	slices.SortStableFunc(l.Marks, func(a, b Mark) int {
		return cmp.Or(cmp.Compare(place(a.Lane), place(b.Lane)), a.At.Compare(b.At))
	})
	for _, x := range Lanes {
		if slices.ContainsFunc(l.Marks, func(m Mark) bool { return m.Lane == x.Lane }) {
			l.Lanes = append(l.Lanes, LaneName{x.Lane, x.Name})
		}
	}
	l.Tells = tells(in)
	return l
}

func (l *Life) documents(list []Specification) {
	for i, s := range list {
		m := Mark{Lane: Plans, At: s.At, Kind: "document", Title: s.Document, Text: s.Target}
		if s.Reason != "" {
			m.Text += ". " + s.Reason
		}
		if i+1 < len(list) {
			m.Until = &list[i+1].At
		}
		l.Marks = append(l.Marks, m)
	}
}

// run lays a run out: itself, its record and what was added behind it, its tests, what was out.
func (l *Life) run(number int, r Run) {
	p, s := r.Record.Plan, r.Record.State
	spec := p.Specification
	began, to := r.span()
	line := RunLine{ID: r.ID, Number: number, StartedAt: began, SealedAt: r.SealedAt, Record: r.Record.Number,
		Glyph: s.Glyph, Word: s.Verdict.Word, Apart: p.Way == plan.TakeDown, Why: s.FollowsWhy,
		Document: strings.TrimSpace(spec.Document + " " + spec.Revision)}
	l.Runs = append(l.Runs, line)
	put := func(m Mark) {
		m.Run, m.Record = r.ID, r.Record.Number
		l.Marks = append(l.Marks, m)
	}
	title := fmt.Sprintf("Run %d", number)
	if line.Apart {
		title += ", taken apart"
	}
	text := s.Verdict.Word
	if s.FollowsWhy != "" {
		text += ". Worked on again: " + s.FollowsWhy
	}
	put(Mark{Lane: Runs, At: began, Until: to, Kind: string(s.Glyph), Title: title, Text: text,
		Bad: s.Verdict.Code == run.TurnedDown})
	if r.SealedAt != nil {
		m := Mark{Lane: Records, At: *r.SealedAt, Kind: "sealed", Title: r.Record.Number, Text: s.Verdict.Word}
		if !r.Holds {
			m.Kind, m.Text, m.Bad = "broken", "does not verify any more", true
		}
		put(m)
	}
	for _, d := range s.Deviations {
		put(Mark{Lane: Deviations, At: d.At, Kind: string(d.Status), Title: d.What,
			Text: strings.Trim(d.Why+". "+d.Closed, ". "),
			Bad:  d.Status == run.DeviationOpen || d.Status == run.DeviationAccepted})
	}
	for _, c := range s.Checks {
		if def, ok := p.Check(c.Code); ok && def.Kind == procedure.Test {
			for _, a := range c.Attempts {
				word := map[bool]string{true: "held", false: "failed"}[a.OK]
				put(Mark{Lane: Tests, At: a.At, Kind: word, Title: def.Title + ": " + word, Text: a.Text, Bad: !a.OK})
			}
		}
	}
	for _, a := range r.Additions {
		m := Mark{Lane: Service, At: a.When(), Kind: string(a.Kind), Title: a.Kind.Words(), Text: a.What,
			Bad: a.Kind == record.Finding}
		if a.Kind == record.Retorque {
			m.Lane, m.Title, m.Text, m.Bad = Retorques, retorqueWords[a.Verdict], a.Sentence, a.Verdict == record.MovedPast
		}
		if a.Kind == record.Audited {
			m.Lane, m.Title, m.Text = Tests, "Audit by another person", a.Sentence
			m.Bad = a.Verdict == record.WholeLot || a.Verdict == record.Outside
			m.Kind = map[bool]string{true: "failed", false: "held"}[m.Bad]
		}
		if a.Kind == record.Tested {
			m.Lane, m.Title, m.Bad = Tests, "Test "+a.Test, a.Failed
			m.Kind = map[bool]string{true: "failed", false: "held"}[a.Failed]
		}
		put(m)
	}
}

var retorqueWords = map[record.AdditionVerdict]string{
	record.Stayed:     "none turned",
	record.Moved:      "turned, inside the rule",
	record.MovedPast:  "turned past the rule",
	record.Unfinished: "not all tried",
}
