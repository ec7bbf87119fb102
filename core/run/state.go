package run

import (
	"time"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// CheckStatus of a check.
type CheckStatus string

// The states of a check.
const (
	CheckOpen    CheckStatus = "open"
	CheckCleared CheckStatus = "cleared"
	CheckToSign  CheckStatus = "to_sign" // answered, the hold is not signed yet
	CheckStopped CheckStatus = "stopped"
	CheckByLeave CheckStatus = "by_leave" // failed, accepted as a deviation
	CheckToWaive CheckStatus = "to_waive" // said not to apply; somebody who may say so has not signed yet
	CheckWaived  CheckStatus = "waived"   // does not apply, by the word of somebody who may say so
)

// Settled reports whether nothing more is asked of the check.
func (s CheckStatus) Settled() bool {
	return s == CheckCleared || s == CheckByLeave || s == CheckWaived
}

// Attempt is one answer to a check, kept even when a later one is right.
type Attempt struct {
	EventID string    `json:"eventId"`
	At      time.Time `json:"at"`
	By      string    `json:"by"`
	// which person that is; records from before persons were told apart have none
	ByID string `json:"byId,omitempty"`
	Text string `json:"text"`
	OK   bool   `json:"ok"`
}

// CheckState is a check as it stands.
type CheckState struct {
	Code      string            `json:"code"`
	Status    CheckStatus       `json:"status"`
	Text      string            `json:"text"` // last answer in words
	By        string            `json:"by,omitempty"`
	At        *time.Time        `json:"at,omitempty"`
	Values    []float64         `json:"values,omitempty"` // last readings, canonical unit
	Result    *float64          `json:"result,omitempty"` // what is compared with the limit
	Direction *float64          `json:"directionDeg,omitempty"`
	Findings  []working.Finding `json:"findings"`
	Attempts  []Attempt         `json:"attempts"`
	SignedBy  string            `json:"signedBy,omitempty"`
	Mismatch  *Mismatch         `json:"mismatch,omitempty"`
	Marks     []MarkFound       `json:"marks,omitempty"`   // last answer to a match
	Worst     int               `json:"worst,omitempty"`   // number of the reading that is out, from 1
	History   []float64         `json:"history,omitempty"` // results of every attempt that gave one, oldest first
	Waiting   string            `json:"waiting,omitempty"` // why it is asked again
	// what its limits are at the temperature that was read, of the pressure of a gas
	AtTemperature *AtTemperature   `json:"atTemperature,omitempty"`
	Working       *working.Working `json:"working,omitempty"` // how the result came of the readings
}

// AtTemperature are the limits of the pressure of a gas at a temperature, in the unit of its check.
type AtTemperature struct {
	Celsius float64 `json:"celsius"`
	Low     float64 `json:"low"`
	High    float64 `json:"high"`
}

// Mismatch says what the planned torque does with the lubricant found.
type Mismatch struct {
	PlannedCode string          `json:"plannedCode"`
	PlannedName string          `json:"plannedName"`
	PlannedK    float64         `json:"plannedK"`
	FoundCode   string          `json:"foundCode"`
	FoundName   string          `json:"foundName"`
	FoundK      float64         `json:"foundK"`
	TorqueNm    quantity.Torque `json:"torqueNm"`
	PlannedKN   float64         `json:"plannedKN"`
	FoundKN     float64         `json:"foundKN"`
	ChangePct   float64         `json:"changePct"`
	RestoringNm float64         `json:"restoringNm"`
	OverYield   bool            `json:"overYield"`
	Sentence    string          `json:"sentence"`
}

// RowState is a row of checks.
type RowState struct {
	Code    string            `json:"code"`
	Title   string            `json:"title"`
	Station procedure.Station `json:"station"`
	Status  CheckStatus       `json:"status"`
	Cleared int               `json:"cleared"`
	Total   int               `json:"total"`
	Text    string            `json:"text"`
	By      string            `json:"by,omitempty"`
	At      *time.Time        `json:"at,omitempty"`
}

// Mark of a fastener in a pass.
type Mark string

// The marks: nothing yet, done, short, over, skipped, turned in a check pass, turned inside its limit.
const (
	MarkNone    Mark = ""
	MarkDone    Mark = "done"
	MarkShort   Mark = "short"
	MarkOver    Mark = "over"
	MarkSkipped Mark = "skipped"
	MarkMoved   Mark = "moved"
	MarkMovedOK Mark = "moved_ok"
	MarkPart    Mark = "part" // done in this round, not yet at its torque
)

func (m Mark) closed() bool {
	return m == MarkDone || m == MarkMoved || m == MarkMovedOK || m == MarkPart
}

// FastenerState is one fastener as it stands.
type FastenerState struct {
	Position int             `json:"position"`
	Number   int             `json:"number"` // as chalked
	Name     string          `json:"name"`   // bolt 7, bolt A3, gland nut
	Group    string          `json:"group,omitempty"`
	State    Standing        `json:"state"`
	TorqueNm quantity.Torque `json:"torqueNm"`
	Measured bool            `json:"measured"`
	Fraction float64         `json:"fraction"` // of the final torque
	Marks    []Mark          `json:"marks"`    // by pass, check rounds included
	Word     string          `json:"word,omitempty"`
	Degrees  float64         `json:"degrees,omitempty"`
	Suspect  bool            `json:"suspect,omitempty"` // clicked without turning in its first pass
	LetGoAt  string          `json:"letGoAt,omitempty"` // what it took to let it go, as it was read
}

// PassState is a pass as it stands; check rounds past the first are appended.
type PassState struct {
	Number    int             `json:"number"`
	Kind      plan.PassKind   `json:"kind"`
	Name      string          `json:"name"`
	Percent   float64         `json:"percent"`
	TorqueNm  quantity.Torque `json:"torqueNm"`
	Setting   float64         `json:"setting"`
	Unit      quantity.Unit   `json:"unit"`
	Order     []int           `json:"order"`
	Group     string          `json:"group,omitempty"`
	GroupName string          `json:"groupName,omitempty"` // when there are several
	Step      string          `json:"step,omitempty"`
	Why       string          `json:"why,omitempty"`
	Until     string          `json:"until,omitempty"`
	Caution   string          `json:"caution,omitempty"`
	Opens     string          `json:"opens,omitempty"`
	TurnDeg   float64         `json:"turnDeg,omitempty"`
	Datum     string          `json:"datum,omitempty"`
	LowNm     float64         `json:"lowNm,omitempty"`
	HighNm    float64         `json:"highNm,omitempty"`
	LowMM     float64         `json:"lowMm,omitempty"`
	HighMM    float64         `json:"highMm,omitempty"`
	// where each fastener has a target of its own
	Own      plan.OwnTargets `json:"own,omitempty"`
	MovedDeg float64         `json:"movedDeg,omitempty"` // so far may a nut turn in a check round; 0: not at all
	Tries    []float64       `json:"tries,omitempty"`    // N·m, of an effort, oldest first
	Of       int             `json:"of"`                 // fasteners in the pass
	Done     int             `json:"done"`
	Open     int             `json:"open"`
	Short    int             `json:"short"`
	Over     int             `json:"over"`
	Skipped  int             `json:"skipped"`
	Moved    int             `json:"moved"`
	Complete bool            `json:"complete"`
	From     *time.Time      `json:"from,omitempty"`
	To       *time.Time      `json:"to,omitempty"`
	People   []string        `json:"people"`
	Wrenches []string        `json:"wrenches"`
	NotRight []string        `json:"notRight"`       // in words, for the certificate
	Void     string          `json:"void,omitempty"` // why it counts no more and stands again behind
}

// Next is the fastener whose turn it is.
type Next struct {
	Fastener int      `json:"fastener"`
	Number   int      `json:"number"`
	Name     string   `json:"name"`
	Why      string   `json:"why"`
	Then     []string `json:"then"` // the following ones, by their labels
}

// Kept is the last recorded pull.
type Kept struct {
	EventID  string    `json:"eventId"`
	Fastener int       `json:"fastener"`
	Number   int       `json:"number"`
	Name     string    `json:"name"`
	Text     string    `json:"text"`
	At       time.Time `json:"at"`
}

// HandState is one of several tools that pull at once.
type HandState struct {
	Letter   string      `json:"letter"`
	Person   string      `json:"person,omitempty"`
	SetUp    *tool.SetUp `json:"setUp,omitempty"`
	Unit     string      `json:"unit"`
	Setting  float64     `json:"setting"`
	Next     *Next       `json:"next,omitempty"`
	Prev     int         `json:"prev"`
	Wait     string      `json:"wait,omitempty"` // for whom it waits
	Confirm  string      `json:"confirm,omitempty"`
	LastKept *Kept       `json:"lastKept,omitempty"`
	Left     int         `json:"left"`
}

// deviationMark stands between event and code in the identifier of a deviation.
const deviationMark = "/"

// Hand is what is in one hand in the present pass.
type Hand struct {
	Tags    []string // from hand or pump to the nut
	Setting float64
	Unit    quantity.Unit
}

// InHand gives what is in every hand, as taken, else as planned; none past the last pass, and none where no tool is
// set.
func (s *State) InHand(p *plan.Plan) []Hand {
	if s.Pass == 0 || !s.Passes[s.Pass-1].Kind.Sets() {
		return nil
	}
	tags := func(u *tool.SetUp) (out []string) {
		for _, t := range u.String {
			out = append(out, t.Tag)
		}
		return out
	}
	var list []Hand
	for _, h := range s.Hands {
		if h.SetUp != nil {
			list = append(list, Hand{tags(h.SetUp), h.Setting, quantity.Unit(h.Unit)})
		}
	}
	ps := s.Passes[s.Pass-1]
	one := func(tags []string) []Hand { return []Hand{{tags, s.Setting, ps.Unit}} }
	switch {
	case len(s.Hands) > 0:
		return list
	case s.SetUp != nil:
		return one(tags(s.SetUp))
	case s.Wrench != nil:
		return one([]string{s.Wrench.Tag})
	}
	if planned := p.GroupOf(ps.Group).InHand(); planned != nil {
		return one(tags(planned))
	}
	return nil
}

// Deviation is something that was not as planned. One event may leave several; each has an identifier of its own, and
// is accepted by itself.
type Deviation struct {
	ID     string          `json:"id"` // its event's, a slash, its code
	Code   working.Code    `json:"code"`
	What   string          `json:"what"`
	Why    string          `json:"why,omitempty"`
	Remedy string          `json:"remedy,omitempty"`
	At     time.Time       `json:"at"`
	By     string          `json:"by"`
	Status DeviationStatus `json:"status"`
	Closed string          `json:"closed,omitempty"` // by whom and why

	Pass     int `json:"pass,omitempty"`
	Fastener int `json:"fastener,omitempty"` // position
}

// DeviationStatus says how far a deviation has been dealt with.
type DeviationStatus string

// The statuses. Open and loosened ones stand in the way of the joint being accepted.
const (
	DeviationOpen     DeviationStatus = "open"
	DeviationLoosened DeviationStatus = "loosened" // let go, not yet brought up again
	DeviationReworked DeviationStatus = "reworked"
	DeviationAccepted DeviationStatus = "accepted"
	DeviationNoted    DeviationStatus = "noted"
)

// Unsettled reports whether something must still be done about it.
func (d Deviation) Unsettled() bool {
	return d.Status == DeviationOpen || d.Status == DeviationLoosened
}

// Check is a check as it stands, by its code.
func (s *State) Check(code string) CheckState {
	for i := range s.Checks {
		if s.Checks[i].Code == code {
			return s.Checks[i]
		}
	}
	return CheckState{}
}

// Signature as given by PIN.
type Signature struct {
	Purpose Purpose   `json:"purpose"`
	Check   string    `json:"check,omitempty"`
	Ref     string    `json:"ref,omitempty"`
	Name    string    `json:"name"`
	Role    string    `json:"role"`
	ID      string    `json:"id"`
	At      time.Time `json:"at"`
	Reason  string    `json:"reason,omitempty"`
}

// Reason of a verdict.
type Reason struct {
	Status ReasonStatus `json:"status"`
	Text   string       `json:"text"`
	Value  string       `json:"value,omitempty"`
}

// Verdict over the joint.
type Verdict struct {
	Code     VerdictCode `json:"code"`
	Word     string      `json:"word"`
	Sentence string      `json:"sentence"`
	Reasons  []Reason    `json:"reasons"`

	Met    int      `json:"met,omitempty"`    // checks that were met
	Of     int      `json:"of,omitempty"`     // checks that were asked
	Waived []Waiver `json:"waived,omitempty"` // checks that did not apply, by whose word
}

// Waiver is a check that was not made, by the word of somebody who may say so.
type Waiver struct {
	Check  string `json:"check"`
	Title  string `json:"title"`
	By     string `json:"by"` // name, role and reason
	Reason string `json:"reason"`
}

// State is everything the screens and the certificate show of a run.
type State struct {
	Station    procedure.Station `json:"station"`
	Glyph      Glyph             `json:"glyph"`
	Follows    string            `json:"follows,omitempty"`    // the sealed record after which it is worked on again
	FollowsWhy string            `json:"followsWhy,omitempty"` // and why
	Fresh      string            `json:"fresh,omitempty"`      // what must be there anew since it was taken apart
	ReadBy     string            `json:"readBy,omitempty"`
	ReadAt     *time.Time        `json:"readAt,omitempty"`
	Checks     []CheckState      `json:"checks"`
	Rows       []RowState        `json:"rows"`
	Passes     []PassState       `json:"passes"`
	Pass       int               `json:"pass"` // present pass, 0 before the first and after the last
	Next       *Next             `json:"next,omitempty"`
	Prev       int               `json:"prev"` // fastener last visited in this pass, 0 none
	Fasteners  []FastenerState   `json:"fasteners"`
	Confirm    string            `json:"confirm,omitempty"` // why the setting must be confirmed before the next pull
	Setting    float64           `json:"setting"`
	Wrench     *tool.Tool        `json:"wrench,omitempty"`
	SetUp      *tool.SetUp       `json:"setUp,omitempty"`    // when more than a wrench is in hand
	Done       Outcome           `json:"done,omitempty"`     // what ends a pull with it
	Reaction   *tool.Reaction    `json:"reaction,omitempty"` // what bears against something at this pass
	Hands      []HandState       `json:"hands,omitempty"`    // when several pull at once
	Coach      *tool.Coach       `json:"coach,omitempty"`
	LastKept   *Kept             `json:"lastKept,omitempty"`
	Left       int               `json:"left"`    // pulls left in this pass
	Minutes    float64           `json:"minutes"` // about how long this pass still takes
	TotalMin   float64           `json:"totalMin"`
	Gates      []string          `json:"gates"`                // checks that the present pass waits for
	Cautions   []string          `json:"cautions,omitempty"`   // what can hurt somebody at what comes next
	LoosenGate []string          `json:"loosenGate,omitempty"` // to be made sure of before the first is let go
	Exceptions []string          `json:"exceptions"`
	StoppedBy  string            `json:"stoppedBy,omitempty"` // the person, and why
	StoppedID  string            `json:"stoppedId,omitempty"` // which person that is
	Doubted    string            `json:"doubted,omitempty"`   // which tool in hand was put aside, and why
	Paused     bool              `json:"paused"`
	Blocked    []string          `json:"blocked"` // why nothing goes on, worst first
	Deviations []Deviation       `json:"deviations"`
	Findings   []working.Finding `json:"findings"` // on the last event
	Signatures []Signature       `json:"signatures"`
	Verdict    Verdict           `json:"verdict"`
	OpenItems  []string          `json:"openItems"`           // what still blocks the hand-over
	TakenBack  []string          `json:"takenBack"`           // ids that do not count
	Workers    []Person          `json:"workers,omitempty"`   // who did something to a fastener that counts
	NotProved  int               `json:"notProved,omitempty"` // events that no device has signed
	Remarks    []string          `json:"remarks,omitempty"`   // what a reader must know of how the entries came about
	ClockOff   int               `json:"clockOff,omitempty"`  // events whose device told a time that cannot be true
	Late       int               `json:"late,omitempty"`      // events that were heard of long after their time
	LateMin    float64           `json:"lateMin,omitempty"`   // the longest of these waits
	Announce   string            `json:"announce,omitempty"`  // for those who listen
	Temporary  []Temporary       `json:"temporary,omitempty"` // what is not where it ends
	CameOut    []PartFound       `json:"cameOut,omitempty"`   // taken apart: what became of each part
	Replace    []Replacement     `json:"replace,omitempty"`   // what must be there anew before it is fitted again
}
