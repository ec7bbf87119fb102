package e2e

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/run"
)

// A wrench that is put aside on one screen while it is in use on another stops the work there at once, asks for another
// set-up, and leaves every bolt that it touched to be judged.
func TestWrenchPutAsideWhileInUse(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	d, err := s.app.Tool(context.Background(), "W-52")
	require.NoError(t, err)
	spare := d.Tool.Tool
	spare.Tag, spare.Serial = "W-53", "8841-53"
	_, err = s.app.PutTool(context.Background(), s.hand(t, "J. Hartwell", "").who, spare, "")
	require.NoError(t, err)
	p := open(t, s.URL, 1024, 768)
	p.signIn("M. Tolley", "4071")
	p.visit("/joints/SW-114")
	p.find("any", "Bolt |Set the wrench")
	other := open(t, s.URL, 1280, 800)
	other.signIn("I. Quaye", "5826")
	other.visit("/crib?tool=W-52")
	other.press("button", "Put it aside")
	other.press("button", "^Dropped$")

	p.find("any", "W-52 was put aside: Dropped")
	p.find("any", "It touched 16 fasteners")
	p.shot("doubt")
	p.press("button", "Take another set-up")
	p.find("heading", "Change tools")
	p.shot("doubt-tools")
	require.False(t, p.has("button", "Take W-52"), "what was put aside is not offered")
	p.fill("Or type its tag", "W-53")
	p.press("button", "^Take W-53")
	p.press("button", "^Set to")
	p.find("any", "on the scale of")
	h := s.hand(t, "M. Tolley", "")
	h.begin("SW-114")
	st := h.state()
	require.Empty(t, st.Blocked, "work goes on with the other wrench")
	require.Equal(t, run.Stopped, st.Verdict.Code, "and is not accepted while bolts are in doubt")
}

// A wrench that is found out when all is tightened leaves every bolt in doubt: an inspector tries it and lets them stay
// by one PIN; each has a signature of its own.
func TestBoltsInDoubtAreAcceptedTogether(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	h := s.hand(t, "M. Tolley", "")
	h.begin("SW-114")
	h.pullTo("never", "")
	_, err := s.app.Quarantine(context.Background(), s.hand(t, "R. Abara", "").who, "W-52", "Found out at another site")
	require.NoError(t, err)
	p := open(t, s.URL, 1024, 768)
	p.signIn("M. Tolley", "4071")
	before := len(h.state().Signatures)
	p.visit("/joints/SW-114")
	p.find("any", "is in doubt: Found out at another site")
	p.press("button", "Accept all 16 of this kind")
	p.find("any", "And 15 more like it; each is signed by itself")
	p.shot("doubt-all")
	p.fill("Why it may stay", "W-52 tried on the bench after the drop: within its class")
	p.press("radio", "R. Abara")
	p.fill("PIN of", pins["R. Abara"])
	p.press("button", "^Sign$")
	p.eventually("no bolt is in doubt", func() bool {
		for _, d := range h.state().Deviations {
			if d.Status == run.DeviationOpen {
				return false
			}
		}
		return true
	})
	require.Len(t, h.state().Signatures, before+16)
}
