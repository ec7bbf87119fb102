package run

import (
	"fmt"
	"math"
	"slices"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// The codes of what can be out. A check that is not met is told under its own code, which the procedure gives.
const (
	NoSuchFastener   working.Code = "no_such_fastener"
	AfterLastPass    working.Code = "after_last_pass"
	WrongStage       working.Code = "wrong_stage"
	SameResult       working.Code = "same_result"
	NotReady         working.Code = "not_ready"
	OnHold           working.Code = "held"
	NotConfirmed     working.Code = "not_confirmed"
	ToolUnfit        working.Code = "wrench_" // ends with what is wrong with the tool
	Gate             working.Code = "gate"
	NoTorque         working.Code = "no_torque"
	OtherGroup       working.Code = "other_group"
	Repeated         working.Code = "repeated"
	OutOfOrder       working.Code = "out_of_order"
	Ahead            working.Code = "ahead"
	TooLittle        working.Code = "short"
	TooMuch          working.Code = "over"
	NoReading        working.Code = "no_reading"
	ReadingUnusable  working.Code = "reading"
	EffortLow        working.Code = "effort_low"
	EffortHigh       working.Code = "effort_high"
	NotClear         working.Code = "not_clear"
	OtherScale       working.Code = "other_scale"
	WrongSetting     working.Code = "wrong_setting"
	StillClick       working.Code = "clicked_still"
	PressureDrift    working.Code = "pressure_drift"
	TraceUnread      working.Code = "trace_unread"
	TraceShape       working.Code = "trace_" // ends with the shape
	NutMoved         working.Code = "moved"
	FastenerReplaced working.Code = "replaced"
	CheckEscalate    working.Code = "check_escalate"
	StartedOpen      working.Code = "start_pass"
	SecondReading    working.Code = "second_reading"
	TryWrench        working.Code = "try_wrench"
	LeftForLater     working.Code = "skipped"
	NotForLoosening  working.Code = "not_for_loosening"
	Stuck            working.Code = "stuck"
	OutFirst         working.Code = "out_first"
	Forced           working.Code = "forced"
	NoBreakOut       working.Code = "no_break_out"
	BreakOutHigh     working.Code = "break_out_high"
	LooseBefore      working.Code = "loose_before"
	Raised           working.Code = "raised:" // ends with the check it is about, if any
	HoldNeeded       working.Code = "hold_needed"
	PhotoNeeded      working.Code = "photo_needed"
	ForbiddenMethod  working.Code = "forbidden_method"
	LubricantUnknown working.Code = "lubricant_unknown"
	WrongLubricant   working.Code = "wrong_lubricant"
	LubricantService working.Code = "lubricant_service"
	LubricantExpired working.Code = "lubricant_expired"
	CheckNotMet      working.Code = "check_not_met" // told under the check's own code
	Waived           working.Code = "waived:"       // ends with the check
	DoubtedTool      working.Code = "tool_doubted"
	NotLifted        working.Code = "not_lifted"
	InDoubt          working.Code = "in_doubt"
	ChangedPart      working.Code = "part_changed"
	NoWitness        working.Code = "no_witness:" // ends with the check
	ForbiddenTool    working.Code = "forbidden_tool"
	LetGoTooSoon     working.Code = "let_go_too_soon"
)

// Rules lists every rule in the order in which they are asked.
func Rules() []Rule {
	return slices.Concat(
		countRules,
		placeRules,
		handRules,
		easeRules,
		settingRules,
		readingRules,
		confirmRules,
		raisedRules,
	)
}

// countRules say whether a pull counts at all. Each has the last word.
var countRules = []Rule{
	{Code: NoSuchFastener, On: Pulled, Severity: working.Stop, Last: true, applies: func(a *act) []working.Facts {
		if a.e.Fastener >= 1 && a.e.Fastener <= len(a.torque) {
			return nil
		}
		return broken("word", a.p.First().Word(), "number", fmt.Sprint(a.e.Fastener))
	}},
	{Code: AfterLastPass, On: Pulled, Severity: working.Caution, Closing: ByNote, Last: true,
		applies: func(a *act) []working.Facts { return when(a.i == len(a.s.Passes)) }},
	{Code: WrongStage, Case: "behind", On: Pulled, Severity: working.Caution, Closing: ByNote, Last: true,
		applies: func(a *act) []working.Facts {
			if a.e.Pass >= a.i+1 {
				return nil
			}
			return broken("said", fmt.Sprint(a.e.Pass))
		}},
	{Code: SameResult, On: Pulled, Severity: working.Info, Last: true, applies: func(a *act) []working.Facts {
		if key := a.e.deviceResult(); key == "" || !a.h.device[key] {
			return nil
		}
		return broken("device", a.e.Device)
	}},
}

// placeRules say whether this fastener may be worked on now, by this hand, with this tool.
var placeRules = []Rule{
	{Code: NotReady, On: Pulled, Severity: working.Stop, Closing: ByLeave,
		applies: func(a *act) []working.Facts { return when(!a.ready()) }},
	{Code: OnHold, On: Pulled, Severity: working.Stop, Closing: ByLeave, applies: func(a *act) []working.Facts {
		if a.s.StoppedBy == "" {
			return nil
		}
		return broken("by", a.s.StoppedBy)
	}},
	{Code: NotConfirmed, On: Pulled, Severity: working.Caution, Closing: ByNote, applies: func(a *act) []working.Facts {
		why := a.mustConfirm(a.h, a.i, a.e.Person.ID, a.time(a.e))
		if why == "" {
			return nil
		}
		return broken("confirm", why)
	}},
	{Code: ToolUnfit, On: Pulled, Severity: working.Stop, Closing: ByLeave,
		applies: func(a *act) (out []working.Facts) {
			for _, pr := range a.problems(a.h, a.i) {
				out = append(out, broken("code", pr.Code, "what", pr.What, "remedy", pr.Remedy)...)
			}
			return out
		}},
	{Code: ForbiddenTool, On: Pulled, Severity: working.Stop, Closing: ByLeave,
		applies: func(a *act) []working.Facts {
			for _, r := range a.p.GroupAt(a.e.Fastener).RunDown {
				if string(r.Kind) == a.e.Method && r.Never != "" {
					return broken("tool", r.Word, "why", r.Never)
				}
			}
			return nil
		}},
	{Code: Gate, On: Pulled, Severity: working.Stop, Closing: ByLeave, applies: func(a *act) []working.Facts {
		g := a.gates(a.i)
		if len(g) == 0 {
			return nil
		}
		return broken("check", g[0].Title, "why", g[0].Why)
	}},
	{Code: WrongStage, Case: "ahead", On: Pulled, Severity: working.Stop, Closing: ByRework, Mark: MarkOver, Last: true,
		applies: func(a *act) []working.Facts {
			if a.e.Pass <= a.i+1 || a.kind() == plan.EasePass {
				return nil
			}
			return broken("said", fmt.Sprint(a.e.Pass))
		}},
	{Code: NoTorque, On: Pulled, Severity: working.Stop, Closing: ByLeave, Last: true,
		applies: func(a *act) []working.Facts {
			g := a.p.GroupAt(a.e.Fastener)
			if a.has(a.i, a.e.Fastener) || g.EndsAt != procedure.NoTorque {
				return nil
			}
			return broken("why", g.EndsWhy)
		}},
	{Code: OtherGroup, On: Pulled, Severity: working.Caution, Closing: ByNote, Last: true,
		applies: func(a *act) []working.Facts {
			if a.has(a.i, a.e.Fastener) {
				return nil
			}
			return broken("next", a.name(max(1, a.turn())))
		}},
	{Code: Repeated, On: Pulled, Severity: working.Caution, Closing: ByNote, applies: func(a *act) []working.Facts {
		want := a.turn()
		if want == 0 || want == a.e.Fastener || !a.mark(a.e.Fastener).closed() {
			return nil
		}
		return broken("next", a.name(want))
	}},
	{Code: OutOfOrder, On: Pulled, Severity: working.Caution, Closing: ByNote, applies: func(a *act) []working.Facts {
		want := a.turn()
		if want == 0 || want == a.e.Fastener || a.mark(a.e.Fastener).closed() {
			return nil
		}
		return broken("next", a.label(want), "this", a.label(a.e.Fastener), "order", a.pass().orderWhy())
	}},
	{Code: Ahead, On: Pulled, Severity: working.Caution, Closing: ByNote, applies: func(a *act) []working.Facts {
		wait := a.wait(a.i, a.h, a.e.Fastener)
		if wait == "" {
			return nil
		}
		return broken("wait", wait)
	}},
}

// handRules judge a visit that no tool is set for.
var handRules = []Rule{
	{Code: NoTorque, On: Pulled, Severity: working.Stop, Closing: ByLeave, Mark: MarkOver, Last: true,
		applies: func(a *act) []working.Facts {
			if a.kind() != plan.LeavePass || a.e.Outcome == LeftAlone && a.e.Reading == nil {
				return nil
			}
			return broken("why", a.p.GroupAt(a.e.Fastener).EndsWhy)
		}},
	{Code: TooLittle, Case: "by_hand", On: Pulled, Severity: working.Caution, Mark: MarkShort, Last: true,
		applies: func(a *act) []working.Facts {
			return when(a.byHand() && (a.e.Outcome == Short || a.e.Outcome == ClickedStill))
		}},
	{Code: TooMuch, Case: "by_hand", On: Pulled, Severity: working.Stop, Closing: ByRework, Mark: MarkOver, Last: true,
		applies: func(a *act) []working.Facts {
			if !a.byHand() || a.e.Outcome != Over {
				return nil
			}
			return broken("step", a.pass().Name)
		}},
	{Code: TooLittle, Case: "turned", On: Pulled, Severity: working.Caution, Mark: MarkShort, Last: true,
		applies: func(a *act) []working.Facts {
			return a.turnOff(func(off float64) bool { return off < -TurnSlackDeg })
		}},
	{Code: TooMuch, Case: "turned", On: Pulled, Severity: working.Stop, Closing: ByRework, Mark: MarkOver, Last: true,
		applies: func(a *act) []working.Facts {
			return a.turnOff(func(off float64) bool { return off > TurnSlackDeg })
		}},
	{Code: NoReading, Case: "effort", On: Pulled, Severity: working.Stop, Mark: MarkShort, Last: true,
		applies: func(a *act) []working.Facts {
			return when(a.kind() == plan.EffortPass && a.e.Reading == nil)
		}},
	{Code: ReadingUnusable, On: Pulled, Severity: working.Stop, Mark: MarkShort, Last: true,
		applies: func(a *act) []working.Facts {
			if a.kind() != plan.EffortPass {
				return nil
			}
			if _, err := a.effort(); err != nil {
				return broken("what", err.Error())
			}
			return nil
		}},
	{Code: EffortLow, On: Pulled, Severity: working.Caution, Mark: MarkShort, Last: true,
		applies: func(a *act) []working.Facts {
			return a.effortOff(func(got float64) bool { return !quantity.AtMost(a.pass().LowNm, got) })
		}},
	{Code: EffortHigh, On: Pulled, Severity: working.Caution, Mark: MarkShort, Last: true,
		applies: func(a *act) []working.Facts {
			return a.effortOff(func(got float64) bool { return !quantity.AtMost(got, a.pass().HighNm) })
		}},
	{Code: NoReading, Case: "stretch", On: Pulled, Severity: working.Stop, Mark: MarkShort, Last: true,
		applies: func(a *act) []working.Facts {
			return when(a.kind() == plan.StretchPass && a.e.Reading == nil)
		}},
	{Code: TooLittle, Case: "stretched", On: Pulled, Severity: working.Caution, Mark: MarkShort, Last: true,
		applies: func(a *act) []working.Facts {
			return a.stretchOff(func(got float64) bool { return !quantity.AtMost(a.pass().LowMM, got) })
		}},
	{Code: TooMuch, Case: "stretched", On: Pulled, Severity: working.Stop, Closing: ByRework, Mark: MarkOver,
		Last: true, applies: func(a *act) []working.Facts {
			return a.stretchOff(func(got float64) bool { return !quantity.AtMost(got, a.pass().HighMM) })
		}},
}

// settingRules judge a pull by what the tool was set to and how it ended.
var settingRules = []Rule{
	{Code: NotClear, On: Pulled, Severity: working.Caution, Closing: ByNote, applies: func(a *act) []working.Facts {
		s := a.setUp()
		return when(s != nil && s.Method() != tool.ByWrench && !a.e.Clear)
	}},
	{Code: OtherScale, Case: "pulled_high", On: Pulled, Severity: working.Stop, Closing: ByRework, As: WrongSetting,
		Mark: MarkOver, Last: true, applies: func(a *act) []working.Facts { return a.settingOff(true, true) }},
	{Code: WrongSetting, Case: "pulled_high", On: Pulled, Severity: working.Stop, Closing: ByRework, Mark: MarkOver,
		Last: true, applies: func(a *act) []working.Facts { return a.settingOff(false, true) }},
	{Code: OtherScale, Case: "pulled_low", On: Pulled, Severity: working.Stop, Mark: MarkShort, Last: true,
		applies: func(a *act) []working.Facts { return a.settingOff(true, false) }},
	{Code: WrongSetting, Case: "pulled_low", On: Pulled, Severity: working.Stop, Mark: MarkShort, Last: true,
		applies: func(a *act) []working.Facts { return a.settingOff(false, false) }},
	{Code: TooLittle, On: Pulled, Severity: working.Caution, Mark: MarkShort, Last: true,
		applies: func(a *act) []working.Facts { return when(a.e.Outcome == Short) }},
	{Code: TooMuch, On: Pulled, Severity: working.Stop, Closing: ByRework, Mark: MarkOver, Last: true,
		applies: func(a *act) []working.Facts { return when(a.e.Outcome == Over) }},
	{Code: StillClick, On: Pulled, Severity: working.Caution, Closing: ByRework, Mark: MarkDone, Last: true,
		Suspect: true, applies: func(a *act) []working.Facts {
			return when(a.e.Outcome == ClickedStill && a.kind() == plan.StagePass && a.firstTorque(1))
		}},
}

// readingRules judge a pull by what the tool told of it.
var readingRules = []Rule{
	{Code: PressureDrift, Case: "low", On: Pulled, Severity: working.Stop, Mark: MarkShort, Last: true, SetAgain: true,
		applies: func(a *act) []working.Facts {
			return a.drift(func(off float64) bool { return off < 0 })
		}},
	{Code: PressureDrift, Case: "high", On: Pulled, Severity: working.Stop, Closing: ByRework, As: TooMuch,
		Mark: MarkOver, Last: true, SetAgain: true, applies: func(a *act) []working.Facts {
			return a.drift(func(off float64) bool { return off > 0 })
		}},
	{Code: TooMuch, Case: "read", On: Pulled, Severity: working.Stop, Closing: ByRework, Mark: MarkOver, Last: true,
		applies: func(a *act) []working.Facts {
			return a.torqueOff(
				func(got, _, high quantity.Torque) (quantity.Torque, bool) { return high, !quantity.AtMost(got, high) },
			)
		}},
	{Code: TooLittle, Case: "read", On: Pulled, Severity: working.Caution, Mark: MarkShort, Last: true,
		applies: func(a *act) []working.Facts {
			// in a check round a nut that stays gives what it takes to try it
			return a.torqueOff(func(got, low, _ quantity.Torque) (quantity.Torque, bool) {
				return low, a.kind() == plan.StagePass && !quantity.AtMost(low, got)
			})
		}},
	{Code: TraceUnread, On: Pulled, Severity: working.Info, applies: func(a *act) []working.Facts {
		if _, err := a.trace(); err != nil {
			return broken("what", err.Error())
		}
		return nil
	}},
	{Code: TraceShape, On: Pulled, Severity: working.Caution, Closing: ByRework, Suspect: true,
		applies: func(a *act) []working.Facts {
			shape, err := a.trace()
			w, odd := traceWords[shape]
			// Yield counts in every pass; a nut that is tight already and one that never ran free can be told in the
			// first torque pass only: later every nut begins tight.
			if err != nil || !odd || !a.firstTorque(3) && shape != traceYielded {
				return nil
			}
			return broken("code", shape, "shape", w.What, "why", w.Why, "remedy", w.Remedy)
		}},
	{Code: NutMoved, On: Pulled, Severity: working.Info, Mark: MarkMoved, Last: true,
		applies: func(a *act) []working.Facts {
			if !a.movedOn() || a.movedWithin() {
				return nil
			}
			may := "It may not turn at all"
			if limit := a.pass().MovedDeg; limit > 0 {
				may = "It may turn " + quantity.Text(limit) + "°"
			}
			return broken("this", a.label(a.e.Fastener), "may", may)
		}},
}

// confirmRules judge a setting that is confirmed. Each has the last word: the setting does not count.
var confirmRules = []Rule{
	{Code: OtherScale, Case: "set", On: SettingConfirmed, Severity: working.Stop, Last: true,
		applies: func(a *act) []working.Facts {
			return slices.Concat(a.settingOff(true, true), a.settingOff(true, false))
		}},
	{Code: WrongSetting, Case: "set", On: SettingConfirmed, Severity: working.Stop, Last: true,
		applies: func(a *act) []working.Facts {
			return slices.Concat(a.settingOff(false, true), a.settingOff(false, false))
		}},
	{Code: SecondReading, On: SettingConfirmed, Severity: working.Stop, Last: true,
		applies: func(a *act) []working.Facts {
			return when(a.tool().Kind.Sets() == tool.ByPressure && a.e.Reading == nil)
		}},
	{Code: PressureDrift, Case: "second", On: SettingConfirmed, Severity: working.Stop, Last: true,
		applies: func(a *act) []working.Facts {
			d := a.tool()
			if d.Kind.Sets() != tool.ByPressure || math.Abs(a.e.Reading.In(d.Unit)-a.want()) <= d.Graduation+slack {
				return nil
			}
			return broken("read", a.e.Reading.Words(), "want", quantity.Text(a.want()), "unit", d.Unit.Symbol())
		}},
}
