package run

import (
	"fmt"
	"math"

	"dynacor/core/plan"
	"dynacor/core/preload"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/core/working"
)

// act is an event with the moment it came in: what the rules look at. They change nothing.
type act struct {
	*folder
	e Event
	i int // index of the present pass; that of no pass after the last one
	h *hand

	due *int // kept by turn
}

// turn is the position whose turn it is, 0 for none.
func (a *act) turn() int {
	if a.due == nil {
		due := a.expected(a.i, a.h)
		a.due = &due
	}
	return *a.due
}

func (a *act) kind() plan.PassKind { return a.s.Passes[a.i].Kind }

func (a *act) pass() PassState { return a.s.Passes[a.i] }

func (a *act) setUp() *tool.SetUp { return a.inHand(a.h, a.i) }

func (a *act) tool() tool.Tool { return a.driver(a.h, a.i) }

// want is what is to be set: for the fastener that the event is about, else for the one whose turn it is.
func (a *act) want() float64 {
	if len(a.pass().Own) == 0 {
		return a.setting(a.h, a.i)
	}
	position := a.e.Fastener
	if position == 0 {
		position = a.turn()
	}
	return a.settingAt(a.h, a.i, position)
}

func (a *act) mark(position int) Mark { return a.marks[a.i][position-1] }

// byPressure reports whether what is set is a pressure, so that a reading is one too.
func (a *act) byPressure() bool {
	s := a.setUp()
	return s != nil && s.Driver().Kind.Sets() == tool.ByPressure
}

// TurnSlackDeg is how far a turn by hand may miss its mark: half a twelfth of a turn, what an eye sees on a clock face.
// Source: own rule.
const TurnSlackDeg = 15

// slack forgives what is lost in converting a figure from unit to unit.
const slack = 1e-9

// deviceResult names what a device sent, "" for a pull that no device told.
func (e Event) deviceResult() string {
	if e.Device == "" || e.DeviceSeq <= 0 {
		return ""
	}
	return fmt.Sprintf("%s %d", e.Device, e.DeviceSeq)
}

// byHand reports whether the pass is done by hand, to a shape, a mark, or undone.
func (a *act) byHand() bool {
	switch a.kind() {
	case plan.HandPass, plan.ShapePass, plan.UndoPass, plan.TurnPass:
		return true
	}
	return false
}

// turnOff gives the facts of a turn that is out. By the plans of older programs a click ended a turn too.
func (a *act) turnOff(out func(off float64) bool) []working.Facts {
	asked := a.pass().TurnDeg
	clicked := !a.reopens() && (a.e.Outcome == Clicked || a.e.Outcome == Reached)
	if a.kind() != plan.TurnPass || clicked || !out(a.e.TurnedDeg-asked) {
		return nil
	}
	return broken("turned", turnText(a.e.TurnedDeg), "asked", turnText(asked))
}

// effort is what it took to start a stem, N·m.
func (a *act) effort() (float64, error) {
	return quantity.Convert(a.e.Reading.Value, a.e.Reading.Unit, quantity.NewtonMetre)
}

// effortOff gives the facts of an effort that is outside its window.
func (a *act) effortOff(out func(got float64) bool) []working.Facts {
	if a.kind() != plan.EffortPass {
		return nil
	}
	got, _ := a.effort()
	if !out(got) {
		return nil
	}
	read := a.e.Reading.Words()
	if a.e.Reading.Unit != quantity.NewtonMetre {
		read += " (" + quantity.Text(quantity.Significant(got, 4)) + " N·m)"
	}
	return broken("read", read, "window", a.pass().window())
}

// stretch is how much longer the bolt has become, mm.
func (a *act) stretch() float64 {
	if v, err := quantity.Convert(a.e.Reading.Value, a.e.Reading.Unit, quantity.Millimetre); err == nil {
		return v
	}
	return a.e.Reading.Value
}

// stretchOff gives the facts of a stretch that is outside its band.
func (a *act) stretchOff(out func(got float64) bool) []working.Facts {
	if a.kind() != plan.StretchPass || !out(a.stretch()) {
		return nil
	}
	read := a.e.Reading.Words()
	if a.e.Reading.Unit != quantity.Millimetre {
		read += fmt.Sprintf(" (%.3f mm)", a.stretch())
	}
	return broken("read", read, "band", fmt.Sprintf("%.3f to %.3f mm", a.pass().LowMM, a.pass().HighMM))
}

// settingOff gives the facts of a wrong setting: one that is right on another scale only, or one that is right on none;
// too high, or too low.
func (a *act) settingOff(scale, high bool) []working.Facts {
	got, want, d := a.e.Setting, a.want(), a.tool()
	if math.Abs(got-want) <= d.Graduation/2+slack || got > want != high {
		return nil
	}
	o := otherScale(got, want, d.Unit)
	if (o != "") != scale {
		return nil
	}
	return broken("got", quantity.Text(got), "want", quantity.Text(want), "unit", d.Unit.Symbol(), "scale", o.Symbol())
}

// drift gives the facts of a gauge that moved.
func (a *act) drift(out func(off float64) bool) []working.Facts {
	if a.e.Reading == nil || !a.byPressure() {
		return nil
	}
	d := a.tool()
	off := a.e.Reading.In(d.Unit) - a.want()
	if math.Abs(off) <= d.Graduation+slack || !out(off) {
		return nil
	}
	return broken("read", a.e.Reading.Words(), "want", quantity.Text(a.want()), "unit", d.Unit.Symbol())
}

// torqueOff gives the facts of a torque read outside what the pass allows at the nut.
func (a *act) torqueOff(out func(got, low, high quantity.Torque) (limit quantity.Torque, is bool)) []working.Facts {
	if a.e.Reading == nil || a.setUp() == nil || a.byPressure() {
		return nil
	}
	got := a.atNut(a.h, a.e, a.i)
	low, high := a.band(a.i, a.h, a.e.Fastener)
	limit, is := out(got, low, high)
	if !is {
		return nil
	}
	scale := ""
	if o := otherScale(a.e.Reading.Value, a.want(), a.tool().Unit); o != "" {
		scale = "It would be right on the " + o.Symbol() + " scale."
	}
	return broken("read", sig(got), "limit", sig(limit), "unit", quantity.NewtonMetre.Symbol(), "scale", scale)
}

// trace reads the shape of a pull that a tool sent, "" when there is none to read.
func (a *act) trace() (shape string, err error) {
	if len(a.e.Trace) == 0 || a.kind() != plan.StagePass {
		return "", nil
	}
	r, err := preload.TorqueAngleAnalysis(nil, preload.TraceInput{Points: a.e.Trace, Target: float64(a.pass().TorqueNm),
		YieldRatio: 0.5, Rehit: 8, CrossFrac: 0.25, BottomRise: 0.15, BottomSlope: 1.6})
	return r.Diagnosis, err
}

// movedOn reports whether the nut turned in a check round.
func (a *act) movedOn() bool { return a.kind() == plan.CheckPass && a.e.Moved != nil && *a.e.Moved }

// movedWithin reports whether it turned no further than it may.
func (a *act) movedWithin() bool {
	return a.e.TurnedDeg > 0 && quantity.AtMost(a.e.TurnedDeg, a.pass().MovedDeg)
}

// orderWhy says why the order of a pass is kept.
func (ps PassState) orderWhy() string {
	if ps.Kind == plan.CheckPass {
		return "A check round goes from bolt to bolt, so that none is forgotten."
	}
	return ps.Why
}

// window is what an effort may be, in words.
func (ps PassState) window() string { return sig(ps.LowNm) + " to " + sig(ps.HighNm) + " N·m" }

// turnText says a turn as people do: degrees, with turns and flats.
func turnText(deg float64) string {
	t := quantity.Text(quantity.Significant(deg, 4)) + "°"
	if q := deg / 90; math.Abs(q-math.Round(q)) < slack && deg > 0 {
		words := map[float64]string{1: "a quarter turn", 2: "half a turn", 3: "three quarters", 4: "one turn",
			5: "one turn and a quarter", 6: "one turn and a half"}
		if w := words[q]; w != "" {
			return w
		}
	}
	return t
}

// otherScale finds the unit in which a number would be what is wanted in u, "" when there is none. Two hundredths are
// forgiven: marks differ.
func otherScale(got, want float64, u quantity.Unit) quantity.Unit {
	for _, o := range []quantity.Unit{quantity.NewtonMetre, quantity.FootPound, quantity.InchPound,
		quantity.KilogramMetre, quantity.Megapascal, "bar", "psi"} {
		if o == u || o.Kind() != u.Kind() {
			continue
		}
		if v, err := quantity.Convert(want, u, o); err == nil && math.Abs(got-v) <= 0.02*v {
			return o
		}
	}
	return ""
}

func sig[F ~float64](v F) string { return quantity.Text(quantity.Significant(v, 3)) }
