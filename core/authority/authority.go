// Package authority is the one table of who may do what. The routes of the interface name their roles in the contract;
// what depends on the work itself stands here.
package authority

import (
	"slices"
	"strings"
)

// Roles, from the hand at the joint to the one who answers for the data.
const (
	Technician    = "technician"
	Inspector     = "inspector"
	Engineer      = "engineer"
	Administrator = "administrator"
)

// Roles lists every role.
var Roles = []string{Technician, Inspector, Engineer, Administrator}

// Act is something that not everybody may do, whatever page or request it comes from.
type Act string

// The acts.
const (
	SignTightened         Act = "sign_tightened" // for the tightening, by one of those who did it
	SignProved            Act = "sign_proved"
	AcceptDeviation       Act = "accept_deviation"
	StartPassOpen         Act = "start_pass_open" // let a pass begin while fasteners are open
	ApprovePlan           Act = "approve_plan"    // one that is not as the specification or the house rules say
	TargetWithoutDocument Act = "target_without_document"
	JudgeDoubtedTool      Act = "judge_doubted_tool" // a check of a tool whose joints are in doubt
	TurnDown              Act = "turn_down"          // end a run with the joint not accepted
	LiftStop              Act = "lift_stop"          // one that another person called
	WaiveSmallCheck       Act = "waive_small_check"  // one that the procedure leaves to whoever does the work
	WaiveCheck            Act = "waive_check"        // any other that may be waived at all
)

// acts says who may do what. An act that anyone may do who is signed in has every role.
var acts = map[Act][]string{
	SignTightened:         {Technician, Inspector, Engineer},
	SignProved:            {Inspector, Engineer},
	AcceptDeviation:       {Inspector, Engineer},
	StartPassOpen:         {Engineer},
	ApprovePlan:           {Engineer},
	TargetWithoutDocument: {Engineer},
	JudgeDoubtedTool:      {Inspector, Engineer},
	TurnDown:              {Inspector, Engineer},
	LiftStop:              {Inspector, Engineer},
	WaiveSmallCheck:       {Technician, Inspector, Engineer},
	WaiveCheck:            {Engineer},
}

// Acts lists every act, in order of their names.
func Acts() []Act {
	list := make([]Act, 0, len(acts))
	for a := range acts {
		list = append(list, a)
	}
	slices.Sort(list)
	return list
}

// RolesFor gives who may do an act.
func RolesFor(a Act) []string { return slices.Clone(acts[a]) }

// May reports whether a role may do an act. One that is not in the table nobody may do.
func May(role string, a Act) bool { return Covers(role, acts[a]...) }

// Covers reports whether somebody of a role may do what one of the roles needed may. An administrator may do what an
// engineer may.
func Covers(role string, needed ...string) bool {
	return slices.Contains(needed, role) || role == Administrator && slices.Contains(needed, Engineer)
}

// AnyOf says roles in words.
func AnyOf(roles []string) string { return strings.Join(roles, " or ") }
