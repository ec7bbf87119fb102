package e2e

import (
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"

	"dynacor/core/rehearsal"
	"dynacor/core/run"
)

// measure fills the stations of a check.
func (p *page) measure(values ...string) {
	p.t.Helper()
	fields := p.MustElements(".stations input")
	require.GreaterOrEqual(p.t, len(fields), len(values))
	for i, v := range values {
		require.NoError(p.t, fields[i].SelectAllText())
		require.NoError(p.t, fields[i].Input(v))
	}
}

// ready clears every check before the first pull, by whatever way act presses a button.
func (p *page) ready(act func(what, text string)) {
	p.t.Helper()
	p.find("heading", "Start card")
	act("button", "^Yes, it is so")
	p.find("heading", "Isolation")
	act("button", "^Yes, it is so")
	act("button", "^Sign the hold")
	name, pin := p.second()
	act("radio", name)
	p.fill("PIN of", pin)
	act("button", "^Sign$")
	p.find("heading", "Parts against")
	act("button", "The rest is present")
	act("button", "Keep the list")
	for _, h := range []string{"Gasket type", "Gasket seated"} {
		p.find("heading", h)
		act("button", "^Yes, it is so")
	}
	p.find("heading", "Flange faces")
	act("button", "^Repair$")
	p.fill("What is wrong", "scratch across the seal track at 4 o'clock")
	require.NoError(p.t, p.find("field", "Take a photo").SetFiles([]string{"../docs/screenshots/crib.png"}))
	act("button", "^Keep: to repair")
	p.find("any", "scratch across the seal track")
	for _, h := range []string{"Flange faces", "Bolt and nut threads"} {
		p.find("heading", h)
		act("button", "^Accept$")
	}
	p.find("heading", "Nuts run free")
	act("button", "^Yes, it is so")
	p.find("heading", "Lubricant found")
	act("button", "it is$")
	p.find("heading", "Where it goes")
	act("button", "^Yes, it is so")
	for _, c := range []struct {
		heading string
		values  []string
	}{{"Gap before bolting", []string{"3.10", "3.12", "3.08", "3.11"}},
		{"Rim offset", []string{"0.2", "0.1", "0", "0.1"}}, {"Hole overlap", []string{"0.5", "0.4", "0.6", "0.5"}}} {
		p.find("heading", c.heading)
		p.measure(c.values...)
		act("button", "Keep the readings")
	}
	p.find("heading", "Tools in hand")
	act("button", "^Take W-")
	p.find("heading", "Function check")
	act("button", "^Yes, it is so")
	p.find("heading", "Start and direction")
	act("button", "^Yes, it is so")
	p.find("any", "by hand|Set the wrench")
}

// The whole path by mouse, from choosing the joint to a record that the command line verifies, and a tampered one that
// it refuses.
func TestWholePathByMouse(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.press("link", "^Joints$")
	p.fill("Search joints", "vent header")
	p.find("any", "^1 joint$")
	p.press("link", "SW-112")
	p.find("button", "Read it, then Ready")
	p.press("button", "show the working")
	require.Contains(t, p.text("[data-testid=working]"), "T / (K × d)")
	p.press("button", "Read it, then Ready")
	p.ready(p.press)

	setting := func() string { return strings.TrimSpace(p.text("[data-testid=setting]")) }
	for range 6 {
		p.press("button", "done by hand")
	}
	p.press("button", "All 2 by hand")
	p.find("button", "^Set to")
	require.Equal(t, "63", setting())
	for pass := range 4 {
		p.press("button", "^Set to")
		verb := "clicked"
		if pass == 3 {
			verb = "stayed"
		}
		for range 8 {
			p.press("button", verb)
		}
	}
	p.handOver(p.press)
	p.find("any", "all kept")

	number := strings.TrimPrefix(p.text("h2"), "Sealed as ")
	file := filepath.Join(t.TempDir(), "record.json")
	res := p.MustEval(`async n => await (await fetch('/api/records/' + n + '/record.json')).text()`, number).Str()
	require.NoError(t, os.WriteFile(file, []byte(res), 0o600))
	out, err := exec.Command("../bin/dynacor", "verify", file).CombinedOutput()
	require.NoError(t, err, string(out))
	require.Contains(t, string(out), "The record holds: "+number)

	// One bolt more tightly set than it was: the file is refused and the bolt is named.
	var tree map[string]any
	require.NoError(t, json.Unmarshal([]byte(res), &tree))
	events := tree["record"].(map[string]any)["events"].([]any)
	named := 0
	for i, e := range events {
		ev := e.(map[string]any)["event"].(map[string]any)
		if ev["kind"] == "pulled" && ev["setting"] != nil {
			ev["setting"] = 99.0
			named = i + 1
			break
		}
	}
	bad, err := json.Marshal(tree)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(file, bad, 0o600))
	out, err = exec.Command("../bin/dynacor", "verify", file).CombinedOutput()
	require.Error(t, err)
	require.Contains(t, string(out), "does not hold")
	require.Contains(t, string(out), "bolt at position 1, pass 2")

	p.visit("/verify")
	require.NoError(t, p.find("field", "Choose the file").SetFiles([]string{file}))
	p.find("any", "The record does not hold")
	p.find("any", "Where the file departs")
	require.Contains(t, p.text("table"), "event.setting")
	require.Positive(t, named)

	pdf := p.MustEval(`async n => { const b = new Uint8Array(await (await fetch('/api/records/' + n + '/certificate.pdf')).arrayBuffer()); return Array.from(b) }`, number)
	raw := []byte{}
	for _, v := range pdf.Arr() {
		raw = append(raw, byte(v.Int()))
	}
	name := filepath.Join(t.TempDir(), "certificate.pdf")
	require.NoError(t, os.WriteFile(name, raw, 0o600))
	text, err := exec.Command("pdftotext", "-layout", name, "-").Output()
	require.NoError(t, err)
	for _, want := range []string{"Bolted joint record", "SW-112", "Accepted", "M. Tolley", "R. Abara", "W-36",
		"does not certify the joint as safe", "Photos", "Flange faces: repair",
		"scratch across the seal track at 4 o'clock, M. Tolley", "Working: Torque at the nut", number} {
		require.Contains(t, strings.Join(strings.Fields(string(text)), " "), want)
	}
	require.NotContains(t, string(text), "has not arrived")
}

// tabTo moves the focus with the Tab key alone until the control is reached.
func (p *page) tabTo(what, text string) {
	p.t.Helper()
	p.find(what, text)
	for range 160 {
		res, err := p.Eval(`(w, t) => { const e = (`+finder+
			`)(w, t, false); return document.activeElement === e || (e && e.contains(document.activeElement) && document.activeElement !== document.body) }`, what, text)
		require.NoError(p.t, err)
		if res.Value.Bool() {
			return
		}
		p.key(input.Tab)
	}
	p.t.Fatalf("%s %q cannot be reached with the Tab key", what, text)
}

// The whole path without touching the mouse.
func TestWholePathByKeyboard(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	enter := func(what, text string) {
		t.Helper()
		p.tabTo(what, text)
		p.key(input.Enter)
	}
	enter("radio", "M. Tolley")
	p.fill("PIN of", "4071")
	p.key(input.Enter)
	p.find("heading", "Carry on at bolt")

	// Find or do: a tag, typed.
	p.eventually("finding opens", func() bool { // once it has come: it is fetched beside the page
		require.NoError(t, p.KeyActions().Press(input.ControlLeft).Type(input.KeyK).Do())
		for end := time.Now().Add(2 * time.Second); time.Now().Before(end); time.Sleep(20 * time.Millisecond) {
			if p.has("field", "Find or do") {
				return true
			}
		}
		return false
	})
	p.fill("Find or do", "SC-15")
	p.find("any", "Trash rake hydraulics")
	p.key(input.Enter)
	p.find("button", "Read it, then Ready")
	p.MustEval(`() => document.activeElement.blur()`)
	p.key(input.Enter)
	p.ready(enter)
	p.MustEval(`() => document.activeElement.blur()`)

	p.find("button", "All 4 by hand")
	p.key(input.Space)
	p.find("button", "All 3 by hand")
	p.key(input.KeyR)
	for pass := range 4 {
		p.find("button", "^Set to")
		p.key(input.Space)
		for bolt := range 4 {
			p.gone("button", "^Set to")
			if pass == 1 && bolt == 2 { // a bolt left for later, then a record taken back
				p.key(input.KeyS)
				enter("button", "No room for the tool")
				p.gone("button", "No room for the tool")
				p.find("any", "1 for later")
				p.MustEval(`() => document.activeElement.blur()`)
				p.key(input.Space)
				p.key(input.KeyZ)
				enter("button", "Pressed by mistake")
				p.gone("button", "Pressed by mistake")
				p.MustEval(`() => document.activeElement.blur()`)
			}
			p.key(input.Space)
		}
	}
	p.handOver(enter)
}

// The tightening view on a phone, by touch.
func TestWholePathByTouch(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := openAtPace(t, s.URL, 390, 844)
	p.tap("radio", "M. Tolley")
	p.fill("PIN of", "4071")
	p.tap("button", "^Sign in$")
	p.find("heading", "Carry on at bolt")
	p.visit("/joints/TB-202")
	p.tap("button", "Read it, then Ready")
	p.ready(p.tap)
	p.tap("button", "All 4 by hand")
	for pass := range 4 {
		p.tap("button", "^Set to")
		for range 4 {
			verb := "clicked"
			if pass == 3 {
				verb = "stayed"
			}
			p.tap("button", verb)
		}
	}
	small := p.MustEval(`() => [...document.querySelectorAll('.acts .btn, .answers .btn')].filter(b => b.getBoundingClientRect().height < 64).map(b => b.innerText).join()`).Str()
	require.Empty(t, small, "touch targets under 64 px")
	require.LessOrEqual(t, p.MustEval(`() => document.documentElement.scrollWidth`).Int(), 390,
		"nothing hangs over the side")
	p.handOver(p.tap)
}

// What is recorded without network is kept, survives a reload, and goes out once when the network is back.
func TestWithoutNetwork(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	b := browser(t)
	p := openToWorkWithoutNetwork(t, b, s.URL+"/joints/SW-114", 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.find("any", "Bolt ")
	if p.has("button", "^Set to") {
		p.press("button", "^Set to")
	}
	p.find("button", "clicked")
	p.MustEval(`async () => { await navigator.serviceWorker.ready; for (let i = 0; i < 50 && !globalThis.dynacorCore; i++) await new Promise(r => setTimeout(r, 100)) }`)
	p.MustReload().MustWaitLoad()
	p.find("button", "clicked")
	p.eventually("the rules are loaded", func() bool { return p.MustEval(`() => !!globalThis.dynacorCore`).Bool() })
	before := p.MustEval(`() => fetch('/api/session').then(r => r.status)`).Int()
	require.Equal(t, 200, before)

	online := goOffline(t, b, p)
	first := strings.Fields(p.text(".hd .b"))[1]
	p.press("button", first+" clicked")
	p.eventually("the next bolt is shown", func() bool { return !strings.HasSuffix(p.text(".hd .b"), " "+first) })
	p.find("any", "kept here, no signal since")
	second := strings.Fields(p.text(".hd .b"))[1]
	p.press("button", second+" clicked")
	p.find("any", "2 kept here")
	p.MustReload().MustWaitLoad()
	p.find("any", "2 kept here")
	p.eventually("the place is kept", func() bool {
		b := p.text(".hd .b")
		return !strings.HasSuffix(b, " "+first) && !strings.HasSuffix(b, " "+second)
	})
	online()
	p.find("any", "all kept")
	run := p.MustEval(`async () => { const j = await (await fetch('/api/joints/SW-114')).json(); const r = await (await fetch('/api/runs/' + j.runId)).json(); return JSON.stringify(r.entries.filter(e => e.event.kind === 'pulled').slice(-2).map(e => r.plan.chalk[e.event.fastener - 1])) }`).Str()
	require.Equal(t, "["+first+","+second+"]", run)
}

// goOffline cuts off the page and its service workers; the returned function ends that.
func goOffline(t *testing.T, b *rod.Browser, p *page) func() {
	t.Helper()
	network := func(c proto.Client, off bool) {
		require.NoError(t, proto.NetworkEnable{}.Call(c)) // without it only navigator.onLine changes
		require.NoError(t, proto.NetworkEmulateNetworkConditions{Offline: off, DownloadThroughput: -1,
			UploadThroughput: -1}.Call(c))
	}
	targets, err := proto.TargetGetTargets{}.Call(b)
	require.NoError(t, err)
	var workers []session
	for _, tg := range targets.TargetInfos {
		if tg.Type != proto.TargetTargetInfoTypeServiceWorker || tg.BrowserContextID != b.BrowserContextID {
			continue
		}
		at, err := proto.TargetAttachToTarget{TargetID: tg.TargetID, Flatten: true}.Call(b)
		require.NoError(t, err)
		w := session{b, at.SessionID} // must stay attached: the emulation belongs to the session
		network(w, true)
		workers = append(workers, w)
	}
	network(p.Page, true)
	return func() {
		for _, w := range workers {
			network(w, false)
		}
		network(p.Page, false)
	}
}

// session lets a call go to an attached target.
type session struct {
	*rod.Browser
	id proto.TargetSessionID
}

// GetSessionID makes it something calls can go to.
func (s session) GetSessionID() proto.TargetSessionID { return s.id }

// A picture that the server will not take is told with the reason, and holds up neither other pictures nor bolts.
func TestRefusedPictureHoldsUpNothing(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL+"/joints/SW-114", 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.find("any", "Bolt |Set the wrench")
	h := s.hand(t, "M. Tolley", "")
	h.begin("SW-114")
	good := rehearsal.Picture()
	h.send(run.Event{Kind: run.Noted, Note: "see the picture", Photo: "0199aaaa-0000-7000-8000-000000000002",
		PhotoSHA256: fmt.Sprintf("%x", sha256.Sum256(good))})
	p.MustEval(`async picture => {
		const j = await (await fetch('/api/joints/SW-114')).json();
		const db = await new Promise((ok, no) => { const r = indexedDB.open('dynacor'); r.onsuccess = () => ok(r.result); r.onerror = no; });
		const good = new Blob([Uint8Array.from(atob(picture), c => c.charCodeAt(0))], { type: 'image/png' });
		const t = db.transaction('photos', 'readwrite');
		t.objectStore('photos').put({ id: '0199aaaa-0000-7000-8000-000000000001', run: j.runId, data: new Blob(['no picture']) });
		t.objectStore('photos').put({ id: '0199aaaa-0000-7000-8000-000000000002', run: j.runId, data: good });
		await new Promise(ok => { t.oncomplete = ok; });
		db.close();
	}`, base64.StdEncoding.EncodeToString(good))
	p.MustReload().MustWaitLoad()
	p.find("any", "A picture was not taken: This is not a picture")
	p.find("any", "1 not taken, look")
	p.eventually("the other picture is kept", func() bool {
		return p.MustEval(`() => fetch('/api/photos/0199aaaa-0000-7000-8000-000000000002').then(r => r.status)`).Int() == 200
	})
	p.press("button", "I have read it, drop it")
	p.find("any", "all kept")
	p.gone("any", "A picture was not taken")
}
