package jobs

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"strings"
	"time"

	"github.com/google/uuid"

	"dynacor/core/dossier"
	"dynacor/core/record"
	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/report"
)

// drawing goes up when leaves are drawn in another way: what was drawn before is not bound with what is drawn now.
const drawing = 1

// recordsAtOnce is how many records are drawn into one gathering: what is in memory, and what is lost at most.
const recordsAtOnce = 20

// errStopped says that somebody stopped the making.
var errStopped = errors.New("the making was stopped")

type binder struct {
	a   *app.App
	log *slog.Logger
}

// book is one that is being made.
type book struct {
	binder
	app.Dossier
	facts      report.BookFacts
	keys       []record.Key
	leaves     []int // of each entry that is drawn
	gatherings [][]byte
	deviations [][]string // rows of that chapter
}

// make makes a book, or goes on with one. An error that is not of the book itself has the work tried again.
func (b binder) make(ctx context.Context, id uuid.UUID) error {
	letGo, ok, err := b.a.HoldDossier(ctx, id)
	if err != nil || !ok { // somebody else is at it
		return err
	}
	defer letGo()
	d, err := b.a.DossierByID(ctx, id)
	if err != nil || d.State != app.DossierMaking {
		return err
	}
	err = b.bind(ctx, d)
	switch {
	case err == nil, errors.Is(err, errStopped):
		return nil
	case ctx.Err() != nil: // this program ends; the next one goes on
		return err
	}
	b.log.Error("a book could not be made", "package", d.Package, "error", err)
	return b.a.FailDossier(context.WithoutCancel(ctx), d, err.Error())
}

func (b binder) bind(ctx context.Context, d app.Dossier) error {
	site, err := b.a.Setting(ctx, app.SettingSite, "Site not named")
	if err != nil {
		return err
	}
	x := &book{binder: b, Dossier: d, facts: report.BookFacts{Site: site, Package: d.Package, Name: d.Book.Name,
		Sheet: d.Sheet, At: d.BegunAt.UTC(), By: d.By}}
	if x.keys, err = b.a.Keys(ctx); err != nil {
		return err
	}
	_, front, _, err := report.FrontGathering(x.facts, x.lines(), d.Book.Gaps, 0)
	if err != nil {
		return err
	}
	x.gatherings, x.leaves = append(x.gatherings, nil), append(x.leaves, front)
	if err := x.joints(ctx); err != nil {
		return err
	}
	for len(x.leaves) < len(d.Book.Entries) {
		pdf, n, err := x.draw(ctx, d.Book.Entries[len(x.leaves)])
		if err != nil {
			return err
		}
		if err := x.drawn(ctx, pdf, n); err != nil {
			return err
		}
	}
	lines := x.lines()
	first, n, links, err := report.FrontGathering(x.facts, lines, d.Book.Gaps, x.next()-1)
	if err != nil {
		return err
	}
	if n != front {
		return fmt.Errorf("the contents take %d leaves, and %d were kept for them", n, front)
	}
	x.gatherings[0] = first
	var out bytes.Buffer
	if err := report.Bind(&out, x.gatherings, lines, links); err != nil {
		return err
	}
	x.gatherings = nil
	ok, err := b.a.BindDossier(ctx, d, x.leaves, out.Bytes())
	if err == nil && !ok {
		return errStopped
	}
	return err
}

// next is the leaf after those that are drawn.
func (x *book) next() int {
	n := 1
	for _, l := range x.leaves {
		n += l
	}
	return n
}

// drawn takes leaves that were drawn into the book and says how far it is.
func (x *book) drawn(ctx context.Context, pdf []byte, leaves ...int) error {
	x.gatherings, x.leaves = append(x.gatherings, pdf), append(x.leaves, leaves...)
	goesOn, err := x.a.DossierDrawn(ctx, x.Dossier, x.leaves)
	if err == nil && !goesOn {
		return errStopped
	}
	return err
}

// lines are the contents; the leaves of what is not drawn yet are 0.
func (x *book) lines() []report.Line {
	var list []report.Line
	chapter := -1
	at := 1
	for i, e := range x.Book.Entries {
		n := 0
		if i < len(x.leaves) {
			n = x.leaves[i]
		}
		if e.Chapter != dossier.Front {
			if chapter < 0 || list[chapter].Text != e.Chapter.Word() {
				chapter = len(list)
				list = append(list, report.Line{Chapter: true, Text: e.Chapter.Word(), Leaf: at})
			}
			list[chapter].Leaves += n
			if text := e.Key; text != string(e.Chapter) {
				list = append(list, report.Line{Text: text, Note: e.Title, Gap: e.Gap, Leaf: at, Leaves: n})
			}
		}
		at += n
	}
	return list
}

func (x *book) gaps(e dossier.Entry) (out []dossier.Gap) {
	for _, g := range x.Book.Gaps {
		if g.Chapter == e.Chapter && (g.Key == e.Key || e.Key == string(e.Chapter)) {
			out = append(out, g)
		}
	}
	return out
}

// batches divides the joints, so many records at once.
func (x *book) batches() (list [][]dossier.Entry) {
	records := recordsAtOnce
	for _, e := range x.Book.Entries[1:] {
		if e.Chapter != dossier.Joints {
			break
		}
		if records >= recordsAtOnce {
			list, records = append(list, nil), 0
		}
		last := len(list) - 1
		list[last], records = append(list[last], e), records+max(len(e.Records), 1)
	}
	return list
}

// joints draws the joints; what was drawn for the same before is taken as it is.
func (x *book) joints(ctx context.Context) error {
	list := x.batches()
	var ahead <-chan read // what is read of the present batch while the one before is drawn
	for i, batch := range list {
		g, key, ok, err := x.kept(ctx, batch)
		if err != nil {
			return err
		}
		if !ok {
			if ahead == nil {
				ahead = x.read(ctx, batch)
			}
			r := <-ahead
			if ahead = nil; i+1 < len(list) {
				ahead = x.read(ctx, list[i+1])
			}
			if g, err = x.drawJoints(r); err != nil {
				return err
			}
			if err := x.a.KeepGathering(ctx, x.Dossier, key, g); err != nil {
				return err
			}
		}
		var told [][]string
		if err := json.Unmarshal([]byte(g.Told), &told); err != nil {
			return err
		}
		x.deviations = append(x.deviations, told...)
		if err := x.drawn(ctx, g.File, g.Leaves...); err != nil {
			return err
		}
	}
	return nil
}

// kept looks for leaves that were drawn from the same before, and gives the key that they are kept by.
func (x *book) kept(ctx context.Context, batch []dossier.Entry) (g app.Gathering, key string, ok bool, err error) {
	// who binds it, and when, stands on the leaves of gaps alone: without one they are the same for the next making
	facts := x.facts
	facts.At, facts.By = time.Time{}, ""
	gaps := make([][]dossier.Gap, len(batch))
	for i, e := range batch {
		if gaps[i] = x.gaps(e); len(gaps[i]) > 0 {
			facts = x.facts
		}
	}
	if key, err = record.Digest([]any{drawing, facts, x.next(), batch, gaps}); err != nil {
		return g, key, false, err
	}
	g, ok, err = x.a.Gathering(ctx, key)
	return g, key, ok, err
}

// read is what a batch is drawn from.
type read struct {
	items []report.JointItem
	told  [][]string // rows of deviations
	err   error
}

// read reads the records of a batch and verifies them, which takes as long as drawing them.
func (x *book) read(ctx context.Context, batch []dossier.Entry) <-chan read {
	out := make(chan read, 1)
	go func() {
		r := read{told: [][]string{}}
		for _, e := range batch {
			item := report.JointItem{Key: e.Key, Title: e.Title, Gaps: x.gaps(e)}
			for _, s := range e.Records {
				v, err := x.a.BookRecord(ctx, s, x.keys)
				if err != nil {
					out <- read{err: err}
					return
				}
				item.Records = append(item.Records, printed(v))
				r.told = append(r.told, deviations(e.Key, s.Number, v.Record.State)...)
			}
			r.items = append(r.items, item)
		}
		out <- r
	}()
	return out
}

func (x *book) drawJoints(r read) (g app.Gathering, err error) {
	if r.err != nil {
		return g, r.err
	}
	text, err := json.Marshal(r.told)
	if err != nil {
		return g, err
	}
	g.Told = string(text)
	g.File, g.Leaves, err = report.JointGathering(x.facts, x.next(), r.items)
	return g, err
}

// printed is a record as its leaves are drawn.
func printed(v app.RecordView) report.Sealed {
	photos := map[string]report.Photo{}
	for id, p := range v.Photos {
		photos[id] = report.Photo(p)
	}
	return report.Sealed{Record: v.Record, Mark: v.Row.Mark, KeyID: v.KeyID, Target: v.Row.Target,
		TightenedBy: v.Row.TightenedBy, ProvedBy: v.Row.ProvedBy, SealedAt: v.Row.SealedAt, Photos: photos,
		Additions: v.Additions}
}

// deviations are the rows of a record in that chapter.
func deviations(tag, number string, s *run.State) (rows [][]string) {
	for _, d := range s.Deviations {
		rows = append(rows, []string{tag, number, d.What, d.At.UTC().Format("2 Jan 2006, 15:04"), d.By,
			strings.TrimSuffix(string(d.Status)+": "+d.Closed, ": ")})
	}
	return rows
}

// draw draws an entry that is no joint.
func (x *book) draw(ctx context.Context, e dossier.Entry) (pdf []byte, leaves int, err error) {
	first := x.next()
	l := report.List{Title: e.Title, Under: x.Book.Name, Gaps: x.gaps(e), Empty: "Nothing."}
	switch {
	case e.Chapter == dossier.Tests:
		t, err := x.a.PressureTest(ctx, e.Key)
		if err != nil {
			return nil, 0, err
		}
		p := report.PressureTest{Spec: t.Spec, Events: t.Events, State: t.State, Site: x.facts.Site, At: x.facts.At}
		if t.Sealed != nil {
			p.Mark, p.KeyID, p.At = t.Sealed.Mark, t.Sealed.Key, t.Sealed.At
		}
		return report.TestGathering(x.facts, first, p)
	case e.Chapter == dossier.Tools && e.Key == string(dossier.Tools):
		if l, err = x.toolList(ctx, l); err != nil {
			return nil, 0, err
		}
	case e.Chapter == dossier.Lots:
		l.Shares, l.Head = []float64{.16, .34, .5}, []string{"Kind", "Lot or part", "Joints"}
		for _, w := range x.Book.Lots {
			l.Rows = append(l.Rows, []string{w.Kind, w.Value, strings.Join(w.Joints, ", ")})
		}
	case e.Chapter == dossier.People:
		l.Shares, l.Head = []float64{.3, .7}, []string{"Name", "Joints"}
		for _, w := range x.Book.Persons {
			l.Rows = append(l.Rows, []string{w.Value, strings.Join(w.Joints, ", ")})
		}
	case e.Chapter == dossier.Deviations:
		l.Shares, l.Head = []float64{.1, .15, .3, .15, .12, .18}, []string{"Joint", "Record", "What", "When, UTC", "By",
			"Came of it"}
		l.Rows, l.Empty = x.deviations, "No record departed from its plan."
	case e.Chapter == dossier.Numbers:
		if l, err = x.numbers(ctx, l); err != nil {
			return nil, 0, err
		}
	}
	return report.ListGathering(x.facts, first, l)
}

func (x *book) toolList(ctx context.Context, l report.List) (report.List, error) {
	list, err := x.a.BookTools(ctx, x.Book.Tools)
	if err != nil {
		return l, err
	}
	l.Shares = []float64{.12, .24, .22, .24, .18}
	l.Head = []string{"Tool", "What", "Maker, serial", "Certificate", "Holds"}
	for _, t := range list {
		cert, holds := "none needed", ""
		if t.Certificate != "" {
			cert, holds = t.Certificate, fmt.Sprintf("%s to %s", t.CalibratedOn, t.CalibrationEnds)
		} else if t.Dated() {
			cert = "none in the crib"
		}
		l.Rows = append(l.Rows, []string{t.Tag, t.Name(), t.Maker + " " + t.Serial, cert, holds})
	}
	return l, nil
}

// numbers are how the last pulls of the records lie about their aims, by tool.
func (x *book) numbers(ctx context.Context, l report.List) (report.List, error) {
	var list []string
	for _, e := range x.Book.Entries {
		for _, s := range e.Records {
			list = append(list, s.Number)
		}
	}
	n, err := x.a.NumbersOf(ctx, list)
	if err != nil {
		return l, err
	}
	l.Under = "Last pulls that were read, in per cent of each joint's own aim. A click tells no figure."
	l.Shares = []float64{.28, .1, .14, .24, .12, .12}
	l.Head = []string{"Tool", "Pulls", "Middle, %", "90 of 100 lie, %", "Outside", "Cpk"}
	l.Empty = "No pull of these records was read."
	for _, r := range append(n.Rows, n.All) {
		if r.N == 0 {
			continue
		}
		cpk := "too few"
		if r.Cpk != nil {
			cpk = fmt.Sprintf("%.2f", *r.Cpk)
		}
		l.Rows = append(l.Rows, []string{r.Name, fmt.Sprint(r.N), fmt.Sprintf("%+.1f", r.Middle),
			fmt.Sprintf("%+.1f to %+.1f", r.P5, r.P95), fmt.Sprint(r.Outside), cpk})
	}
	return l, nil
}
