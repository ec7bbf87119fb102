package record_test

import (
	"bytes"
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/record"
	"dynacor/core/run"
)

// large is a sealed file of about 4 MB: the made-up joint with thousands of notes, each of so many letters.
func large(t testing.TB, letters int) []byte {
	rec, err := coretest.Finished(func(s *coretest.Script) {
		for range 3_900_000 / (letters + 420) {
			s.Add(run.Event{Kind: run.Noted, Note: strings.Repeat("n", letters)})
		}
		s.Finish()
	})
	require.NoError(t, err)
	f, err := record.Sign(rec, key('a'), coretest.Day)
	require.NoError(t, err)
	data, err := f.Bytes()
	require.NoError(t, err)
	return data
}

// The aim is 200 ms for any file of 4 MB. The yardstick is Go's own decoder on the same bytes.
func BenchmarkVerifyFileOf4Megabytes(b *testing.B) {
	short, long := large(b, 1), large(b, 10_000)
	hostile := []byte(`{"seal":{},"record":` + strings.Repeat("[", 40) + strings.Repeat(`{"b":0,"a":0},`,
		280_000) + "0" + strings.Repeat("]", 40) + "}")
	for name, data := range map[string][]byte{"many short events": short, "few long events": long,
		"nothing but objects": hostile} {
		b.Run(name, func(b *testing.B) {
			b.SetBytes(int64(len(data)))
			for b.Loop() {
				record.Verify(data, nil)
			}
		})
		b.Run("yardstick of "+name+": read by the standard library", func(b *testing.B) {
			b.SetBytes(int64(len(data)))
			for b.Loop() {
				var v any
				_ = json.NewDecoder(bytes.NewReader(data)).Decode(&v)
			}
		})
	}
}
