package record_test

import (
	"bytes"
	"crypto/ed25519"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/quantity"
	"dynacor/core/record"
)

// behind is a sealed record, its plan's number of fasteners, and a way to add to it.
type behind struct {
	t    *testing.T
	rec  record.Record
	file record.File
	key  ed25519.PrivateKey
	list []record.AdditionFile
	prev string
	at   time.Time
}

func sealedWith(t *testing.T) *behind {
	t.Helper()
	rec, err := coretest.Finished((*coretest.Script).Finish)
	require.NoError(t, err)
	b := &behind{t: t, rec: rec, key: key('a'), at: coretest.Day.Add(24 * time.Hour)}
	b.file, err = record.Sign(rec, b.key, coretest.Day)
	require.NoError(t, err)
	b.prev, err = b.file.Mark()
	require.NoError(t, err)
	return b
}

// next is an addition in its place; every one is an hour later than the one before.
func (b *behind) next(kind record.AdditionKind) record.Addition {
	mark, err := b.file.Mark()
	require.NoError(b.t, err)
	b.at = b.at.Add(time.Hour)
	a := record.Addition{Record: b.rec.Number, Mark: mark, Seq: len(b.list) + 1, PrevHash: b.prev, At: b.at, Kind: kind,
		Person: coretest.Tolley, What: "Found when the line came back into service."}
	switch kind {
	case record.Correction:
		a.Place, a.Was, a.Is = "batch of the lubricant", "C8", "C9"
	case record.Retorque:
		a.TorqueNm, a.Tool, a.LimitDeg, a.LimitFrom = 300, "W-40", 15, "house rules, version 1"
		for i := range b.rec.Plan.Count() {
			a.Visits = append(a.Visits, record.Visit{Fastener: i + 1})
		}
	case record.Tested:
		a.Test, a.TestMark = "LT-07", strings.Repeat("0a", 32)
	}
	return a
}

func (b *behind) add(a record.Addition) {
	b.t.Helper()
	f, hash, err := a.Seal(b.rec.Plan, b.key)
	require.NoError(b.t, err)
	b.list, b.prev = append(b.list, f), hash
}

func (b *behind) whole() []byte {
	b.t.Helper()
	text, err := b.file.Bytes()
	require.NoError(b.t, err)
	data, err := record.Whole{File: text, Additions: b.list}.Bytes()
	require.NoError(b.t, err)
	return data
}

func TestAdditionsAreVerifiedWithTheirRecord(t *testing.T) {
	b := sealedWith(t)
	for _, k := range []record.AdditionKind{record.Correction, record.Retorque, record.Recheck, record.Finding} {
		b.add(b.next(k))
	}
	data := b.whole()
	r := record.Verify(data, record.Trust(public(b.key)))
	require.True(t, r.OK, "%v", r.Problems)
	require.Len(t, r.Additions, 4)
	require.Equal(t, "C9", r.Additions[0].Is)
	require.Equal(t, record.Stayed, r.Additions[1].Verdict)
	require.Equal(t, "8 of 8 tried at 300 N·m: none turned.", r.Additions[1].Sentence)
	require.Contains(t, strings.Join(r.Checked, "\n"), "4 additions behind it")

	inner, err := record.SealedIn(data)
	require.NoError(t, err)
	alone, err := b.file.Bytes()
	require.NoError(t, err)
	require.Equal(t, alone, inner)
	inner, err = record.SealedIn(alone)
	require.NoError(t, err)
	require.Equal(t, alone, inner)
	require.False(t, record.Verify(data, record.Trust(public(key('b')))).OK, "a stranger's key")
}

// Whatever is changed, taken out, moved, put in or put off is named.
func TestAdditionsCannotBeAltered(t *testing.T) {
	b := sealedWith(t)
	for _, k := range []record.AdditionKind{record.Correction, record.Retorque, record.Finding} {
		b.add(b.next(k))
	}
	whole := b.list
	other := sealedWith(t)
	other.rec.Number = "TS-2026-00099"
	var err error
	other.file, err = record.Sign(other.rec, other.key, coretest.Day)
	require.NoError(t, err)
	for name, c := range map[string]struct {
		change func() []byte
		want   string
	}{
		"a word": {func() []byte { return bytes.Replace(b.whole(), []byte(`"C9"`), []byte(`"C7"`), 1) },
			"Addition 1 was changed"},
		"the first taken out": {func() []byte { b.list = whole[1:]; return b.whole() },
			"Addition 1 does not follow"},
		"one from between": {func() []byte { b.list = append(whole[:1:1], whole[2]); return b.whole() },
			"Addition 2 does not follow"},
		"two changed over": {func() []byte {
			b.list = []record.AdditionFile{whole[1], whole[0], whole[2]}
			return b.whole()
		}, "does not follow"},
		"another record's": {func() []byte { other.list = whole; return other.whole() }, "belongs to another record"},
		"a key more": {func() []byte {
			return bytes.Replace(b.whole(), []byte(`{"addition":`), []byte(`{"Addition":1,"addition":`), 1)
		}, "names are compared letter by letter"},
		"something beside": {func() []byte { return bytes.Replace(b.whole(), []byte(`,"file":`), []byte(`,"extra":1,"file":`), 1) },
			`a key "extra" that does not belong there`},
		"the record itself": {func() []byte {
			return bytes.Replace(b.whole(), []byte(`"outcome":"clicked"`), []byte(`"outcome":"over"`), 1)
		},
			"was changed"},
		"a record in a record": {func() []byte {
			data, err := record.Whole{File: b.whole(), Additions: whole}.Bytes()
			require.NoError(t, err)
			return data
		}, "not a sealed record"},
	} {
		t.Run(name, func(t *testing.T) {
			b.list = whole
			data := c.change()
			r := record.Verify(data, record.Trust(public(b.key)))
			require.False(t, r.OK)
			require.Contains(t, strings.Join(r.Problems, "\n"), c.want)
		})
	}
}

// What the right key signed and is not in order is found too: a result that its visits do not give, a time before the
// seal, a key that was out of use.
func TestAdditionOutOfOrderIsFound(t *testing.T) {
	for name, c := range map[string]struct {
		change func(a *record.Addition)
		want   string
	}{
		"result":     {func(a *record.Addition) { a.Verdict = record.Moved }, "another result than its visits give"},
		"sentence":   {func(a *record.Addition) { a.Sentence = "All is well." }, "another result"},
		"before":     {func(a *record.Addition) { a.At = coretest.Day.Add(-time.Second) }, "older than what it stands behind"},
		"a stranger": {func(a *record.Addition) { a.Visits[0].Fastener = 99 }, "none numbered 99"},
		"format":     {func(a *record.Addition) { a.Format = "dynacor-addition/2" }, `the format "dynacor-addition/2"`},
	} {
		t.Run(name, func(t *testing.T) {
			b := sealedWith(t)
			a := b.next(record.Retorque)
			f, _, err := a.Seal(b.rec.Plan, b.key)
			require.NoError(t, err)
			require.NoError(t, json.Unmarshal(f.Addition, &a))
			c.change(&a)
			text, err := record.Canonical(a)
			require.NoError(t, err)
			f.Addition = text
			f.Signature = base64.StdEncoding.EncodeToString(ed25519.Sign(b.key,
				append([]byte(record.AdditionFormat+"\n"), text...)))
			b.list = []record.AdditionFile{f}
			r := record.Verify(b.whole(), record.Trust(public(b.key)))
			require.False(t, r.OK)
			require.Contains(t, strings.Join(r.Problems, "\n"), c.want)
		})
	}
	b := sealedWith(t)
	b.add(b.next(record.Finding))
	until := coretest.Day.Add(time.Hour)
	r := record.Verify(b.whole(), []record.Key{{Public: public(b.key), Until: &until}})
	require.Contains(t, strings.Join(r.Problems, "\n"), "Addition 1 is not to be believed")
}

// A re-torque is judged at its limit, just inside and just outside.
func TestRetorqueIsJudged(t *testing.T) {
	b := sealedWith(t)
	a := b.next(record.Retorque)
	for _, c := range []struct {
		name    string
		change  func(v []record.Visit) []record.Visit
		verdict record.AdditionVerdict
		says    string
	}{
		{"none turned", func(v []record.Visit) []record.Visit { return v }, record.Stayed, "none turned"},
		{"at the limit", func(v []record.Visit) []record.Visit { v[2].TurnedDeg = 15; return v }, record.Moved,
			"bolt 3 turned, up to 15°, inside 15° of the house rules"},
		{"past it", func(v []record.Visit) []record.Visit { v[2].TurnedDeg = 15.01; return v }, record.MovedPast,
			"bolt 3 turned further than 15°"},
		{"one left out", func(v []record.Visit) []record.Visit { return v[:7] }, record.Unfinished,
			"7 of 8 tried at 300 N·m: not all. None of those turned."},
		{"one left out, one turned", func(v []record.Visit) []record.Visit { v[0].TurnedDeg = 3; return v[:7] },
			record.Unfinished, "bolt 1 turned."},
		{"left out and past", func(v []record.Visit) []record.Visit { v[0].TurnedDeg = 40; return v[:7] },
			record.MovedPast, "had lost load"},
	} {
		x := a
		x.Visits = c.change(append([]record.Visit{}, a.Visits...))
		v, said := x.Judge(b.rec.Plan)
		require.Equal(t, c.verdict, v, c.name)
		require.Contains(t, said, c.says, c.name)
	}
}

func TestAdditionThatCannotBeMeantIsRefused(t *testing.T) {
	b := sealedWith(t)
	for i, c := range []struct {
		kind   record.AdditionKind
		change func(a *record.Addition)
		field  string
	}{
		{record.Finding, func(a *record.Addition) { a.What = "  short  " }, "what"},
		{record.Finding, func(a *record.Addition) { a.What = strings.Repeat("x", 1001) }, "what"},
		{record.Finding, func(a *record.Addition) { a.Is = "x" }, "place"},
		{record.Recheck, func(a *record.Addition) { a.Tool = "W-40" }, "visits"},
		{record.Correction, func(a *record.Addition) { a.Place = " " }, "place"},
		{record.Correction, func(a *record.Addition) { a.Is = strings.Repeat("x", 201) }, "is"},
		{record.Correction, func(a *record.Addition) { a.Was = strings.Repeat("x", 201) }, "was"},
		{record.Retorque, func(a *record.Addition) { a.TorqueNm = 0 }, "torqueNm"},
		{record.Retorque, func(a *record.Addition) { a.Tool = "" }, "tool"},
		{record.Retorque, func(a *record.Addition) { a.Visits = nil }, "visits"},
		{record.Retorque, func(a *record.Addition) { a.Visits[1].Fastener = 9 }, "visits[1]"},
		{record.Retorque, func(a *record.Addition) { a.Visits[1].Fastener = 1 }, "visits[1]"},
		{record.Retorque, func(a *record.Addition) { a.Visits[1].TurnedDeg = -1 }, "visits[1].turnedDeg"},
		{record.Retorque, func(a *record.Addition) { a.Visits[1].TurnedDeg = 721 }, "visits[1].turnedDeg"},
		{record.Tested, func(a *record.Addition) { a.Test = "" }, "test"},
		{record.Tested, func(a *record.Addition) { a.TestMark = a.TestMark[1:] }, "test"},
		{record.Tested, func(a *record.Addition) { a.Tool = "PG-11" }, "visits"},
		{record.Finding, func(a *record.Addition) { a.Failed = true }, "test"},
		{record.Finding, func(a *record.Addition) { a.Test = "LT-07" }, "test"},
		{"praise", func(*record.Addition) {}, "kind"},
	} {
		a := b.next(c.kind)
		c.change(&a)
		_, _, err := a.Seal(b.rec.Plan, b.key)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok, "%d %v", i, err)
		require.Equal(t, c.field, r.Field, fmt.Sprint(i))
		require.NotEmpty(t, r.Remedy)
	}
	a := b.next(record.Finding)
	a.What = strings.Repeat("å", 1000)
	b.add(a)
}

// A test under pressure stands behind a record with its tag and its digest, verifies with it, and a failed one asks for
// the joint again.
func TestTestUnderPressureIsAddedAndVerified(t *testing.T) {
	b := sealedWith(t)
	b.add(b.next(record.Tested))
	failed := b.next(record.Tested)
	failed.Failed = true
	b.add(failed)
	require.Empty(t, b.next(record.Tested).DueAgain())
	require.Equal(t, "test LT-07 failed", failed.DueAgain())
	r := record.Verify(b.whole(), record.Trust(public(b.key)))
	require.True(t, r.OK, "%v", r.Problems)
	require.Equal(t, "LT-07", r.Additions[0].Test)
	require.True(t, r.Additions[1].Failed)
}
