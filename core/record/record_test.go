package record_test

import (
	"crypto/ed25519"
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/record"
	"dynacor/core/run"
)

func key(seed byte) ed25519.PrivateKey { return coretest.Key(seed) }

func sealed(t *testing.T) (record.File, []byte) {
	t.Helper()
	f, err := coretest.Sealed()
	require.NoError(t, err)
	data, err := f.Bytes()
	require.NoError(t, err)
	return f, data
}

func public(k ed25519.PrivateKey) ed25519.PublicKey { return k.Public().(ed25519.PublicKey) }

func TestTrueRecordHolds(t *testing.T) {
	f, data := sealed(t)
	r := record.Verify(data, record.Trust(public(key('a'))))
	require.True(t, r.OK, r.Problems)
	require.True(t, r.KeyKnown)
	require.Equal(t, "TS-2026-00001", r.Number)
	require.Len(t, r.Checked, 4)
	pretty, err := json.MarshalIndent(f, "", "   ")
	require.NoError(t, err)
	require.True(t, record.Verify(pretty, nil).OK, "white space says nothing")
}

// change walks into the file by keys and indices and replaces what is there.
func change(t *testing.T, data []byte, value any, path ...any) []byte {
	t.Helper()
	var tree any
	require.NoError(t, json.Unmarshal(data, &tree))
	at := tree
	for _, k := range path[:len(path)-1] {
		switch k := k.(type) {
		case string:
			at = at.(map[string]any)[k]
		case int:
			at = at.([]any)[k]
		}
	}
	m, ok := at.(map[string]any)
	require.True(t, ok)
	last := path[len(path)-1].(string)
	if value == nil {
		delete(m, last)
	} else {
		m[last] = value
	}
	out, err := json.Marshal(tree)
	require.NoError(t, err)
	return out
}

func TestTamperingIsNamed(t *testing.T) {
	_, data := sealed(t)
	for _, c := range []struct {
		name string
		data []byte
		says string
	}{
		{"a setting", change(t, data, 999.0, "record", "events", 30, "event", "setting"), "Event 31"},
		{"who did it", change(t, data, "A. Nother", "record", "events", 30, "event", "person", "name"), "Event 31"},
		{"the target", change(t, data, 310.0, "record", "plan", "groups", 0, "targetNm"),
			"The plan's groups was changed"},
		{"the verdict", change(t, data, "Perfect", "record", "state", "verdict", "word"),
			"The result's verdict was changed"},
		{"the site", change(t, data, "Elsewhere", "record", "site"), "The record's site was changed"},
		{"the statement", change(t, data, nil, "record", "statement"), "The record's statement was removed"},
		{"something added", change(t, data, "x", "record", "remark"),
			`the record has a key "remark" that does not belong there`},
		{"something added to the plan", change(t, data, "x", "record", "plan", "remark"),
			"The plan's remark was added"},
		{"the time of sealing", change(t, data, "2020-01-01T00:00:00Z", "seal", "sealedAt"),
			"The signature does not fit"},
		{"another number", change(t, data, "TS-2026-00002", "seal", "number"), "The signature does not fit"},
		{"a key of another file", change(t, data, "x", "remark"),
			`the file has a key "remark" that does not belong there`},
		{"a key in the seal", change(t, data, "x", "seal", "remark"), `the seal has a key "remark"`},
		{"half a seal", change(t, data, nil, "seal", "whole"), `the seal has no "whole"`},
		{"the format", change(t, data, "dynacor-record/3", "seal", "format"), `the format is "dynacor-record/3"`},
	} {
		r := record.Verify(c.data, record.Trust(public(key('a'))))
		require.False(t, r.OK, c.name)
		require.Contains(t, strings.Join(r.Problems, "\n"), c.says, c.name)
	}
}

func TestRemovedAndReorderedEventsAreFound(t *testing.T) {
	_, data := sealed(t)
	for name, edit := range map[string]func([]any) []any{
		"removed": func(l []any) []any { return append(l[:20:20], l[21:]...) },
		"swapped": func(l []any) []any { l[20], l[21] = l[21], l[20]; return l },
		"cut":     func(l []any) []any { return l[:len(l)-1] },
	} {
		var tree map[string]any
		require.NoError(t, json.Unmarshal(data, &tree))
		rec := tree["record"].(map[string]any)
		rec["events"] = edit(rec["events"].([]any))
		bad, err := json.Marshal(tree)
		require.NoError(t, err)
		require.False(t, record.Verify(bad, nil).OK, name)
	}
}

func TestForeignKeyIsNotTrusted(t *testing.T) {
	f, _ := sealed(t)
	var rec record.Record
	require.NoError(t, json.Unmarshal(f.Record, &rec))
	forged, err := record.Sign(rec, key('b'), coretest.Day)
	require.NoError(t, err)
	data, err := forged.Bytes()
	require.NoError(t, err)
	require.True(t, record.Verify(data, nil).OK, "without known keys the file is only held against itself")
	r := record.Verify(data, record.Trust(public(key('a'))))
	require.False(t, r.OK)
	require.Contains(t, r.Problems[0], "not one of the keys known here")
}

func TestVerdictIsWorkedOutAgain(t *testing.T) {
	f, _ := sealed(t)
	var rec record.Record
	require.NoError(t, json.Unmarshal(f.Record, &rec))
	rec.State.Verdict = run.Verdict{Code: "stopped", Word: "Stopped", Reasons: []run.Reason{}}
	lie, err := record.Sign(rec, key('a'), coretest.Day)
	require.NoError(t, err)
	data, err := lie.Bytes()
	require.NoError(t, err)
	require.Contains(t, strings.Join(record.Verify(data, nil).Problems, "\n"), `verdict is "Accepted"`,
		"even a proper signature does not make a wrong verdict right")
}

func TestNonsenseIsNotARecord(t *testing.T) {
	for _, s := range []string{"", "{", "[]", "null", "{}", `{"record":{}}`,
		`{"seal":{},"record":5,"publicKey":"AAAA"}`} {
		r := record.Verify([]byte(s), nil)
		require.False(t, r.OK, s)
		require.NotEmpty(t, r.Problems, s)
	}
}

func FuzzVerifyNeverPanicsNorAccepts(f *testing.F) {
	f.Add([]byte(`{"seal":{"number":"x"},"record":{"events":[{}]},"publicKey":"","signature":""}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		if record.Verify(data, nil).OK {
			t.Fatalf("accepted: %s", data)
		}
	})
}

func TestCanonicalTextIsOne(t *testing.T) {
	a, err := record.Canonical(map[string]any{"b": 1.50, "a": []any{"<&>", nil, true}})
	require.NoError(t, err)
	require.Equal(t, `{"a":["<&>",null,true],"b":1.5}`, string(a))
	type s struct {
		B float64 `json:"b"`
		A []any   `json:"a"`
	}
	b, err := record.Canonical(s{1.5, []any{"<&>", nil, true}})
	require.NoError(t, err)
	require.Equal(t, a, b)
	d, err := record.Digest(map[string]int{"a": 1})
	require.NoError(t, err)
	require.Len(t, d, 64)
}
