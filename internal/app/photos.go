package app

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"slices"
	"strings"

	"github.com/google/uuid"

	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/picture"
	"dynacor/internal/store"
)

// Photo is a picture kept with a run.
type Photo struct {
	MediaType string
	Bytes     []byte
}

// PutPhoto keeps a picture under the identifier that an event of the run names, as it was sent and drawn anew. Sending
// it twice is one picture. Refused: one that no event names, one of another person's event, other bytes than the event
// names, and on a sealed run any but one that was added behind its record.
func (a *App) PutPhoto(ctx context.Context, who Actor, runID, id string, data []byte) error {
	u, err1 := uuid.Parse(runID)
	photo, err2 := uuid.Parse(id)
	if err1 != nil || err2 != nil {
		return notFound("run", runID)
	}
	media, err := picture.Check(data)
	if err != nil {
		return notTaken(err)
	}
	shown, err := picture.Anew(data) // outside the transaction: it takes a while
	if err != nil {
		return notTaken(err)
	}
	sum := sha256.Sum256(data)
	digest := hex.EncodeToString(sum[:])
	return a.tx(ctx, func(q *store.Queries) error {
		r, err := q.LockRun(ctx, u)
		if none(err) {
			return notFound("run", runID)
		}
		if err != nil {
			return err
		}
		there, err := q.PhotoThere(ctx, photo)
		switch {
		case err == nil && there.RunID == u && there.Sha256 == digest:
			return nil // sent again, because the answer was lost
		case err == nil:
			return &Problem{Kind: Invalid, Title: "Another picture is kept under this identifier.", Field: "photo",
				Remedy: "Take it anew."}
		case !none(err):
			return err
		}
		fits := a.photoFits
		if r.SealedAt != nil {
			fits = a.photoFitsBehind
		}
		if err := fits(ctx, q, who, u, photo, digest); err != nil {
			return err
		}
		return q.InsertPhoto(ctx, store.InsertPhotoParams{ID: photo, RunID: u, PersonID: uuid.MustParse(who.ID),
			MediaType: media, Bytes: data, Sha256: digest, Shown: shown})
	})
}

// photoFits refuses a picture that no event of the run names, one of another person's event, and another than the event
// names.
func (a *App) photoFits(ctx context.Context, q *store.Queries, who Actor, runID, photo uuid.UUID, digest string) error {
	unnamed := &Problem{Kind: Conflict, Title: "No entry of this run names the picture yet.", Field: "photo",
		Remedy: "The entry is sent first; the picture waits on the device."}
	body, err := q.PhotoEvent(ctx, store.PhotoEventParams{RunID: runID, Photo: photo.String()})
	if none(err) {
		return unnamed
	}
	if err != nil {
		return err
	}
	e, err := decode[run.Event](body)
	switch {
	case err != nil:
		return err
	case e.Photo != photo.String():
		return unnamed
	case e.Person.ID != who.ID && (e.DeviceKey == "" || e.DeviceKey != who.Device):
		return &Problem{Kind: Forbidden, Title: "The picture belongs to an entry of " + e.Person.Name + ".",
			Field: "photo", Remedy: "It is sent from the device it was taken on, or when they sign in."}
	case e.PhotoSHA256 != "" && e.PhotoSHA256 != digest:
		return &Problem{Kind: Invalid, Title: "This is not the picture that the entry names.", Field: "photo",
			Remedy: "Answer the check again with a new picture."}
	}
	return nil
}

// photoFitsBehind refuses a picture of a sealed run that nothing behind its record names, one of what another person
// added, and another than is named.
func (a *App) photoFitsBehind(ctx context.Context, q *store.Queries, who Actor, runID, photo uuid.UUID,
	digest string) error {
	closed := &Problem{Kind: Closed, Title: "The record is sealed: no picture is added any more.", Field: "photo",
		Remedy: "Keep it with the paper of the joint."}
	body, err := q.PhotoAddition(ctx, store.PhotoAdditionParams{RunID: runID, Photo: photo.String()})
	if none(err) {
		return closed
	}
	if err != nil {
		return err
	}
	x, err := decode[record.Addition](body)
	switch {
	case err != nil:
		return err
	case x.Photo != photo.String():
		return closed
	case x.Person.ID != who.ID:
		return &Problem{Kind: Forbidden, Title: "The picture belongs to what " + x.Person.Name + " added.",
			Field: "photo", Remedy: "It is sent when they sign in."}
	case x.PhotoSHA256 != digest:
		return &Problem{Kind: Invalid, Title: "This is not the picture that was signed.", Field: "photo",
			Remedy: "Look again, with a new picture."}
	}
	return nil
}

// notTaken says why a picture is refused.
func notTaken(err error) error {
	kind := Invalid
	if errors.Is(err, picture.ErrLarge) {
		kind = TooLarge
	}
	title, remedy, _ := strings.Cut(err.Error(), ": ")
	return &Problem{Kind: kind, Title: capital(title) + ".", Field: "photo", Remedy: capital(remedy) + "."}
}

// missingPhotos are the pictures that entries which count name, and that have not arrived.
func missingPhotos(ctx context.Context, q *store.Queries, runID uuid.UUID, entries []record.Entry, s *run.State) (int,
	error) {
	have, err := q.PhotosOf(ctx, runID)
	if err != nil {
		return 0, err
	}
	n := 0
	for _, e := range entries {
		id, err := uuid.Parse(e.Event.Photo)
		if err == nil && e.Event.PhotoSHA256 != "" && !slices.Contains(have, id) && !slices.Contains(s.TakenBack,
			e.Event.ID) {
			n++
		}
	}
	return n, nil
}

// GetPhoto gives a picture back, as it was drawn anew.
func (a *App) GetPhoto(ctx context.Context, id string) (Photo, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return Photo{}, notFound("photo", id)
	}
	p, err := a.q.GetPhoto(ctx, u)
	if none(err) {
		return Photo{}, notFound("photo", id)
	}
	return shown(p), err
}

// shown is what is seen of a picture; one from before they were drawn anew is drawn now, within the bounds.
func shown(p store.Photo) Photo {
	if len(p.Shown) > 0 {
		return Photo{"image/jpeg", p.Shown}
	}
	if b, err := picture.Anew(p.Bytes); err == nil {
		return Photo{"image/jpeg", b}
	}
	return Photo{"application/octet-stream", nil}
}
