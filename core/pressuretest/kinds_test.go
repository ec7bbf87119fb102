package pressuretest_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/pressuretest"
	"dynacor/core/run"
)

// Gas: nobody goes near at the full pressure, an open barrier holds the next step, and the witness has no hand in it.
func TestAirWantsItsZone(t *testing.T) {
	s := air()
	e, err := s.Energy(nil)
	require.NoError(t, err)
	s.ZoneM = e.Distance - .01
	refused(t, s.Check(), "zoneM")
	s.ZoneM = e.Distance
	require.NoError(t, s.Check())
	require.Greater(t, e.Energy, 100*e.Hydro, "gas stores far more than water")

	r := begin(t, air())
	for _, g := range r.state().Gates[:len(r.state().Gates)-1] {
		r.do(pressuretest.Event{Kind: pressuretest.Confirmed, Gate: g.Code})
	}
	for _, p := range []run.Person{tolley, keeper} {
		refused(t, r.try(pressuretest.Event{Kind: pressuretest.Confirmed, Gate: "witness", Person: p}), "personId")
	}
	r.do(pressuretest.Event{Kind: pressuretest.Confirmed, Gate: "witness", Person: abara})
	require.InDelta(t, 5.5, *r.state().Act.Bar, 1e-9)
	r.read("5.5", "20")
	r.after(2).read("5.5", "20")
	st := r.do(pressuretest.Event{Kind: pressuretest.Opened, Gate: "barrier/2"})
	require.Equal(t, "barrier/2", st.Act.Gate)
	refused(t, r.try(pressuretest.Event{Kind: pressuretest.Read, BarAs: "6.6"}), "barAs")
	r.read("5.5", "20")
	r.do(pressuretest.Event{Kind: pressuretest.Confirmed, Gate: "barrier/2"})
	for _, b := range []string{"6.6", "7.7", "8.8", "9.9"} {
		r.read(b, "20")
		r.after(2).read(b, "20")
	}
	r.read("11", "20")
	refused(t, r.try(pressuretest.Event{Kind: pressuretest.Looked, Joint: "SW-113", Dry: true}), "joint")
	st = r.after(10).read("10.9", "17") // by the gas law 3 °C make 0.123 bar of it
	require.InDelta(t, -12.01325*3/293.15, st.Judged().Sum.Explained, 1e-9)
	require.InDelta(t, .1-12.01325*3/293.15, st.Judged().Sum.Lost, 1e-9)
	require.InDelta(t, (.1-12.01325*3/293.15)*1e5*.4/600, *st.Judged().Sum.Rate, 1e-9)
	r.read("10", "")
	r.look("SW-113")
	r.look("SW-114")
	r.after(10).read("10", "")
	r.down()
	refused(t, r.try(pressuretest.Event{Kind: pressuretest.Signed, As: pressuretest.Witness, Person: imrie}), "personId")
	refused(t, r.try(pressuretest.Event{Kind: pressuretest.Signed, As: pressuretest.Leader, Person: abara}), "personId")
	require.Equal(t, pressuretest.Held, r.sign().Verdict.Code)
}

func TestVacuumIsJudgedByItsRise(t *testing.T) {
	s := water()
	s.Kind, s.TestBar, s.LossBar, s.VolumeM3, s.Medium = pressuretest.Vacuum, .01, .002, 1, "air"
	s.Steps, _ = pressuretest.Usual(s.Kind, 0, .01, 60)
	refused(t, s.Check(), "gauge.absolute")
	s.Gauge = pressuretest.Gauge{Tag: "VG-2", Range: 1, Mark: .0001, CheckBy: "2027-01-01", Absolute: true}
	for bar, want := range map[string]pressuretest.Code{"0.012": pressuretest.Held, "0.01201": pressuretest.Fell} {
		r := begin(t, s).ready()
		require.Equal(t, pressuretest.Going, r.read("0.5", "20").Phase)
		r.read("0.01", "20")
		st := r.after(60).read(bar, "20")
		require.Equal(t, want, st.Verdict.Code, bar)
		refused(t, r.try(pressuretest.Event{Kind: pressuretest.LetDown, BarAs: "0.5"}), "barAs")
		st = r.do(pressuretest.Event{Kind: pressuretest.LetDown, BarAs: "1.0"})
		require.Equal(t, want, st.Verdict.Code)
		require.Equal(t, map[pressuretest.Code]string{pressuretest.Held: "Held", pressuretest.Fell: "Rose"}[want],
			st.Verdict.Word)
	}
}

func TestPrechargeIsJudgedAtItsTemperature(t *testing.T) {
	s := pressuretest.Spec{Tag: "LT-09", Title: "Accumulator 3", Kind: pressuretest.Precharge, Joints: []string{"GT-301"},
		Procedure: "TP-30", Medium: "nitrogen", TestBar: 90, RefC: 20, TolPct: 5,
		Gauge: pressuretest.Gauge{Tag: "PG-4", Range: 160, Mark: 1, CheckBy: "2027-01-01"}}
	r := begin(t, s).ready()
	refused(t, r.try(pressuretest.Event{Kind: pressuretest.Read, BarAs: "80"}), "tempAs")
	aim := (90+1.01325)*(273.15+10)/293.15 - 1.01325
	st := r.read(fmt.Sprintf("%.4f", aim*.95-.01), "10")
	require.InDelta(t, aim, *st.Aim, 1e-9)
	require.Contains(t, st.Act.Text, "Fill to")
	require.Contains(t, r.read(fmt.Sprintf("%.4f", aim*1.05+.01), "10").Act.Text, "Let out")
	require.Equal(t, pressuretest.Signing, r.read(fmt.Sprintf("%.4f", aim*.95+.01), "10").Phase)
	require.Equal(t, pressuretest.Filled, r.sign().Verdict.Code)
}

func TestPurgeGoesToAndFro(t *testing.T) {
	s := pressuretest.Spec{Tag: "LT-10", Title: "Gate cylinder", Kind: pressuretest.Purge, Joints: []string{"TF-402"},
		Procedure: "TP-31", Medium: "oil", Cycles: 2}
	r := begin(t, s).ready()
	refused(t, r.try(pressuretest.Event{Kind: pressuretest.Driven, Way: "back"}), "way")
	for i, way := range []string{"out", "back", "out", "back"} {
		require.Equal(t, pressuretest.Driving, r.state().Phase, i)
		r.do(pressuretest.Event{Kind: pressuretest.Driven, Way: way})
	}
	refused(t, r.try(pressuretest.Event{Kind: pressuretest.Driven, Way: "out"}), "way")
	require.Equal(t, pressuretest.Signing, r.look("TF-402").Phase)
	require.Equal(t, pressuretest.Purged, r.sign().Verdict.Code)
}
