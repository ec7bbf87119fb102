package run

import (
	"fmt"
	"math"

	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/working"
)

// turnSlackDeg is how far a turn by hand may miss its mark: half a twelfth of a turn, what an eye sees on a clock face. Source: own rule.
const turnSlackDeg = 15

// judgeHand judges a visit that no tool is set for, own telling whether it is one. A torque recorded where there must be none is a stop.
func (f *folder) judgeHand(e Event, i int) (mark Mark, own bool) {
	ps := f.s.Passes[i]
	kind := plan.PassKind(ps.Kind)
	n := f.Name(e.Fastener)
	switch kind {
	case plan.LeavePass:
		if e.Outcome == LeftAlone && e.Reading == nil {
			return MarkDone, true
		}
		why := f.p.GroupAt(e.Fastener).EndsWhy
		f.find(working.Stop, "no_torque", n+" must not be torqued.", why, "Look at it; take the record back if it was not touched.")
		f.deviate(e, "no_torque", n+" was torqued; it must not be", why, "Look at the part; an engineer decides.", "open")
		return MarkOver, true
	case plan.HandPass, plan.ShapePass, plan.UndoPass, plan.TurnPass:
		if m, ok := f.notRight(e, n, ps); ok {
			return m, true
		}
		if kind == plan.TurnPass {
			return f.turned(e, n, ps), true
		}
		return MarkDone, true
	case plan.EffortPass:
		return f.effort(e, n, ps), true
	case plan.StretchPass:
		return f.stretched(e, n, ps), true
	}
	return MarkNone, false
}

// notRight takes what went too far or not far enough.
func (f *folder) notRight(e Event, n string, ps PassState) (Mark, bool) {
	switch e.Outcome {
	case Short, ClickedStill:
		f.find(working.Caution, "short", n+" is not there yet.", "It does not do what its neighbours do.", "Do it again before the pass ends.")
		return MarkShort, true
	case Over:
		f.find(working.Stop, "over", n+" went too far.", "What went past its mark may be damaged.", "Let it go and bring it up again, replace it, or have it accepted by an engineer.")
		f.deviate(e, "over", fmt.Sprintf("%s went too far in pass %d (%s)", n, ps.Number, ps.Name), "", "Let it go and repeat, replace, or have it accepted.", "open")
		return MarkOver, true
	}
	return MarkNone, false
}

// turned holds a turn against what was asked; a turn that also has a torque ends at whichever comes first.
func (f *folder) turned(e Event, n string, ps PassState) Mark {
	if e.Outcome == Clicked || e.Outcome == Reached {
		return MarkDone
	}
	off := e.TurnedDeg - ps.TurnDeg
	switch {
	case off < -turnSlackDeg:
		f.find(working.Caution, "short", fmt.Sprintf("%s turned %s, asked are %s.", n, turnText(e.TurnedDeg), turnText(ps.TurnDeg)), "A turn counts from its mark.", "Turn it on to the mark.")
		return MarkShort
	case off > turnSlackDeg:
		f.find(working.Stop, "over", fmt.Sprintf("%s turned %s, asked are %s.", n, turnText(e.TurnedDeg), turnText(ps.TurnDeg)), "What is turned too far is stretched or crushed, and turning it back does not undo it.", "Replace it, or have it accepted by an engineer.")
		f.deviate(e, "over", fmt.Sprintf("%s turned %s instead of %s in pass %d", n, turnText(e.TurnedDeg), turnText(ps.TurnDeg), ps.Number), "", "Replace it, or have it accepted.", "open")
		return MarkOver
	}
	return MarkDone
}

// turnText says a turn as people do: degrees, with turns and flats.
func turnText(deg float64) string {
	t := quantity.Text(quantity.Significant(deg, 4)) + "°"
	if q := deg / 90; math.Abs(q-math.Round(q)) < 1e-9 && deg > 0 {
		words := map[float64]string{1: "a quarter turn", 2: "half a turn", 3: "three quarters", 4: "one turn", 5: "one turn and a quarter", 6: "one turn and a half"}
		if w := words[q]; w != "" {
			return w
		}
	}
	return t
}

// effort holds what it took to start a stem against its window and says which way to adjust. Every attempt stays.
func (f *folder) effort(e Event, n string, ps PassState) Mark {
	if e.Reading == nil {
		f.find(working.Stop, "no_reading", n+" has no reading.", "The effort is what decides here.", "Measure what it takes to start the stem moving, and enter it.")
		return MarkShort
	}
	got, err := quantity.Convert(e.Reading.Value, e.Reading.Unit, quantity.NewtonMetre)
	if err != nil {
		f.find(working.Stop, "reading", err.Error(), "", "Enter a torque with its unit.")
		return MarkShort
	}
	window := sig(ps.LowNm) + " to " + sig(ps.HighNm) + " N·m"
	read := e.Reading.Words()
	if e.Reading.Unit != quantity.NewtonMetre {
		read += " (" + quantity.Text(quantity.Significant(got, 4)) + " N·m)"
	}
	line := fmt.Sprintf("%s: %s, window %s", f.name(e.Fastener), read, window)
	f.s.Passes[ps.Number-1].Tries = append(f.s.Passes[ps.Number-1].Tries, got)
	switch {
	case !quantity.AtMost(ps.LowNm, got):
		f.find(working.Caution, "effort_low", fmt.Sprintf("It took %s; the window is %s.", read, window), "The packing does not bear on the stem yet: it will leak.", "Tighten "+n+" a little, then measure again.")
	case !quantity.AtMost(got, ps.HighNm):
		f.find(working.Caution, "effort_high", fmt.Sprintf("It took %s; the window is %s.", read, window), "The packing grips the stem: it wears and may stick.", "Loosen "+n+" a little, then measure again.")
	default:
		return MarkDone
	}
	f.s.Passes[ps.Number-1].NotRight = append(f.s.Passes[ps.Number-1].NotRight, line)
	return MarkShort
}

// stretched holds how much longer a bolt has become against its band, mm.
func (f *folder) stretched(e Event, n string, ps PassState) Mark {
	if e.Reading == nil {
		f.find(working.Stop, "no_reading", n+" has no reading.", "The stretch is what decides here.", "Measure the bolt before and after, and enter the difference.")
		return MarkShort
	}
	got := e.Reading.Value
	if v, err := quantity.Convert(e.Reading.Value, e.Reading.Unit, quantity.Millimetre); err == nil {
		got = v
	}
	band := fmt.Sprintf("%.3f to %.3f mm", ps.LowMM, ps.HighMM)
	read := e.Reading.Words()
	if e.Reading.Unit != quantity.Millimetre {
		read += fmt.Sprintf(" (%.3f mm)", got)
	}
	switch {
	case !quantity.AtMost(ps.LowMM, got):
		f.find(working.Caution, "short", fmt.Sprintf("%s is %s longer; asked are %s.", n, read, band), "It holds less than its neighbours.", "Tighten it further and measure again.")
		return MarkShort
	case !quantity.AtMost(got, ps.HighMM):
		f.find(working.Stop, "over", fmt.Sprintf("%s is %s longer; asked are %s.", n, read, band), "It may be past yield.", "Let it go and repeat, replace, or have it accepted by an engineer.")
		f.deviate(e, "over", fmt.Sprintf("%s stretched %s in pass %d, asked are %s", n, read, ps.Number, band), "", "Let it go and repeat, replace, or have it accepted.", "open")
		return MarkOver
	}
	return MarkDone
}
