package e2e

import (
	"context"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/rehearsal"
	"dynacor/core/run"
	"dynacor/internal/app"
)

// begin starts a joint, or goes on with the work that has begun at it.
func (h *hand) begin(tag string) {
	h.t.Helper()
	d, err := h.s.app.Joint(context.Background(), tag)
	require.NoError(h.t, err)
	if d.RunID == "" {
		v, err := h.s.app.StartRun(context.Background(), h.who, tag, plan.Choices{}, "")
		require.NoError(h.t, err)
		h.id, h.plan = v.ID, v.Plan
		return
	}
	v, err := h.s.app.Run(context.Background(), d.RunID)
	require.NoError(h.t, err)
	h.id, h.plan = v.ID, v.Plan
}

// step lets the script do something after all that was recorded, and sends what it laid out a few seconds apart.
func (h *hand) step(do func(*coretest.Script)) {
	h.t.Helper()
	v, err := h.s.app.Run(context.Background(), h.id)
	require.NoError(h.t, err)
	sc := coretest.NewScript(v.Plan)
	sc.Person = h.who.Person
	for _, e := range v.Entries {
		sc.Events = append(sc.Events, e.Event)
		sc.At = e.Event.At
	}
	n := len(sc.Events)
	do(sc)
	list := sc.Events[n:]
	for i := range list {
		list[i].ID = uuid.Must(uuid.NewV7()).String()
		list[i].At = time.Now().Add(time.Duration(i-len(list)) * time.Millisecond)
	}
	if len(list) == 0 {
		return
	}
	photos := rehearsal.Photos(list, func() string { return uuid.Must(uuid.NewV7()).String() })
	res, err := h.s.app.AppendEvents(context.Background(), h.who, h.id, list)
	require.NoError(h.t, err)
	for _, a := range res.Acks {
		require.Empty(h.t, a.Refused)
	}
	for _, id := range photos {
		require.NoError(h.t, h.s.app.PutPhoto(context.Background(), h.who, h.id, id, rehearsal.Picture()))
	}
}

// clear answers checks as they should be, until one of the code is reached; holds are signed by another person.
func (h *hand) clear(stop procedure.Station, until string) {
	h.t.Helper()
	for _, c := range h.plan.Checks {
		if c.Station != stop || h.status(c.Code) == run.CheckCleared {
			continue
		}
		if c.Code == until {
			return
		}
		h.step(func(sc *coretest.Script) { sc.Add(sc.Right(c)) })
		if c.Signed() {
			second := "I. Quaye"
			if h.who.Name == second {
				second = "R. Abara"
			}
			other := h.s.hand(h.t, second, "another device")
			head, err := h.s.app.Head(context.Background(), h.id)
			require.NoError(h.t, err)
			_, err = h.s.app.Sign(context.Background(), h.who, h.id,
				app.SignatureInput{ID: uuid.Must(uuid.NewV7()).String(), Head: head, PersonID: other.who.ID,
					PIN: pins[second], Purpose: run.SignHold, Check: c.Code})
			require.NoError(h.t, err)
		}
	}
}

func (h *hand) status(code string) run.CheckStatus {
	for _, c := range h.state().Checks {
		if c.Code == code {
			return c.Status
		}
	}
	return ""
}

// pullTo goes on with everything right until the pass of that name is reached, or a gate of that code.
func (h *hand) pullTo(name, gate string) {
	h.t.Helper()
	for range 300 {
		st := h.state()
		if st.Pass == 0 || len(st.Gates) > 0 && st.Gates[0] == gate || st.Passes[st.Pass-1].Name == name {
			return
		}
		h.step((*coretest.Script).Pull)
	}
	h.t.Fatal("the pass " + name + " does not come")
}

// A shaft lock goes round and round until no screw moves; a cross order, which would tilt the ring, is refused
// everywhere.
func TestShaftLockGoesRoundAndRefusesTheCross(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	_, err := s.app.PreviewPlan(context.Background(), "SD-22", plan.Pick(plan.GroupChoices{Pattern: "cross"}))
	refused, ok := app.AsProblem(err)
	require.True(t, ok)
	require.Equal(t, app.Invalid, refused.Kind)

	p := open(t, s.URL+"/joints/SD-22", 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.find("button", "Read it, then Ready")
	p.find(".read-do .choices", "not cross.*cocks the ring")
	p.press("field", "^Order")
	p.find(`[role="option"]`, "^Clockwise")
	require.False(t, p.has(`[role="option"]`, "cross"), "an order that ruins the lock is not to be had")

	h := s.hand(t, "M. Tolley", "tablet")
	h.begin("SD-22")
	h.clear(procedure.Ready, "")
	h.pullTo("first round, 100 %", "")
	p.visit("/joints/SD-22")
	p.find("any", "58")
	require.Empty(t, p.axe())
	h.pullTo("until none moves", "halves_first")

	// After the first round the halves are measured before anything else.
	p.MustReload()
	p.find("heading", "Halves parallel after the first round")
	p.press("button", "4 stations")
	p.measure("4.10", "4.80", "4.12", "4.11")
	p.press("button", "Keep the readings")
	p.find("any", "first round, 100 %, again") // measuring again is not enough
	p.eventually("it is kept", func() bool { return h.status("halves_first") == run.CheckStopped })
	for len(h.state().Gates) == 0 {
		h.step(func(sc *coretest.Script) { sc.Pull() })
	}
	p.MustReload()
	p.find("heading", "Halves parallel after the first round")
	p.press("button", "4 stations")
	p.measure("4.10", "4.15", "4.12", "4.11")
	p.press("button", "Keep the readings")
	p.find("any", "none moves")
	p.eventually("it is kept", func() bool { return h.status("halves_first") == run.CheckCleared })

	// Rounds until none moves: one screw turns, so another round follows.
	p.press("button", "^Set to 58")
	p.press("button", "Still turned")
	p.eventually("it is kept", func() bool { st := h.state(); return st.Passes[len(st.Passes)-1].Moved == 1 })
	for range 11 {
		h.step((*coretest.Script).Pull)
	}
	st := h.state()
	require.Equal(t, plan.CheckPass, st.Passes[st.Pass-1].Kind)
	require.Equal(t, 2, countChecks(st), "a second round was asked for")
	for range 12 {
		h.step((*coretest.Script).Pull)
	}
	require.Zero(t, h.state().Pass, "no screw moved in the second round")
	p.MustReload()
	p.find("heading", "Gap between the halves")
}

func countChecks(st *run.State) int {
	n := 0
	for _, p := range st.Passes {
		if p.Kind == plan.CheckPass {
			n++
		}
	}
	return n
}

// A tube fitting knows no torque: its nut goes a stated turn past finger-tight, seen by its mark. From Ready to the
// seal by the page alone.
func TestTubeFittingIsMadeUpByTurns(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL+"/joints/TF-61", 1024, 768)
	p.signIn("M. Tolley", "4071")
	p.find("any", "Ends at a turn, not at a torque")
	p.press("button", "Read it, then Ready")
	p.find("heading", "Start card")
	p.press("button", "^Yes, it is so")
	p.find("heading", "Isolation")
	p.press("button", "^Yes, it is so")
	p.press("button", "^Sign the hold")
	p.press("radio", "R. Abara")
	p.fill("PIN of", "9340")
	p.press("button", "^Sign$")
	p.find("heading", "Parts against")
	p.press("button", "The rest is present")
	p.press("button", "Keep the list")
	p.find("heading", "Tube end")
	p.press("button", "^Accept$")
	p.find("heading", "Tube round")
	p.measure("12.0", "12.4", "12.0", "12.0")
	p.press("button", "Keep the readings")
	p.find("any", "What to do")
	p.measure("12.0", "12.02", "12.0", "12.0")
	p.press("button", "Keep the readings")
	p.find("heading", "Tube diameter")
	p.measure("12.01", "12.02")
	p.press("button", "Keep the readings")
	for _, h := range []string{"Ferrules", "Depth line"} {
		p.find("heading", h)
		require.Positive(t, p.MustEval(`() => document.querySelectorAll('.do svg, .check svg, main svg').length`).Int(),
			"which way it faces is drawn")
		p.press("button", "I looked: it is so")
	}
	p.find("any", "finger-tight")
	require.Empty(t, p.axe())
	p.press("button", "done by hand")
	p.find("heading", "Mark at six")
	p.press("button", "I looked: it is so")
	p.find("any", "360°")
	require.Contains(t, p.text(".do"), "turn")
	require.NotContains(t, p.text(".do"), "N·m", "no torque is told where none counts")
	p.press("button", "turned")
	prove := func() {
		t.Helper()
		p.find("heading", "Depth line after")
		p.press("button", "I looked: it is so")
		p.find("heading", "Ferrules hold")
		p.press("button", "^Yes, it is so")
		p.find("heading", "Leak test")
	}
	prove()
	p.press("button", "^Passed$")
	p.find("any", "Enter the number of the procedure")
	p.fill("Test procedure", "TS-LT-04")
	p.press("button", "^Passed$")
	p.find("any", "Enter what the gauge showed")
	p.fill("Reading, bar", "6")
	p.press("button", "^Passed$")
	p.find("any", "Enter how many minutes it was held")
	p.fill("Duration, minutes", "10")
	p.press("button", "^Not passed$")

	// It leaks: the fitting is undone and made up again, finger-tight, mark and turn, before it is tested once more.
	p.find("any", "finger-tight, again")
	p.shot("leak-failed")
	p.press("button", "done by hand")
	p.find("heading", "Mark at six")
	p.press("button", "I looked: it is so")
	p.find("any", "360°")
	p.press("button", "turned")
	prove()
	p.fill("Test procedure", "TS-LT-04")
	p.fill("Reading, bar", "6")
	p.fill("Duration, minutes", "10")
	p.press("button", "^Passed$")
	for _, h := range []string{"Tag on the joint", "Mark stays"} {
		p.find("heading", h)
		p.press("button", "^Yes, it is so")
	}
	p.press("button", "Sign as the one who tightened")
	p.press("radio", "M. Tolley")
	p.fill("PIN of", "4071")
	p.press("button", "^Sign$")
	p.press("button", "A different inspector signs")
	p.press("radio", "R. Abara")
	p.fill("PIN of", "9340")
	p.press("button", "^Sign$")
	p.press("button", "^Seal the record")
	p.find("heading", "Sealed as TS-")
}

// A valve of three faces: the face in hand is drawn, the fixture goes in and comes out, and the gland is adjusted until
// the effort to turn lies in its window.
func TestValveOfSeveralFacesEndsInTheEffortWindow(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	h := s.hand(t, "I. Quaye", "tablet")
	h.begin("BV-14")
	p := open(t, s.URL+"/joints/BV-14", 1280, 800)
	p.signIn("I. Quaye", "5826")
	p.find("any", "Face B bolts")
	require.Contains(t, p.text(".groups .on"), "Face B")
	require.Empty(t, p.axe())
	h.pullTo("effort window", "plug_out_c")
	require.Equal(t, []string{"plug_out_c"}, h.state().Gates)
	p.MustReload()
	p.find("heading", "Alignment plug out")
	p.press("button", "alignment plug of face C is in")
	p.find("any", "What to do")
	p.press("button", "alignment plug of face C is out")
	p.find("any", "Until:")
	h.pullTo("effort window", "")
	p.MustReload()
	p.find("any", "to start the stem moving")
	p.fill("Effort to turn", "44")
	p.press("button", "measured$")
	p.find("any", "not in its window")
	p.find("any", "all kept")
	require.NotZero(t, h.state().Pass, "outside its window it is adjusted and measured again")
	p.fill("Effort to turn", "26")
	p.press("button", "measured$")
	p.find("heading", "Path test")
	p.find("any", "all kept")
	require.Zero(t, h.state().Pass)
}

// The door of a pressure closure: seals in their order, pistons by their stamps, and no screw before the door is closed
// by pressure.
func TestPressureClosureIsClosedByPressureFirst(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	_, err := s.app.CopyJoint(context.Background(), s.hand(t, "J. Hartwell", "desk").who, "PC-02", "PC-03")
	require.NoError(t, err)
	h := s.hand(t, "M. Tolley", "tablet")
	h.begin("PC-03")
	h.clear(procedure.Ready, "seal_order")
	p := open(t, s.URL+"/joints/PC-03", 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.find("heading", "Seals in their order")
	require.True(t, p.MustEval(`() => [...document.querySelectorAll('.seq button')].slice(1).every(b => b.disabled)`).Bool(), "only the next part can be put in")
	for range h.check("seal_order").Items {
		p.press(".seq .next button", "")
	}
	p.press("button", "All in, in this order")
	p.find("heading", "Piston and cylinder seals")
	for range h.check("piston_seals").Items {
		p.press(".seq .next button", "")
	}
	p.press("button", "All in, in this order")
	p.find("heading", "Housing nuts")
	p.press("button", "^Yes, it is so")
	p.find("heading", "Pistons by their stamps")
	marks := p.MustElements(".pair input")
	for i, el := range marks {
		require.NoError(t, el.Input([]string{"P1", "P2", "P2", "P2"}[i%4]))
	}
	p.press("button", "Compare and keep")
	p.find("any", "What to do")
	require.NotEqual(t, run.CheckCleared, h.status("pistons"))
	h.clear(procedure.Ready, "")
	h.pullTo("30 %", "bled")
	require.Equal(t, []string{"bled", "function", "closed"}, h.state().Gates, "bled and tried before a bolt goes in")
	p.MustReload()
	p.find("heading", "Bled")
	for _, c := range []string{"bled", "function"} {
		h.step(func(sc *coretest.Script) { sc.Add(sc.Right(h.check(c))) })
	}
	p.MustReload()
	p.find("heading", "Door closed by pressure")
	require.Contains(t, p.text(".gate"), "this comes first")
	require.False(t, p.has("button", "clicked"), "no screw before")
	p.measure("1")
	p.press("button", "Keep the readings")
	p.find("any", "What to do")
	require.Empty(t, p.axe())
	h.step(func(sc *coretest.Script) { sc.Add(sc.Right(h.check("closed"))) })
	p.MustReload()
	p.find("any", "Door closed by operating pressure, heads touch")
	p.find("button", "done by hand")
	h.pullTo("30 %", "")
	p.MustReload()
	p.find("heading", "Closing pressure at this stage")
	h.step(func(sc *coretest.Script) { sc.Add(sc.Right(h.check("pressure_kept"))) })
	p.MustReload()
	p.find("any", "Set the wrench")
	p.find("any", "through X-02|divided")
}

func (h *hand) check(code string) procedure.Check {
	for _, c := range h.plan.Checks {
		if c.Code == code {
			return c
		}
	}
	h.t.Fatal("no check " + code)
	return procedure.Check{}
}
