package app

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"

	"dynacor/core/handover"
	"dynacor/core/run"
	"dynacor/core/walk"
	"dynacor/internal/picture"
	"dynacor/internal/store"
)

// PlantNote is what somebody saw on a walk that is at no joint of the register.
type PlantNote struct {
	ID       string     `json:"id"`
	Tag      string     `json:"tag"` // as it was read; "" without one
	Words    string     `json:"words"`
	SeenAt   time.Time  `json:"seenAt"`
	By       string     `json:"by"`
	Photo    bool       `json:"photo"`    // a picture was taken
	Pictured bool       `json:"pictured"` // and has arrived
	Became   string     `json:"became"`   // what became of it; "": it is open
	ClosedBy string     `json:"closedBy"`
	ClosedAt *time.Time `json:"closedAt,omitempty"`
}

const (
	mostPlantNotes = 200
	closedShown    = 7 * 24 * time.Hour // a closed note is shown so long
)

// PlantNotes lists those that are open, and those closed in the last week.
func (a *App) PlantNotes(ctx context.Context) ([]PlantNote, error) {
	since := a.now().Add(-closedShown)
	rows, err := a.q.PlantNotes(ctx, store.PlantNotesParams{Since: &since, N: mostPlantNotes})
	out := []PlantNote{}
	for _, r := range rows {
		out = append(out, PlantNote{
			ID:       r.ID.String(),
			Tag:      r.Tag,
			Words:    r.Words,
			SeenAt:   r.SeenAt,
			By:       r.Person,
			Photo:    r.Photo != "",
			Pictured: r.Pictured,
			Became:   r.ClosedWords,
			ClosedBy: r.ClosedBy,
			ClosedAt: r.ClosedAt,
		})
	}
	return out, err
}

// putNote keeps a look that is at no joint of the register. Refused: as in walk.CheckNote and walk.LookedAt, and a
// picture that is not named by its digest.
func (a *App) putNote(ctx context.Context, signer run.Person, l Look, clock time.Time) error {
	id, err := uuid.Parse(l.ID)
	if err != nil {
		return noIdentifier()
	}
	tag := strings.TrimSpace(l.Tag)
	if err := walk.CheckNote(tag, l.Note); err != nil {
		return err
	}
	if err := run.CheckPicture(l.Photo, l.PhotoSHA256); err != nil {
		return err
	}
	now := a.now()
	seen, err := walk.LookedAt(l.At, clock, now, time.Time{}, clockSlack)
	if err != nil {
		return err
	}
	if seen == nil {
		seen = &now
	}
	return a.q.InsertPlantNote(ctx, store.InsertPlantNoteParams{ID: id, Tag: tag, Words: strings.TrimSpace(l.Note),
		SeenAt: *seen, At: now, PersonID: uuid.MustParse(signer.ID), Photo: l.Photo, PhotoSha256: l.PhotoSHA256})
}

// PutNotePhoto keeps the picture that a note names. Refused: what is no picture, another one, and one of another
// person's note.
func (a *App) PutNotePhoto(ctx context.Context, who Actor, id string, data []byte) error {
	n, err := a.plantNote(ctx, id)
	if err != nil {
		return err
	}
	if n.PersonID.String() != who.ID {
		return &Problem{Kind: Forbidden, Title: "The picture belongs to a note of somebody else.", Field: "photo",
			Remedy: "It is sent when they sign in."}
	}
	if sum := sha256.Sum256(data); n.PhotoSha256 != hex.EncodeToString(sum[:]) {
		return &Problem{Kind: Invalid, Title: "This is not the picture that was signed.", Field: "photo",
			Remedy: "Make another note, with this picture."}
	}
	if len(n.Picture) > 0 {
		return nil // sent again, because the answer was lost
	}
	if _, err := picture.Check(data); err != nil {
		return notTaken(err)
	}
	drawn, err := picture.Anew(data)
	if err != nil {
		return notTaken(err)
	}
	return a.q.PicturePlantNote(ctx, store.PicturePlantNoteParams{ID: n.ID, Picture: data, Shown: drawn})
}

// NotePhoto gives the picture of a note, as it was drawn anew.
func (a *App) NotePhoto(ctx context.Context, id string) (Photo, error) {
	n, err := a.plantNote(ctx, id)
	if err == nil && len(n.Shown) == 0 {
		err = notFound("picture of note", id)
	}
	return Photo{"image/jpeg", n.Shown}, err
}

func (a *App) plantNote(ctx context.Context, id string) (store.PlantNote, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return store.PlantNote{}, notFound("note", id)
	}
	n, err := a.q.GetPlantNote(ctx, u)
	if none(err) {
		return n, notFound("note", id)
	}
	return n, err
}

// ClosePlantNote says what became of a note; "" opens it again. Refused: words that say nothing.
func (a *App) ClosePlantNote(ctx context.Context, who Actor, id, became string) ([]PlantNote, error) {
	n, err := a.plantNote(ctx, id)
	if err != nil {
		return nil, err
	}
	became = strings.TrimSpace(became)
	if l := utf8.RuneCountInString(became); l == 1 || l == 2 || l > 500 {
		return nil, &Problem{Kind: Invalid, Field: "became", Title: "That says nothing, or too much.",
			Remedy: "Say in a few words what became of it."}
	}
	p := store.ClosePlantNoteParams{ID: n.ID}
	if became != "" {
		now := a.now()
		p.ClosedWords, p.ClosedBy, p.ClosedAt = became, who.Name, &now
	}
	if err := a.tx(ctx, func(q *store.Queries) error {
		if _, err := q.ClosePlantNote(ctx, p); err != nil {
			return err
		}
		action := map[bool]string{true: "opened again", false: "closed"}[became == ""]
		return q.Audit(ctx, store.AuditParams{Action: action, Subject: "note " + n.ID.String(), Before: n.ClosedWords,
			After: became})
	}); err != nil {
		return nil, err
	}
	return a.PlantNotes(ctx)
}

// openNotes are open notes, a line each.
func (a *App) openNotes(ctx context.Context) ([]string, error) {
	list, err := a.PlantNotes(ctx)
	if err != nil {
		return nil, err
	}
	zone, err := a.zone(ctx)
	var out []string
	for _, n := range list {
		if n.ClosedAt == nil {
			out = append(out, strings.TrimPrefix(n.Tag+": "+n.Words, ": ")+" ("+n.By+", "+
				n.SeenAt.In(zone).Format("2 Jan 15:04")+")")
		}
	}
	return out, err
}

func (a *App) noteNoted(ctx context.Context, n *handover.Note) (err error) {
	lines, err := a.openNotes(ctx)
	n.Noted = append(n.Noted, lines...)
	return err
}
