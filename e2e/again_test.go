package e2e

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/run"
)

// A gasket changed while the bolts are being tightened: what is asked for again is told before it is said, and is then
// asked for. Afterwards the joint is given up by somebody who may, and its record and certificate say so.
func TestGasketChangedInMidWorkAndJointTurnedDown(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1024, 768)
	p.signIn("M. Tolley", "4071")
	require.NoError(t, p.Navigate(s.URL+"/joints/SW-114"))
	p.find("any", "Bolt |Set the wrench")
	p.press("button", "More about this joint")
	p.press("menuitem", "A part was taken out or changed")
	p.fill("Which part", "Gasket")
	p.press("option", "^Gasket$")
	p.find("any", "used once")
	p.find("any", "Asked for again")
	p.find("any", "Keep hands out of the gap")
	p.press("field", "Pressure proved zero at the joint")
	p.press("field", "Pipe supported on both sides")
	for _, want := range []string{"Gasket type and state", "Flange faces", "30 %, again: 16 of 16"} {
		require.Contains(t, p.text(".again"), want)
	}
	p.shot("part-changed")
	p.press("button", "It had moved")
	p.find("any", "Parts against the list")
	p.shot("part-changed-ready")
	h := s.hand(t, "M. Tolley", "")
	h.begin("SW-114")
	p.eventually("it is kept", func() bool { return h.state().Passes[0].Void == "Gasket changed" })

	p.press("button", "More about this joint")
	p.press("menuitem", "Turn the joint down")
	require.False(t, p.has("radio", "M. Tolley"), "only whose word it takes is offered")
	p.fill("Why it is given up", "the seat is scored across")
	p.press("radio", "R. Abara")
	p.fill("PIN of", "9340")
	p.press("button", "^Sign$")
	p.find("any", "Turned down")
	p.shot("turned-down")
	p.press("button", "Seal the record")
	p.find("heading", "Turned down, sealed as")
	number := strings.TrimSpace(strings.TrimPrefix(p.text("h2"), "Turned down, sealed as "))
	text := p.certificate(number)
	for _, want := range []string{"Turned down", "R. Abara", "the seat is scored across", "set aside: Gasket", "set aside (Gasket changed)",
		"Gasket changed, in pass"} {
		require.Contains(t, text, want)
	}
	require.NotContains(t, text, "Proved, signed")
	require.NoError(t, p.Navigate(s.URL+"/records"))
	p.find("any", number)
	p.find("any", "turned down")
	p.shot("records-turned-down")
	d, err := s.app.Joint(t.Context(), "SW-114")
	require.NoError(t, err)
	require.Equal(t, string(run.GlyphTurnedDown), d.Joint.Glyph)
}

// A joint is named and placed anew by who may, before any work on it and after.
func TestJointIsNamedAndPlacedAnew(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("J. Hartwell", "2758")
	require.NoError(t, p.Navigate(s.URL+"/joints/SW-116"))
	p.press("button", "More about this joint")
	p.press("menuitem", "Name, place, package")
	p.fill("^Name$", "Strainer outlet, west")
	p.fill("^Area$", "1 Intake screens")
	p.press("button", "^Keep it$")
	p.find("any", "Strainer outlet, west")
	d, err := s.app.Joint(t.Context(), "SW-116")
	require.NoError(t, err)
	require.Equal(t, "1 Intake screens", d.Joint.Area)
}
