package app

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"reflect"
	"slices"
	"sort"
	"strings"
	"time"

	"github.com/google/uuid"

	"dynacor/core/plan"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/picture"
	"dynacor/internal/store"
)

// RecordRow is a line of the records.
type RecordRow struct {
	Number      string    `json:"number"`
	Tag         string    `json:"tag"`
	Name        string    `json:"name"`
	Area        string    `json:"area"`
	Target      string    `json:"target"`
	TightenedBy string    `json:"tightenedBy"`
	ProvedBy    string    `json:"provedBy"`
	SealedAt    time.Time `json:"sealedAt"`
	Mark        string    `json:"mark"`
}

// RecordPage is a part of the records.
type RecordPage struct {
	Rows  []RecordRow `json:"rows"`
	Total int         `json:"total"`
}

// RecordView is one sealed record opened.
type RecordView struct {
	Row    RecordRow     `json:"row"`
	Record record.Record `json:"record"`
	KeyID  string        `json:"keyId"`
	Report record.Report `json:"report"`

	Photos map[string]Photo `json:"-"` // by identifier; filled by WithPhotos for printing
}

// Keys gives every key this installation ever signed with, and the time that each counts for.
func (a *App) Keys(ctx context.Context) ([]record.Key, error) {
	rows, err := a.q.ListKeys(ctx)
	if err != nil {
		return nil, err
	}
	out := []record.Key{}
	for _, r := range rows {
		k := record.Key{Public: r.PublicKey, Until: r.ValidUntil, Revoked: r.RevokedFrom, RevokeReason: r.RevokeReason}
		if r.ValidFrom != nil {
			k.From = *r.ValidFrom
		}
		out = append(out, k)
	}
	return out, nil
}

// Seal makes the record of a run that is accepted, signed twice and has nothing open.
func (a *App) Seal(ctx context.Context, id string) (RecordRow, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return RecordRow{}, notFound("run", id)
	}
	var row RecordRow
	err = a.tx(ctx, func(q *store.Queries) error {
		r, p, err := a.openRun(ctx, q, u)
		if err != nil {
			return err
		}
		entries, err := a.readChain(ctx, q, u, int(r.LastSeq)) // what is sealed is read from the database, whatever is remembered here
		if err != nil {
			return err
		}
		at := a.now().UTC().Truncate(time.Millisecond)
		s := run.Fold(p, eventsOf(entries), at)
		if len(s.OpenItems) > 0 {
			return refuse(http.StatusConflict, "Not everything is closed: %s.", "Clear what is open, then seal.", strings.Join(s.OpenItems, "; "))
		}
		missing, err := missingPhotos(ctx, q, u, entries, s)
		if err != nil {
			return err
		}
		if missing > 0 {
			return refuse(http.StatusConflict, "%d pictures of this run have not arrived from their device.", "Open Dynacor on that device where there is network; or take the entry back and answer the check again.", missing)
		}
		row, err = a.seal(ctx, q, r, p, entries, s, at)
		return err
	})
	if err == nil {
		a.tellRun(id)
	}
	return row, err
}

func (a *App) seal(ctx context.Context, q *store.Queries, r store.Run, p *plan.Plan, entries []record.Entry, s *run.State, at time.Time) (RecordRow, error) {
	site, err := setting(ctx, q, SettingSite, "Site not named")
	if err != nil {
		return RecordRow{}, err
	}
	code, err := setting(ctx, q, SettingSiteCode, "DY")
	if err != nil {
		return RecordRow{}, err
	}
	key, err := a.signing(ctx, q)
	if err != nil {
		return RecordRow{}, err
	}
	wanted, err := q.NextRecordNumber(ctx)
	if err != nil {
		return RecordRow{}, err
	}
	n, err := key.Number(wanted)
	if err != nil {
		return RecordRow{}, err
	}
	if n != wanted {
		if err := q.SkipRecordNumbers(ctx, n); err != nil {
			return RecordRow{}, err
		}
	}
	rec := record.Record{Number: fmt.Sprintf("%s-%d-%05d", code, at.Year(), n), Site: site, RunID: r.ID.String(), Plan: p, Events: entries, State: s, Statement: record.Statement}
	f, err := record.Sign(rec, key.Private, at)
	if err != nil {
		return RecordRow{}, err
	}
	mark, err := f.Mark()
	if err != nil {
		return RecordRow{}, err
	}
	data, err := f.Bytes()
	if err != nil {
		return RecordRow{}, err
	}
	row := RecordRow{Number: rec.Number, Tag: p.Joint.Tag, Name: p.Joint.Name, Area: p.Joint.Area, Target: targetText(p.Specification.Target), SealedAt: at, Mark: mark}
	for _, g := range s.Signatures {
		switch g.Purpose {
		case run.SignTightened:
			row.TightenedBy = g.Name
		case run.SignProved:
			row.ProvedBy = g.Name
		}
	}
	if err := q.InsertRecord(ctx, store.InsertRecordParams{Number: row.Number, RunID: r.ID, JointID: r.JointID, Tag: row.Tag, Name: row.Name, Area: row.Area, Target: row.Target,
		TightenedBy: row.TightenedBy, ProvedBy: row.ProvedBy, SealedAt: at, Mark: mark, File: data}); err != nil {
		return RecordRow{}, err
	}
	if err := q.SealRun(ctx, store.SealRunParams{ID: r.ID, SealedAt: &at}); err != nil {
		return RecordRow{}, err
	}
	return row, q.SetJointState(ctx, store.SetJointStateParams{ID: r.JointID, Glyph: "accepted", Stop: "sealed", Summary: "record " + row.Number, PresentRun: &r.ID})
}

// Records gives a page of the sealed records, newest first.
func (a *App) Records(ctx context.Context, text string, limit, offset int) (RecordPage, error) {
	rows, err := a.q.ListRecords(ctx, store.ListRecordsParams{Q: like(text), N: int32(limit), Skip: int32(offset)})
	if err != nil {
		return RecordPage{}, err
	}
	out := RecordPage{Rows: []RecordRow{}}
	for _, r := range rows {
		out.Total = int(r.Total)
		out.Rows = append(out.Rows, RecordRow{r.Number, r.Tag, r.Name, r.Area, r.Target, r.TightenedBy, r.ProvedBy, r.SealedAt, r.Mark})
	}
	return out, nil
}

// RecordFile gives the sealed file as it was signed.
func (a *App) RecordFile(ctx context.Context, number string) ([]byte, error) {
	r, err := a.q.GetRecord(ctx, number)
	if none(err) {
		return nil, notFound("record", number)
	}
	return r.File, err
}

// Record opens a sealed record and verifies it on the way.
func (a *App) Record(ctx context.Context, number string) (RecordView, error) {
	r, err := a.q.GetRecord(ctx, number)
	if none(err) {
		return RecordView{}, notFound("record", number)
	}
	if err != nil {
		return RecordView{}, err
	}
	v := RecordView{Row: RecordRow{r.Number, r.Tag, r.Name, r.Area, r.Target, r.TightenedBy, r.ProvedBy, r.SealedAt, r.Mark}}
	f, rec, err := record.Read(r.File)
	if err != nil {
		return v, fmt.Errorf("app: record %s: %w", number, err)
	}
	v.Record = rec
	keys, err := a.Keys(ctx)
	if err != nil {
		return v, err
	}
	v.KeyID, v.Report = f.Seal.KeyID, record.Verify(r.File, keys)
	return v, nil
}

// WithPhotos adds the pictures that the record's entries point to. One that never arrived from its device is left out.
func (a *App) WithPhotos(ctx context.Context, v RecordView) (RecordView, error) {
	v.Photos = map[string]Photo{}
	for _, e := range v.Record.Events {
		id, err := uuid.Parse(e.Event.Photo)
		if err != nil {
			continue // no photo with this entry
		}
		p, err := a.q.GetPhoto(ctx, id)
		switch {
		case none(err):
		case err != nil:
			return v, err
		default:
			v.Photos[e.Event.Photo] = shown(p)
		}
	}
	return v, nil
}

// Difference is one place where a file departs from the record kept here.
type Difference struct {
	Path string `json:"path"`
	Kept string `json:"kept"`
	File string `json:"file"`
}

// Verification is the report on a file somebody brought.
type Verification struct {
	Report      record.Report `json:"report"`
	Kept        bool          `json:"kept"` // a record of this number is kept here
	Differences []Difference  `json:"differences"`
}

// Verify checks a file and, when the record is kept here, names each value that differs from it: a file that is not the one kept here
// does not hold, whoever signed it.
func (a *App) Verify(ctx context.Context, data []byte) (Verification, error) {
	keys, err := a.Keys(ctx)
	if err != nil {
		return Verification{}, err
	}
	v := Verification{Report: record.Verify(data, keys), Differences: []Difference{}}
	if v.Report.Mark == "" { // not a record at all
		return v, nil
	}
	kept, err := a.q.GetRecord(ctx, v.Report.Number)
	if none(err) {
		return v, nil
	}
	if err != nil {
		return v, err
	}
	v.Kept = true
	same, err := record.Same(kept.File, data)
	if err != nil || same {
		return v, err
	}
	v.Report.OK = false
	v.Report.Problems = append(v.Report.Problems, fmt.Sprintf("It is not the record %s that is kept here.", v.Report.Number))
	var was, is any
	if json.Unmarshal(kept.File, &was) == nil && json.Unmarshal(data, &is) == nil {
		compare("", was, is, &v.Differences)
	}
	return v, nil
}

const mostDifferences = 200

func compare(path string, was, is any, out *[]Difference) {
	if len(*out) >= mostDifferences || reflect.DeepEqual(was, is) {
		return
	}
	wm, wok := was.(map[string]any)
	im, iok := is.(map[string]any)
	if wok && iok {
		keys := map[string]bool{}
		for k := range wm {
			keys[k] = true
		}
		for k := range im {
			keys[k] = true
		}
		names := make([]string, 0, len(keys))
		for k := range keys {
			names = append(names, k)
		}
		sort.Strings(names)
		for _, k := range names {
			compare(strings.TrimPrefix(path+"."+k, "."), wm[k], im[k], out)
		}
		return
	}
	wl, wok := was.([]any)
	il, iok := is.([]any)
	if wok && iok && len(wl) == len(il) {
		for i := range wl {
			compare(fmt.Sprintf("%s[%d]", path, i+1), wl[i], il[i], out)
		}
		return
	}
	*out = append(*out, Difference{path, brief(was), brief(is)})
}

func brief(v any) string {
	if v == nil {
		return "nothing"
	}
	b, _ := json.Marshal(v)
	if len(b) > 120 {
		return string(b[:117]) + "…"
	}
	return string(b)
}

// Photo is a picture kept with a run.
type Photo struct {
	MediaType string
	Bytes     []byte
}

// PutPhoto keeps a picture under the identifier that an event of the run names, as it was sent and drawn anew. Sending it twice is one picture. Refused: one
// that no event names, one of another person's event, other bytes than the event names, and any on a sealed run.
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
			return &Problem{Status: http.StatusUnprocessableEntity, Title: "Another picture is kept under this identifier.", Field: "photo", Remedy: "Take it anew."}
		case !none(err):
			return err
		}
		if r.SealedAt != nil {
			return &Problem{Status: http.StatusGone, Title: "The record is sealed: no picture is added any more.", Field: "photo", Remedy: "Keep it with the paper of the joint."}
		}
		body, err := q.PhotoEvent(ctx, store.PhotoEventParams{RunID: u, Photo: photo.String()})
		if none(err) {
			return &Problem{Status: http.StatusConflict, Title: "No entry of this run names the picture yet.", Field: "photo", Remedy: "The entry is sent first; the picture waits on the device."}
		}
		if err != nil {
			return err
		}
		e, err := decode[run.Event](body)
		if err != nil {
			return err
		}
		switch {
		case e.Photo != photo.String():
			return &Problem{Status: http.StatusConflict, Title: "No entry of this run names the picture yet.", Field: "photo", Remedy: "The entry is sent first; the picture waits on the device."}
		case e.Person.ID != who.ID && (e.DeviceKey == "" || e.DeviceKey != who.Device):
			return &Problem{Status: http.StatusForbidden, Title: "The picture belongs to an entry of " + e.Person.Name + ".", Field: "photo", Remedy: "It is sent from the device it was taken on, or when they sign in."}
		case e.PhotoSHA256 != "" && e.PhotoSHA256 != digest:
			return &Problem{Status: http.StatusUnprocessableEntity, Title: "This is not the picture that the entry names.", Field: "photo", Remedy: "Answer the check again with a new picture."}
		}
		return q.InsertPhoto(ctx, store.InsertPhotoParams{ID: photo, RunID: u, PersonID: uuid.MustParse(who.ID), MediaType: media, Bytes: data, Sha256: digest, Shown: shown})
	})
}

// notTaken says why a picture is refused.
func notTaken(err error) error {
	status := http.StatusUnprocessableEntity
	if errors.Is(err, picture.ErrLarge) {
		status = http.StatusRequestEntityTooLarge
	}
	title, remedy, _ := strings.Cut(err.Error(), ": ")
	return &Problem{Status: status, Title: capital(title) + ".", Field: "photo", Remedy: capital(remedy) + "."}
}

func capital(s string) string { return strings.ToUpper(s[:1]) + s[1:] }

// missingPhotos are the pictures that entries which count name, and that have not arrived.
func missingPhotos(ctx context.Context, q *store.Queries, runID uuid.UUID, entries []record.Entry, s *run.State) (int, error) {
	have, err := q.PhotosOf(ctx, runID)
	if err != nil {
		return 0, err
	}
	n := 0
	for _, e := range entries {
		id, err := uuid.Parse(e.Event.Photo)
		if err == nil && e.Event.PhotoSHA256 != "" && !slices.Contains(have, id) && !slices.Contains(s.TakenBack, e.Event.ID) {
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
