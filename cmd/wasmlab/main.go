//go:build js && wasm

// Command wasmlab is the lab for the browser. It runs in a worker of its own, so that no page waits for it.
package main

import (
	"context"
	"encoding/json"
	"errors"
	"strings"
	"syscall/js"

	"dynacor/core/fastener"
	"dynacor/core/lab"
	"dynacor/core/quantity"
)

type answer struct {
	Value   any               `json:"value,omitempty"`
	Refusal *quantity.Refusal `json:"refusal,omitempty"`
}

// asked is what a page asks of the lab.
type asked struct {
	Setup     lab.Setup      `json:"setup"`
	Procedure lab.Procedure  `json:"procedure"`
	Other     lab.Procedure  `json:"other"`
	Planned   *lab.Procedure `json:"planned"` // in which a joint of the register is planned
	Seed      uint64         `json:"seed"`
	First     int            `json:"first"` // of the draws; 0 begins anew
	N         int            `json:"n"`
	Window    float64        `json:"window"` // percent
	Even      float64        `json:"even"`   // percent
	// what was measured, each on a finished joint
	Runs []lab.Measured `json:"runs"`
	Text string         `json:"text"` // of a measurement, as typed
	Of   string         `json:"of"`
	// of a table, when the flange is to be chosen by its size
	Size fastener.FlangeSize `json:"size"`
}

// drawn are the histories of each procedure that was asked for, until it begins anew.
var drawn = map[string][]*lab.Draws{}

var acts = map[string]func(j *lab.Joint, q asked) (any, error){
	"of":   func(j *lab.Joint, _ asked) (any, error) { return j, nil },
	"play": func(j *lab.Joint, q asked) (any, error) { return j.Play(context.Background(), q.Procedure) },
	"compare": func(j *lab.Joint, q asked) (any, error) {
		return j.Compare(context.Background(), q.Procedure, q.Other)
	},
	"draw": func(j *lab.Joint, q asked) (any, error) {
		key := q.Procedure.Word()
		if q.First == 0 {
			delete(drawn, key)
		}
		d, err := j.Draw(context.Background(), q.Procedure, q.Seed, q.First, q.N)
		if err != nil {
			return nil, err
		}
		drawn[key] = append(drawn[key], d)
		return j.Sum(drawn[key], q.Window), nil
	},
	"buys": func(j *lab.Joint, q asked) (any, error) {
		return j.Buys(context.Background(), q.Procedure, q.Seed, q.N, q.Window)
	},
	"advise": func(j *lab.Joint, q asked) (any, error) {
		return j.Advise(context.Background(), q.Even, q.Procedure.Tools)
	},
	"overlay": func(j *lab.Joint, q asked) (any, error) {
		if len(q.Runs) != 1 {
			return nil, quantity.Refuse("runs", "Choose one.", "has %d runs", len(q.Runs))
		}
		return j.Overlay(context.Background(), q.Runs[0])
	},
	"typed": func(j *lab.Joint, q asked) (any, error) {
		return lab.Typed(q.Text, q.Of, j.Setup.Bolts, q.Procedure)
	},
	"fit": func(j *lab.Joint, q asked) (any, error) { return j.Fit(context.Background(), q.Runs) },
	"compensate": func(j *lab.Joint, q asked) (any, error) {
		return j.Compensate(context.Background(), q.Procedure, q.Planned)
	},
}

// tables are asked without a joint that holds.
var tables = map[string]func(q asked) any{
	"laws":  func(asked) any { return lab.Laws },
	"sizes": func(asked) any { return fastener.FlangeSizes() },
	"sized": func(q asked) any { return q.Setup.Sized(q.Size) },
}

// ask(name, questionJSON) answers in JSON: a value, or a refusal by its field.
func ask(_ js.Value, args []js.Value) any {
	var out answer
	var q asked
	err := json.Unmarshal([]byte(args[1].String()), &q)
	if table, ok := tables[args[0].String()]; ok && err == nil {
		out.Value = table(q)
	} else if err == nil {
		var j *lab.Joint
		if j, err = lab.Of(q.Setup); err == nil {
			if act, ok := acts[args[0].String()]; ok {
				out.Value, err = act(j, q)
			}
		}
	}
	if err != nil {
		var typed *json.UnmarshalTypeError
		if errors.As(err, &typed) { // a part of what is counted
			field := strings.TrimPrefix(typed.Field, "setup.")
			err = quantity.Refuse(field, "Enter a whole number.", "is %s", strings.TrimPrefix(typed.Value, "number "))
		}
		r, ok := quantity.RefusalIn(err)
		if !ok {
			r = &quantity.Refusal{Why: err.Error()}
		}
		out = answer{Refusal: r}
	}
	b, err := json.Marshal(out)
	if err != nil {
		return `{"refusal":{"field":"","why":"the result cannot be written"}}`
	}
	return string(b)
}

func main() {
	js.Global().Set("dynacorLab", js.FuncOf(ask))
	select {}
}
