package pressuretest

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"dynacor/core/quantity"
)

// Code is how a test stands, or came out.
type Code string

// The verdicts. Held, Filled and Purged are good, Undecided says nothing yet, the others speak against what was tested.
const (
	Undecided Code = "undecided"
	Holds     Code = "holds"  // so far
	Held      Code = "held"   // to the end, and every joint was dry
	Filled    Code = "filled" // a pre-charge inside its limits
	Purged    Code = "purged"
	Fell      Code = "fell" // it lost more than it may, warmth taken off; of a vacuum: rose
	Weeps     Code = "weeps"
	Over      Code = "over"     // more pressure than the weakest part takes
	NotTold   Code = "not_told" // what was read cannot tell
	Broken    Code = "broken"   // let down before all was done
)

// Good reports whether a verdict speaks for what was tested.
func (c Code) Good() bool { return c == Held || c == Filled || c == Purged }

// Bad reports whether a verdict speaks against it: the joints that were covered are looked at again.
func (c Code) Bad() bool { return c == Fell || c == Weeps || c == Over }

// Verdict is how a test came out, with why.
type Verdict struct {
	Code     Code     `json:"code"`
	Word     string   `json:"word"`
	Sentence string   `json:"sentence"`
	Dry      []string `json:"dry"`    // joints that were looked at, at the test pressure or after it, and were dry
	Weeping  []string `json:"weeps"`  // joints that were not
	Unseen   []string `json:"unseen"` // joints that were not looked at then: it says nothing of them
}

func bar(v float64) string { return quantity.Text(quantity.Significant(v, 4)) + " bar" }

// loss writes a small pressure.
func loss(v float64) string {
	if math.Abs(v) < .1 {
		return quantity.Text(quantity.Significant(v*1000, 2)) + " mbar"
	}
	return quantity.Text(quantity.Significant(v, 2)) + " bar"
}

// Judged is the hold that is judged, nil before it is reached.
func (st State) Judged() *Hold {
	for i := range st.Holds {
		if st.Holds[i].Judged {
			return &st.Holds[i]
		}
	}
	return nil
}

func (st *State) verdict() Verdict {
	v := Verdict{Code: Undecided, Dry: []string{}, Weeping: []string{}, Unseen: []string{}}
	test := 1 + slices.IndexFunc(st.spec.Steps, func(x Step) bool { return x.Test })
	for _, j := range st.spec.Joints {
		i := slices.IndexFunc(st.Looks, func(l LookState) bool { return l.Joint == j && (!l.Dry || l.Step >= test) })
		switch {
		case i < 0:
			v.Unseen = append(v.Unseen, j)
		case st.Looks[i].Dry:
			v.Dry = append(v.Dry, j)
		default:
			v.Weeping = append(v.Weeping, j)
		}
	}
	v.Code, v.Sentence = st.outcome(v)
	v.Word = map[Code]string{Undecided: "Not told yet", Holds: "Holding so far", Held: "Held", Filled: "Filled",
		Purged: "Purged", Fell: "Fell", Weeps: "Weeps", Over: "Too much pressure", NotTold: "Not told",
		Broken: "Broken off"}[v.Code]
	if st.spec.Kind == Vacuum && v.Code == Fell {
		v.Word = "Rose"
	}
	return v
}

func (st *State) outcome(v Verdict) (Code, string) {
	over := st.Phase == Signing || st.Phase == Closed || st.Phase == Down
	switch {
	case st.over != nil:
		return Over, fmt.Sprintf("%s was read, and the weakest part takes %s. What was under it is inspected before "+
			"it is used.", bar(st.over.Bar), bar(st.spec.MostBar))
	case len(v.Weeping) > 0:
		return Weeps, "Weeps at " + each(v.Weeping) + "."
	case st.spec.Kind == Precharge:
		return st.filled()
	case st.spec.Kind == Purge:
		if st.Phase == Signing && !st.brokenOff || st.Phase == Closed && !st.brokenOff {
			return Purged, fmt.Sprintf("Driven %d times out and %d times back; %s dry.", st.Out, st.Back, each(v.Dry))
		}
		if over {
			return Broken, fmt.Sprintf("Broken off after %d of %d cycles.", min(st.Out, st.Back), st.spec.Cycles)
		}
		return Undecided, fmt.Sprintf("%d of %d cycles.", min(st.Out, st.Back), st.spec.Cycles)
	}
	return st.heldUp(v, over)
}

// mostNamed is how many joints are named in a sentence; the sheet names every one.
const mostNamed = 12

func each(joints []string) string {
	if len(joints) == 1 {
		return joints[0]
	}
	if n := len(joints); n > mostNamed {
		return fmt.Sprintf("%s and %d more", strings.Join(joints[:mostNamed], ", "), n-mostNamed)
	}
	return strings.Join(joints[:len(joints)-1], ", ") + " and " + joints[len(joints)-1]
}

func (st *State) filled() (Code, string) {
	if len(st.Trace) == 0 || st.Aim == nil {
		return Undecided, "Read pressure and temperature of the gas."
	}
	last := st.Trace[len(st.Trace)-1]
	at := fmt.Sprintf("%s read; at this temperature it is to be %s, within %s %%.", bar(last.Bar), bar(*st.Aim),
		quantity.Text(st.spec.TolPct))
	switch {
	case st.brokenOff:
		return Broken, "Broken off: " + at
	case st.low:
		return Undecided, "Too low: " + at
	case st.high:
		return Undecided, "Too high: " + at
	}
	return Filled, at
}

// heldUp judges a pressure that was raised and held.
func (st *State) heldUp(v Verdict, over bool) (Code, string) {
	h := st.Judged()
	if h == nil {
		if over {
			return Broken, "Let down before the test pressure was reached."
		}
		return Undecided, "The test pressure was not reached yet."
	}
	did := "lost"
	if st.spec.Kind == Vacuum {
		did = "gained"
	}
	sum := fmt.Sprintf("%s of %s %s", loss(math.Max(0, h.Sum.Lost)), loss(st.spec.LossBar), did)
	switch {
	case h.Failed:
		return Fell, fmt.Sprintf("%s %s, and %s may be, with the temperature taken off.", loss(h.Sum.Lost), did,
			loss(st.spec.LossBar))
	case st.spec.coarse():
		return NotTold, fmt.Sprintf("One mark of the gauge is %s, read to half of it: more than the %s that may be %s.",
			loss(st.spec.Gauge.Mark), loss(st.spec.LossBar), did)
	case !h.Over && over:
		return Broken, "Let down before the hold was over: " + sum + "."
	case !h.Over:
		return Holds, sum + " so far."
	case len(st.Skipped) > 0:
		return NotTold, fmt.Sprintf("Step %d was passed without its hold: what it would have shown is not known.",
			st.Skipped[0])
	case st.brokenOff:
		return Broken, fmt.Sprintf("%s in %s min, but it was let down before all was looked at.", sum,
			quantity.Text(h.Min))
	case !over:
		return Holds, sum + ". The rest of the steps is to be done."
	}
	said := fmt.Sprintf("%s in %s min", sum, quantity.Text(h.Min))
	if len(v.Dry) > 0 {
		said += "; " + each(v.Dry) + " dry"
	}
	if len(v.Unseen) > 0 && st.spec.Kind != Vacuum {
		said += "; not looked at: " + each(v.Unseen)
	}
	return Held, said + "."
}
