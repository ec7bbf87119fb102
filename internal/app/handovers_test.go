package app_test

import (
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/handover"
	"dynacor/core/quantity"
	"dynacor/internal/app"
)

// A shift is handed over: written by the program, added to by a person, read and signed by another who has found every
// open run as it is told; once.
func TestShiftIsHandedOver(t *testing.T) {
	b := newBench(t, true)
	tolley, quaye := b.crew["M. Tolley"], b.crew["I. Quaye"]
	d, err := b.DraftHandover(ctx, tolley)
	require.NoError(t, err)
	require.Empty(t, d.ID)
	require.NotEmpty(t, d.Note.Open)
	require.NotEmpty(t, d.Note.Tools, "E-03 is out")
	settings := 0
	for _, o := range d.Note.Open {
		require.NotEmpty(t, o.Last, o.Tag)
		require.NotEmpty(t, o.Condition, o.Tag)
		if o.Setting != "" {
			settings++
		}
	}
	require.Positive(t, settings)

	v, err := b.WriteHandover(ctx, tolley, " The crane is back at nine. ")
	require.NoError(t, err)
	require.Equal(t, "The crane is back at nine.", v.Words)
	var all []string
	for _, o := range v.Note.Open {
		all = append(all, o.RunID)
	}
	take := func(who app.Actor, pin string, confirmed []string) error {
		_, err := b.TakeHandover(ctx, who, v.ID, app.HandoverTake{PersonID: who.ID, PIN: pin, Confirmed: confirmed})
		return err
	}
	r, ok := quantity.RefusalIn(take(tolley, "4071", all))
	require.True(t, ok)
	require.Equal(t, "personId", r.Field, "not whoever wrote it")
	r, ok = quantity.RefusalIn(take(quaye, "5826", all[1:]))
	require.True(t, ok)
	require.Equal(t, "confirmed", r.Field)
	problem(t, take(quaye, "0000", all), app.NotSignedIn, "do not go together")
	problem(t, take(b.crew["R. Abara"], "9340", all), app.Forbidden, "is taken over by")
	require.NoError(t, take(quaye, "5826", all))
	problem(t, take(quaye, "5826", all), app.Conflict, "I. Quaye has taken this shift over already")

	list, err := b.Handovers(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1)
	require.Equal(t, "I. Quaye", list[0].TakenBy)
	require.Equal(t, all, list[0].Confirmed)
	b.now = b.now.Add(time.Hour)
	next, err := b.DraftHandover(ctx, quaye)
	require.NoError(t, err)
	require.True(t, next.Note.From.Equal(list[0].Note.To), "it goes on where the last one ended")
	_, err = b.WriteHandover(ctx, quaye, strings.Repeat("x", handover.MostWords+1))
	problem(t, err, app.Invalid, "longer than")
	_, err = b.TakeHandover(ctx, quaye, uuid.NewString(), app.HandoverTake{})
	problem(t, err, app.NotFound, "no note")
}
