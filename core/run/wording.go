package run

import (
	"dynacor/core/plan"
	"dynacor/core/working"
)

// Wording is what a broken rule says: its finding, its deviation, and what it leaves behind. {fastener} is its name,
// {Fastener} the same at the start of a sentence, {pass} the number of the present pass; the rest are facts of the
// rule.
type Wording struct {
	What, Why, Remedy                        working.Text
	Deviation, DeviationWhy, DeviationRemedy working.Text
	SetAgain                                 working.Text // why the setting must be made again
}

// What is said more than once.
const (
	whyHolds      = "It may hold more than the plan, or be stretched."
	whyLess       = "It holds less than its neighbours."
	whyScales     = "The two scales of a wrench differ by a third or more."
	whyNumber     = "The number on the tool is the torque at the nut."
	whyTurnMark   = "A turn counts from its mark."
	doLoosen      = "Loosen it and bring it up again, replace it, or have it accepted by an engineer."
	doLoosenShort = "Loosen and repeat, replace, or have it accepted."
	doLetGo       = "Let it go and repeat, replace, or have it accepted."
	doPullAgain   = "Pull it again before the pass ends."
	doSetAgain    = "Set it again, lock, and try it."
	doSide        = "Turn to the {unit} side and set {want}."
	doSenior      = "An engineer or inspector decides."
	doSeized      = "Loosen it, run the nut by hand, and pull it again."
	sayDrift      = "The gauge showed {read}, set were {want} {unit}."
	sayDriftWhy   = "Another pressure is another torque."
	sayDriftDo    = "Set it again and confirm it before the next nut."
	saySetAgain   = "The gauge moved. Relieve, set the pressure again with the tool off the nut, and read twice."
	sayScale      = "{got}; the plan says {want} {unit}. {got} is right on the {scale} scale only."
	sayAnother    = "{got}, the plan says {want} {unit}."
	devSetting    = "{Fastener} pulled at {got} instead of {want} {unit} in pass {pass}"
)

// english is the wording of every rule, by its key.
var english = map[string]Wording{
	"no_such_fastener": {What: "There is no {word} {number} on this joint.", Remedy: "Take it back."},
	"after_last_pass": {What: "{Fastener} was pulled after the last pass.", Why: "The work was complete.",
		Remedy:    "Go to Prove, or go round once more.",
		Deviation: "{Fastener} pulled after the last pass"},
	"wrong_stage/behind": {What: "{Fastener} was pulled at pass {said}; the joint is in pass {pass}.",
		Why:       "A lower setting clicks without adding anything.",
		Remedy:    "Set the wrench for this pass and pull it again.",
		Deviation: "{Fastener} pulled once more at pass {said} during pass {pass}"},
	"same_result": {What: "{device} sent this result twice; it counts once."},
	"not_ready": {What: "The joint was not ready.", Why: "Checks or holds before the first pull are open.",
		Remedy:          "Stop. Clear what is open in Ready.",
		Deviation:       "{Fastener} pulled in pass {pass} before everything in Ready was cleared",
		DeviationRemedy: doSenior},
	"held": {What: "The joint is stopped.", Why: "{by}", Remedy: "Lift the stop first.",
		Deviation: "{Fastener} pulled in pass {pass} while the joint was stopped", DeviationWhy: "{by}",
		DeviationRemedy: doSenior},
	"not_confirmed": {What: "The setting was not confirmed.", Why: "{confirm}",
		Remedy:    "Confirm the setting; pull the bolt again if it was wrong.",
		Deviation: "{Fastener} pulled in pass {pass} without a confirmed setting", DeviationWhy: "{confirm}"},
	"wrench_": {What: "{what}.", Remedy: "{remedy}",
		Deviation:       "{Fastener}, pass {pass}: {what}",
		DeviationRemedy: "Check the bolt with a wrench that is fit, or have it accepted."},
	"forbidden_tool": {What: "Forbidden on {fastener}: {tool}.", Why: "{why}",
		Remedy:    "Put it down. Look at the part; let an engineer say what is to be done.",
		Deviation: "{Fastener} run down with: {tool}, which is forbidden, in pass {pass}", DeviationWhy: "{why}",
		DeviationRemedy: "Look at the part; loosen it and bring it up again, or have it accepted."},
	"let_go_too_soon": {What: "{Fastener} was let go before it was said that this is so: {gates}.",
		Why:       "What is under pressure or carries weight moves when the first fastener lets go.",
		Remedy:    "Stop. Make sure of it now, then go on.",
		Deviation: "{Fastener} let go without a word on: {gates}", DeviationRemedy: doSenior},
	"gate": {What: "{check} comes first.", Why: "{why}", Remedy: "Answer it; then go on.",
		Deviation: "{Fastener} worked on in pass {pass} before \"{check}\" was cleared", DeviationRemedy: doSenior},
	"wrong_stage/ahead": {What: "{Fastener} was pulled at pass {said}; the joint is in pass {pass}.",
		Why:             "One bolt ahead of its stage cocks the faces and crushes the gasket there.",
		Remedy:          "Loosen it and bring it up with the others.",
		Deviation:       "{Fastener} pulled at the setting of pass {said} during pass {pass}",
		DeviationRemedy: "Loosen it and bring it up with the others, or have it accepted."},
	"no_torque": {What: "{Fastener} must not be torqued.", Why: "{why}",
		Remedy:    "Look at it; take the record back if it was not touched.",
		Deviation: "{Fastener} was torqued; it must not be", DeviationWhy: "{why}",
		DeviationRemedy: "Look at the part; an engineer decides."},
	"other_group": {What: "{Fastener} does not belong to this pass.",
		Why: "Groups are done one after another, in the order of the procedure.", Remedy: "Next is {next}.",
		Deviation: "{Fastener} worked on during pass {pass}, which is not its own"},
	"repeated": {What: "{Fastener} was done already in this pass.",
		Why:       "A second click without movement only tells that it is at the setting or above.",
		Remedy:    "Next is {next}.",
		Deviation: "{Fastener} pulled twice in pass {pass}"},
	"out_of_order": {What: "{next} is next. You are on {this}.", Why: "{order}",
		Remedy:    "Go back to {next}, or carry on from {this}: those passed over come at the end of this pass.",
		Deviation: "{Fastener} pulled before {next} in pass {pass}"},
	"ahead": {What: "{wait}.",
		Why:       "Tools that pull at once keep the faces parallel only when they go from step to step together.",
		Remedy:    "Start together; the next step begins when all have ended theirs.",
		Deviation: "{Fastener} pulled ahead of the others in pass {pass}"},

	"short/by_hand": {What: "{Fastener} is not there yet.", Why: "It does not do what its neighbours do.",
		Remedy: "Do it again before the pass ends."},
	"over/by_hand": {What: "{Fastener} went too far.", Why: "What went past its mark may be damaged.",
		Remedy:    "Let it go and bring it up again, replace it, or have it accepted by an engineer.",
		Deviation: "{Fastener} went too far in pass {pass} ({step})", DeviationRemedy: doLetGo},
	"short/turned": {What: "{Fastener} turned {turned}, asked are {asked}.", Why: whyTurnMark,
		Remedy: "Turn it on to the mark."},
	"over/turned": {What: "{Fastener} turned {turned}, asked are {asked}.",
		Why:             "What is turned too far is stretched or crushed, and turning it back does not undo it.",
		Remedy:          "Replace it, or have it accepted by an engineer.",
		Deviation:       "{Fastener} turned {turned} instead of {asked} in pass {pass}",
		DeviationRemedy: "Replace it, or have it accepted."},
	"no_reading/effort": {What: "{Fastener} has no reading.", Why: "The effort is what decides here.",
		Remedy: "Measure what it takes to start the stem moving, and enter it."},
	"reading": {What: "{what}", Remedy: "Enter a torque with its unit."},
	"effort_low": {What: "It took {read}; the window is {window}.",
		Why:    "The packing does not bear on the stem yet: it will leak.",
		Remedy: "Tighten {Fastener} a little, then measure again."},
	"effort_high": {What: "It took {read}; the window is {window}.",
		Why:    "The packing grips the stem: it wears and may stick.",
		Remedy: "Loosen {Fastener} a little, then measure again."},
	"no_reading/stretch": {What: "{Fastener} has no reading.", Why: "The stretch is what decides here.",
		Remedy: "Measure the bolt before and after, and enter the difference."},
	"short/stretched": {What: "{Fastener} is {read} longer; asked are {band}.", Why: whyLess,
		Remedy: "Tighten it further and measure again."},
	"over/stretched": {What: "{Fastener} is {read} longer; asked are {band}.", Why: "It may be past yield.",
		Remedy:    "Let it go and repeat, replace, or have it accepted by an engineer.",
		Deviation: "{Fastener} stretched {read} in pass {pass}, asked are {band}", DeviationRemedy: doLetGo},

	"not_clear": {What: "Nobody said that hands were clear before {fastener}.",
		Why:       "The arm bears with tons; a finger behind it is crushed, a loose arm kicks.",
		Remedy:    "Before each pull: arm against something solid, on the side of the drive, hands away.",
		Deviation: "{Fastener} pulled in pass {pass} without the clear"},
	"other_scale/pulled_high": {What: "The tool was set to " + sayScale, Why: whyScales, Remedy: doSide,
		Deviation: devSetting, DeviationRemedy: doLoosenShort},
	"wrong_setting/pulled_high": {What: "The tool was set to " + sayAnother, Why: whyNumber, Remedy: doSetAgain,
		Deviation: devSetting, DeviationRemedy: doLoosenShort},
	"other_scale/pulled_low":   {What: "The tool was set to " + sayScale, Why: whyScales, Remedy: doSide},
	"wrong_setting/pulled_low": {What: "The tool was set to " + sayAnother, Why: whyNumber, Remedy: doSetAgain},
	"short":                    {What: "{Fastener} stopped short.", Why: whyLess, Remedy: doPullAgain},
	"over": {What: "{Fastener} was pulled past the click.", Why: whyHolds, Remedy: doLoosen,
		Deviation: "{Fastener} pulled past the click in pass {pass}", DeviationRemedy: doLoosenShort},
	"clicked_still": {What: "{Fastener} clicked without turning in its first pass.",
		Why: "It may be seized, cross-threaded or already tight: the click says only 'at the " +
			"setting or above'.",
		Remedy:          doSeized,
		Deviation:       "{Fastener} clicked without turning in its first pass",
		DeviationRemedy: "Loosen it, run the nut by hand, and pull it again, or have it accepted."},

	"pressure_drift/low": {What: sayDrift, Why: sayDriftWhy, Remedy: sayDriftDo, SetAgain: saySetAgain},
	"pressure_drift/high": {What: sayDrift, Why: sayDriftWhy, Remedy: sayDriftDo, SetAgain: saySetAgain,
		Deviation:       "{Fastener} pulled at {read} instead of {want} {unit} in pass {pass}",
		DeviationRemedy: doLoosenShort},
	"over/read": {What: "{Fastener} reads {read} {unit} at the nut; {limit} is the most. {scale}", Why: whyHolds,
		Remedy:    doLoosen,
		Deviation: "{Fastener} reads {read} {unit} in pass {pass}, {limit} at most", DeviationRemedy: doLoosenShort},
	"short/read": {What: "{Fastener} reads {read} {unit} at the nut; {limit} is the least. {scale}", Why: whyLess,
		Remedy: doPullAgain},
	"trace_unread": {What: "The curve of {fastener} says nothing: {what}."},
	"trace_": {What: "{Fastener} {shape}.", Why: "{why}", Remedy: "{remedy}",
		Deviation: "{Fastener} {shape}, in pass {pass}", DeviationWhy: "{why}", DeviationRemedy: "{remedy}"},
	"moved": {What: "Nut {this} still turned.", Why: "{may}: its neighbours took load from it.",
		Remedy: "Finish the round; then go round again until none turns."},

	"other_scale/set":   {What: "Set " + sayScale, Why: whyScales, Remedy: doSide},
	"wrong_setting/set": {What: "Set " + sayAnother, Why: whyNumber, Remedy: doSetAgain},
	"second_reading": {What: "The pressure was read once only.",
		Why:    "The first stroke settles gauge and hoses; the second shows the pressure that stays.",
		Remedy: "Stroke the tool off the nut once more, read the gauge again, and enter what it shows."},
	"pressure_drift/second": {What: "The second reading is {read}, set were {want} {unit}.",
		Why:    "A regulator that creeps gives another torque on every nut.",
		Remedy: "Relieve, wind up again from below, and read twice."},

	"replaced": {Deviation: "{Fastener} replaced and brought up again in pass {pass}", DeviationWhy: "{reason}"},
	"check_escalate": {What: "Nuts still turn after {rounds} rounds.",
		Why:       "The gasket may be yielding, or the lubricant is not what was assumed.",
		Remedy:    "Stop and ask the engineer.",
		Deviation: "Nuts still turn after {rounds} check rounds", DeviationRemedy: "An engineer decides how to go on."},
	"start_pass":      {Deviation: "Pass {said} begun with open bolts", DeviationWhy: "{reason}"},
	"start_pass/last": {Deviation: "Pass {last}, the last one, ended with open bolts", DeviationWhy: "{reason}"},
	"skipped": {What: "{Fastener} is left for later in this pass.",
		Why:    "The pass does not end while a bolt is open.",
		Remedy: "Come back to it before the pass ends; an engineer may let the next pass begin without it."},
	"not_for_loosening": {What: "{tool} was used for loosening.",
		Why:             "A torque wrench used so is strained and drifts; its register entry forbids it.",
		Remedy:          "Put it aside and have it checked; take a bar or a spanner.",
		Deviation:       "{Fastener} loosened with {tool}, which is never used so",
		DeviationRemedy: "Have the wrench checked on the torque meter."},
	"not_for_loosening/eased": {What: "{tool} was used for loosening.",
		Why:             "A torque wrench used so is strained and drifts; its register entry forbids it.",
		Remedy:          "Put it aside and have it checked; take a bar or a spanner.",
		Deviation:       "{Fastener} let go with {tool}, which is never used so",
		DeviationRemedy: "Have the wrench checked on the torque meter."},
	"stuck": {
		What:            "{Fastener} will not move.",
		Why:             "Forced without leave, a stud breaks or a face is scored.",
		Remedy:          "Leave it. An engineer or inspector says whether it may be: {force}. Go on with the others of this round.",
		Deviation:       "{Fastener} will not move; asked for: {force}",
		DeviationRemedy: "Give leave for it, or say what else is to be done.",
	},
	"out_first": {What: "{Fastener} was let go whole while its neighbours still hold.",
		Why:             "What it held goes to its neighbours, and the faces tilt.",
		Remedy:          "Stop. Look at the neighbours and at the gap; go on with the round, a little on each.",
		Deviation:       "{Fastener} let go whole in pass {pass}, before its neighbours",
		DeviationRemedy: "Look at the neighbours and the faces; an engineer says whether they may be used again."},
	"short/eased": {What: "{Fastener} is not free yet.", Remedy: "Once more, before the round ends."},
	"forced": {What: "{Fastener} was forced without leave: {force}.",
		Why:             "Heat and cutting spoil what they touch, and light what leaks.",
		Remedy:          "Stop. Tell an engineer or inspector before anything else is heated or cut.",
		Deviation:       "{Fastener} forced without leave: {force}",
		DeviationRemedy: "Look at stud, seat and face; say what may be used again."},
	"no_break_out": {What: "The pressure at which {fastener} let go was not written down.",
		Why:       "It tells how tight it still was.",
		Remedy:    "Read the gauge at the next one.",
		Deviation: "{Fastener}: pressure of letting go not written down"},
	"break_out_high": {What: "{Fastener} let go at {read}; {most} {unit} was to be reckoned with.",
		Why:       "The thread has seized or been stretched.",
		Remedy:    "Look at its thread and nut before they are used again.",
		Deviation: "{Fastener} let go at {read}, above {most} {unit}"},
	"loose_before": {What: "{Fastener} let go at {read}; it went on at {held} {unit}.",
		Why:       "It was loose already: the joint was held by the others.",
		Remedy:    "Look for the cause before it is fitted again: embedded washer, crushed gasket, missed fastener.",
		Deviation: "{Fastener} was loose before it was let go: {read} of {held} {unit}"},
	"raised:": {Deviation: "{what}",
		DeviationRemedy: "Put it right, or have it accepted by an engineer or inspector."},
	"not_lifted": {What: "The stop stays.", Why: "{by}",
		Remedy: "Let the one who called it lift it, or an inspector or engineer."},
	"tool_doubted": {What: "{tool} was put aside: {reason}.",
		Why:    "What it tightened may hold more or less than the plan says.",
		Remedy: "Take another set-up. Loosen and bring up again what it touched, or have each accepted."},
	"in_doubt": {Deviation: "{Fastener} was tightened with {tool}, which is in doubt: {reason}",
		DeviationWhy:    "What it holds is not known as well as the record would say.",
		DeviationRemedy: "Loosen it and bring it up again with another set-up, or have it accepted."},
	"no_witness:":  {Deviation: "{title}: no witness came", DeviationWhy: "{reason}"},
	"part_changed": {Deviation: "{what}, in pass {pass}", DeviationWhy: "{reason}"},
	"waived:":      {Deviation: "{title}: waived, it does not apply", DeviationWhy: "{reason}"},
	"waived:/asked": {What: "An engineer must sign that {title} does not apply.", Why: "{reason}",
		Remedy:    "Ask for the signature, or answer the check.",
		Deviation: "{title}: said not to apply", DeviationWhy: "{reason}",
		DeviationRemedy: "An engineer signs that it does not apply, or the check is answered."},
	"wrench_/taken": {What: "{what}.", Remedy: "{remedy}"},
	"try_wrench": {What: "Try {tool} five times at a low setting before it is used.",
		Why: "The mechanism sticks after lying."},

	"hold_needed": {What: "{title} cannot be left out.", Why: "{why}", Remedy: "{remedy}"},
	"photo_needed": {What: "{title} needs a photo.", Why: "Whoever looks later must see what you saw.",
		Remedy: "Take one, then answer."},
	"forbidden_method": {What: "{method} is not permitted here.", Why: "{why}", Remedy: "Use {permitted}."},
	"reading/answer":   {What: "{what}", Remedy: "Measure again."},
	"lubricant_unknown": {What: "There is no card for this lubricant.", Why: "Its friction is not known.",
		Remedy: "Stop and ask; use the planned one."},
	"wrong_lubricant": {What: "Wrong lubricant for this plan: {found} instead of {planned}.", Why: "{change}",
		Remedy: "Clean off and use {planned}, or ask for a plan with {found} (about {restoring} N·m)."},
	"lubricant_service": {What: "{found} is not documented for {service} service.",
		Why:    "A paste that is wrong for the service can poison, burn or spoil what it meets.",
		Remedy: "Clean it off. Use a lubricant documented for it."},
	"lubricant_expired": {What: "The tin is past its use-by of {date}.",
		Why: "An aged paste does not have the friction of its card.", Remedy: "Take a tin in date."},

	"check_not_met/no":        {What: "{title}: not so.", Why: "{cause}", Remedy: "{remedy}"},
	"check_not_met/condition": {What: "{title}: {answer}.", Why: "{cause}", Remedy: "{remedy}"},
	"check_not_met/parts":     {What: "{list}.", Why: "{cause}", Remedy: "{remedy}"},
	"check_not_met/marks":     {What: "{list}.", Why: "{why} {cause}", Remedy: "{remedy}"},
	"check_not_met/sequence_missing": {What: "{item} is not in yet.", Why: "{why}",
		Remedy: "Go on in the order of the list."},
	"check_not_met/sequence_order": {What: "{ticked} was ticked where {item} belongs.", Why: "{why} {cause}",
		Remedy: "Take them out again down to there. {remedy}"},
	"check_not_met/clock":     {What: "{title}: {found}.", Why: "{why} {cause}", Remedy: "{remedy}"},
	"check_not_met/temporary": {What: "{item} is not {want}.", Why: "{why}", Remedy: "{remedy}"},
	"check_not_met/test_unnamed": {What: "{title} names no procedure.",
		Why: "Nobody can say later what was tested.", Remedy: "Enter the procedure's number."},
	"check_not_met/test_low": {What: "{title}: {read} {unit}, at least {limit} are asked.", Why: "{why}",
		Remedy: "{remedy}"},
	"check_not_met/test_no_reading": {What: "{title} has no reading.",
		Why: "A test without a reading above nothing proves nothing.", Remedy: "Enter what the gauge showed."},
	"check_not_met/test_no_duration": {What: "{title} has no duration.",
		Why: "A test that lasted no time proves nothing.", Remedy: "Enter how many minutes it was held."},
	"check_not_met/test_failed": {What: "{title}: not passed.", Why: "{cause}", Remedy: "{remedy}"},
	"check_not_met/responsible": {What: "{title}: choice and name are both needed.", Why: "{why}",
		Remedy: "Say what was chosen, and who answers for it."},
	"check_not_met/stations": {What: "{title}: {given} readings given.",
		Remedy: "Measure at {stations} stations."},
	"check_not_met/limit": {What: "{title}: {read}, the limit is {limit} ({from}).", Why: "{where} {cause}",
		Remedy: "{remedy}"},
	"check_not_met/limit_of": {What: "{title}: {read} {unit}, the limit is {limit} {unit} ({from}).",
		Why: "{where} {cause}", Remedy: "{remedy}"},
}

// shape is what the curve of a pull means.
type shape struct{ What, Why, Remedy string }

// traceYielded is the shape of a bolt at yield.
const traceYielded = "yielded"

// traceWords say what the shape of a pull means.
var traceWords = map[string]shape{
	"cross_thread_suspect": {"ran down stiffly, as a cross-threaded nut does",
		"Torque went into the thread before the bolt was stretched.",
		"Loosen it, look at both threads, run the nut by hand, and pull it again."},
	"bottomed_out_suspect": {"rose in two slopes, as a nut that runs out of thread or a bolt that bottoms",
		"The torque is reached before the joint is clamped.",
		"Look at length and thread; change what is wrong and pull it again."},
	traceYielded: {"went soft before the end, as a bolt at yield does",
		"A bolt past yield holds less with every pull.",
		"Stop. Replace the bolt, look at lubricant and target, ask the engineer."},
	"already_tight": {"was at its torque within a few degrees",
		"It may be seized, cross-threaded or already tight: the torque says only 'at or above'.", doSeized},
	"no_elastic": {"has no straight rise", "Something gives way, or the samples are too few.",
		"Look at the joint; pull it again."},
}

// passWords say of a deviation, by its code, what was not right with a fastener in its pass.
var passWords = map[working.Code]string{
	Repeated: "pulled twice", TooMuch: "pulled past the click", StillClick: "clicked without turning",
	WrongSetting: "pulled at another setting",
}

// againWords say why a fastener without a torque is at hand again.
var againWords = map[plan.PassKind]string{
	plan.EffortPass:  "outside its window: adjust and measure again",
	plan.StretchPass: "outside its band: tighten on and measure again", plan.TurnPass: "not at its mark: turn it on",
	plan.HandPass: "not there yet: once more", plan.ShapePass: "not there yet: once more",
	plan.UndoPass: "not free yet: once more", plan.EasePass: "still held: once more, with leave where it is forced",
}
