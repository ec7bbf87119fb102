package e2e

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// No view has anything serious for axe-core by day, nor every third by night: nothing but the colours differs there,
// and every view takes them from the same few names.
func TestNothingSeriousForAxe(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.find("heading", "Who is at work")
	require.Empty(t, p.axe(), "sign-in")
	p.signIn("J. Hartwell", "2758")
	views := []struct{ path, what, text string }{
		{"/", "any", "Stopped, and why"}, {"/joints", "any", "67 joints"}, {"/joints?view=grid", "any", "67 joints"},
		{"/joints/new", "heading", "New joint"}, {"/joints/import", "heading", "Import a register"},
		{"/joints/SW-116", "button", "Read it, then Ready"}, {"/joints/SW-115", "heading", "Wrong lubricant"},
		{"/joints/SW-114", "any", "Bolt |Set the wrench"},
		{"/joints/SW-117", "any", "Not finished"}, {"/joints/SW-113?stop=prove", "any", "Go round again"},
		{"/joints/SW-111", "heading", "Sealed as"},
		{"/crib", "button", "Put it aside"}, {"/bench", "heading", "Bench"},
		{"/bench/torque_from_preload", "any", "What matters most"},
		{"/bench/hydraulic_pressure", "any", "What matters most"}, {"/library", "heading", "Lubricants"},
		{"/library?value=L-07", "any", "Where it is used"}, {"/library?shelf=gaskets&value=", "button",
			"Keep this version"}, {"/library?shelf=threads", "heading", "Threads"},
		{"/library?shelf=rules", "heading", "House rules"}, {"/library?shelf=tables&value=SDX", "any", "Shrink discs"},
		{"/library?shelf=procedures", "button", "^Taper bush"},
		{"/library?shelf=procedures&value=ball_valve_multi", "heading", "Multi-port ball valve"},
		{"/joints/BV-14", "any", "Bolt |Set the wrench"}, {"/joints/PC-02", "any", "Door carried"},
		{"/joints/SP-03", "button", "Read it, then Ready"},
		{"/records", "heading", "Records"}, {"/records/TS-" + time.Now().Format("2006") + "-00001", "any",
			"The record holds"}, {"/verify", "heading", "Verify a record"}, {"/keys", "heading", "Keys and anchors"},
		{"/audit", "any", "Written by the database itself"},
		{"/numbers", "any", "None is outside"}, {"/books/WP-47", "heading", "gaps, and who has them"}, {"/joints/TB-206/life", "any", "stood out both times"},
		{"/labels?of=people", "link", "^Print"}, {"/shift", "any", "Done by |do not fit|No work"}, {"/scan", "heading", "Scan a code"},
		{"/shift/constraints", "heading", "What holds"}, {"/due", "heading", "Falls due"}, {"/handover", "heading", "Hand-over of the shift"}, {"/walk?at=TB-206&check=true", "button", "Sign TB-206"},
		{"/lab", "any", "Left is more even"}, {"/progress", "any", "joints accepted"}, {"/needs", "any", "short by the stock list"}, {"/shift/import", "any", "Say which work package"},
		{"/joints/tests", "link", "LT-07"}, {"/joints/tests/new", "heading", "Lay out a test"},
		{"/joints/tests/LT-07", "any", "Holding so far"}, {"/joints/tests/LT-08", "any", "Stored 0.165 MJ"},
	}
	for i, v := range views {
		p.MustEval(`() => void Object.assign(document.documentElement.dataset, { look: "day", mantineColorScheme: "light" })`)
		p.visit(v.path)
		p.find(v.what, v.text)
		time.Sleep(150 * time.Millisecond)
		for _, bad := range p.axe() {
			t.Errorf("%s by day: %s", v.path, bad)
		}
		if i%3 != 0 {
			continue
		}
		p.MustEval(`() => void Object.assign(document.documentElement.dataset, { look: "night", mantineColorScheme: "dark" })`)
		time.Sleep(150 * time.Millisecond)
		for _, bad := range p.axe("color-contrast") {
			t.Errorf("%s by night: %s", v.path, bad)
		}
	}
}
