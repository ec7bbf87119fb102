package standin

import (
	"context"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/coder/websocket"
	"github.com/coder/websocket/wsjson"
	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/coretest"
	"dynacor/core/practice"
	"dynacor/core/preload"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/internal/app"
	"dynacor/internal/demo"
	"dynacor/internal/device"
	"dynacor/internal/httpapi"
	"dynacor/internal/identity"
	"dynacor/internal/live"
	"dynacor/internal/store/storetest"
)

var ctx = context.Background()

// quick makes a test not wait for what a device waits for.
var quick = times{20 * time.Millisecond, 100 * time.Millisecond, 80 * time.Millisecond, 30 * time.Millisecond}

type house struct {
	*httptest.Server
	app *app.App
	hub *live.Hub
}

func newHouse(t *testing.T) *house {
	t.Helper()
	pool := storetest.New(t)
	a := app.New(pool, identity.NewTestHasher(), nil)
	require.NoError(t, a.Prepare(ctx))
	require.NoError(t, a.UseKey(ctx, storetest.Key()))
	made, err := a.AddPerson(ctx, "J. Hartwell", authority.Engineer, "2758")
	require.NoError(t, err)
	engineer := app.Actor{Person: made}
	for tag, token := range demo.Tokens {
		x := coretest.Electronic()
		x.Tag = tag
		_, err := a.PutTool(ctx, engineer, x, "first entry")
		require.NoError(t, err)
		require.NoError(t, a.SetDeviceToken(ctx, engineer, tag, token))
	}
	log := slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: slog.LevelError}))
	hub := live.New(pool, log)
	until, cancel := context.WithCancel(ctx)
	t.Cleanup(cancel)
	go hub.Run(until)
	h, err := httpapi.New(a, pool, http.NotFoundHandler(), httpapi.Options{Log: log, Live: hub})
	require.NoError(t, err)
	s := &house{httptest.NewServer(h), a, hub}
	t.Cleanup(func() { s.CloseClientConnections(); s.Close() })
	return s
}

func config(tag string, kind tool.Kind) Config {
	return Config{Tag: tag, Token: demo.Tokens[tag], Kind: kind, Seed: Seed(tag),
		Joint: practice.Flange(24, 3, 0.15, 360), Chart: []tool.ChartPoint{{Pressure: 10, Torque: 645},
			{Pressure: 70, Torque: 4450}}}
}

// link runs a tool against the house until the test ends.
func (h *house) link(t *testing.T, tl *Tool) {
	t.Helper()
	until, cancel := context.WithCancel(ctx)
	done := make(chan struct{})
	go func() { defer close(done); _ = tl.run(until, h.URL, quick) }()
	t.Cleanup(func() { cancel(); <-done })
	require.Eventually(t, func() bool { return tl.State().Linked }, 5*time.Second, 10*time.Millisecond,
		tl.State().Problem)
}

// pullTo turns a nut until the tool tells that its value is reached, and a bit on.
func pullTo(tl *Tool, past int) {
	for range 2000 {
		if tl.Pull(20 * time.Millisecond) {
			break
		}
	}
	for range past {
		tl.Pull(20 * time.Millisecond)
	}
	tl.Release(time.Now())
	tl.nudge()
}

// kept waits until so many results are in the house and acknowledged, and gives them.
func (h *house) kept(t *testing.T, tl *Tool, n int) []app.DeviceResult {
	t.Helper()
	var list []app.DeviceResult
	require.Eventually(t, func() bool {
		var err error
		list, _, err = h.app.DeviceResults(ctx, tl.cfg.Tag, 0)
		return err == nil && len(list) >= n && tl.State().Waiting == 0
	}, 5*time.Second, 20*time.Millisecond)
	require.Len(t, list, n)
	for i, r := range list {
		require.Equal(t, i+1, r.Seq, "in order, none lost, none twice")
	}
	return list
}

func electronic(t *testing.T, h *house) *Tool {
	tl := New(config("E-03", tool.ElectronicAngle))
	h.link(t, tl)
	tl.Set(360)
	return tl
}

func TestElectronicWrenchSendsTorqueAngleAndCurve(t *testing.T) {
	h := newHouse(t)
	notes, stop := h.hub.Subscribe("tool:E-03")
	defer stop()
	tl := electronic(t, h)
	pullTo(tl, 0)
	r := h.kept(t, tl, 1)[0].Reading
	require.InDelta(t, 360, r.Value, 12, "stopped at the buzz")
	require.Equal(t, quantity.NewtonMetre, r.Unit)
	require.Greater(t, r.AngleDeg, 15.0)
	require.LessOrEqual(t, len(r.Trace), 120)
	d, err := preload.TorqueAngleAnalysis(nil, preload.TraceInput{Points: r.Trace, Target: 360, YieldRatio: 0.5,
		Rehit: 8, CrossFrac: 0.25, BottomRise: 0.15, BottomSlope: 1.6})
	require.NoError(t, err)
	require.Equal(t, "normal", d.Diagnosis)
	told := map[string]bool{}
	for len(told) < 2 {
		select {
		case n := <-notes:
			told[n.Kind] = true
		case <-time.After(3 * time.Second):
			t.Fatalf("pages were told of %v only", told)
		}
	}
	require.True(t, told[device.Result])
}

func TestLostLinkLosesNothing(t *testing.T) {
	h := newHouse(t)
	tl := electronic(t, h)
	pullTo(tl, 0)
	h.kept(t, tl, 1)
	tl.SetFaults(Faults{LostLink: true})
	require.Eventually(t, func() bool { return !tl.State().Linked }, 3*time.Second, 10*time.Millisecond)
	for range 3 {
		tl.NextBolt(practice.Sound)
		pullTo(tl, 0)
	}
	require.Equal(t, 3, tl.State().Waiting)
	tl.SetFaults(Faults{})
	h.kept(t, tl, 4)
}

func TestDuplicateAndReorderedResultsCountOnceInOrder(t *testing.T) {
	h := newHouse(t)
	tl := electronic(t, h)
	tl.SetFaults(Faults{Duplicate: true, Reorder: true})
	for range 5 {
		tl.NextBolt(practice.Sound)
		pullTo(tl, 0)
		time.Sleep(30 * time.Millisecond)
	}
	h.kept(t, tl, 5)
}

func TestDriftAndLateClickPullTooFar(t *testing.T) {
	h := newHouse(t)
	tl := electronic(t, h)
	tl.SetFaults(Faults{DriftPct: 8})
	pullTo(tl, 0)
	require.InDelta(t, 360, h.kept(t, tl, 1)[0].Reading.Value, 12, "a drifted tool shows what it was set to")
	require.InDelta(t, 360*1.08, float64(tl.bolt.Torque()), 14, "and gives more")
	tl.SetFaults(Faults{LateClick: true})
	tl.NextBolt(practice.Sound)
	pullTo(tl, 0)
	require.Greater(t, h.kept(t, tl, 2)[1].Reading.Value, 385.0)
}

func TestWrongUnitAndLowBatteryAreTold(t *testing.T) {
	h := newHouse(t)
	notes, stop := h.hub.Subscribe("tool:E-03")
	defer stop()
	tl := electronic(t, h)
	tl.SetFaults(Faults{WrongUnit: true, LowBattery: true})
	pullTo(tl, 0)
	r := h.kept(t, tl, 1)[0].Reading
	require.Equal(t, quantity.FootPound, r.Unit)
	require.Greater(t, float64(quantity.TorqueOf(r.Value, r.Unit)), 470.0, "360 ft·lbf are 488 N·m")
	require.Eventually(t, func() bool {
		select {
		case n := <-notes:
			return n.Kind == device.Status && string(n.Data) != "" && strings.Contains(string(n.Data), `"batteryPct":8`)
		default:
			return false
		}
	}, 3*time.Second, 5*time.Millisecond)
}

func TestPullingOnAfterTheClickIsSeen(t *testing.T) {
	h := newHouse(t)
	tl := New(config("W-40", tool.Click))
	h.link(t, tl)
	tl.Set(300)
	pullTo(tl, 12)
	r := h.kept(t, tl, 1)[0].Reading
	require.True(t, r.Click)
	require.Greater(t, r.Value, 330.0)
	require.InDelta(t, 300, r.Set, 0)
	require.Equal(t, 1, tl.State().Clicks, "one click for one pull")
}

func TestPumpSendsOnlyWhenTheNutTurnsNoMore(t *testing.T) {
	h := newHouse(t)
	cfg := config("P-2", tool.Pump)
	cfg.Joint = practice.Flange(36, 4, 0.15, 2400)
	tl := New(cfg)
	h.link(t, tl)
	tl.Set(370)
	strokes := 0
	for ; strokes < 40 && tl.State().LastSeq == 0; strokes++ {
		for range 30 {
			tl.Pull(20 * time.Millisecond)
		}
		tl.Release(time.Now())
		tl.nudge()
	}
	require.Greater(t, strokes, 3, "several strokes before the stall")
	r := h.kept(t, tl, 1)[0].Reading
	require.InDelta(t, 370, r.Value, 1)
	require.Equal(t, quantity.Unit("bar"), r.Unit)
}

func TestGaugesSendAReading(t *testing.T) {
	h := newHouse(t)
	for tag, kind := range map[string]tool.Kind{"G-1": tool.Caliper, "G-2": tool.StretchGauge,
		"M-1": tool.TorqueMeter, "PG-11": tool.PressureGauge} {
		tl := New(config(tag, kind))
		h.link(t, tl)
		tl.Measure(time.Now(), 3.1)
		tl.nudge()
		require.InDelta(t, 3.1, h.kept(t, tl, 1)[0].Reading.Value, 0.02, tag)
	}
}

func TestAimReachesTheTool(t *testing.T) {
	h := newHouse(t)
	tl := electronic(t, h)
	h.hub.Publish("tool:E-03", device.Aim, device.Target{Joint: "TB-204", Pass: 1, Fastener: 5, Set: 252,
		Unit: quantity.NewtonMetre})
	require.Eventually(t, func() bool { return tl.State().Aim != nil && tl.State().Set == 252 }, 3*time.Second,
		10*time.Millisecond)
	require.Equal(t, 5, tl.State().Aim.Fastener)
}

func TestOnlyKnownDevicesMaySend(t *testing.T) {
	h := newHouse(t)
	addr, err := address(h.URL)
	require.NoError(t, err)
	for name, hello := range map[string]device.Message{
		"wrong token":   {Type: device.Hello, Protocol: 1, Tag: "E-03", Token: "guess"},
		"no such tool":  {Type: device.Hello, Protocol: 1, Tag: "E-99", Token: "demo-E-03"},
		"other version": {Type: device.Hello, Protocol: 2, Tag: "E-03", Token: "demo-E-03"},
		"no hello":      {Type: device.Status},
	} {
		ws, _, err := websocket.Dial(ctx, addr, nil)
		require.NoError(t, err, name)
		require.NoError(t, wsjson.Write(ctx, ws, hello))
		var m device.Message
		require.NoError(t, wsjson.Read(ctx, ws, &m), name)
		require.Equal(t, device.Refused, m.Type, name)
		require.NotEmpty(t, m.Reason)
		_ = ws.CloseNow()
	}
	// A known one that sends nonsense is told, and nothing is kept.
	ws, _, err := websocket.Dial(ctx, addr, nil)
	require.NoError(t, err)
	defer ws.CloseNow() //nolint:errcheck // end of the test
	require.NoError(t, wsjson.Write(ctx, ws, device.Message{Type: device.Hello, Protocol: 1, Tag: "E-03",
		Token: "demo-E-03"}))
	var m device.Message
	require.NoError(t, wsjson.Read(ctx, ws, &m))
	require.Equal(t, device.Welcome, m.Type)
	for _, bad := range []device.Message{{Type: device.Result, Seq: 1},
		{Type: device.Result, Seq: 1, Reading: &device.Reading{At: time.Now(), Value: -4, Unit: "N_m"}},
		{Type: device.Result, Seq: 1, Reading: &device.Reading{At: time.Now(), Value: 4, Unit: "pull"}},
		{Type: "song"}} {
		require.NoError(t, wsjson.Write(ctx, ws, bad))
		require.NoError(t, wsjson.Read(ctx, ws, &m))
		require.Equal(t, device.Refused, m.Type)
	}
	require.NoError(t, ws.Write(ctx, websocket.MessageText, []byte("{half")))
	require.NoError(t, wsjson.Read(ctx, ws, &m))
	require.Equal(t, device.Refused, m.Type)
	list, _, err := h.app.DeviceResults(ctx, "E-03", 0)
	require.NoError(t, err)
	require.Empty(t, list)
}

func TestPageHoldsAndLetsGo(t *testing.T) {
	h := newHouse(t)
	tl := electronic(t, h)
	srv := httptest.NewServer(Handler([]*Tool{tl}, http.NotFoundHandler()))
	defer srv.Close()
	ws, _, err := websocket.Dial(ctx, "ws"+srv.URL[len("http"):]+"/standin/link", nil)
	require.NoError(t, err)
	ask := func(c command) { c.Tag = "E-03"; require.NoError(t, wsjson.Write(ctx, ws, c)) }
	ask(command{Do: "set", Value: 100})
	ask(command{Do: "hold"})
	require.Eventually(t, func() bool { return tl.State().Clicked }, 10*time.Second, 20*time.Millisecond)
	var states []State
	require.NoError(t, wsjson.Read(ctx, ws, &states))
	require.Equal(t, "E-03", states[0].Tag)
	_ = ws.CloseNow() // a page that goes lets go
	h.kept(t, tl, 1)
	require.False(t, tl.State().Pulling)
}
