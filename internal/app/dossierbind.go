package app

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/url"
	"time"

	"github.com/google/uuid"

	"dynacor/core/dossier"
	"dynacor/core/record"
	"dynacor/core/tool"
	"dynacor/internal/store"
)

// gatheringKept is how long leaves that were drawn for a book which was not bound are kept.
const gatheringKept = 24 * time.Hour

// HoldDossier takes a book in hand for making it; nobody else makes it until it is let go, or this program ends. ok is
// false when somebody has it.
func (a *App) HoldDossier(ctx context.Context, id uuid.UUID) (letGo func(), ok bool, err error) {
	c, err := a.pool.Acquire(ctx)
	if err != nil {
		return nil, false, err
	}
	if ok, err = store.New(c).TryDossierLock(ctx, id.String()); err != nil || !ok {
		c.Release()
		return nil, false, err
	}
	return func() {
		// the lock goes with the connection: one that comes back to the pool would keep it
		_ = c.Hijack().Close(context.WithoutCancel(ctx))
	}, true, nil
}

// BeingMade gives the books whose making has begun and not ended.
func (a *App) BeingMade(ctx context.Context) ([]uuid.UUID, error) {
	rows, err := a.q.DossiersBeingMade(ctx)
	out := []uuid.UUID{}
	for _, r := range rows {
		out = append(out, r.ID)
	}
	return out, err
}

// Gathering is a number of leaves that were drawn.
type Gathering struct {
	Leaves []int  // of each of its entries
	Told   string // what later chapters take from them, JSON
	File   []byte
}

// Gathering gives leaves that were drawn from the same before.
func (a *App) Gathering(ctx context.Context, key string) (g Gathering, ok bool, err error) {
	r, err := a.q.GetGathering(ctx, key)
	if none(err) {
		return g, false, nil
	}
	for _, n := range r.Leaves {
		g.Leaves = append(g.Leaves, int(n))
	}
	g.Told, g.File = r.Told, r.File
	return g, err == nil, err
}

// KeepGathering keeps leaves that were drawn, by what they were drawn from.
func (a *App) KeepGathering(ctx context.Context, d Dossier, key string, g Gathering) error {
	id, err := uuid.Parse(d.ID)
	if err != nil {
		return err
	}
	return a.q.PutGathering(ctx, store.PutGatheringParams{Key: key, Dossier: id, Package: d.Package, MadeAt: a.now(),
		Leaves: ints(g.Leaves), Told: g.Told, File: g.File})
}

func ints(list []int) []int32 {
	out := make([]int32, len(list))
	for i, n := range list {
		out[i] = int32(n)
	}
	return out
}

// DossierDrawn says how far the making of a book is, and hears whether it goes on.
func (a *App) DossierDrawn(ctx context.Context, d Dossier, leaves []int) (goesOn bool, err error) {
	id, err := uuid.Parse(d.ID)
	if err != nil {
		return false, err
	}
	n, err := a.q.DossierDrawn(ctx, store.DossierDrawnParams{ID: id, Leaves: ints(leaves)})
	return n > 0, err
}

// FailDossier ends the making of a book that cannot be made, with why.
func (a *App) FailDossier(ctx context.Context, d Dossier, why string) error {
	id, err := uuid.Parse(d.ID)
	if err != nil {
		return err
	}
	_, err = a.q.EndDossier(ctx, store.EndDossierParams{ID: id, State: string(DossierFailed), Failed: why})
	return err
}

// BookRecord gives a record as it goes into a book: verified, with the additions that belong to it, and its pictures.
func (a *App) BookRecord(ctx context.Context, s dossier.Sealed, keys []record.Key) (RecordView, error) {
	var v RecordView
	r, err := a.q.GetRecord(ctx, s.Number)
	if err != nil {
		return v, err
	}
	data, err := a.recordAsBound(ctx, s, r.File)
	if err != nil {
		return v, err
	}
	if v.Report = record.Verify(data, keys); !v.Report.OK || v.Report.Mark != s.Mark {
		return v, fmt.Errorf("record %s does not hold as it is kept: look at it under Verify", s.Number)
	}
	f, rec, err := record.Read(r.File)
	if err != nil {
		return v, err
	}
	v.Row = RecordRow{Number: r.Number, Tag: r.Tag, Name: r.Name, Area: r.Area, Target: r.Target,
		TightenedBy: r.TightenedBy, ProvedBy: r.ProvedBy, SealedAt: r.SealedAt, Mark: r.Mark}
	v.Record, v.KeyID, v.Additions = rec, f.Seal.KeyID, v.Report.Additions
	return a.WithPhotos(ctx, v)
}

// recordAsBound gives a sealed file with the additions that belong to the book, and not those that came since.
func (a *App) recordAsBound(ctx context.Context, s dossier.Sealed, file []byte) ([]byte, error) {
	rows, err := a.q.AdditionsOf(ctx, s.Number)
	if err != nil {
		return nil, err
	}
	return whole(file, rows[:min(s.Added, len(rows))])
}

// BookTools gives the tools of a book as the crib has them.
func (a *App) BookTools(ctx context.Context, tags []string) ([]tool.Tool, error) {
	if len(tags) == 0 {
		return nil, nil
	}
	list, _, err := a.ToolsForLabels(ctx, tags)
	return list, err
}

// files gives every file of a book but the book itself, one after the other.
func (a *App) files(ctx context.Context, b dossier.Book, give func(dossier.File, []byte) error) error {
	for _, e := range b.Entries {
		for _, s := range e.Records {
			file, err := a.RecordFile(ctx, s.Number)
			if err != nil {
				return err
			}
			data, err := a.recordAsBound(ctx, s, file)
			if err != nil {
				return err
			}
			name := "records/" + url.PathEscape(e.Key) + "/" + url.PathEscape(s.Number) + ".json"
			if err := give(dossier.File{Name: name, Kind: "record", Number: s.Number, Joint: e.Key}, data); err != nil {
				return err
			}
		}
		if e.Chapter == dossier.Tests && e.Mark != "" {
			data, err := a.PressureTestFile(ctx, e.Key)
			if err != nil {
				return err
			}
			name := "tests/" + url.PathEscape(e.Key) + ".json"
			if err := give(dossier.File{Name: name, Kind: "test", Number: e.Key}, data); err != nil {
				return err
			}
		}
	}
	return nil
}

const bookName = "book.pdf"

// BindDossier keeps a book that is drawn, with the signed index of its files. ok is false when its making was stopped.
func (a *App) BindDossier(ctx context.Context, d Dossier, leaves []int, pdf []byte) (ok bool, err error) {
	id, err := uuid.Parse(d.ID)
	if err != nil {
		return false, err
	}
	site, err := a.Setting(ctx, SettingSite, "Site not named")
	if err != nil {
		return false, err
	}
	at := a.now().UTC().Truncate(time.Millisecond)
	x := dossier.Index{Site: site, Package: d.Package, Sheet: d.Sheet, BoundAt: at, Gaps: []string{},
		Files: []dossier.File{{Name: bookName, SHA256: record.Sum(pdf), Kind: "book"}}}
	for _, g := range d.Book.Gaps {
		x.Gaps = append(x.Gaps, g.What)
	}
	if err := a.files(ctx, d.Book, func(f dossier.File, data []byte) error {
		f.SHA256 = record.Sum(data)
		x.Files = append(x.Files, f)
		return nil
	}); err != nil {
		return false, err
	}
	key, err := a.signing(ctx, a.q)
	if err != nil {
		return false, err
	}
	signed, err := x.Sign(key.Private)
	if err != nil {
		return false, err
	}
	index, err := json.Marshal(signed)
	if err != nil {
		return false, err
	}
	err = a.tx(ctx, func(q *store.Queries) error {
		n, err := q.BindDossier(ctx, store.BindDossierParams{ID: id, BoundAt: &at, Size: int64(len(pdf)),
			Mark: x.Files[0].SHA256, File: pdf, FilesIndex: string(index), Leaves: ints(leaves)})
		if ok = n > 0; err != nil || !ok {
			return err
		}
		if err := q.Audit(ctx, store.AuditParams{Action: "bound", Subject: "book of " + d.Package,
			After: fmt.Sprintf("sheet %d, mark %s", d.Sheet, x.Files[0].SHA256)}); err != nil {
			return err
		}
		return q.DropGatherings(ctx, store.DropGatheringsParams{Before: at.Add(-gatheringKept), Package: d.Package})
	})
	return ok && err == nil, err
}

// boundDossier gives a book that is bound.
func (a *App) boundDossier(ctx context.Context, id string) (d Dossier, pdf []byte, err error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return d, nil, notFound("book", id)
	}
	if d, err = a.DossierByID(ctx, u); err != nil {
		return d, nil, err
	}
	if d.State != DossierBound {
		return d, nil, newProblem(Conflict, "This book is not bound.", "Wait until it is, or have it made again.")
	}
	pdf, err = a.q.DossierFile(ctx, u)
	return d, pdf, err
}

// DossierBook gives a bound book, and what the file is called.
func (a *App) DossierBook(ctx context.Context, id string) (name string, pdf []byte, err error) {
	d, pdf, err := a.boundDossier(ctx, id)
	return d.fileName() + ".pdf", pdf, err
}

func (d Dossier) fileName() string {
	return fmt.Sprintf("%s-book-%d", url.PathEscape(d.Package), d.Sheet)
}

// DossierFiles gives a bound book with the sealed files that it was made from and their index, as a ZIP archive: its
// name, and what writes it. Refused by the writing: a file that is not as it was bound.
func (a *App) DossierFiles(ctx context.Context, id string) (name string, write func(io.Writer) error, err error) {
	d, pdf, err := a.boundDossier(ctx, id)
	if err != nil {
		return "", nil, err
	}
	keys, err := a.Keys(ctx)
	if err != nil {
		return "", nil, err
	}
	x, err := dossier.ReadIndex([]byte(d.index), keys)
	if err != nil {
		return "", nil, err
	}
	sums := map[string]string{}
	for _, f := range x.Files {
		sums[f.Name] = f.SHA256
	}
	return d.fileName() + ".zip", func(w io.Writer) error {
		z := zip.NewWriter(w)
		put := func(f dossier.File, data []byte) error {
			if sum, ok := sums[f.Name]; ok && sum != record.Sum(data) {
				return fmt.Errorf("app: %s is not as it was bound into book %s", f.Name, d.ID)
			}
			h, err := z.CreateHeader(&zip.FileHeader{Name: f.Name, Method: zip.Deflate, Modified: x.BoundAt})
			if err != nil {
				return err
			}
			_, err = io.Copy(h, bytes.NewReader(data))
			return err
		}
		if err := put(dossier.File{Name: dossier.IndexName}, []byte(d.index)); err != nil {
			return err
		}
		if err := put(x.Files[0], pdf); err != nil {
			return err
		}
		if err := a.files(ctx, d.Book, put); err != nil {
			return err
		}
		return z.Close()
	}, nil
}

// verifyBooks looks at the bound books: each must be the file that its signed index names.
func (a *App) verifyBooks(ctx context.Context, h *Held, keys []record.Key) error {
	rows, err := a.q.EveryBook(ctx)
	if err != nil {
		return err
	}
	for _, r := range rows {
		h.Books++
		name := fmt.Sprintf("book of %s, sheet %d", r.Package, r.Sheet)
		x, err := dossier.ReadIndex([]byte(r.FilesIndex), keys)
		if err != nil {
			h.bad("%s: %v", name, err)
			continue
		}
		pdf, err := a.q.DossierFile(ctx, r.ID)
		if err != nil {
			return err
		}
		if sum := record.Sum(pdf); len(x.Files) == 0 || x.Files[0].SHA256 != sum || r.Mark != sum ||
			x.Package != r.Package || x.Sheet != int(r.Sheet) {
			h.bad("%s: it is not the one that was bound", name)
		}
	}
	return nil
}
