package plan

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"sync"

	"dynacor/core/quantity"
	"dynacor/core/sequence"
	"dynacor/core/training"
)

// HouseRules are the site's chosen schools and limits.
type HouseRules struct {
	Version   int    `json:"version"`
	Scheme    string `json:"scheme"`
	Pattern   string `json:"pattern"`
	Sectors   int    `json:"sectors"`   // of the order by groups of bolts: 4 or 8
	Numbering string `json:"numbering"` // "place" or "order"
	Policy    string `json:"policy"`    // inside a range: "low", "middle", "high"
	// usable range of a wrench starts at this share of full scale
	MinFrac          float64            `json:"minFrac"`
	PreferredFrac    float64            `json:"preferredFrac"`
	MaxYieldPct      float64            `json:"maxYieldPct"`
	MinYieldPct      float64            `json:"minYieldPct"`
	MovedLimitDeg    float64            `json:"movedLimitDeg"`
	MaxCheckPasses   int                `json:"maxCheckPasses"`
	PauseMinutes     float64            `json:"pauseMinutes"`   // a longer silence asks for the setting again
	SecondsPerPull   float64            `json:"secondsPerPull"` // with moving to the next
	SecondsPerPass   float64            `json:"secondsPerPass"` // setting the wrench
	Limits           map[string]float64 `json:"limits"`         // mm, by limit key of the checks
	DueSoonDays      int                `json:"dueSoonDays"`
	SessionHours     float64            `json:"sessionHours,omitempty"`     // a sign-in ends after so long
	SessionIdleHours float64            `json:"sessionIdleHours,omitempty"` // and after so long without being seen
	// what a reading may be off where the document gives no tolerance
	ReadingBandPct float64 `json:"readingBandPct,omitempty"`
	// loosening takes so many times the tightening torque
	LooseningFactor float64 `json:"looseningFactor,omitempty"`
	// the first round of a gasket goes to so many per cent of the target at most, 0: as far as the scheme says
	FirstRoundPct float64 `json:"firstRoundPct,omitempty"`
	// share of what it went on at below which a fastener that is let go was loose already; 0: LooseShare
	LooseShare float64 `json:"looseShare,omitempty"`
	// how a click wrench is wound down: "lowest_mark" or "maker"
	Storage       string  `json:"storage,omitempty"`
	RetorqueHours float64 `json:"retorqueHours"` // 0: not asked for
	// a nut may turn so far when it is tried again after a time
	RetorqueLimitDeg float64 `json:"retorqueLimitDeg"`
	HeatCheckHours   float64 `json:"heatCheckHours"`       // looked at again so soon after a heat cycle; 0: not asked for
	RetestMonths     float64 `json:"retestMonths"`         // a test under pressure holds so long; 0: no end
	Extensions       string  `json:"extensions,omitempty"` // straight extensions: "in_line" or "none"
	Powered          string  `json:"powered,omitempty"`    // powered wrenches: "never" or "run_down"
	// where the document names none: "ask", or the code of a card
	Lubricant string `json:"lubricant,omitempty"`
	Audit     string `json:"audit,omitempty"` // "moving_on", "no_movement" or "marks"
	// of an audit: so many of the fasteners are drawn, at least so many; the torque at which one moves on lies between
	// two parts of its target; so many may lie outside
	AuditShare       float64           `json:"auditShare,omitempty"`
	AuditLeast       int               `json:"auditLeast,omitempty"`
	AuditLow         float64           `json:"auditLow,omitempty"`
	AuditHigh        float64           `json:"auditHigh,omitempty"`
	AuditMostOut     int               `json:"auditMostOut"`
	PrimaryTorque    quantity.Unit     `json:"primaryTorque"`
	SecondaryTorque  quantity.Unit     `json:"secondaryTorque"`
	Reasons          map[string]string `json:"reasons"` // why each choice, by field
	ProtectiveAtSite string            `json:"protectiveAtSite"`
	// about somebody who has not been trained for a tool or a family: "off", "warn" or "block"
	Training string `json:"training,omitempty"`
	// before stages or order of a joint are changed: "none" or "compare"
	LabCompare string `json:"labCompare,omitempty"`
}

// How a click wrench is wound down after work: to the lowest mark of its scale, or as its maker says.
const (
	StorageLowestMark = "lowest_mark"
	StorageMaker      = "maker"
)

// RuleKind is how a house rule is stated.
type RuleKind string

// The kinds of rule: a figure, one of several choices, a lubricant card or that it is asked for, words.
const (
	RuleFigure    RuleKind = "figure"
	RuleChoice    RuleKind = "choice"
	RuleLubricant RuleKind = "lubricant"
	RuleWords     RuleKind = "words"
)

// RuleChoiceOf is one choice of a rule.
type RuleChoiceOf struct {
	Value string `json:"value"`
	Label string `json:"label"`
	// what it looks like: the order in which a ring of bolts is visited, the stages in percent
	Order  []int     `json:"order,omitempty"`
	Stages []float64 `json:"stages,omitempty"`
}

// HouseRule describes one rule. What is checked, what a version from before the rule had stands in for, and the form of
// the Library all follow from it.
type HouseRule struct {
	Key     string         `json:"key"` // as in HouseRules; limits.proof_gap for one limit
	Label   string         `json:"label"`
	Kind    RuleKind       `json:"kind"`
	Unit    string         `json:"unit,omitempty"`
	Low     float64        `json:"low,omitempty"` // of a figure, both ends allowed
	High    float64        `json:"high,omitempty"`
	Whole   bool           `json:"whole,omitempty"`   // a count
	Share   bool           `json:"share,omitempty"`   // a part of one, which people read in per cent
	Choices []RuleChoiceOf `json:"choices,omitempty"` // of a choice
	// where practitioners differ: the key of the site's reason for its choice
	Why string `json:"why,omitempty"`

	reason    string // as delivered
	delivered any    // float64 or string: the more cautious choice
	at        func(*HouseRules) any
}

func figureRule(key, label, unit string, low, high, delivered float64, at func(*HouseRules) any) HouseRule {
	return HouseRule{Key: key, Label: label, Kind: RuleFigure, Unit: unit, Low: low, High: high, delivered: delivered,
		at: at}
}

func countRule(key, label, unit string, low, high, delivered float64, at func(*HouseRules) any) HouseRule {
	r := figureRule(key, label, unit, low, high, delivered, at)
	r.Whole = true
	return r
}

func shareRule(key, label string, low, high, delivered float64, at func(*HouseRules) any) HouseRule {
	r := figureRule(key, label, "", low, high, delivered, at)
	r.Share = true
	return r
}

// drawn gives each choice what it looks like.
func (r HouseRule) drawn(look func(value string) (order []int, stages []float64)) HouseRule {
	for i := range r.Choices {
		r.Choices[i].Order, r.Choices[i].Stages = look(r.Choices[i].Value)
	}
	return r
}

// drawnBolts is how many bolts the ring has on which an order is drawn; eighths take more.
const drawnBolts = 12

func ring(p sequence.Pattern, n, sectors int) []int {
	o, err := sequence.Visiting(p, n, sequence.Options{Groups: sectors})
	if err != nil {
		return nil
	}
	return o.Visit
}

// limitRule is a limit of a check, mm.
func limitRule(key, label string, delivered float64) HouseRule {
	return HouseRule{Key: "limits." + key, Label: label, Kind: RuleFigure, Unit: "mm", Low: 0.001, High: 50,
		delivered: delivered}
}

// choiceRule takes its choices as value, label, value, label; the first is not always the delivered one.
func choiceRule(key, label, delivered string, at func(*HouseRules) any, choices ...string) HouseRule {
	r := HouseRule{Key: key, Label: label, Kind: RuleChoice, delivered: delivered, at: at}
	for i := 0; i+1 < len(choices); i += 2 {
		r.Choices = append(r.Choices, RuleChoiceOf{Value: choices[i], Label: choices[i+1]})
	}
	return r
}

// school says that practitioners differ: the site gives its reason beside its choice.
func (r HouseRule) school(key, reason string) HouseRule {
	r.Why, r.reason = key, reason
	return r
}

// listed holds the rules once they have been asked for. It is no function value, so that a program that asks for none
// does not carry them.
var listed struct {
	once  sync.Once
	rules []HouseRule
}

func houseRules() []HouseRule {
	listed.once.Do(func() { listed.rules = listHouseRules() })
	return listed.rules
}

// HouseRuleList describes every rule, in the order in which people read them.
func HouseRuleList() []HouseRule { return slices.Clone(houseRules()) }

func listHouseRules() []HouseRule {
	var schemes []string
	for _, s := range sequence.Schemes() {
		schemes = append(schemes, s.Code, s.Name)
	}
	torques := []string{"N_m", "N·m", "ft_lbf", "ft·lbf", "in_lbf", "in·lbf", "kgf_m", "kgf·m"}
	return []HouseRule{
		choiceRule("scheme", "Stages", "30_70_100", func(r *HouseRules) any { return &r.Scheme }, schemes...).
			drawn(func(code string) ([]int, []float64) {
				s, _ := sequence.SchemeByCode(code)
				return nil, s.Percents
			}).
			school("scheme", "A light first stage spares the gasket; three stages even out the load."),
		figureRule("firstRoundPct", "First round on a gasket at most (0: no limit)", "%", 0, 100, 50,
			func(r *HouseRules) any { return &r.FirstRoundPct }).
			school("firstRoundPct", "Too much on the first bolt crushes a soft gasket there before the others reach it."),
		choiceRule("pattern", "Order", "cross", func(r *HouseRules) any { return &r.Pattern },
			string(sequence.Cross), "across, pair by pair", string(sequence.Group), "quarters or eighths",
			string(sequence.Clockwise), "around").
			drawn(func(p string) ([]int, []float64) { return ring(sequence.Pattern(p), drawnBolts, 4), nil }).
			school("pattern", "Opposite pairs keep the faces parallel while they close."),
		choiceRule("sectors", "Sectors in group order", "4", func(r *HouseRules) any { return &r.Sectors }, "4",
			"quarters", "8", "eighths").
			drawn(func(sectors string) ([]int, []float64) {
				n, _ := strconv.Atoi(sectors)
				return ring(sequence.Group, 16, n), nil
			}),
		choiceRule("numbering", "Bolt numbers", "place", func(r *HouseRules) any { return &r.Numbering }, "place",
			"by place", "order", "in order of tightening").
			drawn(func(by string) ([]int, []float64) {
				if by == "place" {
					return ring(sequence.Clockwise, drawnBolts, 4), nil
				}
				return ring(sequence.Cross, drawnBolts, 4), nil
			}).
			school("numbering", "Numbers by place stay true when the order changes."),
		choiceRule("policy", "Target inside a range", "middle", func(r *HouseRules) any { return &r.Policy }, "low",
			"the low end", "middle", "the middle", "high", "the high end").
			school("policy", "The middle of a range leaves room for the tool's error on both sides."),
		shareRule("minFrac", "Lowest usable share of full scale", 0, 0.5, 0.2,
			func(r *HouseRules) any { return &r.MinFrac }).
			school("minFrac", "Below a fifth of full scale most click wrenches are not guaranteed (ISO "+
				"6789-1 practice)."),
		shareRule("preferredFrac", "Best share of full scale", 0.2, 1, 0.6,
			func(r *HouseRules) any { return &r.PreferredFrac }),
		figureRule("movedLimitDeg", "Allowed nut movement in a check round", "°", 0, 30, 0,
			func(r *HouseRules) any { return &r.MovedLimitDeg }).
			school("movedLimitDeg", "Nothing may move: the check pass is repeated until no nut turns."),
		countRule("maxCheckPasses", "Check rounds before an engineer is called", "", 1, 20, 6,
			func(r *HouseRules) any { return &r.MaxCheckPasses }),
		figureRule("maxYieldPct", "Highest bolt stress", "% of yield", 10, 95, 70,
			func(r *HouseRules) any { return &r.MaxYieldPct }).
			school("maxYieldPct", "Above 70 % of yield the spread of a torque wrench can reach yield itself."),
		figureRule("minYieldPct", "Lowest bolt stress", "% of yield", 0, 90, 40,
			func(r *HouseRules) any { return &r.MinYieldPct }),
		limitRule("alignment_gap", "Largest gap difference before tightening", 0.5).
			school("limits", "Sample limits of this site. The document's own figure goes first where it gives one."),
		limitRule("rim_offset", "Largest rim offset", 1.5),
		limitRule("hole_overlap", "Largest bolt hole offset", 2),
		limitRule("proof_gap", "Largest gap difference after tightening", 0.15),
		choiceRule("storage", "Click wrench wound down after use", StorageLowestMark,
			func(r *HouseRules) any { return &r.Storage },
			StorageLowestMark, "to its lowest mark, never below", StorageMaker, "as the maker of the wrench says").
			school("storage", "Never below the lowest mark: the mechanism comes apart; never left wound: the "+
				"spring creeps."),
		choiceRule("extensions", "Straight extensions", ExtensionInLine,
			func(r *HouseRules) any { return &r.Extensions },
			ExtensionInLine, "allowed, no correction", ExtensionNone, "not allowed").
			school("extensions",
				"In line with the nut an extension changes no torque; it only twists. Short and straight, so that "+
					"it stays in line."),
		choiceRule("powered", "Powered and impact wrenches", PoweredNever,
			func(r *HouseRules) any { return &r.Powered },
			PoweredNever, "never", PoweredRunDown, "to run nuts down only").
			school("powered", "An impact wrench can harm threads where nobody sees it."),
		choiceRule("training", "Somebody without training takes a tool", string(training.Warn),
			func(r *HouseRules) any { return &r.Training },
			string(training.Off), "nothing is said", string(training.Warn), "it is said at Ready",
			string(training.Block), "it is refused, and not planned").
			school("training", "Asked for a kind of tool or a family once somebody's training in it is written down."),
		choiceRule("labCompare", "Stages or order of a joint are changed", LabNone,
			func(r *HouseRules) any { return &r.LabCompare }, LabNone, "nothing is asked",
			LabAsked, "they are compared in the Lab first, and the plan names what it said").
			school("labCompare", "What a school leaves in the bolts depends on the joint, not on the habit."),
		HouseRule{Key: "lubricant", Label: "Where the document names no lubricant", Kind: RuleLubricant,
			Choices: []RuleChoiceOf{{Value: LubricantAsked, Label: "ask for it"}}, delivered: LubricantAsked,
			at: func(r *HouseRules) any { return &r.Lubricant }}.
			school("lubricant", "A torque holds for one lubricant; guessing it is guessing the load."),
		figureRule("retorqueHours", "Re-torque after (0: none)", "h", 0, 1000, 0,
			func(r *HouseRules) any { return &r.RetorqueHours }).
			school("retorqueHours",
				"Retightening a gasket that has been warm can break it; it is done only where the document asks."),
		figureRule("retorqueLimitDeg", "Allowed nut movement at a re-torque", "°", 0, 90, 15,
			func(r *HouseRules) any { return &r.RetorqueLimitDeg }).
			school("retorqueLimitDeg",
				"A nut that turns has lost load; one that turns far has lost most of it, and the cause is looked for."),
		figureRule("heatCheckHours", "Looked at again after a heat cycle, within (0: not asked for)", "h", 0, 1000, 24,
			func(r *HouseRules) any { return &r.HeatCheckHours }).
			school("heatCheckHours", "A gasket that has been warm gives way; it is looked at cold, and not retightened hot."),
		figureRule("retestMonths", "A test under pressure is done again after (0: never)", "months", 0, 240, 0,
			func(r *HouseRules) any { return &r.RetestMonths }).
			school("retestMonths", "Local codes say how long a test holds."),
		choiceRule("audit", "Audit of a finished joint", AuditMovingOn, func(r *HouseRules) any { return &r.Audit },
			AuditMovingOn, "by the torque at which a nut moves on", AuditNoMovement,
			"at the last setting, nothing may turn", AuditMarks, "by its marks, with no tool").
			school("audit", "Read in the tightening direction the torque shows nuts that stand out, without "+
				"loosening any."),
		shareRule("auditShare", "Audit: share of the fasteners that is drawn", 0.01, 1, 0.1,
			func(r *HouseRules) any { return &r.AuditShare }).
			school("auditShare", "A tenth, and at least two, is the habit of steelwork (RCSC); the document's own "+
				"figure goes first. What a sample misses it cannot tell."),
		countRule("auditLeast", "Audit: drawn at least", "", 1, 100, 2,
			func(r *HouseRules) any { return &r.AuditLeast }),
		shareRule("auditLow", "Audit: a nut moves on at this share of its target or more", 0.3, 1, 0.85,
			func(r *HouseRules) any { return &r.AuditLow }).
			school("auditLow", "A restart torque is not the load: friction at rest is higher. The window shows "+
				"what stands out."),
		shareRule("auditHigh", "Audit: and at this share or less", 1, 3, 1.4,
			func(r *HouseRules) any { return &r.AuditHigh }),
		countRule("auditMostOut", "Audit: so many may lie outside", "", 0, 20, 0,
			func(r *HouseRules) any { return &r.AuditMostOut }),
		figureRule("sessionHours", "Longest sign-in", "h", 0.5, 168, 14,
			func(r *HouseRules) any { return &r.SessionHours }),
		figureRule("sessionIdleHours", "Sign-in ends after no activity for", "h", 0.25, 168, 4,
			func(r *HouseRules) any { return &r.SessionIdleHours }),
		figureRule("readingBandPct", "Tolerance of a reading where the document gives none", "%", 1, 20, 5,
			func(r *HouseRules) any { return &r.ReadingBandPct }),
		figureRule("looseningFactor", "Loosening torque as a multiple of the tightening torque", "", 1, 4, 1.5,
			func(r *HouseRules) any { return &r.LooseningFactor }),
		figureRule("looseShare", "Loose already, when it lets go below this share of what it went on at", "", 0, 0.9,
			LooseShare, func(r *HouseRules) any { return &r.LooseShare }),
		figureRule("pauseMinutes", "Setting confirmed again after a pause of", "min", 1, 600, 45,
			func(r *HouseRules) any { return &r.PauseMinutes }),
		figureRule("secondsPerPull", "Time for one pull", "s", 1, 3600, 35,
			func(r *HouseRules) any { return &r.SecondsPerPull }),
		figureRule("secondsPerPass", "Time to set the wrench", "s", 0, 3600, 90,
			func(r *HouseRules) any { return &r.SecondsPerPass }),
		countRule("dueSoonDays", "Certificate shown as due soon for the last", "days", 0, 365, 30,
			func(r *HouseRules) any { return &r.DueSoonDays }),
		choiceRule("primaryTorque", "Torque unit", "N_m", func(r *HouseRules) any { return &r.PrimaryTorque },
			torques...),
		choiceRule("secondaryTorque", "Second torque unit", "ft_lbf",
			func(r *HouseRules) any { return &r.SecondaryTorque }, torques...),
		{Key: "protectiveAtSite", Label: "Protective equipment", Kind: RuleWords,
			delivered: "Helmet, glasses, gloves, boots", at: func(r *HouseRules) any { return &r.ProtectiveAtSite }},
	}
}

// limitKey is the key of a limit in the map of them, "" for any other rule.
func (r HouseRule) limitKey() string {
	key, _ := strings.CutPrefix(r.Key, "limits.")
	if key == r.Key {
		return ""
	}
	return key
}

// figure is the rule's value in a set of rules as a number; ok is false for one of another kind and for a limit that is
// missing.
func (r HouseRule) figure(h *HouseRules) (v float64, ok bool) {
	if k := r.limitKey(); k != "" {
		v, ok = h.Limits[k]
		return v, ok
	}
	switch p := r.at(h).(type) {
	case *float64:
		return *p, true
	case *int:
		return float64(*p), true
	}
	return 0, false
}

// words is its value as it is chosen.
func (r HouseRule) words(h *HouseRules) string {
	switch p := r.at(h).(type) {
	case *string:
		return *p
	case *quantity.Unit:
		return string(*p)
	case *int:
		return fmt.Sprint(*p)
	}
	return ""
}

// deliver puts the delivered value in.
func (r HouseRule) deliver(h *HouseRules) {
	if k := r.limitKey(); k != "" {
		h.Limits[k] = r.delivered.(float64)
		return
	}
	switch p := r.at(h).(type) {
	case *float64:
		*p = r.delivered.(float64)
	case *int:
		if n, ok := r.delivered.(float64); ok {
			*p = int(n)
		} else {
			_, _ = fmt.Sscan(r.delivered.(string), p)
		}
	case *string:
		*p = r.delivered.(string)
	case *quantity.Unit:
		*p = quantity.Unit(r.delivered.(string))
	}
}
