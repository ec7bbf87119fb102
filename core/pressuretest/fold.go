package pressuretest

import (
	"math"
	"slices"
	"time"

	"dynacor/core/quantity"
)

// Phase is where a test stands.
type Phase string

// The phases.
const (
	Before  Phase = "before"  // what must be so is not all confirmed
	Going   Phase = "going"   // to the pressure of the present step
	Holding Phase = "holding" // it
	Filling Phase = "filling" // a pre-charge: to its value
	Driving Phase = "driving" // a purge
	Looking Phase = "looking" // at the joints, after a purge
	Down    Phase = "down"    // pressure must go, for good or bad
	Signing Phase = "signing"
	Closed  Phase = "closed"
)

// Point is one reading.
type Point struct {
	At    time.Time `json:"at"`
	Bar   float64   `json:"bar"`
	TempC *float64  `json:"tempC,omitempty"`
}

// GateState is a gate and who said that it is so.
type GateState struct {
	Gate
	By string     `json:"by,omitempty"`
	ID string     `json:"-"`
	At *time.Time `json:"at,omitempty"`
}

// LookState is how a joint looked, at the last step at which it was looked at.
type LookState struct {
	Joint string    `json:"joint"`
	Dry   bool      `json:"dry"`
	Step  int       `json:"step"` // from 1
	At    time.Time `json:"at"`
	By    string    `json:"by"`
	Note  string    `json:"note,omitempty"`
}

// Signature is one of the two.
type Signature struct {
	As   Role      `json:"as"`
	ID   string    `json:"personId"`
	Name string    `json:"name"`
	At   time.Time `json:"at"`
}

// State is a test after its events.
type State struct {
	Phase      Phase       `json:"phase"`
	Step       int         `json:"step"` // the present one, from 1; behind the last one: all are done
	Gates      []GateState `json:"gates"`
	Trace      []Point     `json:"trace"`
	Holds      []Hold      `json:"holds"` // those that were held, and the present one last
	Looks      []LookState `json:"looks"`
	Out        int         `json:"out"`  // of a purge: strokes one way
	Back       int         `json:"back"` // and the other
	Aim        *float64    `json:"aimBar,omitempty"`
	Skipped    []int       `json:"skipped"` // steps that were passed without their hold
	TakenBack  int         `json:"takenBack"`
	Signatures []Signature `json:"signatures"`
	Act        Act         `json:"act"`
	Verdict    Verdict     `json:"verdict"`

	over      *Point // more than the weakest part takes
	brokenOff bool   // let down before all was done
	low, high bool   // the pre-charge as last read
	spec      Spec
	people    []string // identifiers of those who recorded something
}

// Fold gives the state of a test after events that Admit has let in, in order.
func Fold(s Spec, events []Event) State {
	st := State{Phase: Before, Step: 1, spec: s, Gates: []GateState{}, Trace: []Point{}, Holds: []Hold{},
		Looks: []LookState{}, Skipped: []int{}, Signatures: []Signature{}}
	for _, g := range s.Gates() {
		st.Gates = append(st.Gates, GateState{Gate: g})
	}
	back := map[string]bool{}
	for _, e := range events {
		if e.Kind == TakenBack {
			back[e.Ref] = true
		}
	}
	for _, e := range events {
		if back[e.ID] {
			st.TakenBack++
			continue
		}
		st.apply(e)
	}
	st.Verdict = st.verdict()
	st.Act = st.act()
	return st
}

func (st *State) apply(e Event) {
	if e.Kind != Signed && e.Gate != witnessGate && !slices.Contains(st.people, e.Person.ID) {
		st.people = append(st.people, e.Person.ID)
	}
	switch e.Kind {
	case Confirmed, Opened:
		st.gate(e)
	case Read:
		st.read(Point{At: e.At, Bar: *e.Bar, TempC: e.TempC})
	case Looked:
		st.looked(e)
	case Driven:
		if e.Way == "out" {
			st.Out++
		} else {
			st.Back++
		}
		if min(st.Out, st.Back) >= st.spec.Cycles {
			st.Phase = Looking
		}
	case LetDown:
		st.brokenOff = st.Phase != Down
		if e.Bar != nil {
			st.Trace = append(st.Trace, Point{At: e.At, Bar: *e.Bar})
		}
		st.Phase = Signing
	case Signed:
		st.Signatures = append(st.Signatures, Signature{e.As, e.Person.ID, e.Person.Name, e.At})
		if len(st.Signatures) == 2 {
			st.Phase = Closed
		}
	case TakenBack, Noted:
	}
}

func (st *State) gate(e Event) {
	for i, g := range st.Gates {
		if g.Code != e.Gate {
			continue
		}
		if e.Kind == Opened {
			st.Gates[i] = GateState{Gate: g.Gate}
		} else {
			at := e.At
			st.Gates[i] = GateState{Gate: g.Gate, By: e.Person.Name, ID: e.Person.ID, At: &at}
		}
	}
	if st.Phase == Before && st.closed() {
		switch st.spec.Kind {
		case Precharge:
			st.Phase = Filling
		case Purge:
			st.Phase = Driving
		default:
			st.Phase = Going
		}
	}
}

// closed reports whether all that must be so is so.
func (st *State) closed() bool {
	return !slices.ContainsFunc(st.Gates, func(g GateState) bool { return g.At == nil })
}

// from is where the present step is come from: the step before, or no pressure.
func (st *State) from() float64 {
	if st.Step > 1 {
		return st.spec.Steps[st.Step-2].Bar
	}
	if st.spec.Kind == Vacuum {
		return atmosphere
	}
	return 0
}

// reached reports whether a reading is at the pressure of the present step, coming from the one before.
func (st *State) reached(bar float64) bool {
	want := st.spec.Steps[st.Step-1].Bar
	if want > st.from() {
		return quantity.AtMost(want, bar)
	}
	return quantity.AtMost(bar, want)
}

func (st *State) read(p Point) {
	st.Trace = append(st.Trace, p)
	if st.spec.Kind == Precharge {
		st.fill(p)
		return
	}
	if st.spec.Kind != Vacuum && !quantity.AtMost(p.Bar, st.spec.MostBar) {
		st.over, st.Phase = &p, Down
		return
	}
	switch st.Phase {
	case Going:
		st.arrive(p)
	case Holding:
		st.watch(p)
	}
}

// arrive begins the hold of the present step when its pressure is reached, and notes steps that were passed by.
func (st *State) arrive(p Point) {
	for st.Step <= len(st.spec.Steps) && st.reached(p.Bar) {
		step := st.spec.Steps[st.Step-1]
		next := st.Step < len(st.spec.Steps) && !step.Test
		if next && step.Min > 0 && st.spec.Steps[st.Step].Bar > step.Bar && st.spec.Kind != Vacuum &&
			quantity.AtMost(st.spec.Steps[st.Step].Bar, p.Bar) {
			st.Skipped = append(st.Skipped, st.Step)
			st.Step++
			continue
		}
		st.Holds = append(st.Holds, Hold{Step: st.Step, Bar: step.Bar, Min: step.Min, Judged: step.Test, First: p,
			Last: p})
		st.Phase = Holding
		st.advance()
		return
	}
}

// present is the hold that lasts.
func (st *State) present() *Hold { return &st.Holds[len(st.Holds)-1] }

// watch takes in a reading while a pressure is held.
func (st *State) watch(p Point) {
	h := st.present()
	was := *h
	h.Last = p
	h.Sum = st.spec.sum(h.First, p)
	mark := math.Max(st.spec.Gauge.Mark, 1e-9)
	switch gone := h.Sum.Lost; {
	case gone < -mark: // pumped up again, or a vacuum drawn again: nothing that was lost before can be told from it
		h.First, h.Sum, h.Again = p, Sum{}, was.Again+1
	case h.Judged && !quantity.AtMost(gone, st.spec.LossBar):
		h.Failed = true
		st.Phase = Down
		return
	case !h.Judged && st.spec.Kind != Vacuum && !quantity.AtMost(h.Bar*.9, p.Bar) && h.Bar > st.from():
		st.Holds = st.Holds[:len(st.Holds)-1] // it fell away: go there again
		st.Phase = Going
		return
	}
	st.advance()
}

// advance ends the present hold when its minutes are over by a reading and its looks are done.
func (st *State) advance() {
	h := st.present()
	step := st.spec.Steps[st.Step-1]
	h.Over = h.Last.At.Sub(h.First.At) >= minutes(step.Min)
	if !h.Over || step.Look && len(st.toLook()) > 0 {
		return
	}
	st.Step++
	st.Phase = Going
	if st.Step > len(st.spec.Steps) {
		st.Phase = Down
	}
}

func minutes(m float64) time.Duration { return time.Duration(m * float64(time.Minute)) }

// toLook lists the joints that were not looked at yet in the present step.
func (st *State) toLook() []string {
	var out []string
	for _, j := range st.spec.Joints {
		if !slices.ContainsFunc(st.Looks, func(l LookState) bool { return l.Joint == j && l.Step == st.Step }) {
			out = append(out, j)
		}
	}
	return out
}

func (st *State) looked(e Event) {
	l := LookState{Joint: e.Joint, Dry: e.Dry, Step: st.Step, At: e.At, By: e.Person.Name, Note: e.Note}
	st.Looks = append(slices.DeleteFunc(st.Looks, func(x LookState) bool { return x.Joint == e.Joint && x.Dry }), l)
	switch {
	case st.Phase == Looking:
		if len(st.toLook()) == 0 {
			st.Phase = Signing
		}
	case !e.Dry:
		st.Phase = Down
	default:
		st.advance()
	}
}
