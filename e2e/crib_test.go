package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// A wrench that fails on the torque meter is put aside, and what it tightened is looked at again, one by one.
func TestWrenchIsFoundOutInTheCrib(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL+"/crib?tool=W-52", 1280, 800)
	p.signIn("R. Abara", "9340")
	p.press("button", "Take it out")
	p.fill("Where does it go", "cooler, unit 2")
	p.press("button", "It goes there with me")
	p.find("any", "cooler, unit 2, since")
	p.press("button", "Bring it back")
	p.press("input[type=checkbox]", "Put away as it should be")
	p.press("input[type=checkbox]", "Clean, in its box")
	p.press("button", "Back in the crib")
	p.find("any", "Last back .* in order")

	p.press("button", "Check on the torque meter")
	p.fill("^Torque meter$", "M-1")
	p.fill("^Set, ", "400")
	p.fill("Readings at setting 1", "380 384")
	p.press("button", "Keep the check")
	p.find("any", "has 2 readings, 3 are needed")
	p.fill("Readings at setting 1", "380 384 379")
	p.press("button", "Keep the check")
	p.find("any", "failed on the torque meter: Worst 5.5 %")
	p.find("any", "Joints in doubt")
	p.press("link", "SW-113")
	p.find("any", "In doubt: W-52 pulled this joint")
	p.visit("/crib?tool=W-52")
	p.press("button", "Looked at")
	p.press("button", "Restart torque of all bolts within the window")
	p.find("any", "1 looked at")
	require.Empty(t, p.axe())
}

// The house rules are changed by an engineer with a reason, and the plans made before say so.
func TestHouseRulesAreChangedInTheLibrary(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL+"/library?shelf=rules", 1280, 800)
	p.signIn("J. Hartwell", "2758")
	p.press("button", "Change the rules")
	p.press("label", "quarters or eighths$")
	p.fill("Lowest usable share of full scale", "60")
	p.shot("rules-drawn")
	p.fill("Lowest bolt stress", "80")
	p.fill("What changed", "outage meeting")
	p.press("button", "Keep this version")
	p.find("any", "60 % is outside 0 to 50 %")
	p.fill("Lowest usable share of full scale", "25")
	p.press("button", "Keep this version")
	p.find("any", "is not below the upper share")
	p.fill("Lowest bolt stress", "45")
	p.press("button", "Keep this version")
	p.find("any", "^Version 2")
	p.find("any", "As delivered: 40 %")
	require.Contains(t, p.text(".versions"), "outage meeting")
	p.find(".rules td", "^25 %$")
	p.find(".rules td", "quarters or eighths$")
	p.shot("rules")
	require.Empty(t, p.axe())
	p.visit("/joints/SW-114")
	p.find("any", "made with version 1 of the house rules; version 2 is in force")
}
