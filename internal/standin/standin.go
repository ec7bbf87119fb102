// Package standin simulates tools that send what they measure, so that everything can be tried, taught and tested
// without one in the house: an electronic wrench, a click wrench, a pump with its hydraulic wrench, a torque meter, a
// stretch gauge, a caliper. They speak the same protocol as real devices and know nothing of Dynacor but its address.
// It must never be run against joints that are real work.
package standin

import (
	"context"
	"encoding/json"
	"math"
	"math/rand/v2"
	"sync"
	"time"

	"dynacor/core/practice"
	"dynacor/core/preload"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/internal/device"
)

// Faults that can be switched on.
type Faults struct {
	DriftPct   float64 `json:"driftPct"`   // the tool gives so much more than it shows
	LateClick  bool    `json:"lateClick"`  // the click comes a tenth late
	LostLink   bool    `json:"lostLink"`   // nothing goes out or comes in
	Duplicate  bool    `json:"duplicate"`  // every result is sent twice
	Reorder    bool    `json:"reorder"`    // every second result overtakes the one before
	LowBattery bool    `json:"lowBattery"` // eight percent left
	WrongUnit  bool    `json:"wrongUnit"`  // switched to its other unit
}

// Config of one stand-in.
type Config struct {
	Tag   string
	Token string
	Kind  tool.Kind
	Seed  uint64
	Joint practice.Joint
	Chart []tool.ChartPoint // of the hydraulic wrench behind a pump
}

// State is a stand-in as its page shows it.
type State struct {
	Tag       string             `json:"tag"`
	Kind      tool.Kind          `json:"kind"`
	Word      string             `json:"word"`
	Linked    bool               `json:"linked"`
	Problem   string             `json:"problem,omitempty"`
	Set       float64            `json:"set"`
	Unit      quantity.Unit      `json:"unit"`
	Value     float64            `json:"value"` // shown now, in Unit
	AngleDeg  float64            `json:"angleDeg"`
	Pulling   bool               `json:"pulling"`
	Clicked   bool               `json:"clicked"`
	Turned    bool               `json:"turned"` // the nut turned in this stroke
	Clicks    int                `json:"clicks"` // counted, so that a page hears each
	Waiting   int                `json:"waiting"`
	LastSeq   int                `json:"lastSeq"`
	Aim       *device.Target     `json:"aim,omitempty"`
	Faults    Faults             `json:"faults"`
	Condition practice.Condition `json:"condition"`
}

// Tool is one simulated device.
type Tool struct {
	cfg Config
	rng *rand.Rand

	mu        sync.Mutex
	bolt      *practice.Bolt
	condition practice.Condition
	state     State
	faults    Faults
	trace     []preload.TracePoint
	peak      float64 // N·m, or MPa for a pump
	snug      float64 // angle at which it became snug
	strokeDeg float64 // turned in this stroke
	begun     float64 // torque when the pull began
	seq       int
	queue     []device.Message // numbered results not acknowledged
	sent      map[int]bool
	wake      chan struct{}
}

// New makes a stand-in; its link begins with Run.
func New(cfg Config) *Tool {
	t := &Tool{cfg: cfg, rng: rand.New(rand.NewPCG(cfg.Seed, 1)), condition: practice.Sound, sent: map[int]bool{},
		wake: make(chan struct{}, 1)}
	t.state = State{Tag: cfg.Tag, Kind: cfg.Kind, Word: cfg.Kind.Word(), Unit: quantity.NewtonMetre, Set: 100}
	switch cfg.Kind {
	case tool.Pump:
		t.state.Unit, t.state.Set = "bar", 200
	case tool.PressureGauge:
		t.state.Unit, t.state.Set = quantity.Bar, 24
	case tool.Caliper, tool.StretchGauge:
		t.state.Unit, t.state.Set = quantity.Millimetre, 3
	}
	t.newBolt()
	return t
}

// State gives what its page shows.
func (t *Tool) State() State {
	t.mu.Lock()
	defer t.mu.Unlock()
	s := t.state
	s.Waiting, s.LastSeq, s.Faults, s.Condition = len(t.queue), t.seq, t.faults, t.condition
	return s
}

// SetFaults switches faults on and off.
func (t *Tool) SetFaults(f Faults) {
	t.mu.Lock()
	t.faults = f
	t.mu.Unlock()
	t.nudge()
}

// Set sets the value on the tool, in its present unit.
func (t *Tool) Set(v float64) {
	t.mu.Lock()
	defer t.mu.Unlock()
	t.state.Set = v
}

// NextBolt puts the tool on a fresh fastener in a condition.
func (t *Tool) NextBolt(c practice.Condition) {
	t.mu.Lock()
	defer t.mu.Unlock()
	t.condition = c
	t.newBolt()
}

func (t *Tool) newBolt() {
	t.bolt = practice.New(t.cfg.Joint, t.condition, t.rng)
	t.state.AngleDeg, t.state.Clicked = 0, false
	t.snug = t.cfg.Joint.SnugDeg
}

// perSecond is how fast a nut is turned, degrees a second.
const perSecond = 45

// Pull turns the nut for a time, as an arm or a ram does while a key is held. It gives whether anything is felt: the
// click.
func (t *Tool) Pull(d time.Duration) (click bool) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if !t.state.Pulling {
		t.state.Pulling, t.state.Clicked, t.trace, t.peak, t.strokeDeg, t.begun = true, false, nil, 0, 0,
			float64(t.bolt.Torque())
	}
	deg := perSecond * d.Seconds()
	before := t.bolt.AngleDeg
	var torque float64
	if t.cfg.Kind == tool.Pump {
		torque = float64(t.stroke(deg))
	} else {
		torque = float64(t.bolt.Turn(quantity.Angle(deg)))
	}
	t.strokeDeg += t.bolt.AngleDeg - before
	t.state.Turned = t.bolt.AngleDeg-before > 1e-6
	t.state.AngleDeg = math.Max(0, t.bolt.AngleDeg-t.snug)
	shown := torque / (1 + t.faults.DriftPct/100)
	t.trace = append(t.trace, preload.TracePoint{Angle: t.bolt.AngleDeg, Torque: shown})
	if t.cfg.Kind == tool.Pump {
		return false
	}
	t.peak = math.Max(t.peak, shown)
	t.state.Value = quantity.Torque(shown).In(t.unit())
	if !t.state.Clicked && torque >= t.clickAt() {
		t.state.Clicked, t.state.Clicks = true, t.state.Clicks+1
		return true
	}
	return false
}

// unit is what the tool shows in; a wrong unit is its other one.
func (t *Tool) unit() quantity.Unit {
	if t.faults.WrongUnit && t.cfg.Kind.Sets() == tool.ByTorque {
		return quantity.FootPound
	}
	return t.state.Unit
}

// clickAt is the torque at which the tool tells that its value is reached, N·m.
func (t *Tool) clickAt() float64 {
	at := float64(quantity.TorqueOf(t.state.Set, t.unit())) * (1 + t.faults.DriftPct/100)
	if t.faults.LateClick {
		at *= 1.1
	}
	return at
}

// stroke turns as far as the set pressure allows and gives the torque then.
func (t *Tool) stroke(deg float64) quantity.Torque {
	mpa, err := quantity.Convert(t.state.Set*(1+t.faults.DriftPct/100), t.state.Unit, quantity.Megapascal)
	if err != nil || len(t.cfg.Chart) < 2 {
		return t.bolt.Torque()
	}
	s := tool.SetUp{String: []tool.Tool{{Kind: tool.Pump, Unit: quantity.Megapascal},
		{Kind: tool.HydraulicWrench, Chart: t.cfg.Chart}}}
	limit := s.TorqueAt(math.Max(t.cfg.Chart[0].Pressure, math.Min(mpa, t.cfg.Chart[len(t.cfg.Chart)-1].Pressure)))
	const bit = 0.25
	for left := deg; left > 0 && t.bolt.Torque() < limit; left -= bit {
		t.bolt.Turn(quantity.Angle(math.Min(bit, left)))
	}
	share := float64(min(1, t.bolt.Torque()/limit))
	t.peak = mpa * share
	shown, _ := quantity.Convert(t.peak, quantity.Megapascal, t.state.Unit)
	t.state.Value = shown
	return t.bolt.Torque()
}

// Release ends a pull. A wrench sends its result; a pump only after a stroke in which the nut no longer turned.
func (t *Tool) Release(now time.Time) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if !t.state.Pulling {
		return
	}
	t.state.Pulling, t.state.Value, t.state.Turned = false, 0, false
	r := device.Reading{At: now.UTC(), Unit: t.unit(), Set: t.state.Set,
		AngleDeg: quantity.Significant(t.state.AngleDeg, 4), Click: t.state.Clicked}
	if t.cfg.Kind == tool.Pump {
		if t.strokeDeg > 0.5 {
			return
		}
		v, _ := quantity.Convert(t.peak, quantity.Megapascal, t.state.Unit)
		r.Value, r.Unit, r.Click = math.Round(v), t.state.Unit, false
	} else {
		if t.peak < 0.2*t.clickAt() { // let go before it meant anything
			return
		}
		r.Value = quantity.Significant(quantity.Torque(t.peak).In(t.unit()), 4)
		r.Trace = device.Thin(t.trace, 120)
	}
	t.enqueue(r)
}

// Measure sends one reading of a gauge or a meter: the value of its scale with a little scatter.
func (t *Tool) Measure(now time.Time, value float64) {
	t.mu.Lock()
	defer t.mu.Unlock()
	v := value * (1 + t.faults.DriftPct/100) * (1 + 0.002*(2*t.rng.Float64()-1))
	t.state.Value = quantity.Significant(v, 4)
	t.enqueue(device.Reading{At: now.UTC(), Value: t.state.Value, Unit: t.state.Unit})
}

func (t *Tool) enqueue(r device.Reading) {
	t.seq++
	t.queue = append(t.queue, device.Message{Type: device.Result, Seq: t.seq, Reading: &r})
	t.nudgeLocked()
}

func (t *Tool) nudge() {
	t.mu.Lock()
	defer t.mu.Unlock()
	t.nudgeLocked()
}

func (t *Tool) nudgeLocked() {
	select {
	case t.wake <- struct{}{}:
	default:
	}
}

// battery is what it says is left, percent.
func (t *Tool) battery() float64 {
	if t.faults.LowBattery {
		return 8
	}
	return 76
}

// outgoing gives the results to send now, with the faults of the link; again says that unacknowledged ones go once
// more.
func (t *Tool) outgoing(again bool) []device.Message {
	t.mu.Lock()
	defer t.mu.Unlock()
	var out []device.Message
	for _, m := range t.queue {
		if again || !t.sent[m.Seq] {
			out = append(out, m)
		}
	}
	if t.faults.Reorder && !again {
		if len(out) == 1 && out[0].Seq%2 == 1 { // held back until the next one has overtaken it
			return nil
		}
		for i := 1; i < len(out); i += 2 {
			out[i-1], out[i] = out[i], out[i-1]
		}
	}
	for _, m := range out {
		t.sent[m.Seq] = true
	}
	if t.faults.Duplicate {
		var twice []device.Message
		for _, m := range out {
			twice = append(twice, m, m)
		}
		return twice
	}
	return out
}

// heard takes what the server says.
func (t *Tool) heard(m device.Message) {
	t.mu.Lock()
	defer t.mu.Unlock()
	switch m.Type {
	case device.Welcome:
		t.state.Linked, t.state.Problem = true, ""
		t.acknowledged(m.Seq)
		if m.Seq > t.seq { // another life of this device sent before: go on behind it
			for i := range t.queue {
				t.queue[i].Seq += m.Seq - t.seq
			}
			t.seq = m.Seq + len(t.queue)
		}
		clear(t.sent)
	case device.Ack:
		t.acknowledged(m.Seq)
	case device.Resend:
		for seq := range t.sent {
			if seq >= m.Seq {
				delete(t.sent, seq)
			}
		}
		t.nudgeLocked()
	case device.Aim:
		t.state.Aim = m.Target
		if m.Target == nil {
			return
		}
		if t.cfg.Kind.Sets() != "" && t.state.Aim != nil {
			if v, err := quantity.Convert(m.Target.Set, m.Target.Unit, t.state.Unit); err == nil && m.Target.Set > 0 {
				t.state.Set = quantity.Significant(v, 5)
			}
		}
		if !t.state.Pulling {
			t.newBolt()
		}
	case device.Refused:
		t.state.Problem = m.Reason
	}
}

func (t *Tool) acknowledged(seq int) {
	for len(t.queue) > 0 && t.queue[0].Seq <= seq {
		delete(t.sent, t.queue[0].Seq)
		t.queue = t.queue[1:]
	}
}

// sample is the present value for those who watch.
func (t *Tool) sample() device.Message {
	s := t.State()
	return device.Message{Type: device.Sample, Live: &device.Live{Value: quantity.Significant(s.Value, 4),
		Unit: t.unitNow(), AngleDeg: quantity.Significant(s.AngleDeg, 4), Pulling: s.Pulling}}
}

func (t *Tool) unitNow() quantity.Unit {
	t.mu.Lock()
	defer t.mu.Unlock()
	return t.unit()
}

// Hold pulls in real time until ctx ends, then lets go. It is what a held key or finger does.
func (t *Tool) Hold(ctx context.Context) {
	const tick = 20 * time.Millisecond
	beat := time.NewTicker(tick)
	defer beat.Stop()
	for {
		select {
		case <-ctx.Done():
			t.Release(time.Now())
			t.nudge()
			return
		case <-beat.C:
			t.Pull(tick)
		}
	}
}

// MarshalJSON is what the page gets.
func (t *Tool) MarshalJSON() ([]byte, error) { return json.Marshal(t.State()) }
