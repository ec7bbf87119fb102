package app_test

import (
	"bytes"
	"slices"
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/require"

	"dynacor/core/due"
	"dynacor/core/record"
	"dynacor/internal/app"
)

// What falls due is made by rules from the crib, trainings, records and plans in force; each sees what is theirs.
func TestFallsDueIsMadeByRules(t *testing.T) {
	b := newBench(t, true)
	quaye, tolley := b.crew["I. Quaye"], b.crew["M. Tolley"]
	kinds := func(who app.Actor, mine bool) map[due.Kind]int {
		v, err := b.FallsDue(ctx, who)
		require.NoError(t, err)
		out := map[due.Kind]int{}
		for _, i := range v.Items {
			if i.Mine == mine {
				out[i.Kind]++
			}
			require.NotEmpty(t, i.Word)
			require.NotEmpty(t, i.Says)
		}
		return out
	}
	before := kinds(quaye, true)
	require.Positive(t, before[due.Calibration])
	require.Zero(t, before[due.Retorque])
	require.Zero(t, kinds(tolley, true)[due.Calibration], "certificates are no matter of a technician")

	lib, err := b.HouseRules(ctx)
	require.NoError(t, err)
	r := lib.Versions[0].Rules
	r.RetorqueHours = 100
	_, err = b.PutHouseRules(ctx, b.crew["J. Hartwell"], app.HouseRulesInput{Rules: r, Reason: "gaskets settle"})
	require.NoError(t, err)
	require.Positive(t, kinds(tolley, true)[due.Retorque])

	require.NoError(t, b.ChangeMember(ctx, tolley.ID, app.MemberChange{Training: &app.Training{About: "tool", Code: "click",
		Until: b.now.AddDate(0, 0, 20).Format(time.DateOnly)}}))
	require.Equal(t, 1, kinds(tolley, true)[due.Training], "their own")
	require.Positive(t, kinds(quaye, true)[due.Training], "a lead hears of everybody's")

	b.now = time.Date(2026, 12, 1, 6, 0, 0, 0, time.UTC)
	_, err = b.PutShiftInForce(ctx, quaye, shiftOf("WP-47"), 0)
	require.NoError(t, err)
	require.Positive(t, kinds(tolley, true)[due.Work])
	v, err := b.FallsDue(ctx, tolley)
	require.NoError(t, err)
	require.True(t, slices.IsSortedFunc(v.Items, func(x, y app.DueItem) int { return x.From.Compare(y.From) }))
}

// A calendar is read by its secret address alone, until it is withdrawn or its person has left.
func TestCalendarIsReadByItsAddress(t *testing.T) {
	b := newBench(t, true)
	tolley, quaye := b.crew["M. Tolley"], b.crew["I. Quaye"]
	b.now = time.Date(2026, 12, 1, 6, 0, 0, 0, time.UTC)
	_, err := b.PutShiftInForce(ctx, quaye, shiftOf("WP-47"), 0)
	require.NoError(t, err)
	_, err = b.MakeFeed(ctx, tolley, true)
	problem(t, err, app.Forbidden, "takes a lead or an engineer")
	own, err := b.MakeFeed(ctx, tolley, false)
	require.NoError(t, err)
	token := strings.TrimPrefix(own.Path, "/api/calendar/")
	read := func(token string) []*ics.VEvent {
		data, err := b.Calendar(ctx, token)
		require.NoError(t, err)
		c, err := ics.ParseCalendar(bytes.NewReader(data))
		require.NoError(t, err)
		return c.Events()
	}
	mine := read(token)
	require.NotEmpty(t, mine)
	first := mine[0].Id()
	require.Equal(t, first, read(token)[0].Id(), "known again")
	whole, err := b.MakeFeed(ctx, quaye, true)
	require.NoError(t, err)
	require.Greater(t, len(read(strings.TrimPrefix(whole.Path, "/api/calendar/"))), len(mine))

	rows, err := b.Feeds(ctx, tolley)
	require.NoError(t, err)
	require.Len(t, rows, 2)
	require.NotNil(t, rows[0].ReadAt)
	require.Empty(t, rows[0].Path, "told once")
	require.Error(t, b.WithdrawFeed(ctx, tolley, whole.ID), "that of the site is not theirs")
	require.Error(t, b.WithdrawFeed(ctx, quaye, own.ID), "nor is another's")
	require.NoError(t, b.WithdrawFeed(ctx, tolley, own.ID))
	_, err = b.Calendar(ctx, token)
	problem(t, err, app.NotFound, "no such calendar")
	_, err = b.Calendar(ctx, "guessed.ics")
	problem(t, err, app.NotFound, "no such calendar")

	again, err := b.MakeFeed(ctx, tolley, false)
	require.NoError(t, err)
	require.NoError(t, b.RetirePerson(ctx, tolley.Name))
	_, err = b.Calendar(ctx, strings.TrimPrefix(again.Path, "/api/calendar/"))
	problem(t, err, app.NotFound, "no such calendar")
	for range 9 {
		_, err = b.MakeFeed(ctx, quaye, true)
		require.NoError(t, err)
	}
	_, err = b.MakeFeed(ctx, quaye, true)
	problem(t, err, app.Conflict, "10 calendars already")
}

// A joint that went warm and cold again is due to be looked at until somebody did.
func TestHeatCyclesFallDue(t *testing.T) {
	b := newBench(t, true)
	tolley := b.crew["M. Tolley"]
	count := func(who app.Actor, k due.Kind) (n int, first app.DueItem) {
		v, err := b.FallsDue(ctx, who)
		require.NoError(t, err)
		for _, i := range v.Items {
			if i.Kind == k && i.Mine {
				if n == 0 {
					first = i
				}
				n++
			}
		}
		return n, first
	}
	number := sealedNumber(t, b, "SW-111")
	b.now = b.now.Add(time.Hour)
	add := func(kind record.AdditionKind, after int, what string) {
		t.Helper()
		_, err := b.Add(ctx, tolley, number, app.AdditionInput{Kind: kind, After: after, PersonID: tolley.ID, PIN: "4071", What: what})
		require.NoError(t, err)
	}
	n, _ := count(tolley, due.HeatCheck)
	require.Zero(t, n)
	add(record.Heated, 0, "first start, 80 °C for six hours, cold again")
	n, i := count(tolley, due.HeatCheck)
	require.Equal(t, 1, n)
	require.Equal(t, "SW-111", i.Tag)
	require.Contains(t, i.Says, "look at it cold")
	require.WithinDuration(t, b.now.Add(24*time.Hour), i.From, time.Minute)
	add(record.Finding, 1, "paint has come off at bolt 3")
	n, _ = count(tolley, due.HeatCheck)
	require.Equal(t, 1, n, "a finding is not a look at it cold")
	add(record.Recheck, 2, "looked at cold: dry, marks in line")
	n, _ = count(tolley, due.HeatCheck)
	require.Zero(t, n)
	add(record.Heated, 3, "second start, 80 °C, cold again")
	n, _ = count(tolley, due.HeatCheck)
	require.Equal(t, 1, n)
	before := b.look(t, "SW-111", seen(nil))
	b.now = b.now.Add(time.Hour)
	before.At = before.At.Add(-5 * time.Minute) // seen without signal before the second start, signed after it
	require.Empty(t, b.signed(t, before)[0].Refused)
	n, _ = count(tolley, due.HeatCheck)
	require.Equal(t, 1, n, "what was seen before it is no look after it")
	require.Empty(t, b.signed(t, b.look(t, "SW-111", seen(nil)))[0].Refused)
	n, _ = count(tolley, due.HeatCheck)
	require.Zero(t, n)
	add(record.Heated, 6, "third start, 80 °C, cold again")

	lib, err := b.HouseRules(ctx)
	require.NoError(t, err)
	r := lib.Versions[0].Rules
	r.HeatCheckHours = 0
	_, err = b.PutHouseRules(ctx, b.crew["J. Hartwell"], app.HouseRulesInput{Rules: r, Reason: "the code says so"})
	require.NoError(t, err)
	n, _ = count(tolley, due.HeatCheck)
	require.Zero(t, n, "not asked for")
}
