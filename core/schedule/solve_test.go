package schedule_test

import (
	"context"
	"encoding/json"
	"fmt"
	"runtime"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/schedule"
)

// made reads an instance: people and tools as given, jobs of one activity or more.
func made(t testing.TB, text string) *schedule.Instance {
	t.Helper()
	var in schedule.Instance
	require.NoError(t, json.Unmarshal([]byte(text), &in), text)
	return &in
}

// one is an activity that one fitter does in so many minutes; more is added to it.
func one(id string, minutes int, more string) string {
	return fmt.Sprintf(`{"id":%q,"modes":[{"id":"m","minutes":%d,"people":[{"skills":["fit"]}]}]%s}`, id, minutes, more)
}

func solve(t testing.TB, in *schedule.Instance) *schedule.Answer {
	t.Helper()
	a, err := schedule.Solve(context.Background(), in, schedule.Options{Seed: 3, Work: 8000})
	require.NoError(t, err)
	broken, err := schedule.Check(in, a.Activities, a.Unplaced)
	require.NoError(t, err)
	require.Empty(t, broken)
	return a
}

const ama = `{"id":"Ama","skills":[{"skill":"fit"},{"skill":"prove"}]}`
const bo = `{"id":"Bo","skills":[{"skill":"fit"}]}`

// Each rule by itself: what it makes of the finish.
func TestEachRuleOfAPlan(t *testing.T) {
	for name, c := range map[string]struct {
		text   string
		finish int
	}{
		"one after the other": {`{"horizon":500,"people":[` + bo + `],"jobs":[{"id":"J","activities":[` + one("a", 60, "") +
			`,` + one("b", 30, "") + `]}]}`, 90},
		"not before its release": {`{"horizon":500,"people":[` + bo + `],"jobs":[{"id":"J","activities":[` +
			one("a", 60, `,"release":45`) + `]}]}`, 105},
		"not through a break": {`{"horizon":500,"people":[{"id":"Bo","skills":[{"skill":"fit"}],"open":[[0,50],[80,400]]}],
			"jobs":[{"id":"J","activities":[` + one("a", 60, "") + `]}]}`, 140},
		"resting over a break": {`{"horizon":500,"people":[{"id":"Bo","skills":[{"skill":"fit"}],"open":[[0,50],[80,400]]}],
			"jobs":[{"id":"J","activities":[` + one("a", 60, `,"pause":30`) + `]}]}`, 90},
		"not over a longer one": {`{"horizon":500,"people":[{"id":"Bo","skills":[{"skill":"fit"}],"open":[[0,50],[81,400]]}],
			"jobs":[{"id":"J","activities":[` + one("a", 60, `,"pause":30`) + `]}]}`, 141},
		"a locker cures at night": {`{"horizon":500,"people":[` + ama + `,` + bo + `],"jobs":[{"id":"J","activities":[` +
			one("a", 60, "") + `,` + one("b", 30, "") + `]}],"links":[{"from":"a","to":"b","min":240}]}`, 330},
		"a tool is carried": {`{"horizon":500,"people":[` + ama + `,` + bo + `],
			"tools":[{"id":"T","kind":"big","area":"A","carry":20}],"areas":[{"id":"A"},{"id":"B"}],"jobs":[{"id":"J",
			"activities":[{"id":"a","at":[{"area":"B"}],"modes":[{"id":"m","minutes":30,"people":[{"skills":["fit"]}],
			"tools":[{"kind":"big","pulled":true}]}]}]}]}`, 50},
		"a skill ends": {`{"horizon":500,"people":[{"id":"Bo","skills":[{"skill":"fit","until":59}]},
			{"id":"Cy","skills":[{"skill":"fit"}],"open":[[100,500]]}],"jobs":[{"id":"J","activities":[` + one("a", 60, "") +
			`]}]}`, 160},
		"a skill lasts to its end": {`{"horizon":500,"people":[{"id":"Bo","skills":[{"skill":"fit","until":60}]},
			{"id":"Cy","skills":[{"skill":"fit"}],"open":[[100,500]]}],"jobs":[{"id":"J","activities":[` + one("a", 60, "") +
			`]}]}`, 60},
		"room for one crew": {`{"horizon":500,"people":[` + ama + `,` + bo + `],"areas":[{"id":"A","places":1}],
			"jobs":[{"id":"J","activities":[` + one("a", 60, `,"at":[{"area":"A"}]`) + `,` +
			one("b", 30, `,"at":[{"area":"A"}]`) + `]}]}`, 90},
		"opened and closed in one window": {`{"horizon":900,"people":[` + bo + `],
			"isolations":[{"id":"I","windows":[[0,100],[200,900]]}],"jobs":[{"id":"J","activities":[` +
			one("a", 60, `,"isolation":"I"`) + `,` + one("b", 50, `,"isolation":"I"`) + `]}]}`, 310},
		"both faces at once": {`{"horizon":500,"people":[` + ama + `,{"id":"Bo","skills":[{"skill":"fit"}],"open":[[40,500]]}],
			"jobs":[{"id":"J","activities":[` + one("a", 60, "") + `,` + one("b", 30, "") + `]}],
			"links":[{"from":"a","to":"b","from_at":"start","max":0}]}`, 100},
		"who tightened does not prove": {`{"horizon":500,"people":[` + ama + `,{"id":"Bo","skills":[{"skill":"fit"},
			{"skill":"prove"}],"open":[[90,500]]}],"jobs":[{"id":"J","activities":[` + one("a", 60, "") + `,
			{"id":"p","modes":[{"id":"m","minutes":10,"people":[{"skills":["prove"]}]}]}]}],"links":[{"from":"a","to":"p"}],
			"apart":[["a","p"]]}`, 100},
		"a life begins its lubricating late": {`{"horizon":500,"people":[` + ama + `,{"id":"Bo","skills":[{"skill":"hyd"}],
			"open":[[200,500]]}],"jobs":[{"id":"J","activities":[` + one("lube", 20, "") + `,{"id":"pass",
			"modes":[{"id":"m","minutes":50,"people":[{"skills":["hyd"]}]}]}]}],"links":[{"from":"lube","to":"pass"},
			{"id":"life","from":"lube","to":"pass","to_at":"end","max":80}]}`, 250},
		"a pin on a person": {`{"horizon":500,"people":[` + ama + `,{"id":"Bo","skills":[{"skill":"fit"}],"open":[[70,500]]}],
			"jobs":[{"id":"J","activities":[` + one("a", 60, "") + `]}],"pins":[{"activity":"a","person":"Bo"}]}`, 130},
		"a pin on a start": {`{"horizon":500,"people":[` + ama + `],"jobs":[{"id":"J","activities":[` + one("a", 60, "") +
			`]}],"pins":[{"activity":"a","start":33}]}`, 93},
		"what has begun goes on": {`{"horizon":500,"now":50,"people":[` + bo + `],"jobs":[{"id":"J","activities":[` +
			one("a", 60, "") + `,` + one("b", 30, "") + `]}],"begun":[{"activity":"a","mode":"m","start":10,"end":85,
			"people":["Bo"],"tools":[]}]}`, 115},
	} {
		t.Run(name, func(t *testing.T) {
			a := solve(t, made(t, c.text))
			require.Empty(t, a.Unplaced)
			require.Equal(t, c.finish, a.Objective.Finish)
			require.Equal(t, "proved", a.Stopped)
		})
	}
}

// An area with room for everybody there ever was takes no more memory than one with little.
func TestLargeFiguresTakeNoMoreMemory(t *testing.T) {
	in := made(t, `{"horizon":500,"people":[`+bo+`],"areas":[{"id":"A","places":1000000000}],"jobs":[{"id":"J",
		"activities":[`+one("a", 60, `,"at":[{"area":"A","places":900000000}]`)+`]}]}`)
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	require.Equal(t, 60, solve(t, in).Objective.Finish)
	runtime.ReadMemStats(&after)
	require.Less(t, after.TotalAlloc-before.TotalAlloc, uint64(64<<20))
}

// The life of a lubricant is told as the reason why lubricating begins no earlier.
func TestReasonNamesTheRule(t *testing.T) {
	in := made(t, `{"horizon":500,"people":[`+ama+`,{"id":"Bo","skills":[{"skill":"hyd"}],"open":[[200,500]]}],
		"jobs":[{"id":"J","activities":[`+one("lube", 20, "")+`,{"id":"pass","modes":[{"id":"m","minutes":50,
		"people":[{"skills":["hyd"]}]}]}]}],"links":[{"from":"lube","to":"pass"},
		{"id":"life","from":"lube","to":"pass","to_at":"end","max":80}]}`)
	a := solve(t, in)
	require.Equal(t, &schedule.Because{Rule: "link", What: "life", How: "max"}, a.Activities[0].Because)
	require.Equal(t, &schedule.Because{Rule: "person", What: "Bo", How: "closed"}, a.Activities[1].Because)
}

func TestImpossibleJobIsLeftOutWithWhatForbidsIt(t *testing.T) {
	in := made(t, `{"horizon":900,"people":[`+ama+`,{"id":"Ida","skills":[{"skill":"witness"}],"open":[[500,800]]}],
		"isolations":[{"id":"I","windows":[[0,400]]}],"jobs":[{"id":"J1","activities":[`+one("pass", 60, `,"isolation":"I"`)+
		`,{"id":"see","isolation":"I","modes":[{"id":"m","minutes":30,"people":[{"skills":["witness"]}]}]}]},
		{"id":"J2","activities":[`+one("x", 30, "")+`]},{"id":"J3","activities":[`+one("y", 30, "")+`]}],
		"links":[{"from":"pass","to":"see"},{"from":"see","to":"y"}]}`)
	a := solve(t, in)
	require.Equal(t, []string{"J1", "J3"}, a.Unplaced, "and what follows it")
	require.Equal(t, []schedule.Forbids{{Jobs: []string{"J1"}, Facts: []string{"isolation:see", "role:see/m/1"},
		Smallest: true}}, a.Forbids)
}

// The plan in force is kept while that costs no more than it may, and what changed is named.
func TestPlanInForceIsKept(t *testing.T) {
	text := func(cost int) string {
		return fmt.Sprintf(
			`{"horizon":900,"people":[{"id":"Bo","skills":[{"skill":"fit"}]}],"jobs":[{"id":"J","activities":[`+
				one("b", 60, "")+`,`+one("c", 60, "")+`]}],"links":[{"from":"b","to":"c"}],"keep":{"until":90,"cost":%d,
			"plan":[{"activity":"b","start":60,"mode":"m","people":["Bo"],"tools":[]},
			{"activity":"c","start":120,"mode":"m","people":["Bo"],"tools":[]}]}}`,
			cost,
		)
	}
	a := solve(t, made(t, text(60)))
	require.True(t, a.Keep.Kept)
	require.Equal(t, 60, a.Keep.Costs.Finish)
	require.Empty(t, a.Keep.Changed)
	require.Equal(t, 180, a.Objective.Finish)
	require.Equal(t, "kept", a.Activities[0].Because.Rule)
	a = solve(t, made(t, text(59)))
	require.False(t, a.Keep.Kept)
	require.Equal(t, 60, a.Keep.Costs.Finish, "what keeping would cost is told all the same")
	require.Equal(t, []string{"b"}, a.Keep.Changed)
	require.Equal(t, 120, a.Objective.Finish)
}

// Where nothing is left to be placed, because all of it is kept or has begun, the search ends all the same.
// When one thing takes longer than announced, what cannot stay beside it moves; everything else that is near stays.
func TestSlipMovesFewOfWhatWasAnnounced(t *testing.T) {
	jobs := ""
	for n := range 20 {
		jobs += fmt.Sprintf(`,{"id":"J%02d","activities":[%s]}`, n, one(fmt.Sprintf("j%02d", n), 30, ""))
	}
	in := made(t, `{"horizon":2000,"people":[`+ama+`,`+bo+`],"jobs":[`+jobs[1:]+`]}`)
	announced := solve(t, in)
	in.Keep = &schedule.Keep{Until: 1000, Cost: 60, Plan: announced.Activities}
	first := announced.Activities[0]
	require.Zero(t, first.Start)
	first.End += 10 // it is under way, and slow
	in.Begun = []schedule.Planned{first}
	in.Keep.Plan = announced.Activities[1:]
	a := solve(t, in)
	require.Empty(t, a.Unplaced)
	require.True(t, a.Keep.Kept)
	require.Len(t, a.Keep.Changed, 1, "whoever is slow cannot begin the next one in time: that one goes to the end")
	require.LessOrEqual(t, a.Keep.Costs.Finish, 60)
	again := solve(t, in)
	require.Equal(t, a.Activities, again.Activities, "the same each time")

	in.Keep.Cost = 0
	a = solve(t, in)
	require.False(t, a.Keep.Kept)
	require.Positive(t, a.Keep.Costs.Finish)
}

func TestSearchWithNothingToPlaceEnds(t *testing.T) {
	ctx, stop := context.WithTimeout(t.Context(), 20*time.Second)
	defer stop()
	kept := `"keep":{"until":500,"cost":60,"plan":[{"activity":"b","start":60,"mode":"m","people":["Bo"],"tools":[]},
		{"activity":"c","start":120,"mode":"m","people":["Bo"],"tools":[]}]}`
	begun := `"now":10,"begun":[{"activity":"b","mode":"m","start":0,"end":60,"people":["Bo"],"tools":[]},
		{"activity":"c","mode":"m","start":60,"end":150,"people":["Bo"],"tools":[]}]`
	for _, facts := range []string{kept, begun} {
		in := made(t, `{"horizon":900,"people":[`+bo+`],"jobs":[{"id":"J","activities":[`+one("b", 60, "")+`,`+
			one("c", 60, "")+`]}],"links":[{"from":"b","to":"c"}],`+facts+`}`)
		a, err := schedule.Solve(ctx, in, schedule.Options{Seed: 1})
		require.NoError(t, err)
		require.NotEqual(t, "cancelled", a.Stopped)
		require.Len(t, a.Activities, 2)
	}
}

func TestInstanceThatCannotBeMeantIsRefused(t *testing.T) {
	job := `"jobs":[{"id":"J","activities":[` + one("a", 60, "") + `,` + one("b", 60, "") + `]}]`
	for why, text := range map[string]string{
		"horizon":       `{"people":[` + bo + `],` + job + `}`,
		"empty":         `{"horizon":9,"people":[{"id":"Bo","open":[[5,5]]}],` + job + `}`,
		"out of order":  `{"horizon":9,"people":[{"id":"Bo","open":[[5,8],[7,9]]}],` + job + `}`,
		"there twice":   `{"horizon":9,"people":[` + bo + `,` + bo + `],` + job + `}`,
		"circle":        `{"horizon":9,"people":[` + bo + `],` + job + `,"links":[{"from":"a","to":"b"},{"from":"b","to":"a"}]}`,
		"max below min": `{"horizon":9,"people":[` + bo + `],` + job + `,"links":[{"from":"a","to":"b","min":5,"max":4}]}`,
		"no activity":   `{"horizon":9,"people":[` + bo + `],` + job + `,"links":[{"from":"a","to":"z"}]}`,
		"minutes":       `{"horizon":9,"people":[` + bo + `],"jobs":[{"id":"J","activities":[` + one("a", 0, "") + `]}]}`,
		"more places": `{"horizon":9,"people":[` + bo + `],"areas":[{"id":"A","places":1}],"jobs":[{"id":"J","activities":[` +
			one("a", 5, `,"at":[{"area":"A","places":2}]`) + `]}]}`,
		"no tool of the kind": `{"horizon":9,"people":[` + bo + `],"jobs":[{"id":"J","activities":[{"id":"a","modes":[{"id":"m",
			"minutes":5,"people":[{"skills":["fit"]}],"tools":[{"kind":"big"}]}]}]}]}`,
		"needs an area": `{"horizon":9,"people":[` + bo + `],"tools":[{"id":"T","kind":"big","carry":1}],"jobs":[{"id":"J",
			"activities":[{"id":"a","modes":[{"id":"m","minutes":5,"people":[{"skills":["fit"]}],"tools":[{"kind":"big"}]}]}]}]}`,
		"as many people": `{"horizon":9,"people":[` + bo + `],"tools":[{"id":"T","kind":"big"}],"jobs":[{"id":"J",
			"activities":[{"id":"a","modes":[{"id":"m","minutes":5,"people":[],"tools":[{"kind":"big","pulled":true}]}]}]}]}`,
		"at most 1000": `{"horizon":9,"people":[` + bo + `],"jobs":[{"id":"J","activities":[{"id":"a","modes":[{"id":"m",
			"minutes":5,"people":[{"skills":["fit"],"count":1000000000}]}]}]}]}`,
		"too long a time":    `{"horizon":2000000000,"people":[` + bo + `],` + job + `}`,
		"no such person":     `{"horizon":9,"people":[` + bo + `],` + job + `,"pins":[{"activity":"a","person":"Zed"}]}`,
		"not two activities": `{"horizon":9,"people":[` + bo + `],` + job + `,"apart":[["a","a"]]}`,
		"no mode": `{"horizon":9,"people":[` + bo + `],` + job + `,"begun":[{"activity":"a","mode":"z","start":0,"end":1,
			"people":[],"tools":[]}]}`,
	} {
		_, err := schedule.Solve(context.Background(), made(t, text), schedule.Options{})
		require.ErrorContains(t, err, why, text)
	}
	var in schedule.Instance
	require.Error(t, json.Unmarshal([]byte(`{"horizon":9.5}`), &in), "minutes are whole")
}

// The same instance, seed and work give the same answer; who stops it has the best so far; progress only gets better.
func TestSearchIsRepeatableAndCanBeStopped(t *testing.T) {
	in := shutdown(12, 5)
	o := schedule.Options{Seed: 5, Work: 4000}
	last := schedule.Objective{Unplaced: 1 << 30}
	o.Progress = func(best schedule.Objective, done, of int) {
		require.True(t, best.Before(last))
		require.LessOrEqual(t, done, of)
		last = best
	}
	first, err := schedule.Solve(context.Background(), in, o)
	require.NoError(t, err)
	last = schedule.Objective{Unplaced: 1 << 30}
	second, err := schedule.Solve(context.Background(), in, o)
	require.NoError(t, err)
	require.Equal(t, first, second)
	require.Empty(t, first.Unplaced)
	stopped, cancel := context.WithCancel(context.Background())
	cancel()
	a, err := schedule.Solve(stopped, in, schedule.Options{})
	require.NoError(t, err)
	require.Equal(t, "cancelled", a.Stopped)
	broken, err := schedule.Check(in, a.Activities, a.Unplaced)
	require.NoError(t, err)
	require.Empty(t, broken)
}

// A bar that is dragged by hand is told every rule that it breaks, and by how many minutes.
func TestDraggedBarIsToldWhatItBreaks(t *testing.T) {
	in := made(
		t,
		`{"horizon":500,"people":[`+ama+`,`+bo+`],"areas":[{"id":"A","places":1}],"jobs":[{"id":"J","activities":[`+
			one("a", 60, `,"at":[{"area":"A"}],"deadline":80`)+`,`+one("b", 30, `,"at":[{"area":"A"}]`)+`]}],
		"links":[{"from":"a","to":"b","min":10}]}`,
	)
	told := func(plan ...schedule.Planned) (rules []string) {
		t.Helper()
		list, err := schedule.Check(in, plan, nil)
		require.NoError(t, err)
		for _, b := range list {
			rules = append(rules, fmt.Sprintf("%s %v %d", b.Rule, b.Activities, b.Minutes))
		}
		return rules
	}
	bar := func(id string, start, end int, who ...string) schedule.Planned {
		return schedule.Planned{Activity: id, Start: start, End: end, Mode: "m", People: who}
	}
	require.Empty(t, told(bar("a", 0, 60, "Ama"), bar("b", 70, 100, "Ama")))
	require.Equal(t, []string{"deadline [a] 5"}, told(bar("a", 25, 85, "Ama"), bar("b", 95, 125, "Ama")))
	require.Equal(t, []string{"person [a b] 15", "area [a b] 0", "link [a b] 25"},
		told(bar("a", 0, 60, "Ama"), bar("b", 45, 75, "Ama")))
	require.Equal(t, []string{"link [a b] 1"}, told(bar("a", 0, 60, "Ama"), bar("b", 69, 99, "Bo")))
	require.Equal(t, []string{"calendar [b] 5"}, told(bar("a", 0, 60, "Ama"), bar("b", 70, 105, "Bo")))
	require.Equal(t, []string{"role [b] 0"}, told(bar("a", 0, 60, "Ama"), bar("b", 70, 100)))
	require.Equal(t, []string{"whole [b] 0"}, told(bar("a", 0, 60, "Ama")))
	_, err := schedule.Check(in, []schedule.Planned{bar("z", 0, 1)}, nil)
	require.ErrorContains(t, err, "unknown")
}
