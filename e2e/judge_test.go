package e2e

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"
)

// tighten opens the joint of the pictures with its setting confirmed.
func tightening(t *testing.T, s *site) *page {
	t.Helper()
	p := open(t, s.URL+"/joints/SW-114", 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.find("any", "Bolt |Set the wrench")
	if p.has("button", "^Set to") {
		p.press("button", "^Set to")
	}
	p.find("button", "2 clicked")
	p.eventually("the rules are loaded", func() bool { return p.MustEval(`() => !!globalThis.dynacorCore`).Bool() })
	return p
}

// nut presses a bolt in the drawing.
func (p *page) nut(position string) {
	p.t.Helper()
	p.press(`g[data-position="`+position+`"]`, "^"+position+"$")
}

func TestOtherBoltIsAskedAboutAndNoted(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := tightening(t, s)
	p.nut("6")
	p.find("heading", "2 is next. You are on 6")
	p.press("button", "Back to 2")
	p.find("button", "2 clicked")
	p.nut("6")
	p.press("button", "Yes, carry on from 6")
	p.press("button", "6 clicked")
	p.find("any", "bolt 6 clicked at 420")
	p.nut("9")
	p.find("heading", "Bolt 9 was done in this pass")
	p.press("button", "^Back")
	p.find("button", "14 clicked")
}

func TestNotRightHoldAndTakeBack(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := tightening(t, s)
	p.press("button", "Not right")
	p.press("button", "Stopped short")
	p.press("button", "Keep 2 as short")
	p.find("any", "2 short")

	p.press("button", "Not right")
	p.press("button", "Went past")
	p.press("button", "Keep 10 as over")
	p.find("any", "10 over")
	p.press("button", "take back 10")
	p.press("button", "It was another bolt")
	p.gone("any", "10 over")

	p.press("button", "hold the joint")
	p.press("button", "Paint or dirt on the face")
	p.find("heading", "^Stopped$")
	p.find("any", "Stopped by M. Tolley")
	p.press("button", "Lift the stop")
	p.find("button", "10 clicked")

	p.press("button", "change tools")
	p.press("field", "Tools in your hand")
	p.press("[role=option]", "^W-60$")
	p.press("button", "^Take W-60")
	p.find("any", "W-60 is another wrench")
	p.press("button", "^Set to 420")
	p.find("button", "10 clicked")
}

// A second device opens the joint and goes on; the first one sees it.
func TestGoesOnOnAnotherDevice(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := tightening(t, s)
	p.press("button", "2 clicked")
	p.find("button", "10 clicked")
	p.find("any", "all kept")
	q := open(t, s.URL+"/joints/SW-114", 1024, 768)
	q.signIn("I. Quaye", "5826")
	q.find("any", "Bolt 10")
	q.eventually("the rules are loaded", func() bool { return q.MustEval(`() => !!globalThis.dynacorCore`).Bool() })
	q.press("button", "pause")
	q.find("any", "Work was stopped")
	q.press("button", "^Set to 420")
	q.press("button", "10 clicked")
	q.find("any", "bolt 10 clicked")
	q.find("any", "all kept")
	p.find("any", "bolt 10 clicked at 420")
}

func TestChoicesRePlanAtOnce(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL+"/joints/SW-118", 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.find("any", "122") // 30 % of 410 are 123: down to the mark
	choose := func(field, option string) {
		p.press("field", field)
		p.press("[role=option]", option)
	}
	choose("^Stages", "50, 80, 100 %")
	p.find("any", "328")
	choose("^Numbers", "in order of tightening")
	p.eventually("chalk numbers", func() bool { return strings.Contains(p.text(".under"), "order: 1 2 3 4 5 6") })
	choose("^Lubricant", "L-12 copper paste")
	p.find("any", "An engineer must approve")
	p.press("button", "Read it, then Ready")
	p.find("any", "Change hands to an engineer")
	p.key(input.Escape)
	p.press("button", "Back to house rules")
	p.gone("any", "An engineer must approve")
}

func TestImportPageAndChangeOfHands(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("M. Tolley", "4071")
	require.False(t, p.has("link", "^Import$"))
	p.press("button", "M. Tolley.*Change hands")
	p.press("radio", "J. Hartwell")
	p.fill("PIN of", "2758")
	p.press("button", "^Go on$")
	p.find("button", "J. Hartwell.*Change hands")
	p.visit("/joints/import")
	file := filepath.Join(t.TempDir(), "register.csv")
	send := func(text string) {
		require.NoError(t, os.WriteFile(file, []byte(text), 0o600))
		require.NoError(t, p.find("field", "Choose the file|choose another").SetFiles([]string{file}))
	}
	head := "tag,area,bolts,thread,material,lubricant,target_Nm,document,revision\n"
	send(head + "N-01,6 North,8,M20,8.8,light_oil,300,D-1,A\nN-02,6 North,8,M21,8.8,light_oil,20 kg,D-1,A\n")
	p.find("heading", "1 line is wrong. Nothing was imported")
	p.find("any", "is a weight, not a torque")
	send(head + "N-01,6 North,8,M20,8.8,light_oil,300,D-1,A\n")
	p.find("heading", "Would be: 1 new")
	p.press("button", "Import 1 joints")
	p.find("heading", "Imported: 1 new")
	p.press("link", "See the joints")
	p.find("any", "68 joints")
	p.visit("/joints/new")
	p.press("button", "^Gasketed pipe flange")
	p.fill("^Tag", "N-02")
	p.fill("^Area", "6 North")
	p.fill("^Document", "D-1")
	p.fill("^Thread", "M20x9")
	p.fill("^Material", "8.8")
	p.press("button", "Keep the joint")
	p.find("any", "pitch outside")
	require.Equal(t, "N-02", p.find("field", "^Tag").MustProperty("value").Str(), "nothing is lost")
}

// A press that was meant for one question does not answer the next: neither the second of a double click nor a key held
// too long. After an answer the focus stands on the next question.
func TestOneAnswerForOneQuestion(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL+"/joints/SW-112", 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.press("button", "Read it, then Ready")
	answers := func() int {
		return p.MustEval(`async () => { const j = await (await fetch('/api/joints/SW-112')).json(); const r = await (await fetch('/api/runs/' + j.runId)).json(); return r.entries.filter(e => e.event.kind === 'check_answered').length }`).Int()
	}
	focused := func() string { return p.MustEval(`() => document.activeElement.innerText`).Str() }
	p.find("heading", "Start card")
	p.settled()
	yes := p.find("button", "^Yes, it is so")
	at, err := yes.Shape()
	require.NoError(t, err)
	where := at.OnePointInside()
	require.NoError(t, p.Mouse.MoveTo(*where))
	for range 3 {
		require.NoError(t, p.Mouse.Click(proto.InputMouseButtonLeft, 1))
	}
	p.find("heading", "Isolation")
	p.settled()
	p.find("any", "all kept")
	require.Equal(t, 1, answers(), "three clicks at once are one answer")
	p.eventually("the focus stands on the next question", func() bool { return focused() == "Isolation" })

	p.tabTo("button", "^No$")
	p.settled()
	require.NoError(t, p.Keyboard.Type(input.Enter, input.Enter, input.Enter))
	p.eventually("the question has changed",
		func() bool { return focused() != "No" && p.has("any", "Raise a deviation|What to do|^No$") })
	p.settled()
	p.find("any", "all kept")
	require.Equal(t, 2, answers())
	require.Equal(t, "H2", p.MustEval(`() => document.activeElement.tagName`).Str(),
		"the keys after the first went to a heading")
}

// What is picked for one group of a joint is its own: the other groups stay as they were, and it goes with the work.
func TestEachGroupHasItsOwnChoices(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL+"/joints/SP-03", 1280, 800)
	p.signIn("J. Hartwell", "2758")
	choose := func(option string) {
		p.press("field", "^Order")
		p.press("[role=option]", option)
	}
	p.press("button", "^Gusset and brace bolts")
	choose("^Clockwise")
	p.find(".passes tr", "braces and gussets.*gusset and brace bolts, clockwise")
	p.press("button", "^Tread and rail bolts")
	choose("^Middle outward")
	p.find(".passes tr", "treads and rails.*tread and rail bolts, middle outward")
	p.find(".passes tr", "braces and gussets.*gusset and brace bolts, clockwise")
	p.shot("groups-choices")
	p.press("button", "Read it, then Ready")
	p.find("any", "Start card")
	d, err := s.app.Joint(t.Context(), "SP-03")
	require.NoError(t, err)
	v, err := s.app.Run(t.Context(), d.RunID)
	require.NoError(t, err)
	var orders []string
	for _, c := range v.Plan.Choices.Groups {
		orders = append(orders, c.Group+" "+c.Pattern)
	}
	require.Equal(t, []string{"small outward", "large clockwise", "anchors cross"}, orders)
}
