package report

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/run"
)

// told is a text of n numbered words, so that a missing one is seen.
func told(word string, n int) string {
	var list []string
	for i := range n {
		list = append(list, fmt.Sprintf("%s%03d", word, i))
	}
	return strings.Join(list, " ")
}

var wordBox = regexp.MustCompile(`xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">([^<]*)<`)

// placed is a word of a print with its place in points.
type placed struct {
	text                   string
	left, top, right, foot float64
}

// wordsAt gives the words of a print with their places, and how many pages it has.
func wordsAt(t *testing.T, pdf []byte) (list []placed, pages int) {
	t.Helper()
	file := filepath.Join(t.TempDir(), "print.pdf")
	require.NoError(t, os.WriteFile(file, pdf, 0o600))
	out, err := exec.Command("pdftotext", "-bbox", file, "-").Output()
	require.NoError(t, err)
	for _, m := range wordBox.FindAllStringSubmatch(string(out), -1) {
		var at [4]float64
		for i := range at {
			at[i], err = strconv.ParseFloat(m[i+1], 64)
			require.NoError(t, err)
		}
		list = append(list, placed{m[5], at[0], at[1], at[2], at[3]})
	}
	return list, strings.Count(string(out), "<page ")
}

// boxes gives how often each word of a print stands there, and those that stand outside the frame of its sheets.
func boxes(t *testing.T, pdf []byte) (words map[string]int, outside []string) {
	t.Helper()
	words = map[string]int{}
	list, _ := wordsAt(t, pdf)
	for _, w := range list {
		words[w.text]++
		if frame := 8 / 25.4 * 72; w.left < frame || w.right > 595.3-frame || w.top < frame || w.foot > 841.9-frame+2 {
			outside = append(outside, w.text)
		}
	}
	return words, outside
}

// However much was told, all of it is printed, inside the frame of the sheets.
func TestNothingIsCut(t *testing.T) {
	v := view(t, func(s *coretest.Script) {
		s.Plan.Joint.Name, s.Plan.Joint.Service = told("name", 24), told("service", 24)
		s.Add(run.Event{Kind: run.CheckAnswered, Check: "faces", Answer: "repair", Note: told("caption", 180),
			Photo: "one"})
		s.Ready()
		for i := range 3 {
			s.Pull()
			s.Add(run.Event{Kind: run.Loosened, Pass: 1, Fastener: s.State().Prev,
				Reason: told(fmt.Sprintf("loose%d_", i), 150)})
		}
		s.Add(run.Event{Kind: run.DeviationRaised, Reason: told("departed", 180)})
		s.Sign(run.SignDeviation, coretest.Hartwell,
			run.Event{Ref: s.State().Deviations[len(s.State().Deviations)-1].ID, Reason: told("allowed", 180)})
		s.Finish()
	})
	v.Record.Plan.Joint.Tag, v.Record.Plan.Joint.Area = "SW-111-"+strings.Repeat("NORTH-", 10)+"7", told("area", 20)
	words, outside := boxes(t, certificate(t, v))
	require.Empty(t, outside)
	for prefix, n := range map[string]int{"name": 24, "service": 24, "caption": 180, "loose0_": 150, "loose1_": 150,
		"loose2_": 150, "departed": 180, "allowed": 180, "area": 20} {
		for i := range n {
			w := fmt.Sprintf("%s%03d", prefix, i)
			found := 0
			for have, times := range words {
				if strings.HasPrefix(have, w) {
					found += times
				}
			}
			require.Positive(t, found, w)
		}
	}
	require.Positive(t, words[v.Record.Plan.Joint.Tag], "the tag")
}

// The headings of a table stand on every sheet it goes over.
func TestTableOverSheetsRepeatsItsHeadings(t *testing.T) {
	v := view(t, (*coretest.Script).Finish)
	s := newSheet(v, "x")
	s.page()
	var rows [][]string
	for i := range 100 {
		rows = append(rows, []string{fmt.Sprintf("row%03d", i), "b"})
	}
	s.table([]float64{.5, .5}, []string{"Heading", "Other"}, rows)
	var b strings.Builder
	require.NoError(t, s.Output(&b))
	words, outside := boxes(t, []byte(b.String()))
	require.Empty(t, outside)
	require.Equal(t, s.n, words["Heading"])
	require.Greater(t, s.n, 1)
	for i := range 100 {
		require.Equal(t, 1, words[fmt.Sprintf("row%03d", i)])
	}
}
