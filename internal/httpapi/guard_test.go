package httpapi

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/internal/app"
)

func TestWhatCannotBeMeantIsRefusedByField(t *testing.T) {
	deep := func(n int) string { return strings.Repeat("[", n) + strings.Repeat("]", n) }
	for text, want := range map[string][2]string{
		`{"name":"flange \u0000"}`:                           {"name", "control character (U+0000)"},
		`{"a":{"b":["x","\u001b[2J"]}}`:                      {"a.b.1", "control character (U+001B)"},
		`{"name":"` + strings.Repeat("x", mostText+1) + `"}`: {"name", "more than 4000 characters"},
		`{"force":1e19}`:                                     {"force", "cannot be meant"},
		`{"force":1e999}`:                                    {"force", "cannot be meant"},
		`{"a":1,"a":2}`:                                      {"body", "stands twice"},
		`{"a":1} {"a":2}`:                                    {"body", "follows the end"},
		`{"a":`:                                              {"a", "cannot be read"},
		"{\"a\":\"\xff\"}":                                   {"body", "not UTF-8"},
		deep(mostDepth + 1):                                  {"", "nested deeper than 32"},
		"[" + strings.Repeat("0,", mostValues) + "0]":        {"", "more than 100000 values"},
		`{"` + strings.Repeat("k", 201) + `":1}`:             {"body", "more than 200 characters"},
		`{"yaml":"` + strings.Repeat("x", mostLongText+1) + `"}`: {"yaml", "more than 262144 characters"},
	} {
		field, why := sane([]byte(text))
		require.Contains(t, why, want[1], clipped(text))
		if want[0] != "" {
			require.Equal(t, want[0], field, clipped(text))
		}
	}
	for _, text := range []string{`{"a":"line\nline\ttab","b":-1e18,"c":[{"a":1},{"a":2}]}`,
		`"` + strings.Repeat("ü", mostText) + `"`, deep(mostDepth), "null",
		`{"yaml":"` + strings.Repeat("x", mostLongText) + `"}`} {
		_, why := sane([]byte(text))
		require.Empty(t, why, clipped(text))
	}
}

func clipped(s string) string { return s[:min(len(s), 40)] }

// One at work, one waiting, and the next is told that the server is busy; one who goes away makes room.
func TestGateLetsAFewIn(t *testing.T) {
	g := newGate(1, 1)
	first, ok := g.wait()
	require.True(t, ok)
	end, ok := g.run(context.Background())
	require.True(t, ok)
	second, ok := g.wait()
	require.True(t, ok)
	_, ok = g.wait()
	require.False(t, ok, "nobody else may even wait")
	gone, cancel := context.WithTimeout(context.Background(), 20*time.Millisecond)
	defer cancel()
	_, ok = g.run(gone)
	require.False(t, ok, "it waited until its time was over")
	begun := make(chan func())
	go func() {
		end, _ := g.run(context.Background())
		begun <- end
	}()
	end()
	(<-begun)()
	first()
	second()
	require.Empty(t, g.running)
	require.Empty(t, g.waiting)
}

// Every route that takes bytes says in the contract how many.
func TestEveryBodyHasItsBound(t *testing.T) {
	doc, err := GetSpec()
	require.NoError(t, err)
	limits := bodyLimits(doc)
	access, err := accessOf(doc)
	require.NoError(t, err)
	for path, item := range doc.Paths.Map() {
		for method, op := range item.Operations() {
			at := method + " " + routerPath(path)
			require.Contains(t, access, at)
			require.Positive(t, limits[at], at)
			require.LessOrEqual(t, limits[at], int64(32<<20), at)
			if op.RequestBody != nil && op.RequestBody.Value.Content["application/octet-stream"] != nil {
				require.Contains(t, op.Extensions, "x-most-bytes", at)
			}
		}
	}
	require.EqualValues(t, 4096, limits["POST /session"])
	require.EqualValues(t, mostBodyDefault, limits["POST /joints"])
	for at := range heavy {
		require.Contains(t, access, at, "a heavy route that is none")
	}
}

// Every kind of problem is told with a status of its own sort, so that none becomes a fault of the server.
func TestEveryKindOfProblemHasItsStatus(t *testing.T) {
	for kind, want := range map[app.ProblemKind]int{
		app.Invalid: 422, app.NotFound: 404, app.Conflict: 409, app.Closed: 410, app.NotSignedIn: 401,
		app.Forbidden: 403, app.TooOften: 429, app.TooLarge: 413, app.Outdated: 426, app.Unavailable: 503,
	} {
		require.Equal(t, want, statusOf[kind], kind)
	}
	require.Len(t, statusOf, 10)
}
