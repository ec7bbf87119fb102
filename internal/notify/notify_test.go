package notify_test

import (
	"bytes"
	"context"
	"net"
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/require"

	"dynacor/core/due"
	"dynacor/internal/notify"
	"dynacor/internal/standin"
)

// A feed is read back by the calendar library: names that stay, times in UTC, days as days, lines as the standard has
// them.
func TestFeedIsACalendar(t *testing.T) {
	at := time.Date(2026, 12, 1, 7, 30, 0, 0, time.FixedZone("", 3600))
	list := []due.Item{
		{Kind: due.Work, Key: "SW-111 tighten", Says: "SW-111 tighten; bring W-40, S4-36", From: at,
			To: at.Add(time.Hour)},
		{Kind: due.Calibration, Key: "W-40", Says: "W-40: its certificate ends", From: time.Date(2026, 12, 24, 0, 0,
			0, 0, time.FixedZone("", 36000)),
			AllDay: true}}
	var out bytes.Buffer
	require.NoError(t, notify.WriteFeed(&out, "M. Tolley", "tarn-skerry", at, list))
	require.NotContains(t, strings.ReplaceAll(out.String(), "\r\n", ""), "\n")
	c, err := ics.ParseCalendar(&out)
	require.NoError(t, err)
	require.Len(t, c.Events(), 2)
	work, day := c.Events()[0], c.Events()[1]
	require.Equal(t, "work-SW-111-tighten@tarn-skerry", work.Id())
	start, err := work.GetStartAt()
	require.NoError(t, err)
	require.True(t, at.Equal(start))
	end, err := work.GetEndAt()
	require.NoError(t, err)
	require.Equal(t, time.Hour, end.Sub(start))
	require.Equal(t, "SW-111 tighten; bring W-40, S4-36",
		ics.FromText(work.GetProperty(ics.ComponentPropertySummary).Value))
	require.Equal(t, "20261224", day.GetProperty(ics.ComponentPropertyDtStart).Value)
	require.Equal(t, "20261225", day.GetProperty(ics.ComponentPropertyDtEnd).Value)
}

// Mail reaches the stand-in whole; one that is not there is an error, which has the work tried again.
func TestMailIsSent(t *testing.T) {
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	got := make(chan standin.Mail, 1)
	box := standin.NewMailbox(func(m standin.Mail) { got <- m })
	go func() { _ = box.Serve(ln) }()
	m := notify.Mailer{Address: ln.Addr().String(), From: "dynacor@tarn-skerry.example", Plain: true}
	require.True(t, m.On())
	require.NoError(t, m.Check())
	require.NoError(t, m.Send(context.Background(), "tolley@tarn-skerry.example", "3 things fall due",
		"M. Tolley,\n\n- Tue 1 Dec: W-40\n"))
	mail := <-got
	require.Equal(t, []string{"tolley@tarn-skerry.example"}, mail.To)
	require.Contains(t, mail.Text, "Subject: 3 things fall due")
	require.Contains(t, mail.Text, "- Tue 1 Dec: W-40")
	require.Len(t, box.Mails(), 1)
	require.Error(t, m.Send(context.Background(), "no address", "x", "y"))
	require.NoError(t, box.Close())
	require.Error(t, m.Send(context.Background(), "tolley@tarn-skerry.example", "x", "y"))
}

// What cannot be meant is refused when the program starts; plain text never leaves the machine.
func TestMailServerIsChecked(t *testing.T) {
	require.NoError(t, notify.Mailer{}.Check())
	for _, m := range []notify.Mailer{{Address: "mail"}, {Address: ":25", From: "a@b.example"}, {Address: "mail:smtp",
		From: "a@b.example"},
		{Address: "mail:25", From: "nobody"}, {Address: "192.0.2.4:25", From: "a@b.example", Plain: true},
		{Address: "mail:25", From: "a@b.example", Plain: true}} {
		require.Error(t, m.Check(), "%+v", m)
	}
	require.NoError(t, notify.Mailer{Address: "mail.example:587", From: "a@b.example"}.Check())
}
