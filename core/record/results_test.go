package record_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/core/tool"
)

// Every pull of every pass is a line with its target, its tool and its hand; what was taken back says so.
func TestResultsOfARecord(t *testing.T) {
	rec, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	list := rec.Results()
	pulls := 0
	for _, e := range rec.Events {
		if e.Event.Kind == run.Pulled {
			pulls++
		}
	}
	require.Len(t, list, pulls)
	last := list[len(list)-1]
	require.Equal(t, "bolt 8", last.Fastener)
	require.Equal(t, len(rec.State.Passes), last.Pass)
	require.InDelta(t, 300, last.TargetNm, 0)
	require.Equal(t, "N·m", last.Unit)
	require.Equal(t, "W-40", last.Tool)
	require.Equal(t, "M. Tolley", last.By)
	require.NotNil(t, last.Moved)
	for _, x := range list {
		require.True(t, x.Counts)
		require.Equal(t, rec.Events[x.Seq-1].Event.Fastener, x.Position)
	}

	rec.State.TakenBack = []string{rec.Events[last.Seq-1].Event.ID}
	rec.Events[list[0].Seq-1].Event.Fastener = 99 // as the chain of an earlier version may have it
	list = rec.Results()
	require.Len(t, list, pulls-1)
	require.False(t, list[len(list)-1].Counts)
	require.True(t, list[0].Counts)
}

// A pull is put down to what the hand had for that group, or to what it took since without naming one.
func TestResultsNameTheToolInHand(t *testing.T) {
	rec, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	var pull run.Event
	for _, e := range rec.Events {
		if e.Event.Kind == run.Pulled {
			pull = e.Event
		}
	}
	code := rec.Plan.GroupAt(pull.Fastener).Code
	take := func(tag, group string, hand int) run.Event {
		return run.Event{Kind: run.WrenchTaken, Wrench: &tool.Tool{Tag: tag}, Group: group, Hand: hand,
			SetUp: &tool.SetUp{String: []tool.Tool{{Tag: tag}, {Tag: "M-1"}}}}
	}
	other := pull
	other.Hand = 1
	rec.Events = nil
	for i, e := range []run.Event{pull, take("W-1", "", 0), pull, take("W-2", code, 0), pull, take("W-3", "else", 0), pull,
		take("W-4", "", 0), pull, other, take("W-5", code, 1), other, pull} {
		rec.Events = append(rec.Events, record.Entry{Seq: i + 1, Event: e})
	}
	var tools []string
	for _, x := range rec.Results() {
		tools = append(tools, x.Tool)
	}
	require.Equal(t, []string{"W-40", "W-1 + M-1", "W-2 + M-1", "W-2 + M-1", "W-4 + M-1", "W-40", "W-5 + M-1", "W-4 + M-1"},
		tools, "as planned until something is taken")
	for i, p := range rec.State.Passes {
		rec.Events[0].Event.Pass = i + 1
		require.Equal(t, map[bool]string{true: "W-40", false: ""}[p.Kind.Sets()], rec.Results()[0].Tool, "by hand, no tool")
	}
}
