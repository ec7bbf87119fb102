// Package e2e drives the real interface in Chromium against the real server and a real PostgreSQL.
package e2e

import (
	"bufio"
	"context"
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
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"

	"dynacor/internal/app"
	"dynacor/internal/demo/demotest"
	"dynacor/internal/httpapi"
	"dynacor/internal/identity"
	"dynacor/internal/jobs"
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
		"disable-component-update", "disable-sync", "disable-dev-shm-usage", "disable-background-timer-throttling",
		"disable-backgrounding-occluded-windows", "disable-renderer-backgrounding"} {
		l = l.Set(flag(f))
	}
	l = l.Set("force-color-profile", "srgb").Set("font-render-hinting", "none").Set("lang", "en-GB").Set("window-size",
		"1280,800").Set("autoplay-policy", "no-user-gesture-required")
	pictures, err := film()
	if err != nil {
		return "", nil, err
	}
	camera := filepath.Join(dir, "camera.mjpeg")
	if err := os.WriteFile(camera, pictures, 0o600); err != nil {
		return "", nil, err
	}
	// every tab runs the rules for some seconds only: to make them faster costs more than it gains
	l = l.Set("js-flags", "--liftoff-only")
	// the browser's own windows, of which each takes a second to come up; the rest is what the launcher leaves out too
	l = l.Set("disable-features", "site-per-process,TranslateUI,WebUIOmniboxPopup,WebUIOmniboxAimPopup")
	l = l.Set("use-fake-device-for-media-stream").Set("use-fake-ui-for-media-stream").Set(
		"use-file-for-fake-video-capture", camera)
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
	// works lets the background work until the test ends
	works func()
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
	s.works = func() {
		wait, err := jobs.Start(until, a, pool, log, true)
		require.NoError(t, err)
		t.Cleanup(func() { cancel(); wait() })
	}
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
	// who signs as the other person; R. Abara of the demo site when nobody is named
	other string
	// what a person did with the page: touches of it, and keys
	touches, keys int
}

// second gives name and PIN of the other person.
func (p *page) second() (name, pin string) {
	if p.other != "" {
		return p.other, pins[p.other]
	}
	return "R. Abara", pins["R. Abara"]
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

// quick lets a question take its answer after 100 ms where it takes people 400: most of what a test waited for. The
// whole path by touch goes at the pace of a person.
const quick = `
const clock = performance.now.bind(performance), later = window.setTimeout;
performance.now = () => 4 * clock();
window.setTimeout = (f, ms, ...a) => later(f, ms === 400 ? 100 : ms, ...a);`

func openIn(t *testing.T, b *rod.Browser, url string, width, height int) *page {
	t.Helper()
	return openWith(t, b, url, width, height, atRest+noWorker+quick)
}

// openAtPace is a tab in which a question takes its answers when it does for people.
func openAtPace(t *testing.T, url string, width, height int) *page {
	t.Helper()
	return openWith(t, browser(t), url, width, height, atRest+noWorker)
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
	// two pages are driven at a time, and each is to take its keys
	require.NoError(t, proto.EmulationSetFocusEmulationEnabled{Enabled: true}.Call(rp))
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
	p := &page{Page: rp, t: t, n: pages.n[t.Name()]}
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
