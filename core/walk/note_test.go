package walk_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/walk"
)

// A note says something, in letters and not in bytes, and needs no tag.
func TestNoteSaysSomething(t *testing.T) {
	require.NoError(t, walk.CheckNote("", "ölt dort"))
	require.NoError(t, walk.CheckNote(strings.Repeat("Ä", 60), strings.Repeat("ä", 1000)))
	for _, c := range []struct{ tag, words, field string }{
		{"SW-171", "  ölt da ", "note"}, {"SW-171", strings.Repeat("ä", 1001), "note"},
		{strings.Repeat("Ä", 61), "no plate holds this", "tag"},
	} {
		require.ErrorContains(t, walk.CheckNote(c.tag, c.words), c.field+": ")
	}
}
