package training_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/tool"
	"dynacor/core/training"
)

var (
	flange    = training.Subject{About: training.Family, Code: "gasketed_flange", Word: "gasketed flange"}
	hydraulic = training.Subject{About: training.Tool, Code: string(tool.HydraulicWrench), Word: "hydraulic wrench"}
)

// A subject is asked for once somebody's training in it has been written down; what takes no skill never is.
func TestWhatIsAskedFor(t *testing.T) {
	tools := []tool.Tool{{Kind: tool.HydraulicWrench}, {Kind: tool.HydraulicWrench}, {Kind: tool.Socket}}
	require.Empty(t, training.Needs(flange, tools, nil))
	require.Equal(t, []training.Subject{flange}, training.Needs(flange, tools, []training.Subject{flange}))
	got := training.Needs(flange, tools, append(training.Kinds(), flange))
	require.Len(t, got, 2, "each once")
	require.Equal(t, flange, got[0])
	require.Equal(t, hydraulic.Code, got[1].Code)
}

// A training is good to the end of its last day, and one that has ended is told with it.
func TestTrainingEndsWithItsDay(t *testing.T) {
	needs := []training.Subject{flange, hydraulic}
	held := []training.Held{{About: training.Family, Code: flange.Code},
		{About: training.Tool, Code: hydraulic.Code, Until: "2026-11-30"}}
	require.Empty(t, training.Lacks(held, needs, "2026-11-30"))
	lacks := training.Lacks(held, needs, "2026-12-01")
	require.Equal(t, []training.Lack{{Subject: hydraulic, Ended: "2026-11-30"}}, lacks)
	require.Equal(t, "M. Tolley has no training written down for: hydraulic wrench (ended 2026-11-30).",
		training.Says("M. Tolley", lacks))
	require.Equal(t, "M. Tolley has no training written down for: gasketed flange, hydraulic wrench.",
		training.Says("M. Tolley", training.Lacks(nil, needs, "2026-12-01")))
	require.Empty(t, training.Lacks([]training.Held{{About: training.Tool, Code: hydraulic.Code, Until: "2026-01-01"},
		{About: training.Tool, Code: hydraulic.Code, Until: "2027-01-01"}}, needs[1:], "2026-12-01"))
}
