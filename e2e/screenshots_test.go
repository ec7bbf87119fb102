package e2e

import (
	"net/http/httptest"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/practice"
	"dynacor/core/procedure"
	"dynacor/core/tool"
	"dynacor/internal/app"
	"dynacor/internal/demo"
	"dynacor/internal/standin"
	"dynacor/web"
)

// TestScreenshots opens every main view with the demo data and refreshes docs/screenshots; the views have tests of
// their own.
func TestScreenshots(t *testing.T) {
	if os.Getenv("DYNACOR_SCREENSHOTS") == "" {
		t.Skip("only in make screenshots")
	}
	t.Parallel()
	s := newSite(t, true)
	take := func(p *page, name string) {
		t.Helper()
		time.Sleep(700 * time.Millisecond) // fonts and the drawing's motion
		require.NoError(t, os.WriteFile(filepath.Join("..", "docs", "screenshots", name+".png"), p.picture(name), 0o644))
	}
	p := open(t, s.URL, 1280, 800)
	p.find("heading", "Who is at work")
	p.signIn("M. Tolley", "4071")
	p.find("heading", "Carry on at bolt")
	take(p, "today")
	views := []struct{ name, path, what, text string }{
		{"joints", "/joints", "any", "67 joints"},
		{"read", "/joints/SW-116", "button", "Read it, then Ready"},
		{"ready", "/joints/SW-115", "heading", "Wrong lubricant"},
		{"tighten", "/joints/SW-114", "button", "clicked"},
		{"prove", "/joints/SW-117", "any", "Not finished"},
		{"hand-over", "/joints/SW-111", "heading", "Sealed as"},
		{"crib", "/crib?tool=W-52", "button", "Put it aside"},
		{"bench", `/bench/torque_from_preload?in={"thread":"M27","lubricant":"L-07","preload_kN":"148"}`, "any",
			"What matters most"},
		{"library", "/library?value=L-07", "any", "Where it is used"},
		{"records", "/records?facet=%5B%22person%3AR.+Abara%22%5D", "any", "R. Abara"},
		{"life", "/joints/TB-206/life", "any", "stood out both times"},
		{"numbers", "/numbers", "any", "None is outside"},
		{"test", "/joints/tests/LT-07", "any", "Holding so far"},
	}
	for _, v := range views {
		require.NoError(t, p.Navigate(s.URL+v.path))
		p.find(v.what, v.text)
		if v.name == "tighten" && p.has("button", "^Set to") {
			p.press("button", "^Set to")
			p.find("button", "clicked")
		}
		take(p, v.name)
	}
	require.NoError(t, p.Navigate(s.URL+"/crib?view=find"))
	p.fill("Torque at the nut", "1150 N·m")
	p.fill("^Thread", "M30")
	p.press("button", "^Find$")
	p.find("any", "the best first")
	p.shot("crib-find")
	require.NoError(t, p.Navigate(s.URL+"/joints/TB-212"))
	p.find("any", "Needle 1 mark past 250")
	p.shot("tighten-hydraulic")
	require.NoError(t, p.Navigate(s.URL+"/books/WP-47"))
	p.find("heading", "gaps, and who has them")
	take(p, "book")
	require.NoError(t, p.Navigate(s.URL+"/shift?package=SD-26"))
	p.find("any", "SW-115 is stopped")
	p.find("heading", ", no earlier$")
	take(p, "shift")
	require.NoError(t, p.Navigate(s.URL+"/lab?tag=SW-114"))
	p.find("any", "Left is more even")
	take(p, "lab")
	tl := standin.New(standin.Config{Tag: "E-03", Kind: tool.ElectronicAngle, Token: demo.Tokens["E-03"], Seed: 5,
		Joint: practice.Flange(24, 3, 0.15, 360)})
	handler, err := web.Handler()
	require.NoError(t, err)
	page := httptest.NewServer(standin.Handler([]*standin.Tool{tl}, handler))
	defer page.Close()
	tl.Set(252)
	for range 85 {
		tl.Pull(20 * time.Millisecond)
	}
	q := open(t, page.URL, 1280, 800)
	q.find("button", "Hold to pull")
	q.find("any", "What goes wrong")
	q.shot("standin")
	families(t, s, take)
	keeper := open(t, s.URL+"/site?view=plant", 1280, 800)
	keeper.signIn("B. Ode", "6193")
	keeper.find("any", "The plant, sea to land")
	keeper.shot("site")
	empty := newSite(t, false)
	code, err := empty.app.FirstCode(t.Context())
	require.NoError(t, err)
	_, err = empty.app.Begin(t.Context(), app.FirstDay{Code: code, Person: "H. Doyle", PIN: "7304",
		Site: "Skarn Paper Mill", Prefix: "SKM", TimeZone: "Europe/Oslo"})
	require.NoError(t, err)
	fresh := open(t, empty.URL, 1280, 800)
	fresh.signIn("H. Doyle", "7304")
	fresh.find("heading", "Nothing waits here yet")
	take(fresh, "first-day")
	hand := open(t, s.URL+"/joints/SW-114", 390, 844)
	hand.signIn("M. Tolley", "4071")
	hand.find("any", "Bolt ")
	if hand.has("button", "^Set to") {
		hand.press("button", "^Set to")
	}
	hand.find("button", "clicked")
	take(hand, "tighten-phone")
}

// families takes the views that only other families than the flange have.
func families(t *testing.T, s *site, take func(*page, string)) {
	t.Helper()
	faces := open(t, s.URL+"/joints/BV-14", 1280, 800)
	faces.signIn("I. Quaye", "5826")
	faces.find("any", "Bolt |Set the wrench")
	if faces.has("button", "^Set to") {
		faces.press("button", "^Set to")
	}
	faces.find("button", "B3 clicked")
	faces.shot("tighten-faces")

	tube := s.hand(t, "M. Tolley", "tablet")
	tube.begin("TF-61")
	tube.clear(procedure.Ready, "ferrules")
	p := open(t, s.URL+"/joints/TF-61", 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.find("heading", "Ferrules")
	p.shot("ready-tube")

	apart := s.hand(t, "M. Tolley", "tablet")
	_, err := s.app.TakeApart(t.Context(), apart.who, "HB-16", "to be looked at inside")
	require.NoError(t, err)
	apart.goOn("HB-16")
	apart.clear(procedure.Ready, "")
	for range 5 {
		apart.step((*coretest.Script).Pull)
	}
	require.NoError(t, p.Navigate(s.URL+"/joints/HB-16"))
	p.find("any", "Went on at")
	p.shot("let-go")

	door := s.hand(t, "M. Tolley", "tablet")
	door.begin("PC-02")
	door.clear(procedure.Ready, "")
	door.pullTo("30 %", "bled")
	require.NoError(t, p.Navigate(s.URL+"/joints/PC-02"))
	p.find("heading", "Bled")
	p.shot("gate")

	q := open(t, s.URL+"/joints/new", 1280, 800)
	q.signIn("J. Hartwell", "2758")
	q.find("button", "^Bladder accumulator")
	q.shot("new-joint")
	require.NoError(t, q.Navigate(s.URL+"/library?shelf=procedures&value=shrink_disc"))
	q.press("button", "Make the site’s own")
	q.press("button", "^Everything degreased")
	q.find(`[role="tab"]`, "^Tighten$")
	q.shot("procedure")
}
