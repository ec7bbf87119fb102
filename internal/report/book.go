package report

import (
	"bytes"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"

	"dynacor/core/dossier"
)

// A book is drawn in gatherings, each a document of its own, which are bound together at the end: what was drawn is
// kept when the making stops, and no more than one gathering is in memory.

// BookFacts stand on every leaf of a book, and on its first.
type BookFacts struct {
	Site    string
	Package string
	Name    string
	Sheet   int // how often the book was bound, this time with it
	At      time.Time
	By      string
}

// newGathering begins sheets whose first is leaf first of the book.
func newGathering(f BookFacts, first int) *sheet {
	s := newPlainSheet("Hand-over book of " + f.Package)
	s.SetCreationDate(f.At)
	s.SetModificationDate(f.At)
	s.of = fmt.Sprintf("Hand-over book of %s, sheet %d.", f.Package, f.Sheet)
	s.leaf = first
	return s
}

// bytes gives the gathering, and how many leaves it has.
func (s *sheet) bytes() ([]byte, error) {
	var b bytes.Buffer
	err := s.Output(&b)
	return b.Bytes(), err
}

// JointItem is a joint of a gathering: its records, and what is missing of it.
type JointItem struct {
	Key     string
	Title   string
	Records []Sealed
	Gaps    []dossier.Gap
}

// JointGathering draws joints, the first of them on leaf first, and gives how many leaves each took.
func JointGathering(f BookFacts, first int, items []JointItem) (pdf []byte, leaves []int, err error) {
	s := newGathering(f, first)
	for _, x := range items {
		before := s.PageNo()
		s.gapLeaf(f, x.Key, x.Title, x.Gaps)
		for _, r := range x.Records {
			s.v, s.n = r, 0
			if err := s.certificate(); err != nil {
				return nil, nil, err
			}
			s.v = Sealed{}
		}
		leaves = append(leaves, s.PageNo()-before)
	}
	pdf, err = s.bytes()
	return pdf, leaves, err
}

// gapLeaf stands in the place of what is missing.
func (s *sheet) gapLeaf(f BookFacts, key, title string, gaps []dossier.Gap) {
	if len(gaps) == 0 {
		return
	}
	s.page()
	s.titled("Not here yet", title, key)
	s.y += 3
	for _, g := range gaps {
		s.room(20)
		s.line(left, width, "bold", 11, g.What)
		if g.Note != "" {
			s.line(left, width, "text", 9.5, g.Note)
		}
		s.line(left, width, "text", 9.5, "Whose it is: "+whose(g))
		s.line(left, width, "text", 9.5, askedOf(g))
		s.y += 3
	}
	s.line(left, width, "text", 9.5, fmt.Sprintf("The book was bound with this gap on %s UTC by %s.",
		f.At.UTC().Format("2 January 2006, 15:04"), f.By))
}

// noted says what is known of a gap, and whose it is.
func noted(g dossier.Gap) string {
	note := strings.TrimRight(g.Note, ".")
	if note != "" {
		note += ". "
	}
	return note + "Whose it is: " + whose(g)
}

// askedOf says who was asked for what is missing.
func askedOf(g dossier.Gap) string {
	if len(g.Asked) == 0 {
		return "Nobody was asked for it."
	}
	var list []string
	for _, a := range g.Asked[:min(len(g.Asked), mostNamed)] {
		list = append(list, fmt.Sprintf("%s on %s UTC by %s", a.Who, a.At.UTC().Format("2 January, 15:04"), a.By))
	}
	more := ""
	if n := len(g.Asked) - mostNamed; n > 0 {
		more = fmt.Sprintf("; and %d more", n)
	}
	return "Asked: " + strings.Join(list, "; ") + more + "."
}

const mostNamed = 4

// whose says who can supply what is missing.
func whose(g dossier.Gap) string {
	names := g.Who
	more := ""
	if len(names) > mostNamed {
		more = fmt.Sprintf(" and %d more", len(names)-mostNamed)
		names = names[:mostNamed]
	}
	if len(names) == 0 {
		return strings.Join(g.Roles, " or ") + "; nobody has that role"
	}
	return strings.Join(g.Roles, " or ") + ": " + strings.Join(names, ", ") + more
}

// List is a chapter that is one table.
type List struct {
	Title  string
	Under  string
	Shares []float64
	Head   []string
	Rows   [][]string
	Gaps   []dossier.Gap // told above the table
	Empty  string        // instead of the table, when it has no rows
}

// ListGathering draws a list.
func ListGathering(f BookFacts, first int, l List) (pdf []byte, leaves int, err error) {
	s := newGathering(f, first)
	s.page()
	s.titled(l.Title, l.Under, f.Package)
	s.y += 2
	for _, g := range l.Gaps {
		s.line(left, width, "bold", 9.5, "Missing: "+g.What)
		s.line(left, width, "text", 9, noted(g))
		s.y += 1.5
	}
	if len(l.Rows) == 0 {
		s.line(left, width, "text", 10, l.Empty)
	} else {
		s.table(l.Shares, l.Head, l.Rows)
	}
	n := s.PageNo()
	pdf, err = s.bytes()
	return pdf, n, err
}

// Line is a line of the contents: a chapter, or an entry of one, and the leaf it begins on.
type Line struct {
	Chapter bool
	Text    string
	Note    string
	Gap     bool
	Leaf    int
	Leaves  int
}

// Link is a line of the contents that leads to its leaf; the box is in points from the lower left.
type Link struct {
	On, To                   int // leaves
	Left, Bottom, Right, Top float64
}

const points = 72 / 25.4 // in a mm

// FrontGathering draws the title, what is missing, and the contents, and gives the links of the contents. It is always
// the first of a book.
func FrontGathering(f BookFacts, lines []Line, gaps []dossier.Gap, leaves int) (pdf []byte, n int, links []Link,
	err error) {
	s := newGathering(f, 1)
	s.page()
	s.titled("Hand-over book", f.Name, f.Package)
	s.y += 2
	s.line(left, width, "text", 10.5, f.Site)
	s.line(left, width, "text", 10.5, fmt.Sprintf("Sheet %d, bound %s UTC by %s. %d leaves.", f.Sheet,
		f.At.UTC().Format("2 January 2006, 15:04"), f.By, leaves))
	s.line(
		left,
		width,
		"text",
		9,
		"Every record in it was verified when it was bound. The files beside this book, with "+
			"their index, can be checked by anybody: dynacor verify FILE.zip. It does not certify the joints as safe to "+
			"load; that is for the qualified people of the site.",
	)
	s.rule("What is missing")
	if len(gaps) == 0 {
		s.line(left, width, "text", 10, "Nothing: no gap.")
	}
	for _, g := range gaps {
		s.line(left, width, "bold", 9, g.What)
		s.line(left+3, width-3, "text", 8.6, noted(g))
	}
	s.rule("Contents")
	for _, l := range lines {
		h, size, x, font := 4.6, 9.0, left+3, "text"
		if l.Chapter {
			h, size, x, font = 6.6, 11.0, left, "cond"
		}
		s.room(h)
		at := strconv.Itoa(l.Leaf)
		if l.Leaves > 1 {
			at += " to " + strconv.Itoa(l.Leaf+l.Leaves-1)
		}
		s.font("mono", 8.6)
		s.Text(right-s.GetStringWidth(at), s.y+h-1.3, at)
		text := l.Text
		if l.Note != "" {
			text += ", " + l.Note
		}
		if l.Gap {
			text += ": with a gap"
		}
		s.font(font, size)
		s.Text(x, s.y+h-1.3, s.short(text, width-34))
		links = append(links, Link{On: s.PageNo(), To: l.Leaf, Left: x * points, Right: right * points,
			Bottom: (297 - s.y - h) * points, Top: (297 - s.y) * points})
		s.y += h
	}
	n = s.PageNo()
	pdf, err = s.bytes()
	return pdf, n, links, err
}

// short cuts a line of the contents; the whole of it stands where it leads to.
func (s *sheet) short(text string, w float64) string {
	lines := s.split(text, w)
	if len(lines) < 2 {
		return plainSpaces(text)
	}
	return strings.TrimSpace(s.split(text, w-4)[0]) + " …"
}

// Bind binds gatherings into one document, with the outline of its contents and the links of its front. It lets go of
// each gathering when it is bound in.
func Bind(w io.Writer, gatherings [][]byte, lines []Line, links []Link) error {
	api.DisableConfigDir()
	conf := model.NewDefaultConfiguration()
	conf.Offline = true
	conf.Cmd = model.MERGECREATE
	conf.ValidationMode = model.ValidationRelaxed
	conf.CreateBookmarks = false
	var ctx *model.Context
	for i, g := range gatherings {
		next, err := api.ReadAndValidate(bytes.NewReader(g), conf)
		if err != nil {
			return fmt.Errorf("report: binding: %w", err)
		}
		gatherings[i] = nil // it is in memory once
		if i == 0 {
			ctx = next
			ctx.EnsureVersionForWriting()
			continue
		}
		if err := pdfcpu.MergeXRefTables(strconv.Itoa(i), next, ctx, false, false); err != nil {
			return fmt.Errorf("report: binding: %w", err)
		}
	}
	if err := api.OptimizeContext(ctx); err != nil {
		return fmt.Errorf("report: binding: %w", err)
	}
	boxes := map[int][]model.AnnotationRenderer{}
	for i, l := range links {
		boxes[l.On] = append(
			boxes[l.On],
			model.NewLinkAnnotation(*types.NewRectangle(l.Left, l.Bottom, l.Right, l.Top), 0,
				"", "contents "+strconv.Itoa(i+1), "", 0, nil, &model.Destination{Typ: model.DestFit, PageNr: l.To}, "",
				nil, false, 0, model.BSSolid),
		)
	}
	if len(boxes) > 0 {
		if _, err := pdfcpu.AddAnnotationsMap(ctx, boxes, false); err != nil {
			return fmt.Errorf("report: links of the contents: %w", err)
		}
	}
	if err := pdfcpu.AddBookmarks(ctx, outline(lines), true); err != nil {
		return fmt.Errorf("report: outline: %w", err)
	}
	if err := api.WriteContext(ctx, w); err != nil {
		return fmt.Errorf("report: binding: %w", err)
	}
	return nil
}

// outline gives the lines of the contents as bookmarks, the entries of a chapter under it.
func outline(lines []Line) []pdfcpu.Bookmark {
	list := []pdfcpu.Bookmark{{Title: "Contents and gaps", PageFrom: 1}}
	for _, l := range lines {
		m := pdfcpu.Bookmark{Title: l.Text, PageFrom: l.Leaf, Bold: l.Chapter}
		if last := len(list) - 1; !l.Chapter {
			list[last].Kids = append(list[last].Kids, m)
		} else {
			list = append(list, m)
		}
	}
	return slices.Clip(list)
}
