package procedure

import (
	"encoding/json"
	"fmt"

	"dynacor/core/quantity"
)

// Routine is what a way of tightening asks for beside the family: checks before the first pull and after the last, what
// to do at each setting, each pull and when loosening.
type Routine struct {
	Method   string   `json:"method"`
	Rows     []Row    `json:"rows"`
	Checks   []Check  `json:"checks"`
	Setting  []string `json:"setting"` // steps to set the value
	Pull     []string `json:"pull"`    // steps of each pull
	Clear    string   `json:"clear"`   // what must be said before each pull; "": nothing
	Loosen   []string `json:"loosen"`
	Cautions []string `json:"cautions"`
	Apart    []Check  `json:"apart,omitempty"` // asked when a joint is taken apart with it
}

// RoutineFor gives the routine of a method: wrench, multiplier, hydraulic or tensioner; unknown ones are refused.
func RoutineFor(method string) (Routine, error) {
	raw, err := files.ReadFile("routines/" + method + ".json")
	if err != nil {
		return Routine{}, quantity.Refuse("method", "Use wrench, multiplier, hydraulic or tensioner.",
			"%q is not a way of tightening", method)
	}
	var r Routine
	if err := json.Unmarshal(raw, &r); err != nil {
		return Routine{}, fmt.Errorf("procedure: routine %s: %w", method, err)
	}
	return r, nil
}
