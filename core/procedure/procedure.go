// Package procedure describes joint families as data: which parts, checks and holds belong to the work, in which steps
// it is done and why. It must never judge a reading; it says what to ask and which limit holds.
package procedure

import (
	"cmp"
	"embed"
	"encoding/json"
	"fmt"
	"slices"
	"sync"

	"dynacor/core/layout"
	"dynacor/core/quantity"
)

// Station is one of the five stations that a joint passes, in this order.
type Station string

// The stops, and Sealed for a joint that has left the line.
const (
	Read     Station = "read"
	Ready    Station = "ready"
	Tighten  Station = "tighten"
	Prove    Station = "prove"
	HandOver Station = "hand_over"
	Sealed   Station = "sealed"
)

// Family is a joint family with everything the work needs.
type Family struct {
	Code    string `json:"code"`
	Version int    `json:"version"`
	// which built-in family, and version of it, a site's own was copied from
	From       string      `json:"from,omitempty"`
	Name       string      `json:"name"`
	Looks      string      `json:"looks"`           // what it looks like, in a sentence
	Words      []string    `json:"words,omitempty"` // other words people look for it by
	Caution    string      `json:"caution,omitempty"`
	Questions  []Question  `json:"questions,omitempty"`
	Figures    []Figure    `json:"figures,omitempty"`
	Fasteners  []Fasteners `json:"fasteners"`
	Work       []Step      `json:"work"`
	Rows       []Row       `json:"rows"`
	Checks     []Check     `json:"checks"`
	Parts      []Part      `json:"parts"`
	Supplies   []Part      `json:"supplies,omitempty"` // consumables
	Tools      []string    `json:"tools,omitempty"`    // beside those that tighten
	Cautions   []string    `json:"cautions"`           // each with the places where it is told; see Caution
	Loosen     []string    `json:"loosen"`
	LoosenGate []string    `json:"loosenGate,omitempty"` // what must be confirmed before the first fastener is let go
	Minutes    float64     `json:"minutes,omitempty"`    // usual time before the first pull and after the last
	Apart      *Apart      `json:"apart,omitempty"`      // how it comes apart; nil: see ApartOr
}

// Question is a variant of a family: the answer changes parts, steps and checks, not only figures.
type Question struct {
	Code    string   `json:"code"`
	Ask     string   `json:"ask"`
	Why     string   `json:"why,omitempty"`
	Options []Option `json:"options"`
	Figure  string   `json:"figure,omitempty"` // answered by this figure: each option up to its UpTo
	// the answer of who gave none: of specifications from before the question was asked. "": it must be answered
	Default string  `json:"default,omitempty"`
	When    Answers `json:"when,omitempty"`
}

// Option is an answer.
type Option struct {
	Code string  `json:"code"`
	Name string  `json:"name"`
	UpTo float64 `json:"upTo,omitempty"` // of the figure; the last option takes what is above
}

// Figure is a number that the maker's document must give, beside the targets.
type Figure struct {
	Code string  `json:"code"`
	Name string  `json:"name"`
	Unit string  `json:"unit,omitempty"`
	Why  string  `json:"why,omitempty"`
	Must bool    `json:"must,omitempty"` // work does not begin without it
	Min  float64 `json:"min,omitempty"`
	Max  float64 `json:"max,omitempty"` // 0: none
	// what holds when the document gives none, as usual in the trade; 0: nothing does
	Usual float64 `json:"usual,omitempty"`
	When  Answers `json:"when,omitempty"`
	// how it is worked out of other figures, so that nobody types it; one that a document gives is held against it
	Derive *Derive `json:"derive,omitempty"`
}

// TargetKind says what a group of fasteners must end at.
type TargetKind string

// The kinds of target a family may set.
const (
	ByTorque  TargetKind = "torque"  // one of the forms of a torque target
	ByTurns   TargetKind = "turns"   // turned so far from a datum
	BySnug    TargetKind = "snug"    // snug only
	ByHand    TargetKind = "hand"    // hand-tight
	ByShape   TargetKind = "shape"   // until a shape is reached: flush, touching, run down
	ByEffort  TargetKind = "effort"  // until the effort to turn lies in a window
	ByStretch TargetKind = "stretch" // until the bolt is so much longer
	NoTorque  TargetKind = "none"    // must not be torqued
)

// TargetKinds lists them.
func TargetKinds() []TargetKind {
	return []TargetKind{ByTorque, ByTurns, BySnug, ByHand, ByShape, ByEffort, ByStretch, NoTorque}
}

// Fasteners are the bolts, nuts or screws of one face, treated alike.
type Fasteners struct {
	Code      string            `json:"code"`
	Name      string            `json:"name"`
	Noun      string            `json:"noun,omitempty"` // bolt, screw, nut, stud; "": bolt
	Face      string            `json:"face,omitempty"` // letter of the face when one body has several
	FaceDeg   float64           `json:"faceDeg,omitempty"`
	When      Answers           `json:"when,omitempty"`
	Layout    layout.Layout     `json:"layout"`
	Target    TargetKind        `json:"target"`
	TargetWhy string            `json:"targetWhy,omitempty"`
	Same      string            `json:"same,omitempty"` // takes thread, target and condition of this group
	Patterns  []string          `json:"patterns"`       // permitted visiting orders, the usual one first
	Refused   map[string]string `json:"refused,omitempty"`
	Scheme    string            `json:"scheme,omitempty"` // "": as the house rules say
	Policy    string            `json:"policy,omitempty"` // inside a range
	Snug      string            `json:"snug,omitempty"`
	// dry, degreased, lubricated, locker; "": as the document says
	Condition  string            `json:"condition,omitempty"`
	Where      string            `json:"where,omitempty"` // where the lubricant goes, or must not
	ToolsNever map[string]string `json:"toolsNever,omitempty"`
	EffortLow  float64           `json:"effortLow,omitempty"`  // window of ByEffort, as parts of the figure
	EffortHigh float64           `json:"effortHigh,omitempty"` //
	Effort     string            `json:"effort,omitempty"`     // figure that is the whole
	// figures that give the parts, each before the number above
	EffortLowFigure  string `json:"effortLowFigure,omitempty"`
	EffortHighFigure string `json:"effortHighFigure,omitempty"`
}

// Do is what a step does.
type Do string

// The steps.
const (
	DoHand    Do = "hand"    // by hand until Until
	DoTorque  Do = "torque"  // to the target, in the stages of the group's scheme
	DoStill   Do = "still"   // round at full value until nothing moves
	DoVerify  Do = "verify"  // once more at full value, each ticked
	DoTurn    Do = "turn"    // turned by TurnDeg from the mark
	DoTurns   Do = "turns"   // TurnDeg on each in turn, round after round, until each reaches its torque
	DoShape   Do = "shape"   // until a shape is reached
	DoEffort  Do = "effort"  // adjust and measure until the effort lies in its window
	DoStretch Do = "stretch" // until the bolt is longer by its target
	DoLeave   Do = "leave"   // stays as it is: must not be torqued
	DoUndo    Do = "undo"    // let go again on purpose
	DoEase    Do = "ease"    // let go in rounds, a little all round each time
)

// Dos lists them.
func Dos() []Do {
	return []Do{
		DoHand,
		DoTorque,
		DoStill,
		DoVerify,
		DoTurn,
		DoTurns,
		DoShape,
		DoEffort,
		DoStretch,
		DoLeave,
		DoUndo,
		DoEase,
	}
}

// Step is a part of the work. With several groups each stage goes through all of them before the next begins, unless it
// says otherwise.
type Step struct {
	Code   string   `json:"code"`
	Do     Do       `json:"do"`
	Groups []string `json:"groups"`
	Name   string   `json:"name,omitempty"`
	When   Answers  `json:"when,omitempty"`
	// "cardinal": the four nearest the quarters; "rest": those that no step before has taken
	Only string `json:"only,omitempty"`
	// with several groups: "group", one after another through all its stages; "", stage by stage through all of them
	Across     string   `json:"across,omitempty"`
	Pattern    string   `json:"pattern,omitempty"` // "": the group's
	Scheme     string   `json:"scheme,omitempty"`  // "": the group's, else the house rules'
	Until      string   `json:"until,omitempty"`   // what ends it, in words
	Why        string   `json:"why,omitempty"`
	Caution    string   `json:"caution,omitempty"`
	Opens      string   `json:"opens,omitempty"` // turning it opens a part: which, and which way
	TurnDeg    float64  `json:"turnDeg,omitempty"`
	TurnFigure string   `json:"turnFigure,omitempty"` // figure that gives the turn, in degrees
	Datum      string   `json:"datum,omitempty"`      // what the turn is counted from
	Rounds     []Round  `json:"rounds,omitempty"`     // of easing; none: DefaultRounds
	Needs      []string `json:"needs,omitempty"`      // what it rests on, beside the steps before it; see Needed
}

// The families are written as YAML and kept beside it as JSON, which is what is built in; a test holds the two alike.
//
//go:embed families/*.json routines/*.json
var files embed.FS

// built holds the families once they have been read. It is no function value, so that a program that asks for none does
// not carry them.
var built struct {
	once sync.Once
	list []Family
	err  error
}

func readFamilies() ([]Family, error) {
	list, err := files.ReadDir("families")
	if err != nil {
		return nil, err
	}
	var out []Family
	for _, e := range list {
		raw, err := files.ReadFile("families/" + e.Name())
		if err != nil {
			return nil, err
		}
		var f Family
		if err := json.Unmarshal(raw, &f); err != nil {
			return nil, fmt.Errorf("procedure: family %s: %w", e.Name(), err)
		}
		out = append(out, f)
	}
	return out, nil
}

// Builtin gives the families that come with the program, by their codes. What they hold is shared: nobody changes it.
func Builtin() []Family {
	built.once.Do(func() { built.list, built.err = readFamilies() })
	if built.err != nil {
		panic(built.err) // a file of the program is broken; a test reads them all
	}
	return built.list
}

// ByCode gives a built-in family by its code; unknown codes are refused. What it holds is shared: nobody changes it.
func ByCode(code string) (Family, error) {
	for _, f := range Builtin() {
		if f.Code == code {
			return f, nil
		}
	}
	return Family{}, quantity.Refuse("family", "Choose one from the Library.", "%q is not a joint family known here",
		code)
}

// Check finds a check by its code.
func (f Family) Check(code string) (Check, bool) {
	i := slices.IndexFunc(f.Checks, func(c Check) bool { return c.Code == code })
	if i < 0 {
		return Check{}, false
	}
	return f.Checks[i], true
}

// Group finds fasteners by their code.
func (f Family) Group(code string) (Fasteners, bool) {
	i := slices.IndexFunc(f.Fasteners, func(g Fasteners) bool { return g.Code == code })
	if i < 0 {
		return Fasteners{}, false
	}
	return f.Fasteners[i], true
}

// Answer completes the answers to a family's questions: those that a figure decides are worked out, one that is not
// given is asked for.
func (f Family) Answer(given map[string]string, figures map[string]float64) (map[string]string, error) {
	out := map[string]string{}
	for _, q := range f.Questions {
		if !q.When.Hold(out) {
			continue
		}
		if q.Figure != "" {
			v, ok := figures[q.Figure]
			if !ok {
				continue // listed as to be supplied
			}
			for i, o := range q.Options {
				if i == len(q.Options)-1 || quantity.AtMost(v, o.UpTo) {
					out[q.Code] = o.Code
					break
				}
			}
			continue
		}
		v := cmp.Or(given[q.Code], q.Default)
		if !slices.ContainsFunc(q.Options, func(o Option) bool { return o.Code == v }) {
			names := ""
			for i, o := range q.Options {
				if i > 0 {
					names += " or "
				}
				names += o.Code
			}
			return nil, quantity.Refuse("variant."+q.Code, "Choose "+names+".", "%s is not answered (%q)", q.Ask, v)
		}
		out[q.Code] = v
	}
	return out, nil
}

// Outline gives the fasteners and figures of the family as they are for the answers, and leaves the rest as it is:
// enough to read what a document demands, at a fraction of the cost of For.
func (f Family) Outline(answers map[string]string) Family {
	f.Fasteners = pick(f.Fasteners, func(g Fasteners) bool { return g.When.Hold(answers) })
	f.Figures = pick(f.Figures, func(x Figure) bool { return x.When.Hold(answers) })
	return f
}

// For gives the family as it is for the answers: what belongs to another variant is left out.
func (f Family) For(answers map[string]string) Family {
	keep := f.Outline(answers)
	has := func(code string) bool { _, ok := keep.Group(code); return code == "" || ok }
	keep.Parts = pick(f.Parts, func(p Part) bool { return p.When.Hold(answers) && has(p.Fasteners) })
	keep.Supplies = pick(f.Supplies, func(p Part) bool { return p.When.Hold(answers) })
	keep.Work = nil
	for _, s := range f.Work {
		s.Groups = pick(s.Groups, has)
		if s.When.Hold(answers) && len(s.Groups) > 0 {
			keep.Work = append(keep.Work, s)
		}
	}
	step := func(code string) bool {
		return code == "" || slices.ContainsFunc(keep.Work, func(s Step) bool { return s.Code == code })
	}
	keep.Checks = pick(f.Checks, func(c Check) bool {
		return c.When.Hold(answers) && has(c.Fasteners) && step(c.Before) && step(c.After)
	})
	keep.Rows = pick(f.Rows, func(g Row) bool {
		return slices.ContainsFunc(keep.Checks, func(c Check) bool { return c.Row == g.Code })
	})
	return keep
}

// Other are the parts that belong to another variant than the one answered: found on the table they tell of a wrong
// kit.
func (f Family) Other(answers map[string]string) []Part {
	return pick(f.Parts, func(p Part) bool { return !p.When.Hold(answers) })
}

// Silhouette is the outline that a joint of the family is known by when it is drawn small: circle, rectangle, clamp,
// strip, nut, or body for several faces around one.
func (f Family) Silhouette() string {
	most := layout.Layout{}
	faces := 0
	for _, g := range f.Fasteners {
		if l := g.Layout.Settle(); l.Count > most.Count {
			most = l
		}
		if g.Face != "" {
			faces++
		}
	}
	if faces > 1 {
		return "body"
	}
	switch most.Shape() {
	case layout.Rectangle:
		return "rectangle"
	case layout.Pair:
		return "clamp"
	case layout.Single, layout.Stack:
		return "nut"
	case layout.Rows, layout.Layers, layout.Free:
		return "strip"
	}
	return "circle"
}

func pick[T any](list []T, keep func(T) bool) []T {
	out := make([]T, 0, len(list))
	for _, v := range list {
		if keep(v) {
			out = append(out, v)
		}
	}
	return out
}
