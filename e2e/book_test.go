package e2e

import (
	"archive/zip"
	"bytes"
	"encoding/base64"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/dossier"
	"dynacor/internal/demo/demotest"
)

// A book is made while its maker goes on with other work: it is stopped, made again, and bound; the mark in the top bar
// says so wherever they are.
func TestBookOf200JointsIsStoppedAndMadeAgain(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	demotest.SealedPackage(t, s.url, "WP-90", 200)
	s.works()
	p := open(t, s.URL, 1280, 800)
	p.signIn("J. Hartwell", pins["J. Hartwell"])
	p.visit("/records")
	p.press("link", "^Books$")
	p.press("link", "^Book of WP-90$")
	p.find("heading", "^No gaps")
	p.press("button", "^Make the book$")
	p.find("any", "being made since")
	p.find("any", `book \d+ of \d+`)
	p.press("button", "^Stop making it$")
	p.find("any", "was stopped. What is drawn is kept for a day")
	p.shot("book-stopped")
	p.press("button", "^Make the book$")
	p.find("button", "^Stop making it$")
	p.shot("book-making")
	p.visit("/crib")
	p.find("any", "book of WP-90 is bound")
	p.press("any", "book of WP-90 is bound")
	p.find("any", "bound .* by J. Hartwell")
	p.find("any", "^Sheet 1$")
	p.find("link", "^Book, PDF$")
	p.find("link", "^Files, ZIP$")
	p.gone("any", "book of WP-90 is bound")
	p.shot("book-bound")
}

// The book of the demo has gaps: each is told with whose it is, and leads there; it can be bound with them.
func TestGapsOfABookLeadToWhoHasThem(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	s.works()
	p := open(t, s.URL, 1280, 800)
	p.signIn("M. Tolley", "4071")
	p.visit("/books/WP-47")
	p.find("heading", `^\d+ gaps, and who has them`)
	p.find("any", "you, ")
	require.False(t, p.has("button", "Bind it"), "a technician does not have it made")
	p.press("link", "^SW-116, no record: work has not begun$")
	p.find("button", "Read it, then Ready")
	q := open(t, s.URL, 1280, 800)
	q.signIn("R. Abara", pins["R. Abara"])
	q.visit("/books/WP-47")
	q.shot("book")
	q.press("button", "^Ask those who have them$")
	q.find("any", "Asked: ")
	q.shot("book-asked")
	q.press("button", "^Ask those who have them$")
	q.find("any", "was asked in this shift")
	p.visit("/")
	p.find("any", "R. Abara asks for the book of WP-47")
	p.shot("today-asked")
	require.Empty(t, p.axe())
	p.press("button", "^Put aside$")
	p.gone("button", "^Put aside$")
	q.press("button", "^Bind it with its gaps$")
	q.find("any", "bound .* by R. Abara")
	for _, size := range [][2]int{{1024, 768}, {390, 844}} {
		q.MustSetViewport(size[0], size[1], 1, false)
		q.find("any", "bound .* by R. Abara")
		q.shot("book-" + map[int]string{1024: "tablet", 390: "phone"}[size[0]])
	}
	got := q.MustEval(`async () => {
		const at = [...document.querySelectorAll('a')].find(a => a.href.endsWith('/files.zip')).href;
		const b = new Uint8Array(await (await fetch(at)).arrayBuffer());
		return btoa(Array.from(b, c => String.fromCharCode(c)).join(''));
	}`).Str()
	data, err := base64.StdEncoding.DecodeString(got)
	require.NoError(t, err)
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	require.Equal(t, dossier.IndexName, z.File[0].Name)
	require.Equal(t, "book.pdf", z.File[1].Name)
}
