package app

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/procedure"
	"dynacor/core/run"
)

// The headline is what can be done now, the line beside it why: who must go round again clears what is open first.
func TestDoNowSaysWhatCanBeDone(t *testing.T) {
	next := &run.Next{Number: 7}
	again := run.Verdict{Code: "go_round_again"}
	passes := make([]run.PassState, 5)
	const turned = "Go round again: nuts turned in the check round"
	for _, c := range []struct {
		s              run.State
		headline, text string
	}{
		{run.State{Blocked: []string{"Wrong lubricant."}, Verdict: again, Next: next}, "Clear what stopped it", "Wrong lubricant."},
		{run.State{Station: procedure.Tighten, Next: next, Pass: 2, Passes: passes}, "Carry on at bolt 7",
			"Carry on at bolt 7, pass 2 of 5"},
		{run.State{Station: procedure.Tighten, Next: next, Pass: 5, Passes: passes, Verdict: again},
			"Go round again at bolt 7", turned},
		{run.State{Station: procedure.Ready, Next: next, Verdict: again}, "Make it ready", turned},
		{run.State{Station: procedure.Ready, Rows: []run.RowState{{Station: procedure.Ready, Text: "Still to do: Gasket."}}},
			"Make it ready", "Still to do: Gasket."},
		{run.State{Station: procedure.Prove, Verdict: again}, "Prove it", turned},
		{run.State{Station: procedure.HandOver}, "Hand it over", "To hand over"},
	} {
		headline, text := doNow(&c.s)
		require.Equal(t, c.headline, headline)
		require.Equal(t, c.text, text)
	}
}
