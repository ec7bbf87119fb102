// Package procedure describes joint families as data: which parts, checks and holds belong to the work and why. It must never
// judge a reading; it says what to ask and which limit holds.
package procedure

import (
	"embed"
	"encoding/json"
	"fmt"
	"sync"

	"dynacor/core/quantity"
)

// Stop is one of the five stops a joint passes, in this order.
type Stop string

// The stops, and Sealed for a joint that has left the line.
const (
	Read     Stop = "read"
	Ready    Stop = "ready"
	Tighten  Stop = "tighten"
	Prove    Stop = "prove"
	HandOver Stop = "hand_over"
	Sealed   Stop = "sealed"
)

// CheckKind says what a check is answered with.
type CheckKind string

// The kinds of check.
const (
	Confirm   CheckKind = "confirm"   // yes, no, or not applicable with a reason
	Condition CheckKind = "condition" // accept, repair or replace
	Measure   CheckKind = "measure"   // readings at stations round the joint
	Lubricant CheckKind = "lubricant" // the card found, with product and batch
	Parts     CheckKind = "parts"     // each part present, missing, rejected or substituted
	Wrench    CheckKind = "wrench"    // the wrench taken in hand
)

// Criterion says how readings of a Measure check are judged.
type Criterion string

// The criteria: widest less narrowest, shift that centres the rim, each reading.
const (
	Spread  Criterion = "spread"
	Offset  Criterion = "offset"
	Maximum Criterion = "maximum"
)

// Check is one thing to be asked before the line goes on.
type Check struct {
	Code      string    `json:"code"`
	Stop      Stop      `json:"stop"`
	Group     string    `json:"group"` // row it stands in
	Kind      CheckKind `json:"kind"`
	Title     string    `json:"title"`
	Ask       string    `json:"ask"`
	Why       string    `json:"why"`
	Caution   string    `json:"caution,omitempty"`
	Do        []string  `json:"do,omitempty"`   // permitted methods
	Dont      []string  `json:"dont,omitempty"` // forbidden methods
	Hold      bool      `json:"hold,omitempty"` // must be signed by PIN
	TwoPerson bool      `json:"twoPerson,omitempty"`
	Sketch    string    `json:"sketch,omitempty"` // drawing shown beside it
	Unit      string    `json:"unit,omitempty"`
	Stations  []int     `json:"stations,omitempty"` // permitted numbers of readings
	Criterion Criterion `json:"criterion,omitempty"`
	LimitKey  string    `json:"limitKey,omitempty"` // which house limit applies
	Limit     float64   `json:"limit,omitempty"`    // filled in by the plan
	LimitFrom string    `json:"limitFrom,omitempty"`
	Cause     string    `json:"cause,omitempty"`   // probable cause of a failure
	Remedy    string    `json:"remedy,omitempty"`  // rework path
	Reopens   []string  `json:"reopens,omitempty"` // checks to repeat after the rework
	Tools     []string  `json:"tools,omitempty"`   // asked only when one of these kinds is set; empty: always
}

// Part is a line of the parts list. Quantity counts per bolt when PerBolt is true.
type Part struct {
	Code     string  `json:"code"`
	Name     string  `json:"name"`
	Function string  `json:"function"`
	Quantity float64 `json:"quantity"`
	PerBolt  bool    `json:"perBolt,omitempty"`
	Match    string  `json:"match,omitempty"` // what must agree: thread, material, gasket
}

// Family is a joint family with everything the work needs.
type Family struct {
	Code     string   `json:"code"`
	Version  int      `json:"version"`
	Name     string   `json:"name"`
	Patterns []string `json:"patterns"` // permitted visiting orders
	Snug     string   `json:"snug"`     // definition of snug
	Groups   []Group  `json:"groups"`
	Checks   []Check  `json:"checks"`
	Parts    []Part   `json:"parts"`
	Cautions []string `json:"cautions"`
	Loosen   []string `json:"loosen"`
}

// Group is a row of checks.
type Group struct {
	Code  string `json:"code"`
	Title string `json:"title"`
	Stop  Stop   `json:"stop"`
}

// Routine is what a way of tightening asks for beside the family: checks before the first pull and after the last, what to do at each
// setting, each pull and when loosening.
type Routine struct {
	Method   string   `json:"method"`
	Groups   []Group  `json:"groups"`
	Checks   []Check  `json:"checks"`
	Setting  []string `json:"setting"` // steps to set the value
	Pull     []string `json:"pull"`    // steps of each pull
	Clear    string   `json:"clear"`   // what must be said before each pull; "": nothing
	Loosen   []string `json:"loosen"`
	Cautions []string `json:"cautions"`
}

//go:embed families/*.json routines/*.json
var files embed.FS

// RoutineFor gives the routine of a method: wrench, multiplier, hydraulic or tensioner; unknown ones are refused.
func RoutineFor(method string) (Routine, error) {
	raw, err := files.ReadFile("routines/" + method + ".json")
	if err != nil {
		return Routine{}, quantity.Refuse("method", "Use wrench, multiplier, hydraulic or tensioner.", "%q is not a way of tightening", method)
	}
	var r Routine
	if err := json.Unmarshal(raw, &r); err != nil {
		return Routine{}, fmt.Errorf("procedure: routine %s: %w", method, err)
	}
	return r, nil
}

// ByCode gives a family by its code; unknown codes are refused. What it holds is shared: nobody changes it.
func ByCode(code string) (Family, error) {
	known.Lock()
	defer known.Unlock()
	if f, ok := known.families[code]; ok {
		return f, nil
	}
	raw, err := files.ReadFile("families/" + code + ".json")
	if err != nil {
		return Family{}, quantity.Refuse("family", "Use gasketed_flange.", "%q is not a joint family known here", code)
	}
	var f Family
	if err := json.Unmarshal(raw, &f); err != nil {
		return Family{}, fmt.Errorf("procedure: family %s: %w", code, err)
	}
	known.families[code] = f
	return f, nil
}

// known are the families read so far: a register names the same one on every line.
var known = struct {
	sync.Mutex
	families map[string]Family
}{families: map[string]Family{}}

// Check finds a check by its code.
func (f Family) Check(code string) (Check, bool) {
	for _, c := range f.Checks {
		if c.Code == code {
			return c, true
		}
	}
	return Check{}, false
}
