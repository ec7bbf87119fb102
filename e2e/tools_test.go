package e2e

import (
	"context"
	"net/http"
	"os"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/practice"
	"dynacor/core/procedure"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/internal/app"
	"dynacor/internal/demo"
	"dynacor/internal/standin"
)

var pins = map[string]string{
	"H. Doyle":    "7304",
	"K. Moss":     "8391",
	"M. Tolley":   "4071",
	"I. Quaye":    "5826",
	"R. Abara":    "9340",
	"J. Hartwell": "2758",
}

// hand is a person at another device than the page's.
type hand struct {
	t    *testing.T
	s    *site
	who  app.Actor
	id   string
	plan *plan.Plan
}

func (s *site) hand(t *testing.T, name, device string) *hand {
	t.Helper()
	people, err := s.app.People(context.Background())
	require.NoError(t, err)
	for _, p := range people {
		if p.Name == name {
			return &hand{t: t, s: s, who: app.Actor{Person: p, Device: device}}
		}
	}
	t.Fatal("nobody is called " + name)
	return nil
}

func (h *hand) send(e run.Event) {
	h.t.Helper()
	e.ID, e.At, e.Person = uuid.Must(uuid.NewV7()).String(), time.Now(), h.who.Person
	res, err := h.s.app.AppendEvents(context.Background(), h.who, h.id, []run.Event{e})
	require.NoError(h.t, err)
	require.Empty(h.t, res.Acks[0].Refused)
}

func (h *hand) state() *run.State {
	h.t.Helper()
	v, err := h.s.app.Run(context.Background(), h.id)
	require.NoError(h.t, err)
	return v.State
}

// ready begins a joint, clears everything before the first pull and runs up by hand what begins so.
func (h *hand) ready(tag string, c plan.Choices) {
	h.t.Helper()
	ctx := context.Background()
	v, err := h.s.app.StartRun(ctx, h.who, tag, c, "")
	require.NoError(h.t, err)
	h.id, h.plan = v.ID, v.Plan
	h.clear(procedure.Ready, "")
	require.Equal(h.t, procedure.Tighten, h.state().Station)
	for st := h.state(); st.Passes[st.Pass-1].Kind == plan.HandPass; st = h.state() {
		h.step((*coretest.Script).Pull)
	}
}

// Looks for a set-up in the crib, takes the one through a multiplier to a joint and pulls with it; the multiplier is
// traced.
func TestSetUpIsFoundAndTightenedThroughAMultiplier(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	h := s.hand(t, "M. Tolley", "tablet")
	p := open(t, s.URL+"/crib?view=find", 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.press("button", "^Find$")
	p.find("any", "torque")
	p.fill("Torque at the nut", "1150 kg")
	p.press("button", "^Find$")
	p.find("any", "Say which is meant")
	p.fill("Torque at the nut", "1150")
	p.fill("^Thread", "M30")
	p.press("button", "^Find$")
	p.find("any", "hexagon 46 mm")
	require.Contains(t, p.text(".offer.best"), "X-02")
	require.Contains(t, p.text(".offer.best"), "multiplier 13.6 : 1")
	require.Contains(t, p.text(".offer.best"), "bears with")
	require.Contains(t, p.text(".finder"), "It goes to 500")
	require.Contains(t, p.text(".never"), "A pipe on the handle")
	require.Empty(t, p.axe())

	h.ready("TB-211", plan.Choices{})
	require.Equal(t, tool.ByMultiplier, h.plan.First().InHand().Method())
	p.visit("/joints/TB-211")
	p.find("any", "through X-02")
	p.press("button", "^Set to 25, locked")
	p.find("button", "kN: drive side, solid support")
	p.press("button", "^Arm bears, hands clear")
	p.press("button", "^1 clicked")
	p.find("any", "bolt 1 clicked at 25")
	require.True(t, p.has("button", "^Arm bears, hands clear"), "asked again for the next bolt")
	p.find("any", "all kept")
	d, err := s.app.Tool(context.Background(), "X-02")
	require.NoError(t, err)
	require.Equal(t, "TB-211", d.Used[0].Tag, "what lies between is traced too")
	e := h.state().Passes[1]
	require.Equal(t, 1, e.Done)
	require.InDelta(t, 25*13.6, float64(e.TorqueNm), 1e-6, "the first stage goes down to its mark")
}

// The routine of a hydraulic wrench: read twice, drift refused, hands clear before each pull, stall kept.
func TestHydraulicRoutineInTheBrowser(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL+"/joints/TB-212", 1280, 800)
	p.signIn("I. Quaye", "5826")
	p.find("any", "on the gauge of pump P-2")
	p.eventually("the rules are loaded", func() bool { return p.MustEval(`() => !!globalThis.dynacorCore`).Bool() })
	if !p.has("any", "Set the pressure") {
		p.press("button", "^pause$")
	}
	p.find("any", "Tool off the nut. Hold advance")
	require.True(t, p.has("any", "Wind the regulator up to the pressure"))
	p.fill("Second reading", "300")
	p.press("button", "260 set, read twice")
	p.find("any", "The second reading is 300 bar, set were 260")
	p.press("button", "^Back")
	p.fill("Second reading", "260")
	p.press("button", "260 set, read twice")
	p.find("any", "Needle 1 mark past 250")
	p.press("button", "^Arm bears, hands clear")
	p.press("button", "^11 stalled")
	p.find("any", "bolt 11 stalled at 260 bar")
	p.press("button", "^Arm bears, hands clear")
	p.press("button", "Not right")
	p.press("button", "Went past")
	p.press("button", "Keep 7 as over")
	p.find("any", "7 over")
	p.nut("7")
	p.press("button", "^Loosen it")
	p.find("any", "Reckon with")
	p.find("any", "square to the side for loosening")
	require.Empty(t, p.axe())
}

// An electronic wrench keeps its pulls by itself; what it measured while the link was lost comes in order when it is
// back, once.
func TestElectronicWrenchWithALostLink(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	h := s.hand(t, "I. Quaye", "tablet")
	h.ready("TB-204", plan.Pick(plan.GroupChoices{Wrench: "E-03+S4-36"}))
	p := open(t, s.URL+"/joints/TB-204", 1280, 800)
	p.signIn("I. Quaye", "5826")
	p.find("any", "Key in 108")
	p.eventually("the rules are loaded", func() bool { return p.MustEval(`() => !!globalThis.dynacorCore`).Bool() })

	tl := standin.New(standin.Config{Tag: "E-03", Kind: tool.ElectronicAngle, Token: demo.Tokens["E-03"], Seed: 5,
		Joint: practice.Flange(24, 3, 0.15, 360)})
	until, cancel := context.WithCancel(context.Background())
	done := make(chan struct{})
	go func() { defer close(done); _ = tl.Run(until, s.URL) }()
	defer func() { cancel(); <-done }()
	require.Eventually(t, func() bool { return tl.State().Linked }, 5*time.Second, 20*time.Millisecond)
	pull := func() {
		tl.NextBolt(practice.Sound)
		for range 2000 {
			if tl.Pull(10 * time.Millisecond) {
				break
			}
		}
		tl.Release(time.Now())
		tl.SetFaults(tl.State().Faults) // wakes the link
	}
	p.press("button", "^Set to 108")
	require.Eventually(t, func() bool { return tl.State().Set == 108 }, 20*time.Second, 20*time.Millisecond,
		"the tool is told what is wanted")
	pull()
	p.find("any", "bolt 1 read 1[01]")
	p.eventually("the first pull is kept", func() bool { return h.state().Passes[1].Done == 1 })
	require.NotEmpty(t, p.text("[data-testid=live-tool]"))

	tl.SetFaults(standin.Faults{LostLink: true})
	p.find("any", "link lost")
	pull()
	pull()
	require.Equal(t, 2, tl.State().Waiting)
	require.Equal(t, 1, h.state().Passes[1].Done)
	tl.SetFaults(standin.Faults{})
	p.eventually("both pulls came in", func() bool { return h.state().Passes[1].Done == 3 })
	v, err := s.app.Run(context.Background(), h.id)
	require.NoError(t, err)
	var seqs []int
	for _, e := range v.Entries {
		if e.Event.Kind == run.Pulled && e.Event.Pass == 2 {
			seqs = append(seqs, e.Event.DeviceSeq)
			require.Greater(t, len(e.Event.Trace), 12, "the curve is kept with the pull")
		}
	}
	require.Equal(t, []int{1, 2, 3}, seqs)
	p.find("any", "3 along|straight across|quarter round|beside|along from")

	// A wrench switched to ft·lbf pulls far too much, and is told so before it is kept.
	tl.SetFaults(standin.Faults{WrongUnit: true})
	p.eventually("the tool is linked, and told what is wanted",
		func() bool { st := tl.State(); return st.Linked && st.Set == 108 })
	pull()
	p.find("any", "It would be right on the ft·lbf scale|is the most")
	p.press("button", "It happened, keep it")
	p.find("any", "over")
	require.Empty(t, p.axe())
}

// Two people pull opposite bolts at once on two devices: each sees the other's live, neither gets ahead.
func TestTwoWrenchesOnTwoDevices(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	a := s.hand(t, "M. Tolley", "tablet A")
	a.ready("SW-118", plan.Choices{Together: 2})
	b := s.hand(t, "I. Quaye", "tablet B")
	b.id = a.id
	b.send(run.Event{Kind: run.WrenchTaken, Wrench: &tool.Tool{Tag: "W-41", Kind: tool.Click, Unit: "N_m",
		RatedMin: 160, RatedMax: 800, MainStep: 20, Graduation: 2, AccuracyPct: 4, Drive: "3/4 in",
		CalibratedOn: "2026-01-01", CalibrationEnds: "2027-01-01"}, Hand: 1})
	p := open(t, s.URL+"/joints/SW-118", 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.find("any", "^A: Set the wrench")
	p.eventually("the rules are loaded", func() bool { return p.MustEval(`() => !!globalThis.dynacorCore`).Bool() })
	p.press("button", "^Set to")
	p.find("any", "^A: Bolt 1")
	p.press("button", "^1 clicked")
	p.find("any", "Wait for B at bolt 7")
	p.find("any", "all kept")

	hs := b.state().Hands[1]
	b.send(run.Event{Kind: run.SettingConfirmed, Setting: hs.Setting, Hand: 1})
	began := time.Now()
	b.send(run.Event{Kind: run.Pulled, Pass: 2, Fastener: hs.Next.Fastener, Outcome: run.Clicked, Setting: hs.Setting,
		Hand: 1})
	p.gone("any", "Wait for B")
	require.Less(t, time.Since(began), 3*time.Second, "seen as it is kept, not at the next asking")
	p.find("any", "B I. Quaye: bolt")
	require.Empty(t, p.axe())
	p.press("button", "clicked")
	p.eventually("both counted", func() bool { return b.state().Passes[1].Done == 3 })
	for _, d := range b.state().Deviations {
		require.NotEqual(t, "ahead", d.Code)
	}
}

// The labels and lists of the crib are what they say.
func TestCribLabelsAndLists(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	c := newClient(t, s.URL)
	h := s.hand(t, "J. Hartwell", "desk")
	c.must("POST", "/session", map[string]string{"personId": h.who.ID, "pin": pins["J. Hartwell"]}, nil)
	for path, begins := range map[string]string{"/labels.pdf?of=tools": "%PDF", "/labels.pdf?of=tools&ids=W-31,X-04&stock=roll-62": "%PDF",
		"/export/tools.csv": "tag,maker", "/export/tools.xlsx": "PK"} {
		req, err := http.NewRequest(http.MethodGet, s.URL+"/api"+path, nil)
		require.NoError(t, err)
		res, err := c.http.Do(req)
		require.NoError(t, err)
		head := make([]byte, len(begins))
		_, err = res.Body.Read(head)
		_ = res.Body.Close()
		require.NoError(t, err)
		require.Equal(t, begins, string(head), path)
	}
	p := open(t, s.URL+"/crib/import", 1280, 800)
	p.signIn("J. Hartwell", "2758")
	file := t.TempDir() + "/tools.csv"
	require.NoError(t, os.WriteFile(file,
		[]byte("tag,kind,driveIn,acrossFlatsMm,impact\nS4-60,socket,3/4 in,60,yes\nS4-65,socket,3/4 in,sixty,yes\n"),
		0o600))
	require.NoError(t, p.find("field", "Choose the file").SetFiles([]string{file}))
	p.find("any", "1 line is wrong. Nothing was imported")
	require.NoError(t, os.WriteFile(file, []byte("tag,kind,driveIn,acrossFlatsMm,impact\nS4-60,socket,3/4 in,60,yes\n"),
		0o600))
	require.NoError(t, p.find("field", "choose another").SetFiles([]string{file}))
	p.press("button", "Import 1 tools")
	p.find("any", "Imported: 1 new")
	p.visit("/crib?view=tools&q=S4-60")
	p.find("any", "socket 60 mm, 3/4 in")
	require.Empty(t, p.axe())
}
