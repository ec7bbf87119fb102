package e2e

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"

	"dynacor/internal/app"
)

// layoutFaults looks at everything that is shown: controls that lie on one another, text that is cut off, a page that
// is wider than the window, a main act out of sight, and names that only the program should know. What scrolls inside
// its own box may be wider than it.
const layoutFaults = `() => {
	const shown = e => { const r = e.getBoundingClientRect(), s = getComputedStyle(e); return r.width > 1 && r.height > 1 && s.visibility !== 'hidden' && +s.opacity > 0.05 };
	const name = e => ((e.getAttribute('aria-label') || e.innerText || e.placeholder || e.tagName) + '').replace(/\s+/g, ' ').trim().slice(0, 40) + ' <' + e.tagName.toLowerCase() + '.' + (e.className?.baseVal ?? e.className ?? '').toString().split(' ').slice(0, 2).join('.') + '>';
	const out = [];
	if (document.documentElement.scrollWidth > innerWidth + 1) out.push('the page is ' + document.documentElement.scrollWidth + ' px wide');
	const seen = e => {
		let r = e.getBoundingClientRect();
		let b = { l: r.left, t: r.top, r: r.right, b: r.bottom };
		for (let p = e.parentElement; p; p = p.parentElement) {
			const s = getComputedStyle(p);
			if (s.overflowX !== 'visible' || s.overflowY !== 'visible') {
				const q = p.getBoundingClientRect();
				b = { l: Math.max(b.l, q.left), t: Math.max(b.t, q.top), r: Math.min(b.r, q.right), b: Math.min(b.b, q.bottom) };
			}
			if (s.position === 'fixed') break;
		}
		return b.r - b.l > 2 && b.b - b.t > 2 ? b : null;
	};
	const stays = e => { // what stays in its place while the rest scrolls under it
		for (let p = e; p; p = p.parentElement) if (['sticky', 'fixed'].includes(getComputedStyle(p).position)) return p;
		return null;
	};
	const acts = [...document.querySelectorAll('button, a[href], input, select, textarea, [role=button]')].filter(e => shown(e) && !e.closest('svg') && e.type !== 'file' && !e.closest('[aria-hidden=true]'));
	const boxes = acts.map(e => [e, seen(e)]).filter(x => x[1]);
	for (let i = 0; i < boxes.length; i++) for (let j = i + 1; j < boxes.length; j++) {
		const [a, p] = boxes[i], [b, q] = boxes[j];
		if (a.contains(b) || b.contains(a) || stays(a) !== stays(b)) continue;
		const w = Math.min(p.r, q.r) - Math.max(p.l, q.l), h = Math.min(p.b, q.b) - Math.max(p.t, q.t);
		if (w > 4 && h > 4) out.push(name(a) + ' lies on ' + name(b));
	}
	for (const e of document.querySelectorAll('button, .btn, h1, h2, th, label, .lab, b, .ch')) {
		if (!shown(e) || e.closest('svg, [aria-hidden=true]')) continue;
		const s = getComputedStyle(e);
		if (s.overflowX === 'auto' || s.overflowX === 'scroll') continue;
		if (e.scrollWidth > e.clientWidth + 2 && e.clientWidth > 0 && s.display !== 'inline' && s.textOverflow !== 'ellipsis') out.push('cut off: ' + name(e));
		if (e.matches('button, .btn') && e.scrollHeight > e.clientHeight + 3) out.push('cut off below: ' + name(e));
	}
	const main = [...document.querySelectorAll('.btn.now')].filter(shown)[0];
	if (main) {
		const r = main.getBoundingClientRect();
		if (r.bottom > innerHeight + 1 || r.top < 0 || r.right > innerWidth + 1) out.push('the main act is out of sight: ' + name(main) + ' ends at ' + Math.round(r.bottom));
	}
	for (const word of document.body.innerText.match(/\b[a-z]+(_[a-z0-9]+)+\b/g) || [])
		if (!word.startsWith('dynacor_')) out.push('a name of the program: ' + word);
	return [...new Set(out)];
}`

// mayScroll are the views that are long by nature: a form or a list ends with its main act.
var mayScroll = []string{"/joints/new", "/joints/tests/new", "/joints/import", "/bench/", "/library", "/site"}

// Every route with the demo data at three widths: nothing lies on anything else, no word is cut off, and the main act
// is in sight.
func TestLayoutOfEveryRoute(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	number := ""
	{
		page, err := s.app.Records(t.Context(), app.RecordSearch{Limit: 1})
		require.NoError(t, err)
		number = page.Rows[0].Number
	}
	routes := []string{"/", "/joints", "/joints?glyph=ready", "/joints/new", "/joints/import", "/crib", "/crib?view=tools",
		"/crib?view=find", "/crib?view=doubts", "/crib/import", "/bench", "/bench/torque_from_preload", "/library",
		"/library?shelf=rules", "/library?shelf=materials", "/library?shelf=gaskets", "/library?shelf=threads",
		"/library?shelf=tables", "/library?shelf=flanges", "/library?shelf=procedures",
		"/library?shelf=procedures&value=ball_valve_multi", "/records", "/records/" + number, "/verify", "/keys", "/audit", "/numbers", "/elsewhere", "/books", "/books/WP-47", "/shift?package=WP-47", "/shift/constraints?package=WP-47&at=SW-116", "/shift/import?package=WP-47", "/labels?of=joints", "/scan", "/due?all=true", "/handover", "/walk?at=SW-111", "/lab?tag=SW-114", "/walk?at=TB-206&check=true", "/shift?package=SD-26", "/shift/constraints?package=SD-26", "/progress?package=WP-47", "/needs?package=WP-47",
		"/joints/TB-206/life", "/joints/tests", "/joints/tests/new", "/joints/tests/LT-07", "/joints/tests/LT-08", "/site",
		"/site?view=plant", "/site?view=running", "/joints/SW-112", "/joints/SW-114", "/joints/SW-115", "/joints/SW-117", "/joints/SW-111",
		"/joints/BV-14", "/joints/SD-21", "/joints/TB-212", "/joints/PC-02", "/joints/GB-02"}
	var faults []string
	// a desk's window is drawn down to a tablet's, as people do
	for _, sizes := range [][][2]int{{{1280, 800}, {1024, 768}}, {{390, 844}}} {
		p := open(t, s.URL, sizes[0][0], sizes[0][1])
		p.signIn("B. Ode", "6193")
		for _, path := range routes {
			p.visit(path)
			for _, at := range sizes {
				require.NoError(t, proto.EmulationSetDeviceMetricsOverride{Width: at[0], Height: at[1],
					DeviceScaleFactor: 1, Mobile: at[0] < 600}.Call(p))
				p.eventually("the page has come", func() bool {
					res, err := p.Eval(`() => new Promise(done => setTimeout(() => done(window.asking?.size === 0 &&
						document.querySelector('main')?.innerText.length > 10 &&
						!/One moment|Fetching|Read and Ready come first/.test(document.querySelector('main').innerText.slice(0, 40))), 150))`)
					return err == nil && res.Value.Bool()
				})
				res, err := p.Eval(layoutFaults)
				require.NoError(t, err)
				long := slices.ContainsFunc(mayScroll, func(m string) bool { return strings.HasPrefix(path, m) })
				for _, f := range res.Value.Arr() {
					if long && strings.HasPrefix(f.Str(), "the main act") {
						continue
					}
					faults = append(faults, fmt.Sprintf("%d %s: %s", at[0], path, f.Str()))
				}
			}
		}
	}
	require.Empty(t, faults, strings.Join(faults, "\n"))
}

// The contract can be read in a page that comes with the program.
func TestContractIsShown(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	p := open(t, s.URL, 1280, 800)
	p.signIn("B. Ode", "6193")
	require.NoError(t, p.Navigate(s.URL+"/contract.html"))
	p.eventually("the contract is read", func() bool {
		res, err := p.Eval(`() => !!document.querySelector('rapi-doc')?.shadowRoot?.textContent.includes('Sign in with name and PIN')`)
		return err == nil && res.Value.Bool()
	})
	p.shot("contract")
}
