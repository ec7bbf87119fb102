package e2e

import (
	"bytes"
	"fmt"
	"image/jpeg"
	"image/png"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/skip2/go-qrcode"
	"github.com/stretchr/testify/require"

	"dynacor/core/plan"
	"dynacor/core/procedure"
)

// seenByCamera is the code that the browser's camera looks at.
const seenByCamera = "dynacor:/joints/SW-113"

// film is what the camera sees, as a stream of pictures.
func film() ([]byte, error) {
	code, err := qrcode.Encode(seenByCamera, qrcode.Medium, 480)
	if err != nil {
		return nil, err
	}
	img, err := png.Decode(bytes.NewReader(code))
	if err != nil {
		return nil, err
	}
	var one bytes.Buffer
	if err := jpeg.Encode(&one, img, nil); err != nil {
		return nil, err
	}
	return bytes.Repeat(one.Bytes(), 5), nil
}

// scan types as a scanner does: faster than any person, with Enter at the end. The page does it to itself and says when
// each key came, so that a slow machine does not make a person of it.
func (p *page) scan(text string) {
	p.t.Helper()
	p.settled()
	p.MustEval(`text => {
		const began = new Event('x').timeStamp;
		[...text, 'Enter'].forEach((key, i) => {
			const press = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true });
			Object.defineProperty(press, 'timeStamp', { value: began + 6 * i });
			if ((document.activeElement ?? document.body).dispatchEvent(press) && key !== 'Enter') document.execCommand('insertText', false, key);
		});
	}`, text)
}

// What is scanned goes to the thing it stands on, from any place, and none of its keys does anything else.
func TestScannedCodeLeadsToItsThing(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	quaye := s.hand(t, "I. Quaye", "").who.ID
	p.find("radio", "I. Quaye")
	p.scan("dynacor:/scan?person=" + quaye) // a card picks its owner before anybody is signed in
	p.fill("PIN of I. Quaye", pins["I. Quaye"])
	p.press("button", "^Sign in$")
	p.find("button", "I. Quaye.*Change hands")
	year := time.Now().Format("2006")
	for _, c := range []struct{ code, leads string }{
		{"dynacor:/joints/SW-112", "/joints/SW-112"},
		{s.URL + "/joints/SW-111?record=TS-" + year + "-00001", "/joints/SW-111"},
		{"W-31", "/crib?tool=W-31"}, {"w-52", "/crib?tool=W-52"}, {"sw-114", "/joints/SW-114"},
		{"no such tag", "/joints?q=no+such+tag"},
		{"dynacor:/scan?batch=B-7&lubricant=L-07&useBy=2027-06-30", "/scan?lubricant=L-07&batch=B-7&useBy=2027-06-30"},
		{"DYNACOR TS-" + year + "-00001 0f0f0f", "/records/TS-" + year + "-00001"},
		{"https://elsewhere.example/joints/SW-111", "/scan?host=elsewhere.example"},
	} {
		p.scan(c.code)
		p.eventually(c.code+" leads to "+c.leads, func() bool {
			return p.MustEval(`() => location.pathname + location.search`).String() == c.leads
		})
		require.False(t, p.has("field", "^Find or do$"), "its keys open nothing")
	}
	p.find("heading", "A code of another site")
	require.Equal(t, "day", p.MustEval(`() => document.documentElement.dataset.look ?? 'day'`).String(), "D is part of a code")
	p.visit("/scan?lubricant=L-07&batch=B-7&useBy=2027-06-30")
	p.find("any", "B-7, use by|use by")
	p.find("any", "No record names it yet")
	require.Empty(t, p.axe())
	p.shot("scan-tin")

	p.scan("dynacor:/scan?person=" + s.hand(t, "M. Tolley", "").who.ID)
	p.fill("PIN of M. Tolley", pins["M. Tolley"])
	p.press("button", "^Go on$")
	p.find("button", "M. Tolley.*Change hands")
}

// A check that asks takes what is scanned: the tin, the tool and the card of whoever signs.
func TestScannedCodeAnswersTheCheck(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	h := s.hand(t, "M. Tolley", "tablet")
	d, err := s.app.Tool(t.Context(), "W-36")
	require.NoError(t, err)
	spare := d.Tool.Tool
	spare.Tag, spare.Serial = "W-37", "8841-37"
	_, err = s.app.PutTool(t.Context(), s.hand(t, "J. Hartwell", "").who, spare, "")
	require.NoError(t, err)
	v, err := s.app.StartRun(t.Context(), h.who, "SW-112", plan.Choices{}, "")
	require.NoError(t, err)
	h.id, h.plan = v.ID, v.Plan
	h.clear(procedure.Ready, "lubricant")
	planned := h.plan.First().Lubricant
	p := open(t, s.URL, 1024, 768)
	p.signIn("M. Tolley", "4071")
	p.visit("/joints/SW-112?station=ready&check=lubricant")
	p.find("heading", "Lubricant found")
	p.scan("dynacor:/scan?batch=B-7&lubricant=" + planned.Code + "&useBy=2031-06-30")
	p.eventually("the batch is filled in", func() bool {
		return p.MustEval(`() => [...document.querySelectorAll('input')].some(i => i.value === 'B-7')`).Bool()
	})
	p.shot("scan-check")
	p.press("button", "it is$")
	p.eventually("it is kept", func() bool { return h.status("lubricant") == "cleared" })
	last := p.lastEntry("SW-112")
	require.Equal(t, "B-7", last.Batch)
	require.Equal(t, "2031-06-30", last.Expiry)

	h.clear(procedure.Ready, "wrench")
	p.visit("/joints/SW-112?station=ready&check=wrench")
	p.find("field", "Or type its tag")
	p.fill("Or type its tag", "W")
	p.scan("W-37") // with the cursor in the field
	p.find("button", "^Take W-37")
	require.Equal(t, "W", p.MustEval(`() => document.activeElement.value`).String(), "the field is as it was")
}

// The camera sees a code and leads to its joint.
func TestCameraReadsACode(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	for _, width := range []int{1280, 390} {
		p := open(t, s.URL, width, 800)
		p.signIn("M. Tolley", "4071")
		p.press("button", "^Scan a code$")
		p.eventually("the camera's code leads to the joint", func() bool {
			return p.MustEval(`() => location.pathname`).String() == "/joints/SW-113"
		})
		p.MustEval(`() => { navigator.mediaDevices.getUserMedia = () => Promise.reject(new DOMException('', 'NotAllowedError')) }`)
		p.press("button", "^Scan a code$")
		p.find("any", "The camera may not be used. Allow it")
		require.Empty(t, p.axe())
		p.shot(fmt.Sprintf("scan-dialog-%d", width))
		p.fill("Or type what stands beside it", "sw-111")
		p.press("button", "^Go$")
		p.eventually("what was typed is looked for", func() bool {
			return p.MustEval(`() => location.pathname`).String() == "/joints/SW-111"
		})
	}
}

// Labels are laid out as they will lie on the sheet, begin at the place that is pressed, and print.
func TestLabelsAreLaidOutAndPrinted(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	c := newClient(t, s.URL)
	h := s.hand(t, "J. Hartwell", "desk")
	c.must("POST", "/session", map[string]string{"personId": h.who.ID, "pin": pins["J. Hartwell"]}, nil)
	p := open(t, s.URL, 1280, 800)
	p.signIn("J. Hartwell", pins["J. Hartwell"])
	p.visit("/labels?of=joints&package=WP-47")
	p.find("link", "^Print [0-9]+ labels$")
	p.shot("labels")
	p.MustEval(`() => document.querySelectorAll('.label-sheet g')[4].dispatchEvent(new MouseEvent('click', { bubbles: true }))`)
	p.eventually("it begins at the fifth place", func() bool {
		return strings.Contains(p.MustEval(`() => document.querySelector('.labels-ask a.now').href`).String(), "from=5")
	})
	for _, of := range []string{"tools", "people", "tags"} {
		p.visit("/labels?of=" + of)
		p.find("link", "^Print [0-9]+ labels?$")
		href := p.MustEval(`() => document.querySelector('.labels-ask a.now').getAttribute('href')`).String()
		req, err := http.NewRequest(http.MethodGet, s.URL+href, nil)
		require.NoError(t, err)
		res, err := c.http.Do(req)
		require.NoError(t, err)
		head := make([]byte, 4)
		_, err = res.Body.Read(head)
		_ = res.Body.Close()
		require.NoError(t, err)
		require.Equal(t, "%PDF", string(head), of)
	}
	p.visit("/labels?of=tins")
	p.find("any", "Say what is in the tins")
	p.pick("In the tins", "L-07 moly paste")
	p.fill("Batch", "B-7")
	p.find("link", "^Print 1 label$")
	require.Empty(t, p.axe())
	p.shot("labels-tins")
}
