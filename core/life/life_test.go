package life_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/life"
	"dynacor/core/record"
	"dynacor/core/run"
)

// worked is a sealed run of the made-up joint in a year, its last pulls read with a tool of 4 per cent.
func worked(t *testing.T, year int, read map[int]float64) life.Run {
	t.Helper()
	rec, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	at := time.Date(year, 4, 12, 8, 0, 0, 0, time.UTC)
	sealed := at.Add(5 * time.Hour)
	rec.Number = fmt.Sprintf("TS-%d-00001", year)
	later := at.Sub(rec.Events[0].Event.At)
	for i := range rec.Events {
		rec.Events[i].Event.At = rec.Events[i].Event.At.Add(later)
		e := &rec.Events[i].Event
		if v, ok := read[e.Fastener]; ok && e.Kind == run.Pulled && e.Pass == len(rec.State.Passes) {
			e.Reading = &run.Reading{Value: v, Unit: "N_m", SI: v}
		}
	}
	return life.Run{ID: rec.Number, StartedAt: at, SealedAt: &sealed, Record: rec, Holds: true}
}

func all(v float64, but map[int]float64) map[int]float64 {
	out := map[int]float64{}
	for i := range 8 {
		out[i+1] = v
	}
	for i, x := range but {
		out[i] = x
	}
	return out
}

func lane(l life.Life, which life.Lane) []life.Mark {
	var out []life.Mark
	for _, m := range l.Marks {
		if m.Lane == which {
			out = append(out, m)
		}
	}
	return out
}

func texts(l life.Life) []string {
	out := []string{}
	for _, x := range l.Tells {
		out = append(out, x.Text)
	}
	return out
}

// Everything that happened stands on its lane, in the order of time; runs are numbered by their beginnings.
func TestLifeOfAJoint(t *testing.T) {
	first, second := worked(t, 2019, nil), worked(t, 2023, nil)
	second.Record.State.FollowsWhy = "gasket replaced"
	second.Record.State.Deviations = []run.Deviation{{Code: "x", What: "washer turned over", At: second.StartedAt,
		Status: run.DeviationNoted}}
	seen := second.SealedAt.Add(25*time.Hour + time.Minute)
	second.Additions = []record.Addition{
		{Seq: 1, Kind: record.Retorque, At: second.SealedAt.Add(24 * time.Hour), Verdict: record.Moved, Sentence: "one turned"},
		{Seq: 2, Kind: record.Correction, At: second.SealedAt.Add(25 * time.Hour), What: "another tin"},
		{Seq: 3, Kind: record.Recheck, At: second.SealedAt.Add(26 * time.Hour), SeenAt: &seen, What: "dry"},
	}
	open := worked(t, 2026, nil)
	open.SealedAt, open.Record.Number = nil, ""
	changed := time.Date(2022, 1, 1, 0, 0, 0, 0, time.UTC)
	l := life.Of(life.Input{Runs: []life.Run{open, second, first},
		Specifications: []life.Specification{{Version: 1, At: first.StartedAt, Document: "D A", Target: "300 N·m"},
			{Version: 2, At: changed, Document: "D B", Target: "310 N·m", Reason: "new gasket"}}})
	require.Equal(t, []life.LaneName{{life.Plans, "Document"}, {life.Runs, "Runs"}, {life.Records, "Records"},
		{life.Retorques, "Re-torques"}, {life.Deviations, "Deviations"}, {life.Service, "In service"}}, l.Lanes)
	plans := lane(l, life.Plans)
	require.Equal(t, changed, *plans[0].Until, "until the next one")
	require.Nil(t, plans[1].Until)
	require.Equal(t, "310 N·m. new gasket", plans[1].Text)
	runs := lane(l, life.Runs)
	require.Equal(t, []string{"Run 1", "Run 2", "Run 3"}, []string{runs[0].Title, runs[1].Title, runs[2].Title})
	require.Equal(t, "TS-2019-00001", runs[0].Run)
	require.Nil(t, runs[2].Until, "still in hand")
	require.Len(t, lane(l, life.Records), 2)
	require.Equal(t, seen, lane(l, life.Service)[1].At, "when it was seen, not when it was signed")
	require.Equal(t, "turned, inside the rule", lane(l, life.Retorques)[0].Title)
	require.Equal(t, "Correction", lane(l, life.Service)[0].Title)
	require.Equal(t, "gasket replaced", l.Runs[1].Why)
	require.Empty(t, l.Tells, "nothing speaks against it")

	second.Holds = false
	second.Record.State.Verdict.Code = run.TurnedDown
	l = life.Of(life.Input{Runs: []life.Run{second}})
	require.Equal(t, "broken", lane(l, life.Records)[0].Kind)
	require.True(t, lane(l, life.Records)[0].Bad)
	require.True(t, lane(l, life.Runs)[0].Bad)
	require.Equal(t, []life.LaneName{}, life.Of(life.Input{}).Lanes)
}

// Why a flange leaks again is told by what its own history has in common, and by nothing else.
func TestHistoryTells(t *testing.T) {
	found := record.Addition{Kind: record.Finding, What: "weeps at the lower half"}
	a, b, c := worked(t, 2019, all(300, map[int]float64{5: 287})), worked(t, 2021, nil), worked(t, 2023, all(300,
		map[int]float64{5: 286}))
	a.Additions = []record.Addition{found}
	l := life.Of(life.Input{Runs: []life.Run{a, b, c}})
	require.Contains(t, texts(l), "A test failed, or something was found in service, after run 1.")
	require.Contains(t, texts(l), "Bolt 5 was the low one, or moved on, in runs 1 and 3: look at the face under it.")
	require.Equal(t, []int{1, 3}, l.Tells[1].Runs)

	c.Additions = []record.Addition{found, {Kind: record.Retorque, Verdict: record.MovedPast}}
	b.Record.State.Deviations = []run.Deviation{{Status: run.DeviationAccepted}}
	doubt := life.ToolDoubt{Tool: "W-40", Reason: "6 % high", At: time.Date(2022, 1, 1, 0, 0, 0, 0, time.UTC)}
	l = life.Of(life.Input{Runs: []life.Run{a, b, c}, Doubts: []life.ToolDoubt{doubt}})
	for _, want := range []string{"A test failed, or something was found in service, after runs 1 and 3.",
		"Each time the gasket was of the same kind: G-03 aramid 2 mm.", "Each time the threads had the same lubricant: Light oil.",
		"Nuts had lost load at a re-torque after run 3.", "Something was out and was accepted by leave in run 2.",
		"W-40, found out later (6 % high), was used in runs 1 and 2."} {
		require.Contains(t, texts(l), want)
	}
	require.True(t, lane(l, life.Tools)[0].Bad, "not answered yet")

	other := *c.Record.Plan
	other.Specification.Gasket = "another"
	c.Record.Plan = &other
	require.NotContains(t, texts(life.Of(life.Input{Runs: []life.Run{a, b, c}})),
		"Each time the gasket was of the same kind: G-03 aramid 2 mm.")
}

// A place stands out only when it is lower than the tool can be wrong, and nothing else is lower.
func TestLowPlaceMustBeLowerThanTheToolsDoubt(t *testing.T) {
	repeats := func(low float64) []string {
		return life.Compare(worked(t, 2019, all(300, map[int]float64{5: low})), worked(t, 2023, all(300,
			map[int]float64{5: low}))).Repeats
	}
	require.Empty(t, repeats(288), "4 % of 300 is 12")
	require.Equal(t, []string{"bolt 5"}, repeats(287.9))
	require.Empty(t, life.Compare(worked(t, 2019, all(300, map[int]float64{5: 280})), worked(t, 2023, all(300,
		map[int]float64{5: 285, 6: 284}))).Repeats, "another was lower")
	a, b := worked(t, 2019, nil), worked(t, 2023, nil)
	for _, r := range []*life.Run{&a, &b} {
		for i := range r.Record.Events {
			if e := &r.Record.Events[i].Event; e.Moved != nil && e.Fastener == 2 {
				yes := true
				e.Moved = &yes
			}
		}
	}
	c := life.Compare(a, b)
	require.Equal(t, []string{"bolt 2"}, c.Repeats, "a nut that moved on in a round")
	require.Contains(t, c.Says, "Bolt 2 stood out both times: look at the face under it.")
}

// Two runs are held against each other by what both have, and no difference is claimed that the tools cannot tell.
func TestTwoRunsAreCompared(t *testing.T) {
	a, b := worked(t, 2019, all(300, nil)), worked(t, 2023, all(302, map[int]float64{4: 324}))
	b.Record.State.Verdict.Word = "Accepted by leave"
	c := life.Compare(a, b)
	require.Equal(t, life.Torque, c.Kind)
	require.Len(t, c.Pairs, 8)
	require.InDelta(t, 300, *c.Pairs[3].A, 0)
	require.InDelta(t, 324, *c.Pairs[3].B, 0)
	require.InDelta(t, 12, c.Doubt, 1e-9)
	require.Contains(t, c.Says, "No place stood out both times. The most they differ is 24 N·m: no more than the tools can tell, ±12 N·m each.")
	line := map[string]life.Difference{}
	for _, d := range c.Differences {
		line[d.What] = d
	}
	require.Equal(t, life.Difference{What: "Mean", A: "300 N·m", B: "305 N·m"}, line["Mean"])
	require.Equal(t, "22 N·m", line["Spread"].B)
	require.True(t, line["Gasket"].Same)
	require.False(t, line["Verdict"].Same)

	b = worked(t, 2023, all(302, map[int]float64{4: 324.5}))
	require.Contains(t, life.Compare(a, b).Says, "The most they differ is 24.5 N·m, at bolt 4.")
	clicked := worked(t, 2021, nil)
	c = life.Compare(clicked, b)
	require.Equal(t, life.Set, c.Kind)
	require.Contains(t, c.Says, "A click tells that a setting was reached, and no more")
	clicked.Record.Events = nil
	require.Contains(t, life.Compare(clicked, b).Says, "no fastener that was measured in both")
}
