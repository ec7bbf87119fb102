package report

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/run"
)

// view is the record of the made-up joint as it goes to print.
func view(t *testing.T, steps func(*coretest.Script)) Sealed {
	t.Helper()
	rec, err := coretest.Finished(steps)
	require.NoError(t, err)
	return Sealed{Record: rec, Target: "300 N·m",
		TightenedBy: "M. Tolley", ProvedBy: "R. Abara", SealedAt: coretest.Day.Add(3 * time.Hour),
		Mark: strings.Repeat("0f", 32)}
}

// words is the text of a printed page, as a reader of the file finds it.
func words(t *testing.T, pdf []byte) string {
	t.Helper()
	file := filepath.Join(t.TempDir(), "print.pdf")
	require.NoError(t, os.WriteFile(file, pdf, 0o600))
	out, err := exec.Command("pdftotext", "-layout", file, "-").Output()
	require.NoError(t, err)
	return strings.Join(strings.Fields(string(out)), " ")
}

func certificate(t *testing.T, v Sealed) []byte {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, Certificate(&b, v))
	return b.Bytes()
}

func TestCertificateSaysWhatWasDemandedAndDone(t *testing.T) {
	v := view(t, (*coretest.Script).Finish)
	first := certificate(t, v)
	require.Equal(t, first, certificate(t, v), "the same record prints the same bytes")
	text := words(t, first)
	for _, want := range []string{"SW-111", "TS2-SW-031", "8 × M20", "Light oil", "W-40", "C-2209", "M. Tolley",
		"R. Abara", "does not certify the joint as safe", "TS-2026-00001",
		"No deviation from the plan", "sheet 1"} {
		require.Contains(t, text, want)
	}
	require.NotContains(t, text, "Photos", "no heading without a photo")
	pulls := map[run.Outcome]int{}
	for _, e := range v.Record.Events {
		if e.Event.Kind == run.Pulled {
			pulls[e.Event.Outcome]++
		}
	}
	require.Equal(t, pulls[run.Clicked], strings.Count(text, " clicked "), "every pull is listed once")
	require.Len(t, regexp.MustCompile(`bolt \d+\s+by hand`).FindAllString(text, -1), pulls[run.ByHand], "what was run up by hand too")
}

// What was read stands as it was typed, in the check and in the pull.
func TestReadingsArePrintedAsTyped(t *testing.T) {
	v := view(t, func(s *coretest.Script) {
		s.Add(run.Event{Kind: run.ReadConfirmed})
		for _, c := range s.Plan.Checks {
			e := s.Right(c)
			if c.Code == "gap" {
				for i, text := range []string{"3.125", "3.1", "3,105", "1/8 in"} {
					e.Values[i].Text = text
				}
				e.Values[0].Value, e.Values[1].Value, e.Values[2].Value, e.Values[3] = 3.125, 3.1, 3.105,
					run.Reading{Value: 0.125, Unit: "in", SI: 3.175, Text: "1/8 in"}
			}
			s.Add(e)
			if c.Hold {
				s.Sign(run.SignHold, coretest.Quaye, run.Event{Check: c.Code})
			}
		}
		s.Confirm()
		s.Add(run.Event{Kind: run.Pulled, Pass: 1, Fastener: 1, Outcome: run.Reached, Setting: 90,
			Reading: &run.Reading{Value: 90.5, Unit: quantity.NewtonMetre, SI: 90.5, Text: "90,5"}})
	})
	text := words(t, certificate(t, v))
	require.Contains(t, text, "90,5 N·m")
	for _, want := range []string{"3.100 to 3.175 mm", "read 3.125", " 3.1 mm", "3,105", "1/8 in"} {
		require.Contains(t, text, want)
	}
}

func TestPhotosStandBesideTheirCheck(t *testing.T) {
	v := view(t, func(s *coretest.Script) {
		for _, id := range []string{"seen", "late", "odd"} {
			s.Add(run.Event{Kind: run.CheckAnswered, Check: "faces", Answer: "repair", Note: "scratch, " + id,
				Photo: id})
		}
		s.Finish()
	})
	picture := image.NewGray(image.Rect(0, 0, 40, 20))
	picture.Set(3, 3, color.White)
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, picture, nil))
	v.Photos = map[string]Photo{"seen": {MediaType: "image/jpeg", Bytes: b.Bytes()},
		"odd": {MediaType: "image/webp", Bytes: []byte("RIFF")}}
	pdf := certificate(t, v)
	require.Equal(t, pdf, certificate(t, v))
	require.Equal(t, 1, bytes.Count(pdf, []byte("/Subtype /Image"))-images(t), "one picture is drawn")
	text := words(t, pdf)
	for _, want := range []string{"Photos", "Flange faces: repair", "scratch, seen, M. Tolley",
		"has not arrived from its device", "cannot be printed in this form"} {
		require.Contains(t, text, want)
	}
}

// images is the number of pictures in a certificate without photos.
func images(t *testing.T) int {
	t.Helper()
	return bytes.Count(certificate(t, view(t, (*coretest.Script).Finish)), []byte("/Subtype /Image"))
}

func TestDeparturesArePrintedWithWhoAndWhy(t *testing.T) {
	v := view(t, func(s *coretest.Script) {
		s.Ready()
		s.Pull()
		s.Pull()
		last := s.Events[len(s.Events)-1]
		s.Add(run.Event{Kind: run.TakenBack, Ref: last.ID, Reason: "it was another bolt"})
		s.Tighten()
		s.Checks(procedure.Prove)
	})
	text := words(t, certificate(t, v))
	require.Contains(t, text, "One entry was taken back; it stays in the record")
}

func TestTagCarriesJointTargetAndMark(t *testing.T) {
	v := view(t, (*coretest.Script).Finish)
	var b bytes.Buffer
	require.NoError(t, Tag(&b, v))
	text := words(t, b.Bytes())
	for _, want := range []string{"SW-111", "TS-2026-00001", "300 N·m", "0F0F-0F0F"} {
		require.Contains(t, text, want)
	}
}
