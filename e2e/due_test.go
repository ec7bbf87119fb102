package e2e

import (
	"net"
	"net/http"
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/require"

	"dynacor/internal/notify"
	"dynacor/internal/standin"
)

// What falls due is seen, subscribed to by a calendar program, and mailed.
func TestFallsDueIsSeenSubscribedToAndMailed(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	box := standin.NewMailbox(nil)
	go func() { _ = box.Serve(ln) }()
	t.Cleanup(func() { _ = box.Close() })
	s.app.SetMailer(notify.Mailer{Address: ln.Addr().String(), From: "dynacor@tarn-skerry.example", Plain: true})
	s.works()

	p := open(t, s.URL, 1280, 800)
	p.signIn("I. Quaye", pins["I. Quaye"])
	p.press("link", "^Falls due$")
	p.find("any", "its calibration certificate ends")
	p.press("button", "^The site's$")
	p.find("any", "its calibration certificate ends")
	p.press("button", "^Make a calendar of mine$")
	p.find("any", "The address, told this once")
	address := p.text(".due .address")
	require.Empty(t, p.axe())
	p.shot("due")
	res, err := http.Get(address)
	require.NoError(t, err)
	defer res.Body.Close()
	require.Equal(t, http.StatusOK, res.StatusCode)
	require.True(t, strings.HasPrefix(res.Header.Get("Content-Type"), "text/calendar"))
	c, err := ics.ParseCalendar(res.Body)
	require.NoError(t, err)
	require.NotEmpty(t, c.Events())
	p.press("button", "^Withdraw it$")
	p.gone("button", "^Withdraw it$")
	gone, err := http.Get(address)
	require.NoError(t, err)
	gone.Body.Close()
	require.Equal(t, http.StatusNotFound, gone.StatusCode)

	p.fill("Your mail address", "quaye@tarn-skerry.example")
	p.press("button", "^Keep it$")
	p.eventually("the address is kept",
		func() bool {
			return p.MustEval(`() => [...document.querySelectorAll('.mail-to button')].every(b => b.disabled)`).Bool()
		})
	p.press("button", "^Send everybody their mail now$")
	require.Eventually(t, func() bool { return len(box.Mails()) > 0 }, 20*time.Second, 50*time.Millisecond)
	require.Contains(t, box.Mails()[0].Text, "Subject: ")
	p.find("any", "^mail$")
	p.find("any", "^done$")
	p.shot("due-background")
	require.Empty(t, p.axe())

	small := open(t, s.URL, 390, 844)
	small.signIn("M. Tolley", "4071")
	small.visit("/due")
	small.find("heading", "^Falls due$")
	require.False(t, small.has("heading", "^Work in the background$"), "a technician has no use for it")
	small.shot("due-phone")
}
