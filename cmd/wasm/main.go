//go:build js && wasm

// Command wasm is core for the browser: it applies the events of a run on the device itself, so that every judgement is
// the same with and without network.
package main

import (
	"encoding/json"
	"syscall/js"
	"time"

	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/run"
	"dynacor/core/walk"
)

// runs keeps the work of what was opened, so that a plan and an event cross the border once and not with every pull.
var runs = map[string]*opened{}

type opened struct {
	plan *plan.Plan
	work *run.Progress
}

type answer struct {
	State *run.State       `json:"state,omitempty"`
	May   [][]run.Signable `json:"may,omitempty"`
	Asks  *run.Again       `json:"asks,omitempty"`
	Error string           `json:"error,omitempty"`
	// of a walk
	Walked *looked  `json:"walked,omitempty"`
	Like   []string `json:"like,omitempty"`
}

// looked is what the answers of a walk say: how it stands, or what is refused of them.
type looked struct {
	What    string `json:"what"`
	Well    bool   `json:"well"`
	Field   string `json:"field"`
	Refused string `json:"refused"`
}

func say(a answer) string {
	b, err := json.Marshal(a)
	if err != nil {
		return `{"error":"the state cannot be written"}`
	}
	return string(b)
}

// open(runID, planJSON) begins the work of a plan, from the beginning when it was open.
func open(_ js.Value, args []js.Value) any {
	var p plan.Plan
	if err := json.Unmarshal([]byte(args[1].String()), &p); err != nil {
		return say(answer{Error: "the plan cannot be read: " + err.Error()})
	}
	runs[args[0].String()] = &opened{&p, run.NewProgress(&p)}
	return say(answer{})
}

// again(runID) forgets the events that were taken.
func again(_ js.Value, args []js.Value) any {
	if r := runs[args[0].String()]; r != nil {
		r.work = run.NewProgress(r.plan)
	}
	return say(answer{})
}

// take(runID, eventsJSON, nowMillis) takes the events that follow and gives the state after them.
func take(_ js.Value, args []js.Value) any {
	r := runs[args[0].String()]
	if r == nil {
		return say(answer{Error: "the plan was not opened"})
	}
	var events []run.Event
	if err := json.Unmarshal([]byte(args[1].String()), &events); err != nil {
		return say(answer{Error: "the events cannot be read: " + err.Error()})
	}
	for _, e := range events {
		r.work.Apply(e)
	}
	return say(answer{State: r.work.State(at(args[2]))})
}

// oneMore reads the run and the event that a call begins with; why is "" when both are there.
func oneMore(args []js.Value) (r *opened, e run.Event, why string) {
	if r = runs[args[0].String()]; r == nil {
		return nil, e, "the plan was not opened"
	}
	if err := json.Unmarshal([]byte(args[1].String()), &e); err != nil {
		return nil, e, "the event cannot be read: " + err.Error()
	}
	return r, e, ""
}

// judge(runID, eventJSON, nowMillis) gives what the state would be with one more event, which is not taken.
func judge(_ js.Value, args []js.Value) any {
	r, e, why := oneMore(args)
	if why != "" {
		return say(answer{Error: why})
	}
	return say(answer{State: r.work.With(e, at(args[2]))})
}

// asks(runID, eventJSON, nowMillis) tells what one more event would ask for again; it is not taken.
func asks(_ js.Value, args []js.Value) any {
	r, e, why := oneMore(args)
	if why != "" {
		return say(answer{Error: why})
	}
	a := run.AsksAgain(r.plan, r.work.State(at(args[2])), r.work.With(e, at(args[2])))
	return say(answer{Asks: &a})
}

// says(runID, eventJSON) tells why an event would be refused when it is sent, "" when it would not.
func says(_ js.Value, args []js.Value) any {
	r, e, why := oneMore(args)
	if why != "" {
		return why
	}
	if err := e.Validate(); err != nil {
		return err.Error()
	}
	if err := e.Fits(r.plan); err != nil {
		return err.Error()
	}
	return ""
}

// may(runID, peopleJSON, nowMillis) gives what each of several people may sign as the work stands, in their order.
func may(_ js.Value, args []js.Value) any {
	r := runs[args[0].String()]
	if r == nil {
		return say(answer{Error: "the plan was not opened"})
	}
	var people []run.Person
	if err := json.Unmarshal([]byte(args[1].String()), &people); err != nil {
		return say(answer{Error: "the people cannot be read: " + err.Error()})
	}
	s := r.work.State(at(args[2]))
	a := answer{May: make([][]run.Signable, len(people))}
	for i, who := range people {
		a.May[i] = s.May(r.plan, who)
	}
	return say(a)
}

func at(millis js.Value) time.Time { return time.UnixMilli(int64(millis.Float())).UTC() }

// typed(text, unit) reads what somebody typed into a field of that unit.
func typed(_ js.Value, args []js.Value) any {
	b, err := json.Marshal(quantity.TypedAs(args[0].String(), quantity.Unit(args[1].String())))
	if err != nil {
		return `{"wrong":"It cannot be read."}`
	}
	return string(b)
}

// walked(answersJSON, drawnJSON) says what the answers of a walk say, or why they would be refused.
func walked(_ js.Value, args []js.Value) any {
	var answers []walk.Answer
	var drawn []walk.Drawn
	for i, into := range []any{&answers, &drawn} {
		if err := json.Unmarshal([]byte(args[i].String()), into); err != nil {
			return say(answer{Error: "the answers cannot be read: " + err.Error()})
		}
	}
	what, well, err := walk.Says(answers, func(fastener int) string {
		for _, d := range drawn {
			if d.Fastener == fastener {
				return d.Name
			}
		}
		return ""
	})
	return say(answer{Walked: refused(err, looked{What: what, Well: well})})
}

// noted(tag, words) says why a note would be refused.
func noted(_ js.Value, args []js.Value) any {
	words := args[1].String()
	return say(answer{Walked: refused(walk.CheckNote(args[0].String(), words), looked{What: words})})
}

// refused is what is said, or why it is refused.
func refused(err error, said looked) *looked {
	if r, ok := quantity.RefusalIn(err); ok {
		return &looked{Field: r.Field, Refused: r.Why + ". " + r.Remedy}
	}
	return &said
}

// like(tag, tagsJSON) gives those of some tags that may be meant by one that is not among them.
func like(_ js.Value, args []js.Value) any {
	var tags []string
	if err := json.Unmarshal([]byte(args[1].String()), &tags); err != nil {
		return say(answer{Error: "the tags cannot be read: " + err.Error()})
	}
	return say(answer{Like: walk.Like(args[0].String(), tags)})
}

func main() {
	js.Global().Set("dynacorCore",
		js.ValueOf(map[string]any{
			"open":  js.FuncOf(open),
			"again": js.FuncOf(again),
			"take":  js.FuncOf(take),
			"judge": js.FuncOf(judge),
			"may":   js.FuncOf(may),
			"says":  js.FuncOf(says),
			"asks":  js.FuncOf(asks),
			"typed": js.FuncOf(
				typed,
			),
			"walked": js.FuncOf(walked),
			"noted":  js.FuncOf(noted),
			"like":   js.FuncOf(like),
		}))
	select {}
}
