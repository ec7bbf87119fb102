package app_test

import (
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/internal/app"
)

// What is seen at no joint of the register is noted, signed with the looks of the walk, told to whoever leads and to the
// next shift, and stays open until somebody says what became of it.
func TestPlantNoteIsToldUntilItIsClosed(t *testing.T) {
	b := newBench(t, true)
	data := drawn(t, 90)
	note := app.Look{ID: uuid.NewString(), Tag: "SW-171", At: b.now.Add(-time.Hour), Note: " A plate that is in no register, at the strainer. ",
		Photo: uuid.NewString(), PhotoSHA256: sum(data)}
	mute, unnamed, old := note, note, note
	mute.ID, mute.Note = uuid.NewString(), "  oil  "
	unnamed.ID, unnamed.PhotoSHA256 = uuid.NewString(), "x"
	old.ID, old.At = uuid.NewString(), b.now.Add(-8*24*time.Hour)
	out := b.signed(t, note, mute, unnamed, old)
	require.Empty(t, out[0].Refused)
	require.Nil(t, out[0].Joint)
	require.Equal(t, []string{"", "note", "photo", "at"}, []string{out[0].Field, out[1].Field, out[2].Field, out[3].Field})
	require.Empty(t, b.signed(t, note)[0].Refused, "sent again")

	list, err := b.PlantNotes(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1)
	list[0].SeenAt = list[0].SeenAt.UTC()
	require.Equal(t, app.PlantNote{ID: note.ID, Tag: "SW-171", Words: "A plate that is in no register, at the strainer.",
		SeenAt: note.At, By: "R. Abara", Photo: true}, list[0])
	_, err = b.NotePhoto(ctx, note.ID)
	problem(t, err, app.NotFound, "picture")
	problem(t, b.PutNotePhoto(ctx, b.crew["M. Tolley"], note.ID, data), app.Forbidden, "somebody else")
	problem(t, b.PutNotePhoto(ctx, b.crew["R. Abara"], note.ID, drawn(t, 91)), app.Invalid, "not the picture that was signed")
	problem(t, b.PutNotePhoto(ctx, b.crew["R. Abara"], uuid.NewString(), data), app.NotFound, "note")
	require.NoError(t, b.PutNotePhoto(ctx, b.crew["R. Abara"], note.ID, data))
	require.NoError(t, b.PutNotePhoto(ctx, b.crew["R. Abara"], note.ID, data), "sent again")
	_, err = b.pool.Exec(ctx, "update plant_notes set picture = $1", drawn(t, 91))
	require.ErrorContains(t, err, "stays as it came")
	p, err := b.NotePhoto(ctx, note.ID)
	require.NoError(t, err)
	require.Equal(t, "image/jpeg", p.MediaType)

	line := "SW-171: A plate that is in no register, at the strainer. (R. Abara, 23 Nov 08:00)"
	lead := b.crew["I. Quaye"]
	draft, err := b.DraftHandover(ctx, lead)
	require.NoError(t, err)
	require.Equal(t, []string{line}, draft.Note.Noted)
	require.Contains(t, hand(t, b, lead, "Noted on walk-rounds"), line)

	_, err = b.ClosePlantNote(ctx, lead, note.ID, "no")
	problem(t, err, app.Invalid, "says nothing")
	list, err = b.ClosePlantNote(ctx, lead, note.ID, "Joint SW-118 was made for it.")
	require.NoError(t, err)
	require.Equal(t, "Joint SW-118 was made for it.", list[0].Became)
	require.Equal(t, "I. Quaye", list[0].ClosedBy)
	require.True(t, list[0].Pictured)
	require.Empty(t, hand(t, b, lead, "Noted on walk-rounds"))
	b.now = b.now.Add(7 * 24 * time.Hour)
	list, err = b.PlantNotes(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1, "shown for a week")
	list, err = b.ClosePlantNote(ctx, lead, note.ID, "")
	require.NoError(t, err)
	require.Nil(t, list[0].ClosedAt, "open again")
	log, err := b.AuditLog(ctx, note.ID, 0)
	require.NoError(t, err)
	require.Equal(t, "opened again", log[0].Action)
	require.Equal(t, "Joint SW-118 was made for it.", log[0].Before)
	_, err = b.ClosePlantNote(ctx, lead, note.ID, "It is a spare.")
	require.NoError(t, err)
	b.now = b.now.Add(7*24*time.Hour + time.Second)
	list, err = b.PlantNotes(ctx)
	require.NoError(t, err)
	require.Empty(t, list)
}

// hand gives the lines of one of the lists that somebody has on Today.
func hand(t *testing.T, b *bench, who app.Actor, title string) []string {
	t.Helper()
	v, err := b.Today(ctx, who)
	require.NoError(t, err)
	var out []string
	for _, h := range v.Hands {
		for _, l := range h.Lines {
			if h.Title == title {
				out = append(out, l.Text)
			}
		}
	}
	return out
}

// A picture of what was seen is kept behind the sealed record that names it: once, from whom it is, and no other.
func TestPictureOfALook(t *testing.T) {
	b := newBench(t, true)
	data := drawn(t, 90)
	l := b.look(t, "TB-206", seen(nil))
	l.Photo, l.PhotoSHA256 = uuid.NewString(), sum(data)
	j, err := b.WalkJoint(ctx, "TB-206")
	require.NoError(t, err)
	abara := b.crew["R. Abara"]
	problem(t, b.PutPhoto(ctx, abara, j.Run, l.Photo, data), app.Closed, "sealed")
	require.Empty(t, b.signed(t, l)[0].Refused)
	problem(t, b.PutPhoto(ctx, abara, j.Run, uuid.NewString(), data), app.Closed, "sealed")
	problem(t, b.PutPhoto(ctx, b.crew["M. Tolley"], j.Run, l.Photo, data), app.Forbidden, "R. Abara added")
	problem(t, b.PutPhoto(ctx, abara, j.Run, l.Photo, drawn(t, 91)), app.Invalid, "not the picture that was signed")
	require.NoError(t, b.PutPhoto(ctx, abara, j.Run, l.Photo, data))
	require.NoError(t, b.PutPhoto(ctx, abara, j.Run, l.Photo, data), "sent again")
	v, err := b.Record(ctx, l.Record)
	require.NoError(t, err)
	v, err = b.WithPhotos(ctx, v)
	require.NoError(t, err)
	require.Contains(t, v.Photos, l.Photo)
	held, err := b.VerifyAll(ctx, nil)
	require.NoError(t, err)
	require.Empty(t, held.Problems)
	b.owner(t, `update photos set bytes = $1, sha256 = $2 where id = $3`, drawn(t, 91), sum(drawn(t, 91)), l.Photo)
	held, err = b.VerifyAll(ctx, nil)
	require.NoError(t, err)
	require.Contains(t, held.Problems[0], "is not the one its entry names")
}
