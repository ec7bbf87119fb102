// Package authority is the one table of who may do what. The routes of the interface name their roles in the contract;
// what depends on the work itself stands here.
package authority

import (
	"slices"
	"strings"
)

// Roles, from the hand at the joint to the one who answers for the data. A person may have several.
const (
	Technician    = "technician"
	ToolKeeper    = "tool keeper" // answers for the crib
	Lead          = "lead"        // answers for the work of a crew
	Inspector     = "inspector"
	Engineer      = "engineer"
	Administrator = "administrator"
)

// Roles lists every role.
var Roles = []string{Technician, ToolKeeper, Lead, Inspector, Engineer, Administrator}

// between stands between the roles of somebody who has several, as they are written.
const between = ", "

// Held gives the single roles of somebody, as they are written in one line.
func Held(role string) []string { return strings.Split(role, between) }

// Written gives several roles in one line, each once, in the order of Roles. Refused by false: none, or one that is not
// a role.
func Written(roles []string) (line string, ok bool) {
	var list []string
	for _, r := range Roles {
		if slices.Contains(roles, r) {
			list = append(list, r)
		}
	}
	for _, r := range roles {
		ok = slices.Contains(Roles, r)
		if !ok {
			return "", false
		}
	}
	return strings.Join(list, between), ok
}

// Act is something that not everybody may do, whatever page or request it comes from.
type Act string

// The acts.
const (
	SignTightened         Act = "sign_tightened" // for the tightening, by one of those who did it
	SignProved            Act = "sign_proved"
	SignHold              Act = "sign_hold"     // one whose procedure names nobody else
	WaiveWitness          Act = "waive_witness" // go on where somebody was to look on and did not
	AcceptDeviation       Act = "accept_deviation"
	StartPassOpen         Act = "start_pass_open" // let a pass begin while fasteners are open
	ApprovePlan           Act = "approve_plan"    // one that is not as the specification or the house rules say
	ApproveProcedure      Act = "approve_procedure"
	TargetWithoutDocument Act = "target_without_document"
	JudgeDoubtedTool      Act = "judge_doubted_tool" // a check of a tool whose joints are in doubt
	TurnDown              Act = "turn_down"          // end a run with the joint not accepted
	LiftStop              Act = "lift_stop"          // one that another person called
	WaiveSmallCheck       Act = "waive_small_check"  // one that the procedure leaves to whoever does the work
	WaiveCheck            Act = "waive_check"        // any other that may be waived at all
	AddToRecord           Act = "add_to_record"      // a re-torque, re-check or finding behind a sealed record
	CorrectRecord         Act = "correct_record"     // say that a sealed record is wrong somewhere
	PlanTest              Act = "plan_test"          // lay out a test under pressure
	LeadTest              Act = "lead_test"          // and do it
	WitnessTest           Act = "witness_test"       // and look on, with no hand in it
)

// acts says who may do what. An act that anyone may do who is signed in has every role.
var acts = map[Act][]string{
	SignTightened:         {Technician, Lead, Inspector, Engineer},
	SignProved:            {Inspector, Engineer},
	SignHold:              {Lead, Inspector, Engineer},
	WaiveWitness:          {Inspector, Engineer},
	AcceptDeviation:       {Inspector, Engineer},
	StartPassOpen:         {Engineer},
	ApprovePlan:           {Engineer},
	ApproveProcedure:      {Engineer},
	TargetWithoutDocument: {Engineer},
	JudgeDoubtedTool:      {Inspector, Engineer},
	TurnDown:              {Inspector, Engineer},
	LiftStop:              {Lead, Inspector, Engineer},
	WaiveSmallCheck:       {Technician, Lead, Inspector, Engineer},
	WaiveCheck:            {Engineer},
	AddToRecord:           {Technician, Lead, Inspector, Engineer},
	CorrectRecord:         {Inspector, Engineer},
	PlanTest:              {Lead, Inspector, Engineer},
	LeadTest:              {Technician, Lead, Inspector, Engineer},
	WitnessTest:           {Inspector, Engineer},
}

// words say the acts as a page does.
var words = map[Act]string{
	SignTightened:         "sign for the tightening they did",
	SignProved:            "prove a joint that they did not tighten",
	SignHold:              "sign a hold that another answered",
	WaiveWitness:          "go on where a witness did not come",
	AcceptDeviation:       "accept a deviation",
	StartPassOpen:         "let a pass begin or end with fasteners open",
	ApprovePlan:           "approve a plan that is not as document and house rules say",
	ApproveProcedure:      "approve a procedure that another wrote",
	TargetWithoutDocument: "allow a target without a document",
	JudgeDoubtedTool:      "judge a tool that is in doubt",
	TurnDown:              "turn a joint down",
	LiftStop:              "lift a stop of another",
	WaiveSmallCheck:       "say that a small check does not apply",
	WaiveCheck:            "say that a check does not apply",
	AddToRecord:           "add to a sealed record what became of its joint",
	CorrectRecord:         "correct a sealed record, as an addition behind it",
	PlanTest:              "lay out a test under pressure",
	LeadTest:              "lead a test under pressure",
	WitnessTest:           "witness a test under pressure in which they have no hand",
}

// Words say the act as a page does: to ….
func (a Act) Words() string { return words[a] }

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

// Covers reports whether somebody may do what one of the roles needed may; several roles may what each of them may. An
// administrator may do what an engineer may.
func Covers(role string, needed ...string) bool {
	for _, r := range Held(role) {
		if slices.Contains(needed, r) || r == Administrator && slices.Contains(needed, Engineer) {
			return true
		}
	}
	return false
}

// AnyOf says roles in words.
func AnyOf(roles []string) string { return strings.Join(roles, " or ") }
