package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"
)

// An inspector walks round with a phone: a tag is typed or scanned, the joint is checked by touch and signed, what was
// found stands behind its record, and the nearest one comes by itself.
func TestWalkRoundWithAPhone(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 390, 844)
	p.signIn("R. Abara", pins["R. Abara"])
	p.press("link", "^Walk round$")
	p.find("heading", "Walk-round")
	p.fill("or type a tag", "sw-111")
	p.press("button", "^Show$")
	p.find("heading", "^Accepted$")
	p.find("any", "sealed, record holds")
	p.shot("walk")
	p.press("button", "^Check SW-111$")
	require.True(t, p.find("button", "^Sign SW-111$").MustProperty("disabled").Bool())
	// a drawn nut is turned by keys and by a finger; in line again it says nothing
	watch := p.find("[role=slider]", "^Mark of bolt 1$")
	require.NoError(t, watch.Focus())
	p.key(input.ArrowLeft, input.ArrowLeft)
	p.find("any", "10°, loose")
	p.find("field", "What did you see\\? Every mark")
	box := p.find("[role=slider]", "^Mark of bolt 3$").MustShape().Box()
	from := proto.Point{X: box.X + box.Width/2, Y: box.Y + 12}
	p.drag(from, box.Width/2-12, box.Height/2-12)
	require.NoError(t, p.Mouse.Up(proto.InputMouseButtonLeft, 1))
	p.find("any", "a quarter turn, 1.5 flats, the way it is tightened")
	p.shot("walk-nuts")
	require.Empty(t, p.axe())
	p.press("fieldset:first-of-type button", "^Yes$")
	p.gone("any", "a quarter turn, 1.5 flats")
	for range 2 {
		p.press("fieldset.present button", "^Yes$")
	}
	p.press("fieldset.present button", "^No$")
	p.fill("What did you see\\? Tag", "tag lost, hung a new one")
	p.fill("PIN of R. Abara", "0000")
	p.press("button", "^Sign SW-111$")
	p.find("any", "PIN")
	p.fill("PIN of R. Abara", pins["R. Abara"])
	p.shot("walk-check")
	p.press("button", "^Sign SW-111$")
	p.find("any", "1 seen today")
	p.gone("button", "^Sign SW-111$")
	p.visit("/walk?at=SW-111")
	p.find("any", "by R. Abara")
	p.find("any", "Found: Walk-round: marks in line: as drawn at bolt 1, bolt 3, bolt 5; dry; sound; tag or place not as it should be: tag lost")

	p.visit("/walk?at=SW-171")
	p.find("heading", "No joint SW-171 here")
	p.visit("/walk?at=SW-117")
	p.find("link", "^Open SW-117$")
	p.press("button", "^Pass by, to ")
	p.gone("link", "^Open SW-117$")
	require.Empty(t, p.axe())
}
