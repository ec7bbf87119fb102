package record_test

import (
	"bytes"
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/plan"
	"dynacor/core/record"
)

// byMaps is the canonical text by another way: read into maps, which are written with sorted keys.
func byMaps(t testing.TB, v any) string {
	t.Helper()
	text := func(v any) []byte {
		var b bytes.Buffer
		enc := json.NewEncoder(&b)
		enc.SetEscapeHTML(false)
		require.NoError(t, enc.Encode(v))
		return b.Bytes()
	}
	dec := json.NewDecoder(bytes.NewReader(text(v)))
	dec.UseNumber()
	var tree any
	require.NoError(t, dec.Decode(&tree))
	return strings.TrimRight(string(text(tree)), "\n")
}

// The canonical text is what writing sorted maps gives, whatever stands in it.
func TestCanonicalIsWhatSortedMapsGive(t *testing.T) {
	p, err := plan.Make(coretest.Input())
	require.NoError(t, err)
	s := coretest.NewScript(p)
	s.Finish()
	for _, v := range []any{p, s.Events, s.State(), nil, true, 0, -1.5e-9, 1e21, "", "x", "<&>\u2028\"\\\n\x01é\xff", []int{},
		map[string]any{}, []any{nil, map[string]any{"b": []any{}, "a": map[string]any{}}}, time.Now(),
		map[string]int{"b": 1, "a\"": 2, "a\\": 3, "a": 4, "": 5, "é": 6, "ab": 7, "\U0001f600": 8, "\uffee": 9},
		json.RawMessage(`{"b": "\u0041\/\ud83d\ude00", "\u0061": [1, {"z": 1.0, "y": 1e2}], "c" : {} }`)} {
		got, err := record.Canonical(v)
		require.NoError(t, err)
		require.Equal(t, byMaps(t, v), string(got))
	}
	_, err = record.Canonical(func() {})
	require.ErrorContains(t, err, "canonical form")
}

func FuzzCanonical(f *testing.F) {
	f.Add([]byte(`{"b":[1,{"d":"\u0041","c":null}],"a":"\\\""}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		var seen any
		if json.Unmarshal(data, &seen) != nil || twice(data) {
			return
		}
		got, err := record.Canonical(json.RawMessage(data))
		require.NoError(t, err)
		require.Equal(t, byMaps(t, json.RawMessage(data)), string(got))
	})
}

// twice reports whether some object has a key twice: a thing that Go's own values cannot say.
func twice(data []byte) bool {
	_, err := record.CanonicalText(data)
	return err != nil
}

func BenchmarkCanonical(b *testing.B) {
	p, err := plan.Make(coretest.Input())
	require.NoError(b, err)
	s := coretest.NewScript(p)
	s.Finish()
	e := s.Events[len(s.Events)/2]
	b.Run("an event", func(b *testing.B) {
		for b.Loop() {
			if _, err := record.Canonical(e); err != nil {
				b.Fatal(err)
			}
		}
	})
	b.Run("yardstick: by sorted maps", func(b *testing.B) {
		for b.Loop() {
			byMaps(b, e)
		}
	})
}
