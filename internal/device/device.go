// Package device is the open protocol between Dynacor and tools that send what they measure: JSON messages over a
// WebSocket, a token for each device, numbered results that are sent again until they are acknowledged. It describes
// messages and checks them; it must never decide what a reading means. docs/formats.md tells the same for makers of
// devices.
package device

import (
	"encoding/json"
	"fmt"
	"time"

	"dynacor/core/preload"
	"dynacor/core/quantity"
)

// Protocol is the version spoken here.
const Protocol = 1

// Path of the WebSocket on a Dynacor server.
const Path = "/api/devices/link"

// Types of a message.
const (
	// From the device.
	Hello  = "hello"  // first message: who, with what token
	Status = "status" // at least every ten seconds: battery, unit
	Sample = "sample" // while pulled; not numbered, may be lost
	Result = "result" // numbered; sent again until acknowledged

	// From the server.
	Welcome = "welcome" // the token holds; Seq is the last result taken in
	Ack     = "ack"     // everything up to Seq is kept
	Resend  = "resend"  // a number is missing: send again from Seq
	Aim     = "aim"     // what the next pull is for
	Refused = "refused" // Reason says why; the link ends
)

// Most samples of a trace in one result, and most bytes of a message.
const (
	MostTrace   = 400
	MostMessage = 64 << 10
)

// Message is any message; fields not used by its type are left out.
type Message struct {
	Type     string `json:"type"`
	Protocol int    `json:"protocol,omitempty"`
	Tag      string `json:"tag,omitempty"`   // hello: tag of the tool in the crib
	Token    string `json:"token,omitempty"` // hello
	Kind     string `json:"kind,omitempty"`  // hello: what it is, as the crib names kinds
	Serial   string `json:"serial,omitempty"`
	Seq      int    `json:"seq,omitempty"`
	Reason   string `json:"reason,omitempty"`

	Battery *float64 `json:"batteryPct,omitempty"` // status

	Reading *Reading `json:"result,omitempty"` // result
	Live    *Live    `json:"live,omitempty"`   // sample
	Target  *Target  `json:"aim,omitempty"`    // aim
}

// Reading is one finished measurement. Value is the highest torque of a pull, the pressure at stall, a gap, a stretch;
// Unit is always said.
type Reading struct {
	At       time.Time            `json:"at"`
	Value    float64              `json:"value"`
	Unit     quantity.Unit        `json:"unit"`
	AngleDeg float64              `json:"angleDeg,omitempty"` // turned since snug
	Click    bool                 `json:"click,omitempty"`    // a click wrench that tells it clicked
	Set      float64              `json:"set,omitempty"`      // what it was set to, in Unit
	Trace    []preload.TracePoint `json:"trace,omitempty"`    // N·m over degrees, rising
}

// Live is the present value while a tool is pulled.
type Live struct {
	Value    float64       `json:"value"`
	Unit     quantity.Unit `json:"unit"`
	AngleDeg float64       `json:"angleDeg,omitempty"`
	Pulling  bool          `json:"pulling"`
}

// Target tells a device what the next pull is for.
type Target struct {
	Joint    string        `json:"joint"`
	Pass     int           `json:"pass"`
	Fastener int           `json:"fastener"` // as chalked
	Set      float64       `json:"set"`
	Unit     quantity.Unit `json:"unit"`
}

// Check refuses a result that says nothing usable.
func (r Reading) Check() error {
	if r.At.IsZero() {
		return quantity.Refuse("result.at", "Send the time of the measurement.", "is empty")
	}
	if r.Unit.Kind() == "" {
		return quantity.Refuse("result.unit", "Send a unit such as N_m, bar or mm with every value.",
			"%q is not a unit", string(r.Unit))
	}
	for name, v := range map[string]float64{"result.value": r.Value, "result.angleDeg": r.AngleDeg,
		"result.set": r.Set} {
		if !quantity.Finite(v) || v < 0 || v > 1e7 {
			return quantity.Refuse(name, "Send a plain number.", "is %s", quantity.Text(v))
		}
	}
	if len(r.Trace) > MostTrace {
		return quantity.Refuse("result.trace", "Thin out the samples.", "has %d samples, %d at most", len(r.Trace),
			MostTrace)
	}
	for i, p := range r.Trace {
		if !quantity.Finite(p.Angle) || !quantity.Finite(p.Torque) || p.Torque < 0 || i > 0 &&
			p.Angle <= r.Trace[i-1].Angle {
			return quantity.Refuse("result.trace", "Send samples by rising angle.", "sample %d is out of line", i+1)
		}
	}
	return nil
}

// Read takes a message apart; unknown fields are left aside so that newer devices are understood.
func Read(data []byte) (Message, error) {
	var m Message
	if len(data) > MostMessage {
		return m, fmt.Errorf("device: a message of %d bytes is too long", len(data))
	}
	if err := json.Unmarshal(data, &m); err != nil {
		return m, fmt.Errorf("device: not a message: %w", err)
	}
	return m, nil
}

// Thin keeps at most n samples of a trace, the first and the last among them, by rising angle.
func Thin(trace []preload.TracePoint, n int) []preload.TracePoint {
	var rising []preload.TracePoint
	for _, p := range trace {
		if len(rising) == 0 || p.Angle > rising[len(rising)-1].Angle+1e-6 {
			rising = append(rising, p)
		}
	}
	if len(rising) <= n || n < 2 {
		return rising
	}
	out := make([]preload.TracePoint, 0, n)
	for i := range n {
		out = append(out, rising[i*(len(rising)-1)/(n-1)])
	}
	return out
}
