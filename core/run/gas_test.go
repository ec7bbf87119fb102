package run_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
)

// filled is an accumulator tightened, filled to its transport pressure and standing at the check of its pre-charge.
func filled(t *testing.T) *coretest.Script {
	t.Helper()
	f, err := procedure.ByCode("accumulator")
	require.NoError(t, err)
	in := sampleOf(f, map[string]string{"gas": "service"})
	in.Specification.Figures["precharge"], in.Specification.Figures["precharge_tol"] = 100, 5
	p, err := plan.Make(in)
	require.NoError(t, err)
	s := coretest.NewScript(p)
	s.Ready()
	s.Tighten()
	for _, code := range []string{"nitrogen", "transport_pressure", "poppet", "service_gas"} {
		c, ok := p.Check(code)
		require.True(t, ok, code)
		s.Answer(c)
	}
	return s
}

func reading(v float64, unit quantity.Unit) []run.Reading {
	return []run.Reading{{Value: v, Unit: unit, SI: v, Text: quantity.Text(v)}}
}

func checkOf(t *testing.T, st *run.State, code string) run.CheckState {
	t.Helper()
	for _, c := range st.Checks {
		if c.Code == code {
			return c
		}
	}
	t.Fatalf("no check %s", code)
	return run.CheckState{}
}

// A gas is judged by what it would have at 20 °C: (p + 1.01325) · 293.15 / (t + 273.15) − 1.01325 bar.
func TestPrechargeIsJudgedAtItsTemperature(t *testing.T) {
	for _, c := range []struct {
		celsius, bar float64
		passes       bool
	}{
		{20, 95, true}, {20, 94.9, false}, {20, 105, true}, {20, 105.1, false},
		{0, 93.11, true},  // 100 at 20 °C
		{0, 100, false},   // 107.4 at 20 °C
		{0, 88.45, true},  // 95.00
		{0, 88.44, false}, // 94.99
		{50, 115, true},   // 104.2
		{50, 117, false},  // 106.0
		{-10, 94.15, true},
		{-10, 94.16, false}, // 105.01
	} {
		s := filled(t)
		s.Add(run.Event{Kind: run.CheckAnswered, Check: "temperature", Values: reading(c.celsius, quantity.Celsius)})
		st := s.Judge(run.Event{Kind: run.CheckAnswered, Check: "precharge", Values: reading(c.bar, quantity.Bar)})
		got := checkOf(t, st, "precharge")
		require.Equal(t, c.passes, got.Status == run.CheckCleared, "%g bar at %g °C: %s", c.bar, c.celsius, got.Text)
		require.Equal(t, []float64{c.bar}, got.Values, "the reading stands as it was read")
		require.Contains(t, got.Text, "bar at 20 °C")
		if c.celsius == 20 {
			require.Contains(t, got.Text, ", "+quantity.Text(c.bar)+" bar at 20 °C")
		}
		require.NotNil(t, got.Working)
	}
}

func TestPrechargeSaysWhatToFillTo(t *testing.T) {
	s := filled(t)
	require.Nil(t, checkOf(t, s.State(), "precharge").AtTemperature, "not before the temperature is known")
	s.Add(run.Event{Kind: run.CheckAnswered, Check: "temperature", Values: reading(0, quantity.Celsius)})
	at := checkOf(t, s.State(), "precharge").AtTemperature
	require.NotNil(t, at)
	require.InDelta(t, 0, at.Celsius, 0)
	require.InDelta(t, 88.45, at.Low, 0.005)
	require.InDelta(t, 97.76, at.High, 0.005)
}

func TestPrechargeWithoutItsTemperatureSaysNothing(t *testing.T) {
	s := filled(t)
	st := s.Judge(run.Event{Kind: run.CheckAnswered, Check: "precharge", Values: reading(100, quantity.Bar)})
	require.Equal(t, run.CheckStopped, checkOf(t, st, "precharge").Status)
	require.True(t, found(st, string(run.ReadingUnusable)))
}

// Another temperature makes another pressure of it.
func TestPrechargeIsAskedAgainWithAnotherTemperature(t *testing.T) {
	s := filled(t)
	s.Add(run.Event{Kind: run.CheckAnswered, Check: "temperature", Values: reading(20, quantity.Celsius)})
	s.Add(run.Event{Kind: run.CheckAnswered, Check: "precharge", Values: reading(100, quantity.Bar)})
	require.Equal(t, run.CheckCleared, checkOf(t, s.State(), "precharge").Status)
	s.Add(run.Event{Kind: run.CheckAnswered, Check: "temperature", Values: reading(0, quantity.Celsius)})
	got := checkOf(t, s.State(), "precharge")
	require.Equal(t, run.CheckOpen, got.Status)
	require.Contains(t, got.Waiting, "temperature")
}
