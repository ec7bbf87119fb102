package plan

import (
	"dynacor/core/working"
)

// The codes of what can be out with a plan.
const (
	LubricantService working.Code = "lubricant_service"
	NearYield        working.Code = "near_yield"
	SpreadOverYield  working.Code = "spread_over_yield"
	AboveHouseYield  working.Code = "above_house_yield"
	NotForTorque     working.Code = "not_for_torque"
	WrongCondition   working.Code = "wrong_condition"
	FirstRound       working.Code = "first_round"
	MakersWord       working.Code = "makers_word"
	OtherLubricant   working.Code = "other_lubricant"
	HouseLubricant   working.Code = "house_lubricant"
	HouseExtension   working.Code = "extension"
	UnitSlip         working.Code = "unit_slip"
	UnusualTarget    working.Code = "unusual_target"
	NoWrench         working.Code = "no_wrench"
	ToolUnfit        working.Code = "wrench_" // ends with what is wrong with the tool
	ToolConflict     working.Code = "tool_conflict"
	Accuracy         working.Code = "accuracy"
)

// FindingKind is something that can be out with a plan: how grave it is and what it says, with {facts} of the plan in
// it.
type FindingKind struct {
	Code              working.Code
	Case              string // tells apart several wordings of a code
	Severity          working.Severity
	What, Why, Remedy working.Text
}

// FindingKinds lists all that can be out with a plan.
var FindingKinds = []FindingKind{
	{LubricantService, "", working.Stop, "{lubricant} is not documented for {service} service.",
		"A paste that is wrong for the service can poison, burn or spoil what it meets.",
		"Choose a card that is documented for it, or have the maker's document entered on the card."},
	{NotForTorque, "", working.Stop, "{lubricant} is not fit for control by torque.",
		"Its friction varies too much for a torque to say anything about bolt load.",
		"Lubricate, or use another method."},
	{WrongCondition, "", working.Stop, "{word} threads {wrong} here; the specification names {lubricant}.", "{where}",
		"Have the specification put right: its torque holds for another condition."},
	{FirstRound, "", working.Caution, "The first round goes to {pct} % at once; on a gasket {limit} % is the most.",
		"{reason}", "Choose stages that begin lighter, or an engineer approves the plan."},
	{
		MakersWord,
		"",
		working.Caution,
		"{word} threads are dry as a rule; the document names {lubricant}.",
		"A torque for dry threads overdraws wet ones by a third or more; only the maker's own word goes before the rule.",
		"An engineer looks at {source} and approves the plan.",
	},
	{OtherLubricant, "", working.Caution, "The document holds for {document}, this plan for {lubricant}.",
		"The torque is changed so that the bolt load stays the same; the document does not say so.",
		"An engineer approves the plan."},
	{HouseLubricant, "", working.Caution, "The document names no lubricant; the house rule puts in {lubricant}.",
		"{reason}", "An engineer approves the plan, or the maker of the joint is asked."},
	{HouseExtension, "", working.Caution, "An extension stands between wrench and socket; the house rule allows none.",
		"{reason}", "Take a deep socket, or an engineer approves the plan."},
	{UnitSlip, "", working.Caution, "{torque} N·m is unusual for this bolt; usual is {low} to {high} N·m.",
		"It would fit with {slip}.", "Read the document again, with its unit."},
	{UnusualTarget, "", working.Caution, "{torque} N·m is outside the usual {low} to {high} N·m for this bolt.",
		"The usual span is 30 to 80 % of yield.", "Read the document again; ask the engineer if it stands."},
	{NearYield, "", working.Caution, "While tightening the bolt reaches {pct} % of yield.",
		"Twist adds to tension while the nut turns.", "Ask the engineer before the first pull."},
	{SpreadOverYield, "", working.Caution,
		"With the lowest friction the bolt could reach {stress} MPa, past its yield of {yield} MPa.",
		"The spread of friction is wide.", "Use a tested lubricant value, or ask the engineer."},
	{AboveHouseYield, "", working.Caution, "The bolts come to {pct} % of yield; the house rule stops at {limit} %.",
		"{reason}", "An engineer approves the plan."},
	{NoWrench, "", working.Stop, "No wrench in the crib can take every stage.",
		"Each stage from the lowest to the last must lie in a wrench's guaranteed range.",
		"See the list of set-ups for what each lacks; add a tool, or choose another stage scheme."},
	{NoWrench, "chosen", working.Stop, "{what}.", "", "Choose a set-up from the list."},
	{ToolUnfit, "", working.Stop, "{what}.", "", "{remedy}"},
	{ToolConflict, "", working.Caution, "{tool} {where}.", "One tool cannot be at two joints.",
		"Agree when it comes here, or choose another set-up."},
	{Accuracy, "", working.Caution, "{what}", "The tolerance of the document is narrower than the error of the tools.",
		"Use a more accurate set-up, or ask the engineer whether the tolerance must be held."},
}

// find notes what is out. facts are names and values in turn; "code" ends the code of a kind that stands for a family
// of codes, "case" chooses the wording.
func (m *maker) find(code working.Code, facts ...string) {
	x := working.FactsOf(facts...)
	for _, k := range FindingKinds {
		if k.Code != code || k.Case != x["case"] {
			continue
		}
		what := k.What.With(x)
		if m.Several() {
			what = m.GroupName + ": " + what
		}
		m.Findings = append(m.Findings, working.Finding{Severity: k.Severity, Code: code + working.Code(x["code"]),
			What: what, Why: k.Why.With(x), Remedy: k.Remedy.With(x)})
		return
	}
}
