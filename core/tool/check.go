package tool

import (
	"fmt"
	"math"
	"strings"

	"dynacor/core/quantity"
)

// Purpose of a check on the torque meter.
type Purpose string

// The purposes: before a shift, and after a drop or a doubt, as the wrench was found, before anybody adjusts it.
const (
	PreUse  Purpose = "pre_use"
	AsFound Purpose = "as_found"
)

// leastReadings at one setting: a quick look before the shift, a fuller one when something is at stake. Source: own
// rule; five are those of the repeatability check of ISO 6789-1.
var leastReadings = map[Purpose]int{PreUse: 3, AsFound: 5}

// CheckStep is one setting and what the meter showed, on the wrench's own scale unit.
type CheckStep struct {
	Set      float64   `json:"set"`
	Readings []float64 `json:"readings"`
}

// BenchCheck is a check of a wrench against a torque meter.
type BenchCheck struct {
	Purpose Purpose     `json:"purpose"`
	Meter   string      `json:"meter"` // which torque meter, by tag or serial
	Steps   []CheckStep `json:"steps"`
	Note    string      `json:"note,omitempty"`
}

// CheckVerdict is what a check says.
type CheckVerdict struct {
	Pass       bool        `json:"pass"`
	WorstPct   float64     `json:"worstPct"` // 100·(set − reading)/reading, the largest by size
	AllowedPct float64     `json:"allowedPct"`
	Deviations [][]float64 `json:"deviations"` // percent, a row for each setting
	Sentence   string      `json:"sentence"`
}

// Judge holds the readings against the wrench's class. Refused: no meter, settings that the scale cannot show or that
// lie outside the rated range, too few readings, a reading more than half off, which is a typing error or a broken
// wrench to be put aside.
func (c BenchCheck) Judge(w Tool) (CheckVerdict, error) {
	least, ok := leastReadings[c.Purpose]
	if !ok {
		return CheckVerdict{}, quantity.Refuse("purpose", "Choose a check before use, or one of the wrench as found.",
			"%q is not a kind of check", string(c.Purpose))
	}
	if w.Kind.Sets() != ByTorque {
		return CheckVerdict{}, quantity.Refuse("tag", "Send it to be calibrated, or put it aside.",
			"a %s is not checked on the torque meter", w.Kind.Word())
	}
	if c.Meter == "" {
		return CheckVerdict{}, quantity.Refuse("meter", "Enter the tag or serial of the torque meter.",
			"is empty: nobody could say later what it was checked against")
	}
	in := RepeatInput{Limit: w.AccuracyPct, Least: least}
	for i, s := range c.Steps {
		if !quantity.AtMost(w.RatedMin, s.Set) || !quantity.AtMost(s.Set, w.RatedMax) {
			return CheckVerdict{}, quantity.Refuse("steps", "Choose settings inside the rated range.",
				"setting %d, %s, is outside %s to %s", i+1, quantity.Text(s.Set), quantity.Text(w.RatedMin),
				quantity.Text(w.RatedMax))
		}
		if n := s.Set / w.Graduation; math.Abs(n-math.Round(n)) > 1e-6 {
			return CheckVerdict{}, quantity.Refuse("steps", "Choose a mark of the scale.",
				"setting %d, %s, is between two marks of %s", i+1, quantity.Text(s.Set), quantity.Text(w.Graduation))
		}
		for _, r := range s.Readings {
			if r < 0.5*s.Set || r > 1.5*s.Set {
				return CheckVerdict{},
					quantity.Refuse("steps", "Check the unit of the meter. If it is right, put the wrench aside.",
						"a reading of %s at a setting of %s is half as much or more off", quantity.Text(r),
						quantity.Text(s.Set))
			}
		}
		in.Steps = append(in.Steps, RepeatStep(s))
	}
	r, err := RepeatReadings(nil, in)
	if err != nil {
		return CheckVerdict{}, err
	}
	v := CheckVerdict{Pass: r.Pass, WorstPct: r.Worst, AllowedPct: w.AccuracyPct, Deviations: r.Deviations}
	word := "within"
	if !r.Pass {
		word = "outside"
	}
	way := "it gives less than it shows"
	if r.Worst < 0 {
		way = "it gives more than it shows"
	}
	v.Sentence = fmt.Sprintf("Worst %.1f %% (%s), %s its class of ±%s %%.", r.Worst, way, word,
		quantity.Text(w.AccuracyPct))
	return v, nil
}

// Care are the answers when a tool comes back.
type Care struct {
	Dropped  bool   `json:"dropped"`  // or overloaded, or used for loosening
	Unwound  bool   `json:"unwound"`  // to its storage setting, by the wrench's own rule
	Complete bool   `json:"complete"` // clean, with its box and certificate
	Note     string `json:"note,omitempty"`
}

// Faults says what the answers mean; a drop puts the tool aside.
func (c Care) Faults(w Tool) (aside bool, notes []string) {
	if c.Dropped {
		notes = append(notes, "dropped or overloaded while it was out")
	}
	if !c.Unwound {
		notes = append(notes, strings.TrimSuffix("not put away as it should be: "+w.StorageRule, ": "))
	}
	if !c.Complete {
		notes = append(notes, "not clean or not complete")
	}
	if c.Note != "" {
		notes = append(notes, c.Note)
	}
	return c.Dropped, notes
}
