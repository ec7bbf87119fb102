//go:build js && wasm

// Command wasmcalc is the catalogue of calculations for the browser, apart from the judge of a run so that work at a joint never waits
// for it.
package main

import (
	"encoding/json"
	"syscall/js"

	"dynacor/core/calc"
	"dynacor/core/fastener"
	"dynacor/core/quantity"
)

// catalogue(words) describes the calculations that the words find.
func catalogue(_ js.Value, args []js.Value) any {
	b, err := json.Marshal(calc.Describe(args[0].String()))
	if err != nil {
		return "[]"
	}
	return string(b)
}

type calculated struct {
	Answer  *calc.Answer      `json:"answer,omitempty"`
	Refusal *quantity.Refusal `json:"refusal,omitempty"`
}

// calculate(name, requestJSON, cardsJSON) works out a calculation; cards are the site's own lubricants.
func calculate(_ js.Value, args []js.Value) any {
	var q calc.Request
	var cards []fastener.Lubricant
	var out calculated
	err := json.Unmarshal([]byte(args[1].String()), &q)
	if err == nil {
		err = json.Unmarshal([]byte(args[2].String()), &cards)
	}
	if err == nil {
		out.Answer, err = calc.Ask(args[0].String(), q, cards)
	}
	if err != nil {
		r, ok := quantity.RefusalIn(err)
		if !ok {
			r = &quantity.Refusal{Why: err.Error()}
		}
		out.Refusal = r
	}
	b, err := json.Marshal(out)
	if err != nil {
		return `{"refusal":{"field":"","why":"the result cannot be written"}}`
	}
	return string(b)
}

func main() {
	js.Global().Set("dynacorCalc", js.ValueOf(map[string]any{"catalogue": js.FuncOf(catalogue), "calculate": js.FuncOf(calculate)}))
	select {}
}
