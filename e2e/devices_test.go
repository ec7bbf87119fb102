package e2e

import (
	"context"
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/run"
)

// lastEntry is the newest entry of a joint's run, as the page's own session sees it.
func (p *page) lastEntry(tag string) run.Event {
	p.t.Helper()
	text := p.MustEval(`async tag => { const j = await (await fetch('/api/joints/' + tag)).json(); const r = await (await fetch('/api/runs/' + j.runId)).json(); return JSON.stringify(r.entries.at(-1).event) }`, tag).Str()
	var e run.Event
	require.NoError(p.t, json.Unmarshal([]byte(text), &e))
	return e
}

// What is recorded in the browser is signed by the key of this device, which no script can read; the chain names it,
// and nothing is remarked on.
func TestPagesRecordUnderTheKeyOfTheirDevice(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := tightening(t, s)
	p.press("button", "2 clicked")
	p.find("button", "10 clicked")
	p.find("any", "all kept")
	e := p.lastEntry("SW-114")
	require.Equal(t, run.Pulled, e.Kind)
	require.Len(t, e.DeviceKey, 16)
	require.Empty(t, e.Unproved)
	require.False(t, p.MustEval(`async () => {
		const db = await new Promise((ok, no) => { const r = indexedDB.open('dynacor'); r.onsuccess = () => ok(r.result); r.onerror = no; });
		const kept = await new Promise(ok => { const r = db.transaction('keys').objectStore('keys').get('device'); r.onsuccess = () => ok(r.result); });
		db.close();
		return crypto.subtle.exportKey('pkcs8', kept.pair.privateKey).then(() => true, () => false);
	}`).Bool(), "the private half cannot be taken out")
	h, err := s.app.VerifyAll(context.Background(), nil)
	require.NoError(t, err)
	require.Empty(t, h.Problems)

	// Another person on the same device: the same key, another shift.
	p.press("button", "Change hands")
	p.press("radio", "I. Quaye")
	p.fill("PIN of", "5826")
	p.press("button", "^Go on$")
	p.find("button", "I. Quaye.*Change hands")
	p.press("button", "pause")
	p.find("any", "Work was stopped")
	p.find("any", "all kept")
	next := p.lastEntry("SW-114")
	require.Equal(t, "I. Quaye", next.Person.Name)
	require.Equal(t, e.DeviceKey, next.DeviceKey)
}

// A device whose clock is hours off is told at once, before anything is recorded; what it records keeps both times.
func TestClockThatIsOffIsToldAtOnce(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, "about:blank", 1280, 800)
	_, err := p.EvalOnNewDocument(`{ const real = Date.now.bind(Date), D = Date; const by = -3 * 3600_000;
		globalThis.Date = class extends D { constructor(...a) { if (a.length) super(...a); else super(real() + by); } static now() { return real() + by; } }; }`)
	require.NoError(t, err)
	require.NoError(t, p.Navigate(s.URL+"/joints/SW-114"))
	p.signIn("M. Tolley", "4071")
	p.find("any", "clock 3 h slow: set it right")
	p.find("any", "Bolt |Set the wrench")
	p.press("button", "pause")
	p.find("any", "Work was stopped")
	p.eventually("it is kept", func() bool { return p.lastEntry("SW-114").Kind == run.Paused })
	e := p.lastEntry("SW-114")
	require.NotNil(t, e.BoundedAt)
	require.WithinDuration(t, time.Now(), *e.BoundedAt, time.Minute)
	require.WithinDuration(t, time.Now().Add(-3*time.Hour), e.At, time.Minute)
}

// An event that the server refuses stays on the device with the reason, until a person has read it.
func TestRefusedEventIsKeptAside(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := tightening(t, s)
	p.MustEval(`async () => {
		const j = await (await fetch('/api/joints/SW-114')).json();
		const r = await (await fetch('/api/runs/' + j.runId)).json();
		const old = r.entries.findLast(e => e.event.kind === 'pulled').event;
		const db = await new Promise((ok, no) => { const q = indexedDB.open('dynacor'); q.onsuccess = () => ok(q.result); q.onerror = no; });
		const t = db.transaction('waiting', 'readwrite');
		t.objectStore('waiting').put({ id: old.id, run: j.runId, event: { ...old, outcome: 'over' } });
		await new Promise(ok => { t.oncomplete = ok; });
		db.close();
	}`)
	p.MustReload()
	p.find("any", "1 not taken, look")
	p.find("any", "Another event is kept under the same identifier")
	p.press("button", "^Send again$")
	p.find("any", "Another event is kept under the same identifier")
	p.press("button", "^Put aside$")
	p.find("any", "all kept")
	p.MustReload()
	p.press("summary", "One entry is put aside on this device")
	p.find("any", "pull, position")
	p.press("button", "^Throw away$")
	p.gone("summary", "put aside on this device")
}

// buzzes are those since they were listened for.
func (p *page) buzzes() string { return p.MustEval(`() => '[' + window.buzzes.join() + ']'`).String() }

// What a device cannot write down is not told as kept: no sound or buzz of it, the question stays, and why is said.
func TestDeviceWithoutRoomSaysSo(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := tightening(t, s)
	p.MustEval(`() => {
		window.buzzes = [];
		navigator.vibrate = (x) => { window.buzzes.push(JSON.stringify(x)); return true; };
		window.realAdd = IDBObjectStore.prototype.add;
		IDBObjectStore.prototype.add = () => { throw new DOMException('full', 'QuotaExceededError'); };
	}`)
	p.press("button", "2 clicked")
	p.find("any", "Not kept: this device has no room left")
	require.Equal(t, "[[60,60,60]]", p.buzzes())
	p.find("button", "2 clicked")
	p.MustEval(`() => { IDBObjectStore.prototype.add = window.realAdd; window.buzzes = []; }`)
	p.press("button", "2 clicked")
	p.find("button", "10 clicked")
	p.gone("any", "Not kept: this device has no room left")
	require.Equal(t, "[20]", p.buzzes())
}

// A passphrase signs in where somebody has one instead of a PIN; where one is signed in is listed and ended.
func TestPassphraseAndSignIns(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	require.NoError(t, s.app.SetPIN(context.Background(), "R. Abara", "grey heron at low water"))
	first := open(t, s.URL, 1280, 800)
	for i, p := range []*page{first, open(t, s.URL, 390, 844)} {
		p.press("radio", "R. Abara")
		p.press("button", "I have a passphrase")
		p.fill("Passphrase of", "grey heron at low water")
		p.press("button", "^Sign in$")
		p.find("button", "R. Abara.*Change hands")
		require.LessOrEqual(t, p.MustEval(`() => document.documentElement.scrollWidth - innerWidth`).Int(), 0,
			"page %d hangs over the side", i)
	}
	first.press("button", "Change hands")
	first.press("summary", "Where I am signed in")
	first.find("any", "on this device")
	require.Empty(t, first.axe())
	first.press("button", "^End it$")
	first.gone("button", "^End it$")
	list, err := s.app.AuditLog(context.Background(), "sign-in ended", 0)
	require.NoError(t, err)
	require.Contains(t, list[0].After, "ended by R. Abara")
}
