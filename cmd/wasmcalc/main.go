//go:build js && wasm

// Command wasmcalc is the catalogue of calculations for the browser, and what a form of a procedure needs to know,
// apart from the judge of a run so that work at a joint never waits for it.
package main

import (
	"encoding/json"
	"syscall/js"

	"dynacor/core/calc"
	"dynacor/core/fastener"
	"dynacor/core/layout"
	"dynacor/core/procedure"
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

// laid is a layout with where its fasteners are.
type laid struct {
	Layout layout.Layout  `json:"layout"`
	Places []layout.Place `json:"places"`
	Error  string         `json:"error,omitempty"`
}

// places(layoutJSON) gives where the fasteners of a layout are, or what is wrong with it.
func places(_ js.Value, args []js.Value) any {
	var out laid
	if err := json.Unmarshal([]byte(args[0].String()), &out.Layout); err != nil {
		out.Error = err.Error()
	} else {
		out.Layout = out.Layout.Settle()
		if err := out.Layout.Check(); err != nil {
			out.Error = err.Error()
		} else {
			out.Places = out.Layout.Places()
		}
	}
	b, err := json.Marshal(out)
	if err != nil {
		return `{"error":"the layout cannot be written"}`
	}
	return string(b)
}

// resolved is a procedure as it is for the answers given.
type resolved struct {
	Family  procedure.Family  `json:"family"`
	Answers map[string]string `json:"answers"`
	Error   string            `json:"error,omitempty"`
}

// family(familyJSON, variantJSON, figuresJSON) leaves out of a procedure what belongs to another variant. Questions
// that are not answered yet count with their first answer.
func family(_ js.Value, args []js.Value) any {
	var f procedure.Family
	variant, figures := map[string]string{}, map[string]float64{}
	for i, into := range []any{&f, &variant, &figures} {
		if err := json.Unmarshal([]byte(args[i].String()), into); err != nil {
			return `{"error":"the procedure cannot be read"}`
		}
	}
	for _, q := range f.Questions {
		if variant[q.Code] == "" && q.Figure == "" {
			variant[q.Code] = q.Options[0].Code
		}
	}
	out := resolved{Family: f}
	answers, err := f.Answer(variant, figures)
	if err != nil {
		out.Error = err.Error()
	} else {
		out.Answers, out.Family = answers, f.For(answers)
	}
	b, err := json.Marshal(out)
	if err != nil {
		return `{"error":"the procedure cannot be written"}`
	}
	return string(b)
}

// typed(text, unit) reads what somebody typed into a field of that unit.
func typed(_ js.Value, args []js.Value) any {
	b, err := json.Marshal(quantity.TypedAs(args[0].String(), quantity.Unit(args[1].String())))
	if err != nil {
		return `{"wrong":"It cannot be read."}`
	}
	return string(b)
}

func main() {
	js.Global().Set("dynacorCalc",
		js.ValueOf(map[string]any{"catalogue": js.FuncOf(catalogue), "calculate": js.FuncOf(calculate),
			"places": js.FuncOf(places), "family": js.FuncOf(family), "typed": js.FuncOf(typed)}))
	select {}
}
