package app

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"dynacor/core/dossier"
	"dynacor/core/pressuretest"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/core/tool"
	"dynacor/internal/store"
)

// mostBookJoints is how many joints a book takes: it is bound in memory.
const mostBookJoints = 2_000

// Queue puts the making of a book to the work of the background, in the transaction that begins it.
type Queue func(ctx context.Context, tx pgx.Tx, id uuid.UUID) error

// SetQueue says what makes books.
func (a *App) SetQueue(q Queue) { a.queue = q }

// DossierState is how the making of a book stands.
type DossierState string

// The states.
const (
	DossierMaking  DossierState = "making"
	DossierBound   DossierState = "bound"
	DossierStopped DossierState = "stopped"
	DossierFailed  DossierState = "failed"
)

// Dossier is a hand-over book that is being made, or was.
type Dossier struct {
	ID      string       `json:"id"`
	Package string       `json:"package"`
	Sheet   int          `json:"sheet"` // how often the book was bound, this time with it
	State   DossierState `json:"state"`
	BegunAt time.Time    `json:"begunAt"`
	By      string       `json:"by"`
	ByID    string       `json:"byId"`
	Leaves  []int        `json:"leaves"` // of each entry that is drawn, in their order
	Failed  string       `json:"failed"` // why it could not be made
	BoundAt *time.Time   `json:"boundAt,omitempty"`
	Bytes   int          `json:"bytes"`
	Mark    string       `json:"mark"`

	Book dossier.Book `json:"-"` // as it was laid out when its making began

	index string // of its files, signed
}

// DossierView is the book of a package: what it holds, what is missing, and what became of it so far.
type DossierView struct {
	Book  dossier.Book `json:"book"` // as it is being made, or as it would be made now
	Last  *Dossier     `json:"last,omitempty"`
	Bound []Dossier    `json:"bound"` // the newest first
	Newer []string     `json:"newer"` // entries that are not as they were when the newest was bound
}

// Dossier gives the book of a work package.
func (a *App) Dossier(ctx context.Context, code string) (DossierView, error) {
	v := DossierView{Bound: []Dossier{}, Newer: []string{}}
	id, err := a.q.LastDossier(ctx, code)
	if err == nil {
		d, err := a.DossierByID(ctx, id)
		if err != nil {
			return v, err
		}
		v.Last = &d
	} else if !none(err) {
		return v, err
	}
	making := v.Last != nil && v.Last.State == DossierMaking
	if making {
		v.Book = v.Last.Book
	} else if v.Book, err = a.layOutBook(ctx, code); err != nil {
		return v, err
	}
	rows, err := a.q.BoundDossiers(ctx, code)
	if err != nil {
		return v, err
	}
	for i, r := range rows {
		d := Dossier{
			ID:      r.ID.String(),
			Package: r.Package,
			Sheet:   int(r.Sheet),
			State:   DossierBound,
			BegunAt: r.BegunAt,
			By:      r.ByName,
			BoundAt: r.BoundAt,
			Bytes:   int(r.Size),
			Mark:    r.Mark,
			Leaves:  []int{},
		}
		if i == 0 && !making {
			bound, err := decode[dossier.Book](r.Book)
			if err != nil {
				return v, err
			}
			v.Newer = bound.Newer(v.Book)
		}
		v.Bound = append(v.Bound, d)
	}
	return v, nil
}

// DossierByID gives a book by its identifier.
func (a *App) DossierByID(ctx context.Context, id uuid.UUID) (Dossier, error) {
	r, err := a.q.GetDossier(ctx, id)
	if none(err) {
		return Dossier{}, notFound("book", id.String())
	}
	if err != nil {
		return Dossier{}, err
	}
	d := Dossier{
		ID:      r.ID.String(),
		Package: r.Package,
		Sheet:   int(r.Sheet),
		State:   DossierState(r.State),
		BegunAt: r.BegunAt,
		By:      r.ByName,
		ByID:    r.ByID.String(),
		Failed:  r.Failed,
		BoundAt: r.BoundAt,
		Bytes:   int(r.Size),
		Mark:    r.Mark,
		Leaves:  []int{},
		index:   r.FilesIndex,
	}
	for _, n := range r.Leaves {
		d.Leaves = append(d.Leaves, int(n))
	}
	d.Book, err = decode[dossier.Book](r.Book)
	return d, err
}

// layOutBook reads what is known of a package and lays out its book.
func (a *App) layOutBook(ctx context.Context, code string) (dossier.Book, error) {
	p, err := a.q.GetPackage(ctx, code)
	if none(err) {
		return dossier.Book{}, notFound("work package", code)
	}
	if err != nil {
		return dossier.Book{}, err
	}
	f := dossier.Facts{Package: code, Name: p.Name}
	if f.Joints, err = packageJoints(ctx, a.q, code); err != nil {
		return dossier.Book{}, err
	}
	if err := packageTests(ctx, a.q, &f); err != nil {
		return dossier.Book{}, err
	}
	if err := packageTools(ctx, a.q, &f); err != nil {
		return dossier.Book{}, err
	}
	if f.Asked, err = asksOf(ctx, a.q, code); err != nil {
		return dossier.Book{}, err
	}
	people, err := a.People(ctx)
	f.People = people
	return dossier.Bind(f), err
}

func packageJoints(ctx context.Context, q *store.Queries, code string) ([]dossier.Joint, error) {
	rows, err := q.PackageJoints(ctx, store.PackageJointsParams{Package: code, N: mostBookJoints + 1})
	if err != nil {
		return nil, err
	}
	if len(rows) > mostBookJoints {
		return nil, newProblem(Conflict, "%s has more than %d joints.",
			"Divide it into smaller work packages; each has a book of its own.", code, mostBookJoints)
	}
	list, at := []dossier.Joint{}, map[string]int{}
	for i, r := range rows {
		at[r.Tag] = i
		list = append(list, dossier.Joint{Tag: r.Tag, Name: r.Name, Family: r.Family, Bolts: int(r.Bolts),
			Glyph: run.Glyph(r.Glyph), Summary: r.Summary, UnderWay: r.UnderWay})
	}
	records, err := q.PackageRecords(ctx, store.PackageRecordsParams{Package: code, Version: indexVersion})
	if err != nil {
		return nil, err
	}
	for _, r := range records {
		if r.Old {
			return nil, &Problem{Kind: Unavailable, Title: "Records of an earlier version are still being read.",
				Remedy: "Look again in a minute."}
		}
		x := dossier.Record{Number: r.Number, Mark: r.Mark, Verdict: run.VerdictCode(r.Verdict), Apart: r.Apart,
			Follows: r.Follows, SealedAt: r.SealedAt, Added: int(r.Added), UsedAt: r.UsedAt}
		for _, text := range r.Facets {
			switch f, _ := record.ParseFacet(text); f.Kind {
			case record.FacetPerson:
				x.Persons = append(x.Persons, f.Value)
			case record.FacetTool:
				x.Tools = append(x.Tools, f.Value)
			case record.FacetBatch, record.FacetGasket, record.FacetLubricant:
				x.Lots = append(x.Lots, dossier.Lot{Kind: string(f.Kind), Value: f.Value})
			}
		}
		if i, ok := at[r.Tag]; ok {
			list[i].Records = append(list[i].Records, x)
		}
	}
	return list, nil
}

func packageTests(ctx context.Context, q *store.Queries, f *dossier.Facts) error {
	tags := []string{}
	for _, j := range f.Joints {
		tags = append(tags, j.Tag)
	}
	rows, err := q.PackageTests(ctx, tags)
	if err != nil {
		return err
	}
	for _, r := range rows {
		s, err := decode[pressuretest.Spec](r.Spec)
		if err != nil {
			return err
		}
		code := pressuretest.Code(r.Verdict)
		f.Tests = append(f.Tests, dossier.Test{Tag: r.Tag, Title: s.Title, Joints: s.Joints, Closed: code != "",
			Good: code.Good(), Word: strings.ReplaceAll(r.Verdict, "_", " "), Mark: r.Mark, Gauge: s.Gauge.Tag})
	}
	return nil
}

// packageTools finds the tools that the records and tests name in the crib; one that it does not have any more is told
// by the records alone.
func packageTools(ctx context.Context, q *store.Queries, f *dossier.Facts) error {
	used := f.Used()
	tools, err := crib(ctx, q)
	if err != nil {
		return err
	}
	for _, t := range tools {
		at, ok := used[t.Tag]
		if !ok {
			continue
		}
		f.Tools = append(f.Tools, dossier.Tool{Tag: t.Tag, Name: toolName(t), Dated: t.Dated(),
			Certificate: t.Certificate, Ends: string(t.CalibrationEnds), LastUsed: at})
	}
	return nil
}

func toolName(t tool.Tool) string { return capital(t.Name()) }

// MakeDossier begins to make the book of a package. Refused: one with gaps unless that is wanted, one that is being
// made already, and a server that makes none.
func (a *App) MakeDossier(ctx context.Context, who Actor, code string, withGaps bool) (DossierView, error) {
	if a.queue == nil {
		return DossierView{}, &Problem{Kind: Unavailable, Title: "No books are made here.",
			Remedy: "Ask whoever looks after the server."}
	}
	if _, err := a.signing(ctx, a.q); err != nil {
		return DossierView{}, err
	}
	book, err := a.layOutBook(ctx, code)
	if err != nil {
		return DossierView{}, err
	}
	if n := len(book.Gaps); n > 0 && !withGaps {
		return DossierView{}, &Problem{
			Kind:   Conflict,
			Field:  "withGaps",
			Title:  fmt.Sprintf("%s missing.", things(n)),
			Remedy: "Have it supplied, or bind the book with its gaps: a leaf in the place of each says what is missing.",
		}
	}
	if !slices.ContainsFunc(book.Entries, func(e dossier.Entry) bool { return e.Chapter == dossier.Joints }) {
		return DossierView{}, newProblem(Conflict, "%s has no joints.", "Put its joints into the register first.", code)
	}
	text, err := encode(book)
	if err != nil {
		return DossierView{}, err
	}
	by, err := uuid.Parse(who.ID)
	if err != nil {
		return DossierView{}, err
	}
	id := uuid.Must(uuid.NewV7())
	err = pgx.BeginFunc(ctx, a.pool, func(tx pgx.Tx) error {
		q := a.q.WithTx(tx)
		last, err := q.LastSheet(ctx, code)
		if err != nil {
			return err
		}
		err = q.InsertDossier(ctx, store.InsertDossierParams{ID: id, Package: code, Sheet: last + 1, BegunAt: a.now(),
			ByID: by, ByName: who.Name, Book: text})
		if store.Unique(err) {
			return newProblem(Conflict, "The book of %s is being made already.", "Wait for it, or stop it first.", code)
		}
		if err != nil {
			return err
		}
		if err := q.Audit(ctx, store.AuditParams{Action: "began", Subject: "book of " + code,
			After: fmt.Sprintf("sheet %d, %s missing", last+1, things(len(book.Gaps)))}); err != nil {
			return err
		}
		return a.queue(ctx, tx, id)
	})
	if err != nil {
		return DossierView{}, err
	}
	return a.Dossier(ctx, code)
}

func things(n int) string {
	if n == 1 {
		return "one thing is"
	}
	return fmt.Sprintf("%d things are", n)
}

// StopDossier ends the making of a book. What is drawn is kept for a day.
func (a *App) StopDossier(ctx context.Context, id string) (DossierView, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return DossierView{}, notFound("book", id)
	}
	d, err := a.DossierByID(ctx, u)
	if err != nil {
		return DossierView{}, err
	}
	n, err := a.q.EndDossier(ctx, store.EndDossierParams{ID: u, State: string(DossierStopped)})
	if err != nil {
		return DossierView{}, err
	}
	if n == 0 {
		return DossierView{}, newProblem(Conflict, "This book is %s.", "There is nothing to stop: look at it again.",
			string(d.State))
	}
	if err := a.audit(ctx, "stopped", "book of "+d.Package, "", ""); err != nil {
		return DossierView{}, err
	}
	return a.Dossier(ctx, d.Package)
}

// DossierMakingRow says how far a book is.
type DossierMakingRow struct {
	Package string `json:"package"`
	Done    int    `json:"done"`  // leaves that are drawn
	About   int    `json:"about"` // leaves it will have
}

// DossiersMaking gives the books that are being made.
func (a *App) DossiersMaking(ctx context.Context) ([]DossierMakingRow, error) {
	rows, err := a.q.DossiersBeingMade(ctx)
	if err != nil {
		return nil, err
	}
	out := []DossierMakingRow{}
	for _, r := range rows {
		book, err := decode[dossier.Book](r.Book)
		if err != nil {
			return nil, err
		}
		x := DossierMakingRow{Package: r.Package}
		for i, e := range book.Entries {
			n := e.Leaves
			if i < len(r.Leaves) {
				n = int(r.Leaves[i])
				x.Done += n
			}
			x.About += n
		}
		out = append(out, x)
	}
	return out, nil
}
