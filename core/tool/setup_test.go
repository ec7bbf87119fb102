package tool_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/coretest"
	"dynacor/core/quantity"
	"dynacor/core/tool"
)

func need(nm float64) tool.Need {
	return tool.Need{Nm: quantity.Torque(nm), LowNm: quantity.Torque(0.9 * nm), HighNm: quantity.Torque(1.1 * nm), MinFrac: 0.2, PreferredFrac: 0.6, On: coretest.Day}
}

func TestEveryToolOfTheMadeUpCribIsRight(t *testing.T) {
	for _, x := range []tool.Tool{coretest.Wrench(), coretest.SmallWrench(), coretest.Multiplier(),
		coretest.Socket("S-41", 41, "1 in", 2000), coretest.HydraulicWrench(), coretest.Pump(), coretest.Hose(),
		coretest.Tensioner(), coretest.Electronic()} {
		require.NoError(t, x.Check(), x.Tag)
		require.NotEmpty(t, x.Name(), x.Tag)
		require.Equal(t, "fit", x.Condition(coretest.Day, 30), x.Tag)
	}
	require.Len(t, tool.Kinds(), 26)
}

func TestEveryKindSaysWhatItNeeds(t *testing.T) {
	for _, k := range tool.Kinds() {
		for _, field := range k.Needs {
			x := tool.Tool{Tag: "A-1", Kind: k.Kind, Unit: quantity.NewtonMetre, RatedMin: 10, RatedMax: 100,
				Graduation: 1, MainStep: 10, AccuracyPct: 4}
			r, ok := quantity.RefusalIn(x.Check())
			require.True(t, ok, "%s without %s", k.Kind, field)
			require.NotEmpty(t, r.Remedy)
		}
	}
	x := coretest.Multiplier()
	x.Gear.Measured = 5.4
	r, ok := quantity.RefusalIn(x.Check())
	require.True(t, ok)
	require.Equal(t, "gear.measured", r.Field, "losses make the torque ratio smaller than the teeth")
	y := coretest.Wrench()
	y.Points = []tool.ErrorPoint{{Set: 100, True: 101}, {Set: 100, True: 110}}
	r, ok = quantity.RefusalIn(y.Check())
	require.True(t, ok)
	require.Equal(t, "points", r.Field)
	require.Contains(t, r.Why, "point 2")
}

func TestPullsRunOutLikeDays(t *testing.T) {
	w := coretest.Wrench()
	w.CycleLimit = 5000
	for cycles, want := range map[int]string{0: "fit", 4499: "fit", 4500: "due_soon", 4999: "due_soon",
		5000: "overdue"} {
		w.Cycles = cycles
		require.Equal(t, want, w.Condition(coretest.Day, 30), cycles)
	}
	w.Cycles = 5000
	require.Contains(t, w.Fit(nil, 0, coretest.Day),
		tool.Problem{Code: "cycles", What: "W-40 has made 5000 of 5000 pulls since its calibration",
			Remedy: "Take another one; send this one to be calibrated."})
}

func TestMultiplierIsSetToTheDividedValue(t *testing.T) {
	s := tool.SetUp{String: []tool.Tool{coretest.SmallWrench(), coretest.Multiplier()}}
	got, err := s.Settings("30_70_100", 600, 570, 630)
	require.NoError(t, err)
	require.Equal(t, []float64{39, 91, 130}, got, "600 / 4.6 = 130.4; a third and two thirds of the mark")
	require.InDelta(t, 598, float64(s.TorqueAt(130)), 1e-9)
	require.InDelta(t, 4.5, s.AccuracyPct(), 1e-9, "wrench and ratio together")
	r := s.ReactionAt(598)
	require.InDelta(t, (598-130)/0.3, r.ForceN, 1e-6)
	require.Equal(t, "W-31 × X-04", s.Name())
	require.Equal(t, "W-31+X-04", s.Tags())
}

// The first of several stages goes down to its mark, the others to the nearest; one alone goes to the nearest.
func TestFirstStageGoesDown(t *testing.T) {
	w := coretest.Wrench()
	w.Graduation, w.RatedMin, w.RatedMax = 5, 20, 400
	for _, c := range []struct {
		scheme string
		nm     float64
		want   []float64
	}{
		{"30_70_100", 210, []float64{60, 145, 210}}, // 63, 147
		{"30_70_100", 290, []float64{85, 205, 290}}, // 87, 203
		{"30_70_100", 200, []float64{60, 140, 200}}, // on a mark
		{"20_60_100", 210, []float64{40, 125, 210}}, // 42, 126
		{"", 213, []float64{215}},
	} {
		got, err := tool.Alone(w).Settings(c.scheme, quantity.Torque(c.nm), 0, 0)
		require.NoError(t, err)
		require.Equal(t, c.want, got, "%s of %v", c.scheme, c.nm)
	}
	w.Graduation = 60
	_, err := tool.Alone(w).Settings("30_70_100", 180, 0, 0) // 54: nearest 60, down nothing
	require.ErrorContains(t, err, "first stage lies below the first mark")
}

func TestPressureIsReadFromTheToolsOwnChartAndRoundedDown(t *testing.T) {
	s := tool.SetUp{String: []tool.Tool{coretest.Pump(), coretest.Hose(), coretest.HydraulicWrench()}}
	got, err := s.Settings("", 2000, 1800, 2200)
	require.NoError(t, err)
	exact := 10 + 30*(2000-645.)/(2560-645)
	require.InDelta(t, 10*exact, must(t, s, 2000), 1e-6, "bar on the gauge, MPa in the chart")
	require.Equal(t, []float64{math.Floor(exact) * 10}, got)
	require.Less(t, s.TorqueAt(got[0]), 2000.0)
	for nm, why := range map[float64]string{600: "under the chart", 4500: "past H-2"} {
		_, err := s.Exact(quantity.Torque(nm))
		require.ErrorContains(t, err, why)
	}
	require.True(t, math.IsNaN(float64(s.TorqueAt(90))), "a chart is never drawn on")
	weak := s
	weak.String = []tool.Tool{coretest.Pump(), {Tag: "N-9", Kind: tool.Hose, MaxMPa: 20, LengthMM: 1},
		coretest.HydraulicWrench()}
	problems := weak.Problems(2000, got, 0.2, coretest.Day)
	require.Len(t, problems, 1)
	require.Equal(t, "pressure", problems[0].Code)
}

func must(t *testing.T, s tool.SetUp, nm float64) float64 {
	t.Helper()
	v, err := s.Exact(quantity.Torque(nm))
	require.NoError(t, err)
	return v
}

// What is set gives at the nut what was wanted, within half a mark, whatever lies between.
func TestSettingAndTorqueAtTheNutGoBackAndForth(t *testing.T) {
	w := coretest.SmallWrench()
	w.LengthMM = 465
	foot := tool.Tool{Tag: "A-24", Kind: tool.Adapter, DriveIn: "1/2 in", LengthMM: 45, AcrossFlatsMM: 24}
	rapid.Check(t, func(t *rapid.T) {
		s := rapid.SampledFrom([]tool.SetUp{tool.Alone(w), {String: []tool.Tool{w, coretest.Multiplier()}},
			{String: []tool.Tool{w, foot}, AdapterDeg: 37}}).Draw(t, "set-up")
		set := float64(rapid.IntRange(40, 200).Draw(t, "set"))
		back, err := s.Exact(s.TorqueAt(set))
		require.NoError(t, err)
		require.InDelta(t, set, back, 1e-9)
	})
}

func TestWhatIsNeverPutTogether(t *testing.T) {
	w, m := coretest.SmallWrench(), coretest.Multiplier()
	foot := tool.Tool{Tag: "A-24", Kind: tool.Adapter, DriveIn: "1/2 in", Drive: "1/2 in", LengthMM: 45,
		AcrossFlatsMM: 24}
	hand := coretest.Socket("S-9", 41, "1 in", 0)
	hand.Impact = false
	for code, s := range map[string]tool.SetUp{
		"stacked_adapters":   {String: []tool.Tool{w, foot, foot}},
		"adapter_multiplier": {String: []tool.Tool{w, foot, m}}, "stacked_multipliers": {String: []tool.Tool{w, m, m}},
		"two_set": {String: []tool.Tool{w, coretest.Wrench()}}, "hand_socket": {String: []tool.Tool{w, m, hand}},
		"chain": {String: []tool.Tool{coretest.Wrench(), m}},
	} {
		var codes []string
		for _, p := range s.Problems(100, nil, 0.2, coretest.Day) {
			codes = append(codes, p.Code)
			require.NotEmpty(t, p.Remedy)
		}
		require.Contains(t, codes, code)
	}
	require.Len(t, tool.Never(), 3)
	require.Contains(t, tool.Never()[0], "pipe")
}

func TestFinderRanksAndSaysWhatIsMissing(t *testing.T) {
	crib := []tool.Tool{coretest.Wrench(), coretest.SmallWrench(), coretest.Multiplier(), coretest.HydraulicWrench(),
		coretest.Pump(), coretest.Hose()}
	offers := tool.Find(need(300), crib)
	require.Equal(t, "W-40", offers[0].Tags, "the fewest things between hand and nut")
	require.True(t, offers[0].Usable)
	require.Equal(t, "W-31+X-04", offers[1].Tags)
	byTags := map[string]tool.Offer{}
	for _, o := range tool.Find(need(700), crib) {
		byTags[o.Tags] = o
	}
	require.False(t, byTags["W-40"].Usable)
	require.Contains(t, byTags["W-40"].Problems[0], "It goes to 400")
	o := byTags["W-31+X-04"]
	require.True(t, o.Usable, "%v", o.Problems)
	require.InDelta(t, 152*4.6, float64(o.AtNutNm), 1e-9)
	require.InDelta(t, 152/0.465, o.PullN, 1e-9)
	require.InDelta(t, float64(o.AtNutNm)*0.955, float64(o.LowNm), 1e-9)
	require.Len(t, o.Pieces, 2)
	require.True(t, byTags["P-2+N-1+H-2"].Usable)
	require.Contains(t, byTags["P-2+N-1+H-2"].Reasons[len(byTags["P-2+N-1+H-2"].Reasons)-1], "kN")

	withSockets := need(700)
	withSockets.AcrossFlats = 41
	for _, o := range tool.Find(withSockets, append(crib, coretest.Socket("S-30", 30, "1 in", 2000))) {
		if o.Method == tool.ByMultiplier {
			require.False(t, o.Usable)
			require.Contains(t, o.Problems[0], "no socket 41 mm")
		}
	}
	for _, o := range tool.Find(withSockets, append(crib, coretest.Socket("S-41", 41, "1 in", 2000))) {
		if o.Method == tool.ByMultiplier {
			require.Equal(t, "W-31+X-04+S-41", o.Tags)
			require.True(t, o.Usable)
		}
	}
	out := need(300)
	out.Busy = map[string]string{"W-40": "is out with P. Lund"}
	offers = tool.Find(out, crib)
	require.Equal(t, "W-31+X-04", offers[0].Tags, "what is to hand goes first")
	require.Equal(t, "W-40 is out with P. Lund", offers[1].Busy)
	lonely := tool.Find(need(700), []tool.Tool{coretest.Multiplier(), coretest.HydraulicWrench()})
	require.Len(t, lonely, 2)
	require.Contains(t, lonely[0].Problems[0], "no torque wrench")
	require.Contains(t, lonely[1].Problems[0], "no pump")
}

func TestFinderWithAnAdapterAndWithATensioner(t *testing.T) {
	n := need(120)
	n.Offset, n.AcrossFlats = true, 24
	w := coretest.SmallWrench()
	foot := tool.Tool{Tag: "A-24", Kind: tool.Adapter, DriveIn: "1/2 in", LengthMM: 45, AcrossFlatsMM: 24}
	offers := tool.Find(n, []tool.Tool{w, foot})
	require.Len(t, offers, 1)
	require.Equal(t, []float64{math.Round(120 * 465 / 510.)}, offers[0].Settings,
		"in line the adapter makes the lever longer")
	n.AdapterDeg = 90
	require.Equal(t, []float64{120}, tool.Find(n, []tool.Tool{w, foot})[0].Settings)

	n = need(300)
	n.Bolt = &tool.Bolt{LoadKN: 83.3, DiameterMM: 20, StressAreaMM2: 245, ClampMM: 100, YieldMPa: 640}
	pump := coretest.Pump()
	pump.RatedMax, pump.MainStep, pump.Unit, pump.Graduation = 150, 10, quantity.Megapascal, 1
	offers = tool.Find(n, []tool.Tool{pump, coretest.Hose(), coretest.Tensioner()})
	require.Len(t, offers, 1)
	require.False(t, offers[0].Usable, "the hose is made for 70 MPa")
	hose := coretest.Hose()
	hose.MaxMPa = 150
	offers = tool.Find(n, []tool.Tool{pump, hose, coretest.Tensioner()})
	require.True(t, offers[0].Usable, "%v", offers[0].Problems)
	require.Equal(t, []float64{math.Floor(83300 * (1.01 + 0.2) / 1500)}, offers[0].Settings)
	n.Bolt.YieldMPa = 300
	require.Contains(t, tool.Find(n, []tool.Tool{pump, hose, coretest.Tensioner()})[0].Problems[0], "90 % of its yield")
}

func TestDriveSizesByEitherName(t *testing.T) {
	for s, want := range map[string]float64{"1/2 in": 12.7, "3/4 in": 19.05, "19 mm": 19.05, "25 mm": 25.4,
		"1 1/2 in": 38.1, "27 mm": 27} {
		v, err := tool.DriveSize(s)
		require.NoError(t, err, s)
		require.InDelta(t, want, float64(v), 1e-9, s)
	}
	_, err := tool.DriveSize("square")
	require.Error(t, err)
}
