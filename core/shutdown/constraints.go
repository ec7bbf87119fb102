package shutdown

import (
	"slices"
)

// Clock is how constraints tell a time: by the site's clocks, to the minute.
const Clock = "2006-01-02T15:04"

// Constraints is what a planner knows of the joints of a work package that their own plans do not tell. Times are of
// the site's clocks, as Clock writes them; "" is none.
type Constraints struct {
	Joints     []JointConstraint `json:"joints"`
	Isolations []Isolation       `json:"isolations"`
	Areas      []AreaConstraint  `json:"areas"`
	Away       []Away            `json:"away"`
	Pins       []Pin             `json:"pins"`
	Crews      []Crew            `json:"crews"`
}

// JointConstraint is what holds for one joint.
type JointConstraint struct {
	Tag       string   `json:"tag"`
	NotBefore string   `json:"notBefore"`
	Due       string   `json:"due"`
	Weight    int      `json:"weight"` // of a minute that it is late: 1 to MostWeight
	Isolation string   `json:"isolation"`
	After     []string `json:"after"`  // joints that are done before this one is begun
	Access    string   `json:"access"` // how to get there, for whoever goes
	Wait      int      `json:"wait"`   // minutes by the clock from the last pull to the proof, 0 to MostWait
	WaitWhy   string   `json:"waitWhy"`
	Skills    []string `json:"skills"` // that everybody who works at it has, by their names
}

// Isolation is what must be shut off while a joint is open, and when it is.
type Isolation struct {
	Code    string `json:"code"`
	Name    string `json:"name"`
	Windows []Span `json:"windows"`
}

// Span is from one time to another.
type Span struct {
	From string `json:"from"`
	To   string `json:"to"`
}

// AreaConstraint says for how many crews an area has room at once.
type AreaConstraint struct {
	Area  string `json:"area"`
	Crews int    `json:"crews"` // 1 to MostCrews
}

// Away is when somebody is not there although it is their shift.
type Away struct {
	Person string `json:"person"` // id
	From   string `json:"from"`
	To     string `json:"to"`
	Why    string `json:"why"`
}

// Pin is what was decided by hand about a part of a joint's work. Reason is given when others have to give way to it.
type Pin struct {
	Tag       string `json:"tag"`
	Kind      Kind   `json:"kind"`
	Person    string `json:"person"` // id
	NotBefore string `json:"notBefore"`
	Start     string `json:"start"`
	Reason    string `json:"reason"`
	By        string `json:"by"`
}

// The most of what constraints hold.
const (
	MostWeight     = 100
	MostCrews      = 50
	MostWait       = 20160 // minutes: 14 days
	mostShifts     = 12
	mostIsolations = 100
	mostWindows    = 60
	mostAway       = 500
	mostPins       = 1000
	mostText       = 300 // letters of a note
	mostAfter      = 50
	mostSkills     = 10 // of a joint
)

// Known is what constraints may name.
type Known struct {
	Tags   []string // joints of the work package
	Tests  []string // over joints of it
	Areas  []string
	People []string // ids
	Skills []string // that somebody has
}

// Empty gives constraints that hold nothing.
func Empty() Constraints {
	return Constraints{Joints: []JointConstraint{}, Isolations: []Isolation{}, Areas: []AreaConstraint{},
		Away: []Away{}, Pins: []Pin{}, Crews: []Crew{}}
}

// SignedBy puts a name to what was decided by hand; a pin that was there before keeps the one it has.
func (c Constraints) SignedBy(name string, before Constraints) Constraints {
	c.Pins = slices.Clone(c.Pins)
	for i := range c.Pins {
		p := &c.Pins[i]
		p.By = name
		for _, o := range before.Pins {
			if q := *p; o.Tag == q.Tag {
				if q.By = o.By; q == o {
					p.By = o.By
				}
			}
		}
	}
	return c
}
