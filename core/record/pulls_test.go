package record_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/record"
	"dynacor/core/run"
)

// A fastener came to what was read at its last pull that counts; a click tells nothing of it.
func TestLastPullsOfARecord(t *testing.T) {
	rec, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	require.Empty(t, rec.LastPulls(), "only clicked")
	read := func(v float64) *run.Reading { return &run.Reading{Value: v, Unit: "N_m", SI: v} }
	last := ""
	for i := range rec.Events {
		e := &rec.Events[i].Event
		if e.Kind == run.Pulled && e.Fastener == 3 {
			e.Reading = read(290 + float64(e.Pass))
			last = e.ID
		}
	}
	list := rec.LastPulls()
	require.Len(t, list, 1)
	p := list[0]
	require.Equal(t, "bolt 3", p.Fastener)
	require.InDelta(t, 290+float64(len(rec.State.Passes)), p.Value, 0)
	require.InDelta(t, 300, p.Aim, 0)
	g := rec.Plan.First()
	require.Equal(t, []float64{float64(g.AllowedMin), float64(g.AllowedMax)}, []float64{p.Low, p.High})
	require.Equal(t, "W-40", p.Tool)
	require.Equal(t, "wrench", p.Method)
	rec.State.TakenBack = []string{last}
	require.InDelta(t, 290+float64(len(rec.State.Passes))-1, rec.LastPulls()[0].Value, 0, "the one before it, when the last was taken back")
}

// Turns, stretches and movements are told as torques are: the last that counts, against what that pass allows.
func TestWhatElseALastPullTells(t *testing.T) {
	moved := true
	for _, c := range []struct {
		of        record.Quantity
		pass      run.PassState
		first     run.Event
		last      run.Event
		pct       float64
		low, high float64
	}{
		{record.Angle, run.PassState{Kind: plan.TurnPass, TurnDeg: 360}, run.Event{TurnedDeg: 90},
			run.Event{TurnedDeg: 369}, 2.5, -100 * 15 / 360., 100 * 15 / 360.},
		{record.Stretch, run.PassState{Kind: plan.StretchPass, LowMM: .18, HighMM: .22}, run.Event{},
			run.Event{Reading: &run.Reading{Value: .19, Unit: "mm", SI: .19}}, -5, -10, 10},
		{record.Movement, run.PassState{Kind: plan.CheckPass, MovedDeg: 10},
			run.Event{Moved: &moved, TurnedDeg: 30}, run.Event{Moved: &moved, TurnedDeg: 4}, 40, 0, 100},
	} {
		rec, err := coretest.Finished((*coretest.Script).Finish)
		require.NoError(t, err)
		rec.State.Passes[0] = c.pass
		rec.Events = nil
		for i, e := range []run.Event{c.first, c.last} {
			e.ID, e.Kind, e.Pass, e.Fastener = string(c.of)+string(rune('a'+i)), run.Pulled, 1, 2
			rec.Events = append(rec.Events, record.Entry{Seq: i + 1, Event: e})
		}
		list := rec.LastPulls()
		require.Len(t, list, 1, c.of)
		require.Equal(t, c.of, list[0].Of)
		require.InDelta(t, c.pct, list[0].Pct(), 1e-5)
		low, high := list[0].Limits()
		require.InDelta(t, c.low, low, 1e-5)
		require.InDelta(t, c.high, high, 1e-5)
		rec.State.TakenBack = []string{rec.Events[1].Event.ID}
		if list = rec.LastPulls(); c.of == record.Stretch {
			require.Empty(t, list, "the one before it was not read")
		} else {
			require.NotEqual(t, c.pct, list[0].Pct(), "the one before it")
		}
	}
}

// A nut that moved by nobody knows how much tells nothing, nor one that may not move at all; one that stayed tells none.
func TestMovementIsToldWhereItIsKnown(t *testing.T) {
	yes, no := true, false
	for _, c := range []struct {
		may   float64
		e     run.Event
		tells int
	}{{10, run.Event{Moved: &no}, 1}, {10, run.Event{Moved: &yes}, 0}, {0, run.Event{Moved: &no}, 0}, {10, run.Event{}, 0}} {
		rec, err := coretest.Finished((*coretest.Script).Finish)
		require.NoError(t, err)
		rec.State.Passes[0] = run.PassState{Kind: plan.CheckPass, MovedDeg: c.may}
		c.e.ID, c.e.Kind, c.e.Pass, c.e.Fastener = "one", run.Pulled, 1, 2
		rec.Events = []record.Entry{{Seq: 1, Event: c.e}}
		require.Len(t, rec.LastPulls(), c.tells)
	}
}
