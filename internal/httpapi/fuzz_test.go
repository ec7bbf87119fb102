package httpapi_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/url"
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/stretchr/testify/require"
)

// hostile makes requests from the contract: values as they should be, at and past their limits, of another kind, and
// such as somebody sends who means harm.
type hostile struct {
	*rand.Rand
	doc *openapi3.T
}

var texts = []string{"", "x", "SW-111", "SW-114", "W-52", "TS-2026-00001", "light_oil", "M20", "yes", "\x00", "a\x00b",
	"\x1b[2J", "\u202egnirts", "' or 1=1 --", "=cmd|' /C calc'!A0", "../../etc/passwd", "%00", "{{7*7}}", "<script>",
	"1e308 in", "-1e308 N·m", "NaN", "Infinity", "0x10", "1,250", "２０", strings.Repeat("a", 5000),
	strings.Repeat("ü", 199), "2026-11-23", "2026-11-23T10:00:00Z", "0001-01-01T00:00:00Z", "9998-12-31T23:59:59Z",
	"01a22392-5f70-7f0a-84cd-eae4e2d4510b", "01A22392-5F70-7F0A-84CD-EAE4E2D4510B",
	"00000000-0000-0000-0000-000000000000", "a: &a [*a]", "- - - - - - -", "{", "[[[[", `{"id":"x"}`}

var numbers = []any{0, 1, -1, 2, 8, 12, 99, 1e9, -1e9, 1e15, 1e308, 3.5, 0.1, 2147483648, -2147483649, 9007199254740993,
	json.Number("1e999"), json.Number("123456789012345678901234567890")}

func (h hostile) pick(list []string) string { return list[h.IntN(len(list))] }

// value makes something for a schema; now and then of another kind.
func (h hostile) value(ref *openapi3.SchemaRef, depth int) any {
	if ref == nil || ref.Value == nil || h.IntN(25) == 0 {
		return []any{nil, true, h.pick(texts), numbers[h.IntN(len(numbers))], []any{}, map[string]any{}}[h.IntN(6)]
	}
	s := ref.Value
	switch {
	case len(s.Enum) > 0 && h.IntN(4) > 0:
		return s.Enum[h.IntN(len(s.Enum))]
	case s.Type.Is("string"):
		return h.pick(texts)
	case s.Type.Is("integer"), s.Type.Is("number"):
		return numbers[h.IntN(len(numbers))]
	case s.Type.Is("boolean"):
		return h.IntN(2) == 0
	case s.Type.Is("array"):
		out := []any{}
		for range h.IntN(4) {
			if depth < 6 {
				out = append(out, h.value(s.Items, depth+1))
			}
		}
		return out
	}
	out := map[string]any{}
	keys := make([]string, 0, len(s.Properties))
	for k := range s.Properties {
		keys = append(keys, k)
	}
	slices.Sort(keys) // the same seed makes the same request
	for _, k := range keys {
		needed := slices.Contains(s.Required, k)
		if depth < 6 && (needed && h.IntN(20) > 0 || !needed && h.IntN(4) == 0) {
			out[k] = h.value(s.Properties[k], depth+1)
		}
	}
	if s.AdditionalProperties.Schema != nil || len(keys) == 0 {
		for range h.IntN(3) {
			out[h.pick(texts)] = h.value(s.AdditionalProperties.Schema, depth+1)
		}
	}
	return out
}

// body makes the bytes of a body: as the contract has it, or something else.
func (h hostile) body(op *openapi3.Operation) (data []byte, kind string) {
	kind = "application/json"
	if op.RequestBody == nil {
		if h.IntN(10) == 0 {
			return []byte("x"), kind
		}
		return nil, ""
	}
	if op.RequestBody.Value.Content["application/octet-stream"] != nil {
		samples := []string{"", "x", "{}", "PK\x03\x04broken", "\x89PNG\r\n\x1a\n", "\xff\xd8\xff\xe0",
			"tag,area\nA,N\n", "tag,kind\nW,click\n", "tag;area;thread\n=1;\x00;M20\n", strings.Repeat("[", 100000),
			strings.Repeat("tag,", 5000), "\xef\xbb\xbf"}
		return []byte(h.pick(samples)), "application/octet-stream"
	}
	if h.IntN(12) == 0 {
		return []byte(h.pick([]string{"", "{", "null", "[]", "1", `"x"`, strings.Repeat("[", 5000), `{"a":1,"a":2}`,
			"\xff", "{}{}"})), kind
	}
	data, err := json.Marshal(h.value(op.RequestBody.Value.Content["application/json"].Schema, 0))
	if err != nil {
		return []byte("{}"), kind
	}
	return data, kind
}

// request makes one for an operation; ids are some that are there.
func (h hostile) request(base, method, path string, op *openapi3.Operation, params openapi3.Parameters,
	ids map[string]string) *http.Request {
	query := url.Values{}
	for _, p := range append(slices.Clone(params), op.Parameters...) {
		v := h.value(p.Value.Schema, 0)
		text := fmt.Sprint(v)
		if good := ids[p.Value.Name]; good != "" && h.IntN(4) > 0 {
			text = good
		}
		switch p.Value.In {
		case "path":
			path = strings.Replace(path, "{"+p.Value.Name+"}", url.PathEscape(text), 1)
		case "query":
			if p.Value.Required || h.IntN(2) == 0 {
				query.Set(p.Value.Name, text)
			}
		}
	}
	data, kind := h.body(op)
	req, err := http.NewRequest(method, base+"/api"+path+"?"+query.Encode(), bytes.NewReader(data))
	if err != nil {
		return nil
	}
	if kind != "" {
		req.Header.Set("Content-Type", kind)
	}
	return req
}

// Nothing answers 500, whatever is sent: every operation of the contract, as every role, with values from its own
// schema and past it. Seeded; DYNACOR_FUZZ asks for so many minutes of it instead of a few rounds.
func TestEveryRouteAnswersWhateverIsSent(t *testing.T) {
	s := newServer(t)
	until, rounds := time.Time{}, 2
	if m, err := strconv.Atoi(os.Getenv("DYNACOR_FUZZ")); err == nil {
		until, rounds = time.Now().Add(time.Duration(m)*time.Minute), 1<<30
	}
	clients := map[string]*client{"nobody": s.client(""), "technician": s.client("M. Tolley"),
		"engineer": s.client("J. Hartwell"), "administrator": s.client("B. Ode")}
	names := []string{"nobody", "technician", "engineer", "administrator"}
	var runs struct {
		RunID string `json:"runId"`
	}
	clients["engineer"].ok("GET", "/joints/SW-114", nil, &runs)
	ids := map[string]string{"tag": "SW-114", "id": runs.RunID, "code": "WP-47",
		"number": "TS-" + time.Now().Format("2006") + "-00001", "shelf": "lubricants", "version": "1",
		"name": "torque_from_preload", "photo": runs.RunID}
	paths := make([]string, 0, s.doc.Paths.Len())
	for p := range s.doc.Paths.Map() {
		paths = append(paths, p)
	}
	slices.Sort(paths)
	sent, counted := 0, map[int]int{}
	for round := 0; round < rounds && (until.IsZero() || time.Now().Before(until)); round++ {
		for _, path := range paths {
			item := s.doc.Paths.Value(path)
			for _, method := range []string{"GET", "POST", "PUT", "DELETE"} {
				op := item.GetOperation(method)
				if op == nil || path == "/session" && method == "DELETE" || strings.HasPrefix(path, "/logins") &&
					method == "DELETE" {
					continue // it would end what the rest is sent with
				}
				for _, who := range names {
					seed := uint64(round)
					for _, r := range path + method + who {
						seed = seed*31 + uint64(r)
					}
					h := hostile{rand.New(rand.NewPCG(seed, 20261128)), s.doc}
					req := h.request(s.URL, method, path, op, item.Parameters, ids)
					if req == nil {
						continue
					}
					begin := time.Now()
					res, err := clients[who].http.Do(req)
					require.NoError(t, err, "%s %s as %s", method, path, who)
					data, err := io.ReadAll(res.Body)
					_ = res.Body.Close()
					require.NoError(t, err)
					sent++
					counted[res.StatusCode]++
					if res.StatusCode >= 500 || time.Since(begin) > 20*time.Second {
						t.Errorf("round %d, %s %s as %s: %d after %s: %.300s", round, method, req.URL, who,
							res.StatusCode, time.Since(begin), data)
					}
				}
			}
		}
	}
	t.Logf("%d requests: %v", sent, counted)
	require.Greater(t, counted[200], sent/20, "some of them are meant")
	require.Greater(t, counted[422], sent/20)
}
