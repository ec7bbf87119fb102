package calc_test

import (
	"fmt"

	"dynacor/core/calc"
)

// Every calculation is found by the words of the trade, and says what it asks for.
func ExampleFind() {
	for _, c := range calc.Find("hydraulic pressure") {
		fmt.Println(c.Name, "-", c.Title)
	}
	// Output:
	// hydraulic_pressure - Pump pressure
	// tensioner_pressure - Tensioner pressure
}

// Inputs are numbers or what people type, with their unit. The result has its working, line by line.
func ExampleRun() {
	r, err := calc.Run("torque_from_preload_k", map[string]any{"thread": "M20", "lubricant": "light_oil",
		"preload_kN": "90 kN"}, calc.Options{Typed: true})
	if err != nil {
		fmt.Println(err)
		return
	}
	torque := r.Working.Lines[len(r.Working.Lines)-1]
	fmt.Printf("%s = %s = %.0f %s\n", torque.Symbol, torque.Formula, torque.Value, torque.Unit)
	// Output:
	// T = K · F · d = 324 N_m
}
