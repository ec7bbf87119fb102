package procedure

import "dynacor/core/measure"

// CheckKind says what a check is answered with.
type CheckKind string

// The kinds of check.
const (
	Confirm     CheckKind = "confirm"     // yes, no, or not applicable with a reason
	Condition   CheckKind = "condition"   // accept, repair or replace
	Measure     CheckKind = "measure"     // readings, judged by a criterion
	Lubricant   CheckKind = "lubricant"   // the card found, with product and batch
	Parts       CheckKind = "parts"       // each part present, missing, rejected or substituted
	Wrench      CheckKind = "wrench"      // the tools taken in hand
	Orientation CheckKind = "orientation" // which way a part faces, held against a drawing; never filled in beforehand
	Match       CheckKind = "match"       // marks read off parts that belong together
	Sequence    CheckKind = "sequence"    // parts ticked one after another, in their order
	Clock       CheckKind = "clock"       // the hour of a hole or slot on the clock face
	Temporary   CheckKind = "temporary"   // a thing that is put in and must come out again
	Test        CheckKind = "test"        // a test to a named procedure, with duration and result
	Responsible CheckKind = "responsible" // a choice outside the instructions, and who answers for it
	Fates       CheckKind = "fates"       // what becomes of each part that came out
)

// CheckKinds lists them.
func CheckKinds() []CheckKind {
	return []CheckKind{Confirm, Condition, Measure, Lubricant, Parts, Wrench, Orientation, Match, Sequence, Clock,
		Temporary, Test, Responsible, Fates}
}

// Pair are two marks that must agree. With PhaseDeg the parts carry the same mark and stand turned against each other.
type Pair struct {
	Code     string  `json:"code"`
	A        string  `json:"a"`
	B        string  `json:"b"`
	Expect   string  `json:"expect,omitempty"` // what both must read, when the list says so
	PhaseDeg float64 `json:"phaseDeg,omitempty"`
}

// Check is one thing to be asked before the line goes on.
type Check struct {
	Code      string    `json:"code"`
	Station   Station   `json:"station"`
	Row       string    `json:"row"` // that it stands in
	Kind      CheckKind `json:"kind"`
	When      Answers   `json:"when,omitempty"` // asked only for these answers
	Title     string    `json:"title"`
	Ask       string    `json:"ask"`
	Why       string    `json:"why"`
	Caution   string    `json:"caution,omitempty"`
	Cautions  []string  `json:"cautions,omitempty"` // of the procedure that are told here, filled in by the plan
	Do        []string  `json:"do,omitempty"`       // permitted methods
	Dont      []string  `json:"dont,omitempty"`     // forbidden methods
	Hold      bool      `json:"hold,omitempty"`     // must be signed by PIN, by another than the one who answered
	Signers   []string  `json:"signers,omitempty"`  // roles that may sign it; none: as the table of acts says
	TwoPerson bool      `json:"twoPerson,omitempty"`
	Waive     Waive     `json:"waive,omitempty"` // whose word it takes that it does not apply; "": an engineer's
	// somebody looks on and signs; one who may can go on without, with a reason
	Witness bool   `json:"witness,omitempty"`
	Photo   bool   `json:"photo,omitempty"`  // a picture is kept with the answer
	Sketch  string `json:"sketch,omitempty"` // drawing shown beside it
	Expect  string `json:"expect,omitempty"` // which way a part must face, or what must be seen

	Unit       string            `json:"unit,omitempty"`
	Stations   []int             `json:"stations,omitempty"` // permitted numbers of readings
	Names      []string          `json:"names,omitempty"`    // of the readings, when they do not go round a circle
	Criterion  measure.Criterion `json:"criterion,omitempty"`
	LimitKey   string            `json:"limitKey,omitempty"`   // which house limit applies
	HighFigure string            `json:"highFigure,omitempty"` // figure of the document that is the upper limit
	LowFigure  string            `json:"lowFigure,omitempty"`  // and the lower
	LowFactor  float64           `json:"lowFactor,omitempty"`  // times this; 0: once
	HighFactor float64           `json:"highFactor,omitempty"`
	// the check that reads the temperature of this gas: its limits hold at 20 °C, its reading is taken there first
	Temperature string  `json:"temperature,omitempty"`
	TimesCount  string  `json:"timesCount,omitempty"` // the lower limit counts the fasteners of this group
	Limit       float64 `json:"limit,omitempty"`      // upper limit, filled in by the plan
	Low         float64 `json:"low,omitempty"`        // lower limit
	LimitFrom   string  `json:"limitFrom,omitempty"`
	Exception   string  `json:"exception,omitempty"` // what is normal although it looks wrong

	Pairs    []Pair   `json:"pairs,omitempty"`    // of a match
	Items    []string `json:"items,omitempty"`    // of a sequence
	FromHour float64  `json:"fromHour,omitempty"` // permitted sector, clockwise
	ToHour   float64  `json:"toHour,omitempty"`
	// figures of the document that give the sector, each before the hour above
	FromFigure string `json:"fromFigure,omitempty"`
	ToFigure   string `json:"toFigure,omitempty"`
	// temporary: what; the check that brings it in and the one that takes it out name the same
	Item    string   `json:"item,omitempty"`
	Want    string   `json:"want,omitempty"`    // temporary: "in" or "out"
	Ways    []string `json:"ways,omitempty"`    // responsible: what may be chosen
	Cause   string   `json:"cause,omitempty"`   // probable cause of a failure
	Remedy  string   `json:"remedy,omitempty"`  // rework path
	Reopens []string `json:"reopens,omitempty"` // checks to answer and steps to do again after the rework
	Needs   []string `json:"needs,omitempty"`   // what it looks at: it is asked again when that changes; see Needed
	Tools   []string `json:"tools,omitempty"`   // asked only when one of these kinds is set; empty: always

	// asked again when the work is not done by then: a lubricant dries
	LifeMinutes float64 `json:"lifeMinutes,omitempty"`
	LifeFigure  string  `json:"lifeFigure,omitempty"` // figure of the document that gives it, before the minutes above

	Before string `json:"before,omitempty"` // step before whose first pass it must be cleared
	After  string `json:"after,omitempty"`  // step after whose last pass it must be cleared
	Each   bool   `json:"each,omitempty"`   // asked anew for each pass of the step
	// with Before: before which pass of the step, the first is 1; 0: the first
	Stage int `json:"stage,omitempty"`
	// group that a lubricant, wrench or temporary item belongs to; "": the first
	Fasteners string `json:"fasteners,omitempty"`
	Pass      int    `json:"pass,omitempty"` // filled in by the plan: must be cleared before this pass begins
}

// Asked reports whether the check belongs to the work for the answers given.
func (c Check) Asked(a map[string]string) bool { return c.When.Hold(a) }

// Part is a line of the parts list. Quantity counts per bolt of a group when PerBolt is true.
type Part struct {
	Code      string  `json:"code"`
	Name      string  `json:"name"`
	Function  string  `json:"function"`
	Quantity  float64 `json:"quantity"`
	PerBolt   bool    `json:"perBolt,omitempty"`
	Fasteners string  `json:"fasteners,omitempty"` // group counted with PerBolt; "": the first
	Match     string  `json:"match,omitempty"`     // what must agree: thread, material, gasket
	Mark      bool    `json:"mark,omitempty"`      // its stamped number or batch is written down
	Once      bool    `json:"once,omitempty"`      // used once: what was taken out never goes in again
	Spare     float64 `json:"spare,omitempty"`     // so many more are taken along
	When      Answers `json:"when,omitempty"`
	Then      Then    `json:"then,omitempty"` // what becomes of it when the joint is taken apart, filled in by the plan
	ThenWhy   string  `json:"thenWhy,omitempty"`
}

// Row is a row of checks, shown as one card.
type Row struct {
	Code    string  `json:"code"`
	Title   string  `json:"title"`
	Station Station `json:"station"`
}

// Answers are conditions on the answers to a family's questions: each question named must have one of the answers
// listed.
type Answers map[string][]string

// Hold reports whether the answers meet the condition; an empty condition always holds.
func (w Answers) Hold(given map[string]string) bool {
	for q, list := range w {
		ok := false
		for _, v := range list {
			ok = ok || v == given[q]
		}
		if !ok {
			return false
		}
	}
	return true
}

// FindCheck gives the check of a code, ok telling whether there is one.
func FindCheck(list []Check, code string) (c Check, ok bool) {
	for k := range list {
		if list[k].Code == code {
			return list[k], true
		}
	}
	return Check{}, false
}

// Opens reports whether the work rests on the check: what it looks at is part of the joint, not a tool, a list or a
// thing that comes out again.
func (c Check) Opens() bool { return c.Kind != Parts && c.Kind != Wrench && c.Kind != Temporary }

// Signed reports whether an answer waits for a signature.
func (c Check) Signed() bool { return c.Hold || c.Witness }
