// Package run turns the events of a run into its state and judges them as they happen. Events are facts: they are
// appended and never changed; taking one back is another event. Fold and Judge are pure, so that server, browser and
// tests agree.
package run

import (
	"slices"
	"strings"
	"time"
	"unicode"

	"dynacor/core/authority"
	"dynacor/core/preload"
	"dynacor/core/quantity"
	"dynacor/core/tool"
)

// Kind of an event.
type Kind string

// The kinds of event. Signed is written by the server alone, after the PIN was right; ToolDoubted too, when a tool that
// the work was done with is put aside in the crib.
const (
	ReadConfirmed    Kind = "read_confirmed"    // the specification and plan were read
	CheckAnswered    Kind = "check_answered"    // one check of the procedure
	WrenchTaken      Kind = "wrench_taken"      // with the data of the tools as they were then
	SettingConfirmed Kind = "setting_confirmed" // set, locked and tried
	Pulled           Kind = "pulled"            // one fastener, one pass
	Skipped          Kind = "skipped"           // left for later, with a reason
	TakenBack        Kind = "taken_back"        // an earlier event does not count, with a reason
	Loosened         Kind = "loosened"          // a fastener let go again, to be repeated
	Paused           Kind = "paused"
	Held             Kind = "held"     // stopped by a person
	Released         Kind = "released" // that stop lifted
	DeviationRaised  Kind = "deviation_raised"
	Noted            Kind = "noted"
	Signed           Kind = "signed"
	ToolDoubted      Kind = "tool_doubted"
	PartChanged      Kind = "part_changed" // a part was taken out, and a new one or the same went in
)

// Outcome of a pull.
type Outcome string

// The outcomes. A click is a click: nothing was measured.
const (
	Clicked      Outcome = "clicked"
	ClickedStill Outcome = "clicked_still" // clicked although the nut did not turn
	Short        Outcome = "short"         // stopped before the click
	Over         Outcome = "over"          // pulled past the click
	Replaced     Outcome = "replaced"      // the fastener was changed and must be brought up again
	Stalled      Outcome = "stalled"       // hydraulic wrench: at the set pressure the nut no longer turned
	RunDown      Outcome = "run_down"      // tensioner: held at pressure, nut run down, let off
	Reached      Outcome = "reached"       // a tool that shows the torque: Reading says what it showed
	ByHand       Outcome = "by_hand"       // run by hand as the step says
	Turned       Outcome = "turned"        // by TurnedDeg from its mark
	Shaped       Outcome = "shaped"        // the shape of the step is reached
	Measured     Outcome = "measured"      // Reading says what was measured
	LeftAlone    Outcome = "left"          // stays as it is: nothing was done to it
	Undone       Outcome = "undone"        // let go again on purpose
	StuckFast    Outcome = "stuck"         // will not move; Method says what it is to be got off with
)

// outcomes lists every one of them.
var outcomes = []Outcome{Clicked, ClickedStill, Stalled, RunDown, Reached, ByHand, Turned, Shaped, Measured, LeftAlone,
	Undone, StuckFast, Short, Over, Replaced}

// byTool reports whether an outcome is that of a tool that was set.
func (o Outcome) byTool() bool {
	switch o {
	case ByHand, Turned, Shaped, Measured, LeftAlone, Undone, StuckFast:
		return false
	}
	return true
}

// mayHaveNoSetting reports whether an outcome is told of work with a tool and of work without one.
func (o Outcome) mayHaveNoSetting() bool { return o == Short || o == Over || o == Replaced }

func listed(list []Outcome) string {
	last := len(list) - 1
	words := make([]string, last)
	for i, o := range list[:last] {
		words[i] = string(o)
	}
	return strings.Join(words, ", ") + " or " + string(list[last])
}

// Purpose of a signature.
type Purpose string

// The purposes.
const (
	SignHold      Purpose = "hold"       // Check names the check
	SignDeviation Purpose = "deviation"  // Ref names the deviation; Reason why it is accepted
	SignStartPass Purpose = "start_pass" // an engineer lets Pass begin with open fasteners
	SignTightened Purpose = "tightened"
	SignProved    Purpose = "proved"
	SignNoWitness Purpose = "no_witness" // Check names a witness point that nobody came to, Reason why
	// the joint is given up as it is, with Reason: the run ends and its record says so
	SignTurnedDown Purpose = "turned_down"
)

// Person as written into an event.
type Person struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Role string `json:"role"`
}

// May reports whether a person's role lets them do an act.
func (p Person) May(a authority.Act) bool { return authority.May(p.Role, a) }

// Is reports whether a role is one of a person's.
func (p Person) Is(role string) bool { return slices.Contains(authority.Held(p.Role), role) }

// Reading is a value as read and in the canonical unit of its kind.
type Reading struct {
	Value float64       `json:"value"`
	Unit  quantity.Unit `json:"unit"`
	SI    float64       `json:"si"`             // mm, N·m or degrees
	Text  string        `json:"text,omitempty"` // as it was typed, or as the tool told it
}

// In is the reading on the scale of u; one of another kind stays as it was read.
func (r Reading) In(u quantity.Unit) float64 {
	if v, err := quantity.Convert(r.Value, r.Unit, u); err == nil && r.Unit != u {
		return v
	}
	return r.Value
}

// Words are the reading as it was typed, with its unit.
func (r Reading) Words() string {
	unit := r.Unit.Symbol()
	if r.Text == "" {
		return strings.TrimSpace(quantity.Text(r.Value) + " " + unit)
	}
	if t := strings.TrimSpace(r.Text); unit == "" || strings.IndexFunc(t, unicode.IsLetter) >= 0 || strings.HasSuffix(t,
		unit) {
		return t
	}
	return strings.TrimSpace(r.Text) + " " + unit
}

// PartFound is a line of the parts list as found.
type PartFound struct {
	Code  string `json:"code"`
	State string `json:"state"` // present, missing, rejected, substituted
	Mark  string `json:"mark,omitempty"`
}

// MarkFound is what the two parts of a pair read.
type MarkFound struct {
	Code string `json:"code"`
	A    string `json:"a"`
	B    string `json:"b"`
}

// Event is one thing that happened. ID is a UUIDv7 made by the device; At the device's time. Fields not used by the
// kind are left out.
type Event struct {
	ID          string      `json:"id"`
	Kind        Kind        `json:"kind"`
	At          time.Time   `json:"at"`
	Person      Person      `json:"person"`
	Check       string      `json:"check,omitempty"`
	Answer      string      `json:"answer,omitempty"` // yes, no, na, accept, repair, replace, a lubricant code; of a part new or refitted
	Values      []Reading   `json:"values,omitempty"`
	Parts       []PartFound `json:"parts,omitempty"`
	Product     string      `json:"product,omitempty"`
	Batch       string      `json:"batch,omitempty"`
	Expiry      string      `json:"expiry,omitempty"`
	Method      string      `json:"method,omitempty"`
	Photo       string      `json:"photo,omitempty"`
	PhotoSHA256 string      `json:"photoSha256,omitempty"` // of its bytes as the device sent them
	Marks       []MarkFound `json:"marks,omitempty"`       // of a match: what each part of a pair reads
	// of a sequence: in the order they were ticked; of letting go: what was made sure of before
	Items   []string `json:"items,omitempty"`
	Who     string   `json:"who,omitempty"`     // of a choice: who answers for it
	Minutes float64  `json:"minutes,omitempty"` // of a test: how long

	Pass      int         `json:"pass,omitempty"`
	Fastener  int         `json:"fastener,omitempty"`
	Outcome   Outcome     `json:"outcome,omitempty"`
	Setting   float64     `json:"setting,omitempty"` // as set, on the scale
	Reading   *Reading    `json:"reading,omitempty"` // torque read, when the tool tells one
	Moved     *bool       `json:"moved,omitempty"`   // check pass: the nut turned
	TurnedDeg float64     `json:"turnedDeg,omitempty"`
	Wrench    *tool.Tool  `json:"wrench,omitempty"`
	SetUp     *tool.SetUp `json:"setUp,omitempty"` // with WrenchTaken, when more than a wrench is taken
	Tool      string      `json:"tool,omitempty"`  // with ToolDoubted: its tag
	Part      string      `json:"part,omitempty"`  // with PartChanged: its code in the list of parts, or lubricant
	Group     string      `json:"group,omitempty"` // with WrenchTaken: the fasteners it is taken for
	Hand      int         `json:"hand,omitempty"`  // which of several tools that pull at once, from 0
	// reaction arm bears on something solid, hands clear, said before the pull
	Clear     bool                 `json:"clear,omitempty"`
	AngleDeg  float64              `json:"angleDeg,omitempty"`  // turned since snug, as the tool told
	Trace     []preload.TracePoint `json:"trace,omitempty"`     // torque over angle, as the tool sent it
	Device    string               `json:"device,omitempty"`    // tag of the tool that sent the result
	DeviceSeq int                  `json:"deviceSeq,omitempty"` // its number: a result sent twice is one pull

	// set by the server when At cannot be true: the nearest time that can
	BoundedAt *time.Time `json:"boundedAt,omitempty"`
	// set by the server: minutes from When to receipt, when they are more than a device in touch takes
	LateMin   float64  `json:"lateMin,omitempty"`
	DeviceKey string   `json:"deviceKey,omitempty"` // set by the server: the key whose signature of this event held
	Unproved  Unproved `json:"unproved,omitempty"`  // set by the server: why no device has signed it

	Ref        string  `json:"ref,omitempty"` // the event meant
	Purpose    Purpose `json:"purpose,omitempty"`
	Signer     *Person `json:"signer,omitempty"`
	Head       string  `json:"head,omitempty"`       // with Signed: hash of the entry up to which it was signed
	PINVersion int     `json:"pinVersion,omitempty"` // with Signed: which PIN of the signer it was, from 1
	Reason     string  `json:"reason,omitempty"`
	Note       string  `json:"note,omitempty"`
}

// Unproved says why it is not proved which device an event came from.
type Unproved string

// The reasons; none for an event that a device signed, and for one that the server makes after a PIN.
const (
	UnprovedBefore Unproved = "before_keys" // made before devices had keys of their own
	UnprovedNoTLS  Unproved = "no_tls"      // made over a connection on which devices can have no keys
)

// When is the time that the rules go by: the device's own, or the nearest that can be true.
func (e Event) When() time.Time {
	if e.BoundedAt != nil {
		return *e.BoundedAt
	}
	return e.At
}

// AsSent clears what only the server says of an event.
func (e Event) AsSent() Event {
	e.BoundedAt, e.LateMin, e.DeviceKey, e.Unproved, e.Signer, e.Head, e.PINVersion = nil, 0, "", "", nil, "", 0
	return e
}
