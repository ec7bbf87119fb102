package run_test

import (
	"fmt"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/run"
)

// Work goes on event by event; each costs the same however many came before. What an event would do can be asked before
// it is taken.
func ExampleProgress() {
	p, _ := plan.Make(coretest.Input())
	s := coretest.NewScript(p)
	s.Ready() // read, every check answered, every hold signed
	upByHand(s)
	g := run.NewProgress(p)
	for _, e := range s.Events {
		g.Apply(e)
	}
	st := g.State(s.At)
	fmt.Println(st.Station, "next:", st.Next.Name, "at", st.Setting)
	fmt.Println(st.Confirm)

	pull := run.Event{ID: "7", Kind: run.Pulled, At: s.At, Person: coretest.Tolley, Pass: 2, Fastener: 4,
		Outcome: run.Clicked, Setting: st.Setting}
	for _, f := range g.With(pull, s.At).Findings {
		fmt.Printf("%s %s: %s\n", f.Severity, f.Code, f.What)
	}
	// Output:
	// tighten next: bolt 1 at 90
	// Set the wrench for the first pass.
	// caution not_confirmed: The setting was not confirmed.
	// caution out_of_order: 1 is next. You are on 4.
}

// Folding goes through everything from the beginning, as the check of a sealed record does.
func ExampleFold() {
	p, _ := plan.Make(coretest.Input())
	s := coretest.NewScript(p)
	s.Finish()
	st := run.Fold(p, s.Events, s.At)
	fmt.Println(st.Verdict.Word, "after", len(s.Events), "events")
	// Output:
	// Accepted after 69 events
}

// What a page may offer for signing follows from the work and the person.
func ExampleState_May() {
	p, _ := plan.Make(coretest.Input())
	s := coretest.NewScript(p)
	s.Ready()
	upByHand(s)
	s.Add(run.Event{Kind: run.SettingConfirmed, Setting: s.State().Setting})
	s.Add(run.Event{Kind: run.Pulled, Pass: 2, Fastener: 1, Outcome: run.Over, Setting: s.State().Setting})
	for _, who := range []run.Person{coretest.Tolley, coretest.Abara, coretest.Hartwell} {
		fmt.Print(who.Name, ", ", who.Role, ":")
		for _, g := range s.State().May(p, who) {
			fmt.Print(" ", g.Purpose)
		}
		fmt.Println()
	}
	// Output:
	// M. Tolley, technician:
	// R. Abara, inspector: deviation turned_down
	// J. Hartwell, engineer: deviation start_pass turned_down
}
