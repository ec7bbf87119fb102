package e2e

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"
)

// finder looks for the visible element of a role or tag whose accessible name or text matches. What matches nowhere is
// found out by one look at the text of the page, because it runs at every frame until the thing is there.
const finder = `(what, text, exact) => {
	const pick = { button: 'button, [role=button], a.btn, label.btn', link: 'a', radio: '[role=radio]', menuitem: '[role=menuitem]', option: '[role=option]', field: 'input, textarea, select', heading: 'h1, h2', any: 'body *' }[what] || what;
	const norm = s => (s || '').replace(/\s+/g, ' ').trim();
	const shown = e => { const r = e.getBoundingClientRect(); return r.width > 0 && r.height > 0 && getComputedStyle(e).visibility !== 'hidden' };
	const re = new RegExp(text, 'i');
	const inner = e => norm(e.innerText ?? e.textContent);
	const names = e => {
		const n = [norm(e.getAttribute('aria-label')), inner(e), norm(e.placeholder)];
		if (e.labels) for (const l of e.labels) n.push(norm(l.innerText));
		return n.filter(Boolean);
	};
	const hits = [];
	const look = e => {
		if (e.closest('[aria-hidden=true]') || !(shown(e) || e.type === 'file')) return;
		const n = names(e);
		if (n.some(n => exact ? n === text : re.test(n))) hits.push({ e, length: n[0].length });
	};
	if (what === 'any' && !text.includes('[^')) {
		const loose = new RegExp(text.replace(/(^|[^\\])[\^$]/g, '$1'), 'i'); // what a part says, the whole says too
		const within = e => {
			if (!loose.test(inner(e))) return;
			look(e);
			for (const c of e.children) within(c);
		};
		for (const c of document.body.children) within(c);
		for (const e of document.querySelectorAll('[aria-label], input, textarea, select')) if (!hits.some(h => h.e === e)) look(e);
	} else for (const e of document.querySelectorAll(pick)) look(e);
	hits.sort((a, b) => a.length - b.length);
	return hits[0]?.e ?? null;
}`

// find waits for an element; what is button, link, radio, field, heading, any or a selector.
func (p *page) find(what, text string) *rod.Element {
	p.t.Helper()
	for end := time.Now().Add(patience); time.Now().Before(end); time.Sleep(5 * time.Millisecond) {
		// A while at a time, so that a page that was left in between is looked at anew.
		js := `async (what, text) => {
			const find = ` + finder + `;
			// To look costs the page its time: soon at first, then less often.
			for (let began = Date.now(), wait = 10; Date.now() < began + 2000; wait = Math.min(60, wait * 1.6)) {
				const e = find(what, text, false);
				if (e) return e;
				await new Promise(done => setTimeout(done, wait));
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
	for end := time.Now().Add(patience); p.has(what, text); time.Sleep(40 * time.Millisecond) {
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
	const began = Date.now();
	let wait = 10; // to look costs the page its time: soon at first, then less often
	for (; Date.now() < began + 2000; await frame()) {
		if (document.querySelector('[data-settling]')) continue;
		if (window.asking.size > 0 && Date.now() < began + 1000) continue; // what comes may move everything
		const e = find(what, text, false);
		if (!e || e.disabled || e.closest('fieldset[disabled]')) {
			await new Promise(done => setTimeout(done, wait));
			wait = Math.min(60, wait * 1.6);
			continue;
		}
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
			if (!hit || !(e.contains(hit) || hit.contains(e) || [...(e.labels || [])].some(l => l.contains(hit)))) {
				e.scrollIntoView({ block: 'center', inline: 'center', behavior: 'instant' }); // something lies over it
				continue;
			}
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
	p.touches++
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
	p.touches++
	p.act(what, text, false, func(at proto.Point) error { return p.Touch.Tap(at.X, at.Y) })
}

func (p *page) fill(label, text string) {
	p.t.Helper()
	p.touches, p.keys = p.touches+1, p.keys+len([]rune(text))
	p.act("field", label, true, func(proto.Point) error { return p.InsertText(text) })
}

func (p *page) key(keys ...input.Key) {
	p.t.Helper()
	for end := time.Now().Add(patience); ; {
		p.settled()
		before := p.MustEval(`() => window.notTaken`).Int()
		require.NoError(p.t, p.Keyboard.Type(keys...))
		if slices.ContainsFunc(keys, func(k input.Key) bool { return k > ' ' && k < 127 }) {
			time.Sleep(60 * time.Millisecond) // the page waits a moment whether it is a scanner that types
		}
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

// visit goes to a path as a link does: the application stays loaded.
func (p *page) visit(path string) {
	p.t.Helper()
	p.MustEval(`path => { history.pushState({}, '', path); dispatchEvent(new PopStateEvent('popstate')) }`, path)
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

// shot keeps a picture in e2e/out, to be looked at, when DYNACOR_SHOTS is set: each costs a quarter of a second.
func (p *page) shot(name string) {
	if os.Getenv("DYNACOR_SHOTS") == "" {
		return
	}
	p.picture(name)
}

func (p *page) picture(name string) []byte {
	b, err := p.Screenshot(false, &proto.PageCaptureScreenshot{Format: proto.PageCaptureScreenshotFormatPng})
	require.NoError(p.t, err)
	require.NoError(p.t, os.MkdirAll("out", 0o755))
	require.NoError(p.t, os.WriteFile(filepath.Join("out", name+".png"), b, 0o644))
	return b
}

// axe gives what is serious or critical on the present view, by the rules named or by all.
func (p *page) axe(rules ...string) []string {
	p.t.Helper()
	if there, err := p.Eval(`() => !!window.axe`); err != nil || !there.Value.Bool() {
		src, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
		require.NoError(p.t, err)
		_, err = proto.RuntimeEvaluate{Expression: string(src)}.Call(p.Page)
		require.NoError(p.t, err)
	}
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
