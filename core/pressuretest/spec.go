// Package pressuretest leads a test under pressure of one or more joints: what must be so before, the steps up, the
// holds, the look at each joint, and down again. Pressures are in bar at the gauge; of a vacuum they are absolute. A
// test is a list of events that only grows; its state is folded from them. It must never say that a test is safe: it
// shows figures and cautions, and site rules, the code in force and the responsible person decide.
package pressuretest

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"dynacor/core/pressure"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// Kind is what a test is done with.
type Kind string

// The kinds of tests.
const (
	Hydrostatic Kind = "hydrostatic" // a liquid, nearly always water
	Pneumatic   Kind = "pneumatic"   // air or another gas above the air around
	Vacuum      Kind = "vacuum"      // pumped down, and watched rising
	Precharge   Kind = "precharge"   // the gas of an accumulator, against its value at the gas temperature
	Purge       Kind = "purge"       // a hydraulic circuit driven to and fro until no air is left
)

// Kinds are all of them in the order in which they are offered, with the word for each.
var Kinds = []struct {
	Kind Kind
	Word string
}{{Hydrostatic, "water"}, {Pneumatic, "air"}, {Vacuum, "vacuum"}, {Precharge, "gas pre-charge"},
	{Purge, "purge cycles"}}

// Word names the kind as a page does.
func (k Kind) Word() string {
	for _, x := range Kinds {
		if x.Kind == k {
			return x.Word
		}
	}
	return string(k)
}

// Step is a pressure to go to and to hold.
type Step struct {
	Bar  float64 `json:"bar"`
	Min  float64 `json:"min"`  // to be held, minutes
	Look bool    `json:"look"` // every joint is looked at there
	Test bool    `json:"test"` // the hold that is judged
}

// Gauge is what the pressure is read at.
type Gauge struct {
	Tag      string    `json:"tag"`
	Range    float64   `json:"rangeBar"` // the end of its scale, bar
	Mark     float64   `json:"markBar"`  // from one mark to the next, bar
	CheckBy  tool.Date `json:"checkBy"`  // the last day on which its certificate holds
	Absolute bool      `json:"absolute"` // it reads from nothing, not from the air around
}

// Spec is what a test is to be.
type Spec struct {
	Tag       string   `json:"tag"`
	Title     string   `json:"title"`
	Kind      Kind     `json:"kind"`
	Joints    []string `json:"joints"`    // tags of those under pressure
	Procedure string   `json:"procedure"` // the document it follows, with its revision
	Medium    string   `json:"medium"`
	DesignBar float64  `json:"designBar,omitempty"`
	TestBar   float64  `json:"testBar,omitempty"`
	MostBar   float64  `json:"mostBar,omitempty"` // what the weakest part takes, or the relief valve opens at
	Steps     []Step   `json:"steps,omitempty"`
	LossBar   float64  `json:"lossBar,omitempty"` // may be lost in the hold, warmth taken off; of a vacuum: gained
	BarPerC   float64  `json:"barPerC,omitempty"` // of a liquid: what a degree makes
	VolumeM3  float64  `json:"volumeM3,omitempty"`
	Gauge     Gauge    `json:"gauge"`
	Barriers  []string `json:"barriers,omitempty"` // doors, ropes and people posted that close the zone
	ZoneM     float64  `json:"zoneM,omitempty"`    // nobody nearer than this, as the site sets it
	RefC      float64  `json:"refC,omitempty"`     // of a pre-charge: TestBar is stated at this temperature
	TolPct    float64  `json:"tolPct,omitempty"`   // of a pre-charge
	Cycles    int      `json:"cycles,omitempty"`   // of a purge: each way
}

// Bounds of a test.
const (
	MostJoints   = 50
	mostSteps    = 40
	mostBarriers = 20
	mostBar      = 4000
	atmosphere   = 1.01325 // bar (ISO 2533)
	kelvin       = 273.15
)

func words(field, text string, least, most int, remedy string) error {
	if n := len([]rune(strings.TrimSpace(text))); n < least || n > most {
		return quantity.Refuse(field, remedy, "has %d letters", n)
	}
	return nil
}

// Check refuses, by field, a test that cannot be led, or must not: no document, a gauge too coarse or too small, steps
// that do not reach the test pressure, a zone smaller than the energy asks for.
func (s Spec) Check() error {
	if err := words("title", s.Title, 3, 80, "Say in a few words what is tested."); err != nil {
		return err
	}
	if err := words("procedure", s.Procedure, 2, 80,
		"Name the document that this test follows, with its revision."); err != nil {
		return err
	}
	if len(s.Joints) < 1 || len(s.Joints) > MostJoints {
		return quantity.Refuse("joints", fmt.Sprintf("Name the joints under test, %d at most.", MostJoints),
			"%d are named", len(s.Joints))
	}
	for i, tag := range s.Joints {
		if slices.Contains(s.Joints[:i], tag) {
			return quantity.Refuse("joints", "Name each joint once.", "%s stands twice", tag)
		}
	}
	switch s.Kind {
	case Hydrostatic, Pneumatic, Vacuum:
		return s.checkHeld()
	case Precharge:
		return firstOf(quantity.Between("testBar", s.TestBar, 0.1, mostBar), quantity.Between("refC", s.RefC, -60, 100),
			quantity.Between("tolPct", s.TolPct, 0.1, 20), s.checkGauge(s.TestBar))
	case Purge:
		if s.Cycles < 1 || s.Cycles > 200 {
			return quantity.Refuse("cycles", "Enter how often it is driven each way.", "1 to 200")
		}
		return nil
	}
	return quantity.Refuse("kind", "Choose water, air, vacuum, gas pre-charge or purge cycles.",
		"%q is none that is known", s.Kind)
}

func firstOf(errs ...error) error {
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	return nil
}

func (s Spec) checkHeld() error {
	if s.Kind == Vacuum {
		if err := quantity.Between("testBar", s.TestBar, 0, 1); err != nil {
			return err
		}
	} else if err := firstOf(quantity.Between("designBar", s.DesignBar, 0.01, mostBar),
		quantity.Between("testBar", s.TestBar, s.DesignBar, mostBar),
		quantity.Between("mostBar", s.MostBar, s.TestBar, mostBar)); err != nil {
		return err
	}
	if err := firstOf(quantity.Between("lossBar", s.LossBar, 1e-6, math.Max(s.TestBar, atmosphere)/2),
		s.checkGauge(s.TestBar), s.checkSteps()); err != nil {
		return err
	}
	if s.Kind == Hydrostatic {
		return quantity.Between("barPerC", s.BarPerC, 0, 20)
	}
	if err := quantity.Between("volumeM3", s.VolumeM3, 1e-6, 1e5); err != nil {
		return err
	}
	if s.Kind == Pneumatic {
		return s.checkZone()
	}
	return nil
}

// checkGauge holds the gauge to the rule of ASME VIII-1, UG-102: its scale ends at 1.5 to 4 times the test pressure.
func (s Spec) checkGauge(test float64) error {
	if err := firstOf(words("gauge.tag", s.Gauge.Tag, 1, 40, "Enter the label of the gauge."),
		quantity.Between("gauge.rangeBar", s.Gauge.Range, 1e-4, 2*mostBar),
		quantity.Between("gauge.markBar", s.Gauge.Mark, 1e-6, s.Gauge.Range)); err != nil {
		return err
	}
	if _, err := time.Parse(time.DateOnly, string(s.Gauge.CheckBy)); err != nil {
		return quantity.Refuse("gauge.checkBy", "Enter the day until which its certificate holds.", "%q is no day",
			s.Gauge.CheckBy)
	}
	if s.Kind == Vacuum {
		if !s.Gauge.Absolute {
			return quantity.Refuse("gauge.absolute", "Take a gauge that reads absolute pressure.",
				"a vacuum is judged from nothing, not from the air of the day")
		}
		return nil
	}
	if lo, hi := 1.5*test, 4*test; !quantity.AtMost(lo, s.Gauge.Range) || !quantity.AtMost(s.Gauge.Range, hi) {
		return quantity.Refuse("gauge.rangeBar", "Take a gauge whose scale ends between the two.",
			"a test at %s bar wants a scale that ends between %s and %s bar", quantity.Text(test), quantity.Text(lo),
			quantity.Text(hi))
	}
	return nil
}

func (s Spec) checkSteps() error {
	if len(s.Steps) < 1 || len(s.Steps) > mostSteps {
		return quantity.Refuse("steps", "Enter the pressures to stop at.", "%d steps; 1 to %d", len(s.Steps), mostSteps)
	}
	tests := 0
	for i, x := range s.Steps {
		field := fmt.Sprintf("steps[%d]", i)
		if err := firstOf(quantity.Between(field+".bar", x.Bar, 0, math.Max(s.TestBar, atmosphere)),
			quantity.Between(field+".min", x.Min, 0, 10080)); err != nil {
			return err
		}
		if x.Test {
			if tests++; x.Bar != s.TestBar || x.Min <= 0 {
				return quantity.Refuse(field+".bar", "Hold the test pressure for the minutes of the document.",
					"the hold that is judged is at the test pressure")
			}
		}
		if s.Kind == Pneumatic && x.Look && x.Test {
			return quantity.Refuse(field+".look", "Come down first, then look.",
				"nobody goes near at the full pressure of a gas")
		}
		if i > 0 && x.Bar == s.Steps[i-1].Bar {
			return quantity.Refuse(field+".bar", "Leave one of the two out.", "is the same as the step before")
		}
	}
	if tests != 1 {
		return quantity.Refuse("steps", "Mark one step as the hold that is judged.", "%d are marked", tests)
	}
	test := slices.IndexFunc(s.Steps, func(x Step) bool { return x.Test })
	if s.Kind != Vacuum && !slices.ContainsFunc(s.Steps[test:], func(x Step) bool { return x.Look }) {
		return quantity.Refuse("steps", "Mark the step at which every joint is looked at, at the test or after it.",
			"no joint is looked at once it has had the test pressure")
	}
	return nil
}

// checkZone holds the zone of a gas test against the energy stored.
func (s Spec) checkZone() error {
	if len(s.Barriers) < 1 || len(s.Barriers) > mostBarriers {
		return quantity.Refuse("barriers", "Name the doors, ropes and people posted that close the zone.",
			"%d are named", len(s.Barriers))
	}
	e, err := s.Energy(nil)
	if err != nil {
		return err
	}
	if !quantity.AtMost(e.Distance, s.ZoneM) {
		return quantity.Refuse("zoneM", "Enter the distance that the site sets, or test with water.",
			"the energy stored asks for %s m at least", quantity.Text(math.Ceil(e.Distance*10)/10))
	}
	return nil
}

// Energy is what the gas of a test stores, the same with water, and the distance that follows: a caution only. Source:
// ASME PCC-2, as pressure.StoredEnergy says.
func (s Spec) Energy(w *working.Working) (pressure.EnergyResult, error) {
	return pressure.StoredEnergy(w, pressure.EnergyInput{Test: s.TestBar / 10, Volume: s.VolumeM3, Gamma: 1.4,
		Atm: pressure.AtmosphereMPa, TNT: 4266920, Scaled: 20, Reflect: 2, Bulk: 2.2})
}

// Usual gives the steps that are usual for a kind of test, with a hold of so many minutes. Water: half, the test, and
// down to the design pressure to walk round. Gas: half and then tenths, and down to look, as ASME VIII-1, UG-100, has
// it. The document that is followed decides. Refused: pressures of which none can be made.
func Usual(k Kind, designBar, testBar, holdMin float64) ([]Step, error) {
	if err := firstOf(quantity.Between("testBar", testBar, 0, mostBar),
		quantity.Between("holdMin", holdMin, 1, 10080)); err != nil {
		return nil, err
	}
	switch k {
	case Hydrostatic:
		list := []Step{{Bar: testBar / 2, Min: 10, Look: true}, {Bar: testBar, Min: holdMin, Test: true}}
		if designBar > 0 && designBar < testBar {
			return append(list, Step{Bar: designBar, Min: 20, Look: true}), nil
		}
		list[1].Look = true
		return list, nil
	case Pneumatic:
		r, err := pressure.PneumaticSteps(nil, pressure.StepsInput{Test: testBar / 10, First: .5, Step: .1,
			Inspect: 1.1})
		if err != nil {
			return nil, err
		}
		var list []Step
		for _, mpa := range r.Steps {
			list = append(list, Step{Bar: rounded(10 * mpa), Min: 2})
		}
		list[len(list)-1] = Step{Bar: testBar, Min: holdMin, Test: true}
		return append(list, Step{Bar: rounded(10 * r.Inspect), Min: 10, Look: true}), nil
	case Vacuum:
		return []Step{{Bar: testBar, Min: holdMin, Test: true}}, nil
	}
	return nil, nil
}

// rounded keeps a pressure to what is read at a gauge.
func rounded(bar float64) float64 { return math.Round(bar*1000) / 1000 }

// PlanPoint is a pressure at a time of the plan.
type PlanPoint struct {
	Min float64 `json:"min"` // from the beginning
	Bar float64 `json:"bar"`
}

// rampMin is how long going from one step to the next is drawn, minutes. Nobody has to keep it.
const rampMin = 5

// Planned gives the pressure over time as the steps have it, from no pressure to none; nothing of a test without steps.
func (s Spec) Planned() []PlanPoint {
	if len(s.Steps) == 0 {
		return []PlanPoint{}
	}
	none := 0.0
	if s.Kind == Vacuum {
		none = atmosphere
	}
	at := 0.0
	list := []PlanPoint{{0, none}}
	for _, x := range s.Steps {
		at += rampMin
		list = append(list, PlanPoint{at, x.Bar}, PlanPoint{at + x.Min, x.Bar})
		at += x.Min
	}
	return append(list, PlanPoint{at + rampMin, none})
}
