package record_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
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
	require.InDelta(t, 290+float64(len(rec.State.Passes)), p.Nm, 0)
	require.InDelta(t, 300, p.AimNm, 0)
	g := rec.Plan.First()
	require.Equal(t, []float64{g.AllowedMin, g.AllowedMax}, []float64{p.LowNm, p.HighNm})
	require.Equal(t, "W-40", p.Tool)
	require.Equal(t, "wrench", p.Method)
	rec.State.TakenBack = []string{last}
	require.InDelta(t, 290+float64(len(rec.State.Passes))-1, rec.LastPulls()[0].Nm, 0, "the one before it, when the last was taken back")
}
