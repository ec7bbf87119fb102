package e2e

import (
	"fmt"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/internal/app"
	"dynacor/internal/demo"
)

// A board of 500 joints is planned and scrolls with a frame every 1/60 of a second, most of the time: this browser draws
// without a graphics card. It runs in the soak alone: its figures mean something on a machine that does nothing else.
func TestSoakBoardOf500Joints(t *testing.T) {
	if os.Getenv("DYNACOR_SOAK") == "" {
		t.Skip("long: make soak")
	}
	s := newSite(t, true)
	lines := strings.Split(strings.TrimSpace(string(demo.Register)), "\n")
	list := lines[0] + "\n"
	for n := range 500 {
		// the third joint of the register, with other tags
		list += strings.Replace(strings.Replace(lines[4], "SW-114", fmt.Sprintf("BB-%03d", n), 1), "WP-47,Cooler swap",
			"WP-95,Five hundred", 1) + "\n"
	}
	got, err := s.app.Import(t.Context(), actorOf(t, s, "J. Hartwell"), []byte(list), true)
	require.NoError(t, err)
	require.Empty(t, got.Errors)
	began := time.Now()
	q := app.ShiftQuery{Package: "WP-95", Day: time.Now().AddDate(0, 0, 1).Format(time.DateOnly), Days: 14}
	q.Shift.From, q.Shift.To = "00:00", "23:50"
	_, err = s.app.PutShiftInForce(t.Context(), actorOf(t, s, "I. Quaye"), q, 0)
	require.NoError(t, err)
	t.Logf("planned in %s", time.Since(began).Round(time.Second))

	p := open(t, s.URL, 1280, 800)
	p.signIn("I. Quaye", pins["I. Quaye"])
	p.visit("/shift?package=WP-95")
	p.find("any", "In force since")
	bars := p.MustEval(`() => document.querySelectorAll('[data-bar]').length`).Int()
	gaps := p.MustEval(`() => new Promise(done => {
		const box = document.querySelector('.board-scroll');
		const times = [];
		const step = t => {
			times.push(t);
			box.scrollLeft += 24;
			if (times.length < 240) requestAnimationFrame(step);
			else done(times.slice(1).map((t, i) => t - times[i]).sort((a, b) => a - b));
		};
		requestAnimationFrame(step);
	})`).Arr()
	middle, p95 := gaps[len(gaps)/2].Num(), gaps[len(gaps)*95/100].Num()
	t.Logf("%d bars; a frame takes %.1f ms in the middle, %.1f ms in 95 of 100", bars, middle, p95)
	require.Greater(t, bars, 500)
	require.Less(t, middle, 1000.0/60*1.1)
	require.Less(t, p95, 1000.0/60*3)
}
