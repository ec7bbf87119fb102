package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"

	"dynacor/core/plan"
	"dynacor/internal/app"
)

// bar is the middle of a bar of the board by its tag and kind, in the lane of a person.
func (p *page) bar(name, person string) proto.Point {
	p.t.Helper()
	var at proto.Point
	p.eventually("the bar of "+name, func() bool {
		got := p.MustEval(`(name, person) => {
			const b = [...document.querySelectorAll('[data-bar="' + name + '"]')].find(b => !person || b.ariaLabel.includes(person));
			if (!b) return null;
			b.scrollIntoView({block: 'center', inline: 'center'});
			const r = b.getBoundingClientRect();
			return [r.left + r.width / 2, r.top + r.height / 2];
		}`, name, person)
		if got.Nil() {
			return false
		}
		last := at
		at = proto.NewPoint(got.Get("0").Num(), got.Get("1").Num())
		return at == last // what comes in above it still moves the board
	})
	return at
}

// moment types a day and a time into a field for both, figure by figure.
func (p *page) moment(field, at string) {
	p.t.Helper()
	m, err := time.Parse("2006-01-02T15:04", at)
	require.NoError(p.t, err)
	require.NoError(p.t, p.find("field", field).Focus())
	for _, part := range []string{m.Format("01022006"), m.Format("0304PM")} {
		for _, c := range part {
			require.NoError(p.t, p.Keyboard.Type(input.Key(c)))
		}
		require.NoError(p.t, p.Keyboard.Type(input.ArrowRight))
	}
}

// drag carries a bar by the mouse so far to the right, and down.
func (p *page) drag(from proto.Point, right, down float64) {
	p.t.Helper()
	require.NoError(p.t, p.Mouse.MoveTo(from))
	require.NoError(p.t, p.Mouse.Down(proto.InputMouseButtonLeft, 1))
	for n := 1.0; n <= 8; n++ {
		require.NoError(p.t, p.Mouse.MoveTo(proto.NewPoint(from.X+right*n/8, from.Y+down*n/8)))
	}
}

// A bar is moved by hand: refused in words where a rule breaks, taken where none does, and all of it by keys, too.
func TestBarIsMovedByHand(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("I. Quaye", pins["I. Quaye"])
	p.visit("/shift?package=WP-47")
	p.press("button", "^Use this plan$")
	p.find("any", "In force since .*, by I. Quaye")

	// to the right by mouse: what comes after it on the same joint stands in its way
	board := func() float64 {
		return p.MustEval(`() => document.querySelector('.board').getBoundingClientRect().top`).Num()
	}
	before, same := 0.0, 0
	p.eventually("what is told above the board is complete", func() bool {
		time.Sleep(100 * time.Millisecond)
		if same++; board() != before {
			before, same = board(), 0
		}
		return same > 15
	})
	bar := p.bar("SW-116 prepare", "")
	p.drag(bar, 300, 0)
	p.find("any", "SW-116 in your hand")
	require.InDelta(t, before, board(), 1, "the board stays where it is under the pointer")
	p.find("any", "It comes before ")
	p.shot("shift-drag")
	require.NoError(t, p.Mouse.Up(proto.InputMouseButtonLeft, 1))
	p.find("heading", "With .* breaks")
	require.Empty(t, p.axe())
	p.press("button", "^Here all the same, with a reason$")
	p.fill("Why others give way to it", "the crane comes then")
	p.press("button", "^Pin it here$")
	p.find("any", "moves? against the plan in force")
	p.find("any", "Pinned by I. Quaye: the crane comes then")
	p.shot("shift-moved")
	p.press("button", "^Undo$")
	p.find("any", "Nothing moves against the plan in force")
	p.gone("button", "^Undo$")

	// by keys: to somebody who may not do it, refused hard; back where it was
	p.press("button", "^SW-116 prepare, ")
	p.find("heading", ", no earlier$")
	p.key('m')
	p.find("any", "SW-116 in your hand")
	p.eventually("it is with somebody who may not do it", func() bool {
		// each place is judged beside the page: without waiting for that, hers would be passed over
		for end := time.Now().Add(2 * time.Second); time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
			if p.has("any", "R. Abara may not do preparing SW-116") {
				return true
			}
		}
		p.key(input.ArrowDown)
		return false
	})
	require.False(t, p.has("button", "^Here all the same"))
	p.key(input.Escape)
	p.gone("any", "SW-116 in your hand")
	p.key('p')
	p.find("any", "Pinned by I. Quaye")
	p.press("button", "^Take the pin out$")
	p.gone("button", "^Take the pin out$")

	// by touch, on a tablet: rests on the bar, then carries it
	tablet := open(t, s.URL, 1024, 768)
	tablet.signIn("I. Quaye", pins["I. Quaye"])
	tablet.visit("/shift?package=WP-47&anew=true")
	tablet.find("heading", ", no earlier$")
	at := tablet.bar("SW-116 prepare", "")
	touch := func(kind proto.InputDispatchTouchEventType, x, y float64) {
		points := []*proto.InputTouchPoint{}
		if kind != proto.InputDispatchTouchEventTypeTouchEnd {
			points = []*proto.InputTouchPoint{{X: x, Y: y}}
		}
		require.NoError(t, proto.InputDispatchTouchEvent{Type: kind, TouchPoints: points}.Call(tablet))
	}
	touch(proto.InputDispatchTouchEventTypeTouchStart, at.X, at.Y)
	tablet.find("any", "SW-116 in your hand")
	for n := 1.0; n <= 6; n++ {
		touch(proto.InputDispatchTouchEventTypeTouchMove, at.X+30*n, at.Y)
	}
	tablet.find("any", "It comes before ")
	tablet.shot("shift-drag-tablet")
	touch(proto.InputDispatchTouchEventTypeTouchEnd, 0, 0)
	tablet.press("button", "^Back where it was")
}

// What happens at a joint is seen on another screen, and so is a plan that somebody else has made anew.
func TestSlipIsSeenOnTwoScreens(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	lead := open(t, s.URL, 1280, 800)
	lead.signIn("I. Quaye", pins["I. Quaye"])
	today := time.Now()
	lead.visit(fmt.Sprintf("/shift?package=WP-47&days=2&day=%s&from=00%%3A00&to=23%%3A50&breakFrom=&breakTo=",
		today.Format(time.DateOnly)))
	lead.press("button", "^Use this plan$")
	lead.find("any", "In force since")
	other := open(t, s.URL, 1280, 800)
	other.signIn("J. Hartwell", pins["J. Hartwell"])
	other.visit("/shift?package=WP-47")
	other.find("any", "In force since .*, by I. Quaye")

	other.press("link", "^Constraints$")
	other.press("button", "^Somebody is away$")
	other.pick("Who", "R. Abara")
	other.moment("Away from", today.Add(-time.Hour).Format("2006-01-02T15:04"))
	other.moment("until", today.Add(20*time.Hour).Format("2006-01-02T15:04"))
	other.fill("^Why$", "called away")
	other.press("button", "^Save$")
	other.find("any", "R. Abara is there after all")
	lead.find("any", "The constraints have changed since")
	lead.shot("shift-old")
	lead.press("button", "^Plan again")
	lead.find("any", "called away")
	lead.press("button", "^Use this plan$")
	lead.find("any", "In force since")

	// a joint is begun: its glyph on the other screen changes without anybody asking
	other.visit("/shift?package=WP-47")
	other.press("button", "^Board$")
	d, err := s.app.Joint(t.Context(), "SW-116")
	require.NoError(t, err)
	other.find("button", "^SW-116 prepare, .*")
	require.False(t, other.has("button", "^SW-116 prepare, .*in hand"))
	_, err = s.app.StartRun(t.Context(), actorOf(t, s, "M. Tolley"), "SW-116", plan.Pick(plan.GroupChoices{Wrench: d.Plan.ChoicesOf(d.Plan.First()).Wrench}), "")
	require.NoError(t, err)
	other.find("button", "^SW-116 prepare, .*in hand")
}

// What holds for the joints of a package is said by hand and taken in as a list, with its errors by line.
func TestConstraintsAreSaidAndTakenIn(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("I. Quaye", pins["I. Quaye"])
	p.visit("/shift/constraints?package=WP-47")
	p.press("button", "^New isolation$")
	p.fill("Short name", "I-2")
	p.fill("What is shut off", "loop 2")
	p.moment("Shut off from", "2026-12-01T09:00")
	p.moment("^to$", "2026-12-01T08:00")
	p.press("button", "^Save the isolation$")
	p.find("any", "is not from one time to a later one")
	p.moment("^to$", "2026-12-01T15:00")
	p.press("button", "^Save the isolation$")
	p.find("button", "^Change I-2$")
	p.press("button", "^SW-116$")
	p.pick("Isolation", "I-2 loop 2")
	p.moment("Due", "2026-12-01T11:00")
	p.pick("Skills that everybody", "work at height")
	p.fill("To get there", "north ladder, ask the gate")
	p.shot("constraints-form")
	p.press("button", "^Save SW-116$")
	p.find("any", "north ladder, ask the gate")
	p.shot("constraints")
	require.Empty(t, p.axe())
	p.visit("/shift?package=WP-47&day=2026-12-01")
	p.find("any", "isolated to 15:00")
	p.press("button", "^SW-116 prepare, 09:")
	p.find("any", "Under isolation I-2")
	p.find("any", "Everybody at it has: work at height")
	p.find("any", "north ladder")
	p.shot("shift-isolated")
	require.Empty(t, p.axe())

	file := filepath.Join(t.TempDir(), "list.csv")
	write := func(text string) {
		require.NoError(t, os.WriteFile(file, []byte(text), 0o600))
		require.NoError(t, p.find("field", "Choose the file|choose another").SetFiles([]string{file}))
	}
	p.visit("/shift/import")
	p.find("any", "Say which work package the list is of")
	p.fill("^Work package$", "WP-88")
	p.fill("Its name, if it is new", "Autumn outage")
	write("tag,due\nSW-116,noon\nSW-999,\n")
	p.find("heading", "1 line is wrong. Nothing was imported")
	write("tag,due,after\nSW-116,2026-12-02 12:00,SW-117\nSW-117,,\n")
	p.press("button", "^Import 2 joints$")
	p.find("heading", "Imported: 2 new")
	require.Empty(t, p.axe())
	p.press("link", "^See what holds$")
	p.find("heading", "What holds for WP-88 Autumn outage")
	p.find("any", "2026-12-02 12:00")

	small := open(t, s.URL, 390, 844)
	small.signIn("M. Tolley", "4071")
	small.visit("/shift/constraints?package=WP-47")
	small.find("any", "I-2")
	require.False(t, small.has("button", "^New isolation$"), "a technician only reads it")
	small.shot("constraints-phone")
}

// actorOf is somebody at the demo site.
func actorOf(t *testing.T, s *site, name string) app.Actor {
	t.Helper()
	people, err := s.app.People(t.Context())
	require.NoError(t, err)
	for _, x := range people {
		if x.Name == name {
			return app.Actor{Person: x}
		}
	}
	t.Fatalf("there is no %s", name)
	return app.Actor{}
}

// A shutdown holds work packages and crews with shifts of their own; one job has slipped, and planning again leaves
// the rest as it was announced.
func TestShutdownInTwoShifts(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("I. Quaye", pins["I. Quaye"])
	p.visit("/shift?package=SD-26")
	p.find("any", "In force since .*, by K. Ferreira")
	p.find("any", "SW-115 is stopped")
	p.eventually("the hours of the other shift lie apart", func() bool {
		return p.MustEval("() => document.querySelectorAll('.off-shift').length").Int() >= 7
	})
	require.Positive(t, p.MustEval("() => document.querySelectorAll('.waits .dim-line').length").Int())
	p.shot("shutdown")
	p.press("button", "^Plan again")
	p.find("any", "Nothing moves against the plan in force|parts? moves? against")
	p.shot("shutdown-again")

	p.visit("/shift/constraints?package=SD-26")
	p.find("any", "^late")
	p.press("button", "^Take out WP-49$")
	p.gone("button", "^Take out WP-49$")
	p.pick("Take a work package in", "WP-49 Gate hydraulics")
	p.find("button", "^Take out WP-49$")
	p.press("button", "^Change late$")
	p.fill("^Name of the crew$", "night")
	p.press("button", "^Save the crew$")
	p.find("button", "^Take out night$")
	p.press("button", "^Take out night$")
	p.gone("button", "^Take out night$")
	p.press("button", "^Undo the last change$")
	p.find("button", "^Take out night$")
	p.shot("crews")
	require.Empty(t, p.axe())
}
