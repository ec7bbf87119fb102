package tool_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/quantity"
	"dynacor/core/tool"
)

// What is set lies inside what the document allows: the mark below where the nearest lies past it, none where none is
// inside.
func TestSettingStaysInsideWhatIsAllowed(t *testing.T) {
	coarse := coretest.SmallWrench()
	coarse.Graduation = 5
	for _, c := range []struct {
		target, low, high quantity.Torque
		want              float64
	}{{98, 0, 0, 100}, {98, 0, 99, 95}, {98, 95, 99, 95}, {98, 96, 99, 0}, {98, 96, 100, 100}, {97, 96, 100, 0}} {
		got, err := tool.Alone(coarse).Settings("", c.target, c.low, c.high)
		if c.want == 0 {
			refusedBy(t, err, "wrench", "%+v", c)
			continue
		}
		require.NoError(t, err, "%+v", c)
		require.Equal(t, []float64{c.want}, got, "%+v", c)
	}
}

// A chart of two points will do; each stage has a mark of the gauge of its own, above nothing.
func TestEveryStageHasAMarkOfItsOwn(t *testing.T) {
	pump, head := coretest.Pump(), coretest.HydraulicWrench()
	pump.Unit, pump.RatedMax = quantity.Megapascal, 70
	head.Chart, head.MaxNm = []tool.ChartPoint{{Pressure: 5, Torque: 500}, {Pressure: 70, Torque: 7000}}, 7000
	s := func(mark float64) tool.SetUp {
		pump.Graduation = mark
		return tool.SetUp{String: []tool.Tool{pump, head}}
	}
	require.InDelta(t, 2000, float64(s(1).TorqueAt(20)), 1e-9)
	got, err := s(1).Settings("30_70_100", 2000, 0, 0)
	require.NoError(t, err)
	require.Equal(t, []float64{6, 14, 20}, got)
	_, err = s(7).Settings("30_70_100", 2000, 0, 0)
	refusedBy(t, err, "graduation", "30 % is 6 MPa, below the first mark")
	_, err = s(8).Settings("30_70_100", 2500, 0, 0)
	refusedBy(t, err, "graduation", "nothing, 16 and 24 MPa: the first is no setting")
	got, err = s(7).Settings("30_70_100", 2400, 0, 0)
	require.NoError(t, err)
	require.Equal(t, []float64{7, 14, 21}, got)
	_, err = s(15).Settings("30_70_100", 5500, 0, 0)
	require.NoError(t, err)
	_, err = s(20).Settings("30_70_100", 7000, 0, 0)
	require.NoError(t, err)
	_, err = s(30).Settings("50_80_100", 6500, 0, 0)
	refusedBy(t, err, "graduation", "50 % and 80 % are both on the mark of 30")
}

// A tensioner leaves nobody knows what in a bolt of unknown clamp length, and bears on nothing but the joint.
func TestTensionerWantsTheClampLength(t *testing.T) {
	s := tool.SetUp{String: []tool.Tool{coretest.Pump(), coretest.Hose(), coretest.Tensioner()}}
	_, err := s.Exact(300)
	refusedBy(t, err, "clampMm")
	n := need(300)
	n.Bolt = &tool.Bolt{LoadKN: 83.3, DiameterMM: 20, StressAreaMM2: 245, YieldMPa: 640}
	_, err = s.OnJoint(n).Exact(300)
	refusedBy(t, err, "clampMm")
	n.Bolt.ClampMM = 100
	v, err := s.OnJoint(n).Exact(300)
	require.NoError(t, err)
	require.InDelta(t, 10*83300*(1.01+0.2)/1500, v, 1e-6)
	require.Nil(t, s.ReactionAt(300))
	head := coretest.HydraulicWrench()
	s = tool.SetUp{String: []tool.Tool{coretest.Pump(), head}}
	require.InDelta(t, 1800/0.18, s.ReactionAt(1800).ForceN, 1e-9)
	s.String[1].LengthMM = 0
	require.Nil(t, s.ReactionAt(1800), "an arm of unknown length bears with nobody knows what")
}

// An offer says where on the scale it sets, and when one person should not pull so hard.
func TestOfferTellsScaleAndPull(t *testing.T) {
	w := coretest.SmallWrench()
	w.LengthMM = 360
	for nm, want := range map[quantity.Torque][]string{
		70:  {"Set at 35 % of full scale: the good part of its scale.", "Pull at the grip about 194 N."},
		69:  {"Set at 34 % of full scale: low on its scale."},
		180: {"Set at 90 % of full scale: the good part of its scale.", "Pull at the grip about 500 N."},
		181: {"near the end of its scale.", "Pull at the grip about 503 N: more than one person should give."},
	} {
		n := need(float64(nm))
		offers := tool.Find(n, []tool.Tool{w})
		require.Len(t, offers, 1)
		for _, text := range want {
			require.Contains(t, fmt.Sprint(offers[0].Reasons), text, "%g", float64(nm))
		}
	}
	narrow := need(100) // of 97 to 103 the upper half is allowed
	narrow.LowNm, narrow.HighNm = 100, 120
	require.Contains(
		t,
		tool.Find(narrow, []tool.Tool{w})[0].Reasons[1],
		", 50 % of it inside what the document allows.",
	)
	narrow.LowNm, narrow.HighNm = 104, 120
	require.Contains(t, fmt.Sprint(tool.Find(narrow, []tool.Tool{w})), "no mark of W-31 lies inside 104 to 120")
	long, other := w, w
	long.Tag, long.LengthMM, long.AccuracyPct = "W-1", 720, 4
	other.Tag = "W-2"
	require.Equal(t, "W-2", tool.Find(need(180), []tool.Tool{long, other})[0].Tags, "500 N is not too much")
	require.Equal(t, "W-1", tool.Find(need(181), []tool.Tool{long, other})[0].Tags, "more than 500 N goes last")
}

// Only the adapter that fits the hexagon is offered; without a hexagon, every one.
func TestAdapterFitsTheHexagon(t *testing.T) {
	foot := func(flats float64) tool.Tool {
		return tool.Tool{Tag: fmt.Sprintf("A-%g", flats), Kind: tool.Adapter, DriveIn: "1/2 in", LengthMM: 45,
			AcrossFlatsMM: flats}
	}
	n := need(120)
	n.Offset = true
	crib := []tool.Tool{coretest.SmallWrench(), foot(24), foot(27)}
	require.Len(t, tool.Find(n, crib), 2)
	n.AcrossFlats = 27.2
	offers := tool.Find(n, crib)
	require.Len(t, offers, 1)
	require.Equal(t, "W-31+A-27", offers[0].Tags)
}

// Power takes the socket made for it where there is one, a hand the first that fits; what is to hand goes before what
// is not, and without a hose in the register none is missed.
func TestSocketIsTheOneForTheWork(t *testing.T) {
	plain, power := coretest.Socket("S-1", 41, "1 in", 2000), coretest.Socket("S-2", 41, "1 in", 2000)
	plain.Impact = false
	n := need(700)
	n.AcrossFlats = 41
	tags := func(busy map[string]string, more ...tool.Tool) []string {
		n.Busy = busy
		var out []string
		for _, o := range tool.Find(n, append([]tool.Tool{plain, power}, more...)) {
			if o.Usable {
				out = append(out, o.Tags)
			}
		}
		return out
	}
	one := coretest.Wrench()
	one.Drive, one.RatedMax = "1 in", 1000
	head := coretest.HydraulicWrench()
	require.Equal(t, []string{"W-31+X-04+S-2"}, tags(nil, coretest.SmallWrench(), coretest.Multiplier()))
	require.Equal(t, []string{"W-40+S-1"}, tags(nil, one), "a hand needs no socket for power")
	require.Equal(t, []string{"W-40+S-2"}, tags(map[string]string{"S-1": "is out"}, one))
	require.Equal(t, []string{"W-40+S-1"}, tags(map[string]string{"S-1": "is out", "S-2": "is out"}, one))
	require.Equal(t, []string{"P-2+H-2+S-2"}, tags(nil, coretest.Pump(), head))
	n.Nm, n.LowNm, n.HighNm = 1000, 900, 1100
	require.Equal(t, []string{"P-2+N-1+H-2+S-2"}, tags(nil, coretest.Pump(), coretest.Hose(), head))
	head.Drive = ""
	offers := tool.Find(n, []tool.Tool{plain, power, coretest.Pump(), head})
	require.Equal(t, "P-2+H-2", offers[0].Tags, "a link of its own takes no socket")
	require.True(t, offers[0].Usable, "%v", offers[0].Problems)
}

// How far a bolt of unknown yield is pulled is nobody's to judge.
func TestPullOfAnUnknownBoltIsNotJudged(t *testing.T) {
	n := need(300)
	n.Bolt = &tool.Bolt{LoadKN: 83.3, DiameterMM: 20, StressAreaMM2: 245, ClampMM: 100}
	pump := coretest.Pump()
	pump.RatedMax, pump.Unit, pump.Graduation = 150, quantity.Megapascal, 1
	for yield, right := range map[float64]bool{0: true, 400: false, 640: true} {
		n.Bolt.YieldMPa = yield
		offers := tool.Find(n, []tool.Tool{pump, coretest.Tensioner()})
		require.Len(t, offers, 1)
		require.Equal(t, right, offers[0].Usable, "%g: %v", yield, offers[0].Problems)
	}
}

// A multiplier is shown with the wrench that takes it furthest; of those that take it to its end, with the more exact
// one, and of equals with the first.
func TestMultiplierIsShownWithItsBestWrench(t *testing.T) {
	m, small, large := coretest.Multiplier(), coretest.SmallWrench(), coretest.SmallWrench()
	large.Tag, large.RatedMax, large.AccuracyPct = "W-60", 600, 4
	reach := func(maxNm float64, crib ...tool.Tool) tool.Span {
		m.MaxNm = maxNm
		for _, s := range tool.Spans(append(crib, m), 0.2, 30, coretest.Day) {
			if s.Tags != "W-31" && s.Tags != "W-60" && s.Tags != "W-32" {
				return s
			}
		}
		t.Fatal("the multiplier is not shown")
		return tool.Span{}
	}
	require.Equal(t, "W-60+X-04", reach(1500, small, large).Tags)
	require.InDelta(t, 1500, float64(reach(1500, small, large).MaxNm), 1e-9)
	require.Equal(t, "W-31+X-04", reach(500, large, small).Tags, "both take it to its end")
	second := small
	second.Tag = "W-32"
	require.Equal(t, "W-31+X-04", reach(500, small, second).Tags)
	require.Equal(t, "W-32+X-04", reach(500, second, small).Tags)
	require.False(t, math.IsNaN(float64(reach(500, small).MinNm)))
}

// A set-up is named by tags, from hand or pump to the nut; it begins with what is set.
func TestSetUpIsPickedByTags(t *testing.T) {
	crib := []tool.Tool{coretest.SmallWrench(), coretest.Multiplier(), coretest.Pump(), coretest.Tensioner()}
	n := need(300)
	n.AdapterDeg = 90
	s, err := tool.Pick(n, "W-31+X-04", crib)
	require.NoError(t, err)
	require.Equal(t, "W-31+X-04", s.Tags())
	require.InDelta(t, 90, s.AdapterDeg, 0)
	_, err = tool.Pick(n, "W-31+X-05", crib)
	refusedBy(t, err, "wrench")
	require.ErrorContains(t, err, `"X-05" is not in the crib`)
	_, err = tool.Pick(n, "X-04+W-31", crib)
	refusedBy(t, err, "wrench")
	require.ErrorContains(t, err, "nothing is set on it")
	n.Bolt = &tool.Bolt{LoadKN: 83.3, DiameterMM: 20, StressAreaMM2: 245, ClampMM: 100}
	s, err = tool.Pick(n, "P-2+T-20", crib)
	require.NoError(t, err)
	require.Positive(t, s.NmPerMPa)
	s, err = tool.Pick(n, "W-31", crib)
	require.NoError(t, err)
	require.Zero(t, s.NmPerMPa)
}
