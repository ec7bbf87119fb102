package record_test

import (
	"bytes"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/record"
)

// What was seen on a walk and signed later says both times; a verifier holds the first between the seal and the second.
func TestLookSignedLaterSaysWhenItWas(t *testing.T) {
	b := sealedWith(t)
	a := b.next(record.Recheck)
	seen := a.At.Add(-40 * time.Minute)
	a.SeenAt, a.Look = &seen, "0192f0c4-7d5e-7a4b-9c1d-3e5f60718293"
	require.Equal(t, seen, a.When())
	b.add(a)
	rep := record.Verify(b.whole(), record.Trust(public(b.key)))
	require.True(t, rep.OK, rep.Problems)
	require.Equal(t, seen, rep.Additions[0].When())
	altered := bytes.Replace(b.whole(), []byte(seen.Format(time.RFC3339)),
		[]byte(seen.Add(-time.Minute).Format(time.RFC3339)), 1)
	require.False(t, record.Verify(altered, record.Trust(public(b.key))).OK)

	later := a.At.Add(time.Millisecond)
	a.SeenAt = &later
	require.ErrorContains(t, a.Check(b.rec.Plan), "seenAt: is after it was signed")
	a.SeenAt = &a.At
	require.NoError(t, a.Check(b.rec.Plan))
	a.Kind, a.SeenAt = record.Heated, &seen
	require.ErrorContains(t, a.Check(b.rec.Plan), "seenAt: belongs to")

	b = sealedWith(t)
	a = b.next(record.Finding)
	early := coretest.Day.Add(-time.Millisecond)
	a.SeenAt = &early
	b.add(a)
	rep = record.Verify(b.whole(), record.Trust(public(b.key)))
	require.False(t, rep.OK)
	require.Contains(t, rep.Problems[0], "was seen before the record was sealed")
	require.Equal(t, b.next(record.Recheck).At, b.at, "without another time it was seen when it was signed")
}

// A picture of what was seen is named with the digest of its bytes, of a look and a finding alone.
func TestPictureOfWhatWasSeen(t *testing.T) {
	b := sealedWith(t)
	a := b.next(record.Finding)
	a.Photo, a.PhotoSHA256 = "0192f0c4-7d5e-7a4b-9c1d-3e5f60718293", strings.Repeat("0a", 32)
	b.add(a)
	rep := record.Verify(b.whole(), record.Trust(public(b.key)))
	require.True(t, rep.OK, rep.Problems)
	require.Equal(t, a.Photo, rep.Additions[0].Photo)
	for name, change := range map[string]func(a *record.Addition){
		"no digest":    func(a *record.Addition) { a.PhotoSHA256 = "" },
		"half of one":  func(a *record.Addition) { a.PhotoSHA256 = a.PhotoSHA256[:63] },
		"no picture":   func(a *record.Addition) { a.Photo = "" },
		"any text":     func(a *record.Addition) { a.Photo = "IMG_0001.jpg" },
		"of a warming": func(a *record.Addition) { a.Kind = record.Heated },
	} {
		x := a
		change(&x)
		require.ErrorContains(t, x.Check(b.rec.Plan), "photo", name)
	}
}
