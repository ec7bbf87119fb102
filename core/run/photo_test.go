package run_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/procedure"
	"dynacor/core/run"
)

// A photo is named by the identifier and the digest that a device gives one it keeps; any other text names none.
func TestPhotoIsNamedAsOneThatWasTaken(t *testing.T) {
	const id, other = "0199aaaa-0000-7000-8000-000000000002", "0123456789abcdef"
	digest := strings.Repeat(other, 4)
	for _, c := range []struct {
		photo, digest string
		ok            bool
	}{{"", "", true}, {id, digest, true}, {"x", digest, false}, {id, "", false}, {"", digest, false},
		{id, digest[1:], false}, {id, strings.ToUpper(digest), false}, {id, digest[1:] + "g", false},
		{strings.ToUpper(id), digest, false}, {strings.ReplaceAll(id, "-", ""), digest, false},
		{"0199aaaa00000-7000-8000-000000000002", digest, false}, {id[:35] + "g", digest, false},
		{"0199aaaa-0000-7000-8000-00000000-002", digest, false}} {
		e := run.Event{ID: "1", Kind: run.CheckAnswered, At: coretest.Day, Check: "faces", Answer: "accept", Photo: c.photo,
			PhotoSHA256: c.digest}
		if err := e.Validate(); c.ok {
			require.NoError(t, err, "%q %q", c.photo, c.digest)
		} else {
			require.ErrorContains(t, err, "names no picture", "%q %q", c.photo, c.digest)
		}
	}
}

// Whoever mends it later must see what was seen: a fault found comes with a photo and words.
func TestFaultFoundNeedsPhotoAndWords(t *testing.T) {
	s := script(t)
	for _, answer := range []string{"repair", "replace"} {
		e := run.Event{Kind: run.CheckAnswered, Check: "faces", Answer: answer, Note: "scratch", Photo: "p"}
		require.NoError(t, e.Fits(s.Plan))
		e.Note = " "
		require.ErrorContains(t, e.Fits(s.Plan), "few words")
		e.Note, e.Photo = "scratch", ""
		require.ErrorContains(t, e.Fits(s.Plan), "Take a photo")
		e.Check = "gasket"
		require.NoError(t, e.Fits(s.Plan), "it is asked of conditions")
	}
	require.Equal(t, procedure.Condition, mustCheck(t, s.Plan, "faces").Kind)
	require.NoError(t, run.Event{Kind: run.CheckAnswered, Check: "faces", Answer: "accept"}.Fits(s.Plan))
	require.NoError(t, run.Event{Kind: run.DeviationRaised, Check: "faces", Answer: "repair"}.Fits(s.Plan))
}
