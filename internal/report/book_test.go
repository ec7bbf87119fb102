package report

import (
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"
	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/dossier"
	"dynacor/core/pressuretest"
)

func bookFacts() BookFacts {
	return BookFacts{Site: "Tarn Skerry Tidal Station", Package: "WP-47", Name: "Cooler swap", Sheet: 2, At: coretest.Day,
		By: "J. Hartwell"}
}

// leaf gives the words of one leaf of a book.
func leaf(t *testing.T, pdf []byte, n int) string {
	t.Helper()
	file := filepath.Join(t.TempDir(), "book.pdf")
	require.NoError(t, os.WriteFile(file, pdf, 0o600))
	at := strconv.Itoa(n)
	out, err := exec.Command("pdftotext", "-layout", "-f", at, "-l", at, file, "-").Output()
	require.NoError(t, err)
	return strings.Join(strings.Fields(string(out)), " ")
}

// A line of the contents says a leaf, its link leads there, the leaf has that number, and the outline has it too.
func TestContentsLeadToTheirLeaves(t *testing.T) {
	f := bookFacts()
	v := view(t, (*coretest.Script).Finish)
	missing := dossier.Gap{What: "SW-112, no record: work has not begun", Roles: []string{"technician", "lead"},
		Who: []string{"A", "B", "C", "D", "E", "F"}}
	_, front, _, err := FrontGathering(f, make([]Line, 4), []dossier.Gap{missing}, 0)
	require.NoError(t, err)
	joints, leaves, err := JointGathering(f, front+1, []JointItem{{Key: "SW-111", Records: []Sealed{v}},
		{Key: "SW-112", Title: "Cooler vent header", Gaps: []dossier.Gap{missing}}})
	require.NoError(t, err)
	require.Len(t, leaves, 2)
	require.Equal(t, 1, leaves[1], "what is missing has a leaf in its place")
	at := front + 1 + leaves[0] + leaves[1]
	list, n, err := ListGathering(f, at, List{Title: "Parts and lots", Shares: []float64{.5, .5},
		Head: []string{"Lot", "Joints"}, Rows: [][]string{{"QF-88", "SW-111"}}})
	require.NoError(t, err)
	require.Equal(t, 1, n)
	lines := []Line{{Chapter: true, Text: "Joints", Leaf: front + 1, Leaves: leaves[0] + 1},
		{Text: "SW-111", Leaf: front + 1, Leaves: leaves[0]}, {Text: "SW-112", Leaf: at - 1, Leaves: 1, Gap: true},
		{Chapter: true, Text: "Parts, lots", Leaf: at, Leaves: 1}}
	first, again, links, err := FrontGathering(f, lines, []dossier.Gap{missing}, at)
	require.NoError(t, err)
	require.Equal(t, front, again)
	require.Len(t, links, len(lines))
	var b bytes.Buffer
	require.NoError(t, Bind(&b, [][]byte{first, joints, list}, lines, links))
	pdf := b.Bytes()
	count, err := api.PageCount(bytes.NewReader(pdf), nil)
	require.NoError(t, err)
	require.Equal(t, at, count)
	require.Contains(t, leaf(t, pdf, 1), "SW-112: with a gap")
	require.Contains(t, leaf(t, pdf, 1), "A, B, C, D and 2 more")
	require.Contains(t, leaf(t, pdf, front+1), "sheet 1 mark 0F0F-0F0F leaf "+strconv.Itoa(front+1))
	require.Contains(t, leaf(t, pdf, at-1), "Not here yet")
	require.Contains(t, leaf(t, pdf, at), "QF-88")
	require.Contains(t, leaf(t, pdf, at), "Hand-over book of WP-47, sheet 2. leaf "+strconv.Itoa(at))
	marks, err := api.Bookmarks(bytes.NewReader(pdf), nil)
	require.NoError(t, err)
	require.Equal(t, "Joints", marks[1].Title)
	require.Equal(t, "SW-112", marks[1].Kids[1].Title)
	require.Equal(t, at-1, marks[1].Kids[1].PageFrom)
	require.Equal(t, at, marks[2].PageFrom)
	ctx, err := api.ReadAndValidate(bytes.NewReader(pdf), model.NewDefaultConfiguration())
	require.NoError(t, err)
	page, _, _, err := ctx.PageDict(1, false)
	require.NoError(t, err)
	boxes, err := ctx.DereferenceArray(page["Annots"])
	require.NoError(t, err)
	numbers := map[int]int{} // of leaves, by their objects
	for n := 1; n <= count; n++ {
		_, ref, _, err := ctx.PageDict(n, false)
		require.NoError(t, err)
		numbers[ref.ObjectNumber.Value()] = n
	}
	var to []int
	for _, o := range boxes {
		d, err := ctx.DereferenceDict(o)
		require.NoError(t, err)
		to = append(to, numbers[d.ArrayEntry("Dest")[0].(types.IndirectRef).ObjectNumber.Value()])
	}
	require.ElementsMatch(t, []int{front + 1, front + 1, at - 1, at}, to)
}

// A certificate says the same in a book as alone.
func TestCertificateIsTheSameInABook(t *testing.T) {
	v := view(t, (*coretest.Script).Finish)
	alone := words(t, certificate(t, v))
	bound, leaves, err := JointGathering(bookFacts(), 7, []JointItem{{Key: "SW-111", Records: []Sealed{v, v}}})
	require.NoError(t, err)
	text := regexp.MustCompile(` leaf \d+`).ReplaceAllString(words(t, bound), "")
	require.Equal(t, alone+" "+alone, text)
	require.Zero(t, leaves[0]%2)
}

// The sheet of a test tells figures as they were typed, draws what was read, and a hold that lasts is not broken off.
func TestSheetOfATestTellsWhatWasRead(t *testing.T) {
	bar := func(v float64) *float64 { return &v }
	spec := pressuretest.Spec{Tag: "LT-07", Title: "Cooler drain", Kind: pressuretest.Hydrostatic,
		Joints: []string{"SW-111"}, Procedure: "TP-12 rev. B", Medium: "fresh water", DesignBar: 16, TestBar: 24,
		MostBar: 25.5, LossBar: .2, BarPerC: .8, Steps: []pressuretest.Step{{Bar: 24, Min: 30, Look: true, Test: true}},
		Gauge: pressuretest.Gauge{Tag: "PG-11", Range: 40, Mark: .2, CheckBy: "2027-05-23"}}
	var events []pressuretest.Event
	for _, g := range spec.Gates() {
		events = append(events, pressuretest.Event{Kind: pressuretest.Confirmed, Gate: g.Code, At: coretest.Day})
	}
	for i, v := range []float64{0, 24, 24} {
		events = append(events, pressuretest.Event{Kind: pressuretest.Read, Bar: bar(v), TempC: bar(12),
			BarAs: []string{"0", "24,0", "24"}[i], TempAs: "12", At: coretest.Day.Add(time.Duration(i) * time.Minute),
			Person: coretest.Tolley})
	}
	sheet := func() string {
		var b bytes.Buffer
		require.NoError(t, TestSheet(&b, PressureTest{Spec: spec, Events: events,
			State: pressuretest.Fold(spec, events), At: coretest.Day}))
		return words(t, b.Bytes())
	}
	text := sheet()
	require.Contains(t, text, "24,0 bar")
	require.Contains(t, text, "Pressure over time, as read")
	require.Contains(t, text, "lasts 0 bar 0 bar 0 bar")
	require.Contains(t, text, "Nobody yet: the test is not closed.")
	events = append(events, pressuretest.Event{Kind: pressuretest.LetDown, Bar: bar(0), BarAs: "0",
		At: coretest.Day.Add(time.Hour), Person: coretest.Tolley})
	require.Contains(t, sheet(), "broken off")
}
