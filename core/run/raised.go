package run

import "dynacor/core/working"

// raisedRules are found while the work is counted or a check is answered, and raised there.
var raisedRules = []Rule{
	replacedRule, escalateRule, startedOpenRule, endedOpenRule, skippedRule, notForLooseningRule, raisedRule,
	takenUnfitRule,
	tryWrenchRule,
	holdNeededRule, photoNeededRule, forbiddenRule, checkUnusableRule, lubricantUnknownRule, wrongLubricantRule,
	lubricantServiceRule, lubricantExpiredRule,
	checkNo, checkCondition, checkList, checkMarks, sequenceMissing, sequenceOrder, checkClock, checkTemporary,
	notLiftedRule, waivedRule, toWaiveRule, doubtedRule, inDoubtRule, partChangedRule, noWitnessRule, letGoTooSoonRule,
	testUnnamed, testLow, testNoReading, testNoDuration, testFailed,
	responsibleMissing, stationsMissing, overLimit, overLimitOf,
}

var (
	replacedRule        = Rule{Code: FastenerReplaced, On: Pulled, Closing: ByNote}
	escalateRule        = Rule{Code: CheckEscalate, On: Pulled, Severity: working.Stop, Closing: ByLeave}
	startedOpenRule     = Rule{Code: StartedOpen, On: Signed, Closing: BySigning}
	endedOpenRule       = Rule{Code: StartedOpen, Case: "last", On: Signed, Closing: BySigning}
	skippedRule         = Rule{Code: LeftForLater, On: Skipped, Severity: working.Caution}
	notForLooseningRule = Rule{Code: NotForLoosening, On: Loosened, Severity: working.Stop, Closing: ByNote}
	raisedRule          = Rule{Code: Raised, On: DeviationRaised, Closing: ByLeave}
	takenUnfitRule      = Rule{Code: ToolUnfit, Case: "taken", On: WrenchTaken, Severity: working.Stop}
	tryWrenchRule       = Rule{Code: TryWrench, On: WrenchTaken, Severity: working.Caution}

	notLiftedRule = Rule{Code: NotLifted, On: Released, Severity: working.Stop}
	doubtedRule   = Rule{Code: DoubtedTool, On: ToolDoubted, Severity: working.Stop}
	inDoubtRule   = Rule{Code: InDoubt, On: ToolDoubted, Closing: ByRework}

	noWitnessRule    = Rule{Code: NoWitness, On: Signed, Closing: BySigning}
	letGoTooSoonRule = Rule{Code: LetGoTooSoon, On: Loosened, Severity: working.Stop, Closing: ByLeave}
	partChangedRule  = Rule{Code: ChangedPart, On: PartChanged, Closing: ByNote}

	waivedRule  = Rule{Code: Waived, On: CheckAnswered, Closing: BySigning}
	toWaiveRule = Rule{Code: Waived, Case: "asked", On: CheckAnswered, Severity: working.Caution, Closing: ByLeave}

	holdNeededRule       = answerRule(HoldNeeded, "")
	photoNeededRule      = answerRule(PhotoNeeded, "")
	forbiddenRule        = answerRule(ForbiddenMethod, "")
	checkUnusableRule    = answerRule(ReadingUnusable, "answer")
	lubricantUnknownRule = answerRule(LubricantUnknown, "")
	wrongLubricantRule   = answerRule(WrongLubricant, "")
	lubricantServiceRule = answerRule(LubricantService, "")
	lubricantExpiredRule = answerRule(LubricantExpired, "")
	checkNo              = answerRule(CheckNotMet, "no")
	checkCondition       = answerRule(CheckNotMet, "condition")
	checkList            = answerRule(CheckNotMet, "parts")
	checkMarks           = answerRule(CheckNotMet, "marks")
	sequenceMissing      = answerRule(CheckNotMet, "sequence_missing")
	sequenceOrder        = answerRule(CheckNotMet, "sequence_order")
	checkClock           = answerRule(CheckNotMet, "clock")
	checkTemporary       = answerRule(CheckNotMet, "temporary")
	testUnnamed          = answerRule(CheckNotMet, "test_unnamed")
	testLow              = answerRule(CheckNotMet, "test_low")
	testNoReading        = answerRule(CheckNotMet, "test_no_reading")
	testNoDuration       = answerRule(CheckNotMet, "test_no_duration")
	testFailed           = answerRule(CheckNotMet, "test_failed")
	responsibleMissing   = answerRule(CheckNotMet, "responsible")
	stationsMissing      = answerRule(CheckNotMet, "stations")
	overLimit            = answerRule(CheckNotMet, "limit")
	overLimitOf          = answerRule(CheckNotMet, "limit_of")
)

// answerRule is about the answer to a check: nothing goes on until it is answered otherwise.
func answerRule(code working.Code, which string) Rule {
	return Rule{Code: code, Case: which, On: CheckAnswered, Severity: working.Stop}
}
