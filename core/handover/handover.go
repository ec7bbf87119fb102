// Package handover is the note with which one shift hands its work to the next: what happened, what is open, and at
// which bolt, with which setting and in what condition somebody else goes on.
package handover

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/tool"
)

// Note is what the program knows of a shift. Lists are in sentences or tags; none is nil.
type Note struct {
	From   time.Time `json:"from"`
	To     time.Time `json:"to"`
	Sealed []string  `json:"sealed"` // what was finished
	Open   []Open    `json:"open"`
	Tools  []string  `json:"tools"`  // that are out, and with whom
	Behind []string  `json:"behind"` // what the plan in force says is behind
	Due    []string  `json:"due"`    // in the next day
	Noted  []string  `json:"noted"`  // on walks, at no joint of the register, and open
}

// Open is work under way.
type Open struct {
	RunID     string `json:"runId"`
	Tag       string `json:"tag"`
	Name      string `json:"name"`
	Last      string `json:"last"`      // bolt last done, in words
	Setting   string `json:"setting"`   // of the tool, with its unit; "" before one is set
	Tools     string `json:"tools"`     // in hand
	Condition string `json:"condition"` // how it stands, and what comes next
	Held      bool   `json:"held"`      // it is stopped
}

// OpenRun tells how a run is left.
func OpenRun(id, tag, name string, s *run.State) Open {
	o := Open{RunID: id, Tag: tag, Name: name}
	switch {
	case s.Prev > 0 && s.Pass > 0:
		o.Last = fmt.Sprintf("bolt %d in pass %d of %d", s.Prev, s.Pass, len(s.Passes))
	case s.Pass > 0:
		o.Last = fmt.Sprintf("none yet in pass %d of %d", s.Pass, len(s.Passes))
	case s.Station == procedure.Prove || s.Station == procedure.HandOver:
		o.Last = "all passes are done"
	default:
		o.Last = "no bolt yet"
	}
	driver := s.Wrench
	if s.SetUp != nil {
		d := s.SetUp.Driver()
		driver, o.Tools = &d, s.SetUp.Tags()
	}
	if driver != nil {
		if o.Tools == "" {
			o.Tools = driver.Tag
		}
		if s.Setting > 0 {
			o.Setting = quantity.Text(s.Setting) + " " + symbol(*driver)
		}
	}
	o.Condition = condition(s)
	o.Held = len(s.Blocked) > 0
	return o
}

func symbol(t tool.Tool) string { return t.Unit.Symbol() }

// condition is how a run stands, in a sentence.
func condition(s *run.State) string {
	if len(s.Blocked) > 0 {
		return "Stopped: " + s.Blocked[0]
	}
	var parts []string
	switch s.Station {
	case procedure.Tighten:
		parts = append(parts, fmt.Sprintf("%d bolts left in this pass", s.Left))
		if s.Next != nil {
			parts = append(parts, fmt.Sprintf("next is bolt %d", s.Next.Number))
		}
	case procedure.Prove:
		parts = append(parts, "to prove")
	case procedure.HandOver:
		parts = append(parts, "to be handed over")
	default:
		n := 0
		for _, c := range s.Checks {
			if !c.Status.Settled() {
				n++
			}
		}
		parts = append(parts, fmt.Sprintf("being made ready, %d checks open", n))
	}
	if n := len(s.Exceptions); n > 0 {
		parts = append(parts, fmt.Sprintf("exceptions: %d", n))
	}
	if s.Confirm != "" {
		parts = append(parts, "the setting is to be confirmed")
	}
	text := strings.Join(parts, ", ")
	return strings.ToUpper(text[:1]) + text[1:] + "."
}

// Takes refuses who may not take a shift over: whoever wrote the note, and somebody who has not confirmed every open
// run as they found it.
func (n Note) Takes(wrote, takes string, confirmed []string) error {
	if wrote == takes {
		return quantity.Refuse("personId", "Let whoever goes on read and sign it.", "wrote the note")
	}
	var left []string
	for _, o := range n.Open {
		if !slices.Contains(confirmed, o.RunID) {
			left = append(left, o.Tag)
		}
	}
	if len(left) > 0 {
		return quantity.Refuse("confirmed", "Look at bolt, setting and condition at the joint, and say that it is so.",
			"leaves out %s", strings.Join(left, ", "))
	}
	return nil
}

// MostWords is how much a person may add, in letters.
const MostWords = 4000
