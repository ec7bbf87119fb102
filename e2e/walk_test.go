package e2e

import (
	"context"
	"image"
	"image/png"
	"os"
	"path/filepath"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"

	"dynacor/core/authority"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/app"
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

// Where there is no signal the walk goes on from what was taken along: states say as of when they are, looks are kept on
// the device with their time, over a reload too, and are signed by one PIN when the signal is back. What somebody else
// added meanwhile is seen first.
func TestWalkRoundWithoutSignal(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	b := browser(t)
	p := openToWorkWithoutNetwork(t, b, s.URL+"/walk", 390, 844)
	p.signIn("R. Abara", pins["R. Abara"])
	p.find("any", "^Taken along at .* joints")
	p.shot("walk-along")
	p.MustEval(`async () => { await navigator.serviceWorker.ready; for (let i = 0; i < 100 && !globalThis.dynacorCore; i++) await new Promise(r => setTimeout(r, 100)) }`)
	online := goOffline(t, b, p)
	p.visit("/walk?at=SW-111")
	p.find("any", "^No signal: as of ")
	p.find("heading", "^Accepted$")
	p.find("any", "^as of ")
	p.shot("walk-as-of")
	require.Empty(t, p.axe())
	p.press("button", "^Check SW-111$")
	p.find("any", "signed with the others by one PIN")
	for range 3 {
		p.press("fieldset.present button", "^Yes$")
	}
	p.press("fieldset.present button", "^No$")
	p.press("button", "^Keep SW-111$")
	p.find("any", "^This says no, but not what was seen")
	p.fill("What did you see\\? Tag", "tag lost")
	p.shot("walk-keep")
	p.press("button", "^Keep SW-111$")
	p.find("any", "1 kept here, no signal since")
	p.gone("button", "^Keep SW-111$")

	p.visit("/walk?at=TB-260")
	p.find("heading", "^TB-260 was not taken along at ")
	p.press("button", "^Make a note of it")
	p.fill("What did you see, and where", "a plate")
	p.takePhoto(110)
	p.press("button", "^Keep the note$")
	p.find("any", "^This has 7 letters. Say in a sentence")
	p.fill("What did you see, and where", "a plate that is in no register")
	p.press("button", "^Keep the note$")
	p.gone("button", "^Keep the note$")
	p.find("any", "2 kept here, no signal since")
	p.visit("/walk?at=TB-260")
	p.press("button", `^TB-206\?$`)
	p.press("button", "^Check TB-206$")
	for range 4 {
		p.press("fieldset.present button", "^Yes$")
	}
	p.takePhoto(90)
	p.shot("walk-photo")
	p.press("button", "^Keep TB-206$")
	p.find("any", "3 kept here, no signal since")
	p.find("any", "They are on this device alone")
	p.visit("/walk")
	p.MustReload().MustWaitLoad()
	p.find("any", "3 kept here")
	p.find("any", "^No signal: as of ")
	p.find("any", "Walk-round: marks in line: as drawn at .*; tag or place not as it should be: tag lost")
	p.shot("walk-unsigned-away")
	require.Empty(t, p.axe())

	// somebody else has been there, and what was kept is corrected
	engineer := app.Actor{Person: run.Person{Name: "J. Hartwell", Role: authority.Engineer}}
	rec, err := s.app.Records(context.Background(), app.RecordSearch{Text: "TB-206", Limit: 1})
	require.NoError(t, err)
	people, err := s.app.People(context.Background())
	require.NoError(t, err)
	for _, x := range people {
		if x.Name == engineer.Name {
			engineer.ID = x.ID
		}
	}
	_, err = s.app.Add(context.Background(), engineer, rec.Rows[0].Number, app.AdditionInput{Kind: record.Recheck,
		What: "Looked at after the night.", PersonID: engineer.ID, PIN: pins["J. Hartwell"]})
	require.NoError(t, err)
	p.press(".walk-unsigned li:first-child button", "^Correct$")
	p.fill("What did you see\\? Tag", "tag lost, hung a new one")
	p.press("button", "^Keep SW-111$")
	p.find("any", "tag lost, hung a new one")
	p.press(".walk-unsigned li:nth-child(2) button", "^Correct$")
	p.fill("What did you see, and where", "a plate that is in no register, at the bearing")
	p.shot("walk-note")
	require.Empty(t, p.axe())
	p.press("button", "^Keep the note$")
	p.gone("button", "^Keep the note$")
	online()
	p.fill("PIN of R. Abara", "0000")
	p.press("button", "^Sign all 3$")
	p.find("any", "do not go together")
	p.fill("PIN of R. Abara", pins["R. Abara"])
	p.shot("walk-unsigned")
	require.Empty(t, p.axe())
	p.press("button", "^Sign all 3$")
	p.find("any", "One addition stands behind")
	p.find("any", "by J. Hartwell: Looked at after the night")
	p.shot("walk-since")
	p.press("button", "^I have seen it, mine stands$")
	p.gone("any", "One addition stands behind")
	p.fill("PIN of R. Abara", pins["R. Abara"])
	p.press("button", "^Sign TB-206$")
	p.gone("any", "Looked at, not signed")
	p.find("any", "2 seen today")
	p.find("any", "all kept")
	p.find("any", "R. Abara, seen ")
	p.visit("/walk?at=SW-111")
	p.find("any", "Found: Walk-round: .*tag lost, hung a new one")
	p.visit("/records/" + rec.Rows[0].Number)
	p.eventually("the picture of the look is shown", p.drawn(".additions img"))

	q := open(t, s.URL, 1280, 800)
	q.signIn("I. Quaye", pins["I. Quaye"])
	q.find("any", "TB-260: a plate that is in no register, at the bearing")
	q.press("link", "^Walk round$")
	q.eventually("the picture of the note is shown", q.drawn(".walk-notes img"))
	q.press("button", "^What became of it$")
	q.fill("What became of it, TB-260", "no")
	q.press("button", "^Close the note$")
	q.find("any", "says nothing")
	q.fill("What became of it, TB-260", "made a joint of it")
	q.shot("walk-notes")
	require.Empty(t, q.axe())
	q.press("button", "^Close the note$")
	q.find("any", "made a joint of it I. Quaye")
	q.press("button", "^Open it again$")
	q.find("button", "^What became of it$")
}

// takePhoto puts a picture of a shade of grey into the field for photos.
func (p *page) takePhoto(shade uint8) {
	p.t.Helper()
	g := image.NewGray(image.Rect(0, 0, 400, 300))
	for i := range g.Pix {
		g.Pix[i] = shade
	}
	name := filepath.Join(p.t.TempDir(), "photo.png")
	f, err := os.Create(name)
	require.NoError(p.t, err)
	require.NoError(p.t, png.Encode(f, g))
	require.NoError(p.t, f.Close())
	p.MustElement(".photo-field input").MustSetFiles(name)
	p.eventually("the picture is shown", p.drawn(".photo-field img"))
}

// drawn tells whether a picture is there and drawn.
func (p *page) drawn(selector string) func() bool {
	return func() bool {
		return p.MustEval(`s => { const i = document.querySelector(s); i?.scrollIntoView(); return !!i && i.complete && i.naturalWidth > 0 }`,
			selector).Bool()
	}
}
