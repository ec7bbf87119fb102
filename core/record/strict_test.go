package record_test

import (
	"bytes"
	"encoding/base64"
	"encoding/json"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"dynacor/core/coretest"
	"dynacor/core/record"
	"dynacor/core/run"
)

// first is a record that was sealed in the first format, as it was exported then.
func first(t *testing.T) []byte {
	t.Helper()
	data, err := os.ReadFile("testdata/record-v1.json")
	require.NoError(t, err)
	return data
}

func TestFirstFormatIsStillRead(t *testing.T) {
	r := record.Verify(first(t), record.Trust(public(key('a'))))
	require.True(t, r.OK, r.Problems)
	require.Equal(t, "dynacor-record/1", r.Format)
	require.Equal(t, "TS-2026-00001", r.Number)
	require.Len(t, r.Checked, 4)
	_, rec, err := record.Read(first(t))
	require.NoError(t, err)
	require.Equal(t, run.Accepted, rec.State.Verdict.Code)
	bad := change(t, first(t), 310.0, "record", "plan", "targetNm")
	require.Contains(t, strings.Join(record.Verify(bad, nil).Problems, "\n"), "The plan's targetNm was changed")
	bad = change(t, first(t), "A. Nother", "record", "events", 30, "event", "person", "name")
	require.Contains(t, strings.Join(record.Verify(bad, nil).Problems, "\n"), "Event 31")
}

// swap puts one text in place of another that must be there.
func swap(t *testing.T, data []byte, old, fresh string) []byte {
	t.Helper()
	require.Contains(t, string(data), old)
	return bytes.Replace(data, []byte(old), []byte(fresh), 1)
}

// What a lenient reader lets through: each of these files says something false to somebody and was accepted once, or
// might be.
func TestFilesThatTwoReadersReadDifferentlyDoNotHold(t *testing.T) {
	_, second := sealed(t)
	for format, data := range map[string][]byte{"first": first(t), "second": second} {
		var f record.File
		require.NoError(t, json.Unmarshal(data, &f))
		lie := bytes.Replace(f.Record, []byte(`"site":"Tarn Skerry"`), []byte(`"site":"Elsewhere"`), 1)
		require.NotEqual(t, f.Record, lie)
		whole := string(data)
		attacks := map[string]string{
			"a false record before the true one under another case": swapped(whole, `"record":`,
				`"record":`+string(lie)+`,"Record":`),
			"the true record before a false one": swapped(whole, `"record":`,
				`"RECORD":`+string(lie)+`,"record":`),
			"a false record before the true one": swapped(whole, `"record":`,
				`"record":`+string(lie)+`,"record":`),
			"a seal twice": swapped(whole, `"seal":{`, `"seal":{},"seal":{`),
			"a value twice in the plan": swapped(whole, `"finalNm":`,
				`"finalNm":999,"finalNm":`),
			"a value twice in an event": swapped(whole, `"outcome":`,
				`"outcome":"over","outcome":`),
			"a dotted key at the top of the record": swapped(whole, `"runId":`,
				`"plan.finalNm":300,"runId":`),
			"a pointer as a key of the record": swapped(whole, `"runId":`,
				`"/plan/groups":300,"runId":`),
			"a key of the record under another case": swapped(whole, `"runId":`,
				`"Site":"Elsewhere","runId":`),
			"a remark beside the seal": swapped(whole, `"seal":{`,
				`"remark":"approved","seal":{`),
			"a remark in the seal": swapped(whole, `"keyId":`,
				`"approved":true,"keyId":`),
			"a second file behind the first": whole + whole,
			"a word behind the file":         whole + " true",
			"a byte behind the file":         whole + "\x00",
			"a mark before the file":         "\ufeff" + whole,
			"junk behind the signature":      swapped(whole, f.Signature, f.Signature+"AAAA"),
			"a line break in the signature": swapped(whole, f.Signature,
				f.Signature[:20]+`\n`+f.Signature[20:]),
			"other bits left over in the signature": swapped(whole, f.Signature, loose(f.Signature)),
			"a line break in the key":               swapped(whole, f.PublicKey, f.PublicKey+`\r\n`),
			"a number written in another way":       swapped(whole, `"fastener":2,`, `"fastener":2.0,`),
			"a text that is not UTF-8":              swapped(whole, "Tarn Skerry", "Tarn\xff Skerry"),
			"half a character":                      swapped(whole, "Tarn Skerry", `Tarn\ud83d Skerry`),
			"a comment":                             swapped(whole, `"seal":{`, `/* fine */"seal":{`),
		}
		for name, text := range attacks {
			require.NotEqual(t, whole, text, name)
			r := record.Verify([]byte(text), record.Trust(public(key('a'))))
			require.False(t, r.OK, "%s format, %s", format, name)
			require.NotEmpty(t, r.Problems, name)
		}
	}
}

func swapped(s, old, fresh string) string { return strings.Replace(s, old, fresh, 1) }

// loose sets a bit that the last letters of a base64 text do not use.
func loose(sig string) string {
	const letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/"
	at := len(strings.TrimRight(sig, "=")) - 1
	n := strings.IndexByte(letters, sig[at])
	return sig[:at] + string(letters[n^1]) + sig[at+1:]
}

// What says nothing changes nothing: blanks, the order of keys, a letter written as its number.
func TestBlanksAndOrderSayNothing(t *testing.T) {
	f, data := sealed(t)
	shuffled, err := json.Marshal(f) // seal first, not in the order of the letters
	require.NoError(t, err)
	require.NotEqual(t, data, shuffled)
	for name, text := range map[string]string{
		"as exported": string(data), "another order": string(shuffled), "a line at the end": string(data) + "\n",
		"a letter as its number": swapped(string(data), "Tarn Skerry", `\u0054arn Skerry`),
	} {
		r := record.Verify([]byte(text), nil)
		require.True(t, r.OK, "%s: %v", name, r.Problems)
	}
}

// A part of the record is told from every other: a key with a slash is not a path.
func TestPartsCannotBeMistaken(t *testing.T) {
	rec, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	f, err := record.Sign(rec, key('a'), coretest.Day)
	require.NoError(t, err)
	require.Contains(t, f.Seal.Parts, "/plan/groups")
	require.Contains(t, f.Seal.Parts, "/events/0")
	require.Contains(t, f.Seal.Parts, "/site")
	require.NotContains(t, f.Seal.Parts, "/plan")
	data, err := f.Bytes()
	require.NoError(t, err)
	moved := swap(t, data, `"finalNm":`, `"x/finalNm":`)
	require.False(t, record.Verify(moved, nil).OK)
}

func TestKeyCountsForItsTime(t *testing.T) {
	_, data := sealed(t) // three hours after coretest.Day
	at := coretest.Day.Add(3 * time.Hour)
	before, after := at.Add(-time.Second), at.Add(time.Second)
	for name, c := range map[string]struct {
		key  record.Key
		says string
	}{
		"in use":        {record.Key{From: at, Until: &at}, ""},
		"revoked later": {record.Key{Revoked: &after, RevokeReason: "renewed"}, ""},
		"revoked before": {record.Key{Revoked: &at, RevokeReason: "the server was stolen"},
			"not to be believed from 2026-11-23T11:00:00Z on: the server was stolen"},
		"came into use afterwards": {record.Key{From: after}, "came into use at 2026-11-23T11:00:01Z"},
		"went out of use before":   {record.Key{Until: &before}, "went out of use at 2026-11-23T10:59:59Z"},
	} {
		c.key.Public = public(key('a'))
		r := record.Verify(data, []record.Key{c.key})
		require.True(t, r.KeyKnown)
		require.Equal(t, c.says == "", r.OK, name)
		require.Contains(t, strings.Join(r.Problems, "\n"), c.says, name)
	}
}

// A plan is followed only when somebody trusted has signed it, and only when it is in proportion.
func TestStrangersPlanIsNotFollowed(t *testing.T) {
	rec, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	rec.Plan.First().Layout.Count = 300_000_000
	huge, err := record.Sign(rec, key('b'), coretest.Day)
	require.NoError(t, err)
	data, err := huge.Bytes()
	require.NoError(t, err)
	begin := time.Now()
	r := record.Verify(data, record.Trust(public(key('a'))))
	require.False(t, r.OK)
	require.NotContains(t, strings.Join(r.Checked, "\n"), "Verdict")
	r = record.Verify(data, record.Trust(public(key('b'))))
	require.Contains(t, strings.Join(r.Problems, "\n"),
		"The plan of the record cannot be followed: it has more than 2000 fasteners")
	require.Less(t, time.Since(begin), 5*time.Second)

	bent, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	bent.Plan.Passes[0].Group = "nowhere"
	bent.Plan.Checks = nil
	bent.Plan.Chalk[0] = -1
	f, err := record.Sign(bent, key('a'), coretest.Day)
	require.NoError(t, err)
	data, err = f.Bytes()
	require.NoError(t, err)
	require.False(t, record.Verify(data, nil).OK, "a plan that does not fit its events")
}

func TestSealAndRecordNameTheSame(t *testing.T) {
	rec, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	f, err := record.Sign(rec, key('a'), coretest.Day)
	require.NoError(t, err)
	rec.Number = "TS-2026-00002"
	other, err := record.Sign(rec, key('a'), coretest.Day)
	require.NoError(t, err)
	f.Record = other.Record
	data, err := f.Bytes()
	require.NoError(t, err)
	require.Contains(t, strings.Join(record.Verify(data, nil).Problems, "\n"),
		"The record is not the one that was sealed")
}

func TestBoundsOfAFile(t *testing.T) {
	for name, text := range map[string]string{
		"nested deeper than 48 levels": strings.Repeat("[", 2_000_000),
		"has more than 200000 parts":   `{"a":[` + strings.Repeat("1,", 200_000) + `1]}`,
		"more than 200000 keys":        "{" + keys(200_001) + "}",
		"larger than 16 MB":            strings.Repeat(" ", record.MostBytes+1),
		"stands twice":                 `{"b":1,"a":2,"b":3}`,
		"at byte 3":                    `{ a":1}`,
		"cut short":                    `{"a":`,
		"control character":            "{\"a\x01\":1}",
	} {
		begin := time.Now()
		r := record.Verify([]byte(text), nil)
		require.Contains(t, r.Problems[0], name)
		require.Less(t, time.Since(begin), 3*time.Second, name)
	}
}

func keys(n int) string {
	var b strings.Builder
	for i := range n {
		if i > 0 {
			b.WriteByte(',')
		}
		b.WriteString(`"k` + base64.RawURLEncoding.EncodeToString([]byte{byte(i), byte(i >> 8), byte(i >> 16)}) + `":0`)
	}
	return b.String()
}

// The strict reader and Go's own encoder have one canonical text for whatever can be said.
func TestStrictTextIsCanonical(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := value(t, 3)
		want, err := record.Canonical(v)
		if err != nil {
			t.Fatal(err)
		}
		loose, err := json.MarshalIndent(v, " ", "\t") // HTML characters escaped, blanks between
		if err != nil {
			t.Fatal(err)
		}
		got, err := record.CanonicalText(loose)
		if err != nil || !bytes.Equal(got, want) {
			t.Fatalf("%s\ngives %s\nwant  %s (%v)", loose, got, want, err)
		}
	})
}

func value(t *rapid.T, depth int) any {
	kind := rapid.IntRange(0, 6).Draw(t, "kind")
	if depth == 0 {
		kind %= 5
	}
	switch kind {
	case 0:
		return nil
	case 1:
		return rapid.Bool().Draw(t, "bool")
	case 2:
		return rapid.Float64().Draw(t, "number")
	case 3, 4:
		return rapid.String().Draw(t, "text")
	case 5:
		out := make([]any, rapid.IntRange(0, 4).Draw(t, "length"))
		for i := range out {
			out[i] = value(t, depth-1)
		}
		return out
	}
	out := map[string]any{}
	for range rapid.IntRange(0, 5).Draw(t, "keys") {
		out[rapid.String().Draw(t, "key")] = value(t, depth-1)
	}
	return out
}

// A chain that is kept as texts is followed over the texts, so that a field this program does not know counts too.
func TestKeptChainIsFollowed(t *testing.T) {
	rec, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	texts := make([][]byte, len(rec.Events))
	for i, e := range rec.Events {
		texts[i], err = record.Canonical(e.Event)
		require.NoError(t, err)
	}
	require.NoError(t, record.CheckChain("run-1", rec.Events, texts))
	require.ErrorContains(t, record.CheckChain("run-2", rec.Events, texts),
		"Event 1 (read_confirmed, M. Tolley) was changed")
	was := texts[4]
	texts[4] = bytes.Replace(was, []byte(`}`), []byte(`,"extra":1}`), 1)
	require.ErrorContains(t, record.CheckChain("run-1", rec.Events, texts), "Event 5")
	texts[4] = was
	require.ErrorContains(t, record.CheckChain("run-1", rec.Events[1:], texts[1:]), "stands at place 1")
	rec.Events[3].PrevHash = "0"
	require.ErrorContains(t, record.CheckChain("run-1", rec.Events, texts), "Event 4")
	require.NoError(t, record.CheckChain("run-1", nil, nil))
}

func TestUnknownKindIsStillAnEvent(t *testing.T) {
	e := record.Entry{Seq: 1, ReceivedAt: coretest.Day, Event: run.Event{Kind: "later"}}
	h, err := record.Link("r", e)
	require.NoError(t, err)
	require.Len(t, h, 64)
}
