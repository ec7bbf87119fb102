package e2e

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/store"
)

// A gasket changed while the bolts are being tightened: what is asked for again is told before it is said, and is then
// asked for. Afterwards the joint is given up by somebody who may, and its record and certificate say so.
func TestGasketChangedInMidWorkAndJointTurnedDown(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1024, 768)
	p.signIn("M. Tolley", "4071")
	p.visit("/joints/SW-114")
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
	p.visit("/records")
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
	p.visit("/joints/SW-116")
	p.press("button", "More about this joint")
	p.press("menuitem", "Name, place, package")
	p.fill("^Name$", "Strainer outlet, west")
	p.fill("^Area$", "1 Intake screens")
	p.press("button", "^Keep it$")
	p.find("any", "Strainer outlet, west")
	d, err := s.app.Joint(t.Context(), "SW-116")
	require.NoError(t, err)
	require.Equal(t, "1 Intake screens", d.Joint.Area)
	p.press("button", "More about this joint")
	p.press("menuitem", "What was changed")
	p.find(".change", "Strainer outlet, west")
	p.key(input.Escape)
	p.gone(".change", ".")

	p.press("button", "More about this joint")
	p.press("menuitem", "Retire it")
	p.press("button", "^Retire it$")
	p.find("any", "Say why in a few words")
	p.fill("^Why$", "line cut out")
	p.press("button", "^Retire it$")
	p.find("any", "Retired: line cut out")
	p.shot("joint-retired")
	p.gone("button", "Read it, then Ready")
	p.visit("/joints?q=SW-116")
	p.find("any", "^0 joints$|No joint")
	p.visit("/joints?glyph=retired")
	p.find("any", "^1 joint$")
	p.shot("joints-retired")
	p.press("link", "SW-116")
	p.press("button", "More about this joint")
	p.press("menuitem", "Put it back into service")
	p.fill("^Why$", "the line stays")
	p.press("button", "^Put it back$")
	p.find("button", "Read it, then Ready")
}

// What an import did is looked at and taken back.
func TestImportIsTakenBack(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	by := app.Actor{Person: run.Person{Name: "J. Hartwell", Role: authority.Engineer}}
	_, err := s.app.Import(t.Context(), by, []byte("tag,name,area,bolts,thread,material,lubricant,target_Nm,document,"+
		"revision\nB-1,Mill,North,8,M20,8.8,light_oil,200,D-1,A\n"), true)
	require.NoError(t, err)
	p := open(t, s.URL, 1024, 768)
	p.signIn("J. Hartwell", "2758")
	p.visit("/joints/import")
	p.press("button", "^Undo it$")
	p.find("any", "Would be: 1 retired, 0 put back, 0 left")
	p.find("any", "came with the import")
	p.shot("import-undo")
	p.press("button", "Undo it for 1 joint")
	p.find("any", "Done: 1 retired")
	p.key(input.Escape)
	p.find("any", "undone by J. Hartwell")
	d, err := s.app.Joint(t.Context(), "B-1")
	require.NoError(t, err)
	require.Contains(t, d.Retired, "undone")
}

// An administrator names a tablet, shuts a lost one out, and sees which nights had a backup.
func TestDevicesAndBackupsAreSeen(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	lost := open(t, s.URL, 390, 844)
	lost.signIn("M. Tolley", "4071")
	p := open(t, s.URL, 1280, 800)
	p.signIn("B. Ode", "6193")
	require.NoError(t, p.Navigate(s.URL+"/site?view=running"))
	p.find("any", "No backup was ever written")
	require.NoError(t, store.NoteBackup(t.Context(), s.url, "night.backup", 3_400_000, "0f"))
	require.NoError(t, p.Navigate(s.URL+"/site?view=running"))
	p.find("any", "night.backup, 3.4 MB")
	row := `//tr[td[contains(., "M. Tolley")]]`
	p.MustElementX(row + `//button[contains(., "Name it")]`).MustClick()
	p.fill("Name of device", "Phone 2, gate crew")
	p.press("button", "Keep the name")
	p.find("any", "Phone 2, gate crew")
	p.MustElementX(row + `//button[contains(., "Shut it out")]`).MustClick()
	p.find("any", "shut out")
	p.shot("site-running")
	require.NoError(t, lost.Navigate(s.URL+"/joints"))
	lost.find("heading", "Who is at work")
	lost.press("radio", "M. Tolley")
	lost.fill("PIN of", "4071")
	lost.press("button", "^Sign in$")
	lost.find("any", "This device was shut out")
}
