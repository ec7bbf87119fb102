// Package e2e drives the real interface in Chromium against the real server and a real PostgreSQL.
package e2e

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"runtime"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"

	"dynacor/internal/app"
	"dynacor/internal/demo/demotest"
	"dynacor/internal/httpapi"
	"dynacor/internal/identity"
	"dynacor/internal/live"
	"dynacor/internal/store"
	"dynacor/internal/store/storetest"
	"dynacor/web"
)

var (
	once   sync.Once
	shared *rod.Browser
	finish = func() {}
)

func TestMain(m *testing.M) {
	code := storetest.Main(m)
	finish()
	os.Exit(code)
}

// chromium starts the browser as a child that dies with this process, even when the process is killed.
func chromium() (url string, stop func(), err error) {
	bin, err := exec.LookPath("chromium")
	if err != nil {
		return "", nil, fmt.Errorf("chromium is not installed: %w", err)
	}
	dir, err := os.MkdirTemp("", "dynacor-chromium-")
	if err != nil {
		return "", nil, err
	}
	l := launcher.New().Bin(bin).Leakless(false).NoSandbox(true).Headless(true).UserDataDir(dir)
	for _, f := range []string{"disable-gpu", "disable-quic", "no-first-run", "disable-background-networking",
		"disable-component-update", "disable-sync", "disable-dev-shm-usage"} {
		l = l.Set(flag(f))
	}
	l = l.Set("force-color-profile", "srgb").Set("font-render-hinting", "none").Set("lang", "en-GB").Set("window-size",
		"1280,800").Set("autoplay-policy", "no-user-gesture-required")
	cmd := exec.Command(bin, l.FormatArgs()...)
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGKILL}
	stderr, err := cmd.StderrPipe()
	if err != nil {
		return "", nil, err
	}
	started := make(chan error, 1)
	go func() {
		runtime.LockOSThread() // Pdeathsig follows the thread
		started <- cmd.Start()
		_ = cmd.Wait()
	}()
	if err := <-started; err != nil {
		return "", nil, err
	}
	stop = func() {
		_ = syscall.Kill(-cmd.Process.Pid, syscall.SIGKILL)
		time.Sleep(50 * time.Millisecond)
		_ = os.RemoveAll(dir)
	}
	found := make(chan string, 1)
	go func() {
		re := regexp.MustCompile(`DevTools listening on (ws://\S+)`)
		for sc := bufio.NewScanner(stderr); sc.Scan(); {
			if m := re.FindStringSubmatch(sc.Text()); m != nil {
				found <- m[1]
			}
		}
	}()
	select {
	case u := <-found:
		return u, stop, nil
	case <-time.After(30 * time.Second):
		stop()
		return "", nil, fmt.Errorf("chromium did not start")
	}
}

// browser gives each test cookies, storage and service workers of its own.
func browser(t *testing.T) *rod.Browser {
	t.Helper()
	once.Do(func() {
		u, stop, err := chromium()
		require.NoError(t, err)
		shared, finish = rod.New().ControlURL(u).MustConnect(), stop
	})
	b, err := shared.Incognito()
	require.NoError(t, err)
	t.Cleanup(func() { _ = proto.TargetDisposeBrowserContext{BrowserContextID: b.BrowserContextID}.Call(shared) })
	return b
}

// site is a server on its own database.
type site struct {
	*httptest.Server
	app *app.App
	url string // of the database
}

func newSite(t *testing.T, withDemo bool) *site {
	t.Helper()
	ctx := context.Background()
	url := ""
	if withDemo {
		url = demotest.URL(t, time.Now())
	} else {
		url = storetest.URL(t)
	}
	pool, err := store.Open(ctx, storetest.Serving(url), 8)
	require.NoError(t, err)
	t.Cleanup(pool.Close)
	a := app.New(pool, identity.NewTestHasher(), nil)
	require.NoError(t, a.Prepare(ctx))
	require.NoError(t, a.UseKey(ctx, storetest.Key()))
	files, err := web.Handler()
	require.NoError(t, err)
	log := slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: slog.LevelError}))
	hub := live.New(pool, log)
	until, cancel := context.WithCancel(ctx)
	t.Cleanup(cancel)
	go hub.Run(until)
	a.Tell(hub.Publish)
	h, err := httpapi.New(a, pool, files, httpapi.Options{Log: log, Live: hub})
	require.NoError(t, err)
	s := &site{Server: httptest.NewServer(h), app: a, url: url}
	t.Cleanup(func() {
		s.CloseClientConnections()
		s.Close()
	})
	return s
}

// page is a tab driven like a person would: by role, label and what is written.
type page struct {
	*rod.Page
	t *testing.T
	n int // of the pages of its test
}

// pages counts the pages that each test has opened.
var pages = struct {
	sync.Mutex
	n map[string]int
}{n: map[string]int{}}

func open(t *testing.T, url string, width, height int) *page {
	t.Helper()
	return openIn(t, browser(t), url, width, height)
}

// atRest counts what the page has asked for and not got yet, and the answers that it did not take.
const atRest = `window.notTaken = 0; addEventListener('dynacor:not-taken', () => window.notTaken++);
window.asking = new Set();
const ask = window.fetch;
window.fetch = (...a) => {
	const what = { url: a[0]?.url ?? String(a[0]), at: Math.round(performance.now()) };
	window.asking.add(what);
	const r = ask(...a);
	const end = () => window.asking.delete(what);
	r.then(end, end);
	return r;
}`

func openIn(t *testing.T, b *rod.Browser, url string, width, height int) *page {
	t.Helper()
	return openWith(t, b, url, width, height, atRest+noWorker)
}

// noWorker keeps the page from fetching all of the application for a time without network, which most tests never
// have: it takes longer than they do.
const noWorker = `
navigator.serviceWorker && (navigator.serviceWorker.register = () => new Promise(() => {}));`

// openToWorkWithoutNetwork is a tab that keeps the application on its device.
func openToWorkWithoutNetwork(t *testing.T, b *rod.Browser, url string, width, height int) *page {
	t.Helper()
	return openWith(t, b, url, width, height, atRest)
}

func openWith(t *testing.T, b *rod.Browser, url string, width, height int, script string) *page {
	t.Helper()
	rp, err := b.Page(proto.TargetCreateTarget{URL: "about:blank"})
	require.NoError(t, err)
	rp = rp.Timeout(12 * time.Minute)
	require.NoError(t, proto.EmulationSetDeviceMetricsOverride{Width: width, Height: height, DeviceScaleFactor: 1,
		Mobile: width < 600}.Call(rp))
	if width < 1200 {
		require.NoError(t, proto.EmulationSetTouchEmulationEnabled{Enabled: true}.Call(rp))
	}
	require.NoError(t, proto.LogEnable{}.Call(rp))
	go rp.EachEvent(func(e *proto.RuntimeExceptionThrown) {
		t.Errorf("exception in the page: %s", e.ExceptionDetails.Exception.Description)
	}, func(e *proto.LogEntryAdded) {
		if e.Entry.Level == proto.LogLogEntryLevelError && !strings.Contains(e.Entry.Text, "401") {
			t.Logf("browser: %s %s", e.Entry.Text, e.Entry.URL)
		}
	})()
	pages.Lock()
	pages.n[t.Name()]++
	_, err = rp.EvalOnNewDocument(script)
	require.NoError(t, err)
	p := &page{rp, t, pages.n[t.Name()]}
	pages.Unlock()
	t.Cleanup(p.failed) // before the browser closes
	require.NoError(t, rp.Navigate(url))
	require.NoError(t, rp.WaitLoad())
	return p
}

// patience bounds the wait for a state; nothing waits for time to pass.
const patience = 40 * time.Second

// settled waits until every question on the page takes answers again: what was answered is kept and the next one has
// stood a moment.
func (p *page) settled() {
	p.t.Helper()
	p.eventually("the question takes an answer", func() bool {
		res, err := p.Eval(`() => !document.querySelector('[data-settling]')`)
		return err == nil && res.Value.Bool()
	})
}

// js looks for the visible element of a role or tag whose accessible name or text matches.
const finder = `(what, text, exact) => {
	const pick = { button: 'button, [role=button], a.btn, label.btn', link: 'a', radio: '[role=radio]', field: 'input, textarea, select', heading: 'h1, h2', any: 'body *' }[what] || what;
	const norm = s => (s || '').replace(/\s+/g, ' ').trim();
	const shown = e => { const r = e.getBoundingClientRect(); return r.width > 0 && r.height > 0 && getComputedStyle(e).visibility !== 'hidden' };
	const re = new RegExp(text, 'i');
	const names = e => {
		const n = [norm(e.getAttribute('aria-label')), norm(e.innerText ?? e.textContent), norm(e.placeholder)];
		if (e.labels) for (const l of e.labels) n.push(norm(l.innerText));
		return n.filter(Boolean);
	};
	const all = [...document.querySelectorAll(pick)].filter(e => (shown(e) || e.type === 'file') && !e.closest('[aria-hidden=true]'));
	const hits = all.filter(e => names(e).some(n => exact ? n === text : re.test(n)));
	hits.sort((a, b) => names(a)[0].length - names(b)[0].length);
	return hits[0] || null;
}`

// find waits for an element; what is button, link, radio, field, heading, any or a selector.
func (p *page) find(what, text string) *rod.Element {
	p.t.Helper()
	for end := time.Now().Add(patience); time.Now().Before(end); time.Sleep(5 * time.Millisecond) {
		// A while at a time, so that a page that was left in between is looked at anew.
		js := `async (what, text) => {
			const find = ` + finder + `;
			for (const end = performance.now() + 2000; performance.now() < end; await new Promise(done => setTimeout(done, 15))) {
				const e = find(what, text, false);
				if (e) return e;
			}
			return null;
		}`
		res, err := p.Evaluate(rod.Eval(js, what, text).ByObject().ByPromise())
		if err != nil || res.ObjectID == "" {
			continue
		}
		if el, err := p.ElementFromObject(res); err == nil {
			return el
		}
	}
	p.t.Fatalf("no %s named %q on the page", what, text)
	return nil
}

// has reports whether something is there now.
func (p *page) has(what, text string) bool {
	res, err := p.Eval(`(w, t) => !!(`+finder+`)(w, t, false)`, what, text)
	return err == nil && res.Value.Bool()
}

func (p *page) gone(what, text string) {
	p.t.Helper()
	for end := time.Now().Add(patience); p.has(what, text); time.Sleep(15 * time.Millisecond) {
		if time.Now().After(end) {
			p.t.Fatalf("%s %q is still there", what, text)
		}
	}
}

// reach waits in the page until an element of that name is there, takes answers, lies still and can be hit, and gives
// the point to hit. With fill it also puts the cursor into it with all its text selected. It gives up after a while, so
// that a page that was left in between is looked at anew.
const reach = `async (what, text, fill) => {
	const find = ` + finder + `;
	const frame = () => new Promise(done => { const t = setTimeout(done, 50); requestAnimationFrame(() => { clearTimeout(t); done() }) });
	const box = e => { const r = e.getClientRects()[0]; return r && [r.left + r.width / 2, r.top + r.height / 2] };
	const began = performance.now();
	for (; performance.now() < began + 2000; await frame()) {
		if (document.querySelector('[data-settling]')) continue;
		if (window.asking.size > 0 && performance.now() < began + 1000) continue; // what comes may move everything
		const e = find(what, text, false);
		if (!e || e.disabled || e.closest('fieldset[disabled]')) continue;
		const r = e.getBoundingClientRect();
		if (r.top < 0 || r.left < 0 || r.bottom > innerHeight || r.right > innerWidth) e.scrollIntoView({ block: 'center', inline: 'center', behavior: 'instant' });
		const was = box(e);
		await frame();
		await frame();
		const at = box(e);
		if (!was || !at || was[0] !== at[0] || was[1] !== at[1]) continue;
		if (fill) {
			e.focus();
			await frame(); // a field may place its cursor first
			e.select?.();
			if (document.activeElement !== e) continue;
		}
		else {
			const hit = document.elementFromPoint(at[0], at[1]);
			if (!hit || !(e.contains(hit) || hit.contains(e) || [...(e.labels || [])].some(l => l.contains(hit)))) continue;
		}
		return { x: at[0], y: at[1], before: window.notTaken };
	}
	return null;
}`

// act does something at an element once it can be reached, and again when the page took no answer: the question may
// have changed just before.
func (p *page) act(what, text string, fill bool, do func(at proto.Point) error) {
	p.t.Helper()
	var err error
	for end := time.Now().Add(patience); time.Now().Before(end); time.Sleep(5 * time.Millisecond) {
		var res *proto.RuntimeRemoteObject
		if res, err = p.Eval(reach, what, text, fill); err != nil || res.Value.Nil() {
			continue
		}
		if err = do(proto.Point{X: res.Value.Get("x").Num(), Y: res.Value.Get("y").Num()}); err != nil {
			continue
		}
		if p.took(res.Value.Get("before").Int()) {
			return
		}
	}
	p.t.Fatalf("%s %q cannot be reached: %v", what, text, err)
}

// took reports whether the page has taken every answer since there were so many that it did not take.
func (p *page) took(before int) bool {
	res, err := p.Eval(`() => window.notTaken`) // a page that was left by it is another page
	return err != nil || res.Value.Int() <= before
}

func (p *page) press(what, text string) {
	p.t.Helper()
	p.act(what, text, false, p.click)
}

// click presses the left button of the mouse at a point. Every event of the mouse waits for a frame, so there are no
// more of them than it takes.
func (p *page) click(at proto.Point) error {
	for _, kind := range []proto.InputDispatchMouseEventType{proto.InputDispatchMouseEventTypeMousePressed,
		proto.InputDispatchMouseEventTypeMouseReleased} {
		e := proto.InputDispatchMouseEvent{Type: kind, X: at.X, Y: at.Y, Button: proto.InputMouseButtonLeft,
			ClickCount: 1}
		if err := e.Call(p.Page); err != nil {
			return err
		}
	}
	return nil
}

func (p *page) tap(what, text string) {
	p.t.Helper()
	p.act(what, text, false, func(at proto.Point) error { return p.Touch.Tap(at.X, at.Y) })
}

func (p *page) fill(label, text string) {
	p.t.Helper()
	p.act("field", label, true, func(proto.Point) error { return p.InsertText(text) })
}

func (p *page) key(keys ...input.Key) {
	p.t.Helper()
	for end := time.Now().Add(patience); ; {
		p.settled()
		before := p.MustEval(`() => window.notTaken`).Int()
		require.NoError(p.t, p.Keyboard.Type(keys...))
		if p.took(before) {
			return
		}
		require.False(p.t, time.Now().After(end), "the page takes no key")
	}
}

func (p *page) text(selector string) string {
	p.t.Helper()
	el, err := p.Timeout(patience).Element(selector)
	require.NoError(p.t, err, selector)
	s, err := el.Text()
	require.NoError(p.t, err)
	return s
}

func (p *page) eventually(what string, ok func() bool) {
	p.t.Helper()
	for end := time.Now().Add(patience); !ok(); time.Sleep(15 * time.Millisecond) {
		if time.Now().After(end) {
			p.t.Fatalf("never: %s", what)
		}
	}
}

func (p *page) signIn(name, pin string) {
	p.t.Helper()
	p.press("radio", name)
	p.fill("PIN of", pin)
	p.press("button", "^Sign in$")
	p.find("button", name+".*Change hands")
}

func (p *page) shot(name string) []byte {
	b, err := p.Screenshot(false, &proto.PageCaptureScreenshot{Format: proto.PageCaptureScreenshotFormatPng})
	require.NoError(p.t, err)
	require.NoError(p.t, os.MkdirAll("out", 0o755))
	require.NoError(p.t, os.WriteFile(filepath.Join("out", name+".png"), b, 0o644))
	return b
}

// axe gives what is serious or critical on the present view, by the rules named or by all.
func (p *page) axe(rules ...string) []string {
	p.t.Helper()
	src, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(p.t, err)
	_, err = proto.RuntimeEvaluate{Expression: string(src)}.Call(p.Page)
	require.NoError(p.t, err)
	res, err := p.Eval(`async rules => JSON.stringify(await axe.run(document, { preload: false, resultTypes: ['violations'], ...(rules ? { runOnly: rules } : {}) }))`, rules)
	require.NoError(p.t, err)
	var r struct {
		Violations []struct {
			ID, Impact, Help string
			Nodes            []struct{ HTML string }
		}
	}
	require.NoError(p.t, json.Unmarshal([]byte(res.Value.Str()), &r))
	var out []string
	for _, v := range r.Violations {
		if v.Impact == "serious" || v.Impact == "critical" {
			out = append(out, fmt.Sprintf("%s (%s): %s", v.ID, v.Help, v.Nodes[0].HTML))
		}
	}
	return out
}

// failures is where a failing test leaves what its pages showed.
const failures = "out/failed"

// failed keeps picture and text of what a failing test saw, and says where.
func (p *page) failed() {
	if !p.t.Failed() || os.MkdirAll(failures, 0o755) != nil {
		return
	}
	name := filepath.Join(failures, fmt.Sprintf("%s-%d", strings.ReplaceAll(p.t.Name(), "/", "-"), p.n))
	if b, err := p.Timeout(5*time.Second).Screenshot(false, nil); err == nil {
		_ = os.WriteFile(name+".png", b, 0o644)
	}
	if res, err := p.Timeout(5 * time.Second).Eval(`() => location.href + "\nwaits for: " +
		JSON.stringify([...window.asking]) + " at " + Math.round(performance.now()) + "\n\n" + document.body.innerText`); err == nil {
		_ = os.WriteFile(name+".txt", []byte(res.Value.Str()), 0o644)
	}
	p.t.Logf("what the page showed is kept in e2e/%s.png and .txt", name)
}
