package e2e

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// at carries a joint to a check, with everything before it right, and opens it.
func (h *hand) at(p *page, tag, code string) {
	h.t.Helper()
	h.begin(tag)
	h.clear(procedure.Ready, code)
	require.NoError(h.t, p.Navigate(h.s.URL+"/joints/"+tag))
	p.find("heading", h.check(code).Title)
}

// pick chooses from a list that drops down.
func (p *page) pick(label, option string) {
	p.t.Helper()
	p.press("field", label)
	require.NoError(p.t, p.find(`[role="option"]`, "^"+option+"$").ScrollIntoView()) // a long list lies in a box of its own
	p.press(`[role="option"]`, "^"+option+"$")
}

// The hole of a meter stands at an hour of the clock face; an hour outside the sector stops, touched on the drawing or
// chosen from the list.
func TestHoleStandsOnTheClockFace(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("M. Tolley", "4071")
	h := s.hand(t, "M. Tolley", "tablet")
	h.at(p, "SM-12", "hour")
	require.False(t, p.has("button", "^Keep 3"), "nothing is filled in beforehand")
	p.pick("^Hour", "12")
	p.press("button", "^Keep 12")
	p.find("any", "What to do")
	p.eventually("it stops", func() bool { return h.status("hour") == run.CheckStopped })
	require.Empty(t, p.axe())
	p.pick("^Hour", "3")
	p.press("button", "^Keep 3")
	p.eventually("it is kept", func() bool { return h.status("hour") == run.CheckCleared })
}

// Marks read off the parts are compared by the core: another ratio, or another set, does not go on.
func TestMarksOfASetAreCompared(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("M. Tolley", "4071")
	h := s.hand(t, "M. Tolley", "tablet")
	h.at(p, "GX-05", "sets")
	enter := func(a, b string) {
		for i, el := range p.MustElements(".pair input") {
			require.NoError(t, el.SelectAllText())
			require.NoError(t, el.Input([]string{a, b}[i%2]))
		}
		p.press("button", "Compare and keep")
	}
	enter("K4", "K5")
	p.find("any", "What to do")
	p.eventually("it stops", func() bool { return h.status("sets") == run.CheckStopped })
	p.find("any", "K5")
	enter("K4", " k4 ")
	p.eventually("it is kept", func() bool { return h.status("sets") == run.CheckCleared })
}

// What the instructions leave open is chosen by somebody who answers for it by name.
func TestOpenChoiceNeedsAName(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("M. Tolley", "4071")
	h := s.hand(t, "M. Tolley", "tablet")
	h.at(p, "SP-03", "anchor_choice")
	p.pick("What was chosen", h.check("anchor_choice").Ways[0])
	require.True(t, p.MustEval(`() => [...document.querySelectorAll('button')].find(b => b.innerText === 'Keep it').disabled`).Bool(), "not without a name")
	p.fill("Who answers for it", "J. Hartwell")
	p.fill("Type, approval", "ETA 21/0417")
	p.press("button", "^Keep it$")
	p.eventually("it is kept", func() bool { return h.status("anchor_choice") == run.CheckCleared })
	for _, c := range h.state().Checks {
		if c.Code == "anchor_choice" {
			require.Contains(t, c.Text, "ETA 21/0417")
			require.Contains(t, c.Text, "J. Hartwell answers for it")
		}
	}
}

// A hose clamp goes a full turn on each side in turn until both have reached the torque, on a phone with gloves.
func TestHoseClampGoesTurnByTurnOnAPhone(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	h := s.hand(t, "M. Tolley", "tablet")
	h.begin("HC-31")
	h.clear(procedure.Ready, "")
	h.pullTo("a turn each", "")
	p := open(t, s.URL+"/joints/HC-31", 390, 844)
	p.tap("radio", "M. Tolley")
	p.fill("PIN of", "4071")
	p.tap("button", "^Sign in$")
	p.find("button", "Change hands")
	p.visit("/joints/HC-31")
	p.tap("button", "^Set to 38")
	p.find("any", "one full turn")
	small := p.MustEval(`() => [...document.querySelectorAll('.acts .btn')].filter(b => b.getBoundingClientRect().height < 64).map(b => b.innerText).join()`).Str()
	require.Empty(t, small, "touch targets under 64 px")
	require.LessOrEqual(t, p.MustEval(`() => document.documentElement.scrollWidth`).Int(), 390,
		"nothing hangs over the side")
	for i, press := range []string{"1 turned, no click", "2 turned, no click", "1 clicked", "2 clicked"} {
		if i == 2 { // another round: the scale is looked at again
			p.tap("button", "^Set to 38")
		}
		p.tap("button", press)
		p.eventually(press, func() bool { return h.pulls() == i+3 })
	}
	p.find("any", "both once more|pass 4|Set the wrench")
	require.NotEqual(t, plan.TurnsPass, h.state().Passes[h.state().Pass-1].Kind)
}

// pulls counts what was recorded on fasteners.
func (h *hand) pulls() int {
	h.t.Helper()
	v, err := h.s.app.Run(context.Background(), h.id)
	require.NoError(h.t, err)
	n := 0
	for _, e := range v.Entries {
		if e.Event.Kind == run.Pulled {
			n++
		}
	}
	return n
}

// A table is entered once with its document; a joint of the same series then only names its line.
func TestTableIsEnteredOnceAndLookedUp(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	ctx := context.Background()
	p := open(t, s.URL+"/library?shelf=tables&value=", 1280, 800)
	p.signIn("J. Hartwell", "2758")
	p.fill("^Code", "TBX")
	p.fill("^Name", "Taper bushes, series TBX")
	p.fill("^Document", "Keld TBX card")
	p.fill("^Revision", "2")
	p.pick("Unit of the torques", "N·m")
	p.fill("Looked up by", "size")
	p.fill("^Lines", "TBX-40; M8; 20\nTBX-50; M10; soon")
	p.fill("On what evidence|Why|reason", "card of the maker")
	p.press("button", "Keep this version")
	p.find("any", "Line 2 .TBX-50. has no torque")
	p.fill("^Lines", "TBX-40; M8; 20\nTBX-50; M10; 31")
	p.press("button", "Keep this version")
	p.find("any", "TBX")
	p.eventually("the table is there", func() bool {
		l, err := s.app.Library(ctx)
		require.NoError(t, err)
		for _, x := range l.Tables {
			if x.Code == "TBX" {
				return len(x.Rows) == 2
			}
		}
		return false
	})
	require.Empty(t, p.axe())
}

// An engineer draws a layout: kind, rows, and a fastener that stands elsewhere; the drawing follows at once.
func TestLayoutIsDrawnByAnEngineer(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL+"/joints/new", 1280, 800)
	p.signIn("J. Hartwell", "2758")
	p.press("button", "^Structural bolted")
	p.fill("^Tag", "SB-9")
	p.fill("^Area", "3 Gearbox hall")
	p.fill("^Document", "TS-ST-100")
	p.fill("^Revision", "B")
	p.fill("Gap between plies", "1")
	p.find("field", "Draw the layout").MustEval(`() => this.click()`)
	p.fill("^In each", "4")
	p.find("svg", "^8 fasteners as laid out")
	p.press(".layout-editor g[data-position='5']", "^5$")
	p.fill("^Moved down", "0.2")
	p.find("any", "Number 5")
	require.Empty(t, p.axe())
}
