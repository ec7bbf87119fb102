package plan_test

import (
	"fmt"

	"dynacor/core/coretest"
	"dynacor/core/plan"
)

// A joint with its document, the house rules, the lubricant cards and the tools of the crib become a plan; what is
// missing or doubtful is said, not guessed.
func ExampleMake() {
	in := coretest.Input() // eight M20 bolts of class 8.8, 300 N·m with light oil
	p, err := plan.Make(in)
	if err != nil {
		fmt.Println(err)
		return
	}
	g := p.First()
	fmt.Printf("%d × %s to %.0f N·m with %s, %.0f %% of yield\n", g.Layout.Count, g.Thread.Text, g.FinalNm,
		g.Wrench.Tag, p.First().YieldPct)
	for _, ps := range p.Passes {
		fmt.Println(ps.Number, ps.Name, ps.Setting, ps.Order)
	}

	in.Specification.Groups[0].Target = plan.Target{Form: plan.NotGiven}
	p, _ = plan.Make(in)
	fmt.Println(p.Complete(), p.ToBeSupplied)
	// Output:
	// 8 × M20 to 300 N·m with W-40, 52 % of yield
	// 1 snug 0 [1 5 3 7 2 6 4 8]
	// 2 30 % 90 [1 5 3 7 2 6 4 8]
	// 3 70 % 210 [1 5 3 7 2 6 4 8]
	// 4 100 % 300 [1 5 3 7 2 6 4 8]
	// 5 round, 100 % 300 [1 2 3 4 5 6 7 8]
	// false [Target: the document gives no figure]
}

// A specification that cannot be right is refused by field, with what to do.
func ExampleMake_refused() {
	in := coretest.Input()
	in.Specification.Groups[0].Thread = "M23"
	_, err := plan.Make(in)
	fmt.Println(err)
	// Output:
	// thread: "M23" has no coarse pitch in the table: write the pitch. Write it like "M24", "M20x1.5" or "1 1/8-8".
}
