package procedures_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/internal/procedures"
)

// Each of these texts once took the server's memory, its stack or its time. They are refused with their line, at once.
func TestTextsThatGrowWithoutEndAreRefused(t *testing.T) {
	laughs := "a: &a [x, x]\n"
	for i := range 20 {
		c := string(rune('a' + i))
		laughs += string(rune('b'+i)) + ": &" + string(rune('b'+i)) + " [*" + c + ", *" + c + "]\n"
	}
	for name, c := range map[string]struct{ text, says string }{
		"aliases of aliases":      {laughs, "stands for another place"},
		"an alias":                {"a: 1\nb: *a\n", "stands for another place"},
		"a merge":                 {"a:\n  <<: x\n", "stands for another place"},
		"brackets":                {strings.Repeat("[", 200_000), "nested deeper than 24"},
		"brackets between quotes": {strings.Repeat(`["]",`, 40_000), "nested deeper than 24"},
		"braces":                  {strings.Repeat("{a: ", 60_000), "nested deeper than 24"},
		"dashes":                  {strings.Repeat("- ", 100_000), "more than 4 dashes"},
		"questions":               {strings.Repeat("? ", 100_000), "has no meaning"},
		"colons":                  {strings.Repeat("a: ", 80_000), "more than two colons"},
		"steps to the right":      {stairs(400), "indented by more than 80"},
		"words":                   {strings.Repeat("a: b\n", 40_000), "more than 50000 words"},
		"a tag":                   {"a: !!binary x\n", "has no meaning"},
		"two texts":               {"---\na: 1\n---\nb: 1\n", "a second text"},
		"bytes":                   {strings.Repeat("# note\n", 40_000), "larger than 256 kB"},
	} {
		begin := time.Now()
		_, faults := procedures.Read([]byte(c.text))
		require.NotEmpty(t, faults, name)
		require.Contains(t, faults[0].What, c.says, name)
		require.Less(t, time.Since(begin), 5*time.Second, name)
	}
}

func stairs(n int) string {
	var b strings.Builder
	for i := range n {
		b.WriteString(strings.Repeat(" ", i) + "a:\n")
	}
	return b.String()
}

func FuzzReadNeverPanics(f *testing.F) {
	f.Add([]byte("code: x\nversion: 1\nname: [a, {b: c}]\n"))
	f.Add([]byte("- - a\n  b: |\n   c\n"))
	f.Fuzz(func(_ *testing.T, text []byte) { procedures.Read(text) })
}
