package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/require"
)

// The open joints of a package are planned over a day: on a board by mouse and keyboard, as a list on a phone.
func TestShiftIsPlannedAndShown(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("I. Quaye", pins["I. Quaye"])
	p.press("link", "^Shift$")
	p.pick("Work package", "WP-47 Cooler swap")
	p.find("any", "Done by ")
	p.find("any", "Not in this plan")
	p.shot("shift")
	p.press("button", "^SW-116 tighten, ")
	p.find("heading", ", no earlier$")
	p.find("any", "SW-116")
	require.Contains(t, p.MustInfo().URL, "SW-116")
	require.Empty(t, p.axe())
	p.MustEval(`() => document.querySelector('.board .bar').focus()`)
	p.key(input.Enter)
	p.eventually("the keyboard chooses too", func() bool {
		return p.MustEval(`() => document.activeElement.classList.contains('chosen')`).Bool()
	})
	p.press("button", "^List$")
	p.find("heading", "^M. Tolley$")
	require.Empty(t, p.axe())
	p.visit("/shift?package=WP-47&from=07%3A00&to=08%3A40&breakFrom=&breakTo=")
	p.find("any", "do not fit|None of the joints fits")
	p.find("any", "in the time there is, these cannot all hold")

	p.visit("/shift?package=WP-47")
	p.press("button", "^Use this plan$")
	p.find("any", "In force since .*, by I. Quaye")
	p.press("button", "^Board$")
	p.shot("shift-in-force")
	p.press("button", "^Plan again")
	p.find("any", "Nothing moves against the plan in force")
	p.press("button", "^Back to the one in force$")
	p.find("any", "In force since")
	require.NoError(t, p.Navigate(s.URL+"/"))
	p.find("any", "Yours by the plan")
	p.visit("/progress?package=WP-47")
	p.find("any", "joints accepted.*As planned")
	require.Empty(t, p.axe())
	p.shot("progress")
	require.NoError(t, p.Navigate(s.URL+"/"))
	p.find("any", "Yours by the plan")
	p.shot("today-by-plan")
	require.Empty(t, p.axe())

	small := open(t, s.URL, 390, 844)
	small.signIn("M. Tolley", "4071")
	small.visit("/shift?package=WP-47")
	small.find("heading", "^M. Tolley, you$")
	small.shot("shift-phone")
	tablet := open(t, s.URL, 1024, 768)
	tablet.signIn("M. Tolley", "4071")
	tablet.visit("/shift?package=WP-47&days=2")
	tablet.find("heading", ", no earlier$")
	tablet.shot("shift-tablet")
	eyes := open(t, s.URL, 390, 844)
	eyes.signIn("R. Abara", pins["R. Abara"])
	eyes.find("any", "Waits for your eyes, along the plant")
	eyes.press("link", "^SW-117$")
	eyes.find("any", "SW-117")
	lead := open(t, s.URL, 1280, 800)
	lead.signIn("I. Quaye", pins["I. Quaye"])
	lead.find("any", "Free hands by the plan, now")
	lead.shot("today-lead")
}

// A joint that nobody has begun tells when the shift plans it, and by whom. Where the shift counts on more tools at
// once than the joint's own plan has, one press plans it so.
func TestJointTellsWhatTheShiftCountsOn(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("I. Quaye", pins["I. Quaye"])
	put := p.MustEval(`async () => {
		const head = {'Content-Type': 'application/json'};
		const made = await fetch('/api/packages/WP-60', {method: 'PUT', headers: head,
			body: JSON.stringify({name: 'Gearbox alone', partOf: ''})});
		const j = (await (await fetch('/api/joints/GB-01')).json()).joint;
		const moved = await fetch('/api/joints/GB-01', {method: 'PUT', headers: head,
			body: JSON.stringify({name: j.name, area: j.area, equipment: j.equipment,
				service: j.service, nameplate: '', package: 'WP-60'})});
		return [made.status, moved.status, await moved.text()].join(' ');
	}`).Str()
	require.Contains(t, put, "200 200")
	p.visit("/joints/GB-01")
	p.find("button", "Read it, then Ready")
	p.gone("any", "^By the plan of the shift")
	p.visit("/shift?package=WP-60")
	p.find("any", "Done by ")
	p.press("button", "^GB-01 tighten, ")
	p.find("any", "with .+, at once with ")
	p.press("button", "^Use this plan$")
	p.find("any", "In force since")
	p.visit("/joints/GB-01")
	p.find("any", "^By the plan of the shift")
	p.find("any", "The shift counts on 2 tools that pull at once").MustScrollIntoView()
	require.Empty(t, p.axe())
	p.shot("read-by-shift")
	p.press("button", "^Plan it for 2 tools$")
	p.gone("any", "The shift counts on 2 tools")
	p.eventually("the plan is one for two tools",
		func() bool { return p.find("field", "^At once$").MustProperty("value").Str() == "2 tools" })
	small := open(t, s.URL, 390, 844)
	small.signIn("M. Tolley", "4071")
	small.visit("/joints/GB-01")
	small.find("any", "The shift counts on 2 tools that pull at once").MustScrollIntoView()
	small.shot("read-by-shift-phone")
	require.Empty(t, small.axe())
}
