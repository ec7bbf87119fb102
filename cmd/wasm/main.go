//go:build js && wasm

// Command wasm is core for the browser: it folds the events of a run on the device itself, so that every judgement is the same
// with and without network.
package main

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"syscall/js"
	"time"

	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/run"
)

// plans keeps what was opened, so that a plan crosses the border once and not with every pull.
var plans = map[string]*plan.Plan{}

type answer struct {
	State *run.State `json:"state,omitempty"`
	Error string     `json:"error,omitempty"`
}

func say(a answer) string {
	b, err := json.Marshal(a)
	if err != nil {
		return `{"error":"the state cannot be written"}`
	}
	return string(b)
}

// open(runID, planJSON) keeps the plan of a run.
func open(_ js.Value, args []js.Value) any {
	var p plan.Plan
	if err := json.Unmarshal([]byte(args[1].String()), &p); err != nil {
		return say(answer{Error: "the plan cannot be read: " + err.Error()})
	}
	plans[args[0].String()] = &p
	return say(answer{})
}

// fold(runID, eventsJSON, nowMillis) gives the state after the events.
func fold(_ js.Value, args []js.Value) any {
	p := plans[args[0].String()]
	if p == nil {
		return say(answer{Error: "the plan was not opened"})
	}
	var events []run.Event
	if err := json.Unmarshal([]byte(args[1].String()), &events); err != nil {
		return say(answer{Error: "the events cannot be read: " + err.Error()})
	}
	return say(answer{State: run.Fold(p, events, time.UnixMilli(int64(args[2].Float())).UTC())})
}

// typed(text, unit) reads what somebody typed into a field of that unit.
func typed(_ js.Value, args []js.Value) any {
	b, err := json.Marshal(quantity.TypedAs(args[0].String(), quantity.Unit(args[1].String())))
	if err != nil {
		return `{"wrong":"It cannot be read."}`
	}
	return string(b)
}

// sum(bytes) gives the SHA-256 of a Uint8Array in hex; the browser's own is missing on pages without TLS.
func sum(_ js.Value, args []js.Value) any {
	b := make([]byte, args[0].Length())
	js.CopyBytesToGo(b, args[0])
	s := sha256.Sum256(b)
	return hex.EncodeToString(s[:])
}

func main() {
	js.Global().Set("dynacorCore", js.ValueOf(map[string]any{"open": js.FuncOf(open), "fold": js.FuncOf(fold), "typed": js.FuncOf(typed), "sha256": js.FuncOf(sum)}))
	select {}
}
